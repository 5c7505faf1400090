//! Cross-tabs through the API: what they count, what stands behind a cell, for whom, and as a file.

use crate::fixture::*;
use axum::http::{Method, StatusCode};
use http_body_util::BodyExt;
use serde_json::{Value, json};

const REPORTED: u32 = 48;
const HOURS: u32 = 50;
const DISTRICT: u32 = 43;

/// *district down, month of report across, status within*; with the hours that are needed.
fn by_district(down: u32) -> Value {
    json!({
        "fields": shown(&[TITLE]),
        "shape": { "as": "cross-tab", "down": [{ "field": down }], "across": [{ "field": STATUS }], "within": STATUS },
    })
}

async fn crossed(person: &Client, query: &Value) -> (StatusCode, Value) {
    person.post(&format!("/api/trackers/1/tables/{FAULT_TABLE}/cross-tab"), json!({ "query": query })).await
}

async fn behind(person: &Client, query: &Value, down: &Value, across: &Value) -> Value {
    let body = json!({ "query": query, "down": down, "across": across });
    let (status, told) = person.post(&format!("/api/trackers/1/tables/{FAULT_TABLE}/cross-tab/cell"), body).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    told["behind"].clone()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_cross_tab_counts_and_tells_what_stands_behind_a_cell() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let query = by_district(DISTRICT);
    let (status, told) = crossed(&nadia, &query).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    let crossed = &told["crossed"];
    let (_, plain) = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[TITLE]) })).await;
    assert_eq!(crossed["cells"][0][0]["count"], plain["matching"]);
    assert_eq!(crossed["rows"].as_array().unwrap().len(), 7, "all, and six districts");
    // Each row is what its cells are; one of them is looked behind.
    let cells = crossed["cells"].as_array().unwrap();
    for row in cells.iter().map(|row| row.as_array().unwrap()) {
        let of = |cell: &Value| cell["count"].as_u64().unwrap_or(0);
        assert_eq!(of(&row[0]), row[1..].iter().map(of).sum::<u64>());
    }
    let column = (1..cells[1].as_array().unwrap().len()).find(|column| cells[1][*column].is_object()).unwrap();
    let (down, across) = (&crossed["rows"][1]["values"], &crossed["columns"][column]["values"]);
    let told = behind(&nadia, &query, down, across).await;
    assert_eq!(told["count"], cells[1][column]["count"]);
    assert_eq!(told["rows"].as_array().unwrap().len() as u64, told["count"].as_u64().unwrap());
    assert!(told["title"].as_str().unwrap().starts_with(crossed["rows"][1]["text"].as_str().unwrap()));
    // What holds of them alone finds as many.
    let only = json!({ "fields": shown(&[TITLE]), "condition": told["only"] });
    assert_eq!(nadia.query(FAULT_TABLE, only).await.1["matching"], told["count"]);
    // A cell that is not there tells nothing.
    assert_eq!(behind(&nadia, &query, &json!([{ "links": [999] }]), &json!([])).await, Value::Null);
}

#[tokio::test(flavor = "multi_thread")]
async fn it_counts_what_its_reader_may_see() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let query = by_district(DISTRICT);
    let (_, all) = crossed(&nadia, &query).await;
    let (status, own) = crossed(&tamsin, &query).await;
    assert_eq!(status, StatusCode::OK, "{own}");
    let count = |told: &Value| told["crossed"]["cells"][0][0]["count"].as_u64().unwrap();
    assert!(count(&own) < count(&all) && count(&own) > 0);
    assert!(own["crossed"]["foot"].as_array().unwrap().contains(&json!("only what is in your reach")));
    // Of districts that are not theirs not even the name is told.
    let words = own.to_string();
    assert!(words.contains("Eskermoor") && !words.contains("Ninestone"));
    // Behind a cell of somebody else's district there is nothing for them.
    let ninestone = all["crossed"]["rows"].as_array().unwrap().iter().find(|row| row["text"] == "Ninestone").unwrap();
    assert_eq!(behind(&tamsin, &query, &ninestone["values"], &json!([])).await, Value::Null);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_does_not_fit_is_refused_in_words() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let refused = async |query: Value| {
        let (status, problem) = crossed(&nadia, &query).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{problem}");
        (problem["faults"][0]["pointer"].as_str().unwrap().to_owned(), problem["detail"].as_str().unwrap().to_owned())
    };
    let (at, words) = refused(by_district(40)).await;
    assert_eq!(at, "/shape/down/0");
    assert!(words.contains("choices, people"), "{words}");
    let (at, words) = refused(json!({ "fields": shown(&[TITLE]) })).await;
    assert_eq!((at.as_str(), words.as_str()), ("/shape", "This view is not a cross-tab."));
    let steps = json!({ "fields": [], "shape": { "as": "cross-tab", "down": [{ "field": HOURS, "step": "-2" }] } });
    assert_eq!(refused(steps).await.0, "/shape/down");
    let days = json!({ "fields": [], "shape": { "as": "cross-tab", "down": [{ "field": STATUS }], "across": [{ "field": REPORTED }] } });
    let (status, told) = crossed(&nadia, &days).await;
    assert!(status == StatusCode::OK || told["faults"][0]["pointer"] == "/shape/across", "{told}");
    let stranger = nadia.post("/api/trackers/1/tables/99/cross-tab", json!({ "query": by_district(DISTRICT) })).await;
    assert_eq!(stranger.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn it_is_kept_as_a_view_and_goes_into_files() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let query = by_district(DISTRICT);
    let view = json!({ "table": FAULT_TABLE, "name": "By district", "personal": false, "query": query });
    let (status, made) = nadia.post("/api/trackers/1/parts", part("view", view)).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let (_, told) = crossed(&nadia, &query).await;
    let body = json!({ "query": query, "name": "By district", "format": "csv" });
    let answer = nadia.raw(Method::POST, &format!("/api/trackers/1/tables/{FAULT_TABLE}/export"), &body.to_string(), &[]).await;
    assert_eq!(answer.status(), StatusCode::OK);
    let bytes = answer.into_body().collect().await.unwrap().to_bytes();
    let text = String::from_utf8_lossy(&bytes);
    let lines: Vec<&str> = text.trim_start_matches('\u{feff}').lines().collect();
    assert_eq!(lines.len(), 1 + told["crossed"]["rows"].as_array().unwrap().len(), "{text}");
    assert!(lines[0].contains("All, faults"), "{}", lines[0]);
    assert!(lines[1].starts_with("All"), "{}", lines[1]);
    assert!(lines[1].contains(&told["crossed"]["cells"][0][0]["count"].to_string()));
}
