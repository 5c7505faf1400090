//! Live changes as server-sent events. An event says when to read again, never what: reading goes through the lens.

use super::KEEP_ALIVE;
use super::places::OfTracker;
use crate::here::Here;
use crate::{
    app::App,
    live::{Listener, Told},
    problem::Problem,
    session::Signed,
};
use axum::{
    http::HeaderMap,
    response::sse::{Event, KeepAlive, Sse},
};
use futures::Stream;
use jiff::Timestamp;
use std::{
    convert::Infallible,
    sync::{
        Arc,
        atomic::{AtomicBool, Ordering},
    },
};
use tokio::sync::{broadcast::error::RecvError, mpsc};
use tokio_stream::wrappers::ReceiverStream;
use westerfall_core::{access::Heard, id::TrackerId};

/// Events that wait for a slow line. Where more come, the screen reads everything anew.
const WAITING: usize = 16;

/// Every change of a tracker that the asker may hear of, from now on; after a break, that something was missed.
///
/// Events: `heard` (a [`Heard`]), `present` (somebody came, went on, or left: ask who is there), `anew` (read everything anew), `closed` (this tracker is no longer open to you).
#[utoipa::path(get, path = "/api/trackers/{tracker}/events", params(OfTracker), responses((status = 200, body = Heard, content_type = "text/event-stream")))]
pub(super) async fn events(here: Here, headers: HeaderMap) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let (line, told) = mpsc::channel(WAITING);
    // Listen first, then look, so that nothing falls in between.
    let from = here.look()?.dataset.seq;
    let missed_some = Arc::new(AtomicBool::new(false));
    here.live.listen(Listener { asker: here.caller.asker(), from, line, missed: missed_some.clone() });
    let now = here.look()?.dataset.seq;
    let last: Option<u64> = headers.get("last-event-id").and_then(|v| v.to_str().ok()).and_then(|v| v.parse().ok());
    let missed = last.is_some_and(|last| last != now) || from != now;
    let (sender, receiver) = mpsc::channel(WAITING);
    // The number with which a listener resumes.
    let hello = Event::default().event(if missed { "anew" } else { "hello" }).id(now.to_string()).data("{}");
    let _ = sender.try_send(Ok(hello));
    let signed = here.caller.signed()?.clone();
    tokio::spawn(tell(here.app, here.tracker, signed, told, missed_some, sender));
    Ok(Sse::new(ReceiverStream::new(receiver)).keep_alive(KeepAlive::new().interval(KEEP_ALIVE)))
}

type Line = mpsc::Sender<Result<Event, Infallible>>;

/// Tells for as long as somebody listens and their session goes on, here or at another server.
async fn tell(app: App, tracker: TrackerId, signed: Signed, mut told: mpsc::Receiver<Told>, missed: Arc<AtomicBool>, line: Line) {
    let mut ended = app.ended.subscribe();
    let mut moves = app.present.moves();
    let mut asked = tokio::time::interval(KEEP_ALIVE);
    asked.tick().await;
    let closed = || Event::default().event("closed").data("{}");
    let anew = || Event::default().event("anew").data("{}");
    loop {
        let (event, last) = tokio::select! {
            () = line.closed() => return,
            told = told.recv() => match told {
                None => return,
                Some(Told::Closed) => (closed(), true),
                Some(_) if missed.swap(false, Ordering::AcqRel) => (anew(), false),
                Some(Told::Anew) => (anew(), false),
                Some(Told::Heard(heard)) => {
                    let data = serde_json::to_string(&*heard).unwrap_or_default();
                    (Event::default().event("heard").id(heard.seq.to_string()).data(data), false)
                }
            },
            moved = moves.recv() => match moved {
                // Where some were missed, it is asked for once.
                Ok(at) if at == tracker => (Event::default().event("present").data("{}"), false),
                Err(RecvError::Lagged(_)) => (Event::default().event("present").data("{}"), false),
                Ok(_) => continue,
                Err(RecvError::Closed) => return,
            },
            token = ended.recv() => match token {
                Ok(token) if token == signed.token_hash => (closed(), true),
                Ok(_) | Err(RecvError::Lagged(_)) => continue,
                Err(RecvError::Closed) => return,
            },
            _ = asked.tick() => match app.store.session(&signed.token_hash, Timestamp::now()).await {
                Ok(Some(session)) if session.person == signed.person && session.stands_in == signed.stands_in => continue,
                Ok(_) => (closed(), true),
                // What can't be asked now is asked again.
                Err(_) => continue,
            },
        };
        if line.send(Ok(event)).await.is_err() || last {
            return;
        }
    }
}
