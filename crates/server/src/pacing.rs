//! How fast automations write: one that went wrong fills no mailbox, and whoever it acts for is told.

use crate::app::App;
use jiff::{SignedDuration, Timestamp};
use westerfall_store::{ClaimedMessage, PaceOf, Stored};

/// Most messages of one automation to one reader within an hour.
pub const MOST_TO_ONE: i32 = 60;
/// Most to all of them together: what one timetable may bring twice over.
const MOST: i32 = 20_000;
const AN_HOUR: i64 = 3_600;

/// Why a message waits for the next hour.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Held {
    pub until: Timestamp,
    pub note: String,
    /// Whether somebody is to be told, which is once an hour.
    pub tells: bool,
}

/// Takes a place for a message within its hour; what is held takes none until the next one.
///
/// # Errors
/// The database can't be asked.
pub async fn held(app: &App, claimed: &ClaimedMessage, now: Timestamp) -> Stored<Option<Held>> {
    // What is tried again has its place already.
    let (Some((tracker, ..)), Some(automation), 1) = (claimed.of, claimed.automation, claimed.attempts) else { return Ok(None) };
    let begun = now.as_second().div_euclid(AN_HOUR).saturating_mul(AN_HOUR);
    let hour = Timestamp::from_second(begun).unwrap_or(now);
    let message = &claimed.message;
    for (reader, most, whom) in [(&*message.to, MOST_TO_ONE, &*message.to_name), ("", MOST, "all its readers")] {
        let of = PaceOf { tracker, automation, reader, hour };
        if !app.store.take_pace(of, most).await? {
            let note = format!("It waits for the next hour: {most} messages of this automation went to {whom} within this one.");
            let until = hour.checked_add(SignedDuration::from_secs(AN_HOUR)).unwrap_or(now);
            return Ok(Some(Held { until, note, tells: app.store.tell_pace(of).await? }));
        }
    }
    Ok(None)
}
