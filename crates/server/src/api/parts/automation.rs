//! An automation as it is sent and shown.

use super::{Sent, builders_only};
use crate::{live::Look, settings::CallsOut};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    access::Lens,
    automation::{Automation, Clause, Occasion, Plan, Rewrite, Step, Whose, written},
    condition::Condition,
    fault::{Checked, Fault, FaultKind, Faults},
    formula::Formula,
    id::{AutomationId, TableId},
    part::Part,
    wording::Wording,
};

/// An automation as it reads.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct AutomationView {
    automation: Automation,
    /// One clause a line.
    clauses: Vec<Clause>,
    /// The steps with their texts as one types them.
    steps: Vec<Step<String, String>>,
    /// For whom it acts, where it changes anything.
    authority: Option<String>,
    /// What is to take its place, as it reads.
    draft: Option<DraftView>,
    /// Which of its calls this server would not make, in sentences.
    not_called: Vec<String>,
}

impl AutomationView {
    /// With which of its calls whoever runs this server does not allow.
    pub(in crate::api) fn on(mut self, calls: &CallsOut) -> Self {
        let drafted = self.automation.drafted();
        let mut hosts: Vec<String> = self.automation.hosts().into_iter().chain(drafted.iter().flat_map(Automation::hosts)).collect();
        hosts.sort();
        hosts.dedup();
        // The port is not asked: of a host all may be called.
        let bare = |host: &String| {
            host.rsplit_once(':').filter(|(_, port)| port.parse::<u16>().is_ok()).map_or(host.clone(), |(bare, _)| bare.to_owned())
        };
        let refused = hosts.iter().map(bare).filter(|host| !calls.allows(host));
        self.not_called = refused
            .map(|host| format!("Whoever runs this server does not allow calls to {host}: ask them to, or take this step out."))
            .collect();
        self
    }
}

/// What is to take the place of what an automation does.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct DraftView {
    when: Occasion,
    condition: Condition,
    before: Condition,
    steps: Vec<Step<String, String>>,
    clauses: Vec<Clause>,
    /// What it does otherwise, a sentence each.
    differs: Vec<String>,
}

/// When an automation does what, as it is sent.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct PlanBody {
    when: Occasion,
    condition: Condition,
    /// What held before: of what changes alone.
    #[serde(default)]
    before: Condition,
    steps: Vec<Step<String, String>>,
}

/// An automation to keep; its table stays. Texts hold fields in braces: `{Severity}: {Section.Name}`.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct AutomationBody {
    table: TableId,
    name: String,
    on: bool,
    when: Occasion,
    condition: Condition,
    /// What held before: of what changes alone.
    #[serde(default)]
    before: Condition,
    steps: Vec<Step<String, String>>,
    /// Whether what it would do is not told before a press that sets it going.
    #[serde(default)]
    unsaid: bool,
    /// What is to take its place; nothing: it has no draft.
    #[serde(default)]
    draft: Option<PlanBody>,
}

impl AutomationBody {
    /// As it would stand.
    pub(in crate::api) fn read(self, id: AutomationId, look: &Look) -> Checked<Automation> {
        builders_only(look, self.table, "automation")?;
        let now = look.dataset.automation(id);
        let mut faults = Vec::new();
        if now.is_some_and(|now| now.table != self.table) {
            let message = "An automation stays with its table. Make a new one for another table.";
            faults.push(Fault::new(FaultKind::BadRule, message).at("/table"));
        }
        let mut read = Reading { look, lens: look.lens(), own: self.table, faults: &mut faults };
        let steps = written(&self.steps, self.table, "/steps", &mut read);
        let draft = self.draft.map(|body| {
            let steps = written(&body.steps, self.table, "/draft/steps", &mut read);
            Box::new(Plan { when: body.when, condition: body.condition, before: body.before, steps })
        });
        Faults::none_or(faults)?;
        let (name, acts_for) = (self.name.trim().to_owned(), now.and_then(|now| now.acts_for));
        let AutomationBody { table, on, when, condition, before, unsaid, .. } = self;
        Ok(Automation { id, table, name, on, when, condition, before, steps, acts_for, unsaid, draft })
    }
}

/// Texts and formulas as somebody typed them.
struct Reading<'l> {
    look: &'l Look,
    lens: Lens<'l>,
    /// The automation's table.
    own: TableId,
    faults: &'l mut Vec<Fault>,
}

impl Rewrite<String, String> for Reading<'_> {
    type Text = Wording;
    type Formula = Formula;

    fn text(&mut self, of: &String, table: TableId, at: String) -> Wording {
        let read = if self.lens.opens(table) { Wording::parse(of, &self.look.dataset, table) } else { Err(Fault::not_found("table")) };
        read.unwrap_or_else(|fault| {
            self.faults.push(fault.at(at));
            Wording::default()
        })
    }

    fn formula(&mut self, of: &String, whose: Whose<'_>, at: String) -> Formula {
        let ds = &self.look.dataset;
        let table = match whose {
            Whose::Changed(table, along) => ds.end_of(table, along),
            Whose::Own => Some(self.own),
        };
        let Some(table) = table.filter(|table| self.lens.opens(*table)) else {
            self.faults.push(Fault::not_found("table").at(at));
            return Formula::nothing();
        };
        let parsed = Formula::read(of, ds, table);
        if let Some(fault) = parsed.faults.first() {
            self.faults.push(Fault::new(FaultKind::BadRule, format!("The formula does not hold: {}.", fault.message)).at(at));
        }
        parsed.formula
    }
}

/// The same as one types them.
struct Typing<'l>(&'l Look);

impl Rewrite<Wording, Formula> for Typing<'_> {
    type Text = String;
    type Formula = String;

    fn text(&mut self, of: &Wording, table: TableId, _at: String) -> String {
        of.to_text(&self.0.dataset, table)
    }

    fn formula(&mut self, of: &Formula, _whose: Whose<'_>, _at: String) -> String {
        of.text(&self.0.dataset)
    }
}

impl Sent for AutomationBody {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        // What is made is given its number later, one that nothing has.
        let id = number.and_then(AutomationId::new).unwrap_or(AutomationId::LAST);
        self.read(id, look).map(Part::from)
    }
}

pub(in crate::api) fn seen(look: &Look, automation: &Automation) -> AutomationView {
    let lens = look.lens();
    let typed = |steps: &[Step]| written(steps, automation.table, "", &mut Typing(look));
    let draft = automation.drafted().map(|draft| DraftView {
        clauses: draft.to_sentences(&lens),
        differs: automation.differs(&lens),
        steps: typed(&draft.steps),
        when: draft.when,
        condition: draft.condition,
        before: draft.before,
    });
    AutomationView {
        automation: automation.clone(),
        clauses: automation.to_sentences(&lens),
        steps: typed(&automation.steps),
        authority: automation.authority(&lens),
        draft,
        not_called: Vec::new(),
    }
}
