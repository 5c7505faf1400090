//! The fan-out: tells screens what they may hear. Changes that come close together are told together, and what is the same
//! for several listeners is worked out once.

use super::{Committed, clock_of};
use crate::app::App;
use jiff::Timestamp;
use std::{
    collections::HashMap,
    sync::{
        Arc, Mutex, PoisonError,
        atomic::{AtomicBool, Ordering},
    },
    time::Duration,
};
use tokio::sync::{
    broadcast::{Receiver, error::RecvError},
    mpsc,
};
use westerfall_core::{
    access::{Alike, Asker, Heard, Lens},
    dataset::Dataset,
    history::Change,
};

/// Changes that come within this time are told together; one that comes alone is told at once.
const TOGETHER: Duration = Duration::from_millis(150);
/// Most changes that are told together.
const MOST: usize = 4_096;

/// Something that a screen is told.
#[derive(Clone, Debug)]
pub enum Told {
    Heard(Arc<Heard>),
    /// To read everything anew.
    Anew,
    /// The tracker is not open any more.
    Closed,
}

/// A screen that listens.
pub struct Listener {
    pub asker: Asker,
    /// What it knows already: changes up to this one.
    pub from: u64,
    pub line: mpsc::Sender<Told>,
    /// Its line was full: it reads everything anew at the next message that it takes.
    pub missed: Arc<AtomicBool>,
}

impl Listener {
    fn tell(&self, told: Told) {
        if self.line.try_send(told).is_err() {
            self.missed.store(true, Ordering::Release);
            // If it took all that waited just before that, nothing else would make it look.
            let _ = self.line.try_send(Told::Anew);
        }
    }
}

/// The screens of one tracker.
#[derive(Default)]
pub(super) struct Listeners(Mutex<Vec<Listener>>);

impl Listeners {
    fn list(&self) -> std::sync::MutexGuard<'_, Vec<Listener>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    pub(super) fn add(&self, listener: Listener) {
        self.list().push(listener);
    }

    pub(super) fn len(&self) -> usize {
        self.list().iter().filter(|l| !l.line.is_closed()).count()
    }

    pub(super) fn is_empty(&self) -> bool {
        self.len() == 0
    }

    /// Those who listen now, once each; screens that were closed are forgotten.
    fn askers(&self) -> Vec<Asker> {
        let mut list = self.list();
        list.retain(|l| !l.line.is_closed());
        let mut askers: Vec<Asker> = Vec::new();
        for listener in list.iter() {
            if !askers.contains(&listener.asker) {
                askers.push(listener.asker);
            }
        }
        askers
    }

    fn tell(&self, seq: u64, told: &HashMap<Asker, Told>) {
        self.list().retain_mut(|listener| {
            let Some(told) = told.get(&listener.asker).filter(|_| listener.from < seq || seq == 0) else { return true };
            listener.tell(told.clone());
            !matches!(told, Told::Closed)
        });
    }
}

/// Tells for as long as the tracker is held.
pub(super) fn start(app: App, listeners: Arc<Listeners>, mut changes: Receiver<Arc<Committed>>) {
    tokio::spawn(async move {
        loop {
            let mut window = Vec::new();
            let mut missed = false;
            match changes.recv().await {
                Ok(change) => window.push(change),
                Err(RecvError::Lagged(_)) => missed = true,
                Err(RecvError::Closed) => return,
            }
            gather(&mut changes, &mut window, &mut missed);
            tell(&app, &listeners, window, missed).await;
            tokio::time::sleep(TOGETHER).await;
        }
    });
}

/// Takes what is there already.
fn gather(changes: &mut Receiver<Arc<Committed>>, window: &mut Vec<Arc<Committed>>, missed: &mut bool) {
    use tokio::sync::broadcast::error::TryRecvError;
    while window.len() < MOST {
        match changes.try_recv() {
            Ok(change) => window.push(change),
            Err(TryRecvError::Lagged(_)) => *missed = true,
            Err(TryRecvError::Empty | TryRecvError::Closed) => return,
        }
    }
}

async fn tell(app: &App, listeners: &Arc<Listeners>, window: Vec<Arc<Committed>>, missed: bool) {
    let askers = listeners.askers();
    if askers.is_empty() {
        return;
    }
    // What is no change of the log is news to everybody, however far in it they are.
    let timeless = window.iter().any(|c| c.change.is_none());
    let Some(seq) = window.last().map(|c| if timeless { 0 } else { c.after.seq }) else {
        let anew = askers.into_iter().map(|asker| (asker, Told::Anew)).collect();
        return listeners.tell(0, &anew);
    };
    let told = app.rooms.apart(move || told_to_each(&window, missed, askers));
    if let Ok(told) = told.await {
        listeners.tell(seq, &told);
    }
}

/// What each asker hears of changes that are told together. Those who may see the same are worked out once.
fn told_to_each(window: &[Arc<Committed>], missed: bool, askers: Vec<Asker>) -> HashMap<Asker, Told> {
    let (Some(first), Some(last)) = (window.first(), window.last()) else { return HashMap::new() };
    let own = window.iter().filter_map(|c| c.change.as_ref()).any(Change::is_about_somebody);
    let alike = |asker: Asker, ds: &Dataset| if own { Alike::Alone(asker) } else { asker.alike(ds) };
    let mut known: HashMap<(Alike, Alike), Option<Told>> = HashMap::new();
    let each = askers.into_iter().filter_map(|asker| {
        let key = (alike(asker, &first.before), alike(asker, &last.after));
        Some((asker, known.entry(key).or_insert_with(|| told(window, missed, asker)).clone()?))
    });
    each.collect()
}

/// What an asker hears of changes that are told together.
fn told(window: &[Arc<Committed>], missed: bool, asker: Asker) -> Option<Told> {
    let (first, last) = (window.first()?, window.last()?);
    if !asker.may_look_at(&last.after) {
        return Some(Told::Closed);
    }
    // With a new day, what is from today is another in every condition too; with another team, who is who.
    if missed || first.before.day() != last.after.day() || !Arc::ptr_eq(&first.before.people, &last.after.people) {
        return Some(Told::Anew);
    }
    let clock = clock_of(&last.after, Timestamp::now());
    let (before, after) = (Lens::new(&first.before, asker, &clock), Lens::new(&last.after, asker, &clock));
    let changes: Vec<_> = window.iter().map(|c| (c.change.as_ref(), &c.recomputed)).collect();
    Heard::of_all(&changes, &before, &after).map(|heard| Told::Heard(Arc::new(heard)))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn heard(seq: u64) -> Told {
        Told::Heard(Arc::new(Heard { seq, ..Heard::default() }))
    }

    #[test]
    fn a_full_line_is_told_to_read_anew_by_what_waits_in_it() {
        let (line, mut waiting) = mpsc::channel(2);
        let missed = Arc::new(AtomicBool::new(false));
        let listener = Listener { asker: Asker::Westerfall, from: 0, line, missed: missed.clone() };
        (1..=2).for_each(|seq| listener.tell(heard(seq)));
        assert!(!missed.load(Ordering::Acquire));
        listener.tell(heard(3));
        assert!(missed.load(Ordering::Acquire));
        // Whoever takes the next looks at the mark first, and there is a next one.
        assert!(matches!(waiting.try_recv(), Ok(Told::Heard(first)) if first.seq == 1));
        assert!(waiting.try_recv().is_ok() && waiting.try_recv().is_err());
        listener.tell(heard(4));
        assert!(matches!(waiting.try_recv(), Ok(Told::Heard(next)) if next.seq == 4));
    }
}
