//! What goes out as a file: typed, in the order asked, and nothing that its reader may not see.

use crate::fixture::*;
use proptest::prelude::*;
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    export::{CalendarEntry, EntryTime, Filing, ListedLine, Listing},
    figure::Figure,
    id::{FieldId, RecordId},
    import::Raw,
    intent::{Edit, Intent},
    value::{Input, Value},
    view::{Bucket, GroupBy, Query, Shape, ShownField, Tally, View, Window},
};

fn fields(names: &[&str]) -> Vec<FieldId> {
    names.iter().map(|name| field(&demo(), &format!("Faults.{name}"))).collect()
}

fn rows(who: &str, records: &[RecordId], names: &[&str]) -> Vec<Vec<Raw>> {
    let (ds, clock) = (demo(), clock());
    let told = Lens::new(&ds, asker(&ds, who), &clock).filed(table(&ds, "Faults"), records, &fields(names), Filing::Typed);
    told.into_iter().map(|row| row.into_iter().map(|cell| cell.raw).collect()).collect()
}

#[test]
fn cells_keep_their_type_and_the_order_that_was_asked_for() {
    let names = ["Hours needed", "Number", "Planned for", "Created at", "Status", "Section", "Days open"];
    let ds = demo();
    let all = records(&ds, table(&ds, "Faults"));
    let told = rows("Nadia", &all, &names);
    assert_eq!(told.len(), all.len());
    let is = |place: usize, fits: fn(&Raw) -> bool| {
        told.iter().all(|row| row.len() == names.len() && (fits(&row[place]) || row[place] == Raw::Empty))
    };
    assert!(is(0, |raw| matches!(raw, Raw::Number(_))));
    assert!(is(1, |raw| matches!(raw, Raw::Text(text) if text.starts_with("FR-"))));
    assert!(is(2, |raw| matches!(raw, Raw::Date(_))));
    assert!(is(3, |raw| matches!(raw, Raw::DateTime(_))));
    assert!(is(4, |raw| matches!(raw, Raw::Text(_))));
    assert!(is(5, |raw| matches!(raw, Raw::Text(text) if text.contains(" to "))));
    assert!(is(6, |raw| matches!(raw, Raw::Number(_))));
    let other: Vec<&str> = names.iter().rev().copied().collect();
    let turned = rows("Nadia", &all, &other);
    assert!(told.iter().zip(&turned).all(|(row, back)| row.iter().eq(back.iter().rev())));
}

#[test]
fn records_come_in_the_order_of_the_view_and_out_of_reach_not_at_all() {
    let ds = demo();
    let all = records(&ds, table(&ds, "Faults"));
    let last_first: Vec<RecordId> = all.iter().rev().copied().collect();
    let (forth, back) = (rows("Nadia", &all, &["Number"]), rows("Nadia", &last_first, &["Number"]));
    assert!(forth.iter().eq(back.iter().rev()));
    let clock = clock();
    let tamsin = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    let seen: Vec<RecordId> = all.iter().copied().filter(|r| tamsin.sees(table(&ds, "Faults"), *r)).collect();
    assert!(seen.len() < all.len());
    assert_eq!(rows("Tamsin", &all, &["Number"]), rows("Nadia", &seen, &["Number"]));
    assert!(rows("Wren", &all, &["Number"]).len() < seen.len());
}

#[test]
fn a_field_that_is_hidden_is_no_column() {
    let ds = demo();
    let all = records(&ds, table(&ds, "Faults"));
    let open = rows("Nadia", &all[..3], &["Number", "Reporter", "Reporter’s mail", "Status"]);
    let told = rows("Pavel", &all[..3], &["Number", "Reporter", "Reporter’s mail", "Status"]);
    assert!(open.iter().all(|row| row.len() == 4));
    // A trustee sees neither who reported nor their address.
    assert!(told.iter().zip(&open).all(|(row, whole)| *row == [whole[0].clone(), whole[3].clone()]), "{told:?}");
}

/// Where a press leads is told of addresses alone; for reading, everything is as it is on the screen.
#[test]
fn addresses_lead_somewhere_and_what_is_read_is_as_on_the_screen() {
    let (ds, clock) = (demo(), clock());
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let all = records(&ds, table(&ds, "Faults"));
    let names = fields(&["Reporter’s mail", "Hours needed", "Reported on", "What is wrong"]);
    for (typed, shown) in lens.filed(table(&ds, "Faults"), &all, &names, Filing::Typed).into_iter().zip(lens.filed(
        table(&ds, "Faults"),
        &all,
        &names,
        Filing::Shown,
    )) {
        let mail = &typed[0];
        assert_eq!(mail.leads.as_deref(), (!mail.raw.is_empty()).then(|| format!("mailto:{}", mail.raw.words())).as_deref());
        assert!(typed[1..].iter().all(|cell| cell.leads.is_none()));
        assert!(shown.iter().all(|cell| matches!(cell.raw, Raw::Text(_) | Raw::Empty)));
    }
    let at = lens.filed(table(&ds, "Faults"), &all[..1], &names, Filing::Shown);
    for (cell, field) in at[0].iter().zip(&names) {
        assert_eq!(cell.raw.words(), lens.text_at(table(&ds, "Faults"), all[0], *field));
    }
}

fn grouped(ds: &Dataset, by: &[(&str, Bucket)], tallied: bool) -> Query {
    let shown = |name: &str| ShownField { field: field(ds, &format!("Faults.{name}")), width: 100 };
    let hours = Tally { field: field(ds, "Faults.Hours needed"), figure: Figure::Sum };
    let group = |(name, run): &(&str, Bucket)| GroupBy { by: *run, ..GroupBy::of(field(ds, &format!("Faults.{name}"))) };
    Query {
        groups: by.iter().map(group).collect(),
        fields: vec![shown("Number"), shown("What is wrong"), shown("Hours needed")],
        tallies: if tallied { vec![hours] } else { Vec::new() },
        ..Query::default()
    }
}

fn listing(ds: &Dataset, query: &Query, who: Asker) -> Listing {
    let clock = clock();
    let lens = Lens::new(ds, who, &clock);
    let at = table(ds, "Faults");
    query.asked_by(&lens, at).unwrap().listing(&lens, at, None, None)
}

/// Its lines as one reads them, each group with the lines that it says are its own.
fn drawn(listing: &Listing) -> String {
    let figures = |figures: &[westerfall_core::export::ListedFigure]| {
        figures.iter().map(|figure| format!("; {} {}", figure.word, figure.text)).collect::<String>()
    };
    let line = |line: &ListedLine| match line {
        ListedLine::Group(group) => {
            format!("{}{} ({}{}), {} lines", "  ".repeat(group.depth), group.text, group.counted, figures(&group.figures), group.lines)
        }
        ListedLine::Records(range) => format!("    {} records", range.len()),
        ListedLine::Foot(counted, all) => format!("= {counted}{}", figures(all)),
    };
    listing.lines.iter().map(line).collect::<Vec<_>>().join("\n")
}

#[test]
fn a_listing_has_heads_records_and_figures_in_the_order_of_the_view() {
    let ds = demo();
    let told = listing(&ds, &grouped(&ds, &[("District", Bucket::Value), ("Reported on", Bucket::Month)], true), asker(&ds, "Nadia"));
    assert_eq!(told.levels, ["District", "Reported on by month"]);
    insta::assert_snapshot!("a_listing_in_groups", drawn(&told));
}

#[test]
fn chosen_records_go_out_alone_in_the_view_s_groups_as_far_as_they_are_seen() {
    let (ds, clock) = (demo(), clock());
    let (at, nadia, tamsin) = (table(&ds, "Faults"), asker(&ds, "Nadia"), asker(&ds, "Tamsin"));
    let (all, hers) = (Lens::new(&ds, nadia, &clock), Lens::new(&ds, tamsin, &clock));
    let mut query = grouped(&ds, &[("District", Bucket::Value)], true);
    // Those that the view leaves out were chosen, too.
    query.condition = westerfall_core::condition::Condition::Any(Vec::new());
    let chosen: Vec<RecordId> = all.records(at).filter(|record| hers.sees(at, *record)).take(3).collect();
    let beyond = all.records(at).find(|record| !hers.sees(at, *record)).unwrap();
    let asked = [&chosen[..], &[beyond]].concat();
    let told = query.listing(&hers, at, None, Some(&asked));
    let mut records = told.records.clone();
    records.sort();
    assert_eq!(records, chosen);
    assert!(
        matches!(told.lines.last(), Some(ListedLine::Foot(counted, figures)) if counted == "3 faults" && figures.len() == 1),
        "{:?}",
        told.lines
    );
    assert_eq!(query.listing(&all, at, None, Some(&asked)).records.len(), 4);
    assert!(query.listing(&all, at, None, Some(&[])).records.is_empty());
}

const LEVELS: [(&str, Bucket); 6] = [
    ("District", Bucket::Value),
    ("Status", Bucket::Value),
    ("Reported on", Bucket::Month),
    ("Severity", Bucket::Value),
    ("Planned for", Bucket::Week),
    ("Section", Bucket::Value),
];

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, ..ProptestConfig::default() })]

    /// Whatever it is grouped by and whoever asks: every record of the view once, in its order, and each head over as many lines as
    /// it says, all of which have in common what it says.
    #[test]
    fn a_listing_holds_the_view_and_nothing_else(
        levels in prop::sample::subsequence(LEVELS.to_vec(), 0..=3).prop_shuffle(),
        tallied: bool,
        who in prop::sample::select(vec!["Nadia", "Tamsin", "Bex", "Wren"]),
    ) {
        let (ds, clock) = (demo(), clock());
        let query = grouped(&ds, &levels, tallied);
        let at = table(&ds, "Faults");
        let me = asker(&ds, who);
        let lens = Lens::new(&ds, me, &clock);
        let asked = query.asked_by(&lens, at).unwrap();
        let told = listing(&ds, &query, me);
        let window = asked.run(&lens, at, &Window { rows: 0..usize::MAX, ..Window::default() }).window;
        prop_assert_eq!(&told.records, &window);
        // The lines one by one, each with its depth; records are deeper than any head.
        let mut lines: Vec<(usize, Option<RecordId>)> = Vec::new();
        let mut heads = Vec::new();
        for line in &told.lines {
            match line {
                ListedLine::Group(group) => {
                    heads.push((lines.len(), group));
                    lines.push((group.depth, None));
                }
                ListedLine::Records(range) => lines.extend(told.records[range.clone()].iter().map(|record| (9, Some(*record)))),
                ListedLine::Foot(..) => {}
            }
        }
        let records: Vec<RecordId> = lines.iter().filter_map(|(_, record)| *record).collect();
        prop_assert_eq!(&records, &window);
        for (place, group) in heads {
            let beneath = lines[place + 1..].iter().take_while(|(depth, _)| *depth > group.depth).count();
            prop_assert_eq!(group.lines, beneath, "{}", group.text);
            let by = asked.groups[group.depth];
            for record in lines[place + 1..place + 1 + beneath].iter().filter_map(|(_, record)| *record) {
                let text = lens.text_at(at, record, by.field);
                if by.by == Bucket::Value {
                    let alike = if text.is_empty() { group.text.starts_with("No ") } else { group.text == text };
                    prop_assert!(alike, "{text:?} beneath {:?}", group.text);
                }
            }
        }
    }
}

fn calendar(ds: &Dataset) -> View {
    ds.views().find(|view| view.name == "Crews by the hour").expect("a view of the demo").clone()
}

fn entries(ds: &Dataset, view: &View, who: &str) -> Vec<CalendarEntry> {
    let clock = clock();
    let lens = Lens::new(ds, asker(ds, who), &clock);
    view.query.as_open_to(&lens, view.table).entries(&lens, view.table).map(|entries| entries.entries).unwrap_or_default()
}

#[test]
fn a_calendar_gives_each_record_on_each_of_its_days() {
    let ds = demo();
    let view = ds.views().find(|view| view.name == "Who is out when").expect("a view of the demo").clone();
    let Shape::Calendar(almanac) = &view.query.shape else { panic!("it is a calendar") };
    let [planned, finished] = [almanac.dates[0].start, almanac.dates[1].start];
    let name = |field: FieldId| ds.field(field).unwrap().1.name.clone();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let shown = view.query.run(&lens, view.table, &Window { rows: 0..usize::MAX, ..Window::default() }).window;
    let days = |record: RecordId, field: FieldId| match lens.reader(view.table, field).cell(record.row()).to_value() {
        Value::Date(day) => Some((record, field, EntryTime::Days(day, day))),
        Value::Instant(at) => Some((record, field, EntryTime::Hours(at, at))),
        _ => None,
    };
    let expected: Vec<_> = shown.into_iter().flat_map(|record| [days(record, planned), days(record, finished)]).flatten().collect();
    let told = entries(&ds, &view, "Nadia");
    assert!(!expected.is_empty());
    assert_eq!(told.iter().map(|entry| (entry.record, entry.date, entry.time)).collect::<Vec<_>>(), expected);
    // Which of its days it is stands in the title, where there are several.
    assert!(told.iter().all(|entry| entry.title.ends_with(&format!(": {}", name(entry.date)))));
    let only = told.iter().find(|entry| entry.date == planned).unwrap();
    assert_eq!(only.about.lines().next().unwrap().split_once(": ").unwrap().0, ds.field(view.query.fields[0].field).unwrap().1.name);
}

#[test]
fn hours_are_hours_last_as_long_as_is_said_and_never_end_before_they_begin() {
    let mut ds = demo();
    let view = calendar(&ds);
    let named = |ds: &Dataset, name: &str| field(ds, &format!("Work orders.{name}"));
    let (begins, lasts) = (named(&ds, "Planned time"), named(&ds, "Labour hours"));
    let record = entries(&ds, &view, "Nadia")[0].record;
    let nadia = asker(&ds, "Nadia");
    let set = |ds: &mut Dataset, field: FieldId, input: Input| {
        let edits = vec![Edit { field, input, was: None }];
        act(ds, nadia, &Intent::Edit { table: view.table, record, edits }).unwrap();
    };
    // The night in which clocks go back: from half past one, two and a half hours are two and a half hours.
    let at: jiff::Timestamp = "2026-10-25T00:30:00Z".parse().unwrap();
    set(&mut ds, begins, Input::Value(Value::Instant(at)));
    let until = |ds: &Dataset| entries(ds, &view, "Nadia").iter().find(|entry| entry.record == record).map(|entry| entry.time);
    set(&mut ds, lasts, Input::Text("2.5".into()));
    assert_eq!(until(&ds), Some(EntryTime::Hours(at, "2026-10-25T03:00:00Z".parse().unwrap())));
    for nothing in ["", "0"] {
        set(&mut ds, lasts, Input::Text(nothing.into()));
        assert_eq!(until(&ds), Some(EntryTime::Hours(at, at)), "{nothing:?}");
    }
}

#[test]
fn a_calendar_is_its_readers_own() {
    let ds = demo();
    let view = calendar(&ds);
    let clock = clock();
    let all = entries(&ds, &view, "Nadia");
    for who in ["Tamsin", "Bex", "Pavel", "Wren"] {
        let lens = Lens::new(&ds, asker(&ds, who), &clock);
        for entry in entries(&ds, &view, who) {
            assert!(lens.sees(view.table, entry.record), "{who}");
            let open = |name: &str| {
                view.query.fields.iter().any(|shown| lens.reads(view.table, shown.field) && ds.field(shown.field).unwrap().1.name == name)
            };
            let names = entry.about.lines().filter_map(|line| line.split_once(": ")).map(|(name, _)| name);
            assert!(all.iter().any(|other| other.record == entry.record));
            assert!(names.filter(|name| view.query.fields.iter().any(|f| ds.field(f.field).unwrap().1.name == *name)).all(open), "{who}");
        }
    }
    let rows = View { query: Query { shape: Shape::default(), ..view.query.clone() }, ..view.clone() };
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    assert!(rows.query.entries(&lens, rows.table).unwrap_err().message.contains("Only a calendar"));
}
