//! Changing the fields of a table, one at a time, as it stands when the change is decided.

use super::{Decider, Numbers, draft::Draft, number_text};
use crate::{
    Clock,
    fault::{Checked, Fault, FaultKind},
    history::Op,
    id::{FieldId, OptionId, RecordId, TableId},
    names::Name,
    schema::{BinnedField, FieldDef, Kind, Link, Preset, TableDef},
    value::{Cell, Value, fold},
};

/// What is done to a table's fields.
#[derive(Clone, Debug)]
pub enum FieldChange {
    /// A new field, before another or at the end; its number and those of its options are given here, whatever they say.
    /// A link makes its other side too.
    Add { field: FieldDef, before: Option<FieldId>, other: Option<OtherSide> },
    /// Another state of a field, of the same kind. Options that it does not have any more become others, or nothing.
    Change { field: FieldDef, merged: Vec<(OptionId, Option<OptionId>)> },
    /// To the bin; its values are kept. What showed it does so no more.
    Remove(FieldId),
    /// Back from the bin, with its values.
    Restore(FieldId),
    /// Before another field, or to the end.
    Move { field: FieldId, before: Option<FieldId> },
    /// The same again behind it, with its values.
    Duplicate(FieldId),
}

/// The other side of a new link.
#[derive(Clone, Debug)]
pub struct OtherSide {
    pub name: String,
    /// Whether a record there is linked to at most one here.
    pub one: bool,
}

fn place(fields: &[FieldDef], id: FieldId) -> Result<usize, Fault> {
    fields.iter().position(|f| f.id == id).ok_or_else(|| Fault::not_found("field"))
}

/// The place before a field. A new field stands before those that are kept by us, which come last.
fn before(fields: &[FieldDef], id: Option<FieldId>) -> Result<usize, Fault> {
    match id {
        Some(id) => place(fields, id),
        None => Ok(fields.iter().position(|f| f.kind.is_kept_by_us()).unwrap_or(fields.len())),
    }
}

/// No other field of the table is called so, whatever the capitals.
fn name_is_free(home: &TableDef, name: &str, own: Option<FieldId>) -> Result<(), Fault> {
    let taken = home.fields.iter().find(|f| Some(f.id) != own && fold(&f.name) == fold(name.trim()));
    taken.map_or(Ok(()), |other| {
        let message = format!("“{}” has a field called “{}” already.", home.name, other.name);
        Err(Fault::new(FaultKind::BadRule, message).at("/field/name"))
    })
}

impl Decider<'_> {
    /// The operations, and the number of the field that was made.
    pub(super) fn fields(&self, table: TableId, change: &FieldChange) -> Checked<(Vec<Op>, Option<u32>)> {
        let home = self.ds.table(table).filter(|_| self.lens.opens(table)).ok_or_else(|| Fault::not_found("table"))?;
        self.may_build()?;
        let mut draft = Draft::new(self.ds);
        let mut made = None;
        let mut cells = Vec::new();
        match change {
            FieldChange::Add { field, before: at, other } => {
                // Before those there are numbered by it.
                super::structure::check_size(field)?;
                name_is_free(&home.def, &field.name, None)?;
                let id = self.new_field(&mut draft, table, field, other.as_ref())?;
                made = Some(id.get());
                let def = draft.table(table)?;
                let field = def.fields.pop().ok_or_else(|| Fault::not_found("field"))?;
                let at = before(&def.fields, *at)?;
                cells.extend(self.number_those_there(table, &field));
                def.fields.insert(at, field);
            }
            FieldChange::Change { field, merged } => {
                let at = place(&home.def.fields, field.id)?;
                let old = &home.def.fields[at];
                name_is_free(&home.def, &field.name, Some(field.id))?;
                self.keeps_kind(old, field)?;
                let mut field = FieldDef { name: field.name.trim().to_owned(), ..field.clone() };
                draft.number_options(&mut field, Some(old));
                cells.extend(self.merge(&mut draft, table, old, &field, merged)?);
                let preset = field.preset.clone();
                draft.table(table)?.fields[at] = field;
                let options: Vec<OptionId> = draft.table(table)?.fields[at].kind.options().iter().map(|o| o.id).collect();
                if let Some(Preset::Value(Value::Choice(option))) = preset
                    && !options.contains(&option)
                {
                    draft.table(table)?.fields[at].preset = None;
                }
            }
            FieldChange::Remove(field) => self.bin(&mut draft, table, *field)?,
            FieldChange::Restore(field) => self.restore_field(&mut draft, table, *field)?,
            FieldChange::Move { field, before: to } => {
                let def = draft.table(table)?;
                let moved = def.fields.remove(place(&def.fields, *field)?);
                let to = to.map_or(Ok(def.fields.len()), |to| place(&def.fields, to))?;
                def.fields.insert(to, moved);
            }
            FieldChange::Duplicate(field) => {
                let (id, fill) = self.duplicate(&mut draft, table, *field)?;
                made = Some(id.get());
                cells.extend(fill);
            }
        }
        let parts = draft.ops();
        self.stands_after(&parts)?;
        Ok((in_order(cells, parts), made))
    }

    /// A new numbering numbers the records that are there, in the order and for the day in which each came.
    fn number_those_there(&self, table: TableId, field: &FieldDef) -> Vec<Op> {
        let (Kind::Numbering { parts }, Some(home)) = (&field.kind, self.ds.table(table)) else { return Vec::new() };
        let mut numbers = Numbers::default();
        let mut counts = std::collections::BTreeMap::new();
        let mut cells = Vec::new();
        let records = (0..home.rows()).map(RecordId::at_row).filter_map(|r| Some((r, home.meta(r)?.created_at)));
        for (record, came) in records {
            let clock = Clock::new(came, self.clock.zone.clone());
            let (period, _, after) = numbers.next(self.ds, field.id, parts, &clock);
            cells.push((record, Value::Empty, Value::text(&number_text(parts, after, &clock))));
            counts.insert(period, after);
        }
        if cells.is_empty() {
            return Vec::new();
        }
        let counted = counts.into_iter().map(|(period, after)| Op::Count { field: field.id, period, before: 0, after });
        std::iter::once(Op::Fill { table, field: field.id, cells }).chain(counted).collect()
    }

    /// Puts a new field at the end of its table; of a link, the other side at the end of the other.
    pub(super) fn new_field(
        &self,
        draft: &mut Draft<'_>,
        table: TableId,
        field: &FieldDef,
        other: Option<&OtherSide>,
    ) -> Result<FieldId, Fault> {
        let mut field = FieldDef { id: draft.field_id(), name: field.name.trim().to_owned(), ..field.clone() };
        draft.number_options(&mut field, None);
        let id = field.id;
        if let Kind::Link(link) = &mut field.kind {
            let back = draft.field_id();
            let other =
                other.ok_or_else(|| Fault::new(FaultKind::Missing, "Say what the link is called on the other side.").at("/other"))?;
            *link = Link { back, holds: true, ..*link };
            let to = link.to;
            if !self.lens.opens(to) && draft.table(to)?.id != table {
                return Err(Fault::not_found("table"));
            }
            let kind = Kind::Link(Link { to: table, back: id, one: other.one, holds: false });
            let name = other.name.trim();
            let target = draft.table(to)?;
            let at = before(&target.fields, None)?;
            target.fields.insert(at, FieldDef::new(back, name, kind));
        }
        draft.table(table)?.fields.push(field);
        Ok(id)
    }

    /// A field's settings may change here, not its kind: that needs its values converted.
    fn keeps_kind(&self, old: &FieldDef, new: &FieldDef) -> Result<(), Fault> {
        let same = std::mem::discriminant(&old.kind) == std::mem::discriminant(&new.kind);
        let same_link = match (&old.kind, &new.kind) {
            (Kind::Link(a), Kind::Link(b)) => a.to == b.to && a.back == b.back && a.holds == b.holds && a.one == b.one,
            _ => true,
        };
        let computes = |kind: &Kind| matches!(kind, Kind::Calculation { .. } | Kind::Summary(_));
        if same && same_link || computes(&old.kind) && computes(&new.kind) {
            return Ok(());
        }
        let message = format!("“{}” would become another kind of field. Rehearse that as a change of kind.", old.name);
        Err(Fault::new(FaultKind::BadRule, message).at("/kind"))
    }

    /// What options that are taken away become, in records and in views. Elsewhere they hold the change up.
    fn merge(
        &self,
        draft: &mut Draft<'_>,
        table: TableId,
        old: &FieldDef,
        new: &FieldDef,
        merged: &[(OptionId, Option<OptionId>)],
    ) -> Result<Option<Op>, Fault> {
        let stays = |id: &OptionId| new.kind.options().iter().any(|o| o.id == *id);
        let gone: Vec<_> = old.kind.options().iter().filter(|o| !stays(&o.id)).collect();
        let mut becomes: Vec<(OptionId, Option<OptionId>)> = Vec::new();
        let holders = |option: OptionId| self.holders(table, old.id, option).count();
        for option in gone {
            let target = merged.iter().find(|(from, _)| *from == option.id).map(|(_, to)| *to);
            if let Some(holding) = self.ds.uses_of_option(option.id).into_iter().find(|u| u.holds) {
                let message = format!("“{}” can’t go yet: “{}” {}. Change that first.", option.name, holding.name, holding.how);
                return Err(Fault::new(FaultKind::InUse, message).at("/kind/options"));
            }
            let target = match (target, holders(option.id)) {
                (Some(to), _) => to.filter(stays),
                (None, 0) => None,
                (None, count) => {
                    let records = if count == 1 { "1 record holds".into() } else { format!("{count} records hold") };
                    let message = format!("{records} “{}”. Say what it becomes.", option.name);
                    return Err(Fault::new(FaultKind::InUse, message).at("/kind/options"));
                }
            };
            becomes.push((option.id, target));
        }
        draft.rename(&mut |name| match name {
            Name::Option(id) => match becomes.iter().find(|(from, _)| *from == id) {
                Some((_, to)) => to.map(Name::Option),
                None => Some(name),
            },
            other => Some(other),
        });
        if becomes.is_empty() {
            return Ok(None);
        }
        let cells = becomes
            .iter()
            .flat_map(|(option, _)| self.holders(table, old.id, *option))
            .collect::<std::collections::BTreeMap<RecordId, Value>>()
            .into_iter()
            .map(|(record, before)| {
                let after = becoming(&before, &becomes);
                (record, before, after)
            });
        Ok(Some(Op::Fill { table, field: old.id, cells: cells.collect() }))
    }

    /// The records that hold an option, those in the bin too.
    fn holders(&self, table: TableId, field: FieldId, option: OptionId) -> impl Iterator<Item = (RecordId, Value)> {
        let home = self.ds.table(table);
        let column = home.and_then(|t| t.column(field));
        let cell = move |row: usize| column.map_or(Cell::Empty, |c| c.cell(row));
        let holds = move |row: &usize| match cell(*row) {
            Cell::Choice(held) => held == option,
            Cell::Choices(held) => held.contains(&option),
            _ => false,
        };
        (0..home.map_or(0, |t| t.rows())).filter(holds).map(move |row| (RecordId::at_row(row), cell(row).to_value()))
    }

    /// To the bin, where nothing holds it; what only showed it does so no more.
    fn bin(&self, draft: &mut Draft<'_>, table: TableId, field: FieldId) -> Result<(), Fault> {
        let home = self.ds.table(table).ok_or_else(|| Fault::not_found("table"))?;
        let def = home.def.field(field).ok_or_else(|| Fault::not_found("field"))?;
        if def.kind.is_kept_by_us() {
            return Err(Fault::new(FaultKind::BadRule, format!("Every record keeps “{}”: hide it instead.", def.name)));
        }
        let back = home.link(field).map(|link| (link.to, link.back));
        let own = |number: u32| number == field.get() || back.is_some_and(|(_, b)| number == b.get());
        let holding = self.ds.uses(table, field).into_iter().find(|u| u.holds && !own(u.number));
        if let Some(holding) = holding {
            let message = format!("“{}” can’t be removed yet: “{}” {}. Change that first.", def.name, holding.name, holding.how);
            return Err(Fault::new(FaultKind::InUse, message));
        }
        self.take_out(draft, table, field)?;
        if let Some((table, back)) = back {
            self.take_out(draft, table, back)?;
        }
        Ok(())
    }

    /// Takes a field out of its table, and out of everything that only shows it.
    pub(super) fn take_out(&self, draft: &mut Draft<'_>, table: TableId, field: FieldId) -> Result<(), Fault> {
        let at = self.clock.now;
        let def = draft.table(table)?;
        let taken = def.fields.remove(place(&def.fields, field)?);
        def.binned.push(BinnedField { field: taken, at });
        draft.forget(&[Name::Field(field)]);
        Ok(())
    }

    /// Back from the bin; of a link, both sides.
    pub(super) fn restore_field(&self, draft: &mut Draft<'_>, table: TableId, field: FieldId) -> Result<(), Fault> {
        let restored = unbin(draft.table(table)?, field)?;
        if let Kind::Link(link) = restored {
            if self.ds.table(link.to).is_none() {
                return Err(Fault::new(FaultKind::NotFound, "The table it links to was removed. Bring that back first."));
            }
            unbin(draft.table(link.to)?, link.back)?;
        }
        Ok(())
    }

    fn duplicate(&self, draft: &mut Draft<'_>, table: TableId, field: FieldId) -> Result<(FieldId, Option<Op>), Fault> {
        let home = self.ds.table(table).ok_or_else(|| Fault::not_found("table"))?;
        let at = place(&home.def.fields, field)?;
        let old = &home.def.fields[at];
        if matches!(old.kind, Kind::Link(Link { holds: false, .. }) | Kind::Files) || old.kind.is_kept_by_us() {
            return Err(Fault::new(FaultKind::BadRule, format!("A field like “{}” can’t be duplicated.", old.name)));
        }
        let mut copy = FieldDef { unique: false, name: free_name(&home.def, &old.name), ..old.clone() };
        let ids: Vec<OptionId> = old.kind.options().iter().map(|o| o.id).collect();
        let back = home.link(field).and_then(|link| self.ds.table(link.to)?.def.field(link.back).map(|f| (link.to, f)));
        let other = back.map(|(to, f)| OtherSide {
            name: self.ds.table(to).map_or_else(String::new, |t| free_name(&t.def, &f.name)),
            one: matches!(f.kind, Kind::Link(Link { one: true, .. })),
        });
        let id = self.new_field(draft, table, &copy, other.as_ref())?;
        let def = draft.table(table)?;
        copy = def.fields.pop().ok_or_else(|| Fault::not_found("field"))?;
        let becomes: Vec<_> = ids.into_iter().zip(copy.kind.options()).map(|(from, to)| (from, Some(to.id))).collect();
        let takes_input = copy.kind.takes_input();
        def.fields.insert(at + 1, copy);
        let column = home.column(field).filter(|_| takes_input);
        let cells = (0..home.rows()).filter_map(|row| {
            let value = column.map_or(Cell::Empty, |c| c.cell(row)).to_value();
            (value != Value::Empty).then(|| (RecordId::at_row(row), Value::Empty, becoming(&value, &becomes)))
        });
        let cells: Vec<_> = cells.collect();
        Ok((id, (!cells.is_empty()).then_some(Op::Fill { table, field: id, cells })))
    }
}

/// Values that leave a field go before its new state, values that come go after it.
pub(super) fn in_order(cells: Vec<Op>, parts: Vec<Op>) -> Vec<Op> {
    let (leaving, coming): (Vec<Op>, Vec<Op>) = cells
        .into_iter()
        .partition(|op| matches!(op, Op::Fill { cells, .. } if cells.iter().any(|(_, before, _)| *before != Value::Empty)));
    leaving.into_iter().chain(parts).chain(coming).collect()
}

/// A choice with other options in place of some.
fn becoming(value: &Value, becomes: &[(OptionId, Option<OptionId>)]) -> Value {
    let one = |option: OptionId| match becomes.iter().find(|(from, _)| *from == option) {
        Some((_, to)) => *to,
        None => Some(option),
    };
    match value {
        Value::Choice(option) => one(*option).map_or(Value::Empty, Value::Choice),
        Value::Choices(options) => {
            let mut list: Vec<OptionId> = Vec::new();
            for option in options.iter().filter_map(|o| one(*o)) {
                if !list.contains(&option) {
                    list.push(option);
                }
            }
            Value::Choices(list).tidy()
        }
        other => other.clone(),
    }
}

fn unbin(def: &mut TableDef, field: FieldId) -> Result<Kind, Fault> {
    let at = def.binned.iter().position(|b| b.field.id == field).ok_or_else(|| Fault::not_found("removed field"))?;
    let mut restored = def.binned.remove(at).field;
    restored.name = free_name(def, &restored.name);
    let kind = restored.kind.clone();
    let at = before(&def.fields, None)?;
    def.fields.insert(at, restored);
    Ok(kind)
}

/// The name, or the name with the next free number where a field has it already.
pub(super) fn free_name(def: &TableDef, name: &str) -> String {
    let taken = |name: &str| def.fields.iter().any(|f| f.name.to_lowercase() == name.to_lowercase());
    let numbered = (2..).map(|n| format!("{name} {n}"));
    std::iter::once(name.to_owned()).chain(numbered).find(|n| !taken(n)).unwrap_or_default()
}
