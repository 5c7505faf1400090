//! What happened to a record, as the asker may see it.

use crate::{
    access::Lens,
    history::{Change, Op},
    id::{AutomationId, FieldId, FormId, PersonId, RecordId, TableId},
    people::Actor,
    schema::Kind,
    value::Value,
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// A stretch of a record's trail.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Trail {
    /// Latest first.
    pub entries: Vec<TrailEntry>,
    /// There is more, before the last of these.
    pub earlier: bool,
}

/// One change of a record.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TrailEntry {
    pub seq: u64,
    pub at: Timestamp,
    /// The moment in words, in the tracker's zone.
    pub at_text: String,
    /// Who did it, in words.
    pub who: String,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub person: Option<PersonId>,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub form: Option<FormId>,
    pub what: What,
    /// The button that was pressed, by its field's name.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pressed: Option<String>,
    /// What was answered to a message, in its words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub answered: Option<String>,
    /// Takes an earlier change back.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub undoes: Option<u64>,
    pub edits: Vec<TrailEdit>,
}

/// What was done with the record as a whole.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum What {
    Added,
    Changed,
    Removed,
    Restored,
    /// A button was pressed.
    Pressed,
    /// A message was answered.
    Answered,
}

/// One cell, before and after.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TrailEdit {
    pub field: FieldId,
    pub name: String,
    pub before: String,
    pub after: String,
    /// What stood there, and until when: *reported until 24 Nov*.
    pub until: String,
}

/// Most characters of what stood there before.
const BEFORE: usize = 40;

impl Lens<'_> {
    /// The trail of a record from the changes that touched it, latest first. Fields and linked records that are not
    /// open to the asker are left out, and changes of which nothing is left.
    pub fn trail(&self, table: TableId, record: RecordId, changes: &[Change]) -> Vec<TrailEntry> {
        if !self.sees(table, record) {
            return Vec::new();
        }
        let mut entries: Vec<TrailEntry> = changes.iter().filter_map(|c| self.trail_entry(table, record, c)).collect();
        entries.sort_by_key(|e| std::cmp::Reverse(e.seq));
        entries
    }

    fn trail_entry(&self, table: TableId, record: RecordId, change: &Change) -> Option<TrailEntry> {
        let ops = change.ops.iter().flat_map(|op| op.of(table, record));
        let mut what = What::Changed;
        let mut edits = Vec::new();
        let (mut pressed, mut answered) = (None, None);
        // An answer tells what it put in: its words are for those who see all of that.
        let open = |op: &Op| !matches!(op, Op::Cell { field, .. } if !self.shows(table, record, *field));
        let tells = change.ops.iter().flat_map(|op| op.of(table, record)).all(|op| open(&op));
        for op in ops {
            match op {
                Op::Add { .. } => what = What::Added,
                Op::Gone { gone, .. } => what = if gone { What::Removed } else { What::Restored },
                Op::Cell { field, before, after, .. } => edits.extend(self.trail_edit((table, record, field), &before, &after, change.at)),
                Op::Press { field, .. } => {
                    pressed = self.ds.table(table)?.def.field(field).filter(|_| self.shows(table, record, field)).map(|f| f.name.clone());
                    what = What::Pressed;
                }
                Op::Reply { by, words, automation, .. } => {
                    what = What::Answered;
                    answered = Some((by, self.answer_words(tells.then_some(words.as_str()), automation)));
                }
                Op::Arrive { .. }
                | Op::Say { .. }
                | Op::Rows(_)
                | Op::Bin { .. }
                | Op::Fill { .. }
                | Op::Empty { .. }
                | Op::Count { .. }
                | Op::Turned { .. }
                | Op::Go { .. }
                | Op::Place { .. }
                | Op::Put { .. } => {}
            }
        }
        if what == What::Pressed && pressed.is_none() {
            return None;
        }
        if what == What::Changed && edits.is_empty() {
            return None;
        }
        // Whoever may not read who changed records is not told here either.
        let who = self.meta_of(table, record, &Kind::ChangedBy).map(|_| change.who);
        let (person, form) = match who.unwrap_or(Actor::Westerfall) {
            Actor::Person(person) => (Some(person), None),
            Actor::Form(form) => (None, Some(form)),
            Actor::Automation(_) | Actor::Visitor { .. } | Actor::Westerfall => (None, None),
        };
        Some(TrailEntry {
            seq: change.seq,
            at: change.at,
            at_text: crate::value::moment_text(change.at, self.clock),
            who: match (who, &answered) {
                (None, _) => "Somebody".to_owned(),
                // Somebody outside has no other name than the one to which the message went.
                (Some(Actor::Automation(_)), Some((by, _))) => by.clone(),
                (Some(who), _) => self.actor_name(who),
            },
            person,
            form,
            what,
            pressed,
            answered: answered.map(|(_, words)| words),
            undoes: change.undoes,
            edits,
        })
    }

    /// What was answered to which message.
    fn answer_words(&self, words: Option<&str>, automation: AutomationId) -> String {
        let to = self.ds.automation(automation).map_or_else(|| "a message".to_owned(), |a| format!("the message of “{}”", a.name));
        words.map_or_else(|| format!("answered {to}"), |words| format!("answered “{words}” to {to}"))
    }

    fn trail_edit(
        &self,
        (table, record, field): (TableId, RecordId, FieldId),
        before: &Value,
        after: &Value,
        at: Timestamp,
    ) -> Option<TrailEdit> {
        let def = self.ds.table(table)?.def.field(field)?;
        if !self.shows(table, record, field) || matches!(def.kind, Kind::Numbering { .. }) {
            return None;
        }
        let text = |value: &Value| self.cell_text(table, field, value.as_cell());
        let (before, after) = (text(before), text(after));
        let until = format!("{} until {}", shortened(&before), self.when(at));
        (before != after).then(|| TrailEdit { field, name: def.name.clone(), before, after, until })
    }

    /// A moment as one says it now: *10:40 today*, *yesterday*, *24 Nov*, *24 Nov 2025*.
    fn when(&self, at: Timestamp) -> String {
        let told = &self.clock.told;
        let (then, today) = (at.to_zoned(told.clone()), self.clock.now.to_zoned(told.clone()).date());
        match then.date().until(today).map_or(i32::MAX, |span| span.get_days()) {
            0 => then.strftime("%H:%M today").to_string(),
            1 => "yesterday".to_owned(),
            _ if then.year() == today.year() => self.clock.customs().day_of_year(then.date()),
            _ => self.clock.customs().date_text(then.date()),
        }
    }

    /// Whoever did something, in words.
    pub fn actor_name(&self, who: Actor) -> String {
        match who {
            Actor::Person(person) => self.ds.people.name(person).to_owned(),
            Actor::Form(form) => self.ds.form(form).map_or_else(|| "a form".to_owned(), |f| format!("the form “{}”", f.title)),
            Actor::Automation(id) => {
                self.ds.automation(id).map_or_else(|| "an automation".to_owned(), |a| format!("the automation “{}”", a.name))
            }
            Actor::Visitor { page, guest } => {
                let Some(page) = self.ds.page(page) else { return "a visitor of a shared page".to_owned() };
                let who = guest.and_then(|guest| page.guests.iter().find(|one| one.id == guest));
                format!("{}, by the page “{}”", who.map_or("a visitor", |guest| &guest.mail), page.title)
            }
            Actor::Westerfall => "Westerfall".to_owned(),
        }
    }
}

/// In one line, and not too long of it.
fn shortened(text: &str) -> String {
    let line = text.lines().next().unwrap_or_default();
    let cut: String = line.chars().take(BEFORE).collect();
    match (cut.is_empty(), cut.len() < text.len()) {
        (true, _) => "empty".to_owned(),
        (false, true) => format!("{} …", cut.trim_end()),
        (false, false) => cut,
    }
}
