//! Changes: what an intent becomes. A list of small operations, each of which can be turned round.

use crate::{
    access::Role,
    automation::Automation,
    dataset::TrackerDef,
    form::Form,
    id::{AutomationId, FieldId, FormId, PersonId, RecordId, TableId},
    schema::{Kind, TableDef},
    value::Value,
    view::View,
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// Who made a change.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Actor {
    Person(PersonId),
    /// Whoever answered this form.
    Form(FormId),
    Automation(AutomationId),
    /// Westerfall itself, setting up.
    Westerfall,
}

/// One change of a tracker: all of it happened, at one moment, or none of it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Change {
    /// Its number in the tracker's log, from 1.
    pub seq: u64,
    pub at: Timestamp,
    pub who: Actor,
    /// The change that this one takes back.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub undoes: Option<u64>,
    pub ops: Vec<Op>,
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
    /// A numbering gave out a number. Never taken back: a number is not used twice.
    Count {
        field: FieldId,
        period: String,
        before: u64,
        after: u64,
    },
    /// A part of the structure was made, changed or taken away.
    Put {
        before: Option<Box<Part>>,
        after: Option<Box<Part>>,
    },
}

/// A part of a tracker's structure.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Part {
    Tracker(TrackerDef),
    Table(TableDef),
    View(View),
    Form(Form),
    Role(Role),
    Automation(Automation),
}

impl Op {
    /// The record it touches.
    pub fn record(&self) -> Option<(TableId, RecordId)> {
        match self {
            Op::Add { table, record } | Op::Gone { table, record, .. } | Op::Cell { table, record, .. } => Some((*table, *record)),
            Op::Count { .. } | Op::Put { .. } => None,
        }
    }

    /// The operation that takes this one back; none for a number given out.
    pub fn inverse(&self) -> Option<Op> {
        Some(match self {
            Op::Add { table, record } => Op::Gone { table: *table, record: *record, gone: true },
            Op::Gone { table, record, gone } => Op::Gone { table: *table, record: *record, gone: !gone },
            Op::Cell { table, record, field, before, after } => {
                Op::Cell { table: *table, record: *record, field: *field, before: after.clone(), after: before.clone() }
            }
            Op::Count { .. } => return None,
            Op::Put { before, after } => Op::Put { before: after.clone(), after: before.clone() },
        })
    }
}

impl Change {
    /// The operations that take the whole change back, last first. Cells of a record that the change made are left:
    /// the record goes to the bin whole, and comes back whole.
    pub fn inverse(&self) -> Vec<Op> {
        let made: Vec<_> = self.ops.iter().filter(|op| matches!(op, Op::Add { .. })).filter_map(Op::record).collect();
        let of_made = |op: &Op| matches!(op, Op::Cell { .. }) && op.record().is_some_and(|r| made.contains(&r));
        self.ops.iter().rev().filter(|op| !of_made(op)).filter_map(Op::inverse).collect()
    }
}

impl Part {
    /// Where it is kept: its sort and number. The tracker itself has number 0.
    pub fn key(&self) -> (&'static str, u32) {
        match self {
            Part::Tracker(_) => ("tracker", 0),
            Part::Table(table) => ("table", table.id.get()),
            Part::View(view) => ("view", view.id.get()),
            Part::Form(form) => ("form", form.id.get()),
            Part::Role(role) => ("role", role.id.get()),
            Part::Automation(automation) => ("automation", automation.id.get()),
        }
    }

    /// The highest number that it or anything in it has.
    pub fn highest_id(&self) -> u32 {
        let (_, own) = self.key();
        let Part::Table(table) = self else { return own };
        let options = |kind: &Kind| kind.options().iter().map(|o| o.id.get()).max().unwrap_or(0);
        table.fields.iter().map(|f| f.id.get().max(options(&f.kind))).max().unwrap_or(0).max(own)
    }
}
