//! Passkeys over the API: adding one, which ones one has, signing in with one.

use crate::{
    app::App,
    here::Caller,
    passkeys::{handle_of, passkeys_of, person_of},
    problem::{Json, Path, Problem},
    refusal::Refusal,
    secrets::{hash, random_hex},
    session::{Device, From, opened},
};
use axum::{extract::State, http::StatusCode, response::Response};
use data_encoding::HEXLOWER;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize, de::DeserializeOwned};
use serde_json::Value;
use utoipa::ToSchema;
use webauthn_rs::prelude::{DiscoverableAuthentication, Passkey, PasskeyRegistration, PublicKeyCredential, RegisterPublicKeyCredential};
use westerfall_core::{checks::check_name, fault::Fault, value::moment_text};
use westerfall_store::PasskeyRow;

/// How long a device has to answer.
const ASKED: SignedDuration = SignedDuration::from_secs(5 * 60);
/// Most passkeys of a person.
const MOST: usize = 20;

/// One of one's passkeys.
#[derive(Serialize, ToSchema)]
pub(super) struct PasskeyLine {
    id: String,
    name: String,
    /// When it was added, and last used, in words.
    made: String,
    used: String,
}

/// One's passkeys.
#[derive(Serialize, ToSchema)]
pub(super) struct PasskeysView {
    /// Whether there can be any here.
    offered: bool,
    keys: Vec<PasskeyLine>,
}

/// One's passkeys.
#[utoipa::path(get, path = "/api/session/passkeys", responses((status = 200, body = PasskeysView)))]
pub(super) async fn list(State(app): State<App>, caller: Caller) -> Result<Json<PasskeysView>, Problem> {
    let me = caller.signed()?.person;
    let clock = app.team.clock_for(me);
    let line = |key: PasskeyRow| PasskeyLine {
        id: HEXLOWER.encode(&key.credential),
        name: key.name,
        made: moment_text(key.made, &clock),
        used: key.used.map_or_else(|| "never used".to_owned(), |at| format!("last used {}", moment_text(at, &clock))),
    };
    let keys = app.store.passkeys_of(me).await?;
    Ok(Json(PasskeysView { offered: passkeys_of(&app).is_some(), keys: keys.into_iter().map(line).collect() }))
}

/// What a browser is to ask of a device.
#[derive(Serialize, ToSchema)]
pub(super) struct PasskeyAsked {
    /// Goes back with the answer.
    token: String,
    /// As Web Authentication has it, in JSON.
    #[schema(value_type = Object)]
    options: Value,
}

/// What a device answered.
#[derive(Deserialize, ToSchema)]
pub(super) struct PasskeyAnswer {
    token: String,
    /// As Web Authentication has it, in JSON.
    #[schema(value_type = Object)]
    credential: Value,
}

/// A passkey to be added.
#[derive(Deserialize, ToSchema)]
pub(super) struct NewPasskey {
    token: String,
    /// What one calls it.
    name: String,
    /// As Web Authentication has it, in JSON.
    #[schema(value_type = Object)]
    credential: Value,
}

fn as_json(what: impl Serialize) -> Result<Value, Problem> {
    serde_json::to_value(what).map_err(|error| Problem::internal(&error.to_string()))
}

/// What does not read as an answer is one that does not fit.
fn read<T: DeserializeOwned>(json: Value, refused: Refusal) -> Result<T, Problem> {
    serde_json::from_value(json).map_err(|error| self::refused(&error, refused))
}

/// Why a device’s answer does not fit is for whoever runs the server alone.
fn refused(error: &impl std::fmt::Display, refusal: Refusal) -> Problem {
    tracing::info!(%error, "what a device answered was not taken");
    refusal.into()
}

fn offered(app: &App) -> Result<webauthn_rs::Webauthn, Problem> {
    passkeys_of(app).ok_or_else(|| Refusal::NoPasskeys.into())
}

/// Keeps what is asked, and gives what goes with the answer.
async fn asked(
    app: &App,
    person: Option<westerfall_core::id::PersonId>,
    options: Value,
    state: &Value,
) -> Result<Json<PasskeyAsked>, Problem> {
    let (token, now) = (random_hex(32), Timestamp::now());
    app.store.ask_passkey(&hash(&token), person, state, now, now + ASKED).await?;
    Ok(Json(PasskeyAsked { token, options }))
}

/// What is to be asked of a device that shall become a passkey of one's own.
#[utoipa::path(post, path = "/api/session/passkeys/begin", responses((status = 200, body = PasskeyAsked)))]
pub(super) async fn begin(State(app): State<App>, caller: Caller) -> Result<Json<PasskeyAsked>, Problem> {
    caller.actor()?;
    let me = caller.person()?;
    let checks = offered(&app)?;
    let known = app.team.people().get(me).cloned().ok_or(Refusal::NotSignedIn)?;
    let keys = app.store.passkeys_of(me).await?;
    if keys.len() >= MOST {
        return Err(Refusal::TooManyPasskeys.into());
    }
    let keys = keys.into_iter().map(|key| key.credential).collect();
    let account = if known.mail.is_empty() { &known.name } else { &known.mail };
    let (options, state) = checks
        .start_passkey_registration(handle_of(me), account, &known.name, Some(keys))
        .map_err(|error| Problem::internal(&error.to_string()))?;
    let mut options = as_json(options)?;
    // One signs in with it without saying who one is first: the device has to know.
    if let Some(selection) = options.pointer_mut("/publicKey/authenticatorSelection") {
        selection["residentKey"] = "required".into();
        selection["requireResidentKey"] = true.into();
    }
    asked(&app, Some(me), options, &as_json(state)?).await
}

/// Adds a passkey to one's own.
#[utoipa::path(post, path = "/api/session/passkeys", request_body = NewPasskey, responses((status = 204)))]
pub(super) async fn add(State(app): State<App>, caller: Caller, Json(body): Json<NewPasskey>) -> Result<StatusCode, Problem> {
    caller.actor()?;
    let me = caller.person()?;
    let checks = offered(&app)?;
    let name = body.name.trim().to_owned();
    check_name(&name)?;
    let now = Timestamp::now();
    let state = app.store.passkey_asked(&hash(&body.token), Some(me), now).await?.ok_or(Refusal::PasskeyNotTaken)?;
    let state: PasskeyRegistration = read(state, Refusal::PasskeyNotTaken)?;
    let credential: RegisterPublicKeyCredential = read(body.credential, Refusal::PasskeyNotTaken)?;
    let key = checks.finish_passkey_registration(&credential, &state).map_err(|error| refused(&error, Refusal::PasskeyNotTaken))?;
    let kept = PasskeyRow { credential: key.cred_id().to_vec(), person: me, name, body: as_json(&key)?, made: now, used: None };
    if app.store.keep_passkey(&kept).await? { Ok(StatusCode::NO_CONTENT) } else { Err(Refusal::PasskeyNotTaken.into()) }
}

/// Takes away a passkey of one's own.
#[utoipa::path(delete, path = "/api/session/passkeys/{key}", params(("key" = String, Path)), responses((status = 204)))]
pub(super) async fn remove(State(app): State<App>, caller: Caller, Path(key): Path<String>) -> Result<StatusCode, Problem> {
    caller.actor()?;
    let unknown = || Problem::from(Fault::not_found("passkey"));
    let credential = HEXLOWER.decode(key.as_bytes()).map_err(|_| unknown())?;
    if app.store.drop_passkey(caller.person()?, &credential).await? { Ok(StatusCode::NO_CONTENT) } else { Err(unknown()) }
}

/// What is to be asked of a device that somebody signs in with. It says nothing of who that is.
#[utoipa::path(post, path = "/api/passkeys/begin", responses((status = 200, body = PasskeyAsked)))]
pub(super) async fn begin_in(State(app): State<App>) -> Result<Json<PasskeyAsked>, Problem> {
    let (options, state) = offered(&app)?.start_discoverable_authentication().map_err(|error| Problem::internal(&error.to_string()))?;
    asked(&app, None, as_json(options)?, &as_json(state)?).await
}

/// Signs in with a passkey.
#[utoipa::path(post, path = "/api/passkeys/session", request_body = PasskeyAnswer, responses((status = 204)))]
pub(super) async fn come_in(
    State(app): State<App>,
    From(client): From,
    device: Device,
    Json(body): Json<PasskeyAnswer>,
) -> Result<Response, Problem> {
    let wrong = || Problem::from(Refusal::WrongPasskey);
    app.sign_ins.may_try("a passkey", client)?;
    let checks = offered(&app)?;
    let now = Timestamp::now();
    let state = app.store.passkey_asked(&hash(&body.token), None, now).await?.ok_or_else(wrong)?;
    let state: DiscoverableAuthentication = read(state, Refusal::WrongPasskey)?;
    let answer: PublicKeyCredential = read(body.credential, Refusal::WrongPasskey)?;
    let (handle, credential) = checks.identify_discoverable_authentication(&answer).map_err(|_| wrong())?;
    let kept = app.store.passkey(credential).await?.ok_or_else(wrong)?;
    // Whoever has left has none; and nobody comes in by another's.
    let here = app.team.people().get(kept.person).is_some_and(|person| person.standing.is_here());
    if !here || person_of(handle) != Some(kept.person) {
        return Err(wrong());
    }
    let mut key: Passkey = read(kept.body, Refusal::WrongPasskey)?;
    let done =
        checks.finish_discoverable_authentication_v2(&answer, state, &key).map_err(|error| refused(&error, Refusal::WrongPasskey))?;
    key.update_credential(&done);
    app.store.passkey_used(&kept.credential, &as_json(&key)?, now).await?;
    opened(&app, kept.person, &device).await
}
