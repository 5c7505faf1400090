//! Forms: their public addresses, the private ones of answers, and how often they were opened, sent and left.

use crate::{Store, Stored, json::int, schema};
use diesel::{prelude::*, upsert::excluded};
use diesel_async::RunQueryDsl;
use jiff_diesel::ToDiesel;
use std::collections::BTreeMap;
use westerfall_core::id::{FormId, RecordId, TableId, TrackerId};

/// What came to a form by a call or a mail.
#[derive(Clone, Debug, Queryable)]
pub struct WayLine {
    #[diesel(deserialize_as = jiff_diesel::Timestamp)]
    pub at: jiff::Timestamp,
    /// `call` or `mail`.
    pub way: String,
    pub record: Option<i32>,
    /// Why it was refused; empty where it was taken.
    pub note: String,
}

impl Store {
    /// Notes what came to a form by a call or a mail.
    pub async fn note_way(&self, tracker: TrackerId, form: FormId, way: &str, record: Option<RecordId>, note: &str) -> Stored<()> {
        use schema::way_log as w;
        diesel::insert_into(w::table)
            .values((
                w::tracker_id.eq(int(tracker.get())),
                w::form_id.eq(int(form.get())),
                w::at.eq(jiff::Timestamp::now().to_diesel()),
                w::way.eq(way),
                w::record_id.eq(record.map(|r| int(r.get()))),
                w::note.eq(note),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// The last that came to a form by calls and mails, latest first.
    pub async fn ways_log(&self, tracker: TrackerId, form: FormId, most: i64) -> Stored<Vec<WayLine>> {
        use schema::way_log as w;
        Ok(w::table
            .filter(w::tracker_id.eq(int(tracker.get())).and(w::form_id.eq(int(form.get()))))
            .order(w::id.desc())
            .limit(most)
            .select((w::at, w::way, w::record_id, w::note))
            .load(&mut self.connection().await?)
            .await?)
    }

    /// The tracker and form at a public address.
    pub async fn form_at(&self, link: &str) -> Stored<Option<(TrackerId, FormId)>> {
        use schema::form_link;
        let row: Option<(i32, i32)> = form_link::table
            .find(link)
            .select((form_link::tracker_id, form_link::form_id))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row.and_then(|(tracker, form)| Some((TrackerId::new(tracker.try_into().ok()?)?, FormId::new(form.try_into().ok()?)?))))
    }

    /// The record that is followed at a private address, by the hash of its secret.
    pub async fn receipt(&self, hash: &str) -> Stored<Option<(TrackerId, TableId, RecordId)>> {
        use schema::receipt;
        let row: Option<(i32, i32, i32)> = receipt::table
            .find(hash)
            .select((receipt::tracker_id, receipt::table_id, receipt::record_id))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row.and_then(|(tracker, table, record)| {
            let id = |n: i32| u32::try_from(n).ok();
            Some((TrackerId::new(id(tracker)?)?, TableId::new(id(table)?)?, RecordId::new(id(record)?)?))
        }))
    }

    /// Counts something that happened with a form: `opened`, `sent`, or `left` and a field's number.
    pub async fn count_of_form(&self, tracker: TrackerId, form: FormId, what: &str) -> Stored<()> {
        use schema::form_count as c;
        diesel::insert_into(c::table)
            .values((c::tracker_id.eq(int(tracker.get())), c::form_id.eq(int(form.get())), c::what.eq(what), c::number.eq(1_i64)))
            .on_conflict((c::tracker_id, c::form_id, c::what))
            .do_update()
            .set(c::number.eq(c::number + excluded(c::number)))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// What was counted of a form.
    pub async fn counts_of_form(&self, tracker: TrackerId, form: FormId) -> Stored<BTreeMap<String, u64>> {
        use schema::form_count as c;
        let rows: Vec<(String, i64)> = c::table
            .filter(c::tracker_id.eq(int(tracker.get())).and(c::form_id.eq(int(form.get()))))
            .select((c::what, c::number))
            .load(&mut self.connection().await?)
            .await?;
        Ok(rows.into_iter().map(|(what, number)| (what, number.unsigned_abs())).collect())
    }
}
