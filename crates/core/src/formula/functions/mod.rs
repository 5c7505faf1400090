//! The functions: one table of name, parameters, result, help and an example that runs as a test. The interface's help
//! and completion come from it. Semantics are OpenFormula's (ODF 1.3 part 4, section 6) where it defines them.
//!
//! # What the conformance groups have beside these, and why it is left out
//!
//! *Small group.* `TRUE` and `FALSE` are values and are read with or without brackets. `COUNTIF`, `SUMIF`, `AVERAGEIF` and the
//! database functions (`DAVERAGE`, `DCOUNT`, `DCOUNTA`, `DGET`, `DMAX`, `DMIN`, `DPRODUCT`, `DSTDEV`, `DSTDEVP`, `DSUM`, `DVAR`,
//! `DVARP`) ask cells by a criterion written as text: here linked records are narrowed, `SUM(Lines.Cost where Kind = "wood")`.
//! `HLOOKUP`, `VLOOKUP`, `MATCH` look in ranges of cells: here a link leads to the record. `COLUMNS`, `ROWS` measure ranges, and
//! there are none.
//! *Medium group.* `ADDRESS`, `CELL`, `COLUMN`, `INDIRECT`, `LOOKUP`, `OFFSET`, `ROW`, `SHEET`, `SUBTOTAL`, `TRANSPOSE` and what
//! works on matrices (`LINEST`, `LOGEST`, `MDETERM`, `MINVERSE`, `MMULT`, `SUMPRODUCT`, `SUMX2MY2`, `SUMX2PY2`, `SUMXMY2`, `TREND`,
//! `GROWTH`, `FREQUENCY`) need cells that have places. `RAND` and `RANDBETWEEN` would give another value at every look, so
//! nothing that draws on them could be explained. Distributions and tests of statistics (`BETADIST` to `ZTEST`), Bessel and
//! error functions, bonds (`ACCRINT` to `YIELDMAT`), `CONVERT`, `ROMAN`, `ARABIC`, `DOLLAR`, numbers of other bases: no tracker was
//! met that asks for them; each would be a row of a table.
//! *Large group.* Complex numbers, `MULTIPLE.OPERATIONS`, `GETPIVOTDATA`, `INFO`, `DDE`, `HYPERLINK`: as above, or another part of
//! Westerfall does it.
//!
//! # What single ones leave out
//!
//! `FIND`, `SEARCH`, `SUBSTITUTE`: no wildcards and no regular expressions. `TEXT`: pictures of one section. `VALUE`, `DATEVALUE`:
//! what is typed in a cell here, read as the tracker's locale says; no guess at other locales. `INDEX`: of one list, by one place.
//! `IF` with an empty argument between two commas: write 0 or `""`. `DATEDIF`'s `"md"` counts from the last full month. `LEN` and its
//! like count what people see as one character. `N` of a list, `T` of a list: of one value. `CEILING`, `FLOOR` of a number and a step
//! of different signs: an error, as the standard has it. `IRR`, `RATE`: found from the guess by the secant, or an error.
//! `DATE + TIME` gives a date and time, which is not a number; [`AT`](self) makes one of a date and a text.

mod dates;
mod finance;
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
    [numbers::TABLE, lists::TABLE, texts::TABLE, dates::TABLE, logic::TABLE, finance::TABLE].into_iter().flatten()
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
