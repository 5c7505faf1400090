//! Files on records. A file is given to whoever may see the cell, or the talk, that holds it.

use super::places::OfCell;
use crate::here::{Caller, Here};
use crate::{
    app::App,
    live::{Done, Look, rehearse},
    pictures::{self, small_id},
    pieces::{self, Arrived},
    problem::{Json, Path, Problem, Query},
    refusal::Refusal,
    sorts,
};
use axum::{
    body::Body,
    extract::State,
    http::{HeaderMap, HeaderName, HeaderValue, StatusCode, header},
    response::{IntoResponse, Response},
};
use percent_encoding::{NON_ALPHANUMERIC, utf8_percent_encode};
use serde::{Deserialize, Serialize};
use std::ops::Range;
use utoipa::ToSchema;
use westerfall_core::{
    fault::Fault,
    id::{FieldId, RecordId, TableId, TrackerId},
    intent::{Edit, Intent},
    value::{Attachment, Cell, Input},
};

/// Most files that are put on a record at once.
const AT_ONCE: usize = 40;
/// Most bytes of them: pictures are in memory until all of them are kept.
const BYTES_AT_ONCE: u64 = 2 * pieces::LARGEST;

/// How a file is asked for.
#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(super) struct Size {
    /// A small one, for lists.
    #[serde(default)]
    small: bool,
    /// To be kept and not shown, whatever it is.
    #[serde(default)]
    keep: bool,
}

/// A file's content, or a run of it.
#[utoipa::path(get, path = "/api/files/{file}", params(("file" = String, Path), Size), responses((status = 200, body = Vec<u8>, content_type = "*/*")))]
pub(super) async fn file(
    State(app): State<App>,
    caller: Caller,
    Path(id): Path<String>,
    Query(size): Query<Size>,
    headers: HeaderMap,
) -> Result<Response, Problem> {
    let wanted = Wanted { small: size.small, keep: size.keep, range: headers.get(header::RANGE) };
    let Some((tracker, ..)) = app.store.file(&id).await?.and_then(|row| row.place()) else {
        // One of a record on its way is its owner's alone.
        let own = match caller.person() {
            Ok(me) => app.store.draft_file(me, &id).await?,
            Err(_) => None,
        };
        let (name, media) = own.ok_or_else(|| Problem::from(Fault::not_found("file")))?;
        return given(&app, &id, (&name, &media), wanted).await;
    };
    let live = app.tracker(tracker).await?;
    content(&app, &id, wanted, |_| live.look(caller.asker()).ok()).await
}

/// What of a file is wanted.
#[derive(Clone, Copy, Default)]
pub(super) struct Wanted<'a> {
    pub(super) small: bool,
    pub(super) keep: bool,
    pub(super) range: Option<&'a HeaderValue>,
}

/// A file's content, or its small picture, for whoever may see the cell or the talk that holds it. `look`: how its tracker is looked at.
pub(super) async fn content(
    app: &App,
    id: &str,
    wanted: Wanted<'_>,
    look: impl FnOnce(TrackerId) -> Option<Look>,
) -> Result<Response, Problem> {
    let unknown = || Problem::from(Fault::not_found("file"));
    let row = app.store.file(id).await?.ok_or_else(unknown)?;
    let (tracker, table, record, field) = row.place().ok_or_else(unknown)?;
    let look = look(tracker).ok_or_else(unknown)?;
    let holds = {
        let lens = look.lens();
        field.map_or_else(|| lens.holds_talk_file(table, id), |field| lens.holds_file(table, record, field, id))
    };
    if !holds {
        return Err(unknown());
    }
    given(app, id, (&row.name, &row.media), wanted).await
}

/// A file's bytes, or its small picture, as they are wanted.
async fn given(app: &App, id: &str, (name, media): (&str, &str), wanted: Wanted<'_>) -> Result<Response, Problem> {
    if wanted.small
        && let Some(small) = app.files.get(&small_id(id)).await?
    {
        return Ok(sent("image/jpeg", name, false, small.into_response()));
    }
    let keep = wanted.keep || !sorts::is_shown(media);
    let size = app.files.size(id).await?.ok_or_else(|| Problem::from(Refusal::FileGone))?;
    let range = wanted.range.and_then(|range| asked_range(range, size));
    let (_, stream) = app.files.stream(id, range.clone()).await?.ok_or_else(|| Problem::from(Fault::not_found("file")))?;
    let mut response = Body::from_stream(stream).into_response();
    let headers = response.headers_mut();
    headers.insert(header::ACCEPT_RANGES, HeaderValue::from_static("bytes"));
    let length = range.as_ref().map_or(size, |range| range.end - range.start);
    headers.insert(header::CONTENT_LENGTH, HeaderValue::from(length));
    if let Some(Range { start, end }) = range {
        let told = format!("bytes {start}-{}/{size}", end - 1);
        headers.extend(HeaderValue::from_str(&told).map(|told| (header::CONTENT_RANGE, told)));
        *response.status_mut() = StatusCode::PARTIAL_CONTENT;
    }
    Ok(sent(media, name, keep, response))
}

/// The one run of a file that is asked for; none: all of it.
fn asked_range(asked: &HeaderValue, size: u64) -> Option<Range<u64>> {
    let ranges = http_range_header::parse_range_header(asked.to_str().ok()?).ok()?.validate(size).ok()?;
    let [range] = &ranges[..] else { return None };
    Some(*range.start()..range.end().checked_add(1)?)
}

/// A file on its way, so that it can never act as a page of ours, whatever is in it.
fn sent(media: &str, name: &str, keep: bool, mut response: Response) -> Response {
    let how = if keep { "attachment" } else { "inline" };
    let named = format!("{how}; filename*=UTF-8''{}", utf8_percent_encode(name, NON_ALPHANUMERIC));
    let media = if media == sorts::TEXT { "text/plain; charset=utf-8" } else { media };
    // The reader of PDFs that browsers have shows nothing in a closed box.
    let policy = if media == sorts::PDF { "default-src 'none'; frame-ancestors 'self'" } else { "default-src 'none'; sandbox" };
    let headers: [(HeaderName, &str); 4] = [
        (header::CONTENT_TYPE, media),
        (header::CONTENT_DISPOSITION, &named),
        (header::CONTENT_SECURITY_POLICY, policy),
        (header::CACHE_CONTROL, "private, max-age=300"),
    ];
    for (header, value) in headers {
        if let Ok(value) = HeaderValue::from_str(value) {
            response.headers_mut().insert(header, value);
        }
    }
    if policy.contains("frame-ancestors") {
        response.headers_mut().insert(header::X_FRAME_OPTIONS, HeaderValue::from_static("SAMEORIGIN"));
    }
    response
}

/// A file that is about to come.
#[derive(Deserialize, ToSchema)]
pub(super) struct ComingBody {
    name: String,
    /// In bytes.
    size: u64,
}

/// A file on its way.
#[derive(Serialize, ToSchema)]
pub(super) struct Coming {
    /// Under which its pieces are sent, for an hour after the last.
    token: String,
    /// How much of it is here: where the next piece begins.
    at: u64,
    /// In bytes.
    size: u64,
    /// Size of a piece; only the last one is smaller.
    piece: u64,
}

/// Begins a file that will come in pieces.
#[utoipa::path(post, path = "/api/files/coming", request_body = ComingBody, responses((status = 200, body = Coming)))]
pub(super) async fn begin(State(app): State<App>, caller: Caller, Json(body): Json<ComingBody>) -> Result<Json<Coming>, Problem> {
    caller.actor()?;
    let name = pictures::tidy(&body.name);
    let token = pieces::begin(&app, caller.person()?, &name, body.size).await?;
    Ok(Json(Coming { token, at: 0, size: body.size, piece: pieces::PIECE }))
}

/// How far a file has come.
#[utoipa::path(get, path = "/api/files/coming/{token}", params(("token" = String, Path)), responses((status = 200, body = Coming)))]
pub(super) async fn how_far(State(app): State<App>, caller: Caller, Path(token): Path<String>) -> Result<Json<Coming>, Problem> {
    let file = pieces::how_far(&app, caller.person()?, &token).await?;
    Ok(Json(Coming { token, at: file.got(), size: file.size(), piece: pieces::PIECE }))
}

/// Where a piece begins.
#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(super) struct At {
    at: u64,
}

/// Takes the next piece of a file; answers where the one after it begins.
#[utoipa::path(put, path = "/api/files/coming/{token}", params(("token" = String, Path), At), request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 200, body = Coming)))]
pub(super) async fn piece(
    State(app): State<App>,
    caller: Caller,
    Path(token): Path<String>,
    Query(At { at }): Query<At>,
    bytes: axum::body::Bytes,
) -> Result<Json<Coming>, Problem> {
    caller.actor()?;
    let person = caller.person()?;
    pieces::take(&app, person, &token, at, bytes.into()).await?;
    how_far(State(app), caller, Path(token)).await
}

/// Stops a file on its way.
#[utoipa::path(delete, path = "/api/files/coming/{token}", params(("token" = String, Path)), responses((status = 204)))]
pub(super) async fn stop(State(app): State<App>, caller: Caller, Path(token): Path<String>) -> Result<StatusCode, Problem> {
    let file = pieces::how_far(&app, caller.person()?, &token).await?;
    pieces::drop(&app, &token, file.got()).await;
    Ok(StatusCode::NO_CONTENT)
}

/// Files to put on a record.
#[derive(Deserialize, ToSchema)]
pub(super) struct FilesBody {
    /// Under which they came.
    tokens: Vec<String>,
}

/// Puts files that came beside those that a cell holds.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/files/{field}", params(OfCell), request_body = FilesBody, responses((status = 200, body = Done)))]
pub(super) async fn attach(
    here: Here,
    Path(OfCell { table, record, field, .. }): Path<OfCell>,
    Json(FilesBody { tokens }): Json<FilesBody>,
) -> Result<Json<Done>, Problem> {
    let mut look = here.look()?;
    look.asker = here.caller.actor()?;
    if tokens.is_empty() {
        return Err(Refusal::NoFile.into());
    }
    let arrived = arrived(&here, &tokens, pictures::Keep::of(&look.dataset, field)).await?;
    let input = Input::Upload(arrived.iter().map(|file| file.attachment.clone()).collect());
    let done = put(&here, &look, Place { table, record, field }.takes(input), &arrived).await?;
    pieces::done(&here.app, &arrived).await;
    Ok(Json(done))
}

/// The files that came under these tokens, looked into.
pub(super) async fn arrived(here: &Here, tokens: &[String], keep: pictures::Keep) -> Result<Vec<Arrived>, Problem> {
    if tokens.len() > AT_ONCE {
        return Err(Refusal::TooMuch.into());
    }
    let mut bytes = 0;
    for token in tokens {
        bytes += pieces::how_far(&here.app, here.caller.person()?, token).await?.size();
    }
    if bytes > BYTES_AT_ONCE {
        return Err(Refusal::TooMuch.into());
    }
    let mut arrived = Vec::new();
    for token in tokens {
        arrived.push(pieces::examine(&here.app, here.caller.person()?, token, keep).await?);
    }
    Ok(arrived)
}

/// A cell.
#[derive(Clone, Copy)]
pub(super) struct Place {
    pub(super) table: TableId,
    pub(super) record: RecordId,
    pub(super) field: FieldId,
}

impl Place {
    /// Puts something there.
    pub(super) fn takes(self, input: Input) -> Intent {
        Intent::Edit { table: self.table, record: self.record, edits: vec![Edit { field: self.field, input, was: None }] }
    }
}

/// Rehearses what brings files, keeps their bytes, and does it; of what is refused nothing is kept.
pub(super) async fn put(here: &Here, look: &Look, intent: Intent, new: &[Arrived]) -> Result<Done, Problem> {
    rehearse(look, &intent)?;
    pieces::keep(&here.app.files, new).await?;
    match here.live.act(look.asker, intent).await {
        Ok(done) => Ok(done),
        Err(problem) => {
            pieces::forget(&here.app.files, new).await;
            Err(problem)
        }
    }
}

/// How far a picture is turned.
#[derive(Deserialize, ToSchema)]
pub(super) struct TurnBody {
    /// The picture's file.
    file: String,
    /// To the right, in quarters: 1 to 3.
    quarters: u8,
}

/// Turns a picture that a cell holds: another one stands in its place.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/files/{field}/turn", params(OfCell), request_body = TurnBody, responses((status = 200, body = Done)))]
pub(super) async fn turn(
    here: Here,
    Path(OfCell { table, record, field, .. }): Path<OfCell>,
    Json(TurnBody { file, quarters }): Json<TurnBody>,
) -> Result<Json<Done>, Problem> {
    let mut look = here.look()?;
    look.asker = here.caller.actor()?;
    let unknown = || Problem::from(Fault::not_found("file"));
    let held: Vec<Attachment> = {
        let lens = look.lens();
        let reader = lens.reader(table, field);
        let sees = lens.sees(table, record);
        if let (true, Cell::Files(files)) = (sees, reader.cell(record.row())) { files.to_vec() } else { return Err(unknown()) }
    };
    let old = held.iter().find(|held| held.id == file && sorts::is_picture(&held.media)).ok_or_else(unknown)?;
    let bytes = here.app.files.get(&file).await?.ok_or_else(unknown)?;
    let turned = Arrived::drawn(pictures::turned(&here.app.rooms, old.name.clone(), bytes, quarters).await?);
    let new = |held: &Attachment| if held.id == file { turned.attachment.clone() } else { held.clone() };
    let input = Input::Files(held.iter().map(new).collect());
    Ok(Json(put(&here, &look, Place { table, record, field }.takes(input), std::slice::from_ref(&turned)).await?))
}
