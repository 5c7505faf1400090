//! Looking for words in a whole tracker: which records hold all of them, each somewhere, and where. What somebody may not see gives
//! no hit and no count: every cell in which a word is looked for is one that the lens gives.

mod line;
mod narrow;
mod numbered;
mod person;
mod places;
mod rows;
mod term;
mod texts;

pub use line::{FoundPiece, FoundRecord, FoundSpan};
pub use places::{Leads, PlaceFound};
pub use texts::{FileText, FileTexts, LONGEST_TEXT};

use crate::{
    access::Lens,
    condition::Condition,
    id::{FieldId, PersonId, TableId},
    view::Query,
};
use rows::{Looking, TableHits};
use serde::{Deserialize, Serialize};
use std::cmp::Reverse;
use term::Term;

/// Longest that is looked for, in characters; what stands behind is not.
pub const LONGEST: usize = 200;
/// Most words that are looked for.
pub const MOST_WORDS: usize = 8;
/// Most records that are told of one table.
pub const MOST_LINES: usize = 100;

/// As many records that a view leaves out are told at least, though more of those that it shows are there.
const LEFT_OUT: usize = 2;

/// What is looked for, and from where.
#[derive(Clone, Debug, Default)]
pub struct Wanted<'a> {
    pub text: &'a str,
    /// In this table alone.
    pub table: Option<TableId>,
    /// Of this person alone: what names them, what they made, and what they said something of.
    pub person: Option<PersonId>,
    /// The view from which one looks, as it is asked: which of its table's records it leaves out is said, and why.
    pub from: Option<(TableId, &'a Query)>,
    /// Most records told of each table.
    pub lines: usize,
    /// What stands in files, as far as it was read.
    pub texts: Option<&'a FileTexts>,
}

/// What was found.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Discovery {
    /// The words, as they were taken: what is a day together is one.
    pub words: Vec<SoughtWord>,
    /// Whether not all that was typed was looked for.
    pub cut: bool,
    /// Records in all, those that the view leaves out among them.
    pub count: usize,
    /// *18 and 2 left out*, *nothing*.
    pub says: String,
    /// The tables in which there are some; that of the view first.
    pub tables: Vec<TableFound>,
    /// What is called so, and what one can do with it.
    pub places: Vec<PlaceFound>,
}

/// A word that is looked for.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SoughtWord {
    pub text: String,
    /// Records that hold it, whatever else they hold.
    pub alone: usize,
}

/// A table's records that hold all of the words.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TableFound {
    pub table: TableId,
    pub name: String,
    pub count: usize,
    /// Of these, those that the view leaves out.
    pub left_out: usize,
    /// *7, and 2 this view leaves out*.
    pub says: String,
    /// The best of them; those that the view leaves out last.
    pub lines: Vec<FoundRecord>,
    /// What shows these records alone, as a view's condition; nothing where a word stands only in what was said about them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub only: Option<Condition>,
}

impl Lens<'_> {
    /// The records that hold all of some words, each in any of their fields, and what else is called so.
    pub fn find(&self, wanted: &Wanted<'_>) -> Discovery {
        let (terms, cut) = Term::all(self, wanted.text);
        if terms.is_empty() {
            return Discovery::default();
        }
        let looking = Looking::new(self, &terms, wanted.texts);
        let mut words: Vec<SoughtWord> = terms.iter().map(|term| SoughtWord { text: term.typed.clone(), alone: 0 }).collect();
        let from = wanted.from.map(|(table, _)| table);
        let mut tables: Vec<TableId> = self.dataset().tables().map(|home| home.def.id).filter(|id| self.opens(*id)).collect();
        tables.sort_by_key(|id| Some(*id) != from);
        let mut found = Vec::new();
        for table in tables.into_iter().filter(|id| wanted.table.is_none_or(|only| only == *id)) {
            let mut hits = looking.in_table(table);
            if let (Some(person), Some(home)) = (wanted.person, self.dataset().table(table)) {
                hits.all.intersect_with(&self.rows_of_person(home, person));
            }
            for (word, term) in words.iter_mut().zip(&hits.terms) {
                word.alone = word.alone.saturating_add(term.any.count_ones(..));
            }
            let query = wanted.from.and_then(|(of, query)| (of == table).then_some(query));
            found.extend(self.table_found(table, &terms, &hits, query, wanted));
        }
        let total = |count: fn(&TableFound) -> usize| found.iter().map(count).fold(0, usize::saturating_add);
        let (count, out) = (total(|table| table.count), total(|table| table.left_out));
        let says = self.found_says(count, out);
        let places = if wanted.table.is_none() && wanted.person.is_none() { self.places_called(&terms) } else { Vec::new() };
        Discovery { words, cut, count, says, tables: found, places }
    }

    fn found_says(&self, count: usize, out: usize) -> String {
        let customs = self.clock().customs();
        match (count.saturating_sub(out), out) {
            (0, 0) => "nothing".to_owned(),
            (inside, 0) => customs.count_text(inside),
            (0, out) => format!("{}, left out here", customs.count_text(out)),
            (inside, out) => format!("{} and {} left out", customs.count_text(inside), customs.count_text(out)),
        }
    }

    fn table_found(
        &self,
        table: TableId,
        terms: &[Term],
        hits: &TableHits,
        from: Option<&Query>,
        wanted: &Wanted<'_>,
    ) -> Option<TableFound> {
        let most = wanted.lines.min(MOST_LINES);
        let count = hits.all.count_ones(..);
        let home = self.dataset().table(table).filter(|_| count > 0)?;
        let inside = from.map(|query| query.condition.matching(self, table));
        let left_out = inside.as_ref().map_or(0, |inside| hits.all.difference_count(inside));
        let mut best = hits.best(inside.as_ref(), most.saturating_mul(2));
        let mut lines: Vec<(bool, Reverse<u32>, FoundRecord)> = Vec::new();
        for (record, out) in best.drain(..) {
            let (worth, line) = self.line(table, record, terms, hits, wanted.texts)?;
            let why = from.filter(|_| out).map(|query| self.left_out_by(&query.condition, table, record));
            lines.push((out, Reverse(worth), FoundRecord { left_out: why, ..line }));
        }
        // Of those worth the same the newest came first, which this keeps.
        lines.sort_by_key(|(out, worth, _)| (*out, *worth));
        let outside = left_out.min(LEFT_OUT.max(most.saturating_sub(count.saturating_sub(left_out)))).min(most);
        let inside = most.saturating_sub(outside);
        let (inner, outer): (Vec<_>, Vec<_>) = lines.into_iter().partition(|(out, ..)| !out);
        let lines = inner.into_iter().take(inside).chain(outer.into_iter().take(outside)).map(|(_, _, line)| line).collect();
        let customs = self.clock().customs();
        let inner = count.saturating_sub(left_out);
        let says = match (inner, left_out) {
            (inner, 0) => customs.count_text(inner),
            (0, out) => format!("{} that this view leaves out", customs.count_text(out)),
            (inner, out) => format!("{}, and {} this view leaves out", customs.count_text(inner), customs.count_text(out)),
        };
        let only = self.only_these(table, terms, hits).and_then(|words| match wanted.person {
            None => Some(words),
            Some(person) => self.named_in(home, person).map(|named| Condition::All(vec![words, named])),
        });
        Some(TableFound { table, name: home.def.name.clone(), count, left_out, says, lines, only })
    }
}

/// In what of a record a word may stand.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum Within {
    Field(FieldId),
    /// What stands in the files of one.
    File(FieldId),
    /// What people said about it.
    Talk,
}

/// Where a word stands: what weighs more comes first.
#[derive(Clone, Debug)]
struct Held {
    within: Within,
    worth: u16,
    rows: std::rc::Rc<fixedbitset::FixedBitSet>,
}
