//! What an import is to do.

use super::Sheet;
use crate::{
    id::{FieldId, TableId},
    schema::Kind,
    value::{DateOrder, YEARS_FROM},
};
use serde::{Deserialize, Serialize};

/// What becomes of a sheet.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Plan {
    pub heading: Heading,
    pub into: ImportInto,
    pub columns: Vec<ColumnPlan>,
    /// Rows under the heading, from 0, that are no records: totals, notes, the heading once more.
    #[serde(default)]
    pub without: Vec<usize>,
}

/// The rows with the names of the columns.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Heading {
    /// From 0.
    pub first: usize,
    /// How many; none: the records begin in the first.
    pub rows: usize,
}

impl Heading {
    /// The names stand in this row, from 0.
    pub fn row(first: usize) -> Self {
        Self { first, rows: 1 }
    }

    /// The first row under it.
    pub fn end(self) -> usize {
        self.first.saturating_add(self.rows)
    }
}

impl Plan {
    /// The rows that become records, from 0.
    pub(crate) fn records(&self, sheet: &Sheet) -> Vec<usize> {
        let without: std::collections::HashSet<usize> = self.without.iter().copied().collect();
        sheet.filled_rows(self.heading.end()).filter(|row| !without.contains(row)).collect()
    }
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
    /// The first of the hundred years that years of two digits mean.
    #[serde(default = "years_from")]
    pub years_from: i16,
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

fn years_from() -> i16 {
    YEARS_FROM
}

impl ColumnPlan {
    /// A column that is left out, with nothing said of how it is read.
    pub fn new(column: usize, name: &str) -> Self {
        Self {
            column,
            name: name.to_owned(),
            becomes: Becomes::Nothing,
            dates: None,
            years_from: YEARS_FROM,
            decimal_comma: false,
            separator: None,
        }
    }
}
