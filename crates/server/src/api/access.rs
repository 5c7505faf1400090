//! Roles: what they may do, in sentences, and changing it.

use super::parts::role::{self, RoleBody, RoleView};
use super::places::{OfRole, OfTable, OfTracker, OfView};
use super::trackers::GivenTo;
use crate::here::Here;
use crate::live::{Done, Look};
use crate::problem::{Json, Path, Problem};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    access::{AccessQuestion, AccessRehearsal, AccessWhy},
    condition::Condition,
    fault::Fault,
    id::ViewId,
    intent::Intent,
    part::Part,
    view::View,
};

/// The tracker's roles. For its stewards.
#[utoipa::path(get, path = "/api/trackers/{tracker}/roles", params(OfTracker), responses((status = 200, body = Vec<RoleView>)))]
pub(super) async fn list(here: Here) -> Result<Json<Vec<RoleView>>, Problem> {
    let look = here.look()?;
    let lens = look.lens();
    if !lens.is_steward() {
        return Err(Fault::not_found("page").into());
    }
    Ok(Json(look.dataset.roles().map(|role| role::seen(&look, role)).collect()))
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
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/condition", params(OfTable), request_body = ConditionBody, responses((status = 200, body = ConditionWords)))]
pub(super) async fn words(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<ConditionBody>,
) -> Result<Json<ConditionWords>, Problem> {
    let look = here.look()?;
    let lens = look.lens();
    if !lens.opens(table) {
        return Err(Fault::not_found("table").into());
    }
    body.condition.check_for(&lens, table)?;
    let matching = body.condition.matching(&lens, table).count_ones(..);
    Ok(Json(ConditionWords { text: body.condition.to_sentence(&lens, table), matching }))
}

/// Why somebody may or may not do something with a record. For the tracker's stewards, while they stand in for somebody too.
#[utoipa::path(
    post,
    path = "/api/trackers/{tracker}/access/why",
    params(OfTracker),
    request_body = AccessQuestion,
    responses((status = 200, body = AccessWhy))
)]
pub(super) async fn why(here: Here, Json(body): Json<AccessQuestion>) -> Result<Json<AccessWhy>, Problem> {
    let look = here.look()?;
    if !look.tells_access() {
        return Err(Fault::not_found("page").into());
    }
    Ok(Json(look.lens().why_access(body)?))
}

/// To whom a view shall be given.
#[derive(Deserialize, ToSchema)]
pub(super) struct GivingBody {
    given: Vec<GivenTo>,
}

impl GivingBody {
    /// The view as it shall be.
    fn of(self, id: ViewId, look: &Look) -> Result<View, Fault> {
        let view = look.dataset.view(id).filter(|view| look.lens().knows(view)).ok_or_else(|| Fault::not_found("view"))?;
        Ok(View { given: self.given.into_iter().map(|one| (one.person, one.right)).collect(), ..view.clone() })
    }
}

/// Gives a view by itself to people who may hold no role: its records in its fields, and nothing else. For the tracker's stewards.
#[utoipa::path(
    put,
    path = "/api/trackers/{tracker}/views/{view}/given",
    params(OfView),
    request_body = GivingBody,
    responses((status = 200, body = Done))
)]
pub(super) async fn give(here: Here, Path(OfView { view, .. }): Path<OfView>, Json(body): Json<GivingBody>) -> Result<Json<Done>, Problem> {
    let look = here.look()?;
    if !look.lens().is_steward() {
        return Err(Fault::not_found("view").into());
    }
    let after = body.of(view, &look)?;
    here.act(Intent::Save(after.into())).await
}

/// What that would do, person by person. For the tracker's stewards.
#[utoipa::path(
    post,
    path = "/api/trackers/{tracker}/views/{view}/given/rehearsal",
    params(OfView),
    request_body = GivingBody,
    responses((status = 200, body = AccessRehearsal))
)]
pub(super) async fn rehearse_giving(
    here: Here,
    Path(OfView { view, .. }): Path<OfView>,
    Json(body): Json<GivingBody>,
) -> Result<Json<AccessRehearsal>, Problem> {
    let look = here.look()?;
    if !look.lens().is_steward() {
        return Err(Fault::not_found("view").into());
    }
    let after = body.of(view, &look)?;
    crate::live::rehearse(&look, &Intent::Save(after.clone().into()))?;
    Ok(Json(here.app.rooms.read(move || look.lens().rehearse_giving(&after)).await?))
}

/// A role as it shall be; without one, what taking it away would do is said.
#[derive(Deserialize, ToSchema)]
pub(super) struct RehearseBody {
    role: Option<RoleBody>,
}

/// What another state of a role would do, person by person. For the tracker's stewards.
#[utoipa::path(
    post,
    path = "/api/trackers/{tracker}/roles/{role}/rehearsal",
    params(OfRole),
    request_body = RehearseBody,
    responses((status = 200, body = AccessRehearsal))
)]
pub(super) async fn rehearse(
    here: Here,
    Path(OfRole { role: id, .. }): Path<OfRole>,
    Json(body): Json<RehearseBody>,
) -> Result<Json<AccessRehearsal>, Problem> {
    let look = here.look()?;
    if !look.lens().is_steward() || !look.dataset.roles().any(|role| role.id == id) {
        return Err(Fault::not_found("role").into());
    }
    let after = body.role.map(|role| role.named(id, &look));
    let intent = match &after {
        Some(role) => Intent::Save(Part::Role(role.clone())),
        None => look
            .dataset
            .roles()
            .find(|role| role.id == id)
            .map(|role| Intent::Drop(Part::Role(role.clone())))
            .ok_or_else(|| Fault::not_found("role"))?,
    };
    // What would be refused is, with its places.
    crate::live::rehearse(&look, &intent)?;
    Ok(Json(here.app.rooms.read(move || look.lens().rehearse_role(id, after.as_ref())).await?))
}
