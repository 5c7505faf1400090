//! What the whole server shares.

use crate::{live::Live, problem::Problem, uploads::Uploads};
use jiff::SignedDuration;
use jiff::Timestamp;
use std::{collections::HashMap, path::PathBuf, sync::Arc};
use tokio::sync::{Mutex, Notify, OnceCell};
use westerfall_core::{fault::Fault, id::TrackerId};
use westerfall_store::{Files, Store, StoreError, Stored};

/// How this server was set up.
#[derive(Clone, Debug)]
pub struct Settings {
    /// Whether people can be chosen with one click.
    pub demo: bool,
    /// Folder of the built interface.
    pub web: PathBuf,
    /// Address under which people reach this server.
    pub public_url: String,
    /// Mail server, host:port.
    pub smtp: String,
    /// Whether that mail server is our own post room, which can be asked what it has.
    pub own_post_room: bool,
    /// How long a mail may be on its way to the mail server before it counts as cut off.
    pub hold: SignedDuration,
    /// This program, which is run again to read workbooks apart from itself.
    pub program: PathBuf,
    /// Requests that one address may send at once to sign-in and public forms.
    pub burst: u32,
    /// What the team is called, on forms that say so.
    pub team: String,
}

/// The server's shared parts. Cheap to copy.
#[derive(Clone)]
pub struct App(Arc<Parts>);

/// See [`App`].
pub struct Parts {
    pub store: Store,
    pub files: Files,
    pub settings: Settings,
    /// Wakes the worker when something was queued.
    pub queued: Notify,
    /// Files that wait for their import.
    pub uploads: Uploads,
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
        Ok(Self(Arc::new(Parts { store, files, settings, queued: Notify::new(), uploads: Uploads::default(), trackers: Mutex::default() })))
    }

    /// A tracker in memory, read from the store when it is first asked for.
    pub async fn tracker(&self, id: TrackerId) -> Result<Arc<Live>, Problem> {
        let cell = self.trackers.lock().await.entry(id).or_default().clone();
        let live = cell
            .get_or_try_init(|| async {
                let people = Arc::new(self.store.people().await?);
                let dataset =
                    self.store.load(id, people, Timestamp::now()).await?.ok_or_else(|| Problem::from(Fault::not_found("tracker")))?;
                Ok::<_, Problem>(Live::start(self.clone(), id, dataset))
            })
            .await?;
        Ok(live.clone())
    }

    /// Hears of what other processes commit to the same database, and follows.
    pub fn listen(&self) {
        let app = self.clone();
        tokio::spawn(async move {
            loop {
                if let Err(error) = app.hear().await {
                    tracing::warn!(%error, "lost the line to the database; trying again");
                }
                tokio::time::sleep(std::time::Duration::from_secs(1)).await;
            }
        });
    }

    async fn hear(&self) -> Result<(), StoreError> {
        use futures::StreamExt;
        let mut connection = self.store.listen().await?;
        let mut notes = std::pin::pin!(connection.notifications_stream());
        while let Some(note) = notes.next().await {
            let payload = note?.payload;
            let Some((tracker, seq)) = payload.split_once(':') else { continue };
            let (Ok(tracker), Ok(seq)) = (tracker.parse::<TrackerId>(), seq.parse::<u64>()) else { continue };
            let live = self.trackers.lock().await.get(&tracker).and_then(|cell| cell.get().cloned());
            if let Some(live) = live
                && live.now().seq < seq
            {
                live.catch_up();
            }
        }
        Ok(())
    }
}
