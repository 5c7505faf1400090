//! What the cells of a chunk say, in small letters without accents and one behind the other: what words are looked for in.

use crate::value::{Attachment, Value, fold};
use fixedbitset::FixedBitSet;
use memchr::memmem::Finder;
use std::sync::Arc;

/// Stands between what two cells say, so that nothing is found across them. Nobody types it.
const BETWEEN: char = '\0';

/// How many cells are looked at one by one before the cell of a place is looked for among all.
const NEAR: usize = 4;

/// The folded text of some cells.
#[derive(Debug)]
pub(super) struct Said {
    text: Box<str>,
    /// Where each cell's part ends, in bytes, what stands between them included.
    ends: Box<[u32]>,
}

/// A cell that may say something in words of its own: not by the name of an option, a person or a record.
pub trait Say {
    /// Calls for each text in it.
    fn say<'a>(&'a self, say: &mut dyn FnMut(&'a str));
}

impl Say for Option<Arc<[Attachment]>> {
    fn say<'a>(&'a self, say: &mut dyn FnMut(&'a str)) {
        self.iter().flat_map(|files| files.iter()).for_each(|file| say(&file.name));
    }
}

impl Say for Value {
    fn say<'a>(&'a self, say: &mut dyn FnMut(&'a str)) {
        match self {
            Value::Text(text) => say(text),
            Value::Web(web) => {
                say(&web.title);
                say(&web.address);
            }
            Value::Place(place) => say(&place.label),
            Value::Checklist(items) => items.iter().for_each(|item| say(&item.text)),
            Value::Files(files) => files.iter().for_each(|file| say(&file.name)),
            Value::Empty
            | Value::Number(_)
            | Value::Logical(_)
            | Value::Date(_)
            | Value::Instant(_)
            | Value::Range(..)
            | Value::Choice(_)
            | Value::Choices(_)
            | Value::Person(_)
            | Value::People(_)
            | Value::Links(_)
            | Value::Json(_)
            | Value::Error(_) => {}
        }
    }
}

impl Said {
    pub(super) fn of<T: Say>(cells: &[T]) -> Self {
        let (mut text, mut ends) = (String::new(), Vec::with_capacity(cells.len()));
        cells.iter().for_each(|cell| put(cell, &mut text, &mut ends));
        Self { text: text.into(), ends: ends.into() }
    }

    /// The same of these cells, of which a few changed, or are new: only those are folded, the others copied.
    pub(super) fn after<T: Say>(&self, changed: &[usize], cells: &[T]) -> Self {
        let known = self.ends.len().min(cells.len());
        let mut places: Vec<usize> = changed.iter().copied().filter(|place| *place < known).chain(known..cells.len()).collect();
        places.sort_unstable();
        places.dedup();
        let (mut text, mut ends) = (String::with_capacity(self.text.len()), Vec::with_capacity(cells.len()));
        let mut at = 0;
        for place in places.into_iter().chain([cells.len()]) {
            let same = at..place.min(known);
            if let (Some(kept), false) = (self.ends.get(same.clone()), same.is_empty()) {
                let from = at.checked_sub(1).map_or(0, |before| self.ends[before]);
                let before = end_of(&text);
                text.push_str(&self.text[from as usize..self.ends[same.end.saturating_sub(1)] as usize]);
                ends.extend(kept.iter().map(|end| before.saturating_add(end.saturating_sub(from))));
            }
            if let Some(cell) = cells.get(place) {
                put(cell, &mut text, &mut ends);
            }
            at = place.saturating_add(1);
        }
        Self { text: text.into(), ends: ends.into() }
    }

    /// Marks the cells in which a word stands; the first of them is in this row.
    pub(super) fn mark(&self, finder: &Finder<'_>, first: usize, rows: &mut FixedBitSet) {
        let text = self.text.as_bytes();
        let (mut from, mut cell) = (0, 0_usize);
        while let Some(found) = finder.find(&text[from..]) {
            let at = from.saturating_add(found);
            let is_before = |end: &u32| (*end as usize) <= at;
            // What stands nearly everywhere stands in one of the next few; what is rare is looked for.
            let near = self.ends[cell..].iter().take(NEAR).take_while(|end| is_before(end)).count();
            cell = cell.saturating_add(near);
            if near == NEAR {
                cell = cell.saturating_add(self.ends[cell..].partition_point(is_before));
            }
            let Some(end) = self.ends.get(cell) else { return };
            rows.grow_and_insert(first.saturating_add(cell));
            from = *end as usize;
            cell = cell.saturating_add(1);
        }
    }

    pub(super) fn bytes(&self) -> usize {
        self.text.len().saturating_add(self.ends.len().saturating_mul(size_of::<u32>()))
    }
}

/// Puts what a cell says behind a text.
fn put<T: Say>(cell: &T, text: &mut String, ends: &mut Vec<u32>) {
    cell.say(&mut |said| {
        push_folded(text, said);
        text.push(BETWEEN);
    });
    ends.push(end_of(text));
}

/// Texts have a greatest length, and a chunk few cells: a table never comes near to what this can count.
fn end_of(text: &str) -> u32 {
    u32::try_from(text.len()).unwrap_or(u32::MAX)
}

/// The same as [`fold`], put behind a text: plain letters without an allocation for each of a hundred thousand texts.
fn push_folded(text: &mut String, said: &str) {
    if !said.is_ascii() {
        return text.push_str(&fold(said));
    }
    let from = text.len();
    text.push_str(said);
    if let Some(put) = text.get_mut(from..) {
        put.make_ascii_lowercase();
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::dataset::column::TextCell;
    use proptest::prelude::*;

    fn cell(text: &Option<String>) -> TextCell {
        TextCell { key: 0, text: text.as_deref().map(Into::into) }
    }

    proptest! {
        /// Whatever changed and whatever came: what was folded again by itself is what would have been folded from nothing.
        #[test]
        fn a_few_cells_folded_again_are_all_folded_anew(
            said in prop::collection::vec(prop::option::of("[aBé ]{0,6}"), 0..20),
            changes in prop::collection::vec((0_usize..24, prop::option::of("[aBé ]{0,6}")), 0..6),
        ) {
            let mut cells: Vec<TextCell> = said.iter().map(cell).collect();
            let was = Said::of(&cells);
            let mut changed = Vec::new();
            for (place, text) in changes {
                if place >= cells.len() {
                    changed.push(cells.len());
                    cells.push(cell(&text));
                } else {
                    changed.push(place);
                    cells[place] = cell(&text);
                }
            }
            let (after, anew) = (was.after(&changed, &cells), Said::of(&cells));
            prop_assert_eq!((&after.text, &after.ends), (&anew.text, &anew.ends));
        }

        /// Whatever cells say: those are marked in one of whose texts the word stands, folded, and no others.
        #[test]
        fn the_cells_are_marked_that_say_a_word(
            said in prop::collection::vec(prop::option::of("[aAbéÉ ]{0,6}"), 0..40),
            word in "[aAbé]{1,2}",
        ) {
            let cells: Vec<TextCell> = said.iter().map(cell).collect();
            let mut rows = FixedBitSet::new();
            let word = fold(&word);
            Said::of(&cells).mark(&Finder::new(word.as_bytes()), 100, &mut rows);
            let wanted: Vec<usize> =
                said.iter().enumerate().filter(|(_, text)| text.as_ref().is_some_and(|text| fold(text).contains(&*word))).map(|(n, _)| n + 100).collect();
            prop_assert_eq!(rows.ones().collect::<Vec<_>>(), wanted);
        }
    }
}
