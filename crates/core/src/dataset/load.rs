//! Building a dataset from what the store kept.

use super::{Dataset, Meta, Moved, SetAside};
use crate::{
    form::Arrival,
    history::Change,
    id::{FieldId, RecordId, TableId},
    part::Part,
    schema::Kind,
    talk::Comment,
    value::{Value, plus_days},
    view::{OrderOf, Rank},
};
use jiff::{SignedDuration, Timestamp, civil::Date};
use std::sync::Arc;

/// A record as the store keeps it. Computed sides of links are not kept.
#[derive(Clone, Debug)]
pub struct LoadedRecord {
    pub table: TableId,
    pub record: RecordId,
    pub meta: Meta,
    pub cells: Vec<(FieldId, Value)>,
    pub arrival: Option<Arrival>,
    /// When fields by which it is moved along were last changed.
    pub moved: Vec<Moved>,
}

impl Dataset {
    /// Puts a part in, as it was kept.
    pub fn load_part(&mut self, part: &Part) {
        self.put(None, Some(part));
    }

    /// Puts a counter in, as it was kept.
    pub fn load_counter(&mut self, field: FieldId, period: String, last: u64) {
        Arc::make_mut(&mut self.counters).insert((field, period), last);
    }

    /// Puts a rank in, as it was kept.
    pub fn load_place(&mut self, of: OrderOf, record: RecordId, rank: Rank) {
        Arc::make_mut(self.orders.entry(of).or_default()).set(record, Some(rank));
    }

    /// Notes a record that was emptied out of the bin.
    pub fn load_emptied(&mut self, table: TableId, record: RecordId) {
        let shelved = self.tables.get_mut(&table).or_else(|| self.binned.get_mut(&table));
        if let Some(table) = shelved.map(Arc::make_mut) {
            Arc::make_mut(&mut table.emptied).grow_and_insert(record.row());
        }
    }

    /// Puts in what was said about a record, as it was kept.
    pub fn load_comment(&mut self, table: TableId, record: RecordId, comment: Comment) {
        let shelved = self.tables.get_mut(&table).or_else(|| self.binned.get_mut(&table));
        if let Some(table) = shelved.map(Arc::make_mut) {
            table.talk.set(record, comment.id, Some(comment));
        }
    }

    /// Puts records in, each as it was kept, over what was there.
    pub fn load_records(&mut self, records: impl IntoIterator<Item = LoadedRecord>) {
        for loaded in records {
            let shelved = self.tables.get_mut(&loaded.table).or_else(|| self.binned.get_mut(&loaded.table));
            let Some(table) = shelved.map(Arc::make_mut) else { continue };
            let row = loaded.record.row();
            if table.meta(loaded.record).is_some() {
                table.columns.values_mut().for_each(|column| Arc::make_mut(column).set(row, &Value::Empty));
            }
            Arc::make_mut(&mut table.meta).set(row, Some(loaded.meta));
            if loaded.arrival.is_some() || table.arrivals.get(row).is_some_and(Option::is_some) {
                Arc::make_mut(&mut table.arrivals).set(row, loaded.arrival.map(Arc::new));
            }
            table.set_moved(loaded.record, loaded.moved);
            for (field, value) in &loaded.cells {
                if let Some(column) = table.columns.get_mut(field) {
                    Arc::make_mut(column).set(row, value);
                }
            }
        }
    }

    /// Puts in what the log alone keeps: the operations of a change on many records at once. Before it must come the records
    /// as they were kept until then, and after it those that were kept later.
    pub fn load_change(&mut self, change: &Change) {
        self.reload(change);
    }

    /// Notes a part that can't be read.
    pub fn load_set_aside(&mut self, part: SetAside) {
        self.next_id = self.next_id.max(part.number.saturating_add(1));
        Arc::make_mut(&mut self.set_aside).push(part);
    }

    /// Parts that can't be read.
    pub fn set_aside(&self) -> &[SetAside] {
        &self.set_aside
    }

    /// Puts in to which day the tracker was last turned.
    pub fn load_turned(&mut self, day: Date) {
        self.turned = Some(day);
    }

    /// When everything is in: both sides of every link stand, and everything is computed as of now; or, where the tracker was
    /// not turned to this day yet, as of the end of the day to which it was.
    pub fn loaded(&mut self, now: Timestamp) {
        let end = self.turned.and_then(|day| plus_days(day, 1)?.to_zoned(self.zone.clone()).ok());
        let end = end.and_then(|midnight| midnight.timestamp().checked_sub(SignedDuration::from_micros(1)).ok());
        let now = end.map_or(now, |end| end.min(now));
        for table in self.tables.values_mut().chain(self.binned.values_mut()).map(Arc::make_mut) {
            table.live = table.records().count();
            table.index_unique();
        }
        self.rebuild_back_links();
        self.compute_all(now);
    }

    /// The same without a part that holds no records.
    pub(crate) fn unload_part(&mut self, key: (&'static str, u32)) {
        self.parts.take(key);
    }

    /// A record as it should be kept: the values of fields that hold them.
    pub fn record_to_keep(&self, table: TableId, record: RecordId) -> Option<LoadedRecord> {
        let home = self.any_table(table)?;
        let meta = *home.meta(record)?;
        let computed = |field: &FieldId| home.def.field(*field).is_some_and(|f| f.kind.is_computed());
        let binned = |field: &FieldId| home.def.binned.iter().find(|b| b.field.id == *field).map(|b| &b.field.kind);
        let kept = |kind: &Kind| !kind.is_computed() && !matches!(kind, Kind::Link(link) if !link.holds);
        let holds = |field: &FieldId| match binned(field) {
            Some(kind) => kept(kind),
            None => home.link(*field).is_none_or(|link| link.holds) && !computed(field),
        };
        let mut cells: Vec<_> = home
            .columns
            .iter()
            .filter(|(field, _)| holds(field))
            .map(|(field, column)| (*field, column.cell(record.row()).to_value()))
            .filter(|(_, value)| *value != Value::Empty)
            .collect();
        cells.sort_by_key(|(field, _)| *field);
        Some(LoadedRecord {
            table,
            record,
            meta,
            cells,
            arrival: self.arrival(table, record).cloned(),
            moved: self.moves_of(table, record),
        })
    }
}
