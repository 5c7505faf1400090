//! What a change of the team did, in words that stand after *You* and in the team's log.

use super::{Put, Team, TeamChange, TeamPart};
use crate::{
    dashboard::Dashboard,
    people::{Actor, Area, Group, OptOut, Person, Standing},
    value::{Customs, list_text},
};

/// Most people whom a change names one by one.
const NAMED: usize = 3;

impl TeamChange {
    /// What it did: *invited Kester Lowe*, *made the group Wardens*.
    pub fn did(&self) -> String {
        let added: Vec<&Person> = self.ops.iter().filter_map(added).collect();
        if added.len() == self.ops.len() && !added.is_empty() {
            return format!("named {}", people(&added));
        }
        // What comes with a beginning is less than it.
        // What goes along with somebody who leaves is less than that they do.
        let stands = |op: &&Put| matches!((&op.before, &op.after), (Some(TeamPart::Person(_)), Some(TeamPart::Person(_))));
        let all = self.ops.iter().filter(stands).chain(self.ops.iter().rev());
        let told = all.into_iter().find_map(|op| one(op, self.undoes.is_some()));
        told.unwrap_or_else(|| "changed something of the team".to_owned())
    }

    /// Who did it, as people are told.
    pub fn who_text<'a>(&self, team: &'a Team) -> &'a str {
        match self.who {
            Actor::Person(person) => team.people().name(person),
            Actor::Form(_) | Actor::Automation(_) | Actor::Visitor { .. } | Actor::Westerfall => "Westerfall",
        }
    }
}

fn added(op: &Put) -> Option<&Person> {
    match (&op.before, &op.after) {
        (None, Some(TeamPart::Person(person))) => Some(person),
        _ => None,
    }
}

fn people(named: &[&Person]) -> String {
    if named.len() > NAMED {
        return Customs::default().count_words(named.len(), "person", "people");
    }
    list_text(&named.iter().map(|p| p.name.as_str()).collect::<Vec<_>>(), "and")
}

fn one(op: &Put, back: bool) -> Option<String> {
    Some(match (&op.before, &op.after) {
        (None, Some(TeamPart::Person(person))) => format!("named {}", person.name),
        (Some(TeamPart::Person(before)), Some(TeamPart::Person(after))) => changed(before, after),
        (None, Some(TeamPart::Group(group))) if back => format!("brought back the group {}", group.name),
        (None, Some(TeamPart::Group(group))) => format!("made the group {}", group.name),
        (Some(TeamPart::Group(before)), Some(TeamPart::Group(after))) => grouped(before, after),
        (None, Some(TeamPart::Area(area))) if back => format!("brought back the area {}", area.name),
        (None, Some(TeamPart::Area(area))) => format!("made the area {}", area.name),
        (Some(TeamPart::Area(before)), Some(TeamPart::Area(after))) => area_changed(before, after),
        (Some(TeamPart::Area(area)), None) => format!("took away the area {}", area.name),
        (None, Some(TeamPart::Dashboard(board))) if back => format!("brought back the dashboard {}", board.name),
        (None, Some(TeamPart::Dashboard(board))) => format!("made the dashboard {}", board.name),
        (Some(TeamPart::Dashboard(before)), Some(TeamPart::Dashboard(after))) => board_changed(before, after),
        (Some(TeamPart::Dashboard(board)), None) => format!("took away the dashboard {}", board.name),
        (Some(TeamPart::Team(before)), Some(TeamPart::Team(after))) if before.sending != after.sending => {
            "changed when and how fast messages go out".to_owned()
        }
        (Some(TeamPart::Team(before)), Some(TeamPart::Team(after))) if before.look != after.look => "changed how the team looks".to_owned(),
        (Some(TeamPart::Team(before)), Some(TeamPart::Team(after))) if before.name == after.name => {
            "put the areas in another order".to_owned()
        }
        (before, Some(TeamPart::OptOut(after))) => opted(before.as_ref(), after),
        (Some(TeamPart::OptOut(said)), None) => format!("lets messages go to {} again", said.address),
        (_, Some(TeamPart::Team(def))) => format!("called the team {}", def.name),
        (Some(TeamPart::Group(group)), None) => format!("took away the group {}", group.name),
        _ => return None,
    })
}

fn opted(before: Option<&TeamPart>, after: &OptOut) -> String {
    let known = if let Some(TeamPart::OptOut(known)) = before { Some(known) } else { None };
    let less = known.is_some_and(|known| known.all && !after.all || known.of.len() > after.of.len());
    let address = &after.address;
    match (after.all, less) {
        (_, true) => format!("lets some messages go to {address} again"),
        (true, false) => format!("noted that {address} wants no messages"),
        (false, false) => format!("noted that {address} wants no more of some messages"),
    }
}

fn changed(before: &Person, after: &Person) -> String {
    let name = &after.name;
    match (before.standing, after.standing) {
        (Standing::Invited, Standing::Here) => return format!("let {name} in"),
        (Standing::Invited, Standing::Left) => return format!("took back the invitation of {name}"),
        (Standing::Here, Standing::Left) => return format!("let {name} go"),
        (Standing::Left, Standing::Invited) => return format!("invited {name} again"),
        (Standing::Left, Standing::Here) => return format!("took {name} back"),
        (Standing::Here, Standing::Invited) => return format!("made {name} come in again"),
        (Standing::Here, Standing::Here) | (Standing::Invited, Standing::Invited) | (Standing::Left, Standing::Left) => {}
    }
    match (before.owner, after.owner) {
        (false, true) => return format!("made {name} an owner of the team"),
        (true, false) => return format!("made {name} no owner of the team any more"),
        (true, true) | (false, false) => {}
    }
    if before.name != after.name {
        return format!("called {} {name}", before.name);
    }
    let moved = [
        (before.mail != after.mail, "address"),
        (before.phone != after.phone, "phone"),
        (before.about != after.about, "work"),
        (before.zone != after.zone, "time zone"),
        (before.customs != after.customs, "days and numbers"),
        (before.channel != after.channel, "way of being reached"),
        (before.quiet != after.quiet, "quiet hours"),
        (before.picture != after.picture, "picture"),
    ];
    let moved: Vec<&str> = moved.into_iter().filter(|(moved, _)| *moved).map(|(_, what)| what).collect();
    format!("changed {} of {name}", if moved.is_empty() { "nothing".to_owned() } else { list_text(&moved, "and") })
}

fn grouped(before: &Group, after: &Group) -> String {
    if before.name != after.name {
        return format!("called the group {} {}", before.name, after.name);
    }
    if before.pins != after.pins {
        return format!("changed what stands on top for {}", after.name);
    }
    let came = after.members.difference(&before.members).count();
    let went = before.members.difference(&after.members).count();
    let people = |count| Customs::default().count_words(count, "person", "people");
    match (came, went) {
        (0, went) => format!("took {} out of {}", people(went), after.name),
        (came, 0) => format!("put {} into {}", people(came), after.name),
        (came, went) => format!("put {} into {} and took {} out", people(came), after.name, people(went)),
    }
}

fn board_changed(before: &Dashboard, after: &Dashboard) -> String {
    let name = &after.name;
    match (after.tiles.len(), before.tiles.len()) {
        _ if before.name != after.name => format!("called the dashboard {} {name}", before.name),
        _ if before.open != after.open => format!("said to whom the dashboard {name} is open"),
        (now, then) if now > then => format!("put something on the dashboard {name}"),
        (now, then) if now < then => format!("took something off the dashboard {name}"),
        _ => format!("changed the dashboard {name}"),
    }
}

fn area_changed(before: &Area, after: &Area) -> String {
    let name = &after.name;
    if before.name != after.name {
        return format!("called the area {} {name}", before.name);
    }
    if before.opens != after.opens {
        let more = after.opens.iter().any(|(group, right)| before.opens.get(group).is_none_or(|given| given < right));
        return if more { format!("opened the area {name} to others") } else { format!("closed the area {name} to some") };
    }
    if before.about != after.about {
        return format!("said what the area {name} is for");
    }
    let trackers = |count| Customs::default().count_words(count, "tracker", "trackers");
    match (after.trackers.len(), before.trackers.len()) {
        (now, then) if now > then => format!("put {} into {name}", trackers(now - then)),
        (now, then) if now < then => format!("took {} out of {name}", trackers(then - now)),
        _ => format!("put what lies in {name} in another order"),
    }
}
