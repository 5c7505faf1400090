//! What whoever gets a message may answer from within it, without signing in. The message's link opens a page that tells what
//! pressing would do; pressing once does it, with what the automation may do.

use super::{
    LogLine,
    letter::{Reader, Told},
};
use crate::{
    Clock,
    access::{Asker, Lens},
    bulk::{Alter, Altered, Bulk, Which},
    dataset::Dataset,
    fault::{Fault, FaultKind},
    history::{Change, Op},
    id::{AutomationId, FieldId, PersonId, RecordId, TableId},
    people::Actor,
    schema::{Hue, Kind, within_sentence},
    sentence::{Phrase, Sentence},
    value::{Cell, Input, Value, fold, list_text, moment_text},
};
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

/// Most choices of one message.
pub const MOST_CHOICES: usize = 5;
/// Most facts that its page shows.
pub const MOST_FACTS: usize = 12;
/// Longest that an answer may be given, in days.
pub const MOST_REPLY_DAYS: u32 = 90;
/// Longest words of a choice, and of what is asked, in characters.
pub const REPLY_WORDS: usize = 80;
/// Longest answer that is typed, in characters.
const TYPED: usize = 500;

/// What may be answered to a message.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Reply {
    pub answers: ReplyBy,
    /// What its page shows of the record: to a person of the team, as far as it is open to them.
    #[serde(default)]
    pub facts: Vec<FieldId>,
    /// For how many days it can be answered.
    pub days: u32,
}

/// How one answers.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum ReplyBy {
    /// By one of these.
    Choices(Vec<ReplyChoice>),
    /// By a short text, a number or a day, that goes into a field.
    Typed { asks: String, field: FieldId },
}

/// One answer: its words, and what becomes of the record.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ReplyChoice {
    pub words: String,
    pub alter: Vec<Altered>,
}

/// What one message asked of whoever it went to, as it was when it went.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Asked {
    pub automation: AutomationId,
    pub table: TableId,
    pub record: RecordId,
    /// None: somebody outside.
    pub person: Option<PersonId>,
    pub name: String,
    /// What the message was headed.
    pub subject: String,
    /// Whether they saw the record then.
    pub saw: bool,
    pub at: Timestamp,
    pub until: Timestamp,
    /// The same in words, in the tracker's zone.
    pub until_text: String,
    pub reply: Reply,
}

/// An answer that is given: of which question, as it was kept, and what.
#[derive(Clone, Debug)]
pub struct Replied {
    pub number: i64,
    pub asked: Asked,
    pub given: ReplyGiven,
}

/// What is answered.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum ReplyGiven {
    /// The choice at this place, from 0.
    Choice(usize),
    Typed(String),
}

/// The page at a message's link, before an answer and after.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ReplyView {
    pub team: String,
    pub title: String,
    pub facts: Vec<ReplyFact>,
    /// What may be answered; nothing once it is answered, or can't be.
    pub choices: Vec<ReplyOffer>,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub typed: Option<ReplyTyped>,
    /// For whom it is, how often and until when.
    pub small: String,
    /// Why it can't be answered.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub closed: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub answered: Option<ReplyDone>,
}

/// One thing that its page shows of the record.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ReplyFact {
    pub field: FieldId,
    pub label: String,
    pub text: String,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub hue: Option<Hue>,
    /// What stood there before it was answered, where that was something else.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub was: Option<String>,
}

/// A choice, and what pressing it would do.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ReplyOffer {
    pub words: String,
    pub says: Vec<Phrase>,
}

/// What is to be typed.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ReplyTyped {
    pub asks: String,
    pub says: Vec<Phrase>,
    /// What it is written as.
    pub sort: TypedSort,
}

/// What a typed answer is written as.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum TypedSort {
    Text,
    Number,
    Date,
}

/// What was answered, and what came of it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ReplyDone {
    /// *Tamsin Oake answered “I’ll go and look” on 24 November 2026 at 08:12.*
    pub says: Vec<Phrase>,
    /// *status, from reported to checked*.
    pub changed: Vec<String>,
    /// Whom messages went to by it.
    pub told: Vec<String>,
}

/// How an answer was kept: the change, and whom messages went to by it.
#[derive(Clone, Debug)]
pub struct Settled<'a> {
    pub change: &'a Change,
    pub told: Vec<String>,
}

impl Reply {
    /// What typed answers may go into.
    pub fn takes(kind: &Kind) -> Option<TypedSort> {
        match kind {
            Kind::Text { .. } | Kind::LongText | Kind::Email | Kind::Phone => Some(TypedSort::Text),
            Kind::Date => Some(TypedSort::Date),
            kind if kind.is_number() => Some(TypedSort::Number),
            _ => None,
        }
    }

    /// The fields into which an answer puts something.
    pub(super) fn fields(&self) -> Vec<FieldId> {
        match &self.answers {
            ReplyBy::Choices(choices) => choices.iter().flat_map(|choice| &choice.alter).map(|one| one.field).collect(),
            ReplyBy::Typed { field, .. } => vec![*field],
        }
    }

    /// The choices' words; of a typed answer none.
    pub fn words(&self) -> Vec<&str> {
        match &self.answers {
            ReplyBy::Choices(choices) => choices.iter().map(|choice| choice.words.as_str()).collect(),
            ReplyBy::Typed { .. } => Vec::new(),
        }
    }

    /// What may be answered, as it stands in the sentence of its automation.
    pub(super) fn in_words(&self, lens: &Lens<'_>, table: TableId) -> String {
        match &self.answers {
            ReplyBy::Choices(_) => list_text(&self.words().iter().map(|words| format!("“{words}”")).collect::<Vec<_>>(), "or"),
            ReplyBy::Typed { field, .. } => {
                let name = lens.dataset().table(table).and_then(|home| home.def.field(*field)).map_or("a field", |def| &def.name);
                format!("what becomes {}", within_sentence(name))
            }
        }
    }

    /// What an answer written as a mail means: one of the words, or what is to be typed. Only its first line counts, as below it stands what it answers to.
    pub fn read(&self, text: &str) -> Option<ReplyGiven> {
        let line = text.lines().map(str::trim).find(|line| !line.is_empty() && !line.starts_with('>'))?;
        match &self.answers {
            ReplyBy::Typed { .. } => Some(ReplyGiven::Typed(line.to_owned())),
            ReplyBy::Choices(choices) => {
                let bare = |text: &str| fold(text.trim_matches(|c: char| !c.is_alphanumeric())).replace('’', "'");
                let said = bare(line);
                choices.iter().position(|choice| bare(&choice.words) == said).map(ReplyGiven::Choice)
            }
        }
    }

    /// What was given, in words, and what becomes of the record by it.
    fn given(&self, given: &ReplyGiven) -> Result<(String, Vec<Altered>), Fault> {
        match (&self.answers, given) {
            (ReplyBy::Choices(choices), ReplyGiven::Choice(place)) => {
                let choice = choices.get(*place).ok_or_else(|| Fault::not_found("answer"))?;
                Ok((choice.words.clone(), choice.alter.clone()))
            }
            (ReplyBy::Typed { field, .. }, ReplyGiven::Typed(text)) => {
                let text = text.trim();
                if text.is_empty() {
                    return Err(Fault::new(FaultKind::Missing, "Write your answer.").at("/typed"));
                }
                if text.chars().count() > TYPED {
                    return Err(Fault::new(FaultKind::TooLong, format!("An answer is at most {TYPED} characters long.")).at("/typed"));
                }
                Ok((text.to_owned(), vec![Altered { field: *field, to: Alter::Set(Input::Text(text.to_owned())) }]))
            }
            _ => Err(Fault::not_found("answer")),
        }
    }
}

impl Asked {
    /// What is asked of a reader now.
    pub(super) fn of(
        reply: &Reply,
        automation: AutomationId,
        (table, record): (TableId, RecordId),
        reader: &Reader,
        told: &Told,
        clock: &Clock,
    ) -> Self {
        let until = Self::until(reply, clock.now);
        Self {
            automation,
            table,
            record,
            person: reader.person,
            name: reader.name.clone(),
            subject: told.subject.clone(),
            saw: told.opens_record,
            at: clock.now,
            until,
            until_text: moment_text(until, clock),
            reply: reply.clone(),
        }
    }

    /// Until when an answer is good that is asked for now.
    fn until(reply: &Reply, now: Timestamp) -> Timestamp {
        let long = SignedDuration::try_from_hours(i64::from(reply.days).saturating_mul(24)).unwrap_or(SignedDuration::MAX);
        now.checked_add(long).unwrap_or(Timestamp::MAX)
    }

    /// Whether it may be answered now.
    ///
    /// # Errors
    /// Why not, as it is told to whoever it went to.
    pub fn stands(&self, ds: &Dataset, clock: &Clock) -> Result<(), Fault> {
        let refused = |message: String| Err(Fault::new(FaultKind::NotAllowed, message));
        if clock.now >= self.until {
            return refused(format!("This could be answered until {}. Nothing has changed by it.", moment_text(self.until, clock)));
        }
        if ds.automation(self.automation).is_none() {
            return refused("What asked this is not there any more. Tell the team in another way.".to_owned());
        }
        let one = ds.table(self.table).map_or("record", |home| home.def.one.as_str());
        if ds.table(self.table).is_none_or(|home| !home.is_live(self.record)) {
            return refused(format!("The {one} that this is about is not there any more."));
        }
        if let Some(person) = self.person {
            if ds.people.has_left(person) {
                return refused(format!("{} is not in the team any more, so this can’t be answered.", self.name));
            }
            if self.saw && !Lens::new(ds, Asker::Person(person), clock).sees(self.table, self.record) {
                return refused(format!("{} may not see this {one} any more, so this can’t be answered.", self.name));
            }
        }
        Ok(())
    }

    /// By whom the answer is.
    pub(crate) fn actor(&self) -> Actor {
        self.person.map_or(Actor::Automation(self.automation), Actor::Person)
    }

    /// What the answer changes, as one step over its record.
    pub(crate) fn change(&self, given: &ReplyGiven) -> Result<(String, Option<Bulk>), Fault> {
        let (words, alter) = self.reply.given(given)?;
        let which = Which::These(vec![self.record]);
        let bulk = Bulk { table: self.table, which, without: Default::default(), alter };
        Ok((words, (!bulk.alter.is_empty()).then_some(bulk)))
    }

    /// What its page tells, and may tell: to a person of the team what is open to them; to somebody outside what whoever wrote the message chose.
    pub fn view(&self, ds: &Dataset, clock: &Clock, team: &str, settled: Option<&Settled<'_>>) -> ReplyView {
        let lens = Lens::new(ds, self.person.map_or(Asker::Westerfall, Asker::Person), clock);
        let closed = if settled.is_some() { None } else { self.stands(ds, clock).err().map(|fault| fault.message) };
        let live = ds.table(self.table).is_some_and(|home| home.is_live(self.record));
        // A link is forwarded, and found: after its time it tells nothing of the record.
        let told = closed.is_none() && live && clock.now < self.until && (!self.saw || lens.sees(self.table, self.record));
        let was = |field| settled.and_then(|settled| before(settled.change, self, field));
        let fact = |field: &FieldId| {
            let text = self.text(&lens, *field)?;
            let def = ds.table(self.table)?.def.field(*field)?;
            let was = was(*field).map(|value| lens.cell_text(self.table, *field, value.as_cell())).filter(|was| *was != text);
            Some(ReplyFact { field: *field, label: def.name.clone(), text, hue: hue(&lens, self.table, self.record, *field), was })
        };
        let facts = if told { self.reply.facts.iter().filter_map(fact).collect() } else { Vec::new() };
        let name = lens.record_name(self.table, self.record).filter(|_| told && self.person.is_some());
        let mut view = ReplyView {
            team: team.to_owned(),
            title: name.map_or_else(|| self.subject.clone(), |name| name.name),
            facts,
            choices: Vec::new(),
            typed: None,
            small: self.small(clock),
            closed,
            answered: settled.map(|settled| self.done(&lens, settled, told)),
        };
        if view.closed.is_none() && view.answered.is_none() {
            match &self.reply.answers {
                ReplyBy::Choices(choices) => {
                    let offer = |choice: &ReplyChoice| ReplyOffer { words: choice.words.clone(), says: self.promise(&lens, choice) };
                    view.choices = choices.iter().map(offer).collect();
                }
                ReplyBy::Typed { asks, field } => {
                    let def = ds.table(self.table).and_then(|home| home.def.field(*field));
                    view.typed = def.and_then(|def| {
                        let mut says = Sentence::default();
                        says.plain("What you write becomes ");
                        says.strong(within_sentence(&def.name));
                        says.plain(". Until you press, nothing has changed.");
                        Some(ReplyTyped { asks: asks.clone(), says: says.phrases(), sort: Reply::takes(&def.kind)? })
                    });
                }
            }
        }
        view
    }

    /// What stands in a field, where its reader may be told.
    fn text(&self, lens: &Lens<'_>, field: FieldId) -> Option<String> {
        lens.shows(self.table, self.record, field).then(|| lens.text_at(self.table, self.record, field))
    }

    fn small(&self, clock: &Clock) -> String {
        let until = moment_text(self.until, clock);
        format!("This link was sent to {}. It works once, until {until}. Not you? Then leave the page.", self.name)
    }

    /// What pressing a choice would do.
    fn promise(&self, lens: &Lens<'_>, choice: &ReplyChoice) -> Vec<Phrase> {
        let mut says = Sentence::default();
        says.plain("You chose ");
        says.strong(choice.words.clone());
        says.plain(". ");
        let mut set = 0;
        let mut already = Vec::new();
        for one in &choice.alter {
            let Some(def) = lens.dataset().table(self.table).and_then(|home| home.def.field(one.field)) else { continue };
            // Of what stands there they are told where it is among what is shown to them.
            let open = self.person.is_some() && lens.shows(self.table, self.record, one.field) || self.reply.facts.contains(&one.field);
            let now = self.text(lens, one.field).filter(|_| open).unwrap_or_default();
            let to = becomes(lens, self, one);
            if !now.is_empty() && to.as_ref() == Some(&now) {
                already.push((within_sentence(&def.name), now));
                continue;
            }
            says.plain(if set == 0 { "Pressing once sets the " } else { ", and the " });
            says.plain(within_sentence(&def.name));
            if !now.is_empty() {
                says.plain(" from ");
                says.strong(now);
            }
            match to {
                Some(text) if !text.is_empty() => {
                    says.plain(" to ");
                    says.strong(text);
                }
                Some(_) => says.plain(" to nothing"),
                None => says.plain(" anew"),
            }
            set += 1;
        }
        match (set, already.is_empty()) {
            (0, true) => says.plain("Pressing once tells that you answered so. Until then nothing has changed."),
            (0, false) => {
                let (name, now) = already.swap_remove(0);
                says.plain(format!("The {name} is already "));
                says.strong(now);
                says.plain("; pressing once tells that you answered so.");
            }
            _ => says.plain(". Until then nothing has changed."),
        }
        says.phrases()
    }

    fn done(&self, lens: &Lens<'_>, settled: &Settled<'_>, told: bool) -> ReplyDone {
        let mut says = Sentence::default();
        let words = settled.change.ops.iter().find_map(|op| match op {
            Op::Reply { words, by, .. } => Some((by.clone(), words.clone())),
            _ => None,
        });
        let (by, words) = words.unwrap_or_else(|| (self.name.clone(), String::new()));
        says.plain(format!("{by} answered "));
        says.strong(words);
        says.plain(format!(" on {}.", moment_text(settled.change.at, lens.clock())));
        let line = |op: &Op| match op {
            Op::Cell { table, record, field, before, after } if told && (*table, *record) == (self.table, self.record) => {
                let def = lens.dataset().table(*table)?.def.field(*field)?;
                let open = self.person.is_some() && lens.shows(*table, *record, *field) || self.reply.facts.contains(field);
                let text = |value: &Value| lens.cell_text(*table, *field, value.as_cell());
                let named = |text: String| if text.is_empty() { "nothing".to_owned() } else { text };
                open.then(|| format!("{}, from {} to {}", within_sentence(&def.name), named(text(before)), named(text(after))))
            }
            _ => None,
        };
        let changed = settled.change.ops.iter().filter_map(line).collect();
        // Whoever is outside is told of nobody else.
        let names = if self.person.is_some() && told { settled.told.clone() } else { Vec::new() };
        ReplyDone { says: says.phrases(), changed, told: names }
    }

    /// The words of its choices, as they are told beside the message: *“I’ll go and look” or “Call the crew”*.
    pub fn asks(&self) -> String {
        match &self.reply.answers {
            ReplyBy::Typed { asks, .. } => asks.clone(),
            ReplyBy::Choices(_) => list_text(&self.reply.words().iter().map(|words| format!("“{words}”")).collect::<Vec<_>>(), "or"),
        }
    }

    /// How it is told in the log that this went along.
    pub(super) fn told(&self, clock: &Clock) -> LogLine {
        let text = format!("It can be answered until {}: {}.", moment_text(self.until, clock), self.asks());
        LogLine { outcome: super::LogOutcome::Yes, text }
    }
}

/// What a field becomes by an answer, in words; none where that hangs on more than what is said.
fn becomes(lens: &Lens<'_>, asked: &Asked, one: &Altered) -> Option<String> {
    match &one.to {
        Alter::Set(Input::Value(value)) => Some(lens.cell_text(asked.table, one.field, value.as_cell())),
        Alter::Set(Input::Text(text)) => Some(text.clone()),
        Alter::Empty => Some(String::new()),
        Alter::Now => Some("now".to_owned()),
        _ => None,
    }
}

/// What stood in a field of the record before a change.
fn before<'c>(change: &'c Change, asked: &Asked, wanted: FieldId) -> Option<&'c Value> {
    change.ops.iter().find_map(|op| match op {
        Op::Cell { table, record, field, before, .. } if (*table, *record, *field) == (asked.table, asked.record, wanted) => Some(before),
        _ => None,
    })
}

fn hue(lens: &Lens<'_>, table: TableId, record: RecordId, field: FieldId) -> Option<Hue> {
    let options = lens.dataset().table(table)?.def.field(field)?.kind.options();
    match lens.reader(table, field).cell(record.row()) {
        Cell::Choice(id) => options.iter().find(|option| option.id == id).map(|option| option.hue),
        _ => None,
    }
}

/// Whether what may be answered makes sense.
impl Reply {
    pub(super) fn check(&self, ds: &Dataset, table: TableId) -> Vec<(Fault, String)> {
        let mut faults = Vec::new();
        let bad = |message: &str| Fault::new(FaultKind::BadRule, message);
        let mut wrong = |fault: Fault, at: String| faults.push((fault, at));
        if self.days == 0 || self.days > MOST_REPLY_DAYS {
            wrong(bad(&format!("It can be answered for 1 to {MOST_REPLY_DAYS} days.")), "/days".into());
        }
        let home = ds.table(table);
        if self.facts.len() > MOST_FACTS || self.facts.iter().any(|field| home.is_none_or(|home| home.def.field(*field).is_none())) {
            wrong(bad(&format!("Its page shows at most {MOST_FACTS} fields, of those that there are.")), "/facts".into());
        }
        let said = |words: &str| !words.trim().is_empty() && words.chars().count() <= REPLY_WORDS && !words.contains(['\n', '\r']);
        match &self.answers {
            ReplyBy::Choices(choices) => {
                if choices.is_empty() || choices.len() > MOST_CHOICES {
                    wrong(bad(&format!("Give one to {MOST_CHOICES} answers to choose from.")), "/answers".into());
                }
                for (place, choice) in choices.iter().enumerate() {
                    let at = format!("/answers/choices/{place}");
                    if !said(&choice.words) {
                        wrong(
                            bad(&format!("Give the answer its words: one line of at most {REPLY_WORDS} characters.")),
                            format!("{at}/words"),
                        );
                    }
                    if choices[..place].iter().any(|other| fold(other.words.trim()) == fold(choice.words.trim())) {
                        wrong(bad("Two answers have the same words."), format!("{at}/words"));
                    }
                    if !choice.alter.is_empty()
                        && let Err(fault) = super::rules::check_alter(ds, table, &choice.alter, table, false)
                    {
                        wrong(fault, format!("{at}/alter"));
                    }
                }
            }
            ReplyBy::Typed { asks, field } => {
                if !said(asks) {
                    wrong(bad(&format!("Say what is asked: one line of at most {REPLY_WORDS} characters.")), "/answers/typed/asks".into());
                }
                let def = home.and_then(|home| home.def.field(*field));
                match def {
                    None => wrong(bad("Say into which field the answer goes."), "/answers/typed/field".into()),
                    Some(def) if Reply::takes(&def.kind).is_none() || !def.kind.takes_input() => {
                        wrong(bad("A typed answer goes into a text, a number or a day."), "/answers/typed/field".into());
                    }
                    Some(_) => {}
                }
            }
        }
        faults
    }
}

impl Replied {
    /// The operations of an answer's own: that it was given.
    pub(crate) fn op(&self, words: String) -> Op {
        let Asked { automation, table, record, name, .. } = &self.asked;
        Op::Reply { table: *table, record: *record, automation: *automation, asked: self.number, by: name.clone(), words }
    }
}
