//! View queries against a slow, obvious model.

use crate::fixture::*;
use proptest::prelude::*;
use rust_decimal::Decimal;
use std::collections::{BTreeMap, BTreeSet};
use westerfall_core::{
    access::Lens,
    condition::Condition,
    dataset::Dataset,
    figure::Figure,
    id::{FieldId, OptionId, RecordId, TableId},
    intent::{Edit, Intent},
    names::Names,
    value::{Attachment, Cell, Input, Value, natural_cmp},
    view::{Almanac, AlmanacDate, Asked, Bucket, GroupBy, Lanes, Order, Query, Shape, ShownField, Tally, View, Window},
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
        let whole = asked.run(&lens, faults, &Window { rows: 0..10_000, keep: &[], own: None });
        prop_assert_eq!(whole.window.len(), whole.matching);
        let mut pieces = Vec::new();
        for start in (0..whole.rows).step_by(width) {
            pieces.extend(asked.run(&lens, faults, &Window { rows: start..start + width, keep: &[], own: None }).window);
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
            groups: by.iter().map(|s| GroupBy::of(order(&ds, s, false).field)).collect(),
            tallies: vec![Tally { field: hours, figure: Figure::Sum }, Tally { field: hours, figure: Figure::Most }],
            ..query(&ds, condition)
        };
        let outcome = asked.run(&lens, faults, &Window { rows: 0..10_000, keep: &[], own: None });
        prop_assert_eq!(outcome.groups.iter().map(|g| g.count).sum::<usize>(), outcome.matching);
        let sum: rust_decimal::Decimal = outcome.groups.iter().filter_map(|g| g.tallies[0].value).sum();
        prop_assert_eq!(Some(sum), outcome.tallies[0].value);
        let most = outcome.groups.iter().filter_map(|g| g.tallies[1].value).max();
        prop_assert_eq!(most, outcome.tallies[1].value);
        for group in outcome.groups.iter().filter(|g| !g.within.is_empty()) {
            prop_assert_eq!(group.within.iter().map(|g| g.count).sum::<usize>(), group.count);
            let sum: rust_decimal::Decimal = group.within.iter().filter_map(|g| g.tallies[0].value).sum();
            prop_assert_eq!(Some(sum), group.tallies[0].value);
        }
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

/// The rows of a view in its order, read in any slices, are those of the whole.
fn all_slices(asked: &Query, lens: &Lens<'_>, at: TableId, cuts: &[usize]) -> Vec<RecordId> {
    let found = asked.found(lens, at, &[]);
    let ends = cuts.iter().copied().chain([10_000]);
    let starts = std::iter::once(0).chain(cuts.iter().copied());
    let wanted: Vec<_> = starts.zip(ends).map(|(start, end)| start..end).collect();
    found.slices(&wanted).0.into_iter().flat_map(|slice| slice.records).collect()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn slices_are_pieces_of_the_whole(
        condition in any_condition(), sort in prop::sample::select(SORTABLE.to_vec()), by in prop::sample::subsequence(SORTABLE.to_vec(), 0..3),
        mut cuts in prop::collection::vec(0_usize..140, 0..6), lanes in any::<bool>(),
    ) {
        let (ds, clock) = (demo(), clock());
        let faults = table(&ds, "Faults");
        let lens = Lens::of_everything(&ds, None, &clock);
        cuts.sort_unstable();
        let shape = Shape::Lanes(Lanes::by(field(&ds, "Faults.Status")));
        let asked = Query {
            groups: by.iter().map(|s| GroupBy::of(order(&ds, s, false).field)).collect(),
            sorts: vec![order(&ds, sort, true)],
            shape: if lanes { shape } else { Shape::default() },
            ..query(&ds, condition)
        };
        let whole = asked.run(&lens, faults, &Window { rows: 0..10_000, keep: &[], own: None }).window;
        prop_assert_eq!(all_slices(&asked, &lens, faults, &cuts), whole);
    }

    /// In lanes every value has its lane, in the field's own order, and what is in it has the value.
    #[test]
    fn lanes_hold_each_record_once(condition in any_condition(), by in prop::sample::select(vec!["Status", "Severity", "Section", "Warden"])) {
        let (ds, clock) = (demo(), clock());
        let faults = table(&ds, "Faults");
        let lens = Lens::of_everything(&ds, None, &clock);
        let by = field(&ds, &format!("Faults.{by}"));
        let shape = Shape::Lanes(Lanes::by(by));
        let asked = Query { shape, ..query(&ds, condition) };
        prop_assert!(asked.check(&ds, faults).is_ok());
        let outcome = asked.run(&lens, faults, &Window { rows: 0..10_000, keep: &[], own: None });
        let options = ds.shown_kind(faults, by).unwrap().1.options();
        let lanes: Vec<&Value> = outcome.groups.iter().map(|lane| &lane.value).collect();
        let choices: Vec<OptionId> = lanes.iter().filter_map(|value| if let Value::Choice(id) = value { Some(*id) } else { None }).collect();
        prop_assert_eq!(choices, options.iter().map(|option| option.id).collect::<Vec<_>>());
        prop_assert!((1..lanes.len()).all(|n| !lanes[..n].contains(&lanes[n])), "{lanes:?}");
        let mut place = 0;
        for lane in &outcome.groups {
            for r in &outcome.window[place..place + lane.count] {
                prop_assert_eq!(&lens.text_at(faults, *r, by), &lane.text);
            }
            place += lane.count;
        }
        prop_assert_eq!(place, outcome.matching);
    }

    /// From any cell one narrows to records like it, or to the others: this one is among the first and not among the second, and
    /// no record is in both.
    #[test]
    fn from_a_cell_one_narrows_to_its_like_or_to_the_others(number in 1_u32..110, at in any::<prop::sample::Index>(), who in 1_u32..=8) {
        let (ds, clock) = (demo(), clock());
        let faults = table(&ds, "Faults");
        let me = westerfall_core::id::PersonId::new(who).unwrap();
        let lens = Lens::new(&ds, westerfall_core::access::Asker::Person(me), &clock);
        let fields = &ds.table(faults).unwrap().def.fields;
        let on = fields[at.index(fields.len())].id;
        let Some(like) = lens.likeness(faults, record(number), on) else { return Ok(()) };
        prop_assert!(lens.sees(faults, record(number)) && lens.reads(faults, on));
        let (only, others) = (like.only.matching(&lens, faults), like.others.matching(&lens, faults));
        prop_assert!(only.contains(record(number).row()), "{}", like.only_words);
        prop_assert!(!others.contains(record(number).row()), "{}", like.others_words);
        prop_assert_eq!(only.intersection_count(&others), 0);
    }

    /// An almanac marks each record on each of its days in the stretch, and no other; what has no day waits.
    #[test]
    fn an_almanac_marks_each_record_on_its_days(condition in any_condition(), from in 0_i64..200, length in 0_i64..60, few in any::<bool>()) {
        let (ds, clock) = (demo(), clock());
        let faults = table(&ds, "Faults");
        let lens = Lens::of_everything(&ds, None, &clock);
        let (reported, due, planned) = (field(&ds, "Faults.Reported on"), field(&ds, "Faults.Due"), field(&ds, "Faults.Planned for"));
        let dates = vec![AlmanacDate { start: planned, end: None }, AlmanacDate { start: reported, end: Some(due) }];
        let asked = Query { shape: Shape::Calendar(Almanac::by(dates)), ..query(&ds, condition.clone()) };
        prop_assert!(asked.check(&ds, faults).is_ok());
        let day = |days: i64| clock.today().checked_add(jiff::Span::new().days(days)).unwrap();
        let (first, last) = (day(from - 150), day(from - 150 + length));
        let stretch = asked.stretch(&lens, faults, &Asked { from: first, to: last, of_a_day: if few { 2 } else { 400 }, waiting: 3, hours: false, week_begins: jiff::civil::Weekday::Monday });
        let cell = |r: RecordId, on: FieldId| match lens.reader(faults, on).cell(r.row()) {
            Cell::Date(day) => Some(day),
            _ => None,
        };
        let mut counts: BTreeMap<jiff::civil::Date, usize> = BTreeMap::new();
        let mut marks = BTreeSet::new();
        let mut without = 0;
        for r in records(&ds, faults).into_iter().filter(|r| condition.holds(&lens, faults, *r)) {
            let spans = [cell(r, planned).map(|day| (day, day)), cell(r, reported).map(|start| (start, cell(r, due).map_or(start, |end| end.max(start))))];
            without += usize::from(spans[0].is_none());
            for (date, (start, end)) in spans.into_iter().enumerate().filter_map(|(date, span)| Some((date, span?))) {
                if start <= last && end >= first {
                    marks.insert((r.get(), date, start, end));
                    let mut day = start.max(first);
                    while day <= end.min(last) {
                        *counts.entry(day).or_default() += 1;
                        day = day.tomorrow().unwrap();
                    }
                }
            }
        }
        let told: BTreeMap<jiff::civil::Date, usize> = stretch.days.iter().map(|one| (one.day, one.count)).collect();
        prop_assert_eq!(told, counts);
        prop_assert_eq!(stretch.without, without);
        prop_assert_eq!(stretch.waiting.len(), without.min(3));
        let drawn: BTreeSet<_> = stretch.marks.iter().map(|mark| (mark.record.get(), mark.date, mark.start, mark.end)).collect();
        let all = if few { drawn.is_subset(&marks) } else { drawn == marks };
        prop_assert!(all, "{drawn:?}");
        prop_assert!(stretch.marks.iter().all(|mark| stretch.rows.iter().any(|row| row.id == mark.record)));
        // Each week weighs what its records by the first date are.
        for week in &stretch.weeks {
            let here = records(&ds, faults).into_iter().filter(|r| condition.holds(&lens, faults, *r));
            let here = here.filter(|r| cell(*r, planned).is_some_and(|day| Bucket::Week.start(day) == week.start)).count();
            prop_assert_eq!(week.count, here);
        }
    }

    /// Each run of days holds the days between its first and its last, and no two runs are the same.
    #[test]
    fn days_stand_in_their_runs(by in prop::sample::select(Bucket::ALL.to_vec()), on in prop::sample::select(vec!["Reported on", "Due", "Created at"])) {
        let (ds, clock) = (demo(), clock());
        let faults = table(&ds, "Faults");
        let lens = Lens::of_everything(&ds, None, &clock);
        let on = field(&ds, &format!("Faults.{on}"));
        let asked = Query { groups: vec![GroupBy { by, ..GroupBy::of(on) }], ..query(&ds, Condition::default()) };
        prop_assert!(asked.check(&ds, faults).is_ok());
        let outcome = asked.run(&lens, faults, &Window { rows: 0..10_000, keep: &[], own: None });
        let reader = lens.reader(faults, on);
        let mut place = 0;
        let mut last = None;
        for run in &outcome.groups {
            for r in &outcome.window[place..place + run.count] {
                let day = match reader.cell(r.row()) {
                    Cell::Date(day) => day,
                    Cell::Instant(at) => at.to_zoned(clock.zone.clone()).date(),
                    _ => continue,
                };
                let start = match &run.value {
                    Value::Date(start) => *start,
                    Value::Instant(at) => at.to_zoned(clock.zone.clone()).date(),
                    other => panic!("a run of {other:?}"),
                };
                let (first, end) = by.days(start);
                prop_assert!(first <= day && day <= end, "{day} in {}", run.text);
                prop_assert!(by == Bucket::Value || first == start);
            }
            prop_assert!(run.value == Value::Empty || last < Some(run.value.clone()).map(|v| format!("{v:?}")), "{:?}", run.value);
            last = Some(format!("{:?}", run.value));
            place += run.count;
        }
        prop_assert_eq!(place, outcome.matching);
    }

    /// Every figure is what one counts by hand, over each group.
    #[test]
    fn figures_are_what_one_counts(condition in any_condition()) {
        let (ds, clock) = (demo(), clock());
        let faults = table(&ds, "Faults");
        let lens = Lens::of_everything(&ds, None, &clock);
        let (hours, kind, due) = (field(&ds, "Faults.Hours needed"), field(&ds, "Faults.Kind"), field(&ds, "Faults.Due"));
        let wanted = [
            (hours, Figure::Count), (hours, Figure::Filled), (hours, Figure::Median), (hours, Figure::Average), (kind, Figure::Different),
            (due, Figure::Earliest), (due, Figure::Latest),
        ];
        let asked = Query {
            groups: vec![GroupBy::of(field(&ds, "Faults.Severity"))],
            tallies: wanted.map(|(field, figure)| Tally { field, figure }).to_vec(),
            ..query(&ds, condition)
        };
        let outcome = asked.run(&lens, faults, &Window { rows: 0..10_000, keep: &[], own: None });
        let (of_hours, of_kind, of_due) = (lens.reader(faults, hours), lens.reader(faults, kind), lens.reader(faults, due));
        let mut place = 0;
        for group in &outcome.groups {
            let rows = &outcome.window[place..place + group.count];
            let mut numbers: Vec<Decimal> = rows.iter().filter_map(|r| if let Cell::Number(n) = of_hours.cell(r.row()) { Some(n) } else { None }).collect();
            numbers.sort_unstable();
            let told = |n: usize| group.tallies[n].value;
            prop_assert_eq!(told(0), Some(rows.len().into()));
            prop_assert_eq!(told(1), Some(numbers.len().into()));
            let middle = match numbers.len() {
                0 => None,
                n if n % 2 == 1 => Some(numbers[n / 2]),
                n => Some(((numbers[n / 2 - 1] + numbers[n / 2]) / Decimal::TWO).round_dp(2)),
            };
            prop_assert_eq!(told(2).map(|n| n.round_dp(2)), middle);
            let mean = (!numbers.is_empty()).then(|| (numbers.iter().sum::<Decimal>() / Decimal::from(numbers.len())).round_dp(2));
            prop_assert_eq!(told(3).map(|n| n.round_dp(2)), mean);
            let kinds: BTreeSet<String> = rows.iter().map(|r| format!("{:?}", of_kind.cell(r.row()))).filter(|text| text != "Empty").collect();
            prop_assert_eq!(told(4), Some(kinds.len().into()));
            let days: Vec<_> = rows.iter().filter_map(|r| if let Cell::Date(day) = of_due.cell(r.row()) { Some(day) } else { None }).collect();
            let text = |day: Option<&jiff::civil::Date>| day.map_or_else(String::new, |day| clock.customs().date_text(*day));
            prop_assert_eq!(&group.tallies[5].text, &text(days.iter().min()));
            prop_assert_eq!(&group.tallies[6].text, &text(days.iter().max()));
            place += group.count;
        }
    }
}

#[test]
fn what_a_shape_needs_is_asked_for_in_words() {
    let (ds, clock) = (demo(), clock());
    let lens = Lens::of_everything(&ds, None, &clock);
    let (faults, volunteers) = (table(&ds, "Faults"), table(&ds, "Volunteers"));
    let refused = |at: TableId, by: FieldId| {
        let shape = Shape::Lanes(Lanes::by(by));
        let fields = vec![ShownField { field: ds.table(at).unwrap().def.standing, width: 100 }];
        Query { shape, fields, ..Query::default() }.check(&ds, at).err().map(|faults| faults.0[0].message.clone())
    };
    assert_eq!(refused(faults, field(&ds, "Faults.Status")), None);
    insta::assert_snapshot!(refused(volunteers, field(&ds, "Volunteers.Skills")).unwrap());
    insta::assert_snapshot!(refused(faults, field(&ds, "Faults.Hours needed")).unwrap());
    let offers = query(&ds, Condition::default()).shapes(&lens, faults);
    let lanes = offers.iter().find(|offer| offer.name == "lanes").unwrap();
    assert!(matches!(lanes.begins, Some(Shape::Lanes(_))) && lanes.makes.is_none());
    // A table without such a field is offered one.
    let bare = table(&ds, "Material lines");
    let lines = query(&ds, Condition::default()).shapes(&lens, bare);
    assert!(lines.iter().all(|offer| offer.begins.is_some() == offer.missing.is_empty()));
}

#[test]
fn a_locked_view_stays_as_it_is() {
    use westerfall_core::{intent::Intent, part::Part};
    let mut ds = demo();
    let who = westerfall_core::access::Asker::Person(westerfall_core::id::PersonId::new(1).unwrap());
    let view = ds.views().next().unwrap().clone();
    let locked = View { locked: true, ..view.clone() };
    act(&mut ds, who, &Intent::Save(Part::View(locked.clone()))).unwrap();
    let other = View { name: "Otherwise".into(), ..locked.clone() };
    let said = act(&mut ds, who, &Intent::Save(Part::View(other))).unwrap_err().0[0].message.clone();
    insta::assert_snapshot!(said);
    assert!(act(&mut ds, who, &Intent::Drop(Part::View(locked))).is_err());
    act(&mut ds, who, &Intent::Save(Part::View(view.clone()))).unwrap();
    assert_eq!(ds.view(view.id), Some(&view));
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
    let outcome = query(&ds, nothing).run(&lens, faults, &Window { rows: 0..10, keep: &[record(7)], own: None });
    assert_eq!((outcome.matching, outcome.rows), (0, 1));
    assert_eq!((outcome.window, outcome.outside, outcome.kept), (vec![record(7)], vec![record(7)], vec![(record(7), 0)]));
}

#[test]
fn groups_are_named_by_value_and_text() {
    let (ds, clock) = (demo(), clock());
    let lens = Lens::of_everything(&ds, None, &clock);
    let asked = Query { groups: vec![GroupBy::of(order(&ds, "District", false).field)], ..query(&ds, Condition::default()) };
    let outcome = asked.run(&lens, table(&ds, "Faults"), &Window::default());
    let names: Vec<&str> = outcome.groups.iter().map(|g| g.text.as_str()).collect();
    assert_eq!(names, ["Eskermoor", "Harrow Tarn", "Low Marrow", "Ninestone", "Sallow Beck", "Upper Orrin"]);
    assert_eq!(outcome.groups[0].value, Value::Links(vec![record(1)]));
}

#[test]
fn a_plate_has_its_picture_whether_or_not_its_field_is_shown() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let view = ds.views().find(|view| view.name == "Where the paths are").unwrap().clone();
    let picture = field(&ds, "Sections.Picture");
    let file = |name: &str, media: &str| Attachment { id: format!("id-{name}"), name: name.into(), media: media.into(), size: 9 };
    let files = vec![file("notes.pdf", "application/pdf"), file("ridge.png", "image/png")];
    let bare = records(&ds, view.table).into_iter().find(|one| value(&ds, view.table, *one, picture) == Value::Empty).unwrap();
    let edit = Edit { field: picture, input: Input::Upload(files), was: None };
    act(&mut ds, nadia, &Intent::Edit { table: view.table, record: bare, edits: vec![edit] }).unwrap();
    assert!(view.query.fields.iter().all(|shown| shown.field != picture));
    let clock = clock();
    let lens = Lens::new(&ds, nadia, &clock);
    let told = |query: &Query| query.rows(&lens, view.table)(&[bare]).remove(0).pictures.into_iter().next().map(|picture| picture.name);
    assert_eq!(told(&view.query).as_deref(), Some("ridge.png"));
    // In rows there are no plates.
    assert_eq!(told(&Query { shape: Shape::default(), ..view.query.clone() }), None);
}

#[test]
fn lanes_stand_in_the_views_order_those_that_it_names_first() {
    let ds = demo();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let faults = table(&ds, "Faults");
    let by = field(&ds, "Faults.Status");
    let lanes = |order: Vec<Value>| Query { shape: Shape::Lanes(Lanes { order, ..Lanes::by(by) }), ..query(&ds, Condition::default()) };
    let told = |order: Vec<Value>| {
        let asked = lanes(order);
        let outcome = asked.run(&lens, faults, &Window { rows: 0..usize::MAX, ..Window::default() });
        let reader = lens.reader(faults, by);
        let mut at = 0;
        for lane in &outcome.groups {
            for record in &outcome.window[at..at + lane.count] {
                assert_eq!(reader.cell(record.row()).to_value(), lane.value);
            }
            at += lane.count;
        }
        outcome.groups.into_iter().map(|lane| (lane.value, lane.count)).collect::<Vec<_>>()
    };
    let plain = told(Vec::new());
    let (first, last) = (plain[0].clone(), plain[4].clone());
    let turned = told(vec![last.0.clone(), first.0.clone()]);
    assert_eq!(turned[..2], [last.clone(), first.clone()]);
    let rest: Vec<_> = plain.iter().filter(|lane| **lane != first && **lane != last).cloned().collect();
    assert_eq!(turned[2..], rest, "the others stay as they are");
}

#[test]
fn words_are_found_where_they_stand_in_the_order_of_the_view() {
    let ds = demo();
    let clock = clock();
    let faults = table(&ds, "Faults");
    let (title, district) = (field(&ds, "Faults.What is wrong"), field(&ds, "Faults.District"));
    let fields = [title, district].map(|field| ShownField { field, width: 100 }).to_vec();
    let asked = Query { sorts: vec![Order { field: title, descending: true }], fields, ..query(&ds, Condition::default()) };
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let hits = asked.hits(&lens, faults, None, &[], "GATE", &[title]);
    let window = asked.run(&lens, faults, &Window { rows: 0..usize::MAX, ..Window::default() }).window;
    let slow: Vec<usize> = window
        .iter()
        .enumerate()
        .filter(|(_, r)| lens.text_at(faults, **r, title).to_lowercase().contains("gate"))
        .map(|(at, _)| at)
        .collect();
    assert!(!slow.is_empty());
    assert_eq!(hits.hits.iter().map(|hit| hit.place).collect::<Vec<_>>(), slow);
    assert_eq!(hits.count, slow.len());
    assert_eq!(asked.hits(&lens, faults, None, &[], "   ", &[]).count, 0);
    // What somebody may not see is not found, whichever field is asked.
    let tamsin = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    let open = asked.as_open_to(&tamsin, faults);
    assert_eq!(open.hits(&tamsin, faults, None, &[], "Harrow", &[district]).count, 0);
    assert!(open.hits(&tamsin, faults, None, &[], "Eskermoor", &[district]).count > 0);
}

#[test]
fn a_plate_draws_one_number_as_a_length_and_one_as_strokes() {
    let ds = demo();
    let clock = clock();
    let view = ds.views().find(|view| view.name == "Where the paths are").unwrap();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let whole = view.query.found(&lens, view.table, &[]).whole();
    let rows = view.query.rows(&lens, view.table)(&records(&ds, view.table));
    let longest = rows.iter().filter_map(|row| row.drawn.as_ref()?.length).max();
    assert!(longest.is_some());
    assert_eq!(whole.longest, longest);
    let says = &rows[0].drawn.as_ref().unwrap().says;
    assert!(says.contains("km, ") && says.ends_with("open faults"), "{says}");
    // Without the field, nothing is drawn of it.
    let length = field(&ds, "Sections.Length");
    let without = view.query.without(&|name| name == westerfall_core::names::Name::Field(length));
    assert!(
        without.rows(&lens, view.table)(&records(&ds, view.table)).iter().all(|row| row.drawn.as_ref().is_none_or(|d| d.length.is_none()))
    );
    assert_eq!(without.found(&lens, view.table, &[]).whole().longest, None);
}
