//! Tasks that people give each other.

use crate::{Store, Stored, json::int, schema, team::person_id};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::Timestamp;
use jiff_diesel::{Date as DieselDate, ToDiesel};
use westerfall_core::{
    id::{PersonId, RecordId, TableId, TrackerId},
    rounds::{MOST_TASKS, NewTask, Task},
};

#[derive(Queryable, Selectable)]
#[diesel(table_name = schema::task)]
struct TaskRow {
    id: i64,
    by_id: i32,
    who_id: i32,
    what: String,
    note: String,
    due: Option<DieselDate>,
    urgent: bool,
    tracker_id: Option<i32>,
    table_id: Option<i32>,
    record_id: Option<i32>,
    made_at: jiff_diesel::Timestamp,
    done_at: Option<jiff_diesel::Timestamp>,
}

impl TaskRow {
    fn read(self) -> Option<Task> {
        let number = |n: Option<i32>| n.and_then(|n| u32::try_from(n).ok());
        let about = match (number(self.tracker_id), number(self.table_id), number(self.record_id)) {
            (Some(tracker), Some(table), Some(record)) => Some((TrackerId::new(tracker)?, TableId::new(table)?, RecordId::new(record)?)),
            _ => None,
        };
        let asks = NewTask {
            what: self.what,
            note: self.note,
            who: person_id(self.who_id)?,
            due: self.due.map(DieselDate::to_jiff),
            urgent: self.urgent,
            about,
        };
        Some(Task {
            number: self.id,
            by: person_id(self.by_id)?,
            asks,
            made: self.made_at.to_jiff(),
            done: self.done_at.map(|at| at.to_jiff()),
        })
    }
}

impl Store {
    /// Keeps what somebody asks, and gives its number.
    pub async fn give_task(&self, by: PersonId, asks: &NewTask, now: Timestamp) -> Stored<i64> {
        use schema::task as t;
        let (tracker, table, record) = asks.about.map_or((None, None, None), |(tracker, table, record)| {
            (Some(int(tracker.get())), Some(int(table.get())), Some(int(record.get())))
        });
        Ok(diesel::insert_into(t::table)
            .values((
                t::by_id.eq(int(by.get())),
                t::who_id.eq(int(asks.who.get())),
                t::what.eq(&asks.what),
                t::note.eq(&asks.note),
                t::due.eq(asks.due.map(ToDiesel::to_diesel)),
                t::urgent.eq(asks.urgent),
                t::tracker_id.eq(tracker),
                t::table_id.eq(table),
                t::record_id.eq(record),
                t::made_at.eq(now.to_diesel()),
            ))
            .returning(t::id)
            .get_result(&mut self.connection().await?)
            .await?)
    }

    /// A task.
    pub async fn task(&self, number: i64) -> Stored<Option<Task>> {
        let row = schema::task::table.find(number).select(TaskRow::as_select()).first(&mut self.connection().await?).await.optional()?;
        Ok(row.and_then(TaskRow::read))
    }

    /// Keeps a task as it stands now; none: it goes.
    pub async fn keep_task(&self, number: i64, task: Option<&Task>) -> Stored<()> {
        use schema::task as t;
        let mut connection = self.connection().await?;
        match task {
            None => diesel::delete(t::table.find(number)).execute(&mut connection).await?,
            Some(task) => {
                diesel::update(t::table.find(number))
                    .set((
                        t::who_id.eq(int(task.asks.who.get())),
                        t::due.eq(task.asks.due.map(ToDiesel::to_diesel)),
                        t::done_at.eq(task.done.map(ToDiesel::to_diesel)),
                    ))
                    .execute(&mut connection)
                    .await?
            }
        };
        Ok(())
    }

    /// What is asked of somebody and not done, and what they did since a moment.
    pub async fn tasks_of(&self, who: PersonId, since: Timestamp) -> Stored<Vec<Task>> {
        use schema::task as t;
        let open = t::table.filter(t::who_id.eq(int(who.get())).and(t::done_at.is_null().or(t::done_at.ge(since.to_diesel()))));
        let rows: Vec<TaskRow> = open
            .order(t::id)
            .limit(i64::try_from(MOST_TASKS).unwrap_or(i64::MAX))
            .select(TaskRow::as_select())
            .load(&mut self.connection().await?)
            .await?;
        Ok(rows.into_iter().filter_map(TaskRow::read).collect())
    }

    /// How much was asked of somebody and is not done.
    pub async fn open_tasks_of(&self, who: PersonId) -> Stored<usize> {
        use schema::task as t;
        let open = t::table.filter(t::who_id.eq(int(who.get())).and(t::done_at.is_null()));
        let count: i64 = open.count().get_result(&mut self.connection().await?).await?;
        Ok(usize::try_from(count).unwrap_or(usize::MAX))
    }

    /// What was asked of somebody and is not done is asked of another, with this change of the team.
    pub async fn hand_tasks(&self, from: PersonId, to: PersonId, with: u64) -> Stored<()> {
        use schema::task as t;
        let (from, to) = (int(from.get()), int(to.get()));
        diesel::update(t::table.filter(t::who_id.eq(from).and(t::done_at.is_null())))
            .set((t::who_id.eq(to), t::handed_with.eq(with.cast_signed()), t::handed_from.eq(from), t::handed_to.eq(to)))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// What went to another with a change of the team goes back, as far as it is still theirs and not done.
    pub async fn take_tasks_back(&self, with: u64) -> Stored<()> {
        use schema::task as t;
        let still = t::handed_with.eq(with.cast_signed()).and(t::done_at.is_null()).and(t::handed_to.eq(t::who_id.nullable()));
        diesel::update(t::table.filter(still))
            .set((t::who_id.eq(t::handed_from.assume_not_null()), t::handed_with.eq(None::<i64>)))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Whether somebody was reminded on a day.
    pub async fn was_reminded(&self, person: PersonId, day: jiff::civil::Date) -> Stored<bool> {
        use schema::morning as m;
        let found = diesel::select(diesel::dsl::exists(m::table.find((int(person.get()), day.to_diesel()))));
        Ok(found.get_result(&mut self.connection().await?).await?)
    }

    /// Notes that somebody was reminded on a day.
    pub async fn note_reminded(&self, person: PersonId, day: jiff::civil::Date) -> Stored<()> {
        use schema::morning as m;
        let row = (m::person_id.eq(int(person.get())), m::day.eq(day.to_diesel()));
        let put = diesel::insert_into(m::table).values(row).on_conflict((m::person_id, m::day)).do_nothing();
        put.execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// What somebody asked of others and is not done, or was since a moment; the latest first.
    pub async fn tasks_by(&self, by: PersonId, since: Timestamp) -> Stored<Vec<Task>> {
        use schema::task as t;
        let id = int(by.get());
        let asked = t::table.filter(t::by_id.eq(id).and(t::who_id.ne(id)).and(t::done_at.is_null().or(t::done_at.ge(since.to_diesel()))));
        let rows: Vec<TaskRow> =
            asked.order(t::id.desc()).limit(50).select(TaskRow::as_select()).load(&mut self.connection().await?).await?;
        Ok(rows.into_iter().filter_map(TaskRow::read).collect())
    }
}
