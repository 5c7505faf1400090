//! A role as a part, and who holds one.

use super::{Asker, Base, Lens, Reach, Role, TableRights};
use crate::{
    checks::check_name,
    dataset::{Dataset, Table},
    fault::{Checked, Fault, FaultKind, Faults},
    id::{FieldId, GroupId, PersonId, RecordId, RoleId, TrackerId},
    names::Name,
    page::Page,
    part::{Part, Sort, is_part},
    people::People,
    rules::{Rules, Tells, stewards_only},
    schema::Stage,
    value::Cell,
    view::View,
};
use std::collections::HashSet;

is_part!(Role, Role);

/// Most characters of what a role is for.
const ABOUT_LIMIT: usize = 300;

impl Sort for Role {
    const SORT: &'static str = "role";

    fn of(part: &Part) -> Option<&Self> {
        if let Part::Role(found) = part { Some(found) } else { None }
    }

    fn number(&self) -> u32 {
        self.id.get()
    }

    fn renumber(&mut self, number: u32) {
        self.id = RoleId::new(number).unwrap_or(self.id);
    }

    fn title(&self) -> &str {
        &self.name
    }

    fn name(&self) -> Option<Name> {
        Some(Name::Role(self.id))
    }
}

impl Rules for Role {
    fn may_shape(&self, lens: &Lens<'_>, _asker: Asker) -> Result<(), Fault> {
        stewards_only(lens)
    }

    fn fits(&self, _before: Option<&Self>, ds: &Dataset) -> Checked<()> {
        check_name(&self.name)?;
        if self.about.chars().count() > ABOUT_LIMIT {
            let message = format!("What a role is for takes at most {ABOUT_LIMIT} characters.");
            return Err(Fault::new(FaultKind::TooLong, message).at("/about").into());
        }
        self.check(ds)
    }

    fn tells(&self, _before: &Lens<'_>, after: &Lens<'_>) -> Tells {
        Tells { structure: after.is_steward(), access: after.me().is_none_or(|me| self.is_held_by(me, &after.ds.people)) }
    }

    fn is_about_somebody(&self) -> bool {
        true
    }

    fn packed(mut self, whole: bool) -> Option<Self> {
        if !whole {
            self.members.clear();
        }
        // Groups are of this team alone.
        self.groups.clear();
        Some(self)
    }
}

impl Role {
    /// Whether every table, field and condition it names is there and fits.
    ///
    /// # Errors
    /// [`FaultKind::BadRule`] for each that is not.
    pub fn check(&self, ds: &Dataset) -> Checked<()> {
        let mut faults = Vec::new();
        for (table, rights) in &self.tables {
            let at = format!("/tables/{table}");
            let Some(home) = ds.table(*table) else {
                faults.push(Fault::new(FaultKind::BadRule, "This role names a table that is not there any more.").at(&at));
                continue;
            };
            for (name, reach) in [("look", &rights.look), ("change", &rights.change), ("remove", &rights.remove)] {
                if let Reach::Where(condition) = reach
                    && let Err(Faults(found)) = condition.check(ds, *table)
                {
                    faults.extend(found.into_iter().map(|f| f.at(format!("{at}/{name}/where"))));
                }
            }
            if rights.fields.keys().chain(&rights.released).any(|f| home.def.field(*f).is_none()) {
                faults.push(Fault::new(FaultKind::BadRule, "This role names a field that is not there any more.").at(&at));
            }
        }
        Faults::none_or(faults)
    }
}

impl Role {
    /// Whether a condition of it speaks of *my record*.
    pub(crate) fn speaks_of_my_record(&self) -> bool {
        self.tables.values().any(|rights| rights.asks_my_record(false))
    }
}

impl TableRights {
    /// Whether one of its reaches hangs on *my record*. `people`: the table holds the people.
    pub(super) fn asks_my_record(&self, people: bool) -> bool {
        [&self.look, &self.change, &self.remove].into_iter().any(|reach| match reach {
            Reach::Where(condition) => condition.asks_my_record(),
            Reach::Mine => people,
            Reach::None | Reach::All => false,
        })
    }
}

impl Dataset {
    /// The role of this number.
    pub fn role(&self, id: RoleId) -> Option<&Role> {
        self.part(id.get())
    }

    /// All roles of its own, by their numbers.
    pub fn roles(&self) -> impl Iterator<Item = &Role> {
        self.parts_of()
    }

    /// The same, and those that the area gives in which the tracker lies.
    pub fn all_roles(&self) -> impl Iterator<Item = &Role> {
        self.roles().chain(self.area_roles())
    }
}

impl Dataset {
    /// The same without a role, to look at what that would do.
    pub(super) fn drop_role(&mut self, id: RoleId) {
        self.unload_part((Role::SORT, id.get()));
    }

    /// The roles a person holds in this tracker.
    pub fn roles_of(&self, person: PersonId) -> impl Iterator<Item = &Role> {
        self.all_roles().filter(move |r| r.is_held_by(person, &self.people))
    }

    /// Whether anything of it is there for a person: by a role, or by a view that was given to them.
    fn is_open_to(&self, person: PersonId) -> bool {
        self.roles_of(person).next().is_some() || self.given_to(person).next().is_some()
    }

    /// Whether a person holds a role with one of these bases.
    pub fn holds(&self, person: PersonId, bases: &[Base]) -> bool {
        self.roles_of(person).any(|r| bases.contains(&r.base))
    }
}

impl Dataset {
    /// The table that holds the people, and the field of the address by which each is known.
    pub fn people_table(&self) -> Option<(&Table, FieldId)> {
        self.tables().find_map(|table| Some((table, table.def.mine.own?)))
    }

    /// The records under somebody's confirmed address, in the table that holds the people. Capitals do not count.
    pub fn records_of(&self, person: PersonId) -> impl Iterator<Item = RecordId> {
        self.records_under(self.people.get(person).map_or("", |p| &p.mail))
    }

    /// The records under an address, in the table that holds the people. Capitals do not count.
    pub(crate) fn records_under(&self, mail: &str) -> impl Iterator<Item = RecordId> + use<'_> {
        let mail = Some(mail.trim().to_lowercase()).filter(|mail| !mail.is_empty());
        let known = mail.zip(self.people_table()).and_then(|(mail, (table, field))| Some((mail, table, table.column(field)?)));
        known.into_iter().flat_map(|(mail, table, column)| {
            let is = move |record: &RecordId| match column.cell(record.row()) {
                Cell::Text(text) => text.len() >= mail.len() && text.trim().to_lowercase() == mail,
                _ => false,
            };
            table.records().filter(is)
        })
    }
}

impl Asker {
    /// Whether the tracker is there for them: they hold a role in it, or are its steward and stand in for somebody who does.
    pub fn may_look_at(self, ds: &Dataset) -> bool {
        match self {
            // What was removed is there for those who can bring it back.
            Asker::Person(person) if ds.tracker.stage == Stage::Removed => ds.holds(person, &[Base::Steward]),
            Asker::StandingIn { .. } if ds.tracker.stage == Stage::Removed => false,
            Asker::Person(person) => ds.is_open_to(person),
            Asker::StandingIn { by, r#as } => ds.holds(by, &[Base::Steward]) && ds.is_open_to(r#as),
            // The day that the tracker has come to; a lens looks at the clock beside.
            Asker::Visitor { page, guest } => {
                let open = |page: &Page| page.is_open_on(ds.turned()) && page.admits(guest);
                ds.tracker.stage != Stage::Removed && ds.page(page).is_some_and(open)
            }
            Asker::Automation(id) => {
                let acts_for = ds.automation(id).and_then(|automation| automation.acts_for);
                ds.tracker.stage.is_open() && acts_for.is_some_and(|person| ds.is_open_to(person))
            }
            Asker::Form(_) | Asker::Westerfall => true,
        }
    }
}

/// Whoever of a group stands best for it: who may be stood in for, and holds least beside what the group gives.
pub fn typical_of(
    group: GroupId,
    roles: &[(TrackerId, Role)],
    given: &[(TrackerId, View)],
    people: &People,
    by: PersonId,
) -> Option<PersonId> {
    let beside = |person: PersonId| {
        let own = roles.iter().filter(|(_, role)| !role.groups.contains(&group) && role.is_held_by(person, people)).count();
        own.saturating_add(given.iter().filter(|(_, view)| view.given.contains_key(&person)).count())
    };
    let members = people.group(group)?.members.iter().copied();
    members.filter(|person| may_stand_in(roles, given, people, by, *person)).min_by_key(|person| beside(*person))
}

/// Whether one person may stand in for another, by the roles and the given views of all trackers: through them one would see
/// whatever they see, so that one must be the steward of every tracker that they open, and there is one.
pub fn may_stand_in(roles: &[(TrackerId, Role)], given: &[(TrackerId, View)], people: &People, by: PersonId, r#as: PersonId) -> bool {
    let held = |person: PersonId| roles.iter().filter(move |(_, role)| role.is_held_by(person, people));
    let stewards: HashSet<TrackerId> = held(by).filter(|(_, role)| role.base == Base::Steward).map(|(tracker, _)| *tracker).collect();
    let shown = given.iter().filter(|(_, view)| view.given.contains_key(&r#as) && !people.has_left(r#as));
    let named = held(r#as).map(|(tracker, _)| *tracker).chain(shown.map(|(tracker, _)| *tracker));
    let mut theirs = named.chain(people.opened_to(r#as)).peekable();
    by != r#as && theirs.peek().is_some() && theirs.all(|tracker| stewards.contains(&tracker))
}
