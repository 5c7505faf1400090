//! How records of a table are made again for the next period.

use super::NAME_LIMIT;
use crate::{
    id::FieldId,
    names::{self, Hold, See},
};
use serde::{Deserialize, Serialize};

/// Most recipes of a table.
pub(crate) const MOST_RECIPES: usize = 30;

/// How records are made again: what goes along, what moves on, what is as in a new one.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Recipe {
    /// *Next month*; empty where it is not kept.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub name: String,
    /// With the lines that are entered in them.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub lines: bool,
    /// With the records that they link.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub links: bool,
    /// Days that move on.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub moves: Vec<MovesOn>,
    /// Fields that begin as those of a new record do.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub empties: Vec<FieldId>,
}

/// A field of days, and by how much it moves on.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct MovesOn {
    pub field: FieldId,
    pub by: Step,
}

/// By how much.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "openapi", schema(as = MovesBy))]
#[serde(rename_all = "lowercase")]
pub enum Step {
    Days(i32),
    /// From the 31st to the last day of a shorter month.
    Months(i32),
}

impl Recipe {
    pub(super) fn each(&mut self, see: &mut See<'_>) {
        let hold = Hold::Shows("makes records again by it");
        self.moves.retain_mut(|one| names::field(&mut one.field, hold, see));
        names::kept(&mut self.empties, |id| names::field(id, hold, see));
    }

    /// What is wrong with it by itself.
    pub(crate) fn wrong(&self) -> Option<String> {
        let name = self.name.trim().chars().count();
        (name == 0 || name > NAME_LIMIT).then(|| format!("A recipe has a name, of at most {NAME_LIMIT} characters."))
    }
}
