//! Summaries: figures over linked records, as their editor keeps them.

use super::formulas::built;
use super::places::{OfField, OfTable};
use crate::here::Here;
use crate::{
    live::{Done, Look},
    problem::{Json, Path, Problem},
};
use serde::Deserialize;
use utoipa::ToSchema;
use westerfall_core::{
    condition::Condition,
    fault::{Fault, FaultKind},
    id::{FieldId, TableId},
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
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/summaries", params(OfTable), request_body = SummaryBody, responses((status = 200, body = Done)))]
pub(super) async fn make(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<SummaryBody>,
) -> Result<Json<Done>, Problem> {
    let any = FieldId::FIRST;
    let before = body.before;
    let field = summary(&here.look()?, table, any, body)?;
    here.act(Intent::Fields { table, change: FieldChange::Add { field, before, other: None } }).await
}

/// Changes a summary.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/summaries/{field}", params(OfField), request_body = SummaryBody, responses((status = 200, body = Done)))]
pub(super) async fn change(
    here: Here,
    Path(OfField { table, field, .. }): Path<OfField>,
    Json(body): Json<SummaryBody>,
) -> Result<Json<Done>, Problem> {
    let look = here.look()?;
    let is_summary = look.dataset.table(table).and_then(|t| t.def.field(field)).is_some_and(|f| matches!(f.kind, Kind::Summary(_)));
    if !is_summary {
        return Err(Fault::not_found("summary").into());
    }
    let change = FieldChange::Change { field: summary(&look, table, field, body)?, merged: Vec::new() };
    here.act(Intent::Fields { table, change }).await
}
