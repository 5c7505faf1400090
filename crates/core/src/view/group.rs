//! Groups: which records have a value in common, as a tree with their counts and figures.

use super::{
    GroupBy, Lanes, TallyFigure,
    level::{Level, QuickMap},
    tally::Tallies,
    window::small,
    words::counted,
};
use crate::{
    access::Lens,
    id::TableId,
    value::{CellValue, Value},
};
use fixedbitset::FixedBitSet;
use serde::{Deserialize, Serialize};
use std::ops::Range;

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
    /// Groups rows; `lanes`: whose order the outermost values stand in.
    pub(super) fn new(lens: &Lens<'_>, table: TableId, by: &[GroupBy], lanes: Option<&Lanes>, shown: &FixedBitSet) -> Self {
        let mut of_row = vec![0; shown.count_ones(..)];
        let mut paths: Vec<Vec<usize>> = vec![Vec::new()];
        let mut levels: Vec<Level> = Vec::with_capacity(by.len());
        for order in by {
            let mut level = Level::new(lens, table, *order, shown);
            if let Some(lanes) = lanes.filter(|lanes| levels.is_empty() && !lanes.order.is_empty()) {
                level.arrange(&lanes.places(&level.values));
            }
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

    /// Of each level, its values.
    pub(super) fn levels(&self) -> &[Level] {
        &self.levels
    }

    /// Of each innermost group, the place of its value at each level, and how many rows it has.
    pub(super) fn innermost(&self) -> &[(Vec<usize>, usize)] {
        &self.innermost
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
