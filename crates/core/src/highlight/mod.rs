//! Highlights: rules that change how records and what stands in them look. They belong to a table and stand in one ordered list;
//! where several would set the same, the one that stands higher does.

mod check;
mod copy;
mod order;
mod refs;
mod rehearsal;
mod rules;
mod why;
mod words;
mod worn;

pub use copy::{CopyAsk, CopyFit, CopyTo, HighlightCopy};
pub use rehearsal::{DraftedHighlight, HighlightsRehearsal, LookSample};
pub use why::{LookLine, LookMend, MendStep, WhyLook};
pub use words::HighlightWords;
pub use worn::{CellLook, Looks, RecordLooks};

use crate::{
    condition::Condition,
    id::{FieldId, HighlightId, TableId},
    schema::Hue,
};
use serde::{Deserialize, Serialize};

/// Most highlights of one table.
pub const MOST_HIGHLIGHTS: usize = 100;
/// Most things that one highlight touches.
pub const MOST_TOUCHES: usize = 8;
/// Longest word that is put before a value, in characters.
pub const WORD_LIMIT: usize = 40;

/// A rule that changes how records look.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Highlight {
    pub id: HighlightId,
    pub table: TableId,
    /// Its place among those of its table: the lower the number, the earlier it is asked.
    pub place: u32,
    /// The records that it touches. One without a condition is how fields always look: less than all others.
    #[serde(default)]
    pub condition: Condition,
    /// What of them it touches, and how that looks.
    #[serde(default)]
    pub touches: Vec<Touch>,
}

/// What of a record looks how.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Touch {
    /// Nothing: the whole record.
    #[serde(default)]
    pub fields: Vec<FieldId>,
    pub look: Look,
}

/// How something looks. What it does not say stays as it is.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Look {
    /// The ground, in a tint that can be written on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fill: Option<Hue>,
    /// The letters.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ink: Option<Ink>,
    /// A line along its left edge.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub edge: Option<Hue>,
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub bold: bool,
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub italic: bool,
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub struck: bool,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub size: Option<LookSize>,
    /// A sign before the value.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sign: Option<Sign>,
    /// A word before the value, or in place of one that is empty.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub word: String,
}

/// How letters are coloured.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Ink {
    /// Less than the others.
    Quiet,
    Of(Hue),
}

/// How large letters are, beside the others.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum LookSize {
    Smaller,
    Larger,
}

/// A sign, and its colour.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Sign {
    /// By its name in the interface's set: *peak*.
    pub name: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hue: Option<Hue>,
}

impl Highlight {
    /// The first of a table, with nothing said yet.
    pub fn new(id: HighlightId, table: TableId, condition: Condition, touches: Vec<Touch>) -> Self {
        Self { id, table, place: 0, condition, touches }
    }

    /// Whether what it asked for is gone, so that it touches nothing.
    pub fn is_never(&self) -> bool {
        !self.condition.is_nothing() && self.condition.tests().is_empty()
    }

    /// Whether it says how fields always look.
    pub fn is_standing(&self) -> bool {
        self.condition.is_nothing()
    }
}

impl Touch {
    /// What of every record that it touches looks so.
    pub fn whole(look: Look) -> Self {
        Self { fields: Vec::new(), look }
    }

    /// One field.
    pub fn of(field: FieldId, look: Look) -> Self {
        Self { fields: vec![field], look }
    }
}

impl Look {
    /// Whether it changes nothing.
    pub fn is_plain(&self) -> bool {
        *self == Self::default()
    }

    /// Whether it can be told without seeing colours.
    pub fn is_told_without_colour(&self) -> bool {
        let Self { fill: _, ink, edge, bold, italic, struck, size, sign, word } = self;
        edge.is_some() || *bold || *italic || *struck || size.is_some() || sign.is_some() || !word.is_empty() || *ink == Some(Ink::Quiet)
    }

    /// Takes over what is not said here yet.
    pub(crate) fn fill_up(&mut self, lower: &Look) {
        self.fill = self.fill.or(lower.fill);
        self.ink = self.ink.or(lower.ink);
        self.edge = self.edge.or(lower.edge);
        self.bold |= lower.bold;
        self.italic |= lower.italic;
        self.struck |= lower.struck;
        self.size = self.size.or(lower.size);
        if self.sign.is_none() {
            self.sign.clone_from(&lower.sign);
        }
        if self.word.is_empty() {
            self.word.clone_from(&lower.word);
        }
    }
}
