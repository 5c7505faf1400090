//! Starting a tracker from what one has; templates.

use super::places::OfTracker;
use crate::here::{Caller, Here};
use crate::{
    app::App,
    live::clock_of,
    problem::{Json, Path, Problem},
    starting::{begin, definition, template as template_of},
};
use axum::{extract::State, http::StatusCode};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use utoipa::ToSchema;
use westerfall_core::{
    access::{Asker, Base, Lens},
    checks::check_name,
    dataset::Dataset,
    fault::{Fault, FaultKind},
    id::{AreaId, TableId, TrackerId},
    intent::{Intent, NewTable, TableChange},
    pack::{Pack, Packing},
    schema::{Hue, Stage, TrackerDef},
    sentence::as_text,
    team::{AreaWish, TeamIntent},
    value::Locale,
    view::Window,
};
use westerfall_store::NewTemplate;

/// What one has.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(super) enum StartFrom {
    /// A table with a few fields.
    Nothing,
    /// A list of field names.
    Names { table: String, fields: Vec<String> },
    /// A file that will be imported: the tracker begins with nothing at all.
    File,
    /// One of our templates, by its key, or one that the team published, by its number.
    Template { template: String, records: bool },
    /// A tracker that one may copy.
    Tracker { tracker: TrackerId, records: bool },
    /// A tracker packed as a file, sent before.
    Packed { token: String },
}

/// A new tracker.
#[derive(Deserialize, ToSchema)]
pub(super) struct StartBody {
    /// None: as what it is begun from.
    #[serde(default)]
    name: String,
    #[serde(default)]
    description: String,
    #[serde(default)]
    area: Option<AreaId>,
    #[serde(default)]
    icon: String,
    #[serde(default)]
    hue: Option<Hue>,
    /// IANA name of its zone.
    #[serde(default)]
    zone: String,
    from: StartFrom,
}

/// A tracker that was begun.
#[derive(Serialize, ToSchema)]
pub(super) struct Started {
    tracker: TrackerId,
    /// The table to begin at, where there is one.
    table: Option<TableId>,
}

/// Begins a tracker. Only whoever begins it sees it until they let others in.
#[utoipa::path(post, path = "/api/trackers", request_body = StartBody, responses((status = 200, body = Started)))]
pub(super) async fn start(State(app): State<App>, caller: Caller, Json(body): Json<StartBody>) -> Result<Json<Started>, Problem> {
    caller.actor()?;
    let packed = begun_from(&app, &caller, &body).await?;
    let def = named(&body, packed.as_ref())?;
    let pack = match first_table(&body) {
        Some(new) => Some(pack_of(&def, new)?),
        None => packed,
    };
    let keeps_open = matches!(body.from, StartFrom::Packed { .. });
    let area = body.area.map(|area| super::areas::known(&app, area)).transpose()?;
    let tracker = begin(&app, &def, pack, caller.person()?, keeps_open).await?;
    if area.is_some() {
        let asker = app.team.asker(caller.person()?).await?;
        app.act_on_team(asker, TeamIntent::Area(AreaWish::Place { tracker, area })).await?;
    }
    if let StartFrom::Packed { token } = &body.from {
        app.uploads.drop(token).await;
    }
    let table = app.tracker(tracker).await?.now().tables().next().map(|t| t.def.id);
    Ok(Json(Started { tracker, table }))
}

/// The table that a tracker from names or from nothing begins with.
fn first_table(body: &StartBody) -> Option<NewTable> {
    let (name, fields) = match &body.from {
        StartFrom::Nothing => (body.name.clone(), Vec::new()),
        StartFrom::Names { table, fields } => (if table.trim().is_empty() { body.name.clone() } else { table.clone() }, fields.clone()),
        _ => return None,
    };
    Some(NewTable { name, fields, ..NewTable::default() })
}

/// A tracker with this table, so that it begins whole or not at all.
fn pack_of(def: &TrackerDef, table: NewTable) -> Result<Pack, Problem> {
    let mut ds = Dataset::empty(def.clone(), Arc::default());
    let clock = clock_of(&ds, Timestamp::now());
    let decision = ds.decide(&Intent::Table(TableChange::Begin(table)), Asker::Westerfall, &clock)?;
    ds.apply(&decision.change);
    Ok(Lens::new(&ds, Asker::Westerfall, &clock).pack(Packing::Records)?)
}

async fn begun_from(app: &App, caller: &Caller, body: &StartBody) -> Result<Option<Pack>, Problem> {
    match &body.from {
        StartFrom::Nothing | StartFrom::Names { .. } | StartFrom::File => Ok(None),
        StartFrom::Template { template, records } => {
            let mut pack = template_of(app, template).await?;
            if !records {
                pack.rows.clear();
                pack.counters.clear();
            }
            Ok(Some(pack))
        }
        StartFrom::Tracker { tracker, records } => {
            let look = app.tracker(*tracker).await?.look(caller.asker())?;
            let packing = if *records { Packing::Records } else { Packing::Structure };
            Ok(Some(look.lens().pack(packing)?))
        }
        StartFrom::Packed { token } => {
            let bytes = app.uploads.bytes(caller.person()?, token).await?;
            Ok(Some(super::packages::unpacked(app, bytes).await?))
        }
    }
}

fn named(body: &StartBody, pack: Option<&Pack>) -> Result<TrackerDef, Problem> {
    let from = pack.and_then(definition).unwrap_or_else(|| TrackerDef {
        name: String::new(),
        description: String::new(),
        zone: "UTC".into(),
        locale: Locale::default(),
        icon: String::new(),
        hue: None,
        stage: Stage::Open,
    });
    let given = |text: &str, or: String| if text.trim().is_empty() { or } else { text.trim().to_owned() };
    let def = TrackerDef {
        name: given(&body.name, from.name),
        description: given(&body.description, from.description),
        zone: given(&body.zone, from.zone),
        icon: given(&body.icon, from.icon),
        hue: body.hue.or(from.hue),
        stage: Stage::Open,
        locale: from.locale,
    };
    check_name(&def.name)?;
    Ok(def)
}

/// A template in the list.
#[derive(Serialize, ToSchema)]
pub(super) struct TemplateLine {
    /// What starting from it asks for.
    key: String,
    title: String,
    description: String,
    group: String,
    icon: String,
    hue: Hue,
    /// Of a published one, by whom; and whether one may take it back.
    published_by: Option<String>,
    mine: bool,
}

/// Every template: ours, and those that the team published.
#[utoipa::path(get, path = "/api/templates", responses((status = 200, body = Vec<TemplateLine>)))]
pub(super) async fn templates(State(app): State<App>, caller: Caller) -> Result<Json<Vec<TemplateLine>>, Problem> {
    let people = app.team.people();
    let me = caller.person()?;
    let published = app.store.templates().await?.into_iter().map(|row| {
        let by = u32::try_from(row.published_by).ok().and_then(westerfall_core::id::PersonId::new);
        TemplateLine {
            key: row.id.to_string(),
            title: row.title,
            description: row.description,
            group: "Published by the team".into(),
            icon: row.icon,
            hue: serde_json::from_value(row.hue.into()).unwrap_or(Hue::Slate),
            published_by: by.map(|p| people.name(p).to_owned()),
            mine: by == Some(me),
        }
    });
    let ours = westerfall_templates::all().iter().map(|t| TemplateLine {
        key: t.key.into(),
        title: t.title.into(),
        description: t.description.into(),
        group: t.group.into(),
        icon: t.icon.into(),
        hue: t.hue,
        published_by: None,
        mine: false,
    });
    Ok(Json(published.chain(ours).collect()))
}

/// What a template holds: its tables with their fields, views and first records.
#[derive(Serialize, ToSchema)]
pub(super) struct TemplatePreview {
    tables: Vec<TemplateTable>,
    forms: Vec<String>,
    automations: Vec<String>,
    /// Roles that it brings, each with whom it is for.
    roles: Vec<TemplateRole>,
}

/// A role that a template brings; nobody holds it yet.
#[derive(Serialize, ToSchema)]
pub(super) struct TemplateRole {
    name: String,
    about: String,
}

/// A table of a template.
#[derive(Serialize, ToSchema)]
pub(super) struct TemplateTable {
    name: String,
    fields: Vec<String>,
    /// Its views, each with its sentence.
    views: Vec<TemplateView>,
    rows: Vec<Vec<String>>,
    count: usize,
}

/// A view of a template.
#[derive(Serialize, ToSchema)]
pub(super) struct TemplateView {
    name: String,
    sentence: String,
}

/// Records of a template that are shown before it is used.
const SAMPLE_ROWS: usize = 5;

/// What a template holds, before it is used.
#[utoipa::path(get, path = "/api/templates/{template}", params(("template" = String, Path)), responses((status = 200, body = TemplatePreview)))]
pub(super) async fn template(State(app): State<App>, _: Caller, Path(template): Path<String>) -> Result<Json<TemplatePreview>, Problem> {
    let pack = template_of(&app, &template).await?;
    let people = app.team.people();
    let def = definition(&pack);
    let mut ds = Dataset::empty(def.ok_or_else(|| Fault::not_found("template"))?, people);
    let now = Timestamp::now();
    let clock = clock_of(&ds, now);
    let decision = ds.decide(&Intent::Unpack { pack: Box::new(pack), by: None }, Asker::Westerfall, &clock)?;
    ds.apply(&decision.change);
    let lens = Lens::new(&ds, Asker::Westerfall, &clock);
    let tables = ds.tables().map(|table| {
        let id = table.def.id;
        let shown: Vec<_> = table.def.fields.iter().filter(|f| !f.kind.is_kept_by_us()).collect();
        let records: Vec<_> = lens.records(id).take(SAMPLE_ROWS).collect();
        let fields: Vec<_> = shown.iter().map(|f| f.id).collect();
        let rows = lens.rows(id, &records, &fields).into_iter();
        let window = Window { rows: 0..0, keep: &[], own: None };
        let views = ds.views_of(id).into_iter().map(|v| {
            let outcome = v.query.run(&lens, id, &window);
            TemplateView { name: v.name.clone(), sentence: as_text(&v.query.to_sentence(&lens, id, outcome.total, outcome.matching, None)) }
        });
        TemplateTable {
            name: table.def.name.clone(),
            fields: shown.iter().map(|f| f.name.clone()).collect(),
            views: views.collect(),
            rows: rows.map(|r| r.cells.into_iter().map(|c| c.map(|c| c.text).unwrap_or_default()).collect()).collect(),
            count: lens.count(id),
        }
    });
    Ok(Json(TemplatePreview {
        tables: tables.collect(),
        forms: ds.forms().map(|f| f.title.clone()).collect(),
        automations: ds.automations().map(|a| a.name.clone()).collect(),
        roles: ds
            .roles()
            .filter(|role| role.base != Base::Steward)
            .map(|role| TemplateRole { name: role.name.clone(), about: role.about.clone() })
            .collect(),
    }))
}

/// What is published.
#[derive(Deserialize, ToSchema)]
pub(super) struct PublishBody {
    title: String,
    #[serde(default)]
    description: String,
    #[serde(default)]
    icon: String,
    #[serde(default)]
    hue: Option<Hue>,
    /// With its records.
    #[serde(default)]
    records: bool,
}

/// Publishes a tracker as a template of the team.
#[utoipa::path(post, path = "/api/trackers/{tracker}/template", params(OfTracker), request_body = PublishBody, responses((status = 204)))]
pub(super) async fn publish(here: Here, Json(body): Json<PublishBody>) -> Result<StatusCode, Problem> {
    here.caller.actor()?;
    let look = here.look()?;
    let pack = look.lens().pack(if body.records { Packing::Records } else { Packing::Structure })?;
    check_name(&body.title)?;
    let hue = serde_json::to_value(body.hue.unwrap_or(Hue::Slate)).ok().and_then(|h| h.as_str().map(str::to_owned)).unwrap_or_default();
    let new = NewTemplate {
        title: body.title.trim(),
        description: body.description.trim(),
        icon: &body.icon,
        hue: &hue,
        by: here.caller.person()?,
        at: Timestamp::now(),
        body: &pack,
    };
    here.app.store.publish(new).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Takes back a template that one published.
#[utoipa::path(delete, path = "/api/templates/{template}", params(("template" = String, Path)), responses((status = 204)))]
pub(super) async fn withdraw(State(app): State<App>, caller: Caller, Path(template): Path<String>) -> Result<StatusCode, Problem> {
    caller.actor()?;
    let own = app.store.templates().await?.into_iter().find(|t| t.id.to_string() == template);
    let me = caller.person()?;
    let own = own.filter(|t| u32::try_from(t.published_by).ok() == Some(me.get()));
    let own = own.ok_or_else(|| Fault::new(FaultKind::NotFound, "There is no such template of yours."))?;
    app.store.drop_template(own.id).await?;
    Ok(StatusCode::NO_CONTENT)
}
