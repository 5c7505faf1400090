//! Home: what it tells of others' doings, and of nobody's beyond what one may see.

use crate::fixture::*;
use jiff::{SignedDuration, Timestamp};
use proptest::prelude::*;
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    home::{HomeCounts, HomeOrder, Report, STROKES, Since, home_sentence, home_title, on_you},
    id::TrackerId,
    intent::{Edit, Intent},
    rounds::Duty,
    sentence::as_text,
};

fn report(ds: &Dataset, who: &str, since: Option<Timestamp>) -> Report {
    Lens::new(ds, asker(ds, who), &clock()).report(since, true)
}

fn text(report: &Report) -> String {
    report.says.iter().map(|piece| piece.text.as_str()).collect()
}

fn now() -> Timestamp {
    clock().now
}

/// The demo, and at half past nine what a few of them do.
fn morning() -> Dataset {
    let mut ds = demo();
    let faults = table(&ds, "Faults");
    let title = field(&ds, "Faults.What is wrong");
    let (bex, nadia) = (asker(&ds, "Bex"), asker(&ds, "Nadia"));
    let add = |text: &str, section: u32| Intent::Add {
        table: faults,
        records: vec![vec![(title, typed(text)), (field(&demo(), "Faults.Section"), links(&[section]))]],
    };
    act(&mut ds, bex, &add("Stile rotten", 1)).unwrap();
    for record in records(&ds, faults).into_iter().take(3) {
        let hours = Edit { field: field(&ds, "Faults.Hours needed"), input: typed("7"), was: None };
        act(&mut ds, nadia, &Intent::Edit { table: faults, record, edits: vec![hours] }).unwrap();
    }
    ds
}

#[test]
fn it_tells_what_others_did_and_names_the_few_that_came() {
    let ds = morning();
    let since = Some(now() - SignedDuration::from_secs(1));
    let told = report(&ds, "Nadia", since);
    assert_eq!((told.count, text(&told).as_str()), (1, "1 fault came in, by Bex Lindqvist: Stile rotten."));
    assert_eq!(told.since, "09:29 today");
    assert_eq!((told.strokes.len(), told.strokes.iter().sum::<u32>()), (usize::from(STROKES), 1));
    assert!(told.says.iter().any(|piece| piece.record.is_some() && piece.table == Some(table(&ds, "Faults"))));
    // Bex is told of Nadia's doings and not of her own.
    assert_eq!(text(&report(&ds, "Bex", since)), "3 faults were changed, all by Nadia Ferreira-Holt.");
    // Both are news to the trustee.
    assert_eq!(
        text(&report(&ds, "Pavel", since)),
        "1 fault came in, by Bex Lindqvist: Stile rotten; 3 were changed, all by Nadia Ferreira-Holt."
    );
}

#[test]
fn where_nothing_happened_it_says_who_was_last_and_to_whom_it_is_new() {
    let ds = morning();
    let told = report(&ds, "Pavel", Some(now()));
    assert_eq!(text(&told), "is as you left it; the last to change it was Bex Lindqvist, at 09:30 today.");
    assert!(told.strokes.is_empty() && told.count == 0);
    assert_eq!(text(&report(&ds, "Bex", Some(now()))), "is as you left it; you were the last to change it, at 09:30 today.");
    assert!(text(&report(&ds, "Pavel", None)).starts_with("is new to you. There are 6 districts, 64 sections, "));
    let quiet = Lens::new(&ds, asker(&ds, "Pavel"), &clock()).report(Some(now()), false);
    assert!(text(&quiet).starts_with("was quiet; "));
}

#[test]
fn home_is_told_in_one_sentence_and_from_a_moment_in_words() {
    let sentence = |[things, trackers, on_you, loose]: [usize; 4], since, order| {
        as_text(&home_sentence(HomeCounts { things, trackers, on_you, loose }, since, order, &clock()))
    };
    assert_eq!(
        sentence([41, 3, 6, 4], Since::Looked, HomeOrder::Area),
        "41 things happened in the 3 trackers that you may open, 6 are on you today and 4 hang loose, told since you last looked, by area."
    );
    assert_eq!(
        sentence([1, 1, 1, 0], Since::Week, HomeOrder::Name),
        "1 thing happened in the tracker that you may open and 1 is on you today, told of the last 7 days, by name."
    );
    assert_eq!(
        sentence([0, 2, 0, 1], Since::Day, HomeOrder::Recent),
        "Nothing happened in the 2 trackers that you may open and 1 hangs loose, told of the last 24 hours, last looked at first."
    );
    let title = |ago: i64| home_title(Since::Looked, Some(now() - SignedDuration::from_hours(ago)), &clock());
    assert_eq!(title(1), "Since 08:30 today");
    assert_eq!(title(16), "Since yesterday at 17:30");
    assert_eq!(title(100), "Since 19 Nov at 05:30");
    assert_eq!(title(24 * 400), "Since 19 Oct 2025 at 10:30");
    assert_eq!(home_title(Since::Looked, None, &clock()), "Your trackers");
}

/// Of many tables it tells of those where most happened, and of the rest in one.
#[test]
fn of_many_tables_the_busiest_are_told_and_the_rest_is_counted() {
    let ds = demo();
    let told = Lens::new(&ds, asker(&ds, "Pavel"), &clock()).report(Some(now() - SignedDuration::from_hours(24 * 400)), true);
    let words = text(&told);
    assert!(words.ends_with(" records came or changed in 4 other tables."), "{words}");
    let busiest = told.says.iter().filter_map(|piece| piece.table).collect::<std::collections::BTreeSet<_>>();
    assert_eq!(busiest.len(), 4);
}

/// What is late or comes today, and is not done; tracker by tracker, the longest late first, never more than one can take in.
#[test]
fn what_has_come_to_its_day_is_on_you() {
    let today = clock().today();
    let day = |days: i64| today.checked_add(jiff::Span::new().days(days)).ok();
    let tracker = TrackerId::new(1);
    let duty = |name: &str, days: Option<i64>, tracker: Option<TrackerId>| {
        let mut duty = Duty { name: name.into(), tracker, ..Duty::default() };
        duty.fall(days.and_then(day).map(|day| (day, day)), &clock());
        duty
    };
    let mut duties: Vec<Duty> = (0..7).map(|n| duty(&format!("late {n}"), Some(-n), tracker)).collect();
    duties.push(duty("tomorrow", Some(1), tracker));
    duties.push(duty("some day", None, tracker));
    duties.push(Duty { done: Some("done 09:00".into()), ..duty("done", Some(-9), tracker) });
    duties.push(duty("of no tracker", Some(0), None));
    let mut over = duty("a span that goes on", None, None);
    over.fall(day(-2).zip(day(2)), &clock());
    duties.push(over);
    let told = on_you(duties, today);
    let names = |of: Option<TrackerId>| told[&of].duties.iter().map(|duty| duty.name.as_str()).collect::<Vec<_>>();
    assert_eq!(names(tracker), ["late 6", "late 5", "late 4", "late 3"]);
    assert_eq!((told[&tracker].more, told[&tracker].count()), (3, 7));
    assert_eq!(names(None), ["a span that goes on", "of no tracker"]);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// It counts and names what the asker may see, and nothing beyond; each thing once; nobody's own doings.
    #[test]
    fn it_tells_of_what_is_in_sight_alone(who in 1_u32..=8, hours in 1_i64..3_000) {
        let ds = morning();
        let me = ds.people.iter().find(|p| p.id.get() == who).unwrap();
        let clock = clock();
        let lens = Lens::new(&ds, Asker::Person(me.id), &clock);
        let since = now() - SignedDuration::from_hours(hours);
        let told = lens.report(Some(since), true);
        let mut seen = 0;
        for home in ds.tables() {
            for record in records(&ds, home.def.id) {
                let meta = kept(&ds, home.def.id, record).unwrap().meta;
                let by = if meta.created_at > since { meta.created_by } else { meta.changed_by };
                let others = by != westerfall_core::people::Actor::Person(me.id);
                seen += usize::from(meta.changed_at > since && others && lens.sees(home.def.id, record));
            }
        }
        prop_assert_eq!(told.count, seen);
        prop_assert_eq!(told.strokes.iter().map(|count| *count as usize).sum::<usize>(), seen);
        for piece in &told.says {
            if let (Some(table), Some(record)) = (piece.table, piece.record) {
                prop_assert!(lens.sees(table, record));
            } else if let Some(table) = piece.table {
                prop_assert!(lens.opens(table));
            }
        }
    }
}
