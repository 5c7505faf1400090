//! A record by its number, as it stands on paper and is said on the telephone.

use crate::{
    access::Lens,
    id::{RecordId, TableId},
    schema::Kind,
    value::fold,
};

impl Lens<'_> {
    /// The record whose numbering says this, neither capitals nor accents counting; nothing where it is not there for the asker, or
    /// several are.
    pub fn numbered(&self, number: &str) -> Option<(TableId, RecordId)> {
        let wanted = fold(number.trim()).into_owned();
        if wanted.is_empty() || wanted.chars().count() > super::LONGEST {
            return None;
        }
        let tables = self.ds.tables().filter(|home| self.opens(home.def.id));
        let fields = tables.flat_map(|home| home.def.fields.iter().map(move |def| (home.def.id, def)));
        let numberings = fields.filter(|(_, def)| matches!(def.kind, Kind::Numbering { .. }));
        let mut found = numberings.flat_map(|(table, def)| {
            let reader = self.reader(table, def.id);
            let is = |record: &RecordId| matches!(reader.cell(record.row()), crate::value::Cell::Text(text) if fold(text) == wanted);
            self.records(table).filter(is).map(|record| (table, record)).collect::<Vec<_>>()
        });
        found.next().filter(|_| found.next().is_none())
    }
}
