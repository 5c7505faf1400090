//! What mails ask of their readers, and how it was answered.

use crate::{Store, Stored, json::Json, json::int, schema};
use diesel::prelude::*;
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use westerfall_core::{
    automation::{Asked, Message},
    id::{PersonId, TrackerId},
};

/// A question that a mail asked.
#[derive(Clone, Debug)]
pub struct ReplyRow {
    /// The mail's number, and so the question's.
    pub number: i64,
    pub tracker: TrackerId,
    pub asked: Asked,
    /// Why its reader has it.
    pub why: String,
    /// The change by which it was answered.
    pub answered: Option<u64>,
}

type Row = (i64, i32, Json<Message>, Option<i64>);

fn read((number, tracker, mail, answered): Row) -> Option<ReplyRow> {
    let tracker = u32::try_from(tracker).ok().and_then(TrackerId::new)?;
    Some(ReplyRow { number, tracker, why: mail.0.why, asked: *mail.0.asks?, answered: answered.and_then(|seq| u64::try_from(seq).ok()) })
}

/// Most that wait and are told in one go.
const AT_ONCE: i64 = 50;

/// Keeps what queued mails ask.
pub(crate) async fn put_asked(c: &mut AsyncPgConnection, tracker: i32, asked: &[(i64, &Asked)]) -> QueryResult<()> {
    use schema::reply as r;
    let row = |(job, asked): &(i64, &Asked)| {
        (
            r::job_id.eq(*job),
            r::tracker_id.eq(tracker),
            r::table_id.eq(int(asked.table.get())),
            r::record_id.eq(int(asked.record.get())),
            r::person_id.eq(asked.person.map(|person| int(person.get()))),
            r::until.eq(asked.until.to_diesel()),
        )
    };
    diesel::insert_into(r::table).values(asked.iter().map(row).collect::<Vec<_>>()).execute(c).await?;
    Ok(())
}

/// Notes an answer, in the transaction of the change that it is.
pub(crate) async fn put_answer(c: &mut AsyncPgConnection, number: i64, seq: u64, at: Timestamp, words: &str) -> QueryResult<()> {
    use schema::reply as r;
    diesel::update(r::table.find(number))
        .set((r::answered_seq.eq(seq.cast_signed()), r::answered_at.eq(at.to_diesel()), r::words.eq(words)))
        .execute(c)
        .await?;
    Ok(())
}

impl Store {
    /// Gives a mail's question another link, known by the hash of its token.
    pub async fn give_reply_token(&self, number: i64, token_hash: &[u8]) -> Stored<()> {
        use schema::reply_token as t;
        diesel::insert_into(t::table)
            .values((t::token_hash.eq(token_hash), t::job_id.eq(number)))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// The question at a link.
    pub async fn reply_at(&self, token_hash: &[u8]) -> Stored<Option<ReplyRow>> {
        use schema::{job, reply as r, reply_token as t};
        let row: Option<Row> = t::table
            .inner_join(r::table.on(r::job_id.eq(t::job_id)))
            .inner_join(job::table.on(job::id.eq(t::job_id)))
            .filter(t::token_hash.eq(token_hash))
            .select((r::job_id, r::tracker_id, job::mail, r::answered_seq))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row.and_then(read))
    }

    /// A question by its number.
    pub async fn reply(&self, number: i64) -> Stored<Option<ReplyRow>> {
        use schema::{job, reply as r};
        let row: Option<Row> = r::table
            .inner_join(job::table.on(job::id.eq(r::job_id)))
            .filter(r::job_id.eq(number))
            .select((r::job_id, r::tracker_id, job::mail, r::answered_seq))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row.and_then(read))
    }

    /// What waits for somebody's answer, the latest first.
    pub async fn open_replies(&self, person: PersonId, now: Timestamp) -> Stored<Vec<ReplyRow>> {
        use schema::{job, reply as r};
        let rows: Vec<Row> = r::table
            .inner_join(job::table.on(job::id.eq(r::job_id)))
            .filter(r::person_id.eq(int(person.get())).and(r::until.gt(now.to_diesel())).and(r::answered_seq.is_null()))
            .order(r::job_id.desc())
            .limit(AT_ONCE)
            .select((r::job_id, r::tracker_id, job::mail, r::answered_seq))
            .load(&mut self.connection().await?)
            .await?;
        Ok(rows.into_iter().filter_map(read).collect())
    }

    /// The messages that went out by a change of a tracker.
    pub async fn told_by(&self, tracker: TrackerId, seq: u64) -> Stored<Vec<Message>> {
        use schema::{job, run};
        let mails: Vec<Json<Message>> = run::table
            .inner_join(job::table.on(job::tracker_id.eq(run::tracker_id).and(job::run_id.eq(run::id))))
            .filter(run::tracker_id.eq(int(tracker.get())).and(run::seq.eq(seq.cast_signed())))
            .order(job::id)
            .select(job::mail)
            .load(&mut self.connection().await?)
            .await?;
        Ok(mails.into_iter().map(|mail| mail.0).collect())
    }
}
