//! What somebody wants done to the team, and whether it is.

use super::{
    Put, Sending, Team, TeamAsker, TeamChange, TeamDef, TeamPart,
    areas::AreaWish,
    asker::{not_allowed, one_line},
    dashboards::DashboardWish,
    opt_outs::OptOutWish,
};
use crate::{
    checks::{check_mail, check_name},
    face::TeamLook,
    fault::{Checked, Fault, FaultKind, Faults},
    id::{GroupId, PersonId, TrackerId},
    people::{Actor, Channel, Group, Person, Standing},
    value::{Country, phone_number},
};
use jiff::{Timestamp, tz::TimeZone};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// Most people of a team, those who left included.
const PEOPLE_LIMIT: usize = 5_000;
/// Most groups of a team.
const GROUPS_LIMIT: usize = 500;
/// Most characters of what somebody does.
const ABOUT_LIMIT: usize = 200;

/// Somebody who is let in.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Newcomer {
    pub name: String,
    /// Empty: they are handed a link.
    #[serde(default)]
    pub mail: String,
    #[serde(default)]
    pub about: String,
}

/// What somebody wants done to the team.
#[derive(Clone, Debug)]
pub enum TeamIntent {
    /// The first person names the team and themselves, and owns it.
    Begin {
        team: String,
        owner: Newcomer,
    },
    /// Another name of the team.
    Rename(String),
    /// How it looks where it is seen from outside.
    Look(TeamLook),
    /// When and how fast messages go out by themselves.
    Sending(Sending),
    /// People are named. They come in by an invitation; until then they can be given roles already.
    Add(Vec<Newcomer>),
    /// What is known of somebody.
    Change(Person),
    /// Whoever was invited has come in.
    Arrive(PersonId),
    /// They sign in no more.
    Leave(PersonId),
    /// The same; their dashboards become somebody else’s.
    LeaveBoards {
        person: PersonId,
        to: PersonId,
    },
    /// They are invited again.
    Return(PersonId),
    /// A new group, or another state of one.
    Group {
        id: Option<GroupId>,
        name: String,
        members: BTreeSet<PersonId>,
        /// What stands on top at home for whoever is in it.
        pins: Vec<TrackerId>,
    },
    DropGroup(GroupId),
    Area(AreaWish),
    Dashboard(DashboardWish),
    /// Somebody outside wants no more messages, or wants them again.
    OptOut(OptOutWish),
    /// Takes a change back.
    Undo(Box<TeamChange>),
}

impl Team {
    /// The change that does what is wanted. Without operations: nothing has to change.
    ///
    /// # Errors
    /// All that is wrong with it.
    pub fn decide(&self, intent: &TeamIntent, asker: &TeamAsker, now: Timestamp) -> Checked<TeamChange> {
        let ops = self.ops(intent, asker, now)?;
        let ops: Vec<Put> = ops.into_iter().filter(|op| op.before != op.after).collect();
        if let TeamIntent::Undo(change) = intent {
            self.may_take_back(change, &ops, asker)?;
        }
        ops.iter().filter(|op| !self.goes_along(asker, &ops, op)).try_for_each(|op| self.may(asker, op))?;
        let undone = if let TeamIntent::Undo(change) = intent { Some(change) } else { None };
        let (undoes, again) = (undone.map(|change| change.seq), undone.is_some_and(|change| change.undoes.is_some() && !change.again));
        let change = TeamChange { seq: self.seq.saturating_add(1), at: now, who: asker.actor(), undoes, again, ops };
        let mut after = self.clone();
        after.apply(&change);
        after.stands(&change)?;
        Ok(change)
    }

    fn ops(&self, intent: &TeamIntent, asker: &TeamAsker, now: Timestamp) -> Checked<Vec<Put>> {
        let person = |id: PersonId| self.people.get(id).cloned().ok_or_else(|| Faults::from(Fault::not_found("person")));
        let stands = |id: PersonId, standing: Standing| {
            let before = person(id)?;
            let owner = before.owner && standing == Standing::Here;
            let after = Person { standing, owner, ..before.clone() };
            Ok::<_, Faults>(vec![Put::change(TeamPart::Person(before), TeamPart::Person(after))])
        };
        match intent {
            TeamIntent::Begin { team, owner } => {
                if !self.is_empty() {
                    return Err(not_allowed("This team has been begun already. Ask one of its owners for an invitation.").into());
                }
                let mut first = self.newcomers(std::slice::from_ref(owner), Standing::Here, asker)?;
                if let Some(Put { after: Some(TeamPart::Person(first)), .. }) = first.first_mut() {
                    first.owner = true;
                }
                let named = TeamPart::Team(TeamDef { name: one_line(team), ..self.def.clone() });
                first.push(Put::change(TeamPart::Team(self.def.clone()), named));
                Ok(first)
            }
            TeamIntent::Rename(name) => {
                let named = TeamPart::Team(TeamDef { name: one_line(name), ..self.def.clone() });
                Ok(vec![Put::change(TeamPart::Team(self.def.clone()), named)])
            }
            TeamIntent::Look(look) => {
                let looking = TeamPart::Team(TeamDef { look: look.tidied(), ..self.def.clone() });
                Ok(vec![Put::change(TeamPart::Team(self.def.clone()), looking)])
            }
            TeamIntent::Sending(sending) => {
                sending.check().map_err(Faults)?;
                let said = TeamPart::Team(TeamDef { sending: *sending, ..self.def.clone() });
                Ok(vec![Put::change(TeamPart::Team(self.def.clone()), said)])
            }
            TeamIntent::Add(newcomers) => self.newcomers(newcomers, Standing::Invited, asker),
            TeamIntent::Change(after) => {
                let before = person(after.id)?;
                let after = tidy(after)?;
                Ok(vec![Put::change(TeamPart::Person(before), TeamPart::Person(after))])
            }
            TeamIntent::Arrive(id) => stands(*id, Standing::Here),
            TeamIntent::Leave(id) => stands(*id, Standing::Left),
            TeamIntent::LeaveBoards { person, to } => {
                let mut ops = stands(*person, Standing::Left)?;
                ops.extend(self.boards_to(*person, *to)?);
                Ok(ops)
            }
            TeamIntent::Return(id) if person(*id)?.has_left() => stands(*id, Standing::Invited),
            TeamIntent::Return(_) => Ok(Vec::new()),
            TeamIntent::Group { id, name, members, pins } => {
                let before = match id {
                    Some(id) => Some(self.people.group(*id).cloned().ok_or_else(|| Fault::not_found("group"))?),
                    None => None,
                };
                let id = id.or_else(|| self.next_group()).ok_or_else(|| not_allowed("There are too many groups."))?;
                let after = Group { id, name: one_line(name), members: members.clone(), pins: pins.clone() };
                Ok(vec![Put::change(before.map(TeamPart::Group), TeamPart::Group(after))])
            }
            TeamIntent::DropGroup(id) => {
                let group = self.people.group(*id).cloned().ok_or_else(|| Fault::not_found("group"))?;
                let mut ops = self.without_group(*id);
                ops.extend(self.dashboards_without_group(*id));
                ops.push(Put { before: Some(TeamPart::Group(group)), after: None });
                Ok(ops)
            }
            TeamIntent::Area(wish) => self.area_ops(wish),
            TeamIntent::Dashboard(wish) => self.dashboard_ops(wish, asker),
            TeamIntent::OptOut(wish) => self.opt_out_ops(wish, asker, now),
            TeamIntent::Undo(change) => Ok(change.ops.iter().rev().map(Put::inverse).collect()),
        }
    }

    fn newcomers(&self, newcomers: &[Newcomer], standing: Standing, asker: &TeamAsker) -> Checked<Vec<Put>> {
        let named_by = if let TeamAsker::Person { me, .. } = asker { Some(*me) } else { None };
        let first = self.next_person().map_or(0, PersonId::get);
        let mut faults = Vec::new();
        let mut ops = Vec::new();
        for (place, newcomer) in newcomers.iter().enumerate() {
            let number = u32::try_from(place).ok().and_then(|place| first.checked_add(place)).and_then(PersonId::new);
            let Some(id) = number.filter(|id| (id.get() as usize) <= PEOPLE_LIMIT) else {
                return Err(not_allowed(&format!("A team has at most {PEOPLE_LIMIT} people, those who left included.")).into());
            };
            let person = Person { about: newcomer.about.clone(), standing, named_by, ..Person::new(id, &newcomer.name, &newcomer.mail) };
            match tidy(&person) {
                Ok(person) => ops.push(Put { before: None, after: Some(TeamPart::Person(person)) }),
                Err(Faults(told)) => faults.extend(told.into_iter().map(|fault| fault.at(format!("/{place}")))),
            }
        }
        Faults::none_or(faults)?;
        Ok(ops)
    }

    /// Whether the asker may do this to the team as it is.
    fn may(&self, asker: &TeamAsker, op: &Put) -> Result<(), Fault> {
        let TeamAsker::Person { me, lets_in, .. } = asker else { return Ok(()) };
        let (me, lets_in) = (*me, *lets_in);
        let known = self.people.get(me).filter(|person| person.standing.is_here());
        if known.is_none() {
            return Err(Fault::not_found("team"));
        }
        if let Some((before, after)) = op.of_area() {
            return self.may_change_area(asker, before, after);
        }
        if let Some((before, after)) = op.of_opt_out() {
            return self.may_opt_out(asker, before, after);
        }
        // What a group's going takes out of dashboards is the owners' too.
        if let Some((before, after)) = op.of_dashboard() {
            let closed = before.zip(after).is_some_and(|(before, after)| after.only_closes(before));
            return if self.is_owner(me) && closed { Ok(()) } else { self.may_put_dashboard(me, before, after) };
        }
        if self.is_owner(me) {
            return Ok(());
        }
        match (&op.before, &op.after) {
            (None, Some(TeamPart::Person(person))) if lets_in && !person.owner && person.standing == Standing::Invited => Ok(()),
            (Some(TeamPart::Person(before)), Some(TeamPart::Person(after))) if before.id == me => {
                // Their address is changed by whoever reads the mail that goes to it.
                let same = before.mail == after.mail
                    && before.named_by == after.named_by
                    && before.owner == after.owner
                    && before.standing == after.standing;
                if same { Ok(()) } else { Err(not_allowed("This of yourself is changed by an owner of the team.")) }
            }
            // Whoever named somebody puts right what they wrote, until that person is here; and takes it back.
            (Some(TeamPart::Person(before)), Some(TeamPart::Person(after)))
                if self.invites(me, lets_in, before)
                    && after.standing != Standing::Here
                    && (before.owner, before.named_by) == (after.owner, after.named_by) =>
            {
                Ok(())
            }
            (_, Some(TeamPart::Person(_))) => Err(not_allowed("Only the team’s owners change what is known of others.")),
            (_, Some(TeamPart::Group(_))) | (Some(TeamPart::Group(_)), None) => {
                Err(not_allowed("Only the team’s owners make and change groups, since groups hold roles in every tracker."))
            }
            _ => Err(not_allowed("Only the team’s owners may change this.")),
        }
    }

    /// Whether somebody may invite a person who is not here yet. Roles may be theirs already, so that an invitation is a way to those:
    /// only the owners hand it out, and whoever named them as long as they let people in.
    pub fn invites(&self, me: PersonId, lets_in: bool, person: &Person) -> bool {
        person.standing == Standing::Invited && (self.is_owner(me) || (lets_in && person.named_by == Some(me)))
    }

    /// Whether what a change did still stands, and it is the asker's to take back.
    fn may_take_back(&self, change: &TeamChange, ops: &[Put], asker: &TeamAsker) -> Checked<()> {
        let own = matches!((asker, change.who), (TeamAsker::Person { me, .. }, Actor::Person(who)) if *me == who);
        let owner = matches!(asker, TeamAsker::Person { me, .. } if self.is_owner(*me));
        if !own && !owner {
            return Err(Fault::not_found("step").into());
        }
        let stands = ops.iter().all(|op| op.part().is_some_and(|part| self.current(part) == op.before));
        if stands {
            return Ok(());
        }
        Err(Fault::new(FaultKind::Clash, "This can’t be undone any more: somebody changed the same thing since.").into())
    }

    /// The one gate: whether the team may stand as it is after a change.
    fn stands(&self, change: &TeamChange) -> Checked<()> {
        let mut faults = Vec::new();
        if self.def.name.is_empty() {
            faults.push(Fault::new(FaultKind::Missing, "Say what the team is called.").at("/team"));
        }
        if self.def.name.chars().count() > ABOUT_LIMIT {
            faults.push(Fault::new(FaultKind::TooLong, format!("The team’s name has at most {ABOUT_LIMIT} characters.")).at("/team"));
        }
        if !self.people.iter().any(|person| person.owner && person.standing.is_here()) {
            faults.push(not_allowed("A team needs an owner who is here. Make somebody else an owner first."));
        }
        faults.extend(self.def.look.check());
        self.addresses_differ(change, &mut faults);
        if self.people.groups().count() > GROUPS_LIMIT {
            faults.push(not_allowed(&format!("A team has at most {GROUPS_LIMIT} groups.")));
        }
        for op in &change.ops {
            if let Some(TeamPart::Group(group)) = &op.after {
                faults.extend(self.check_group(group).err());
            }
            if let Some(TeamPart::Area(area)) = &op.after {
                faults.extend(self.check_area(area).err());
            }
            if let Some(TeamPart::Dashboard(board)) = &op.after {
                faults.extend(self.check_dashboard(board));
            }
        }
        Faults::none_or(faults)
    }

    /// Two people with one address could not both sign in; of those who have left, it may be somebody else's now.
    fn addresses_differ(&self, change: &TeamChange, faults: &mut Vec<Fault>) {
        let mut known: BTreeMap<String, PersonId> = BTreeMap::new();
        let of_change: BTreeSet<PersonId> = change.ops.iter().filter_map(person_of).collect();
        let (changed, others): (Vec<&Person>, Vec<&Person>) = self.people.here().partition(|p| of_change.contains(&p.id));
        for person in others.into_iter().chain(changed).filter(|p| !p.mail.is_empty()) {
            let Some(other) = known.insert(person.mail.to_lowercase(), person.id) else { continue };
            let name = self.people.name(other);
            let place = change.ops.iter().filter_map(person_of).position(|id| id == person.id).unwrap_or(0);
            let at = if change.ops.len() > 1 { format!("/{place}/mail") } else { "/mail".to_owned() };
            faults.push(Fault::new(FaultKind::InUse, format!("{name} has this address already.")).at(at));
        }
    }

    fn check_group(&self, group: &Group) -> Result<(), Fault> {
        check_name(&group.name)?;
        let same = |other: &&Group| other.id != group.id && other.name.to_lowercase() == group.name.to_lowercase();
        if self.people.groups().any(|other| same(&other)) {
            return Err(Fault::new(FaultKind::InUse, format!("There is a group called {} already.", group.name)).at("/name"));
        }
        if group.members.iter().any(|member| self.people.get(*member).is_none()) {
            return Err(Fault::not_found("person").at("/members"));
        }
        Ok(())
    }
}

fn person_of(op: &Put) -> Option<PersonId> {
    if let Some(TeamPart::Person(person)) = &op.after { Some(person.id) } else { None }
}

/// What is known of somebody, as it is kept.
fn tidy(person: &Person) -> Checked<Person> {
    let mut tidied = Person {
        name: one_line(&person.name),
        mail: person.mail.trim().to_owned(),
        about: person.about.trim().to_owned(),
        ..person.clone()
    };
    let mut faults = Vec::new();
    faults.extend(check_name(&tidied.name).err());
    if !tidied.mail.is_empty() {
        faults.extend(check_mail(&tidied.mail).err().map(|fault| fault.at("/mail")));
    }
    if tidied.about.chars().count() > ABOUT_LIMIT {
        faults.push(Fault::new(FaultKind::TooLong, format!("What somebody does takes at most {ABOUT_LIMIT} characters.")).at("/about"));
    }
    if !tidied.zone.is_empty() && TimeZone::get(&tidied.zone).is_err() {
        faults.push(Fault::new(FaultKind::WrongKind, "There is no such time zone.").at("/zone"));
    }
    if tidied.quiet.is_some_and(|quiet| !quiet.is_some_of_a_day()) {
        let message = "Give two hours of a day that differ, as 21:00 and 07:00.";
        faults.push(Fault::new(FaultKind::WrongKind, message).at("/quiet"));
    }
    if !tidied.phone.trim().is_empty() {
        match phone_number(&tidied.phone, Country::default()) {
            Ok(phone) => tidied.phone = phone,
            Err(fault) => faults.push(fault.at("/phone")),
        }
    }
    if tidied.channel == Channel::Text && tidied.phone.trim().is_empty() {
        faults.push(Fault::new(FaultKind::Missing, "Texts go to a phone: say its number.").at("/phone"));
    }
    if tidied.picture.as_ref().is_some_and(|picture| !picture.is_picture()) {
        faults.push(Fault::new(FaultKind::WrongKind, "Somebody’s picture is a picture: JPEG, PNG, WebP or GIF.").at("/picture"));
    }
    Faults::none_or(faults)?;
    Ok(tidied)
}
