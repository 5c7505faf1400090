//! What holds of all tiles of a dashboard that look at a table: what the page keeps, and what its reader narrows for themselves.

use crate::{
    access::Lens,
    condition::Condition,
    fault::Faults,
    id::{TableId, TrackerId},
    sentence::{Phrase, Sentence},
};
use serde::{Deserialize, Serialize};

/// A condition for every tile that looks at a table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BoardCondition {
    pub tracker: TrackerId,
    pub table: TableId,
    pub condition: Condition,
}

/// A tile’s own condition, and what holds of the page besides.
pub(super) fn both(only: &[BoardCondition], tracker: TrackerId, table: TableId, own: &Condition) -> Condition {
    let of_page = only.iter().filter(|one| one.tracker == tracker && one.table == table && !one.condition.is_nothing());
    let mut all: Vec<Condition> = of_page.map(|one| one.condition.clone()).collect();
    if all.is_empty() {
        return own.clone();
    }
    if !own.is_nothing() {
        all.push(own.clone());
    }
    Condition::All(all)
}

impl BoardCondition {
    /// *Faults where district is Eskermoor*, its phrases at their places in the condition.
    pub fn sentence(&self, lens: &Lens<'_>) -> Vec<Phrase> {
        let mut s = Sentence::default();
        let Some(home) = lens.dataset().table(self.table).filter(|_| lens.opens(self.table)) else { return Vec::new() };
        s.plain(format!("{} where ", home.def.many()));
        crate::view::condition_phrases(&mut s, &self.condition, lens, self.table, "/condition");
        s.phrases()
    }

    /// Whether somebody may ask so.
    ///
    /// # Errors
    /// It names what is not open to them, or does not fit.
    pub fn check_for(&self, lens: &Lens<'_>) -> Result<(), Faults> {
        self.condition.check_for(lens, self.table).map(|_| ())
    }
}
