//! Out of the bin: back, or for good.

use super::{Decider, undo::EMPTIED};
use crate::{
    access::{Asker, Right},
    bin::{MOST_EMPTIED, STAYS},
    fault::{Checked, Fault, FaultKind},
    history::Op,
    id::{RecordId, TableId},
    rules::stewards_only,
};

impl Decider<'_> {
    /// Back from the bin, where one might put them there.
    pub(super) fn bring_back(&self, table: TableId, records: &[RecordId]) -> Checked<Vec<Op>> {
        let Some(home) = self.ds.table(table).filter(|_| self.lens.opens(table)) else { return Err(Fault::not_found("table").into()) };
        let mut ops = Vec::new();
        for (place, record) in records.iter().enumerate() {
            let gone = home.meta(*record).is_some_and(|meta| meta.gone);
            if !self.lens.would(Right::Remove, table, *record) || !self.lens.would(Right::Look, table, *record) {
                return Err(Fault::not_found("record").at(format!("/records/{place}")).into());
            }
            if self.ds.is_emptied(table, *record) {
                return Err(Fault::new(FaultKind::BadRule, EMPTIED).at(format!("/records/{place}")).into());
            }
            ops.extend(gone.then_some(Op::Gone { table, record: *record, gone: false }));
        }
        Ok(ops)
    }

    /// For good: by a steward at any time, by the clock once a record has lain there long enough. What is emptied already, or came back
    /// meanwhile, is passed over.
    pub(super) fn empty_out(&self, records: &[(TableId, RecordId)]) -> Checked<Vec<Op>> {
        let by_clock = self.asker == Asker::Westerfall;
        if !by_clock {
            stewards_only(&self.lens)?;
        }
        if records.len() > MOST_EMPTIED {
            let most = self.clock.customs().count_text(MOST_EMPTIED);
            return Err(Fault::new(FaultKind::TooLong, format!("At most {most} records are emptied out of the bin at once.")).into());
        }
        let due = self.clock.now.checked_sub(STAYS).unwrap_or(jiff::Timestamp::MIN);
        let lies = |(table, record): &&(TableId, RecordId)| {
            let meta = self.ds.any_table(*table).and_then(|home| home.meta(*record));
            meta.is_some_and(|meta| meta.gone && (!by_clock || meta.changed_at <= due)) && !self.ds.is_emptied(*table, *record)
        };
        Ok(records.iter().filter(lies).map(|(table, record)| Op::Empty { table: *table, record: *record }).collect())
    }
}
