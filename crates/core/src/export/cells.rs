//! The cells of records as files hold them.

use crate::{
    access::{Extent, Lens},
    dataset::Reader,
    id::{FieldId, RecordId, TableId},
    import::Raw,
    schema::Kind,
    value::{Attachment, Cell, list_text},
};

/// A cell for a file.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Filed {
    pub raw: Raw,
    /// Where a press on it leads, if it does: `https:`, `http:` or `mailto:`.
    pub leads: Option<Box<str>>,
}

impl From<Raw> for Filed {
    fn from(raw: Raw) -> Self {
        Self { raw, leads: None }
    }
}

/// As what cells are filed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Filing {
    /// Typed where files have such a type.
    Typed,
    /// As people read them on the screen.
    Shown,
}

impl Lens<'_> {
    /// The cells of records, row by row.
    pub fn filed(&self, table: TableId, records: &[RecordId], fields: &[FieldId], filing: Filing) -> Vec<Vec<Filed>> {
        let open = fields.iter().filter(|f| self.reads(table, **f));
        let readers: Vec<_> = open.map(|f| (*f, self.reader(table, *f), self.released(table, *f))).collect();
        let of = |lens: &Lens<'_>, field: FieldId, cells: Vec<Cell<'_>>| match cells[..] {
            [] => Filed::default(),
            [cell] => Filed { raw: lens.raw(table, field, cell, filing), leads: lens.leads(table, field, cell) },
            // A carried value may be of several records.
            _ => {
                let texts: Vec<String> = cells.iter().map(|c| lens.cell_text(table, field, *c)).collect();
                Raw::Text(list_text(&texts.iter().map(String::as_str).collect::<Vec<_>>(), "and").into()).into()
            }
        };
        let row = |record: &RecordId| {
            let cell = |(field, reader, released): &(FieldId, Reader<'_>, Extent)| {
                let lens = if released.holds(record.row()) { self.whole() } else { self };
                of(lens, *field, reader.cells(record.row()))
            };
            readers.iter().map(cell).collect()
        };
        records.iter().filter(|r| self.sees(table, **r)).map(row).collect()
    }

    /// Of each record, the first picture in a field.
    pub fn first_pictures(&self, table: TableId, records: &[RecordId], field: FieldId) -> Vec<Option<Attachment>> {
        let reader = self.reader(table, field);
        let seen = |record: &RecordId| self.shows(table, *record, field);
        let first = |record: &RecordId| {
            reader
                .cells(record.row())
                .into_iter()
                .filter_map(|cell| if let Cell::Files(files) = cell { Some(files) } else { None })
                .find_map(|files| files.iter().find(|file| file.is_picture()).cloned())
        };
        records.iter().map(|record| seen(record).then(|| first(record)).flatten()).collect()
    }

    fn raw(&self, table: TableId, field: FieldId, cell: Cell<'_>, filing: Filing) -> Raw {
        match (filing, cell) {
            (_, Cell::Empty) => Raw::Empty,
            (Filing::Typed, Cell::Number(number)) => Raw::Number(number.normalize()),
            (Filing::Typed, Cell::Logical(yes)) => Raw::Logical(yes),
            (Filing::Typed, Cell::Date(date)) => Raw::Date(date),
            (Filing::Typed, Cell::Instant(instant)) => Raw::DateTime(instant.to_zoned(self.clock().told.clone()).datetime()),
            (_, other) => {
                let text = self.cell_text(table, field, other);
                if text.is_empty() { Raw::Empty } else { Raw::Text(text.into()) }
            }
        }
    }

    /// Where a cell leads outside.
    fn leads(&self, table: TableId, field: FieldId, cell: Cell<'_>) -> Option<Box<str>> {
        match cell {
            Cell::Web(web) => Some(web.address.as_str().into()),
            Cell::Text(address) => {
                let (_, kind) = self.dataset().shown_kind(table, field)?;
                matches!(kind.shows(), Kind::Email).then(|| format!("mailto:{address}").into())
            }
            _ => None,
        }
    }
}

impl Kind {
    /// With how many decimals its numbers are shown.
    pub fn decimals(&self) -> u32 {
        match self.shows() {
            Kind::Number { decimals, .. } | Kind::Percent { decimals } => *decimals,
            Kind::Money { currency } => crate::value::currency_decimals(currency),
            _ => 0,
        }
    }
}
