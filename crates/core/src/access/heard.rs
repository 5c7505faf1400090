//! What an asker hears of a change: nothing of what the lens does not give, not even that something happened.

use super::{Extent, Lens};
use crate::{
    dataset::Recomputed,
    history::{Change, Op, Part},
    id::{RecordId, TableId},
};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// Most records that are named of one bulk step: screens read again what they show anyhow.
const HEARD_AT_ONCE: usize = 100;

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
    ///
    /// `change` is none where only time has passed.
    pub fn of(change: Option<&Change>, recomputed: &Recomputed, before: &Lens<'_>, after: &Lens<'_>) -> Option<Self> {
        Self::of_all(&[(change, recomputed)], before, after)
    }

    /// The same of several changes, one after the other, told together.
    pub fn of_all(changes: &[(Option<&Change>, &Recomputed)], before: &Lens<'_>, after: &Lens<'_>) -> Option<Self> {
        let mut heard = Heard { seq: after.ds.seq, ..Heard::default() };
        for (change, recomputed) in changes {
            heard.hear_computed(recomputed, before, after);
            if let Some(change) = change {
                heard.hear_change(change, before, after);
            }
        }
        heard.if_anything()
    }

    fn hear_change(&mut self, change: &Change, before: &Lens<'_>, after: &Lens<'_>) {
        let heard = self;
        let seen = |table, record| before.sees(table, record) || after.sees(table, record);
        for op in &change.ops {
            match op {
                Op::Add { table, record }
                | Op::Gone { table, record, .. }
                | Op::Press { table, record, .. }
                | Op::Arrive { table, record, .. } => {
                    if seen(*table, *record) {
                        heard.records.entry(*table).or_default().insert(*record);
                    }
                }
                Op::Cell { table, record, field, .. } => {
                    if seen(*table, *record) && (after.shows(*table, *record, *field) || before.shows(*table, *record, *field)) {
                        heard.records.entry(*table).or_default().insert(*record);
                    }
                    heard.access |= before.sees(*table, *record) != after.sees(*table, *record) || after.depends_on(*field);
                }
                Op::Rows(_) | Op::Bin { .. } | Op::Fill { .. } => {
                    let Some((table, records)) = op.records() else { continue };
                    let shown = if let Op::Fill { field, .. } = op { after.shown(table, *field) } else { Extent::Everywhere };
                    let heard_of = records.into_iter().filter(|r| shown.holds(r.row()) && seen(table, *r)).take(HEARD_AT_ONCE);
                    heard.records.entry(table).or_default().extend(heard_of);
                    heard.records.retain(|_, records| !records.is_empty());
                    heard.access |= matches!(op, Op::Fill { field, .. } if after.depends_on(*field));
                }
                Op::Put { before: old, after: new } => {
                    for part in old.iter().chain(new) {
                        heard.hear_part(part, before, after);
                    }
                }
                Op::Count { .. } | Op::Turned { .. } => {}
            }
        }
    }

    fn if_anything(self) -> Option<Self> {
        (self.structure || self.access || !self.records.is_empty()).then_some(self)
    }

    /// Computed cells that moved, where the asker saw one of the two values: nothing is heard of what is withheld.
    fn hear_computed(&mut self, recomputed: &Recomputed, before: &Lens<'_>, after: &Lens<'_>) {
        let mut at = None;
        for (table, field, record) in &recomputed.cells {
            if at.as_ref().is_none_or(|(f, _, _)| f != field) {
                at = Some((*field, before.reader(*table, *field), after.reader(*table, *field)));
                self.access |= after.depends_on(*field);
            }
            let Some((_, old, new)) = &at else { continue };
            let changed = old.cell(record.row()) != new.cell(record.row());
            if changed && (before.sees(*table, *record) || after.sees(*table, *record)) {
                self.records.entry(*table).or_default().insert(*record);
            }
        }
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
