//! What a role names.

use super::{FieldRight, Reach, Role, TableRights};
use crate::{
    condition::condition_refs as condition,
    id::FieldId,
    names::{Hold, Name, Names, See, field, person},
};
use std::collections::{BTreeMap, BTreeSet};

impl Names for Role {
    fn each(&mut self, see: &mut See<'_>) {
        self.members = self
            .members
            .iter()
            .filter_map(|id| {
                let mut id = *id;
                person(&mut id, Hold::Shows("has them as a member"), see).then_some(id)
            })
            .collect();
        let mut tables = BTreeMap::new();
        for (id, mut rights) in std::mem::take(&mut self.tables) {
            if let Some(Name::Table(id)) = see(Name::Table(id), Hold::Shows("says who may do what in it")) {
                of_rights(&mut rights, see);
                tables.insert(id, rights);
            }
        }
        self.tables = tables;
    }
}

fn of_rights(rights: &mut TableRights, see: &mut See<'_>) {
    for reach in [&mut rights.look, &mut rights.change, &mut rights.remove] {
        if let Reach::Where(of) = reach {
            condition(of, Hold::Needs("says by it who may do what"), see);
        }
    }
    let hold = Hold::Shows("says who may read or change it");
    let fields: BTreeMap<FieldId, FieldRight> = std::mem::take(&mut rights.fields);
    rights.fields = fields.into_iter().filter_map(|(mut id, right)| field(&mut id, hold, see).then_some((id, right))).collect();
    let released: BTreeSet<FieldId> = std::mem::take(&mut rights.released);
    rights.released = released.into_iter().filter_map(|mut id| field(&mut id, hold, see).then_some(id)).collect();
}
