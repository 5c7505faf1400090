//! What is kept of forms beside the tracker: their addresses, what is counted, what came by other ways.

use crate::fixture::*;
use westerfall_core::id::{FormId, RecordId};

#[tokio::test(flavor = "multi_thread")]
async fn a_form_is_found_by_its_address_and_only_by_that() {
    let (store, ds) = demo().await;
    let form = ds.forms().next().unwrap();
    assert_eq!(store.form_at(&form.link).await.unwrap(), Some((one(), form.id)));
    assert_eq!(store.form_at(&form.link.to_uppercase()).await.unwrap(), None);
    assert_eq!(store.form_at("").await.unwrap(), None);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_counted_grows_by_one_each_time_whoever_counts() {
    let (store, _) = demo().await;
    let form = FormId::new(120).unwrap();
    let count = async |what| store.count_of_form(one(), form, what).await.unwrap();
    tokio::join!(count("opened"), count("opened"), count("opened"), count("sent"));
    let counts = store.counts_of_form(one(), form).await.unwrap();
    assert_eq!((counts["opened"], counts["sent"], counts.len()), (3, 1, 2));
    assert!(store.counts_of_form(one(), FormId::new(121).unwrap()).await.unwrap().is_empty());
}

#[tokio::test(flavor = "multi_thread")]
async fn what_came_by_a_call_or_a_mail_is_told_the_latest_first() {
    let (store, _) = demo().await;
    let form = FormId::new(120).unwrap();
    store.note_way(one(), form, "call", RecordId::new(3), "").await.unwrap();
    store.note_way(one(), form, "mail", None, "It names no section.").await.unwrap();
    let lines = store.ways_log(one(), form, 10).await.unwrap();
    let told: Vec<_> = lines.iter().map(|line| (line.way.as_str(), line.record, line.note.as_str())).collect();
    assert_eq!(told, [("mail", None, "It names no section."), ("call", Some(3), "")]);
    assert_eq!(store.ways_log(one(), form, 1).await.unwrap().len(), 1);
}
