//! What automations and rounds cost core, in memory. Its last lines are `ratio NAME VALUE`: the measured over the wanted, so that at
//! most 1 is good.

use jiff::{SignedDuration, Timestamp};
use std::{
    hint::black_box,
    sync::Arc,
    time::{Duration, Instant},
};
use westerfall_core::{
    Clock,
    access::{Asker, Lens},
    automation::{Automation, Hour, Move, Occasion, Recipient, Round, Step, course},
    condition::{Check, Condition, Quantity, Test},
    dataset::Dataset,
    history::Change,
    id::{AutomationId, FieldId, PersonId, RecordId, TableId},
    intent::{Edit, Intent},
    part::Part,
    schema::Kind,
    value::{Input, Value},
    wording::Wording,
};
use westerfall_demo::scaled;

/// Edits of which the median is taken.
const EDITS: usize = 201;
/// Automations that listen.
const LISTENING: u32 = 50;
/// Messages of one timetable.
const MESSAGES: usize = 10_000;
/// Changes that are rehearsed back over.
const CHANGES: usize = 100_000;
/// Trackers in which somebody has something to do.
const TRACKERS: usize = 20;

fn main() {
    let faults = std::env::var("WESTERFALL_BENCH_FAULTS").ok().and_then(|n| n.parse().ok()).unwrap_or(100_000);
    let now = Timestamp::now();
    let bench = Bench { ds: Arc::new(quiet(scaled::dataset(now, faults))), clock: scaled::clock(now) };
    println!("{faults} faults");
    let (alone, heard) = (bench.edits(0), bench.edits(LISTENING));
    println!("an edit with all that comes of it: {alone:?}; with {LISTENING} automations that hear it and ask a condition: {heard:?}");
    let planned = bench.timetable();
    println!("{MESSAGES} messages of one timetable, planned: {planned:?}");
    let rehearsed = bench.rehearsal();
    println!("a rehearsal back over {CHANGES} changes: {rehearsed:?}");
    let rounds = bench.rounds();
    println!("somebody's rounds in {TRACKERS} trackers of so many faults: {rounds:?}");
    println!("ratio firing {:.2}", heard.saturating_sub(alone).as_secs_f64() / 0.000_3);
    println!("ratio timetable {:.2}", planned.as_secs_f64() / 2.0);
    println!("ratio rehearsal-of-changes {:.2}", rehearsed.as_secs_f64() / 10.0);
    println!("ratio rounds {:.2}", rounds.as_secs_f64() / 0.2);
}

/// Without what the demo does by itself.
fn quiet(mut ds: Dataset) -> Dataset {
    for own in ds.automations().cloned().collect::<Vec<_>>() {
        let change = ds.decide(&Intent::Drop(own.into()), nadia(), &scaled::clock(Timestamp::now())).expect("the steward may").change;
        ds.apply(&change);
    }
    ds
}

fn nadia() -> Asker {
    Asker::Person(PersonId::FIRST)
}

struct Bench {
    ds: Arc<Dataset>,
    clock: Clock,
}

impl Bench {
    fn table(&self) -> TableId {
        self.ds.tables().find(|t| t.def.name == "Faults").expect("the demo has faults").def.id
    }

    fn field(&self, name: &str) -> FieldId {
        let table = self.ds.table(self.table()).expect("it is there");
        table.def.fields.iter().find(|f| f.name == name).expect("a field of the demo").id
    }

    /// Those that are of the first severity.
    fn of_severity(&self) -> Condition {
        let field = self.field("Severity");
        let kind = &self.ds.field(field).expect("it is there").1.kind;
        let Kind::Choice { options, .. } = kind else { panic!("severity is a choice") };
        let any = vec![options[0].id];
        Condition::Test(Test { path: vec![field], of: Quantity::Any, check: Check::Option { not: false, any } })
    }

    fn with(&self, automations: impl IntoIterator<Item = Automation>) -> Arc<Dataset> {
        let mut ds = (*self.ds).clone();
        automations.into_iter().for_each(|one| ds.load_part(&Part::Automation(one)));
        Arc::new(ds)
    }

    fn automation(&self, number: u32, when: Occasion, condition: Condition) -> Automation {
        let text = Wording::parse("{Number}: {What is wrong} in {Section.Name}", &self.ds, self.table()).expect("fields of the demo");
        let to = Recipient::Address("office@orrindale-paths.example".to_owned());
        let mail = Step::Mail { to, subject: text.clone(), body: text, digest: false, reply: None, encloses: None, text: None };
        Automation {
            id: AutomationId::new(900_000 + number).expect("a number"),
            table: self.table(),
            name: format!("Automation {number}"),
            on: true,
            when,
            condition,
            steps: vec![mail],
            before: Default::default(),
            acts_for: Some(PersonId::FIRST),
            unsaid: false,
            draft: None,
        }
    }

    fn edit(&self, ds: &Arc<Dataset>, record: RecordId, text: String) -> (Change, Vec<Move>) {
        let edits = vec![Edit { field: self.field("Description"), input: Input::Value(Value::text(&text)), was: None }];
        let intent = Intent::Edit { table: self.table(), record, edits };
        let change = ds.decide(&intent, nadia(), &self.clock).expect("the steward may").change;
        let moves = course(ds.clone(), change.clone(), None, &self.clock);
        (change, moves)
    }

    /// One edit, decided and followed, where so many automations listen to it.
    fn edits(&self, listening: u32) -> Duration {
        let condition = self.of_severity();
        let when = || Occasion::Changed(vec![self.field("Description")]);
        let mut ds = self.with((0..listening).map(|number| self.automation(number, when(), condition.clone())));
        let mut times: Vec<Duration> = (0..EDITS)
            .map(|n| {
                let begun = Instant::now();
                let (_, moves) = self.edit(&ds, RecordId::at_row(n * 37), format!("Looked at {n}"));
                let took = begun.elapsed();
                ds = moves.last().expect("it changes something").after.clone();
                took
            })
            .collect();
        times.sort();
        times[EDITS / 2]
    }

    /// All lots of a time that comes for as many records as there are messages.
    fn timetable(&self) -> Duration {
        let number = self.field("Number");
        let records: Vec<RecordId> = Lens::new(&self.ds, nadia(), &self.clock).records(self.table()).take(MESSAGES).collect();
        let last = records.last().expect("there are faults");
        let until = Lens::new(&self.ds, nadia(), &self.clock).text_at(self.table(), *last, number);
        println!("(the last of them is {until})");
        let automation = self.automation(0, Occasion::Every { round: Round::Daily, at: Hour(0) }, Condition::default());
        let id = automation.id;
        // It was switched on three days ago.
        let before = Clock { now: self.clock.now - SignedDuration::from_secs(72 * 3_600), ..self.clock.clone() };
        let made = self.ds.decide(&Intent::Make(Part::Automation(automation)), nadia(), &before).expect("the steward may");
        let id = made.made.and_then(AutomationId::new).unwrap_or(id);
        let mut ds = course(self.ds.clone(), made.change, None, &before).last().expect("it was made").after.clone();
        let begun = Instant::now();
        let mut messages = 0;
        while messages < MESSAGES {
            let change = ds.decide(&Intent::Come { automation: id }, Asker::Westerfall, &self.clock).expect("it comes").change;
            assert!(!change.ops.is_empty(), "only {messages} messages");
            let moves = course(ds.clone(), change, None, &self.clock);
            messages += moves.iter().flat_map(|of| &of.runs).map(|run| run.mails.len()).sum::<usize>();
            ds = moves.last().expect("it came").after.clone();
        }
        begun.elapsed()
    }

    /// Back over so many edits, of which one in a hundred concerns what is rehearsed.
    fn rehearsal(&self) -> Duration {
        let mut ds = self.ds.clone();
        let begun = self.clock.now - SignedDuration::from_secs(90 * 86_400);
        let rows = Lens::new(&ds, nadia(), &self.clock).records(self.table()).count();
        let mut changes = Vec::new();
        for (n, row) in (0_i64..).zip((0..CHANGES).map(|n| n * 7 % rows)) {
            let field = if n % 100 == 0 { "Description" } else { "Reporter" };
            let edits = vec![Edit { field: self.field(field), input: Input::Value(Value::text(&format!("Edit {n}"))), was: None }];
            let intent = Intent::Edit { table: self.table(), record: RecordId::at_row(row), edits };
            let clock = Clock { now: begun + SignedDuration::from_secs(n * 70), ..self.clock.clone() };
            let change = ds.decide(&intent, nadia(), &clock).expect("the steward may").change;
            let mut after = (*ds).clone();
            after.apply(&change);
            ds = Arc::new(after);
            changes.push(change);
        }
        changes.reverse();
        let automation = self.automation(0, Occasion::Changed(vec![self.field("Description")]), self.of_severity());
        let lens = Lens::new(&ds, nadia(), &self.clock);
        let asked = Instant::now();
        let told = automation.rehearse(&lens, begun, &changes, &()).expect("it fits");
        let took = asked.elapsed();
        println!("{}", told.says.join(" "));
        black_box(told);
        took
    }

    fn rounds(&self) -> Duration {
        let people: Vec<PersonId> = self.ds.people.here().map(|person| person.id).collect();
        let mut longest = Duration::ZERO;
        for person in people {
            let begun = Instant::now();
            for _ in 0..TRACKERS {
                black_box(Lens::new(&self.ds, Asker::Person(person), &self.clock).rounds(person));
            }
            longest = longest.max(begun.elapsed());
        }
        longest
    }
}
