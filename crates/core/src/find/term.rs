//! What is looked for, word by word.

use super::{LONGEST, MOST_WORDS};
use crate::{
    access::Lens,
    schema::Kind,
    value::{Value, fold, parse},
};
use jiff::civil::Date;

/// Longest run of words that may be one day: *26 November 2026*.
const DAY_WORDS: usize = 3;

/// A word, or words that are one day together.
#[derive(Clone, Debug)]
pub(super) struct Term {
    /// As it was typed.
    pub(super) typed: String,
    /// In small letters, without accents.
    pub(super) word: String,
    /// As it stands in a phone number that is kept for the whole world.
    pub(super) phone: Option<String>,
    pub(super) day: Option<Date>,
    /// Whether it may be a number, a share or a length of time.
    pub(super) counts: bool,
}

impl Term {
    /// What was typed as terms, and whether that is not all of it.
    pub(super) fn all(lens: &Lens<'_>, text: &str) -> (Vec<Self>, bool) {
        let short: String = text.chars().take(LONGEST).filter(|c| !c.is_control() || c.is_whitespace()).collect();
        let words: Vec<&str> = short.split_whitespace().collect();
        let (mut terms, mut at) = (Vec::new(), 0_usize);
        while at < words.len() && terms.len() < MOST_WORDS {
            let rest = &words[at..];
            let day = (2..=DAY_WORDS.min(rest.len())).rev().find_map(|many| {
                let together = rest[..many].join(" ");
                day(lens, &together).filter(|_| together.contains(char::is_alphabetic)).map(|day| (many, together, day))
            });
            let (many, term) = match day {
                Some((many, together, day)) => (many, Self::new(together, Some(day))),
                None => (1, Self::new(rest[0].to_owned(), day_of_figures(lens, rest[0]))),
            };
            terms.extend(Some(term).filter(|term| !term.word.is_empty()));
            at = at.saturating_add(many);
        }
        (terms, at < words.len() || text.chars().nth(LONGEST).is_some())
    }

    fn new(typed: String, day: Option<Date>) -> Self {
        let word = fold(&typed).into_owned();
        let figures = typed.chars().all(|c| c.is_ascii_digit()) && typed.len() > 2;
        let phone = figures.then(|| typed.trim_start_matches('0').to_owned()).filter(|figures| !figures.is_empty());
        let counts = typed.contains(|c: char| c.is_ascii_digit());
        Self { typed, word, phone, day, counts }
    }

    /// The value of this kind that it says, where it says one.
    pub(super) fn as_value(&self, lens: &Lens<'_>, kind: &Kind) -> Option<Value> {
        if !self.counts {
            return None;
        }
        parse(&self.typed, kind, lens.ds.tracker.locale, &lens.ds.people, lens.clock()).ok()
    }
}

fn day(lens: &Lens<'_>, text: &str) -> Option<Date> {
    match parse(text, &Kind::Date, lens.ds.tracker.locale, &lens.ds.people, lens.clock()) {
        Ok(Value::Date(day)) => Some(day),
        _ => None,
    }
}

/// A day in figures. *Today* is a word that somebody may have written.
fn day_of_figures(lens: &Lens<'_>, word: &str) -> Option<Date> {
    day(lens, word).filter(|_| word.contains(|c: char| c.is_ascii_digit()))
}
