//! Highlights beside the records they act on: as they stand, and with one that is being written. Nothing is kept.

use super::{Highlight, HighlightWords, MOST_TOUCHES};
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    fault::{Checked, Fault},
    id::{HighlightId, RecordId, TableId},
    part::Part,
    rules::Rules,
    schema::within_sentence,
    sentence::{Phrase, Sentence},
    view::{Query, Row},
};
use fixedbitset::FixedBitSet;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// A view's records as highlights make them look.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HighlightsRehearsal {
    /// *4 highlights, of which 3 are on in All faults, where they touch 43 of 320 faults now.*
    pub sentence: Vec<Phrase>,
    /// Records of the view.
    pub row_count: usize,
    /// The first of them.
    pub rows: Vec<Row>,
    /// Of the one that is being written.
    pub draft: Option<DraftedHighlight>,
}

/// A highlight that is being written.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DraftedHighlight {
    pub words: HighlightWords,
    /// Of the records told, how many it touches.
    pub in_sight: usize,
    /// A record as it is, and as it looks then; where none matches, as it would look if it did.
    pub sample: Option<LookSample>,
    /// Whether the sample is one that it touches.
    pub matches: bool,
    /// What is wrong with it, each with its place.
    pub faults: Vec<Fault>,
}

/// One record, twice.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LookSample {
    pub as_it_is: Row,
    pub then: Row,
}

/// Most records that are told.
const MOST_SHOWN: usize = 400;

impl Query {
    /// The first records of a view, as the table's highlights make them look; with one of them as it is being written, if one is.
    ///
    /// # Errors
    /// Its condition names what is not open to whoever asks, or they may not change how records look.
    pub fn rehearse_highlights(
        &self,
        ds: &Dataset,
        asker: Asker,
        clock: &Clock,
        table: TableId,
        draft: Option<Highlight>,
        count: usize,
    ) -> Checked<HighlightsRehearsal> {
        let before = Lens::new(ds, asker, clock);
        let Some(draft) = draft else {
            return Ok(self.as_highlighted(&before, table, count));
        };
        draft.may_shape(&before, asker)?;
        draft.may_be_put(&before)?;
        let draft = Highlight { touches: draft.touches.into_iter().take(MOST_TOUCHES).collect(), ..draft };
        let with = |one: &Highlight| {
            let mut then = ds.clone();
            then.load_part(&Part::Highlight(one.clone()));
            then
        };
        let after = with(&draft);
        let then = Lens::new(&after, asker, clock);
        let mut shown = self.as_highlighted(&then, table, count);
        // The check is asked of what would be kept: without what says nothing yet.
        let faults = draft.fits(None, &after).err().map(|faults| faults.0).unwrap_or_default();
        let touched = draft.condition.matching(&then, table);
        let sees = |row: &&Row| touched.contains(row.id.row());
        let in_sight = shown.rows.iter().filter(sees).count();
        let number = after.highlights_of(table).iter().position(|one| one.id == draft.id).map_or(0, |at| at + 1);
        let alone = |row: &&Row| row.looks.as_ref().is_some_and(|looks| looks.by.iter().all(|by| *by as usize == number));
        // Best one that nothing else touches.
        let sample = shown.rows.iter().filter(sees).find(alone).or_else(|| shown.rows.iter().find(sees)).map(|row| row.id);
        let sample = sample.or_else(|| touched.ones().next().map(RecordId::at_row));
        let (record, forced) = match sample {
            Some(record) => (Some(record), None),
            None => (
                shown.rows.first().map(|row| row.id),
                Some(with(&Highlight { condition: crate::condition::Condition::default(), ..draft.clone() })),
            ),
        };
        let told = |lens: &Lens<'_>, record: RecordId| self.rows(lens, table)(&[record]).pop();
        let sample = record.and_then(|record| {
            let looks_then = forced.as_ref().map_or_else(|| told(&then, record), |ds| told(&Lens::new(ds, asker, clock), record));
            Some(LookSample { as_it_is: told(&before, record)?, then: looks_then? })
        });
        shown.draft = Some(DraftedHighlight { words: draft.in_words(&then), in_sight, sample, matches: forced.is_none(), faults });
        Ok(shown)
    }

    fn as_highlighted(&self, lens: &Lens<'_>, table: TableId, count: usize) -> HighlightsRehearsal {
        let found = self.found(lens, table, &[]);
        let (slices, _) = found.slices(std::slice::from_ref(&(0..count.min(MOST_SHOWN))));
        let records: Vec<RecordId> = slices.into_iter().flat_map(|slice| slice.records).collect();
        let matching = self.condition.matching(lens, table);
        HighlightsRehearsal {
            sentence: self.highlights_say(lens, table, &matching),
            row_count: matching.count_ones(..),
            rows: self.rows(lens, table)(&records),
            draft: None,
        }
    }

    /// How many highlights there are, how many act here, and on how many records.
    fn highlights_say(&self, lens: &Lens<'_>, table: TableId, shown: &FixedBitSet) -> Vec<Phrase> {
        let mut s = Sentence::default();
        let Some(home) = lens.dataset().table(table) else { return Vec::new() };
        let customs = lens.clock().customs();
        let mut all = lens.highlights(table, &BTreeSet::new());
        // One that is only begun does nothing yet.
        all.retain(|(_, one)| !one.touches.is_empty());
        if all.is_empty() {
            s.plain(format!(
                "Nothing makes {} look otherwise yet. A highlight does: to some of them, or to one field always.",
                home.def.many()
            ));
            return s.phrases();
        }
        let on: Vec<&Highlight> = all.iter().map(|(_, one)| *one).filter(|one| !self.without.contains(&one.id)).collect();
        let mut touched = FixedBitSet::with_capacity(home.rows());
        on.iter().for_each(|one| touched.union_with(&one.condition.matching(lens, table)));
        touched.intersect_with(shown);
        s.strong(customs.count_text(all.len()));
        s.plain(if all.len() == 1 { " highlight" } else { " highlights" });
        if on.len() < all.len() {
            s.plain(format!(", of which {} {} on here", customs.count_text(on.len()), if on.len() == 1 { "is" } else { "are" }));
        }
        s.plain(if on.len() == 1 { ". It touches " } else { ". They touch " });
        s.strong(customs.count_text(touched.count_ones(..)));
        s.plain(format!(" of {} now.", customs.count_words(shown.count_ones(..), &within_sentence(&home.def.one), &home.def.many())));
        s.phrases()
    }
}

impl Dataset {
    /// A highlight as it is being written: in the place of one that is there, or behind the last.
    pub fn drafted_highlight(&self, table: TableId, id: Option<HighlightId>, drafted: Highlight) -> Highlight {
        let known = id.and_then(|id| self.highlight(id)).filter(|one| one.table == table);
        match known {
            Some(known) => Highlight { id: known.id, place: known.place, table, ..drafted },
            None => Highlight { id: HighlightId::LAST, place: self.next_highlight(table), table, ..drafted },
        }
    }
}
