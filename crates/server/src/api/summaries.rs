//! Summaries: figures over linked records, as their editor keeps them.

use super::formulas::built;
use crate::{
    app::App,
    live::{Done, Look},
    problem::{Json, Path, Problem},
    session::Signed,
};
use axum::extract::State;
use serde::Deserialize;
use utoipa::ToSchema;
use westerfall_core::{
    condition::Condition,
    fault::{Fault, FaultKind},
    id::{FieldId, TableId, TrackerId},
    intent::{FieldChange, Intent},
    schema::{FieldDef, Kind, Summary, SummaryFigure},
};

/// A summary as its editor keeps it.
#[derive(Deserialize, ToSchema)]
pub(super) struct SummaryBody {
    name: String,
    #[serde(default)]
    help: String,
    /// The links to follow.
    links: Vec<FieldId>,
    figure: SummaryFigure,
    /// The field there; counting records needs none.
    #[serde(default)]
    field: Option<FieldId>,
    #[serde(default)]
    condition: Condition,
    /// A new field's place: before this one; none: at the end.
    #[serde(default)]
    before: Option<FieldId>,
}

fn summary(look: &Look, table: TableId, id: FieldId, body: SummaryBody) -> Result<FieldDef, Fault> {
    built(look, table)?;
    let end = look.dataset.end_of(table, &body.links).ok_or_else(|| Fault::not_found("link").at("/links"))?;
    let shows = look.dataset.summary_kind(end, body.figure, body.field).ok_or_else(|| {
        Fault::new(
            FaultKind::BadRule,
            "This field can’t be figured so. Choose a field whose values are numbers, dates or yes and no, as the figure needs.",
        )
        .at("/field")
    })?;
    let summary = Summary { links: body.links, figure: body.figure, field: body.field, condition: body.condition, shows: Box::new(shows) };
    let kind = Kind::Summary(summary);
    Ok(FieldDef { help: body.help, ..FieldDef::new(id, body.name.trim(), kind) })
}

/// Makes a summary.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/summaries", params(("tracker" = u32, Path), ("table" = u32, Path)), request_body = SummaryBody, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn make(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, table)): Path<(TrackerId, TableId)>,
    Json(body): Json<SummaryBody>,
) -> Result<Json<Done>, Problem> {
    let live = app.tracker(tracker).await?;
    let any = FieldId::new(1).ok_or_else(|| Fault::not_found("field"))?;
    let before = body.before;
    let field = summary(&live.look(signed.asker())?, table, any, body)?;
    Ok(Json(live.act(signed.actor()?, Intent::Fields { table, change: FieldChange::Add { field, before, other: None } }).await?))
}

/// Changes a summary.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/summaries/{field}", params(("tracker" = u32, Path), ("table" = u32, Path), ("field" = u32, Path)), request_body = SummaryBody, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn change(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, table, field)): Path<(TrackerId, TableId, FieldId)>,
    Json(body): Json<SummaryBody>,
) -> Result<Json<Done>, Problem> {
    let live = app.tracker(tracker).await?;
    let look = live.look(signed.asker())?;
    let is_summary = look.dataset.table(table).and_then(|t| t.def.field(field)).is_some_and(|f| matches!(f.kind, Kind::Summary(_)));
    if !is_summary {
        return Err(Fault::not_found("summary").into());
    }
    let change = FieldChange::Change { field: summary(&look, table, field, body)?, merged: Vec::new() };
    Ok(Json(live.act(signed.actor()?, Intent::Fields { table, change }).await?))
}
