//! One run of an automation over one record: its steps, done one after the other on a state of the tracker.

use super::{
    AddedLine, Answered, Asked, Automation, Call, Calling, Move, Occasion, Pause, Recipient, Reply, Step,
    letter::{Enclosed, Item, Message, Reader},
};
use crate::{
    Clock,
    access::{Asker, Lens},
    bulk::{Alter, Altered, Bulk, Which},
    condition::{Condition, Test},
    dataset::Dataset,
    fault::{Fault, Faults},
    history::{Change, Op},
    id::{AutomationId, DocumentId, FieldId, FormId, RecordId, TableId},
    intent::{Edit, Intent, NewLine, NewRecord},
    people::Actor,
    schema::{Kind, Same, within_sentence},
    talk::{TalkPart, TalkStep},
    value::{Cell, Input, Value, plus_days},
    wording::{self, Wording},
};
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

/// Most records that one step goes through.
const MOST_FOUND: usize = 1_000;
/// How long an answer is waited for: it is called again as long as it was not, and a server may be asleep meanwhile.
const PATIENCE: SignedDuration = SignedDuration::from_secs(24 * 3_600);
/// Most lines that tell what one step changed.
const TOLD: usize = 5;

/// What a run is of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub enum Source {
    Automation(AutomationId),
    /// A form that sends a copy of each answer.
    Form(FormId),
}

impl Source {
    /// The part's number; no two parts of a tracker have the same.
    pub fn number(self) -> u32 {
        match self {
            Source::Automation(id) => id.get(),
            Source::Form(id) => id.get(),
        }
    }
}

/// One run of an automation.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Run {
    /// As it was kept, where it goes on.
    pub kept: Option<i64>,
    pub source: Source,
    pub table: TableId,
    /// None: it is of all records of one time together.
    pub record: Option<RecordId>,
    /// The change that caused it.
    pub seq: u64,
    pub at: Timestamp,
    /// What happened, step by step; of conditions that did not hold, *why not*.
    pub log: Vec<LogLine>,
    pub mails: Vec<Message>,
    /// Where it waits before it goes on.
    pub paused: Option<Paused>,
}

/// A message as its step writes it.
struct Writes<'s> {
    to: &'s Recipient,
    subject: &'s Wording,
    body: &'s Wording,
    digest: bool,
    reply: Option<&'s Reply>,
    encloses: Option<DocumentId>,
}

/// A run that waits: what is still to be done, as it was when it began.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Paused {
    /// At the latest.
    pub until: Timestamp,
    /// Before that, once this holds.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub condition: Option<Condition>,
    /// Before that, once this was called and has answered.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub call: Option<Box<Calling>>,
    /// The record that its automation is about, where it waits for one that was found.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub own: Option<RecordId>,
    /// What is done where it came to hold; where it did not; and after that.
    #[serde(default)]
    pub steps: Vec<Step>,
    #[serde(default)]
    pub otherwise: Vec<Step>,
    #[serde(default)]
    pub then: Vec<Step>,
}

impl Paused {
    fn until(until: Timestamp) -> Self {
        Self { until, condition: None, call: None, own: None, steps: Vec::new(), otherwise: Vec::new(), then: Vec::new() }
    }
}

/// A kept run that waits.
#[derive(Clone, Debug, PartialEq)]
pub struct Waiting {
    pub kept: i64,
    pub automation: AutomationId,
    pub table: TableId,
    pub record: RecordId,
    /// The change by which it began to wait.
    pub seq: u64,
    pub paused: Paused,
    /// What came of the call for which it waits, once something did.
    pub answered: Option<Answered>,
}

impl Waiting {
    /// Whether what it waited for holds, where it waited for something.
    pub fn is_met(&self, ds: &Dataset, clock: &Clock) -> bool {
        if self.paused.call.is_some() {
            return self.answered.as_ref().is_some_and(|answered| answered.well);
        }
        let lens = Lens::of_everything(ds, None, clock);
        self.paused.condition.as_ref().is_none_or(|condition| {
            // What it asked and is gone holds no more.
            condition.check(ds, self.table).is_ok() && condition.holds(&lens, self.table, self.record)
        })
    }

    /// Whether what it is to call may still be called: the automation is on, its record is there, and whoever it acts for may look at it.
    pub fn may_call(&self, ds: &Dataset, clock: &Clock) -> bool {
        let on = ds.automation(self.automation).is_some_and(|automation| automation.on);
        on && Lens::new(ds, Asker::Automation(self.automation), clock).sees(self.table, self.record)
    }

    /// Whether it goes on: it waited long enough, what it waited for holds, or there is nothing left to wait with.
    pub fn is_ready(&self, ds: &Dataset, clock: &Clock) -> bool {
        let live = ds.table(self.table).is_some_and(|home| home.is_live(self.record));
        let over = clock.now >= self.paused.until;
        over || self.answered.is_some()
            || !live
            || ds.automation(self.automation).is_none_or(|a| !a.on)
            || (self.paused.condition.is_some() && self.is_met(ds, clock))
    }
}

/// One line of a run's log.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LogLine {
    pub outcome: LogOutcome,
    pub text: String,
}

/// How a line of the log came out.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum LogOutcome {
    /// A condition held, or a step was set going.
    Yes,
    /// A condition did not hold.
    No,
    /// A step could not be done, and why.
    Failed,
    /// It waits.
    Waits,
}

/// What makes the effects of a run happen once: the change, the automation and the record are in each one's key.
#[derive(Clone, Copy, Debug)]
pub(super) struct Cause {
    pub seq: u64,
    pub record: RecordId,
}

/// A part of a message for many records, for one reader.
pub(super) struct Entry {
    pub place: String,
    pub reader: Reader,
    pub subject: String,
    pub item: Item,
    pub why: String,
}

/// What is still to be done for a record that was found: it waits by itself, and goes on by itself.
pub(super) struct Fork {
    pub about: (TableId, RecordId),
    pub log: Vec<LogLine>,
    pub paused: Paused,
}

/// How the steps went.
enum Flow {
    On,
    Stopped,
    Pauses(Box<Paused>),
}

/// Does the steps of one run.
pub(super) struct Runner<'a> {
    automation: &'a Automation,
    cause: Cause,
    clock: &'a Clock,
    /// The tracker as it stands after what was done so far.
    ds: Dataset,
    pub ops: Vec<Op>,
    pub log: Vec<LogLine>,
    pub mails: Vec<Message>,
    pub entries: Vec<Entry>,
    pub paused: Option<Paused>,
    /// The automations that it starts, each with its record.
    pub started: Vec<(AutomationId, RecordId)>,
    /// What waits for each of the records that were found.
    pub forks: Vec<Fork>,
    /// The record that the run is of: that of its cause, or one that was found, where it went on for that.
    pub of: (TableId, RecordId),
}

impl<'a> Runner<'a> {
    pub(super) fn new(automation: &'a Automation, cause: Cause, ds: &Dataset, clock: &'a Clock) -> Self {
        let (ops, log, mails, entries) = (Vec::new(), Vec::new(), Vec::new(), Vec::new());
        let of = (automation.table, cause.record);
        let (started, forks) = (Vec::new(), Vec::new());
        Self { automation, cause, clock, ds: ds.clone(), ops, log, mails, entries, paused: None, started, forks, of }
    }

    /// The condition, and then the steps. `asks`: whether the condition is still to be asked. `by`: what set it going, where something did.
    pub(super) fn run(&mut self, asks: bool, by: Option<&Move>) {
        let (automation, record) = (self.automation, self.cause.record);
        if !self.held_before(by) {
            return;
        }
        if asks {
            let clock = self.clock;
            let lens = Lens::of_everything(&self.ds, None, clock);
            self.log.extend(automation.condition.why(&lens, automation.table, record));
            if !automation.condition.holds(&lens, automation.table, record) {
                return;
            }
        }
        self.go(&automation.steps, "");
    }

    /// Whether what is asked of before held then. Where nothing happened, as on a record that is only tried, there is no before.
    fn held_before(&mut self, by: Option<&Move>) -> bool {
        let (Automation { before, table, .. }, record) = (self.automation, self.cause.record);
        if before.is_nothing() {
            return true;
        }
        let Some(by) = by else {
            self.says(LogOutcome::Yes, "What held before is not asked: nothing has changed yet.".into());
            return true;
        };
        let then = by.then(self.clock);
        let lens = Lens::of_everything(&by.before, None, &then);
        let was = by.before.table(*table).is_some_and(|home| home.is_live(record));
        let holds = was && before.holds(&lens, *table, record);
        let why = before.why(&lens, *table, record);
        self.log.extend(why.into_iter().map(|line| LogLine { text: format!("Before: {}", within_sentence(&line.text)), ..line }));
        holds
    }

    /// What was still to be done.
    pub(super) fn go_on(&mut self, paused: &Paused, met: bool, answered: Option<&Answered>) {
        let table = self.of.0;
        let mut met = met;
        if let Some(calling) = &paused.call {
            met = self.answered(calling, answered) && met;
        } else if let Some(condition) = &paused.condition {
            let lens = Lens::of_everything(&self.ds, None, self.clock);
            let sentence = condition.to_sentence(&lens, table);
            self.log.push(if met {
                LogLine { outcome: LogOutcome::Yes, text: format!("Waited until {sentence}.") }
            } else {
                LogLine { outcome: LogOutcome::No, text: format!("Waited long enough; it is still not so that {sentence}.") }
            });
        } else {
            self.log.push(LogLine { outcome: LogOutcome::Yes, text: "Waited, and goes on.".into() });
        }
        let branch = if met { &paused.steps } else { &paused.otherwise };
        let all: Vec<Step> = branch.iter().chain(&paused.then).cloned().collect();
        self.go(&all, "on ");
    }

    fn go(&mut self, steps: &[Step], place: &str) {
        if let Flow::Pauses(paused) = self.steps(steps, self.of, place) {
            let own = (self.automation.table, self.cause.record);
            self.paused = Some(Paused { own: (self.of != own).then_some(own.1), ..*paused });
        }
    }

    fn steps(&mut self, steps: &[Step], about: (TableId, RecordId), place: &str) -> Flow {
        for (number, step) in steps.iter().enumerate() {
            match self.step(step, about, &format!("{place}{number}")) {
                Flow::On => {}
                Flow::Stopped => return Flow::Stopped,
                Flow::Pauses(mut paused) => {
                    paused.then.extend(steps[number + 1..].iter().cloned());
                    return Flow::Pauses(paused);
                }
            }
        }
        Flow::On
    }

    fn step(&mut self, step: &Step, about: (TableId, RecordId), place: &str) -> Flow {
        match step {
            Step::Mail { to, subject, body, digest, reply, encloses, text } => {
                let reply = reply.as_ref();
                let stored = text.and_then(|id| self.ds.stored_text(id)).cloned();
                let (subject, body) = stored.as_ref().map_or((subject, body), |stored| (&stored.subject, &stored.body));
                self.mail(&Writes { to, subject, body, digest: *digest, reply, encloses: *encloses }, about, place);
                Flow::On
            }
            Step::Set { along, alter } => self.set(along, alter, about),
            Step::Add { table, alter, lines } => self.add(*table, alter, lines),
            Step::Start { automation } => {
                self.start(*automation, about.1);
                Flow::On
            }
            Step::Say { text } => self.say(text, about),
            Step::Each { table, condition, same, first, steps, otherwise } => {
                let found = self.found(*table, condition, same, about);
                let many = self.ds.table(*table).map_or_else(|| "records".to_owned(), |t| t.def.many());
                if found.is_empty() {
                    self.says(LogOutcome::No, format!("No {} of that kind.", self.ds.table(*table).map_or("record", |t| &t.def.one)));
                    return self.steps(otherwise, about, &format!("{place} otherwise "));
                }
                let most = if *first { 1 } else { MOST_FOUND };
                if found.len() > most && !*first {
                    self.says(LogOutcome::Failed, format!("Goes through the first {MOST_FOUND} of {} {many}.", found.len()));
                }
                let waited = self.forks.len();
                for record in found.into_iter().take(most) {
                    let begun = self.log.len();
                    match self.steps(steps, (*table, record), &format!("{place} of {record} ")) {
                        Flow::On => {}
                        Flow::Stopped => return Flow::Stopped,
                        Flow::Pauses(paused) => {
                            let paused = Paused { own: Some(self.cause.record), ..*paused };
                            self.forks.push(Fork { about: (*table, record), log: self.log.split_off(begun), paused });
                        }
                    }
                }
                let waiting = self.forks.len() - waited;
                if waiting > 0 {
                    let one = self.ds.table(*table).map_or("record", |t| &t.def.one);
                    let count = self.clock.customs().count_words(waiting, one, &many);
                    let (goes, waits) = if waiting == 1 { ("goes", "it has") } else { ("go", "each of them has") };
                    self.says(LogOutcome::Waits, format!("{count} {goes} on by themselves, once {waits} waited."));
                }
                Flow::On
            }
            Step::If { condition, steps, otherwise } => {
                let lens = Lens::of_everything(&self.ds, None, self.clock);
                let why = condition.why(&lens, about.0, about.1);
                let holds = condition.holds(&lens, about.0, about.1);
                self.log.extend(why);
                let (branch, word) = if holds { (steps, "then") } else { (otherwise, "otherwise") };
                self.steps(branch, about, &format!("{place} {word} "))
            }
            Step::Wait { pause, steps, otherwise } => self.wait(pause, (steps, otherwise), about, place),
            Step::Call { calls, steps, otherwise } => self.call(calls, (steps, otherwise), about),
            Step::Stop => {
                self.says(LogOutcome::Yes, "Ends here.".into());
                Flow::Stopped
            }
        }
    }

    fn says(&mut self, outcome: LogOutcome, text: String) {
        self.log.push(LogLine { outcome, text });
    }

    fn mail(&mut self, writes: &Writes<'_>, about: (TableId, RecordId), place: &str) {
        let Writes { to, subject, body, digest, reply, encloses } = *writes;
        let clock = self.clock;
        let lens = Lens::of_everything(&self.ds, None, clock);
        let readers = to.readers(&lens, about.0, about.1);
        if readers.is_empty() {
            let text = format!("No message: {} gives nobody to send it to.", to.words(&lens, about.0));
            return self.says(LogOutcome::Failed, text);
        }
        for reader in readers {
            if !reader.wants(&self.ds, self.automation.id) {
                self.says(LogOutcome::No, format!("No {} to {}: they want no more of these messages.", reader.at.by.noun(), reader.name));
                continue;
            }
            let told = reader.told(&self.ds, about, clock, subject, body);
            let note = if told.left_out.is_empty() {
                String::new()
            } else {
                format!(" Left out, since it is not open to {}: {}.", reader.name, told.left_out.join("; "))
            };
            if digest {
                self.says(LogOutcome::Yes, format!("Goes into the message to {}.{note}", reader.name));
                let item = Item { text: told.body, opens: told.opens_record.then_some(about) };
                let why = reader.why(self.automation, to, &self.ds, clock);
                self.entries.push(Entry { place: place.to_owned(), reader, subject: told.subject, item, why });
                continue;
            }
            // Only a mail carries a sheet along.
            let encloses = encloses.filter(|_| reader.at.by.is_mail());
            let sheet =
                encloses.and_then(|id| self.ds.document(id)).map_or_else(String::new, |one| format!(", with “{}” enclosed", one.title));
            self.says(LogOutcome::Yes, format!("{}: “{}”{sheet}.{note}", reader.line(), told.subject));
            let asks = reply.map(|reply| Asked::of(reply, self.automation.id, about, &reader, &told, clock));
            self.log.extend(asks.as_ref().map(|asks| asks.told(clock)));
            let why = reader.why(self.automation, to, &self.ds, clock);
            let Cause { seq, record } = self.cause;
            let person = reader.person;
            self.mails.push(Message {
                outside: reader.is_outside(),
                key: format!("automation {} step {place} change {seq} record {record} to {}", self.automation.id, reader.at.to),
                by: reader.at.by,
                to: reader.at.to,
                to_name: reader.name,
                person,
                subject: told.subject,
                body: told.body,
                // Its address is that of the record which the run is of.
                opens_record: told.opens_record && about == self.of,
                items: Vec::new(),
                asks: asks.map(Box::new),
                why,
                encloses: encloses.map(|document| Enclosed { document, record: about.1, person }),
            });
        }
    }

    /// What an alteration of a found record takes from the record that the run is of is read there.
    fn settled(&self, alter: &[Altered], into: TableId, adds: bool) -> Result<Vec<Altered>, Fault> {
        let own = (self.automation.table, self.cause.record);
        let lens = Lens::new(&self.ds, Asker::Automation(self.automation.id), self.clock);
        let read = |lens: &Lens<'_>, one: &Altered| match self.ds.table(into).and_then(|home| home.def.field(one.field)) {
            Some(def) => one.to.input(lens, own.0, own.1, def),
            None => Ok(None),
        };
        let settle = |one: &Altered| {
            let to = match &one.to {
                // What it takes is empty where it leads nowhere.
                Alter::Along(_) => read(&lens, one).unwrap_or_default().map_or(Alter::Empty, Alter::Set),
                Alter::Formula(_) if adds => read(&lens, one)?.map_or(Alter::Empty, Alter::Set),
                other => other.clone(),
            };
            Ok(Altered { field: one.field, to })
        };
        alter.iter().map(settle).collect()
    }

    fn set(&mut self, along: &[FieldId], alter: &[Altered], about: (TableId, RecordId)) -> Flow {
        let lens = Lens::new(&self.ds, Asker::Automation(self.automation.id), self.clock);
        let (table, records) = match along.split_last() {
            None => (about.0, vec![about.1]),
            Some(_) => {
                let Some((at, link, records)) = wording::ends(&lens, about.0, along, about.1) else { return Flow::On };
                let reader = lens.reader(at, link);
                let linked = |r: &RecordId| if let Cell::Links(l) = reader.cell(r.row()) { l } else { &[] };
                let found: std::collections::BTreeSet<RecordId> =
                    records.iter().flat_map(|r| reader.visible(linked(r)).collect::<Vec<_>>()).collect();
                let to = self.ds.table(at).and_then(|home| home.link(link)).map(|link| link.to);
                let Some(to) = to else { return Flow::On };
                (to, found.into_iter().collect())
            }
        };
        if records.is_empty() {
            self.says(LogOutcome::No, "Nothing to change: no record is linked.".into());
            return Flow::On;
        }
        let alter = match self.settled(alter, table, false) {
            Ok(alter) => alter,
            Err(fault) => return self.refused(&fault.message),
        };
        self.act(&Intent::Bulk(Box::new(Bulk { table, which: Which::These(records), without: Default::default(), alter })))
    }

    fn add(&mut self, table: TableId, alter: &[Altered], lines: &[AddedLine]) -> Flow {
        let cells = match self.begins_with(alter, table) {
            Ok(cells) => cells,
            Err(fault) => return self.refused(&fault.message),
        };
        if lines.is_empty() {
            return self.act(&Intent::Add { table, records: vec![cells] });
        }
        let mut new = NewRecord { table, cells, lines: Vec::new() };
        for line in lines {
            let to = self.ds.table(table).and_then(|home| home.link(line.under)).map(|link| link.to);
            let Some(to) = to else { return self.refused("the list in which a line would stand is not there any more.") };
            match self.begins_with(&line.alter, to) {
                Ok(cells) => new.lines.push(NewLine { under: line.under, cells }),
                Err(fault) => return self.refused(&fault.message),
            }
        }
        self.act(&Intent::AddWhole(Box::new(new)))
    }

    /// What a new record begins with.
    fn begins_with(&self, alter: &[Altered], table: TableId) -> Result<Vec<(FieldId, Input)>, Fault> {
        let moment = Value::Instant(self.clock.now);
        let today = Value::Date(self.clock.today());
        let cells = self.settled(alter, table, true)?.into_iter().filter_map(|one| match one.to {
            Alter::Set(input) => Some((one.field, input)),
            Alter::Now => {
                let kind = self.ds.table(table).and_then(|home| home.def.field(one.field)).map(|def| &def.kind);
                Some((one.field, Input::Value(if matches!(kind, Some(Kind::DateTime)) { moment.clone() } else { today.clone() })))
            }
            _ => None,
        });
        Ok(cells.collect())
    }

    /// Another automation is set going with the record, once this one is done.
    fn start(&mut self, automation: AutomationId, record: RecordId) {
        match self.ds.automation(automation) {
            Some(other) if other.on && other.when == Occasion::Started => {
                self.says(LogOutcome::Yes, format!("Starts “{}”.", other.name));
                self.started.push((automation, record));
            }
            Some(other) => self.says(LogOutcome::Failed, format!("“{}” is not started: it rests.", other.name)),
            None => self.says(LogOutcome::Failed, "What it would start is not there any more.".into()),
        }
    }

    /// As whoever it acts for would say it: with what they see.
    fn say(&mut self, text: &Wording, (table, record): (TableId, RecordId)) -> Flow {
        let lens = Lens::new(&self.ds, Asker::Automation(self.automation.id), self.clock);
        let text = text.runs(&lens, table, record).into_iter().map(|run| run.text).collect();
        let step = TalkStep::Say { said: vec![TalkPart::Text(text)], files: Vec::new(), answers: None };
        self.act(&Intent::Talk { table, record, step })
    }

    /// Does something the one way in, as whoever the automation acts for.
    fn act(&mut self, intent: &Intent) -> Flow {
        match self.ds.decide(intent, Asker::Automation(self.automation.id), self.clock) {
            Ok(decision) if decision.change.ops.is_empty() => self.says(LogOutcome::Yes, "Nothing to change: it is so already.".into()),
            Ok(decision) => {
                let before = self.ds.clone();
                self.ds.apply(&decision.change);
                self.tell(&decision.change, &before);
                self.ops.extend(decision.change.ops);
            }
            Err(Faults(faults)) => return self.refused(faults.first().map_or("it was refused.", |fault| &fault.message)),
        }
        Flow::On
    }

    fn refused(&mut self, why: &str) -> Flow {
        let who = self.automation.acts_for.map_or("nobody", |person| self.ds.people.name(person));
        self.says(LogOutcome::Failed, format!("Not done, acting for {who}: {why}"));
        Flow::Stopped
    }

    fn tell(&mut self, change: &Change, before: &Dataset) {
        let lens = Lens::of_everything(&self.ds, None, self.clock);
        let name = |table, record| lens.record_name(table, record).map_or_else(|| "a record".to_owned(), |n| n.name);
        let line = |op: &Op| match op {
            Op::Add { table, record } => {
                let one = self.ds.table(*table).map_or("record", |t| &t.def.one);
                Some(format!("Added the {one} {}.", name(*table, *record)))
            }
            // What a new record begins with is not told beside it.
            Op::Cell { table, record, field, .. } if before.table(*table).is_some_and(|t| t.meta(*record).is_some()) => {
                let def = self.ds.table(*table)?.def.field(*field)?;
                let text = lens.text_at(*table, *record, *field);
                let becomes = if text.is_empty() { "is emptied".to_owned() } else { format!("becomes {text}") };
                Some(format!("{} of {} {becomes}.", def.name, name(*table, *record)))
            }
            _ => None,
        };
        let lines: Vec<String> = change.ops.iter().filter_map(line).collect();
        let more = lines.len().saturating_sub(TOLD);
        for text in lines.into_iter().take(TOLD) {
            self.says(LogOutcome::Yes, text);
        }
        if more > 0 {
            self.says(LogOutcome::Yes, format!("And {more} more."));
        }
    }

    fn found(&self, table: TableId, condition: &Condition, same: &[Same], about: (TableId, RecordId)) -> Vec<RecordId> {
        let lens = Lens::new(&self.ds, Asker::Automation(self.automation.id), self.clock);
        let own = |field: FieldId| lens.reader(about.0, field).cell(about.1.row()).to_value();
        let alike = |record: &RecordId| {
            same.iter().all(|s| {
                let ours = own(s.ours);
                ours != Value::Empty && lens.reader(table, s.theirs).cell(record.row()).to_value() == ours
            })
        };
        let itself = |record: &RecordId| (table, *record) == about;
        condition.matching(&lens, table).ones().map(RecordId::at_row).filter(|r| !itself(r) && alike(r)).collect()
    }

    /// What stands in its two branches is done only where it waits for a condition.
    fn wait(&mut self, pause: &Pause, (steps, otherwise): (&[Step], &[Step]), (table, record): (TableId, RecordId), place: &str) -> Flow {
        let now = self.clock.now;
        let hours = |hours: u32| {
            let long = SignedDuration::try_from_hours(i64::from(hours)).unwrap_or(SignedDuration::MAX);
            now.checked_add(long).unwrap_or(Timestamp::MAX)
        };
        let days = |days: u32| {
            let there = now.to_zoned(self.clock.zone.clone());
            let later = jiff::Span::new().try_days(i64::from(days)).and_then(|days| there.checked_add(days));
            later.map_or(Timestamp::MAX, |later| later.timestamp())
        };
        let mut paused = Paused::until(now);
        match pause {
            Pause::Hours(count) => paused.until = hours(*count),
            Pause::Days(count) => paused.until = days(*count),
            Pause::Field(field) => {
                let lens = Lens::of_everything(&self.ds, None, self.clock);
                let day = |day| plus_days(day, 0).and_then(|day| day.to_zoned(self.clock.zone.clone()).ok()).map(|at| at.timestamp());
                let at = match lens.reader(table, *field).cell(record.row()) {
                    Cell::Date(on) | Cell::Range(on, _) => day(on),
                    Cell::Instant(at) => Some(at),
                    _ => None,
                };
                match at {
                    Some(at) => paused.until = at,
                    None => {
                        let name = self.ds.table(table).and_then(|t| t.def.field(*field)).map_or("the field", |f| &f.name).to_owned();
                        self.says(LogOutcome::Failed, format!("Ends here: {} is empty, so it can’t wait for it.", within_sentence(&name)));
                        return Flow::Stopped;
                    }
                }
            }
            Pause::Until { condition, days: most } => {
                let lens = Lens::of_everything(&self.ds, None, self.clock);
                if condition.holds(&lens, table, record) {
                    let sentence = condition.to_sentence(&lens, table);
                    self.says(LogOutcome::Yes, format!("Need not wait: {sentence}."));
                    return self.steps(steps, (table, record), &format!("{place} met "));
                }
                paused.until = days(*most);
                paused.condition = Some(condition.clone());
                paused.steps = steps.to_vec();
                paused.otherwise = otherwise.to_vec();
            }
        }
        if paused.until <= now {
            self.says(LogOutcome::Yes, "Need not wait: that is past.".into());
            return Flow::On;
        }
        let lens = Lens::of_everything(&self.ds, None, self.clock);
        let until = crate::value::moment_text(paused.until, self.clock);
        let text = match &paused.condition {
            Some(condition) => format!("Waits until {}, at most until {until}.", condition.to_sentence(&lens, table)),
            None => format!("Waits until {until}."),
        };
        self.says(LogOutcome::Waits, text);
        Flow::Pauses(Box::new(paused))
    }

    /// What is sent is what whoever it acts for may see; it goes on once the address has answered.
    fn call(&mut self, calls: &Call, (steps, otherwise): (&[Step], &[Step]), (table, record): (TableId, RecordId)) -> Flow {
        let lens = Lens::new(&self.ds, Asker::Automation(self.automation.id), self.clock);
        if self.automation.acts_for.is_none_or(|person| self.ds.people.has_left(person)) || !lens.sees(table, record) {
            let who = self.automation.acts_for.map_or("nobody", |person| self.ds.people.name(person));
            self.says(LogOutcome::Failed, format!("Not called: it acts for {who}, who may not look at this."));
            return Flow::Stopped;
        }
        let calling = calls.ready(&lens, table, record);
        let host = calls.host().unwrap_or_default().to_owned();
        if calling.leads_up() {
            self.says(LogOutcome::Failed, format!("Not called: a value of “.” or “..” in its address would lead elsewhere at {host}."));
            return Flow::Stopped;
        }
        self.says(LogOutcome::Waits, format!("Calls {host} ({}), and waits for its answer.", calls.method.word()));
        let until = self.clock.now.checked_add(PATIENCE).unwrap_or(Timestamp::MAX);
        let (steps, otherwise) = (steps.to_vec(), otherwise.to_vec());
        Flow::Pauses(Box::new(Paused { call: Some(Box::new(calling)), steps, otherwise, ..Paused::until(until) }))
    }

    /// Puts an answer where it goes; false where nothing came, or it does not fit.
    fn answered(&mut self, calling: &Calling, answered: Option<&Answered>) -> bool {
        let Some(answered) = answered else {
            self.says(LogOutcome::Failed, "No answer came.".into());
            return false;
        };
        let outcome = if answered.well { LogOutcome::Yes } else { LogOutcome::Failed };
        self.says(outcome, format!("{} {}.", calling.host(), answered.note));
        if !answered.well || calling.takes.is_empty() {
            return answered.well;
        }
        let mut edits = Vec::new();
        for takes in &calling.takes {
            match answered.at(&takes.path) {
                Ok(text) => edits.push(Edit { field: takes.field, input: Input::Text(text), was: None }),
                Err(why) => {
                    self.says(LogOutcome::Failed, format!("Nothing was taken of it: {why}."));
                    return false;
                }
            }
        }
        let intent = Intent::Edit { table: self.of.0, record: self.of.1, edits };
        matches!(self.act(&intent), Flow::On)
    }

    /// The change that was made, as one.
    pub(super) fn change(&mut self, before: &Dataset) -> Option<Change> {
        let ops = std::mem::take(&mut self.ops);
        let who = Actor::Automation(self.automation.id);
        (!ops.is_empty()).then(|| Change { seq: before.seq + 1, at: self.clock.now, who, undoes: None, again: false, ops })
    }
}

impl Condition {
    /// Each test with whether it held and, if not, what stands there.
    pub fn why(&self, lens: &Lens<'_>, table: TableId, record: RecordId) -> Vec<LogLine> {
        self.tests().into_iter().map(|test| test.why(lens, table, record)).collect()
    }
}

impl Test {
    fn why(&self, lens: &Lens<'_>, table: TableId, record: RecordId) -> LogLine {
        let sentence = self.to_sentence(lens, table);
        if Condition::Test(self.clone()).holds(lens, table, record) {
            return LogLine { outcome: LogOutcome::Yes, text: format!("Holds: {sentence}.") };
        }
        let found = wording::ends(lens, table, &self.path, record).map(|(at, field, records)| {
            let texts: Vec<String> = records.iter().map(|r| lens.text_at(at, *r, field)).filter(|t| !t.is_empty()).collect();
            texts.join(", ")
        });
        let found = found.filter(|f| !f.is_empty()).map_or_else(|| "it is empty".to_owned(), |f| format!("it is {f}"));
        LogLine { outcome: LogOutcome::No, text: format!("Does not hold: {sentence}; {found}.") }
    }
}
