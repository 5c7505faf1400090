//! What comes of a change: automations that act, wait, come by the clock and set each other going.

use crate::{fixture::*, world::*};
use jiff::Timestamp;
use std::{
    collections::BTreeSet,
    sync::{Arc, Mutex},
};
use westerfall_core::{
    access::{Asker, Lens},
    automation::{Automation, Came, Hour, LogOutcome, Move, Occasion, Pause, Recipient, Round, Step, Waiting, course, paced_course},
    bulk::{Alter, Altered, Bulk, Which},
    condition::{Check, Comparison, Condition, When},
    fault::Faults,
    history::Op,
    id::{AutomationId, PersonId},
    intent::{Intent, TableChange},
    pace::{Pace, Stopped},
    part::Part,
    people::Actor,
    schema::Same,
    talk::{TalkPart, TalkStep},
    value::{Input, Value},
    wording::Wording,
};

#[test]
fn a_status_that_becomes_made_good_sets_its_day_in_a_change_of_its_own_that_names_the_automation() {
    let mut world = World::new();
    let reported = world.f("Faults.Reported on");
    let step = world.set("Faults.Reported on", Alter::Now);
    let when = Occasion::Changed(vec![world.f("Faults.Status")]);
    let condition = world.is("Faults.Status", &["made good"]);
    let id = world.automate("Faults", "Note the day", when, condition, vec![step]);
    insta::assert_snapshot!(world.clause(id), @r"
    when: a fault has status changed
    if: status is made good
    then: set reported on to today
    It changes what Nadia Ferreira-Holt may change.
    ");
    let lens = Lens::new(&world.ds, world.nadia(), &world.clock);
    let why = lens.why(world.at("Faults"), record(3), reported).unwrap().how;
    assert_eq!(why, "It was put in. The automation “Note the day” sets it, too.");
    let other = world.option("Faults.Status.checked");
    let moves = world.put("Faults.Status", 3, other);
    assert_eq!(moves.len(), 1, "{:?}", said(&moves));
    let good = world.option("Faults.Status.made good");
    let moves = world.put("Faults.Status", 3, good);
    assert_eq!(moves.len(), 2);
    assert_eq!(moves[1].change.who, Actor::Automation(id));
    assert_eq!(moves[1].change.seq, moves[0].change.seq + 1);
    assert!(matches!(&moves[1].change.ops[..], [Op::Cell { field, .. }] if *field == reported));
    assert_eq!(world.value("Faults.Reported on", 3), Value::Date(world.clock.today()));
    // Another server that follows the log comes to the same.
    let mut followed = (*moves[0].before).clone();
    moves.iter().for_each(|of| drop(followed.apply(&of.change)));
    let (faults, other) = (world.at("Faults"), record(3));
    assert_eq!(format!("{:?}", kept(&followed, faults, other)), format!("{:?}", kept(&world.ds, faults, other)));
}

#[test]
fn an_automation_says_something_of_a_record_for_all_who_see_it() {
    let mut world = World::new();
    let (faults, seen) = (world.at("Faults"), record(3));
    let text = Wording::parse("Now {Status}: look at {Section.District}", &world.ds, faults).unwrap();
    let when = Occasion::Changed(vec![world.f("Faults.Status")]);
    let id = world.automate("Faults", "Say what changed", when, Condition::default(), vec![Step::Say { text }]);
    insta::assert_snapshot!(world.clause(id), @r"
    when: a fault has status changed
    if:
    then: say of it, for all who see it, “Now {Status}: look at {Section.District}”
    It changes what Nadia Ferreira-Holt may change.
    ");
    // Where talk is told to some roles alone, the sentence says so.
    let mut told_to_some = (*world.ds).clone();
    let office = world.ds.roles().find(|role| role.name == "Office").unwrap().id;
    act(&mut told_to_some, world.nadia(), &Intent::Table(TableChange::TalkFor { table: faults, roles: vec![office] })).unwrap();
    let lens = Lens::new(&told_to_some, world.nadia(), &world.clock);
    let clauses = told_to_some.automation(id).unwrap().to_sentences(&lens);
    let says: String = clauses.iter().flat_map(|clause| &clause.phrases).map(|phrase| phrase.text.as_str()).collect();
    assert!(says.contains("say of it, for Office and stewards alone, "), "{says}");
    let version = kept(&world.ds, faults, seen).map(|record| record.meta.version);
    let checked = world.option("Faults.Status.checked");
    let moves = world.put("Faults.Status", 3, checked);
    assert_eq!(moves.len(), 2, "{:?}", said(&moves));
    assert_eq!(moves[1].change.who, Actor::Automation(id));
    let talk = |world: &World, who: Asker| Lens::new(&world.ds, who, &world.clock).talk(faults, seen);
    let told = talk(&world, world.nadia()).pop().unwrap();
    let district = Lens::of_everything(&world.ds, None, &world.clock).text_at(faults, seen, world.f("Faults.District"));
    assert_eq!((told.who.as_str(), told.mine), ("the automation “Say what changed”", false));
    assert_eq!(told.says[0].text, format!("Now checked: look at {district}"));
    // It is no change of the record beside that which set it going; who does not see the record is told nothing of it.
    assert_eq!(kept(&world.ds, faults, seen).map(|record| record.meta.version), version.map(|version| version + 1));
    let blind = ["Tamsin", "Idris", "Wren"].map(|who| Asker::Person(person(&world.ds, who)));
    let blind: Vec<Asker> = blind.into_iter().filter(|who| !Lens::new(&world.ds, *who, &world.clock).sees(faults, seen)).collect();
    assert!(!blind.is_empty() && blind.into_iter().all(|who| talk(&world, who).is_empty()));
    // Nobody changes what it said as if it were their own; a steward takes it back.
    let step = |step| Intent::Talk { table: faults, record: seen, step };
    let change = TalkStep::Change { comment: told.id, said: vec![TalkPart::Text("x".into())], files: Vec::new() };
    assert!(world.ds.decide(&step(change), world.nadia(), &world.clock).is_err());
    assert!(world.ds.decide(&step(TalkStep::Remove { comment: told.id }), world.nadia(), &world.clock).is_ok());
    let mute = Automation { steps: vec![Step::Say { text: Wording::default() }], ..world.ds.automation(id).unwrap().clone() };
    assert_eq!(mute.check(&world.ds).unwrap_err().0[0].pointer, "/steps/0/say/text", "it says something, or is not on");
}

#[test]
fn what_is_taken_back_or_imported_sets_nothing_going() {
    let mut world = World::new();
    let step = world.set("Faults.Reported on", Alter::Now);
    let condition = Condition::default();
    world.automate("Faults", "Note", Occasion::Changed(vec![world.f("Faults.Severity")]), condition, vec![step]);
    let worse = world.option("Faults.Severity.dangerous");
    let before = world.value("Faults.Severity", 5);
    let worse = if before == worse { world.option("Faults.Severity.passable") } else { worse };
    let moves = world.put("Faults.Severity", 5, worse);
    assert_eq!(moves.len(), 2);
    let back = world.act(world.nadia(), &undo(moves[0].change.clone()));
    assert_eq!(back.len(), 1);
}

#[test]
fn a_condition_that_begins_to_hold_is_seen_along_links_and_when_the_day_turns() {
    let mut world = World::new();
    // Along two links: a fault's section's district has a warden.
    let path = [world.f("Faults.Section"), world.f("Sections.District"), world.f("Districts.Warden")];
    let idris = person(&world.ds, "Idris");
    let condition = test(&path, Check::Person { not: false, any: vec![westerfall_core::condition::Who::Person(idris)] });
    let mail = world.mail("Faults", office(), "Now with Idris: {Number}", false);
    let id = world.automate("Faults", "Tell of a new warden", Occasion::Fits, condition.clone(), vec![mail]);
    let lens = Lens::of_everything(&world.ds, None, &world.clock);
    let (faults, had) = (world.at("Faults"), condition.matching(&lens, world.at("Faults")).count_ones(..));
    let moves = world.put("Districts.Warden", 1, Value::Person(idris));
    let lens = Lens::of_everything(&world.ds, None, &world.clock);
    let has = condition.matching(&lens, faults).count_ones(..);
    assert!(has > had, "the district has faults");
    assert_eq!(runs(&moves).iter().filter(|run| run.mails.len() == 1).count(), has - had);
    assert!(world.put("Districts.Name", 1, Value::text("Eskermoor")).iter().all(|of| of.runs.is_empty()), "it held before");
    world.act(world.nadia(), &Intent::Drop(Part::Automation(world.ds.automation(id).unwrap().clone())));

    // What is due before today: by the turn of the day, of whoever was not late before.
    let due = test(&[world.f("Faults.Due")], Check::Day { how: Comparison::Under, than: When::Today(0) });
    let mail = world.mail("Faults", office(), "Late: {Number}", false);
    world.automate("Faults", "Tell of late ones", Occasion::Fits, due.clone(), vec![mail]);
    let lens = Lens::of_everything(&world.ds, None, &world.clock);
    let late = due.matching(&lens, faults).count_ones(..);
    let mut told = 0;
    for _ in 0..30 {
        world.later(24);
        told += runs(&world.act(Asker::Westerfall, &Intent::Turn)).len();
    }
    let lens = Lens::of_everything(&world.ds, None, &world.clock);
    assert_eq!(told, due.matching(&lens, faults).count_ones(..) - late);
    assert!(told > 0);
}

#[test]
fn two_automations_that_set_each_other_going_are_stopped_with_a_word() {
    let mut world = World::new();
    let (severity, status) = (world.f("Faults.Severity"), world.f("Faults.Status"));
    let on = |field| Occasion::Changed(vec![field]);
    let other = |world: &World, path: &str, from: &str, to: &str| Step::If {
        condition: world.is(path, &[from]),
        steps: vec![world.set(path, Alter::Set(Input::Value(world.option(&format!("{path}.{to}")))))],
        otherwise: vec![world.set(path, Alter::Set(Input::Value(world.option(&format!("{path}.{from}")))))],
    };
    let step = other(&world, "Faults.Status", "reported", "checked");
    world.automate("Faults", "One", on(severity), Condition::default(), vec![step]);
    let step = other(&world, "Faults.Severity", "awkward", "blocked");
    world.automate("Faults", "Two", on(status), Condition::default(), vec![step]);
    let value = world.option("Faults.Severity.dangerous");
    let value = if world.value("Faults.Severity", 7) == value { world.option("Faults.Severity.passable") } else { value };
    let moves = world.put("Faults.Severity", 7, value);
    assert!(moves.len() < 8, "{}", moves.len());
    assert!(said(&moves).iter().any(|line| line == "Stopped: it was set going again by its own doing."), "{:?}", said(&moves));
}

#[test]
fn an_automation_does_what_whoever_it_acts_for_may_do_and_nothing_else() {
    let mut world = World::new();
    let bex = person(&world.ds, "Bex");
    // A builder who may not change what materials cost.
    let mut role = world.ds.roles().find(|role| role.name == "Warden").unwrap().clone();
    role.id = westerfall_core::id::RoleId::new(9_000).unwrap();
    role.members = [bex].into();
    role.groups.clear();
    role.base = westerfall_core::access::Base::Builder;
    role.tables.clear();
    let materials = world.at("Materials");
    role.tables.insert(materials, westerfall_core::access::TableRights { look: westerfall_core::access::Reach::All, ..Default::default() });
    let mut ds = (*world.ds).clone();
    ds.load_part(&Part::Role(role.clone()));
    for mut other in ds.roles().filter(|r| r.id != role.id && r.is_held_by(bex, &ds.people)).cloned().collect::<Vec<_>>() {
        other.members.remove(&bex);
        other.groups.clear();
        ds.load_part(&Part::Role(other));
    }
    world.ds = Arc::new(ds);
    let step = world.set("Materials.Unit price", Alter::Set(Input::Value(Value::Number(1.into()))));
    let id = world.automate_as(Asker::Person(bex), "Materials", "Cheap", Occasion::Chosen, Condition::default(), vec![step]);
    assert_eq!(world.ds.automation(id).unwrap().acts_for, Some(bex));
    // Who sees a part of it is not shown by a rehearsal what the rest holds.
    let lens = Lens::new(&world.ds, Asker::Person(bex), &world.clock);
    let told = world.ds.automation(id).unwrap().try_on(&lens, record(1)).unwrap_err().0;
    assert!(told[0].message.starts_with("You see only a part of this tracker"), "{told:?}");
    let before = world.value("Materials.Unit price", 1);
    let moves = world.act(world.nadia(), &Intent::Run { automation: id, records: vec![record(1)] });
    assert_eq!(moves.len(), 1);
    assert_eq!(world.value("Materials.Unit price", 1), before);
    assert!(said(&moves)[0].starts_with("Not done, acting for Bex Lindqvist: "), "{:?}", said(&moves));
    // Said again by somebody who may, it is done.
    let mut same = world.ds.automation(id).unwrap().clone();
    same.name = "Cheaper".into();
    world.act(world.nadia(), &Intent::Save(Part::Automation(same.clone())));
    assert_eq!(world.ds.automation(id).unwrap().acts_for, Some(bex), "a name is not what it does");
    same.steps = vec![world.set("Materials.Unit price", Alter::Set(Input::Value(Value::Number(2.into()))))];
    world.act(world.nadia(), &Intent::Save(Part::Automation(same)));
    let moves = world.act(world.nadia(), &Intent::Run { automation: id, records: vec![record(1)] });
    assert_eq!((moves.len(), world.value("Materials.Unit price", 1)), (2, Value::Number(2.into())));
    // Whoever may not change a record does not run anything on it.
    assert!(world.try_do(asker(&world.ds, "Pavel"), &Intent::Run { automation: id, records: vec![record(1)] }).is_err());
    // Nor does it act for somebody who has left it all.
    let mut ds = (*world.ds).clone();
    let mut orphan = ds.automation(id).unwrap().clone();
    orphan.acts_for = PersonId::new(4_000);
    ds.load_part(&Part::Automation(orphan));
    world.ds = Arc::new(ds);
    assert_eq!(world.act(world.nadia(), &Intent::Run { automation: id, records: vec![record(2)] }).len(), 1);
    let lens = Lens::new(&world.ds, world.nadia(), &world.clock);
    let ends: Vec<String> = lens.loose_ends().into_iter().map(|end| end.words).filter(|words| words.contains("Cheaper")).collect();
    assert_eq!(ends, ["the automation Cheaper acts for somebody who has left, who may not work here any more"]);
}

#[test]
fn records_are_added_with_what_stands_in_the_one_it_is_about_and_found_ones_are_gone_through() {
    let mut world = World::new();
    let (title, section) = (world.f("Faults.What is wrong"), world.f("Faults.Section"));
    let add = Step::Add {
        table: world.at("Work parties"),
        alter: vec![
            Altered { field: world.f("Work parties.What"), to: Alter::Along(vec![title]) },
            Altered { field: world.f("Work parties.Sections"), to: Alter::Along(vec![section]) },
        ],
        lines: Vec::new(),
    };
    let each = Step::Each {
        table: world.at("Faults"),
        condition: world.is("Faults.Status", &["reported", "checked"]),
        same: vec![Same { theirs: section, ours: section }],
        first: false,
        steps: vec![Step::Set {
            along: Vec::new(),
            alter: vec![Altered { field: world.f("Faults.Description"), to: Alter::Along(vec![title]) }],
        }],
        otherwise: vec![world.mail("Faults", office(), "Alone: {Number}", false)],
    };
    let id = world.automate("Faults", "Get a party together", Occasion::Chosen, Condition::default(), vec![add, each]);
    insta::assert_snapshot!(world.clause(id), @r"
    when: a fault is chosen, and this is run by hand
    if:
    then: add a work party, with what: this fault’s what is wrong; sections: this fault’s section
    for each: fault where section is this fault’s section and status is reported or checked
      then: set description to this fault’s what is wrong
      (if there is none)
      then: send a mail to office@orrindale-paths.example, headed “Alone: {Number}”
    It changes what Nadia Ferreira-Holt may change.
    ");
    let parties = rows_of(&world.ds, world.at("Work parties"));
    let moves = world.act(world.nadia(), &Intent::Run { automation: id, records: vec![record(4)] });
    assert_eq!(moves.len(), 2, "all that one run does is one step");
    assert_eq!(rows_of(&world.ds, world.at("Work parties")), parties + 1);
    let new = u32::try_from(parties).unwrap() + 1;
    assert_eq!(world.value("Work parties.What", new), world.value("Faults.What is wrong", 4));
    assert_eq!(world.value("Work parties.Sections", new), world.value("Faults.Section", 4));
    let own = world.value("Faults.Section", 4);
    let title = world.value("Faults.What is wrong", 4);
    let faults = world.at("Faults");
    let mut others = 0;
    for other in records(&world.ds, faults).into_iter().filter(|r| r.get() != 4) {
        let at = other.get();
        let open =
            [world.option("Faults.Status.reported"), world.option("Faults.Status.checked")].contains(&world.value("Faults.Status", at));
        if world.value("Faults.Section", at) == own && open {
            others += 1;
            assert_eq!(world.value("Faults.Description", at), title);
        }
    }
    let alone = runs(&moves).iter().any(|run| !run.mails.is_empty());
    assert_eq!(alone, others == 0, "where there is none, what stands there for it is done");
    // One undo takes all of it back.
    let back = undo(moves[1].change.clone());
    world.act(world.nadia(), &back);
    assert_eq!(records(&world.ds, world.at("Work parties")).len(), records(&demo(), world.at("Work parties")).len());
}

fn only_waiting(moves: &[Move]) -> Waiting {
    let run = runs(moves).into_iter().find(|run| run.paused.is_some()).expect("a run waits");
    let automation = AutomationId::new(run.source.number()).unwrap();
    Waiting {
        kept: 77,
        automation,
        table: run.table,
        record: run.record.unwrap(),
        seq: run.seq,
        paused: run.paused.clone().unwrap(),
        answered: None,
    }
}

#[test]
fn a_run_waits_for_a_condition_or_long_enough_and_goes_on_with_what_was_said_when_it_began() {
    let mut world = World::new();
    let wait = |world: &World| Step::Wait {
        pause: Pause::Until { condition: world.is("Faults.Status", &["checked"]), days: 2 },
        steps: vec![world.mail("Faults", office(), "Checked: {Number}", false)],
        otherwise: vec![world.mail("Faults", office(), "Still waits: {Number}", false)],
    };
    let steps = vec![wait(&world), world.set("Faults.Description", Alter::Set(Input::Text("asked".into())))];
    let id = world.automate("Faults", "Ask after it", Occasion::Chosen, Condition::default(), steps);
    insta::assert_snapshot!(world.clause(id), @r"
    when: a fault is chosen, and this is run by hand
    if:
    wait: until status is checked, at most 2 days
      (if it was)
      then: send a mail to office@orrindale-paths.example, headed “Checked: {Number}”
      (otherwise)
      then: send a mail to office@orrindale-paths.example, headed “Still waits: {Number}”
    then: set description to “asked”
    It changes what Nadia Ferreira-Holt may change.
    ");
    let reported = world.option("Faults.Status.reported");
    for number in [8, 9] {
        world.put("Faults.Status", number, reported.clone());
    }
    let run = |world: &mut World, number: u32| {
        let moves = world.act(world.nadia(), &Intent::Run { automation: id, records: vec![record(number)] });
        assert_eq!(runs(&moves).last().unwrap().log.last().unwrap().outcome, LogOutcome::Waits);
        only_waiting(&moves)
    };
    let (met, missed) = (run(&mut world, 8), run(&mut world, 9));
    assert!(world.act(Asker::Westerfall, &Intent::GoOn(Box::new(met.clone()))).is_empty(), "nothing has changed");
    assert!(world.try_do(world.nadia(), &Intent::GoOn(Box::new(met.clone()))).is_err(), "time passes by itself");
    // What the automation says by now does not matter to those that wait.
    let mut changed = world.ds.automation(id).unwrap().clone();
    changed.steps.truncate(1);
    world.act(world.nadia(), &Intent::Save(Part::Automation(changed)));
    let checked = world.option("Faults.Status.checked");
    world.put("Faults.Status", 8, checked);
    let moves = world.act(Asker::Westerfall, &Intent::GoOn(Box::new(met)));
    let run = runs(&moves)[0];
    assert_eq!((run.kept, run.mails[0].subject.starts_with("Checked: "), &run.paused), (Some(77), true, &None));
    assert_eq!(world.value("Faults.Description", 8), Value::text("asked"));
    world.later(47);
    assert!(world.act(Asker::Westerfall, &Intent::GoOn(Box::new(missed.clone()))).is_empty());
    world.later(2);
    let moves = world.act(Asker::Westerfall, &Intent::GoOn(Box::new(missed.clone())));
    assert!(runs(&moves)[0].mails[0].subject.starts_with("Still waits: "));
    // One whose automation was switched off ends.
    let mut off = world.ds.automation(id).unwrap().clone();
    off.on = false;
    world.act(world.nadia(), &Intent::Save(Part::Automation(off)));
    let moves = world.act(Asker::Westerfall, &Intent::GoOn(Box::new(missed)));
    assert_eq!(said(&moves), ["Ends here: it was switched off or taken away while it waited."]);
}

#[test]
fn two_waits_that_need_not_wait_send_what_each_of_them_says() {
    let mut world = World::new();
    let mail = |world: &World, text: &str| world.mail("Faults", office(), text, false);
    let met = |world: &World, text: &str| Step::Wait {
        pause: Pause::Until { condition: world.is("Faults.Status", &["checked"]), days: 2 },
        steps: vec![mail(world, text)],
        otherwise: Vec::new(),
    };
    // One that waits for time alone has no branches, whatever it had when it waited for something.
    let past = Step::Wait { pause: Pause::Hours(1), steps: vec![mail(&world, "Never")], otherwise: vec![mail(&world, "Never")] };
    let steps = vec![met(&world, "One"), met(&world, "Two"), past, mail(&world, "Three")];
    let id = world.automate("Faults", "Twice", Occasion::Chosen, Condition::default(), steps);
    let checked = world.option("Faults.Status.checked");
    world.put("Faults.Status", 8, checked);
    let moves = world.act(world.nadia(), &Intent::Run { automation: id, records: vec![record(8)] });
    let mails = &runs(&moves)[0].mails;
    assert_eq!(mails.iter().map(|mail| mail.subject.as_str()).collect::<Vec<_>>(), ["One", "Two"]);
    assert_ne!(mails[0].key, mails[1].key, "each is sent");
    let waiting = only_waiting(&moves);
    world.later(2);
    let moves = world.act(Asker::Westerfall, &Intent::GoOn(Box::new(waiting)));
    assert_eq!(runs(&moves)[0].mails.iter().map(|mail| mail.subject.as_str()).collect::<Vec<_>>(), ["Three"]);
}

#[test]
fn every_morning_each_warden_gets_one_message_of_all_that_is_late() {
    let mut world = World::new();
    let to = Recipient::Field(vec![world.f("Faults.Section"), world.f("Sections.District"), world.f("Districts.Warden")]);
    let digest = world.mail("Faults", to, "{Number}: {What is wrong}", true);
    let due = test(&[world.f("Faults.Due")], Check::Day { how: Comparison::Under, than: When::Today(0) });
    let open = test(&[world.f("Faults.Status")], Check::Option { not: true, any: vec![option(&world.ds, "Faults.Status.made good")] });
    let when = Occasion::Every { round: Round::WorkingDays, at: Hour(7 * 60) };
    let id = world.automate("Faults", "What is late", when, Condition::All(vec![due, open]), vec![digest]);
    insta::assert_snapshot!(world.clause(id), @r"
    every: working day at 07:00
    for: each fault where due is before today and status is not made good
    then: send one message of all of them to the section’s district’s warden, headed “What waits”
    ");
    let come = Intent::Come { automation: id };
    assert!(world.act(Asker::Westerfall, &come).is_empty(), "it was switched on at half past nine");
    assert!(world.try_do(world.nadia(), &come).is_err());
    let next = world.ds.next_due().unwrap();
    assert_eq!(next.to_zoned(world.clock.zone.clone()).strftime("%a %H:%M").to_string(), "Tue 07:00");
    world.later(24);
    world.act(Asker::Westerfall, &Intent::Turn);
    let moves = world.act(Asker::Westerfall, &come);
    let run = runs(&moves);
    assert_eq!(run.len(), 1, "of all of them together");
    assert_eq!(run[0].record, None);
    let tamsin = run[0].mails.iter().find(|mail| mail.to.starts_with("tamsin")).expect("hers are late, too");
    let lens = Lens::new(&world.ds, asker(&world.ds, "Tamsin"), &world.clock);
    assert!(tamsin.items.len() > 1 && tamsin.items.iter().all(|item| item.opens.is_some_and(|(table, record)| lens.sees(table, record))));
    assert!(tamsin.body.ends_with("faults:"), "{}", tamsin.body);
    assert!(world.act(Asker::Westerfall, &come).is_empty(), "once");
    // A server that slept over some of them sends the last alone.
    world.later(24 * 9);
    world.act(Asker::Westerfall, &Intent::Turn);
    assert_eq!(world.act(Asker::Westerfall, &come).len(), 1);
    assert!(world.act(Asker::Westerfall, &come).is_empty());
}

#[test]
fn a_day_before_a_day_comes_for_each_record_and_days_that_were_missed_come_one_by_one() {
    let mut world = World::new();
    let field = world.f("Faults.Due");
    let mail = world.mail("Faults", office(), "Soon: {Number}", false);
    let when = Occasion::Date { field, days: -1, at: Hour(8 * 60), working: false };
    let id = world.automate("Faults", "The day before", when, Condition::default(), vec![mail]);
    let faults = world.at("Faults");
    let due_on = |world: &World, ahead: i64| {
        let day = world.clock.today().checked_add(jiff::Span::new().days(ahead)).unwrap();
        records(&world.ds, faults).into_iter().filter(|r| value(&world.ds, faults, *r, field) == Value::Date(day)).count()
    };
    let expected: usize = (1..=6).map(|ahead| due_on(&world, ahead + 1)).sum();
    world.later(24 * 6);
    world.act(Asker::Westerfall, &Intent::Turn);
    let mut sent = 0;
    let mut came = 0;
    while let Some((automation, _)) = world.ds.all_due(world.clock.now).first().copied() {
        let moves = world.act(Asker::Westerfall, &Intent::Come { automation });
        sent += runs(&moves).iter().map(|run| run.mails.len()).sum::<usize>();
        came += 1;
    }
    assert_eq!((came, sent), (6, expected));
    assert!(expected > 0);
    assert_eq!(world.ds.came(id).unwrap(), Came { upto: world.ds.came(id).unwrap().upto, next: None });
    let asleep: Timestamp = world.clock.now;
    assert!(world.ds.next_due().unwrap() > asleep);
}

#[test]
fn what_an_automation_names_is_held_and_its_faults_are_placed() {
    let mut world = World::new();
    let (number, title) = (world.f("Faults.Number"), world.f("Faults.What is wrong"));
    let alter = |field, to| vec![Altered { field, to }];
    let faults = world.at("Faults");
    let nested =
        |steps| Step::Each { table: faults, condition: Condition::default(), same: Vec::new(), first: true, steps, otherwise: Vec::new() };
    let check = |when: Occasion, steps: Vec<Step>| {
        let (id, name) = (AutomationId::FIRST, "A".to_owned());
        let automation = Automation {
            id,
            table: faults,
            name,
            on: true,
            when,
            condition: Condition::default(),
            before: Condition::default(),
            steps,
            acts_for: None,
            unsaid: false,
            draft: None,
        };
        automation.check(&world.ds).err().map(|Faults(all)| all.iter().map(|f| format!("{} {}", f.pointer, f.message)).collect::<Vec<_>>())
    };
    let wait = |pause| Step::Wait { pause, steps: Vec::new(), otherwise: Vec::new() };
    insta::assert_debug_snapshot!([
        check(Occasion::Fits, vec![Step::Stop]),
        check(Occasion::Every { round: Round::Weekly(Vec::new()), at: Hour(0) }, vec![Step::Stop]),
        check(Occasion::Every { round: Round::Daily, at: Hour(1440) }, vec![Step::Stop]),
        check(Occasion::Date { field: title, days: 0, at: Hour(0), working: false }, vec![Step::Stop]),
        check(Occasion::Added, vec![]),
        check(Occasion::Added, vec![Step::Set { along: Vec::new(), alter: alter(number, Alter::Empty) }]),
        check(Occasion::Added, vec![Step::Set { along: vec![title], alter: alter(title, Alter::Empty) }]),
        check(Occasion::Added, vec![Step::Set { along: Vec::new(), alter: alter(title, Alter::Now) }]),
        check(Occasion::Added, vec![Step::Add { table: faults, alter: alter(title, Alter::Days(3)), lines: Vec::new() }]),
        check(Occasion::Added, vec![world.mail("Faults", office(), "x", true)]),
        check(Occasion::Chosen, vec![nested(vec![wait(Pause::Hours(1))])]),
        check(Occasion::Chosen, vec![nested(vec![nested(vec![Step::Stop])])]),
        check(Occasion::Chosen, vec![nested(vec![])]),
        check(Occasion::Chosen, vec![wait(Pause::Days(0)), wait(Pause::Field(title))]),
    ], @r#"
    [
        Some(
            [
                "/condition Say what begins to hold: without a condition it never does.",
            ],
        ),
        Some(
            [
                "/when Choose at least one day of the week.",
            ],
        ),
        Some(
            [
                "/when Give an hour from 00:00 to 23:59.",
            ],
        ),
        Some(
            [
                "/when Choose a field that holds a day.",
            ],
        ),
        Some(
            [
                "/steps An automation does from 1 to 50 things.",
            ],
        ),
        Some(
            [
                "/steps/0/set/alter “Number” is not filled in by anybody, so nothing can be put into it.",
            ],
        ),
        Some(
            [
                "/steps/0/set/along This goes along a link that is not there any more.",
            ],
        ),
        Some(
            [
                "/steps/0/set/alter “What is wrong” holds no day.",
            ],
        ),
        Some(
            [
                "/steps/0/add/alter A new record has nothing in “What is wrong” that could be changed.",
            ],
        ),
        Some(
            [
                "/steps/0/mail One message of many records needs a day, a timetable or chosen records, that bring many.",
            ],
        ),
        None,
        Some(
            [
                "/steps/0/each/steps/0/each What goes through found records can’t go through others within.",
            ],
        ),
        Some(
            [
                "/steps/0/each/steps Say what is done with each that is found.",
            ],
        ),
        Some(
            [
                "/steps/0/wait/pause Wait from one day to ten years.",
                "/steps/1/wait/pause Choose a field that holds a day.",
            ],
        ),
    ]
    "#);
    // A field that it sets, and one that sets it going, can't be taken away under it.
    let step = world.set("Faults.Description", Alter::Along(vec![world.f("Faults.Section"), world.f("Sections.Name")]));
    world.automate("Faults", "Describe", Occasion::Changed(vec![world.f("Faults.Hours needed")]), Condition::default(), vec![step]);
    for path in ["Faults.Description", "Sections.Name", "Faults.Hours needed"] {
        let (table, field) = (world.at(path.split_once('.').unwrap().0), world.f(path));
        assert!(world.ds.uses(table, field).iter().any(|used| used.name == "Describe" && used.holds), "{path}");
    }
}

#[test]
fn a_rehearsal_over_what_happened_finds_what_it_would_have_done_and_changes_nothing() {
    let mut world = World::new();
    let since = world.clock.now;
    world.later(1);
    let good = world.option("Faults.Status.made good");
    let mut changes = Vec::new();
    for number in 10..16 {
        let moves = world.put("Faults.Status", number, good.clone());
        changes.extend(moves.into_iter().map(|of| of.change));
        let moves = world.put("Faults.Description", number, Value::text("seen"));
        changes.extend(moves.into_iter().map(|of| of.change));
        world.later(1);
    }
    changes.reverse();
    let automation = Automation {
        id: AutomationId::LAST,
        table: world.at("Faults"),
        name: "Tell the office".into(),
        on: false,
        when: Occasion::Changed(vec![world.f("Faults.Status")]),
        condition: world.is("Faults.Status", &["made good"]),
        steps: vec![world.mail("Faults", office(), "Done: {Number}", false), world.set("Faults.Reported on", Alter::Now)],
        before: Default::default(),
        acts_for: Some(person(&world.ds, "Nadia")),
        unsaid: false,
        draft: None,
    };
    let before = world.ds.seq;
    let lens = Lens::new(&world.ds, world.nadia(), &world.clock);
    let told = automation.rehearse(&lens, since, &changes, &()).unwrap();
    let did = told.happened.iter().filter(|one| !one.mails.is_empty()).count();
    // Those that were made good before had nothing changed.
    let first = demo();
    let newly = (10..16).filter(|n| value(&first, world.at("Faults"), record(*n), world.f("Faults.Status")) != good).count();
    assert_eq!(did, newly);
    assert!(told.says[0].starts_with("It would have run for"), "{:?}", told.says);
    assert!(told.says[1].contains("would have gone out: office@orrindale-paths.example"), "{:?}", told.says);
    let tried = automation.try_on(&lens, record(10)).unwrap();
    assert_eq!((tried.happened.len(), tried.happened[0].mails.len()), (1, 1));
    assert_eq!(world.ds.seq, before);

    // Stopped on its way back, it tells what it found until then, and how far that was.
    struct Until(usize);
    impl Pace for Until {
        fn goes_on(&self, done: usize, _of: usize) -> bool {
            done < self.0
        }
    }
    let stopped = automation.rehearse(&lens, since, &changes, &Until(4)).unwrap();
    assert!(stopped.happened.len() < told.happened.len() && stopped.happened == told.happened[..stopped.happened.len()]);
    assert!(stopped.says.last().unwrap().ends_with("it did not go back any further: you stopped it."), "{:?}", stopped.says);
}

/// Who waits for what many records set going hears of each run, and may stop it: then nothing is to be kept.
#[test]
fn what_follows_tells_how_far_it_has_come_and_stops_where_it_is_told_to() {
    struct Watcher(Mutex<Vec<(usize, usize)>>, usize);
    impl Pace for Watcher {
        fn goes_on(&self, done: usize, of: usize) -> bool {
            self.0.lock().unwrap().push((done, of));
            done < self.1
        }
    }
    let mut world = World::new();
    let step = world.set("Faults.Reported on", Alter::Now);
    let when = Occasion::Changed(vec![world.f("Faults.Status")]);
    world.automate("Faults", "Note the day", when, Condition::default(), vec![step]);
    let checked = Alter::Set(Input::Value(world.option("Faults.Status.checked")));
    let alter = vec![Altered { field: world.f("Faults.Status"), to: checked }];
    let bulk = Bulk { table: world.at("Faults"), which: Which::These((1..30).map(record).collect()), without: BTreeSet::new(), alter };
    let change = world.ds.decide(&Intent::Bulk(Box::new(bulk)), world.nadia(), &world.clock).unwrap().change;
    let all = course(world.ds.clone(), change.clone(), None, &world.clock);
    let followed = |most: usize| {
        let waiting = Watcher(Mutex::default(), most);
        let moves = paced_course(world.ds.clone(), change.clone(), None, &world.clock, &waiting);
        (moves.map(|moves| moves.into_iter().map(|of| of.change).collect::<Vec<_>>()), waiting.0.into_inner().unwrap())
    };
    let (moves, told) = followed(usize::MAX);
    assert_eq!(moves.unwrap(), all.iter().map(|of| of.change.clone()).collect::<Vec<_>>(), "the same, watched or not");
    assert!(told.len() > 10 && told.windows(2).all(|two| two[0].0 < two[1].0 || two[1].0 == two[1].1), "{told:?}");
    assert_eq!(told.last().map(|(done, of)| done == of), Some(true), "at its end all is done");
    let (moves, told) = followed(5);
    assert_eq!((moves, told.len()), (Err(Stopped), 6));
}
