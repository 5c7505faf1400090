//! What a change sets going, and why not.

use crate::fixture::*;
use std::sync::Arc;
use westerfall_core::{
    access::Asker,
    automation::{LogOutcome, Run, course},
    dataset::Dataset,
    history::Change,
    id::FormId,
    intent::{Edit, Intent},
    part::Part,
    value::{Input, Value},
    wording::Wording,
};

/// A change with the tracker before it.
type Done = (Dataset, Change);

/// What it sets going.
fn runs((before, change): &Done) -> Vec<Run> {
    course(Arc::new(before.clone()), change.clone(), None, &clock()).into_iter().flat_map(|of| of.runs).collect()
}

fn done(ds: &mut Dataset, asker: Asker, intent: &Intent) -> Done {
    let before = ds.clone();
    (before, act(ds, asker, intent).unwrap().change)
}

fn send(ds: &mut Dataset, severity: &str, title: &str) -> Done {
    let form = FormId::new(120).unwrap();
    let f = |name: &str| field(&demo(), &format!("Faults.{name}"));
    let answers = vec![
        (f("What is wrong"), typed(title)),
        (f("Kind"), typed("stile or gate")),
        (f("Severity"), typed(severity)),
        (f("Section"), links(&[1])),
        (f("Reporter"), typed("Wynn Ashdale")),
    ];
    done(ds, Asker::Form(form), &Intent::Send { form, answer: answers.into() })
}

fn only(runs: Vec<Run>) -> Run {
    assert_eq!(runs.len(), 1);
    runs.into_iter().next().unwrap()
}

#[test]
fn a_blocked_path_goes_to_its_warden_and_a_passable_one_says_why_not() {
    let mut ds = demo();
    let change = send(&mut ds, "blocked", "Gate will not open");
    let run = only(runs(&change));
    assert_eq!(run.mails.len(), 1);
    let mail = &run.mails[0];
    assert_eq!((mail.to.as_str(), mail.subject.as_str()), ("tamsin@orrindale-paths.example", "blocked: Gate will not open"));
    insta::assert_snapshot!(mail.body, @r"
    A fault came in on PS-001 Esker Ridge to Hob Gate (Eskermoor).

    FR-2026-0121: Gate will not open
    It is about: stile or gate
    Severity: blocked



    Reported by Wynn Ashdale
    ");
    assert!(mail.opens_record);

    let change = send(&mut ds, "passable", "Latch stiff");
    let run = only(runs(&change));
    assert!(run.mails.is_empty());
    assert_eq!(run.log.len(), 1);
    assert_eq!(
        (run.log[0].outcome, run.log[0].text.as_str()),
        (LogOutcome::No, "Does not hold: severity is blocked or dangerous; it is passable.")
    );
}

#[test]
fn the_same_cause_has_the_same_key_and_another_cause_another() {
    let mut ds = demo();
    let first = send(&mut ds, "blocked", "One");
    let keys = |change: &Done| only(runs(change)).mails.into_iter().map(|m| m.key).collect::<Vec<_>>();
    assert_eq!(keys(&first), keys(&first));
    let second = send(&mut ds, "blocked", "One");
    assert_ne!(keys(&first), keys(&second));
}

#[test]
fn adding_by_hand_and_undoing_send_nothing() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let add = Intent::Add { table: table(&ds, "Faults"), records: vec![vec![(field(&ds, "Faults.Severity"), typed("blocked"))]] };
    let change = done(&mut ds, nadia, &add);
    assert!(runs(&change).is_empty());
    let came = send(&mut ds, "blocked", "Gate");
    let (_, undone) = done(&mut ds, nadia, &undo(came.1));
    let again = done(&mut ds, nadia, &undo(undone));
    assert!(runs(&again).is_empty());
}

#[test]
fn nobody_to_send_to_is_said() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let edits = vec![Edit { field: field(&ds, "Districts.Warden"), input: Input::Value(Value::Empty), was: None }];
    let districts = table(&ds, "Districts");
    act(&mut ds, nadia, &Intent::Edit { table: districts, record: record(1), edits }).unwrap();
    let change = send(&mut ds, "dangerous", "Bridge down");
    let run = only(runs(&change));
    assert_eq!(run.log.last().unwrap().text, "No message: the section’s district’s warden gives nobody to send it to.");
}

#[test]
fn a_mail_holds_nothing_that_is_not_open_to_its_reader() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let mut role = ds.roles().find(|r| r.name == "Warden").unwrap().clone();
    let rights = role.tables.get_mut(&table(&ds, "Faults")).unwrap();
    rights.fields.insert(field(&ds, "Faults.Reporter"), westerfall_core::access::FieldRight::Hidden);
    act(&mut ds, nadia, &Intent::Save(Part::Role(role))).unwrap();
    let change = send(&mut ds, "blocked", "Gate");
    let run = only(runs(&change));
    assert!(!run.mails[0].body.contains("Wynn"));
    let left_out = "Left out, since it is not open to Tamsin Oake: Reporter.";
    assert!(run.log.iter().any(|line| line.text.ends_with(left_out)), "{:?}", run.log);
}

#[test]
fn a_value_with_line_breaks_makes_no_header() {
    let mut ds = demo();
    let change = send(&mut ds, "blocked", "Gate\r\nBcc: everybody@walkers.example");
    assert_eq!(only(runs(&change)).mails[0].subject, "blocked: Gate Bcc: everybody@walkers.example");
}

#[test]
fn templates_are_written_back_as_typed_and_survive_a_rename() {
    let mut ds = demo();
    let faults = table(&ds, "Faults");
    let typed = "{{so}} {Severity}: {section.district.name} at {What is wrong}";
    let template = Wording::parse(typed, &ds, faults).unwrap();
    assert_eq!(template.to_text(&ds, faults), "{{so}} {Severity}: {Section.District.Name} at {What is wrong}");
    let mut def = (*ds.table(faults).unwrap().def).clone();
    def.fields.iter_mut().find(|f| f.name == "Severity").unwrap().name = "How bad".into();
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &Intent::Save(Part::Table(def))).unwrap();
    assert!(template.to_text(&ds, faults).contains("{How bad}"));
    let message = |text: &str| Wording::parse(text, &ds, faults).unwrap_err().message;
    assert_eq!(message("{Severity}"), "There is no field “Severity” in Faults.");
    assert_eq!(message("{Due.Name}"), "There is no field “Name” in what stands before it, which is no link.");
    assert!(message("a } b").contains("no partner"));
}
