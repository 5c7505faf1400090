//! Import: from a sheet as it was read to records. The sheet's cells are typed loosely; what each column becomes is a
//! plan that a coordinator can change at any time, and carrying it out is an intent like any other.

mod guess;
mod plan;
mod read;

pub use guess::{ColumnGuess, OddCell, SheetGuess, singular};
pub use plan::{Becomes, ColumnPlan, DateOrder, ImportInto, Plan, Unmatched};
pub(crate) use read::ColumnReader;

use jiff::civil::{Date, DateTime};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// Most rows of a sheet.
pub const ROWS_LIMIT: usize = 250_000;
/// Most columns of a sheet.
pub const COLUMNS_LIMIT: usize = 250;
/// Most filled cells of a sheet: what bounds the memory that one takes.
pub const CELLS_LIMIT: usize = 6_000_000;
/// Most text of a sheet, in bytes.
pub const TEXT_LIMIT: usize = 200_000_000;

/// A cell as a file has it.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub enum Raw {
    #[default]
    Empty,
    Text(Arc<str>),
    Number(Decimal),
    Logical(bool),
    Date(Date),
    DateTime(DateTime),
}

/// One sheet of a file, as it was read.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Sheet {
    pub name: String,
    /// Each with as many cells as it has, up to [`COLUMNS_LIMIT`].
    pub rows: Vec<Vec<Raw>>,
    /// The file says that its numbers have a decimal comma.
    pub decimal_comma: Option<bool>,
}

impl Raw {
    /// As text, the way it would be typed.
    pub fn words(&self) -> String {
        match self {
            Raw::Empty => String::new(),
            Raw::Text(text) => text.to_string(),
            Raw::Number(number) => number.normalize().to_string(),
            Raw::Logical(yes) => if *yes { "yes" } else { "no" }.into(),
            Raw::Date(date) => date.to_string(),
            Raw::DateTime(moment) => moment.strftime("%Y-%m-%d %H:%M:%S").to_string(),
        }
    }

    /// Whether nothing stands there.
    pub fn is_empty(&self) -> bool {
        match self {
            Raw::Empty => true,
            Raw::Text(text) => text.trim().is_empty(),
            _ => false,
        }
    }
}

impl Sheet {
    /// The cell at a row and column, from 0.
    pub fn cell(&self, row: usize, column: usize) -> &Raw {
        self.rows.get(row).and_then(|r| r.get(column)).unwrap_or(&Raw::Empty)
    }

    /// How many columns it has.
    pub fn width(&self) -> usize {
        self.rows.iter().map(Vec::len).max().unwrap_or(0)
    }

    /// The rows under a heading row that hold anything, from 0.
    pub fn filled_rows(&self, heading: usize) -> impl Iterator<Item = usize> + '_ {
        (heading + 1..self.rows.len()).filter(|row| self.rows[*row].iter().any(|cell| !cell.is_empty()))
    }
}
