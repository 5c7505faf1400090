//! The team: who may do what to it, what may stand, and what a change of it says and takes back.

use jiff::{SignedDuration, Timestamp, tz::TimeZone};
use proptest::prelude::*;
use std::{collections::BTreeSet, sync::Arc};
use westerfall_core::{
    access::{Asker, Base, Lens, Role, may_stand_in},
    face::TeamLook,
    fault::FaultKind,
    id::{AreaId, GroupId, PersonId, TrackerId},
    part::Part,
    people::{Area, AreaRight, Person, Quiet, Standing},
    team::{AreaWish, Newcomer, Sending, Team, TeamAsker, TeamChange, TeamIntent, opens_says},
    value::Attachment,
};

use crate::fixture::{asker, clock, demo, field, table};

fn id(number: u32) -> PersonId {
    PersonId::new(number).unwrap()
}

fn newcomer(name: &str) -> Newcomer {
    let mail = format!("{}@fellside.example", name.split(' ').next().unwrap().to_lowercase());
    Newcomer { name: name.into(), mail, about: String::new() }
}

fn by(me: u32) -> TeamAsker {
    TeamAsker::Person { me: id(me), lets_in: false, runs: Arc::default() }
}

fn lets_in(me: u32) -> TeamAsker {
    TeamAsker::Person { me: id(me), lets_in: true, runs: Arc::default() }
}

#[track_caller]
fn done(team: &mut Team, intent: &TeamIntent, asker: TeamAsker) -> TeamChange {
    let change = team.decide(intent, &asker, clock().now).unwrap_or_else(|faults| panic!("{faults:?}"));
    team.apply(&change);
    change
}

#[track_caller]
fn refused(team: &Team, intent: &TeamIntent, asker: TeamAsker) -> (FaultKind, String) {
    let fault = team.decide(intent, &asker, clock().now).expect_err("this is refused").0.remove(0);
    (fault.kind, fault.message)
}

/// Ines owns it, Odo was let in, Ada is invited.
fn team() -> Team {
    let mut team = Team::default();
    done(&mut team, &TeamIntent::Begin { team: "Fellside Repairs".into(), owner: newcomer("Ines Lark") }, TeamAsker::Westerfall);
    done(&mut team, &TeamIntent::Add(vec![newcomer("Odo Finch"), newcomer("Ada Wren")]), by(1));
    done(&mut team, &TeamIntent::Arrive(id(2)), TeamAsker::Westerfall);
    team
}

fn person(team: &Team, number: u32) -> Person {
    team.people().get(id(number)).unwrap().clone()
}

#[test]
fn a_team_is_begun_once_by_its_first_owner() {
    let mut team = Team::default();
    let begin = |name: &str| TeamIntent::Begin { team: name.into(), owner: newcomer("Ines Lark") };
    assert_eq!(refused(&team, &begin(" "), TeamAsker::Westerfall).1, "Say what the team is called.");
    let change = done(&mut team, &begin(" Fellside\r\n Repairs "), TeamAsker::Westerfall);
    assert_eq!((change.seq, team.seq, team.name(), change.did().as_str()), (1, 1, "Fellside Repairs", "called the team Fellside Repairs"));
    assert!(team.is_owner(id(1)) && person(&team, 1).standing.is_here());
    assert_eq!(refused(&team, &begin("Another"), TeamAsker::Westerfall).0, FaultKind::NotAllowed);
}

#[test]
fn whoever_lets_people_in_names_them_and_puts_right_what_they_wrote_until_they_are_here() {
    let mut team = team();
    let add = TeamIntent::Add(vec![newcomer("Kit Moss")]);
    assert_eq!(refused(&team, &add, by(2)).0, FaultKind::NotAllowed);
    assert_eq!(done(&mut team, &add, lets_in(2)).did(), "named Kit Moss");
    let named = Person { name: "Kit  Mossop ".into(), phone: "+44 1632 960123".into(), ..person(&team, 4) };
    assert_eq!(done(&mut team, &TeamIntent::Change(named), lets_in(2)).did(), "called Kit Moss Kit Mossop");
    assert_eq!((person(&team, 4).name.as_str(), person(&team, 4).phone.as_str()), ("Kit Mossop", "+441632960123"));
    // Another who lets people in neither changes nor invites them: what they were given already would be theirs.
    done(&mut team, &TeamIntent::Arrive(id(3)), TeamAsker::Westerfall);
    let other = Person { mail: "mine@fellside.example".into(), ..person(&team, 4) };
    assert_eq!(refused(&team, &TeamIntent::Change(other), lets_in(3)).0, FaultKind::NotAllowed);
    let kit = person(&team, 4);
    let may = |me: u32, lets_in| team.invites(id(me), lets_in, &kit);
    assert_eq!((may(2, true), may(2, false), may(3, true), may(1, false)), (true, false, false, true));
    done(&mut team, &TeamIntent::Arrive(id(4)), TeamAsker::Westerfall);
    let renamed = Person { name: "Somebody".into(), ..person(&team, 4) };
    assert_eq!(refused(&team, &TeamIntent::Change(renamed), lets_in(2)).0, FaultKind::NotAllowed);
    // Themselves they may, but neither their standing nor their address nor whose team it is.
    let zoned = Person { zone: "Europe/Lisbon".into(), ..person(&team, 4) };
    assert_eq!(done(&mut team, &TeamIntent::Change(zoned), by(4)).did(), "changed time zone of Kit Mossop");
    for wrong in [
        Person { owner: true, ..person(&team, 4) },
        Person { mail: "kit@elsewhere.example".into(), ..person(&team, 4) },
        Person { standing: Standing::Left, ..person(&team, 4) },
    ] {
        assert_eq!(refused(&team, &TeamIntent::Change(wrong), by(4)).0, FaultKind::NotAllowed);
    }
}

#[test]
fn what_is_wrong_with_many_is_said_of_each() {
    let team = team();
    let odd = |name: &str, mail: &str| Newcomer { name: name.into(), mail: mail.into(), about: String::new() };
    let list = vec![odd("Kit Moss", "kit@fellside.example"), odd("", "nobody"), odd("Again", "KIT@fellside.example")];
    let faults = team.decide(&TeamIntent::Add(list), &by(1), clock().now).unwrap_err().0;
    let told: Vec<(String, &str)> = faults.iter().map(|f| (f.pointer.clone(), f.message.as_str())).collect();
    assert_eq!(
        told,
        [
            ("/1/name".to_owned(), "Give it a name."),
            ("/1/mail".to_owned(), "This is not a mail address. It should look like name@place.example."),
        ]
    );
    let list = vec![odd("Kit Moss", "kit@fellside.example"), odd("Again", "KIT@fellside.example"), odd("Odo", "odo@fellside.example")];
    let faults = team.decide(&TeamIntent::Add(list), &by(1), clock().now).unwrap_err().0;
    let told: Vec<(String, &str)> = faults.iter().map(|f| (f.pointer.clone(), f.message.as_str())).collect();
    assert_eq!(
        told,
        [("/1/mail".to_owned(), "Kit Moss has this address already."), ("/2/mail".to_owned(), "Odo Finch has this address already.")]
    );
    let zone = Person { zone: "Fellside/Mill".into(), phone: "twelve".into(), ..person(&team, 1) };
    let faults = team.decide(&TeamIntent::Change(zone), &by(1), clock().now).unwrap_err().0;
    assert_eq!(faults.iter().map(|f| f.pointer.as_str()).collect::<Vec<_>>(), ["/zone", "/phone"]);
}

#[test]
fn the_last_owner_cannot_go_and_whoever_left_can_be_invited_again() {
    let mut team = team();
    let message = "A team needs an owner who is here. Make somebody else an owner first.";
    assert_eq!(refused(&team, &TeamIntent::Leave(id(1)), by(1)).1, message);
    let no_owner = Person { owner: false, ..person(&team, 1) };
    assert_eq!(refused(&team, &TeamIntent::Change(no_owner), by(1)).1, message);
    // Whoever is invited and not here yet is no owner who is here.
    let ada = Person { owner: true, ..person(&team, 3) };
    done(&mut team, &TeamIntent::Change(ada), by(1));
    assert_eq!(refused(&team, &TeamIntent::Leave(id(1)), by(1)).1, message);
    done(&mut team, &TeamIntent::Arrive(id(3)), TeamAsker::Westerfall);
    let change = done(&mut team, &TeamIntent::Leave(id(1)), by(1));
    assert_eq!(change.did(), "let Ines Lark go");
    assert!(!team.is_owner(id(1)) && person(&team, 1).has_left());
    // Whoever left does nothing any more, not even undo.
    assert_eq!(refused(&team, &TeamIntent::Undo(Box::new(change.clone())), by(1)).0, FaultKind::NotFound);
    let back = done(&mut team, &TeamIntent::Undo(Box::new(change)), by(3));
    assert_eq!((back.did().as_str(), team.is_owner(id(1))), ("took Ines Lark back", true));
    done(&mut team, &TeamIntent::Leave(id(2)), by(1));
    // An address of somebody who left may be somebody else's now.
    let other = Newcomer { mail: person(&team, 2).mail, ..newcomer("Other Finch") };
    done(&mut team, &TeamIntent::Add(vec![other]), by(1));
    assert_eq!(refused(&team, &TeamIntent::Return(id(2)), by(1)).1, "Other Finch has this address already.");
}

#[test]
fn whoever_was_added_stays_known_when_that_is_taken_back_and_their_number_is_not_used_again() {
    let mut team = team();
    let change = done(&mut team, &TeamIntent::Add(vec![newcomer("Kit Moss")]), lets_in(2));
    let back = done(&mut team, &TeamIntent::Undo(Box::new(change)), lets_in(2));
    assert_eq!(back.did(), "took back the invitation of Kit Moss");
    assert!(person(&team, 4).has_left());
    done(&mut team, &TeamIntent::Add(vec![newcomer("Pim Reed")]), lets_in(2));
    assert_eq!(person(&team, 5).name, "Pim Reed");
}

#[test]
fn two_owners_who_let_each_other_go_at_once_leave_one() {
    let mut team = team();
    let odo = Person { owner: true, ..person(&team, 2) };
    done(&mut team, &TeamIntent::Change(odo), by(1));
    let (first, second) = (TeamIntent::Leave(id(2)), TeamIntent::Leave(id(1)));
    // Both are decided against the same state; the second is decided anew once the first is kept.
    assert!(team.decide(&second, &by(2), clock().now).is_ok());
    done(&mut team, &first, by(1));
    assert_eq!(refused(&team, &second, by(2)).0, FaultKind::NotFound);
    assert!(team.is_owner(id(1)));
}

#[test]
fn groups_hold_roles_for_their_members_and_for_nobody_who_left() {
    let mut ds = demo();
    let mut team = Team::default();
    for person in ds.people.iter() {
        team.load_part(westerfall_core::team::TeamPart::Person(Person { owner: person.id == id(1), ..person.clone() }));
    }
    team.load_part(serde_json::from_value(serde_json::json!({ "team": { "name": "Orrindale Paths Trust" } })).unwrap());
    let group = |name: &str, members: &[u32]| TeamIntent::Group {
        id: None,
        name: name.into(),
        members: members.iter().map(|n| id(*n)).collect(),
        pins: Vec::new(),
    };
    assert_eq!(refused(&team, &group("Readers", &[8]), lets_in(2)).0, FaultKind::NotAllowed);
    assert_eq!(done(&mut team, &group("Readers", &[8]), by(1)).did(), "made the group Readers");
    assert_eq!(refused(&team, &group("readers", &[]), by(1)).1, "There is a group called readers already.");
    assert_eq!(refused(&team, &group("Ghosts", &[99]), by(1)).0, FaultKind::NotFound);
    let readers = GroupId::new(1).unwrap();
    let reader = ds.roles().find(|role| role.base == westerfall_core::access::Base::Reader).unwrap().clone();
    let with_group = Role { groups: BTreeSet::from([readers]), ..reader };
    let nadia = asker(&ds, "Nadia");
    let change = ds.decide(&westerfall_core::intent::Intent::Save(Part::Role(with_group.clone())), nadia, &clock()).unwrap().change;
    ds.apply(&change);
    let (faults, clock) = (table(&ds, "Faults"), clock());
    let wren = Asker::Person(id(8));
    let counts = |team: &Team| {
        let seen = ds.with_people(team.people().clone());
        Lens::new(&seen, wren, &clock).count(faults)
    };
    let before = Lens::new(&ds, wren, &clock).count(faults);
    let all = Lens::new(&ds, nadia, &clock).count(faults);
    assert!(before < all);
    assert_eq!(counts(&team), all);
    let roles = vec![(TrackerId::new(1).unwrap(), with_group)];
    assert!(!may_stand_in(&roles, &[], team.people(), id(1), id(8)), "Nadia is a steward of nothing here");
    // Out of the group, or gone from the team, they hold nothing by it.
    let members = TeamIntent::Group { id: Some(readers), name: "Readers".into(), members: BTreeSet::new(), pins: Vec::new() };
    let out = done(&mut team, &members, by(1));
    assert_eq!((out.did().as_str(), counts(&team)), ("took 1 person out of Readers", before));
    done(&mut team, &TeamIntent::Undo(Box::new(out)), by(1));
    assert_eq!(counts(&team), all);
    done(&mut team, &TeamIntent::Leave(id(8)), by(1));
    let gone = ds.with_people(team.people().clone());
    assert!(!wren.may_look_at(&gone));
    assert_eq!(done(&mut team, &TeamIntent::DropGroup(readers), by(1)).did(), "took away the group Readers");
}

#[test]
fn what_is_computed_from_a_name_follows_it() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let named = crate::ground::calculation(&mut ds, "Said", "\"by \" & Warden", westerfall_core::schema::Kind::Text { limit: 1000 });
    let (record, clock) = (westerfall_core::id::RecordId::new(1).unwrap(), clock());
    let said = |ds: &westerfall_core::dataset::Dataset| Lens::of_everything(ds, None, &clock).text_at(at, record, named);
    let before = said(&ds);
    let warden = ds.people.iter().find(|p| before.contains(&p.name)).unwrap().clone();
    let mut renamed: Vec<Person> = ds.people.iter().cloned().collect();
    renamed.iter_mut().find(|p| p.id == warden.id).unwrap().name = "Una Reed".into();
    let moved = ds.meet(Arc::new(westerfall_core::people::People::new(renamed.clone())));
    assert_eq!(said(&ds), before.replace(&warden.name, "Una Reed"));
    assert!(moved.cells.contains(&(at, named, record)));
    // Who is in the team without a new name moves nothing.
    renamed[0].phone = "+441632960123".into();
    assert_eq!(ds.meet(Arc::new(westerfall_core::people::People::new(renamed))).computed, 0);
}

#[test]
fn moments_are_told_and_typed_in_ones_own_zone_and_days_stay_the_trackers() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let field = crate::ground::add_field(&mut ds, "Seen at", westerfall_core::schema::Kind::DateTime);
    let own = clock().told_in("Asia/Tokyo");
    assert_eq!(own.today(), clock().today());
    let record = westerfall_core::id::RecordId::new(1).unwrap();
    let edit = westerfall_core::intent::Edit { field, input: crate::fixture::typed("23 Nov 2026 01:15"), was: None };
    let intent = westerfall_core::intent::Intent::Edit { table: at, record, edits: vec![edit] };
    let change = ds.decide(&intent, asker(&ds, "Nadia"), &own).unwrap().change;
    ds.apply(&change);
    let told = |clock: &westerfall_core::Clock| Lens::new(&ds, asker(&ds, "Nadia"), clock).text_at(at, record, field);
    assert_eq!((told(&own).as_str(), told(&clock()).as_str()), ("23 Nov 2026, 01:15", "22 Nov 2026, 16:15"));
    assert_eq!(told(&own.untold()), told(&clock()));
    // A zone that there is none of is none.
    assert_eq!(told(&clock().told_in("Mill/Lane")), told(&clock().told_in("")));
}

#[test]
fn cells_counts_and_sentences_follow_ones_own_customs_and_so_does_what_one_types() {
    use westerfall_core::{
        condition::{Check, Comparison, Condition, Quantity, Test},
        intent::{Edit, Intent},
        value::Customs,
    };
    let mut ds = demo();
    let at = table(&ds, "Sections");
    let length = field(&ds, "Sections.Length");
    let record = westerfall_core::id::RecordId::new(1).unwrap();
    let own = westerfall_core::Clock { by: Some(Customs::Germany), ..clock() };
    let edit =
        |text: &str| Intent::Edit { table: at, record, edits: vec![Edit { field: length, input: crate::fixture::typed(text), was: None }] };
    let change = ds.decide(&edit("1.234,5"), asker(&ds, "Nadia"), &own).unwrap().change;
    ds.apply(&change);
    // Another reads it otherwise: a point parts no thousands here.
    assert!(ds.decide(&edit("1.234,5"), asker(&ds, "Bex"), &clock()).is_err());
    let told =
        |clock: &westerfall_core::Clock| Lens::new(&ds, asker(&ds, "Nadia"), clock).text_at(at, record, length).replace('\u{a0}', " ");
    assert_eq!((told(&own).as_str(), told(&clock()).as_str()), ("1.234,5 km", "1,234.5 km"));
    let long = Condition::Test(Test {
        path: vec![length],
        of: Quantity::default(),
        check: Check::Number { how: Comparison::Over, than: "1000.5".parse().unwrap() },
    });
    let said = |clock: &westerfall_core::Clock| long.to_sentence(&Lens::new(&ds, asker(&ds, "Nadia"), clock), at).replace('\u{a0}', " ");
    assert_eq!((said(&own).as_str(), said(&clock()).as_str()), ("length is over 1.000,5 km", "length is over 1,000.5 km"));
    // What a formula makes into a text is the same for everybody.
    assert_eq!(own.untold().customs(), Customs::Britain);
}

#[test]
fn what_hangs_on_somebody_is_counted_and_handed_over_as_one_step() {
    use westerfall_core::intent::{HandOver, Held, Intent};
    let mut ds = demo();
    // They hold their role by their own names.
    let mut warden = ds.roles().find(|role| role.name == "Warden").unwrap().clone();
    warden.members = warden.holders(&ds.people).map(|p| p.id).collect();
    warden.groups.clear();
    ds.load_part(&Part::Role(warden));
    let (jonah, idris) = (crate::fixture::person(&ds, "Jonah"), crate::fixture::person(&ds, "Idris"));
    let clock = clock();
    let held = |ds: &westerfall_core::dataset::Dataset, who| Lens::of_everything(ds, None, &clock).held_by(who);
    let before = held(&ds, jonah);
    let words: Vec<&str> = before.iter().map(|one| one.words.as_str()).collect();
    assert!(words.contains(&"2 districts name them as warden") && words.contains(&"1 role: Warden"), "{words:?}");
    let his = before.iter().map(|one| (one.held.clone(), idris)).collect::<Vec<_>>();
    let hand = |to: Vec<(Held, PersonId)>| Intent::HandOver(HandOver { from: jonah, to, by: id(1) });
    // Asked by anybody but Westerfall, or to whoever has left, or back to themselves, it is refused.
    assert!(ds.decide(&hand(his.clone()), asker(&ds, "Nadia"), &clock).is_err());
    assert!(ds.decide(&hand(vec![(his[0].0.clone(), jonah)]), Asker::Westerfall, &clock).is_err());
    assert!(ds.decide(&hand(vec![(his[0].0.clone(), id(99))]), Asker::Westerfall, &clock).is_err());
    let reach = |ds: &westerfall_core::dataset::Dataset, who| Lens::new(ds, Asker::Person(who), &clock).count(table(ds, "Faults"));
    let (both, his_own) = (reach(&ds, jonah) + reach(&ds, idris), held(&ds, idris));
    let change = ds.decide(&hand(his), Asker::Westerfall, &clock).unwrap().change;
    assert_eq!(change.who, westerfall_core::people::Actor::Person(id(1)));
    let whole = ds.clone();
    ds.apply(&change);
    assert_eq!(held(&ds, jonah), []);
    assert_eq!(reach(&ds, idris), both);
    // What was named twice is named once.
    assert!(ds.roles().all(|role| !role.members.contains(&jonah)));
    // And back as one step.
    let back = ds.decide(&crate::fixture::undo(change), asker(&ds, "Nadia"), &clock).unwrap().change;
    ds.apply(&back);
    assert_eq!((held(&ds, jonah), held(&ds, idris)), (before, his_own));
    assert_eq!(ds.parts(), whole.parts());
}

fn tracker(number: u32) -> TrackerId {
    TrackerId::new(number).unwrap()
}

fn area_id(number: u32) -> AreaId {
    AreaId::new(number).unwrap()
}

fn area_wish() -> impl Strategy<Value = AreaWish> {
    let (area, lies) = ((1..4_u32).prop_map(area_id), (1..5_u32).prop_map(tracker));
    let right = prop::sample::select(vec![AreaRight::Look, AreaRight::Work]);
    let opens = prop::collection::btree_map((1..4_u32).prop_map(|n| GroupId::new(n).unwrap()), right, 0..3);
    prop_oneof![
        2 => "[p-r]".prop_map(|name| AreaWish::Make { name, about: String::new() }),
        3 => (lies, prop::option::of(area.clone())).prop_map(|(tracker, area)| AreaWish::Place { tracker, area }),
        2 => (area.clone(), "[p-r]", prop::collection::vec((1..5_u32).prop_map(tracker), 0..3), opens)
            .prop_map(|(id, name, trackers, opens)| AreaWish::Keep(Area { id, name, about: String::new(), trackers, opens })),
        1 => area.clone().prop_map(AreaWish::Drop),
        1 => prop::collection::vec(area, 0..4).prop_map(AreaWish::Order),
    ]
}

/// What somebody may open by areas.
fn reached(team: &Team, who: PersonId) -> BTreeSet<TrackerId> {
    team.people().opened_to(who).collect()
}

fn intents() -> impl Strategy<Value = (TeamIntent, TeamAsker)> {
    let who = (1..6_u32).prop_map(id);
    let intent = prop_oneof![
        "[A-C]".prop_map(|name| TeamIntent::Add(vec![newcomer(&name)])),
        who.clone().prop_map(TeamIntent::Arrive),
        who.clone().prop_map(TeamIntent::Leave),
        (who.clone(), who.clone()).prop_map(|(person, to)| TeamIntent::LeaveBoards { person, to }),
        who.clone().prop_map(TeamIntent::Return),
        (who.clone(), any::<bool>(), "[A-C]")
            .prop_map(|(id, owner, name)| TeamIntent::Change(Person { owner, ..Person::new(id, name.clone(), newcomer(&name).mail) })),
        ("[a-c]", prop::collection::btree_set(who.clone(), 0..4)).prop_map(|(name, members)| TeamIntent::Group {
            id: None,
            name,
            members,
            pins: Vec::new()
        }),
        (1..4_u32).prop_map(|n| TeamIntent::DropGroup(GroupId::new(n).unwrap())),
        area_wish().prop_map(TeamIntent::Area),
    ];
    let asker = prop_oneof![
        (1..6_u32, prop::collection::btree_set((1..5_u32).prop_map(tracker), 0..4)).prop_map(|(me, runs)| TeamAsker::Person {
            me: id(me),
            lets_in: !runs.is_empty(),
            runs: Arc::new(runs)
        }),
        Just(TeamAsker::Westerfall)
    ];
    (intent, asker)
}

proptest! {
    /// Whatever is tried: there is an owner who is here, no two who are here share an address, nobody is forgotten; and what an
    /// owner takes back at once stands as it stood, but for people who stay known.
    #[test]
    fn whatever_happens_the_team_can_be_owned_and_signed_in_to(steps in prop::collection::vec(intents(), 1..40)) {
        let mut team = team();
        for (intent, asker) in steps {
            let before = team.clone();
            let Ok(change) = team.decide(&intent, &asker, clock().now) else { continue };
            team.apply(&change);
            prop_assert!(team.people().iter().any(|p| p.owner && p.standing.is_here()));
            prop_assert!(before.people().iter().all(|p| team.people().get(p.id).is_some()));
            let mails: Vec<String> = team.people().here().map(|p| p.mail.to_lowercase()).collect();
            prop_assert_eq!(mails.iter().collect::<BTreeSet<_>>().len(), mails.len());
            // A tracker lies in one area at most; and by no wish about areas is one reached that its asker does not run.
            for number in 1..5 {
                prop_assert!(team.people().areas().filter(|area| area.trackers.contains(&tracker(number))).count() <= 1);
            }
            if let (TeamIntent::Area(_), TeamAsker::Person { runs, .. }) = (&intent, &asker) {
                for person in team.people().iter() {
                    let new: BTreeSet<TrackerId> = reached(&team, person.id).difference(&reached(&before, person.id)).copied().collect();
                    prop_assert!(new.is_subset(runs), "{:?} opens {:?} to {}", asker, new, person.name);
                }
            }
            let owner = team.people().iter().find(|p| team.is_owner(p.id)).unwrap().id;
            let asker = TeamAsker::Person { me: owner, lets_in: true, runs: Arc::new((1..5).map(tracker).collect()) };
            let Ok(back) = team.decide(&TeamIntent::Undo(Box::new(change.clone())), &asker, clock().now) else { continue };
            let mut undone = team.clone();
            undone.apply(&back);
            for person in before.people().iter() {
                prop_assert_eq!(undone.people().get(person.id), Some(person));
            }
            prop_assert!(undone.people().groups().eq(before.people().groups()));
            prop_assert!(undone.people().areas().eq(before.people().areas()));
            prop_assert_eq!(undone.areas(), before.areas());
        }
    }
}

/// Ines owns the team and runs nothing; Odo runs trackers 1 and 2.
fn with_areas() -> Team {
    let mut team = team();
    let group = TeamIntent::Group { id: None, name: "Readers".into(), members: [id(2)].into(), pins: Vec::new() };
    done(&mut team, &group, by(1));
    for name in ["Paths", "Neighbours"] {
        done(&mut team, &TeamIntent::Area(AreaWish::Make { name: name.into(), about: String::new() }), by(1));
    }
    done(&mut team, &TeamIntent::Area(AreaWish::Place { tracker: tracker(1), area: Some(area_id(1)) }), odo());
    team
}

fn odo() -> TeamAsker {
    TeamAsker::Person { me: id(2), lets_in: true, runs: Arc::new([tracker(1), tracker(2)].into()) }
}

fn opened(team: &Team, number: u32, right: AreaRight) -> TeamIntent {
    let area = team.people().area(area_id(number)).unwrap().clone();
    TeamIntent::Area(AreaWish::Keep(Area { opens: [(GroupId::FIRST, right)].into(), ..area }))
}

#[test]
fn an_area_is_opened_by_an_owner_who_runs_all_that_lies_in_it() {
    let mut team = with_areas();
    let why = "Who may open a tracker is for its stewards to say, and something that lies in this area is run by others.";
    assert_eq!(refused(&team, &opened(&team, 1, AreaRight::Look), by(1)), (FaultKind::NotAllowed, why.into()));
    // Who runs it all is no owner for that.
    assert_eq!(refused(&team, &opened(&team, 1, AreaRight::Look), odo()).0, FaultKind::NotAllowed);
    // An empty one opens nothing yet; what comes into it later is put there by whoever runs it.
    let open = opened(&team, 2, AreaRight::Work);
    let change = done(&mut team, &open, by(1));
    assert_eq!(change.did(), "opened the area Neighbours to others");
    let area = team.people().area(area_id(2)).unwrap();
    assert_eq!(opens_says(team.people(), area), "Readers works in everything here.");
    let place = |number: u32, area: Option<u32>| TeamIntent::Area(AreaWish::Place { tracker: tracker(number), area: area.map(area_id) });
    assert_eq!(refused(&team, &place(3, Some(2)), by(1)).1, why);
    assert_eq!(done(&mut team, &place(1, Some(2)), odo()).did(), "put 1 tracker into Neighbours");
    assert_eq!(reached(&team, id(2)), [tracker(1)].into());
    assert_eq!(reached(&team, id(3)), BTreeSet::new());
    assert_eq!(team.people().area_of(tracker(1)).unwrap().name, "Neighbours");
    // An owner closes it all the same, and takes the group away; both are less than was.
    let mut closed = team.clone();
    assert_eq!(done(&mut closed, &TeamIntent::DropGroup(GroupId::FIRST), by(1)).did(), "took away the group Readers");
    assert!(closed.people().areas().all(|area| area.opens.is_empty()));
}

#[test]
fn whoever_runs_a_tracker_makes_an_area_for_it_and_owners_alone_change_it() {
    let mut team = with_areas();
    let make = TeamIntent::Area(AreaWish::Make { name: "  Works   yard ".into(), about: String::new() });
    assert_eq!(refused(&team, &make, by(3)).0, FaultKind::NotFound);
    let made = done(&mut team, &make, odo());
    assert_eq!(made.did(), "made the area Works yard");
    let area = team.people().area(area_id(3)).unwrap().clone();
    let renamed = TeamIntent::Area(AreaWish::Keep(Area { name: "Yard".into(), ..area.clone() }));
    assert_eq!(
        refused(&team, &renamed, odo()).1,
        "Only the team’s owners change areas. Whoever runs a tracker may make one, and put it there."
    );
    assert_eq!(refused(&team, &TeamIntent::Area(AreaWish::Keep(Area { name: "paths".into(), ..area.clone() })), by(1)).0, FaultKind::InUse);
    assert_eq!(refused(&team, &TeamIntent::Area(AreaWish::Keep(Area { trackers: vec![tracker(1)], ..area })), by(1)).0, FaultKind::Clash);
    assert_eq!(done(&mut team, &renamed, by(1)).did(), "called the area Works yard Yard");
    // The order is the owners’ too.
    let order = TeamIntent::Area(AreaWish::Order(vec![area_id(3), area_id(1)]));
    assert_eq!(refused(&team, &order, odo()).0, FaultKind::NotAllowed);
    assert_eq!(done(&mut team, &order, by(1)).did(), "put the areas in another order");
    assert_eq!(team.areas().iter().map(|area| area.name.as_str()).collect::<Vec<_>>(), ["Yard", "Paths", "Neighbours"]);
    assert_eq!(done(&mut team, &TeamIntent::Area(AreaWish::Drop(area_id(1))), by(1)).did(), "took away the area Paths");
    assert_eq!(team.people().area_of(tracker(1)), None);
}

#[test]
fn whom_an_area_lets_in_is_looked_as_by_those_alone_who_run_all_that_it_opens() {
    let mut team = with_areas();
    let roles: Vec<(TrackerId, Role)> = vec![(tracker(1), steward_of(1)), (tracker(2), steward_of(1))];
    done(&mut team, &TeamIntent::Arrive(id(3)), TeamAsker::Westerfall);
    let may = |team: &Team| may_stand_in(&roles, &[], team.people(), id(1), id(2));
    assert!(!may(&team));
    let open = opened(&team, 1, AreaRight::Look);
    done(&mut team, &open, odo_owning());
    assert!(may(&team));
    done(&mut team, &TeamIntent::Area(AreaWish::Place { tracker: tracker(3), area: Some(area_id(1)) }), TeamAsker::Westerfall);
    assert!(!may(&team));
}

fn steward_of(who: u32) -> Role {
    let ds = demo();
    let role = ds.roles().find(|role| role.base == Base::Steward).unwrap().clone();
    Role { members: [id(who)].into(), groups: BTreeSet::new(), ..role }
}

fn odo_owning() -> TeamAsker {
    TeamAsker::Person { me: id(1), lets_in: true, runs: Arc::new([tracker(1), tracker(2)].into()) }
}

#[test]
fn how_the_team_looks_is_its_owners_to_say_and_taken_back_like_anything() {
    let mut team = team();
    let look = TeamLook { colour: Some("#2E482C".into()), words: "  Mill Lane 4 \n\n Harrow Tarn".into(), mark: None };
    assert_eq!(refused(&team, &TeamIntent::Look(look.clone()), lets_in(2)).0, FaultKind::NotAllowed);
    let change = done(&mut team, &TeamIntent::Look(look), by(1));
    assert_eq!(change.did(), "changed how the team looks");
    let kept = team.face().look;
    assert_eq!((kept.colour.as_deref(), kept.words.as_str()), (Some("#2e482c"), "Mill Lane 4\nHarrow Tarn"));
    // What can't be: said where it stands, all at once.
    let document = Attachment { id: "x".into(), name: "plan.pdf".into(), media: "application/pdf".into(), size: 1 };
    let wrong = TeamLook { colour: Some("green".into()), words: "a\nb\nc\nd\ne".into(), mark: Some(document) };
    let faults = team.decide(&TeamIntent::Look(wrong), &by(1), clock().now).unwrap_err().0;
    assert_eq!(faults.iter().map(|fault| fault.pointer.as_str()).collect::<Vec<_>>(), ["/colour", "/words", "/mark"]);
    done(&mut team, &TeamIntent::Undo(Box::new(change)), by(1));
    assert_eq!(*team.face().look, TeamLook::default());
    assert_eq!(team.name(), "Fellside Repairs");
}

#[test]
fn when_and_how_fast_messages_go_out_is_the_owners_to_say_and_bounded() {
    let mut team = team();
    let night = Quiet { from: 21 * 60, until: 7 * 60 };
    let said = Sending { quiet: Some(night), to_one: Some(5), to_all: Some(500) };
    assert_eq!(refused(&team, &TeamIntent::Sending(said), lets_in(2)).0, FaultKind::NotAllowed);
    let change = done(&mut team, &TeamIntent::Sending(said), by(1));
    assert_eq!(change.did(), "changed when and how fast messages go out");
    assert_eq!((team.sending().most_to_one(), team.sending().most_to_all()), (5, 500));
    let wrong = Sending { quiet: Some(Quiet { from: 60, until: 60 }), to_one: Some(0), to_all: Some(20_001) };
    let faults = team.decide(&TeamIntent::Sending(wrong), &by(1), clock().now).unwrap_err().0;
    assert_eq!(faults.iter().map(|fault| fault.pointer.as_str()).collect::<Vec<_>>(), ["/quiet", "/to_one", "/to_all"]);

    // Whoever named hours of their own is held by those, everybody else by the team's, by their own clock.
    let at = |text: &str| text.parse::<Timestamp>().unwrap();
    let zone = jiff::tz::TimeZone::get("Europe/London").unwrap();
    let own = Person { quiet: Some(Quiet { from: 12 * 60, until: 13 * 60 }), ..person(&team, 2) };
    let held = |reader: Option<&Person>, now: &str| team.sending().held(reader, at(now), &zone);
    assert_eq!(held(None, "2026-12-01T22:30:00Z"), Some(at("2026-12-02T07:00:00Z")));
    assert_eq!(held(Some(&person(&team, 3)), "2026-12-01T05:00:00Z"), Some(at("2026-12-01T07:00:00Z")));
    assert_eq!((held(Some(&own), "2026-12-01T22:30:00Z"), held(None, "2026-12-01T12:30:00Z")), (None, None));
    assert_eq!(held(Some(&own), "2026-12-01T12:30:00Z"), Some(at("2026-12-01T13:00:00Z")));

    done(&mut team, &TeamIntent::Undo(Box::new(change)), by(1));
    assert_eq!((team.sending(), team.sending().most_to_one()), (Sending::default(), 60));
}

#[test]
fn quiet_hours_are_some_of_a_day_and_ones_own() {
    let mut team = team();
    let with = |team: &Team, from, until| TeamIntent::Change(Person { quiet: Some(Quiet { from, until }), ..person(team, 2) });
    for (from, until) in [(60, 60), (0, 1_440), (2_000, 5)] {
        let (kind, told) = refused(&team, &with(&team, from, until), by(2));
        assert_eq!((kind, told.as_str()), (FaultKind::WrongKind, "Give two hours of a day that differ, as 21:00 and 07:00."));
    }
    let night = with(&team, 21 * 60, 7 * 60);
    assert_eq!(done(&mut team, &night, by(2)).did(), "changed quiet hours of Odo Finch");
    assert_eq!(refused(&team, &with(&team, 0, 1), by(3)).0, FaultKind::NotFound, "nobody says it of another");
    let none = TeamIntent::Change(Person { quiet: None, ..person(&team, 2) });
    done(&mut team, &none, by(2));
    assert_eq!(person(&team, 2).quiet, None);
}

#[test]
fn quiet_hours_end_where_the_clocks_say_over_midnight_and_over_a_change_of_the_clocks() {
    let zone = TimeZone::get("Europe/London").unwrap();
    let ends = |from: u16, until: u16, now: &str| {
        let end = Quiet { from, until }.ends(now.parse().unwrap(), &zone);
        end.map_or_else(|| "none".to_owned(), |end| end.to_zoned(zone.clone()).strftime("%a %H:%M").to_string())
    };
    let (night, noon) = ((21 * 60, 7 * 60), (12 * 60, 13 * 60));
    for (hours, now, wanted) in [
        (night, "2026-11-24T20:59:59Z", "none"),
        (night, "2026-11-24T21:00:00Z", "Wed 07:00"),
        (night, "2026-11-25T03:00:00Z", "Wed 07:00"),
        (night, "2026-11-25T07:00:00Z", "none"),
        (noon, "2026-11-25T12:30:00Z", "Wed 13:00"),
        (noon, "2026-11-25T13:00:00Z", "none"),
        // The hour that is left out, and the one that comes twice.
        ((0, 90), "2026-03-29T00:30:00Z", "Sun 02:30"),
        ((0, 90), "2026-10-24T23:30:00Z", "Sun 01:30"),
        ((0, 90), "2026-10-25T01:15:00Z", "none"),
    ] {
        assert_eq!(ends(hours.0, hours.1, now), wanted, "{hours:?} at {now}");
    }
}

proptest! {
    #[test]
    fn quiet_hours_end_later_and_only_while_they_are_going_on(from in 0_u16..1_440, until in 0_u16..1_440, second in 0_i64..86_400 * 400) {
        prop_assume!(from != until);
        let zone = TimeZone::get("Europe/London").unwrap();
        let now = Timestamp::from_second(1_790_000_000 + second).unwrap();
        let hours = Quiet { from, until };
        if let Some(end) = hours.ends(now, &zone) {
            prop_assert!(end > now && end.duration_since(now) <= SignedDuration::from_hours(25));
            prop_assert_eq!(hours.ends(end, &zone), None, "what was held goes out then");
        }
    }
}
