//! Building over the API: imports with what can go wrong, trackers from trackers, templates and packages.

use crate::fixture::*;
use axum::{
    body::{Body, to_bytes},
    http::{Method, Request, StatusCode},
};
use serde_json::{Value, json};
use westerfall_core::id::{RecordId, TrackerId};

const IMPORTS: &str = "/api/trackers/1/imports";

async fn sent(client: &Client, path: &str, name: &str, bytes: &[u8]) -> Answer {
    let mut body = format!("--line\r\nContent-Disposition: form-data; name=\"file\"; filename=\"{name}\"\r\n\r\n").into_bytes();
    body.extend_from_slice(bytes);
    body.extend_from_slice(b"\r\n--line--\r\n");
    let mut request = Request::post(path).header("content-type", "multipart/form-data; boundary=line");
    if let Some(cookie) = &client.cookie {
        request = request.header("cookie", cookie);
    }
    read(client.send(request.body(Body::from(body)).unwrap()).await).await
}

async fn taken(client: &Client, name: &str, bytes: &[u8]) -> String {
    let (status, answer) = sent(client, "/api/uploads", name, bytes).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    answer["token"].as_str().unwrap().to_owned()
}

async fn bytes(client: &Client, method: Method, path: &str, body: Value) -> Vec<u8> {
    let body = if body.is_null() { String::new() } else { body.to_string() };
    let response = client.raw(method, path, &body, &[("content-type", "application/json")]).await;
    assert_eq!(response.status(), StatusCode::OK);
    to_bytes(response.into_body(), usize::MAX).await.unwrap().to_vec()
}

fn workbook(rows: &[&[&str]]) -> Vec<u8> {
    use westerfall_sheets::{Column, Format, write};
    let (names, rows) = rows.split_first().unwrap();
    let columns: Vec<Column> = names.iter().map(|n| Column::of(n, 90)).collect();
    let cell = |text: &&str| westerfall_core::import::Raw::Text((*text).into());
    let rows: Vec<Vec<_>> = rows.iter().map(|r| r.iter().map(cell).collect()).collect();
    write(Format::Xlsx, "Wells", &columns, &rows).unwrap().bytes
}

#[tokio::test(flavor = "multi_thread")]
async fn a_workbook_is_imported_whole_and_taken_back_whole() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let file = workbook(&[
        &["Well", "Depth", "District"],
        &["Upper", "12.5", "Eskermoor"],
        &["Mill", "deep", "Ninestone"],
        &["Lower", "8", "Nowhere"],
    ]);
    let token = taken(&nadia, "wells_2026.xlsx", &file).await;
    let (status, guess) = nadia.post(&format!("{IMPORTS}/guess"), json!({ "token": token })).await;
    assert_eq!(status, StatusCode::OK, "{guess}");
    let mut plan = guess["guess"]["plan"].clone();
    assert_eq!(plan["into"]["new"], json!({ "name": "Wells", "one": "well" }));
    assert_eq!(plan["columns"][2]["becomes"]["link"]["to"], 1, "{plan}");
    plan["columns"][1]["becomes"] = json!({ "field": { "kind": { "type": "number", "decimals": 1, "unit": "m" } } });
    let (status, told) = nadia.post(IMPORTS, json!({ "token": token, "plan": plan, "rehearse": true })).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    assert_eq!((&told["rehearsal"]["added"], &told["rehearsal"]["rejected_count"]), (&json!(3), &json!(2)), "{told}");
    let report = bytes(&nadia, Method::POST, &format!("{IMPORTS}/refused"), json!({ "token": token, "plan": plan })).await;
    let report = String::from_utf8(report).unwrap();
    assert!(report.contains("3,Depth,deep,") && report.contains("4,District,Nowhere,"), "{report}");
    let before = nadia.get("/api/trackers/1").await.1;
    // Somebody else neither finds the file nor may bring it in.
    let pavel = world.person(PAVEL).await;
    assert_eq!(pavel.post(IMPORTS, json!({ "token": token, "plan": plan })).await.0, StatusCode::NOT_FOUND);
    let own = taken(&pavel, "wells.xlsx", &file).await;
    assert_eq!(pavel.post(IMPORTS, json!({ "token": own, "plan": plan })).await.0, StatusCode::FORBIDDEN);
    let (status, done) = nadia.post(IMPORTS, json!({ "token": token, "plan": plan })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let table = done["done"]["made"].as_u64().unwrap();
    // The other server reads the same from the log, and a new one from the rows.
    let beside = world.beside().await;
    let there = beside.person(NADIA).await.get("/api/trackers/1").await.1;
    assert!(there["tables"].as_array().unwrap().iter().any(|t| t["id"] == table && t["count"] == 3));
    // What was imported waits for nobody any more.
    assert_eq!(nadia.post(IMPORTS, json!({ "token": token, "plan": plan })).await.0, StatusCode::NOT_FOUND);
    let trail = nadia.get(&format!("/api/trackers/1/tables/{table}/records/1/trail")).await.1;
    assert_eq!((&trail["entries"][0]["what"], trail["entries"][0]["edits"].as_array().unwrap().len()), (&json!("added"), 3));
    assert_eq!(nadia.post("/api/trackers/1/undo", json!({ "seq": done["done"]["seq"] })).await.0, StatusCode::OK);
    let after = nadia.get("/api/trackers/1").await.1;
    assert_eq!(after["tables"], before["tables"]);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_beside_a_table_is_said_and_can_be_taken_in() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let file = "Yard book,,\n\nItem,Count,Cost\n,,in pounds\nStile,3,12.50\n\nGate,2,30.00\nBridge,1,9 or so\nTotal,6,142.40\n";
    let token = taken(&nadia, "yard.csv", file.as_bytes()).await;
    let (status, told) = nadia.post(&format!("{IMPORTS}/guess"), json!({ "token": token })).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    assert_eq!(told["sheets"], json!([{ "at": 0, "name": "", "hidden": false }]));
    let guess = &told["guess"];
    assert_eq!(guess["beside"][0]["line"], 9, "{guess}");
    assert_eq!(guess["beside"][0]["what"], "a total");
    assert_eq!(told["rows"][1]["line"], 3, "blank lines are counted: {}", told["rows"]);
    // Said otherwise: the names stand in one row, and the total is a record.
    let heading = json!({ "first": 1, "rows": 1 });
    let (_, told) = nadia.post(&format!("{IMPORTS}/guess"), json!({ "token": token, "heading": heading })).await;
    let mut plan = told["guess"]["plan"].clone();
    assert_eq!(plan["heading"], heading);
    let rehearsed = |plan: Value| {
        let nadia = &nadia;
        let token = &token;
        async move {
            let (status, told) = nadia.post(IMPORTS, json!({ "token": token, "plan": plan, "rehearse": true })).await;
            assert_eq!(status, StatusCode::OK, "{told}");
            told["rehearsal"].clone()
        }
    };
    assert_eq!(rehearsed(plan.clone()).await["added"], 4);
    plan["without"] = json!([]);
    assert_eq!(rehearsed(plan.clone()).await["added"], 5);
    // Every refused cell is named by its own line.
    plan["columns"][2]["becomes"] = json!({ "field": { "kind": { "type": "money", "currency": "GBP" } } });
    let refused = rehearsed(plan).await["rejected"].clone();
    let lines: Vec<u64> = refused.as_array().unwrap().iter().map(|r| r["row"].as_u64().unwrap()).collect();
    assert_eq!(lines, [4, 8], "{refused}");
    // No names at all.
    let (_, told) = nadia.post(&format!("{IMPORTS}/guess"), json!({ "token": token, "heading": { "first": 3, "rows": 0 } })).await;
    assert_eq!(told["guess"]["plan"]["columns"][0]["name"], "Column 1");
    assert_eq!(told["guess"]["rows"], 3);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_that_can_not_be_read_is_refused_in_our_words() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let whole = workbook(&[&["Well"], &["Upper"]]);
    for (name, bytes, says) in [
        ("half.xlsx", whole[..whole.len() / 2].to_vec(), "its archive can’t be opened"),
        ("broken.json", b"[{\"a\": 1},\n {\"a\": }]".to_vec(), "line 2, character"),
        ("twice.json", b"[{\"a\": 1, \"a\": 2}]".to_vec(), "has “a” twice"),
        ("quote.csv", b"\"never closed\nA,1\n".to_vec(), "line 1 is never closed"),
        ("none.csv", b"\n\n".to_vec(), "This file is empty"),
    ] {
        let (status, body) = sent(&nadia, "/api/uploads", name, &bytes).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{name}: {body}");
        let detail = body["detail"].as_str().unwrap();
        assert!(detail.contains(says), "{name}: {detail}");
        assert!(!detail.contains("Xml") && !detail.contains("expected") && !detail.contains("0..0"), "{name}: {detail}");
    }
}

/// That two servers hold the same records.
async fn same_records(one: &World, other: &World) {
    let (one, other) = (kept(one).await, kept(other).await);
    assert_eq!(one.len(), other.len());
    for (one, other) in one.into_iter().zip(other) {
        assert_eq!(one, other);
    }
}

/// All that is kept of every record.
async fn kept(world: &World) -> Vec<String> {
    let tracker = world.app.tracker(TrackerId::new(1).unwrap()).await.unwrap().now();
    // More than any table of these tests holds, records in the bin included.
    const MOST: usize = 20_000;
    let tables: Vec<_> = tracker.tables().map(|table| table.def.id).collect();
    let all = tables.into_iter().flat_map(|table| (0..MOST).map(move |row| (table, RecordId::at_row(row))));
    all.filter_map(|(table, record)| tracker.record_to_keep(table, record)).map(|kept| format!("{kept:?}")).collect()
}

/// Operations on many records stand in the log alone until they are bound: whoever loads must not notice, whatever came between.
#[tokio::test(flavor = "multi_thread")]
async fn what_came_in_bulk_is_there_for_whoever_opens_the_tracker_next() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let lines: String = (0..9_000).map(|n| format!("Well {n},{}\n", if n % 3 == 0 { "deep".into() } else { n.to_string() })).collect();
    let token = taken(&nadia, "wells.csv", format!("Well,Depth\n{lines}").as_bytes()).await;
    let guess = nadia.post(&format!("{IMPORTS}/guess"), json!({ "token": token })).await.1;
    let mut plan = guess["guess"]["plan"].clone();
    plan["columns"][1]["becomes"] = json!({ "field": { "kind": { "type": "text", "limit": 200 } } });
    let (status, done) = nadia.post(IMPORTS, json!({ "token": token, "plan": plan })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let table = done["done"]["made"].as_u64().unwrap();
    let tracker = nadia.get("/api/trackers/1").await.1;
    let fields = tracker["tables"].as_array().unwrap().iter().find(|t| t["id"] == table).unwrap()["fields"].clone();
    let id = |name: &str| fields.as_array().unwrap().iter().find(|f| f["name"] == name).unwrap()["id"].as_u64().unwrap();
    let (well, depth) = (id("Well"), id("Depth"));
    let at = format!("/api/trackers/1/tables/{table}");
    let edit = async |record: u32, text: &str| {
        let edits = json!({ "edits": [{ "field": well, "input": { "text": text } }] });
        let answer = nadia.raw(Method::PATCH, &format!("{at}/records/{record}"), &edits.to_string(), &[]).await;
        assert_eq!(answer.status(), StatusCode::OK);
    };
    edit(5_000, "Middle well").await;
    let to = json!({ "to": { "kind": { "type": "number", "decimals": 0, "unit": "" } }, "rest": "empty" });
    let (status, changed) = nadia.post(&format!("{at}/fields/{depth}/kind"), to).await;
    assert_eq!(status, StatusCode::OK, "{changed}");
    edit(5_001, "Lower well").await;
    same_records(&world.again(settings()).await, &world).await;
    // Of a change on many records, a trail reads only the part that its record is in.
    let trail = nadia.get(&format!("{at}/records/5000/trail")).await.1;
    let whats: Vec<_> = trail["entries"].as_array().unwrap().iter().map(|entry| &entry["what"]).collect();
    assert_eq!(whats, ["changed", "changed", "added"], "{trail}");

    let tracker = TrackerId::new(1).unwrap();
    let state = world.app.tracker(tracker).await.unwrap().now();
    edit(5_002, "made while binding").await;
    assert!(world.app.store.unbound(tracker).await.unwrap() > 9_000);
    world.app.store.bind(tracker, &state).await.unwrap();
    assert_eq!(world.app.store.unbound(tracker).await.unwrap(), 0);
    same_records(&world.again(settings()).await, &world).await;
    // And what is bound can still be taken back from the log.
    assert_eq!(nadia.post("/api/trackers/1/undo", json!({ "seq": changed["done"]["seq"] })).await.0, StatusCode::OK);
    same_records(&world.again(settings()).await, &world).await;
    let beside = world.beside().await;
    let trail_there = beside.person(NADIA).await.get(&format!("{at}/records/5000/trail")).await.1;
    assert_eq!(trail_there["entries"].as_array().unwrap().len(), 4, "{trail_there}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_that_can_not_be_read_leaves_nothing_behind() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let good = workbook(&[&["Well"], &["Upper"]]);
    let mut lying = good.clone();
    let entry = lying.windows(4).rposition(|w| w == b"PK\x01\x02").unwrap();
    lying[entry + 24..entry + 28].copy_from_slice(&3_000_000_000_u32.to_le_bytes());
    for (bytes, says) in [
        (&b""[..], "empty"),
        (b"%PDF-1.7", "a PDF"),
        (&good[..good.len() / 2], "damaged"),
        (&lying[..], "unpack to far more"),
        (&vec![b'a'; 65 * 1024 * 1024][..], "more than can be sent"),
    ] {
        let (status, answer) = sent(&nadia, "/api/uploads", "wells.xlsx", bytes).await;
        assert!(status.is_client_error(), "{status} {answer}");
        assert!(answer["detail"].as_str().unwrap().contains(says), "{says}: {answer}");
    }
    let (status, answer) = sent(&nadia, "/api/packages", "tracker.zip", &good).await;
    assert_eq!((status, answer["detail"].as_str().unwrap().contains("westerfall.json")), (StatusCode::UNPROCESSABLE_ENTITY, true));
    assert_eq!(nadia.get("/api/trackers").await.1.as_array().unwrap().len(), 3);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_tracker_is_begun_from_what_one_has() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let begun = async |from: Value, name: &str| {
        let (status, answer) = nadia.post("/api/trackers", json!({ "name": name, "from": from })).await;
        assert_eq!(status, StatusCode::OK, "{answer}");
        answer["tracker"].as_u64().unwrap()
    };
    let counts = async |tracker: u64| {
        let (_, body) = nadia.get(&format!("/api/trackers/{tracker}")).await;
        let line = |t: &Value| (t["name"].as_str().unwrap().to_owned(), t["count"].as_u64().unwrap());
        body["tables"].as_array().unwrap().iter().map(line).collect::<Vec<_>>()
    };
    let names = begun(json!({ "names": { "table": "Wells", "fields": ["Name", "Depth", "Keeper"] } }), "Wells").await;
    assert_eq!(counts(names).await, [("Wells".to_owned(), 0)], "no empty rows that count as records");
    let (_, home) = nadia.get(&format!("/api/trackers/{names}")).await;
    assert_eq!(home["seq"], 1, "a tracker begins in one step");
    // So does a table: taken back, nothing of it is left over.
    let tables = format!("/api/trackers/{names}/tables");
    let (_, done) = nadia.post(&tables, json!({ "name": "Pumps", "fields": ["Maker"] })).await;
    assert_eq!((counts(names).await[1].1, &done["seq"]), (0, &json!(2)));
    let (status, told) = nadia.post(&format!("/api/trackers/{names}/undo"), json!({ "seq": 2 })).await;
    assert_eq!((status, counts(names).await), (StatusCode::OK, vec![("Wells".to_owned(), 0)]), "{told}");
    // A copy with everything in it, pictures too, under numbers of their own.
    let copy = begun(json!({ "tracker": { "tracker": 1, "records": true } }), "A copy").await;
    assert_eq!(counts(copy).await, counts(1).await);
    let picture = async |tracker: u64| {
        let path = format!("/api/trackers/{tracker}/tables/{SECTIONS}/query");
        let (_, rows) = nadia.post(&path, json!({ "query": { "fields": shown(&[26]) }, "slices": [{ "start": 0, "count": 1 }] })).await;
        rows["slices"][0]["rows"][0]["cells"][0]["value"]["files"][0]["id"].as_str().unwrap_or_else(|| panic!("{rows}")).to_owned()
    };
    let (theirs, ours) = (picture(1).await, picture(copy).await);
    assert_ne!(theirs, ours);
    let same = bytes(&nadia, Method::GET, &format!("/api/files/{ours}"), Value::Null).await;
    assert_eq!(same, bytes(&nadia, Method::GET, &format!("/api/files/{theirs}"), Value::Null).await);
    // Published, found, begun from, withdrawn.
    let publish = json!({ "title": "Upkeep", "description": "Ours", "icon": "bridge", "records": false });
    assert_eq!(nadia.post("/api/trackers/1/template", publish.clone()).await.0, StatusCode::NO_CONTENT);
    assert_eq!(world.person(TAMSIN).await.post("/api/trackers/1/template", publish).await.0, StatusCode::FORBIDDEN);
    let (_, list) = nadia.get("/api/templates").await;
    assert_eq!((list.as_array().unwrap().len(), &list[0]["title"]), (7, &json!("Upkeep")));
    let key = list[0]["key"].as_str().unwrap();
    let (_, preview) = nadia.get(&format!("/api/templates/{key}")).await;
    assert_eq!(preview["tables"].as_array().unwrap().len(), 8);
    let from = begun(json!({ "template": { "template": key, "records": true } }), "").await;
    assert!(counts(from).await.iter().all(|(_, count)| *count == 0));
    assert_eq!(world.person(BEX).await.delete(&format!("/api/templates/{key}"), Value::Null).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.delete(&format!("/api/templates/{key}"), Value::Null).await.0, StatusCode::NO_CONTENT);
    // Packed as a file and begun again: an equal tracker.
    let package = bytes(&nadia, Method::GET, "/api/trackers/1/package", Value::Null).await;
    let (_, answer) = sent(&nadia, "/api/packages", "upkeep.zip", &package).await;
    let back = begun(json!({ "packed": { "token": answer["token"] } }), "Path upkeep").await;
    assert_eq!(counts(back).await, counts(1).await);
    // Nobody else sees a new tracker, nor takes one out that they do not own.
    let tamsin = world.person(TAMSIN).await;
    assert_eq!(tamsin.get(&format!("/api/trackers/{names}")).await.0, StatusCode::NOT_FOUND);
    assert_eq!(tamsin.get("/api/trackers/1/package").await.0, StatusCode::FORBIDDEN);
    assert_eq!(
        tamsin.post("/api/trackers", json!({ "name": "Mine", "from": { "tracker": { "tracker": 1, "records": false } } })).await.0,
        StatusCode::FORBIDDEN
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn an_export_holds_what_its_reader_may_see_and_runs_nothing() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    nadia.edit(1, TITLE, json!({ "text": "=HYPERLINK(\"x\")" }), Value::Null).await;
    let body = |format: &str| json!({ "query": { "fields": shown(&[TITLE, STATUS]) }, "name": "Faults", "format": format });
    let path = format!("/api/trackers/1/tables/{FAULT_TABLE}/export");
    let all = String::from_utf8(bytes(&nadia, Method::POST, &path, body("csv")).await).unwrap();
    assert_eq!(all.lines().count(), FAULTS + 1);
    assert!(all.contains("'=HYPERLINK") && !all.contains("\n=") && !all.contains("\n\"="), "{all}");
    let tamsin = world.person(TAMSIN).await;
    let own = String::from_utf8(bytes(&tamsin, Method::POST, &path, body("csv")).await).unwrap();
    let seen = tamsin.query(FAULT_TABLE, json!({ "fields": shown(&[TITLE]) })).await.1["total"].as_u64().unwrap();
    assert_eq!(own.lines().count() as u64, seen + 1);
    for format in ["xlsx", "ods"] {
        let book = westerfall_sheets::read(&bytes(&nadia, Method::POST, &path, body(format)).await, None).unwrap();
        assert_eq!(book.sheet.rows.len(), FAULTS + 1);
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_link_offers_what_it_says_and_near_doubles_before_a_new_one() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, design) = nadia.get("/api/trackers/1/tables/3/design").await;
    let fields = design["fields"].as_array().unwrap();
    let mut section = fields.iter().find(|f| f["field"]["id"] == SECTION).unwrap()["field"].clone();
    let condition = json!({ "test": { "path": [22], "of": "any", "check": { "is": "record", "not": false, "any": [1] } } });
    section["offers"] = json!({ "condition": condition, "same": [], "lines": false });
    let (status, done) = nadia.put(&format!("/api/trackers/1/tables/3/fields/{SECTION}"), json!({ "field": section })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let offered =
        async |search: &str| nadia.get(&format!("/api/trackers/1/tables/3/fields/{SECTION}/offered?search={search}&record=2")).await.1;
    let all = offered("").await;
    let ids: Vec<u64> = all["names"].as_array().unwrap().iter().map(|n| n["id"].as_u64().unwrap()).collect();
    assert!(!ids.is_empty() && ids.iter().all(|id| id % 6 == 1), "sections of the first district: {ids:?}");
    let (status, refused) = nadia.edit(2, SECTION, json!({ "value": { "links": [2] } }), Value::Null).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{refused}");
    assert_eq!(nadia.edit(2, SECTION, json!({ "value": { "links": [ids[0]] } }), Value::Null).await.0, StatusCode::OK);
    let near = offered("Esker%20Rigde%20to%20Hob%20Gate").await;
    assert_eq!((&near["makes"], &near["near"][0]["name"]), (&json!(true), &json!("Esker Ridge to Hob Gate")), "{near}");
    assert_eq!(offered("esker ridge to hob gate".replace(' ', "%20").as_str()).await["makes"], false);
}

#[tokio::test(flavor = "multi_thread")]
async fn lines_that_are_told_are_read_without_making_anything_and_then_made_in_one_step() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, begun) = nadia.post("/api/trackers", json!({ "name": "Waymarks", "from": "file" })).await;
    let tracker = begun["tracker"].as_u64().unwrap();
    let path = format!("/api/trackers/{tracker}/told");
    let lines = "WP-1, oak, 14 May 2019\nWP-2, larch, 3.6.2019\nWP-3, oak, soon";
    let (status, reply) = nadia.post(&path, json!({ "lines": lines, "one": "waymark post" })).await;
    assert_eq!((status, &reply["told"]["records"]), (StatusCode::OK, &json!(3)), "{reply}");
    assert_eq!(reply["done"], Value::Null);
    assert_eq!(nadia.get(&format!("/api/trackers/{tracker}")).await.1["tables"], json!([]));
    // What is said of a piece holds when it is made.
    let said = json!([{ "column": 0, "name": "Post" }, { "column": 2, "name": "Set up on" }]);
    let body = json!({ "lines": lines, "one": "waymark post", "said": said, "make": true });
    let (status, made) = nadia.post(&path, body).await;
    assert_eq!((status, &made["done"]["seq"]), (StatusCode::OK, &json!(2)), "one step: {made}");
    let (_, home) = nadia.get(&format!("/api/trackers/{tracker}")).await;
    let table = &home["tables"][0];
    assert_eq!((&table["name"], &table["one"], &table["count"]), (&json!("Waymark posts"), &json!("waymark post"), &json!(3)));
    assert_eq!((&table["fields"][0]["name"], &table["fields"][2]["name"]), (&json!("Post"), &json!("Set up on")));
    // Names alone make a table with no record in it; what can't be made is told before it is tried.
    let names = json!({ "lines": "Depth\nKeeper", "one": "well", "make": true });
    assert_eq!(nadia.post(&path, names).await.0, StatusCode::OK);
    let (_, again) = nadia.post(&path, json!({ "lines": "WP-9, oak", "one": " " })).await;
    assert_eq!((again["refused"].as_array().map(Vec::len), &again["rehearsal"]), (Some(1), &Value::Null), "{again}");
    // Whoever does not build makes no table, and too much is no telling.
    let tamsin = world.person(TAMSIN).await;
    let (status, _) = tamsin.post("/api/trackers/1/told", json!({ "lines": "a, b", "one": "thing", "make": true })).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    // A table that is not there, or not open to whoever tells, is not named to them.
    let wren = world.person(WREN).await;
    let open = async |client: &Client| {
        let (_, home) = client.get("/api/trackers/1").await;
        home["tables"].as_array().unwrap().iter().map(|table| table["id"].as_u64().unwrap()).collect::<Vec<_>>()
    };
    let (all, hers) = (open(&nadia).await, open(&wren).await);
    let hidden = *all.iter().find(|table| !hers.contains(table)).unwrap();
    for (client, table) in [(&nadia, 999), (&wren, hidden)] {
        let (status, _) = client.post("/api/trackers/1/told", json!({ "lines": "a, b", "into": table })).await;
        assert_eq!(status, StatusCode::NOT_FOUND, "{table}");
    }
    let much = json!({ "lines": "x".repeat(200_001), "one": "thing" });
    assert_eq!(nadia.post(&path, much).await.0, StatusCode::PAYLOAD_TOO_LARGE);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_tracker_is_closed_put_away_and_removed_by_its_steward_and_opened_again() {
    let world = World::new().await;
    let (nadia, tamsin, wren) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(WREN).await);
    let stage = "/api/trackers/1/stage";
    assert_eq!(tamsin.post(stage, json!({ "to": "closed" })).await.0, StatusCode::FORBIDDEN);
    let (_, heard) = nadia.post(stage, json!({ "to": "removed", "rehearse": true })).await;
    assert!(heard["rehearsal"]["says"][0].as_str().unwrap().contains("lose it from sight"), "{heard}");
    let listed = async |client: &Client| {
        let (_, list) = client.get("/api/trackers").await;
        list.as_array().unwrap().iter().find(|one| one["id"] == 1).map(|one| one["stage"].as_str().unwrap().to_owned())
    };
    assert_eq!(listed(&tamsin).await.as_deref(), Some("open"), "a rehearsal does nothing");
    // Closed: read by everybody, changed by nobody, and its form says that it takes no answers.
    let (_, closed) = nadia.post(stage, json!({ "to": "closed" })).await;
    assert!(closed["done"]["did"].as_str().unwrap().starts_with("closed "), "{closed}");
    let (_, home) = tamsin.get("/api/trackers/1").await;
    assert_eq!((&home["stage_word"], &home["builds"]), (&json!("closed"), &json!(false)));
    assert!(home["tables"].as_array().unwrap().iter().all(|table| table["adds"] == false));
    let add = json!({ "records": [{ TITLE.to_string(): { "text": "Gate" } }] });
    let (status, refused) = nadia.post(&format!("/api/trackers/1/tables/{FAULT_TABLE}/records"), add).await;
    assert!(status.is_client_error() && refused["detail"].as_str().unwrap().contains("This tracker is closed"), "{status} {refused}");
    // Removed: gone for all but its stewards, who bring it back.
    assert_eq!(nadia.post(stage, json!({ "to": "removed" })).await.0, StatusCode::OK);
    assert_eq!((listed(&nadia).await.as_deref(), listed(&tamsin).await, listed(&wren).await), (Some("removed"), None, None));
    assert_eq!(tamsin.get("/api/trackers/1").await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.post(stage, json!({ "to": "open" })).await.0, StatusCode::OK);
    assert_eq!(listed(&tamsin).await.as_deref(), Some("open"));
}
