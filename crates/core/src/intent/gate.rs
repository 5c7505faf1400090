//! The one gate: what must hold of every value that lands, whatever the intent, on the state as it would stand. Only what
//! a change writes is asked: a record that was already wrong can still be changed in its other fields.
//!
//! Who may do what is asked where an intent says what is to be done; here nobody has an exception.

use super::Decider;
use crate::{
    access::Lens,
    dataset::{Dataset, Table, same},
    fault::{Fault, FaultKind},
    history::{Change, Op, run},
    id::{FieldId, OptionId, RecordId, TableId},
    part::Part,
    people::Actor,
    schema::{Choice, FieldDef, Kind, TableDef},
    value::Value,
};
use std::{
    borrow::Cow,
    collections::{BTreeMap, HashMap, HashSet},
};

/// A value that may not land.
#[derive(Debug)]
pub(super) struct Breach {
    pub(super) table: TableId,
    pub(super) record: RecordId,
    pub(super) field: FieldId,
    pub(super) fault: Fault,
    /// It comes of a record that the asker may not see.
    pub(super) hidden: bool,
}

/// How values come to land.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Landing {
    /// Put in, however.
    Put,
    /// What stood before a change stands again: a field that was empty then is empty again, required or not.
    Back,
    /// A whole tracker as it stands elsewhere, with all that may be wrong in it.
    Copied,
}

/// Most breaches that are told of one change; an import takes out so many at a time.
const MOST: usize = 100_000;

/// What a change writes, by table, field and record: of several writes of one cell, the last.
type Written<'o> = BTreeMap<TableId, BTreeMap<FieldId, HashMap<RecordId, &'o Value>>>;

/// What a field is and will be, with the options that it has.
type Kinds<'a> = Vec<(&'a FieldDef, HashSet<OptionId>)>;

/// What a change writes, and which records come and go by it.
#[derive(Default)]
struct Effect<'o> {
    written: Written<'o>,
    fresh: HashSet<(TableId, RecordId)>,
    going: HashSet<(TableId, RecordId)>,
    coming: Vec<(TableId, RecordId)>,
}

/// The tables' definitions as they would stand.
struct Defs<'a> {
    ds: &'a Dataset,
    put: HashMap<TableId, &'a TableDef>,
}

impl<'a> Defs<'a> {
    fn after(ds: &'a Dataset, ops: &'a [Op]) -> Self {
        let table = |op: &'a Op| match op {
            Op::Put { after: Some(part), .. } => match &**part {
                Part::Table(def) => Some((def.id, def)),
                _ => None,
            },
            _ => None,
        };
        Self { ds, put: ops.iter().filter_map(table).collect() }
    }

    fn table(&self, id: TableId) -> Option<&'a TableDef> {
        self.put.get(&id).copied().or_else(|| self.ds.any_table(id).map(|t| &*t.def))
    }
}

/// A column that an operation writes: its table, field, records and what they will hold.
type Column<'o> = (TableId, FieldId, Box<dyn Iterator<Item = (RecordId, &'o Value)> + 'o>);

fn columns(op: &Op) -> Vec<Column<'_>> {
    match op {
        Op::Cell { table, record, field, after, .. } => vec![(*table, *field, Box::new(std::iter::once((*record, after))))],
        Op::Fill { table, field, cells } => vec![(*table, *field, Box::new(cells.iter().map(|(r, _, after)| (*r, after))))],
        Op::Rows(rows) => {
            let mut found: Vec<Column<'_>> = Vec::new();
            for (field, values) in rows.fields.iter().zip(&rows.columns) {
                found.push((rows.table, *field, Box::new(rows.records().zip(values))));
            }
            found
        }
        Op::Add { .. }
        | Op::Gone { .. }
        | Op::Empty { .. }
        | Op::Bin { .. }
        | Op::Arrive { .. }
        | Op::Press { .. }
        | Op::Reply { .. }
        | Op::Go { .. }
        | Op::Count { .. }
        | Op::Turned { .. }
        | Op::Say { .. }
        | Op::Place { .. }
        | Op::Put { .. } => Vec::new(),
    }
}

impl<'o> Effect<'o> {
    /// `watched`: the fields of which more is asked than that a value is of their kind.
    fn of(ops: &'o [Op], watched: &HashSet<(TableId, FieldId)>) -> Self {
        let mut effect = Self::default();
        for op in ops {
            for (table, field, cells) in columns(op) {
                let written = effect.written.entry(table).or_default();
                if watched.contains(&(table, field)) {
                    written.entry(field).or_default().extend(cells);
                }
            }
            match op {
                Op::Add { table, record } => {
                    effect.fresh.insert((*table, *record));
                }
                Op::Gone { table, record, gone } => effect.moves(*table, *record, *gone),
                Op::Bin { table, first, count, gone } => run(*first, *count).for_each(|r| effect.moves(*table, r, *gone)),
                Op::Rows(rows) => effect.fresh.extend(rows.records().map(|r| (rows.table, r))),
                Op::Cell { .. }
                | Op::Fill { .. }
                | Op::Arrive { .. }
                | Op::Press { .. }
                | Op::Reply { .. }
                | Op::Empty { .. }
                | Op::Go { .. }
                | Op::Count { .. }
                | Op::Turned { .. }
                | Op::Say { .. }
                | Op::Place { .. }
                | Op::Put { .. } => {}
            }
        }
        effect
    }

    fn moves(&mut self, table: TableId, record: RecordId, gone: bool) {
        if gone {
            self.going.insert((table, record));
        } else {
            self.going.remove(&(table, record));
            self.coming.push((table, record));
        }
    }
}

/// One table of the state as it would stand.
struct Home<'a> {
    def: &'a TableDef,
    /// As it stands; none where it is only about to be made.
    table: Option<&'a Table>,
    written: &'a BTreeMap<FieldId, HashMap<RecordId, &'a Value>>,
}

impl<'a> Home<'a> {
    /// What a cell will hold.
    fn value(&self, field: FieldId, record: RecordId) -> Cow<'a, Value> {
        match self.written.get(&field).and_then(|cells| cells.get(&record)) {
            Some(value) => Cow::Borrowed(*value),
            None => Cow::Owned(self.before(field, record)),
        }
    }

    fn before(&self, field: FieldId, record: RecordId) -> Value {
        self.table.and_then(|t| t.column(field)).map_or(Value::Empty, |c| c.cell(record.row()).to_value())
    }

    fn cells(&self, field: FieldId) -> impl Iterator<Item = (RecordId, &'a Value)> {
        self.written.get(&field).into_iter().flatten().map(|(record, value)| (*record, *value))
    }
}

impl Decider<'_> {
    /// What may not land of what these operations write.
    pub(super) fn breaches(&self, ops: &[Op], landing: Landing) -> Vec<Breach> {
        let defs = Defs::after(self.ds, ops);
        let mut breaches = self.of_other_kinds(ops, &defs);
        if landing == Landing::Copied {
            return breaches;
        }
        let effect = Effect::of(ops, &Self::watched(ops, &defs));
        for table in effect.written.keys().chain(effect.coming.iter().map(|(table, _)| table)).collect::<HashSet<_>>() {
            let Some(def) = defs.table(*table) else { continue };
            let nothing = BTreeMap::new();
            let home = Home { def, table: self.ds.any_table(*table), written: effect.written.get(table).unwrap_or(&nothing) };
            for field in &home.def.fields {
                if field.unique {
                    self.unique(&home, field, &effect, &mut breaches);
                }
                if let Kind::Choice { options, on: Some(on) } = &field.kind {
                    stands_under(&home, field, options, *on, &mut breaches);
                }
                if field.required && landing == Landing::Put {
                    keeps(&home, field, &effect, &mut breaches);
                }
            }
        }
        breaches.extend(self.newly_unique(ops));
        breaches.extend(self.not_offered(ops, &effect, &defs));
        breaches.truncate(MOST);
        // One fault for one cell: what is not even of its kind is told first.
        let mut told = HashSet::new();
        breaches.retain(|b| told.insert((b.table, b.record, b.field)));
        breaches
    }

    /// No other record holds what no two may: neither one that stands, nor another of the same change.
    fn unique(&self, home: &Home<'_>, field: &FieldDef, effect: &Effect<'_>, breaches: &mut Vec<Breach>) {
        let table = home.def.id;
        let back = effect.coming.iter().filter(|(t, _)| *t == table).map(|(_, r)| (*r, home.value(field.id, *r)));
        let put = home.cells(field.id).map(|(r, value)| (r, Cow::Borrowed(value)));
        let mut landing: Vec<(RecordId, Cow<'_, Value>)> =
            put.chain(back).filter(|(r, value)| **value != Value::Empty && !effect.going.contains(&(table, *r))).collect();
        landing.sort_by_key(|(r, _)| *r);
        landing.dedup_by_key(|(r, _)| *r);
        let mut seen: HashSet<String> = HashSet::new();
        for (record, value) in landing {
            let stays = |other: &RecordId| {
                *other != record
                    && !effect.going.contains(&(table, *other))
                    && same(home.value(field.id, *other).as_cell(), value.as_cell())
            };
            let holder = home.table.and_then(|t| t.holders(field.id, value.as_cell()).find(stays));
            let twice = !seen.insert(once_key(&value));
            if twice || holder.is_some() {
                let message = format!("Another {} has this in “{}”, which holds each value once.", home.def.one, field.name);
                let hidden = !twice && holder.is_some_and(|other| !self.lens.sees(table, other));
                breaches.push(Breach { hidden, ..breach(home, record, field, FaultKind::BadRule, message) });
            }
        }
    }

    /// Values that are not of their field's kind, or beyond its limits.
    fn of_other_kinds(&self, ops: &[Op], defs: &Defs<'_>) -> Vec<Breach> {
        let mut found = Vec::new();
        let mut known: HashMap<(TableId, FieldId), Kinds<'_>> = HashMap::new();
        for (table, field, cells) in ops.iter().flat_map(columns) {
            let kinds = known.entry((table, field)).or_insert_with(|| {
                // Values may leave a field that goes, or changes its kind, within the same change.
                let both = [self.ds.any_table(table).map(|t| &*t.def), defs.table(table)];
                let fields = both.into_iter().flatten().filter_map(|def| def.any_field(field));
                fields.map(|f| (f, f.kind.options().iter().map(|o| o.id).collect())).collect()
            });
            let Some((def, _)) = kinds.last() else { continue };
            for (record, value) in cells {
                if *value != Value::Empty && !kinds.iter().any(|(f, options)| f.kind.takes(value, options)) {
                    let message = format!("“{}” is a {} field: this value does not fit it.", def.name, def.kind.name());
                    found.push(Breach { table, record, field, fault: Fault::new(FaultKind::WrongKind, message), hidden: false });
                }
            }
        }
        found
    }

    /// The fields of the tables that are written to of which more is asked.
    fn watched(ops: &[Op], defs: &Defs<'_>) -> HashSet<(TableId, FieldId)> {
        let tables: HashSet<TableId> = ops.iter().flat_map(columns).map(|(table, ..)| table).collect();
        let mut watched = HashSet::new();
        for def in tables.iter().filter_map(|table| defs.table(*table)) {
            for field in &def.fields {
                let limited = match field.kind {
                    Kind::Link(link) => {
                        let back = defs.table(link.to).and_then(|t| t.field(link.back));
                        is_limited(field) || back.is_some_and(is_limited)
                    }
                    _ => false,
                };
                if field.unique || field.required || limited {
                    watched.insert((def.id, field.id));
                }
                if let Kind::Choice { on: Some(on), .. } = &field.kind {
                    watched.extend([(def.id, field.id), (def.id, *on)]);
                }
            }
        }
        watched
    }

    /// A field that is to hold each value once, over what stands there.
    fn newly_unique(&self, ops: &[Op]) -> Vec<Breach> {
        let mut found = Vec::new();
        for op in ops {
            let Op::Put { before, after: Some(after) } = op else { continue };
            let (Some(Part::Table(old)), Part::Table(new)) = (before.as_deref(), &**after) else { continue };
            let Some(home) = self.ds.table(new.id) else { continue };
            for field in new.fields.iter().filter(|f| f.unique && old.field(f.id).is_some_and(|o| !o.unique)) {
                let Some(column) = home.column(field.id) else { continue };
                let mut seen: HashMap<String, RecordId> = HashMap::new();
                let twice = home.records().filter(|r| !column.cell(r.row()).is_empty());
                let twice: Vec<RecordId> =
                    twice.filter(|r| seen.insert(once_key(&column.cell(r.row()).to_value()), *r).is_some()).collect();
                if let Some(first) = twice.first() {
                    let message = format!(
                        "“{}” can’t hold each value once yet: {} of its values stand there more than once.",
                        field.name,
                        twice.len()
                    );
                    found.push(Breach {
                        table: new.id,
                        record: *first,
                        field: field.id,
                        fault: Fault::new(FaultKind::BadRule, message),
                        hidden: false,
                    });
                }
            }
        }
        found
    }

    /// Records that are newly linked must be among those that the link offers, on the state as it would stand.
    fn not_offered(&self, ops: &[Op], effect: &Effect<'_>, defs: &Defs<'_>) -> Vec<Breach> {
        let asked = |table: &TableId, field: &FieldId| {
            let def = defs.table(*table)?.field(*field)?;
            let Kind::Link(link) = def.kind else { return None };
            let back = defs.table(link.to).and_then(|t| t.field(link.back));
            (is_limited(def) || back.is_some_and(is_limited)).then_some((def, link, back))
        };
        let links: Vec<_> = effect
            .written
            .iter()
            .flat_map(|(table, fields)| fields.iter().filter_map(move |(field, cells)| Some((*table, cells, asked(table, field)?))))
            .collect();
        if links.is_empty() {
            return Vec::new();
        }
        let mut after: Dataset = self.ds.clone();
        let seq = self.ds.seq + 1;
        after.apply(&Change { seq, at: self.clock.now, who: Actor::Westerfall, undoes: None, again: false, ops: ops.to_vec() });
        let lens = Lens::of_everything(&after, None, self.clock);
        let mut found = Vec::new();
        for (table, cells, (def, link, back)) in links {
            for (record, value) in cells {
                let Value::Links(linked) = value else { continue };
                let old = self.ds.any_table(table).and_then(|t| t.column(def.id)).map_or(&[][..], |c| c.links(record.row()));
                let offered = |other: &RecordId| {
                    lens.may_link(table, def, Some(*record), *other)
                        && back.is_none_or(|back| lens.may_link(link.to, back, Some(*other), *record))
                };
                if !linked.iter().filter(|r| !old.contains(r)).all(offered) {
                    let message = format!("“{}” does not offer this one. Pick one from its list.", def.name);
                    found.push(Breach {
                        table,
                        record: *record,
                        field: def.id,
                        fault: Fault::new(FaultKind::BadRule, message),
                        hidden: false,
                    });
                }
            }
        }
        found
    }
}

/// Whether a link offers only some of the records that are there.
fn is_limited(field: &FieldDef) -> bool {
    !field.offers.condition.is_nothing() || !field.offers.same.is_empty()
}

fn breach(home: &Home<'_>, record: RecordId, field: &FieldDef, kind: FaultKind, message: String) -> Breach {
    Breach { table: home.def.id, record, field: field.id, fault: Fault::new(kind, message), hidden: false }
}

/// Values that people would call the same have the same key.
pub(super) fn once_key(value: &Value) -> String {
    match value {
        Value::Text(text) => crate::value::fold(text.trim()).into_owned(),
        Value::Number(number) => number.normalize().to_string(),
        other => format!("{other:?}"),
    }
}

/// A dependent choice stands under what the choice it depends on holds.
fn stands_under(home: &Home<'_>, field: &FieldDef, options: &[Choice], on: FieldId, breaches: &mut Vec<Breach>) {
    let touched: HashSet<RecordId> = home.cells(field.id).chain(home.cells(on)).map(|(r, _)| r).collect();
    let name = |list: &[Choice], option: Option<OptionId>| {
        list.iter().find(|o| Some(o.id) == option).map_or_else(|| "nothing".to_owned(), |o| o.name.clone())
    };
    for record in touched {
        let Value::Choice(chosen) = *home.value(field.id, record) else { continue };
        let under = options.iter().find(|o| o.id == chosen).and_then(|o| o.under);
        if under.is_some_and(|under| *home.value(on, record) == Value::Choice(under)) {
            continue;
        }
        let other = home.def.field(on);
        let grounds = other.map_or(&[][..], |f| f.kind.options());
        let message = format!(
            "“{}” stands under “{}”. Choose that in “{}” first, or another here.",
            name(options, Some(chosen)),
            name(grounds, under),
            other.map_or("", |f| f.name.as_str())
        );
        breaches.push(breach(home, record, field, FaultKind::UnknownOption, message));
    }
}

/// What is required is not emptied; a new record may still be filled in.
fn keeps(home: &Home<'_>, field: &FieldDef, effect: &Effect<'_>, breaches: &mut Vec<Breach>) {
    for (record, value) in home.cells(field.id) {
        let emptied = *value == Value::Empty && !effect.fresh.contains(&(home.def.id, record));
        if emptied && home.before(field.id, record) != Value::Empty {
            let message = format!("“{}” is required: it can’t be left empty.", field.name);
            breaches.push(breach(home, record, field, FaultKind::Missing, message));
        }
    }
}
