//! A record as it would be added: what fits of what was said of it so far, and what does not.

use super::{Decider, gate::Landing};
use crate::{
    Clock,
    access::Asker,
    dataset::{Dataset, Table},
    fault::{Checked, Fault, Faults},
    folio::WrongInDraft,
    history::Op,
    id::{FieldId, PersonId, RecordId, TableId},
    value::Input,
};

/// What would be written if a record were added with what fits of it.
pub(crate) struct Sketched {
    pub(crate) ops: Vec<Op>,
    pub(crate) record: RecordId,
    pub(crate) wrong: Vec<WrongInDraft>,
}

impl Dataset {
    /// What would be written for a record of somebody's; what does not fit is left out of it, and named.
    ///
    /// # Errors
    /// There is no such table for them, or they may not add to it.
    pub(crate) fn sketch_record(&self, me: PersonId, clock: &Clock, table: TableId, cells: &[(FieldId, Input)]) -> Checked<Sketched> {
        let decider = Decider::new(self, Asker::Person(me), clock);
        let record = RecordId::at_row(self.table(table).map_or(0, Table::rows));
        let mut good = cells.to_vec();
        let mut wrong: Vec<WrongInDraft> = Vec::new();
        loop {
            let faults = match decider.add(table, &[good.clone()]) {
                Ok(ops) => {
                    let breaches = decider.breaches(&ops, Landing::Put);
                    if breaches.is_empty() {
                        return Ok(Sketched { ops, record, wrong });
                    }
                    breaches.into_iter().map(|breach| breach.fault.at(breach.field)).collect()
                }
                Err(Faults(faults)) => faults,
            };
            let before = good.len();
            for fault in &faults {
                let Some(place) = good.iter().position(|(field, _)| is_of(fault, *field)) else { continue };
                let (field, input) = good.remove(place);
                wrong.push(WrongInDraft { field, input: told(input), message: fault.message.clone() });
            }
            // What is wrong with none of what was said is wrong with all of it.
            if good.len() == before {
                return Err(Faults(faults));
            }
        }
    }
}

/// Something put in, as it is told again: files by their names.
fn told(input: Input) -> Input {
    match input {
        Input::Upload(files) | Input::Files(files) => {
            Input::Text(files.iter().map(|file| file.name.as_str()).collect::<Vec<_>>().join(", "))
        }
        Input::Text(_) | Input::Value(_) | Input::Again => input,
    }
}

fn is_of(fault: &Fault, field: FieldId) -> bool {
    fault.pointer.rsplit('/').next() == Some(&field.to_string())
}
