//! Automations, what they did, and the post room.

use crate::{
    app::App,
    live::{Done, Look},
    problem::{Json, Path, Problem},
    session::Signed,
};
use axum::extract::State;
use jiff::{Timestamp, tz::TimeZone};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    Clock,
    access::Asker,
    automation::{Automation, LogLine, Occasion, Recipient, Step},
    condition::Condition,
    fault::{Fault, Faults},
    history::Part,
    id::{AutomationId, FormId, RecordId, TableId, TrackerId},
    intent::Intent,
    sentence::Phrase,
    template::Template,
    value::moment_text,
};
use westerfall_store::RunRow;

/// Runs and messages in one answer.
const MOST: i64 = 200;

/// An automation as it reads.
#[derive(Serialize, ToSchema)]
pub(super) struct AutomationView {
    automation: Automation,
    /// One clause a line.
    clauses: Vec<Vec<Phrase>>,
    /// The steps with their templates as one types them.
    steps: Vec<MailText>,
}

/// A mail step as one types it.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
pub(super) struct MailText {
    to: Recipient,
    /// With fields in braces: `{Severity}: {Section.Name}`.
    subject: String,
    body: String,
}

/// The tracker's automations. For those who may change them.
#[utoipa::path(get, path = "/api/trackers/{tracker}/automations", params(("tracker" = u32, Path)), responses((status = 200, body = Vec<AutomationView>), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn list(
    State(app): State<App>,
    signed: Signed,
    Path(tracker): Path<TrackerId>,
) -> Result<Json<Vec<AutomationView>>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    let lens = look.lens();
    let view = |a: &Automation| {
        let text = |t: &Template| t.to_text(&look.dataset, a.table);
        let step = |Step::Mail { to, subject, body }: &Step| MailText { to: to.clone(), subject: text(subject), body: text(body) };
        AutomationView { automation: a.clone(), clauses: a.to_sentences(&lens), steps: a.steps.iter().map(step).collect() }
    };
    Ok(Json(look.dataset.automations().map(view).collect()))
}

async fn builder_look(app: &App, signed: &Signed, tracker: TrackerId) -> Result<Look, Problem> {
    let look = app.tracker(tracker).await?.look(signed.asker())?;
    if look.lens().builds() { Ok(look) } else { Err(Fault::not_found("page").into()) }
}

/// An automation to keep.
#[derive(Deserialize, ToSchema)]
pub(super) struct AutomationBody {
    name: String,
    on: bool,
    when: Occasion,
    condition: Condition,
    steps: Vec<MailText>,
}

impl AutomationBody {
    fn automation(self, id: AutomationId, table: TableId, look: &Look) -> Result<Automation, Faults> {
        let mut faults = Vec::new();
        let mut steps = Vec::new();
        for (place, step) in self.steps.into_iter().enumerate() {
            let mut parse = |text: &str, at: &str| {
                Template::parse(text, &look.dataset, table).unwrap_or_else(|fault| {
                    faults.push(fault.at(format!("/steps/{place}/{at}")));
                    Template::default()
                })
            };
            steps.push(Step::Mail { subject: parse(&step.subject, "subject"), body: parse(&step.body, "body"), to: step.to });
        }
        Faults::none_or(faults)?;
        Ok(Automation { id, table, name: self.name.trim().to_owned(), on: self.on, when: self.when, condition: self.condition, steps })
    }
}

/// Keeps an automation in another state.
#[utoipa::path(put, path = "/api/trackers/{tracker}/automations/{automation}", params(("tracker" = u32, Path), ("automation" = u32, Path)), request_body = AutomationBody, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn save(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, AutomationId)>,
    Json(body): Json<AutomationBody>,
) -> Result<Json<Done>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    let table = look.dataset.automation(id).ok_or_else(|| Fault::not_found("automation"))?.table;
    let automation = body.automation(id, table, &look)?;
    Ok(Json(app.tracker(tracker).await?.act(signed.actor()?, Intent::Save(Part::Automation(automation))).await?))
}

/// A new automation of a table.
#[derive(Deserialize, ToSchema)]
pub(super) struct NewAutomation {
    table: TableId,
    #[serde(flatten)]
    body: AutomationBody,
}

/// Keeps a new automation.
#[utoipa::path(post, path = "/api/trackers/{tracker}/automations", params(("tracker" = u32, Path)), request_body = NewAutomation, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn make(
    State(app): State<App>,
    signed: Signed,
    Path(tracker): Path<TrackerId>,
    Json(new): Json<NewAutomation>,
) -> Result<Json<Done>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    // Core gives the number.
    let id = AutomationId::new(1).ok_or_else(|| Problem::internal("one is not zero"))?;
    let automation = new.body.automation(id, new.table, &look)?;
    Ok(Json(app.tracker(tracker).await?.act(signed.actor()?, Intent::Make(Part::Automation(automation))).await?))
}

/// Takes an automation away. What it did stays in the trails.
#[utoipa::path(delete, path = "/api/trackers/{tracker}/automations/{automation}", params(("tracker" = u32, Path), ("automation" = u32, Path)), responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn remove(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, AutomationId)>,
) -> Result<Json<Done>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    let automation = look.dataset.automation(id).cloned().ok_or_else(|| Fault::not_found("automation"))?;
    Ok(Json(app.tracker(tracker).await?.act(signed.actor()?, Intent::Drop(Part::Automation(automation))).await?))
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
#[utoipa::path(get, path = "/api/trackers/{tracker}/automations/{automation}/runs", params(("tracker" = u32, Path), ("automation" = u32, Path)), responses((status = 200, body = Vec<RunView>), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn runs(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, AutomationId)>,
) -> Result<Json<Vec<RunView>>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    let runs = app.store.runs(tracker, Some(id), None, MOST).await?;
    Ok(Json(runs.into_iter().map(|run| run_view(&look, run)).collect()))
}

/// What automations did over a record. For those who may change automations.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/runs", params(("tracker" = u32, Path), ("table" = u32, Path), ("record" = u32, Path)), responses((status = 200, body = Vec<RunView>), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn messages(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, table, record)): Path<(TrackerId, TableId, RecordId)>,
) -> Result<Json<Vec<RunView>>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    let runs = app.store.runs(tracker, None, Some((table, record)), MOST).await?;
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
#[utoipa::path(get, path = "/api/post-room", responses((status = 200, body = Vec<MessageView>), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn post_room(State(app): State<App>, signed: Signed) -> Result<Json<Vec<MessageView>>, Problem> {
    let me = match signed.asker() {
        Asker::StandingIn { r#as, .. } => r#as,
        _ => signed.person,
    };
    let mail = app.store.people().await?.get(me).map(|p| p.mail.to_lowercase()).unwrap_or_default();
    let owner = !app.settings.owner.is_empty() && app.settings.owner.to_lowercase() == mail;
    if !app.settings.demo && !owner {
        return Err(Fault::not_found("page").into());
    }
    let (all, zone) = if app.settings.demo {
        let look = app.tracker(crate::demo::TRACKER).await?.look(signed.asker());
        (look.as_ref().is_ok_and(|look| look.lens().is_steward()), look.map_or(TimeZone::UTC, |look| look.clock.zone))
    } else {
        (owner, TimeZone::UTC)
    };
    let clock = Clock { now: Timestamp::now(), zone };
    let messages = app.store.messages(MOST).await?.into_iter().filter(|m| all || m.recipient.to_lowercase() == mail);
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
