//! What hangs on somebody in the team itself, beside what hangs on them in its trackers, and handing it over when they leave.

use super::{Put, Team, TeamAsker, TeamPart};
use crate::{
    dashboard::Dashboard,
    fault::{Checked, Fault},
    id::PersonId,
    value::Customs,
};
use serde::{Deserialize, Serialize};

/// Most dashboards that are named.
const NAMED: usize = 3;

/// One sort of thing that hangs on somebody in the team, handed over as one.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum HeldInTeam {
    /// What was asked of them and is not done.
    Tasks,
    Dashboards,
}

/// What hangs on somebody in the team, and how much of it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TeamHolding {
    pub held: HeldInTeam,
    /// *4 things that were asked of them are not done.*
    pub words: String,
    pub count: usize,
}

impl Team {
    /// What hangs on somebody. `tasks`: how much was asked of them and is not done.
    pub fn held_by(&self, person: PersonId, tasks: usize) -> Vec<TeamHolding> {
        let customs = Customs::default();
        let mut held = Vec::new();
        if tasks > 0 {
            let (what, is) = if tasks == 1 { ("thing that was asked of them", "is") } else { ("things that were asked of them", "are") };
            let words = format!("{} {what} {is} not done", customs.count_text(tasks));
            held.push(TeamHolding { held: HeldInTeam::Tasks, words, count: tasks });
        }
        let boards: Vec<&str> = self.boards_of(person).map(|board| board.name.as_str()).collect();
        if !boards.is_empty() {
            let named: Vec<&str> = boards.iter().copied().take(NAMED).collect();
            let more = if boards.len() > NAMED { ", …" } else { "" };
            let words = format!("{}: {}{more}", customs.count_words(boards.len(), "dashboard", "dashboards"), named.join(", "));
            held.push(TeamHolding { held: HeldInTeam::Dashboards, words, count: boards.len() });
        }
        held
    }

    /// Whether a dashboard becomes somebody else’s only because whoever has it leaves, or comes back: that is the owners’ to say.
    pub(super) fn goes_along(&self, asker: &TeamAsker, ops: &[Put], op: &Put) -> bool {
        let (TeamAsker::Person { me, .. }, Some((Some(before), Some(after)))) = (asker, op.of_dashboard()) else { return false };
        let stands = |one: &Put| match (&one.before, &one.after) {
            (Some(TeamPart::Person(was)), Some(TeamPart::Person(is))) => {
                was.standing != is.standing && [before.owner, after.owner].contains(&was.id)
            }
            _ => false,
        };
        self.is_owner(*me) && after.only_goes_over(before) && ops.iter().any(stands)
    }

    fn boards_of(&self, person: PersonId) -> impl Iterator<Item = &Dashboard> {
        self.dashboards.values().map(AsRef::as_ref).filter(move |board| board.owner == person)
    }

    /// Somebody's dashboards become another's, open to whom they were.
    ///
    /// # Errors
    /// Whoever they are to go to does not work here.
    pub(super) fn boards_to(&self, from: PersonId, to: PersonId) -> Checked<Vec<Put>> {
        if to == from || self.people.get(to).is_none_or(crate::people::Person::has_left) {
            return Err(Fault::not_found("person").into());
        }
        let handed = |board: &Dashboard| {
            let after = Dashboard { owner: to, ..board.clone() };
            Put::change(TeamPart::Dashboard(board.clone()), TeamPart::Dashboard(after))
        };
        Ok(self.boards_of(from).map(handed).collect())
    }
}
