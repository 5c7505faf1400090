//! Many records changed at once: rehearsed as it comes, all of them or none, and taken back as one step.

use crate::fixture::*;
use proptest::prelude::*;
use rust_decimal::Decimal;
use std::collections::BTreeSet;
use westerfall_core::{
    access::{Asker, Lens},
    bulk::{Alter, Altered, Bulk, BulkRehearsal, NewItem, Which},
    condition::{Check, Condition, Quantity, Test, TextMatch},
    dataset::Dataset,
    fault::FaultKind,
    id::{FieldId, RecordId},
    intent::{Edit, FieldChange, Intent},
    part::Part,
    schema::{FieldDef, Kind},
    value::{Input, Value},
    view::{GivenRight, Query},
};

fn bulk(ds: &Dataset, records: &[u32], alter: &[(&str, Alter)]) -> Bulk {
    Bulk {
        table: table(ds, "Faults"),
        which: Which::These(records.iter().map(|n| record(*n)).collect()),
        without: BTreeSet::new(),
        alter: alter.iter().map(|(name, to)| Altered { field: field(ds, &format!("Faults.{name}")), to: to.clone() }).collect(),
    }
}

fn rehearse(ds: &Dataset, who: &str, bulk: &Bulk) -> BulkRehearsal {
    bulk.rehearse(ds, asker(ds, who), &clock(), None)
}

fn change(ds: &mut Dataset, who: &str, bulk: &Bulk) -> Result<westerfall_core::history::Change, westerfall_core::fault::Faults> {
    let asker = asker(ds, who);
    act(ds, asker, &Intent::Bulk(Box::new(bulk.clone()))).map(|decision| decision.change)
}

fn at(ds: &Dataset, number: u32, name: &str) -> Value {
    value(ds, table(ds, "Faults"), record(number), field(ds, &format!("Faults.{name}")))
}

fn text(ds: &Dataset, number: u32, name: &str) -> String {
    let clock = clock();
    Lens::new(ds, asker(ds, "Nadia"), &clock).text_at(table(ds, "Faults"), record(number), field(ds, &format!("Faults.{name}")))
}

#[test]
fn each_way_makes_of_a_cell_what_it_says() {
    let mut ds = demo();
    let status = option(&ds, "Faults.Status.checked");
    let numbers = [3, 4, 5];
    let setting = |ds: &Dataset, name: &str, to: Alter| bulk(ds, &numbers, &[(name, to)]);
    let edit = setting(&ds, "Hours needed", Alter::Set(typed("4")));
    change(&mut ds, "Nadia", &edit).unwrap();
    let edit = setting(&ds, "Hours needed", Alter::Raise(Decimal::new(5, 1)));
    change(&mut ds, "Nadia", &edit).unwrap();
    assert!(numbers.iter().all(|n| at(&ds, *n, "Hours needed") == Value::Number(6.into())));
    let edit = setting(&ds, "Status", Alter::Set(Input::Value(Value::Choice(status))));
    change(&mut ds, "Nadia", &edit).unwrap();
    assert!(numbers.iter().all(|n| at(&ds, *n, "Status") == Value::Choice(status)));
    let days: Vec<Value> = numbers.iter().map(|n| at(&ds, *n, "Reported on")).collect();
    let edit = setting(&ds, "Reported on", Alter::Days(-3));
    change(&mut ds, "Nadia", &edit).unwrap();
    for (number, was) in numbers.iter().zip(days) {
        let (Value::Date(was), Value::Date(is)) = (was, at(&ds, *number, "Reported on")) else { panic!("days") };
        assert_eq!(was.checked_sub(jiff::Span::new().days(3)).unwrap(), is);
    }
    let edit = setting(&ds, "What is wrong", Alter::Set(typed("Gate off, gate gone")));
    change(&mut ds, "Nadia", &edit).unwrap();
    let edit = setting(&ds, "What is wrong", Alter::Replace { find: "gate".into(), with: "stile".into() });
    change(&mut ds, "Nadia", &edit).unwrap();
    assert_eq!(text(&ds, 4, "What is wrong"), "Gate off, stile gone", "capitals count");
    let edit = setting(&ds, "Description", Alter::From(field(&ds, "Faults.What is wrong")));
    change(&mut ds, "Nadia", &edit).unwrap();
    assert_eq!(text(&ds, 5, "Description"), "Gate off, stile gone");
    let edit = setting(&ds, "Description", Alter::From(field(&ds, "Faults.Reported on")));
    change(&mut ds, "Nadia", &edit).unwrap();
    assert_eq!(text(&ds, 5, "Description"), text(&ds, 5, "Reported on"), "as one reads it");
    let edit = setting(&ds, "Description", Alter::Empty);
    change(&mut ds, "Nadia", &edit).unwrap();
    assert_eq!(at(&ds, 5, "Description"), Value::Empty);
}

#[test]
fn it_says_beforehand_what_it_does_and_does_that() {
    let mut ds = demo();
    let kind = option(&ds, "Faults.Kind.drainage");
    let all: Vec<u32> = (1..40).collect();
    let edit = bulk(&ds, &all, &[("Kind", Alter::Set(Input::Value(Value::Choice(kind))))]);
    let told = rehearse(&ds, "Nadia", &edit);
    let other = all.iter().filter(|n| at(&ds, **n, "Kind") != Value::Choice(kind)).count();
    assert_eq!((told.count, told.changed), (39, other));
    assert_eq!(told.says[0], format!("{other} faults change."));
    assert!(told.says[1].starts_with(&format!("{} faults are so already", 39 - other)), "{:?}", told.says);
    assert!(told.examples.iter().all(|one| one.after == "drainage" && one.field == "Kind" && !one.name.is_empty()));
    let before = ds.clone();
    let done = change(&mut ds, "Nadia", &edit).unwrap();
    assert_eq!(done.touched_count(), other);
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &undo(done)).unwrap();
    assert!(all.iter().all(|n| at(&ds, *n, "Kind") == at(&before, *n, "Kind")), "one step back");
}

#[test]
fn what_leaves_the_view_or_ones_sight_is_said() {
    let ds = demo();
    let clock = clock();
    let good = option(&ds, "Faults.Status.made good");
    let open = ds.views().find(|view| view.name == "To be put right").unwrap().query.clone();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let shown: Vec<RecordId> =
        records(&ds, table(&ds, "Faults")).into_iter().filter(|r| open.condition.holds(&lens, table(&ds, "Faults"), *r)).collect();
    let edit = Bulk {
        which: Which::Shown(Box::new(open.clone())),
        ..bulk(&ds, &[], &[("Status", Alter::Set(Input::Value(Value::Choice(good))))])
    };
    let told = edit.rehearse(&ds, asker(&ds, "Nadia"), &clock, Some(&open));
    assert_eq!((told.count, told.changed), (shown.len(), shown.len()));
    assert!(told.says.contains(&format!("{} faults leave this view, which leaves out what it is then.", shown.len())), "{:?}", told.says);
    // A warden who gives a fault to another district sees it no more.
    let tamsin = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    let hers = records(&ds, table(&ds, "Faults")).into_iter().find(|r| tamsin.sees(table(&ds, "Faults"), *r)).unwrap();
    let theirs = records(&ds, table(&ds, "Sections")).into_iter().find(|r| !tamsin.sees(table(&ds, "Sections"), *r)).unwrap();
    let edit = bulk(&ds, &[hers.get()], &[("Section", Alter::Set(Input::Value(Value::Links(vec![theirs]))))]);
    let told = rehearse(&ds, "Nadia", &edit);
    let name = lens.record_name(table(&ds, "Faults"), hers).unwrap().name;
    let sees = |who: &str| Lens::new(&ds, asker(&ds, who), &clock).sees(table(&ds, "Sections"), theirs);
    let then = ["Idris", "Marguerite", "Jonah"].into_iter().find(|who| sees(who)).expect("its warden");
    let then = ds.people.get(person(&ds, then)).unwrap().name.clone();
    assert_eq!(
        told.says,
        ["A fault changes.".to_owned(), format!("Tamsin Oake no longer sees “{name}”."), format!("{then} sees “{name}” from then on.")]
    );
    // What moves nobody’s sight says nothing of anybody’s, and of what one does not see oneself one is not told.
    assert_eq!(rehearse(&ds, "Nadia", &bulk(&ds, &[hers.get()], &[("Hours needed", Alter::Set(typed("3")))])).says.len(), 1);
    let told = rehearse(&ds, "Tamsin", &edit);
    assert!(!told.says.iter().any(|says| says.starts_with("Tamsin")), "{:?}", told.says);
}

/// Whoever was given one view and holds no role is somebody else, too.
#[test]
fn who_was_given_a_view_alone_is_told_of() {
    let mut ds = demo();
    let pavel = person(&ds, "Pavel");
    for mut role in ds.roles().cloned().collect::<Vec<_>>() {
        if role.members.remove(&pavel) {
            ds.load_part(&Part::Role(role));
        }
    }
    let mut view = ds.views().find(|view| view.name == "To be put right").unwrap().clone();
    view.given = [(pavel, GivenRight::Look)].into();
    ds.load_part(&Part::View(view));
    let (faults, clock) = (table(&ds, "Faults"), clock());
    let his: Vec<u32> = Lens::new(&ds, Asker::Person(pavel), &clock).records(faults).take(2).map(RecordId::get).collect();
    let good = Value::Choice(option(&ds, "Faults.Status.made good"));
    let told = rehearse(&ds, "Nadia", &bulk(&ds, &his, &[("Status", Alter::Set(Input::Value(good)))]));
    assert!(told.says.iter().any(|says| says.contains("Pavel") && says.contains("no longer")), "{:?}", told.says);
}

/// Whoever comes by a shared page is told of, too, and what several lose alike is told once.
#[test]
fn a_shared_page_that_no_longer_shows_a_record_is_named() {
    let ds = demo();
    let clock = clock();
    let page = ds.pages().find(|page| page.open).expect("a page of the demo").clone();
    let guest = page.guests.first().map(|guest| guest.id);
    let visitor = Lens::new(&ds, Asker::Visitor { page: page.id, guest }, &clock);
    let faults = table(&ds, "Faults");
    let shown = records(&ds, faults).into_iter().filter(|r| visitor.sees(faults, *r)).map(RecordId::get).collect::<Vec<_>>();
    assert!(shown.len() > 1, "it shows some");
    let sees = |ds: &Dataset, number: &u32| Lens::new(ds, Asker::Visitor { page: page.id, guest }, &clock).sees(faults, record(*number));
    let elsewhere = records(&ds, table(&ds, "Sections")).into_iter().find_map(|section| {
        let edit = bulk(&ds, &shown, &[("Section", Alter::Set(Input::Value(Value::Links(vec![section]))))]);
        let mut after = ds.clone();
        change(&mut after, "Nadia", &edit).ok()?;
        let lost = shown.iter().filter(|number| !sees(&after, number)).count();
        (lost == shown.len()).then_some(edit)
    });
    let told = rehearse(&ds, "Nadia", &elsewhere.expect("a section that the page does not show"));
    let told = told.says.into_iter().find(|says| says.contains("whoever has the page")).expect("it is told of");
    let (who, what) = told.split_once(" no longer ").expect("it loses sight of them");
    assert!(who.ends_with(&format!("whoever has the page “{}”", page.title)), "{who}");
    assert_eq!(what, format!("see {} faults.", shown.len()), "with the warden, who loses the same");
}

#[test]
fn one_that_fails_keeps_all_as_they_are_and_is_named() {
    let mut ds = demo();
    let edit = bulk(&ds, &[3, 4, 5], &[("Hours needed", Alter::Set(typed("2")))]);
    change(&mut ds, "Nadia", &edit).unwrap();
    let big = bulk(&ds, &[4], &[("Hours needed", Alter::Set(typed("99999999999999999999999")))]);
    change(&mut ds, "Nadia", &big).unwrap();
    let seq = ds.seq;
    let raise = bulk(&ds, &[3, 4, 5], &[("Hours needed", Alter::Raise(Decimal::from(99_999)))]);
    let told = rehearse(&ds, "Nadia", &raise);
    assert_eq!((told.refusals, told.refused[0].record, told.changed), (1, record(4), 0), "{told:?}");
    assert!(!told.refused[0].name.is_empty() && told.refused[0].why.ends_with('.'), "{told:?}");
    assert!(change(&mut ds, "Nadia", &raise).is_err());
    assert_eq!((ds.seq, at(&ds, 3, "Hours needed")), (seq, Value::Number(2.into())), "nothing half-done");
    let rest = Bulk { without: [record(4)].into(), ..raise };
    assert_eq!(rehearse(&ds, "Nadia", &rest).changed, 2);
    change(&mut ds, "Nadia", &rest).unwrap();
    assert_eq!(at(&ds, 5, "Hours needed"), Value::Number(200_000.into()));
}

#[test]
fn nobody_changes_at_once_what_they_may_not_change_one_by_one() {
    let mut ds = demo();
    let clock = clock();
    let tamsin = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    let faults = table(&ds, "Faults");
    let (hers, other): (Vec<_>, Vec<_>) = records(&ds, faults).into_iter().partition(|r| tamsin.sees(faults, *r));
    let both = bulk(&ds, &[hers[0].get(), other[0].get()], &[("Description", Alter::Set(typed("mine")))]);
    let told = rehearse(&ds, "Tamsin", &both);
    assert_eq!((told.refusals, told.refused[0].record, told.refused[0].name.as_str()), (1, other[0], ""), "{told:?}");
    assert!(change(&mut ds, "Tamsin", &both).is_err());
    // All that a view shows is all that one sees of it.
    let all = Bulk { which: Which::Shown(Box::default()), ..both.clone() };
    assert_eq!(rehearse(&ds, "Tamsin", &all).count, hers.len());
    let reads = bulk(&ds, &[1, 2], &[("Description", Alter::Empty)]);
    assert_eq!(change(&mut ds, "Pavel", &reads).unwrap_err().0[0].kind, FaultKind::NotAllowed);
    // What one may not read comes into no field by way of another.
    let hidden = ds
        .table(faults)
        .unwrap()
        .def
        .fields
        .iter()
        .find(|def| !Lens::new(&ds, asker(&ds, "Wren"), &clock).reads(faults, def.id))
        .map(|def| def.id);
    if let Some(hidden) = hidden {
        let copy = bulk(&ds, &[1], &[("Description", Alter::From(hidden))]);
        assert!(change(&mut ds, "Wren", &copy).is_err());
    }
    assert!(ds.decide(&Intent::Bulk(Box::new(both)), Asker::Form(westerfall_core::id::FormId::FIRST), &clock).is_err());
}

#[test]
fn whether_something_stands_in_what_one_does_not_see_is_not_told() {
    let (ds, clock) = (demo(), clock());
    let faults = table(&ds, "Faults");
    let tamsin = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    let other = records(&ds, faults).into_iter().find(|r| !tamsin.sees(faults, *r)).unwrap();
    let there = text(&ds, other.get(), "What is wrong");
    let guess = |find: &str| {
        let alter = Alter::Replace { find: find.to_owned(), with: "x".into() };
        let mut told = rehearse(&ds, "Tamsin", &bulk(&ds, &[other.get()], &[("What is wrong", alter)]));
        told.refused.iter_mut().for_each(|one| one.why.clear());
        told
    };
    assert_eq!(guess(&there), guess("quagmire"), "a right guess and a wrong one are answered alike");
    for alter in [Alter::Days(1), Alter::Raise(Decimal::ONE), Alter::From(field(&ds, "Faults.Reporter"))] {
        let name = if matches!(alter, Alter::Raise(_)) { "Hours needed" } else { "Reported on" };
        assert_eq!(rehearse(&ds, "Tamsin", &bulk(&ds, &[other.get()], &[(name, alter)])).refusals, 1);
    }
}

#[test]
fn what_fits_no_field_is_refused_in_words() {
    let ds = demo();
    let wrong = |alter: &[(&str, Alter)]| rehearse(&ds, "Nadia", &bulk(&ds, &[1, 2], alter));
    for (name, to, says) in [
        ("Status", Alter::Replace { find: "a".into(), with: "b".into() }, "“Status” holds no text."),
        ("What is wrong", Alter::Days(1), "“What is wrong” holds no days."),
        ("What is wrong", Alter::Raise(Decimal::ONE), "“What is wrong” holds no numbers."),
        ("Status", Alter::AddOptions(Vec::new()), "“Status” holds no several choices."),
        ("Status", Alter::TakeOptions(Vec::new()), "“Status” holds no several choices."),
        ("Reporter", Alter::TakePeople(Vec::new()), "“Reporter” holds no several people."),
        ("Reporter", Alter::TakeLinks(Vec::new()), "“Reporter” holds no links."),
        ("Reporter", Alter::AddItem("Look again".into()), "“Reporter” holds no checklist."),
        ("Reported on", Alter::Days(i32::MAX), "That is beyond the days that a date can be."),
    ] {
        let told = wrong(&[(name, to)]);
        assert_eq!(told.refused[0].why, says, "{told:?}");
    }
    assert!(wrong(&[]).wrong.is_some(), "nothing said");
    assert!(wrong(&[("District", Alter::Empty)]).refused.iter().all(|one| !one.why.is_empty()), "what is carried");
    assert!(wrong(&[("Work orders", Alter::Empty)]).wrong.unwrap().contains("kept at the other records"));
}

#[test]
fn what_would_grow_without_end_is_refused_before_it_is_written_out() {
    let mut ds = demo();
    let long = bulk(&ds, &[1], &[("Description", Alter::Set(typed(&"a".repeat(50_000))))]);
    change(&mut ds, "Nadia", &long).unwrap();
    let grow = bulk(&ds, &[1], &[("Description", Alter::Replace { find: "a".into(), with: "b".repeat(900_000) })]);
    assert_eq!(rehearse(&ds, "Nadia", &grow).refused[0].why, "What “Description” would become is longer than a field holds.");
    let all: Vec<u32> = (1..=100).collect();
    let much = bulk(&ds, &all, &[("Description", Alter::Set(typed(&"a".repeat(600_000))))]);
    assert!(rehearse(&ds, "Nadia", &much).wrong.unwrap().starts_with("That is too much text"));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// What was rehearsed is what is done: as many records, each example as it was said; and undoing leaves what was.
    #[test]
    fn done_is_what_was_said(
        records in prop::collection::btree_set(1_u32..100, 1..30),
        which in 0_usize..5,
        number in -40_i32..40,
        words in "[a-z]{1,3}",
    ) {
        let mut ds = demo();
        let one = match which {
            0 => ("Hours needed", Alter::Raise(Decimal::new(i64::from(number), 2))),
            1 => ("Reported on", Alter::Days(number)),
            2 => ("What is wrong", Alter::Replace { find: words, with: "x".into() }),
            3 => ("Description", Alter::From(field(&ds, "Faults.Reporter"))),
            _ => ("Description", Alter::Empty),
        };
        let numbers: Vec<u32> = records.into_iter().collect();
        let edit = bulk(&ds, &numbers, std::slice::from_ref(&one));
        let told = rehearse(&ds, "Nadia", &edit);
        prop_assert!(told.wrong.is_none() && told.refused.is_empty(), "{:?}", told);
        let before: Vec<Value> = numbers.iter().map(|n| at(&ds, *n, one.0)).collect();
        let done = change(&mut ds, "Nadia", &edit).unwrap();
        let changed = numbers.iter().zip(&before).filter(|(n, was)| at(&ds, **n, one.0) != **was).count();
        prop_assert_eq!(told.changed, changed);
        for example in &told.examples {
            prop_assert_eq!(&text(&ds, example.record.get(), one.0), &example.after);
        }
        if !done.ops.is_empty() {
            let nadia = asker(&ds, "Nadia");
            act(&mut ds, nadia, &undo(done)).unwrap();
        }
        prop_assert_eq!(numbers.iter().map(|n| at(&ds, *n, one.0)).collect::<Vec<_>>(), before);
    }
}

/// The records that a change touched.
trait Touched {
    fn touched_count(&self) -> usize;
}

impl Touched for westerfall_core::history::Change {
    fn touched_count(&self) -> usize {
        self.ops.iter().filter_map(westerfall_core::history::Op::record).collect::<BTreeSet<_>>().len()
    }
}

#[test]
fn a_text_is_found_in_the_records_that_a_condition_shows() {
    let ds = demo();
    let wrong = field(&ds, "Faults.What is wrong");
    let query = Query { condition: test(&[wrong], Check::Text { how: TextMatch::Contains, text: "gate".into() }), ..Query::default() };
    let edit = Bulk { which: Which::Shown(Box::new(query.clone())), ..bulk(&ds, &[], &[("Description", Alter::Set(typed("a gate")))]) };
    let told = rehearse(&ds, "Nadia", &edit);
    assert!(told.count > 0 && told.count < 120 && query.condition != Condition::default());
}

#[test]
fn copied_values_are_filled_again_at_once_from_where_they_were_copied() {
    let mut ds = demo();
    let (lines, materials) = (table(&ds, "Material lines"), table(&ds, "Materials"));
    let (price, source) = (field(&ds, "Material lines.Unit price"), field(&ds, "Materials.Unit price"));
    let material = linked(&ds, lines, record(1), field(&ds, "Material lines.Material"))[0];
    let edits = vec![westerfall_core::intent::Edit { field: source, input: typed("99.50"), was: None }];
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &Intent::Edit { table: materials, record: material, edits }).unwrap();
    let again = Bulk {
        table: lines,
        which: Which::These(vec![record(1), record(2)]),
        without: BTreeSet::new(),
        alter: vec![Altered { field: price, to: Alter::Set(Input::Again) }],
    };
    let told = rehearse(&ds, "Nadia", &again);
    assert!(told.changed >= 1 && told.examples.iter().any(|one| one.after.contains("99.50")), "{told:?}");
    let done = change(&mut ds, "Nadia", &again).unwrap();
    assert_eq!(value(&ds, lines, record(1), price), Value::Number(Decimal::new(9950, 2)));
    act(&mut ds, nadia, &undo(done)).unwrap();
    assert_ne!(value(&ds, lines, record(1), price), Value::Number(Decimal::new(9950, 2)));
}

#[test]
fn what_differs_from_where_it_was_copied_is_found_marked_and_told_to_those_who_see_both() {
    let mut ds = demo();
    let (lines, materials) = (table(&ds, "Material lines"), table(&ds, "Materials"));
    let (price, source) = (field(&ds, "Material lines.Unit price"), field(&ds, "Materials.Unit price"));
    let material = linked(&ds, lines, record(1), field(&ds, "Material lines.Material"))[0];
    let differs = |path: Vec<FieldId>| Condition::Test(Test { path, of: Quantity::Any, check: Check::Differs });
    let clock = clock();
    let found = |ds: &Dataset, who: &str| -> BTreeSet<RecordId> {
        let lens = Lens::new(ds, asker(ds, who), &clock);
        differs(vec![price]).matching(&lens, lines).ones().map(RecordId::at_row).collect()
    };
    let before = found(&ds, "Nadia");
    let edits = vec![westerfall_core::intent::Edit { field: source, input: typed("99.50"), was: None }];
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &Intent::Edit { table: materials, record: material, edits }).unwrap();
    let after = found(&ds, "Nadia");
    let of_it: BTreeSet<RecordId> =
        records(&ds, lines).into_iter().filter(|r| linked(&ds, lines, *r, field(&ds, "Material lines.Material")) == [material]).collect();
    assert!(of_it.contains(&record(1)) && of_it.is_subset(&after) && after.difference(&of_it).all(|r| before.contains(r)));
    // Asked of one record it is the same, whoever asks; and what one does not see differs from nothing.
    for who in ["Nadia", "Tamsin", "Bex", "Pavel", "Wren"] {
        let lens = Lens::new(&ds, asker(&ds, who), &clock);
        let found = found(&ds, who);
        for one in records(&ds, lines) {
            assert_eq!(lens.sees(lines, one) && differs(vec![price]).holds(&lens, lines, one), found.contains(&one), "{who}");
            assert_eq!(lens.moved_on(lines, one).iter().any(|(field, _)| *field == price), found.contains(&one), "{who}");
        }
    }
    // Rows say what stands there now; the rule reads back; of what copies nothing it can't be asked.
    let lens = Lens::new(&ds, nadia, &clock);
    let row = lens.rows(lines, &[record(1)], &[price]).remove(0);
    assert_eq!(row.cells[0].as_ref().unwrap().source.as_deref(), Some("£99.50"));
    assert_eq!(differs(vec![price]).to_sentence(&lens, lines), "unit price is not what it was copied from");
    let wrong = differs(vec![source]).check(&ds, materials).unwrap_err();
    assert!(wrong.0[0].message.contains("copies nothing"), "{wrong:?}");
}

/// Of work parties, in this field.
fn of_parties(ds: &Dataset, name: &str, to: Alter) -> Bulk {
    let table = table(ds, "Work parties");
    let which = Which::These(records(ds, table));
    Bulk { table, which, without: BTreeSet::new(), alter: vec![Altered { field: field(ds, &format!("Work parties.{name}")), to }] }
}

#[test]
fn what_is_taken_out_of_several_leaves_the_rest_and_the_other_side_of_a_link_follows() {
    let mut ds = demo();
    let (parties, sections) = (table(&ds, "Work parties"), field(&ds, "Work parties.Sections"));
    let held =
        |ds: &Dataset| -> Vec<Vec<RecordId>> { records(ds, parties).into_iter().map(|one| linked(ds, parties, one, sections)).collect() };
    let before = held(&ds);
    let out = before.iter().find(|all| all.len() > 1).expect("a party of several sections")[0];
    let take = of_parties(&ds, "Sections", Alter::TakeLinks(vec![out]));
    let told = rehearse(&ds, "Nadia", &take);
    assert_eq!(told.changed, before.iter().filter(|all| all.contains(&out)).count(), "only those that have it");
    let done = change(&mut ds, "Nadia", &take).unwrap();
    for (was, is) in before.iter().zip(held(&ds)) {
        assert_eq!(is, was.iter().copied().filter(|one| *one != out).collect::<Vec<_>>());
    }
    let back = field(&ds, "Sections.Work parties");
    assert!(linked(&ds, table(&ds, "Sections"), out, back).is_empty());
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &undo(done)).unwrap();
    assert_eq!(held(&ds), before);
}

#[test]
fn one_more_thing_to_do_is_added_once_while_it_is_open() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let parties = table(&ds, "Work parties");
    let list = FieldDef::new(FieldId::FIRST, "To do", Kind::Checklist);
    let change_of = FieldChange::Add { field: list, before: None, other: None };
    act(&mut ds, nadia, &Intent::Fields { table: parties, change: change_of }).unwrap();
    let add = |ds: &Dataset, text: &str| of_parties(ds, "To do", Alter::AddItem(text.into()));
    let first = records(&ds, parties)[0];
    let items = |ds: &Dataset| match value(ds, parties, first, field(ds, "Work parties.To do")) {
        Value::Checklist(items) => items.iter().map(|item| item.text.clone()).collect::<Vec<_>>(),
        _ => Vec::new(),
    };
    let edit = add(&ds, " Bring the tools ");
    change(&mut ds, "Nadia", &edit).unwrap();
    assert_eq!(items(&ds), ["Bring the tools"]);
    assert_eq!(rehearse(&ds, "Nadia", &edit).changed, 0, "it stands there already");
    let edit = add(&ds, "Tell the farmer");
    change(&mut ds, "Nadia", &edit).unwrap();
    assert_eq!(items(&ds), ["Bring the tools", "Tell the farmer"]);
    assert!(rehearse(&ds, "Nadia", &add(&ds, "  ")).refused.iter().all(|one| one.why.starts_with("Say what is to be done")));

    // By somebody, or by whoever stands there, and until a day.
    let whole = |ds: &Dataset| match value(ds, parties, first, field(ds, "Work parties.To do")) {
        Value::Checklist(items) => items.last().map(|item| (item.text.clone(), item.person, item.due.map(|day| day.to_string()))),
        _ => None,
    };
    let tamsin = person(&ds, "Tamsin");
    let task = |ds: &Dataset, text: &str, person, along, days| {
        of_parties(ds, "To do", Alter::AddTask(NewItem { text: text.into(), person, along, days }))
    };
    let edit = task(&ds, "Ring round", Some(tamsin), Vec::new(), Some(3));
    change(&mut ds, "Nadia", &edit).unwrap();
    let due = clock().today().checked_add(jiff::Span::new().days(3)).unwrap().to_string();
    assert_eq!(whole(&ds), Some(("Ring round".into(), Some(tamsin), Some(due))));
    let leads = FieldDef::new(FieldId::FIRST, "Who locks up", Kind::Person);
    let change_of = FieldChange::Add { field: leads, before: None, other: None };
    act(&mut ds, nadia, &Intent::Fields { table: parties, change: change_of }).unwrap();
    let path = vec![field(&ds, "Work parties.Who locks up")];
    let edit = task(&ds, "Nobody’s yet", None, path.clone(), None);
    change(&mut ds, "Nadia", &edit).unwrap();
    assert_eq!(whole(&ds), Some(("Nobody’s yet".into(), None, None)));
    let edits = vec![Edit { field: path[0], input: Input::Value(Value::Person(tamsin)), was: None }];
    act(&mut ds, nadia, &Intent::Edit { table: parties, record: first, edits }).unwrap();
    let edit = task(&ds, "Lock the shed", None, path, None);
    change(&mut ds, "Nadia", &edit).unwrap();
    assert_eq!(whole(&ds), Some(("Lock the shed".into(), Some(tamsin), None)));
}
