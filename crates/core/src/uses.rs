//! What uses a field, an option or another part: looked at before it is changed or removed.

use crate::{
    dataset::Dataset,
    id::{FieldId, OptionId, TableId},
    names::{Hold, Name, Names},
    part::Part,
    schema::TableDef,
    value::Customs,
};
use serde::{Deserialize, Serialize};

/// A part of the tracker that uses a field, and how.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Use {
    pub what: Using,
    /// Its number.
    pub number: u32,
    /// The table it belongs to; of a role, none.
    pub table: Option<TableId>,
    pub name: String,
    /// How it uses the field: *shows it*, *counts it in its formula*.
    pub how: String,
    /// Whether the field can't be taken away before this is changed; otherwise it is taken out here by itself.
    pub holds: bool,
}

/// In how many places something is used; empty for none.
pub fn used_words(places: usize, customs: Customs) -> String {
    if places == 0 { String::new() } else { customs.count_words(places, "place", "places") }
}

/// In how many records an option stands, and how many places name it, before it is taken away or becomes another.
pub fn option_words(records: usize, places: usize, customs: Customs) -> String {
    let held = customs.count_words(records, "record holds it", "records hold it");
    match places {
        0 => held,
        places => format!("{held}, {} it", customs.count_words(places, "place names", "places name")),
    }
}

/// In how many records something stands, as a sentence.
pub fn held_words(records: usize, customs: Customs) -> String {
    match records {
        0 => "No record holds anything here.".to_owned(),
        records => format!("{} something here.", customs.count_words(records, "record holds", "records hold")),
    }
}

/// The sorts of things that use fields.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Using {
    Table,
    Field,
    View,
    Form,
    Role,
    Automation,
    Page,
    Highlight,
    Document,
    Text,
}

impl Dataset {
    /// Everything that uses a field; of a link, also what uses its other side.
    pub fn uses(&self, table: TableId, field: FieldId) -> Vec<Use> {
        let back = self.table(table).and_then(|t| t.link(field)).map(|link| link.back);
        let own = |u: &Use| u.what == Using::Field && (u.number == field.get() || back.is_some_and(|back| u.number == back.get()));
        let mut found = self.uses_of(Name::Field(field));
        if let Some(back) = back {
            found.extend(self.uses_of(Name::Field(back)));
        }
        found.retain(|u| !own(u));
        found
    }

    /// Everything that uses an option of a choice.
    pub fn uses_of_option(&self, option: OptionId) -> Vec<Use> {
        self.uses_of(Name::Option(option))
    }

    /// Everything that names something.
    pub fn uses_of(&self, name: Name) -> Vec<Use> {
        let mut found = Vec::new();
        for part in self.parts() {
            match &part {
                Part::Tracker(_) => {}
                Part::Table(table) if table.gone.is_some() => {}
                Part::Table(table) => table_uses(table, name, &mut found),
                Part::View(_) => part_uses(&part, Using::View, name, &mut found),
                Part::Form(_) => part_uses(&part, Using::Form, name, &mut found),
                Part::Role(_) => part_uses(&part, Using::Role, name, &mut found),
                Part::Automation(_) => part_uses(&part, Using::Automation, name, &mut found),
                Part::Page(_) => part_uses(&part, Using::Page, name, &mut found),
                Part::Highlight(_) => part_uses(&part, Using::Highlight, name, &mut found),
                Part::Document(_) => part_uses(&part, Using::Document, name, &mut found),
                Part::Text(_) => part_uses(&part, Using::Text, name, &mut found),
            }
        }
        found
    }
}

fn table_uses(table: &TableDef, name: Name, found: &mut Vec<Use>) {
    table.clone().each_of_its_own(&mut |named, hold| {
        if named == name {
            add(found, (Using::Table, table.id.get(), Some(table.id), &table.name), hold);
        }
        Some(named)
    });
    for field in &table.fields {
        let told = format!("{} in {}", field.name, table.name);
        field.names(&mut |named, hold| {
            if named == name {
                add(found, (Using::Field, field.id.get(), Some(table.id), &told), hold);
            }
        });
    }
}

fn part_uses(part: &Part, what: Using, name: Name, found: &mut Vec<Use>) {
    part.names(&mut |named, hold| {
        if named == name {
            add(found, (what, part.key().1, part.table(), part.title()), hold);
        }
    });
}

/// Once for each way in which a part holds it.
fn add(found: &mut Vec<Use>, (what, number, table, name): (Using, u32, Option<TableId>, &str), hold: Hold) {
    let (how, holds) = match hold {
        Hold::Needs(how) => (how, true),
        Hold::Shows(how) => (how, false),
    };
    let known = found.iter().any(|u| u.what == what && u.number == number && u.how == how);
    if !known {
        found.push(Use { what, number, table, name: name.to_owned(), how: how.to_owned(), holds });
    }
}
