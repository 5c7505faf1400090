//! Records as they are shown: each cell with its value and its text.

use crate::{
    access::{FieldRight, Lens, Right},
    dataset::RecordName,
    history::Actor,
    id::{FieldId, FormId, RecordId, TableId},
    schema::Kind,
    value::{Cell, CellValue, Value},
};
use serde::{Deserialize, Serialize};

/// A record as the asker may see it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Row {
    pub id: RecordId,
    pub version: u32,
    /// In the order of the fields asked for; nothing where a cell is empty.
    pub cells: Vec<Option<CellView>>,
    /// Whether the asker may change it (a field may still be read only).
    pub change: bool,
    pub remove: bool,
    /// Stays in sight though the view's condition leaves it out.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub outside: bool,
    /// The form it came by.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub form: Option<FormId>,
}

/// A cell as the asker may see it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CellView {
    pub value: CellValue,
    pub text: String,
    /// The linked records' names, where it is a link.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub links: Vec<RecordName>,
}

impl Lens<'_> {
    /// Records with these fields, in the order given; those that the asker may not see are left out.
    pub fn rows(&self, table: TableId, records: &[RecordId], fields: &[FieldId]) -> Vec<Row> {
        let readers: Vec<_> = fields.iter().map(|f| (*f, self.reader(table, *f))).collect();
        let row = |record: &RecordId| {
            let meta = self.ds.table(table)?.meta(*record)?;
            let cells = readers.iter().map(|(field, reader)| {
                let cells = reader.cells(record.row());
                self.cell_view(table, *field, &cells)
            });
            let form = match meta.created_by {
                Actor::Form(form) => Some(form),
                _ => None,
            };
            Some(Row {
                id: *record,
                version: meta.version,
                cells: cells.collect(),
                change: self.may(Right::Change, table, *record),
                remove: self.may(Right::Remove, table, *record),
                outside: false,
                form,
            })
        };
        records.iter().filter(|r| self.sees(table, **r)).filter_map(row).collect()
    }

    /// The cells of one field of a record: one, or several carried values.
    pub fn cell_view(&self, table: TableId, field: FieldId, cells: &[Cell<'_>]) -> Option<CellView> {
        let (_, kind) = self.ds.shown_kind(table, field)?;
        let links = match kind {
            Kind::Link(link) => {
                let records = cells.iter().flat_map(|cell| if let Cell::Links(records) = cell { *records } else { &[] });
                records.filter_map(|r| self.record_name(link.to, *r)).collect()
            }
            _ => Vec::new(),
        };
        let value = match cells {
            [Cell::Links(_), ..] => Value::Links(links.iter().map(|n: &RecordName| n.id).collect()).tidy(),
            [one] => one.to_value().tidy(),
            _ => Value::Empty,
        };
        let text = match cells {
            [Cell::Links(_), ..] => links.iter().map(|n| n.name.as_str()).collect::<Vec<_>>().join(", "),
            _ => cells.iter().map(|cell| self.cell_text(table, field, *cell)).collect::<Vec<_>>().join(", "),
        };
        (!text.is_empty()).then_some(CellView { value, text, links })
    }

    /// Whether the asker may put a value into a field of records that they may change.
    pub fn writes(&self, table: TableId, field: FieldId) -> bool {
        let takes = self.ds.table(table).and_then(|t| t.def.field(field)).is_some_and(|f| f.kind.takes_input());
        takes && self.field_right(table, field) == FieldRight::Change
    }
}
