//! How far what takes a while has come, for whoever waits for it: a file that is written, a change of many records with all that follows
//! from it. Files that nobody waits for any more are stopped; a change only where somebody says so.

use serde::Serialize;
use std::{
    collections::HashMap,
    sync::{
        Arc, Mutex, PoisonError,
        atomic::{AtomicBool, AtomicUsize, Ordering},
    },
};
use utoipa::ToSchema;
use westerfall_core::{id::PersonId, pace::Pace};

/// Longest name that a browser gives what it waits for.
const LONGEST: usize = 64;

/// What is being waited for now.
#[derive(Clone, Debug, Default)]
pub struct Waits(Arc<Mutex<HashMap<Key, Arc<Progress>>>>);

/// Whose it is, and how their browser calls it.
type Key = (PersonId, String);

/// How far one has come.
#[derive(Debug, Default)]
pub struct Progress {
    done: AtomicUsize,
    of: AtomicUsize,
    stopped: AtomicBool,
}

/// How far it has come: of a file in records, of a change in steps of automations.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct HowFar {
    pub done: usize,
    pub of: usize,
}

/// Held while somebody waits for it: once it is dropped, it goes no further.
#[derive(Debug)]
pub struct Awaited {
    waits: Waits,
    key: Option<Key>,
    progress: Arc<Progress>,
}

impl Progress {
    /// So many are done, of so many.
    pub fn is_at(&self, done: usize, of: usize) {
        self.done.store(done, Ordering::Relaxed);
        self.of.store(of, Ordering::Relaxed);
    }

    /// Whether nobody waits for it any more.
    pub fn is_stopped(&self) -> bool {
        self.stopped.load(Ordering::Relaxed)
    }
}

impl Pace for Progress {
    fn goes_on(&self, done: usize, of: usize) -> bool {
        self.is_at(done, of);
        !self.is_stopped()
    }
}

impl Waits {
    /// Begins one, which somebody may ask about under a name.
    pub fn begin(&self, person: PersonId, name: Option<String>) -> Awaited {
        let progress = Arc::new(Progress::default());
        let key = name.filter(|name| !name.is_empty() && name.len() <= LONGEST).map(|name| (person, name));
        if let Some(key) = &key {
            self.0.lock().unwrap_or_else(PoisonError::into_inner).insert(key.clone(), progress.clone());
        }
        Awaited { waits: self.clone(), key, progress }
    }

    /// Stops somebody's; gives whether they wait for one of this name. What is being kept already is kept.
    pub fn stop(&self, person: PersonId, name: &str) -> bool {
        let known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let progress = known.get(&(person, name.to_owned()));
        progress.inspect(|progress| progress.stopped.store(true, Ordering::Relaxed)).is_some()
    }

    /// How far somebody's has come.
    pub fn of(&self, person: PersonId, name: &str) -> Option<HowFar> {
        let known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let progress = known.get(&(person, name.to_owned()))?;
        Some(HowFar { done: progress.done.load(Ordering::Relaxed), of: progress.of.load(Ordering::Relaxed) })
    }
}

impl Awaited {
    /// Whether somebody said that it shall stop.
    pub fn is_stopped(&self) -> bool {
        self.progress.is_stopped()
    }

    /// What is told of it.
    pub fn progress(&self) -> Arc<Progress> {
        self.progress.clone()
    }
}

impl Drop for Awaited {
    fn drop(&mut self) {
        self.progress.stopped.store(true, Ordering::Relaxed);
        if let Some(key) = &self.key {
            self.waits.0.lock().unwrap_or_else(PoisonError::into_inner).remove(key);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::Waits;
    use westerfall_core::id::PersonId;

    #[test]
    fn only_who_began_one_learns_of_it_and_only_while_they_wait() {
        let waits = Waits::default();
        let (mine, other) = (PersonId::new(1).unwrap(), PersonId::new(2).unwrap());
        let awaited = waits.begin(mine, Some("a".into()));
        let progress = awaited.progress();
        progress.is_at(20, 50);
        assert_eq!(waits.of(mine, "a").map(|at| (at.done, at.of)), Some((20, 50)));
        assert_eq!(waits.of(other, "a"), None);
        assert!(!progress.is_stopped());
        drop(awaited);
        assert!(progress.is_stopped());
        assert_eq!(waits.of(mine, "a"), None);
    }
}
