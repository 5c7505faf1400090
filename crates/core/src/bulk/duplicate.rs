//! Records made again: as they are, or for the next period by a recipe of their table.

use super::{BulkExample, BulkRehearsal, refused_of};
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    history::Op,
    id::{FieldId, RecordId, TableId},
    intent::Intent,
    schema::Recipe,
    sentence::capital,
    value::list_text,
};

/// Most records that are made again at once.
pub const MOST_AGAIN: usize = 2_000;

/// Records that are to be made again.
#[derive(Clone, Debug)]
pub struct Duplicate {
    pub table: TableId,
    /// In their order; each is made again once.
    pub records: Vec<RecordId>,
    pub by: Recipe,
}

impl Duplicate {
    /// What it would make, decided and thrown away.
    pub fn rehearse(&self, ds: &Dataset, asker: Asker, clock: &Clock) -> BulkRehearsal {
        let before = Lens::new(ds, asker, clock);
        let mut told = BulkRehearsal { count: self.records.len(), ..BulkRehearsal::default() };
        let decision = match ds.decide(&Intent::Duplicate(Box::new(self.clone())), asker, clock) {
            Ok(decision) => decision,
            Err(faults) => {
                refused_of(&mut told, &before, self.table, &self.records, &faults);
                return told;
            }
        };
        let mut after = ds.clone();
        after.apply(&decision.change);
        let now = Lens::new(&after, asker, clock);
        told.changed = decision.added.len();
        told.says = self.says(&now, &decision.change.ops, decision.added.len());
        told.examples = self.examples(&before, &now, &decision.added);
        told
    }

    fn says(&self, now: &Lens<'_>, ops: &[Op], added: usize) -> Vec<String> {
        let counted = |table: TableId, count: usize| now.ds.table(table).map(|home| home.def.counted(count, now.clock().customs()));
        let made = |op: &Op| if let Op::Add { table, .. } = op { Some(*table) } else { None };
        let mut others: Vec<(TableId, usize)> = Vec::new();
        for table in ops.iter().filter_map(made).filter(|table| *table != self.table) {
            match others.iter_mut().find(|(known, _)| *known == table) {
                Some((_, count)) => *count = count.saturating_add(1),
                None => others.push((table, 1)),
            }
        }
        let verb = if added == 1 { "is" } else { "are" };
        let what = counted(self.table, added).unwrap_or_default();
        let lines: Vec<String> = others.into_iter().filter_map(|(table, count)| counted(table, count)).collect();
        let with = if lines.is_empty() { String::new() } else { format!(", with {}", list_text(&lines, "and")) };
        vec![capital(&format!("{what} {verb} added{with}."))]
    }

    /// Of the first few, what the recipe makes otherwise.
    fn examples(&self, before: &Lens<'_>, now: &Lens<'_>, added: &[RecordId]) -> Vec<BulkExample> {
        let otherwise: Vec<FieldId> = self.by.moves.iter().map(|one| one.field).chain(self.by.empties.iter().copied()).collect();
        let mut told = Vec::new();
        for (from, to) in self.records.iter().zip(added) {
            for field in &otherwise {
                let Some(def) = now.ds.table(self.table).and_then(|home| home.def.field(*field)) else { continue };
                if before.shows(self.table, *from, *field) && now.shows(self.table, *to, *field) {
                    told.push(BulkExample {
                        record: *from,
                        name: before.record_name(self.table, *from).map(|found| found.name).unwrap_or_default(),
                        field: def.name.clone(),
                        before: before.text_at(self.table, *from, *field),
                        after: now.text_at(self.table, *to, *field),
                    });
                }
            }
            if told.len() >= super::rehearsal::TOLD {
                break;
            }
        }
        told.truncate(super::rehearsal::TOLD);
        told
    }
}
