//! Views: saved ways of looking at one table.

mod query;
mod rank;
mod rows;
mod words;

pub use query::{GroupCount, Outcome, TallyFigure, Window};
pub use rows::{Candidate, CellView, Row, Waiting};
pub(crate) use words::condition_phrases;

use crate::{
    access::Lens,
    condition::Condition,
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
    id::{FieldId, PersonId, TableId, ViewId},
    names::{Name, Names},
    schema::NAME_LIMIT,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Most levels of groups.
pub const MAX_GROUPS: usize = 3;
/// Most sorts.
pub const MAX_SORTS: usize = 5;

/// A saved view.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct View {
    pub id: ViewId,
    pub table: TableId,
    pub name: String,
    /// Whose it is; nobody's: the team's.
    pub owner: Option<PersonId>,
    pub query: Query,
}

/// What a view shows, in which order.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Query {
    #[serde(default)]
    pub condition: Condition,
    #[serde(default)]
    pub groups: Vec<Order>,
    #[serde(default)]
    pub sorts: Vec<Order>,
    pub fields: Vec<ShownField>,
    #[serde(default)]
    pub tallies: Vec<Tally>,
}

/// A field by which records are put in order.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Order {
    pub field: FieldId,
    /// Last first. Empty cells stand at the end either way.
    #[serde(default)]
    pub descending: bool,
}

/// A field that a view shows.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ShownField {
    pub field: FieldId,
    /// In CSS pixels.
    pub width: u16,
}

/// A figure under a field.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Tally {
    pub field: FieldId,
    pub figure: Figure,
}

/// What is figured.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Figure {
    Sum,
    Average,
    Least,
    Most,
}

/// Most fields that a query shows, and most figures under them.
pub const MAX_FIELDS: usize = 400;

impl Query {
    /// Every field that it names: shown, grouped, sorted, counted or asked for.
    pub fn named_fields(&self) -> BTreeSet<FieldId> {
        let mut named = BTreeSet::new();
        self.names(&mut |name, _| {
            if let Name::Field(field) = name {
                named.insert(field);
            }
        });
        named
    }

    /// The query as somebody may ask it: fields that are not open to them are left out of what is shown, grouped and sorted.
    ///
    /// # Errors
    /// A condition names what is not open to them, or the rest does not fit.
    pub fn asked_by(&self, lens: &Lens<'_>, table: TableId) -> Checked<Query> {
        if let Err(Faults(found)) = self.condition.check_for(lens, table) {
            return Err(Faults(found.into_iter().map(|f| f.at("/condition")).collect()));
        }
        self.check(lens.dataset(), table)?;
        Ok(self.as_open_to(lens, table))
    }

    /// The same without all that names what is not open to somebody.
    #[must_use]
    pub fn as_open_to(&self, lens: &Lens<'_>, table: TableId) -> Query {
        let open = |field: FieldId| lens.reads(table, field);
        Query {
            condition: self.condition.as_open_to(lens, table),
            groups: self.groups.iter().filter(|o| open(o.field)).copied().collect(),
            sorts: self.sorts.iter().filter(|o| open(o.field)).copied().collect(),
            fields: self.fields.iter().filter(|f| open(f.field)).copied().collect(),
            tallies: self.tallies.iter().filter(|t| open(t.field)).copied().collect(),
        }
    }

    /// Whether everything it names is there and fits.
    ///
    /// # Errors
    /// [`FaultKind::BadRule`] for each thing that is not.
    pub fn check(&self, ds: &Dataset, table: TableId) -> Checked<()> {
        let mut faults = Vec::new();
        if let Err(Faults(found)) = self.condition.check(ds, table) {
            faults.extend(found.into_iter().map(|f| f.at("/condition")));
        }
        let there = |field: FieldId| ds.table(table).is_some_and(|t| t.def.field(field).is_some());
        let gone = |at: String| Fault::new(FaultKind::BadRule, "This view names a field that is not there any more.").at(at);
        let named = [
            ("groups", self.groups.iter().map(|o| o.field).collect::<Vec<_>>()),
            ("sorts", self.sorts.iter().map(|o| o.field).collect()),
            ("fields", self.fields.iter().map(|f| f.field).collect()),
            ("tallies", self.tallies.iter().map(|t| t.field).collect()),
        ];
        for (list, fields) in named {
            let lost = fields.iter().enumerate().filter(|(_, field)| !there(**field));
            faults.extend(lost.map(|(place, _)| gone(format!("/{list}/{place}"))));
        }
        for (place, tally) in self.tallies.iter().enumerate() {
            let is_number = ds.shown_kind(table, tally.field).is_none_or(|(_, kind)| kind.is_number());
            if !is_number {
                faults.push(Fault::new(FaultKind::BadRule, "Only numbers can be summed up so.").at(format!("/tallies/{place}")));
            }
        }
        if self.fields.len() > MAX_FIELDS || self.tallies.len() > MAX_FIELDS {
            let message = format!("A view shows at most {MAX_FIELDS} fields, and as many figures.");
            faults.push(Fault::new(FaultKind::TooLong, message));
        }
        if self.groups.len() > MAX_GROUPS || self.sorts.len() > MAX_SORTS {
            let message = format!("A view has at most {MAX_GROUPS} groups and {MAX_SORTS} sorts.");
            faults.push(Fault::new(FaultKind::BadRule, message));
        }
        Faults::none_or(faults)
    }
}

/// A name as people may give one: trimmed, not empty, not too long.
///
/// # Errors
/// [`FaultKind::Missing`] or [`FaultKind::TooLong`], at `/name`.
pub fn check_name(name: &str) -> Result<(), Fault> {
    if name.trim().is_empty() {
        return Err(Fault::new(FaultKind::Missing, "Give it a name.").at("/name"));
    }
    if name.chars().count() > NAME_LIMIT {
        return Err(Fault::new(FaultKind::TooLong, format!("A name has at most {NAME_LIMIT} characters.")).at("/name"));
    }
    Ok(())
}
