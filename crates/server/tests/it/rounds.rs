//! Rounds across trackers, tasks that people give each other, and the inbox.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};

const IDRIS_ID: u32 = 3;

fn duties(view: &Value) -> Vec<&Value> {
    view["diary"]["sections"].as_array().unwrap().iter().flat_map(|section| section["duties"].as_array().unwrap()).collect()
}

fn named<'v>(view: &'v Value, name: &str) -> Option<&'v Value> {
    duties(view).into_iter().find(|duty| duty["name"] == name)
}

async fn give(client: &Client, who: u32, what: &str, more: Value) -> (StatusCode, Value) {
    let mut body = json!({ "who": who, "what": what });
    body.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
    client.post("/api/tasks", body).await
}

#[tokio::test(flavor = "multi_thread")]
async fn ones_rounds_hold_records_and_tasks_and_what_is_done_is_done_in_the_record() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let (status, given) = give(&nadia, TAMSIN, "Ring the farmer", json!({ "due": "2020-01-02", "urgent": true })).await;
    assert_eq!(status, StatusCode::OK, "{given}");
    let (_, view) = tamsin.get("/api/rounds").await;
    let first = duties(&view)[0];
    assert_eq!((&first["name"], &first["urgency"]["text"]), (&json!("Ring the farmer"), &json!("urgent")), "the longest late stands first");
    assert_eq!(first["why"], "Nadia Ferreira-Holt gave it today");
    let fault = duties(&view).into_iter().find(|duty| duty["verb"] == "made good").unwrap().clone();
    let path = format!("/api/trackers/{}/tables/{}/records/{}", fault["tracker"], fault["table"], fault["record"]);
    let does = &fault["does"];
    let edits = json!({ "edits": [{ "field": does["field"], "input": { "value": does["value"] }, "was": does["was"] }] });
    assert_eq!(tamsin.patch(&path, edits).await.0, StatusCode::OK);
    let (_, after) = tamsin.get("/api/rounds").await;
    let done = duties(&after).into_iter().find(|duty| duty["record"] == fault["record"] && duty["table"] == fault["table"]).unwrap();
    assert!(done["done"].as_str().unwrap().starts_with("made good"), "{done}");
    assert_eq!(after["diary"]["count"].as_u64().unwrap() + 1, view["diary"]["count"].as_u64().unwrap());
    // Of one tracker alone.
    let (_, narrowed) = tamsin.get("/api/rounds?tracker=1").await;
    assert!(named(&narrowed, "Ring the farmer").is_none() && !duties(&narrowed).is_empty());
}

#[tokio::test(flavor = "multi_thread")]
async fn a_task_is_seen_by_whoever_gives_and_whoever_gets_it_and_by_nobody_else() {
    let world = World::new().await;
    let (nadia, tamsin, idris) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(IDRIS).await);
    let (_, given) = give(&tamsin, IDRIS_ID, "Walk the ridge", json!({ "note": "after rain" })).await;
    let task = format!("/api/tasks/{}", given["task"]);
    assert!(named(&idris.get("/api/rounds").await.1, "Walk the ridge").is_some());
    let of_idris = format!("/api/rounds?person={IDRIS_ID}");
    assert!(named(&tamsin.get(&of_idris).await.1, "Walk the ridge").is_some(), "whoever gave it follows it");
    assert!(named(&nadia.get(&of_idris).await.1, "Walk the ridge").is_none(), "others do not");
    assert_eq!(nadia.post(&task, json!("done")).await.0, StatusCode::NOT_FOUND);
    assert_eq!(idris.post(&task, json!("drop")).await.0, StatusCode::FORBIDDEN);
    assert_eq!(idris.post(&task, json!({ "move": "2031-05-06" })).await.0, StatusCode::NO_CONTENT);
    assert_eq!(idris.post(&task, json!("done")).await.0, StatusCode::NO_CONTENT);
    let (_, mine) = tamsin.get("/api/rounds").await;
    let asked = mine["asked"].as_array().unwrap().iter().find(|one| one["what"] == "Walk the ridge").unwrap();
    assert_eq!(asked["done"], json!(true));
    assert_eq!(tamsin.post(&task, json!("drop")).await.0, StatusCode::NO_CONTENT);
    assert!(named(&idris.get("/api/rounds").await.1, "Walk the ridge").is_none());
}

#[tokio::test(flavor = "multi_thread")]
async fn a_task_about_a_record_is_given_to_those_who_see_it() {
    let world = World::new().await;
    let (nadia, idris) = (world.person(NADIA).await, world.person(IDRIS).await);
    let theirs = idris.rows(FAULT_TABLE, &[41]).await["rows"][0]["id"].as_u64().unwrap();
    let (status, told) = give(&nadia, TAMSIN, "Look at it", json!({ "about": [1, FAULT_TABLE, theirs] })).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{told}");
    assert!(told["detail"].as_str().unwrap().contains("may not see this fault"), "{told}");
    let (status, given) = give(&nadia, IDRIS_ID, "Look at it", json!({ "about": [1, FAULT_TABLE, theirs] })).await;
    assert_eq!(status, StatusCode::OK, "{given}");
    let (_, view) = idris.get("/api/rounds").await;
    assert_eq!(named(&view, "Look at it").unwrap()["record"], json!(theirs));
    // It is not handed on to somebody who does not see it either; and a guess about a record that one does not see tells nothing.
    let task = format!("/api/tasks/{}", given["task"]);
    assert_eq!(idris.post(&task, json!({ "give": TAMSIN })).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    let tamsin = world.person(TAMSIN).await;
    assert_eq!(give(&tamsin, TAMSIN, "Mine", json!({ "about": [1, FAULT_TABLE, theirs] })).await.0, StatusCode::NOT_FOUND);
    for (body, at) in [(json!({ "what": " " }), "/what"), (json!({ "what": "x", "who": 4_000 }), "/who")] {
        let mut whole = json!({ "who": TAMSIN });
        whole.as_object_mut().unwrap().extend(body.as_object().unwrap().clone());
        let (status, told) = nadia.post("/api/tasks", whole).await;
        assert_eq!((status, &told["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!(at)), "{told}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn an_inbox_tells_what_others_did_is_read_and_forgets_what_one_may_not_see_any_more() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    // What the demo told them is not asked here.
    world.sql("DELETE FROM notice").await;
    let theirs = tamsin.rows(FAULT_TABLE, &[41]).await["rows"][0]["id"].clone();
    let talk = format!("{}/talk", record_path(u32::try_from(theirs.as_u64().unwrap()).unwrap()));
    let said = json!({ "said": [{ "person": TAMSIN }, { "text": " can the crew take the long bar?" }] });
    assert_eq!(nadia.post(&talk, said).await.0, StatusCode::OK);
    give(&nadia, TAMSIN, "Ring the farmer", json!({})).await;
    assert_eq!(tamsin.get("/api/inbox/unread").await.1["unread"], json!(2));
    let (_, inbox) = tamsin.get("/api/inbox").await;
    let groups = inbox["groups"].as_array().unwrap();
    assert_eq!(groups.len(), 2, "{inbox}");
    let spoken = groups.iter().find(|group| group["record"] == theirs).unwrap();
    let notice = &spoken["notices"][0];
    assert!(notice["quote"].as_str().unwrap().contains("the long bar"), "{notice}");
    // Answered in place; whoever spoke is told of that.
    let answer = json!({ "said": [{ "text": "Yes, from the store." }], "answers": notice["comment"] });
    assert_eq!(tamsin.post(&talk, answer).await.0, StatusCode::OK);
    let (_, hers) = nadia.get("/api/inbox").await;
    let words = hers["groups"][0]["notices"][0].clone();
    assert_eq!((&words["says"][0]["text"], &words["quote"]), (&json!("Tamsin Oake"), &json!("Yes, from the store.")), "{hers}");
    assert_eq!(nadia.get("/api/inbox/unread").await.1["unread"], json!(1), "nobody is told of their own doing");
    // Read, and not read after all; others' notices are others'.
    let read = |which: Value, is: bool| json!({ "notices": which, "read": is });
    assert_eq!(tamsin.post("/api/inbox/read", read(json!([words["number"]]), true)).await.0, StatusCode::NO_CONTENT);
    assert_eq!(nadia.get("/api/inbox/unread").await.1["unread"], json!(1));
    assert_eq!(tamsin.post("/api/inbox/read", read(json!(null), true)).await.0, StatusCode::NO_CONTENT);
    assert_eq!(tamsin.get("/api/inbox/unread").await.1["unread"], json!(0));
    tamsin.post("/api/inbox/read", read(json!([notice["number"]]), false)).await;
    assert_eq!(tamsin.get("/api/inbox/unread").await.1["unread"], json!(1));
    // The record goes out of their sight, and what was said of it with it.
    let elsewhere = world.person(IDRIS).await.rows(2, &[20]).await["rows"][0]["id"].clone();
    let record = u32::try_from(theirs.as_u64().unwrap()).unwrap();
    let (status, moved) = nadia.edit(record, 42, json!({ "value": { "links": [elsewhere] } }), json!(null)).await;
    assert_eq!(status, StatusCode::OK, "{moved}");
    let (_, after) = tamsin.get("/api/inbox").await;
    assert!(!after.to_string().contains("long bar"), "{after}");
    assert_eq!(tamsin.get("/api/inbox/unread").await.1["unread"], json!(0));
}

#[tokio::test(flavor = "multi_thread")]
async fn when_what_reaches_one_elsewhere_too_is_ones_own_choice() {
    let world = World::sending().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    give(&nadia, TAMSIN, "Without a mail", json!({})).await;
    assert_eq!(tamsin.put("/api/inbox/wishes", json!({ "word": "given", "elsewhere": "at_once" })).await.0, StatusCode::NO_CONTENT);
    assert_eq!(tamsin.put("/api/inbox/wishes", json!({ "word": "everything", "elsewhere": "at_once" })).await.0, StatusCode::NOT_FOUND);
    // Mornings come once a day.
    let (status, refused) = tamsin.put("/api/inbox/wishes", json!({ "word": "morning", "elsewhere": "at_once" })).await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/elsewhere")));
    give(&nadia, TAMSIN, "With a mail", json!({})).await;
    let begun = std::time::Instant::now();
    let mails = loop {
        let (_, all) = tamsin.get("/api/post-room").await;
        let text = all.to_string();
        if text.contains("With a mail") || begun.elapsed() > std::time::Duration::from_secs(10) {
            break text;
        }
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    };
    assert!(mails.contains("Nadia Ferreira-Holt asked you: With a mail") && !mails.contains("Without a mail"), "{mails}");
}

#[tokio::test(flavor = "multi_thread")]
async fn each_is_reminded_once_a_morning_of_what_is_late_or_near_unless_they_want_nothing_of_it() {
    let world = World::sending().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let zone = jiff::tz::TimeZone::get("Europe/London").unwrap();
    let now = jiff::Timestamp::now().to_zoned(zone);
    let yesterday = now.date().yesterday().unwrap();
    give(&nadia, TAMSIN, "Ring the farmer", json!({ "due": yesterday.to_string() })).await;
    give(&nadia, IDRIS_ID, "Walk the ridge", json!({ "due": yesterday.to_string() })).await;
    let idris = world.person(IDRIS).await;
    idris.put("/api/inbox/wishes", json!({ "word": "morning", "elsewhere": "never" })).await;
    // The demo's people were reminded already today.
    world.sql("DELETE FROM morning").await;
    for _ in 0..3 {
        assert!(westerfall_server::mornings::all(&world.app).await.is_ok());
    }
    let sent = world.count("SELECT count(*) FROM job WHERE key LIKE 'morning %'").await;
    if now.hour() < 7 {
        assert_eq!(sent, 0, "nobody is woken");
        return;
    }
    assert_eq!(world.count(&format!("SELECT count(*) FROM job WHERE key LIKE 'morning {TAMSIN} %'")).await, 1);
    assert_eq!(world.count(&format!("SELECT count(*) FROM job WHERE key LIKE 'morning {IDRIS_ID} %'")).await, 0);
    let begun = std::time::Instant::now();
    loop {
        let text = tamsin.get("/api/post-room").await.1.to_string();
        if text.contains("1 day late: Ring the farmer") {
            assert!(text.contains("On your rounds: "), "{text}");
            break;
        }
        assert!(begun.elapsed() < std::time::Duration::from_secs(10), "{text}");
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn what_one_wants_to_hear_of_daily_comes_once_with_the_morning_as_far_as_it_was_not_read() {
    let world = World::sending().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    // Where she lives, it is morning or later.
    let awake = |zone: &&str| jiff::Timestamp::now().to_zoned(jiff::tz::TimeZone::get(zone).unwrap()).hour() >= 8;
    let zone = ["Europe/London", "Asia/Tokyo", "America/New_York", "Asia/Karachi"].into_iter().find(awake).expect("somewhere it is day");
    let own = json!({ "name": "Tamsin Oake", "about": "warden of Eskermoor", "zone": zone });
    assert_eq!(tamsin.put("/api/session", own).await.0, StatusCode::OK);
    for (word, elsewhere) in [("given", "daily"), ("morning", "never")] {
        assert_eq!(tamsin.put("/api/inbox/wishes", json!({ "word": word, "elsewhere": elsewhere })).await.0, StatusCode::NO_CONTENT);
    }
    // What the demo told her is not asked here.
    world.sql("DELETE FROM notice").await;
    give(&nadia, TAMSIN, "Count the gates", json!({})).await;
    give(&nadia, TAMSIN, "Read and done with", json!({})).await;
    let (_, inbox) = tamsin.get("/api/inbox").await;
    let read: Vec<_> = inbox["groups"].as_array().unwrap().iter().flat_map(|group| group["notices"].as_array().unwrap().clone()).collect();
    let read = read.iter().find(|one| one["says"].to_string().contains("Read and done with")).unwrap()["number"].clone();
    assert_eq!(tamsin.post("/api/inbox/read", json!({ "notices": [read], "read": true })).await.0, StatusCode::NO_CONTENT);
    // An older one was told of before.
    world
        .sql(
            "INSERT INTO notice (person_id, at, body) SELECT person_id, at - interval '3 days', body FROM notice WHERE read_at IS NOT NULL",
        )
        .await;
    world.sql("DELETE FROM morning").await;
    for _ in 0..3 {
        assert!(westerfall_server::mornings::all(&world.app).await.is_ok());
    }
    assert_eq!(world.count(&format!("SELECT count(*) FROM job WHERE key LIKE 'morning {TAMSIN} %'")).await, 1);
    let begun = std::time::Instant::now();
    let text = loop {
        let text = tamsin.get("/api/post-room").await.1.to_string();
        if text.contains("in your inbox since yesterday") || begun.elapsed() > std::time::Duration::from_secs(10) {
            break text;
        }
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    };
    assert!(text.contains("1 in your inbox since yesterday"), "{text}");
    assert!(text.contains("Nadia Ferreira-Holt asked you: Count the gates") && !text.contains("Read and done with"), "{text}");
    // None of it came at once beside that.
    assert_eq!(world.count("SELECT count(*) FROM job WHERE key LIKE 'news %'").await, 0);
}
