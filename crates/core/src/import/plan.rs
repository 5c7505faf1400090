//! What an import is to do.

use crate::{
    id::{FieldId, TableId},
    schema::Kind,
};
use serde::{Deserialize, Serialize};

/// What becomes of a sheet.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Plan {
    /// The row with the names of the columns, from 0.
    pub heading: usize,
    pub into: ImportInto,
    pub columns: Vec<ColumnPlan>,
}

/// The table that the rows go into.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum ImportInto {
    New {
        name: String,
        /// The name of one record.
        one: String,
    },
    Table {
        table: TableId,
        /// The field by which a row is known: one that is there already is updated instead of doubled.
        key: Option<FieldId>,
    },
}

/// What becomes of a column.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ColumnPlan {
    /// Its place in the sheet, from 0.
    pub column: usize,
    pub name: String,
    pub becomes: Becomes,
    /// In which order its dates stand, where they are numbers.
    #[serde(default)]
    pub dates: Option<DateOrder>,
    /// Whether its numbers have a decimal comma.
    #[serde(default)]
    pub decimal_comma: bool,
    /// What stands between several values in one cell.
    #[serde(default)]
    pub separator: Option<String>,
}

/// What the values of a column become.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Becomes {
    /// It is left out.
    Nothing,
    /// A new field; of a choice, the options are those that stand in the column.
    Field { kind: Kind },
    /// Values of a field that is there; of a link, what to do with names that no record has.
    Existing { field: FieldId, unmatched: Unmatched },
    /// A new link to records of a table that is there, by what they are called in one of its fields.
    Link { to: TableId, by: FieldId, one: bool, back: String, unmatched: Unmatched },
    /// A new table with a record for each different value, and a link to it.
    Table { name: String, one: String, single: bool },
}

/// What to do with a name that no record has.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Unmatched {
    /// A record is made for it.
    Create,
    /// The cell is left empty.
    Leave,
    /// The same, and it is listed among what was refused.
    #[default]
    Flag,
}

/// The order of the parts of a date.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum DateOrder {
    Day,
    Month,
    Year,
}
