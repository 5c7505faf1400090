//! Running a view: which records, in which order, in which groups, with which figures.

use super::{Figure, Order, Query, Tally, rank::Ranker, words::counted};
use crate::{
    access::Lens,
    dataset::{Column, Reader},
    id::{RecordId, TableId},
    schema::Kind,
    value::{Cell, CellValue, Customs, Value, fold},
};
use fixedbitset::FixedBitSet;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::{
    cmp::Ordering,
    collections::HashMap,
    hash::{BuildHasherDefault, Hasher},
    ops::Range,
};

/// Which part of the rows is wanted, and which records are wanted whether or not the condition holds.
#[derive(Clone, Debug, Default)]
pub struct Window<'a> {
    /// Places in the view's order, from 0.
    pub rows: Range<usize>,
    /// Records that stay in sight, if the asker may see them: new ones that the condition leaves out.
    pub keep: &'a [RecordId],
}

/// What a view shows.
#[derive(Clone, Debug, PartialEq)]
pub struct Outcome {
    /// Records of the table in the asker's reach.
    pub total: usize,
    /// Of these, those for which the condition holds.
    pub matching: usize,
    /// The same in words: *42 faults*.
    pub counted: String,
    /// Rows in the view's order: those that match and those kept.
    pub rows: usize,
    /// The records in the window, in order.
    pub window: Vec<RecordId>,
    /// Of the records in the window, those kept in sight though the condition leaves them out.
    pub outside: Vec<RecordId>,
    /// Where the kept records stand, from 0.
    pub kept: Vec<(RecordId, usize)>,
    /// In order; only groups that have rows. Empty where the view has no groups.
    pub groups: Vec<GroupCount>,
    pub tallies: Vec<TallyFigure>,
}

/// One group of rows; of several levels, one innermost group.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct GroupCount {
    /// The value of each level that its records share.
    pub values: Vec<CellValue>,
    /// The same, as people read it; empty for no value.
    pub texts: Vec<String>,
    pub count: usize,
    /// The same in words: *3 faults*.
    pub counted: String,
    pub tallies: Vec<TallyFigure>,
}

/// A figure and how it reads.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TallyFigure {
    /// Nothing where no number stands.
    pub value: Option<Decimal>,
    pub text: String,
}

/// A row on its way into order.
#[derive(Clone, Copy)]
struct Item {
    group: u32,
    row: u32,
    key: u64,
}

impl Query {
    /// Runs the view over what the lens gives. Costs one pass over the table; only the window is put in order whole.
    pub fn run(&self, lens: &Lens<'_>, table: TableId, window: &Window<'_>) -> Outcome {
        let found = self.condition.matching(lens, table);
        let matching = found.count_ones(..);
        let kept: Vec<RecordId> = window.keep.iter().copied().filter(|r| lens.sees(table, *r)).collect();
        let mut shown = found;
        let outside: Vec<RecordId> = kept.iter().copied().filter(|r| !shown.contains(r.row())).collect();
        for record in &outside {
            shown.grow_and_insert(record.row());
        }

        let groups = Grouping::new(lens, table, &self.groups, &shown);
        let sorts: Vec<Ranker<'_, '_>> = self.sorts.iter().map(|s| Ranker::new(lens, table, s.field, s.descending)).collect();
        let key = |row| sorts.first().map_or(0, |s| s.key(row));
        let rows = groups.of_row.len();
        // Where only counts and figures are asked for, nothing is put in order.
        let asked = if window.rows.is_empty() && kept.is_empty() { 0 } else { rows };
        let of_row = shown.ones().zip(&groups.of_row).take(asked);
        let mut items: Vec<Item> = of_row.map(|(row, group)| Item { group: *group, row: small(row), key: key(row) }).collect();
        let compare = |a: &Item, b: &Item| order(a, b, &sorts);

        let tallies = Tallies::count(lens, table, &self.tallies, &shown, &groups);
        let places = kept.iter().filter_map(|r| {
            let at = items.iter().find(|i| i.row as usize == r.row())?;
            Some((*r, items.iter().filter(|i| compare(i, at).is_lt()).count()))
        });
        let places: Vec<_> = places.collect();
        let window: Vec<RecordId> =
            sort_window(&mut items, &window.rows, compare).iter().map(|i| RecordId::at_row(i.row as usize)).collect();
        Outcome {
            total: lens.count(table),
            matching,
            counted: counted(lens, table, matching),
            rows,
            outside: outside.into_iter().filter(|r| window.contains(r)).collect(),
            window,
            kept: places,
            groups: groups.counts(lens, table, &tallies),
            tallies: tallies.whole(),
        }
    }
}

fn order(a: &Item, b: &Item, sorts: &[Ranker<'_, '_>]) -> Ordering {
    let first = (a.group, a.key).cmp(&(b.group, b.key));
    first.then_with(|| {
        let (row_a, row_b) = (a.row as usize, b.row as usize);
        let later = |(place, sort): (usize, &Ranker<'_, '_>)| {
            let keys = if place == 0 { Ordering::Equal } else { sort.key(row_a).cmp(&sort.key(row_b)) };
            keys.then_with(|| sort.compare(row_a, row_b))
        };
        sorts.iter().enumerate().map(later).find(|o| o.is_ne()).unwrap_or_else(|| row_a.cmp(&row_b))
    })
}

/// The items at these places of the whole order, in order, without ordering the rest.
fn sort_window<'i>(items: &'i mut [Item], rows: &Range<usize>, compare: impl Fn(&Item, &Item) -> Ordering) -> &'i [Item] {
    let (start, end) = (rows.start.min(items.len()), rows.end.min(items.len()));
    if start >= end {
        return &[];
    }
    let mut part = items;
    if end < part.len() {
        part.select_nth_unstable_by(end, &compare);
        part = &mut part[..end];
    }
    if start > 0 {
        part.select_nth_unstable_by(start, &compare);
        part = &mut part[start..];
    }
    part.sort_unstable_by(&compare);
    part
}

/// Multiplies and rotates: the keys are ids and days, not anything a stranger chooses to collide.
#[derive(Default)]
struct QuickHasher(u64);

impl Hasher for QuickHasher {
    fn finish(&self) -> u64 {
        self.0.rotate_left(26)
    }

    fn write(&mut self, bytes: &[u8]) {
        for byte in bytes {
            self.write_u64(u64::from(*byte));
        }
    }

    fn write_u32(&mut self, n: u32) {
        self.write_u64(u64::from(n));
    }

    fn write_u64(&mut self, n: u64) {
        self.0 = (self.0.rotate_left(5) ^ n).wrapping_mul(0x51_7c_c1_b7_27_22_0a_95);
    }
}

type QuickMap<K> = HashMap<K, u32, BuildHasherDefault<QuickHasher>>;

/// Up to so many possible pairs are numbered through a list of all of them.
const FEW_PAIRS: usize = 1 << 16;

/// Puts each row into the group of its outer and its inner group, numbered in order; gives the pairs that occur, as
/// `outer * width + inner`. Pairs of numbers that are in order are in order themselves, so nothing is sorted while few are possible.
fn number_pairs(of_row: &mut [u32], inner: &[u32], width: usize, possible: usize, few: usize) -> Vec<usize> {
    let pair = |outer: u32, inner: u32| outer as usize * width + inner as usize;
    if possible <= few {
        let mut place: Vec<Option<u32>> = vec![None; possible];
        for (group, inner) in of_row.iter_mut().zip(inner) {
            let pair = pair(*group, *inner);
            place[pair] = Some(0);
            *group = small(pair);
        }
        let existing: Vec<usize> = (0..possible).filter(|pair| place[*pair].is_some()).collect();
        for (number, pair) in existing.iter().enumerate() {
            place[*pair] = Some(small(number));
        }
        of_row.iter_mut().for_each(|group| *group = place[*group as usize].unwrap_or(0));
        return existing;
    }
    let pairs: Vec<usize> = of_row.iter().zip(inner).map(|(outer, inner)| pair(*outer, *inner)).collect();
    let mut existing = pairs.clone();
    existing.sort_unstable();
    existing.dedup();
    let place: QuickMap<u64> = existing.iter().zip(0..).map(|(pair, number)| (*pair as u64, number)).collect();
    of_row.iter_mut().zip(&pairs).for_each(|(group, pair)| *group = place.get(&(*pair as u64)).copied().unwrap_or(0));
    existing
}

/// The groups that a view's rows fall into, numbered in their order.
struct Grouping {
    /// For each row shown, in row order, the number of its group.
    of_row: Vec<u32>,
    /// For each group, one of its rows by level, and how many rows it has.
    groups: Vec<(Vec<Value>, usize)>,
    orders: Vec<Order>,
}

impl Grouping {
    fn new(lens: &Lens<'_>, table: TableId, orders: &[Order], shown: &FixedBitSet) -> Self {
        let mut of_row = vec![0; shown.count_ones(..)];
        let mut groups: Vec<Vec<Value>> = vec![Vec::new()];
        for (place, order) in orders.iter().enumerate() {
            let level = Level::new(lens, table, *order, shown);
            if place == 0 {
                of_row = level.of_row;
                groups = level.values.into_iter().map(|value| vec![value]).collect();
                continue;
            }
            let width = level.values.len().max(1);
            let existing = number_pairs(&mut of_row, &level.of_row, width, groups.len() * width, FEW_PAIRS);
            let of_pair = |pair: &usize| {
                let mut values = groups[pair / width].clone();
                values.push(level.values[pair % width].clone());
                values
            };
            groups = existing.iter().map(of_pair).collect();
        }
        let mut counts = vec![0; groups.len()];
        of_row.iter().for_each(|group| counts[*group as usize] += 1);
        Self { of_row, groups: groups.into_iter().zip(counts).collect(), orders: orders.to_vec() }
    }

    fn counts(self, lens: &Lens<'_>, table: TableId, tallies: &Tallies) -> Vec<GroupCount> {
        if self.orders.is_empty() {
            return Vec::new();
        }
        let counts = self.groups.into_iter().enumerate().map(|(number, (values, count))| GroupCount {
            texts: self.orders.iter().zip(&values).map(|(o, v)| lens.cell_text(table, o.field, v.as_cell())).collect(),
            values,
            counted: counted(lens, table, count),
            count,
            tallies: tallies.of_group(number),
        });
        counts.collect()
    }
}

/// One level of groups: the different values of a field, in order.
struct Level {
    of_row: Vec<u32>,
    values: Vec<Value>,
}

#[derive(PartialEq, Eq, Hash)]
enum GroupKey<'a> {
    Nothing,
    Id(u32),
    Number(u64),
    Text(std::borrow::Cow<'a, str>),
    Decimal(Decimal),
    Ids(Vec<u32>),
    Days(jiff::civil::Date, jiff::civil::Date),
    Error(crate::value::CalcError),
}

impl Level {
    fn new(lens: &Lens<'_>, table: TableId, order: Order, shown: &FixedBitSet) -> Self {
        let ranker = Ranker::new(lens, table, order.field, order.descending);
        let reader = &ranker.reader;
        let mut numbers: QuickMap<GroupKey<'_>> = QuickMap::default();
        // Ids of options, people and records are small and many rows share them: a list finds them faster than a map.
        let mut by_id: Vec<Option<u32>> = Vec::new();
        let mut firsts: Vec<usize> = Vec::new();
        let mut listed = |id: usize, row: usize, firsts: &mut Vec<usize>| {
            if by_id.len() <= id {
                by_id.resize(id + 1, None);
            }
            *by_id[id].get_or_insert_with(|| {
                firsts.push(row);
                small(firsts.len() - 1)
            })
        };
        let mut of_row: Vec<u32> = match reader.stored() {
            Some(Column::Choice(c)) => {
                shown.ones().map(|row| listed(c.get(row).copied().flatten().map_or(0, |o| o.get()) as usize, row, &mut firsts)).collect()
            }
            Some(Column::Person(c)) => {
                shown.ones().map(|row| listed(c.get(row).copied().flatten().map_or(0, |p| p.get()) as usize, row, &mut firsts)).collect()
            }
            _ => shown
                .ones()
                .map(|row| match group_key(reader, reader.cell(row), lens) {
                    GroupKey::Nothing => listed(0, row, &mut firsts),
                    GroupKey::Id(id) if id < 1 << 20 => listed(id as usize, row, &mut firsts),
                    key => *numbers.entry(key).or_insert_with(|| {
                        firsts.push(row);
                        small(firsts.len() - 1)
                    }),
                })
                .collect(),
        };
        let mut by_order: Vec<u32> = (0..small(firsts.len())).collect();
        by_order.sort_by(|a, b| {
            let (a, b) = (firsts[*a as usize], firsts[*b as usize]);
            ranker.key(a).cmp(&ranker.key(b)).then_with(|| ranker.compare(a, b)).then(a.cmp(&b))
        });
        let mut place = vec![0; firsts.len()];
        for (at, number) in by_order.iter().enumerate() {
            place[*number as usize] = small(at);
        }
        of_row.iter_mut().for_each(|number| *number = place[*number as usize]);
        let values = by_order.iter().map(|number| group_value(reader, reader.cell(firsts[*number as usize]))).collect();
        Self { of_row, values }
    }
}

/// Records with the same key stand in the same group: links by their first record, instants by their day.
fn group_key<'a>(reader: &Reader<'a>, cell: Cell<'a>, lens: &Lens<'_>) -> GroupKey<'a> {
    match cell {
        Cell::Empty => GroupKey::Nothing,
        Cell::Choice(option) => GroupKey::Id(option.get()),
        Cell::Person(person) => GroupKey::Id(person.get()),
        Cell::Links(records) => reader.visible(records).next().map_or(GroupKey::Nothing, |r| GroupKey::Id(r.get())),
        Cell::Date(date) => GroupKey::Number(super::rank::day_number(date)),
        Cell::Instant(instant) => GroupKey::Number(super::rank::day_number(instant.to_zoned(lens.clock().zone.clone()).date())),
        Cell::Number(number) => GroupKey::Decimal(number.normalize()),
        Cell::Text(text) => GroupKey::Text(fold(text)),
        Cell::Logical(yes) => GroupKey::Number(u64::from(yes)),
        Cell::Choices(options) => GroupKey::Ids(options.iter().map(|o| o.get()).collect()),
        Cell::People(people) => GroupKey::Ids(people.iter().map(|p| p.get()).collect()),
        Cell::Range(start, end) => GroupKey::Days(start, end),
        Cell::Web(web) => GroupKey::Text(fold(&web.address).into_owned().into()),
        Cell::Place(place) => GroupKey::Text(crate::value::place_text(place).into()),
        Cell::Json(json) => GroupKey::Text(json.to_string().into()),
        Cell::Checklist(items) => GroupKey::Number(items.iter().filter(|i| !i.done).count() as u64),
        Cell::Error(error) => GroupKey::Error(error),
        Cell::Files(files) => GroupKey::Number(files.len() as u64),
    }
}

fn group_value(reader: &Reader<'_>, cell: Cell<'_>) -> Value {
    match cell {
        Cell::Links(records) => reader.visible(records).next().map_or(Value::Empty, |first| Value::Links(vec![first])),
        other => other.to_value().tidy(),
    }
}

/// Figures over all rows and over each group, in one pass.
struct Tallies {
    customs: Customs,
    wanted: Vec<Tally>,
    kinds: Vec<Kind>,
    /// By tally, then by group.
    running: Vec<Vec<Running>>,
}

/// A figure while its numbers come in. The sum is kept as a whole number of units of its finest scale: exact, and as
/// fast as adding integers while the scale stays the same.
#[derive(Clone, Default)]
struct Running {
    count: u32,
    units: i128,
    scale: u32,
    /// Too large for 28 digits on the way.
    lost: bool,
    least: Option<Decimal>,
    most: Option<Decimal>,
}

impl Running {
    #[inline]
    fn add(&mut self, number: Decimal, figure: Figure) {
        match figure {
            Figure::Sum | Figure::Average => self.add_units(number.mantissa(), number.scale(), 1),
            Figure::Least => self.least = Some(self.least.map_or(number, |least| least.min(number))),
            Figure::Most => self.most = Some(self.most.map_or(number, |most| most.max(number))),
        }
    }

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

    fn merge(&mut self, other: &Running) {
        self.add_units(other.units, other.scale, other.count);
        self.lost |= other.lost;
        self.least = self.least.into_iter().chain(other.least).min();
        self.most = self.most.into_iter().chain(other.most).max();
    }

    fn sum(&self) -> Option<Decimal> {
        Decimal::try_from_i128_with_scale(self.units, self.scale).ok().filter(|_| !self.lost)
    }

    fn figure(&self, figure: Figure) -> Option<Decimal> {
        match figure {
            Figure::Sum => self.sum(),
            Figure::Average => self.sum()?.checked_div(Decimal::from(self.count)),
            Figure::Least => self.least,
            Figure::Most => self.most,
        }
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

impl Tallies {
    fn count(lens: &Lens<'_>, table: TableId, wanted: &[Tally], shown: &FixedBitSet, grouping: &Grouping) -> Self {
        let count = |tally: &Tally| {
            let reader = lens.reader(table, tally.field);
            let mut running = vec![Running::default(); grouping.groups.len()];
            let rows = shown.ones().zip(&grouping.of_row);
            match reader.stored() {
                Some(Column::Number(c)) => rows.for_each(|(row, group)| {
                    if let Some(Some(number)) = c.get(row) {
                        running[*group as usize].add(*number, tally.figure);
                    }
                }),
                _ => rows.for_each(|(row, group)| {
                    if let Cell::Number(number) = reader.cell(row) {
                        running[*group as usize].add(number, tally.figure);
                    }
                }),
            }
            running
        };
        let running = wanted.iter().map(count).collect();
        let plain = || Kind::Number { decimals: 0, unit: String::new() };
        let kind = |tally: &Tally| lens.ds.shown_kind(table, tally.field).map_or_else(plain, |(_, kind)| kind.clone());
        Self { customs: lens.clock.customs(), kinds: wanted.iter().map(kind).collect(), wanted: wanted.to_vec(), running }
    }

    fn figures(&self, running: impl Iterator<Item = Running>) -> Vec<TallyFigure> {
        let parts = self.wanted.iter().zip(running).zip(&self.kinds);
        let figure = |((tally, running), kind): ((&Tally, Running), &Kind)| {
            let value =
                running.figure(tally.figure).map(|v| if tally.figure == Figure::Average { v.round_dp(average_decimals(kind)) } else { v });
            TallyFigure { value, text: value.map(|v| kind.number_words(v, 0, self.customs)).unwrap_or_default() }
        };
        parts.map(figure).collect()
    }

    fn of_group(&self, number: usize) -> Vec<TallyFigure> {
        self.figures(self.running.iter().map(|groups| groups[number].clone()))
    }

    fn whole(&self) -> Vec<TallyFigure> {
        self.figures(self.running.iter().map(|groups| {
            let mut whole = Running::default();
            groups.iter().for_each(|group| whole.merge(group));
            whole
        }))
    }
}

/// A place among the rows of a table, of which there are fewer than 2³¹: their numbers are ids.
#[inline]
#[allow(clippy::cast_possible_truncation, reason = "rows are numbered by ids, and this runs once for each of a hundred thousand")]
fn small(place: usize) -> u32 {
    place as u32
}

#[cfg(test)]
mod tests {
    use super::number_pairs;
    use proptest::prelude::*;

    proptest! {
        /// Through a list or through a map, the numbers are the same, and in the pairs' order.
        #[test]
        fn few_pairs_and_many_are_numbered_alike(rows in prop::collection::vec((0_u32..7, 0_u32..5), 0..60)) {
            let (outer, inner): (Vec<u32>, Vec<u32>) = rows.iter().copied().unzip();
            let (mut few, mut many) = (outer.clone(), outer);
            let existing = number_pairs(&mut few, &inner, 5, 35, usize::MAX);
            prop_assert_eq!(&existing, &number_pairs(&mut many, &inner, 5, 35, 0));
            prop_assert_eq!(&few, &many);
            prop_assert!(existing.is_sorted());
            for (number, (outer, inner)) in few.iter().zip(&rows) {
                prop_assert_eq!(existing[*number as usize], (outer * 5 + inner) as usize);
            }
        }
    }
}
