//! The lens: the one way out. What it does not give does not exist for the asker.

use super::{Asker, Base, FieldRight, Reach, Role, TableRights};
use crate::{
    Clock,
    dataset::{Dataset, Reader, Sight, Table},
    history::Actor,
    id::{FieldId, PersonId, RecordId, TableId},
    value::Cell,
};
use fixedbitset::FixedBitSet;
use std::{borrow::Cow, cell::OnceCell, collections::BTreeMap};

/// A right over records.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Right {
    Look,
    Change,
    Remove,
}

/// A dataset as one asker may see it, at one moment.
#[derive(Debug)]
pub struct Lens<'a> {
    pub(crate) ds: &'a Dataset,
    pub(crate) clock: &'a Clock,
    pub(crate) me: Option<PersonId>,
    /// None: everything, for Westerfall's own rules.
    tables: Option<BTreeMap<TableId, TableLens<'a>>>,
    whole: OnceCell<Box<Lens<'a>>>,
}

/// One table's share: the rights of each of the asker's roles, and the records in sight once they were needed.
#[derive(Debug)]
struct TableLens<'a> {
    rights: Vec<Cow<'a, TableRights>>,
    look: OnceCell<Mask>,
}

/// A set of records, in sight or not.
#[derive(Clone, Debug, PartialEq)]
enum Mask {
    All,
    Some(FixedBitSet),
}

impl<'a> Lens<'a> {
    /// The dataset as the asker may see it.
    pub fn new(ds: &'a Dataset, asker: Asker, clock: &'a Clock) -> Self {
        match asker {
            Asker::Westerfall => Self::of_everything(ds, None, clock),
            // Somebody at a form's link sees no record; what a question offers is asked of the form itself.
            Asker::Form(_) => Self { ds, clock, me: None, tables: Some(BTreeMap::new()), whole: OnceCell::new() },
            Asker::Person(me) => {
                let roles: Vec<&Role> = ds.roles_of(me).collect();
                let tables = ds.tables().map(|table| {
                    let rights = roles.iter().map(|role| role.rights(table.def.id)).collect();
                    (table.def.id, TableLens { rights, look: OnceCell::new() })
                });
                Self { ds, clock, me: Some(me), tables: Some(tables.collect()), whole: OnceCell::new() }
            }
        }
    }

    /// The whole dataset, for rules that the coordinator set; `me` is whom their *me* means.
    pub fn of_everything(ds: &'a Dataset, me: Option<PersonId>, clock: &'a Clock) -> Self {
        Self { ds, clock, me, tables: None, whole: OnceCell::new() }
    }

    /// The moment of this look.
    pub fn clock(&self) -> &'a Clock {
        self.clock
    }

    /// Whose *me* it is.
    pub fn me(&self) -> Option<PersonId> {
        self.me
    }

    /// The names and kinds of what is looked at. Records are read through the lens only.
    pub fn dataset(&self) -> &'a Dataset {
        self.ds
    }

    pub(crate) fn whole(&self) -> &Lens<'a> {
        match self.tables {
            None => self,
            Some(_) => self.whole.get_or_init(|| Box::new(Self::of_everything(self.ds, self.me, self.clock))),
        }
    }

    /// Whether the asker has anything to look at or add to in this table.
    pub fn opens(&self, table: TableId) -> bool {
        self.adds(table) || self.rights(table).is_none_or(|rights| rights.iter().any(|r| r.look != Reach::None))
    }

    /// None where everything is allowed.
    fn rights(&self, table: TableId) -> Option<&[Cow<'a, TableRights>]> {
        let tables = self.tables.as_ref()?;
        Some(tables.get(&table).map_or(&[], |t| &t.rights))
    }

    /// Whether the asker may add records to a table.
    pub fn adds(&self, table: TableId) -> bool {
        self.rights(table).is_none_or(|rights| rights.iter().any(|r| r.add))
    }

    /// What the asker may do with a field; several roles add up.
    pub fn field_right(&self, table: TableId, field: FieldId) -> FieldRight {
        let Some(rights) = self.rights(table) else { return FieldRight::Change };
        let of = |r: &TableRights| r.fields.get(&field).copied().unwrap_or(FieldRight::Change);
        rights.iter().map(|r| of(r)).max().unwrap_or(FieldRight::Hidden)
    }

    /// Whether the asker may read a field at all.
    pub fn reads(&self, table: TableId, field: FieldId) -> bool {
        self.field_right(table, field) != FieldRight::Hidden
    }

    /// Whether the coordinator released a computed field to one of the asker's roles.
    pub fn released(&self, table: TableId, field: FieldId) -> bool {
        self.rights(table).is_some_and(|rights| rights.iter().any(|r| r.released.contains(&field)))
    }

    /// The records in sight; worked out once for the whole table.
    pub(crate) fn sight(&self, table: TableId) -> Sight<'_> {
        let Some(home) = self.ds.table(table) else { return Sight::Nothing };
        let Some(tables) = &self.tables else { return Sight::Live(home) };
        let Some(share) = tables.get(&table) else { return Sight::Nothing };
        match share.look.get_or_init(|| self.mask(home, &share.rights, Right::Look)) {
            Mask::All => Sight::Live(home),
            Mask::Some(records) => Sight::Some(records),
        }
    }

    fn mask(&self, table: &Table, rights: &[Cow<'a, TableRights>], right: Right) -> Mask {
        let mut seen = FixedBitSet::with_capacity(table.rows());
        for reach in rights.iter().map(|r| reach_of(r, right)) {
            match reach {
                Reach::None => {}
                Reach::All => return Mask::All,
                Reach::Mine => seen.extend(table.records().filter(|r| self.is_mine(table, *r)).map(RecordId::row)),
                Reach::Where(condition) => seen.union_with(&condition.matching(self.whole(), table.def.id)),
            }
        }
        Mask::Some(seen)
    }

    /// Whether a record is there for the asker.
    pub fn sees(&self, table: TableId, record: RecordId) -> bool {
        self.may(Right::Look, table, record)
    }

    /// Whether the asker has a right over one record; costs the same however large the table is. Changing needs looking too.
    pub fn may(&self, right: Right, table: TableId, record: RecordId) -> bool {
        let Some(home) = self.ds.table(table).filter(|t| t.is_live(record)) else { return false };
        let Some(rights) = self.rights(table) else { return true };
        let reached = |right| {
            rights.iter().any(|r| match reach_of(r, right) {
                Reach::None => false,
                Reach::All => true,
                Reach::Mine => self.is_mine(home, record),
                Reach::Where(condition) => condition.holds(self.whole(), table, record),
            })
        };
        reached(Right::Look) && (right == Right::Look || reached(right))
    }

    fn is_mine(&self, table: &Table, record: RecordId) -> bool {
        let (Some(me), Some(meta)) = (self.me, table.meta(record)) else { return false };
        let cell = |field: Option<FieldId>| field.and_then(|f| table.column(f)).map_or(Cell::Empty, |c| c.cell(record.row()));
        let sent_under_my_address = || match (meta.created_by, cell(table.def.mine.address), self.ds.people.get(me)) {
            (Actor::Form(_), Cell::Text(address), Some(person)) => address.trim().to_lowercase() == person.mail.to_lowercase(),
            _ => false,
        };
        meta.created_by == Actor::Person(me) || cell(table.def.mine.entered_for) == Cell::Person(me) || sent_under_my_address()
    }

    /// How many records of a table are there for the asker.
    pub fn count(&self, table: TableId) -> usize {
        match self.sight(table) {
            Sight::Live(table) => table.live(),
            Sight::Some(records) => records.count_ones(..),
            Sight::Nothing => 0,
        }
    }

    /// A reader of a field's cells.
    pub fn reader(&self, table: TableId, field: FieldId) -> Reader<'_> {
        Reader::new(self, table, field)
    }

    /// Whether the asker owns the tracker.
    pub fn is_steward(&self) -> bool {
        self.holds(&[Base::Steward])
    }

    /// Whether the asker may change the structure: team views, forms, automations.
    pub fn builds(&self) -> bool {
        self.holds(&[Base::Steward, Base::Builder])
    }

    fn holds(&self, bases: &[Base]) -> bool {
        match (&self.tables, self.me) {
            (None, _) => true,
            (Some(_), Some(me)) => self.ds.holds(me, bases),
            (Some(_), None) => false,
        }
    }

    /// Fields of other records on which the asker's reach or released cells depend: when one of them changes,
    /// what the asker sees may change though no record in sight was touched.
    pub fn depends_on(&self, field: FieldId) -> bool {
        let Some(tables) = &self.tables else { return true };
        tables.iter().flat_map(|(id, t)| t.rights.iter().map(move |r| (*id, r))).any(|(table, rights)| {
            let reach_names = |reach: &Reach| matches!(reach, Reach::Where(condition) if condition.names(field));
            let released_names = |id: &FieldId| self.ds.draws_on(table, *id).contains(&field);
            [&rights.look, &rights.change, &rights.remove].into_iter().any(reach_names) || rights.released.iter().any(released_names)
        })
    }
}

fn reach_of(rights: &TableRights, right: Right) -> &Reach {
    match right {
        Right::Look => &rights.look,
        Right::Change => &rights.change,
        Right::Remove => &rights.remove,
    }
}
