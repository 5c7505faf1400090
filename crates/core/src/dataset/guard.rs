//! How far a computed cell is within an asker’s reach: everything that it draws on, at every step, has to be.

use super::{
    Dataset,
    graph::Draw,
    step::{Step, among, follow},
};
use crate::{
    access::{Extent, Lens},
    formula::Formula,
    id::{FieldId, RecordId, TableId},
    schema::Kind,
};
use fixedbitset::FixedBitSet;
use std::collections::{BTreeSet, HashMap, HashSet};

impl Lens<'_> {
    /// Whether everything that a computed cell draws on is open to the asker.
    pub fn computed_is_open(&self, table: TableId, record: RecordId, field: FieldId) -> bool {
        Guard::new(self, table, field).is_some_and(|guard| guard.shows(record.row()))
    }

    /// Whether a computed cell is told to the asker: all that it draws on is open to them, or the coordinator released it.
    pub fn tells_computed(&self, table: TableId, record: RecordId, field: FieldId) -> bool {
        self.released(table, field).holds(record.row()) || self.computed_is_open(table, record, field)
    }

    /// Whether a computed field's cells may be withheld of some records that are in sight.
    pub(crate) fn withholds_some(&self, table: TableId, field: FieldId) -> bool {
        let computed = self.ds.table(table).and_then(|home| home.def.field(field)).is_some_and(|def| def.kind.is_computed());
        computed && Guard::new(self, table, field).is_some_and(|guard| !guard.is_open())
    }

    /// The same of a formula that no field keeps.
    pub(crate) fn formula_is_open(&self, formula: &Formula, table: TableId, record: RecordId) -> bool {
        Guard::of(self, table, self.ds.draws_of(table, formula)).is_some_and(|guard| guard.shows(record.row()))
    }
}

impl Dataset {
    /// The fields that a computed field draws on, at every step; none for a field that holds its value.
    pub fn draws_on(&self, table: TableId, field: FieldId) -> BTreeSet<FieldId> {
        let mut drawn = BTreeSet::new();
        let mut open = vec![(table, field)];
        while let Some((table, field)) = open.pop() {
            for draw in self.draws(table, field) {
                if drawn.insert(draw.field)
                    && let Some(end) = self.end_of(table, &draw.links)
                {
                    open.push((end, draw.field));
                }
            }
        }
        drawn
    }

    /// The fields by which the records behind a link are named; none for what is no link.
    pub(crate) fn named_by(&self, table: TableId, link: FieldId) -> BTreeSet<FieldId> {
        let Some((_, Kind::Link(to))) = self.shown_kind(table, link) else { return BTreeSet::new() };
        let by = self.names_by(table, link).or_else(|| Some(self.table(to.to)?.def.standing));
        by.into_iter().flat_map(|by| self.draws_on(to.to, by).into_iter().chain([by])).collect()
    }
}

/// Whether everything that a computed field's cells draw on is in sight. Only what may be out of sight is asked for.
///
/// The fields on the way are asked once each, and by a loop: many may draw on one, and chains of them may be long.
#[derive(Debug, Default)]
pub(super) struct Guard<'a> {
    /// What each of the fields draws on; each stands behind those it draws on, the one that is asked for at the end.
    fields: Vec<Vec<Way<'a>>>,
}

/// One thing that is drawn on: along links, a field whose cells may be read of some rows, and what that draws on itself.
#[derive(Debug)]
struct Way<'a> {
    steps: Vec<Step<'a>>,
    shown: Option<FixedBitSet>,
    /// Rows that need no further asking: the coordinator released their cell.
    released: Option<FixedBitSet>,
    /// The place of the field, if what it draws on may be out of sight.
    inner: Option<usize>,
}

/// What is known of a field that is drawn on.
#[derive(Clone, Copy)]
enum Known {
    Open,
    /// The asker may not read something that it draws on.
    Closed,
    At(usize),
}

/// A step of going through the fields: those that are drawn on come first.
enum Visit {
    Enter(TableId, FieldId),
    Leave(TableId, FieldId, Vec<Draw>),
}

impl<'a> Guard<'a> {
    /// None where the asker may not read a field on the way.
    pub(super) fn new(lens: &'a Lens<'_>, table: TableId, field: FieldId) -> Option<Self> {
        Self::of(lens, table, lens.ds.draws(table, field))
    }

    fn of(lens: &'a Lens<'_>, table: TableId, draws: Vec<Draw>) -> Option<Self> {
        let mut guard = Guard::default();
        if lens.gives_everything() {
            return Some(guard);
        }
        let mut known: HashMap<FieldId, Known> = HashMap::new();
        let mut visits: Vec<Visit> = inner_fields(lens, table, &draws);
        while let Some(visit) = visits.pop() {
            match visit {
                Visit::Enter(_, field) if known.contains_key(&field) => {}
                Visit::Enter(table, field) => {
                    // Until it is left: what would need itself is open to nobody.
                    known.insert(field, Known::Closed);
                    let draws = lens.ds.draws(table, field);
                    let inner = inner_fields(lens, table, &draws);
                    visits.push(Visit::Leave(table, field, draws));
                    visits.extend(inner);
                }
                Visit::Leave(table, field, draws) => {
                    let ways = Self::ways(lens, table, &draws, &known);
                    known.insert(field, guard.add(ways));
                }
            }
        }
        let ways = Self::ways(lens, table, &draws, &known)?;
        guard.add(Some(ways));
        Some(guard)
    }

    fn add(&mut self, ways: Option<Vec<Way<'a>>>) -> Known {
        match ways {
            None => Known::Closed,
            Some(ways) if ways.is_empty() => Known::Open,
            Some(ways) => {
                self.fields.push(ways);
                Known::At(self.fields.len() - 1)
            }
        }
    }

    /// What is to be asked of one field, given what is known of those that it draws on.
    fn ways(lens: &'a Lens<'_>, table: TableId, draws: &[Draw], known: &HashMap<FieldId, Known>) -> Option<Vec<Way<'a>>> {
        let mut ways = Vec::new();
        for draw in draws {
            let mut at = lens.ds.table(table)?;
            let mut steps = Vec::new();
            for link_field in &draw.links {
                let step = Step::new(lens, at, *link_field)?;
                at = step.end();
                steps.push(step);
            }
            let home = lens.ds.end_of(table, &draw.links)?;
            let shown = lens.shown(home, draw.field);
            if shown == Extent::Nowhere {
                return None;
            }
            let released = lens.released(home, draw.field);
            let inner = match known.get(&draw.field) {
                _ if released == Extent::Everywhere => None,
                None | Some(Known::Open) => None,
                Some(Known::Closed) => return None,
                Some(Known::At(place)) => Some(*place),
            };
            // Of a link, the records that it names count.
            let named = matches!(at_kind(lens, table, draw), Some(Kind::Link(_)));
            if named {
                steps.push(Step::new(lens, at, draw.field)?);
            }
            let shown = if named { None } else { shown.into_rows() };
            if shown.is_some() || inner.is_some() || !steps.iter().all(Step::is_open) {
                ways.push(Way { steps, shown, released: released.into_rows(), inner });
            }
        }
        Some(ways)
    }

    pub(super) fn is_open(&self) -> bool {
        self.fields.is_empty()
    }

    pub(super) fn shows(&self, row: usize) -> bool {
        let mut asked: HashSet<(usize, usize)> = HashSet::new();
        let mut open: Vec<(usize, usize)> = self.fields.len().checked_sub(1).map(|last| (last, row)).into_iter().collect();
        while let Some((field, row)) = open.pop() {
            for way in &self.fields[field] {
                let Some(rows) = follow(&way.steps, row) else { return false };
                if !rows.iter().all(|row| among(way.shown.as_ref(), *row)) {
                    return false;
                }
                let Some(inner) = way.inner else { continue };
                let free = |row: &usize| way.released.as_ref().is_some_and(|rows| rows.contains(*row));
                open.extend(rows.into_iter().filter(|row| !free(row) && asked.insert((inner, *row))).map(|row| (inner, row)));
            }
        }
        true
    }
}

/// The computed fields among these whose own draws count: not those released everywhere.
fn inner_fields(lens: &Lens<'_>, table: TableId, draws: &[Draw]) -> Vec<Visit> {
    let inner = |draw: &Draw| {
        let home = lens.ds.end_of(table, &draw.links)?;
        let computed = lens.ds.table(home)?.def.field(draw.field)?.kind.is_computed();
        (computed && lens.released(home, draw.field) != Extent::Everywhere).then_some(Visit::Enter(home, draw.field))
    };
    draws.iter().filter_map(inner).collect()
}

/// The kind of the field that is drawn on.
fn at_kind<'d>(lens: &Lens<'d>, table: TableId, draw: &Draw) -> Option<&'d Kind> {
    let home = lens.dataset().end_of(table, &draw.links)?;
    lens.dataset().table(home)?.def.field(draw.field).map(|f| &f.kind)
}
