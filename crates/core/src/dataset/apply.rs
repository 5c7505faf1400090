//! Applying a change: the only place where a dataset moves.

use super::{CellAt, Column, Dataset, Meta, Recomputed, Table};
use crate::{
    history::{Change, Op, Rows, Stamp, run},
    id::{FieldId, RecordId, TableId},
    part::Part,
    schema::{FieldDef, Kind, TableDef},
    value::Value,
};
use jiff::tz::TimeZone;
use std::{collections::BTreeMap, sync::Arc};

/// What a change touched, for the computed cells that follow from it.
#[derive(Default)]
struct Reached {
    cells: Vec<CellAt>,
    added: Vec<(TableId, RecordId)>,
    structure: bool,
    /// What moves on the computed sides of links, by the cell there: done at once at the end, since many records of one
    /// change may be linked to one.
    backs: BTreeMap<CellAt, BTreeMap<RecordId, bool>>,
}

impl Dataset {
    /// Makes this the state after the change, and gives the computed cells that moved with it. Ops are trusted: the
    /// intent's check made them, or the log kept them.
    pub fn apply(&mut self, change: &Change) -> Recomputed {
        self.seq = change.seq;
        let mut recomputed = self.turn_to(change.at);
        let mut reached = Reached::default();
        change.ops.iter().for_each(|op| self.apply_op(op, change, &mut reached));
        for ((table, back, target), moved) in &reached.backs {
            if let Some(column) = self.table_mut(*table).and_then(|t| t.columns.get_mut(back)) {
                Arc::make_mut(column).set_back(target.row(), moved);
            }
        }
        for (id, record) in change.touched() {
            if let Some(table) = self.table_mut(id) {
                table.touch(record, change);
                let changes = |f: &&FieldDef| matches!(f.kind, Kind::ChangedAt | Kind::ChangedBy);
                reached.cells.extend(table.def.fields.iter().filter(changes).map(|f| (id, f.id, record)));
            }
        }
        let further = if reached.structure { self.compute_all(change.at) } else { self.compute_reached(&reached.cells, &reached.added) };
        recomputed.cells.extend(further.cells);
        recomputed.computed += further.computed;
        recomputed
    }

    /// What a change did to records, without anything that follows from it: see [`Dataset::loaded`].
    pub(super) fn reload(&mut self, change: &Change) {
        let mut unused = Reached::default();
        change.ops.iter().for_each(|op| self.apply_op(op, change, &mut unused));
        for (table, record) in change.touched() {
            if let Some(table) = self.table_mut(table) {
                table.touch(record, change);
            }
        }
    }

    fn table_mut(&mut self, id: TableId) -> Option<&mut Table> {
        self.tables.get_mut(&id).or_else(|| self.binned.get_mut(&id)).map(Arc::make_mut)
    }

    fn apply_op(&mut self, op: &Op, change: &Change, reached: &mut Reached) {
        match op {
            Op::Add { table, record } => {
                reached.added.push((*table, *record));
                if let Some(table) = self.table_mut(*table) {
                    let who = change.who;
                    table.add(*record, Stamp { created_at: change.at, created_by: who, changed_at: change.at, changed_by: who }, 0);
                }
            }
            Op::Gone { table, record, gone } => {
                self.reach_linked(*table, *record, reached);
                if let Some(table) = self.table_mut(*table) {
                    table.set_gone(*record, *gone);
                }
            }
            Op::Cell { table, record, field, before, after } => {
                self.set_cell(*table, *record, *field, before, after, reached);
                self.note_moved(*table, *record, *field, change);
            }
            Op::Empty { table, record } => self.empty_out(*table, *record, reached),
            Op::Rows(rows) => self.add_rows(rows, change, reached),
            Op::Bin { table, first, count, gone } => {
                for record in run(*first, *count) {
                    self.reach_linked(*table, record, reached);
                    if let Some(table) = self.table_mut(*table) {
                        table.set_gone(record, *gone);
                    }
                }
            }
            Op::Fill { table, field, cells } => {
                for (record, before, after) in cells {
                    self.set_cell(*table, *record, *field, before, after, reached);
                    self.note_moved(*table, *record, *field, change);
                }
            }
            Op::Arrive { table, record, after, .. } => {
                if let Some(table) = self.table_mut(*table) {
                    Arc::make_mut(&mut table.arrivals).set(record.row(), after.as_deref().cloned().map(Arc::new));
                }
            }
            Op::Say { table, record, before, after } => {
                let id = before.as_deref().or(after.as_deref()).map(|comment| comment.id);
                if let (Some(table), Some(id)) = (self.table_mut(*table), id) {
                    table.talk.set(*record, id, after.as_deref().cloned());
                }
            }
            Op::Press { .. } | Op::Reply { .. } => {}
            Op::Go { automation, by, .. } => self.note_came(*automation, *by),
            // What depends on the day was computed when the change's moment was come to.
            Op::Turned { to, .. } => self.turned = Some(*to),
            Op::Count { field, period, after, .. } => {
                Arc::make_mut(&mut self.counters).insert((*field, period.clone()), *after);
            }
            Op::Place { of, places } => {
                let order = Arc::make_mut(self.orders.entry(*of).or_default());
                places.iter().for_each(|(record, _, after)| order.set(*record, after.clone()));
            }
            Op::Put { before, after } => {
                reached.structure |= before.iter().chain(after).any(|part| matches!(&**part, Part::Table(_) | Part::Tracker(_)));
                self.put(before.as_deref(), after.as_deref());
                self.note_switched(before.as_deref(), after.as_deref(), change.at);
            }
        }
    }

    /// Leaves nothing of a record but that it was there.
    fn empty_out(&mut self, table: TableId, record: RecordId, reached: &mut Reached) {
        let Some(home) = self.table(table).or_else(|| self.binned.get(&table).map(|home| &**home)) else { return };
        let held = |field: &&FieldDef| !matches!(field.kind, Kind::Link(link) if !link.holds);
        let stands = |field: &FieldDef| Some((field.id, home.column(field.id)?.cell(record.row()).to_value()));
        let binned = home.def.binned.iter().map(|binned| &binned.field);
        let cells: Vec<_> = home.def.fields.iter().chain(binned).filter(held).filter_map(stands).collect();
        for (field, before) in cells.into_iter().filter(|(_, before)| *before != Value::Empty) {
            self.set_cell(table, record, field, &before, &Value::Empty, reached);
        }
        if let Some(home) = self.table_mut(table) {
            home.talk.forget(record);
            Arc::make_mut(&mut home.arrivals).set(record.row(), None);
            Arc::make_mut(&mut home.emptied).grow_and_insert(record.row());
        }
    }

    fn add_rows(&mut self, rows: &Rows, change: &Change, reached: &mut Reached) {
        let Some(home) = self.table_mut(rows.table) else { return };
        let now = Stamp { created_at: change.at, created_by: change.who, changed_at: change.at, changed_by: change.who };
        for (place, record) in rows.records().enumerate() {
            home.add(record, rows.stamps.get(place).copied().unwrap_or(now), 1);
        }
        for (field, values) in rows.fields.iter().zip(&rows.columns) {
            let link = home.link(*field);
            for (record, value) in rows.records().zip(values).filter(|(_, value)| **value != Value::Empty) {
                home.set(record, *field, value);
                if let (Some(link), Value::Links(targets)) = (link, value) {
                    for target in targets {
                        reached.cells.push((link.to, link.back, *target));
                        reached.backs.entry((link.to, link.back, *target)).or_default().insert(record, true);
                    }
                }
            }
        }
        reached.added.extend(rows.records().map(|record| (rows.table, record)));
    }

    /// A record that comes or goes changes what is linked to it.
    fn reach_linked(&self, table: TableId, record: RecordId, reached: &mut Reached) {
        let Some(home) = self.table(table) else { return };
        for field in &home.def.fields {
            let (Kind::Link(link), Some(column)) = (&field.kind, home.column(field.id)) else { continue };
            reached.cells.extend(column.links(record.row()).iter().map(|target| (link.to, link.back, *target)));
        }
    }

    fn set_cell(&mut self, table: TableId, record: RecordId, field: FieldId, before: &Value, after: &Value, reached: &mut Reached) {
        reached.cells.push((table, field, record));
        let Some(home) = self.table_mut(table) else { return };
        home.set(record, field, after);
        let Some(link) = home.link(field) else { return };
        let list = |value: &Value| match value {
            Value::Links(records) => records.clone(),
            _ => Vec::new(),
        };
        let (old, new) = (list(before), list(after));
        for (target, linked) in
            old.iter().filter(|r| !new.contains(r)).map(|r| (*r, false)).chain(new.iter().filter(|r| !old.contains(r)).map(|r| (*r, true)))
        {
            reached.cells.push((link.to, link.back, target));
            reached.backs.entry((link.to, link.back, target)).or_default().insert(record, linked);
        }
    }

    fn note_moved(&mut self, table: TableId, record: RecordId, field: FieldId, change: &Change) {
        if let Some(home) = self.table_mut(table) {
            home.note_moved(record, field, change);
        }
    }

    pub(super) fn put(&mut self, before: Option<&Part>, after: Option<&Part>) {
        // What is taken away first, so that a part may change into one with another id.
        match before {
            Some(Part::Table(def)) if after.is_none() => {
                self.tables.remove(&def.id);
                self.binned.remove(&def.id);
            }
            Some(Part::Table(_) | Part::Tracker(_)) | None => {}
            Some(part) => self.parts.take(part.key()),
        }
        match after {
            Some(Part::Tracker(def)) => {
                self.zone = TimeZone::get(&def.zone).unwrap_or(TimeZone::UTC);
                self.tracker = Arc::new(def.clone());
            }
            Some(Part::Table(def)) => self.put_table(Arc::new(def.clone())),
            Some(part) => self.parts.put(part.clone()),
            None => {}
        }
        if let Some(part) = after {
            self.next_id = self.next_id.max(part.highest_id() + 1);
        }
    }

    fn put_table(&mut self, def: Arc<TableDef>) {
        let id = def.id;
        let gone = def.gone.is_some();
        let known = self.tables.remove(&id).or_else(|| self.binned.remove(&id));
        let table = match known {
            None => Arc::new(Table::new(def)),
            Some(mut table) => {
                Arc::make_mut(&mut table).redefine(def);
                table
            }
        };
        let shelf = if gone { &mut self.binned } else { &mut self.tables };
        shelf.insert(id, table);
        self.rebuild_back_links();
    }

    /// Computes every computed side of a link from the side that holds it.
    pub(super) fn rebuild_back_links(&mut self) {
        let held: Vec<_> = self
            .tables()
            .flat_map(|table| table.def.fields.iter().map(move |f| (table, f)))
            .filter_map(|(table, f)| match f.kind {
                Kind::Link(link) if link.holds => Some((table.def.id, f.id, link)),
                _ => None,
            })
            .collect();
        for (from, field, link) in held {
            let mut back: std::collections::BTreeMap<usize, Vec<RecordId>> = std::collections::BTreeMap::new();
            let Some(home) = self.table(from) else { continue };
            let Some(column) = home.column(field) else { continue };
            for row in 0..home.rows() {
                for target in column.links(row) {
                    back.entry(target.row()).or_default().push(RecordId::at_row(row));
                }
            }
            let Some(target) = self.table_mut(link.to) else { continue };
            let mut column = Column::Many(super::Chunked::default());
            for (row, records) in back {
                column.set(row, &Value::Links(records));
            }
            if target.columns.contains_key(&link.back) {
                target.columns.insert(link.back, Arc::new(column));
            }
        }
    }
}

impl Table {
    fn add(&mut self, record: RecordId, stamp: Stamp, version: u32) {
        let Stamp { created_at, created_by, changed_at, changed_by } = stamp;
        let meta = Meta { created_at, created_by, changed_at, changed_by, version, gone: false };
        Arc::make_mut(&mut self.meta).set(record.row(), Some(meta));
        self.live += 1;
    }

    /// Puts a value into a cell.
    fn set(&mut self, record: RecordId, field: FieldId, value: &Value) {
        let Some(column) = self.columns.get_mut(&field).map(Arc::make_mut) else { return };
        if let Some(index) = self.unique.get_mut(&field) {
            index.take(record, column.cell(record.row()));
            index.put(record, value.as_cell());
        }
        column.set(record.row(), value);
    }

    fn set_gone(&mut self, record: RecordId, gone: bool) {
        let Some(mut meta) = self.meta(record).copied() else { return };
        if meta.gone != gone {
            meta.gone = gone;
            self.live = if gone { self.live - 1 } else { self.live + 1 };
            Arc::make_mut(&mut self.meta).set(record.row(), Some(meta));
        }
    }

    fn touch(&mut self, record: RecordId, change: &Change) {
        if let Some(mut meta) = self.meta(record).copied() {
            meta.changed_at = change.at;
            meta.changed_by = change.who;
            meta.version += 1;
            Arc::make_mut(&mut self.meta).set(record.row(), Some(meta));
        }
    }

    /// Takes a new definition: columns of fields that stay are kept, and those of a field that is taken away too,
    /// so that bringing it back brings its values back.
    fn redefine(&mut self, def: Arc<TableDef>) {
        for field in &def.fields {
            if let Some(column) = Column::for_kind(&field.kind) {
                let same = self.columns.get(&field.id).is_some_and(|old| std::mem::discriminant(&**old) == std::mem::discriminant(&column));
                if !same {
                    self.columns.insert(field.id, Arc::new(column));
                }
            }
        }
        let unique =
            |def: &TableDef| def.fields.iter().filter(|f| f.unique).map(|f| (f.id, std::mem::discriminant(&f.kind))).collect::<Vec<_>>();
        let moved = unique(&self.def) != unique(&def);
        self.def = def;
        if moved {
            self.index_unique();
        }
    }
}
