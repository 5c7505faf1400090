//! When and how fast messages go out by themselves, as the whole team wants it.

use crate::{
    fault::{Fault, FaultKind},
    people::{Person, Quiet},
};
use jiff::{Timestamp, tz::TimeZone};
use serde::{Deserialize, Serialize};

/// Most messages of one automation to one reader within an hour, where the team says nothing else; and the most that it may say.
pub const MOST_TO_ONE: u32 = 60;
/// Most to all of them together: what one timetable may bring twice over.
pub const MOST_TO_ALL: u32 = 20_000;

/// When and how fast messages go out by themselves. What somebody asked for, as a code, is never held.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Sending {
    /// Hours in which nothing goes out, to whoever says nothing else of their own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub quiet: Option<Quiet>,
    /// Most messages of one automation to one reader within an hour.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub to_one: Option<u32>,
    /// Most of one automation to all its readers within an hour.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub to_all: Option<u32>,
}

impl Sending {
    pub(crate) fn is_plain(&self) -> bool {
        *self == Self::default()
    }

    /// Most messages of one automation to one reader within an hour.
    pub fn most_to_one(&self) -> u32 {
        self.to_one.unwrap_or(MOST_TO_ONE)
    }

    /// Most of one automation to all its readers within an hour.
    pub fn most_to_all(&self) -> u32 {
        self.to_all.unwrap_or(MOST_TO_ALL)
    }

    /// Until when a message to somebody is held: by their own hours, where they named some, else by the team's; nothing: it goes out now.
    /// `zone`: by which clock the hours are those of its reader.
    pub fn held(&self, reader: Option<&Person>, now: Timestamp, zone: &TimeZone) -> Option<Timestamp> {
        reader.and_then(|reader| reader.quiet).or(self.quiet)?.ends(now, zone)
    }

    pub(super) fn check(&self) -> Result<(), Vec<Fault>> {
        let mut faults = Vec::new();
        if self.quiet.is_some_and(|quiet| !quiet.is_some_of_a_day()) {
            let message = "Give two hours of a day that differ, as 21:00 and 07:00.";
            faults.push(Fault::new(FaultKind::WrongKind, message).at("/quiet"));
        }
        let mut bounded = |said: Option<u32>, most: u32, at: &str| {
            if said.is_some_and(|count| count == 0 || count > most) {
                faults.push(Fault::new(FaultKind::WrongKind, format!("Give a count from 1 to {most}.")).at(at));
            }
        };
        bounded(self.to_one, MOST_TO_ONE, "/to_one");
        bounded(self.to_all, MOST_TO_ALL, "/to_all");
        if faults.is_empty() { Ok(()) } else { Err(faults) }
    }
}
