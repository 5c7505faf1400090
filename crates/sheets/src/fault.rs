//! Why a file can't be read.

use serde::{Deserialize, Serialize};
use westerfall_core::import::{CELLS_LIMIT, COLUMNS_LIMIT, ROWS_LIMIT};

/// What is wrong with a file, in words for whoever chose it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, thiserror::Error)]
pub enum ReadFault {
    #[error("This file is empty.")]
    Empty,
    #[error("This is {0}, not a table. Westerfall reads CSV, TSV, XLSX, ODS, JSON and JSON lines.")]
    NotATable(String),
    #[error("This is an old kind of workbook. Open it, save it as XLSX or ODS, and choose that.")]
    OldWorkbook,
    #[error("This file is protected by a password. Save it without one and choose it again.")]
    Protected,
    #[error("This file is damaged: {0}. Open it where it was made and save it again.")]
    Broken(String),
    #[error("This is no valid JSON: look at line {line}, character {character}. Mend it there, or export it again.")]
    NoJson { line: usize, character: usize },
    #[error("The record in line {line} has “{name}” twice, so one of its values would get lost. Take one of them out.")]
    NamedTwice { line: usize, name: String },
    #[error("A quotation mark in line {0} is never closed, so nothing can be told apart. Close it in the file and choose the file again.")]
    OpenQuote(usize),
    #[error("This file has more than {ROWS_LIMIT} rows. Take it apart and import it piece by piece.")]
    TooManyRows,
    #[error("This file has more than {COLUMNS_LIMIT} columns. Take out those that are not needed.")]
    TooManyColumns,
    #[error("This file has more than {CELLS_LIMIT} filled cells, or too much text. Take it apart and import it piece by piece.")]
    TooLarge,
    #[error("This file would unpack to far more than a table needs, so it was not opened. Save it again where it was made.")]
    Bomb,
    #[error("This file took too long, or too much memory, to read, so reading was stopped. Save it as CSV and choose that.")]
    CutOff,
}
