//! What people are told of what others did.

use crate::{Store, Stored, json::Json, json::int, schema};
use diesel::prelude::*;
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use std::collections::BTreeMap;
use westerfall_core::{
    id::{PersonId, TrackerId},
    inbox::{Elsewhere, Notice},
};

/// Most that are told in one go.
const AT_ONCE: i64 = 200;

/// A notice as it is kept.
#[derive(Clone, Debug)]
pub struct NoticeRow {
    pub number: i64,
    pub at: Timestamp,
    /// None: it is about no tracker.
    pub tracker: Option<TrackerId>,
    pub notice: Notice,
    pub read: bool,
}

pub(crate) async fn put_notices(c: &mut AsyncPgConnection, tracker: Option<i32>, at: Timestamp, notices: &[Notice]) -> QueryResult<()> {
    use schema::notice as n;
    let row = |notice: &Notice| {
        (n::person_id.eq(int(notice.to.get())), n::at.eq(at.to_diesel()), n::tracker_id.eq(tracker), n::body.eq(Json(notice.clone())))
    };
    diesel::insert_into(n::table).values(notices.iter().map(row).collect::<Vec<_>>()).execute(c).await?;
    Ok(())
}

impl Store {
    /// Tells somebody of something that is no change of a tracker.
    pub async fn tell(&self, tracker: Option<TrackerId>, notice: &Notice, now: Timestamp) -> Stored<()> {
        let tracker = tracker.map(|tracker| int(tracker.get()));
        Ok(put_notices(&mut *self.connection().await?, tracker, now, std::slice::from_ref(notice)).await?)
    }

    /// What somebody was told, the latest first.
    pub async fn notices(&self, person: PersonId) -> Stored<Vec<NoticeRow>> {
        use schema::notice as n;
        type Row = (i64, jiff_diesel::Timestamp, Option<i32>, Json<Notice>, Option<jiff_diesel::Timestamp>);
        let rows: Vec<Row> = n::table
            .filter(n::person_id.eq(int(person.get())))
            .order(n::id.desc())
            .limit(AT_ONCE)
            .select((n::id, n::at, n::tracker_id, n::body, n::read_at))
            .load(&mut self.connection().await?)
            .await?;
        let row = |(number, at, tracker, body, read): Row| NoticeRow {
            number,
            at: at.to_jiff(),
            tracker: tracker.and_then(|n| u32::try_from(n).ok()).and_then(TrackerId::new),
            notice: body.0,
            read: read.is_some(),
        };
        Ok(rows.into_iter().map(row).collect())
    }

    /// How many of them were not read.
    pub async fn unread(&self, person: PersonId) -> Stored<i64> {
        use schema::notice as n;
        let unread = n::table.filter(n::person_id.eq(int(person.get())).and(n::read_at.is_null())).count();
        Ok(unread.get_result(&mut self.connection().await?).await?)
    }

    /// Marks some of somebody's notices as read, or as not read; none: all of them.
    pub async fn mark_read(&self, person: PersonId, which: Option<&[i64]>, read: Option<Timestamp>) -> Stored<()> {
        use schema::notice as n;
        let mut of = diesel::update(n::table.filter(n::person_id.eq(int(person.get()))))
            .set(n::read_at.eq(read.map(ToDiesel::to_diesel)))
            .into_boxed();
        if let Some(which) = which {
            of = of.filter(n::id.eq_any(which.to_vec()));
        } else {
            of = of.filter(n::read_at.is_null());
        }
        of.execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// What somebody said of when something reaches them elsewhere, too, by its word.
    pub async fn inbox_wishes(&self, person: PersonId) -> Stored<BTreeMap<String, Elsewhere>> {
        use schema::inbox_wish as w;
        let rows: Vec<(String, String)> =
            w::table.filter(w::person_id.eq(int(person.get()))).select((w::word, w::elsewhere)).load(&mut self.connection().await?).await?;
        let read = |(word, kept): (String, String)| Some((word, Elsewhere::ALL.into_iter().find(|one| one.word() == kept)?));
        Ok(rows.into_iter().filter_map(read).collect())
    }

    /// Says when something reaches somebody elsewhere, too.
    pub async fn wish_inbox(&self, person: PersonId, word: &str, elsewhere: Elsewhere) -> Stored<()> {
        use schema::inbox_wish as w;
        diesel::insert_into(w::table)
            .values((w::person_id.eq(int(person.get())), w::word.eq(word), w::elsewhere.eq(elsewhere.word())))
            .on_conflict((w::person_id, w::word))
            .do_update()
            .set(w::elsewhere.eq(elsewhere.word()))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }
}
