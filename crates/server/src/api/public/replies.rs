//! The page at a message's link: what it tells, and the one press that answers.

use crate::{
    app::App,
    problem::{Json, Path, Problem},
    replying,
};
use axum::extract::State;
use westerfall_core::automation::{ReplyGiven, ReplyView};

/// What may be answered at a message's link, or how it was. Changes nothing, however often it is fetched.
#[utoipa::path(get, path = "/api/public/replies/{token}", params(("token" = String, Path)), responses((status = 200, body = ReplyView)))]
pub(in crate::api) async fn reply(State(app): State<App>, Path(token): Path<String>) -> Result<Json<ReplyView>, Problem> {
    let row = replying::at(&app, &token).await?;
    replying::view(&app, &row).await.map(Json)
}

/// Answers a message, once; afterwards it tells what was answered, by whom, and what holds now.
#[utoipa::path(post, path = "/api/public/replies/{token}", params(("token" = String, Path)), request_body = ReplyGiven, responses((status = 200, body = ReplyView)))]
pub(in crate::api) async fn answer(
    State(app): State<App>,
    Path(token): Path<String>,
    Json(given): Json<ReplyGiven>,
) -> Result<Json<ReplyView>, Problem> {
    let row = replying::at(&app, &token).await?;
    replying::take(&app, &row, given).await?;
    let row = replying::at(&app, &token).await?;
    replying::view(&app, &row).await.map(Json)
}
