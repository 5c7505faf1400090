//! The post room: what it received, as its readers would see it.

use super::packages::download;
use crate::{
    app::App,
    here::Caller,
    problem::{Json, Path, Problem},
};
use axum::{
    extract::State,
    http::header,
    response::{IntoResponse, Response},
};
use jiff::{Timestamp, tz::TimeZone};
use mail_parser::{MessageParser, MimeHeaders};
use serde::Serialize;
use utoipa::ToSchema;
use westerfall_core::{
    Clock,
    access::Asker,
    fault::Fault,
    people::{Channel, Person},
    value::moment_text,
};
use westerfall_store::Received;

/// Messages in one answer.
const MOST: i64 = 200;
/// Nothing in a mail is run, and nothing is fetched; its links open beside.
const POLICY: &str =
    "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'; sandbox allow-popups allow-popups-to-escape-sandbox";

/// A message as the post room received it.
#[derive(Serialize, ToSchema)]
pub(super) struct MessageView {
    id: i64,
    at_text: String,
    /// By which way it came; nothing: it is the call of a web address.
    by: Option<Channel>,
    sender: String,
    recipient: String,
    subject: String,
    body: String,
}

/// At which addresses somebody reads: those that are known.
fn addresses_of(person: &Person) -> Vec<String> {
    [person.mail.to_lowercase(), person.phone.clone()].into_iter().filter(|address| !address.is_empty()).collect()
}

/// Which messages somebody may look at, and by which clock.
async fn visible(app: &App, caller: &Caller) -> Result<(impl Fn(&Received) -> bool + use<>, Clock), Problem> {
    let me = match caller.asker() {
        Asker::StandingIn { r#as, .. } => r#as,
        _ => caller.person()?,
    };
    let team = app.team.now();
    let own: Vec<String> = team.people().get(me).map(addresses_of).unwrap_or_default();
    let owner = team.is_owner(me);
    let demo = app.settings.demo;
    if !demo && !owner {
        return Err(Fault::not_found("page").into());
    }
    let (all, zone) = if demo {
        let look = app.tracker(crate::demo::TRACKER).await?.look(caller.asker());
        (look.as_ref().is_ok_and(|look| look.lens().is_steward()), look.map_or(TimeZone::UTC, |look| look.clock.zone))
    } else {
        (owner, app.team.clock_for(me).zone)
    };
    let shown = move |m: &Received| {
        let recipient = m.recipient.to_lowercase();
        // What lets somebody into their own account is for them alone. Of those outside the demo's team nobody else could read it.
        let theirs = !demo || team.people().iter().any(|person| addresses_of(person).contains(&recipient));
        let alone = m.message_id.contains(".private@") || (m.message_id.contains(".asks@") && !demo);
        (all && !(alone && theirs)) || own.contains(&recipient)
    };
    Ok((shown, Clock::new(Timestamp::now(), zone)))
}

/// The messages that the post room received, latest first. In the demo it stands in for everybody's mailbox: whoever owns the
/// demo's tracker sees all, others those sent to them. Outside the demo, only the team's owner may look into it.
#[utoipa::path(get, path = "/api/post-room", responses((status = 200, body = Vec<MessageView>)))]
pub(super) async fn post_room(State(app): State<App>, caller: Caller) -> Result<Json<Vec<MessageView>>, Problem> {
    let (shown, clock) = visible(&app, &caller).await?;
    let view = |m: Received| MessageView {
        id: m.id,
        at_text: moment_text(m.received_at, &clock),
        by: m.by,
        sender: m.sender,
        recipient: m.recipient,
        subject: m.subject,
        body: m.body,
    };
    Ok(Json(app.store.messages(MOST).await?.into_iter().filter(|m| shown(m)).map(view).collect()))
}

/// A mail as a program that shows mails would: its page, where it has one.
#[utoipa::path(get, path = "/api/post-room/{message}/page", params(("message" = i64, Path)), responses((status = 200, body = String, content_type = "text/html")))]
pub(super) async fn page(State(app): State<App>, caller: Caller, Path(message): Path<i64>) -> Result<Response, Problem> {
    let unknown = || Problem::from(Fault::not_found("message"));
    let raw = opened(&app, &caller, message).await?;
    let mail = MessageParser::default().parse(&raw).ok_or_else(unknown)?;
    // Where it has none, the parser makes one of its text.
    let html = mail.body_html(0).ok_or_else(unknown)?.into_owned();
    Ok(([(header::CONTENT_TYPE, "text/html; charset=utf-8"), (header::CONTENT_SECURITY_POLICY, POLICY)], html).into_response())
}

/// A mail as it came, for somebody who may look at it.
async fn opened(app: &App, caller: &Caller, message: i64) -> Result<Vec<u8>, Problem> {
    let unknown = || Problem::from(Fault::not_found("message"));
    let (shown, _) = visible(app, caller).await?;
    if !app.store.messages(MOST).await?.iter().any(|m| m.id == message && shown(m)) {
        return Err(unknown());
    }
    app.store.raw_message(message).await?.ok_or_else(unknown)
}

/// What is enclosed in a mail, by name.
#[utoipa::path(get, path = "/api/post-room/{message}/enclosed", params(("message" = i64, Path)), responses((status = 200, body = Vec<String>)))]
pub(super) async fn enclosed(State(app): State<App>, caller: Caller, Path(message): Path<i64>) -> Result<Json<Vec<String>>, Problem> {
    let raw = opened(&app, &caller, message).await?;
    let mail = MessageParser::default().parse(&raw).ok_or_else(|| Problem::from(Fault::not_found("message")))?;
    Ok(Json(mail.attachments().map(|part| part.attachment_name().unwrap_or("without a name").to_owned()).collect()))
}

/// One of the things that are enclosed in a mail, by its place from 0.
#[utoipa::path(get, path = "/api/post-room/{message}/enclosed/{place}", params(("message" = i64, Path), ("place" = usize, Path)), responses((status = 200, body = Vec<u8>, content_type = "*/*")))]
pub(super) async fn enclosure(
    State(app): State<App>,
    caller: Caller,
    Path((message, place)): Path<(i64, usize)>,
) -> Result<Response, Problem> {
    let unknown = || Problem::from(Fault::not_found("file"));
    let raw = opened(&app, &caller, message).await?;
    let mail = MessageParser::default().parse(&raw).ok_or_else(unknown)?;
    let part = mail.attachments().nth(place).ok_or_else(unknown)?;
    // It is only ever kept: what a mail says of what it encloses is not believed.
    let name = part.attachment_name().unwrap_or("enclosed").to_owned();
    let (name, ending) = name.rsplit_once('.').unwrap_or((name.as_str(), "bin"));
    let plain: String = ending.chars().filter(char::is_ascii_alphanumeric).take(8).collect();
    Ok(download(part.contents().to_vec(), "application/octet-stream", name, &plain))
}
