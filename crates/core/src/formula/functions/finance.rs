//! Functions over payments. What is paid has a minus, what is got a plus; rates are for one period. They go through doubles, settled
//! to 15 digits, but for those that only divide.

use super::{Function, Gives, Run, Takes};
use crate::{
    formula::{
        arithmetic::{divided, exact, times, to_double},
        eval::{Args, Calc, Val, no_number, number},
    },
    value::CalcError,
};
use rust_decimal::Decimal;

const N: Takes = Takes::Number;

macro_rules! payment {
    ($name:literal, $params:expr, $help:literal, $example:literal => $gives:literal, $run:expr) => {
        Function {
            name: $name,
            group: "Payments",
            params: $params,
            gives: Gives::Number,
            help: $help,
            example: ($example, $gives),
            run: Run::Strict($run),
        }
    };
}

const WEAR: &[(&str, Takes)] = &[("cost", N), ("rest", N), ("life", N)];
const WEAR_IN: &[(&str, Takes)] = &[("cost", N), ("rest", N), ("life", N), ("period", N)];

pub(super) const TABLE: &[Function] = &[
    payment!("DDB", &[("cost", N), ("rest", N), ("life", N), ("period", N), ("[factor]", N)], "What a thing loses in a period if it loses a fixed share of what it is still worth: twice the even share, if no factor is given.", "DDB(1000, 100, 5, 2)" => "240", |a| {
        let (cost, rest, life) = (a.number(0)?, a.number(1)?, a.number(2)?);
        let (period, factor) = (a.whole_or(3, 1)?, a.number_or(4, Decimal::TWO)?);
        if life <= Decimal::ZERO || period < 1 || Decimal::from(period) > life || period > 1_000 || factor <= Decimal::ZERO || rest > cost {
            return no_number();
        }
        let share = divided(factor, life)?.min(Decimal::ONE);
        let (mut worth, mut lost) = (cost, Decimal::ZERO);
        for _ in 0..period {
            lost = times(worth, share)?.min(worth.checked_sub(rest).ok_or(CalcError::NoNumber)?).max(Decimal::ZERO);
            worth = worth.checked_sub(lost).ok_or(CalcError::NoNumber)?;
        }
        number(lost)
    }),
    payment!("FV", &[("rate", N), ("periods", N), ("payment", N), ("[now]", N), ("[at beginning]", N)], "What payments and what there is now will be worth.", "ROUND(FV(0.01, 12, -100), 2)" => "1268.25", |a| {
        let Loan { rate, periods, growth, due } = loan(a, 4)?;
        let (payment, now) = (to_double(a.number(2)?), to_double(a.number_or(3, Decimal::ZERO)?));
        found(-(now * growth + payment * due * series(rate, periods)))
    }),
    payment!("IRR", &[("amounts", Takes::Numbers), ("[guess]", N)], "The rate at which payments and returns, one a period, are worth nothing now.", "ROUND(IRR(UNIQUE(-100, 60, 55)), 4)" => "0.1", |a| {
        let amounts: Vec<f64> = a.numbers_of(0)?.into_iter().map(to_double).collect();
        if !amounts.iter().any(|n| *n > 0.0) || !amounts.iter().any(|n| *n < 0.0) {
            return no_number();
        }
        root(a, to_double(a.number_or(1, Decimal::new(1, 1))?), |rate| {
            amounts.iter().rev().fold(0.0, |worth, amount| worth / (1.0 + rate) + amount)
        })
    }),
    payment!("NPER", &[("rate", N), ("payment", N), ("now", N), ("[then]", N), ("[at beginning]", N)], "How many periods it takes.", "ROUND(NPER(0.01, -100, 1000), 2)" => "10.59", |a| {
        let (rate, payment) = (to_double(a.number(0)?), to_double(a.number(1)?));
        let (now, then) = (to_double(a.number(2)?), to_double(a.number_or(3, Decimal::ZERO)?));
        if rate == 0.0 {
            return if payment == 0.0 { Err(CalcError::DivisionByZero.into()) } else { found(-(now + then) / payment) };
        }
        let each = payment * if begins(a, 4)? { 1.0 + rate } else { 1.0 } / rate;
        found(((each - then) / (each + now)).ln() / (1.0 + rate).ln())
    }),
    payment!("NPV", &[("rate", N), ("amount…", Takes::Numbers)], "What amounts at the ends of the coming periods are worth now.", "ROUND(NPV(0.1, 60, 55), 2)" => "100", |a| {
        let rate = 1.0 + to_double(a.number(0)?);
        let mut factor = 1.0;
        let mut worth = 0.0;
        for amount in a.numbers(1)? {
            factor *= rate;
            worth += to_double(amount) / factor;
        }
        found(worth)
    }),
    payment!("PMT", &[("rate", N), ("periods", N), ("now", N), ("[then]", N), ("[at beginning]", N)], "The payment of each period.", "ROUND(PMT(0.01, 12, 1000), 2)" => "-88.85", |a| {
        let Loan { rate, periods, growth, due } = loan(a, 4)?;
        let (now, then) = (to_double(a.number(2)?), to_double(a.number_or(3, Decimal::ZERO)?));
        found(-(then + now * growth) / (due * series(rate, periods)))
    }),
    payment!("PV", &[("rate", N), ("periods", N), ("payment", N), ("[then]", N), ("[at beginning]", N)], "What payments are worth now.", "ROUND(PV(0.01, 12, -100), 2)" => "1125.51", |a| {
        let Loan { rate, periods, growth, due } = loan(a, 4)?;
        let (payment, then) = (to_double(a.number(2)?), to_double(a.number_or(3, Decimal::ZERO)?));
        found(-(then + payment * due * series(rate, periods)) / growth)
    }),
    payment!("RATE", &[("periods", N), ("payment", N), ("now", N), ("[then]", N), ("[at beginning]", N), ("[guess]", N)], "The rate of a period.", "ROUND(RATE(12, -100, 1000), 4)" => "0.0292", |a| {
        let periods = to_double(a.number(0)?);
        let (payment, now, then) = (to_double(a.number(1)?), to_double(a.number(2)?), to_double(a.number_or(3, Decimal::ZERO)?));
        let early = begins(a, 4)?;
        root(a, to_double(a.number_or(5, Decimal::new(1, 1))?), |rate| {
            let due = if early { 1.0 + rate } else { 1.0 };
            now * (1.0 + rate).powf(periods) + payment * due * series(rate, periods) + then
        })
    }),
    payment!("SLN", WEAR, "What a thing loses in each period if it loses evenly.", "SLN(1000, 100, 5)" => "180", |a| {
        number(divided(a.number(0)?.checked_sub(a.number(1)?).ok_or(CalcError::NoNumber)?, a.number(2)?)?)
    }),
    payment!("SYD", WEAR_IN, "What a thing loses in a period if it loses less each period by the same.", "SYD(1000, 100, 5, 1)" => "300", |a| {
        let (life, period) = (a.number(2)?, a.number(3)?);
        if period < Decimal::ONE || period > life {
            return no_number();
        }
        let lost = a.number(0)?.checked_sub(a.number(1)?).ok_or(CalcError::NoNumber)?;
        let left = life.checked_sub(period).and_then(|n| n.checked_add(Decimal::ONE)).ok_or(CalcError::NoNumber)?;
        let all = times(life, life.checked_add(Decimal::ONE).ok_or(CalcError::NoNumber)?)?;
        number(divided(times(times(lost, left)?, Decimal::TWO)?, all)?)
    }),
];

/// What is the same for all that is paid period by period.
struct Loan {
    rate: f64,
    periods: f64,
    /// What one becomes over all periods.
    growth: f64,
    /// What a payment is worth at the end of its period.
    due: f64,
}

fn loan(args: &Args<'_, '_>, beginning: usize) -> Calc<Loan> {
    let (rate, periods) = (to_double(args.number(0)?), to_double(args.number(1)?));
    let due = if begins(args, beginning)? { 1.0 + rate } else { 1.0 };
    Ok(Loan { rate, periods, growth: (1.0 + rate).powf(periods), due })
}

/// Whether payments are made at the beginning of their periods.
fn begins(args: &Args<'_, '_>, place: usize) -> Calc<bool> {
    Ok(!args.number_or(place, Decimal::ZERO)?.is_zero())
}

/// What a payment of one at the end of each period becomes.
fn series(rate: f64, periods: f64) -> f64 {
    if rate == 0.0 { periods } else { ((1.0 + rate).powf(periods) - 1.0) / rate }
}

fn found(double: f64) -> Calc<Val> {
    number(exact(double)?)
}

/// Where a function of a rate is nothing, by the secant from a guess.
fn root(args: &Args<'_, '_>, guess: f64, worth: impl Fn(f64) -> f64) -> Calc<Val> {
    let (mut before, mut rate) = (guess, guess + 0.01);
    let mut worth_before = worth(before);
    for _ in 0..200 {
        args.env.take(20)?;
        let now = worth(rate);
        if now.abs() < 1e-9 || (rate - before).abs() < 1e-14 {
            return if rate > -1.0 && now.abs() < 1e-3 { found(rate) } else { no_number() };
        }
        let next = rate - now * (rate - before) / (now - worth_before);
        (before, worth_before) = (rate, now);
        rate = if next.is_finite() { next.max(-0.999_999) } else { return no_number() };
    }
    no_number()
}
