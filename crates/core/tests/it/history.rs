//! A change then its undo is the identity, whatever the changes; and loading gives what was kept.

use crate::fixture::*;
use proptest::prelude::*;
use std::collections::BTreeMap;
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    fault::FaultKind,
    history::Change,
    id::RecordId,
    intent::{Edit, Intent},
    part::Part,
    schema::FieldDef,
    value::{Input, Value},
    view::View,
};

/// One step that somebody might take.
#[derive(Clone, Debug)]
enum Act {
    Add(u32, String),
    Edit(u32, &'static str, Input),
    Remove(u32),
    SectionFaults(u32, Vec<u32>),
    RenameView(String),
}

fn any_act() -> impl Strategy<Value = Act> {
    let number = 1_u32..125;
    let cell = prop_oneof![
        "[a-z]{1,6}".prop_map(|t| ("What is wrong", typed(&t))),
        prop::sample::select(vec!["reported", "checked", "made good"]).prop_map(|t| ("Status", typed(t))),
        (1_u32..64).prop_map(|n| ("Section", links(&[n]))),
        Just(("Section", Input::Value(Value::Empty))),
        (0_i32..40).prop_map(|n| ("Hours needed", typed(&n.to_string()))),
        Just(("Planned for", typed("tomorrow"))),
    ];
    prop_oneof![
        (1_u32..64, "[A-Z][a-z]{2,7}").prop_map(|(section, title)| Act::Add(section, title)),
        (number.clone(), cell).prop_map(|(n, (name, input))| Act::Edit(n, name, input)),
        number.clone().prop_map(Act::Remove),
        (1_u32..64, prop::collection::vec(number, 0..5)).prop_map(|(s, list)| Act::SectionFaults(s, list)),
        "[A-Z][a-z]{2,9}".prop_map(Act::RenameView),
    ]
}

fn intent(ds: &Dataset, act: &Act) -> Intent {
    let faults = table(ds, "Faults");
    let f = |name: &str| field(ds, &format!("Faults.{name}"));
    let edit = |at, r: u32, id, input: &Input| Intent::Edit {
        table: at,
        record: record(r),
        edits: vec![Edit { field: id, input: input.clone(), was: None }],
    };
    match act {
        Act::Add(section, title) => {
            Intent::Add { table: faults, records: vec![vec![(f("What is wrong"), typed(title)), (f("Section"), links(&[*section]))]] }
        }
        Act::Edit(n, name, input) => edit(faults, *n, f(name), input),
        Act::Remove(n) => Intent::Remove { table: faults, records: vec![record(*n)] },
        Act::SectionFaults(section, list) => edit(table(ds, "Sections"), *section, field(ds, "Sections.Faults"), &links(list)),
        Act::RenameView(name) => {
            let view = ds.views().next().unwrap();
            Intent::Save(Part::View(View { name: name.clone(), ..view.clone() }))
        }
    }
}

/// Parts, and the texts of each record by table and number.
type Everything = (Vec<Part>, BTreeMap<(u32, u32), Vec<String>>);

/// Everything there is to see: parts, and every live record's cells with both sides of links.
fn everything(ds: &Dataset) -> Everything {
    let clock = clock();
    let lens = Lens::of_everything(ds, None, &clock);
    let mut seen = BTreeMap::new();
    for home in ds.tables() {
        for r in records(ds, home.def.id) {
            let held = home.def.fields.iter().filter(|f| !f.kind.is_kept_by_us());
            let stands = |f: &FieldDef| {
                lens.standing(home.def.id, f.id).and_then(|s| s.since(r.row())).map_or_else(String::new, |at| at.to_string())
            };
            let texts = held.map(|f| lens.text_at(home.def.id, r, f.id) + &stands(f)).collect();
            seen.insert((home.def.id.get(), r.get()), texts);
        }
    }
    (ds.parts(), seen)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    #[test]
    fn undoing_everything_gives_back_what_was(acts in prop::collection::vec(any_act(), 1..14)) {
        let mut ds = demo();
        let nadia = asker(&ds, "Nadia");
        let before = everything(&ds);
        let mut done: Vec<Change> = Vec::new();
        for one in &acts {
            // Some are refused (the record is in the bin, say); those change nothing.
            let wanted = intent(&ds, one);
            if let Ok(decision) = act(&mut ds, nadia, &wanted) {
                done.push(decision.change);
            }
        }
        let after = everything(&ds);
        let mut undone = Vec::new();
        for change in done.iter().rev() {
            undone.push(act(&mut ds, nadia, &undo(change.clone())).expect("one's own last steps").change);
        }
        prop_assert_eq!(everything(&ds), before);
        for change in undone.iter().rev() {
            act(&mut ds, nadia, &undo(change.clone())).expect("doing again");
        }
        prop_assert_eq!(everything(&ds), after);
    }

    /// What the store keeps of each record, loaded anew, is the same tracker: computed sides of links too.
    #[test]
    fn loading_gives_what_was_kept(acts in prop::collection::vec(any_act(), 0..10)) {
        let mut ds = demo();
        let nadia = asker(&ds, "Nadia");
        for one in &acts {
            let wanted = intent(&ds, one);
            let _ = act(&mut ds, nadia, &wanted);
        }
        let mut loaded = Dataset::empty((*ds.tracker).clone(), ds.people.clone());
        ds.parts().iter().for_each(|part| loaded.load_part(part));
        let rows = |ds: &Dataset| -> Vec<_> {
            let tables: Vec<_> = ds.tables().map(|t| (t.def.id, rows_of(ds, t.def.id))).collect();
            tables.into_iter().flat_map(|(t, rows)| (0..rows).map(move |row| (t, RecordId::at_row(row)))).collect()
        };
        loaded.load_records(rows(&ds).into_iter().filter_map(|(t, r)| ds.record_to_keep(t, r)));
        loaded.loaded(clock().now);
        prop_assert_eq!(everything(&loaded), everything(&ds));
    }
}

#[test]
fn a_step_that_somebody_built_upon_is_not_undone() {
    let mut ds = demo();
    let (faults, nadia, bex) = (table(&ds, "Faults"), asker(&ds, "Nadia"), asker(&ds, "Bex"));
    let set = |text: &str| Intent::Edit {
        table: faults,
        record: record(9),
        edits: vec![Edit { field: field(&demo(), "Faults.Description"), input: typed(text), was: None }],
    };
    let hers = act(&mut ds, bex, &set("one")).unwrap().change;
    act(&mut ds, nadia, &set("two")).unwrap();
    let refused = act(&mut ds, bex, &undo(hers.clone())).unwrap_err();
    assert_eq!(refused.0[0].kind, FaultKind::Clash);
    // And nobody undoes what another did, but for the steward.
    let tamsin = asker(&ds, "Tamsin");
    assert_eq!(act(&mut ds, tamsin, &undo(hers)).unwrap_err().0[0].kind, FaultKind::NotFound);
}

#[test]
fn numbers_restart_with_the_year_and_are_never_given_twice() {
    let mut ds = demo();
    let (faults, nadia) = (table(&ds, "Faults"), asker(&ds, "Nadia"));
    let add = Intent::Add { table: faults, records: vec![vec![]] };
    let number = |ds: &Dataset, r| Lens::of_everything(ds, None, &clock()).text_at(faults, r, field(ds, "Faults.Number"));
    let first = act(&mut ds, nadia, &add).unwrap();
    assert_eq!(number(&ds, first.added[0]), "FR-2026-0121");
    act(&mut ds, nadia, &undo(first.change)).unwrap();
    let second = act(&mut ds, nadia, &add).unwrap();
    assert_eq!(number(&ds, second.added[0]), "FR-2026-0122");
    let mut later = clock();
    later.now = "2027-01-01T00:00:01Z".parse().unwrap();
    let decision = ds.decide(&add, nadia, &later).unwrap();
    ds.apply(&decision.change);
    assert_eq!(number(&ds, decision.added[0]), "FR-2027-0001");
    assert!(matches!(nadia, Asker::Person(_)));
}

#[test]
fn a_record_stands_where_it_was_put_since_it_was_put_there() {
    let mut ds = demo();
    let (faults, nadia) = (table(&ds, "Faults"), asker(&ds, "Nadia"));
    let status = field(&ds, "Faults.Status");
    let others = ds.shown_kind(faults, status).unwrap().1.options().to_vec();
    let since = |ds: &Dataset| {
        let clock = clock();
        Lens::of_everything(ds, None, &clock).standing(faults, status).unwrap().since(record(1).row()).unwrap()
    };
    let made = since(&ds);
    let put = |option: usize| Intent::Edit {
        table: faults,
        record: record(1),
        edits: vec![Edit { field: status, input: Input::Value(Value::Choice(others[option].id)), was: None }],
    };
    let first = act(&mut ds, nadia, &put(3)).unwrap().change;
    assert_eq!(since(&ds), clock().now);
    let back = act(&mut ds, nadia, &Intent::Undo { change: Box::new(first), shared: false }).unwrap().change;
    assert_eq!(since(&ds), made, "taken back, it stands where it stood");
    act(&mut ds, nadia, &Intent::Undo { change: Box::new(back), shared: false }).unwrap();
    assert_eq!(since(&ds), clock().now);
    // Another field moves nothing along.
    let kept = ds.record_to_keep(faults, record(1)).unwrap();
    assert_eq!(kept.moved.len(), 1);
}
