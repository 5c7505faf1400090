//! Trackers: which there are, and what is in one.

use super::home::{area_name, holds};
use super::people::PersonView;
use super::places::OfTracker;
use crate::here::{Caller, Here};
use crate::{
    app::App,
    live::{Done, Look},
    problem::{Json, Problem},
};
use axum::extract::State;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use utoipa::ToSchema;
use westerfall_core::{
    access::{Asker, Base, Lens, mine_sentence},
    fault::{Fault, FaultKind},
    groundplan::Groundplan,
    id::{AreaId, AutomationId, FieldId, FormId, GroupId, GuestId, PageId, PersonId, TableId, TrackerId, ViewId},
    intent::Intent,
    page::Page,
    part::Part,
    schema::{Hue, Kind, MineBy, Recipe, RecordList, Stage, StageRehearsal, TrackerDef, within_sentence},
    team::opens_says,
    value::moment_text,
    view::{GivenRight, Query, View},
};

/// How long a message that did not arrive is a loose end.
const LATELY: SignedDuration = SignedDuration::from_secs(14 * 86_400);

/// A tracker in a list.
#[derive(Serialize, ToSchema)]
pub(super) struct TrackerLine {
    id: TrackerId,
    name: String,
    area: String,
    description: String,
    /// What one finds there: *320 faults, 64 sections, 6 districts*.
    holds: String,
    icon: String,
    hue: Option<Hue>,
    stage: Stage,
    /// What its stage is called; nothing while it is open.
    stage_word: &'static str,
}

/// A tracker that a team's owner does not work in: whose it is and how large, and nothing of what is in it.
#[derive(Serialize, ToSchema)]
pub(super) struct OtherTracker {
    id: TrackerId,
    name: String,
    /// *386 records in 6 tables*.
    size: String,
    /// Who owns it; nobody: all of them have left.
    stewards: Vec<String>,
    /// When anybody last looked, in words; empty: nobody has.
    last: String,
}

/// The trackers of the team that one does not work in. For the team's owners, so that none is without somebody.
#[utoipa::path(get, path = "/api/trackers/others", responses((status = 200, body = Vec<OtherTracker>)))]
pub(super) async fn others(State(app): State<App>, caller: Caller) -> Result<Json<Vec<OtherTracker>>, Problem> {
    let me = caller.person()?;
    let team = app.team.now();
    if !team.is_owner(me) {
        return Ok(Json(Vec::new()));
    }
    let clock = app.team.clock_for(me);
    let looked = app.store.last_looked().await?;
    let mut others = Vec::new();
    for id in app.store.trackers().await? {
        let ds = app.tracker(id).await?.now();
        if Asker::Person(me).may_look_at(&ds) || ds.tracker.stage == Stage::Removed {
            continue;
        }
        let tables = ds.tables().count();
        let records = ds.tables().map(|table| Lens::of_everything(&ds, None, &clock).count(table.def.id)).sum();
        let stewards = ds.roles().filter(|role| role.base == Base::Steward).flat_map(|role| role.holders(&ds.people));
        others.push(OtherTracker {
            id,
            name: ds.tracker.name.clone(),
            size: format!(
                "{} in {}",
                clock.customs().count_words(records, "record", "records"),
                clock.customs().count_words(tables, "table", "tables")
            ),
            stewards: stewards.map(|person| person.name.clone()).collect(),
            last: looked.get(&id).map_or_else(String::new, |at| moment_text(*at, &clock)),
        });
    }
    Ok(Json(others))
}

/// The trackers one may open.
#[utoipa::path(get, path = "/api/trackers", responses((status = 200, body = Vec<TrackerLine>)))]
pub(super) async fn list(State(app): State<App>, caller: Caller) -> Result<Json<Vec<TrackerLine>>, Problem> {
    let mut lines = Vec::new();
    for id in app.store.trackers().await? {
        let Ok(look) = app.tracker(id).await?.look(caller.asker()) else { continue };
        lines.push(app.rooms.read(move || line(id, &look)).await?);
    }
    lines.sort_by_key(|line: &TrackerLine| line.name.to_lowercase());
    Ok(Json(lines))
}

fn line(id: TrackerId, look: &Look) -> TrackerLine {
    let tracker = &look.dataset.tracker;
    TrackerLine {
        id,
        name: tracker.name.clone(),
        area: area_name(&look.dataset.people, id),
        description: tracker.description.clone(),
        holds: holds(&look.lens()),
        icon: tracker.icon.clone(),
        hue: tracker.hue,
        stage: tracker.stage,
        stage_word: tracker.stage.word(),
    }
}

/// The picture of a tracker: tables, links, forms, automations, loose ends.
#[utoipa::path(get, path = "/api/trackers/{tracker}/groundplan", params(OfTracker), responses((status = 200, body = Groundplan)))]
pub(super) async fn groundplan(here: Here) -> Result<Json<Groundplan>, Problem> {
    let look = here.look()?;
    note_visit(&here).await?;
    let lost = if look.lens().builds() { here.app.store.lost_messages(here.tracker, Timestamp::now() - LATELY).await? } else { Vec::new() };
    Ok(Json(here.app.rooms.read(move || look.lens().groundplan(&lost)).await?))
}

/// What a tracker is called and how it looks.
#[derive(Deserialize, ToSchema)]
pub(super) struct TrackerBody {
    name: String,
    description: String,
    icon: String,
    hue: Option<Hue>,
}

/// Changes what a tracker is called and how it looks.
#[utoipa::path(put, path = "/api/trackers/{tracker}", params(OfTracker), request_body = TrackerBody, responses((status = 200, body = Done)))]
pub(super) async fn rename(here: Here, Json(body): Json<TrackerBody>) -> Result<Json<Done>, Problem> {
    let look = here.look()?;
    let now = (*look.dataset.tracker).clone();
    let TrackerBody { name, description, icon, hue } = body;
    let def = TrackerDef { name: name.trim().to_owned(), description, icon, hue, ..now };
    here.act(Intent::Save(Part::Tracker(def))).await
}

/// Another stage of a tracker's life.
#[derive(Deserialize, ToSchema)]
pub(super) struct StageBody {
    to: Stage,
    /// Only say what it would do.
    #[serde(default)]
    rehearse: bool,
}

/// What another stage would do, or did.
#[derive(Serialize, ToSchema)]
pub(super) struct StageReply {
    rehearsal: Option<StageRehearsal>,
    done: Option<Done>,
}

/// Closes a tracker, puts it away, removes it or opens it again; or says what that would do. For stewards.
#[utoipa::path(post, path = "/api/trackers/{tracker}/stage", params(OfTracker), request_body = StageBody, responses((status = 200, body = StageReply)))]
pub(super) async fn stage(here: Here, Json(body): Json<StageBody>) -> Result<Json<StageReply>, Problem> {
    let look = here.look()?;
    if !look.lens().is_steward() {
        return Err(Fault::new(FaultKind::NotAllowed, "Only a tracker’s stewards close it, put it away or remove it.").into());
    }
    if body.rehearse {
        return Ok(Json(StageReply { rehearsal: Some(look.lens().rehearse_stage(body.to)), done: None }));
    }
    let def = TrackerDef { stage: body.to, ..(*look.dataset.tracker).clone() };
    let Json(done) = here.act(Intent::Save(Part::Tracker(def))).await?;
    Ok(Json(StageReply { rehearsal: None, done: Some(done) }))
}

/// A tracker's structure, as far as it is open to the asker.
#[derive(Serialize, ToSchema)]
pub(super) struct TrackerView {
    id: TrackerId,
    name: String,
    description: String,
    /// The area in which it lies, and its name.
    area: Option<AreaId>,
    area_name: String,
    /// To whom it is open with all that lies in it, as a sentence; empty: to nobody, or whoever asks is no steward.
    area_opens: String,
    icon: String,
    hue: Option<Hue>,
    /// IANA name of the zone in which its days begin and end.
    zone: String,
    seq: u64,
    tables: Vec<TableView>,
    /// Those who have left last.
    people: Vec<PersonView>,
    /// The team's groups, for those who give roles.
    groups: Vec<GroupName>,
    forms: Vec<FormLine>,
    automations: Vec<AutomationLine>,
    /// Its shared pages, for those who let people in.
    pages: Vec<PageName>,
    /// Whether one owns it: lets people in, stands in for them.
    steward: bool,
    /// Whether one may ask why somebody sees a record: stewards, standing in for somebody or not.
    tells_access: bool,
    stage: Stage,
    /// What its stage is called, and what it means, as a sentence; nothing while it is open.
    stage_word: &'static str,
    stage_says: &'static str,
    /// Whether one may change its structure.
    builds: bool,
}

/// A table as the asker may see it.
#[derive(Serialize, ToSchema)]
pub(super) struct TableView {
    id: TableId,
    name: String,
    one: String,
    /// Its records, as they are named within a sentence.
    many: String,
    /// Why a record that one may only look at can't be changed.
    looking: String,
    /// The heading under which it stands.
    heading: String,
    standing: FieldId,
    fields: Vec<FieldView>,
    views: Vec<ViewView>,
    count: usize,
    /// Whether one may add records.
    adds: bool,
    /// Whether there are records that one may put into the bin.
    removes: bool,
    /// Whether its records stand for people, so that one of them may be *my record*.
    holds_people: bool,
    /// What makes a record somebody's own; for the tracker's stewards.
    mine: Option<OwnRecords>,
    /// Links whose records are listed by chosen fields, of those that are open to one.
    lists: Vec<RecordList>,
    /// How its records are made again for the next period.
    recipes: Vec<Recipe>,
    /// The fields that have to be chosen first when one adds, since it hangs on them whether one sees the record.
    asks: Vec<FieldId>,
}

/// What makes a table's records somebody's own.
#[derive(Serialize, ToSchema)]
pub(super) struct OwnRecords {
    by: MineBy,
    says: String,
}

/// A field as the asker may see it.
#[derive(Serialize, ToSchema)]
pub(super) struct FieldView {
    id: FieldId,
    name: String,
    /// Its name as it stands within a sentence.
    within: String,
    /// Why nothing can be put in, where that is so for everybody.
    #[serde(skip_serializing_if = "Option::is_none")]
    refusal: Option<String>,
    help: String,
    required: bool,
    /// Its own kind.
    kind: Kind,
    /// The kind of what it shows: for a carried value, that of the field it carries.
    shows: Kind,
    /// Whether one may put values in.
    writes: bool,
    /// Of a calculation, its formula as one types it; for those who may change it.
    #[serde(skip_serializing_if = "Option::is_none")]
    formula: Option<String>,
    /// Of a copied value, where it comes from in words.
    #[serde(skip_serializing_if = "Option::is_none")]
    copies: Option<String>,
    /// Of a link: its records are entered as lines in the folio.
    lines: bool,
    /// Of a choice: one may add an option while one fills it in.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    grows: bool,
    /// What is put in may set an automation going, so that it is worth asking what follows.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    sets_going: bool,
}

/// A view with its sentence.
#[derive(Serialize, ToSchema)]
pub(super) struct ViewView {
    id: ViewId,
    name: String,
    about: String,
    locked: bool,
    owner: Option<PersonId>,
    /// As far as it is open to the asker.
    query: Query,
    /// It is narrowed by something that is not open to the asker; for them it is not.
    withheld: bool,
    /// To whom it is given by itself; for the tracker's stewards.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    given: Vec<GivenTo>,
}

/// Somebody to whom a view is given, and what they may do in it.
#[derive(Serialize, Deserialize, ToSchema)]
pub(super) struct GivenTo {
    pub(super) person: PersonId,
    pub(super) right: GivenRight,
}

/// A group of the team by its name.
#[derive(Serialize, ToSchema)]
pub(super) struct GroupName {
    id: GroupId,
    name: String,
}

/// A form in a list.
#[derive(Serialize, ToSchema)]
pub(super) struct FormLine {
    id: FormId,
    table: TableId,
    title: String,
    /// Nobody's secret: whoever sees a record that came by it sees its title.
    open: bool,
    /// Where it is answered, while it is open.
    #[serde(skip_serializing_if = "Option::is_none")]
    address: Option<String>,
}

/// An automation in a list.
#[derive(Serialize, ToSchema)]
pub(super) struct AutomationLine {
    id: AutomationId,
    name: String,
    on: bool,
}

/// A shared page in the structure.
#[derive(Serialize, ToSchema)]
pub(super) struct PageName {
    id: PageId,
    title: String,
    /// Whether it can be come to today.
    open: bool,
    comers: Vec<Comer>,
}

/// Somebody who comes to a shared page.
#[derive(Serialize, ToSchema)]
pub(super) struct Comer {
    /// Which of those whom it names; nothing: whoever comes.
    guest: Option<GuestId>,
    name: String,
}

fn comers(page: &Page) -> Vec<Comer> {
    page.comers().into_iter().map(|(guest, name)| Comer { guest, name }).collect()
}

fn table_view(lens: &Lens<'_>, look: &Look, set_going: &BTreeSet<FieldId>, id: TableId) -> Option<TableView> {
    let table = look.dataset.table(id).filter(|_| lens.opens(id))?;
    let fields = table.def.fields.iter().filter(|f| lens.reads(id, f.id)).filter_map(|f| {
        let writes = lens.writes(id, f.id);
        let (_, shown) = look.dataset.shown_kind(id, f.id)?;
        Some(FieldView {
            id: f.id,
            name: f.name.clone(),
            within: within_sentence(&f.name),
            refusal: f.refusal(),
            help: f.help.clone(),
            required: f.required,
            kind: if lens.builds() { f.kind.clone() } else { f.kind.without_workings(f.id) },
            shows: shown.clone(),
            writes,
            formula: match &f.kind {
                Kind::Calculation { formula, .. } if lens.builds() => Some(formula.text(&look.dataset)),
                _ => None,
            },
            copies: f.copies.and_then(|copies| {
                let link = table.def.field(copies.link).filter(|link| lens.reads(id, link.id))?;
                let (home, source) = look.dataset.field(copies.field)?;
                if !lens.reads(home.def.id, source.id) {
                    return None;
                }
                Some(format!("{} of {}", source.name, link.name))
            }),
            lines: f.offers.lines,
            grows: matches!(f.kind, Kind::Choice { on: None, .. } | Kind::Choices { .. }) && (f.grows || lens.builds()),
            sets_going: writes && set_going.contains(&f.id),
        })
    });
    let mine = |v: &&View| lens.knows(v);
    let view = |v: &View| ViewView {
        id: v.id,
        name: v.name.clone(),
        about: v.about.clone(),
        locked: v.locked,
        owner: v.owner,
        query: v.query.as_open_to(lens, id),
        withheld: !v.query.condition.is_open_to(lens, id),
        given: if lens.is_steward() {
            v.given.iter().map(|(person, right)| GivenTo { person: *person, right: *right }).collect()
        } else {
            Vec::new()
        },
    };
    Some(TableView {
        id,
        name: table.def.name.clone(),
        one: table.def.one.clone(),
        many: table.def.many(),
        looking: table.def.only_looked_at(),
        heading: table.def.heading.clone(),
        standing: table.def.standing,
        fields: fields.collect(),
        views: look.dataset.views_of(id).into_iter().filter(mine).map(view).collect(),
        count: lens.count(id),
        adds: lens.adds(id),
        removes: lens.removes(id),
        holds_people: table.def.mine.own.is_some(),
        mine: lens.is_steward().then(|| OwnRecords { by: table.def.mine, says: mine_sentence(&table.def) }),
        lists: lens.record_lists(id),
        recipes: lens.recipes(id),
        asks: lens.adding(id).map(|adding| adding.asks).unwrap_or_default(),
    })
}

/// One tracker.
#[utoipa::path(get, path = "/api/trackers/{tracker}", params(OfTracker), responses((status = 200, body = TrackerView)))]
pub(super) async fn show(here: Here) -> Result<Json<TrackerView>, Problem> {
    let look = here.look()?;
    note_visit(&here).await?;
    Ok(Json(here.app.rooms.read(move || tracker_view(here.tracker, &look)).await?))
}

/// Home tells from here on what happens. Whoever stands in for somebody is not them.
async fn note_visit(here: &Here) -> Result<(), Problem> {
    if matches!(here.caller.asker(), Asker::Person(_)) {
        here.app.store.visited(here.caller.person()?, here.tracker, Timestamp::now()).await?;
    }
    Ok(())
}

fn tracker_view(tracker: TrackerId, look: &Look) -> TrackerView {
    let lens = look.lens();
    let ds = &look.dataset;
    let forms = ds.forms().filter(|f| lens.is_within(f.table)).map(|f| FormLine {
        id: f.id,
        table: f.table,
        title: f.title.clone(),
        open: f.open && ds.tracker.stage.is_open(),
        address: (f.open && ds.tracker.stage.is_open()).then(|| format!("/f/{}", f.link)),
    });
    let pages = look.dataset.pages().filter(|_| lens.is_steward());
    let automations = ds.automations().filter(|_| lens.builds()).map(|a| AutomationLine { id: a.id, name: a.name.clone(), on: a.on });
    let set_going = ds.sets_going();
    TrackerView {
        id: tracker,
        name: ds.tracker.name.clone(),
        zone: ds.tracker.zone.clone(),
        description: ds.tracker.description.clone(),
        area: ds.people.area_of(tracker).map(|area| area.id),
        area_name: area_name(&ds.people, tracker),
        area_opens: ds.people.area_of(tracker).filter(|_| lens.is_steward()).map_or_else(String::new, |area| opens_says(&ds.people, area)),
        icon: ds.tracker.icon.clone(),
        hue: ds.tracker.hue,
        seq: ds.seq,
        tables: ds.tables().filter_map(|t| table_view(&lens, look, &set_going, t.def.id)).collect(),
        // Those who have left are offered last.
        people: ds.people.here().chain(ds.people.iter().filter(|p| p.has_left())).map(PersonView::from).collect(),
        groups: ds.people.groups().filter(|_| lens.is_steward()).map(|g| GroupName { id: g.id, name: g.name.clone() }).collect(),
        forms: forms.collect(),
        automations: automations.collect(),
        pages: pages
            .map(|page| PageName {
                id: page.id,
                title: page.title.clone(),
                open: page.is_open_on(look.clock.today()),
                comers: comers(page),
            })
            .collect(),
        steward: lens.is_steward(),
        tells_access: look.tells_access(),
        stage: look.dataset.tracker.stage,
        stage_word: look.dataset.tracker.stage.word(),
        stage_says: look.dataset.tracker.stage.says(),
        builds: lens.builds(),
    }
}

/// The change to take back.
#[derive(Deserialize, ToSchema)]
pub(super) struct UndoBody {
    seq: u64,
}

/// Takes a change back; taking that back does it again.
#[utoipa::path(post, path = "/api/trackers/{tracker}/undo", params(OfTracker), request_body = UndoBody, responses((status = 200, body = Done)))]
pub(super) async fn undo(here: Here, Json(body): Json<UndoBody>) -> Result<Json<Done>, Problem> {
    here.look()?;
    let change = here.app.store.change(here.tracker, body.seq).await?.ok_or_else(|| Fault::not_found("step"))?;
    let shared = here.app.store.touched_by_others(here.tracker, &change, here.caller.person()?).await?;
    here.act(Intent::Undo { change: Box::new(change), shared }).await
}
