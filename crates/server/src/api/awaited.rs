//! How far what one waits for has come, and stopping it: by the name that the browser gave it.

use crate::{
    app::App,
    awaited::HowFar,
    here::Caller,
    problem::{Json, Path, Problem},
};
use axum::{extract::State, http::StatusCode};
use westerfall_core::fault::Fault;

fn nothing() -> Problem {
    Fault::not_found("thing that you wait for").into()
}

/// How far something has come that one waits for: a file, a change of many records.
#[utoipa::path(get, path = "/api/awaited/{name}", params(("name" = String, Path)), responses((status = 200, body = HowFar)))]
pub(super) async fn how_far(State(app): State<App>, caller: Caller, Path(name): Path<String>) -> Result<Json<HowFar>, Problem> {
    app.waits.of(caller.person()?, &name).map(Json).ok_or_else(nothing)
}

/// Stops it, if it is not done yet: what one waits for answers that, or that it was done before.
#[utoipa::path(delete, path = "/api/awaited/{name}", params(("name" = String, Path)), responses((status = 204)))]
pub(super) async fn stop(State(app): State<App>, caller: Caller, Path(name): Path<String>) -> Result<StatusCode, Problem> {
    if app.waits.stop(caller.person()?, &name) { Ok(StatusCode::NO_CONTENT) } else { Err(nothing()) }
}
