//! What a view shows, written: its listing line by line, its cells some thousand records at a time, so that a long file takes little
//! more memory than a short one.

use super::{Column, Format, Head, Line, Writing, Written};
use std::collections::HashMap;
use westerfall_core::{
    access::Lens,
    export::{Filed, Filing, ListedLine, Listing},
    id::{FieldId, RecordId, TableId},
    view::Query,
};

/// Records whose cells are worked out and written at a time.
const AT_ONCE: usize = 2_000;

/// The pictures of a view: in which field they are, and of each record the first.
#[derive(Debug)]
pub struct Pictures {
    pub field: FieldId,
    /// As JPEG or PNG, as large as they shall be kept.
    pub of: HashMap<RecordId, Vec<u8>>,
}

/// A view that is to be written, as its reader sees it.
#[derive(Debug)]
pub struct ViewFile<'a, 'd> {
    pub lens: &'a Lens<'d>,
    pub table: TableId,
    /// As it is open to its reader.
    pub query: &'a Query,
    pub listing: &'a Listing,
    pub name: &'a str,
    pub format: Format,
    /// With the table's highlights, where the file keeps how something looks.
    pub looks: bool,
    pub pictures: Option<&'a Pictures>,
}

impl ViewFile<'_, '_> {
    /// The file. `far` is told how many records are written, and says whether to go on; nothing: it did not.
    ///
    /// # Errors
    /// In words, what the file can't hold.
    pub fn write(&self, far: &mut dyn FnMut(usize) -> bool) -> Result<Option<Written>, String> {
        let columns: Vec<Column> = self.listing.fields.iter().map(Column::from).collect();
        let head = Head { name: self.name, columns: &columns, levels: &self.listing.levels };
        let mut writing = Writing::begin(self.format, head, self.pictures.is_some())?;
        for line in &self.listing.lines {
            match line {
                ListedLine::Group(group) => writing.line(Line::Group(group))?,
                ListedLine::Foot(counted, figures) => writing.line(Line::Foot(counted, figures))?,
                ListedLine::Records(range) => {
                    for from in range.clone().step_by(AT_ONCE) {
                        if !far(from) {
                            return Ok(None);
                        }
                        let to = from.saturating_add(AT_ONCE).min(range.end);
                        self.records(self.listing.records.get(from..to).unwrap_or_default(), &mut writing)?;
                    }
                }
            }
        }
        far(self.listing.records.len());
        writing.finish().map(Some)
    }

    fn records(&self, records: &[RecordId], writing: &mut Writing) -> Result<(), String> {
        let fields: Vec<FieldId> = self.listing.fields.iter().map(|listed| listed.field).collect();
        let filing = if self.format.is_read() { Filing::Shown } else { Filing::Typed };
        let rows: Vec<Vec<Filed>> = self.lens.filed(self.table, records, &fields, filing);
        let looks =
            if self.looks && self.format.keeps_looks() { self.lens.cell_looks(self.query, self.table, records) } else { Vec::new() };
        for (at, (cells, record)) in rows.iter().zip(records).enumerate() {
            let picture = self.pictures.and_then(|pictures| {
                let column = fields.iter().position(|field| *field == pictures.field)?;
                Some((column, pictures.of.get(record)?.as_slice()))
            });
            writing.line(Line::Record { cells, looks: looks.get(at).map_or(&[], Vec::as_slice), picture })?;
        }
        Ok(())
    }
}
