//! What people said about records, how far each has read it, and which records they follow.

use crate::{
    Store, StoreError, Stored,
    json::{Json, Raw, int},
    schema::{attention as a, comment as t},
};
use diesel::{prelude::*, query_dsl::methods, upsert::excluded};
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use westerfall_core::{
    id::{CommentId, PersonId, RecordId, TableId, TrackerId},
    talk::Comment,
    upgrade::{FORMAT, Kept},
};

/// A record of a tracker.
#[derive(Clone, Copy, Debug)]
pub struct TalkAt {
    pub tracker: TrackerId,
    pub table: TableId,
    pub record: RecordId,
}

impl TalkAt {
    pub(crate) fn keys(self) -> (i32, i32, i32) {
        (int(self.tracker.get()), int(self.table.get()), int(self.record.get()))
    }
}

/// What somebody has to do with the talk of a record.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Attention {
    /// The last comment that they read.
    pub read: Option<CommentId>,
    /// Whether they want to hear of what is said.
    pub follows: bool,
}

fn number(n: i32) -> Option<u32> {
    u32::try_from(n).ok()
}

/// All that was said in a tracker.
pub(crate) async fn load_talk(c: &mut AsyncPgConnection, tracker: i32) -> Stored<Vec<(TableId, RecordId, Comment)>> {
    let rows: Vec<(i32, i32, Raw, i16)> =
        t::table.filter(t::tracker_id.eq(tracker)).select((t::table_id, t::record_id, t::body, t::format)).load(c).await?;
    let comment = |(table, record, body, format): (i32, i32, Raw, i16)| {
        let at = number(table).and_then(TableId::new).zip(number(record).and_then(RecordId::new));
        let comment = body.read(Kept::Comment, format).inspect_err(|why| tracing::error!(tracker, %why, "a comment can’t be read"));
        at.zip(comment.ok()).map(|((table, record), comment)| (table, record, comment))
    };
    Ok(rows.into_iter().filter_map(comment).collect())
}

/// Keeps what is said under a number from now on; nothing: nobody ever said it.
pub(crate) async fn put_comment(
    c: &mut AsyncPgConnection,
    tracker: i32,
    (table, record): (TableId, RecordId),
    before: Option<&Comment>,
    after: Option<&Comment>,
) -> QueryResult<()> {
    let (table, record) = (int(table.get()), int(record.get()));
    let Some(after) = after else {
        let Some(gone) = before else { return Ok(()) };
        diesel::delete(t::table.find((tracker, table, record, int(gone.id.get())))).execute(c).await?;
        return Ok(());
    };
    let row = (
        t::tracker_id.eq(tracker),
        t::table_id.eq(table),
        t::record_id.eq(record),
        t::comment_id.eq(int(after.id.get())),
        t::body.eq(Json(after)),
        t::format.eq(FORMAT),
    );
    diesel::insert_into(t::table)
        .values(row)
        .on_conflict((t::tracker_id, t::table_id, t::record_id, t::comment_id))
        .do_update()
        .set((t::body.eq(excluded(t::body)), t::format.eq(excluded(t::format))))
        .execute(c)
        .await?;
    Ok(())
}

impl Store {
    /// How far somebody has read, and whether they follow.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn attention(&self, at: TalkAt, person: PersonId) -> Stored<Attention> {
        let (tracker, table, record) = at.keys();
        let own = a::table.find((tracker, table, record, int(person.get()))).select((a::last_read, a::follows));
        let row: Option<(i32, bool)> = own.first(&mut self.connection().await?).await.optional()?;
        Ok(row.map_or_else(Attention::default, |(last, follows)| Attention { read: number(last).and_then(CommentId::new), follows }))
    }

    /// Notes how far somebody has read: further than before, or nothing.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn has_read(&self, at: TalkAt, person: PersonId, last: CommentId) -> Stored<()> {
        let (tracker, table, record) = at.keys();
        let row = (
            a::tracker_id.eq(tracker),
            a::table_id.eq(table),
            a::record_id.eq(record),
            a::person_id.eq(int(person.get())),
            a::last_read.eq(int(last.get())),
        );
        let put = diesel::insert_into(a::table)
            .values(row)
            .on_conflict((a::tracker_id, a::table_id, a::record_id, a::person_id))
            .do_update()
            .set(a::last_read.eq(excluded(a::last_read)));
        methods::FilterDsl::filter(put, a::last_read.lt(excluded(a::last_read))).execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// Somebody follows a record, or no more.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn follow(&self, at: TalkAt, person: PersonId, on: bool) -> Stored<()> {
        let (tracker, table, record) = at.keys();
        let row = (
            a::tracker_id.eq(tracker),
            a::table_id.eq(table),
            a::record_id.eq(record),
            a::person_id.eq(int(person.get())),
            a::follows.eq(on),
        );
        diesel::insert_into(a::table)
            .values(row)
            .on_conflict((a::tracker_id, a::table_id, a::record_id, a::person_id))
            .do_update()
            .set(a::follows.eq(on))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Those who follow a record.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn followers(&self, at: TalkAt) -> Result<Vec<PersonId>, StoreError> {
        let (tracker, table, record) = at.keys();
        let of = a::table.filter(a::tracker_id.eq(tracker).and(a::table_id.eq(table)).and(a::record_id.eq(record)).and(a::follows));
        let rows: Vec<i32> = of.select(a::person_id).load(&mut self.connection().await?).await?;
        Ok(rows.into_iter().filter_map(|person| PersonId::new(number(person)?)).collect())
    }
}
