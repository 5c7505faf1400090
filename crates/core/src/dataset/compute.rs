//! Computed columns. A change marks the cells it can reach; only those are computed again, in an order in which each
//! comes after what it draws on, and where a value stays as it was nothing further is.

use super::{
    Column, Dataset,
    graph::{ComputedField, Graph},
    summary::Figurer,
};
use crate::value::to_cents;
use crate::{
    Clock,
    access::Lens,
    formula::{Budget, Program, Turns, settle},
    id::{FieldId, RecordId, TableId, TrackerId},
    people::{Area, MessagesOf, People},
    schema::Kind,
    value::{CalcError, Value},
};
use jiff::{Timestamp, civil::Date};
use std::{collections::BTreeSet, sync::Arc};

/// A cell.
pub type CellAt = (TableId, FieldId, RecordId);

/// The computed cells that moved.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Recomputed {
    pub cells: Vec<CellAt>,
    /// How many cells were computed, also those that came out as before.
    pub computed: usize,
}

impl Dataset {
    /// The moment up to which what is shown holds: the next day's beginning, or with `NOW()` the next minute's. After it,
    /// [`Dataset::turn_to`] must come before the next read.
    pub fn holds_until(&self) -> Timestamp {
        let minutely = self.graph.order.iter().any(|f| f.turns == Turns::Minutely);
        if minutely {
            return Timestamp::from_second(self.moment.as_second().div_euclid(60) * 60 + 60).unwrap_or(Timestamp::MAX);
        }
        let today = self.day_of(self.moment);
        let tomorrow = crate::value::plus_days(today, 1).and_then(|day| day.to_zoned(self.zone.clone()).ok());
        tomorrow.map_or(Timestamp::MAX, |midnight| midnight.timestamp())
    }

    /// Whether a moment is on a later day than the tracker was turned to.
    pub fn turns_to(&self, now: Timestamp) -> bool {
        self.day_of(now) > self.turned.unwrap_or(self.day())
    }

    /// The day to which it was turned last.
    pub fn turned(&self) -> Date {
        self.turned.unwrap_or(self.day())
    }

    /// When it has to be looked after though nobody looks at it: at the next day's beginning, if anything depends on the day, and when an
    /// automation comes.
    pub fn wakes_at(&self) -> Option<Timestamp> {
        self.turns_at().into_iter().chain(self.next_due()).min()
    }

    fn turns_at(&self) -> Option<Timestamp> {
        if self.begun().next().is_some() {
            // Somebody may have begun a record and left it without a word.
            return self.moment.checked_add(jiff::SignedDuration::from_mins(11)).ok();
        }
        let depends = self.graph.order.iter().any(|f| f.turns != Turns::Never);
        let next = crate::value::plus_days(self.turned(), 1).and_then(|day| day.to_zoned(self.zone.clone()).ok());
        next.map(|midnight| midnight.timestamp()).filter(|_| depends)
    }

    /// The day it was when the computed cells were computed.
    pub fn day(&self) -> Date {
        self.day_of(self.moment)
    }

    fn day_of(&self, moment: Timestamp) -> Date {
        moment.to_zoned(self.zone.clone()).date()
    }

    /// Computes what changes by itself when time passes: at a new day, or with `NOW()` at a new minute.
    pub fn turn_to(&mut self, now: Timestamp) -> Recomputed {
        if now < self.holds_until() {
            self.moment = self.moment.max(now);
            return Recomputed::default();
        }
        let new_day = self.day() != self.day_of(now);
        self.moment = now;
        let graph = self.graph.clone();
        let mut marks = Marks::new(&graph);
        for (place, field) in graph.order.iter().enumerate() {
            if field.turns == Turns::Minutely || (field.turns == Turns::Daily && new_day) {
                marks.all(self, place, field);
            }
        }
        self.compute_marked(&graph, marks, true)
    }

    /// The same, as those look at it who look now: with the team of now. What was computed from names follows with [`Dataset::meet`].
    #[must_use]
    pub fn with_people(&self, people: Arc<People>) -> Self {
        let mut seen = self.clone();
        seen.take_people(people);
        seen
    }

    /// The same as one of the team's trackers, which may lie in an area.
    #[must_use]
    pub fn numbered(mut self, id: TrackerId) -> Self {
        self.id = Some(id);
        self.take_people(self.people.clone());
        self
    }

    /// The messages of one of its automations or forms, as the team knows them; nothing of what is none of its trackers.
    pub fn messages_of(&self, part: u32) -> Option<MessagesOf> {
        self.id.map(|tracker| MessagesOf { tracker, part })
    }

    fn take_people(&mut self, people: Arc<People>) {
        let area = self.id.and_then(|id| people.area_of(id));
        self.area_roles = area.map(Area::roles).unwrap_or_default().into();
        self.people = people;
    }

    /// Meets the team as it is now; what was computed from the names of people is computed anew, where names changed.
    pub fn meet(&mut self, people: Arc<People>) -> Recomputed {
        let renamed = self.people.is_called_otherwise(&people);
        self.take_people(people);
        if renamed { self.compute_all(self.moment) } else { Recomputed::default() }
    }

    /// Computes every computed cell, as of a moment.
    pub fn compute_all(&mut self, now: Timestamp) -> Recomputed {
        self.moment = self.moment.max(now);
        let graph = Arc::new(Graph::new(self));
        self.graph = graph.clone();
        for field in &graph.circle {
            self.fill_with(*field, CalcError::Circle);
        }
        let mut marks = Marks::new(&graph);
        for (place, field) in graph.order.iter().enumerate() {
            marks.all(self, place, field);
        }
        self.compute_marked(&graph, marks, false)
    }

    /// The fields that would need themselves, in order; none in a tracker that may stand.
    pub fn circle(&self) -> &[FieldId] {
        &self.graph.circle
    }

    /// The most computed fields that draw one on the other, and the last of them.
    pub fn longest_chain(&self) -> Option<(usize, FieldId)> {
        self.graph.longest_chain()
    }

    fn fill_with(&mut self, field: FieldId, error: CalcError) {
        let Some(table) = self.field(field).map(|(t, _)| t.def.id) else { return };
        let Some(home) = self.tables.get_mut(&table).map(Arc::make_mut) else { return };
        let rows = home.rows();
        if let Some(column) = home.columns.get_mut(&field).map(Arc::make_mut) {
            (0..rows).for_each(|row| column.set(row, &Value::Error(error)));
        }
    }

    /// Computes what can be reached from these cells, and all computed cells of these new records.
    pub(super) fn compute_reached(&mut self, changed: &[CellAt], added: &[(TableId, RecordId)]) -> Recomputed {
        let graph = self.graph.clone();
        let mut marks = Marks::new(&graph);
        for (place, field) in graph.order.iter().enumerate() {
            let rows = added.iter().filter(|(table, _)| *table == field.table).map(|(_, record)| record.row());
            marks.rows[place].extend(rows);
        }
        for (_, field, record) in changed {
            marks.reach(self, *field, *record);
        }
        self.compute_marked(&graph, marks, true)
    }

    /// `spreads`: whether what draws on a cell that moved is to be marked too; not where everything is already.
    fn compute_marked(&mut self, graph: &Graph, mut marks: Marks<'_>, spreads: bool) -> Recomputed {
        let mut done = Recomputed::default();
        let clock = Clock::new(self.moment, self.zone.clone());
        for (place, field) in graph.order.iter().enumerate() {
            let rows = std::mem::take(&mut marks.rows[place]);
            if rows.is_empty() {
                continue;
            }
            done.computed += rows.len();
            let moved = self.computed(field, &rows, &clock);
            let Some(home) = self.tables.get_mut(&field.table).map(Arc::make_mut) else { continue };
            let Some(column) = home.columns.get_mut(&field.field).map(Arc::make_mut) else { continue };
            for (row, value) in &moved {
                column.set(*row, value);
            }
            for (row, _) in moved {
                let record = RecordId::at_row(row);
                if spreads {
                    marks.reach(self, field.field, record);
                }
                done.cells.push((field.table, field.field, record));
            }
        }
        done
    }

    /// The values that are not what stands in the column.
    fn computed(&self, field: &ComputedField, rows: &BTreeSet<usize>, clock: &Clock) -> Vec<(usize, Value)> {
        let Some(home) = self.table(field.table) else { return Vec::new() };
        let (Some(def), Some(column)) = (home.def.field(field.field), home.column(field.field)) else { return Vec::new() };
        let moved = |value: &dyn Fn(usize) -> Value| {
            let fresh = rows.iter().map(|row| (*row, value(*row)));
            fresh.filter(|(row, value)| column.cell(*row) != value.as_cell()).collect()
        };
        match &def.kind {
            Kind::Calculation { formula, shows } => {
                let budget = Budget::new(rows.len());
                let program = Program::new(formula, self, field.table, clock, &budget);
                moved(&|row| fitted(program.value(row), shows, clock))
            }
            Kind::Summary(summary) => {
                let lens = Lens::of_everything(self, None, clock);
                let figurer = Figurer::new(&lens, field.table, summary, rows.len());
                moved(&|row| figurer.figure(row))
            }
            _ => Vec::new(),
        }
    }
}

/// A value of a formula as it is kept for showing.
pub(crate) fn fitted(value: Value, shows: &Kind, clock: &Clock) -> Value {
    let wrong = Value::Error(CalcError::WrongValue);
    match (shows, value.tidy()) {
        (_, value @ (Value::Empty | Value::Error(_))) => value,
        (kind, Value::Number(number)) if kind.is_number() => match kind {
            // So that what is shown adds up to the cent.
            Kind::Money { currency } => Value::Number(to_cents(number, currency)),
            Kind::Duration => number
                .checked_mul(rust_decimal::Decimal::from(86_400))
                .map_or(Value::Error(CalcError::NoNumber), |seconds| Value::Number(seconds.round_dp(3).normalize())),
            _ => Value::Number(settle(number)),
        },
        (kind, Value::Logical(yes)) if kind.is_number() => Value::Number(u8::from(yes).into()),
        (Kind::YesNo, value @ Value::Logical(_)) => value,
        (Kind::YesNo, Value::Number(number)) => Value::Logical(!number.is_zero()),
        (Kind::Date, value @ Value::Date(_)) => value,
        (Kind::Date, Value::Instant(instant)) => Value::Date(instant.to_zoned(clock.zone.clone()).date()),
        // The day before the first: what the least of no dates gives.
        (Kind::Date | Kind::DateTime, Value::Number(number)) if number.is_zero() => Value::Empty,
        (Kind::DateTime, value @ Value::Instant(_)) => value,
        (Kind::DateTime, Value::Date(date)) => date.to_zoned(clock.zone.clone()).map_or(wrong, |z| Value::Instant(z.timestamp())),
        (Kind::Text { .. }, Value::Text(text)) => Value::Text(text).tidy(),
        (Kind::Text { .. }, Value::Number(number)) => Value::text(&settle(number).normalize().to_string()),
        (Kind::Text { .. }, Value::Logical(yes)) => Value::text(if yes { "yes" } else { "no" }),
        (Kind::Text { .. }, Value::Date(date)) => Value::text(&crate::value::Customs::default().date_text(date)),
        (Kind::Text { .. }, Value::Instant(instant)) => Value::text(&crate::value::moment_text(instant, &clock.untold())),
        _ => wrong,
    }
}

/// The rows to compute, by place in the graph's order.
struct Marks<'g> {
    graph: &'g Graph,
    rows: Vec<BTreeSet<usize>>,
}

impl<'g> Marks<'g> {
    fn new(graph: &'g Graph) -> Self {
        Self { graph, rows: vec![BTreeSet::new(); graph.order.len()] }
    }

    fn all(&mut self, ds: &Dataset, place: usize, field: &ComputedField) {
        let rows = ds.table(field.table).map_or(0, super::Table::rows);
        self.rows[place] = (0..rows).collect();
    }

    /// Marks what draws on a cell.
    fn reach(&mut self, ds: &Dataset, field: FieldId, record: RecordId) {
        for edge in self.graph.edges(field) {
            let mut rows = vec![record.row()];
            for (table, back) in &edge.back {
                let column = ds.table(*table).and_then(|t| t.column(*back));
                rows = rows.iter().flat_map(|row| column.map_or(&[][..], |c| Column::links(c, *row))).map(|r| r.row()).collect();
            }
            self.rows[edge.place].extend(rows);
        }
    }
}
