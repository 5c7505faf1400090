//! What making two records one would do: decided, looked at and thrown away.

use super::{Merge, MergeLine, MergeRehearsal};
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    fault::Fault,
    history::Op,
    id::{RecordId, TableId},
    intent::Intent,
    schema::{FieldDef, Kind},
    sentence::capital,
};
use std::collections::BTreeMap;

impl Merge {
    /// What it would do, decided and thrown away.
    ///
    /// # Errors
    /// One of them is not there for the asker.
    pub fn rehearse(&self, ds: &Dataset, asker: Asker, clock: &Clock) -> Result<MergeRehearsal, Fault> {
        let lens = Lens::new(ds, asker, clock);
        let unknown = || Fault::not_found("record");
        let home = ds.table(self.table).filter(|_| lens.sees(self.table, self.keep) && lens.sees(self.table, self.other));
        let home = home.ok_or_else(unknown)?;
        let mut told = MergeRehearsal::default();
        let decided = ds.decide(&Intent::Merge(Box::new(self.clone())), asker, clock);
        let mut after = ds.clone();
        match &decided {
            Ok(decision) => drop(after.apply(&decision.change)),
            Err(faults) => told.wrong = faults.0.first().map(|fault| fault.message.clone()),
        }
        let now = Lens::new(&after, asker, clock);
        let line = |field: &FieldDef| {
            let shows = |record: RecordId| lens.shows(self.table, record, field.id);
            if !shows(self.keep) || !shows(self.other) {
                return None;
            }
            let (keep, other) = (lens.text_at(self.table, self.keep, field.id), lens.text_at(self.table, self.other, field.id));
            let joined = matches!(field.kind, Kind::Link(link) if !link.one) || matches!(field.kind, Kind::Files);
            let choose = keep != other && field.kind.takes_input() && !joined && lens.changes(self.table, self.keep, field.id);
            let then = now.text_at(self.table, self.keep, field.id);
            let said = !keep.is_empty() || !other.is_empty();
            said.then(|| MergeLine { field: field.id, name: field.name.clone(), keep, other, then, choose })
        };
        told.lines = home.def.fields.iter().filter_map(line).collect();
        told.lines.sort_by_key(|line| (!line.choose, line.keep == line.other));
        if let Ok(decision) = &decided {
            told.says = self.says(&lens, &decision.change.ops);
        }
        Ok(told)
    }

    fn says(&self, lens: &Lens<'_>, ops: &[Op]) -> Vec<String> {
        let name = |record| lens.record_name(self.table, record).map(|found| found.name).unwrap_or_default();
        let mut says = vec![format!("“{}” goes to the bin; “{}” stays.", name(self.other), name(self.keep))];
        // Told of what the asker sees; the rest follows too.
        let mut linked: BTreeMap<TableId, usize> = BTreeMap::new();
        for op in ops {
            let Op::Cell { table, record, .. } = op else { continue };
            if (*table, *record) != (self.table, self.keep) && lens.sees(*table, *record) {
                let count = linked.entry(*table).or_default();
                *count = count.saturating_add(1);
            }
        }
        for (table, count) in linked {
            if let Some(home) = lens.dataset().table(table) {
                let verb = if count == 1 { "follows" } else { "follow" };
                says.push(format!("{} that linked to it {verb}.", capital(&home.def.counted(count, lens.clock().customs()))));
            }
        }
        if lens.hears_of(self.table) && ops.iter().any(|op| matches!(op, Op::Say { .. })) {
            says.push("What was said of it is said of the other, too.".to_owned());
        }
        says
    }
}
