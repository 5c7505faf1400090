//! Formulas: their help, trying one, keeping one as a calculation; and why a cell holds what it does.

use super::places::{OfCell, OfField, OfRecord, OfTable};
use crate::here::Here;
use crate::{
    app::App,
    live::{Done, Look},
    problem::{Json, Path, Problem},
    session::Signed,
};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use utoipa::ToSchema;
use westerfall_core::{
    condition::Condition,
    fault::{Fault, FaultKind},
    formula::{Formula, FormulaFault, ResultType, Trace, functions},
    id::{FieldId, RecordId, TableId, TrackerId},
    intent::{FieldChange, Intent},
    schema::{FieldDef, Kind},
    vocabulary::Vocabulary,
    why::{Because, Why},
};
use westerfall_store::TalkAt;

/// Changes of a record that are searched for who put a value in.
const TRAIL: usize = 200;
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
pub(super) struct TryReply {
    result: ResultType,
    /// The type in words.
    gives: String,
    /// How the result would be shown.
    shows: Kind,
    /// How it could be shown, the plainest first.
    ways: Vec<ShownWay>,
    faults: Vec<FormulaFault>,
    /// What it gives for the record, where there is one and nothing is wrong.
    text: Option<String>,
    trace: Option<Trace>,
    /// It draws on something that is not open to whoever tries it, so that nothing is told of what it gives.
    withheld: bool,
}

/// A way in which a result can be shown.
#[derive(Serialize, ToSchema)]
pub(super) struct ShownWay {
    name: &'static str,
    kind: Kind,
}

/// What can be said of fields, in words: kinds, checks, orders, periods, figures.
#[utoipa::path(get, path = "/api/vocabulary", responses((status = 200, body = Vocabulary)))]
pub(super) async fn vocabulary(_signed: Signed) -> Json<Vocabulary> {
    Json(Vocabulary::new())
}

/// Whether the asker may change fields of this table.
pub(super) fn built(look: &Look, table: TableId) -> Result<(), Fault> {
    if !look.lens().builds() {
        return Err(Fault::new(FaultKind::NotAllowed, "Only the tracker’s steward and builders can write formulas."));
    }
    look.dataset.table(table).filter(|_| look.lens().opens(table)).map(drop).ok_or_else(|| Fault::not_found("table"))
}

/// Tries a formula without keeping it.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/formulas", params(OfTable), request_body = TryBody, responses((status = 200, body = TryReply)))]
pub(super) async fn try_formula(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<TryBody>,
) -> Result<Json<TryReply>, Problem> {
    let look = here.look()?;
    built(&look, table)?;
    // A formula may count over every record: not on a thread that answers others.
    Ok(Json(here.app.rooms.read(move || tried(&look, table, &body)).await?))
}

fn tried(look: &Look, table: TableId, body: &TryBody) -> TryReply {
    let ds = &look.dataset;
    let parsed = Formula::read(&body.formula, ds, table);
    let fitting = body.shows.clone().filter(|kind| kind.shows_type(parsed.result.of));
    let shows = fitting.unwrap_or_else(|| Kind::of_type(parsed.result.of));
    let lens = look.lens();
    let record = body.record.filter(|r| lens.sees(table, *r)).filter(|_| parsed.faults.is_empty());
    // What draws on something that is not open to whoever tries it gives them nothing.
    let tried = record.and_then(|r| lens.try_formula(&parsed.formula, table, Some(&shows), r));
    let withheld = record.is_some() && tried.is_none();
    let (text, trace) = tried.map_or((None, None), |t| (Some(t.text), Some(t.trace)));
    let ways = Kind::all_of_type(parsed.result.of).into_iter().map(|kind| ShownWay { name: kind.name(), kind }).collect();
    TryReply { result: parsed.result, gives: parsed.result.of.name().into(), shows, ways, faults: parsed.faults, text, trace, withheld }
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
    let parsed = Formula::read(&body.formula, &look.dataset, table);
    if let Some(fault) = parsed.faults.first() {
        return Err(Fault::new(FaultKind::BadRule, format!("The formula can’t be kept: {}.", fault.message)).at("/formula"));
    }
    let kind = Kind::Calculation { formula: parsed.formula, shows: Box::new(body.shows.clone()) };
    Ok(FieldDef { help: body.help.clone(), ..FieldDef::new(id, body.name.trim(), kind) })
}

/// Makes a calculation.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/calculations", params(OfTable), request_body = CalculationBody, responses((status = 200, body = Done)))]
pub(super) async fn make(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<CalculationBody>,
) -> Result<Json<Done>, Problem> {
    let any = FieldId::FIRST;
    let field = calculation(&here.look()?, table, any, &body)?;
    let change = FieldChange::Add { field, before: body.before, other: None };
    here.act(Intent::Fields { table, change }).await
}

/// Changes a calculation.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/calculations/{field}", params(OfField), request_body = CalculationBody, responses((status = 200, body = Done)))]
pub(super) async fn change(
    here: Here,
    Path(OfField { table, field, .. }): Path<OfField>,
    Json(body): Json<CalculationBody>,
) -> Result<Json<Done>, Problem> {
    let look = here.look()?;
    let is_calculation =
        look.dataset.table(table).and_then(|t| t.def.field(field)).is_some_and(|f| matches!(f.kind, Kind::Calculation { .. }));
    if !is_calculation {
        return Err(Fault::not_found("calculation").into());
    }
    let change = FieldChange::Change { field: calculation(&look, table, field, &body)?, merged: Vec::new() };
    here.act(Intent::Fields { table, change }).await
}

/// Why a cell holds what it does.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/why/{field}", params(OfCell), responses((status = 200, body = Why)))]
pub(super) async fn why(here: Here, Path(OfCell { table, record, field, .. }): Path<OfCell>) -> Result<Json<Why>, Problem> {
    let look = here.look()?;
    let mut why = look.lens().why(table, record, field).ok_or_else(|| Fault::not_found("cell"))?;
    let mut trails = HashMap::new();
    if look.dataset.table(table).and_then(|t| t.def.field(field)).is_some_and(|f| f.kind.takes_input()) {
        why.set = set(&here.app, &look, here.tracker, (table, record, field), &mut trails).await?;
    }
    for source in &mut why.sources {
        if let Some(cell) = source.cell.as_ref().filter(|c| !c.computed) {
            source.set = set(&here.app, &look, here.tracker, (cell.table, cell.record, cell.field), &mut trails).await?;
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
        let changes = app.store.trail(TalkAt { tracker, table, record }, 0..u64::MAX, TRAIL).await?;
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
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/because", params(OfRecord), request_body = BecauseBody, responses((status = 200, body = Because)))]
pub(super) async fn because(
    here: Here,
    Path(OfRecord { table, record, .. }): Path<OfRecord>,
    Json(body): Json<BecauseBody>,
) -> Result<Json<Because>, Problem> {
    let look = here.look()?;
    let lens = look.lens();
    if !lens.sees(table, record) {
        return Err(Fault::not_found("record").into());
    }
    body.condition.check_for(&lens, table)?;
    Ok(Json(lens.because(table, record, &body.condition).ok_or_else(|| Fault::not_found("record"))?))
}
