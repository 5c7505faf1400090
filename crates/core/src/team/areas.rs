//! Areas: who makes them, what lies in them, to whom they are open.

use super::{
    Put, Team, TeamAsker, TeamDef, TeamPart,
    asker::{not_allowed, one_line},
};
use crate::{
    checks::check_name,
    fault::{Checked, Fault, FaultKind},
    id::{AreaId, GroupId, TrackerId},
    people::{Area, AreaRight, People},
};
use std::collections::{BTreeMap, BTreeSet};

/// Most areas of a team.
const AREAS_LIMIT: usize = 200;
/// Most characters of what an area is for.
const ABOUT_LIMIT: usize = 200;

/// What somebody wants done to an area.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum AreaWish {
    /// A new one, empty and open to nobody.
    Make { name: String, about: String },
    /// Another name, description, order of what lies in it, or other groups to which it is open.
    Keep(Area),
    /// It goes; what lies in it lies in none.
    Drop(AreaId),
    /// The order in which all of them are listed.
    Order(Vec<AreaId>),
    /// A tracker comes to lie in it, last, and no more where it lay before; without one, in none.
    Place { tracker: TrackerId, area: Option<AreaId> },
}

impl Team {
    pub(super) fn area_ops(&self, wish: &AreaWish) -> Checked<Vec<Put>> {
        let area = |id: AreaId| self.people.area(id).cloned().ok_or_else(|| Fault::not_found("area"));
        let put = |before: Area, after: Area| Put::change(TeamPart::Area(before), TeamPart::Area(after));
        Ok(match wish {
            AreaWish::Make { name, about } => {
                let id = self.next_area().ok_or_else(|| not_allowed("There are too many areas."))?;
                let made = Area { id, name: name.clone(), about: about.clone(), trackers: Vec::new(), opens: BTreeMap::new() };
                vec![Put { before: None, after: Some(TeamPart::Area(tidy(made))) }]
            }
            AreaWish::Keep(after) => {
                let before = area(after.id)?;
                let known: BTreeSet<_> = before.trackers.iter().collect();
                if known != after.trackers.iter().collect() || known.len() != after.trackers.len() {
                    let message = "Something else lies in this area by now. Look at it again, and put them in order then.";
                    return Err(Fault::new(FaultKind::Clash, message).at("/trackers").into());
                }
                vec![put(before, tidy(after.clone()))]
            }
            AreaWish::Drop(id) => vec![Put { before: Some(TeamPart::Area(area(*id)?)), after: None }],
            AreaWish::Order(areas) => {
                let known: BTreeSet<AreaId> = self.people.areas().map(|area| area.id).collect();
                let mut areas: Vec<AreaId> = areas.iter().copied().filter(|id| known.contains(id)).collect();
                areas.dedup();
                let def = TeamDef { areas, ..self.def.clone() };
                vec![Put::change(TeamPart::Team(self.def.clone()), TeamPart::Team(def))]
            }
            AreaWish::Place { tracker, area: to } => {
                let mut ops = Vec::new();
                if let Some(from) = self.people.area_of(*tracker).filter(|from| Some(from.id) != *to) {
                    let trackers = from.trackers.iter().copied().filter(|one| one != tracker).collect();
                    ops.push(put(from.clone(), Area { trackers, ..from.clone() }));
                }
                if let Some(to) = to {
                    let to = area(*to)?;
                    let mut trackers = to.trackers.clone();
                    if !trackers.contains(tracker) {
                        trackers.push(*tracker);
                    }
                    ops.push(put(to.clone(), Area { trackers, ..to }));
                }
                ops
            }
        })
    }

    /// Whether somebody may change an area like this. What it opens is theirs to open alone who run the tracker: otherwise one
    /// could let oneself in to what others have.
    pub(super) fn may_change_area(&self, asker: &TeamAsker, before: Option<&Area>, after: Option<&Area>) -> Result<(), Fault> {
        let TeamAsker::Person { me, lets_in, runs } = asker else { return Ok(()) };
        let owner = self.is_owner(*me);
        let lies = |area: Option<&Area>| area.map_or_else(BTreeSet::new, |area| area.trackers.iter().copied().collect::<BTreeSet<_>>());
        let opens = |area: Option<&Area>| area.map_or_else(BTreeMap::new, |area| area.opens.clone());
        let (lay, lie) = (lies(before), lies(after));
        // What is reached otherwise by it: all of it where it opens to others, and what comes or goes where it is open at all.
        let is_open = !opens(before).is_empty() || !opens(after).is_empty();
        let closes = before.is_some()
            && after.is_some()
            && lay == lie
            && opens(after).iter().all(|given| opens(before).get(given.0) == Some(given.1));
        let touched: BTreeSet<TrackerId> = if opens(before) == opens(after) {
            lay.symmetric_difference(&lie).copied().collect()
        } else {
            lay.union(&lie).copied().collect()
        };
        let runs_all = touched.iter().all(|tracker| runs.contains(tracker));
        // To close is an owner’s too, as to take away a group is.
        if is_open && !runs_all && !(owner && closes) {
            return Err(not_allowed(
                "Who may open a tracker is for its stewards to say, and something that lies in this area is run by others.",
            ));
        }
        let named = |area: Option<&Area>| area.map(|area| (area.name.clone(), area.about.clone()));
        let moved_alone = before.is_some() && after.is_some() && named(before) == named(after) && opens(before) == opens(after);
        match () {
            () if owner => Ok(()),
            () if moved_alone && runs_all && !touched.is_empty() => Ok(()),
            // An empty one is made, and taken back, by whoever runs a tracker.
            () if (before.is_none() || after.is_none()) && *lets_in && touched.is_empty() && !is_open => Ok(()),
            () if moved_alone => Err(not_allowed("A tracker is put into an area by its stewards, or by the team’s owners.")),
            () => Err(not_allowed("Only the team’s owners change areas. Whoever runs a tracker may make one, and put it there.")),
        }
    }

    /// Whether an area may stand like this.
    pub(super) fn check_area(&self, area: &Area) -> Result<(), Fault> {
        check_name(&area.name)?;
        let same = |other: &&Area| other.id != area.id && other.name.to_lowercase() == area.name.to_lowercase();
        if self.people.areas().any(|other| same(&other)) {
            return Err(Fault::new(FaultKind::InUse, format!("There is an area called {} already.", area.name)).at("/name"));
        }
        if area.about.chars().count() > ABOUT_LIMIT {
            let message = format!("What an area is for takes at most {ABOUT_LIMIT} characters.");
            return Err(Fault::new(FaultKind::TooLong, message).at("/about"));
        }
        if self.people.areas().count() > AREAS_LIMIT {
            return Err(not_allowed(&format!("A team has at most {AREAS_LIMIT} areas.")));
        }
        if area.opens.keys().any(|group| self.people.group(*group).is_none()) {
            return Err(Fault::not_found("group").at("/opens"));
        }
        let lies_elsewhere = |tracker: &TrackerId| self.people.areas().any(|other| other.id != area.id && other.trackers.contains(tracker));
        if area.trackers.iter().any(lies_elsewhere) {
            return Err(Fault::new(FaultKind::Clash, "This tracker lies in another area by now.").at("/trackers"));
        }
        Ok(())
    }

    /// What a group's going takes out of areas.
    pub(super) fn without_group(&self, group: GroupId) -> Vec<Put> {
        let open = self.people.areas().filter(|area| area.opens.contains_key(&group));
        let closed = |area: &Area| {
            let mut after = area.clone();
            after.opens.remove(&group);
            Put::change(TeamPart::Area(area.clone()), TeamPart::Area(after))
        };
        open.map(closed).collect()
    }
}

fn tidy(area: Area) -> Area {
    Area { name: one_line(&area.name), about: one_line(&area.about), ..area }
}

/// To whom an area is open, as a sentence: *Office works in everything here, Wardens look at it.*
pub fn opens_says(people: &People, area: &Area) -> String {
    let of = |right: AreaRight| {
        let groups = area.opens.iter().filter(|(_, given)| **given == right);
        groups.filter_map(|(group, _)| Some(people.group(*group)?.name.as_str())).collect::<Vec<_>>()
    };
    let told = |right: AreaRight, one: &str, many: &str| {
        let groups = of(right);
        let verb = if groups.len() == 1 { one } else { many };
        (!groups.is_empty()).then(|| format!("{} {verb}", crate::value::list_text(&groups, "and")))
    };
    let parts = [
        told(AreaRight::Work, "works in everything here", "work in everything here"),
        told(AreaRight::Look, "looks at everything here", "look at everything here"),
    ];
    let parts: Vec<String> = parts.into_iter().flatten().collect();
    if parts.is_empty() { String::new() } else { format!("{}.", parts.join(", ")) }
}
