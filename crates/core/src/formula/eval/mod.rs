//! Evaluation: a formula made ready for a dataset, then run for record after record.

mod args;
mod code;
mod values;

use super::{
    Formula, Node, STEPS_LIMIT, TEXT_RESULT_LIMIT,
    arithmetic::divided,
    function::{Function, Run},
};
use crate::{
    Clock,
    dataset::Dataset,
    id::{RecordId, TableId},
    value::{CalcError, Cell, Locale, Value},
};
use code::{Code, Last, Route, compile};
use jiff::{
    Timestamp,
    civil::{Date, DateTime},
    tz::TimeZone,
};
use rust_decimal::Decimal;
use std::cell::Cell as Counter;
use values::{as_logical, as_number, binary, negated, sum, text_of};

pub(super) use super::arithmetic::{Calc, Stop};
pub(super) use args::{Args, Lazy};
pub(crate) use values::settle;
pub(super) use values::{cmp_values, date, equal, logical, no_number, number, serial_of_time, text};

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
        let whole = (evaluations as u64).saturating_mul(1_000).saturating_add(20 * STEPS_LIMIT);
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

    /// Counts steps that a function takes by itself.
    pub(super) fn take(&self, steps: u64) -> Calc<()> {
        self.budget.take(steps)
    }

    fn zone(&self) -> TimeZone {
        self.clock.zone.clone()
    }

    fn wall(&self, instant: Timestamp) -> DateTime {
        instant.to_zoned(self.zone()).datetime()
    }

    /// The point in time at which the clock on the wall shows this.
    pub(super) fn instant(&self, wall: DateTime) -> Calc<Value> {
        wall.to_zoned(self.zone()).map(|z| Value::Instant(z.timestamp())).map_err(|_| CalcError::NoNumber.into())
    }

    fn name(&self, table: TableId, record: RecordId) -> Value {
        let standing = self.ds.table(table).map(|t| t.def.standing);
        let read = standing.and_then(|field| Route::new(self.ds, table, &[field]));
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
        Code::Sum { first, rest } => {
            let (mut all, mut day) = (scalar(&first.code, env, rows)?, first.day);
            for term in rest {
                env.budget.take(1)?;
                let part = scalar(&term.code, env, rows)?;
                all = sum(env, all, part, term.minus, (day, term.day))?;
                day = if term.minus { day && !term.day } else { day || term.day };
            }
            Ok(all)
        }
        Code::Join(parts) => {
            let mut joined = String::new();
            for part in parts {
                let value = scalar(part, env, rows)?;
                joined.push_str(&text_of(env, &value)?);
                if joined.len() > TEXT_RESULT_LIMIT {
                    return Err(CalcError::TooLarge.into());
                }
            }
            env.budget.take(text_steps(joined.len()))?;
            Ok(Value::Text(joined.into()))
        }
        Code::Binary(operator, sides) => {
            let (left, right) = (scalar(&sides.0, env, rows)?, scalar(&sides.1, env, rows)?);
            if let (Value::Text(a), Value::Text(b)) = (&left, &right) {
                env.budget.take(text_steps(a.len().min(b.len())))?;
            }
            binary(env, *operator, left, right)
        }
        Code::Negate(part) => scalar(part, env, rows).and_then(|v| as_number(env, &v)).map(|n| Value::Number(negated(n))),
        Code::Percent(part) => {
            let number = scalar(part, env, rows).and_then(|v| as_number(env, &v))?;
            divided(number, Decimal::ONE_HUNDRED).map(Value::Number)
        }
        Code::Read { .. } | Code::List { .. } | Code::Call(..) => run(code, env, rows)?.into_one(env),
    }
}

fn list(env: &Env<'_>, read: &Route<'_>, row: usize, narrowed: Option<&Code<'_>>, rows: &mut Vec<usize>) -> Calc<Val> {
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

/// What going through so many bytes of text costs: a step is about 50 ns, and a character people see about a tenth of one.
fn text_steps(bytes: usize) -> u64 {
    bytes as u64 / 4
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
            let texts: usize = values.iter().map(Val::text_len).sum();
            env.budget.take((size as u64).saturating_add(text_steps(texts)))?;
            body(&Args { env, values: &values, function })
        }
        Run::Lazy(body) => body(&mut Lazy { env, arguments, rows }),
    }
}
