//! How records look, and blocks of cells: by the API, with several people.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};

const DUE: u32 = 49;
const KIND: u32 = 45;
const HOURS: u32 = 50;

fn at(end: &str) -> String {
    format!("/api/trackers/1/tables/{FAULT_TABLE}/{end}")
}

fn query() -> Value {
    json!({ "fields": shown(&[TITLE, STATUS]), "sorts": [{ "field": 40 }] })
}

fn bold(condition: Value) -> Value {
    json!({ "highlight": { "table": FAULT_TABLE, "condition": condition, "touches": [{ "fields": [TITLE], "look": { "bold": true } }] } })
}

async fn rows(person: &Client, query: Value) -> Vec<Value> {
    let (status, told) = person.post(&at("query"), json!({ "query": query, "slices": [{ "start": 0, "count": 100 }] })).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    told["slices"][0]["rows"].as_array().unwrap().clone()
}

/// The records that a highlight of this number touches.
fn touched(rows: &[Value], number: u64) -> usize {
    rows.iter().filter(|row| row["looks"]["by"].as_array().is_some_and(|by| by.contains(&json!(number)))).count()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_highlight_is_made_seen_by_others_moved_and_off_in_one_view() {
    let world = World::new().await;
    let (nadia, tamsin, pavel) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(PAVEL).await);
    let filled = json!({ "test": { "path": [51], "check": { "is": "filled" } } });
    let (status, made) = nadia.post("/api/trackers/1/parts", bold(filled)).await;
    assert_eq!((status, &made["did"]), (StatusCode::OK, &json!("made a highlight")), "{made}");
    let id = made["made"].as_u64().unwrap();
    assert!(touched(&rows(&nadia, query()).await, 6) > 0);
    assert!(touched(&rows(&tamsin, query()).await, 6) > 0, "a warden reads who reported");
    // Whoever may not read the reporter is shown nothing by it, and not told that there is such a rule.
    assert_eq!(touched(&rows(&pavel, query()).await, 6), 0);
    let (_, list) = pavel.get(&at("highlights")).await;
    assert!(list.as_array().unwrap().iter().all(|one| one["number"] != 6), "{list}");
    let (_, list) = nadia.get(&at("highlights")).await;
    assert_eq!(list[5]["words"]["when"], "reporter is filled in");

    let (status, refused) = tamsin.post(&format!("/api/trackers/1/highlights/{id}/move"), json!({ "to": 0 })).await;
    assert_eq!(status, StatusCode::FORBIDDEN, "{refused}");
    let (_, moved) = nadia.post(&format!("/api/trackers/1/highlights/{id}/move"), json!({ "to": 0 })).await;
    assert_eq!(moved["did"], "put a highlight elsewhere");
    let (_, list) = nadia.get(&at("highlights")).await;
    assert_eq!(list[0]["highlight"]["id"], id);
    // Off in a view, it acts nowhere there.
    let mut without = query();
    without["without"] = json!([id]);
    assert_eq!(touched(&rows(&nadia, without).await, 1), 0);
    assert!(touched(&rows(&nadia, query()).await, 1) > 0);
}

#[tokio::test(flavor = "multi_thread")]
async fn one_that_is_being_written_is_rehearsed_and_what_is_wrong_has_its_place() {
    let world = World::new().await;
    let (nadia, bex) = (world.person(NADIA).await, world.person(BEX).await);
    let draft = |touches: Value| json!({ "query": query(), "count": 50, "draft": { "highlight": { "table": FAULT_TABLE, "condition": { "all": [] }, "touches": touches } } });
    let (status, told) = nadia.post(&at("highlights/rehearsal"), draft(json!([{ "look": { "fill": "gorse" } }]))).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    assert_eq!(told["draft"]["faults"][0]["pointer"], "/touches/0/look");
    assert_eq!(told["rows"].as_array().unwrap().len(), 50);
    assert!(told["rows"].as_array().unwrap().iter().all(|row| row["looks"]["whole"]["fill"] == "gorse"));
    let (status, refused) = nadia
        .post("/api/trackers/1/parts", json!({ "highlight": { "table": FAULT_TABLE, "touches": [{ "look": { "fill": "gorse" } }] } }))
        .await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/touches/0/look")));
    let (status, _) = bex.post(&at("highlights/rehearsal"), draft(json!([{ "look": { "bold": true } }]))).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    // Nothing of it was kept.
    let (_, list) = nadia.get(&at("highlights")).await;
    assert_eq!(list.as_array().unwrap().len(), 5);
}

#[tokio::test(flavor = "multi_thread")]
async fn why_something_looks_so_is_told_to_whoever_reads_it() {
    let world = World::new().await;
    let (nadia, idris) = (world.person(NADIA).await, world.person(IDRIS).await);
    let late = json!({ "fields": shown(&[DUE]), "condition": { "test": { "path": [DUE], "check": { "is": "day", "how": "under", "than": { "today": 0 } } } } });
    let row = rows(&nadia, late).await.into_iter().find(|row| row["looks"]["by"] == json!([1])).unwrap();
    let path = at(&format!("records/{}/looks/{DUE}", row["id"]));
    let (status, why) = nadia.post(&path, json!({})).await;
    assert_eq!((status, &why["lines"][0]["looks"]), (StatusCode::OK, &json!("rowan and bold")), "{why}");
    let (_, off) = nadia.post(&path, json!({ "without": [400] })).await;
    assert_eq!(off["lines"], json!([]));
    let unseen = rows(&idris, query()).await.iter().all(|one| one["id"] != row["id"]);
    let (status, _) = idris.post(&path, json!({})).await;
    assert_eq!(status == StatusCode::NOT_FOUND, unseen);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_block_is_rehearsed_put_in_as_one_step_summed_and_taken_back() {
    let world = World::new().await;
    let (nadia, pavel) = (world.person(NADIA).await, world.person(PAVEL).await);
    let before = rows(&nadia, query()).await;
    let records: Vec<&Value> = before.iter().take(2).map(|row| &row["id"]).collect();
    let block = |leave_out: bool| {
        json!({ "records": records, "fields": [TITLE, KIND, HOURS], "leave_out": leave_out,
            "cells": [[{ "text": "Stile loose" }, { "text": "a tree" }, { "text": "1.5" }], [{ "text": "Sign gone" }, null, { "text": "2.5" }]] })
    };
    let (_, told) = nadia.post(&at("block/rehearsal"), block(false)).await;
    assert_eq!((&told["unfit"], &told["wrong"][0]["field"]), (&json!(1), &json!("Kind")), "{told}");
    let (status, refused) = nadia.patch(&at("block"), block(false)).await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/cells/0/1")));
    let (status, _) = pavel.patch(&at("block"), block(false)).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    let (status, done) = nadia.patch(&at("block"), block(true)).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let now = rows(&nadia, query()).await;
    assert_eq!((&now[0]["cells"][0]["text"], &now[1]["cells"][0]["text"]), (&json!("Stile loose"), &json!("Sign gone")));
    let (_, sums) = nadia.post(&at("block/sums"), json!({ "query": query(), "start": 0, "count": 2, "fields": [HOURS] })).await;
    assert_eq!(sums["says"][0], "hours needed: sum 4.0\u{a0}h, average 2.0\u{a0}h");
    let (status, _) = nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(status, StatusCode::OK);
    let after = rows(&nadia, query()).await;
    assert_eq!(after[0]["cells"], before[0]["cells"]);
    // The very first change can be asked to be taken back too, and is refused in a sentence.
    let (status, refused) = nadia.post("/api/trackers/1/undo", json!({ "seq": 1 })).await;
    assert!(status.is_client_error(), "{refused}");
}
