//! Orders by hand: of views in their list, of records in a view, and of lines under their record.

use super::{
    places::{OfField, OfView},
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
    fault::Fault,
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

/// Where lines go.
#[derive(Deserialize, ToSchema)]
pub(super) struct PlaceLinesBody {
    lines: Vec<RecordId>,
    spot: Spot,
}

/// Puts lines elsewhere among those of their record.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/lines/{field}/order", params(OfField), request_body = PlaceLinesBody, responses((status = 200, body = Done)))]
pub(super) async fn place_lines(
    here: Here,
    Path(OfField { table, field, .. }): Path<OfField>,
    Json(PlaceLinesBody { lines, spot }): Json<PlaceLinesBody>,
) -> Result<Json<Done>, Problem> {
    let look = here.look()?;
    look.dataset.table(table).and_then(|home| home.link(field)).ok_or_else(|| Fault::not_found("field"))?;
    here.act(Intent::PlaceLines { field, lines, spot }).await
}
