//! A form as its script: what is asked and how, where it lands, what nobody is asked, and what came by which link.

use crate::fixture::*;
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    form::{Answer, Form, FormPlace, Parameter, Script},
    id::FormId,
    intent::Intent,
    part::Part,
    value::Value,
};

const REPORT: u32 = 120;

fn form(ds: &Dataset) -> Form {
    ds.form(FormId::new(REPORT).unwrap()).unwrap().clone()
}

fn script(ds: &Dataset, form: &Form) -> Script {
    let clock = clock();
    form.to_script(&Lens::new(ds, asker(ds, "Nadia"), &clock))
}

#[test]
fn each_line_says_how_it_is_asked_and_where_it_lands() {
    let ds = demo();
    let script = script(&ds, &form(&ds));
    let lines: Vec<String> = script.lines.iter().map(|l| format!("{} → {} {}", l.how, l.lands, l.of)).collect();
    insta::assert_debug_snapshot!(lines);
}

#[test]
fn what_nobody_is_asked_is_told_with_where_it_comes_from() {
    let ds = demo();
    let mut form = form(&ds);
    let status = field(&ds, "Faults.Status");
    let planned = field(&ds, "Faults.Planned for");
    let script_before = script(&ds, &form);
    assert!(script_before.free.contains(&planned) && !script_before.free.contains(&field(&ds, "Faults.Due")));
    assert!(script_before.itself.contains("Due") && script_before.itself.ends_with("come by themselves."), "{}", script_before.itself);
    form.questions.push(westerfall_core::form::Question {
        hidden: true,
        begins: Some(Value::Choice(option(&ds, "Faults.Status.checked"))),
        parameter: "status".into(),
        ..westerfall_core::form::Question::new(status, "Status")
    });
    let script = script(&ds, &form);
    assert!(
        script.quietly.contains(&"Status: what the link says for status is put in, else “checked”.".to_owned()),
        "{:?}",
        script.quietly
    );
    assert_eq!(script.lines.last().unwrap().how, "nobody is asked, filled in by the link");
}

#[test]
fn a_field_that_is_out_of_reach_is_named_nowhere() {
    let mut ds = demo();
    let mut role = ds.roles().find(|r| r.name == "Trustee").unwrap().clone();
    role.base = westerfall_core::access::Base::Own;
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &Intent::Save(Part::Role(role))).unwrap();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Pavel"), &clock);
    let mut form = form(&ds);
    form.questions.clear();
    let script = form.to_script(&lens);
    let told = format!("{:?} {}", script.quietly, script.itself);
    assert!(!told.contains("Reporter") && !script.free.contains(&field(&ds, "Faults.Reporter’s mail")), "{told}");
}

#[test]
fn what_came_is_counted_by_what_the_link_said() {
    let mut ds = demo();
    let id = FormId::new(REPORT).unwrap();
    let mut send = |from: &str| {
        let f = |name: &str| field(&demo(), &format!("Faults.{name}"));
        let answers = vec![
            (f("What is wrong"), typed("Slab gone")),
            (f("Kind"), typed("surface")),
            (f("Severity"), typed("awkward")),
            (f("Section"), links(&[3])),
        ];
        let parameters = vec![Parameter { name: "from".into(), value: from.into() }];
        let answer = Answer { parameters, ..Answer::from(answers) };
        act(&mut ds, Asker::Form(id), &Intent::Send { form: id, answer }).unwrap();
    };
    ["poster", "post", "poster"].into_iter().for_each(&mut send);
    let clock = clock();
    let places = |who: &str| {
        let lens = Lens::new(&ds, asker(&ds, who), &clock);
        form(&ds).places(&lens).into_iter().map(|p| (p.value, p.answers)).collect::<Vec<_>>()
    };
    assert_eq!(places("Nadia"), [("poster".to_owned(), 2), ("post".to_owned(), 1)]);
    // What was kept as a place is listed though nothing came, for those who hang it there; two are not called alike.
    let keep = |names: &[&str]| {
        let places = names.iter().map(|name| FormPlace { name: (*name).into(), parameters: Vec::new() }).collect();
        Intent::Save(Part::Form(Form { places, ..form(&ds) }))
    };
    let kept = ds.decide(&keep(&["stile", "poster"]), asker(&ds, "Nadia"), &clock).unwrap();
    assert!(ds.decide(&keep(&["stile", "Stile"]), asker(&ds, "Nadia"), &clock).is_err());
    assert!(ds.decide(&keep(&[" "]), asker(&ds, "Nadia"), &clock).is_err());
    let mut with = ds.clone();
    with.apply(&kept.change);
    let told = form(&with).places(&Lens::new(&with, asker(&with, "Nadia"), &clock));
    let told: Vec<(&str, u32, bool)> = told.iter().map(|p| (p.value.as_str(), p.answers, p.kept.is_some())).collect();
    assert_eq!(told, [("poster", 2, true), ("post", 1, false), ("stile", 0, true)]);
    let pavel = form(&with).places(&Lens::new(&with, asker(&with, "Pavel"), &clock));
    assert!(pavel.iter().all(|p| p.kept.is_none() && p.answers > 0), "{pavel:?}");
    // Of a section that is another warden's, nothing is counted.
    let warden = ["Tamsin", "Idris"].map(places);
    assert!(warden.iter().any(Vec::is_empty), "{warden:?}");
}
