//! What a change sets going.

use super::{Automation, Occasion, Recipient, Step};
use crate::{
    Clock,
    access::{Asker, Lens},
    condition::{Condition, Test},
    dataset::{Dataset, Meta},
    form::{Form, Question},
    history::{Change, Op},
    id::{AutomationId, FieldId, FormId, RecordId, TableId},
    people::Actor,
    schema::Kind,
    value::{Cell, fold},
    wording::{self, Wording},
};
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

/// Most copies of answers that go to one address within a day.
const COPIES: usize = 5;
const A_DAY: SignedDuration = SignedDuration::from_secs(24 * 3_600);

/// What a run is of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub enum Cause {
    Automation(AutomationId),
    /// A form that sends a copy of each answer.
    Form(FormId),
}

impl Cause {
    /// The part's number; no two parts of a tracker have the same.
    pub fn number(self) -> u32 {
        match self {
            Cause::Automation(id) => id.get(),
            Cause::Form(id) => id.get(),
        }
    }
}

/// One run of an automation over one record.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Run {
    pub cause: Cause,
    pub table: TableId,
    pub record: RecordId,
    /// The change that caused it.
    pub seq: u64,
    pub at: Timestamp,
    /// What happened, step by step; of conditions that did not hold, *why not*.
    pub log: Vec<LogLine>,
    pub mails: Vec<Mail>,
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
}

/// A mail to be sent.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Mail {
    /// The same for the same cause, so that it is sent once.
    pub key: String,
    pub to: String,
    pub to_name: String,
    pub subject: String,
    pub body: String,
    /// Whether its reader may open the record, so that its address may be put in.
    pub opens_record: bool,
}

/// Everything that a change sets going, worked out on the dataset after it.
pub fn fire(after: &Dataset, change: &Change, clock: &Clock) -> Vec<Run> {
    // A record brought back by undoing is not a record that came.
    if change.undoes.is_some() {
        return Vec::new();
    }
    let by_button = |op: &Op| match op {
        Op::Press { table, record, field } => Some((*record, after.button(*table, *field)?)),
        _ => None,
    };
    let pressed = change.ops.iter().filter_map(by_button).map(|(record, automation)| automation.run(after, record, change, clock));
    let copies = match change.who {
        Actor::Form(form) => after.form(form).and_then(|form| form.copy_of(after, change, clock)),
        Actor::Person(_) | Actor::Automation(_) | Actor::Visitor { .. } | Actor::Westerfall => None,
    };
    let added = change.ops.iter().filter(|op| matches!(op, Op::Add { .. })).filter_map(Op::record);
    let waits = |table, record, id| after.arrival(table, record).is_some_and(|a| a.awaits.contains(&id));
    // One that waited for a record to be complete and left waits no more.
    let ready = |op: &Op| match op {
        Op::Arrive { table, record, before: Some(before), .. } => {
            let (table, record) = (*table, *record);
            let ready = before.awaits.iter().copied().filter(|id| !waits(table, record, *id)).collect::<Vec<_>>();
            ready.into_iter().filter_map(|id| after.automation(id).filter(|a| a.on)).map(|a| (record, a)).collect()
        }
        _ => Vec::new(),
    };
    let ready = change.ops.iter().flat_map(ready).map(|(record, automation)| automation.run(after, record, change, clock));
    added
        .flat_map(|(table, record)| {
            let fitting = move |a: &&Automation| a.on && a.table == table && a.when.is(change.who) && !waits(table, record, a.id);
            after.automations().filter(fitting).map(move |a| a.run(after, record, change, clock))
        })
        .chain(ready)
        .chain(pressed)
        .chain(copies)
        .collect()
}

impl Form {
    /// The copy of an answer, to the address that was given with it.
    fn copy_of(&self, ds: &Dataset, change: &Change, clock: &Clock) -> Option<Run> {
        let (table, record) = change.ops.iter().filter(|op| matches!(op, Op::Add { .. })).find_map(Op::record)?;
        let lens = Lens::of_everything(ds, None, clock);
        let to = lens.text_at(table, record, self.copy?);
        let line = |q: &Question| {
            let text = lens.text_at(table, record, q.field);
            (!text.is_empty()).then(|| format!("{}\n  {}\n", q.label, text.replace('\n', "\n  ")))
        };
        // As often as the owner of the address would bear: whoever types an address need not be its owner.
        if self.copies_to(ds, &to, clock) > COPIES {
            let text = format!("No copy to {to}: {COPIES} went there within a day already.");
            let log = vec![LogLine { outcome: LogOutcome::Failed, text }];
            return Some(Run { cause: Cause::Form(self.id), table, record, seq: change.seq, at: change.at, log, mails: Vec::new() });
        }
        let answers: Vec<String> = self.questions.iter().filter(|q| !q.hidden).filter_map(line).collect();
        if to.is_empty() {
            return None;
        }
        let thanks = self.confirmation.fill(&lens, table, record).text;
        let mail = Mail {
            key: format!("form {} copy of {record} change {}", self.id, change.seq),
            to: to.clone(),
            to_name: to.clone(),
            subject: format!("Your answer: {}", self.title),
            body: format!("{thanks}\n\nThis is what you sent:\n\n{}", answers.join("\n")),
            opens_record: false,
        };
        let log = vec![LogLine { outcome: LogOutcome::Yes, text: format!("A copy of the answer to {to}.") }];
        Some(Run { cause: Cause::Form(self.id), table, record, seq: change.seq, at: change.at, log, mails: vec![mail] })
    }
}

impl Form {
    /// How many answers named this address for their copy within the last day, of whichever form of the table.
    fn copies_to(&self, ds: &Dataset, to: &str, clock: &Clock) -> usize {
        let Some((home, field)) = ds.table(self.table).zip(self.copy) else { return 0 };
        let Some(column) = home.column(field) else { return 0 };
        let since = clock.now.saturating_sub(A_DAY).unwrap_or(Timestamp::MIN);
        let recent =
            (0..home.rows()).rev().map(RecordId::at_row).map_while(|r| home.meta(r).filter(|m| m.created_at >= since).map(|m| (r, m)));
        let named = |(record, meta): &(RecordId, &Meta)| {
            let same = matches!(column.cell(record.row()), Cell::Text(text) if fold(text.trim()) == fold(to.trim()));
            matches!(meta.created_by, Actor::Form(_)) && same
        };
        recent.filter(named).count()
    }
}

impl Dataset {
    /// The automation that a button runs, where there is one and it is on.
    pub fn button(&self, table: TableId, field: FieldId) -> Option<&Automation> {
        match self.table(table)?.def.field(field)?.kind {
            Kind::Button { automation: Some(id), .. } => {
                self.automation(id).filter(|a| a.on && a.table == table && a.when == Occasion::Pressed)
            }
            _ => None,
        }
    }
}

impl Occasion {
    fn is(self, who: Actor) -> bool {
        match (self, who) {
            (Occasion::Form(wanted), Actor::Form(form)) => wanted.is_none_or(|w| w == form),
            (Occasion::Added, Actor::Person(_)) => true,
            (Occasion::Form(_) | Occasion::Added | Occasion::Pressed, _) => false,
        }
    }
}

impl Automation {
    fn run(&self, ds: &Dataset, record: RecordId, change: &Change, clock: &Clock) -> Run {
        let lens = Lens::of_everything(ds, None, clock);
        let mut run = Run {
            cause: Cause::Automation(self.id),
            table: self.table,
            record,
            seq: change.seq,
            at: change.at,
            log: Vec::new(),
            mails: Vec::new(),
        };
        run.log = self.condition.why(&lens, self.table, record);
        if !self.condition.holds(&lens, self.table, record) {
            return run;
        }
        for (place, Step::Mail { to, subject, body }) in self.steps.iter().enumerate() {
            let readers = to.readers(&lens, self.table, record);
            if readers.is_empty() {
                let text = format!("No mail: {} gives nobody to send it to.", to.words(&lens, self.table));
                run.log.push(LogLine { outcome: LogOutcome::Failed, text });
            }
            for reader in readers {
                let key = format!("automation {} step {place} change {} record {record} to {}", self.id, change.seq, reader.mail);
                let (mail, left_out) = self.mail(ds, record, clock, &reader, (subject, body), key);
                let note = if left_out.is_empty() {
                    String::new()
                } else {
                    format!(" Left out, since it is not open to {}: {}.", mail.to_name, left_out.join("; "))
                };
                run.log
                    .push(LogLine { outcome: LogOutcome::Yes, text: format!("Mail to {}: “{}”.{note}", mail.to_name, mail.subject) });
                run.mails.push(mail);
            }
        }
        run
    }

    /// The mail as its reader may see it: a person of the team gets no value that is not open to them.
    fn mail(
        &self,
        ds: &Dataset,
        record: RecordId,
        clock: &Clock,
        reader: &MailReader,
        (subject, body): (&Wording, &Wording),
        key: String,
    ) -> (Mail, Vec<String>) {
        let asker = reader.person.map_or(Asker::Westerfall, Asker::Person);
        let lens = Lens::new(ds, asker, clock);
        let subject = subject.fill(&lens, self.table, record);
        let body = body.fill(&lens, self.table, record);
        let mail = Mail {
            key,
            to: reader.mail.clone(),
            to_name: reader.name.clone(),
            // One line: a line break in a value must not become a header.
            subject: subject.text.split_whitespace().collect::<Vec<_>>().join(" "),
            body: body.text,
            opens_record: reader.person.is_some() && lens.sees(self.table, record),
        };
        (mail, subject.left_out.into_iter().chain(body.left_out).collect())
    }
}

struct MailReader {
    person: Option<crate::id::PersonId>,
    name: String,
    mail: String,
}

impl Recipient {
    fn readers(&self, lens: &Lens<'_>, table: TableId, record: RecordId) -> Vec<MailReader> {
        let outsider = |mail: &str| MailReader { person: None, name: mail.to_owned(), mail: mail.to_owned() };
        let path = match self {
            Recipient::Address(mail) => return vec![outsider(mail)],
            Recipient::Field(path) => path,
        };
        let Some((at, field, records)) = wording::ends(lens, table, path, record) else { return Vec::new() };
        let reader = lens.reader(at, field);
        let mut readers: Vec<MailReader> = Vec::new();
        for cell in records.iter().flat_map(|r| reader.cells(r.row())) {
            let found = match cell {
                Cell::Person(id) => {
                    let known = lens.dataset().people.get(id).filter(|p| !p.has_left() && !p.mail.is_empty());
                    known.map(|p| MailReader { person: Some(id), name: p.name.clone(), mail: p.mail.clone() })
                }
                Cell::Text(mail) => Some(outsider(mail)),
                _ => None,
            };
            readers.extend(found.filter(|f| !readers.iter().any(|r| r.mail == f.mail)));
        }
        readers
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
