//! Sheets out of files and into files. What a file claims of itself is not believed: rows, columns, cells and text are
//! counted as they come, and reading stops where there are too many.

mod calendar;
mod fault;
mod formats;
mod json;
mod ods;
mod package;
mod report;
mod sort;
mod tally;
mod text;
mod words;
mod write;
mod xlsx;

pub use calendar::{CalendarHead, calendar};
pub use fault::ReadFault;
pub use package::{Package, read_package, write_package, zipped};
pub use report::{Into, report};
pub use sort::{Sort, sort_of};
pub use tally::decimal;
pub use words::words_of;
pub use write::{Column, CsvStyle, Format, Head, Line, Pictures, Separator, ViewFile, Writing, Written, refused_list, write};

use serde::{Deserialize, Serialize};
use std::sync::Arc;
use westerfall_core::import::Sheet;

/// One sheet of a file, and the names of all.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Book {
    /// Its sheets, in the file's order; one without a name where the file is one sheet.
    pub sheets: Vec<SheetName>,
    /// Which of them this is.
    pub at: usize,
    pub sheet: Arc<Sheet>,
}

/// What a sheet of a file is called.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct SheetName {
    pub name: String,
    /// Whoever opens the file does not see it.
    pub hidden: bool,
    /// It holds no table, as covers and notes do.
    pub cover: bool,
}

/// Rows of two cells or more that make a table of a sheet.
pub(crate) const TABLE_ROWS: usize = 3;

/// The place of the first sheet that is shown and holds a table; else of the first that is shown.
pub(crate) fn first_table(sheets: &[SheetName]) -> usize {
    let first = |fits: fn(&SheetName) -> bool| sheets.iter().position(fits);
    first(|sheet| !sheet.hidden && !sheet.cover).or_else(|| first(|sheet| !sheet.hidden)).unwrap_or(0)
}

impl Book {
    /// A file that is one sheet.
    fn of(sheet: Sheet) -> Self {
        Self { sheets: vec![SheetName { name: sheet.name.clone(), hidden: false, cover: false }], at: 0, sheet: sheet.into() }
    }
}

/// Reads one sheet of a file; none: the first that holds a table and is shown.
///
/// Workbooks are unpacked whole by their packages: call this for them in a process whose memory and time are bounded
/// (see [`Sort::needs_own_process`]).
///
/// # Errors
/// What is wrong with the file, in words for whoever chose it.
pub fn read(bytes: &[u8], at: Option<usize>) -> Result<Book, ReadFault> {
    match sort_of(bytes)? {
        Sort::Text => text::read(bytes),
        Sort::Json => json::read(bytes),
        Sort::Xlsx => xlsx::read(bytes, at),
        Sort::Ods => ods::read(bytes, at),
    }
}
