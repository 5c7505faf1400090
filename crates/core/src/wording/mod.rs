//! Texts with values put in: `Blocked: {Title} at {Section.Name}`. Kept by ids, so that renaming a field changes nothing.

mod fill;
mod refs;

pub(crate) use fill::ends;
pub(crate) use refs::wording_refs;

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
}

/// A text filled in, and the names of what was left out because its reader may not see it.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Filled {
    pub text: String,
    pub left_out: Vec<String>,
}
