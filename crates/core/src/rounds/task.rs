//! Tasks: what somebody asks of somebody, by a day, perhaps about a record; a reminder is one that somebody asks of themselves.

use super::{Duty, Urgency};
use crate::{
    Clock,
    fault::{Fault, FaultKind},
    id::{PersonId, RecordId, TableId, TrackerId},
    people::People,
    schema::Hue,
};
use jiff::{Timestamp, civil::Date};
use serde::{Deserialize, Serialize};

/// Longest task, in characters.
pub const TASK_LIMIT: usize = 200;
/// Longest note, in characters.
pub const NOTE_LIMIT: usize = 2_000;
/// Most that one asks of one person at a time.
pub const MOST_TASKS: usize = 500;

/// What somebody asks of somebody.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct NewTask {
    pub what: String,
    #[serde(default)]
    pub note: String,
    /// Of whom.
    pub who: PersonId,
    #[serde(default)]
    pub due: Option<Date>,
    #[serde(default)]
    pub urgent: bool,
    /// About which record.
    #[serde(default)]
    pub about: Option<(TrackerId, TableId, RecordId)>,
}

/// A task that was given.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Task {
    pub number: i64,
    pub by: PersonId,
    pub asks: NewTask,
    pub made: Timestamp,
    pub done: Option<Timestamp>,
}

/// What is done with a task.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum TaskStep {
    Done,
    /// Not done after all.
    Undone,
    /// To another day, or to none.
    Move(Option<Date>),
    /// To somebody else.
    Give(PersonId),
    /// It is asked no more.
    Drop,
}

impl NewTask {
    /// The same, tidied.
    ///
    /// # Errors
    /// What is wrong with it, and where.
    pub fn checked(mut self, people: &People) -> Result<Self, Fault> {
        self.what = self.what.split_whitespace().collect::<Vec<_>>().join(" ");
        self.note = self.note.trim().to_owned();
        if self.what.is_empty() {
            return Err(Fault::new(FaultKind::Missing, "Say what is to be done.").at("/what"));
        }
        if self.what.chars().count() > TASK_LIMIT {
            return Err(Fault::new(FaultKind::TooLong, format!("Say it in at most {TASK_LIMIT} characters; the note has room for more."))
                .at("/what"));
        }
        if self.note.chars().count() > NOTE_LIMIT {
            return Err(Fault::new(FaultKind::TooLong, format!("A note has at most {NOTE_LIMIT} characters.")).at("/note"));
        }
        if people.get(self.who).is_none_or(crate::people::Person::has_left) {
            return Err(Fault::new(FaultKind::BadRule, "Choose somebody of the team.").at("/who"));
        }
        Ok(self)
    }
}

impl Task {
    /// The task after a step of somebody's; none: it is asked no more.
    ///
    /// # Errors
    /// They may not do that.
    pub fn after(&self, step: &TaskStep, by: PersonId, people: &People, clock: &Clock) -> Result<Option<Task>, Fault> {
        // Whoever is neither asked nor asks learns nothing of it.
        if by != self.by && by != self.asks.who {
            return Err(Fault::not_found("task"));
        }
        let mut next = self.clone();
        match step {
            TaskStep::Done => next.done = self.done.or(Some(clock.now)),
            TaskStep::Undone => next.done = None,
            TaskStep::Move(day) => next.asks.due = *day,
            TaskStep::Give(who) => next.asks = NewTask { who: *who, ..self.asks.clone() }.checked(people)?,
            TaskStep::Drop if by == self.by => return Ok(None),
            TaskStep::Drop => {
                let message = format!("{} asked this, and can take it back.", people.name(self.by));
                return Err(Fault::new(FaultKind::NotAllowed, message));
            }
        }
        Ok(Some(next))
    }

    /// As it stands in the rounds of whoever it is asked of. `about`: the name of its record, where whoever looks may know it.
    pub fn duty(&self, about: Option<String>, looks: PersonId, people: &People, clock: &Clock) -> Duty {
        let mut duty = Duty {
            task: Some(self.number),
            name: self.asks.what.clone(),
            tells: std::iter::once(self.asks.note.lines().next().unwrap_or_default().to_owned())
                .chain(about.clone())
                .filter(|text| !text.is_empty())
                .collect(),
            urgency: self.asks.urgent.then(|| Urgency { text: "urgent".into(), hue: Hue::Rowan, rank: usize::MAX }),
            why: self.why(looks, people, clock),
            verb: self.done.is_none().then(|| "done".to_owned()),
            done: self.done.map(|at| format!("done {}", at.to_zoned(clock.told.clone()).strftime("%H:%M"))),
            ..Duty::default()
        };
        if let (Some((tracker, table, record)), true) = (self.asks.about, about.is_some()) {
            (duty.tracker, duty.table, duty.record) = (Some(tracker), Some(table), Some(record));
        }
        duty.fall(self.asks.due.map(|day| (day, day)), clock);
        duty
    }

    fn why(&self, looks: PersonId, people: &People, clock: &Clock) -> String {
        let today = clock.today();
        let day = self.made.to_zoned(clock.told.clone()).date();
        let when = match day.until(today).map_or(i32::MAX, |span| span.get_days()) {
            0 => "today".to_owned(),
            1 => "yesterday".to_owned(),
            _ => format!("on {}", clock.customs().day_of_year(day)),
        };
        match (self.by == looks, self.by == self.asks.who) {
            (true, true) => format!("you set yourself this {when}"),
            (true, false) => format!("you gave it {when}"),
            (false, _) => format!("{} gave it {when}", people.name(self.by)),
        }
    }

    /// As it stands among what somebody asked of others: until when, how late, or that it is done.
    pub fn stands(&self, clock: &Clock) -> String {
        let customs = clock.customs();
        if let Some(done) = self.done {
            return format!("done {}", customs.day_of_year(done.to_zoned(clock.told.clone()).date()));
        }
        let Some(due) = self.asks.due else { return "no day".to_owned() };
        match due.until(clock.today()).map_or(0, |span| span.get_days()) {
            late if late > 0 => format!("{} late", customs.count_words(usize::try_from(late).unwrap_or_default(), "day", "days")),
            0 => "today".to_owned(),
            _ => format!("by {}", customs.day_of_year(due)),
        }
    }
}
