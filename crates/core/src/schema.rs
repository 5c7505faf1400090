//! The structure of a tracker: tables, fields and their kinds.

use crate::{
    id::{FieldId, OptionId, TableId},
    value::CellValue,
};
use serde::{Deserialize, Serialize};

/// Longest text in a text field, in characters (Unicode scalar values).
pub const TEXT_LIMIT: usize = 1_000;
/// Longest text in a long text field, in characters.
pub const LONG_TEXT_LIMIT: usize = 50_000;
/// Most records that one link cell names, and most files in one cell.
pub const LIST_LIMIT: usize = 1_000;
/// Longest name of a table, field, view and the like, in characters.
pub const NAME_LIMIT: usize = 120;

/// A table. Its fields stand in their own order.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TableDef {
    pub id: TableId,
    /// The table's name, and the name of many of its records: *Faults*.
    pub name: String,
    /// The name of one record: *fault*.
    pub one: String,
    pub fields: Vec<FieldDef>,
    /// The field that stands for a record wherever it is named.
    pub standing: FieldId,
    /// A second field that tells records of like names apart in pickers.
    #[serde(default)]
    pub beside: Option<FieldId>,
    /// What makes a record *mine*, beside having made it.
    #[serde(default)]
    pub mine: MineBy,
}

/// Which fields say whose a record is, when somebody else entered it.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct MineBy {
    /// The address under which it was sent in by a form.
    pub address: Option<FieldId>,
    /// The person for whom it was entered.
    pub entered_for: Option<FieldId>,
}

/// A field of a table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FieldDef {
    pub id: FieldId,
    pub name: String,
    #[serde(default)]
    pub help: String,
    #[serde(default)]
    pub required: bool,
    /// What a new record holds here if nothing is put in.
    #[serde(default)]
    pub preset: Option<Preset>,
    pub kind: Kind,
}

/// What a field of a new record begins with.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Preset {
    Value(CellValue),
    /// The day or moment at which the record is added.
    Now,
}

/// The kind of a field, with its settings.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "type", rename_all = "snake_case")]
pub enum Kind {
    /// One line; at most `limit` characters.
    Text {
        limit: usize,
    },
    LongText,
    Number {
        /// Shown at least so many digits after the point.
        decimals: u32,
        unit: String,
    },
    Date,
    DateTime,
    Choice {
        options: Vec<Choice>,
    },
    Person,
    Link(Link),
    Email,
    Phone,
    Files,
    Numbering {
        parts: Vec<NumberPart>,
    },
    CreatedAt,
    CreatedBy,
    ChangedAt,
    ChangedBy,
    /// A linked record's field shown here: the links to follow, then the field there.
    Carried {
        links: Vec<FieldId>,
        field: FieldId,
    },
}

/// A link to another table. Both sides are fields; one of them, the holding side, keeps the records and their order.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Link {
    pub to: TableId,
    /// The other side's field.
    pub back: FieldId,
    /// At most one record.
    pub one: bool,
    /// Whether this side keeps the records; the other side is computed from it.
    pub holds: bool,
}

/// An option of a choice.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Choice {
    pub id: OptionId,
    pub name: String,
    pub hue: Hue,
}

/// The twelve hues, named for the landscape.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Hue {
    Heather,
    Bracken,
    Slate,
    Gorse,
    Lichen,
    Peat,
    Rowan,
    Sky,
    Fern,
    Clay,
    Plum,
    Flint,
}

/// A part of a numbering's pattern.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "part", rename_all = "snake_case")]
pub enum NumberPart {
    Fixed {
        text: String,
    },
    /// Four digits.
    Year,
    /// Two digits.
    Month,
    Counter {
        digits: usize,
        restarts: Restart,
    },
}

/// When a numbering's counter begins again at 1.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Restart {
    Never,
    Yearly,
    Monthly,
}

impl Kind {
    /// What people call the kind.
    pub fn name(&self) -> &'static str {
        match self {
            Kind::Text { .. } => "text",
            Kind::LongText => "long text",
            Kind::Number { .. } => "number",
            Kind::Date => "date",
            Kind::DateTime => "date and time",
            Kind::Choice { .. } => "choice",
            Kind::Person => "person",
            Kind::Link(_) => "link",
            Kind::Email => "e-mail",
            Kind::Phone => "phone",
            Kind::Files => "files",
            Kind::Numbering { .. } => "numbering",
            Kind::CreatedAt => "created at",
            Kind::CreatedBy => "created by",
            Kind::ChangedAt => "changed at",
            Kind::ChangedBy => "changed by",
            Kind::Carried { .. } => "carried value",
        }
    }

    /// Whether people, forms and automations can put a value in.
    pub fn takes_input(&self) -> bool {
        !matches!(
            self,
            Kind::Numbering { .. } | Kind::CreatedAt | Kind::CreatedBy | Kind::ChangedAt | Kind::ChangedBy | Kind::Carried { .. }
        )
    }

    /// Whether every record has it without being asked; hidden until asked for.
    pub fn is_kept_by_us(&self) -> bool {
        matches!(self, Kind::CreatedAt | Kind::CreatedBy | Kind::ChangedAt | Kind::ChangedBy)
    }
}

impl TableDef {
    pub fn field(&self, id: FieldId) -> Option<&FieldDef> {
        self.fields.iter().find(|f| f.id == id)
    }

    /// The name of many records, as it stands within a sentence.
    pub fn many(&self) -> String {
        within_sentence(&self.name)
    }
}

/// A name as it stands within a sentence: the first letter small, unless the word is written in capitals.
pub fn within_sentence(name: &str) -> String {
    let mut letters = name.chars();
    match (letters.next(), letters.next()) {
        (Some(first), Some(second)) if first.is_uppercase() && !second.is_uppercase() => {
            first.to_lowercase().collect::<String>() + &name[first.len_utf8()..]
        }
        _ => name.to_owned(),
    }
}
