//! Trackers: loading one whole, and committing changes of it.

use crate::{
    Store, StoreError, Stored,
    emptied::{empty_out, load_emptied},
    inbox::put_notices,
    json::{Json, Raw, int},
    log::{body, open_sheaves, put_sheaves},
    places::{load_places, put_places},
    records::RecordRow,
    replies::put_answer,
    runs::{load_came, put_came, put_run},
    schema,
    talk::{load_talk, put_comment},
};
use diesel::{prelude::*, upsert::excluded};
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use jiff::tz::TimeZone;
use jiff_diesel::{Date, ToDiesel};
use std::{
    collections::{BTreeMap, BTreeSet},
    sync::Arc,
};
use westerfall_core::{
    access::Role,
    automation::Run,
    dataset::{Dataset, SetAside},
    form::Arrival,
    history::{Change, Op, Rows},
    id::{FieldId, RecordId, TableId, TrackerId},
    inbox::Notice,
    part::{Part, Sort},
    people::People,
    schema::TrackerDef,
    upgrade::{FORMAT, Kept},
    value::{Attachment, Value},
    view::View,
};

/// One decided change, with what it causes.
#[derive(Debug)]
pub struct Write {
    pub change: Change,
    pub runs: Vec<Run>,
    /// Whom it tells what.
    pub notices: Vec<Notice>,
    /// The sender's key, and the answer that they get, now and when they send it again.
    pub key: Option<String>,
    pub answer: serde_json::Value,
}

/// Where a file hangs.
#[derive(Clone, Debug, Queryable)]
pub struct FileRow {
    tracker: i32,
    table: i32,
    record: i32,
    field: Option<i32>,
    pub name: String,
    pub media: String,
}

impl FileRow {
    /// The cell that holds it; without a field, the talk of the record.
    pub fn place(&self) -> Option<(TrackerId, TableId, RecordId, Option<FieldId>)> {
        let number = |n: i32| u32::try_from(n).unwrap_or(0);
        Some((
            TrackerId::new(number(self.tracker))?,
            TableId::new(number(self.table))?,
            RecordId::new(number(self.record))?,
            self.field.and_then(|field| FieldId::new(number(field))),
        ))
    }
}

impl Store {
    /// Every tracker there is.
    pub async fn trackers(&self) -> Stored<Vec<TrackerId>> {
        let ids: Vec<i32> =
            schema::tracker::table.select(schema::tracker::id).order(schema::tracker::id).load(&mut self.connection().await?).await?;
        Ok(ids.into_iter().filter_map(|id| TrackerId::new(id.try_into().ok()?)).collect())
    }

    /// Where each of these trackers stands.
    pub async fn seqs(&self, trackers: &[TrackerId]) -> Stored<Vec<(TrackerId, u64)>> {
        use schema::tracker as t;
        let ids: Vec<i32> = trackers.iter().map(|id| int(id.get())).collect();
        let rows: Vec<(i32, i64)> = t::table.filter(t::id.eq_any(ids)).select((t::id, t::seq)).load(&mut self.connection().await?).await?;
        Ok(rows.into_iter().filter_map(|(id, seq)| Some((TrackerId::new(id.try_into().ok()?)?, seq.try_into().ok()?))).collect())
    }

    /// The roles of all trackers. One that can't be read gives nobody anything.
    pub async fn roles(&self) -> Stored<Vec<(TrackerId, Role)>> {
        use schema::part as p;
        let of_roles = p::table.filter(p::sort.eq(Role::SORT)).select((p::tracker_id, p::body, p::format));
        let rows: Vec<(i32, Raw, i16)> = of_roles.load(&mut self.connection().await?).await?;
        let role = |(tracker, body, format): (i32, Raw, i16)| match body.read(Kept::Part, format) {
            Ok(Part::Role(role)) => Some((TrackerId::new(tracker.try_into().ok()?)?, role)),
            _ => None,
        };
        Ok(rows.into_iter().filter_map(role).collect())
    }

    /// The views of all trackers that are given to somebody by themselves.
    pub async fn given_views(&self) -> Stored<Vec<(TrackerId, View)>> {
        use schema::part as p;
        let of_views = p::table.filter(p::sort.eq(View::SORT)).select((p::tracker_id, p::body, p::format));
        let rows: Vec<(i32, Raw, i16)> = of_views.load(&mut self.connection().await?).await?;
        let view = |(tracker, body, format): (i32, Raw, i16)| match body.read(Kept::Part, format) {
            Ok(Part::View(view)) if !view.given.is_empty() => Some((TrackerId::new(tracker.try_into().ok()?)?, view)),
            _ => None,
        };
        Ok(rows.into_iter().filter_map(view).collect())
    }

    /// Whether there is such a tracker.
    pub async fn has_tracker(&self, tracker: TrackerId) -> Stored<bool> {
        let found = diesel::select(diesel::dsl::exists(schema::tracker::table.find(int(tracker.get()))));
        Ok(found.get_result(&mut self.connection().await?).await?)
    }

    /// The trackers whose day has ended.
    pub async fn waking(&self, now: jiff::Timestamp) -> Stored<Vec<TrackerId>> {
        use schema::tracker as t;
        let due = t::table.filter(t::wakes_at.le(now.to_diesel())).select(t::id);
        let ids: Vec<i32> = due.load(&mut self.connection().await?).await?;
        Ok(ids.into_iter().filter_map(|id| TrackerId::new(id.try_into().ok()?)).collect())
    }

    /// Makes a tracker with nothing in it, under the next free number.
    pub async fn begin_tracker(&self, def: &TrackerDef) -> Stored<TrackerId> {
        for _attempt in 0..8 {
            let last = self.trackers().await?.last().map_or(0, |id| id.get());
            let Some(next) = TrackerId::new(last + 1) else { break };
            match self.create_tracker(next, def).await {
                Ok(()) => return Ok(next),
                // Somebody was first: the next number.
                Err(StoreError::Database(diesel::result::Error::DatabaseError(diesel::result::DatabaseErrorKind::UniqueViolation, _))) => {}
                Err(error) => return Err(error),
            }
        }
        Err(StoreError::MovedOn)
    }

    /// Takes a tracker away that could not be begun: nothing but its own row and definition is there.
    pub async fn forget_tracker(&self, tracker: TrackerId) -> Stored<()> {
        let mut connection = self.connection().await?;
        let id = int(tracker.get());
        connection
            .transaction(async |c| {
                diesel::delete(schema::part::table.filter(schema::part::tracker_id.eq(id))).execute(c).await?;
                diesel::delete(schema::pin::table.filter(schema::pin::tracker_id.eq(id))).execute(c).await?;
                diesel::delete(schema::tracker::table.find(id)).execute(c).await
            })
            .await
            .map_err(StoreError::of)?;
        Ok(())
    }

    /// Makes a tracker with nothing in it.
    pub async fn create_tracker(&self, tracker: TrackerId, def: &TrackerDef) -> Stored<()> {
        let mut connection = self.connection().await?;
        let id = int(tracker.get());
        let part = Part::Tracker(def.clone());
        let zone = TimeZone::get(&def.zone).unwrap_or(TimeZone::UTC);
        let today = jiff::Timestamp::now().to_zoned(zone).date();
        connection
            .transaction(async |c| {
                diesel::insert_into(schema::tracker::table)
                    .values((schema::tracker::id.eq(id), schema::tracker::seq.eq(0), schema::tracker::turned_on.eq(today.to_diesel())))
                    .execute(c)
                    .await?;
                put_part(c, id, &part).await
            })
            .await
            .map_err(StoreError::of)
    }

    /// A tracker, whole and computed as of now; none where there is no such tracker.
    pub async fn load(&self, tracker: TrackerId, people: Arc<People>, now: jiff::Timestamp) -> Stored<Option<Dataset>> {
        let mut connection = self.connection().await?;
        let id = int(tracker.get());
        // One snapshot of the database, so that the records are those of the log's end.
        let read = async |c: &mut AsyncPgConnection| {
            let seq: Option<(i64, Option<Date>)> =
                schema::tracker::table.find(id).select((schema::tracker::seq, schema::tracker::turned_on)).first(c).await.optional()?;
            let parts: Vec<(String, i32, Raw, i16)> = schema::part::table
                .filter(schema::part::tracker_id.eq(id))
                .order(schema::part::sort.desc())
                .select((schema::part::sort, schema::part::number, schema::part::body, schema::part::format))
                .load(c)
                .await?;
            let counters: Vec<(i32, String, i64)> = schema::counter::table
                .filter(schema::counter::tracker_id.eq(id))
                .select((schema::counter::field_id, schema::counter::period, schema::counter::last))
                .load(c)
                .await?;
            let places = load_places(c, id).await?;
            let talk = load_talk(c, id).await?;
            let emptied = load_emptied(c, id).await?;
            let came = load_came(c, id).await?;
            let records: Vec<RecordRow> =
                schema::record::table.filter(schema::record::tracker_id.eq(id)).select(RecordRow::as_select()).load(c).await?;
            let sheaves = open_sheaves(c, id).await?;
            Ok::<_, StoreError>((seq, parts, counters, places, talk, emptied, came, records, sheaves))
        };
        let (seq, parts, counters, places, talk, emptied, came, mut records, sheaves) =
            connection.build_transaction().repeatable_read().read_only().run(read).await?;
        let Some((seq, turned_on)) = seq else { return Ok(None) };
        // One part that can't be read is set aside; the rest of the tracker opens without it.
        let mut readable: Vec<Part> = Vec::new();
        let mut set_aside = Vec::new();
        for (sort, number, body, format) in parts {
            match body.read(Kept::Part, format) {
                Ok(part) => readable.push(part),
                Err(why) => set_aside.push(SetAside { sort, number: u32::try_from(number).unwrap_or(0), why: why.to_string() }),
            }
        }
        let parts = readable;
        let def = parts.iter().find_map(|p| if let Part::Tracker(def) = p { Some(def.clone()) } else { None });
        let Some(def) = def else { return Ok(None) };
        let mut dataset = Dataset::empty(def, people).numbered(tracker);
        dataset.seq = u64::try_from(seq).unwrap_or(0);
        parts.iter().for_each(|part| dataset.load_part(part));
        for part in set_aside {
            tracing::error!(%tracker, sort = part.sort, number = part.number, why = part.why, "a part can’t be read and is set aside");
            dataset.load_set_aside(part);
        }
        if let Some(day) = turned_on {
            dataset.load_turned(day.to_jiff());
        }
        for (field, period, last) in counters {
            if let Some(field) = u32::try_from(field).ok().and_then(FieldId::new) {
                dataset.load_counter(field, period, u64::try_from(last).unwrap_or(0));
            }
        }
        places.into_iter().for_each(|(view, record, rank)| dataset.load_place(view, record, rank));
        talk.into_iter().for_each(|(table, record, comment)| dataset.load_comment(table, record, comment));
        emptied.into_iter().for_each(|(table, record)| dataset.load_emptied(table, record));
        came.into_iter().for_each(|(automation, came)| dataset.load_came(automation, came));
        // A row holds all that was done to its record until then, so sheaves and rows go in in the log's order.
        if !sheaves.is_empty() {
            records.sort_by_key(|row| row.seq);
        }
        for change in &sheaves {
            let later = records.split_off(records.partition_point(|row| row.seq.cast_unsigned() < change.seq));
            dataset.load_records(std::mem::replace(&mut records, later).into_iter().filter_map(RecordRow::loaded));
            dataset.load_change(change);
        }
        dataset.load_records(records.into_iter().filter_map(RecordRow::loaded));
        dataset.loaded(now);
        Ok(Some(dataset))
    }

    /// Keeps changes in one transaction: the log, the rows that changed, the jobs they cause. All of it, or nothing.
    ///
    /// # Errors
    /// [`StoreError::MovedOn`] where the tracker is not at `from` any more, [`StoreError::SentBefore`] where a key was used.
    pub async fn commit(&self, tracker: TrackerId, from: u64, writes: &[Write], after: &Dataset) -> Stored<()> {
        let mut connection = self.connection().await?;
        let committed = if writes.iter().all(Write::is_plain) {
            // One statement is a transaction of its own.
            keep(&mut connection, tracker, from, writes, after).await
        } else {
            let all = async |c: &mut AsyncPgConnection| {
                let kept = keep(c, tracker, from, writes, after).await?;
                if kept {
                    keep_more(c, tracker, writes, after).await?;
                }
                Ok(kept)
            };
            (*connection).transaction(all).await
        };
        match committed {
            Ok(true) => Ok(()),
            Ok(false) => Err(StoreError::MovedOn),
            Err(error) => Err(StoreError::of(error)),
        }
    }

    /// Where a file hangs, and what it is.
    pub async fn file(&self, id: &str) -> Stored<Option<FileRow>> {
        use schema::file;
        let row = file::table
            .filter(file::id.eq(id))
            .select((file::tracker_id, file::table_id, file::record_id, file::field_id, file::name, file::media))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row)
    }
}

mod functions {
    use diesel::sql_types::{Array, BigInt, Bool, Integer, Json, Nullable, SmallInt, Text, Timestamptz};

    #[diesel::declare_sql_function]
    extern "SQL" {
        /// See the migration that makes it.
        #[allow(clippy::too_many_arguments)]
        fn keep(
            tracker: Integer,
            from_seq: BigInt,
            to_seq: BigInt,
            seqs: Array<BigInt>,
            ats: Array<Timestamptz>,
            bodies: Array<Json>,
            keys: Array<Nullable<Text>>,
            answers: Array<Json>,
            format: SmallInt,
            tables: Array<Integer>,
            records: Array<Integer>,
            created_ats: Array<Timestamptz>,
            created_bys: Array<Json>,
            changed_ats: Array<Timestamptz>,
            changed_bys: Array<Json>,
            versions: Array<Integer>,
            gones: Array<Bool>,
            cells: Array<Json>,
            arrivals: Array<Nullable<Json>>,
            moves: Array<Nullable<Json>>,
            touched_tables: Array<Integer>,
            touched_records: Array<Integer>,
            touched_seqs: Array<BigInt>,
        ) -> Bool;
    }
}

/// One list of one field of many.
fn column<'r, R, T>(rows: &'r [R], of: impl Fn(&'r R) -> T) -> Vec<T> {
    rows.iter().map(of).collect()
}

/// Log, tracker's place, records and trail: one journey to the database.
async fn keep(c: &mut AsyncPgConnection, tracker: TrackerId, from: u64, writes: &[Write], after: &Dataset) -> QueryResult<bool> {
    let touched: BTreeSet<_> = writes
        .iter()
        .flat_map(|w| w.change.ops.iter().filter(|op| !op.is_bulk()).filter_map(Op::records).map(|of| (of, w.change.seq)))
        .flat_map(|((table, records), seq)| records.into_iter().map(move |record| (table, record, seq)))
        .collect();
    let touched: Vec<_> = touched.into_iter().collect();
    let records: BTreeSet<_> = touched.iter().map(|(table, record, _)| (*table, *record)).collect();
    let kept = records.into_iter().filter_map(|(table, record)| after.record_to_keep(table, record));
    let rows: Vec<RecordRow> = kept.map(|record| RecordRow::new(record, after.seq)).collect();
    diesel::select(functions::keep(
        int(tracker.get()),
        from.cast_signed(),
        after.seq.cast_signed(),
        column(writes, |w| w.change.seq.cast_signed()),
        column(writes, |w| w.change.at.to_diesel()),
        column(writes, |w| Json(body(&w.change))),
        column(writes, |w| w.key.as_deref()),
        column(writes, |w| Json(&w.answer)),
        FORMAT,
        column(&rows, |r| r.table_id),
        column(&rows, |r| r.record_id),
        column(&rows, |r| r.created_at),
        column(&rows, |r| &r.created_by),
        column(&rows, |r| r.changed_at),
        column(&rows, |r| &r.changed_by),
        column(&rows, |r| r.version),
        column(&rows, |r| r.gone),
        column(&rows, |r| &r.cells),
        column(&rows, |r| r.arrival.as_ref()),
        column(&rows, |r| r.moved.as_ref()),
        column(&touched, |(table, _, _)| int(table.get())),
        column(&touched, |(_, record, _)| int(record.get())),
        column(&touched, |(_, _, seq)| seq.cast_signed()),
    ))
    .get_result(c)
    .await
}

/// What most changes do not have: parts of the structure, numbers given out, files, runs of automations.
async fn keep_more(c: &mut AsyncPgConnection, tracker: TrackerId, writes: &[Write], after: &Dataset) -> QueryResult<()> {
    let id = int(tracker.get());
    put_sheaves(c, id, writes).await?;
    // Of each counter, only where it stands in the end.
    let mut counters = BTreeMap::new();
    for op in writes.iter().flat_map(|w| &w.change.ops) {
        match op {
            Op::Put { before, after: part } => {
                put(c, id, before.as_deref(), part.as_deref()).await?;
                if let Some(Part::Automation(automation)) = part.as_deref().or(before.as_deref()) {
                    put_came(c, id, automation.id, after).await?;
                }
            }
            Op::Go { automation, .. } => put_came(c, id, *automation, after).await?,
            Op::Reply { asked, words, .. } => {
                let of = writes.iter().map(|write| &write.change).find(|change| change.ops.iter().any(|one| std::ptr::eq(one, op)));
                if let Some(change) = of {
                    put_answer(c, *asked, change.seq, change.at, words).await?;
                }
            }
            Op::Count { field, period, after, .. } => drop(counters.insert((*field, period.as_str()), *after)),
            Op::Cell { table, record, field, before, after } => {
                put_files(c, id, (*table, *record, Some(*field)), listed(before), listed(after)).await?
            }
            Op::Rows(Rows { table, first, fields, columns, .. }) => {
                for (field, row, value) in files_of(fields, columns) {
                    let record = RecordId::at_row(first.row() + row);
                    put_files(c, id, (*table, record, Some(field)), &[], listed(value)).await?;
                }
            }
            // Files never come by filling: what a field of files becomes, or was, is nothing.
            Op::Fill { .. } | Op::Add { .. } | Op::Gone { .. } | Op::Bin { .. } | Op::Press { .. } | Op::Turned { .. } => {}
            Op::Empty { table, record } => empty_out(c, id, *table, *record).await?,
            Op::Say { table, record, before, after } => {
                put_comment(c, id, (*table, *record), before.as_deref(), after.as_deref()).await?;
                let [old, new] = [before, after].map(|comment| comment.as_deref().map_or(&[][..], |comment| &comment.files));
                put_files(c, id, (*table, *record, None), old, new).await?;
            }
            Op::Place { of, places } => put_places(c, id, *of, places).await?,
            Op::Arrive { table, record, after, .. } => put_receipt(c, id, *table, *record, after.as_deref()).await?,
        }
    }
    for ((field, period), last) in counters {
        put_counter(c, id, field, period, last).await?;
    }
    if writes
        .iter()
        .flat_map(|w| &w.change.ops)
        .any(|op| matches!(op, Op::Turned { .. } | Op::Put { .. } | Op::Arrive { .. } | Op::Go { .. }))
    {
        put_day(c, id, after).await?;
    }
    for run in writes.iter().flat_map(|w| &w.runs) {
        put_run(c, id, run).await?;
    }
    for write in writes.iter().filter(|write| !write.notices.is_empty()) {
        put_notices(c, Some(id), write.change.at, &write.notices).await?;
    }
    Ok(())
}

impl Write {
    /// Whether there is nothing to keep but the change itself and the records it touched.
    fn is_plain(&self) -> bool {
        let plain = |op: &Op| match op {
            Op::Put { .. }
            | Op::Go { .. }
            | Op::Reply { .. }
            | Op::Count { .. }
            | Op::Turned { .. }
            | Op::Say { .. }
            | Op::Place { .. }
            | Op::Empty { .. } => false,
            Op::Cell { before, after, .. } => ![before, after].iter().any(|value| matches!(value, Value::Files(_))),
            Op::Rows(Rows { fields, columns, .. }) => !op.is_bulk() && files_of(fields, columns).next().is_none(),
            Op::Bin { .. } | Op::Fill { .. } => !op.is_bulk(),
            Op::Arrive { before, after, .. } => {
                let waits = |a: &Arrival| a.receipt.is_some() || !a.awaits.is_empty();
                !before.iter().chain(after).any(|a| waits(a))
            }
            Op::Add { .. } | Op::Gone { .. } | Op::Press { .. } => true,
        };
        self.runs.is_empty() && self.notices.is_empty() && self.change.ops.iter().all(plain)
    }
}

/// The cells of new rows that hold files: their field, their row from 0, and what they hold.
fn files_of<'a>(fields: &'a [FieldId], columns: &'a [Vec<Value>]) -> impl Iterator<Item = (FieldId, usize, &'a Value)> {
    let cells = |(field, column): (&'a FieldId, &'a Vec<Value>)| column.iter().enumerate().map(|(row, value)| (*field, row, value));
    fields.iter().zip(columns).flat_map(cells).filter(|(_, _, value)| matches!(value, Value::Files(_)))
}

async fn put(c: &mut AsyncPgConnection, tracker: i32, before: Option<&Part>, after: Option<&Part>) -> QueryResult<()> {
    use schema::{form_link, page_link, part};
    if let (Some(gone), None) = (before, after) {
        let (sort, number) = gone.key();
        diesel::delete(part::table.find((tracker, sort, int(number)))).execute(c).await?;
    }
    if let Some(Part::Form(form)) = before {
        diesel::delete(form_link::table.find(&form.link)).execute(c).await?;
    }
    if let Some(Part::Page(page)) = before {
        diesel::delete(page_link::table.find(&page.link)).execute(c).await?;
    }
    let Some(after) = after else { return Ok(()) };
    if let Part::Page(page) = after {
        diesel::insert_into(page_link::table)
            .values((page_link::link.eq(&page.link), page_link::tracker_id.eq(tracker), page_link::page_id.eq(int(page.id.get()))))
            .execute(c)
            .await?;
    }
    if let Part::Form(form) = after {
        diesel::insert_into(form_link::table)
            .values((form_link::link.eq(&form.link), form_link::tracker_id.eq(tracker), form_link::form_id.eq(int(form.id.get()))))
            .execute(c)
            .await?;
    }
    put_part(c, tracker, after).await
}

/// Notes to which day a tracker was turned, and when it has to be again though nobody looks at it.
async fn put_day(c: &mut AsyncPgConnection, tracker: i32, after: &Dataset) -> QueryResult<()> {
    use schema::tracker as t;
    diesel::update(t::table.find(tracker))
        .set((t::turned_on.eq(after.turned().to_diesel()), t::wakes_at.eq(after.wakes_at().map(ToDiesel::to_diesel))))
        .execute(c)
        .await?;
    Ok(())
}

async fn put_part(c: &mut AsyncPgConnection, tracker: i32, after: &Part) -> QueryResult<()> {
    use schema::part;
    let (sort, number) = after.key();
    diesel::insert_into(part::table)
        .values((
            part::tracker_id.eq(tracker),
            part::sort.eq(sort),
            part::number.eq(int(number)),
            part::body.eq(Json(after)),
            part::format.eq(FORMAT),
        ))
        .on_conflict((part::tracker_id, part::sort, part::number))
        .do_update()
        .set((part::body.eq(excluded(part::body)), part::format.eq(excluded(part::format))))
        .execute(c)
        .await?;
    Ok(())
}

/// Notes at which private address a record can be followed. Kept even when the record goes: it tells its follower so.
async fn put_receipt(
    c: &mut AsyncPgConnection,
    tracker: i32,
    table: TableId,
    record: RecordId,
    arrival: Option<&Arrival>,
) -> QueryResult<()> {
    use schema::receipt;
    let Some(hash) = arrival.and_then(|a| a.receipt.as_ref()) else { return Ok(()) };
    diesel::insert_into(receipt::table)
        .values((
            receipt::hash.eq(hash),
            receipt::tracker_id.eq(tracker),
            receipt::table_id.eq(int(table.get())),
            receipt::record_id.eq(int(record.get())),
        ))
        .on_conflict_do_nothing()
        .execute(c)
        .await?;
    Ok(())
}

async fn put_counter(c: &mut AsyncPgConnection, tracker: i32, field: FieldId, period: &str, last: u64) -> QueryResult<()> {
    use schema::counter;
    diesel::insert_into(counter::table)
        .values((
            counter::tracker_id.eq(tracker),
            counter::field_id.eq(int(field.get())),
            counter::period.eq(period),
            counter::last.eq(last.cast_signed()),
        ))
        .on_conflict((counter::tracker_id, counter::field_id, counter::period))
        .do_update()
        .set(counter::last.eq(excluded(counter::last)))
        .execute(c)
        .await?;
    Ok(())
}

fn listed(value: &Value) -> &[Attachment] {
    if let Value::Files(files) = value { files } else { &[] }
}

/// Notes where new files hang: in a cell, or without a field in the talk of a record. A file taken out keeps its row, and for a while
/// its bytes: undoing puts it back.
async fn put_files(
    c: &mut AsyncPgConnection,
    tracker: i32,
    (table, record, field): (TableId, RecordId, Option<FieldId>),
    old: &[Attachment],
    files: &[Attachment],
) -> QueryResult<()> {
    use schema::file;
    let gone: Vec<&str> = old.iter().filter(|file| !files.contains(file)).map(|file| file.id.as_str()).collect();
    if !gone.is_empty() {
        let of = file::table.filter(file::tracker_id.eq(tracker).and(file::id.eq_any(gone)));
        diesel::update(of).set(file::let_go_at.eq(Some(jiff::Timestamp::now().to_diesel()))).execute(c).await?;
    }
    for new in files.iter().filter(|f| !old.contains(f) && !f.is_address()) {
        diesel::insert_into(file::table)
            .values((
                file::tracker_id.eq(tracker),
                file::id.eq(&new.id),
                file::table_id.eq(int(table.get())),
                file::record_id.eq(int(record.get())),
                file::field_id.eq(field.map(|field| int(field.get()))),
                file::name.eq(&new.name),
                file::media.eq(&new.media),
                file::size.eq(new.size.cast_signed()),
                file::text_state.eq(crate::texts::state_of(&new.media)),
            ))
            .on_conflict((file::tracker_id, file::id))
            .do_update()
            .set(file::let_go_at.eq(None::<jiff_diesel::Timestamp>))
            .execute(c)
            .await?;
    }
    Ok(())
}
