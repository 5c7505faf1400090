//! Cross-tab: figures of records, by what they have in common down the page and across it.

use super::lanes::makes_lanes;
use crate::{
    access::Lens,
    fault::{Fault, FaultKind},
    figure::Figure,
    id::{FieldId, TableId},
    schema::{Kind, within_sentence},
    sentence::Sentence,
    view::{Bucket, GroupBy},
};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};

/// Most fields one within the other down the page, and as many across it.
const MOST_LEVELS: usize = 2;
/// Most options that stand as strokes within a cell.
const MOST_WITHIN: usize = 12;

/// Figures of records, by what they have in common.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CrossTab {
    /// Whose values stand down the page; those of the second within each of the first.
    pub down: Vec<GroupBy>,
    /// Whose values stand across it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub across: Vec<GroupBy>,
    /// The choice whose options are told apart within each cell.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub within: Option<FieldId>,
    #[serde(default)]
    pub leads: CrossLead,
    #[serde(default)]
    pub share: CrossShare,
    #[serde(default)]
    pub order: CrossOrder,
    /// Values that no record has stand there too.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub empty: bool,
    /// The more a cell holds, the deeper its ground.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub heat: bool,
}

/// What stands first in each cell, is drawn, shared and put in order.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum CrossLead {
    /// How many records there are.
    #[default]
    Count,
    /// The first of the view's figures.
    Figure,
}

/// Of what each cell's share is told.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum CrossShare {
    /// Of the totals alone, and of all.
    #[default]
    None,
    Row,
    Column,
    All,
}

/// In which order the values down the page stand.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum CrossOrder {
    /// As their field orders them.
    #[default]
    Field,
    Most,
    Least,
}

impl CrossShare {
    /// In the order in which they are offered.
    pub const ALL: [Self; 4] = [Self::None, Self::Row, Self::Column, Self::All];

    /// As it is offered.
    pub fn words(self) -> &'static str {
        match self {
            Self::None => "of the totals alone",
            Self::Row => "of the row",
            Self::Column => "of the column",
            Self::All => "of all",
        }
    }
}

impl CrossOrder {
    /// In the order in which they are offered.
    pub const ALL: [Self; 3] = [Self::Field, Self::Most, Self::Least];

    /// As it stands in a view's sentence.
    pub fn words(self) -> &'static str {
        match self {
            Self::Field => "in their own order",
            Self::Most => "most first",
            Self::Least => "least first",
        }
    }
}

impl CrossTab {
    /// By one field down the page, counted.
    pub fn by(down: GroupBy) -> Self {
        Self {
            down: vec![down],
            across: Vec::new(),
            within: None,
            leads: CrossLead::Count,
            share: CrossShare::None,
            order: CrossOrder::Field,
            empty: true,
            heat: false,
        }
    }

    /// What its records stand together by: down, across, and within.
    pub(in crate::view) fn grouping(&self) -> Vec<GroupBy> {
        self.down.iter().chain(&self.across).copied().chain(self.within.map(GroupBy::of)).collect()
    }

    /// The same as it is open to somebody; nothing where none of the fields down the page is.
    pub(super) fn as_open_to(&self, open: &dyn Fn(FieldId) -> bool) -> Option<Self> {
        let kept = |axis: &[GroupBy]| axis.iter().filter(|by| open(by.field)).copied().collect::<Vec<_>>();
        let down = kept(&self.down);
        let within = self.within.filter(|field| open(*field));
        (!down.is_empty()).then(|| Self { down, across: kept(&self.across), within, ..self.clone() })
    }

    /// What of it does not fit its table.
    pub(super) fn check<'k>(&self, name: impl Fn(FieldId) -> &'k str, shown: impl Fn(FieldId) -> Option<Kind>) -> Vec<Fault> {
        let bad = |message: String, at: String| Fault::new(FaultKind::BadRule, message).at(at);
        let mut faults = Vec::new();
        for (axis, way) in [(&self.down, "down"), (&self.across, "across")] {
            if axis.len() > MOST_LEVELS {
                faults.push(bad(
                    format!("At most {MOST_LEVELS} fields stand one within the other {way} a cross-tab."),
                    format!("/shape/{way}"),
                ));
            }
            for (place, by) in axis.iter().enumerate() {
                let refused = match shown(by.field) {
                    None => Some("This cross-tab names a field that is not there any more.".to_owned()),
                    Some(kind) => refusal(name(by.field), &kind, by),
                };
                faults.extend(refused.map(|message| bad(message, format!("/shape/{way}/{place}"))));
            }
        }
        if self.down.is_empty() {
            faults.push(bad("A cross-tab needs a field whose values stand down the page.".into(), "/shape/down".into()));
        }
        match self.within.map(|field| (field, shown(field))) {
            Some((_, None)) => faults.push(bad("This cross-tab names a field that is not there any more.".into(), "/shape/within".into())),
            Some((field, Some(kind))) if !stands_within(&kind) => faults.push(bad(
                format!("Within a cell stand the options of a choice, {MOST_WITHIN} at most. “{}” has none, or more.", name(field)),
                "/shape/within".into(),
            )),
            _ => {}
        }
        faults
    }

    /// *district down, reported on by month across, status within, counted, most first*, each at its place below `at`.
    pub(crate) fn say(&self, s: &mut Sentence, lens: &Lens<'_>, table: TableId, figures: bool, at: &str) {
        let name = |field: FieldId| {
            let def = lens.dataset().table(table).and_then(|home| home.def.field(field));
            def.map_or_else(|| "a field that is gone".to_owned(), |def| within_sentence(&def.name))
        };
        for (axis, way) in [(&self.down, "down"), (&self.across, "across")] {
            for (place, by) in axis.iter().enumerate() {
                s.plain(if place == 0 { ", " } else { " and " });
                s.edit(format!("{}{}", name(by.field), by.run_words()), format!("{at}/shape/{way}/{place}"));
            }
            if !axis.is_empty() {
                s.plain(format!(" {way}"));
            }
        }
        if let Some(within) = self.within {
            s.plain(", ");
            s.edit(name(within), format!("{at}/shape/within"));
            s.plain(" within");
        }
        if !self.leads_with(figures) {
            s.plain(", ");
            s.edit("counted", format!("{at}/shape/leads"));
        }
        if self.order != CrossOrder::Field {
            s.plain(", ");
            s.edit(self.order.words(), format!("{at}/shape/order"));
        }
        if self.share != CrossShare::None {
            s.plain(", ");
            s.edit(format!("with shares {}", self.share.words()), format!("{at}/shape/share"));
        }
    }

    /// Whether its cells lead with the first figure, where there are any.
    pub(crate) fn leads_with(&self, figures: bool) -> bool {
        figures && self.leads == CrossLead::Figure
    }
}

/// Whether the values of such a field can stand down or across.
pub(super) fn crosses(kind: &Kind) -> bool {
    makes_lanes(kind) || kind.is_of_days() || kind.is_number() || matches!(kind, Kind::Text { .. })
}

/// Whether the options of such a field can be told apart within a cell.
pub(super) fn stands_within(kind: &Kind) -> bool {
    matches!(kind, Kind::Choice { options, .. } if (1..=MOST_WITHIN).contains(&options.len()))
}

/// Whether shares of such a figure can be told: parts of it make up the whole.
pub(in crate::view) fn has_shares(figure: Figure) -> bool {
    matches!(figure, Figure::Count | Figure::Filled | Figure::Sum)
}

/// Why a field can't stand down or across so.
fn refusal(name: &str, kind: &Kind, by: &GroupBy) -> Option<String> {
    match kind {
        Kind::Choices { .. } | Kind::People | Kind::Link(_) if !crosses(kind) => Some(format!(
            "“{name}” can hold several values, so that a record would be counted several times. Choose a field of which each has one."
        )),
        kind if !crosses(kind) => Some(format!(
            "A cross-tab stands by choices, people, links to one record, days, numbers, a yes or no, or texts. “{name}” is none of these."
        )),
        Kind::Range if by.by == Bucket::Value => {
            Some(format!("“{name}” holds stretches of days: they stand by the week, month, quarter or year in which they begin."))
        }
        kind if !by.by.is_value() && !kind.is_of_days() => {
            Some("Only days and moments stand together by week, month, quarter or year.".to_owned())
        }
        _ => None,
    }
}

/// How wide a step of numbers may be.
pub(in crate::view) fn step_refusal(kind: &Kind, step: Decimal) -> Option<&'static str> {
    if !kind.is_number() {
        Some("Only numbers stand together in steps.")
    } else if step <= Decimal::ZERO {
        Some("A step is more than nothing.")
    } else {
        None
    }
}
