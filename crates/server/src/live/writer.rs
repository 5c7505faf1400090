//! The writer: decides proposals one after the other and keeps them together. Each is caught on its own; the task is
//! supervised and goes on from the snapshot, whatever happens to it.

use super::{Committed, Done, Proposal, State, Wish, clock_for};
use crate::{app::App, problem::Problem, refusal::Refusal};
use futures::FutureExt;
use jiff::Timestamp;
use std::{
    collections::HashMap,
    panic::{AssertUnwindSafe, catch_unwind},
    sync::Arc,
    time::{Duration, Instant},
};
use tokio::sync::{mpsc, oneshot};
use westerfall_core::{
    access::{Asker, Lens},
    automation::{Move, Run, paced_course},
    dataset::{Dataset, Recomputed},
    fault::{Fault, FaultKind},
    history::Op,
    id::{CommentId, PersonId, TrackerId},
    inbox::{News, Notice},
    intent::{Decision, Intent},
    pace::Pace,
    people::Actor,
};
use westerfall_store::{StoreError, TalkAt, Write};

/// Most changes kept in one transaction.
const GROUP: usize = 128;
/// How long a group tries again when other processes are first.
const CONTENTION: Duration = Duration::from_secs(8);
/// How long a commit may take before it counts as lost.
const COMMIT: Duration = Duration::from_secs(12);

type Reply = oneshot::Sender<Result<Done, Problem>>;

/// Works until nobody holds the tracker any more.
pub(super) fn start(app: App, state: Arc<State>, mut inbox: mpsc::Receiver<Proposal>) {
    tokio::spawn(async move {
        let writer = Writer { app, state };
        let mut waiting = Vec::new();
        while inbox.recv_many(&mut waiting, GROUP).await > 0 {
            let group = std::mem::take(&mut waiting);
            // What a panic drops unanswered is told so by its reply being gone.
            if AssertUnwindSafe(writer.settle(group)).catch_unwind().await.is_err() {
                tracing::error!(tracker = %writer.state.id, "the writer fell over; it goes on from the snapshot");
                writer.follow().await;
            }
        }
    });
}

struct Writer {
    app: App,
    state: Arc<State>,
}

/// A wish that was decided, with all that it sets going, waiting for its commit.
struct Pending {
    moves: Vec<Move>,
    /// Whom each of them tells what.
    notices: Vec<Vec<Notice>>,
    /// What is told when it is sent again.
    answer: serde_json::Value,
    done: Done,
    wish: Wish,
    reply: Reply,
    /// The same, sent again meanwhile: told once it is kept.
    also: Vec<(Wish, Reply)>,
}

impl Pending {
    /// As it is kept; the first change is the one that was asked for.
    fn writes(&self) -> impl Iterator<Item = Write> {
        self.moves.iter().enumerate().map(|(place, of)| {
            let (key, answer) = if place == 0 { (self.wish.key.clone(), self.answer.clone()) } else { (None, serde_json::Value::Null) };
            Write {
                change: of.change.clone(),
                runs: of.runs.clone(),
                notices: self.notices.get(place).cloned().unwrap_or_default(),
                key,
                answer,
            }
        })
    }
}

/// A wish that would be kept.
struct Deciding {
    decision: Decision,
    moves: Vec<Move>,
    /// Whom each of them tells what.
    notices: Vec<Vec<Notice>>,
    /// In words, as its sender is told.
    did: String,
}

/// What one wish comes to.
enum Decided {
    Refused(Problem),
    /// Nothing has to change.
    Nothing,
    Change(Box<Deciding>),
}

impl Writer {
    async fn settle(&self, proposals: Vec<Proposal>) {
        let mut wishes = Vec::new();
        let (mut known, mut tick) = (0, false);
        for proposal in proposals {
            match proposal {
                Proposal::Wish(wish, reply) => wishes.push((*wish, reply)),
                Proposal::Follow(seq) => known = known.max(seq),
                Proposal::Tick => tick = true,
                // Met below, whoever asks.
                Proposal::Meet => {}
            }
        }
        // Our own commits are told too, often before we have moved on: then there is nothing to read.
        if known > self.state.now().seq {
            self.follow().await;
        }
        self.meet().await;
        if tick {
            self.tick().await;
        }
        // Whoever writes on a new day finds it turned; what is told of the past is not of today.
        let today = wishes.iter().all(|(wish, _)| wish.at.is_none() && !matches!(wish.intent, Intent::Turn));
        if today && !wishes.is_empty() && self.state.now().turns_to(Timestamp::now()) {
            let (reply, _) = oneshot::channel();
            wishes.insert(0, (Wish::now(Intent::Turn, Asker::Westerfall), reply));
        }
        self.keep(wishes).await;
    }

    /// Decides all wishes and commits them together. If another process was first, reads what it did and decides anew.
    async fn keep(&self, mut wishes: Vec<(Wish, Reply)>) {
        let begun = Instant::now();
        while !wishes.is_empty() {
            let start = self.state.now();
            let pending = self.decide_all(&start, wishes).await;
            let Some(after) = pending.last().and_then(|last| last.moves.last()).map(|last| last.after.clone()) else { return };
            if pending.iter().any(|one| one.wish.is_stopped()) {
                wishes = without_stopped(pending);
                continue;
            }
            let writes: Vec<Write> = pending.iter().flat_map(Pending::writes).collect();
            let commit = self.app.store.commit(self.state.id, start.seq, &writes, &after);
            let kept = tokio::time::timeout(COMMIT, commit).await.unwrap_or_else(|_| Err(StoreError::Connection("no answer".into())));
            match kept {
                Ok(()) => {
                    self.told_of(&writes);
                    for Pending { moves, done, reply, also, .. } in pending {
                        for Move { before, change, recomputed, after, .. } in moves {
                            self.state.move_on(Committed { change: Some(change), recomputed, before, after });
                        }
                        // Whoever asked may be gone.
                        for (_, other) in also {
                            let _ = other.send(Ok(Done { again: true, ..done.clone() }));
                        }
                        let _ = reply.send(Ok(done));
                    }
                    return;
                }
                Err(StoreError::MovedOn | StoreError::SentBefore) if begun.elapsed() < CONTENTION => {
                    self.follow().await;
                    wishes = again(pending);
                }
                Err(StoreError::MovedOn | StoreError::SentBefore) => {
                    return refuse_all(again(pending), &Problem::busy);
                }
                // Nothing of the group was kept; which of them can't be is found out one by one.
                Err(StoreError::LinkTaken | StoreError::Database(_)) if pending.len() > 1 && self.app.store.is_ready().await => {
                    for one in again(pending) {
                        Box::pin(self.keep(vec![one])).await;
                    }
                    return;
                }
                Err(StoreError::LinkTaken) => {
                    let taken =
                        || Fault::new(FaultKind::InUse, "Another form or page has this address. Choose another one.").at("/link").into();
                    return refuse_all(again(pending), &taken);
                }
                Err(error) if self.app.store.is_ready().await && !error.is_of_connection() => {
                    tracing::error!(%error, tracker = %self.state.id, "could not commit");
                    return refuse_all(again(pending), &|| Problem::internal("the change could not be kept"));
                }
                Err(error) => {
                    tracing::error!(%error, tracker = %self.state.id, "lost the database while committing");
                    refuse_all(again(pending), &|| Problem::unknown("the connection was lost while committing"));
                    // What was kept after all is seen as soon as the database answers.
                    return self.follow().await;
                }
            }
        }
    }

    fn told_of(&self, writes: &[Write]) {
        if writes.iter().any(|w| w.change.ops.iter().any(Op::is_bulk)) {
            tokio::spawn(bind(self.app.clone(), self.state.clone()));
        }
        let told: Vec<Notice> = writes.iter().flat_map(|write| &write.notices).cloned().collect();
        if !told.is_empty() {
            tokio::spawn(mail_news(self.app.clone(), self.state.id, told));
        }
        let said: Vec<Said> = writes.iter().flat_map(|write| said_by_automations(self.state.id, write)).collect();
        if !said.is_empty() {
            tokio::spawn(tell_followers(self.app.clone(), self.state.clone(), said));
        }
        let calls = |run: &Run| run.paused.as_ref().is_some_and(|paused| paused.call.is_some());
        if writes.iter().any(|w| w.runs.iter().any(|r| !r.mails.is_empty() || calls(r))) {
            self.app.queued.notify_waiters();
        }
    }

    async fn decide_all(&self, start: &Arc<Dataset>, wishes: Vec<(Wish, Reply)>) -> Vec<Pending> {
        let keys: Vec<&str> = wishes.iter().filter_map(|(wish, _)| wish.key.as_deref()).collect();
        let known = if keys.is_empty() { Ok(HashMap::new()) } else { self.app.store.answers(self.state.id, &keys).await };
        let known = match known {
            Ok(known) => known,
            Err(error) => {
                refuse_all(wishes, &|| Problem::from_store(&error));
                return Vec::new();
            }
        };
        let mut working = start.clone();
        let mut pending: Vec<Pending> = Vec::new();
        for (wish, reply) in wishes {
            let same = wish.key.as_ref().and_then(|key| pending.iter_mut().find(|p| p.wish.key.as_ref() == Some(key)));
            if let Some(same) = same {
                same.also.push((wish, reply));
                continue;
            }
            let before: Option<Done> = wish.key.as_deref().and_then(|key| serde_json::from_value(known.get(key)?.clone()).ok());
            if let Some(done) = before {
                let _ = reply.send(Ok(Done { again: true, ..done }));
                continue;
            }
            if wish.is_stopped() {
                drop(reply.send(Err(Refusal::Stopped.into())));
                continue;
            }
            let (wish, decided) = decide(working.clone(), wish).await;
            match decided {
                Decided::Refused(problem) => drop(reply.send(Err(problem))),
                Decided::Nothing => drop(reply.send(Ok(Done::default()))),
                Decided::Change(change) => {
                    let Deciding { decision: Decision { change, added, made }, moves, notices, did } = *change;
                    let done = Done { seq: Some(change.seq), added, made, did, again: false };
                    let answer = serde_json::to_value(&done).unwrap_or_default();
                    working = moves.last().map_or(working, |last| last.after.clone());
                    pending.push(Pending { moves, notices, answer, done, wish, reply, also: Vec::new() });
                }
            }
        }
        pending
    }

    /// Applies what other processes committed since.
    async fn follow(&self) {
        let mut now = self.state.now();
        let changes = tokio::time::timeout(COMMIT, self.app.store.changes_since(self.state.id, now.seq)).await;
        let changes = match changes {
            Ok(Ok(changes)) => changes,
            Ok(Err(error)) => return tracing::error!(%error, "could not read the log"),
            Err(_) => return tracing::error!("the log did not answer"),
        };
        for change in changes {
            let (before, moved) = (now.clone(), change.clone());
            let applied = tokio::task::spawn_blocking(move || {
                let mut after = (*before).clone();
                let recomputed = after.apply(&moved);
                (before, Arc::new(after), recomputed)
            });
            let Ok((before, after, recomputed)) = applied.await else { return tracing::error!("a change of the log could not be applied") };
            now = after.clone();
            self.state.move_on(Committed { change: Some(change), recomputed, before, after });
        }
    }

    /// Computes what depends on the minute. Nothing durable hangs on it.
    async fn tick(&self) {
        self.compute(|after| after.turn_to(Timestamp::now())).await;
    }

    /// Meets the team as it is now, if that is another than before.
    async fn meet(&self) {
        let people = self.state.team.people();
        if !Arc::ptr_eq(&self.state.now().people, &people) {
            self.compute(move |after| after.meet(people)).await;
        }
    }

    /// Moves on without a change of the tracker's own: what moves follows from elsewhere, in each server by itself.
    async fn compute(&self, moves: impl FnOnce(&mut Dataset) -> Recomputed + Send + 'static) {
        let before = self.state.now();
        let computed = tokio::task::spawn_blocking(move || {
            let mut after = (*before).clone();
            let recomputed = moves(&mut after);
            (before, Arc::new(after), recomputed)
        });
        if let Ok((before, after, recomputed)) = computed.await {
            self.state.move_on(Committed { change: None, recomputed, before, after });
        }
    }
}

/// Decides, applies and fires: what a panic in it hurts is this wish alone. A large one is worked out beside the threads that serve.
async fn decide(working: Arc<Dataset>, wish: Wish) -> (Wish, Decided) {
    // What automations change may be much, however little was asked.
    let light = wish.intent.is_light() && !working.automations().any(|automation| automation.on && automation.writes());
    if light {
        let decided = decided(&working, &wish);
        return (wish, decided);
    }
    let apart = tokio::task::spawn_blocking({
        let wish = wish.clone();
        move || decided(&working, &wish)
    });
    let decided = apart.await.unwrap_or_else(|_| Decided::Refused(Problem::internal("a decision was cut off")));
    (wish, decided)
}

fn decided(working: &Arc<Dataset>, wish: &Wish) -> Decided {
    let worked_out = catch_unwind(AssertUnwindSafe(|| {
        let clock = clock_for(working, wish.asker, wish.at.unwrap_or_else(Timestamp::now));
        let decision = match working.decide(&wish.intent, wish.asker, &clock) {
            Err(faults) => return Decided::Refused(faults.into()),
            Ok(decision) if decision.change.ops.is_empty() => return Decided::Nothing,
            Ok(decision) => decision,
        };
        let goes_on = match &wish.intent {
            Intent::GoOn(waiting) => Some((&**waiting, waiting.is_met(working, &clock))),
            _ => None,
        };
        let nobody: &dyn Pace = &();
        let progress = wish.awaited.as_ref().map(|awaited| awaited.progress());
        let pace = progress.as_deref().map_or(nobody, |progress| progress);
        let course = paced_course(working.clone(), decision.change.clone(), goes_on, &clock.untold(), pace);
        let Ok(moves) = course else { return Decided::Refused(Refusal::Stopped.into()) };
        let after = moves.first().map_or(working, |first| &first.after);
        let did = decision.change.in_words(&Lens::new(after, wish.asker, &clock));
        // What is told of the past is news to nobody.
        let told = |of: &Move| of.notices(&Lens::new(&of.after, Asker::Westerfall, &clock));
        let notices = if wish.at.is_none() { moves.iter().map(told).collect() } else { Vec::new() };
        Decided::Change(Box::new(Deciding { decision, moves, notices, did }))
    }));
    worked_out.unwrap_or_else(|_| Decided::Refused(Problem::internal("a decision panicked")))
}

/// The same wishes, to be decided anew.
fn again(pending: Vec<Pending>) -> Vec<(Wish, Reply)> {
    pending.into_iter().flat_map(|Pending { wish, reply, also, .. }| std::iter::once((wish, reply)).chain(also)).collect()
}

/// Those that nobody stopped, to be decided anew: what stood upon the others falls with them. Whoever stopped theirs is told.
fn without_stopped(pending: Vec<Pending>) -> Vec<(Wish, Reply)> {
    let (stopped, rest): (Vec<_>, Vec<_>) = again(pending).into_iter().partition(|(wish, _)| wish.is_stopped());
    refuse_all(stopped, &|| Refusal::Stopped.into());
    rest
}

fn refuse_all(wishes: Vec<(Wish, Reply)>, problem: &dyn Fn() -> Problem) {
    for (_, reply) in wishes {
        let _ = reply.send(Err(problem()));
    }
}

/// Mails what was told to those who want it by mail, too. It stands in their inbox whatever becomes of that.
async fn mail_news(app: App, tracker: TrackerId, told: Vec<Notice>) {
    for notice in told {
        if let Err(problem) = app.mail_news(Some(tracker), &notice).await {
            tracing::warn!(told = problem.told(), %tracker, "somebody could not be mailed what stands in their inbox");
        }
    }
}

/// Something that an automation said about a record, and whom the change itself told of it.
struct Said {
    at: TalkAt,
    comment: CommentId,
    when: Timestamp,
    told: Vec<PersonId>,
}

/// What a change said about records, where no person said it: that is told where they say it.
fn said_by_automations(tracker: TrackerId, write: &Write) -> Vec<Said> {
    let Actor::Automation(_) = write.change.who else { return Vec::new() };
    let said = |op: &Op| match op {
        Op::Say { table, record, before: None, after: Some(comment) } => {
            let told = write.notices.iter().filter(|notice| notice.of == News::Said(comment.id)).map(|notice| notice.to);
            let at = TalkAt { tracker, table: *table, record: *record };
            Some(Said { at, comment: comment.id, when: write.change.at, told: told.collect() })
        }
        _ => None,
    };
    write.change.ops.iter().filter_map(said).collect()
}

/// Tells those who follow a record, and still see it, what was said about it.
async fn tell_followers(app: App, state: Arc<State>, said: Vec<Said>) {
    let dataset = state.now();
    for Said { at, comment, when, told } in said {
        let telling = async {
            for to in app.store.followers(at).await? {
                let clock = clock_for(&dataset, Asker::Person(to), when);
                if told.contains(&to) || !Lens::new(&dataset, Asker::Person(to), &clock).hears(at.table, at.record) {
                    continue;
                }
                let notice = Notice { to, by: None, about: Some((at.table, at.record)), of: News::Said(comment) };
                app.store.tell(Some(at.tracker), &notice, when).await?;
            }
            Ok::<_, StoreError>(())
        };
        if let Err(error) = telling.await {
            tracing::warn!(%error, tracker = %at.tracker, "those who follow a record could not be told what was said about it");
        }
    }
}

/// Binds what bulk changes left in the log into the records, once it is much more than there are records: until then loading
/// a tracker is no slower for it.
async fn bind(app: App, state: Arc<State>) {
    const TIMES_THE_RECORDS: u64 = 4;
    let bound = async {
        let now = state.now();
        let records: usize = now.size();
        if app.store.unbound(state.id).await? > TIMES_THE_RECORDS * records as u64 {
            app.store.bind(state.id, &now).await?;
        }
        Ok::<_, StoreError>(())
    };
    if let Err(error) = bound.await {
        // Nothing is lost: it is read from the log, and bound after the next bulk change.
        tracing::warn!(%error, "could not bind");
    }
}
