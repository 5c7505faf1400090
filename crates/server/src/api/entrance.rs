//! The ways in, for people who are not signed in: the beginning of a team, invitations, forgotten passwords, codes, and the
//! confirming of an address. What is asked of an address that nobody has answers as one that somebody has.

use crate::{
    app::App,
    letters::{NOBODY, code_hash},
    passkeys::passkeys_of,
    problem::{Json, Problem},
    refusal::Refusal,
    secrets::hash,
    session::{Device, From, check_password, choose_password, opened},
};
use axum::{
    extract::{Path, State},
    http::StatusCode,
    response::Response,
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    checks::check_mail,
    id::PersonId,
    people::Person,
    team::{Newcomer, TeamAsker, TeamIntent},
};
use westerfall_store::{Purpose, Ticket};

/// What the page at the door needs to know.
#[derive(Serialize, ToSchema)]
pub(super) struct Entrance {
    /// What the team is called.
    team: String,
    /// Whether it has been begun; until then its first owner is awaited at the address that the program prints.
    begun: bool,
    /// Whether people can be chosen with one click.
    demo: bool,
    /// Whether one can sign in with a passkey: they are of a name, so that there are none at a bare number.
    passkeys: bool,
}

/// Who may come in here, and how.
#[utoipa::path(get, path = "/api/entrance", responses((status = 200, body = Entrance)))]
pub(super) async fn entrance(State(app): State<App>) -> Result<Json<Entrance>, Problem> {
    let begun = app.store.is_begun().await?;
    Ok(Json(Entrance { team: app.team.now().name().to_owned(), begun, demo: app.settings.demo, passkeys: passkeys_of(&app).is_some() }))
}

/// The first person's names, and how they sign in.
#[derive(Deserialize, ToSchema)]
pub(super) struct BeginBody {
    /// From the address that the program printed.
    token: String,
    team: String,
    name: String,
    mail: String,
    password: String,
}

/// Begins the team: whoever does owns it, and is signed in.
#[utoipa::path(post, path = "/api/beginning", request_body = BeginBody, responses((status = 204)))]
pub(super) async fn begin(State(app): State<App>, device: Device, Json(body): Json<BeginBody>) -> Result<Response, Problem> {
    if !app.is_beginning(&body.token) || app.store.is_begun().await? {
        return Err(Refusal::NotTheBeginning.into());
    }
    check_address(&body.mail)?;
    check_password(&body.password)?;
    let team = app.team.now();
    let owner = Newcomer { name: body.name, mail: body.mail, about: String::new() };
    let person = if team.is_empty() {
        let intent = TeamIntent::Begin { team: body.team, owner };
        let change = app.act_on_team(TeamAsker::Westerfall, intent).await?;
        change.ops.iter().find_map(|op| match &op.after {
            Some(westerfall_core::team::TeamPart::Person(person)) => Some(person.id),
            _ => None,
        })
    } else {
        // It was named, and cut off before anybody could sign in: the same person goes on.
        let first = team.people().iter().find(|p| team.is_owner(p.id)).cloned();
        let Some(first) = first else { return Err(Refusal::NotTheBeginning.into()) };
        let id = first.id;
        let renamed = Person { name: owner.name, mail: owner.mail, ..first };
        app.act_on_team(TeamAsker::Westerfall, TeamIntent::Change(renamed)).await?;
        app.act_on_team(TeamAsker::Westerfall, TeamIntent::Rename(body.team)).await?;
        Some(id)
    };
    let person = person.ok_or_else(|| Problem::internal("a team was begun by nobody"))?;
    choose_password(&app, person, &body.password, None).await?;
    app.end_beginning();
    opened(&app, person, &device).await
}

/// What an invitation says before it is taken up.
#[derive(Serialize, ToSchema)]
pub(super) struct InvitationView {
    team: String,
    name: String,
    /// The address they sign in with; empty: they say one.
    mail: String,
}

/// Looks at an invitation. Nothing is used by it.
#[utoipa::path(get, path = "/api/invitations/{token}", params(("token" = String, Path)), responses((status = 200, body = InvitationView)))]
pub(super) async fn invitation(State(app): State<App>, Path(token): Path<String>) -> Result<Json<InvitationView>, Problem> {
    let ticket = app.store.ticket(&hash(&token), Purpose::Invitation, Timestamp::now()).await?;
    let (team, person) = invited(&app, ticket)?;
    Ok(Json(InvitationView { team, name: person.name, mail: person.mail }))
}

fn invited(app: &App, ticket: Option<Ticket>) -> Result<(String, Person), Problem> {
    let team = app.team.now();
    let person = ticket.and_then(|ticket| team.people().get(ticket.person).filter(|p| !p.has_left()).cloned());
    let person = person.ok_or(Refusal::TicketOver)?;
    Ok((team.name().to_owned(), person))
}

/// How somebody comes in.
#[derive(Deserialize, ToSchema)]
pub(super) struct ComeInBody {
    name: String,
    /// Where the invitation knows no address: theirs. Mail has to reach it before they can sign in with it.
    #[serde(default)]
    mail: String,
    password: String,
}

/// Takes up an invitation, once, and signs in.
#[utoipa::path(
    post,
    path = "/api/invitations/{token}",
    params(("token" = String, Path)),
    request_body = ComeInBody,
    responses((status = 204))
)]
pub(super) async fn come_in(
    State(app): State<App>,
    Path(token): Path<String>,
    device: Device,
    Json(body): Json<ComeInBody>,
) -> Result<Response, Problem> {
    let token = hash(&token);
    let now = Timestamp::now();
    let (_, person) = invited(&app, app.store.ticket(&token, Purpose::Invitation, now).await?)?;
    check_password(&body.password)?;
    if person.mail.is_empty() {
        check_address(&body.mail)?;
    }
    // What can be refused is, before the invitation is used up.
    let named = Person { name: body.name, ..person.clone() };
    app.act_on_team(TeamAsker::Westerfall, TeamIntent::Change(named)).await?;
    invited(&app, app.store.use_ticket(&token, Purpose::Invitation, now).await?)?;
    app.act_on_team(TeamAsker::Westerfall, TeamIntent::Arrive(person.id)).await?;
    choose_password(&app, person.id, &body.password, None).await?;
    if person.mail.is_empty() {
        app.mail_addresses(person.id, body.mail.trim()).await?;
    }
    opened(&app, person.id, &device).await
}

/// An address.
#[derive(Deserialize, ToSchema)]
pub(super) struct MailBody {
    mail: String,
}

/// Whoever has this address and may sign in; tries are counted by address and by client.
async fn known(app: &App, mail: &str, client: std::net::IpAddr) -> Result<Option<PersonId>, Problem> {
    app.letters.may_try(mail, client)?;
    check_address(mail)?;
    let account = app.store.account(mail).await?;
    Ok(account.map(|a| a.person).filter(|person| app.team.people().get(*person).is_some_and(|p| p.standing.is_here())))
}

/// Mails a way to another password, if somebody has this address. Says nothing of whether somebody does.
#[utoipa::path(post, path = "/api/forgotten", request_body = MailBody, responses((status = 204)))]
pub(super) async fn forgotten(State(app): State<App>, From(client): From, Json(body): Json<MailBody>) -> Result<StatusCode, Problem> {
    if let Some(person) = known(&app, &body.mail, client).await? {
        apart(app, async move |app| app.mail_password(person).await);
    }
    Ok(StatusCode::NO_CONTENT)
}

/// Mails a code to sign in with, if somebody has this address. Says nothing of whether somebody does.
#[utoipa::path(post, path = "/api/codes", request_body = MailBody, responses((status = 204)))]
pub(super) async fn code(State(app): State<App>, From(client): From, Json(body): Json<MailBody>) -> Result<StatusCode, Problem> {
    if let Some(person) = known(&app, &body.mail, client).await? {
        apart(app, async move |app| app.mail_code(person).await);
    }
    Ok(StatusCode::NO_CONTENT)
}

/// Does it beside the answer, which takes as long whether there is something to do or not.
fn apart<F>(app: App, work: impl FnOnce(App) -> F + Send + 'static)
where
    F: Future<Output = Result<(), Problem>> + Send + 'static,
{
    tokio::spawn(async move {
        if let Err(problem) = work(app).await {
            tracing::warn!(told = problem.told(), "a letter could not be queued");
        }
    });
}

/// A code that was mailed.
#[derive(Deserialize, ToSchema)]
pub(super) struct CodeBody {
    mail: String,
    code: String,
}

/// Signs in with a code.
#[utoipa::path(post, path = "/api/codes/session", request_body = CodeBody, responses((status = 204)))]
pub(super) async fn sign_in_by_code(
    State(app): State<App>,
    From(client): From,
    device: Device,
    Json(body): Json<CodeBody>,
) -> Result<Response, Problem> {
    app.sign_ins.may_try(&body.mail, client)?;
    let wrong = || Problem::from(Refusal::WrongCode);
    let known = app.store.account(&body.mail).await?.map(|account| account.person);
    let tried = app.store.may_try_code(known).await?;
    // What nobody was given is looked for too, so that a wrong code takes as long whoever is meant.
    let given = known.filter(|_| tried).map_or_else(|| hash(NOBODY), |person| code_hash(person, &body.code));
    let ticket = app.store.use_ticket(&given, Purpose::Code, Timestamp::now()).await?;
    let (_, person) = invited(&app, ticket).map_err(|_| wrong())?;
    opened(&app, person.id, &device).await
}

/// Another password.
#[derive(Deserialize, ToSchema)]
pub(super) struct PasswordBody {
    password: String,
}

/// Whose password is chosen anew. Nothing is used by looking.
#[utoipa::path(get, path = "/api/passwords/{token}", params(("token" = String, Path)), responses((status = 200, body = InvitationView)))]
pub(super) async fn password(State(app): State<App>, Path(token): Path<String>) -> Result<Json<InvitationView>, Problem> {
    let ticket = app.store.ticket(&hash(&token), Purpose::Password, Timestamp::now()).await?;
    let (team, person) = invited(&app, ticket)?;
    Ok(Json(InvitationView { team, name: person.name, mail: person.mail }))
}

/// Chooses another password with a one-time address, and signs in; all other sessions end.
#[utoipa::path(
    post,
    path = "/api/passwords/{token}",
    params(("token" = String, Path)),
    request_body = PasswordBody,
    responses((status = 204))
)]
pub(super) async fn renew_password(
    State(app): State<App>,
    Path(token): Path<String>,
    device: Device,
    Json(body): Json<PasswordBody>,
) -> Result<Response, Problem> {
    check_password(&body.password)?;
    let ticket = app.store.use_ticket(&hash(&token), Purpose::Password, Timestamp::now()).await?;
    let (_, person) = invited(&app, ticket)?;
    choose_password(&app, person.id, &body.password, None).await?;
    opened(&app, person.id, &device).await
}

/// What became of confirming an address.
#[derive(Serialize, ToSchema)]
pub(super) struct Confirmed {
    /// The new address.
    mail: String,
    /// Whether it holds now; else the other of both addresses has still to say so.
    holds: bool,
}

/// Says that mail to an address reaches whoever it is to be of.
#[utoipa::path(post, path = "/api/addresses/{token}", params(("token" = String, Path)), responses((status = 200, body = Confirmed)))]
pub(super) async fn confirm_address(State(app): State<App>, Path(token): Path<String>) -> Result<Json<Confirmed>, Problem> {
    let token = hash(&token);
    let now = Timestamp::now();
    let used = match app.store.use_ticket(&token, Purpose::NewAddress, now).await? {
        Some(ticket) => Some(ticket),
        None => app.store.use_ticket(&token, Purpose::OldAddress, now).await?,
    };
    let new = used.as_ref().map(|ticket| ticket.about.clone()).unwrap_or_default();
    let (_, person) = invited(&app, used)?;
    let said = async |purpose| app.store.was_used(person.id, purpose, &new).await;
    let both = said(Purpose::NewAddress).await? && (person.mail.is_empty() || said(Purpose::OldAddress).await?);
    if both {
        let changed = Person { mail: new.clone(), ..person };
        app.act_on_team(TeamAsker::Westerfall, TeamIntent::Change(changed)).await?;
    }
    Ok(Json(Confirmed { mail: new, holds: both }))
}

/// Whether somebody could sign in with it.
fn check_address(mail: &str) -> Result<(), Problem> {
    Ok(check_mail(mail.trim()).map_err(|fault| fault.at("/mail"))?)
}
