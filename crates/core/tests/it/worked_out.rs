//! Fields that an automation works out by a formula.

use crate::{fixture::*, world::*};
use std::sync::Arc;
use westerfall_core::{
    automation::{LogOutcome, Occasion, Step},
    bulk::{Alter, Altered, Bulk, Which},
    condition::Condition,
    formula::Formula,
    history::{Change, Op},
    id::AutomationId,
    intent::{FieldChange, Intent},
    people::Actor,
    value::Value,
};

fn formula(world: &World, table: &str, text: &str) -> Formula {
    let parsed = Formula::read(text, &world.ds, world.at(table));
    assert!(parsed.faults.is_empty(), "{text}: {:?}", parsed.faults);
    parsed.formula
}

/// An automation that works a field of faults out when what is wrong with them is said otherwise.
fn works_out(world: &mut World, path: &str, text: &str) -> AutomationId {
    let step = world.set(path, Alter::Formula(formula(world, "Faults", text)));
    let when = Occasion::Changed(vec![world.f("Faults.What is wrong")]);
    world.automate("Faults", "Work it out", when, Condition::default(), vec![step])
}

/// What a field of the first fault becomes, and what the log says.
fn becomes(path: &str, text: &str) -> (Value, String) {
    let mut world = World::new();
    works_out(&mut world, path, text);
    let moves = world.put("Faults.What is wrong", 1, Value::text("Gate, of oak"));
    let log: Vec<String> = runs(&moves).iter().flat_map(|run| run.log.iter().map(|line| line.text.clone())).collect();
    (world.value(path, 1), log.join(" "))
}

#[test]
fn numbers_days_texts_and_choices_are_worked_out_of_what_stands_there_then() {
    let n = |n: i64| Value::Number(n.into());
    assert_eq!(becomes("Faults.Hours needed", "LEN('What is wrong') * 2").0, n(24));
    assert_eq!(becomes("Faults.Description", "UPPER('What is wrong') & \"!\"").0, Value::text("GATE, OF OAK!"));
    assert_eq!(becomes("Faults.Reported on", "DATE(2026; 11; 20) + 7").0, Value::Date(jiff::civil::date(2026, 11, 27)));
    // A choice by its name.
    let mut world = World::new();
    let scheduled = world.option("Faults.Status.scheduled");
    assert_eq!(becomes("Faults.Status", "IF(LEN('What is wrong') > 3; \"scheduled\"; \"checked\")").0, scheduled);
    let id = works_out(&mut world, "Faults.Hours needed", "LEN('What is wrong') * 2");
    insta::assert_snapshot!(world.clause(id), @r"
    when: a fault has what is wrong changed
    if:
    then: work out hours needed as LEN(What is wrong) * 2
    It changes what Nadia Ferreira-Holt may change.
    ");
}

#[test]
fn what_it_gives_that_cannot_stand_there_is_refused_with_its_reason_and_nothing_is_changed() {
    let before = World::new().value("Faults.Hours needed", 1);
    let (now, log) = becomes("Faults.Hours needed", "1 / (LEN('What is wrong') - 12)");
    assert_eq!(now, before);
    insta::assert_snapshot!(log, @"Not done, acting for Nadia Ferreira-Holt: The formula for “Hours needed” gives #DIV/0!: it divides by nothing.");
    let (_, log) = becomes("Faults.Status", "'What is wrong' & \"\"");
    insta::assert_snapshot!(
        log,
        @"Not done, acting for Nadia Ferreira-Holt: “Gate, of oak” is not one of the options. Choose reported, checked, scheduled, in hand, made good or no action."
    );
}

#[test]
fn of_a_record_that_is_added_it_is_of_the_one_that_the_automation_is_about() {
    let mut world = World::new();
    let table = world.at("Work parties");
    let alter = vec![Altered {
        field: world.f("Work parties.What"),
        to: Alter::Formula(formula(&world, "Faults", "\"See to: \" & 'What is wrong'")),
    }];
    let when = Occasion::Changed(vec![world.f("Faults.What is wrong")]);
    world.automate("Faults", "Plan it", when, Condition::default(), vec![Step::Add { table, alter, lines: Vec::new() }]);
    let before = records(&world.ds, table).len();
    world.put("Faults.What is wrong", 1, Value::text("Gate, of oak"));
    let all = records(&world.ds, table);
    assert_eq!(all.len(), before + 1);
    assert_eq!(value(&world.ds, table, *all.last().unwrap(), world.f("Work parties.What")), Value::text("See to: Gate, of oak"));
}

#[test]
fn it_reads_only_what_is_open_to_whoever_it_acts_for() {
    let mut world = World::new();
    let id = works_out(&mut world, "Faults.Hours needed", "LEN('Reporter’s mail')");
    // A warden takes it over, to whom no address of a reporter is open.
    let mut automation = world.ds.automation(id).unwrap().clone();
    automation.acts_for = Some(person(&world.ds, "Idris"));
    let (seq, at, who) = (world.ds.seq + 1, world.clock.now, Actor::Westerfall);
    let op = Op::Put { before: Some(Box::new(world.ds.automation(id).unwrap().clone().into())), after: Some(Box::new(automation.into())) };
    Arc::make_mut(&mut world.ds).apply(&Change { seq, at, who, undoes: None, again: false, ops: vec![op] });
    let moves = world.put("Faults.What is wrong", 1, Value::text("Gate, of oak"));
    let failed: Vec<String> = runs(&moves)
        .iter()
        .flat_map(|run| run.log.iter())
        .filter(|line| line.outcome == LogOutcome::Failed)
        .map(|l| l.text.clone())
        .collect();
    assert!(failed.iter().any(|text| text.contains("not open") || text.contains("may not")), "{failed:?}");
}

#[test]
fn what_does_not_hold_any_more_is_said_where_it_stands_and_what_it_names_cannot_be_taken_away() {
    let mut world = World::new();
    works_out(&mut world, "Faults.Description", "'Hours needed' & \" hours\"");
    let (table, field) = (world.at("Faults"), world.f("Faults.Hours needed"));
    let refused = world.try_do(world.nadia(), &Intent::Fields { table, change: FieldChange::Remove(field) }).unwrap_err();
    assert!(refused.0.iter().any(|fault| fault.message.contains("“Work it out”")), "{refused:?}");

    let step = world.set("Faults.Hours needed", Alter::Formula(formula(&world, "Faults", "Description & \"\"")));
    let automation = westerfall_core::automation::Automation { steps: vec![step], ..world.ds.automations().last().unwrap().clone() };
    let faults = automation.check(&world.ds).unwrap_err().0;
    assert_eq!(
        (faults[0].pointer.as_str(), faults[0].message.as_str()),
        ("/steps/0/set/alter", "The formula gives a text, and that can’t stand in “Hours needed”.")
    );
}

#[test]
fn by_hand_nothing_is_worked_out_by_a_formula() {
    let mut world = World::new();
    let alter = vec![Altered { field: world.f("Faults.Hours needed"), to: Alter::Formula(formula(&world, "Faults", "1 + 1")) }];
    let bulk = Bulk { table: world.at("Faults"), which: Which::These(vec![record(1)]), without: Default::default(), alter };
    let refused = world.try_do(world.nadia(), &Intent::Bulk(Box::new(bulk))).unwrap_err();
    assert_eq!(refused.0[0].message, "Only an automation works a field out by a formula.");
}
