//! One level of groups: which values a field has, and which row has which of them.

use super::{
    GroupBy,
    rank::{Ranker, day_number},
    window::small,
};
use crate::{
    access::Lens,
    dataset::{Column, Reader},
    id::TableId,
    schema::Kind,
    value::{Cell, Value, fold, natural_cmp},
};
use fixedbitset::FixedBitSet;
use jiff::civil::Date;
use rust_decimal::Decimal;
use std::{
    cmp::Ordering,
    collections::HashMap,
    hash::{BuildHasherDefault, Hasher},
};

/// Groups that no record is in are shown of at most so many values of a field, and where a level would have at most so many in all.
const MOST_EMPTY: usize = 100;

/// Multiplies and rotates: the keys are ids and days, not anything a stranger chooses to collide.
#[derive(Default)]
pub(super) struct QuickHasher(u64);

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

pub(super) type QuickMap<K> = HashMap<K, u32, BuildHasherDefault<QuickHasher>>;

/// One level of groups: the different values of a field, in order.
pub(super) struct Level {
    /// For each row shown, the place of its value.
    pub(super) of_row: Vec<u32>,
    pub(super) values: Vec<Value>,
    by: GroupBy,
    /// Values that no record has are shown too.
    pub(super) empty: bool,
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
        let naming = lens.naming(table, by.field);
        let ranker = Ranker::new(naming, table, by.field, by.descending);
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
            _ => {
                // In which run a day lies takes longer to tell than to remember, and many rows share their day.
                let mut runs: QuickMap<u64> = QuickMap::default();
                let mut number = |cell, row: usize, firsts: &mut Vec<usize>| match group_key(reader, cell, by, lens) {
                    GroupKey::Nothing => listed(0, row, firsts),
                    GroupKey::Id(id) if id < 1 << 20 => listed(id as usize, row, firsts),
                    key => *numbers.entry(key).or_insert_with(|| {
                        firsts.push(row);
                        small(firsts.len() - 1)
                    }),
                };
                let of = |row: usize| match reader.cell(row) {
                    Cell::Date(day) if !by.by.is_value() => {
                        let day = day_number(day);
                        if let Some(known) = runs.get(&day) {
                            return *known;
                        }
                        let new = number(reader.cell(row), row, &mut firsts);
                        runs.insert(day, new);
                        new
                    }
                    cell => number(cell, row, &mut firsts),
                };
                shown.ones().map(of).collect()
            }
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
        let values = by_order.iter().map(|number| group_value(reader, reader.cell(firsts[*number as usize]), by, lens)).collect();
        let mut level = Self { of_row, values, by, empty: false };
        if by.empty {
            level.add_empty(lens, table);
        }
        level
    }

    /// Puts in the values that no record has, where there are few.
    fn add_empty(&mut self, lens: &Lens<'_>, table: TableId) {
        let possible = possible_values(lens, table, self.by, true);
        if possible.len() > MOST_EMPTY {
            return;
        }
        self.empty = true;
        let all = self.with(lens, table, possible);
        let mut place = vec![0; all.len()];
        for (now, (_, before)) in all.iter().enumerate() {
            if let Some(before) = before {
                place[*before as usize] = small(now);
            }
        }
        self.of_row.iter_mut().for_each(|number| *number = place[*number as usize]);
        self.values = all.into_iter().map(|(value, _)| value).collect();
    }

    /// Its values, each with its place, and others in between that have none.
    fn with(&self, lens: &Lens<'_>, table: TableId, others: Vec<Value>) -> Vec<(Value, Option<u32>)> {
        let mut all: Vec<(Value, Option<u32>)> = self.values.iter().cloned().zip((0..).map(Some)).collect();
        for value in others {
            if all.iter().any(|(known, _)| *known == value) {
                continue;
            }
            let at = all.iter().position(|(known, _)| order_of(lens, table, self.by, &value, known).is_lt()).unwrap_or(all.len());
            all.insert(at, (value, None));
        }
        all
    }

    /// Its values, each with its place, and where they are few those that no record has, whoever may write them, and the runs between
    /// the first and the last.
    pub(super) fn with_empty(&self, lens: &Lens<'_>, table: TableId) -> Vec<(Value, Option<u32>)> {
        let mut others = possible_values(lens, table, self.by, false);
        others.extend(self.between());
        if others.len() > MOST_EMPTY {
            others.clear();
        }
        // Nothing is no value that one looks for in vain.
        others.retain(|value| *value != Value::Empty);
        self.with(lens, table, others)
    }

    /// The runs of days or numbers between the first and the last that there is.
    fn between(&self) -> Vec<Value> {
        let runs = |value: &Value| match (value, self.by.step) {
            (Value::Date(day), _) if !self.by.by.is_value() => {
                self.by.by.days(*day).1.tomorrow().ok().map(|next| Value::Date(self.by.by.start(next)))
            }
            (Value::Number(number), Some(step)) => number.checked_add(step).map(|next| Value::Number(next.normalize())),
            _ => None,
        };
        let order = |a: &&Value, b: &&Value| match (a, b) {
            (Value::Date(a), Value::Date(b)) => a.cmp(b),
            (Value::Number(a), Value::Number(b)) => a.cmp(b),
            _ => Ordering::Equal,
        };
        let in_runs = || self.values.iter().filter(|value| runs(value).is_some());
        let (Some(first), Some(last)) = (in_runs().min_by(order), in_runs().max_by(order)) else { return Vec::new() };
        std::iter::successors(Some(first.clone()), |value| runs(value).filter(|_| value != last)).take(MOST_EMPTY + 1).collect()
    }

    /// Puts its values into another order: for each place, the one that stands there now.
    pub(super) fn arrange(&mut self, by_order: &[usize]) {
        let mut place = vec![0; by_order.len()];
        for (now, before) in by_order.iter().enumerate() {
            place[*before] = small(now);
        }
        self.of_row.iter_mut().for_each(|number| *number = place[*number as usize]);
        self.values = by_order.iter().map(|before| self.values[*before].clone()).collect();
    }

    pub(super) fn by(&self) -> GroupBy {
        self.by
    }

    pub(super) fn text(&self, lens: &Lens<'_>, table: TableId, value: &Value) -> String {
        let lens = lens.naming(table, self.by.field);
        match value {
            Value::Date(start) if !self.by.by.is_value() => self.by.by.text(*start, lens.clock.customs()),
            Value::Number(from) if self.by.step.is_some() => {
                let shown = |number: Decimal| lens.cell_text(table, self.by.field, crate::value::Cell::Number(number));
                let to = self.by.step.and_then(|step| from.checked_add(step));
                to.map_or_else(|| shown(*from), |to| format!("{} to under {}", shown(*from), shown(to)))
            }
            other => lens.cell_text(table, self.by.field, other.as_cell()),
        }
    }
}

/// The values that a field can have, where they can be told: the options of a choice, the records of a table that it links to.
///
/// `takes`: only those that it takes from whoever writes in it; the others have people and records of computed fields, too.
fn possible_values(lens: &Lens<'_>, table: TableId, by: GroupBy, takes: bool) -> Vec<Value> {
    let Some((_, kind)) = lens.ds.shown_kind(table, by.field) else { return Vec::new() };
    let home = lens.ds.table(table).and_then(|home| home.def.field(by.field));
    let (typed, required) = home.map_or((false, false), |def| (def.kind.takes_input(), def.required));
    let mut values: Vec<Value> = match kind.shows() {
        Kind::Choice { options, .. } => options.iter().map(|option| Value::Choice(option.id)).collect(),
        Kind::YesNo => vec![Value::Logical(false), Value::Logical(true)],
        Kind::Rating { most } => (1..=*most).map(|stars| Value::Number(stars.into())).collect(),
        Kind::Link(link) if typed || !takes && lens.opens(link.to) => {
            lens.records(link.to).take(MOST_EMPTY + 1).map(|record| Value::Links(vec![record])).collect()
        }
        // Who works here is not told to whoever comes from outside.
        Kind::Person if typed && takes && !lens.is_outside() => {
            lens.ds.people.here().take(MOST_EMPTY + 1).map(|person| Value::Person(person.id)).collect()
        }
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
        (Value::Date(a), Value::Date(b)) => a.cmp(b),
        _ => {
            let lens = lens.naming(table, by.field);
            natural_cmp(&lens.cell_text(table, by.field, a.as_cell()), &lens.cell_text(table, by.field, b.as_cell()))
        }
    };
    if by.descending { order.reverse() } else { order }
}

/// Records with the same key stand in the same group: links by their first record, instants by their day.
fn group_key<'a>(reader: &Reader<'a>, cell: Cell<'a>, group: GroupBy, lens: &Lens<'_>) -> GroupKey<'a> {
    let by = group.by;
    match cell {
        Cell::Empty => GroupKey::Nothing,
        Cell::Choice(option) => GroupKey::Id(option.get()),
        Cell::Person(person) => GroupKey::Id(person.get()),
        Cell::Links(records) => reader.visible(records).next().map_or(GroupKey::Nothing, |r| GroupKey::Id(r.get())),
        Cell::Date(date) => GroupKey::Number(day_number(by.start(date))),
        Cell::Instant(instant) => GroupKey::Number(day_number(by.start(day_of(instant, lens)))),
        Cell::Range(start, _) if !by.is_value() => GroupKey::Number(day_number(by.start(start))),
        Cell::Number(number) => GroupKey::Decimal(step_start(number, group.step)),
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

/// The number with which the run of numbers begins in which this one lies.
fn step_start(number: Decimal, step: Option<Decimal>) -> Decimal {
    let runs = step.and_then(|step| number.checked_div(step)?.floor().checked_mul(step));
    runs.unwrap_or(number).normalize()
}

fn group_value(reader: &Reader<'_>, cell: Cell<'_>, group: GroupBy, lens: &Lens<'_>) -> Value {
    let by = group.by;
    match cell {
        Cell::Number(number) if group.step.is_some() => Value::Number(step_start(number, group.step)),
        Cell::Date(date) => Value::Date(by.start(date)),
        Cell::Range(start, _) if !by.is_value() => Value::Date(by.start(start)),
        Cell::Instant(instant) if !by.is_value() => Value::Date(by.start(day_of(instant, lens))),
        Cell::Links(records) => reader.visible(records).next().map_or(Value::Empty, |first| Value::Links(vec![first])),
        other => other.to_value().tidy(),
    }
}
