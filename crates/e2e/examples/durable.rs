//! What a durable edit costs over HTTP beside a bare one-row update, and how long a cold tracker takes to open. Its last lines
//! are `ratio NAME VALUE`: `edit-over-http` is against the bare update (at most 10 is wanted), `cold-opening` is seconds over 2.

use serde_json::{Value, json};
use std::time::{Duration, Instant};
use tokio_postgres::NoTls;
use westerfall_e2e::Server;

const ROUNDS: usize = 301;

#[tokio::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let faults = std::env::var("WESTERFALL_BENCH_FAULTS").ok().and_then(|n| n.parse().ok()).unwrap_or(100_000);
    let mut server = Server::start(faults).await;
    let client = reqwest::Client::builder().cookie_store(true).build()?;
    sign_in(&client, &server).await?;
    let mut times = Vec::new();
    for n in 0..ROUNDS {
        // A quantity reaches the line's cost, its order's total and its district's spending.
        let body = json!({ "edits": [{ "field": 253, "input": { "text": (n % 50 + 1).to_string() } }] });
        let begun = Instant::now();
        let answer = client.patch(format!("{}/api/trackers/1/tables/5/records/7", server.address)).json(&body).send().await?;
        times.push(begun.elapsed());
        assert!(answer.status().is_success(), "{}", answer.text().await?);
    }
    let edit = median(times);
    let bare = bare_update().await?;
    server.kill();
    let begun = Instant::now();
    server.restart();
    sign_in(&client, &server).await?;
    let query = json!({ "query": { "fields": [{ "field": 41, "width": 1 }] }, "slices": [{ "start": 0, "count": 100 }] });
    let answer: Value = client.post(format!("{}/api/trackers/1/tables/3/query", server.address)).json(&query).send().await?.json().await?;
    let opened = begun.elapsed();
    assert_eq!(answer["slices"][0]["rows"].as_array().map(Vec::len), Some(100));
    println!("{faults} faults; medians of {ROUNDS} rounds");
    println!("one edit over HTTP: {edit:?}, a bare UPDATE … COMMIT: {bare:?}");
    println!("from the start of the program to the first rows: {opened:?}");
    println!("ratio edit-over-http {:.2}", edit.as_secs_f64() / bare.as_secs_f64());
    println!("ratio cold-opening {:.2}", opened.as_secs_f64() / 2.0);
    Ok(())
}

async fn sign_in(client: &reqwest::Client, server: &Server) -> Result<(), reqwest::Error> {
    client.post(format!("{}/api/demo/session", server.address)).json(&json!({ "person": 1 })).send().await?.error_for_status().map(drop)
}

/// One row of a table of its own, updated and committed, again and again.
async fn bare_update() -> Result<Duration, Box<dyn std::error::Error>> {
    let (client, connection) = tokio_postgres::connect(&format!("{}/postgres", std::env::var("WESTERFALL_TEST_SERVER")?), NoTls).await?;
    tokio::spawn(connection);
    client
        .batch_execute("DROP TABLE IF EXISTS bare; CREATE TABLE bare (id INTEGER PRIMARY KEY, n INTEGER); INSERT INTO bare VALUES (1, 0)")
        .await?;
    let update = client.prepare("UPDATE bare SET n = n + 1 WHERE id = 1").await?;
    let mut times = Vec::new();
    for _ in 0..ROUNDS {
        let begun = Instant::now();
        client.execute(&update, &[]).await?;
        times.push(begun.elapsed());
    }
    client.batch_execute("DROP TABLE bare").await?;
    Ok(median(times))
}

fn median(mut times: Vec<Duration>) -> Duration {
    times.sort();
    times[times.len() / 2]
}
