//! Automations that start others, and records that are added with lines under them.

use crate::{fixture::*, world::*};
use proptest::prelude::*;
use westerfall_core::{
    automation::{AddedLine, Automation, LogOutcome, Message, Move, Occasion, Step},
    bulk::{Alter, Altered},
    condition::Condition,
    formula::Formula,
    id::AutomationId,
    intent::Intent,
    part::Part,
    value::{Input, Value},
};

fn saying(world: &World, text: &str) -> Step {
    world.mail("Faults", office(), text, false)
}

fn sent(moves: &[Move]) -> Vec<Message> {
    runs(moves).iter().flat_map(|run| run.mails.clone()).collect()
}

/// One that is set going by others alone.
fn handed(world: &mut World, name: &str, steps: Vec<Step>) -> AutomationId {
    world.automate("Faults", name, Occasion::Started, Condition::default(), steps)
}

fn on_status(world: &mut World, steps: Vec<Step>) -> AutomationId {
    let when = Occasion::Changed(vec![world.f("Faults.Status")]);
    world.automate("Faults", "First", when, Condition::default(), steps)
}

fn moved(world: &mut World) -> Vec<Move> {
    let now = world.value("Faults.Status", 1);
    let other = ["reported", "checked"].map(|name| world.option(&format!("Faults.Status.{name}"))).into_iter().find(|one| *one != now);
    world.put("Faults.Status", 1, other.unwrap())
}

fn logged(moves: &[Move]) -> Vec<(LogOutcome, String)> {
    runs(moves).iter().flat_map(|run| run.log.iter().map(|line| (line.outcome, line.text.clone()))).collect()
}

#[test]
fn what_an_automation_starts_runs_once_over_the_record_with_its_own_condition_and_its_sentences_say_so() {
    let mut world = World::new();
    let second = handed(&mut world, "Second", vec![saying(&World::new(), "Second: {Number}")]);
    let first = on_status(&mut world, vec![Step::Start { automation: second }]);
    insta::assert_snapshot!(world.clause(first), @r"
    when: a fault has status changed
    if:
    then: start “Second” with it
    ");
    insta::assert_snapshot!(world.clause(second), @r"
    when: a fault is handed on by another automation
    if:
    then: send a mail to office@orrindale-paths.example, headed “Second: {Number}”
    ");
    let moves = moved(&mut world);
    let mails: Vec<_> = sent(&moves);
    assert_eq!(mails.iter().filter(|mail| mail.subject.starts_with("Second: ")).count(), 1);
    assert!(logged(&moves).contains(&(LogOutcome::Yes, "Starts “Second”.".into())));

    // Its own condition is asked of the record.
    let mut automation = world.ds.automation(second).unwrap().clone();
    automation.condition = world.is("Faults.Status", &["made good"]);
    world.act(world.nadia(), &Intent::Save(Part::Automation(automation)));
    assert!(sent(&moved(&mut world)).is_empty());
}

#[test]
fn what_rests_is_not_started_and_what_starts_itself_is_stopped() {
    let mut world = World::new();
    let second = handed(&mut world, "Second", vec![saying(&World::new(), "Second: {Number}")]);
    on_status(&mut world, vec![Step::Start { automation: second }]);
    let rest = |world: &mut World, with: &dyn Fn(&mut Automation)| {
        let mut automation = world.ds.automation(second).unwrap().clone();
        with(&mut automation);
        world.act(world.nadia(), &Intent::Save(Part::Automation(automation)));
    };
    rest(&mut world, &|automation| automation.on = false);
    let log = logged(&moved(&mut world));
    assert!(log.contains(&(LogOutcome::Failed, "“Second” is not started: it rests.".into())), "{log:?}");
    rest(&mut world, &|automation| {
        automation.on = true;
        automation.steps.push(Step::Start { automation: second });
    });
    let moves = moved(&mut world);
    assert_eq!(sent(&moves).iter().filter(|mail| mail.subject.starts_with("Second: ")).count(), 1);
    assert!(logged(&moves).iter().any(|(_, text)| text.starts_with("Stopped: it was set going again by its own doing")));
}

#[test]
fn only_one_that_others_start_and_of_the_same_records_can_be_started_and_it_is_not_taken_away_meanwhile() {
    let mut world = World::new();
    let second = handed(&mut world, "Second", vec![saying(&World::new(), "Second: {Number}")]);
    let first = on_status(&mut world, vec![Step::Start { automation: second }]);
    let refused = world.try_do(world.nadia(), &Intent::Drop(Part::Automation(world.ds.automation(second).unwrap().clone()))).unwrap_err();
    assert!(refused.0[0].message.contains("“First”"), "{refused:?}");
    let start = |world: &World, table: &str, automation| {
        let one =
            Automation { table: world.at(table), steps: vec![Step::Start { automation }], ..world.ds.automation(second).unwrap().clone() };
        one.check(&world.ds).err().map_or_else(String::new, |faults| faults.0[0].message.clone())
    };
    assert_eq!(start(&world, "Faults", first), "“First” is not set going by another automation. Say so in its first line.");
    assert_eq!(start(&world, "Sections", second), "“Second” is of another table’s records.");
    assert_eq!(start(&world, "Faults", AutomationId::LAST), "The automation that this starts is not there any more.");
}

#[test]
fn an_order_is_added_with_its_lines_and_all_of_it_is_refused_where_one_does_not_fit() {
    let mut world = World::new();
    let (orders, under) = (world.at("Work orders"), world.f("Work orders.Material lines"));
    let material = |row: u32| Alter::Set(Input::Value(Value::Links(vec![record(row)])));
    let hours = Formula::read("MAX('Hours needed'; 2)", &world.ds, world.at("Faults")).formula;
    let line = |world: &World, row: u32, quantity: Alter| AddedLine {
        under,
        alter: vec![
            Altered { field: world.f("Material lines.Material"), to: material(row) },
            Altered { field: world.f("Material lines.Quantity"), to: quantity },
        ],
    };
    let fits = |world: &World| vec![line(world, 1, Alter::Formula(hours.clone())), line(world, 2, Alter::Set(Input::Text("3".into())))];
    let step = |world: &World, lines| {
        let alter = vec![Altered { field: world.f("Work orders.Faults"), to: Alter::Along(Vec::new()) }];
        Step::Add { table: orders, alter, lines }
    };
    let lines = fits(&world);
    let first = step(&world, lines);
    let id = on_status(&mut world, vec![first]);
    insta::assert_snapshot!(world.clause(id), @r"
    when: a fault has status changed
    if:
    then: add a work order, with faults: this fault, and under it a material line (material: Oak gate post; quantity: MAX(Hours needed, 2)), a material line (material: Larch gate post; quantity: “3”)
    It changes what Nadia Ferreira-Holt may change.
    ");
    let (count, lines_of) = (records(&world.ds, orders).len(), world.at("Material lines"));
    let before = records(&world.ds, lines_of).len();
    moved(&mut world);
    let all = records(&world.ds, orders);
    assert_eq!(all.len(), count + 1);
    let held = linked(&world.ds, orders, *all.last().unwrap(), under);
    assert_eq!(held.len(), 2);
    let quantities: Vec<Value> = held.iter().map(|one| value(&world.ds, lines_of, *one, world.f("Material lines.Quantity"))).collect();
    assert_eq!(quantities[1], Value::Number(3.into()));

    let mut automation = world.ds.automation(id).unwrap().clone();
    let wrong = vec![line(&world, 1, Alter::Set(Input::Text("many".into())))];
    automation.steps = vec![step(&world, wrong)];
    world.act(world.nadia(), &Intent::Save(Part::Automation(automation)));
    let log = logged(&moved(&mut world));
    assert!(log.iter().any(|(outcome, text)| *outcome == LogOutcome::Failed && text.starts_with("Not done, acting for")), "{log:?}");
    assert_eq!((records(&world.ds, orders).len(), records(&world.ds, lines_of).len()), (count + 1, before + 2));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]
    /// However automations hand a record on to each other, it comes to an end, and each runs over it at most once.
    #[test]
    fn handing_on_ends(edges in prop::collection::vec((0_usize..5, 0_usize..5), 0..14)) {
        let mut world = World::new();
        let text = World::new();
        let all: Vec<AutomationId> = (0..5).map(|n| handed(&mut world, &format!("H{n}"), vec![saying(&text, &format!("H{n}: {{Number}}"))])).collect();
        for (from, to) in edges {
            let mut automation = world.ds.automation(all[from]).unwrap().clone();
            automation.steps.push(Step::Start { automation: all[to] });
            world.act(world.nadia(), &Intent::Save(Part::Automation(automation)));
        }
        on_status(&mut world, vec![Step::Start { automation: all[0] }]);
        let moves = moved(&mut world);
        for n in 0..5 {
            let count = sent(&moves).iter().filter(|mail| mail.subject.starts_with(&format!("H{n}: "))).count();
            prop_assert!(count <= 1, "H{n} ran {count} times");
        }
    }
}
