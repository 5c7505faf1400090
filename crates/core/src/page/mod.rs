//! Shared pages: what people outside the team are given, at one address that shows nothing else.
//!
//! A page is made of blocks. What is shown of a table is a grant like any other (see [`PageRecords::gives`]), so that whoever
//! comes to a page reads and writes through the same lens as everybody.

mod begin;
mod check;
mod refs;
mod rules;
mod sheet;
mod shown;
mod visit;
mod words;

pub(crate) use check::may_be_filled_in;
pub use shown::{
    PageAsking, PageCell, PageCrossAsking, PageCrossCell, PageCrossHead, PageCrossPart, PageCrossed, PageDays, PageDaysAsking, PageGroup,
    PageRow, PageRows, PageShape,
};
pub use visit::{PageColumn, PageContact, PageFront, PageNames, PagePart, PageTable, Visitor};
pub use words::PageSentences;

use crate::{
    access::{FieldRight, Reach, TableRights},
    condition::Condition,
    id::{FieldId, FormId, GuestId, PageId, PersonId, TableId},
    view::Query,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// A shared page.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Page {
    pub id: PageId,
    pub title: String,
    /// Under its title, in the team's own words.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub intro: String,
    /// The words in its address.
    pub link: String,
    /// Whether anybody can come in.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub open: bool,
    /// The last day on which it is open, in the tracker's zone.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>))]
    pub until: Option<Date>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub door: Door,
    /// The addresses that it is for, where it names them; those taken back are kept for what they did.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub guests: Vec<Guest>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub blocks: Vec<Block>,
    /// A colour of its own, as `#rrggbb`; darkened where text on it could not be read.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub colour: Option<String>,
    /// Other sites that may show it within theirs.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub embed: Vec<String>,
    /// To whom visitors turn.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<PersonId>,
}

/// Who comes in.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Door {
    /// Anybody who has the link.
    #[default]
    Link,
    /// Whoever knows the passcode too, of which only the hash is kept.
    Passcode(String),
    /// Only those whose addresses it names, with a code that is mailed to them.
    Named,
}

/// Somebody outside whom a page is for.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Guest {
    /// Their number on this page.
    pub id: GuestId,
    pub mail: String,
    /// Who that is: *the clerk of the parish council*.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub name: String,
    /// Taken back: they come in no more.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub gone: bool,
}

/// What a page is made of.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Block {
    Text(PageText),
    Form(FormId),
    Records(Box<PageRecords>),
}

/// A heading and a text.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageText {
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub heading: String,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub text: String,
}

/// Records of a table, and what visitors may do with them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageRecords {
    /// Its number on this page, which stays whatever stands before it.
    pub number: u32,
    pub table: TableId,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub title: String,
    /// Which records, in which order, and the fields that are shown. It is the page's own: no change of a view reaches it.
    pub query: Query,
    /// Of the fields shown, those that visitors fill in.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub changes: BTreeSet<FieldId>,
    /// Of links among those, which records visitors choose from; nothing is said of one: from all. They see their names.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub offers: BTreeMap<FieldId, Condition>,
    /// Whether they add records, with the fields that they fill in.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub adds: bool,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub removes: bool,
    /// Only of records where this holds is anything filled in or removed.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub only: Condition,
}

impl Page {
    /// Whether anybody can come in on a day.
    pub fn is_open_on(&self, day: Date) -> bool {
        self.open && self.until.is_none_or(|until| day <= until)
    }

    /// Somebody whom it names, who has not been taken back.
    pub fn guest(&self, id: GuestId) -> Option<&Guest> {
        self.guests.iter().find(|guest| guest.id == id && !guest.gone)
    }

    /// Whoever has this address there; capitals do not count.
    pub fn guest_at(&self, mail: &str) -> Option<&Guest> {
        let wanted = mail.trim().to_lowercase();
        self.guests.iter().find(|guest| !guest.gone && guest.mail.to_lowercase() == wanted)
    }

    /// Whether it lets somebody in: where it names addresses, only one of those.
    pub fn admits(&self, guest: Option<GuestId>) -> bool {
        match (&self.door, guest) {
            (Door::Named, None) => false,
            (_, None) => true,
            (_, Some(guest)) => self.guest(guest).is_some(),
        }
    }

    /// What it shows of tables.
    pub fn records(&self) -> impl Iterator<Item = &PageRecords> {
        self.blocks.iter().filter_map(|block| if let Block::Records(records) = block { Some(&**records) } else { None })
    }

    /// Whether what it shows hangs on who comes.
    pub(crate) fn is_about_me(&self) -> bool {
        self.records().any(|records| records.query.condition.is_about_me() || records.only.is_about_me())
    }

    /// What it shows of a table, by its number.
    pub fn block(&self, number: u32) -> Option<&PageRecords> {
        self.records().find(|records| records.number == number)
    }
}

impl PageRecords {
    /// What it gives whoever comes to the page.
    pub(crate) fn gives(&self) -> TableRights {
        let reach = |parts: &[&Condition]| match parts.iter().filter(|part| !part.is_nothing()).copied().collect::<Vec<_>>()[..] {
            [] => Reach::All,
            [one] => Reach::Where(one.clone()),
            ref all => Reach::Where(Condition::All(all.iter().map(|part| (*part).clone()).collect())),
        };
        let written = || reach(&[&self.query.condition, &self.only]);
        let right = |field: FieldId| if self.changes.contains(&field) { FieldRight::Change } else { FieldRight::Read };
        TableRights {
            look: reach(&[&self.query.condition]),
            add: self.adds,
            change: if self.changes.is_empty() { Reach::None } else { written() },
            remove: if self.removes { written() } else { Reach::None },
            fields: self.query.fields.iter().map(|shown| (shown.field, right(shown.field))).collect(),
            rest: FieldRight::Hidden,
            // Whoever shares a field shares what stands in it, computed or not, and the names that a link shows.
            released: self.query.fields.iter().map(|shown| shown.field).collect(),
        }
    }
}
