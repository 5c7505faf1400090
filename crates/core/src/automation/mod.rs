//! Automations: when something happens, if conditions hold, then steps are done. Core plans; the server keeps and sends.
//!
//! `occasion` says when one is due, `fired` what a change sets going, `run` does the steps on a state of the tracker, and `course`
//! follows all that comes of it: each change that an automation makes goes the one way in, as whoever it acts for.

mod awaits;
mod call;
mod course;
mod fired;
mod follows;
mod letter;
mod occasion;
mod refs;
mod rehearsal;
mod reply;
mod rules;
mod run;
mod short;
mod words;

pub use call::{Answered, Call, CallHeader, CallSends, CallTakes, Calling, MOST_SECONDS, Method};
pub use course::{Move, course, paced_course};
pub use follows::Told;
pub use letter::{Enclosed, Item, Message};
pub use occasion::{Came, Hour, Round};
pub use rehearsal::{AutomationRehearsal, TrialMail, TrialRun};
pub use reply::{
    Asked, MOST_CHOICES, MOST_FACTS, MOST_REPLY_DAYS, REPLY_WORDS, Replied, Reply, ReplyBy, ReplyChoice, ReplyDone, ReplyFact, ReplyGiven,
    ReplyOffer, ReplyTyped, ReplyView, Settled, TypedSort,
};
pub use run::{LogLine, LogOutcome, Paused, Run, Source, Waiting};
pub use short::{MOST_PARTS, parts, short};
pub use words::{Branch, Clause};

use crate::{
    bulk::Altered,
    condition::Condition,
    formula::Formula,
    id::{AutomationId, DocumentId, FieldId, FormId, PersonId, TableId, TextId},
    schema::Same,
    wording::Wording,
};
use serde::{Deserialize, Serialize};

/// Most steps of one automation, those within others counted.
pub const MAX_STEPS: usize = 50;
/// Deepest nesting of steps.
pub const MAX_STEP_DEPTH: usize = 4;

/// An automation of one table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Automation {
    pub id: AutomationId,
    pub table: TableId,
    pub name: String,
    pub on: bool,
    pub when: Occasion,
    #[serde(default)]
    pub condition: Condition,
    /// What held of it before: of what changes alone.
    #[serde(default, skip_serializing_if = "Condition::is_nothing")]
    pub before: Condition,
    pub steps: Vec<Step<Wording, Formula>>,
    /// Whoever said last what it does: it may do to records what they may, and nothing else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub acts_for: Option<PersonId>,
    /// Whether what it would do is not told before a single edit, a drop or a press that sets it going.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub unsaid: bool,
    /// What it is to do in place of that, once somebody lets it take over.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub draft: Option<Box<Plan>>,
}

/// When an automation does what.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Plan {
    pub when: Occasion,
    #[serde(default)]
    pub condition: Condition,
    #[serde(default, skip_serializing_if = "Condition::is_nothing")]
    pub before: Condition,
    pub steps: Vec<Step<Wording, Formula>>,
}

/// What sets it going.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Occasion {
    /// A record comes by this form, or by any form.
    Form(Option<FormId>),
    /// A record is added by a person.
    Added,
    /// A button that runs it is pressed.
    Pressed,
    /// What stands in one of these fields becomes another; of no field: of any.
    Changed(Vec<FieldId>),
    /// Its condition begins to hold, by whatever change, or because a day has come.
    Fits,
    /// A day comes that lies so many days after the one in a field; before it, where negative.
    Date {
        field: FieldId,
        days: i32,
        at: Hour,
        /// What falls on a weekend comes on the Monday after it.
        #[serde(default)]
        working: bool,
    },
    /// A timetable comes round: for all records for which its condition holds.
    Every { round: Round, at: Hour },
    /// Somebody runs it on records that they chose.
    Chosen,
    /// A step of another automation starts it.
    Started,
}

/// One thing that it does. `T`: how texts with values are written, `F`: how formulas are.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
#[serde(bound(serialize = "T: Serialize, F: Serialize", deserialize = "T: Deserialize<'de> + Default, F: Deserialize<'de>"))]
pub enum Step<T = Wording, F = Formula> {
    Mail {
        to: Recipient,
        subject: T,
        body: T,
        /// One message for all records of a time, of which `body` is what is said of each.
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        digest: bool,
        /// What its reader may answer from within it.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        reply: Option<Reply>,
        /// What goes along with it: a document of the record, as its reader may see it.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        encloses: Option<DocumentId>,
        /// The team's text by which it is written; its own heading and text rest then.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        text: Option<TextId>,
    },
    /// Changes fields of the record, or of those that a path of links leads to from it.
    Set {
        #[serde(default)]
        along: Vec<FieldId>,
        alter: Vec<Altered<F>>,
    },
    /// Adds a record, with lines under it.
    Add {
        table: TableId,
        alter: Vec<Altered<F>>,
        #[serde(default = "Vec::new", skip_serializing_if = "Vec::is_empty")]
        lines: Vec<AddedLine<F>>,
    },
    /// Starts another automation over the record.
    Start { automation: AutomationId },
    /// Says something about the record, for all who see it.
    Say { text: T },
    /// Goes through the records of a table that fit, in the order in which they came.
    Each {
        table: TableId,
        #[serde(default)]
        condition: Condition,
        /// What they must have alike with the record it is about.
        #[serde(default)]
        same: Vec<Same>,
        /// Only the first of them.
        #[serde(default)]
        first: bool,
        #[cfg_attr(feature = "openapi", schema(no_recursion))]
        steps: Vec<Step<T, F>>,
        /// Where there is none.
        #[serde(default)]
        #[cfg_attr(feature = "openapi", schema(no_recursion))]
        otherwise: Vec<Step<T, F>>,
    },
    If {
        condition: Condition,
        #[cfg_attr(feature = "openapi", schema(no_recursion))]
        steps: Vec<Step<T, F>>,
        #[serde(default)]
        #[cfg_attr(feature = "openapi", schema(no_recursion))]
        otherwise: Vec<Step<T, F>>,
    },
    Wait {
        pause: Pause,
        /// Where it waited for a condition, and that came to hold.
        #[serde(default)]
        #[cfg_attr(feature = "openapi", schema(no_recursion))]
        steps: Vec<Step<T, F>>,
        /// Where it did not.
        #[serde(default)]
        #[cfg_attr(feature = "openapi", schema(no_recursion))]
        otherwise: Vec<Step<T, F>>,
    },
    /// Calls a web address, and goes on when it has answered.
    Call {
        calls: Box<Call<T>>,
        /// Where it did well.
        #[serde(default)]
        #[cfg_attr(feature = "openapi", schema(no_recursion))]
        steps: Vec<Step<T, F>>,
        /// Where it did not, or its answer does not fit.
        #[serde(default)]
        #[cfg_attr(feature = "openapi", schema(no_recursion))]
        otherwise: Vec<Step<T, F>>,
    },
    /// Nothing further is done.
    Stop,
}

/// A line of a record that is added.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AddedLine<F = Formula> {
    /// The link of the added record that it stands under.
    pub under: FieldId,
    pub alter: Vec<Altered<F>>,
}

/// How long it waits.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Pause {
    Hours(u32),
    Days(u32),
    /// Until the day or moment in a field of the record.
    Field(FieldId),
    /// Until a condition holds, at most so many days.
    Until {
        condition: Condition,
        days: u32,
    },
}

/// Whom a message goes to.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Recipient {
    /// A person, e-mail or phone field, perhaps along links.
    Field(Vec<FieldId>),
    Address(String),
    /// A text to this number.
    Phone(String),
    /// A chat message into the room of this name.
    Room(String),
    /// Everybody who holds a role.
    Role(crate::id::RoleId),
}

/// A list of steps within a step: the word by which it is found there, and the table whose records it is about.
pub(crate) type Inner<'s, T, F> = (&'static str, TableId, &'s [Step<T, F>]);

impl<T, F> Step<T, F> {
    /// As it is kept.
    pub(crate) fn word(&self) -> &'static str {
        match self {
            Step::Mail { .. } => "mail",
            Step::Set { .. } => "set",
            Step::Add { .. } => "add",
            Step::Say { .. } => "say",
            Step::Start { .. } => "start",
            Step::Each { .. } => "each",
            Step::If { .. } => "if",
            Step::Wait { .. } => "wait",
            Step::Call { .. } => "call",
            Step::Stop => "stop",
        }
    }

    /// The lists of steps within it.
    pub(crate) fn inner(&self, table: TableId) -> Vec<Inner<'_, T, F>> {
        match self {
            Step::Each { table: found, steps, otherwise, .. } => vec![("steps", *found, steps), ("otherwise", table, otherwise)],
            Step::If { steps, otherwise, .. } | Step::Wait { steps, otherwise, .. } | Step::Call { steps, otherwise, .. } => {
                vec![("steps", table, steps), ("otherwise", table, otherwise)]
            }
            Step::Mail { .. } | Step::Set { .. } | Step::Add { .. } | Step::Say { .. } | Step::Start { .. } | Step::Stop => Vec::new(),
        }
    }

    /// The same with its texts and formulas written otherwise; `at` is its place, as a JSON pointer.
    pub fn written<W: Rewrite<T, F>>(&self, table: TableId, at: &str, write: &mut W) -> Step<W::Text, W::Formula> {
        let inner = |list: &[Step<T, F>], table: TableId, word: &str, write: &mut _| {
            written(list, table, &format!("{at}/{}/{word}", self.word()), write)
        };
        match self {
            Step::Mail { to, subject, body, digest, reply, encloses, text } => Step::Mail {
                to: to.clone(),
                subject: write.text(subject, table, format!("{at}/mail/subject")),
                body: write.text(body, table, format!("{at}/mail/body")),
                digest: *digest,
                reply: reply.clone(),
                encloses: *encloses,
                text: *text,
            },
            Step::Set { along, alter } => {
                let alter = altered(alter, Whose::Changed(table, along), &format!("{at}/set/alter"), write);
                Step::Set { along: along.clone(), alter }
            }
            Step::Add { table, alter, lines } => {
                let line = |(place, line): (usize, &AddedLine<F>)| {
                    let alter = altered(&line.alter, Whose::Own, &format!("{at}/add/lines/{place}/alter"), write);
                    AddedLine { under: line.under, alter }
                };
                let lines = lines.iter().enumerate().map(line).collect();
                Step::Add { table: *table, alter: altered(alter, Whose::Own, &format!("{at}/add/alter"), write), lines }
            }
            Step::Start { automation } => Step::Start { automation: *automation },
            Step::Say { text } => Step::Say { text: write.text(text, table, format!("{at}/say/text")) },
            Step::Each { table: found, condition, same, first, steps, otherwise } => Step::Each {
                table: *found,
                condition: condition.clone(),
                same: same.clone(),
                first: *first,
                steps: inner(steps, *found, "steps", write),
                otherwise: inner(otherwise, table, "otherwise", write),
            },
            Step::If { condition, steps, otherwise } => Step::If {
                condition: condition.clone(),
                steps: inner(steps, table, "steps", write),
                otherwise: inner(otherwise, table, "otherwise", write),
            },
            Step::Wait { pause, steps, otherwise } => Step::Wait {
                pause: pause.clone(),
                steps: inner(steps, table, "steps", write),
                otherwise: inner(otherwise, table, "otherwise", write),
            },
            Step::Call { calls, steps, otherwise } => Step::Call {
                calls: Box::new(calls.written(table, &format!("{at}/call/calls"), &mut |text, table, at| write.text(text, table, at))),
                steps: inner(steps, table, "steps", write),
                otherwise: inner(otherwise, table, "otherwise", write),
            },
            Step::Stop => Step::Stop,
        }
    }
}

/// How the texts and formulas of steps are written otherwise: read from what somebody typed, or typed out again. Each is told with its
/// place, as a JSON pointer.
pub trait Rewrite<T, F> {
    type Text;
    type Formula;
    /// A text with values of a table's records.
    fn text(&mut self, of: &T, table: TableId, at: String) -> Self::Text;
    fn formula(&mut self, of: &F, whose: Whose<'_>, at: String) -> Self::Formula;
}

/// Of whose values a formula is that says what a field becomes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Whose<'a> {
    /// Of the record that is changed: at the end of a path of links from a table's record.
    Changed(TableId, &'a [FieldId]),
    /// Of the record that the automation is about: what is added holds nothing yet.
    Own,
}

fn altered<T, F, W: Rewrite<T, F>>(alter: &[Altered<F>], whose: Whose<'_>, at: &str, write: &mut W) -> Vec<Altered<W::Formula>> {
    let one =
        |(place, one): (usize, &Altered<F>)| one.written(&mut |formula| write.formula(formula, whose, format!("{at}/{place}/to/formula")));
    alter.iter().enumerate().map(one).collect()
}

/// Steps with their texts and formulas written otherwise: see [`Step::written`].
pub fn written<T, F, W: Rewrite<T, F>>(steps: &[Step<T, F>], table: TableId, at: &str, write: &mut W) -> Vec<Step<W::Text, W::Formula>> {
    steps.iter().enumerate().map(|(place, step)| step.written(table, &format!("{at}/{place}"), write)).collect()
}

/// Every step, those within others too, with the table that it is about and its place.
pub(crate) fn every<'s, T, F>(steps: &'s [Step<T, F>], table: TableId, at: &str, see: &mut dyn FnMut(&'s Step<T, F>, TableId, String)) {
    for (place, step) in steps.iter().enumerate() {
        let at = format!("{at}/{place}");
        for (word, about, inner) in step.inner(table) {
            every(inner, about, &format!("{at}/{}/{word}", step.word()), see);
        }
        see(step, table, at);
    }
}

impl Step {
    /// Writes to another address in place of one.
    pub(crate) fn write_to(&mut self, old: &str, new: &str) {
        match self {
            Step::Mail { to: Recipient::Address(mail), .. } if mail.eq_ignore_ascii_case(old) && !new.is_empty() => new.clone_into(mail),
            Step::Each { steps, otherwise, .. }
            | Step::If { steps, otherwise, .. }
            | Step::Wait { steps, otherwise, .. }
            | Step::Call { steps, otherwise, .. } => {
                steps.iter_mut().chain(otherwise).for_each(|step| step.write_to(old, new));
            }
            Step::Mail { .. } | Step::Set { .. } | Step::Add { .. } | Step::Say { .. } | Step::Start { .. } | Step::Stop => {}
        }
    }
}

impl Automation {
    /// Every step, those within others too.
    pub(crate) fn all_steps(&self) -> Vec<&Step> {
        let mut all = Vec::new();
        every(&self.steps, self.table, "/steps", &mut |step, _, _| all.push(step));
        all
    }

    /// Whether it changes records, or sends what they hold elsewhere, and so has to act for somebody.
    pub fn writes(&self) -> bool {
        let writes = |step: &&Step| match step {
            Step::Set { .. } | Step::Add { .. } | Step::Say { .. } | Step::Call { .. } => true,
            Step::Mail { reply, .. } => reply.is_some(),
            Step::Each { .. } | Step::If { .. } | Step::Wait { .. } | Step::Start { .. } | Step::Stop => false,
        };
        self.all_steps().iter().any(writes)
    }

    /// Whether it puts something into a field.
    pub(crate) fn sets(&self, field: FieldId) -> bool {
        self.all_steps().iter().any(|step| match step {
            Step::Set { alter, .. } => alter.iter().any(|one| one.field == field),
            Step::Add { alter, lines, .. } => alter.iter().chain(lines.iter().flat_map(|line| &line.alter)).any(|one| one.field == field),
            Step::Mail { reply: Some(reply), .. } => reply.fields().contains(&field),
            Step::Call { calls, .. } => calls.takes.iter().any(|one| one.field == field),
            _ => false,
        })
    }

    /// The fields into which answers to its messages put something.
    pub(crate) fn answered_into(&self) -> Vec<FieldId> {
        let reply = |step: &&Step| if let Step::Mail { reply: Some(reply), .. } = step { reply.fields() } else { Vec::new() };
        self.all_steps().iter().flat_map(reply).collect()
    }

    /// Whether it can be asked what held before: something was, before it changed.
    pub fn has_before(&self) -> bool {
        matches!(self.when, Occasion::Changed(_) | Occasion::Fits)
    }

    /// As its draft would have it.
    pub fn drafted(&self) -> Option<Automation> {
        let Plan { when, condition, before, steps } = self.draft.as_deref()?.clone();
        Some(Automation { when, condition, before, steps, draft: None, ..self.clone() })
    }

    /// Whether both do the same, at the same times, whatever they are called and whether they run.
    pub fn does_as(&self, other: &Automation) -> bool {
        (&self.when, &self.condition, &self.before, &self.steps) == (&other.when, &other.condition, &other.before, &other.steps)
    }
}
