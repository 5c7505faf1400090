//! A role as it is sent and shown.

use super::Sent;
use crate::live::Look;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use utoipa::ToSchema;
use westerfall_core::{
    access::{Base, Role, TableRights, role_sentences},
    fault::Checked,
    id::{GroupId, PersonId, RoleId, TableId},
    part::Part,
};

/// A role with what it may do.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct RoleView {
    role: Role,
    /// For each table a sentence.
    sentences: Vec<TableSentence>,
    /// What it may do in each table, those included of which it says nothing itself.
    rights: BTreeMap<TableId, TableRights>,
}

/// What a role may do in a table.
#[derive(Serialize, ToSchema)]
pub(super) struct TableSentence {
    table: TableId,
    text: String,
}

/// A role to keep.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct RoleBody {
    name: String,
    #[serde(default)]
    about: String,
    base: Base,
    members: BTreeSet<PersonId>,
    /// Groups of the team whose members hold it too.
    #[serde(default)]
    groups: BTreeSet<GroupId>,
    tables: BTreeMap<TableId, TableRights>,
}

impl RoleBody {
    /// The role that it describes, under its number.
    pub(in crate::api) fn named(self, id: RoleId, look: &Look) -> Role {
        let Self { name, about, base, members, groups, tables } = self;
        // A group that is gone gives nobody anything.
        let groups = groups.into_iter().filter(|group| look.dataset.people.group(*group).is_some()).collect();
        Role { id, name: name.trim().to_owned(), about: about.trim().to_owned(), base, members, groups, tables }
    }
}

impl Sent for RoleBody {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        Ok(self.named(number.and_then(RoleId::new).unwrap_or(RoleId::FIRST), look).into())
    }
}

pub(in crate::api) fn seen(look: &Look, role: &Role) -> RoleView {
    let sentences = role_sentences(role, &look.lens()).into_iter();
    RoleView {
        sentences: sentences.map(|(table, text)| TableSentence { table, text }).collect(),
        rights: look.dataset.tables().map(|t| (t.def.id, role.rights(t.def.id).into_owned())).collect(),
        role: role.clone(),
    }
}
