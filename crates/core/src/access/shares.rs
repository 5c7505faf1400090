//! How much of a tracker somebody reaches, by verb: what one compares people by.

use super::{Extent, Lens, Reach, Right, grant::Grant};
use crate::{dataset::Table, id::RecordId};
use fixedbitset::FixedBitSet;
use serde::{Deserialize, Serialize};

/// Each verb with the thousandths of all records that it reaches; of adding, the thousandths of the tables.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Shares {
    pub look: u16,
    pub add: u16,
    pub change: u16,
    pub remove: u16,
    /// Changes the structure.
    pub build: bool,
    /// The roles by which they reach it, as they are called.
    pub by: Vec<String>,
}

impl Lens<'_> {
    /// How much of the tracker the asker reaches. Goes over each table whose reach names a condition once.
    pub fn shares(&self) -> Shares {
        let tables: Vec<&Table> = self.ds.tables().collect();
        let all: usize = tables.iter().map(|table| table.live()).sum();
        let of = |right: Right| thousandths(tables.iter().map(|table| self.reached_by(table, right)).sum(), all);
        let adds = tables.iter().filter(|table| self.adds(table.def.id)).count();
        let given = self.me.into_iter().flat_map(|me| self.ds.given_to(me));
        let views = given.map(|view| format!("the view “{}”", view.name));
        let roles = self.me.into_iter().flat_map(|me| self.ds.roles_of(me));
        Shares {
            look: of(Right::Look),
            add: thousandths(adds, tables.len()),
            change: of(Right::Change),
            remove: of(Right::Remove),
            build: self.builds(),
            by: roles.map(|role| role.name.clone()).chain(views).collect(),
        }
    }

    /// How many records a right reaches. Changing and removing need looking too.
    pub(super) fn reached_by(&self, table: &Table, right: Right) -> usize {
        let id = table.def.id;
        let Some(grants) = self.grants(id) else { return table.live() };
        let extents: Vec<Extent> = grants.iter().map(|grant| self.extent_of(table, grant, right)).collect();
        match Extent::union(extents.iter()) {
            Extent::Nowhere => 0,
            Extent::Everywhere => self.count(id),
            Extent::Some(rows) => rows.ones().filter(|row| self.sight(id).sees(RecordId::at_row(*row))).count(),
        }
    }

    fn extent_of(&self, table: &Table, grant: &Grant<'_>, right: Right) -> Extent {
        match grant.reach(right) {
            Reach::None => Extent::Nowhere,
            Reach::All => Extent::Everywhere,
            Reach::Where(condition) => Extent::Some(condition.matching(self.whole(), table.def.id)),
            Reach::Mine => {
                let mut rows = FixedBitSet::with_capacity(table.rows());
                rows.extend(table.records().filter(|record| self.is_mine(table, *record)).map(RecordId::row));
                Extent::Some(rows)
            }
        }
    }
}

/// Whatever is more than nothing is seen to be, and only all is all.
fn thousandths(part: usize, whole: usize) -> u16 {
    if part == 0 || whole == 0 {
        return 0;
    }
    let share = part.saturating_mul(1_000).checked_div(whole).unwrap_or(0);
    let share = if part >= whole { 1_000 } else { share.clamp(1, 999) };
    u16::try_from(share).unwrap_or(1_000)
}
