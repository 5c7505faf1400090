//! What an asker hears of a change: nothing of what the lens does not give, not even that something happened.

use super::Lens;
use crate::{
    history::{Change, Op, Part},
    id::{RecordId, TableId},
};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// What there is to hear of one change. Screens read again what they show; this only says when and why.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Heard {
    pub seq: u64,
    /// Records in sight before or after that were touched.
    pub records: BTreeMap<TableId, BTreeSet<RecordId>>,
    /// Tables, views, forms or automations changed.
    pub structure: bool,
    /// What the asker may see changed.
    pub access: bool,
}

impl Heard {
    /// What an asker hears, given what they saw before and after. None: nothing at all.
    pub fn of(change: &Change, before: &Lens<'_>, after: &Lens<'_>) -> Option<Self> {
        let mut heard = Heard { seq: change.seq, ..Heard::default() };
        let seen = |table, record| before.sees(table, record) || after.sees(table, record);
        for op in &change.ops {
            match op {
                Op::Add { table, record } | Op::Gone { table, record, .. } => {
                    if seen(*table, *record) {
                        heard.records.entry(*table).or_default().insert(*record);
                    }
                }
                Op::Cell { table, record, field, .. } => {
                    if seen(*table, *record) && after.reads(*table, *field) {
                        heard.records.entry(*table).or_default().insert(*record);
                    }
                    heard.access |= before.sees(*table, *record) != after.sees(*table, *record) || after.depends_on(*field);
                }
                Op::Put { before: old, after: new } => {
                    for part in old.iter().chain(new) {
                        heard.hear_part(part, before, after);
                    }
                }
                Op::Count { .. } => {}
            }
        }
        (heard.structure || heard.access || !heard.records.is_empty()).then_some(heard)
    }

    fn hear_part(&mut self, part: &Part, before: &Lens<'_>, after: &Lens<'_>) {
        let opens = |table| before.opens(table) || after.opens(table);
        match part {
            Part::Tracker(_) => self.structure = true,
            Part::Table(table) => self.structure |= opens(table.id),
            Part::View(view) => self.structure |= opens(view.table) && view.owner.is_none_or(|owner| after.me() == Some(owner)),
            Part::Form(_) | Part::Automation(_) => self.structure |= after.builds(),
            Part::Role(role) => {
                self.access |= after.me().is_none_or(|me| role.members.contains(&me));
                self.structure |= after.is_steward();
            }
        }
    }
}
