//! Two servers on one database, over lines to it that fail: nothing is lost, nothing hangs, and everybody sees their own writes.

use crate::fixture::*;
use axum::{
    body::Body,
    http::{Method, Request, StatusCode, header},
};
use serde_json::json;
use std::{
    net::SocketAddr,
    sync::{Arc, Mutex},
    time::{Duration, Instant},
};
use tokio::{
    io::{AsyncReadExt, AsyncWriteExt},
    net::{TcpListener, TcpStream, tcp},
    sync::watch,
    task::AbortHandle,
};
use westerfall_server::settings::Settings;

/// A way to the database that a test can hold up and cut.
struct Line {
    at: SocketAddr,
    held: watch::Sender<bool>,
    open: Arc<Mutex<Vec<AbortHandle>>>,
}

impl Line {
    async fn to(server: String) -> Self {
        let listener = TcpListener::bind("127.0.0.1:0").await.expect("a free port");
        let at = listener.local_addr().expect("its address");
        let (held, hears) = watch::channel(false);
        let open = Arc::new(Mutex::new(Vec::new()));
        let kept = open.clone();
        tokio::spawn(async move {
            while let Ok((near, _)) = listener.accept().await {
                let (server, hears) = (server.clone(), hears.clone());
                let line = tokio::spawn(async move {
                    let Ok(far) = TcpStream::connect(server).await else { return };
                    let ((from_near, to_near), (from_far, to_far)) = (near.into_split(), far.into_split());
                    tokio::join!(carry(from_near, to_far, hears.clone()), carry(from_far, to_near, hears));
                });
                kept.lock().expect("nobody fell over").push(line.abort_handle());
            }
        });
        Self { at, held, open }
    }

    /// What a server is told to find the world’s database over this line.
    fn address(&self, world: &World) -> String {
        let url = world.address();
        let (who, rest) = url.split_once('@').expect("an address with a name");
        format!("{who}@{}/{}", self.at, rest.rsplit('/').next().expect("a database"))
    }

    fn hold(&self) {
        self.held.send_replace(true);
    }

    fn let_go(&self) {
        self.held.send_replace(false);
    }

    /// Cuts every connection that is open; new ones are let through.
    fn cut(&self) {
        self.open.lock().expect("nobody fell over").drain(..).for_each(|line| line.abort());
    }
}

async fn carry(mut from: tcp::OwnedReadHalf, mut to: tcp::OwnedWriteHalf, mut held: watch::Receiver<bool>) {
    let mut piece = [0_u8; 16_384];
    while let Ok(count @ 1..) = from.read(&mut piece).await {
        if held.wait_for(|held| !held).await.is_err() || to.write_all(&piece[..count]).await.is_err() {
            return;
        }
    }
}

async fn lined(world: &World, settings: Settings) -> (Line, World) {
    let url = world.address();
    let host = url.split_once('@').and_then(|(_, rest)| rest.split_once('/')).expect("a host").0.to_owned();
    let line = Line::to(host).await;
    let other = world.by(&line.address(world), settings).await;
    other.app.listen();
    (line, other)
}

async fn title(client: &Client) -> String {
    let rows = client.rows(FAULT_TABLE, &[TITLE]).await;
    let row = rows["rows"].as_array().unwrap().iter().find(|row| row["id"] == 1).unwrap();
    row["cells"][0]["text"].as_str().or_else(|| row["cells"][0].as_str()).unwrap_or_default().to_owned()
}

async fn called(client: &Client, words: &str) -> StatusCode {
    client.edit(1, TITLE, json!({ "text": words }), json!(null)).await.0
}

#[tokio::test(flavor = "multi_thread")]
async fn a_server_whose_line_broke_catches_up_within_seconds() {
    let world = World::new().await;
    let (line, other) = lined(&world, settings()).await;
    let (here, there) = (world.person(NADIA).await, other.person(NADIA).await);
    assert_eq!(called(&here, "Before the break").await, StatusCode::OK);
    within(3_000, async || title(&there).await == "Before the break").await;
    line.cut();
    assert_eq!(called(&here, "While it was cut").await, StatusCode::OK);
    within(5_000, async || title(&there).await == "While it was cut").await;
}

/// Asks again until it holds; fails after so many milliseconds.
async fn within(milliseconds: u64, holds: impl AsyncFn() -> bool) {
    let end = Instant::now() + Duration::from_millis(milliseconds);
    while !holds().await {
        assert!(Instant::now() < end, "still not so after {milliseconds} ms");
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_wrote_at_one_server_reads_it_at_the_other_at_once() {
    let world = World::new().await;
    let other = world.beside().await;
    let (here, there) = (world.person(NADIA).await, other.person(NADIA).await);
    title(&there).await;
    for n in 0..20 {
        let body = json!({ "edits": [{ "field": TITLE, "input": { "text": format!("Turn {n}") }, "was": null }] });
        let told = here.raw(Method::PATCH, &record_path(1), &body.to_string(), &[]).await;
        assert_eq!(told.status(), StatusCode::OK);
        let seen = told
            .headers()
            .get_all(header::SET_COOKIE)
            .iter()
            .filter_map(|v| v.to_str().ok())
            .find(|c| c.starts_with("westerfall-seen="))
            .unwrap();
        let both = format!("{}; {}", there.cookie.as_deref().unwrap(), seen.split(';').next().unwrap());
        let again = there.with(Some(both));
        assert_eq!(title(&again).await, format!("Turn {n}"));
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn many_who_write_at_two_servers_are_all_taken() {
    let world = World::new().await;
    let other = world.beside().await;
    let clients = [world.person(NADIA).await, other.person(NADIA).await];
    let mut all = tokio::task::JoinSet::new();
    for n in 0..40 {
        let client = clients[n % 2].clone();
        all.spawn(async move {
            let mut taken = 0;
            for turn in 0..5 {
                let (status, body) =
                    client.edit(u32::try_from(n + 1).unwrap(), DESCRIPTION, json!({ "text": format!("{n} {turn}") }), json!(null)).await;
                assert_eq!(status, StatusCode::OK, "{body}");
                taken += 1;
            }
            taken
        });
    }
    assert_eq!(all.join_all().await.into_iter().sum::<usize>(), 200);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_chosen_at_one_server_is_read_at_the_other() {
    let world = World::new().await;
    let other = world.beside().await;
    let (here, there) = (world.person(NADIA).await, other.person(NADIA).await);
    let body =
        "--edge\r\nContent-Disposition: form-data; name=\"file\"; filename=\"wells.csv\"\r\n\r\nWell,Depth\r\nHollin,3\r\n\r\n--edge--\r\n";
    let request = Request::post("/api/uploads")
        .header(header::CONTENT_TYPE, "multipart/form-data; boundary=edge")
        .header(header::COOKIE, here.cookie.clone().unwrap())
        .body(Body::from(body))
        .unwrap();
    let (status, told) = read(here.send(request).await).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    let ask = json!({ "token": told["token"], "sheet": 0 });
    let (status, guess) = there.post("/api/trackers/1/imports/guess", ask.clone()).await;
    assert_eq!((status, guess["file"].as_str()), (StatusCode::OK, Some("wells.csv")), "{guess}");
    // Nobody else finds it.
    assert!(other.person(TAMSIN).await.post("/api/trackers/1/imports/guess", ask).await.0.is_client_error());
}

#[tokio::test(flavor = "multi_thread")]
async fn while_the_database_is_away_one_is_told_and_afterwards_it_goes_on() {
    let world = World::new().await;
    let short = Settings { request_time: Duration::from_secs(2), ..settings() };
    let (line, other) = lined(&world, short).await;
    let there = other.person(NADIA).await;
    assert_eq!(called(&there, "Before").await, StatusCode::OK);
    line.hold();
    let since = Instant::now();
    let body = json!({ "edits": [{ "field": TITLE, "input": { "text": "Meanwhile" }, "was": null }] }).to_string();
    let path = record_path(1);
    let told = futures::future::join_all((0..12).map(|_| there.raw(Method::PATCH, &path, &body, &[]))).await;
    for answer in told {
        assert_eq!(answer.status(), StatusCode::SERVICE_UNAVAILABLE);
        assert!(answer.headers().contains_key(header::RETRY_AFTER));
    }
    assert!(since.elapsed() < Duration::from_secs(8), "each was told within its limit");
    assert_eq!(there.raw(Method::GET, "/readyz", "", &[]).await.status(), StatusCode::SERVICE_UNAVAILABLE);
    line.let_go();
    within(20_000, async || called(&there, "Afterwards").await == StatusCode::OK).await;
    assert_eq!(title(&there).await, "Afterwards");
    // Both servers have the same story.
    let here = world.person(NADIA).await;
    within(3_000, async || title(&here).await == "Afterwards").await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_line_that_is_cut_amid_writing_loses_and_doubles_nothing() {
    let world = World::new().await;
    let (line, other) = lined(&world, settings()).await;
    let there = other.person(NADIA).await;
    let before = world.count("SELECT count(*) FROM change WHERE tracker_id = 1").await;
    let mut taken = 0;
    for n in 0..60 {
        if n % 20 == 10 {
            line.cut();
        }
        match called(&there, &format!("Round {n}")).await {
            StatusCode::OK => taken += 1,
            status => assert_eq!(status, StatusCode::SERVICE_UNAVAILABLE),
        }
    }
    within(5_000, async || called(&there, "The last").await == StatusCode::OK).await;
    let kept = world.count("SELECT count(*) FROM change WHERE tracker_id = 1").await - before;
    // What was told as taken is kept; of what was cut nobody was told more than “unknown”.
    assert!(kept > taken, "{kept} kept, {taken} told");
    assert!(taken >= 40, "{taken} of 60");
    let here = world.again(settings()).await.person(NADIA).await;
    assert_eq!(title(&here).await, "The last");
}
