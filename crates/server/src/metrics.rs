//! What an operator watches, in the text format that monitoring programs read: counters since the start, and how things stand.

use crate::{app::App, limits::Client};
use axum::{
    extract::{ConnectInfo, Request, State},
    http::{HeaderMap, StatusCode, header},
    middleware::Next,
    response::{IntoResponse, Response},
};
use std::{
    fmt::Write,
    net::SocketAddr,
    sync::atomic::{AtomicU64, Ordering},
    time::Instant,
};

/// Upper bounds of the counted durations, in milliseconds.
const BOUNDS: [u64; 8] = [5, 20, 50, 100, 300, 1_000, 3_000, 10_000];

/// Answers by the first digit of their status.
static ANSWERS: [AtomicU64; 6] = [const { AtomicU64::new(0) }; 6];
/// Answers that took at most so long; the last: longer.
static TIMES: [AtomicU64; BOUNDS.len() + 1] = [const { AtomicU64::new(0) }; BOUNDS.len() + 1];
static MICROSECONDS: AtomicU64 = AtomicU64::new(0);

/// Counts each answer and how long it took to begin.
pub async fn count(request: Request, next: Next) -> Response {
    let begun = Instant::now();
    let response = next.run(request).await;
    let took = begun.elapsed();
    let class = usize::from(response.status().as_u16() / 100).min(ANSWERS.len() - 1);
    ANSWERS[class].fetch_add(1, Ordering::Relaxed);
    let place = BOUNDS.iter().position(|bound| took.as_millis() <= u128::from(*bound)).unwrap_or(BOUNDS.len());
    TIMES[place].fetch_add(1, Ordering::Relaxed);
    MICROSECONDS.fetch_add(u64::try_from(took.as_micros()).unwrap_or(u64::MAX), Ordering::Relaxed);
    response
}

/// How this server is. For this machine alone, or for whoever has the operator's token.
pub async fn metrics(State(app): State<App>, request: Request) -> Response {
    let peer = request.extensions().get::<ConnectInfo<SocketAddr>>().map(|info| info.0.ip());
    if !may_read(&app, peer, request.headers()) {
        return StatusCode::NOT_FOUND.into_response();
    }
    let mut text = String::new();
    let mut classes = String::new();
    for (class, count) in ANSWERS.iter().enumerate().skip(1) {
        let _ = writeln!(classes, "westerfall_answers_total{{status=\"{class}xx\"}} {}", count.load(Ordering::Relaxed));
    }
    let mut so_far = 0;
    let mut times = String::new();
    for (place, count) in TIMES.iter().enumerate() {
        so_far += count.load(Ordering::Relaxed);
        let bound = BOUNDS.get(place).map_or_else(|| "+Inf".to_owned(), |ms| format!("{}.{:03}", ms / 1_000, ms % 1_000));
        let _ = writeln!(times, "westerfall_answer_seconds_bucket{{le=\"{bound}\"}} {so_far}");
    }
    let micros = MICROSECONDS.load(Ordering::Relaxed);
    let _ = write!(
        text,
        "# TYPE westerfall_answers_total counter\n{classes}\
         # TYPE westerfall_answer_seconds histogram\n{times}\
         westerfall_answer_seconds_sum {}.{:06}\nwesterfall_answer_seconds_count {so_far}\n",
        micros / 1_000_000,
        micros % 1_000_000
    );
    let loaded = app.loaded().await;
    let listening: usize = loaded.iter().map(|live| live.listening()).sum();
    for (name, value) in [("trackers_loaded", loaded.len() as u64), ("screens_listening", listening as u64), ("memory_bytes", memory())] {
        let _ = writeln!(text, "# TYPE westerfall_{name} gauge\nwesterfall_{name} {value}");
    }
    match app.store.waiting_mails().await {
        Ok((waiting, failed)) => {
            let _ = writeln!(text, "# TYPE westerfall_mails gauge");
            let _ = writeln!(text, "westerfall_mails{{state=\"waiting\"}} {waiting}\nwesterfall_mails{{state=\"failed\"}} {failed}");
            let _ = writeln!(text, "# TYPE westerfall_database_up gauge\nwesterfall_database_up 1");
        }
        Err(_) => {
            let _ = writeln!(text, "# TYPE westerfall_database_up gauge\nwesterfall_database_up 0");
        }
    }
    ([(header::CONTENT_TYPE, "text/plain; version=0.0.4")], text).into_response()
}

fn may_read(app: &App, peer: Option<std::net::IpAddr>, headers: &HeaderMap) -> bool {
    match &app.settings.metrics_token {
        Some(token) => headers.get(header::AUTHORIZATION).is_some_and(|v| v.as_bytes() == format!("Bearer {token}").as_bytes()),
        None => Client::behind(&app.settings).address(peer, headers).is_loopback() && !headers.contains_key("x-forwarded-for"),
    }
}

/// What the process holds of the machine's memory, in bytes; 0 where that can't be known.
pub fn memory() -> u64 {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let line = status.lines().find_map(|line| line.strip_prefix("VmRSS:"));
    line.and_then(|line| line.split_whitespace().next()?.parse::<u64>().ok()).unwrap_or(0) * 1_024
}
