//! An automation as a short paragraph, one line per clause.

use super::{Automation, Occasion, Recipient, Step};
use crate::{
    access::Lens,
    condition::words_of_path,
    id::TableId,
    sentence::{Phrase, Sentence},
    view::condition_phrases,
};

impl Occasion {
    /// As it stands after *when a fault*; a form’s title is written as *…*.
    pub fn words(self) -> &'static str {
        match self {
            Occasion::Form(None) => "comes by any form",
            Occasion::Form(Some(_)) => "comes by the form “…”",
            Occasion::Added => "is added by one of the team",
            Occasion::Pressed => "has its button pressed",
        }
    }
}

impl Automation {
    /// The clauses: when, if, then each step.
    pub fn to_sentences(&self, lens: &Lens<'_>) -> Vec<Vec<Phrase>> {
        let one = lens.dataset().table(self.table).map_or("record", |t| &t.def.one);
        let mut when = Sentence::default();
        when.plain(format!("When a {one} "));
        match self.when {
            Occasion::Form(Some(form)) => {
                let title = lens.dataset().form(form).map_or("a form that is gone", |f| &f.title);
                when.edit(self.when.words().replace('…', title), "/when");
            }
            occasion => when.edit(occasion.words(), "/when"),
        }
        let mut clauses = vec![when.phrases()];
        let mut condition = Sentence::default();
        if self.condition.is_nothing() {
            condition.offer("condition", "/condition");
        } else {
            condition.plain("if ");
            condition_phrases(&mut condition, &self.condition, lens, self.table, "/condition");
            condition.offer("condition", "/condition");
        }
        clauses.push(condition.phrases());
        for (place, Step::Mail { to, subject, .. }) in self.steps.iter().enumerate() {
            let mut step = Sentence::default();
            step.plain("then send a mail to ");
            step.edit(to.words(lens, self.table), format!("/steps/{place}/mail/to"));
            step.plain(", headed ");
            step.edit(format!("“{}”", subject.to_text(lens.dataset(), self.table)), format!("/steps/{place}/mail/subject"));
            step.plain(".");
            clauses.push(step.phrases());
        }
        clauses
    }
}

impl Recipient {
    pub(super) fn words(&self, lens: &Lens<'_>, table: TableId) -> String {
        match self {
            Recipient::Address(address) => address.clone(),
            Recipient::Field(path) => format!("the {}", words_of_path(lens, table, path)),
        }
    }
}
