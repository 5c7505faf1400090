//! A hundred trackers of five hundred faults each, held open while their day turns, and eight people who read and edit in them.
//! Prints how long requests took before midnight and over it. Its last line is `ratio midnight VALUE`: the slowest request over
//! 200 ms. Needs `faketime`, by which the server believes that midnight is half a minute away.

#![allow(clippy::cast_possible_truncation, clippy::cast_possible_wrap, clippy::cast_sign_loss, reason = "small figures of its own")]

use serde_json::{Value, json};
use std::time::{Duration, Instant};
use westerfall_e2e::Server;

const TRACKERS: u64 = 100;
const FAULTS: usize = 500;
const PEOPLE: u64 = 8;
const TITLE: u32 = 41;
/// The last minute of a day to come, so that nothing was made after it.
const BEFORE_MIDNIGHT: &str = "@2031-03-11 23:59:15";

type Failed = Box<dyn std::error::Error + Send + Sync>;

/// How long requests took, by whether they were answered in the last two seconds of the day or the first twelve of the next.
#[derive(Default)]
struct Took {
    before: Vec<Duration>,
    midnight: Vec<Duration>,
}

#[tokio::main]
async fn main() -> Result<(), Failed> {
    let mut server = Server::start(FAULTS).await;
    let steward = signed_in(&server.address).await?;
    let copy = json!({ "name": "A copy", "from": { "tracker": { "tracker": 1, "records": true } } });
    while trackers(&steward, &server.address).await?.len() < TRACKERS as usize {
        steward.post(format!("{}/api/trackers", server.address)).json(&copy).send().await?.error_for_status()?;
    }
    server.kill();
    server.restart_at(BEFORE_MIDNIGHT);
    let steward = signed_in(&server.address).await?;
    let all = trackers(&steward, &server.address).await?;
    let mut people = Vec::new();
    for person in 0..PEOPLE {
        let client = signed_in(&server.address).await?;
        people.push(tokio::spawn(work(client, server.address.clone(), all.clone(), person)));
    }
    let mut took = Took::default();
    for person in people {
        let own = person.await??;
        took.before.extend(own.before);
        took.midnight.extend(own.midnight);
    }
    let told = |name: &str, times: &mut Vec<Duration>| {
        times.sort();
        let at = |share: usize| times.get(times.len() * share / 1000).or(times.last()).copied().unwrap_or_default();
        println!("{name}: {} requests, half under {:?}, 99 of 100 under {:?}, all under {:?}", times.len(), at(500), at(990), at(1000));
        at(1000)
    };
    told("before midnight", &mut took.before);
    let slowest = told("over midnight", &mut took.midnight);
    println!("ratio midnight {:.2}", slowest.as_secs_f64() / 0.2);
    Ok(())
}

async fn signed_in(address: &str) -> Result<reqwest::Client, reqwest::Error> {
    let client = reqwest::Client::builder().cookie_store(true).build()?;
    client.post(format!("{address}/api/demo/session")).json(&json!({ "person": 1 })).send().await?.error_for_status()?;
    Ok(client)
}

/// The demo's large tracker and its copies.
async fn trackers(client: &reqwest::Client, address: &str) -> Result<Vec<u64>, Failed> {
    let list: Vec<Value> = client.get(format!("{address}/api/trackers")).send().await?.error_for_status()?.json().await?;
    // The demo has others, of other tables.
    let ours = list.iter().filter(|line| line["id"] == 1 || line["name"] == "A copy");
    Ok(ours.filter_map(|line| line["id"].as_u64()).collect())
}

/// Reads and edits in one tracker after the other until twelve seconds after midnight.
async fn work(client: reqwest::Client, address: String, all: Vec<u64>, person: u64) -> Result<Took, Failed> {
    let mut took = Took::default();
    for turn in 0_u64.. {
        let tracker = all[((turn * 7 + person * 13) % all.len() as u64) as usize];
        let record = format!("{address}/api/trackers/{tracker}/tables/3/records/{}", 1 + (turn + person * 50) % FAULTS as u64);
        let request = if turn.is_multiple_of(3) {
            let edits = json!({ "edits": [{ "field": TITLE, "input": { "text": format!("Seen {turn} times by {person}") } }] });
            client.patch(record).json(&edits)
        } else {
            client.get(record)
        };
        let begun = Instant::now();
        let answer = request.send().await?;
        // Two people in one record is nobody's slowness.
        if answer.status() != reqwest::StatusCode::CONFLICT {
            answer.error_for_status_ref()?;
        }
        let date = answer.headers().get("date").and_then(|v| v.to_str().ok()).unwrap_or_default().to_owned();
        let clock = date.split(' ').nth(4).unwrap_or_default().to_owned();
        answer.bytes().await?;
        match clock.as_str() {
            "" => return Err("an answer says no time".into()),
            late if ("00:00:12".."12:00:00").contains(&late) => break,
            late if !("12:00:00".."23:59:58").contains(&late) => took.midnight.push(begun.elapsed()),
            _ => took.before.push(begun.elapsed()),
        }
        tokio::time::sleep(Duration::from_millis(5)).await;
    }
    Ok(took)
}
