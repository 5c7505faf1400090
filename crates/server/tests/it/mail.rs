//! Mails: queued with the change that causes them, really sent over SMTP, once.

use crate::fixture::*;
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};
use std::time::{Duration, Instant};

/// The mails whose subject holds a text, as soon as there are so many; waits for them at most ten seconds.
pub(crate) async fn mails(client: &Client, text: &str, wanted: usize) -> Vec<Value> {
    let begun = Instant::now();
    loop {
        let (_, all) = client.get("/api/post-room").await;
        let found: Vec<Value> = all.as_array().unwrap().iter().filter(|m| m["subject"].as_str().unwrap().contains(text)).cloned().collect();
        if found.len() >= wanted || begun.elapsed() > Duration::from_secs(10) {
            return found;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_blocked_path_reaches_its_warden_by_mail_once() {
    let world = World::sending().await;
    let (nadia, tamsin, idris) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(IDRIS).await);
    assert_eq!(world.stranger().answer(good_answers("Gate – über “all”"), &[], None).await.0, StatusCode::OK);
    let mut passable = good_answers("Sign faded");
    passable["46"] = json!({ "text": "passable" });
    assert_eq!(world.stranger().answer(passable, &[], None).await.0, StatusCode::OK);
    let found = mails(&tamsin, "über", 1).await;
    assert_eq!(found.len(), 1);
    assert_eq!(found[0]["recipient"], "tamsin@orrindale-paths.example");
    assert_eq!(found[0]["subject"], "blocked: Gate – über “all”");
    let body = found[0]["body"].as_str().unwrap();
    assert!(body.contains("PS-001 Esker Ridge to Hob Gate (Eskermoor)") && body.contains("Reported by Wynn Ashdale"), "{body}");
    assert!(body.contains("Open it: http://westerfall.example/t/1/3/r/61"), "{body}");
    // Looking a while longer finds no second one, none of the passable one, and nothing for others.
    tokio::time::sleep(Duration::from_millis(1_500)).await;
    assert_eq!(mails(&nadia, "über", 0).await.len(), 1);
    assert!(mails(&nadia, "Sign faded", 0).await.is_empty());
    assert!(mails(&idris, "über", 0).await.is_empty());
    let (_, runs) = nadia.get("/api/trackers/1/automations/121/runs").await;
    let runs = &runs["runs"];
    assert_eq!(runs[0]["log"][0]["text"], "Does not hold: severity is blocked or dangerous; it is passable.");
    assert_eq!((&runs[1]["mails"][0]["to"], &runs[1]["mails"][0]["state"]), (&json!("Tamsin Oake"), &json!("sent")));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_server_that_does_not_answer_is_tried_again_later() {
    // An address at which nobody listens yet.
    let address = std::net::TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap().to_string();
    let mail = westerfall_server::settings::MailOut { url: format!("smtp://{address}"), ..settings().mail };
    let world = World::with(westerfall_server::settings::Settings { mail, ..settings() }).await;
    westerfall_server::worker::start(world.app.clone()).unwrap();
    let nadia = world.person(NADIA).await;
    world.stranger().answer(good_answers("Nobody answers"), &[], None).await;
    let begun = Instant::now();
    let note = loop {
        let (_, runs) = nadia.get("/api/trackers/1/automations/121/runs").await;
        let mail = runs["runs"][0]["mails"][0].clone();
        if mail["note"].as_str().is_some_and(|n| !n.is_empty()) {
            break mail;
        }
        assert!(begun.elapsed() < Duration::from_secs(10), "{mail}");
        tokio::time::sleep(Duration::from_millis(50)).await;
    };
    assert_eq!(note["state"], "waiting");
    assert!(note["note"].as_str().unwrap().starts_with("Try 1 did not work"), "{note}");
    westerfall_server::post_room::open(
        world.app.store.clone(),
        address.parse().unwrap(),
        1_000_000,
        westerfall_server::ways::Door::default(),
    )
    .unwrap();
    assert_eq!(mails(&nadia, "Nobody answers", 1).await.len(), 1);
}

#[tokio::test(flavor = "multi_thread")]
async fn an_automation_is_changed_and_its_faults_are_placed() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, list) = nadia.get("/api/trackers/1/automations").await;
    let one = &list[0];
    let mut body = json!({
        "table": FAULT_TABLE, "name": one["automation"]["name"], "on": false, "when": one["automation"]["when"],
        "condition": one["automation"]["condition"], "steps": one["steps"],
    });
    assert_eq!(nadia.put("/api/trackers/1/parts/automation/121", part("automation", body.clone())).await.0, StatusCode::OK);
    world.stranger().answer(good_answers("Off"), &[], None).await;
    assert!(!nadia.get("/api/trackers/1/automations/121/runs").await.1.to_string().contains("Off"));
    body["steps"][0]["mail"]["subject"] = json!("{Sverity} is wrong");
    let (status, problem) = nadia.put("/api/trackers/1/parts/automation/121", part("automation", body)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(
        (&problem["faults"][0]["pointer"], &problem["detail"]),
        (&json!("/steps/0/mail/subject"), &json!("There is no field “Sverity” in Faults."))
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn a_button_runs_its_automation_for_whoever_may_change_the_record() {
    let world = World::sending().await;
    let (nadia, tamsin, pavel) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(PAVEL).await);
    let mut automation = json!({
        "table": FAULT_TABLE, "name": "Tell the office", "on": true, "when": "pressed", "condition": { "all": [] },
        "steps": [{ "mail": { "to": { "address": "office@orrindale.example" }, "subject": "Look at {Number}", "body": "", "digest": false } }],
    });
    let (status, made) = nadia.post("/api/trackers/1/parts", part("automation", automation.clone())).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let runs = made["made"].as_u64().unwrap();
    let field = json!({ "field": { "id": 1, "name": "Tell", "kind": { "type": "button", "label": "Tell", "automation": runs } } });
    let (status, made) = nadia.post(&format!("/api/trackers/1/tables/{FAULT_TABLE}/fields"), field).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let own = tamsin.rows(FAULT_TABLE, &[TITLE]).await["rows"][0]["id"].as_u64().unwrap();
    let press = format!("/api/trackers/1/tables/{FAULT_TABLE}/records/{own}/press/{}", made["made"]);
    // Twice with one key is once; a reader presses nothing.
    for _ in 0..2 {
        let answer = tamsin.raw(Method::POST, &press, "", &[("idempotency-key", "one")]).await;
        assert_eq!(answer.status(), StatusCode::OK);
    }
    assert_eq!(pavel.post(&press, json!(null)).await.0, StatusCode::FORBIDDEN);
    assert_eq!(mails(&nadia, "Look at FR-", 1).await.len(), 1);
    tokio::time::sleep(Duration::from_millis(1_000)).await;
    assert_eq!(mails(&nadia, "Look at FR-", 0).await.len(), 1);
    // Switched off, it does nothing and says so.
    automation["on"] = json!(false);
    assert_eq!(nadia.put(&format!("/api/trackers/1/parts/automation/{runs}"), part("automation", automation)).await.0, StatusCode::OK);
    assert_eq!(tamsin.post(&press, json!(null)).await.0, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_copy_of_an_answer_goes_to_the_address_that_was_given_and_to_no_other() {
    let world = World::sending().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let (_, design) = nadia.get("/api/trackers/1/forms/120").await;
    let mut form = design["form"].clone();
    form["copy"] = json!(52);
    let body = json!({ "form": form, "confirmation": "Thank you for {Number}." });
    assert_eq!(nadia.put("/api/trackers/1/parts/form/120", part("form", body)).await.0, StatusCode::OK);
    let mut answers = good_answers("Stile down");
    answers["52"] = json!({ "text": "wynn@walkers.example" });
    let (status, sent) = stranger.answer(answers.clone(), &[], Some("one")).await;
    assert_eq!(status, StatusCode::OK, "{sent}");
    stranger.answer(answers, &[], Some("one")).await;
    assert_eq!(stranger.answer(good_answers("Without an address"), &[], None).await.0, StatusCode::OK);
    let found = mails(&nadia, "Your answer: Report a path fault", 1).await;
    assert_eq!((found.len(), &found[0]["recipient"]), (1, &json!("wynn@walkers.example")));
    let body = found[0]["body"].as_str().unwrap();
    assert!(body.starts_with(sent["confirmation"].as_str().unwrap()) && body.contains("What is wrong?\n  Stile down"), "{body}");
    // No address of the record, which is not theirs to open.
    assert!(!body.contains("/t/1/3/r/"), "{body}");
}
