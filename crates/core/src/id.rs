//! Typed ids. Zero is no id, so that `Option<Id>` takes four bytes in a column.

use serde::{Deserialize, Serialize};
use std::{fmt, num::NonZeroU32};

const NO_ID: &str = "an id is a whole number from 1 to 2147483647";

macro_rules! ids {
    ($($(#[$doc:meta])* $name:ident),* $(,)?) => {$(
        $(#[$doc])*
        #[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
        #[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
        #[cfg_attr(feature = "openapi", schema(value_type = u32))]
        #[serde(try_from = "u32", into = "u32")]
        pub struct $name(NonZeroU32);

        impl $name {
            /// The first. It stands where the number is still to be given.
            pub const FIRST: Self = Self(NonZeroU32::MIN);
            /// The largest that the database keeps.
            pub const LAST: Self = Self(NonZeroU32::new(i32::MAX as u32).expect("not zero"));
            /// The one before it.
            pub const LAST_BUT_ONE: Self = Self(NonZeroU32::new(i32::MAX as u32 - 1).expect("not zero"));

            /// The id of this number, if it is not zero and no larger than the database keeps: 2³¹ − 1.
            pub const fn new(number: u32) -> Option<Self> {
                match NonZeroU32::new(number) {
                    Some(n) if number <= i32::MAX as u32 => Some(Self(n)),
                    _ => None,
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
            type Err = &'static str;
            fn from_str(text: &str) -> Result<Self, Self::Err> {
                text.parse().ok().and_then(Self::new).ok_or(NO_ID)
            }
        }

        impl TryFrom<u32> for $name {
            type Error = &'static str;
            fn try_from(number: u32) -> Result<Self, Self::Error> {
                Self::new(number).ok_or(NO_ID)
            }
        }

        impl From<$name> for u32 {
            fn from(id: $name) -> Self {
                id.get()
            }
        }
    )*};
}

ids! {
    /// A tracker of the team.
    TrackerId,
    /// A person of the team.
    PersonId,
    /// A group of the team's people.
    GroupId,
    /// An area of the team's, in which trackers lie.
    AreaId,
    /// A dashboard of the team's.
    DashboardId,
    /// A table of a tracker. Tables, fields, options, views, forms, roles, automations and pages of one tracker share one run of numbers.
    TableId,
    /// A field of a table.
    FieldId,
    /// An option of a choice field.
    OptionId,
    /// A saved view.
    ViewId,
    /// A highlight of a table.
    HighlightId,
    /// A document that records of a table are printed as.
    DocumentId,
    /// A text by which messages are written.
    TextId,
    /// An intake form.
    FormId,
    /// A role.
    RoleId,
    /// An automation.
    AutomationId,
    /// A shared page.
    PageId,
    /// An address outside the team that wants no more messages.
    OptOutId,
    /// Somebody outside whom a shared page names, by their number on it.
    GuestId,
    /// A comment, by its number on its record.
    CommentId,
    /// A record that somebody has begun and not added.
    DraftId,
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
    /// If the place is over 2 147 483 646, eight thousand times more than a table may hold.
    pub fn at_row(row: usize) -> Self {
        u32::try_from(row + 1).ok().and_then(Self::new).expect("a table's rows fit in 31 bits")
    }
}
