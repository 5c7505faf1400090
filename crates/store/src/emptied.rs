//! What is gone for good: records emptied out of the bin, with all that the log still told of them, and files that nothing holds any more.

use crate::{
    Store, Stored,
    json::{Json, Raw, int},
    schema,
};
use diesel::{prelude::*, sql_types};
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use westerfall_core::{
    history::{Change, Op},
    id::{RecordId, TableId, TrackerId},
    upgrade::{FORMAT, Kept},
};

/// Most records, and most files, that are looked at in one round.
const ROUND: i64 = 500;

/// A record that has lain in the bin for long.
#[derive(QueryableByName)]
struct Due {
    #[diesel(sql_type = sql_types::Integer)]
    tracker_id: i32,
    #[diesel(sql_type = sql_types::Integer)]
    table_id: i32,
    #[diesel(sql_type = sql_types::Integer)]
    record_id: i32,
}

fn number<T>(id: i32, new: fn(u32) -> Option<T>) -> Option<T> {
    u32::try_from(id).ok().and_then(new)
}

/// The records of a tracker that were emptied out of its bin.
pub(crate) async fn load_emptied(c: &mut AsyncPgConnection, tracker: i32) -> QueryResult<Vec<(TableId, RecordId)>> {
    use schema::emptied as e;
    let rows: Vec<(i32, i32)> = e::table.filter(e::tracker_id.eq(tracker)).select((e::table_id, e::record_id)).load(c).await?;
    Ok(rows.into_iter().filter_map(|(table, record)| Some((number(table, TableId::new)?, number(record, RecordId::new)?))).collect())
}

/// Keeps that a record was emptied out: what was said of it goes, its files are let go, and the log tells nothing of it any more.
pub(crate) async fn empty_out(c: &mut AsyncPgConnection, tracker: i32, table: TableId, record: RecordId) -> QueryResult<()> {
    use schema::{attention, comment, emptied, file};
    let at = (tracker, int(table.get()), int(record.get()));
    let row = (emptied::tracker_id.eq(at.0), emptied::table_id.eq(at.1), emptied::record_id.eq(at.2));
    diesel::insert_into(emptied::table).values(row).on_conflict_do_nothing().execute(c).await?;
    let of = comment::tracker_id.eq(at.0).and(comment::table_id.eq(at.1)).and(comment::record_id.eq(at.2));
    diesel::delete(comment::table.filter(of)).execute(c).await?;
    let of = attention::tracker_id.eq(at.0).and(attention::table_id.eq(at.1)).and(attention::record_id.eq(at.2));
    diesel::delete(attention::table.filter(of)).execute(c).await?;
    let of = file::tracker_id.eq(at.0).and(file::table_id.eq(at.1)).and(file::record_id.eq(at.2));
    diesel::update(file::table.filter(of)).set(file::let_go_at.eq(Some(Timestamp::UNIX_EPOCH.to_diesel()))).execute(c).await?;
    forget_in_log(c, at, table, record).await
}

async fn forget_in_log(c: &mut AsyncPgConnection, at: (i32, i32, i32), table: TableId, record: RecordId) -> QueryResult<()> {
    use schema::{change, sheaf, touched};
    let of = touched::tracker_id.eq(at.0).and(touched::table_id.eq(at.1)).and(touched::record_id.eq(at.2));
    let seqs: Vec<i64> = touched::table.filter(of).select(touched::seq).load(c).await?;
    for seq in seqs {
        let row = change::table.find((at.0, seq)).select((change::body, change::format)).first::<(Raw, i16)>(c).await.optional()?;
        // What can't be read any more stays as it is: nobody reads it.
        let Some(Ok(mut body)) = row.map(|(body, format)| body.read::<Change>(Kept::Change, format)) else { continue };
        body.ops.retain_mut(|op| op.forget(table, record));
        let set = (change::body.eq(Json(&body)), change::format.eq(FORMAT));
        diesel::update(change::table.find((at.0, seq))).set(set).execute(c).await?;
    }
    let of = sheaf::tracker_id.eq(at.0).and(sheaf::table_id.eq(at.1)).and(sheaf::first_record.le(at.2)).and(sheaf::last_record.ge(at.2));
    let sheaves: Vec<(i64, i32, Raw, i16)> =
        sheaf::table.filter(of).select((sheaf::seq, sheaf::place, sheaf::op, sheaf::format)).load(c).await?;
    for (seq, place, op, format) in sheaves {
        let Ok(mut op) = op.read::<Op>(Kept::Op, format) else { continue };
        op.forget(table, record);
        let set = (sheaf::op.eq(Json(&op)), sheaf::format.eq(FORMAT));
        diesel::update(sheaf::table.find((at.0, seq, place))).set(set).execute(c).await?;
    }
    Ok(())
}

impl Store {
    /// Records that have lain in the bin since before a moment, of any tracker.
    pub async fn lain_since(&self, before: Timestamp) -> Stored<Vec<(TrackerId, TableId, RecordId)>> {
        let due: Vec<Due> = diesel::sql_query(
            "SELECT r.tracker_id, r.table_id, r.record_id FROM record r
             WHERE r.gone AND r.changed_at < $1 AND NOT EXISTS (
                 SELECT 1 FROM emptied e WHERE (e.tracker_id, e.table_id, e.record_id) = (r.tracker_id, r.table_id, r.record_id)
             ) ORDER BY r.tracker_id, r.changed_at LIMIT $2",
        )
        .bind::<sql_types::Timestamptz, _>(before.to_diesel())
        .bind::<sql_types::BigInt, _>(ROUND)
        .load(&mut self.connection().await?)
        .await?;
        let at = |due: Due| {
            let tracker = number(due.tracker_id, TrackerId::new)?;
            Some((tracker, number(due.table_id, TableId::new)?, number(due.record_id, RecordId::new)?))
        };
        Ok(due.into_iter().filter_map(at).collect())
    }

    /// Files that no cell has held since before a moment: their ids, and the tables in which they hung.
    pub async fn let_go_since(&self, before: Timestamp) -> Stored<Vec<(String, TrackerId, TableId)>> {
        use schema::file as f;
        let rows: Vec<(String, i32, i32)> = f::table
            .filter(f::let_go_at.lt(before.to_diesel()))
            .order(f::let_go_at)
            .limit(ROUND)
            .select((f::id, f::tracker_id, f::table_id))
            .load(&mut self.connection().await?)
            .await?;
        let at = |(id, tracker, table)| Some((id, number(tracker, TrackerId::new)?, number(table, TableId::new)?));
        Ok(rows.into_iter().filter_map(at).collect())
    }

    /// A file that was let go is held after all.
    pub async fn hold_file(&self, id: &str) -> Stored<()> {
        use schema::file as f;
        let none: Option<jiff_diesel::Timestamp> = None;
        diesel::update(f::table.filter(f::id.eq(id))).set(f::let_go_at.eq(none)).execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// Forgets a file of which nothing is left, and what stood in it.
    pub async fn forget_file(&self, id: &str) -> Stored<()> {
        use schema::{file, file_text};
        let mut connection = self.connection().await?;
        diesel::delete(file_text::table.filter(file_text::file_id.eq(id))).execute(&mut connection).await?;
        diesel::delete(file::table.filter(file::id.eq(id))).execute(&mut connection).await?;
        Ok(())
    }
}
