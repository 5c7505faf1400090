//! Carrying out an import: the whole sheet becomes one change, or none.

use super::{
    Called, Decider, Numbers,
    cells::Before,
    convert::missing,
    draft::Draft,
    fields::free_name,
    gate::{Breach, Landing, once_key},
    imported::{ImportRehearsal, Making, Rejected},
    tables::new_table,
};
use crate::{
    access::{Asker, Right},
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
    history::Op,
    id::{FieldId, OptionId, RecordId, TableId},
    import::{Becomes, ColumnPlan, ColumnReader, ImportInto, Plan, Raw, Sheet, Unmatched},
    part::Part,
    schema::{Choice, FieldDef, Hue, Kind, Link, TEXT_LIMIT, TableDef},
    value::{Value, fold},
};
use std::{
    collections::{HashMap, HashSet},
    sync::Arc,
};

/// Most refused cells that are kept for the report.
pub(crate) const REJECTED_LIMIT: usize = 100_000;
/// Most names in a list of what is made.
const SHOWN: usize = 12;

/// A sheet and what is to become of it.
#[derive(Clone, Debug)]
pub struct Import {
    pub plan: Plan,
    pub sheet: Arc<Sheet>,
}

pub(super) struct Imported {
    pub(super) ops: Vec<Op>,
    pub(super) table: TableId,
    rehearsal: ImportRehearsal,
    /// What may not land and is no cell of the file, or comes of records that are not open to the asker.
    pub(super) breaches: Vec<Breach>,
}

impl Dataset {
    /// What an import would do, without doing it.
    ///
    /// # Errors
    /// Why it can't be done at all.
    pub fn rehearse_import(&self, import: &Import, asker: Asker, clock: &crate::Clock) -> Checked<ImportRehearsal> {
        Ok(Decider::new(self, asker, clock).import(import)?.rehearsal)
    }
}

/// What an import does, with how many records are changed and left as they are.
struct Ready {
    ops: Vec<Op>,
    updated: usize,
    same: usize,
}

/// A column on its way into a field.
struct Filling<'p> {
    plan: &'p ColumnPlan,
    field: FieldDef,
    how: How,
}

/// How the cells of a column become values.
enum How {
    Plain,
    /// By the folded names of options.
    Options(HashMap<String, OptionId>),
    /// Whether names that no record has are to be listed.
    Links {
        called: Called,
        one: bool,
        flag: bool,
    },
}

/// Gathers what was refused.
struct Refused<'s> {
    sheet: &'s Sheet,
    list: Vec<Rejected>,
    count: usize,
}

impl Refused<'_> {
    fn add(&mut self, row: usize, column: &str, value: String, why: String) {
        self.count += 1;
        if self.list.len() < REJECTED_LIMIT {
            self.list.push(Rejected { row: self.sheet.line(row), column: column.to_owned(), value, why });
        }
    }
}

impl Decider<'_> {
    pub(super) fn import(&self, import: &Import) -> Checked<Imported> {
        let Import { plan, sheet } = import;
        let rows: Vec<usize> = plan.records(sheet);
        self.check_plan(plan, sheet, &rows)?;
        let mut draft = Draft::new(self.ds);
        let mut making = OnTheWay::default();
        let table = self.target(&mut draft, plan)?;
        let mut fillings = Vec::new();
        for (place, column) in plan.columns.iter().enumerate().filter(|(_, c)| c.becomes != Becomes::Nothing) {
            let filling = self.filling(&mut draft, table, column, sheet, &rows, &mut making);
            fillings.push(filling.map_err(|fault| fault.at(format!("/columns/{place}")))?);
        }
        let mut refused = Refused { sheet, list: Vec::new(), count: 0 };
        let mut columns: Vec<Vec<Value>> = fillings.iter().map(|f| self.values(f, sheet, &rows, &mut refused)).collect();
        let placed = self.place(plan, table, &fillings, &columns, &rows, &mut refused)?;
        let parts = draft_ops(&mut draft, self.ds);
        self.stands_after(&parts)?;
        let begin = self.ds.table(table).map_or(0, |t| t.rows());
        // What the gate does not let through is left out cell by cell, until it lets the rest through.
        let new: Vec<usize> = (0..rows.len()).filter(|row| placed[*row] == Placed::New).collect();
        let known = |(row, placed): (usize, &Placed)| if let Placed::Known(record) = placed { Some((*record, row)) } else { None };
        let known: HashMap<RecordId, usize> = placed.iter().enumerate().filter_map(known).collect();
        let row_of = |record: RecordId| match record.row().checked_sub(begin) {
            Some(at) => new.get(at).copied(),
            None => known.get(&record).copied(),
        };
        let (ready, breaches) = loop {
            let ready = self.ready(&mut draft, table, &fillings, &columns, &placed, &parts, &making)?;
            let breaches = self.breaches(&ready.ops, Landing::Put);
            let mut left = Vec::new();
            let mut taken_out = false;
            for breach in breaches {
                let column = fillings.iter().position(|f| breach.table == table && f.field.id == breach.field);
                let cell = column.zip(row_of(breach.record).filter(|_| breach.table == table && !breach.hidden));
                let Some((column, row)) = cell.filter(|(column, row)| columns[*column][*row] != Value::Empty) else {
                    left.push(breach);
                    continue;
                };
                let filling = &fillings[column];
                refused.add(rows[row], &filling.plan.name, sheet.cell(rows[row], filling.plan.column).words(), breach.fault.message);
                columns[column][row] = Value::Empty;
                taken_out = true;
            }
            if !taken_out {
                break (ready, left);
            }
        };
        let examples = self.examples(&fillings, &columns, &placed, &making);
        let left_out = placed.iter().filter(|p| **p == Placed::Out).count();
        let mut rehearsal = ImportRehearsal {
            title: String::new(),
            says: Vec::new(),
            added: new.len(),
            updated: ready.updated,
            same: ready.same,
            left_out,
            rejected: refused.list,
            rejected_count: refused.count,
            made: making.told,
            examples,
        };
        rehearsal.title = rehearsal.in_words(self.clock.customs());
        rehearsal.says = rehearsal.sentences(self.clock.customs());
        Ok(Imported { ops: ready.ops, table, rehearsal, breaches: breaches.into_iter().map(unseen).collect() })
    }

    /// What is to be done, as far as the cells stand by now.
    #[allow(clippy::too_many_arguments)]
    fn ready(
        &self,
        draft: &mut Draft<'_>,
        table: TableId,
        fillings: &[Filling<'_>],
        columns: &[Vec<Value>],
        placed: &[Placed],
        parts: &[Op],
        making: &OnTheWay,
    ) -> Result<Ready, Fault> {
        let mut numbers = Numbers::default();
        let new: Vec<usize> = (0..placed.len()).filter(|row| placed[*row] == Placed::New).collect();
        let take = |column: &Vec<Value>| new.iter().map(|row| column[*row].clone()).collect::<Vec<_>>();
        let fresh: Vec<(FieldId, Vec<Value>)> = fillings.iter().map(|f| f.field.id).zip(columns.iter().map(take)).collect();
        let rows = |table: TableId| self.ds.table(table).map_or(0, |t| t.rows());
        let own = self.rows_of(&draft.table(table)?.clone(), rows(table), new.len(), fresh, &mut numbers);
        let (updates, updated, same) = self.updates(table, fillings, columns, placed);
        let mut ops = parts.to_vec();
        for (target, by, names) in &making.records {
            let values = names.iter().map(|name| Value::text(name)).collect();
            let def = draft.table(*target)?.clone();
            ops.extend(self.rows_of(&def, rows(*target), names.len(), vec![(*by, values)], &mut numbers));
        }
        ops.extend(own);
        ops.extend(updates);
        Ok(Ready { ops, updated, same })
    }

    fn check_plan(&self, plan: &Plan, sheet: &Sheet, rows: &[usize]) -> Checked<()> {
        let mut faults = Vec::new();
        if plan.columns.iter().all(|c| c.becomes == Becomes::Nothing) {
            faults.push(Fault::new(FaultKind::Missing, "Every column is left out: there is nothing to import."));
        }
        if rows.is_empty() {
            faults.push(Fault::new(FaultKind::Missing, "No row of this sheet becomes a record."));
        }
        let mut taken: HashSet<FieldId> = HashSet::new();
        for (place, column) in plan.columns.iter().enumerate() {
            let at = format!("/columns/{place}");
            let dated = match &column.becomes {
                Becomes::Field { kind } => matches!(kind, Kind::Date | Kind::DateTime | Kind::Range),
                Becomes::Existing { field, .. } => {
                    if !taken.insert(*field) {
                        faults.push(Fault::new(FaultKind::BadRule, "Two columns go into the same field. Leave one of them out.").at(&at));
                    }
                    self.ds.field(*field).is_some_and(|(_, f)| matches!(f.kind, Kind::Date | Kind::DateTime | Kind::Range))
                }
                _ => false,
            };
            if dated && column.dates.is_none() && rows.iter().any(|row| two_ways(sheet.cell(*row, column.column))) {
                let message = format!("In “{}” dates can be read in more than one order: say which part comes first.", column.name);
                faults.push(Fault::new(FaultKind::Missing, message).at(format!("{at}/dates")));
            }
        }
        Faults::none_or(faults)
    }

    /// The table that the rows go into, in the draft.
    fn target(&self, draft: &mut Draft<'_>, plan: &Plan) -> Checked<TableId> {
        let makes_fields = plan.columns.iter().any(|c| !matches!(c.becomes, Becomes::Nothing | Becomes::Existing { .. }));
        match &plan.into {
            ImportInto::New { name, one } => {
                self.may_build()?;
                let any = FieldId::FIRST;
                let id = TableId::FIRST;
                Ok(new_table(draft, TableDef::new(id, name, one, any, Vec::new())))
            }
            ImportInto::Table { table, .. } => {
                if makes_fields {
                    self.may_build()?;
                }
                let home = self.ds.table(*table).filter(|_| self.lens.opens(*table)).ok_or_else(|| Fault::not_found("table"))?;
                if !self.lens.adds(*table) {
                    return Err(Fault::new(
                        FaultKind::NotAllowed,
                        format!("You can’t add {}. Ask the tracker’s steward.", home.def.many()),
                    )
                    .into());
                }
                draft.table(*table)?;
                Ok(*table)
            }
        }
    }

    /// The field that a column goes into, made where it is new; and how its cells are read.
    fn filling<'p>(
        &self,
        draft: &mut Draft<'_>,
        table: TableId,
        plan: &'p ColumnPlan,
        sheet: &Sheet,
        rows: &[usize],
        making: &mut OnTheWay,
    ) -> Result<Filling<'p>, Fault> {
        let words = || rows.iter().map(|row| sheet.cell(*row, plan.column).words()).filter(|w| !w.trim().is_empty());
        let parts = || {
            words()
                .flat_map(|w| super::split(&w, plan.separator.as_deref()).into_iter().map(str::to_owned).collect::<Vec<_>>())
                .collect::<Vec<_>>()
        };
        match &plan.becomes {
            Becomes::Nothing => Err(Fault::not_found("column")),
            Becomes::Field { kind } => {
                let mut field = self.field_of(draft, table, &plan.name, kind.clone())?;
                let how = match &mut field.kind {
                    Kind::Choice { options, .. } | Kind::Choices { options } => {
                        let several = matches!(kind, Kind::Choices { .. });
                        let names = if several { parts() } else { words().collect() };
                        self.make_options(draft, options, &names, &plan.name, making)?
                    }
                    Kind::Link(_) => return Err(Fault::new(FaultKind::BadRule, "Say which table the link leads to.")),
                    _ => How::Plain,
                };
                put_field(draft, table, &field)?;
                Ok(Filling { plan, field, how })
            }
            Becomes::Existing { field, unmatched } => {
                let mut field = draft.table(table)?.field(*field).cloned().ok_or_else(|| Fault::not_found("field"))?;
                if !field.kind.takes_input() || !self.lens.writes(table, field.id) {
                    return Err(Fault::new(FaultKind::ReadOnly, format!("Nothing can be put into “{}”.", field.name)));
                }
                let create = *unmatched == Unmatched::Create;
                let how = match &mut field.kind {
                    Kind::Choice { options, .. } | Kind::Choices { options } if create => {
                        self.may_build()?;
                        let how = self.make_options(draft, options, &parts(), &plan.name, making)?;
                        put_field(draft, table, &field)?;
                        how
                    }
                    Kind::Choice { options, .. } | Kind::Choices { options } => How::Options(by_name(options)),
                    Kind::Link(link) => {
                        let by = draft.table(link.to)?.standing;
                        self.linking(draft, (link.to, by, link.one), *unmatched, parts(), making)?
                    }
                    Kind::Files => return Err(Fault::new(FaultKind::BadRule, "Files can’t come out of a sheet.")),
                    _ => How::Plain,
                };
                Ok(Filling { plan, field, how })
            }
            Becomes::Link { to, by, one, back, unmatched } => {
                self.ds.table(*to).filter(|_| self.lens.opens(*to)).ok_or_else(|| Fault::not_found("table"))?;
                let how = self.linking(draft, (*to, *by, *one), *unmatched, parts(), making)?;
                let field = self.link_of(draft, table, &plan.name, *to, *one, false, back)?;
                Ok(Filling { plan, field, how })
            }
            Becomes::Table { name, one, single } => {
                self.may_build()?;
                let first = FieldId::FIRST;
                let id = TableId::FIRST;
                let naming = FieldDef { required: true, ..FieldDef::new(first, "Name", Kind::Text { limit: TEXT_LIMIT }) };
                let own = new_table(draft, TableDef::new(id, name, one, first, vec![naming]));
                let by = draft.table(own)?.standing;
                let how = self.linking(draft, (own, by, *single), Unmatched::Create, parts(), making)?;
                let field = self.link_of(draft, table, &plan.name, own, *single, false, "")?;
                Ok(Filling { plan, field, how })
            }
        }
    }

    /// A new field at the end of its table.
    fn field_of(&self, draft: &mut Draft<'_>, table: TableId, name: &str, kind: Kind) -> Result<FieldDef, Fault> {
        let id = draft.field_id();
        let def = draft.table(table)?;
        let name = free_name(def, name.trim());
        let mut field = FieldDef::new(id, &name, kind);
        draft.number_options(&mut field, None);
        let def = draft.table(table)?;
        let at = def.fields.iter().position(|f| f.kind.is_kept_by_us()).unwrap_or(def.fields.len());
        def.fields.insert(at, field.clone());
        if def.field(def.standing).is_none() || def.fields.len() == 5 {
            def.standing = TableDef::standing_among(&def.fields).unwrap_or(def.standing);
        }
        Ok(field)
    }

    #[allow(clippy::too_many_arguments)]
    fn link_of(
        &self,
        draft: &mut Draft<'_>,
        table: TableId,
        name: &str,
        to: TableId,
        one: bool,
        back_one: bool,
        back: &str,
    ) -> Result<FieldDef, Fault> {
        let back_id = draft.field_id();
        let field = self.field_of(draft, table, name, Kind::Link(Link { to, back: back_id, one, holds: true }))?;
        let own_name = draft.table(table)?.name.clone();
        let target = draft.table(to)?;
        let back = free_name(target, if back.trim().is_empty() { &own_name } else { back.trim() });
        let kind = Kind::Link(Link { to: table, back: field.id, one: back_one, holds: false });
        let at = target.fields.iter().position(|f| f.kind.is_kept_by_us()).unwrap_or(target.fields.len());
        target.fields.insert(at, FieldDef::new(back_id, &back, kind));
        Ok(field)
    }

    fn make_options(
        &self,
        draft: &mut Draft<'_>,
        options: &mut Vec<Choice>,
        names: &[String],
        column: &str,
        making: &mut OnTheWay,
    ) -> Result<How, Fault> {
        let made = missing(names.iter().map(String::as_str), options)?;
        making.tell(format!("{} of “{column}”", if made.len() == 1 { "option" } else { "options" }), &made);
        for name in made {
            let id = OptionId::new(draft.number()).ok_or_else(|| Fault::not_found("option"))?;
            options.push(Choice { id, name, hue: Hue::nth(options.len()), under: None });
        }
        Ok(How::Options(by_name(options)))
    }

    /// Records by name; those that are not there are made where that is wanted.
    fn linking(
        &self,
        draft: &mut Draft<'_>,
        (to, by, one): (TableId, FieldId, bool),
        unmatched: Unmatched,
        names: Vec<String>,
        making: &mut OnTheWay,
    ) -> Result<How, Fault> {
        let mut called = Called::new(&self.lens, to, by);
        if unmatched == Unmatched::Create {
            let target = draft.table(to)?;
            let takes = target.field(by).is_some_and(|f| f.kind.takes_input());
            if !takes || (self.ds.table(to).is_some() && !self.lens.adds(to)) {
                return Err(Fault::new(FaultKind::NotAllowed, format!("No {} can be made on the way.", target.many())));
            }
            let place = format!("in “{}”", target.name);
            let begin = self.ds.table(to).map_or(0, |t| t.rows());
            let known = making.records.iter().position(|(table, ..)| *table == to);
            let at = known.unwrap_or_else(|| {
                making.records.push((to, by, Vec::new()));
                making.records.len() - 1
            });
            let mut made = Vec::new();
            for (place, name) in making.records[at].2.iter().enumerate() {
                called.add(name, RecordId::at_row(begin + place));
            }
            for name in names.into_iter().filter(|n| n.chars().count() <= TEXT_LIMIT) {
                if called.find(&name).is_none() {
                    called.add(&name, RecordId::at_row(begin + making.records[at].2.len()));
                    making.records[at].2.push(name.clone());
                    made.push(name);
                }
            }
            making.tell(format!("{} {place}", if made.len() == 1 { "record" } else { "records" }), &made);
        }
        Ok(How::Links { called, one, flag: unmatched == Unmatched::Flag })
    }

    /// The values of a column, row by row; nothing where one does not fit.
    fn values(&self, filling: &Filling<'_>, sheet: &Sheet, rows: &[usize], refused: &mut Refused<'_>) -> Vec<Value> {
        let plan = filling.plan;
        let reader = ColumnReader::new(plan, self.ds.tracker.locale, &self.ds.people, self.clock);
        let mut values = Vec::with_capacity(rows.len());
        for row in rows {
            let raw = sheet.cell(*row, plan.column);
            let value = if raw.is_empty() { Ok(Value::Empty) } else { self.value(filling, &reader, raw) };
            values.push(value.unwrap_or_else(|why| {
                if !why.is_empty() {
                    refused.add(*row, &plan.name, raw.words(), why);
                }
                Value::Empty
            }));
        }
        values
    }

    /// One value; an empty reason where it is left out without a word.
    fn value(&self, filling: &Filling<'_>, reader: &ColumnReader<'_>, raw: &Raw) -> Result<Value, String> {
        match &filling.how {
            How::Plain => {
                let value = reader.value(raw, &filling.field.kind).map_err(|f| f.message)?;
                self.checked(value.tidy(), Before::NOTHING, &filling.field, false).map_err(|f| f.message)
            }
            How::Options(options) => {
                let several = matches!(filling.field.kind, Kind::Choices { .. });
                let words = raw.words();
                // An option may hold what parts options elsewhere.
                let whole = options.contains_key(&*fold(words.trim()));
                let parted = several && !whole;
                let names = super::split(&words, filling.plan.separator.as_deref().filter(|_| parted).or(parted.then_some(",")));
                let mut list: Vec<OptionId> = Vec::new();
                for name in names {
                    let option = options.get(&*fold(name)).ok_or_else(|| format!("“{name}” is not one of the options."))?;
                    if !list.contains(option) {
                        list.push(*option);
                    }
                }
                Ok(match (several, list.first()) {
                    (true, _) => Value::Choices(list).tidy(),
                    (false, Some(option)) => Value::Choice(*option),
                    (false, None) => Value::Empty,
                })
            }
            How::Links { called, one, flag } => {
                let words = raw.words();
                let mut links: Vec<RecordId> = Vec::new();
                for name in super::split(&words, filling.plan.separator.as_deref().filter(|_| !one)) {
                    match called.find(name) {
                        Some(Some(record)) if !links.contains(&record) => links.push(record),
                        Some(Some(_)) => {}
                        Some(None) => return Err(format!("More than one record is called “{name}”.")),
                        None if *flag => return Err(format!("No record is called “{name}”.")),
                        None => {}
                    }
                }
                Ok(Value::Links(links).tidy())
            }
        }
    }

    /// Which rows are new, which change a record that is there, and which can't be taken.
    fn place(
        &self,
        plan: &Plan,
        table: TableId,
        fillings: &[Filling<'_>],
        columns: &[Vec<Value>],
        rows: &[usize],
        refused: &mut Refused<'_>,
    ) -> Checked<Vec<Placed>> {
        let ImportInto::Table { key: Some(key), .. } = &plan.into else { return Ok(vec![Placed::New; rows.len()]) };
        let at = fillings.iter().position(|f| f.field.id == *key);
        let at = at.ok_or_else(|| {
            Fault::new(FaultKind::Missing, "No column goes into the field by which rows are known.").at("/into/table/key")
        })?;
        let home = self.ds.table(table).ok_or_else(|| Fault::not_found("table"))?;
        let column = home.column(*key);
        let mut known: HashMap<String, Option<RecordId>> = HashMap::new();
        // Records out of sight are as if they were not there: nothing is to be learnt of them by guessing.
        for record in home.records().filter(|r| self.lens.sees(table, *r)) {
            let value = column.map_or(Value::Empty, |c| c.cell(record.row()).to_value());
            if value != Value::Empty {
                known.entry(once_key(&value)).and_modify(|r| *r = None).or_insert(Some(record));
            }
        }
        let mut used: HashSet<String> = HashSet::new();
        let place = |(place, row): (usize, &usize)| {
            let value = &columns[at][place];
            let words = || value_words(value);
            let mut out = |why: &str| {
                refused.add(*row, "", words(), why.to_owned());
                Placed::Out
            };
            if *value == Value::Empty {
                return out("The row does not say which record it is.");
            }
            if !used.insert(once_key(value)) {
                return out("An earlier row of the file is about the same record.");
            }
            match known.get(&once_key(value)) {
                None => Placed::New,
                Some(None) => out("More than one record is known by this."),
                Some(Some(record)) if self.must(Right::Change, table, *record).is_err() => out("This record is not open to you to change."),
                Some(Some(record)) => Placed::Known(*record),
            }
        };
        Ok(rows.iter().enumerate().map(place).collect())
    }

    /// What rows change in records that are there. An empty cell says nothing.
    fn updates(&self, table: TableId, fillings: &[Filling<'_>], columns: &[Vec<Value>], placed: &[Placed]) -> (Vec<Op>, usize, usize) {
        let Some(home) = self.ds.table(table) else { return (Vec::new(), 0, 0) };
        let mut changed: HashSet<RecordId> = HashSet::new();
        let mut ops = Vec::new();
        for (filling, column) in fillings.iter().zip(columns) {
            let field = filling.field.id;
            let now = home.column(field);
            let cells: Vec<_> = placed
                .iter()
                .zip(column)
                .filter_map(|(placed, after)| {
                    let Placed::Known(record) = placed else { return None };
                    let before = now.map_or(Value::Empty, |c| c.cell(record.row()).to_value());
                    (*after != Value::Empty && *after != before).then(|| (*record, before, after.clone()))
                })
                .collect();
            changed.extend(cells.iter().map(|(record, ..)| *record));
            if !cells.is_empty() {
                ops.push(Op::Fill { table, field, cells });
            }
        }
        let known = placed.iter().filter(|p| matches!(p, Placed::Known(_))).count();
        (ops, changed.len(), known - changed.len())
    }

    fn examples(&self, fillings: &[Filling<'_>], columns: &[Vec<Value>], placed: &[Placed], making: &OnTheWay) -> Vec<Vec<String>> {
        let rows = (0..placed.len()).filter(|row| placed[*row] != Placed::Out).take(8);
        let text = |filling: &Filling<'_>, value: &Value| match (&filling.field.kind, value) {
            (Kind::Link(link), Value::Links(records)) => {
                let begin = self.ds.table(link.to).map_or(0, |t| t.rows());
                let made = making.records.iter().find(|(table, ..)| *table == link.to).map_or(&[][..], |(_, _, names)| names);
                let name = |r: &RecordId| match r.row().checked_sub(begin).and_then(|at| made.get(at)) {
                    Some(name) => name.clone(),
                    None => self.lens.record_name(link.to, *r).map(|n| n.name).unwrap_or_default(),
                };
                records.iter().map(name).collect::<Vec<_>>().join(", ")
            }
            (kind, value) => self.lens.whole().text_as(kind, value.as_cell(), false),
        };
        rows.map(|row| fillings.iter().zip(columns).map(|(f, column)| text(f, &column[row])).collect()).collect()
    }
}

/// Where a row goes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Placed {
    New,
    Known(RecordId),
    Out,
}

/// What is made on the way: records of other tables, and what is told of them.
#[derive(Default)]
struct OnTheWay {
    records: Vec<(TableId, FieldId, Vec<String>)>,
    told: Vec<Making>,
}

impl OnTheWay {
    fn tell(&mut self, what: String, names: &[String]) {
        if !names.is_empty() {
            self.told.push(Making { what, count: names.len(), names: names.iter().take(SHOWN).cloned().collect() });
        }
    }
}

fn by_name(options: &[Choice]) -> HashMap<String, OptionId> {
    options.iter().map(|o| (fold(&o.name).into_owned(), o.id)).collect()
}

/// The draft's operations, with the view of a new table showing the fields that the import gave it.
fn draft_ops(draft: &mut Draft<'_>, ds: &Dataset) -> Vec<Op> {
    let ops = draft.ops();
    let shown = |part: &mut Part| {
        let Part::View(view) = part else { return };
        if ds.table(view.table).is_some() {
            return;
        }
        let fields = draft.peek(view.table).map(|t| &t.fields[..]).unwrap_or_default();
        let of = |f: &FieldDef| crate::view::ShownField { field: f.id, width: f.kind.usual_width() };
        view.query.fields = fields.iter().filter(|f| !f.kind.is_kept_by_us()).map(of).collect();
    };
    ops.into_iter()
        .map(|mut op| {
            if let Op::Put { after: Some(part), .. } = &mut op {
                shown(part);
            }
            op
        })
        .collect()
}

fn put_field(draft: &mut Draft<'_>, table: TableId, field: &FieldDef) -> Result<(), Fault> {
    let def = draft.table(table)?;
    match def.fields.iter_mut().find(|f| f.id == field.id) {
        Some(known) => *known = field.clone(),
        None => def.fields.push(field.clone()),
    }
    Ok(())
}

/// Of a record that the asker may not see, nothing is said but that something is in the way: not which row met it.
fn unseen(breach: Breach) -> Breach {
    if !breach.hidden {
        return breach;
    }
    let message = "Some values of this file stand already in records that are not open to you, in a field that holds each value once. Leave that column out, or ask the tracker’s steward.";
    Breach { fault: Fault::new(FaultKind::BadRule, message), ..breach }
}

fn value_words(value: &Value) -> String {
    match value {
        Value::Text(text) => text.to_string(),
        Value::Number(number) => number.to_string(),
        Value::Date(date) => date.to_string(),
        _ => String::new(),
    }
}

/// Whether a date in numbers could be read with the day first and with the month first.
fn two_ways(raw: &Raw) -> bool {
    matches!(raw, Raw::Text(text) if crate::import::is_in_numbers(text))
}
