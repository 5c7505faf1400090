//! The hours of an almanac: who is bound when, who is bound twice at once, and who is free.

use crate::fixture::*;
use jiff::civil::Weekday;
use proptest::prelude::*;
use std::collections::BTreeSet;
use westerfall_core::{
    access::Lens,
    dataset::Dataset,
    id::{FieldId, RecordId, TableId},
    intent::{Edit, FieldChange, Intent},
    names::{Name, Names},
    value::{Input, Value},
    view::{Almanac, AlmanacDate, Asked, Beneath, DayHours, Length, Query, Shape, Stretch, View, WorkingHours},
};

fn crews(ds: &Dataset) -> View {
    ds.views().find(|view| view.name == "Crews by the hour").expect("a view of the demo").clone()
}

fn almanac(query: &mut Query) -> &mut Almanac {
    match &mut query.shape {
        Shape::Calendar(almanac) => almanac,
        _ => panic!("it is a calendar"),
    }
}

/// The hours of some days, from so many days from today.
fn hours(ds: &Dataset, query: &Query, table: TableId, who: &str, days: std::ops::Range<i64>) -> Stretch {
    let clock = clock();
    let day = |days: i64| clock.today().checked_add(jiff::Span::new().days(days)).unwrap();
    let asked =
        Asked { from: day(days.start), to: day(days.end - 1), of_a_day: 400, waiting: 0, hours: true, week_begins: Weekday::Monday };
    query.stretch(&Lens::new(ds, asker(ds, who), &clock), table, &asked)
}

/// Puts work orders on tomorrow, each with its leader, its hour (in half hours from midnight) and how many hours it lasts.
fn with_orders(orders: &[(Option<&str>, u8, &str)]) -> (Dataset, View, Vec<RecordId>) {
    let mut ds = demo();
    let view = crews(&ds);
    let nadia = asker(&ds, "Nadia");
    let clock = clock();
    let named = |name: &str| field(&ds, &format!("Work orders.{name}"));
    let (begins, leader, lasts) = (named("Planned time"), named("Crew leader"), named("Labour hours"));
    let all = records(&ds, view.table);
    let midnight = clock.today().tomorrow().unwrap().to_zoned(clock.zone.clone()).unwrap();
    let edit = |field: FieldId, input: Input| Edit { field, input, was: None };
    let records: Vec<RecordId> = all.iter().copied().take(orders.len()).collect();
    for record in &all {
        let edits = vec![edit(begins, Input::Value(Value::Empty))];
        act(&mut ds, nadia, &Intent::Edit { table: view.table, record: *record, edits }).ok();
    }
    for (record, (who, at, length)) in records.iter().zip(orders) {
        let who = who.map_or(Value::Empty, |who| Value::Person(person(&ds, who)));
        let at = midnight.checked_add(jiff::Span::new().minutes(i64::from(*at) * 30)).unwrap().timestamp();
        let edits = vec![
            edit(begins, Input::Value(Value::Instant(at))),
            edit(leader, Input::Value(who)),
            edit(lasts, Input::Text((*length).into())),
        ];
        act(&mut ds, nadia, &Intent::Edit { table: view.table, record: *record, edits }).unwrap();
    }
    let mut view = view;
    almanac(&mut view.query).beneath = None;
    (ds, view, records)
}

fn tomorrow(orders: &[(Option<&str>, u8, &str)]) -> DayHours {
    let (ds, view, _) = with_orders(orders);
    hours(&ds, &view.query, view.table, "Nadia", 1..2).hours.remove(0)
}

fn says(day: &DayHours) -> Vec<String> {
    let thread = |thread: &westerfall_core::view::Thread| {
        let twice: String = thread.twice.iter().map(|twice| format!("; {}", twice.says)).collect();
        format!("{}: {}{twice}", thread.name, thread.says).replace('\u{a0}', " ")
    };
    day.threads.iter().map(thread).collect()
}

#[test]
fn who_leads_two_at_once_is_told_from_when_to_when() {
    let day = tomorrow(&[
        (Some("Tamsin"), 17, "3"),
        (Some("Tamsin"), 22, "1.5"),
        (Some("Tamsin"), 24, "4"),
        (Some("Tamsin"), 25, "1"),
        (Some("Idris"), 16, "2"),
    ]);
    insta::assert_snapshot!(says(&day).join("\n"), @r"
    Idris Pell: 1 work order, 2 h
    Tamsin Oake: 4 work orders, 9.5 h; two at once 11:00 to 11:30; two at once 12:00 to 13:30
    ");
    let free: Vec<String> = day.free.iter().map(|free| format!("{} {}", free.names.join(", "), free.says)).collect();
    insta::assert_snapshot!(free.join("\n"), @r"
    Idris Pell from 10:00
    Tamsin Oake until 8:30 and from 16:00
    ");
}

#[test]
fn one_after_the_other_is_not_twice() {
    let day = tomorrow(&[(Some("Tamsin"), 16, "2"), (Some("Tamsin"), 20, "1")]);
    assert!(day.threads.iter().all(|thread| thread.twice.is_empty()));
}

#[test]
fn where_nobody_is_named_nobody_is_bound() {
    let day = tomorrow(&[(None, 16, "2"), (None, 16, "2")]);
    let last = day.threads.last().unwrap();
    assert_eq!((last.who.clone(), last.name.as_str(), last.strokes.len()), (Value::Empty, "", 2));
    assert!(last.twice.is_empty() && last.free.is_empty());
}

#[test]
fn what_has_no_length_stands_at_its_hour_and_binds_nobody() {
    let (ds, mut view, _) = with_orders(&[(Some("Tamsin"), 18, "3"), (Some("Tamsin"), 19, "3")]);
    almanac(&mut view.query).lasts = None;
    let day = hours(&ds, &view.query, view.table, "Nadia", 1..2).hours.remove(0);
    let strokes = &day.threads.iter().find(|thread| !thread.strokes.is_empty()).unwrap().strokes;
    assert!(strokes.iter().all(|stroke| stroke.length == Length::Moment && stroke.from == stroke.to));
    assert!(day.threads.iter().all(|thread| thread.twice.is_empty()));
}

#[test]
fn what_runs_over_midnight_is_on_both_days() {
    let (ds, view, records) = with_orders(&[(Some("Tamsin"), 44, "5")]);
    let stretch = hours(&ds, &view.query, view.table, "Nadia", 1..4);
    let on = |day: usize| {
        let strokes = stretch.hours[day].threads.iter().flat_map(|thread| &thread.strokes);
        strokes.filter(|stroke| stroke.record == records[0]).map(|s| (s.from, s.to, s.before, s.behind)).collect::<Vec<_>>()
    };
    assert_eq!(on(0), [(22 * 60, 24 * 60, false, true)]);
    assert_eq!(on(1), [(0, 3 * 60, true, false)]);
    assert_eq!(on(2), []);
}

#[test]
fn the_turn_of_the_clocks_moves_no_hour() {
    let mut ds = demo();
    let view = crews(&ds);
    let nadia = asker(&ds, "Nadia");
    let record = records(&ds, view.table)[0];
    let begins = field(&ds, "Work orders.Planned time");
    let clock = clock();
    // The night in which the clocks go forward.
    let day = jiff::civil::date(clock.today().year(), 3, 1);
    let day =
        (28..=31).rev().map(|n| day.with().day(n).build().unwrap()).find(|day| day.weekday() == jiff::civil::Weekday::Sunday).unwrap();
    let at = day.at(9, 30, 0, 0).to_zoned(clock.zone.clone()).unwrap().timestamp();
    let edits = vec![Edit { field: begins, input: Input::Value(Value::Instant(at)), was: None }];
    act(&mut ds, nadia, &Intent::Edit { table: view.table, record, edits }).unwrap();
    let asked = Asked { from: day, to: day, of_a_day: 9, waiting: 0, hours: true, week_begins: Weekday::Monday };
    let stretch = view.query.stretch(&Lens::new(&ds, nadia, &clock), view.table, &asked);
    let strokes = stretch.hours[0].threads.iter().flat_map(|thread| &thread.strokes);
    assert_eq!(strokes.filter(|stroke| stroke.record == record).map(|stroke| stroke.from).collect::<Vec<_>>(), [9 * 60 + 30]);
}

#[test]
fn another_tables_days_lie_beneath_and_bind_the_same_people() {
    let ds = demo();
    let view = crews(&ds);
    let all = |who: &str| hours(&ds, &view.query, view.table, who, 0..7).hours;
    let beneath = |days: &[DayHours]| {
        let threads = days.iter().flat_map(|day| &day.threads);
        let strokes = threads.flat_map(|thread| thread.strokes.iter().map(move |stroke| (thread, stroke)));
        strokes
            .filter(|(_, stroke)| stroke.date.is_none())
            .map(|(thread, s)| (thread.name.clone(), s.name.clone(), s.length == Length::Day))
            .collect::<BTreeSet<_>>()
    };
    // So many days reach a party of the demo, whichever day it is begun on.
    let far: BTreeSet<_> =
        (0..12).flat_map(|week| beneath(&hours(&ds, &view.query, view.table, "Nadia", week * 7 - 42..week * 7 - 35).hours)).collect();
    assert!(!far.is_empty());
    assert!(far.iter().all(|(who, name, length)| !who.is_empty() && !name.is_empty() && *length), "{far:?}");
    // A reader sees what is theirs: nothing of a table that is not open.
    let parties = table(&ds, "Work parties");
    let clock = clock();
    for who in ["Wren", "Tamsin", "Pavel"] {
        let lens = Lens::new(&ds, asker(&ds, who), &clock);
        let open = view.query.as_open_to(&lens, view.table);
        let said = westerfall_core::sentence::as_text(&view.query.to_sentence(&lens, view.table, 9, 9, None));
        let mut shape = open.clone();
        let lies = matches!(&shape.shape, Shape::Calendar(_)) && almanac(&mut shape).beneath.is_some();
        if !lens.opens(parties) {
            assert!(beneath(&all(who)).is_empty(), "{who}");
            assert!(!lies && !said.contains("work parties"), "{who}: {said}");
        }
    }
}

#[test]
fn what_does_not_fit_an_almanac_is_said() {
    let ds = demo();
    let view = crews(&ds);
    let of = |name: &str| field(&ds, &format!("Work orders.{name}"));
    let parties = table(&ds, "Work parties");
    let told = |change: &dyn Fn(&mut Almanac)| {
        let mut query = view.query.clone();
        change(almanac(&mut query));
        let faults = query.check(&ds, view.table).unwrap_err().0;
        faults.iter().map(|fault| format!("{} {}", fault.pointer, fault.message)).collect::<Vec<_>>().join("\n")
    };
    let what = field(&ds, "Work parties.What");
    insta::assert_snapshot!(
        [
            told(&|a| a.who = Some(of("Number"))),
            told(&|a| a.lasts = Some(of("Crew leader"))),
            told(&|a| a.working = WorkingHours { from: 18, to: 9 }),
            told(&|a| a.beneath = Some(Beneath { table: parties, date: AlmanacDate::of(what), who: None })),
            told(&|a| a.beneath = Some(Beneath { table: view.table, date: AlmanacDate::of(what), who: None })),
        ]
        .join("\n"),
        @r"
    /shape/who “Number” holds none of these. Lines stand for people, choices or linked records.
    /shape/lasts “Crew leader” is neither. How long a record lasts is a number of hours, or a duration.
    /shape/working The hours of work begin before they end, and end by 24.
    /shape/beneath What lies beneath a calendar goes by days or moments.
    /shape/beneath What lies beneath this calendar is not there any more.
    "
    );
}

#[test]
fn a_calendar_does_without_a_line_for_each_where_its_field_is_gone() {
    let mut ds = demo();
    let view = crews(&ds);
    let nadia = asker(&ds, "Nadia");
    let (leader, when) = (field(&ds, "Work orders.Crew leader"), field(&ds, "Work parties.When"));
    act(&mut ds, nadia, &Intent::Fields { table: view.table, change: FieldChange::Remove(leader) }).unwrap();
    let without = |name: Name| name == Name::Field(when);
    let mut now = ds.views().find(|one| one.id == view.id).unwrap().query.without(&without);
    let almanac = almanac(&mut now);
    assert_eq!((almanac.who, almanac.beneath), (None, None));
    assert_eq!(almanac.dates.len(), 1);
}

proptest! {
    /// Of each line, what is twice is where at least two strokes overlap, and free is where none is, minute by minute.
    #[test]
    fn twice_and_free_are_what_the_minutes_say(orders in prop::collection::vec((prop::sample::select(vec!["Tamsin", "Idris"]), 12_u8..36, 1_u8..9), 1..7)) {
        let lengths: Vec<String> = orders.iter().map(|(.., halves)| format!("{}.{}", halves / 2, halves % 2 * 5)).collect();
        let orders: Vec<(Option<&str>, u8, &str)> = orders.iter().zip(&lengths).map(|((who, at, _), length)| (Some(*who), *at, length.as_str())).collect();
        let day = tomorrow(&orders);
        for thread in &day.threads {
            for minute in 0..24 * 60 {
                let depth = thread.strokes.iter().filter(|stroke| stroke.from <= minute && minute < stroke.to).count();
                let twice = thread.twice.iter().any(|twice| twice.from <= minute && minute < twice.to);
                prop_assert_eq!(twice, depth > 1, "{} at {}", thread.name, minute);
                let free = thread.free.iter().any(|free| free.from <= minute && minute < free.to);
                prop_assert!(!free || depth == 0);
            }
        }
    }
}

#[test]
fn the_first_days_and_the_last_that_there_are_have_hours_too() {
    let (ds, clock) = (demo(), clock());
    let view = crews(&ds);
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    for (from, to) in [("0001-01-01", "0001-01-03"), ("9999-12-29", "9999-12-31"), ("-009999-01-01", "-009999-01-03")] {
        let asked = Asked {
            from: from.parse().unwrap(),
            to: to.parse().unwrap(),
            of_a_day: 9,
            waiting: 9,
            hours: true,
            week_begins: Weekday::Monday,
        };
        let told = view.query.stretch(&lens, view.table, &asked);
        assert_eq!(told.hours.len(), 3, "{from}");
        assert!(told.hours.iter().all(|day| day.threads.iter().all(|thread| thread.strokes.is_empty())), "{from}");
    }
}

/// Whichever day weeks begin on, each weighs what begins on its own days, and together they weigh all of the stretch.
#[test]
fn weeks_weigh_their_own_days_whenever_they_begin() {
    let ds = demo();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let view = ds.views().find(|view| view.name == "Who is out when").unwrap();
    let (from, to) = ("2026-10-26".parse().unwrap(), "2026-12-06".parse().unwrap());
    for (week_begins, first) in [(Weekday::Monday, "2026-10-26"), (Weekday::Sunday, "2026-10-25"), (Weekday::Saturday, "2026-10-24")] {
        let asked = Asked { from, to, of_a_day: 400, waiting: 0, hours: false, week_begins };
        let stretch = view.query.stretch(&lens, view.table, &asked);
        assert_eq!(stretch.weeks[0].start.to_string(), first);
        for week in &stretch.weeks {
            assert_eq!(week.start.weekday(), week_begins);
            let end = week.start.checked_add(jiff::Span::new().days(7)).unwrap();
            let wide = Asked { from: week.start, to: end.yesterday().unwrap(), ..asked };
            let marks = view.query.stretch(&lens, view.table, &wide).marks;
            let begun = marks.iter().filter(|mark| mark.date == 0 && (week.start..end).contains(&mark.start)).count();
            assert_eq!(week.count, begun, "the week from {}", week.start);
            assert_eq!(week.tallies.is_empty(), begun == 0);
        }
    }
    // The calendar’s own ends are no fault.
    for day in [jiff::civil::Date::MIN, jiff::civil::Date::MAX] {
        let asked = Asked { from: day, to: day, of_a_day: 9, waiting: 0, hours: false, week_begins: Weekday::Sunday };
        assert!(view.query.stretch(&lens, view.table, &asked).weeks.len() <= 1);
    }
}
