//! Views' own orders by the API: kept over a restart, seen by others, forgotten, and nobody's who may not.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};

const LINES: u32 = 5;
const ALL_LINES: u32 = 107;
const WHAT: u32 = 250;
const ORDER: &str = "/api/trackers/1/views/107/order";

/// What is told of the lines as they stand in their view.
async fn told(person: &Client, view: Option<u32>) -> Value {
    let body = json!({ "query": { "fields": shown(&[WHAT]) }, "view": view, "slices": [{ "start": 0, "count": 500 }] });
    let (status, told) = person.post(&format!("/api/trackers/1/tables/{LINES}/query"), body).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    told
}

fn records(told: &Value) -> Vec<u64> {
    told["slices"][0]["rows"].as_array().unwrap().iter().map(|row| row["id"].as_u64().unwrap()).collect()
}

fn place(records: &[u64], spot: Value) -> Value {
    json!({ "place": { "records": records, "spot": spot } })
}

#[tokio::test(flavor = "multi_thread")]
async fn an_order_by_hand_is_kept_seen_by_others_exported_and_taken_back() {
    let world = World::new().await;
    let (nadia, bex) = (world.person(NADIA).await, world.person(BEX).await);
    let before = records(&told(&nadia, Some(ALL_LINES)).await);
    let (first, last) = (before[0], before[before.len() - 1]);
    let (status, done) = nadia.post(ORDER, place(&[last], json!("first"))).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert!(done["did"].as_str().unwrap().starts_with("moved the material line"), "{done}");
    let wanted = [&[last], &before[..before.len() - 1]].concat();
    let now = told(&bex, Some(ALL_LINES)).await;
    assert_eq!(records(&now), wanted);
    assert_eq!(now["ordering"]["own"], true);
    assert!(now["ordering"]["refusal"].as_str().is_some_and(|why| why.contains("team’s views")), "{}", now["ordering"]);
    // Elsewhere they stand as ever, and by another server too.
    assert_eq!(records(&told(&nadia, None).await), before);
    let restarted = world.beside().await;
    assert_eq!(records(&told(&restarted.person(NADIA).await, Some(ALL_LINES)).await), wanted);
    let body = json!({ "query": { "fields": shown(&[WHAT]) }, "view": ALL_LINES, "format": "json", "name": "lines" });
    let exported = nadia.raw(axum::http::Method::POST, &format!("/api/trackers/1/tables/{LINES}/export"), &body.to_string(), &[]).await;
    let (_, exported) = read(exported).await;
    let name = |told: &Value| told["slices"][0]["rows"][0]["cells"][0]["text"].clone();
    assert_eq!(exported[0].as_object().unwrap().values().next(), Some(&name(&now)));

    assert_eq!(bex.post(ORDER, place(&[first], json!("last"))).await.0, StatusCode::FORBIDDEN);
    let (status, undone) = nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(status, StatusCode::OK, "{undone}");
    let now = told(&nadia, Some(ALL_LINES)).await;
    assert_eq!((records(&now), &now["ordering"]["own"]), (before.clone(), &json!(false)));
    let again = world.beside().await;
    assert_eq!(records(&told(&again.person(NADIA).await, Some(ALL_LINES)).await), before);
}

#[tokio::test(flavor = "multi_thread")]
async fn an_order_is_begun_from_a_sort_and_forgotten_and_a_move_is_rehearsed() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let by_name = json!([{ "field": WHAT, "descending": true }]);
    let (status, begun) = nadia.post(ORDER, json!({ "begin": { "sorts": by_name } })).await;
    assert_eq!(status, StatusCode::OK, "{begun}");
    let sorted = json!({ "query": { "fields": shown(&[WHAT]), "sorts": by_name }, "slices": [{ "start": 0, "count": 500 }] });
    let (_, sorted) = nadia.post(&format!("/api/trackers/1/tables/{LINES}/query"), sorted).await;
    let now = told(&nadia, Some(ALL_LINES)).await;
    assert_eq!(records(&now), records(&sorted));
    // What putting one elsewhere would do, told and thrown away.
    let (one, other) = (records(&now)[7], records(&now)[0]);
    let rehearse =
        json!({ "query": { "fields": shown(&[WHAT]) }, "view": ALL_LINES, "spot": { "before": other }, "records": [one], "edits": [] });
    let (status, rehearsed) = nadia.post(&format!("/api/trackers/1/tables/{LINES}/records/rehearsal"), rehearse).await;
    assert_eq!(status, StatusCode::OK, "{rehearsed}");
    assert_eq!(rehearsed["place"], 0);
    assert_eq!(records(&told(&nadia, Some(ALL_LINES)).await), records(&now));
    let (status, gone) = nadia.post(ORDER, json!({ "forget": {} })).await;
    assert_eq!((status, &gone["did"]), (StatusCode::OK, &json!("took the own order of “All material lines” away")));
    assert_eq!(told(&nadia, Some(ALL_LINES)).await["ordering"]["own"], false);

    let refused = |body: Value| {
        let nadia = &nadia;
        async move { nadia.post(ORDER, body).await }
    };
    assert_eq!(refused(place(&[999_999], json!("first"))).await.0, StatusCode::NOT_FOUND);
    assert_eq!(refused(place(&[one], json!({ "before": 999_999 }))).await.1["faults"][0]["pointer"], "/spot");
    assert_eq!(refused(place(&[one], json!("sideways"))).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(refused(json!({ "begin": { "sorts": [{ "field": 999_999 }] } })).await.0, StatusCode::UNPROCESSABLE_ENTITY);
}
