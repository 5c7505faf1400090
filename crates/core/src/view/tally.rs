//! Figures over all rows of a view and over each of its groups, in one pass over the table for each.

use super::{GroupBy, Tally, level::Level};
use crate::{
    access::Lens,
    dataset::{Column, Reader},
    figure::{Figure, middle},
    id::TableId,
    schema::Kind,
    value::{Cell, Customs, Value},
};
use fixedbitset::FixedBitSet;
use jiff::Timestamp;
use jiff::civil::Date;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// A figure and how it reads.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TallyFigure {
    /// Nothing where there is none, and where it is a day.
    pub value: Option<Decimal>,
    pub text: String,
}

/// The figures that a view wants, made ready for any run of its innermost groups.
pub(super) struct Tallies<'a, 'd> {
    lens: &'a Lens<'d>,
    table: TableId,
    each: Vec<(Tally, Kind, Box<dyn Tallied>)>,
    customs: Customs,
}

/// What one figure is of, by innermost group.
trait Tallied {
    /// The figure over some groups; nothing where nothing is figured.
    fn over(&self, groups: &mut dyn Iterator<Item = usize>) -> Option<Value>;
}

/// What comes in cell by cell, and can be put together.
trait Gather: Clone + Default {
    fn add(&mut self, cell: Cell<'_>);
    fn merge(&mut self, other: &Self);
}

/// What was gathered, by innermost group, and what is made of it.
struct Gathered<G> {
    of_group: Vec<G>,
    figure: fn(&G) -> Option<Value>,
}

impl<G: Gather> Tallied for Gathered<G> {
    fn over(&self, groups: &mut dyn Iterator<Item = usize>) -> Option<Value> {
        let mut whole = G::default();
        groups.filter_map(|group| self.of_group.get(group)).for_each(|group| whole.merge(group));
        (self.figure)(&whole)
    }
}

/// The rows that are figured over, each with its innermost group.
struct Rows<'r> {
    shown: &'r FixedBitSet,
    of_row: &'r [u32],
    groups: usize,
}

impl Rows<'_> {
    fn gather<G: Gather + 'static>(&self, reader: &Reader<'_>, figure: fn(&G) -> Option<Value>) -> Box<dyn Tallied> {
        let mut of_group = vec![G::default(); self.groups];
        let rows = self.shown.ones().zip(self.of_row);
        match reader.stored() {
            // The one that is asked for most, and over the most rows.
            Some(Column::Number(c)) => rows.for_each(|(row, group)| {
                if let Some(Some(number)) = c.get(row) {
                    of_group[*group as usize].add(Cell::Number(*number));
                }
            }),
            _ if reader.is_carried() => rows.for_each(|(row, group)| {
                for cell in reader.cells(row) {
                    of_group[*group as usize].add(cell);
                }
            }),
            _ => rows.for_each(|(row, group)| {
                let cell = reader.cell(row);
                if !reader.is_empty(cell) {
                    of_group[*group as usize].add(cell);
                }
            }),
        }
        Box::new(Gathered { of_group, figure })
    }
}

impl<'a, 'd> Tallies<'a, 'd> {
    /// Over the rows shown, each with its innermost group, of which there are so many.
    pub(super) fn new(lens: &'a Lens<'d>, table: TableId, wanted: &[Tally], shown: &FixedBitSet, of_row: &[u32], groups: usize) -> Self {
        let rows = Rows { shown, of_row, groups };
        let ready = |tally: &Tally| {
            let kind = lens.ds.shown_kind(table, tally.field).and_then(|(_, kind)| tally.figure.shown(Some(kind.shows())));
            let kind = kind.unwrap_or_else(|| Kind::Number { decimals: 0, unit: String::new() });
            (*tally, kind, tallied(lens, table, *tally, &rows))
        };
        Self { lens, table, each: wanted.iter().map(ready).collect(), customs: lens.clock.customs() }
    }

    /// Each figure over some innermost groups.
    pub(super) fn over(&self, groups: impl Iterator<Item = usize> + Clone) -> Vec<TallyFigure> {
        let figure = |(tally, kind, tallied): &(Tally, Kind, Box<dyn Tallied>)| match tallied.over(&mut groups.clone()) {
            Some(Value::Number(number)) => {
                let finer = matches!(tally.figure, Figure::Average | Figure::Median);
                let number = if finer { number.round_dp(average_decimals(kind)) } else { number };
                let number = if tally.figure == Figure::Share { number.round_dp(2) } else { number };
                TallyFigure { value: Some(number), text: kind.number_words(number, 0, self.customs) }
            }
            Some(day) => TallyFigure { value: None, text: self.lens.cell_text(self.table, tally.field, day.as_cell()) },
            None => TallyFigure { value: None, text: String::new() },
        };
        self.each.iter().map(figure).collect()
    }
}

/// One figure, gathered.
fn tallied(lens: &Lens<'_>, table: TableId, tally: Tally, rows: &Rows<'_>) -> Box<dyn Tallied> {
    let reader = lens.reader(table, tally.field);
    match tally.figure {
        Figure::Count => {
            let mut of_group = vec![Filled(0); rows.groups];
            rows.of_row.iter().for_each(|group| of_group[*group as usize].0 += 1);
            Box::new(Gathered { of_group, figure: |filled: &Filled| Some(Value::Number(filled.0.into())) })
        }
        Figure::Filled => rows.gather(&reader, |filled: &Filled| Some(Value::Number(filled.0.into()))),
        Figure::Different => Box::new(different(lens, table, tally, rows)),
        Figure::Sum => rows.gather(&reader, |numbers: &Numbers| numbers.sum().map(Value::Number)),
        Figure::Average => rows.gather(&reader, |numbers: &Numbers| numbers.average().map(Value::Number)),
        Figure::Median => rows.gather(&reader, |all: &AllNumbers| middle(all.0.clone()).map(Value::Number)),
        Figure::Least => rows.gather(&reader, |ends: &Ends<Decimal>| ends.least.map(Value::Number)),
        Figure::Most => rows.gather(&reader, |ends: &Ends<Decimal>| ends.most.map(Value::Number)),
        Figure::Earliest => rows.gather(&reader, |days: &Days| days.earliest()),
        Figure::Latest => rows.gather(&reader, |days: &Days| days.latest()),
        Figure::Share => rows.gather(&reader, |said: &Said| said.share().map(Value::Number)),
        // Lists are no line that stands under a view: none is kept.
        Figure::List | Figure::Each => rows.gather(&reader, |_: &Filled| None),
    }
}

/// How many cells hold something.
#[derive(Clone, Default)]
struct Filled(u32);

impl Gather for Filled {
    #[inline]
    fn add(&mut self, _: Cell<'_>) {
        self.0 = self.0.saturating_add(1);
    }

    fn merge(&mut self, other: &Self) {
        self.0 = self.0.saturating_add(other.0);
    }
}

/// Values by the number that groups of them would have.
#[derive(Clone, Default)]
struct Values(HashSet<u32>);

impl Gather for Values {
    fn add(&mut self, _: Cell<'_>) {}

    fn merge(&mut self, other: &Self) {
        self.0.extend(&other.0);
    }
}

fn different(lens: &Lens<'_>, table: TableId, tally: Tally, rows: &Rows<'_>) -> Gathered<Values> {
    let level = Level::new(lens, table, GroupBy::of(tally.field), rows.shown);
    let mut of_group = vec![Values::default(); rows.groups];
    for (value, group) in level.of_row.iter().zip(rows.of_row) {
        if level.values[*value as usize] != Value::Empty {
            of_group[*group as usize].0.insert(*value);
        }
    }
    Gathered { of_group, figure: |values| Some(Value::Number(values.0.len().into())) }
}

/// Of yes and no, how many say yes.
#[derive(Clone, Default)]
struct Said {
    yes: u32,
    all: u32,
}

impl Said {
    fn share(&self) -> Option<Decimal> {
        Decimal::from(self.yes).checked_div(Decimal::from(self.all))
    }
}

impl Gather for Said {
    #[inline]
    fn add(&mut self, cell: Cell<'_>) {
        if let Cell::Logical(yes) = cell {
            self.yes = self.yes.saturating_add(u32::from(yes));
            self.all = self.all.saturating_add(1);
        }
    }

    fn merge(&mut self, other: &Self) {
        self.yes = self.yes.saturating_add(other.yes);
        self.all = self.all.saturating_add(other.all);
    }
}

/// All numbers, since the one in the middle can't be told of less.
#[derive(Clone, Default)]
struct AllNumbers(Vec<Decimal>);

impl Gather for AllNumbers {
    #[inline]
    fn add(&mut self, cell: Cell<'_>) {
        if let Cell::Number(number) = cell {
            self.0.push(number);
        }
    }

    fn merge(&mut self, other: &Self) {
        self.0.extend(&other.0);
    }
}

/// The least and the most.
#[derive(Clone)]
struct Ends<T> {
    least: Option<T>,
    most: Option<T>,
}

impl<T> Default for Ends<T> {
    fn default() -> Self {
        Self { least: None, most: None }
    }
}

impl<T: Ord + Copy> Ends<T> {
    #[inline]
    fn take(&mut self, one: T) {
        self.least = Some(self.least.map_or(one, |least| least.min(one)));
        self.most = Some(self.most.map_or(one, |most| most.max(one)));
    }

    fn join(&mut self, other: &Self) {
        other.least.into_iter().chain(other.most).for_each(|one| self.take(one));
    }
}

impl Gather for Ends<Decimal> {
    #[inline]
    fn add(&mut self, cell: Cell<'_>) {
        if let Cell::Number(number) = cell {
            self.take(number);
        }
    }

    fn merge(&mut self, other: &Self) {
        self.join(other);
    }
}

/// The earliest and the latest day, or moment.
#[derive(Clone, Default)]
struct Days {
    days: Ends<Date>,
    moments: Ends<Timestamp>,
}

impl Days {
    fn earliest(&self) -> Option<Value> {
        self.days.least.map(Value::Date).or(self.moments.least.map(Value::Instant))
    }

    fn latest(&self) -> Option<Value> {
        self.days.most.map(Value::Date).or(self.moments.most.map(Value::Instant))
    }
}

impl Gather for Days {
    #[inline]
    fn add(&mut self, cell: Cell<'_>) {
        match cell {
            Cell::Date(day) => self.days.take(day),
            Cell::Instant(moment) => self.moments.take(moment),
            _ => {}
        }
    }

    fn merge(&mut self, other: &Self) {
        self.days.join(&other.days);
        self.moments.join(&other.moments);
    }
}

/// A figure while its numbers come in. The sum is kept as a whole number of units of its finest scale: exact, and as
/// fast as adding integers while the scale stays the same.
#[derive(Clone, Default)]
struct Numbers {
    count: u32,
    units: i128,
    scale: u32,
    /// Too large for 28 digits on the way.
    lost: bool,
}

impl Numbers {
    #[inline]
    fn add_units(&mut self, units: i128, scale: u32, count: u32) {
        self.count += count;
        if scale == self.scale {
            self.units += units;
            return;
        }
        let finer = |units: i128, by: u32| 10_i128.checked_pow(by).and_then(|power| units.checked_mul(power));
        let (kept, new) = if scale > self.scale {
            (finer(self.units, scale - self.scale), Some(units))
        } else {
            (Some(self.units), finer(units, self.scale - scale))
        };
        self.scale = self.scale.max(scale);
        match kept.zip(new).and_then(|(kept, new)| kept.checked_add(new)) {
            Some(sum) => self.units = sum,
            None => self.lost = true,
        }
    }

    fn average(&self) -> Option<Decimal> {
        self.sum()?.checked_div(Decimal::from(self.count))
    }

    fn sum(&self) -> Option<Decimal> {
        Decimal::try_from_i128_with_scale(self.units, self.scale).ok().filter(|_| !self.lost)
    }
}

/// One more than the numbers themselves are shown with.
fn average_decimals(kind: &Kind) -> u32 {
    match kind {
        Kind::Number { decimals, .. } => decimals + 1,
        Kind::Percent { decimals } => decimals + 3,
        Kind::Money { .. } => 2,
        _ => 1,
    }
}

impl Gather for Numbers {
    #[inline]
    fn add(&mut self, cell: Cell<'_>) {
        if let Cell::Number(number) = cell {
            self.add_units(number.mantissa(), number.scale(), 1);
        }
    }

    fn merge(&mut self, other: &Self) {
        self.add_units(other.units, other.scale, other.count);
        self.lost |= other.lost;
    }
}
