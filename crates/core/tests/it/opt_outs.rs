//! Addresses outside that want no more messages: what each said is kept, held to, corrected and taken back.

use crate::fixture::*;
use proptest::prelude::*;
use std::{
    collections::{BTreeMap, BTreeSet},
    sync::Arc,
};
use westerfall_core::{
    access::Asker,
    automation::{Automation, LogOutcome, Occasion, Recipient, Run, Step, course},
    dataset::Dataset,
    fault::FaultKind,
    id::{AutomationId, FormId, PersonId, TrackerId},
    intent::Intent,
    part::Part,
    people::MessagesOf,
    team::{Newcomer, OptOutSaid, OptOutWish, Team, TeamAsker, TeamChange, TeamIntent, Wanted},
    wording::{Piece, Wording},
};

const WALKER: &str = "wynn@walkers.example";
const HERE: TrackerId = TrackerId::FIRST;

fn of(tracker: u32, part: u32) -> MessagesOf {
    MessagesOf { tracker: TrackerId::new(tracker).unwrap(), part }
}

fn wish(address: &str, to: Wanted) -> TeamIntent {
    TeamIntent::OptOut(OptOutWish { address: address.into(), to })
}

fn owner() -> TeamAsker {
    TeamAsker::Person { me: PersonId::FIRST, lets_in: true, runs: Arc::default() }
}

/// Whoever runs these trackers, and owns nothing.
fn steward(trackers: &[u32]) -> TeamAsker {
    let runs: BTreeSet<TrackerId> = trackers.iter().filter_map(|id| TrackerId::new(*id)).collect();
    TeamAsker::Person { me: PersonId::new(2).unwrap(), lets_in: true, runs: Arc::new(runs) }
}

/// Ines owns it, Odo works in it.
fn team() -> Team {
    let newcomer = |name: &str| Newcomer { name: name.into(), mail: format!("{name}@fellside.example"), about: String::new() };
    let mut team = Team::default();
    done(&mut team, &TeamIntent::Begin { team: "Fellside Repairs".into(), owner: newcomer("Ines") }, TeamAsker::Westerfall);
    done(&mut team, &TeamIntent::Add(vec![newcomer("Odo")]), owner());
    done(&mut team, &TeamIntent::Arrive(PersonId::new(2).unwrap()), TeamAsker::Westerfall);
    team
}

#[track_caller]
fn done(team: &mut Team, intent: &TeamIntent, asker: TeamAsker) -> TeamChange {
    let change = team.decide(intent, &asker, clock().now).unwrap_or_else(|faults| panic!("{faults:?}"));
    team.apply(&change);
    change
}

#[track_caller]
fn refused(team: &Team, intent: &TeamIntent, asker: &TeamAsker) -> FaultKind {
    team.decide(intent, asker, clock().now).expect_err("this is refused").0.remove(0).kind
}

#[test]
fn who_wants_no_more_of_some_messages_still_gets_others_and_capitals_are_no_way_round() {
    let mut team = team();
    let no = done(&mut team, &wish(WALKER, Wanted::NotThese(of(1, 121))), TeamAsker::Westerfall);
    assert_eq!(no.did(), "noted that wynn@walkers.example wants no more of some messages");
    let wants = |team: &Team, address: &str, of| team.people().wants(address, of);
    assert!(!wants(&team, " Wynn@Walkers.EXAMPLE", Some(of(1, 121))));
    assert!(wants(&team, WALKER, Some(of(1, 122))) && wants(&team, WALKER, Some(of(2, 121))) && wants(&team, WALKER, None));
    // Said again it changes nothing.
    let again = team.decide(&wish("WYNN@walkers.example", Wanted::NotThese(of(1, 121))), &TeamAsker::Westerfall, clock().now).unwrap();
    assert!(again.ops.is_empty());
    let none = done(&mut team, &wish(WALKER, Wanted::None { by: Some(of(1, 121)) }), TeamAsker::Westerfall);
    assert_eq!(none.did(), "noted that wynn@walkers.example wants no messages");
    assert!(!wants(&team, WALKER, Some(of(2, 9))) && !wants(&team, WALKER, None));
    let undone = done(&mut team, &TeamIntent::Undo(Box::new(none)), owner());
    assert_eq!(undone.did(), "lets some messages go to wynn@walkers.example again");
    assert!(wants(&team, WALKER, None) && !wants(&team, WALKER, Some(of(1, 121))));
    let back = done(&mut team, &wish(WALKER, Wanted::All), owner());
    assert_eq!(back.did(), "lets messages go to wynn@walkers.example again");
    assert_eq!(team.people().opt_outs().count(), 0);
    assert_eq!(refused(&team, &wish("not an address\r\nBcc: all", Wanted::All), &owner()), FaultKind::WrongKind);
}

#[test]
fn a_steward_knows_and_corrects_what_is_of_their_trackers_and_nothing_else() {
    let mut team = team();
    for (address, to) in [
        ("a@out.example", Wanted::NotThese(of(1, 5))),
        ("a@out.example", Wanted::NotThese(of(2, 6))),
        ("b@out.example", Wanted::NotThese(of(2, 6))),
        ("c@out.example", Wanted::None { by: Some(of(1, 5)) }),
        ("d@out.example", Wanted::None { by: None }),
    ] {
        done(&mut team, &wish(address, to), TeamAsker::Westerfall);
    }
    let of_first: Vec<(String, Vec<MessagesOf>)> =
        team.opt_outs_for(&steward(&[1])).into_iter().map(|one| (one.address, one.of.into_iter().collect())).collect();
    assert_eq!(of_first, [("a@out.example".to_owned(), vec![of(1, 5)]), ("c@out.example".to_owned(), vec![of(1, 5)])]);
    assert!(team.opt_outs_for(&steward(&[])).is_empty());
    assert_eq!(team.opt_outs_for(&owner()).len(), 4);

    assert_eq!(refused(&team, &wish("a@out.example", Wanted::These(of(2, 6))), &steward(&[1])), FaultKind::NotAllowed);
    assert_eq!(refused(&team, &wish("a@out.example", Wanted::All), &steward(&[1])), FaultKind::NotAllowed);
    assert_eq!(refused(&team, &wish("c@out.example", Wanted::These(of(1, 5))), &steward(&[1])), FaultKind::NotAllowed);
    assert_eq!(refused(&team, &wish("e@out.example", Wanted::None { by: None }), &steward(&[1])), FaultKind::NotAllowed);
    // Of an address that said nothing they are refused alike: the answer tells nobody who said something.
    assert_eq!(refused(&team, &wish("nobody@out.example", Wanted::All), &steward(&[1])), FaultKind::NotAllowed);
    assert_eq!(refused(&team, &wish("nobody@out.example", Wanted::These(of(2, 6))), &steward(&[1])), FaultKind::NotAllowed);
    done(&mut team, &wish("a@out.example", Wanted::These(of(1, 5))), steward(&[1]));
    assert!(team.people().wants("a@out.example", Some(of(1, 5))) && !team.people().wants("a@out.example", Some(of(2, 6))));
    done(&mut team, &wish("c@out.example", Wanted::All), owner());
    assert!(team.people().wants("c@out.example", Some(of(1, 5))));
}

#[test]
fn the_page_at_a_message_offers_what_is_not_so_already() {
    let mut team = team();
    let mut seen = Vec::new();
    let said = [None, Some(OptOutSaid::NotThese), Some(OptOutSaid::None), Some(OptOutSaid::Again)];
    for step in said {
        if let Some(said) = step {
            done(&mut team, &TeamIntent::OptOut(said.wish(WALKER, Some(of(1, 121)))), TeamAsker::Westerfall);
        }
        let view = team.opt_out_view(WALKER, "Your report FR-2026-0009", Some(of(1, 121)));
        let offers: Vec<String> = view.offers.into_iter().map(|offer| offer.words).collect();
        seen.push(format!("{} [{}]", view.says, offers.join(" | ")));
    }
    let alone = team.opt_out_view(WALKER, "Your answer", None);
    seen.push(format!("{} [{}]", alone.says, alone.offers[0].words));
    insta::assert_snapshot!(seen.join("\n"), @r"
    wynn@walkers.example gets messages such as “Your report FR-2026-0009” from Fellside Repairs. [No more of these | No messages at all]
    wynn@walkers.example gets no more messages such as “Your report FR-2026-0009” from Fellside Repairs. [Send these again | No messages at all]
    wynn@walkers.example gets no messages from Fellside Repairs any more. [Send messages again]
    wynn@walkers.example gets messages such as “Your report FR-2026-0009” from Fellside Repairs. [No more of these | No messages at all]
    wynn@walkers.example gets messages such as “Your answer” from Fellside Repairs. [No messages at all]
    ");
    // What is the only one of its kind can only be declined with all.
    assert_eq!(OptOutSaid::NotThese.wish(WALKER, None).to, Wanted::None { by: None });
}

/// The demo in a team to which somebody outside said so.
fn said(to: Wanted) -> Dataset {
    let mut ds = demo();
    let mut team = team();
    ds.people.iter().for_each(|known| team.load_part(westerfall_core::team::TeamPart::Person(known.clone())));
    done(&mut team, &wish(WALKER, to), TeamAsker::Westerfall);
    ds = ds.numbered(HERE).with_people(team.people().clone());
    ds
}

#[test]
fn whoever_wants_no_copies_of_their_answers_gets_none_and_other_messages_all_the_same() {
    let copies = |to: Wanted| {
        let mut ds = said(to);
        let form = FormId::new(120).unwrap();
        let mail = field(&ds, "Faults.Reporter’s mail");
        let with = westerfall_core::form::Form { copy: Some(mail), ..ds.form(form).unwrap().clone() };
        ds.load_part(&Part::Form(with));
        let runs = sent(&mut ds);
        let sent_by = |number: u32| runs.iter().find(|run| run.source.number() == number).map(|run| run.mails.len());
        (sent_by(120), sent_by(900))
    };
    assert_eq!(copies(Wanted::NotThese(of(1, 120))), (Some(0), Some(1)));
    assert_eq!(copies(Wanted::NotThese(of(1, 900))), (Some(1), Some(0)));
    assert_eq!(copies(Wanted::None { by: None }), (Some(0), Some(0)));
}

/// What a fault of a stranger sets going: one automation more, that writes to whoever reported it.
fn sent(ds: &mut Dataset) -> Vec<Run> {
    let f = |name: &str| field(&demo(), &format!("Faults.{name}"));
    let write = Step::Mail {
        to: Recipient::Field(vec![f("Reporter’s mail")]),
        subject: Wording(vec![Piece::Text("We have it".into())]),
        body: Wording(Vec::new()),
        digest: false,
        reply: None,
        encloses: None,
        text: None,
    };
    let thanks = Automation {
        id: AutomationId::new(900).unwrap(),
        table: table(ds, "Faults"),
        name: "Thank the walker".into(),
        on: true,
        when: Occasion::Form(None),
        condition: Default::default(),
        steps: vec![write],
        before: Default::default(),
        acts_for: None,
        unsaid: false,
        draft: None,
    };
    ds.load_part(&Part::Automation(thanks));
    let form = FormId::new(120).unwrap();
    let answers = vec![
        (f("What is wrong"), typed("Stile down")),
        (f("Kind"), typed("stile or gate")),
        (f("Severity"), typed("passable")),
        (f("Section"), links(&[1])),
        (f("Reporter"), typed("Wynn Ashdale")),
        (f("Reporter’s mail"), typed(WALKER)),
    ];
    let before = ds.clone();
    let change = act(ds, Asker::Form(form), &Intent::Send { form, answer: answers.into() }).unwrap().change;
    course(Arc::new(before), change, None, &clock()).into_iter().flat_map(|of| of.runs).collect()
}

#[test]
fn an_automation_writes_to_nobody_outside_who_said_no_and_its_log_says_so() {
    let written = |to: Wanted| -> (usize, String) {
        let runs = sent(&mut said(to));
        let run = runs.iter().find(|run| run.source.number() == 900).unwrap();
        (run.mails.len(), run.log.iter().map(|line| format!("{:?} {}", line.outcome, line.text)).collect::<Vec<_>>().join("; "))
    };
    let no = format!("{:?} No mail to {WALKER}: they want no more of these messages.", LogOutcome::No);
    assert_eq!(written(Wanted::NotThese(of(1, 900))), (0, no.clone()));
    assert_eq!(written(Wanted::None { by: None }), (0, no));
    let (mails, log) = written(Wanted::NotThese(of(1, 121)));
    assert_eq!((mails, log.as_str()), (1, "Yes Mail to wynn@walkers.example: “We have it”."));
}

proptest! {
    /// Whatever is said in whatever order, an address gets what the last word about it lets it get, and undoing each step brings back all.
    #[test]
    fn the_last_word_holds(steps in prop::collection::vec((0_usize..3, 0_usize..5, 1_u32..3), 1..25)) {
        let addresses = ["a@out.example", "b@out.example", "c@out.example"];
        let mut team = team();
        let begun = team.people().clone();
        let mut all = BTreeMap::<usize, bool>::new();
        let mut some = BTreeMap::<(usize, u32), bool>::new();
        let mut changes = Vec::new();
        for (who, what, which) in steps {
            let to = match what {
                0 => Wanted::NotThese(of(1, which)),
                1 => Wanted::None { by: None },
                2 => Wanted::None { by: Some(of(1, which)) },
                3 => Wanted::These(of(1, which)),
                _ => Wanted::All,
            };
            match what {
                0 => drop(some.insert((who, which), true)),
                1 | 2 => {
                    all.insert(who, true);
                    if what == 2 {
                        some.insert((who, which), true);
                    }
                }
                3 => {
                    all.remove(&who);
                    some.remove(&(who, which));
                }
                _ => {
                    all.remove(&who);
                    some.retain(|(one, _), _| *one != who);
                }
            }
            let change = done(&mut team, &wish(addresses[who], to), owner());
            if !change.ops.is_empty() {
                changes.push(change);
            }
            for (place, address) in addresses.iter().enumerate() {
                for which in 1..3 {
                    let wants = !all.contains_key(&place) && !some.contains_key(&(place, which));
                    prop_assert_eq!(team.people().wants(address, Some(of(1, which))), wants);
                }
            }
        }
        for change in changes.into_iter().rev() {
            done(&mut team, &TeamIntent::Undo(Box::new(change)), owner());
        }
        prop_assert_eq!(team.people().opt_outs().count(), begun.opt_outs().count());
    }
}
