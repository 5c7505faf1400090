//! Working a view by the API: the hours of its days, words looked for in it, where it stands in its list, and highlights taken along.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};

const ORDERS: u32 = 6;
const BEGINS: u32 = 287;
const LEADER: u32 = 273;
const LASTS: u32 = 277;
const PARTIES: u32 = 8;

fn calendar() -> Value {
    json!({ "as": "calendar", "dates": [{ "start": BEGINS }], "who": LEADER, "lasts": LASTS })
}

async fn days(person: &Client, from: &str, to: &str, hours: bool) -> Answer {
    let query = json!({ "fields": shown(&[270, BEGINS, LEADER]), "shape": calendar() });
    let body = json!({ "query": query, "from": from, "to": to, "of_a_day": 50, "waiting": 5, "hours": hours });
    person.post(&format!("/api/trackers/1/tables/{ORDERS}/days"), body).await
}

#[tokio::test(flavor = "multi_thread")]
async fn hours_are_told_where_they_are_asked_for_and_of_a_week_at_most() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let record = nadia.rows(ORDERS, &[270]).await["rows"][0].clone();
    let at = format!("/api/trackers/1/tables/{ORDERS}/records/{}", record["id"]);
    let edits = json!({ "edits": [
        { "field": BEGINS, "input": { "value": { "instant": "2031-06-04T08:30:00Z" } } },
        { "field": LEADER, "input": { "value": { "person": TAMSIN } } },
        { "field": LASTS, "input": { "text": "2.5" } },
    ] });
    let (status, done) = nadia.patch(&at, edits).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let (status, told) = days(&nadia, "2031-06-02", "2031-06-08", true).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    assert_eq!(told["hours"].as_array().unwrap().len(), 7);
    let wednesday = &told["hours"][2];
    let thread = wednesday["threads"].as_array().unwrap().iter().find(|thread| !thread["strokes"].as_array().unwrap().is_empty()).unwrap();
    // The tracker is an hour ahead in summer.
    assert_eq!(
        (&thread["name"], &thread["strokes"][0]["from"], &thread["strokes"][0]["to"]),
        (&json!("Tamsin Oake"), &json!(570), &json!(720))
    );
    assert_eq!(told["carriers"][0]["days"], json!([0, 0, 150, 0, 0, 0, 0]));
    let (_, told) = days(&nadia, "2031-06-02", "2031-06-08", false).await;
    assert_eq!((&told["hours"], &told["carriers"]), (&json!([]), &json!([])));
    let (status, refused) = days(&nadia, "2031-06-02", "2031-06-09", true).await;
    assert_eq!((status, refused["faults"][0]["pointer"].as_str()), (StatusCode::UNPROCESSABLE_ENTITY, Some("/to")), "{refused}");
    // Who may not read who leads is told of no line for anybody.
    let wren = world.person(WREN).await;
    let (_, told) = days(&wren, "2031-06-02", "2031-06-08", true).await;
    assert!(!told.to_string().contains("Tamsin"), "{told}");
}

#[tokio::test(flavor = "multi_thread")]
async fn words_are_found_within_ones_reach_and_where_they_stand() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let hits = async |person: &Client, text: &str, fields: Value| {
        let query = json!({ "fields": shown(&[TITLE, 43]), "sorts": [{ "field": TITLE }] });
        let body = json!({ "query": query, "text": text, "fields": fields });
        person.post(&format!("/api/trackers/1/tables/{FAULT_TABLE}/hits"), body).await.1
    };
    let all = hits(&nadia, "harrow", json!([])).await;
    assert!(all["count"].as_u64().unwrap() > 0, "{all}");
    assert!(all["hits"].as_array().unwrap().is_sorted_by_key(|hit| hit["place"].as_u64()), "{all}");
    assert_eq!(hits(&nadia, "harrow", json!([TITLE])).await["hits"].as_array().map(Vec::len), Some(0));
    assert_eq!(hits(&tamsin, "harrow", json!([])).await["count"], 0, "it is out of a warden’s reach");
}

#[tokio::test(flavor = "multi_thread")]
async fn views_stand_where_a_builder_puts_them_and_new_ones_last() {
    let world = World::new().await;
    let (nadia, bex) = (world.person(NADIA).await, world.person(BEX).await);
    let names = async |person: &Client| {
        let (_, tracker) = person.get("/api/trackers/1").await;
        let tables = tracker["tables"].as_array().unwrap().clone();
        let faults = tables.into_iter().find(|table| table["id"] == FAULT_TABLE).unwrap();
        faults["views"].as_array().unwrap().iter().map(|view| view["id"].as_u64().unwrap()).collect::<Vec<_>>()
    };
    let before = names(&nadia).await;
    let last = *before.last().unwrap();
    let (status, refused) = bex.post(&format!("/api/trackers/1/views/{last}/move"), json!({ "to": 0 })).await;
    assert_eq!(status, StatusCode::FORBIDDEN, "{refused}");
    let (status, done) = nadia.post(&format!("/api/trackers/1/views/{last}/move"), json!({ "to": 0 })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let put: Vec<u64> = [&[last], &before[..before.len() - 1]].concat();
    assert_eq!(names(&bex).await, put, "others see it");
    let view = json!({ "view": { "table": FAULT_TABLE, "name": "A new one", "personal": false, "query": { "fields": shown(&[TITLE]) } } });
    let (_, made) = nadia.post("/api/trackers/1/parts", view).await;
    assert_eq!(names(&nadia).await.last(), made["made"].as_u64().as_ref());
    // Saved otherwise, it stays where it is; taken back, all stand as they did.
    let saved =
        json!({ "view": { "table": FAULT_TABLE, "name": "From report on", "personal": false, "query": { "fields": shown(&[TITLE]) } } });
    assert_eq!(nadia.put(&format!("/api/trackers/1/parts/view/{last}"), saved).await.0, StatusCode::OK);
    assert_eq!(names(&nadia).await[0], last);
    let undone = nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(undone.0, StatusCode::CONFLICT, "it was changed since: {}", undone.1);
    // One’s own stand behind, and are put in order by whom they are.
    let own = async |name: &str| {
        let view = json!({ "view": { "table": FAULT_TABLE, "name": name, "personal": true, "query": { "fields": shown(&[TITLE]) } } });
        bex.post("/api/trackers/1/parts", view).await.1["made"].as_u64().unwrap()
    };
    let (one, two) = (own("Mine").await, own("Mine too").await);
    assert_eq!(bex.post(&format!("/api/trackers/1/views/{two}/move"), json!({ "to": 0 })).await.0, StatusCode::OK);
    let mine: Vec<u64> = names(&bex).await.into_iter().rev().take(2).collect();
    assert_eq!(mine, [one, two]);
    assert_eq!(nadia.post(&format!("/api/trackers/1/views/{one}/move"), json!({ "to": 0 })).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_highlight_is_taken_to_another_table_and_another_tracker_where_one_builds() {
    let world = World::new().await;
    let (nadia, bex) = (world.person(NADIA).await, world.person(BEX).await);
    let (_, list) = nadia.get(&format!("/api/trackers/1/tables/{FAULT_TABLE}/highlights")).await;
    let good = list.as_array().unwrap().iter().find(|one| one["words"]["when"] == "status is made good").unwrap();
    let copy = format!("/api/trackers/1/highlights/{}/copy", good["highlight"]["id"]);
    let (status, told) = nadia.post(&copy, json!({ "tracker": 1, "table": PARTIES })).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    assert_eq!(told["left"], json!(["“status is made good” is left out: the options there are planned, held and called off."]));
    assert_eq!(told["words"]["matching"], 0);
    // Another tracker: there is a copy of this one, with the same names.
    let (status, begun) = nadia
        .post("/api/trackers", json!({ "from": { "tracker": { "tracker": 1, "records": false } }, "name": "Path upkeep again" }))
        .await;
    assert!(status.is_success(), "{begun}");
    let other = begun["id"].as_u64().or(begun["tracker"].as_u64()).unwrap();
    let (_, there) = nadia.get(&format!("/api/trackers/{other}")).await;
    let faults = there["tables"].as_array().unwrap().iter().find(|table| table["name"] == "Faults").unwrap();
    let (status, told) = nadia.post(&copy, json!({ "tracker": other, "table": faults["id"] })).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    assert_eq!((&told["left"], told["asks"][0]["name"].as_str()), (&json!([]), Some("Status")), "{told}");
    let body = json!({ "highlight": { "table": faults["id"], "condition": told["condition"], "touches": told["touches"] } });
    let (status, made) = nadia.post(&format!("/api/trackers/{other}/parts"), body).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    // Who builds nothing there is told of no such table.
    assert_eq!(bex.post(&copy, json!({ "tracker": other, "table": faults["id"] })).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_block_makes_what_it_names_on_a_word() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let at = format!("/api/trackers/1/tables/{FAULT_TABLE}/block");
    let block = |make: bool| json!({ "records": [], "fields": [TITLE, 45, SECTION], "cells": [[{ "text": "Wall down" }, { "text": "wattle hurdle" }, { "text": "Newfound Edge" }]], "make": make });
    let (_, told) = nadia.post(&format!("{at}/rehearsal"), block(false)).await;
    assert_eq!((told["unfit"].as_u64(), told["missing"].as_array().map(Vec::len)), (Some(2), Some(2)), "{told}");
    assert_eq!(nadia.patch(&at, block(false)).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    let (status, done) = nadia.patch(&at, block(true)).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let (_, tracker) = nadia.get("/api/trackers/1").await;
    assert!(tracker.to_string().contains("wattle hurdle"));
    let (status, undone) = nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(status, StatusCode::OK, "{undone}");
    let told = nadia.get("/api/trackers/1").await.1.to_string();
    let at = told.find("wattle hurdle").map(|at| &told[at.saturating_sub(200)..at + 60]);
    assert_eq!(at, None, "{undone}");
}
