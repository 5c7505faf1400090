//! The functions: one table of name, parameters, result, help and an example that runs as a test. The interface's help
//! and completion come from it. Semantics are OpenFormula's (ODF 1.3 part 4, section 6) where it defines them.

mod dates;
mod lists;
mod logic;
mod numbers;
mod texts;

pub use super::function::Function;
use super::function::{Gives, Run, Takes};
use serde::Serialize;

/// A function as its help shows it.
#[derive(Clone, Debug, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FunctionHelp {
    pub name: &'static str,
    pub group: &'static str,
    pub signature: String,
    pub help: &'static str,
    pub example: &'static str,
    /// What the example gives.
    pub gives: &'static str,
}

/// Every function, by group.
pub fn all() -> impl Iterator<Item = &'static Function> {
    [numbers::TABLE, lists::TABLE, texts::TABLE, dates::TABLE, logic::TABLE].into_iter().flatten()
}

/// The function of this name, whatever its capitals.
pub fn named(name: &str) -> Option<&'static Function> {
    all().find(|f| f.name.eq_ignore_ascii_case(name))
}

impl Function {
    /// For the interface.
    pub fn to_help(&self) -> FunctionHelp {
        let (example, gives) = self.example;
        FunctionHelp { name: self.name, group: self.group, signature: self.signature(), help: self.help, example, gives }
    }
}
