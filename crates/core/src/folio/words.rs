//! What was arranged of a section, in words, each at the place that it edits.

use crate::{
    access::Lens,
    id::TableId,
    schema::{Arrangement, Section},
    sentence::{Phrase, Sentence, capital},
    value::list_text,
    view::condition_phrases,
};

impl Arrangement {
    /// Each section's settings as a sentence: *In two columns, closed at first, only where status is made good, put away for Wardens.*
    pub fn in_words(&self, lens: &Lens<'_>, table: TableId) -> Vec<Vec<Phrase>> {
        let said = |(place, section): (usize, &Section)| section.in_words(lens, table, &format!("/sections/{place}"));
        self.sections.iter().enumerate().map(said).collect()
    }
}

impl Section {
    fn in_words(&self, lens: &Lens<'_>, table: TableId, at: &str) -> Vec<Phrase> {
        let mut s = Sentence::default();
        s.edit(capital(if self.two { "in two columns" } else { "in one column" }), format!("{at}/two"));
        s.plain(", ");
        s.edit(if self.closed { "closed at first" } else { "open" }, format!("{at}/closed"));
        if !self.when.is_nothing() {
            s.plain(", only where ");
            condition_phrases(&mut s, &self.when, lens, table, &format!("{at}/when"));
        }
        let roles = self.not_for.iter().filter_map(|id| lens.dataset().role(*id)).map(|role| role.name.clone()).collect::<Vec<_>>();
        if !roles.is_empty() {
            s.plain(", put away for ");
            // Which roles there are is told to those who give them.
            let named = if lens.is_steward() { list_text(&roles, "and") } else { "some roles".to_owned() };
            s.edit(named, format!("{at}/not_for"));
        }
        s.plain(".");
        if self.when.is_nothing() {
            s.offer("only where …", format!("{at}/when"));
        }
        if roles.is_empty() {
            s.offer("put away for a role", format!("{at}/not_for"));
        }
        s.phrases()
    }
}
