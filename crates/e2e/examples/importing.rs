//! What importing costs beside `COPY` of the same file into a typed table, and what a change of kind costs. Its last lines are
//! `ratio NAME VALUE`: `import` is against the COPY (at most 4 is wanted), `import-preview` is seconds (1), `change-of-kind`
//! is seconds over 2.

use futures::SinkExt;
use serde_json::{Value, json};
use std::{
    fmt::Write,
    time::{Duration, Instant},
};
use tokio_postgres::NoTls;
use westerfall_e2e::Server;

const ROWS: usize = 100_000;

#[tokio::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let server = Server::start(20).await;
    let client = reqwest::Client::builder().cookie_store(true).build()?;
    client.post(format!("{}/api/demo/session", server.address)).json(&json!({ "person": 1 })).send().await?.error_for_status()?;
    let csv = file();
    let copied = copy(&csv).await?;
    let at = |path: &str| format!("{}/api/{path}", server.address);
    let ask = async |path: &str, body: Value| -> Result<Value, reqwest::Error> {
        client.post(at(path)).json(&body).send().await?.error_for_status()?.json().await
    };

    let begun = Instant::now();
    let part = reqwest::multipart::Part::text(csv).file_name("wells.csv");
    let form = reqwest::multipart::Form::new().part("file", part);
    let upload: Value = client.post(at("uploads")).multipart(form).send().await?.error_for_status()?.json().await?;
    let token = &upload["token"];
    let mut guess = ask("trackers/1/imports/guess", json!({ "token": token })).await?;
    let preview = begun.elapsed();
    // The codes are numbers; brought in as text, they are what the change of kind is tried on.
    guess["guess"]["plan"]["columns"][1]["becomes"]["field"]["kind"] = json!({ "type": "text", "limit": 1_000 });
    let kinds: Vec<&str> = guess["guess"]["plan"]["columns"]
        .as_array()
        .ok_or("no columns")?
        .iter()
        .map(|c| c["becomes"]["field"]["kind"]["type"].as_str().unwrap_or("linked"))
        .collect();
    let begun = Instant::now();
    let done = ask("trackers/1/imports", json!({ "token": token, "plan": guess["guess"]["plan"] })).await?;
    let imported = begun.elapsed();
    let table = done["done"]["made"].as_u64().ok_or("nothing was made")?;

    let tracker: Value = client.get(at("trackers/1")).send().await?.json().await?;
    let fields = tracker["tables"].as_array().and_then(|t| t.iter().find(|t| t["id"] == table)).ok_or("no table")?["fields"].clone();
    let field = fields.as_array().and_then(|f| f.iter().find(|f| f["name"] == "Code")).ok_or("no field")?["id"].clone();
    let path = format!("trackers/1/tables/{table}/fields/{field}/kind");
    let begun = Instant::now();
    let change = json!({ "to": { "kind": { "type": "number", "decimals": 0, "unit": "" } }, "rest": "empty" });
    ask(&path, change).await?;
    let changed = begun.elapsed();

    println!("{ROWS} rows of 12 columns, taken for {}", kinds.join(", "));
    println!("COPY into a typed table: {copied:?}; imported, durable, answered: {imported:?}");
    println!("file sent, read and guessed: {preview:?}; text made number in {ROWS} records: {changed:?}");
    println!("ratio import {:.2}", imported.as_secs_f64() / copied.as_secs_f64());
    println!("ratio import-preview {:.2}", preview.as_secs_f64());
    println!("ratio change-of-kind {:.2}", changed.as_secs_f64() / 2.0);
    Ok(())
}

fn file() -> String {
    let mut csv = String::from("Well,Code,Depth,Cost,Dug on,Open,Side,Keeper,Mail,Remark,Visits,Share\n");
    for n in 0..ROWS {
        let _ = writeln!(
            csv,
            "Well {n},{n},{}.{},{}.50,2026-{:02}-{:02},{},{},Keeper {},k{n}@wells.example,seen on day {} and found as it was,{},{}",
            n % 90,
            n % 10,
            n % 700,
            1 + n % 12,
            1 + n % 28,
            ["yes", "no"][n % 2],
            ["north", "south", "east", "west"][n % 4],
            n % 5_000,
            n % 365,
            n % 40,
            n % 7,
        );
    }
    csv
}

/// The same file into a typed table of its own.
async fn copy(csv: &str) -> Result<Duration, Box<dyn std::error::Error>> {
    let (client, connection) = tokio_postgres::connect(&format!("{}/postgres", std::env::var("WESTERFALL_TEST_SERVER")?), NoTls).await?;
    tokio::spawn(connection);
    client
        .batch_execute(
            "DROP TABLE IF EXISTS wells; CREATE TABLE wells (id INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY, well TEXT, code TEXT,
             depth NUMERIC, cost NUMERIC, dug DATE, open BOOLEAN, side TEXT, keeper TEXT, mail TEXT, remark TEXT, visits INTEGER, share INTEGER)",
        )
        .await?;
    let mut times = Vec::new();
    for _ in 0..5 {
        client.batch_execute("TRUNCATE wells").await?;
        let begun = Instant::now();
        let sink = client
            .copy_in("COPY wells (well, code, depth, cost, dug, open, side, keeper, mail, remark, visits, share) FROM STDIN (FORMAT csv, HEADER)")
            .await?;
        let mut sink = std::pin::pin!(sink);
        sink.send(bytes::Bytes::copy_from_slice(csv.as_bytes())).await?;
        sink.close().await?;
        times.push(begun.elapsed());
    }
    client.batch_execute("DROP TABLE wells").await?;
    times.sort();
    Ok(times[times.len() / 2])
}
