//! People, who is signed in, and what they have chosen to send.

use crate::fixture::*;
use jiff::SignedDuration;
use westerfall_core::{
    automation::Message,
    team::{Newcomer, Team, TeamIntent},
};
use westerfall_store::{JobState, MAILED, NewTicket, Purpose, SessionRow, StoreError, Ticket};

fn later(minutes: i64) -> jiff::Timestamp {
    now() + SignedDuration::from_mins(minutes)
}

fn newcomer(name: &str, mail: &str) -> Newcomer {
    Newcomer { name: name.into(), mail: mail.into(), about: String::new() }
}

#[tokio::test(flavor = "multi_thread")]
async fn the_team_comes_back_as_it_was_decided_and_an_address_is_one_persons_whatever_its_capitals() {
    let store = store().await;
    assert!(store.load_team().await.unwrap().is_empty());
    let owner = newcomer("Wynn Ash", "Wynn@walkers.example");
    let begun = decided(&store, &TeamIntent::Begin { team: "Walkers".into(), owner }).await;
    let named = decided(&store, &TeamIntent::Add(vec![newcomer("Odo Finch", ""), newcomer("Ada Wren", "ada@walkers.example")])).await;
    let mut expected = Team::default();
    [&begun, &named].into_iter().for_each(|change| expected.apply(change));
    let team = store.load_team().await.unwrap();
    assert_eq!((team.seq, team.name()), (2, "Walkers"));
    assert!(team.people().iter().eq(expected.people().iter()));
    assert_eq!(store.team_log(10).await.unwrap(), [named.clone(), begun.clone()]);
    assert_eq!(store.team_change(1).await.unwrap(), Some(begun.clone()));
    // Whoever was first is first; the other reads and decides anew.
    let again = store.commit_team(1, &named).await;
    assert!(matches!(again, Err(StoreError::MovedOn)), "{again:?}");
    assert!(!store.is_begun().await.unwrap());
    store.set_password(person(1), "hash", None).await.unwrap();
    assert!(store.is_begun().await.unwrap());
    let found = store.account(" wynn@WALKERS.example ").await.unwrap().unwrap();
    assert_eq!((found.person, found.password_hash.as_deref()), (person(1), Some("hash")));
    assert!(store.account("wynn@walkers").await.unwrap().is_none() && store.account("").await.unwrap().is_none());
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_leaves_has_no_way_in_any_more() {
    let store = store().await;
    decided(&store, &TeamIntent::Begin { team: "Walkers".into(), owner: newcomer("Wynn Ash", "wynn@walkers.example") }).await;
    decided(&store, &TeamIntent::Add(vec![newcomer("Ada Wren", "ada@walkers.example")])).await;
    store.set_password(person(2), "hash", None).await.unwrap();
    store.open_session(b"a", person(2), "", now(), later(60)).await.unwrap();
    store.give_ticket(&ticket(b"t", 2, Purpose::Password, "")).await.unwrap();
    decided(&store, &TeamIntent::Leave(person(2))).await;
    assert_eq!(store.session(b"a", later(1)).await.unwrap(), None);
    assert!(store.account("ada@walkers.example").await.unwrap().is_none());
    assert!(store.ticket(b"t", Purpose::Password, later(1)).await.unwrap().is_none());
    // Their address may be somebody else's.
    decided(&store, &TeamIntent::Add(vec![newcomer("Ada Other", "ada@walkers.example")])).await;
    assert_eq!(store.account("ada@walkers.example").await.unwrap().unwrap().person, person(3));
}

fn ticket<'a>(token_hash: &'a [u8], number: u32, purpose: Purpose, about: &'a str) -> NewTicket<'a> {
    NewTicket { token_hash, person: person(number), purpose, about, made: now(), expires: later(30) }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_ticket_is_used_once_for_what_it_is_for_and_until_it_is_over() {
    let (store, _) = demo().await;
    store.give_ticket(&ticket(b"a", 1, Purpose::Invitation, MAILED)).await.unwrap();
    assert_eq!(store.invitations().await.unwrap()[0].opened, None);
    let whose = Some(Ticket { person: person(1), about: MAILED.into() });
    assert_eq!(store.ticket(b"a", Purpose::Password, later(1)).await.unwrap(), None, "it is for something else");
    // Looking uses nothing.
    for _ in 0..2 {
        assert_eq!(store.ticket(b"a", Purpose::Invitation, later(1)).await.unwrap(), whose);
    }
    let row = store.invitations().await.unwrap()[0];
    assert_eq!((row.person, row.opened, row.mailed), (person(1), Some(later(1)), true));
    assert_eq!(store.use_ticket(b"a", Purpose::Invitation, later(31)).await.unwrap(), None, "it is over");
    // Of many at once, one.
    let mut tries = tokio::task::JoinSet::new();
    for _ in 0..8 {
        let store = store.clone();
        tries.spawn(async move { store.use_ticket(b"a", Purpose::Invitation, later(2)).await.unwrap() });
    }
    assert_eq!(tries.join_all().await.into_iter().filter(|used| *used == whose).count(), 1);
    assert!(store.invitations().await.unwrap().is_empty());
    // Another of the same sort takes the place of the one before.
    store.give_ticket(&ticket(b"b", 2, Purpose::Password, "")).await.unwrap();
    store.give_ticket(&ticket(b"c", 2, Purpose::Password, "")).await.unwrap();
    assert!(store.ticket(b"b", Purpose::Password, later(1)).await.unwrap().is_none());
    assert!(store.ticket(b"c", Purpose::Password, later(1)).await.unwrap().is_some());
    store.withdraw_tickets(person(2), Purpose::Password).await.unwrap();
    assert!(store.ticket(b"c", Purpose::Password, later(1)).await.unwrap().is_none());
    // A code is guessed at a few times.
    assert!(!store.may_try_code(Some(person(3))).await.unwrap());
    store.give_ticket(&ticket(b"d", 3, Purpose::Code, "")).await.unwrap();
    for _ in 0..5 {
        assert!(store.may_try_code(Some(person(3))).await.unwrap());
    }
    assert!(!store.may_try_code(Some(person(3))).await.unwrap());
    assert_eq!(store.clear_tickets(later(31)).await.unwrap(), 1);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mail_of_the_team_is_of_no_record_and_keeps_nothing_once_it_is_sent() {
    let (store, _, address) = demo_at().await;
    let mail = Message {
        key: "invitation-1".into(),
        to: "ada@walkers.example".into(),
        to_name: "Ada Wren".into(),
        subject: "Come in".into(),
        body: "secret".into(),
        ..Message::default()
    };
    store.queue_team_mail(&mail, now()).await.unwrap();
    store.queue_team_mail(&mail, now()).await.unwrap();
    let hold = SignedDuration::from_secs(30);
    let claimed = store.claim_message(later(1), hold).await.unwrap().unwrap();
    assert_eq!((claimed.of, claimed.message.body.as_str()), (None, "secret"));
    store.settle_message(claimed.job, JobState::Failed, later(1), "no").await.unwrap();
    assert!(store.claim_message(later(99), hold).await.unwrap().is_none());
    let (client, connection) = tokio_postgres::connect(&address, tokio_postgres::NoTls).await.unwrap();
    tokio::spawn(connection);
    let left: String = client.query_one("SELECT string_agg(mail::text, '') FROM job", &[]).await.unwrap().get(0);
    assert!(left.contains("Come in") && !left.contains("secret"), "{left}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_ends_when_it_is_over_or_closed_and_stands_in_for_one_at_a_time() {
    let (store, _) = demo().await;
    let session = async |token: &[u8], minutes| store.session(token, later(minutes)).await.unwrap();
    store.open_session(b"a", person(1), "Firefox", now(), later(60)).await.unwrap();
    store.open_session(b"b", person(2), "", now(), later(600)).await.unwrap();
    assert_eq!(session(b"a", 1).await, Some(SessionRow { person: person(1), stands_in: None, used: Some(now()) }));
    assert_eq!(session(b"c", 1).await, None);
    store.stand_in(b"a", Some(person(7))).await.unwrap();
    assert_eq!(session(b"a", 2).await.and_then(|s| s.stands_in), Some(person(7)));
    assert_eq!(session(b"b", 2).await.and_then(|s| s.stands_in), None);
    store.stand_in(b"a", None).await.unwrap();
    store.open_session(b"c", person(1), "a phone", later(1), later(60)).await.unwrap();
    store.session_used(b"a", later(5)).await.unwrap();
    assert_eq!(store.last_seen().await.unwrap(), [(person(1), later(5)), (person(2), now())].into());
    let mine = store.sessions_of(person(1), later(6)).await.unwrap();
    let lines: Vec<_> = mine.iter().map(|line| (line.token_hash.as_slice(), line.device.as_str(), line.used)).collect();
    assert_eq!(lines, [(&b"a"[..], "Firefox", later(5)), (&b"c"[..], "a phone", later(1))]);
    assert_eq!(store.close_sessions(person(1), Some(b"a")).await.unwrap(), [b"c".to_vec()]);
    assert_eq!(session(b"a", 3).await.and_then(|s| s.stands_in), None);
    // Past its end it is over; what is over is cleared away, and nothing else.
    assert_eq!(session(b"a", 61).await, None);
    assert_eq!(store.clear_sessions(later(61)).await.unwrap(), 1);
    assert!(session(b"b", 62).await.is_some());
    store.close_session(b"b").await.unwrap();
    assert_eq!(session(b"b", 3).await, None);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_somebody_chose_to_send_is_theirs_and_goes_after_a_while() {
    let (store, _) = demo().await;
    store.put_upload("t1", person(1), "wells.csv", now()).await.unwrap();
    store.put_upload("t2", person(2), "older.csv", later(-600)).await.unwrap();
    assert_eq!(store.upload("t1", person(1)).await.unwrap().as_deref(), Some("wells.csv"));
    assert_eq!(store.upload("t1", person(2)).await.unwrap(), None);
    assert_eq!(store.old_uploads(later(-60)).await.unwrap(), [("t2".to_owned(), 0)]);
    store.drop_upload("t2").await.unwrap();
    assert!(store.old_uploads(later(-60)).await.unwrap().is_empty());
}

#[tokio::test(flavor = "multi_thread")]
async fn when_one_last_looked_is_kept_by_person() {
    let (store, _) = demo().await;
    store.visited(person(1), one(), now()).await.unwrap();
    store.visited(person(1), one(), later(5)).await.unwrap();
    assert_eq!(store.visits(person(1)).await.unwrap(), [(one(), later(5))]);
    assert!(store.visits(person(2)).await.unwrap().is_empty());
    assert_eq!(store.last_seen().await.unwrap(), [(person(1), later(5))].into());
    assert_eq!(store.last_looked().await.unwrap(), [(one(), later(5))].into());
}
