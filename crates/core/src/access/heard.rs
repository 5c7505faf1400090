//! What an asker hears of a change: nothing of what the lens does not give, not even that something happened.

use super::{Asker, Base, Extent, Lens, Reach, Role};
use crate::{
    dataset::{Dataset, Recomputed},
    history::{Change, Op},
    id::{FieldId, PageId, RecordId, RoleId, TableId},
    part::{Part, with_part},
    rules::Rules,
    schema::{Kind, Link},
    value::Value,
    view::Query,
};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// Most records that are named of one bulk step.
const HEARD_AT_ONCE: usize = 100;

/// What there is to hear of one change. Screens read again what they show; this only says when and why.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Heard {
    pub seq: u64,
    /// Records in sight before or after that were touched.
    pub records: BTreeMap<TableId, BTreeSet<RecordId>>,
    /// Tables of which more records were touched than are named here.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub more: BTreeSet<TableId>,
    /// Tables, views, forms or automations changed.
    pub structure: bool,
    /// What the asker may see changed.
    pub access: bool,
}

impl Heard {
    /// What an asker hears, given what they saw before and after. None: nothing at all.
    ///
    /// `change` is none where only time has passed.
    pub fn of(change: Option<&Change>, recomputed: &Recomputed, before: &Lens<'_>, after: &Lens<'_>) -> Option<Self> {
        Self::of_all(&[(change, recomputed)], before, after)
    }

    /// The same of several changes, one after the other, told together.
    pub fn of_all(changes: &[(Option<&Change>, &Recomputed)], before: &Lens<'_>, after: &Lens<'_>) -> Option<Self> {
        let mut heard = Heard { seq: after.ds.seq, ..Heard::default() };
        for (change, recomputed) in changes {
            heard.hear_computed(recomputed, before, after);
            if let Some(change) = change {
                heard.hear_change(change, before, after);
            }
        }
        heard.if_anything()
    }

    fn hear_change(&mut self, change: &Change, before: &Lens<'_>, after: &Lens<'_>) {
        let heard = self;
        let seen = |table, record| before.sees(table, record) || after.sees(table, record);
        // Another record may stand for whoever listens, or none any more.
        let people = after.ds.people_table().map(|(table, _)| table.def.id);
        heard.access |=
            people.is_some_and(|table| change.touches(table)) && after.asks_my_record() && before.my_record() != after.my_record();
        for op in &change.ops {
            match op {
                Op::Gone { table, record, .. } => {
                    if seen(*table, *record) {
                        heard.records.entry(*table).or_default().insert(*record);
                    }
                    heard.hear_linked(*table, *record, before, after);
                    heard.access |= leads_to_sight(*table, *record, before) || leads_to_sight(*table, *record, after);
                }
                Op::Add { table, record }
                | Op::Press { table, record, .. }
                | Op::Reply { table, record, .. }
                | Op::Arrive { table, record, .. } => {
                    if seen(*table, *record) {
                        heard.records.entry(*table).or_default().insert(*record);
                    }
                }
                Op::Say { table, record, .. } => {
                    if after.hears(*table, *record) {
                        heard.records.entry(*table).or_default().insert(*record);
                    }
                }
                Op::Cell { table, record, field, before: old, after: new } => {
                    if let Some(link) = after.ds.table(*table).and_then(|home| home.link(*field)) {
                        heard.hear_other_side(link, (old, new), before, after);
                    }
                    if seen(*table, *record) && (after.shows(*table, *record, *field) || before.shows(*table, *record, *field)) {
                        heard.records.entry(*table).or_default().insert(*record);
                    }
                    heard.access |= before.sees(*table, *record) != after.sees(*table, *record) || after.depends_on(*field);
                }
                Op::Rows(_) | Op::Bin { .. } | Op::Fill { .. } => {
                    let Some((table, records)) = op.records() else { continue };
                    let shown = if let Op::Fill { field, .. } = op { after.shown(table, *field) } else { Extent::Everywhere };
                    if matches!(op, Op::Bin { .. } | Op::Rows(_)) || links_by(op, after) {
                        records.iter().for_each(|record| heard.hear_linked(table, *record, before, after));
                        let led = |record: &RecordId| leads_to_sight(table, *record, before) || leads_to_sight(table, *record, after);
                        heard.access |= matches!(op, Op::Bin { .. } | Op::Rows(_)) && records.iter().any(led);
                    }
                    let mut heard_of = records.into_iter().filter(|r| shown.holds(r.row()) && seen(table, *r)).peekable();
                    if heard_of.peek().is_some() {
                        heard.records.entry(table).or_default().extend(heard_of.by_ref().take(HEARD_AT_ONCE));
                    }
                    if heard_of.next().is_some() {
                        heard.more.insert(table);
                    }
                    heard.access |= matches!(op, Op::Fill { field, .. } if after.depends_on(*field));
                }
                Op::Put { before: old, after: new } => {
                    for part in old.iter().chain(new) {
                        heard.hear_part(part, before, after);
                    }
                }
                Op::Place { of, places } => {
                    let known = |lens: &Lens<'_>| lens.ds.ordered_table(*of).filter(|_| lens.knows_order(*of));
                    let Some(table) = known(after).or_else(|| known(before)) else { continue };
                    let moved = places.iter().map(|(record, ..)| *record).filter(|record| seen(table, *record));
                    let mut moved = moved.take(HEARD_AT_ONCE).peekable();
                    if moved.peek().is_some() {
                        heard.records.entry(table).or_default().extend(moved);
                    }
                }
                Op::Count { .. } | Op::Turned { .. } | Op::Go { .. } | Op::Empty { .. } => {}
            }
        }
    }

    /// Records in sight that are linked to one which comes or goes: they name it no more, or are told now of what stood behind it.
    fn hear_linked(&mut self, table: TableId, record: RecordId, before: &Lens<'_>, after: &Lens<'_>) {
        self.hear_linked_as(table, record, before);
        self.hear_linked_as(table, record, after);
    }

    fn hear_linked_as(&mut self, table: TableId, record: RecordId, lens: &Lens<'_>) {
        let Some(home) = lens.ds.table(table) else { return };
        for (field, link) in home.def.fields.iter().filter_map(|f| Some((f.id, home.link(f.id)?))) {
            let linked = home.column(field).map_or(&[][..], |column| column.links(record.row()));
            for seen in linked.iter().filter(|r| lens.shows(link.to, **r, link.back)) {
                let named = self.records.entry(link.to).or_default();
                if named.len() >= HEARD_AT_ONCE {
                    self.more.insert(link.to);
                    break;
                }
                named.insert(*seen);
            }
        }
    }

    /// Of a link that changed: the records on its other side, whose link changed too.
    fn hear_other_side(&mut self, link: Link, (old, new): (&Value, &Value), before: &Lens<'_>, after: &Lens<'_>) {
        let list = |value: &Value| if let Value::Links(records) = value { records.iter().copied().collect() } else { BTreeSet::new() };
        let (old, new) = (list(old), list(new));
        let shown = |record: RecordId| before.shows(link.to, record, link.back) || after.shows(link.to, record, link.back);
        let moved: Vec<RecordId> = old.symmetric_difference(&new).copied().filter(|record| shown(*record)).collect();
        if !moved.is_empty() {
            self.records.entry(link.to).or_default().extend(moved);
        }
    }

    fn if_anything(self) -> Option<Self> {
        (self.structure || self.access || !self.records.is_empty()).then_some(self)
    }

    /// Computed cells that moved, where the asker saw one of the two values: nothing is heard of what is withheld.
    fn hear_computed(&mut self, recomputed: &Recomputed, before: &Lens<'_>, after: &Lens<'_>) {
        let mut at = None;
        for (table, field, record) in &recomputed.cells {
            if at.as_ref().is_none_or(|(f, _, _)| f != field) {
                at = Some((*field, before.reader(*table, *field), after.reader(*table, *field)));
                self.access |= after.depends_on(*field);
            }
            let Some((_, old, new)) = &at else { continue };
            let changed = old.cell(record.row()) != new.cell(record.row());
            if changed && (before.sees(*table, *record) || after.sees(*table, *record)) {
                self.records.entry(*table).or_default().insert(*record);
            }
        }
    }

    fn hear_part(&mut self, part: &Part, before: &Lens<'_>, after: &Lens<'_>) {
        let told = with_part!(part, part => part.tells(before, after));
        self.structure |= told.structure;
        self.access |= told.access;
    }
}

/// Who hears the same: people of the same roles and visitors of the same page, where none of these speaks of *me*; anybody else
/// only by themselves.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub enum Alike {
    Roles(Vec<RoleId>),
    Page(PageId),
    Alone(Asker),
}

impl Asker {
    /// With whom this asker hears the same of what is nobody's own.
    pub fn alike(self, ds: &Dataset) -> Alike {
        let person = match self {
            Asker::Person(person) => person,
            Asker::StandingIn { r#as, .. } if self.may_look_at(ds) => r#as,
            Asker::Visitor { page, .. } if self.may_look_at(ds) && ds.page(page).is_some_and(|page| !page.is_about_me()) => {
                return Alike::Page(page);
            }
            _ => return Alike::Alone(self),
        };
        let roles: Vec<&Role> = ds.roles_of(person).collect();
        if ds.given_to(person).next().is_some() || roles.iter().any(|role| role.is_about_me(ds)) {
            return Alike::Alone(self);
        }
        Alike::Roles(roles.into_iter().map(|role| role.id).collect())
    }
}

impl Role {
    /// Whether what it gives depends on who holds it.
    fn is_about_me(&self, ds: &Dataset) -> bool {
        let means_me = |reach: &Reach| match reach {
            Reach::All | Reach::None => false,
            Reach::Mine => true,
            Reach::Where(condition) => condition.is_about_me(),
        };
        let of = |table: TableId| {
            let rights = self.rights(table);
            [&rights.look, &rights.change, &rights.remove].into_iter().any(means_me)
        };
        self.base != Base::Steward && ds.tables().any(|table| of(table.def.id))
    }
}

impl Change {
    /// Whether it is heard otherwise by whom it is about: somebody's own view, or who holds a role.
    pub fn is_about_somebody(&self) -> bool {
        let about = |part: &Part| with_part!(part, part => part.is_about_somebody());
        self.ops.iter().any(|op| matches!(op, Op::Put { before, after } if before.iter().chain(after).any(|part| about(part))))
    }
}

/// Whether it fills a link, so that the records on its other side change too.
fn links_by(op: &Op, lens: &Lens<'_>) -> bool {
    matches!(op, Op::Fill { table, field, .. } if lens.ds.table(*table).is_some_and(|home| home.link(*field).is_some()))
}

impl Lens<'_> {
    /// The tables of other records from which what stands in these fields comes: those whose values they carry or have copied,
    /// and those whose records they name.
    pub fn drawn_from(&self, fields: impl IntoIterator<Item = FieldId>) -> BTreeSet<TableId> {
        let mut from = BTreeSet::new();
        for field in fields {
            self.ds.comes_from(field, &mut from);
            if let Some((home, _)) = self.ds.field(field)
                && self.withholds_some(home.def.id, field)
            {
                // What it draws on may come into reach, or leave it, though its value stays.
                let drawn = self.ds.draws_on(home.def.id, field);
                from.extend(drawn.iter().filter_map(|drawn| Some(self.ds.field(*drawn)?.0.def.id)));
            }
        }
        from.retain(|table| self.opens(*table));
        from
    }

    /// The tables on whose records it depends what a query over a table gives.
    pub fn tables_of(&self, query: &Query, table: TableId) -> BTreeSet<TableId> {
        let named = query.named_fields();
        let homes = named.iter().filter_map(|field| Some(self.ds.field(*field)?.0.def.id)).filter(|table| self.opens(*table));
        homes.chain([table]).chain(self.drawn_from(named.iter().copied())).collect()
    }
}

impl Dataset {
    fn comes_from(&self, field: FieldId, from: &mut BTreeSet<TableId>) {
        let Some((home, def)) = self.field(field) else { return };
        let home = home.def.id;
        if matches!(def.kind, Kind::Carried { .. }) {
            let draws = self.draws(home, field);
            let along = draws.iter().flat_map(|draw| draw.links.iter().filter_map(|link| self.end_of(home, &[*link])).collect::<Vec<_>>());
            from.extend(along);
            let others = draws.iter().filter(|draw| !draw.links.is_empty());
            from.extend(others.filter_map(|draw| Some(self.field(draw.field)?.0.def.id)));
        }
        if let Some(copies) = def.copies {
            from.extend(self.field(copies.field).map(|(table, _)| table.def.id));
            self.comes_from(copies.field, from);
        }
        let Some((_, Kind::Link(link))) = self.shown_kind(home, field) else { return };
        // Names may go round in a circle.
        if let (true, Some(other)) = (from.insert(link.to), self.table(link.to)) {
            let names = [Some(other.def.standing), other.def.beside];
            names.into_iter().flatten().for_each(|field| self.comes_from(field, from));
        }
    }
}

/// Whether records are in sight by way of this one: once it comes or goes, so may they, in whatever table.
fn leads_to_sight(table: TableId, record: RecordId, lens: &Lens<'_>) -> bool {
    let Some(home) = lens.ds.table(table) else { return false };
    let linked = |field: FieldId| home.column(field).is_some_and(|column| !column.links(record.row()).is_empty());
    home.def.fields.iter().any(|f| home.link(f.id).is_some_and(|link| linked(f.id) && lens.depends_on(link.back)))
}
