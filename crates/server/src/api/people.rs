//! Signing in and out, oneself, standing in.

use crate::{
    app::App,
    here::Caller,
    problem::{Json, Problem},
    refusal::Refusal,
    session::{self, Device, From, Signed, check_password, choose_password, opened},
    team::TeamDone,
};
use axum::{
    extract::{Path, State},
    http::{StatusCode, header},
    response::{IntoResponse, Response},
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    access,
    checks::check_mail,
    fault::{Fault, FaultKind},
    id::{GroupId, PersonId},
    people::{Channel, Person, Quiet},
    team::{TeamAsker, TeamIntent},
    value::{Customs, moment_text},
};

/// A person, as people see each other.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub(super) struct PersonView {
    pub(super) id: PersonId,
    pub(super) name: String,
    pub(super) initials: String,
    /// Where their picture is; nothing: they have none.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub(super) picture: Option<String>,
    /// They have left: shown where they are named, and offered last.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub(super) left: bool,
}

impl std::convert::From<&Person> for PersonView {
    fn from(person: &Person) -> Self {
        // Another picture has another address, so that none that is kept on the way stands for it.
        let picture = person.picture.as_ref().map(|picture| format!("/api/people/{}/picture?{}", person.id, picture.id));
        Self { id: person.id, name: person.name.clone(), initials: person.initials(), picture, left: person.has_left() }
    }
}

/// Oneself.
#[derive(Serialize, ToSchema)]
pub(super) struct Me {
    person: PersonView,
    /// What the team is called.
    team: String,
    mail: String,
    about: String,
    phone: String,
    /// IANA name of the zone in which moments are told; empty: each tracker's own.
    zone: String,
    /// How numbers and days are told, and typed; nothing: as to everybody.
    customs: Option<Customs>,
    /// How what comes by itself reaches one, and which ways there are.
    channel: Channel,
    channels: Vec<Channel>,
    /// When one is sent nothing by itself.
    quiet: Option<Quiet>,
    /// Whether one owns the team, and whether one lets people in.
    owns: bool,
    lets_in: bool,
    /// Whether there is mail to look at in the post room.
    post_room: bool,
    /// The person one stands in for.
    stands_in: Option<PersonView>,
}

/// Address and password.
#[derive(Deserialize, ToSchema)]
pub(super) struct SignIn {
    mail: String,
    password: String,
}

/// Signs in with mail address and password.
#[utoipa::path(post, path = "/api/session", request_body = SignIn, responses((status = 204)))]
pub(super) async fn sign_in(
    State(app): State<App>,
    From(client): From,
    device: Device,
    Json(body): Json<SignIn>,
) -> Result<Response, Problem> {
    app.sign_ins.may_try(&body.mail, client)?;
    if body.password.len() > session::LONGEST_PASSWORD {
        return Err(Refusal::LongPassword.into());
    }
    let account = app.store.account(&body.mail).await?;
    let hash = account.as_ref().and_then(|a| a.password_hash.clone());
    let fits = session::password_fits(&app.rooms, &body.password, hash).await?;
    match account {
        Some(account) if fits => opened(&app, account.person, &device).await,
        _ => Err(Refusal::WrongPassword.into()),
    }
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
    let view = |p: &Person| DemoPerson { person: p.into(), mail: p.mail.clone(), about: p.about.clone() };
    Ok(Json(app.team.people().iter().filter(|p| p.standing.is_here()).map(view).collect()))
}

/// Whom to be.
#[derive(Deserialize, ToSchema)]
pub(super) struct DemoSignIn {
    person: PersonId,
}

/// Signs in as one of the demo's people. Outside the demo this does not exist.
#[utoipa::path(post, path = "/api/demo/session", request_body = DemoSignIn, responses((status = 204)))]
pub(super) async fn sign_in_to_demo(State(app): State<App>, device: Device, Json(body): Json<DemoSignIn>) -> Result<Response, Problem> {
    in_demo(&app)?;
    let known = app.team.people().get(body.person).is_some_and(|p| p.standing.is_here());
    if known { opened(&app, body.person, &device).await } else { Err(Refusal::NoPerson.into()) }
}

/// Who is signed in.
#[utoipa::path(get, path = "/api/session", responses((status = 200, body = Me), (status = 401, body = crate::problem::ProblemBody)))]
pub(super) async fn me(State(app): State<App>, signed: Signed) -> Result<Json<Me>, Problem> {
    let team = app.team.now();
    let me = team.people().get(signed.person).ok_or(Refusal::NotSignedIn)?;
    let stands_in = signed.stands_in.and_then(|id| team.people().get(id)).map(PersonView::from);
    let lets_in = matches!(app.team.asker(signed.person).await?, TeamAsker::Person { lets_in: true, .. });
    Ok(Json(Me {
        team: team.name().to_owned(),
        mail: me.mail.clone(),
        about: me.about.clone(),
        phone: me.phone.clone(),
        zone: me.zone.clone(),
        customs: me.customs,
        channel: me.channel,
        channels: app.settings.channels(),
        quiet: me.quiet,
        owns: team.is_owner(me.id),
        lets_in,
        post_room: app.settings.demo || team.is_owner(me.id),
        stands_in,
        person: me.into(),
    }))
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
    /// For whoever of this group stands best for it.
    #[serde(default)]
    group: Option<GroupId>,
}

/// Those for whom one may stand in: whoever has roles only in trackers of which one is a steward.
#[utoipa::path(get, path = "/api/session/stand-in", responses((status = 200, body = Vec<PersonView>)))]
pub(super) async fn may_stand_in(State(app): State<App>, signed: Signed) -> Result<Json<Vec<PersonView>>, Problem> {
    let (roles, given) = (app.store.roles().await?, app.store.given_views().await?);
    let people = app.team.people();
    let may = |person: &&Person| access::may_stand_in(&roles, &given, &people, signed.person, person.id);
    Ok(Json(people.iter().filter(may).map(PersonView::from).collect()))
}

/// Looks at everything exactly as somebody else would, without being able to change it. For stewards.
#[utoipa::path(put, path = "/api/session/stand-in", request_body = StandIn, responses((status = 204)))]
pub(super) async fn stand_in(State(app): State<App>, signed: Signed, Json(body): Json<StandIn>) -> Result<StatusCode, Problem> {
    let people = app.team.people();
    let (roles, given) = (app.store.roles().await?, app.store.given_views().await?);
    let other = match body.group {
        Some(group) => Some(access::typical_of(group, &roles, &given, &people, signed.person).ok_or(Refusal::MayNotStandIn)?),
        None => body.person,
    };
    if let Some(other) = other {
        if people.get(other).is_none() {
            return Err(Refusal::NoPerson.into());
        }
        if !access::may_stand_in(&roles, &given, &people, signed.person, other) {
            return Err(Refusal::MayNotStandIn.into());
        }
    }
    app.store.stand_in(&signed.token_hash, other).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// What one says of oneself.
#[derive(Deserialize, ToSchema)]
pub(super) struct OwnBody {
    name: String,
    #[serde(default)]
    about: String,
    #[serde(default)]
    phone: String,
    #[serde(default)]
    zone: String,
    #[serde(default)]
    customs: Option<Customs>,
    #[serde(default)]
    channel: Channel,
    #[serde(default)]
    quiet: Option<Quiet>,
}

/// Changes what the team knows of oneself.
#[utoipa::path(put, path = "/api/session", request_body = OwnBody, responses((status = 200, body = TeamDone)))]
pub(super) async fn change_own(State(app): State<App>, caller: Caller, Json(body): Json<OwnBody>) -> Result<Json<TeamDone>, Problem> {
    caller.actor()?;
    let me = caller.person()?;
    let known = app.team.people().get(me).cloned().ok_or(Refusal::NotSignedIn)?;
    let OwnBody { name, about, phone, zone, customs, channel, quiet } = body;
    // What was chosen while there was such a service stays chosen: until there is one again, they get mails.
    if channel != known.channel && !app.settings.channels().contains(&channel) {
        let message = format!("Nothing is set up that brings a {} to you.", channel.noun());
        return Err(Fault::new(FaultKind::WrongKind, message).at("/channel").into());
    }
    let intent = TeamIntent::Change(Person { name, about, phone, zone, customs, channel, quiet, ..known });
    Ok(Json((&app.act_on_team(app.team.asker(me).await?, intent).await?).into()))
}

/// The address that one wants to be.
#[derive(Deserialize, ToSchema)]
pub(super) struct OwnAddress {
    mail: String,
}

/// Asks at the new address, and at the old one, whether one shall take the place of the other.
#[utoipa::path(put, path = "/api/session/address", request_body = OwnAddress, responses((status = 204)))]
pub(super) async fn change_address(
    State(app): State<App>,
    From(client): From,
    caller: Caller,
    Json(body): Json<OwnAddress>,
) -> Result<StatusCode, Problem> {
    caller.actor()?;
    let (me, mail) = (caller.person()?, body.mail.trim());
    app.letters.may_try(mail, client)?;
    check_mail(mail).map_err(|fault| fault.at("/mail"))?;
    // Whether somebody else has it is found out by whoever reads its mail.
    app.mail_addresses(me, mail).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Another password of one's own.
#[derive(Deserialize, ToSchema)]
pub(super) struct OwnPassword {
    /// The one that holds; nothing where one has none yet.
    #[serde(default)]
    now: String,
    password: String,
}

/// Chooses another password. All other sessions of one's own end.
#[utoipa::path(put, path = "/api/session/password", request_body = OwnPassword, responses((status = 204)))]
pub(super) async fn change_password(
    State(app): State<App>,
    From(client): From,
    signed: Signed,
    Json(body): Json<OwnPassword>,
) -> Result<StatusCode, Problem> {
    if signed.stands_in.is_some() {
        return Err(Refusal::OnlyLooking.into());
    }
    let mail = app.team.people().get(signed.person).map_or_else(String::new, |p| p.mail.clone());
    app.sign_ins.may_try(&mail, client)?;
    check_password(&body.password)?;
    let known = app.store.password_of(signed.person).await?;
    if known.is_some() && !session::password_fits(&app.rooms, &body.now, known).await? {
        return Err(Fault::new(FaultKind::NotAllowed, "This is not the password that holds now.").at("/now").into());
    }
    choose_password(&app, signed.person, &body.password, Some(&signed.token_hash)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// One of one's own sessions.
#[derive(Serialize, ToSchema)]
pub(super) struct SessionView {
    /// What ending it asks for.
    id: String,
    device: String,
    begun: String,
    used: String,
    /// The one by which this is asked.
    this: bool,
}

/// Characters of a session's hash by which it is named: enough to tell one's own apart, and of no use to anybody.
const SESSION_NAME: usize = 16;

fn session_name(token_hash: &[u8]) -> String {
    let mut name = data_encoding::HEXLOWER.encode(token_hash);
    name.truncate(SESSION_NAME);
    name
}

/// Where one is signed in.
#[utoipa::path(get, path = "/api/session/all", responses((status = 200, body = Vec<SessionView>)))]
pub(super) async fn sessions(State(app): State<App>, signed: Signed) -> Result<Json<Vec<SessionView>>, Problem> {
    let clock = app.team.clock_for(signed.person);
    let lines = app.store.sessions_of(signed.person, clock.now).await?;
    let view = |line: westerfall_store::SessionLine| SessionView {
        id: session_name(&line.token_hash),
        this: line.token_hash == signed.token_hash,
        device: line.device,
        begun: moment_text(line.begun, &clock),
        used: moment_text(line.used, &clock),
    };
    Ok(Json(lines.into_iter().map(view).collect()))
}

/// Ends one of one's own sessions.
#[utoipa::path(delete, path = "/api/session/all/{session}", params(("session" = String, Path)), responses((status = 204)))]
pub(super) async fn end_session(State(app): State<App>, signed: Signed, Path(id): Path<String>) -> Result<StatusCode, Problem> {
    let lines = app.store.sessions_of(signed.person, Timestamp::now()).await?;
    let line = lines.into_iter().find(|line| session_name(&line.token_hash) == id).ok_or_else(|| Fault::not_found("session"))?;
    app.store.close_session(&line.token_hash).await?;
    // Nobody listening is no fault.
    let _ = app.ended.send(line.token_hash);
    Ok(StatusCode::NO_CONTENT)
}
