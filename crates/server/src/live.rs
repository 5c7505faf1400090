//! Live trackers: an immutable snapshot that anyone may read, and one writer that moves it.

use crate::{app::App, problem::Problem};
use arc_swap::ArcSwap;
use jiff::{Timestamp, tz::TimeZone};
use serde::{Deserialize, Serialize};
use std::sync::{Arc, Weak};
use tokio::sync::{broadcast, mpsc, oneshot};
use westerfall_core::{
    Clock,
    access::{Asker, Lens},
    automation,
    dataset::{Dataset, Recomputed, Table},
    fault::{Fault, FaultKind, Faults},
    history::{Change, Op},
    id::{RecordId, TrackerId},
    intent::{Decision, Intent},
};
use westerfall_store::{StoreError, Write};

/// Most changes kept in one transaction.
const GROUP: usize = 128;
/// Committed changes that a slow listener may lag behind before it is told to read everything anew.
const BACKLOG: usize = 1_024;

/// One tracker in memory.
pub struct Live {
    pub id: TrackerId,
    snapshot: ArcSwap<Dataset>,
    proposals: mpsc::Sender<Proposal>,
    committed: broadcast::Sender<Arc<Committed>>,
}

/// A change that was committed, with the states around it, so that each listener can be told what they may hear.
pub struct Committed {
    /// None: only time has passed.
    pub change: Option<Change>,
    /// The computed cells that moved with it.
    pub recomputed: Recomputed,
    pub before: Arc<Dataset>,
    pub after: Arc<Dataset>,
}

/// What the sender of an intent is told.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct Done {
    /// The change's number in the tracker's log; what undoing asks for. Nothing where nothing had to change.
    pub seq: Option<u64>,
    /// The records that were added.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub added: Vec<RecordId>,
    /// The number of the part that was made.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub made: Option<u32>,
    /// It was done before: this is the answer that the same key got then.
    #[serde(skip)]
    pub again: bool,
}

struct Proposal {
    /// None: only follow what others committed.
    wish: Option<Wish>,
    reply: oneshot::Sender<Result<Done, Problem>>,
}

/// Something to be decided and done.
#[derive(Clone)]
pub struct Wish {
    pub intent: Intent,
    pub asker: Asker,
    /// The sender's key: sent twice, it is done once.
    pub key: Option<String>,
    /// When it happens, where that is not now: the demo tells what happened before.
    pub at: Option<Timestamp>,
}

/// A wish that waits for the writer.
pub struct Queued(oneshot::Receiver<Result<Done, Problem>>);

impl Queued {
    /// What came of it.
    pub async fn answer(self) -> Result<Done, Problem> {
        self.0.await.map_err(|_| Problem::internal("the writer gave no answer"))?
    }
}

/// A dataset, a moment and who looks: all that a lens needs.
pub struct Look {
    pub dataset: Arc<Dataset>,
    pub clock: Clock,
    pub asker: Asker,
}

impl Look {
    /// The dataset as the asker may see it.
    pub fn lens(&self) -> Lens<'_> {
        Lens::new(&self.dataset, self.asker, &self.clock)
    }
}

/// This moment in a tracker's zone, as exact as the database keeps moments.
pub fn clock_of(dataset: &Dataset, now: Timestamp) -> Clock {
    let now = Timestamp::from_microsecond(now.as_microsecond()).unwrap_or(now);
    Clock { now, zone: TimeZone::get(&dataset.tracker.zone).unwrap_or(TimeZone::UTC) }
}

impl Live {
    /// Puts a dataset to work.
    pub fn start(app: App, id: TrackerId, dataset: Dataset) -> Arc<Self> {
        let (proposals, inbox) = mpsc::channel(1_024);
        let (committed, _) = broadcast::channel(BACKLOG);
        let live = Arc::new(Self { id, snapshot: ArcSwap::from_pointee(dataset), proposals, committed });
        tokio::spawn(Writer { app, live: live.clone() }.run(inbox));
        tokio::spawn(keep_time(Arc::downgrade(&live)));
        live
    }

    /// The state now: what depends on the time is computed anew if its moment has passed.
    pub fn now(&self) -> Arc<Dataset> {
        let snapshot = self.snapshot.load_full();
        let now = Timestamp::now();
        if now < snapshot.holds_until() {
            return snapshot;
        }
        let mut after = (*snapshot).clone();
        let recomputed = after.turn_to(now);
        let after = Arc::new(after);
        let found = self.snapshot.compare_and_swap(&snapshot, after.clone());
        if Arc::ptr_eq(&found, &snapshot) {
            // Nobody listening is no fault.
            let _ = self.committed.send(Arc::new(Committed { change: None, recomputed, before: snapshot, after: after.clone() }));
        }
        after
    }

    /// The state now, as somebody may see it.
    ///
    /// # Errors
    /// The tracker does not exist for people who hold no role in it.
    pub fn look(&self, asker: Asker) -> Result<Look, Fault> {
        let dataset = self.now();
        if let Asker::Person(person) = asker
            && dataset.roles_of(person).next().is_none()
        {
            return Err(Fault::not_found("tracker"));
        }
        let clock = clock_of(&dataset, Timestamp::now());
        Ok(Look { dataset, clock, asker })
    }

    /// Every change from now on.
    pub fn subscribe(&self) -> broadcast::Receiver<Arc<Committed>> {
        self.committed.subscribe()
    }

    /// Decides and does, durably. What was begun is ended even if nobody waits for the answer any more.
    pub async fn wish(&self, wish: Wish) -> Result<Done, Problem> {
        self.queue(wish).await?.answer().await
    }

    /// Puts a wish behind those queued before it; its answer can be waited for later.
    pub async fn queue(&self, wish: Wish) -> Result<Queued, Problem> {
        let (reply, answer) = oneshot::channel();
        self.proposals.send(Proposal { wish: Some(wish), reply }).await.map_err(|_| Problem::internal("the writer has stopped"))?;
        Ok(Queued(answer))
    }

    /// Decides and does for somebody, now.
    pub async fn act(&self, asker: Asker, intent: Intent) -> Result<Done, Problem> {
        self.wish(Wish { intent, asker, key: None, at: None }).await
    }

    /// Follows what other processes committed.
    pub fn catch_up(&self) {
        let (reply, _) = oneshot::channel();
        // If the inbox is full, the writer is about to notice by itself.
        let _ = self.proposals.try_send(Proposal { wish: None, reply });
    }
}

/// Turns the tracker when a day begins, so that open screens hear of it without asking.
async fn keep_time(live: Weak<Live>) {
    const AT_LEAST_EVERY: std::time::Duration = std::time::Duration::from_secs(30);
    loop {
        let Some(until) = live.upgrade().map(|live| live.now().holds_until()) else { return };
        let left = until.duration_since(Timestamp::now()).unsigned_abs();
        tokio::time::sleep(left.clamp(std::time::Duration::from_millis(10), AT_LEAST_EVERY)).await;
    }
}

struct Writer {
    app: App,
    live: Arc<Live>,
}

/// A wish that was decided, waiting for its commit.
struct Pending {
    write: Write,
    recomputed: Recomputed,
    before: Arc<Dataset>,
    after: Arc<Dataset>,
    done: Done,
    proposal: Proposal,
}

impl Writer {
    async fn run(self, mut inbox: mpsc::Receiver<Proposal>) {
        let mut waiting = Vec::new();
        while inbox.recv_many(&mut waiting, GROUP).await > 0 {
            self.settle(std::mem::take(&mut waiting)).await;
        }
    }

    /// Decides all proposals one after the other and commits them together. If another process was first, reads what it
    /// did and decides anew.
    async fn settle(&self, mut proposals: Vec<Proposal>) {
        if proposals.iter().any(|p| p.wish.is_none()) {
            proposals.retain(|p| p.wish.is_some());
            self.follow().await;
        }
        for _attempt in 0..8 {
            let start = self.live.now();
            let pending = self.decide_all(&start, proposals).await;
            let Some(last) = pending.last() else { return };
            let after = last.after.clone();
            let (writes, rest): (Vec<Write>, Vec<_>) =
                pending.into_iter().map(|p| (p.write, (p.recomputed, p.before, p.after, p.done, p.proposal))).unzip();
            match self.app.store.commit(self.live.id, start.seq, &writes, &after).await {
                Ok(()) => {
                    self.live.snapshot.store(after);
                    if writes.iter().any(|w| w.change.ops.iter().any(Op::is_bulk)) {
                        tokio::spawn(bind(self.app.clone(), self.live.clone()));
                    }
                    if writes.iter().any(|w| w.runs.iter().any(|r| !r.mails.is_empty())) {
                        self.app.queued.notify_waiters();
                    }
                    for (write, (recomputed, before, after, done, proposal)) in writes.into_iter().zip(rest) {
                        // Nobody listening is no fault, here and below.
                        let _ = self.live.committed.send(Arc::new(Committed { change: Some(write.change), recomputed, before, after }));
                        let _ = proposal.reply.send(Ok(done));
                    }
                    return;
                }
                Err(StoreError::MovedOn | StoreError::SentBefore) => {
                    self.follow().await;
                    proposals = rest.into_iter().map(|(.., proposal)| proposal).collect();
                }
                Err(error) => {
                    tracing::error!(%error, "could not commit");
                    for (.., proposal) in rest {
                        let _ = proposal.reply.send(Err(Problem::internal("the change could not be kept")));
                    }
                    return;
                }
            }
        }
    }

    async fn decide_all(&self, start: &Arc<Dataset>, proposals: Vec<Proposal>) -> Vec<Pending> {
        let mut working = start.clone();
        let mut pending: Vec<Pending> = Vec::new();
        for proposal in proposals {
            let Some(wish) = proposal.wish.clone() else { continue };
            match self.known_answer(&wish, &pending).await {
                Ok(None) => {}
                Ok(Some(done)) => {
                    let _ = proposal.reply.send(Ok(Done { again: true, ..done }));
                    continue;
                }
                Err(problem) => {
                    let _ = proposal.reply.send(Err(problem));
                    continue;
                }
            }
            let clock = clock_of(&working, wish.at.unwrap_or_else(Timestamp::now));
            match working.decide(&wish.intent, wish.asker, &clock) {
                Err(faults) => {
                    let _ = proposal.reply.send(Err(faults.into()));
                }
                Ok(decision) if decision.change.ops.is_empty() => {
                    let _ = proposal.reply.send(Ok(Done::default()));
                }
                Ok(Decision { change, added, made }) => {
                    let mut after = (*working).clone();
                    let recomputed = after.apply(&change);
                    let runs = automation::fire(&after, &change, &clock);
                    let done = Done { seq: Some(change.seq), added, made, again: false };
                    let answer = serde_json::to_value(&done).unwrap_or_default();
                    let before = std::mem::replace(&mut working, Arc::new(after));
                    let write = Write { change, runs, key: wish.key, answer };
                    pending.push(Pending { write, recomputed, before, after: working.clone(), done, proposal });
                }
            }
        }
        pending
    }

    /// The answer that this key got before, from the log or from the group that is being decided.
    async fn known_answer(&self, wish: &Wish, pending: &[Pending]) -> Result<Option<Done>, Problem> {
        let Some(key) = &wish.key else { return Ok(None) };
        if let Some(same) = pending.iter().find(|p| p.write.key.as_ref() == Some(key)) {
            return Ok(Some(same.done.clone()));
        }
        let answer = self.app.store.answer(self.live.id, key).await?;
        Ok(answer.and_then(|json| serde_json::from_value(json).ok()))
    }

    /// Applies what other processes committed since.
    async fn follow(&self) {
        let mut now = self.live.now();
        let changes = match self.app.store.changes_since(self.live.id, now.seq).await {
            Ok(changes) => changes,
            Err(error) => return tracing::error!(%error, "could not read the log"),
        };
        for change in changes {
            let mut after = (*now).clone();
            let recomputed = after.apply(&change);
            let before = std::mem::replace(&mut now, Arc::new(after));
            self.live.snapshot.store(now.clone());
            let _ = self.live.committed.send(Arc::new(Committed { change: Some(change), recomputed, before, after: now.clone() }));
        }
    }
}

/// Binds what bulk changes left in the log into the records, once it is much more than there are records: until then loading
/// a tracker is no slower for it.
async fn bind(app: App, live: Arc<Live>) {
    const TIMES_THE_RECORDS: u64 = 4;
    let bound = async {
        let state = live.now();
        let records: usize = state.tables().chain(state.binned_tables()).map(Table::rows).sum();
        if app.store.unbound(live.id).await? > TIMES_THE_RECORDS * records as u64 {
            app.store.bind(live.id, &state).await?;
        }
        Ok::<_, StoreError>(())
    };
    if let Err(error) = bound.await {
        // Nothing is lost: it is read from the log, and bound after the next bulk change.
        tracing::warn!(%error, "could not bind");
    }
}

/// Checks a wish without doing it, so that nothing (no file either) is kept for one that will be refused.
///
/// # Errors
/// The faults that doing it would give.
pub fn rehearse(look: &Look, intent: &Intent) -> Result<(), Faults> {
    if let Intent::Send { form, .. } = intent
        && look.dataset.form(*form).is_none()
    {
        return Err(Fault::new(FaultKind::NotFound, "There is no such form.").into());
    }
    look.dataset.decide(intent, look.asker, &look.clock).map(drop)
}
