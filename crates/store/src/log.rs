//! The log: changes as they were decided. Operations on many records at once stand beside their change, as *sheaves*: it is
//! the only place where they are kept, until they are bound into the records.

use crate::{
    Store, Stored, TalkAt, Write,
    json::{Json, Raw, int},
    schema,
};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use std::{
    collections::{BTreeMap, BTreeSet, HashMap},
    ops::Range,
};
use westerfall_core::{
    dataset::Dataset,
    history::{Change, Op},
    id::{PersonId, RecordId, TableId, TrackerId},
    people::Actor,
    upgrade::{FORMAT, Kept},
};

/// An operation on many records, to be kept.
#[derive(Insertable)]
#[diesel(table_name = schema::sheaf)]
struct NewSheaf<'a> {
    tracker_id: i32,
    seq: i64,
    place: i32,
    table_id: i32,
    first_record: i32,
    last_record: i32,
    op: Json<&'a Op>,
    open: bool,
    format: i16,
}

/// A place in the log as the database counts.
fn logged(seq: u64) -> i64 {
    i64::try_from(seq).unwrap_or(i64::MAX)
}

/// Records of one transaction of [`Store::bind`]: a moment's work, since edits wait for it.
const BOUND_AT_ONCE: usize = 2_000;

/// The change as its row of the log holds it: without what stands in sheaves.
pub(crate) fn body(change: &Change) -> Change {
    let ops = change.ops.iter().filter(|op| !op.is_bulk()).cloned().collect();
    Change { seq: change.seq, at: change.at, who: change.who, undoes: change.undoes, again: change.again, ops }
}

/// The change whole, from its row and its sheaves.
fn whole(mut change: Change, sheaves: Vec<(i32, Op)>) -> Change {
    for (place, op) in sheaves {
        let place = usize::try_from(place).unwrap_or(0).min(change.ops.len());
        change.ops.insert(place, op);
    }
    change
}

impl<'a> NewSheaf<'a> {
    fn new(tracker: i32, seq: u64, place: usize, op: &'a Op) -> Option<Self> {
        let (table, first, last) = op.span()?;
        Some(Self {
            tracker_id: tracker,
            seq: seq.cast_signed(),
            place: i32::try_from(place).ok()?,
            table_id: int(table.get()),
            first_record: int(first.get()),
            last_record: int(last.get()),
            op: Json(op),
            open: true,
            format: FORMAT,
        })
    }
}

/// Keeps what the bodies of changes leave out.
pub(crate) async fn put_sheaves(c: &mut AsyncPgConnection, tracker: i32, writes: &[Write]) -> QueryResult<()> {
    for Write { change, .. } in writes {
        let bulk = change.ops.iter().enumerate().filter(|(_, op)| op.is_bulk());
        let sheaves: Vec<_> = bulk.filter_map(|(place, op)| NewSheaf::new(tracker, change.seq, place, op)).collect();
        if !sheaves.is_empty() {
            diesel::insert_into(schema::sheaf::table).values(&sheaves).execute(c).await?;
        }
    }
    Ok(())
}

/// The changes of which sheaves are open, with nothing but those, in order.
pub(crate) async fn open_sheaves(c: &mut AsyncPgConnection, tracker: i32) -> Stored<Vec<Change>> {
    use schema::{change, sheaf};
    let rows: Vec<(i64, Raw, i16)> = sheaf::table
        .filter(sheaf::tracker_id.eq(tracker).and(sheaf::open))
        .order((sheaf::seq, sheaf::place))
        .select((sheaf::seq, sheaf::op, sheaf::format))
        .load(c)
        .await?;
    let seqs: BTreeSet<i64> = rows.iter().map(|(seq, ..)| *seq).collect();
    let bodies: Vec<(i64, Raw, i16)> = change::table
        .filter(change::tracker_id.eq(tracker).and(change::seq.eq_any(seqs)))
        .select((change::seq, change::body, change::format))
        .load(c)
        .await?;
    let mut changes: BTreeMap<i64, Change> = BTreeMap::new();
    for (seq, body, format) in bodies {
        changes.insert(seq, Change { ops: Vec::new(), ..body.read(Kept::Change, format)? });
    }
    for (seq, op, format) in rows {
        if let Some(change) = changes.get_mut(&seq) {
            change.ops.push(op.read(Kept::Op, format)?);
        }
    }
    Ok(changes.into_values().collect())
}

impl Store {
    /// The changes after a point of the log, in order.
    pub async fn changes_since(&self, tracker: TrackerId, seq: u64) -> Stored<Vec<Change>> {
        use schema::change;
        let mut connection = self.connection().await?;
        let rows: Vec<(Raw, i16)> = change::table
            .filter(change::tracker_id.eq(int(tracker.get())).and(change::seq.gt(seq.cast_signed())))
            .order(change::seq)
            .select((change::body, change::format))
            .load(&mut connection)
            .await?;
        let mut changes = Vec::with_capacity(rows.len());
        for (body, format) in rows {
            changes.push(with_sheaves(&mut connection, tracker, body.read(Kept::Change, format)?).await?);
        }
        Ok(changes)
    }

    /// What was done since a moment, the latest first; at most so many.
    pub async fn changes_after(&self, tracker: TrackerId, since: jiff::Timestamp, most: i64) -> Stored<Vec<Change>> {
        use jiff_diesel::ToDiesel;
        use schema::change;
        let mut connection = self.connection().await?;
        let rows: Vec<(Raw, i16)> = change::table
            .filter(change::tracker_id.eq(int(tracker.get())).and(change::at.ge(since.to_diesel())))
            .order(change::seq.desc())
            .limit(most)
            .select((change::body, change::format))
            .load(&mut connection)
            .await?;
        let mut changes = Vec::with_capacity(rows.len());
        for (body, format) in rows {
            changes.push(with_sheaves(&mut connection, tracker, body.read(Kept::Change, format)?).await?);
        }
        Ok(changes)
    }

    /// One change of the log.
    pub async fn change(&self, tracker: TrackerId, seq: u64) -> Stored<Option<Change>> {
        use schema::change;
        let mut connection = self.connection().await?;
        let row: Option<(Raw, i16)> = change::table
            .find((int(tracker.get()), seq.cast_signed()))
            .select((change::body, change::format))
            .first(&mut connection)
            .await
            .optional()?;
        match row {
            Some((body, format)) => Ok(Some(with_sheaves(&mut connection, tracker, body.read(Kept::Change, format)?).await?)),
            None => Ok(None),
        }
    }

    /// The last of these changes that touched a record, latest first, at most so many; of those on many records, the part that holds
    /// this one.
    pub async fn trail(&self, of: TalkAt, seqs: Range<u64>, most: usize) -> Stored<Vec<Change>> {
        use schema::{change, sheaf, touched};
        let mut connection = self.connection().await?;
        let (tracker, table, record) = of.keys();
        let (from, until) = (logged(seqs.start), logged(seqs.end));
        let limit = i64::try_from(most).unwrap_or(i64::MAX);
        let mut touching: Vec<i64> = touched::table
            .filter(touched::tracker_id.eq(tracker).and(touched::table_id.eq(table)).and(touched::record_id.eq(record)))
            .filter(touched::seq.ge(from).and(touched::seq.lt(until)))
            .order(touched::seq.desc())
            .limit(limit)
            .select(touched::seq)
            .load(&mut connection)
            .await?;
        let holding = sheaf::tracker_id.eq(tracker).and(sheaf::table_id.eq(table));
        let holding = holding.and(sheaf::first_record.le(record)).and(sheaf::last_record.ge(record));
        let among: Vec<i64> = sheaf::table
            .filter(holding)
            .filter(sheaf::seq.ge(from).and(sheaf::seq.lt(until)))
            .order(sheaf::seq.desc())
            .limit(limit)
            .select(sheaf::seq)
            .distinct()
            .load(&mut connection)
            .await?;
        touching.extend(among);
        touching.sort_unstable_by_key(|seq| std::cmp::Reverse(*seq));
        touching.dedup();
        touching.truncate(most);
        let sheaves: Vec<(i64, i32, Raw, i16)> = sheaf::table
            .filter(holding)
            .filter(sheaf::seq.eq_any(&touching))
            .order((sheaf::seq.desc(), sheaf::place))
            .select((sheaf::seq, sheaf::place, sheaf::op, sheaf::format))
            .load(&mut connection)
            .await?;
        let mut parts: BTreeMap<i64, Vec<(i32, Op)>> = BTreeMap::new();
        for (seq, place, op, format) in sheaves {
            parts.entry(seq).or_default().push((place, op.read(Kept::Op, format)?));
        }
        let bodies: Vec<(i64, Raw, i16)> = change::table
            .filter(change::tracker_id.eq(tracker).and(change::seq.eq_any(&touching)))
            .order(change::seq.desc())
            .select((change::seq, change::body, change::format))
            .load(&mut connection)
            .await?;
        let whole = |(seq, body, format): (i64, Raw, i16)| {
            let change = body.read(Kept::Change, format)?;
            Ok(whole(change, parts.remove(&seq).unwrap_or_default()))
        };
        bodies.into_iter().map(whole).collect()
    }

    /// The answers that requests with these keys got, of those that were taken.
    pub async fn answers(&self, tracker: TrackerId, keys: &[&str]) -> Stored<HashMap<String, serde_json::Value>> {
        use schema::change;
        let rows: Vec<(Option<String>, Option<Json<serde_json::Value>>)> = change::table
            .filter(change::tracker_id.eq(int(tracker.get())).and(change::key.eq_any(keys)))
            .select((change::key, change::answer))
            .load(&mut self.connection().await?)
            .await?;
        Ok(rows.into_iter().filter_map(|(key, answer)| Some((key?, answer?.0))).collect())
    }

    /// Whether anybody but this person has touched a record that a change made, since that change.
    pub async fn touched_by_others(&self, tracker: TrackerId, change: &Change, person: PersonId) -> Stored<bool> {
        use schema::{change as log, touched};
        let made: Vec<(TableId, RecordId, RecordId)> =
            change.ops.iter().filter(|op| matches!(op, Op::Add { .. } | Op::Rows(_))).filter_map(Op::span).collect();
        let mut connection = self.connection().await?;
        let id = int(tracker.get());
        for (table, first, last) in made {
            let of_it = touched::tracker_id.eq(id).and(touched::table_id.eq(int(table.get())));
            let within = touched::record_id.between(int(first.get()), int(last.get())).and(touched::seq.gt(change.seq.cast_signed()));
            let seqs: Vec<i64> = touched::table.filter(of_it.and(within)).select(touched::seq).distinct().load(&mut connection).await?;
            let bodies: Vec<(Raw, i16)> = log::table
                .filter(log::tracker_id.eq(id).and(log::seq.eq_any(seqs)))
                .select((log::body, log::format))
                .load(&mut connection)
                .await?;
            for (body, format) in bodies {
                let change: Change = body.read(Kept::Change, format)?;
                if change.who != Actor::Person(person) {
                    return Ok(true);
                }
            }
        }
        Ok(false)
    }

    /// How many records' worth of operations has to be read again whenever the tracker is loaded.
    pub async fn unbound(&self, tracker: TrackerId) -> Stored<u64> {
        use schema::sheaf;
        let spans: Vec<(i32, i32)> = sheaf::table
            .filter(sheaf::tracker_id.eq(int(tracker.get())).and(sheaf::open))
            .select((sheaf::first_record, sheaf::last_record))
            .load(&mut self.connection().await?)
            .await?;
        Ok(spans.into_iter().map(|(first, last)| u64::try_from(last - first).unwrap_or(0) + 1).sum())
    }

    /// Binds sheaves into the records, as they are in this state, so that loading need not read them again. Can be cut off at
    /// any moment: a record's row that is as of a later change is left, and a sheaf is closed only when all it touched is kept.
    pub async fn bind(&self, tracker: TrackerId, state: &Dataset) -> Stored<()> {
        use schema::sheaf;
        let id = int(tracker.get());
        let mut connection = self.connection().await?;
        let changes = open_sheaves(&mut connection, id).await?;
        let known = changes.iter().filter(|change| change.seq <= state.seq);
        let of = known.flat_map(|change| change.ops.iter().filter_map(Op::records));
        let records: BTreeSet<_> = of.flat_map(|(table, records)| records.into_iter().map(move |record| (table, record))).collect();
        let records: Vec<_> = records.into_iter().collect();
        for lot in records.chunks(BOUND_AT_ONCE) {
            let put = async |c: &mut AsyncPgConnection| {
                // Commits of the tracker take the same lock, so neither waits for the other's rows in another order.
                let _: i64 = schema::tracker::table.find(id).select(schema::tracker::seq).for_update().first(c).await?;
                crate::records::put_records(c, id, state, lot).await
            };
            (*connection).transaction(put).await?;
        }
        diesel::update(sheaf::table.filter(sheaf::tracker_id.eq(id).and(sheaf::seq.le(state.seq.cast_signed()))))
            .set(sheaf::open.eq(false))
            .execute(&mut connection)
            .await?;
        Ok(())
    }
}

async fn with_sheaves(c: &mut AsyncPgConnection, tracker: TrackerId, body: Change) -> Stored<Change> {
    use schema::sheaf;
    let sheaves: Vec<(i32, Raw, i16)> = sheaf::table
        .filter(sheaf::tracker_id.eq(int(tracker.get())).and(sheaf::seq.eq(body.seq.cast_signed())))
        .order(sheaf::place)
        .select((sheaf::place, sheaf::op, sheaf::format))
        .load(c)
        .await?;
    let mut ops = Vec::with_capacity(sheaves.len());
    for (place, op, format) in sheaves {
        ops.push((place, op.read(Kept::Op, format)?));
    }
    Ok(whole(body, ops))
}
