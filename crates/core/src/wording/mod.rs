//! Texts with values put in: `Blocked: {Title} at {Section.Name}`. Kept by ids, so that renaming a field changes nothing.

mod fill;
mod refs;
mod stored;

pub(crate) use fill::{days_at, ends, text_along};
pub(crate) use refs::wording_refs;
pub use stored::StoredText;

use crate::id::FieldId;
use serde::{Deserialize, Serialize};

/// Longest text with values, in characters as typed.
pub const WORDING_LIMIT: usize = 20_000;

/// A text with values put in.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Wording(pub Vec<Piece>);

/// A run of it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Piece {
    Text(String),
    /// A value of the record: the links to follow, then the field.
    Value(Vec<FieldId>),
    /// The month and year of a day of the record, `{month of Planned day}`: the links to follow, then the field.
    Month(Vec<FieldId>),
    /// Its year alone, `{year of Planned day}`.
    Year(Vec<FieldId>),
}

impl Piece {
    /// The links to follow and the field, where it puts a value in.
    pub fn path(&self) -> Option<&[FieldId]> {
        match self {
            Piece::Text(_) => None,
            Piece::Value(path) | Piece::Month(path) | Piece::Year(path) => Some(path),
        }
    }

    /// What stands before the field where not all of its value is put in.
    pub(crate) fn part(&self) -> &'static str {
        match self {
            Piece::Text(_) | Piece::Value(_) => "",
            Piece::Month(_) => MONTH_OF,
            Piece::Year(_) => YEAR_OF,
        }
    }
}

const MONTH_OF: &str = "month of ";
const YEAR_OF: &str = "year of ";

/// A run of a text filled in, and what it stands for. One type serves mail, page and paper.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Run {
    pub text: String,
    /// Whether it is a value of the record; not: words that were typed.
    pub value: bool,
    /// What is not there, since its reader may not see it: *section, its district*.
    pub left_out: Option<String>,
}

/// A text filled in, and the names of what was left out because its reader may not see it.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Filled {
    pub text: String,
    pub left_out: Vec<String>,
}
