//! An automation as it is sent and shown.

use super::{Clauses, Sent, builders_only};
use crate::live::Look;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    automation::{Automation, Occasion, Recipient, Step},
    condition::Condition,
    fault::{Checked, Fault, FaultKind, Faults},
    id::{AutomationId, TableId},
    part::Part,
    wording::Wording,
};

/// An automation as it reads.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct AutomationView {
    automation: Automation,
    /// One clause a line.
    clauses: Clauses,
    /// The steps with their texts as one types them.
    steps: Vec<MailText>,
}

/// A mail step as one types it.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
pub(super) struct MailText {
    to: Recipient,
    /// With fields in braces: `{Severity}: {Section.Name}`.
    subject: String,
    body: String,
}

/// An automation to keep; its table stays.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct AutomationBody {
    table: TableId,
    name: String,
    on: bool,
    when: Occasion,
    condition: Condition,
    steps: Vec<MailText>,
}

impl Sent for AutomationBody {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        let id = number.and_then(AutomationId::new).unwrap_or(AutomationId::FIRST);
        builders_only(look, self.table, "automation")?;
        let mut faults = Vec::new();
        if number.is_some() && look.dataset.automation(id).is_some_and(|now| now.table != self.table) {
            let message = "An automation stays with its table. Make a new one for another table.";
            faults.push(Fault::new(FaultKind::BadRule, message).at("/table"));
        }
        let mut steps = Vec::new();
        for (place, step) in self.steps.into_iter().enumerate() {
            let mut parse = |text: &str, at: &str| {
                Wording::parse(text, &look.dataset, self.table).unwrap_or_else(|fault| {
                    faults.push(fault.at(format!("/steps/{place}/{at}")));
                    Wording::default()
                })
            };
            steps.push(Step::Mail { subject: parse(&step.subject, "subject"), body: parse(&step.body, "body"), to: step.to });
        }
        Faults::none_or(faults)?;
        let name = self.name.trim().to_owned();
        Ok(Automation { id, table: self.table, name, on: self.on, when: self.when, condition: self.condition, steps }.into())
    }
}

pub(in crate::api) fn seen(look: &Look, automation: &Automation) -> AutomationView {
    let text = |wording: &Wording| wording.to_text(&look.dataset, automation.table);
    let step = |Step::Mail { to, subject, body }: &Step| MailText { to: to.clone(), subject: text(subject), body: text(body) };
    AutomationView {
        automation: automation.clone(),
        clauses: automation.to_sentences(&look.lens()),
        steps: automation.steps.iter().map(step).collect(),
    }
}
