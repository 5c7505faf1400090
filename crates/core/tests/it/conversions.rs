//! Fields that become another kind: what fits, what stays, and that nothing is lost on the way back.

use crate::fixture::*;
use std::{collections::BTreeMap, sync::Arc};
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    id::{FieldId, OptionId, TableId},
    intent::{ChangeOfKind, Edit, Intent, OtherSide, Rest, TableChange, Target},
    people::People,
    schema::{Choice, FieldDef, Hue, Kind, TableDef},
    value::Input,
};

fn any() -> FieldId {
    FieldId::new(1).unwrap()
}

fn options() -> Vec<Choice> {
    let option = |number, name: &str| Choice { id: OptionId::new(number).unwrap(), name: name.into(), hue: Hue::Clay, under: None };
    vec![option(1, "stile"), option(2, "7")]
}

/// Every kind that values can be typed into, with what is typed.
fn kinds() -> Vec<(&'static str, Kind, [&'static str; 3])> {
    vec![
        ("text", Kind::Text { limit: 100 }, ["stile", "7", "3 Jan 2026"]),
        ("long text", Kind::LongText, ["stile", "7\n8", "tamsin@orrindale-paths.example"]),
        ("number", Kind::Number { decimals: 1, unit: String::new() }, ["7", "2.5", "-1"]),
        ("money", Kind::Money { currency: "GBP".into() }, ["7", "2.50", "1000"]),
        ("percent", Kind::Percent { decimals: 0 }, ["7%", "50%", "100%"]),
        ("rating", Kind::Rating { most: 5 }, ["1", "3", "5"]),
        ("yes/no", Kind::YesNo, ["yes", "no", "yes"]),
        ("date", Kind::Date, ["3 Jan 2026", "2026-02-28", "1.3.2026"]),
        ("moment", Kind::DateTime, ["3 Jan 2026 09:30", "2026-02-28 00:00", "2026-03-01 12:00"]),
        ("duration", Kind::Duration, ["1:30", "0:05", "7:00"]),
        ("choice", Kind::Choice { options: options(), on: None }, ["stile", "7", "stile"]),
        ("choices", Kind::Choices { options: options() }, ["stile", "7", "stile, 7"]),
        ("person", Kind::Person, ["Tamsin Oake", "Nadia Ferreira-Holt", ""]),
        ("e-mail", Kind::Email, ["a@b.example", "tamsin@orrindale-paths.example", ""]),
        ("phone", Kind::Phone, ["+44 1632 960001", "01632 960002", ""]),
        ("web", Kind::Web, ["https://paths.example/a", "http://paths.example", ""]),
        ("checklist", Kind::Checklist, ["[x] dig\n[ ] fill", "[ ] 7", ""]),
    ]
}

/// A tracker of one table with one field of a kind, and three records in which something stands.
fn tracker(kind: &Kind, typed_in: &[&str; 3]) -> (Dataset, TableId, FieldId) {
    let demo = demo();
    let people = People::new(demo.people.iter().cloned());
    let mut ds = Dataset::empty(westerfall_demo::tracker(), Arc::new(people));
    let steward = Asker::Westerfall;
    let fields = vec![FieldDef::new(any(), "Name", Kind::Text { limit: 100 }), FieldDef::new(FieldId::new(2).unwrap(), "It", kind.clone())];
    let def = TableDef::new(TableId::new(1).unwrap(), "Things", "thing", any(), fields);
    act(&mut ds, steward, &Intent::Table(TableChange::Add(def))).unwrap();
    let (table, it) = (table(&ds, "Things"), field(&ds, "Things.It"));
    let name = field(&ds, "Things.Name");
    for (n, text) in typed_in.iter().enumerate() {
        let cells = vec![(name, typed(&format!("thing {n}"))), (it, Input::Text((*text).into()))];
        act(&mut ds, steward, &Intent::Add { table, records: vec![cells] }).unwrap_or_else(|f| panic!("{kind:?} takes “{text}”: {f:?}"));
    }
    (ds, table, it)
}

fn texts(ds: &Dataset, table: TableId, field: FieldId) -> Vec<String> {
    let clock = clock();
    let lens = Lens::new(ds, Asker::Westerfall, &clock);
    records(ds, table).into_iter().map(|r| lens.text_at(table, r, field)).collect()
}

#[test]
fn every_kind_becomes_every_other_as_rehearsed_and_back() {
    let mut fits = BTreeMap::new();
    for (from, kind, typed_in) in kinds() {
        let (ds, table, it) = tracker(&kind, &typed_in);
        let steward = Asker::Westerfall;
        let before = (texts(&ds, table, it), ds.field(it).unwrap().1.clone());
        let filled = typed_in.iter().filter(|text| !text.is_empty()).count();
        let mut line = Vec::new();
        for (to, into, _) in kinds() {
            let change = ChangeOfKind { table, field: it, to: Target::Kind(into), rest: Rest::Spare };
            let told = match ds.rehearse_kind(&change, steward, &clock()) {
                Ok(told) => told,
                Err(faults) => {
                    line.push(format!("{to}: refused, {}", faults.0[0].message));
                    continue;
                }
            };
            assert_eq!(told.filled, filled, "{from} to {to}");
            let shown: Vec<&str> = told.examples.iter().map(|example| example.after.as_str()).collect();
            line.push(format!("{to}: {} of {}{}{}", told.fit, told.filled, if shown.is_empty() { "" } else { ", " }, shown.join(" | ")));

            let mut now = ds.clone();
            let step = act(&mut now, steward, &Intent::ChangeKind(change)).unwrap_or_else(|f| panic!("{from} to {to}: {f:?}")).change;
            // What fits is there, what does not is kept beside: nothing is lost.
            let after = texts(&now, table, it);
            assert_eq!(after.iter().filter(|text| !text.is_empty()).count(), told.fit, "{from} to {to}: {after:?}");
            let spare = now.table(table).unwrap().def.fields.iter().find(|f| f.name == "It as it was").map(|f| f.id);
            assert_eq!(spare.is_some(), told.fit < told.filled, "{from} to {to}");
            if let Some(spare) = spare {
                let kept = texts(&now, table, spare);
                let lost = |place: &usize| !before.0[*place].is_empty() && after[*place].is_empty() && kept[*place].is_empty();
                assert_eq!((0..3).find(lost), None, "{from} to {to}: {before:?}, {after:?}, {kept:?}");
            }
            act(&mut now, steward, &undo(step)).unwrap();
            assert_eq!((texts(&now, table, it), now.field(it).unwrap().1.clone()), before, "{from} to {to} and back");
        }
        fits.insert(from, line);
    }
    let lines = fits.iter().map(|(from, line)| format!("{from}\n  {}", line.join("\n  ")));
    insta::assert_snapshot!(lines.collect::<Vec<_>>().join("\n"));
}

#[test]
fn what_does_not_fit_is_told_with_how_often_and_why() {
    let (mut ds, table, it) = tracker(&Kind::Text { limit: 100 }, &["soon", "7", "soon"]);
    let steward = Asker::Westerfall;
    let change = |rest| ChangeOfKind { table, field: it, to: Target::Kind(Kind::Number { decimals: 0, unit: "m".into() }), rest };
    let told = ds.rehearse_kind(&change(Rest::Empty), steward, &clock()).unwrap();
    assert_eq!(told.says, ["1 of 3 values fit."]);
    assert_eq!((told.unfit.len(), told.unfit[0].text.as_str(), told.unfit[0].count), (1, "soon", 2));
    assert!(told.unfit[0].why.contains("number"), "{}", told.unfit[0].why);
    // Without a place beside it, what does not fit goes.
    act(&mut ds, steward, &Intent::ChangeKind(change(Rest::Empty))).unwrap();
    assert_eq!(texts(&ds, table, it), ["", "7\u{a0}m", ""]);
    assert!(ds.table(table).unwrap().def.fields.iter().all(|f| f.name != "It as it was"));
}

#[test]
fn a_number_of_hours_becomes_as_long_a_time_and_none_is_rounded_away() {
    let hours = |unit: &str| Kind::Number { decimals: 2, unit: unit.into() };
    let become_duration = |unit: &str| {
        let (mut ds, table, it) = tracker(&hours(unit), &["2.5", "0.0001", "-1"]);
        let change = ChangeOfKind { table, field: it, to: Target::Kind(Kind::Duration), rest: Rest::Empty };
        let told = ds.rehearse_kind(&change, Asker::Westerfall, &clock()).unwrap();
        act(&mut ds, Asker::Westerfall, &Intent::ChangeKind(change)).unwrap();
        (told.fit, texts(&ds, table, it)[0].replace('\u{a0}', " "))
    };
    assert_eq!(become_duration("h"), (2, "2 h 30 min".into()));
    assert_eq!(become_duration("days"), (2, "2 d 12 h".into()));
    // As a bare number that is typed: minutes.
    assert_eq!(become_duration("km"), (2, "2 min 30 s".into()));
    let (mut ds, table, it) = tracker(&Kind::Duration, &["1:30", "0:05", "7:00"]);
    let change = ChangeOfKind { table, field: it, to: Target::Kind(hours("h")), rest: Rest::Empty };
    act(&mut ds, Asker::Westerfall, &Intent::ChangeKind(change)).unwrap();
    assert_eq!(texts(&ds, table, it), ["1.50\u{a0}h", "0.0833333333\u{a0}h", "7.00\u{a0}h"]);
}

#[test]
fn a_choice_made_of_texts_names_what_it_makes_and_how_many() {
    let (mut ds, table, it) = tracker(&Kind::Text { limit: 100 }, &["ford", "Stile", "FORD"]);
    let steward = Asker::Westerfall;
    let change = ChangeOfKind { table, field: it, to: Target::Kind(Kind::Choice { options: options(), on: None }), rest: Rest::Create };
    let told = ds.rehearse_kind(&change, steward, &clock()).unwrap();
    assert_eq!(told.says, ["3 of 3 values fit.", "1 is made on the way: ford."]);
    act(&mut ds, steward, &Intent::ChangeKind(change)).unwrap();
    assert_eq!(texts(&ds, table, it), ["ford", "stile", "ford"]);
    let (_, def) = ds.field(it).unwrap();
    let Kind::Choice { options, .. } = &def.kind else { panic!("a choice") };
    assert_eq!(options.iter().map(|o| o.name.as_str()).collect::<Vec<_>>(), ["stile", "7", "ford"]);
    // What was made has a colour that its neighbour has not.
    assert_ne!(options[2].hue, options[1].hue);
}

#[test]
fn values_that_no_table_has_become_records_of_a_new_one() {
    let (mut ds, table, it) = tracker(&Kind::Text { limit: 100 }, &["Lund, Marrow", "lund", ""]);
    let before = texts(&ds, table, it);
    let other = OtherSide { name: "Things".into(), one: false };
    let to = |separator: Option<&str>| Target::Table {
        name: "Keepers".into(),
        one_name: "keeper".into(),
        one: separator.is_none(),
        other: other.clone(),
        separator: separator.map(str::to_owned),
    };
    let change = |to| ChangeOfKind { table, field: it, to, rest: Rest::Create };
    let told = ds.rehearse_kind(&change(to(Some(","))), Asker::Westerfall, &clock()).unwrap();
    assert_eq!(told.says, ["2 of 2 values fit.", "2 are made on the way: Lund, Marrow."]);
    let step = act(&mut ds, Asker::Westerfall, &Intent::ChangeKind(change(to(Some(","))))).unwrap().change;
    let keepers = crate::fixture::table(&ds, "Keepers");
    assert_eq!(texts(&ds, table, it), ["Lund, Marrow", "Lund", ""]);
    assert_eq!(texts(&ds, keepers, field(&ds, "Keepers.Name")), ["Lund", "Marrow"]);
    assert_eq!(texts(&ds, keepers, field(&ds, "Keepers.Things")), ["thing 0, thing 1", "thing 0"]);
    assert_eq!(ds.views().filter(|view| view.table == keepers).count(), 1, "it can be looked at");
    act(&mut ds, Asker::Westerfall, &undo(step)).unwrap();
    assert_eq!((texts(&ds, table, it), ds.tables().count()), (before, 1));
    // Taken as one name each, a comma is part of it.
    act(&mut ds, Asker::Westerfall, &Intent::ChangeKind(change(to(None)))).unwrap();
    assert_eq!(texts(&ds, crate::fixture::table(&ds, "Keepers"), field(&ds, "Keepers.Name")), ["Lund, Marrow", "lund"]);
}

#[test]
fn what_shows_the_field_follows_it_and_is_told_where_it_can_not() {
    let mut ds = demo();
    let steward = asker(&ds, "Nadia");
    let faults = table(&ds, "Faults");
    let hours = field(&ds, "Faults.Hours needed");
    let summed = |ds: &Dataset| ds.views().filter(|v| v.query.tallies.iter().any(|t| t.field == hours)).count();
    assert!(summed(&ds) > 0);
    let change = ChangeOfKind { table: faults, field: hours, to: Target::Kind(Kind::LongText), rest: Rest::Spare };
    let told = ds.rehearse_kind(&change, steward, &clock()).unwrap();
    assert!(!told.besides.is_empty(), "a tally that can not be made any more is told");
    let was = texts(&ds, faults, hours);
    let step = act(&mut ds, steward, &Intent::ChangeKind(change)).unwrap().change;
    assert_eq!(summed(&ds), 0);
    // Texts have no unit of their own: it is written out.
    let shown = ds.views().filter(|v| v.query.fields.iter().any(|f| f.field == hours)).count();
    assert!(shown > 0, "it is still shown");
    act(&mut ds, steward, &undo(step)).unwrap();
    assert_eq!((summed(&ds) > 0, texts(&ds, faults, hours)), (true, was));
}

#[test]
fn a_change_that_names_the_value_before_it_is_a_clash_afterwards() {
    let (mut ds, table, it) = tracker(&Kind::Text { limit: 100 }, &["7", "8", "9"]);
    let steward = Asker::Westerfall;
    let was = Some(value(&ds, table, record(1), it));
    let change = ChangeOfKind { table, field: it, to: Target::Kind(Kind::Number { decimals: 0, unit: String::new() }), rest: Rest::Empty };
    act(&mut ds, steward, &Intent::ChangeKind(change)).unwrap();
    let late = Intent::Edit { table, record: record(1), edits: vec![Edit { field: it, input: typed("70"), was }] };
    let fault = act(&mut ds, steward, &late).unwrap_err().0.remove(0);
    assert_eq!(fault.kind, westerfall_core::fault::FaultKind::Clash);
    assert_eq!(fault.clash.unwrap().theirs_text, "7");
}
