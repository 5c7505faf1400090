//! The order of a table's highlights.

use super::Highlight;
use crate::{
    dataset::Dataset,
    id::{HighlightId, TableId},
};

impl Dataset {
    /// The place behind all highlights of a table.
    pub fn next_highlight(&self, table: TableId) -> u32 {
        self.highlights_of(table).last().map_or(0, |last| last.place.saturating_add(1))
    }

    /// The highlights of a table that stand elsewhere once one of them is at another place of the list, from 0, as they were
    /// and as they are then.
    pub(crate) fn highlights_moved(&self, moved: HighlightId, to: usize) -> Vec<(Highlight, Highlight)> {
        let Some(one) = self.highlight(moved) else { return Vec::new() };
        let mut list = self.highlights_of(one.table);
        list.retain(|other| other.id != moved);
        list.insert(to.min(list.len()), one);
        let numbered = list.into_iter().zip(0_u32..).filter(|(highlight, place)| highlight.place != *place);
        numbered.map(|(highlight, place)| (highlight.clone(), Highlight { place, ..highlight.clone() })).collect()
    }
}
