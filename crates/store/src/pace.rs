//! How many messages automations send within an hour.

use crate::{Store, Stored, json::int};
use diesel::{
    prelude::*,
    sql_types::{Integer, Text, Timestamptz},
};
use diesel_async::RunQueryDsl;
use jiff::{SignedDuration, Timestamp};
use jiff_diesel::ToDiesel;
use westerfall_core::id::{AutomationId, TrackerId};

/// How long it is remembered.
const KEPT: SignedDuration = SignedDuration::from_secs(2 * 24 * 3_600);

/// What is counted: the messages of an automation within an hour, to one reader or, where that is empty, to all.
#[derive(Clone, Copy, Debug)]
pub struct PaceOf<'a> {
    pub tracker: TrackerId,
    pub automation: AutomationId,
    pub reader: &'a str,
    /// When the hour began.
    pub hour: Timestamp,
}

impl Store {
    /// Takes a place for one more; false where there were so many already. Whichever servers ask, there are never more.
    pub async fn take_pace(&self, of: PaceOf<'_>, most: i32) -> Stored<bool> {
        let mut connection = self.connection().await?;
        let take = "INSERT INTO pace (tracker_id, automation_id, reader, hour, sent) VALUES ($1, $2, $3, $4, 1) \
                    ON CONFLICT (tracker_id, automation_id, reader, hour) DO UPDATE SET sent = pace.sent + 1 WHERE pace.sent < $5";
        let query = diesel::sql_query(take)
            .bind::<Integer, _>(int(of.tracker.get()))
            .bind::<Integer, _>(int(of.automation.get()))
            .bind::<Text, _>(of.reader)
            .bind::<Timestamptz, _>(of.hour.to_diesel())
            .bind::<Integer, _>(most);
        Ok(query.execute(&mut connection).await? > 0)
    }

    /// Whether somebody is to be told now that more wait: once an hour.
    pub async fn tell_pace(&self, of: PaceOf<'_>) -> Stored<bool> {
        use crate::schema::pace as p;
        let mut connection = self.connection().await?;
        let old = of.hour.checked_sub(KEPT).unwrap_or(Timestamp::MIN);
        diesel::delete(p::table.filter(p::hour.lt(old.to_diesel()))).execute(&mut connection).await?;
        let one = p::table.find((int(of.tracker.get()), int(of.automation.get()), of.reader, of.hour.to_diesel()));
        Ok(diesel::update(one.filter(p::told.eq(false))).set(p::told.eq(true)).execute(&mut connection).await? > 0)
    }
}
