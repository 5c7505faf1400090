//! A record that was found: its name, and where it says each of the words.

use super::{FileTexts, TableHits, Within, term::Term};
use crate::{
    access::Lens,
    condition::{Condition, Test},
    dataset::Table,
    id::{RecordId, TableId},
    schema::{Kind, within_sentence},
    talk::Spoken,
    value::{Cell, fold},
};
use serde::{Deserialize, Serialize};
use std::ops::Range;

/// Longest text shown around a word, in characters.
const AROUND: usize = 72;
/// Most parts of a condition that are told of a record which it leaves out.
const FEW: usize = 2;

/// A record that holds all of the words.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FoundRecord {
    pub record: RecordId,
    pub name: String,
    /// What tells it apart.
    pub beside: String,
    /// Where it says each word, in the words' order.
    pub says: Vec<FoundPiece>,
    /// Why the view from which one looks leaves it out, where it does: *status is made good*.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub left_out: Option<String>,
}

/// Where a word stands.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FoundPiece {
    /// The field, or what else it is: *what is wrong*, *condition*.
    pub of: String,
    pub text: Vec<FoundSpan>,
}

/// A run of letters, and whether it is what was looked for.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FoundSpan {
    pub text: String,
    pub hit: bool,
}

impl Lens<'_> {
    /// What is told of a record, and how much the words say of it: more where they begin a word, most where they are one.
    pub(super) fn line(
        &self,
        table: TableId,
        record: RecordId,
        terms: &[Term],
        hits: &TableHits,
        texts: Option<&FileTexts>,
    ) -> Option<(u32, FoundRecord)> {
        let name = self.record_name(table, record)?;
        let home = self.ds.table(table)?;
        let mut worth = 0_u32;
        let mut says = Vec::new();
        for (term, found) in terms.iter().zip(&hits.terms) {
            // A field in which it begins a word is worth more than one in which it stands within.
            let said = found.fields.iter().filter(|held| held.rows.contains(record.row())).map(|held| {
                let (of, text) = self.said_within(home, record, held.within, &term.word, texts);
                (u32::from(held.worth).saturating_add(fit(&text, &term.word)), held.within, of, text)
            });
            let (best, _, of, text) = said.max_by_key(|(worth, within, ..)| (*worth, std::cmp::Reverse(*within)))?;
            worth = worth.saturating_add(best);
            says.push(FoundPiece { of, text: spans(&text, &term.word) });
        }
        let beside = if name.beside.is_empty() { self.number_beside(home, record) } else { name.beside };
        Some((worth, FoundRecord { record, name: name.name, beside, says, left_out: None }))
    }

    /// What stands in a field, or was said first of what holds a word; with what it is.
    fn said_within(&self, home: &Table, record: RecordId, within: Within, word: &str, texts: Option<&FileTexts>) -> (String, String) {
        match within {
            Within::Field(field) => {
                let name = home.def.field(field).map(|def| within_sentence(&def.name)).unwrap_or_default();
                (name, self.text_at(home.def.id, record, field))
            }
            Within::File(field) => {
                let reader = self.reader(home.def.id, field);
                let files = if let Cell::Files(files) = reader.cell(record.row()) { files } else { &[] };
                let mut pieces = files.iter().filter_map(|file| Some((&file.name, texts?.get(&file.id)?.piece(word)?)));
                pieces.next().map(|(name, piece)| (format!("in “{name}”"), piece.to_owned())).unwrap_or_default()
            }
            Within::Talk => {
                let spoken = home.talk.spoken(record);
                if let Some(Spoken { comment, .. }) = spoken.iter().map(|spoken| &**spoken).find(|spoken| spoken.folded.contains(word)) {
                    return (format!("said by {}", self.speaker_name(comment)), self.comment_line(comment));
                }
                let files = spoken.iter().flat_map(|spoken| spoken.comment.files.iter());
                let mut pieces = files.filter_map(|file| Some((&file.name, texts?.get(&file.id)?.piece(word)?)));
                pieces.next().map(|(name, piece)| (format!("in “{name}”"), piece.to_owned())).unwrap_or_default()
            }
        }
    }

    /// Its number, where that is not what names it.
    fn number_beside(&self, home: &Table, record: RecordId) -> String {
        let mut numbering = home.def.fields.iter().filter(|def| matches!(def.kind, Kind::Numbering { .. }));
        let number = numbering.find(|def| def.id != home.def.standing && self.reads(home.def.id, def.id));
        number.map(|def| self.text_at(home.def.id, record, def.id)).unwrap_or_default()
    }

    /// Which part of a condition a record does not fit, by what it holds: *status is made good*.
    pub(super) fn left_out_by(&self, condition: &Condition, table: TableId, record: RecordId) -> String {
        let parts = match condition {
            Condition::All(parts) => &parts[..],
            other => std::slice::from_ref(other),
        };
        let failing = parts.iter().filter(|part| !part.holds(self, table, record));
        let why: Vec<String> = failing.take(FEW).map(|part| self.does_not_fit(part, table, record)).collect();
        why.join(", ")
    }

    fn does_not_fit(&self, part: &Condition, table: TableId, record: RecordId) -> String {
        match part {
            Condition::Test(Test { path, .. }) if let [field] = path[..] => {
                let name = self.ds.table(table).and_then(|home| home.def.field(field)).map(|def| within_sentence(&def.name));
                let text = self.text_at(table, record, field);
                let holds = if text.is_empty() { "empty" } else { &text };
                format!("{} is {holds}", name.unwrap_or_default())
            }
            other => format!("it is not so that {}", other.to_sentence(self, table)),
        }
    }
}

/// How well a word fits into a text: as a whole word, at the beginning of one, or within.
fn fit(text: &str, word: &str) -> u32 {
    let folded = fold(text);
    let mut best = 0;
    for (at, _) in folded.match_indices(word) {
        let before = folded[..at].chars().next_back().is_none_or(|c| !c.is_alphanumeric());
        let after = folded[at.saturating_add(word.len())..].chars().next().is_none_or(|c| !c.is_alphanumeric());
        best = best.max(match (before, after) {
            (true, true) => 18,
            (true, false) => 14,
            (false, _) => 0,
        });
    }
    best
}

/// A text with what was looked for in it marked, cut to what stands around the first of it. What is a number or a day is that as
/// a whole.
pub(super) fn spans(text: &str, word: &str) -> Vec<FoundSpan> {
    let hits = places(text, word);
    let (around, cut_before, cut_after) = around(text, hits.first());
    let mut spans = Vec::new();
    let mut push = |text: &str, hit: bool| {
        if !text.is_empty() {
            spans.push(FoundSpan { text: text.to_owned(), hit });
        }
    };
    if cut_before {
        push("…", false);
    }
    let mut at = around.start;
    for hit in hits.iter().filter(|hit| hit.start >= around.start && hit.end <= around.end) {
        push(&text[at..hit.start], false);
        push(&text[hit.start..hit.end], true);
        at = hit.end;
    }
    push(&text[at..around.end], hits.is_empty());
    if cut_after {
        push("…", false);
    }
    spans
}

/// Where a folded word stands in a text, in bytes of the text as it is written.
fn places(text: &str, word: &str) -> Vec<Range<usize>> {
    let mut folded = String::with_capacity(text.len());
    // Of each byte of what is folded, where the letter begins from which it comes.
    let mut from: Vec<usize> = Vec::with_capacity(text.len());
    for (at, letter) in text.char_indices() {
        folded.push_str(&fold(letter.encode_utf8(&mut [0; 4])));
        from.resize(folded.len(), at);
    }
    from.push(text.len());
    let end_of = |at: usize| from[at..].iter().copied().find(|place| Some(place) != from.get(at.saturating_sub(1))).unwrap_or(text.len());
    folded.match_indices(word).map(|(at, _)| from[at]..end_of(at.saturating_add(word.len()))).filter(|hit| hit.start < hit.end).collect()
}

/// What is shown of a text so that a hit is in it, and whether something before and behind is not.
fn around(text: &str, hit: Option<&Range<usize>>) -> (Range<usize>, bool, bool) {
    let letters: Vec<usize> = text.char_indices().map(|(at, _)| at).chain([text.len()]).collect();
    let all = letters.len().saturating_sub(1);
    if all <= AROUND {
        return (0..text.len(), false, false);
    }
    let at = hit.map_or(0, |hit| letters.partition_point(|place| *place < hit.start));
    let start = at.saturating_sub(AROUND / 3).min(all.saturating_sub(AROUND));
    let end = start.saturating_add(AROUND).min(all);
    (letters[start]..letters[end], start > 0, end < all)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn marked(text: &str, word: &str) -> String {
        spans(text, word).into_iter().map(|span| if span.hit { format!("[{}]", span.text) } else { span.text }).collect()
    }

    #[test]
    fn what_was_looked_for_is_marked_as_it_is_written() {
        assert_eq!(marked("Kissing gate, GATE post", "gate"), "Kissing [gate], [GATE] post");
        assert_eq!(marked("Café Émile", "emile"), "Café [Émile]");
        assert_eq!(marked("ſtraße und Straße", "strasse"), "[ſtraße und Straße]", "what folding can't find is meant as a whole");
        assert_eq!(marked("£440.65", "440.65"), "£[440.65]");
        assert_eq!(marked("26 November 2026", "2026-11-26"), "[26 November 2026]");
        assert_eq!(marked("", "x"), "");
    }

    #[test]
    fn a_long_text_is_cut_around_its_first_hit() {
        let text = format!("{} gate {}", "before ".repeat(40), "after ".repeat(40));
        let told = marked(&text, "gate");
        assert!(told.starts_with('…') && told.ends_with('…') && told.contains(" [gate] "), "{told}");
        assert!(told.chars().count() <= AROUND + 4, "{told}");
        assert!(marked(&text, "nowhere").ends_with('…'));
    }

    #[test]
    fn letters_with_marks_of_their_own_do_not_break_it() {
        for text in ["e\u{301}\u{327}sk", "İstanbul", "👩‍🌾 gate", "ﬁne"] {
            for word in ["e", "i", "gate", "sk", "f"] {
                let _ = marked(text, word);
            }
        }
        assert_eq!(marked("İstanbul", "stan"), "İ[stan]bul");
    }
}
