//! A record on its way: what somebody has said of one that is not added yet, as it would stand.

use super::LaidOut;
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    fault::{Checked, Fault},
    history::Change,
    id::{FieldId, PersonId, TableId},
    people::Actor,
    schema::within_sentence,
    value::{Cell, Input, Value, list_text},
    view::Row,
};
use serde::Serialize;

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

impl Dataset {
    /// A record that is not added, as it would stand for whoever adds it. Nothing is changed by this.
    ///
    /// # Errors
    /// There is no such table for them, or they may not add to it.
    pub fn look_at_draft(&self, me: PersonId, clock: &Clock, table: TableId, cells: &[(FieldId, Input)]) -> Checked<DraftLook> {
        let sketched = self.sketch_record(me, clock, table, cells)?;
        let (record, wrong, asker) = (sketched.record, sketched.wrong, Asker::Person(me));
        let mut after = self.clone();
        after.apply(&Change {
            seq: self.seq.saturating_add(1),
            at: clock.now,
            who: Actor::Person(me),
            undoes: None,
            again: false,
            ops: sketched.ops,
        });
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
        let names: Vec<String> = open.filter_map(|field| home.def.field(*field)).map(|f| within_sentence(&f.name)).collect();
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
