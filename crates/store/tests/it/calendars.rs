//! Live addresses of calendars: one for each person and view, of which only the hash is known.

use crate::fixture::*;
use jiff::SignedDuration;
use westerfall_core::id::ViewId;
use westerfall_store::CalendarAt;

fn view(number: u32) -> ViewId {
    ViewId::new(number).unwrap()
}

#[tokio::test(flavor = "multi_thread")]
async fn another_address_for_the_same_view_ends_the_first_and_touches_no_other() {
    let (store, _) = demo().await;
    let give =
        async |who: u32, of: u32, token: &[u8]| store.give_calendar_address(person(who), one(), view(of), token, now()).await.unwrap();
    give(1, 115, b"first").await;
    give(1, 116, b"other view").await;
    give(2, 115, b"somebody else").await;
    let first = store.calendar_at(b"first").await.unwrap().unwrap();
    store.calendar_looked_at(first.number, now()).await.unwrap();
    give(1, 115, b"second").await;
    assert_eq!(store.calendar_at(b"first").await.unwrap(), None);
    let second = store.calendar_at(b"second").await.unwrap().unwrap();
    assert_eq!(second, CalendarAt { number: first.number, person: person(1), tracker: one(), view: view(115) });
    for token in [&b"other view"[..], b"somebody else"] {
        assert!(store.calendar_at(token).await.unwrap().is_some());
    }
    // Nobody has looked at the new one.
    let mine = store.calendar_addresses(person(1)).await.unwrap();
    assert_eq!(mine.len(), 2);
    assert!(mine.iter().all(|address| address.looked.is_none() && address.made == now()));
}

#[tokio::test(flavor = "multi_thread")]
async fn each_withdraws_their_own_alone_and_what_was_looked_at_is_told() {
    let (store, _) = demo().await;
    let later = now().checked_add(SignedDuration::from_mins(5)).unwrap();
    store.give_calendar_address(person(1), one(), view(115), b"mine", now()).await.unwrap();
    store.give_calendar_address(person(1), one(), view(116), b"newer", later).await.unwrap();
    let at = store.calendar_at(b"mine").await.unwrap().unwrap();
    store.calendar_looked_at(at.number, later).await.unwrap();
    let told: Vec<_> = store.calendar_addresses(person(1)).await.unwrap().into_iter().map(|one| (one.view, one.looked)).collect();
    assert_eq!(told, [(view(116), None), (view(115), Some(later))], "the latest first");
    assert!(!store.withdraw_calendar_address(person(2), at.number).await.unwrap());
    assert!(store.calendar_at(b"mine").await.unwrap().is_some());
    assert!(store.withdraw_calendar_address(person(1), at.number).await.unwrap());
    assert!(!store.withdraw_calendar_address(person(1), at.number).await.unwrap(), "once");
    assert_eq!(store.calendar_at(b"mine").await.unwrap(), None);
    assert_eq!(store.calendar_at(b"").await.unwrap(), None);
    assert!(store.calendar_addresses(person(2)).await.unwrap().is_empty());
}
