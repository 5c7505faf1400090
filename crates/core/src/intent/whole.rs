//! A new record with its lines, as one step: all of it or nothing.

use super::{Breach, Decider, answer::link_lines};
use crate::{
    dataset::Table,
    fault::{Checked, Fault, FaultKind, Faults},
    history::Op,
    id::{FieldId, RecordId, TableId},
    schema::Link,
    value::Input,
};
use std::collections::BTreeMap;

/// Most lines that a new record begins with.
pub const MOST_NEW_LINES: usize = 500;

/// A new record, and the lines that stand under it.
#[derive(Clone, Debug, PartialEq)]
pub struct NewRecord {
    pub table: TableId,
    pub cells: Vec<(FieldId, Input)>,
    pub lines: Vec<NewLine>,
}

/// A line of a new record.
#[derive(Clone, Debug, PartialEq)]
pub struct NewLine {
    /// The link of the record that it stands under.
    pub under: FieldId,
    pub cells: Vec<(FieldId, Input)>,
}

/// Where each line will stand, by their places among all.
pub(super) type LinesAt = Vec<(TableId, RecordId)>;

impl Decider<'_> {
    pub(super) fn add_whole(&self, new: &NewRecord) -> Checked<Vec<Op>> {
        let mut ops = self.add(new.table, std::slice::from_ref(&new.cells))?;
        let home = self.ds.table(new.table).ok_or_else(|| Fault::not_found("table"))?;
        let at = self.lines_at(new)?;
        let mut by_table: BTreeMap<TableId, Vec<usize>> = BTreeMap::new();
        at.iter().enumerate().for_each(|(place, (table, _))| by_table.entry(*table).or_default().push(place));
        for (table, places) in by_table {
            let cells: Vec<_> = places.iter().map(|place| new.lines[*place].cells.clone()).collect();
            ops.extend(self.add(table, &cells).map_err(|faults| in_lines(faults, &places))?);
        }
        let mut under: BTreeMap<FieldId, Vec<RecordId>> = BTreeMap::new();
        new.lines.iter().zip(&at).for_each(|(line, (_, record))| under.entry(line.under).or_default().push(*record));
        for (field, lines) in under {
            let link = self.link_of_lines(home, field)?;
            ops.extend(link_lines(new.table, RecordId::at_row(home.rows()), field, link, lines));
        }
        Ok(ops)
    }

    /// Where the lines of a new record will stand.
    pub(super) fn lines_at(&self, new: &NewRecord) -> Checked<LinesAt> {
        if new.lines.is_empty() {
            return Ok(Vec::new());
        }
        if new.lines.len() > MOST_NEW_LINES {
            let message = format!("A new record begins with at most {MOST_NEW_LINES} lines. Add the others once it is there.");
            return Err(Fault::new(FaultKind::TooLong, message).at("/lines").into());
        }
        let home = self.ds.table(new.table).ok_or_else(|| Fault::not_found("table"))?;
        let mut taken: BTreeMap<TableId, usize> = BTreeMap::new();
        let mut at = Vec::with_capacity(new.lines.len());
        for line in &new.lines {
            let to = self.link_of_lines(home, line.under)?.to;
            let rows = self.ds.table(to).map_or(0, Table::rows);
            let place = taken.entry(to).or_default();
            at.push((to, RecordId::at_row(rows.saturating_add(*place))));
            *place += 1;
        }
        Ok(at)
    }

    /// The link that lines of a new record stand under: one that offers them, to another table, and that whoever adds may set.
    pub(super) fn link_of_lines(&self, home: &Table, field: FieldId) -> Result<Link, Fault> {
        let offers = home.def.field(field).is_some_and(|def| def.offers.lines);
        let link = home.link(field).filter(|link| offers && link.to != home.def.id && self.lens.opens(link.to));
        let link = link.ok_or_else(|| Fault::not_found("field"))?;
        let (holder, held) = if link.holds { (home.def.id, field) } else { (link.to, link.back) };
        if self.lens.adds_with(holder, held) {
            return Ok(link);
        }
        let many = self.ds.table(link.to).map(|lines| lines.def.many()).unwrap_or_default();
        Err(Fault::new(FaultKind::NotAllowed, format!("You can’t add {many}. Ask the tracker’s steward.")))
    }

    /// Where in a new record a value stands that may not land.
    pub(super) fn pointer_in_new(&self, new: &NewRecord, breach: &Breach) -> String {
        let lines = self.lines_at(new).unwrap_or_default();
        match lines.iter().position(|at| *at == (breach.table, breach.record)) {
            Some(place) => format!("/lines/{place}/{}", breach.field),
            None => format!("/records/0/{}", breach.field),
        }
    }
}

/// What is wrong with the lines of one table, at their places among all.
fn in_lines(Faults(faults): Faults, places: &[usize]) -> Faults {
    let told = |mut fault: Fault| {
        let mut parts = fault.pointer.trim_start_matches("/records/").splitn(2, '/');
        let place = parts.next().and_then(|place| place.parse::<usize>().ok()).and_then(|place| places.get(place));
        let at = place.map_or_else(|| "/lines".to_owned(), |place| format!("/lines/{place}/{}", parts.next().unwrap_or_default()));
        fault.pointer = at;
        fault
    };
    Faults(faults.into_iter().map(told).collect())
}
