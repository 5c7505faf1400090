//! What is in a field: what the slip at its heading says, draws and offers, over the records that a view shows.

mod clauses;
mod drawing;

pub use clauses::{SlipAct, SlipClause, SlipPhrase};
pub use drawing::{SlipDrawing, SlipRun, SlipValue, SlipYear};

use super::Query;
use crate::{
    access::Lens,
    condition::{Check, Condition, Quantity, Test},
    dataset::Reader,
    fault::{Checked, Fault},
    id::{FieldId, TableId},
    schema::Kind,
    value::{Cell, Value},
};
use fixedbitset::FixedBitSet;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};

/// What is in a field, as far as it is open to the asker.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FieldSlip {
    /// How many hold something, from where to where, and how many nothing.
    pub says: String,
    pub drawing: SlipDrawing,
    /// What can be asked of the field and done with it, each under its word.
    pub clauses: Vec<SlipClause>,
}

/// A field as it is looked into: the cells of the records that the view's condition leaves.
struct Slip<'a, 'd> {
    lens: &'a Lens<'d>,
    table: TableId,
    field: FieldId,
    kind: &'a Kind,
    query: &'a Query,
    reader: Reader<'a>,
    /// The records, by row.
    matching: FixedBitSet,
}

impl Query {
    /// What is in one of the fields of a table, over the records that this view shows.
    ///
    /// # Errors
    /// The field is not there or not open to the asker, or the view is not.
    ///
    /// `search`: words that stand in the values which are drawn.
    pub fn look_into(&self, lens: &Lens<'_>, table: TableId, field: FieldId, search: &str) -> Checked<FieldSlip> {
        let asked = self.asked_by(lens, table)?;
        let shown = lens.dataset().shown_kind(table, field).filter(|_| lens.reads(table, field));
        let (_, kind) = shown.ok_or_else(|| Fault::not_found("field"))?;
        let matching = asked.condition.matching(lens, table);
        let slip = Slip { lens, table, field, kind: kind.shows(), query: &asked, reader: lens.reader(table, field), matching };
        let held = slip.held();
        Ok(FieldSlip { says: slip.says(&held), drawing: slip.drawing(search), clauses: slip.clauses(&held) })
    }
}

/// How much stands in the field.
#[derive(Default)]
struct Held {
    filled: usize,
    empty: usize,
    errors: usize,
    least: Option<Value>,
    most: Option<Value>,
    sum: Decimal,
    numbers: u32,
}

impl Slip<'_, '_> {
    /// For each record what stands in its cell; several where the field is carried along a link to many.
    fn each(&self, mut see: impl FnMut(&[Cell<'_>])) {
        let one = self.reader.is_one();
        for row in self.matching.ones() {
            if one { see(std::slice::from_ref(&self.reader.cell(row))) } else { see(&self.reader.cells(row)) }
        }
    }

    fn held(&self) -> Held {
        let mut held = Held::default();
        self.each(|cells| {
            if cells.iter().any(|cell| matches!(cell, Cell::Error(_))) {
                held.errors += 1;
            } else if cells.iter().all(|cell| self.reader.is_empty(*cell)) {
                held.empty += 1;
            } else {
                held.filled += 1;
            }
            for cell in cells {
                held.take(*cell);
            }
        });
        held
    }

    /// *101 faults hold a day, from 16 Jun 2026 to 18 Dec 2026; 5 hold none.*
    fn says(&self, held: &Held) -> String {
        let Some(home) = self.lens.dataset().table(self.table) else { return String::new() };
        let noun = match self.kind {
            Kind::Date | Kind::DateTime | Kind::Range | Kind::CreatedAt | Kind::ChangedAt => "a day",
            kind if kind.is_number() => "a number",
            Kind::Link(_) => "a link",
            Kind::Person | Kind::People | Kind::CreatedBy | Kind::ChangedBy => "a person",
            _ => "something",
        };
        let (one, many) = (format!("{} holds", home.def.one), format!("{} hold", home.def.many()));
        let mut says = format!("{} {noun}", self.lens.clock().customs().count_words(held.filled, &one, &many));
        if let (Some(least), Some(most)) = (&held.least, &held.most) {
            let text = |value: &Value| self.lens.cell_text(self.table, self.field, value.as_cell());
            let (least, most) = (text(least), text(most));
            says += &if least == most { format!(", {least}") } else { format!(", from {least} to {most}") };
        }
        if held.numbers > 1 {
            let mean = held.sum.checked_div(held.numbers.into()).unwrap_or_default().round_dp(self.kind.decimals().max(1));
            says += &format!(", {} on average", self.lens.cell_text(self.table, self.field, Cell::Number(mean)));
        }
        if held.empty > 0 {
            says += &format!("; {} nothing", self.lens.clock().customs().count_words(held.empty, "holds", "hold"));
        }
        if held.errors > 0 {
            says += &format!("; {} no value", self.lens.clock().customs().count_words(held.errors, "has", "have"));
        }
        says + "."
    }

    /// A test of this field.
    fn test(&self, check: Check) -> Condition {
        Condition::Test(Test { path: vec![self.field], of: Quantity::Any, check })
    }
}

impl Held {
    /// Days and numbers have ends.
    fn take(&mut self, cell: Cell<'_>) {
        let (value, less): (Value, fn(&Value, &Value) -> bool) = match cell {
            Cell::Number(number) => {
                self.sum = self.sum.checked_add(number).unwrap_or(self.sum);
                self.numbers += 1;
                (Value::Number(number), |a, b| matches!((a, b), (Value::Number(a), Value::Number(b)) if a < b))
            }
            Cell::Date(date) => (Value::Date(date), |a, b| matches!((a, b), (Value::Date(a), Value::Date(b)) if a < b)),
            Cell::Instant(at) => (Value::Instant(at), |a, b| matches!((a, b), (Value::Instant(a), Value::Instant(b)) if a < b)),
            _ => return,
        };
        if self.least.as_ref().is_none_or(|least| less(&value, least)) {
            self.least = Some(value.clone());
        }
        if self.most.as_ref().is_none_or(|most| less(most, &value)) {
            self.most = Some(value);
        }
    }
}
