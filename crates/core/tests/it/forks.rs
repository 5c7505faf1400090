//! What waits, or calls, for each of the records that were found: each by itself.

use crate::{fixture::*, world::*};
use std::collections::BTreeSet;
use westerfall_core::{
    access::Asker,
    automation::{Answered, Call, CallTakes, LogOutcome, Method, Move, Occasion, Pause, Recipient, Run, Step, Waiting},
    bulk::Alter,
    condition::Condition,
    id::{AutomationId, RecordId},
    intent::Intent,
    schema::Same,
    value::{Input, Value},
    wording::Wording,
};

/// For each fault of the same section that was only reported, once the status of one is another.
fn for_each(world: &mut World, steps: Vec<Step>) -> AutomationId {
    let section = world.f("Faults.Section");
    let each = Step::Each {
        table: world.at("Faults"),
        condition: world.is("Faults.Status", &["reported"]),
        same: vec![Same { theirs: section, ours: section }],
        first: false,
        steps,
        otherwise: Vec::new(),
    };
    let when = Occasion::Changed(vec![world.f("Faults.What is wrong")]);
    world.automate("Faults", "See to the others", when, Condition::default(), vec![each])
}

/// Four faults of one section, reported; the first of them is what it is about, and the others are found.
fn others(world: &mut World) -> Vec<RecordId> {
    let reported = world.option("Faults.Status.reported");
    for number in 1..=4 {
        world.put("Faults.Section", number, Value::Links(vec![record(60)]));
        world.put("Faults.Status", number, reported.clone());
    }
    let table = world.at("Faults");
    let (section, status) = (world.f("Faults.Section"), world.f("Faults.Status"));
    let there = |one: &RecordId| {
        value(&world.ds, table, *one, section) == Value::Links(vec![record(60)]) && value(&world.ds, table, *one, status) == reported
    };
    records(&world.ds, table).into_iter().filter(|one| *one != record(1)).filter(there).collect()
}

fn waiting(moves: &[Move]) -> Vec<Waiting> {
    let of = |(kept, run): (i64, &&Run)| Waiting {
        kept,
        automation: AutomationId::new(run.source.number()).unwrap(),
        table: run.table,
        record: run.record.unwrap(),
        seq: run.seq,
        paused: run.paused.clone().unwrap(),
        answered: None,
    };
    let all = runs(moves);
    let paused: Vec<&&Run> = all.iter().filter(|run| run.paused.is_some()).collect();
    (1..).zip(paused).map(of).collect()
}

fn logged(moves: &[Move]) -> Vec<(LogOutcome, String)> {
    runs(moves).iter().flat_map(|run| run.log.iter().map(|line| (line.outcome, line.text.clone()))).collect()
}

fn go_on(world: &mut World, waiting: &Waiting) -> Vec<Move> {
    world.act(Asker::Westerfall, &Intent::GoOn(Box::new(waiting.clone())))
}

fn a_day() -> Step {
    Step::Wait { pause: Pause::Days(1), steps: Vec::new(), otherwise: Vec::new() }
}

#[test]
fn each_of_them_waits_and_goes_on_by_itself_and_ends_where_what_it_is_about_has_gone() {
    let mut world = World::new();
    let all = others(&mut world);
    let steps = vec![a_day(), world.set("Faults.Description", Alter::Set(Input::Text("seen to".into())))];
    for_each(&mut world, steps);
    let moves = world.put("Faults.What is wrong", 1, Value::text("Boards gone"));
    let waits = waiting(&moves);
    let told: BTreeSet<RecordId> = waits.iter().map(|one| one.record).collect();
    assert_eq!(told, all.iter().copied().collect());
    assert!(waits.iter().all(|one| one.paused.own == Some(record(1))));
    let says = format!("{} faults go on by themselves, once each of them has waited.", all.len());
    assert!(logged(&moves).contains(&(LogOutcome::Waits, says)), "{:?}", logged(&moves));
    assert!(all.iter().all(|one| world.value("Faults.Description", one.get()) != Value::text("seen to")));

    world.later(23);
    assert!(go_on(&mut world, &waits[1]).is_empty(), "a day is not over");
    world.later(2);
    go_on(&mut world, &waits[1]);
    let seen = |world: &World, one: &Waiting| world.value("Faults.Description", one.record.get()) == Value::text("seen to");
    assert_eq!(waits.iter().map(|one| seen(&world, one)).collect::<Vec<_>>()[..3], [false, true, false]);

    // What it was for is gone: the others are not seen to any more.
    let table = world.at("Faults");
    world.act(world.nadia(), &Intent::Remove { table, records: vec![record(1)] });
    let moves = go_on(&mut world, &waits[2]);
    assert_eq!(logged(&moves), [(LogOutcome::No, "Ends here: its record is not there any more.".into())]);
    assert!(!seen(&world, &waits[2]));
}

#[test]
fn each_message_goes_once_by_its_own_key_and_opens_the_record_that_was_found() {
    let mut world = World::new();
    let all = others(&mut world);
    let warden = vec![world.f("Faults.Section"), world.f("Sections.District"), world.f("Districts.Warden")];
    let steps = vec![a_day(), world.mail("Faults", Recipient::Field(warden), "Still so: {Number}", false)];
    for_each(&mut world, steps);
    let moves = world.put("Faults.What is wrong", 1, Value::text("Boards gone"));
    world.later(25);
    let mut keys = BTreeSet::new();
    for one in waiting(&moves) {
        let moves = go_on(&mut world, &one);
        let of: Vec<&Run> = runs(&moves);
        assert_eq!((of.len(), of[0].table, of[0].record, of[0].kept), (1, one.table, Some(one.record), Some(one.kept)));
        assert!(of[0].mails.iter().all(|mail| mail.opens_record));
        keys.extend(of[0].mails.iter().map(|mail| mail.key.clone()));
    }
    assert_eq!(keys.len(), all.len());
}

#[test]
fn an_address_is_called_for_each_and_its_answer_stands_in_that_one() {
    let mut world = World::new();
    others(&mut world);
    let text = |text: &str| Wording::parse(text, &world.ds, world.at("Faults")).unwrap();
    let call = Call {
        method: Method::Post,
        address: text("https://works.example/quote"),
        headers: Vec::new(),
        sends: Vec::new(),
        secret: String::new(),
        takes: vec![CallTakes { path: "note".into(), field: world.f("Faults.Description") }],
        seconds: 20,
    };
    for_each(&mut world, vec![Step::Call { calls: Box::new(call), steps: Vec::new(), otherwise: Vec::new() }]);
    let moves = world.put("Faults.What is wrong", 1, Value::text("Boards gone"));
    let waits = waiting(&moves);
    assert!(waits.len() >= 3 && waits.iter().all(|one| one.paused.call.is_some()));
    assert!(waits.iter().all(|one| one.may_call(&world.ds, &world.clock)));
    for (place, one) in waits.iter().enumerate() {
        let answered =
            Answered { well: true, note: "answered 200 OK".into(), body: serde_json::json!({ "note": format!("quote {place}") }) };
        go_on(&mut world, &Waiting { answered: Some(answered), ..one.clone() });
    }
    for (place, one) in waits.iter().enumerate() {
        assert_eq!(world.value("Faults.Description", one.record.get()), Value::text(&format!("quote {place}")));
    }
}

#[test]
fn who_waits_twice_is_still_of_the_record_that_was_found() {
    let mut world = World::new();
    others(&mut world);
    let steps = vec![a_day(), a_day(), world.set("Faults.Description", Alter::Along(vec![world.f("Faults.What is wrong")]))];
    for_each(&mut world, steps);
    let moves = world.put("Faults.What is wrong", 1, Value::text("Boards gone"));
    world.later(25);
    let moves = go_on(&mut world, &waiting(&moves)[1]);
    let again = waiting(&moves);
    assert_eq!((again.len(), again[0].paused.own), (1, Some(record(1))));
    world.later(25);
    go_on(&mut world, &again[0]);
    // What it takes along is read of the one that it is about.
    assert_eq!(world.value("Faults.Description", again[0].record.get()), Value::text("Boards gone"));
}
