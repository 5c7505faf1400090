//! Talk as somebody may see it: with the names of whom and what it speaks, as far as they are open.

use super::{Comment, TalkPart};
use crate::{
    access::{Asker, Lens},
    fault::{Fault, FaultKind},
    id::{CommentId, GroupId, PersonId, RecordId, TableId},
    people::Actor,
    value::{Attachment, fold, list_text, moment_text},
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Most people and groups that are proposed.
const PROPOSED: usize = 12;

/// A comment as its reader may see it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CommentTold {
    pub id: CommentId,
    pub at: Timestamp,
    /// The moment in words.
    pub at_text: String,
    pub by: PersonId,
    pub who: String,
    /// Whether it is one's own.
    pub mine: bool,
    /// When it was changed, in words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub changed: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub answers: Option<CommentId>,
    /// It was taken back, and something answers it.
    pub gone: bool,
    pub says: Vec<TalkSpan>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub files: Vec<Attachment>,
    /// Whether it speaks to whoever reads it.
    pub to_me: bool,
}

/// A run of what is said.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TalkSpan {
    /// The part as it was sent, so that it can be sent again.
    pub part: TalkPart,
    /// What one reads: a text with its small formatting, a name.
    pub text: String,
}

/// Somebody who may be spoken to.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Addressee {
    pub whom: Whom,
    pub name: String,
    /// Whether they may see the record, and so what is said; of a group, whether anybody of it may.
    pub sees: bool,
    /// The same in words.
    pub says: String,
}

/// A person or a group.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Whom {
    Person(PersonId),
    Group(GroupId),
}

impl Lens<'_> {
    /// Whether what is said of a record is told to the asker.
    pub fn hears(&self, table: TableId, record: RecordId) -> bool {
        self.sees(table, record) && self.hears_of(table)
    }

    /// Whether what is said of a table's records is told to the asker, of those that they see: to everybody, where the coordinator
    /// does not say to which roles alone; never to visitors of a shared page.
    pub fn hears_of(&self, table: TableId) -> bool {
        let Some(home) = self.ds.any_table(table).filter(|_| self.page().is_none()) else { return false };
        let roles = &home.def.talk_for;
        roles.is_empty() || self.is_steward() || self.me.is_some_and(|me| self.ds.roles_of(me).any(|role| roles.contains(&role.id)))
    }

    /// That what is said of a record is told to the asker.
    ///
    /// # Errors
    /// The record is not there for them, or what is said of it is for others.
    pub fn must_hear(&self, table: TableId, record: RecordId) -> Result<(), Fault> {
        let home = self.ds.table(table).filter(|_| self.sees(table, record)).ok_or_else(|| Fault::not_found("record"))?;
        if self.hears_of(table) {
            return Ok(());
        }
        let many = home.def.many();
        let message = format!("What is said of {many} is told to some roles alone, of which you hold none. Ask the tracker’s steward.");
        Err(Fault::new(FaultKind::NotAllowed, message))
    }

    /// To whom what is said of a table's records is told: *Told to whoever sees the fault*, *Told to Office and stewards alone*.
    pub fn talk_for_words(&self, table: TableId) -> String {
        let Some(home) = self.ds.table(table) else { return String::new() };
        match self.talk_for_names(table) {
            None => format!("Told to whoever sees the {}.", home.def.one),
            Some(names) => format!("Told to {names} alone."),
        }
    }

    /// Those to whom alone it is told, by their names: *Office and stewards*; nothing where everybody is told.
    pub(crate) fn talk_for_names(&self, table: TableId) -> Option<String> {
        let roles = self.ds.table(table)?.def.talk_for.iter().filter_map(|role| self.ds.role(*role));
        let mut names: Vec<String> = roles.map(|role| role.name.clone()).collect();
        (!names.is_empty()).then(|| {
            names.push("stewards".to_owned());
            list_text(&names, "and")
        })
    }

    /// What was said about a record, in the order in which it was said. What was taken back is told where something answers it.
    pub fn talk(&self, table: TableId, record: RecordId) -> Vec<CommentTold> {
        if !self.hears(table, record) {
            return Vec::new();
        }
        let Some(home) = self.ds.table(table) else { return Vec::new() };
        let answered: BTreeSet<CommentId> =
            home.talk.of(record).filter(|comment| !comment.is_gone()).filter_map(|comment| comment.answers).collect();
        let told = home.talk.of(record).filter(|comment| !comment.is_gone() || answered.contains(&comment.id));
        told.map(|comment| self.comment_told(comment)).collect()
    }

    /// The last thing that somebody said about a record.
    pub fn last_said(&self, table: TableId, record: RecordId, by: PersonId) -> Option<Comment> {
        let home = self.ds.table(table).filter(|_| self.hears(table, record))?;
        home.talk.of(record).filter(|comment| comment.by == by && comment.through.is_none() && !comment.is_gone()).last().cloned()
    }

    /// Who said it: a person, or an automation that acts for one.
    pub(crate) fn speaker_name(&self, comment: &Comment) -> String {
        self.actor_name(comment.through.map_or(Actor::Person(comment.by), Actor::Automation))
    }

    fn comment_told(&self, comment: &Comment) -> CommentTold {
        let to_me = |part: &TalkPart| match (part, self.me) {
            (TalkPart::Person(person), Some(me)) => *person == me,
            (TalkPart::Group(group), Some(me)) => self.ds.people.is_in(*group, me),
            _ => false,
        };
        CommentTold {
            id: comment.id,
            at: comment.at,
            at_text: moment_text(comment.at, self.clock),
            by: comment.by,
            who: self.speaker_name(comment),
            mine: self.me == Some(comment.by) && comment.through.is_none(),
            changed: comment.changed.map(|at| moment_text(at, self.clock)),
            answers: comment.answers,
            gone: comment.is_gone(),
            files: comment.files.clone(),
            says: comment.said.iter().map(|part| TalkSpan { part: part.clone(), text: self.part_text(part) }).collect(),
            to_me: comment.said.iter().any(to_me),
        }
    }

    fn part_text(&self, part: &TalkPart) -> String {
        match part {
            TalkPart::Text(text) => text.clone(),
            TalkPart::Person(person) => self.ds.people.name(*person).to_owned(),
            TalkPart::Group(group) => self.ds.people.group(*group).map_or_else(|| "a group".to_owned(), |group| group.name.clone()),
            TalkPart::Record { table, record } => {
                self.record_name(*table, *record).map_or_else(|| "a record that is not open to you".to_owned(), |record| record.name)
            }
        }
    }

    /// A comment in one line, as it stands in a mail and where it is found.
    pub fn comment_line(&self, comment: &Comment) -> String {
        let said: String = comment.said.iter().map(|part| self.part_text(part)).collect();
        let files = comment.files.iter().map(|file| file.name.as_str()).collect::<Vec<_>>().join(", ");
        match (said.is_empty(), files.is_empty()) {
            (_, true) => said,
            (true, false) => files,
            (false, false) => format!("{said} ({files})"),
        }
    }

    /// Whether somebody sees a file that was brought to the talk of a record.
    pub fn holds_talk_file(&self, table: TableId, id: &str) -> bool {
        let talk = self.ds.table(table).filter(|_| self.hears_of(table)).map(|home| &home.talk);
        talk.is_some_and(|talk| talk.with_file(id).any(|record| self.sees(table, record)))
    }

    /// People and groups whose names hold these words, and whether what is said of a record reaches them.
    pub fn whom(&self, table: TableId, record: RecordId, search: &str) -> Vec<Addressee> {
        if !self.hears(table, record) {
            return Vec::new();
        }
        let wanted = fold(search.trim()).into_owned();
        let people = &self.ds.people;
        let fits = |name: &str| fold(name).split_whitespace().any(|word| word.starts_with(&wanted)) || fold(name).starts_with(&wanted);
        let sees = |person: PersonId| Lens::new(self.ds, Asker::Person(person), self.clock).hears(table, record);
        let person = |id: PersonId, name: &str| {
            let sees = sees(id);
            let says = if sees { "may see this" } else { "may not see this record, and is not told" };
            Addressee { whom: Whom::Person(id), name: name.to_owned(), sees, says: says.to_owned() }
        };
        let mut found: Vec<Addressee> = people.here().filter(|one| fits(&one.name)).map(|one| person(one.id, &one.name)).collect();
        for group in people.groups().filter(|group| fits(&group.name) && self.speaks_to(group.id)) {
            let members: Vec<PersonId> = group.members.iter().copied().filter(|member| !people.has_left(*member)).collect();
            let seeing = members.iter().filter(|member| sees(**member)).count();
            let says = match seeing {
                0 => "nobody of them may see this record".to_owned(),
                some if some == members.len() => format!("a group; all {some} may see this"),
                some => format!("a group; {some} of {} may see this", members.len()),
            };
            found.push(Addressee { whom: Whom::Group(group.id), name: group.name.clone(), sees: seeing > 0, says });
        }
        found.sort_by_key(|one| (!one.sees, one.name.clone()));
        found.truncate(PROPOSED);
        found
    }

    /// Whether a group is there to be spoken to: for stewards, and for those who are in it. Whom else there is, nobody is told.
    pub(crate) fn speaks_to(&self, group: GroupId) -> bool {
        let people = &self.ds.people;
        people.group(group).is_some() && (self.is_steward() || self.me.is_some_and(|me| people.is_in(group, me)))
    }

    /// Those whom a comment reaches: the people whom it names, those of its groups, and whoever it answers; of these, those who may
    /// see the record, and never whoever said it.
    pub fn addressed_by(&self, table: TableId, record: RecordId, comment: &Comment) -> BTreeSet<PersonId> {
        let people = &self.ds.people;
        let mut named: BTreeSet<PersonId> = comment.names().collect();
        for part in &comment.said {
            if let TalkPart::Group(group) = part {
                named.extend(people.group(*group).into_iter().flat_map(|group| group.members.iter().copied()));
            }
        }
        let answered = comment.answers.and_then(|id| self.ds.table(table)?.talk.get(record, id));
        named.extend(answered.map(|answered| answered.by));
        let reached = |person: &PersonId| {
            *person != comment.by
                && people.get(*person).is_some_and(|one| !one.has_left())
                && Lens::new(self.ds, Asker::Person(*person), self.clock).hears(table, record)
        };
        named.into_iter().filter(reached).collect()
    }
}
