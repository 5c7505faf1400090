//! Views through the API.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};

fn open_faults() -> Value {
    json!({
        "fields": shown(&[40, TITLE, 44]),
        "condition": { "all": [{ "test": { "path": [STATUS], "check": { "is": "option", "not": true, "any": [84, 85] } } }] },
        "groups": [{ "field": 43 }],
        "sorts": [{ "field": PLANNED }],
    })
}

#[tokio::test(flavor = "multi_thread")]
async fn a_view_comes_with_its_sentence_and_groups() {
    let world = World::new().await;
    let (status, body) = world.person(NADIA).await.query(FAULT_TABLE, open_faults()).await;
    assert_eq!(status, StatusCode::OK, "{body}");
    let words: String =
        body["sentence"].as_array().unwrap().iter().filter(|p| p["tone"] != "offer").map(|p| p["text"].as_str().unwrap()).collect();
    assert!(
        words.ends_with(
            "faults where status is not made good or no action, grouped by district, earliest planned for first, showing 3 of 26 fields, 5 highlights, as rows."
        ),
        "{words}"
    );
    let counted: u64 = body["groups"].as_array().unwrap().iter().map(|g| g["count"].as_u64().unwrap()).sum();
    assert_eq!(counted, body["matching"].as_u64().unwrap());
    let condition = body["sentence"].as_array().unwrap().iter().find(|p| p["tone"] == "edit").unwrap();
    assert_eq!(condition["at"], "/condition/all/0");
}

#[tokio::test(flavor = "multi_thread")]
async fn views_are_kept_for_the_team_or_for_oneself() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let view = |name: &str, personal: bool| json!({ "table": FAULT_TABLE, "name": name, "personal": personal, "query": open_faults() });
    let (status, made) = tamsin.post("/api/trackers/1/parts", part("view", view("My paths", true))).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let names = async |client: &Client| {
        let (_, body) = client.get("/api/trackers/1").await;
        let tables = body["tables"].as_array().unwrap();
        let faults = tables.iter().find(|t| t["id"] == FAULT_TABLE).unwrap();
        faults["views"].as_array().unwrap().iter().map(|v| v["name"].as_str().unwrap().to_owned()).collect::<Vec<_>>()
    };
    assert!(names(&tamsin).await.contains(&"My paths".into()));
    assert!(!names(&nadia).await.contains(&"My paths".into()));
    let mine = format!("/api/trackers/1/parts/view/{}", made["made"]);
    assert_eq!(nadia.delete(&mine, json!({})).await.0, StatusCode::NOT_FOUND);
    let (status, problem) = tamsin.post("/api/trackers/1/parts", part("view", view("Everybody’s", false))).await;
    assert_eq!(status, StatusCode::FORBIDDEN, "{problem}");
    assert_eq!(tamsin.put("/api/trackers/1/parts/view/100", part("view", view("Mine now", true))).await.0, StatusCode::FORBIDDEN);
    assert_eq!(nadia.post("/api/trackers/1/parts", part("view", view("For the team", false))).await.0, StatusCode::OK);
    assert!(names(&tamsin).await.contains(&"For the team".into()));
    assert_eq!(tamsin.delete(&mine, json!({})).await.0, StatusCode::OK);
    let (status, problem) = nadia.post("/api/trackers/1/parts", part("view", view("  ", false))).await;
    assert_eq!((status, &problem["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/name")));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_view_that_shows_nothing_says_which_part_of_its_condition_to_drop() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let test = |field: u32, check: Value| json!({ "test": { "path": [field], "of": "any", "check": check } });
    let never = test(TITLE, json!({ "is": "text", "how": "is", "text": "nothing is called so" }));
    let filled = test(STATUS, json!({ "is": "filled" }));
    let (_, answer) = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[TITLE]), "condition": { "all": [filled, never] } })).await;
    let told: Vec<(&str, &str)> =
        answer["alone"].as_array().unwrap().iter().map(|p| (p["at"].as_str().unwrap(), p["leaves"].as_str().unwrap())).collect();
    assert_eq!(told, [("/condition/all/0", "60 faults"), ("/condition/all/1", "0 faults")]);
    let (_, some) = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[TITLE]) })).await;
    assert_eq!(some["alone"], json!([]));
}
