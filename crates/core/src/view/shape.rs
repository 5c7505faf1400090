//! The shape in which a view shows its records, and what each shape needs.

use super::{
    Query,
    almanac::{Almanac, AlmanacDate, MOST_DATES, marks_days},
};
use crate::{
    access::Lens,
    dataset::{Standing, moves_records},
    fault::{Fault, FaultKind},
    id::{FieldId, TableId},
    schema::{FieldDef, Kind, within_sentence},
    value::{CellValue, list_text},
};
use serde::{Deserialize, Serialize};

/// Most lanes that can be put away, and most that have a limit.
const MAX_LANES: usize = 200;

/// The shape of a view, with what only that shape needs.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "as", rename_all = "lowercase")]
pub enum Shape {
    Rows(RowsShape),
    Lanes(Lanes),
    Calendar(Almanac),
    Cards(Cards),
}

/// Fields across, records down.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RowsShape {
    #[serde(default)]
    pub height: RowHeight,
}

/// How many lines of text stand in a row.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum RowHeight {
    #[default]
    One,
    Two,
    Four,
    Eight,
}

/// One lane for each value of a field.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Lanes {
    pub by: FieldId,
    /// The values of lanes that are put away: they take records and are not shown whole.
    #[serde(default)]
    pub away: Vec<CellValue>,
    /// What lanes should hold at most. More is shown, and not forbidden.
    #[serde(default)]
    pub limits: Vec<LaneLimit>,
}

/// What a lane should hold at most: records, and for how many days each.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LaneLimit {
    pub lane: CellValue,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub most: Option<u32>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub days: Option<u32>,
}

/// Plates: a picture first, and what is said of it beneath.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Cards {
    /// The field of files whose first picture is shown; none: a plain face.
    #[serde(default)]
    pub picture: Option<FieldId>,
    #[serde(default)]
    pub fit: Fit,
    #[serde(default)]
    pub size: CardSize,
}

/// How a picture stands in its frame.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Fit {
    /// It fills the frame; what reaches beyond is cut.
    #[default]
    Cropped,
    /// All of it is in the frame.
    Whole,
}

/// How large cards are.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum CardSize {
    Small,
    #[default]
    Middle,
    Large,
}

/// A shape as it is offered for a table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ShapeOffer {
    /// As it stands after *as*: *rows*, *lanes*.
    pub name: String,
    /// What one sees in it.
    pub says: String,
    /// The fields by which it can stand, the likeliest first; of cards, those that hold pictures.
    pub by: Vec<FieldId>,
    /// As it begins; nothing where a field is missing for it.
    pub begins: Option<Shape>,
    /// What is missing.
    pub missing: String,
    /// A field that would do, as it is offered to be made.
    pub makes: Option<Kind>,
}

impl RowHeight {
    /// As it stands after *rows of*.
    pub fn words(self) -> &'static str {
        match self {
            Self::One => "one line",
            Self::Two => "two lines",
            Self::Four => "four lines",
            Self::Eight => "eight lines",
        }
    }
}

impl Fit {
    /// As it stands after *pictures*.
    pub fn words(self) -> &'static str {
        match self {
            Self::Cropped => "fill their frame",
            Self::Whole => "are shown whole",
        }
    }
}

impl CardSize {
    /// As it stands before *cards*.
    pub fn words(self) -> &'static str {
        match self {
            Self::Small => "small",
            Self::Middle => "middling",
            Self::Large => "large",
        }
    }
}

impl Default for Shape {
    fn default() -> Self {
        Shape::Rows(RowsShape::default())
    }
}

impl Shape {
    /// Rows as they are unless somebody says more.
    pub fn is_plain(&self) -> bool {
        *self == Shape::default()
    }

    /// The field without which there is no such shape.
    pub fn needs(&self) -> Option<FieldId> {
        match self {
            Shape::Lanes(lanes) => Some(lanes.by),
            Shape::Calendar(almanac) => almanac.dates.first().map(|date| date.start),
            Shape::Rows(_) | Shape::Cards(_) => None,
        }
    }

    /// The same as it is open to somebody: without the pictures that are not, and as rows where it can't be without its field.
    pub(super) fn as_open_to(&self, open: impl Fn(FieldId) -> bool) -> Shape {
        match self {
            Shape::Cards(cards) => Shape::Cards(Cards { picture: cards.picture.filter(|field| open(*field)), ..*cards }),
            Shape::Calendar(almanac) => {
                let dates = almanac.dates.iter().filter(|date| open(date.start));
                let dates: Vec<AlmanacDate> = dates.map(|date| AlmanacDate { end: date.end.filter(|end| open(*end)), ..*date }).collect();
                if dates.is_empty() { Shape::default() } else { Shape::Calendar(Almanac { dates, ..almanac.clone() }) }
            }
            other if other.needs().is_none_or(&open) => other.clone(),
            _ => Shape::default(),
        }
    }

    /// As it stands after *as* in a view's sentence.
    pub(super) fn words(&self, lens: &Lens<'_>, table: TableId) -> String {
        let name = |field: FieldId| {
            let def = lens.dataset().table(table).and_then(|home| home.def.field(field));
            def.map_or_else(|| "a field that is gone".to_owned(), |def| within_sentence(&def.name))
        };
        match self {
            Shape::Rows(RowsShape { height: RowHeight::One }) => "rows".to_owned(),
            Shape::Rows(RowsShape { height }) => format!("rows of {}", height.words()),
            Shape::Lanes(lanes) => format!("lanes by {}", name(lanes.by)),
            Shape::Calendar(almanac) => {
                let date = |date: &AlmanacDate| match date.end {
                    Some(end) => format!("{} to {}", name(date.start), name(end)),
                    None => name(date.start),
                };
                format!("a calendar by {}", list_text(&almanac.dates.iter().map(date).collect::<Vec<_>>(), "and"))
            }
            Shape::Cards(Cards { picture: Some(picture), .. }) => format!("cards with {}", name(*picture)),
            Shape::Cards(_) => "cards".to_owned(),
        }
    }
}

impl Query {
    /// Since when each record has stood in its lane.
    pub fn standing<'a>(&self, lens: &Lens<'a>, table: TableId) -> Option<Standing<'a>> {
        if let Shape::Lanes(lanes) = &self.shape { lens.standing(table, lanes.by) } else { None }
    }

    /// The shapes that a table can be shown in, as they are offered to somebody.
    pub fn shapes(&self, lens: &Lens<'_>, table: TableId) -> Vec<ShapeOffer> {
        let Some(home) = lens.dataset().table(table) else { return Vec::new() };
        let open = |fits: fn(&Kind) -> bool| -> Vec<FieldId> {
            let fits = |def: &&FieldDef| lens.dataset().shown_kind(table, def.id).is_some_and(|(_, kind)| fits(kind.shows()));
            home.def.fields.iter().filter(|def| lens.reads(table, def.id)).filter(fits).map(|def| def.id).collect()
        };
        let mut by = open(makes_lanes);
        // What the view is grouped by already, then what records are moved along by hand.
        let likely = |field: &FieldId| {
            let grouped = self.groups.iter().any(|group| group.field == *field);
            let kind = home.def.field(*field).map(|def| &def.kind);
            (!grouped, !matches!(kind, Some(Kind::Choice { .. })), !lens.writes(table, *field))
        };
        by.sort_by_key(likely);
        let mut dates = open(marks_days);
        dates.sort_by_key(|field| !lens.writes(table, *field));
        let pictures = open(|kind| matches!(kind, Kind::Files));
        let (one, many) = (&home.def.one, home.def.many());
        let lanes = by.first().map(|by| Shape::Lanes(Lanes { by: *by, away: Vec::new(), limits: Vec::new() }));
        let offer = |name: &str, says: String| ShapeOffer {
            name: name.to_owned(),
            says,
            by: Vec::new(),
            begins: None,
            missing: String::new(),
            makes: None,
        };
        let missing = if lanes.is_some() {
            String::new()
        } else {
            format!("Lanes stand by a choice, a person, a yes or no, or a link to one record, and no {one} has such a field.")
        };
        let cards = Shape::Cards(Cards { picture: pictures.first().copied(), ..Cards::default() });
        vec![
            ShapeOffer { begins: Some(Shape::default()), ..offer("rows", format!("Fields across, {many} down: to compare and to type.")) },
            ShapeOffer {
                makes: lanes.is_none().then(|| Kind::Choice { options: Vec::new(), on: None }).filter(|_| lens.builds()),
                begins: lanes,
                missing,
                by,
                ..offer("lanes", format!("One lane for each value of a field: to see where {many} stand, and to move them on."))
            },
            ShapeOffer {
                makes: dates.is_empty().then_some(Kind::Date).filter(|_| lens.builds()),
                begins: dates
                    .first()
                    .map(|start| Shape::Calendar(Almanac { dates: vec![AlmanacDate { start: *start, end: None }], cap: None })),
                missing: if dates.is_empty() {
                    format!("A calendar needs a day, and no {one} has a field of days.")
                } else {
                    String::new()
                },
                by: dates,
                ..offer("calendar", format!("Weeks as lines, days along them: to see when {many} are, and what has no day."))
            },
            ShapeOffer {
                begins: Some(cards),
                by: pictures,
                ..offer("cards", format!("A picture of each {one}, with what is said of it beneath."))
            },
        ]
    }

    /// What of its shape does not fit the table.
    pub(super) fn check_shape(&self, home: &crate::dataset::Table, shown: impl Fn(FieldId) -> Option<Kind>) -> Vec<Fault> {
        let bad = |message: String, at: &str| Fault::new(FaultKind::BadRule, message).at(at);
        let name = |field: FieldId| home.def.field(field).map_or("this field", |def| def.name.as_str());
        let mut faults = Vec::new();
        match &self.shape {
            Shape::Rows(_) => {}
            Shape::Calendar(Almanac { dates, .. }) => {
                let gone = "This view’s calendar goes by a field that is not there any more.";
                for field in dates.iter().flat_map(|date| std::iter::once(date.start).chain(date.end)) {
                    match shown(field) {
                        None => faults.push(bad(gone.to_owned(), "/shape/dates")),
                        Some(kind) if marks_days(&kind) => {}
                        Some(_) => faults
                            .push(bad(format!("“{}” holds no days: a calendar goes by days or moments.", name(field)), "/shape/dates")),
                    }
                }
                if dates.is_empty() || dates.len() > MOST_DATES {
                    faults.push(bad(format!("A calendar goes by one to {MOST_DATES} dates."), "/shape/dates"));
                }
            }
            Shape::Lanes(Lanes { by, away, limits }) => {
                match shown(*by) {
                    None => faults.push(bad("This view’s lanes stand by a field that is not there any more.".into(), "/shape/by")),
                    Some(kind) if !makes_lanes(&kind) => faults.push(bad(refusal(name(*by), &kind), "/shape/by")),
                    Some(_) => {}
                }
                if away.len() > MAX_LANES || limits.len() > MAX_LANES {
                    faults.push(Fault::new(FaultKind::TooLong, format!("At most {MAX_LANES} lanes are put away or limited.")).at("/shape"));
                }
            }
            Shape::Cards(Cards { picture: Some(picture), .. }) => match shown(*picture) {
                None => faults.push(bad("This view shows pictures of a field that is not there any more.".into(), "/shape/picture")),
                Some(Kind::Files) => {}
                Some(_) => faults.push(bad(format!("“{}” holds no pictures: choose a field of files.", name(*picture)), "/shape/picture")),
            },
            Shape::Cards(_) => {}
        }
        faults
    }
}

/// Whether lanes can stand by such a field: a record is in one of them alone.
fn makes_lanes(kind: &Kind) -> bool {
    moves_records(kind) || matches!(kind, Kind::CreatedBy | Kind::ChangedBy) || matches!(kind, Kind::Link(link) if link.one)
}

fn refusal(name: &str, kind: &Kind) -> String {
    match kind {
        Kind::Choices { .. } | Kind::People | Kind::Link(_) => {
            format!(
                "“{name}” can hold several values, so that a record would hang in several lanes at once. Choose a field of which each has one."
            )
        }
        _ => format!("Lanes stand by a choice, a person, a yes or no, or a link to one record. “{name}” is none of these."),
    }
}
