//! Days and months that were typed into a text by hand, where the data would say them: what is printed next month would say the wrong
//! one.

use super::{BlockShows, Document};
use crate::{
    access::Lens,
    id::{FieldId, RecordId, TableId},
    schema::within_sentence,
    wording::{Piece, Wording, days_at},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use std::ops::Range;

/// A day or a month that was typed into a text.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TypedDate {
    /// The place of its block, from 0.
    pub block: usize,
    /// *The month was typed by hand.*
    pub says: String,
    /// Of how many records it would say the wrong one.
    pub wrong: String,
    /// *Put in the planned day’s month*; empty where no field would do.
    pub offer: String,
    /// The text with the field in its place, as one types it.
    pub becomes: String,
}

/// What was typed: a day, or a month.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Typed {
    Day(Date),
    /// Its first day.
    Month(Date),
}

/// Where it stands in a text, in bytes.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) struct Found {
    pub(super) at: Range<usize>,
    what: Typed,
}

const MONTHS: [&str; 12] =
    ["january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november", "december"];

/// The days and months in a text. A year alone, or a month without one, may mean anything and is none.
pub(super) fn found_in(text: &str) -> Vec<Found> {
    let words: Vec<(usize, &str)> = words_of(text);
    let mut found = Vec::new();
    let mut place = 0;
    while let Some((start, word)) = words.get(place).copied() {
        let next = |ahead: usize| words.get(place.saturating_add(ahead)).map(|(_, word)| *word);
        let end = |ahead: usize| words.get(place.saturating_add(ahead)).map_or(text.len(), |(at, word)| at.saturating_add(word.len()));
        let read = written_day(word).map(|day| (Typed::Day(day), 0)).or_else(|| match (word, next(1), next(2)) {
            (day, Some(month), Some(year)) if is_day(day).is_some() && month_of(month).is_some() && year_of(year).is_some() => {
                date(year_of(year)?, month_of(month)?, is_day(day)?).map(|day| (Typed::Day(day), 2))
            }
            (month, Some(day), Some(year)) if month_of(month).is_some() && is_day(day).is_some() && year_of(year).is_some() => {
                date(year_of(year)?, month_of(month)?, is_day(day)?).map(|day| (Typed::Day(day), 2))
            }
            (month, Some(year), _) => date(year_of(year)?, month_of(month)?, 1).map(|month| (Typed::Month(month), 1)),
            _ => None,
        });
        match read {
            Some((what, ahead)) => {
                found.push(Found { at: start..end(ahead), what });
                place = place.saturating_add(ahead).saturating_add(1);
            }
            None => place = place.saturating_add(1),
        }
    }
    found
}

/// Each word with where it begins, without the signs around it.
fn words_of(text: &str) -> Vec<(usize, &str)> {
    let mut words = Vec::new();
    let mut from: usize = 0;
    for part in text.split_inclusive(char::is_whitespace) {
        let bare = part.trim_end().trim_end_matches([',', '.', ';', ':', ')', '!', '?', '’', '”']);
        let word = bare.trim_start_matches(['(', '“', '‘']);
        if !word.is_empty() {
            words.push((from.saturating_add(bare.len().saturating_sub(word.len())), word));
        }
        from = from.saturating_add(part.len());
    }
    words
}

fn date(year: i16, month: i8, day: i8) -> Option<Date> {
    Date::new(year, month, day).ok()
}

fn month_of(word: &str) -> Option<i8> {
    let word = word.to_lowercase();
    let is = |name: &&str| **name == word || word.len() >= 3 && word.len() <= 4 && name.starts_with(&word);
    i8::try_from(MONTHS.iter().position(is)?.saturating_add(1)).ok()
}

fn year_of(word: &str) -> Option<i16> {
    let year = word.parse::<i16>().ok()?;
    (word.len() == 4 && (1_900..2_200).contains(&year)).then_some(year)
}

fn is_day(word: &str) -> Option<i8> {
    let digits = word.trim_end_matches(|letter: char| letter.is_ascii_alphabetic());
    let end = &word[digits.len()..];
    let day = digits.parse::<i8>().ok()?;
    ((1..=31).contains(&day) && ["", "st", "nd", "rd", "th"].contains(&end)).then_some(day)
}

/// `2026-10-03`, `3/10/2026`, `3.10.2026`.
fn written_day(word: &str) -> Option<Date> {
    if let Ok(day) = word.parse::<Date>()
        && word.len() == 10
    {
        return Some(day);
    }
    let parts: Vec<&str> = word.split(['/', '.']).collect();
    let [day, month, year] = parts[..] else { return None };
    date(year_of(year)?, month.parse().ok()?, day.parse().ok()?)
}

impl Typed {
    fn is_said_by(self, day: Date) -> bool {
        match self {
            Typed::Day(typed) => typed == day,
            Typed::Month(typed) => (typed.year(), typed.month()) == (day.year(), day.month()),
        }
    }

    fn noun(self) -> &'static str {
        match self {
            Typed::Day(_) => "day",
            Typed::Month(_) => "month",
        }
    }
}

impl Document {
    /// The days and months typed into its texts that are not meant so, and the field that would say each.
    pub fn typed(&self, lens: &Lens<'_>) -> Vec<TypedDate> {
        let mut all = Vec::new();
        for (place, block) in self.blocks.iter().enumerate() {
            let BlockShows::Text(text) = &block.shows else { continue };
            if text.typed {
                continue;
            }
            for (piece, words) in text.text.0.iter().enumerate() {
                let Piece::Text(words) = words else { continue };
                let found = found_in(words);
                all.extend(found.iter().map(|found| self.told(lens, place, &text.text, piece, found)));
            }
        }
        all
    }

    fn told(&self, lens: &Lens<'_>, block: usize, text: &Wording, piece: usize, found: &Found) -> TypedDate {
        let noun = found.what.noun();
        let says = format!("The {noun} was typed by hand.");
        let Some((field, wrong, all)) = self.would_say(lens, found.what) else {
            return TypedDate { block, says, wrong: String::new(), offer: String::new(), becomes: String::new() };
        };
        let home = lens.dataset().table(self.table);
        let (name, many) = home.map_or_else(Default::default, |home| {
            let name = home.def.field(field).map(|def| format!("“{}”", def.name)).unwrap_or_default();
            (name, within_sentence(&home.def.name))
        });
        let customs = lens.clock().customs();
        let counted = format!("{} of {} {many}", customs.count_text(wrong), customs.count_text(all));
        let wrong = if wrong == 0 { String::new() } else { format!("On {counted}, {name} is another {noun}.") };
        let offer = match found.what {
            Typed::Day(_) => format!("Put in {name}"),
            Typed::Month(_) => format!("Put in the month of {name}"),
        };
        TypedDate { block, says, wrong, offer, becomes: put_in(text, piece, found, field).to_text(lens.dataset(), self.table) }
    }

    /// The field of days that says the same on the most records, on how many it says another, and of how many.
    fn would_say(&self, lens: &Lens<'_>, what: Typed) -> Option<(FieldId, usize, usize)> {
        let home = lens.dataset().table(self.table)?;
        let days = |field: &FieldId| lens.dataset().shown_kind(self.table, *field).is_some_and(|(_, kind)| kind.shows().is_of_days());
        let kept = |field: &FieldId| home.def.field(*field).is_some_and(|def| def.kind.is_kept_by_us());
        let fields = home.def.fields.iter().map(|def| def.id).filter(|field| days(field) && !kept(field) && lens.reads(self.table, *field));
        let records: Vec<RecordId> = lens.records(self.table).collect();
        let counted = fields.map(|field| {
            let (wrong, all) = counts(lens, self.table, field, &records, what);
            (field, wrong, all)
        });
        counted.filter(|(_, _, all)| *all > 0).max_by_key(|(_, wrong, all)| all.saturating_sub(*wrong))
    }
}

fn counts(lens: &Lens<'_>, table: TableId, field: FieldId, records: &[RecordId], what: Typed) -> (usize, usize) {
    let (mut wrong, mut all) = (0_usize, 0_usize);
    for record in records {
        let days = days_at(lens, table, &[field], *record);
        if !days.is_empty() {
            all = all.saturating_add(1);
            wrong = wrong.saturating_add(usize::from(!days.iter().any(|day| what.is_said_by(*day))));
        }
    }
    (wrong, all)
}

/// The text with a field in place of what was typed.
fn put_in(text: &Wording, piece: usize, found: &Found, field: FieldId) -> Wording {
    let mut pieces = Vec::with_capacity(text.0.len().saturating_add(2));
    for (place, one) in text.0.iter().enumerate() {
        let Piece::Text(words) = one else {
            pieces.push(one.clone());
            continue;
        };
        if place != piece {
            pieces.push(one.clone());
            continue;
        }
        let value = match found.what {
            Typed::Day(_) => Piece::Value(vec![field]),
            Typed::Month(_) => Piece::Month(vec![field]),
        };
        let around = [Piece::Text(words[..found.at.start].to_owned()), value, Piece::Text(words[found.at.end..].to_owned())];
        pieces.extend(around.into_iter().filter(|piece| !matches!(piece, Piece::Text(text) if text.is_empty())));
    }
    Wording(pieces)
}

#[cfg(test)]
mod tests {
    use super::{Typed, found_in};
    use jiff::civil::date;

    #[track_caller]
    fn check(text: &str, expected: &[(&str, Typed)]) {
        let found: Vec<(&str, Typed)> = found_in(text).into_iter().map(|found| (&text[found.at], found.what)).collect();
        assert_eq!(found, expected, "{text}");
    }

    #[test]
    fn days_and_months_that_are_typed_are_found_where_they_stand() {
        let october = Typed::Month(date(2026, 10, 1));
        check("Work of October 2026 under the budget", &[("October 2026", october)]);
        check("(Oct 2026)", &[("Oct 2026", october)]);
        check("on 3 October 2026, at noon", &[("3 October 2026", Typed::Day(date(2026, 10, 3)))]);
        check("on the 3rd Sept 2026.", &[("3rd Sept 2026", Typed::Day(date(2026, 9, 3)))]);
        check("October 3, 2026", &[("October 3, 2026", Typed::Day(date(2026, 10, 3)))]);
        check("2026-10-03 and 3/10/2026", &[("2026-10-03", Typed::Day(date(2026, 10, 3))), ("3/10/2026", Typed::Day(date(2026, 10, 3)))]);
    }

    #[test]
    fn what_may_mean_anything_is_none() {
        for text in ["", "in 2026", "may be done", "the 3rd of them", "May we", "FR-2026-0107", "é 12.5 – £2026.00", "march 26"] {
            check(text, &[]);
        }
    }
}
