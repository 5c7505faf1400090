//! What a view shows, as cells for a file. What the lens does not give is not in it.

use crate::{
    access::{Extent, Lens},
    dataset::Reader,
    id::{FieldId, RecordId, TableId},
    import::Raw,
    schema::Kind,
    value::{Cell, list_text},
};

impl Lens<'_> {
    /// The cells of records, row by row, typed where files have such a type.
    pub fn raw_rows(&self, table: TableId, records: &[RecordId], fields: &[FieldId]) -> Vec<Vec<Raw>> {
        let open = fields.iter().filter(|f| self.reads(table, **f));
        let readers: Vec<_> = open.map(|f| (*f, self.reader(table, *f), self.released(table, *f))).collect();
        let raw = |lens: &Lens<'_>, field: FieldId, cells: Vec<Cell<'_>>| match cells[..] {
            [] => Raw::Empty,
            [cell] => lens.raw(table, field, cell),
            // A carried value may be of several records.
            _ => {
                let texts: Vec<String> = cells.iter().map(|c| lens.cell_text(table, field, *c)).collect();
                Raw::Text(list_text(&texts.iter().map(String::as_str).collect::<Vec<_>>(), "and").into())
            }
        };
        let row = |record: &RecordId| {
            let cell = |(field, reader, released): &(FieldId, Reader<'_>, Extent)| {
                let lens = if released.holds(record.row()) { self.whole() } else { self };
                raw(lens, *field, reader.cells(record.row()))
            };
            readers.iter().map(cell).collect()
        };
        records.iter().filter(|r| self.sees(table, **r)).map(row).collect()
    }

    fn raw(&self, table: TableId, field: FieldId, cell: Cell<'_>) -> Raw {
        match cell {
            Cell::Empty => Raw::Empty,
            Cell::Number(number) => Raw::Number(number.normalize()),
            Cell::Logical(yes) => Raw::Logical(yes),
            Cell::Date(date) => Raw::Date(date),
            Cell::Instant(instant) => Raw::DateTime(instant.to_zoned(self.clock().told.clone()).datetime()),
            other => {
                let text = self.cell_text(table, field, other);
                if text.is_empty() { Raw::Empty } else { Raw::Text(text.into()) }
            }
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
