//! Areas: what lies in them, and to whom they are open.

use super::{places::OfTracker, team::acting};
use crate::{
    app::App,
    here::{Caller, Here},
    problem::{Json, Path, Problem},
    team::TeamDone,
};
use axum::extract::State;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use westerfall_core::{
    access::AccessRehearsal,
    fault::Fault,
    id::{AreaId, GroupId, TableId, TrackerId},
    people::{Area, AreaRight},
    team::{AreaWish, Team, TeamAsker, TeamIntent, opens_says},
};

/// An area, for those who may put a tracker there.
#[derive(Serialize, ToSchema)]
pub(super) struct AreaView {
    id: AreaId,
    name: String,
    about: String,
    /// To whom it is open: *Wardens look at everything here.* Empty: to nobody.
    opens_say: String,
    /// All of it, for the team’s owners, who change it.
    area: Option<Area>,
    /// What lies in it by name, for those who change it.
    trackers: Vec<AreaTracker>,
}

/// A tracker that lies in an area.
#[derive(Serialize, ToSchema)]
pub(super) struct AreaTracker {
    id: TrackerId,
    name: String,
}

/// The areas in their order. For the team’s owners, and for those who run a tracker.
#[utoipa::path(get, path = "/api/team/areas", responses((status = 200, body = Vec<AreaView>)))]
pub(super) async fn list(State(app): State<App>, caller: Caller) -> Result<Json<Vec<AreaView>>, Problem> {
    let me = caller.signed()?.person;
    let TeamAsker::Person { lets_in: true, .. } = app.team.asker(me).await? else { return Ok(Json(Vec::new())) };
    let team = app.team.now();
    let owns = team.is_owner(me) && caller.signed()?.stands_in.is_none();
    let mut views = Vec::new();
    for area in team.areas() {
        let mut trackers = Vec::new();
        for id in area.trackers.iter().copied().filter(|_| owns) {
            trackers.push(AreaTracker { id, name: app.tracker(id).await?.now().tracker.name.clone() });
        }
        views.push(AreaView {
            id: area.id,
            name: area.name.clone(),
            about: area.about.clone(),
            opens_say: opens_says(team.people(), area),
            area: owns.then(|| area.clone()),
            trackers,
        });
    }
    Ok(Json(views))
}

/// A new area.
#[derive(Deserialize, ToSchema)]
pub(super) struct NewArea {
    name: String,
    #[serde(default)]
    about: String,
}

async fn act(app: &App, caller: &Caller, wish: AreaWish) -> Result<Json<TeamDone>, Problem> {
    let (_, asker) = acting(app, caller).await?;
    Ok(Json((&app.act_on_team(asker, TeamIntent::Area(wish)).await?).into()))
}

/// Makes an area.
#[utoipa::path(post, path = "/api/team/areas", request_body = NewArea, responses((status = 200, body = TeamDone)))]
pub(super) async fn make(State(app): State<App>, caller: Caller, Json(body): Json<NewArea>) -> Result<Json<TeamDone>, Problem> {
    act(&app, &caller, AreaWish::Make { name: body.name, about: body.about }).await
}

/// The order in which areas are listed.
#[utoipa::path(put, path = "/api/team/areas", request_body = Vec<AreaId>, responses((status = 200, body = TeamDone)))]
pub(super) async fn order(State(app): State<App>, caller: Caller, Json(areas): Json<Vec<AreaId>>) -> Result<Json<TeamDone>, Problem> {
    act(&app, &caller, AreaWish::Order(areas)).await
}

/// An area as it shall be.
#[derive(Deserialize, ToSchema)]
pub(super) struct AreaBody {
    name: String,
    about: String,
    /// What lies in it, in another order.
    trackers: Vec<TrackerId>,
    opens: BTreeMap<GroupId, AreaRight>,
}

impl AreaBody {
    fn of(self, id: AreaId) -> Area {
        let Self { name, about, trackers, opens } = self;
        Area { id, name, about, trackers, opens }
    }
}

/// Changes an area.
#[utoipa::path(put, path = "/api/team/areas/{area}", params(("area" = u32, Path)), request_body = AreaBody, responses((status = 200, body = TeamDone)))]
pub(super) async fn save(
    State(app): State<App>,
    caller: Caller,
    Path(area): Path<AreaId>,
    Json(body): Json<AreaBody>,
) -> Result<Json<TeamDone>, Problem> {
    act(&app, &caller, AreaWish::Keep(body.of(area))).await
}

/// Takes an area away. What lies in it lies in none.
#[utoipa::path(delete, path = "/api/team/areas/{area}", params(("area" = u32, Path)), responses((status = 200, body = TeamDone)))]
pub(super) async fn remove(State(app): State<App>, caller: Caller, Path(area): Path<AreaId>) -> Result<Json<TeamDone>, Problem> {
    act(&app, &caller, AreaWish::Drop(area)).await
}

/// What a change of an area would do in one tracker.
#[derive(Serialize, ToSchema)]
pub(super) struct AreaMoves {
    tracker: TrackerId,
    name: String,
    /// The tables that it tells of, by name.
    tables: BTreeMap<TableId, String>,
    rehearsal: AccessRehearsal,
}

/// What another state of an area would do: who gains and who loses what, tracker by tracker. For those who may change it so.
#[utoipa::path(post, path = "/api/team/areas/{area}/rehearsal", params(("area" = u32, Path)), request_body = AreaBody, responses((status = 200, body = Vec<AreaMoves>)))]
pub(super) async fn rehearse(
    State(app): State<App>,
    caller: Caller,
    Path(area): Path<AreaId>,
    Json(body): Json<AreaBody>,
) -> Result<Json<Vec<AreaMoves>>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    let trackers = body.trackers.clone();
    let after = app.team.rehearse(&TeamIntent::Area(AreaWish::Keep(body.of(area))), &asker)?;
    let mut moves = Vec::new();
    for tracker in trackers {
        moves.extend(moves_of(&app, &caller, tracker, &after).await?);
    }
    Ok(Json(moves))
}

/// What would move in a tracker; nothing where nothing does, or where it is not the caller’s to know.
async fn moves_of(app: &App, caller: &Caller, tracker: TrackerId, after: &Team) -> Result<Option<AreaMoves>, Problem> {
    let Ok(look) = app.tracker(tracker).await?.look(caller.asker()) else { return Ok(None) };
    if !look.lens().is_steward() {
        return Ok(None);
    }
    let (name, people) = (look.dataset.tracker.name.clone(), after.people().clone());
    let tables = look.dataset.tables().map(|table| (table.def.id, table.def.name.clone())).collect();
    let rehearsal = app.rooms.read(move || look.lens().rehearse_team(people)).await?;
    Ok((!rehearsal.people.is_empty()).then_some(AreaMoves { tracker, name, tables, rehearsal }))
}

/// Where a tracker shall lie.
#[derive(Deserialize, ToSchema)]
pub(super) struct PlaceBody {
    area: Option<AreaId>,
    /// Only say what it would do.
    #[serde(default)]
    rehearse: bool,
}

/// What putting a tracker into an area would do, or did.
#[derive(Serialize, ToSchema)]
pub(super) struct PlaceReply {
    moves: Option<AreaMoves>,
    done: Option<TeamDone>,
}

/// Puts a tracker into an area, or says what that would do.
#[utoipa::path(put, path = "/api/trackers/{tracker}/area", params(OfTracker), request_body = PlaceBody, responses((status = 200, body = PlaceReply)))]
pub(super) async fn place(here: Here, Json(body): Json<PlaceBody>) -> Result<Json<PlaceReply>, Problem> {
    here.look()?;
    let (app, tracker) = (&here.app, here.tracker);
    let (_, asker) = acting(app, &here.caller).await?;
    let intent = TeamIntent::Area(AreaWish::Place { tracker, area: body.area });
    if body.rehearse {
        let after = app.team.rehearse(&intent, &asker)?;
        return Ok(Json(PlaceReply { moves: moves_of(app, &here.caller, tracker, &after).await?, done: None }));
    }
    let done = app.act_on_team(asker, intent).await?;
    Ok(Json(PlaceReply { moves: None, done: Some((&done).into()) }))
}

/// The area of this number, for a tracker that is begun there.
///
/// # Errors
/// There is none.
pub(super) fn known(app: &App, area: AreaId) -> Result<AreaId, Fault> {
    app.team.people().area(area).map(|area| area.id).ok_or_else(|| Fault::not_found("area").at("/area"))
}
