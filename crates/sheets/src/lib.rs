//! Sheets out of files and into files. What a file claims of itself is not believed: rows, columns, cells and text are
//! counted as they come, and reading stops where there are too many.

mod books;
mod fault;
mod json;
mod package;
mod sort;
mod tally;
mod text;
mod write;

pub use fault::ReadFault;
pub use package::{Package, read_package, write_package};
pub use sort::{Sort, sort_of};
pub use tally::decimal;
pub use write::{Column, Format, Written, refused_list, write};

use serde::{Deserialize, Serialize};
use std::sync::Arc;
use westerfall_core::import::Sheet;

/// One sheet of a file, and the names of all.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Book {
    /// The names of its sheets; one without a name where the file is one sheet.
    pub names: Vec<String>,
    /// Which of them this is.
    pub at: usize,
    pub sheet: Arc<Sheet>,
}

/// Reads one sheet of a file.
///
/// Workbooks are unpacked whole by their packages: call this for them in a process whose memory and time are bounded
/// (see [`Sort::needs_own_process`]).
///
/// # Errors
/// What is wrong with the file, in words for whoever chose it.
pub fn read(bytes: &[u8], at: usize) -> Result<Book, ReadFault> {
    match sort_of(bytes)? {
        Sort::Text => text::read(bytes),
        Sort::Json => json::read(bytes),
        Sort::Xlsx => books::read_xlsx(bytes, at),
        Sort::Ods => books::read_ods(bytes, at),
    }
}
