//! Blocks of cells: put in as one step, rehearsed, and what selected ones come to.

use super::places::OfTable;
use crate::{
    here::Here,
    live::Done,
    problem::{Json, Path, Problem},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    fault::Fault,
    id::{FieldId, RecordId, TableId, ViewId},
    intent::{Block, BlockRehearsal, Intent},
    value::{CellValue, Input},
    view::Query,
};

/// Most rows over which figures are said.
const MOST_SUMMED: usize = 250_000;

/// A block of cells.
#[derive(Deserialize, ToSchema)]
pub(super) struct BlockBody {
    /// The records that it is put over; rows beyond them become new ones.
    records: Vec<RecordId>,
    /// The fields that it is put over; columns beyond them are left out.
    fields: Vec<FieldId>,
    /// Row by row, at most 100,000 cells; null: the cell stays as it is.
    #[schema(value_type = Vec<Vec<Option<Input>>>)]
    cells: Vec<Vec<Option<Input>>>,
    /// What stood in the cells that it is put over when one looked, row by row; null: one did not see it.
    #[serde(default)]
    #[schema(value_type = Vec<Vec<Option<CellValue>>>)]
    was: Vec<Vec<Option<CellValue>>>,
    /// What does not fit stays out; otherwise all of it is put in, or nothing.
    #[serde(default)]
    leave_out: bool,
    /// Options and linked records that are named in it and not there yet are made.
    #[serde(default)]
    make: bool,
}

impl BlockBody {
    fn of(self, table: TableId) -> Block {
        Block {
            table,
            records: self.records,
            fields: self.fields,
            cells: self.cells,
            was: self.was,
            leave_out: self.leave_out,
            make: self.make,
        }
    }
}

/// Puts a block of cells in, as one step.
#[utoipa::path(patch, path = "/api/trackers/{tracker}/tables/{table}/block", params(OfTable), request_body = BlockBody, responses((status = 200, body = Done)))]
pub(super) async fn put(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<BlockBody>,
) -> Result<Json<Done>, Problem> {
    here.look()?;
    here.act(Intent::Block(Box::new(body.of(table)))).await
}

/// What putting a block in would do. Nothing is kept.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/block/rehearsal", params(OfTable), request_body = BlockBody, responses((status = 200, body = BlockRehearsal)))]
pub(super) async fn rehearse(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<BlockBody>,
) -> Result<Json<BlockRehearsal>, Problem> {
    let look = here.look()?;
    let rehearsed = move || Ok(body.of(table).rehearse(&look.dataset, look.asker, &look.clock)?);
    here.app.rooms.read(rehearsed).await?.map(Json)
}

/// Which cells are selected: so many rows of a view, from a place on, and some fields.
#[derive(Deserialize, ToSchema)]
pub(super) struct SumsBody {
    query: Query,
    /// The view whose own order they stand in.
    #[serde(default)]
    view: Option<ViewId>,
    /// Records that stay in sight though the condition leaves them out.
    #[serde(default)]
    keep: Vec<RecordId>,
    start: usize,
    count: usize,
    fields: Vec<FieldId>,
}

/// What selected cells come to.
#[derive(Serialize, ToSchema)]
pub(super) struct SumsReply {
    says: Vec<String>,
}

/// What the selected cells of a view come to.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/block/sums", params(OfTable), request_body = SumsBody, responses((status = 200, body = SumsReply)))]
pub(super) async fn sums(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<SumsBody>,
) -> Result<Json<SumsReply>, Problem> {
    let look = here.look()?;
    let summed = move || {
        let lens = look.lens();
        if look.dataset.table(table).is_none() || !lens.opens(table) {
            return Err(Fault::not_found("table").into());
        }
        let query = body.query.asked_by(&lens, table)?;
        let end = body.start.saturating_add(body.count.min(MOST_SUMMED));
        let own = body.view.and_then(|view| lens.own_order(view));
        let (slices, _) = query.found(&lens, table, &body.keep).ordered(own).slices(std::slice::from_ref(&(body.start..end)));
        let records: Vec<RecordId> = slices.into_iter().flat_map(|slice| slice.records).collect();
        Ok(SumsReply { says: lens.sums(table, &records, &body.fields) })
    };
    here.app.rooms.read(summed).await?.map(Json)
}
