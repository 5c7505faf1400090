//! Parts of the structure on their way from one state to another, within one intent.

use crate::{
    dataset::Dataset,
    fault::Fault,
    history::Op,
    id::{FieldId, OptionId, TableId},
    names::{Name, Names},
    pack::orders_of,
    part::Part,
    schema::{FieldDef, Kind, Preset, TableDef},
    value::Value,
    view::OrderOf,
};
use std::collections::BTreeMap;

/// What is being changed, with the numbers that are given out on the way.
pub(super) struct Draft<'a> {
    ds: &'a Dataset,
    next: u32,
    parts: BTreeMap<(&'static str, u32), Part>,
    dropped: Vec<Part>,
}

impl<'a> Draft<'a> {
    pub(super) fn new(ds: &'a Dataset) -> Self {
        Self { ds, next: ds.next_id(), parts: BTreeMap::new(), dropped: Vec::new() }
    }

    /// A number that nothing has.
    pub(super) fn number(&mut self) -> u32 {
        self.next += 1;
        self.next - 1
    }

    pub(super) fn field_id(&mut self) -> FieldId {
        FieldId::new(self.number()).expect("numbers begin at 1")
    }

    /// A table as it stands now, to be changed.
    pub(super) fn table(&mut self, id: TableId) -> Result<&mut TableDef, Fault> {
        let now = self.ds.any_table(id).map(|t| Part::Table((*t.def).clone()));
        let part = match self.parts.entry(("table", id.get())) {
            std::collections::btree_map::Entry::Occupied(known) => known.into_mut(),
            std::collections::btree_map::Entry::Vacant(free) => free.insert(now.ok_or_else(|| Fault::not_found("table"))?),
        };
        match part {
            Part::Table(def) => Ok(def),
            _ => Err(Fault::not_found("table")),
        }
    }

    /// Another state of a part, or a new one.
    pub(super) fn put(&mut self, part: Part) {
        self.parts.insert(part.key(), part);
    }

    pub(super) fn drop(&mut self, part: Part) {
        self.parts.remove(&part.key());
        self.dropped.push(part);
    }

    /// Every part as it stands in the draft: changed, or as it was; without what is dropped.
    pub(super) fn standing(&self) -> Vec<Part> {
        let dropped = |part: &Part| self.dropped.iter().any(|d| d.key() == part.key());
        let kept = self.ds.parts().into_iter().filter(|p| !dropped(p) && !self.parts.contains_key(&p.key()));
        kept.chain(self.parts.values().cloned()).collect()
    }

    /// Takes names out of everything that only shows them.
    pub(super) fn forget(&mut self, gone: &[Name]) {
        self.rename(&mut |name| (!gone.contains(&name)).then_some(name));
    }

    /// Puts other names in place of some, in every part; nothing: they are taken out.
    pub(super) fn rename(&mut self, other: &mut dyn FnMut(Name) -> Option<Name>) {
        for part in self.standing() {
            let mut after = part.clone();
            after.each(&mut |name, _| other(name));
            if after != part {
                self.put(after);
            }
        }
    }

    /// A table of the draft, as it stands in it.
    pub(super) fn peek(&self, id: TableId) -> Option<&TableDef> {
        match self.parts.get(&("table", id.get())) {
            Some(Part::Table(def)) => Some(def),
            _ => None,
        }
    }

    /// What is to be done, where anything is.
    pub(super) fn ops(&self) -> Vec<Op> {
        let changed = self.parts.values().filter_map(|part| {
            let before = self.ds.current(part);
            (before.as_ref() != Some(part)).then(|| Op::Put { before: before.map(Box::new), after: Some(Box::new(part.clone())) })
        });
        let dropped = self.dropped.iter().map(|part| Op::Put { before: Some(Box::new(part.clone())), after: None });
        // The order by hand of what goes goes with it, and comes back with it.
        let forget = |of: OrderOf| self.ds.own_order(of).map(|own| Op::Place { of, places: own.forgotten() });
        let orders = self.dropped.iter().flat_map(orders_of).filter_map(forget);
        dropped.chain(orders).chain(changed).collect()
    }

    /// Gives numbers to the options of a field that it did not have before, and puts them where they are named in it.
    pub(super) fn number_options(&mut self, field: &mut FieldDef, before: Option<&FieldDef>) {
        let known: Vec<OptionId> = before.map_or(&[][..], |b| b.kind.options()).iter().map(|o| o.id).collect();
        let mut given: BTreeMap<OptionId, OptionId> = BTreeMap::new();
        if let Kind::Choice { options, .. } | Kind::Choices { options } = &mut field.kind {
            for option in options.iter_mut().filter(|o| !known.contains(&o.id)) {
                let id = OptionId::new(self.number()).unwrap_or(option.id);
                given.insert(option.id, id);
                option.id = id;
            }
        }
        if let Some(Preset::Value(Value::Choice(option))) = &mut field.preset {
            *option = given.get(option).copied().unwrap_or(*option);
        }
    }
}
