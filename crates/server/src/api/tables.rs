//! The structure of tables: making them, their fields, changes of kind, and the bin.

use super::places::{OfField, OfTable, OfTracker};
use crate::here::Here;
use crate::{
    live::{Done, Look},
    problem::{Json, Path, Problem},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use westerfall_core::{
    access::AccessRehearsal,
    fault::{Fault, FaultKind},
    id::{FieldId, OptionId, RoleId, TableId},
    intent::{ChangeOfKind, FieldChange, Intent, KindRehearsal, LinkProposal, NewTable, OtherSide, Rest, TableChange, Target},
    schema::{Arrangement, Choice, FieldDef, Kind, MineBy, TableNames},
    sentence::Phrase,
    uses::{Use, held_words, option_words, used_words},
    value::{Cell, moment_text},
};

/// Makes a table with a view of all its records.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables", params(OfTracker), request_body = NewTable, responses((status = 200, body = Done)))]
pub(super) async fn make(here: Here, Json(body): Json<NewTable>) -> Result<Json<Done>, Problem> {
    here.act(Intent::Table(TableChange::Begin(body))).await
}

/// What a table is called, where it stands, and what names its records.
#[derive(Deserialize, ToSchema)]
pub(super) struct TableSettings {
    name: String,
    one: String,
    #[serde(default)]
    heading: String,
    standing: FieldId,
    #[serde(default)]
    beside: Option<FieldId>,
}

/// Changes what a table is called and what names its records.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}", params(OfTable), request_body = TableSettings, responses((status = 200, body = Done)))]
pub(super) async fn change(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<TableSettings>,
) -> Result<Json<Done>, Problem> {
    let TableSettings { name, one, heading, standing, beside } = body;
    here.act(Intent::Table(TableChange::Change { table, name, one, heading, standing, beside })).await
}

/// What shall make a table's records somebody's own.
#[derive(Deserialize, ToSchema)]
pub(super) struct MineBody {
    mine: MineBy,
}

/// Changes what makes a table's records somebody's own. For the tracker's stewards.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/mine", params(OfTable), request_body = MineBody, responses((status = 200, body = Done)))]
pub(super) async fn change_mine(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<MineBody>,
) -> Result<Json<Done>, Problem> {
    here.act(Intent::Table(TableChange::Mine { table, mine: body.mine })).await
}

/// What that would do, person by person. For the tracker's stewards.
#[utoipa::path(
    post,
    path = "/api/trackers/{tracker}/tables/{table}/mine/rehearsal",
    params(OfTable),
    request_body = MineBody,
    responses((status = 200, body = AccessRehearsal))
)]
pub(super) async fn rehearse_mine(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<MineBody>,
) -> Result<Json<AccessRehearsal>, Problem> {
    let look = here.look()?;
    if !look.lens().is_steward() || look.dataset.table(table).is_none() {
        return Err(Fault::not_found("table").into());
    }
    crate::live::rehearse(&look, &Intent::Table(TableChange::Mine { table, mine: body.mine }))?;
    Ok(Json(here.app.rooms.read(move || look.lens().rehearse_mine(table, body.mine)).await?))
}

/// How a table's records are laid out where one is opened.
#[derive(Serialize, ToSchema)]
pub(super) struct ArrangementView {
    arrangement: Arrangement,
    /// Each section's settings, as a sentence.
    sentences: Vec<Vec<Phrase>>,
}

/// How a table's records are laid out, for those who may arrange it.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/arrangement", params(OfTable), responses((status = 200, body = ArrangementView)))]
pub(super) async fn arrangement(here: Here, Path(OfTable { table, .. }): Path<OfTable>) -> Result<Json<ArrangementView>, Problem> {
    let look = here.look()?;
    build_look(&look, table)?;
    let home = look.dataset.table(table).ok_or_else(|| Fault::not_found("table"))?;
    let arrangement = home.def.arrangement.clone();
    let sentences = arrangement.in_words(&look.lens(), table);
    Ok(Json(ArrangementView { arrangement, sentences }))
}

/// Lays out a table's records otherwise, for everybody.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/arrangement", params(OfTable), request_body = Arrangement, responses((status = 200, body = Done)))]
pub(super) async fn arrange(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(arrangement): Json<Arrangement>,
) -> Result<Json<Done>, Problem> {
    here.act(Intent::Table(TableChange::Arrange { table, arrangement })).await
}

/// To which roles alone what is said of a table’s records is told, beside stewards.
#[derive(Deserialize, ToSchema)]
pub(super) struct TalkForBody {
    /// None: it is told to whoever sees the record.
    roles: Vec<RoleId>,
}

/// Says to which roles alone what is said of a table’s records is told. For the tracker’s stewards.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/talk", params(OfTable), request_body = TalkForBody, responses((status = 200, body = Done)))]
pub(super) async fn change_talk_for(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(TalkForBody { roles }): Json<TalkForBody>,
) -> Result<Json<Done>, Problem> {
    here.act(Intent::Table(TableChange::TalkFor { table, roles })).await
}

/// Puts a table into the bin, with its records.
#[utoipa::path(delete, path = "/api/trackers/{tracker}/tables/{table}", params(OfTable), responses((status = 200, body = Done)))]
pub(super) async fn remove(here: Here, Path(OfTable { table, .. }): Path<OfTable>) -> Result<Json<Done>, Problem> {
    here.act(Intent::Table(TableChange::Remove(table))).await
}

/// Brings a table back from the bin.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/restore", params(OfTable), responses((status = 200, body = Done)))]
pub(super) async fn restore(here: Here, Path(OfTable { table, .. }): Path<OfTable>) -> Result<Json<Done>, Problem> {
    here.act(Intent::Table(TableChange::Restore(table))).await
}

/// A table's definition as its builders see it.
#[derive(Serialize, ToSchema)]
pub(super) struct Design {
    name: String,
    one: String,
    heading: String,
    standing: FieldId,
    beside: Option<FieldId>,
    fields: Vec<DesignField>,
    binned: Vec<BinnedLine>,
}

/// A field with how it is used.
#[derive(Serialize, ToSchema)]
pub(super) struct DesignField {
    field: FieldDef,
    uses: Vec<Use>,
    /// In how many places it is used: *3 places*; empty for none.
    used: String,
    /// Records in which something stands here.
    filled: usize,
    /// The same in a sentence.
    held: String,
    /// Of each option, in how many records it stands and how many places name it.
    options: Vec<OptionHeld>,
}

/// An option, and what hangs on it.
#[derive(Serialize, ToSchema)]
pub(super) struct OptionHeld {
    option: OptionId,
    says: String,
}

/// Something in the bin.
#[derive(Serialize, ToSchema)]
pub(super) struct BinnedLine {
    /// Of a whole table, none.
    field: Option<FieldId>,
    table: TableId,
    name: String,
    /// When it was removed, in words.
    at: String,
}

fn build_look(app_look: &Look, table: TableId) -> Result<(), Fault> {
    if !app_look.lens().builds() {
        return Err(Fault::new(FaultKind::NotAllowed, "Only the tracker’s steward and builders can change its tables and fields."));
    }
    app_look.dataset.table(table).filter(|_| app_look.lens().opens(table)).map(drop).ok_or_else(|| Fault::not_found("table"))
}

/// All fields of a table with their settings, what uses them, and what was removed.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/design", params(OfTable), responses((status = 200, body = Design)))]
pub(super) async fn design(here: Here, Path(OfTable { table, .. }): Path<OfTable>) -> Result<Json<Design>, Problem> {
    let look = here.look()?;
    build_look(&look, table)?;
    here.app.rooms.read(move || designed(&look, table)).await?.map(Json)
}

fn designed(look: &Look, table: TableId) -> Result<Design, Problem> {
    let (lens, ds) = (look.lens(), &look.dataset);
    let home = ds.table(table).ok_or_else(|| Fault::not_found("table"))?;
    let filled = |field: FieldId| {
        let reader = lens.reader(table, field);
        lens.records(table).filter(|r| !reader.is_empty(reader.cell(r.row()))).count()
    };
    let options = |f: &FieldDef| {
        let mut counts: BTreeMap<OptionId, usize> = BTreeMap::new();
        if !f.kind.options().is_empty() {
            let reader = lens.reader(table, f.id);
            for record in lens.records(table) {
                match reader.cell(record.row()) {
                    Cell::Choice(option) => *counts.entry(option).or_default() += 1,
                    Cell::Choices(options) => options.iter().for_each(|option| *counts.entry(*option).or_default() += 1),
                    _ => {}
                }
            }
        }
        let said = |o: &Choice| option_words(counts.get(&o.id).copied().unwrap_or(0), ds.uses_of_option(o.id).len(), look.clock.customs());
        f.kind.options().iter().map(|o| OptionHeld { option: o.id, says: said(o) }).collect()
    };
    let customs = look.clock.customs();
    let fields = home.def.fields.iter().map(|f| {
        let (uses, filled) = (ds.uses(table, f.id), filled(f.id));
        DesignField {
            field: f.clone(),
            used: used_words(uses.len(), customs),
            uses,
            filled,
            held: held_words(filled, customs),
            options: options(f),
        }
    });
    let binned = home.def.binned.iter().map(|b| BinnedLine {
        field: Some(b.field.id),
        table,
        name: b.field.name.clone(),
        at: moment_text(b.at, &look.clock),
    });
    let def = &home.def;
    Ok(Design {
        name: def.name.clone(),
        one: def.one.clone(),
        heading: def.heading.clone(),
        standing: def.standing,
        beside: def.beside,
        fields: fields.collect(),
        binned: binned.collect(),
    })
}

/// Tables in the bin.
#[utoipa::path(get, path = "/api/trackers/{tracker}/bin", params(OfTracker), responses((status = 200, body = Vec<BinnedLine>)))]
pub(super) async fn bin(here: Here) -> Result<Json<Vec<BinnedLine>>, Problem> {
    let look = here.look()?;
    let builds = look.lens().builds();
    let tables = look.dataset.binned_tables().filter(|_| builds).map(|t| BinnedLine {
        field: None,
        table: t.def.id,
        name: t.def.name.clone(),
        at: t.def.gone.map_or_else(String::new, |at| moment_text(at, &look.clock)),
    });
    Ok(Json(tables.collect()))
}

/// A new field, or another state of one.
#[derive(Deserialize, ToSchema)]
pub(super) struct FieldBody {
    /// Its number, and those of new options, are given by the server.
    field: FieldDef,
    /// A new field's place: before this one; none: at the end.
    #[serde(default)]
    before: Option<FieldId>,
    /// Of a new link, its other side.
    #[serde(default)]
    other: Option<OtherBody>,
    /// What options that are taken away become: another, or nothing.
    #[serde(default)]
    merged: Vec<(OptionId, Option<OptionId>)>,
}

/// The other side of a link.
#[derive(Deserialize, ToSchema)]
pub(super) struct OtherBody {
    name: String,
    #[serde(default)]
    one: bool,
}

impl From<OtherBody> for OtherSide {
    fn from(other: OtherBody) -> Self {
        OtherSide { name: other.name, one: other.one }
    }
}

/// Makes a field.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/fields", params(OfTable), request_body = FieldBody, responses((status = 200, body = Done)))]
pub(super) async fn add_field(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<FieldBody>,
) -> Result<Json<Done>, Problem> {
    let change = FieldChange::Add { field: body.field, before: body.before, other: body.other.map(OtherSide::from) };
    here.act(Intent::Fields { table, change }).await
}

/// Changes a field's settings; its kind stays.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/fields/{field}", params(OfField), request_body = FieldBody, responses((status = 200, body = Done)))]
pub(super) async fn change_field(
    here: Here,
    Path(OfField { table, field, .. }): Path<OfField>,
    Json(body): Json<FieldBody>,
) -> Result<Json<Done>, Problem> {
    let change = FieldChange::Change { field: FieldDef { id: field, ..body.field }, merged: body.merged };
    here.act(Intent::Fields { table, change }).await
}

/// Puts a field into the bin; its values are kept.
#[utoipa::path(delete, path = "/api/trackers/{tracker}/tables/{table}/fields/{field}", params(OfField), responses((status = 200, body = Done)))]
pub(super) async fn remove_field(here: Here, Path(OfField { table, field, .. }): Path<OfField>) -> Result<Json<Done>, Problem> {
    here.act(Intent::Fields { table, change: FieldChange::Remove(field) }).await
}

/// What is done with a field as a whole.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(super) enum FieldStep {
    /// Back from the bin, with its values.
    Restore,
    /// The same again, with its values.
    Duplicate,
    /// Before another field, or to the end.
    Move { before: Option<FieldId> },
}

/// Moves, duplicates or restores a field.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/fields/{field}", params(OfField), request_body = FieldStep, responses((status = 200, body = Done)))]
pub(super) async fn step_field(
    here: Here,
    Path(OfField { table, field, .. }): Path<OfField>,
    Json(step): Json<FieldStep>,
) -> Result<Json<Done>, Problem> {
    let change = match step {
        FieldStep::Restore => FieldChange::Restore(field),
        FieldStep::Duplicate => FieldChange::Duplicate(field),
        FieldStep::Move { before } => FieldChange::Move { field, before },
    };
    here.act(Intent::Fields { table, change }).await
}

/// A change of kind, rehearsed or done.
#[derive(Deserialize, ToSchema)]
pub(super) struct KindBody {
    to: KindTarget,
    rest: Rest,
    /// Only say what it would do.
    #[serde(default)]
    rehearse: bool,
}

/// What a field becomes.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(super) enum KindTarget {
    Kind(Kind),
    Link {
        to: TableId,
        by: FieldId,
        #[serde(default)]
        one: bool,
        other: OtherBody,
        #[serde(default)]
        separator: Option<String>,
    },
    /// A link to a new table, with a record for each value.
    Table {
        name: String,
        one_name: String,
        #[serde(default)]
        one: bool,
        other: OtherBody,
        #[serde(default)]
        separator: Option<String>,
    },
}

/// What came of it, or would come.
#[derive(Serialize, ToSchema)]
pub(super) struct KindReply {
    rehearsal: Option<KindRehearsal>,
    done: Option<Done>,
}

/// Makes a field of another kind, with its values; or says what that would do.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/fields/{field}/kind", params(OfField), request_body = KindBody, responses((status = 200, body = KindReply)))]
pub(super) async fn change_kind(
    here: Here,
    Path(OfField { table, field, .. }): Path<OfField>,
    Json(body): Json<KindBody>,
) -> Result<Json<KindReply>, Problem> {
    let look = here.look()?;
    build_look(&look, table)?;
    let to = match body.to {
        KindTarget::Kind(kind) => Target::Kind(kind),
        KindTarget::Table { name, one_name, one, other, separator } => {
            Target::Table { name, one_name, one, other: other.into(), separator }
        }
        KindTarget::Link { to, by, one, other, separator } => Target::Link { to, by, one, other: other.into(), separator },
    };
    let change = ChangeOfKind { table, field, to, rest: body.rest };
    if body.rehearse {
        let rehearsal = here.app.rooms.read(move || look.dataset.rehearse_kind(&change, look.asker, &look.clock)).await??;
        return Ok(Json(KindReply { rehearsal: Some(rehearsal), done: None }));
    }
    let Json(done) = here.act(Intent::ChangeKind(change)).await?;
    Ok(Json(KindReply { rehearsal: None, done: Some(done) }))
}

/// Where the values of a text field could be linked to.
#[derive(Serialize, ToSchema)]
pub(super) struct LinkProposals {
    /// Tables and fields whose records they name, best first.
    proposals: Vec<LinkProposal>,
    /// What a new table of them would be called.
    own: TableNames,
}

/// Where the values of a text field could be linked to: tables that are there, or one of their own.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/fields/{field}/links", params(OfField), responses((status = 200, body = LinkProposals)))]
pub(super) async fn propose_links(here: Here, Path(OfField { table, field, .. }): Path<OfField>) -> Result<Json<LinkProposals>, Problem> {
    let look = here.look()?;
    build_look(&look, table)?;
    let called = look.dataset.table(table).and_then(|t| t.def.field(field)).map_or("", |f| &f.name);
    let own = TableNames::of(called);
    let proposals = here.app.rooms.read(move || look.lens().propose_links(table, field)).await?;
    Ok(Json(LinkProposals { proposals, own }))
}
