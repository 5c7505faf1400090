//! Functions over lists, statistical ones too.

use super::{Function, Gives, Run, Takes};
use crate::formula::arithmetic::{divided, exact, times, to_double};
use crate::{
    formula::eval::{Args, Calc, Val, cmp_values, no_number, number},
    value::{CalcError, Value},
};
use rust_decimal::{Decimal, MathematicalOps, prelude::ToPrimitive};

macro_rules! list {
    ($name:literal, $params:expr, $gives:expr, $help:literal, $example:literal => $result:literal, $run:expr) => {
        Function {
            name: $name,
            group: "Lists",
            params: $params,
            gives: $gives,
            help: $help,
            example: ($example, $result),
            run: Run::Strict($run),
        }
    };
}

const NUMBERS: &[(&str, Takes)] = &[("number…", Takes::Numbers)];
const VALUES: &[(&str, Takes)] = &[("value…", Takes::Values)];
const DAYS: &[(&str, Takes)] = &[("value…", Takes::Days)];
const NTH: &[(&str, Takes)] = &[("list", Takes::Numbers), ("place", Takes::Number)];

pub(super) const TABLE: &[Function] = &[
    list!("AVERAGE", NUMBERS, Gives::Number, "The sum divided by how many there are.", "AVERAGE(1, 2, 6)" => "3", |a| {
        let numbers = a.numbers(0)?;
        number(divided(sum(&numbers)?, Decimal::from(numbers.len()))?)
    }),
    list!("AVEDEV", NUMBERS, Gives::Number, "How far the numbers are from their average, on average.", "AVEDEV(1, 2, 6)" => "2", |a| {
        let numbers = a.numbers(0)?;
        let mean = divided(sum(&numbers)?, Decimal::from(numbers.len()))?;
        let off: Option<Vec<Decimal>> = numbers.iter().map(|n| n.checked_sub(mean).map(|off| off.abs())).collect();
        number(divided(sum(&off.ok_or(CalcError::NoNumber)?)?, Decimal::from(numbers.len()))?)
    }),
    list!("DEVSQ", NUMBERS, Gives::Number, "The squares of how far the numbers are from their average, added.", "DEVSQ(1, 2, 6)" => "14", |a| {
        let count = a.numbers(0)?.len();
        number(variance(a, 0)?.checked_mul(Decimal::from(count)).ok_or(CalcError::NoNumber)?)
    }),
    list!("GEOMEAN", NUMBERS, Gives::Number, "The geometric mean: the root of the product.", "GEOMEAN(2, 8)" => "4", |a| {
        let numbers = a.numbers(0)?;
        if numbers.is_empty() || numbers.iter().any(|n| *n <= Decimal::ZERO) {
            return no_number();
        }
        let logs: f64 = numbers.iter().map(|n| to_double(*n).ln()).sum();
        number(exact((logs / to_double(Decimal::from(numbers.len()))).exp())?)
    }),
    list!("HARMEAN", NUMBERS, Gives::Number, "The harmonic mean, as of speeds over one way.", "HARMEAN(20, 30)" => "24", |a| {
        let numbers = a.numbers(0)?;
        if numbers.is_empty() || numbers.iter().any(|n| *n <= Decimal::ZERO) {
            return no_number();
        }
        let parts = numbers.iter().map(|n| divided(Decimal::ONE, *n)).collect::<Calc<Vec<_>>>()?;
        number(divided(Decimal::from(numbers.len()), sum(&parts)?)?)
    }),
    list!("PERCENTILE", &[("list", Takes::Numbers), ("share", Takes::Number)], Gives::Number, "The number under which this share of a list lies, between its neighbours if need be.", "PERCENTILE(UNIQUE(1, 2, 3, 4), 0.5)" => "2.5", |a| percentile(a, a.number(1)?)),
    list!("QUARTILE", &[("list", Takes::Numbers), ("quarter", Takes::Number)], Gives::Number, "The number under which so many quarters of a list lie.", "QUARTILE(UNIQUE(1, 2, 3, 4, 5), 1)" => "2", |a| {
        let quarter = Decimal::from(a.whole_or(1, 1)?);
        percentile(a, divided(quarter, Decimal::from(4))?)
    }),
    list!("RANK", &[("number", Takes::Number), ("list", Takes::Numbers), ("[upwards]", Takes::Number)], Gives::Number, "The place of a number in a list, 1 for the largest; for the smallest, if the third is not 0.", "RANK(7, UNIQUE(9, 7, 3))" => "2", |a| {
        let (wanted, numbers) = (a.number(0)?, a.numbers_of(1)?);
        let upwards = !a.number_or(2, Decimal::ZERO)?.is_zero();
        if !numbers.contains(&wanted) {
            return Err(CalcError::NotAvailable.into());
        }
        let before = numbers.iter().filter(|n| if upwards { **n < wanted } else { **n > wanted }).count();
        number(Decimal::from(before.saturating_add(1)))
    }),
    list!("COUNT", &[("value…", Takes::Values)], Gives::Number, "How many numbers or dates there are; of linked records, how many.", "COUNT(1, \"a\", 3)" => "2", |a| {
        number(Decimal::from(a.count(|v| matches!(v, Value::Number(_) | Value::Date(_) | Value::Instant(_) | Value::Links(_)))))
    }),
    list!("COUNTA", VALUES, Gives::Number, "How many values there are, of any type.", "COUNTA(1, \"a\")" => "2", |a| {
        number(Decimal::from(a.count(|v| *v != Value::Empty)))
    }),
    list!("COUNTBLANK", VALUES, Gives::Number, "How many are empty.", "COUNTBLANK(\"\", 1)" => "1", |a| {
        number(Decimal::from(a.count(|v| *v == Value::Empty || matches!(v, Value::Text(t) if t.is_empty()))))
    }),
    list!("LARGE", NTH, Gives::Number, "The largest number of a list, or the second largest, and so on.", "LARGE(5, 1)" => "5", |a| nth(a, true)),
    list!("MAX", DAYS, Gives::Most, "The largest number, or the latest date.", "MAX(3, 8, 5)" => "8", |a| most(a, std::cmp::Ordering::Greater)),
    list!("MEDIAN", NUMBERS, Gives::Number, "The number in the middle.", "MEDIAN(1, 7, 3)" => "3", |a| {
        crate::figure::middle(a.numbers(0)?).map_or_else(no_number, number)
    }),
    list!("MIN", DAYS, Gives::Most, "The smallest number, or the earliest date.", "MIN(3, 8, 5)" => "3", |a| most(a, std::cmp::Ordering::Less)),
    list!("MODE", NUMBERS, Gives::Number, "The number that comes most often; of several, the smallest.", "MODE(2, 7, 7)" => "7", |a| {
        let mut numbers = a.numbers(0)?;
        numbers.sort_unstable();
        let runs = numbers.chunk_by(|a, b| a == b).map(|run| (run.len(), run[0]));
        match runs.rev().max_by_key(|(count, _)| *count) {
            Some((count, mode)) if count > 1 => number(mode),
            _ => Err(CalcError::NotAvailable.into()),
        }
    }),
    list!("SMALL", NTH, Gives::Number, "The smallest number of a list, or the second smallest, and so on.", "SMALL(5, 1)" => "5", |a| nth(a, false)),
    list!("STDEV", NUMBERS, Gives::Number, "The standard deviation, taking the numbers as a sample.", "ROUND(STDEV(2, 4, 4, 6), 4)" => "1.633", |a| deviation(a, 1)),
    list!("STDEVP", NUMBERS, Gives::Number, "The standard deviation, taking the numbers as all there are.", "STDEVP(2, 4, 4, 4, 5, 5, 7, 9)" => "2", |a| deviation(a, 0)),
    list!("VAR", NUMBERS, Gives::Number, "The variance, taking the numbers as a sample.", "VAR(1, 2, 3)" => "1", |a| number(variance(a, 1)?)),
    list!("VARP", NUMBERS, Gives::Number, "The variance, taking the numbers as all there are.", "VARP(1, 3)" => "1", |a| number(variance(a, 0)?)),
    list!("FIRST", &[("list", Takes::List)], Gives::Like(0), "The first value of a list that is not empty.", "FIRST(UNIQUE(4, 5))" => "4", |a| {
        Ok(Val::One(a.values(0)?.into_iter().next().unwrap_or_default()))
    }),
    list!("LAST", &[("list", Takes::List)], Gives::Like(0), "The last value of a list that is not empty.", "LAST(UNIQUE(4, 5))" => "5", |a| {
        Ok(Val::One(a.values(0)?.pop().unwrap_or_default()))
    }),
    list!("UNIQUE", &[("value…", Takes::List)], Gives::List, "Each value of a list once.", "COUNT(UNIQUE(4, 5, 4))" => "2", |a| {
        let mut seen = std::collections::HashSet::new();
        let values = a.values(0)?.into_iter().filter(|v| seen.insert(unique_key(v)));
        Ok(Val::List(values.collect()))
    }),
    list!("INDEX", &[("list", Takes::List), ("place", Takes::Number)], Gives::Like(0), "The value at a place of a list, from 1.", "INDEX(UNIQUE(4, 5), 2)" => "5", |a| {
        let place = a.whole_or(1, 1)?;
        let values = a.values_of(0)?;
        let at = usize::try_from(place - 1).ok().and_then(|at| values.into_iter().nth(at));
        at.map(Val::One).ok_or_else(|| CalcError::Gone.into())
    }),
];

/// The number under which a share of a list lies; between two, the part of the way that is left.
fn percentile(args: &Args<'_, '_>, share: Decimal) -> Calc<Val> {
    let mut numbers = args.numbers_of(0)?;
    numbers.sort_unstable();
    if share < Decimal::ZERO || share > Decimal::ONE || numbers.is_empty() {
        return no_number();
    }
    let place = times(share, Decimal::from(numbers.len() - 1))?;
    let below = place.floor().to_usize().unwrap_or(0);
    let at = |place: usize| numbers.get(place).copied().unwrap_or_default();
    let step = at(below.saturating_add(1).min(numbers.len() - 1)).checked_sub(at(below)).ok_or(CalcError::NoNumber)?;
    number(at(below).checked_add(times(step, place.fract())?).ok_or(CalcError::NoNumber)?)
}

fn sum(numbers: &[Decimal]) -> Calc<Decimal> {
    numbers.iter().try_fold(Decimal::ZERO, |sum, n| sum.checked_add(*n)).ok_or_else(|| CalcError::NoNumber.into())
}

fn unique_key(value: &Value) -> String {
    match value {
        Value::Number(n) => format!("n{}", n.normalize()),
        Value::Text(t) => format!("t{}", crate::value::fold(t)),
        other => format!("{other:?}"),
    }
}

fn nth(args: &Args<'_, '_>, largest: bool) -> Calc<Val> {
    let place = args.whole_or(1, 1)?;
    let mut numbers = args.numbers_of(0)?;
    numbers.sort_unstable();
    if largest {
        numbers.reverse();
    }
    match usize::try_from(place - 1).ok().and_then(|at| numbers.get(at)) {
        Some(n) => number(*n),
        None => no_number(),
    }
}

/// Of nothing, 0, as of numbers; of dates there is none then.
fn most(args: &Args<'_, '_>, wanted: std::cmp::Ordering) -> Calc<Val> {
    let comparable = |v: &Value| matches!(v, Value::Number(_) | Value::Date(_) | Value::Instant(_) | Value::Logical(_));
    let values = args.values(0)?.into_iter().filter(comparable);
    let best = values.reduce(|best, v| if cmp_values(args.env, &v, &best) == wanted { v } else { best });
    Ok(Val::One(best.unwrap_or(Value::Number(Decimal::ZERO))))
}

fn variance(args: &Args<'_, '_>, sample: usize) -> Calc<Decimal> {
    let numbers = args.numbers(0)?;
    let count = numbers.len().saturating_sub(sample);
    if count == 0 {
        return Err(CalcError::DivisionByZero.into());
    }
    let mean = divided(sum(&numbers)?, Decimal::from(numbers.len()))?;
    let square = |n: &Decimal| n.checked_sub(mean).and_then(|off| off.checked_mul(off));
    let squares: Option<Vec<Decimal>> = numbers.iter().map(square).collect();
    divided(sum(&squares.ok_or(CalcError::NoNumber)?)?, Decimal::from(count))
}

fn deviation(args: &Args<'_, '_>, sample: usize) -> Calc<Val> {
    let root = variance(args, sample)?.sqrt().ok_or(CalcError::NoNumber)?;
    debug_assert!(root.to_f64().is_some());
    number(root)
}
