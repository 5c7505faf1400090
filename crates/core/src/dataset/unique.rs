//! Which records hold a value in a field that holds each value once: kept up with every change, shared by copies.

use super::{Column, Table};
use crate::{
    id::{FieldId, RecordId},
    value::{Cell, fold},
};
use std::hash::{DefaultHasher, Hash, Hasher};

/// The records by what they hold, those in the bin too.
#[derive(Clone, Debug, Default)]
pub(super) struct Index(imbl::HashMap<u64, Vec<RecordId>>);

/// What people would call the same has the same key; what has the same key is most likely the same.
fn key(cell: Cell<'_>) -> u64 {
    let mut hasher = DefaultHasher::new();
    match cell {
        Cell::Text(text) => fold(text.trim()).hash(&mut hasher),
        Cell::Number(number) => number.normalize().hash(&mut hasher),
        other => format!("{other:?}").hash(&mut hasher),
    }
    hasher.finish()
}

/// Whether people would call two values the same.
pub(crate) fn same(a: Cell<'_>, b: Cell<'_>) -> bool {
    match (a, b) {
        (Cell::Text(a), Cell::Text(b)) => fold(a.trim()) == fold(b.trim()),
        (a, b) => a == b,
    }
}

impl Index {
    fn of(column: &Column, rows: usize) -> Self {
        let mut index = Self::default();
        for row in 0..rows {
            index.put(RecordId::at_row(row), column.cell(row));
        }
        index
    }

    pub(super) fn put(&mut self, record: RecordId, cell: Cell<'_>) {
        if !cell.is_empty() {
            self.0.entry(key(cell)).or_default().push(record);
        }
    }

    pub(super) fn take(&mut self, record: RecordId, cell: Cell<'_>) {
        let key = key(cell);
        if let Some(records) = self.0.get_mut(&key) {
            records.retain(|r| *r != record);
            if records.is_empty() {
                self.0.remove(&key);
            }
        }
    }
}

impl Table {
    /// The records that are not in the bin and hold this in a field that holds each value once.
    pub(crate) fn holders(&self, field: FieldId, cell: Cell<'_>) -> impl Iterator<Item = RecordId> {
        let records = self.unique.get(&field).and_then(|index| index.0.get(&key(cell))).map_or(&[][..], Vec::as_slice);
        let column = self.column(field);
        let holds = move |r: &&RecordId| self.is_live(**r) && column.is_some_and(|c| same(c.cell(r.row()), cell));
        records.iter().filter(holds).copied()
    }

    /// Makes the indexes anew that its definition asks for, and drops others.
    pub(super) fn index_unique(&mut self) {
        let rows = self.rows();
        let of = |field: FieldId| Some((field, Index::of(self.column(field)?, rows)));
        self.unique = self.def.fields.iter().filter(|f| f.unique).filter_map(|f| of(f.id)).collect();
    }
}
