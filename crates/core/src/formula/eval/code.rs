//! A formula made ready: what it names are columns now.

use super::{
    super::{
        Expr, Node, Operator, Path,
        arithmetic::divided,
        check::narrowed_table,
        function::{Function, Gives},
        names::leads_to,
    },
    Calc, Env,
};
use crate::{
    dataset::{Column, Dataset, Table},
    id::{FieldId, OptionId, RecordId, TableId},
    people::People,
    schema::{Choice, Kind},
    value::{CalcError, Cell, Customs, Value},
};
use rust_decimal::Decimal;
use std::sync::Arc;

/// A formula with its names resolved.
#[derive(Debug)]
pub(super) enum Code<'a> {
    Const(Value),
    Read {
        out: usize,
        read: Route<'a>,
    },
    List {
        out: usize,
        read: Route<'a>,
        narrowed: Option<Box<Code<'a>>>,
    },
    IsOption {
        out: usize,
        read: Route<'a>,
        option: OptionId,
        not: bool,
    },
    Call(&'static Function, Vec<Code<'a>>),
    /// A sum from the left. Where a date is due and none stands, there is no sum.
    Sum {
        first: Box<Term<'a>>,
        rest: Vec<Term<'a>>,
    },
    /// Texts, one after the other.
    Join(Vec<Code<'a>>),
    Binary(Operator, Box<(Code<'a>, Code<'a>)>),
    Negate(Box<Code<'a>>),
    Percent(Box<Code<'a>>),
}

/// A part of a sum.
#[derive(Debug)]
pub(super) struct Term<'a> {
    pub(super) minus: bool,
    /// It gives a date, by its type alone.
    pub(super) day: bool,
    pub(super) code: Code<'a>,
}

/// A path of columns.
#[derive(Debug)]
pub(super) struct Route<'a> {
    steps: Vec<(&'a Column, &'a Table)>,
    pub(super) last: Last<'a>,
    /// Every link on the way leads to one record at most, and the field holds one value.
    one: bool,
}

#[derive(Debug)]
pub(super) enum Last<'a> {
    /// The records at the path's end.
    Records(TableId),
    Column(&'a Column, Form<'a>),
    Meta(&'a Table, Kind),
}

/// How a cell becomes a value.
#[derive(Debug)]
pub(super) enum Form<'a> {
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

impl<'a> Route<'a> {
    pub(super) fn new(ds: &'a Dataset, table: TableId, fields: &[FieldId]) -> Option<Self> {
        let mut reading = Route { steps: Vec::new(), last: Last::Records(table), one: true };
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
                Kind::CreatedAt | Kind::CreatedBy | Kind::ChangedAt | Kind::ChangedBy | Kind::Id => {
                    self.last = Last::Meta(home, def.kind.clone())
                }
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
    pub(super) fn row(&self, mut row: usize) -> Option<usize> {
        for (column, target) in &self.steps {
            let record = column.links(row).iter().copied().find(|r| target.is_live(*r))?;
            row = record.row();
        }
        Some(row)
    }

    pub(super) fn rows(&self, row: usize, env: &Env<'_>) -> Calc<Vec<usize>> {
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
    pub(super) fn value(&self, env: &Env<'_>, row: usize) -> Calc<Value> {
        match self.row(row) {
            Some(row) => self.at(env, row),
            None => Ok(Value::Empty),
        }
    }

    /// The value of a record of the last table.
    #[inline]
    pub(super) fn at(&self, env: &Env<'_>, row: usize) -> Calc<Value> {
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
                    Value::Number(seconds) => divided(seconds, Decimal::from(86_400)).map(Value::Number),
                    Value::Error(error) => Err(error.into()),
                    _ => Ok(Value::Empty),
                },
            },
            Last::Meta(table, kind) => {
                let Some(meta) = table.meta(RecordId::at_row(row)) else { return Ok(Value::Empty) };
                let person = |actor| match actor {
                    crate::people::Actor::Person(person) => Value::text(env.ds.people.name(person)),
                    _ => Value::Empty,
                };
                Ok(match kind {
                    Kind::CreatedAt => Value::Instant(meta.created_at),
                    Kind::ChangedAt => Value::Instant(meta.changed_at),
                    Kind::CreatedBy => person(meta.created_by),
                    Kind::Id => Value::Number(RecordId::at_row(row).get().into()),
                    _ => person(meta.changed_by),
                })
            }
        }
    }

    /// Every value of a record of the last table.
    pub(super) fn all_at(&self, env: &Env<'_>, row: usize, found: &mut Vec<Value>) -> Calc<()> {
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
        Value::Range(start, end) => Value::text(&Customs::default().range_text(start, end)),
        Value::Web(web) => Value::text(&web.address),
        Value::Place(place) => Value::text(&crate::value::place_text(&place)),
        Value::Files(files) => Value::text(&files.iter().map(|f| f.name.as_str()).collect::<Vec<_>>().join(", ")),
        Value::Checklist(items) => Value::text(&items.iter().map(|i| i.text.as_str()).collect::<Vec<_>>().join(", ")),
        Value::Json(json) => Value::text(&json.to_string()),
        other => other,
    }
}

pub(super) fn compile<'a>(ds: &'a Dataset, scopes: &mut Vec<Option<TableId>>, node: &Node) -> Code<'a> {
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
        Expr::Chain(first, rest) if rest.iter().any(|(operator, _)| *operator == Operator::Join) => {
            Code::Join(std::iter::once(&**first).chain(rest.iter().map(|(_, part)| part)).map(|part| compile(ds, scopes, part)).collect())
        }
        Expr::Chain(first, rest) => {
            let mut term = |minus, part: &Node| Term { minus, day: is_day(ds, scopes, part), code: compile(ds, scopes, part) };
            Code::Sum {
                first: Box::new(term(false, first)),
                rest: rest.iter().map(|(operator, part)| term(*operator == Operator::Minus, part)).collect(),
            }
        }
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
    let Some(read) = Route::new(ds, home, &path.fields) else { return gone() };
    let Some(condition) = &path.narrowed else {
        return if read.one { Code::Read { out: path.out, read } } else { Code::List { out: path.out, read, narrowed: None } };
    };
    scopes.push(narrowed_table(ds, Some(home), &path.fields));
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
        Expr::Chain(first, rest) => rest.iter().fold(is_day(ds, scopes, first), |day, (operator, part)| match operator {
            Operator::Plus => day || is_day(ds, scopes, part),
            Operator::Minus => day && !is_day(ds, scopes, part),
            _ => false,
        }),
        Expr::Call(function, _) => matches!(function.gives, Gives::Date | Gives::Moment),
        _ => false,
    }
}
