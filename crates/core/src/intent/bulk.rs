//! Many records changed at once, as one step: all of them or none.

use super::{Decider, Edit, REFUSED};
use crate::{
    access::{Asker, Right},
    bulk::{Alter, Bulk, MOST, MOST_FIELDS},
    fault::{Checked, Fault, FaultKind, Faults},
    history::Op,
    id::RecordId,
    value::Input,
};

/// Most bytes of texts that are put in at once, in all records together.
const MOST_TEXT: usize = 50_000_000;

impl Decider<'_> {
    pub(super) fn bulk(&self, bulk: &Bulk) -> Checked<Vec<Op>> {
        let home = self.ds.table(bulk.table).filter(|_| self.lens.opens(bulk.table)).ok_or_else(|| Fault::not_found("table"))?;
        let records = bulk.records(&self.lens);
        if records.len() > MOST {
            let count = self.clock.customs().count_text(records.len());
            return Err(Fault::new(FaultKind::TooLong, format!("At most {MOST} records are changed at once; these are {count}.")).into());
        }
        if bulk.alter.is_empty() || bulk.alter.len() > MOST_FIELDS {
            return Err(Fault::new(FaultKind::BadRule, format!("Say which fields become what: one to {MOST_FIELDS} of them."))
                .at("/alter")
                .into());
        }
        for (place, one) in bulk.alter.iter().enumerate() {
            // Worked out for each of many, of any record that it names: that is for what builders write.
            if matches!(one.to, Alter::Formula(_)) && !matches!(self.asker, Asker::Automation(_)) {
                let message = "Only an automation works a field out by a formula.";
                return Err(Fault::new(FaultKind::NotAllowed, message).at(format!("/alter/{place}")).into());
            }
            let Some(def) = home.def.field(one.field).filter(|def| self.lens.reads(bulk.table, def.id)) else {
                return Err(Fault::not_found("field").at(format!("/alter/{place}")).into());
            };
            if home.link(one.field).is_some_and(|link| !link.holds) && records.len() > 1 {
                let message = format!("“{}” is kept at the other records, so that it is changed one record at a time.", def.name);
                return Err(Fault::new(FaultKind::BadRule, message).at(format!("/alter/{place}")).into());
            }
        }
        let letters = bulk.alter.iter().map(|one| if let Alter::Set(Input::Text(text)) = &one.to { text.len() } else { 0 }).sum::<usize>();
        if letters.saturating_mul(records.len()) > MOST_TEXT {
            let message = "That is too much text for so many records at once. Take fewer of them, or a shorter text.";
            return Err(Fault::new(FaultKind::TooLong, message).at("/alter").into());
        }
        let (mut ops, mut faults) = (Vec::new(), Vec::new());
        for (place, record) in records.iter().enumerate() {
            match self.altered(bulk, *record) {
                Ok(found) => ops.extend(found),
                Err(Faults(wrong)) => faults.extend(
                    wrong.into_iter().take(1).map(|fault| Fault { pointer: String::new(), ..fault }.at(format!("/records/{place}"))),
                ),
            }
            if faults.len() >= REFUSED {
                break;
            }
        }
        Faults::none_or(faults)?;
        Ok(ops)
    }

    fn altered(&self, bulk: &Bulk, record: RecordId) -> Checked<Vec<Op>> {
        // Asked first: whether there is anything to change tells of what stands there.
        self.must(Right::Change, bulk.table, record)?;
        let mut edits = Vec::new();
        for one in &bulk.alter {
            let Some(def) = self.ds.table(bulk.table).and_then(|home| home.def.field(one.field)) else { continue };
            let input = one.to.input(&self.lens, bulk.table, record, def)?;
            edits.extend(input.map(|input| Edit { field: one.field, input, was: None }));
        }
        if edits.is_empty() { Ok(Vec::new()) } else { self.edit(bulk.table, record, &edits) }
    }
}
