//! The fan-out: tells screens what they may hear. Changes that come close together are told together, and what is the same
//! for several listeners is worked out once.

use super::{Committed, clock_of};
use crate::app::App;
use jiff::Timestamp;
use std::{
    collections::HashMap,
    sync::{Arc, Mutex, PoisonError},
    time::Duration,
};
use tokio::sync::{
    broadcast::{Receiver, error::RecvError},
    mpsc,
};
use westerfall_core::access::{Asker, Heard, Lens};

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
            // A screen that is so slow that its line is full has a message waiting that makes it read again anyhow.
            let _ = listener.line.try_send(told.clone());
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
    let Some(seq) = window.last().map(|c| c.after.seq) else {
        let anew = askers.into_iter().map(|asker| (asker, Told::Anew)).collect();
        return listeners.tell(0, &anew);
    };
    let told = app.rooms.apart(move || {
        let each = askers.into_iter().filter_map(|asker| Some((asker, told(&window, missed, asker)?)));
        each.collect::<HashMap<Asker, Told>>()
    });
    if let Ok(told) = told.await {
        listeners.tell(seq, &told);
    }
}

/// What an asker hears of changes that are told together.
fn told(window: &[Arc<Committed>], missed: bool, asker: Asker) -> Option<Told> {
    let (first, last) = (window.first()?, window.last()?);
    if !asker.may_look_at(&last.after) {
        return Some(Told::Closed);
    }
    // With a new day, what is from today is another in every condition too.
    if missed || first.before.day() != last.after.day() {
        return Some(Told::Anew);
    }
    let clock = clock_of(&last.after, Timestamp::now());
    let (before, after) = (Lens::new(&first.before, asker, &clock), Lens::new(&last.after, asker, &clock));
    let changes: Vec<_> = window.iter().map(|c| (c.change.as_ref(), &c.recomputed)).collect();
    Heard::of_all(&changes, &before, &after).map(|heard| Told::Heard(Arc::new(heard)))
}
