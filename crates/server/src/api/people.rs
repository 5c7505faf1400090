//! Signing in and out, oneself, standing in.

use crate::{
    app::App,
    problem::{Json, Problem},
    refusal::Refusal,
    session::{self, From, Signed},
};
use axum::{
    extract::State,
    http::{StatusCode, header},
    response::{IntoResponse, Response},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{access, id::PersonId, people::Person};
use westerfall_store::Account;

/// A person, as people see each other.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub(super) struct PersonView {
    pub(super) id: PersonId,
    pub(super) name: String,
    pub(super) initials: String,
}

impl std::convert::From<&Person> for PersonView {
    fn from(person: &Person) -> Self {
        Self { id: person.id, name: person.name.clone(), initials: person.initials() }
    }
}

/// Oneself.
#[derive(Serialize, ToSchema)]
pub(super) struct Me {
    person: PersonView,
    mail: String,
    /// The person one stands in for.
    stands_in: Option<PersonView>,
}

/// Address and password.
#[derive(Deserialize, ToSchema)]
pub(super) struct SignIn {
    mail: String,
    password: String,
}

/// Longest password, in bytes: a longer one would only make work.
const LONGEST_PASSWORD: usize = 4_000;

/// Signs in with mail address and password.
#[utoipa::path(post, path = "/api/session", request_body = SignIn, responses((status = 204)))]
pub(super) async fn sign_in(State(app): State<App>, From(client): From, Json(body): Json<SignIn>) -> Result<Response, Problem> {
    app.sign_ins.may_try(&body.mail, client)?;
    if body.password.len() > LONGEST_PASSWORD {
        return Err(Refusal::LongPassword.into());
    }
    let account = app.store.account(&body.mail).await?;
    let hash = account.as_ref().and_then(|a| a.password_hash.clone());
    let fits = session::password_fits(&app.rooms, &body.password, hash).await?;
    match account {
        Some(account) if fits => opened(&app, account.person.id).await,
        _ => Err(Refusal::WrongPassword.into()),
    }
}

async fn opened(app: &App, person: PersonId) -> Result<Response, Problem> {
    let cookie = session::open(app, person).await?;
    Ok((StatusCode::NO_CONTENT, [(header::SET_COOKIE, cookie)]).into_response())
}

/// Who signs in in the demo.
#[derive(Serialize, ToSchema)]
pub(super) struct DemoPerson {
    person: PersonView,
    mail: String,
    about: String,
}

fn in_demo(app: &App) -> Result<(), Problem> {
    if app.settings.demo { Ok(()) } else { Err(Refusal::NoAddress.into()) }
}

/// Everybody who can be chosen with one click. Outside the demo this does not exist.
#[utoipa::path(get, path = "/api/demo/people", responses((status = 200, body = Vec<DemoPerson>)))]
pub(super) async fn demo_people(State(app): State<App>) -> Result<Json<Vec<DemoPerson>>, Problem> {
    in_demo(&app)?;
    let view = |a: Account| DemoPerson { person: (&a.person).into(), mail: a.person.mail, about: a.about };
    Ok(Json(app.store.accounts().await?.into_iter().map(view).collect()))
}

/// Whom to be.
#[derive(Deserialize, ToSchema)]
pub(super) struct DemoSignIn {
    person: PersonId,
}

/// Signs in as one of the demo's people. Outside the demo this does not exist.
#[utoipa::path(post, path = "/api/demo/session", request_body = DemoSignIn, responses((status = 204)))]
pub(super) async fn sign_in_to_demo(State(app): State<App>, Json(body): Json<DemoSignIn>) -> Result<Response, Problem> {
    in_demo(&app)?;
    let known = app.store.people().await?.get(body.person).is_some();
    if known { opened(&app, body.person).await } else { Err(Refusal::NoPerson.into()) }
}

/// Who is signed in.
#[utoipa::path(get, path = "/api/session", responses((status = 200, body = Me), (status = 401, body = crate::problem::ProblemBody)))]
pub(super) async fn me(State(app): State<App>, signed: Signed) -> Result<Json<Me>, Problem> {
    let people = app.store.people().await?;
    let me = people.get(signed.person).ok_or(Refusal::NotSignedIn)?;
    let stands_in = signed.stands_in.and_then(|id| people.get(id)).map(PersonView::from);
    Ok(Json(Me { person: me.into(), mail: me.mail.clone(), stands_in }))
}

/// Signs out.
#[utoipa::path(delete, path = "/api/session", responses((status = 204)))]
pub(super) async fn sign_out(State(app): State<App>, signed: Signed) -> Result<Response, Problem> {
    app.store.close_session(&signed.token_hash).await?;
    // Nobody listening is no fault.
    let _ = app.ended.send(signed.token_hash);
    Ok((StatusCode::NO_CONTENT, [(header::SET_COOKIE, session::closed(&app)?)]).into_response())
}

/// For whom to stand in; nobody ends it.
#[derive(Deserialize, ToSchema)]
pub(super) struct StandIn {
    person: Option<PersonId>,
}

/// Those for whom one may stand in: whoever has roles only in trackers of which one is a steward.
#[utoipa::path(get, path = "/api/session/stand-in", responses((status = 200, body = Vec<PersonView>)))]
pub(super) async fn may_stand_in(State(app): State<App>, signed: Signed) -> Result<Json<Vec<PersonView>>, Problem> {
    let roles = app.store.roles().await?;
    let people = app.store.people().await?;
    Ok(Json(people.iter().filter(|person| access::may_stand_in(&roles, signed.person, person.id)).map(PersonView::from).collect()))
}

/// Looks at everything exactly as somebody else would, without being able to change it. For stewards.
#[utoipa::path(put, path = "/api/session/stand-in", request_body = StandIn, responses((status = 204)))]
pub(super) async fn stand_in(State(app): State<App>, signed: Signed, Json(body): Json<StandIn>) -> Result<StatusCode, Problem> {
    if let Some(other) = body.person {
        if app.store.people().await?.get(other).is_none() {
            return Err(Refusal::NoPerson.into());
        }
        if !access::may_stand_in(&app.store.roles().await?, signed.person, other) {
            return Err(Refusal::MayNotStandIn.into());
        }
    }
    app.store.stand_in(&signed.token_hash, body.person).await?;
    Ok(StatusCode::NO_CONTENT)
}
