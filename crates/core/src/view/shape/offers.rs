//! The shapes that a table can be shown in, as they are offered to somebody.

use super::{
    Cards, CrossTab, Lanes, Shape,
    crosstab::{crosses, stands_within},
    lanes::makes_lanes,
};
use crate::{
    access::Lens,
    id::{FieldId, TableId},
    schema::{FieldDef, Kind},
    view::{
        Bucket, GroupBy, Query,
        almanac::{Almanac, AlmanacDate, marks_days},
    },
};
use serde::{Deserialize, Serialize};

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

impl Query {
    /// A cross-tab as it begins: by what the view is grouped by or a likely field, across by the months of a day, or by another field.
    fn cross(&self, by: &[FieldId], dates: &[FieldId], choices: Vec<FieldId>) -> Option<CrossTab> {
        let by_month = |field: &FieldId| GroupBy { by: Bucket::Month, ..GroupBy::of(*field) };
        let mut down = by.iter().map(|field| GroupBy::of(*field));
        let days = dates.first().map(by_month);
        let first = down.next().or(days)?;
        let across = days.filter(|days| days.field != first.field).or(down.next());
        let named = |field: FieldId| first.field == field || across.is_some_and(|by| by.field == field);
        let within = choices.into_iter().find(|field| !named(*field));
        Some(CrossTab { across: across.into_iter().collect(), within, ..CrossTab::by(first) })
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
        let cross = self.cross(&by, &dates, open(stands_within));
        let mut crossed = by.clone();
        crossed.extend(dates.iter().copied().chain(open(crosses)));
        let mut seen = std::collections::HashSet::new();
        crossed.retain(|field| seen.insert(*field));
        let pictures = open(|kind| matches!(kind, Kind::Files));
        let (one, many) = (&home.def.one, home.def.many());
        let lanes = by.first().map(|by| Shape::Lanes(Lanes::by(*by)));
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
                begins: dates.first().map(|start| Shape::Calendar(Almanac::by(vec![AlmanacDate::of(*start)]))),
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
            ShapeOffer {
                missing: if cross.is_none() {
                    format!("A cross-tab stands by what {many} have in common: a choice, a person, a day. No {one} has such a field.")
                } else {
                    String::new()
                },
                begins: cross.map(Shape::CrossTab),
                by: crossed,
                ..offer(
                    "cross-tab",
                    format!("How many {many} there are, or a figure of them, by what they have in common down and across."),
                )
            },
        ]
    }
}
