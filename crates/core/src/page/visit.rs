//! A shared page as somebody comes to it: what stands on it, and the records that it shows.

use super::{Block, Page, PageRecords, PageShape, PageText, may_be_filled_in, sheet::sections};
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::{Dataset, RecordName},
    face::Face,
    fault::Fault,
    folio::LaidSection,
    form::{AnswerKind, QuestionView},
    id::{FieldId, GuestId, RecordId},
    schema::{Choice, FieldDef, Kind},
    sentence::Phrase,
    view::{Order, figure_words},
    vocabulary::orders,
};
use serde::{Deserialize, Serialize};

/// Somebody at a shared page.
#[derive(Clone, Copy, Debug)]
pub struct Visitor<'a> {
    pub ds: &'a Dataset,
    pub page: &'a Page,
    /// Which of those whom it names.
    pub guest: Option<GuestId>,
    pub clock: &'a Clock,
    /// What the team is called.
    pub team: Face<'a>,
}

/// What stands on a page.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageFront {
    pub title: String,
    pub team: String,
    /// The team’s mark, by the number of its file: another one has another address.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mark: Option<String>,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub intro: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub colour: Option<String>,
    /// From whom it is, for whom, until when, and what one may do there.
    pub greeting: Vec<Phrase>,
    pub parts: Vec<PagePart>,
    /// The address under which one is there, where the page knows it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub you: Option<String>,
    /// To whom one turns.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub contact: Option<PageContact>,
}

/// Somebody of the team to whom visitors turn.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageContact {
    pub name: String,
    pub mail: String,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub phone: String,
}

/// One thing on a page.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum PagePart {
    Text(PageText),
    /// A form, by the words in its address.
    Form(String),
    Records(PageTable),
}

/// Records that a page shows: what they are called, what is shown of them, and what may be done.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageTable {
    pub number: u32,
    pub title: String,
    pub one: String,
    pub many: String,
    pub columns: Vec<PageColumn>,
    /// How one of them is laid out where it is opened.
    pub sections: Vec<LaidSection>,
    /// As they stand before anybody rearranges them.
    pub sorts: Vec<Order>,
    pub shape: PageShape,
    /// What its figures are: *the sum of hours needed*.
    pub figures: Vec<String>,
    pub adds: bool,
}

/// A field that a page shows.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageColumn {
    pub field: FieldId,
    pub name: String,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub help: String,
    /// Whether its values are figures, which stand under each other.
    pub figures: bool,
    /// Of a choice: what can stand there.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub options: Vec<Choice>,
    /// How it is filled in, where it can be.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub question: Option<QuestionView>,
    /// Whether one can look for words in it.
    pub text: bool,
    /// What its order is called: *earliest first*, *latest first*.
    pub orders: [String; 2],
}

/// For which link names are looked for, by what was typed.
#[derive(Clone, Debug, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageNames {
    pub field: FieldId,
    /// The record that is filled in; nothing: a new one.
    #[serde(default)]
    pub record: Option<RecordId>,
    #[serde(default)]
    pub search: String,
}

impl Visitor<'_> {
    /// As whom they ask.
    pub fn asker(&self) -> Asker {
        Asker::Visitor { page: self.page.id, guest: self.guest }
    }

    pub(super) fn lens_of(&self, number: u32) -> Lens<'_> {
        Lens::of_block(self.ds, self.clock, self.page.id, self.guest, number)
    }

    /// What stands on the page.
    pub fn front(&self) -> PageFront {
        let part = |block: &Block| match block {
            Block::Text(words) => Some(PagePart::Text(words.clone())),
            Block::Form(form) => Some(PagePart::Form(self.ds.form(*form)?.link.clone())),
            Block::Records(records) => self.table(records).map(PagePart::Records),
        };
        let contact = self.page.by.and_then(|by| self.ds.people.get(by)).filter(|person| !person.has_left());
        PageFront {
            title: self.page.title.clone(),
            team: self.team.name.to_owned(),
            mark: self.team.look.mark.as_ref().map(|mark| mark.id.clone()),
            intro: self.page.intro.clone(),
            colour: self.page.colour.clone().or_else(|| self.team.look.colour.clone()),
            greeting: self.greeting(),
            parts: self.page.blocks.iter().filter_map(part).collect(),
            you: self.guest.and_then(|guest| self.page.guest(guest)).map(|guest| guest.mail.clone()),
            contact: contact.map(|person| PageContact {
                name: person.name.clone(),
                mail: person.mail.clone(),
                phone: person.phone.clone(),
            }),
        }
    }

    fn table(&self, records: &PageRecords) -> Option<PageTable> {
        let home = self.ds.table(records.table)?;
        let lens = self.lens_of(records.number);
        let shown: Vec<FieldId> = records.query.fields.iter().map(|shown| shown.field).collect();
        let column = |field: FieldId| {
            let def = home.def.field(field)?;
            let (_, kind) = self.ds.shown_kind(records.table, field)?;
            Some(PageColumn {
                field,
                name: def.name.clone(),
                help: def.help.clone(),
                figures: kind.is_number(),
                options: kind.options().to_vec(),
                question: lens.writes(records.table, field).then(|| question(def)).flatten(),
                text: matches!(kind, Kind::Text { .. } | Kind::LongText | Kind::Numbering { .. }) && !def.kind.is_computed(),
                orders: orders(kind).map(str::to_owned),
            })
        };
        Some(PageTable {
            number: records.number,
            title: records.title.clone(),
            one: home.def.one.clone(),
            many: home.def.many(),
            columns: records.query.fields.iter().filter_map(|shown| column(shown.field)).collect(),
            sections: sections(&home.def, &shown).into_iter().map(|(_, section)| section).collect(),
            sorts: records.query.sorts.clone(),
            shape: PageShape::of(records, self.ds, self.clock),
            figures: records.query.tallies.iter().map(|tally| figure_words(&lens, records.table, *tally)).collect(),
            adds: lens.adds(records.table),
        })
    }

    /// Names of the records that a link of one part may be given, for what was typed. `record`: the one that is filled in; none: a
    /// new one.
    ///
    /// # Errors
    /// There is no such link that visitors fill in.
    pub fn offered(&self, number: u32, asking: &PageNames) -> Result<Vec<RecordName>, Fault> {
        let unknown = || Fault::not_found("field");
        let part = self.page.block(number).filter(|part| part.changes.contains(&asking.field)).ok_or_else(unknown)?;
        let def = self.ds.table(part.table).and_then(|home| home.def.field(asking.field)).ok_or_else(unknown)?;
        let Kind::Link(link) = def.kind else { return Err(unknown()) };
        let lens = self.lens_of(number);
        if asking.record.is_some_and(|record| !lens.changes(part.table, record, def.id)) || !lens.writes(part.table, def.id) {
            return Err(unknown());
        }
        let by = self.ds.names_by(part.table, def.id);
        let name = |record| lens.whole().linked_name(link.to, record, by).map(|named| named.name);
        let fits = |record| lens.page_offers(part.table, def, asking.record, record);
        Ok(lens.names_offered(link.to, &asking.search, fits, name))
    }
}

/// How somebody fills in a field of a page.
fn question(def: &FieldDef) -> Option<QuestionView> {
    if !may_be_filled_in(&def.kind) {
        return None;
    }
    Some(QuestionView {
        field: def.id,
        label: def.name.clone(),
        help: def.help.clone(),
        required: def.required,
        answer: AnswerKind::of(&def.kind)?,
        above: None,
        decides: false,
        given: None,
    })
}
