//! Automations, what they did, and the post room.

use super::parts::automation::{self, AutomationView};
use super::places::{OfAutomation, OfRecord, OfTracker};
use crate::here::{Caller, Here};
use crate::{
    app::App,
    live::Look,
    problem::{Json, Path, Problem},
};
use axum::extract::State;
use jiff::{Timestamp, tz::TimeZone};
use serde::Serialize;
use utoipa::ToSchema;
use westerfall_core::{
    Clock,
    access::Asker,
    automation::LogLine,
    fault::Fault,
    id::{AutomationId, FormId, RecordId, TableId},
    value::moment_text,
};
use westerfall_store::RunRow;

/// Runs and messages in one answer.
const MOST: i64 = 200;

/// The tracker's automations. For those who may change them.
#[utoipa::path(get, path = "/api/trackers/{tracker}/automations", params(OfTracker), responses((status = 200, body = Vec<AutomationView>)))]
pub(super) async fn list(here: Here) -> Result<Json<Vec<AutomationView>>, Problem> {
    let look = here.look_as_builder("page")?;
    Ok(Json(look.dataset.automations().map(|automation| automation::seen(&look, automation)).collect()))
}

/// One run of an automation.
#[derive(Serialize, ToSchema)]
pub(super) struct RunView {
    at_text: String,
    automation: String,
    table: Option<TableId>,
    record: Option<RecordId>,
    /// What stands for the record; nothing if it is not open to the asker.
    record_name: Option<String>,
    log: Vec<LogLine>,
    mails: Vec<MailState>,
}

/// How far a mail has come.
#[derive(Serialize, ToSchema)]
pub(super) struct MailState {
    to: String,
    /// waiting, handing over, sent, unsure or failed.
    state: String,
    note: String,
}

fn run_view(look: &Look, run: RunRow) -> RunView {
    let lens = look.lens();
    let number = |n: i32| u32::try_from(n).unwrap_or(0);
    let (table, record) = (TableId::new(number(run.table)), RecordId::new(number(run.record)));
    let name = table.zip(record).and_then(|(t, r)| lens.record_name(t, r)).map(|n| n.name);
    let automation = AutomationId::new(number(run.automation)).and_then(|id| look.dataset.automation(id));
    RunView {
        at_text: moment_text(run.at, &look.clock),
        automation: automation
            .map(|a| a.name.clone())
            .or_else(|| FormId::new(number(run.automation)).and_then(|id| look.dataset.form(id)).map(|f| format!("Copy of “{}”", f.title)))
            .unwrap_or_else(|| "an automation that is gone".to_owned()),
        table,
        record,
        record_name: name,
        log: run.log,
        mails: run.mails.into_iter().map(|(to, state, note)| MailState { to, state, note }).collect(),
    }
}

/// What an automation did, latest first, step by step.
#[utoipa::path(get, path = "/api/trackers/{tracker}/automations/{automation}/runs", params(OfAutomation), responses((status = 200, body = Vec<RunView>)))]
pub(super) async fn runs(here: Here, Path(OfAutomation { automation: id, .. }): Path<OfAutomation>) -> Result<Json<Vec<RunView>>, Problem> {
    let look = here.look_as_builder("page")?;
    let runs = here.app.store.runs(here.tracker, Some(id), None, MOST).await?;
    Ok(Json(runs.into_iter().map(|run| run_view(&look, run)).collect()))
}

/// What automations did over a record. For those who may change automations.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/runs", params(OfRecord), responses((status = 200, body = Vec<RunView>)))]
pub(super) async fn messages(here: Here, Path(OfRecord { table, record, .. }): Path<OfRecord>) -> Result<Json<Vec<RunView>>, Problem> {
    let look = here.look_as_builder("page")?;
    let runs = here.app.store.runs(here.tracker, None, Some((table, record)), MOST).await?;
    Ok(Json(runs.into_iter().map(|run| run_view(&look, run)).collect()))
}

/// A mail as the post room received it.
#[derive(Serialize, ToSchema)]
pub(super) struct MessageView {
    id: i64,
    at_text: String,
    sender: String,
    recipient: String,
    subject: String,
    body: String,
}

/// The mails that the post room received, latest first. In the demo it stands in for everybody's mailbox: whoever owns the
/// demo's tracker sees all, others those sent to them. Outside the demo, only the team's owner may look into it.
#[utoipa::path(get, path = "/api/post-room", responses((status = 200, body = Vec<MessageView>)))]
pub(super) async fn post_room(State(app): State<App>, caller: Caller) -> Result<Json<Vec<MessageView>>, Problem> {
    let me = match caller.asker() {
        Asker::StandingIn { r#as, .. } => r#as,
        _ => caller.person()?,
    };
    let team = app.team.now();
    let mail = team.people().get(me).map(|p| p.mail.to_lowercase()).unwrap_or_default();
    let owner = team.is_owner(me);
    if !app.settings.demo && !owner {
        return Err(Fault::not_found("page").into());
    }
    let (all, zone) = if app.settings.demo {
        let look = app.tracker(crate::demo::TRACKER).await?.look(caller.asker());
        (look.as_ref().is_ok_and(|look| look.lens().is_steward()), look.map_or(TimeZone::UTC, |look| look.clock.zone))
    } else {
        (owner, app.team.clock_for(me).zone)
    };
    // What lets somebody into their own account is for them alone. Of those outside the demo's team nobody else could read it.
    let known = |recipient: &str| team.people().iter().any(|person| person.mail.to_lowercase() == recipient.to_lowercase());
    let theirs = |m: &westerfall_store::Message| !app.settings.demo || known(&m.recipient);
    let private = |m: &westerfall_store::Message| m.message_id.contains(".private@") && theirs(m);
    let clock = Clock::new(Timestamp::now(), zone);
    let messages = app.store.messages(MOST).await?.into_iter().filter(|m| (all && !private(m)) || m.recipient.to_lowercase() == mail);
    let view = |m: westerfall_store::Message| MessageView {
        id: m.id,
        at_text: moment_text(m.received_at, &clock),
        sender: m.sender,
        recipient: m.recipient,
        subject: m.subject,
        body: m.body,
    };
    Ok(Json(messages.map(view).collect()))
}
