//! Evaluation: a formula made ready for a dataset, then run for record after record.

use super::{
    Expr, Formula, Node, Operator, Path, STEPS_LIMIT, TEXT_RESULT_LIMIT,
    functions::{
        Function, Run, Takes,
        dates::{between, day_of_serial, plus, serial_of_day},
        numbers::{divided, power},
    },
    names::leads_to,
};
use crate::{
    Clock,
    dataset::{Column, Dataset, Table},
    id::{FieldId, OptionId, RecordId, TableId},
    people::People,
    schema::{Choice, Kind},
    value::{CalcError, Cell, Locale, Value, date_text, fold, moment_text, range_text},
};
use jiff::{
    Timestamp,
    civil::{Date, DateTime, Time},
    tz::TimeZone,
};
use rust_decimal::{Decimal, prelude::ToPrimitive};
use std::{cell::Cell as Counter, cmp::Ordering, sync::Arc};

/// Why there is no value: nothing to work with, or an error.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Stop {
    /// A date was needed where none stands: the result is nothing.
    Empty,
    Error(CalcError),
}

pub(super) type Calc<T> = Result<T, Stop>;

impl From<CalcError> for Stop {
    fn from(error: CalcError) -> Self {
        Stop::Error(error)
    }
}

/// What a part of a formula gives.
#[derive(Clone, Debug)]
pub(super) enum Val {
    One(Value),
    List(Vec<Value>),
    /// Linked records; their names where texts are needed.
    Records(TableId, Vec<RecordId>),
}

/// How many steps may still be taken, in one evaluation and in a whole recalculation.
#[derive(Debug)]
pub(crate) struct Budget {
    cell: Counter<u64>,
    whole: Counter<u64>,
}

impl Budget {
    /// For so many evaluations: each may take as many as any, but all together only a few hundred each.
    pub(crate) fn new(evaluations: usize) -> Self {
        let whole = (evaluations as u64).saturating_mul(500).saturating_add(20 * STEPS_LIMIT);
        Self { cell: Counter::new(STEPS_LIMIT), whole: Counter::new(whole) }
    }

    fn begin(&self) {
        self.cell.set(STEPS_LIMIT.min(self.whole.get()));
    }

    #[inline]
    fn take(&self, steps: u64) -> Calc<()> {
        match self.cell.get().checked_sub(steps) {
            Some(left) => {
                self.cell.set(left);
                Ok(())
            }
            None => Err(CalcError::TooLarge.into()),
        }
    }

    fn end(&self) {
        let begun = STEPS_LIMIT.min(self.whole.get());
        self.whole.set(self.whole.get() - (begun - self.cell.get().min(begun)));
    }
}

/// What evaluation needs beside the record.
#[derive(Debug)]
pub(super) struct Env<'a> {
    ds: &'a Dataset,
    clock: &'a Clock,
    today: Date,
    budget: &'a Budget,
}

impl<'a> Env<'a> {
    pub(super) fn locale(&self) -> Locale {
        self.ds.tracker.locale
    }

    pub(super) fn clock(&self) -> &'a Clock {
        self.clock
    }

    pub(super) fn today(&self) -> Date {
        self.today
    }

    pub(super) fn this_minute(&self) -> Timestamp {
        let second = self.clock.now.as_second();
        Timestamp::from_second(second - second.rem_euclid(60)).unwrap_or(self.clock.now)
    }

    fn zone(&self) -> TimeZone {
        self.clock.zone.clone()
    }

    fn wall(&self, instant: Timestamp) -> DateTime {
        instant.to_zoned(self.zone()).datetime()
    }

    fn instant(&self, wall: DateTime) -> Calc<Value> {
        wall.to_zoned(self.zone()).map(|z| Value::Instant(z.timestamp())).map_err(|_| CalcError::NoNumber.into())
    }

    fn name(&self, table: TableId, record: RecordId) -> Value {
        let standing = self.ds.table(table).map(|t| t.def.standing);
        let read = standing.and_then(|field| Reading::new(self.ds, table, &[field]));
        match read.map(|r| r.value(self, record.row())) {
            Some(Ok(value)) => match text_of(self, &value) {
                Ok(text) => Value::text(&text),
                Err(_) => Value::Empty,
            },
            _ => Value::Empty,
        }
    }
}

/// A formula made ready: its names are columns now.
#[derive(Debug)]
pub(crate) struct Program<'a> {
    env: Env<'a>,
    code: Code<'a>,
}

impl<'a> Program<'a> {
    pub(crate) fn new(formula: &Formula, ds: &'a Dataset, table: TableId, clock: &'a Clock, budget: &'a Budget) -> Self {
        Self::of_node(&formula.0, ds, &mut vec![Some(table)], clock, budget)
    }

    pub(super) fn of_node(node: &Node, ds: &'a Dataset, scopes: &mut Vec<Option<TableId>>, clock: &'a Clock, budget: &'a Budget) -> Self {
        let env = Env { ds, clock, today: clock.today(), budget };
        Self { code: compile(ds, scopes, node), env }
    }

    /// The value for a record; an error is a value too.
    pub(crate) fn value(&self, row: usize) -> Value {
        self.value_in(&mut vec![row])
    }

    /// The value within *where*s: the records they are asked of, innermost last.
    pub(super) fn value_in(&self, rows: &mut Vec<usize>) -> Value {
        match self.run(rows).and_then(|val| val.into_one(&self.env)) {
            Ok(value) => value,
            Err(Stop::Empty) => Value::Empty,
            Err(Stop::Error(error)) => Value::Error(error),
        }
    }

    pub(super) fn run(&self, rows: &mut Vec<usize>) -> Calc<Val> {
        self.env.budget.begin();
        let found = run(&self.code, &self.env, rows);
        self.env.budget.end();
        found
    }

    /// What a value reads like: the texts of a list one after the other.
    pub(super) fn words(&self, val: &Val) -> String {
        let words = |v: &Value| text_of(&self.env, v).unwrap_or_default();
        match val {
            Val::One(Value::Error(error)) => error.sign().to_owned(),
            Val::One(value) => words(value),
            Val::List(values) => values.iter().map(words).collect::<Vec<_>>().join(", "),
            Val::Records(table, records) => records.iter().map(|r| words(&self.env.name(*table, *r))).collect::<Vec<_>>().join(", "),
        }
    }
}

/// A formula with its names resolved.
#[derive(Debug)]
enum Code<'a> {
    Const(Value),
    Read {
        out: usize,
        read: Reading<'a>,
    },
    List {
        out: usize,
        read: Reading<'a>,
        narrowed: Option<Box<Code<'a>>>,
    },
    IsOption {
        out: usize,
        read: Reading<'a>,
        option: OptionId,
        not: bool,
    },
    Call(&'static Function, Vec<Code<'a>>),
    /// Where a date is due and none stands, there is no sum.
    Sum {
        minus: bool,
        days: (bool, bool),
        sides: Box<(Code<'a>, Code<'a>)>,
    },
    Binary(Operator, Box<(Code<'a>, Code<'a>)>),
    Negate(Box<Code<'a>>),
    Percent(Box<Code<'a>>),
}

/// A path of columns.
#[derive(Debug)]
struct Reading<'a> {
    steps: Vec<(&'a Column, &'a Table)>,
    last: Last<'a>,
    /// Every link on the way leads to one record at most, and the field holds one value.
    one: bool,
}

#[derive(Debug)]
enum Last<'a> {
    /// The records at the path's end.
    Records(TableId),
    Column(&'a Column, Form<'a>),
    Meta(&'a Table, Kind),
}

/// How a cell becomes a value.
#[derive(Debug)]
enum Form<'a> {
    Plain,
    /// Names of options, by id.
    Options(Vec<(OptionId, Arc<str>)>),
    People(&'a People),
    /// Seconds become days.
    Duration,
}

fn names(options: &[Choice]) -> Vec<(OptionId, Arc<str>)> {
    options.iter().map(|o| (o.id, Arc::from(o.name.as_str()))).collect()
}

impl<'a> Reading<'a> {
    fn new(ds: &'a Dataset, table: TableId, fields: &[FieldId]) -> Option<Self> {
        let mut reading = Reading { steps: Vec::new(), last: Last::Records(table), one: true };
        let end = reading.follow(ds, table, fields)?;
        if let Last::Records(_) = reading.last {
            reading.last = Last::Records(end);
        }
        Some(reading)
    }

    /// Goes along fields from a table; gives the table at the end.
    fn follow(&mut self, ds: &'a Dataset, table: TableId, fields: &[FieldId]) -> Option<TableId> {
        let mut at = table;
        for field in fields {
            let home = ds.table(at)?;
            let def = home.def.field(*field)?;
            match &def.kind {
                Kind::Link(link) => {
                    let target = ds.table(link.to)?;
                    self.steps.push((home.column(*field)?, target));
                    self.one &= link.one;
                    at = link.to;
                }
                Kind::Carried { links, field } => {
                    let path: Vec<FieldId> = links.iter().chain([field]).copied().collect();
                    at = self.follow(ds, at, &path)?;
                }
                Kind::CreatedAt | Kind::CreatedBy | Kind::ChangedAt | Kind::ChangedBy => self.last = Last::Meta(home, def.kind.clone()),
                Kind::Button { .. } => return None,
                kind => {
                    let form = match kind.shows() {
                        Kind::Choice { options, .. } => Form::Options(names(options)),
                        Kind::Choices { options } => {
                            self.one = false;
                            Form::Options(names(options))
                        }
                        Kind::Person => Form::People(&ds.people),
                        Kind::People => {
                            self.one = false;
                            Form::People(&ds.people)
                        }
                        Kind::Duration => Form::Duration,
                        _ => Form::Plain,
                    };
                    self.last = Last::Column(home.column(*field)?, form);
                }
            }
        }
        Some(at)
    }

    /// The row at the end of links to one record each.
    #[inline]
    fn row(&self, mut row: usize) -> Option<usize> {
        for (column, target) in &self.steps {
            let record = column.links(row).iter().copied().find(|r| target.is_live(*r))?;
            row = record.row();
        }
        Some(row)
    }

    fn rows(&self, row: usize, env: &Env<'_>) -> Calc<Vec<usize>> {
        let mut rows = vec![row];
        for (column, target) in &self.steps {
            let linked = rows.iter().flat_map(|row| column.links(*row)).filter(|r| target.is_live(**r));
            rows = linked.map(|r| r.row()).collect();
            env.budget.take(rows.len() as u64)?;
        }
        Ok(rows)
    }

    /// One value, of the record at the end.
    #[inline]
    fn value(&self, env: &Env<'_>, row: usize) -> Calc<Value> {
        match self.row(row) {
            Some(row) => self.at(env, row),
            None => Ok(Value::Empty),
        }
    }

    /// The value of a record of the last table.
    #[inline]
    fn at(&self, env: &Env<'_>, row: usize) -> Calc<Value> {
        match &self.last {
            Last::Records(table) => Ok(env.name(*table, RecordId::at_row(row))),
            Last::Column(column, form) => match form {
                Form::Plain => match column.value(row) {
                    Value::Error(error) => Err(error.into()),
                    value => Ok(plain(value)),
                },
                Form::Options(names) => match column.cell(row) {
                    Cell::Choice(option) => Ok(named(names, option)),
                    _ => Ok(Value::Empty),
                },
                Form::People(people) => match column.cell(row) {
                    Cell::Person(person) => Ok(Value::text(people.name(person))),
                    _ => Ok(Value::Empty),
                },
                Form::Duration => match column.value(row) {
                    Value::Number(seconds) => Ok(Value::Number(seconds / Decimal::from(86_400))),
                    Value::Error(error) => Err(error.into()),
                    _ => Ok(Value::Empty),
                },
            },
            Last::Meta(table, kind) => {
                let Some(meta) = table.meta(RecordId::at_row(row)) else { return Ok(Value::Empty) };
                let person = |actor| match actor {
                    crate::history::Actor::Person(person) => Value::text(env.ds.people.name(person)),
                    _ => Value::Empty,
                };
                Ok(match kind {
                    Kind::CreatedAt => Value::Instant(meta.created_at),
                    Kind::ChangedAt => Value::Instant(meta.changed_at),
                    Kind::CreatedBy => person(meta.created_by),
                    _ => person(meta.changed_by),
                })
            }
        }
    }

    /// Every value of a record of the last table.
    fn all_at(&self, env: &Env<'_>, row: usize, found: &mut Vec<Value>) -> Calc<()> {
        if let Last::Column(column, form) = &self.last {
            match (column.cell(row), form) {
                (Cell::Choices(options), Form::Options(names)) => found.extend(options.iter().map(|o| named(names, *o))),
                (Cell::People(list), Form::People(people)) => found.extend(list.iter().map(|p| Value::text(people.name(*p)))),
                _ => found.push(self.at(env, row)?),
            }
            return Ok(());
        }
        found.push(self.at(env, row)?);
        Ok(())
    }
}

fn named(names: &[(OptionId, Arc<str>)], option: OptionId) -> Value {
    names.iter().find(|(id, _)| *id == option).map_or(Value::Empty, |(_, name)| Value::Text(name.clone()))
}

/// Values of kinds that formulas know as texts.
fn plain(value: Value) -> Value {
    match value {
        Value::Range(start, end) => Value::text(&range_text(start, end)),
        Value::Web(web) => Value::text(&web.address),
        Value::Place(place) => Value::text(&crate::value::place_text(&place)),
        Value::Files(files) => Value::text(&files.iter().map(|f| f.name.as_str()).collect::<Vec<_>>().join(", ")),
        Value::Checklist(items) => Value::text(&items.iter().map(|i| i.text.as_str()).collect::<Vec<_>>().join(", ")),
        Value::Json(json) => Value::text(&json.to_string()),
        other => other,
    }
}

fn compile<'a>(ds: &'a Dataset, scopes: &mut Vec<Option<TableId>>, node: &Node) -> Code<'a> {
    let both =
        |scopes: &mut Vec<Option<TableId>>, left: &Node, right: &Node| Box::new((compile(ds, scopes, left), compile(ds, scopes, right)));
    match &node.expr {
        Expr::Number(number) => Code::Const(Value::Number(*number)),
        Expr::Text(text) => Code::Const(Value::Text(text.clone())),
        Expr::Logical(yes) => Code::Const(Value::Logical(*yes)),
        Expr::Option(option) => Code::Const(ds.option_name(*option).map_or(Value::Error(CalcError::Gone), Value::text)),
        Expr::Person(person) => Code::Const(Value::text(ds.people.name(*person))),
        Expr::Nothing => Code::Const(Value::Error(CalcError::Gone)),
        Expr::Path(path) => compile_path(ds, scopes, path),
        Expr::Call(function, arguments) => Code::Call(function, arguments.iter().map(|a| compile(ds, scopes, a)).collect()),
        Expr::Negate(part) => Code::Negate(Box::new(compile(ds, scopes, part))),
        Expr::Percent(part) => Code::Percent(Box::new(compile(ds, scopes, part))),
        Expr::Binary(operator @ (Operator::Plus | Operator::Minus), left, right) => Code::Sum {
            minus: *operator == Operator::Minus,
            days: (is_day(ds, scopes, left), is_day(ds, scopes, right)),
            sides: both(scopes, left, right),
        },
        Expr::Binary(operator @ (Operator::Is | Operator::IsNot), left, right) => {
            let not = *operator == Operator::IsNot;
            match (&left.expr, &right.expr) {
                (Expr::Path(path), Expr::Option(option)) | (Expr::Option(option), Expr::Path(path)) => match compile_path(ds, scopes, path)
                {
                    Code::Read { out, read } => Code::IsOption { out, read, option: *option, not },
                    _ => Code::Binary(*operator, both(scopes, left, right)),
                },
                _ => Code::Binary(*operator, both(scopes, left, right)),
            }
        }
        Expr::Binary(operator, left, right) => Code::Binary(*operator, both(scopes, left, right)),
    }
}

fn compile_path<'a>(ds: &'a Dataset, scopes: &mut Vec<Option<TableId>>, path: &Path) -> Code<'a> {
    let gone = || Code::Const(Value::Error(CalcError::Gone));
    let Some(home) = scopes.iter().rev().nth(path.out).copied().flatten() else { return gone() };
    let Some(read) = Reading::new(ds, home, &path.fields) else { return gone() };
    let Some(condition) = &path.narrowed else {
        return if read.one { Code::Read { out: path.out, read } } else { Code::List { out: path.out, read, narrowed: None } };
    };
    scopes.push(super::check::narrowed_table(ds, Some(home), &path.fields));
    let condition = compile(ds, scopes, condition);
    scopes.pop();
    Code::List { out: path.out, read, narrowed: Some(Box::new(condition)) }
}

/// Whether a part gives a date, by its type alone.
fn is_day(ds: &Dataset, scopes: &[Option<TableId>], node: &Node) -> bool {
    match &node.expr {
        Expr::Path(path) => {
            let Some((last, links)) = path.fields.split_last() else { return false };
            let home = scopes.iter().rev().nth(path.out).copied().flatten();
            let at = home.and_then(|home| links.iter().try_fold(home, |at, link| leads_to(ds, at, *link)));
            let kind = at.and_then(|at| ds.shown_kind(at, *last)).map(|(_, kind)| kind.shows());
            matches!(kind, Some(Kind::Date | Kind::DateTime | Kind::CreatedAt | Kind::ChangedAt))
        }
        Expr::Binary(Operator::Plus, left, right) => is_day(ds, scopes, left) || is_day(ds, scopes, right),
        Expr::Binary(Operator::Minus, left, right) => is_day(ds, scopes, left) && !is_day(ds, scopes, right),
        Expr::Call(function, _) => matches!(function.gives, super::functions::Gives::Date | super::functions::Gives::Moment),
        _ => false,
    }
}

fn run(code: &Code<'_>, env: &Env<'_>, rows: &mut Vec<usize>) -> Calc<Val> {
    env.budget.take(1)?;
    let row = |rows: &[usize], out: usize| rows[rows.len() - 1 - out];
    match code {
        Code::Read { out, read } => read.value(env, row(rows, *out)).map(Val::One),
        Code::List { out, read, narrowed } => list(env, read, row(rows, *out), narrowed.as_deref(), rows),
        Code::Call(function, arguments) => call(function, arguments, env, rows),
        _ => scalar(code, env, rows).map(Val::One),
    }
}

/// One value; lists become one where they hold no more.
fn scalar(code: &Code<'_>, env: &Env<'_>, rows: &mut Vec<usize>) -> Calc<Value> {
    match code {
        Code::Const(Value::Error(error)) => Err((*error).into()),
        Code::Const(value) => Ok(value.clone()),
        Code::IsOption { out, read, option, not } => {
            env.budget.take(1)?;
            let at = rows[rows.len() - 1 - out];
            let found = match (&read.last, read.row(at)) {
                (Last::Column(column, _), Some(row)) => column.cell(row),
                _ => Cell::Empty,
            };
            Ok(Value::Logical((found == Cell::Choice(*option)) != *not))
        }
        Code::Sum { minus, days, sides } => {
            let (left, right) = (scalar(&sides.0, env, rows)?, scalar(&sides.1, env, rows)?);
            sum(env, left, right, *minus, *days)
        }
        Code::Binary(operator, sides) => {
            let (left, right) = (scalar(&sides.0, env, rows)?, scalar(&sides.1, env, rows)?);
            binary(env, *operator, left, right)
        }
        Code::Negate(part) => scalar(part, env, rows).and_then(|v| as_number(env, &v)).map(|n| Value::Number(-n)),
        Code::Percent(part) => {
            let number = scalar(part, env, rows).and_then(|v| as_number(env, &v))?;
            Ok(Value::Number(number / Decimal::ONE_HUNDRED))
        }
        Code::Read { .. } | Code::List { .. } | Code::Call(..) => run(code, env, rows)?.into_one(env),
    }
}

fn list(env: &Env<'_>, read: &Reading<'_>, row: usize, narrowed: Option<&Code<'_>>, rows: &mut Vec<usize>) -> Calc<Val> {
    let mut targets = read.rows(row, env)?;
    if let Some(condition) = narrowed {
        let mut kept = Vec::new();
        for target in targets {
            rows.push(target);
            let holds = scalar(condition, env, rows).and_then(|v| as_logical(env, &v));
            rows.pop();
            if holds? {
                kept.push(target);
            }
        }
        targets = kept;
    }
    if let Last::Records(table) = read.last {
        return Ok(Val::Records(table, targets.into_iter().map(RecordId::at_row).collect()));
    }
    let mut values = Vec::with_capacity(targets.len());
    for target in targets {
        env.budget.take(1)?;
        read.all_at(env, target, &mut values)?;
    }
    Ok(Val::List(values))
}

fn call(function: &'static Function, arguments: &[Code<'_>], env: &Env<'_>, rows: &mut Vec<usize>) -> Calc<Val> {
    match function.run {
        Run::Strict(body) => {
            let mut values = Vec::with_capacity(arguments.len());
            for argument in arguments {
                values.push(match run(argument, env, rows) {
                    Err(Stop::Empty) => Val::One(Value::Empty),
                    other => other?,
                });
            }
            let size: usize = values.iter().map(Val::len).sum();
            env.budget.take(size as u64)?;
            body(&Args { env, values: &values, function })
        }
        Run::Lazy(body) => body(&mut Lazy { env, arguments, rows }),
    }
}

/// The arguments of a function, evaluated.
pub(super) struct Args<'e, 'a> {
    pub(super) env: &'e Env<'a>,
    values: &'e [Val],
    function: &'static Function,
}

/// The arguments of a function that says which are evaluated.
pub(super) struct Lazy<'e, 'a, 'c> {
    env: &'e Env<'a>,
    arguments: &'e [Code<'c>],
    rows: &'e mut Vec<usize>,
}

impl<'a> Lazy<'_, 'a, '_> {
    pub(super) fn env(&self) -> &Env<'a> {
        self.env
    }

    pub(super) fn len(&self) -> usize {
        self.arguments.len()
    }

    pub(super) fn value(&mut self, place: usize) -> Calc<Value> {
        let Some(argument) = self.arguments.get(place) else { return Ok(Value::Empty) };
        scalar(argument, self.env, self.rows)
    }

    pub(super) fn yes(&mut self, place: usize) -> Calc<bool> {
        let value = self.value(place)?;
        as_logical(self.env, &value)
    }

    pub(super) fn whole(&mut self, place: usize) -> Calc<i64> {
        let value = self.value(place)?;
        as_number(self.env, &value)?.trunc().to_i64().ok_or_else(|| CalcError::NoNumber.into())
    }
}

impl Val {
    fn len(&self) -> usize {
        match self {
            Val::One(_) => 1,
            Val::List(values) => values.len(),
            Val::Records(_, records) => records.len(),
        }
    }

    pub(super) fn into_one(self, env: &Env<'_>) -> Calc<Value> {
        match self {
            Val::One(Value::Error(error)) => Err(error.into()),
            Val::One(value) => Ok(value),
            Val::List(mut values) if values.len() <= 1 => Val::One(values.pop().unwrap_or_default()).into_one(env),
            Val::Records(table, records) if records.len() <= 1 => Ok(records.first().map_or(Value::Empty, |r| env.name(table, *r))),
            Val::List(_) | Val::Records(..) => Err(CalcError::WrongValue.into()),
        }
    }

    fn each(&self, env: &Env<'_>, mut see: impl FnMut(Value) -> Calc<()>) -> Calc<()> {
        match self {
            Val::One(value) => see(value.clone()),
            Val::List(values) => values.iter().cloned().try_for_each(see),
            Val::Records(table, records) => records.iter().try_for_each(|r| see(env.name(*table, *r))),
        }
    }
}

impl Args<'_, '_> {
    pub(super) fn len(&self) -> usize {
        self.values.len()
    }

    /// An argument as one value.
    pub(super) fn one(&self, place: usize) -> Calc<Value> {
        self.values.get(place).cloned().unwrap_or(Val::One(Value::Empty)).into_one(self.env)
    }

    pub(super) fn number(&self, place: usize) -> Calc<Decimal> {
        as_number(self.env, &self.one(place)?)
    }

    pub(super) fn number_or(&self, place: usize, default: Decimal) -> Calc<Decimal> {
        if place < self.len() { self.number(place) } else { Ok(default) }
    }

    /// A whole number: what stands behind the point is cut off.
    pub(super) fn whole_or(&self, place: usize, default: i64) -> Calc<i64> {
        if place >= self.len() {
            return Ok(default);
        }
        self.number(place)?.trunc().to_i64().ok_or_else(|| CalcError::NoNumber.into())
    }

    pub(super) fn text(&self, place: usize) -> Calc<String> {
        text_of(self.env, &self.one(place)?)
    }

    pub(super) fn yes(&self, place: usize) -> Calc<bool> {
        as_logical(self.env, &self.one(place)?)
    }

    /// A day; where nothing stands, there is no result.
    pub(super) fn day(&self, place: usize) -> Calc<Date> {
        as_day(self.env, &self.one(place)?)
    }

    /// A date and time, or a time of day.
    pub(super) fn moment(&self, place: usize) -> Calc<DateTime> {
        match self.one(place)? {
            Value::Date(date) => Ok(date.at(0, 0, 0, 0)),
            Value::Instant(instant) => Ok(self.env.wall(instant)),
            Value::Empty => Err(Stop::Empty),
            other => moment_of_serial(as_number(self.env, &other)?),
        }
    }

    /// All values from an argument on, those in lists too; empty ones left out.
    pub(super) fn values(&self, from: usize) -> Calc<Vec<Value>> {
        let mut found = Vec::new();
        for val in self.values.iter().skip(from) {
            val.each(self.env, |value| match value {
                Value::Error(error) => Err(error.into()),
                Value::Empty => Ok(()),
                value => {
                    found.push(value);
                    Ok(())
                }
            })?;
        }
        Ok(found)
    }

    /// The values of one argument, empty ones too.
    pub(super) fn values_of(&self, place: usize) -> Calc<Vec<Value>> {
        let mut found = Vec::new();
        let Some(val) = self.values.get(place) else { return Ok(found) };
        val.each(self.env, |value| {
            found.push(value);
            Ok(())
        })?;
        Ok(found)
    }

    /// All numbers from an argument on. In lists, what is no number is left out; alone, it is an error.
    pub(super) fn numbers(&self, from: usize) -> Calc<Vec<Decimal>> {
        let mut found = Vec::new();
        for val in self.values.iter().skip(from) {
            self.gather_numbers(val, &mut found)?;
        }
        Ok(found)
    }

    pub(super) fn numbers_of(&self, place: usize) -> Calc<Vec<Decimal>> {
        let mut found = Vec::new();
        if let Some(val) = self.values.get(place) {
            self.gather_numbers(val, &mut found)?;
        }
        Ok(found)
    }

    fn gather_numbers(&self, val: &Val, found: &mut Vec<Decimal>) -> Calc<()> {
        match val {
            Val::One(Value::Empty) | Val::Records(..) => {}
            Val::One(value) => found.push(as_number(self.env, value)?),
            Val::List(values) => {
                for value in values {
                    match value {
                        Value::Number(number) => found.push(*number),
                        Value::Logical(yes) => found.push(Decimal::from(u8::from(*yes))),
                        Value::Date(_) | Value::Instant(_) => found.push(as_number(self.env, value)?),
                        Value::Error(error) => return Err((*error).into()),
                        _ => {}
                    }
                }
            }
        }
        Ok(())
    }

    /// How many of all values are so. Linked records count as links, without looking for their names.
    pub(super) fn count(&self, wanted: impl Fn(&Value) -> bool) -> usize {
        let of = |val: &Val| match val {
            Val::One(value) => usize::from(wanted(value)),
            Val::List(values) => values.iter().filter(|v| wanted(v)).count(),
            Val::Records(_, records) if wanted(&Value::Links(Vec::new())) => records.len(),
            Val::Records(..) => 0,
        };
        self.values.iter().map(of).sum()
    }

    pub(super) fn texts(&self, from: usize) -> Calc<Vec<String>> {
        let mut found = Vec::new();
        let mut length = 0;
        for val in self.values.iter().skip(from) {
            val.each(self.env, |value| {
                let text = text_of(self.env, &value)?;
                length += text.len();
                if length > 2 * TEXT_RESULT_LIMIT {
                    return Err(CalcError::TooLarge.into());
                }
                found.push(text);
                Ok(())
            })?;
        }
        Ok(found)
    }

    pub(super) fn logicals(&self) -> Calc<Vec<bool>> {
        let mut found = Vec::new();
        for val in self.values {
            let listed = !matches!(val, Val::One(_));
            val.each(self.env, |value| {
                if !(listed && matches!(value, Value::Empty | Value::Text(_))) {
                    found.push(as_logical(self.env, &value)?);
                }
                Ok(())
            })?;
        }
        Ok(found)
    }

    pub(super) fn days_from(&self, from: usize) -> Calc<Vec<Date>> {
        debug_assert!(self.function.takes(from) == Takes::Days);
        self.values(from)?.iter().map(|v| as_day(self.env, v)).collect()
    }
}

pub(super) fn number(number: Decimal) -> Calc<Val> {
    Ok(Val::One(Value::Number(number)))
}

pub(super) fn no_number() -> Calc<Val> {
    Err(CalcError::NoNumber.into())
}

pub(super) fn logical(yes: bool) -> Calc<Val> {
    Ok(Val::One(Value::Logical(yes)))
}

pub(super) fn date(day: Date) -> Calc<Val> {
    Ok(Val::One(Value::Date(day)))
}

/// A text, if it is not over the limit.
pub(super) fn text(text: String) -> Calc<Val> {
    if text.len() > TEXT_RESULT_LIMIT { Err(CalcError::TooLarge.into()) } else { Ok(Val::One(Value::Text(text.into()))) }
}

fn as_number(env: &Env<'_>, value: &Value) -> Calc<Decimal> {
    match value {
        Value::Number(number) => Ok(*number),
        Value::Empty => Ok(Decimal::ZERO),
        Value::Logical(yes) => Ok(Decimal::from(u8::from(*yes))),
        Value::Date(day) => Ok(serial_of_day(*day)),
        Value::Instant(instant) => {
            let wall = env.wall(*instant);
            Ok(serial_of_day(wall.date()) + serial_of_time(wall.time()))
        }
        Value::Error(error) => Err((*error).into()),
        _ => Err(CalcError::WrongValue.into()),
    }
}

fn as_logical(env: &Env<'_>, value: &Value) -> Calc<bool> {
    match value {
        Value::Logical(yes) => Ok(*yes),
        Value::Date(_) | Value::Instant(_) => Err(CalcError::WrongValue.into()),
        other => Ok(!as_number(env, other)?.is_zero()),
    }
}

fn as_day(env: &Env<'_>, value: &Value) -> Calc<Date> {
    match value {
        Value::Date(day) => Ok(*day),
        Value::Instant(instant) => Ok(env.wall(*instant).date()),
        Value::Empty => Err(Stop::Empty),
        Value::Number(serial) => day_of_serial(*serial),
        Value::Error(error) => Err((*error).into()),
        _ => Err(CalcError::WrongValue.into()),
    }
}

/// A value as text; numbers plainly, dates as people read them.
fn text_of(env: &Env<'_>, value: &Value) -> Calc<String> {
    match value {
        Value::Text(text) => Ok(text.to_string()),
        Value::Empty => Ok(String::new()),
        Value::Number(number) => {
            let plain = settle(*number).normalize().to_string();
            Ok(if env.locale().decimal_comma { plain.replace('.', ",") } else { plain })
        }
        Value::Logical(yes) => Ok(if *yes { "TRUE" } else { "FALSE" }.into()),
        Value::Date(day) => Ok(date_text(*day)),
        Value::Instant(instant) => Ok(moment_text(*instant, env.clock)),
        Value::Error(error) => Err((*error).into()),
        _ => Err(CalcError::WrongValue.into()),
    }
}

/// A number without the noise in its last digits: 1/3*3 is 1.
pub(crate) fn settle(number: Decimal) -> Decimal {
    // Only a division leaves so many digits.
    if number.scale() < 20 { number } else { number.round_sf(24).map_or(number, |n| n.normalize()) }
}

/// The part of a day that has gone at a time.
pub(super) fn serial_of_time(time: Time) -> Decimal {
    let seconds = i64::from(time.hour()) * 3_600 + i64::from(time.minute()) * 60 + i64::from(time.second());
    Decimal::from(seconds) / Decimal::from(86_400)
}

fn moment_of_serial(serial: Decimal) -> Calc<DateTime> {
    let day = day_of_serial(serial)?;
    let seconds = ((serial - serial.floor()) * Decimal::from(86_400)).round().to_i32().unwrap_or(0).min(86_399);
    let part = |n: i32| i8::try_from(n).unwrap_or(0);
    Ok(day.at(part(seconds / 3_600), part(seconds / 60 % 60), part(seconds % 60), 0))
}

fn sum(env: &Env<'_>, left: Value, right: Value, minus: bool, days: (bool, bool)) -> Calc<Value> {
    if let (Value::Number(a), Value::Number(b)) = (&left, &right) {
        let sum = if minus { a.checked_sub(*b) } else { a.checked_add(*b) };
        return sum.map(Value::Number).ok_or_else(|| CalcError::NoNumber.into());
    }
    if (days.0 && left == Value::Empty) || (days.1 && right == Value::Empty) {
        return Ok(Value::Empty);
    }
    let is_day = |v: &Value| matches!(v, Value::Date(_) | Value::Instant(_));
    match (&left, &right) {
        (Value::Date(a), Value::Date(b)) if minus => Ok(Value::Number(Decimal::from(between(*b, *a)))),
        (a, b) if is_day(a) && is_day(b) => {
            if minus {
                Ok(Value::Number(as_number(env, a)? - as_number(env, b)?))
            } else {
                Err(CalcError::WrongValue.into())
            }
        }
        (day, by) if is_day(day) => {
            let by = as_number(env, by)?;
            moved(env, day, if minus { -by } else { by })
        }
        (by, day) if is_day(day) && !minus => {
            let by = as_number(env, by)?;
            moved(env, day, by)
        }
        (a, b) => {
            let (a, b) = (as_number(env, a)?, as_number(env, b)?);
            sum(env, Value::Number(a), Value::Number(b), minus, (false, false))
        }
    }
}

/// A date so many days later. A date stays one: parts of a day are cut off.
fn moved(env: &Env<'_>, day: &Value, by: Decimal) -> Calc<Value> {
    match day {
        Value::Date(date) => plus(*date, by.floor().to_i64().ok_or(CalcError::NoNumber)?).map(Value::Date),
        other => env.instant(moment_of_serial(as_number(env, other)?.checked_add(by).ok_or(CalcError::NoNumber)?)?),
    }
}

fn binary(env: &Env<'_>, operator: Operator, left: Value, right: Value) -> Calc<Value> {
    let numbers = || Ok::<_, Stop>((as_number(env, &left)?, as_number(env, &right)?));
    match operator {
        Operator::Times => {
            let (a, b) = numbers()?;
            a.checked_mul(b).map(Value::Number).ok_or_else(|| CalcError::NoNumber.into())
        }
        Operator::By => numbers().and_then(|(a, b)| divided(a, b)).map(Value::Number),
        Operator::Power => numbers().and_then(|(a, b)| power(a, b)).map(Value::Number),
        Operator::Join => text(text_of(env, &left)? + &text_of(env, &right)?)?.into_one(env),
        Operator::Plus | Operator::Minus => sum(env, left, right, operator == Operator::Minus, (false, false)),
        Operator::Is => Ok(Value::Logical(equal(env, &left, &right))),
        Operator::IsNot => Ok(Value::Logical(!equal(env, &left, &right))),
        Operator::Under | Operator::AtMost | Operator::Over | Operator::AtLeast => {
            let is_day = |v: &Value| matches!(v, Value::Date(_) | Value::Instant(_));
            // An empty date is neither before nor after another.
            if (is_day(&left) && right == Value::Empty) || (is_day(&right) && left == Value::Empty) {
                return Ok(Value::Logical(false));
            }
            let order = cmp_values(env, &left, &right);
            Ok(Value::Logical(match operator {
                Operator::Under => order.is_lt(),
                Operator::AtMost => order.is_le(),
                Operator::Over => order.is_gt(),
                _ => order.is_ge(),
            }))
        }
    }
}

/// Whether two values are the same; nothing is the same as 0, as no text and as no.
pub(super) fn equal(env: &Env<'_>, a: &Value, b: &Value) -> bool {
    match (a, b) {
        (Value::Text(a), Value::Text(b)) => a == b || fold(a) == fold(b),
        (Value::Empty, Value::Date(_) | Value::Instant(_)) | (Value::Date(_) | Value::Instant(_), Value::Empty) => false,
        _ => {
            sort(a) == sort(b) && cmp_values(env, a, b).is_eq()
                || matches!((a, b), (Value::Empty, _) | (_, Value::Empty)) && cmp_values(env, a, b).is_eq()
        }
    }
}

/// Numbers and dates before texts before yes and no.
fn sort(value: &Value) -> u8 {
    match value {
        Value::Empty => 0,
        Value::Number(_) | Value::Date(_) | Value::Instant(_) => 1,
        Value::Logical(_) => 3,
        _ => 2,
    }
}

pub(super) fn cmp_values(env: &Env<'_>, a: &Value, b: &Value) -> Ordering {
    let number = |v: &Value| as_number(env, v).map(settle).unwrap_or_default();
    match (a, b) {
        (Value::Number(a), Value::Number(b)) => settle(*a).cmp(&settle(*b)),
        (Value::Date(a), Value::Date(b)) => a.cmp(b),
        (Value::Instant(a), Value::Instant(b)) => a.cmp(b),
        (Value::Text(a), Value::Text(b)) => fold(a).cmp(&fold(b)),
        (Value::Logical(a), Value::Logical(b)) => a.cmp(b),
        (Value::Empty, Value::Empty) => Ordering::Equal,
        (Value::Empty, Value::Text(b)) => "".cmp(b),
        (Value::Text(a), Value::Empty) => (**a).cmp(""),
        (Value::Empty, Value::Logical(b)) => false.cmp(b),
        (Value::Logical(a), Value::Empty) => a.cmp(&false),
        (a, b) if sort(a) <= 1 && sort(b) <= 1 => number(a).cmp(&number(b)),
        (a, b) => sort(a).cmp(&sort(b)),
    }
}
