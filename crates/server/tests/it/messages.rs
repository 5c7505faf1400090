//! Chat messages and texts: really sent over HTTP, to whoever chose them, once.

use crate::{fixture::*, mail::mails};
use axum::http::StatusCode;
use serde_json::{Value, json};
use std::time::{Duration, Instant};
use westerfall_server::{
    message_room,
    settings::{ServiceOut, Settings},
    worker,
};

/// What came by a way, as soon as there is so much; waits for it at most ten seconds.
async fn came(client: &Client, by: &str, wanted: usize) -> Vec<Value> {
    let begun = Instant::now();
    loop {
        let (_, all) = client.get("/api/post-room").await;
        let found: Vec<Value> = all.as_array().unwrap().iter().filter(|m| m["by"] == by).cloned().collect();
        if found.len() >= wanted || begun.elapsed() > Duration::from_secs(10) {
            return found;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
}

/// Says by which way somebody wants to be reached.
async fn chooses(client: &Client, channel: &str, phone: &str) -> (StatusCode, Value) {
    let (_, me) = client.get("/api/session").await;
    let own = json!({ "name": me["person"]["name"], "about": me["about"], "phone": phone, "zone": "", "channel": channel });
    client.put("/api/session", own).await
}

fn tells(to: Value) -> Value {
    json!({
        "table": FAULT_TABLE, "name": "Tell", "on": true, "when": { "form": null }, "condition": { "all": [] },
        "steps": [{ "mail": { "to": to, "subject": "Seen: {What is wrong}", "body": "At {Section}.", "digest": false } }],
    })
}

async fn report(world: &World, title: &str) {
    assert_eq!(world.stranger().answer(good_answers(title), &[], None).await.0, StatusCode::OK);
}

/// How the messages of an automation stand, as soon as one of them stands so; waits for it at most ten seconds.
async fn stands(client: &Client, automation: &Value, state: &str) -> Value {
    let begun = Instant::now();
    loop {
        let (_, told) = client.get(&format!("/api/trackers/1/automations/{automation}/runs")).await;
        let mails = told["runs"].as_array().unwrap().iter().flat_map(|run| run["mails"].as_array().unwrap().clone());
        if let Some(found) = mails.filter(|mail| mail["state"] == state).find(|mail| state != "waiting" || mail["note"] != "") {
            return found;
        }
        assert!(begun.elapsed() < Duration::from_secs(10), "{told}");
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_warden_who_chose_texts_gets_one_and_answers_behind_its_link() {
    let world = World::sending().await;
    let (nadia, tamsin, bex) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(BEX).await);
    let (status, refused) = chooses(&tamsin, "text", "").await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/phone")));
    assert_eq!(chooses(&tamsin, "text", "+44 1632 960123").await.0, StatusCode::OK);
    let (_, me) = tamsin.get("/api/session").await;
    assert_eq!((&me["channel"], &me["channels"]), (&json!("text"), &json!(["mail", "chat", "text"])));

    report(&world, "Gate off its hinge").await;
    let texts = came(&tamsin, "text", 1).await;
    assert_eq!((texts.len(), &texts[0]["recipient"]), (1, &json!("+441632960123")));
    let text = texts[0]["body"].as_str().unwrap();
    assert!(text.starts_with("blocked: Gate off its hinge. "), "{text}");
    assert!(westerfall_core::automation::parts(text) <= westerfall_core::automation::MOST_PARTS);
    // Nobody else reads what came to her phone, and no mail went out beside it.
    assert!(came(&bex, "text", 0).await.is_empty());
    assert!(came(&nadia, "mail", 0).await.iter().all(|mail| !mail["subject"].as_str().unwrap().contains("Gate off")));
    let (_, runs) = nadia.get("/api/trackers/1/automations/121/runs").await;
    assert_eq!((&runs["runs"][0]["mails"][0]["state"], &runs["runs"][0]["mails"][0]["by"]), (&json!("sent"), &json!("text")));
    assert!(runs["runs"][0]["log"].to_string().contains("Text to Tamsin Oake: “blocked: Gate off its hinge”"), "{runs}");
    // Its link is the one that answers.
    let token = text.split("Answer: http://westerfall.example/reply/").nth(1).unwrap().lines().next().unwrap();
    let (status, view) = world.stranger().get(&format!("/api/public/replies/{token}")).await;
    assert_eq!(status, StatusCode::OK, "{view}");

    // What she asks for, as a code to sign in with, still comes by mail.
    let asked = world.stranger().post("/api/codes", json!({ "mail": "tamsin@orrindale-paths.example" })).await;
    assert!(asked.0.is_success(), "{asked:?}");
    assert_eq!(mails(&tamsin, "is your code for", 1).await.len(), 1);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_room_of_the_chat_gets_what_is_said_there_with_its_links_and_what_it_refuses_is_told() {
    let world = World::sending().await;
    let nadia = world.person(NADIA).await;
    let made = async |to: Value| {
        let (status, made) = nadia.post("/api/trackers/1/parts", part("automation", tells(to))).await;
        assert_eq!(status, StatusCode::OK, "{made}");
        made["made"].clone()
    };
    let yard = made(json!({ "room": "yard" })).await;
    let unknown = made(json!({ "room": "unknown" })).await;
    let later = made(json!({ "phone": "+44 1632 960503" })).await;
    report(&world, "Stile <broken>").await;
    let found = came(&nadia, "chat", 1).await;
    assert_eq!((found.len(), &found[0]["recipient"], &found[0]["sender"]), (1, &json!("#yard"), &json!("Orrindale Paths Trust")));
    assert_eq!(found[0]["subject"], "Seen: Stile <broken>");
    let page = nadia.raw(axum::http::Method::GET, &format!("/api/post-room/{}/page", found[0]["id"]), "", &[]).await;
    let page = String::from_utf8(axum::body::to_bytes(page.into_body(), 100_000).await.unwrap().to_vec()).unwrap();
    assert!(page.contains("Seen: Stile &lt;broken&gt;") && !page.contains("<broken>"), "{page}");
    assert_eq!(stands(&nadia, &yard, "sent").await["by"], "chat");
    // A room that is not there is told at once; a service that is busy is asked again.
    let gone = stands(&nadia, &unknown, "failed").await;
    assert!(gone["note"].as_str().unwrap().starts_with("The chat service refuses it for good: 404"), "{gone}");
    let busy = stands(&nadia, &later, "waiting").await;
    assert!(busy["note"].as_str().unwrap().starts_with("Try 1 did not work: 503"), "{busy}");
}

#[tokio::test(flavor = "multi_thread")]
async fn one_message_of_many_records_says_in_a_text_what_fits_and_in_the_chat_each_with_its_link() {
    let world = World::sending().await;
    let nadia = world.person(NADIA).await;
    let gathers = |to: Value| json!({ "mail": { "to": to, "subject": "What waits", "body": "{Number}: {What is wrong}", "digest": true } });
    let body = json!({
        "table": FAULT_TABLE, "name": "What waits", "on": true, "when": "chosen", "condition": { "all": [] },
        "steps": [gathers(json!({ "phone": "+44 1632 960124" })), gathers(json!({ "room": "yard" }))],
    });
    let (_, made) = nadia.post("/api/trackers/1/parts", part("automation", body)).await;
    let run = format!("/api/trackers/1/automations/{}/run", made["made"]);
    assert_eq!(nadia.post(&run, json!({ "records": (1..=30).collect::<Vec<u32>>() })).await.0, StatusCode::OK);
    let texts = came(&nadia, "text", 1).await;
    let text = texts[0]["body"].as_str().unwrap();
    assert!(text.starts_with("What waits. 30 faults: FR-") && text.contains("...\nNo more: http://westerfall.example/opt-out/"), "{text}");
    assert_eq!(westerfall_core::automation::parts(text), westerfall_core::automation::MOST_PARTS);
    let chat = came(&nadia, "chat", 1).await;
    let page = nadia.raw(axum::http::Method::GET, &format!("/api/post-room/{}/page", chat[0]["id"]), "", &[]).await;
    let page = String::from_utf8(axum::body::to_bytes(page.into_body(), 100_000).await.unwrap().to_vec()).unwrap();
    assert_eq!((page.matches("class=\"item\"").count(), page.contains("opt-out")), (30, false), "{page}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_text_that_was_cut_off_is_handed_over_again_and_comes_once() {
    let world = World::sending().await;
    let nadia = world.person(NADIA).await;
    let (_, made) = nadia.post("/api/trackers/1/parts", part("automation", tells(json!({ "phone": "+44 1632 960124" })))).await;
    report(&world, "Sign gone").await;
    assert_eq!(came(&nadia, "text", 1).await.len(), 1);
    stands(&nadia, &made["made"], "sent").await;
    // As a server leaves it that is killed before it could note that the service took it.
    world.sql("UPDATE job SET state = 'handing over', due_at = now() WHERE mail->>'by' = 'text'").await;
    stands(&nadia, &made["made"], "sent").await;
    assert_eq!(world.count("SELECT attempts::bigint FROM job WHERE mail->>'by' = 'text'").await, 2);
    assert_eq!(came(&nadia, "text", 1).await.len(), 1);
}

#[tokio::test(flavor = "multi_thread")]
async fn where_no_service_is_set_up_people_get_mails_and_a_number_outside_is_said_to_get_nothing() {
    let world = World::new().await;
    let (status, refused) = chooses(&world.person(TAMSIN).await, "text", "+44 1632 960123").await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/channel")));
    // It was chosen while there was one.
    let service = ServiceOut { url: "http://127.0.0.1:1/text".into(), secret: "s".into() };
    let before = world.again(Settings { text: Some(service), ..settings() }).await;
    assert_eq!(chooses(&before.person(TAMSIN).await, "text", "+44 1632 960123").await.0, StatusCode::OK);
    let door = westerfall_server::ways::Door::default();
    let address = westerfall_server::post_room::open(world.app.store.clone(), ([127, 0, 0, 1], 0).into(), 1_000_000, door).unwrap();
    let mail = westerfall_server::settings::MailOut { url: format!("smtp://{address}"), ..settings().mail };
    let quiet = world.again(Settings { mail, ..settings() }).await;
    let nadia = quiet.person(NADIA).await;
    let (_, made) = nadia.post("/api/trackers/1/parts", part("automation", tells(json!({ "phone": "+44 1632 960124" })))).await;
    worker::start(quiet.app.clone()).unwrap();
    report(&quiet, "Bridge board").await;
    let failed = stands(&nadia, &made["made"], "failed").await;
    assert_eq!(failed["note"], "Nothing is set up that brings a text to its reader.");
    assert_eq!(mails(&nadia, "blocked: Bridge board", 1).await[0]["recipient"], "tamsin@orrindale-paths.example");
    let (_, me) = quiet.person(TAMSIN).await.get("/api/session").await;
    assert_eq!((&me["channel"], &me["channels"]), (&json!("text"), &json!(["mail"])));
}

#[tokio::test(flavor = "multi_thread")]
async fn the_stand_in_believes_nobody_who_does_not_sign() {
    let world = World::new().await;
    let room = message_room::open(world.app.store.clone()).await.unwrap();
    let ServiceOut { url, .. } = room.way(message_room::TEXT);
    let sent = reqwest::Client::new().post(&url).body(r#"{"id":"1","to":"+441632960123","text":"x"}"#).send().await.unwrap();
    assert_eq!(sent.status().as_u16(), 401);
    assert_eq!(world.count("SELECT count(*) FROM message").await, 0);
}

#[tokio::test(flavor = "multi_thread")]
async fn an_automation_that_writes_too_much_to_one_reader_goes_on_in_the_next_hour_and_its_owner_is_told_once() {
    use westerfall_core::team::MOST_TO_ONE;
    let world = World::sending().await;
    let nadia = world.person(NADIA).await;
    let mail = |to: &str| json!({ "mail": { "to": { "address": to }, "subject": "Flood {Number}", "body": "", "digest": false } });
    let made = json!({
        "table": FAULT_TABLE, "name": "Flood", "on": true, "when": "chosen", "condition": { "all": [] },
        "steps": [mail("office@orrindale.example"), mail("office@orrindale.example"), mail("yard@orrindale.example")],
    });
    let (status, made) = nadia.post("/api/trackers/1/parts", part("automation", made)).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let records: Vec<u32> = (1..=35).collect();
    let run = format!("/api/trackers/1/automations/{}/run", made["made"]);
    assert_eq!(nadia.post(&run, json!({ "table": FAULT_TABLE, "records": records })).await.0, StatusCode::OK);
    let state =
        |state: &str, to: &str| format!("SELECT count(*) FROM job WHERE state = '{state}' AND mail->>'to' = '{to}@orrindale.example'");
    let begun = Instant::now();
    while world.count(&state("sent", "office")).await
        + world.count(&state("sent", "yard")).await
        + world.count("SELECT count(*) FROM job WHERE note LIKE 'It waits for the next hour%'").await
        < 105
    {
        assert!(begun.elapsed() < Duration::from_secs(30));
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    // Others are reached meanwhile.
    assert_eq!(world.count(&state("sent", "office")).await, i64::from(MOST_TO_ONE));
    assert_eq!(world.count(&state("waiting", "office")).await, 70 - i64::from(MOST_TO_ONE));
    assert_eq!(world.count(&state("sent", "yard")).await, 35);
    // What only waited was not tried.
    assert_eq!(world.count("SELECT max(attempts)::bigint FROM job WHERE state = 'waiting'").await, 0);
    let (_, inbox) = nadia.get("/api/inbox").await;
    let told = inbox.to_string().matches("writes more within an hour than it may, so the rest waits").count();
    assert_eq!(told, 1, "{inbox}");
    // The next hour, all the rest goes out.
    world.sql("UPDATE pace SET hour = hour - interval '1 hour'; UPDATE job SET due_at = now() WHERE state = 'waiting'").await;
    let begun = Instant::now();
    while world.count(&state("sent", "office")).await < 70 {
        assert!(begun.elapsed() < Duration::from_secs(30));
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
}
