//! Who wants something of the team, and how they are refused.

use crate::{
    fault::{Fault, FaultKind},
    id::{PersonId, TrackerId},
    people::Actor,
};
use std::{collections::BTreeSet, sync::Arc};

/// Who wants something of the team.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum TeamAsker {
    Person {
        me: PersonId,
        /// They are a steward of some tracker, and let people in.
        lets_in: bool,
        /// The trackers of which they are a steward.
        runs: Arc<BTreeSet<TrackerId>>,
    },
    /// Westerfall itself: the beginning, an invitation that is taken up.
    Westerfall,
}

impl TeamAsker {
    pub(super) fn actor(&self) -> Actor {
        match self {
            TeamAsker::Person { me, .. } => Actor::Person(*me),
            TeamAsker::Westerfall => Actor::Westerfall,
        }
    }
}

pub(super) fn not_allowed(message: &str) -> Fault {
    Fault::new(FaultKind::NotAllowed, message)
}

/// A name as it is kept: it stands in one line, in subjects of mails too.
pub(super) fn one_line(name: &str) -> String {
    name.split_whitespace().collect::<Vec<_>>().join(" ")
}
