//! Who else is where, as it is told: of the place in which somebody is, no more than whoever hears of it may look at.

use crate::{
    access::Lens,
    id::{FieldId, PersonId, RecordId, TableId},
    schema::within_sentence,
};
use serde::{Deserialize, Serialize};

/// Where somebody is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Place {
    pub table: TableId,
    pub record: Option<RecordId>,
    /// The cell that they are in.
    pub field: Option<FieldId>,
    /// They are writing there.
    pub writes: bool,
}

impl Lens<'_> {
    /// A place as the asker may be in it: nobody says that they are where they may not look.
    pub fn place(&self, place: Place) -> Option<Place> {
        let Place { table, record, field, .. } = place;
        let record = record.filter(|record| self.sees(table, *record));
        let field = field.filter(|field| record.is_some_and(|record| self.shows(table, record, *field)));
        self.opens(table).then_some(Place { table, record, field, writes: place.writes && field.is_some() })
    }

    /// A place of somebody else, as far as the asker may look there; nothing where they see neither the table nor the record.
    pub fn place_told(&self, place: Place) -> Option<Place> {
        self.place(place).filter(|told| told.record == place.record)
    }

    /// Where somebody is, in words: *Idris Pell is here, in planned day*.
    pub fn place_words(&self, person: PersonId, place: Place) -> Option<(String, String)> {
        let name = self.dataset().people.get(person)?.name.clone();
        let field = place.field.and_then(|field| self.dataset().table(place.table)?.def.field(field));
        let says = match field.map(|field| within_sentence(&field.name)) {
            Some(field) if place.writes => format!("{name} writes in {field}"),
            Some(field) => format!("{name} is here, in {field}"),
            None => format!("{name} is here"),
        };
        Some((name, says))
    }
}
