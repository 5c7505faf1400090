//! What holds of the whole team: how it looks where it is seen from outside, and when and how fast messages go out.

use super::{forms::PictureBody, team::acting};
use crate::{
    app::App,
    here::Caller,
    pictures,
    problem::{Json, Problem},
    team::TeamDone,
};
use axum::extract::{Multipart, State};
use serde::Deserialize;
use utoipa::ToSchema;
use westerfall_core::{
    face::TeamLook,
    fault::{Fault, FaultKind},
    team::{Sending, TeamIntent},
};

/// How the team is to look. Its mark is sent by itself.
#[derive(Deserialize, ToSchema)]
pub(super) struct LookingBody {
    #[serde(default)]
    colour: Option<String>,
    #[serde(default)]
    words: String,
    /// Whether the mark stays that it has.
    mark: bool,
}

/// Another look of the team. For its owners.
#[utoipa::path(put, path = "/api/team/look", request_body = LookingBody, responses((status = 200, body = TeamDone)))]
pub(super) async fn keep(State(app): State<App>, caller: Caller, Json(body): Json<LookingBody>) -> Result<Json<TeamDone>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    let mark = app.team.now().face().look.mark.clone().filter(|_| body.mark);
    let look = TeamLook { mark, colour: body.colour, words: body.words };
    Ok(Json((&app.act_on_team(asker, TeamIntent::Look(look)).await?).into()))
}

/// Another mark of the team, from a picture. For its owners.
#[utoipa::path(post, path = "/api/team/mark", request_body(content = PictureBody, content_type = "multipart/form-data"), responses((status = 200, body = TeamDone)))]
pub(super) async fn mark(State(app): State<App>, caller: Caller, mut multipart: Multipart) -> Result<Json<TeamDone>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    let part = multipart.next_field().await?.ok_or_else(|| Fault::new(FaultKind::Missing, "Send a picture."))?;
    let name = part.file_name().unwrap_or("mark").to_owned();
    let upload = pictures::examine(&app.rooms, name, part.bytes().await?.to_vec(), pictures::Keep::Picture).await?;
    let look = TeamLook { mark: Some(upload.attachment.clone()), ..app.team.now().face().look.clone() };
    // Whoever may not, or sends no picture, leaves nothing behind.
    app.team.rehearse(&TeamIntent::Look(look.clone()), &asker)?;
    pictures::keep(&app.files, std::slice::from_ref(&upload)).await?;
    Ok(Json((&app.act_on_team(asker, TeamIntent::Look(look)).await?).into()))
}

/// Says when and how fast messages go out by themselves. For the team's owners.
#[utoipa::path(put, path = "/api/team/sending", request_body = Sending, responses((status = 200, body = TeamDone)))]
pub(super) async fn sending(State(app): State<App>, caller: Caller, Json(body): Json<Sending>) -> Result<Json<TeamDone>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    Ok(Json((&app.act_on_team(asker, TeamIntent::Sending(body)).await?).into()))
}
