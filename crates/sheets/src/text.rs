//! Text with separators: CSV, TSV and the like, in the encodings and dialects that are about.

use crate::{Book, ReadFault, tally::Tally};
use encoding_rs::{Encoding, UTF_8, UTF_16BE, UTF_16LE, WINDOWS_1252};
use std::borrow::Cow;
use westerfall_core::import::{COLUMNS_LIMIT, Raw, Sheet};

/// The separators that are tried.
const SEPARATORS: [u8; 4] = [b',', b';', b'\t', b'|'];
/// Records that are looked at to find the separator, and bytes in which they lie.
const SAMPLE: usize = 50;
const SAMPLE_BYTES: usize = 64 * 1024;

pub(crate) fn read(bytes: &[u8]) -> Result<Book, ReadFault> {
    let text = decoded(bytes);
    let separator = separator_of(text.as_bytes());
    let mut tally = Tally::default();
    let mut cells = Cells::of(text.as_bytes(), separator);
    let mut row = Vec::new();
    // Empty cells after the last that is filled count for nothing, however many: twenty million commas are one empty row.
    let mut empty = 0;
    while let Some((cell, last)) = cells.next() {
        // The whole text was checked; a cell of it that is none can't be.
        match tally.text(std::str::from_utf8(cell).unwrap_or_default())? {
            Raw::Empty => empty += 1,
            _ if row.len() + empty >= COLUMNS_LIMIT => return Err(ReadFault::TooManyColumns),
            filled => {
                row.resize(row.len() + empty, Raw::Empty);
                row.push(filled);
                empty = 0;
            }
        }
        if last {
            tally.row(std::mem::take(&mut row))?;
            empty = 0;
        }
    }
    if tally.rows.iter().all(Vec::is_empty) {
        return Err(ReadFault::Empty);
    }
    // Where semicolons part the cells, it is because commas part the decimals.
    let decimal_comma = (separator == b';').then_some(true);
    Ok(Book { names: vec![String::new()], at: 0, sheet: Sheet { name: String::new(), rows: tally.rows, decimal_comma }.into() })
}

/// The text: by its mark where it has one, else UTF-8 where it is that, else the old western encoding.
fn decoded(bytes: &[u8]) -> Cow<'_, str> {
    let (encoding, skip): (&'static Encoding, usize) = match bytes {
        [0xEF, 0xBB, 0xBF, ..] => (UTF_8, 3),
        [0xFF, 0xFE, ..] => (UTF_16LE, 2),
        [0xFE, 0xFF, ..] => (UTF_16BE, 2),
        _ if std::str::from_utf8(bytes).is_ok() => (UTF_8, 0),
        _ => (WINDOWS_1252, 0),
    };
    encoding.decode_without_bom_handling(&bytes[skip..]).0
}

/// The cells of a text one by one: a record as long as the file is never held whole.
struct Cells<'a> {
    reader: csv_core::Reader,
    rest: &'a [u8],
    cell: Vec<u8>,
}

impl<'a> Cells<'a> {
    fn of(text: &'a [u8], separator: u8) -> Self {
        Self { reader: csv_core::ReaderBuilder::new().delimiter(separator).build(), rest: text, cell: vec![0; 1024] }
    }

    /// The next cell, and whether it is the last of its record.
    fn next(&mut self) -> Option<(&[u8], bool)> {
        let mut length = 0;
        loop {
            let (told, read, written) = self.reader.read_field(self.rest, &mut self.cell[length..]);
            self.rest = &self.rest[read..];
            length += written;
            match told {
                // The whole text is there: asked again with nothing, it ends the last cell.
                csv_core::ReadFieldResult::InputEmpty => {}
                csv_core::ReadFieldResult::OutputFull => self.cell.resize(self.cell.len() * 2, 0),
                csv_core::ReadFieldResult::Field { record_end } => return Some((&self.cell[..length], record_end)),
                csv_core::ReadFieldResult::End => return None,
            }
        }
    }
}

fn reader(text: &[u8], separator: u8) -> csv::Reader<&[u8]> {
    csv::ReaderBuilder::new().has_headers(false).flexible(true).delimiter(separator).from_reader(text)
}

/// The separator that parts most records into the same number of cells, more than one.
fn separator_of(text: &[u8]) -> u8 {
    let whole = text.len().min(SAMPLE_BYTES);
    // The last record of a longer text is cut, and no measure.
    let sample = if whole < text.len() { text[..whole].iter().rposition(|b| *b == b'\n').map_or(whole, |end| end + 1) } else { whole };
    let text = &text[..sample];
    let score = |separator: &u8| {
        let widths: Vec<usize> =
            reader(text, *separator).byte_records().take(SAMPLE).flatten().map(|r| r.len()).filter(|w| *w > 0).collect();
        let Some(most) = widths.iter().max().copied().filter(|w| *w > 1) else { return (0, 0) };
        let common = widths.iter().filter(|w| **w == most).count();
        (100 * common / widths.len().max(1), most)
    };
    SEPARATORS.into_iter().rev().max_by_key(score).filter(|s| score(s).1 > 1).unwrap_or(b',')
}
