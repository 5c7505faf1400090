//! The order of cells: a number that decides most comparisons, and a full comparison for when it does not.

use crate::{
    access::{Extent, Lens},
    dataset::Reader,
    id::{FieldId, OptionId, TableId},
    value::{Cell, natural_cmp, text_key},
};
use jiff::civil::Date;
use rust_decimal::{Decimal, prelude::ToPrimitive};
use std::{cell::RefCell, cmp::Ordering};

/// Key of an empty cell: after everything, in either direction.
pub(super) const EMPTY: u64 = u64::MAX;

/// Puts the records of a table in the order of one field.
pub(super) struct Ranker<'a, 'd> {
    pub(super) reader: Reader<'a>,
    lens: &'a Lens<'d>,
    descending: bool,
    table: TableId,
    field: FieldId,
    /// Place of each option in its list, by id; for a choice.
    options: Vec<(crate::id::OptionId, u64)>,
    /// Keys of linked records' names, by row, once they were needed; for a link.
    names: RefCell<Vec<Option<u64>>>,
}

impl<'a, 'd> Ranker<'a, 'd> {
    pub(super) fn new(lens: &'a Lens<'d>, table: TableId, field: FieldId, descending: bool) -> Self {
        let options = lens.ds.shown_kind(table, field).map_or(&[][..], |(_, kind)| kind.options());
        let options = options.iter().map(|o| o.id).zip(0..).collect();
        // Whoever is given what a link shows is given its names, and their order.
        let named = if lens.released(table, field) == Extent::Everywhere { lens.whole() } else { lens };
        Self { reader: lens.reader(table, field), lens: named, descending, table, field, options, names: RefCell::default() }
    }

    /// If the keys of two rows differ, they order as the rows do; if not, [`Ranker::compare`] decides.
    #[inline]
    pub(super) fn key(&self, row: usize) -> u64 {
        let key = match self.reader.cell(row) {
            Cell::Text(text) => self.reader.stored_text_key(row).unwrap_or_else(|| text_key(text)),
            Cell::Number(number) => number_key(number),
            Cell::Date(date) => day_number(date),
            Cell::Instant(instant) => instant.as_microsecond().cast_unsigned() ^ (1 << 63),
            Cell::Choice(option) => self.place(option),
            Cell::Person(person) => text_key(self.lens.ds.people.name(person)),
            Cell::Links(records) => self.link_key(records),
            Cell::Choices(options) => options.first().map_or(EMPTY, |o| self.place(*o)),
            Cell::People(people) => people.first().map_or(EMPTY, |p| text_key(self.lens.ds.people.name(*p))),
            Cell::Logical(yes) => u64::from(yes),
            Cell::Range(start, _) => day_number(start),
            Cell::Web(_) | Cell::Place(_) | Cell::Json(_) => text_key(&self.text(row)),
            Cell::Files(files) => files.len() as u64,
            Cell::Checklist(items) => items.iter().filter(|i| !i.done).count() as u64,
            // Errors after all values, before what is empty.
            Cell::Error(_) => EMPTY - 1,
            Cell::Empty => EMPTY,
        };
        self.turned(key)
    }

    /// Last first, where that is wanted; what is empty stays at the end.
    pub(super) fn turned(&self, key: u64) -> u64 {
        if self.descending && key < EMPTY - 1 { !key - 2 } else { key }
    }

    fn place(&self, option: OptionId) -> u64 {
        self.options.iter().find(|(id, _)| *id == option).map_or(EMPTY, |(_, place)| *place)
    }

    fn text(&self, row: usize) -> String {
        self.lens.cell_text(self.table, self.field, self.reader.cell(row))
    }

    fn link_key(&self, records: &[crate::id::RecordId]) -> u64 {
        let Some(first) = self.reader.visible(records).next() else { return EMPTY };
        let row = first.row();
        if let Some(Some(key)) = self.names.borrow().get(row) {
            return *key;
        }
        let key = text_key(&self.first_name(records));
        let mut names = self.names.borrow_mut();
        if names.len() <= row {
            names.resize(row + 1, None);
        }
        names[row] = Some(key);
        key
    }

    fn first_name(&self, records: &[crate::id::RecordId]) -> String {
        let first = self.reader.visible(records).next();
        self.lens.cell_text(self.table, self.field, first.as_ref().map_or(Cell::Empty, |r| Cell::Links(std::slice::from_ref(r))))
    }

    /// The whole order of two rows whose keys are the same.
    pub(super) fn compare(&self, a: usize, b: usize) -> Ordering {
        let order = match (self.reader.cell(a), self.reader.cell(b)) {
            (Cell::Text(a), Cell::Text(b)) => natural_cmp(a, b),
            (Cell::Number(a), Cell::Number(b)) => a.cmp(&b),
            (Cell::Person(a), Cell::Person(b)) if a != b => natural_cmp(self.lens.ds.people.name(a), self.lens.ds.people.name(b)),
            (Cell::Links(a), Cell::Links(b)) if a.first() != b.first() => natural_cmp(&self.first_name(a), &self.first_name(b)),
            (Cell::Range(_, a), Cell::Range(_, b)) => a.cmp(&b),
            (Cell::Error(a), Cell::Error(b)) => a.cmp(&b),
            (Cell::Choices(_), _) | (Cell::People(_), _) | (Cell::Web(_), _) | (Cell::Place(_), _) | (Cell::Json(_), _) => {
                natural_cmp(&self.text(a), &self.text(b))
            }
            // The keys of all others tell everything.
            _ => Ordering::Equal,
        };
        if self.descending { order.reverse() } else { order }
    }
}

/// Order-preserving, to the precision of a double; exact comparison follows where it is not enough.
fn number_key(number: Decimal) -> u64 {
    let bits = number.to_f64().unwrap_or(0.0).to_bits();
    if bits >> 63 == 1 { !bits } else { bits | (1 << 63) }
}

/// Days as a number that orders as they do.
pub(super) fn day_number(date: Date) -> u64 {
    let (year, month, day) = (i64::from(date.year()) + 10_000, i64::from(date.month()), i64::from(date.day()));
    (year * 512 + month * 32 + day).cast_unsigned()
}
