//! Since when a record has stood where it stands: when a field by which records are moved along was last changed.

use super::{Dataset, Table};
use crate::{
    Clock,
    access::{Extent, Lens},
    condition::days_between,
    history::Change,
    id::{FieldId, RecordId, TableId},
    schema::Kind,
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// Most moments that are kept of a field of a record.
const MOST_MOVES: usize = 8;

/// When a field of a record was changed, after the record was made.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Moved {
    pub field: FieldId,
    /// The last few moments, the last one last: taking a change back goes back to the one before.
    pub at: Vec<Timestamp>,
}

impl Table {
    /// Notes that a cell was changed, where records are moved along by such a field. Of a record as it is made nothing is
    /// noted: it has stood there since.
    pub(super) fn note_moved(&mut self, record: RecordId, field: FieldId, change: &Change) {
        let moves = self.def.field(field).is_some_and(|def| moves_records(&def.kind));
        if !moves || self.meta(record).is_none_or(|meta| meta.created_at == change.at) {
            return;
        }
        let mut all = self.moved(record).to_vec();
        let known = all.iter().position(|moved| moved.field == field).map(|at| all.swap_remove(at));
        let mut at = known.map_or_else(Vec::new, |moved| moved.at);
        if change.undoes.is_some() && !change.again {
            at.pop();
        } else {
            at.push(change.at);
            at.drain(..at.len().saturating_sub(MOST_MOVES));
        }
        if !at.is_empty() {
            all.push(Moved { field, at });
        }
        self.set_moved(record, all);
    }

    pub(super) fn set_moved(&mut self, record: RecordId, all: Vec<Moved>) {
        if !all.is_empty() || !self.moved(record).is_empty() {
            let all = Some(all).filter(|all| !all.is_empty()).map(Arc::from);
            Arc::make_mut(&mut self.moved).set(record.row(), all);
        }
    }

    pub(super) fn moved(&self, record: RecordId) -> &[Moved] {
        self.moved.get(record.row()).and_then(Option::as_deref).unwrap_or_default()
    }
}

/// Whether records are moved along by such a field: each has one value of it.
pub(crate) fn moves_records(kind: &Kind) -> bool {
    match kind {
        Kind::Link(link) => link.one && link.holds,
        other => matches!(other, Kind::Choice { .. } | Kind::Person | Kind::YesNo | Kind::Rating { .. }),
    }
}

/// Since when the records of a table have stood where a field puts them, as far as the asker may know.
pub struct Standing<'a> {
    table: &'a Table,
    field: FieldId,
    /// Where the field, and when records were made and changed, is open to the asker.
    open: Vec<Extent>,
    clock: &'a Clock,
}

impl Standing<'_> {
    /// How many midnights of the tracker it is since then.
    pub fn days(&self, row: usize) -> Option<u32> {
        let since = self.since(row)?.to_zoned(self.clock.zone.clone()).date();
        u32::try_from(days_between(since, self.clock.today())).ok()
    }

    /// Since when a record has stood there.
    pub fn since(&self, row: usize) -> Option<Timestamp> {
        if !self.open.iter().all(|extent| extent.holds(row)) {
            return None;
        }
        let record = RecordId::at_row(row);
        let moved = self.table.moved(record).iter().find(|moved| moved.field == self.field);
        moved.and_then(|moved| moved.at.last().copied()).or_else(|| Some(self.table.meta(record)?.created_at))
    }
}

impl<'a> Lens<'a> {
    /// Since when records have stood where a field puts them; nothing where the field is computed, or where the asker may not
    /// know when records were made and changed.
    pub fn standing(&self, table: TableId, field: FieldId) -> Option<Standing<'a>> {
        let home = self.dataset().table(table)?;
        let moments = home.def.fields.iter().filter(|def| matches!(def.kind, Kind::CreatedAt | Kind::ChangedAt));
        home.def.field(field).filter(|def| moves_records(&def.kind))?;
        let open = moments.map(|def| def.id).chain([field]).map(|id| self.shown(table, id)).collect();
        Some(Standing { table: home, field, open, clock: self.clock() })
    }
}

impl Dataset {
    /// What is kept of a record's moves.
    pub(super) fn moves_of(&self, table: TableId, record: RecordId) -> Vec<Moved> {
        self.any_table(table).map(|home| home.moved(record).to_vec()).unwrap_or_default()
    }
}
