//! Views: saved ways of looking at one table.

mod almanac;
mod bucket;
mod check;
mod crosstab;
mod found;
mod group;
mod hits;
mod level;
mod like;
mod moving;
mod own;
mod rank;
mod refs;
mod rows;
mod rules;
mod shape;
mod slip;
mod sums;
mod tally;
mod window;
mod words;

pub use almanac::{
    Almanac, AlmanacDate, AlmanacDay, AlmanacWeek, Asked, Beneath, Carrier, DayHours, FreeOf, FreeStretch, HourStroke, Length, MOST_DAYS,
    MOST_HOURS, MOST_OF_A_DAY, Mark, Stretch, Thread, Twice, WorkingHours,
};
pub use bucket::Bucket;
pub use crosstab::{CrossCell, CrossHead, CrossPart, CrossRecords, CrossSheet, Crossed};
pub(crate) use found::leaves_out;
pub use found::{Found, Outcome, Slice, Whole, Window};
pub use group::Group;
pub use hits::{Hit, Hits};
pub use like::Likeness;
pub use moving::{MoveRehearsal, Moving};
pub use own::{OrderOf, Ordering, OwnOrder, Placed, Rank, Spot};
pub use rows::{Candidate, CellView, Drawn, Row, Waiting};
pub use shape::{
    CardSize, Cards, CrossLead, CrossOrder, CrossShare, CrossTab, Fit, LaneLimit, Lanes, LineWeight, RowHeight, RowsShape, Shape,
    ShapeOffer,
};
pub use slip::{FieldSlip, SlipAct, SlipClause, SlipDrawing, SlipPhrase, SlipRun, SlipValue, SlipYear};
pub use tally::TallyFigure;
pub use words::PartAlone;
pub(crate) use words::{condition_phrases, counted, figure_words, group_words, sort_words};

use crate::{
    access::{FieldRight, Reach, TableRights},
    condition::Condition,
    figure::Figure,
    id::{FieldId, HighlightId, PersonId, TableId, ViewId},
    names::{Name, Names},
};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// Most levels of groups.
pub const MAX_GROUPS: usize = 3;
/// Most sorts.
pub const MAX_SORTS: usize = 5;

/// A saved view.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct View {
    pub id: ViewId,
    pub table: TableId,
    pub name: String,
    /// What it is for.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub about: String,
    /// It stays as it is until somebody opens it again.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub locked: bool,
    /// Its place among those of its table that are the team’s, or among those of its owner; of one place, by their numbers.
    #[serde(default, skip_serializing_if = "is_first")]
    pub place: u32,
    /// Whose it is; nobody's: the team's.
    pub owner: Option<PersonId>,
    pub query: Query,
    /// Those to whom it is given by itself, whatever roles they hold: its records, in its fields, and nothing else.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub given: BTreeMap<PersonId, GivenRight>,
}

/// What somebody to whom a view is given may do in it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum GivenRight {
    Look,
    /// Change what it shows, too.
    Change,
}

#[allow(clippy::trivially_copy_pass_by_ref, reason = "serde asks so")]
fn is_first(place: &u32) -> bool {
    *place == 0
}

impl View {
    /// A view of the team.
    pub fn new(id: ViewId, table: TableId, name: &str, query: Query) -> Self {
        Self { id, table, name: name.to_owned(), about: String::new(), locked: false, place: 0, owner: None, query, given: BTreeMap::new() }
    }

    /// What it gives somebody by itself.
    pub(crate) fn gives(&self, person: PersonId) -> Option<TableRights> {
        let given = self.given.get(&person)?;
        let reach = if self.query.condition.is_nothing() { Reach::All } else { Reach::Where(self.query.condition.clone()) };
        let (change, of_fields) = match given {
            GivenRight::Look => (Reach::None, FieldRight::Read),
            GivenRight::Change => (reach.clone(), FieldRight::Change),
        };
        Some(TableRights {
            look: reach,
            change,
            fields: self.query.fields.iter().map(|shown| (shown.field, of_fields)).collect(),
            rest: FieldRight::Hidden,
            // Whoever gives it gives what it shows, computed or not.
            released: self.query.fields.iter().map(|shown| shown.field).collect(),
            ..TableRights::default()
        })
    }
}

/// What a view shows, in which order, and in which shape.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Query {
    #[serde(default)]
    pub condition: Condition,
    #[serde(default)]
    pub groups: Vec<GroupBy>,
    #[serde(default)]
    pub sorts: Vec<Order>,
    pub fields: Vec<ShownField>,
    #[serde(default)]
    pub tallies: Vec<Tally>,
    #[serde(default, skip_serializing_if = "Shape::is_plain")]
    pub shape: Shape,
    /// The table's highlights that are off here.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub without: BTreeSet<HighlightId>,
}

/// A field by whose values records stand together.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct GroupBy {
    pub field: FieldId,
    /// Of days and moments, how long a run of them stands together.
    #[serde(default, skip_serializing_if = "Bucket::is_value")]
    pub by: Bucket,
    /// Of numbers, how wide a run of them stands together: from 0 to under 5, from 5 to under 10.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<Decimal>,
    /// Last first. What has no value stands at the end either way.
    #[serde(default)]
    pub descending: bool,
    /// Values are shown that no record has, where they are few: they take records.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub empty: bool,
}

impl GroupBy {
    /// By each value of a field, first to last.
    pub fn of(field: FieldId) -> Self {
        Self { field, by: Bucket::Value, step: None, descending: false, empty: false }
    }

    /// What is said behind the field's name: * by month*, * in steps of 5*, *, last first*.
    pub(crate) fn run_words(&self) -> String {
        let run = if self.by.is_value() { String::new() } else { format!(" {}", self.by.words()) };
        let steps = self.step.map(|step| format!(" in steps of {}", step.normalize())).unwrap_or_default();
        format!("{run}{steps}{}", if self.descending { ", last first" } else { "" })
    }
}

/// A field by which records are put in order.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Order {
    pub field: FieldId,
    /// Last first. Empty cells stand at the end either way.
    #[serde(default)]
    pub descending: bool,
}

/// A field that a view shows.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ShownField {
    pub field: FieldId,
    /// In CSS pixels.
    pub width: u16,
}

/// A figure under a field.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Tally {
    pub field: FieldId,
    pub figure: Figure,
}

/// Most fields that a query shows, and most figures under them.
pub const MAX_FIELDS: usize = 400;

impl Query {
    /// What its records stand together by: lanes first of all by their field, empty ones too, and within by at most one more.
    pub fn grouping(&self) -> Vec<GroupBy> {
        match &self.shape {
            Shape::Lanes(lanes) => {
                let bands = self.groups.iter().filter(|band| band.field != lanes.by).take(1).copied();
                std::iter::once(GroupBy { empty: true, ..GroupBy::of(lanes.by) }).chain(bands).collect()
            }
            Shape::Rows(_) | Shape::Cards(_) => self.groups.clone(),
            // Its days are its groups, or its rows and columns.
            Shape::Calendar(_) | Shape::CrossTab(_) => Vec::new(),
        }
    }

    /// Whether its records have an order: a calendar’s have days, those of a cross-tab stand in its cells.
    pub fn is_ordered(&self) -> bool {
        !matches!(self.shape, Shape::Calendar(_) | Shape::CrossTab(_))
    }

    /// Every field that it names: shown, grouped, sorted, counted or asked for.
    pub fn named_fields(&self) -> BTreeSet<FieldId> {
        let mut named = BTreeSet::new();
        self.names(&mut |name, _| {
            if let Name::Field(field) = name {
                named.insert(field);
            }
        });
        named
    }
}
