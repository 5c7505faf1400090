//! A tracker in memory: an immutable snapshot. A copy shares every chunk that has not changed, so that taking one
//! costs almost nothing and readers never wait for writers.

mod apply;
mod came;
mod column;
mod compute;
mod findable;
mod graph;
mod guard;
mod load;
mod moved;
mod read;
mod said;
mod step;
mod summary;
mod texts;
mod unique;

pub use column::{Chunked, Column};
pub(crate) use compute::fitted;
pub use compute::{CellAt, Recomputed};
pub use load::LoadedRecord;
pub(crate) use moved::moves_records;
pub use moved::{Moved, Standing};
pub use read::Reader;
pub(crate) use step::Sight;
pub use texts::RecordName;
pub(crate) use unique::same;

use crate::{
    access::Role,
    automation::Came,
    form::Arrival,
    id::{AutomationId, FieldId, RecordId, TableId, TrackerId},
    part::{Part, Parts, Sort},
    people::{Actor, People},
    schema::{FieldDef, Kind, Link, TableDef, TrackerDef},
    talk::Talk,
    view::{OrderOf, OwnOrder},
};
use fixedbitset::FixedBitSet;
use jiff::{Timestamp, civil::Date, tz::TimeZone};
use std::{
    collections::{BTreeMap, HashMap},
    sync::Arc,
};

/// One tracker, whole.
#[derive(Clone, Debug)]
pub struct Dataset {
    pub tracker: Arc<TrackerDef>,
    /// How many changes made it what it is.
    pub seq: u64,
    pub people: Arc<People>,
    /// Which of the team's trackers it is; nothing: none of them, as a template is.
    id: Option<TrackerId>,
    /// What the area in which it lies gives, beside its own roles.
    area_roles: Arc<[Role]>,
    tables: BTreeMap<TableId, Arc<Table>>,
    /// Tables in the bin, with their records.
    binned: BTreeMap<TableId, Arc<Table>>,
    /// The parts that hold no records: views, forms, roles and the like.
    parts: Parts,
    /// The last number given out, by numbering field and period.
    counters: Arc<BTreeMap<(FieldId, String), u64>>,
    /// Where records stand in orders by hand.
    orders: BTreeMap<OrderOf, Arc<OwnOrder>>,
    /// How far the times of automations have come.
    came: Arc<BTreeMap<AutomationId, Came>>,
    /// The next number for a part of the tracker.
    next_id: u32,
    graph: Arc<graph::Graph>,
    /// Parts that were kept and can't be read: set aside, so that the rest can be worked with.
    set_aside: Arc<Vec<SetAside>>,
    /// As of when the computed cells were computed.
    moment: Timestamp,
    /// The day to which it was last turned by a change.
    turned: Option<Date>,
    /// The tracker's, looked up once.
    zone: TimeZone,
}

/// A part that was kept and can't be read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SetAside {
    /// Its sort, as it is kept: *table*, *view*.
    pub sort: String,
    pub number: u32,
    /// Why, in words for whoever runs the server.
    pub why: String,
}

/// One table with its records, as columns.
#[derive(Clone, Debug)]
pub struct Table {
    pub def: Arc<TableDef>,
    columns: HashMap<FieldId, Arc<Column>>,
    meta: Arc<Chunked<Option<Meta>>>,
    /// How records came that did not come by somebody's hand.
    arrivals: Arc<Chunked<Option<Arc<Arrival>>>>,
    /// When records were moved along, after they were made.
    moved: Arc<Chunked<Option<Arc<[Moved]>>>>,
    /// What people said about records.
    pub(crate) talk: Talk,
    /// The records that were emptied out of the bin.
    emptied: Arc<FixedBitSet>,
    live: usize,
    /// Of fields that hold each value once.
    unique: BTreeMap<FieldId, unique::Index>,
}

/// What every record has.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Meta {
    pub created_at: Timestamp,
    pub created_by: Actor,
    pub changed_at: Timestamp,
    pub changed_by: Actor,
    /// Goes up by one with every change of the record.
    pub version: u32,
    /// In the bin.
    pub gone: bool,
}

impl Dataset {
    /// A tracker with nothing in it.
    pub fn empty(tracker: TrackerDef, people: Arc<People>) -> Self {
        Self {
            seq: 0,
            people,
            id: None,
            area_roles: Arc::default(),
            tables: BTreeMap::new(),
            binned: BTreeMap::new(),
            parts: Parts::default(),
            counters: Arc::default(),
            orders: BTreeMap::new(),
            came: Arc::default(),
            next_id: 1,
            graph: Arc::default(),
            moment: Timestamp::MIN,
            turned: None,
            set_aside: Arc::default(),
            zone: TimeZone::get(&tracker.zone).unwrap_or(TimeZone::UTC),
            tracker: Arc::new(tracker),
        }
    }

    /// What the area in which it lies gives, as roles.
    pub fn area_roles(&self) -> &[Role] {
        &self.area_roles
    }

    /// A table that is not in the bin.
    pub fn table(&self, id: TableId) -> Option<&Table> {
        self.tables.get(&id).map(|t| &**t)
    }

    /// The tables that are not in the bin, by their numbers.
    pub fn tables(&self) -> impl Iterator<Item = &Table> {
        self.tables.values().map(|t| &**t)
    }

    /// How many records it holds, those in the bin included: what work over all of it costs.
    pub fn size(&self) -> usize {
        self.tables().chain(self.binned_tables()).map(Table::rows).sum()
    }

    /// Tables in the bin.
    pub fn binned_tables(&self) -> impl Iterator<Item = &Table> {
        self.binned.values().map(|t| &**t)
    }

    /// How a record came, where it came by a form or from outside.
    pub(crate) fn arrival(&self, table: TableId, record: RecordId) -> Option<&Arrival> {
        self.any_table(table)?.arrivals.get(record.row())?.as_deref()
    }

    /// A table, in the bin or not.
    pub fn any_table(&self, id: TableId) -> Option<&Table> {
        self.table(id).or_else(|| self.binned.get(&id).map(|t| &**t))
    }

    /// The table that has this field, and the field.
    pub fn field(&self, id: FieldId) -> Option<(&Table, &FieldDef)> {
        self.tables().find_map(|table| Some((table, table.def.field(id)?)))
    }

    /// A part that holds no records.
    pub(crate) fn part<P: Sort>(&self, number: u32) -> Option<&P> {
        self.parts.get(number)
    }

    /// The parts of one sort that hold no records.
    pub(crate) fn parts_of<'a, P: Sort + 'a>(&'a self) -> impl Iterator<Item = &'a P> {
        self.parts.all()
    }

    /// The part of this sort and number, if it is one that holds no records.
    pub fn part_at(&self, sort: &str, number: u32) -> Option<Part> {
        self.parts.at((sort, number)).cloned()
    }

    /// The part that now has this part's sort and number.
    pub fn current(&self, part: &Part) -> Option<Part> {
        match part {
            Part::Tracker(_) => Some(Part::Tracker((*self.tracker).clone())),
            Part::Table(def) => self.any_table(def.id).map(|table| Part::Table((*table.def).clone())),
            part => self.parts.at(part.key()).cloned(),
        }
    }

    /// Every part, the tracker first, then tables.
    pub fn parts(&self) -> Vec<Part> {
        let tables = self.tables().chain(self.binned_tables()).map(|table| Part::Table((*table.def).clone()));
        std::iter::once(Part::Tracker((*self.tracker).clone())).chain(tables).chain(self.parts.iter().cloned()).collect()
    }

    /// Where records stand in an order by hand, as far as anybody placed them.
    pub(crate) fn order_of(&self, of: OrderOf) -> Option<&OwnOrder> {
        self.orders.get(&of).map(|order| &**order)
    }

    /// The last number given out by a numbering field in a period.
    pub fn counter(&self, field: FieldId, period: &str) -> u64 {
        self.counters.get(&(field, period.to_owned())).copied().unwrap_or(0)
    }

    /// Every counter: its field, its period, the last number given out.
    pub fn counters(&self) -> impl Iterator<Item = (FieldId, &str, u64)> {
        self.counters.iter().map(|((field, period), last)| (*field, period.as_str(), *last))
    }

    /// A number that no part of this tracker has.
    pub fn next_id(&self) -> u32 {
        self.next_id
    }
}

impl Table {
    fn new(def: Arc<TableDef>) -> Self {
        let fields = def.fields.iter().chain(def.binned.iter().map(|b| &b.field));
        let columns = fields.filter_map(|f| Some((f.id, Arc::new(Column::for_kind(&f.kind)?)))).collect();
        Self {
            def,
            columns,
            meta: Arc::default(),
            arrivals: Arc::default(),
            moved: Arc::default(),
            talk: Talk::default(),
            emptied: Arc::default(),
            live: 0,
            unique: BTreeMap::new(),
        }
        .indexed()
    }

    fn indexed(mut self) -> Self {
        self.index_unique();
        self
    }

    /// How many rows the columns have, records in the bin included.
    pub(crate) fn rows(&self) -> usize {
        self.meta.len()
    }

    /// How many records are not in the bin.
    pub(crate) fn live(&self) -> usize {
        self.live
    }

    pub(crate) fn meta(&self, record: RecordId) -> Option<&Meta> {
        self.meta.get(record.row())?.as_ref()
    }

    /// Whether the record exists and is not in the bin.
    pub(crate) fn is_live(&self, record: RecordId) -> bool {
        self.meta(record).is_some_and(|m| !m.gone)
    }

    /// All records that are not in the bin.
    pub(crate) fn records(&self) -> impl Iterator<Item = RecordId> {
        (0..self.rows()).map(RecordId::at_row).filter(|r| self.is_live(*r))
    }

    /// The records of which it is kept how they came.
    pub(crate) fn arrivals(&self) -> impl Iterator<Item = (RecordId, &Arrival)> {
        let rows = (0..self.arrivals.len()).map(RecordId::at_row);
        rows.filter_map(|record| Some((record, self.arrivals.get(record.row())?.as_deref()?)))
    }

    /// Cells as they are. Outside core they are read through a lens, or as records to be kept.
    pub(crate) fn column(&self, field: FieldId) -> Option<&Column> {
        self.columns.get(&field).map(|c| &**c)
    }

    /// The link that this field is, if it is one.
    pub fn link(&self, field: FieldId) -> Option<Link> {
        match self.def.field(field)?.kind {
            Kind::Link(link) => Some(link),
            _ => None,
        }
    }
}
