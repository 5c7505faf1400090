//! Every bad input gets its own fault, at its place, with a sentence to act on; and nothing half-done.

use crate::fixture::*;
use westerfall_core::{
    access::{Asker, Lens},
    face::Face,
    fault::FaultKind,
    form::{Answer, FormState, Responding},
    id::FormId,
    intent::{Edit, Intent},
    part::Part,
    value::{Attachment, Input, Value},
};

fn edit(name: &str, input: Input, was: Option<Value>) -> Intent {
    let ds = demo();
    Intent::Edit {
        table: table(&ds, "Faults"),
        record: record(3),
        edits: vec![Edit { field: field(&ds, &format!("Faults.{name}")), input, was }],
    }
}

#[track_caller]
fn check(intent: &Intent, kind: FaultKind, pointer: &str) {
    let ds = demo();
    let fault = ds.decide(intent, asker(&ds, "Nadia"), &clock()).unwrap_err().0.remove(0);
    assert_eq!((fault.kind, fault.pointer.as_str()), (kind, pointer), "{}", fault.message);
}

#[test]
fn each_wrong_value_has_its_fault() {
    use FaultKind::{NotFound, ReadOnly, TooLong, UnknownOption, WrongKind};
    let at = "/edits/0";
    check(&edit("Planned for", typed("some day"), None), WrongKind, at);
    check(&edit("Hours needed", typed("a lot"), None), WrongKind, at);
    check(&edit("Status", typed("gone"), None), UnknownOption, at);
    check(&edit("Status", Input::Value(Value::Choice(option(&demo(), "Faults.Kind.signage"))), None), UnknownOption, at);
    check(&edit("Status", Input::Value(Value::text("reported")), None), WrongKind, at);
    check(&edit("What is wrong", typed(&"x".repeat(161)), None), TooLong, at);
    check(&edit("What is wrong", typed(""), None), FaultKind::Missing, at);
    check(&edit("Reporter’s mail", typed("nobody"), None), WrongKind, at);
    check(&edit("Reporter’s mail", typed("a@b.example\r\nBcc: c@d.example"), None), WrongKind, at);
    check(&edit("Reporter’s phone", typed("call me"), None), WrongKind, at);
    check(&edit("Section", links(&[1, 2]), None), TooLong, at);
    check(&edit("Section", links(&[9_999]), None), NotFound, at);
    check(&edit("Number", typed("FR-1"), None), ReadOnly, at);
    check(&edit("District", links(&[1]), None), ReadOnly, at);
    let forged = Attachment { id: "somebody-elses".into(), name: "a.jpg".into(), media: "image/jpeg".into(), size: 1 };
    check(&edit("Pictures", Input::Value(Value::Files([forged].into())), None), NotFound, at);
}

#[test]
fn a_limit_is_stated_and_text_is_taken_as_it_is() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let long = ds.decide(&edit("What is wrong", typed(&"é".repeat(161)), None), nadia, &clock()).unwrap_err();
    assert_eq!(long.0[0].message, "“What is wrong” takes at most 160 characters; this has 161.");
    let nasty = "<script>alert(1)</script>'; DROP TABLE record; --";
    act(&mut ds, nadia, &edit("What is wrong", typed(nasty), None)).unwrap();
    let clock = clock();
    assert_eq!(Lens::of_everything(&ds, None, &clock).text_at(table(&ds, "Faults"), record(3), field(&ds, "Faults.What is wrong")), nasty);
}

#[test]
fn a_clash_gives_both_values_and_the_same_edit_twice_is_none() {
    let mut ds = demo();
    let (nadia, bex) = (asker(&ds, "Nadia"), asker(&ds, "Bex"));
    let seen = Some(Value::Empty);
    act(&mut ds, bex, &edit("Description", typed("hers"), seen.clone()))
        .or_else(|_| act(&mut ds, bex, &edit("Description", typed("hers"), None)))
        .unwrap();
    let clash = act(&mut ds, nadia, &edit("Description", typed("mine"), seen.clone())).unwrap_err().0.remove(0);
    assert_eq!(clash.kind, FaultKind::Clash);
    let said = format!(
        "Somebody changed this meanwhile: it now says “hers”. The record was last changed at {0}; it is {0} now. Keep theirs, or put yours in again.",
        clock().now.to_zoned(clock().zone).strftime("%H:%M:%S")
    );
    assert_eq!(clash.message, said);
    let both = clash.clash.unwrap();
    assert_eq!((both.yours, both.theirs, both.theirs_text.as_str()), (Value::text("mine"), Value::text("hers"), "hers"));
    assert!(act(&mut ds, nadia, &edit("Description", typed("hers"), seen)).unwrap().change.ops.is_empty());
}

#[test]
fn a_form_tells_all_that_is_wrong_at_once_and_keeps_nothing() {
    let ds = demo();
    let form = FormId::new(120).unwrap();
    let f = |name: &str| field(&ds, &format!("Faults.{name}"));
    let answers = vec![
        (f("Kind"), typed("dragon")),
        (f("Section"), links(&[777])),
        (f("Status"), typed("made good")),
        (f("Reporter’s mail"), typed("x")),
    ];
    let faults = ds.decide(&Intent::Send { form, answer: answers.into() }, Asker::Form(form), &clock()).unwrap_err().0;
    let mut told: Vec<(String, FaultKind)> = faults.into_iter().map(|f| (f.pointer, f.kind)).collect();
    told.sort_by(|a, b| a.0.cmp(&b.0));
    let at = |name: &str| format!("/answers/{}", f(name));
    assert_eq!(
        told,
        [
            (at("What is wrong"), FaultKind::Missing),
            (at("Section"), FaultKind::NotFound),
            (at("Kind"), FaultKind::UnknownOption),
            (at("Severity"), FaultKind::Missing),
            // A field that the form does not ask can't be slipped in.
            (at("Status"), FaultKind::NotFound),
            (at("Reporter’s mail"), FaultKind::WrongKind),
        ]
    );
}

#[test]
fn no_text_anywhere_holds_the_character_zero() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let (faults, what) = (table(&ds, "Faults"), field(&ds, "Faults.What is wrong"));
    let edit =
        |text: &str| Intent::Edit { table: faults, record: record(1), edits: vec![Edit { field: what, input: typed(text), was: None }] };
    assert_eq!(ds.decide(&edit("Gate\0open"), nadia, &clock()).unwrap_err().0[0].kind, FaultKind::WrongKind);
    let mut form = ds.forms().next().unwrap().clone();
    form.intro = "\0".into();
    assert!(act(&mut ds, nadia, &Intent::Save(Part::Form(form))).is_err());
    // Written out by somebody, it is a text like any other.
    act(&mut ds, nadia, &edit(r"Gate\u0000 open\\u0000")).unwrap();
}

#[test]
fn a_closed_form_takes_nothing_and_says_its_own_words() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let id = FormId::new(120).unwrap();
    let mut form = ds.form(id).unwrap().clone();
    form.open = false;
    act(&mut ds, nadia, &Intent::Save(Part::Form(form.clone()))).unwrap();
    let fault = ds.decide(&Intent::Send { form: id, answer: Answer::default() }, Asker::Form(id), &clock()).unwrap_err().0.remove(0);
    assert_eq!((fault.kind, fault.message), (FaultKind::Closed, form.closed_text.clone()));
    let clock = clock();
    let seen = Responding { form: &form, ds: &ds, clock: &clock, team: Face::named("") }.view(&Answer::default());
    assert!(seen.questions.is_empty() && seen.state == FormState::Closed);
}

#[test]
fn rules_that_do_not_fit_are_refused_where_they_are_wrong() {
    let ds = demo();
    let nadia = asker(&ds, "Nadia");
    let refused = |part: Part| ds.decide(&Intent::Save(part), nadia, &clock()).unwrap_err().0.remove(0);
    let mut view = ds.views().next().unwrap().clone();
    view.query.condition = test(&[field(&ds, "Faults.Due"), field(&ds, "Sections.Name")], westerfall_core::condition::Check::Filled);
    assert_eq!(refused(Part::View(view)).pointer, "/query/condition/test");
    let mut form = ds.forms().next().unwrap().clone();
    form.questions[1].required = false;
    let fault = refused(Part::Form(form));
    assert_eq!(fault.pointer, "/questions");
    assert_eq!(fault.message, "The table requires “What is wrong”, so the form must ask it and require an answer.");
    let mut automation = ds.automations().next().unwrap().clone();
    automation.steps.clear();
    assert_eq!(refused(Part::Automation(automation)).pointer, "/steps");
}
