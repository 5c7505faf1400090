//! What is computed after a change is what would be computed from nothing, and no more is computed than can be reached.

use crate::fixture::*;
use jiff::Timestamp;
use proptest::prelude::*;
use std::sync::Arc;
use westerfall_core::{
    Clock,
    access::{Asker, Lens},
    dataset::{Dataset, Recomputed},
    formula::Formula,
    history::Change,
    id::{FieldId, RecordId, TableId},
    intent::{Edit, Intent},
    part::Part,
    people::People,
    schema::{FieldDef, Kind, Link, TableDef},
    value::{Input, Value},
};

const TABLES: u32 = 3;

fn at(number: u32) -> TableId {
    TableId::new(number).unwrap()
}

fn id(number: u32) -> FieldId {
    FieldId::new(number).unwrap()
}

fn plain(number: u32, name: &str, kind: Kind) -> FieldDef {
    FieldDef::new(id(number), name, kind)
}

/// Three tables, each linked to the next: `Up` holds the link, `Down` is its other side; `Peers` links many to many.
fn bare() -> Dataset {
    let tracker = westerfall_core::schema::TrackerDef {
        name: "Random".into(),
        description: String::new(),
        zone: "Europe/London".into(),
        locale: Default::default(),
        icon: String::new(),
        hue: None,
        stage: Default::default(),
    };
    let mut ds = Dataset::empty(tracker, Arc::new(People::default()));
    let parts = (1..=TABLES).map(|t| {
        let own = t * 100;
        let link = |to: u32, back, one, holds| Kind::Link(Link { to: at(to), back: id(back), one, holds });
        let mut fields = vec![
            plain(own, "Label", Kind::Text { limit: 100 }),
            plain(own + 1, "Amount", Kind::Number { decimals: 0, unit: String::new() }),
            plain(own + 2, "Day", Kind::Date),
        ];
        if t < TABLES {
            fields.push(plain(own + 3, "Up", link(t + 1, own + 104, true, true)));
        }
        if t > 1 {
            fields.push(plain(own + 4, "Down", link(t - 1, own - 97, false, false)));
        }
        fields.push(plain(own + 5, "Peers", link(t, own + 6, false, true)));
        fields.push(plain(own + 6, "Peer of", link(t, own + 5, false, false)));
        Part::Table(TableDef::new(at(t), &format!("T{t}"), "thing", id(own), fields))
    });
    do_it(&mut ds, &Intent::Build(parts.collect()), Asker::Westerfall, NOW.parse().unwrap()).unwrap();
    for t in 1..=TABLES {
        let records = (0..4).map(|n| vec![(id(t * 100), typed(&format!("r{t}{n}"))), (id(t * 100 + 1), typed(&n.to_string()))]);
        do_it(&mut ds, &Intent::Add { table: at(t), records: records.collect() }, Asker::Westerfall, NOW.parse().unwrap()).unwrap();
    }
    ds
}

fn do_it(ds: &mut Dataset, intent: &Intent, asker: Asker, now: Timestamp) -> Option<(Change, Recomputed)> {
    let clock = Clock { now, ..clock() };
    let decision = ds.decide(intent, asker, &clock).ok()?;
    let recomputed = ds.apply(&decision.change);
    Some((decision.change, recomputed))
}

/// Formulas that somebody might try in any of the tables; those that do not fit one are refused.
const FORMULAS: [&str; 18] = [
    "Amount * 2",
    "Amount + Up.Amount",
    "SUM(Down.Amount)",
    "COUNT(Down where Amount > 1)",
    "Up.Label & Label",
    "TODAY() - Day",
    "IF(Day < TODAY(), \"late\", Up.Label)",
    "MAX(Down.Day)",
    "Up.Up.Amount / Amount",
    "SUM(Peers.Amount)",
    "COUNT(Peer of)",
    "SUM(Down.Down.Amount)",
    "TEXTJOIN(\", \", TRUE, Down.Label)",
    "FIRST(Down)",
    "SUM(Down.C0)",
    "C0 + 1",
    "SUM(Peers.C1)",
    "Up.C1 & \"!\"",
];

#[derive(Clone, Debug)]
enum Act {
    /// A formula into one of two computed fields of a table.
    Compute(u32, u32, usize),
    Add(u32, i64),
    Amount(u32, u32, i64),
    Day(u32, u32, Option<i64>),
    Label(u32, u32, String),
    Up(u32, u32, Option<u32>),
    Down(u32, u32, Vec<u32>),
    Peers(u32, u32, Vec<u32>),
    Remove(u32, u32),
    Undo(usize),
    /// So many hours go by.
    Wait(i64),
}

fn any_act() -> impl Strategy<Value = Act> {
    let (t, r) = (1..=TABLES, 1_u32..6);
    let list = prop::collection::vec(1_u32..6, 0..4);
    prop_oneof![
        4 => (t.clone(), 0_u32..2, 0..FORMULAS.len()).prop_map(|(t, c, f)| Act::Compute(t, c, f)),
        1 => (t.clone(), 0_i64..9).prop_map(|(t, n)| Act::Add(t, n)),
        2 => (t.clone(), r.clone(), 0_i64..9).prop_map(|(t, r, n)| Act::Amount(t, r, n)),
        1 => (t.clone(), r.clone(), prop::option::of(-3_i64..3)).prop_map(|(t, r, n)| Act::Day(t, r, n)),
        1 => (t.clone(), r.clone(), "[a-z]{0,3}").prop_map(|(t, r, n)| Act::Label(t, r, n)),
        2 => (1..TABLES, r.clone(), prop::option::of(1_u32..6)).prop_map(|(t, r, n)| Act::Up(t, r, n)),
        2 => (2..=TABLES, r.clone(), list.clone()).prop_map(|(t, r, n)| Act::Down(t, r, n)),
        1 => (t.clone(), r.clone(), list).prop_map(|(t, r, n)| Act::Peers(t, r, n)),
        1 => (t, r).prop_map(|(t, r)| Act::Remove(t, r)),
        2 => (0_usize..4).prop_map(Act::Undo),
        1 => (1_i64..60).prop_map(Act::Wait),
    ]
}

fn with_formula(ds: &Dataset, t: u32, place: u32, text: &str) -> Option<TableDef> {
    let mut def = (*ds.table(at(t))?.def).clone();
    let number = t * 100 + 50 + place;
    let reading = Formula::read(text, ds, at(t));
    if !reading.faults.is_empty() {
        return None;
    }
    let kind = Kind::Calculation { formula: reading.formula, shows: Box::new(Kind::of_type(reading.result.of)) };
    match def.fields.iter_mut().find(|f| f.id == id(number)) {
        Some(field) => field.kind = kind,
        None => def.fields.push(plain(number, &format!("C{place}"), kind)),
    }
    Some(def)
}

fn intent(ds: &Dataset, act: &Act, done: &[Change], now: Timestamp) -> Option<Intent> {
    let edit = |t: u32, r: u32, field: u32, input: Input| Intent::Edit {
        table: at(t),
        record: record(r),
        edits: vec![Edit { field: id(t * 100 + field), input, was: None }],
    };
    Some(match act {
        Act::Compute(t, place, formula) => Intent::Save(Part::Table(with_formula(ds, *t, *place, FORMULAS[*formula])?)),
        Act::Add(t, n) => Intent::Add { table: at(*t), records: vec![vec![(id(t * 100 + 1), typed(&n.to_string()))]] },
        Act::Amount(t, r, n) => edit(*t, *r, 1, typed(&n.to_string())),
        Act::Day(t, r, days) => {
            let today = Clock { now, ..clock() }.today();
            let day = days.map_or(Value::Empty, |d| Value::Date(today.saturating_add(jiff::ToSpan::days(d))));
            edit(*t, *r, 2, Input::Value(day))
        }
        Act::Label(t, r, text) => edit(*t, *r, 0, typed(text)),
        Act::Up(t, r, to) => edit(*t, *r, 3, to.map_or(Input::Value(Value::Empty), |n| links(&[n]))),
        Act::Down(t, r, list) => edit(*t, *r, 4, links(list)),
        Act::Peers(t, r, list) => edit(*t, *r, 5, links(list)),
        Act::Remove(t, r) => Intent::Remove { table: at(*t), records: vec![record(*r)] },
        Act::Undo(back) => undo(done.iter().rev().nth(*back)?.clone()),
        Act::Wait(_) => return None,
    })
}

/// Every computed cell, and what it would be if all were computed from nothing.
#[track_caller]
fn same_as_from_nothing(ds: &Dataset, now: Timestamp) -> Result<(), TestCaseError> {
    let mut anew = ds.clone();
    let moved = anew.compute_all(now).cells;
    let clock = Clock { now, ..clock() };
    let text = |ds: &Dataset, (t, f, r): (TableId, FieldId, RecordId)| Lens::of_everything(ds, None, &clock).text_at(t, r, f);
    let differences: Vec<_> = moved.iter().map(|cell| (*cell, text(ds, *cell), text(&anew, *cell))).collect();
    prop_assert!(differences.is_empty(), "cell, as it was kept up, from nothing: {differences:?}");
    Ok(())
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    #[test]
    fn keeping_up_gives_what_computing_from_nothing_gives(acts in prop::collection::vec(any_act(), 1..40)) {
        let mut ds = bare();
        let mut now: Timestamp = NOW.parse().unwrap();
        let mut done = Vec::new();
        for one in &acts {
            if let Act::Wait(hours) = one {
                now += jiff::SignedDuration::from_hours(*hours);
                ds.turn_to(now);
            } else if let Some((change, _)) = intent(&ds, one, &done, now).and_then(|i| do_it(&mut ds, &i, Asker::Westerfall, now)) {
                done.push(change);
            }
            same_as_from_nothing(&ds, now)?;
        }
    }
}

fn demo_cell(ds: &Dataset, path: &str, r: u32) -> String {
    let (name, _) = path.split_once('.').unwrap();
    Lens::of_everything(ds, None, &clock()).text_at(table(ds, name), record(r), field(ds, path))
}

fn edit_cell(ds: &mut Dataset, path: &str, r: u32, input: Input) -> Recomputed {
    let (name, _) = path.split_once('.').unwrap();
    let nadia = asker(ds, "Nadia");
    let edits = vec![Edit { field: field(ds, path), input, was: None }];
    let wanted = Intent::Edit { table: table(ds, name), record: record(r), edits };
    do_it(ds, &wanted, nadia, NOW.parse().unwrap()).expect("allowed").1
}

#[test]
fn an_edit_reaches_two_calculations_and_a_summary_two_links_away_and_nothing_else() {
    let mut ds = demo();
    let spent = |ds: &Dataset| (1..=6).map(|r| demo_cell(ds, "Districts.Money spent", r)).collect::<Vec<_>>();
    let before = spent(&ds);
    let line = records(&ds, table(&ds, "Material lines"))[0].get();
    let recomputed = edit_cell(&mut ds, "Material lines.Quantity", line, typed("40"));
    let names: Vec<&str> = recomputed.cells.iter().map(|(_, f, _)| ds.field(*f).unwrap().1.name.as_str()).collect();
    // What the line is called, its cost, what was used of the material; the order's materials and total; the district's spending, what is left.
    assert_eq!(names.len(), 7, "{names:?}");
    assert_eq!(recomputed.computed, 7, "nothing was computed in vain");
    assert_eq!(spent(&ds).iter().zip(&before).filter(|(now, then)| now != then).count(), 1, "of one district");
}

#[test]
fn where_a_value_stays_nothing_further_is_computed() {
    let mut ds = demo();
    // Nothing draws on a description, and a fault that stays open changes no count.
    assert_eq!(edit_cell(&mut ds, "Faults.Description", 5, typed("by the wall")).computed, 0);
    edit_cell(&mut ds, "Faults.Status", 5, typed("reported"));
    let recomputed = edit_cell(&mut ds, "Faults.Status", 5, typed("checked"));
    assert_eq!(recomputed.cells.len(), 0, "{recomputed:?}");
    assert_eq!(recomputed.computed, 3, "days open, the section's and the district's open faults");
    let recomputed = edit_cell(&mut ds, "Faults.Status", 5, typed("made good"));
    assert_eq!(recomputed.cells.len(), 3, "{recomputed:?}");
}

#[test]
fn a_copied_value_is_taken_once_and_then_free() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let f = |name: &str| field(&demo(), &format!("Material lines.{name}"));
    let lines = table(&ds, "Material lines");
    let add = Intent::Add { table: lines, records: vec![vec![(f("Material"), links(&[1])), (f("Quantity"), typed("2"))]] };
    let line = act(&mut ds, nadia, &add).unwrap().added[0].get();
    assert_eq!(demo_cell(&ds, "Material lines.Unit price", line), "£38.50");
    assert_eq!(demo_cell(&ds, "Material lines.Line cost", line), "£77.00");
    edit_cell(&mut ds, "Materials.Unit price", 1, typed("40"));
    assert_eq!(demo_cell(&ds, "Material lines.Line cost", line), "£77.00", "what was copied stays");
    edit_cell(&mut ds, "Material lines.Unit price", line, typed("36.25"));
    assert_eq!(demo_cell(&ds, "Material lines.Line cost", line), "£72.50");
    edit_cell(&mut ds, "Material lines.Material", line, links(&[2]));
    assert_eq!(demo_cell(&ds, "Material lines.Unit price", line), "£24.00", "another material, another price");
}

#[test]
fn summaries_over_nothing_give_what_openformula_gives_for_an_empty_list() {
    let mut ds = demo();
    let (nadia, districts) = (asker(&ds, "Nadia"), table(&ds, "Districts"));
    let add = Intent::Add { table: districts, records: vec![vec![(field(&ds, "Districts.Name"), typed("Nowhere"))]] };
    let new = act(&mut ds, nadia, &add).unwrap().added[0].get();
    assert_eq!(demo_cell(&ds, "Districts.Money spent", new), "£0.00");
    assert_eq!(demo_cell(&ds, "Districts.Open faults", new), "0");
    assert_eq!(demo_cell(&ds, "Districts.Average length", new), "#DIV/0!");
}

/// A table with one more computed field.
fn with_field(ds: &mut Dataset, t: TableId, name: &str, kind: Kind) {
    let field = plain(1, name, kind);
    let change = westerfall_core::intent::FieldChange::Add { field, before: None, other: None };
    do_it(ds, &Intent::Fields { table: t, change }, Asker::Westerfall, NOW.parse().unwrap()).expect("it fits");
}

#[test]
fn every_figure_of_a_summary_is_what_its_records_say() {
    use westerfall_core::{condition::Check, figure::Figure as F, schema::Summary};
    let mut ds = bare();
    let edit = |ds: &mut Dataset, t: u32, r: u32, f: u32, input: Input| {
        let edits = vec![Edit { field: id(t * 100 + f), input, was: None }];
        do_it(ds, &Intent::Edit { table: at(t), record: record(r), edits }, Asker::Westerfall, NOW.parse().unwrap()).unwrap();
    };
    let yes = plain(180, "Good", Kind::YesNo);
    let change = westerfall_core::intent::FieldChange::Add { field: yes, before: None, other: None };
    let (made, _) = do_it(&mut ds, &Intent::Fields { table: at(1), change }, Asker::Westerfall, NOW.parse().unwrap()).unwrap();
    let good = made.ops.iter().find_map(|op| match op {
        westerfall_core::history::Op::Put { after: Some(part), .. } => match &**part {
            Part::Table(def) => def.fields.last().map(|f| f.id),
            _ => None,
        },
        _ => None,
    });
    let good = good.unwrap();
    for (r, amount, day, label) in [(1, "3", "2026-01-05", "b"), (2, "0.5", "2026-03-01", "a"), (3, "7", "", "b")] {
        edit(&mut ds, 1, r, 1, typed(amount));
        edit(&mut ds, 1, r, 2, typed(day));
        edit(&mut ds, 1, r, 0, typed(label));
        let edits = vec![Edit { field: good, input: typed(if r == 2 { "no" } else { "yes" }), was: None }];
        do_it(&mut ds, &Intent::Edit { table: at(1), record: record(r), edits }, Asker::Westerfall, NOW.parse().unwrap()).unwrap();
    }
    edit(&mut ds, 2, 1, 4, links(&[1, 2, 3]));
    let over = |ds: &Dataset, figure: F, field: Option<FieldId>, condition| {
        let shows = ds.summary_kind(at(1), figure, field).unwrap();
        Kind::Summary(Summary { links: vec![id(204)], figure, field, condition, shows: Box::new(shows) })
    };
    let none = westerfall_core::condition::Condition::default;
    let over_two = test(&[id(101)], Check::Number { how: westerfall_core::condition::Comparison::Over, than: 2.into() });
    let cases = [
        (F::Count, None, none(), "3"),
        (F::Count, Some(id(102)), none(), "2"),
        (F::Count, None, over_two.clone(), "2"),
        (F::Sum, Some(id(101)), none(), "10.5"),
        (F::Sum, Some(id(101)), over_two, "10"),
        (F::Average, Some(id(101)), none(), "3.5"),
        (F::Least, Some(id(101)), none(), "0.5"),
        (F::Most, Some(id(101)), none(), "7"),
        (F::Earliest, Some(id(102)), none(), "5 Jan 2026"),
        (F::Latest, Some(id(102)), none(), "1 Mar 2026"),
        (F::Share, Some(good), none(), "66.7\u{a0}%"),
        (F::List, Some(id(100)), none(), "b, a, b"),
        (F::Each, Some(id(100)), none(), "b, a"),
        (F::Different, Some(id(100)), none(), "2"),
        (F::Filled, Some(id(102)), none(), "2"),
        (F::Median, Some(id(101)), none(), "3"),
    ];
    for (n, (figure, field, condition, expected)) in cases.into_iter().enumerate() {
        let name = format!("S{n}");
        let kind = over(&ds, figure, field, condition);
        with_field(&mut ds, at(2), &name, kind);
        let made = ds.table(at(2)).unwrap().def.fields.iter().find(|f| f.name == name).unwrap().id;
        assert_eq!(Lens::of_everything(&ds, None, &clock()).text_at(at(2), record(1), made), expected, "{figure:?} of {field:?}");
    }
}

#[test]
fn money_sums_to_the_cent_over_a_quarter_of_a_million_records() {
    let mut ds = bare();
    let reading = Formula::read("SUM(Down.Amount)", &ds, at(2));
    let shows = Box::new(Kind::Money { currency: "GBP".into() });
    with_field(&mut ds, at(2), "Total", Kind::Calculation { formula: reading.formula, shows });
    let cents = |n: i64| Input::Value(Value::Number(rust_decimal::Decimal::new(n % 997, 2)));
    let records = (0..249_996_i64).map(|n| vec![(id(101), cents(n)), (id(103), links(&[1]))]);
    do_it(&mut ds, &Intent::Add { table: at(1), records: records.collect() }, Asker::Westerfall, NOW.parse().unwrap()).unwrap();
    let total = ds.table(at(2)).unwrap().def.fields.last().unwrap().id;
    let sum: i64 = (0..249_996).map(|n| n % 997).sum();
    let expected = westerfall_core::value::Customs::default().money_text(rust_decimal::Decimal::new(sum, 2), "GBP");
    assert_eq!(Lens::of_everything(&ds, None, &clock()).text_at(at(2), record(1), total), expected);
}

/// A fault that stays open, and the days it has been open at a moment.
fn days_open(ds: &mut Dataset, now: &str) -> String {
    ds.turn_to(now.parse().unwrap());
    demo_cell(ds, "Faults.Days open", 119)
}

#[test]
fn a_day_begins_at_midnight_in_the_trackers_zone() {
    let mut ds = demo();
    let first: i32 = days_open(&mut ds, "2026-11-23T23:59:59Z").parse().unwrap();
    assert_eq!(ds.holds_until(), "2026-11-24T00:00:00Z".parse().unwrap());
    assert_eq!(days_open(&mut ds, "2026-11-24T00:00:00Z"), (first + 1).to_string());
    // The end of a month, of a year, and a leap day.
    assert_eq!(days_open(&mut ds, "2026-12-01T00:00:00Z"), (first + 8).to_string());
    assert_eq!(days_open(&mut ds, "2027-01-01T12:00:00Z"), (first + 39).to_string());
    assert_eq!(days_open(&mut ds, "2028-02-29T12:00:00Z"), (first + 463).to_string());
    assert_eq!(days_open(&mut ds, "2028-03-01T00:00:00Z"), (first + 464).to_string());
}

#[test]
fn days_begin_an_hour_earlier_by_the_worlds_clock_in_summer() {
    let mut ds = demo();
    let first: i32 = days_open(&mut ds, "2027-03-27T12:00:00Z").parse().unwrap();
    // The clocks go forward on the 28th at one: that day has 23 hours.
    days_open(&mut ds, "2027-03-28T00:00:00Z");
    assert_eq!(ds.holds_until(), "2027-03-28T23:00:00Z".parse().unwrap());
    assert_eq!(days_open(&mut ds, "2027-03-28T22:59:59Z"), (first + 1).to_string());
    assert_eq!(days_open(&mut ds, "2027-03-28T23:00:00Z"), (first + 2).to_string());
    // And back on 31 October: 25 hours.
    days_open(&mut ds, "2027-10-30T23:00:00Z");
    assert_eq!(ds.holds_until(), "2027-11-01T00:00:00Z".parse().unwrap());
}

#[test]
fn a_new_day_computes_only_what_depends_on_it_and_is_heard_once() {
    let mut ds = demo();
    let (before, tamsin) = (ds.clone(), asker(&ds, "Tamsin"));
    let turned = ds.turn_to("2026-11-24T06:00:00Z".parse().unwrap());
    assert_eq!(turned.computed, 120 + 150, "the days open of each fault, the hours this year of each volunteer");
    assert_eq!(turned.cells.len(), 40, "which change where a fault is open");
    assert_eq!(ds.turn_to("2026-11-24T07:00:00Z".parse().unwrap()), Recomputed::default());
    let clock = clock();
    let (old, new) = (Lens::new(&before, tamsin, &clock), Lens::new(&ds, tamsin, &clock));
    let heard = westerfall_core::access::Heard::of(None, &turned, &old, &new).expect("she has open faults");
    let faults = &heard.records[&table(&ds, "Faults")];
    assert!(!faults.is_empty() && faults.iter().all(|r| new.sees(table(&ds, "Faults"), *r)));
}

#[test]
fn a_computed_figure_is_the_same_for_everyone_or_not_shown() {
    let ds = demo();
    let clock = clock();
    let tamsin = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    let whole = Lens::of_everything(&ds, None, &clock);
    let text = |lens: &Lens<'_>, path: &str, r: u32| {
        let (name, _) = path.split_once('.').unwrap();
        lens.text_at(table(&ds, name), record(r), field(&ds, path))
    };
    // Her own district, all of whose orders she sees.
    assert_eq!(text(&tamsin, "Districts.Money spent", 1), text(&whole, "Districts.Money spent", 1));
    assert_eq!(text(&tamsin, "Districts.Open faults", 1), text(&whole, "Districts.Open faults", 1));
    // What a material was used for, all over the trust, she does not see: so no figure, not a smaller one.
    let used: Vec<String> = (1..=42).map(|r| text(&tamsin, "Materials.Used so far", r)).collect();
    let truly: Vec<String> = (1..=42).map(|r| text(&whole, "Materials.Used so far", r)).collect();
    assert!(used.iter().any(String::is_empty));
    assert!(used.iter().zip(&truly).all(|(hers, true_one)| hers.is_empty() || hers == true_one));
    // A volunteer sees sections, but not their faults.
    let wren = Lens::new(&ds, asker(&ds, "Wren"), &clock);
    assert!((1..=64).all(|r| text(&wren, "Sections.Open faults", r).is_empty()));
    assert_ne!(
        text(&wren, "Sections.Next inspection", 1),
        text(&whole, "Sections.Next inspection", 1),
        "she may not see when it was inspected"
    );
}

#[test]
fn why_names_no_field_that_is_hidden_from_the_asker() {
    let mut ds = demo();
    let (orders, rate, nadia, tamsin) =
        (table(&ds, "Work orders"), field(&ds, "Work orders.Hourly rate"), asker(&ds, "Nadia"), asker(&ds, "Tamsin"));
    let how = |ds: &Dataset| {
        let clock = clock();
        let lens = Lens::new(ds, tamsin, &clock);
        let hers = records(ds, orders).into_iter().find(|r| lens.sees(orders, *r)).expect("she has an order");
        lens.why(orders, hers, rate).unwrap().how
    };
    assert!(how(&ds).starts_with("Copied from “Hourly rate” of district “Eskermoor”"), "{}", how(&ds));
    let mut role = ds.roles().find(|r| r.name == "Warden").unwrap().clone();
    role.tables.get_mut(&orders).unwrap().fields.insert(field(&ds, "Work orders.District"), westerfall_core::access::FieldRight::Hidden);
    act(&mut ds, nadia, &Intent::Save(Part::Role(role))).unwrap();
    assert_eq!(how(&ds), "It was put in.");
}
