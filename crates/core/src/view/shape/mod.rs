//! The shape in which a view shows its records, and what each shape needs.

mod cards;
mod crosstab;
mod lanes;
mod offers;
mod rows;

pub use cards::{CardSize, Cards, Fit};
pub use crosstab::{CrossLead, CrossOrder, CrossShare, CrossTab};
pub(super) use crosstab::{has_shares, step_refusal};
pub use lanes::{LaneLimit, Lanes};
pub use offers::ShapeOffer;
pub use rows::{LineWeight, RowHeight, RowsShape};

use super::{
    Query,
    almanac::{Almanac, AlmanacDate},
};
use crate::{
    access::Lens,
    dataset::{Dataset, Standing},
    fault::{Fault, FaultKind},
    id::{FieldId, TableId},
    schema::{Kind, within_sentence},
    value::list_text,
};
use lanes::{MAX_LANES, makes_lanes, refusal};
use serde::{Deserialize, Serialize};

/// The shape of a view, with what only that shape needs.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "as", rename_all = "lowercase")]
pub enum Shape {
    Rows(RowsShape),
    Lanes(Lanes),
    Calendar(Almanac),
    Cards(Cards),
    #[serde(rename = "cross-tab")]
    CrossTab(CrossTab),
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
            Shape::CrossTab(tab) => tab.down.first().map(|by| by.field),
            Shape::Rows(_) | Shape::Cards(_) => None,
        }
    }

    /// The same as it is open to somebody: without the pictures that are not, and as rows where it can't be without its field.
    pub(super) fn as_open_to(&self, open: &dyn Fn(FieldId) -> bool) -> Shape {
        match self {
            Shape::Cards(cards) => Shape::Cards(Cards {
                picture: cards.picture.filter(|field| open(*field)),
                length: cards.length.filter(|field| open(*field)),
                strokes: cards.strokes.filter(|field| open(*field)),
                ..*cards
            }),
            Shape::Lanes(lanes) if open(lanes.by) => {
                Shape::Lanes(Lanes { picture: lanes.picture.filter(|field| open(*field)), ..lanes.clone() })
            }
            Shape::Calendar(almanac) => almanac.as_open_to(open).map(Shape::Calendar).unwrap_or_default(),
            Shape::CrossTab(tab) => tab.as_open_to(open).map(Shape::CrossTab).unwrap_or_default(),
            other if other.needs().is_none_or(open) => other.clone(),
            _ => Shape::default(),
        }
    }

    /// The same as a shared page has it: what tells how much there should be, who is bound by the hour and what lies beneath is for
    /// those who work here, and how rows are drawn is the page’s own.
    #[must_use]
    pub fn outside(&self) -> Shape {
        match self {
            Shape::Rows(_) => Shape::default(),
            Shape::Lanes(lanes) => Shape::Lanes(Lanes { order: lanes.order.clone(), ..Lanes::by(lanes.by) }),
            Shape::Calendar(almanac) => Shape::Calendar(Almanac::by(almanac.dates.clone())),
            Shape::Cards(cards) => Shape::Cards(*cards),
            Shape::CrossTab(tab) => Shape::CrossTab(CrossTab { heat: false, ..tab.clone() }),
        }
    }

    /// What is said of it beside its name, each at its place in the shape: *a line for each crew leader*.
    pub(super) fn further_words(&self, lens: &Lens<'_>, table: TableId) -> Vec<(String, &'static str)> {
        let Shape::Calendar(almanac) = self else { return Vec::new() };
        let home = lens.dataset().table(table);
        let who = almanac.who.and_then(|who| home?.def.field(who));
        let who = who.map(|def| (format!("a line for each {}", within_sentence(&def.name)), "who"));
        let beneath = almanac.beneath.filter(|beneath| lens.opens(beneath.table));
        let beneath = beneath.and_then(|beneath| lens.dataset().table(beneath.table));
        who.into_iter().chain(beneath.map(|home| (format!("over {}", home.def.many()), "beneath"))).collect()
    }

    /// As it stands after *as* in a view's sentence.
    pub(crate) fn words(&self, lens: &Lens<'_>, table: TableId) -> String {
        let name = |field: FieldId| {
            let def = lens.dataset().table(table).and_then(|home| home.def.field(field));
            def.map_or_else(|| "a field that is gone".to_owned(), |def| within_sentence(&def.name))
        };
        match self {
            Shape::Rows(rows) => rows.words(),
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
            Shape::CrossTab(_) => "a cross-tab".to_owned(),
        }
    }
}

impl Query {
    /// Since when each record has stood in its lane.
    pub fn standing<'a>(&self, lens: &Lens<'a>, table: TableId) -> Option<Standing<'a>> {
        if let Shape::Lanes(lanes) = &self.shape { lens.standing(table, lanes.by) } else { None }
    }

    /// What of its shape does not fit the table.
    pub(super) fn check_shape(&self, ds: &Dataset, table: TableId, shown: impl Fn(FieldId) -> Option<Kind>) -> Vec<Fault> {
        let Some(home) = ds.table(table) else { return Vec::new() };
        let bad = |message: String, at: &str| Fault::new(FaultKind::BadRule, message).at(at);
        let name = |field: FieldId| home.def.field(field).map_or("this field", |def| def.name.as_str());
        let no_pictures = |field: FieldId, at: &str| match shown(field) {
            None => Some(bad("This view shows pictures of a field that is not there any more.".into(), at)),
            Some(Kind::Files) => None,
            Some(_) => Some(bad(format!("“{}” holds no pictures: choose a field of files.", name(field)), at)),
        };
        let mut faults = Vec::new();
        match &self.shape {
            Shape::Rows(_) => {}
            Shape::Calendar(almanac) => faults.extend(almanac.check(ds, name, &shown)),
            Shape::CrossTab(tab) => faults.extend(tab.check(name, &shown)),
            Shape::Lanes(lanes) => {
                let by = &lanes.by;
                match shown(*by) {
                    None => faults.push(bad("This view’s lanes stand by a field that is not there any more.".into(), "/shape/by")),
                    Some(kind) if !makes_lanes(&kind) => faults.push(bad(refusal(name(*by), &kind), "/shape/by")),
                    Some(_) => {}
                }
                if lanes.says_too_much() {
                    let message = format!("Of at most {MAX_LANES} lanes it is said where they stand, how wide they are or what they hold.");
                    faults.push(Fault::new(FaultKind::TooLong, message).at("/shape"));
                }
                faults.extend(lanes.picture.and_then(|picture| no_pictures(picture, "/shape/picture")));
            }
            Shape::Cards(cards) => {
                faults.extend(cards.picture.and_then(|picture| no_pictures(picture, "/shape/picture")));
                for (field, at) in [(cards.length, "/shape/length"), (cards.strokes, "/shape/strokes")] {
                    match field.map(|field| (field, shown(field))) {
                        Some((_, None)) => faults.push(bad("This view draws a field that is not there any more.".into(), at)),
                        Some((field, Some(kind))) if !kind.is_number() => {
                            faults.push(bad(format!("“{}” holds no numbers: only a number is drawn.", name(field)), at));
                        }
                        _ => {}
                    }
                }
            }
        }
        faults
    }
}
