//! The team: what it is called, its people and their groups, and the areas in which its trackers lie. It is an aggregate of its own beside the trackers, of the same
//! machinery: an intent is checked against the team and against who asks, and becomes a change, a list of small reversible
//! operations in the team's own log; nothing else moves it.

mod areas;
mod asker;
mod dashboards;
mod decide;
mod leaving;
mod letters;
mod opt_outs;
mod sending;
mod words;

pub use areas::{AreaWish, opens_says};
pub use asker::TeamAsker;
pub use dashboards::DashboardWish;
pub use decide::{Newcomer, TeamIntent};
pub use leaving::{HeldInTeam, TeamHolding};
pub use letters::Letter;
pub use opt_outs::{OptOutOffer, OptOutSaid, OptOutView, OptOutWish, Wanted};
pub use sending::{MOST_TO_ALL, MOST_TO_ONE, Sending};

use crate::{
    dashboard::Dashboard,
    face::{Face, TeamLook},
    fault::Fault,
    history::Change,
    id::{AreaId, DashboardId, GroupId, PersonId, TrackerId},
    people::{Area, Group, OptOut, People, Person, Standing},
};
use serde::{Deserialize, Serialize};
use std::{collections::BTreeMap, sync::Arc};

/// The team as of a change of its log. A copy shares everything.
#[derive(Clone, Debug, Default)]
pub struct Team {
    /// The last change in it.
    pub seq: u64,
    def: TeamDef,
    people: Arc<People>,
    dashboards: BTreeMap<DashboardId, Arc<Dashboard>>,
}

/// What holds of the whole team.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct TeamDef {
    pub name: String,
    /// The order in which its areas are listed; those that it does not name come last.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub areas: Vec<AreaId>,
    /// How it looks where it is seen from outside.
    #[serde(default, skip_serializing_if = "is_plain")]
    pub look: TeamLook,
    /// When and how fast messages go out by themselves.
    #[serde(default, skip_serializing_if = "Sending::is_plain")]
    pub sending: Sending,
}

fn is_plain(look: &TeamLook) -> bool {
    *look == TeamLook::default()
}

/// A part of the team.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum TeamPart {
    Team(TeamDef),
    Person(Person),
    Group(Group),
    Area(Area),
    Dashboard(Dashboard),
    OptOut(OptOut),
}

/// A part was made, changed or taken away. People are never taken away: what they did keeps their name.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Put {
    pub before: Option<TeamPart>,
    pub after: Option<TeamPart>,
}

/// A change of the team.
pub type TeamChange = Change<Put>;

impl TeamPart {
    /// Where it is kept: its sort and number. The team itself has number 0.
    pub fn key(&self) -> (&'static str, u32) {
        match self {
            TeamPart::Team(_) => ("team", 0),
            TeamPart::Person(person) => ("person", person.id.get()),
            TeamPart::Group(group) => ("group", group.id.get()),
            TeamPart::Area(area) => ("area", area.id.get()),
            TeamPart::Dashboard(board) => ("dashboard", board.id.get()),
            TeamPart::OptOut(said) => ("optout", said.id.get()),
        }
    }
}

impl Put {
    fn change(before: impl Into<Option<TeamPart>>, after: TeamPart) -> Self {
        Self { before: before.into(), after: Some(after) }
    }

    /// The part, as it was or became.
    pub fn part(&self) -> Option<&TeamPart> {
        self.after.as_ref().or(self.before.as_ref())
    }

    /// An area before and after, where it is about one.
    fn of_area(&self) -> Option<(Option<&Area>, Option<&Area>)> {
        fn area(part: Option<&TeamPart>) -> Option<&Area> {
            if let Some(TeamPart::Area(area)) = part { Some(area) } else { None }
        }
        let (before, after) = (area(self.before.as_ref()), area(self.after.as_ref()));
        (before.is_some() || after.is_some()).then_some((before, after))
    }

    /// A dashboard before and after, where it is about one.
    fn of_dashboard(&self) -> Option<(Option<&Dashboard>, Option<&Dashboard>)> {
        fn board(part: Option<&TeamPart>) -> Option<&Dashboard> {
            if let Some(TeamPart::Dashboard(board)) = part { Some(board) } else { None }
        }
        let (before, after) = (board(self.before.as_ref()), board(self.after.as_ref()));
        (before.is_some() || after.is_some()).then_some((before, after))
    }

    /// What an address said of its messages before and after, where it is about that.
    fn of_opt_out(&self) -> Option<(Option<&OptOut>, Option<&OptOut>)> {
        fn said(part: Option<&TeamPart>) -> Option<&OptOut> {
            if let Some(TeamPart::OptOut(said)) = part { Some(said) } else { None }
        }
        let (before, after) = (said(self.before.as_ref()), said(self.after.as_ref()));
        (before.is_some() || after.is_some()).then_some((before, after))
    }

    /// The operation that takes this one back. Whoever was added stays known, and leaves.
    pub fn inverse(&self) -> Self {
        match (&self.before, &self.after) {
            (None, Some(TeamPart::Person(person))) => Self::change(
                TeamPart::Person(person.clone()),
                TeamPart::Person(Person { standing: Standing::Left, owner: false, ..person.clone() }),
            ),
            (before, after) => Self { before: after.clone(), after: before.clone() },
        }
    }
}

impl Team {
    /// A team as of this change of its log, of which nothing is read yet.
    pub fn at(seq: u64) -> Self {
        Self { seq, ..Self::default() }
    }

    /// What it is called; empty: it has no name yet.
    pub fn name(&self) -> &str {
        &self.def.name
    }

    /// What stands for it where it is seen from outside.
    pub fn face(&self) -> Face<'_> {
        Face { name: &self.def.name, look: &self.def.look }
    }

    /// When and how fast messages go out by themselves.
    pub fn sending(&self) -> Sending {
        self.def.sending
    }

    /// Everybody, and their groups. Who looks at a tracker looks at it with these.
    pub fn people(&self) -> &Arc<People> {
        &self.people
    }

    /// Whether nobody has begun it.
    pub fn is_empty(&self) -> bool {
        self.people.iter().next().is_none()
    }

    /// Whether somebody is an owner of it, and works here.
    pub fn is_owner(&self, person: PersonId) -> bool {
        self.people.get(person).is_some_and(|p| p.owner && p.standing.is_here())
    }

    /// A part as it was kept.
    pub fn load_part(&mut self, part: TeamPart) {
        self.apply_put(&Put { before: None, after: Some(part) });
    }

    /// Does what was decided.
    pub fn apply(&mut self, change: &TeamChange) {
        self.seq = change.seq;
        change.ops.iter().for_each(|op| self.apply_put(op));
    }

    fn apply_put(&mut self, op: &Put) {
        match (&op.before, &op.after) {
            (_, Some(TeamPart::Team(def))) => self.def = def.clone(),
            (_, Some(TeamPart::Person(person))) => Arc::make_mut(&mut self.people).put(person.clone()),
            (_, Some(TeamPart::Group(group))) => Arc::make_mut(&mut self.people).put_group(group.clone()),
            (_, Some(TeamPart::Area(area))) => Arc::make_mut(&mut self.people).put_area(area.clone()),
            (_, Some(TeamPart::Dashboard(board))) => {
                self.dashboards.insert(board.id, Arc::new(board.clone()));
            }
            (Some(TeamPart::Dashboard(board)), None) => {
                self.dashboards.remove(&board.id);
            }
            (_, Some(TeamPart::OptOut(said))) => Arc::make_mut(&mut self.people).put_opt_out(said.clone()),
            (Some(TeamPart::OptOut(said)), None) => Arc::make_mut(&mut self.people).take_opt_out(&said.address),
            (Some(TeamPart::Group(group)), None) => Arc::make_mut(&mut self.people).take_group(group.id),
            (Some(TeamPart::Area(area)), None) => Arc::make_mut(&mut self.people).take_area(area.id),
            // People stay known, and there is always a team.
            (Some(TeamPart::Team(_) | TeamPart::Person(_)), None) | (None, None) => {}
        }
    }

    /// A part as it stands now.
    fn current(&self, key: &TeamPart) -> Option<TeamPart> {
        match key {
            TeamPart::Team(_) => Some(TeamPart::Team(self.def.clone())),
            TeamPart::Person(person) => self.people.get(person.id).cloned().map(TeamPart::Person),
            TeamPart::Group(group) => self.people.group(group.id).cloned().map(TeamPart::Group),
            TeamPart::Area(area) => self.people.area(area.id).cloned().map(TeamPart::Area),
            TeamPart::Dashboard(board) => self.dashboard(board.id).cloned().map(TeamPart::Dashboard),
            TeamPart::OptOut(said) => self.people.opt_out(&said.address).cloned().map(TeamPart::OptOut),
        }
    }

    fn next_person(&self) -> Option<PersonId> {
        PersonId::new(self.people.iter().map(|p| p.id.get()).max().unwrap_or(0).checked_add(1)?)
    }

    /// The wish that keeps a tracker on top for a group, or no more.
    ///
    /// # Errors
    /// There is no such group.
    pub fn pinned(&self, group: GroupId, tracker: TrackerId, on: bool) -> Result<TeamIntent, Fault> {
        let Group { id, name, members, mut pins } = self.people.group(group).cloned().ok_or_else(|| Fault::not_found("group"))?;
        pins.retain(|one| *one != tracker);
        if on {
            pins.push(tracker);
        }
        Ok(TeamIntent::Group { id: Some(id), name, members, pins })
    }

    fn next_area(&self) -> Option<AreaId> {
        AreaId::new(self.people.areas().map(|a| a.id.get()).max().unwrap_or(0).checked_add(1)?)
    }

    /// The areas in their order.
    pub fn areas(&self) -> Vec<&Area> {
        let mut areas: Vec<&Area> = self.people.areas().collect();
        areas.sort_by_key(|area| self.def.areas.iter().position(|id| *id == area.id).unwrap_or(usize::MAX));
        areas
    }

    fn next_group(&self) -> Option<GroupId> {
        GroupId::new(self.people.groups().map(|g| g.id.get()).max().unwrap_or(0).checked_add(1)?)
    }
}
