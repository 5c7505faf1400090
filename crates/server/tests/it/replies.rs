//! Messages that are answered from within, by link and by mail.

use crate::fixture::*;
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};
use std::time::{Duration, Instant};

const STATUS: u32 = 47;
const CHECKED: u32 = 81;

/// What a stranger's fault asks of its warden: the token of its link, and the mail.
async fn asked(world: &World, title: &str) -> (String, Value) {
    assert_eq!(world.stranger().answer(good_answers(title), &[], None).await.0, StatusCode::OK);
    let tamsin = world.person(TAMSIN).await;
    let begun = Instant::now();
    loop {
        let (_, all) = tamsin.get("/api/post-room").await;
        if let Some(mail) = all.as_array().unwrap().iter().find(|mail| mail["subject"].as_str().unwrap().contains(title)) {
            let body = mail["body"].as_str().unwrap();
            let token = body.split("/reply/").nth(1).unwrap_or_else(|| panic!("{body}")).split('?').next().unwrap().to_owned();
            return (token, mail.clone());
        }
        assert!(begun.elapsed() < Duration::from_secs(10), "no mail came");
        tokio::time::sleep(Duration::from_millis(40)).await;
    }
}

fn at(token: &str) -> String {
    format!("/api/public/replies/{token}")
}

/// The status of the newest fault, and its number.
async fn newest(nadia: &Client) -> (Value, u32) {
    let query = json!({ "fields": shown(&[STATUS]), "sorts": [{ "field": 40, "descending": true }] });
    let row = nadia.query(FAULT_TABLE, query).await.1["rows"][0].clone();
    (row["cells"][0]["value"].clone(), u32::try_from(row["id"].as_u64().unwrap()).unwrap())
}

#[tokio::test(flavor = "multi_thread")]
async fn looking_at_a_link_changes_nothing_and_pressing_once_does_it_once() {
    let world = World::sending().await;
    let nadia = world.person(NADIA).await;
    let (token, mail) = asked(&world, "Zigzag gate").await;
    let text = mail["body"].as_str().unwrap();
    assert!(text.contains("I’ll go and look: http://westerfall.example/reply/") && text.contains("You get this since"), "{text}");
    let (before, record) = newest(&nadia).await;
    let seq = world.count("SELECT seq FROM tracker WHERE id = 1").await;
    for _ in 0..3 {
        assert_eq!(world.stranger().raw(Method::HEAD, &at(&token), "", &[]).await.status(), StatusCode::OK);
        let (status, view) = world.stranger().get(&at(&token)).await;
        assert_eq!((status, view["choices"].as_array().unwrap().len()), (StatusCode::OK, 2));
        assert_eq!(view["facts"].as_array().unwrap().len(), 4, "{view}");
    }
    assert_eq!(world.count("SELECT seq FROM tracker WHERE id = 1").await, seq);

    // Two presses at once, of either choice: one of them counts.
    let (one, other) = (world.stranger(), world.stranger());
    let (address, address2) = (at(&token), at(&token));
    let (first, second) = tokio::join!(one.post(&address, json!({ "choice": 0 })), other.post(&address2, json!({ "choice": 1 })));
    assert_eq!((first.0, second.0), (StatusCode::OK, StatusCode::OK), "{first:?} {second:?}");
    assert_eq!(first.1["answered"], second.1["answered"], "both are told what holds");
    let (after, same) = newest(&nadia).await;
    assert_eq!(same, record);
    assert_ne!(after, before);
    assert_eq!(world.count("SELECT count(*) FROM change WHERE body::text LIKE '%\"asked\":%'").await, 1);
    let (_, again) = world.stranger().post(&at(&token), json!({ "choice": 1 })).await;
    assert_eq!(again["answered"], first.1["answered"]);
    assert_eq!(newest(&nadia).await.0, after);
    // Its trail says who.
    let (_, trail) = nadia.get(&format!("{}/trail", record_path(record))).await;
    let entry = &trail["entries"][0];
    assert_eq!((&entry["who"], &entry["what"]), (&json!("Tamsin Oake"), &json!("answered")), "{entry}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mail_that_answers_with_one_of_the_words_is_an_answer_and_others_are_not() {
    let world = World::sending().await;
    let nadia = world.person(NADIA).await;
    let (token, _) = asked(&world, "Quince stile").await;
    let to = format!("reply-{token}@in.westerfall.example");
    let raw = |head: &str, text: &str| {
        format!(
            "From: Tamsin Oake <tamsin@orrindale-paths.example>\r\nTo: {to}\r\nSubject: Re\r\n{head}Message-ID: <{}@x.example>\r\n\r\n{text}\r\n",
            text.len()
        )
    };
    let send = async |head: &str, text: &str| {
        let raw = raw(head, text);
        westerfall_server::ways::deliver(&world.app, &to, "tamsin@orrindale-paths.example", raw.as_bytes()).await.unwrap()
    };
    let (before, _) = newest(&nadia).await;
    assert!(send("Auto-Submitted: auto-replied\r\n", "I’ll go and look").await.is_err(), "a machine's answer is none");
    let refused = send("", "I am on my way").await.unwrap_err().told();
    assert!(refused.contains("none of the answers: “I’ll go and look” or “Call the crew”"), "{refused}");
    assert_eq!(newest(&nadia).await.0, before);
    send("", "i'll go and look.\r\n\r\n> A fault came in").await.unwrap();
    assert_eq!(newest(&nadia).await.0, json!({ "choice": CHECKED }));
    // Another word changes nothing any more.
    send("", "Call the crew").await.unwrap();
    assert_eq!(newest(&nadia).await.0, json!({ "choice": CHECKED }));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_guessed_link_and_one_whose_time_is_over_take_nothing() {
    let world = World::sending().await;
    let nadia = world.person(NADIA).await;
    let (token, _) = asked(&world, "Nettle bridge").await;
    let (before, _) = newest(&nadia).await;
    let guess = "0123456789abcdef0123456789abcdef";
    for path in [at(guess), at("x"), at(&token[1..])] {
        assert_eq!(world.stranger().get(&path).await.0, StatusCode::NOT_FOUND);
        assert_eq!(world.stranger().post(&path, json!({ "choice": 0 })).await.0, StatusCode::NOT_FOUND);
    }
    let shape = world.stranger().post(&at(&token), json!({ "choice": 7 })).await;
    assert_eq!(shape.0, StatusCode::NOT_FOUND, "{shape:?}");
    assert!(world.stranger().post(&at(&token), json!({ "typed": "checked" })).await.0.is_client_error());
    world
        .sql("UPDATE job SET mail = jsonb_set(mail::jsonb, '{asks,until}', '\"2020-01-01T00:00:00Z\"')::json WHERE mail::jsonb ? 'asks'")
        .await;
    let (_, view) = world.stranger().get(&at(&token)).await;
    assert!(view["closed"].as_str().unwrap().starts_with("This could be answered until") && view["facts"] == json!([]), "{view}");
    let (status, told) = world.stranger().post(&at(&token), json!({ "choice": 0 })).await;
    assert_eq!(status, StatusCode::FORBIDDEN, "{told}");
    assert_eq!(newest(&nadia).await.0, before);
}

#[tokio::test(flavor = "multi_thread")]
async fn the_post_room_shows_a_mail_as_its_page_and_runs_nothing_of_it() {
    let world = World::sending().await;
    let (_, mail) = asked(&world, "Fern <b>gate</b>").await;
    let path = format!("/api/post-room/{}/page", mail["id"]);
    let page = world.person(TAMSIN).await.raw(Method::GET, &path, "", &[]).await;
    assert_eq!(page.status(), StatusCode::OK);
    let policy = page.headers()["content-security-policy"].to_str().unwrap().to_owned();
    assert!(policy.contains("default-src 'none'") && policy.contains("sandbox"), "{policy}");
    let bytes = axum::body::to_bytes(page.into_body(), 1_000_000).await.unwrap();
    let html = String::from_utf8(bytes.to_vec()).unwrap();
    assert!(html.contains("Fern &lt;b&gt;gate&lt;/b&gt;") && html.contains("?with=2"), "{html}");
    // It is in nobody else's mailbox.
    assert_eq!(world.person(IDRIS).await.get(&path).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn the_log_says_what_was_answered_and_a_lost_mail_is_sent_again_once_by_whoever_builds() {
    let world = World::sending().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let (token, _) = asked(&world, "Heather stile").await;
    assert_eq!(world.stranger().post(&at(&token), json!({ "choice": 1 })).await.0, StatusCode::OK);
    let runs = async || nadia.get("/api/trackers/1/automations/121/runs").await.1["runs"][0]["mails"][0].clone();
    let mail = runs().await;
    assert_eq!((&mail["answered"], &mail["again"]), (&json!("Call the crew"), &Value::Null), "{mail}");
    world.sql("UPDATE job SET state = 'failed', note = 'Given up' WHERE mail::jsonb ? 'asks'").await;
    let again = format!("/api/trackers/1/mails/{}/again", runs().await["again"]);
    assert_eq!(tamsin.post(&again, json!({})).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.post(&again, json!({})).await.0, StatusCode::NO_CONTENT);
    let begun = Instant::now();
    while runs().await["state"] != "sent" {
        assert!(begun.elapsed() < Duration::from_secs(10), "{}", runs().await);
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    assert_eq!(nadia.post(&again, json!({})).await.0, StatusCode::NOT_FOUND, "what arrived is not sent again");
    // An earlier link stays as good as the new one.
    assert!(world.stranger().get(&at(&token)).await.1["answered"].is_object());
}
