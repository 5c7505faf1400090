//! A highlight taken to another field, table or tracker: what of it is the same there, and what is asked for.

use super::{Highlight, HighlightWords, Touch};
use crate::{
    access::Lens,
    condition::{Check, Condition, Test, Who},
    id::{FieldId, HighlightId, RecordId, TableId},
    schema::{FieldDef, Kind},
    value::{fold, list_text},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Where a highlight is taken, and what of its own table stands for what there.
pub struct CopyTo<'a, 'd> {
    pub lens: &'a Lens<'d>,
    pub table: TableId,
    /// Whether it is the tracker that it comes from.
    pub same: bool,
    /// Which field stands for which of its own, where somebody has said so.
    pub chosen: &'a BTreeMap<FieldId, FieldId>,
}

/// A highlight as it would be elsewhere.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HighlightCopy {
    /// Each field of its own table that it names.
    pub asks: Vec<CopyAsk>,
    /// What of it is left out there, and why.
    pub left: Vec<String>,
    pub condition: Condition,
    pub touches: Vec<Touch>,
    /// As it would read there, and what it would touch.
    pub words: HighlightWords,
}

/// A field that a highlight names, and what stands for it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CopyAsk {
    pub field: FieldId,
    pub name: String,
    /// Nothing: it has to be said.
    pub becomes: Option<FieldId>,
    /// What could stand for it.
    pub fits: Vec<CopyFit>,
}

/// A field that could stand for another.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CopyFit {
    pub field: FieldId,
    pub name: String,
}

impl Highlight {
    /// As it would be elsewhere. What is not open there to whoever asks stands for nothing.
    pub fn copied(&self, from: &Lens<'_>, to: &CopyTo<'_, '_>) -> HighlightCopy {
        let copier = Copier { from, to, home: self.table };
        let tests = self.condition.tests();
        let tested = tests.iter().filter_map(|test| test.path.first().map(|first| (*first, test.path.len() == 1)));
        let mut named: Vec<(FieldId, bool)> = Vec::new();
        for (field, ends) in tested.chain(self.touches.iter().flat_map(|touch| touch.fields.iter().map(|field| (*field, false)))) {
            match named.iter_mut().find(|(known, _)| *known == field) {
                Some((_, tested)) => *tested |= ends,
                None => named.push((field, ends)),
            }
        }
        let asks: Vec<CopyAsk> = named.iter().filter_map(|(field, tested)| copier.ask(*field, *tested)).collect();
        let stands: BTreeMap<FieldId, FieldId> = asks.iter().filter_map(|ask| Some((ask.field, ask.becomes?))).collect();
        let mut left = Vec::new();
        let condition = copier.condition(&self.condition, &stands, &mut left);
        let touches = self.touches.iter().filter_map(|touch| {
            let fields: Vec<FieldId> = touch.fields.iter().filter_map(|field| stands.get(field).copied()).collect();
            // What touched fields that are not there must not touch the whole record.
            (touch.fields.is_empty() || !fields.is_empty()).then(|| Touch { fields, look: touch.look.clone() })
        });
        let touches: Vec<Touch> = touches.collect();
        let there = Highlight::new(HighlightId::FIRST, to.table, condition.clone(), touches.clone());
        HighlightCopy { asks, left, condition, touches, words: there.in_words(to.lens) }
    }
}

struct Copier<'a, 'b, 'd, 'e> {
    from: &'a Lens<'e>,
    to: &'a CopyTo<'b, 'd>,
    /// The table that it comes from.
    home: TableId,
}

impl Copier<'_, '_, '_, '_> {
    /// What stands for a field of its own table. One that is only touched may be of any kind; what is tested is of the same.
    fn ask(&self, field: FieldId, tested: bool) -> Option<CopyAsk> {
        let own = self.from.dataset().table(self.home)?.def.field(field).filter(|def| self.from.reads(self.home, def.id))?;
        let there = self.to.lens.dataset().table(self.to.table)?;
        let kind = self.from.dataset().shown_kind(self.home, field).map(|(_, kind)| kind.shows())?;
        let fits: Vec<&FieldDef> =
            there.def.fields.iter().filter(|def| self.open(def.id) && (!tested || self.alike(def.id, kind))).collect();
        let known = |id: FieldId| fits.iter().find(|def| def.id == id).map(|def| def.id);
        let same_table = self.to.same && self.to.table == self.home;
        let by_name = || fits.iter().find(|def| fold(&def.name) == fold(&own.name)).map(|def| def.id);
        let chosen = self.to.chosen.get(&field);
        let becomes = chosen.map_or_else(|| if same_table { known(field) } else { by_name() }, |id| known(*id));
        let fits = fits.iter().map(|def| CopyFit { field: def.id, name: def.name.clone() }).collect();
        Some(CopyAsk { field, name: own.name.clone(), becomes, fits })
    }

    fn open(&self, field: FieldId) -> bool {
        self.to.lens.reads(self.to.table, field)
    }

    fn alike(&self, field: FieldId, kind: &Kind) -> bool {
        let there = self.to.lens.dataset().shown_kind(self.to.table, field).map(|(_, kind)| kind.shows());
        there.is_some_and(|there| alike(kind, there))
    }

    fn condition(&self, of: &Condition, stands: &BTreeMap<FieldId, FieldId>, left: &mut Vec<String>) -> Condition {
        let had = !of.tests().is_empty();
        let copied = self.part(of, stands, left);
        // What it asked for is not there: it touches nothing, rather than everything.
        match copied {
            Some(condition) if !had || !condition.tests().is_empty() => condition,
            _ => Condition::never(),
        }
    }

    fn part(&self, of: &Condition, stands: &BTreeMap<FieldId, FieldId>, left: &mut Vec<String>) -> Option<Condition> {
        match of {
            Condition::Test(test) => match self.test(test, stands) {
                Ok(test) => Some(Condition::Test(test)),
                Err(why) => {
                    left.push(format!("“{}” is left out: {why}.", of.to_sentence(self.from, self.home)));
                    None
                }
            },
            Condition::All(parts) => Some(Condition::All(parts.iter().filter_map(|part| self.part(part, stands, left)).collect())),
            Condition::Any(parts) => {
                let rest: Vec<Condition> = parts.iter().filter_map(|part| self.part(part, stands, left)).collect();
                (parts.is_empty() || !rest.is_empty()).then_some(Condition::Any(rest))
            }
        }
    }

    fn test(&self, test: &Test, stands: &BTreeMap<FieldId, FieldId>) -> Result<Test, String> {
        let path = self.path(&test.path, stands)?;
        let end = *path.last().ok_or("it names no field")?;
        let check = self.check(&test.check, (&test.path, &path), end)?;
        let copied = Test { path, of: test.of, check };
        let fits = Condition::Test(copied.clone()).check_for(self.to.lens, self.to.table);
        fits.map_err(|faults| faults.0.into_iter().next().map(|fault| fault.message.trim_end_matches('.').to_owned()).unwrap_or_default())?;
        Ok(copied)
    }

    /// The same way there: its first field as it was said, what follows by name where it is not the very same.
    fn path(&self, path: &[FieldId], stands: &BTreeMap<FieldId, FieldId>) -> Result<Vec<FieldId>, String> {
        let mut there: Vec<FieldId> = Vec::new();
        let mut table = self.to.table;
        for (place, field) in path.iter().enumerate() {
            let (home, def) = self.from.dataset().field(*field).ok_or("a field is gone")?;
            let next = if place == 0 {
                stands.get(field).copied()
            } else {
                let named =
                    |def: &&FieldDef| fold(&def.name) == fold(self.from.dataset().field(*field).map_or("", |(_, def)| def.name.as_str()));
                let fields = &self.to.lens.dataset().table(table).ok_or("a table is gone")?.def.fields;
                let same = self.to.same && home.def.id == table;
                if same { Some(*field) } else { fields.iter().find(named).map(|def| def.id) }
            };
            let next = next.filter(|next| self.to.lens.reads(table, *next)).ok_or_else(|| format!("nothing stands for “{}”", def.name))?;
            if place.saturating_add(1) < path.len() {
                match self.to.lens.dataset().shown_kind(table, next).map(|(_, kind)| kind.shows()) {
                    Some(Kind::Link(link)) => table = link.to,
                    _ => return Err(format!("“{}” leads nowhere there", def.name)),
                }
            }
            there.push(next);
        }
        Ok(there)
    }

    /// What is looked for, in what stands for it: options by their names, records where they are the same.
    fn check(&self, check: &Check, (path, there): (&[FieldId], &[FieldId]), end: FieldId) -> Result<Check, String> {
        match check {
            Check::Option { not, any } => {
                let from = path.last().map_or_else(Vec::new, |field| options_of(self.from, *field));
                let to = options_of(self.to.lens, end);
                let mut known = Vec::new();
                for id in any {
                    let name = from.iter().find(|(option, _)| option == id).map(|(_, name)| name.clone()).ok_or("an option is gone")?;
                    known.extend(to.iter().find(|(_, other)| fold(other) == fold(&name)).map(|(option, _)| *option));
                }
                if known.is_empty() {
                    let names: Vec<&str> = to.iter().map(|(_, name)| name.as_str()).take(8).collect();
                    return Err(format!("the options there are {}", list_text(&names, "and")));
                }
                Ok(Check::Option { not: *not, any: known })
            }
            Check::Record { not, any } => {
                let records: Vec<RecordId> = if self.to.same && path.last() == there.last() { any.clone() } else { Vec::new() };
                if records.is_empty() {
                    return Err("the records that it names are not there".to_owned());
                }
                Ok(Check::Record { not: *not, any: records })
            }
            Check::Person { not, any } => {
                let here = |who: &Who| {
                    matches!(who, Who::Me) || self.to.same || self.to.lens.dataset().people.iter().any(|one| *who == Who::Person(one.id))
                };
                let any: Vec<Who> = any.iter().copied().filter(here).collect();
                if any.is_empty() {
                    return Err("those whom it names are not there".to_owned());
                }
                Ok(Check::Person { not: *not, any })
            }
            other => Ok(other.clone()),
        }
    }
}

fn options_of(lens: &Lens<'_>, field: FieldId) -> Vec<(crate::id::OptionId, String)> {
    let home = lens.dataset().field(field).map(|(table, _)| table.def.id);
    let kind = home.and_then(|home| lens.dataset().shown_kind(home, field)).map(|(_, kind)| kind.shows());
    kind.map_or_else(Vec::new, |kind| kind.options().iter().map(|option| (option.id, option.name.clone())).collect())
}

/// Whether the same can be asked of both.
fn alike(a: &Kind, b: &Kind) -> bool {
    (a.is_number() && b.is_number()) || (a.is_of_days() && b.is_of_days()) || std::mem::discriminant(a) == std::mem::discriminant(b)
}
