//! A tracker that is closed, put away or removed: read by whom it says, changed by nobody, and opened again.

use crate::fixture::*;
use westerfall_core::{
    access::{Asker, Lens, Right},
    dataset::Dataset,
    fault::FaultKind,
    form::FormState,
    history::Change,
    intent::{Edit, Intent},
    part::Part,
    schema::{Stage, TrackerDef},
};

fn to(ds: &Dataset, stage: Stage) -> Intent {
    Intent::Save(Part::Tracker(TrackerDef { stage, ..(*ds.tracker).clone() }))
}

/// Nadia, its steward, says so.
#[track_caller]
fn go(ds: &mut Dataset, stage: Stage) -> Change {
    let (nadia, intent) = (asker(ds, "Nadia"), to(ds, stage));
    act(ds, nadia, &intent).unwrap().change
}

fn edit(ds: &Dataset) -> Intent {
    let edits = vec![Edit { field: field(ds, "Faults.Hours needed"), input: typed("3"), was: None }];
    Intent::Edit { table: table(ds, "Faults"), record: record(5), edits }
}

#[test]
fn while_it_is_closed_everything_is_read_and_nothing_changes() {
    let mut ds = demo();
    let (nadia, faults, clock) = (asker(&ds, "Nadia"), table(&ds, "Faults"), clock());
    let before = records(&ds, faults).len();
    let closing = go(&mut ds, Stage::Closed);
    assert_eq!(closing.in_words(&Lens::new(&ds, nadia, &clock)), format!("closed {}", ds.tracker.name));
    for first in ["Nadia", "Bex", "Tamsin"] {
        let lens = Lens::new(&ds, asker(&ds, first), &clock);
        assert!(lens.opens(faults) && !lens.adds(faults) && !lens.builds(), "{first}");
        assert!(!lens.may(Right::Change, faults, record(5)) && !lens.writes(faults, field(&ds, "Faults.Hours needed")), "{first}");
    }
    assert_eq!(Lens::new(&ds, nadia, &clock).count(faults), before);
    // Not by edit, not by form, not by what was done before; said in one sentence.
    let refused = |ds: &Dataset, who, intent: &Intent| ds.decide(intent, who, &clock).unwrap_err().0[0].kind;
    assert_eq!(refused(&ds, nadia, &edit(&ds)), FaultKind::Closed);
    let form = ds.forms().next().unwrap();
    assert_eq!(form.state(&ds, &clock), FormState::Closed);
    assert_eq!(refused(&ds, Asker::Form(form.id), &Intent::Send { form: form.id, answer: Vec::new().into() }), FaultKind::Closed);
    // The day turns all the same, and the steward's step is taken back like any other.
    assert!(ds.decide(&Intent::Turn, Asker::Westerfall, &clock).is_ok());
    act(&mut ds, nadia, &undo(closing)).unwrap();
    assert!(ds.tracker.stage.is_open());
    act(&mut ds, nadia, &edit(&demo())).unwrap();
}

#[test]
fn what_was_done_before_it_was_closed_is_not_taken_back_while_it_is() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let change = act(&mut ds, nadia, &edit(&demo())).unwrap().change;
    go(&mut ds, Stage::Away);
    let refused = ds.decide(&undo(change.clone()), nadia, &clock()).unwrap_err();
    assert_eq!(refused.0[0].kind, FaultKind::Closed);
    go(&mut ds, Stage::Open);
    act(&mut ds, nadia, &undo(change)).unwrap();
}

#[test]
fn what_was_removed_is_there_for_its_stewards_alone_and_only_they_say_so() {
    let mut ds = demo();
    let (nadia, bex) = (asker(&ds, "Nadia"), asker(&ds, "Bex"));
    assert_eq!(ds.decide(&to(&ds, Stage::Removed), bex, &clock()).unwrap_err().0[0].kind, FaultKind::NotAllowed);
    go(&mut ds, Stage::Removed);
    assert!(nadia.may_look_at(&ds) && !bex.may_look_at(&ds));
    let clock = clock();
    assert!(!Lens::new(&ds, bex, &clock).opens(table(&ds, "Faults")));
    let (by, r#as) = (person(&ds, "Nadia"), person(&ds, "Bex"));
    assert!(!Asker::StandingIn { by, r#as }.may_look_at(&ds));
    go(&mut ds, Stage::Open);
    assert!(bex.may_look_at(&ds));
}

#[test]
fn it_is_said_before_what_each_stage_would_do() {
    let ds = demo();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let told = |stage| {
        let heard = lens.rehearse_stage(stage);
        format!("{}. {}", heard.title, heard.says.join(" "))
    };
    insta::assert_snapshot!([Stage::Closed, Stage::Away, Stage::Removed, Stage::Open].map(told).join("\n"));
}
