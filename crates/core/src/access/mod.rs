//! Who may do what to which records. Nothing is allowed unless a role allows it; several roles add up.

mod grant;
mod heard;
mod lens;
mod sentence;

pub(crate) use grant::Extent;
pub use grant::Right;
pub use heard::{Alike, Heard};
pub use lens::Lens;
pub use sentence::role_sentences;

use crate::{
    condition::Condition,
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
    id::{FieldId, PersonId, RoleId, TableId},
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
    Form(crate::id::FormId),
    /// Westerfall itself: setting up, automations.
    Westerfall,
}

impl Asker {
    /// Whether the tracker is there for them: they hold a role in it, or are its steward and stand in for somebody who does.
    pub fn may_look_at(self, ds: &Dataset) -> bool {
        match self {
            Asker::Person(person) => ds.roles_of(person).next().is_some(),
            Asker::StandingIn { by, r#as } => ds.holds(by, &[Base::Steward]) && ds.roles_of(r#as).next().is_some(),
            Asker::Form(_) | Asker::Westerfall => true,
        }
    }
}

impl Dataset {
    /// Whether this tracker is in the way of one person's standing in for another, or a reason for it: through them one would
    /// see whatever they see, so that one must be the steward of every tracker that they open.
    pub fn stands_in(&self, by: PersonId, r#as: PersonId) -> StandsIn {
        match (self.holds(by, &[Base::Steward]), self.roles_of(r#as).next().is_some()) {
            (true, _) => StandsIn::Steward,
            (false, true) => StandsIn::Never,
            (false, false) => StandsIn::NoMatter,
        }
    }
}

/// What one tracker says to somebody's standing in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum StandsIn {
    /// It is open to neither.
    NoMatter,
    Steward,
    /// It is open to the other alone.
    Never,
}

/// A role: what a group of people may do in this tracker.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Role {
    pub id: RoleId,
    pub name: String,
    pub base: Base,
    pub members: BTreeSet<PersonId>,
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
    /// Computed fields shown to this role even where what they draw on is out of its reach.
    #[serde(default)]
    pub released: BTreeSet<FieldId>,
}

/// What a role may do with a field, where it is less than with the record.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum FieldRight {
    Hidden,
    Read,
    Change,
}

impl Role {
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

    /// Whether every table, field and condition it names is there and fits.
    ///
    /// # Errors
    /// [`FaultKind::BadRule`] for each that is not.
    pub fn check(&self, ds: &Dataset) -> Checked<()> {
        let mut faults = Vec::new();
        for (table, rights) in &self.tables {
            let at = format!("/tables/{table}");
            let Some(home) = ds.table(*table) else {
                faults.push(Fault::new(FaultKind::BadRule, "This role names a table that is not there any more.").at(&at));
                continue;
            };
            for (name, reach) in [("look", &rights.look), ("change", &rights.change), ("remove", &rights.remove)] {
                if let Reach::Where(condition) = reach
                    && let Err(Faults(found)) = condition.check(ds, *table)
                {
                    faults.extend(found.into_iter().map(|f| f.at(format!("{at}/{name}/where"))));
                }
            }
            if rights.fields.keys().chain(&rights.released).any(|f| home.def.field(*f).is_none()) {
                faults.push(Fault::new(FaultKind::BadRule, "This role names a field that is not there any more.").at(&at));
            }
        }
        Faults::none_or(faults)
    }
}

impl Dataset {
    /// The roles a person holds in this tracker.
    pub fn roles_of(&self, person: PersonId) -> impl Iterator<Item = &Role> {
        self.roles().filter(move |r| r.members.contains(&person))
    }

    /// Whether a person holds a role with one of these bases.
    pub fn holds(&self, person: PersonId, bases: &[Base]) -> bool {
        self.roles_of(person).any(|r| bases.contains(&r.base))
    }
}
