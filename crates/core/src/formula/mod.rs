//! Formulas: a language over fields, after OpenFormula (OASIS ODF 1.3 part 4) where that defines things.
//!
//! The way through it: [`Formula::read`] takes what was typed and gives a formula with its type, or faults at their
//! places; a formula keeps ids and is written back as text by [`Formula::text`], so that renaming costs nothing;
//! [`Program`] is a formula made ready for a dataset, and gives the value for any record.
//!
//! What OpenFormula leaves open, and what we chose:
//! - Dates are their own type, not numbers: an empty date in a calculation gives nothing instead of a day in 1899.
//! - A date and time counts by the clock on the wall: a day has 24 hours, also where the clocks are put forward.
//! - Texts are equal whatever their capitals and accents, as in conditions; `EXACT` compares strictly.
//! - `LEN`, `LEFT`, `MID`, `RIGHT`, `FIND` and the like count extended grapheme clusters (Unicode annex 29).
//! - Numbers are exact decimals of 28 digits; results of division and roots are settled to 24.
//! - `FIND` and `SEARCH` know no wildcards; `0^0` is 1.

mod arithmetic;
mod check;
mod eval;
mod function;
pub mod functions;
mod names;
mod parse;
mod read;
mod refs;
#[cfg(test)]
mod tests;
mod trace;
mod write;
pub(crate) use refs::formula_refs;

pub(crate) use check::narrowed_table;
pub use check::{ResultType, Type};
pub(crate) use eval::{Budget, Program, settle};
pub use trace::{Source, SourceCell, Trace, TraceStep, Tried};

use crate::id::{FieldId, OptionId, PersonId};
use function::Function;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::{collections::BTreeSet, sync::Arc};

/// Longest formula, in bytes as typed.
pub const LENGTH_LIMIT: usize = 8_000;
/// Deepest tree: brackets in brackets, products in a row. Sums and joined texts may be as long as a formula.
pub const MAX_DEPTH: usize = 100;
/// Longest text that a formula makes, in bytes.
pub const TEXT_RESULT_LIMIT: usize = 50_000;
/// Most steps of one evaluation: about a tenth of a second.
pub const STEPS_LIMIT: u64 = 2_000_000;

/// A formula, by ids. In JSON and in PostgreSQL it is its own text with ids for names.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "openapi", schema(value_type = String))]
#[serde(try_from = "String", into = "String")]
pub struct Formula(pub(crate) Arc<Node>);

/// What was made of a typed formula: always something, and everything that is wrong with it.
#[derive(Clone, Debug)]
pub struct Parsed {
    pub formula: Formula,
    pub result: ResultType,
    pub faults: Vec<FormulaFault>,
}

/// Something wrong in a formula.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FormulaFault {
    pub span: Span,
    pub message: String,
    /// What to put in its place, where there is a good guess.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub instead: Option<String>,
}

/// A place in the typed text, in UTF-16 code units as browsers count; in bytes while it is being read.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Span {
    pub from: u32,
    pub to: u32,
}

/// A part of a formula, and where it stood when it was read.
#[derive(Clone, Debug)]
pub(crate) struct Node {
    pub(crate) expr: Expr,
    pub(crate) span: Span,
    /// Levels beneath it.
    pub(crate) height: u8,
}

/// Two formulas are the same if they say the same, wherever it stood.
impl PartialEq for Node {
    fn eq(&self, other: &Self) -> bool {
        self.expr == other.expr
    }
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Expr {
    Number(Decimal),
    Text(Arc<str>),
    Logical(bool),
    /// A text that names an option of the choice it is compared with.
    Option(OptionId),
    /// A text that names the person it is compared with.
    Person(PersonId),
    Path(Path),
    Call(&'static Function, Vec<Node>),
    /// Comparing, multiplying, dividing, powers.
    Binary(Operator, Box<Node>, Box<Node>),
    /// Sums and joined texts, however long: from the left, each part with the operator before it.
    Chain(Box<Node>, Vec<(Operator, Node)>),
    Negate(Box<Node>),
    Percent(Box<Node>),
    /// What could not be read.
    Nothing,
}

/// A field of the record, perhaps along links; perhaps only of those linked records for which something holds.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Path {
    /// How many *where*s lie between this and the record it starts from.
    pub(crate) out: usize,
    /// The links to follow, then the field.
    pub(crate) fields: Vec<FieldId>,
    pub(crate) narrowed: Option<Box<Node>>,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Operator {
    Is,
    IsNot,
    Under,
    AtMost,
    Over,
    AtLeast,
    Join,
    Plus,
    Minus,
    Times,
    By,
    Power,
}

/// Sign, operator, how tightly it binds. All are read from the left; signs before a value bind tighter than these,
/// and `%` after it binds like a sign.
pub(crate) const OPERATORS: [(&str, Operator, u8); 16] = [
    ("<>", Operator::IsNot, 1),
    ("<=", Operator::AtMost, 1),
    (">=", Operator::AtLeast, 1),
    ("≠", Operator::IsNot, 1),
    ("≤", Operator::AtMost, 1),
    ("≥", Operator::AtLeast, 1),
    ("=", Operator::Is, 1),
    ("<", Operator::Under, 1),
    (">", Operator::Over, 1),
    ("&", Operator::Join, 2),
    ("+", Operator::Plus, 3),
    ("-", Operator::Minus, 3),
    ("\u{2212}", Operator::Minus, 3),
    ("*", Operator::Times, 4),
    ("/", Operator::By, 4),
    ("^", Operator::Power, 5),
];

impl Operator {
    fn row(self) -> (&'static str, u8) {
        let row = OPERATORS.iter().rev().find(|(sign, operator, _)| *operator == self && sign.is_ascii());
        row.map_or(("?", 0), |(sign, _, binds)| (sign, *binds))
    }

    pub(crate) fn sign(self) -> &'static str {
        self.row().0
    }

    pub(crate) fn binds(self) -> u8 {
        self.row().1
    }
}

/// How often a value changes by itself.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord)]
pub enum Turns {
    #[default]
    Never,
    Daily,
    /// `NOW()` is the beginning of the minute.
    Minutely,
}

impl Formula {
    /// Every field it names, on the way or at an end.
    pub fn fields(&self) -> BTreeSet<FieldId> {
        let mut found = BTreeSet::new();
        self.0.visit(&mut |node| {
            if let Expr::Path(path) = &node.expr {
                found.extend(&path.fields);
            }
        });
        found
    }

    /// Whether it names an option of a choice.
    pub fn names_option(&self, option: OptionId) -> bool {
        let mut found = false;
        self.0.visit(&mut |node| found |= matches!(node.expr, Expr::Option(named) if named == option));
        found
    }

    /// How often its value changes though nothing that it names does.
    pub fn turns(&self) -> Turns {
        let mut turns = Turns::Never;
        self.0.visit(&mut |node| {
            if let Expr::Call(function, _) = &node.expr {
                turns = turns.max(function.turns());
            }
        });
        turns
    }
}

impl Node {
    pub(crate) fn visit(&self, see: &mut impl FnMut(&Node)) {
        see(self);
        self.parts().into_iter().for_each(|part| part.visit(see));
    }

    pub(crate) fn parts(&self) -> Vec<&Node> {
        match &self.expr {
            Expr::Call(_, arguments) => arguments.iter().collect(),
            Expr::Binary(_, left, right) => vec![left, right],
            Expr::Chain(first, rest) => std::iter::once(&**first).chain(rest.iter().map(|(_, part)| part)).collect(),
            Expr::Negate(part) | Expr::Percent(part) => vec![part],
            Expr::Path(path) => path.narrowed.iter().map(|n| &**n).collect(),
            Expr::Number(_) | Expr::Text(_) | Expr::Logical(_) | Expr::Option(_) | Expr::Person(_) | Expr::Nothing => Vec::new(),
        }
    }
}

impl Span {
    fn new(from: usize, to: usize) -> Self {
        let place = |at| u32::try_from(at).unwrap_or(u32::MAX);
        Self { from: place(from), to: place(to) }
    }

    fn in_utf16(self, text: &str) -> Self {
        let units = |byte: u32| text.get(..byte as usize).unwrap_or(text).encode_utf16().count();
        Self::new(units(self.from), units(self.to))
    }
}

impl FormulaFault {
    fn new(span: Span, message: impl Into<String>) -> Self {
        Self { span, message: message.into(), instead: None }
    }
}

impl From<Formula> for String {
    fn from(formula: Formula) -> Self {
        write::text(&formula.0, None)
    }
}

impl Formula {
    /// A formula that names nothing and gives nothing.
    pub fn nothing() -> Self {
        Self(Arc::new(parse::parse("\"\"", None).0))
    }
}

impl TryFrom<String> for Formula {
    type Error = String;

    /// From its text with ids for names.
    fn try_from(text: String) -> Result<Self, String> {
        let (node, faults) = parse::parse(&text, None);
        match faults.first() {
            Some(fault) => Err(fault.message.clone()),
            None => Ok(Formula(Arc::new(node))),
        }
    }
}
