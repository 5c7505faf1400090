//! How far files have come that are being written, for whoever waits for them; and stopping those that nobody waits for any more.

use serde::Serialize;
use std::{
    collections::HashMap,
    sync::{
        Arc, Mutex, PoisonError,
        atomic::{AtomicBool, AtomicUsize, Ordering},
    },
};
use utoipa::ToSchema;
use westerfall_core::id::PersonId;

/// Longest name that a browser gives a file that it waits for.
const LONGEST: usize = 64;

/// The files that are being written now.
#[derive(Clone, Debug, Default)]
pub struct Exports(Arc<Mutex<HashMap<Key, Arc<Progress>>>>);

/// Whose it is, and how their browser calls it.
type Key = (PersonId, String);

/// How far one has come.
#[derive(Debug, Default)]
pub struct Progress {
    done: AtomicUsize,
    of: AtomicUsize,
    stopped: AtomicBool,
}

/// How far a file has come, in records.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct ExportProgress {
    pub done: usize,
    pub of: usize,
}

/// Held while somebody waits for a file: when it is dropped, the file is not written any further.
#[derive(Debug)]
pub struct Awaited {
    exports: Exports,
    key: Option<Key>,
    progress: Arc<Progress>,
}

impl Progress {
    /// So many records are written, of so many.
    pub fn is_at(&self, done: usize, of: usize) {
        self.done.store(done, Ordering::Relaxed);
        self.of.store(of, Ordering::Relaxed);
    }

    /// Whether nobody waits for it any more.
    pub fn is_stopped(&self) -> bool {
        self.stopped.load(Ordering::Relaxed)
    }
}

impl Exports {
    /// Begins one, which somebody may ask about under a name.
    pub fn begin(&self, person: PersonId, name: Option<String>) -> Awaited {
        let progress = Arc::new(Progress::default());
        let key = name.filter(|name| !name.is_empty() && name.len() <= LONGEST).map(|name| (person, name));
        if let Some(key) = &key {
            self.0.lock().unwrap_or_else(PoisonError::into_inner).insert(key.clone(), progress.clone());
        }
        Awaited { exports: self.clone(), key, progress }
    }

    /// How far somebody's has come.
    pub fn of(&self, person: PersonId, name: &str) -> Option<ExportProgress> {
        let known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let progress = known.get(&(person, name.to_owned()))?;
        Some(ExportProgress { done: progress.done.load(Ordering::Relaxed), of: progress.of.load(Ordering::Relaxed) })
    }
}

impl Awaited {
    /// What is told of it.
    pub fn progress(&self) -> Arc<Progress> {
        self.progress.clone()
    }
}

impl Drop for Awaited {
    fn drop(&mut self) {
        self.progress.stopped.store(true, Ordering::Relaxed);
        if let Some(key) = &self.key {
            self.exports.0.lock().unwrap_or_else(PoisonError::into_inner).remove(key);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::Exports;
    use westerfall_core::id::PersonId;

    #[test]
    fn only_who_began_one_learns_of_it_and_only_while_they_wait() {
        let exports = Exports::default();
        let (mine, other) = (PersonId::new(1).unwrap(), PersonId::new(2).unwrap());
        let awaited = exports.begin(mine, Some("a".into()));
        let progress = awaited.progress();
        progress.is_at(20, 50);
        assert_eq!(exports.of(mine, "a").map(|at| (at.done, at.of)), Some((20, 50)));
        assert_eq!(exports.of(other, "a"), None);
        assert!(!progress.is_stopped());
        drop(awaited);
        assert!(progress.is_stopped());
        assert_eq!(exports.of(mine, "a"), None);
    }
}
