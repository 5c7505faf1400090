//! Records on their way: begun by somebody, kept through a reload, seen by nobody else, and added in one step.

use super::{
    files,
    places::{OfTable, OfTracker},
    views::{self, QueryBody, QueryReply},
};
use crate::{
    here::Here,
    live::{Done, Look, Wish},
    pictures, pieces,
    problem::{Json, Path, Problem},
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::{
    collections::{BTreeMap, BTreeSet},
    sync::Arc,
};
use utoipa::ToSchema;
use westerfall_core::{
    fault::{Fault, FaultKind, Faults},
    folio::DraftLook,
    id::{DraftId, FieldId, PersonId, RecordId, TableId},
    intent::{Intent, NewRecord},
    value::{Attachment, Input, moment_text},
};
use westerfall_store::{Draft, LineInDraft, MOST_DRAFTS};

/// One of somebody's drafts in a table.
#[derive(Clone, Copy, Debug, Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Path)]
pub(super) struct OfDraft {
    #[allow(dead_code, reason = "it stands in the address; `Here` reads it")]
    tracker: u32,
    #[param(value_type = u32)]
    table: TableId,
    #[param(value_type = u32)]
    draft: DraftId,
}

/// A record that one has begun, as it is told where one may go on with it.
#[derive(Serialize, ToSchema)]
pub(super) struct DraftLine {
    draft: DraftId,
    table: TableId,
    /// What it would be called; empty while that is not said.
    name: String,
    /// What is still asked, in a sentence; empty: it can be added.
    says: String,
    /// When one last put something in, in words.
    at: String,
}

/// What is put into which fields.
#[derive(Deserialize, ToSchema)]
pub(super) struct DraftBody {
    cells: Vec<DraftCell>,
}

/// What is put into a field.
#[derive(Deserialize, ToSchema)]
pub(super) struct DraftCell {
    field: FieldId,
    /// Nothing: the field is as it begins.
    #[serde(default)]
    input: Option<Input>,
}

/// A draft, and how it would stand.
#[derive(Serialize, ToSchema)]
pub(super) struct DraftReply {
    draft: DraftId,
    look: DraftLook,
}

fn unknown() -> Problem {
    Fault::not_found("draft").into()
}

/// One's own draft of that number, in that table.
async fn own(here: &Here, table: TableId, draft: DraftId) -> Result<Draft, Problem> {
    let me = here.caller.person()?;
    here.app.store.draft(here.tracker, me, draft).await?.filter(|found| found.table == table).ok_or_else(unknown)
}

async fn reply(here: &Here, draft: &Draft) -> Result<Json<DraftReply>, Problem> {
    let (look, me) = (here.look()?, here.caller.person()?);
    let (id, new) = (draft.id, draft.record());
    let looked = move || look.dataset.look_at_draft(me, &look.clock, &new);
    Ok(Json(DraftReply { draft: id, look: here.app.rooms.read(looked).await?? }))
}

/// The records that one has begun in a tracker, and may still add.
#[utoipa::path(get, path = "/api/trackers/{tracker}/drafts", params(OfTracker), responses((status = 200, body = Vec<DraftLine>)))]
pub(super) async fn list(here: Here) -> Result<Json<Vec<DraftLine>>, Problem> {
    let (look, me) = (here.look()?, here.caller.person()?);
    let drafts = here.app.store.drafts(here.tracker, me).await?;
    let told = move || {
        let line = |draft: &Draft| {
            let looked = look.dataset.look_at_draft(me, &look.clock, &draft.record()).ok()?;
            let at = moment_text(draft.changed_at, &look.clock);
            Some(DraftLine { draft: draft.id, table: draft.table, name: looked.name, says: looked.says, at })
        };
        drafts.iter().filter_map(line).collect()
    };
    Ok(Json(here.app.rooms.read(told).await?))
}

/// Begins a record. It is one's own until it is added.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/drafts", params(OfTable), request_body = DraftBody, responses((status = 200, body = DraftReply)))]
pub(super) async fn begin(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<DraftBody>,
) -> Result<Json<DraftReply>, Problem> {
    here.caller.actor()?;
    let me = here.caller.person()?;
    let cells: Vec<(FieldId, Input)> = body.cells.into_iter().filter_map(|cell| Some((cell.field, cell.input?))).collect();
    // Whoever may not add keeps nothing.
    let look = here.look()?;
    look.dataset.look_at_draft(me, &look.clock, &NewRecord { table, cells: cells.clone(), lines: Vec::new() })?;
    if here.app.store.drafts(here.tracker, me).await?.len() >= MOST_DRAFTS {
        let message = format!("You have {MOST_DRAFTS} records that you began and did not add. Add some of them, or let them go.");
        return Err(Fault::new(FaultKind::TooLong, message).into());
    }
    let now = Timestamp::now();
    let id = here.app.store.begin_draft(here.tracker, me, table, &cells, now).await?;
    reply(&here, &Draft { id, table, cells, files: BTreeMap::new(), lines: Vec::new(), changed_at: now }).await
}

/// How a draft would stand.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/drafts/{draft}", params(OfDraft), responses((status = 200, body = DraftReply)))]
pub(super) async fn show(here: Here, Path(OfDraft { table, draft, .. }): Path<OfDraft>) -> Result<Json<DraftReply>, Problem> {
    let own = own(&here, table, draft).await?;
    reply(&here, &own).await
}

/// Puts something into fields of a draft. What does not fit is kept as it was typed, and named.
#[utoipa::path(patch, path = "/api/trackers/{tracker}/tables/{table}/drafts/{draft}", params(OfDraft), request_body = DraftBody, responses((status = 200, body = DraftReply)))]
pub(super) async fn change(
    here: Here,
    Path(OfDraft { table, draft, .. }): Path<OfDraft>,
    Json(body): Json<DraftBody>,
) -> Result<Json<DraftReply>, Problem> {
    here.caller.actor()?;
    own(&here, table, draft).await?;
    let cells: Vec<(FieldId, Option<Input>)> = body.cells.into_iter().map(|cell| (cell.field, cell.input)).collect();
    if !here.app.store.change_draft(here.tracker, here.caller.person()?, draft, &cells, Timestamp::now()).await? {
        return Err(unknown());
    }
    let own = own(&here, table, draft).await?;
    reply(&here, &own).await
}

/// Which files a field of a draft holds from now on.
#[derive(Deserialize, ToSchema)]
pub(super) struct DraftFilesBody {
    /// Files that are put beside those that are there: under which they came.
    #[serde(default)]
    tokens: Vec<String>,
    /// Which of those that are there stay, by their ids; nothing: all of them.
    #[serde(default)]
    stays: Option<Vec<String>>,
    /// Addresses that come to stand beside them.
    #[serde(default)]
    addresses: Vec<DraftAddress>,
}

/// An address among the files of a draft.
#[derive(Deserialize, ToSchema)]
pub(super) struct DraftAddress {
    address: String,
    title: String,
}

/// A field of a draft.
#[derive(Clone, Copy, Debug, Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Path)]
pub(super) struct OfDraftField {
    #[allow(dead_code, reason = "it stands in the address; `Here` reads it")]
    tracker: u32,
    #[param(value_type = u32)]
    table: TableId,
    #[param(value_type = u32)]
    draft: DraftId,
    #[param(value_type = u32)]
    field: FieldId,
}

/// Brings files to a field of a draft, or takes some out. They are one's own until the record is added.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/drafts/{draft}/files/{field}", params(OfDraftField), request_body = DraftFilesBody, responses((status = 200, body = DraftReply)))]
pub(super) async fn files(
    here: Here,
    Path(OfDraftField { table, draft, field, .. }): Path<OfDraftField>,
    Json(body): Json<DraftFilesBody>,
) -> Result<Json<DraftReply>, Problem> {
    here.caller.actor()?;
    let me = here.caller.person()?;
    let mut draft = own(&here, table, draft).await?;
    let look = here.look()?;
    let new = files::arrived(&here, &body.tokens, pictures::Keep::of(&look.dataset, field)).await?;
    let held = draft.files.remove(&field).unwrap_or_default();
    let stays = |file: &Attachment| body.stays.as_ref().is_none_or(|stays| stays.contains(&file.id));
    let (left, gone): (Vec<Attachment>, Vec<Attachment>) = held.into_iter().partition(stays);
    let address = |one: DraftAddress| Attachment { id: one.address, name: one.title, media: Attachment::ADDRESS.to_owned(), size: 0 };
    let brought: Vec<Attachment> = new.iter().map(|file| file.attachment.clone()).chain(body.addresses.into_iter().map(address)).collect();
    draft.files.insert(field, left.into_iter().chain(brought.iter().cloned()).collect());
    // What the field does not take is not kept.
    let looked = look.dataset.look_at_draft(me, &look.clock, &draft.record())?;
    if let Some(wrong) = looked.wrong.iter().find(|wrong| wrong.field == field).filter(|_| !brought.is_empty()) {
        return Err(Fault::new(FaultKind::WrongKind, wrong.message.clone()).into());
    }
    pieces::keep(&here.app.files, &new).await?;
    let dropped: Vec<String> = gone.iter().filter(|file| !file.is_address()).map(|file| file.id.clone()).collect();
    let gone: Vec<String> = gone.into_iter().map(|file| file.id).collect();
    let kept = here.app.store.put_draft_files(here.tracker, me, (draft.id, field), &gone, &brought).await;
    if let Err(error) = kept {
        pieces::forget(&here.app.files, &new).await;
        return Err(error.into());
    }
    pieces::done(&here.app, &new).await;
    here.app.let_go_of(&dropped).await?;
    reply(&here, &draft).await
}

/// What is put into lines of a draft.
#[derive(Deserialize, ToSchema)]
pub(super) struct DraftLinesBody {
    #[serde(default)]
    lines: Vec<DraftLineBody>,
    /// Lines that are taken out.
    #[serde(default)]
    gone: Vec<u32>,
    /// Lines that stand in this order from now on, where they stood.
    #[serde(default)]
    order: Vec<u32>,
}

/// What is put into a line of a draft.
#[derive(Deserialize, ToSchema)]
pub(super) struct DraftLineBody {
    /// Nothing: a new one.
    #[serde(default)]
    line: Option<u32>,
    cells: Vec<DraftCell>,
}

/// A draft whose lines were changed.
#[derive(Serialize, ToSchema)]
pub(super) struct DraftLinesReply {
    look: DraftLook,
    /// The numbers of the lines that were put, in their order.
    lines: Vec<u32>,
}

/// The lines of a draft under one of its links, as they would stand. The number of each is the line’s: none of them is a record yet.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/drafts/{draft}/lines/{field}/query", params(OfDraftField), request_body = QueryBody, responses((status = 200, body = QueryReply)))]
pub(super) async fn lines(
    here: Here,
    Path(OfDraftField { table, draft, field, .. }): Path<OfDraftField>,
    Json(body): Json<QueryBody>,
) -> Result<Json<QueryReply>, Problem> {
    let own = own(&here, table, draft).await?;
    let (look, me) = (here.look()?, here.caller.person()?);
    here.app.rooms.read(move || lines_told(&look, me, &own, field, body)).await?.map(Json)
}

fn lines_told(look: &Look, me: PersonId, draft: &Draft, field: FieldId, body: QueryBody) -> Result<QueryReply, Problem> {
    let home = look.dataset.table(draft.table).ok_or_else(unknown)?;
    let link = home.link(field).ok_or_else(|| Fault::not_found("field"))?;
    let with = look.dataset.with_draft(me, &look.clock, &draft.record())?;
    let then = Look { dataset: Arc::new(with.dataset), clock: look.clock.clone(), asker: look.asker };
    let told = views::answer(&then, link.to, &body.linked_to(link.back, with.record))?;
    let number = |(line, drafted): (&LineInDraft, westerfall_core::folio::DraftedLine)| {
        let (table, record) = drafted.at.ok()?;
        Some((record, RecordId::new(line.id?)?)).filter(|_| table == link.to)
    };
    Ok(told.renumbered(&draft.lines.iter().zip(with.lines).filter_map(number).collect()))
}

/// Puts something into lines of a draft, adds some, takes some out, or puts some in another order. What does not fit is said, and nothing of it is kept.
#[utoipa::path(patch, path = "/api/trackers/{tracker}/tables/{table}/drafts/{draft}/lines/{field}", params(OfDraftField), request_body = DraftLinesBody, responses((status = 200, body = DraftLinesReply)))]
pub(super) async fn change_lines(
    here: Here,
    Path(OfDraftField { table, draft, field, .. }): Path<OfDraftField>,
    Json(body): Json<DraftLinesBody>,
) -> Result<Json<DraftLinesReply>, Problem> {
    here.caller.actor()?;
    let mut draft = own(&here, table, draft).await?;
    let (look, me) = (here.look()?, here.caller.person()?);
    let gone = |line: &LineInDraft| line.under == field && line.id.is_some_and(|id| body.gone.contains(&id));
    let (gone, left): (Vec<LineInDraft>, Vec<LineInDraft>) = std::mem::take(&mut draft.lines).into_iter().partition(gone);
    let gone: Vec<u32> = gone.iter().filter_map(|line| line.id).collect();
    draft.lines = left;
    if !body.order.is_empty() {
        in_order(&mut draft.lines, field, &body.order)?;
        here.app.store.order_draft_lines(here.tracker, me, draft.id, &body.order).await?;
    }
    let mut places = Vec::with_capacity(body.lines.len());
    for put in body.lines {
        let place = match put.line {
            Some(known) => draft.lines.iter().position(|line| line.under == field && line.id == Some(known)),
            None => {
                draft.lines.push(LineInDraft { id: None, under: field, cells: Vec::new() });
                draft.lines.len().checked_sub(1)
            }
        };
        let place = place.ok_or_else(|| Fault::not_found("line"))?;
        let line = &mut draft.lines[place];
        for DraftCell { field, input } in put.cells {
            line.cells.retain(|(known, _)| *known != field);
            line.cells.extend(input.map(|input| (field, input)));
        }
        places.push(place);
    }
    let (new, touched) = (draft.record(), places.clone());
    here.app.rooms.read(move || lines_fit(&look, me, &new, &touched)).await??;
    let kept: Vec<LineInDraft> = places.iter().map(|place| draft.lines[*place].clone()).collect();
    let lines = here.app.store.put_draft_lines(here.tracker, me, draft.id, (&kept, &gone), Timestamp::now()).await?;
    let Json(DraftReply { look, .. }) = reply(&here, &draft).await?;
    Ok(Json(DraftLinesReply { look, lines }))
}

/// Puts some lines of a draft in this order, where they stood.
fn in_order(lines: &mut [LineInDraft], under: FieldId, order: &[u32]) -> Result<(), Fault> {
    let at = |id: &u32| lines.iter().position(|line| line.under == under && line.id == Some(*id));
    let from: Option<Vec<usize>> = order.iter().map(at).collect();
    let from = from.ok_or_else(|| Fault::not_found("line").at("/order"))?;
    let to: BTreeSet<usize> = from.iter().copied().collect();
    if to.len() < from.len() {
        return Err(Fault::new(FaultKind::BadRule, "A line stands in one place.").at("/order"));
    }
    let moved: Vec<LineInDraft> = from.into_iter().map(|place| lines[place].clone()).collect();
    to.into_iter().zip(moved).for_each(|(place, line)| lines[place] = line);
    Ok(())
}

/// Whether these lines of a draft can stand, with all that was put into them.
fn lines_fit(look: &Look, me: PersonId, new: &NewRecord, touched: &[usize]) -> Result<(), Problem> {
    let with = look.dataset.with_draft(me, &look.clock, new)?;
    for (place, line) in touched.iter().enumerate().filter_map(|(place, line)| Some((place, with.lines.get(*line)?))) {
        if let Err(fault) = &line.at {
            return Err(fault.clone().into());
        }
        if let Some(wrong) = line.wrong.first() {
            return Err(Fault::new(FaultKind::WrongKind, wrong.message.clone()).at(format!("/lines/{place}/{}", wrong.field)).into());
        }
    }
    Ok(())
}

/// Adds the record, for all others and for automations in one step. Sending twice adds once.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/drafts/{draft}/add", params(OfDraft), responses((status = 200, body = Done)))]
pub(super) async fn add(here: Here, Path(OfDraft { table, draft, .. }): Path<OfDraft>) -> Result<Json<Done>, Problem> {
    let me = here.caller.person()?;
    let asker = here.caller.actor()?;
    let own = own(&here, table, draft).await?;
    let look = here.look()?;
    let mut new = own.record();
    let looked = look.dataset.look_at_draft(me, &look.clock, &new)?;
    let wrong =
        looked.wrong.iter().map(|wrong| Fault::new(FaultKind::WrongKind, wrong.message.clone()).at(format!("/cells/{}", wrong.field)));
    let missing = looked.missing.iter().map(|field| Fault::new(FaultKind::Missing, looked.says.clone()).at(format!("/cells/{field}")));
    Faults::none_or(wrong.chain(missing).collect())?;
    if !looked.says.is_empty() {
        return Err(Fault::new(FaultKind::Missing, looked.says).at("/lines").into());
    }
    // A line whose link takes none any more stands nowhere.
    let stands = look.dataset.with_draft(me, &look.clock, &new)?.lines.into_iter().map(|line| line.at.is_ok());
    new.lines = new.lines.into_iter().zip(stands).filter_map(|(line, stands)| stands.then_some(line)).collect();
    let intent = Intent::AddWhole(Box::new(new));
    let done = here.live.wish(Wish { key: Some(format!("person {me} draft {draft}")), ..Wish::now(intent, asker) }).await?;
    here.app.store.drop_draft(here.tracker, me, draft).await?;
    Ok(Json(done))
}

/// Lets go of a draft.
#[utoipa::path(delete, path = "/api/trackers/{tracker}/tables/{table}/drafts/{draft}", params(OfDraft), responses((status = 204)))]
pub(super) async fn drop(here: Here, Path(OfDraft { table, draft, .. }): Path<OfDraft>) -> Result<axum::http::StatusCode, Problem> {
    here.caller.actor()?;
    own(&here, table, draft).await?;
    let files = here.app.store.drop_draft(here.tracker, here.caller.person()?, draft).await?;
    here.app.let_go_of(&files).await?;
    Ok(axum::http::StatusCode::NO_CONTENT)
}
