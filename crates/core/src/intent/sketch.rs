//! A record as it would be added: what fits of what was said of it so far, and what does not.

use super::{Decider, NewLine, NewRecord, gate::Landing};
use crate::{
    Clock,
    access::Asker,
    dataset::Dataset,
    fault::{Checked, Fault, Faults},
    folio::{DraftedLine, WrongInDraft},
    history::Op,
    id::{FieldId, PersonId, RecordId, TableId},
    value::Input,
};

/// What would be written if a record were added with what fits of it.
pub(crate) struct Sketched {
    pub(crate) ops: Vec<Op>,
    pub(crate) record: RecordId,
    pub(crate) wrong: Vec<WrongInDraft>,
    pub(crate) lines: Vec<DraftedLine>,
}

/// What was put in that fits, and what does not.
type Fitting = (Vec<(FieldId, Input)>, Vec<WrongInDraft>);

impl Dataset {
    /// What would be written for a record of somebody's; what does not fit is left out of it, and named.
    ///
    /// # Errors
    /// There is no such table for them, or they may not add to it.
    pub(crate) fn sketch_record(&self, me: PersonId, clock: &Clock, new: &NewRecord) -> Checked<Sketched> {
        let decider = Decider::new(self, Asker::Person(me), clock);
        let home = self.table(new.table).ok_or_else(|| Fault::not_found("table"))?;
        let (cells, wrong) = decider.fitting(new.table, &new.cells)?;
        let mut fits = NewRecord { table: new.table, cells, lines: Vec::new() };
        let mut wrongs = Vec::with_capacity(new.lines.len());
        for line in &new.lines {
            let fitting =
                decider.link_of_lines(home, line.under).map_err(Faults::from).and_then(|link| decider.fitting(link.to, &line.cells));
            wrongs.push(fitting.map(|(cells, wrong)| {
                fits.lines.push(NewLine { under: line.under, cells });
                wrong
            }));
        }
        let mut at = decider.lines_at(&fits)?.into_iter();
        let stands = |wrong: Checked<Vec<WrongInDraft>>| match wrong {
            Ok(wrong) => DraftedLine { at: at.next().ok_or_else(|| Fault::not_found("field")), wrong },
            Err(Faults(faults)) => {
                DraftedLine { at: Err(faults.into_iter().next().unwrap_or_else(|| Fault::not_found("field"))), wrong: Vec::new() }
            }
        };
        let lines = wrongs.into_iter().map(stands).collect();
        Ok(Sketched { ops: decider.add_whole(&fits)?, record: RecordId::at_row(home.rows()), wrong, lines })
    }
}

impl Decider<'_> {
    /// What of a new record fits.
    fn fitting(&self, table: TableId, cells: &[(FieldId, Input)]) -> Checked<Fitting> {
        let mut good = cells.to_vec();
        let mut wrong: Vec<WrongInDraft> = Vec::new();
        loop {
            let faults = match self.add(table, std::slice::from_ref(&good)) {
                Ok(ops) => {
                    let breaches = self.breaches(&ops, Landing::Put);
                    if breaches.is_empty() {
                        return Ok((good, wrong));
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
