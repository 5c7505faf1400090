//! Dashboards: pages of figures over one or several trackers. A dashboard belongs to the team; each reader sees it through their own
//! lenses, tile by tile, so that it counts what its reader may see.

mod check;
mod days;
mod dots;
mod only;
mod statement;
mod told;

pub use check::check_dashboard;
pub use days::{BoardDay, BoardEntry};
pub use dots::{Dot, Dots};
pub use only::BoardCondition;
pub use statement::{StatementLine, StatementTold};
pub use told::TileTold;

use crate::{
    condition::Condition,
    id::{DashboardId, FieldId, GroupId, PersonId, TableId, TrackerId},
    people::People,
    value::list_text,
    view::{Bucket, Query, Tally},
};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// A page of figures.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Dashboard {
    pub id: DashboardId,
    pub name: String,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub about: String,
    /// Who made it, and changes it.
    pub owner: PersonId,
    #[serde(default)]
    pub open: DashboardOpen,
    /// In how many columns its tiles stand where there is room, from 1 to 3.
    pub columns: u8,
    #[serde(default)]
    pub tiles: Vec<Tile>,
    /// What holds of every tile that looks at a table.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub only: Vec<BoardCondition>,
}

/// Who may look at a dashboard. What its tiles tell each of them is for their roles to say.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum DashboardOpen {
    /// Whoever made it.
    #[default]
    Own,
    /// These, too.
    Groups(BTreeSet<GroupId>),
    /// Everybody of the team.
    Team,
}

/// One of the things that stand on a dashboard.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Tile {
    /// What it is known by among those of its dashboard, however they are ordered.
    pub key: u32,
    /// Words of one's own above its sentence.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub title: String,
    /// Over how many columns it stands.
    pub width: u8,
    pub shows: TileShows,
}

/// What a tile shows.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "as", rename_all = "lowercase")]
pub enum TileShows {
    /// Words.
    Text { text: String },
    /// Figures, one under the other as in an account.
    Statement(Statement),
    /// A view of a table: its first records, or a dot for each; its days that come; or a cross-tab as a table or drawn.
    View(Box<TileView>),
}

/// A view on a dashboard.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TileView {
    pub tracker: TrackerId,
    pub table: TableId,
    pub query: Query,
    #[serde(default)]
    pub draws: Draws,
    /// Of a list, how many records; of bars and days, how many of them.
    pub most: u16,
}

/// How a view on a dashboard is drawn.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Draws {
    /// As it is: records in a list, figures in rows and columns.
    #[default]
    Table,
    /// A bar for each value down.
    Bars,
    /// A line along the values down, one for each value across.
    Lines,
    /// The same, laid one on the other.
    Areas,
    /// One length for all, in it a part for each value down.
    Parts,
    /// Of records: a dot for each, by its first two fields of numbers.
    Dots,
}

impl Draws {
    /// Those of a cross-tab, in the order in which they are offered.
    pub const OF_FIGURES: [Self; 5] = [Self::Table, Self::Bars, Self::Lines, Self::Areas, Self::Parts];

    /// As it stands after *as*.
    pub fn words(self) -> &'static str {
        match self {
            Self::Table => "a table",
            Self::Bars => "bars",
            Self::Lines => "lines",
            Self::Areas => "areas laid on each other",
            Self::Parts => "parts of a whole",
            Self::Dots => "dots",
        }
    }
}

/// Figures, one under the other.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Statement {
    pub tracker: TrackerId,
    /// The run of days that is told, and beside it the one before to the same day; none: all that there is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub run: Option<Bucket>,
    pub lines: Vec<Line>,
}

/// A line of a statement.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Line {
    pub words: String,
    pub of: LineOf,
    /// What it should come to: how far it has come is told beside it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub target: Option<Decimal>,
}

impl Line {
    /// A line without a target.
    pub fn of(words: &str, of: LineOf) -> Self {
        Self { words: words.to_owned(), of, target: None }
    }
}

/// What a line of a statement is of.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum LineOf {
    Records(LineRecords),
    /// What the lines above make together, since the last of these.
    Total,
    /// The share that one line above is of another; both by their places, from 0.
    Share {
        part: usize,
        whole: usize,
    },
    /// How much of one line above there is for each of another.
    Per {
        what: usize,
        each: usize,
    },
}

/// Records that a line figures over.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LineRecords {
    pub table: TableId,
    #[serde(default)]
    pub condition: Condition,
    /// None: how many there are.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub figure: Option<Tally>,
    /// The day that lies in the statement's run; none: it is told as of now, with nothing beside it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub day: Option<FieldId>,
    #[serde(default)]
    pub sign: LineSign,
}

/// What a line does to the total under it.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum LineSign {
    #[default]
    Plus,
    Minus,
    /// Nothing.
    Beside,
}

impl Dashboard {
    /// Whether somebody may look at it.
    pub fn is_open_to(&self, person: PersonId, people: &People) -> bool {
        person == self.owner
            || match &self.open {
                DashboardOpen::Own => false,
                DashboardOpen::Groups(groups) => groups.iter().any(|group| people.is_in(*group, person)),
                DashboardOpen::Team => true,
            }
    }

    /// Whether it is another one, open to fewer groups and otherwise the same.
    pub(crate) fn only_closes(&self, before: &Dashboard) -> bool {
        let DashboardOpen::Groups(were) = &before.open else { return false };
        let fewer = match &self.open {
            DashboardOpen::Own => true,
            DashboardOpen::Groups(groups) => groups.is_subset(were),
            DashboardOpen::Team => false,
        };
        fewer && Dashboard { open: before.open.clone(), ..self.clone() } == *before
    }

    /// Whether it is the same but for whose it is.
    pub(crate) fn only_goes_over(&self, before: &Dashboard) -> bool {
        self.owner != before.owner && Dashboard { owner: before.owner, ..self.clone() } == *before
    }

    /// *Open to Wardens and Office; it counts what its reader may see.*
    pub fn open_says(&self, people: &People) -> String {
        let to = match &self.open {
            DashboardOpen::Own => return format!("For {} alone", people.name(self.owner)),
            DashboardOpen::Team => "everybody of the team".to_owned(),
            DashboardOpen::Groups(groups) => {
                let names: Vec<&str> = groups.iter().filter_map(|group| Some(people.group(*group)?.name.as_str())).collect();
                if names.is_empty() { format!("{} alone", people.name(self.owner)) } else { list_text(&names, "and") }
            }
        };
        format!("Open to {to}; it counts what its reader may see")
    }
}

impl TileShows {
    /// The tables that it looks at.
    pub fn tables(&self) -> Vec<(TrackerId, TableId)> {
        match self {
            TileShows::Text { .. } => Vec::new(),
            TileShows::Statement(statement) => {
                let of =
                    |line: &Line| if let LineOf::Records(records) = &line.of { Some((statement.tracker, records.table)) } else { None };
                statement.lines.iter().filter_map(of).collect()
            }
            TileShows::View(view) => vec![(view.tracker, view.table)],
        }
    }

    /// The tracker that it looks into.
    pub fn tracker(&self) -> Option<TrackerId> {
        match self {
            TileShows::Text { .. } => None,
            TileShows::Statement(statement) => Some(statement.tracker),
            TileShows::View(view) => Some(view.tracker),
        }
    }
}
