//! Along links, from record to record, as far as the asker may see them.

use super::{Column, Table};
use crate::{
    access::{Extent, Lens},
    id::{FieldId, RecordId},
};
use fixedbitset::FixedBitSet;

/// Which records of a table are there for the asker.
#[derive(Clone, Copy, Debug)]
pub(crate) enum Sight<'a> {
    Live(&'a Table),
    Some(&'a FixedBitSet),
    Nothing,
}

impl Sight<'_> {
    #[inline]
    pub(crate) fn sees(self, record: RecordId) -> bool {
        match self {
            Sight::Live(table) => table.is_live(record),
            Sight::Some(records) => records.contains(record.row()),
            Sight::Nothing => false,
        }
    }
}

/// A link to follow for a carried value.
#[derive(Debug)]
pub(super) struct Step<'a> {
    pub(super) column: &'a Column,
    /// The rows whose link may be read, where that is not all that are in sight.
    pub(super) shown: Option<FixedBitSet>,
    pub(super) target: Target<'a>,
}

/// A table that a link leads to, and which of its records are there for the asker.
#[derive(Clone, Copy, Debug)]
pub(super) struct Target<'a> {
    pub(super) table: &'a Table,
    pub(super) sight: Sight<'a>,
}

/// Whether a row is among those shown.
#[inline]
pub(super) fn among(shown: Option<&FixedBitSet>, row: usize) -> bool {
    shown.is_none_or(|rows| rows.contains(row))
}

impl<'a> Step<'a> {
    /// Along a link of a table; none where it may be read of no record.
    pub(super) fn new(lens: &'a Lens<'_>, from: &'a Table, link_field: FieldId) -> Option<Self> {
        let shown = lens.shown(from.def.id, link_field);
        if shown == Extent::Nowhere {
            return None;
        }
        let link = from.link(link_field)?;
        let target = Target { table: lens.ds.table(link.to)?, sight: lens.sight(link.to) };
        Some(Step { column: from.column(link_field)?, shown: shown.into_rows(), target })
    }

    /// The table to which it leads.
    pub(super) fn end(&self) -> &'a Table {
        self.target.table
    }

    /// Whether it leads to one record at most.
    #[inline]
    pub(super) fn is_one(&self) -> bool {
        matches!(self.column, Column::One(_))
    }

    /// Whether nothing on this step can be out of sight.
    pub(super) fn is_open(&self) -> bool {
        self.shown.is_none() && matches!(self.target.sight, Sight::Live(_))
    }
}

/// The row at the end of links that name one record each at most; none where one names none, or may not be followed.
#[inline]
pub(super) fn follow_one(steps: &[Step<'_>], row: usize) -> Option<usize> {
    steps.iter().try_fold(row, |row, step| {
        let record = step.column.links(row).first()?;
        (among(step.shown.as_ref(), row) && step.target.sight.sees(*record)).then_some(record.row())
    })
}

/// The rows at the end of links; none at all if any live record on the way is out of sight, or a link may not be read.
pub(super) fn follow(steps: &[Step<'_>], row: usize) -> Option<Vec<usize>> {
    let mut rows = vec![row];
    for step in steps {
        if !rows.iter().all(|row| among(step.shown.as_ref(), *row)) {
            return None;
        }
        let mut next = Vec::new();
        for record in rows.iter().flat_map(|row| step.column.links(*row)) {
            if step.target.sight.sees(*record) {
                next.push(record.row());
            } else if step.target.table.is_live(*record) {
                return None;
            }
        }
        rows = next;
    }
    Some(rows)
}
