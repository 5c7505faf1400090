//! What a form's rules say, in sentences.

use super::{Audience, Form, FormState, Question};
use crate::{
    access::Lens,
    condition::Condition,
    id::TableId,
    sentence::{Phrase, Sentence, as_text},
    value::moment_text,
    view::condition_phrases,
};
use serde::{Deserialize, Serialize};

/// A form's rules, read back.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FormSentences {
    /// Whether it takes answers, until when, and from whom.
    pub running: String,
    /// Of each question, when it is asked; pressing a phrase edits that part of its condition.
    pub shown: Vec<Vec<Phrase>>,
    /// Of each link, which records it offers.
    pub offers: Vec<String>,
}

impl Form {
    /// Its rules in words.
    pub fn to_sentences(&self, lens: &Lens<'_>) -> FormSentences {
        FormSentences {
            running: self.running_words(lens),
            shown: self
                .questions
                .iter()
                .enumerate()
                .map(|(place, q)| q.shown_words(lens, self.table, &format!("/questions/{place}/shown/condition")))
                .collect(),
            offers: self.questions.iter().map(|q| q.offers_words(lens, self.table)).collect(),
        }
    }

    fn running_words(&self, lens: &Lens<'_>) -> String {
        let clock = lens.clock();
        let moment = |at: jiff::civil::DateTime| {
            at.to_zoned(clock.zone.clone()).map_or_else(|_| at.to_string(), |zoned| moment_text(zoned.timestamp(), clock))
        };
        let mut words = match self.state(lens.dataset(), clock) {
            FormState::Open => "It is open".to_owned(),
            FormState::Closed => "It is closed by hand".to_owned(),
            FormState::Early => "It is not open yet".to_owned(),
            FormState::Over => "It is over".to_owned(),
            FormState::Full => "It is full".to_owned(),
        };
        if let Some(from) = self.limits.from {
            words += &format!(", from {}", moment(from));
        }
        if let Some(to) = self.limits.to {
            words += &format!(", until {}", moment(to));
        }
        if let Some(most) = self.limits.most {
            words += &format!(", for at most {most} {}", if most == 1 { "answer" } else { "answers" });
        }
        words + ", to " + self.audience.words() + "."
    }
}

impl Audience {
    /// As it stands after *for* and *to*.
    pub fn words(self) -> &'static str {
        match self {
            Audience::Anyone => "everyone who has the link",
            Audience::Team => "people who are signed in",
            Audience::Once => "people who are signed in, each once",
        }
    }
}

impl Question {
    fn shown_words(&self, lens: &Lens<'_>, table: TableId, at: &str) -> Vec<Phrase> {
        let mut s = Sentence::default();
        if self.shown.is_nothing() {
            s.offer("asked only when …", at);
            return s.phrases();
        }
        s.plain("asked when ");
        self.put_when(&mut s, lens, table, at);
        s.plain(" ");
        s.offer("condition", at);
        s.phrases()
    }

    /// When it is asked, in words; nothing: always.
    pub(super) fn when(&self, lens: &Lens<'_>, table: TableId) -> Option<String> {
        let mut s = Sentence::default();
        self.put_when(&mut s, lens, table, "");
        Some(as_text(&s.phrases())).filter(|words| !words.is_empty())
    }

    fn put_when(&self, s: &mut Sentence, lens: &Lens<'_>, table: TableId, at: &str) {
        if !self.shown.condition.is_nothing() {
            condition_phrases(s, &self.shown.condition, lens, table, at);
        }
        for (place, test) in self.shown.parameters.iter().enumerate() {
            if place > 0 || !self.shown.condition.is_nothing() {
                s.plain(" and ");
            }
            let verb = if test.not { "does not say" } else { "says" };
            s.plain(format!("the link {verb} {}={}", test.name, test.is));
        }
    }

    fn offers_words(&self, lens: &Lens<'_>, table: TableId) -> String {
        let link = lens.dataset().table(table).and_then(|t| t.link(self.field));
        match link {
            Some(link) if self.offers != Condition::default() => {
                let many = lens.dataset().table(link.to).map_or_else(String::new, |t| t.def.many());
                format!("{many} where {}", self.offers.to_sentence(lens, link.to))
            }
            _ => String::new(),
        }
    }
}
