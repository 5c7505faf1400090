//! The demo's tracker in memory, for measuring.

use jiff::{Timestamp, tz::TimeZone};
use westerfall_core::{Clock, dataset::Dataset};

/// The tracker with so many faults, built by core alone.
pub fn dataset(now: Timestamp, faults: usize) -> Dataset {
    let mut dataset = Dataset::empty(crate::tracker(), crate::team_people());
    for step in crate::story(now, faults) {
        let decision = dataset.decide(&step.intent, step.asker, &clock(step.at)).expect("the demo's steps are allowed");
        dataset.apply(&decision.change);
    }
    dataset
}

/// A moment where the demo team lives.
pub fn clock(now: Timestamp) -> Clock {
    Clock::new(now, TimeZone::get(crate::ZONE).unwrap_or(TimeZone::UTC))
}
