//! Rows as they come out of a file, counted on the way.

use crate::ReadFault;
use rust_decimal::Decimal;
use std::{collections::HashMap, sync::Arc};
use westerfall_core::import::{Block, CELLS_LIMIT, COLUMNS_LIMIT, ROWS_LIMIT, Raw, TEXT_LIMIT};

/// Rows of a sheet that is being read.
#[derive(Default)]
pub(crate) struct Tally {
    pub(crate) rows: Vec<Vec<Raw>>,
    cells: usize,
    text: usize,
    /// Texts that stand in many cells are kept once.
    known: HashMap<Arc<str>, ()>,
}

/// Longest text that is looked up among those known.
const SHORT: usize = 40;
/// Most texts that are known.
const KNOWN: usize = 10_000;

impl Tally {
    pub(crate) fn text(&mut self, text: &str) -> Result<Raw, ReadFault> {
        // Some programs fill up fields with the character zero, which nobody sees.
        if text.contains('\0') {
            return self.text(&text.replace('\0', ""));
        }
        if text.trim().is_empty() {
            return Ok(Raw::Empty);
        }
        if text.len() <= SHORT {
            if let Some((known, ())) = self.known.get_key_value(text) {
                return Ok(Raw::Text(known.clone()));
            }
            let shared: Arc<str> = text.into();
            if self.known.len() < KNOWN {
                self.known.insert(shared.clone(), ());
            }
            self.count_text(text.len())?;
            return Ok(Raw::Text(shared));
        }
        self.count_text(text.len())?;
        Ok(Raw::Text(text.into()))
    }

    fn count_text(&mut self, bytes: usize) -> Result<(), ReadFault> {
        self.text += bytes;
        if self.text > TEXT_LIMIT { Err(ReadFault::TooLarge) } else { Ok(()) }
    }

    /// A row at its end.
    pub(crate) fn row(&mut self, mut row: Vec<Raw>) -> Result<(), ReadFault> {
        while row.last().is_some_and(Raw::is_empty) {
            row.pop();
        }
        if row.len() > COLUMNS_LIMIT {
            return Err(ReadFault::TooManyColumns);
        }
        self.cells += row.len();
        if self.cells > CELLS_LIMIT {
            return Err(ReadFault::TooLarge);
        }
        self.rows.push(row);
        if self.rows.len() > ROWS_LIMIT + 1 { Err(ReadFault::TooManyRows) } else { Ok(()) }
    }

    /// One cell of a sheet whose rows come in pieces; a cell that stands apart makes no rows before it hold anything.
    pub(crate) fn cell(&mut self, row: usize, column: usize, raw: Raw) -> Result<(), ReadFault> {
        if raw.is_empty() {
            return Ok(());
        }
        if column >= COLUMNS_LIMIT {
            return Err(ReadFault::TooManyColumns);
        }
        if row > ROWS_LIMIT {
            return Err(ReadFault::TooManyRows);
        }
        if self.rows.len() <= row {
            self.rows.resize_with(row + 1, Vec::new);
        }
        let cells = &mut self.rows[row];
        if cells.len() <= column {
            self.cells += column + 1 - cells.len();
            cells.resize(column + 1, Raw::Empty);
        }
        cells[column] = raw;
        if self.cells > CELLS_LIMIT { Err(ReadFault::TooLarge) } else { Ok(()) }
    }

    /// What is joined over several rows of a column holds for each of them.
    pub(crate) fn fill_down(&mut self, joined: &[Block]) {
        for block in joined.iter().filter(|b| b.bottom > b.top) {
            let Some(value) = self.rows.get(block.top).and_then(|row| row.get(block.left)).filter(|raw| !raw.is_empty()).cloned() else {
                continue;
            };
            for row in self.rows.iter_mut().take(block.bottom.saturating_add(1)).skip(block.top + 1) {
                let filled = row.iter().any(|cell| !cell.is_empty());
                if filled && row.len() <= block.left {
                    row.resize(block.left + 1, Raw::Empty);
                }
                if filled && row[block.left].is_empty() {
                    row[block.left] = value.clone();
                    self.cells += 1;
                }
            }
        }
    }
}

/// A binary number as the digits that people typed to get it; none where it is not a number that fits.
pub fn decimal(number: f64) -> Option<Decimal> {
    crate::formats::seen(number)
}
