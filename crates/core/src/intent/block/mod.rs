//! A block of cells, put where somebody points: over records that are there, and as new ones beneath. Read cell by cell first, so
//! that it can be told what would not fit before anything is done.

mod named;

use super::{Decider, Edit, Intent};
use crate::{
    Clock,
    access::{Asker, Lens, Right},
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
    history::Op,
    id::{FieldId, RecordId, TableId},
    value::{Customs, Input, Value},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Most cells of one block.
pub const MOST_CELLS: usize = 100_000;
/// Most cells that do not fit that are told.
const WRONG_TOLD: usize = 40;

/// A block of cells.
#[derive(Clone, Debug)]
pub struct Block {
    pub table: TableId,
    /// The records that it is put over, the first row first. Rows beyond them become records of their own.
    pub records: Vec<RecordId>,
    /// The fields that it is put over, the first column first. Columns beyond them are left out.
    pub fields: Vec<FieldId>,
    /// Row by row; none: the cell stays as it is.
    pub cells: Vec<Vec<Option<Input>>>,
    /// What one saw in the cells that it is put over, as far as one did: where something else stands there by now, that is told.
    pub was: Vec<Vec<Option<Value>>>,
    /// What does not fit stays out; otherwise all of it is put in, or nothing.
    pub leave_out: bool,
    /// Options and linked records that are named in it and not there yet are made.
    pub make: bool,
}

/// What putting a block in would do.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BlockRehearsal {
    /// In sentences.
    pub says: Vec<String>,
    /// Cells that would hold something else.
    pub changed: usize,
    /// Records that would be added.
    pub added: usize,
    /// What is named and not there yet, and would be made where that is wanted: a sentence each.
    pub missing: Vec<String>,
    /// Cells that do not fit, and the first of them.
    pub unfit: usize,
    pub wrong: Vec<WrongCell>,
    /// Why even what fits can't be put in.
    pub refused: String,
}

/// A cell of a block that does not fit.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WrongCell {
    /// Its row in the block, from 1.
    pub row: usize,
    pub field: String,
    /// As it was sent.
    pub text: String,
    pub why: String,
}

/// A block, with what of it fits.
struct Sorted {
    /// Of each row, what fits.
    rows: Vec<Vec<Edit>>,
    /// What does not, with its row and column.
    wrong: Vec<(usize, usize, Fault)>,
}

impl Decider<'_> {
    /// The operations that put a block in.
    pub(super) fn block(&self, block: &Block) -> Checked<Vec<Op>> {
        let (resolved, gone) = self.resolved(block);
        if !block.make || gone.is_empty() {
            return self.put_in(&resolved);
        }
        let mut ops = self.make_missing(block.table, &gone)?;
        let after = self.stands_after(&ops)?;
        let then = Decider::new(&after, self.asker, self.clock);
        ops.extend(then.put_in(&then.resolved(block).0)?);
        Ok(ops)
    }

    /// The same, where all that it names is there.
    fn put_in(&self, block: &Block) -> Checked<Vec<Op>> {
        let Sorted { rows, wrong } = self.sorted(block)?;
        if !block.leave_out {
            let faults = wrong.into_iter().map(|(row, column, fault)| fault.at(format!("/cells/{row}/{column}")));
            Faults::none_or(faults.take(super::FAULTS_TOLD).collect())?;
        }
        let mut ops = Vec::new();
        for (record, cells) in block.records.iter().zip(&rows) {
            if !cells.is_empty() {
                ops.extend(self.edit(block.table, *record, cells)?);
            }
        }
        let new = rows.into_iter().skip(block.records.len()).filter(|cells| !cells.is_empty());
        let new: Vec<Vec<(FieldId, Input)>> =
            new.map(|cells| cells.into_iter().map(|Edit { field, input, .. }| (field, input)).collect()).collect();
        if !new.is_empty() {
            ops.extend(self.add(block.table, &new)?);
        }
        Ok(ops)
    }

    /// Reads each cell by itself.
    fn sorted(&self, block: &Block) -> Checked<Sorted> {
        let (table, columns) = (block.table, block.fields.len());
        let home = self.ds.table(table).filter(|_| self.lens.opens(table)).ok_or_else(|| Fault::not_found("table"))?;
        let cells: usize = block.cells.iter().map(|row| row.len().min(columns)).sum();
        if cells > MOST_CELLS {
            let message = format!(
                "This is {} cells; at most {} are put in at once. Bring so much as a file instead.",
                Customs::default().count_text(cells),
                Customs::default().count_text(MOST_CELLS)
            );
            return Err(Fault::new(FaultKind::TooLong, message).into());
        }
        let twice = BTreeSet::from_iter(&block.records).len() < block.records.len();
        if twice || BTreeSet::from_iter(&block.fields).len() < columns {
            return Err(Fault::new(FaultKind::BadRule, "A block is put over each record and each field once.").into());
        }
        let several = block.cells.len() > 1;
        let elsewhere = |field: FieldId| several && home.link(field).is_some_and(|link| !link.holds);
        // Where nothing may be added, each cell beneath says so.
        let no_adding =
            (block.cells.len() > block.records.len()).then(|| self.add(table, &[]).err().and_then(|mut faults| faults.0.pop())).flatten();
        let mut sorted = Sorted { rows: Vec::with_capacity(block.cells.len()), wrong: Vec::new() };
        for (row, cells) in block.cells.iter().enumerate() {
            let record = block.records.get(row).copied();
            let refused = record.and_then(|record| self.must(Right::Change, table, record).err());
            let refused = refused.or_else(|| no_adding.clone().filter(|_| record.is_none()));
            let mut fits = Vec::new();
            for (column, (input, field)) in cells.iter().zip(&block.fields).enumerate() {
                let Some(input) = input else { continue };
                let is_new_and_empty = record.is_none() && is_nothing(input);
                if is_new_and_empty {
                    continue;
                }
                let at = record.unwrap_or_else(|| RecordId::at_row(home.rows()));
                let read = match (&refused, elsewhere(*field)) {
                    (Some(fault), _) => Err(fault.clone()),
                    (None, true) => {
                        let message = "This link is kept at the other records, so that it is changed one record at a time.";
                        Err(Fault::new(FaultKind::BadRule, message))
                    }
                    (None, false) => self.cell(table, at, *field, input, block.was(row, column), record.is_none()).map(drop),
                };
                match read {
                    Ok(()) => fits.push(Edit { field: *field, input: input.clone(), was: block.was(row, column).cloned() }),
                    Err(fault) => sorted.wrong.push((row, column, fault)),
                }
            }
            sorted.rows.push(fits);
        }
        Ok(sorted)
    }
}

fn is_nothing(input: &Input) -> bool {
    match input {
        Input::Text(text) => text.trim().is_empty(),
        Input::Value(value) => *value == Value::Empty,
        Input::Again | Input::Upload(_) | Input::Files(_) => false,
    }
}

impl Block {
    fn was(&self, row: usize, column: usize) -> Option<&Value> {
        self.was.get(row)?.get(column)?.as_ref().filter(|_| row < self.records.len())
    }

    /// What putting it in would do: decided and thrown away.
    ///
    /// # Errors
    /// The table is not open, or the block is none.
    pub fn rehearse(&self, ds: &Dataset, asker: Asker, clock: &Clock) -> Checked<BlockRehearsal> {
        let decider = Decider::new(ds, asker, clock);
        let (resolved, gone) = decider.resolved(self);
        let made =
            if self.make && !gone.is_empty() { Some(decider.stands_after(&decider.make_missing(self.table, &gone)?)?) } else { None };
        let sorted = match &made {
            Some(after) => {
                let then = Decider::new(after, asker, clock);
                then.sorted(&then.resolved(self).0)?
            }
            None => decider.sorted(&resolved)?,
        };
        let lens = Lens::new(ds, asker, clock);
        let customs = clock.customs();
        let Some(def) = ds.table(self.table).map(|home| &home.def) else { return Err(Fault::not_found("table").into()) };
        let mut told = BlockRehearsal { unfit: sorted.wrong.len(), ..BlockRehearsal::default() };
        match ds.decide(&Intent::Block(Box::new(Block { leave_out: true, ..self.clone() })), asker, clock) {
            Ok(decision) => {
                let given: BTreeSet<(RecordId, FieldId)> =
                    self.records.iter().flat_map(|record| self.fields.iter().map(move |field| (*record, *field))).collect();
                let cell = |op: &&Op| matches!(op, Op::Cell { record, field, .. } if given.contains(&(*record, *field)));
                told.changed = decision.change.ops.iter().filter(cell).count();
                told.added =
                    self.cells.iter().skip(self.records.len()).filter(|row| row.iter().flatten().any(|cell| !is_nothing(cell))).count();
                told.added = told.added.min(decision.added.len());
            }
            Err(faults) => told.refused = faults.0.first().map(|fault| fault.message.clone()).unwrap_or_default(),
        }
        let cells = |count: usize, one: &str, many: &str| customs.count_words(count, one, many);
        if told.refused.is_empty() {
            told.says.push(match told.changed {
                0 => "No cell that is there changes.".to_owned(),
                count => format!("{}.", cells(count, "cell changes", "cells change")),
            });
        }
        let missing = gone.says(ds, customs);
        if self.make {
            told.says.extend(missing);
        } else {
            told.missing = missing;
        }
        if told.added > 0 {
            let verb = if told.added == 1 { "is" } else { "are" };
            told.says.push(format!("{} {verb} added.", def.counted(told.added, customs)));
        }
        if told.unfit > 0 {
            told.says.push(format!("{} not fit.", cells(told.unfit, "cell does", "cells do")));
        }
        let widest = self.cells.iter().map(Vec::len).max().unwrap_or(0);
        let beyond = widest.saturating_sub(self.fields.len());
        if beyond > 0 {
            let words = cells(beyond, "column finds no field and is", "columns find no field and are");
            told.says.push(format!("{words} left out."));
        }
        told.wrong = sorted
            .wrong
            .into_iter()
            .take(WRONG_TOLD)
            .map(|(row, column, fault)| WrongCell {
                row: row.saturating_add(1),
                field: self.fields.get(column).and_then(|field| def.field(*field)).map(|def| def.name.clone()).unwrap_or_default(),
                text: self.text_at(&lens, row, column),
                why: fault.message,
            })
            .collect();
        Ok(told)
    }

    fn text_at(&self, lens: &Lens<'_>, row: usize, column: usize) -> String {
        let field = self.fields.get(column).copied();
        match self.cells.get(row).and_then(|cells| cells.get(column)) {
            Some(Some(Input::Text(text))) => text.clone(),
            Some(Some(Input::Value(value))) => field.map_or_else(String::new, |field| lens.cell_text(self.table, field, value.as_cell())),
            _ => String::new(),
        }
    }
}
