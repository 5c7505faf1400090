//! A dot for each record, by two of its numbers: whether the one goes with the other.

use crate::{
    access::Lens,
    id::{FieldId, RecordId, TableId},
    schema::within_sentence,
    value::Cell,
    view::Query,
};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};

/// Most dots that are drawn: of more, the first in the view’s order.
const MOST: usize = 2_000;

/// A dot for each record that has both numbers.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Dots {
    /// What is read across, and what up, as in a sentence.
    pub across: String,
    pub up: String,
    pub dots: Vec<Dot>,
    /// *71 faults; 3 more lack one of the two*.
    pub says: String,
}

/// A record by two of its numbers.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Dot {
    pub record: RecordId,
    pub name: String,
    pub x: Decimal,
    pub y: Decimal,
    /// The same as people read them.
    pub x_text: String,
    pub y_text: String,
}

impl Query {
    /// The first two fields of numbers that it shows.
    fn two_numbers(&self, lens: &Lens<'_>, table: TableId) -> Option<(FieldId, FieldId)> {
        let is_number = |field: &FieldId| lens.dataset().shown_kind(table, *field).is_some_and(|(_, kind)| kind.shows().is_number());
        let mut numbers = self.fields.iter().map(|shown| shown.field).filter(is_number);
        Some((numbers.next()?, numbers.next()?))
    }

    /// A dot for each of some records, in their order.
    ///
    /// # Errors
    /// In words: it does not show two fields of numbers.
    pub(super) fn dots(&self, lens: &Lens<'_>, table: TableId, records: &[RecordId]) -> Result<Dots, String> {
        let two = self.two_numbers(lens, table);
        let (x, y) = two.ok_or("Dots stand by two numbers: show two fields of numbers, the first is read across, the second up.")?;
        let name = |field: FieldId| lens.dataset().field(field).map(|(_, def)| within_sentence(&def.name)).unwrap_or_default();
        let (across, up) = (lens.reader(table, x), lens.reader(table, y));
        let number = |cell: Cell<'_>| if let Cell::Number(number) = cell { Some(number) } else { None };
        let both = |record: &RecordId| {
            let shown = lens.shows(table, *record, x) && lens.shows(table, *record, y);
            shown.then(|| Some((*record, number(across.cell(record.row()))?, number(up.cell(record.row()))?))).flatten()
        };
        let found: Vec<(RecordId, Decimal, Decimal)> = records.iter().filter_map(both).collect();
        let dot = |(record, x_at, y_at): &(RecordId, Decimal, Decimal)| {
            Some(Dot {
                record: *record,
                name: lens.record_name(table, *record)?.name,
                x: *x_at,
                y: *y_at,
                x_text: lens.text_at(table, *record, x),
                y_text: lens.text_at(table, *record, y),
            })
        };
        let counted = crate::view::counted(lens, table, found.len());
        let without = records.len().saturating_sub(found.len());
        let mut says = if without == 0 { counted } else { format!("{counted}; {without} more lack one of the two") };
        if found.len() > MOST {
            says.push_str(&format!(", the first {MOST} drawn"));
        }
        Ok(Dots { across: name(x), up: name(y), dots: found.iter().take(MOST).filter_map(dot).collect(), says })
    }
}
