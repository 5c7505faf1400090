//! Text with separators: CSV, TSV and the like, in the encodings and dialects that are about.

use crate::{Book, ReadFault, tally::Tally};
use encoding_rs::{Encoding, UTF_8, UTF_16BE, UTF_16LE, WINDOWS_1252};
use std::borrow::Cow;
use westerfall_core::import::{BrokenAt, COLUMNS_LIMIT, Raw, Sheet};

/// The separators that are tried.
const SEPARATORS: [u8; 4] = [b',', b';', b'\t', b'|'];
/// Records that are looked at to find the separator, and bytes in which they lie.
const SAMPLE: usize = 50;
const SAMPLE_BYTES: usize = 64 * 1024;

pub(crate) fn read(bytes: &[u8]) -> Result<Book, ReadFault> {
    let text = decoded(bytes);
    let (told, rest) = told_separator(&text);
    let separator = told.unwrap_or_else(|| separator_of(rest.as_bytes()));
    let mut tally = Tally::default();
    let mut cells = Cells::of(rest.as_bytes(), 1, separator);
    let (mut row, mut lines, mut broken) = (Vec::new(), Vec::new(), None);
    // Empty cells after the last that is filled count for nothing, however many: twenty million commas are one empty row.
    let mut empty = 0;
    while let Some(cell) = cells.next() {
        let begins = cell.line;
        if let Some(line) = cell.open {
            broken = Some(BrokenAt { line, why: never_closed(line) });
            break;
        }
        // The whole text was checked; a cell of it that is none can't be.
        match tally.text(std::str::from_utf8(cell.text).unwrap_or_default())? {
            Raw::Empty => empty += 1,
            _ if row.len() + empty >= COLUMNS_LIMIT => return Err(ReadFault::TooManyColumns),
            filled => {
                row.resize(row.len() + empty, Raw::Empty);
                row.push(filled);
                empty = 0;
            }
        }
        if cell.last {
            tally.row(std::mem::take(&mut row))?;
            lines.push(u32::try_from(begins).unwrap_or(u32::MAX));
            empty = 0;
        }
    }
    if tally.rows.iter().all(Vec::is_empty) {
        return Err(broken.map_or(ReadFault::Empty, |at| ReadFault::OpenQuote(at.line)));
    }
    if lines.iter().zip(1..).all(|(line, row)| *line == row) {
        lines.clear();
    }
    // Where semicolons part the cells, it is because commas part the decimals.
    let decimal_comma = (separator == b';').then_some(true);
    Ok(Book::of(Sheet { rows: tally.rows, decimal_comma, lines, broken, ..Sheet::default() }))
}

/// The separator that some programs write into a line of its own before the first, `sep=;`, and the text behind that line.
fn told_separator(text: &str) -> (Option<u8>, &str) {
    let line = text.lines().next().unwrap_or_default();
    match line.as_bytes() {
        [b's' | b'S', b'e' | b'E', b'p' | b'P', b'=', separator] if SEPARATORS.contains(separator) => {
            (Some(*separator), &text[line.len()..])
        }
        _ => (None, text),
    }
}

fn never_closed(line: usize) -> String {
    format!(
        "A quotation mark in line {line} is never closed, so nothing from that line on can be told apart; what stands above it was read. Close it in the file and choose the file again."
    )
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
    /// The record that is being read, from its beginning.
    record: &'a [u8],
    /// The line in which it begins, from 1.
    line: usize,
    /// How much of it was read.
    read: usize,
    cell: Vec<u8>,
}

/// A cell, and where it stands.
struct TextCell<'a> {
    text: &'a [u8],
    /// The last of its record.
    last: bool,
    /// The line that its record begins in, from 1.
    line: usize,
    /// The line in which it opens a quotation mark that is never closed, or closed only in a line of which it is no part.
    open: Option<usize>,
}

impl<'a> Cells<'a> {
    /// The cells of a text that begins in a line.
    fn of(text: &'a [u8], line: usize, separator: u8) -> Self {
        let reader = csv_core::ReaderBuilder::new().delimiter(separator).build();
        Self { reader, record: text, line, read: 0, cell: vec![0; 1024] }
    }

    /// The next cell. Empty lines are no records, but they are lines.
    fn next(&mut self) -> Option<TextCell<'_>> {
        if self.read == 0 {
            let blank = self.record.iter().take_while(|b| matches!(b, b'\r' | b'\n')).count();
            self.line += line_ends(&self.record[..blank]);
            self.record = &self.record[blank..];
        }
        let (begin, line) = (self.read, self.line);
        let mut length = 0;
        loop {
            let (told, read, written) = self.reader.read_field(&self.record[self.read..], &mut self.cell[length..]);
            self.read += read;
            length += written;
            match told {
                // The whole text is there: asked again with nothing, it ends the last cell.
                csv_core::ReadFieldResult::InputEmpty => {}
                csv_core::ReadFieldResult::OutputFull => self.cell.resize(self.cell.len() * 2, 0),
                csv_core::ReadFieldResult::Field { record_end } => {
                    let written = &self.record[begin..self.read];
                    let open = (written.first() == Some(&b'"') && is_open(written)).then(|| line + line_ends(&self.record[..begin]));
                    if record_end {
                        // An end of two characters is read as one.
                        let two = written.last() == Some(&b'\r') && self.record.get(self.read) == Some(&b'\n');
                        let end = self.read + usize::from(two);
                        self.line += line_ends(&self.record[..end]);
                        self.record = &self.record[end..];
                        self.read = 0;
                    }
                    return Some(TextCell { text: &self.cell[..length], last: record_end, line, open });
                }
                csv_core::ReadFieldResult::End => return None,
            }
        }
    }
}

/// Ends of lines: `\n`, `\r\n` and `\r` alone.
fn line_ends(bytes: &[u8]) -> usize {
    if memchr::memchr(b'\r', bytes).is_none() {
        return memchr::memchr_iter(b'\n', bytes).count();
    }
    bytes.iter().enumerate().filter(|(at, b)| **b == b'\n' && (*at == 0 || bytes[at - 1] != b'\r') || **b == b'\r').count()
}

/// Whether a cell that begins with a quotation mark and goes over lines does not end with one: what closed it, if anything, was
/// the beginning of another cell.
fn is_open(cell: &[u8]) -> bool {
    let mut quoted = true;
    let mut at = 1;
    while at < cell.len() {
        if cell[at] == b'"' {
            if quoted && cell.get(at + 1) == Some(&b'"') {
                at += 1;
            } else if quoted {
                quoted = false;
                let lined = memchr::memchr2(b'\n', b'\r', &cell[..at]).is_some();
                let behind = cell.get(at + 1).is_some_and(|b| b.is_ascii_alphanumeric());
                if lined && behind {
                    return true;
                }
            }
        }
        at += 1;
    }
    quoted
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
