//! A whole tracker out of Westerfall, and back.

use super::places::OfTracker;
use crate::here::{Caller, Here};
use crate::{
    app::App,
    problem::{Json, Problem},
    refusal::Refusal,
};
use axum::{
    extract::{Multipart, State},
    http::{HeaderValue, header},
    response::{IntoResponse, Response},
};
use percent_encoding::{NON_ALPHANUMERIC, percent_encode};
use serde::Serialize;
use utoipa::ToSchema;
use westerfall_core::{
    fault::{Fault, FaultKind},
    pack::{Pack, Packing},
    value::Value,
};
use westerfall_sheets::{read_package, write_package};

/// Most bytes of files in a package.
const PACKAGE_LIMIT: usize = 1_000_000_000;

/// A file to be kept, under its own name: in plain letters for old programs, and as it is written (RFC 6266).
pub(super) fn download(bytes: Vec<u8>, media: &'static str, name: &str, ending: &str) -> Response {
    let kept: String = name.chars().map(|c| if c.is_control() || "/\\:*?\"<>|".contains(c) { '-' } else { c }).collect();
    // One that begins with a point would be hidden from whoever keeps it.
    let kept = kept.trim_start_matches(['.', ' ']).trim_end();
    let kept = if kept.is_empty() { "export" } else { kept };
    let plain: String = kept.chars().map(|c| if c.is_ascii_alphanumeric() || " -_.".contains(c) { c } else { '-' }).collect();
    let kept = format!("{kept}.{ending}");
    let whole = percent_encode(kept.as_bytes(), NON_ALPHANUMERIC);
    let value = format!("attachment; filename=\"{plain}.{ending}\"; filename*=UTF-8''{whole}");
    let mut response = bytes.into_response();
    let headers = response.headers_mut();
    headers.insert(header::CONTENT_TYPE, HeaderValue::from_static(media));
    if let Ok(value) = HeaderValue::from_str(&value) {
        headers.insert(header::CONTENT_DISPOSITION, value);
    }
    response
}

/// A whole tracker as a Tabular Data Package.
#[utoipa::path(get, path = "/api/trackers/{tracker}/package", params(OfTracker), responses((status = 200, body = Vec<u8>, content_type = "application/zip")))]
pub(super) async fn package(here: Here) -> Result<Response, Problem> {
    let look = here.look()?;
    let pack = look.lens().pack(Packing::Whole)?;
    let name = look.dataset.tracker.name.clone();
    let turn = here.app.rooms.file().await?;
    let mut files = Vec::new();
    let mut size = 0;
    for value in pack.rows.iter().flat_map(|r| r.columns.iter().flatten()) {
        let Value::Files(list) = value else { continue };
        for file in list.iter().filter(|file| !file.is_address()) {
            if let Some(bytes) = here.app.files.get(&file.id).await? {
                size += bytes.len();
                if size > PACKAGE_LIMIT {
                    let message = "The files of this tracker are more than a package holds: one gigabyte. Take some of them out first.";
                    return Err(Fault::new(FaultKind::TooLong, message).into());
                }
                files.push((file.id.clone(), bytes));
            }
        }
    }
    let written = here.app.rooms.apart(move || {
        let _turn = turn;
        write_package(&pack, &files)
    });
    let bytes = written.await?.map_err(|e| Problem::internal(&e))?;
    Ok(download(bytes, "application/zip", &name, "zip"))
}

/// A packed tracker that waits to be begun.
#[derive(Serialize, ToSchema)]
pub(super) struct PackedReply {
    token: String,
    name: String,
    tables: Vec<String>,
}

/// Takes a packed tracker, if it can be read.
#[utoipa::path(post, path = "/api/packages", request_body(content = super::imports::UploadBody, content_type = "multipart/form-data"), responses((status = 200, body = PackedReply)))]
pub(super) async fn take(State(app): State<App>, caller: Caller, mut parts: Multipart) -> Result<Json<PackedReply>, Problem> {
    caller.actor()?;
    while let Some(part) = parts.next_field().await? {
        if part.name() != Some("file") {
            continue;
        }
        let file = part.file_name().unwrap_or("package.zip").to_owned();
        let bytes = part.bytes().await?.to_vec();
        let package = read(&app, bytes.clone()).await?;
        let mut answer = PackedReply { token: String::new(), name: file.clone(), tables: Vec::new() };
        for part in &package.pack.parts {
            match part {
                westerfall_core::part::Part::Tracker(def) => answer.name = def.name.clone(),
                westerfall_core::part::Part::Table(def) => answer.tables.push(def.name.clone()),
                _ => {}
            }
        }
        answer.token = app.uploads.keep(caller.person()?, file, bytes).await?;
        return Ok(Json(answer));
    }
    Err(Refusal::NoFile.into())
}

async fn read(app: &App, bytes: Vec<u8>) -> Result<westerfall_sheets::Package, Problem> {
    let turn = app.rooms.file().await?;
    let read = app.rooms.apart(move || {
        let _turn = turn;
        read_package(&bytes)
    });
    read.await?.map_err(|why| Refusal::PackageUnreadable.saying(why).at("/file"))
}

/// The tracker in a package; its files are put where files are, and are renewed when the tracker begins.
pub(super) async fn unpacked(app: &App, bytes: Vec<u8>) -> Result<Pack, Problem> {
    let package = read(app, bytes).await?;
    let mut pack = package.pack;
    for value in pack.rows.iter_mut().flat_map(|r| r.columns.iter_mut().flatten()) {
        let Value::Files(list) = value else { continue };
        let mut renewed = Vec::new();
        for file in list.iter() {
            if file.is_address() {
                // Nothing else is led to, whatever a package says.
                renewed.extend(["https://", "http://"].iter().any(|begin| file.id.starts_with(begin)).then(|| file.clone()));
                continue;
            }
            let Some(bytes) = package.files.get(&file.id) else { continue };
            // What a file is is found out anew: a package may say anything.
            let examined = crate::pieces::examine_whole(app, file.name.clone(), bytes.clone(), crate::pictures::Keep::Seen).await?;
            crate::pictures::keep(&app.files, std::slice::from_ref(&examined)).await?;
            renewed.push(examined.attachment);
        }
        *value = Value::Files(renewed.into()).tidy();
    }
    Ok(pack)
}
