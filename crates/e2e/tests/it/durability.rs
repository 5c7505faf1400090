//! The server is killed again and again; nothing acknowledged is lost, and no mail comes twice.

use serde_json::{Value, json};
use std::{collections::BTreeMap, time::Duration};
use westerfall_e2e::Server;

#[tokio::test(flavor = "multi_thread")]
async fn killing_the_server_loses_nothing_and_doubles_nothing() {
    let mut server = Server::start(6).await;
    let client = reqwest::Client::builder().timeout(Duration::from_secs(5)).cookie_store(true).build().unwrap();
    let mut acknowledged = Vec::new();
    let mut unsure: Vec<String> = Vec::new();
    for round in 0..10_u64 {
        let mut tasks = Vec::new();
        let again = std::mem::take(&mut unsure);
        let fresh = (0..5).map(|n| format!("round {round} number {n}"));
        for title in again.into_iter().chain(fresh) {
            tasks.push(tokio::spawn(send(client.clone(), server.address.clone(), title)));
        }
        // Sooner or later within what the requests and the worker do.
        tokio::time::sleep(Duration::from_millis(13 * round * round % 160 + 4)).await;
        server.kill();
        for task in tasks {
            match task.await.unwrap() {
                (title, true) => acknowledged.push(title),
                (title, false) => unsure.push(title),
            }
        }
        server.restart();
    }
    // Those who got no answer try once more, as the form's page does, under the same key.
    for title in unsure {
        let (title, taken) = send(client.clone(), server.address.clone(), title).await;
        assert!(taken, "{title} was refused");
        acknowledged.push(title);
    }
    acknowledged.sort();
    let sign_in = json!({ "person": 1 });
    client.post(format!("{}/api/demo/session", server.address)).json(&sign_in).send().await.unwrap();
    let query = json!({ "query": { "fields": [{ "field": 41, "width": 1 }] }, "slices": [{ "start": 0, "count": 500 }] });
    let rows: Value =
        client.post(format!("{}/api/trackers/1/tables/3/query", server.address)).json(&query).send().await.unwrap().json().await.unwrap();
    let titles = rows["slices"][0]["rows"].as_array().unwrap().iter().map(|r| r["cells"][0]["text"].as_str().unwrap().to_owned());
    let mut kept: Vec<String> = titles.filter(|t| t.starts_with("round")).collect();
    kept.sort();
    assert_eq!(kept, acknowledged, "each exactly once");
    // Every one of them is blocked, so every one has its mail: one.
    let mut mails: BTreeMap<String, usize> = BTreeMap::new();
    for _ in 0..150 {
        mails.clear();
        let room: Value = client.get(format!("{}/api/post-room", server.address)).send().await.unwrap().json().await.unwrap();
        for message in room.as_array().unwrap() {
            if let Some(title) = message["subject"].as_str().unwrap().strip_prefix("blocked: round") {
                *mails.entry(format!("round{title}")).or_default() += 1;
            }
        }
        if mails.len() >= acknowledged.len() {
            break;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    // Long enough for anything still on its way to come a second time.
    tokio::time::sleep(Duration::from_secs(3)).await;
    assert_eq!(mails.keys().cloned().collect::<Vec<_>>(), acknowledged, "a mail is missing");
    assert!(mails.values().all(|n| *n == 1), "a mail came twice: {mails:?}");
}

/// Sends an answer to the form under a key of its own; whether it was acknowledged.
async fn send(client: reqwest::Client, address: String, title: String) -> (String, bool) {
    let answers = json!({
        "41": { "text": title }, "45": { "text": "surface" }, "46": { "text": "blocked" }, "42": { "value": { "links": [1] } },
    });
    let body = reqwest::multipart::Form::new().text("answers", answers.to_string());
    let request = client.post(format!("{address}/api/public/forms/report-a-path-fault")).header("idempotency-key", &title).multipart(body);
    let taken = request.send().await.is_ok_and(|answer| answer.status().is_success());
    (title, taken)
}
