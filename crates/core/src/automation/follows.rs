//! What would follow from something by itself, said before it is done: whom messages go to, what else changes.

use super::{Automation, Occasion, Run, Source, letter::count_words, paced_course};
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    fault::Checked,
    history::Op,
    id::{AutomationId, FieldId},
    intent::Intent,
    pace::Pace,
    people::Channel,
};
use std::{collections::BTreeSet, sync::Arc};

/// Most of each sort that are told by name.
const NAMED: usize = 4;

/// Of which automations it is said.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Told {
    /// Of all: somebody asked what would follow.
    Asked,
    /// Not of those of which the tracker says nothing before a press.
    Unasked,
}

impl Dataset {
    /// What automations would do if an intent were done, as it may be told to whoever asks. Nothing where nothing follows, and where
    /// nobody waits for it any more; unasked, that it is too much.
    ///
    /// # Errors
    /// The intent is refused.
    pub fn follows(self: &Arc<Self>, intent: &Intent, told: Told, asker: Asker, clock: &Clock, pace: &dyn Pace) -> Checked<Vec<String>> {
        let says_of = |automation: &Automation| told == Told::Asked || !automation.unsaid;
        // Where nothing listens, nothing is worked out.
        if !self.automations().any(|automation| automation.on && says_of(automation)) {
            return Ok(Vec::new());
        }
        let said = |run: &&Run| run.automation().and_then(|id| self.automation(id)).is_none_or(says_of);
        let decision = self.decide(intent, asker, clock)?;
        if decision.change.ops.is_empty() {
            return Ok(Vec::new());
        }
        let Ok(moves) = paced_course(self.clone(), decision.change, None, &clock.untold(), pace) else {
            let much = "More follows from it than can be said beforehand.".to_owned();
            return Ok(if told == Told::Unasked { vec![much] } else { Vec::new() });
        };
        let mut says = Vec::new();
        let customs = clock.customs();
        // Of the team by their names; addresses outside may be out of reach of whoever asks.
        let (mut names, mut outside, mut ways) = (BTreeSet::new(), BTreeSet::new(), Vec::new());
        for message in moves.iter().flat_map(|of| &of.runs).filter(said).flat_map(|run| &run.mails) {
            ways.push(message.by);
            let of_the_team = message.person.and_then(|id| self.people.get(id)).or_else(|| self.people.find(&message.to));
            match of_the_team {
                Some(person) => drop(names.insert(person.name.clone())),
                None if !message.outside => drop(names.insert(message.to_name.clone())),
                None => drop(outside.insert(message.to.clone())),
            }
        }
        if !ways.is_empty() {
            let mut told: Vec<String> = names.iter().take(NAMED).cloned().collect();
            let more = names.len().saturating_sub(NAMED);
            if more > 0 {
                told.push(customs.count_words(more, "more person", "more people"));
            }
            if !outside.is_empty() {
                let phones = ways.iter().all(|by| *by == Channel::Text);
                let (one, many) = if phones { ("number outside", "numbers outside") } else { ("address outside", "addresses outside") };
                told.push(customs.count_words(outside.len(), one, many));
            }
            let verb = if ways.len() == 1 { "goes" } else { "go" };
            says.push(format!("{} {verb} to {}.", count_words(ways.into_iter(), customs), crate::value::list_text(&told, "and")));
        }
        let called = moves.iter().flat_map(|of| &of.runs).filter(said).filter_map(|run| run.paused.as_ref()?.call.as_ref());
        let called = called.count();
        if called > 0 {
            let verb = if called == 1 { "is" } else { "are" };
            says.push(format!("{} {verb} called.", customs.count_words(called, "web address", "web addresses")));
        }
        for of in moves.iter().skip(1).filter(|of| of.runs.iter().all(|run| said(&run))) {
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
                let by = of.runs.first().and_then(Run::automation).and_then(|id| self.automation(id));
                let who = by.map_or_else(String::new, |automation| automation.name.clone());
                let line = format!("“{who}” changes {}.", crate::value::list_text(&names, "and"));
                if !says.contains(&line) {
                    says.push(line);
                }
            }
        }
        Ok(says)
    }
    /// The fields into which something may be put that sets an automation going, by itself or by what is computed from it: where one
    /// is filled in, it is worth asking what follows. Those of which nothing is said beforehand do not count.
    pub fn sets_going(&self) -> BTreeSet<FieldId> {
        let mut fields = BTreeSet::new();
        for automation in self.automations().filter(|automation| automation.on && !automation.unsaid) {
            let home = automation.table;
            let heard: BTreeSet<FieldId> = match &automation.when {
                Occasion::Changed(named) if named.is_empty() => {
                    let all = self.table(home).map(|home| &home.def.fields[..]).unwrap_or_default();
                    fields.extend(all.iter().filter(|def| def.kind.takes_input()).map(|def| def.id));
                    continue;
                }
                Occasion::Changed(named) => named.iter().copied().collect(),
                Occasion::Fits => automation.condition.tests().into_iter().flat_map(|test| test.path.clone()).collect(),
                _ => continue,
            };
            for field in heard {
                fields.insert(field);
                fields.extend(self.field(field).into_iter().flat_map(|(at, _)| self.draws_on(at.def.id, field)));
            }
        }
        // Of a link either side may be filled in.
        let back = |field: &FieldId| Some(self.field(*field)?.0.link(*field)?.back);
        let backs: Vec<FieldId> = fields.iter().filter_map(back).collect();
        fields.extend(backs);
        fields
    }
}

impl Run {
    /// The automation it is a run of; none: a form's copy of an answer.
    pub fn automation(&self) -> Option<AutomationId> {
        if let Source::Automation(id) = self.source { Some(id) } else { None }
    }
}
