//! Reading cells through a lens: one reader per field and query, then one call per record.

use super::{Column, Dataset, Meta, Table};
use crate::{
    access::Lens,
    fault::{Fault, FaultKind},
    history::Actor,
    id::{FieldId, OptionId, RecordId, TableId},
    schema::{FieldDef, Kind},
    value::{Cell, date_text, moment_text, phone_text, place_text, range_text},
};
use fixedbitset::FixedBitSet;
use jiff::Timestamp;
use std::collections::BTreeSet;

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
    /// Of a computed field at the end: whether its cells may be shown.
    guard: Option<Guard<'a>>,
    /// Of the table that the last field links to, where it is a link.
    targets: Option<Step<'a>>,
}

/// A link to follow for a carried value.
#[derive(Debug)]
struct Step<'a> {
    column: Option<&'a Column>,
    target: &'a Table,
    sight: Sight<'a>,
}

#[derive(Debug)]
enum Last<'a> {
    Nothing,
    Column(&'a Column),
    Instant(&'a Table, fn(&Meta) -> Timestamp),
    Person(&'a Table, fn(&Meta) -> Actor),
}

/// The rows at the end of links; none at all if any live record on the way is out of sight.
fn follow(steps: &[Step<'_>], row: usize) -> Option<Vec<usize>> {
    let mut rows = vec![row];
    for step in steps {
        let mut next = Vec::new();
        for record in rows.iter().flat_map(|row| step.column.map_or(&[][..], |c| c.links(*row))) {
            if step.sight.sees(*record) {
                next.push(record.row());
            } else if step.target.is_live(*record) {
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
        Self::try_new(lens, table, field).unwrap_or(Self { steps: Vec::new(), last: Last::Nothing, guard: None, targets: None })
    }

    fn try_new(lens: &'a Lens<'_>, table_id: TableId, field: FieldId) -> Option<Self> {
        let table = lens.ds.table(table_id)?;
        if !lens.reads(table_id, field) {
            return None;
        }
        let last = match &table.def.field(field)?.kind {
            Kind::Carried { links, field: carried } => {
                return if lens.released(table_id, field) {
                    Self::carried(lens.whole(), table, links, *carried)
                } else {
                    Self::carried(lens, table, links, *carried)
                };
            }
            Kind::CreatedAt => Last::Instant(table, |m| m.created_at),
            Kind::ChangedAt => Last::Instant(table, |m| m.changed_at),
            Kind::CreatedBy => Last::Person(table, |m| m.created_by),
            Kind::ChangedBy => Last::Person(table, |m| m.changed_by),
            _ => Last::Column(table.column(field)?),
        };
        let targets = match table.link(field) {
            Some(link) => Some(Step { column: None, target: lens.ds.table(link.to)?, sight: lens.sight(link.to) }),
            None => None,
        };
        let computed = table.def.field(field)?.kind.is_computed();
        let guard = if computed && !lens.released(table_id, field) { Some(Guard::new(lens, table_id, field)?) } else { None };
        let guard = guard.filter(|g| !g.ways.is_empty());
        Some(Self { steps: Vec::new(), last, guard, targets })
    }

    fn carried(lens: &'a Lens<'_>, table: &'a Table, links: &[FieldId], field: FieldId) -> Option<Self> {
        let mut at = table;
        let mut steps = Vec::new();
        for link_field in links {
            if !lens.reads(at.def.id, *link_field) {
                return None;
            }
            let link = at.link(*link_field)?;
            let target = lens.ds.table(link.to)?;
            steps.push(Step { column: Some(at.column(*link_field)?), target, sight: lens.sight(link.to) });
            at = target;
        }
        let mut reader = Self::try_new(lens, at.def.id, field)?;
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
        match &self.steps[..] {
            [] => self.last_cell(row),
            [only] if matches!(only.column, Some(Column::One(_))) => match only.column.map_or(&[][..], |c| c.links(row)).first() {
                Some(record) if only.sight.sees(*record) && self.shows_targets(record.row()) => self.last_cell(record.row()),
                _ => Cell::Empty,
            },
            _ => self.cells(row).first().copied().unwrap_or(Cell::Empty),
        }
    }

    /// Every value of a row. A carried value is the same for everyone or not shown: none if any record on its way is out of reach.
    pub fn cells(&self, row: usize) -> Vec<Cell<'a>> {
        let Some(rows) = follow(&self.steps, row) else { return Vec::new() };
        if self.is_carried() && !rows.iter().all(|row| self.shows_targets(*row)) {
            return Vec::new();
        }
        rows.iter().map(|row| self.last_cell(*row)).filter(|cell| !cell.is_empty()).collect()
    }

    /// For a carried link: whether all the records it names are in reach.
    fn shows_targets(&self, row: usize) -> bool {
        match (&self.targets, self.last_cell(row)) {
            (Some(step), Cell::Links(records)) => records.iter().all(|r| step.sight.sees(*r) || !step.target.is_live(*r)),
            _ => true,
        }
    }

    #[inline]
    fn last_cell(&self, row: usize) -> Cell<'a> {
        if self.guard.as_ref().is_some_and(|guard| !guard.shows(row)) {
            return Cell::Empty;
        }
        match self.last {
            Last::Nothing => Cell::Empty,
            Last::Column(column) => column.cell(row),
            Last::Instant(table, pick) => table.meta(RecordId::at_row(row)).map_or(Cell::Empty, |m| Cell::Instant(pick(m))),
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

    /// The column itself, where cells are stored and nothing is left out of them: for loops that know its type.
    #[inline]
    pub(crate) fn stored(&self) -> Option<&'a Column> {
        match (&self.last, &self.steps[..], &self.targets) {
            (Last::Column(column), [], None) if self.guard.is_none() => Some(column),
            _ => None,
        }
    }

    /// The column of a link that may be read, records out of sight included; none for what is no stored link.
    pub(crate) fn linked(&self) -> Option<&'a Column> {
        match (&self.last, &self.steps[..], &self.targets) {
            (Last::Column(column), [], Some(_)) => Some(column),
            _ => None,
        }
    }

    /// The key of a text cell in its column, computed when it was put there.
    #[inline]
    pub(crate) fn stored_text_key(&self, row: usize) -> Option<u64> {
        match (&self.last, &self.steps[..]) {
            (Last::Column(Column::Text(column)), []) => column.get(row).filter(|t| t.text.is_some()).map(|t| t.key),
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

    /// Whether a field, or the one that it carries, is computed.
    fn is_computed(&self, table: TableId, field: FieldId) -> bool {
        self.carried_field(table, field).is_some_and(|(_, def)| def.kind.is_computed())
    }

    /// The name of an option, whatever field it is of.
    pub fn option_name(&self, option: OptionId) -> Option<&str> {
        let mut options = self.tables().flat_map(|t| &t.def.fields).flat_map(|f| f.kind.options());
        options.find(|o| o.id == option).map(|o| o.name.as_str())
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
        let text = |field| self.text_at(table, record, field);
        let name = text(home.def.standing);
        let beside = home.def.beside.map(text).unwrap_or_default();
        let name = if name.is_empty() { format!("{} {}", home.def.one, record) } else { name };
        Some(RecordName { id: record, name, beside })
    }

    /// The text of one cell, as the asker may see it.
    pub fn text_at(&self, table: TableId, record: RecordId, field: FieldId) -> String {
        let reader = Reader::new(self, table, field);
        let texts: Vec<String> = reader.cells(record.row()).into_iter().map(|cell| self.cell_text(table, field, cell)).collect();
        texts.join(", ")
    }

    /// A cell of this field as people read it.
    pub fn cell_text(&self, table: TableId, field: FieldId, cell: Cell<'_>) -> String {
        let Some((_, kind)) = self.ds.shown_kind(table, field) else { return String::new() };
        self.text_as(kind, cell, self.ds.is_computed(table, field))
    }

    /// The same for a kind that no field may have yet.
    pub(crate) fn text_as(&self, kind: &Kind, cell: Cell<'_>, computed: bool) -> String {
        let option = |wanted: OptionId| kind.options().iter().find(|o| o.id == wanted).map_or("", |o| o.name.as_str());
        match cell {
            Cell::Empty => String::new(),
            Cell::Text(text) if matches!(kind, Kind::Phone) => phone_text(text, self.ds.tracker.locale.country),
            Cell::Text(text) => text.to_owned(),
            Cell::Number(number) if computed => kind.computed_words(number),
            Cell::Number(number) => kind.number_words(number, 0),
            Cell::Logical(yes) => if yes { "yes" } else { "no" }.to_owned(),
            Cell::Date(date) => date_text(date),
            Cell::Instant(instant) => moment_text(instant, self.clock),
            Cell::Range(start, end) => range_text(start, end),
            Cell::Choice(wanted) => option(wanted).to_owned(),
            Cell::Choices(options) => options.iter().map(|o| option(*o)).collect::<Vec<_>>().join(", "),
            Cell::Person(person) => self.ds.people.name(person).to_owned(),
            Cell::People(people) => people.iter().map(|p| self.ds.people.name(*p)).collect::<Vec<_>>().join(", "),
            Cell::Links(records) => {
                let Kind::Link(link) = kind else { return String::new() };
                let names: Vec<String> = records.iter().filter_map(|r| self.record_name(link.to, *r)).map(|n| n.name).collect();
                names.join(", ")
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
#[derive(Debug, Default)]
struct Guard<'a> {
    ways: Vec<(Vec<Step<'a>>, Guard<'a>)>,
}

impl<'a> Guard<'a> {
    /// None where the asker may not read a field on the way.
    fn new(lens: &'a Lens<'_>, table: TableId, field: FieldId) -> Option<Self> {
        let mut guard = Guard::default();
        for draw in lens.ds.draws(table, field) {
            let mut at = lens.ds.table(table)?;
            let mut steps = Vec::new();
            for link_field in draw.links.iter().chain(matches!(at_kind(lens, table, &draw), Some(Kind::Link(_))).then_some(&draw.field)) {
                if !lens.reads(at.def.id, *link_field) {
                    return None;
                }
                let link = at.link(*link_field)?;
                let target = lens.ds.table(link.to)?;
                steps.push(Step { column: Some(at.column(*link_field)?), target, sight: lens.sight(link.to) });
                at = target;
            }
            let home = lens.ds.end_of(table, &draw.links)?;
            if !lens.reads(home, draw.field) {
                return None;
            }
            let computed = lens.ds.table(home)?.def.field(draw.field)?.kind.is_computed();
            let inner = if computed && !lens.released(home, draw.field) { Self::new(lens, home, draw.field)? } else { Guard::default() };
            let open = inner.ways.is_empty() && steps.iter().all(|step| matches!(step.sight, Sight::Live(_)));
            if !open {
                guard.ways.push((steps, inner));
            }
        }
        Some(guard)
    }

    fn shows(&self, row: usize) -> bool {
        self.ways.iter().all(|(steps, inner)| follow(steps, row).is_some_and(|rows| rows.iter().all(|row| inner.shows(*row))))
    }
}

/// The kind of the field that is drawn on.
fn at_kind<'d>(lens: &Lens<'d>, table: TableId, draw: &super::graph::Draw) -> Option<&'d Kind> {
    let home = lens.dataset().end_of(table, &draw.links)?;
    lens.dataset().table(home)?.def.field(draw.field).map(|f| &f.kind)
}
