//! Files that go out: the same cells in every format, in the order of the view.

use crate::fixture::*;
use axum::http::{Method, StatusCode, header};
use http_body_util::BodyExt;
use serde_json::{Value, json};

const AT: &str = "/api/trackers/1/tables/3/export";

async fn file(client: &Client, fields: &[u32], format: &str) -> (String, Vec<u8>) {
    let body = json!({ "query": { "fields": shown(fields), "sorts": [{ "field": 40, "descending": true }] }, "name": "Open faults", "format": format });
    let answer = client.raw(Method::POST, AT, &body.to_string(), &[]).await;
    assert_eq!(answer.status(), StatusCode::OK);
    let named = answer.headers()[header::CONTENT_DISPOSITION].to_str().unwrap().to_owned();
    (named, answer.into_body().collect().await.unwrap().to_bytes().to_vec())
}

#[tokio::test(flavor = "multi_thread")]
async fn json_keeps_the_order_of_the_fields_as_they_are_shown() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (named, bytes) = file(&nadia, &[STATUS, 40, TITLE], "json").await;
    assert!(named.contains("Open faults.json"), "{named}");
    let text = String::from_utf8(bytes).unwrap();
    // As it stands in the file: a reader that keeps the order finds it.
    let order = ["\"Status\"", "\"Number\"", "\"What is wrong\""].map(|name| text.find(name).unwrap_or_else(|| panic!("{name} in {text}")));
    assert!(order.is_sorted(), "{order:?}");
    let rows: Vec<Value> = serde_json::from_str(&text).unwrap();
    assert_eq!(rows.len(), FAULTS);
    // The newest first, as the view has it.
    assert!(rows[0]["Number"].as_str() > rows[FAULTS - 1]["Number"].as_str());
}

#[tokio::test(flavor = "multi_thread")]
async fn every_format_holds_the_same_rows() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let fields = [40, TITLE, STATUS, PLANNED];
    let (_, rows) = nadia.query(FAULT_TABLE, json!({ "fields": shown(&fields), "sorts": [{ "field": 40, "descending": true }] })).await;
    let expected: Vec<String> =
        rows["rows"].as_array().unwrap().iter().map(|r| r["cells"][0]["text"].as_str().unwrap().to_owned()).collect();
    for format in ["csv", "xlsx", "ods"] {
        let (named, bytes) = file(&nadia, &fields, format).await;
        assert!(named.contains(&format!(".{format}")), "{named}");
        let book = westerfall_sheets::read(&bytes, None).unwrap();
        let numbers: Vec<String> = (1..book.sheet.rows.len()).map(|row| book.sheet.cell(row, 0).words()).collect();
        assert_eq!(numbers, expected, "{format}");
        assert_eq!(book.sheet.cell(0, 3).words(), "Planned for", "{format}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_name_that_would_lead_elsewhere_names_a_file_all_the_same() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    for name in ["../../etc/passwd", "a\"b; filename=\"c.exe", "Fälle\r\nX-Other: 1", ""] {
        let body = json!({ "query": { "fields": shown(&[TITLE]) }, "name": name, "format": "csv" });
        let answer = nadia.raw(Method::POST, AT, &body.to_string(), &[]).await;
        assert_eq!(answer.status(), StatusCode::OK, "{name:?}");
        assert!(answer.headers().get("x-other").is_none());
        let named = answer.headers()[header::CONTENT_DISPOSITION].to_str().unwrap();
        assert!(named.starts_with("attachment") && !named.contains("\"..") && !named.contains('/') && !named.contains(".exe\""), "{named}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn what_can_not_be_read_is_not_exported_either() {
    let world = World::new().await;
    let pavel = world.person(PAVEL).await;
    let (_, bytes) = file(&pavel, &[40, REPORTER, STATUS], "csv").await;
    let text = String::from_utf8(bytes).unwrap();
    let heading = text.trim_start_matches('\u{feff}').lines().next().unwrap();
    assert_eq!(heading, "Number,Status");
    let body = json!({ "query": { "fields": shown(&[TITLE]) }, "name": "x", "format": "csv" });
    assert_eq!(world.stranger().post(AT, body).await.0, StatusCode::UNAUTHORIZED);
}
