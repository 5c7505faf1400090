//! What a shared page gives, in sentences: for whoever shares it, and for whoever comes to it.

use super::{Block, Door, Page, PageRecords, Visitor};
use crate::{
    access::Lens,
    form::FormState,
    id::{FieldId, TableId},
    schema::{FieldDef, Link, within_sentence},
    sentence::{Phrase, Sentence},
    value::{Customs, list_text},
    view::{Shape, ShapeOffer, condition_phrases, group_words, sort_words},
};
use fixedbitset::FixedBitSet;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// A page in sentences, each phrase at its place in what it says.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageSentences {
    /// Who comes in; places in the page.
    pub door: Vec<Phrase>,
    /// For each part, in their order, what may be done there; places in that part. Of texts and forms nothing.
    pub blocks: Vec<Vec<Phrase>>,
    /// For each part the shapes that it can have; of texts and forms none.
    pub shapes: Vec<Vec<ShapeOffer>>,
}

impl Page {
    /// Whom it lets in, in a few words.
    pub(crate) fn lets_in(&self, customs: Customs) -> String {
        match self.door {
            Door::Link => "anybody who has the link".to_owned(),
            Door::Passcode(_) => "whoever knows the passcode".to_owned(),
            Door::Named => customs.count_words(self.guests.iter().filter(|guest| !guest.gone).count(), "named address", "named addresses"),
        }
    }

    /// As whoever shares it reads it, through their own lens.
    pub fn to_sentences(&self, lens: &Lens<'_>) -> PageSentences {
        let of = |block: &Block| if let Block::Records(records) = block { records.to_sentence(lens) } else { Vec::new() };
        // What a table lacks for a shape is made at the table, not from a page.
        let as_they_are = |offer: ShapeOffer| ShapeOffer { makes: None, ..offer };
        let shapes = |block: &Block| match block {
            Block::Records(records) => records.query.shapes(lens, records.table).into_iter().map(as_they_are).collect(),
            Block::Text(_) | Block::Form(_) => Vec::new(),
        };
        PageSentences {
            door: self.door_sentence(lens),
            blocks: self.blocks.iter().map(of).collect(),
            shapes: self.blocks.iter().map(shapes).collect(),
        }
    }

    fn door_sentence(&self, lens: &Lens<'_>) -> Vec<Phrase> {
        const FEW: usize = 2;
        let mut s = Sentence::default();
        let customs = lens.clock().customs();
        let named: Vec<&str> = self.guests.iter().filter(|guest| !guest.gone).map(|guest| guest.mail.as_str()).collect();
        match self.door {
            Door::Link => s.edit("Anybody who has the link", "/door"),
            Door::Passcode(_) => s.edit("Whoever has the link and the passcode", "/door"),
            Door::Named if named.is_empty() => s.edit("Nobody yet", "/door"),
            Door::Named if named.len() <= FEW => s.edit(list_text(&named, "and"), "/door"),
            Door::Named => s.edit(customs.count_words(named.len(), "named address", "named addresses"), "/door"),
        }
        let many = self.door == Door::Named && named.len() > 1;
        s.plain(if many { " come in" } else { " comes in" });
        s.plain(if self.door == Door::Named { ", with a code that is mailed there" } else { "" });
        if let Some(until) = self.until {
            s.plain(", until ");
            s.edit(customs.date_text(until), "/until");
        }
        s.plain(".");
        if let Some(by) = self.by {
            s.plain(" Visitors turn to ");
            s.edit(lens.dataset().people.name(by), "/by");
            s.plain(".");
        }
        if !self.embed.is_empty() {
            s.plain(" It may stand within ");
            s.edit(customs.count_words(self.embed.len(), "other site", "other sites"), "/embed");
            s.plain(".");
        }
        if self.until.is_none() {
            s.offer("last day", "/until");
        }
        if self.by.is_none() {
            s.offer("whom visitors turn to", "/by");
        }
        if self.embed.is_empty() && self.door == Door::Link {
            s.offer("within another site", "/embed");
        }
        s.phrases()
    }
}

impl Page {
    /// What visitors would gain and lose where it stands so in place of how it stood, in sentences; none where that is nothing.
    /// The tracker is as it would be.
    pub fn moves_from(&self, before: Option<&Page>, lens: &Lens<'_>) -> Vec<String> {
        let today = lens.clock().today();
        let before = before.filter(|page| page.is_open_on(today));
        let after = Some(self).filter(|page| page.is_open_on(today));
        let mut tables: Vec<TableId> = before.iter().chain(&after).flat_map(|page| page.records()).map(|records| records.table).collect();
        tables.sort_unstable();
        tables.dedup();
        tables.into_iter().filter_map(|table| moves_of(lens, table, before, after)).collect()
    }

    /// The records of a table that it shows, and the fields, and those that are filled in.
    fn shown_of(&self, lens: &Lens<'_>, table: TableId) -> (FixedBitSet, BTreeSet<FieldId>, BTreeSet<FieldId>) {
        let (mut rows, mut fields, mut filled) = (FixedBitSet::new(), BTreeSet::new(), BTreeSet::new());
        for records in self.records().filter(|records| records.table == table) {
            rows.union_with(&records.query.condition.matching(lens, table));
            fields.extend(records.query.fields.iter().map(|shown| shown.field));
            filled.extend(&records.changes);
        }
        (rows, fields, filled)
    }
}

fn moves_of(lens: &Lens<'_>, table: TableId, before: Option<&Page>, after: Option<&Page>) -> Option<String> {
    let home = lens.dataset().table(table)?;
    let shown = |page: Option<&Page>| page.map(|page| page.shown_of(lens, table)).unwrap_or_default();
    let ((rows, fields, filled), (new_rows, new_fields, new_filled)) = (shown(before), shown(after));
    let count = |n: usize| lens.clock().customs().count_words(n, &home.def.one, &home.def.many());
    let names = |fields: Vec<FieldId>| {
        let names: Vec<String> = fields.iter().filter_map(|id| home.def.field(*id)).map(|def| within_sentence(&def.name)).collect();
        list_text(&names, "and")
    };
    let fresh = |now: &BTreeSet<FieldId>, then: &BTreeSet<FieldId>| now.difference(then).copied().collect::<Vec<_>>();
    let (more, less) = (new_rows.difference(&rows).count(), rows.difference(&new_rows).count());
    let mut parts = Vec::new();
    for (does, n) in [("see", more), ("no longer see", less)] {
        if n > 0 {
            parts.push(format!("{does} {}", count(n)));
        }
    }
    for (does, of) in [
        ("read", fresh(&new_fields, &fields)),
        ("no longer read", fresh(&fields, &new_fields)),
        ("fill in", fresh(&new_filled, &filled)),
        ("no longer fill in", fresh(&filled, &new_filled)),
    ] {
        if !of.is_empty() {
            parts.push(format!("{does} {}", names(of)));
        }
    }
    (!parts.is_empty()).then(|| format!("Visitors {}.", list_text(&parts, "and")))
}

impl PageRecords {
    fn to_sentence(&self, lens: &Lens<'_>) -> Vec<Phrase> {
        let mut s = Sentence::default();
        let Some(home) = lens.dataset().table(self.table) else { return Vec::new() };
        let (count, customs) = (self.query.condition.matching(lens, self.table).count_ones(..), lens.clock().customs());
        s.plain("Visitors look at ");
        s.strong(customs.count_text(count));
        s.plain(format!(" {}", if count == 1 { home.def.one.clone() } else { home.def.many() }));
        if !self.query.condition.is_nothing() {
            s.plain(" where ");
            condition_phrases(&mut s, &self.query.condition, lens, self.table, "/query/condition");
        }
        for (place, sort) in self.query.sorts.iter().enumerate() {
            s.plain(if place == 0 { ", " } else { ", then " });
            s.edit(sort_words(lens, self.table, *sort), format!("/query/sorts/{place}"));
        }
        s.plain(", in ");
        s.edit(customs.count_words(self.query.fields.len(), "field", "fields"), "/query/fields");
        self.say_shape(&mut s, lens);
        if !self.changes.is_empty() {
            s.plain("; they fill in ");
            s.edit(self.filled_in(lens), "/changes");
        }
        for (link, def) in self.chosen_from(lens) {
            let Some(from) = lens.dataset().table(link.to) else { continue };
            s.plain(format!("; for “{}” they choose among ", def.name));
            let at = format!("/offers/{}", def.id);
            match self.offers.get(&def.id).filter(|from| !from.is_nothing()) {
                None => s.edit(format!("all {}", from.def.many()), at),
                Some(condition) => {
                    s.plain(format!("{} where ", from.def.many()));
                    condition_phrases(&mut s, condition, lens, link.to, &at);
                }
            }
        }
        if self.adds {
            s.plain("; they ");
            s.edit(format!("add {}", home.def.many()), "/adds");
        }
        if self.removes {
            s.plain("; they ");
            s.edit(format!("remove {}", home.def.many()), "/removes");
        }
        if !self.only.is_nothing() {
            s.plain("; all this only where ");
            condition_phrases(&mut s, &self.only, lens, self.table, "/only");
        }
        s.plain(".");
        s.offer("condition", "/query/condition");
        s.offer("sort", "/query/sorts");
        let stands_together = matches!(self.query.shape, Shape::Rows(_) | Shape::Cards(_) | Shape::Lanes(_));
        for (is, words, at) in [
            (!stands_together || !self.query.groups.is_empty(), "group", "/query/groups"),
            (!self.query.tallies.is_empty(), "figure", "/query/tallies"),
            (!self.changes.is_empty(), "fields to fill in", "/changes"),
            (self.adds, "adding", "/adds"),
            (self.removes, "removing", "/removes"),
        ] {
            if !is {
                s.offer(words, at);
            }
        }
        if (!self.changes.is_empty() || self.removes) && self.only.is_nothing() {
            s.offer("only where", "/only");
        }
        s.phrases()
    }

    /// *, grouped by status, with the sum of hours needed, as lanes by status*.
    fn say_shape(&self, s: &mut Sentence, lens: &Lens<'_>) {
        if let Shape::CrossTab(tab) = &self.query.shape {
            tab.say(s, lens, self.table, !self.query.tallies.is_empty(), "/query");
        }
        let lanes = matches!(self.query.shape, Shape::Lanes(_));
        let grouping = self.query.grouping();
        for (place, group) in self.query.groups.iter().enumerate().filter(|(_, group)| grouping.contains(group)) {
            s.plain(match (lanes, place) {
                (true, _) => ", in bands by ",
                (false, 0) => ", grouped by ",
                (false, _) => " and ",
            });
            s.edit(group_words(lens, self.table, *group), format!("/query/groups/{place}"));
        }
        if !self.query.tallies.is_empty() {
            s.plain(", with ");
            s.edit(self.query.figures_words(lens, self.table), "/query/tallies");
        }
        s.plain(", as ");
        s.edit(self.query.shape.words(lens, self.table), "/query/shape");
    }

    /// The links that visitors fill in, in the order in which they stand there.
    fn chosen_from<'a>(&'a self, lens: &'a Lens<'_>) -> impl Iterator<Item = (Link, &'a FieldDef)> {
        let home = lens.dataset().table(self.table);
        let filled = self.query.fields.iter().filter(|shown| self.changes.contains(&shown.field));
        filled.filter_map(move |shown| {
            let home = home?;
            Some((home.link(shown.field)?, home.def.field(shown.field)?))
        })
    }

    /// What visitors fill in, as it is headed and in the order in which it stands there.
    fn filled_in(&self, lens: &Lens<'_>) -> String {
        let Some(home) = lens.dataset().table(self.table) else { return String::new() };
        let filled = self.query.fields.iter().filter(|shown| self.changes.contains(&shown.field));
        let names: Vec<String> = filled.filter_map(|shown| Some(format!("“{}”", home.def.field(shown.field)?.name))).collect();
        list_text(&names, "and")
    }
}

impl Visitor<'_> {
    /// From whom it is, for whom and until when, and all that one may do there. The verbs come from the page’s own rule, so that
    /// it promises nothing that would be refused.
    pub(super) fn greeting(&self) -> Vec<Phrase> {
        let mut s = Sentence::default();
        let customs = self.clock.customs();
        s.plain(format!("From {}", self.team.name));
        let guest = self.guest.and_then(|guest| self.page.guest(guest));
        if let Some(guest) = guest {
            s.plain(" for ");
            s.strong(if guest.name.is_empty() { &guest.mail } else { &guest.name });
        }
        if let Some(until) = self.page.until {
            s.plain(format!(", until {}", customs.date_text(until)));
        }
        s.plain(".");
        let may = self.may();
        for (place, (verb, what)) in may.iter().enumerate() {
            s.plain(match place {
                0 => " You may ",
                last if last + 1 == may.len() => " and ",
                _ => ", ",
            });
            s.strong(*verb);
            s.plain(format!(" {what}"));
        }
        if !may.is_empty() {
            s.plain(".");
        }
        if self.page.records().any(|records| !records.changes.is_empty() || records.adds) {
            let under = guest.map_or_else(String::new, |guest| format!(", under {}", guest.mail));
            s.plain(format!(" What you write is kept when you leave its box, and seen by the team at once{under}."));
        }
        s.phrases()
    }

    /// Each thing that can be done, and with what.
    fn may(&self) -> Vec<(&'static str, String)> {
        let customs = self.clock.customs();
        let mut gathered: Vec<(&'static str, Vec<String>)> = Vec::new();
        let mut add = |verb: &'static str, what: String| match gathered.iter_mut().find(|(known, _)| *known == verb) {
            Some((_, all)) if !all.contains(&what) => all.push(what),
            Some(_) => {}
            None => gathered.push((verb, vec![what])),
        };
        let open = self.ds.tracker.stage.is_open();
        for records in self.page.records() {
            let Some(home) = self.ds.table(records.table) else { continue };
            let lens = self.lens_of(records.number);
            add("look at", customs.count_words(lens.count(records.table), &home.def.one, &home.def.many()));
        }
        for records in self.page.records().filter(|_| open) {
            let Some(home) = self.ds.table(records.table) else { continue };
            if !records.changes.is_empty() {
                add("fill in", records.filled_in(&self.lens_of(records.number)));
            }
            if records.adds {
                add("add", home.def.many());
            }
            if records.removes {
                add("remove", home.def.many());
            }
        }
        for block in &self.page.blocks {
            if let Block::Form(form) = block
                && let Some(form) = self.ds.form(*form).filter(|form| form.state(self.ds, self.clock) == FormState::Open)
            {
                add("send in", format!("“{}”", form.title));
            }
        }
        gathered.into_iter().map(|(verb, all)| (verb, list_text(&all, "and"))).collect()
    }
}
