//! Answers as they are followed, at their private addresses.

use super::{At, form_of};
use crate::{
    api::KEEP_ALIVE,
    app::App,
    problem::{Json, Path, Problem},
};
use axum::{
    extract::State,
    response::sse::{Event, KeepAlive, Sse},
};
use futures::Stream;
use sha2::{Digest, Sha256};
use std::{collections::BTreeMap, convert::Infallible, time::Duration};
use tokio::sync::{broadcast::error::RecvError, mpsc};
use tokio_stream::wrappers::ReceiverStream;
use westerfall_core::{
    access::Asker,
    fault::Fault,
    form::{Followed, Form, Responding},
    id::{FieldId, RecordId},
    intent::Intent,
    value::Input,
};

/// Changes that come within this time are told together.
const TOGETHER: Duration = Duration::from_millis(150);

/// The hash under which a private address is kept.
pub(super) fn hash(secret: &str) -> String {
    hex(&Sha256::digest(secret.as_bytes()))
}

pub(super) fn hex(bytes: &[u8]) -> String {
    data_encoding::HEXLOWER.encode(bytes)
}

async fn followed(app: &App, secret: &str) -> Result<(At, RecordId), Problem> {
    let unknown = || Problem::from(Fault::not_found("answer"));
    let (tracker, table, record) = app.store.receipt(&hash(secret)).await?.ok_or_else(unknown)?;
    let live = app.tracker(tracker).await?;
    let dataset = live.now();
    let form = Form::of_answer(&dataset, table, record).ok_or_else(unknown)?.id;
    Ok((At { live, tracker, form }, record))
}

/// How an answer stands, at its private address.
#[utoipa::path(get, path = "/api/public/answers/{secret}", params(("secret" = String, Path)), responses((status = 200, body = Followed)))]
pub(in crate::api) async fn follow(State(app): State<App>, Path(secret): Path<String>) -> Result<Json<Followed>, Problem> {
    let (at, record) = followed(&app, &secret).await?;
    let look = at.look()?;
    let team = app.team.now();
    let responding = Responding { form: form_of(&look, at.form)?, ds: &look.dataset, clock: &look.clock, team: team.face() };
    Ok(Json(responding.followed(record)?))
}

/// Changes of an answer what its respondent still may.
#[utoipa::path(post, path = "/api/public/answers/{secret}", params(("secret" = String, Path)), request_body = BTreeMap<String, Input>, responses((status = 200, body = Followed)))]
pub(in crate::api) async fn amend(
    State(app): State<App>,
    Path(secret): Path<String>,
    Json(answers): Json<BTreeMap<FieldId, Input>>,
) -> Result<Json<Followed>, Problem> {
    let (at, record) = followed(&app, &secret).await?;
    let intent = Intent::Amend { form: at.form, record, answers: answers.into_iter().collect() };
    at.live.act(Asker::Form(at.form), intent).await?;
    let look = at.look()?;
    let team = app.team.now();
    let responding = Responding { form: form_of(&look, at.form)?, ds: &look.dataset, clock: &look.clock, team: team.face() };
    Ok(Json(responding.followed(record)?))
}

/// Tells an answer's private page when to look again: whenever what its respondent may see has changed. Events: `look`.
#[utoipa::path(get, path = "/api/public/answers/{secret}/events", params(("secret" = String, Path)), responses((status = 200, body = String, content_type = "text/event-stream")))]
pub(in crate::api) async fn follow_live(
    State(app): State<App>,
    Path(secret): Path<String>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let (at, record) = followed(&app, &secret).await?;
    let (listener, events) = mpsc::channel(4);
    tokio::spawn(tell_follower(app, at, record, listener));
    Ok(Sse::new(ReceiverStream::new(events)).keep_alive(KeepAlive::new().interval(KEEP_ALIVE)))
}

async fn tell_follower(app: App, at: At, record: RecordId, listener: mpsc::Sender<Result<Event, Infallible>>) {
    let stands = || {
        let look = at.look().ok()?;
        let form = look.dataset.form(at.form)?;
        Responding { form, ds: &look.dataset, clock: &look.clock, team: app.team.now().face() }.followed(record).ok()
    };
    let mut told = None;
    loop {
        // Listen first, then look, so that nothing falls in between.
        let mut changes = at.live.subscribe();
        let now = Some(stands());
        if now != told {
            if listener.send(Ok(Event::default().event("look").data("{}"))).await.is_err() {
                return;
            }
            told = now;
        }
        tokio::select! {
            () = listener.closed() => return,
            change = changes.recv() => if matches!(change, Err(RecvError::Closed)) { return },
        }
        tokio::time::sleep(TOGETHER).await;
    }
}
