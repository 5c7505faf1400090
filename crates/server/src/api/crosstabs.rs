//! Cross-tabs: the figures of one, and what stands behind a cell.

use super::places::OfTable;
use crate::here::Here;
use crate::problem::{Json, Path, Problem};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use utoipa::ToSchema;
use westerfall_core::{
    access::Lens,
    condition::Condition,
    fault::Fault,
    id::{FieldId, TableId},
    value::CellValue,
    view::{Crossed, Group, Query, Row},
};

/// Most records that are told behind a cell.
const MOST_BEHIND: usize = 100;

/// The view to be worked out.
#[derive(Deserialize, ToSchema)]
pub(super) struct CrossBody {
    query: Query,
}

/// A cross-tab, worked out.
#[derive(Serialize, ToSchema)]
pub(super) struct CrossReply {
    /// The state of the tracker that this is of.
    seq: u64,
    /// The tables whose records it depends on.
    of: BTreeSet<TableId>,
    crossed: Crossed,
}

/// A cell, by the values of its row and its column; none: the total.
#[derive(Deserialize, ToSchema)]
pub(super) struct CrossCellBody {
    query: Query,
    #[serde(default)]
    down: Vec<CellValue>,
    #[serde(default)]
    across: Vec<CellValue>,
}

/// What stands behind a cell.
#[derive(Serialize, ToSchema)]
pub(super) struct CrossCellReply {
    /// The state of the tracker that this is of.
    seq: u64,
    /// Nothing where there is no such cell any more.
    behind: Option<Behind>,
}

/// What a cell says, and its records.
#[derive(Serialize, ToSchema)]
pub(super) struct Behind {
    /// *Harrow Tarn, October*.
    title: String,
    /// The cell in words, with its shares.
    says: String,
    /// The cells of its row, the most first.
    along: String,
    /// The cells of its column.
    down: String,
    counted: String,
    count: usize,
    /// The fields of the cells, in their order.
    fields: Vec<FieldId>,
    /// The first hundred of its records, in the view's order within its parts.
    rows: Vec<Row>,
    parts: Vec<Group>,
    /// What holds of these records alone among the view's; nothing where no condition says it.
    only: Option<Condition>,
}

fn asked(lens: &Lens<'_>, table: TableId, query: &Query) -> Result<Query, Problem> {
    if lens.dataset().table(table).is_none() || !lens.opens(table) {
        return Err(Fault::not_found("table").into());
    }
    Ok(query.asked_by(lens, table)?)
}

/// The figures of a view that is a cross-tab.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/cross-tab", params(OfTable), request_body = CrossBody, responses((status = 200, body = CrossReply)))]
pub(super) async fn crossed(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<CrossBody>,
) -> Result<Json<CrossReply>, Problem> {
    let look = here.look()?;
    let crossed = move || {
        let lens = look.lens();
        let query = asked(&lens, table, &body.query)?;
        let crossed = query.crossed(&lens, table)?;
        Ok(CrossReply { seq: look.dataset.seq, of: lens.tables_of(&query, table), crossed })
    };
    here.app.rooms.read(crossed).await?.map(Json)
}

/// What stands behind a cell of a cross-tab: the cell in words, and its records.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/cross-tab/cell", params(OfTable), request_body = CrossCellBody, responses((status = 200, body = CrossCellReply)))]
pub(super) async fn cell(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<CrossCellBody>,
) -> Result<Json<CrossCellReply>, Problem> {
    let look = here.look()?;
    let told = move || {
        let lens = look.lens();
        let query = asked(&lens, table, &body.query)?;
        let behind = query.cross_records(&lens, table, &body.down, &body.across, MOST_BEHIND)?.map(|found| Behind {
            rows: query.rows(&lens, table)(&found.records),
            fields: query.fields.iter().map(|shown| shown.field).collect(),
            title: found.title,
            says: found.says,
            along: found.along,
            down: found.down,
            counted: found.counted,
            count: found.count,
            parts: found.parts,
            only: found.only,
        });
        Ok(CrossCellReply { seq: look.dataset.seq, behind })
    };
    here.app.rooms.read(told).await?.map(Json)
}
