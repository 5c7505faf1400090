//! The team in memory: an immutable snapshot that anyone may read, and one writer, who decides, commits and only then moves it.

use crate::problem::Problem;
use arc_swap::ArcSwap;
use jiff::{Timestamp, tz::TimeZone};
use serde::Serialize;
use std::{collections::BTreeSet, sync::Arc};
use tokio::sync::Mutex;
use utoipa::ToSchema;
use westerfall_core::{
    Clock,
    access::Base,
    fault::{Fault, Faults},
    id::{PersonId, TrackerId},
    people::People,
    team::{Team, TeamAsker, TeamChange, TeamIntent},
};
use westerfall_store::{Store, StoreError, Stored};

/// How often a wish is decided anew because another process was first.
const ATTEMPTS: usize = 16;

/// The team, for those who look at it.
pub struct TeamRoom {
    store: Store,
    snapshot: ArcSwap<Team>,
    writing: Mutex<()>,
}

/// What the sender of an intent is told.
#[derive(Clone, Debug, Default, PartialEq, Serialize, ToSchema)]
pub struct TeamDone {
    /// The change's number in the team's log; what undoing asks for. Nothing where nothing had to change.
    pub seq: Option<u64>,
    /// What was done, in words that stand after *You*.
    pub did: String,
}

impl TeamRoom {
    /// Reads the team.
    ///
    /// # Errors
    /// It can't be read.
    pub async fn open(store: Store) -> Stored<Self> {
        let team = store.load_team().await?;
        Ok(Self { store, snapshot: ArcSwap::from_pointee(team), writing: Mutex::default() })
    }

    /// The team now.
    pub fn now(&self) -> Arc<Team> {
        self.snapshot.load_full()
    }

    /// Everybody now. As long as nothing of them changes, it is the same in memory too.
    pub fn people(&self) -> Arc<People> {
        self.snapshot.load().people().clone()
    }

    /// Decides, keeps and moves on. One after the other: what is decided stands on what was kept.
    ///
    /// # Errors
    /// What core says against it.
    pub async fn wish(&self, intent: &TeamIntent, asker: TeamAsker) -> Result<TeamChange, Problem> {
        let _turn = self.writing.lock().await;
        for _attempt in 0..ATTEMPTS {
            let before = self.now();
            // As exact as the database keeps moments.
            let now = Timestamp::from_microsecond(Timestamp::now().as_microsecond()).unwrap_or_default();
            let change = before.decide(intent, &asker, now)?;
            if change.ops.is_empty() {
                return Ok(change);
            }
            match self.store.commit_team(before.seq, &change).await {
                Ok(()) => {
                    let mut after = (*before).clone();
                    after.apply(&change);
                    self.snapshot.store(Arc::new(after));
                    return Ok(change);
                }
                Err(StoreError::MovedOn) => self.read().await?,
                Err(error) => return Err(error.into()),
            }
        }
        Err(Problem::busy())
    }

    /// The team as a wish would leave it, which is not done.
    ///
    /// # Errors
    /// What core says against it.
    pub fn rehearse(&self, intent: &TeamIntent, asker: &TeamAsker) -> Result<Team, Faults> {
        let mut after = (*self.now()).clone();
        let change = after.decide(intent, asker, Timestamp::now())?;
        after.apply(&change);
        Ok(after)
    }

    /// Follows what other processes committed, up to this change at least; whether it moved.
    ///
    /// # Errors
    /// It can't be read.
    pub async fn follow(&self, seq: u64) -> Stored<bool> {
        let _turn = self.writing.lock().await;
        if self.now().seq >= seq {
            return Ok(false);
        }
        self.read().await?;
        Ok(true)
    }

    async fn read(&self) -> Stored<()> {
        let read = self.store.load_team().await?;
        self.snapshot.store(Arc::new(read));
        Ok(())
    }

    /// This moment, in the zone in which moments are told to somebody outside of any tracker.
    pub fn clock_for(&self, person: PersonId) -> Clock {
        let people = self.people();
        let person = people.get(person);
        let zone = person.map_or("", |p| p.zone.as_str());
        let zone = TimeZone::get(if zone.is_empty() { "UTC" } else { zone }).unwrap_or(TimeZone::UTC);
        Clock { by: person.and_then(|p| p.customs), ..Clock::new(Timestamp::now(), zone) }
    }

    /// As whom somebody asks of the team: stewards of any tracker let people in.
    ///
    /// # Errors
    /// The roles can't be read.
    pub async fn asker(&self, me: PersonId) -> Stored<TeamAsker> {
        let people = self.people();
        let roles = self.store.roles().await?;
        let runs = roles.iter().filter(|(_, role)| role.base == Base::Steward && role.is_held_by(me, &people));
        let runs: BTreeSet<TrackerId> = runs.map(|(tracker, _)| *tracker).collect();
        Ok(TeamAsker::Person { me, lets_in: self.now().is_owner(me) || !runs.is_empty(), runs: Arc::new(runs) })
    }

    /// The intent that takes a change back.
    ///
    /// # Errors
    /// There is no such change.
    pub async fn undoing(&self, seq: u64) -> Result<TeamIntent, Problem> {
        let change = self.store.team_change(seq).await?.ok_or_else(|| Fault::not_found("step"))?;
        Ok(TeamIntent::Undo(Box::new(change)))
    }
}

impl From<&TeamChange> for TeamDone {
    fn from(change: &TeamChange) -> Self {
        if change.ops.is_empty() {
            return Self::default();
        }
        Self { seq: Some(change.seq), did: change.did() }
    }
}
