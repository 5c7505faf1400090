//! Reading cells through a lens: one reader per field and query, then one call per record.

use super::{Column, Dataset, Meta, Table, graph::Draw};
use crate::{
    access::{Extent, Lens, Right},
    fault::{Fault, FaultKind},
    formula::Formula,
    id::{FieldId, OptionId, RecordId, TableId},
    people::Actor,
    schema::{FieldDef, Kind},
    value::{Cell, moment_text, phone_text, place_text},
};
use fixedbitset::FixedBitSet;
use jiff::Timestamp;
use std::collections::{BTreeSet, HashMap, HashSet};

/// How a linked record is named, as far as the asker may see it.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RecordName {
    pub id: RecordId,
    pub name: String,
    /// A second field that tells it apart.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub beside: String,
}

/// Which records of a table are there for the asker.
#[derive(Clone, Copy, Debug)]
pub(crate) enum Sight<'a> {
    Live(&'a Table),
    Some(&'a FixedBitSet),
    Nothing,
}

impl Sight<'_> {
    #[inline]
    pub(crate) fn sees(self, record: RecordId) -> bool {
        match self {
            Sight::Live(table) => table.is_live(record),
            Sight::Some(records) => records.contains(record.row()),
            Sight::Nothing => false,
        }
    }
}

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

/// A link to follow for a carried value.
#[derive(Debug)]
struct Step<'a> {
    column: &'a Column,
    /// The rows whose link may be read, where that is not all that are in sight.
    shown: Option<FixedBitSet>,
    target: Target<'a>,
}

/// A table that a link leads to, and which of its records are there for the asker.
#[derive(Clone, Copy, Debug)]
struct Target<'a> {
    table: &'a Table,
    sight: Sight<'a>,
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

/// Whether a row is among those shown.
#[inline]
fn among(shown: Option<&FixedBitSet>, row: usize) -> bool {
    shown.is_none_or(|rows| rows.contains(row))
}

impl<'a> Step<'a> {
    /// Along a link of a table; none where it may be read of no record.
    fn new(lens: &'a Lens<'_>, from: &'a Table, link_field: FieldId) -> Option<Self> {
        let shown = lens.shown(from.def.id, link_field);
        if shown == Extent::Nowhere {
            return None;
        }
        let link = from.link(link_field)?;
        let target = Target { table: lens.ds.table(link.to)?, sight: lens.sight(link.to) };
        Some(Step { column: from.column(link_field)?, shown: shown.into_rows(), target })
    }

    /// Whether nothing on this step can be out of sight.
    fn is_open(&self) -> bool {
        self.shown.is_none() && matches!(self.target.sight, Sight::Live(_))
    }
}

/// The rows at the end of links; none at all if any live record on the way is out of sight, or a link may not be read.
fn follow(steps: &[Step<'_>], row: usize) -> Option<Vec<usize>> {
    let mut rows = vec![row];
    for step in steps {
        if !rows.iter().all(|row| among(step.shown.as_ref(), *row)) {
            return None;
        }
        let mut next = Vec::new();
        for record in rows.iter().flat_map(|row| step.column.links(*row)) {
            if step.target.sight.sees(*record) {
                next.push(record.row());
            } else if step.target.table.is_live(*record) {
                return None;
            }
        }
        rows = next;
    }
    Some(rows)
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
            [only] if matches!(only.column, Column::One(_)) => match only.column.links(row).first() {
                Some(record) if among(only.shown.as_ref(), row) && only.target.sight.sees(*record) && self.shows_targets(record.row()) => {
                    self.last_cell(record.row())
                }
                _ => Cell::Empty,
            },
            _ => self.cells(row).first().copied().unwrap_or(Cell::Empty),
        }
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
    fn is_computed(&self, table: TableId, field: FieldId) -> bool {
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

impl Lens<'_> {
    /// What stands for a record wherever it is named; nothing where the asker may not see it.
    pub fn record_name(&self, table: TableId, record: RecordId) -> Option<RecordName> {
        let home = self.ds.table(table)?;
        if !self.sight(table).sees(record) {
            return None;
        }
        let beside = home.def.beside.map(|field| self.text_after(0, table, record, field)).unwrap_or_default();
        Some(RecordName { id: record, name: self.title(0, home, record), beside })
    }

    /// The name of a record that the asker may see, or might if it were not in the bin; nothing where it has none of its own.
    pub(crate) fn own_name(&self, table: TableId, record: RecordId) -> Option<String> {
        let home = self.ds.table(table).filter(|_| self.would(Right::Look, table, record))?;
        Some(self.text_after(0, table, record, home.def.standing)).filter(|name| !name.is_empty())
    }

    /// The name alone. `names`: through how many other records' names one came here.
    fn title(&self, names: usize, home: &Table, record: RecordId) -> String {
        let name = self.text_after(names, home.def.id, record, home.def.standing);
        if name.is_empty() { format!("{} {}", home.def.one, record) } else { name }
    }

    /// What a link shows of a record: one of its fields, or, where that is empty or not open, its name.
    fn called(&self, names: usize, home: &Table, record: RecordId, by: Option<FieldId>) -> String {
        let shown = by.filter(|field| self.reads(home.def.id, *field)).map(|field| self.text_after(names, home.def.id, record, field));
        shown.filter(|text| !text.is_empty()).unwrap_or_else(|| self.title(names, home, record))
    }

    /// A linked record as one of its links shows it.
    pub(crate) fn linked_name(&self, to: TableId, record: RecordId, by: Option<FieldId>) -> Option<RecordName> {
        let name = self.record_name(to, record)?;
        let Some(home) = self.ds.table(to).filter(|_| by.is_some()) else { return Some(name) };
        Some(RecordName { name: self.called(0, home, record, by), ..name })
    }

    /// A record as one picks it for a link: by what the link shows of it, beside its own name.
    pub(crate) fn picked_name(&self, to: TableId, record: RecordId, by: Option<FieldId>) -> Option<RecordName> {
        let own = self.record_name(to, record)?;
        let shown = self.linked_name(to, record, by)?;
        if shown.name == own.name {
            return Some(own);
        }
        let beside = if own.beside.is_empty() { own.name } else { format!("{}, {}", own.name, own.beside) };
        Some(RecordName { beside, ..shown })
    }

    /// The text of one cell, as the asker may see it.
    pub fn text_at(&self, table: TableId, record: RecordId, field: FieldId) -> String {
        self.text_after(0, table, record, field)
    }

    fn text_after(&self, names: usize, table: TableId, record: RecordId, field: FieldId) -> String {
        let Some((_, kind)) = self.ds.shown_kind(table, field) else { return String::new() };
        let (reader, computed) = (Reader::new(self, table, field), self.ds.is_computed(table, field));
        let by = self.ds.names_by(table, field);
        let lens = if self.released(table, field).holds(record.row()) { self.whole() } else { self };
        let texts: Vec<String> = reader.cells(record.row()).into_iter().map(|cell| lens.text_of(names, kind, cell, computed, by)).collect();
        texts.join(", ")
    }

    /// A cell of this field as people read it.
    pub fn cell_text(&self, table: TableId, field: FieldId, cell: Cell<'_>) -> String {
        let Some((_, kind)) = self.ds.shown_kind(table, field) else { return String::new() };
        self.text_of(0, kind, cell, self.ds.is_computed(table, field), self.ds.names_by(table, field))
    }

    /// Linked records by name. What names a record may be a link itself, and so on: a few of those are enough to tell it by.
    fn names_of(&self, names: usize, to: TableId, records: &[RecordId], by: Option<FieldId>) -> String {
        const DEEP: usize = 6;
        const FEW: usize = 3;
        let Some(home) = self.ds.table(to).filter(|_| names < DEEP) else { return String::new() };
        let mut seen = records.iter().filter(|r| self.sight(to).sees(**r));
        let most = if names == 0 { usize::MAX } else { FEW };
        let mut told: Vec<String> = seen.by_ref().take(most).map(|record| self.called(names + 1, home, *record, by)).collect();
        if seen.next().is_some() {
            told.push("…".into());
        }
        told.join(", ")
    }

    /// The same for a kind that no field may have yet.
    pub(crate) fn text_as(&self, kind: &Kind, cell: Cell<'_>, computed: bool) -> String {
        self.text_of(0, kind, cell, computed, None)
    }

    fn text_of(&self, names: usize, kind: &Kind, cell: Cell<'_>, computed: bool, by: Option<FieldId>) -> String {
        let option = |wanted: OptionId| kind.options().iter().find(|o| o.id == wanted).map_or("", |o| o.name.as_str());
        match cell {
            Cell::Empty => String::new(),
            Cell::Text(text) if matches!(kind, Kind::Phone) => phone_text(text, self.ds.tracker.locale.country),
            Cell::Text(text) => text.to_owned(),
            Cell::Number(number) if computed => kind.computed_words(number, self.clock.customs()),
            Cell::Number(number) => kind.number_words(number, 0, self.clock.customs()),
            Cell::Logical(yes) => if yes { "yes" } else { "no" }.to_owned(),
            Cell::Date(date) => self.clock.customs().date_text(date),
            Cell::Instant(instant) => moment_text(instant, self.clock),
            Cell::Range(start, end) => self.clock.customs().range_text(start, end),
            Cell::Choice(wanted) => option(wanted).to_owned(),
            Cell::Choices(options) => options.iter().map(|o| option(*o)).collect::<Vec<_>>().join(", "),
            Cell::Person(person) => self.ds.people.name(person).to_owned(),
            Cell::People(people) => people.iter().map(|p| self.ds.people.name(*p)).collect::<Vec<_>>().join(", "),
            Cell::Links(records) => {
                let Kind::Link(link) = kind else { return String::new() };
                self.names_of(names, link.to, records, by)
            }
            Cell::Web(web) if web.title.is_empty() => web.address.clone(),
            Cell::Web(web) => web.title.clone(),
            Cell::Place(place) => place_text(place),
            Cell::Files(files) => files.iter().map(|f| f.name.as_str()).collect::<Vec<_>>().join(", "),
            Cell::Checklist(items) => {
                let done = items.iter().filter(|i| i.done).count();
                format!("{done} of {} done", items.len())
            }
            Cell::Json(json) => json.to_string(),
            Cell::Error(error) => error.sign().to_owned(),
        }
    }
}

impl Lens<'_> {
    /// Whether everything that a computed cell draws on is open to the asker.
    pub fn computed_is_open(&self, table: TableId, record: RecordId, field: FieldId) -> bool {
        Guard::new(self, table, field).is_some_and(|guard| guard.shows(record.row()))
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
}

/// Whether everything that a computed field's cells draw on is in sight. Only what may be out of sight is asked for.
///
/// The fields on the way are asked once each, and by a loop: many may draw on one, and chains of them may be long.
#[derive(Debug, Default)]
struct Guard<'a> {
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
    fn new(lens: &'a Lens<'_>, table: TableId, field: FieldId) -> Option<Self> {
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
                at = step.target.table;
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

    fn is_open(&self) -> bool {
        self.fields.is_empty()
    }

    fn shows(&self, row: usize) -> bool {
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
