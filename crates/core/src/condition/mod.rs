//! The one rule language: view conditions, reach, form and automation conditions are all this.

mod check;
mod eval;
mod refs;
mod relative;
mod words;
pub(crate) use refs::condition_refs;

pub use check::Comparison;
pub(crate) use eval::Asking;
pub use relative::{Period, When, days_between};
pub(crate) use words::path_words as words_of_path;

use crate::id::{FieldId, OptionId, PersonId, RecordId};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Deepest nesting of *all of* and *any of*.
pub const MAX_DEPTH: usize = 8;
/// Most tests in one condition.
pub const MAX_TESTS: usize = 200;

/// A test on a record, or several joined. *All of* nothing holds for every record.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "openapi", schema(no_recursion))]
#[serde(rename_all = "lowercase")]
pub enum Condition {
    All(Vec<Condition>),
    Any(Vec<Condition>),
    Test(Test),
}

impl Default for Condition {
    fn default() -> Self {
        Condition::All(Vec::new())
    }
}

/// One test: a field, perhaps along links, and what must hold of it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Test {
    /// The links to follow, then the field.
    pub path: Vec<FieldId>,
    /// Where a link on the way leads to many records: how many of them it must hold for.
    #[serde(default)]
    pub of: Quantity,
    pub check: Check,
}

/// For how many of the linked records.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Quantity {
    #[default]
    Any,
    All,
    None,
}

/// What must hold of a field's value. Each fits some kinds; [`Condition::check`] says which do not.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "is", rename_all = "lowercase")]
pub enum Check {
    Empty,
    Filled,
    /// Texts: neither capitals nor accents count.
    Text {
        how: TextMatch,
        text: String,
    },
    Number {
        how: Comparison,
        than: Decimal,
    },
    Between {
        least: Decimal,
        most: Decimal,
    },
    /// Dates, and instants by their day in the tracker's zone.
    Day {
        how: Comparison,
        than: When,
    },
    Within {
        period: Period,
    },
    /// More than so many days ago.
    Older {
        days: u32,
    },
    Option {
        not: bool,
        any: Vec<OptionId>,
    },
    Person {
        not: bool,
        any: Vec<Who>,
    },
    Record {
        not: bool,
        any: Vec<RecordId>,
    },
    /// Linked records: the one that stands for whoever asks, in the table that holds the people.
    #[serde(rename = "my_record")]
    MyRecord {
        not: bool,
    },
    /// Addresses: the confirmed one of whoever asks; capitals do not count.
    #[serde(rename = "my_address")]
    MyAddress {
        not: bool,
    },
    Yes,
    No,
    /// A computed value that is an error.
    Error,
    /// A copied value that is another than what stands now where it came from.
    Differs,
}

/// How a text is compared.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum TextMatch {
    Contains,
    Lacks,
    Is,
    IsNot,
    Starts,
}

/// A person in a condition.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Who {
    /// Whoever asks.
    Me,
    Person(PersonId),
}

impl Condition {
    /// What holds for no record.
    pub fn never() -> Self {
        Condition::Any(Vec::new())
    }

    /// What holds for all that are linked to a record.
    pub fn linked_to(link: FieldId, record: RecordId) -> Self {
        Condition::Test(Test { path: vec![link], of: Quantity::Any, check: Check::Record { not: false, any: vec![record] } })
    }

    /// Whether it holds for every record because it says nothing.
    pub fn is_nothing(&self) -> bool {
        matches!(self, Condition::All(parts) if parts.is_empty())
    }

    /// Every test in it.
    pub fn tests(&self) -> Vec<&Test> {
        match self {
            Condition::Test(test) => vec![test],
            Condition::All(parts) | Condition::Any(parts) => parts.iter().flat_map(Condition::tests).collect(),
        }
    }

    /// Whether it hangs on who asks.
    pub fn is_about_me(&self) -> bool {
        self.tests().iter().any(|test| match &test.check {
            Check::Person { any, .. } => any.contains(&Who::Me),
            Check::MyRecord { .. } | Check::MyAddress { .. } => true,
            _ => false,
        })
    }

    /// Whether it hangs on which day it is.
    pub fn hangs_on_the_day(&self) -> bool {
        self.tests()
            .iter()
            .any(|test| matches!(test.check, Check::Day { than: When::Today(_), .. } | Check::Within { .. } | Check::Older { .. }))
    }

    /// Whether it speaks of *my record*.
    pub fn asks_my_record(&self) -> bool {
        self.tests().iter().any(|test| matches!(test.check, Check::MyRecord { .. }))
    }

    /// Whether it names a field, on the way or at the end.
    pub fn names(&self, field: FieldId) -> bool {
        self.tests().iter().any(|t| t.path.contains(&field))
    }

    /// Every field it names.
    pub fn fields(&self) -> BTreeSet<FieldId> {
        self.tests().iter().flat_map(|t| t.path.iter().copied()).collect()
    }

    fn depth(&self) -> usize {
        match self {
            Condition::Test(_) => 0,
            Condition::All(parts) | Condition::Any(parts) => 1 + parts.iter().map(Condition::depth).max().unwrap_or(0),
        }
    }
}
