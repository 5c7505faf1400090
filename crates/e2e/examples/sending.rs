//! Two hundred people who answer a form for a minute, one answer in ten with a picture, on loopback only. Prints how long
//! sending and opening took, and whether all that was taken is there, once. Its last lines are `ratio NAME VALUE`, over what
//! is wanted: `form-sent` the slowest twentieth without a picture over 300 ms, `form-opened` over 50 ms.
//! `WESTERFALL_SENDING_SECONDS` sets for how long (60, at most 120).

use reqwest::multipart::{Form, Part};
use serde_json::{Value, json};
use std::{
    path::PathBuf,
    sync::Arc,
    time::{Duration, Instant},
};
use westerfall_e2e::Server;

const PEOPLE: usize = 200;
/// Between two answers of one person: nobody fills in a form faster.
const PAUSE: Duration = Duration::from_secs(2);
const FORM: &str = "api/public/forms/report-a-path-fault";
const FAULTS: usize = 1_000;

/// What one person saw.
#[derive(Default)]
struct Seen {
    plain: Vec<Duration>,
    pictured: Vec<Duration>,
    opened: Vec<Duration>,
}

#[tokio::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let seconds = std::env::var("WESTERFALL_SENDING_SECONDS").ok().and_then(|n| n.parse().ok()).unwrap_or(60).min(120);
    let server = Server::start(FAULTS).await;
    let picture = Arc::new(std::fs::read(PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots/home.png"))?);
    let end = Instant::now() + Duration::from_secs(seconds);
    let people = (0..PEOPLE).map(|n| tokio::spawn(person(server.address.clone(), n, end, picture.clone())));
    let mut all = Seen::default();
    for seen in futures::future::join_all(people).await {
        let seen = seen?.map_err(|e| e.to_string())?;
        all.plain.extend(seen.plain);
        all.pictured.extend(seen.pictured);
        all.opened.extend(seen.opened);
    }
    let sent = all.plain.len() + all.pictured.len();
    let there = count(&server).await? - FAULTS;
    println!("{PEOPLE} people, {seconds} s: {sent} answers were taken, {there} are there");
    println!("sent without a picture: {}", told(&mut all.plain));
    println!("sent with a picture: {}", told(&mut all.pictured));
    println!("opened: {}", told(&mut all.opened));
    assert_eq!(sent, there, "answers were lost or doubled");
    println!("ratio form-sent {:.2}", at(&all.plain, 95).as_secs_f64() / 0.3);
    println!("ratio form-opened {:.2}", at(&all.opened, 95).as_secs_f64() / 0.05);
    Ok(())
}

async fn person(address: String, n: usize, end: Instant, picture: Arc<Vec<u8>>) -> Result<Seen, reqwest::Error> {
    let client = reqwest::Client::new();
    let mut seen = Seen::default();
    // They do not all begin in the same moment.
    tokio::time::sleep(PAUSE.mul_f64(n as f64 / PEOPLE as f64)).await;
    for round in 0.. {
        if Instant::now() >= end {
            break;
        }
        let begun = Instant::now();
        client.get(format!("{address}/{FORM}")).send().await?.error_for_status()?.bytes().await?;
        seen.opened.push(begun.elapsed());
        let with_picture = (n + round).is_multiple_of(10);
        let key = format!("person {n} answer {round}");
        let begun = Instant::now();
        send(&client, &address, &key, with_picture.then(|| picture.to_vec())).await?;
        if with_picture { &mut seen.pictured } else { &mut seen.plain }.push(begun.elapsed());
        // Now and then the answer is lost on the way and sent again.
        if (n + round) % 20 == 1 {
            send(&client, &address, &key, None).await?;
        }
        tokio::time::sleep(PAUSE).await;
    }
    Ok(seen)
}

async fn send(client: &reqwest::Client, address: &str, key: &str, picture: Option<Vec<u8>>) -> Result<(), reqwest::Error> {
    let answers = json!({
        "41": { "text": key }, "45": { "text": "surface" }, "46": { "text": "awkward" }, "42": { "value": { "links": [7] } },
    });
    let mut body = Form::new().text("answers", answers.to_string());
    if let Some(bytes) = picture {
        body = body.part("file-54", Part::bytes(bytes).file_name("path.png"));
    }
    let request = client.post(format!("{address}/{FORM}")).header("idempotency-key", key).multipart(body);
    request.send().await?.error_for_status().map(drop)
}

async fn count(server: &Server) -> Result<usize, Box<dyn std::error::Error>> {
    let client = reqwest::Client::builder().cookie_store(true).build()?;
    client.post(format!("{}/api/demo/session", server.address)).json(&json!({ "person": 1 })).send().await?.error_for_status()?;
    let query = json!({ "query": { "fields": [{ "field": 41, "width": 1 }] }, "slices": [{ "start": 0, "count": 1 }] });
    let answer: Value = client.post(format!("{}/api/trackers/1/tables/3/query", server.address)).json(&query).send().await?.json().await?;
    Ok(usize::try_from(answer["total"].as_u64().ok_or("no total")?)?)
}

fn at(times: &[Duration], hundredth: usize) -> Duration {
    times.get((times.len() * hundredth / 100).min(times.len().saturating_sub(1))).copied().unwrap_or_default()
}

fn told(times: &mut [Duration]) -> String {
    times.sort();
    format!("{} times, half under {:?}, 95 of 100 under {:?}, all under {:?}", times.len(), at(times, 50), at(times, 95), at(times, 100))
}
