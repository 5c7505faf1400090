//! Roles: what they may do, in sentences, and changing it.

use super::parts::role::{self, RoleView};
use super::places::{OfTable, OfTracker};
use crate::here::Here;
use crate::problem::{Json, Path, Problem};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{condition::Condition, fault::Fault};

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
