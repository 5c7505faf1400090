//! The team's people, their groups and the areas in which trackers lie, as trackers need to know them.

use crate::{
    id::{AreaId, AutomationId, FormId, GroupId, GuestId, PageId, PersonId, TrackerId},
    value::Customs,
};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// A person of the team.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Person {
    pub id: PersonId,
    pub name: String,
    /// The confirmed address they sign in with and are written to; empty: none is known.
    pub mail: String,
    /// What they do, in a few words.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub about: String,
    /// As E.164; empty: none is known.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub phone: String,
    /// IANA name of the zone in which moments are told to them; empty: each tracker's own.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub zone: String,
    /// How numbers and days are told to them, and typed by them; nothing: as to everybody.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub customs: Option<Customs>,
    /// Lets people in, lets them go, names the team.
    #[serde(default, skip_serializing_if = "is_false")]
    pub owner: bool,
    #[serde(default, skip_serializing_if = "Standing::is_here")]
    pub standing: Standing,
    /// Who named them: until they are here, it is theirs, and the owners', to invite them and to put right what is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub named_by: Option<PersonId>,
}

/// `serde` hands fields over by reference.
#[allow(clippy::trivially_copy_pass_by_ref)]
fn is_false(is: &bool) -> bool {
    !is
}

/// How somebody stands to the team.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Standing {
    #[default]
    Here,
    /// Named already, and has not come in yet.
    Invited,
    /// Signs in no more; what they did keeps their name.
    Left,
}

impl Standing {
    /// Whether they work here.
    pub fn is_here(&self) -> bool {
        matches!(self, Standing::Here)
    }
}

impl Person {
    /// Somebody of whom no more is known.
    pub fn new(id: PersonId, name: impl Into<String>, mail: impl Into<String>) -> Self {
        Self {
            id,
            name: name.into(),
            mail: mail.into(),
            about: String::new(),
            phone: String::new(),
            zone: String::new(),
            customs: None,
            owner: false,
            standing: Standing::Here,
            named_by: None,
        }
    }

    /// The same as another team may know them: by name and address.
    #[must_use]
    pub fn outward(&self) -> Self {
        Self::new(self.id, &self.name, &self.mail)
    }

    /// At most two initials.
    pub fn initials(&self) -> String {
        let mut words = self.name.split_whitespace().filter_map(|word| word.chars().next());
        words.next().into_iter().chain(words.next_back()).collect::<String>().to_uppercase()
    }

    /// Whether they have left.
    pub fn has_left(&self) -> bool {
        self.standing == Standing::Left
    }
}

/// People who hold the same roles, in as many trackers as one likes.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Group {
    pub id: GroupId,
    pub name: String,
    #[serde(default)]
    pub members: BTreeSet<PersonId>,
    /// Trackers that stand on top at home for whoever is in it and may open them.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub pins: Vec<TrackerId>,
}

/// An area: trackers that are listed together at home. Each tracker lies in one of them at most.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Area {
    pub id: AreaId,
    pub name: String,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub about: String,
    /// What lies in it, in the order in which it is listed.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub trackers: Vec<TrackerId>,
    /// The groups to which every tracker in it is open, and what they may do there.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub opens: BTreeMap<GroupId, AreaRight>,
}

/// What a group may do with everything in an area's trackers.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum AreaRight {
    /// Looks at it.
    Look,
    /// Adds, changes and removes.
    Work,
}

/// Everybody, the groups they are in, and the areas, by their numbers.
#[derive(Clone, Debug, Default)]
pub struct People {
    people: BTreeMap<PersonId, Person>,
    groups: BTreeMap<GroupId, Group>,
    areas: BTreeMap<AreaId, Area>,
}

impl People {
    /// All of these.
    pub fn new(people: impl IntoIterator<Item = Person>) -> Self {
        Self { people: people.into_iter().map(|p| (p.id, p)).collect(), ..Self::default() }
    }

    /// Whoever has this number.
    pub fn get(&self, id: PersonId) -> Option<&Person> {
        self.people.get(&id)
    }

    /// The name, or what stands for somebody who is no longer known.
    pub fn name(&self, id: PersonId) -> &str {
        self.get(id).map_or("somebody who has left", |p| &p.name)
    }

    /// Everybody, by number; those who have left too.
    pub fn iter(&self) -> impl Iterator<Item = &Person> {
        self.people.values()
    }

    /// Those who have not left.
    pub fn here(&self) -> impl Iterator<Item = &Person> {
        self.iter().filter(|person| !person.has_left())
    }

    /// Whether somebody has left, so that no role gives them anything.
    pub fn has_left(&self, id: PersonId) -> bool {
        self.get(id).is_some_and(Person::has_left)
    }

    /// Whoever has this name or address, whatever its capitals; nobody where two fit. Those who have left only where nobody else fits.
    pub fn find(&self, text: &str) -> Option<&Person> {
        let wanted = text.trim().to_lowercase();
        let fits = |p: &&Person| !wanted.is_empty() && (p.name.to_lowercase() == wanted || p.mail.to_lowercase() == wanted);
        let (left, here): (Vec<&Person>, Vec<&Person>) = self.iter().filter(fits).partition(|p| p.has_left());
        match (here.as_slice(), left.as_slice()) {
            ([one], _) | ([], [one]) => Some(one),
            _ => None,
        }
    }

    /// The group of this number.
    pub fn group(&self, id: GroupId) -> Option<&Group> {
        self.groups.get(&id)
    }

    /// All groups, by their numbers.
    pub fn groups(&self) -> impl Iterator<Item = &Group> {
        self.groups.values()
    }

    /// Whether somebody is in a group.
    pub fn is_in(&self, group: GroupId, person: PersonId) -> bool {
        self.group(group).is_some_and(|g| g.members.contains(&person))
    }

    /// The area of this number.
    pub fn area(&self, id: AreaId) -> Option<&Area> {
        self.areas.get(&id)
    }

    /// All areas, by their numbers.
    pub fn areas(&self) -> impl Iterator<Item = &Area> {
        self.areas.values()
    }

    /// The area in which a tracker lies.
    pub fn area_of(&self, tracker: TrackerId) -> Option<&Area> {
        self.areas().find(|area| area.trackers.contains(&tracker))
    }

    /// The trackers that somebody may open because their areas are open to a group of theirs.
    pub fn opened_to(&self, person: PersonId) -> impl Iterator<Item = TrackerId> {
        let open = move |area: &&Area| !self.has_left(person) && area.opens.keys().any(|group| self.is_in(*group, person));
        self.areas().filter(open).flat_map(|area| area.trackers.iter().copied())
    }

    /// Whether some people have other names here than there, or are known in one of both alone: what is computed from names moves.
    pub fn is_called_otherwise(&self, other: &People) -> bool {
        !self.people.values().map(|p| (p.id, &p.name)).eq(other.people.values().map(|p| (p.id, &p.name)))
    }

    pub(crate) fn put(&mut self, person: Person) {
        self.people.insert(person.id, person);
    }

    pub(crate) fn put_group(&mut self, group: Group) {
        self.groups.insert(group.id, group);
    }

    pub(crate) fn put_area(&mut self, area: Area) {
        self.areas.insert(area.id, area);
    }

    pub(crate) fn take_area(&mut self, id: AreaId) {
        self.areas.remove(&id);
    }

    pub(crate) fn take_group(&mut self, id: GroupId) {
        self.groups.remove(&id);
    }
}

/// Who made a change.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Actor {
    Person(PersonId),
    /// Whoever answered this form.
    Form(FormId),
    Automation(AutomationId),
    /// Somebody at a shared page; which of those whom it names, where it names them.
    Visitor {
        page: PageId,
        guest: Option<GuestId>,
    },
    /// Westerfall itself, setting up.
    Westerfall,
}
