//! Finding: words in one tracker as one types, and in all that one may open.

use super::places::OfTracker;
use crate::{
    app::App,
    here::{Caller, Here},
    problem::{Json, Problem, Query},
};
use axum::extract::State;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    fault::Fault,
    find::{Discovery, Wanted},
    id::{PersonId, RecordId, TableId, TrackerId},
    schema::Stage,
    view,
};

/// Records told of each table, unless more are asked for.
const LINES: usize = 7;
/// The same of each table of other trackers.
const LINES_ELSEWHERE: usize = 3;

/// What is looked for.
#[derive(Deserialize, ToSchema)]
pub(super) struct FindBody {
    /// Words in any order; at most 200 letters and 8 words are looked for.
    text: String,
    /// In this table alone.
    #[serde(default)]
    table: Option<TableId>,
    /// Of this person alone: what names them, what they made, and what they said something of.
    #[serde(default)]
    person: Option<PersonId>,
    /// The view from which one looks: what it leaves out is said.
    #[serde(default)]
    from: Option<FromView>,
    /// Most records told of each table, at most 100; 7 unless it is said.
    #[serde(default)]
    lines: Option<usize>,
}

/// The view from which one looks, saved or not.
#[derive(Deserialize, ToSchema)]
pub(super) struct FromView {
    table: TableId,
    query: view::Query,
}

/// The records of a tracker that hold all of some words, each in any of their fields; and what else is called so.
#[utoipa::path(post, path = "/api/trackers/{tracker}/find", params(OfTracker), request_body = FindBody, responses((status = 200, body = Discovery)))]
pub(super) async fn find(here: Here, Json(body): Json<FindBody>) -> Result<Json<Discovery>, Problem> {
    let look = here.look()?;
    let texts = here.live.texts(&here.app.store).await?;
    let found = move || {
        let lens = look.lens();
        let from = body.from.filter(|from| lens.opens(from.table));
        let query = from.map(|from| from.query.asked_by(&lens, from.table).map(|query| (from.table, query))).transpose()?;
        let from = query.as_ref().map(|(table, query)| (*table, query));
        let (lines, person) = (body.lines.unwrap_or(LINES), body.person);
        Ok(lens.find(&Wanted { text: &body.text, table: body.table, person, from, lines, texts: Some(&texts) }))
    };
    here.app.rooms.read(found).await?.map(Json)
}

/// A number as somebody says it.
#[derive(Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(super) struct SaidNumber {
    number: String,
}

/// The record of a number.
#[derive(Serialize, ToSchema)]
pub(super) struct Numbered {
    table: TableId,
    record: RecordId,
}

/// The record whose number this is: *FR-2026-0107*.
#[utoipa::path(get, path = "/api/trackers/{tracker}/numbered", params(("tracker" = u32, Path), SaidNumber), responses((status = 200, body = Numbered)))]
pub(super) async fn numbered(here: Here, Query(said): Query<SaidNumber>) -> Result<Json<Numbered>, Problem> {
    let look = here.look()?;
    let found = here.app.rooms.read(move || look.lens().numbered(&said.number)).await?;
    let (table, record) = found.ok_or_else(|| Fault::not_found("record"))?;
    Ok(Json(Numbered { table, record }))
}

/// Words looked for in all trackers.
#[derive(Deserialize, ToSchema)]
pub(super) struct FindEverywhere {
    text: String,
    /// Of this person alone.
    #[serde(default)]
    person: Option<PersonId>,
    /// Not in this one.
    #[serde(default)]
    beside: Option<TrackerId>,
}

/// What was found in one of the trackers.
#[derive(Serialize, ToSchema)]
pub(super) struct FoundIn {
    tracker: TrackerId,
    name: String,
    found: Discovery,
}

/// The same in all trackers that one may open; those in which there is nothing are left out.
#[utoipa::path(post, path = "/api/find", request_body = FindEverywhere, responses((status = 200, body = Vec<FoundIn>)))]
pub(super) async fn everywhere(
    State(app): State<App>,
    caller: Caller,
    Json(FindEverywhere { text, person, beside }): Json<FindEverywhere>,
) -> Result<Json<Vec<FoundIn>>, Problem> {
    caller.person()?;
    let mut told = Vec::new();
    for tracker in app.store.trackers().await?.into_iter().filter(|id| Some(*id) != beside) {
        let live = app.tracker(tracker).await?;
        let Ok(look) = live.look(caller.asker()) else { continue };
        if matches!(look.dataset.tracker.stage, Stage::Away | Stage::Removed) {
            continue;
        }
        let (text, texts) = (text.clone(), live.texts(&app.store).await?);
        let found = move || {
            let found = look.lens().find(&Wanted { text: &text, person, lines: LINES_ELSEWHERE, texts: Some(&texts), ..Wanted::default() });
            FoundIn { tracker, name: look.dataset.tracker.name.clone(), found }
        };
        told.push(app.rooms.read(found).await?);
    }
    told.retain(|one| one.found.count > 0 || !one.found.places.is_empty());
    Ok(Json(told))
}
