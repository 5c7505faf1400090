//! Records as they are shown: each cell with its value and its text.

use super::{Cards, Fit, Query, Shape};
use crate::{
    access::{Lens, Right},
    dataset::{Meta, Reader, RecordName},
    form::{Parameter, Question},
    highlight::RecordLooks,
    id::{FieldId, FormId, PersonId, RecordId, TableId},
    people::Actor,
    schema::{FieldDef, Kind, within_sentence},
    value::{Attachment, Cell, CellValue, Value},
};
use rust_decimal::{Decimal, prelude::ToPrimitive};
use serde::{Deserialize, Serialize};

/// A record as the asker may see it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Row {
    pub id: RecordId,
    pub version: u32,
    /// In the order of the fields asked for; nothing where a cell is empty.
    pub cells: Vec<Option<CellView>>,
    /// Whether the asker may change it (a field may still be read only).
    pub change: bool,
    pub remove: bool,
    /// Stays in sight though the view's condition leaves it out.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub outside: bool,
    /// The form it came by.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub form: Option<FormId>,
    /// How it looks, where a highlight touches it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub looks: Option<RecordLooks>,
    /// In lanes, how many days it has stood in its lane.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub days: Option<u32>,
    /// The pictures that stand on its plate or entry, whether or not their field is among those shown.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub pictures: Vec<Attachment>,
    /// What is drawn on its plate.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub drawn: Option<Drawn>,
    /// Automations wait until whoever fills it in has left it.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub begun: bool,
}

impl Row {
    /// A record in which nothing stands, and which nobody may change.
    pub(crate) fn empty(id: RecordId) -> Self {
        Self {
            id,
            version: 0,
            cells: Vec::new(),
            change: false,
            remove: false,
            outside: false,
            form: None,
            looks: None,
            days: None,
            pictures: Vec::new(),
            drawn: None,
            begun: false,
        }
    }
}

/// Numbers that are drawn on a plate.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Drawn {
    /// Drawn as a length, beside [`Whole::longest`](super::Whole::longest).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length: Option<Decimal>,
    /// Drawn as strokes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub strokes: Option<u32>,
    /// Both in words: *2.4 km, 3 open faults*.
    pub says: String,
}

/// A cell as the asker may see it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CellView {
    pub value: CellValue,
    pub text: String,
    /// The linked records' names, where it is a link.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub links: Vec<RecordName>,
    /// A name that was given for a person and waits for somebody to say who is meant.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub waits: bool,
    /// Of a copied value: what stands now where it came from, if that is something else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub source: Option<String>,
}

impl CellView {
    /// A cell in which nothing stands.
    fn empty() -> Self {
        Self { value: Value::Empty, text: String::new(), links: Vec::new(), waits: false, source: None }
    }
}

/// A name that was given for a person and fits nobody, or several.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Waiting {
    pub field: FieldId,
    pub text: String,
    /// Whom it could mean.
    pub candidates: Vec<Candidate>,
}

/// Somebody whom a name could mean.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Candidate {
    pub person: PersonId,
    pub name: String,
    /// For those who may say who is meant: two may have one name.
    pub mail: String,
}

impl Query {
    /// Gives records as this view shows them: with its fields, how they look, and since when they stand in their lanes. What is
    /// asked of each is made ready once.
    pub fn rows<'a>(&'a self, lens: &'a Lens<'_>, table: TableId) -> impl Fn(&[RecordId]) -> Vec<Row> + 'a {
        let fields: Vec<FieldId> = self.fields.iter().map(|shown| shown.field).collect();
        let standing = self.standing(lens, table);
        let looks = lens.looks(table, &self.without);
        let (pictured, most) = match &self.shape {
            Shape::Cards(cards) => (cards.picture, if cards.fit == Fit::Strip { STRIP } else { 1 }),
            Shape::Lanes(lanes) => (lanes.picture, 1),
            Shape::Rows(_) | Shape::Calendar(_) | Shape::CrossTab(_) => (None, 0),
        };
        let pictures = pictured.filter(|field| lens.reads(table, *field)).map(|field| lens.reader(table, field));
        let drawn = self.drawing(lens, table);
        move |records| {
            let mut rows = lens.rows(table, records, &fields);
            for row in &mut rows {
                row.days = standing.as_ref().and_then(|standing| standing.days(row.id.row()));
                row.looks = looks.of(row.id, &fields);
                row.pictures = pictures.as_ref().map_or_else(Vec::new, |reader| pictures_of(reader.cell(row.id.row()), most));
                row.drawn = drawn(row.id);
            }
            rows
        }
    }
}

/// Most pictures that stand side by side.
const STRIP: usize = 6;

impl Query {
    /// What is drawn on the plates of records; nothing where nothing is, or where it is not open.
    fn drawing<'a>(&'a self, lens: &'a Lens<'_>, table: TableId) -> impl Fn(RecordId) -> Option<Drawn> + 'a {
        let (length, strokes) = if let Shape::Cards(cards) = &self.shape { (cards.length, cards.strokes) } else { (None, None) };
        let ready =
            move |field: Option<FieldId>| field.filter(|field| lens.reads(table, *field)).map(|field| (field, lens.reader(table, field)));
        let (length, strokes) = (ready(length), ready(strokes));
        let number = |of: &Option<(FieldId, Reader<'_>)>, record: RecordId| match of.as_ref()?.1.cell(record.row()) {
            Cell::Number(number) => Some(number),
            _ => None,
        };
        // How a number of a plate stands in words: where it has no unit, with what it counts.
        let words = move |of: &Option<(FieldId, Reader<'_>)>, number: Option<Decimal>| {
            let (field, _) = of.as_ref()?;
            let text = lens.cell_text(table, *field, Cell::Number(number?));
            let def = lens.dataset().table(table)?.def.field(*field)?;
            let unit = matches!(lens.dataset().shown_kind(table, *field)?.1.shows(), Kind::Number { unit, .. } if unit.is_empty());
            Some(if unit { format!("{text} {}", within_sentence(&def.name)) } else { text })
        };
        move |record| {
            let (long, many) = (number(&length, record), number(&strokes, record));
            let says: Vec<String> = words(&length, long).into_iter().chain(words(&strokes, many)).collect();
            (long.is_some() || many.is_some()).then(|| Drawn {
                length: long.map(|long| long.max(Decimal::ZERO)),
                strokes: many.and_then(|many| many.round().to_u32()),
                says: says.join(", "),
            })
        }
    }

    /// The longest that is drawn of these records, so that all are drawn at one scale.
    pub(super) fn longest(&self, lens: &Lens<'_>, table: TableId, rows: impl Iterator<Item = usize>) -> Option<Decimal> {
        let Shape::Cards(Cards { length: Some(length), .. }) = self.shape else { return None };
        let reader = Some(length).filter(|field| lens.reads(table, *field)).map(|field| lens.reader(table, field))?;
        rows.filter_map(|row| if let Cell::Number(number) = reader.cell(row) { Some(number) } else { None }).max()
    }
}

/// Of the files of a cell, the first so many that are pictures.
fn pictures_of(cell: Cell<'_>, most: usize) -> Vec<Attachment> {
    let Cell::Files(files) = cell else { return Vec::new() };
    files.iter().filter(|file| file.is_picture()).take(most).cloned().collect()
}

impl Lens<'_> {
    /// Records with these fields, in the order given; those that the asker may not see are left out.
    pub fn rows(&self, table: TableId, records: &[RecordId], fields: &[FieldId]) -> Vec<Row> {
        let readers: Vec<_> = fields.iter().map(|f| (*f, self.reader(table, *f), self.released(table, *f))).collect();
        let home = self.ds.table(table);
        let copies = home.is_some_and(|home| fields.iter().any(|field| home.def.field(*field).is_some_and(|def| def.copies.is_some())));
        let row = |record: &RecordId| {
            let meta = home?.meta(*record)?;
            let sources = if copies { self.moved_on(table, *record) } else { Vec::new() };
            let cells = readers.iter().map(|(field, reader, released)| {
                let cells = reader.cells(record.row());
                // Whoever is given what a link shows is given the names in it.
                let lens = if released.holds(record.row()) { self.whole() } else { self };
                let view = lens.cell_view(table, *field, &cells);
                let view = self.with_waiting(table, *record, *field, view);
                match sources.iter().find(|(copied, _)| copied == field) {
                    Some((_, source)) => Some(CellView { source: Some(source.clone()), ..view.unwrap_or_else(CellView::empty) }),
                    None => view,
                }
            });
            let form = match self.made_by(table, *record) {
                Some(Actor::Form(form)) => Some(form),
                _ => None,
            };
            Some(Row {
                version: meta.version,
                cells: cells.collect(),
                change: self.may(Right::Change, table, *record),
                remove: self.may(Right::Remove, table, *record),
                form,
                begun: self.is_begun(table, *record),
                ..Row::empty(*record)
            })
        };
        records.iter().filter(|r| self.sees(table, **r)).filter_map(row).collect()
    }

    /// The cells of one field of a record: one, or several carried values.
    pub fn cell_view(&self, table: TableId, field: FieldId, cells: &[Cell<'_>]) -> Option<CellView> {
        let (_, kind) = self.ds.shown_kind(table, field)?;
        let links = match kind {
            Kind::Link(link) => {
                let records = cells.iter().flat_map(|cell| if let Cell::Links(records) = cell { *records } else { &[] });
                let by = self.ds.names_by(table, field);
                records.filter_map(|r| self.linked_name(link.to, *r, by)).collect()
            }
            _ => Vec::new(),
        };
        let value = match cells {
            [Cell::Links(_), ..] => Value::Links(links.iter().map(|n: &RecordName| n.id).collect()).tidy(),
            [one] => one.to_value().tidy(),
            _ => Value::Empty,
        };
        let text = match cells {
            [Cell::Links(_), ..] => links.iter().map(|n| n.name.as_str()).collect::<Vec<_>>().join(", "),
            _ => cells.iter().map(|cell| self.cell_text(table, field, *cell)).collect::<Vec<_>>().join(", "),
        };
        (!text.is_empty()).then_some(CellView { value, text, links, waits: false, source: None })
    }

    /// The cell with names that wait in it.
    fn with_waiting(&self, table: TableId, record: RecordId, field: FieldId, view: Option<CellView>) -> Option<CellView> {
        let Some(arrival) = self.ds.arrival(table, record).filter(|a| !a.unsettled.is_empty() && self.shows(table, record, field)) else {
            return view;
        };
        let names: Vec<String> = arrival.unsettled.iter().filter(|u| u.field == field).map(|u| format!("“{}”", u.text)).collect();
        if names.is_empty() {
            return view;
        }
        let known = view.unwrap_or_else(CellView::empty);
        let text = [known.text].into_iter().filter(|t| !t.is_empty()).chain(names).collect::<Vec<_>>().join(", ");
        Some(CellView { text, waits: true, ..known })
    }

    /// Who made a record, and who changed it last, as far as the asker may read that.
    pub fn made_by(&self, table: TableId, record: RecordId) -> Option<Actor> {
        self.meta_of(table, record, &Kind::CreatedBy).map(|m| m.created_by)
    }

    /// When and by whom a record was made, in words; less where that is not open to the asker.
    pub fn made_words(&self, table: TableId, record: RecordId) -> String {
        let at = self.meta_of(table, record, &Kind::CreatedAt).map(|m| m.created_at);
        self.moment_words(at, self.made_by(table, record))
    }

    /// When and by whom a record was changed last, in words; less where that is not open to the asker.
    pub fn changed_words(&self, table: TableId, record: RecordId) -> String {
        let at = self.meta_of(table, record, &Kind::ChangedAt).map(|m| m.changed_at);
        self.moment_words(at, self.meta_of(table, record, &Kind::ChangedBy).map(|m| m.changed_by))
    }

    fn moment_words(&self, at: Option<jiff::Timestamp>, who: Option<Actor>) -> String {
        let at = at.map(|at| crate::value::moment_text(at, self.clock));
        let who = who.map(|who| format!("by {}", self.actor_name(who)));
        at.into_iter().chain(who).collect::<Vec<_>>().join(" ")
    }

    /// What is kept of every record, where the table's field for it may be read.
    pub(crate) fn meta_of(&self, table: TableId, record: RecordId, kind: &Kind) -> Option<&Meta> {
        let home = self.ds.table(table)?;
        let open = |f: &FieldDef| f.kind != *kind || self.shows(table, record, f.id);
        home.meta(record).filter(|_| self.sees(table, record) && home.def.fields.iter().all(open))
    }

    /// How a record came: the parameters of its link, and who answered. A parameter fills in questions; where one of those is
    /// hidden from the asker, so is the parameter, and one that fills in none is open to those who may read all questions.
    pub fn came(&self, table: TableId, record: RecordId) -> (Vec<Parameter>, Option<PersonId>) {
        let Some(arrival) = self.ds.arrival(table, record).filter(|_| self.sees(table, record)) else { return Default::default() };
        let form = match self.ds.table(table).and_then(|t| t.meta(record)).map(|m| m.created_by) {
            Some(Actor::Form(form)) => self.ds.form(form),
            _ => None,
        };
        let questions = form.map_or(&[][..], |f| &f.questions);
        let open = |q: &Question| self.shows(table, record, q.field);
        let home = self.ds.table(table);
        let all_open = home.is_some_and(|t| t.def.fields.iter().all(|f| self.shows(table, record, f.id)));
        let told = |p: &&Parameter| {
            let mut fills = questions.iter().filter(|q| q.is_filled_by(&p.name)).peekable();
            if fills.peek().is_none() { all_open } else { fills.all(open) }
        };
        let by = arrival.by.filter(|_| self.made_by(table, record).is_some());
        (arrival.parameters.iter().filter(told).cloned().collect(), by)
    }

    /// Names of a record that wait for somebody to say who is meant, with whom each could mean.
    pub fn waiting(&self, table: TableId, record: RecordId) -> Vec<Waiting> {
        let Some(arrival) = self.ds.arrival(table, record).filter(|_| self.sees(table, record)) else { return Vec::new() };
        let open = arrival.unsettled.iter().filter(|u| self.shows(table, record, u.field));
        let says = self.may(Right::Change, table, record);
        let candidate = |person: PersonId| {
            let known = self.ds.people.get(person)?;
            Some(Candidate { person, name: known.name.clone(), mail: if says { known.mail.clone() } else { String::new() } })
        };
        let of = |text: &str| crate::intent::candidates(self.ds, text).into_iter().filter_map(candidate).collect();
        open.map(|u| Waiting { field: u.field, text: u.text.clone(), candidates: of(&u.text) }).collect()
    }
}
