//! Many records changed at once by the API.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};
use std::{collections::BTreeSet, sync::Arc};
use westerfall_core::{
    access::Asker,
    bulk::{Alter, Altered, Bulk, Which},
    id::{FieldId, PersonId, RecordId, TableId, TrackerId},
    intent::Intent,
    value::Input,
};
use westerfall_server::live::Wish;

const WRONG: u32 = 41;

fn at(end: &str) -> String {
    format!("/api/trackers/1/tables/{FAULT_TABLE}/{end}")
}

fn body(records: &Value, alter: Value) -> Value {
    json!({ "records": records, "query": { "fields": shown(&[WRONG]) }, "alter": [alter] })
}

#[tokio::test(flavor = "multi_thread")]
async fn what_was_rehearsed_is_done_as_one_step_and_taken_back_as_one() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let rows = nadia.rows(FAULT_TABLE, &[WRONG]).await;
    let ids: Vec<Value> = rows["rows"].as_array().unwrap().iter().take(3).map(|row| row["id"].clone()).collect();
    let change = body(&json!(ids), json!({ "field": WRONG, "to": { "set": { "text": "Off its post" } } }));
    let (status, told) = nadia.post(&at("bulk/rehearsal"), change.clone()).await;
    assert_eq!((status, &told["changed"], &told["says"][0]), (StatusCode::OK, &json!(3), &json!("3 faults change.")), "{told}");
    assert_eq!(nadia.rows(FAULT_TABLE, &[WRONG]).await["rows"], rows["rows"], "nothing is done by saying it");
    let (status, done) = nadia.post(&at("bulk"), change).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let text =
        |rows: &Value| rows["rows"].as_array().unwrap().iter().filter(|row| row["cells"][0]["text"] == json!("Off its post")).count();
    assert_eq!(text(&nadia.rows(FAULT_TABLE, &[WRONG]).await), 3);
    nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(text(&nadia.rows(FAULT_TABLE, &[WRONG]).await), 0);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_goes_into_the_bin_is_rehearsed_and_whoever_may_not_is_told_so() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let rows = nadia.rows(FAULT_TABLE, &[WRONG]).await;
    let ids: Vec<Value> = rows["rows"].as_array().unwrap().iter().take(3).map(|row| row["id"].clone()).collect();
    let (status, told) = nadia.post(&at("bin/rehearsal"), json!({ "records": ids })).await;
    assert_eq!((status, &told["changed"], &told["says"][0]), (StatusCode::OK, &json!(3), &json!("3 faults go into the bin, for 30 days.")));
    assert_eq!(nadia.rows(FAULT_TABLE, &[WRONG]).await["count"], rows["count"], "nothing is put there by saying it");
    let (_, told) = tamsin.post(&at("bin/rehearsal"), json!({ "records": ids })).await;
    assert_eq!((&told["changed"], &told["refusals"]), (&json!(0), &json!(3)), "{told}");
    assert!(tamsin.delete(&at("records"), json!({ "records": ids })).await.0.is_client_error());
    assert_eq!(world.stranger().post(&at("bin/rehearsal"), json!({ "records": ids })).await.0, StatusCode::UNAUTHORIZED);
}

/// Whoever waits for a change asks how far it has come and stops it: then nothing of it is kept, and what others wished meanwhile is.
#[tokio::test(flavor = "multi_thread")]
async fn what_takes_a_while_is_stopped_by_whoever_waits_for_it_and_nothing_of_it_is_kept() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let says = |text: &str| Input::Text(text.into());
    let bulk = |records: std::ops::Range<u32>, text: &str| {
        let field = FieldId::new(WRONG).unwrap();
        let which = Which::These(records.filter_map(RecordId::new).collect());
        let alter = vec![Altered { field, to: Alter::Set(says(text)) }];
        Intent::Bulk(Box::new(Bulk { table: TableId::new(FAULT_TABLE).unwrap(), which, without: BTreeSet::new(), alter }))
    };
    let me = PersonId::new(NADIA).unwrap();
    let awaited = Arc::new(world.app.waits.begin(me, Some("mine".into())));
    assert_eq!(nadia.get("/api/awaited/mine").await, (StatusCode::OK, json!({ "done": 0, "of": 0 })));
    // By nobody else, and only by its name.
    assert_eq!(tamsin.get("/api/awaited/mine").await.0, StatusCode::NOT_FOUND);
    assert_eq!(tamsin.delete("/api/awaited/mine", Value::Null).await.0, StatusCode::NOT_FOUND);
    assert_eq!(world.stranger().delete("/api/awaited/mine", Value::Null).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(nadia.delete("/api/awaited/other", Value::Null).await.0, StatusCode::NOT_FOUND);
    assert!(!awaited.is_stopped());
    assert_eq!(nadia.delete("/api/awaited/mine", Value::Null).await.0, StatusCode::NO_CONTENT);
    let live = world.app.tracker(TrackerId::new(1).unwrap()).await.unwrap();
    let stopped = Wish { awaited: Some(awaited), ..Wish::now(bulk(1..40, "Stopped"), Asker::Person(me)) };
    let stopped = live.queue(stopped).await.unwrap();
    let other = live.queue(Wish::now(bulk(1..5, "Kept"), Asker::Person(me))).await.unwrap();
    let problem = stopped.answer().await.unwrap_err();
    assert_eq!(problem.told(), "Stopped, as you wished. Nothing was changed.");
    other.answer().await.unwrap();
    let rows = nadia.rows(FAULT_TABLE, &[WRONG]).await.to_string();
    assert_eq!((rows.matches("Stopped").count(), rows.matches("\"Kept\"").count() > 0), (0, true));
    assert_eq!(nadia.get("/api/awaited/mine").await.0, StatusCode::NOT_FOUND, "nobody waits any more");
    // What nobody stops is done, whoever waits for it.
    let mut change = body(&json!([1, 2]), json!({ "field": WRONG, "to": { "set": { "text": "Done" } } }));
    change["awaited"] = json!("again");
    assert_eq!(nadia.post(&at("bulk/rehearsal"), change.clone()).await.0, StatusCode::OK);
    let (status, done) = nadia.post(&at("bulk"), change).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert_eq!(nadia.get("/api/awaited/again").await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn nobody_reaches_further_at_once_than_one_by_one() {
    let world = World::new().await;
    let (nadia, tamsin, pavel) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(PAVEL).await);
    let ids = |rows: &Value| rows["rows"].as_array().unwrap().iter().map(|row| row["id"].clone()).collect::<Vec<_>>();
    let (all, hers) = (ids(&nadia.rows(FAULT_TABLE, &[WRONG]).await), ids(&tamsin.rows(FAULT_TABLE, &[WRONG]).await));
    let other = all.iter().find(|id| !hers.contains(id)).unwrap();
    let change = body(&json!([hers[0], other]), json!({ "field": WRONG, "to": { "replace": { "find": "e", "with": "zymurgy" } } }));
    let (_, told) = tamsin.post(&at("bulk/rehearsal"), change.clone()).await;
    assert_eq!((&told["refusals"], &told["refused"][0]["name"]), (&json!(1), &json!("")), "{told}");
    assert_eq!(tamsin.post(&at("bulk"), change).await.0, StatusCode::NOT_FOUND);
    let shown = body(&json!([]), json!({ "field": WRONG, "to": { "set": { "text": "x" } } }));
    let (_, told) = tamsin.post(&at("bulk/rehearsal"), shown.clone()).await;
    assert_eq!(told["count"], json!(hers.len()), "all that the view shows is all that she sees");
    assert_eq!(pavel.post(&at("bulk"), shown.clone()).await.0, StatusCode::FORBIDDEN);
    assert_eq!(world.stranger().post(&at("bulk"), shown).await.0, StatusCode::UNAUTHORIZED);
    assert!(!nadia.rows(FAULT_TABLE, &[WRONG]).await.to_string().contains("zymurgy"), "nothing half-done");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_record_is_known_by_its_number_and_put_back_as_it_was() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let (status, found) = nadia.get("/api/trackers/1/numbered?number=fr-2026-0004").await;
    assert_eq!((status, &found["record"]), (StatusCode::OK, &json!(4)), "{found}");
    let hers = tamsin.get(&record_path(4)).await.0 == StatusCode::OK;
    assert_eq!(tamsin.get("/api/trackers/1/numbered?number=FR-2026-0004").await.0 == StatusCode::OK, hers);
    assert_eq!(nadia.get("/api/trackers/1/numbered?number=FR-1").await.0, StatusCode::NOT_FOUND);
    let path = record_path(4);
    let (_, before) = nadia.get(&path).await;
    let (_, first) = nadia.edit(4, WRONG, json!({ "text": "One" }), Value::Null).await;
    nadia.edit(4, WRONG, json!({ "text": "Two" }), Value::Null).await;
    let after = json!({ "after": first["seq"] });
    let (_, told) = nadia.post(&format!("{path}/as-it-was"), after.clone()).await;
    assert_eq!((&told["says"], &told["fields"][0]["then"]), (&json!("One field goes back."), &json!("One")), "{told}");
    let (status, done) = nadia.post(&format!("{path}/put-back"), after).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let back = json!({ "after": first["seq"].as_u64().unwrap() - 1, "fields": [WRONG] });
    nadia.post(&format!("{path}/put-back"), back.clone()).await;
    assert_eq!(nadia.get(&path).await.1["name"], before["name"]);
    assert_eq!(nadia.post(&format!("{path}/put-back"), back).await.0, StatusCode::NOT_FOUND, "it is so already");
}
