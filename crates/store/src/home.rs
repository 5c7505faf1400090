//! What home tells from: when people looked at what, and what they keep on top.

use crate::{Store, Stored, json::int, schema};
use diesel::{prelude::*, upsert::excluded};
use diesel_async::RunQueryDsl;
use jiff_diesel::{Timestamp, ToDiesel};
use std::collections::{BTreeMap, BTreeSet};
use westerfall_core::id::{PersonId, TrackerId};

fn tracker_id(id: i32) -> Option<TrackerId> {
    TrackerId::new(id.try_into().ok()?)
}

impl Store {
    /// Notes that somebody looks at a tracker.
    pub async fn visited(&self, person: PersonId, tracker: TrackerId, at: jiff::Timestamp) -> Stored<()> {
        use schema::visit as v;
        diesel::insert_into(v::table)
            .values((v::person_id.eq(int(person.get())), v::tracker_id.eq(int(tracker.get())), v::at.eq(at.to_diesel())))
            .on_conflict((v::person_id, v::tracker_id))
            .do_update()
            .set(v::at.eq(excluded(v::at)))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// When anybody last looked at each tracker.
    pub async fn last_looked(&self) -> Stored<BTreeMap<TrackerId, jiff::Timestamp>> {
        use schema::visit as v;
        let rows: Vec<(i32, Option<Timestamp>)> =
            v::table.group_by(v::tracker_id).select((v::tracker_id, diesel::dsl::max(v::at))).load(&mut self.connection().await?).await?;
        Ok(rows.into_iter().filter_map(|(id, at)| Some((tracker_id(id)?, at?.to_jiff()))).collect())
    }

    /// When somebody last looked at which tracker.
    pub async fn visits(&self, person: PersonId) -> Stored<Vec<(TrackerId, jiff::Timestamp)>> {
        use schema::visit as v;
        let rows: Vec<(i32, Timestamp)> =
            v::table.filter(v::person_id.eq(int(person.get()))).select((v::tracker_id, v::at)).load(&mut self.connection().await?).await?;
        Ok(rows.into_iter().filter_map(|(id, at)| Some((tracker_id(id)?, at.to_jiff()))).collect())
    }

    /// What somebody keeps on top for themselves.
    pub async fn pins(&self, person: PersonId) -> Stored<BTreeSet<TrackerId>> {
        use schema::pin as p;
        let own = p::table.filter(p::person_id.eq(int(person.get()))).select(p::tracker_id);
        let rows: Vec<i32> = own.load(&mut self.connection().await?).await?;
        Ok(rows.into_iter().filter_map(tracker_id).collect())
    }

    /// Keeps a tracker on top for somebody, or no more.
    pub async fn pin(&self, person: PersonId, tracker: TrackerId, on: bool) -> Stored<()> {
        use schema::pin as p;
        let mut connection = self.connection().await?;
        let (person, tracker) = (int(person.get()), int(tracker.get()));
        if on {
            let own = (p::person_id.eq(person), p::tracker_id.eq(tracker));
            diesel::insert_into(p::table).values(own).on_conflict_do_nothing().execute(&mut connection).await?;
        } else {
            diesel::delete(p::table.find((person, tracker))).execute(&mut connection).await?;
        }
        Ok(())
    }
}
