//! What a durable edit costs over HTTP beside a bare one-row update, and how long a cold tracker takes to open. Its last lines
//! are `ratio NAME VALUE`: `edit-over-http` is against the bare update (at most 10 is wanted), `cold-opening` is seconds over 2,
//! `bulk-durable` (10,000 records changed at once) and `again-durable` (1,000 made again with their lines) are seconds over 1.

use serde_json::{Value, json};
use std::time::{Duration, Instant};
use tokio_postgres::NoTls;
use westerfall_e2e::Server;

const ROUNDS: usize = 301;
/// The same of what changes much.
const FEW: usize = 5;
/// The fields of faults and work orders by which they are asked for: a text each has.
const TITLE: u32 = 41;
const LINES: u32 = 279;

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
    let bulk = changed_at_once(&client, &server).await?;
    let (again, lines) = made_again(&client, &server).await?;
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
    println!("10,000 records changed at once: {bulk:?}; 1,000 made again with {lines} lines: {again:?}; medians of {FEW}");
    println!("ratio cold-opening {:.2}", opened.as_secs_f64() / 2.0);
    println!("ratio bulk-durable {:.2}", bulk.as_secs_f64());
    println!("ratio again-durable {:.2}", again.as_secs_f64());
    Ok(())
}

async fn sign_in(client: &reqwest::Client, server: &Server) -> Result<(), reqwest::Error> {
    client.post(format!("{}/api/demo/session", server.address)).json(&json!({ "person": 1 })).send().await?.error_for_status().map(drop)
}

/// Another text in each of ten thousand records, as one step.
async fn changed_at_once(client: &reqwest::Client, server: &Server) -> Result<Duration, Box<dyn std::error::Error>> {
    let records: Vec<u32> = (1..=10_000).collect();
    let mut times = Vec::new();
    for n in 0..FEW {
        let alter = json!([{ "field": TITLE, "to": { "set": { "text": format!("Round {n}") } } }]);
        let body = json!({ "records": records, "query": { "fields": [{ "field": TITLE, "width": 1 }] }, "alter": alter });
        let begun = Instant::now();
        let answer = client.post(format!("{}/api/trackers/1/tables/3/bulk", server.address)).json(&body).send().await?;
        times.push(begun.elapsed());
        assert!(answer.status().is_success(), "{}", answer.text().await?);
    }
    Ok(median(times))
}

/// A thousand work orders made again with their lines, as one step; with how many lines that were.
async fn made_again(client: &reqwest::Client, server: &Server) -> Result<(Duration, i64), Box<dyn std::error::Error>> {
    let at = format!("{}/api/trackers/1/tables/6", server.address);
    let query = json!({ "query": { "fields": [{ "field": LINES, "width": 1 }] }, "slices": [{ "start": 0, "count": 500 }] });
    let rows: Value = client.post(format!("{at}/query")).json(&query).send().await?.json().await?;
    let known: Vec<u64> = rows["slices"][0]["rows"].as_array().into_iter().flatten().filter_map(|row| row["id"].as_u64()).collect();
    let again = async |records: &[u64]| -> Result<(Duration, Vec<u64>), Box<dyn std::error::Error>> {
        let by = json!({ "name": "", "lines": true, "links": false, "moves": [], "empties": [] });
        let begun = Instant::now();
        let answer = client.post(format!("{at}/again")).json(&json!({ "records": records, "by": by })).send().await?;
        let took = begun.elapsed();
        let done: Value = answer.error_for_status()?.json().await?;
        Ok((took, done["added"].as_array().into_iter().flatten().filter_map(Value::as_u64).collect()))
    };
    let mut thousand = known.clone();
    while thousand.len() < 1_000 {
        let more = known.len().min(1_000 - thousand.len());
        thousand.extend(again(&known[..more]).await?.1.into_iter().take(more));
    }
    let before = lines_of(client, server).await?;
    let mut times = Vec::new();
    for _ in 0..FEW {
        times.push(again(&thousand).await?.0);
    }
    let lines = (lines_of(client, server).await? - before) / i64::try_from(FEW)?;
    Ok((median(times), lines))
}

/// How many material lines there are.
async fn lines_of(client: &reqwest::Client, server: &Server) -> Result<i64, Box<dyn std::error::Error>> {
    let query = json!({ "query": { "fields": [] }, "slices": [] });
    let told: Value = client.post(format!("{}/api/trackers/1/tables/5/query", server.address)).json(&query).send().await?.json().await?;
    Ok(told["row_count"].as_i64().unwrap_or_default())
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
