//! Live changes as server-sent events. An event says when to read again, never what: reading goes through the lens.

use super::KEEP_ALIVE;
use crate::{
    app::App,
    live::{Committed, clock_of},
    problem::{Path, Problem},
    session::Signed,
};
use axum::{
    extract::State,
    http::HeaderMap,
    response::sse::{Event, KeepAlive, Sse},
};
use futures::Stream;
use jiff::Timestamp;
use std::{convert::Infallible, sync::Arc};
use tokio::sync::{broadcast::error::RecvError, mpsc};
use tokio_stream::wrappers::ReceiverStream;
use westerfall_core::{
    access::{Asker, Heard, Lens},
    id::TrackerId,
};

/// Every change of a tracker that the asker may hear of, from now on; after a break, that something was missed.
///
/// Events: `heard` (a [`Heard`]), `anew` (read everything anew), `closed` (this tracker is no longer open to you).
#[utoipa::path(get, path = "/api/trackers/{tracker}/events", params(("tracker" = u32, Path)), responses((status = 200, body = Heard, content_type = "text/event-stream")))]
pub(super) async fn events(
    State(app): State<App>,
    signed: Signed,
    Path(tracker): Path<TrackerId>,
    headers: HeaderMap,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let live = app.tracker(tracker).await?;
    // Listen first, then look, so that nothing falls in between.
    let changes = live.subscribe();
    let look = live.look(signed.asker())?;
    let last: Option<u64> = headers.get("last-event-id").and_then(|v| v.to_str().ok()).and_then(|v| v.parse().ok());
    let missed = last.is_some_and(|last| last != look.dataset.seq);
    let (sender, receiver) = mpsc::channel(64);
    tokio::spawn(tell(signed.asker(), changes, sender, look.dataset.seq, missed));
    Ok(Sse::new(ReceiverStream::new(receiver)).keep_alive(KeepAlive::new().interval(KEEP_ALIVE)))
}

type Listener = mpsc::Sender<Result<Event, Infallible>>;

async fn tell(asker: Asker, mut changes: tokio::sync::broadcast::Receiver<Arc<Committed>>, listener: Listener, seq: u64, missed: bool) {
    // The number with which a listener resumes.
    let hello = Event::default().event(if missed { "anew" } else { "hello" }).id(seq.to_string()).data("{}");
    if listener.send(Ok(hello)).await.is_err() {
        return;
    }
    loop {
        let event = tokio::select! {
            () = listener.closed() => return,
            change = changes.recv() => match change {
                Ok(committed) if committed.change.as_ref().is_some_and(|c| c.seq <= seq) => continue,
                // With a new day, what is from today is another in every condition too.
                Ok(committed) if committed.before.day() != committed.after.day() => Event::default().event("anew").data("{}"),
                Ok(committed) => match heard(&committed, asker) {
                    Told::Nothing => continue,
                    Told::Closed => {
                        let _ = listener.send(Ok(Event::default().event("closed").data("{}"))).await;
                        return;
                    }
                    Told::Heard(heard) => {
                        let data = serde_json::to_string(&heard).unwrap_or_default();
                        Event::default().event("heard").id(heard.seq.to_string()).data(data)
                    }
                },
                Err(RecvError::Lagged(_)) => Event::default().event("anew").data("{}"),
                Err(RecvError::Closed) => return,
            },
        };
        if listener.send(Ok(event)).await.is_err() {
            return;
        }
    }
}

enum Told {
    Nothing,
    Heard(Heard),
    Closed,
}

fn heard(committed: &Committed, asker: Asker) -> Told {
    if let Asker::Person(person) = asker
        && committed.after.roles_of(person).next().is_none()
    {
        return Told::Closed;
    }
    let clock = clock_of(&committed.after, committed.change.as_ref().map_or_else(Timestamp::now, |c| c.at));
    let (before, after) = (Lens::new(&committed.before, asker, &clock), Lens::new(&committed.after, asker, &clock));
    Heard::of(committed.change.as_ref(), &committed.recomputed, &before, &after).map_or(Told::Nothing, Told::Heard)
}
