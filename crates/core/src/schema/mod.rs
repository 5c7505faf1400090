//! The structure of a tracker: tables, fields and their kinds.

mod arrangement;
mod part;
mod recipe;
mod refs;
mod rounds;
mod stage;
mod takes;

pub use arrangement::{Arrangement, ListFigure, PlacedField, RecordList, Section};
pub(crate) use recipe::MOST_RECIPES;
pub use recipe::{MovesOn, Recipe, Step};
pub use rounds::{Finish, MOST_TELLS, Rounds};
pub use stage::{Stage, StageRehearsal};

use crate::{
    condition::Condition,
    figure::Figure,
    formula::Formula,
    id::{AutomationId, FieldId, OptionId, RoleId, TableId},
    value::{CellValue, Locale},
};
use jiff::Timestamp;
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
    /// What makes a record *mine*.
    #[serde(default)]
    pub mine: MineBy,
    /// The heading under which it stands in the contents; may be empty.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub heading: String,
    /// How a record is laid out where one is opened.
    #[serde(default, skip_serializing_if = "Arrangement::is_nothing")]
    pub arrangement: Arrangement,
    /// How records are made again for the next period.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub recipes: Vec<Recipe>,
    /// How its records stand in people's rounds; none: they do not.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rounds: Option<Rounds>,
    /// The roles to which alone, beside stewards, what is said of its records is told; none: it is told to whoever sees the record.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub talk_for: Vec<RoleId>,
    /// Fields that were removed; their values are kept.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub binned: Vec<BinnedField>,
    /// When the whole table was removed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gone: Option<Timestamp>,
}

/// A field in the bin.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BinnedField {
    pub field: FieldDef,
    pub at: Timestamp,
}

/// What makes a record somebody's own; any of it is enough.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct MineBy {
    /// Having made it.
    #[serde(default = "yes", skip_serializing_if = "is_true")]
    pub made: bool,
    /// The address under which it was sent in by a form.
    #[serde(default)]
    pub address: Option<FieldId>,
    /// The person for whom it was entered.
    #[serde(default)]
    pub entered_for: Option<FieldId>,
    /// The table holds the people, each known by the address in this field: the one record under somebody's confirmed address is
    /// *my record*. At most one table of a tracker does.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub own: Option<FieldId>,
}

fn yes() -> bool {
    true
}

/// `serde` hands fields over by reference.
#[allow(clippy::trivially_copy_pass_by_ref)]
fn is_true(is: &bool) -> bool {
    *is
}

impl MineBy {
    /// Whether a record is somebody's own only by standing for them.
    pub(crate) fn is_the_person(self) -> bool {
        self.own.is_some() && !self.made && self.address.is_none() && self.entered_for.is_none()
    }
}

impl Default for MineBy {
    fn default() -> Self {
        Self { made: true, address: None, entered_for: None, own: None }
    }
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
    /// Filled with a linked record's value at the moment of linking, then free to change.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub copies: Option<Copies>,
    /// No two records hold the same here.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub unique: bool,
    /// Of files: pictures are kept as they were taken, with where and when that was. Otherwise all of that is left out.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub originals: bool,
    /// Of a choice: whoever fills it in may add an option while they do. Those who build may anyway.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub grows: bool,
    /// Of a link: which records it may name, and how they are entered.
    #[serde(default, skip_serializing_if = "Offers::is_nothing")]
    pub offers: Offers,
    pub kind: Kind,
}

/// Which records a link offers, and how its records are entered.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Offers {
    /// Only records for which it holds.
    #[serde(default)]
    pub condition: Condition,
    /// Only records that hold the same as the record being edited.
    #[serde(default)]
    pub same: Vec<Same>,
    /// The linked records are entered as lines within this record's folio.
    #[serde(default)]
    pub lines: bool,
    /// The field of theirs that this side shows of them; none: the one that stands for them everywhere.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub named: Option<FieldId>,
}

/// A field of the records offered that must hold what a field of the record being edited holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Same {
    pub theirs: FieldId,
    pub ours: FieldId,
}

impl Offers {
    /// Whether it says nothing.
    pub fn is_nothing(&self) -> bool {
        self.condition.is_nothing() && self.same.is_empty() && !self.lines && self.named.is_none()
    }
}

impl FieldDef {
    /// A field with nothing set but its name and kind.
    pub fn new(id: FieldId, name: &str, kind: Kind) -> Self {
        Self {
            id,
            name: name.into(),
            help: String::new(),
            required: false,
            preset: None,
            copies: None,
            unique: false,
            originals: false,
            grows: false,
            offers: Offers::default(),
            kind,
        }
    }
}

impl FieldDef {
    /// Why nobody can put anything in, where that is so.
    pub fn refusal(&self) -> Option<String> {
        let name = &self.name;
        Some(match &self.kind {
            Kind::Carried { .. } => format!("“{name}” is carried from a linked record: change it there."),
            kind if kind.is_computed() => format!("“{name}” is computed. Ctrl-. says why it is what it is."),
            Kind::Button { .. } => format!("“{name}” is a button: press it."),
            kind if !kind.takes_input() => format!("Westerfall fills in “{name}” by itself."),
            _ => return None,
        })
    }
}

/// Where a copied value comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Copies {
    /// A link to one record, in the same table.
    pub link: FieldId,
    /// The field there.
    pub field: FieldId,
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
#[cfg_attr(feature = "openapi", schema(no_recursion))]
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
    Money {
        /// ISO 4217 code; says how many decimals there are.
        currency: String,
    },
    /// Kept as a share: 12.5 % is 0.125.
    Percent {
        /// Shown at least so many digits after the point.
        decimals: u32,
    },
    /// A whole number from 1 to `most`.
    Rating {
        most: u8,
    },
    YesNo,
    Date,
    DateTime,
    /// From one day to another.
    Range,
    Duration,
    Choice {
        options: Vec<Choice>,
        /// The choice of the same table on which the options depend.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        on: Option<FieldId>,
    },
    Choices {
        options: Vec<Choice>,
    },
    Person,
    People,
    Link(Link),
    Email,
    Phone,
    Web,
    Place,
    Files,
    Checklist,
    Numbering {
        parts: Vec<NumberPart>,
    },
    CreatedAt,
    CreatedBy,
    ChangedAt,
    ChangedBy,
    /// The number by which the record is known for good.
    Id,
    /// A linked record's field shown here: the links to follow, then the field there.
    Carried {
        links: Vec<FieldId>,
        field: FieldId,
    },
    /// A figure over linked records.
    Summary(Summary),
    /// A value computed by a formula.
    Calculation {
        formula: Formula,
        /// How the result is shown; fits the formula's type.
        shows: Box<Kind>,
    },
    /// Pressing it runs an automation.
    Button {
        label: String,
        #[serde(default)]
        automation: Option<AutomationId>,
    },
    Json,
}

/// A figure over the records that links lead to.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "openapi", schema(no_recursion))]
pub struct Summary {
    /// The links to follow.
    pub links: Vec<FieldId>,
    pub figure: Figure,
    /// The field there; counting records needs none.
    #[serde(default)]
    pub field: Option<FieldId>,
    /// Only records for which it holds. Names no *me*: a figure is the same for everyone.
    #[serde(default)]
    pub condition: Condition,
    /// How the figure is shown; follows from the rest.
    pub shows: Box<Kind>,
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
    /// For a dependent choice: the option of the other field under which it stands.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub under: Option<OptionId>,
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
            Kind::Money { .. } => "money",
            Kind::Percent { .. } => "percent",
            Kind::Rating { .. } => "rating",
            Kind::YesNo => "yes/no",
            Kind::Date => "date",
            Kind::DateTime => "date and time",
            Kind::Range => "start–end range",
            Kind::Duration => "duration",
            Kind::Choice { on: None, .. } => "choice",
            Kind::Choice { on: Some(_), .. } => "dependent choice",
            Kind::Choices { .. } => "several choices",
            Kind::Person => "person",
            Kind::People => "several people",
            Kind::Link(_) => "link",
            Kind::Email => "e-mail",
            Kind::Phone => "phone",
            Kind::Web => "web address",
            Kind::Place => "location",
            Kind::Files => "files",
            Kind::Checklist => "checklist",
            Kind::Numbering { .. } => "numbering",
            Kind::CreatedAt => "created at",
            Kind::CreatedBy => "created by",
            Kind::ChangedAt => "changed at",
            Kind::ChangedBy => "changed by",
            Kind::Id => "lasting id",
            Kind::Carried { .. } => "carried value",
            Kind::Summary(_) => "summary",
            Kind::Calculation { .. } => "calculation",
            Kind::Button { .. } => "button",
            Kind::Json => "structured data",
        }
    }

    /// Whether people, forms and automations can put a value in.
    pub fn takes_input(&self) -> bool {
        !matches!(
            self,
            Kind::Numbering { .. }
                | Kind::CreatedAt
                | Kind::CreatedBy
                | Kind::ChangedAt
                | Kind::ChangedBy
                | Kind::Id
                | Kind::Carried { .. }
                | Kind::Summary(_)
                | Kind::Calculation { .. }
                | Kind::Button { .. }
        )
    }

    /// Whether every record has it without being asked; hidden until asked for.
    pub fn is_kept_by_us(&self) -> bool {
        matches!(self, Kind::CreatedAt | Kind::CreatedBy | Kind::ChangedAt | Kind::ChangedBy)
    }

    /// Whether its values follow from others and stand in columns of their own.
    pub fn is_computed(&self) -> bool {
        matches!(self, Kind::Summary(_) | Kind::Calculation { .. })
    }

    /// Whether it holds people of the team.
    pub fn is_people(&self) -> bool {
        matches!(self, Kind::Person | Kind::People)
    }

    /// How its values are shown: its own kind, or that of what it computes.
    pub fn shows(&self) -> &Kind {
        match self {
            Kind::Summary(summary) => &summary.shows,
            Kind::Calculation { shows, .. } => shows,
            other => other,
        }
    }

    /// Whether its values are numbers, which can be summed.
    pub fn is_number(&self) -> bool {
        matches!(self, Kind::Number { .. } | Kind::Money { .. } | Kind::Percent { .. } | Kind::Rating { .. } | Kind::Duration)
    }

    /// Whether its values are days or moments, or begin with one.
    pub fn is_of_days(&self) -> bool {
        matches!(self, Kind::Date | Kind::DateTime | Kind::Range | Kind::CreatedAt | Kind::ChangedAt)
    }

    /// Whether its values can stand unchanged in a field of another kind.
    pub fn holds_as(&self, other: &Kind) -> bool {
        let text = |kind: &Kind| matches!(kind, Kind::Text { .. } | Kind::LongText | Kind::Numbering { .. });
        let same = std::mem::discriminant(self) == std::mem::discriminant(other);
        let choice = |kind: &Kind| matches!(kind, Kind::Choice { .. } | Kind::Choices { .. });
        (same && (!choice(self) || self.options() == other.options()))
            || (text(self) || matches!(self, Kind::Email | Kind::Phone)) && matches!(other, Kind::Text { .. } | Kind::LongText)
            || matches!(self, Kind::Number { .. } | Kind::Money { .. }) && matches!(other, Kind::Number { .. } | Kind::Money { .. })
    }

    /// The options of a choice or of several choices.
    pub fn options(&self) -> &[Choice] {
        match self {
            Kind::Choice { options, .. } | Kind::Choices { options } => options,
            _ => &[],
        }
    }
}

impl Hue {
    /// As it is in the light theme (`theme/tokens.css` of the interface).
    pub fn rgb(self) -> u32 {
        match self {
            Self::Heather => 0x7b_5a96,
            Self::Bracken => 0xa8_672a,
            Self::Slate => 0x52_667a,
            Self::Gorse => 0xa1_7d00,
            Self::Lichen => 0x6e_8a5b,
            Self::Peat => 0x6b_5344,
            Self::Rowan => 0xb3_352b,
            Self::Sky => 0x2f_7aa2,
            Self::Fern => 0x3f_7d4e,
            Self::Clay => 0xb0_654d,
            Self::Plum => 0x8b_3e63,
            Self::Flint => 0x7d_7f78,
        }
    }

    /// All of them, in an order in which neighbours differ.
    pub const ALL: [Hue; 12] = [
        Hue::Heather,
        Hue::Gorse,
        Hue::Sky,
        Hue::Rowan,
        Hue::Fern,
        Hue::Slate,
        Hue::Clay,
        Hue::Lichen,
        Hue::Plum,
        Hue::Bracken,
        Hue::Flint,
        Hue::Peat,
    ];

    /// The hue of the n-th option, from 0.
    pub fn nth(n: usize) -> Hue {
        Self::ALL[n % Self::ALL.len()]
    }
}

impl Kind {
    /// The kind as those are told it who may not change it: without what it computes from, and by which rule.
    #[must_use]
    pub fn without_workings(&self, own: FieldId) -> Kind {
        match self {
            Kind::Carried { .. } => Kind::Carried { links: Vec::new(), field: own },
            Kind::Summary(summary) => Kind::Summary(Summary {
                links: Vec::new(),
                figure: summary.figure,
                field: None,
                condition: Condition::default(),
                shows: summary.shows.clone(),
            }),
            Kind::Calculation { shows, .. } => Kind::Calculation { formula: Formula::nothing(), shows: shows.clone() },
            other => other.clone(),
        }
    }
}

impl TableDef {
    /// A table with nothing set but its names, its fields and which of them stands for a record.
    pub fn new(id: TableId, name: &str, one: &str, standing: FieldId, fields: Vec<FieldDef>) -> Self {
        Self {
            id,
            name: name.into(),
            one: one.into(),
            fields,
            standing,
            beside: None,
            mine: MineBy::default(),
            heading: String::new(),
            arrangement: Arrangement::default(),
            talk_for: Vec::new(),
            rounds: None,
            recipes: Vec::new(),
            binned: Vec::new(),
            gone: None,
        }
    }

    /// The field that would best stand for a record: the first that people write.
    pub fn standing_among(fields: &[FieldDef]) -> Option<FieldId> {
        let writes = |f: &&FieldDef| matches!(f.kind, Kind::Text { .. } | Kind::LongText | Kind::Email | Kind::Numbering { .. });
        fields.iter().find(writes).or(fields.first()).map(|f| f.id)
    }

    /// The field of this number, if it is not in the bin.
    pub fn field(&self, id: FieldId) -> Option<&FieldDef> {
        self.fields.iter().find(|f| f.id == id)
    }

    /// A field, in the bin or not.
    pub fn any_field(&self, id: FieldId) -> Option<&FieldDef> {
        self.field(id).or_else(|| self.binned.iter().map(|b| &b.field).find(|f| f.id == id))
    }

    /// The name of many records, as it stands within a sentence.
    pub fn many(&self) -> String {
        within_sentence(&self.name)
    }

    /// Why a record that somebody may only look at can't be changed.
    pub fn only_looked_at(&self) -> String {
        format!("You can look at this {} but not change it.", self.one)
    }
}

/// What a table of its own would be called, for what stands under a name.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TableNames {
    pub name: String,
    /// One of its records.
    pub one: String,
}

impl TableNames {
    /// *Path* gives *Paths*, each of them a *path*.
    pub fn of(name: &str) -> Self {
        Self { name: crate::sentence::capital(&crate::sentence::plural(name)), one: crate::import::singular(name) }
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

/// What a tracker is called and where it is.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TrackerDef {
    pub name: String,
    pub description: String,
    /// IANA name of the zone in which its days begin and end.
    pub zone: String,
    pub locale: Locale,
    /// The sign beside its name: one of a small set of the interface's.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub icon: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hue: Option<Hue>,
    #[serde(default, skip_serializing_if = "Stage::is_open")]
    pub stage: Stage,
}
