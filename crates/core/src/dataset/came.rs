//! How far the times of automations have come.

use super::Dataset;
use crate::{automation::Came, history::Going, id::AutomationId, part::Part};
use jiff::{Timestamp, tz::TimeZone};
use std::sync::Arc;

impl Dataset {
    /// The zone in which its days begin and end.
    pub fn zone(&self) -> &TimeZone {
        &self.zone
    }

    /// How far the times of an automation have come; nothing: it does not come by the clock, or is off.
    pub fn came(&self, automation: AutomationId) -> Option<Came> {
        self.came.get(&automation).copied()
    }

    /// Puts in how far they have come, as it was kept.
    pub fn load_came(&mut self, automation: AutomationId, came: Came) {
        Arc::make_mut(&mut self.came).insert(automation, came);
    }

    pub(super) fn note_came(&mut self, automation: AutomationId, by: Going) {
        let Some((came, at, next)) = self.came(automation).and_then(|came| match by {
            Going::Time { at, next } => Some((came, at, next)),
            Going::Chosen | Going::On => None,
        }) else {
            return;
        };
        let upto = if next.is_none() { at } else { came.upto };
        Arc::make_mut(&mut self.came).insert(automation, Came { upto, next: next.map(|record| (at, record)) });
    }

    /// What is switched on, or comes at other times from now on, comes for what lies ahead.
    pub(super) fn note_switched(&mut self, before: Option<&Part>, after: Option<&Part>, at: Timestamp) {
        let of = |part: Option<&Part>| match part {
            Some(Part::Automation(automation)) => {
                Some((automation.id, Some(automation.when.clone()).filter(|when| automation.on && when.is_timed())))
            }
            _ => None,
        };
        let (was, is) = (of(before), of(after));
        if was == is {
            return;
        }
        let came = Arc::make_mut(&mut self.came);
        if let Some((id, _)) = was {
            came.remove(&id);
        }
        if let Some((id, Some(_))) = is {
            came.insert(id, Came { upto: at, next: None });
        }
    }
}
