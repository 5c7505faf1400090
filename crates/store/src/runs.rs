//! Runs of automations: what they did, which of them wait, and how far the times of automations have come.

use crate::{
    Store, Stored,
    json::Json,
    json::int,
    outbox::{JobState, put_mails},
    schema,
};
use diesel::{
    prelude::*,
    sql_types::{BigInt, Integer, Json as SqlJson, Timestamptz},
    upsert::excluded,
};
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use std::collections::BTreeSet;
use westerfall_core::{
    automation::{Came, LogLine, Message, Paused, Run, Waiting},
    dataset::Dataset,
    id::{AutomationId, RecordId, TableId, TrackerId},
    people::Channel,
};

/// Most runs that are looked at in one go.
const AT_ONCE: i64 = 200;

/// A run of an automation with the states of its mails.
#[derive(Clone, Debug)]
pub struct RunRow {
    pub automation: i32,
    pub table: i32,
    /// None: of many records together.
    pub record: Option<i32>,
    pub at: Timestamp,
    pub log: Vec<LogLine>,
    pub mails: Vec<RunMail>,
    /// Until when at the latest it waits, where it does.
    pub waits: Option<Timestamp>,
}

/// A message of a run, and how far it has come.
#[derive(Clone, Debug)]
pub struct RunMail {
    pub number: i64,
    pub by: Channel,
    pub to: String,
    pub state: String,
    /// What was noted.
    pub note: String,
    /// In which words it was answered.
    pub answered: Option<String>,
}

pub(crate) async fn put_run(c: &mut AsyncPgConnection, tracker: i32, run: &Run) -> QueryResult<()> {
    use schema::run;
    let waits = run.paused.as_ref().map(|paused| paused.until.to_diesel());
    let asked = run.paused.as_ref().and_then(|paused| paused.condition.as_ref()).map(|_| run.seq.cast_signed());
    let paused = run.paused.as_ref().map(Json);
    let calls = run.paused.as_ref().filter(|paused| paused.call.is_some()).map(|_| run.at.to_diesel());
    let id: i64 = match run.kept {
        None => {
            diesel::insert_into(run::table)
                .values((
                    run::tracker_id.eq(tracker),
                    run::automation_id.eq(int(run.source.number())),
                    run::table_id.eq(int(run.table.get())),
                    run::record_id.eq(run.record.map(|record| int(record.get()))),
                    run::seq.eq(run.seq.cast_signed()),
                    run::at.eq(run.at.to_diesel()),
                    run::log.eq(Json(&run.log)),
                    run::waits_until.eq(waits),
                    run::paused.eq(paused),
                    run::asked_at.eq(asked),
                    run::calls_at.eq(calls),
                ))
                .returning(run::id)
                .get_result(c)
                .await?
        }
        Some(id) => {
            let kept: Json<Vec<LogLine>> = run::table.find((tracker, id)).select(run::log).for_update().first(c).await?;
            let log: Vec<LogLine> = kept.0.into_iter().chain(run.log.iter().cloned()).collect();
            diesel::update(run::table.find((tracker, id)))
                .set((
                    run::log.eq(Json(log)),
                    run::seq.eq(run.seq.cast_signed()),
                    run::waits_until.eq(waits),
                    run::paused.eq(paused),
                    run::asked_at.eq(asked),
                    run::calls_at.eq(calls),
                    run::called.eq(0),
                    run::calling.eq(false),
                ))
                .execute(c)
                .await?;
            id
        }
    };
    put_mails(c, tracker, id, &run.mails, run.at).await
}

/// How far the times of a tracker's automations have come.
pub(crate) async fn load_came(c: &mut AsyncPgConnection, tracker: i32) -> Stored<Vec<(AutomationId, Came)>> {
    use schema::occasion as o;
    type Row = (i32, jiff_diesel::Timestamp, Option<jiff_diesel::Timestamp>, Option<i32>);
    let rows: Vec<Row> =
        o::table.filter(o::tracker_id.eq(tracker)).select((o::automation_id, o::upto, o::going_at, o::next_record)).load(c).await?;
    let came = |(automation, upto, going, next): Row| {
        let record = next.and_then(|n| u32::try_from(n).ok()).and_then(RecordId::new);
        let next = going.map(jiff_diesel::Timestamp::to_jiff).zip(record);
        Some((AutomationId::new(automation.try_into().ok()?)?, Came { upto: upto.to_jiff(), next }))
    };
    Ok(rows.into_iter().filter_map(came).collect())
}

pub(crate) async fn put_came(c: &mut AsyncPgConnection, tracker: i32, automation: AutomationId, after: &Dataset) -> QueryResult<()> {
    use schema::occasion as o;
    let id = int(automation.get());
    let Some(came) = after.came(automation) else {
        diesel::delete(o::table.find((tracker, id))).execute(c).await?;
        return Ok(());
    };
    diesel::insert_into(o::table)
        .values((
            o::tracker_id.eq(tracker),
            o::automation_id.eq(id),
            o::upto.eq(came.upto.to_diesel()),
            o::going_at.eq(came.next.map(|(at, _)| at.to_diesel())),
            o::next_record.eq(came.next.map(|(_, record)| int(record.get()))),
        ))
        .on_conflict((o::tracker_id, o::automation_id))
        .do_update()
        .set((o::upto.eq(excluded(o::upto)), o::going_at.eq(excluded(o::going_at)), o::next_record.eq(excluded(o::next_record))))
        .execute(c)
        .await?;
    Ok(())
}

/// What of a run a [`WaitingRow`] reads.
pub(crate) const WAITING_COLUMNS: &str = "run.tracker_id, run.id, run.automation_id, run.table_id, run.record_id, run.seq, run.paused";

#[derive(QueryableByName)]
pub(crate) struct WaitingRow {
    #[diesel(sql_type = Integer)]
    pub tracker_id: i32,
    #[diesel(sql_type = BigInt)]
    pub id: i64,
    #[diesel(sql_type = Integer)]
    automation_id: i32,
    #[diesel(sql_type = Integer)]
    table_id: i32,
    #[diesel(sql_type = Integer)]
    record_id: i32,
    #[diesel(sql_type = BigInt)]
    seq: i64,
    #[diesel(sql_type = SqlJson)]
    paused: Json<Paused>,
}

impl WaitingRow {
    pub(crate) fn read(self) -> Option<(TrackerId, Waiting)> {
        let number = |n: i32| u32::try_from(n).ok();
        let waiting = Waiting {
            kept: self.id,
            automation: AutomationId::new(number(self.automation_id)?)?,
            table: TableId::new(number(self.table_id)?)?,
            record: RecordId::new(number(self.record_id)?)?,
            seq: u64::try_from(self.seq).ok()?,
            paused: self.paused.0,
            answered: None,
        };
        Some((TrackerId::new(number(self.tracker_id)?)?, waiting))
    }
}

impl Store {
    /// The runs that may go on: those that have waited long enough, and those whose tracker has changed since they were last asked.
    pub async fn waiting_runs(&self, now: Timestamp) -> Stored<Vec<(TrackerId, Waiting)>> {
        let rows: Vec<WaitingRow> = diesel::sql_query(format!(
            "SELECT {WAITING_COLUMNS} FROM run
             JOIN tracker ON tracker.id = run.tracker_id
             WHERE run.waits_until IS NOT NULL AND run.record_id IS NOT NULL AND (run.waits_until <= $1 OR run.asked_at < tracker.seq)
             ORDER BY run.waits_until LIMIT $2"
        ))
        .bind::<Timestamptz, _>(now.to_diesel())
        .bind::<BigInt, _>(AT_ONCE)
        .load(&mut self.connection().await?)
        .await?;
        Ok(rows.into_iter().filter_map(WaitingRow::read).collect())
    }

    /// Notes that a run was asked at a change of its tracker, and waits on.
    pub async fn run_was_asked(&self, tracker: TrackerId, run: i64, seq: u64) -> Stored<()> {
        use schema::run as r;
        let waits = r::table.find((int(tracker.get()), run)).filter(r::asked_at.is_not_null());
        diesel::update(waits).set(r::asked_at.eq(seq.cast_signed())).execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// Of some records, those for which an automation has sent something that was not lost.
    pub async fn reached(&self, tracker: TrackerId, automation: AutomationId, records: &[RecordId]) -> Stored<BTreeSet<RecordId>> {
        use schema::{job, run};
        let wanted: Vec<i32> = records.iter().map(|record| int(record.get())).collect();
        let rows: Vec<Option<i32>> = run::table
            .inner_join(job::table.on(job::tracker_id.eq(run::tracker_id).and(job::run_id.eq(run::id))))
            .filter(run::tracker_id.eq(int(tracker.get())).and(run::automation_id.eq(int(automation.get()))))
            .filter(run::record_id.eq_any(wanted).and(job::state.ne(JobState::Failed.word())))
            .select(run::record_id)
            .distinct()
            .load(&mut self.connection().await?)
            .await?;
        Ok(rows.into_iter().flatten().filter_map(|n| u32::try_from(n).ok().and_then(RecordId::new)).collect())
    }

    /// The last runs of a tracker's automations, latest first; of one automation, or of all over one record.
    pub async fn runs(
        &self,
        tracker: TrackerId,
        automation: Option<AutomationId>,
        record: Option<(TableId, RecordId)>,
        most: i64,
    ) -> Stored<Vec<RunRow>> {
        use schema::{job, reply, run};
        type Row = (i64, i32, i32, Option<i32>, jiff_diesel::Timestamp, Json<Vec<LogLine>>, Option<jiff_diesel::Timestamp>);
        let mut connection = self.connection().await?;
        let id = int(tracker.get());
        let mut query = run::table.filter(run::tracker_id.eq(id)).order(run::id.desc()).limit(most).into_boxed();
        if let Some(automation) = automation {
            query = query.filter(run::automation_id.eq(int(automation.get())));
        }
        if let Some((table, record)) = record {
            query = query.filter(run::table_id.eq(int(table.get())).and(run::record_id.eq(int(record.get()))));
        }
        let rows: Vec<Row> = query
            .select((run::id, run::automation_id, run::table_id, run::record_id, run::at, run::log, run::waits_until))
            .load(&mut connection)
            .await?;
        let ids: Vec<i64> = rows.iter().map(|r| r.0).collect();
        type JobRow = (i64, i64, Json<Message>, String, String, Option<String>);
        let jobs: Vec<JobRow> = job::table
            .left_join(reply::table.on(reply::job_id.eq(job::id)))
            .filter(job::tracker_id.eq(id).and(job::run_id.eq_any(ids)))
            .order(job::id)
            .select((job::run_id, job::id, job::mail, job::state, job::note, reply::words.nullable()))
            .load(&mut connection)
            .await?;
        let mail = |(_, number, mail, state, note, answered): &JobRow| RunMail {
            number: *number,
            by: mail.0.by,
            to: mail.0.to_name.clone(),
            state: state.clone(),
            note: note.clone(),
            answered: answered.clone(),
        };
        let mails = |run: i64| jobs.iter().filter(|job| job.0 == run).map(mail).collect();
        let row = |(id, automation, table, record, at, log, waits): Row| RunRow {
            automation,
            table,
            record,
            at: at.to_jiff(),
            log: log.0,
            mails: mails(id),
            waits: waits.map(jiff_diesel::Timestamp::to_jiff),
        };
        Ok(rows.into_iter().map(row).collect())
    }

    /// How many messages did not arrive since a moment, by the automation whose run they are of; most first.
    ///
    /// # Errors
    /// The database can't be asked.
    pub async fn lost_messages(&self, tracker: TrackerId, since: Timestamp) -> Stored<Vec<(AutomationId, usize)>> {
        use diesel::dsl::count_star;
        use schema::{job, run};
        let lost = [JobState::Failed.word(), JobState::Unsure.word()];
        let rows: Vec<(i32, i64)> = job::table
            .inner_join(run::table.on(run::tracker_id.eq(job::tracker_id).and(run::id.eq(job::run_id))))
            .filter(job::tracker_id.eq(int(tracker.get())).and(job::state.eq_any(lost)).and(run::at.gt(since.to_diesel())))
            .group_by(run::automation_id)
            .order(count_star().desc())
            .select((run::automation_id, count_star()))
            .load(&mut self.connection().await?)
            .await?;
        let of = |(id, count): (i32, i64)| Some((AutomationId::new(id.try_into().ok()?)?, usize::try_from(count).ok()?));
        Ok(rows.into_iter().filter_map(of).collect())
    }
}
