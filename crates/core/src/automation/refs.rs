//! What an automation names.

use super::{Automation, Occasion, Pause, Recipient, Reply, ReplyBy, Step};
use crate::{
    bulk::altered_refs,
    condition::{Condition, condition_refs as condition},
    names::{Hold, Name, Names, See, field, path, person},
    wording::wording_refs as wording,
};

const NEEDS: Hold = Hold::Needs("needs it");

impl Names for Automation {
    fn each(&mut self, see: &mut See<'_>) {
        plan(&mut self.when, [&mut self.condition, &mut self.before], &mut self.steps, see);
        if let Some(draft) = &mut self.draft {
            plan(&mut draft.when, [&mut draft.condition, &mut draft.before], &mut draft.steps, see);
        }
        self.acts_for = self.acts_for.and_then(|mut id| person(&mut id, Hold::Shows("acts for them"), see).then_some(id));
    }
}

fn plan(when: &mut Occasion, asks: [&mut Condition; 2], steps: &mut [Step], see: &mut See<'_>) {
    match when {
        Occasion::Form(Some(form)) => {
            if let Some(Name::Form(other)) = see(Name::Form(*form), Hold::Needs("is set going by it")) {
                *form = other;
            }
        }
        Occasion::Changed(fields) => fields.iter_mut().for_each(|id| {
            field(id, Hold::Needs("is set going by it"), see);
        }),
        Occasion::Date { field: id, .. } => {
            field(id, Hold::Needs("is set going by it"), see);
        }
        Occasion::Form(None)
        | Occasion::Added
        | Occasion::Pressed
        | Occasion::Fits
        | Occasion::Every { .. }
        | Occasion::Chosen
        | Occasion::Started => {}
    }
    asks.into_iter().for_each(|of| condition(of, NEEDS, see));
    steps.iter_mut().for_each(|step| step.each(see));
}

impl Step {
    fn each(&mut self, see: &mut See<'_>) {
        match self {
            Step::Mail { to, subject, body, reply, encloses, text, .. } => {
                match to {
                    Recipient::Field(fields) => {
                        path(fields, NEEDS, see);
                    }
                    Recipient::Role(role) => {
                        if let Some(Name::Role(other)) = see(Name::Role(*role), NEEDS) {
                            *role = other;
                        }
                    }
                    Recipient::Address(_) | Recipient::Phone(_) | Recipient::Room(_) => {}
                }
                wording(subject, NEEDS, see);
                wording(body, NEEDS, see);
                if let Some(id) = text
                    && let Some(Name::Text(other)) = see(Name::Text(*id), Hold::Needs("is written by it"))
                {
                    *id = other;
                }
                if let Some(reply) = reply {
                    reply.each(see);
                }
                *encloses = encloses.and_then(|id| match see(Name::Document(id), Hold::Shows("encloses it")) {
                    Some(Name::Document(other)) => Some(other),
                    _ => None,
                });
            }
            Step::Set { along, alter } => {
                path(along, NEEDS, see);
                alter.iter_mut().for_each(|one| altered_refs(one, NEEDS, see));
            }
            Step::Add { table, alter, lines } => {
                if let Some(Name::Table(other)) = see(Name::Table(*table), NEEDS) {
                    *table = other;
                }
                for line in &mut *lines {
                    field(&mut line.under, NEEDS, see);
                }
                let all = alter.iter_mut().chain(lines.iter_mut().flat_map(|line| &mut line.alter));
                all.for_each(|one| altered_refs(one, NEEDS, see));
            }
            Step::Start { automation } => {
                if let Some(Name::Automation(other)) = see(Name::Automation(*automation), Hold::Needs("starts it")) {
                    *automation = other;
                }
            }
            Step::Say { text } => {
                wording(text, NEEDS, see);
            }
            Step::Each { table, condition: of, same, steps, otherwise, .. } => {
                if let Some(Name::Table(other)) = see(Name::Table(*table), NEEDS) {
                    *table = other;
                }
                condition(of, NEEDS, see);
                for one in same {
                    field(&mut one.theirs, NEEDS, see);
                    field(&mut one.ours, NEEDS, see);
                }
                steps.iter_mut().chain(otherwise).for_each(|step| step.each(see));
            }
            Step::If { condition: of, steps, otherwise } => {
                condition(of, NEEDS, see);
                steps.iter_mut().chain(otherwise).for_each(|step| step.each(see));
            }
            Step::Wait { pause, steps, otherwise } => {
                match pause {
                    Pause::Field(id) => {
                        field(id, NEEDS, see);
                    }
                    Pause::Until { condition: of, .. } => condition(of, NEEDS, see),
                    Pause::Hours(_) | Pause::Days(_) => {}
                }
                steps.iter_mut().chain(otherwise).for_each(|step| step.each(see));
            }
            Step::Call { calls, steps, otherwise } => {
                wording(&mut calls.address, NEEDS, see);
                calls.sends.iter_mut().for_each(|one| {
                    wording(&mut one.value, NEEDS, see);
                });
                calls.takes.iter_mut().for_each(|one| {
                    field(&mut one.field, NEEDS, see);
                });
                steps.iter_mut().chain(otherwise).for_each(|step| step.each(see));
            }
            Step::Stop => {}
        }
    }
}

impl Reply {
    fn each(&mut self, see: &mut See<'_>) {
        // A fact that goes is shown no more; what an answer puts in is needed.
        self.facts.retain_mut(|id| field(id, Hold::Shows("shows it with its answer"), see));
        match &mut self.answers {
            ReplyBy::Choices(choices) => {
                choices.iter_mut().flat_map(|choice| &mut choice.alter).for_each(|one| altered_refs(one, NEEDS, see))
            }
            ReplyBy::Typed { field: id, .. } => {
                field(id, NEEDS, see);
            }
        }
    }
}
