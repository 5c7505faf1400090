//! What a view shows, as cells for a file. What the lens does not give is not in it.

use crate::{
    access::Lens,
    id::{FieldId, RecordId, TableId},
    import::Raw,
    schema::Kind,
    value::{Cell, list_text},
};

impl Lens<'_> {
    /// The cells of records, row by row, typed where files have such a type.
    pub fn raw_rows(&self, table: TableId, records: &[RecordId], fields: &[FieldId]) -> Vec<Vec<Raw>> {
        let readers: Vec<_> = fields.iter().filter(|f| self.reads(table, **f)).map(|f| (*f, self.reader(table, *f))).collect();
        let raw = |field: FieldId, cells: Vec<Cell<'_>>| match cells[..] {
            [] => Raw::Empty,
            [cell] => self.raw(table, field, cell),
            // A carried value may be of several records.
            _ => {
                let texts: Vec<String> = cells.iter().map(|c| self.cell_text(table, field, *c)).collect();
                Raw::Text(list_text(&texts.iter().map(String::as_str).collect::<Vec<_>>(), "and").into())
            }
        };
        let row = |record: &RecordId| readers.iter().map(|(field, reader)| raw(*field, reader.cells(record.row()))).collect();
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
