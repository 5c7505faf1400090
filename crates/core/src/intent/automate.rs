//! An automation comes for records: run by hand, at one of its times, or going on after it waited.

use super::{Decider, MOST_AT_ONCE};
use crate::{
    access::{Asker, Right},
    automation::{Occasion, Replied, Waiting},
    fault::{Checked, Fault, FaultKind, Faults},
    history::{Going, Op},
    id::{AutomationId, RecordId},
};

/// Records for which an automation comes at once, where there are more of them: so nobody's edit waits long.
const LOT: usize = 200;

impl Decider<'_> {
    pub(super) fn run_by_hand(&self, id: AutomationId, records: &[RecordId]) -> Result<Op, Fault> {
        let automation = self.ds.automation(id).filter(|a| self.lens.opens(a.table)).ok_or_else(|| Fault::not_found("automation"))?;
        if !automation.on || automation.when != Occasion::Chosen {
            return Err(Fault::new(FaultKind::BadRule, format!("“{}” is not there to be run by hand, or rests.", automation.name)));
        }
        if records.is_empty() || records.len() > MOST_AT_ONCE {
            return Err(Fault::new(FaultKind::TooLong, format!("Choose from 1 to {MOST_AT_ONCE} records.")).at("/records"));
        }
        for (place, record) in records.iter().enumerate() {
            self.must(Right::Change, automation.table, *record).map_err(|fault| fault.at(format!("/records/{place}")))?;
        }
        let each: std::collections::BTreeSet<RecordId> = records.iter().copied().collect();
        Ok(Op::Go { automation: id, table: automation.table, records: each.into_iter().collect(), by: Going::Chosen })
    }

    /// An answer to a message, with what the automation may do that asked.
    pub(super) fn reply(&self, replied: &Replied) -> Checked<Vec<Op>> {
        let asked = &replied.asked;
        if self.asker != Asker::Automation(asked.automation) {
            return Err(Fault::new(FaultKind::NotAllowed, "An answer is given at its message’s link.").into());
        }
        asked.stands(self.ds, self.clock)?;
        let (words, bulk) = asked.change(&replied.given)?;
        let mut ops = vec![replied.op(words)];
        if let Some(bulk) = bulk {
            ops.extend(self.bulk(&bulk).map_err(told_to_a_reader)?);
        }
        Ok(ops)
    }

    fn by_the_clock(&self) -> Result<(), Fault> {
        match self.asker {
            Asker::Westerfall => Ok(()),
            _ => Err(Fault::new(FaultKind::NotAllowed, "Time passes by itself.")),
        }
    }

    /// The next lot of records for a time that is due; nothing where none is.
    pub(super) fn come(&self, id: AutomationId) -> Checked<Vec<Op>> {
        self.by_the_clock()?;
        let Some(automation) = self.ds.automation(id) else { return Ok(Vec::new()) };
        let Some(at) = self.ds.due(automation, self.clock.now) else { return Ok(Vec::new()) };
        let from = self.ds.came(id).and_then(|came| came.next).map_or(RecordId::FIRST, |(_, record)| record);
        let mut records = automation.comes_for(self.ds, at, self.clock);
        records.retain(|record| *record >= from);
        // One message of all of them needs all of them.
        let lot = if automation.is_gathered() { MOST_AT_ONCE } else { LOT };
        let next = records.get(lot).copied();
        records.truncate(lot);
        Ok(vec![Op::Go { automation: id, table: automation.table, records, by: Going::Time { at, next } }])
    }

    pub(super) fn go_on(&self, waiting: &Waiting) -> Checked<Vec<Op>> {
        self.by_the_clock()?;
        let (automation, table, records) = (waiting.automation, waiting.table, vec![waiting.record]);
        Ok(if waiting.is_ready(self.ds, self.clock) { vec![Op::Go { automation, table, records, by: Going::On }] } else { Vec::new() })
    }
}

/// Whoever answers is told what they can mend themselves; of the rights of whoever asked, no more than that they are gone.
fn told_to_a_reader(Faults(faults): Faults) -> Faults {
    let told = |fault: Fault| match fault.kind {
        FaultKind::NotAllowed | FaultKind::NotFound => Fault::new(
            FaultKind::NotAllowed,
            "Whoever asked this may not change it any more, so nothing has changed. Tell the team in another way.",
        ),
        _ => Fault { pointer: "/typed".into(), ..fault },
    };
    Faults(faults.into_iter().take(1).map(told).collect())
}
