//! Taking a change back.

use super::Decider;
use crate::{
    access::{Asker, Right},
    dataset::Meta,
    fault::{Checked, Fault, FaultKind},
    history::{Change, Op, run},
    id::{FieldId, RecordId, TableId},
    part::{Part, Sort},
    people::Actor,
    rules::stewards_only,
    schema::TableDef,
    value::{Cell, Value},
    view::OrderOf,
};

/// Why what was emptied stays so.
pub(super) const EMPTIED: &str = "What was emptied out of the bin can’t be brought back: nothing of it is left.";

impl Decider<'_> {
    /// The operations that take a change back, if what it did still stands and the asker did it (or is the steward). Taking
    /// back asks for the same rights as doing, now. `shared`: somebody else has touched records that the change made.
    pub(super) fn undo(&self, change: &Change, shared: bool) -> Checked<Vec<Op>> {
        let own = matches!((self.asker, change.who), (Asker::Person(me), Actor::Person(who)) if me == who);
        if !own && !self.lens.is_steward() {
            return Err(Fault::not_found("step").into());
        }
        let ops = change.inverse();
        if change.ops.iter().any(|op| matches!(op, Op::Press { .. })) {
            return Err(Fault::new(FaultKind::BadRule, "What a button set going can’t be taken back.").into());
        }
        if change.ops.iter().any(|op| matches!(op, Op::Empty { .. })) {
            return Err(Fault::new(FaultKind::BadRule, EMPTIED).into());
        }
        let parts: Vec<Op> = ops.iter().filter(|op| matches!(op, Op::Put { .. })).cloned().collect();
        // Values that go back into a field whose kind goes back before: what stands there then is nothing.
        let into_nothing = |op: &Op| matches!(op, Op::Fill { cells, .. } if cells.iter().all(|(_, before, _)| *before == Value::Empty));
        // What was said goes along with records that were made one: whoever did that takes it back, whoever said it.
        let made_one = own && change.ops.iter().any(|op| matches!(op, Op::Gone { .. }));
        for op in ops.iter().filter(|op| parts.is_empty() || !into_nothing(op)) {
            if !(made_one && matches!(op, Op::Say { .. })) {
                self.may_take_back(op, own && !shared)?;
            }
            self.unchanged_since(op)?;
        }
        self.put_all(&parts)?;
        Ok(ops)
    }

    /// Whether the asker may do what takes something back. `only_mine`: nobody else has touched what the change made.
    fn may_take_back(&self, op: &Op, only_mine: bool) -> Result<(), Fault> {
        match op {
            Op::Cell { table, record, field, .. } => {
                self.must(Right::Change, *table, *record)?;
                self.must_change(*table, *record, *field)
            }
            Op::Fill { table, field, cells } => cells.iter().try_for_each(|(record, ..)| {
                // Those in the bin are changed with the others where a whole field is.
                if self.lens.builds() && self.ds.table(*table).and_then(|t| t.meta(*record)).is_some_and(|m| m.gone) {
                    return Ok(());
                }
                self.must(Right::Change, *table, *record)?;
                // Numbers that a new numbering gave out are nobody's to write, but go with it.
                if self.lens.builds() { Ok(()) } else { self.must_change(*table, *record, *field) }
            }),
            Op::Arrive { table, record, .. } => self.must(Right::Change, *table, *record),
            Op::Say { table, record, before, after } => self.may_unsay(*table, *record, before.as_deref().or(after.as_deref())),
            Op::Gone { table, record, gone } => self.may_move(*table, *record, *gone, only_mine),
            Op::Bin { table, first, count, gone } => {
                run(*first, *count).try_for_each(|record| self.may_move(*table, record, *gone, only_mine))
            }
            // Asked of the parts together, in `put_all`.
            Op::Put { before, after } => {
                let mine = |part: &Option<Box<Part>>| part.as_deref().and_then(TableDef::of).map(|def| (def.mine, def.talk_for.clone()));
                match (mine(before), mine(after)) {
                    (Some(before), Some(after)) if before != after => stewards_only(&self.lens),
                    _ => Ok(()),
                }
            }
            // Where the view comes back with it, that is asked of the view.
            Op::Place { of: OrderOf::View(view), .. } => self.ds.view(*view).map_or(Ok(()), |view| self.may_order(view)),
            Op::Place { of: OrderOf::Lines(field), places } => {
                let records: Vec<RecordId> = places.iter().map(|(record, ..)| *record).collect();
                self.may_place_lines(*field, &records).map(|_| ())
            }
            Op::Add { .. }
            | Op::Rows(_)
            | Op::Press { .. }
            | Op::Reply { .. }
            | Op::Go { .. }
            | Op::Count { .. }
            | Op::Turned { .. }
            | Op::Empty { .. } => Ok(()),
        }
    }

    fn must_change(&self, table: TableId, record: RecordId, field: FieldId) -> Result<(), Fault> {
        if self.lens.changes(table, record, field) { Ok(()) } else { Err(Fault::not_found("field")) }
    }

    /// Whether the asker may put a record into the bin or take it out. One's own addition may be taken back while one still
    /// reaches it and nobody else has touched it.
    fn may_move(&self, table: TableId, record: RecordId, gone: bool, only_mine: bool) -> Result<(), Fault> {
        if !gone {
            if self.ds.is_emptied(table, record) {
                return Err(Fault::new(FaultKind::BadRule, EMPTIED));
            }
            return if self.lens.would(Right::Remove, table, record) { Ok(()) } else { Err(Fault::not_found("record")) };
        }
        let own = |meta: &Meta| matches!(self.asker, Asker::Person(me) if [meta.created_by, meta.changed_by] == [Actor::Person(me); 2]);
        let added = only_mine && self.ds.table(table).and_then(|t| t.meta(record)).is_some_and(own);
        if added && self.lens.sees(table, record) { Ok(()) } else { self.must(Right::Remove, table, record) }
    }

    /// Whether the state that an operation starts from is the one that stands.
    fn unchanged_since(&self, op: &Op) -> Result<(), Fault> {
        let moved_on = || Fault::new(FaultKind::Clash, "This can’t be undone any more: somebody changed the same thing since.");
        let stands = match op {
            Op::Cell { table, record, field, before, .. } => {
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
                let column = self.ds.table(*table).and_then(|t| t.column(*field));
                let now = |record: &RecordId| column.map_or(Cell::Empty, |c| c.cell(record.row())).to_value();
                cells.iter().all(|(record, before, _)| now(record) == before.clone().tidy())
            }
            Op::Arrive { table, record, before, .. } => self.ds.arrival(*table, *record) == before.as_deref(),
            Op::Say { table, record, before, after } => {
                let id = before.as_deref().or(after.as_deref()).map(|comment| comment.id);
                let now = id.and_then(|id| self.ds.table(*table)?.talk.get(*record, id));
                now == before.as_deref()
            }
            Op::Put { before, after } => {
                let part = before.as_deref().or(after.as_deref());
                part.and_then(|p| self.ds.current(p)).as_ref() == before.as_deref()
            }
            Op::Place { of, places } => {
                let order = self.ds.order_of(*of);
                places.iter().all(|(record, before, _)| order.and_then(|order| order.rank(*record)) == before.as_ref())
            }
            Op::Add { .. }
            | Op::Rows(_)
            | Op::Press { .. }
            | Op::Reply { .. }
            | Op::Go { .. }
            | Op::Count { .. }
            | Op::Turned { .. }
            | Op::Empty { .. } => true,
        };
        if stands { Ok(()) } else { Err(moved_on()) }
    }
}
