//! Of whom one asks why they may, or may not, do something: somebody of the team, or whoever holds a link.

use super::{Asker, Lens, Right, Role, TableRights, WhyPart};
use crate::{
    dataset::Dataset,
    fault::Fault,
    id::{FormId, GuestId, PageId, PersonId, TableId},
    page::{Door, Page},
    schema::Stage,
    view::View,
};
use serde::{Deserialize, Serialize};

/// Of whom it is asked.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum AskedOf {
    Person(PersonId),
    /// Whoever comes to a shared page; which of those whom it names, where it names them.
    Visitor {
        page: PageId,
        #[serde(default)]
        guest: Option<GuestId>,
    },
    /// Whoever has the link of a form.
    Form(FormId),
}

/// What gives rights: a role, a view that was given by itself, or a part of a page.
pub(super) struct Source {
    pub(super) number: u32,
    pub(super) name: String,
    pub(super) rights: TableRights,
}

impl AskedOf {
    pub(super) fn asker(self) -> Asker {
        match self {
            AskedOf::Person(person) => Asker::Person(person),
            AskedOf::Visitor { page, guest } => Asker::Visitor { page, guest },
            AskedOf::Form(form) => Asker::Form(form),
        }
    }

    /// What they are called.
    ///
    /// # Errors
    /// There is nobody like that.
    pub(super) fn name(self, ds: &Dataset) -> Result<String, Fault> {
        match self {
            AskedOf::Person(person) => Ok(ds.people.get(person).ok_or_else(|| Fault::not_found("person"))?.name.clone()),
            AskedOf::Visitor { page, guest } => {
                let page = ds.page(page).ok_or_else(|| Fault::not_found("page"))?;
                let Some(guest) = guest else { return Ok(page.whoever_comes()) };
                let known = page.guests.iter().find(|one| one.id == guest);
                Ok(known.ok_or_else(|| Fault::not_found("guest"))?.mail.clone())
            }
            AskedOf::Form(form) => {
                let form = ds.form(form).ok_or_else(|| Fault::not_found("form"))?;
                Ok(format!("Whoever has the link of “{}”", form.title))
            }
        }
    }

    /// What gives them something of a table.
    pub(super) fn sources(self, ds: &Dataset, table: TableId) -> Vec<Source> {
        match self {
            AskedOf::Person(person) => {
                let of_role =
                    |role: &Role| Source { number: role.id.get(), name: role.name.clone(), rights: role.rights(table).into_owned() };
                let of_view = |view: &View| {
                    let name = format!("The view “{}”", view.name);
                    Some(Source { number: view.id.get(), name, rights: view.gives(person)? })
                };
                let given = ds.given_to(person).filter(|view| view.table == table).filter_map(of_view);
                ds.roles_of(person).map(of_role).chain(given).collect()
            }
            AskedOf::Visitor { page, .. } => {
                let parts = ds.page(page).into_iter().flat_map(Page::records).filter(|part| part.table == table);
                let source = |part: &crate::page::PageRecords| Source {
                    number: part.number,
                    name: format!("What stands there under “{}”", part.title),
                    rights: part.gives(),
                };
                parts.map(source).collect()
            }
            AskedOf::Form(_) => Vec::new(),
        }
    }

    /// What it takes to come in at all.
    pub(super) fn comes_in(self, lens: &Lens<'_>) -> Vec<WhyPart> {
        let ds = lens.dataset();
        let AskedOf::Visitor { page, guest } = self else { return Vec::new() };
        let Some(page) = ds.page(page) else { return Vec::new() };
        let part = |holds, says| WhyPart { holds, says, roles: Vec::new() };
        let until = page.until.map_or_else(String::new, |day| format!(" until {}", lens.clock().customs().date_text(day)));
        let mut parts = vec![match page.is_open_on(lens.clock().today()) {
            true => part(true, format!("The page is open{until}")),
            false if page.open => part(false, format!("The page was open{until}")),
            false => part(false, "The page is not open".to_owned()),
        }];
        match (&page.door, guest) {
            (Door::Named, None) => parts.push(part(false, "It names those who come in, and nobody else does".to_owned())),
            (Door::Named, Some(guest)) => {
                let named = page.guest(guest).is_some();
                let says = if named { "It names their address, to which it mails a code" } else { "It names their address no more" };
                parts.push(part(named, says.to_owned()));
            }
            (Door::Passcode(_), _) => parts.push(part(true, "They know its passcode".to_owned())),
            (Door::Link, _) => {}
        }
        if ds.tracker.stage == Stage::Removed {
            parts.push(part(false, "The tracker was removed".to_owned()));
        }
        parts
    }

    /// Why nothing gives them anything; empty: there is no more to say of that.
    pub(super) fn nothing(self, ds: &Dataset, many: &str) -> String {
        match self {
            AskedOf::Person(person) if ds.people.get(person).is_some_and(crate::people::Person::has_left) => ": they have left".to_owned(),
            AskedOf::Person(_) => ": they hold no role in this tracker".to_owned(),
            AskedOf::Visitor { .. } => format!(": the page shows no {many}"),
            AskedOf::Form(_) => {
                ": a form takes in what they write, and shows no record but what they sent, at the link that they were given for it"
                    .to_owned()
            }
        }
    }
}

impl Page {
    /// Those who come to it, one by one where it names them.
    pub fn comers(&self) -> Vec<(Option<GuestId>, String)> {
        match self.door {
            Door::Named => self.guests.iter().filter(|guest| !guest.gone).map(|guest| (Some(guest.id), guest.mail.clone())).collect(),
            Door::Link | Door::Passcode(_) => vec![(None, self.whoever_comes())],
        }
    }

    fn whoever_comes(&self) -> String {
        format!("Whoever comes to “{}”", self.title)
    }
}

impl Right {
    /// *see*, *change*, *remove*.
    pub(super) fn verb(self) -> &'static str {
        match self {
            Right::Look => "see",
            Right::Change => "change",
            Right::Remove => "remove",
        }
    }
}
