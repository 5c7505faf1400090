//! Text with separators: CSV, TSV and the like, in the encodings and dialects that are about.

use crate::{Book, ReadFault, tally::Tally};
use encoding_rs::{Encoding, UTF_8, UTF_16BE, UTF_16LE, WINDOWS_1252};
use std::borrow::Cow;
use westerfall_core::import::Sheet;

/// The separators that are tried.
const SEPARATORS: [u8; 4] = [b',', b';', b'\t', b'|'];
/// Records that are looked at to find the separator.
const SAMPLE: usize = 50;

pub(crate) fn read(bytes: &[u8]) -> Result<Book, ReadFault> {
    let text = decoded(bytes);
    let separator = separator_of(text.as_bytes());
    let mut reader = reader(text.as_bytes(), separator);
    let mut tally = Tally::default();
    let mut record = csv::ByteRecord::new();
    let broken = |error: csv::Error| ReadFault::Broken(error.to_string());
    while reader.read_byte_record(&mut record).map_err(broken)? {
        let mut row = Vec::with_capacity(record.len());
        for cell in &record {
            // The whole text was checked; a cell of it that is none can't be.
            row.push(tally.text(std::str::from_utf8(cell).unwrap_or_default())?);
        }
        tally.row(row)?;
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

fn reader(text: &[u8], separator: u8) -> csv::Reader<&[u8]> {
    csv::ReaderBuilder::new().has_headers(false).flexible(true).delimiter(separator).from_reader(text)
}

/// The separator that parts most records into the same number of cells, more than one.
fn separator_of(text: &[u8]) -> u8 {
    let score = |separator: &u8| {
        let widths: Vec<usize> =
            reader(text, *separator).byte_records().take(SAMPLE).flatten().map(|r| r.len()).filter(|w| *w > 0).collect();
        let Some(most) = widths.iter().max().copied().filter(|w| *w > 1) else { return (0, 0) };
        let common = widths.iter().filter(|w| **w == most).count();
        (100 * common / widths.len().max(1), most)
    };
    SEPARATORS.into_iter().rev().max_by_key(score).filter(|s| score(s).1 > 1).unwrap_or(b',')
}
