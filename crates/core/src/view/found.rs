//! Running a view: which records there are, and of these what is told in one go (counts, groups, figures) and slice by slice (rows).

use super::{
    Group, Query, Shape, TallyFigure,
    group::Grouping,
    own::OwnOrder,
    rank::Ranker,
    tally::Tallies,
    window::{Item, order, sharpen, small, sort_window},
    words::counted,
};
use crate::{
    access::Lens,
    condition::{Check, Condition},
    id::{FieldId, RecordId, TableId},
    value::Value,
};
use fixedbitset::FixedBitSet;
use rust_decimal::Decimal;
use std::ops::Range;

/// Which part of the rows is wanted, and which records are wanted whether or not the condition holds.
#[derive(Clone, Debug, Default)]
pub struct Window<'a> {
    /// Places in the view's order, from 0.
    pub rows: Range<usize>,
    /// Records that stay in sight, if the asker may see them: new ones that the condition leaves out.
    pub keep: &'a [RecordId],
    /// The view's own order, where it has one.
    pub own: Option<&'a OwnOrder>,
}

/// What a view shows: all that is told once, and one window of its rows.
#[derive(Clone, Debug, PartialEq)]
pub struct Outcome {
    pub total: usize,
    pub matching: usize,
    pub counted: String,
    pub rows: usize,
    /// The records in the window, in order.
    pub window: Vec<RecordId>,
    /// Of the records in the window, those kept in sight though the condition leaves them out.
    pub outside: Vec<RecordId>,
    /// Where the kept records stand, from 0.
    pub kept: Vec<(RecordId, usize)>,
    pub groups: Vec<Group>,
    pub tallies: Vec<TallyFigure>,
}

/// What is told of a view once, whichever of its rows are looked at.
#[derive(Clone, Debug, PartialEq)]
pub struct Whole {
    /// Records of the table in the asker's reach.
    pub total: usize,
    /// Of these, those for which the condition holds.
    pub matching: usize,
    /// The same in words: *42 faults*.
    pub counted: String,
    /// Rows in the view's order: those that match and those kept.
    pub rows: usize,
    /// The groups as a tree, in order. Empty where the view has no groups.
    pub groups: Vec<Group>,
    pub tallies: Vec<TallyFigure>,
    /// On plates that draw a length, the longest of them.
    pub longest: Option<Decimal>,
}

/// Some rows of a view.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Slice {
    /// In the view's order.
    pub records: Vec<RecordId>,
    /// Of these, those kept in sight though the condition leaves them out.
    pub outside: Vec<RecordId>,
}

/// The records of a view, as they lie in their groups; not in order yet.
pub struct Found<'a, 'd> {
    query: &'a Query,
    lens: &'a Lens<'d>,
    table: TableId,
    matching: usize,
    kept: Vec<RecordId>,
    outside: Vec<RecordId>,
    shown: FixedBitSet,
    grouping: Grouping,
    /// The view's own order. It rests where the view is sorted.
    own: Option<&'a OwnOrder>,
}

impl Query {
    /// Runs the view over what the lens gives. Costs one pass over the table; only the window is put in order whole.
    pub fn run(&self, lens: &Lens<'_>, table: TableId, window: &Window<'_>) -> Outcome {
        self.found(lens, table, window.keep).ordered(window.own).outcome(&window.rows)
    }

    /// Of chosen records those that the asker sees, in the view's order and groups, whatever its condition.
    pub(crate) fn run_over(&self, lens: &Lens<'_>, table: TableId, chosen: &[RecordId], own: Option<&OwnOrder>) -> Outcome {
        let mut shown = FixedBitSet::new();
        chosen.iter().filter(|record| lens.sees(table, **record)).for_each(|record| shown.grow_and_insert(record.row()));
        self.among(lens, table, shown).ordered(own).outcome(&(0..usize::MAX))
    }

    /// The records of the view: those for which its condition holds, and those kept in sight, in their groups.
    pub fn found<'a, 'd>(&'a self, lens: &'a Lens<'d>, table: TableId, keep: &[RecordId]) -> Found<'a, 'd> {
        let mut shown = self.condition.matching(lens, table);
        let matching = shown.count_ones(..);
        let kept: Vec<RecordId> = keep.iter().copied().filter(|r| lens.sees(table, *r)).collect();
        let outside: Vec<RecordId> = kept.iter().copied().filter(|r| !shown.contains(r.row())).collect();
        for record in &outside {
            shown.grow_and_insert(record.row());
        }
        let grouping = {
            let lanes = if let Shape::Lanes(lanes) = &self.shape { Some(lanes) } else { None };
            Grouping::new(lens, table, &self.grouping(), lanes, &shown)
        };
        Found { query: self, lens, table, matching, kept, outside, shown, grouping, own: None }
    }

    /// Of rows that are found already, the same.
    pub(super) fn among<'a, 'd>(&'a self, lens: &'a Lens<'d>, table: TableId, shown: FixedBitSet) -> Found<'a, 'd> {
        let (kept, outside, matching) = (Vec::new(), Vec::new(), shown.count_ones(..));
        let grouping = Grouping::new(lens, table, &self.grouping(), None, &shown);
        Found { query: self, lens, table, matching, kept, outside, shown, grouping, own: None }
    }
}

impl Query {
    /// Of records that are given, those that the asker sees, in the view's order (without one, as they are given), and its figures
    /// over them.
    pub(crate) fn over(&self, lens: &Lens<'_>, table: TableId, records: &[RecordId]) -> (Vec<RecordId>, Vec<TallyFigure>) {
        let seen: Vec<RecordId> = records.iter().copied().filter(|record| lens.sees(table, *record)).collect();
        let mut shown = FixedBitSet::new();
        seen.iter().for_each(|record| shown.grow_and_insert(record.row()));
        let found = self.among(lens, table, shown);
        let figures = if self.tallies.is_empty() { Vec::new() } else { found.whole().tallies };
        if self.sorts.is_empty() {
            return (seen, figures);
        }
        let (mut slices, _) = found.slices(std::slice::from_ref(&(0..seen.len())));
        (slices.pop().unwrap_or_default().records, figures)
    }
}

impl<'a> Found<'a, '_> {
    /// All that is told of it, and the rows at these places.
    fn outcome(&self, rows: &Range<usize>) -> Outcome {
        let Whole { total, matching, counted, rows: all, groups, tallies, longest: _ } = self.whole();
        let (mut slices, kept) = self.slices(std::slice::from_ref(rows));
        let Slice { records, outside } = slices.pop().unwrap_or_default();
        Outcome { total, matching, counted, rows: all, window: records, outside, kept, groups, tallies }
    }

    /// In an order by hand, where there is one and nothing is sorted.
    #[must_use]
    pub fn ordered(self, own: Option<&'a OwnOrder>) -> Self {
        Self { own: own.filter(|_| self.query.sorts.is_empty()), ..self }
    }
    /// What is told once.
    pub fn whole(&self) -> Whole {
        let (of_row, innermost) = (&self.grouping.of_row, self.grouping.len());
        let tallies = Tallies::new(self.lens, self.table, &self.query.tallies, &self.shown, of_row, innermost);
        let mut groups = self.grouping.tree(self.lens, self.table, &tallies);
        self.count_stuck(&mut groups);
        if let Shape::Lanes(lanes) = &self.query.shape {
            groups.iter_mut().for_each(|lane| lane.outside = lane.count == 0 && leaves_out(&self.query.condition, lanes.by, &lane.value));
        }
        Whole {
            total: self.lens.count(self.table),
            matching: self.matching,
            counted: counted(self.lens, self.table, self.matching),
            rows: self.grouping.of_row.len(),
            groups,
            tallies: tallies.over(0..innermost),
            longest: self.query.longest(self.lens, self.table, self.shown.ones()),
        }
    }

    /// Of lanes with a limit in days, how many records have stood there longer.
    fn count_stuck(&self, lanes: &mut [Group]) {
        let (Shape::Lanes(shape), Some(standing)) = (&self.query.shape, self.query.standing(self.lens, self.table)) else { return };
        let days = |value: &Value| shape.limits.iter().find(|limit| limit.lane == *value)?.days;
        let limits: Vec<Option<u32>> = self.grouping.outermost_values().iter().map(days).collect();
        let mut stuck = vec![0; limits.len()];
        for (row, lane) in self.shown.ones().zip(self.grouping.outermost()) {
            if limits[lane].is_some_and(|most| standing.days(row).is_some_and(|days| days > most)) {
                stuck[lane] += 1;
            }
        }
        for lane in lanes {
            lane.stuck = days(&lane.value).and_then(|_| {
                let at = self.grouping.outermost_values().iter().position(|value| *value == lane.value)?;
                stuck.get(at).copied()
            });
        }
    }

    /// The rows at these places of the view's order, and where the records that stay in sight stand.
    pub fn slices(&self, wanted: &[Range<usize>]) -> (Vec<Slice>, Vec<(RecordId, usize)>) {
        let sorts = &self.query.sorts;
        let sorts: Vec<Ranker<'_, '_>> = sorts.iter().map(|s| Ranker::new(self.lens, self.table, s.field, s.descending)).collect();
        // What has stood longest in its lane stands first in it, where nothing else is said.
        let standing = self.query.standing(self.lens, self.table).filter(|_| sorts.is_empty() && self.own.is_none());
        let since = |row| standing.as_ref()?.since(row).map(|at| at.as_second().cast_unsigned() ^ (1 << 63));
        let unsorted = |row| self.own.map_or_else(|| since(row).unwrap_or(0), |own| own.key(row));
        let key = |row| sorts.first().map_or_else(|| unsorted(row), |s| s.key(row));
        // Where only counts and figures are asked for, nothing is put in order.
        let asked = if wanted.iter().all(Range::is_empty) && self.kept.is_empty() { 0 } else { self.grouping.of_row.len() };
        let of_row = self.shown.ones().zip(&self.grouping.of_row).take(asked);
        let mut items: Vec<Item> = of_row.map(|(row, group)| Item { group: *group, row: small(row), key: key(row) }).collect();
        if let Some(first) = sorts.first() {
            sharpen(&mut items, first);
        }
        let compare = |a: &Item, b: &Item| order(a, b, &sorts, self.own);
        let place = |record: &RecordId| {
            let at = items.iter().find(|i| i.row as usize == record.row())?;
            Some((*record, items.iter().filter(|i| compare(i, at).is_lt()).count()))
        };
        let kept = self.kept.iter().filter_map(place).collect();
        // Of many slices each is looked for among the rows of its groups alone.
        let starts = if wanted.len() > 1 { self.grouping.starts() } else { vec![0, items.len()] };
        if wanted.len() > 1 {
            items.sort_by_key(|item| item.group);
        }
        let mut slice = |rows: &Range<usize>| {
            let end = rows.end.min(items.len());
            let block_start = starts.iter().copied().filter(|start| *start <= rows.start).max().unwrap_or(0);
            let block_end = starts.iter().copied().filter(|start| *start >= end).min().unwrap_or(items.len());
            let block = items.get_mut(block_start..block_end.max(block_start)).unwrap_or_default();
            let within = rows.start.saturating_sub(block_start)..end.saturating_sub(block_start);
            let records: Vec<RecordId> = sort_window(block, &within, compare).iter().map(|i| RecordId::at_row(i.row as usize)).collect();
            Slice { outside: self.outside.iter().copied().filter(|r| records.contains(r)).collect(), records }
        };
        (wanted.iter().map(&mut slice).collect(), kept)
    }
}

/// Whether a condition holds for no record of which a field has this value, as far as its own tests of the field say.
pub(crate) fn leaves_out(condition: &Condition, field: FieldId, value: &Value) -> bool {
    match condition {
        Condition::Test(test) if test.path == [field] => match (&test.check, value) {
            (Check::Option { not, any }, Value::Choice(option)) => any.contains(option) == *not,
            (Check::Yes, Value::Logical(yes)) => !yes,
            (Check::No, Value::Logical(yes)) => *yes,
            (Check::Filled, Value::Empty) => true,
            (Check::Empty, value) => *value != Value::Empty,
            _ => false,
        },
        Condition::Test(_) => false,
        Condition::All(parts) => parts.iter().any(|part| leaves_out(part, field, value)),
        Condition::Any(parts) => !parts.is_empty() && parts.iter().all(|part| leaves_out(part, field, value)),
    }
}
