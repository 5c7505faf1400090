//! View queries against a slow, obvious model.

use crate::fixture::*;
use proptest::prelude::*;
use std::collections::BTreeMap;
use westerfall_core::{
    access::Lens,
    condition::Condition,
    dataset::Dataset,
    id::RecordId,
    value::{Cell, Value, natural_cmp},
    view::{Figure, Order, Query, ShownField, Tally, Window},
};

fn query(ds: &Dataset, condition: Condition) -> Query {
    Query { condition, fields: vec![ShownField { field: field(ds, "Faults.Number"), width: 100 }], ..Query::default() }
}

fn order(ds: &Dataset, name: &str, descending: bool) -> Order {
    Order { field: field(ds, &format!("Faults.{name}")), descending }
}

const SORTABLE: [&str; 8] = ["What is wrong", "Due", "Severity", "Hours needed", "Section", "Warden", "Created at", "Number"];

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]

    /// The evaluator for a whole table and the one for a single record are two walks over one meaning.
    #[test]
    fn all_records_at_once_and_one_by_one_agree(condition in any_condition(), who in 0_usize..8) {
        let (ds, clock) = (demo(), clock());
        let faults = table(&ds, "Faults");
        let me = ds.people.iter().nth(who).map(|p| westerfall_core::access::Asker::Person(p.id)).unwrap();
        let lens = Lens::new(&ds, me, &clock);
        let bits = condition.matching(&lens, faults);
        for r in records(&ds, faults) {
            let one = lens.sees(faults, r) && condition.holds(&lens, faults, r);
            prop_assert_eq!(bits.contains(r.row()), one, "record {:?}", r);
        }
    }

    /// Windows put together are the whole order, and it is the order of the cells as people read them.
    #[test]
    fn windows_are_parts_of_one_stable_order(
        condition in any_condition(),
        sorts in prop::sample::subsequence(SORTABLE.to_vec(), 0..3),
        descending in any::<bool>(),
        width in 1_usize..40,
    ) {
        let (ds, clock) = (demo(), clock());
        let faults = table(&ds, "Faults");
        let lens = Lens::of_everything(&ds, None, &clock);
        let asked = Query { sorts: sorts.iter().map(|s| order(&ds, s, descending)).collect(), ..query(&ds, condition) };
        let whole = asked.run(&lens, faults, &Window { rows: 0..10_000, keep: &[] });
        prop_assert_eq!(whole.window.len(), whole.matching);
        let mut pieces = Vec::new();
        for start in (0..whole.rows).step_by(width) {
            pieces.extend(asked.run(&lens, faults, &Window { rows: start..start + width, keep: &[] }).window);
        }
        prop_assert_eq!(&pieces, &whole.window);
        if let Some(first) = sorts.first() {
            let keys: Vec<Option<String>> = whole.window.iter().map(|r| readable(&lens, &ds, first, *r)).collect();
            for pair in keys.windows(2) {
                let in_order = match (&pair[0], &pair[1]) {
                    (Some(a), Some(b)) if descending => natural_cmp(a, b).is_ge(),
                    (Some(a), Some(b)) => natural_cmp(a, b).is_le(),
                    (None, Some(_)) => false,
                    (_, None) => true,
                };
                prop_assert!(in_order, "{} then {}: {:?}", pair[0].as_deref().unwrap_or("-"), pair[1].as_deref().unwrap_or("-"), first);
            }
        }
    }

    /// Groups hold every row once, and their figures add up to the whole.
    #[test]
    fn groups_and_tallies_add_up(condition in any_condition(), by in prop::sample::subsequence(SORTABLE.to_vec(), 1..3)) {
        let (ds, clock) = (demo(), clock());
        let faults = table(&ds, "Faults");
        let lens = Lens::of_everything(&ds, None, &clock);
        let hours = field(&ds, "Faults.Hours needed");
        let asked = Query {
            groups: by.iter().map(|s| order(&ds, s, false)).collect(),
            tallies: vec![Tally { field: hours, figure: Figure::Sum }, Tally { field: hours, figure: Figure::Most }],
            ..query(&ds, condition)
        };
        let outcome = asked.run(&lens, faults, &Window { rows: 0..10_000, keep: &[] });
        prop_assert_eq!(outcome.groups.iter().map(|g| g.count).sum::<usize>(), outcome.matching);
        let sum: rust_decimal::Decimal = outcome.groups.iter().filter_map(|g| g.tallies[0].value).sum();
        prop_assert_eq!(Some(sum), outcome.tallies[0].value);
        let most = outcome.groups.iter().filter_map(|g| g.tallies[1].value).max();
        prop_assert_eq!(most, outcome.tallies[1].value);
        // Rows stand together with their group, in the groups' order.
        let mut place = 0;
        for group in &outcome.groups {
            let mut counts: BTreeMap<String, usize> = BTreeMap::new();
            for r in &outcome.window[place..place + group.count] {
                *counts.entry(lens.text_at(faults, *r, asked.groups[0].field)).or_default() += 1;
            }
            // Instants group by their day, so that their texts differ within a group.
            if by[0] != "Created at" {
                prop_assert_eq!(counts.len(), 1, "{:?}", counts);
            }
            place += group.count;
        }
    }
}

/// A text whose natural order is the field's own order.
fn readable(lens: &Lens<'_>, ds: &Dataset, name: &str, r: RecordId) -> Option<String> {
    let faults = table(ds, "Faults");
    let id = field(ds, &format!("Faults.{name}"));
    let reader = lens.reader(faults, id);
    Some(match reader.cell(r.row()) {
        Cell::Empty => return None,
        Cell::Date(date) => date.to_string(),
        Cell::Instant(instant) => format!("{:020}", instant.as_microsecond()),
        Cell::Choice(option) => format!("{:05}", option.get()),
        Cell::Number(number) => format!("{:012}", number * rust_decimal::Decimal::from(10)),
        other => lens.cell_text(faults, id, other),
    })
}

#[test]
fn a_kept_record_stays_in_sight_and_says_that_it_is_outside() {
    let (ds, clock) = (demo(), clock());
    let faults = table(&ds, "Faults");
    let lens = Lens::of_everything(&ds, None, &clock);
    let nothing = test(&[field(&ds, "Faults.What is wrong")], westerfall_core::condition::Check::Empty);
    let outcome = query(&ds, nothing).run(&lens, faults, &Window { rows: 0..10, keep: &[record(7)] });
    assert_eq!((outcome.matching, outcome.rows), (0, 1));
    assert_eq!((outcome.window, outcome.outside, outcome.kept), (vec![record(7)], vec![record(7)], vec![(record(7), 0)]));
}

#[test]
fn groups_are_named_by_value_and_text() {
    let (ds, clock) = (demo(), clock());
    let lens = Lens::of_everything(&ds, None, &clock);
    let asked = Query { groups: vec![order(&ds, "District", false)], ..query(&ds, Condition::default()) };
    let outcome = asked.run(&lens, table(&ds, "Faults"), &Window::default());
    let names: Vec<&str> = outcome.groups.iter().map(|g| g.texts[0].as_str()).collect();
    assert_eq!(names, ["Eskermoor", "Harrow Tarn", "Low Marrow", "Ninestone", "Sallow Beck", "Upper Orrin"]);
    assert_eq!(outcome.groups[0].values, [Value::Links(vec![record(1)])]);
}
