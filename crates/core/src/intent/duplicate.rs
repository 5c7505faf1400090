//! Records made again, with their lines, as one step: all of them or none.

use super::Decider;
use crate::{
    bulk::{Duplicate, MOST_AGAIN, moved_on},
    dataset::Table,
    fault::{Checked, Fault, FaultKind, Faults},
    history::Op,
    id::{FieldId, RecordId, TableId},
    schema::{FieldDef, Kind, Link, MovesOn, Recipe},
    value::{Input, Value},
};

/// What is put into a new record.
type Cells = Vec<(FieldId, Input)>;

impl Decider<'_> {
    pub(super) fn make_again(&self, duplicate: &Duplicate) -> Checked<Vec<Op>> {
        let Duplicate { table, records, by } = duplicate;
        let home = self.ds.table(*table).filter(|_| self.lens.opens(*table)).ok_or_else(|| Fault::not_found("table"))?;
        if records.is_empty() || records.len() > MOST_AGAIN {
            return Err(Fault::new(FaultKind::TooLong, format!("From one to {MOST_AGAIN} records are made again at once.")).into());
        }
        let (mut cells, mut faults) = (Vec::new(), Vec::new());
        for (place, record) in records.iter().enumerate() {
            match self.again(home, *record, by, None) {
                Ok(again) => cells.push(again),
                Err(fault) => faults.push(fault.at(format!("/records/{place}"))),
            }
        }
        Faults::none_or(faults)?;
        let mut ops = self.add(*table, &cells)?;
        if by.lines {
            let linked = home.def.fields.iter().filter(|field| field.offers.lines);
            for link in linked.filter_map(|field| home.link(field.id)).filter(|link| link.to != *table && !link.holds) {
                self.lines_again(home, records, link, &mut ops)?;
            }
        }
        Ok(ops)
    }

    /// The lines of each record, under the one that is made of it.
    fn lines_again(&self, home: &Table, records: &[RecordId], link: Link, ops: &mut Vec<Op>) -> Checked<()> {
        let Some(lines) = self.ds.table(link.to).filter(|_| self.lens.opens(link.to)) else { return Ok(()) };
        let whole = Recipe { links: true, ..Recipe::default() };
        let Some(ours) = lines.link(link.back).map(|back| back.back) else { return Ok(()) };
        let (mut cells, mut parents) = (Vec::new(), Vec::new());
        for (place, record) in records.iter().enumerate() {
            let Some(Value::Links(mut linked)) = home.column(ours).map(|column| column.cell(record.row()).to_value()) else { continue };
            self.ds.in_line_order(ours, &mut linked);
            for line in linked.into_iter().filter(|line| self.lens.sees(link.to, *line)) {
                cells.push(self.again(lines, line, &whole, Some(link.back)).map_err(|fault| fault.at(format!("/records/{place}")))?);
                parents.push(RecordId::at_row(home.rows().saturating_add(place)));
            }
        }
        if cells.len() > MOST_AGAIN.saturating_mul(5) {
            return Err(Fault::new(FaultKind::TooLong, "These have too many lines to be made again at once. Take fewer of them.").into());
        }
        ops.extend(self.add(link.to, &cells)?);
        for (place, parent) in parents.into_iter().enumerate() {
            let record = RecordId::at_row(lines.rows().saturating_add(place));
            ops.push(Op::Cell { table: link.to, record, field: link.back, before: Value::Empty, after: Value::Links(vec![parent]) });
        }
        Ok(())
    }

    /// What a new record has of another; `but`: the link that is set otherwise.
    fn again(&self, home: &Table, record: RecordId, by: &Recipe, but: Option<FieldId>) -> Result<Cells, Fault> {
        let table = home.def.id;
        if !self.lens.sees(table, record) {
            return Err(Fault::not_found("record"));
        }
        let mut cells = Vec::new();
        for field in home.def.fields.iter().filter(|field| Some(field.id) != but && self.goes_along(table, record, field, by)) {
            let value = home.column(field.id).map_or(Value::Empty, |column| column.cell(record.row()).to_value()).tidy();
            let value = match by.moves.iter().find(|one| one.field == field.id) {
                Some(MovesOn { by, .. }) => moved_on(value, *by, &self.clock.zone)?,
                None => self.seen(table, field.id, &value),
            };
            // An empty cell stays empty, whatever new records begin with.
            cells.push((field.id, Input::Value(value)));
        }
        Ok(cells)
    }

    fn goes_along(&self, table: TableId, record: RecordId, field: &FieldDef, by: &Recipe) -> bool {
        let link = match field.kind {
            Kind::Link(link) => by.links && link.holds,
            // Each file hangs on one record.
            Kind::Files => false,
            _ => true,
        };
        let empties = by.empties.contains(&field.id);
        link && !empties
            && !field.unique
            && field.kind.takes_input()
            && self.lens.adds_with(table, field.id)
            && self.lens.shows(table, record, field.id)
    }
}
