//! A record on its way: what somebody has said of one that is not added yet, as it would stand.

use super::LaidOut;
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::{Dataset, Table},
    fault::{Checked, Fault},
    history::Change,
    id::{FieldId, PersonId, RecordId, TableId},
    intent::{NewRecord, Sketched},
    people::Actor,
    schema::{FieldDef, within_sentence},
    value::{Cell, Input, Value, list_text},
    view::Row,
};
use serde::Serialize;
use std::collections::BTreeMap;

/// A draft as it would stand.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DraftLook {
    /// What it would be called; empty while that is not said.
    pub name: String,
    pub laid: LaidOut,
    /// The fields of the cells, in their order.
    pub fields: Vec<FieldId>,
    /// What would stand there, what is computed too. Its number is one that no record has yet.
    pub row: Row,
    /// What was put in and does not fit. The rest stands without it.
    pub wrong: Vec<WrongInDraft>,
    /// The fields that are still asked, in their order.
    pub missing: Vec<FieldId>,
    /// What is still asked, in a sentence; empty: it can be added.
    pub says: String,
}

/// Something that was put in and does not fit.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WrongInDraft {
    pub field: FieldId,
    /// As it was put in.
    pub input: Input,
    pub message: String,
}

/// A tracker as it would stand if somebody's draft were added.
pub struct WithDraft {
    pub dataset: Dataset,
    pub record: RecordId,
    /// What was put in and does not fit.
    pub wrong: Vec<WrongInDraft>,
    /// Its lines, in their order.
    pub lines: Vec<DraftedLine>,
}

/// A line of a draft.
pub struct DraftedLine {
    /// The table that it would stand in, and its number there; or why it can't stand anywhere.
    pub at: Result<(TableId, RecordId), Fault>,
    /// What was put into it and does not fit.
    pub wrong: Vec<WrongInDraft>,
}

impl Dataset {
    /// The tracker as it would stand with a record of somebody's that is not added. Nothing is changed by this.
    ///
    /// # Errors
    /// There is no such table for them, or they may not add to it.
    pub fn with_draft(&self, me: PersonId, clock: &Clock, new: &NewRecord) -> Checked<WithDraft> {
        let Sketched { ops, record, wrong, lines } = self.sketch_record(me, clock, new)?;
        let mut dataset = self.clone();
        dataset.apply(&Change { seq: self.seq.saturating_add(1), at: clock.now, who: Actor::Person(me), undoes: None, again: false, ops });
        Ok(WithDraft { dataset, record, wrong, lines })
    }

    /// A record that is not added, as it would stand for whoever adds it. Nothing is changed by this.
    ///
    /// # Errors
    /// There is no such table for them, or they may not add to it.
    pub fn look_at_draft(&self, me: PersonId, clock: &Clock, new: &NewRecord) -> Checked<DraftLook> {
        let NewRecord { table, cells, .. } = new;
        let (table, asker) = (*table, Asker::Person(me));
        let WithDraft { dataset: after, record, wrong, lines } = self.with_draft(me, clock, new)?;
        let lens = Lens::new(&after, asker, clock);
        let home = after.table(table).ok_or_else(|| Fault::not_found("table"))?;
        let fields: Vec<FieldId> = home.def.fields.iter().map(|f| f.id).filter(|field| lens.reads(table, *field)).collect();
        let stands = |field: FieldId| home.column(field).map_or(Value::Empty, |column| column.cell(record.row()).to_value());
        // Until it is in their reach they see what they put in, and nothing that comes of it.
        let typed_alone = || {
            let typed = |field: &FieldId| {
                cells.iter().find(|(known, _)| known == field)?;
                lens.cell_view(table, *field, &[stands(*field).as_cell()])
            };
            Row { cells: fields.iter().map(typed).collect(), ..Row::empty(record) }
        };
        let row = lens.rows(table, &[record], &fields).pop().unwrap_or_else(typed_alone);
        let asked = Lens::new(self, asker, clock).adding(table).map(|adding| adding.asks).unwrap_or_default();
        let is_asked = |field: &FieldId| {
            let required = home.def.field(*field).is_some_and(|f| f.required && lens.adds_with(table, *field));
            (required || asked.contains(field)) && stands(*field).as_cell() == Cell::Empty
        };
        let missing: Vec<FieldId> = fields.iter().copied().filter(is_asked).collect();
        let open = fields.iter().filter(|field| missing.contains(field) || wrong.iter().any(|w| w.field == **field));
        let mut names: Vec<String> = open.filter_map(|field| home.def.field(*field)).map(|f| within_sentence(&f.name)).collect();
        names.extend(asked_in_lines(&lens, home, new, &lines));
        Ok(DraftLook {
            name: lens.record_name(table, record).map(|found| found.name).unwrap_or_default(),
            laid: lens.laid_out(table, record),
            fields,
            row,
            wrong,
            says: if names.is_empty() { String::new() } else { format!("Still asked: {}.", list_text(&names, "and")) },
            missing,
        })
    }
}

/// What lines still lack, each by its place under its link: *quantity in line 2 of materials*.
fn asked_in_lines(lens: &Lens<'_>, home: &Table, new: &NewRecord, lines: &[DraftedLine]) -> Vec<String> {
    let mut asked = Vec::new();
    let mut places: BTreeMap<FieldId, usize> = BTreeMap::new();
    for (line, drafted) in new.lines.iter().zip(lines) {
        let Ok((table, record)) = drafted.at else { continue };
        let place = places.entry(line.under).or_default();
        *place += 1;
        let (Some(under), Some(of)) = (home.def.field(line.under), lens.dataset().table(table)) else { continue };
        let is_open = |field: &&FieldDef| {
            let empty = of.column(field.id).is_none_or(|column| column.cell(record.row()) == Cell::Empty);
            let wrong = drafted.wrong.iter().any(|wrong| wrong.field == field.id);
            wrong || (field.required && empty && lens.adds_with(table, field.id))
        };
        let told = |field: &FieldDef| format!("{} in line {place} of {}", within_sentence(&field.name), within_sentence(&under.name));
        asked.extend(of.def.fields.iter().filter(is_open).map(told));
    }
    asked
}
