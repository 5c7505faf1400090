//! Who is signed in: a random token in a cookie, of which the database knows only the hash.

use crate::{
    app::App,
    limits::Client,
    problem::Problem,
    refusal::Refusal,
    rooms::Rooms,
    secrets::{hash, random_hex},
};
use argon2::{
    Argon2,
    password_hash::{PasswordHasher, PasswordVerifier, phc::PasswordHash},
};
use axum::{
    extract::{ConnectInfo, FromRequestParts},
    http::{HeaderMap, HeaderValue, StatusCode, header, request::Parts},
    response::{IntoResponse, Response},
};
use axum_extra::extract::cookie::{Cookie, CookieJar, SameSite};
use jiff::{SignedDuration, Timestamp};
use std::net::{IpAddr, SocketAddr};
use time::Duration;
use westerfall_core::{
    fault::{Fault, FaultKind},
    id::PersonId,
};

const COOKIE: &str = "westerfall";
const LASTS: SignedDuration = SignedDuration::from_secs(14 * 24 * 3_600);

/// How often it is noted that a session is in use, so that looking costs no writing.
const NOTED: SignedDuration = SignedDuration::from_mins(3);

/// Somebody who is signed in.
#[derive(Clone, Debug)]
pub struct Signed {
    pub person: PersonId,
    pub stands_in: Option<PersonId>,
    pub token_hash: Vec<u8>,
}

impl FromRequestParts<App> for Signed {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Problem> {
        let token = cookie_of(&parts.headers, COOKIE).ok_or(Refusal::NotSignedIn)?;
        let token_hash = hash(&token);
        let session = app.store.session(&token_hash, Timestamp::now()).await?.ok_or(Refusal::NotSignedIn)?;
        // Whoever has left is signed in nowhere, even where that was a moment ago.
        if !app.team.people().get(session.person).is_some_and(|person| person.standing.is_here()) {
            return Err(Refusal::NotSignedIn.into());
        }
        let now = Timestamp::now();
        if session.used.is_none_or(|used| now.duration_since(used) > NOTED) {
            app.store.session_used(&token_hash, now).await?;
        }
        Ok(Self { person: session.person, stands_in: session.stands_in, token_hash })
    }
}

/// The address of whoever asks.
#[derive(Clone, Copy, Debug)]
pub struct From(pub IpAddr);

impl FromRequestParts<App> for From {
    type Rejection = std::convert::Infallible;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Self::Rejection> {
        let peer = parts.extensions.get::<ConnectInfo<SocketAddr>>().map(|info| info.0.ip());
        Ok(Self(Client::behind(&app.settings).address(peer, &parts.headers)))
    }
}

/// What a browser says of itself, in a few words that its owner knows it by.
#[derive(Clone, Debug)]
pub struct Device(pub String);

impl FromRequestParts<App> for Device {
    type Rejection = std::convert::Infallible;

    async fn from_request_parts(parts: &mut Parts, _: &App) -> Result<Self, Self::Rejection> {
        let said = parts.headers.get(header::USER_AGENT).and_then(|v| v.to_str().ok()).unwrap_or_default();
        Ok(Self(device_words(said)))
    }
}

/// *a browser on Linux*, *a phone*: what tells one's devices apart, and no more than that.
fn device_words(agent: &str) -> String {
    let on = |words: &[(&str, &str)]| words.iter().find(|(sign, _)| agent.contains(sign)).map(|(_, name)| (*name).to_owned());
    let kind = if agent.contains("Mobile") {
        "a phone or tablet"
    } else if agent.contains("Mozilla") {
        "a browser"
    } else {
        "a program"
    };
    match on(&[("Android", "Android"), ("iPhone", "iOS"), ("iPad", "iOS"), ("Windows", "Windows"), ("Mac OS", "macOS"), ("Linux", "Linux")])
    {
        Some(system) => format!("{kind} on {system}"),
        None => kind.to_owned(),
    }
}

/// The value of a cookie that was sent.
pub fn cookie_of(headers: &HeaderMap, name: &str) -> Option<String> {
    Some(CookieJar::from_headers(headers).get(name)?.value().to_owned())
}

/// Begins a session and gives the cookie that holds its token.
pub async fn open(app: &App, person: PersonId, device: &Device) -> Result<HeaderValue, Problem> {
    let token = random_hex(32);
    let now = Timestamp::now();
    app.store.open_session(&hash(&token), person, &device.0, now, now + LASTS).await?;
    cookie(app, COOKIE, token, "/", LASTS.as_secs())
}

/// A cookie that takes the session's away.
pub fn closed(app: &App) -> Result<HeaderValue, Problem> {
    cookie(app, COOKIE, String::new(), "/", 0)
}

/// A cookie that no script reads, kept for so many seconds.
pub fn cookie(app: &App, name: &str, value: String, path: &'static str, seconds: i64) -> Result<HeaderValue, Problem> {
    let cookie = Cookie::build((name, value)).path(path).http_only(true).same_site(SameSite::Lax);
    // Behind HTTPS, it never goes over a line that others can read.
    let cookie = cookie.secure(app.settings.is_secure()).max_age(Duration::seconds(seconds));
    HeaderValue::from_str(&cookie.to_string()).map_err(|_| Problem::internal("the cookie has characters that a header can't"))
}

/// The hash of a password, with a salt of its own (argon2id). Slow on purpose.
pub async fn hash_password(rooms: &Rooms, password: &str) -> Result<String, Problem> {
    let password = password.to_owned();
    let hashed = rooms.hash(move || Argon2::default().hash_password(password.as_bytes()).map(|h| h.to_string())).await?;
    hashed.map_err(|_| Problem::internal("a password could not be hashed"))
}

/// Whether a password fits. Takes as long for people who do not exist, so that nobody learns who does.
pub async fn password_fits(rooms: &Rooms, password: &str, hash: Option<String>) -> Result<bool, Problem> {
    // The hash of nothing that anybody could type.
    const NOBODY: &str = "$argon2id$v=19$m=19456,t=2,p=1$bm9ib2R5LW5vYm9keQ$3zv0dKXyX8Zk1o2y0Zb9qf3o8S3yqk2m5g7k9w1x3zU";
    let password = password.to_owned();
    let exists = hash.is_some();
    let fits = rooms.hash(move || {
        let hash = hash.unwrap_or_else(|| NOBODY.to_owned());
        PasswordHash::new(&hash).is_ok_and(|parsed| Argon2::default().verify_password(password.as_bytes(), &parsed).is_ok())
    });
    Ok(fits.await? && exists)
}

/// Longest and shortest password: a longer one, in bytes, would only make work; a shorter one, in characters, is guessed.
pub const LONGEST_PASSWORD: usize = 4_000;
const SHORTEST_PASSWORD: usize = 10;

/// Whether a password may be chosen.
///
/// # Errors
/// It is too long, or too short.
pub fn check_password(password: &str) -> Result<(), Problem> {
    if password.len() > LONGEST_PASSWORD {
        return Err(Refusal::LongPassword.into());
    }
    if password.chars().count() < SHORTEST_PASSWORD {
        let message = format!("A password has at least {SHORTEST_PASSWORD} characters. A few words that belong to nobody else are good.");
        return Err(Fault::new(FaultKind::Missing, message).at("/password").into());
    }
    Ok(())
}

/// Keeps another password; sessions that end hear of it.
///
/// # Errors
/// The database refuses.
pub async fn choose_password(app: &App, person: PersonId, password: &str, but: Option<&[u8]>) -> Result<(), Problem> {
    let hashed = hash_password(&app.rooms, password).await?;
    for ended in app.store.set_password(person, &hashed, but).await? {
        // Nobody listening is no fault.
        let _ = app.ended.send(ended);
    }
    Ok(())
}

/// Signs somebody in.
///
/// # Errors
/// The database refuses.
pub async fn opened(app: &App, person: PersonId, device: &Device) -> Result<Response, Problem> {
    let cookie = open(app, person, device).await?;
    Ok((StatusCode::NO_CONTENT, [(header::SET_COOKIE, cookie)]).into_response())
}
