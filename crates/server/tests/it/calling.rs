//! Web addresses that automations call, over real HTTP: answered, refused, slow, leading elsewhere, and cut off.

use crate::{fixture::*, mail::mails};
use axum::http::StatusCode;
use serde_json::{Value, json};
use std::time::{Duration, Instant};
use westerfall_server::{call_room, calling, running, settings::CallsOut, settings::Settings};

const HOURS: u32 = 50;
const DESCRIPTION: u32 = 55;
const SECRET: &str = "0123456789abcdef0123456789abcdef";

/// A server whose automations may call the stand-in, and hosts that are named.
async fn world(hosts: &[&str], private: bool) -> World {
    let world = World::new().await;
    let stand_in = call_room::open(world.app.store.clone()).await.expect("a free port");
    let hosts = hosts.iter().map(|host| (*host).to_owned()).collect();
    let calls = CallsOut { hosts, private, stand_in: Some((call_room::HOST.to_owned(), stand_in)) };
    world.again(Settings { calls, ..settings() }).await
}

/// An automation by hand that calls, and says in the description how that went; its number.
async fn automation(nadia: &Client, calls: Value) -> u64 {
    let says = |text: &str| json!([{ "set": { "along": [], "alter": [{ "field": DESCRIPTION, "to": { "set": { "text": text } } }] } }]);
    let mut whole = json!({ "method": "post", "headers": [], "sends": [], "takes": [], "seconds": 5 });
    whole.as_object_mut().unwrap().extend(calls.as_object().unwrap().clone());
    let body = json!({
        "table": FAULT_TABLE, "name": "Ask what it costs", "on": true, "when": "chosen", "condition": { "all": [] },
        "steps": [{ "call": { "calls": whole, "steps": says("went well"), "otherwise": says("did not") } }],
    });
    let (status, made) = nadia.post("/api/trackers/1/parts", part("automation", body)).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    made["made"].as_u64().unwrap()
}

async fn run(nadia: &Client, automation: u64, record: u32) {
    let body = json!({ "records": [record] });
    let (status, told) = nadia.post(&format!("/api/trackers/1/automations/{automation}/run"), body).await;
    assert_eq!(status, StatusCode::OK, "{told}");
}

/// What is told of the automation's last run, once a line of it holds a text.
async fn log(nadia: &Client, automation: u64, text: &str) -> String {
    let begun = Instant::now();
    loop {
        let (_, told) = nadia.get(&format!("/api/trackers/1/automations/{automation}/runs")).await;
        let lines = told["runs"][0]["log"].as_array().cloned().unwrap_or_default();
        let all: Vec<&str> = lines.iter().filter_map(|line| line["text"].as_str()).collect();
        if all.iter().any(|line| line.contains(text)) {
            return all.join("\n");
        }
        assert!(begun.elapsed() < Duration::from_secs(15), "{told}");
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
}

async fn description(nadia: &Client, record: u32) -> Value {
    let rows = nadia.rows(FAULT_TABLE, &[DESCRIPTION, HOURS]).await;
    let row = rows["rows"].as_array().unwrap().iter().find(|row| row["id"] == record).unwrap().clone();
    json!([row["cells"][0]["value"], row["cells"][1]["value"]])
}

#[tokio::test(flavor = "multi_thread")]
async fn what_an_address_answers_goes_into_the_record_and_is_called_once() {
    let world = world(&[], false).await;
    let nadia = world.person(NADIA).await;
    let id = automation(
        &nadia,
        json!({
            "address": "http://post-room.example/quote", "secret": SECRET,
            "sends": [{ "name": "hours", "value": "{Hours needed}" }, { "name": "what.title", "value": "About {What is wrong}" }],
            "takes": [{ "path": "quote.days", "field": HOURS }],
        }),
    )
    .await;
    assert_eq!(nadia.edit(7, HOURS, json!({ "text": "13" }), Value::Null).await.0, StatusCode::OK);
    run(&nadia, id, 7).await;
    // Nothing is called before a worker is there; then by one of two.
    let (_, waits) = nadia.get(&format!("/api/trackers/1/automations/{id}/runs")).await;
    assert_eq!(waits["runs"][0]["state"], "waits", "{waits}");
    let beside = world.again(world.app.settings.clone()).await;
    calling::start(world.app.clone()).unwrap();
    calling::start(beside.app.clone()).unwrap();
    running::start(world.app.clone());
    let told = log(&nadia, id, "answered 200 OK").await;
    assert!(told.contains("Calls post-room.example (POST), and waits for its answer."), "{told}");
    tokio::time::sleep(Duration::from_millis(1_200)).await;
    let kept = mails(&nadia, "POST /quote", 1).await;
    assert_eq!(kept.len(), 1, "once, whichever of them was first");
    let body = kept[0]["body"].as_str().unwrap();
    assert!(body.contains("\"hours\":13") && body.contains("\"title\":\"About ") && body.contains("westerfall-signature: "), "{body}");
    assert_eq!(description(&nadia, 7).await, json!([{ "text": "went well" }, { "number": "3.0" }]));
    let (_, trail) = nadia.get(&format!("{}/trail", record_path(7))).await;
    assert!(trail.to_string().contains("Ask what it costs"), "the trail says who: {trail}");
}

#[tokio::test(flavor = "multi_thread")]
async fn what_goes_wrong_is_said_and_the_steps_for_that_are_done() {
    let world = world(&["127.0.0.1", "localhost", "nobody.example"], false).await;
    calling::start(world.app.clone()).unwrap();
    running::start(world.app.clone());
    let nadia = world.person(NADIA).await;
    let taking = json!([{ "path": "said", "field": HOURS }]);
    let cases = [
        (json!({ "address": "http://post-room.example/refuses" }), "post-room.example answered 400 Bad Request."),
        (json!({ "address": "http://post-room.example/elsewhere" }), "answered 302 Found: it leads elsewhere, which is not followed."),
        (json!({ "address": "http://post-room.example/long" }), "answered more than a megabyte, which is not read."),
        (json!({ "address": "http://post-room.example/slow", "seconds": 1 }), "did not answer within a second, so it may have been done"),
        (json!({ "address": "http://post-room.example/heard", "takes": taking }), "Not done, acting for Nadia Ferreira-Holt: "),
        (
            json!({ "address": "http://elsewhere.example/" }),
            "was not called: whoever runs this server does not allow calls to elsewhere.example.",
        ),
        (json!({ "address": "http://127.0.0.1:1/" }), "was not called: it lies within this server’s own network."),
        // By its name, too: what the name leads to is what counts.
        (json!({ "address": "http://localhost:1/" }), "was not called: it lies within this server’s own network."),
    ];
    for (place, (calls, wanted)) in cases.into_iter().enumerate() {
        let record = u32::try_from(place).unwrap() + 10;
        let before = description(&nadia, record).await;
        let id = automation(&nadia, calls).await;
        run(&nadia, id, record).await;
        let told = log(&nadia, id, "Description of ").await;
        assert!(told.contains(wanted), "{told}");
        let after = description(&nadia, record).await;
        assert_eq!((&after[0], &after[1]), (&json!({ "text": "did not" }), &before[1]), "{told}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn what_could_not_be_reached_or_wants_to_be_asked_later_is_put_off_and_what_was_cut_off_is_not_done_twice() {
    let world = world(&["127.0.0.1"], true).await;
    let nadia = world.person(NADIA).await;
    let gone = std::net::TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap();
    let away = automation(&nadia, json!({ "address": format!("http://{gone}/") })).await;
    let later = automation(&nadia, json!({ "address": "http://post-room.example/later" })).await;
    let cut = automation(&nadia, json!({ "address": "http://post-room.example/cut" })).await;
    let asked = automation(&nadia, json!({ "address": "http://post-room.example/asked", "method": "get" })).await;
    for (record, id) in [(20, away), (21, later), (22, cut), (23, asked)] {
        run(&nadia, id, record).await;
    }
    // As if the server that had them was killed while it called.
    world.sql(&format!("UPDATE run SET calling = true, called = 1 WHERE automation_id IN ({cut}, {asked})")).await;
    calling::start(world.app.clone()).unwrap();
    running::start(world.app.clone());
    let told = log(&nadia, cut, "may have been reached").await;
    assert!(told.contains("so it is not called again by itself"), "{told}");
    log(&nadia, asked, "answered 200 OK").await;
    assert!(mails(&nadia, "POST /cut", 0).await.is_empty());
    let begun = Instant::now();
    let put_off =
        format!("SELECT count(*) FROM run WHERE automation_id IN ({away}, {later}) AND called = 1 AND NOT calling AND calls_at > now()");
    while world.count(&put_off).await < 2 {
        assert!(begun.elapsed() < Duration::from_secs(10));
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    // At the last try it is given up.
    world.sql(&format!("UPDATE run SET called = 5, calls_at = now() WHERE automation_id IN ({away}, {later})")).await;
    let told = log(&nadia, away, "could not be reached, 6 times").await;
    assert!(told.contains(&gone.to_string()), "{told}");
    log(&nadia, later, "answered 503 Service Unavailable, 6 times").await;
    assert_eq!(description(&nadia, 21).await[0], json!({ "text": "did not" }));
}

#[tokio::test(flavor = "multi_thread")]
async fn an_automation_that_is_switched_off_meanwhile_calls_nothing() {
    let world = world(&[], false).await;
    let nadia = world.person(NADIA).await;
    let id = automation(&nadia, json!({ "address": "http://post-room.example/never" })).await;
    run(&nadia, id, 30).await;
    let (_, list) = nadia.get("/api/trackers/1/automations").await;
    let one = list.as_array().unwrap().iter().find(|one| one["automation"]["id"] == id).unwrap().clone();
    let mut off = one["automation"].clone();
    off["steps"] = one["steps"].clone();
    off["on"] = json!(false);
    let (status, told) = nadia.put(&format!("/api/trackers/1/parts/automation/{id}"), part("automation", off)).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    calling::start(world.app.clone()).unwrap();
    log(&nadia, id, "Ends here: it was switched off").await;
    assert!(mails(&nadia, "POST /never", 0).await.is_empty());
}
