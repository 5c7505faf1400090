//! Automations and what they did.

use super::parts::automation::{self, AutomationBody, AutomationView};
use super::parts::text::{self, TextView};
use super::places::{OfAutomation, OfRecord, OfTable, OfTracker};
use crate::here::Here;
use crate::{
    live::{Done, Look},
    problem::{Json, Path, Problem, Query},
};
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    access::Asker,
    automation::{Automation, AutomationRehearsal, LogLine, LogOutcome, Message, Occasion, Told},
    fault::Fault,
    id::{AutomationId, FormId, RecordId, TableId},
    intent::Intent,
    people::Channel,
    sentence::capital,
    value::{fold, list_text, moment_text},
};
use westerfall_store::{RunMail, RunRow};

/// Runs and messages in one answer.
const MOST: i64 = 200;
const MOST_TOLD: usize = 200;
/// Most runs that are looked through for what somebody wants.
const MOST_SEARCHED: i64 = 5_000;
/// Changes that a rehearsal goes back over.
const MOST_REHEARSED: i64 = 100_000;

/// The tracker's automations. For those who may change them.
#[utoipa::path(get, path = "/api/trackers/{tracker}/automations", params(OfTracker), responses((status = 200, body = Vec<AutomationView>)))]
pub(super) async fn list(here: Here) -> Result<Json<Vec<AutomationView>>, Problem> {
    let look = here.look_as_builder("page")?;
    let calls = &here.app.settings.calls;
    Ok(Json(look.dataset.automations().map(|automation| automation::seen(&look, automation).on(calls)).collect()))
}

/// The texts by which messages are written. For those who may change automations.
#[utoipa::path(get, path = "/api/trackers/{tracker}/texts", params(OfTracker), responses((status = 200, body = Vec<TextView>)))]
pub(super) async fn texts(here: Here) -> Result<Json<Vec<TextView>>, Problem> {
    let look = here.look_as_builder("page")?;
    let open = look.dataset.stored_texts().filter(|one| look.lens().opens(one.table));
    Ok(Json(open.map(|one| text::seen(&look, one)).collect()))
}

/// One run of an automation.
#[derive(Serialize, ToSchema)]
pub(super) struct RunView {
    at_text: String,
    automation: String,
    table: Option<TableId>,
    /// None: it was of many records together.
    record: Option<RecordId>,
    /// What stands for the record; nothing if it is not open to the asker.
    record_name: Option<String>,
    log: Vec<LogLine>,
    mails: Vec<MailState>,
    /// Until when at the latest it waits, where it does.
    waits_text: Option<String>,
    /// Days since it ran, from today.
    days_ago: i64,
    state: RunState,
}

/// How far a run has come.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub(super) enum RunState {
    Ended,
    Waits,
    /// Something of it could not be done.
    Failed,
    /// A condition did not hold, and nothing was done.
    LeftOut,
}

impl RunState {
    fn of(run: &RunRow) -> Self {
        let has = |outcome: LogOutcome| run.log.iter().any(|line| line.outcome == outcome);
        let lost = run.mails.iter().any(|mail| mail.state == "failed" || mail.state == "unsure");
        match () {
            () if run.waits.is_some() => RunState::Waits,
            () if lost || has(LogOutcome::Failed) => RunState::Failed,
            () if run.mails.is_empty() && run.log.last().is_some_and(|line| line.outcome == LogOutcome::No) => RunState::LeftOut,
            () => RunState::Ended,
        }
    }
}

/// What an automation did.
#[derive(Serialize, ToSchema)]
pub(super) struct RunsView {
    /// How many of the last days ended, wait, failed, were left out.
    says: String,
    /// Latest first; at most 200.
    runs: Vec<RunView>,
}

/// Days of which it is told in one sentence, and drawn.
const DAYS: i64 = 30;

fn runs_say(runs: &[RunView], look: &Look) -> String {
    let lately: Vec<&RunView> = runs.iter().filter(|run| run.days_ago < DAYS).collect();
    let count = |state: RunState| lately.iter().filter(|run| run.state == state).count();
    let left_out = count(RunState::LeftOut);
    let ran = lately.len() - left_out;
    if lately.is_empty() {
        return String::new();
    }
    let text = |count: usize| look.clock.customs().count_text(count);
    let parts = [(RunState::Ended, "ended"), (RunState::Waits, "waiting"), (RunState::Failed, "failed")];
    let parts: Vec<String> =
        parts.into_iter().filter(|(state, _)| count(*state) > 0).map(|(state, word)| format!("{} {word}", text(count(state)))).collect();
    let told = if parts.is_empty() { String::new() } else { format!(": {}", list_text(&parts, "and")) };
    let left = if left_out > 0 { format!("; {} left out", text(left_out)) } else { String::new() };
    format!("{} ran in {DAYS} days{told}{left}.", text(ran))
}

/// How far a mail has come.
#[derive(Serialize, ToSchema)]
pub(super) struct MailState {
    by: Channel,
    /// The same in words: *Mail*.
    by_text: String,
    to: String,
    /// waiting, handing over, sent, unsure or failed.
    state: String,
    note: String,
    /// Its number, where it was lost and can be sent again.
    again: Option<i64>,
    /// In which words it was answered.
    answered: Option<String>,
}

impl MailState {
    fn of(RunMail { number, by, to, state, note, answered }: RunMail) -> Self {
        let lost = state == "failed" || state == "unsure";
        Self { by, by_text: capital(by.noun()), to, state, note, again: lost.then_some(number), answered }
    }
}

fn run_view(look: &Look, run: RunRow) -> RunView {
    let lens = look.lens();
    let number = |n: i32| u32::try_from(n).unwrap_or(0);
    let state = RunState::of(&run);
    let (table, record) = (TableId::new(number(run.table)), run.record.and_then(|record| RecordId::new(number(record))));
    let day = |at: Timestamp| at.to_zoned(look.clock.zone.clone()).date();
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
        mails: run.mails.into_iter().map(MailState::of).collect(),
        waits_text: run.waits.map(|at| moment_text(at, &look.clock)),
        days_ago: i64::from((look.clock.today() - day(run.at)).get_days()),
        state,
    }
}

/// Which runs are wanted.
#[derive(Default, Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(super) struct RunsAsked {
    /// What stands somewhere in them: a record, somebody, a word of what was done.
    #[serde(default)]
    find: String,
    /// How far they have come.
    state: Option<RunState>,
}

impl RunsAsked {
    fn is_of_all(&self) -> bool {
        self.find.trim().is_empty() && self.state.is_none()
    }

    fn takes(&self, run: &RunView) -> bool {
        let wanted = fold(self.find.trim());
        let holds = |text: &str| fold(text).contains(&*wanted);
        let named = run.record_name.as_deref().is_some_and(holds) || run.mails.iter().any(|mail| holds(&mail.to));
        self.state.is_none_or(|state| state == run.state) && (wanted.is_empty() || named || run.log.iter().any(|line| holds(&line.text)))
    }
}

/// What an automation did, latest first, step by step.
#[utoipa::path(get, path = "/api/trackers/{tracker}/automations/{automation}/runs", params(OfAutomation, RunsAsked), responses((status = 200, body = RunsView)))]
pub(super) async fn runs(
    here: Here,
    Path(OfAutomation { automation: id, .. }): Path<OfAutomation>,
    Query(asked): Query<RunsAsked>,
) -> Result<Json<RunsView>, Problem> {
    let look = here.look_as_builder("page")?;
    let most = if asked.is_of_all() { MOST } else { MOST_SEARCHED };
    let runs = here.app.store.runs(here.tracker, Some(id), None, most).await?;
    let mut runs: Vec<RunView> = runs.into_iter().map(|run| run_view(&look, run)).collect();
    let says = runs_say(&runs[..runs.len().min(MOST_TOLD)], &look);
    runs.retain(|run| asked.takes(run));
    runs.truncate(MOST_TOLD);
    Ok(Json(RunsView { says, runs }))
}

/// An automation to be tried.
#[derive(Deserialize, ToSchema)]
pub(super) struct TrialBody {
    /// Which it is, where it exists already.
    #[serde(default)]
    number: Option<AutomationId>,
    automation: AutomationBody,
    /// On this record as it stands; none: over what really happened.
    #[serde(default)]
    record: Option<RecordId>,
    /// In how many days before now; at most 90.
    #[serde(default)]
    days: u32,
    /// A name by which one asks how far it has come, and stops it.
    #[serde(default)]
    awaited: Option<String>,
}

impl TrialBody {
    /// As it would stand, acting for whoever tries it.
    fn read(self, look: &Look) -> Result<Automation, Problem> {
        let id = self.number.unwrap_or(AutomationId::LAST);
        let me = if let Asker::Person(me) | Asker::StandingIn { r#as: me, .. } = look.asker { Some(me) } else { None };
        let automation = self.automation.read(id, look)?;
        Ok(Automation { acts_for: me, ..automation })
    }
}

/// What an automation would do, without effect: on one record, or over what really happened in the last days.
#[utoipa::path(post, path = "/api/trackers/{tracker}/automations/rehearsal", params(OfTracker), request_body = TrialBody, responses((status = 200, body = AutomationRehearsal)))]
pub(super) async fn rehearse(here: Here, Json(body): Json<TrialBody>) -> Result<Json<AutomationRehearsal>, Problem> {
    let look = here.look_as_builder("page")?;
    let (record, days) = (body.record, body.days.clamp(1, 90));
    // Whoever stops waiting drops this, and it goes back no further.
    let awaited = here.app.waits.begin(here.caller.person()?, body.awaited.clone());
    let progress = awaited.progress();
    let automation = body.read(&look)?;
    let since = look.clock.now - SignedDuration::from_secs(86_400 * i64::from(days));
    let changes = if record.is_none() { here.app.store.changes_after(here.tracker, since, MOST_REHEARSED).await? } else { Vec::new() };
    let rehearsed = move || {
        let lens = look.lens();
        match record {
            Some(record) => automation.try_on(&lens, record),
            None => {
                // Where there was more than is gone back over, it is told of as long ago as that.
                let whole = i64::try_from(changes.len()).unwrap_or(i64::MAX) < MOST_REHEARSED;
                let since = changes.last().filter(|_| !whole).map_or(since, |first| first.at);
                automation.rehearse(&lens, since, &changes, &*progress)
            }
        }
    };
    let told = here.app.rooms.read(rehearsed).await?;
    drop(awaited);
    Ok(Json(told?))
}

/// Sends the mails that an automation would send for a record, to whoever asks and to nobody else.
#[utoipa::path(post, path = "/api/trackers/{tracker}/automations/trial", params(OfTracker), request_body = TrialBody, responses((status = 200, body = AutomationRehearsal)))]
pub(super) async fn trial(here: Here, Json(body): Json<TrialBody>) -> Result<Json<AutomationRehearsal>, Problem> {
    let look = here.look_as_builder("page")?;
    let me = here.caller.person()?;
    here.caller.actor()?;
    let record = body.record.ok_or_else(|| Fault::not_found("record"))?;
    let automation = body.read(&look)?;
    let rehearsed = automation.try_on(&look.lens(), record)?;
    let person = look.dataset.people.get(me).filter(|person| !person.mail.is_empty()).ok_or_else(|| Fault::not_found("person"))?;
    let now = Timestamp::now();
    for (place, mail) in rehearsed.happened.iter().flat_map(|one| &one.mails).enumerate() {
        let letter = Message {
            key: format!("trial {me} {} {place}", now.as_millisecond()),
            to: person.mail.clone(),
            to_name: person.name.clone(),
            subject: format!("Trial: {}", mail.subject),
            body: format!("As it would go to {}:\n\n{}", mail.to, mail.body),
            ..Message::default()
        };
        here.app.store.queue_team_mail(&letter, now).await?;
    }
    here.app.queued.notify_waiters();
    Ok(Json(rehearsed))
}

/// An automation that is run by hand.
#[derive(Serialize, ToSchema)]
pub(super) struct ByHand {
    id: AutomationId,
    name: String,
    /// What it does, in a few words.
    does: String,
}

/// The automations that one may run on records of a table.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/automations", params(OfTable), responses((status = 200, body = Vec<ByHand>)))]
pub(super) async fn by_hand(here: Here, Path(OfTable { table, .. }): Path<OfTable>) -> Result<Json<Vec<ByHand>>, Problem> {
    let look = here.look()?;
    let lens = look.lens();
    if !lens.opens(table) {
        return Err(Fault::not_found("table").into());
    }
    let chosen = look.dataset.automations().filter(|a| a.on && a.table == table && a.when == Occasion::Chosen);
    // What it does is told by the names of fields and roles: to those who build.
    let does = |a: &Automation| if lens.builds() { a.does(&lens) } else { String::new() };
    Ok(Json(chosen.map(|a| ByHand { id: a.id, name: a.name.clone(), does: does(a) }).collect()))
}

/// Records on which an automation is run.
#[derive(Deserialize, ToSchema)]
pub(super) struct RunBody {
    records: Vec<RecordId>,
    /// Those alone for which it has sent nothing yet.
    #[serde(default)]
    only_new: bool,
    /// A name by which one asks how far it has come, and stops it.
    #[serde(default)]
    awaited: Option<String>,
}

impl RunBody {
    /// The records that are meant, and how many of those sent were reached before.
    async fn read(&self, here: &Here, automation: AutomationId) -> Result<(Vec<RecordId>, usize), Problem> {
        let reached = here.app.store.reached(here.tracker, automation, &self.records).await?;
        let meant = self.records.iter().copied().filter(|record| !self.only_new || !reached.contains(record));
        Ok((meant.collect(), reached.len()))
    }
}

/// What a run by hand would do.
#[derive(Serialize, ToSchema)]
pub(super) struct RunRehearsal {
    /// Whom messages go to, and what changes.
    says: Vec<String>,
    /// For how many of the records it has sent something before.
    reached: usize,
}

/// What an automation would do with records that one chose.
#[utoipa::path(post, path = "/api/trackers/{tracker}/automations/{automation}/run/rehearsal", params(OfAutomation), request_body = RunBody, responses((status = 200, body = RunRehearsal)))]
pub(super) async fn rehearse_run(
    here: Here,
    Path(OfAutomation { automation, .. }): Path<OfAutomation>,
    Json(body): Json<RunBody>,
) -> Result<Json<RunRehearsal>, Problem> {
    let look = here.look()?;
    let asker = here.caller.actor()?;
    // Asked before it is told what was sent: whoever may not run it on them learns nothing of them.
    look.dataset.decide(&Intent::Run { automation, records: body.records.clone() }, asker, &look.clock)?;
    let (records, reached) = body.read(&here, automation).await?;
    if records.is_empty() {
        return Ok(Json(RunRehearsal { says: vec!["All of them were reached already.".into()], reached }));
    }
    // Whoever stops waiting drops this, and no more is worked out.
    let awaited = here.app.waits.begin(here.caller.person()?, body.awaited);
    let progress = awaited.progress();
    let says = move || look.dataset.follows(&Intent::Run { automation, records }, Told::Asked, asker, &look.clock, &*progress);
    let mut says = here.app.rooms.read(says).await??;
    drop(awaited);
    if says.is_empty() {
        says.push("Nothing follows: no condition of it holds for any of them.".into());
    }
    Ok(Json(RunRehearsal { says, reached }))
}

/// Runs an automation on records that one chose, as one step.
#[utoipa::path(post, path = "/api/trackers/{tracker}/automations/{automation}/run", params(OfAutomation), request_body = RunBody, responses((status = 200, body = Done)))]
pub(super) async fn run(
    here: Here,
    Path(OfAutomation { automation, .. }): Path<OfAutomation>,
    Json(body): Json<RunBody>,
) -> Result<Json<Done>, Problem> {
    let look = here.look()?;
    look.dataset.decide(&Intent::Run { automation, records: body.records.clone() }, here.caller.actor()?, &look.clock)?;
    let (records, _) = body.read(&here, automation).await?;
    if records.is_empty() {
        return Ok(Json(Done::default()));
    }
    here.act_awaited(Intent::Run { automation, records }, body.awaited).await
}

/// What automations did over a record. For those who may change automations.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/runs", params(OfRecord), responses((status = 200, body = Vec<RunView>)))]
pub(super) async fn messages(here: Here, Path(OfRecord { table, record, .. }): Path<OfRecord>) -> Result<Json<Vec<RunView>>, Problem> {
    let look = here.look_as_builder("page")?;
    let runs = here.app.store.runs(here.tracker, None, Some((table, record)), MOST).await?;
    Ok(Json(runs.into_iter().map(|run| run_view(&look, run)).collect()))
}

/// A mail of a tracker's runs.
#[derive(Clone, Copy, Debug, Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Path)]
pub(super) struct OfMail {
    #[allow(dead_code, reason = "it stands in the address; `Here` reads it")]
    tracker: u32,
    mail: i64,
}

/// Sends a mail again that was given up, or of which nobody knows whether it arrived. For those who may change automations.
#[utoipa::path(post, path = "/api/trackers/{tracker}/mails/{mail}/again", params(OfMail), responses((status = 204)))]
pub(super) async fn send_again(here: Here, Path(OfMail { mail, .. }): Path<OfMail>) -> Result<axum::http::StatusCode, Problem> {
    here.look_as_builder("mail")?;
    here.caller.actor()?;
    if !here.app.store.send_again(here.tracker, mail, Timestamp::now()).await? {
        return Err(Fault::not_found("mail").into());
    }
    here.app.queued.notify_waiters();
    Ok(axum::http::StatusCode::NO_CONTENT)
}
