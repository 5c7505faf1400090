//! What held before a change: asked of the tracker as it stood then, in what happens and in what is rehearsed.

use crate::{fixture::*, world::*};
use proptest::prelude::*;
use westerfall_core::{
    access::{Asker, Lens},
    automation::{Automation, LogOutcome, Occasion},
    condition::{Check, Comparison, Condition, When},
    history::Change,
    id::AutomationId,
    intent::{FieldChange, Intent},
    part::Part,
};

const STATES: [&str; 4] = ["reported", "checked", "scheduled", "made good"];

/// An automation that writes when something changes, if it is so now and was so before.
fn telling(world: &World, when: Occasion, condition: Condition, before: Condition) -> Automation {
    Automation {
        id: AutomationId::FIRST,
        table: world.at("Faults"),
        name: "Tell".into(),
        on: true,
        when,
        condition,
        before,
        steps: vec![world.mail("Faults", office(), "Moved: {Number}", false)],
        acts_for: None,
        unsaid: false,
        draft: None,
    }
}

#[track_caller]
fn made(world: &mut World, automation: Automation) -> AutomationId {
    let intent = Intent::Make(Part::Automation(automation));
    let id = world.ds.decide(&intent, world.nadia(), &world.clock).unwrap().made.unwrap();
    world.act(world.nadia(), &intent);
    AutomationId::new(id).unwrap()
}

fn becomes(world: &mut World, record: u32, state: &str) -> Vec<westerfall_core::automation::Move> {
    let state = world.option(&format!("Faults.Status.{state}"));
    world.put("Faults.Status", record, state)
}

#[test]
fn what_a_status_was_decides_and_its_sentence_and_log_say_so() {
    let mut world = World::new();
    let (status, good) = (world.f("Faults.Status"), world.is("Faults.Status", &["made good"]));
    let before = world.is("Faults.Status", &["reported", "checked"]);
    let automation = telling(&world, Occasion::Changed(vec![status]), good, before);
    let id = made(&mut world, automation);
    insta::assert_snapshot!(world.clause(id), @r"
    when: a fault has status changed
    if: status is made good
    before: it held that status is reported or checked
    then: send a mail to office@orrindale-paths.example, headed “Moved: {Number}”
    ");
    for (was, sends) in [("reported", 1), ("scheduled", 0), ("checked", 1)] {
        becomes(&mut world, 5, was);
        let moves = becomes(&mut world, 5, "made good");
        assert_eq!(runs(&moves).iter().map(|run| run.mails.len()).sum::<usize>(), sends, "{was}");
        let asked = runs(&moves)[0].log.iter().find(|line| line.text.starts_with("Before: ")).unwrap();
        assert_eq!(asked.outcome, if sends == 1 { LogOutcome::Yes } else { LogOutcome::No });
        assert!(asked.text.contains("status is reported or checked"), "{}", asked.text);
    }
    // On one record that is only tried nothing has changed, so that is not asked.
    let lens = Lens::new(&world.ds, world.nadia(), &world.clock);
    let tried = world.ds.automation(id).unwrap().try_on(&lens, record(5)).unwrap();
    assert_eq!(tried.happened[0].mails.len(), 1);
    assert_eq!(tried.happened[0].log[0].text, "What held before is not asked: nothing has changed yet.");
}

#[test]
fn what_becomes_so_by_the_turn_of_the_day_was_otherwise_the_day_before() {
    let mut world = World::new();
    let due = |how, than| test(&[world.f("Faults.Due")], Check::Day { how, than });
    // Late since today: due yesterday, as it stood when that was today.
    let (late, today) = (due(Comparison::Under, When::Today(0)), due(Comparison::Is, When::Today(0)));
    let begins = telling(&world, Occasion::Fits, late.clone(), today);
    let never = telling(&world, Occasion::Fits, late.clone(), due(Comparison::Over, When::Today(0)));
    made(&mut world, begins);
    made(&mut world, never);
    let count = |world: &World| late.matching(&Lens::of_everything(&world.ds, None, &world.clock), world.at("Faults")).count_ones(..);
    let (had, mut told) = (count(&world), 0);
    for _ in 0..30 {
        world.later(24);
        told += runs(&world.act(Asker::Westerfall, &Intent::Turn)).iter().map(|run| run.mails.len()).sum::<usize>();
    }
    assert!(told > 0);
    assert_eq!(told, count(&world) - had);
}

#[test]
fn it_is_asked_of_what_changes_alone_and_of_fields_that_are_there() {
    let world = World::new();
    let reported = world.is("Faults.Status", &["reported"]);
    let faults = |automation: Automation| {
        automation.check(&world.ds).err().map_or_else(Vec::new, |all| all.0.into_iter().map(|f| (f.pointer, f.message)).collect::<Vec<_>>())
    };
    let refused = faults(telling(&world, Occasion::Added, Condition::default(), reported.clone()));
    assert_eq!(refused[0].0, "/before");
    assert!(refused[0].1.starts_with("What held before can be asked of what changes"), "{refused:?}");
    assert!(faults(telling(&world, Occasion::Changed(Vec::new()), Condition::default(), reported)).is_empty());
    let other = test(&[world.f("Materials.Name")], Check::Empty);
    let refused = faults(telling(&world, Occasion::Changed(Vec::new()), Condition::default(), other));
    assert!(refused[0].0.starts_with("/before"), "{refused:?}");
}

#[test]
fn a_field_that_it_asks_is_named_where_somebody_would_take_it_away() {
    let mut world = World::new();
    let (table, field) = (world.at("Faults"), world.f("Faults.Hours needed"));
    let automation = telling(&world, Occasion::Changed(Vec::new()), Condition::default(), test(&[field], Check::Empty));
    made(&mut world, automation);
    let refused = world.try_do(world.nadia(), &Intent::Fields { table, change: FieldChange::Remove(field) }).unwrap_err();
    assert!(refused.0.iter().any(|fault| fault.message.contains("“Tell”")), "{refused:?}");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(12))]
    /// Whatever is done in whatever order: what a rehearsal over it says is what happened.
    #[test]
    fn a_rehearsal_goes_back_to_what_was_before(steps in prop::collection::vec((1_u32..8, 0_usize..4), 1..20)) {
        let mut world = World::new();
        let when = Occasion::Changed(vec![world.f("Faults.Status")]);
        let (now, was) = (world.is("Faults.Status", &["made good", "scheduled"]), world.is("Faults.Status", &["reported", "checked"]));
        let automation = telling(&world, when, now, was);
        let id = made(&mut world, automation);
        let begun = world.clock.now;
        let (mut happened, mut changes): (usize, Vec<Change>) = (0, Vec::new());
        for (record, state) in steps {
            world.clock.now = world.clock.now.checked_add(jiff::SignedDuration::from_secs(60)).unwrap();
            let moves = becomes(&mut world, record, STATES[state]);
            happened += runs(&moves).iter().filter(|run| !run.mails.is_empty()).count();
            changes.extend(moves.into_iter().map(|of| of.change));
        }
        changes.reverse();
        let lens = Lens::new(&world.ds, world.nadia(), &world.clock);
        let told = world.ds.automation(id).unwrap().rehearse(&lens, begun, &changes, &()).unwrap();
        let would = told.happened.iter().filter(|run| !run.mails.is_empty()).count();
        prop_assert_eq!(would, happened, "{:?}", told.says);
    }
}
