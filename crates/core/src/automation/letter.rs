//! Messages: to whom, and what each reader may be told.

use super::{Asked, Automation, Recipient};
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    document::{Letterhead, Paper},
    id::{AutomationId, DocumentId, PersonId, RecordId, TableId},
    people::{Channel, Reached},
    schema::Kind,
    sentence::capital,
    value::{Cell, Customs, phone_number},
    wording::{self, Wording},
};
use serde::{Deserialize, Serialize};

/// A message to be sent.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Message {
    /// The same for the same cause, so that it is sent once.
    pub key: String,
    #[serde(default, skip_serializing_if = "Channel::is_mail")]
    pub by: Channel,
    /// Where that way leads: see [`Reached`].
    pub to: String,
    pub to_name: String,
    /// Its reader, where they are of the team.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub person: Option<PersonId>,
    pub subject: String,
    pub body: String,
    /// Whether its reader may open the record, so that its address may be put in.
    pub opens_record: bool,
    /// Of one message for many records: what is said of each.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub items: Vec<Item>,
    /// What its reader may answer from within it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub asks: Option<Box<Asked>>,
    /// Why its reader gets it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub why: String,
    /// Whether it goes outside the team: then its reader can say that they want no more of them.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub outside: bool,
    /// What goes along with it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub encloses: Option<Enclosed>,
}

/// A document that goes along with a mail. It is printed when the mail is sent, as its reader may see it then.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Enclosed {
    pub document: DocumentId,
    pub record: RecordId,
    /// Of the team; nobody: it goes outside, and holds what whoever wrote the message chose.
    pub person: Option<PersonId>,
}

impl Enclosed {
    /// What is printed; nothing: the document or the record is gone, or not open to its reader any more.
    pub fn paper(&self, ds: &Dataset, clock: &Clock, head: &Letterhead) -> Option<Paper> {
        let document = ds.document(self.document)?;
        let asker = self.person.map_or(Asker::Westerfall, Asker::Person);
        let seen = Lens::new(ds, asker, clock).sees(document.table, self.record);
        seen.then(|| document.paper(ds, asker, clock, &[self.record], head).ok()).flatten()
    }
}

/// What is said of one of many records.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Item {
    pub text: String,
    /// The record, where its reader may open it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub opens: Option<(TableId, RecordId)>,
}

/// How many messages go out by these ways: *3 texts*; where they differ, *5 messages*.
pub(super) fn count_words(ways: impl Iterator<Item = Channel>, customs: Customs) -> String {
    let ways: Vec<Channel> = ways.collect();
    let noun = match ways.first() {
        Some(first) if ways.iter().all(|one| one == first) => first.noun(),
        _ => "message",
    };
    customs.count_words(ways.len(), noun, &format!("{noun}s"))
}

/// Somebody whom a message reaches, or a room in which many read it.
pub(super) struct Reader {
    pub person: Option<PersonId>,
    pub name: String,
    pub at: Reached,
}

/// A text as a reader may be told it, and the names of what was left out.
pub(super) struct Told {
    pub subject: String,
    pub body: String,
    pub left_out: Vec<String>,
    pub opens_record: bool,
}

impl Reader {
    fn outside(at: Reached) -> Self {
        let name = at.to.strip_prefix('#').filter(|_| at.is_room()).map_or_else(|| at.to.clone(), |room| format!("the room {room}"));
        Self { person: None, name, at }
    }

    fn of(ds: &Dataset, person: PersonId) -> Option<Self> {
        let known = ds.people.get(person).filter(|p| !p.has_left())?;
        Some(Self { person: Some(person), name: known.name.clone(), at: known.reached()? })
    }

    /// Whether they are not of the team; who reads in a room is for whoever keeps it.
    pub(super) fn is_outside(&self) -> bool {
        self.person.is_none() && !self.at.is_room()
    }

    /// What goes to them, in words: *Mail to Tamsin Oake*.
    pub(super) fn line(&self) -> String {
        capital(&format!("{} to {}", self.at.by.noun(), self.name))
    }

    /// Whether they want what an automation writes: somebody outside may have said no.
    pub(super) fn wants(&self, ds: &Dataset, automation: AutomationId) -> bool {
        !self.is_outside() || ds.people.wants(&self.at.to, ds.messages_of(automation.get()))
    }

    /// Why they get what an automation writes: to somebody of the team which and as whom; to somebody outside, from where.
    pub(super) fn why(&self, automation: &Automation, to: &Recipient, ds: &Dataset, clock: &Clock) -> String {
        let tracker = &ds.tracker.name;
        let lens = Lens::new(ds, self.person.map_or(Asker::Westerfall, Asker::Person), clock);
        match self.person {
            // What a tracker is called is nobody's outside.
            None if self.at.is_room() => String::new(),
            None => "You get this since your address was given to us.".to_owned(),
            Some(_) if !lens.opens(automation.table) => format!("You get this since {tracker} names you."),
            Some(_) => {
                format!("You get this since “{}” of {tracker} writes to {}.", automation.name, to.words(&lens, automation.table))
            }
        }
    }

    /// The texts as this reader may see them: a person of the team gets no value that is not open to them.
    pub(super) fn told(
        &self,
        ds: &Dataset,
        (table, record): (TableId, RecordId),
        clock: &Clock,
        subject: &Wording,
        body: &Wording,
    ) -> Told {
        let asker = self.person.map_or(Asker::Westerfall, Asker::Person);
        let lens = Lens::new(ds, asker, clock);
        let subject = subject.fill(&lens, table, record);
        let body = body.fill(&lens, table, record);
        Told {
            // One line: a line break in a value must not become a header.
            subject: subject.text.split_whitespace().collect::<Vec<_>>().join(" "),
            body: body.text,
            left_out: subject.left_out.into_iter().chain(body.left_out).collect(),
            opens_record: self.person.is_some() && lens.sees(table, record),
        }
    }
}

impl Recipient {
    /// Whom it means for a record, each once.
    pub(super) fn readers(&self, lens: &Lens<'_>, table: TableId, record: RecordId) -> Vec<Reader> {
        let ds = lens.dataset();
        let path = match self {
            Recipient::Address(mail) => return vec![Reader::outside(Reached::by_mail(mail))],
            Recipient::Phone(number) => {
                let to = phone_number(number, ds.tracker.locale.country).unwrap_or_else(|_| number.clone());
                return vec![Reader::outside(Reached { by: Channel::Text, to })];
            }
            Recipient::Room(room) => return vec![Reader::outside(Reached { by: Channel::Chat, to: format!("#{}", room.trim()) })],
            Recipient::Role(role) => {
                let role = ds.roles().find(|one| one.id == *role);
                let holders = role.into_iter().flat_map(|role| role.holders(&ds.people));
                return holders.filter_map(|person| Reader::of(ds, person.id)).collect();
            }
            Recipient::Field(path) => path,
        };
        let Some((at, field, records)) = wording::ends(lens, table, path, record) else { return Vec::new() };
        let by = match ds.shown_kind(at, field) {
            Some((_, Kind::Phone)) => Channel::Text,
            _ => Channel::Mail,
        };
        let reader = lens.reader(at, field);
        let mut readers: Vec<Reader> = Vec::new();
        for cell in records.iter().flat_map(|r| reader.cells(r.row())) {
            let found = match cell {
                Cell::Person(id) => Reader::of(ds, id).into_iter().collect(),
                Cell::People(ids) => ids.iter().filter_map(|id| Reader::of(ds, *id)).collect(),
                Cell::Text(to) => vec![Reader::outside(Reached { by, to: to.to_owned() })],
                _ => Vec::new(),
            };
            for one in found {
                if !readers.iter().any(|r| r.at == one.at) {
                    readers.push(one);
                }
            }
        }
        readers
    }
}
