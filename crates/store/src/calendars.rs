//! Addresses at which other calendars look at a view by themselves.

use crate::{Store, Stored, json::int, schema};
use diesel::{prelude::*, upsert::excluded};
use diesel_async::RunQueryDsl;
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use westerfall_core::id::{PersonId, TrackerId, ViewId};

/// What is looked at at an address, and as whom.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct CalendarAt {
    pub number: i64,
    pub person: PersonId,
    pub tracker: TrackerId,
    pub view: ViewId,
}

/// An address that somebody has made.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct CalendarAddress {
    pub number: i64,
    pub tracker: TrackerId,
    pub view: ViewId,
    pub made: Timestamp,
    /// When it was last looked at.
    pub looked: Option<Timestamp>,
}

fn tracker_id(number: i32) -> Option<TrackerId> {
    TrackerId::new(number.try_into().ok()?)
}

fn view_id(number: i32) -> Option<ViewId> {
    ViewId::new(number.try_into().ok()?)
}

impl Store {
    /// Gives somebody an address for a view; the one that they had for it leads nowhere from here on.
    pub async fn give_calendar_address(
        &self,
        person: PersonId,
        tracker: TrackerId,
        view: ViewId,
        token_hash: &[u8],
        now: Timestamp,
    ) -> Stored<()> {
        use schema::calendar_address as c;
        diesel::insert_into(c::table)
            .values((
                c::token_hash.eq(token_hash),
                c::person_id.eq(int(person.get())),
                c::tracker_id.eq(int(tracker.get())),
                c::view_id.eq(int(view.get())),
                c::made_at.eq(now.to_diesel()),
            ))
            .on_conflict((c::person_id, c::tracker_id, c::view_id))
            .do_update()
            .set((
                c::token_hash.eq(excluded(c::token_hash)),
                c::made_at.eq(excluded(c::made_at)),
                c::looked_at.eq(None::<jiff_diesel::Timestamp>),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// What is at an address.
    pub async fn calendar_at(&self, token_hash: &[u8]) -> Stored<Option<CalendarAt>> {
        use schema::calendar_address as c;
        let row: Option<(i64, i32, i32, i32)> = c::table
            .filter(c::token_hash.eq(token_hash))
            .select((c::id, c::person_id, c::tracker_id, c::view_id))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row.and_then(|(number, person, tracker, view)| {
            let person = crate::team::person_id(person)?;
            Some(CalendarAt { number, person, tracker: tracker_id(tracker)?, view: view_id(view)? })
        }))
    }

    /// Notes that one was looked at.
    pub async fn calendar_looked_at(&self, number: i64, now: Timestamp) -> Stored<()> {
        use schema::calendar_address as c;
        diesel::update(c::table.find(number)).set(c::looked_at.eq(now.to_diesel())).execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// Those that somebody has, the latest first.
    pub async fn calendar_addresses(&self, person: PersonId) -> Stored<Vec<CalendarAddress>> {
        use schema::calendar_address as c;
        type Row = (i64, i32, i32, jiff_diesel::Timestamp, Option<jiff_diesel::Timestamp>);
        let rows: Vec<Row> = c::table
            .filter(c::person_id.eq(int(person.get())))
            .order(c::made_at.desc())
            .select((c::id, c::tracker_id, c::view_id, c::made_at, c::looked_at))
            .load(&mut self.connection().await?)
            .await?;
        let read = |(number, tracker, view, made, looked): Row| {
            let looked = looked.map(|at| at.to_jiff());
            Some(CalendarAddress { number, tracker: tracker_id(tracker)?, view: view_id(view)?, made: made.to_jiff(), looked })
        };
        Ok(rows.into_iter().filter_map(read).collect())
    }

    /// Withdraws one of somebody's: from here on it leads nowhere. Whether there was one.
    pub async fn withdraw_calendar_address(&self, person: PersonId, number: i64) -> Stored<bool> {
        use schema::calendar_address as c;
        let theirs = c::table.find(number).filter(c::person_id.eq(int(person.get())));
        Ok(diesel::delete(theirs).execute(&mut self.connection().await?).await? > 0)
    }
}
