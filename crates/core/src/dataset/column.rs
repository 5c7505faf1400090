//! Columns in chunks. Changing a cell copies its chunk and nothing else.

use super::said::{Said, Say};
use crate::{
    id::{OptionId, PersonId, RecordId},
    schema::{Kind, Link},
    value::{Attachment, Cell, Value, text_key},
};
use fixedbitset::FixedBitSet;
use jiff::{Timestamp, civil::Date};
use memchr::memmem;
use rust_decimal::Decimal;
use std::{
    collections::{BTreeMap, BTreeSet},
    sync::{Arc, OnceLock},
};

/// Rows in a chunk: small enough to copy in a microsecond, large enough that a table has few.
const CHUNK: usize = 512;

/// A vector whose copies share chunks. Rows past its end hold the default.
#[derive(Clone, Debug)]
pub struct Chunked<T> {
    chunks: Vec<Arc<Chunk<T>>>,
    len: usize,
}

/// Some rows that lie together, and what they say in small letters, once words were looked for in them. Whatever changes them
/// forgets it, so that it is kept up by nobody and never stale.
#[derive(Clone, Debug)]
struct Chunk<T> {
    cells: Vec<T>,
    said: OnceLock<Arc<Said>>,
    /// What they said before a few of them changed, and which: only these need to be folded again.
    was: Option<(Arc<Said>, Vec<usize>)>,
}

/// Most cells of a chunk that are folded again by themselves; of more, all are.
const MOST_CHANGED: usize = 32;

impl<T> Chunk<T> {
    /// Says that a cell is another, or a new one.
    fn note(&mut self, place: usize) {
        self.was = self.said.take().map(|said| (said, Vec::new())).or_else(|| self.was.take());
        if let Some((_, changed)) = &mut self.was {
            changed.push(place);
        }
        if self.was.as_ref().is_some_and(|(_, changed)| changed.len() > MOST_CHANGED) {
            self.was = None;
        }
    }
}

impl<T> Default for Chunked<T> {
    fn default() -> Self {
        Self { chunks: Vec::new(), len: 0 }
    }
}

impl<T: Clone + Default> Chunked<T> {
    /// Rows, those that hold nothing included.
    pub fn len(&self) -> usize {
        self.len
    }

    /// Whether there is no row.
    pub fn is_empty(&self) -> bool {
        self.len == 0
    }

    /// What stands at a row; nothing beyond the last.
    #[inline]
    pub fn get(&self, row: usize) -> Option<&T> {
        self.chunks.get(row / CHUNK)?.cells.get(row % CHUNK)
    }

    /// Puts a value at a row, after defaults for rows that were skipped.
    pub fn set(&mut self, row: usize, value: T) {
        while self.len <= row {
            if self.len.is_multiple_of(CHUNK) {
                self.chunks.push(Arc::new(Chunk { cells: Vec::with_capacity(CHUNK), said: OnceLock::new(), was: None }));
            }
            if let Some(last) = self.chunks.last_mut() {
                let last = Arc::make_mut(last);
                last.note(last.cells.len());
                last.cells.push(T::default());
            }
            self.len += 1;
        }
        let chunk = Arc::make_mut(&mut self.chunks[row / CHUNK]);
        chunk.note(row % CHUNK);
        chunk.cells[row % CHUNK] = value;
    }
}

impl<T> Chunked<T> {
    /// Marks the rows of which something holds: chunk by chunk.
    pub(crate) fn mark(&self, rows: &mut FixedBitSet, holds: impl Fn(&T) -> bool) {
        for (at, chunk) in self.chunks.iter().enumerate() {
            let first = at.saturating_mul(CHUNK);
            let held = chunk.cells.iter().enumerate().filter(|(_, cell)| holds(cell));
            held.for_each(|(place, _)| rows.grow_and_insert(first.saturating_add(place)));
        }
    }
}

impl<T: Say> Chunk<T> {
    fn said(&self) -> &Said {
        let fold = || match &self.was {
            Some((was, changed)) => was.after(changed, &self.cells),
            None => Said::of(&self.cells),
        };
        self.said.get_or_init(|| Arc::new(fold()))
    }
}

impl<T: Say> Chunked<T> {
    /// Marks the rows that say a word, which is folded already. Costs one look through what they say, which is folded once for
    /// every chunk that changed since.
    pub(crate) fn mark_saying(&self, word: &str, rows: &mut FixedBitSet) {
        let finder = memmem::Finder::new(word.as_bytes());
        for (at, chunk) in self.chunks.iter().enumerate() {
            chunk.said().mark(&finder, at.saturating_mul(CHUNK), rows);
        }
    }

    /// Folds what was not folded since it changed.
    pub(super) fn fold(&self) {
        self.chunks.iter().for_each(|chunk| {
            chunk.said();
        });
    }

    /// Bytes of what was folded so far.
    pub(crate) fn said_bytes(&self) -> usize {
        let kept = |chunk: &Arc<Chunk<T>>| {
            let was = chunk.was.as_ref().map_or(0, |(was, _)| was.bytes());
            chunk.said.get().map_or(0, |said| said.bytes()).saturating_add(was)
        };
        self.chunks.iter().map(kept).fold(0, usize::saturating_add)
    }
}

/// A text with the start of its sort key, so that most comparisons are of two numbers.
#[derive(Clone, Debug, Default)]
pub struct TextCell {
    pub(crate) key: u64,
    pub(crate) text: Option<Arc<str>>,
}

impl Say for TextCell {
    fn say<'a>(&'a self, say: &mut dyn FnMut(&'a str)) {
        if let Some(text) = &self.text {
            say(text);
        }
    }
}

/// The values of one field, all of one type.
#[derive(Clone, Debug)]
pub enum Column {
    Text(Chunked<TextCell>),
    Number(Chunked<Option<Decimal>>),
    Date(Chunked<Option<Date>>),
    Instant(Chunked<Option<Timestamp>>),
    Choice(Chunked<Option<OptionId>>),
    Person(Chunked<Option<PersonId>>),
    /// A link to at most one record.
    One(Chunked<Option<RecordId>>),
    Many(Chunked<Option<Arc<[RecordId]>>>),
    Files(Chunked<Option<Arc<[Attachment]>>>),
    /// Values of every other type, and those that are computed.
    Any(Chunked<Value>),
}

impl Column {
    /// An empty column for a field's kind; none where values are computed or kept elsewhere.
    pub(super) fn for_kind(kind: &Kind) -> Option<Self> {
        Some(match kind {
            Kind::Text { .. } | Kind::LongText | Kind::Email | Kind::Phone | Kind::Numbering { .. } => Column::Text(Chunked::default()),
            Kind::Number { .. } | Kind::Money { .. } | Kind::Percent { .. } | Kind::Rating { .. } | Kind::Duration => {
                Column::Number(Chunked::default())
            }
            Kind::Date => Column::Date(Chunked::default()),
            Kind::DateTime => Column::Instant(Chunked::default()),
            Kind::Choice { .. } => Column::Choice(Chunked::default()),
            Kind::Person => Column::Person(Chunked::default()),
            Kind::Link(Link { one: true, holds: true, .. }) => Column::One(Chunked::default()),
            Kind::Link(_) => Column::Many(Chunked::default()),
            Kind::Files => Column::Files(Chunked::default()),
            Kind::YesNo
            | Kind::Range
            | Kind::Choices { .. }
            | Kind::People
            | Kind::Web
            | Kind::Place
            | Kind::Checklist
            | Kind::Json
            | Kind::Summary(_)
            | Kind::Calculation { .. } => Column::Any(Chunked::default()),
            Kind::CreatedAt
            | Kind::CreatedBy
            | Kind::ChangedAt
            | Kind::ChangedBy
            | Kind::Id
            | Kind::Carried { .. }
            | Kind::Button { .. } => {
                return None;
            }
        })
    }

    /// The cell at a row; empty beyond the last.
    #[inline]
    pub fn cell(&self, row: usize) -> Cell<'_> {
        fn made<'a, T>(value: Option<&'a Option<T>>, cell: impl FnOnce(&'a T) -> Cell<'a>) -> Cell<'a> {
            value.and_then(Option::as_ref).map_or(Cell::Empty, cell)
        }
        match self {
            Column::Text(c) => c.get(row).and_then(|t| t.text.as_deref()).map_or(Cell::Empty, Cell::Text),
            Column::Number(c) => made(c.get(row), |v| Cell::Number(*v)),
            Column::Date(c) => made(c.get(row), |v| Cell::Date(*v)),
            Column::Instant(c) => made(c.get(row), |v| Cell::Instant(*v)),
            Column::Choice(c) => made(c.get(row), |v| Cell::Choice(*v)),
            Column::Person(c) => made(c.get(row), |v| Cell::Person(*v)),
            Column::One(c) => match c.get(row).map(Option::as_slice) {
                Some(records @ [_]) => Cell::Links(records),
                _ => Cell::Empty,
            },
            Column::Many(c) => made(c.get(row), |v| Cell::Links(v)),
            Column::Files(c) => made(c.get(row), |v| Cell::Files(v)),
            Column::Any(c) => c.get(row).map_or(Cell::Empty, Value::as_cell),
        }
    }

    /// The same, owned; texts are shared, not copied.
    #[inline]
    pub(crate) fn value(&self, row: usize) -> Value {
        match self {
            Column::Text(c) => c.get(row).and_then(|t| t.text.clone()).map_or(Value::Empty, Value::Text),
            Column::Any(c) => c.get(row).cloned().unwrap_or_default(),
            _ => self.cell(row).to_value(),
        }
    }

    /// The linked records of a row; none where this is no link.
    #[inline]
    pub fn links(&self, row: usize) -> &[RecordId] {
        match self {
            Column::One(c) => c.get(row).map_or(&[], Option::as_slice),
            Column::Many(c) => c.get(row).and_then(Option::as_deref).unwrap_or(&[]),
            _ => &[],
        }
    }

    /// Puts a value at a row. A value of another type than the column's leaves it empty: core checks kinds before.
    pub(super) fn set(&mut self, row: usize, value: &Value) {
        match (self, value) {
            (Column::Text(c), Value::Text(text)) => c.set(row, TextCell { key: text_key(text), text: Some(text.clone()) }),
            (Column::Text(c), _) => c.set(row, TextCell::default()),
            (Column::Number(c), Value::Number(v)) => c.set(row, Some(*v)),
            (Column::Number(c), _) => c.set(row, None),
            (Column::Date(c), Value::Date(v)) => c.set(row, Some(*v)),
            (Column::Date(c), _) => c.set(row, None),
            (Column::Instant(c), Value::Instant(v)) => c.set(row, Some(*v)),
            (Column::Instant(c), _) => c.set(row, None),
            (Column::Choice(c), Value::Choice(v)) => c.set(row, Some(*v)),
            (Column::Choice(c), _) => c.set(row, None),
            (Column::Person(c), Value::Person(v)) => c.set(row, Some(*v)),
            (Column::Person(c), _) => c.set(row, None),
            (Column::One(c), Value::Links(records)) => c.set(row, records.first().copied()),
            (Column::One(c), _) => c.set(row, None),
            (Column::Many(c), Value::Links(records)) => c.set(row, (!records.is_empty()).then(|| records.as_slice().into())),
            (Column::Many(c), _) => c.set(row, None),
            (Column::Files(c), Value::Files(files)) => c.set(row, (!files.is_empty()).then(|| files.clone())),
            (Column::Files(c), _) => c.set(row, None),
            (Column::Any(c), value) => c.set(row, value.clone()),
        }
    }

    /// Adds and takes away records of a computed side of a link, which stays sorted by number.
    pub(super) fn set_back(&mut self, row: usize, moved: &BTreeMap<RecordId, bool>) {
        let Column::Many(column) = self else { return };
        let old = column.get(row).and_then(Option::as_deref).unwrap_or(&[]);
        // The common case is one record more or less among many: those that stay are copied, not sorted anew.
        let kept = old.iter().filter(|r| !moved.contains_key(r));
        let added = moved.iter().filter(|(_, linked)| **linked).map(|(record, _)| *record);
        let records: Arc<[RecordId]> = if moved.len() == 1 {
            let mut list: Vec<RecordId> = kept.copied().collect();
            for record in added {
                let at = list.partition_point(|r| *r < record);
                list.insert(at, record);
            }
            list.into()
        } else {
            kept.copied().chain(added).collect::<BTreeSet<_>>().into_iter().collect()
        };
        column.set(row, (!records.is_empty()).then_some(records));
    }
}
