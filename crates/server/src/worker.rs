//! The worker: hands the messages that changes queued to whoever carries them, once each.

use crate::{
    app::App,
    carrier::{Carrier, Carriers, CutOff, Links, Ready, Sheet, Unsent},
    letters, opting_out, pacing,
    printing::As,
    replying,
};
use futures::FutureExt;
use jiff::{SignedDuration, Timestamp};
use std::{panic::AssertUnwindSafe, time::Duration};
use westerfall_core::{
    access::Asker,
    document::Letterhead,
    id::AutomationId,
    inbox::{News, Notice},
    people::Channel,
    sentence::capital,
};
use westerfall_store::{ClaimedMessage, JobState, StoreError, Stored};

/// Tries before a message is given up: with the delay doubling from two seconds, the last is about a day after the first.
const TRIES: i32 = 16;

/// How long what a mail encloses may take to be set: with what the mail server may take, less than a mail is held
/// (`WESTERFALL_HOLD_SECONDS`), so that no other server takes it for one that was cut off.
const SHEET: Duration = Duration::from_secs(8);

/// Sends from now on.
///
/// # Errors
/// The mail server's address can't be understood.
pub fn start(app: App) -> Result<(), String> {
    let carriers = Carriers::new(&app)?;
    tokio::spawn(async move {
        loop {
            // Ready to be woken before looking, so that nothing queued in between is missed.
            let woken = app.queued.notified();
            let sent = AssertUnwindSafe(send_next(&app, &carriers)).catch_unwind().await;
            match sent.unwrap_or_else(|_| Err(StoreError::Connection("the worker fell over".into()))) {
                Ok(true) => continue,
                Ok(false) => {}
                Err(error) => tracing::error!(%error, "the worker could not ask the database"),
            }
            let _ = tokio::time::timeout(Duration::from_millis(500), woken).await;
        }
    });
    Ok(())
}

/// Sends one message that is due; false where none is.
async fn send_next(app: &App, carriers: &Carriers) -> Stored<bool> {
    let Some(claimed) = app.store.claim_message(Timestamp::now(), app.settings.hold).await? else { return Ok(false) };
    let now = Timestamp::now();
    match hand_over(app, carriers, &claimed, now).await? {
        Came::To(state, note) => {
            app.store.settle_message(claimed.job, state, now, &note).await?;
            if state == JobState::Failed {
                tell(app, &claimed, News::Failed).await;
            }
        }
        Came::Again(due, note) => app.store.settle_message(claimed.job, JobState::Waiting, due, &note).await?,
        Came::Held(until, note) => app.store.hold_message(claimed.job, until, &note).await?,
    }
    Ok(true)
}

/// How far a message came at this try, with what is said of it.
enum Came {
    To(JobState, String),
    /// It did not work; it is tried again then.
    Again(Timestamp, String),
    /// It was not tried, and waits until then.
    Held(Timestamp, String),
}

async fn hand_over(app: &App, carriers: &Carriers, claimed: &ClaimedMessage, now: Timestamp) -> Stored<Came> {
    let ended = |state: JobState, note: &str| Ok(Came::To(state, note.to_owned()));
    let claimed = &carried(app, carriers, claimed);
    let by = claimed.message.by;
    let Some(carrier) = carriers.by(by) else {
        return ended(JobState::Failed, &format!("Nothing is set up that brings a {} to its reader.", by.noun()));
    };
    let id = message_id(app, claimed);
    if claimed.cut_off {
        // The process that had it was killed on the way.
        match carrier.cut_off(app, &id).await? {
            CutOff::Arrived => return ended(JobState::Sent, ""),
            CutOff::Unsure => {
                let note = "The connection broke while it was handed over, so it may have arrived. It is not sent again by itself.";
                return ended(JobState::Unsure, note);
            }
            CutOff::Again => {}
        }
    }
    if !opting_out::wanted(app, claimed) {
        return ended(JobState::Declined, "Not sent: its reader said meanwhile that they want no more of these messages.");
    }
    if let Some(until) = held_until(app, claimed, now).await {
        return Ok(Came::Held(until, "It waits until its reader’s quiet hours are over.".to_owned()));
    }
    if let Some(held) = pacing::held(app, claimed, now).await? {
        if held.tells {
            tell(app, claimed, News::Paced).await;
        }
        return Ok(Came::Held(held.until, held.note));
    }
    match send(app, carrier, claimed, &id).await {
        Ok(()) => ended(JobState::Sent, ""),
        Err(Unsent::ForGood(reason)) => ended(JobState::Failed, &format!("{} refuses it for good: {reason}", capital(carrier.name()))),
        Err(Unsent::ForNow(reason)) if claimed.attempts >= TRIES => {
            ended(JobState::Failed, &format!("Given up after {TRIES} tries. The last answer was: {reason}"))
        }
        Err(Unsent::ForNow(reason)) => {
            let delay = SignedDuration::from_secs(1_i64 << claimed.attempts.clamp(1, 16));
            Ok(Came::Again(now + delay, format!("Try {} did not work: {reason}", claimed.attempts)))
        }
    }
}

/// The message as it can be carried: where nobody brings what somebody of the team chose, they get it by mail.
fn carried(app: &App, carriers: &Carriers, claimed: &ClaimedMessage) -> ClaimedMessage {
    let mut claimed = claimed.clone();
    let people = app.team.people();
    let reader = claimed.message.person.and_then(|id| people.get(id)).filter(|_| carriers.by(claimed.message.by).is_none());
    if let Some(reader) = reader.filter(|reader| !reader.mail.is_empty()) {
        claimed.message.by = Channel::Mail;
        claimed.message.to.clone_from(&reader.mail);
    }
    claimed
}

/// Until when its reader wants nothing by itself; nothing: it goes out now. What they asked for, as a code, is never held.
async fn held_until(app: &App, claimed: &ClaimedMessage, now: Timestamp) -> Option<Timestamp> {
    let message = &claimed.message;
    let by_itself = claimed.automation.is_some() || letters::comes_by_itself(&message.key);
    let people = app.team.people();
    let reader = message.person.and_then(|id| people.get(id)).or_else(|| people.find(&message.to));
    let reader = reader.filter(|_| !message.outside);
    let sending = app.team.now().sending();
    if !by_itself || (sending.quiet.is_none() && reader.is_none_or(|reader| reader.quiet.is_none())) {
        return None;
    }
    // Whoever is outside has no clock of their own: it is the tracker's.
    let zone = match (reader, claimed.of) {
        (Some(reader), _) => app.team.clock_for(reader.id).told,
        (None, Some((tracker, ..))) => app.tracker(tracker).await.ok()?.now().zone().clone(),
        (None, None) => return None,
    };
    sending.held(reader, now, &zone)
}

/// Whoever the automation acts for finds in their inbox that it could not reach somebody, or not yet.
async fn tell(app: &App, claimed: &ClaimedMessage, news: impl Fn(AutomationId) -> News) {
    let (Some((tracker, table, record)), Some(automation)) = (claimed.of, claimed.automation) else { return };
    let Ok(live) = app.tracker(tracker).await else { return };
    let Some(to) = live.now().automation(automation).and_then(|automation| automation.acts_for) else { return };
    let of = news(automation);
    // Too many are of no one record.
    let about = record.filter(|_| of != News::Paced(automation)).map(|record| (table, record));
    if let Err(error) = app.store.tell(Some(tracker), &Notice { to, by: None, about, of }, Timestamp::now()).await {
        tracing::warn!(%error, "nobody could be told what became of a message");
    }
}

/// The same for every try, so that a mail that came twice would be known as one.
fn message_id(app: &App, claimed: &ClaimedMessage) -> String {
    let of = match claimed.of {
        // *asks*: whoever has it answers in its reader's name.
        Some((tracker, ..)) if claimed.message.asks.is_some() => format!("tracker-{tracker}.asks"),
        Some((tracker, ..)) => format!("tracker-{tracker}"),
        // *invitation* or *private*: whether others than its reader may look at it where mail is only tried out.
        None => claimed.message.key.split(' ').next().unwrap_or_default().to_owned(),
    };
    format!("job-{}.{of}@{}", claimed.job, app.settings.mail.domain)
}

async fn send(app: &App, carrier: &dyn Carrier, claimed: &ClaimedMessage, id: &str) -> Result<(), Unsent> {
    let ways = match &claimed.message.asks {
        Some(_) => Some(replying::ways(app, claimed.job).await.map_err(|e| e.to_string())?),
        None => None,
    };
    let sheet = enclosed(app, claimed).await?;
    let opt_out = opting_out::link(app, claimed).await.map_err(|e| e.to_string())?;
    carrier.carry(app, Ready { claimed, links: Links { ways, opt_out }, sheet, id }).await
}

/// The document that goes along with a mail, printed now. What is gone by now, or not open to its reader any more, stays out, and the
/// mail goes without it.
async fn enclosed(app: &App, claimed: &ClaimedMessage) -> Result<Option<Sheet>, String> {
    let (Some(encloses), Some((tracker, ..))) = (claimed.message.encloses, claimed.of) else { return Ok(None) };
    let live = app.tracker(tracker).await.map_err(|e| e.told())?;
    let asker = encloses.person.map_or(Asker::Westerfall, Asker::Person);
    let Ok(look) = live.look(asker) else { return Ok(None) };
    let head = Letterhead::from(app.team.now().face());
    let paper = app.rooms.read(move || encloses.paper(&look.dataset, &look.clock, &head)).await.map_err(|e| e.told())?;
    let Some(paper) = paper else { return Ok(None) };
    let name = paper.sheets.first().map(|sheet| sheet.name.clone()).unwrap_or_default();
    let set = tokio::time::timeout(SHEET, app.printing.set(As::One, &paper)).await;
    let pages = set.map_err(|_| "What it encloses took too long to set.".to_owned())?.map_err(|e| e.told())?;
    Ok(pages.parts.into_iter().next().map(|bytes| Sheet { name, bytes }))
}
