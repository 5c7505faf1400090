//! Views: running one, keeping one.

use crate::{
    app::App,
    live::{Done, Look},
    problem::{Json, Path, Problem},
    session::Signed,
};
use axum::extract::State;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use utoipa::ToSchema;
use westerfall_core::{
    fault::{Fault, FaultKind},
    history::Part,
    id::{FieldId, RecordId, TableId, TrackerId, ViewId},
    intent::Intent,
    sentence::Phrase,
    view::{GroupCount, Query, Row, TallyFigure, View, Window},
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
pub(super) struct QueryAnswer {
    /// The state of the tracker that this is of.
    seq: u64,
    /// The tables whose records it depends on.
    of: BTreeSet<TableId>,
    /// Records in one's reach.
    total: usize,
    /// Of these, those that the condition holds for.
    matching: usize,
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
}

/// Where a record stands.
#[derive(Serialize, ToSchema)]
pub(super) struct KeptPlace {
    record: RecordId,
    place: usize,
}

/// Shows a part of a table in the way asked, saved or not.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/query", params(("tracker" = u32, Path), ("table" = u32, Path)), request_body = QueryBody, responses((status = 200, body = QueryAnswer), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn query(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, table)): Path<(TrackerId, TableId)>,
    Json(body): Json<QueryBody>,
) -> Result<Json<QueryAnswer>, Problem> {
    let look = app.tracker(tracker).await?.look(signed.asker())?;
    app.rooms.read(move || answer(&look, table, &body)).await?.map(Json)
}

fn answer(look: &Look, table: TableId, body: &QueryBody) -> Result<QueryAnswer, Problem> {
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
    Ok(QueryAnswer {
        of: lens.tables_of(&query, table),
        seq: look.dataset.seq,
        total: outcome.total,
        matching: outcome.matching,
        row_count: outcome.rows,
        start: body.start,
        fields,
        rows,
        groups: outcome.groups,
        tallies: outcome.tallies,
        kept: outcome.kept.into_iter().map(|(record, place)| KeptPlace { record, place }).collect(),
        sentence,
    })
}

/// A view to keep.
#[derive(Deserialize, ToSchema)]
pub(super) struct ViewBody {
    table: TableId,
    name: String,
    /// Only for oneself.
    personal: bool,
    query: Query,
}

impl ViewBody {
    fn view(self, id: ViewId, signed: &Signed) -> View {
        let owner = self.personal.then_some(signed.person);
        View { id, table: self.table, name: self.name.trim().to_owned(), owner, query: self.query }
    }
}

/// Keeps a new view.
#[utoipa::path(post, path = "/api/trackers/{tracker}/views", params(("tracker" = u32, Path)), request_body = ViewBody, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn make(
    State(app): State<App>,
    signed: Signed,
    Path(tracker): Path<TrackerId>,
    Json(body): Json<ViewBody>,
) -> Result<Json<Done>, Problem> {
    let live = app.tracker(tracker).await?;
    // Core gives the number.
    let view = body.view(ViewId::new(1).ok_or_else(|| Problem::internal("one is not zero"))?, &signed);
    Ok(Json(live.act(signed.actor()?, Intent::Make(Part::View(view))).await?))
}

/// Keeps a view in another state.
#[utoipa::path(put, path = "/api/trackers/{tracker}/views/{view}", params(("tracker" = u32, Path), ("view" = u32, Path)), request_body = ViewBody, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn save(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, ViewId)>,
    Json(body): Json<ViewBody>,
) -> Result<Json<Done>, Problem> {
    let live = app.tracker(tracker).await?;
    Ok(Json(live.act(signed.actor()?, Intent::Save(Part::View(body.view(id, &signed)))).await?))
}

/// Takes a view away.
#[utoipa::path(delete, path = "/api/trackers/{tracker}/views/{view}", params(("tracker" = u32, Path), ("view" = u32, Path)), responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn remove(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, ViewId)>,
) -> Result<Json<Done>, Problem> {
    let live = app.tracker(tracker).await?;
    let view = live.now().view(id).cloned().ok_or_else(|| Fault::not_found("view"))?;
    Ok(Json(live.act(signed.actor()?, Intent::Drop(Part::View(view))).await?))
}
