//! What an area opens, as roles of each tracker that lies in it.

use super::{Base, Role};
use crate::{
    id::{GroupId, RoleId},
    people::{Area, AreaRight},
};
use std::collections::{BTreeMap, BTreeSet};

impl AreaRight {
    fn base(self) -> Base {
        match self {
            AreaRight::Look => Base::Reader,
            AreaRight::Work => Base::Editor,
        }
    }

    /// The number of the role that it gives. No part of a tracker comes to have it: parts are numbered from 1.
    fn role(self) -> RoleId {
        match self {
            AreaRight::Look => RoleId::LAST,
            AreaRight::Work => RoleId::LAST_BUT_ONE,
        }
    }
}

impl Area {
    /// What it gives in each tracker that lies in it, as roles of that tracker.
    pub fn roles(&self) -> Vec<Role> {
        let role = |right: AreaRight| {
            let groups: BTreeSet<GroupId> = self.opens.iter().filter(|(_, given)| **given == right).map(|(group, _)| *group).collect();
            (!groups.is_empty()).then(|| Role {
                id: right.role(),
                name: format!("The area {}", self.name),
                about: String::new(),
                base: right.base(),
                members: BTreeSet::new(),
                groups,
                tables: BTreeMap::new(),
            })
        };
        [AreaRight::Look, AreaRight::Work].into_iter().filter_map(role).collect()
    }
}
