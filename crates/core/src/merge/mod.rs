//! Records that are there twice: found by fields in which they say the same or nearly so (`doubles`), looked at side by side
//! (`rehearsal`), and made one.

mod doubles;
mod rehearsal;

pub use doubles::{Doubles, MOST_COMPARED};

use crate::id::{FieldId, RecordId, TableId};
use serde::{Deserialize, Serialize};

/// Two records that are to be one.
#[derive(Clone, Debug)]
pub struct Merge {
    pub table: TableId,
    /// The one that stays.
    pub keep: RecordId,
    /// The one that goes to the bin.
    pub other: RecordId,
    /// The fields whose values are those of the one that goes.
    pub take: Vec<FieldId>,
}

/// What merging two records would do.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct MergeRehearsal {
    /// In sentences.
    pub says: Vec<String>,
    /// Field by field, those first in which they differ.
    pub lines: Vec<MergeLine>,
    /// Why it can't be done.
    pub wrong: Option<String>,
}

/// One field of both.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct MergeLine {
    pub field: FieldId,
    pub name: String,
    /// What the one that stays holds, and the one that goes.
    pub keep: String,
    pub other: String,
    /// What it would be.
    pub then: String,
    /// Whether one chooses between them.
    pub choose: bool,
}
