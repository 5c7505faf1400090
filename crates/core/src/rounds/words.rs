//! What a table says of its records for rounds, as a sentence.

use crate::{
    access::Lens,
    condition::words_of_path,
    id::TableId,
    schema::{Finish, Rounds, within_sentence},
    sentence::{Phrase, Sentence},
    value::list_text,
};

impl Rounds {
    /// *A fault is on its section’s district’s warden, due by due, until status is made good or no action, the more urgent by severity.*
    pub fn in_words(&self, lens: &Lens<'_>, table: TableId) -> Vec<Phrase> {
        let home = lens.dataset().table(table);
        let one = home.map_or("record", |home| home.def.one.as_str());
        let def = |id| home.and_then(|home| home.def.field(id));
        let name = |id| def(id).map_or_else(|| "a field that went".to_owned(), |def| within_sentence(&def.name));
        let mut s = Sentence::default();
        s.plain(format!("{} is on the rounds of its ", crate::sentence::capital(&crate::sentence::a_or_an(one))));
        s.edit(words_of_path(lens, table, &self.who), "/who");
        match self.due {
            Some(due) => {
                s.plain(", by ");
                s.edit(name(due), "/due");
            }
            None => {
                s.plain(", ");
                s.edit("without a day", "/due");
            }
        }
        let (until, finish) = match &self.done {
            Finish::Options { field, any } => {
                let named = |id| def(*field)?.kind.options().iter().find(|option| option.id == id).map(|option| option.name.clone());
                let options: Vec<String> = any.iter().filter_map(|id| named(*id)).collect();
                (", until ", format!("{} is {}", name(*field), list_text(&options, "or")))
            }
            Finish::Yes(field) => (", until ", format!("{} is yes", name(*field))),
            Finish::Filled(field) => (", until there is ", name(*field)),
            Finish::Noted(field) => (", again and again: done is what puts the day into ", name(*field)),
        };
        s.plain(until);
        s.edit(finish, "/done");
        match self.urgency {
            Some(field) => {
                s.plain(", urgent by ");
                s.edit(name(field), "/urgency");
            }
            None => s.offer("+ how urgent", "/urgency"),
        }
        if self.tells.is_empty() {
            s.plain(".");
            s.offer("+ what is told of it", "/tells");
        } else {
            s.plain(", told with ");
            s.edit(list_text(&self.tells.iter().map(|id| name(*id)).collect::<Vec<_>>(), "and"), "/tells");
            s.plain(".");
        }
        s.phrases()
    }
}
