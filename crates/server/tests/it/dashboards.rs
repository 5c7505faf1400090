//! Dashboards through the API: who sees them, what their tiles tell each, and that they follow what changes.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};

const DEMO: &str = "/api/dashboards/1";

fn text(key: u32) -> Value {
    json!({ "key": key, "width": 1, "shows": { "as": "text", "text": "Read from the top." } })
}

fn counting(tracker: u32, table: u32) -> Value {
    let line = json!({ "words": "faults", "of": { "records": { "table": table, "condition": { "all": [] }, "sign": "plus" } } });
    json!({ "key": 9, "width": 1, "shows": { "as": "statement", "tracker": tracker, "lines": [line] } })
}

async fn tile(person: &Client, board: &str, key: u32) -> Value {
    let (status, told) = person.get(board).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    told["tiles"].as_array().unwrap().iter().find(|tile| tile["key"] == key).unwrap().clone()
}

#[tokio::test(flavor = "multi_thread")]
async fn each_reader_sees_it_within_their_own_reach() {
    let world = World::new().await;
    let (nadia, tamsin, pavel) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(PAVEL).await);
    let names = async |person: &Client| {
        let (_, all) = person.get("/api/dashboards").await;
        all.as_array().unwrap().iter().map(|one| one["name"].as_str().unwrap().to_owned()).collect::<Vec<_>>()
    };
    assert_eq!(names(&nadia).await, ["How the paths stand"]);
    assert_eq!(names(&tamsin).await, ["How the paths stand"]);
    assert!(names(&pavel).await.is_empty());
    assert_eq!(pavel.get(DEMO).await.0, StatusCode::NOT_FOUND);
    assert_eq!(pavel.get("/api/dashboards/1/seen").await.0, StatusCode::NOT_FOUND);
    // The same figures, each of what one sees.
    let open =
        async |person: &Client| tile(person, DEMO, 1).await["statement"]["lines"][1]["now"].as_str().unwrap().parse::<u32>().unwrap();
    assert!(open(&tamsin).await < open(&nadia).await);
    let districts = tile(&tamsin, DEMO, 4).await["crossed"]["rows"].to_string();
    assert!(districts.contains("Eskermoor") && !districts.contains("Ninestone"), "{districts}");
    // What a line of money tells whoever may not read it is nothing.
    assert_eq!(tile(&nadia, DEMO, 5).await["rows"].as_array().unwrap().len(), 5);
    let (_, told) = tamsin.get(DEMO).await;
    assert_eq!(told["changes"], false);
    let body = json!({ "name": "Hers", "open": "team", "columns": 1, "tiles": [] });
    assert_eq!(tamsin.put(DEMO, body).await.0, StatusCode::FORBIDDEN);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_tile_of_what_is_closed_says_so_without_telling_what() {
    let world = World::new().await;
    let (nadia, wren) = (world.person(NADIA).await, world.person(WREN).await);
    let (status, made) = nadia.post("/api/dashboards", json!({ "name": "Neighbours" })).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let at = format!("/api/dashboards/{}", made["id"]);
    let body = json!({ "name": "Neighbours", "open": "team", "columns": 2, "tiles": [text(1), counting(2, 1), { "key": 3, "width": 1, "shows": counting(99, 1)["shows"] }] });
    let (status, done) = nadia.put(&at, body).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let told = tile(&wren, &at, 9).await;
    assert_eq!(told["refused"], "This is of something that is not open to you.");
    assert!(told["statement"].is_null() && told["sentence"].as_array().unwrap().is_empty());
    // One that never was is told the same.
    assert_eq!(tile(&wren, &at, 3).await["refused"], told["refused"]);
    assert_eq!(tile(&nadia, &at, 3).await["refused"], told["refused"]);
    assert_eq!(tile(&nadia, &at, 9).await["refused"], "");
    // Taking it away is taken back as any step of the team.
    let (_, gone) = nadia.delete(&at, json!({})).await;
    assert_eq!(wren.get(&at).await.0, StatusCode::NOT_FOUND);
    let (status, _) = nadia.post(&format!("/api/team/undo/{}", gone["seq"]), json!({})).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(wren.get(&at).await.0, StatusCode::OK);
}

#[tokio::test(flavor = "multi_thread")]
async fn it_follows_what_changes_and_says_what_can_not_stand() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let seen = async || nadia.get("/api/dashboards/1/seen").await.1;
    let before = seen().await;
    assert_eq!(before, nadia.get(DEMO).await.1["seen"]);
    let (_, row) = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[STATUS]), "condition": { "test": { "path": [STATUS], "check": { "is": "option", "not": false, "any": [80] } } } })).await;
    let record = row["rows"][0]["id"].clone();
    let open = async || tile(&nadia, DEMO, 1).await["statement"]["lines"][1]["now"].as_str().unwrap().parse::<u32>().unwrap();
    let counted = open().await;
    let edit = json!({ "edits": [{ "field": STATUS, "input": { "value": { "choice": 84 } } }] });
    let (status, done) = nadia.patch(&format!("/api/trackers/1/tables/{FAULT_TABLE}/records/{record}"), edit).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert_ne!(seen().await, before);
    assert_eq!(open().await, counted - 1);

    let body = |tiles: Value| json!({ "name": "Mine", "open": "own", "columns": 2, "tiles": tiles });
    let twice = nadia.put(DEMO, body(json!([text(1), text(1)]))).await;
    assert_eq!((twice.0, &twice.1["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/tiles")));
    // A tile is looked at before it is kept; what it names must be there.
    let (status, told) = nadia.post("/api/dashboards/look", json!({ "tile": counting(1, FAULT_TABLE) })).await;
    assert_eq!((status, &told["statement"]["lines"][0]["words"]), (StatusCode::OK, &json!("faults")));
    let query = json!({ "fields": [{ "field": 9999, "width": 10 }] });
    let lost = json!({ "key": 1, "width": 1, "shows": { "as": "view", "tracker": 1, "table": FAULT_TABLE, "query": query, "most": 5 } });
    let (_, told) = nadia.post("/api/dashboards/look", json!({ "tile": lost })).await;
    assert_eq!(told["refused"], "This view names a field that is not there any more.");
}

/// What holds of the page holds of its tiles; what its reader narrows it to is theirs alone.
#[tokio::test(flavor = "multi_thread")]
async fn a_page_is_narrowed_for_all_by_its_maker_and_for_oneself_by_whoever_looks() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let dangerous = json!({ "test": { "path": [46], "check": { "is": "option", "not": false, "any": [79] } } });
    let only = |condition: &Value| json!([{ "tracker": 1, "table": FAULT_TABLE, "condition": condition }]);
    let listed = async |person: &Client, narrowed: Option<Value>| {
        let (status, told) = match narrowed {
            Some(narrowed) => person.post(&format!("{DEMO}/narrowed"), json!({ "narrowed": narrowed })).await,
            None => person.get(DEMO).await,
        };
        assert_eq!(status, StatusCode::OK, "{told}");
        let tile = told["tiles"].as_array().unwrap().iter().find(|tile| tile["key"] == 4).unwrap().clone();
        (tile["crossed"]["cells"][0][0]["count"].as_u64().unwrap_or(0), told)
    };
    let (all, told) = listed(&nadia, None).await;
    assert!(told["tables"].as_array().unwrap().iter().any(|table| table["name"] == "Faults"), "{}", told["tables"]);
    let (few, narrowed) = listed(&nadia, Some(only(&dangerous))).await;
    assert!(few < all, "{few} of {all}");
    let sentence: String = narrowed["narrowed"][0]["sentence"].as_array().unwrap().iter().map(|p| p["text"].as_str().unwrap()).collect();
    assert_eq!(sentence, "faults where severity is dangerous");
    // Nothing of it is kept.
    assert_eq!(listed(&nadia, None).await.0, all);
    // The maker keeps it for all.
    let mut board = told["dashboard"].clone();
    board["only"] = only(&dangerous);
    let (status, done) = nadia.put(DEMO, board).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let (kept, told) = listed(&nadia, None).await;
    assert_eq!((kept, told["only"].as_array().unwrap().len()), (few, 1));
    let (hers, told) = listed(&tamsin, None).await;
    assert!(hers <= few && told["narrowed"].as_array().unwrap().is_empty());
    // A figure leads to the records that it counted.
    let tile = told["tiles"].as_array().unwrap().iter().find(|tile| tile["key"] == 4).unwrap();
    let body = json!({ "query": tile["query"], "down": [], "across": [] });
    let (status, behind) = tamsin.post(&format!("/api/trackers/1/tables/{FAULT_TABLE}/cross-tab/cell"), body).await;
    assert_eq!(status, StatusCode::OK, "{behind}");
    // What can't be asked so is said, and nothing falls over.
    let (status, odd) =
        tamsin.post(&format!("{DEMO}/narrowed"), json!({ "narrowed": [{ "tracker": 1, "table": 9_999, "condition": dangerous }] })).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(odd["narrowed"][0]["refused"], "It is of something that is not open to you.");
}
