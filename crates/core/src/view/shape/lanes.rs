//! Lanes: one for each value of a field.

use crate::{
    dataset::moves_records,
    id::FieldId,
    schema::Kind,
    value::{CellValue, Value},
};
use serde::{Deserialize, Serialize};

/// Most lanes that are said something of.
pub(super) const MAX_LANES: usize = 200;

/// One lane for each value of a field.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Lanes {
    pub by: FieldId,
    /// The values of lanes that are put away: they take records and are not shown whole.
    #[serde(default)]
    pub away: Vec<CellValue>,
    /// The values of lanes that stand first, in this order; the others stand behind them as their field orders them.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub order: Vec<CellValue>,
    /// The values of lanes that take little room: names alone.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub narrow: Vec<CellValue>,
    /// The field of files whose first picture stands in an entry.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub picture: Option<FieldId>,
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

impl Lanes {
    /// One for each value of a field, all alike.
    pub fn by(field: FieldId) -> Self {
        Self { by: field, away: Vec::new(), order: Vec::new(), narrow: Vec::new(), picture: None, limits: Vec::new() }
    }

    /// What is said of single lanes, with the most that is said so.
    pub(super) fn says_too_much(&self) -> bool {
        let Self { by: _, picture: _, away, order, narrow, limits } = self;
        [away.len(), order.len(), narrow.len(), limits.len()].iter().any(|said| *said > MAX_LANES)
    }

    /// Puts lanes that are numbered in their field's order into the view's: which place each has.
    pub(in crate::view) fn places(&self, values: &[Value]) -> Vec<usize> {
        let rank = |value: &Value| self.order.iter().position(|named| named == value).unwrap_or(usize::MAX);
        let mut by_order: Vec<usize> = (0..values.len()).collect();
        by_order.sort_by_key(|at| values.get(*at).map_or(usize::MAX, rank));
        by_order
    }
}

/// Whether lanes can stand by such a field: a record is in one of them alone.
pub(super) fn makes_lanes(kind: &Kind) -> bool {
    moves_records(kind) || matches!(kind, Kind::CreatedBy | Kind::ChangedBy) || matches!(kind, Kind::Link(link) if link.one)
}

/// Why lanes can’t stand by a field.
pub(super) fn refusal(name: &str, kind: &Kind) -> String {
    match kind {
        Kind::Choices { .. } | Kind::People | Kind::Link(_) => {
            format!(
                "“{name}” can hold several values, so that a record would hang in several lanes at once. Choose a field of which each has one."
            )
        }
        _ => format!("Lanes stand by a choice, a person, a yes or no, or a link to one record. “{name}” is none of these."),
    }
}
