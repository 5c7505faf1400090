//! Tables and fields over the API: made, changed, moved, removed and brought back, each as one step that can be taken back.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};

const FIELDS: &str = "/api/trackers/1/tables/3/fields";

async fn names(client: &Client) -> Vec<String> {
    let (_, design) = client.get("/api/trackers/1/tables/3/design").await;
    design["fields"].as_array().unwrap().iter().map(|f| f["field"]["name"].as_str().unwrap().to_owned()).collect()
}

#[track_caller]
fn made((status, done): Answer) -> u32 {
    assert_eq!(status, StatusCode::OK, "{done}");
    done["made"].as_u64().and_then(|n| u32::try_from(n).ok()).unwrap_or_else(|| panic!("{done}"))
}

async fn undo(client: &Client, seq: &Value) {
    let (status, told) = client.post("/api/trackers/1/undo", json!({ "seq": seq })).await;
    assert_eq!(status, StatusCode::OK, "{told}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_field_is_added_where_one_says_renamed_moved_and_duplicated() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let before = names(&nadia).await;
    let text = json!({ "type": "text", "limit": 80 });
    let body = json!({ "field": { "id": 1, "name": "Tool", "kind": text }, "before": STATUS });
    let tool = made(nadia.post(FIELDS, body).await);
    let now = names(&nadia).await;
    let place = |names: &[String], name: &str| names.iter().position(|n| n == name);
    assert_eq!(place(&now, "Tool").map(|p| p + 1), place(&now, "Status"));
    // A name is one field's.
    let (status, told) = nadia.post(FIELDS, json!({ "field": { "id": 1, "name": "tool", "kind": { "type": "date" } } })).await;
    assert_eq!((status, told["faults"][0]["pointer"].as_str()), (StatusCode::UNPROCESSABLE_ENTITY, Some("/field/name")), "{told}");

    assert_eq!(nadia.edit(4, tool, json!({ "text": "Spade" }), Value::Null).await.0, StatusCode::OK);
    let renamed = json!({ "field": { "id": tool, "name": "Which tool", "help": "As it hangs in the store", "kind": text } });
    assert_eq!(nadia.put(&format!("{FIELDS}/{tool}"), renamed).await.0, StatusCode::OK);
    assert!(place(&names(&nadia).await, "Which tool").is_some());

    let copy = made(nadia.post(&format!("{FIELDS}/{tool}"), json!("duplicate")).await);
    let rows = nadia.rows(FAULT_TABLE, &[copy, tool]).await;
    let fourth = rows["rows"].as_array().unwrap().iter().find(|row| row["id"] == 4).unwrap();
    assert_eq!((&fourth["cells"][0]["text"], &fourth["cells"][1]["text"]), (&json!("Spade"), &json!("Spade")));

    let (status, step) = nadia.post(&format!("{FIELDS}/{tool}"), json!({ "move": { "before": TITLE } })).await;
    assert_eq!(status, StatusCode::OK, "{step}");
    let now = names(&nadia).await;
    assert_eq!(place(&now, "Which tool").map(|p| p + 1), place(&now, "What is wrong"));
    undo(&nadia, &step["seq"]).await;
    assert_ne!(place(&names(&nadia).await, "Which tool"), place(&now, "Which tool"));
    assert_eq!(names(&nadia).await.len(), before.len() + 2);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_field_goes_to_the_bin_with_its_values_and_says_what_holds_it() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let hours = 50;
    let (status, told) = nadia.delete(&format!("{FIELDS}/46"), Value::Null).await;
    assert_eq!(status, StatusCode::CONFLICT, "{told}");
    assert!(told["detail"].as_str().unwrap().contains("Due"), "{told}");
    let sums = async || {
        nadia.rows(FAULT_TABLE, &[hours]).await["rows"]
            .as_array()
            .unwrap()
            .iter()
            .map(|r| r["cells"][0]["text"].clone())
            .collect::<Vec<_>>()
    };
    let held = sums().await;
    let (status, gone) = nadia.delete(&format!("{FIELDS}/{hours}"), Value::Null).await;
    assert_eq!(status, StatusCode::OK, "{gone}");
    assert!(!names(&nadia).await.contains(&"Hours needed".to_owned()));
    let (_, design) = nadia.get("/api/trackers/1/tables/3/design").await;
    assert_eq!(design["binned"][0]["name"], "Hours needed");
    assert_eq!(nadia.post(&format!("{FIELDS}/{hours}"), json!("restore")).await.0, StatusCode::OK);
    assert_eq!(sums().await, held);
    // What is not there is neither removed nor brought back.
    assert_eq!(nadia.delete(&format!("{FIELDS}/9999"), Value::Null).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.post(&format!("{FIELDS}/{hours}"), json!("restore")).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_change_of_kind_is_rehearsed_without_effect_and_done_as_one_step() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let reporter = format!("{FIELDS}/{REPORTER}/kind");
    let body = |rehearse: bool| json!({ "to": { "kind": { "type": "choice", "options": [] } }, "rest": "create", "rehearse": rehearse });
    let before = nadia.rows(FAULT_TABLE, &[REPORTER]).await;
    let (status, told) = nadia.post(&reporter, body(true)).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    let says = told["rehearsal"]["says"].as_array().unwrap();
    assert!(says[0].as_str().unwrap().ends_with("values fit.") && says[1].as_str().unwrap().contains("made on the way"), "{told}");
    assert_eq!(nadia.rows(FAULT_TABLE, &[REPORTER]).await["rows"], before["rows"]);
    let (status, done) = nadia.post(&reporter, body(false)).await;
    assert_eq!((status, done["done"]["did"].as_str().is_some()), (StatusCode::OK, true), "{done}");
    let (_, tracker) = nadia.get("/api/trackers/1").await;
    let field = |tracker: &Value| {
        let tables = tracker["tables"].as_array().unwrap();
        let fields = tables.iter().find(|t| t["id"] == FAULT_TABLE).unwrap()["fields"].as_array().unwrap().clone();
        fields.into_iter().find(|f| f["id"] == REPORTER).unwrap()
    };
    assert_eq!(field(&tracker)["kind"]["type"], "choice");
    undo(&nadia, &done["done"]["seq"]).await;
    let text = |rows: &Value| rows["rows"].as_array().unwrap().iter().map(|r| r["cells"][0]["text"].clone()).collect::<Vec<_>>();
    assert_eq!(text(&nadia.rows(FAULT_TABLE, &[REPORTER]).await), text(&before));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_table_is_made_named_binned_and_brought_back() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let tables = "/api/trackers/1/tables";
    let (status, done) = nadia.post(tables, json!({ "name": "Wells", "fields": ["Name", "Depth"] })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let wells = done["made"].as_u64().unwrap();
    let at = format!("{tables}/{wells}");
    let (_, design) = nadia.get(&format!("{at}/design")).await;
    assert_eq!(
        (&design["one"], design["fields"].as_array().unwrap().len()),
        (&json!("well"), 6),
        "two of its own, four that every table keeps"
    );
    let standing = design["standing"].clone();
    let named = json!({ "name": "Springs", "one": "spring", "heading": "Water", "standing": standing, "beside": null });
    assert_eq!(nadia.put(&at, named).await.0, StatusCode::OK);
    let found = async || {
        let (_, tracker) = nadia.get("/api/trackers/1").await;
        tracker["tables"].as_array().unwrap().iter().find(|t| t["id"] == wells).cloned()
    };
    assert_eq!(found().await.map(|t| (t["name"].clone(), t["heading"].clone())), Some((json!("Springs"), json!("Water"))));
    assert_eq!(nadia.delete(&at, Value::Null).await.0, StatusCode::OK);
    assert_eq!((found().await, nadia.get(&format!("{at}/design")).await.0), (None, StatusCode::NOT_FOUND));
    let (_, bin) = nadia.get("/api/trackers/1/bin").await;
    assert_eq!(bin[0]["name"], "Springs");
    assert_eq!(nadia.post(&format!("{at}/restore"), json!({})).await.0, StatusCode::OK);
    assert!(found().await.is_some());
    // What others need stays, and says who needs it.
    let (status, told) = nadia.delete(&format!("{tables}/{SECTIONS}"), Value::Null).await;
    assert_eq!(status, StatusCode::CONFLICT);
    assert!(told["detail"].as_str().unwrap().ends_with("Change that first."), "{told}");
}
