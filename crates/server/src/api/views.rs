//! Views: running one, keeping one.

use super::places::{OfField, OfTable};
use crate::here::Here;
use crate::{
    live::Look,
    problem::{Json, Path, Problem},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use utoipa::ToSchema;
use westerfall_core::{
    fault::{Fault, FaultKind},
    id::{FieldId, RecordId, TableId},
    sentence::Phrase,
    view::{FieldSlip, GroupCount, PartAlone, Query, Row, TallyFigure, Window},
};

/// Most rows in one answer.
const MOST_ROWS: usize = 500;

/// What to show, and which part of it.
#[derive(Deserialize, ToSchema)]
pub(super) struct QueryBody {
    query: Query,
    /// Place of the first row wanted, from 0.
    start: usize,
    /// Rows wanted, at most 500.
    count: usize,
    /// Records that stay in sight whether or not the condition holds: new ones.
    #[serde(default)]
    keep: Vec<RecordId>,
}

/// What a view shows.
#[derive(Serialize, ToSchema)]
pub(super) struct QueryReply {
    /// The state of the tracker that this is of.
    seq: u64,
    /// The tables whose records it depends on.
    of: BTreeSet<TableId>,
    /// Records in one's reach.
    total: usize,
    /// Of these, those that the condition holds for.
    matching: usize,
    /// The same in words.
    counted: String,
    /// Rows in all, those kept in sight included.
    row_count: usize,
    start: usize,
    /// The fields of the cells, in their order. Fields not open to the asker are left out.
    fields: Vec<FieldId>,
    rows: Vec<Row>,
    groups: Vec<GroupCount>,
    tallies: Vec<TallyFigure>,
    /// Where the records that stay in sight stand.
    kept: Vec<KeptPlace>,
    sentence: Vec<Phrase>,
    /// Where nothing fits: what each part of the condition would leave alone.
    alone: Vec<PartAlone>,
}

/// Where a record stands.
#[derive(Serialize, ToSchema)]
pub(super) struct KeptPlace {
    record: RecordId,
    place: usize,
}

/// Shows a part of a table in the way asked, saved or not.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/query", params(OfTable), request_body = QueryBody, responses((status = 200, body = QueryReply)))]
pub(super) async fn query(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<QueryBody>,
) -> Result<Json<QueryReply>, Problem> {
    let look = here.look()?;
    here.app.rooms.read(move || answer(&look, table, &body)).await?.map(Json)
}

fn answer(look: &Look, table: TableId, body: &QueryBody) -> Result<QueryReply, Problem> {
    let lens = look.lens();
    if look.dataset.table(table).is_none() || !lens.opens(table) {
        return Err(Fault::not_found("table").into());
    }
    if body.keep.len() > MOST_ROWS {
        return Err(Fault::new(FaultKind::TooLong, format!("At most {MOST_ROWS} records can be kept in sight.")).at("/keep").into());
    }
    let query = body.query.asked_by(&lens, table)?;
    let end = body.start.saturating_add(body.count.min(MOST_ROWS));
    let outcome = query.run(&lens, table, &Window { rows: body.start..end, keep: &body.keep });
    let fields: Vec<FieldId> = query.fields.iter().map(|f| f.field).collect();
    let mut rows = lens.rows(table, &outcome.window, &fields);
    for row in &mut rows {
        row.outside = outcome.outside.contains(&row.id);
    }
    let sentence = query.to_sentence(&lens, table, &outcome);
    let alone = if outcome.matching == 0 && outcome.total > 0 { query.parts_alone(&lens, table) } else { Vec::new() };
    Ok(QueryReply {
        of: lens.tables_of(&query, table),
        seq: look.dataset.seq,
        total: outcome.total,
        matching: outcome.matching,
        counted: outcome.counted,
        row_count: outcome.rows,
        start: body.start,
        fields,
        rows,
        groups: outcome.groups,
        tallies: outcome.tallies,
        kept: outcome.kept.into_iter().map(|(record, place)| KeptPlace { record, place }).collect(),
        sentence,
        alone,
    })
}

/// Over which records a field is looked into.
#[derive(Deserialize, ToSchema)]
pub(super) struct SlipBody {
    query: Query,
}

/// What is in a field of a view: in a sentence, as a drawing, and what can be done with it.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/fields/{field}/slip", params(OfField), request_body = SlipBody, responses((status = 200, body = FieldSlip)))]
pub(super) async fn slip(
    here: Here,
    Path(OfField { table, field, .. }): Path<OfField>,
    Json(body): Json<SlipBody>,
) -> Result<Json<FieldSlip>, Problem> {
    let look = here.look()?;
    let looked = move || Ok(body.query.look_into(&look.lens(), table, field)?);
    here.app.rooms.read(looked).await?.map(Json)
}
