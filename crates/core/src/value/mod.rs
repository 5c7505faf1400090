//! Values: what a cell holds. [`Value`] is owned and travels; [`Cell`] is borrowed from a column and cheap to copy.

mod display;
mod order;
mod parse;
#[cfg(test)]
mod tests;

pub use display::{date_text, list_text, moment_text, number_text};
pub use order::{contains_folded, fold, natural_cmp, text_key};
pub use parse::{Locale, parse};

use crate::id::{OptionId, PersonId, RecordId};
use jiff::{Timestamp, civil::Date};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// What a cell holds, whatever the kind of its field.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Value {
    /// Nothing. An empty text, an empty list and nothing are the same.
    #[default]
    Empty,
    Text(Arc<str>),
    /// Exact; as a string in JSON, so that no reader rounds it.
    Number(Decimal),
    /// A day of the calendar, with no zone.
    Date(Date),
    /// A point in time; shown in the tracker's zone.
    Instant(Timestamp),
    Choice(OptionId),
    Person(PersonId),
    /// The linked records, in the order chosen.
    Links(Vec<RecordId>),
    Files(Arc<[Attachment]>),
}

/// The same type, under a name that the API's description does not take for "any JSON".
pub type CellValue = Value;

/// A file that hangs on a cell. Its bytes are in the file store, under its id.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Attachment {
    /// Not guessable; also its address.
    pub id: String,
    pub name: String,
    /// The media type that its content was found to be.
    pub media: String,
    /// In bytes.
    pub size: u64,
}

/// A value as a column lends it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Cell<'a> {
    Empty,
    Text(&'a str),
    Number(Decimal),
    Date(Date),
    Instant(Timestamp),
    Choice(OptionId),
    Person(PersonId),
    Links(&'a [RecordId]),
    Files(&'a [Attachment]),
}

impl Cell<'_> {
    /// The same, owned.
    pub fn to_value(self) -> Value {
        match self {
            Cell::Empty => Value::Empty,
            Cell::Text(text) => Value::Text(text.into()),
            Cell::Number(number) => Value::Number(number),
            Cell::Date(date) => Value::Date(date),
            Cell::Instant(instant) => Value::Instant(instant),
            Cell::Choice(option) => Value::Choice(option),
            Cell::Person(person) => Value::Person(person),
            Cell::Links(records) => Value::Links(records.to_vec()),
            Cell::Files(files) => Value::Files(files.into()),
        }
    }

    /// Whether nothing stands here.
    pub fn is_empty(self) -> bool {
        matches!(self, Cell::Empty | Cell::Links([]) | Cell::Files([]) | Cell::Text(""))
    }
}

impl Value {
    /// The same, lent.
    pub fn as_cell(&self) -> Cell<'_> {
        match self {
            Value::Empty => Cell::Empty,
            Value::Text(text) => Cell::Text(text),
            Value::Number(number) => Cell::Number(*number),
            Value::Date(date) => Cell::Date(*date),
            Value::Instant(instant) => Cell::Instant(*instant),
            Value::Choice(option) => Cell::Choice(*option),
            Value::Person(person) => Cell::Person(*person),
            Value::Links(records) => Cell::Links(records),
            Value::Files(files) => Cell::Files(files),
        }
    }

    /// Empty texts and lists become [`Value::Empty`], so that equal means equal.
    #[must_use]
    pub fn tidy(self) -> Self {
        if self.as_cell().is_empty() { Value::Empty } else { self }
    }

    /// A text value; empty where there is nothing to say.
    pub fn text(text: &str) -> Self {
        Value::Text(text.into()).tidy()
    }
}
