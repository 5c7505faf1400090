//! The clock: time is a change. When a tracker's day ends, whichever server is first commits its turn, with the cells that
//! moved by it, like any other change; the others follow. What shows the minute is computed anew in each server by itself.

use super::{Live, Proposal};
use jiff::Timestamp;
use std::{sync::Weak, time::Duration};
use westerfall_core::{access::Asker, intent::Intent};

/// How long it sleeps at most: the machine's clock may be set, and the machine itself may have slept.
const AT_LEAST_EVERY: Duration = Duration::from_secs(30);

/// Turns a tracker for as long as anybody holds it.
pub(super) fn start(live: Weak<Live>) {
    tokio::spawn(async move {
        loop {
            let Some(until) = live.upgrade().map(|live| due(&live)) else { return };
            let left = until.duration_since(Timestamp::now()).unsigned_abs();
            let due = until <= Timestamp::now();
            tokio::time::sleep(if due { Duration::from_millis(5) } else { left.clamp(Duration::from_millis(5), AT_LEAST_EVERY) }).await;
            let Some(live) = live.upgrade() else { return };
            let state = live.state.now();
            if state.holds_until() <= Timestamp::now() {
                live.turn().await;
            }
            live.come().await;
            // Records that somebody began and left without a word.
            for (table, record) in state.left_behind(Timestamp::now()) {
                let left = Intent::Leave { table, record };
                if let Err(problem) = live.act(Asker::Westerfall, left).await {
                    tracing::warn!(told = problem.told(), tracker = %live.id, "a record that was left could not be taken for added");
                }
            }
        }
    });
}

/// When something next happens by itself.
fn due(live: &Live) -> Timestamp {
    let now = live.state.now();
    now.next_due().map_or(now.holds_until(), |next| next.min(now.holds_until()))
}

impl Live {
    /// Automations whose time has come. Of many records they come for some at a time, so that nobody's edit waits for all of them.
    async fn come(&self) {
        loop {
            let due = self.state.now().all_due(Timestamp::now());
            if due.is_empty() {
                return;
            }
            for (automation, _) in due {
                match self.act(Asker::Westerfall, Intent::Come { automation }).await {
                    // Another server may have been first; then there is nothing to do any more.
                    Ok(done) if done.seq.is_none() => return tokio::time::sleep(Duration::from_millis(200)).await,
                    Ok(_) => {}
                    Err(problem) => {
                        tracing::warn!(told = problem.told(), tracker = %self.id, %automation, "an automation could not come at its time yet");
                        return tokio::time::sleep(Duration::from_secs(1)).await;
                    }
                }
            }
        }
    }

    /// Turns the tracker to this moment: to a new day by a change, to a new minute by computing.
    pub(crate) async fn turn(&self) {
        let state = self.state.now();
        if state.turns_to(Timestamp::now()) {
            // Another server may have been first; then there is nothing to do any more.
            if let Err(problem) = self.act(Asker::Westerfall, Intent::Turn).await {
                tracing::warn!(told = problem.told(), tracker = %self.id, "the day could not be turned yet");
                tokio::time::sleep(Duration::from_secs(1)).await;
            }
        }
        if self.state.now().holds_until() <= Timestamp::now() {
            let _ = self.proposals.send(Proposal::Tick).await;
            // The writer is at it.
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
    }
}
