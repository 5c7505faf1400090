//! What a bulk change would do, decided and thrown away.

use super::Bulk;
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    fault::Faults,
    history::Op,
    id::{FieldId, RecordId, TableId},
    intent::Intent,
    sentence::capital,
    value::Value,
    view::Query,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Most examples, and most records that are told as refused.
pub(super) const TOLD: usize = 8;

/// What changing many records would do.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BulkRehearsal {
    /// In sentences: how many change, how many stay, what leaves the view or one's sight, who else no longer sees what.
    pub says: Vec<String>,
    /// Records meant.
    pub count: usize,
    pub changed: usize,
    pub examples: Vec<BulkExample>,
    /// The first of those that can't be changed as asked; while there are any, nothing is.
    pub refused: Vec<BulkRefused>,
    /// All of them that were found; the rest was not looked at where there are many.
    pub refusals: usize,
    /// Why none of it can be done, whichever the records.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub wrong: Option<String>,
}

/// A cell before and after.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BulkExample {
    pub record: RecordId,
    pub name: String,
    pub field: String,
    pub before: String,
    pub after: String,
}

/// A record that can't be changed as asked.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BulkRefused {
    pub record: RecordId,
    pub name: String,
    pub why: String,
}

/// Tells why records can't be changed as asked: a fault names one by its place among those meant.
pub(crate) fn refused_of(told: &mut BulkRehearsal, lens: &Lens<'_>, table: TableId, records: &[RecordId], faults: &Faults) {
    let mut refused: BTreeMap<RecordId, String> = BTreeMap::new();
    for fault in &faults.0 {
        let place = fault.pointer.strip_prefix("/records/").and_then(|rest| rest.split('/').next()?.parse::<usize>().ok());
        match place.and_then(|place| records.get(place)) {
            Some(record) => drop(refused.entry(*record).or_insert_with(|| fault.message.clone())),
            None => told.wrong = told.wrong.take().or_else(|| Some(fault.message.clone())),
        }
    }
    told.refusals = refused.len();
    let name = |record| lens.record_name(table, record).map(|found| found.name).unwrap_or_default();
    told.refused = refused.into_iter().take(TOLD).map(|(record, why)| BulkRefused { record, name: name(record), why }).collect();
}

impl Bulk {
    /// What it would do. `from`: the view in which one sees the records.
    pub fn rehearse(&self, ds: &Dataset, asker: Asker, clock: &Clock, from: Option<&Query>) -> BulkRehearsal {
        let before = Lens::new(ds, asker, clock);
        let records = self.records(&before);
        let mut told = BulkRehearsal { count: records.len(), ..BulkRehearsal::default() };
        let intent = Intent::Bulk(Box::new(self.clone()));
        let decision = match ds.decide(&intent, asker, clock) {
            Ok(decision) => decision,
            Err(faults) => {
                refused_of(&mut told, &before, self.table, &records, &faults);
                return told;
            }
        };
        let mut after = ds.clone();
        let recomputed = after.apply(&decision.change);
        let now = Lens::new(&after, asker, clock);
        let mut changed: Vec<RecordId> = Vec::new();
        for op in &decision.change.ops {
            let Op::Cell { table, record, field, before: was, after: then } = op else { continue };
            if *table != self.table {
                continue;
            }
            if changed.last() != Some(record) {
                changed.push(*record);
            }
            if told.examples.len() < TOLD && before.shows(self.table, *record, *field) {
                told.examples.extend(self.example(&before, *record, *field, was, then));
            }
        }
        changed.sort_unstable();
        changed.dedup();
        told.changed = changed.len();
        told.says = self.says(&before, &now, &records, told.changed, from);
        told.says.extend(before.sights_moved(&decision.change, &recomputed, &after));
        told
    }

    fn name(&self, lens: &Lens<'_>, record: RecordId) -> String {
        lens.record_name(self.table, record).map(|record| record.name).unwrap_or_default()
    }

    fn example(&self, lens: &Lens<'_>, record: RecordId, field: FieldId, was: &Value, then: &Value) -> Option<BulkExample> {
        let def = lens.ds.table(self.table)?.def.field(field)?;
        let text = |value: &Value| lens.cell_text(self.table, field, value.as_cell());
        Some(BulkExample { record, name: self.name(lens, record), field: def.name.clone(), before: text(was), after: text(then) })
    }

    fn says(&self, before: &Lens<'_>, now: &Lens<'_>, records: &[RecordId], changed: usize, from: Option<&Query>) -> Vec<String> {
        let Some(home) = before.ds.table(self.table) else { return Vec::new() };
        let counted = |count: usize| capital(&home.def.counted(count, before.clock().customs()));
        let verb = |count: usize, one: &'static str, many: &'static str| if count == 1 { one } else { many };
        let stay = records.len().saturating_sub(changed);
        let mut says = vec![match changed {
            0 => "Nothing changes: all of it is so already.".to_owned(),
            changed => format!("{} {}.", counted(changed), verb(changed, "changes", "change")),
        }];
        if stay > 0 && changed > 0 {
            says.push(format!(
                "{} {} so already, or {} nothing to change.",
                counted(stay),
                verb(stay, "is", "are"),
                verb(stay, "holds", "hold")
            ));
        }
        let lost = records.iter().filter(|record| before.sees(self.table, **record) && !now.sees(self.table, **record)).count();
        if lost > 0 {
            says.push(format!("{} {} out of your sight.", counted(lost), verb(lost, "goes", "go")));
        }
        if let Some(query) = from {
            let (was, is) = (query.condition.matching(before, self.table), query.condition.matching(now, self.table));
            let left = records.iter().filter(|r| was.contains(r.row()) && !is.contains(r.row()) && now.sees(self.table, **r)).count();
            if left > 0 {
                says.push(format!("{} {} this view, which leaves out what it is then.", counted(left), verb(left, "leaves", "leave")));
            }
        }
        says
    }
}
