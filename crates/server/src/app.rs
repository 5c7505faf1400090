//! What the whole server shares.

use crate::{
    awaited::Waits,
    limits::SignIns,
    live::Live,
    pictures::drop_file,
    present::{Present, Said},
    printing::Printing,
    problem::Problem,
    rooms::Rooms,
    secrets::{hash, random_hex},
    settings::Settings,
    team::TeamRoom,
    uploads::Uploads,
};
use arc_swap::ArcSwapOption;
use jiff::{SignedDuration, Timestamp};
use std::{
    collections::{BTreeMap, HashMap},
    sync::Arc,
    time::Duration,
};
use tokio::sync::{Mutex, Notify, OnceCell, broadcast};
use westerfall_core::{
    access::Asker,
    bin::STAYS,
    fault::Fault,
    id::{RecordId, TableId, TrackerId},
    intent::Intent,
    team::{TeamAsker, TeamChange, TeamIntent},
};
use westerfall_store::{Files, PRESENT, Store, StoreError, Stored};

/// How often it is asked whether other servers went on, should a notification have been lost.
const LOOK_AFTER: Duration = Duration::from_millis(700);
/// How often what waits for its time is looked for: days that end, uploads and sessions that are over, trackers that nobody uses.
const TIDY_EVERY: Duration = Duration::from_secs(20);
/// How long a record that somebody began waits for them.
const DRAFTS_STAY: SignedDuration = SignedDuration::from_secs(90 * 24 * 3_600);
/// Bytes that are asked for and freed, so that the allocator looks after what is free.
const GIVEN_BACK: usize = 64 << 20;

/// The server's shared parts. Cheap to copy.
#[derive(Clone)]
pub struct App(Arc<Parts>);

/// See [`App`].
pub struct Parts {
    pub store: Store,
    pub files: Files,
    pub settings: Settings,
    /// Where work is done that is not a moment's.
    pub rooms: Rooms,
    /// Tries to sign in, by account.
    pub sign_ins: SignIns,
    /// Letters that somebody has sent to an address.
    pub letters: SignIns,
    /// The hash of the token by which a team is begun, while it may be.
    beginning: ArcSwapOption<Vec<u8>>,
    /// Wakes the worker when something was queued.
    pub queued: Notify,
    /// Files that wait for their import.
    pub uploads: Uploads,
    /// What takes a while, and whoever waits for it.
    pub waits: Waits,
    /// Where papers are set.
    pub printing: Printing,
    /// The people, their groups, and what the team is called.
    pub team: Arc<TeamRoom>,
    /// Who has what open now.
    pub present: Present,
    /// Sessions as they end, by the hash of their token.
    pub ended: broadcast::Sender<Vec<u8>>,
    trackers: Mutex<HashMap<TrackerId, Arc<OnceCell<Arc<Live>>>>>,
}

impl std::ops::Deref for App {
    type Target = Parts;
    fn deref(&self) -> &Parts {
        &self.0
    }
}

impl App {
    /// Puts the parts together.
    pub async fn open(store: Store, files: Files, settings: Settings) -> Stored<Self> {
        let (ended, _) = broadcast::channel(256);
        let rooms = Rooms::default();
        let uploads = Uploads::new(store.clone(), files.clone(), rooms.clone(), settings.program.clone());
        Ok(Self(Arc::new(Parts {
            sign_ins: SignIns::new((settings.burst / 4).max(3)),
            letters: SignIns::new((settings.burst / 8).max(3)),
            beginning: ArcSwapOption::empty(),
            team: Arc::new(TeamRoom::open(store.clone()).await?),
            printing: Printing::by(settings.papers.clone(), files.clone(), rooms.clone()),
            waits: Waits::default(),
            store,
            files,
            settings,
            rooms,
            queued: Notify::new(),
            uploads,
            present: Present::default(),
            ended,
            trackers: Mutex::default(),
        })))
    }

    /// A tracker in memory, read from the store when it is first asked for, turned to today.
    ///
    /// # Errors
    /// There is no such tracker, or it can't be read.
    pub async fn tracker(&self, id: TrackerId) -> Result<Arc<Live>, Problem> {
        let known = self.trackers.lock().await.get(&id).cloned();
        let cell = match known {
            Some(cell) => cell,
            None => {
                // Numbers that somebody makes up leave nothing in memory.
                if !self.store.has_tracker(id).await? {
                    return Err(Fault::not_found("tracker").into());
                }
                self.trackers.lock().await.entry(id).or_default().clone()
            }
        };
        let live = cell.get_or_try_init(|| self.opened(id)).await?;
        Ok(live.clone())
    }

    async fn opened(&self, id: TrackerId) -> Result<Arc<Live>, Problem> {
        let loaded = self.store.load(id, self.team.people(), Timestamp::now()).await?;
        let live = Live::start(self.clone(), id, loaded.ok_or_else(|| Problem::from(Fault::not_found("tracker")))?);
        live.turn().await;
        // What is looked for in it is made ready beside what else is asked of it.
        let (rooms, findable) = (self.rooms.clone(), live.now());
        tokio::spawn(async move { rooms.read(move || findable.make_findable()).await });
        Ok(live)
    }

    /// The one-time address at which the first person begins the team; none where it is begun.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn beginning(&self) -> Stored<Option<String>> {
        if self.store.is_begun().await? {
            return Ok(None);
        }
        let token = random_hex(16);
        self.beginning.store(Some(Arc::new(hash(&token))));
        Ok(Some(format!("{}/begin/{token}", self.settings.public_url)))
    }

    /// Whether this is the token by which the team may be begun.
    pub fn is_beginning(&self, token: &str) -> bool {
        self.beginning.load().as_ref().is_some_and(|known| **known == hash(token))
    }

    /// It has been begun.
    pub fn end_beginning(&self) {
        self.beginning.store(None);
    }

    /// Decides and does something of the team. Trackers in memory meet it as it is since.
    ///
    /// # Errors
    /// What core says against it.
    pub async fn act_on_team(&self, asker: TeamAsker, intent: TeamIntent) -> Result<TeamChange, Problem> {
        let change = self.team.wish(&intent, asker).await?;
        self.meet_team().await;
        Ok(change)
    }

    /// Trackers in memory meet the team as it is now.
    async fn meet_team(&self) {
        self.loaded().await.iter().for_each(|live| live.meet_team());
    }

    /// Follows what other processes committed of the team.
    async fn follow_team(&self, seq: u64) -> Stored<()> {
        if self.team.follow(seq).await? {
            self.meet_team().await;
        }
        Ok(())
    }

    /// The trackers in memory.
    pub async fn loaded(&self) -> Vec<Arc<Live>> {
        self.trackers.lock().await.values().filter_map(|cell| cell.get().cloned()).collect()
    }

    /// Hears of what other processes commit to the same database, and follows; and tidies up from time to time.
    pub fn listen(&self) {
        let app = self.clone();
        tokio::spawn(async move {
            loop {
                if let Err(error) = app.hear().await {
                    tracing::warn!(%error, "lost the line to the database; trying again");
                }
                tokio::time::sleep(Duration::from_secs(1)).await;
            }
        });
        let app = self.clone();
        tokio::spawn(async move {
            loop {
                tokio::time::sleep(LOOK_AFTER).await;
                app.look_after().await;
            }
        });
        let app = self.clone();
        tokio::spawn(async move {
            loop {
                if let Err(problem) = app.tidy().await {
                    tracing::warn!(told = problem.told(), "could not tidy up");
                }
                tokio::time::sleep(TIDY_EVERY).await;
            }
        });
    }

    /// Follows where a notification was lost.
    async fn look_after(&self) {
        if let Ok(seq) = self.store.team_seq().await {
            let _ = self.follow_team(seq).await;
        }
        let loaded = self.loaded().await;
        let ids: Vec<TrackerId> = loaded.iter().map(|live| live.id).collect();
        if ids.is_empty() {
            return;
        }
        let Ok(seqs) = self.store.seqs(&ids).await else { return };
        for live in loaded {
            if let Some((_, seq)) = seqs.iter().find(|(id, seq)| *id == live.id && *seq > live.seq()) {
                live.catch_up(*seq);
            }
        }
    }

    /// Turns trackers whose day has ended, lets go of those that nobody uses, and takes away what is over.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn tidy(&self) -> Result<(), Problem> {
        let now = Timestamp::now();
        for id in self.store.waking(now).await? {
            // Opening it turns it; one that is open turns by its own clock.
            let _ = self.tracker(id).await?;
        }
        let idle = self.settings.idle;
        self.trackers.lock().await.retain(|_, cell| match cell.get() {
            // Whoever holds it beside us still uses it.
            Some(live) => Arc::strong_count(live) > 1 || !live.is_idle(idle),
            None => Arc::strong_count(cell) > 1,
        });
        self.store.clear_sessions(now).await?;
        self.store.clear_tickets(now).await?;
        for (tracker, person, draft) in self.store.old_drafts(now - DRAFTS_STAY).await? {
            self.let_go_of(&self.store.drop_draft(tracker, person, draft).await?).await?;
        }
        self.uploads.clear().await?;
        self.empty_bins(now).await?;
        self.drop_files(now).await?;
        give_back();
        Ok(())
    }

    /// Empties out of the bins what has lain there long enough. A tracker in which that goes wrong does not keep the others from it.
    async fn empty_bins(&self, now: Timestamp) -> Result<(), Problem> {
        let mut due: BTreeMap<TrackerId, Vec<(TableId, RecordId)>> = BTreeMap::new();
        for (tracker, table, record) in self.store.lain_since(now - STAYS).await? {
            due.entry(tracker).or_default().push((table, record));
        }
        for (tracker, records) in due {
            let emptied = async { self.tracker(tracker).await?.act(Asker::Westerfall, Intent::EmptyOut { records }).await };
            if let Err(problem) = emptied.await {
                tracing::warn!(%tracker, told = problem.told(), "the bin could not be emptied");
            }
        }
        Ok(())
    }

    /// Drops files of a draft, but for those that a record holds: its draft may have outlived it when a server was stopped.
    pub async fn let_go_of(&self, files: &[String]) -> Result<(), Problem> {
        for id in files {
            if self.store.file(id).await?.is_none() {
                drop_file(&self.files, id).await;
            }
        }
        Ok(())
    }

    /// Drops files that nothing has held for as long as undoing might bring them back.
    async fn drop_files(&self, now: Timestamp) -> Result<(), Problem> {
        for (id, tracker, table) in self.store.let_go_since(now - STAYS).await? {
            if let Err(problem) = self.drop_let_go(&id, tracker, table).await {
                tracing::warn!(%tracker, id, told = problem.told(), "a file that nothing holds could not be dropped");
            }
        }
        Ok(())
    }

    async fn drop_let_go(&self, id: &str, tracker: TrackerId, table: TableId) -> Result<(), Problem> {
        let state = self.tracker(tracker).await?.now();
        // Records that were made one, or again, may hold one file.
        let held = id.to_owned();
        if self.rooms.read(move || state.holds_file(table, &held)).await? {
            self.store.hold_file(id).await?;
        } else {
            drop_file(&self.files, id).await;
            self.store.forget_file(id).await?;
        }
        Ok(())
    }

    async fn hear(&self) -> Result<(), StoreError> {
        use futures::StreamExt;
        let mut connection = self.store.listen().await?;
        // What was committed before we listened again.
        self.look_after().await;
        let mut notes = std::pin::pin!(connection.notifications_stream());
        while let Some(note) = notes.next().await {
            let note = note?;
            if note.channel == PRESENT {
                // What can't be read was said by a server of another make.
                serde_json::from_str::<Said>(&note.payload).into_iter().for_each(|said| self.present.hear(said));
                continue;
            }
            let payload = note.payload;
            let Some((tracker, seq)) = payload.split_once(':') else { continue };
            let Ok(seq) = seq.parse::<u64>() else { continue };
            let Ok(tracker) = tracker.parse::<TrackerId>() else {
                self.follow_team(seq).await?;
                continue;
            };
            let live = self.trackers.lock().await.get(&tracker).and_then(|cell| cell.get().cloned());
            if let Some(live) = live
                && live.seq() < seq
            {
                live.catch_up(seq);
            }
        }
        Ok(())
    }

    /// The sites whose pages may show a form, or read and answer it.
    pub async fn welcome_sites(&self, link: &str) -> Vec<String> {
        let Ok(Some((tracker, form))) = self.store.form_at(link).await else { return Vec::new() };
        let Ok(live) = self.tracker(tracker).await else { return Vec::new() };
        live.now().form(form).map(|form| form.embed.clone()).unwrap_or_default()
    }

    /// The sites whose pages may hold a shared page within theirs.
    pub async fn sites_around(&self, link: &str) -> Vec<String> {
        let Ok(Some(at)) = self.store.page_at(link).await else { return Vec::new() };
        let Ok(live) = self.tracker(at.tracker).await else { return Vec::new() };
        live.now().page(at.page).map(|page| page.embed.clone()).unwrap_or_default()
    }
}

/// What was freed a second ago goes back to the system. The allocator looks at the clock only where something large is freed, and a
/// server that has read a large file may be idle for hours; this is never written to, so that it costs no memory.
fn give_back() {
    drop(std::hint::black_box(Vec::<u8>::with_capacity(GIVEN_BACK)));
}
