//! Runs of automations that wait: each goes on once it has waited long enough, or what it waits for holds. Whichever server is first does it;
//! the key of the wish makes it happen once.

use crate::{app::App, live::Wish, problem::Problem};
use futures::FutureExt;
use jiff::Timestamp;
use std::{panic::AssertUnwindSafe, time::Duration};
use westerfall_core::{access::Asker, automation::Waiting, id::TrackerId, intent::Intent};

/// How often is looked.
const EVERY: Duration = Duration::from_millis(700);

/// Looks after them from now on.
pub fn start(app: App) {
    tokio::spawn(async move {
        loop {
            tokio::time::sleep(EVERY).await;
            match AssertUnwindSafe(go_on(&app)).catch_unwind().await {
                Ok(Ok(())) => {}
                Ok(Err(error)) => tracing::warn!(told = error.told(), "runs that wait could not be looked at"),
                Err(_) => tracing::error!("looking at runs that wait fell over"),
            }
        }
    });
}

async fn go_on(app: &App) -> Result<(), Problem> {
    for (tracker, waiting) in app.store.waiting_runs(Timestamp::now()).await? {
        // One that goes wrong does not keep the others from their turn.
        if let Err(problem) = one(app, tracker, waiting).await {
            tracing::warn!(told = problem.told(), %tracker, "a run that waited could not go on yet");
        }
    }
    Ok(())
}

async fn one(app: &App, tracker: TrackerId, waiting: Waiting) -> Result<(), Problem> {
    let live = app.tracker(tracker).await?;
    let run = waiting.kept;
    let key = Some(format!("run {run} after {}", waiting.seq));
    let seq = live.now().seq;
    let done = live.wish(Wish { key, ..Wish::now(Intent::GoOn(Box::new(waiting)), Asker::Westerfall) }).await?;
    if done.seq.is_none() {
        app.store.run_was_asked(tracker, run, seq).await?;
    }
    Ok(())
}
