//! Import: from a sheet as it was read to records. The sheet's cells are typed loosely; what each column becomes is a
//! plan that a coordinator can change at any time, and carrying it out is an intent like any other.

mod beside;
mod column;
mod guess;
mod heading;
mod plan;
mod read;
mod telling;

pub use crate::value::{Code, DateOrder};
pub use beside::RowBeside;
pub use guess::{ColumnGuess, SheetGuess, singular};
pub use plan::{Becomes, ColumnPlan, Heading, ImportInto, Plan, Unmatched};
pub(crate) use read::ColumnReader;
pub use telling::{Said, TOLD_LIMIT, Told, ToldAnswer, ToldPiece, ToldQuestion, told};

use jiff::civil::{Date, DateTime, Time};
use rust_decimal::{Decimal, prelude::ToPrimitive};
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

/// A cell as a file has it, as the kind that whoever looks at the file takes it for.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub enum Raw {
    #[default]
    Empty,
    Text(Arc<str>),
    Number(Decimal),
    /// A share that the file shows in hundredths: 0.075 is *7.5%*.
    Percent(Decimal),
    /// An amount with its currency.
    Money(Decimal, Code),
    Logical(bool),
    Date(Date),
    DateTime(DateTime),
    /// A time of day.
    Time(Time),
    /// A length of time, in seconds.
    Duration(Decimal),
    /// What the file shows where it could not compute: *#DIV/0!*.
    Error(Arc<str>),
}

/// One sheet of a file, as it was read.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Sheet {
    pub name: String,
    /// Each with as many cells as it has, up to [`COLUMNS_LIMIT`].
    pub rows: Vec<Vec<Raw>>,
    /// The file says that its numbers have a decimal comma.
    pub decimal_comma: Option<bool>,
    /// The line of the file in which each row begins, from 1; empty where rows are lines.
    pub lines: Vec<u32>,
    /// Cells that are joined to one, which stands in the first of them.
    pub joined: Vec<Block>,
    /// How the numbers of each column are shown, where it has any and the file says so.
    pub shown: Vec<Option<Shown>>,
    /// Rows, from 0, in which the file marks a cell with a colour, and what that colour is called.
    pub coloured: Vec<(usize, String)>,
    /// From where on the file could not be read.
    pub broken: Option<BrokenAt>,
}

/// Some cells of a sheet: rows and columns from 0, the last ones included.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Block {
    pub top: usize,
    pub left: usize,
    pub bottom: usize,
    pub right: usize,
}

/// How the numbers of a column are shown.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Shown {
    /// With so many decimals at most; none: as many as there are.
    pub decimals: Option<u32>,
    /// What stands behind each of them.
    pub unit: String,
    /// How many of them were computed with more decimals than are shown, and are taken as they are shown.
    pub rounded: usize,
}

/// Where a file could not be read any further.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct BrokenAt {
    /// From 1.
    pub line: usize,
    /// Why, as a sentence.
    pub why: String,
}

impl Raw {
    /// As text, the way it would be typed.
    pub fn words(&self) -> String {
        match self {
            Raw::Empty => String::new(),
            Raw::Text(text) | Raw::Error(text) => text.to_string(),
            Raw::Number(number) => number.to_string(),
            Raw::Percent(share) => format!("{}%", share.saturating_mul(Decimal::ONE_HUNDRED).normalize()),
            Raw::Money(amount, code) => format!("{} {}", code.letters(), amount.normalize()),
            Raw::Logical(yes) => if *yes { "yes" } else { "no" }.into(),
            Raw::Date(date) => date.to_string(),
            Raw::DateTime(moment) => moment.strftime("%Y-%m-%d %H:%M:%S").to_string(),
            Raw::Time(time) => time.strftime(if time.second() == 0 { "%H:%M" } else { "%H:%M:%S" }).to_string(),
            Raw::Duration(seconds) => clocked(*seconds),
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

/// `30:15`, or `30:15:20`: hours, minutes, seconds.
fn clocked(seconds: Decimal) -> String {
    let whole = seconds.abs().round().to_u64().unwrap_or(u64::MAX);
    let minus = if seconds.is_sign_negative() && whole > 0 { "-" } else { "" };
    let (hours, minutes, seconds) = (whole / 3_600, whole / 60 % 60, whole % 60);
    if seconds == 0 { format!("{minus}{hours:02}:{minutes:02}") } else { format!("{minus}{hours:02}:{minutes:02}:{seconds:02}") }
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

    /// The line of the file, from 1, in which a row stands.
    pub fn line(&self, row: usize) -> usize {
        self.lines.get(row).map_or(row.saturating_add(1), |line| *line as usize)
    }

    /// The rows from one on that hold anything, from 0.
    pub fn filled_rows(&self, from: usize) -> impl Iterator<Item = usize> + '_ {
        (from..self.rows.len()).filter(|row| self.rows[*row].iter().any(|cell| !cell.is_empty()))
    }
}

/// Whether a date stands there in numbers only, so that its order is to be told; not one that begins with four digits.
pub(crate) fn is_in_numbers(text: &str) -> bool {
    let text = text.trim();
    let day = text.split([' ', 'T']).next().unwrap_or(text);
    let parts: Vec<&str> = day.split(['/', '-', '.']).collect();
    parts.len() == 3 && parts[0].len() <= 2 && parts.iter().all(|p| p.bytes().all(|b| b.is_ascii_digit()) && !p.is_empty())
}

/// Whether none of the numbers of a date has four digits.
fn has_short_year(text: &str) -> bool {
    let runs: Vec<usize> = text.split(|c: char| !c.is_ascii_digit()).map(str::len).filter(|len| *len > 0).collect();
    runs.len() > 1 && runs.iter().all(|len| *len < 4)
}
