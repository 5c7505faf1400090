//! A record as it was at a moment, from the changes since, and the edits that put it back: said before they are made.

use crate::{
    access::{Asker, Lens},
    fault::{Checked, Fault},
    history::{Change, Op},
    id::{FieldId, RecordId, TableId},
    intent::{Edit, Intent},
    schema::Kind,
    value::{Cell, Input, Value},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// What putting a record back to a moment would change.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PutBack {
    /// *3 fields go back; one can’t.*
    pub says: String,
    /// In the table's order.
    pub fields: Vec<FieldBack>,
}

/// A field that held something else then.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FieldBack {
    pub field: FieldId,
    pub name: String,
    pub now: String,
    pub then: String,
    /// Why it can't go back.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub refused: Option<String>,
}

impl Lens<'_> {
    /// What stood in the fields of a record once a change was made, where that is something else now: from the changes that came
    /// after it. Only of fields that may be read, and of these where some are named.
    fn then(&self, table: TableId, record: RecordId, changes: &[Change], after: u64, only: &[FieldId]) -> Vec<(FieldId, Value)> {
        let mut later: Vec<&Change> = changes.iter().filter(|change| change.seq > after).collect();
        later.sort_by_key(|change| std::cmp::Reverse(change.seq));
        let mut then: BTreeMap<FieldId, Value> = BTreeMap::new();
        for op in later.iter().flat_map(|change| change.ops.iter().rev()).flat_map(|op| op.of(table, record)) {
            if let Op::Cell { field, before, .. } = op {
                then.insert(field, before);
            }
        }
        let Some(home) = self.ds.table(table) else { return Vec::new() };
        let fields = home.def.fields.iter().filter(|def| only.is_empty() || only.contains(&def.id));
        let fields = fields.filter(|def| !matches!(def.kind, Kind::Numbering { .. }) && self.shows(table, record, def.id));
        fields
            .filter_map(|def| {
                let was = then.get(&def.id)?.clone().tidy();
                let now = home.column(def.id).map_or(Cell::Empty, |column| column.cell(record.row())).to_value();
                (was != now).then_some((def.id, was))
            })
            .collect()
    }

    /// What putting a record back would change, and what of it can't go back and why.
    pub fn as_it_was(&self, asker: Asker, table: TableId, record: RecordId, changes: &[Change], after: u64, only: &[FieldId]) -> PutBack {
        if !self.sees(table, record) {
            return PutBack::default();
        }
        let then = self.then(table, record, changes, after, only);
        let fields: Vec<FieldBack> = then
            .into_iter()
            .filter_map(|(field, value)| {
                let def = self.ds.table(table)?.def.field(field)?;
                let (now, then) = (self.text_at(table, record, field), self.cell_text(table, field, value.as_cell()));
                let refused = self.ds.decide(&edit(table, record, vec![(field, value)]), asker, self.clock).err();
                let refused = refused.and_then(|faults| faults.0.into_iter().next()).map(|fault| fault.message);
                Some(FieldBack { field, name: def.name.clone(), now, then, refused })
            })
            .collect();
        let refused = fields.iter().filter(|field| field.refused.is_some()).count();
        let customs = self.clock.customs();
        let goes = fields.len().saturating_sub(refused);
        let goes = match goes {
            0 => "Nothing goes back".to_owned(),
            1 => "One field goes back".to_owned(),
            more => format!("{} go back", customs.count_words(more, "field", "fields")),
        };
        let says = match refused {
            0 => format!("{goes}."),
            1 => format!("{goes}; one can’t."),
            more => format!("{goes}; {} can’t.", customs.count_text(more)),
        };
        PutBack { says, fields }
    }

    /// The edits that put fields of a record back, as one step.
    ///
    /// # Errors
    /// Not found, where the record is not there for whoever asks, or nothing of it was otherwise.
    pub fn put_back(&self, table: TableId, record: RecordId, changes: &[Change], after: u64, only: &[FieldId]) -> Checked<Intent> {
        let then = if self.sees(table, record) { self.then(table, record, changes, after, only) } else { Vec::new() };
        if then.is_empty() {
            return Err(Fault::not_found("earlier state").into());
        }
        Ok(edit(table, record, then))
    }
}

fn edit(table: TableId, record: RecordId, cells: Vec<(FieldId, Value)>) -> Intent {
    let edits = cells.into_iter().map(|(field, value)| Edit { field, input: Input::Value(value), was: None }).collect();
    Intent::Edit { table, record, edits }
}
