//! Roles: what they may do, in sentences, and changing it.

use crate::{
    app::App,
    live::Done,
    problem::{Json, Path, Problem},
    session::Signed,
};
use axum::extract::State;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use utoipa::ToSchema;
use westerfall_core::{
    access::{Base, Role, TableRights, role_sentences},
    condition::Condition,
    fault::Fault,
    history::Part,
    id::{PersonId, RoleId, TableId, TrackerId},
    intent::Intent,
};

/// A role with what it may do.
#[derive(Serialize, ToSchema)]
pub(super) struct RoleView {
    role: Role,
    /// For each table a sentence.
    sentences: Vec<TableSentence>,
    /// What it may do in each table, those included of which it says nothing itself.
    rights: BTreeMap<TableId, TableRights>,
}

/// What a role may do in a table.
#[derive(Serialize, ToSchema)]
pub(super) struct TableSentence {
    table: TableId,
    text: String,
}

/// The tracker's roles. For its stewards.
#[utoipa::path(get, path = "/api/trackers/{tracker}/roles", params(("tracker" = u32, Path)), responses((status = 200, body = Vec<RoleView>), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn list(State(app): State<App>, signed: Signed, Path(tracker): Path<TrackerId>) -> Result<Json<Vec<RoleView>>, Problem> {
    let look = app.tracker(tracker).await?.look(signed.asker())?;
    let lens = look.lens();
    if !lens.is_steward() {
        return Err(Fault::not_found("page").into());
    }
    let view = |role: &Role| RoleView {
        sentences: role_sentences(role, &lens).into_iter().map(|(table, text)| TableSentence { table, text }).collect(),
        rights: look.dataset.tables().map(|t| (t.def.id, role.rights(t.def.id).into_owned())).collect(),
        role: role.clone(),
    };
    Ok(Json(look.dataset.roles().map(view).collect()))
}

/// A role to keep.
#[derive(Deserialize, ToSchema)]
pub(super) struct RoleBody {
    name: String,
    base: Base,
    members: BTreeSet<PersonId>,
    tables: BTreeMap<TableId, TableRights>,
}

impl RoleBody {
    fn role(self, id: RoleId) -> Role {
        Role { id, name: self.name.trim().to_owned(), base: self.base, members: self.members, tables: self.tables }
    }
}

/// Keeps a role in another state. Screens of those who lose access are emptied at once.
#[utoipa::path(put, path = "/api/trackers/{tracker}/roles/{role}", params(("tracker" = u32, Path), ("role" = u32, Path)), request_body = RoleBody, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn save(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, RoleId)>,
    Json(body): Json<RoleBody>,
) -> Result<Json<Done>, Problem> {
    let live = app.tracker(tracker).await?;
    live.look(signed.asker())?;
    Ok(Json(live.act(signed.actor()?, Intent::Save(Part::Role(body.role(id)))).await?))
}

/// A condition to be put in words.
#[derive(Deserialize, ToSchema)]
pub(super) struct ConditionBody {
    condition: Condition,
}

/// A condition in words.
#[derive(Serialize, ToSchema)]
pub(super) struct ConditionWords {
    text: String,
    /// Records in one's reach that it holds for now.
    matching: usize,
}

/// Puts a condition in words and counts what it holds for, without keeping it.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/condition", params(("tracker" = u32, Path), ("table" = u32, Path)), request_body = ConditionBody, responses((status = 200, body = ConditionWords), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn words(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, table)): Path<(TrackerId, TableId)>,
    Json(body): Json<ConditionBody>,
) -> Result<Json<ConditionWords>, Problem> {
    let look = app.tracker(tracker).await?.look(signed.asker())?;
    let lens = look.lens();
    if !lens.opens(table) {
        return Err(Fault::not_found("table").into());
    }
    body.condition.check_for(&lens, table)?;
    let matching = body.condition.matching(&lens, table).count_ones(..);
    Ok(Json(ConditionWords { text: body.condition.to_sentence(&lens, table), matching }))
}
