//! Rounds: what is on somebody, across all trackers that whoever looks may open; and the tasks that people give each other.

use super::places::OfTable;
use crate::{
    app::App,
    here::{Caller, Here},
    live::Done,
    mornings::duties,
    problem::{Json, Path, Problem, Query},
};
use axum::{extract::State, http::StatusCode};
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use westerfall_core::{
    access::Asker,
    fault::{Fault, FaultKind},
    id::{PersonId, TrackerId},
    inbox::{News, Notice},
    intent::{Intent, TableChange},
    rounds::{Diary, NewTask, Task, TaskStep, diary},
    schema::Rounds,
    sentence::Phrase,
};

/// For how long what others did of what one asked is still told.
const TOLD: SignedDuration = SignedDuration::from_secs(7 * 24 * 3_600);

/// Whose rounds, and of which tracker alone.
#[derive(Clone, Copy, Debug, Default, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
#[serde(default)]
pub(super) struct Which {
    /// None: one's own.
    person: Option<PersonId>,
    tracker: Option<TrackerId>,
}

/// Somebody's rounds.
#[derive(Serialize, ToSchema)]
pub(super) struct RoundsView {
    person: PersonId,
    own: bool,
    diary: Diary,
    /// What one asked of others.
    asked: Vec<AskedTask>,
    /// Of whom something can be asked, and whose rounds can be looked at.
    people: Vec<Colleague>,
}

/// Somebody of the team.
#[derive(Serialize, ToSchema)]
pub(super) struct Colleague {
    id: PersonId,
    name: String,
}

/// What one asked of somebody.
#[derive(Serialize, ToSchema)]
pub(super) struct AskedTask {
    task: i64,
    who: String,
    what: String,
    /// *2 days late*, *by 27 Nov*, *done 23 Nov*.
    stands: String,
    late: bool,
    done: bool,
}

/// Whoever looks, as they are or as whom they stand in for.
pub(super) fn looks(caller: &Caller) -> Result<PersonId, Problem> {
    match caller.asker() {
        Asker::StandingIn { r#as, .. } => Ok(r#as),
        _ => caller.person(),
    }
}

/// What is on somebody, day by day: what is theirs in every tracker that one may open, as far as one sees it, and what was asked of them.
#[utoipa::path(get, path = "/api/rounds", params(Which), responses((status = 200, body = RoundsView)))]
pub(super) async fn rounds(State(app): State<App>, caller: Caller, Query(which): Query<Which>) -> Result<Json<RoundsView>, Problem> {
    let me = looks(&caller)?;
    let of = which.person.unwrap_or(me);
    let people = app.team.people();
    let name = people.get(of).filter(|person| !person.has_left()).ok_or_else(|| Fault::not_found("person"))?.name.clone();
    let clock = app.team.clock_for(me);
    let (mut duties, trackers) = duties(&app, caller.asker(), me, of, &clock).await?;
    let asked = app.store.tasks_by(me, clock.now.saturating_sub(TOLD).unwrap_or(Timestamp::MIN)).await?;
    if let Some(tracker) = which.tracker {
        duties.retain(|duty| duty.tracker == Some(tracker));
    }
    let line = |task: Task| AskedTask {
        task: task.number,
        who: people.name(task.asks.who).to_owned(),
        stands: task.stands(&clock),
        late: task.done.is_none() && task.asks.due.is_some_and(|due| due < clock.today()),
        done: task.done.is_some(),
        what: task.asks.what,
    };
    let known = people.iter().filter(|person| !person.has_left()).map(|person| Colleague { id: person.id, name: person.name.clone() });
    Ok(Json(RoundsView {
        person: of,
        own: of == me,
        diary: diary(duties, trackers, &name, of == me, &clock),
        asked: asked.into_iter().map(line).collect(),
        people: known.collect(),
    }))
}

/// A task that was given.
#[derive(Serialize, ToSchema)]
pub(super) struct TaskGiven {
    task: i64,
}

/// Asks something of somebody, or of oneself: what, by when, how urgent, and about which record.
#[utoipa::path(post, path = "/api/tasks", request_body = NewTask, responses((status = 200, body = TaskGiven)))]
pub(super) async fn give(State(app): State<App>, caller: Caller, Json(body): Json<NewTask>) -> Result<Json<TaskGiven>, Problem> {
    let by = caller.person()?;
    caller.actor()?;
    let asks = body.checked(&app.team.people())?;
    may_know(&app, &caller, &asks).await?;
    let task = app.store.give_task(by, &asks, Timestamp::now()).await?;
    tell(&app, by, asks.who, &asks, News::Asked { task, what: asks.what.clone() }).await?;
    Ok(Json(TaskGiven { task }))
}

/// Tells somebody of a task, unless they did it themselves.
async fn tell(app: &App, by: PersonId, to: PersonId, asks: &NewTask, of: News) -> Result<(), Problem> {
    if by == to {
        return Ok(());
    }
    let (tracker, about) = asks.about.map_or((None, None), |(tracker, table, record)| (Some(tracker), Some((table, record))));
    let notice = Notice { to, by: Some(by), about, of };
    app.store.tell(tracker, &notice, Timestamp::now()).await?;
    app.mail_news(tracker, &notice).await
}

/// A task about a record is given to those who see it, by those who do.
async fn may_know(app: &App, caller: &Caller, asks: &NewTask) -> Result<(), Problem> {
    let Some((tracker, table, record)) = asks.about else { return Ok(()) };
    let live = app.tracker(tracker).await?;
    let look = live.look(caller.asker())?;
    if !look.lens().sees(table, record) {
        return Err(Fault::not_found("record").at("/about").into());
    }
    let theirs = live.look(Asker::Person(asks.who)).is_ok_and(|look| look.lens().sees(table, record));
    if !theirs {
        let one = look.dataset.table(table).map_or("record", |home| home.def.one.as_str());
        let message = format!("{} may not see this {one}, so nothing about it is asked of them.", look.dataset.people.name(asks.who));
        return Err(Fault::new(FaultKind::BadRule, message).at("/who").into());
    }
    Ok(())
}

/// Goes on with a task: done, not done after all, to another day, to somebody else, or asked no more.
#[utoipa::path(post, path = "/api/tasks/{task}", params(("task" = i64, Path)), request_body = TaskStep, responses((status = 204)))]
pub(super) async fn step(
    State(app): State<App>,
    caller: Caller,
    Path(number): Path<i64>,
    Json(step): Json<TaskStep>,
) -> Result<StatusCode, Problem> {
    let by = caller.person()?;
    caller.actor()?;
    let task = app.store.task(number).await?.ok_or_else(|| Fault::not_found("task"))?;
    let next = task.after(&step, by, &app.team.people(), &app.team.clock_for(by))?;
    if let (TaskStep::Give(_), Some(next)) = (&step, &next) {
        may_know(&app, &caller, &next.asks).await?;
    }
    app.store.keep_task(number, next.as_ref()).await?;
    let what = task.asks.what.clone();
    match &step {
        TaskStep::Done if task.done.is_none() => tell(&app, by, task.by, &task.asks, News::Done { task: number, what }).await?,
        TaskStep::Give(to) => tell(&app, by, *to, &task.asks, News::Asked { task: number, what }).await?,
        _ => {}
    }
    Ok(StatusCode::NO_CONTENT)
}

/// What a table says of its records for rounds.
#[derive(Serialize, ToSchema)]
pub(super) struct RoundsRule {
    rounds: Option<Rounds>,
    /// As a sentence; nothing where it says nothing.
    says: Vec<Phrase>,
}

/// Whose a table's records are, by when, and what means done. For those who may change it.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/rounds", params(OfTable), responses((status = 200, body = RoundsRule)))]
pub(super) async fn rule(here: Here, Path(OfTable { table, .. }): Path<OfTable>) -> Result<Json<RoundsRule>, Problem> {
    let look = here.look_as_builder("page")?;
    let home = look.dataset.table(table).ok_or_else(|| Fault::not_found("table"))?;
    let rounds = home.def.rounds.clone();
    let says = rounds.as_ref().map_or_else(Vec::new, |rounds| rounds.in_words(&look.lens(), table));
    Ok(Json(RoundsRule { rounds, says }))
}

/// Another rule, or none.
#[derive(Deserialize, ToSchema)]
pub(super) struct RoundsBody {
    rounds: Option<Rounds>,
}

/// Puts a table's records into rounds, otherwise than before, or no more.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/rounds", params(OfTable), request_body = RoundsBody, responses((status = 200, body = Done)))]
pub(super) async fn say_rule(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<RoundsBody>,
) -> Result<Json<Done>, Problem> {
    here.act(Intent::Table(TableChange::Rounds { table, rounds: body.rounds })).await
}
