//! Rows in the order of a view: whole where few are wanted of many, never.

use super::{
    own::OwnOrder,
    rank::{EMPTY, Ranker},
};
use crate::value::{Cell, alike, text_key, text_key_after};
use std::{cmp::Ordering, ops::Range};

/// A row on its way into order.
#[derive(Clone, Copy)]
pub(super) struct Item {
    pub(super) group: u32,
    pub(super) row: u32,
    pub(super) key: u64,
}

/// By group, then by the sorts, or by hand where there is an order of one's own; then by number.
pub(super) fn order(a: &Item, b: &Item, sorts: &[Ranker<'_, '_>], own: Option<&OwnOrder>) -> Ordering {
    let first = (a.group, a.key).cmp(&(b.group, b.key));
    first.then_with(|| {
        let (row_a, row_b) = (a.row as usize, b.row as usize);
        let later = |(place, sort): (usize, &Ranker<'_, '_>)| {
            let keys = if place == 0 { Ordering::Equal } else { sort.key(row_a).cmp(&sort.key(row_b)) };
            keys.then_with(|| sort.compare(row_a, row_b))
        };
        let sorted = sorts.iter().enumerate().map(later).find(|o| o.is_ne());
        sorted.or_else(|| own.map(|own| own.compare(row_a, row_b))).unwrap_or(Ordering::Equal).then(row_a.cmp(&row_b))
    })
}

/// How many bits of their keys are alike where texts are told apart by what comes later.
const ALIKE_BITS: u32 = 24;

/// Tells texts that begin alike apart by what comes behind that (*FR-2026-0007*): their keys would be the same, and each
/// comparison one of whole texts.
pub(super) fn sharpen(items: &mut [Item], first: &Ranker<'_, '_>) {
    let text = |item: &Item| if let Cell::Text(text) = first.reader.cell(item.row as usize) { Some(text) } else { None };
    let Some(one) = items.iter().find_map(text) else { return };
    let key = first.turned(text_key(one));
    let differs = items.iter().filter(|item| item.key < EMPTY - 1).fold(0, |all, item| all | (item.key ^ key));
    if differs.leading_zeros() < ALIKE_BITS {
        return;
    }
    let shared = items.iter().filter_map(text).map(|other| alike(one, other)).min().unwrap_or(0);
    for item in items {
        if let Some(text) = text(item) {
            item.key = first.turned(text_key_after(text, shared));
        }
    }
}

/// The items at these places of the whole order, in order, without ordering the rest.
pub(super) fn sort_window<'i>(items: &'i mut [Item], rows: &Range<usize>, compare: impl Fn(&Item, &Item) -> Ordering) -> &'i [Item] {
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

/// A place among the rows of a table, of which there are fewer than 2³¹: their numbers are ids.
#[inline]
#[allow(clippy::cast_possible_truncation, reason = "rows are numbered by ids, and this runs once for each of a hundred thousand")]
pub(super) fn small(place: usize) -> u32 {
    place as u32
}
