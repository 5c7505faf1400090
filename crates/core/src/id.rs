//! Typed ids. Zero is no id, so that `Option<Id>` takes four bytes in a column.

use serde::{Deserialize, Serialize};
use std::{fmt, num::NonZeroU32};

macro_rules! ids {
    ($($(#[$doc:meta])* $name:ident),* $(,)?) => {$(
        $(#[$doc])*
        #[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
        #[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
        #[cfg_attr(feature = "openapi", schema(value_type = u32))]
        #[serde(transparent)]
        pub struct $name(NonZeroU32);

        impl $name {
            /// The id of this number, if it is not zero.
            pub const fn new(number: u32) -> Option<Self> {
                match NonZeroU32::new(number) {
                    Some(n) => Some(Self(n)),
                    None => None,
                }
            }

            /// The number, from 1.
            pub const fn get(self) -> u32 {
                self.0.get()
            }
        }

        impl fmt::Debug for $name {
            fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                write!(f, concat!(stringify!($name), "({})"), self.0)
            }
        }

        impl fmt::Display for $name {
            fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                self.0.fmt(f)
            }
        }

        impl std::str::FromStr for $name {
            type Err = std::num::ParseIntError;
            fn from_str(text: &str) -> Result<Self, Self::Err> {
                text.parse().map(Self)
            }
        }
    )*};
}

ids! {
    /// A tracker of the team.
    TrackerId,
    /// A person of the team.
    PersonId,
    /// A table of a tracker. Tables, fields, options, views, forms, roles and automations of one tracker share one run of numbers.
    TableId,
    /// A field of a table.
    FieldId,
    /// An option of a choice field.
    OptionId,
    /// A saved view.
    ViewId,
    /// An intake form.
    FormId,
    /// A role.
    RoleId,
    /// An automation.
    AutomationId,
    /// A record of a table, numbered from 1 in the order of making and never used again.
    RecordId,
}

impl RecordId {
    /// The record's place in its table's columns, from 0.
    pub const fn row(self) -> usize {
        self.0.get() as usize - 1
    }

    /// The record at a place in its table's columns, from 0.
    ///
    /// # Panics
    /// If the place is over 4 294 967 294, sixteen thousand times more than a table may hold.
    pub fn at_row(row: usize) -> Self {
        u32::try_from(row + 1).ok().and_then(Self::new).expect("a table's rows fit in 32 bits")
    }
}
