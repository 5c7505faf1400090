//! Orders by hand: of views in their list, and of records in a view.

use super::{
    places::OfView,
    records::{CellEdit, read_edits},
};
use crate::{
    here::Here,
    live::Done,
    problem::{Json, Path, Problem},
};
use serde::Deserialize;
use utoipa::ToSchema;
use westerfall_core::{
    id::RecordId,
    intent::{Intent, OrderStep},
    view::{Order, Spot},
};

/// Where a view is to stand.
#[derive(Deserialize, ToSchema)]
pub(super) struct MoveViewBody {
    /// Among the team's views of its table, or among one's own, from 0.
    to: usize,
}

/// Puts a view at another place in the list of its table's views.
#[utoipa::path(post, path = "/api/trackers/{tracker}/views/{view}/move", params(OfView), request_body = MoveViewBody, responses((status = 200, body = Done)))]
pub(super) async fn move_view(
    here: Here,
    Path(OfView { view, .. }): Path<OfView>,
    Json(body): Json<MoveViewBody>,
) -> Result<Json<Done>, Problem> {
    here.act(Intent::MoveView { view, to: body.to }).await
}

/// What is done to a view's own order.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(super) enum OrderBody {
    /// Records go somewhere; where that is another lane or group, with the values that they have there.
    Place {
        records: Vec<RecordId>,
        spot: Spot,
        #[serde(default)]
        edits: Vec<CellEdit>,
    },
    /// All records stand from now on as these sorts put them; the view is sorted by nothing any more.
    Begin { sorts: Vec<Order> },
    /// Nobody has put anything anywhere.
    Forget {},
}

/// Puts records of a view in an order by hand.
#[utoipa::path(post, path = "/api/trackers/{tracker}/views/{view}/order", params(OfView), request_body = OrderBody, responses((status = 200, body = Done)))]
pub(super) async fn order(here: Here, Path(OfView { view, .. }): Path<OfView>, Json(body): Json<OrderBody>) -> Result<Json<Done>, Problem> {
    here.look()?;
    let step = match body {
        OrderBody::Place { records, spot, edits } => OrderStep::Place { records, spot, edits: read_edits(edits) },
        OrderBody::Begin { sorts } => OrderStep::Begin { sorts },
        OrderBody::Forget {} => OrderStep::Forget,
    };
    here.act(Intent::Order { view, step }).await
}
