//! Types of formulas, and what does not fit. Texts that name an option or a person become what they name.

use super::{
    Expr, FormulaFault, Node, Operator, Path,
    function::{Function, Gives, Takes},
    names::{leads_to, like},
};
use crate::{
    dataset::Dataset,
    id::{FieldId, TableId},
    schema::Kind,
};
use serde::{Deserialize, Serialize};

/// The type of a value.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Type {
    /// One of several, or not known.
    Any,
    /// Always nothing.
    Nothing,
    Number,
    /// A part of a day: a number that makes a date and time of a date.
    Time,
    Text,
    Logical,
    Date,
    /// A date and time.
    Moment,
    /// A text that is the name of one of this field's options.
    Choice(FieldId),
    Person,
    Record(TableId),
}

/// A type, of one value or of a list of them.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ResultType {
    pub of: Type,
    pub list: bool,
}

impl Type {
    /// As it is called in a fault.
    pub fn name(self) -> &'static str {
        match self {
            Type::Any => "a value",
            Type::Nothing => "nothing",
            Type::Number => "a number",
            Type::Time => "a time",
            Type::Text => "a text",
            Type::Logical => "yes or no",
            Type::Date => "a date",
            Type::Moment => "a date and time",
            Type::Choice(_) => "a choice",
            Type::Person => "a person",
            Type::Record(_) => "a link",
        }
    }

    fn is_text(self) -> bool {
        matches!(self, Type::Text | Type::Choice(_) | Type::Person | Type::Record(_))
    }

    pub(super) fn is_day(self) -> bool {
        matches!(self, Type::Date | Type::Moment)
    }

    fn is_number(self) -> bool {
        matches!(self, Type::Number | Type::Time)
    }

    fn is_open(self) -> bool {
        matches!(self, Type::Any | Type::Nothing)
    }

    /// The type of what is one or the other.
    fn or(self, other: Self) -> Self {
        match (self, other) {
            (a, b) if a == b => a,
            (Type::Nothing, other) | (other, Type::Nothing) => other,
            (a, b) if a.is_text() && b.is_text() => Type::Text,
            (Type::Number | Type::Time, Type::Number | Type::Time) => Type::Number,
            _ => Type::Any,
        }
    }
}

impl ResultType {
    fn one(of: Type) -> Self {
        Self { of, list: false }
    }
}

/// The result of a formula of a table; faults where parts do not fit together.
/// `typed`: it is typed now, so that what could be written better is a fault too.
pub(super) fn result_type(ds: &Dataset, table: TableId, node: &mut Node, faults: &mut Vec<FormulaFault>, typed: bool) -> ResultType {
    let mut checker = Checker { ds, scopes: vec![Some(table)], faults, typed };
    let result = checker.node(node);
    if result.list && checker.faults.is_empty() {
        checker.many(node, "");
    }
    result
}

/// The table whose fields may be named behind *where*; none where there is no list to narrow.
pub(crate) fn narrowed_table(ds: &Dataset, table: Option<TableId>, fields: &[FieldId]) -> Option<TableId> {
    let (last, links) = fields.split_last()?;
    let at = links.iter().try_fold(table?, |at, link| leads_to(ds, at, *link))?;
    match leads_to(ds, at, *last) {
        Some(to) => Some(to),
        None => (!links.is_empty()).then_some(at),
    }
}

struct Checker<'a> {
    ds: &'a Dataset,
    scopes: Vec<Option<TableId>>,
    faults: &'a mut Vec<FormulaFault>,
    typed: bool,
}

impl Checker<'_> {
    fn fault(&mut self, node: &Node, message: String) {
        self.faults.push(FormulaFault::new(node.span, message));
    }

    /// Many values where one is needed.
    fn many(&mut self, node: &Node, wanted: &str) {
        let text = super::write::text(node, Some(self.ds));
        let wanted = if wanted.is_empty() { String::new() } else { format!(" where {wanted} is needed") };
        self.fault(
            node,
            format!("“{text}” gives many values{wanted}: say which, with a function such as SUM({text}), COUNT({text}) or FIRST({text})"),
        );
    }

    fn node(&mut self, node: &mut Node) -> ResultType {
        let mut expr = std::mem::replace(&mut node.expr, Expr::Nothing);
        let result = match &mut expr {
            Expr::Number(_) => ResultType::one(Type::Number),
            // Two quotes with nothing between them are how one writes nothing.
            Expr::Text(text) if text.is_empty() => ResultType::one(Type::Nothing),
            Expr::Text(_) | Expr::Option(_) => ResultType::one(Type::Text),
            Expr::Person(_) => ResultType::one(Type::Person),
            Expr::Logical(_) => ResultType::one(Type::Logical),
            Expr::Nothing => ResultType::one(Type::Any),
            Expr::Path(path) => self.path(node, path),
            Expr::Negate(part) | Expr::Percent(part) => {
                self.number(part, "a sign before a value");
                ResultType::one(Type::Number)
            }
            Expr::Binary(operator, left, right) => ResultType::one(self.binary(*operator, left, right)),
            Expr::Chain(first, rest) => ResultType::one(self.chain(first, rest)),
            Expr::Call(function, arguments) => self.call(node, function, arguments),
        };
        node.expr = expr;
        result
    }

    /// One value.
    fn one(&mut self, node: &mut Node, wanted: &str) -> Type {
        let result = self.node(node);
        if result.list {
            self.many(node, wanted);
            return Type::Any;
        }
        result.of
    }

    fn number(&mut self, node: &mut Node, by: &str) -> Type {
        let found = self.one(node, "one number");
        if found.is_text() {
            let text = super::write::text(node, Some(self.ds));
            self.fault(node, format!("“{text}” is {}, but {by} needs a number; VALUE({text}) reads a number from a text", found.name()));
        } else if found.is_day() {
            let text = super::write::text(node, Some(self.ds));
            self.fault(node, format!("“{text}” is {}, but {by} needs a number; the days between two dates are a number", found.name()));
        }
        found
    }

    fn binary(&mut self, operator: Operator, left: &mut Node, right: &mut Node) -> Type {
        match operator {
            Operator::Times | Operator::By | Operator::Power => {
                let by = format!("“{}”", operator.sign());
                self.number(left, &by);
                self.number(right, &by);
                Type::Number
            }
            _ => {
                let (a, b) = (self.one(left, "one value"), self.one(right, "one value"));
                self.compared(a, left, b, right);
                Type::Logical
            }
        }
    }

    /// A sum, or joined texts: from the left.
    fn chain(&mut self, first: &mut Node, rest: &mut [(Operator, Node)]) -> Type {
        if rest.iter().any(|(operator, _)| *operator == Operator::Join) {
            std::iter::once(first).chain(rest.iter_mut().map(|(_, part)| part)).for_each(|part| {
                self.one(part, "one text");
            });
            return Type::Text;
        }
        let mut all = self.one(first, "one value");
        for (place, (operator, part)) in rest.iter_mut().enumerate() {
            if place == 0 {
                self.no_text(all, first, *operator);
            }
            let found = self.one(part, "one value");
            self.no_text(found, part, *operator);
            all = self.sum(*operator, all, found, part);
        }
        all
    }

    fn no_text(&mut self, found: Type, node: &Node, operator: Operator) {
        if !found.is_text() {
            return;
        }
        let text = super::write::text(node, Some(self.ds));
        let hint =
            if operator == Operator::Plus { "texts are joined with &" } else { "DATEVALUE and VALUE read a date or a number from a text" };
        let message = format!("“{text}” is {}, but “{}” needs numbers or dates; {hint}", found.name(), operator.sign());
        self.fault(node, message);
    }

    /// What a value and a part after it give.
    fn sum(&mut self, operator: Operator, a: Type, b: Type, right: &Node) -> Type {
        match (a.is_day(), b.is_day(), operator) {
            (true, true, Operator::Minus) => Type::Number,
            // A date with a time of day is a date and time.
            (true, false, _) if a == Type::Date && b == Type::Time => Type::Moment,
            (false, true, Operator::Plus) if a == Type::Time && b == Type::Date => Type::Moment,
            (false, false, _) if a == Type::Time && b == Type::Time => Type::Time,
            (true, true, _) => {
                self.fault(right, "two dates can’t be added; their difference is the days between them".to_owned());
                Type::Number
            }
            (true, false, _) => a,
            (false, true, Operator::Plus) => b,
            (false, true, _) => {
                if !a.is_open() {
                    self.fault(right, "a date can’t be taken from a number; put the date first".to_owned());
                }
                Type::Any
            }
            (false, false, _) if a == Type::Any || b == Type::Any => Type::Any,
            (false, false, _) => Type::Number,
        }
    }

    /// Two values that are compared: texts become the options or persons that they name.
    fn compared(&mut self, a: Type, left: &mut Node, b: Type, right: &mut Node) {
        match (a, b) {
            (Type::Choice(field), Type::Text) => self.named_option(field, right),
            (Type::Text, Type::Choice(field)) => self.named_option(field, left),
            (Type::Person, Type::Text) => self.named_person(right),
            (Type::Text, Type::Person) => self.named_person(left),
            (a, b) if a.is_open() || b.is_open() || a == b => {}
            (a, b) if a.is_text() && b.is_text() || a.is_day() && b.is_day() || a.is_number() && b.is_number() => {}
            (a, b) => {
                let hint = if a.is_day() || b.is_day() { "; DATE(2026, 11, 18) writes a date" } else { "" };
                self.fault(right, format!("{} is compared with {}: they can never be the same{hint}", a.name(), b.name()));
            }
        }
    }

    fn named_option(&mut self, field: FieldId, node: &mut Node) {
        let Expr::Text(text) = &node.expr else { return };
        if text.is_empty() {
            return;
        }
        let Some((_, def)) = self.ds.field(field) else { return };
        let wanted = text.to_lowercase();
        let options = def.kind.options();
        if let Some(option) = options.iter().find(|o| o.name.to_lowercase() == wanted) {
            node.expr = Expr::Option(option.id);
            return;
        }
        let names: Vec<&str> = options.iter().map(|o| o.name.as_str()).collect();
        let guess = like(text, names.iter().copied());
        let hint = match guess {
            Some(guess) => format!("did you mean “{guess}”?"),
            None => format!("it is {}", crate::value::list_text(&names, "or")),
        };
        let message = format!("“{}” has no option “{text}”; {hint}", def.name);
        let fault = FormulaFault { instead: guess.map(|g| format!("\"{g}\"")), ..FormulaFault::new(node.span, message) };
        self.faults.push(fault);
    }

    fn named_person(&mut self, node: &mut Node) {
        let Expr::Text(text) = &node.expr else { return };
        if let Some(person) = self.ds.people.find(text) {
            node.expr = Expr::Person(person.id);
        } else if !text.is_empty() {
            let message = format!("nobody in the team, or more than one person, is called “{text}”");
            self.fault(&node.clone(), message);
        }
    }

    fn path(&mut self, node: &Node, path: &mut Path) -> ResultType {
        let home = self.scopes.iter().rev().nth(path.out).copied().flatten();
        let Some(result) = self.along(home, &path.fields) else {
            self.fault(node, "this names a field that is not there any more".to_owned());
            return ResultType::one(Type::Any);
        };
        if result.of == Type::Nothing {
            self.fault(node, "a button has no value".to_owned());
        }
        let Some(condition) = &mut path.narrowed else { return result };
        let target = narrowed_table(self.ds, home, &path.fields);
        self.scopes.push(target);
        let found = self.one(condition, "one yes or no");
        self.scopes.pop();
        if !matches!(found, Type::Logical | Type::Any | Type::Number | Type::Time) {
            self.fault(
                condition,
                format!("behind where stands {}, but something that holds or not is needed, such as Status = \"reported\"", found.name()),
            );
        }
        ResultType { list: true, ..result }
    }

    /// The result at the end of a path; none where something on it is gone.
    fn along(&self, table: Option<TableId>, fields: &[FieldId]) -> Option<ResultType> {
        let (last, links) = fields.split_last()?;
        let mut at = table?;
        let mut list = false;
        for link in links {
            list |= many(self.ds, at, *link)?;
            at = leads_to(self.ds, at, *link)?;
        }
        let (home, kind) = self.ds.shown_kind(at, *last)?;
        list |= many(self.ds, at, *last)?;
        let of = match kind.shows() {
            Kind::Choice { .. } | Kind::Choices { .. } => Type::Choice(self.ds.shown_field(at, *last).unwrap_or(*last)),
            Kind::Link(link) => Type::Record(link.to),
            other => plain_type(other),
        };
        let _ = home;
        Some(ResultType { of, list })
    }

    fn call(&mut self, node: &Node, function: &'static Function, arguments: &mut [Node]) -> ResultType {
        let (least, most) = function.arguments();
        if arguments.len() < least || most.is_some_and(|most| arguments.len() > most) {
            let wants = match (least, most) {
                (0, Some(0)) => "nothing".to_owned(),
                (1, Some(1)) => "one value".to_owned(),
                (least, Some(most)) if least == most => format!("{least} values"),
                (least, Some(most)) => format!("{least} to {most} values"),
                (1, None) => "at least one value".to_owned(),
                (least, None) => format!("at least {least} values"),
            };
            let message = format!("{} needs {wants} in its brackets, but has {}: {}", function.name, arguments.len(), function.signature());
            self.fault(node, message);
        }
        let mut types = Vec::new();
        for (place, argument) in arguments.iter_mut().enumerate() {
            let takes = function.takes(place);
            let result = self.node(argument);
            self.argument(function, takes, argument, result);
            types.push(result);
        }
        if function.name == "SWITCH" {
            self.switched(&types, arguments);
        }
        if self.typed && function.name == "IF" && types.len() == 2 && types[1].of.is_day() {
            let message = "without its last part IF gives FALSE where the test does not hold, and FALSE is no date: say what stands there then, \"\" for nothing";
            self.fault(node, message.to_owned());
        }
        self.gives(function, &types)
    }

    fn argument(&mut self, function: &Function, takes: Takes, node: &Node, result: ResultType) {
        if result.list && !takes.many() {
            return self.many(node, &format!("{} takes one value", function.name));
        }
        let fits = match takes {
            Takes::Any | Takes::Texts | Takes::Text | Takes::List | Takes::Values => true,
            Takes::Number => !result.of.is_text() && !result.of.is_day(),
            Takes::Numbers => !result.of.is_text() || matches!(result.of, Type::Record(_)) && function.name.starts_with("COUNT"),
            Takes::Day | Takes::Days => !result.of.is_text() && result.of != Type::Logical,
            Takes::Logical => !result.of.is_text() && !result.of.is_day(),
        };
        if !fits {
            let text = super::write::text(node, Some(self.ds));
            self.fault(node, format!("{} needs {}, but “{text}” is {}", function.name, takes.words(), result.of.name()));
        }
    }

    /// The values that a switch compares with its first.
    fn switched(&mut self, types: &[ResultType], arguments: &mut [Node]) {
        let Some((first, rest)) = arguments.split_first_mut() else { return };
        for (place, case) in rest.iter_mut().enumerate().step_by(2) {
            let (Some(of), Some(result), true) = (types.first(), types.get(place + 1), place + 2 < types.len()) else { continue };
            self.compared(of.of, first, result.of, case);
        }
    }

    fn gives(&self, function: &Function, types: &[ResultType]) -> ResultType {
        let joined =
            |from: usize, step: usize| types.iter().skip(from).step_by(step).map(|s| s.of).reduce(Type::or).unwrap_or(Type::Nothing);
        match function.gives {
            Gives::Number => ResultType::one(Type::Number),
            Gives::Time => ResultType::one(Type::Time),
            Gives::Text => ResultType::one(Type::Text),
            Gives::Logical => ResultType::one(Type::Logical),
            Gives::Date => ResultType::one(Type::Date),
            Gives::Moment => ResultType::one(Type::Moment),
            Gives::Like(place) => ResultType::one(types.get(place).map_or(Type::Any, |s| s.of)),
            Gives::Most => match joined(0, 1) {
                of if of.is_day() => ResultType::one(of),
                _ => ResultType::one(Type::Number),
            },
            Gives::List => ResultType { of: joined(0, 1), list: true },
            Gives::OneOf(from) => ResultType::one(joined(from, 1)),
            Gives::EveryOther(from) => {
                // With a default at the end, that one too.
                let default = (function.name == "SWITCH" && types.len().is_multiple_of(2)).then(|| types.last().map(|s| s.of)).flatten();
                ResultType::one(default.into_iter().fold(joined(from, 2), Type::or))
            }
            Gives::Nothing => ResultType::one(Type::Nothing),
        }
    }
}

/// Whether a field gives many values.
fn many(ds: &Dataset, table: TableId, field: FieldId) -> Option<bool> {
    let def = ds.table(table)?.def.field(field)?;
    Some(match &def.kind {
        Kind::Link(link) => !link.one,
        Kind::Choices { .. } | Kind::People => true,
        Kind::Carried { links, field } => {
            let mut at = table;
            let mut list = false;
            for link in links {
                list |= many(ds, at, *link)?;
                at = leads_to(ds, at, *link)?;
            }
            list || many(ds, at, *field)?
        }
        _ => false,
    })
}

fn plain_type(kind: &Kind) -> Type {
    match kind {
        Kind::Number { .. } | Kind::Money { .. } | Kind::Percent { .. } | Kind::Rating { .. } | Kind::Id => Type::Number,
        Kind::Duration => Type::Time,
        Kind::YesNo => Type::Logical,
        Kind::Date => Type::Date,
        Kind::DateTime | Kind::CreatedAt | Kind::ChangedAt => Type::Moment,
        Kind::Person | Kind::People | Kind::CreatedBy | Kind::ChangedBy => Type::Person,
        Kind::Button { .. } => Type::Nothing,
        Kind::Text { .. }
        | Kind::LongText
        | Kind::Email
        | Kind::Phone
        | Kind::Web
        | Kind::Place
        | Kind::Files
        | Kind::Checklist
        | Kind::Range
        | Kind::Numbering { .. }
        | Kind::Json => Type::Text,
        Kind::Choice { .. } | Kind::Choices { .. } | Kind::Link(_) | Kind::Carried { .. } | Kind::Summary(_) | Kind::Calculation { .. } => {
            Type::Any
        }
    }
}

impl Kind {
    /// Whether values of this type can be shown so.
    pub fn shows_type(&self, of: Type) -> bool {
        match of {
            Type::Number | Type::Time => self.is_number(),
            Type::Logical => matches!(self, Kind::YesNo | Kind::Number { .. }),
            Type::Date | Type::Moment => matches!(self, Kind::DateTime | Kind::Date),
            Type::Text | Type::Choice(_) | Type::Person | Type::Record(_) => matches!(self, Kind::Text { .. }),
            Type::Any | Type::Nothing => self.is_number() || matches!(self, Kind::Text { .. } | Kind::YesNo | Kind::Date | Kind::DateTime),
        }
    }

    /// Every way in which values of a type can be shown, the plainest first.
    pub fn all_of_type(of: Type) -> Vec<Self> {
        let plainest = Kind::of_type(of);
        let others = [
            Kind::Number { decimals: 0, unit: String::new() },
            Kind::Money { currency: "GBP".into() },
            Kind::Percent { decimals: 0 },
            Kind::Duration,
            Kind::Text { limit: super::TEXT_RESULT_LIMIT },
            Kind::YesNo,
            Kind::Date,
            Kind::DateTime,
        ];
        let others = others.into_iter().filter(|kind| kind.shows_type(of) && *kind != plainest);
        std::iter::once(plainest.clone()).chain(others).collect()
    }

    /// How values of a type are shown where nothing else was chosen.
    pub fn of_type(of: Type) -> Self {
        match of {
            Type::Number => Kind::Number { decimals: 0, unit: String::new() },
            Type::Time => Kind::Duration,
            Type::Logical => Kind::YesNo,
            Type::Date => Kind::Date,
            Type::Moment => Kind::DateTime,
            Type::Any | Type::Nothing | Type::Text | Type::Choice(_) | Type::Person | Type::Record(_) => {
                Kind::Text { limit: super::TEXT_RESULT_LIMIT }
            }
        }
    }
}
