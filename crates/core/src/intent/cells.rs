//! Checking one new value of one cell.

use super::Decider;
use crate::{
    Clock,
    access::{Asker, Right},
    checks::check_mail,
    dataset::{Dataset, Table},
    fault::{Clash, Fault, FaultKind},
    history::Op,
    id::{FieldId, OptionId, PersonId, RecordId, TableId},
    schema::{Choice, FieldDef, Kind, LIST_LIMIT, LONG_TEXT_LIMIT, Link, TEXT_LIMIT},
    value::Input,
    value::{Attachment, Cell, Item, NUMBER_LIMIT, Value, check_place, check_web, currency_decimals, parse},
};
use rust_decimal::Decimal;

impl Dataset {
    /// What a typed text is in a field.
    ///
    /// # Errors
    /// Why it does not fit, or that there is no such field for the asker.
    pub fn read_typed(&self, asker: Asker, table: TableId, field: FieldId, text: &str, clock: &Clock) -> Result<Value, Fault> {
        let decider = Decider::new(self, asker, clock);
        let def = self.table(table).and_then(|t| t.def.field(field)).filter(|f| decider.lens.reads(table, f.id));
        let def = def.ok_or_else(|| Fault::not_found("field"))?;
        let value = parse(text, &def.kind, clock.typed(self.tracker.locale), &self.people, clock)?;
        decider.checked(value, Before::NOTHING, def, false)
    }
}

/// Longest title of an address among files, in characters.
const TITLE_LIMIT: usize = 200;

impl Decider<'_> {
    /// The operations that put a value into a cell: none where it stands there already.
    pub(super) fn cell(
        &self,
        table: TableId,
        record: RecordId,
        field: FieldId,
        input: &Input,
        was: Option<&Value>,
        fresh: bool,
    ) -> Result<Vec<Op>, Fault> {
        let unknown = || Fault::not_found("field");
        let home = self.ds.table(table).ok_or_else(unknown)?;
        let def = home.def.field(field).ok_or_else(unknown)?;
        // Whoever answers a form writes the fields it asks, whatever else they may see.
        if !matches!(self.asker, Asker::Form(_)) {
            if !(if fresh { self.lens.reads(table, field) } else { self.lens.shows(table, record, field) }) {
                return Err(unknown());
            }
            let may = if fresh { self.lens.adds_with(table, field) } else { self.lens.changes(table, record, field) };
            if def.kind.takes_input() && !may {
                return Err(Fault::new(FaultKind::NotAllowed, format!("You can look at “{}” but not change it.", def.name)));
            }
        }
        if !def.kind.takes_input() {
            return Err(Fault::new(FaultKind::ReadOnly, format!("Westerfall fills in “{}” by itself.", def.name)));
        }
        let before = home.column(field).map_or(Value::Empty, |c| c.cell(record.row()).to_value());
        let wanted = match input {
            Input::Text(text) if self.is_visitor() && def.kind.is_people() => self.people_written(def, text).0,
            Input::Value(value) if self.is_visitor() => self.of_visitor(value.clone().tidy(), &before)?,
            Input::Text(text) => parse(text, &def.kind, self.clock.typed(self.ds.tracker.locale), &self.ds.people, self.clock)?,
            Input::Value(value) => value.clone().tidy(),
            Input::Again => self.source_of(home, def, record),
            Input::Upload(files) => beside(&before, files),
            Input::Files(files) => Value::Files(files.clone().into()).tidy(),
        };
        let there = Before { table: Some(table), record: (!fresh).then_some(record), value: &before };
        let after = self.checked(wanted, there, def, matches!(input, Input::Upload(_) | Input::Files(_)))?;
        self.clash(table, record, field, &before, &after, was)?;
        if after == before {
            return Ok(Vec::new());
        }
        match def.kind {
            Kind::Link(link) if !link.holds => self.link_from_the_other_side(link, record, &before, &after),
            _ => Ok(vec![Op::Cell { table, record, field, before, after }]),
        }
    }

    /// What stands now where a copied value came from.
    fn source_of(&self, home: &Table, def: &FieldDef, record: RecordId) -> Value {
        let Some(copies) = def.copies else { return Value::Empty };
        let links = home.column(copies.link).map_or(Value::Empty, |c| c.cell(record.row()).to_value());
        self.copy_of(&home.def, copies, &links)
    }

    fn is_visitor(&self) -> bool {
        matches!(self.asker, Asker::Visitor { .. })
    }

    /// What a visitor picked. People of the team are nobody's to try by their numbers: they are named.
    fn of_visitor(&self, value: Value, before: &Value) -> Result<Value, Fault> {
        let known: &[Item] = if let Value::Checklist(items) = before { items } else { &[] };
        let picks = match &value {
            Value::Person(_) | Value::People(_) => true,
            Value::Checklist(items) => {
                items.iter().any(|item| item.person.is_some() && !known.iter().any(|other| other.person == item.person))
            }
            _ => false,
        };
        if picks { Err(Fault::new(FaultKind::WrongKind, "Write the name of whoever you mean.")) } else { Ok(value) }
    }

    fn check_people(&self, people: &[PersonId]) -> Result<(), Fault> {
        if people.iter().all(|p| self.ds.people.get(*p).is_some()) {
            return Ok(());
        }
        Err(Fault::new(FaultKind::WrongKind, "There is no such person in the team."))
    }

    fn check_items(&self, items: &[Item], def: &FieldDef) -> Result<(), Fault> {
        if items.len() > LIST_LIMIT {
            return Err(Fault::new(FaultKind::TooLong, format!("“{}” takes at most {LIST_LIMIT} items.", def.name)));
        }
        items.iter().try_for_each(|item| {
            within(&item.text, TEXT_LIMIT, def)?;
            self.check_people(item.person.as_slice())
        })
    }

    fn clash(
        &self,
        table: TableId,
        record: RecordId,
        field: FieldId,
        now: &Value,
        wanted: &Value,
        was: Option<&Value>,
    ) -> Result<(), Fault> {
        let seen_now = if self.lens.released(table, field).holds(record.row()) { now.clone() } else { self.seen(table, field, now) };
        match was {
            Some(was) if was.clone().tidy() != seen_now && *wanted != *now => {
                let theirs_text = self.lens.cell_text(table, field, seen_now.as_cell());
                let shown = if theirs_text.is_empty() { "nothing".to_owned() } else { format!("“{theirs_text}”") };
                let second = |at: jiff::Timestamp| at.to_zoned(self.clock.told.clone()).strftime("%H:%M:%S").to_string();
                let last = self.lens.meta(table, record).map_or_else(String::new, |meta| {
                    format!(" The record was last changed at {}; it is {} now.", second(meta.changed_at), second(self.clock.now))
                });
                let message = format!("Somebody changed this meanwhile: it now says {shown}.{last} Keep theirs, or put yours in again.");
                let clash = Clash { yours: wanted.clone(), theirs: seen_now, theirs_text };
                Err(Fault { clash: Some(Box::new(clash)), ..Fault::new(FaultKind::Clash, message) })
            }
            _ => Ok(()),
        }
    }

    /// A value with the linked records that the asker may not see left out.
    pub(super) fn seen(&self, table: TableId, field: FieldId, value: &Value) -> Value {
        let link = self.ds.table(table).and_then(|t| t.link(field));
        match (link, value) {
            (Some(link), Value::Links(records)) => {
                Value::Links(records.iter().copied().filter(|r| self.lens.sees(link.to, *r)).collect()).tidy()
            }
            _ => value.clone(),
        }
    }

    /// The value, if it is of the field's kind and within its limits.
    pub(super) fn checked(&self, value: Value, before: Before<'_>, def: &FieldDef, uploaded: bool) -> Result<Value, Fault> {
        let wrong =
            || Err(Fault::new(FaultKind::WrongKind, format!("“{}” is a {} field: this value does not fit it.", def.name, def.kind.name())));
        match (&def.kind, &value) {
            // An emptied list still keeps the records that the asker can't see.
            (Kind::Link(link), Value::Empty) => self.checked_links(*link, &[], before, def),
            (_, Value::Empty) => Ok(Value::Empty),
            (Kind::Text { limit }, Value::Text(text)) => within(text, *limit, def).map(|()| value),
            (Kind::LongText, Value::Text(text)) => within(text, LONG_TEXT_LIMIT, def).map(|()| value),
            (Kind::Email, Value::Text(text)) => check_mail(text).map(|()| value),
            (Kind::Phone, Value::Text(text)) => parse(text, &def.kind, self.ds.tracker.locale, &self.ds.people, self.clock),
            (Kind::Number { .. } | Kind::Percent { .. } | Kind::Duration, Value::Number(number)) => {
                check_size(*number, def).map(|()| value)
            }
            (Kind::Date, Value::Date(_)) | (Kind::DateTime, Value::Instant(_)) | (Kind::YesNo, Value::Logical(_)) => Ok(value),
            (Kind::Money { currency }, Value::Number(amount)) => {
                check_size(*amount, def).and_then(|()| check_amount(*amount, currency)).map(|()| value)
            }
            (Kind::Rating { most }, Value::Number(rating)) => check_rating(*rating, *most, def).map(|()| value),
            (Kind::Range, Value::Range(start, end)) if start <= end => Ok(value),
            (Kind::Choice { options, .. }, Value::Choice(option)) => check_options(&[*option], options, def).map(|()| value),
            (Kind::Choices { options }, Value::Choices(chosen)) => {
                check_options(chosen, options, def).map(|()| Value::Choices(once(chosen)))
            }
            (Kind::Person, Value::Person(person)) => self.check_people(&[*person]).map(|()| value),
            (Kind::People, Value::People(people)) => self.check_people(people).map(|()| Value::People(once(people))),
            (Kind::Web, Value::Web(web)) => check_web(&web.address).and_then(|()| within(&web.title, TEXT_LIMIT, def)).map(|()| value),
            (Kind::Place, Value::Place(place)) => check_place(place).and_then(|()| within(&place.label, TEXT_LIMIT, def)).map(|()| value),
            (Kind::Checklist, Value::Checklist(items)) => self.check_items(items, def).map(|()| value),
            (Kind::Json, Value::Json(json)) => within(&json.to_string(), LONG_TEXT_LIMIT, def).map(|()| value),
            (Kind::Link(link), Value::Links(records)) => self.checked_links(*link, records, before, def),
            (Kind::Files, Value::Files(files)) => check_files(files, before.value, uploaded, def).map(|()| value),
            (
                Kind::Text { .. }
                | Kind::LongText
                | Kind::Number { .. }
                | Kind::Money { .. }
                | Kind::Percent { .. }
                | Kind::Rating { .. }
                | Kind::YesNo
                | Kind::Date
                | Kind::DateTime
                | Kind::Range
                | Kind::Duration
                | Kind::Choice { .. }
                | Kind::Choices { .. }
                | Kind::Person
                | Kind::People
                | Kind::Link(_)
                | Kind::Email
                | Kind::Phone
                | Kind::Web
                | Kind::Place
                | Kind::Files
                | Kind::Checklist
                | Kind::Numbering { .. }
                | Kind::CreatedAt
                | Kind::CreatedBy
                | Kind::ChangedAt
                | Kind::ChangedBy
                | Kind::Id
                | Kind::Carried { .. }
                | Kind::Summary(_)
                | Kind::Calculation { .. }
                | Kind::Button { .. }
                | Kind::Json,
                _,
            ) => wrong(),
        }
    }

    /// The linked records wanted, and after them those already linked that the asker can't see and so can't have meant to drop.
    fn checked_links(&self, link: Link, records: &[RecordId], before: Before<'_>, def: &FieldDef) -> Result<Value, Fault> {
        // Whoever is given what a link shows is given the names in it.
        let named = |r: RecordId| match before {
            Before { table: Some(table), record: Some(record), value: Value::Links(old) } => {
                old.contains(&r) && self.lens.released(table, def.id).holds(record.row())
            }
            _ => false,
        };
        let offered = |r: RecordId| before.table.is_some_and(|table| self.lens.page_offers(table, def, before.record, r));
        let there = |r: RecordId| match self.asker {
            Asker::Form(_) => self.ds.table(link.to).is_some_and(|t| t.is_live(r)),
            Asker::Person(_) | Asker::StandingIn { .. } | Asker::Visitor { .. } | Asker::Automation(_) | Asker::Westerfall => {
                self.lens.sees(link.to, r) || named(r) || offered(r)
            }
        };
        if !records.iter().all(|r| there(*r)) {
            return Err(Fault::not_found("record to link"));
        }
        if link.one && records.len() > 1 {
            return Err(Fault::new(FaultKind::TooLong, format!("“{}” links to one record only.", def.name)));
        }
        let mut list: Vec<RecordId> = Vec::new();
        for record in records {
            if !list.contains(record) {
                list.push(*record);
            }
        }
        if let (Value::Links(old), false) = (before.value, link.one) {
            let unseen: Vec<RecordId> = old.iter().copied().filter(|r| !there(*r) && !list.contains(r)).collect();
            list.extend(unseen);
        }
        if list.len() > LIST_LIMIT {
            return Err(Fault::new(FaultKind::TooLong, format!("“{}” links to at most {LIST_LIMIT} records.", def.name)));
        }
        Ok(Value::Links(list).tidy())
    }

    /// A link edited on its computed side changes the records that hold it, so it needs the right to change those.
    fn link_from_the_other_side(&self, link: Link, record: RecordId, before: &Value, after: &Value) -> Result<Vec<Op>, Fault> {
        let list = |v: &Value| if let Value::Links(l) = v { l.clone() } else { Vec::new() };
        let (old, new) = (list(before), list(after));
        let home = self.ds.table(link.to).ok_or_else(|| Fault::not_found("table"))?;
        let one = home.link(link.back).is_some_and(|l| l.one);
        let dropped = old.iter().filter(|r| !new.contains(r)).map(|r| (*r, false));
        let gained = new.iter().filter(|r| !old.contains(r)).map(|r| (*r, true));
        let mut ops = Vec::new();
        for (holder, linked) in dropped.chain(gained) {
            self.must(Right::Change, link.to, holder)?;
            if !self.lens.changes(link.to, holder, link.back) {
                return Err(Fault::new(FaultKind::NotAllowed, "You can’t change this link: its other side is not open to you."));
            }
            ops.push(holding(home, holder, link, record, linked, one));
        }
        Ok(ops)
    }
}

/// What a cell holds before something is put in.
#[derive(Clone, Copy)]
pub(super) struct Before<'a> {
    /// Of what is in no table yet, none.
    table: Option<TableId>,
    /// Of a new record, none.
    record: Option<RecordId>,
    value: &'a Value,
}

impl Before<'static> {
    pub(super) const NOTHING: Self = Self { table: None, record: None, value: &Value::Empty };
}

/// A list with each member once, in the order of their first standing.
fn once<T: Copy + PartialEq>(list: &[T]) -> Vec<T> {
    let mut seen: Vec<T> = Vec::new();
    for item in list {
        if !seen.contains(item) {
            seen.push(*item);
        }
    }
    seen
}

fn check_options(chosen: &[OptionId], options: &[Choice], def: &FieldDef) -> Result<(), Fault> {
    if chosen.iter().all(|c| options.iter().any(|o| o.id == *c)) {
        return Ok(());
    }
    Err(Fault::new(FaultKind::UnknownOption, format!("“{}” has no such option any more. Choose another.", def.name)))
}

fn check_amount(amount: Decimal, currency: &str) -> Result<(), Fault> {
    let decimals = currency_decimals(currency);
    if amount.normalize().scale() <= decimals {
        return Ok(());
    }
    Err(Fault::new(FaultKind::WrongKind, format!("An amount in {currency} has at most {decimals} decimals.")))
}

fn check_size(number: Decimal, def: &FieldDef) -> Result<(), Fault> {
    if number.abs() < NUMBER_LIMIT {
        return Ok(());
    }
    Err(Fault::new(FaultKind::WrongKind, format!("“{}” takes numbers of at most 24 digits before the point.", def.name)))
}

fn check_rating(rating: Decimal, most: u8, def: &FieldDef) -> Result<(), Fault> {
    if rating.fract().is_zero() && rating >= Decimal::ONE && rating <= Decimal::from(most) {
        return Ok(());
    }
    Err(Fault::new(FaultKind::WrongKind, format!("“{}” goes from 1 to {most}, in whole numbers.", def.name)))
}

fn holding(home: &Table, holder: RecordId, link: Link, record: RecordId, linked: bool, one: bool) -> Op {
    let before = home.column(link.back).map_or(Cell::Empty, |c| c.cell(holder.row())).to_value();
    let mut list = if let (Value::Links(l), false) = (&before, one && linked) { l.clone() } else { Vec::new() };
    list.retain(|r| *r != record);
    if linked {
        list.push(record);
    }
    Op::Cell { table: link.to, record: holder, field: link.back, before, after: Value::Links(list).tidy() }
}

fn beside(before: &Value, files: &[Attachment]) -> Value {
    let old: &[Attachment] = if let Value::Files(old) = before { old } else { &[] };
    Value::Files(old.iter().chain(files).cloned().collect()).tidy()
}

fn within(text: &str, limit: usize, def: &FieldDef) -> Result<(), Fault> {
    let length = text.chars().count();
    if length <= limit {
        return Ok(());
    }
    Err(Fault::new(FaultKind::TooLong, format!("“{}” takes at most {limit} characters; this has {length}.", def.name)))
}

/// A list of files may only lose files, unless they were uploaded with it: an id can't be made up. Addresses may stand among them.
fn check_files(files: &[Attachment], before: &Value, uploaded: bool, def: &FieldDef) -> Result<(), Fault> {
    let old: &[Attachment] = if let Value::Files(old) = before { old } else { &[] };
    if files.len() > LIST_LIMIT {
        return Err(Fault::new(FaultKind::TooLong, format!("“{}” takes at most {LIST_LIMIT} files.", def.name)));
    }
    // What was uploaded came in whole; an address that comes along is only an address.
    let added = files.iter().filter(|file| !old.contains(file) && (!uploaded || file.is_address()));
    added.into_iter().try_for_each(|file| {
        if !file.is_address() || file.size > 0 {
            return Err(Fault::not_found("file"));
        }
        within(&file.name, TITLE_LIMIT, def)?;
        check_web(&file.id)
    })
}
