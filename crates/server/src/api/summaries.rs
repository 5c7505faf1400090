//! Summaries: figures over linked records, as their editor keeps them.

use super::formulas::built;
use super::places::{OfField, OfTable};
use crate::here::Here;
use crate::{
    live::{Done, Look},
    problem::{Json, Path, Problem},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    access::Lens,
    condition::Condition,
    dataset::Dataset,
    fault::{Fault, FaultKind},
    figure::Figure,
    id::{FieldId, RecordId, TableId},
    intent::{FieldChange, Intent},
    schema::{FieldDef, Kind, Summary},
};

/// A summary as its editor keeps it.
#[derive(Deserialize, ToSchema)]
pub(super) struct SummaryBody {
    name: String,
    #[serde(default)]
    help: String,
    /// The links to follow.
    links: Vec<FieldId>,
    figure: Figure,
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

fn is_summary(look: &Look, table: TableId, field: FieldId) -> Result<(), Fault> {
    let known = look.dataset.table(table).and_then(|t| t.def.field(field));
    if known.is_some_and(|f| matches!(f.kind, Kind::Summary(_))) { Ok(()) } else { Err(Fault::not_found("summary")) }
}

/// Changes a summary.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/summaries/{field}", params(OfField), request_body = SummaryBody, responses((status = 200, body = Done)))]
pub(super) async fn change(
    here: Here,
    Path(OfField { table, field, .. }): Path<OfField>,
    Json(body): Json<SummaryBody>,
) -> Result<Json<Done>, Problem> {
    let look = here.look()?;
    is_summary(&look, table, field)?;
    let change = FieldChange::Change { field: summary(&look, table, field, body)?, merged: Vec::new() };
    here.act(Intent::Fields { table, change }).await
}

/// A summary to be tried: the one that is changed, or a new one.
#[derive(Deserialize, ToSchema)]
pub(super) struct TrySummary {
    summary: SummaryBody,
    #[serde(default)]
    field: Option<FieldId>,
}

/// What a summary would show, in a few records.
#[derive(Serialize, ToSchema)]
pub(super) struct SummaryTried {
    examples: Vec<Example>,
}

/// What would stand in a record.
#[derive(Serialize, ToSchema)]
pub(super) struct Example {
    record: RecordId,
    name: String,
    text: String,
}

/// Records in which a summary is tried.
const EXAMPLES: usize = 5;

/// What a summary would show, without keeping it.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/summaries/try", params(OfTable), request_body = TrySummary, responses((status = 200, body = SummaryTried)))]
pub(super) async fn attempt(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<TrySummary>,
) -> Result<Json<SummaryTried>, Problem> {
    let look = here.look()?;
    here.app.rooms.read(move || tried(&look, table, body)).await?.map(Json)
}

fn tried(look: &Look, table: TableId, body: TrySummary) -> Result<SummaryTried, Problem> {
    let TrySummary { summary: body, field } = body;
    field.map_or(Ok(()), |known| is_summary(look, table, known))?;
    let named = SummaryBody { name: format!("Tried at {}", look.dataset.seq), ..body };
    let def = summary(look, table, field.unwrap_or(FieldId::FIRST), named)?;
    let change = match field {
        Some(_) => FieldChange::Change { field: def, merged: Vec::new() },
        None => FieldChange::Add { field: def, before: None, other: None },
    };
    let decision = look.dataset.decide(&Intent::Fields { table, change }, look.asker, &look.clock)?;
    let id = field.or(decision.made.and_then(FieldId::new)).ok_or_else(|| Fault::not_found("field"))?;
    let mut after = Dataset::clone(&look.dataset);
    after.apply(&decision.change);
    let lens = Lens::new(&after, look.asker, &look.clock);
    let example = |record: RecordId| {
        let name = lens.record_name(table, record)?.name;
        Some(Example { record, name, text: lens.text_at(table, record, id) })
    };
    // Those in which something stands say more.
    let (mut full, bare): (Vec<Example>, Vec<Example>) =
        lens.records(table).take(500).filter_map(example).partition(|one| !one.text.is_empty() && one.text != "0");
    full.extend(bare);
    full.truncate(EXAMPLES);
    Ok(SummaryTried { examples: full })
}
