//! Whatever is sent wrongly: a problem with a status, a place and a sentence, and nothing changed.

use crate::fixture::*;
use axum::http::{Method, StatusCode};
use serde_json::json;

#[tokio::test(flavor = "multi_thread")]
async fn every_fault_is_a_problem_with_its_place() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let before = nadia.rows(FAULT_TABLE, &[TITLE, STATUS, PLANNED]).await;
    let cases = [
        (PLANNED, json!({ "text": "some day" }), StatusCode::UNPROCESSABLE_ENTITY, "wrong-kind"),
        (STATUS, json!({ "text": "gone" }), StatusCode::UNPROCESSABLE_ENTITY, "unknown-option"),
        (TITLE, json!({ "text": "x".repeat(161) }), StatusCode::UNPROCESSABLE_ENTITY, "too-long"),
        (SECTION, json!({ "value": { "links": [9_999] } }), StatusCode::UNPROCESSABLE_ENTITY, "not-found"),
        (9_999, json!({ "text": "x" }), StatusCode::UNPROCESSABLE_ENTITY, "not-found"),
        (40, json!({ "text": "FR-1" }), StatusCode::UNPROCESSABLE_ENTITY, "read-only"),
    ];
    for (field, input, status, kind) in cases {
        let (got, body) = nadia.edit(5, field, input, json!(null)).await;
        assert_eq!(body["faults"][0]["kind"], kind, "{body}");
        assert_eq!(body["faults"][0]["pointer"], "/edits/0");
        let expected = if kind == "not-found" { StatusCode::NOT_FOUND } else { status };
        assert_eq!(got, expected);
        assert!(body["detail"].as_str().is_some_and(|d| d.ends_with('.')), "{body}");
    }
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE, STATUS, PLANNED]).await["rows"], before["rows"]);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_no_json_or_of_the_wrong_shape_is_told_apart() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let path = "/api/trackers/1/tables/3/query";
    let status = async |body: &str, kind: &str| read(nadia.raw(Method::POST, path, body, &[("content-type", kind)]).await).await.0;
    assert_eq!(status("{", "application/json").await, StatusCode::BAD_REQUEST);
    let (shape, body) = nadia.post(path, json!({ "query": { "fields": [{ "field": "x" }] } })).await;
    assert_eq!(shape, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(body["detail"].as_str().unwrap().contains("query"), "{body}");
    let huge = format!("{{\"x\":\"{}\"}}", "x".repeat(50 * 1024 * 1024));
    assert_eq!(status(&huge, "application/json").await, StatusCode::PAYLOAD_TOO_LARGE);
    assert_eq!(nadia.get("/api/nothing").await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.get("/api/trackers/x").await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.delete("/api/trackers/1", json!({})).await.0, StatusCode::METHOD_NOT_ALLOWED);
    assert_eq!(world.stranger().get("/api/trackers").await.0, StatusCode::UNAUTHORIZED);
}

#[tokio::test(flavor = "multi_thread")]
async fn signing_in_needs_the_right_password_and_tells_nobody_who_exists() {
    let world = World::new().await;
    let stranger = world.stranger();
    let sign_in = async |mail: &str, password: &str| stranger.post("/api/session", json!({ "mail": mail, "password": password })).await;
    let (ok, _) = sign_in("Nadia@Orrindale-Paths.example", westerfall_demo::PASSWORD).await;
    assert_eq!(ok, StatusCode::NO_CONTENT);
    let wrong = sign_in("nadia@orrindale-paths.example", "wrong").await;
    assert_eq!(wrong.0, StatusCode::UNAUTHORIZED);
    assert_eq!(sign_in("nobody@orrindale-paths.example", "wrong").await, wrong);
    let tamsin = world.person(TAMSIN).await;
    assert_eq!(tamsin.get("/api/session").await.1["person"]["name"], "Tamsin Oake");
    assert_eq!(tamsin.delete("/api/session", json!({})).await.0, StatusCode::NO_CONTENT);
    assert_eq!(tamsin.get("/api/session").await.0, StatusCode::UNAUTHORIZED);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_page_elsewhere_cannot_send_changes() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let foreign = [("sec-fetch-site", "cross-site")];
    let body = json!({ "records": [{}] }).to_string();
    let answer = nadia.raw(Method::POST, "/api/trackers/1/tables/3/records", &body, &foreign).await;
    assert_eq!(answer.status(), StatusCode::FORBIDDEN);
    let elsewhere = [("origin", "http://elsewhere.example"), ("host", "westerfall.example")];
    assert_eq!(nadia.raw(Method::DELETE, "/api/session", "", &elsewhere).await.status(), StatusCode::FORBIDDEN);
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS);
}

#[tokio::test(flavor = "multi_thread")]
async fn sign_in_and_forms_are_limited_per_address() {
    let world = World::with(World::limited(3)).await;
    let stranger = world.stranger();
    let mut refused = 0;
    for _ in 0..6 {
        // Looking is for more hands than sending.
        assert_eq!(stranger.get(FORM).await.0, StatusCode::OK);
        let (status, body) = stranger.answer(good_answers("Again"), &[], None).await;
        if status == StatusCode::TOO_MANY_REQUESTS {
            refused += 1;
            assert!(body["detail"].as_str().unwrap().starts_with("That was a lot at once."), "{body}");
        }
    }
    assert!(refused >= 2, "only {refused} of 6 were refused");
}

#[tokio::test(flavor = "multi_thread")]
async fn the_description_of_the_api_is_served() {
    let world = World::new().await;
    let (status, body) = world.stranger().get("/api/openapi.json").await;
    assert_eq!(status, StatusCode::OK);
    assert!(body["paths"]["/api/trackers/{tracker}/tables/{table}/query"]["post"].is_object());
}

/// What is asked, by what it would do.
fn wishes() -> Vec<(&'static str, Method, String, serde_json::Value)> {
    let records = "/api/trackers/1/tables/3/records";
    let edit = |field: u32, text: &str| json!({ "edits": [{ "field": field, "input": { "text": text }, "was": null }] });
    vec![
        ("look at a record of one’s district", Method::GET, format!("{records}/50"), json!(null)),
        ("look at a record that isn’t there", Method::GET, format!("{records}/9999"), json!(null)),
        ("name it anew", Method::PATCH, format!("{records}/50"), edit(TITLE, "Named anew")),
        ("change whom it was reported by", Method::PATCH, format!("{records}/50"), edit(REPORTER, "Wynn Ashdale")),
        ("change what is computed", Method::PATCH, format!("{records}/50"), edit(49, "1")),
        ("add a fault without its title", Method::POST, records.to_owned(), json!({ "records": [{ "47": { "text": "checked" } }] })),
        ("put a fault into the bin", Method::DELETE, records.to_owned(), json!({ "records": [51] })),
        ("undo somebody else’s change", Method::POST, "/api/trackers/1/undo".to_owned(), json!({ "seq": 9 })),
        (
            "add a field",
            Method::POST,
            "/api/trackers/1/tables/3/fields".to_owned(),
            json!({ "field": { "id": 1, "name": "Extra", "kind": { "type": "date" } } }),
        ),
        ("see the roles", Method::GET, "/api/trackers/1/roles".to_owned(), json!(null)),
        ("see the automations", Method::GET, "/api/trackers/1/automations".to_owned(), json!(null)),
        ("see a form’s design", Method::GET, "/api/trackers/1/forms/120".to_owned(), json!(null)),
        ("begin a tracker", Method::POST, "/api/trackers".to_owned(), json!({ "name": "Mine", "from": "nothing" })),
    ]
}

/// The table of refusals: who is told what, in which words.
#[tokio::test(flavor = "multi_thread")]
async fn who_is_refused_what() {
    let world = World::new().await;
    let people = [
        ("a stranger", world.stranger()),
        ("Wren, submitter", world.person(WREN).await),
        ("Pavel, reader", world.person(PAVEL).await),
        ("Tamsin, warden", world.person(TAMSIN).await),
        ("Idris, warden", world.person(IDRIS).await),
        ("Bex, editor", world.person(BEX).await),
        ("Nadia, steward", world.person(NADIA).await),
    ];
    let mut table = String::new();
    for (wish, method, path, body) in wishes() {
        table.push_str(&format!("{wish}\n"));
        for (name, client) in &people {
            let (status, told) = read(client.raw(method.clone(), &path, &body.to_string(), &[]).await).await;
            table.push_str(&format!("  {name}: {} {}\n", status.as_u16(), told["detail"].as_str().unwrap_or_default()));
        }
    }
    insta::assert_snapshot!(table);
}
