//! What the cells of a chunk say, in small letters without accents and one behind the other: what words are looked for in.

use crate::value::{Attachment, Value, fold};
use fixedbitset::FixedBitSet;
use memchr::memmem::Finder;
use std::sync::Arc;

/// Stands between what two cells say, so that nothing is found across them. Nobody types it.
const BETWEEN: char = '\0';

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
        for cell in cells {
            cell.say(&mut |said| {
                text.push_str(&fold(said));
                text.push(BETWEEN);
            });
            // Texts have a greatest length, and a chunk few cells: a table never comes near to what this can count.
            ends.push(u32::try_from(text.len()).unwrap_or(u32::MAX));
        }
        Self { text: text.into(), ends: ends.into() }
    }

    /// Marks the cells in which a word stands; the first of them is in this row.
    pub(super) fn mark(&self, finder: &Finder<'_>, first: usize, rows: &mut FixedBitSet) {
        let text = self.text.as_bytes();
        let mut from = 0;
        while let Some(found) = finder.find(&text[from..]) {
            let at = from.saturating_add(found);
            let cell = self.ends.partition_point(|end| (*end as usize) <= at);
            let Some(end) = self.ends.get(cell) else { return };
            rows.grow_and_insert(first.saturating_add(cell));
            from = *end as usize;
        }
    }

    pub(super) fn bytes(&self) -> usize {
        self.text.len().saturating_add(self.ends.len().saturating_mul(size_of::<u32>()))
    }
}
