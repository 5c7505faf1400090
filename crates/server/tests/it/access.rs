//! Hostile looks: no path of the API gives what a role does not.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};

const ALL_FIELDS: [u32; 21] = [40, 41, 42, 43, 44, 45, 46, 47, 48, 49, 50, 51, 52, 53, 54, 55, 56, 57, 58, 59, 60];

async fn ids(client: &Client) -> Vec<u64> {
    let body = client.rows(FAULT_TABLE, &[TITLE]).await;
    body["rows"].as_array().unwrap().iter().map(|r| r["id"].as_u64().unwrap()).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_warden_gets_no_trace_of_another_district() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let (all, own) = (ids(&nadia).await, ids(&tamsin).await);
    assert!(!own.is_empty() && own.len() < all.len());
    let other = *all.iter().find(|id| !own.contains(id)).unwrap() as u32;
    let absent = 99_999;
    for path in ["", "/trail"] {
        let (theirs, none) =
            (tamsin.get(&format!("{}{path}", record_path(other))).await, tamsin.get(&format!("{}{path}", record_path(absent))).await);
        assert_eq!(theirs, none, "{path}");
        assert_eq!(theirs.0, StatusCode::NOT_FOUND);
    }
    let edit = async |record| tamsin.edit(record, STATUS, json!({ "text": "made good" }), json!(null)).await;
    assert_eq!(edit(other).await, edit(absent).await);
    // Every text of her screens, of tables and pickers, names no other district.
    let mut seen = tamsin.rows(FAULT_TABLE, &ALL_FIELDS).await.to_string();
    for path in ["/api/trackers", "/api/trackers/1", "/api/trackers/1/tables/1/names", "/api/trackers/1/tables/2/names?search="] {
        seen += &tamsin.get(path).await.1.to_string();
    }
    let grouped = json!({ "fields": shown(&[TITLE]), "groups": [{ "field": 43 }, { "field": SECTION }] });
    seen += &tamsin.query(FAULT_TABLE, grouped).await.1.to_string();
    assert!(seen.contains("Eskermoor"));
    for hidden in ["Harrow Tarn", "Low Marrow", "Ninestone", "Sallow Beck", "Upper Orrin", "Tarn Foot"] {
        assert!(!seen.contains(hidden), "{hidden} shows");
    }
    // Asking for them by condition finds nothing, and does not betray that they exist.
    let ask = async |district: u32| {
        let condition = json!({ "test": { "path": [SECTION, 22], "check": { "is": "record", "not": false, "any": [district] } } });
        let (status, body) = tamsin.query(FAULT_TABLE, json!({ "fields": shown(&[TITLE]), "condition": condition })).await;
        (status, body["matching"].clone(), body["sentence"].to_string().contains("Harrow"))
    };
    assert_eq!(ask(2).await, ask(9_999).await);
    // The pages of those who run the tracker do not exist for her.
    for path in
        ["/api/trackers/1/roles", "/api/trackers/1/automations", "/api/trackers/1/forms/120", "/api/trackers/1/automations/121/runs"]
    {
        assert_eq!(tamsin.get(path).await.0, StatusCode::NOT_FOUND, "{path}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn hidden_fields_are_hidden_by_every_path() {
    let world = World::new().await;
    let pavel = world.person(PAVEL).await;
    let (_, body) = pavel
        .query(FAULT_TABLE, json!({ "fields": shown(&ALL_FIELDS), "sorts": [{ "field": REPORTER }], "groups": [{ "field": REPORTER }] }))
        .await;
    assert!(!body["fields"].as_array().unwrap().contains(&json!(REPORTER)));
    // Grouped by what he can't see, everything is in the group of nothing.
    assert_eq!(body["groups"].as_array().unwrap().len(), 0);
    assert!(!body.to_string().contains("walkers.example"));
    // A rule about it is refused in the words for a field that is not there.
    let guess = async |field: u32| {
        let rule = json!({ "test": { "path": [field], "check": { "is": "text", "how": "contains", "text": "walkers" } } });
        pavel.query(FAULT_TABLE, json!({ "fields": shown(&[TITLE]), "condition": rule })).await
    };
    assert_eq!(guess(52).await, guess(9_999).await);
    assert_eq!(guess(52).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    let (status, _) = pavel.edit(3, STATUS, json!({ "text": "checked" }), json!(null)).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    let (status, _) = pavel.edit(3, REPORTER, json!({ "text": "me" }), json!(null)).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_submitter_adds_and_sees_their_own() {
    let world = World::new().await;
    let wren = world.person(WREN).await;
    assert!(ids(&wren).await.is_empty());
    let body = json!({ "records": [{ "41": { "text": "Bracken over the path" }, "42": { "value": { "links": [3] } } }] });
    let (status, done) = wren.post("/api/trackers/1/tables/3/records", body).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert_eq!(ids(&wren).await, [done["added"][0].as_u64().unwrap()]);
    assert_eq!(wren.post("/api/trackers/1/tables/1/records", json!({ "records": [{}] })).await.0, StatusCode::NOT_FOUND);
}

fn reach_of_nobody(mut role: Value) -> Value {
    role["tables"][FAULT_TABLE.to_string()]["look"] = json!("none");
    role
}

#[tokio::test(flavor = "multi_thread")]
async fn a_change_of_access_takes_effect_with_the_next_look() {
    let world = World::new().await;
    let (nadia, idris) = (world.person(NADIA).await, world.person(IDRIS).await);
    assert!(!ids(&idris).await.is_empty());
    let (_, roles) = nadia.get("/api/trackers/1/roles").await;
    let role = roles.as_array().unwrap().iter().find(|r| r["role"]["name"] == "Warden").unwrap()["role"].clone();
    assert_eq!(idris.put("/api/trackers/1/parts/role/111", part("role", role.clone())).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.put("/api/trackers/1/parts/role/111", part("role", reach_of_nobody(role.clone()))).await.0, StatusCode::OK);
    assert!(ids(&idris).await.is_empty());
    let mut without = role;
    without["members"] = json!([2, 4, 5]);
    without["groups"] = json!([]);
    assert_eq!(nadia.put("/api/trackers/1/parts/role/111", part("role", without)).await.0, StatusCode::OK);
    assert_eq!(idris.get("/api/trackers/1").await.0, StatusCode::NOT_FOUND);
    assert_eq!(idris.get("/api/trackers").await.1, json!([]));
}

#[tokio::test(flavor = "multi_thread")]
async fn standing_in_is_exactly_their_look_and_changes_nothing() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let hers = tamsin.rows(FAULT_TABLE, &ALL_FIELDS).await;
    assert_eq!(nadia.put("/api/session/stand-in", json!({ "person": TAMSIN })).await.0, StatusCode::NO_CONTENT);
    assert_eq!(nadia.rows(FAULT_TABLE, &ALL_FIELDS).await, hers);
    let own = ids(&tamsin).await[0] as u32;
    let (status, body) = nadia.edit(own, STATUS, json!({ "text": "checked" }), json!(null)).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    assert!(body["detail"].as_str().unwrap().contains("standing in"));
    assert_eq!(nadia.put("/api/session/stand-in", json!({ "person": null })).await.0, StatusCode::NO_CONTENT);
    assert_eq!(ids(&nadia).await.len(), FAULTS);
    assert_eq!(tamsin.put("/api/session/stand-in", json!({ "person": NADIA })).await.0, StatusCode::FORBIDDEN);
    // For a group: whoever of it holds least beside what the group gives.
    assert_eq!(nadia.put("/api/session/stand-in", json!({ "person": null, "group": 1 })).await.0, StatusCode::NO_CONTENT);
    let (_, me) = nadia.get("/api/session").await;
    assert_eq!(me["stands_in"]["name"], "Tamsin Oake");
    nadia.put("/api/session/stand-in", json!({ "person": null })).await;
    assert_eq!(nadia.put("/api/session/stand-in", json!({ "person": null, "group": 9 })).await.0, StatusCode::FORBIDDEN);
    assert_eq!(tamsin.put("/api/session/stand-in", json!({ "person": null, "group": 2 })).await.0, StatusCode::FORBIDDEN);
}

#[tokio::test(flavor = "multi_thread")]
async fn another_state_of_a_role_is_rehearsed_for_stewards_alone_and_changes_nothing() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let (_, roles) = nadia.get("/api/trackers/1/roles").await;
    let mut role = roles.as_array().unwrap().iter().find(|r| r["role"]["name"] == "Warden").unwrap()["role"].clone();
    let path = format!("/api/trackers/1/roles/{}/rehearsal", role["id"]);
    role["tables"][FAULT_TABLE.to_string()]["look"] = json!("mine");
    let seen = async || tamsin.rows(FAULT_TABLE, &[TITLE]).await["total"].as_u64().unwrap();
    let before = seen().await;
    let (status, told) = nadia.post(&path, json!({ "role": role })).await;
    assert_eq!((status, &told["says"][0]), (StatusCode::OK, &json!("4 people see less.")), "{told}");
    let hers = told["people"].as_array().unwrap().iter().find(|p| p["person"] == TAMSIN).unwrap();
    let faults = hers["tables"].as_array().unwrap().iter().find(|t| t["table"] == FAULT_TABLE).unwrap();
    assert_eq!((&faults["look"]["before"], &faults["look"]["after"]), (&json!(before), &json!(0)));
    assert_eq!(seen().await, before);
    // It tells what others see, so nobody but stewards may ask; what would be refused is.
    assert_eq!(tamsin.post(&path, json!({ "role": role })).await.0, StatusCode::NOT_FOUND);
    assert_eq!(world.person(BEX).await.post(&path, json!({ "role": null })).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.post("/api/trackers/1/roles/999/rehearsal", json!({ "role": null })).await.0, StatusCode::NOT_FOUND);
    let steward = roles.as_array().unwrap().iter().find(|r| r["role"]["base"] == "steward").unwrap()["role"]["id"].clone();
    let (status, refused) = nadia.post(&format!("/api/trackers/1/roles/{steward}/rehearsal"), json!({ "role": null })).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    assert!(refused["detail"].as_str().unwrap().contains("at least one steward"), "{refused}");
}

/// Why somebody sees a record is told to those who run the tracker, standing in or not, and to nobody else.
#[tokio::test(flavor = "multi_thread")]
async fn why_is_told_to_stewards_alone() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let other = ids(&nadia).await.into_iter().find(|id| id % 2 == 0).unwrap();
    let question = json!({ "person": TAMSIN, "right": "look", "table": FAULT_TABLE, "record": other });
    let why = async |client: &Client, body: Value| client.post("/api/trackers/1/access/why", body).await;
    let (status, told) = why(&nadia, question.clone()).await;
    assert_eq!(status, StatusCode::OK);
    let holds = ids(&tamsin).await.contains(&other);
    assert_eq!((told["holds"].as_bool(), told["parts"][0]["roles"][0]["name"].as_str()), (Some(holds), Some("Warden")));
    for who in [TAMSIN, BEX, PAVEL, WREN] {
        let client = world.person(who).await;
        assert_eq!(why(&client, question.clone()).await.0, StatusCode::NOT_FOUND);
        assert_eq!(client.get("/api/trackers/1").await.1["tells_access"], false);
    }
    assert_eq!(nadia.put("/api/session/stand-in", json!({ "person": TAMSIN })).await.0, StatusCode::NO_CONTENT);
    assert_eq!(nadia.get("/api/trackers/1").await.1["tells_access"], true);
    assert_eq!(why(&nadia, question.clone()).await.1, told);
    // Nothing is told of what is not there.
    for (key, value) in [("record", 99_999), ("person", 99), ("table", 99), ("field", 99_999)] {
        let mut wrong = question.clone();
        wrong[key] = json!(value);
        assert_eq!(why(&nadia, wrong).await.0, StatusCode::NOT_FOUND, "{key}");
    }
}

/// A volunteer's own entry and the parties they are on follow the address of their record, live.
#[tokio::test(flavor = "multi_thread")]
async fn whose_record_it_is_decides_what_a_volunteer_sees() {
    let world = World::new().await;
    let (nadia, wren) = (world.person(NADIA).await, world.person(WREN).await);
    let seen = async |table: u32| wren.query(table, json!({ "fields": [] })).await.1["matching"].as_u64().unwrap();
    let before = (seen(7).await, seen(8).await);
    assert!(before.0 == 1 && before.1 > 3, "{before:?}");
    let mine = |own: Value| json!({ "mine": { "made": false, "own": own } });
    let path = "/api/trackers/1/tables/7/mine";
    for who in [TAMSIN, BEX, WREN] {
        assert_eq!(world.person(who).await.put(path, mine(json!(null))).await.0, StatusCode::FORBIDDEN);
    }
    let (status, told) = nadia.post(&format!("{path}/rehearsal"), mine(json!(null))).await;
    assert_eq!((status, &told["people"][0]["name"]), (StatusCode::OK, &json!("Wren Castellane")));
    assert_eq!((seen(7).await, seen(8).await), before);
    assert_eq!(nadia.put(path, mine(json!(null))).await.0, StatusCode::OK);
    assert_eq!((seen(7).await, seen(8).await), (0, 0));
    assert_eq!(nadia.put(path, mine(json!(331))).await.0, StatusCode::OK);
    assert_eq!((seen(7).await, seen(8).await), before);
    let (status, fault) = nadia.put(path, mine(json!(333))).await;
    assert_eq!((status, &fault["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/mine/own")));
}

/// Somebody without a role gets one view, on their home too, and by no path anything else.
#[tokio::test(flavor = "multi_thread")]
async fn one_view_is_given_to_one_person() {
    let world = World::new().await;
    let (nadia, pavel) = (world.person(NADIA).await, world.person(PAVEL).await);
    let (_, roles) = nadia.get("/api/trackers/1/roles").await;
    let mut trustee = roles.as_array().unwrap().iter().find(|r| r["role"]["name"] == "Trustee").unwrap()["role"].clone();
    trustee["members"] = json!([]);
    assert_eq!(nadia.put("/api/trackers/1/parts/role/113", part("role", trustee)).await.0, StatusCode::OK);
    assert_eq!(pavel.get("/api/trackers/1").await.0, StatusCode::NOT_FOUND);
    let path = "/api/trackers/1/views/102/given";
    let body = json!({ "given": [{ "person": PAVEL, "right": "look" }] });
    for who in [TAMSIN, BEX, WREN, PAVEL] {
        let client = world.person(who).await;
        assert_eq!(client.put(path, body.clone()).await.0, StatusCode::NOT_FOUND);
        assert_eq!(client.post(&format!("{path}/rehearsal"), body.clone()).await.0, StatusCode::NOT_FOUND);
    }
    let (status, told) = nadia.post(&format!("{path}/rehearsal"), body.clone()).await;
    assert_eq!((status, &told["says"][0]), (StatusCode::OK, &json!("1 person sees more.")));
    assert_eq!(pavel.get("/api/trackers/1").await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.put(path, body).await.0, StatusCode::OK);
    assert_eq!(pavel.get("/api/trackers").await.1.as_array().unwrap().len(), 1);
    let (_, tracker) = pavel.get("/api/trackers/1").await;
    let tables = tracker["tables"].as_array().unwrap();
    assert_eq!((tables.len(), &tables[0]["views"][0]["id"], tables[0]["views"].as_array().unwrap().len()), (1, &json!(102), 1));
    assert_eq!((tracker["forms"].clone(), tracker["groups"].clone()), (json!([]), json!([])));
    assert_eq!(tables[0]["views"][0].get("given"), None, "to whom else it is given is the stewards' to know");
    // All that is asked for anyhow is within the view.
    let seen = pavel.rows(FAULT_TABLE, &ALL_FIELDS).await;
    let all = nadia.rows(FAULT_TABLE, &ALL_FIELDS).await;
    assert!(seen["total"].as_u64().unwrap() < all["total"].as_u64().unwrap());
    assert!(seen["fields"].as_array().unwrap().len() < ALL_FIELDS.len());
    assert!(!seen.to_string().contains("walkers.example"));
    for none in ["/api/trackers/1/forms/120", "/api/trackers/1/roles", "/api/trackers/1/automations", "/api/trackers/1/tables/2/names"] {
        assert_eq!(pavel.get(none).await.0, StatusCode::NOT_FOUND, "{none}");
    }
    assert_eq!(pavel.delete("/api/trackers/1/parts/view/100", Value::Null).await.0, StatusCode::NOT_FOUND);
    // A builder's saving keeps to whom it is given, and is not theirs any more; taken back, the tracker closes.
    let view = nadia.get("/api/trackers/1").await.1["tables"][2]["views"][2].clone();
    let saved = json!({ "view": { "table": FAULT_TABLE, "name": "Worst", "personal": false, "query": view["query"] } });
    assert_eq!(nadia.put("/api/trackers/1/parts/view/102", saved).await.0, StatusCode::OK);
    assert_eq!(pavel.get("/api/trackers/1").await.1["tables"][0]["views"][0]["name"], "Worst");
    assert_eq!(nadia.put(path, json!({ "given": [] })).await.0, StatusCode::OK);
    assert_eq!(pavel.get("/api/trackers/1").await.0, StatusCode::NOT_FOUND);
}
