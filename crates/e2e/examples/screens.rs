//! Two hundred open screens, half of them of people who see a part alone, while fifty people edit as fast as the server answers,
//! on loopback only. Prints how many durable edits there were in a second, how long after an edit was begun a screen was told of
//! it, and what the server then holds in memory. Its last lines are `ratio NAME VALUE`, measured over wanted: `screens-edits`
//! 1,500 edits a second over how many there were, `screens-told` the median over 300 ms, `screens-told-last` the slowest hundredth
//! over 1 s, `screens-memory` over 600 MB. `WESTERFALL_WRITING_SECONDS` sets for how long (20, at most 120).

use serde_json::{Value, json};
use std::{
    collections::BTreeMap,
    sync::{Arc, Mutex},
    time::{Duration, Instant},
};
use westerfall_e2e::Server;

const SCREENS: usize = 200;
const PEOPLE: usize = 50;
const FAULTS: usize = 1_000;
const DESCRIPTION: u32 = 55;
/// Steward, editor, reader; and four wardens, who see their districts.
const ALL: [u32; 3] = [1, 6, 7];
const SOME: [u32; 4] = [2, 3, 4, 5];

/// By change: the record, and when its edit was begun.
type Begun = Arc<Mutex<BTreeMap<u64, (u64, Instant)>>>;
type Failed = Box<dyn std::error::Error + Send + Sync>;

#[tokio::main]
async fn main() -> Result<(), Failed> {
    let seconds = std::env::var("WESTERFALL_WRITING_SECONDS").ok().and_then(|n| n.parse().ok()).unwrap_or(20).min(120);
    let server = Server::start(FAULTS).await;
    let begun = Begun::default();
    let (stop, stopped) = tokio::sync::watch::channel(false);
    let mut screens = Vec::new();
    for screen in 0..SCREENS {
        let person = if screen % 2 == 0 { ALL[screen / 2 % ALL.len()] } else { SOME[screen / 2 % SOME.len()] };
        let client = signed_in(&server.address, person).await?;
        screens.push(tokio::spawn(look(client, server.address.clone(), begun.clone(), stopped.clone())));
    }
    tokio::time::sleep(Duration::from_secs(2)).await;
    let end = Instant::now() + Duration::from_secs(seconds);
    let mut writers = Vec::new();
    for record in 1..=PEOPLE {
        let client = signed_in(&server.address, 1).await?;
        writers.push(tokio::spawn(write(client, server.address.clone(), record as u64, end, begun.clone())));
    }
    let mut edits = 0;
    for writer in writers {
        edits += writer.await??;
    }
    let memory = memory(&server.address).await?;
    tokio::time::sleep(Duration::from_secs(2)).await;
    stop.send_replace(true);
    let mut times = Vec::new();
    for screen in screens {
        times.extend(screen.await??);
    }
    times.sort();
    let at = |hundredth: usize| times.get(times.len() * hundredth / 100).copied().unwrap_or_default();
    let rate = edits as f64 / seconds as f64;
    println!("{SCREENS} screens, {PEOPLE} people, {seconds} s: {rate:.0} durable edits a second");
    println!(
        "told {} times, half within {:?}, 99 of 100 within {:?}; the server holds {:.0} MB",
        times.len(),
        at(50),
        at(99),
        memory / 1e6
    );
    println!("ratio screens-edits {:.2}", 1_500.0 / rate);
    println!("ratio screens-told {:.2}", at(50).as_secs_f64() / 0.3);
    println!("ratio screens-told-last {:.2}", at(99).as_secs_f64());
    println!("ratio screens-memory {:.2}", memory / 600e6);
    Ok(())
}

async fn signed_in(address: &str, person: u32) -> Result<reqwest::Client, reqwest::Error> {
    let client = reqwest::Client::builder().cookie_store(true).build()?;
    client.post(format!("{address}/api/demo/session")).json(&json!({ "person": person })).send().await?.error_for_status()?;
    Ok(client)
}

/// Listens like an open screen; gives how long after its beginning each edit was told that may be seen.
async fn look(
    client: reqwest::Client,
    address: String,
    begun: Begun,
    mut stopped: tokio::sync::watch::Receiver<bool>,
) -> Result<Vec<Duration>, Failed> {
    let mut stream = client.get(format!("{address}/api/trackers/1/events")).send().await?.error_for_status()?;
    let (mut text, mut times, mut told) = (String::new(), Vec::new(), 0);
    loop {
        let piece = tokio::select! {
            piece = stream.chunk() => piece?,
            _ = stopped.changed() => return Ok(times),
        };
        let Some(piece) = piece else { return Err("a stream ended".into()) };
        text.push_str(std::str::from_utf8(&piece)?);
        while let Some((event, rest)) = text.split_once("\n\n") {
            let line = |name: &str| event.lines().find_map(|l| l.strip_prefix(name)).unwrap_or_default().trim().to_owned();
            let (seq, data) = (line("id:").parse::<u64>().ok(), line("data:"));
            text = rest.to_owned();
            let Some(seq) = seq else { continue };
            let data: Value = serde_json::from_str(&data)?;
            let seen = data["records"]["3"].as_array().cloned().unwrap_or_default();
            let begun = begun.lock().map_err(|_| "a writer fell over")?;
            let of_seen = begun.range(told + 1..=seq).filter(|(_, (record, _))| seen.iter().any(|one| one == record));
            times.extend(of_seen.map(|(_, (_, at))| at.elapsed()));
            told = told.max(seq);
        }
    }
}

/// Edits a record again and again; gives how often.
async fn write(client: reqwest::Client, address: String, record: u64, end: Instant, begun: Begun) -> Result<usize, Failed> {
    let mut count = 0;
    while Instant::now() < end {
        let text = format!("{record}: looked at {count} times");
        let edits = json!({ "edits": [{ "field": DESCRIPTION, "input": { "text": text } }] });
        let at = Instant::now();
        let answer = client.patch(format!("{address}/api/trackers/1/tables/3/records/{record}")).json(&edits).send().await?;
        let done: Value = answer.error_for_status()?.json().await?;
        let seq = done["seq"].as_u64().ok_or("no number of the change")?;
        begun.lock().map_err(|_| "a screen fell over")?.insert(seq, (record, at));
        count += 1;
    }
    Ok(count)
}

/// What the server holds, in bytes.
async fn memory(address: &str) -> Result<f64, Failed> {
    let text = reqwest::get(format!("{address}/metrics")).await?.error_for_status()?.text().await?;
    let line = text.lines().find_map(|line| line.strip_prefix("westerfall_memory_bytes ")).ok_or("no figure of memory")?;
    Ok(line.parse()?)
}
