//! CSV: one line for each record, nothing else.

use super::{Column, CsvStyle, Head, Leading, Line, Separator, Writer};
use westerfall_core::import::Raw;

pub(super) struct Csv {
    writer: csv::Writer<Vec<u8>>,
    columns: usize,
    leading: Leading,
    /// What stands between cells for programs that take the file for another than it is.
    others: [char; 2],
}

impl Csv {
    pub(super) fn begin(style: CsvStyle, head: Head<'_>) -> Result<Self, String> {
        let (separator, others) = match style.separator {
            Separator::Comma => (b',', [';', '\t']),
            Separator::Semicolon => (b';', [',', '\t']),
            Separator::Tab => (b'\t', [',', ';']),
        };
        // With the mark, spreadsheets know that it is UTF-8.
        let begins = if style.mark { vec![0xEF, 0xBB, 0xBF] } else { Vec::new() };
        let mut writer = csv::WriterBuilder::new().delimiter(separator).from_writer(begins);
        let leading = Leading::of(head);
        let names = leading.among(head.levels).chain(head.columns.iter().map(|column| column.name.as_str()));
        writer.write_record(names.map(|name| harmless_anywhere(name, others))).map_err(|e| e.to_string())?;
        Ok(Self { writer, columns: head.columns.len(), leading, others })
    }
}

impl Writer for Csv {
    fn line(&mut self, line: Line<'_>) -> Result<(), String> {
        match line {
            Line::Group(group) => self.leading.enter(group),
            Line::Record { cells, .. } => {
                let safe = |text: &str| harmless_anywhere(text, self.others);
                let text = |raw: &Raw| if let Raw::Text(text) = raw { safe(text) } else { raw.words() };
                let groups = self.leading.among(&self.leading.now).map(safe);
                let cells = (0..self.columns).map(|at| cells.get(at).map(|cell| text(&cell.raw)).unwrap_or_default());
                self.writer.write_record(groups.chain(cells)).map_err(|e| e.to_string())?;
            }
            Line::Foot(..) => {}
        }
        Ok(())
    }

    fn finish(self: Box<Self>) -> Result<Vec<u8>, String> {
        self.writer.into_inner().map_err(|e| e.to_string())
    }
}

/// What a formula begins with, in the wide forms of some keyboards too.
const FORMULA: [char; 11] = ['=', '+', '-', '@', '\t', '\r', '\n', '＝', '＋', '－', '＠'];

/// A text that no spreadsheet takes for a formula: one that looks like one gets an apostrophe in front.
pub(crate) fn harmless(text: &str) -> String {
    if text.starts_with(FORMULA) { format!("'{text}") } else { text.to_owned() }
}

/// The same for a file that may be opened with another separator than it was written with: what stands behind one of those or the
/// end of a line would then begin a cell. A line that begins with a sign and a space is an item of a list.
fn harmless_anywhere(text: &str, others: [char; 2]) -> String {
    let mut safe = String::with_capacity(text.len());
    let mut chars = harmless(text).chars().collect::<Vec<_>>().into_iter().peekable();
    let mut begins_after = None;
    while let Some(char) = chars.next() {
        let item = begins_after == Some('\n') && chars.peek() == Some(&' ') && "-+".contains(char);
        if begins_after.is_some() && FORMULA.contains(&char) && !char.is_whitespace() && !item {
            safe.push('\'');
        }
        safe.push(char);
        begins_after = match char {
            '\r' | '\n' => Some(char),
            other if others.contains(&other) => Some(char),
            ' ' | '"' => begins_after,
            _ => None,
        };
    }
    safe
}

/// A report of refused cells as CSV: row, column, value, reason.
pub fn refused_list<'a>(refused: impl Iterator<Item = (usize, &'a str, &'a str, &'a str)>) -> Vec<u8> {
    let columns = ["Row", "Column", "Value", "Reason"].map(|name| Column::of(name, 100));
    let rows: Vec<Vec<Raw>> = refused
        .map(|(row, column, value, why)| {
            vec![Raw::Number(row.into()), Raw::Text(column.into()), Raw::Text(value.into()), Raw::Text(why.into())]
        })
        .collect();
    super::write(super::Format::Csv(CsvStyle::default()), "", &columns, &rows).map(|written| written.bytes).unwrap_or_default()
}
