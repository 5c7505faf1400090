//! What can be figured over several cells: under a view, over linked records, and wherever figures come.

use crate::schema::Kind;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};

/// A figure over the cells of one field, or for [`Figure::Count`] over records.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Figure {
    /// How many records there are.
    Count,
    /// How many cells hold something.
    Filled,
    /// How many different values there are.
    Different,
    Sum,
    Average,
    /// The one in the middle; of an even number of values, half way between the two.
    Median,
    Least,
    Most,
    Earliest,
    Latest,
    /// Of the cells that say yes or no, the share that says yes.
    Share,
    List,
    /// The list with each value once.
    Each,
}

impl Figure {
    /// In the order in which they are offered.
    pub const ALL: [Self; 13] = [
        Self::Count,
        Self::Filled,
        Self::Different,
        Self::Sum,
        Self::Average,
        Self::Median,
        Self::Least,
        Self::Most,
        Self::Earliest,
        Self::Latest,
        Self::Share,
        Self::List,
        Self::Each,
    ];

    /// How the figure is shown, by the kind that it is of; none where they do not go together.
    pub fn shown(self, of: Option<&Kind>) -> Option<Kind> {
        let how_many = || Kind::Number { decimals: 0, unit: String::new() };
        match self {
            Self::Count => Some(how_many()),
            Self::Filled | Self::Different => of.filter(|k| !matches!(k, Kind::Button { .. })).map(|_| how_many()),
            Self::Sum | Self::Least | Self::Most => of.filter(|k| k.is_number()).cloned(),
            Self::Average | Self::Median => of.filter(|k| k.is_number()).map(|kind| match kind {
                Kind::Rating { .. } => Kind::Number { decimals: 1, unit: String::new() },
                other => other.clone(),
            }),
            Self::Earliest | Self::Latest => of.and_then(|kind| match kind {
                Kind::Date => Some(Kind::Date),
                Kind::DateTime | Kind::CreatedAt | Kind::ChangedAt => Some(Kind::DateTime),
                _ => None,
            }),
            Self::Share => of.filter(|k| matches!(k, Kind::YesNo)).map(|_| Kind::Percent { decimals: 0 }),
            Self::List | Self::Each => of.map(|_| Kind::Text { limit: crate::formula::TEXT_RESULT_LIMIT }),
        }
    }

    /// Whether what it gives of parts makes together what it gives of all.
    pub fn adds_up(self) -> bool {
        matches!(self, Self::Count | Self::Filled | Self::Sum)
    }

    /// Whether it is one line however many cells there are, so that it can stand under a view or at the head of a group.
    pub fn is_short(self) -> bool {
        !matches!(self, Self::List | Self::Each)
    }

    /// As it stands after *take*.
    pub fn name(self) -> &'static str {
        match self {
            Self::Count => "how many",
            Self::Filled => "how many hold something",
            Self::Different => "how many different ones",
            Self::Sum => "the sum",
            Self::Average => "the average",
            Self::Median => "the middle one",
            Self::Least => "the least",
            Self::Most => "the most",
            Self::Earliest => "the earliest",
            Self::Latest => "the latest",
            Self::Share => "the share of yes",
            Self::List => "the list",
            Self::Each => "each different one",
        }
    }

    /// As it stands before what it is of.
    pub(crate) fn words(self) -> &'static str {
        match self {
            Self::Count => "the count of",
            Self::Filled => "how many hold something of",
            Self::Different => "how many different values of",
            Self::Sum => "the sum of",
            Self::Average => "the average",
            Self::Median => "the middle one of",
            Self::Least => "the least",
            Self::Most => "the most",
            Self::Earliest => "the earliest",
            Self::Latest => "the latest",
            Self::Share => "the share of yes in",
            Self::List => "the list of",
            Self::Each => "each different",
        }
    }

    /// A word for it beside a figure: *sum 14.5*.
    pub fn word(self) -> &'static str {
        match self {
            Self::Count => "count",
            Self::Filled => "filled",
            Self::Different => "different",
            Self::Sum => "sum",
            Self::Average => "average",
            Self::Median => "middle",
            Self::Least => "least",
            Self::Most => "most",
            Self::Earliest => "earliest",
            Self::Latest => "latest",
            Self::Share => "yes",
            Self::List => "list",
            Self::Each => "each",
        }
    }
}

/// The number in the middle; of an even number, half way between the two. Nothing of none.
pub(crate) fn middle(mut all: Vec<Decimal>) -> Option<Decimal> {
    let half = all.len() / 2;
    if half >= all.len() {
        return None;
    }
    let even = all.len().is_multiple_of(2);
    let (below, middle, _) = all.select_nth_unstable(half);
    let (middle, under) = (*middle, below.iter().max().copied().filter(|_| even));
    under.map_or(Some(middle), |under| under.checked_add(middle)?.checked_div(Decimal::TWO)).map(crate::formula::settle)
}
