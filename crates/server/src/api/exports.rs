//! What a view shows, as a file.

use super::{packages::download, places::OfTable};
use crate::{
    app::App,
    here::Here,
    live::Look,
    pictures,
    problem::{Json, Path, Problem},
};
use axum::response::Response;
use serde::Deserialize;
use utoipa::ToSchema;
use westerfall_core::{
    fault::{Fault, FaultKind},
    id::{FieldId, RecordId, TableId, TrackerId, ViewId},
    schema::Kind,
    value::Attachment,
    view::{Query, Shape},
};
use westerfall_sheets::{CalendarHead, Column, CsvStyle, Format, Pictures, Separator, ViewFile, Written, calendar};

/// Most pictures of a file.
const MOST_PICTURES: usize = 500;

/// What is to be exported.
#[derive(Deserialize, ToSchema)]
pub(super) struct ExportBody {
    query: Query,
    /// The view whose own order its records stand in.
    #[serde(default)]
    view: Option<ViewId>,
    /// These alone, whether or not the view leaves them out; none: all that it shows.
    #[serde(default)]
    records: Option<Vec<RecordId>>,
    /// The file's name, without its ending.
    #[serde(default)]
    name: String,
    format: ExportFormat,
    /// Of CSV, what stands between two cells.
    #[serde(default)]
    separator: ExportSeparator,
    /// CSV without the mark at its beginning by which some programs know UTF-8.
    #[serde(default)]
    unmarked: bool,
    /// Workbooks with the first picture of each record.
    #[serde(default)]
    pictures: bool,
    /// Workbooks without the table's highlights.
    #[serde(default)]
    plain: bool,
    /// Under which name it can be asked how far it has come.
    #[serde(default)]
    awaited: Option<String>,
}

/// The files that a view can be exported to.
#[derive(Clone, Copy, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(super) enum ExportFormat {
    Csv,
    Xlsx,
    Ods,
    Json,
    Markdown,
    /// A calendar's entries.
    Ics,
}

/// What stands between two cells of CSV.
#[derive(Clone, Copy, Default, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(super) enum ExportSeparator {
    #[default]
    Comma,
    Semicolon,
    Tab,
}

impl ExportBody {
    /// The file of lines that is asked for; nothing: a calendar is.
    fn lines(&self) -> Option<Format> {
        let separator = match self.separator {
            ExportSeparator::Comma => Separator::Comma,
            ExportSeparator::Semicolon => Separator::Semicolon,
            ExportSeparator::Tab => Separator::Tab,
        };
        Some(match self.format {
            ExportFormat::Csv => Format::Csv(CsvStyle { separator, mark: !self.unmarked }),
            ExportFormat::Xlsx => Format::Xlsx,
            ExportFormat::Ods => Format::Ods,
            ExportFormat::Json => Format::Json,
            ExportFormat::Markdown => Format::Markdown,
            ExportFormat::Ics => return None,
        })
    }
}

/// What a view shows, as a file: in its order, with its groups. No cell of it can run when it is opened.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/export", params(OfTable), request_body = ExportBody, responses((status = 200, body = Vec<u8>, content_type = "*/*")))]
pub(super) async fn export(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<ExportBody>,
) -> Result<Response, Problem> {
    let look = here.look()?;
    if !look.lens().opens(table) {
        return Err(Fault::not_found("table").into());
    }
    let query = body.query.asked_by(&look.lens(), table)?;
    let turn = here.app.rooms.file().await?;
    // Whoever stops waiting drops this, and the file is written no further.
    let awaited = here.app.waits.begin(here.caller.person()?, body.awaited.clone());
    let progress = awaited.progress();
    let name = body.name.clone();
    let Some(format) = body.lines() else {
        let site = Site { tracker: here.tracker, address: here.app.settings.public_url.clone() };
        let written = here.app.rooms.apart(move || site.calendar(&look, table, &query, &body.name, None)).await??;
        return Ok(download(written.bytes, written.media, &name, written.ending));
    };
    let pictures = if body.pictures && format.keeps_pictures() {
        gathered(&here.app, &look, table, (&query, body.records.as_deref())).await?
    } else {
        None
    };
    let written = here.app.rooms.apart(move || {
        let _turn = turn;
        if matches!(query.shape, Shape::CrossTab(_)) {
            return crossed(&look, table, &query, &body.name, format);
        }
        let lens = look.lens();
        let listing = query.listing(&lens, table, body.view.and_then(|view| lens.own_order(view)), body.records.as_deref());
        let file = ViewFile {
            lens: &lens,
            table,
            query: &query,
            listing: &listing,
            name: &body.name,
            format,
            looks: !body.plain,
            pictures: pictures.as_ref(),
        };
        let all = listing.records.len();
        let written = file.write(&mut |done| {
            progress.is_at(done, all);
            !progress.is_stopped()
        });
        written.map_err(|e| Problem::internal(&e))?.ok_or_else(|| Problem::internal("nobody waits for this file any more"))
    });
    let written = written.await??;
    drop(awaited);
    Ok(download(written.bytes, written.media, &name, written.ending))
}

/// The first pictures in the first field of files that a view shows.
async fn gathered(
    app: &App,
    look: &Look,
    table: TableId,
    (query, chosen): (&Query, Option<&[RecordId]>),
) -> Result<Option<Pictures>, Problem> {
    let found = {
        let lens = look.lens();
        let is_files =
            |field: &FieldId| look.dataset.shown_kind(table, *field).is_some_and(|(_, kind)| matches!(kind.shows(), Kind::Files));
        let Some(field) = query.fields.iter().map(|shown| shown.field).find(is_files) else { return Ok(None) };
        let records = query.listing(&lens, table, None, chosen).records;
        let pictures = lens.first_pictures(table, &records, field);
        let found: Vec<(RecordId, Attachment)> =
            records.into_iter().zip(pictures).filter_map(|(record, picture)| Some((record, picture?))).collect();
        (field, found)
    };
    let (field, found) = found;
    if found.len() > MOST_PICTURES {
        let message = format!(
            "A file holds the pictures of at most {MOST_PICTURES} records, and here {} have one. Narrow the view, or export it without pictures.",
            found.len()
        );
        return Err(Fault::new(FaultKind::TooLong, message).into());
    }
    let mut of = std::collections::HashMap::new();
    for (record, picture) in found {
        let Some(bytes) = app.files.get(&picture.id).await? else { continue };
        if let Some(drawn) = pictures::filed(&app.rooms, bytes).await? {
            of.insert(record, drawn);
        }
    }
    Ok(Some(Pictures { field, of }))
}

/// A cross-tab as a file.
fn crossed(look: &Look, table: TableId, query: &Query, name: &str, format: Format) -> Result<Written, Problem> {
    let lens = look.lens();
    let sheet = query.crossed(&lens, table)?.sheet(query, &lens, table);
    let column = |(name, decimals): (String, u32)| Column { decimals, number: true, ..Column::of(&name, 120) };
    let columns: Vec<Column> = sheet.columns.into_iter().map(column).collect();
    westerfall_sheets::write(format, name, &columns, &sheet.rows).map_err(|e| Problem::internal(&e))
}

/// Where records are looked at.
pub(super) struct Site {
    pub tracker: TrackerId,
    /// The whole address of the application.
    pub address: String,
}

impl Site {
    /// A view's days as a calendar. `again`: how often in hours it is looked at by itself.
    pub(super) fn calendar(&self, look: &Look, table: TableId, query: &Query, name: &str, again: Option<u32>) -> Result<Written, Problem> {
        let entries = query.entries(&look.lens(), table)?;
        let Self { tracker, address } = self;
        let host = address.split_once("://").map_or(address.as_str(), |(_, host)| host);
        let host = host.split(['/', ':']).next().unwrap_or(host);
        let head = CalendarHead { name, host, of: &format!("{tracker}-{table}"), again };
        Ok(calendar(&head, &entries, |record| format!("{address}/t/{tracker}/{table}/r/{record}")))
    }
}
