//! Records: adding, changing, removing, looking at one.

use super::idempotency_key;
use super::places::{OfCell, OfField, OfRecord, OfTable};
use crate::here::Here;
use crate::{
    live::{Done, Wish},
    problem::{Json, Path, Problem, Query},
};
use axum::http::HeaderMap;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use utoipa::{IntoParams, ToSchema};
use westerfall_core::{
    automation::Told,
    dataset::RecordName,
    fault::{Fault, FaultKind},
    folio::LaidOut,
    form::Parameter,
    history::Change,
    id::{FieldId, RecordId, TableId, ViewId},
    intent::{Edit, Intent},
    offer::Offered,
    pace::AtMost,
    put_back::PutBack,
    trail::Trail,
    value::{CellValue, Input},
    view::{self, Likeness, MoveRehearsal, Moving, Row, Spot, Waiting},
};
use westerfall_store::TalkAt;

/// Changes shown of a trail at once.
pub(super) const TRAIL: usize = 200;
/// Names offered by a picker.
const OFFERED: usize = 30;

/// New records, each with the values of some fields.
#[derive(Deserialize, ToSchema)]
pub(super) struct AddBody {
    records: Vec<BTreeMap<FieldId, Input>>,
    /// One record that somebody goes on to fill in: it counts as added, for automations, once it is complete and left.
    #[serde(default)]
    begun: bool,
}

/// Adds records. With an `Idempotency-Key`, sending twice adds once.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records", params(OfTable), request_body = AddBody, responses((status = 200, body = Done)))]
pub(super) async fn add(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    headers: HeaderMap,
    Json(body): Json<AddBody>,
) -> Result<Json<Done>, Problem> {
    here.look()?;
    let mut records: Vec<Vec<_>> = body.records.into_iter().map(|cells| cells.into_iter().collect()).collect();
    let intent = match (body.begun, records.len()) {
        (true, 1) => Intent::Begin { table, cells: records.pop().unwrap_or_default() },
        (true, _) => return Err(Fault::new(FaultKind::BadRule, "One record at a time is begun.").at("/records").into()),
        (false, _) => Intent::Add { table, records },
    };
    let me = here.caller.person()?;
    let key = idempotency_key(&headers)?.map(|key| format!("person {me} {key}"));
    let done = here.live.wish(Wish { key, ..Wish::now(intent, here.caller.actor()?) }).await?;
    Ok(Json(done))
}

/// Says that whoever filled in a record has gone on: automations that waited for that may take it for added.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/left", params(OfRecord), responses((status = 200, body = Done)))]
pub(super) async fn left(here: Here, Path(OfRecord { table, record, .. }): Path<OfRecord>) -> Result<Json<Done>, Problem> {
    here.act(Intent::Leave { table, record }).await
}

/// Records to put into the bin.
#[derive(Deserialize, ToSchema)]
pub(super) struct RemoveBody {
    records: Vec<RecordId>,
}

/// Puts records into the bin.
#[utoipa::path(delete, path = "/api/trackers/{tracker}/tables/{table}/records", params(OfTable), request_body = RemoveBody, responses((status = 200, body = Done)))]
pub(super) async fn remove(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<RemoveBody>,
) -> Result<Json<Done>, Problem> {
    here.look()?;
    here.act(Intent::Remove { table, records: body.records }).await
}

/// New values for cells of one record.
#[derive(Deserialize, ToSchema)]
pub(super) struct EditBody {
    edits: Vec<CellEdit>,
}

/// A new value for one cell.
#[derive(Deserialize, ToSchema)]
pub(super) struct CellEdit {
    field: FieldId,
    input: Input,
    /// What stood there when one looked. If it does not any more, the answer is 409 with both values.
    #[serde(default)]
    was: Option<CellValue>,
}

/// Changes cells of a record: all of them or none.
#[utoipa::path(patch, path = "/api/trackers/{tracker}/tables/{table}/records/{record}", params(OfRecord), request_body = EditBody, responses((status = 200, body = Done)))]
pub(super) async fn edit(
    here: Here,
    Path(OfRecord { table, record, .. }): Path<OfRecord>,
    Json(body): Json<EditBody>,
) -> Result<Json<Done>, Problem> {
    here.look()?;
    here.act(Intent::Edit { table, record, edits: read_edits(body.edits) }).await
}

/// The same new values for cells of several records.
#[derive(Deserialize, ToSchema)]
pub(super) struct EditSeveralBody {
    records: Vec<RecordId>,
    edits: Vec<CellEdit>,
}

/// Changes cells of several records, as one step: all of them or none.
#[utoipa::path(patch, path = "/api/trackers/{tracker}/tables/{table}/records", params(OfTable), request_body = EditSeveralBody, responses((status = 200, body = Done)))]
pub(super) async fn edit_several(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<EditSeveralBody>,
) -> Result<Json<Done>, Problem> {
    here.look()?;
    here.act(Intent::EditSeveral { table, records: body.records, edits: read_edits(body.edits) }).await
}

pub(super) fn read_edits(edits: Vec<CellEdit>) -> Vec<Edit> {
    edits.into_iter().map(|edit| Edit { field: edit.field, input: edit.input, was: edit.was }).collect()
}

/// How a view is narrowed from a cell: to records like this one, or to the others.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/like/{field}", params(OfCell), responses((status = 200, body = Option<Likeness>)))]
pub(super) async fn like(here: Here, Path(OfCell { table, record, field, .. }): Path<OfCell>) -> Result<Json<Option<Likeness>>, Problem> {
    let look = here.look()?;
    Ok(Json(look.lens().likeness(table, record, field)))
}

/// Records that are about to be moved, and the view that they are moved in.
#[derive(Deserialize, ToSchema)]
pub(super) struct MoveBody {
    query: view::Query,
    /// The view whose own order they stand in.
    #[serde(default)]
    view: Option<ViewId>,
    /// Where in it they are put.
    #[serde(default)]
    spot: Option<Spot>,
    records: Vec<RecordId>,
    edits: Vec<CellEdit>,
}

/// What moving records would do, told before it is done.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/rehearsal", params(OfTable), request_body = MoveBody, responses((status = 200, body = MoveRehearsal)))]
pub(super) async fn rehearse(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<MoveBody>,
) -> Result<Json<MoveRehearsal>, Problem> {
    let look = here.look()?;
    let rehearsed = move || {
        let query = body.query.asked_by(&look.lens(), table)?;
        let edits = read_edits(body.edits);
        let moving = Moving { records: body.records, edits, view: body.view, spot: body.spot };
        let mut told = query.rehearse_move(&look.dataset, look.asker, &look.clock, table, &moving)?;
        // What follows by itself, said before it is kept; what was found to be possible is not refused here.
        told.says.extend(look.dataset.follows(&moving.intent(table), Told::Unasked, look.asker, &look.clock, &()).unwrap_or_default());
        Ok(told)
    };
    here.app.rooms.read(rehearsed).await?.map(Json)
}

/// One record, whole.
#[derive(Serialize, ToSchema)]
pub(super) struct RecordReply {
    seq: u64,
    /// The tables of other records that it shows something of.
    of: BTreeSet<TableId>,
    name: String,
    /// The fields of the cells, in their order.
    fields: Vec<FieldId>,
    laid: LaidOut,
    row: Row,
    created: String,
    changed: String,
    /// The form it came by, by its title.
    came_by: Option<String>,
    /// Copied values that differ now from where they came from, and what stands there.
    moved_on: Vec<MovedOn>,
    /// Names given for people that wait for somebody to say who is meant.
    waiting: Vec<Waiting>,
    /// The parameters of the link by which it came.
    parameters: Vec<Parameter>,
    /// What automations wait for before they take it for added, in sentences.
    awaits: Vec<String>,
}

/// A copied value whose source says something else now.
#[derive(Serialize, ToSchema)]
pub(super) struct MovedOn {
    field: FieldId,
    source: String,
}

/// One record with all fields that are open to the asker.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/records/{record}", params(OfRecord), responses((status = 200, body = RecordReply)))]
pub(super) async fn show(here: Here, Path(OfRecord { table, record, .. }): Path<OfRecord>) -> Result<Json<RecordReply>, Problem> {
    let look = here.look()?;
    let lens = look.lens();
    let gone = || Fault::not_found("record");
    let home = look.dataset.table(table).ok_or_else(gone)?;
    let name = lens.record_name(table, record).ok_or_else(gone)?.name;
    let fields: Vec<FieldId> = home.def.fields.iter().map(|f| f.id).filter(|f| lens.reads(table, *f)).collect();
    let mut row = lens.rows(table, &[record], &fields).pop().ok_or_else(gone)?;
    row.looks = lens.looks(table, &BTreeSet::new()).of(record, &fields);
    let came_by = row.form.and_then(|id| look.dataset.form(id)).map(|f| f.title.clone());
    Ok(Json(RecordReply {
        seq: look.dataset.seq,
        of: lens.drawn_from(fields.iter().copied()),
        laid: lens.laid_out(table, record),
        name,
        fields,
        row,
        waiting: lens.waiting(table, record),
        parameters: lens.came(table, record).0,
        awaits: lens.awaits(table, record),
        created: lens.made_words(table, record),
        changed: lens.changed_words(table, record),
        came_by,
        moved_on: lens.moved_on(table, record).into_iter().map(|(field, source)| MovedOn { field, source }).collect(),
    }))
}

/// Runs of automations that are worked out while somebody is still at a cell.
const SOON: AtMost = AtMost(200);

/// What somebody is about to do to a record.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(super) enum AboutTo {
    /// Puts this into its cells.
    Edit(Vec<CellEdit>),
    /// Presses this button of it.
    Press(FieldId),
}

/// What would follow by itself, in sentences; none: nothing, or what is asked would be refused, which is told where it is done.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/following", params(OfRecord), request_body = AboutTo, responses((status = 200, body = Vec<String>)))]
pub(super) async fn following(
    here: Here,
    Path(OfRecord { table, record, .. }): Path<OfRecord>,
    Json(body): Json<AboutTo>,
) -> Result<Json<Vec<String>>, Problem> {
    let look = here.look()?;
    let intent = match body {
        AboutTo::Edit(edits) => Intent::Edit { table, record, edits: read_edits(edits) },
        AboutTo::Press(field) => Intent::Press { table, record, field },
    };
    let says = move || look.dataset.follows(&intent, Told::Unasked, look.asker, &look.clock, &SOON).unwrap_or_default();
    Ok(Json(here.app.rooms.read(says).await?))
}

/// Presses a button of a record: its automation runs over it.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/press/{field}", params(OfCell), responses((status = 200, body = Done)))]
pub(super) async fn press(
    here: Here,
    Path(OfCell { table, record, field, .. }): Path<OfCell>,
    headers: HeaderMap,
) -> Result<Json<Done>, Problem> {
    let me = here.caller.person()?;
    let key = idempotency_key(&headers)?.map(|key| format!("person {me} press {field} of {record} in {table} {key}"));
    let wish = Wish { key, ..Wish::now(Intent::Press { table, record, field }, here.caller.actor()?) };
    Ok(Json(here.live.wish(wish).await?))
}

/// From where a trail is told.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub(super) struct Earlier {
    /// What was before this change; without it, from now on back.
    before: Option<u64>,
}

/// What happened to a record, latest first.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/trail", params(OfRecord, Earlier), responses((status = 200, body = Trail)))]
pub(super) async fn trail(
    here: Here,
    Path(OfRecord { table, record, .. }): Path<OfRecord>,
    Query(Earlier { before }): Query<Earlier>,
) -> Result<Json<Trail>, Problem> {
    if !here.look()?.lens().sees(table, record) {
        return Err(Fault::not_found("record").into());
    }
    let of = TalkAt { tracker: here.tracker, table, record };
    let mut before = before.unwrap_or(u64::MAX);
    let mut entries = Vec::new();
    // A page is full of what the asker may see, and says that there is more where they may see more: how much else there is, it does
    // not tell.
    loop {
        let changes = here.app.store.trail(of, 0..before, TRAIL).await?;
        // The rights of now decide what of then is shown.
        entries.extend(here.look()?.lens().trail(table, record, &changes));
        match changes.last() {
            Some(last) if changes.len() == TRAIL && entries.len() <= TRAIL => before = last.seq,
            _ => break,
        }
    }
    let earlier = entries.len() > TRAIL;
    entries.truncate(TRAIL);
    Ok(Json(Trail { entries, earlier }))
}

/// The changes of a record since a moment of its life, all of them.
async fn since(here: &Here, table: TableId, record: RecordId, after: u64) -> Result<Vec<Change>, Problem> {
    if !here.look()?.lens().sees(table, record) {
        return Err(Fault::not_found("record").into());
    }
    let of = TalkAt { tracker: here.tracker, table, record };
    Ok(here.app.store.trail(of, after.saturating_add(1)..u64::MAX, usize::MAX).await?)
}

/// Back to which moment.
#[derive(Deserialize, ToSchema)]
pub(super) struct BackBody {
    /// As it was once this change was made; 0 or the one before it was made, for all that it came with.
    after: u64,
    /// These fields alone; none: all.
    #[serde(default)]
    fields: Vec<FieldId>,
}

/// What putting a record back to a moment would change, without doing it.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/as-it-was", params(OfRecord), request_body = BackBody, responses((status = 200, body = PutBack)))]
pub(super) async fn as_it_was(
    here: Here,
    Path(OfRecord { table, record, .. }): Path<OfRecord>,
    Json(body): Json<BackBody>,
) -> Result<Json<PutBack>, Problem> {
    let changes = since(&here, table, record, body.after).await?;
    let look = here.look()?;
    let told = move || look.lens().as_it_was(look.asker, table, record, &changes, body.after, &body.fields);
    Ok(Json(here.app.rooms.read(told).await?))
}

/// Puts fields of a record back as they were at a moment, as one step.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/put-back", params(OfRecord), request_body = BackBody, responses((status = 200, body = Done)))]
pub(super) async fn put_back(
    here: Here,
    Path(OfRecord { table, record, .. }): Path<OfRecord>,
    Json(body): Json<BackBody>,
) -> Result<Json<Done>, Problem> {
    let changes = since(&here, table, record, body.after).await?;
    let intent = here.look()?.lens().put_back(table, record, &changes, body.after, &body.fields)?;
    here.act(intent).await
}

/// What was typed into a picker.
#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(super) struct Search {
    #[serde(default)]
    pub(super) search: String,
}

/// The names of records that fit what was typed, for picking one to link.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/names", params(("tracker" = u32, Path), ("table" = u32, Path), Search), responses((status = 200, body = Vec<RecordName>)))]
pub(super) async fn names(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Query(search): Query<Search>,
) -> Result<Json<Vec<RecordName>>, Problem> {
    let look = here.look()?;
    if !look.lens().opens(table) {
        return Err(Fault::not_found("table").into());
    }
    Ok(Json(here.app.rooms.read(move || look.lens().search_names(table, &search.search, OFFERED)).await?))
}

/// What was typed into a link's picker.
#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(super) struct Typed {
    #[serde(default)]
    search: String,
    /// The record being edited, where it is there already.
    #[serde(default)]
    record: Option<RecordId>,
}

/// The records that a link offers; and whether one of this name could be made.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/fields/{field}/offered", params(("tracker" = u32, Path), ("table" = u32, Path), ("field" = u32, Path), Typed), responses((status = 200, body = Offered)))]
pub(super) async fn offered(
    here: Here,
    Path(OfField { table, field, .. }): Path<OfField>,
    Query(typed): Query<Typed>,
) -> Result<Json<Offered>, Problem> {
    let look = here.look()?;
    Ok(Json(here.app.rooms.read(move || look.lens().offered(table, field, typed.record, &typed.search)).await?))
}

/// What was typed for a field.
#[derive(Deserialize, IntoParams)]
pub(super) struct TypedText {
    text: String,
}

/// What a typed text is in a field.
#[derive(Serialize, ToSchema)]
pub(super) struct ReadText {
    value: CellValue,
    /// As it would be shown.
    text: String,
}

/// Reads a typed text as a value of a field, without keeping it.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/fields/{field}/read", params(("tracker" = u32, Path), ("table" = u32, Path), ("field" = u32, Path), TypedText), responses((status = 200, body = ReadText)))]
pub(super) async fn read(
    here: Here,
    Path(OfField { table, field, .. }): Path<OfField>,
    Query(typed): Query<TypedText>,
) -> Result<Json<ReadText>, Problem> {
    let look = here.look()?;
    let value = look.dataset.read_typed(look.asker, table, field, &typed.text, &look.clock)?;
    let text = look.lens().cell_text(table, field, value.as_cell());
    Ok(Json(ReadText { value, text }))
}
