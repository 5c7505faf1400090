//! Home: the trackers one may open, with what others did there since one last looked.

use super::{places::OfTracker, rounds::looks};
use crate::{
    app::App,
    here::{Caller, Here},
    live::Look,
    mornings::duties,
    problem::{Json, Problem, Query},
};
use axum::{extract::State, http::StatusCode};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet, HashMap};
use utoipa::{IntoParams, ToSchema};
use westerfall_core::{
    access::Lens,
    home::{HomeCounts, HomeOrder, OnYou, Report, Since, home_sentence, home_title, on_you},
    id::{AreaId, GroupId, TableId, TrackerId},
    people::People,
    schema::{Hue, Stage},
    sentence::{Phrase, a_or_an},
    team::Team,
    value::list_text,
};

/// How one wants to be told.
#[derive(Clone, Copy, Debug, Default, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
#[serde(default)]
pub(super) struct Telling {
    since: Since,
    order: HomeOrder,
}

/// Home, as a report.
#[derive(Serialize, ToSchema)]
pub(super) struct HomeView {
    /// The day and the hour: *Thursday 26 November 2026, 08:31*.
    now: String,
    /// *Since yesterday at 17:42*.
    title: String,
    /// As it is told.
    since: Since,
    order: HomeOrder,
    says: Vec<Phrase>,
    sections: Vec<HomeSection>,
    /// Trackers that were put away or removed.
    out: Vec<HomeLine>,
    /// What is on whoever looks and is in no tracker.
    on_you: OnYou,
}

/// Trackers that are listed together.
#[derive(Serialize, ToSchema)]
pub(super) struct HomeSection {
    /// What stands beside them: *On top*, the area’s name, *In no area*; empty where they are all of them.
    name: String,
    about: String,
    /// The area in which they lie.
    area: Option<AreaId>,
    lines: Vec<HomeLine>,
}

/// A tracker as it is listed at home.
#[derive(Clone, Serialize, ToSchema)]
pub(super) struct HomeLine {
    id: TrackerId,
    name: String,
    description: String,
    /// The area in which it lies, by name.
    area: String,
    icon: String,
    hue: Option<Hue>,
    /// What one finds there: *320 faults, 64 sections, 6 districts*.
    holds: String,
    stage: Stage,
    /// What its stage is called; nothing while it is open.
    stage_word: &'static str,
    report: Report,
    /// What is on whoever looks there.
    on_you: OnYou,
    /// When one last looked.
    looked: Option<Timestamp>,
    /// Whether one keeps it on top oneself.
    kept: bool,
    /// The groups of one’s own for whose sake it stands on top.
    kept_for: String,
    /// What one may add there, for those who do not build it.
    adds: Vec<AddsHere>,
}

/// Something that one may add to: a table, or by a form.
#[derive(Clone, Serialize, ToSchema)]
pub(super) struct AddsHere {
    /// *a fault*, *Report a path fault*.
    words: String,
    table: Option<TableId>,
    /// Of a form, where it is answered.
    address: Option<String>,
}

/// What one keeps on top: for oneself, and for the groups one is in.
struct Tops {
    own: BTreeSet<TrackerId>,
    groups: BTreeMap<TrackerId, Vec<String>>,
}

impl Tops {
    async fn of(app: &App, caller: &Caller) -> Result<Self, Problem> {
        let me = caller.person()?;
        let people = app.team.people();
        let mut groups: BTreeMap<TrackerId, Vec<String>> = BTreeMap::new();
        for group in people.groups().filter(|group| group.members.contains(&me)) {
            group.pins.iter().for_each(|tracker| groups.entry(*tracker).or_default().push(group.name.clone()));
        }
        Ok(Self { own: app.store.pins(me).await?, groups })
    }
}

/// The trackers one may open, told as one wants to be told.
#[utoipa::path(get, path = "/api/home", params(Telling), responses((status = 200, body = HomeView)))]
pub(super) async fn home(State(app): State<App>, caller: Caller, Query(telling): Query<Telling>) -> Result<Json<HomeView>, Problem> {
    let me = caller.person()?;
    let visits: HashMap<TrackerId, Timestamp> = app.store.visits(me).await?.into_iter().collect();
    let tops = Tops::of(&app, &caller).await?;
    let mut lines = Vec::new();
    let mut clock = app.team.clock_for(me);
    for id in app.store.trackers().await? {
        let Ok(look) = app.tracker(id).await?.look(caller.asker()) else { continue };
        let looked = visits.get(&id).copied();
        // Moments outside of any tracker are told as in the one that was looked at last.
        if looked.is_some() && looked == visits.values().max().copied() {
            clock = look.clock.clone();
        }
        let (kept, kept_for) = (tops.own.contains(&id), tops.groups.get(&id).map_or_else(String::new, |names| list_text(names, "and")));
        let told = app.rooms.read(move || HomeLine { kept, kept_for, ..line(id, &look, looked, telling.since) });
        lines.push(told.await?);
    }
    let (out, mut lines): (Vec<HomeLine>, Vec<HomeLine>) =
        lines.into_iter().partition(|line| matches!(line.stage, Stage::Away | Stage::Removed));
    let (on, _) = duties(&app, caller.asker(), looks(&caller)?, looks(&caller)?, &clock).await?;
    let mut on = on_you(on, clock.today());
    lines.iter_mut().for_each(|line| line.on_you = on.remove(&Some(line.id)).unwrap_or_default());
    let elsewhere = on.remove(&None).unwrap_or_default();
    let counts = HomeCounts {
        things: lines.iter().map(|line| line.report.count).sum(),
        trackers: lines.len(),
        on_you: lines.iter().map(|line| line.on_you.count()).sum::<usize>().saturating_add(elsewhere.count()),
        loose: lines.iter().map(|line| line.report.loose.len()).sum(),
    };
    let last = lines.iter().filter_map(|line| line.looked).max();
    Ok(Json(HomeView {
        now: clock.now.to_zoned(clock.told.clone()).strftime("%A %-d %B %Y, %H:%M").to_string(),
        since: telling.since,
        order: telling.order,
        title: home_title(telling.since, last, &clock),
        says: home_sentence(counts, telling.since, telling.order, &clock),
        sections: sections(lines, telling.order, &app.team.now()),
        out,
        on_you: elsewhere,
    }))
}

fn line(id: TrackerId, look: &Look, looked: Option<Timestamp>, since: Since) -> HomeLine {
    let lens = look.lens();
    let tracker = &look.dataset.tracker;
    HomeLine {
        id,
        name: tracker.name.clone(),
        description: tracker.description.clone(),
        area: area_name(&look.dataset.people, id),
        icon: tracker.icon.clone(),
        hue: tracker.hue,
        holds: holds(&lens),
        stage: tracker.stage,
        stage_word: tracker.stage.word(),
        report: lens.report(since.from(looked, look.clock.now), since == Since::Looked),
        on_you: OnYou::default(),
        looked,
        kept: false,
        kept_for: String::new(),
        adds: adds_here(&lens),
    }
}

/// Whoever builds a tracker finds the ways into it on its own pages.
fn adds_here(lens: &Lens<'_>) -> Vec<AddsHere> {
    let ds = lens.dataset();
    if lens.builds() || !ds.tracker.stage.is_open() {
        return Vec::new();
    }
    let tables = ds.tables().filter(|table| lens.adds(table.def.id)).map(|table| AddsHere {
        words: a_or_an(&table.def.one),
        table: Some(table.def.id),
        address: None,
    });
    let forms = ds.forms().filter(|form| form.open && lens.is_within(form.table)).map(|form| AddsHere {
        words: form.title.clone(),
        table: None,
        address: Some(format!("/f/{}", form.link)),
    });
    tables.chain(forms).collect()
}

/// The name of the area in which a tracker lies; empty: it lies in none.
pub(super) fn area_name(people: &People, tracker: TrackerId) -> String {
    people.area_of(tracker).map_or_else(String::new, |area| area.name.clone())
}

/// What one finds in a tracker: *320 faults, 64 sections*.
pub(super) fn holds(lens: &Lens<'_>) -> String {
    let customs = lens.clock().customs();
    let open = lens.dataset().tables().filter(|table| lens.opens(table.def.id));
    let counts = open.map(|table| customs.count_words(lens.count(table.def.id), &table.def.one, &table.def.many()));
    counts.collect::<Vec<_>>().join(", ")
}

/// What is kept on top comes first; then, as one wants it, area by area, or all in one.
fn sections(mut lines: Vec<HomeLine>, order: HomeOrder, team: &Team) -> Vec<HomeSection> {
    lines.sort_by_key(|line| (std::cmp::Reverse(line.looked), line.name.to_lowercase()));
    if order == HomeOrder::Name {
        lines.sort_by_key(|line| line.name.to_lowercase());
    }
    let (top, mut rest): (Vec<HomeLine>, Vec<HomeLine>) = lines.into_iter().partition(|line| line.kept || !line.kept_for.is_empty());
    let section = |name: &str, lines: Vec<HomeLine>| HomeSection { name: name.to_owned(), about: String::new(), area: None, lines };
    let mut sections = vec![section("On top", top)];
    if order == HomeOrder::Area {
        for area in team.areas() {
            let (mut here, elsewhere): (Vec<HomeLine>, Vec<HomeLine>) = rest.into_iter().partition(|line| area.trackers.contains(&line.id));
            here.sort_by_key(|line| area.trackers.iter().position(|id| *id == line.id));
            sections.push(HomeSection { about: area.about.clone(), area: Some(area.id), ..section(&area.name, here) });
            rest = elsewhere;
        }
    }
    let alone = sections.iter().all(|section| section.lines.is_empty());
    sections.push(section(if alone || order != HomeOrder::Area { "" } else { "In no area" }, rest));
    sections.retain(|section| !section.lines.is_empty());
    sections
}

/// Whether a tracker shall stand on top at home.
#[derive(Deserialize, ToSchema)]
pub(super) struct TopBody {
    on: bool,
    /// For whoever is in this group; nothing: for oneself.
    #[serde(default)]
    group: Option<GroupId>,
}

/// Keeps a tracker on top at home: for oneself, or, as an owner of the team, for a group.
#[utoipa::path(put, path = "/api/trackers/{tracker}/top", params(OfTracker), request_body = TopBody, responses((status = 204)))]
pub(super) async fn keep_on_top(here: Here, Json(body): Json<TopBody>) -> Result<StatusCode, Problem> {
    here.caller.actor()?;
    here.look()?;
    let me = here.caller.person()?;
    match body.group {
        None => here.app.store.pin(me, here.tracker, body.on).await?,
        Some(group) => {
            let asker = here.app.team.asker(me).await?;
            let intent = here.app.team.now().pinned(group, here.tracker, body.on)?;
            here.app.act_on_team(asker, intent).await?;
        }
    }
    Ok(StatusCode::NO_CONTENT)
}
