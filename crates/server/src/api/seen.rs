//! Whoever was told of a change sees it at whichever server they ask next: a cookie says how far they have seen a tracker.

use crate::{
    app::App,
    session::{cookie, cookie_of},
};
use axum::{
    extract::{Request, State},
    http::header,
    middleware::Next,
    response::Response,
};
use westerfall_core::id::TrackerId;

const COOKIE: &str = "westerfall-seen";
/// Seconds for which it is remembered: long enough for any server to follow.
const REMEMBERED: i64 = 30;

/// Waits where somebody has seen more than this server knows, and notes what a change came to.
pub(super) async fn in_order(State(app): State<App>, request: Request, next: Next) -> Response {
    let Some(tracker) = tracker_of(request.uri().path()) else { return next.run(request).await };
    let changes = !request.method().is_safe();
    let seen = cookie_of(request.headers(), COOKIE).and_then(|value| seen(&value, tracker));
    if let Some(seq) = seen
        && let Ok(live) = app.tracker(tracker).await
    {
        live.reach(seq).await;
    }
    let mut response = next.run(request).await;
    if changes
        && response.status().is_success()
        && let Ok(live) = app.tracker(tracker).await
        && let Ok(cookie) = cookie(&app, COOKIE, format!("{tracker}.{}", live.seq()), "/api", REMEMBERED)
    {
        response.headers_mut().append(header::SET_COOKIE, cookie);
    }
    response
}

fn tracker_of(path: &str) -> Option<TrackerId> {
    path.strip_prefix("/api/trackers/")?.split('/').next()?.parse().ok()
}

fn seen(value: &str, tracker: TrackerId) -> Option<u64> {
    let (of, seq) = value.split_once('.')?;
    (of.parse() == Ok(tracker)).then(|| seq.parse().ok())?
}
