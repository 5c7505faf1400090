//! Logical functions, and those that ask about a value. Which arguments are evaluated is up to them.

use super::{Function, Gives, Run, Takes};
use crate::{
    formula::eval::{Calc, Stop, Val, equal, logical, number, text},
    value::{CalcError, Value},
};
use rust_decimal::Decimal;

macro_rules! strict {
    ($group:literal, $name:literal, $params:expr, $gives:expr, $help:literal, $example:literal => $result:literal, $run:expr) => {
        Function {
            name: $name,
            group: $group,
            params: $params,
            gives: $gives,
            help: $help,
            example: ($example, $result),
            run: Run::Strict($run),
        }
    };
}

macro_rules! lazy {
    ($group:literal, $name:literal, $params:expr, $gives:expr, $help:literal, $example:literal => $result:literal, $run:expr) => {
        Function {
            name: $name,
            group: $group,
            params: $params,
            gives: $gives,
            help: $help,
            example: ($example, $result),
            run: Run::Lazy($run),
        }
    };
}

const TESTS: &[(&str, Takes)] = &[("test…", Takes::Values)];
const ANY: &[(&str, Takes)] = &[("value", Takes::Any)];

pub(super) const TABLE: &[Function] = &[
    lazy!("Logic", "IF", &[("test", Takes::Logical), ("then", Takes::Any), ("[else]", Takes::Any)], Gives::OneOf(1), "The one if the test holds, the other if not.", "IF(2 > 1, \"more\", \"less\")" => "more", |l| {
        if l.yes(0)? {
            l.value(1).map(Val::One)
        } else if l.len() > 2 {
            l.value(2).map(Val::One)
        } else {
            logical(false)
        }
    }),
    lazy!("Logic", "IFERROR", &[("value", Takes::Any), ("otherwise", Takes::Any)], Gives::OneOf(0), "The value, or something else if it is an error.", "IFERROR(1 / 0, \"none\")" => "none", |l| match l.value(0) {
        Err(Stop::Error(error)) if error != CalcError::TooLarge => l.value(1).map(Val::One),
        other => other.map(Val::One),
    }),
    lazy!("Logic", "IFNA", &[("value", Takes::Any), ("otherwise", Takes::Any)], Gives::OneOf(0), "The value, or something else if it is #N/A.", "IFNA(NA(), 0)" => "0", |l| match l.value(0) {
        Err(Stop::Error(CalcError::NotAvailable)) => l.value(1).map(Val::One),
        other => other.map(Val::One),
    }),
    lazy!("Logic", "IFS", &[("test…", Takes::Logical), ("then…", Takes::Any)], Gives::EveryOther(1), "The value behind the first test that holds.", "IFS(1 > 2, \"a\", 2 > 1, \"b\")" => "b", |l| {
        for test in (0..l.len()).step_by(2) {
            if l.yes(test)? {
                return l.value(test + 1).map(Val::One);
            }
        }
        Err(CalcError::NotAvailable.into())
    }),
    lazy!("Logic", "SWITCH", &[("value", Takes::Any), ("case…", Takes::Any), ("then…", Takes::Any)], Gives::EveryOther(2), "What stands behind the first case that is the value; a last one alone is for none of them.", "SWITCH(2, 1, \"one\", 2, \"two\", \"many\")" => "two", |l| {
        let value = l.value(0)?;
        let mut case = 1;
        while case + 1 < l.len() {
            let is = l.value(case)?;
            if equal(l.env(), &value, &is) {
                return l.value(case + 1).map(Val::One);
            }
            case += 2;
        }
        if case < l.len() { l.value(case).map(Val::One) } else { Err(CalcError::NotAvailable.into()) }
    }),
    lazy!("Logic", "CHOOSE", &[("place", Takes::Number), ("value…", Takes::Any)], Gives::OneOf(1), "The value at a place, from 1.", "CHOOSE(2, \"a\", \"b\")" => "b", |l| {
        let place = l.whole(0)?;
        match usize::try_from(place).ok().filter(|p| *p >= 1 && *p < l.len()) {
            Some(place) => l.value(place).map(Val::One),
            None => Err(CalcError::WrongValue.into()),
        }
    }),
    strict!("Logic", "AND", TESTS, Gives::Logical, "Whether all hold.", "AND(TRUE, 2 > 1)" => "TRUE", |a| logical(a.logicals()?.into_iter().all(|yes| yes))),
    strict!("Logic", "OR", TESTS, Gives::Logical, "Whether any holds.", "OR(FALSE, 2 > 1)" => "TRUE", |a| logical(a.logicals()?.into_iter().any(|yes| yes))),
    strict!("Logic", "XOR", TESTS, Gives::Logical, "Whether an odd number of them holds.", "XOR(TRUE, TRUE)" => "FALSE", |a| {
        logical(a.logicals()?.into_iter().filter(|yes| *yes).count() % 2 == 1)
    }),
    strict!("Logic", "NOT", &[("test", Takes::Logical)], Gives::Logical, "Whether it does not hold.", "NOT(FALSE)" => "TRUE", |a| logical(!a.yes(0)?)),
    lazy!("Asking", "ISBLANK", ANY, Gives::Logical, "Whether nothing stands there.", "ISBLANK(\"a\")" => "FALSE", |l| match l.value(0) {
        Ok(value) => logical(value == Value::Empty),
        Err(Stop::Empty) => logical(true),
        Err(Stop::Error(error)) => bounded(error, false),
    }),
    lazy!("Asking", "ISERROR", ANY, Gives::Logical, "Whether it is an error.", "ISERROR(1 / 0)" => "TRUE", |l| match l.value(0) {
        Err(Stop::Error(error)) => bounded(error, true),
        _ => logical(false),
    }),
    lazy!("Asking", "ISNA", ANY, Gives::Logical, "Whether it is #N/A.", "ISNA(NA())" => "TRUE", |l| match l.value(0) {
        Err(Stop::Error(error)) => bounded(error, error == CalcError::NotAvailable),
        _ => logical(false),
    }),
    lazy!("Asking", "ISNUMBER", ANY, Gives::Logical, "Whether it is a number or a date.", "ISNUMBER(4)" => "TRUE", |l| match l.value(0) {
        Ok(value) => logical(matches!(value, Value::Number(_) | Value::Date(_) | Value::Instant(_))),
        Err(Stop::Empty) => logical(false),
        Err(Stop::Error(error)) => bounded(error, false),
    }),
    lazy!("Asking", "ISTEXT", ANY, Gives::Logical, "Whether it is a text.", "ISTEXT(\"a\")" => "TRUE", |l| match l.value(0) {
        Ok(value) => logical(matches!(value, Value::Text(_))),
        Err(Stop::Empty) => logical(false),
        Err(Stop::Error(error)) => bounded(error, false),
    }),
    lazy!("Asking", "ISERR", ANY, Gives::Logical, "Whether it is an error other than #N/A.", "ISERR(NA())" => "FALSE", |l| match l.value(0) {
        Err(Stop::Error(error)) => bounded(error, error != CalcError::NotAvailable),
        _ => logical(false),
    }),
    lazy!("Asking", "ISLOGICAL", ANY, Gives::Logical, "Whether it is yes or no.", "ISLOGICAL(1 = 1)" => "TRUE", |l| match l.value(0) {
        Ok(value) => logical(matches!(value, Value::Logical(_))),
        Err(Stop::Empty) => logical(false),
        Err(Stop::Error(error)) => bounded(error, false),
    }),
    lazy!("Asking", "ISNONTEXT", ANY, Gives::Logical, "Whether it is no text.", "ISNONTEXT(4)" => "TRUE", |l| match l.value(0) {
        Ok(value) => logical(!matches!(value, Value::Text(_))),
        Err(Stop::Empty) => logical(true),
        Err(Stop::Error(error)) => bounded(error, true),
    }),
    strict!("Asking", "ISEVEN", &[("number", Takes::Number)], Gives::Logical, "Whether a number, cut off to a whole one, is even.", "ISEVEN(4)" => "TRUE", |a| {
        logical(a.number(0)?.trunc().checked_rem(Decimal::TWO).is_some_and(|rest| rest.is_zero()))
    }),
    strict!("Asking", "ISODD", &[("number", Takes::Number)], Gives::Logical, "Whether a number, cut off to a whole one, is odd.", "ISODD(4)" => "FALSE", |a| {
        logical(!a.number(0)?.trunc().checked_rem(Decimal::TWO).is_some_and(|rest| rest.is_zero()))
    }),
    strict!("Asking", "N", ANY, Gives::Number, "The number that it is; 0 for a text.", "N(TRUE)" => "1", |a| match a.one(0)? {
        Value::Text(_) => number(Decimal::ZERO),
        _ => number(a.number(0)?),
    }),
    strict!("Asking", "T", ANY, Gives::Text, "The text that it is; nothing for a number.", "T(\"a\")" => "a", |a| match a.one(0)? {
        Value::Text(found) => text(found.to_string()),
        _ => text(String::new()),
    }),
    strict!("Asking", "NA", &[], Gives::Nothing, "The error #N/A: there is no such value.", "IFNA(NA(), \"none\")" => "none", |_| Err(CalcError::NotAvailable.into())),
];

/// Whoever asks about a value can't hide that working it out went over a limit.
fn bounded(error: CalcError, answer: bool) -> Calc<Val> {
    if error == CalcError::TooLarge { Err(error.into()) } else { logical(answer) }
}
