//! A change and all that comes of it: what it sets going, what that changes, what that sets going. All of it is kept together or not at all.

use super::{
    Automation, Message, Occasion, Run, Source, Step, Waiting,
    fired::{Fired, fired},
    run::{Cause, Entry, Fork, LogLine, LogOutcome, Runner},
};
use crate::{
    Clock,
    access::Lens,
    dataset::{Dataset, Meta, Recomputed},
    form::{Form, Question},
    history::{Change, Op},
    id::{AutomationId, FieldId, RecordId, TextId},
    pace::{Pace, Stopped},
    people::{Actor, Reached},
    value::{Cell, fold},
};
use jiff::{SignedDuration, Timestamp};
use std::{
    collections::{BTreeMap, BTreeSet, VecDeque},
    sync::Arc,
};

/// How many automations may set each other going, one after the other.
const DEEPEST: u8 = 8;
/// Most changes that come of one: as many as records are changed at once, each of them twice.
const MOST_MOVES: usize = 20_000;
/// Most copies of answers that go to one address within a day.
const COPIES: usize = 5;
const A_DAY: SignedDuration = SignedDuration::from_secs(24 * 3_600);

/// One change, the tracker on both sides of it, and the runs that are kept with it.
#[derive(Clone, Debug)]
pub struct Move {
    pub before: Arc<Dataset>,
    pub change: Change,
    pub recomputed: Recomputed,
    pub after: Arc<Dataset>,
    pub runs: Vec<Run>,
}

impl Move {
    fn of(before: Arc<Dataset>, change: Change) -> Self {
        let mut after = (*before).clone();
        let recomputed = after.apply(&change);
        Self { before, change, recomputed, after: Arc::new(after), runs: Vec::new() }
    }
}

/// An automation that is to run.
struct Due {
    fired: Fired,
    /// The move that set it going, and after how many others.
    by: usize,
    depth: u8,
}

/// What comes of one change.
struct Course<'a> {
    clock: &'a Clock,
    moves: Vec<Move>,
    due: VecDeque<Due>,
    /// Which automations ran over which records by which cells: none does so twice by its own doing.
    seen: BTreeSet<(AutomationId, RecordId, Vec<FieldId>)>,
    /// Messages for many records, on their way.
    digests: Vec<(AutomationId, usize, Entry)>,
}

/// Follows a change to its end; `goes_on`: the run that goes on by it, and whether what it waited for holds. The first move is the change
/// itself; each other was made by an automation.
pub fn course(before: Arc<Dataset>, change: Change, goes_on: Option<(&Waiting, bool)>, clock: &Clock) -> Vec<Move> {
    let mut course = Course::begun(before, change, goes_on, clock);
    course.walk(&());
    course.moves
}

/// The same for somebody who waits for it, a step for each run of an automation.
///
/// # Errors
/// It was stopped.
pub fn paced_course(
    before: Arc<Dataset>,
    change: Change,
    goes_on: Option<(&Waiting, bool)>,
    clock: &Clock,
    pace: &dyn Pace,
) -> Result<Vec<Move>, Stopped> {
    let mut course = Course::begun(before, change, goes_on, clock);
    if course.walk(pace) { Ok(course.moves) } else { Err(Stopped) }
}

impl<'a> Course<'a> {
    fn begun(before: Arc<Dataset>, change: Change, goes_on: Option<(&Waiting, bool)>, clock: &'a Clock) -> Self {
        let first = Move::of(before, change);
        let mut course = Self { clock, moves: vec![first], due: VecDeque::new(), seen: BTreeSet::new(), digests: Vec::new() };
        course.answer_copied();
        course.look(0, 0);
        if let Some((waiting, met)) = goes_on {
            course.go_on(waiting, met);
        }
        course
    }
}

impl Course<'_> {
    /// To its end; gives whether it came there.
    fn walk(&mut self, pace: &dyn Pace) -> bool {
        let mut done = 0_usize;
        while let Some(due) = self.due.pop_front() {
            if !pace.goes_on(done, done.saturating_add(self.due.len()).saturating_add(1)) {
                return false;
            }
            self.run(&due);
            done = done.saturating_add(1);
        }
        self.send_digests();
        pace.goes_on(done, done)
    }

    fn now(&self) -> Arc<Dataset> {
        self.moves.last().map_or_else(|| self.moves[0].after.clone(), |last| last.after.clone())
    }

    /// What a move sets going waits for its turn.
    fn look(&mut self, by: usize, depth: u8) {
        let all = fired(&self.moves[by], self.clock);
        self.due.extend(all.into_iter().map(|fired| Due { fired, by, depth }));
    }

    fn answer_copied(&mut self) {
        let of = &self.moves[0];
        // What is brought back by undoing was not sent again.
        let form = match of.change.who {
            Actor::Form(form) if of.change.undoes.is_none() => of.after.form(form),
            _ => None,
        };
        let copy = form.and_then(|form| form.copy_of(&of.after, &of.change, self.clock));
        self.moves[0].runs.extend(copy);
    }

    fn run(&mut self, due: &Due) {
        let now = self.now();
        let Some(automation) = now.automation(due.fired.automation) else { return };
        let record = due.fired.record;
        let by = &self.moves[due.by].change;
        let mut cells: Vec<FieldId> = by.ops.iter().filter_map(|op| of_record(op, record)).collect();
        cells.sort_unstable();
        let new = self.seen.insert((automation.id, record, cells));
        if due.depth >= DEEPEST || self.moves.len() >= MOST_MOVES || (due.depth > 0 && !new) {
            let text = match () {
                () if due.depth > 0 && !new => "Stopped: it was set going again by its own doing.".to_owned(),
                () if due.depth >= DEEPEST => {
                    format!("Stopped: automations set each other going, {DEEPEST} deep. One of them has to let go.")
                }
                () => format!("Stopped: more than {MOST_MOVES} changes would have come of one."),
            };
            let log = vec![LogLine { outcome: LogOutcome::Failed, text }];
            let stopped = self.kept(automation, Some(record), log, Vec::new());
            return self.moves[due.by].runs.push(stopped);
        }
        let mut runner = Runner::new(automation, Cause { seq: by.seq, record }, &now, self.clock);
        runner.run(due.fired.asks, Some(&self.moves[due.by]));
        self.take(automation, record, runner, None, due.by, due.depth);
    }

    fn go_on(&mut self, waiting: &Waiting, met: bool) {
        let now = self.now();
        let record = waiting.record;
        let seq = self.moves[0].change.seq;
        let on = now.automation(waiting.automation).filter(|a| a.on);
        let is_live = |table, record| now.table(table).is_some_and(|home| home.is_live(record));
        // What it does for a record that was found hangs on the one that it is about, too.
        let own = waiting.paused.own;
        let live = is_live(waiting.table, record) && own.zip(on).is_none_or(|(own, automation)| is_live(automation.table, own));
        let Some(automation) = on.filter(|_| live) else {
            let why = if live { "it was switched off or taken away while it waited" } else { "its record is not there any more" };
            let log = vec![LogLine { outcome: LogOutcome::No, text: format!("Ends here: {why}.") }];
            let source = Source::Automation(waiting.automation);
            let at = self.moves[0].change.at;
            let kept = Some(waiting.kept);
            let ended = Run { kept, source, table: waiting.table, record: Some(record), seq, at, log, mails: Vec::new(), paused: None };
            return self.moves[0].runs.push(ended);
        };
        let mut runner = Runner::new(automation, Cause { seq, record: own.unwrap_or(record) }, &now, self.clock);
        runner.of = (waiting.table, record);
        runner.go_on(&waiting.paused, met, waiting.answered.as_ref());
        self.take(automation, record, runner, Some(waiting.kept), 0, 0);
    }

    /// Takes what a run came to: what it changed as a move of its own, with all that this sets going.
    fn take(&mut self, automation: &Automation, record: RecordId, mut runner: Runner<'_>, kept: Option<i64>, by: usize, depth: u8) {
        let now = self.now();
        let change = runner.change(&now);
        let only_digested = !runner.entries.is_empty()
            && runner.mails.is_empty()
            && change.is_none()
            && runner.paused.is_none()
            && runner.log.iter().all(|line| line.outcome == LogOutcome::Yes);
        self.digests.extend(runner.entries.drain(..).map(|entry| (automation.id, by, entry)));
        let mut run = self.kept(automation, Some(record), std::mem::take(&mut runner.log), std::mem::take(&mut runner.mails));
        (run.table, run.record) = (runner.of.0, Some(runner.of.1));
        run.kept = kept;
        run.seq = self.moves[by].change.seq;
        run.paused = runner.paused.take();
        let started = std::mem::take(&mut runner.started);
        let forks: Vec<Run> = std::mem::take(&mut runner.forks).into_iter().map(|fork| self.forked(&run, fork)).collect();
        let Some(change) = change else {
            if !only_digested {
                self.moves[by].runs.push(run);
            }
            self.moves[by].runs.extend(forks);
            return self.start(started, by, depth);
        };
        let mut next = Move::of(now, change);
        next.runs.push(run);
        next.runs.extend(forks);
        self.moves.push(next);
        self.look(self.moves.len() - 1, depth + 1);
        self.start(started, self.moves.len() - 1, depth);
    }

    /// What waits for one of the records that a run found: a run of its own from here on.
    fn forked(&self, of: &Run, fork: Fork) -> Run {
        let Fork { about: (table, record), log, paused } = fork;
        Run { kept: None, table, record: Some(record), log, mails: Vec::new(), paused: Some(paused), ..of.clone() }
    }

    /// What a run starts waits for its turn.
    fn start(&mut self, started: Vec<(AutomationId, RecordId)>, by: usize, depth: u8) {
        let fired = |(automation, record)| Fired { automation, record, asks: true };
        self.due.extend(started.into_iter().map(|of| Due { fired: fired(of), by, depth: depth + 1 }));
    }

    fn kept(&self, automation: &Automation, record: Option<RecordId>, log: Vec<LogLine>, mails: Vec<Message>) -> Run {
        let source = Source::Automation(automation.id);
        let first = &self.moves[0].change;
        Run { kept: None, source, table: automation.table, record, seq: first.seq, at: first.at, log, mails, paused: None }
    }

    /// One message for each reader, of all records that were found for it.
    fn send_digests(&mut self) {
        type Of = (AutomationId, usize, String, Reached);
        let mut letters: BTreeMap<Of, Vec<Entry>> = BTreeMap::new();
        for (automation, by, entry) in std::mem::take(&mut self.digests) {
            letters.entry((automation, by, entry.place.clone(), entry.reader.at.clone())).or_default().push(entry);
        }
        let mut runs: BTreeMap<(AutomationId, usize), (Vec<LogLine>, Vec<Message>)> = BTreeMap::new();
        let now = self.now();
        for ((automation, by, place, at), entries) in letters {
            let Some((first, of)) = entries.first().zip(now.automation(automation)) else { continue };
            let customs = self.clock.customs();
            let home = now.table(of.table);
            let (one, many) = home.map_or_else(|| ("record".into(), "records".into()), |t| (t.def.one.clone(), t.def.many()));
            let count = customs.count_words(entries.len(), &one, &many);
            let name = first.reader.name.clone();
            let text = format!("{} with {count}: “{}”.", first.reader.line(), first.subject);
            let mail = Message {
                key: format!("automation {automation} step {place} change {} to {}", self.moves[by].change.seq, at.to),
                by: at.by,
                to: at.to,
                to_name: name,
                person: first.reader.person,
                subject: first.subject.clone(),
                body: format!("{count}:"),
                why: first.why.clone(),
                outside: first.reader.is_outside(),
                items: entries.into_iter().map(|entry| entry.item).collect(),
                ..Message::default()
            };
            let (log, mails) = runs.entry((automation, by)).or_default();
            log.push(LogLine { outcome: LogOutcome::Yes, text });
            mails.push(mail);
        }
        for ((automation, by), (log, mails)) in runs {
            let Some(of) = now.automation(automation) else { continue };
            let mut run = self.kept(of, None, log, mails);
            run.seq = self.moves[by].change.seq;
            self.moves[by].runs.push(run);
        }
    }
}

/// The field of a record that an operation changes.
fn of_record(op: &Op, record: RecordId) -> Option<FieldId> {
    match op {
        Op::Cell { record: own, field, .. } if *own == record => Some(*field),
        _ => None,
    }
}

impl Automation {
    /// Whether one of its messages is of many records at once.
    pub(crate) fn is_gathered(&self) -> bool {
        self.all_steps().iter().any(|step| matches!(step, Step::Mail { digest: true, .. }))
    }

    /// Whether one of its messages is of many records at once, and written by this text.
    pub(crate) fn gathers_by(&self, by: TextId) -> bool {
        self.all_steps().iter().any(|step| matches!(step, Step::Mail { digest: true, text, .. } if *text == Some(by)))
    }

    /// Whether its messages may be of many records at once.
    pub(super) fn gathers(&self) -> bool {
        matches!(self.when, Occasion::Every { .. } | Occasion::Date { .. } | Occasion::Chosen)
    }
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
        let run = |outcome, text, mails| Run {
            kept: None,
            source: Source::Form(self.id),
            table,
            record: Some(record),
            seq: change.seq,
            at: change.at,
            log: vec![LogLine { outcome, text }],
            mails,
            paused: None,
        };
        // As often as the owner of the address would bear: whoever types an address need not be its owner.
        if self.copies_to(ds, &to, clock) > COPIES {
            let text = format!("No copy to {to}: {COPIES} went there within a day already.");
            return Some(run(LogOutcome::Failed, text, Vec::new()));
        }
        if !ds.people.wants(&to, ds.messages_of(self.id.get())) {
            return Some(run(LogOutcome::No, format!("No copy to {to}: they want no more of these messages."), Vec::new()));
        }
        let answers: Vec<String> = self.questions.iter().filter(|q| !q.hidden).filter_map(line).collect();
        if to.is_empty() {
            return None;
        }
        let thanks = self.confirmation.fill(&lens, table, record).text;
        let mail = Message {
            key: format!("form {} copy of {record} change {}", self.id, change.seq),
            to: to.clone(),
            to_name: to.clone(),
            subject: format!("Your answer: {}", self.title),
            body: format!("{thanks}\n\nThis is what you sent:\n\n{}", answers.join("\n")),
            why: format!("You get this since your address was given with an answer to “{}”.", self.title),
            outside: true,
            ..Message::default()
        };
        Some(run(LogOutcome::Yes, format!("A copy of the answer to {to}."), vec![mail]))
    }

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
