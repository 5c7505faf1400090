//! Rounds: what is on somebody, across all trackers, as a diary. A table says once whose its records are and what means done; a task is
//! given from one person to another, perhaps about a record.

mod diary;
mod morning;
mod rules;
mod task;
mod words;

pub(crate) use diary::pressing;
pub use diary::{Diary, DiarySection, DiarySort, InTracker, diary};
pub use morning::{Morning, morning};
pub use task::{MOST_TASKS, NOTE_LIMIT, NewTask, TASK_LIMIT, Task, TaskStep};

use crate::{
    access::Lens,
    condition::{Check, Condition, Quantity, Test, Who},
    dataset::Table,
    id::{FieldId, PersonId, RecordId, TableId, TrackerId},
    people::Actor,
    schema::{Finish, Hue, Kind, Rounds, within_sentence},
    value::{Cell, CellValue, Value},
    wording,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// Most records of one table in one person's rounds.
const MOST: usize = 500;
/// Most that were done today and are still told.
const MOST_DONE: usize = 30;

/// One thing on somebody.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Duty {
    /// Of a record, its tracker.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub tracker: Option<TrackerId>,
    /// Of a record, its table.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub table: Option<TableId>,
    /// The record that it is, or that a task is about.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub record: Option<RecordId>,
    /// Of a task, its number.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub task: Option<i64>,
    pub name: String,
    /// What tells it apart.
    pub tells: Vec<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub urgency: Option<Urgency>,
    /// The day under which it stands; of a span that has begun, today.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub day: Option<Date>,
    /// For how many days it is late.
    pub late: u32,
    /// *25 days late*; empty where it is not.
    pub late_text: String,
    /// *due 30 Oct*; empty where it has no day.
    pub due_text: String,
    /// Why it is on them.
    pub why: String,
    /// What pressing *done* is called; none where whoever looks may not say so.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub verb: Option<String>,
    /// Of a record, what pressing puts in.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub does: Option<Puts>,
    /// Of a record, the field of its day, where it can be moved.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub moves: Option<FieldId>,
    /// Why its day can't be moved.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fixed: Option<String>,
    /// Of a record, the field by which it is given to somebody else.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub gives: Option<FieldId>,
    /// It is done: when, and by what word.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub done: Option<String>,
}

/// How urgent something is.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Urgency {
    pub text: String,
    pub hue: Hue,
    /// The higher, the more urgent.
    pub rank: usize,
}

/// A value that goes into a field.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Puts {
    pub field: FieldId,
    pub value: CellValue,
    /// What stands there now.
    pub was: CellValue,
}

impl Lens<'_> {
    /// What is on somebody in this tracker, as far as whoever looks may know: a field that they can't read tells nothing.
    pub fn rounds(&self, of: PersonId) -> Vec<Duty> {
        let tables = self.dataset().tables().filter(|home| self.opens(home.def.id));
        tables.flat_map(|home| home.def.rounds.as_ref().map_or_else(Vec::new, |rounds| self.rounds_of(home, rounds, of))).collect()
    }

    fn rounds_of(&self, home: &Table, rounds: &Rounds, of: PersonId) -> Vec<Duty> {
        let table = home.def.id;
        if !self.reads_along(table, &rounds.who) || !self.reads(table, rounds.done.field()) {
            return Vec::new();
        }
        let test = |path: &[FieldId], check| Condition::Test(Test { path: path.to_vec(), of: Quantity::Any, check });
        let whose = test(&rounds.who, Check::Person { not: false, any: vec![Who::Person(of)] });
        let (open, closed) = match &rounds.done {
            Finish::Options { field, any } => {
                let is = |not| test(&[*field], Check::Option { not, any: any.clone() });
                (Some(is(true)), Some(is(false)))
            }
            Finish::Yes(field) => (Some(test(&[*field], Check::No)), Some(test(&[*field], Check::Yes))),
            Finish::Filled(field) => (Some(test(&[*field], Check::Empty)), Some(test(&[*field], Check::Filled))),
            Finish::Noted(_) => (None, None),
        };
        let with = |other: Option<Condition>| Condition::All(std::iter::once(whose.clone()).chain(other).collect());
        let open = with(open).matching(self, table);
        let mut duties: Vec<Duty> =
            open.ones().map(RecordId::at_row).take(MOST).map(|record| self.duty(home, rounds, record, of, false)).collect();
        if let Some(closed) = closed {
            let closed = with(Some(closed)).matching(self, table);
            let today = |record: &RecordId| self.done_today(home, *record, of);
            let done = closed.ones().map(RecordId::at_row).filter(today).take(MOST_DONE);
            duties.extend(done.map(|record| self.duty(home, rounds, record, of, true)));
        }
        duties
    }

    /// Whether every field of a path may be read.
    fn reads_along(&self, table: TableId, path: &[FieldId]) -> bool {
        let mut at = table;
        path.iter().all(|field| {
            let reads = self.reads(at, *field);
            at = self.dataset().table(at).and_then(|home| home.link(*field)).map_or(at, |link| link.to);
            reads
        })
    }

    /// Whether they did it today: it was changed by them last.
    fn done_today(&self, home: &Table, record: RecordId, of: PersonId) -> bool {
        home.meta(record).is_some_and(|meta| {
            meta.changed_by == Actor::Person(of) && meta.changed_at.to_zoned(self.clock().zone.clone()).date() == self.clock().today()
        })
    }

    fn duty(&self, home: &Table, rounds: &Rounds, record: RecordId, of: PersonId, done: bool) -> Duty {
        let table = home.def.id;
        let cell = |field: FieldId| self.reader(table, field).cell(record.row());
        let dated = rounds.due.filter(|due| self.shows(table, record, *due)).map(cell).and_then(|cell| self.days(cell));
        let mut duty = Duty {
            table: Some(table),
            record: Some(record),
            name: self.record_name(table, record).map_or_else(String::new, |name| name.name),
            tells: self.tells(home, rounds, record),
            urgency: rounds.urgency.filter(|field| self.shows(table, record, *field)).and_then(|field| urgency(home, field, cell(field))),
            why: self.why_theirs(home, rounds, record, of),
            ..Duty::default()
        };
        duty.fall(dated, self.clock());
        if done {
            let at = home.meta(record).map(|meta| meta.changed_at.to_zoned(self.clock().told.clone()).strftime("%H:%M").to_string());
            duty.done = Some(format!("{} {}", self.verb(home, &rounds.done), at.unwrap_or_default()).trim().to_owned());
            return duty;
        }
        let finish = rounds.done.field();
        if self.changes(table, record, finish) {
            duty.verb = Some(self.verb(home, &rounds.done));
            duty.does = self.puts(home, &rounds.done).map(|value| Puts { field: finish, value, was: cell(finish).to_value() });
        }
        if let Some(due) = rounds.due {
            let kind = home.def.field(due).map(|def| &def.kind);
            match kind {
                Some(Kind::Date) if self.changes(table, record, due) => duty.moves = Some(due),
                Some(Kind::Date | Kind::DateTime | Kind::Range) => {}
                Some(_) => duty.fixed = Some("Its day is calculated and can’t be moved.".to_owned()),
                None => {}
            }
        }
        if let [who] = rounds.who[..]
            && matches!(home.def.field(who).map(|def| &def.kind), Some(Kind::Person))
            && self.changes(table, record, who)
        {
            duty.gives = Some(who);
        }
        duty
    }

    /// The first and the last day of what stands in a field.
    fn days(&self, cell: Cell<'_>) -> Option<(Date, Date)> {
        match cell {
            Cell::Date(day) => Some((day, day)),
            Cell::Instant(at) => Some(at.to_zoned(self.clock().zone.clone()).date()).map(|day| (day, day)),
            Cell::Range(first, last) => Some((first, last)),
            _ => None,
        }
    }

    fn tells(&self, home: &Table, rounds: &Rounds, record: RecordId) -> Vec<String> {
        let table = home.def.id;
        let told = rounds.tells.iter().filter(|field| self.shows(table, record, **field));
        let name = self.record_name(table, record).map_or_else(String::new, |named| named.name);
        told.map(|field| self.text_at(table, record, *field)).filter(|text| !text.is_empty() && *text != name).collect()
    }

    /// *as warden of Eskermoor*, *as crew leader*.
    fn why_theirs(&self, home: &Table, rounds: &Rounds, record: RecordId, of: PersonId) -> String {
        let Some((last, links)) = rounds.who.split_last() else { return String::new() };
        let name = self.dataset().field(*last).map_or("", |(_, def)| def.name.as_str());
        let end = (!links.is_empty()).then(|| wording::ends(self, home.def.id, &rounds.who, record)).flatten();
        let whose = end.and_then(|(at, field, records)| {
            let theirs = |record: &&RecordId| match self.reader(at, field).cell(record.row()) {
                Cell::Person(id) => id == of,
                Cell::People(ids) => ids.contains(&of),
                _ => false,
            };
            self.record_name(at, *records.iter().find(theirs)?)
        });
        let whose = whose.map_or_else(String::new, |named| format!(" of {}", named.name));
        format!("as {}{whose}", within_sentence(name))
    }

    fn verb(&self, home: &Table, done: &Finish) -> String {
        let def = home.def.field(done.field());
        match done {
            Finish::Options { any, .. } => {
                let first = any.first().and_then(|id| def?.kind.options().iter().find(|option| option.id == *id));
                first.map_or_else(|| "done".to_owned(), |option| option.name.clone())
            }
            // *Last inspected* is done by inspecting.
            _ => def.map_or_else(
                || "done".to_owned(),
                |def| {
                    let name = within_sentence(&def.name);
                    name.strip_prefix("last ").map(str::to_owned).unwrap_or(name)
                },
            ),
        }
    }

    /// What pressing *done* puts in.
    fn puts(&self, home: &Table, done: &Finish) -> Option<Value> {
        match done {
            Finish::Options { any, .. } => any.first().map(|option| Value::Choice(*option)),
            Finish::Yes(_) => Some(Value::Logical(true)),
            Finish::Filled(field) | Finish::Noted(field) => match home.def.field(*field).map(|def| &def.kind) {
                Some(Kind::DateTime) => Some(Value::Instant(self.clock().now)),
                _ => Some(Value::Date(self.clock().today())),
            },
        }
    }
}

fn urgency(home: &Table, field: FieldId, cell: Cell<'_>) -> Option<Urgency> {
    let Cell::Choice(id) = cell else { return None };
    let options = home.def.field(field)?.kind.options();
    let rank = options.iter().position(|option| option.id == id)?;
    options.get(rank).map(|option| Urgency { text: option.name.clone(), hue: option.hue, rank })
}
