//! The team's people, their groups and the areas in which trackers lie, as trackers need to know them.

use crate::{
    id::{AreaId, AutomationId, FormId, GroupId, GuestId, OptOutId, PageId, PersonId, TrackerId},
    value::{Attachment, Customs},
};
use jiff::{
    Timestamp,
    civil::{DateTime, Time},
    tz::TimeZone,
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
    /// How what comes by itself reaches them.
    #[serde(default, skip_serializing_if = "Channel::is_mail")]
    pub channel: Channel,
    /// When nothing is sent to them by itself; nothing: at any hour.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub quiet: Option<Quiet>,
    /// How they look; nothing: their initials stand for them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub picture: Option<Attachment>,
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

/// By which way a message goes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Channel {
    #[default]
    Mail,
    /// Through the chat service of the team, which knows people by their mail addresses.
    Chat,
    /// To a phone.
    Text,
}

impl Channel {
    /// `serde` hands fields over by reference.
    #[allow(clippy::trivially_copy_pass_by_ref)]
    pub fn is_mail(&self) -> bool {
        *self == Channel::Mail
    }

    /// One message that goes by it, in words.
    pub fn noun(self) -> &'static str {
        match self {
            Channel::Mail => "mail",
            Channel::Chat => "chat message",
            Channel::Text => "text",
        }
    }
}

/// Where somebody is reached: by which way, and at which address there.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Reached {
    pub by: Channel,
    /// A mail address, by which a chat service knows people too; a chat room, as `#yard`; or a phone number as E.164.
    pub to: String,
}

impl Reached {
    /// At a mail address.
    pub fn by_mail(mail: &str) -> Self {
        Self { by: Channel::Mail, to: mail.to_owned() }
    }

    /// Whether that is a room of a chat, which is many people’s.
    pub fn is_room(&self) -> bool {
        self.by == Channel::Chat && self.to.starts_with('#')
    }
}

/// Hours of a day, in minutes from midnight where somebody lives; over midnight, where they end before they begin.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Quiet {
    pub from: u16,
    pub until: u16,
}

impl Quiet {
    /// Whether they are hours of a day, and some.
    pub(crate) fn is_some_of_a_day(self) -> bool {
        const DAY: u16 = 24 * 60;
        self.from < DAY && self.until < DAY && self.from != self.until
    }

    /// When those end that are going on; nothing: none are. An hour that the clocks leave out comes when they have gone on.
    pub fn ends(self, now: Timestamp, zone: &TimeZone) -> Option<Timestamp> {
        let here = now.to_zoned(zone.clone());
        let minute = u16::try_from(i32::from(here.hour()) * 60 + i32::from(here.minute())).ok()?;
        let over_midnight = self.until < self.from;
        let going = if over_midnight { minute >= self.from || minute < self.until } else { (self.from..self.until).contains(&minute) };
        let day = if over_midnight && minute >= self.from { here.date().tomorrow().ok()? } else { here.date() };
        let at = Time::new(i8::try_from(self.until / 60).ok()?, i8::try_from(self.until % 60).ok()?, 0, 0).ok()?;
        let end = DateTime::from_parts(day, at).to_zoned(zone.clone()).ok()?.timestamp();
        // Where an hour comes twice, its first end may be over already.
        (going && end > now).then_some(end)
    }
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
            channel: Channel::Mail,
            quiet: None,
            picture: None,
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

    /// Where what comes by itself reaches them: by the way they chose, as far as it leads anywhere; nothing: they can't be written to.
    pub fn reached(&self) -> Option<Reached> {
        let at = |by, to: &str| (!to.is_empty()).then(|| Reached { by, to: to.to_owned() });
        let chosen = match self.channel {
            Channel::Text => at(Channel::Text, &self.phone),
            by @ (Channel::Mail | Channel::Chat) => at(by, &self.mail),
        };
        chosen.or_else(|| at(Channel::Mail, &self.mail))
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

/// The messages that an automation writes, or a form that sends a copy of each answer.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct MessagesOf {
    pub tracker: TrackerId,
    /// The automation's number, or the form's: no two parts of a tracker have the same.
    pub part: u32,
}

/// An address outside the team that wants no more messages: of some kinds, or none at all.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct OptOut {
    pub id: OptOutId,
    pub address: String,
    /// None at all.
    #[serde(default, skip_serializing_if = "is_false")]
    pub all: bool,
    /// None of these; of one that wants none at all, those by which it said so.
    #[serde(default)]
    pub of: BTreeSet<MessagesOf>,
    pub since: Timestamp,
}

/// An address as it is compared: capitals tell nobody from another.
fn folded(address: &str) -> String {
    address.trim().to_lowercase()
}

/// Everybody, the groups they are in, and the areas, by their numbers; and who outside wants no messages, by address.
#[derive(Clone, Debug, Default)]
pub struct People {
    people: BTreeMap<PersonId, Person>,
    groups: BTreeMap<GroupId, Group>,
    areas: BTreeMap<AreaId, Area>,
    opt_outs: BTreeMap<String, OptOut>,
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
        self.only(|p| !wanted.is_empty() && (p.name.to_lowercase() == wanted || p.mail.to_lowercase() == wanted))
    }

    /// The one person of this name, if there is exactly one; capitals do not count, nor do those who left, where somebody is here.
    pub fn named(&self, name: &str) -> Option<&Person> {
        let wanted = name.trim().to_lowercase();
        self.only(|p| !wanted.is_empty() && p.name.to_lowercase() == wanted)
    }

    fn only(&self, fits: impl Fn(&Person) -> bool) -> Option<&Person> {
        let (left, here): (Vec<&Person>, Vec<&Person>) = self.iter().filter(|p| fits(p)).partition(|p| p.has_left());
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

    /// What an address outside said of the messages that it gets.
    pub fn opt_out(&self, address: &str) -> Option<&OptOut> {
        self.opt_outs.get(&folded(address))
    }

    /// All that said something of it, by their addresses.
    pub fn opt_outs(&self) -> impl Iterator<Item = &OptOut> {
        self.opt_outs.values()
    }

    /// Whether an address outside wants a message; `of`: what an automation writes.
    pub fn wants(&self, address: &str, of: Option<MessagesOf>) -> bool {
        self.opt_out(address).is_none_or(|said| !said.all && of.is_none_or(|of| !said.of.contains(&of)))
    }

    pub(crate) fn put_opt_out(&mut self, said: OptOut) {
        self.opt_outs.insert(folded(&said.address), said);
    }

    pub(crate) fn take_opt_out(&mut self, address: &str) {
        self.opt_outs.remove(&folded(address));
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
