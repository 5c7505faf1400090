//! Dashboards: pages of figures over one or several trackers, each read through its reader's own lenses.

use super::{rounds::looks, team::acting};
use crate::{
    app::App,
    here::Caller,
    live::Look,
    problem::{Json, Path, Problem},
    team::TeamDone,
};
use axum::extract::State;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use utoipa::ToSchema;
use westerfall_core::{
    dashboard::{BoardCondition, BoardDay, Dashboard, DashboardOpen, Dots, StatementTold, Tile, TileShows, TileTold},
    fault::Fault,
    id::{DashboardId, FieldId, TableId, TrackerId},
    schema::within_sentence,
    sentence::Phrase,
    team::{DashboardWish, TeamIntent},
    view::{Crossed, Query, Row},
};

/// A dashboard in a list.
#[derive(Serialize, ToSchema)]
pub(super) struct DashboardLine {
    id: DashboardId,
    name: String,
    about: String,
    /// *Open to Wardens; it counts what its reader may see.*
    open_says: String,
}

/// A dashboard as somebody sees it.
#[derive(Serialize, ToSchema)]
pub(super) struct DashboardView {
    dashboard: Dashboard,
    open_says: String,
    /// Whether whoever looks may change it.
    changes: bool,
    /// What each tile tells, in their order.
    tiles: Vec<TileReply>,
    /// What holds of the whole page, in words.
    only: Vec<OnlyReply>,
    /// What whoever looks narrows it to, in words.
    narrowed: Vec<OnlyReply>,
    /// The tables that its tiles look at and that are open to whoever looks.
    tables: Vec<BoardTable>,
    /// What they are of: another text once something changed.
    seen: String,
}

/// A condition of a page, in words.
#[derive(Serialize, ToSchema)]
pub(super) struct OnlyReply {
    #[schema(value_type = u32)]
    tracker: TrackerId,
    #[schema(value_type = u32)]
    table: TableId,
    /// Empty where the table is not open to whoever looks, or not there any more.
    sentence: Vec<Phrase>,
    /// Why it can't hold for whoever looks: what looks at that table shows nothing.
    refused: String,
}

impl OnlyReply {
    fn of(only: &BoardCondition, looks: &BTreeMap<TrackerId, Look>) -> Self {
        let BoardCondition { tracker, table, .. } = *only;
        let closed = || (Vec::new(), "It is of something that is not open to you.".to_owned());
        let (sentence, refused) = looks.get(&tracker).map_or_else(closed, |look| {
            let lens = look.lens();
            match only.check_for(&lens) {
                Ok(()) => (only.sentence(&lens), String::new()),
                Err(_) => closed(),
            }
        });
        Self { tracker, table, sentence, refused }
    }
}

/// A table that a page looks at.
#[derive(Serialize, ToSchema)]
pub(super) struct BoardTable {
    #[schema(value_type = u32)]
    tracker: TrackerId,
    #[schema(value_type = u32)]
    table: TableId,
    /// *Faults*.
    name: String,
    tracker_name: String,
}

fn tables_of(tiles: &[Tile], looks: &BTreeMap<TrackerId, Look>) -> Vec<BoardTable> {
    let places: BTreeSet<(TrackerId, TableId)> = tiles.iter().flat_map(|tile| tile.shows.tables()).collect();
    let known = |(tracker, table): (TrackerId, TableId)| {
        let look = looks.get(&tracker)?;
        let home = look.dataset.table(table).filter(|_| look.lens().opens(table))?;
        Some(BoardTable { tracker, table, name: home.def.name.clone(), tracker_name: look.dataset.tracker.name.clone() })
    };
    places.into_iter().filter_map(known).collect()
}

/// What a tile tells its reader.
#[derive(Serialize, ToSchema)]
pub(super) struct TileReply {
    key: u32,
    sentence: Vec<Phrase>,
    /// Why it shows nothing. Empty: it does.
    refused: String,
    statement: Option<StatementTold>,
    crossed: Option<Crossed>,
    dots: Option<Dots>,
    days: Option<Vec<BoardDay>>,
    /// What it looks for, with what holds of the whole page.
    query: Option<Query>,
    /// Of a list, the fields of its cells, their names, and the records.
    fields: Vec<FieldId>,
    names: Vec<String>,
    rows: Vec<Row>,
    counted: String,
}

impl TileReply {
    fn of(tile: &Tile, look: Option<&Look>, only: &[BoardCondition]) -> Self {
        let told = match (tile.shows.tracker(), look) {
            (None, _) => TileTold::default(),
            (Some(_), Some(look)) => tile.shows.told(&look.lens(), only),
            (Some(_), None) => TileTold::closed(),
        };
        let (fields, names, rows) = match (&tile.shows, look, &told.query) {
            (TileShows::View(view), Some(look), Some(query)) => {
                let lens = look.lens();
                let fields: Vec<FieldId> = query.fields.iter().map(|shown| shown.field).collect();
                let def = |field: &FieldId| look.dataset.field(*field).map(|(_, def)| within_sentence(&def.name)).unwrap_or_default();
                (fields.clone(), fields.iter().map(def).collect(), query.rows(&lens, view.table)(&told.records))
            }
            _ => Default::default(),
        };
        Self {
            key: tile.key,
            sentence: told.sentence,
            refused: told.refused,
            statement: told.statement,
            crossed: told.crossed,
            dots: told.dots,
            days: told.days,
            query: told.query,
            fields,
            names,
            rows,
            counted: told.counted,
        }
    }
}

/// The trackers that tiles look into, as whoever looks sees them; those that are not open to them are left out.
async fn looked(app: &App, caller: &Caller, tiles: &[Tile]) -> Result<BTreeMap<TrackerId, Look>, Problem> {
    let wanted: BTreeSet<TrackerId> = tiles.iter().filter_map(|tile| tile.shows.tracker()).collect();
    let mut looks = BTreeMap::new();
    for id in wanted {
        match app.tracker(id).await {
            Ok(live) => looks.extend(live.look(caller.asker()).ok().map(|look| (id, look))),
            Err(problem) if problem.is_missing() => {}
            Err(problem) => return Err(problem),
        }
    }
    Ok(looks)
}

/// What somebody has seen of trackers: another text once one of them changed, or its day turned.
fn seen_of(looks: &BTreeMap<TrackerId, Look>, team: u64) -> String {
    let of = looks.iter().map(|(id, look)| format!("{id}:{}:{}", look.dataset.seq, look.clock.today()));
    of.fold(format!("{team}"), |all, one| all + " " + &one)
}

fn found<'t>(team: &'t westerfall_core::team::Team, caller: &Caller, id: DashboardId) -> Result<&'t Dashboard, Problem> {
    let me = looks(caller)?;
    let open = team.dashboard(id).filter(|board| board.is_open_to(me, team.people()));
    Ok(open.ok_or_else(|| Fault::not_found("dashboard"))?)
}

/// The dashboards that one may look at, by their names.
#[utoipa::path(get, path = "/api/dashboards", responses((status = 200, body = Vec<DashboardLine>)))]
pub(super) async fn list(State(app): State<App>, caller: Caller) -> Result<Json<Vec<DashboardLine>>, Problem> {
    let me = looks(&caller)?;
    let team = app.team.now();
    let line = |board: &Dashboard| DashboardLine {
        id: board.id,
        name: board.name.clone(),
        about: board.about.clone(),
        open_says: board.open_says(team.people()),
    };
    Ok(Json(team.dashboards_for(me).into_iter().map(line).collect()))
}

/// A new dashboard, empty and for whoever makes it.
#[derive(Deserialize, ToSchema)]
pub(super) struct NewDashboard {
    name: String,
}

/// A dashboard that was made.
#[derive(Serialize, ToSchema)]
pub(super) struct DashboardMade {
    id: Option<DashboardId>,
    done: TeamDone,
}

/// Makes a dashboard.
#[utoipa::path(post, path = "/api/dashboards", request_body = NewDashboard, responses((status = 200, body = DashboardMade)))]
pub(super) async fn make(State(app): State<App>, caller: Caller, Json(body): Json<NewDashboard>) -> Result<Json<DashboardMade>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    let change = app.act_on_team(asker, TeamIntent::Dashboard(DashboardWish::Make { name: body.name })).await?;
    Ok(Json(DashboardMade { id: change.made_dashboard(), done: (&change).into() }))
}

/// What whoever looks narrows a page to, for themselves alone.
#[derive(Deserialize, ToSchema)]
pub(super) struct NarrowedBody {
    narrowed: Vec<BoardCondition>,
}

/// A dashboard as it is narrowed by whoever looks, for themselves alone.
#[utoipa::path(post, path = "/api/dashboards/{dashboard}/narrowed", params(("dashboard" = u32, Path)), request_body = NarrowedBody, responses((status = 200, body = DashboardView)))]
pub(super) async fn narrowed(
    State(app): State<App>,
    caller: Caller,
    Path(id): Path<DashboardId>,
    Json(body): Json<NarrowedBody>,
) -> Result<Json<DashboardView>, Problem> {
    seen_by(&app, &caller, id, body.narrowed).await
}

/// A dashboard with what each of its tiles tells.
#[utoipa::path(get, path = "/api/dashboards/{dashboard}", params(("dashboard" = u32, Path)), responses((status = 200, body = DashboardView)))]
pub(super) async fn open(State(app): State<App>, caller: Caller, Path(id): Path<DashboardId>) -> Result<Json<DashboardView>, Problem> {
    seen_by(&app, &caller, id, Vec::new()).await
}

async fn seen_by(app: &App, caller: &Caller, id: DashboardId, narrowed: Vec<BoardCondition>) -> Result<Json<DashboardView>, Problem> {
    let me = looks(caller)?;
    let team = app.team.now();
    let board = found(&team, caller, id)?.clone();
    let looks = looked(app, caller, &board.tiles).await?;
    let seen = seen_of(&looks, team.seq);
    let changes = caller.actor().is_ok() && team.may_change_dashboard(me, &board);
    let open_says = board.open_says(team.people());
    let told = move || {
        let all: Vec<BoardCondition> = board.only.iter().chain(&narrowed).cloned().collect();
        let tiles = board.tiles.iter().map(|tile| TileReply::of(tile, tile.shows.tracker().and_then(|id| looks.get(&id)), &all)).collect();
        let words = |only: &[BoardCondition]| only.iter().map(|one| OnlyReply::of(one, &looks)).collect();
        let (only, narrowed, tables) = (words(&board.only), words(&narrowed), tables_of(&board.tiles, &looks));
        Ok(DashboardView { dashboard: board, open_says, changes, tiles, only, narrowed, tables, seen })
    };
    app.rooms.read(told).await?.map(Json)
}

/// What a dashboard's figures are of: another text once something changed. Costs next to nothing.
#[utoipa::path(get, path = "/api/dashboards/{dashboard}/seen", params(("dashboard" = u32, Path)), responses((status = 200, body = String)))]
pub(super) async fn seen(State(app): State<App>, caller: Caller, Path(id): Path<DashboardId>) -> Result<Json<String>, Problem> {
    let team = app.team.now();
    let board = found(&team, &caller, id)?;
    let looks = looked(&app, &caller, &board.tiles).await?;
    Ok(Json(seen_of(&looks, team.seq)))
}

/// A dashboard as it shall be.
#[derive(Deserialize, ToSchema)]
pub(super) struct DashboardBody {
    name: String,
    #[serde(default)]
    about: String,
    open: DashboardOpen,
    columns: u8,
    tiles: Vec<Tile>,
    #[serde(default)]
    only: Vec<BoardCondition>,
}

/// Changes a dashboard.
#[utoipa::path(put, path = "/api/dashboards/{dashboard}", params(("dashboard" = u32, Path)), request_body = DashboardBody, responses((status = 200, body = TeamDone)))]
pub(super) async fn keep(
    State(app): State<App>,
    caller: Caller,
    Path(id): Path<DashboardId>,
    Json(body): Json<DashboardBody>,
) -> Result<Json<TeamDone>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    let owner = found(&app.team.now(), &caller, id)?.owner;
    let DashboardBody { name, about, open, columns, tiles, only } = body;
    let after = Dashboard { id, name, about, owner, open, columns, tiles, only };
    Ok(Json((&app.act_on_team(asker, TeamIntent::Dashboard(DashboardWish::Keep(Box::new(after)))).await?).into()))
}

/// Takes a dashboard away.
#[utoipa::path(delete, path = "/api/dashboards/{dashboard}", params(("dashboard" = u32, Path)), responses((status = 200, body = TeamDone)))]
pub(super) async fn remove(State(app): State<App>, caller: Caller, Path(id): Path<DashboardId>) -> Result<Json<TeamDone>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    Ok(Json((&app.act_on_team(asker, TeamIntent::Dashboard(DashboardWish::Drop(id))).await?).into()))
}

/// A tile as it is being put together, and what holds of its page.
#[derive(Deserialize, ToSchema)]
pub(super) struct TileBody {
    tile: Tile,
    #[serde(default)]
    only: Vec<BoardCondition>,
}

/// What a tile would tell whoever asks, before it is kept.
#[utoipa::path(post, path = "/api/dashboards/look", request_body = TileBody, responses((status = 200, body = TileReply)))]
pub(super) async fn look(State(app): State<App>, caller: Caller, Json(body): Json<TileBody>) -> Result<Json<TileReply>, Problem> {
    looks(&caller)?;
    let TileBody { tile, only } = body;
    let tiles = [tile];
    let looks = looked(&app, &caller, &tiles).await?;
    let told = move || {
        let [tile] = &tiles;
        Ok(TileReply::of(tile, tile.shows.tracker().and_then(|id| looks.get(&id)), &only))
    };
    app.rooms.read(told).await?.map(Json)
}
