//! How fast automations write: one that went wrong fills no mailbox, and whoever it acts for is told.

use crate::app::App;
use jiff::{SignedDuration, Timestamp};
use westerfall_store::{ClaimedMessage, PaceOf, Stored};

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
    let sending = app.team.now().sending();
    for (reader, most, whom) in [(&*message.to, sending.most_to_one(), &*message.to_name), ("", sending.most_to_all(), "all its readers")] {
        let of = PaceOf { tracker, automation, reader, hour };
        if !app.store.take_pace(of, i32::try_from(most).unwrap_or(i32::MAX)).await? {
            let messages = if most == 1 { "1 message".to_owned() } else { format!("{most} messages") };
            let note = format!("It waits for the next hour: {messages} of this automation went to {whom} within this one.");
            let until = hour.checked_add(SignedDuration::from_secs(AN_HOUR)).unwrap_or(now);
            return Ok(Some(Held { until, note, tells: app.store.tell_pace(of).await? }));
        }
    }
    Ok(None)
}
