//! The team's mark, as it stands on what is open to everybody.

use super::pictures::kept;
use crate::{app::App, problem::Problem};
use axum::{extract::State, response::Response};
use westerfall_core::fault::Fault;

/// The team's mark.
#[utoipa::path(get, path = "/api/public/mark", responses((status = 200, body = Vec<u8>, content_type = "image/png")))]
pub(in crate::api) async fn mark(State(app): State<App>) -> Result<Response, Problem> {
    let id = app.team.now().face().look.mark.as_ref().map(|mark| mark.id.clone());
    kept(&app, &id.ok_or_else(|| Fault::not_found("picture"))?).await
}
