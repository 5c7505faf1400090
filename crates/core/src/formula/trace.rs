//! How a formula came to its value: step by step, by the same evaluation that computes the cell.

use super::{
    Budget, Expr, Formula, Node, Program,
    eval::{Stop, Val},
    write::Writer,
};
use crate::{
    Clock,
    access::Lens,
    dataset::{Dataset, fitted},
    id::{FieldId, RecordId, TableId},
    schema::Kind,
    value::{CalcError, Value},
};
use serde::{Deserialize, Serialize};

/// Most steps and inputs that a trace shows.
const MOST: usize = 40;
/// Longest text of one value in a trace, in characters.
const LONGEST: usize = 120;

/// A part of a formula, with the values of its own parts put in, and what it gave.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TraceStep {
    pub part: String,
    pub with_values: String,
    pub result: String,
}

/// A value that went in.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Source {
    /// As the formula names it.
    pub name: String,
    pub text: String,
    /// The cell it stands in; none where there are many.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cell: Option<SourceCell>,
    /// Who put it in and when, where that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub set: Option<String>,
}

/// A cell that a value comes from.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SourceCell {
    pub table: TableId,
    pub record: RecordId,
    pub field: FieldId,
    /// What stands for the record.
    pub record_name: String,
    /// It is computed too, and can be asked why.
    pub computed: bool,
}

/// How a formula came to its value.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Trace {
    pub formula: String,
    /// The formula with the values of the record put in.
    pub with_values: String,
    /// Innermost first; parts that were not needed are left out.
    pub steps: Vec<TraceStep>,
    pub sources: Vec<Source>,
}

/// A formula tried on a record without being kept.
#[derive(Clone, Debug, PartialEq)]
pub struct Tried {
    pub value: Value,
    /// The value as the field would show it.
    pub text: String,
    pub trace: Trace,
}

impl Lens<'_> {
    /// What a formula gives for a record, and how. Shown as this kind, or as fits its type. None where the asker may not
    /// see the record, or anything that the formula draws on for it.
    pub fn try_formula(&self, formula: &Formula, table: TableId, shows: Option<&Kind>, record: RecordId) -> Option<Tried> {
        if !self.sees(table, record) || !self.formula_is_open(formula, table, record) {
            return None;
        }
        let (ds, clock) = (self.dataset(), self.clock());
        let kind = shows.cloned().unwrap_or_else(|| Kind::of_type(formula.result_type(ds, table).0.of));
        let value = self.worked_out(formula, table, record, &kind)?;
        let text = ds.shown_as(&value, &kind, clock);
        Some(Tried { value, text, trace: self.trace(formula, table, record) })
    }

    /// What a formula gives for a record, as this kind holds it. None where the asker may not see all that it draws on.
    pub(crate) fn worked_out(&self, formula: &Formula, table: TableId, record: RecordId, kind: &Kind) -> Option<Value> {
        if !self.sees(table, record) || !self.formula_is_open(formula, table, record) {
            return None;
        }
        let budget = Budget::new(1);
        let value = Program::new(formula, self.dataset(), table, self.clock(), &budget).value(record.row());
        Some(fitted(value, kind, self.clock()))
    }

    /// How a formula comes to its value for a record; what it draws on is open to the asker.
    pub(crate) fn trace(&self, formula: &Formula, table: TableId, record: RecordId) -> Trace {
        let budget = Budget::new(10 * MOST);
        let mut tracer = Tracer { lens: self, table, row: record.row(), budget: &budget, steps: Vec::new(), sources: Vec::new() };
        tracer.node(&formula.0);
        let with_values = tracer.with_values(&formula.0, true);
        Trace { formula: formula.text(self.dataset()), with_values, steps: tracer.steps, sources: tracer.sources }
    }
}

impl Dataset {
    /// A computed value as a kind shows it.
    fn shown_as(&self, value: &Value, kind: &Kind, clock: &Clock) -> String {
        match value {
            Value::Number(number) => kind.computed_words(*number, clock.customs()),
            Value::Text(text) => text.to_string(),
            Value::Logical(yes) => if *yes { "yes" } else { "no" }.into(),
            Value::Date(date) => clock.customs().date_text(*date),
            Value::Instant(instant) => crate::value::moment_text(*instant, clock),
            Value::Error(error) => error.sign().into(),
            _ => String::new(),
        }
    }
}

struct Tracer<'a, 'd> {
    /// The asker's: records are named as they may know them.
    lens: &'a Lens<'d>,
    table: TableId,
    row: usize,
    budget: &'a Budget,
    steps: Vec<TraceStep>,
    sources: Vec<Source>,
}

impl Tracer<'_, '_> {
    fn value(&self, node: &Node) -> (Option<Val>, String) {
        let program = Program::of_node(node, self.lens.dataset(), &mut vec![Some(self.table)], self.lens.clock(), self.budget);
        match program.run(&mut vec![self.row]) {
            Ok(val) => {
                let words = program.words(&val);
                (Some(val), words)
            }
            Err(Stop::Empty) => (None, String::new()),
            Err(Stop::Error(error)) => (None, error.sign().to_owned()),
        }
    }

    /// A value as it is put into a formula: texts in quotes, long ones cut off.
    fn put_in(&self, node: &Node) -> String {
        let (val, words) = self.value(node);
        let words = short(&self.shown(node).unwrap_or(words));
        match val {
            Some(Val::One(Value::Text(_))) => format!("\"{words}\""),
            Some(Val::One(Value::Empty)) | None if words.is_empty() => "nothing".into(),
            Some(Val::List(values)) => format!("[{words}] ({} values)", values.len()),
            Some(Val::Records(_, records)) => format!("[{words}] ({} records)", records.len()),
            _ => words,
        }
    }

    /// The text of a part with values in place of its own parts; `deep`: of every field, however deep.
    fn with_values(&self, node: &Node, deep: bool) -> String {
        let put = |part: &Node| {
            let leaf = matches!(part.expr, Expr::Path(_));
            let direct = !deep && !std::ptr::eq(part, node) && !part.parts().is_empty();
            (leaf || direct).then(|| self.put_in(part))
        };
        let mut writer = Writer::new(Some(self.lens.dataset()));
        writer.put_in = Some(&put);
        writer.write(node)
    }

    fn node(&mut self, node: &Node) {
        if let Expr::Path(_) = node.expr {
            return self.source(node);
        }
        for part in self.needed(node) {
            self.node(part);
        }
        if !node.parts().is_empty() && self.steps.len() < MOST {
            let part = super::write::text(node, Some(self.lens.dataset()));
            if self.steps.iter().all(|s| s.part != part) {
                let (_, result) = self.value(node);
                self.steps.push(TraceStep { part, with_values: self.with_values(node, false), result: short(&result) });
            }
        }
    }

    /// The parts that were evaluated: of IF, only one branch.
    fn needed<'n>(&self, node: &'n Node) -> Vec<&'n Node> {
        match &node.expr {
            Expr::Call(function, arguments) if function.name == "IF" && arguments.len() > 1 => {
                let taken = match self.value(&arguments[0]).0 {
                    Some(Val::One(Value::Logical(yes))) => Some(yes),
                    Some(Val::One(Value::Number(number))) => Some(!number.is_zero()),
                    Some(Val::One(Value::Empty)) => Some(false),
                    _ => None,
                };
                let branch = match taken {
                    Some(true) => arguments.get(1),
                    Some(false) => arguments.get(2),
                    None => None,
                };
                arguments.first().into_iter().chain(branch).collect()
            }
            _ => node.parts(),
        }
    }

    fn source(&mut self, node: &Node) {
        let name = super::write::text(node, Some(self.lens.dataset()));
        if self.sources.len() >= MOST || self.sources.iter().any(|s| s.name == name) {
            return;
        }
        let (_, text) = self.value(node);
        let text = self.shown(node).unwrap_or(text);
        let cell = self.cell(node);
        self.sources.push(Source { name, text: short(&text), cell, set: None });
    }

    /// A path's value as its one cell shows it.
    fn shown(&self, node: &Node) -> Option<String> {
        let cell = self.cell(node)?;
        Some(self.lens.whole().text_at(cell.table, cell.record, cell.field))
    }

    /// The one cell that a path ends in, if it does.
    fn cell(&self, node: &Node) -> Option<SourceCell> {
        let Expr::Path(path) = &node.expr else { return None };
        if path.narrowed.is_some() {
            return None;
        }
        let (last, links) = path.fields.split_last()?;
        let (mut table, mut row) = (self.table, self.row);
        for link in links {
            let home = self.lens.dataset().table(table)?;
            let target = home.link(*link)?;
            let [record] = home.column(*link)?.links(row) else { return None };
            (table, row) = (target.to, record.row());
        }
        let record = RecordId::at_row(row);
        let computed = self.lens.dataset().table(table)?.def.field(*last)?.kind.is_computed();
        let record_name = self.lens.record_name(table, record)?.name;
        Some(SourceCell { table, record, field: *last, record_name, computed })
    }
}

fn short(text: &str) -> String {
    if text.chars().count() <= LONGEST { text.to_owned() } else { text.chars().take(LONGEST).collect::<String>() + "…" }
}

impl CalcError {
    /// What the why slip says of it.
    pub fn sentence(self) -> String {
        format!("{} means: {}.", self.sign(), self.words())
    }
}
