//! Changes: what an intent becomes. A list of small operations, each of which can be turned round.

use crate::{
    form::Arrival,
    id::{AutomationId, FieldId, RecordId, TableId},
    part::Part,
    people::Actor,
    talk::Comment,
    value::Value,
    view::{OrderOf, Placed},
};
use jiff::{Timestamp, civil::Date};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// One change, of a tracker or of the team: all of it happened, at one moment, or none of it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Change<O = Op> {
    /// Its number in the log of what it changes, from 1.
    pub seq: u64,
    pub at: Timestamp,
    pub who: Actor,
    /// The change that this one takes back.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub undoes: Option<u64>,
    /// What it takes back had itself taken something back: that is done again.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub again: bool,
    pub ops: Vec<O>,
}

/// A small reversible operation.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Op {
    Add {
        table: TableId,
        record: RecordId,
    },
    /// To the bin, or back from it.
    Gone {
        table: TableId,
        record: RecordId,
        gone: bool,
    },
    /// Always of the side that holds, where the field is a link.
    Cell {
        table: TableId,
        record: RecordId,
        field: FieldId,
        before: Value,
        after: Value,
    },
    /// Out of the bin, for good: nothing of what stood in the record, and was said of it, is left.
    Empty {
        table: TableId,
        record: RecordId,
    },
    /// Many new records at once: what an import brings.
    Rows(Rows),
    /// So many records, numbered on from `first`, to the bin or back.
    Bin {
        table: TableId,
        first: RecordId,
        count: u32,
        gone: bool,
    },
    /// One field of many records: each with what stood there and what stands there now.
    Fill {
        table: TableId,
        field: FieldId,
        cells: Vec<(RecordId, Value, Value)>,
    },
    /// How a record came, or what of it still waits, changed.
    Arrive {
        table: TableId,
        record: RecordId,
        before: Option<Box<Arrival>>,
        after: Option<Box<Arrival>>,
    },
    /// A button was pressed. Changes nothing by itself; what it set going is in the log of its automation.
    Press {
        table: TableId,
        record: RecordId,
        field: FieldId,
    },
    /// A message's reader answered it. Changes nothing by itself; what the answer changes goes along in the same change.
    Reply {
        table: TableId,
        record: RecordId,
        automation: AutomationId,
        /// Which question, as it was kept.
        asked: i64,
        by: String,
        words: String,
    },
    /// An automation comes for some records: its time came, or somebody chose them. Changes nothing by itself, as pressing does.
    Go {
        automation: AutomationId,
        table: TableId,
        records: Vec<RecordId>,
        by: Going,
    },
    /// The tracker's day ended. What is from today is another from here on, and what depends on it was computed anew.
    Turned {
        from: Date,
        to: Date,
    },
    /// A numbering gave out a number. Never taken back: a number is not used twice.
    Count {
        field: FieldId,
        period: String,
        before: u64,
        after: u64,
    },
    /// Something was said about a record, changed, or taken back. No change of the record.
    Say {
        table: TableId,
        record: RecordId,
        before: Option<Box<Comment>>,
        after: Option<Box<Comment>>,
    },
    /// Where records stand in an order by hand: with their ranks before and after. Changes nothing of the records.
    Place {
        #[serde(flatten)]
        of: OrderOf,
        places: Vec<Placed>,
    },
    /// A part of the structure was made, changed or taken away.
    Put {
        before: Option<Box<Part>>,
        after: Option<Box<Part>>,
    },
}

/// Why an automation comes for records.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Going {
    /// Somebody chose them.
    Chosen,
    /// One of its times came; `next`: where it goes on with that time, where it has not come to its end.
    Time { at: Timestamp, next: Option<RecordId> },
    /// A run of it that waited goes on.
    On,
}

/// Many new records, numbered on from `first`, with their values field by field.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Rows {
    pub table: TableId,
    pub first: RecordId,
    pub count: u32,
    pub fields: Vec<FieldId>,
    /// One list for each field, of `count` values.
    pub columns: Vec<Vec<Value>>,
    /// When and by whom each was made and last changed, where that was before; empty: now, by whoever brings them.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub stamps: Vec<Stamp>,
}

impl Rows {
    /// The records.
    pub fn records(&self) -> impl Iterator<Item = RecordId> + use<> {
        run(self.first, self.count)
    }

    /// The same rows as lots of at most so many.
    fn in_lots(mut self, most: usize) -> impl Iterator<Item = Self> {
        let mut begin = self.first.row();
        let end = begin + self.count as usize;
        std::iter::from_fn(move || {
            let size = most.min(end - begin);
            let columns = self.columns.iter_mut().map(|column| take_front(column, size)).collect();
            let stamps = take_front(&mut self.stamps, size);
            let first = RecordId::at_row(begin);
            begin += size;
            let count = u32::try_from(size).unwrap_or(u32::MAX);
            (size > 0).then(|| Rows { table: self.table, first, count, fields: self.fields.clone(), columns, stamps })
        })
    }
}

/// Takes the first so many away, as many as there are.
fn take_front<T>(list: &mut Vec<T>, size: usize) -> Vec<T> {
    let rest = list.split_off(size.min(list.len()));
    std::mem::replace(list, rest)
}

/// When and by whom a record was made and last changed.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Stamp {
    pub created_at: Timestamp,
    pub created_by: Actor,
    pub changed_at: Timestamp,
    pub changed_by: Actor,
}

/// An operation on more records than this is kept in the log alone, and not once more with each record.
const BULK: usize = 256;
/// Most records of one operation: of many, what one of them came by is read without the others.
const LOT: usize = 4_096;

impl Op {
    /// Whether it is of so many records that it is kept as it is.
    pub fn is_bulk(&self) -> bool {
        let count = match self {
            Op::Rows(Rows { count, .. }) | Op::Bin { count, .. } => *count as usize,
            Op::Fill { cells, .. } => cells.len(),
            _ => 1,
        };
        count > BULK
    }

    /// The table, and the first and last record between which all that it touches are.
    pub fn span(&self) -> Option<(TableId, RecordId, RecordId)> {
        match self {
            Op::Rows(Rows { table, first, count, .. }) | Op::Bin { table, first, count, .. } => {
                Some((*table, *first, RecordId::at_row(first.row() + (*count as usize).saturating_sub(1))))
            }
            Op::Fill { table, cells, .. } => {
                let records = || cells.iter().map(|(record, ..)| *record);
                Some((*table, records().min()?, records().max()?))
            }
            single => single.record().map(|(table, record)| (table, record, record)),
        }
    }

    /// The same as operations of at most [`LOT`] records each.
    pub(crate) fn in_lots(self) -> Vec<Op> {
        match self {
            Op::Rows(rows) if rows.count as usize > LOT => rows.in_lots(LOT).map(Op::Rows).collect(),
            Op::Fill { table, field, mut cells } if cells.len() > LOT => {
                let lots = std::iter::from_fn(|| Some(take_front(&mut cells, LOT)).filter(|lot| !lot.is_empty()));
                lots.map(|cells| Op::Fill { table, field, cells }).collect()
            }
            op => vec![op],
        }
    }

    /// The record it touches, where it is one.
    pub fn record(&self) -> Option<(TableId, RecordId)> {
        match self {
            Op::Add { table, record }
            | Op::Gone { table, record, .. }
            | Op::Empty { table, record }
            | Op::Cell { table, record, .. }
            | Op::Arrive { table, record, .. }
            | Op::Say { table, record, .. }
            | Op::Reply { table, record, .. }
            | Op::Press { table, record, .. } => Some((*table, *record)),
            Op::Rows(_)
            | Op::Bin { .. }
            | Op::Fill { .. }
            | Op::Go { .. }
            | Op::Count { .. }
            | Op::Turned { .. }
            | Op::Place { .. }
            | Op::Put { .. } => None,
        }
    }

    /// The table and every record it touches.
    pub fn records(&self) -> Option<(TableId, Vec<RecordId>)> {
        match self {
            Op::Rows(rows) => Some((rows.table, rows.records().collect())),
            Op::Bin { table, first, count, .. } => Some((*table, run(*first, *count).collect())),
            Op::Fill { table, cells, .. } => Some((*table, cells.iter().map(|(record, ..)| *record).collect())),
            single => single.record().map(|(table, record)| (table, vec![record])),
        }
    }

    /// What it does to one record, said one record and one cell at a time.
    pub fn of(&self, table: TableId, record: RecordId) -> Vec<Op> {
        match self {
            Op::Rows(Rows { table: own, first, count, fields, columns, .. }) if *own == table && within(*first, *count, record) => {
                let row = record.row() - first.row();
                let cell = |(field, column): (&FieldId, &Vec<Value>)| {
                    let after = column.get(row).cloned().unwrap_or_default();
                    (after != Value::Empty).then_some(Op::Cell { table, record, field: *field, before: Value::Empty, after })
                };
                let cells = fields.iter().zip(columns).filter_map(cell);
                std::iter::once(Op::Add { table, record }).chain(cells).collect()
            }
            Op::Bin { table: own, first, count, gone } if *own == table && within(*first, *count, record) => {
                vec![Op::Gone { table, record, gone: *gone }]
            }
            Op::Fill { table: own, field, cells } if *own == table => cells
                .iter()
                .filter(|(r, ..)| *r == record)
                .map(|(_, before, after)| Op::Cell { table, record, field: *field, before: before.clone(), after: after.clone() })
                .collect(),
            single if single.record() == Some((table, record)) => vec![single.clone()],
            _ => Vec::new(),
        }
    }

    /// Takes out of it what it did to a record that was emptied out of the bin; false where nothing of it is left.
    pub fn forget(&mut self, table: TableId, record: RecordId) -> bool {
        match self {
            Op::Cell { .. } | Op::Arrive { .. } | Op::Say { .. } | Op::Press { .. } | Op::Reply { .. } => {
                self.record() != Some((table, record))
            }
            Op::Rows(Rows { table: own, first, count, columns, .. }) if *own == table && within(*first, *count, record) => {
                let row = record.row() - first.row();
                columns.iter_mut().filter_map(|column| column.get_mut(row)).for_each(|value| *value = Value::Empty);
                true
            }
            Op::Fill { table: own, cells, .. } if *own == table => {
                cells.retain(|(other, ..)| *other != record);
                !cells.is_empty()
            }
            _ => true,
        }
    }

    /// The operation that takes this one back; none for a number given out, and for a button that was pressed.
    pub fn inverse(&self) -> Option<Op> {
        Some(match self {
            Op::Add { table, record } => Op::Gone { table: *table, record: *record, gone: true },
            Op::Gone { table, record, gone } => Op::Gone { table: *table, record: *record, gone: !gone },
            Op::Cell { table, record, field, before, after } => {
                Op::Cell { table: *table, record: *record, field: *field, before: after.clone(), after: before.clone() }
            }
            Op::Rows(rows) => Op::Bin { table: rows.table, first: rows.first, count: rows.count, gone: true },
            Op::Bin { table, first, count, gone } => Op::Bin { table: *table, first: *first, count: *count, gone: !gone },
            Op::Fill { table, field, cells } => {
                let cells = cells.iter().map(|(record, before, after)| (*record, after.clone(), before.clone())).collect();
                Op::Fill { table: *table, field: *field, cells }
            }
            Op::Arrive { table, record, before, after } => {
                Op::Arrive { table: *table, record: *record, before: after.clone(), after: before.clone() }
            }
            Op::Count { .. } | Op::Turned { .. } | Op::Press { .. } | Op::Reply { .. } | Op::Go { .. } | Op::Empty { .. } => return None,
            Op::Say { table, record, before, after } => {
                Op::Say { table: *table, record: *record, before: after.clone(), after: before.clone() }
            }
            Op::Place { of, places } => {
                let back = places.iter().map(|(record, before, after)| (*record, after.clone(), before.clone())).collect();
                Op::Place { of: *of, places: back }
            }
            Op::Put { before, after } => Op::Put { before: after.clone(), after: before.clone() },
        })
    }
}

/// So many records, numbered on from the first.
pub(crate) fn run(first: RecordId, count: u32) -> impl Iterator<Item = RecordId> {
    (first.row()..first.row() + count as usize).map(RecordId::at_row)
}

fn within(first: RecordId, count: u32, record: RecordId) -> bool {
    (first.row()..first.row() + count as usize).contains(&record.row())
}

/// Takes JSON and keeps nothing of it but whether a text in it held the character zero.
#[derive(Default)]
struct Zeros(bool);

impl std::io::Write for Zeros {
    fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
        // What is escaped is written on its own; a backslash that was typed is escaped itself.
        self.0 |= bytes == br"\u0000";
        Ok(bytes.len())
    }

    fn flush(&mut self) -> std::io::Result<()> {
        Ok(())
    }
}

impl Change {
    /// Whether any text in it holds the character zero, which databases keep in no text.
    pub(crate) fn holds_zero(&self) -> bool {
        let mut zeros = Zeros::default();
        // What can't be written as JSON can't be kept either.
        serde_json::to_writer(&mut zeros, &self.ops).is_err() || zeros.0
    }

    /// The records that were there before and that it changed. New rows come as they are; pressing changes nothing, nor does talk.
    pub(crate) fn touched(&self) -> BTreeSet<(TableId, RecordId)> {
        let of = self
            .ops
            .iter()
            .filter(|op| !matches!(op, Op::Rows(_) | Op::Press { .. } | Op::Reply { .. } | Op::Say { .. }))
            .filter_map(Op::records);
        of.flat_map(|(table, records)| records.into_iter().map(move |record| (table, record))).collect()
    }

    /// Whether records of a table come, go or change by it.
    pub(crate) fn touches(&self, table: TableId) -> bool {
        self.ops.iter().any(|op| match op {
            Op::Rows(Rows { table: at, .. }) | Op::Bin { table: at, .. } | Op::Fill { table: at, .. } => *at == table,
            other => other.record().is_some_and(|(at, _)| at == table),
        })
    }

    /// The operations that take the whole change back, last first. Cells of a record that the change made are left:
    /// the record goes to the bin whole, and comes back whole.
    pub fn inverse(&self) -> Vec<Op> {
        let made: Vec<_> = self.ops.iter().filter(|op| matches!(op, Op::Add { .. })).filter_map(Op::record).collect();
        let of_made = |op: &Op| matches!(op, Op::Cell { .. } | Op::Arrive { .. }) && op.record().is_some_and(|r| made.contains(&r));
        self.ops.iter().rev().filter(|op| !of_made(op)).filter_map(Op::inverse).collect()
    }
}
