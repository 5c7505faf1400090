//! Groups: which records have a value in common, as a tree with their counts and figures.

use super::{
    Bucket, GroupBy, TallyFigure,
    rank::{Ranker, day_number},
    tally::Tallies,
    window::small,
    words::counted,
};
use crate::{
    access::Lens,
    dataset::{Column, Reader},
    id::TableId,
    schema::Kind,
    value::{Cell, CellValue, Value, fold, natural_cmp},
};
use fixedbitset::FixedBitSet;
use jiff::civil::Date;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::{
    cmp::Ordering,
    collections::HashMap,
    hash::{BuildHasherDefault, Hasher},
    ops::Range,
};

/// One group of records, with the groups within it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "openapi", schema(no_recursion))]
pub struct Group {
    /// What its records have in common; of days in runs, the first day of the run.
    pub value: CellValue,
    /// The same, as people read it; empty for no value.
    pub text: String,
    pub count: usize,
    /// The same in words: *3 faults*.
    pub counted: String,
    pub tallies: Vec<TallyFigure>,
    /// Of a lane with a limit in days, how many of its records have stood there longer.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stuck: Option<usize>,
    /// A lane that the view's condition leaves out: what is put there leaves the view.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub outside: bool,
    /// In order. Empty at the innermost level.
    pub within: Vec<Group>,
}

/// Groups that no record is in are shown of at most so many values of a field, and where a level would have at most so many in all.
const MOST_EMPTY: usize = 100;

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

/// The groups that a view's rows fall into, the innermost numbered in their order.
pub(super) struct Grouping {
    /// For each row shown, in row order, the number of its innermost group.
    pub(super) of_row: Vec<u32>,
    levels: Vec<Level>,
    /// For each innermost group, the place of its value at each level, and how many rows it has.
    innermost: Vec<(Vec<usize>, usize)>,
}

impl Grouping {
    pub(super) fn new(lens: &Lens<'_>, table: TableId, by: &[GroupBy], shown: &FixedBitSet) -> Self {
        let mut of_row = vec![0; shown.count_ones(..)];
        let mut paths: Vec<Vec<usize>> = vec![Vec::new()];
        let mut levels: Vec<Level> = Vec::with_capacity(by.len());
        for order in by {
            let mut level = Level::new(lens, table, *order, shown);
            let width = level.values.len().max(1);
            let inner = std::mem::take(&mut level.of_row);
            if levels.is_empty() {
                of_row = inner;
                paths = (0..level.values.len()).map(|place| vec![place]).collect();
            } else {
                let existing = number_pairs(&mut of_row, &inner, width, paths.len() * width, FEW_PAIRS);
                let longer = |pair: &usize| paths[pair / width].iter().copied().chain([pair % width]).collect();
                paths = existing.iter().map(longer).collect();
            }
            levels.push(level);
        }
        let mut counts = vec![0; paths.len()];
        of_row.iter().for_each(|group| counts[*group as usize] += 1);
        Self { of_row, levels, innermost: paths.into_iter().zip(counts).collect() }
    }

    /// How many innermost groups there are; with no groups, one that all rows are in.
    pub(super) fn len(&self) -> usize {
        self.innermost.len()
    }

    /// Where the rows of each innermost group begin in the view's order, and at last how many there are.
    pub(super) fn starts(&self) -> Vec<usize> {
        let mut at = 0;
        let ends = self.innermost.iter().map(|(_, count)| {
            at += count;
            at
        });
        std::iter::once(0).chain(ends.collect::<Vec<_>>()).collect()
    }

    /// The groups as a tree.
    pub(super) fn tree(&self, lens: &Lens<'_>, table: TableId, tallies: &Tallies<'_, '_>) -> Vec<Group> {
        if self.levels.is_empty() { Vec::new() } else { self.within(lens, table, tallies, 0, 0..self.innermost.len()) }
    }

    /// For each row, the place of its outermost group's value.
    pub(super) fn outermost(&self) -> impl Iterator<Item = usize> {
        self.of_row.iter().map(|group| self.innermost[*group as usize].0.first().copied().unwrap_or(0))
    }

    /// The values of the outermost level.
    pub(super) fn outermost_values(&self) -> &[Value] {
        self.levels.first().map_or(&[], |level| &level.values)
    }

    /// The groups of one level, of the innermost groups in a range.
    fn within(&self, lens: &Lens<'_>, table: TableId, tallies: &Tallies<'_, '_>, depth: usize, inner: Range<usize>) -> Vec<Group> {
        let Some(level) = self.levels.get(depth) else { return Vec::new() };
        let mut groups = Vec::new();
        let mut at = inner.start;
        for (place, value) in level.values.iter().enumerate() {
            let from = at;
            while at < inner.end && self.innermost[at].0[depth] == place {
                at += 1;
            }
            // Of few values, those are shown too that no record has.
            if from == at && !level.empty {
                continue;
            }
            let count = self.innermost[from..at].iter().map(|(_, count)| count).sum();
            groups.push(Group {
                value: value.clone(),
                text: level.text(lens, table, value),
                count,
                counted: counted(lens, table, count),
                tallies: tallies.over(from..at),
                stuck: None,
                outside: false,
                within: self.within(lens, table, tallies, depth + 1, from..at),
            });
        }
        groups
    }
}

/// One level of groups: the different values of a field, in order.
pub(super) struct Level {
    /// For each row shown, the place of its value.
    pub(super) of_row: Vec<u32>,
    pub(super) values: Vec<Value>,
    by: GroupBy,
    /// Values that no record has are shown too.
    empty: bool,
}

#[derive(PartialEq, Eq, Hash)]
enum GroupKey<'a> {
    Nothing,
    Id(u32),
    Number(u64),
    Text(std::borrow::Cow<'a, str>),
    Decimal(Decimal),
    Ids(Vec<u32>),
    Days(Date, Date),
    Error(crate::value::CalcError),
}

impl Level {
    pub(super) fn new(lens: &Lens<'_>, table: TableId, by: GroupBy, shown: &FixedBitSet) -> Self {
        let ranker = Ranker::new(lens, table, by.field, by.descending);
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
                .map(|row| match group_key(reader, reader.cell(row), by.by, lens) {
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
        let values = by_order.iter().map(|number| group_value(reader, reader.cell(firsts[*number as usize]), by.by, lens)).collect();
        let mut level = Self { of_row, values, by, empty: false };
        if by.empty {
            level.add_empty(lens, table);
        }
        level
    }

    /// Puts in the values that no record has, where there are few.
    fn add_empty(&mut self, lens: &Lens<'_>, table: TableId) {
        let possible = possible_values(lens, table, self.by);
        if possible.len() > MOST_EMPTY {
            return;
        }
        self.empty = true;
        let mut all: Vec<(Value, Option<u32>)> = self.values.drain(..).zip((0..).map(Some)).collect();
        for value in possible {
            if all.iter().any(|(known, _)| *known == value) {
                continue;
            }
            let at = all.iter().position(|(known, _)| order_of(lens, table, self.by, &value, known).is_lt()).unwrap_or(all.len());
            all.insert(at, (value, None));
        }
        let mut place = vec![0; all.len()];
        for (now, (_, before)) in all.iter().enumerate() {
            if let Some(before) = before {
                place[*before as usize] = small(now);
            }
        }
        self.of_row.iter_mut().for_each(|number| *number = place[*number as usize]);
        self.values = all.into_iter().map(|(value, _)| value).collect();
    }

    fn text(&self, lens: &Lens<'_>, table: TableId, value: &Value) -> String {
        match value {
            Value::Date(start) if !self.by.by.is_value() => self.by.by.text(*start, lens.clock.customs()),
            other => lens.cell_text(table, self.by.field, other.as_cell()),
        }
    }
}

/// The values that a field can have, where they can be told: the options of a choice, the records of a table that it links to.
fn possible_values(lens: &Lens<'_>, table: TableId, by: GroupBy) -> Vec<Value> {
    let Some((_, kind)) = lens.ds.shown_kind(table, by.field) else { return Vec::new() };
    let home = lens.ds.table(table).and_then(|home| home.def.field(by.field));
    let (typed, required) = home.map_or((false, false), |def| (def.kind.takes_input(), def.required));
    let mut values: Vec<Value> = match kind.shows() {
        Kind::Choice { options, .. } => options.iter().map(|option| Value::Choice(option.id)).collect(),
        Kind::YesNo => vec![Value::Logical(false), Value::Logical(true)],
        Kind::Rating { most } => (1..=*most).map(|stars| Value::Number(stars.into())).collect(),
        Kind::Link(link) if typed => lens.records(link.to).take(MOST_EMPTY + 1).map(|record| Value::Links(vec![record])).collect(),
        Kind::Person if typed => lens.ds.people.here().take(MOST_EMPTY + 1).map(|person| Value::Person(person.id)).collect(),
        _ => Vec::new(),
    };
    if typed && !required && !values.is_empty() {
        values.push(Value::Empty);
    }
    values
}

/// The order of two values of a field, as [`Ranker`] orders the rows that have them.
fn order_of(lens: &Lens<'_>, table: TableId, by: GroupBy, a: &Value, b: &Value) -> Ordering {
    let options = lens.ds.shown_kind(table, by.field).map_or(&[][..], |(_, kind)| kind.options());
    let place = |option| options.iter().position(|one| one.id == option);
    let order = match (a, b) {
        (Value::Empty, Value::Empty) => return Ordering::Equal,
        (Value::Empty, _) => return Ordering::Greater,
        (_, Value::Empty) => return Ordering::Less,
        (Value::Choice(a), Value::Choice(b)) => place(*a).cmp(&place(*b)),
        (Value::Logical(a), Value::Logical(b)) => a.cmp(b),
        (Value::Number(a), Value::Number(b)) => a.cmp(b),
        _ => natural_cmp(&lens.cell_text(table, by.field, a.as_cell()), &lens.cell_text(table, by.field, b.as_cell())),
    };
    if by.descending { order.reverse() } else { order }
}

/// Records with the same key stand in the same group: links by their first record, instants by their day.
fn group_key<'a>(reader: &Reader<'a>, cell: Cell<'a>, by: Bucket, lens: &Lens<'_>) -> GroupKey<'a> {
    match cell {
        Cell::Empty => GroupKey::Nothing,
        Cell::Choice(option) => GroupKey::Id(option.get()),
        Cell::Person(person) => GroupKey::Id(person.get()),
        Cell::Links(records) => reader.visible(records).next().map_or(GroupKey::Nothing, |r| GroupKey::Id(r.get())),
        Cell::Date(date) => GroupKey::Number(day_number(by.start(date))),
        Cell::Instant(instant) => GroupKey::Number(day_number(by.start(day_of(instant, lens)))),
        Cell::Range(start, _) if !by.is_value() => GroupKey::Number(day_number(by.start(start))),
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

fn day_of(instant: jiff::Timestamp, lens: &Lens<'_>) -> Date {
    instant.to_zoned(lens.clock().zone.clone()).date()
}

fn group_value(reader: &Reader<'_>, cell: Cell<'_>, by: Bucket, lens: &Lens<'_>) -> Value {
    match cell {
        Cell::Date(date) => Value::Date(by.start(date)),
        Cell::Range(start, _) if !by.is_value() => Value::Date(by.start(start)),
        Cell::Instant(instant) if !by.is_value() => Value::Date(by.start(day_of(instant, lens))),
        Cell::Links(records) => reader.visible(records).next().map_or(Value::Empty, |first| Value::Links(vec![first])),
        other => other.to_value().tidy(),
    }
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
