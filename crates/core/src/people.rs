//! The team's people, as a tracker needs to know them.

use crate::id::{AutomationId, FormId, PersonId};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// A person of the team.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Person {
    pub id: PersonId,
    pub name: String,
    /// The address they sign in with, confirmed.
    pub mail: String,
}

impl Person {
    /// At most two initials.
    pub fn initials(&self) -> String {
        let mut words = self.name.split_whitespace().filter_map(|word| word.chars().next());
        words.next().into_iter().chain(words.next_back()).collect::<String>().to_uppercase()
    }
}

/// Everybody, by id.
#[derive(Clone, Debug, Default)]
pub struct People(BTreeMap<PersonId, Person>);

impl People {
    /// All of these.
    pub fn new(people: impl IntoIterator<Item = Person>) -> Self {
        Self(people.into_iter().map(|p| (p.id, p)).collect())
    }

    /// Whoever has this number.
    pub fn get(&self, id: PersonId) -> Option<&Person> {
        self.0.get(&id)
    }

    /// The name, or what stands for somebody who is no longer known.
    pub fn name(&self, id: PersonId) -> &str {
        self.get(id).map_or("somebody who has left", |p| &p.name)
    }

    /// Everybody, by number.
    pub fn iter(&self) -> impl Iterator<Item = &Person> {
        self.0.values()
    }

    /// Whoever has this name or address, whatever its capitals; nobody where two fit.
    pub fn find(&self, text: &str) -> Option<&Person> {
        let wanted = text.trim().to_lowercase();
        let mut fitting = self.iter().filter(|p| p.name.to_lowercase() == wanted || p.mail.to_lowercase() == wanted);
        let first = fitting.next()?;
        fitting.next().is_none().then_some(first)
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
    /// Westerfall itself, setting up.
    Westerfall,
}
