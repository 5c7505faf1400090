//! What would follow from something by itself, said before it is done: whom messages go to, what else changes.

use super::course;
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    fault::Checked,
    history::Op,
    intent::Intent,
};
use std::{collections::BTreeSet, sync::Arc};

/// Most of each sort that are told by name.
const NAMED: usize = 4;

impl Dataset {
    /// What automations would do if an intent were done, as it may be told to whoever asks. Nothing where nothing follows.
    ///
    /// # Errors
    /// The intent is refused.
    pub fn follows(self: &Arc<Self>, intent: &Intent, asker: Asker, clock: &Clock) -> Checked<Vec<String>> {
        // Where nothing listens, nothing is worked out.
        if !self.automations().any(|automation| automation.on) {
            return Ok(Vec::new());
        }
        let decision = self.decide(intent, asker, clock)?;
        if decision.change.ops.is_empty() {
            return Ok(Vec::new());
        }
        let moves = course(self.clone(), decision.change, None, &clock.untold());
        let mut says = Vec::new();
        let customs = clock.customs();
        // Of the team by their names; addresses outside may be out of reach of whoever asks.
        let (mut names, mut outside, mut mails) = (BTreeSet::new(), BTreeSet::new(), 0_usize);
        for mail in moves.iter().flat_map(|of| &of.runs).flat_map(|run| &run.mails) {
            mails = mails.saturating_add(1);
            match self.people.find(&mail.to) {
                Some(person) => drop(names.insert(person.name.clone())),
                None => drop(outside.insert(mail.to.clone())),
            }
        }
        if mails > 0 {
            let mut told: Vec<String> = names.iter().take(NAMED).cloned().collect();
            let more = names.len().saturating_sub(NAMED);
            if more > 0 {
                told.push(customs.count_words(more, "more person", "more people"));
            }
            if !outside.is_empty() {
                told.push(customs.count_words(outside.len(), "address outside", "addresses outside"));
            }
            let verb = if mails == 1 { "goes" } else { "go" };
            says.push(format!("{} {verb} to {}.", customs.count_words(mails, "mail", "mails"), crate::value::list_text(&told, "and")));
        }
        for of in moves.iter().skip(1) {
            let lens = Lens::new(&of.after, asker, clock);
            let mut changed = BTreeSet::new();
            for op in &of.change.ops {
                match op {
                    Op::Cell { table, record, field, .. } if lens.shows(*table, *record, *field) => {
                        changed.extend(self.table(*table).and_then(|home| home.def.field(*field)).map(|def| def.name.clone()));
                    }
                    Op::Add { table, .. } => {
                        changed.extend(self.table(*table).filter(|_| lens.opens(*table)).map(|home| format!("a new {}", home.def.one)));
                    }
                    _ => {}
                }
            }
            if !changed.is_empty() {
                let names: Vec<String> = changed.into_iter().take(NAMED).collect();
                let who = match of.runs.first().map(|run| run.source.number()).and_then(crate::id::AutomationId::new) {
                    Some(id) => self.automation(id).map_or_else(String::new, |automation| automation.name.clone()),
                    None => String::new(),
                };
                let line = format!("“{who}” changes {}.", crate::value::list_text(&names, "and"));
                if !says.contains(&line) {
                    says.push(line);
                }
            }
        }
        Ok(says)
    }
}
