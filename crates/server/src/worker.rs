//! The worker: sends the mails that changes queued, over SMTP, once each.

use crate::{app::App, mailing, printing::As, replying};
use futures::FutureExt;
use jiff::{SignedDuration, Timestamp};
use lettre::{AsyncSmtpTransport, AsyncTransport, Tokio1Executor, message::Mailbox};
use std::{panic::AssertUnwindSafe, time::Duration};
use westerfall_core::{
    access::Asker,
    document::Letterhead,
    inbox::{News, Notice},
};
use westerfall_store::{ClaimedMail, JobState, StoreError, Stored};

/// Tries before a mail is given up: with the delay doubling from two seconds, the last is about a day after the first.
const TRIES: i32 = 16;

/// How long what a mail encloses may take to be set: with what the mail server may take, less than a mail is held
/// (`WESTERFALL_HOLD_SECONDS`), so that no other server takes it for one that was cut off.
const SHEET: Duration = Duration::from_secs(8);

/// The line to the mail server: connections are kept and used again.
type Post = AsyncSmtpTransport<Tokio1Executor>;

/// Sends from now on.
///
/// # Errors
/// The mail server's address can't be understood.
pub fn start(app: App) -> Result<(), String> {
    let mail = &app.settings.mail;
    let _: Mailbox = mail.sender.parse().map_err(|e| format!("the sender of mails, {}: {e}", mail.sender))?;
    let post = AsyncSmtpTransport::<Tokio1Executor>::from_url(&mail.url).map_err(|e| format!("the mail server: {e}"))?;
    let post = post.timeout(Some(Duration::from_secs(20))).build();
    tokio::spawn(async move {
        loop {
            // Ready to be woken before looking, so that nothing queued in between is missed.
            let woken = app.queued.notified();
            let sent = AssertUnwindSafe(send_next(&app, &post)).catch_unwind().await;
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

/// Sends one mail that is due; false where none is.
async fn send_next(app: &App, post: &Post) -> Stored<bool> {
    let Some(claimed) = app.store.claim_mail(Timestamp::now(), app.settings.hold).await? else { return Ok(false) };
    let now = Timestamp::now();
    if claimed.cut_off {
        // The process that had it was killed on the way. Only our own post room can say whether it arrived.
        if app.settings.mail.own_post_room && app.store.has_message(&message_id(app, &claimed)).await? {
            app.store.settle_mail(claimed.job, JobState::Sent, now, "").await?;
            return Ok(true);
        }
        if !app.settings.mail.own_post_room {
            let note = "The connection broke while it was handed over, so it may have arrived. It is not sent again by itself.";
            app.store.settle_mail(claimed.job, JobState::Unsure, now, note).await?;
            return Ok(true);
        }
    }
    match send(app, post, &claimed).await {
        Ok(()) => app.store.settle_mail(claimed.job, JobState::Sent, now, "").await?,
        Err(reason) if claimed.attempts >= TRIES => {
            let note = format!("Given up after {TRIES} tries. The last answer was: {reason}");
            app.store.settle_mail(claimed.job, JobState::Failed, now, &note).await?;
            given_up(app, &claimed).await;
        }
        Err(reason) => {
            let delay = SignedDuration::from_secs(1_i64 << claimed.attempts.clamp(1, 16));
            let note = format!("Try {} did not work: {reason}", claimed.attempts);
            app.store.settle_mail(claimed.job, JobState::Waiting, now + delay, &note).await?;
        }
    }
    Ok(true)
}

/// Whoever the automation acts for finds in their inbox that it could not reach somebody.
async fn given_up(app: &App, claimed: &ClaimedMail) {
    let (Some((tracker, table, record)), Some(automation)) = (claimed.of, claimed.automation) else { return };
    let Ok(live) = app.tracker(tracker).await else { return };
    let Some(to) = live.now().automation(automation).and_then(|automation| automation.acts_for) else { return };
    let notice = Notice { to, by: None, about: record.map(|record| (table, record)), of: News::Failed(automation) };
    if let Err(error) = app.store.tell(Some(tracker), &notice, Timestamp::now()).await {
        tracing::warn!(%error, "nobody could be told of a mail that was given up");
    }
}

/// The same for every try, so that a mail that came twice would be known as one.
fn message_id(app: &App, claimed: &ClaimedMail) -> String {
    let of = match claimed.of {
        // *asks*: whoever has it answers in its reader's name.
        Some((tracker, ..)) if claimed.mail.asks.is_some() => format!("tracker-{tracker}.asks"),
        Some((tracker, ..)) => format!("tracker-{tracker}"),
        // *invitation* or *private*: whether others than its reader may look at it where mail is only tried out.
        None => claimed.mail.key.split(' ').next().unwrap_or_default().to_owned(),
    };
    format!("job-{}.{of}@{}", claimed.job, app.settings.mail.domain)
}

async fn send(app: &App, post: &Post, claimed: &ClaimedMail) -> Result<(), String> {
    let ways = match &claimed.mail.asks {
        Some(_) => Some(replying::ways(app, claimed.job).await.map_err(|e| e.to_string())?),
        None => None,
    };
    let sheet = enclosed(app, claimed).await?;
    let message = mailing::message(app, claimed, ways.as_ref(), sheet, &message_id(app, claimed))?;
    post.send(message).await.map(drop).map_err(|e| e.to_string())
}

/// The document that goes along with a mail, printed now. What is gone by now, or not open to its reader any more, stays out, and the
/// mail goes without it.
async fn enclosed(app: &App, claimed: &ClaimedMail) -> Result<Option<mailing::Sheet>, String> {
    let (Some(encloses), Some((tracker, ..))) = (claimed.mail.encloses, claimed.of) else { return Ok(None) };
    let live = app.tracker(tracker).await.map_err(|e| e.told())?;
    let asker = encloses.person.map_or(Asker::Westerfall, Asker::Person);
    let Ok(look) = live.look(asker) else { return Ok(None) };
    let head = Letterhead::from(app.team.now().face());
    let paper = app.rooms.read(move || encloses.paper(&look.dataset, &look.clock, &head)).await.map_err(|e| e.told())?;
    let Some(paper) = paper else { return Ok(None) };
    let name = paper.sheets.first().map(|sheet| sheet.name.clone()).unwrap_or_default();
    let set = tokio::time::timeout(SHEET, app.printing.set(As::One, &paper)).await;
    let pages = set.map_err(|_| "What it encloses took too long to set.".to_owned())?.map_err(|e| e.told())?;
    Ok(pages.parts.into_iter().next().map(|bytes| mailing::Sheet { name, bytes }))
}
