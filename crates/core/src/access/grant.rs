//! Grants: what one role gives an asker in one table. Several add up, per record and per field.

use super::{FieldRight, Reach, TableRights};
use crate::id::FieldId;
use fixedbitset::FixedBitSet;
use serde::{Deserialize, Serialize};
use std::{borrow::Cow, cell::OnceCell};

/// A right over records.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Right {
    Look,
    Change,
    Remove,
}

/// What one role gives in one table, and the records it gives to look at, once they were needed.
#[derive(Debug)]
pub(super) struct Grant<'a> {
    pub(super) rights: Cow<'a, TableRights>,
    /// It is of a view that was given by itself.
    pub(super) by_view: bool,
    pub(super) look: OnceCell<Extent>,
}

impl<'a> Grant<'a> {
    pub(super) fn new(rights: Cow<'a, TableRights>) -> Self {
        Self { rights, by_view: false, look: OnceCell::new() }
    }

    pub(super) fn of_view(rights: TableRights) -> Self {
        Self { by_view: true, ..Self::new(Cow::Owned(rights)) }
    }

    /// The same to look at, and nothing to do.
    pub(super) fn only_read(self) -> Self {
        Self { rights: Cow::Owned(self.rights.only_read()), ..self }
    }

    pub(super) fn reach(&self, right: Right) -> &Reach {
        match right {
            Right::Look => &self.rights.look,
            Right::Change => &self.rights.change,
            Right::Remove => &self.rights.remove,
        }
    }

    /// What it says of a field of the records that it reaches.
    pub(super) fn field(&self, field: FieldId) -> FieldRight {
        self.rights.of(field)
    }

    pub(super) fn shows(&self, field: FieldId) -> bool {
        self.field(field) != FieldRight::Hidden
    }

    pub(super) fn releases(&self, field: FieldId) -> bool {
        self.shows(field) && self.rights.released.contains(&field)
    }
}

/// Which of the records of a table, of those that are in sight at all.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Extent {
    Nowhere,
    Everywhere,
    Some(FixedBitSet),
}

impl Extent {
    /// Whether the record in this row is one of them.
    #[inline]
    pub(crate) fn holds(&self, row: usize) -> bool {
        match self {
            Extent::Nowhere => false,
            Extent::Everywhere => true,
            Extent::Some(rows) => rows.contains(row),
        }
    }

    /// The rows, where it is neither all nor none.
    pub(crate) fn into_rows(self) -> Option<FixedBitSet> {
        match self {
            Extent::Some(rows) => Some(rows),
            Extent::Nowhere | Extent::Everywhere => None,
        }
    }

    /// What several give together.
    pub(super) fn union<'e>(extents: impl Iterator<Item = &'e Extent>) -> Extent {
        let mut all = Extent::Nowhere;
        for extent in extents {
            all = match (all, extent) {
                (Extent::Everywhere, _) | (_, Extent::Everywhere) => return Extent::Everywhere,
                (Extent::Nowhere, other) => other.clone(),
                (all, Extent::Nowhere) => all,
                (Extent::Some(mut rows), Extent::Some(more)) => {
                    rows.union_with(more);
                    Extent::Some(rows)
                }
            };
        }
        all
    }
}
