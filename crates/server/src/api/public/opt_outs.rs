//! The page at the foot of a message that goes outside: its reader says that they want no more of them, or want them again.

use crate::{
    app::App,
    opting_out,
    problem::{Json, Path, Problem},
};
use axum::{extract::State, http::StatusCode};
use serde::Deserialize;
use utoipa::ToSchema;
use westerfall_core::team::{OptOutSaid, OptOutView};

/// What somebody says of the messages that they get.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct OptOutBody {
    says: OptOutSaid,
}

/// What messages an address gets, by the link in one of them. Changes nothing, however often it is fetched.
#[utoipa::path(get, path = "/api/public/opt-outs/{token}", params(("token" = String, Path)), responses((status = 200, body = OptOutView)))]
pub(in crate::api) async fn opt_out(State(app): State<App>, Path(token): Path<String>) -> Result<Json<OptOutView>, Problem> {
    opting_out::view(&app, &token).await.map(Json)
}

/// No more of these messages, none at all, or all again; afterwards it tells how it is.
#[utoipa::path(post, path = "/api/public/opt-outs/{token}", params(("token" = String, Path)), request_body = OptOutBody, responses((status = 200, body = OptOutView)))]
pub(in crate::api) async fn say(
    State(app): State<App>,
    Path(token): Path<String>,
    Json(body): Json<OptOutBody>,
) -> Result<Json<OptOutView>, Problem> {
    opting_out::say(&app, &token, body.says).await.map(Json)
}

/// One press in a mail program (RFC 8058): it posts to the address in the mail's head, and nothing is asked back.
pub(in crate::api) async fn one_press(State(app): State<App>, Path(token): Path<String>) -> Result<StatusCode, Problem> {
    opting_out::say(&app, &token, OptOutSaid::NotThese).await.map(|_| StatusCode::NO_CONTENT)
}
