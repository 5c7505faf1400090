//! Many records changed at once by the API.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};

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
