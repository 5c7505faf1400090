//! An automation run without effect: on one record as it stands now, or over what really happened in the last days.

use super::{
    Automation, Message, Move, Occasion,
    fired::fired,
    letter::count_words,
    run::{Cause, LogLine, LogOutcome, Runner},
    short::{parts, short},
};
use crate::{
    Clock,
    access::Lens,
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind},
    history::{Change, Op},
    id::{RecordId, TableId},
    pace::Pace,
    part::Part,
    people::Channel,
    value::{Customs, moment_text},
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::{
    collections::{BTreeMap, BTreeSet},
    sync::Arc,
};

/// Most of what would have happened that is told one by one.
const TOLD: usize = 60;

/// What an automation would have done.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AutomationRehearsal {
    /// How often, to how many, which fields.
    pub says: Vec<String>,
    /// Latest first; at most 60.
    pub happened: Vec<TrialRun>,
    /// How many times a condition did not hold.
    pub left_out: usize,
}

/// One run that would have been.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TrialRun {
    pub at_text: String,
    pub record: RecordId,
    pub record_name: String,
    pub log: Vec<LogLine>,
    pub mails: Vec<TrialMail>,
}

/// A message that would have been sent.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TrialMail {
    /// How it would have gone: *mail*, *text of 2 parts*.
    pub by: String,
    pub to: String,
    pub subject: String,
    pub body: String,
}

impl TrialMail {
    /// As its reader would get it, but for its links.
    fn of(message: &Message, customs: Customs) -> Self {
        let noun = message.by.noun();
        let (by, body) = match message.by {
            Channel::Mail | Channel::Chat => (noun.to_owned(), message.body.clone()),
            Channel::Text => {
                let text = short(&message.subject, &message.body, &[]);
                (format!("{noun} of {}", customs.count_words(parts(&text), "part", "parts")), text)
            }
        };
        Self { by, to: message.to_name.clone(), subject: message.subject.clone(), body }
    }
}

/// Gathers what would have happened.
struct Rehearsing<'a> {
    automation: &'a Automation,
    /// Who looks at it: what is told of records is what they see.
    lens: Lens<'a>,
    happened: Vec<TrialRun>,
    runs: usize,
    left_out: usize,
    failed: usize,
    reached: BTreeMap<String, usize>,
    ways: Vec<Channel>,
    changes: usize,
}

impl Automation {
    /// As it stands in a dataset that has it, switched on.
    ///
    /// # Errors
    /// It does not fit the tracker, or whoever asks does not see all of it.
    fn tried(&self, lens: &Lens<'_>) -> Checked<(Automation, Dataset)> {
        // It runs over everything, and its log and mails tell values: to those alone from whom nothing is kept.
        if !lens.works_everywhere() {
            let message = "You see only a part of this tracker, so what it would do can’t be shown to you. Ask one of its stewards.";
            return Err(Fault::new(FaultKind::NotAllowed, message).into());
        }
        let ds = lens.dataset();
        self.check(ds)?;
        let on = Automation { on: true, ..self.clone() };
        let mut with = ds.clone();
        with.load_part(&Part::Automation(on.clone()));
        Ok((on, with))
    }

    /// What it would do with a record as it stands now.
    ///
    /// # Errors
    /// It does not fit the tracker, or whoever asks does not see all of it.
    pub fn try_on(&self, lens: &Lens<'_>, record: RecordId) -> Checked<AutomationRehearsal> {
        let (automation, ds) = self.tried(lens)?;
        let clock = lens.clock().untold();
        let looking = Lens::of_everything(&ds, None, &clock);
        let mut rehearsing = Rehearsing::new(&automation, looking);
        if lens.sees(self.table, record) {
            rehearsing.run(&ds, record, None, true, &clock);
        }
        Ok(rehearsing.told())
    }

    /// What it would have done since a moment; `changes`: those since then, the latest first. Goes back change by change, as far as the
    /// structure was what it is, and as whoever waits for it lets it go on: what it found until then is told.
    ///
    /// # Errors
    /// It does not fit the tracker, or whoever asks does not see all of it.
    pub fn rehearse(&self, lens: &Lens<'_>, since: Timestamp, changes: &[Change], pace: &dyn Pace) -> Checked<AutomationRehearsal> {
        let (automation, ds) = self.tried(lens)?;
        let clock = lens.clock().untold();
        let mut rehearsing = Rehearsing::new(&automation, Lens::of_everything(&ds, None, &clock));
        let mut after = Arc::new(ds.clone());
        let mut times = automation.times(&ds, since, lens.clock().now);
        let mut reached_back = since;
        let mut why_no_further = "the tables were others, so it goes back no further";
        for (done, change) in changes.iter().enumerate() {
            if !pace.goes_on(done, changes.len()) {
                (reached_back, why_no_further) = (change.at, "it did not go back any further: you stopped it");
                break;
            }
            while times.last().is_some_and(|time| *time >= change.at) {
                rehearsing.come(&after, times.pop().unwrap_or(change.at), &clock);
            }
            let Some((before, of)) = undone(&after, change) else {
                reached_back = change.at;
                break;
            };
            let at = Clock { now: change.at, ..clock.clone() };
            for one in fired(&of, &at).into_iter().filter(|one| one.automation == automation.id) {
                rehearsing.run(&after, one.record, Some(&of), one.asks, &at);
            }
            after = before;
        }
        while let Some(time) = times.pop().filter(|time| *time >= reached_back) {
            rehearsing.come(&after, time, &clock);
        }
        let mut told = rehearsing.told();
        if reached_back > since {
            told.says.push(format!("Before {} {why_no_further}.", moment_text(reached_back, lens.clock())));
        }
        Ok(told)
    }

    /// The times at which it would have come, the earliest first.
    fn times(&self, ds: &Dataset, since: Timestamp, now: Timestamp) -> Vec<Timestamp> {
        let next = |at: &Timestamp| self.when.after(*at, ds.zone()).filter(|at| *at <= now);
        std::iter::successors(next(&since), next).collect()
    }
}

/// A change as a move between the tracker before it and the one after it; nothing where it made the tables what they are.
fn undone(after: &Arc<Dataset>, change: &Change) -> Option<(Arc<Dataset>, Move)> {
    let of_tables = |op: &Op| match op {
        Op::Put { before, after } => before.iter().chain(after).any(|part| matches!(&**part, Part::Table(_) | Part::Tracker(_))),
        Op::Empty { .. } => true,
        _ => false,
    };
    if change.ops.iter().any(of_tables) {
        return None;
    }
    let back = change.ops.iter().rev().filter(|op| !matches!(op, Op::Put { .. })).filter_map(Op::inverse).collect();
    let back = Change { undoes: Some(change.seq), ops: back, ..change.clone() };
    let mut before = (**after).clone();
    let recomputed = before.apply(&back);
    let before = Arc::new(before);
    let of = Move { before: before.clone(), change: change.clone(), recomputed, after: after.clone(), runs: Vec::new() };
    Some((before, of))
}

impl<'a> Rehearsing<'a> {
    fn new(automation: &'a Automation, lens: Lens<'a>) -> Self {
        let (happened, reached, ways) = (Vec::new(), BTreeMap::new(), Vec::new());
        Self { automation, lens, happened, runs: 0, left_out: 0, failed: 0, reached, ways, changes: 0 }
    }

    fn come(&mut self, ds: &Dataset, time: Timestamp, clock: &Clock) {
        let at = Clock { now: time, ..clock.clone() };
        let mut readers: BTreeSet<(Channel, String)> = BTreeSet::new();
        for record in self.automation.comes_for(ds, time, &at) {
            readers.extend(self.run(ds, record, None, false, &at));
        }
        // Of many records there is one message for each reader.
        for (by, to) in readers {
            *self.reached.entry(to).or_default() += 1;
            self.ways.push(by);
        }
    }

    /// Runs it without effect; gives to whom it would go as one message of many records.
    fn run(&mut self, ds: &Dataset, record: RecordId, by: Option<&Move>, asks: bool, clock: &Clock) -> Vec<(Channel, String)> {
        let mut runner = Runner::new(self.automation, Cause { seq: 0, record }, ds, clock);
        runner.run(asks, by);
        let did = !runner.mails.is_empty() || !runner.entries.is_empty() || !runner.ops.is_empty() || runner.paused.is_some();
        let failed = runner.log.iter().any(|line| line.outcome == LogOutcome::Failed);
        self.runs += usize::from(did);
        self.failed += usize::from(failed);
        self.left_out += usize::from(!did && !failed);
        self.changes += runner.ops.iter().filter(|op| matches!(op, Op::Cell { .. } | Op::Add { .. })).count();
        for mail in &runner.mails {
            *self.reached.entry(mail.to_name.clone()).or_default() += 1;
            self.ways.push(mail.by);
        }
        let gathered = runner.entries.iter().map(|entry| (entry.reader.at.by, entry.reader.name.clone())).collect();
        if self.happened.len() < TOLD {
            let name = self.lens.record_name(self.automation.table, record).map_or_else(|| "a record that is gone".to_owned(), |n| n.name);
            let customs = self.lens.clock().customs();
            let mails = runner.mails.iter().map(|m| TrialMail::of(m, customs));
            let digests = runner.entries.iter().map(|e| TrialMail {
                by: e.reader.at.by.noun().to_owned(),
                to: e.reader.name.clone(),
                subject: e.subject.clone(),
                body: e.item.text.clone(),
            });
            let mails = mails.chain(digests).collect();
            let at_text = moment_text(clock.now, self.lens.clock());
            self.happened.push(TrialRun { at_text, record, record_name: name, log: std::mem::take(&mut runner.log), mails });
        }
        gathered
    }

    fn told(self) -> AutomationRehearsal {
        let customs = self.lens.clock().customs();
        let count = |many: usize, one: &str, more: &str| customs.count_words(many, one, more);
        let table: TableId = self.automation.table;
        let (one, many) =
            self.lens.dataset().table(table).map_or(("record".into(), "records".into()), |t| (t.def.one.clone(), t.def.many()));
        let mut says = Vec::new();
        says.push(match self.runs {
            0 => "It would have done nothing.".to_owned(),
            runs => format!("It would have run for {}.", count(runs, &one, &many)),
        });
        let mails: usize = self.reached.values().sum();
        if mails > 0 {
            let mut most: Vec<(&String, &usize)> = self.reached.iter().collect();
            most.sort_by(|a, b| b.1.cmp(a.1));
            let told: Vec<String> = most.iter().take(4).map(|(to, mails)| format!("{to} {}", customs.count_text(**mails))).collect();
            let more = most.len().saturating_sub(4);
            let more = if more > 0 { format!(" and {} more", count(more, "reader", "readers")) } else { String::new() };
            says.push(format!("{} would have gone out: {}{more}.", count_words(self.ways.into_iter(), customs), told.join(", ")));
        }
        if self.changes > 0 {
            says.push(format!("{} would have been changed or added.", count(self.changes, "value", "values")));
        }
        if self.failed > 0 {
            says.push(format!("{} could not have been done to the end.", count(self.failed, "run", "runs")));
        }
        if self.left_out > 0 && !matches!(self.automation.when, Occasion::Every { .. } | Occasion::Date { .. }) {
            says.push(format!("{} left out, since a condition did not hold.", count(self.left_out, &one, &many)));
        }
        AutomationRehearsal { says, happened: self.happened, left_out: self.left_out }
    }
}
