//! Words looked for among what a view shows: where they stand, in the view's order.

use super::{OwnOrder, Query};
use crate::{
    access::Lens,
    id::{FieldId, RecordId, TableId},
    value::{Cell, fold},
};
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// Most places that are told.
const MOST_HITS: usize = 1_000;
/// Longest that is looked for, in characters.
const LONGEST: usize = 200;

/// Where words stand in a view.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Hits {
    /// *12 in 9 faults*.
    pub says: String,
    /// In the view's order, and within a record in the order of its fields; at most 1,000.
    pub hits: Vec<Hit>,
    /// All of them.
    pub count: usize,
}

/// A cell in which words stand.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Hit {
    /// The record's place in the view's order, from 0.
    pub place: usize,
    pub record: RecordId,
    pub field: FieldId,
}

impl Query {
    /// The cells of these fields in which all of some words stand, in any order, neither capitals nor accents counting.
    pub fn hits(&self, lens: &Lens<'_>, table: TableId, own: Option<&OwnOrder>, keep: &[RecordId], text: &str, fields: &[FieldId]) -> Hits {
        let text: String = text.chars().take(LONGEST).collect();
        let words: Vec<String> = text.split_whitespace().map(|word| fold(word).into_owned()).collect();
        if words.is_empty() {
            return Hits::default();
        }
        let found = self.found(lens, table, keep).ordered(own);
        let (slices, _) = found.slices(std::slice::from_ref(&(0..usize::MAX)));
        let shown = self.fields.iter().map(|shown| shown.field).filter(|field| fields.is_empty() || fields.contains(field));
        let ready = |field: FieldId| (field, lens.reader(table, field), lens.released(table, field));
        let fields: Vec<_> = shown.map(ready).collect();
        let mut told = Hits::default();
        let mut records = HashSet::new();
        for (place, record) in slices.into_iter().flat_map(|slice| slice.records).enumerate() {
            for (field, reader, released) in &fields {
                // Whoever is given what a link shows is given the names in it.
                let lens = if released.holds(record.row()) { lens.whole() } else { lens };
                let stands = |cell: Cell<'_>| holds(&fold(&lens.cell_text(table, *field, cell)), &words);
                if !reader.cells(record.row()).into_iter().any(stands) {
                    continue;
                }
                told.count = told.count.saturating_add(1);
                records.insert(record);
                if told.hits.len() < MOST_HITS {
                    told.hits.push(Hit { place, record, field: *field });
                }
            }
        }
        let count = lens.clock().customs().count_text(told.count);
        told.says = if told.count == 0 {
            "nowhere".to_owned()
        } else {
            format!("{count} in {}", super::words::counted(lens, table, records.len()))
        };
        told
    }
}

fn holds(text: &str, words: &[String]) -> bool {
    words.iter().all(|word| text.contains(word.as_str()))
}
