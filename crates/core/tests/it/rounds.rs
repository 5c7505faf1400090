//! Rounds: what is on somebody, in its days; tasks; and what people are told in their inbox.

use crate::{fixture::*, world::*};
use jiff::civil::date;
use westerfall_core::{
    access::{Asker, Lens},
    automation::Occasion,
    history::Op,
    id::{FieldId, PersonId, RecordId},
    inbox::{News, Notice},
    intent::{Intent, TableChange},
    part::Part,
    rounds::{DiarySort, Duty, InTracker, NewTask, Task, TaskStep, diary, morning},
    schema::{Finish, Rounds},
    sentence::as_text,
    talk::{TalkPart, TalkStep},
    value::Value,
};

impl World {
    fn duties(&self, looks: &str, of: &str) -> Vec<Duty> {
        Lens::new(&self.ds, asker(&self.ds, looks), &self.clock).rounds(person(&self.ds, of))
    }

    /// The records of a table that are there.
    fn live(&self, name: &str) -> Vec<RecordId> {
        let (table, lens) = (self.at(name), Lens::of_everything(&self.ds, None, &self.clock));
        (1..=2_000).map(record).filter(|record| lens.sees(table, *record)).collect()
    }

    fn told(&self, notices: &[Notice], to: PersonId) -> Vec<String> {
        let lens = Lens::new(&self.ds, Asker::Person(to), &self.clock);
        let mine = notices.iter().filter(|notice| notice.to == to);
        mine.filter_map(|notice| lens.notice(notice))
            .inspect(|told| assert!(told.why.starts_with("You are told since ") && told.why.ends_with('.'), "{told:?}"))
            .map(|told| format!("{}{}", as_text(&told.says), told.name.unwrap_or_default()))
            .collect()
    }
}

fn notices(moves: &[westerfall_core::automation::Move], world: &World) -> Vec<Notice> {
    moves.iter().flat_map(|of| of.notices(&Lens::new(&of.after, Asker::Westerfall, &world.clock))).collect()
}

#[test]
fn a_wardens_rounds_hold_what_is_theirs_and_open_and_nothing_else() {
    let world = World::new();
    let duties = world.duties("Tamsin", "Tamsin");
    let (faults, status) = (world.at("Faults"), world.f("Faults.Status"));
    let closed = ["made good", "no action"].map(|name| world.option(&format!("Faults.Status.{name}")));
    let district = field(&world.ds, "Faults.District");
    let lens = Lens::of_everything(&world.ds, None, &world.clock);
    let mine = world.live("Faults").into_iter().filter(|record| {
        lens.text_at(faults, *record, district) == "Eskermoor" && !closed.contains(&value(&world.ds, faults, *record, status))
    });
    let mine: Vec<RecordId> = mine.collect();
    let told: Vec<RecordId> = duties.iter().filter(|duty| duty.table == Some(faults)).map(|duty| duty.record.unwrap()).collect();
    assert_eq!(told, mine);
    let one = duties.iter().find(|duty| duty.table == Some(faults)).unwrap();
    assert_eq!((one.why.as_str(), one.verb.as_deref()), ("as warden of Eskermoor", Some("made good")));
    assert_eq!(one.fixed.as_deref(), Some("Its day is calculated and can’t be moved."));
    // A section comes round again and is done by noting the day.
    let section = duties.iter().find(|duty| duty.table == Some(world.at("Sections"))).unwrap();
    assert_eq!(section.verb.as_deref(), Some("inspected"));
    assert_eq!(section.does.as_ref().unwrap().value, Value::Date(world.clock.today()));
}

#[test]
fn what_is_done_stays_until_midnight_and_then_goes() {
    let mut world = World::new();
    let tamsin = asker(&world.ds, "Tamsin");
    let duty = world.duties("Tamsin", "Tamsin").into_iter().find(|duty| duty.verb.as_deref() == Some("made good")).unwrap();
    let (does, record) = (duty.does.clone().unwrap(), duty.record.unwrap());
    let edits = vec![westerfall_core::intent::Edit {
        field: does.field,
        input: westerfall_core::value::Input::Value(does.value),
        was: Some(does.was),
    }];
    world.act(tamsin, &Intent::Edit { table: duty.table.unwrap(), record, edits });
    let done = world.duties("Tamsin", "Tamsin").into_iter().find(|one| one.record == Some(record) && one.table == duty.table).unwrap();
    assert!(done.done.as_deref().unwrap().starts_with("made good "), "{done:?}");
    assert!(done.verb.is_none() && done.does.is_none() && done.moves.is_none());
    world.later(24);
    assert!(!world.duties("Tamsin", "Tamsin").iter().any(|one| one.record == Some(record) && one.table == duty.table));
}

#[test]
fn of_others_one_is_told_what_one_sees_and_may_do_what_one_may() {
    let world = World::new();
    let whole = world.duties("Nadia", "Tamsin");
    assert!(whole.len() >= world.duties("Tamsin", "Tamsin").len());
    assert!(
        world.duties("Idris", "Tamsin").iter().all(|duty| duty.table != Some(world.at("Faults"))),
        "a warden sees their own district alone"
    );
    let reads = world.duties("Pavel", "Tamsin");
    assert!(reads.iter().all(|duty| duty.verb.is_none() && duty.moves.is_none() && duty.gives.is_none()), "a trustee changes nothing");
    // Whoever may not read whose a record is, is told of none.
    assert!(world.duties("Wren", "Tamsin").iter().all(|duty| duty.table != Some(world.at("Faults"))));
}

#[test]
fn the_diary_puts_the_longest_late_first_then_each_day_and_keeps_the_free_ones_near() {
    let world = World::new();
    let today = world.clock.today();
    let on = |name: &str, days: Option<(i64, i64)>, rank: usize| {
        let mut duty = Duty { name: name.into(), ..Duty::default() };
        let at = |n: i64| today.checked_add(jiff::Span::new().days(n)).unwrap();
        duty.fall(days.map(|(first, last)| (at(first), at(last))), &world.clock);
        duty.urgency =
            (rank > 0).then(|| westerfall_core::rounds::Urgency { text: "x".into(), hue: westerfall_core::schema::Hue::Rowan, rank });
        duty
    };
    let duties = vec![
        on("tomorrow", Some((1, 1)), 0),
        on("late", Some((-3, -3)), 0),
        on("longest", Some((-30, -25)), 0),
        on("begun", Some((-1, 2)), 0),
        on("today, urgent", Some((0, 0)), 2),
        on("far", Some((40, 40)), 0),
        on("undated", None, 0),
        Duty { done: Some("done 08:00".into()), ..on("done", Some((-9, -9)), 0) },
    ];
    let trackers = vec![InTracker { id: westerfall_core::id::TrackerId::new(1).unwrap(), name: "Paths".into(), count: 0 }];
    let told = diary(duties, trackers, "Tamsin Oake", true, &world.clock);
    let line = |section: &westerfall_core::rounds::DiarySection| {
        let names: Vec<&str> = section.duties.iter().map(|duty| duty.name.as_str()).collect();
        format!("{:?} {}: {}", section.sort, section.title, names.join(", "))
    };
    let lines: Vec<String> = told.sections.iter().map(line).collect();
    assert_eq!(lines[0], "Late Late: longest, late");
    assert!(lines[1].starts_with("Today Today: "), "{lines:?}");
    let today_names: Vec<&str> = told.sections[1].duties.iter().map(|duty| duty.name.as_str()).collect();
    assert_eq!(today_names, ["done", "today, urgent", "begun"]);
    assert_eq!(told.sections.iter().filter(|section| section.sort == DiarySort::Day).count(), 7, "{lines:?}");
    assert_eq!(&lines[lines.len() - 2..], ["Later Later: far", "Undated Without a day: undated"]);
    assert_eq!((told.count, told.sections[0].about.as_str()), (7, "2, the longest for 25 days"));
    assert_eq!(told.sections[0].duties[0].late_text, "25 days late");
    assert!(as_text(&told.says).starts_with("7 things are on you"), "{:?}", told.says);
}

#[test]
fn a_tables_rule_reads_back_is_checked_and_loses_what_it_can_not_do_without() {
    let mut world = World::new();
    let faults = world.at("Faults");
    let lens = Lens::new(&world.ds, world.nadia(), &world.clock);
    let rounds = world.ds.table(faults).unwrap().def.rounds.clone().unwrap();
    insta::assert_snapshot!(as_text(&rounds.in_words(&lens, faults)), @"A fault is on the rounds of its section’s district’s warden, by due, until status is made good or no action, urgent by severity, told with number and section.");
    let wrong = |world: &World, rounds: Rounds| {
        let change = TableChange::Rounds { table: faults, rounds: Some(rounds) };
        let faults = world.ds.decide(&Intent::Table(change), world.nadia(), &world.clock).unwrap_err();
        faults.0[0].pointer.clone()
    };
    let title = world.f("Faults.What is wrong");
    assert_eq!(wrong(&world, Rounds { who: vec![title], ..rounds.clone() }), "/who");
    assert_eq!(wrong(&world, Rounds { due: Some(title), ..rounds.clone() }), "/due");
    assert_eq!(wrong(&world, Rounds { done: Finish::Yes(title), ..rounds.clone() }), "/done");
    assert_eq!(wrong(&world, Rounds { urgency: Some(title), ..rounds.clone() }), "/urgency");
    assert_eq!(wrong(&world, Rounds { tells: vec![FieldId::new(9_999).unwrap()], ..rounds.clone() }), "/tells");
    // Whoever does not build it does not say it.
    let change = TableChange::Rounds { table: faults, rounds: None };
    assert!(world.ds.decide(&Intent::Table(change.clone()), asker(&world.ds, "Bex"), &world.clock).is_err());
    world.act(world.nadia(), &Intent::Table(change));
    assert!(world.duties("Nadia", "Tamsin").iter().all(|duty| duty.table != Some(faults)));
}

#[test]
fn a_task_is_gone_on_with_by_whoever_is_asked_and_whoever_asks_and_by_nobody_else() {
    let world = World::new();
    let people = &world.ds.people;
    let id = |name: &str| person(&world.ds, name);
    let asks =
        NewTask { what: "  Ring   the farmer ".into(), note: String::new(), who: id("Tamsin"), due: None, urgent: false, about: None };
    let asks = asks.checked(people).unwrap();
    assert_eq!(asks.what, "Ring the farmer");
    let fault = |asks: NewTask| asks.checked(people).unwrap_err().pointer;
    assert_eq!(fault(NewTask { what: " ".into(), ..asks.clone() }), "/what");
    assert_eq!(fault(NewTask { what: "x".repeat(201), ..asks.clone() }), "/what");
    assert_eq!(fault(NewTask { note: "x".repeat(2_001), ..asks.clone() }), "/note");
    assert_eq!(fault(NewTask { who: PersonId::new(4_000).unwrap(), ..asks.clone() }), "/who");

    let task = Task { number: 1, by: id("Nadia"), asks, made: world.clock.now, done: None };
    assert!(task.after(&TaskStep::Done, id("Idris"), people, &world.clock).is_err(), "it is not theirs");
    assert!(task.after(&TaskStep::Drop, id("Tamsin"), people, &world.clock).is_err(), "whoever is asked does not take it back");
    assert_eq!(task.after(&TaskStep::Drop, id("Nadia"), people, &world.clock).unwrap(), None);
    let done = task.after(&TaskStep::Done, id("Tamsin"), people, &world.clock).unwrap().unwrap();
    assert_eq!(done.done, Some(world.clock.now));
    assert_eq!(done.after(&TaskStep::Undone, id("Tamsin"), people, &world.clock).unwrap().unwrap(), task);
    let given = task.after(&TaskStep::Give(id("Idris")), id("Tamsin"), people, &world.clock).unwrap().unwrap();
    assert_eq!(given.asks.who, id("Idris"));
    let moved = task.after(&TaskStep::Move(Some(date(2020, 1, 1))), id("Tamsin"), people, &world.clock).unwrap().unwrap();
    assert!(moved.stands(&world.clock).ends_with("days late"), "{}", moved.stands(&world.clock));
    let duty = moved.duty(None, id("Tamsin"), people, &world.clock);
    assert!(duty.late > 2_000 && duty.why == "Nadia Ferreira-Holt gave it today", "{duty:?}");
}

#[test]
fn one_is_told_of_what_others_say_give_and_answer_and_never_of_ones_own_doing() {
    let mut world = World::new();
    let (nadia, tamsin, bex) = (person(&world.ds, "Nadia"), person(&world.ds, "Tamsin"), person(&world.ds, "Bex"));
    let orders = world.at("Work orders");
    let moves = world.put("Work orders.Crew leader", 5, Value::Person(tamsin));
    let found = notices(&moves, &world);
    assert_eq!(found.len(), 1, "{found:?}");
    assert_eq!(found[0].to, tamsin);
    let to_oneself = world.put("Work orders.Crew leader", 5, Value::Person(nadia));
    assert!(notices(&to_oneself, &world).is_empty());

    let said = vec![TalkPart::Person(bex), TalkPart::Text(" can you look?".into())];
    let step = TalkStep::Say { said, files: Vec::new(), answers: None };
    let moves = world.act(world.nadia(), &Intent::Talk { table: orders, record: record(5), step });
    let found = notices(&moves, &world);
    assert!(matches!(&found[..], [Notice { to, of: News::Said(_), .. }] if *to == bex), "{found:?}");
    let told = world.told(&found, bex);
    assert!(told[0].starts_with("Nadia Ferreira-Holt names you on "), "{told:?}");
    // Whoever may not see it is told nothing of it.
    let stranger = Notice { to: person(&world.ds, "Wren"), ..found[0].clone() };
    let lens = Lens::new(&world.ds, Asker::Person(stranger.to), &world.clock);
    assert_eq!(lens.notice(&stranger), None);

    // What is taken back is news to nobody.
    let moves = world.put("Work orders.Crew leader", 5, Value::Person(tamsin));
    let back = undo(moves[0].change.clone());
    let back = world.act(world.nadia(), &back);
    assert!(notices(&back, &world).is_empty());
}

#[test]
fn whoever_an_automation_acts_for_is_told_of_what_it_could_not_do_and_newcomers_that_they_are_let_in() {
    let mut world = World::new();
    let nadia = person(&world.ds, "Nadia");
    let step =
        world.mail("Faults", westerfall_core::automation::Recipient::Field(vec![FieldId::new(52).unwrap()]), "{What is wrong}", false);
    let when = Occasion::Changed(vec![world.f("Faults.Status")]);
    world.automate("Faults", "Tell them", when, Default::default(), vec![step]);
    let (table, mail) = (world.at("Faults"), FieldId::new(52).unwrap());
    let without = world.live("Faults").into_iter().find(|record| value(&world.ds, table, *record, mail) == Value::Empty).unwrap();
    let other = ["checked", "scheduled"].map(|name| world.option(&format!("Faults.Status.{name}")));
    let now = value(&world.ds, table, without, world.f("Faults.Status"));
    let tamsin = asker(&world.ds, "Bex");
    let edits = vec![westerfall_core::intent::Edit {
        field: world.f("Faults.Status"),
        input: westerfall_core::value::Input::Value(other.into_iter().find(|one| *one != now).unwrap()),
        was: None,
    }];
    let moves = world.act(tamsin, &Intent::Edit { table, record: without, edits });
    let found = notices(&moves, &world);
    let told = world.told(&found, nadia);
    assert!(told.iter().any(|line| line.starts_with("Your automation “Tell them” could not do all that it should on ")), "{told:?}");

    let role = world.ds.roles().find(|role| role.name == "Office").or_else(|| world.ds.roles().next()).unwrap().clone();
    let fresh = PersonId::new(77).unwrap();
    let mut after = role.clone();
    after.members.insert(fresh);
    let put = |role: &westerfall_core::access::Role| Some(Box::new(Part::Role(role.clone())));
    let change = westerfall_core::history::Change {
        seq: world.ds.seq + 1,
        at: world.clock.now,
        who: westerfall_core::people::Actor::Person(nadia),
        undoes: None,
        again: false,
        ops: vec![Op::Put { before: put(&role), after: put(&after) }],
    };
    let moves = westerfall_core::automation::course(world.ds.clone(), change, None, &world.clock);
    let found = notices(&moves, &world);
    assert!(matches!(&found[..], [Notice { to, of: News::Opened, .. }] if *to == fresh), "{found:?}");
}

#[test]
fn one_is_reminded_before_the_day_on_it_and_after_it_again_and_again_until_it_is_done() {
    let world = World::new();
    let on = |world: &World, days: i64, done: bool| {
        let mut duty = Duty { name: format!("{days}"), done: done.then(|| "done".to_owned()), ..Duty::default() };
        let day = world.clock.today().checked_add(jiff::Span::new().days(days)).unwrap();
        duty.fall(Some((day, day)), &world.clock);
        duty
    };
    let reminded: Vec<i64> = (-40..=5).filter(|days| morning(&[on(&world, *days, false)], &world.clock).is_some()).collect();
    assert_eq!(reminded, [-35, -28, -21, -14, -7, -3, -1, 0, 1]);
    assert!((-40..=5).all(|days| morning(&[on(&world, days, true)], &world.clock).is_none()), "what is done reminds of nothing");
    let all: Vec<Duty> = [1, 0, -3, -14].map(|days| on(&world, days, false)).into();
    let told = morning(&all, &world.clock).unwrap();
    assert_eq!(told.heading, "2 late, 1 for today, 1 for tomorrow");
    assert_eq!(told.lines, ["14 days late: -14", "3 days late: -3", "today: 0", "tomorrow: 1"]);
}
