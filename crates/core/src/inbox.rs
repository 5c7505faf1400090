//! Inbox: what somebody is told of what others did. A notice holds no words of records: it is told through its reader's lens when it is
//! read, so whoever may not see a record any more is told nothing of it either.

use crate::{
    access::{Asker, Lens},
    automation::{LogOutcome, Move, Source},
    history::Op,
    id::{AutomationId, CommentId, FieldId, PersonId, RecordId, TableId},
    part::Part,
    people::Actor,
    schema::within_sentence,
    sentence::{Phrase, Sentence},
    value::{Cell, Value},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Most notices of one sort that one change makes: whoever is given thousands of records at once needs to be told once.
const MOST: usize = 20;

/// Something that somebody is told.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub struct Notice {
    pub to: PersonId,
    /// Whoever did it; none: nobody of the team.
    pub by: Option<PersonId>,
    /// About which record.
    pub about: Option<(TableId, RecordId)>,
    pub of: News,
}

/// What it tells.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum News {
    /// They are named in what was said, or it answers what they said, or they follow the record.
    Said(CommentId),
    /// A record is theirs now, by this field; perhaps by an automation.
    Given { field: FieldId, by: Option<AutomationId> },
    /// A message of an automation that acts for them was answered.
    Answered { automation: AutomationId, by: String, words: String },
    /// An automation that acts for them could not do something.
    Failed(AutomationId),
    /// An automation that acts for them writes more within an hour than it may.
    Paced(AutomationId),
    /// They may open the tracker now.
    Opened,
    /// Somebody asks something of them.
    Asked { task: i64, what: String },
    /// What they asked is done.
    Done { task: i64, what: String },
}

impl News {
    /// The word under which it is kept, and by which somebody says when it reaches them elsewhere, too.
    pub fn word(&self) -> &'static str {
        match self {
            News::Said(_) => "said",
            News::Given { .. } | News::Asked { .. } => "given",
            News::Answered { .. } | News::Done { .. } => "answered",
            News::Failed(_) | News::Paced(_) => "failed",
            News::Opened => "opened",
        }
    }
}

/// The word of the morning's reminder.
pub const MORNING: &str = "morning";

/// When something of the inbox reaches its reader elsewhere, too.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Elsewhere {
    Never,
    AtOnce,
    /// With the morning's message.
    Daily,
}

impl Elsewhere {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::Never, Self::AtOnce, Self::Daily];

    /// The word under which it is kept.
    pub fn word(self) -> &'static str {
        match self {
            Self::Never => "never",
            Self::AtOnce => "at_once",
            Self::Daily => "daily",
        }
    }

    /// Those that can be chosen for a word: mornings come once a day.
    pub fn of(word: &str) -> &'static [Self] {
        if word == MORNING { &[Self::Never, Self::Daily] } else { &Self::ALL }
    }
}

/// The words of what comes, how each is said to whoever chooses, and when it reaches them by itself.
pub const WISHES: [(&str, &str, Elsewhere); 6] = [
    (MORNING, "what of your rounds is late, or for today or tomorrow", Elsewhere::Daily),
    ("said", "when somebody names you, answers you, or speaks of what you follow", Elsewhere::AtOnce),
    ("given", "when something is given to you", Elsewhere::Never),
    ("answered", "when what you asked is answered or done", Elsewhere::Never),
    ("failed", "when an automation of yours could not do something", Elsewhere::Never),
    ("opened", "when a tracker is opened to you", Elsewhere::Never),
];

/// A notice as its reader is told it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct NoticeTold {
    /// *Nadia names you*.
    pub says: Vec<Phrase>,
    /// What was said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub quote: Option<String>,
    /// The comment that can be answered.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub comment: Option<CommentId>,
    /// The record's name; none: it is about none.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    /// Why they are told: *You are told since you follow this fault.*
    pub why: String,
}

impl Move {
    /// Whom it tells what. Nobody is told of what they did themselves, nor of what is taken back.
    pub fn notices(&self, lens: &Lens<'_>) -> Vec<Notice> {
        let mut told = BTreeSet::new();
        if self.change.undoes.is_none() {
            for op in &self.change.ops {
                self.of_op(op, lens, &mut told);
            }
        }
        for run in &self.runs {
            let Source::Automation(id) = run.source else { continue };
            let failed = run.log.iter().any(|line| line.outcome == LogOutcome::Failed);
            if let Some(to) = self.after.automation(id).and_then(|automation| automation.acts_for).filter(|_| failed) {
                told.insert(Notice { to, by: None, about: run.record.map(|record| (run.table, record)), of: News::Failed(id) });
            }
        }
        let by = self.actor();
        told.into_iter().filter(|notice| Some(notice.to) != by).take(MOST.saturating_mul(10)).collect()
    }

    fn actor(&self) -> Option<PersonId> {
        if let Actor::Person(person) = self.change.who { Some(person) } else { None }
    }

    fn of_op(&self, op: &Op, lens: &Lens<'_>, told: &mut BTreeSet<Notice>) {
        let by = self.actor();
        match op {
            Op::Say { table, record, before: None, after: Some(comment) } => {
                let readers = lens.addressed_by(*table, *record, comment);
                let notice = |to| Notice { to, by, about: Some((*table, *record)), of: News::Said(comment.id) };
                told.extend(readers.into_iter().map(notice));
            }
            Op::Cell { table, record, field, before, after } => self.given(*table, *field, (*record, before, after), told),
            Op::Fill { table, field, cells } => {
                for (record, before, after) in cells.iter().take(MOST) {
                    self.given(*table, *field, (*record, before, after), told);
                }
            }
            Op::Reply { table, record, automation, by: name, words, .. } => {
                let to = self.after.automation(*automation).and_then(|automation| automation.acts_for);
                told.extend(to.map(|to| Notice {
                    to,
                    by,
                    about: Some((*table, *record)),
                    of: News::Answered { automation: *automation, by: name.clone(), words: words.clone() },
                }));
            }
            Op::Put { before, after } => {
                let members = |part: &Option<Box<Part>>| match part.as_deref() {
                    Some(Part::Role(role)) => role.members.clone(),
                    _ => BTreeSet::new(),
                };
                let known: BTreeSet<PersonId> = self.before.roles().flat_map(|role| role.members.iter().copied()).collect();
                let fresh = members(after).into_iter().filter(|person| !members(before).contains(person) && !known.contains(person));
                told.extend(fresh.map(|to| Notice { to, by, about: None, of: News::Opened }));
            }
            _ => {}
        }
    }

    /// A record whose field of persons says whose it is.
    fn given(&self, table: TableId, field: FieldId, (record, before, after): (RecordId, &Value, &Value), told: &mut BTreeSet<Notice>) {
        let rounds = self.after.table(table).and_then(|home| home.def.rounds.as_ref());
        if rounds.is_none_or(|rounds| rounds.who != [field]) {
            return;
        }
        let people = |value: &Value| -> BTreeSet<PersonId> {
            match value.as_cell() {
                Cell::Person(id) => [id].into(),
                Cell::People(ids) => ids.iter().copied().collect(),
                _ => BTreeSet::new(),
            }
        };
        let automation = if let Actor::Automation(id) = self.change.who { Some(id) } else { None };
        let (had, by) = (people(before), self.actor());
        let fresh = people(after).into_iter().filter(|person| !had.contains(person));
        told.extend(fresh.map(|to| Notice { to, by, about: Some((table, record)), of: News::Given { field, by: automation } }));
    }
}

impl Lens<'_> {
    /// A notice as whoever looks is told it now; none: it is of what they may not see, or of what went.
    pub fn notice(&self, notice: &Notice) -> Option<NoticeTold> {
        let ds = self.dataset();
        let name = match notice.about {
            Some((table, record)) => Some(self.record_name(table, record).filter(|_| self.sees(table, record))?.name),
            None => None,
        };
        let person = |id: Option<PersonId>| id.map_or_else(|| "Somebody".to_owned(), |id| ds.people.name(id).to_owned());
        let who = person(notice.by);
        let mut s = Sentence::default();
        let (mut quote, mut comment) = (None, None);
        let one = notice.about.and_then(|(table, _)| ds.table(table)).map_or("record", |home| &home.def.one);
        let why;
        match &notice.of {
            News::Said(id) => {
                let (table, record) = notice.about.filter(|(table, record)| self.hears(*table, *record))?;
                let said = ds.table(table)?.talk.of(record).find(|said| said.id == *id && !said.is_gone())?;
                let addressed = Lens::new(ds, Asker::Westerfall, self.clock()).addressed_by(table, record, said).contains(&notice.to);
                why = match (said.answers.is_some(), addressed) {
                    (true, true) => "it answers what you said".to_owned(),
                    (false, true) => "you are named in it".to_owned(),
                    _ => format!("you follow this {one}"),
                };
                s.strong(if notice.by.is_some() { who } else { self.speaker_name(said) });
                s.plain(match (said.answers.is_some(), addressed) {
                    (true, true) => " answered you on ",
                    (false, true) => " names you on ",
                    _ => " spoke of ",
                });
                quote = Some(self.comment_line(said));
                comment = Some(said.answers.unwrap_or(*id));
            }
            News::Given { field, by } => {
                let readable = notice.about.filter(|(table, record)| self.shows(*table, *record, *field));
                let as_what = readable.and_then(|_| ds.field(*field)).map(|(_, def)| within_sentence(&def.name));
                why = match &as_what {
                    Some(what) => format!("you stand in its {what} now, by which this {one} is on somebody’s rounds"),
                    None => format!("this {one} is on your rounds now"),
                };
                s.strong(match by.and_then(|id| ds.automation(id)) {
                    Some(automation) => format!("The automation “{}”", automation.name),
                    None => who,
                });
                s.plain(as_what.map_or_else(|| " gave you ".to_owned(), |what| format!(" made you {what} of ")));
            }
            News::Answered { by, words, automation } => {
                let (table, record) = notice.about?;
                let asked =
                    ds.automation(*automation).map_or_else(|| "an automation that is gone".to_owned(), |of| format!("“{}”", of.name));
                why = format!("the automation {asked}, which asked, acts for you");
                s.strong(by.clone());
                s.plain(" answered ");
                // An answer tells what it put in: its words are for those who see all of that.
                let puts = ds.automation(*automation).map(crate::automation::Automation::answered_into).unwrap_or_default();
                if puts.iter().all(|field| self.shows(table, record, *field)) {
                    s.strong(format!("“{words}”"));
                    s.plain(" to ");
                }
                s.plain("your message on ");
            }
            News::Failed(id) | News::Paced(id) => {
                let automation = ds.automation(*id).filter(|_| self.builds())?;
                why = "it acts for you: what you may do, it may".to_owned();
                s.plain("Your automation ");
                s.strong(format!("“{}”", automation.name));
                let on = if name.is_some() { " on " } else { "" };
                s.plain(match notice.of {
                    News::Paced(_) => " writes more within an hour than it may, so the rest waits".to_owned(),
                    _ => format!(" could not do all that it should{on}"),
                });
            }
            News::Opened => {
                why = "you were given a role there".to_owned();
                s.strong(who);
                s.plain(format!(" opened {} to you", ds.tracker.name));
            }
            News::Asked { what, .. } | News::Done { what, .. } => {
                let asked = matches!(notice.of, News::Asked { .. });
                why = asked_why(asked);
                s.strong(who);
                s.plain(if asked { " asked you: " } else { " has done: " });
                s.strong(what.clone());
                s.plain(if name.is_some() { ", about " } else { "" });
            }
        }
        Some(NoticeTold { says: s.phrases(), quote, comment, name, why: told_since(&why) })
    }
}

/// A notice that is about no tracker.
pub fn bare_notice(notice: &Notice, who: &str) -> Option<NoticeTold> {
    let (News::Asked { what, .. } | News::Done { what, .. }) = &notice.of else { return None };
    let mut s = Sentence::default();
    s.strong(who);
    s.plain(if matches!(notice.of, News::Asked { .. }) { " asked you: " } else { " has done: " });
    s.strong(what.clone());
    let why = told_since(&asked_why(matches!(notice.of, News::Asked { .. })));
    Some(NoticeTold { says: s.phrases(), quote: None, comment: None, name: None, why })
}

fn asked_why(asked: bool) -> String {
    if asked { "it is asked of you" } else { "it was you who asked" }.to_owned()
}

fn told_since(why: &str) -> String {
    format!("You are told since {why}.")
}
