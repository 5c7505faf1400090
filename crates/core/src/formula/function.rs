//! What a function of formulas is. Evaluation runs functions and functions take what evaluation gives them: this file and
//! `eval` are one thought.

use super::{
    Turns,
    eval::{Args, Calc, Lazy, Val},
};
use std::fmt;

/// A function that formulas may call.
pub struct Function {
    pub name: &'static str,
    pub group: &'static str,
    /// Name and what it takes. `[name]` may be left out; `name…` may be repeated.
    pub(super) params: &'static [(&'static str, Takes)],
    pub(super) gives: Gives,
    pub help: &'static str,
    /// A formula and what it gives.
    pub example: (&'static str, &'static str),
    pub(super) run: Run,
}

/// What a parameter takes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Takes {
    Number,
    Text,
    Logical,
    Day,
    /// One value of any type, errors too.
    Any,
    /// One value or a list, of these.
    Numbers,
    Texts,
    Days,
    Values,
    /// A list.
    List,
}

/// What a function gives.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Gives {
    Number,
    /// A part of a day.
    Time,
    Text,
    Logical,
    Date,
    Moment,
    Nothing,
    /// The same type as this argument.
    Like(usize),
    /// A date if all arguments are, else a number.
    Most,
    /// A list of what its arguments are.
    List,
    /// One of the arguments from here on.
    OneOf(usize),
    /// One of every other argument from here on.
    EveryOther(usize),
}

/// How a function is run.
pub(super) enum Run {
    /// Its arguments are all evaluated first, and an error among them is its result.
    Strict(fn(&Args<'_, '_>) -> Calc<Val>),
    /// It says which arguments are evaluated.
    Lazy(fn(&mut Lazy<'_, '_, '_>) -> Calc<Val>),
}

impl Takes {
    pub(super) fn many(self) -> bool {
        matches!(self, Takes::Numbers | Takes::Texts | Takes::Days | Takes::Values | Takes::List)
    }

    pub(super) fn words(self) -> &'static str {
        match self {
            Takes::Number => "a number",
            Takes::Text => "a text",
            Takes::Logical => "something that holds or not",
            Takes::Day => "a date",
            Takes::Any => "a value",
            Takes::Numbers => "numbers",
            Takes::Texts => "texts",
            Takes::Days => "dates",
            Takes::Values | Takes::List => "values",
        }
    }
}

impl Function {
    /// Fewest and most arguments.
    pub(super) fn arguments(&self) -> (usize, Option<usize>) {
        let repeats = self.params.iter().any(|(name, _)| name.ends_with('…'));
        let needed = self.params.iter().filter(|(name, _)| !name.starts_with('[')).count();
        (needed, (!repeats).then_some(self.params.len()))
    }

    /// What an argument is taken as; of parameters that repeat, the last ones go round.
    pub(super) fn takes(&self, place: usize) -> Takes {
        let again = self.params.iter().filter(|(name, _)| name.ends_with('…')).count().max(1);
        let fixed = self.params.len();
        let at = if place < fixed { place } else { fixed - again.min(fixed) + (place - fixed) % again };
        self.params.get(at).map_or(Takes::Any, |(_, takes)| *takes)
    }

    /// `ROUND(number, [digits])`.
    pub fn signature(&self) -> String {
        let names: Vec<&str> = self.params.iter().map(|(name, _)| *name).collect();
        format!("{}({})", self.name, names.join(", "))
    }

    pub(super) fn turns(&self) -> Turns {
        match self.name {
            "TODAY" => Turns::Daily,
            "NOW" => Turns::Minutely,
            _ => Turns::Never,
        }
    }
}

impl fmt::Debug for Function {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.name)
    }
}

/// Each name is in the table once.
impl PartialEq for Function {
    fn eq(&self, other: &Self) -> bool {
        self.name == other.name
    }
}
