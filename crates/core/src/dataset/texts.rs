//! What people read: the name of a record, the text of a cell, as far as the asker may see them.

use super::{Reader, Table};
use crate::{
    access::{Lens, Right},
    id::{FieldId, OptionId, RecordId, TableId},
    schema::Kind,
    value::{Cell, moment_text, phone_text, place_text},
};

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
