//! Who may do what to which records. Nothing is allowed unless a role allows it; several roles add up.

mod adding;
mod area;
mod grant;
mod heard;
mod lens;
mod moved;
mod refs;
mod rehearsal;
mod rules;
mod sentence;
mod shares;
mod whom;
mod why;

pub use adding::Adding;
pub(crate) use grant::Extent;
pub use grant::Right;
pub use heard::{Alike, Heard};
pub use lens::Lens;
pub use rehearsal::{AccessRehearsal, Carry, Move, PersonMoves, TableMoves};
pub use rules::{may_stand_in, typical_of};
pub use sentence::{mine_sentence, role_sentences};
pub use shares::Shares;
pub use whom::AskedOf;
pub use why::{AccessQuestion, AccessWhy, RoleWhy, WhyPart, WhyStep};

use crate::{
    condition::Condition,
    id::{AutomationId, FieldId, FormId, GroupId, GuestId, PageId, PersonId, RoleId, TableId},
    people::{People, Person},
};
use serde::{Deserialize, Serialize};
use std::{
    borrow::Cow,
    collections::{BTreeMap, BTreeSet},
};

/// Who asks or acts.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Asker {
    Person(PersonId),
    /// Somebody who looks as another person would, for as long as they may.
    StandingIn {
        by: PersonId,
        r#as: PersonId,
    },
    /// Somebody at this form's link, of whom nothing else is known.
    Form(FormId),
    /// Somebody at a shared page; which of those whom it names, where it names them.
    Visitor {
        page: PageId,
        guest: Option<GuestId>,
    },
    /// An automation, with what whoever it acts for may do.
    Automation(AutomationId),
    /// Westerfall itself: setting up.
    Westerfall,
}

/// A role: what a group of people may do in this tracker.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Role {
    pub id: RoleId,
    pub name: String,
    /// For whom it is, in a few words.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub about: String,
    pub base: Base,
    pub members: BTreeSet<PersonId>,
    /// Groups of the team whose members hold it too.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub groups: BTreeSet<GroupId>,
    /// What holds for a table in place of what the base gives.
    #[serde(default)]
    pub tables: BTreeMap<TableId, TableRights>,
}

/// What a role gives for tables of which it says nothing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Base {
    /// Owns the tracker and lets people in.
    Steward,
    /// Changes the structure.
    Builder,
    Editor,
    /// Adds, and sees and changes what is theirs.
    Submitter,
    Reader,
    /// The team's own role: nothing but what it says.
    Own,
}

impl Base {
    /// What it lets somebody do, in a sentence.
    pub fn says(self) -> &'static str {
        match self {
            Base::Steward => "Owns the tracker and lets people in.",
            Base::Builder => "Works in every table, and changes the structure.",
            Base::Editor => "Works in every table.",
            Base::Submitter => "Adds, and sees and changes what is theirs.",
            Base::Reader => "Looks at everything, changes nothing.",
            Base::Own => "Does what stands here and nothing else.",
        }
    }
}

/// Which records.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Reach {
    #[default]
    None,
    All,
    /// Made by me, sent in under my confirmed address, or entered for me.
    Mine,
    Where(Condition),
}

/// What a role may do in one table; each right has its own reach.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TableRights {
    #[serde(default)]
    pub look: Reach,
    #[serde(default)]
    pub add: bool,
    #[serde(default)]
    pub change: Reach,
    #[serde(default)]
    pub remove: Reach,
    /// Fields that are hidden or only read; of others, *change* decides.
    #[serde(default)]
    pub fields: BTreeMap<FieldId, FieldRight>,
    /// What holds for fields of which nothing is said.
    #[serde(default, skip_serializing_if = "FieldRight::is_whole")]
    pub rest: FieldRight,
    /// Computed fields shown to this role even where what they draw on is out of its reach.
    #[serde(default)]
    pub released: BTreeSet<FieldId>,
}

impl TableRights {
    /// What holds for a field of the records that it reaches.
    pub fn of(&self, field: FieldId) -> FieldRight {
        self.fields.get(&field).copied().unwrap_or(self.rest)
    }

    /// The same to look at, and nothing to do.
    fn only_read(&self) -> Self {
        Self { add: false, change: Reach::None, remove: Reach::None, ..self.clone() }
    }
}

/// What a role may do with a field, where it is less than with the record.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum FieldRight {
    Hidden,
    Read,
    #[default]
    Change,
}

impl FieldRight {
    /// `serde` hands fields over by reference.
    #[allow(clippy::trivially_copy_pass_by_ref)]
    fn is_whole(&self) -> bool {
        *self == FieldRight::Change
    }
}

impl Role {
    /// Whether somebody holds it, by their own name or through a group. Whoever has left holds nothing.
    pub fn is_held_by(&self, person: PersonId, people: &People) -> bool {
        let named = self.members.contains(&person) || self.groups.iter().any(|group| people.is_in(*group, person));
        named && !people.has_left(person)
    }

    /// Everybody who holds it.
    pub fn holders<'a>(&'a self, people: &'a People) -> impl Iterator<Item = &'a Person> {
        people.iter().filter(|person| self.is_held_by(person.id, people))
    }

    /// What this role may do in a table.
    pub fn rights(&self, table: TableId) -> Cow<'_, TableRights> {
        if let Some(own) = self.tables.get(&table)
            && !matches!(self.base, Base::Steward)
        {
            return Cow::Borrowed(own);
        }
        let everything =
            |reach: Reach| TableRights { look: reach.clone(), add: true, change: reach.clone(), remove: reach, ..TableRights::default() };
        Cow::Owned(match self.base {
            Base::Steward | Base::Builder | Base::Editor => everything(Reach::All),
            Base::Submitter => TableRights { remove: Reach::None, ..everything(Reach::Mine) },
            Base::Reader => TableRights { look: Reach::All, ..TableRights::default() },
            Base::Own => TableRights::default(),
        })
    }
}
