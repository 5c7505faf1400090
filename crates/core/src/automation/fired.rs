//! What a change sets going.

use super::{Automation, Move, Occasion};
use crate::{
    Clock,
    access::Lens,
    condition::Condition,
    dataset::Dataset,
    history::{Going, Op},
    id::{AutomationId, FieldId, RecordId, TableId},
    people::Actor,
    schema::Kind,
    value::{Value, plus_days},
};
use jiff::civil::Date;
use std::collections::{BTreeMap, BTreeSet};

/// An automation that is set going, and the record it is about.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Fired {
    pub automation: AutomationId,
    pub record: RecordId,
    /// Whether its condition is still to be asked.
    pub asks: bool,
}

/// The cells that are others than before, by their records.
struct Moved<'m> {
    cells: BTreeMap<(TableId, RecordId), BTreeSet<FieldId>>,
    added: BTreeSet<(TableId, RecordId)>,
    of: &'m Move,
}

/// Everything that a change sets going, worked out on the tracker before and after it.
pub(super) fn fired(of: &Move, clock: &Clock) -> Vec<Fired> {
    let (after, change) = (&*of.after, &of.change);
    // A record brought back by undoing is not a record that came.
    if change.undoes.is_some() {
        return Vec::new();
    }
    let asked = |(record, automation): (RecordId, &Automation)| Fired { automation: automation.id, record, asks: true };
    let by_button = |op: &Op| match op {
        Op::Press { table, record, field } => Some((*record, after.button(*table, *field)?)),
        _ => None,
    };
    let pressed = change.ops.iter().filter_map(by_button).map(asked);
    let waits = |table, record, id| after.arrival(table, record).is_some_and(|a| a.awaits.contains(&id));
    // One that waited for a record to be complete and left waits no more.
    let ready = |op: &Op| match op {
        Op::Arrive { table, record, before: Some(before), .. } => {
            let (table, record) = (*table, *record);
            let ready = before.awaits.iter().copied().filter(|id| !waits(table, record, *id)).collect::<Vec<_>>();
            ready.into_iter().filter_map(|id| after.automation(id).filter(|a| a.on)).map(|a| (record, a)).collect()
        }
        _ => Vec::new(),
    };
    let ready = change.ops.iter().flat_map(ready).map(asked);
    let added = change.ops.iter().filter(|op| matches!(op, Op::Add { .. })).filter_map(Op::record);
    let came = added.flat_map(|(table, record)| {
        let fitting = move |a: &&Automation| a.on && a.table == table && a.when.is(change.who) && !waits(table, record, a.id);
        after.automations().filter(fitting).map(move |a| asked((record, a)))
    });
    // Of a time its condition was asked when its records were found; what somebody chose is asked now.
    let gone = change.ops.iter().flat_map(|op| match op {
        Op::Go { automation, records, by, .. } if *by != Going::On => {
            let asks = *by == Going::Chosen;
            records.iter().map(|record| Fired { automation: *automation, record: *record, asks }).collect()
        }
        _ => Vec::new(),
    });
    came.chain(ready).chain(pressed).chain(gone).chain(by_cells(of, clock)).collect()
}

/// What is set going by cells that became others.
fn by_cells(of: &Move, clock: &Clock) -> Vec<Fired> {
    let listens = |a: &&Automation| a.on && matches!(a.when, Occasion::Changed(_) | Occasion::Fits);
    let listening: Vec<&Automation> = of.after.automations().filter(listens).collect();
    // What brings many records at once, or changes the structure, sets nothing going.
    let quiet = |op: &Op| matches!(op, Op::Rows(_) | Op::Fill { .. } | Op::Put { .. } | Op::Bin { .. });
    if listening.is_empty() || of.change.ops.iter().any(quiet) {
        return Vec::new();
    }
    let moved = Moved::of(of);
    let mut all = Vec::new();
    for automation in listening {
        let records = match &automation.when {
            Occasion::Changed(fields) => moved.changed(automation.table, fields),
            _ => moved.begin_to_fit(automation, clock),
        };
        let asks = matches!(automation.when, Occasion::Changed(_));
        all.extend(records.into_iter().map(|record| Fired { automation: automation.id, record, asks }));
    }
    all
}

impl Move {
    /// The day that ended with it, where one did.
    fn turned(&self) -> Option<Date> {
        self.change.ops.iter().find_map(|op| if let Op::Turned { from, .. } = op { Some(*from) } else { None })
    }

    /// When it was still as before: where a day ended with it, that day's last second.
    pub(super) fn then(&self, clock: &Clock) -> Clock {
        let end_of = |day| plus_days(day, 1).and_then(|day| day.to_zoned(self.before.zone().clone()).ok()).map(|at| at.timestamp());
        let then = self.turned().and_then(end_of).and_then(|at| at.checked_sub(jiff::SignedDuration::from_secs(1)).ok());
        Clock { now: then.unwrap_or(clock.now), ..clock.untold() }
    }
}

impl<'m> Moved<'m> {
    fn of(of: &'m Move) -> Self {
        let mut moved = Moved { cells: BTreeMap::new(), added: BTreeSet::new(), of };
        for op in &of.change.ops {
            match op {
                Op::Add { table, record } => drop(moved.added.insert((*table, *record))),
                Op::Cell { table, record, field, before, after } if before != after => {
                    moved.note(*table, *record, *field);
                    // The other side of a link moves with it.
                    let link = of.after.table(*table).and_then(|home| home.link(*field));
                    let ends = [before, after].into_iter().flat_map(|value| if let Value::Links(l) = value { l.as_slice() } else { &[] });
                    if let Some(link) = link {
                        ends.for_each(|end| moved.note(link.to, *end, link.back));
                    }
                }
                _ => {}
            }
        }
        of.recomputed.cells.iter().for_each(|(table, field, record)| moved.note(*table, *record, *field));
        moved
    }

    fn note(&mut self, table: TableId, record: RecordId, field: FieldId) {
        self.cells.entry((table, record)).or_default().insert(field);
    }

    /// Whether a record was there before, is there, and is not being typed cell by cell.
    fn stands(&self, table: TableId, record: RecordId) -> bool {
        let after = &self.of.after;
        let live = after.table(table).is_some_and(|home| home.is_live(record));
        live && after.arrival(table, record).is_none_or(|a| a.awaits.is_empty())
    }

    /// The records of which one of these fields is another than before; of which any that people fill in, where none is named.
    fn changed(&self, table: TableId, fields: &[FieldId]) -> Vec<RecordId> {
        let filled_in = |field: &FieldId| self.of.after.field(*field).is_some_and(|(_, def)| def.kind.takes_input());
        let names = |cells: &BTreeSet<FieldId>| match fields {
            [] => cells.iter().any(filled_in),
            named => named.iter().any(|field| cells.contains(field)),
        };
        let of_table = self.cells.range((table, RecordId::FIRST)..=(table, RecordId::LAST));
        let changed = of_table.filter(|(_, cells)| names(cells)).map(|((_, record), _)| *record);
        changed.filter(|record| !self.added.contains(&(table, *record)) && self.stands(table, *record)).collect()
    }

    /// The records for which a condition did not hold before and holds now.
    fn begin_to_fit(&self, automation: &Automation, clock: &Clock) -> Vec<RecordId> {
        let table = automation.table;
        let condition = &automation.condition;
        let turned = self.of.turned();
        let then = self.of.then(clock);
        let (before, after) = (Lens::of_everything(&self.of.before, None, &then), Lens::of_everything(&self.of.after, None, clock));
        let fits_now = |record: &RecordId| self.stands(table, *record) && condition.holds(&after, table, *record);
        let fitted = |record: &RecordId| {
            let was = self.of.before.table(table).is_some_and(|home| home.is_live(*record));
            was && condition.holds(&before, table, *record)
        };
        if turned.is_some() && condition.hangs_on_the_day() {
            // Any record of the table may: it is asked of whole columns, before and after.
            let (then, now) = (condition.matching(&before, table), condition.matching(&after, table));
            let begun = now.ones().filter(|row| !then.contains(*row)).map(RecordId::at_row);
            return begun.filter(|record| self.stands(table, *record)).collect();
        }
        self.touching(table, condition).into_iter().filter(|record| fits_now(record) && !fitted(record)).collect()
    }

    /// The records of a table for which a condition may have come out otherwise: those that moved, and those that reach what moved.
    fn touching(&self, table: TableId, condition: &Condition) -> BTreeSet<RecordId> {
        let mut found: BTreeSet<RecordId> = self.added.iter().filter(|(t, _)| *t == table).map(|(_, record)| *record).collect();
        for test in condition.tests() {
            // The tables on the way, each with the field that is asked there.
            let mut way: Vec<(TableId, FieldId)> = Vec::new();
            let mut at = Some(table);
            for field in &test.path {
                let Some(here) = at else { break };
                way.push((here, *field));
                at = self.of.after.table(here).and_then(|home| home.link(*field)).map(|link| link.to);
            }
            for (depth, (here, field)) in way.iter().enumerate() {
                let moved = self.cells.range((*here, RecordId::FIRST)..=(*here, RecordId::LAST));
                let moved = moved.filter(|(_, cells)| cells.contains(field)).map(|((_, record), _)| *record);
                let mut records: BTreeSet<RecordId> = moved.collect();
                for (from, link) in way[..depth].iter().rev() {
                    records = back(&self.of.after, *from, *link, &records);
                }
                found.extend(records);
            }
        }
        found
    }
}

/// The records of a table that link to some others.
fn back(ds: &Dataset, from: TableId, field: FieldId, records: &BTreeSet<RecordId>) -> BTreeSet<RecordId> {
    let Some(link) = ds.table(from).and_then(|home| home.link(field)) else { return BTreeSet::new() };
    let column = ds.table(link.to).and_then(|home| home.column(link.back));
    column.map_or_else(BTreeSet::new, |column| records.iter().flat_map(|record| column.links(record.row()).to_vec()).collect())
}

impl Dataset {
    /// The automation that a button runs, where there is one and it is on.
    pub fn button(&self, table: TableId, field: FieldId) -> Option<&Automation> {
        match self.table(table)?.def.field(field)?.kind {
            Kind::Button { automation: Some(id), .. } => {
                self.automation(id).filter(|a| a.on && a.table == table && a.when == Occasion::Pressed)
            }
            _ => None,
        }
    }
}

impl Occasion {
    fn is(&self, who: Actor) -> bool {
        match (self, who) {
            (Occasion::Form(wanted), Actor::Form(form)) => wanted.is_none_or(|w| w == form),
            (Occasion::Added, Actor::Person(_)) => true,
            _ => false,
        }
    }
}
