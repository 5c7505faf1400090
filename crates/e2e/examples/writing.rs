//! Fifty people who edit one tracker as fast as it answers, each a record of their own, on loopback only. Prints how many
//! durable edits there were in a second, how long they took, and whether all that was acknowledged is there. Its last lines are
//! `ratio NAME VALUE`, over what is wanted: `many-writers` 2,000 edits a second over how many there were, `many-writers-wait`
//! the slowest hundredth over 50 ms. `WESTERFALL_WRITING_SECONDS` sets for how long (20, at most 120).

use serde_json::{Value, json};
use std::time::{Duration, Instant};
use tokio_postgres::NoTls;
use westerfall_e2e::Server;

const PEOPLE: usize = 50;
const FAULTS: usize = 1_000;
const DESCRIPTION: u32 = 55;
const WANTED: f64 = 2_000.0;

#[tokio::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let seconds = std::env::var("WESTERFALL_WRITING_SECONDS").ok().and_then(|n| n.parse().ok()).unwrap_or(20).min(120);
    let server = Server::start(FAULTS).await;
    let end = Instant::now() + Duration::from_secs(seconds);
    let writers = (1..=PEOPLE).map(|record| tokio::spawn(write(server.address.clone(), record, end)));
    let mut times = Vec::new();
    let mut last = Vec::new();
    for written in futures::future::join_all(writers).await {
        let (took, text) = written?.map_err(|e| e.to_string())?;
        times.extend(took);
        last.push(text);
    }
    let lost = lost(&server.address, &last).await?;
    let bare = bare(Duration::from_secs(5)).await?;
    times.sort();
    let at = |hundredth: usize| times.get(times.len() * hundredth / 100).copied().unwrap_or_default();
    let rate = times.len() as f64 / seconds as f64;
    println!("{PEOPLE} people, {seconds} s: {rate:.0} durable edits a second, half under {:?}, 99 of 100 under {:?}", at(50), at(99));
    println!("{lost} of what was acknowledged last is not there; bare one-row updates by {PEOPLE} clients: {bare:.0} a second");
    assert_eq!(lost, 0, "acknowledged edits were lost");
    println!("ratio many-writers {:.2}", WANTED / rate);
    println!("ratio many-writers-wait {:.2}", at(99).as_secs_f64() / 0.05);
    Ok(())
}

async fn signed_in(address: &str) -> Result<reqwest::Client, reqwest::Error> {
    let client = reqwest::Client::builder().cookie_store(true).build()?;
    client.post(format!("{address}/api/demo/session")).json(&json!({ "person": 1 })).send().await?.error_for_status()?;
    Ok(client)
}

/// Edits a record again and again; gives how long each edit took, and what was put in last.
async fn write(address: String, record: usize, end: Instant) -> Result<(Vec<Duration>, String), reqwest::Error> {
    let client = signed_in(&address).await?;
    let mut times = Vec::new();
    let mut text = String::new();
    while Instant::now() < end {
        text = format!("{record}: looked at {} times", times.len() + 1);
        let edits = json!({ "edits": [{ "field": DESCRIPTION, "input": { "text": text } }] });
        let begun = Instant::now();
        client.patch(format!("{address}/api/trackers/1/tables/3/records/{record}")).json(&edits).send().await?.error_for_status()?;
        times.push(begun.elapsed());
    }
    Ok((times, text))
}

/// How many records do not hold what was put into them last.
async fn lost(address: &str, last: &[String]) -> Result<usize, Box<dyn std::error::Error>> {
    let query = json!({ "query": { "fields": [{ "field": DESCRIPTION, "width": 1 }] }, "slices": [{ "start": 0, "count": 500 }] });
    let client = signed_in(address).await?;
    let answer: Value = client.post(format!("{address}/api/trackers/1/tables/3/query")).json(&query).send().await?.json().await?;
    let rows = answer["slices"][0]["rows"].as_array().ok_or("no rows")?;
    let there = |text: &&String| rows.iter().any(|row| row["cells"][0]["text"] == **text);
    Ok(last.iter().filter(|text| !there(text)).count())
}

/// Bare one-row updates, each committed, by as many clients, in a second.
async fn bare(span: Duration) -> Result<f64, Box<dyn std::error::Error>> {
    let server = format!("{}/postgres", std::env::var("WESTERFALL_TEST_SERVER")?);
    let (client, connection) = tokio_postgres::connect(&server, NoTls).await?;
    tokio::spawn(connection);
    client
        .batch_execute(
            "DROP TABLE IF EXISTS bare; CREATE TABLE bare (id INTEGER PRIMARY KEY, n INTEGER); INSERT INTO bare SELECT n, 0 FROM generate_series(1, 50) n",
        )
        .await?;
    let end = Instant::now() + span;
    let update = |id: i32| {
        let server = server.clone();
        async move {
            let (client, connection) = tokio_postgres::connect(&server, NoTls).await?;
            tokio::spawn(connection);
            let update = client.prepare("UPDATE bare SET n = n + 1 WHERE id = $1").await?;
            let mut count = 0_u32;
            while Instant::now() < end {
                client.execute(&update, &[&id]).await?;
                count += 1;
            }
            Ok::<_, tokio_postgres::Error>(count)
        }
    };
    let counts = futures::future::try_join_all((1..=50).map(update)).await?;
    client.batch_execute("DROP TABLE bare").await?;
    Ok(f64::from(counts.iter().sum::<u32>()) / span.as_secs_f64())
}
