//! Formulas over the API: tried, kept, refused; and why, for those who may know.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};

const TABLE: &str = "/api/trackers/1/tables/3";

async fn field(client: &Client, table: u32, name: &str) -> Value {
    let (_, body) = client.get("/api/trackers/1").await;
    let tables = body["tables"].as_array().unwrap();
    let home = tables.iter().find(|t| t["id"] == table).unwrap();
    home["fields"].as_array().unwrap().iter().find(|f| f["name"] == name).cloned().unwrap_or(Value::Null)
}

async fn text(client: &Client, table: u32, record: u32, field: u64) -> Value {
    let (_, body) = client.get(&format!("/api/trackers/1/tables/{table}/records/{record}")).await;
    let at = body["fields"].as_array().unwrap().iter().position(|f| f.as_u64() == Some(field)).unwrap();
    body["row"]["cells"][at]["text"].clone()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_formula_is_tried_without_being_kept() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, before) = nadia.get("/api/trackers/1").await;
    let body = json!({ "formula": "COUNT(Section.Faults) * 2", "record": 7 });
    let (status, tried) = nadia.post(&format!("{TABLE}/formulas"), body).await;
    assert_eq!(status, StatusCode::OK, "{tried}");
    assert_eq!((&tried["gives"], &tried["shows"]["type"], &tried["faults"]), (&json!("a number"), &json!("number"), &json!([])));
    assert_eq!(tried["trace"]["steps"][0]["part"], "COUNT(Section.Faults)");
    assert!(tried["text"].as_str().unwrap().parse::<u32>().is_ok_and(|n| n % 2 == 0), "{tried}");
    // Faults count in UTF-16, as browsers do.
    let (_, tried) = nadia.post(&format!("{TABLE}/formulas"), json!({ "formula": "\"🌾\" & Statos" })).await;
    assert_eq!(tried["faults"][0]["span"], json!({ "from": 7, "to": 13 }));
    assert_eq!(tried["faults"][0]["instead"], "Status");
    assert_eq!(nadia.get("/api/trackers/1").await.1, before, "nothing was kept");
    let (_, help) = nadia.get("/api/functions").await;
    assert!(help.as_array().unwrap().len() > 110);
    // Only who builds may.
    for someone in [BEX, TAMSIN, WREN] {
        let other = world.person(someone).await;
        assert_eq!(other.post(&format!("{TABLE}/formulas"), json!({ "formula": "1" })).await.0, StatusCode::FORBIDDEN);
        let body = json!({ "name": "Mine", "formula": "1", "shows": { "type": "number", "decimals": 0, "unit": "" } });
        assert_eq!(other.post(&format!("{TABLE}/calculations"), body).await.0, StatusCode::FORBIDDEN);
        assert_eq!(field(&other, 3, "Days open").await["formula"], Value::Null, "what it names is not theirs to read");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_calculation_is_kept_computed_everywhere_and_undone() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let shows = json!({ "type": "number", "decimals": 1, "unit": "h" });
    let body = json!({ "name": "Twice the hours", "formula": "Hours needed * 2", "shows": shows, "before": DESCRIPTION });
    let (status, done) = nadia.post(&format!("{TABLE}/calculations"), body.clone()).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let made = done["made"].as_u64().unwrap();
    nadia.edit(9, 50, json!({ "text": "2.25" }), Value::Null).await;
    assert_eq!(text(&nadia, 3, 9, made).await, "4.5\u{a0}h");
    // Another server, and one started later, compute the same.
    let restarted = world.beside().await;
    assert_eq!(text(&restarted.person(NADIA).await, 3, 9, made).await, text(&nadia, 3, 9, made).await);
    // The same name twice, a type that can't be shown so, a circle, another kind of field: each is told.
    let (status, problem) = nadia.post(&format!("{TABLE}/calculations"), body).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{problem}");
    let change = |formula: &str, kind: &str| json!({ "name": "Twice the hours", "formula": formula, "shows": { "type": kind, "decimals": 0, "unit": "" } });
    let at = format!("{TABLE}/calculations/{made}");
    for (formula, kind, says) in [
        ("Due", "number", "gives a date, which can’t be shown as number"),
        ("Twice the hours + 1", "number", "would need its own value"),
        ("Hours needed *", "number", "something is missing at the end"),
    ] {
        let (status, problem) = nadia.put(&at, change(formula, kind)).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{problem}");
        assert!(problem["detail"].as_str().unwrap().contains(says), "{problem}");
    }
    assert_eq!(nadia.put(&format!("{TABLE}/calculations/{DESCRIPTION}"), change("1", "number")).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.put(&at, change("Hours needed * 4", "number")).await.0, StatusCode::OK);
    assert_eq!(text(&nadia, 3, 9, made).await, "9");
    // Nobody puts a value into it.
    let (status, _) = nadia.edit(9, made as u32, json!({ "text": "3" }), Value::Null).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let (_, undone) = nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(undone["detail"], "This can’t be undone any more: somebody changed the same thing since.");
}

#[tokio::test(flavor = "multi_thread")]
async fn why_tells_what_went_in_and_who_put_it_there_to_those_who_may_know() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    nadia.edit(11, 46, json!({ "text": "dangerous" }), Value::Null).await;
    let (status, why) = nadia.get(&format!("{TABLE}/records/11/why/49")).await;
    assert_eq!(status, StatusCode::OK, "{why}");
    let severity = why["sources"].as_array().unwrap().iter().find(|s| s["name"] == "Severity").unwrap();
    assert_eq!(severity["text"], "dangerous");
    assert!(severity["set"].as_str().unwrap().starts_with("Nadia Ferreira-Holt, "), "{severity}");
    // A material is used all over the trust: a warden is not told how much, nor why.
    let tamsin = world.person(TAMSIN).await;
    for material in 1..=42 {
        let (status, hers) = tamsin.get(&format!("/api/trackers/1/tables/4/records/{material}/why/236")).await;
        let (_, whole) = nadia.get(&format!("/api/trackers/1/tables/4/records/{material}/why/236")).await;
        assert_eq!(status, StatusCode::OK);
        if hers["text"] != whole["text"] {
            assert_eq!((&hers["text"], &hers["sources"]), (&json!(""), &json!([])), "{hers}");
            assert!(hers["how"].as_str().unwrap().contains("not open to you"), "{hers}");
        }
    }
    // A record that is not hers does not exist, for this question too; nor a field that is hidden from one.
    let (_, rows) = nadia.get(&format!("{TABLE}/records/3")).await;
    assert_eq!(rows["row"]["id"], 3);
    let strange = (1..60).collect::<Vec<u32>>();
    let mut refused = 0;
    for record in strange {
        let seen = tamsin.get(&format!("{TABLE}/records/{record}")).await.0;
        let asked = tamsin.get(&format!("{TABLE}/records/{record}/why/49")).await.0;
        let because = tamsin.post(&format!("{TABLE}/records/{record}/because"), json!({ "condition": { "all": [] } })).await.0;
        assert_eq!((seen, seen), (asked, because));
        refused += usize::from(seen == StatusCode::NOT_FOUND);
    }
    assert!(refused > 20);
    let pavel = world.person(PAVEL).await;
    assert_eq!(pavel.get(&format!("{TABLE}/records/11/why/{REPORTER}")).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn because_tells_which_part_of_a_condition_held() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    nadia.edit(12, STATUS, json!({ "text": "made good" }), Value::Null).await;
    nadia.edit(12, 46, json!({ "text": "blocked" }), Value::Null).await;
    let option = |field: u32, any: u32| json!({ "test": { "path": [field], "check": { "is": "option", "not": false, "any": [any] } } });
    let condition = json!({ "all": [option(46, BLOCKED), option(STATUS, 80)] });
    let (status, because) = nadia.post(&format!("{TABLE}/records/12/because"), json!({ "condition": condition })).await;
    assert_eq!(status, StatusCode::OK, "{because}");
    assert_eq!(because["holds"], false);
    assert_eq!((&because["parts"][0]["holds"], &because["parts"][1]["holds"]), (&json!(true), &json!(false)));
    assert_eq!((&because["parts"][1]["words"], &because["parts"][1]["found"]), (&json!("status is reported"), &json!("made good")));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_dependent_choice_follows_what_it_depends_on() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let section = "/api/trackers/1/tables/2/records/5";
    let put = async |field: u32, text: &str| {
        let body = json!({ "edits": [{ "field": field, "input": { "text": text } }] });
        nadia.patch(section, body).await
    };
    assert_eq!(put(24, "peat").await.0, StatusCode::OK);
    assert_eq!(put(211, "wet peat").await.0, StatusCode::OK);
    let (status, problem) = put(211, "oak boards").await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(problem["detail"].as_str().unwrap().contains("“oak boards” stands under “boardwalk”"), "{problem}");
    // Another ground empties it.
    assert_eq!(put(24, "stone").await.0, StatusCode::OK);
    assert_eq!(text(&nadia, 2, 5, 211).await, Value::Null);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_summary_is_tried_in_a_few_records_without_being_kept() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, before) = nadia.get("/api/trackers/1").await;
    let faults = field(&nadia, SECTIONS, "Faults").await["id"].clone();
    let summary = |condition: Value| json!({ "name": "Tried", "links": [faults], "figure": "count", "condition": condition });
    let path = format!("/api/trackers/1/tables/{SECTIONS}/summaries/try");
    let (status, tried) = nadia.post(&path, json!({ "summary": summary(json!({ "all": [] })) })).await;
    assert_eq!((status, tried["examples"].as_array().map(Vec::len)), (StatusCode::OK, Some(5)), "{tried}");
    // As many as the section really has.
    let first = &tried["examples"][0];
    let on_it = json!({ "test": { "path": [SECTION], "of": "any", "check": { "is": "record", "not": false, "any": [first["record"]] } } });
    let (_, counted) = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[TITLE]), "condition": on_it })).await;
    assert_eq!(first["text"], counted["matching"].to_string());
    // What does not fit is said; and nothing was kept of any of it.
    let bad = json!({ "test": { "path": [STATUS], "of": "any", "check": { "is": "option", "not": false, "any": [] } } });
    assert_eq!(nadia.post(&path, json!({ "summary": summary(bad) })).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    // One that is changed has to be one.
    let not_one = json!({ "summary": summary(json!({ "all": [] })), "field": faults });
    assert_eq!(nadia.post(&path, not_one).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.get("/api/trackers/1").await.1, before);
    let tamsin = world.person(TAMSIN).await;
    assert_eq!(tamsin.post(&path, json!({ "summary": summary(json!({ "all": [] })) })).await.0, StatusCode::FORBIDDEN);
}
