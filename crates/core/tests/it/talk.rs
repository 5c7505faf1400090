//! Talk about records: who says what, whom it reaches, and that it is no change of the record.

use crate::fixture::*;
use proptest::prelude::*;
use westerfall_core::{
    access::{Asker, Heard, Lens},
    dataset::Dataset,
    fault::{FaultKind, Faults},
    find::{MOST_LINES, Wanted},
    history::{Change, Op},
    id::{CommentId, RecordId, RoleId},
    intent::{Intent, TableChange},
    talk::{CommentTold, LONGEST, MOST_FILES, TalkPart, TalkStep},
    value::Attachment,
};

fn text(words: &str) -> Vec<TalkPart> {
    vec![TalkPart::Text(words.to_owned())]
}

fn file(name: &str) -> Attachment {
    Attachment { id: format!("id of {name}"), name: name.to_owned(), media: "application/pdf".into(), size: 9 }
}

fn comment(number: u32) -> CommentId {
    CommentId::new(number).expect("not nothing")
}

fn step(ds: &mut Dataset, who: &str, record: RecordId, step: TalkStep) -> Result<Change, Faults> {
    let table = table(ds, "Faults");
    let asker = asker(ds, who);
    act(ds, asker, &Intent::Talk { table, record, step }).map(|decision| decision.change)
}

fn say(ds: &mut Dataset, who: &str, record: RecordId, said: Vec<TalkPart>, answers: Option<u32>) -> Result<Change, Faults> {
    step(ds, who, record, TalkStep::Say { said, files: Vec::new(), answers: answers.map(comment) })
}

fn talk(ds: &Dataset, who: &str, record: RecordId) -> Vec<CommentTold> {
    let clock = clock();
    Lens::new(ds, asker(ds, who), &clock).talk(table(ds, "Faults"), record)
}

/// *Nadia Ferreira-Holt: Go and look*, an answer behind a dash.
fn read(ds: &Dataset, who: &str, record: RecordId) -> Vec<String> {
    let line = |one: CommentTold| {
        let says: String = one.says.iter().map(|span| span.text.as_str()).collect();
        let dash = if one.answers.is_some() { "- " } else { "" };
        format!("{dash}{}: {}", one.who.split(' ').next().unwrap(), if one.gone { "(taken back)" } else { &says })
    };
    talk(ds, who, record).into_iter().map(line).collect()
}

/// A fault that Tamsin sees, and one that she does not.
fn seen_and_not(ds: &Dataset) -> (RecordId, RecordId) {
    let (clock, faults) = (clock(), table(ds, "Faults"));
    let tamsin = Lens::new(ds, asker(ds, "Tamsin"), &clock);
    let all = records(ds, faults);
    let seen = |wanted: bool| *all.iter().find(|record| tamsin.sees(faults, **record) == wanted).expect("one of each");
    (seen(true), seen(false))
}

fn kind(faults: Result<Change, Faults>) -> FaultKind {
    faults.expect_err("it is refused").0.first().expect("a fault").kind
}

#[test]
fn what_is_said_stands_in_its_order_with_its_answers() {
    let mut ds = demo();
    let (fault, _) = seen_and_not(&ds);
    say(&mut ds, "Nadia", fault, text("  Can the crew take the long bar?\n"), None).unwrap();
    say(&mut ds, "Tamsin", fault, text("Yes, it is in the van."), Some(1)).unwrap();
    say(&mut ds, "Nadia", fault, text("Good."), Some(2)).unwrap();
    assert_eq!(read(&ds, "Nadia", fault), ["Nadia: Can the crew take the long bar?", "- Tamsin: Yes, it is in the van.", "- Nadia: Good."]);
    let told = talk(&ds, "Nadia", fault);
    assert_eq!(told[2].answers, Some(comment(1)), "an answer to an answer stands under what both answer");
    assert!(told[0].mine && !told[1].mine);
}

#[test]
fn talk_is_no_change_of_the_record() {
    let mut ds = demo();
    let (fault, _) = seen_and_not(&ds);
    let faults = table(&ds, "Faults");
    let before = kept(&ds, faults, fault).unwrap();
    let was = std::sync::Arc::new(ds.clone());
    let change = say(&mut ds, "Nadia", fault, text("Nothing moves"), None).unwrap();
    let after = kept(&ds, faults, fault).unwrap();
    assert_eq!((before.meta, before.cells), (after.meta, after.cells));
    let clock = clock();
    assert_eq!(Lens::new(&ds, asker(&ds, "Nadia"), &clock).trail(faults, fault, std::slice::from_ref(&change)), []);
    let moves = westerfall_core::automation::course(was, change.clone(), None, &clock);
    assert!(moves.len() == 1 && moves[0].runs.is_empty(), "nothing is set going");
    assert!(change.in_words(&Lens::new(&ds, asker(&ds, "Nadia"), &clock)).starts_with("said something about the fault “"));
}

#[test]
fn it_is_told_to_whoever_sees_the_record_and_to_nobody_else() {
    let mut ds = demo();
    let (fault, other) = seen_and_not(&ds);
    say(&mut ds, "Nadia", other, text("Not for Eskermoor"), None).unwrap();
    assert_eq!(read(&ds, "Tamsin", other), Vec::<String>::new());
    assert_eq!(kind(say(&mut ds, "Tamsin", other, text("I try"), None)), FaultKind::NotFound);
    assert_eq!(kind(step(&mut ds, "Tamsin", other, TalkStep::Remove { comment: comment(1) })), FaultKind::NotFound);
    // A trustee reads, and may speak: talk is no change.
    assert!(say(&mut ds, "Pavel", fault, text("Who pays?"), None).is_ok());
    let table = table(&ds, "Faults");
    let outside = Intent::Talk { table, record: fault, step: TalkStep::Say { said: text("x"), files: Vec::new(), answers: None } };
    assert!(act(&mut ds, Asker::Westerfall, &outside).is_err(), "only people talk");
}

#[test]
fn only_ones_own_is_changed_and_stewards_take_back_anybodys() {
    let mut ds = demo();
    let (fault, _) = seen_and_not(&ds);
    say(&mut ds, "Tamsin", fault, text("The gate is of"), None).unwrap();
    let change = |said: &str| TalkStep::Change { comment: comment(1), said: text(said), files: Vec::new() };
    assert_eq!(kind(step(&mut ds, "Nadia", fault, change("off"))), FaultKind::NotAllowed);
    step(&mut ds, "Tamsin", fault, change("The gate is off")).unwrap();
    assert_eq!(read(&ds, "Nadia", fault), ["Tamsin: The gate is off"]);
    assert!(talk(&ds, "Nadia", fault)[0].changed.is_some());
    assert_eq!(kind(step(&mut ds, "Pavel", fault, TalkStep::Remove { comment: comment(1) })), FaultKind::NotAllowed);
    say(&mut ds, "Nadia", fault, text("Off its post?"), Some(1)).unwrap();
    let taken = step(&mut ds, "Nadia", fault, TalkStep::Remove { comment: comment(1) }).unwrap();
    assert_eq!(read(&ds, "Tamsin", fault), ["Tamsin: (taken back)", "- Nadia: Off its post?"], "what is answered leaves its place");
    assert_eq!(kind(step(&mut ds, "Tamsin", fault, change("x"))), FaultKind::NotFound);
    // Taking back is taken back like any step.
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &undo(taken)).unwrap();
    assert_eq!(read(&ds, "Tamsin", fault)[0], "Tamsin: The gate is off");
}

#[test]
fn what_is_said_brings_files_for_whoever_sees_the_record() {
    let mut ds = demo();
    let (fault, other) = seen_and_not(&ds);
    let faults = table(&ds, "Faults");
    let brings = |said: &str, files: Vec<Attachment>| TalkStep::Say { said: text(said), files, answers: None };
    let (seen, hidden) = (file("Quote for the gate.pdf"), file("elsewhere.pdf"));
    // A file alone is something said.
    let said = step(&mut ds, "Nadia", fault, brings(" ", vec![seen.clone()])).unwrap();
    step(&mut ds, "Nadia", other, brings("Look", vec![hidden.clone()])).unwrap();
    assert_eq!(kind(step(&mut ds, "Nadia", fault, brings("", Vec::new()))), FaultKind::Missing);
    let many = (0..=MOST_FILES).map(|n| file(&n.to_string())).collect();
    assert_eq!(kind(step(&mut ds, "Nadia", fault, brings("", many))), FaultKind::TooLong);
    let clock = clock();
    let holds = |ds: &Dataset, who: &str, file: &Attachment| Lens::new(ds, asker(ds, who), &clock).holds_talk_file(faults, &file.id);
    assert_eq!([&seen, &hidden].map(|file| holds(&ds, "Nadia", file)), [true, true]);
    assert_eq!([&seen, &hidden].map(|file| holds(&ds, "Tamsin", file)), [true, false]);
    assert!(ds.holds_file(faults, &hidden.id), "it is held, whoever sees it");
    assert_eq!(talk(&ds, "Tamsin", fault)[0].files, std::slice::from_ref(&seen));
    let line = |ds: &Dataset| {
        let lens = Lens::new(ds, asker(ds, "Tamsin"), &clock);
        let found = lens.find(&Wanted { text: "quote", lines: MOST_LINES, ..Wanted::default() });
        found
            .tables
            .iter()
            .flat_map(|one| &one.lines)
            .filter(|line| line.record == fault)
            .map(|line| line.says[0].of.clone())
            .collect::<Vec<_>>()
    };
    assert_eq!(line(&ds), ["said by Nadia Ferreira-Holt"], "it is found by its name");
    // What one said is changed, and a file stays or goes with that; none is made up by its id.
    let change =
        |files: &[&str]| TalkStep::Change { comment: comment(1), said: text("Theirs"), files: files.iter().map(|&id| id.into()).collect() };
    step(&mut ds, "Nadia", fault, change(&[&seen.id, &hidden.id])).unwrap();
    assert_eq!(talk(&ds, "Tamsin", fault)[0].files, std::slice::from_ref(&seen));
    let dropped = step(&mut ds, "Nadia", fault, change(&[])).unwrap();
    assert!(!holds(&ds, "Nadia", &seen) && !ds.holds_file(faults, &seen.id) && line(&ds).is_empty());
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &undo(dropped)).unwrap();
    assert!(holds(&ds, "Tamsin", &seen));
    // Taken back, nothing of it is held.
    step(&mut ds, "Nadia", fault, TalkStep::Remove { comment: comment(1) }).unwrap();
    assert!(!ds.holds_file(faults, &seen.id) && talk(&ds, "Nadia", fault).is_empty(), "{said:?}");
}

#[test]
fn nobody_takes_back_by_undoing_what_somebody_else_said() {
    let mut ds = demo();
    let (fault, _) = seen_and_not(&ds);
    let said = say(&mut ds, "Nadia", fault, text("Mine"), None).unwrap();
    let tamsin = asker(&ds, "Tamsin");
    assert!(act(&mut ds, tamsin, &undo(said.clone())).is_err());
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &undo(said)).unwrap();
    assert_eq!(read(&ds, "Nadia", fault), Vec::<String>::new());
    say(&mut ds, "Nadia", fault, text("Again"), None).unwrap();
    assert_eq!(read(&ds, "Nadia", fault), ["Nadia: Again"]);
}

#[test]
fn names_are_told_as_far_as_they_are_open() {
    let mut ds = demo();
    let (fault, other) = seen_and_not(&ds);
    let faults = table(&ds, "Faults");
    let said = vec![
        TalkPart::Person(person(&ds, "Tamsin")),
        TalkPart::Text(" look at ".to_owned()),
        TalkPart::Record { table: faults, record: other },
    ];
    say(&mut ds, "Nadia", fault, said, None).unwrap();
    let clock = clock();
    let name = Lens::new(&ds, asker(&ds, "Nadia"), &clock).record_name(faults, other).unwrap().name;
    assert_eq!(read(&ds, "Nadia", fault), [format!("Nadia: Tamsin Oake look at {name}")]);
    assert_eq!(read(&ds, "Tamsin", fault), ["Nadia: Tamsin Oake look at a record that is not open to you"]);
    assert!(talk(&ds, "Tamsin", fault)[0].to_me);
    // Nobody names a record that they don’t see.
    let hidden = vec![TalkPart::Record { table: faults, record: other }];
    assert_eq!(kind(say(&mut ds, "Tamsin", fault, hidden, None)), FaultKind::NotFound);
}

#[test]
fn before_one_says_it_one_knows_whom_it_reaches() {
    let mut ds = demo();
    let (fault, other) = seen_and_not(&ds);
    let (faults, clock) = (table(&ds, "Faults"), clock());
    let whom = |record| {
        let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
        lens.whom(faults, record, "tam").into_iter().map(|one| (one.name, one.sees, one.says)).collect::<Vec<_>>()
    };
    assert_eq!(whom(fault), [("Tamsin Oake".to_owned(), true, "may see this".to_owned())]);
    assert_eq!(whom(other), [("Tamsin Oake".to_owned(), false, "may not see this record, and is not told".to_owned())]);
    let lens = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    assert_eq!(lens.whom(faults, other, ""), [], "of a record that one doesn’t see nothing is told");
    let named = |who: &str| vec![TalkPart::Person(person(&ds, who))];
    let (to_tamsin, to_idris) = (named("Tamsin"), named("Idris"));
    say(&mut ds, "Nadia", fault, to_tamsin, None).unwrap();
    say(&mut ds, "Nadia", fault, to_idris, None).unwrap();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let said = lens.last_said(faults, fault, person(&ds, "Nadia")).unwrap();
    assert!(lens.addressed_by(faults, fault, &said).is_empty(), "Idris sees nothing of Eskermoor");
    say(&mut ds, "Tamsin", fault, text("I go"), Some(1)).unwrap();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let answer = lens.last_said(faults, fault, person(&ds, "Tamsin")).unwrap();
    assert_eq!(lens.addressed_by(faults, fault, &answer), [person(&ds, "Nadia")].into(), "whom one answers is reached");
}

#[test]
fn a_group_is_spoken_to_by_stewards_and_by_those_in_it() {
    let mut ds = demo();
    let (fault, _) = seen_and_not(&ds);
    let (faults, clock) = (table(&ds, "Faults"), clock());
    let group = ds.people.groups().find(|group| !group.members.is_empty()).expect("the demo has groups").clone();
    let named = |who: &str| {
        let lens = Lens::new(&ds, asker(&ds, who), &clock);
        lens.whom(faults, fault, &group.name).iter().any(|one| one.name == group.name)
    };
    assert!(named("Nadia"), "a steward");
    let outside = ["Tamsin", "Pavel"].into_iter().find(|who| !group.members.contains(&person(&ds, who))).expect("somebody outside");
    assert!(!named(outside), "{outside} is told of no group that they are not in");
    assert_eq!(kind(say(&mut ds, outside, fault, vec![TalkPart::Group(group.id)], None)), FaultKind::NotFound);
    assert!(say(&mut ds, "Nadia", fault, vec![TalkPart::Group(group.id)], None).is_ok());
}

#[test]
fn what_says_nothing_or_too_much_is_refused() {
    let mut ds = demo();
    let (fault, _) = seen_and_not(&ds);
    assert_eq!(kind(say(&mut ds, "Nadia", fault, text(" \n "), None)), FaultKind::Missing);
    assert_eq!(kind(say(&mut ds, "Nadia", fault, Vec::new(), None)), FaultKind::Missing);
    assert_eq!(kind(say(&mut ds, "Nadia", fault, text(&"a".repeat(LONGEST + 1)), None)), FaultKind::TooLong);
    let many = vec![TalkPart::Person(person(&ds, "Tamsin")); 51];
    assert_eq!(kind(say(&mut ds, "Nadia", fault, many, None)), FaultKind::TooLong);
    assert_eq!(kind(say(&mut ds, "Nadia", fault, text("to whom"), Some(7))), FaultKind::NotFound);
    let nobody = vec![TalkPart::Person(westerfall_core::id::PersonId::new(999).unwrap())];
    assert_eq!(kind(say(&mut ds, "Nadia", fault, nobody, None)), FaultKind::NotFound);
    assert!(talk(&ds, "Nadia", fault).is_empty(), "nothing half-said");
}

#[test]
fn a_word_of_what_was_said_is_found_by_whoever_sees_the_record() {
    let mut ds = demo();
    let (fault, other) = seen_and_not(&ds);
    say(&mut ds, "Nadia", fault, text("The farmer wants a Füllhorn first"), None).unwrap();
    say(&mut ds, "Nadia", other, text("A fullhorn there, too"), None).unwrap();
    let clock = clock();
    let count = |who: &str| {
        let found = Lens::new(&ds, asker(&ds, who), &clock).find(&Wanted { text: "fullhorn", lines: MOST_LINES, ..Wanted::default() });
        found.tables.into_iter().flat_map(|one| one.lines).map(|line| (line.record, line.says[0].of.clone())).collect::<Vec<_>>()
    };
    let mut nadia = count("Nadia");
    nadia.sort();
    let mut both = vec![(fault, "said by Nadia Ferreira-Holt".to_owned()), (other, "said by Nadia Ferreira-Holt".to_owned())];
    both.sort();
    assert_eq!(nadia, both);
    assert_eq!(count("Tamsin"), [(fault, "said by Nadia Ferreira-Holt".to_owned())]);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    /// Whatever is said, with files or without, changed and taken back: undoing all of it in turn leaves what was, and each number is given out once.
    #[test]
    fn every_step_is_taken_back(steps in prop::collection::vec((0_u8..3, 1_u32..6, "[a-z]{0,6}", 0_usize..3), 1..16)) {
        let mut ds = demo();
        let (fault, _) = seen_and_not(&ds);
        let mut done = Vec::new();
        for (which, number, words, brings) in steps {
            let files: Vec<Attachment> = (0..brings).map(|n| file(&format!("{n}.pdf"))).collect();
            let one = match which {
                0 => TalkStep::Say { said: text(&words), files: files.clone(), answers: None },
                1 => TalkStep::Change { comment: comment(number), said: text(&words), files: files.iter().map(|file| file.id.clone()).collect() },
                _ => TalkStep::Remove { comment: comment(number) },
            };
            let before = talk(&ds, "Nadia", fault);
            if let Ok(change) = step(&mut ds, "Nadia", fault, one) {
                let said = change.ops.iter().filter(|op| matches!(op, Op::Say { before: None, .. })).count();
                prop_assert!(said <= 1);
                if !change.ops.is_empty() {
                    done.push((before, change));
                }
            }
        }
        let mut ids: Vec<_> = talk(&ds, "Nadia", fault).iter().map(|one| one.id).collect();
        let known = ids.len();
        ids.dedup();
        prop_assert_eq!(ids.len(), known);
        for (before, change) in done.into_iter().rev() {
            let nadia = asker(&ds, "Nadia");
            act(&mut ds, nadia, &undo(change)).unwrap();
            prop_assert_eq!(talk(&ds, "Nadia", fault), before);
        }
    }
}

/// Where the coordinator says so, what is said is told to some roles alone: to nobody else by any way.
#[test]
fn what_is_said_is_told_to_the_roles_that_it_is_for_and_to_stewards_alone() {
    let mut ds = demo();
    let (seen, _) = seen_and_not(&ds);
    let faults = table(&ds, "Faults");
    let office = ds.roles().find(|role| role.name == "Office").expect("a role of the demo").clone();
    let (nadia, tamsin) = (asker(&ds, "Nadia"), asker(&ds, "Tamsin"));
    say(&mut ds, "Tamsin", seen, text("Before"), None).unwrap();
    let talk_for = |roles: Vec<RoleId>| Intent::Table(TableChange::TalkFor { table: faults, roles });
    assert!(ds.decide(&talk_for(vec![office.id]), tamsin, &clock()).is_err(), "who sees what is the stewards’ to say");
    let done = act(&mut ds, nadia, &talk_for(vec![office.id])).unwrap();
    let named = vec![TalkPart::Text("The lawyers ask, ".into()), TalkPart::Person(person(&ds, "Tamsin"))];
    let said = say(&mut ds, "Bex", seen, named, None).unwrap();
    assert_eq!(read(&ds, "Nadia", seen), read(&ds, "Bex", seen));
    assert_eq!(read(&ds, "Bex", seen).len(), 2);
    assert!(read(&ds, "Tamsin", seen).is_empty(), "not what was said before either");
    assert_eq!(kind(say(&mut ds, "Tamsin", seen, text("I would say"), None)), FaultKind::NotAllowed);
    assert_eq!(kind(step(&mut ds, "Tamsin", seen, TalkStep::Remove { comment: comment(1) })), FaultKind::NotAllowed);
    // Nor by finding, by being named, by the inbox, by hearing of it, by what stands in the log.
    let now = clock();
    let hers = Lens::new(&ds, tamsin, &now);
    assert!(hers.sees(faults, seen) && !hers.hears(faults, seen));
    assert_eq!(hers.find(&Wanted { text: "lawyers", lines: MOST_LINES, ..Wanted::default() }).count, 0);
    let Op::Say { after: Some(last), .. } = &said.ops[0] else { panic!("something was said") };
    assert!(hers.addressed_by(faults, seen, last).is_empty());
    assert_eq!(Lens::new(&ds, nadia, &now).find(&Wanted { text: "lawyers", lines: MOST_LINES, ..Wanted::default() }).count, 1);
    assert!(!said.in_words(&hers).contains("said something"), "{}", said.in_words(&hers));
    assert!(Lens::new(&ds, nadia, &now).whom(faults, seen, "Tamsin").iter().all(|one| !one.sees));
    let heard = |who: Asker| Heard::of(Some(&said), &ds.clone().apply(&said), &Lens::new(&ds, who, &now), &Lens::new(&ds, who, &now));
    assert!(heard(nadia).is_some() && heard(tamsin).is_none());
    // The role stays while it is named here: without it everybody would be told.
    assert!(ds.decide(&Intent::Drop(office.clone().into()), nadia, &clock()).is_err());
    act(&mut ds, nadia, &undo(done.change)).unwrap();
    assert_eq!(read(&ds, "Tamsin", seen).len(), 2);
    act(&mut ds, nadia, &Intent::Drop(office.into())).unwrap();
}
