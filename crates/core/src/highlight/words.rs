//! A highlight in words, each at the place that it edits.

use super::{Highlight, Ink, Look, LookSize, Touch};
use crate::{
    access::Lens,
    schema::{Hue, within_sentence},
    sentence::{Phrase, Sentence, a_or_an},
    value::list_text,
    view::condition_phrases,
};
use serde::{Deserialize, Serialize};

/// A highlight as a sentence, and what it touches now.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HighlightWords {
    /// *Where due is before today, due is rowan and bold.* What looks otherwise has the place of that in the highlight.
    pub sentence: Vec<Phrase>,
    /// When it acts, as it stands after *since*: *due is before today*; *always*.
    pub when: String,
    /// Records in sight that it touches.
    pub matching: usize,
}

impl Highlight {
    /// The highlight in words.
    pub fn in_words(&self, lens: &Lens<'_>) -> HighlightWords {
        let mut s = Sentence::default();
        if self.is_never() {
            s.edit("Never (what it asked for is gone)", "/condition");
            s.plain(", ");
        } else if self.is_standing() {
            s.edit("Always", "/condition");
            s.plain(", ");
        } else {
            s.plain("Where ");
            condition_phrases(&mut s, &self.condition, lens, self.table, "/condition");
            s.plain(", ");
        }
        for (place, touch) in self.touches.iter().enumerate() {
            if place > 0 {
                s.plain(if place + 1 == self.touches.len() { " and " } else { ", " });
            }
            self.touch_phrases(&mut s, lens, touch, &format!("/touches/{place}"));
        }
        if self.touches.is_empty() {
            s.plain("nothing looks otherwise yet");
        }
        s.plain(".");
        if !self.is_standing() {
            s.offer("condition", "/condition");
        }
        s.offer(if self.touches.is_empty() { "how it looks" } else { "something else that looks otherwise" }, "/touches");
        HighlightWords { sentence: s.phrases(), when: self.when(lens), matching: self.condition.matching(lens, self.table).count_ones(..) }
    }

    /// When it acts: *due is before today*, *always*.
    pub fn when(&self, lens: &Lens<'_>) -> String {
        match (self.is_never(), self.is_standing()) {
            (true, _) => "never".to_owned(),
            (_, true) => "always".to_owned(),
            _ => self.condition.to_sentence(lens, self.table),
        }
    }

    fn touch_phrases(&self, s: &mut Sentence, lens: &Lens<'_>, touch: &Touch, at: &str) {
        let home = lens.dataset().table(self.table);
        let name = |field| {
            home.and_then(|home| home.def.field(field)).map_or_else(|| "a field that is gone".into(), |def| within_sentence(&def.name))
        };
        let what = if touch.fields.is_empty() {
            format!("the whole {}", home.map_or("record", |home| home.def.one.as_str()))
        } else {
            list_text(&touch.fields.iter().map(|field| name(*field)).collect::<Vec<_>>(), "and")
        };
        s.edit(what, format!("{at}/fields"));
        let many = touch.fields.len() > 1;
        let (are, have): (Vec<_>, Vec<_>) = touch.look.effects().into_iter().partition(|effect| !effect.is_had);
        if are.is_empty() && have.is_empty() {
            s.plain(if many { " are " } else { " is " });
            s.edit("as it was", format!("{at}/look"));
        }
        let mut list = |effects: &[Effect], verb: &str| {
            for (n, effect) in effects.iter().enumerate() {
                s.plain(match n {
                    0 => verb,
                    n if n + 1 == effects.len() => " and ",
                    _ => ", ",
                });
                s.edit(effect.words.clone(), format!("{at}/look/{}", effect.part));
            }
        };
        list(&are, if many { " are " } else { " is " });
        let has = if many { "have " } else { "has " };
        list(&have, &if are.is_empty() { format!(" {has}") } else { format!(" and {has}") });
    }
}

/// One thing that a look sets.
pub(super) struct Effect {
    pub(super) words: String,
    /// Its name in the look.
    pub(super) part: &'static str,
    /// It stands after *has*, not after *is*.
    is_had: bool,
}

impl Look {
    /// Each thing that it sets.
    pub(super) fn effects(&self) -> Vec<Effect> {
        let Self { fill, ink, edge, bold, italic, struck, size, sign, word } = self;
        let ink = ink.map(|ink| match ink {
            Ink::Quiet => "quiet",
            Ink::Of(hue) => hue.word(),
        });
        let size = size.map(|size| match size {
            LookSize::Smaller => "smaller",
            LookSize::Larger => "larger",
        });
        let is = |words: Option<&str>, part| words.map(|words| Effect { words: words.to_owned(), part, is_had: false });
        let has = |words: Option<String>, part| words.map(|words| Effect { words, part, is_had: true });
        let effects = [
            is(ink, "ink"),
            is(bold.then_some("bold"), "bold"),
            is(italic.then_some("italic"), "italic"),
            is(struck.then_some("struck through"), "struck"),
            is(size, "size"),
            is(fill.map(|hue| format!("on {}", hue.word())).as_deref(), "fill"),
            has(edge.map(|hue| format!("{} edge", a_or_an(hue.word()))), "edge"),
            has(sign.as_ref().map(|sign| a_or_an(&sign.name)), "sign"),
            has((!word.is_empty()).then(|| format!("the word “{word}”")), "word"),
        ];
        effects.into_iter().flatten().collect()
    }
}

impl Hue {
    /// Its name, as it stands within a sentence.
    pub fn word(self) -> &'static str {
        match self {
            Hue::Heather => "heather",
            Hue::Bracken => "bracken",
            Hue::Slate => "slate",
            Hue::Gorse => "gorse",
            Hue::Lichen => "lichen",
            Hue::Peat => "peat",
            Hue::Rowan => "rowan",
            Hue::Sky => "sky",
            Hue::Fern => "fern",
            Hue::Clay => "clay",
            Hue::Plum => "plum",
            Hue::Flint => "flint",
        }
    }
}
