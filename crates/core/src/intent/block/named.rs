//! What a block calls by name: linked records and options, and those of them that are not there yet.

use super::Block;
use crate::{
    dataset::Dataset,
    fault::{Checked, Fault},
    history::Op,
    id::{FieldId, OptionId, RecordId, TableId},
    intent::{
        Decider,
        convert::{Called, missing},
        draft::Draft,
    },
    schema::{Choice, FieldDef, Hue, Kind, Link, TEXT_LIMIT},
    value::{Customs, Input, Value, each_of, fold, list_text},
};
use std::collections::{BTreeSet, HashSet};

/// Most names in a list of what is made.
const SHOWN: usize = 6;

/// What is named in a block and not there yet.
#[derive(Default)]
pub(super) struct Missing {
    /// Options of fields.
    options: Vec<(FieldId, Vec<String>)>,
    /// Records, with the table they would be in and the field that names them there.
    records: Vec<(TableId, FieldId, Vec<String>)>,
}

impl Missing {
    /// What would be made: *2 options of “Kind” are made: …*
    pub(super) fn says(&self, ds: &Dataset, customs: Customs) -> Vec<String> {
        let list = |names: &[String]| {
            let more = names.len().saturating_sub(SHOWN);
            let mut shown: Vec<String> = names.iter().take(SHOWN).map(|name| format!("“{name}”")).collect();
            shown.extend((more > 0).then(|| format!("{} more", customs.count_text(more))));
            list_text(&shown, "and")
        };
        let made = |count: usize| if count == 1 { "is made" } else { "are made" };
        let options = self.options.iter().filter_map(|(field, names)| {
            let def = ds.field(*field)?.1;
            let count = customs.count_words(names.len(), "option", "options");
            Some(format!("{count} of “{}” {}: {}.", def.name, made(names.len()), list(names)))
        });
        let records = self.records.iter().filter_map(|(table, _, names)| {
            let def = &ds.table(*table)?.def;
            Some(format!("{} {}: {}.", def.counted(names.len(), customs), made(names.len()), list(names)))
        });
        options.chain(records).collect()
    }

    pub(super) fn is_empty(&self) -> bool {
        self.options.is_empty() && self.records.is_empty()
    }
}

impl Decider<'_> {
    /// The block with linked records in place of their names, and what of its names is not there yet but could be made.
    pub(super) fn resolved(&self, block: &Block) -> (Block, Missing) {
        let mut block = block.clone();
        let mut gone = Missing::default();
        let Some(home) = self.ds.table(block.table) else { return (block, gone) };
        for (column, field) in block.fields.iter().enumerate() {
            let Some(def) = home.def.field(*field).filter(|def| self.lens.reads(block.table, def.id)) else { continue };
            let texts = block.cells.iter().filter_map(|row| match row.get(column) {
                Some(Some(Input::Text(text))) if !text.trim().is_empty() => Some(text.trim()),
                _ => None,
            });
            match &def.kind {
                Kind::Choice { options, on: None } if self.adds_options(def) => gone.option(*field, missing(texts, options)),
                Kind::Choices { options } if self.adds_options(def) => gone.option(*field, missing(texts.flat_map(each_of), options)),
                Kind::Link(link) if link.holds => {
                    let cells = block.cells.iter_mut().filter_map(|row| row.get_mut(column));
                    self.link_names(*link, cells, &mut gone);
                }
                _ => {}
            }
        }
        (block, gone)
    }

    /// Puts the records in place of their names; those that two could be meant by stay names, and do not fit.
    fn link_names<'c>(&self, link: Link, cells: impl Iterator<Item = &'c mut Option<Input>>, gone: &mut Missing) {
        let Some(other) = self.ds.table(link.to).filter(|_| self.lens.opens(link.to)) else { return };
        let by = other.def.standing;
        let makes = self.lens.adds(link.to) && other.def.field(by).is_some_and(|def| def.kind.takes_input());
        let called = Called::new(&self.lens, link.to, by);
        let mut lost: Vec<String> = Vec::new();
        let mut seen: HashSet<String> = HashSet::new();
        for cell in cells {
            let Some(Input::Text(text)) = cell else { continue };
            let text = text.trim();
            if text.is_empty() {
                continue;
            }
            // Some names hold commas: the whole is tried first.
            let whole = called.find(text);
            let names: Vec<&str> = if link.one || whole.is_some() { vec![text] } else { each_of(text).collect() };
            let found: Vec<Option<Option<RecordId>>> = names.iter().map(|name| called.find(name)).collect();
            if let Some(records) = found.iter().map(|one| (*one)?).collect::<Option<Vec<RecordId>>>() {
                *cell = Some(Input::Value(Value::Links(records)));
                continue;
            }
            let unknown = names.iter().zip(&found).filter(|(name, found)| found.is_none() && name.chars().count() <= TEXT_LIMIT);
            for (name, _) in unknown.filter(|_| makes) {
                if seen.insert(fold(name).into_owned()) {
                    lost.push((*name).to_owned());
                }
            }
        }
        if !lost.is_empty() {
            gone.records.push((link.to, by, lost));
        }
    }

    /// Those who build add options, and whoever fills in a field that grows.
    fn adds_options(&self, def: &FieldDef) -> bool {
        self.lens.builds() || def.grows
    }

    /// The operations that make what is missing.
    pub(super) fn make_missing(&self, table: TableId, gone: &Missing) -> Checked<Vec<Op>> {
        let mut draft = Draft::new(self.ds);
        for (field, names) in &gone.options {
            let mut numbers = Vec::with_capacity(names.len());
            for _ in names {
                numbers.push(OptionId::new(draft.number()).ok_or_else(|| Fault::not_found("option"))?);
            }
            let def = draft.table(table)?.fields.iter_mut().find(|def| def.id == *field).ok_or_else(|| Fault::not_found("field"))?;
            if let Kind::Choice { options, .. } | Kind::Choices { options } = &mut def.kind {
                for (id, name) in numbers.into_iter().zip(names) {
                    options.push(Choice { id, name: name.clone(), hue: Hue::nth(options.len()), under: None });
                }
            }
        }
        let mut ops = draft.ops();
        self.stands_after(&ops)?;
        // Two links to one table make their records together, so that these are numbered one after the other.
        let tables: BTreeSet<TableId> = gone.records.iter().map(|(to, ..)| *to).collect();
        for table in tables {
            let of = gone.records.iter().filter(|(to, ..)| *to == table);
            let new: Vec<_> = of.flat_map(|(_, by, names)| names.iter().map(|name| vec![(*by, Input::Text(name.clone()))])).collect();
            ops.extend(self.add(table, &new)?);
        }
        Ok(ops)
    }
}

impl Missing {
    fn option(&mut self, field: FieldId, names: Result<Vec<String>, Fault>) {
        if let Some(names) = names.ok().filter(|names| !names.is_empty()) {
            self.options.push((field, names));
        }
    }
}
