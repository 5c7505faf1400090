//! The one resource of parts: making, saving, looking and dropping, for every sort and for everybody.

#![allow(clippy::cast_possible_truncation, clippy::cast_possible_wrap, clippy::cast_sign_loss, reason = "small figures of its own")]

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};

const PARTS: &str = "/api/trackers/1/parts";
/// How hard a fault is to get past.
const SEVERITY: u32 = 46;
const LOOK: &str = "/api/trackers/1/parts/look";

/// A part of each sort that a steward may make.
fn new_parts() -> Vec<(&'static str, Value)> {
    vec![
        ("view", json!({ "table": FAULT_TABLE, "name": "Only titles", "personal": false, "query": { "fields": shown(&[TITLE]) } })),
        ("form", json!({ "table": FAULT_TABLE, "title": "Tell us briefly" })),
        ("role", json!({ "name": "Auditors", "base": "own", "members": [PAVEL], "tables": {} })),
        (
            "automation",
            json!({
                "table": FAULT_TABLE, "name": "Tell the office", "on": false, "when": "added", "condition": { "all": [] },
                "steps": [{ "mail": { "to": { "address": "office@orrindale-paths.example" }, "subject": "New: {What is wrong}", "body": "" } }],
            }),
        ),
    ]
}

fn at(sort: &str, made: &Value) -> String {
    format!("{PARTS}/{sort}/{}", made["made"])
}

#[tokio::test(flavor = "multi_thread")]
async fn a_part_of_every_sort_is_made_taken_back_and_dropped() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    for (sort, body) in new_parts() {
        let (status, made) = nadia.post(PARTS, part(sort, body)).await;
        assert_eq!(status, StatusCode::OK, "{sort}: {made}");
        assert!(made["did"].as_str().unwrap().starts_with(&format!("made the {sort} ")), "{made}");
        let (status, undone) = nadia.post("/api/trackers/1/undo", json!({ "seq": made["seq"] })).await;
        assert_eq!(status, StatusCode::OK, "{sort}: {undone}");
        assert_eq!(nadia.delete(&at(sort, &made), json!({})).await.0, StatusCode::NOT_FOUND, "{sort}: it is gone");
        let (_, again) = nadia.post("/api/trackers/1/undo", json!({ "seq": undone["seq"] })).await;
        assert!(again["seq"].is_u64(), "{sort}: {again}");
        let (status, dropped) = nadia.delete(&at(sort, &made), json!({})).await;
        assert_eq!(status, StatusCode::OK, "{sort}: {dropped}");
        assert!(dropped["did"].as_str().unwrap().starts_with(&format!("took the {sort} ")), "{dropped}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn who_may_not_shape_a_part_learns_nothing_by_trying() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    for (sort, body) in new_parts() {
        let (_, made) = nadia.post(PARTS, part(sort, body.clone())).await;
        for who in [TAMSIN, BEX, PAVEL, WREN] {
            let person = world.person(who).await;
            let own = sort == "view";
            for (what, status) in [
                ("make", person.post(PARTS, part(sort, body.clone())).await.0),
                ("drop", person.delete(&at(sort, &made), json!({})).await.0),
                ("look", person.post(LOOK, json!({ "part": part(sort, body.clone()) })).await.0),
            ] {
                let refused = matches!(status, StatusCode::FORBIDDEN | StatusCode::NOT_FOUND | StatusCode::UNPROCESSABLE_ENTITY);
                assert!(refused, "{who} may {what} a {sort}: {status} (own: {own})");
            }
        }
        assert_eq!(world.stranger().post(PARTS, part(sort, body)).await.0, StatusCode::UNAUTHORIZED);
        assert_eq!(nadia.delete(&at(sort, &made), json!({})).await.0, StatusCode::OK, "{sort} still stands");
    }
    // A text that names a field is not looked up for those who may not see it: hidden and missing are told alike.
    let pavel = world.person(PAVEL).await;
    let naming = |field: &str| {
        let (_, mut body) = new_parts().remove(3);
        body["steps"][0]["mail"]["subject"] = json!(format!("{{{field}}}"));
        json!({ "part": part("automation", body) })
    };
    let (hidden, missing) = (pavel.post(LOOK, naming("Reporter’s mail")).await, pavel.post(LOOK, naming("No such thing")).await);
    assert_eq!(hidden, missing);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_part_is_looked_at_as_it_would_stand_with_all_that_is_wrong_and_nothing_is_kept() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, before) = nadia.get("/api/trackers/1").await;
    let narrow = json!({ "test": { "path": [SEVERITY], "check": { "is": "option", "not": false, "any": [79] } } });
    let view = json!({ "table": FAULT_TABLE, "name": "Dangerous", "personal": false, "query": { "condition": narrow, "fields": shown(&[TITLE]) } });
    let (status, seen) = nadia.post(LOOK, json!({ "part": part("view", view.clone()) })).await;
    assert_eq!(status, StatusCode::OK, "{seen}");
    let said: String = seen["view"]["view"]["sentence"].as_array().unwrap().iter().map(|p| p["text"].as_str().unwrap()).collect();
    assert!(said.contains("severity is dangerous"), "{said}");
    let (_, rows) = nadia.query(FAULT_TABLE, view["query"].clone()).await;
    assert_eq!(seen["view"]["view"]["matching"], rows["matching"]);
    assert_eq!(seen["faults"], json!([]));

    let (_, mut automation) = new_parts().remove(3);
    // What rests may be half said.
    automation["on"] = json!(true);
    automation["steps"] = json!([]);
    automation["condition"] = json!({ "test": { "path": [SEVERITY], "check": { "is": "yes" } } });
    let (status, seen) = nadia.post(LOOK, json!({ "part": part("automation", automation) })).await;
    let places: Vec<&str> = seen["faults"].as_array().unwrap().iter().map(|f| f["pointer"].as_str().unwrap()).collect();
    assert_eq!((status, places), (StatusCode::OK, vec!["/condition/test", "/steps"]), "{seen}");
    assert!(seen["view"]["automation"]["clauses"].is_array(), "it still reads: {seen}");

    let (_, mut unreadable) = new_parts().remove(3);
    unreadable["steps"][0]["mail"]["body"] = json!("Look {at");
    let (status, seen) = nadia.post(LOOK, json!({ "part": part("automation", unreadable) })).await;
    assert_eq!((status, &seen["view"], &seen["faults"][0]["pointer"]), (StatusCode::OK, &json!(null), &json!("/steps/0/mail/body")));
    assert_eq!(nadia.get("/api/trackers/1").await.1["seq"], before["seq"], "nothing was kept");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_part_is_saved_as_what_it_is_and_where_it_is() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let view = |table: u32| json!({ "table": table, "name": "Any", "personal": false, "query": { "fields": [] } });
    for (path, body, expected) in [
        (format!("{PARTS}/role/100"), part("view", view(3)), StatusCode::NOT_FOUND),
        (format!("{PARTS}/view/100"), part("role", new_parts()[2].1.clone()), StatusCode::NOT_FOUND),
        (format!("{PARTS}/view/99999"), part("view", view(3)), StatusCode::NOT_FOUND),
        (format!("{PARTS}/table/3"), part("view", view(3)), StatusCode::NOT_FOUND),
        (format!("{PARTS}/tracker/0"), part("view", view(3)), StatusCode::NOT_FOUND),
        (format!("{PARTS}/view/100"), part("lanes", view(3)), StatusCode::UNPROCESSABLE_ENTITY),
    ] {
        let (status, body) = nadia.put(&path, body).await;
        assert_eq!(status, expected, "{path}: {body}");
    }
    let (_, list) = nadia.get("/api/trackers/1/automations").await;
    let automation = &list[0]["automation"];
    let elsewhere = json!({
        "table": 4, "name": automation["name"], "on": false, "when": "added", "condition": { "all": [] },
        "steps": [{ "mail": { "to": { "address": "office@orrindale-paths.example" }, "subject": "x", "body": "" } }],
    });
    let (status, refused) = nadia.put(&format!("{PARTS}/automation/{}", automation["id"]), part("automation", elsewhere)).await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/table")), "{refused}");
}

#[tokio::test(flavor = "multi_thread")]
async fn the_vocabulary_names_every_kind_that_the_tracker_has() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (status, words) = nadia.get("/api/vocabulary").await;
    assert_eq!(status, StatusCode::OK);
    let (_, tracker) = nadia.get("/api/trackers/1").await;
    let fields = tracker["tables"].as_array().unwrap().iter().flat_map(|t| t["fields"].as_array().unwrap());
    for field in fields {
        let known = words["kinds"].as_array().unwrap().iter().find(|k| k["type"] == field["shows"]["type"]);
        let checks = known.unwrap_or_else(|| panic!("no words for {field}"))["checks"].as_array().unwrap();
        assert!(!checks.is_empty(), "{field}");
    }
    assert_eq!(world.stranger().get("/api/vocabulary").await.0, StatusCode::UNAUTHORIZED);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_refusal_at_the_door_says_which_it_is_in_a_word() {
    let world = World::new().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let word = |answer: (StatusCode, Value)| answer.1["refusal"].as_str().unwrap_or_default().to_owned();
    assert_eq!(word(stranger.get("/api/trackers").await), "not_signed_in");
    assert_eq!(word(nadia.get("/api/nowhere").await), "no_address");
    assert_eq!(word(nadia.post(PARTS, json!({ "view": "x" })).await), "wrong_shape");
    assert_eq!(word(nadia.post(PARTS, json!({ "role": { "name": "a\u{0}b" } })).await), "holds_zero");
    let wrong = stranger.post("/api/session", json!({ "mail": "nadia@orrindale-paths.example", "password": "no" })).await;
    assert_eq!(word(wrong), "wrong_password");
    nadia.put("/api/session/stand-in", json!({ "person": PAVEL })).await;
    assert_eq!(word(nadia.post(PARTS, part("view", new_parts()[0].1.clone())).await), "only_looking");
    // What core says is told by the kinds of its faults.
    let (_, refused) = nadia.get("/api/trackers/1/tables/99/design").await;
    assert!(refused["refusal"].is_null() && refused["faults"][0]["kind"].is_string(), "{refused}");
}
