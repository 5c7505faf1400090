//! Changing the fields of a table, one at a time, as it stands when the change is decided.

use super::Decider;
use crate::{
    fault::{Checked, Fault},
    history::{Op, Part},
    id::{FieldId, TableId},
    schema::FieldDef,
};

/// What is done to a table's fields.
#[derive(Clone, Debug)]
pub enum FieldChange {
    /// A new field, before another or at the end; its number is given here, whatever it says.
    Add { field: FieldDef, before: Option<FieldId> },
    /// Another state of a field.
    Change(FieldDef),
    /// Out of the table; its values are kept, so that taking this back brings them back.
    Remove(FieldId),
    /// Before another field, or to the end.
    Move { field: FieldId, before: Option<FieldId> },
}

impl Decider<'_> {
    /// The operation, and the number of the field that was made.
    pub(super) fn fields(&self, table: TableId, change: &FieldChange) -> Checked<(Op, Option<u32>)> {
        let home = self.ds.table(table).filter(|_| self.lens.opens(table)).ok_or_else(|| Fault::not_found("table"))?;
        let mut def = (*home.def).clone();
        let place = |fields: &[FieldDef], id: FieldId| fields.iter().position(|f| f.id == id).ok_or_else(|| Fault::not_found("field"));
        let before = |fields: &[FieldDef], id: &Option<FieldId>| id.map_or(Ok(fields.len()), |id| place(fields, id));
        let mut made = None;
        match change {
            FieldChange::Add { field, before: at } => {
                let number = self.ds.next_id();
                made = Some(number);
                let id = FieldId::new(number).unwrap_or(field.id);
                let at = before(&def.fields, at)?;
                def.fields.insert(at, FieldDef { id, ..field.clone() });
            }
            FieldChange::Change(field) => {
                let at = place(&def.fields, field.id)?;
                def.fields[at] = field.clone();
            }
            FieldChange::Remove(field) => {
                let at = place(&def.fields, *field)?;
                def.fields.remove(at);
            }
            FieldChange::Move { field, before: to } => {
                let moved = def.fields.remove(place(&def.fields, *field)?);
                let to = before(&def.fields, to)?;
                def.fields.insert(to, moved);
            }
        }
        let op = self.put(Some(Part::Table((*home.def).clone())), Some(Part::Table(def)))?;
        Ok((op, made))
    }
}
