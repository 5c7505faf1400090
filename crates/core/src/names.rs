//! References, once. What a part names, and how it holds it, is said by each part in one walk; what uses a field, removing,
//! merging options, packing and renaming people follow from it.

use crate::{
    access::{FieldRight, Reach, Role, TableRights},
    automation::{Automation, Occasion, Recipient, Step},
    condition::{Check, Condition, Test, Who},
    form::{Following, Form, Lines, Question},
    formula::{Expr, Formula, Node},
    history::Part,
    id::{AutomationId, FieldId, FormId, OptionId, PersonId, RecordId, TableId},
    schema::{FieldDef, Kind, Preset, TableDef},
    template::{Piece, Template},
    value::Value,
    view::{Query, View},
};
use std::collections::{BTreeMap, BTreeSet};

/// Something that a part names.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Name {
    Table(TableId),
    Field(FieldId),
    Option(OptionId),
    /// A record of the table to which a link leads.
    Record {
        by: FieldId,
        record: RecordId,
    },
    Person(PersonId),
    Form(FormId),
    Automation(AutomationId),
}

/// How a part holds what it names, in words that stand after its own name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Hold {
    /// It can't do without.
    Needs(&'static str),
    /// Taken away, it is left out here.
    Shows(&'static str),
}

/// Gives what stands for a name from here on; nothing: it is taken out.
pub type See<'s> = dyn FnMut(Name, Hold) -> Option<Name> + 's;

/// What names parts, records or people.
pub trait Names: Clone {
    /// Shows every name in it, and puts in its place what is given for it.
    fn each(&mut self, see: &mut See<'_>);

    /// Shows every name in it.
    fn names(&self, see: &mut dyn FnMut(Name, Hold)) {
        self.clone().each(&mut |name, hold| {
            see(name, hold);
            Some(name)
        });
    }

    /// The same without some names.
    #[must_use]
    fn without(&self, gone: &dyn Fn(Name) -> bool) -> Self {
        let mut rest = self.clone();
        rest.each(&mut |name, _| Some(name).filter(|name| !gone(*name)));
        rest
    }
}

/// One name in its place; whether it still stands.
fn field(id: &mut FieldId, hold: Hold, see: &mut See<'_>) -> bool {
    match see(Name::Field(*id), hold) {
        Some(Name::Field(other)) => {
            *id = other;
            true
        }
        _ => false,
    }
}

fn option(id: &mut OptionId, hold: Hold, see: &mut See<'_>) -> bool {
    match see(Name::Option(*id), hold) {
        Some(Name::Option(other)) => {
            *id = other;
            true
        }
        _ => false,
    }
}

fn person(id: &mut PersonId, hold: Hold, see: &mut See<'_>) -> bool {
    match see(Name::Person(*id), hold) {
        Some(Name::Person(other)) => {
            *id = other;
            true
        }
        _ => false,
    }
}

fn record(by: FieldId, id: &mut RecordId, hold: Hold, see: &mut See<'_>) -> bool {
    match see(Name::Record { by, record: *id }, hold) {
        Some(Name::Record { record, .. }) => {
            *id = record;
            true
        }
        _ => false,
    }
}

/// One that may be there.
fn maybe(id: &mut Option<FieldId>, hold: Hold, see: &mut See<'_>) {
    *id = id.and_then(|mut inner| field(&mut inner, hold, see).then_some(inner));
}

/// Whether all of a path still stands.
fn path(fields: &mut [FieldId], hold: Hold, see: &mut See<'_>) -> bool {
    let mut whole = true;
    for id in fields {
        whole &= field(id, hold, see);
    }
    whole
}

/// A list with what was taken out left out, and each once: two may have become one.
fn kept<T: Copy + PartialEq>(list: &mut Vec<T>, mut keeps: impl FnMut(&mut T) -> bool) {
    let mut rest: Vec<T> = Vec::with_capacity(list.len());
    for mut item in list.drain(..) {
        if keeps(&mut item) && !rest.contains(&item) {
            rest.push(item);
        }
    }
    *list = rest;
}

/// A condition in its place: tests that name what was taken out go. How it holds what it names is said by what it is of.
pub(crate) fn condition(of: &mut Condition, hold: Hold, see: &mut See<'_>) {
    if !part_of_condition(of, hold, see) {
        *of = Condition::default();
    }
}

fn part_of_condition(part: &mut Condition, hold: Hold, see: &mut See<'_>) -> bool {
    match part {
        Condition::Test(one) => {
            if test(one, hold, see) {
                return true;
            }
            // What must hold of somebody or something that is gone never holds: a rule that decides must not widen by it.
            // That something is not what is gone always holds.
            if matches!(hold, Hold::Needs(_)) && !one.check.is_negated() {
                *part = Condition::Any(Vec::new());
                return true;
            }
            false
        }
        Condition::All(parts) | Condition::Any(parts) => {
            let empty = parts.is_empty();
            let mut rest = Vec::with_capacity(parts.len());
            for mut part in parts.drain(..) {
                if part_of_condition(&mut part, hold, see) {
                    rest.push(part);
                }
            }
            *parts = rest;
            empty || !parts.is_empty()
        }
    }
}

impl Check {
    fn is_negated(&self) -> bool {
        matches!(self, Check::Option { not: true, .. } | Check::Person { not: true, .. } | Check::Record { not: true, .. })
    }
}

fn test(test: &mut Test, hold: Hold, see: &mut See<'_>) -> bool {
    if !path(&mut test.path, hold, see) {
        return false;
    }
    let by = test.path.last().copied();
    match &mut test.check {
        Check::Option { any, .. } => {
            kept(any, |id| option(id, hold, see));
            !any.is_empty()
        }
        Check::Person { any, .. } => {
            kept(any, |who| match who {
                Who::Me => true,
                Who::Person(id) => person(id, hold, see),
            });
            !any.is_empty()
        }
        Check::Record { any, .. } => {
            kept(any, |id| by.is_some_and(|by| record(by, id, hold, see)));
            !any.is_empty()
        }
        Check::Empty
        | Check::Filled
        | Check::Text { .. }
        | Check::Number { .. }
        | Check::Between { .. }
        | Check::Day { .. }
        | Check::Within { .. }
        | Check::Older { .. }
        | Check::Yes
        | Check::No
        | Check::Error => true,
    }
}

/// A value of a field in its place; what it named and is gone leaves it empty.
pub(crate) fn value(of: FieldId, value: &mut Value, hold: Hold, see: &mut See<'_>) {
    match value {
        Value::Choice(id) => {
            if !option(id, hold, see) {
                *value = Value::Empty;
            }
        }
        Value::Choices(list) => kept(list, |id| option(id, hold, see)),
        Value::Person(id) => {
            if !person(id, hold, see) {
                *value = Value::Empty;
            }
        }
        Value::People(list) => kept(list, |id| person(id, hold, see)),
        Value::Links(list) => kept(list, |id| record(of, id, hold, see)),
        Value::Empty
        | Value::Text(_)
        | Value::Number(_)
        | Value::Logical(_)
        | Value::Date(_)
        | Value::Instant(_)
        | Value::Range(..)
        | Value::Web(_)
        | Value::Place(_)
        | Value::Files(_)
        | Value::Json(_)
        | Value::Error(_) => {}
        Value::Checklist(items) => {
            if items.iter().any(|item| item.person.is_some()) {
                let mut list = items.to_vec();
                for item in &mut list {
                    item.person = item.person.and_then(|mut id| person(&mut id, hold, see).then_some(id));
                }
                *items = list.into();
            }
        }
    }
    *value = std::mem::take(value).tidy();
}

fn template(of: &mut Template, hold: Hold, see: &mut See<'_>) {
    of.0.retain_mut(|piece| match piece {
        Piece::Text(_) => true,
        Piece::Value(fields) => path(fields, hold, see),
    });
}

fn formula(of: &mut Formula, hold: Hold, see: &mut See<'_>) {
    fn node(of: &mut Node, hold: Hold, see: &mut See<'_>) {
        match &mut of.expr {
            Expr::Option(id) => drop(option(id, hold, see)),
            Expr::Person(id) => {
                if !person(id, hold, see) {
                    // Compared with nobody, it is nobody.
                    of.expr = Expr::Text("".into());
                }
            }
            Expr::Path(named) => {
                path(&mut named.fields, hold, see);
                if let Some(inner) = &mut named.narrowed {
                    node(inner, hold, see);
                }
            }
            Expr::Call(_, arguments) => arguments.iter_mut().for_each(|argument| node(argument, hold, see)),
            Expr::Binary(_, left, right) => {
                node(left, hold, see);
                node(right, hold, see);
            }
            Expr::Negate(inner) | Expr::Percent(inner) => node(inner, hold, see),
            Expr::Number(_) | Expr::Text(_) | Expr::Logical(_) | Expr::Nothing => {}
        }
    }
    node(std::sync::Arc::make_mut(&mut of.0), hold, see);
}

impl Names for FieldDef {
    fn each(&mut self, see: &mut See<'_>) {
        if let Some(copies) = &mut self.copies {
            let hold = Hold::Needs("copies from it");
            field(&mut copies.link, hold, see);
            field(&mut copies.field, hold, see);
        }
        let offers = Hold::Needs("offers records by it");
        self.offers.same.retain_mut(|same| field(&mut same.theirs, offers, see) & field(&mut same.ours, offers, see));
        condition(&mut self.offers.condition, offers, see);
        if let Some(Preset::Value(preset)) = &mut self.preset {
            value(self.id, preset, Hold::Shows("begins with it"), see);
            if *preset == Value::Empty {
                self.preset = None;
            }
        }
        match &mut self.kind {
            Kind::Calculation { formula: of, .. } => formula(of, Hold::Needs("computes with it"), see),
            Kind::Summary(summary) => {
                condition(&mut summary.condition, Hold::Needs("counts by it"), see);
                path(&mut summary.links, Hold::Needs("sums it up"), see);
                maybe(&mut summary.field, Hold::Needs("sums it up"), see);
            }
            Kind::Carried { links, field: carried } => {
                path(links, Hold::Needs("carries it"), see);
                field(carried, Hold::Needs("carries it"), see);
            }
            Kind::Choice { options, on } => {
                maybe(on, Hold::Needs("offers its options by it"), see);
                for choice in options {
                    choice.under =
                        choice.under.and_then(|mut id| option(&mut id, Hold::Needs("offers options under it"), see).then_some(id));
                }
            }
            Kind::Button { automation, .. } => {
                *automation = automation.and_then(|id| match see(Name::Automation(id), Hold::Shows("runs it")) {
                    Some(Name::Automation(other)) => Some(other),
                    _ => None,
                });
            }
            // Both sides of a link are one thing: they come and go together, and neither is a use of the other.
            Kind::Link(_)
            | Kind::Text { .. }
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
            | Kind::Choices { .. }
            | Kind::Person
            | Kind::People
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
            | Kind::Json => {}
        }
    }
}

impl TableDef {
    /// What the table names by itself, its fields left aside.
    pub(crate) fn each_of_its_own(&mut self, see: &mut See<'_>) {
        field(&mut self.standing, Hold::Needs("names its records by it"), see);
        maybe(&mut self.beside, Hold::Shows("tells its records apart by it"), see);
        maybe(&mut self.mine.address, Hold::Needs("knows by it whose a record is"), see);
        maybe(&mut self.mine.entered_for, Hold::Needs("knows by it whose a record is"), see);
    }
}

impl Names for TableDef {
    fn each(&mut self, see: &mut See<'_>) {
        self.each_of_its_own(see);
        self.fields.iter_mut().for_each(|f| f.each(see));
    }
}

impl Names for Query {
    fn each(&mut self, see: &mut See<'_>) {
        condition(&mut self.condition, Hold::Shows("narrows by it"), see);
        let order = Hold::Shows("puts its records in order by it");
        self.groups.retain_mut(|o| field(&mut o.field, order, see));
        self.sorts.retain_mut(|o| field(&mut o.field, order, see));
        let shows = Hold::Shows("shows it");
        self.fields.retain_mut(|f| field(&mut f.field, shows, see));
        self.tallies.retain_mut(|t| field(&mut t.field, shows, see));
    }
}

impl Names for View {
    fn each(&mut self, see: &mut See<'_>) {
        self.query.each(see);
        // A view of somebody who is gone is taken away whole, by whoever takes them away.
        if let Some(owner) = &mut self.owner {
            person(owner, Hold::Shows("is theirs"), see);
        }
    }
}

impl Names for Form {
    fn each(&mut self, see: &mut See<'_>) {
        let (asks, by) = (Hold::Shows("asks for it"), Hold::Needs("asks by it"));
        let mut rest = Vec::with_capacity(self.questions.len());
        for mut question in self.questions.drain(..) {
            if field(&mut question.field, asks, see) && of_question(&mut question, asks, by, see) {
                rest.push(question);
            }
        }
        self.questions = rest;
        template(&mut self.confirmation, Hold::Shows("thanks with it"), see);
        maybe(&mut self.copy, Hold::Shows("sends a copy to it"), see);
        let maps = self.ways.call.iter_mut().map(|c| &mut c.fields).chain(self.ways.mail.iter_mut().map(|m| &mut m.fields));
        maps.for_each(|fields| fields.retain_mut(|m| field(&mut m.field, asks, see)));
        if let Some(Following { shows, adds, while_ }) = &mut self.following {
            kept(shows, |id| field(id, Hold::Shows("shows it to whoever answered"), see));
            kept(adds, |id| field(id, asks, see));
            condition(while_, by, see);
        }
    }
}

/// What a question names beside its field; whether it still stands.
fn of_question(question: &mut Question, asks: Hold, by: Hold, see: &mut See<'_>) -> bool {
    condition(&mut question.shown.condition, by, see);
    condition(&mut question.offers, by, see);
    maybe(&mut question.shows, asks, see);
    if let Some(begins) = &mut question.begins {
        value(question.field, begins, Hold::Shows("begins with it"), see);
        if *begins == Value::Empty {
            question.begins = None;
        }
    }
    match &mut question.lines {
        None => true,
        Some(Lines { questions, total, .. }) => {
            questions.retain_mut(|q| field(&mut q.field, asks, see));
            maybe(total, asks, see);
            !questions.is_empty()
        }
    }
}

impl Names for Role {
    fn each(&mut self, see: &mut See<'_>) {
        self.members = self
            .members
            .iter()
            .filter_map(|id| {
                let mut id = *id;
                person(&mut id, Hold::Shows("has them as a member"), see).then_some(id)
            })
            .collect();
        let mut tables = BTreeMap::new();
        for (id, mut rights) in std::mem::take(&mut self.tables) {
            if let Some(Name::Table(id)) = see(Name::Table(id), Hold::Shows("says who may do what in it")) {
                of_rights(&mut rights, see);
                tables.insert(id, rights);
            }
        }
        self.tables = tables;
    }
}

fn of_rights(rights: &mut TableRights, see: &mut See<'_>) {
    for reach in [&mut rights.look, &mut rights.change, &mut rights.remove] {
        if let Reach::Where(of) = reach {
            condition(of, Hold::Needs("says by it who may do what"), see);
        }
    }
    let hold = Hold::Shows("says who may read or change it");
    let fields: BTreeMap<FieldId, FieldRight> = std::mem::take(&mut rights.fields);
    rights.fields = fields.into_iter().filter_map(|(mut id, right)| field(&mut id, hold, see).then_some((id, right))).collect();
    let released: BTreeSet<FieldId> = std::mem::take(&mut rights.released);
    rights.released = released.into_iter().filter_map(|mut id| field(&mut id, hold, see).then_some(id)).collect();
}

impl Names for Automation {
    fn each(&mut self, see: &mut See<'_>) {
        let needs = Hold::Needs("needs it");
        if let Occasion::Form(Some(form)) = &mut self.when
            && let Some(Name::Form(other)) = see(Name::Form(*form), Hold::Needs("is set going by it"))
        {
            *form = other;
        }
        condition(&mut self.condition, needs, see);
        for Step::Mail { to, subject, body } in &mut self.steps {
            if let Recipient::Field(fields) = to {
                path(fields, needs, see);
            }
            template(subject, needs, see);
            template(body, needs, see);
        }
    }
}

impl Names for Part {
    fn each(&mut self, see: &mut See<'_>) {
        match self {
            Part::Tracker(_) => {}
            Part::Table(table) => table.each(see),
            Part::View(view) => view.each(see),
            Part::Form(form) => form.each(see),
            Part::Role(role) => role.each(see),
            Part::Automation(automation) => automation.each(see),
        }
    }
}
