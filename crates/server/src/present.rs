//! Who has what open now, and where they are in it. Held in memory alone: nothing of it is kept, and who looked is told to nobody later.

use serde::{Deserialize, Serialize};
use std::{
    collections::HashMap,
    sync::{Mutex, PoisonError},
    time::{Duration, Instant},
};
use tokio::sync::broadcast;
use westerfall_core::{
    id::{PersonId, TrackerId},
    presence::Place,
};

/// How long a screen that says nothing any more is taken for open.
const STAYS: Duration = Duration::from_secs(45);
/// Most screens that are held.
const MOST: usize = 20_000;
/// Longest name of a screen, in bytes.
pub const SCREEN_LIMIT: usize = 64;

/// What a screen says of itself, to all servers.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct Said {
    pub tracker: TrackerId,
    pub screen: String,
    pub person: PersonId,
    /// Nothing: it was closed, or shows something else.
    pub place: Option<Place>,
}

struct Screen {
    person: PersonId,
    place: Place,
    at: Instant,
}

/// All screens that are open, at whichever server.
pub struct Present {
    screens: Mutex<HashMap<(TrackerId, String), Screen>>,
    /// In which tracker somebody came, went on, or left.
    moved: broadcast::Sender<TrackerId>,
}

impl Default for Present {
    fn default() -> Self {
        Self { screens: Mutex::default(), moved: broadcast::channel(256).0 }
    }
}

impl Present {
    /// Hears what a screen says.
    pub fn hear(&self, said: Said) {
        let now = Instant::now();
        let moved = {
            let mut screens = self.screens.lock().unwrap_or_else(PoisonError::into_inner);
            screens.retain(|_, screen| now.duration_since(screen.at) < STAYS);
            let key = (said.tracker, said.screen);
            match said.place {
                None => screens.remove(&key).is_some(),
                Some(place) if screens.len() < MOST || screens.contains_key(&key) => {
                    let was = screens.insert(key, Screen { person: said.person, place, at: now });
                    was.is_none_or(|was| was.place != place || was.person != said.person)
                }
                Some(_) => false,
            }
        };
        if moved {
            // Nobody listens: nobody is told.
            let _ = self.moved.send(said.tracker);
        }
    }

    /// Where everybody else is in a tracker: each screen but one's own.
    pub fn others(&self, tracker: TrackerId, screen: &str) -> Vec<(PersonId, Place)> {
        let now = Instant::now();
        let screens = self.screens.lock().unwrap_or_else(PoisonError::into_inner);
        let there = |((at, name), one): (&(TrackerId, String), &Screen)| {
            (*at == tracker && name != screen && now.duration_since(one.at) < STAYS).then_some((one.person, one.place))
        };
        screens.iter().filter_map(there).collect()
    }

    /// Tells in which tracker somebody moved, from now on.
    pub fn moves(&self) -> broadcast::Receiver<TrackerId> {
        self.moved.subscribe()
    }
}
