//! The lens: the one way out. What it does not give does not exist for the asker.

use super::{
    Asker, Base, FieldRight, Reach, Role, TableRights,
    grant::{Extent, Grant, Right},
};
use crate::{
    Clock,
    dataset::{Dataset, Meta, Reader, Sight, Table},
    id::{FieldId, GuestId, PageId, PersonId, RecordId, TableId},
    page::{Guest, PageRecords},
    people::Actor,
    schema::MineBy,
    value::Cell,
    view::View,
};
use fixedbitset::FixedBitSet;
use std::{
    borrow::Cow,
    cell::OnceCell,
    collections::{BTreeMap, BTreeSet},
};

/// A dataset as one asker may see it, at one moment.
#[derive(Debug)]
pub struct Lens<'a> {
    pub(crate) ds: &'a Dataset,
    pub(crate) clock: &'a Clock,
    pub(crate) me: Option<PersonId>,
    /// The shared page at which the asker is, and which of those whom it names they are.
    visitor: Option<(PageId, Option<&'a Guest>)>,
    /// None: everything, for Westerfall's own rules.
    tables: Option<BTreeMap<TableId, TableLens<'a>>>,
    whole: OnceCell<Box<Lens<'a>>>,
    my_record: OnceCell<Option<RecordId>>,
    /// The fields on which what is in sight hangs, once they were asked for.
    hangs_on: OnceCell<BTreeSet<FieldId>>,
}

/// One table's share: the asker's grants in it, and the records in sight once they were needed.
#[derive(Debug)]
struct TableLens<'a> {
    grants: Vec<Grant<'a>>,
    look: OnceCell<Extent>,
}

impl<'a> Lens<'a> {
    /// The dataset as the asker may see it.
    pub fn new(ds: &'a Dataset, asker: Asker, clock: &'a Clock) -> Self {
        match asker {
            Asker::Westerfall => Self::of_everything(ds, None, clock),
            // Somebody at a form's link sees no record; what a question offers is asked of the form itself.
            Asker::Form(_) => Self::granted_alone(ds, clock, Vec::new()),
            Asker::Visitor { page, guest } => Self::at_page(ds, clock, page, guest, |_| true),
            Asker::Automation(id) => match ds.automation(id).and_then(|automation| automation.acts_for) {
                Some(me) => Self { me: Some(me), ..Self::of_person(ds, clock, me, asker) },
                None => Self::granted_alone(ds, clock, Vec::new()),
            },
            Asker::Person(me) | Asker::StandingIn { r#as: me, .. } => Self { me: Some(me), ..Self::of_person(ds, clock, me, asker) },
        }
    }

    /// What somebody of the team is given by their roles, and by views that are given to them by themselves.
    fn of_person(ds: &'a Dataset, clock: &'a Clock, me: PersonId, asker: Asker) -> Self {
        if !asker.may_look_at(ds) {
            return Self::granted_alone(ds, clock, Vec::new());
        }
        let roles: Vec<&Role> = ds.roles_of(me).collect();
        let by_roles = ds.tables().flat_map(|table| roles.iter().map(move |role| (table.def.id, Grant::new(role.rights(table.def.id)))));
        let by_views = ds.given_to(me).filter_map(|view| Some((view.table, Grant::of_view(view.gives(me)?))));
        Self::granted_alone(ds, clock, by_roles.chain(by_views).collect())
    }

    /// What visitors of a shared page are given, by these of its parts; nothing where they are not let in.
    fn at_page(ds: &'a Dataset, clock: &'a Clock, id: PageId, guest: Option<GuestId>, of: impl Fn(&PageRecords) -> bool) -> Self {
        let page = ds.page(id).filter(|page| Asker::Visitor { page: id, guest }.may_look_at(ds) && page.is_open_on(clock.today()));
        let parts = page.iter().flat_map(|page| page.records()).filter(|records| of(records));
        let grants = parts.map(|records| (records.table, Grant::new(Cow::Owned(records.gives())))).collect();
        let known = guest.and_then(|guest| page?.guest(guest));
        Self { visitor: Some((id, known)), ..Self::granted_alone(ds, clock, grants) }
    }

    /// What one part of a shared page gives, by itself.
    pub(crate) fn of_block(ds: &'a Dataset, clock: &'a Clock, page: PageId, guest: Option<GuestId>, number: u32) -> Self {
        Self::at_page(ds, clock, page, guest, |records| records.number == number)
    }

    /// What these grants give, and nothing else. A tracker that is closed is only read.
    fn granted_alone(ds: &'a Dataset, clock: &'a Clock, grants: Vec<(TableId, Grant<'a>)>) -> Self {
        let mut tables: BTreeMap<TableId, TableLens<'a>> =
            ds.tables().map(|table| (table.def.id, TableLens { grants: Vec::new(), look: OnceCell::new() })).collect();
        for (table, grant) in grants {
            let Some(share) = tables.get_mut(&table) else { continue };
            share.grants.push(if ds.tracker.stage.is_open() { grant } else { grant.only_read() });
        }
        Self { tables: Some(tables), ..Self::of_everything(ds, None, clock) }
    }

    /// The whole dataset, for rules that the coordinator set; `me` is whom their *me* means.
    pub fn of_everything(ds: &'a Dataset, me: Option<PersonId>, clock: &'a Clock) -> Self {
        Self { ds, clock, me, visitor: None, tables: None, whole: OnceCell::new(), my_record: OnceCell::new(), hangs_on: OnceCell::new() }
    }

    /// The moment of this look.
    pub fn clock(&self) -> &'a Clock {
        self.clock
    }

    /// Whose *me* it is.
    pub fn me(&self) -> Option<PersonId> {
        self.me
    }

    /// The shared page at which the asker is.
    pub fn page(&self) -> Option<PageId> {
        self.visitor.map(|(page, _)| page)
    }

    /// The confirmed address of whoever asks.
    pub(crate) fn my_address(&self) -> Option<&'a str> {
        let mail = match self.visitor {
            Some((_, guest)) => guest?.mail.as_str(),
            None => self.ds.people.get(self.me?)?.mail.as_str(),
        };
        Some(mail).filter(|mail| !mail.is_empty())
    }

    /// The names and kinds of what is looked at. Records are read through the lens only.
    pub fn dataset(&self) -> &'a Dataset {
        self.ds
    }

    pub(crate) fn whole(&self) -> &Lens<'a> {
        match self.tables {
            None => self,
            Some(_) => {
                self.whole.get_or_init(|| Box::new(Self { visitor: self.visitor, ..Self::of_everything(self.ds, self.me, self.clock) }))
            }
        }
    }

    /// Whether the asker has anything to look at or add to in this table.
    pub fn opens(&self, table: TableId) -> bool {
        self.grants(table).is_none_or(|grants| grants.iter().any(|g| g.rights.add || g.rights.look != Reach::None))
    }

    /// Whether a view is there for the asker: their own, one that was given to them, or the team's where a role opens its table.
    pub fn knows(&self, view: &View) -> bool {
        match (view.owner, self.me) {
            (Some(owner), Some(me)) if owner != me => false,
            (Some(_), _) => self.opens(view.table),
            (None, Some(me)) if view.given.contains_key(&me) && self.opens(view.table) => true,
            (None, _) => self.is_within(view.table),
        }
    }

    /// Whether a role opens a table for the asker, and not a given view or a shared page alone.
    pub fn is_within(&self, table: TableId) -> bool {
        self.visitor.is_none()
            && self.grants(table).is_none_or(|grants| grants.iter().any(|g| !g.by_view && (g.rights.add || g.rights.look != Reach::None)))
    }

    /// None where everything is allowed.
    pub(super) fn grants(&self, table: TableId) -> Option<&[Grant<'a>]> {
        let tables = self.tables.as_ref()?;
        Some(tables.get(&table).map_or(&[], |t| &t.grants))
    }

    /// Whether the asker may add records to a table.
    pub fn adds(&self, table: TableId) -> bool {
        self.grants(table).is_none_or(|grants| grants.iter().any(|g| g.rights.add))
    }

    /// Whether the asker may put records of a table into the bin, some of them at least.
    pub fn removes(&self, table: TableId) -> bool {
        self.grants(table).is_none_or(|grants| grants.iter().any(|g| g.rights.remove != Reach::None && g.rights.look != Reach::None))
    }

    /// Whether a record that the asker adds may begin with a value of theirs in this field.
    pub fn adds_with(&self, table: TableId, field: FieldId) -> bool {
        self.grants(table).is_none_or(|grants| grants.iter().any(|g| g.rights.add && g.field(field) == FieldRight::Change))
    }

    /// Whether the asker may read a field of any record at all: whether it is there for them.
    pub fn reads(&self, table: TableId, field: FieldId) -> bool {
        let reaches = |g: &Grant<'_>| g.rights.add || g.rights.look != Reach::None;
        self.grants(table).is_none_or(|grants| grants.iter().any(|g| reaches(g) && g.shows(field)))
    }

    /// Whether the asker may put a value into a field of some record or other.
    pub fn writes(&self, table: TableId, field: FieldId) -> bool {
        let reaches = |g: &Grant<'_>| g.rights.add || g.rights.change != Reach::None;
        let takes = self.ds.table(table).and_then(|t| t.def.field(field)).is_some_and(|f| f.kind.takes_input());
        takes && self.grants(table).is_none_or(|grants| grants.iter().any(|g| reaches(g) && g.field(field) == FieldRight::Change))
    }

    /// Whether the asker may read this field of this record. Costs the same however large the table is.
    pub fn shows(&self, table: TableId, record: RecordId, field: FieldId) -> bool {
        self.granted(table, record, Right::Look, |g| g.shows(field))
    }

    /// Whether the asker may change this field of this record: reading it is needed too.
    pub fn changes(&self, table: TableId, record: RecordId, field: FieldId) -> bool {
        self.shows(table, record, field) && self.granted(table, record, Right::Change, |g| g.field(field) == FieldRight::Change)
    }

    /// Of the records in sight, those whose cell of this field may be read.
    pub(crate) fn shown(&self, table: TableId, field: FieldId) -> Extent {
        self.extent(table, |g| g.shows(field))
    }

    /// Of the records in sight, those whose computed cell the coordinator released to one of the asker's roles.
    pub(crate) fn released(&self, table: TableId, field: FieldId) -> Extent {
        match self.tables {
            None => Extent::Nowhere,
            Some(_) => self.extent(table, |g| g.releases(field)),
        }
    }

    /// The lens through which the values of a field are named where records stand together by them: whoever is given what a link
    /// shows of all that they see is given the names in it.
    pub(crate) fn naming(&self, table: TableId, field: FieldId) -> &Lens<'a> {
        if self.released(table, field) == Extent::Everywhere { self.whole() } else { self }
    }

    /// Whether it is the lens of whoever comes to a shared page.
    pub(crate) fn is_outside(&self) -> bool {
        self.visitor.is_some()
    }

    /// Of the records in sight, those within the grants that give something.
    fn extent(&self, table: TableId, gives: impl Fn(&Grant<'_>) -> bool) -> Extent {
        let (Some(grants), Some(home)) = (self.grants(table), self.ds.table(table)) else { return Extent::Everywhere };
        let looking = || grants.iter().filter(|g| g.rights.look != Reach::None);
        let mut giving = looking().filter(|g| gives(g)).peekable();
        if giving.peek().is_none() {
            // Whoever only adds reads what they put in, of no record that is there.
            return Extent::Nowhere;
        }
        if looking().all(&gives) { Extent::Everywhere } else { Extent::union(giving.map(|g| self.look_of(home, g))) }
    }

    fn look_of<'g>(&self, home: &Table, grant: &'g Grant<'a>) -> &'g Extent {
        grant.look.get_or_init(|| match &grant.rights.look {
            Reach::None => Extent::Nowhere,
            Reach::All => Extent::Everywhere,
            Reach::Mine => {
                let mut rows = FixedBitSet::with_capacity(home.rows());
                rows.extend(home.records().filter(|r| self.is_mine(home, *r)).map(RecordId::row));
                Extent::Some(rows)
            }
            Reach::Where(condition) => Extent::Some(condition.matching(self.whole(), home.def.id)),
        })
    }

    /// The records in sight; worked out once for the whole table.
    pub(crate) fn sight(&self, table: TableId) -> Sight<'_> {
        let Some(home) = self.ds.table(table) else { return Sight::Nothing };
        let Some(tables) = &self.tables else { return Sight::Live(home) };
        let Some(share) = tables.get(&table) else { return Sight::Nothing };
        match share.look.get_or_init(|| Extent::union(share.grants.iter().map(|g| self.look_of(home, g)))) {
            Extent::Nowhere => Sight::Nothing,
            Extent::Everywhere => Sight::Live(home),
            Extent::Some(records) => Sight::Some(records),
        }
    }

    /// The rows of the records in sight.
    pub(super) fn rows_in_sight(&self, table: TableId) -> FixedBitSet {
        match self.sight(table) {
            Sight::Nothing => FixedBitSet::new(),
            Sight::Some(rows) => rows.clone(),
            Sight::Live(home) => {
                let mut rows = FixedBitSet::with_capacity(home.rows());
                rows.extend(home.records().map(RecordId::row));
                rows
            }
        }
    }

    /// Whether a record is there for the asker.
    pub fn sees(&self, table: TableId, record: RecordId) -> bool {
        self.may(Right::Look, table, record)
    }

    /// Whether somebody sees a file: a record in their sight holds it in this field. It mostly is the one on which it was put first; where
    /// records were merged it is another.
    pub fn holds_file(&self, table: TableId, record: RecordId, field: FieldId, id: &str) -> bool {
        let reader = self.reader(table, field);
        let holds = |record: RecordId| {
            self.sees(table, record) && matches!(reader.cell(record.row()), Cell::Files(files) if files.iter().any(|file| file.id == id))
        };
        holds(record) || self.records(table).any(holds)
    }

    /// Whether the asker has a right over one record; costs the same however large the table is. Changing needs looking too.
    pub fn may(&self, right: Right, table: TableId, record: RecordId) -> bool {
        self.granted(table, record, Right::Look, |_| true) && (right == Right::Look || self.granted(table, record, right, |_| true))
    }

    /// The same of a record in the bin, as if it were back.
    pub fn would(&self, right: Right, table: TableId, record: RecordId) -> bool {
        self.reached(table, record, Right::Look, |_| true) && self.reached(table, record, right, |_| true)
    }

    /// Whether one of the grants that give something reaches a record with a right.
    fn granted(&self, table: TableId, record: RecordId, right: Right, gives: impl Fn(&Grant<'_>) -> bool) -> bool {
        self.ds.table(table).is_some_and(|t| t.is_live(record)) && self.reached(table, record, right, gives)
    }

    fn reached(&self, table: TableId, record: RecordId, right: Right, gives: impl Fn(&Grant<'_>) -> bool) -> bool {
        let Some(home) = self.ds.table(table).filter(|t| t.meta(record).is_some()) else { return false };
        let Some(grants) = self.grants(table) else { return true };
        grants.iter().filter(|g| gives(g)).any(|g| match g.reach(right) {
            Reach::None => false,
            Reach::All => true,
            Reach::Mine => self.is_mine(home, record),
            Reach::Where(condition) => condition.holds(self.whole(), table, record),
        })
    }

    /// The record that stands for whoever asks: the one of the table that holds the people under their confirmed address. Nobody
    /// has none or several.
    pub fn my_record(&self) -> Option<RecordId> {
        *self.my_record.get_or_init(|| {
            let mut mine = self.ds.records_under(self.my_address()?);
            mine.next().filter(|_| mine.next().is_none())
        })
    }

    /// Whether what the asker may do hangs on *my record*.
    pub(super) fn asks_my_record(&self) -> bool {
        let people = self.ds.people_table().map(|(table, _)| table.def.id);
        let mut grants = self.tables.iter().flatten().flat_map(|(table, share)| share.grants.iter().map(move |grant| (*table, grant)));
        grants.any(|(table, grant)| grant.rights.asks_my_record(people == Some(table)))
    }

    pub(super) fn is_mine(&self, table: &Table, record: RecordId) -> bool {
        self.is_mine_by(table, record, table.def.mine)
    }

    pub(super) fn is_mine_by(&self, table: &Table, record: RecordId, by: MineBy) -> bool {
        let Some(meta) = table.meta(record) else { return false };
        let cell = |field: Option<FieldId>| field.and_then(|f| table.column(f)).map_or(Cell::Empty, |c| c.cell(record.row()));
        let sent_under_my_address = || match (meta.created_by, cell(by.address), self.my_address()) {
            (Actor::Form(_), Cell::Text(address), Some(mine)) => address.trim().to_lowercase() == mine.to_lowercase(),
            _ => false,
        };
        (by.made && self.me.is_some_and(|me| meta.created_by == Actor::Person(me)))
            || self.me.is_some_and(|me| cell(by.entered_for) == Cell::Person(me))
            || (by.own.is_some() && self.my_record() == Some(record))
            || sent_under_my_address()
    }

    /// Whether a role opens all records of a table to the asker: whether what they count is all there is.
    pub fn reaches_all(&self, table: TableId) -> bool {
        self.grants(table).is_none_or(|grants| grants.iter().any(|grant| grant.rights.look == Reach::All))
    }

    /// How many records of a table are there for the asker.
    pub fn count(&self, table: TableId) -> usize {
        match self.sight(table) {
            Sight::Live(table) => table.live(),
            Sight::Some(records) => records.count_ones(..),
            Sight::Nothing => 0,
        }
    }

    /// The records of a table that are there for the asker, in the order in which they were made.
    pub fn records(&self, table: TableId) -> impl Iterator<Item = RecordId> {
        let home = self.ds.table(table);
        home.into_iter().flat_map(Table::records).filter(move |record| self.sees(table, *record))
    }

    /// When and by whom a record was made and changed, where it is there for the asker.
    pub fn meta(&self, table: TableId, record: RecordId) -> Option<&'a Meta> {
        if self.sees(table, record) { self.ds.table(table)?.meta(record) } else { None }
    }

    /// A reader of a field's cells.
    pub fn reader(&self, table: TableId, field: FieldId) -> Reader<'_> {
        Reader::new(self, table, field)
    }

    /// Whether the asker owns the tracker.
    pub fn is_steward(&self) -> bool {
        self.holds(&[Base::Steward])
    }

    /// Whether nothing of the tracker is kept from the asker: they own it, or build in all of it.
    pub(crate) fn works_everywhere(&self) -> bool {
        let all = |role: &Role| role.base == Base::Builder && role.tables.is_empty();
        self.tables.is_none() || self.is_steward() || self.me.is_some_and(|me| self.ds.roles_of(me).any(all))
    }

    /// Whether the asker may change the structure: team views, forms, automations.
    pub fn builds(&self) -> bool {
        (self.ds.tracker.stage.is_open() || self.tables.is_none()) && self.holds(&[Base::Steward, Base::Builder])
    }

    /// Whether nothing is withheld from whoever asks.
    pub(crate) fn gives_everything(&self) -> bool {
        self.tables.is_none()
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
        let all = || tables.iter().flat_map(|(id, share)| share.grants.iter().map(move |grant| (*id, &grant.rights)));
        self.hangs_on.get_or_init(|| all().flat_map(|(table, rights)| self.rights_hang_on(table, rights)).collect()).contains(&field)
    }

    /// Every field on the way of what some rights ask, and whatever such a field is carried or computed from.
    fn rights_hang_on(&self, table: TableId, rights: &TableRights) -> BTreeSet<FieldId> {
        let mut fields = BTreeSet::new();
        for reach in [&rights.look, &rights.change, &rights.remove] {
            let Reach::Where(condition) = reach else { continue };
            for test in condition.tests() {
                let mut at = Some(table);
                for step in &test.path {
                    fields.insert(*step);
                    if let Some(here) = at {
                        fields.extend(self.ds.draws_on(here, *step));
                        at = self.ds.end_of(here, &[*step]);
                    }
                }
            }
        }
        for released in &rights.released {
            fields.extend(self.ds.draws_on(table, *released));
            fields.extend(self.ds.named_by(table, *released));
        }
        fields
    }
}
