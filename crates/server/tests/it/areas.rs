//! Home and areas over the API: what is told to whom, what an area opens and closes, on open screens too.

use crate::{fixture::*, live::Stream};
use axum::http::StatusCode;
use serde_json::{Value, json};

fn line(home: &Value, name: &str) -> Value {
    let sections = home["sections"].as_array().unwrap();
    let mut lines = sections.iter().flat_map(|section| section["lines"].as_array().unwrap());
    lines.find(|line| line["name"] == name).cloned().unwrap_or(Value::Null)
}

fn names(home: &Value) -> Vec<(String, Vec<String>)> {
    let text = |value: &Value| value.as_str().unwrap().to_owned();
    let sections = home["sections"].as_array().unwrap().iter();
    sections.map(|one| (text(&one["name"]), one["lines"].as_array().unwrap().iter().map(|line| text(&line["name"])).collect())).collect()
}

fn says(line: &Value) -> String {
    line["report"]["says"].as_array().unwrap().iter().map(|piece| piece["text"].as_str().unwrap()).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn home_tells_each_what_others_did_since_they_looked() {
    let world = World::new().await;
    let (nadia, idris, bex) = (world.person(NADIA).await, world.person(IDRIS).await, world.person(BEX).await);
    // Looking is noted; what comes after it is news.
    nadia.get("/api/trackers/1").await;
    idris.get("/api/trackers/1").await;
    let (_, still) = nadia.get("/api/home").await;
    assert!(says(&line(&still, "Path upkeep")).starts_with("is as you left it; "), "{still}");
    let cells = json!({ TITLE.to_string(): { "text": "Stile rotten" }, SECTION.to_string(): { "value": { "links": [1] } } });
    let (status, added) = bex.post(&format!("/api/trackers/1/tables/{FAULT_TABLE}/records"), json!({ "records": [cells] })).await;
    assert_eq!(status, StatusCode::OK, "{added}");
    let (_, home) = nadia.get("/api/home").await;
    assert_eq!(says(&line(&home, "Path upkeep")), "1 fault came in, by Bex Lindqvist: Stile rotten.");
    assert_eq!(line(&home, "Path upkeep")["report"]["count"], 1);
    // Another warden's district: to him nothing happened. To her who did it, neither.
    let (_, his) = idris.get("/api/home").await;
    assert_eq!(line(&his, "Path upkeep")["report"]["count"], 0, "{his}");
    assert_eq!(names(&his), [("Paths".to_owned(), vec!["Path upkeep".to_owned()])]);
    bex.get("/api/trackers/1").await;
    assert_eq!(line(&bex.get("/api/home").await.1, "Path upkeep")["report"]["count"], 0);
    // By another order, and of a longer time.
    let (_, month) = nadia.get("/api/home?since=month&order=name").await;
    assert_eq!(month["title"], "The last 30 days");
    assert_eq!(names(&month)[0].1, ["Path upkeep", "Repair mornings", "Village orchard"]);
    assert!(line(&month, "Path upkeep")["report"]["count"].as_u64().unwrap() > 1);
    assert_eq!(nadia.get("/api/home?since=ever").await.0, StatusCode::BAD_REQUEST);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_one_keeps_on_top_is_ones_own_and_a_groups_is_its_members() {
    let world = World::new().await;
    let (nadia, bex, idris) = (world.person(NADIA).await, world.person(BEX).await, world.person(IDRIS).await);
    assert_eq!(bex.put("/api/trackers/3/top", json!({ "on": true })).await.0, StatusCode::NO_CONTENT);
    let top = |home: &Value| names(home)[0].clone();
    assert_eq!(top(&bex.get("/api/home").await.1), ("On top".to_owned(), vec!["Village orchard".to_owned()]));
    assert_eq!(top(&nadia.get("/api/home").await.1).0, "Paths");
    // For a group by an owner alone; what a member can't open stands on top for nobody.
    assert_eq!(bex.put("/api/trackers/3/top", json!({ "on": true, "group": 1 })).await.0, StatusCode::FORBIDDEN);
    assert_eq!(nadia.put("/api/trackers/3/top", json!({ "on": true, "group": 1 })).await.0, StatusCode::NO_CONTENT);
    assert_eq!(nadia.put("/api/trackers/1/top", json!({ "on": true, "group": 1 })).await.0, StatusCode::NO_CONTENT);
    let (_, his) = idris.get("/api/home").await;
    assert_eq!(names(&his), [("On top".to_owned(), vec!["Path upkeep".to_owned()])]);
    assert_eq!(line(&his, "Path upkeep")["kept_for"], "Wardens");
    assert_eq!(idris.put("/api/trackers/3/top", json!({ "on": true })).await.0, StatusCode::NOT_FOUND);
    bex.put("/api/trackers/3/top", json!({ "on": false })).await;
    assert_eq!(top(&bex.get("/api/home").await.1).0, "Paths");
}

#[tokio::test(flavor = "multi_thread")]
async fn an_area_opens_its_trackers_to_a_group_and_closes_them_at_once() {
    let world = World::new().await;
    let (nadia, bex, idris) = (world.person(NADIA).await, world.person(BEX).await, world.person(IDRIS).await);
    let (_, areas) = nadia.get("/api/team/areas").await;
    assert_eq!((&areas[1]["name"], &areas[1]["opens_say"]), (&json!("Neighbours"), &json!("Office works in everything here.")));
    // Bex holds no role there, and works in it by the area; Idris does not.
    assert_eq!(bex.get("/api/trackers/2").await.0, StatusCode::OK);
    assert_eq!(idris.get("/api/trackers/2").await.0, StatusCode::NOT_FOUND);
    assert_eq!(bex.get("/api/trackers/2/roles").await.0, StatusCode::NOT_FOUND);
    let mut area = areas[1]["area"].clone();
    area["opens"] = json!({ "1": "look" });
    let (_, moves) = nadia.post("/api/team/areas/2/rehearsal", area.clone()).await;
    let people = |one: &Value| one["rehearsal"]["people"].as_array().unwrap().iter().map(|p| p["name"].clone()).collect::<Vec<_>>();
    assert_eq!(moves.as_array().unwrap().len(), 2);
    assert!(people(&moves[0]).contains(&json!("Bex Lindqvist")) && people(&moves[0]).contains(&json!("Idris Pell")), "{moves}");
    assert_eq!(bex.get("/api/trackers/2").await.0, StatusCode::OK, "rehearsing does nothing");
    let mut screen = Stream::at(&bex, "/api/trackers/2/events", &[]).await;
    screen.next_of("hello").await;
    let (_, done) = nadia.put("/api/team/areas/2", area).await;
    assert_eq!(done["did"], "opened the area Neighbours to others");
    screen.next_of("closed").await;
    assert_eq!(bex.get("/api/trackers/2").await.0, StatusCode::NOT_FOUND);
    // He looks, and changes nothing.
    let (_, seen) = idris.get("/api/trackers/2").await;
    let table = &seen["tables"][0];
    assert!(table["count"].as_u64().unwrap() > 0 && seen["steward"] == false, "{seen}");
    let add = format!("/api/trackers/2/tables/{}/records", table["id"]);
    assert_eq!(idris.post(&add, json!({ "records": [{}] })).await.0, StatusCode::FORBIDDEN);
    // Why he sees it is told by the area.
    let seq = done["seq"].as_u64().unwrap();
    assert_eq!(nadia.post(&format!("/api/team/undo/{seq}"), json!({})).await.0, StatusCode::OK);
    assert_eq!((bex.get("/api/trackers/2").await.0, idris.get("/api/trackers/2").await.0), (StatusCode::OK, StatusCode::NOT_FOUND));
    // A group that goes takes its opening along.
    assert_eq!(nadia.delete("/api/team/groups/2", json!({})).await.0, StatusCode::OK);
    assert_eq!(bex.get("/api/trackers/2").await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_tracker_is_put_into_an_area_by_who_runs_it_after_a_look_at_what_that_does() {
    let world = World::new().await;
    let (nadia, bex, pavel) = (world.person(NADIA).await, world.person(BEX).await, world.person(PAVEL).await);
    let (_, begun) = nadia.post("/api/trackers", json!({ "name": "Walls", "from": "nothing", "area": 1 })).await;
    let id = begun["tracker"].as_u64().unwrap();
    assert_eq!(nadia.get(&format!("/api/trackers/{id}")).await.1["area_name"], "Paths");
    let place = format!("/api/trackers/{id}/area");
    let (_, would) = nadia.put(&place, json!({ "area": 2, "rehearse": true })).await;
    assert_eq!(would["moves"]["rehearsal"]["people"][0]["name"], "Bex Lindqvist", "{would}");
    assert_eq!(bex.get(&format!("/api/trackers/{id}")).await.0, StatusCode::NOT_FOUND);
    let (_, done) = nadia.put(&place, json!({ "area": 2 })).await;
    assert_eq!(done["done"]["did"], "put 1 tracker into Neighbours");
    assert_eq!(bex.get(&format!("/api/trackers/{id}")).await.0, StatusCode::OK);
    // It is Nadia's to place; and a stranger to it learns nothing of it.
    assert_eq!(bex.put(&place, json!({ "area": 1 })).await.0, StatusCode::FORBIDDEN);
    assert_eq!(pavel.put(&place, json!({ "area": 1 })).await.0, StatusCode::NOT_FOUND);
    assert_eq!(pavel.get("/api/team/areas").await.1, json!([]));
    assert_eq!(bex.post("/api/team/areas", json!({ "name": "Mine" })).await.0, StatusCode::FORBIDDEN);
    // An area that is not there is none to begin in.
    let (status, refused) = nadia.post("/api/trackers", json!({ "name": "Lost", "from": "nothing", "area": 99 })).await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::NOT_FOUND, &json!("/area")));
}
