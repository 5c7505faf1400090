//! Changing many records at once: what is done to which fields of which records, said before it is done, and done as one step.

mod alter;
mod duplicate;
mod refs;
mod rehearsal;

pub(crate) use alter::moved_on;
pub use duplicate::{Duplicate, MOST_AGAIN};
pub(crate) use refs::altered_refs;
pub(crate) use rehearsal::refused_of;
pub use rehearsal::{BulkExample, BulkRefused, BulkRehearsal};

use crate::{
    access::Lens,
    formula::Formula,
    id::{FieldId, OptionId, PersonId, RecordId, TableId},
    value::Input,
    view::Query,
};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Most records that are changed at once.
pub const MOST: usize = 10_000;
/// Most fields that are changed at once.
pub const MOST_FIELDS: usize = 20;

/// A change of many records.
#[derive(Clone, Debug)]
pub struct Bulk {
    pub table: TableId,
    pub which: Which,
    /// Of these, those that stay as they are.
    pub without: BTreeSet<RecordId>,
    pub alter: Vec<Altered>,
}

/// Which records are meant.
#[derive(Clone, Debug)]
pub enum Which {
    These(Vec<RecordId>),
    /// All that a view shows, as it is asked.
    Shown(Box<Query>),
}

/// A field, and what is done to it in each record. `F`: how a formula is written.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Altered<F = Formula> {
    pub field: FieldId,
    pub to: Alter<F>,
}

/// What is done to what stands in a field.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Alter<F = Formula> {
    /// It becomes this.
    Set(Input),
    Empty,
    /// Of texts: each place where one text stands becomes another; capitals count.
    Replace {
        find: String,
        with: String,
    },
    /// Of days and moments: so many days later; earlier where it is negative.
    Days(i32),
    /// Of numbers: more by this share of them, rounded as the field shows them; 0.05 is 5 %.
    Raise(Decimal),
    /// It becomes what stands in another field of its record.
    From(FieldId),
    /// Of days and moments: it becomes the one it is.
    Now,
    /// It becomes what stands at the end of a path of links; of no path: the record itself, where a link takes it.
    Along(Vec<FieldId>),
    /// It becomes what this gives: of automations alone, which builders write.
    Formula(F),
    /// Of several choices: these are chosen, too.
    AddOptions(Vec<OptionId>),
    /// Of several people: these are named, too.
    AddPeople(Vec<PersonId>),
    /// Of links to many: these are linked, too.
    AddLinks(Vec<RecordId>),
    /// Of several choices: these are chosen no more.
    TakeOptions(Vec<OptionId>),
    /// Of several people: these are named no more.
    TakePeople(Vec<PersonId>),
    /// Of links: these are linked no more.
    TakeLinks(Vec<RecordId>),
    /// Of a checklist: this is to be done, too.
    AddItem(String),
    /// Of a checklist: this is to be done, too, by somebody or by a day.
    AddTask(NewItem),
}

/// What is to be done, too, of a checklist.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct NewItem {
    pub text: String,
    /// Whoever does it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub person: Option<PersonId>,
    /// Whoever stands at the end of a path from the record does it; of no path: whoever is named, or nobody.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub along: Vec<FieldId>,
    /// Until so many days from then.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub days: Option<u16>,
}

impl<F> Altered<F> {
    /// The same with its formula written otherwise.
    pub fn written<G>(&self, write: &mut impl FnMut(&F) -> G) -> Altered<G> {
        let to = match &self.to {
            Alter::Set(input) => Alter::Set(input.clone()),
            Alter::Empty => Alter::Empty,
            Alter::Replace { find, with } => Alter::Replace { find: find.clone(), with: with.clone() },
            Alter::Days(days) => Alter::Days(*days),
            Alter::Raise(share) => Alter::Raise(*share),
            Alter::From(field) => Alter::From(*field),
            Alter::Now => Alter::Now,
            Alter::Along(path) => Alter::Along(path.clone()),
            Alter::Formula(formula) => Alter::Formula(write(formula)),
            Alter::AddOptions(options) => Alter::AddOptions(options.clone()),
            Alter::AddPeople(people) => Alter::AddPeople(people.clone()),
            Alter::AddLinks(records) => Alter::AddLinks(records.clone()),
            Alter::TakeOptions(options) => Alter::TakeOptions(options.clone()),
            Alter::TakePeople(people) => Alter::TakePeople(people.clone()),
            Alter::TakeLinks(records) => Alter::TakeLinks(records.clone()),
            Alter::AddItem(text) => Alter::AddItem(text.clone()),
            Alter::AddTask(task) => Alter::AddTask(task.clone()),
        };
        Altered { field: self.field, to }
    }
}

impl Bulk {
    /// The records, each once, in the order of their numbers.
    pub(crate) fn records(&self, lens: &Lens<'_>) -> Vec<RecordId> {
        let all: BTreeSet<RecordId> = match &self.which {
            Which::These(records) => records.iter().copied().collect(),
            Which::Shown(query) => query.condition.matching(lens, self.table).ones().map(RecordId::at_row).collect(),
        };
        all.difference(&self.without).copied().collect()
    }
}
