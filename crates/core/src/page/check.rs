//! Whether a shared page can stand as it is composed.

use super::{Block, Door, Page, PageRecords};
use crate::{
    checks::{check_link, check_mail, is_colour, is_origin, not_an_origin},
    condition::{Check, Condition, Who},
    dataset::{Dataset, Table},
    fault::{Checked, Fault, FaultKind, Faults},
    form::{AnswerKind, Audience},
    id::FieldId,
    schema::{FieldDef, Kind, LONG_TEXT_LIMIT, NAME_LIMIT, TEXT_LIMIT, within_sentence},
    sentence::{a_or_an, capital},
    value::list_text,
    view::Query,
};
use std::collections::BTreeSet;

/// Most parts of a page, and most addresses that it names.
const MAX_BLOCKS: usize = 20;
const MAX_GUESTS: usize = 500;

impl Page {
    /// Whether it shows only what is there, promises only what can be done, and lets in whom it says.
    ///
    /// # Errors
    /// Each thing that is wrong, with its place.
    pub fn check(&self, ds: &Dataset) -> Checked<()> {
        let mut faults = self.check_words();
        faults.extend(self.check_door());
        faults.extend(self.by.filter(|by| ds.people.get(*by).is_none()).map(|_| Fault::not_found("person").at("/by")));
        if self.blocks.len() > MAX_BLOCKS {
            faults.push(Fault::new(FaultKind::TooLong, format!("A page holds at most {MAX_BLOCKS} parts.")).at("/blocks"));
        }
        if self.open && self.blocks.is_empty() {
            faults.push(Fault::new(FaultKind::Missing, "Put something on the page before you open it.").at("/blocks"));
        }
        let mut numbers = BTreeSet::new();
        for (place, block) in self.blocks.iter().enumerate() {
            let at = format!("/blocks/{place}");
            faults.extend(self.check_block(ds, block, &mut numbers).into_iter().map(|fault| fault.at(&at)));
        }
        Faults::none_or(faults)
    }

    fn check_words(&self) -> Vec<Fault> {
        let mut faults = Vec::new();
        if self.title.trim().is_empty() {
            faults.push(Fault::new(FaultKind::Missing, "Give the page a title.").at("/title"));
        }
        for (at, text, limit) in [("/title", &self.title, TEXT_LIMIT), ("/intro", &self.intro, LONG_TEXT_LIMIT)] {
            if text.chars().count() > limit {
                faults.push(too_long(limit).at(at));
            }
        }
        faults.extend(check_link(&self.link).err().map(|fault| fault.at("/link")));
        if self.colour.as_deref().is_some_and(|colour| !is_colour(colour)) {
            faults.push(Fault::new(FaultKind::BadRule, "Write the colour like #4e5b1e.").at("/colour"));
        }
        faults
    }

    fn check_door(&self) -> Vec<Fault> {
        let mut faults = Vec::new();
        let bad = |at: &str, message: &str| Fault::new(FaultKind::BadRule, message).at(at);
        if self.door == Door::Passcode(String::new()) {
            faults.push(Fault::new(FaultKind::Missing, "Say the passcode.").at("/door"));
        }
        if self.open && self.door == Door::Named && self.guests.iter().all(|guest| guest.gone) {
            faults.push(Fault::new(FaultKind::Missing, "Name at least one address that comes in.").at("/door"));
        }
        if self.guests.len() > MAX_GUESTS {
            faults.push(Fault::new(FaultKind::TooLong, format!("A page names at most {MAX_GUESTS} addresses.")).at("/guests"));
        }
        let (mut numbers, mut addresses) = (BTreeSet::new(), BTreeSet::new());
        for (place, guest) in self.guests.iter().enumerate() {
            let at = format!("/guests/{place}");
            faults.extend(check_mail(&guest.mail).err().map(|fault| fault.at(&at)));
            if guest.name.chars().count() > NAME_LIMIT {
                faults.push(too_long(NAME_LIMIT).at(&at));
            }
            if !numbers.insert(guest.id) || !guest.gone && !addresses.insert(guest.mail.to_lowercase()) {
                faults.push(bad(&at, &format!("{} is named twice.", guest.mail)));
            }
        }
        faults.extend(self.embed.iter().filter(|site| !is_origin(site)).map(|site| not_an_origin(site).at("/embed")));
        if !self.embed.is_empty() && self.door != Door::Link {
            let message = "Within another site nobody can say who they are: such a page is for anybody who has the link.";
            faults.push(bad("/embed", message));
        }
        faults
    }

    fn check_block(&self, ds: &Dataset, block: &Block, numbers: &mut BTreeSet<u32>) -> Vec<Fault> {
        match block {
            Block::Text(words) => {
                let long = words.heading.chars().count() > TEXT_LIMIT || words.text.chars().count() > LONG_TEXT_LIMIT;
                long.then(|| too_long(LONG_TEXT_LIMIT)).into_iter().collect()
            }
            Block::Form(form) => match ds.form(*form) {
                None => vec![Fault::not_found("form")],
                Some(form) if form.audience != Audience::Anyone => {
                    let message = format!("“{}” is for people of the team, and visitors of this page are not signed in.", form.title);
                    vec![Fault::new(FaultKind::BadRule, message)]
                }
                Some(_) => Vec::new(),
            },
            Block::Records(records) if !numbers.insert(records.number) => {
                vec![Fault::new(FaultKind::BadRule, "Two parts of the page have one number.").at("/number")]
            }
            Block::Records(records) => records.check(ds, self.door == Door::Named),
        }
    }
}

impl PageRecords {
    /// `named`: the page knows who comes, by their address.
    fn check(&self, ds: &Dataset, named: bool) -> Vec<Fault> {
        let Some(home) = ds.table(self.table) else { return vec![Fault::not_found("table")] };
        let mut faults = Vec::new();
        if self.title.chars().count() > TEXT_LIMIT {
            faults.push(too_long(TEXT_LIMIT).at("/title"));
        }
        if let Err(Faults(found)) = self.query.check(ds, self.table) {
            faults.extend(found.into_iter().map(|fault| fault.at("/query")));
        }
        if let Err(Faults(found)) = self.only.check(ds, self.table) {
            faults.extend(found.into_iter().map(|fault| fault.at("/only")));
        }
        for (at, condition) in [("/query/condition", &self.query.condition), ("/only", &self.only)] {
            faults.extend(about_visitors(condition, named).map(|fault| fault.at(at)));
        }
        faults.extend(self.check_order(home));
        faults.extend(self.check_writing(home));
        faults.extend(self.check_offers(ds, home, named));
        faults
    }

    fn shows(&self, field: FieldId) -> bool {
        self.query.fields.iter().any(|shown| shown.field == field)
    }

    /// An order tells of what it is by, and so do groups, figures, lanes and days: of fields that are shown alone.
    fn check_order(&self, home: &Table) -> Vec<Fault> {
        let mut faults = Vec::new();
        if self.query.fields.is_empty() {
            faults.push(Fault::new(FaultKind::Missing, "Choose at least one field to show.").at("/query/fields"));
        }
        for (place, sort) in self.query.sorts.iter().enumerate().filter(|(_, sort)| !self.shows(sort.field)) {
            let name = name_of(home, sort.field);
            let message = format!("The order tells of {name}, which is not shown. Show it, or put the records in order by something else.");
            faults.push(Fault::new(FaultKind::BadRule, message).at(format!("/query/sorts/{place}")));
        }
        let bad = |what: &str, field: FieldId, at: String| {
            let message = format!("{what} of {}, which is not shown. Show it, or take that out.", name_of(home, field));
            Fault::new(FaultKind::BadRule, message).at(at)
        };
        let groups = self.query.groups.iter().enumerate().filter(|(_, group)| !self.shows(group.field));
        faults.extend(groups.map(|(place, group)| bad("The groups tell", group.field, format!("/query/groups/{place}"))));
        let tallies = self.query.tallies.iter().filter(|tally| !self.shows(tally.field));
        faults.extend(tallies.map(|tally| bad("A figure tells", tally.field, "/query/tallies".into())));
        let stands =
            Query { shape: self.query.shape.outside(), ..Query::default() }.named_fields().into_iter().filter(|field| !self.shows(*field));
        faults.extend(stands.map(|field| bad("The shape tells", field, "/query/shape".into())));
        faults
    }

    fn check_offers(&self, ds: &Dataset, home: &Table, named: bool) -> Vec<Fault> {
        let mut faults = Vec::new();
        for (field, from) in &self.offers {
            let at = format!("/offers/{field}");
            let Some(link) = home.link(*field).filter(|_| self.changes.contains(field)) else {
                faults.push(Fault::new(FaultKind::BadRule, "Visitors choose among records only for links that they fill in.").at(at));
                continue;
            };
            if let Err(Faults(found)) = from.check(ds, link.to) {
                faults.extend(found.into_iter().map(|fault| fault.at(&at)));
            }
            faults.extend(about_visitors(from, named).map(|fault| fault.at(&at)));
        }
        faults
    }

    fn check_writing(&self, home: &Table) -> Vec<Fault> {
        let bad = |message: String| Fault::new(FaultKind::BadRule, message).at("/changes");
        let mut faults = Vec::new();
        for field in &self.changes {
            let def = home.def.field(*field);
            if !self.shows(*field) {
                faults.push(bad(format!("Visitors can fill in what they see alone, and {} is not shown.", name_of(home, *field))));
            } else if def.is_some_and(|def| !may_be_filled_in(&def.kind)) {
                let name = capital(&name_of(home, *field));
                let message = format!("{name} can’t be filled in on a page: it is computed, or kept at the records on its other side.");
                faults.push(bad(message));
            }
        }
        if self.adds {
            let required =
                |def: &&FieldDef| def.required && def.kind.takes_input() && def.preset.is_none() && !self.changes.contains(&def.id);
            let left: Vec<String> = home.def.fields.iter().filter(required).map(|def| format!("“{}”", def.name)).collect();
            if !left.is_empty() {
                let message = format!(
                    "Whoever adds {} has to say {}: let them fill that in, or take a form.",
                    a_or_an(&home.def.one),
                    list_text(&left, "and")
                );
                faults.push(Fault::new(FaultKind::BadRule, message).at("/adds"));
            }
        }
        faults
    }
}

/// Whether visitors can fill in a field: what is kept elsewhere, at the other side of a link, is other records' to change.
pub(crate) fn may_be_filled_in(kind: &Kind) -> bool {
    AnswerKind::of(kind).is_some() && !matches!(kind, Kind::Link(link) if !link.holds)
}

/// What of a condition means nobody on this page.
fn about_visitors(condition: &Condition, named: bool) -> Option<Fault> {
    let tests = condition.tests();
    let says_me = tests.iter().any(|test| matches!(&test.check, Check::Person { any, .. } if any.contains(&Who::Me)));
    let says_mine = tests.iter().any(|test| matches!(test.check, Check::MyRecord { .. } | Check::MyAddress { .. }));
    let message = if says_me {
        "Visitors are nobody of the team, so that “me” means none of them. “My address” and “my record” do."
    } else if says_mine && !named {
        "This page does not know who comes: “my address” and “my record” mean somebody only where it names the addresses."
    } else {
        return None;
    };
    Some(Fault::new(FaultKind::BadRule, message))
}

fn name_of(home: &Table, field: FieldId) -> String {
    home.def.field(field).map_or_else(|| "a field that is gone".to_owned(), |def| within_sentence(&def.name))
}

fn too_long(limit: usize) -> Fault {
    Fault::new(FaultKind::TooLong, format!("This text has at most {limit} characters."))
}
