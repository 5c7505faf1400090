//! Taking a change back.

use super::Decider;
use crate::{
    access::{Asker, Right},
    fault::{Checked, Fault, FaultKind},
    history::{Actor, Change, Op, run},
    id::RecordId,
    value::{Cell, Value},
};

impl Decider<'_> {
    /// The operations that take a change back, if what it did still stands and the asker did it (or is the steward).
    pub(super) fn undo(&self, change: &Change) -> Checked<Vec<Op>> {
        let own = matches!((self.asker, change.who), (Asker::Person(me), Actor::Person(who)) if me == who);
        if !own && !self.lens.is_steward() {
            return Err(Fault::not_found("step").into());
        }
        let ops = change.inverse();
        if change.ops.iter().any(|op| matches!(op, Op::Press { .. })) {
            return Err(Fault::new(FaultKind::BadRule, "What a button set going can’t be taken back.").into());
        }
        let parts: Vec<Op> = ops.iter().filter(|op| matches!(op, Op::Put { .. })).cloned().collect();
        // Values that go back into a field whose kind goes back before: what stands there then is nothing.
        let into_nothing = |op: &Op| matches!(op, Op::Fill { cells, .. } if cells.iter().all(|(_, before, _)| *before == Value::Empty));
        for op in ops.iter().filter(|op| parts.is_empty() || !into_nothing(op)) {
            self.still_stands(op)?;
        }
        self.put_all(&parts)?;
        Ok(ops)
    }

    /// Whether the state that an operation starts from is the one that stands.
    fn still_stands(&self, op: &Op) -> Result<(), Fault> {
        let moved_on = || Fault::new(FaultKind::Clash, "This can’t be undone any more: somebody changed the same thing since.");
        let stands = match op {
            Op::Cell { table, record, field, before, .. } => {
                self.must(Right::Change, *table, *record)?;
                if !self.lens.writes(*table, *field) {
                    return Err(Fault::not_found("field"));
                }
                let column = self.ds.table(*table).and_then(|t| t.column(*field));
                column.map_or(Cell::Empty, |c| c.cell(record.row())).to_value() == before.clone().tidy()
                    || column.is_none() && *before == Value::Empty
            }
            Op::Gone { table, record, gone } => self.ds.table(*table).and_then(|t| t.meta(*record)).is_some_and(|m| m.gone != *gone),
            Op::Bin { table, first, count, gone } => {
                let home = self.ds.table(*table);
                run(*first, *count).all(|r| home.and_then(|t| t.meta(r)).is_some_and(|m| m.gone != *gone))
            }
            Op::Fill { table, field, cells } => {
                // Numbers that a new numbering gave out are nobody's to write, but go with it.
                if !self.lens.writes(*table, *field) && !self.lens.builds() {
                    return Err(Fault::not_found("field"));
                }
                let column = self.ds.table(*table).and_then(|t| t.column(*field));
                cells.iter().try_for_each(|(record, ..)| self.must(Right::Change, *table, *record))?;
                let now = |record: &RecordId| column.map_or(Cell::Empty, |c| c.cell(record.row())).to_value();
                cells.iter().all(|(record, before, _)| now(record) == before.clone().tidy())
            }
            Op::Arrive { table, record, before, .. } => {
                self.must(Right::Change, *table, *record)?;
                self.ds.arrival(*table, *record) == before.as_deref()
            }
            Op::Put { before, after } => {
                let part = before.as_deref().or(after.as_deref());
                part.and_then(|p| self.ds.current(p)).as_ref() == before.as_deref()
            }
            Op::Add { .. } | Op::Rows(_) | Op::Press { .. } | Op::Count { .. } => true,
        };
        if stands { Ok(()) } else { Err(moved_on()) }
    }
}
