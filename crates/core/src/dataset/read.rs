//! Reading cells through a lens: one reader per field and query, then one call per record.

use super::{Column, Dataset, Meta, Table};
use crate::{
    access::Lens,
    fault::{Fault, FaultKind},
    history::Actor,
    id::{FieldId, RecordId, TableId},
    schema::{FieldDef, Kind},
    value::{Cell, date_text, moment_text, number_text},
};
use fixedbitset::FixedBitSet;
use jiff::Timestamp;

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

impl<'a> Reader<'a> {
    /// A reader of a field; one that finds nothing where the asker may not read the field or anything it draws on.
    pub(crate) fn new(lens: &'a Lens<'_>, table: TableId, field: FieldId) -> Self {
        Self::try_new(lens, table, field).unwrap_or(Self { steps: Vec::new(), last: Last::Nothing, targets: None })
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
        Some(Self { steps: Vec::new(), last, targets })
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
        let mut rows = vec![row];
        for step in &self.steps {
            let mut next = Vec::new();
            for record in rows.iter().flat_map(|row| step.column.map_or(&[][..], |c| c.links(*row))) {
                if step.sight.sees(*record) {
                    next.push(record.row());
                } else if step.target.is_live(*record) {
                    return Vec::new();
                }
            }
            rows = next;
        }
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
            (Last::Column(column), [], None) => Some(column),
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
    /// The kind that a field shows: for a carried value, that of the field it carries; with the table that field is in.
    pub fn shown_kind(&self, table: TableId, field: FieldId) -> Option<(TableId, &FieldDef)> {
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
        let Some((_, shown)) = self.ds.shown_kind(table, field) else { return String::new() };
        match cell {
            Cell::Empty => String::new(),
            Cell::Text(text) => text.to_owned(),
            Cell::Number(number) => match &shown.kind {
                Kind::Number { decimals, unit } => number_text(number, *decimals, unit),
                _ => number_text(number, 0, ""),
            },
            Cell::Date(date) => date_text(date),
            Cell::Instant(instant) => moment_text(instant, self.clock),
            Cell::Choice(option) => match &shown.kind {
                Kind::Choice { options } => options.iter().find(|o| o.id == option).map_or_else(String::new, |o| o.name.clone()),
                _ => String::new(),
            },
            Cell::Person(person) => self.ds.people.name(person).to_owned(),
            Cell::Links(records) => {
                let Kind::Link(link) = shown.kind else { return String::new() };
                let names: Vec<String> = records.iter().filter_map(|r| self.record_name(link.to, *r)).map(|n| n.name).collect();
                names.join(", ")
            }
            Cell::Files(files) => files.iter().map(|f| f.name.as_str()).collect::<Vec<_>>().join(", "),
        }
    }
}

impl Dataset {
    /// The fields that a computed field draws on, at every step; none for a field that holds its value.
    pub fn draws_on(&self, table: TableId, field: FieldId) -> Vec<FieldId> {
        let mut drawn = Vec::new();
        let (mut table, mut field) = (table, field);
        while let Some(Kind::Carried { links, field: carried }) =
            self.table(table).and_then(|t| t.def.field(field)).map(|f| &f.kind).filter(|_| drawn.len() < 256)
        {
            for link in links {
                drawn.push(*link);
                table = match self.table(table).and_then(|t| t.link(*link)) {
                    Some(link) => link.to,
                    None => return drawn,
                };
            }
            drawn.push(*carried);
            field = *carried;
        }
        drawn
    }
}
