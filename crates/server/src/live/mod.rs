//! Live trackers: an immutable snapshot that anyone may read, and three rooms beside it: the [`writer`], which alone moves it,
//! the [`clock`], which turns it, and the [`fanout`], which tells screens what they may hear.
//!
//! A command on its way: an *intent* somebody wants done → a *wish*, with who and under which key → a *proposal* in the
//! writer's inbox → core's *decision* → a *write*, kept with others in one commit → *committed*, told to listeners.

mod clock;
mod fanout;
mod writer;

pub use fanout::{Listener, Told};

use crate::{app::App, awaited::Awaited, problem::Problem, team::TeamRoom};
use arc_swap::ArcSwap;
use fanout::Listeners;
use jiff::{Timestamp, tz::TimeZone};
use serde::{Deserialize, Serialize};
use std::{
    sync::{
        Arc,
        atomic::{AtomicI64, Ordering},
    },
    time::Duration,
};
use tokio::sync::{Mutex, broadcast, mpsc, oneshot};
use westerfall_core::{
    Clock,
    access::{Asker, Base, Lens},
    dataset::{Dataset, Recomputed},
    fault::{Fault, FaultKind, Faults},
    find::FileTexts,
    history::Change,
    id::{RecordId, TrackerId},
    intent::Intent,
};
use westerfall_store::{Store, Stored};

/// Proposals that wait for one tracker's writer. Whoever comes when it is full waits, and is soon told to come back.
const INBOX: usize = 1_024;
/// How long somebody waits at a full inbox, or for what another server did.
const PATIENCE: Duration = Duration::from_secs(1);
/// Committed changes that a slow listener may lag behind before it is told to read everything anew.
const BACKLOG: usize = 1_024;

/// One tracker in memory, for those who look at it. When the last of them lets go, its writer, clock and fan-out end.
pub struct Live {
    pub id: TrackerId,
    state: Arc<State>,
    proposals: mpsc::Sender<Proposal>,
    listeners: Arc<Listeners>,
    /// When somebody last looked, in seconds.
    used: AtomicI64,
    /// What stands in its files, as far as it was asked for; with what to ask from the next time.
    texts: Mutex<(i64, Arc<FileTexts>)>,
}

/// What the rooms share: the snapshot, which the writer alone moves, and the line on which it tells so.
struct State {
    id: TrackerId,
    snapshot: ArcSwap<Dataset>,
    team: Arc<TeamRoom>,
    committed: broadcast::Sender<Arc<Committed>>,
}

impl State {
    /// As the writer left it.
    fn now(&self) -> Arc<Dataset> {
        self.snapshot.load_full()
    }

    /// As it is looked at: with the team of now, which the writer may be about to meet.
    fn seen(&self) -> Arc<Dataset> {
        let (now, people) = (self.now(), self.team.people());
        if Arc::ptr_eq(&now.people, &people) { now } else { Arc::new(now.with_people(people)) }
    }

    /// Moves to the state after something that happened, and tells of it.
    fn move_on(&self, committed: Committed) {
        self.snapshot.store(committed.after.clone());
        // Nobody listening is no fault.
        let _ = self.committed.send(Arc::new(committed));
    }
}

/// A change that was committed, with the states around it, so that each listener can be told what they may hear.
pub struct Committed {
    /// None: only a minute has passed, or something of the team is another.
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
    /// What was done, in words that stand after *You*.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub did: String,
    /// It was done before: this is the answer that the same key got then.
    #[serde(skip)]
    pub again: bool,
}

/// Something for the writer.
enum Proposal {
    Wish(Box<Wish>, oneshot::Sender<Result<Done, Problem>>),
    /// To follow what other processes committed.
    Follow(u64),
    /// To compute what depends on the minute.
    Tick,
    /// To meet the team as it is now.
    Meet,
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
    /// Where somebody waits for it who may stop it: as long as it is not being kept.
    pub awaited: Option<Arc<Awaited>>,
}

impl Wish {
    /// For somebody, now.
    pub fn now(intent: Intent, asker: Asker) -> Self {
        Self { intent, asker, key: None, at: None, awaited: None }
    }

    fn is_stopped(&self) -> bool {
        self.awaited.as_ref().is_some_and(|awaited| awaited.is_stopped())
    }
}

/// A wish that waits for the writer.
pub struct Queued(oneshot::Receiver<Result<Done, Problem>>);

impl Queued {
    /// What came of it.
    pub async fn answer(self) -> Result<Done, Problem> {
        self.0.await.unwrap_or_else(|_| Err(Problem::unknown("the writer gave no answer")))
    }
}

/// A dataset, a moment and who looks: all that a lens needs.
#[derive(Clone)]
pub struct Look {
    pub dataset: Arc<Dataset>,
    pub clock: Clock,
    pub asker: Asker,
}

impl Look {
    /// Whether whoever looks may be told who may do what, and why: stewards, standing in for somebody or not.
    pub fn tells_access(&self) -> bool {
        match self.asker {
            Asker::Person(me) | Asker::StandingIn { by: me, .. } => {
                self.asker.may_look_at(&self.dataset) && self.dataset.holds(me, &[Base::Steward])
            }
            Asker::Form(_) | Asker::Visitor { .. } | Asker::Automation(_) | Asker::Westerfall => false,
        }
    }

    /// The dataset as the asker may see it.
    pub fn lens(&self) -> Lens<'_> {
        Lens::new(&self.dataset, self.asker, &self.clock)
    }
}

/// The same for somebody, who may have chosen a zone and customs of their own.
pub fn clock_for(dataset: &Dataset, asker: Asker, now: Timestamp) -> Clock {
    let reader = match asker {
        Asker::Person(person) | Asker::StandingIn { r#as: person, .. } => dataset.people.get(person),
        Asker::Form(_) | Asker::Visitor { .. } | Asker::Automation(_) | Asker::Westerfall => None,
    };
    reader.map_or_else(|| clock_of(dataset, now), |person| clock_of(dataset, now).told_to(person))
}

/// This moment in a tracker's zone, as exact as the database keeps moments.
pub fn clock_of(dataset: &Dataset, now: Timestamp) -> Clock {
    let now = Timestamp::from_microsecond(now.as_microsecond()).unwrap_or(now);
    Clock::new(now, TimeZone::get(&dataset.tracker.zone).unwrap_or(TimeZone::UTC))
}

impl Live {
    /// Puts a dataset to work: its writer, its clock and its fan-out.
    pub fn start(app: App, id: TrackerId, dataset: Dataset) -> Arc<Self> {
        let (proposals, inbox) = mpsc::channel(INBOX);
        let (committed, changes) = broadcast::channel(BACKLOG);
        let state = Arc::new(State { id, snapshot: ArcSwap::from_pointee(dataset), team: app.team.clone(), committed });
        let live = Arc::new(Self {
            id,
            state: state.clone(),
            proposals,
            listeners: Arc::default(),
            used: AtomicI64::new(0),
            texts: Mutex::default(),
        });
        live.touch();
        writer::start(app.clone(), state, inbox);
        clock::start(Arc::downgrade(&live));
        fanout::start(app, live.listeners.clone(), changes);
        live
    }

    /// The state now. Time moves it as any change does: see [`clock`].
    pub fn now(&self) -> Arc<Dataset> {
        self.touch();
        self.state.seen()
    }

    /// What stands in its files, as far as it was read by now: asked for where words are looked for, and not before.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn texts(&self, store: &Store) -> Stored<Arc<FileTexts>> {
        let mut known = self.texts.lock().await;
        let (last, texts) = store.texts_after(self.id, known.0).await?;
        known.0 = last;
        let new: Vec<_> = texts.into_iter().filter(|(id, _)| known.1.get(id).is_none()).collect();
        if !new.is_empty() {
            let all = Arc::make_mut(&mut known.1);
            new.into_iter().for_each(|(id, text)| all.learn(id, &text));
        }
        Ok(known.1.clone())
    }

    /// The last change it knows of; looking at this is no use of it.
    pub fn seq(&self) -> u64 {
        self.state.now().seq
    }

    fn touch(&self) {
        self.used.store(Timestamp::now().as_second(), Ordering::Relaxed);
    }

    /// Whether nobody has looked at it for so many seconds, and nobody listens.
    pub fn is_idle(&self, seconds: i64) -> bool {
        let unused = Timestamp::now().as_second() - self.used.load(Ordering::Relaxed) >= seconds;
        // One receiver is the fan-out's own.
        unused && self.listeners.is_empty() && self.state.committed.receiver_count() <= 1
    }

    /// How many screens listen.
    pub fn listening(&self) -> usize {
        self.listeners.len()
    }

    /// Tells somebody what they may hear of each change from now on.
    pub fn listen(&self, listener: Listener) {
        self.listeners.add(listener);
    }

    /// The state now, as somebody may see it.
    ///
    /// # Errors
    /// The tracker does not exist for people who hold no role in it.
    pub fn look(&self, asker: Asker) -> Result<Look, Fault> {
        let dataset = self.now();
        if !asker.may_look_at(&dataset) {
            return Err(Fault::not_found("tracker"));
        }
        let clock = clock_for(&dataset, asker, Timestamp::now());
        Ok(Look { dataset, clock, asker })
    }

    /// Every change from now on.
    pub fn subscribe(&self) -> broadcast::Receiver<Arc<Committed>> {
        self.state.committed.subscribe()
    }

    /// Decides and does, durably. What was begun is ended even if nobody waits for the answer any more.
    pub async fn wish(&self, wish: Wish) -> Result<Done, Problem> {
        self.queue(wish).await?.answer().await
    }

    /// Puts a wish behind those queued before it; its answer can be waited for later.
    ///
    /// # Errors
    /// More is waiting than can be done soon.
    pub async fn queue(&self, wish: Wish) -> Result<Queued, Problem> {
        self.touch();
        let (reply, answer) = oneshot::channel();
        let sent = self.proposals.send_timeout(Proposal::Wish(Box::new(wish), reply), PATIENCE).await;
        sent.map_err(|_| Problem::busy())?;
        Ok(Queued(answer))
    }

    /// Decides and does for somebody, now.
    pub async fn act(&self, asker: Asker, intent: Intent) -> Result<Done, Problem> {
        self.wish(Wish::now(intent, asker)).await
    }

    /// Follows what other processes committed, up to this change at least.
    pub fn catch_up(&self, seq: u64) {
        // If the inbox is full, the writer is about to notice by itself.
        let _ = self.proposals.try_send(Proposal::Follow(seq));
    }

    /// Meets the team as it is now, so that what is computed from names follows, and screens are told.
    pub(crate) fn meet_team(&self) {
        // If the inbox is full, the writer meets it before the next wish.
        let _ = self.proposals.try_send(Proposal::Meet);
    }

    /// Waits, but not for long, until the state is at least as of this change: so that whoever was told of it elsewhere sees it here.
    pub async fn reach(&self, seq: u64) {
        let mut changes = self.subscribe();
        if self.now().seq >= seq {
            return;
        }
        self.catch_up(seq);
        let _ = tokio::time::timeout(PATIENCE, async { while self.now().seq < seq && changes.recv().await.is_ok() {} }).await;
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
