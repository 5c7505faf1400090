//! Formulas: their help, trying one, keeping one as a calculation; and why a cell holds what it does.

use crate::{
    app::App,
    live::{Done, Look},
    problem::{Json, Path, Problem},
    session::Signed,
};
use axum::extract::State;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use utoipa::ToSchema;
use westerfall_core::{
    condition::Condition,
    fault::{Fault, FaultKind},
    formula::{Formula, FormulaFault, Shape, Trace, functions},
    id::{FieldId, RecordId, TableId, TrackerId},
    intent::{FieldChange, Intent},
    schema::{FieldDef, Kind},
    why::{Because, Why},
};

/// Changes of a record that are searched for who put a value in.
const TRAIL: i64 = 200;
/// Most records whose trails are searched for one slip.
const RECORDS: usize = 8;

/// Every function that formulas may call.
#[utoipa::path(get, path = "/api/functions", responses((status = 200, body = Vec<functions::FunctionHelp>)))]
pub(super) async fn help(_signed: Signed) -> Json<Vec<functions::FunctionHelp>> {
    Json(functions::all().map(functions::Function::to_help).collect())
}

/// A formula to be tried on a record.
#[derive(Deserialize, ToSchema)]
pub(super) struct TryBody {
    /// As typed.
    formula: String,
    /// None: only read it.
    #[serde(default)]
    record: Option<RecordId>,
    /// How the result is to be shown; none: as fits its type.
    #[serde(default)]
    shows: Option<Kind>,
}

/// What a formula is and gives. Nothing is kept.
#[derive(Serialize, ToSchema)]
pub(super) struct TryAnswer {
    shape: Shape,
    /// The type in words.
    gives: String,
    /// How the result would be shown.
    shows: Kind,
    faults: Vec<FormulaFault>,
    /// What it gives for the record, where there is one and nothing is wrong.
    text: Option<String>,
    trace: Option<Trace>,
    /// It draws on something that is not open to whoever tries it, so that nothing is told of what it gives.
    withheld: bool,
}

/// Whether the asker may change fields of this table.
pub(super) fn built(look: &Look, table: TableId) -> Result<(), Fault> {
    if !look.lens().builds() {
        return Err(Fault::new(FaultKind::NotAllowed, "Only the tracker’s steward and builders can write formulas."));
    }
    look.dataset.table(table).filter(|_| look.lens().opens(table)).map(drop).ok_or_else(|| Fault::not_found("table"))
}

/// Tries a formula without keeping it.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/formulas", params(("tracker" = u32, Path), ("table" = u32, Path)), request_body = TryBody, responses((status = 200, body = TryAnswer), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn try_formula(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, table)): Path<(TrackerId, TableId)>,
    Json(body): Json<TryBody>,
) -> Result<Json<TryAnswer>, Problem> {
    let look = app.tracker(tracker).await?.look(signed.asker())?;
    built(&look, table)?;
    // A formula may count over every record: not on a thread that answers others.
    Ok(Json(app.rooms.read(move || tried(&look, table, &body)).await?))
}

fn tried(look: &Look, table: TableId, body: &TryBody) -> TryAnswer {
    let ds = &look.dataset;
    let reading = Formula::read(&body.formula, ds, table);
    let fitting = body.shows.clone().filter(|kind| kind.shows_type(reading.shape.of));
    let shows = fitting.unwrap_or_else(|| Kind::of_type(reading.shape.of));
    let lens = look.lens();
    let record = body.record.filter(|r| lens.sees(table, *r)).filter(|_| reading.faults.is_empty());
    // What draws on something that is not open to whoever tries it gives them nothing.
    let tried = record.and_then(|r| lens.try_formula(&reading.formula, table, Some(&shows), r));
    let withheld = record.is_some() && tried.is_none();
    let (text, trace) = tried.map_or((None, None), |t| (Some(t.text), Some(t.trace)));
    TryAnswer { shape: reading.shape, gives: reading.shape.of.name().into(), shows, faults: reading.faults, text, trace, withheld }
}

/// A calculation as its editor keeps it.
#[derive(Deserialize, ToSchema)]
pub(super) struct CalculationBody {
    name: String,
    #[serde(default)]
    help: String,
    /// As typed.
    formula: String,
    shows: Kind,
    /// A new field's place: before this one; none: at the end.
    #[serde(default)]
    before: Option<FieldId>,
}

fn calculation(look: &Look, table: TableId, id: FieldId, body: &CalculationBody) -> Result<FieldDef, Fault> {
    built(look, table)?;
    let reading = Formula::read(&body.formula, &look.dataset, table);
    if let Some(fault) = reading.faults.first() {
        return Err(Fault::new(FaultKind::BadRule, format!("The formula can’t be kept: {}.", fault.message)).at("/formula"));
    }
    let kind = Kind::Calculation { formula: reading.formula, shows: Box::new(body.shows.clone()) };
    Ok(FieldDef { help: body.help.clone(), ..FieldDef::new(id, body.name.trim(), kind) })
}

/// Makes a calculation.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/calculations", params(("tracker" = u32, Path), ("table" = u32, Path)), request_body = CalculationBody, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn make(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, table)): Path<(TrackerId, TableId)>,
    Json(body): Json<CalculationBody>,
) -> Result<Json<Done>, Problem> {
    let live = app.tracker(tracker).await?;
    let any = FieldId::new(1).ok_or_else(|| Fault::not_found("field"))?;
    let field = calculation(&live.look(signed.asker())?, table, any, &body)?;
    let change = FieldChange::Add { field, before: body.before, other: None };
    Ok(Json(live.act(signed.actor()?, Intent::Fields { table, change }).await?))
}

/// Changes a calculation.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/calculations/{field}", params(("tracker" = u32, Path), ("table" = u32, Path), ("field" = u32, Path)), request_body = CalculationBody, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn change(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, table, field)): Path<(TrackerId, TableId, FieldId)>,
    Json(body): Json<CalculationBody>,
) -> Result<Json<Done>, Problem> {
    let live = app.tracker(tracker).await?;
    let look = live.look(signed.asker())?;
    let is_calculation =
        look.dataset.table(table).and_then(|t| t.def.field(field)).is_some_and(|f| matches!(f.kind, Kind::Calculation { .. }));
    if !is_calculation {
        return Err(Fault::not_found("calculation").into());
    }
    let change = FieldChange::Change { field: calculation(&look, table, field, &body)?, merged: Vec::new() };
    Ok(Json(live.act(signed.actor()?, Intent::Fields { table, change }).await?))
}

/// Why a cell holds what it does.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/why/{field}", params(("tracker" = u32, Path), ("table" = u32, Path), ("record" = u32, Path), ("field" = u32, Path)), responses((status = 200, body = Why), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn why(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, table, record, field)): Path<(TrackerId, TableId, RecordId, FieldId)>,
) -> Result<Json<Why>, Problem> {
    let look = app.tracker(tracker).await?.look(signed.asker())?;
    let mut why = look.lens().why(table, record, field).ok_or_else(|| Fault::not_found("cell"))?;
    let mut trails = HashMap::new();
    if look.dataset.table(table).and_then(|t| t.def.field(field)).is_some_and(|f| f.kind.takes_input()) {
        why.set = set(&app, &look, tracker, (table, record, field), &mut trails).await?;
    }
    for source in &mut why.sources {
        if let Some(cell) = source.cell.as_ref().filter(|c| !c.computed) {
            source.set = set(&app, &look, tracker, (cell.table, cell.record, cell.field), &mut trails).await?;
        }
    }
    Ok(Json(why))
}

type Trails = HashMap<(TableId, RecordId), Vec<westerfall_core::trail::TrailEntry>>;

/// Who put a value in and when, as far as the asker may see the trail.
async fn set(
    app: &App,
    look: &Look,
    tracker: TrackerId,
    (table, record, field): (TableId, RecordId, FieldId),
    trails: &mut Trails,
) -> Result<Option<String>, Problem> {
    if !trails.contains_key(&(table, record)) {
        if trails.len() >= RECORDS {
            return Ok(None);
        }
        let changes = app.store.trail(tracker, table, record, TRAIL).await?;
        trails.insert((table, record), look.lens().trail(table, record, &changes));
    }
    let entry = trails[&(table, record)].iter().find(|e| e.edits.iter().any(|edit| edit.field == field));
    Ok(entry.map(|e| format!("{}, {}", e.who, e.at_text)))
}

/// A condition that takes or leaves a record.
#[derive(Deserialize, ToSchema)]
pub(super) struct BecauseBody {
    condition: Condition,
}

/// Why a condition holds for a record, or why not: part by part.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/because", params(("tracker" = u32, Path), ("table" = u32, Path), ("record" = u32, Path)), request_body = BecauseBody, responses((status = 200, body = Because), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn because(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, table, record)): Path<(TrackerId, TableId, RecordId)>,
    Json(body): Json<BecauseBody>,
) -> Result<Json<Because>, Problem> {
    let look = app.tracker(tracker).await?.look(signed.asker())?;
    let lens = look.lens();
    if !lens.sees(table, record) {
        return Err(Fault::not_found("record").into());
    }
    body.condition.check_for(&lens, table)?;
    Ok(Json(lens.because(table, record, &body.condition).ok_or_else(|| Fault::not_found("record"))?))
}
