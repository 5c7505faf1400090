//! People, who is signed in, and what they have chosen to send.

use crate::fixture::*;
use jiff::SignedDuration;
use westerfall_core::people::Person;
use westerfall_store::{Account, SessionRow};

fn later(minutes: i64) -> jiff::Timestamp {
    now() + SignedDuration::from_mins(minutes)
}

#[tokio::test(flavor = "multi_thread")]
async fn an_address_is_one_persons_whatever_its_capitals() {
    let store = store().await;
    let account = |number, mail: &str| Account {
        person: Person { id: person(number), name: format!("P{number}"), mail: mail.into() },
        password_hash: Some("hash".into()),
        about: "walks".into(),
    };
    store.add_account(&account(1, "Wynn@walkers.example")).await.unwrap();
    let found = store.account(" wynn@WALKERS.example ").await.unwrap().unwrap();
    assert_eq!((found.person.id, found.about.as_str(), found.password_hash.as_deref()), (person(1), "walks", Some("hash")));
    assert!(store.account("wynn@walkers").await.unwrap().is_none());
    assert!(store.add_account(&account(2, "wynn@walkers.example")).await.is_err(), "nobody shares an address");
    assert_eq!(store.people().await.unwrap().iter().count(), 1);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_ends_when_it_is_over_or_closed_and_stands_in_for_one_at_a_time() {
    let (store, _) = demo().await;
    let session = async |token: &[u8], minutes| store.session(token, later(minutes)).await.unwrap();
    store.open_session(b"a", person(1), now(), later(60)).await.unwrap();
    store.open_session(b"b", person(2), now(), later(600)).await.unwrap();
    assert_eq!(session(b"a", 1).await, Some(SessionRow { person: person(1), stands_in: None }));
    assert_eq!(session(b"c", 1).await, None);
    store.stand_in(b"a", Some(person(7))).await.unwrap();
    assert_eq!(session(b"a", 2).await.and_then(|s| s.stands_in), Some(person(7)));
    assert_eq!(session(b"b", 2).await.and_then(|s| s.stands_in), None);
    store.stand_in(b"a", None).await.unwrap();
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
    assert_eq!(store.old_uploads(later(-60)).await.unwrap(), ["t2"]);
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
}
