//! A tracker in which automations are at work.

use crate::fixture::*;
use jiff::SignedDuration;
use std::sync::Arc;
use westerfall_core::{
    Clock,
    access::{Asker, Lens},
    automation::{Automation, Move, Occasion, Recipient, Run, Step, course},
    bulk::{Alter, Altered},
    condition::{Check, Condition},
    dataset::Dataset,
    fault::Faults,
    id::{AutomationId, FieldId, RecordId, TableId},
    intent::{Edit, Intent},
    part::Part,
    sentence::as_text,
    value::{Input, Value},
    wording::Wording,
};

/// A tracker that is worked in: each intent with all that comes of it.
pub(crate) struct World {
    pub(crate) ds: Arc<Dataset>,
    pub(crate) clock: Clock,
}

impl World {
    pub(crate) fn new() -> Self {
        let mut ds = demo();
        // What the demo does by itself is not asked here.
        let own: Vec<Automation> =
            ds.automations().filter(|a| a.when != Occasion::Form(westerfall_core::id::FormId::new(120))).cloned().collect();
        let nadia = asker(&ds, "Nadia");
        for automation in own {
            act(&mut ds, nadia, &Intent::Drop(Part::Automation(automation))).unwrap();
        }
        Self { ds: Arc::new(ds), clock: clock() }
    }

    pub(crate) fn later(&mut self, hours: i64) {
        self.clock.now = self.clock.now.checked_add(SignedDuration::from_hours(hours)).unwrap();
    }

    pub(crate) fn at(&self, name: &str) -> TableId {
        table(&self.ds, name)
    }

    pub(crate) fn f(&self, path: &str) -> FieldId {
        field(&self.ds, path)
    }

    pub(crate) fn option(&self, path: &str) -> Value {
        Value::Choice(option(&self.ds, path))
    }

    pub(crate) fn try_do(&mut self, asker: Asker, intent: &Intent) -> Result<Vec<Move>, Faults> {
        let change = self.ds.decide(intent, asker, &self.clock)?.change;
        if change.ops.is_empty() {
            return Ok(Vec::new());
        }
        let goes_on = if let Intent::GoOn(waiting) = intent { Some((&**waiting, waiting.is_met(&self.ds, &self.clock))) } else { None };
        let moves = course(self.ds.clone(), change, goes_on, &self.clock);
        self.ds = moves.last().unwrap().after.clone();
        Ok(moves)
    }

    #[track_caller]
    pub(crate) fn act(&mut self, asker: Asker, intent: &Intent) -> Vec<Move> {
        self.try_do(asker, intent).unwrap_or_else(|faults| panic!("{faults:?}"))
    }

    pub(crate) fn nadia(&self) -> Asker {
        asker(&self.ds, "Nadia")
    }

    /// Makes an automation and switches it on.
    #[track_caller]
    pub(crate) fn automate(&mut self, table: &str, name: &str, when: Occasion, condition: Condition, steps: Vec<Step>) -> AutomationId {
        self.automate_as(self.nadia(), table, name, when, condition, steps)
    }

    #[track_caller]
    pub(crate) fn automate_as(
        &mut self,
        asker: Asker,
        table: &str,
        name: &str,
        when: Occasion,
        condition: Condition,
        steps: Vec<Step>,
    ) -> AutomationId {
        let automation = Automation {
            id: AutomationId::FIRST,
            table: self.at(table),
            name: name.into(),
            on: true,
            when,
            condition,
            steps,
            before: Default::default(),
            acts_for: None,
            unsaid: false,
            draft: None,
        };
        let made = self.ds.decide(&Intent::Make(Part::Automation(automation.clone())), asker, &self.clock).unwrap().made.unwrap();
        self.act(asker, &Intent::Make(Part::Automation(automation)));
        AutomationId::new(made).unwrap()
    }

    #[track_caller]
    pub(crate) fn put(&mut self, path: &str, record: u32, value: Value) -> Vec<Move> {
        let (table, field) = (self.at(path.split_once('.').unwrap().0), self.f(path));
        let edits = vec![Edit { field, input: Input::Value(value), was: None }];
        self.act(self.nadia(), &Intent::Edit { table, record: RecordId::new(record).unwrap(), edits })
    }

    pub(crate) fn value(&self, path: &str, record: u32) -> Value {
        value(&self.ds, self.at(path.split_once('.').unwrap().0), RecordId::new(record).unwrap(), self.f(path))
    }

    pub(crate) fn set(&self, path: &str, to: Alter) -> Step {
        Step::Set { along: Vec::new(), alter: vec![Altered { field: self.f(path), to }] }
    }

    pub(crate) fn mail(&self, table: &str, to: Recipient, text: &str, digest: bool) -> Step {
        let wording = |text: &str| Wording::parse(text, &self.ds, self.at(table)).unwrap();
        Step::Mail {
            to,
            subject: wording(if digest { "What waits" } else { text }),
            body: wording(text),
            digest,
            reply: None,
            encloses: None,
            text: None,
        }
    }

    pub(crate) fn is(&self, path: &str, options: &[&str]) -> Condition {
        let any = options.iter().map(|name| option(&self.ds, &format!("{path}.{name}"))).collect();
        test(&[self.f(path)], Check::Option { not: false, any })
    }

    pub(crate) fn clause(&self, id: AutomationId) -> String {
        fn lines(clauses: &[westerfall_core::automation::Clause], indent: &str, all: &mut Vec<String>) {
            for clause in clauses {
                all.push(format!("{indent}{}: {}", clause.word, as_text(&clause.phrases)).trim_end().to_owned());
                for branch in &clause.branches {
                    if !branch.word.is_empty() {
                        all.push(format!("{indent}  ({})", branch.word));
                    }
                    lines(&branch.clauses, &format!("{indent}  "), all);
                }
            }
        }
        let lens = Lens::new(&self.ds, self.nadia(), &self.clock);
        let automation = self.ds.automation(id).unwrap();
        let mut all = Vec::new();
        lines(&automation.to_sentences(&lens), "", &mut all);
        all.extend(automation.authority(&lens));
        all.join("\n")
    }
}

pub(crate) fn runs(moves: &[Move]) -> Vec<&Run> {
    moves.iter().flat_map(|of| &of.runs).collect()
}

pub(crate) fn said(moves: &[Move]) -> Vec<String> {
    runs(moves).iter().flat_map(|run| &run.log).map(|line| line.text.clone()).collect()
}

pub(crate) fn office() -> Recipient {
    Recipient::Address("office@orrindale-paths.example".into())
}
