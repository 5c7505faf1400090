//! Web addresses that runs wait for: which is called next, and by whom.

use crate::{
    Store, Stored,
    json::int,
    runs::{WAITING_COLUMNS, WaitingRow},
};
use diesel::{
    prelude::*,
    sql_types::{BigInt, Bool, Integer, Timestamptz},
};
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use jiff::{SignedDuration, Timestamp};
use jiff_diesel::ToDiesel;
use westerfall_core::{automation::Waiting, id::TrackerId};

/// A call that a server has taken on.
#[derive(Clone, Debug)]
pub struct ClaimedCall {
    pub tracker: TrackerId,
    pub waiting: Waiting,
    /// This attempt included.
    pub attempts: i32,
    /// An earlier attempt was cut off, so that the address may have been reached already.
    pub cut_off: bool,
}

#[derive(QueryableByName)]
struct Row {
    #[diesel(embed)]
    waiting: WaitingRow,
    #[diesel(sql_type = Integer)]
    called: i32,
    #[diesel(sql_type = Bool)]
    calling: bool,
}

impl Store {
    /// Takes on the next call that is due, for at most `hold`: if nothing is heard by then, it counts as cut off.
    pub async fn claim_call(&self, now: Timestamp, hold: SignedDuration) -> Stored<Option<ClaimedCall>> {
        let mut connection = self.connection().await?;
        let claim = async |c: &mut AsyncPgConnection| {
            let due = format!(
                "SELECT {WAITING_COLUMNS}, run.called, run.calling FROM run WHERE run.calls_at <= $1 AND run.record_id IS NOT NULL
                 ORDER BY run.calls_at LIMIT 1 FOR UPDATE SKIP LOCKED"
            );
            let row = diesel::sql_query(due).bind::<Timestamptz, _>(now.to_diesel()).get_result::<Row>(c).await.optional()?;
            let Some(row) = row else { return QueryResult::Ok(None) };
            let Row { waiting, called, calling } = row;
            diesel::sql_query("UPDATE run SET calls_at = $1, called = called + 1, calling = true WHERE tracker_id = $2 AND id = $3")
                .bind::<Timestamptz, _>((now + hold).to_diesel())
                .bind::<Integer, _>(waiting.tracker_id)
                .bind::<BigInt, _>(waiting.id)
                .execute(c)
                .await?;
            let read = waiting.read();
            Ok(read.map(|(tracker, waiting)| ClaimedCall { tracker, waiting, attempts: called + 1, cut_off: calling }))
        };
        Ok((*connection).transaction(claim).await?)
    }

    /// Puts a call off: its address could not be reached, or wants to be asked later.
    pub async fn call_again(&self, tracker: TrackerId, run: i64, at: Timestamp) -> Stored<()> {
        use crate::schema::run as r;
        diesel::update(r::table.find((int(tracker.get()), run)).filter(r::calls_at.is_not_null()))
            .set((r::calls_at.eq(at.to_diesel()), r::calling.eq(false)))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }
}
