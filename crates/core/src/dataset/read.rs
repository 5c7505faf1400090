//! Reading cells through a lens: one reader per field and query, then one call per record.

use super::{
    Column, Dataset, Meta, Table,
    guard::Guard,
    step::{Sight, Step, Target, among, follow, follow_one},
};
use crate::{
    access::{Extent, Lens},
    fault::{Fault, FaultKind},
    id::{FieldId, OptionId, RecordId, TableId},
    people::Actor,
    schema::{FieldDef, Kind},
    value::Cell,
};
use fixedbitset::FixedBitSet;
use jiff::Timestamp;

/// One field of one table, ready to give the cell of any record, as the asker may see it.
#[derive(Debug)]
pub struct Reader<'a> {
    steps: Vec<Step<'a>>,
    last: Last<'a>,
    /// Of the last field: the rows whose cell may be read, where that is not all that are in sight.
    shown: Option<FixedBitSet>,
    /// Of a computed field at the end: whether its cells may be shown.
    guard: Option<Guard<'a>>,
    /// Of the table that the last field links to, where it is a link.
    targets: Option<Target<'a>>,
    /// The rows for which the coordinator released the field, and how they are read.
    released: Option<(FixedBitSet, Box<Reader<'a>>)>,
}

#[derive(Debug)]
enum Last<'a> {
    Nothing,
    Column(&'a Column),
    Instant(&'a Table, fn(&Meta) -> Timestamp),
    Person(&'a Table, fn(&Meta) -> Actor),
    /// The record's own number.
    Id(&'a Table),
}

impl<'a> Reader<'a> {
    /// A reader of a field; one that finds nothing where the asker may not read the field or anything it draws on.
    pub(crate) fn new(lens: &'a Lens<'_>, table: TableId, field: FieldId) -> Self {
        let nothing = Self { steps: Vec::new(), last: Last::Nothing, shown: None, guard: None, targets: None, released: None };
        match lens.released(table, field) {
            Extent::Nowhere => Self::guarded(lens, table, field).unwrap_or(nothing),
            Extent::Everywhere => Self::guarded(lens.whole(), table, field).unwrap_or(nothing),
            Extent::Some(rows) => {
                let whole = Self::guarded(lens.whole(), table, field).map(|reader| (rows, Box::new(reader)));
                Self { released: whole, ..Self::guarded(lens, table, field).unwrap_or(nothing) }
            }
        }
    }

    /// The field as the lens gives it; none where it may be read of no record.
    fn guarded(lens: &'a Lens<'_>, table_id: TableId, field: FieldId) -> Option<Self> {
        let table = lens.ds.table(table_id)?;
        let shown = lens.shown(table_id, field);
        if shown == Extent::Nowhere {
            return None;
        }
        let shown = shown.into_rows();
        let def = table.def.field(field)?;
        let last = match &def.kind {
            Kind::Carried { links, field: carried } => {
                let reader = Self::carried(lens, table, links, *carried)?;
                return Some(reader.only(shown));
            }
            Kind::CreatedAt => Last::Instant(table, |m| m.created_at),
            Kind::ChangedAt => Last::Instant(table, |m| m.changed_at),
            Kind::CreatedBy => Last::Person(table, |m| m.created_by),
            Kind::ChangedBy => Last::Person(table, |m| m.changed_by),
            Kind::Id => Last::Id(table),
            _ => Last::Column(table.column(field)?),
        };
        let targets = match table.link(field) {
            Some(link) => Some(Target { table: lens.ds.table(link.to)?, sight: lens.sight(link.to) }),
            None => None,
        };
        let guard = if def.kind.is_computed() { Some(Guard::new(lens, table_id, field)?) } else { None };
        let guard = guard.filter(|guard| !guard.is_open());
        Some(Self { steps: Vec::new(), last, shown, guard, targets, released: None })
    }

    /// The same, of these rows only: those where the carrying field itself may be read.
    fn only(mut self, rows: Option<FixedBitSet>) -> Self {
        if let (Some(rows), Some(first)) = (rows, self.steps.first_mut()) {
            match &mut first.shown {
                Some(shown) => shown.intersect_with(&rows),
                none => *none = Some(rows),
            }
        }
        self
    }

    fn carried(lens: &'a Lens<'_>, table: &'a Table, links: &[FieldId], field: FieldId) -> Option<Self> {
        let mut at = table;
        let mut steps = Vec::new();
        for link_field in links {
            let step = Step::new(lens, at, *link_field)?;
            at = step.target.table;
            steps.push(step);
        }
        let mut reader = Self::guarded(lens, at.def.id, field)?;
        steps.append(&mut reader.steps);
        reader.steps = steps;
        Some(reader)
    }

    /// Whether values come along a link, so that there may be several.
    pub fn is_carried(&self) -> bool {
        !self.steps.is_empty()
    }

    /// The cell of a row; of several carried values, the first. Links still name records that the asker may not see:
    /// [`Reader::visible`] leaves them out.
    #[inline]
    pub fn cell(&self, row: usize) -> Cell<'a> {
        if let Some((rows, whole)) = &self.released
            && rows.contains(row)
        {
            return whole.cell(row);
        }
        match &self.steps[..] {
            [] => self.last_cell(row),
            steps if steps.iter().all(Step::is_one) => match follow_one(steps, row) {
                Some(row) if self.shows_targets(row) => self.last_cell(row),
                _ => Cell::Empty,
            },
            _ => self.cells(row).first().copied().unwrap_or(Cell::Empty),
        }
    }

    /// Whether a row has one value at most, and [`Reader::cell`] gives it.
    pub fn is_one(&self) -> bool {
        self.steps.is_empty() && self.released.is_none() && self.targets.is_none()
    }

    /// Every value of a row. A carried value is the same for everyone or not shown: none if any record on its way is out of reach.
    pub fn cells(&self, row: usize) -> Vec<Cell<'a>> {
        if let Some((rows, whole)) = &self.released
            && rows.contains(row)
        {
            return whole.cells(row);
        }
        let Some(rows) = follow(&self.steps, row) else { return Vec::new() };
        if self.is_carried() && !rows.iter().all(|row| self.shows_targets(*row)) {
            return Vec::new();
        }
        rows.iter().map(|row| self.last_cell(*row)).filter(|cell| !cell.is_empty()).collect()
    }

    /// For a carried link: whether all the records it names are in reach.
    fn shows_targets(&self, row: usize) -> bool {
        match (&self.targets, self.last_cell(row)) {
            (Some(target), Cell::Links(records)) => records.iter().all(|r| target.sight.sees(*r) || !target.table.is_live(*r)),
            _ => true,
        }
    }

    #[inline]
    fn last_cell(&self, row: usize) -> Cell<'a> {
        if !among(self.shown.as_ref(), row) || self.guard.as_ref().is_some_and(|guard| !guard.shows(row)) {
            return Cell::Empty;
        }
        match self.last {
            Last::Nothing => Cell::Empty,
            Last::Column(column) => column.cell(row),
            Last::Instant(table, pick) => table.meta(RecordId::at_row(row)).map_or(Cell::Empty, |m| Cell::Instant(pick(m))),
            Last::Id(table) => match table.meta(RecordId::at_row(row)) {
                Some(_) => Cell::Number(RecordId::at_row(row).get().into()),
                None => Cell::Empty,
            },
            Last::Person(table, pick) => match table.meta(RecordId::at_row(row)).map(pick) {
                Some(Actor::Person(person)) => Cell::Person(person),
                _ => Cell::Empty,
            },
        }
    }

    /// The records of a link cell that are there for the asker.
    pub fn visible<'b>(&'b self, records: &'b [RecordId]) -> impl Iterator<Item = RecordId> + 'b {
        let sight = self.targets.as_ref().map_or(Sight::Nothing, |t| t.sight);
        records.iter().copied().filter(move |r| sight.sees(*r))
    }

    /// Whether nothing stands in a cell, as far as the asker may see.
    #[inline]
    pub fn is_empty(&self, cell: Cell<'_>) -> bool {
        match cell {
            Cell::Links(records) => self.visible(records).next().is_none(),
            other => other.is_empty(),
        }
    }

    /// Whether every record in sight is read in the same way.
    #[inline]
    fn is_whole(&self) -> bool {
        self.shown.is_none() && self.released.is_none()
    }

    /// The column itself, where cells are stored and nothing is left out of them: for loops that know its type.
    #[inline]
    pub(crate) fn stored(&self) -> Option<&'a Column> {
        match (&self.last, &self.steps[..], &self.targets) {
            (Last::Column(column), [], None) if self.guard.is_none() && self.is_whole() => Some(column),
            _ => None,
        }
    }

    /// The column of a link that may be read, records out of sight included; none for what is no stored link.
    pub(crate) fn linked(&self) -> Option<&'a Column> {
        match (&self.last, &self.steps[..], &self.targets) {
            (Last::Column(column), [], Some(_)) if self.is_whole() => Some(column),
            _ => None,
        }
    }

    /// The key of a text cell in its column, computed when it was put there.
    #[inline]
    pub(crate) fn stored_text_key(&self, row: usize) -> Option<u64> {
        match (&self.last, &self.steps[..]) {
            (Last::Column(Column::Text(column)), []) if self.is_whole() => column.get(row).filter(|t| t.text.is_some()).map(|t| t.key),
            _ => None,
        }
    }
}

impl Dataset {
    /// Whether a record was emptied out of the bin.
    pub fn is_emptied(&self, table: TableId, record: RecordId) -> bool {
        self.any_table(table).is_some_and(|home| home.emptied.contains(record.row()))
    }

    /// Whether any record of a table holds a file, or its talk does, in the bin or not.
    pub fn holds_file(&self, table: TableId, id: &str) -> bool {
        let Some(home) = self.any_table(table) else { return false };
        let holds = |cell: Cell<'_>| matches!(cell, Cell::Files(files) if files.iter().any(|file| file.id == id));
        let columns = home.columns.values().filter(|column| matches!(***column, Column::Files(_) | Column::Any(_)));
        home.talk.with_file(id).next().is_some() || columns.into_iter().any(|column| (0..home.rows()).any(|row| holds(column.cell(row))))
    }

    /// The kind of what a field shows: of a carried value, of the field it carries; of a computed one, of its result.
    /// With the table that field is in.
    pub fn shown_kind(&self, table: TableId, field: FieldId) -> Option<(TableId, &Kind)> {
        let (table, def) = self.carried_field(table, field)?;
        Some((table, def.kind.shows()))
    }

    /// The field that a carried value carries in the end; any other field itself.
    pub fn shown_field(&self, table: TableId, field: FieldId) -> Option<FieldId> {
        self.carried_field(table, field).map(|(_, def)| def.id)
    }

    fn carried_field(&self, table: TableId, field: FieldId) -> Option<(TableId, &FieldDef)> {
        // A carried value may carry another; a circle of them would never end.
        let (mut table, mut field) = (table, field);
        for _ in 0..16 {
            let def = self.table(table)?.def.field(field)?;
            let Kind::Carried { links, field: carried } = &def.kind else { return Some((table, def)) };
            for link in links {
                table = self.table(table)?.link(*link)?.to;
            }
            field = *carried;
        }
        None
    }

    /// By which of their fields a link shows its records; of a carried link, as that one says.
    pub(crate) fn names_by(&self, table: TableId, field: FieldId) -> Option<FieldId> {
        self.carried_field(table, field)?.1.offers.named
    }

    /// Whether a field, or the one that it carries, is computed.
    pub(super) fn is_computed(&self, table: TableId, field: FieldId) -> bool {
        self.carried_field(table, field).is_some_and(|(_, def)| def.kind.is_computed())
    }

    /// The name of an option, whatever field it is of.
    pub fn option_name(&self, option: OptionId) -> Option<&str> {
        let mut options = self.tables().flat_map(|t| &t.def.fields).flat_map(|f| f.kind.options());
        options.find(|o| o.id == option).map(|o| o.name.as_str())
    }

    /// Tables whose records are named by links from one to the next and back to the first, each with the field that names them.
    pub(crate) fn names_in_a_circle(&self, from: TableId) -> Option<Vec<(&Table, &FieldDef)>> {
        let mut way: Vec<(&Table, &FieldDef)> = Vec::new();
        let mut at = from;
        loop {
            let home = self.table(at)?;
            way.push((home, home.def.field(home.def.standing)?));
            let (_, Kind::Link(link)) = self.shown_kind(at, home.def.standing)? else { return None };
            at = link.to;
            if let Some(begin) = way.iter().position(|(table, _)| table.def.id == at) {
                return Some(way.split_off(begin));
            }
        }
    }

    /// The tables a path of links leads through and the field at its end.
    ///
    /// # Errors
    /// [`FaultKind::BadRule`] where a field on the way is no link or is not there.
    pub fn walk(&self, table: TableId, path: &[FieldId]) -> Result<(TableId, FieldId), Fault> {
        let gone = || Fault::new(FaultKind::BadRule, "This rule names a field that is not there any more.");
        let (last, links) = path.split_last().ok_or_else(gone)?;
        let mut at = table;
        for link in links {
            let home = self.table(at).ok_or_else(gone)?;
            let def = home.def.field(*link).ok_or_else(gone)?;
            at = home
                .link(*link)
                .ok_or_else(|| {
                    Fault::new(FaultKind::BadRule, format!("“{}” is not a link, so nothing can be followed along it.", def.name))
                })?
                .to;
        }
        self.table(at).and_then(|t| t.def.field(*last)).ok_or_else(gone)?;
        Ok((at, *last))
    }
}
