//! Importing sheets: choosing a file, what it seems to be, what it would do, doing it.

use super::places::OfTracker;
use crate::here::{Caller, Here};
use crate::{
    app::App,
    live::Done,
    problem::{Json, Problem},
    refusal::Refusal,
};
use axum::{
    extract::{Multipart, State},
    http::header,
    response::{IntoResponse, Response},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    import::{Heading, ImportInto, Plan, Raw, SheetGuess},
    intent::{Import, ImportRehearsal, Intent, Rejected},
};
use westerfall_sheets::{Book, SheetName};

/// Rows of a sheet that are shown as they stand in the file.
const SHOWN_ROWS: usize = 40;
/// Refused cells that are listed in an answer; all of them are in the report.
const LISTED: usize = 200;

/// A file that waits for its import.
#[derive(Serialize, ToSchema)]
pub(super) struct UploadReply {
    /// Under which the one who chose it finds it, for an hour.
    token: String,
    name: String,
    sheets: Vec<SheetOffer>,
}

/// A sheet of a file, as it is offered: tables first, then covers, those that are hidden last.
#[derive(Serialize, ToSchema)]
pub(super) struct SheetOffer {
    /// Its place in the file, from 0: what names it in the other calls.
    at: usize,
    name: String,
    /// Whoever opens the file does not see it.
    hidden: bool,
}

fn offers(book: &Book) -> Vec<SheetOffer> {
    let mut sheets: Vec<(usize, &SheetName)> = book.sheets.iter().enumerate().collect();
    sheets.sort_by_key(|(_, sheet)| (sheet.hidden, sheet.cover));
    sheets.into_iter().map(|(at, sheet)| SheetOffer { at, name: sheet.name.clone(), hidden: sheet.hidden }).collect()
}

/// A chosen file.
#[derive(ToSchema)]
#[allow(dead_code, reason = "only describes the API")]
pub(super) struct UploadBody {
    #[schema(format = Binary)]
    file: String,
}

/// Takes a file that is to be imported, if it can be read.
#[utoipa::path(post, path = "/api/uploads", request_body(content = UploadBody, content_type = "multipart/form-data"), responses((status = 200, body = UploadReply)))]
pub(super) async fn upload(State(app): State<App>, caller: Caller, mut parts: Multipart) -> Result<Json<UploadReply>, Problem> {
    caller.actor()?;
    while let Some(part) = parts.next_field().await? {
        if part.name() != Some("file") {
            continue;
        }
        let name = part.file_name().unwrap_or("file").to_owned();
        let bytes = part.bytes().await?.to_vec();
        let (token, book) = app.uploads.take(caller.person()?, name.clone(), bytes).await?;
        return Ok(Json(UploadReply { token, name, sheets: offers(&book) }));
    }
    Err(Refusal::NoFile.into())
}

/// Which sheet of which file, and what is known of it.
#[derive(Deserialize, ToSchema)]
pub(super) struct GuessBody {
    token: String,
    /// Its place in the file, from 0; none: the first that holds a table.
    #[serde(default)]
    sheet: Option<usize>,
    /// The rows with the names of the columns; none: they are looked for.
    #[serde(default)]
    heading: Option<Heading>,
    /// The table it goes into; none: a new one.
    #[serde(default)]
    into: Option<ImportInto>,
}

/// A row as it stands in the file.
#[derive(Serialize, ToSchema)]
pub(super) struct ShownRow {
    /// From 1, as in the file.
    line: usize,
    cells: Vec<String>,
}

/// What a sheet seems to be.
#[derive(Serialize, ToSchema)]
pub(super) struct GuessReply {
    file: String,
    sheets: Vec<SheetOffer>,
    sheet: usize,
    /// The first rows as they stand in the file.
    rows: Vec<ShownRow>,
    guess: SheetGuess,
}

/// Says what a sheet seems to be.
#[utoipa::path(post, path = "/api/trackers/{tracker}/imports/guess", params(OfTracker), request_body = GuessBody, responses((status = 200, body = GuessReply)))]
pub(super) async fn guess(here: Here, Json(body): Json<GuessBody>) -> Result<Json<GuessReply>, Problem> {
    let look = here.look()?;
    let (file, book) = here.app.uploads.book(here.caller.person()?, &body.token, body.sheet).await?;
    let answer = here.app.rooms.read(move || {
        let name = if is_unnamed(&book.sheet.name) { named_after(&file) } else { book.sheet.name.clone() };
        let guess = look.lens().guess(&book.sheet, &name, body.heading, body.into);
        let row = |(at, row): (usize, &Vec<Raw>)| ShownRow { line: book.sheet.line(at), cells: row.iter().map(Raw::words).collect() };
        let rows = book.sheet.rows.iter().enumerate().take(SHOWN_ROWS).map(row).collect();
        GuessReply { sheets: offers(&book), sheet: book.at, rows, guess, file }
    });
    Ok(Json(answer.await?))
}

/// Whether a sheet has no name but the one that programs give: *Sheet1*, *Tabelle2*.
fn is_unnamed(name: &str) -> bool {
    let word = name.trim_end_matches(|c: char| c.is_ascii_digit() || c == ' ').to_lowercase();
    word.is_empty() || ["sheet", "tabelle", "feuil", "hoja", "foglio", "blad", "planilha", "arkusz", "table"].contains(&word.as_str())
}

/// The name of a table from that of its file: *faults_2026.csv* gives *Faults 2026*.
fn named_after(file: &str) -> String {
    let stem = file.rsplit_once('.').map_or(file, |(stem, _)| stem);
    let words = stem.replace(['_', '-'], " ");
    let mut letters = words.trim().chars();
    letters.next().map_or_else(|| "Records".to_owned(), |first| first.to_uppercase().collect::<String>() + letters.as_str())
}

/// What is to become of a sheet.
#[derive(Deserialize, ToSchema)]
pub(super) struct ImportBody {
    token: String,
    #[serde(default)]
    sheet: usize,
    plan: Plan,
    /// Only say what it would do.
    #[serde(default)]
    rehearse: bool,
}

/// What an import would do, or did.
#[derive(Serialize, ToSchema)]
pub(super) struct ImportReply {
    rehearsal: Option<ImportRehearsal>,
    done: Option<Done>,
}

async fn rehearsed(here: &Here, body: &ImportBody) -> Result<ImportRehearsal, Problem> {
    let look = here.look()?;
    let (_, book) = here.app.uploads.book(here.caller.person()?, &body.token, Some(body.sheet)).await?;
    let plan = body.plan.clone();
    let told = here.app.rooms.read(move || {
        let import = Import { plan, sheet: book.sheet.clone() };
        look.dataset.rehearse_import(&import, look.asker, &look.clock)
    });
    Ok(told.await??)
}

/// Imports a sheet, whole or not at all; or says what that would do.
#[utoipa::path(post, path = "/api/trackers/{tracker}/imports", params(OfTracker), request_body = ImportBody, responses((status = 200, body = ImportReply)))]
pub(super) async fn import(here: Here, Json(body): Json<ImportBody>) -> Result<Json<ImportReply>, Problem> {
    if body.rehearse {
        let mut rehearsal = rehearsed(&here, &body).await?;
        rehearsal.rejected.truncate(LISTED);
        return Ok(Json(ImportReply { rehearsal: Some(rehearsal), done: None }));
    }
    here.look()?;
    let actor = here.caller.actor()?;
    let (_, book) = here.app.uploads.book(here.caller.person()?, &body.token, Some(body.sheet)).await?;
    let import = Import { plan: body.plan, sheet: book.sheet.clone() };
    let done = here.live.act(actor, Intent::Import(Box::new(import))).await?;
    here.app.uploads.drop(&body.token).await;
    Ok(Json(ImportReply { rehearsal: None, done: Some(done) }))
}

/// Every cell that an import would refuse, as a CSV file: row, column, value, reason.
#[utoipa::path(post, path = "/api/trackers/{tracker}/imports/refused", params(OfTracker), request_body = ImportBody, responses((status = 200, body = Vec<u8>, content_type = "text/csv")))]
pub(super) async fn refused(here: Here, Json(body): Json<ImportBody>) -> Result<Response, Problem> {
    let rehearsal = rehearsed(&here, &body).await?;
    let bytes = westerfall_sheets::refused_list(rehearsal.rejected.iter().map(|r: &Rejected| (r.row, &*r.column, &*r.value, &*r.why)));
    let headers =
        [(header::CONTENT_TYPE, "text/csv; charset=utf-8"), (header::CONTENT_DISPOSITION, "attachment; filename=\"refused.csv\"")];
    Ok((headers, bytes).into_response())
}
