//! Documents: what records of a table are printed as. Composed by those who build, printed by whoever sees the records.

use super::{
    files::{Place, put},
    packages::download,
    parts::document::{DocumentView, seen, typed},
    places::{OfDocument, OfTable, OfTracker},
};
use crate::{
    here::Here,
    live::{Done, Look},
    pictures, pieces,
    printing::{As, Pages, Placed},
    problem::{Json, Path, Problem},
    refusal::Refusal,
};
use axum::response::Response;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    document::{Document, Letterhead, MOST_SHEETS, Paper, SheetOf},
    fault::{Fault, FaultKind},
    id::{DocumentId, FieldId, RecordId, TableId, ViewId},
    value::Input,
    view::{Query, Window},
};
use westerfall_sheets::zipped;

/// Records of which a preview of one sheet for all shows the first.
const MOST_PREVIEWED: usize = 200;
/// Most sheets that are kept with their records at once.
const MOST_KEPT: usize = 100;

/// A document that one can print.
#[derive(Serialize, ToSchema)]
pub(super) struct DocumentLine {
    id: DocumentId,
    table: TableId,
    title: String,
    of: SheetOf,
    /// Whether a sheet can be kept with its record.
    keeps: bool,
}

/// The documents of the tables that are open to whoever asks.
#[utoipa::path(get, path = "/api/trackers/{tracker}/documents", params(OfTracker), responses((status = 200, body = Vec<DocumentLine>)))]
pub(super) async fn list(here: Here) -> Result<Json<Vec<DocumentLine>>, Problem> {
    let look = here.look()?;
    let lens = look.lens();
    let keeps = |document: &Document| document.keep.is_some_and(|field| lens.writes(document.table, field));
    let line = |document: &Document| DocumentLine {
        id: document.id,
        table: document.table,
        title: document.title.clone(),
        of: document.of,
        keeps: keeps(document),
    };
    Ok(Json(look.dataset.documents().filter(|document| lens.opens(document.table)).map(line).collect()))
}

/// A document as it is composed. For those who may change it.
#[utoipa::path(get, path = "/api/trackers/{tracker}/documents/{document}", params(OfDocument), responses((status = 200, body = DocumentView)))]
pub(super) async fn show(here: Here, Path(OfDocument { document, .. }): Path<OfDocument>) -> Result<Json<DocumentView>, Problem> {
    let look = here.look_as_builder("document")?;
    let shown = look.dataset.document(document).filter(|shown| look.lens().opens(shown.table));
    let shown = shown.ok_or_else(|| Fault::not_found("document"))?;
    Ok(Json(seen(&look, shown)))
}

/// What is to be looked at as pages.
#[derive(Deserialize, ToSchema)]
pub(super) struct PreviewBody {
    /// As it stands while it is composed.
    document: Document<String>,
    /// With which record; none: with the first.
    #[serde(default)]
    record: Option<RecordId>,
}

/// The pages with one record.
#[derive(Serialize, ToSchema)]
pub(super) struct PreviewView {
    /// Each as a picture (SVG); at most 12 of them.
    pages: Vec<String>,
    /// How many there are in all.
    count: usize,
    /// In millimetres.
    width: f64,
    height: f64,
    blocks: Vec<Placed>,
    at: Option<PreviewAt>,
    /// What the file would be called.
    name: String,
}

/// Which record stands there, and which others can.
#[derive(Serialize, ToSchema)]
pub(super) struct PreviewAt {
    record: RecordId,
    name: String,
    /// From 1.
    place: usize,
    count: usize,
    before: Option<RecordId>,
    after: Option<RecordId>,
    /// The one with the most lines, and one without any.
    longest: Option<RecordId>,
    bare: Option<RecordId>,
}

impl PreviewAt {
    fn of(document: &Document, look: &Look, wanted: Option<RecordId>) -> Option<Self> {
        let lens = look.lens();
        let all: Vec<RecordId> = lens.records(document.table).collect();
        let at = wanted.and_then(|wanted| all.iter().position(|record| *record == wanted)).unwrap_or(0);
        let record = *all.get(at)?;
        let (longest, bare) = document.difficult(&lens);
        let near = |place: Option<usize>| place.and_then(|place| all.get(place)).copied();
        Some(Self {
            record,
            name: lens.record_name(document.table, record).map(|name| name.name).unwrap_or_default(),
            place: at + 1,
            count: all.len(),
            before: near(at.checked_sub(1)),
            after: near(at.checked_add(1)),
            longest,
            bare,
        })
    }
}

/// The pages as they would be printed, with where the blocks lie on them. Nothing is kept.
#[utoipa::path(post, path = "/api/trackers/{tracker}/documents/preview", params(OfTracker), request_body = PreviewBody, responses((status = 200, body = PreviewView)))]
pub(super) async fn preview(here: Here, Json(body): Json<PreviewBody>) -> Result<Json<PreviewView>, Problem> {
    let look = here.look_as_builder("document")?;
    let head = letterhead(&here);
    let made = move || {
        let document = typed(&look, body.document)?;
        document.check(&look.dataset)?;
        let at = (document.of == SheetOf::Each).then(|| PreviewAt::of(&document, &look, body.record)).flatten();
        let records = match (&at, document.of) {
            (Some(at), _) => vec![at.record],
            (None, SheetOf::All) => look.lens().records(document.table).take(MOST_PREVIEWED).collect(),
            (None, SheetOf::Each) => return Err(Refusal::NothingToPrint.into()),
        };
        let paper = document.paper(&look.dataset, look.asker, &look.clock, &records, &head)?;
        Ok::<_, Problem>((Paper { marks: true, ..paper }, at))
    };
    let (paper, at) = here.app.rooms.read(made).await??;
    let set = here.app.printing.set(As::Preview, &paper).await?;
    let name = paper.sheets.first().map(|sheet| sheet.name.clone()).unwrap_or_default();
    let pages = set.parts.into_iter().map(|page| String::from_utf8_lossy(&page).into_owned()).collect();
    let (width, height) = (f64::from(paper.width) / 10.0, f64::from(paper.height) / 10.0);
    Ok(Json(PreviewView { pages, count: set.pages, width, height, blocks: set.blocks, at, name }))
}

/// What is to be printed: these records, or all that a view shows.
#[derive(Deserialize, ToSchema)]
pub(super) struct PrintBody {
    #[serde(default)]
    records: Vec<RecordId>,
    #[serde(default)]
    query: Option<Query>,
    /// The view whose own order they stand in.
    #[serde(default)]
    view: Option<ViewId>,
    /// Each sheet as a file of its own, all in one zip.
    #[serde(default)]
    each: bool,
}

impl PrintBody {
    fn records(&self, look: &Look, table: TableId) -> Result<Vec<RecordId>, Problem> {
        let Some(query) = &self.query else { return Ok(self.records.clone()) };
        let lens = look.lens();
        let query = query.asked_by(&lens, table)?;
        let own = self.view.and_then(|view| lens.own_order(view));
        Ok(query.run(&lens, table, &Window { rows: 0..usize::MAX, keep: &[], own }).window)
    }
}

/// Prints a document: as one PDF, or each sheet as one of its own in a zip. Whoever stops waiting stops it.
#[utoipa::path(post, path = "/api/trackers/{tracker}/documents/{document}/print", params(OfDocument), request_body = PrintBody, responses((status = 200, body = Vec<u8>, content_type = "application/pdf")))]
pub(super) async fn print(
    here: Here,
    Path(OfDocument { document, .. }): Path<OfDocument>,
    Json(body): Json<PrintBody>,
) -> Result<Response, Problem> {
    let look = here.look()?;
    printed(&here, look, move |look| known(look, document), body).await
}

/// Prints records as they are laid out where one opens them.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/print", params(OfTable), request_body = PrintBody, responses((status = 200, body = Vec<u8>, content_type = "application/pdf")))]
pub(super) async fn print_laid_out(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<PrintBody>,
) -> Result<Response, Problem> {
    let look = here.look()?;
    let laid_out = move |look: &Look| Document::laid_out(&look.lens(), table).ok_or_else(|| Fault::not_found("table"));
    printed(&here, look, laid_out, body).await
}

async fn printed(
    here: &Here,
    look: Look,
    document: impl FnOnce(&Look) -> Result<Document, Fault> + Send + 'static,
    body: PrintBody,
) -> Result<Response, Problem> {
    let each = body.each;
    let (paper, title) = made(here, look, document, move |look, table| body.records(look, table)).await?;
    let only = match &paper.sheets[..] {
        [one] => Some(one.name.clone()),
        _ => None,
    };
    let name = only.unwrap_or(title);
    let names: Vec<String> = paper.sheets.iter().map(|sheet| sheet.name.clone()).collect();
    let Pages { mut parts, .. } = here.app.printing.set(if each { As::Each } else { As::One }, &paper).await?;
    if !each {
        let pdf = parts.pop().ok_or_else(|| Problem::internal("a paper without pages"))?;
        return Ok(download(pdf, "application/pdf", &name, "pdf"));
    }
    let zip = here.app.rooms.apart(move || zipped(names.into_iter().zip(parts), "pdf")).await?;
    Ok(download(zip.map_err(|error| Problem::internal(&error))?, "application/zip", &name, "zip"))
}

/// Records whose sheets are to be kept with them.
#[derive(Deserialize, ToSchema)]
pub(super) struct KeepBody {
    records: Vec<RecordId>,
}

/// Prints a document and keeps each sheet with its record, in the field that the document names.
#[utoipa::path(post, path = "/api/trackers/{tracker}/documents/{document}/keep", params(OfDocument), request_body = KeepBody, responses((status = 200, body = Vec<Done>)))]
pub(super) async fn keep(
    here: Here,
    Path(OfDocument { document, .. }): Path<OfDocument>,
    Json(body): Json<KeepBody>,
) -> Result<Json<Vec<Done>>, Problem> {
    let mut look = here.look()?;
    look.asker = here.caller.actor()?;
    let field = keeps_in(&look, document)?;
    if body.records.is_empty() || body.records.len() > MOST_KEPT {
        let message = format!("Choose from 1 to {MOST_KEPT} records.");
        return Err(Fault::new(FaultKind::TooLong, message).at("/records").into());
    }
    let table = look.dataset.document(document).map(|document| document.table).ok_or_else(|| Fault::not_found("document"))?;
    let records: Vec<RecordId> = {
        let lens = look.lens();
        body.records.into_iter().filter(|record| lens.sees(table, *record)).collect()
    };
    let printed = records.clone();
    let (paper, _) = made(&here, here.look()?, move |look| known(look, document), move |_, _| Ok(printed)).await?;
    let names: Vec<String> = paper.sheets.iter().map(|sheet| format!("{}.pdf", sheet.name)).collect();
    let set = here.app.printing.set(As::Each, &paper).await?;
    let mut all = Vec::with_capacity(records.len());
    for ((record, name), bytes) in records.into_iter().zip(names).zip(set.parts) {
        let file = pieces::examine_whole(&here.app, pictures::tidy(&name), bytes, pictures::Keep::Original).await?;
        let arrived = [pieces::Arrived::drawn(file)];
        let input = Input::Upload(arrived.iter().map(|file| file.attachment.clone()).collect());
        all.push(put(&here, &look, Place { table, record, field }.takes(input), &arrived).await?);
    }
    Ok(Json(all))
}

/// A document of a table that is open to whoever asks.
fn known(look: &Look, document: DocumentId) -> Result<Document, Fault> {
    let known = look.dataset.document(document).filter(|known| look.lens().opens(known.table));
    known.cloned().ok_or_else(|| Fault::not_found("document"))
}

fn keeps_in(look: &Look, document: DocumentId) -> Result<FieldId, Problem> {
    let known = known(look, document)?;
    let message = "This document is not kept with its records. Whoever composes it can say in which field.";
    known.keep.ok_or_else(|| Fault::new(FaultKind::BadRule, message).into())
}

/// A document with what stands in it, and what it is called.
async fn made(
    here: &Here,
    look: Look,
    document: impl FnOnce(&Look) -> Result<Document, Fault> + Send + 'static,
    records: impl FnOnce(&Look, TableId) -> Result<Vec<RecordId>, Problem> + Send + 'static,
) -> Result<(Paper, String), Problem> {
    let head = letterhead(here);
    let made = move || {
        let known = document(&look)?;
        let records = records(&look, known.table)?;
        if records.is_empty() && known.of == SheetOf::Each {
            return Err(Refusal::NothingToPrint.into());
        }
        if records.len() > MOST_SHEETS && known.of == SheetOf::Each {
            let message = format!("At most {MOST_SHEETS} sheets are printed at once. Choose fewer records, or narrow the view.");
            return Err(Fault::new(FaultKind::TooLong, message).into());
        }
        let paper = known.paper(&look.dataset, look.asker, &look.clock, &records, &head)?;
        Ok::<_, Problem>((paper, known.title))
    };
    here.app.rooms.read(made).await?
}

/// What stands for the team on its papers.
fn letterhead(here: &Here) -> Letterhead {
    Letterhead::from(here.app.team.now().face())
}
