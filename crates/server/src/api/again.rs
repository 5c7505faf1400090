//! Records made again, made one, and brought back from the bin.

use super::places::{OfTable, OfTracker};
use crate::{
    here::Here,
    live::Done,
    problem::{Json, Path, Problem},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    bin::{self, BinnedRecord},
    bulk::{BulkRehearsal, Duplicate},
    id::{FieldId, RecordId, TableId},
    intent::{Intent, TableChange},
    merge::{Doubles, Merge, MergeRehearsal},
    schema::Recipe,
};

/// Records that are to be made again.
#[derive(Deserialize, ToSchema)]
pub(super) struct AgainBody {
    records: Vec<RecordId>,
    by: Recipe,
    /// A name by which one asks how far it has come, and stops it.
    #[serde(default)]
    awaited: Option<String>,
}

impl AgainBody {
    fn read(self, table: TableId) -> Duplicate {
        Duplicate { table, records: self.records, by: self.by }
    }
}

/// What making records again would make; nothing is changed.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/again/rehearsal", params(OfTable), request_body = AgainBody, responses((status = 200, body = BulkRehearsal)))]
pub(super) async fn rehearse_again(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<AgainBody>,
) -> Result<Json<BulkRehearsal>, Problem> {
    let (look, asker, duplicate) = (here.look()?, here.caller.actor()?, body.read(table));
    Ok(Json(here.app.rooms.read(move || duplicate.rehearse(&look.dataset, asker, &look.clock)).await?))
}

/// Makes records again, as one step: all of them or none.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/again", params(OfTable), request_body = AgainBody, responses((status = 200, body = Done)))]
pub(super) async fn again(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<AgainBody>,
) -> Result<Json<Done>, Problem> {
    here.look()?;
    let awaited = body.awaited.clone();
    here.act_awaited(Intent::Duplicate(Box::new(body.read(table))), awaited).await
}

/// The recipes of a table.
#[derive(Deserialize, ToSchema)]
pub(super) struct RecipesBody {
    recipes: Vec<Recipe>,
}

/// Keeps the recipes by which a table's records are made again.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/recipes", params(OfTable), request_body = RecipesBody, responses((status = 200, body = Done)))]
pub(super) async fn keep_recipes(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<RecipesBody>,
) -> Result<Json<Done>, Problem> {
    here.act(Intent::Table(TableChange::Recipes { table, recipes: body.recipes })).await
}

/// By what doubles are looked for.
#[derive(Deserialize, ToSchema)]
pub(super) struct DoublesBody {
    fields: Vec<FieldId>,
}

/// Records that say the same in some fields, or nearly so.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/doubles", params(OfTable), request_body = DoublesBody, responses((status = 200, body = Vec<Doubles>)))]
pub(super) async fn doubles(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<DoublesBody>,
) -> Result<Json<Vec<Doubles>>, Problem> {
    let look = here.look()?;
    Ok(Json(here.app.rooms.read(move || look.lens().doubles(table, &body.fields)).await??))
}

/// Two records that are to be one.
#[derive(Deserialize, ToSchema)]
pub(super) struct MergeBody {
    /// The one that stays.
    keep: RecordId,
    /// The one that goes to the bin.
    other: RecordId,
    /// The fields whose values are those of the one that goes.
    #[serde(default)]
    take: Vec<FieldId>,
}

impl MergeBody {
    fn read(self, table: TableId) -> Merge {
        Merge { table, keep: self.keep, other: self.other, take: self.take }
    }
}

/// Both records field by field, and what making them one would do; nothing is changed.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/merge/rehearsal", params(OfTable), request_body = MergeBody, responses((status = 200, body = MergeRehearsal)))]
pub(super) async fn rehearse_merge(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<MergeBody>,
) -> Result<Json<MergeRehearsal>, Problem> {
    let (look, asker, merge) = (here.look()?, here.caller.actor()?, body.read(table));
    Ok(Json(here.app.rooms.read(move || merge.rehearse(&look.dataset, asker, &look.clock)).await??))
}

/// Makes two records one: what links to either, and what was said of both, stays; the other goes to the bin. One step.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/merge", params(OfTable), request_body = MergeBody, responses((status = 200, body = Done)))]
pub(super) async fn merge(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<MergeBody>,
) -> Result<Json<Done>, Problem> {
    here.act(Intent::Merge(Box::new(body.read(table)))).await
}

/// The records in the bin that one may bring back.
#[derive(Serialize, ToSchema)]
pub(super) struct RecordBin {
    records: Vec<BinnedRecord>,
    /// For stewards, where something lies in it, whoever put it there: what would go if it were emptied.
    #[serde(skip_serializing_if = "Option::is_none")]
    empties: Option<String>,
}

/// The records in the bin, latest first.
#[utoipa::path(get, path = "/api/trackers/{tracker}/bin/records", params(OfTracker), responses((status = 200, body = RecordBin)))]
pub(super) async fn bin(here: Here) -> Result<Json<RecordBin>, Problem> {
    let look = here.look()?;
    let told = move || {
        let lens = look.lens();
        let empties = lens.emptiable().filter(|bin| !bin.records.is_empty()).map(|bin| bin.says);
        RecordBin { records: lens.bin(), empties }
    };
    here.app.rooms.read(told).await.map(Json)
}

/// Records that are to go into the bin.
#[derive(Deserialize, ToSchema)]
pub(super) struct IntoBin {
    records: Vec<RecordId>,
}

/// What putting records into the bin would do, and which of them can't be put there; nothing is changed.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/bin/rehearsal", params(OfTable), request_body = IntoBin, responses((status = 200, body = BulkRehearsal)))]
pub(super) async fn rehearse_bin(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<IntoBin>,
) -> Result<Json<BulkRehearsal>, Problem> {
    let look = here.look()?;
    let asker = here.caller.actor()?;
    let told = move || bin::rehearse_bin(&look.dataset, asker, &look.clock, table, &body.records);
    here.app.rooms.read(told).await.map(Json)
}

/// Records that are to come back.
#[derive(Deserialize, ToSchema)]
pub(super) struct BackFromBin {
    records: Vec<RecordId>,
}

/// Brings records back from the bin, with their links.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/bring-back", params(OfTable), request_body = BackFromBin, responses((status = 200, body = Done)))]
pub(super) async fn bring_back(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<BackFromBin>,
) -> Result<Json<Done>, Problem> {
    here.act(Intent::BringBack { table, records: body.records }).await
}

/// What is emptied out of the bin.
#[derive(Deserialize, ToSchema)]
pub(super) struct EmptyBody {
    /// One record; none: all that lies in it.
    #[serde(default)]
    only: Option<RecordPlace>,
}

/// A record by its table.
#[derive(Deserialize, ToSchema)]
pub(super) struct RecordPlace {
    table: TableId,
    record: RecordId,
}

/// Empties the bin, or one record out of it, for good. For stewards.
#[utoipa::path(post, path = "/api/trackers/{tracker}/bin/empty", params(OfTracker), request_body = EmptyBody, responses((status = 200, body = Done)))]
pub(super) async fn empty_bin(here: Here, Json(EmptyBody { only }): Json<EmptyBody>) -> Result<Json<Done>, Problem> {
    let records = match only {
        Some(RecordPlace { table, record }) => vec![(table, record)],
        None => {
            let look = here.look()?;
            here.app.rooms.read(move || look.lens().emptiable().map(|bin| bin.records).unwrap_or_default()).await?
        }
    };
    here.act(Intent::EmptyOut { records }).await
}
