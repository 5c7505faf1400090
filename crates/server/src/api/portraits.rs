//! Pictures of the team's people: each gives their own; whoever is of the team may see all of them.

use super::{forms::PictureBody, public::pictures::kept};
use crate::{
    app::App,
    here::Caller,
    pictures,
    problem::{Json, Path, Problem},
    refusal::Refusal,
    session::Signed,
    team::TeamDone,
};
use axum::{
    extract::{Multipart, State},
    http::{HeaderValue, header},
    response::Response,
};
use westerfall_core::{
    fault::{Fault, FaultKind},
    id::PersonId,
    people::Person,
    team::TeamIntent,
};

/// Somebody's picture, small. For whoever is of the team.
#[utoipa::path(get, path = "/api/people/{person}/picture", params(("person" = PersonId, Path)), responses((status = 200, body = Vec<u8>, content_type = "image/jpeg")))]
pub(super) async fn show(State(app): State<App>, _: Signed, Path(person): Path<PersonId>) -> Result<Response, Problem> {
    let id = app.team.people().get(person).and_then(|one| one.picture.as_ref()).map(|picture| pictures::small_id(&picture.id));
    let mut response = kept(&app, &id.ok_or_else(|| Fault::not_found("picture"))?).await?;
    response.headers_mut().insert(header::CACHE_CONTROL, HeaderValue::from_static("private, max-age=86400"));
    Ok(response)
}

/// Another picture of oneself.
#[utoipa::path(post, path = "/api/session/picture", request_body(content = PictureBody, content_type = "multipart/form-data"), responses((status = 200, body = TeamDone)))]
pub(super) async fn give(State(app): State<App>, caller: Caller, mut multipart: Multipart) -> Result<Json<TeamDone>, Problem> {
    let known = own(&app, &caller)?;
    let part = multipart.next_field().await?.ok_or_else(|| Fault::new(FaultKind::Missing, "Send a picture."))?;
    let name = part.file_name().unwrap_or("picture").to_owned();
    let upload = pictures::examine(&app.rooms, name, part.bytes().await?.to_vec(), pictures::Keep::Picture).await?;
    let asker = app.team.asker(known.id).await?;
    let intent = TeamIntent::Change(Person { picture: Some(upload.attachment.clone()), ..known });
    // What is no picture leaves nothing behind.
    app.team.rehearse(&intent, &asker)?;
    pictures::keep(&app.files, std::slice::from_ref(&upload)).await?;
    Ok(Json((&app.act_on_team(asker, intent).await?).into()))
}

/// No picture of oneself any more.
#[utoipa::path(delete, path = "/api/session/picture", responses((status = 200, body = TeamDone)))]
pub(super) async fn take_away(State(app): State<App>, caller: Caller) -> Result<Json<TeamDone>, Problem> {
    let known = own(&app, &caller)?;
    let asker = app.team.asker(known.id).await?;
    Ok(Json((&app.act_on_team(asker, TeamIntent::Change(Person { picture: None, ..known })).await?).into()))
}

/// Whoever asks, as they are known; nobody does this while standing in.
fn own(app: &App, caller: &Caller) -> Result<Person, Problem> {
    caller.actor()?;
    Ok(app.team.people().get(caller.person()?).cloned().ok_or(Refusal::NotSignedIn)?)
}
