//! Orders by hand: records of a view put somewhere, its order begun as things stand, or forgotten; lines put elsewhere under their
//! record.

use super::{Decider, Edit, MOST_AT_ONCE};
use crate::{
    access::Right,
    fault::{Checked, Fault, FaultKind},
    history::Op,
    id::{FieldId, RecordId, TableId, ViewId},
    part::Part,
    view::{Order, OrderOf, OwnOrder, Query, Spot, View, Window},
};
use std::collections::BTreeSet;

/// What is done to a view's own order.
#[derive(Clone, Debug)]
pub enum OrderStep {
    /// Records go somewhere, in the order in which they come; where that is another lane or group, with the values that they
    /// have there.
    Place { records: Vec<RecordId>, spot: Spot, edits: Vec<Edit> },
    /// All records stand from now on as these sorts put them; the view is sorted by nothing any more.
    Begin { sorts: Vec<Order> },
    /// Nobody has put anything anywhere.
    Forget,
}

impl Decider<'_> {
    pub(super) fn order(&self, id: ViewId, step: &OrderStep) -> Checked<Vec<Op>> {
        let view = self.ds.view(id).filter(|view| self.lens.knows(view)).ok_or_else(|| Fault::not_found("view"))?;
        self.may_order(view)?;
        if !view.query.is_ordered() {
            let message = "A calendar’s records stand on their days. Its rows, lanes or cards can be put in an order by hand.";
            return Err(Fault::new(FaultKind::BadRule, message).into());
        }
        let nothing = OwnOrder::default();
        let own = self.ds.order_of(OrderOf::View(id)).unwrap_or(&nothing);
        let rows = self.ds.table(view.table).map_or(0, crate::dataset::Table::rows);
        let placed = |places: Vec<_>| Op::Place { of: OrderOf::View(id), places };
        match step {
            OrderStep::Forget => Ok(Vec::from_iter((!own.is_nothing()).then(|| placed(own.forgotten())))),
            OrderStep::Begin { sorts } => {
                let sorted = Query { sorts: sorts.clone(), ..view.query.clone() };
                let asked = sorted.asked_by(&self.lens, view.table)?;
                // What the view leaves out has its place too, should it come in.
                let all = Query { condition: crate::condition::Condition::default(), groups: Vec::new(), ..asked };
                let records = all.run(&self.lens, view.table, &Window { rows: 0..usize::MAX, ..Window::default() }).window;
                let unsorted = View { query: Query { sorts: Vec::new(), ..view.query.clone() }, ..view.clone() };
                let save = (unsorted != *view).then(|| self.put(Some(view.clone().into()), Some(unsorted.into()))).transpose()?;
                Ok(save.into_iter().chain([placed(own.laid(&records, rows))]).collect())
            }
            OrderStep::Place { records, spot, edits } => {
                if !view.query.sorts.is_empty() {
                    let message = format!("“{}” is sorted, so that its own order rests. Take the sort away first.", view.name);
                    return Err(Fault::new(FaultKind::BadRule, message).at("/spot").into());
                }
                if records.len() > MOST_AT_ONCE {
                    let message = format!("At most {MOST_AT_ONCE} records are put somewhere at once.");
                    return Err(Fault::new(FaultKind::TooLong, message).at("/records").into());
                }
                let beside = spot.beside();
                if let Some(unseen) = records.iter().chain(&beside).find(|record| !self.lens.sees(view.table, **record)) {
                    let at = if beside == Some(*unseen) { "/spot" } else { "/records" };
                    return Err(Fault::not_found("record").at(at).into());
                }
                let mut seen = BTreeSet::new();
                let records: Vec<RecordId> = records.iter().copied().filter(|record| seen.insert(*record)).collect();
                let mut ops = if edits.is_empty() { Vec::new() } else { self.edit_several(view.table, &records, edits)? };
                let places: Vec<_> = own.put(&records, *spot, rows).into_iter().filter(|(_, before, after)| before != after).collect();
                ops.extend((!places.is_empty()).then(|| placed(places)));
                Ok(ops)
            }
        }
    }

    /// Puts lines elsewhere among those of their record.
    pub(super) fn place_lines(&self, field: FieldId, lines: &[RecordId], spot: Spot) -> Checked<Vec<Op>> {
        if lines.len() > MOST_AT_ONCE {
            let message = format!("At most {MOST_AT_ONCE} lines are put somewhere at once.");
            return Err(Fault::new(FaultKind::TooLong, message).at("/lines").into());
        }
        let table = self.may_place_lines(field, lines)?;
        if let Some(unseen) = spot.beside().filter(|record| !self.lens.sees(table, *record)) {
            return Err(Fault::not_found(&format!("line {unseen}")).at("/spot").into());
        }
        let mut seen = BTreeSet::new();
        let lines: Vec<RecordId> = lines.iter().copied().filter(|line| seen.insert(*line)).collect();
        let (of, nothing) = (OrderOf::Lines(field), OwnOrder::default());
        let rows = self.ds.table(table).map_or(0, crate::dataset::Table::rows);
        let put = self.ds.order_of(of).unwrap_or(&nothing).put(&lines, spot, rows);
        let places: Vec<_> = put.into_iter().filter(|(_, before, after)| before != after).collect();
        Ok(Vec::from_iter((!places.is_empty()).then_some(Op::Place { of, places })))
    }

    /// Whoever may change lines puts them in order; answers the table that they are of.
    pub(super) fn may_place_lines(&self, field: FieldId, lines: &[RecordId]) -> Result<TableId, Fault> {
        let offers = self.ds.field(field).filter(|(home, def)| def.offers.lines && self.lens.reads(home.def.id, field));
        let table = offers.and_then(|_| self.ds.ordered_table(OrderOf::Lines(field))).ok_or_else(|| Fault::not_found("field"))?;
        lines.iter().try_for_each(|line| self.must(Right::Change, table, *line)).map(|()| table)
    }

    /// Whoever may change a view puts its records in order, while it is not locked.
    pub(super) fn may_order(&self, view: &View) -> Result<(), Fault> {
        self.may_shape(&Part::View(view.clone()))?;
        view.stays_open()
    }
}
