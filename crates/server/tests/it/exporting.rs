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

/// Those that were chosen go out alone, whatever the view shows, and only for whoever sees them.
#[tokio::test(flavor = "multi_thread")]
async fn chosen_records_go_out_alone() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let ids = |rows: &Value| rows["rows"].as_array().unwrap().iter().map(|row| row["id"].clone()).collect::<Vec<_>>();
    let (all, hers) = (ids(&nadia.rows(FAULT_TABLE, &[TITLE]).await), ids(&tamsin.rows(FAULT_TABLE, &[TITLE]).await));
    let other = all.iter().find(|one| !hers.contains(one)).unwrap();
    let lines = async |who: &Client| {
        let query = json!({ "fields": shown(&[40, TITLE]), "condition": { "any": [] } });
        let body = json!({ "query": query, "records": [hers[0], hers[1], other], "format": "csv", "separator": "tab", "unmarked": true });
        let answer = who.raw(Method::POST, AT, &body.to_string(), &[]).await;
        assert_eq!(answer.status(), StatusCode::OK);
        String::from_utf8(answer.into_body().collect().await.unwrap().to_bytes().to_vec()).unwrap()
    };
    let told = lines(&nadia).await;
    assert!(told.starts_with("Number\tWhat is wrong") && told.lines().count() == 4, "{told}");
    assert_eq!(lines(&tamsin).await.lines().count(), 3, "one of them is not hers to see");
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

/// A grouped view: its groups stand in it, whatever the file.
#[tokio::test(flavor = "multi_thread")]
async fn a_grouped_view_goes_out_with_its_groups() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let query = json!({
        "fields": shown(&[40, TITLE, 50]),
        "groups": [{ "field": 43 }, { "field": STATUS }],
        "tallies": [{ "field": 50, "figure": "sum" }],
    });
    let (_, told) = nadia.query(FAULT_TABLE, query.clone()).await;
    let outer = told["groups"].as_array().unwrap();
    let heads: usize = outer.iter().map(|group| 1 + group["within"].as_array().unwrap().len()).sum();
    let get = async |format: &str, more: Value| {
        let mut body = json!({ "query": query, "name": "By district", "format": format });
        body.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        let answer = nadia.raw(Method::POST, AT, &body.to_string(), &[]).await;
        assert_eq!(answer.status(), StatusCode::OK, "{format}");
        answer.into_body().collect().await.unwrap().to_bytes().to_vec()
    };
    for format in ["xlsx", "ods"] {
        let book = westerfall_sheets::read(&get(format, json!({})).await, None).unwrap();
        // Its heading, the heads of its groups, its records, and its foot.
        assert_eq!(book.sheet.rows.len(), 1 + heads + FAULTS + 1, "{format}");
        let first = outer[0]["text"].as_str().unwrap();
        assert_eq!(book.sheet.cell(1, 0).words(), format!("{first} ({})", outer[0]["counted"].as_str().unwrap()));
        let sum = outer[0]["tallies"][0]["value"].as_str().unwrap().parse::<f64>().unwrap();
        assert_eq!(book.sheet.cell(1, 2).words().parse::<f64>().unwrap(), sum, "{format}");
    }
    let lines = String::from_utf8(get("csv", json!({ "separator": "semicolon", "unmarked": true })).await).unwrap();
    assert!(lines.starts_with("District;Status;Number;What is wrong;Hours needed\n"), "{}", &lines[..80]);
    let text = String::from_utf8(get("markdown", json!({})).await).unwrap();
    assert!(text.starts_with("# By district\n\n## "), "{}", &text[..80]);
    assert_eq!(text.matches("\n## ").count(), outer.len());
    assert!(text.contains("**In all: 60 faults; Hours needed: sum "));
    let objects: Vec<Value> = serde_json::from_slice(&get("json", json!({})).await).unwrap();
    assert!(objects.iter().all(|object| object["District"].is_string() && object["Status"].is_string()));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_tells_how_far_it_is_to_whoever_waits_for_it() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    assert_eq!(nadia.get("/api/awaited/nothing").await.0, StatusCode::NOT_FOUND);
    let body = json!({ "query": { "fields": shown(&[40, TITLE]) }, "name": "x", "format": "xlsx", "awaited": "mine" });
    let answer = nadia.raw(Method::POST, AT, &body.to_string(), &[]).await;
    assert_eq!(answer.status(), StatusCode::OK);
    // It is there: nobody waits for it any more.
    assert_eq!(nadia.get("/api/awaited/mine").await.0, StatusCode::NOT_FOUND);
    assert_eq!(world.stranger().get("/api/awaited/mine").await.0, StatusCode::UNAUTHORIZED);
}

fn calendar_of(tracker: &Value, name: &str) -> Option<u64> {
    match tracker {
        Value::Object(map) if map.get("name").and_then(Value::as_str) == Some(name) && map.contains_key("query") => map["id"].as_u64(),
        Value::Object(map) => map.values().find_map(|value| calendar_of(value, name)),
        Value::Array(all) => all.iter().find_map(|value| calendar_of(value, name)),
        _ => None,
    }
}

/// What is at a live address, and under which mark.
async fn looked(client: &Client, address: &str, known: Option<&str>) -> (StatusCode, String, String) {
    let path = address.split_once("/api/").map(|(_, path)| format!("/api/{path}")).unwrap();
    let headers: Vec<(&str, &str)> = known.map(|mark| ("if-none-match", mark)).into_iter().collect();
    let answer = client.raw(Method::GET, &path, "", &headers).await;
    let mark = answer.headers().get(header::ETAG).map(|mark| mark.to_str().unwrap().to_owned()).unwrap_or_default();
    let status = answer.status();
    (status, mark, String::from_utf8(answer.into_body().collect().await.unwrap().to_bytes().to_vec()).unwrap())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_live_address_is_its_persons_eyes_until_it_is_withdrawn() {
    let world = World::new().await;
    let (nadia, tamsin, stranger) = (world.person(NADIA).await, world.person(TAMSIN).await, world.stranger());
    let view = calendar_of(&nadia.get("/api/trackers/1").await.1, "Crews by the hour").unwrap();
    let path = format!("/api/trackers/1/views/{view}/calendar");
    let make = async |client: &Client| {
        let (status, made) = client.post(&path, json!({})).await;
        assert_eq!(status, StatusCode::OK, "{made}");
        made["address"].as_str().unwrap().to_owned()
    };
    let (hers, other) = (make(&tamsin).await, make(&nadia).await);
    let (status, mark, text) = looked(&stranger, &hers, None).await;
    assert_eq!(status, StatusCode::OK);
    assert!(text.starts_with("BEGIN:VCALENDAR\r\n") && text.ends_with("END:VCALENDAR\r\n"), "{text}");
    let events = |text: &str| text.matches("BEGIN:VEVENT").count();
    let all = looked(&stranger, &other, None).await.2;
    assert!(events(&text) <= events(&all) && events(&all) > 0);
    // Looked at again, nothing is sent that is known.
    assert_eq!(looked(&stranger, &hers, Some(&mark)).await, (StatusCode::NOT_MODIFIED, mark, String::new()));
    // One of them for each person and view: another one ends the first.
    let again = make(&tamsin).await;
    assert_eq!(looked(&stranger, &hers, None).await.0, StatusCode::NOT_FOUND);
    assert_eq!(looked(&stranger, &again, None).await.0, StatusCode::OK);
    let (_, lines) = tamsin.get("/api/calendars").await;
    assert_eq!(lines.as_array().unwrap().len(), 1, "{lines}");
    assert_eq!((&lines[0]["view_name"], lines[0]["looked"] != json!("")), (&json!("Crews by the hour"), true));
    let number = lines[0]["number"].as_u64().unwrap();
    let withdrawn = format!("/api/calendars/{number}");
    // Nobody withdraws somebody else's.
    assert_eq!(nadia.delete(&withdrawn, json!({})).await.0, StatusCode::NOT_FOUND);
    assert_eq!(tamsin.delete(&withdrawn, json!({})).await.0, StatusCode::NO_CONTENT);
    assert_eq!(looked(&stranger, &again, None).await.0, StatusCode::NOT_FOUND);
    assert_eq!(looked(&stranger, "/api/public/calendars/guessed.ics", None).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn only_a_calendar_has_a_live_address_and_only_for_those_to_whom_it_is_open() {
    let world = World::new().await;
    let (nadia, wren) = (world.person(NADIA).await, world.person(WREN).await);
    let (status, fault) = nadia.post("/api/trackers/1/views/100/calendar", json!({})).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(fault["detail"].as_str().unwrap().contains("Only a calendar has a live address"));
    let view = calendar_of(&nadia.get("/api/trackers/1").await.1, "Crews by the hour").unwrap();
    let path = format!("/api/trackers/1/views/{view}/calendar");
    assert_eq!(wren.post(&path, json!({})).await.0, StatusCode::NOT_FOUND);
    // Whoever stands in for somebody makes none in their name.
    let (status, made) = nadia.post(&path, json!({})).await;
    assert_eq!(status, StatusCode::OK);
    let address = made["address"].as_str().unwrap().to_owned();
    assert_eq!(nadia.put("/api/session/stand-in", json!({ "person": TAMSIN })).await.0, StatusCode::NO_CONTENT);
    assert!(!nadia.post(&path, json!({})).await.0.is_success());
    assert_eq!(looked(&world.stranger(), &address, None).await.0, StatusCode::OK);
}
