//! Files on records. A file is given to whoever may see the cell that holds it.

use super::places::OfCell;
use crate::here::{Caller, Here};
use crate::{
    app::App,
    live::{Done, Look, rehearse},
    pictures::{self, small_id},
    problem::{Json, Path, Problem, Query},
};
use axum::{
    extract::{Multipart, State},
    http::{HeaderValue, header},
    response::{IntoResponse, Response},
};
use serde::Deserialize;
use utoipa::ToSchema;
use westerfall_core::{
    fault::Fault,
    id::TrackerId,
    intent::{Edit, Intent},
    value::Input,
};

/// Which size of a picture.
#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(super) struct Size {
    /// A small one, for lists.
    #[serde(default)]
    small: bool,
}

/// A file's content.
#[utoipa::path(get, path = "/api/files/{file}", params(("file" = String, Path), Size), responses((status = 200, body = Vec<u8>, content_type = "*/*")))]
pub(super) async fn file(
    State(app): State<App>,
    caller: Caller,
    Path(id): Path<String>,
    Query(size): Query<Size>,
) -> Result<Response, Problem> {
    let live = match app.store.file(&id).await?.and_then(|row| row.place()) {
        Some((tracker, ..)) => Some(app.tracker(tracker).await?),
        None => None,
    };
    content(&app, &id, size.small, |_| live?.look(caller.asker()).ok()).await
}

/// A file's content, or its small picture, for whoever may see the cell that holds it. `look`: how its tracker is looked at.
pub(super) async fn content(app: &App, id: &str, small: bool, look: impl FnOnce(TrackerId) -> Option<Look>) -> Result<Response, Problem> {
    let unknown = || Problem::from(Fault::not_found("file"));
    let row = app.store.file(id).await?.ok_or_else(unknown)?;
    let (tracker, table, record, field) = row.place().ok_or_else(unknown)?;
    let look = look(tracker).ok_or_else(unknown)?;
    let holds = {
        let lens = look.lens();
        lens.holds_file(table, record, field, id)
    };
    if !holds {
        return Err(unknown());
    }
    let small = if small { app.files.get(&small_id(id)).await? } else { None };
    let media = if small.is_some() { "image/jpeg" } else { row.media.as_str() };
    let media = HeaderValue::from_str(media).map_err(|_| unknown())?;
    let bytes = match small {
        Some(small) => small,
        None => app.files.get(id).await?.ok_or_else(unknown)?,
    };
    let mut response = bytes.into_response();
    let headers = response.headers_mut();
    headers.insert(header::CONTENT_TYPE, media);
    // A file can't act as a page of ours, whatever is in it.
    headers.insert(header::CONTENT_SECURITY_POLICY, HeaderValue::from_static("default-src 'none'; sandbox"));
    headers.insert(header::CACHE_CONTROL, HeaderValue::from_static("private, max-age=300"));
    Ok(response)
}

/// Files to put on a record.
#[derive(ToSchema)]
#[allow(dead_code, reason = "it only describes the multipart body")]
pub(super) struct FilesBody {
    #[schema(format = Binary)]
    file: String,
}

/// Puts files beside those that a cell holds.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/files/{field}", params(OfCell), request_body(content = FilesBody, content_type = "multipart/form-data"), responses((status = 200, body = Done)))]
pub(super) async fn attach(
    here: Here,
    Path(OfCell { table, record, field, .. }): Path<OfCell>,
    mut multipart: Multipart,
) -> Result<Json<Done>, Problem> {
    let mut look = here.look()?;
    look.asker = here.caller.actor()?;
    let mut uploads = Vec::new();
    let keep = pictures::Keep::of(&look.dataset, field);
    while let Some(part) = multipart.next_field().await? {
        let name = part.file_name().unwrap_or("file").to_owned();
        uploads.push(pictures::examine(&here.app.rooms, name, part.bytes().await?.to_vec(), keep).await?);
    }
    let input = Input::Upload(uploads.iter().map(|u| u.attachment.clone()).collect());
    let intent = Intent::Edit { table, record, edits: vec![Edit { field, input, was: None }] };
    rehearse(&look, &intent)?;
    pictures::keep(&here.app.files, &uploads).await?;
    match here.live.act(look.asker, intent).await {
        Ok(done) => Ok(Json(done)),
        Err(problem) => {
            pictures::forget(&here.app.files, &uploads).await;
            Err(problem)
        }
    }
}
