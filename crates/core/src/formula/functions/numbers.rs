//! Mathematical functions. Exact decimals where the result is one; otherwise through doubles, settled to 15 digits.

use super::{Function, Gives, Run, Takes};
use crate::{
    formula::{
        arithmetic::{divided, exact, power, times, to_double},
        eval::{Args, Calc, Val, no_number, number},
    },
    value::CalcError,
};
use rust_decimal::{Decimal, MathematicalOps, RoundingStrategy, prelude::ToPrimitive};

const N: Takes = Takes::Number;

macro_rules! math {
    ($name:literal, $params:expr, $help:literal, $example:literal => $gives:literal, $run:expr) => {
        Function {
            name: $name,
            group: "Numbers",
            params: $params,
            gives: Gives::Number,
            help: $help,
            example: ($example, $gives),
            run: Run::Strict($run),
        }
    };
}

const ONE: &[(&str, Takes)] = &[("number", N)];
const ANGLE: &[(&str, Takes)] = &[("angle", N)];
const MANY: &[(&str, Takes)] = &[("number…", Takes::Numbers)];

pub(super) const TABLE: &[Function] = &[
    math!("ABS", ONE, "The number without its sign.", "ABS(-2.5)" => "2.5", |a| number(a.number(0)?.abs())),
    math!("CEILING", &[("number", N), ("[step]", N), ("[away]", N)], "Up to the next multiple of the step, 1 if none is given. Away from zero below zero, if the third is not 0.", "CEILING(7.2, 5)" => "10", |a| multiple(a, true)),
    math!("COMBIN", &[("all", N), ("chosen", N)], "In how many ways so many can be chosen of all.", "COMBIN(5, 2)" => "10", |a| chosen(a, true)),
    math!("PERMUT", &[("all", N), ("chosen", N)], "In how many orders so many can be chosen of all.", "PERMUT(5, 2)" => "20", |a| chosen(a, false)),
    math!("EVEN", ONE, "Away from zero to the next even number.", "EVEN(3)" => "4", |a| {
        let n = a.number(0)?;
        let halves = away(divided(n.abs(), Decimal::TWO)?, 0);
        number(signed(times(halves, Decimal::TWO)?, n))
    }),
    math!("EXP", ONE, "e to this power.", "ROUND(EXP(1), 5)" => "2.71828", |a| double(a, f64::exp)),
    math!("FACT", ONE, "The product of all whole numbers from 1 to this one.", "FACT(5)" => "120", |a| {
        let n = a.number(0)?.trunc();
        let n = n.to_u32().filter(|n| *n <= 27).ok_or(CalcError::NoNumber)?;
        let product = (1..=n).map(Decimal::from).try_fold(Decimal::ONE, |all, n| all.checked_mul(n));
        number(product.ok_or(CalcError::NoNumber)?)
    }),
    math!("FLOOR", &[("number", N), ("[step]", N), ("[toward]", N)], "Down to the next multiple of the step, 1 if none is given. Toward zero below zero, if the third is not 0.", "FLOOR(7.2, 5)" => "5", |a| multiple(a, false)),
    math!("GCD", MANY, "The greatest number that divides all.", "GCD(12, 18)" => "6", |a| {
        let numbers = whole(a)?;
        number(Decimal::from(numbers.into_iter().reduce(gcd).unwrap_or(0)))
    }),
    math!("INT", ONE, "Down to the whole number.", "INT(-2.5)" => "-3", |a| number(a.number(0)?.floor())),
    math!("LCM", MANY, "The least number that all divide.", "LCM(4, 6)" => "12", |a| {
        let mut lcm: u64 = 1;
        for n in whole(a)? {
            if n == 0 {
                return number(Decimal::ZERO);
            }
            lcm = lcm.checked_mul(n / gcd(lcm, n)).ok_or(CalcError::NoNumber)?;
        }
        number(Decimal::from(lcm))
    }),
    math!("LN", ONE, "The natural logarithm.", "LN(1)" => "0", |a| double(a, f64::ln)),
    math!("LOG", &[("number", N), ("[base]", N)], "The logarithm to a base, 10 if none is given.", "LOG(8, 2)" => "3", |a| {
        let (n, base) = (to_double(a.number(0)?), to_double(a.number_or(1, Decimal::TEN)?));
        from_double(n.ln() / base.ln())
    }),
    math!("LOG10", ONE, "The logarithm to base 10.", "LOG10(1000)" => "3", |a| double(a, f64::log10)),
    math!("MOD", &[("number", N), ("divisor", N)], "What is left over, with the divisor’s sign.", "MOD(-7, 3)" => "2", |a| {
        let (n, by) = (a.number(0)?, a.number(1)?);
        if by.is_zero() {
            return Err(CalcError::DivisionByZero.into());
        }
        let rest = n.checked_rem(by).ok_or(CalcError::NoNumber)?;
        number(if !rest.is_zero() && rest.is_sign_negative() != by.is_sign_negative() { rest.checked_add(by).ok_or(CalcError::NoNumber)? } else { rest })
    }),
    math!("MROUND", &[("number", N), ("step", N)], "To the nearest multiple of the step.", "MROUND(7.4, 5)" => "5", |a| {
        let (n, step) = (a.number(0)?, a.number(1)?);
        if step.is_zero() || n.is_zero() {
            return number(Decimal::ZERO);
        }
        if n.is_sign_negative() != step.is_sign_negative() {
            return no_number();
        }
        let steps = n.checked_div(step).ok_or(CalcError::NoNumber)?.round_dp_with_strategy(0, RoundingStrategy::MidpointAwayFromZero);
        number(steps.checked_mul(step).ok_or(CalcError::NoNumber)?)
    }),
    math!("ODD", ONE, "Away from zero to the next odd number.", "ODD(2)" => "3", |a| {
        let n = a.number(0)?;
        let less = n.abs().checked_sub(Decimal::ONE).ok_or(CalcError::NoNumber)?;
        let halves = away(divided(less, Decimal::TWO)?.max(Decimal::ZERO), 0);
        let odd = times(halves, Decimal::TWO)?.checked_add(Decimal::ONE).ok_or(CalcError::NoNumber)?;
        number(signed(odd, n))
    }),
    math!("PI", &[], "The ratio of a circle’s length to its width.", "ROUND(PI(), 4)" => "3.1416", |_| number(Decimal::PI)),
    math!("POWER", &[("base", N), ("power", N)], "The base to this power, as ^ does.", "POWER(2, 10)" => "1024", |a| number(power(a.number(0)?, a.number(1)?)?)),
    math!("PRODUCT", MANY, "All multiplied.", "PRODUCT(2, 3, 4)" => "24", |a| {
        let numbers = a.numbers(0)?;
        if numbers.is_empty() {
            return number(Decimal::ZERO);
        }
        let product = numbers.into_iter().try_fold(Decimal::ONE, |all, n| all.checked_mul(n));
        number(product.ok_or(CalcError::NoNumber)?)
    }),
    math!("QUOTIENT", &[("number", N), ("divisor", N)], "How often the divisor goes into the number, whole.", "QUOTIENT(-7, 2)" => "-3", |a| {
        number(divided(a.number(0)?, a.number(1)?)?.trunc())
    }),
    math!("ROUND", &[("number", N), ("[digits]", N)], "To so many digits after the point; halves go away from zero.", "ROUND(2.345, 2)" => "2.35", |a| {
        rounded(a, RoundingStrategy::MidpointAwayFromZero)
    }),
    math!("ROUNDDOWN", &[("number", N), ("[digits]", N)], "Toward zero to so many digits after the point.", "ROUNDDOWN(2.349, 2)" => "2.34", |a| {
        rounded(a, RoundingStrategy::ToZero)
    }),
    math!("ROUNDUP", &[("number", N), ("[digits]", N)], "Away from zero to so many digits after the point.", "ROUNDUP(2.341, 2)" => "2.35", |a| {
        rounded(a, RoundingStrategy::AwayFromZero)
    }),
    math!("SIGN", ONE, "1, 0 or -1.", "SIGN(-3)" => "-1", |a| {
        let n = a.number(0)?;
        number(if n.is_zero() { n } else { signed(Decimal::ONE, n) })
    }),
    math!("SQRT", ONE, "The square root.", "SQRT(16)" => "4", |a| number(a.number(0)?.sqrt().ok_or(CalcError::NoNumber)?)),
    math!("SUM", MANY, "All added; what is no number is left out of lists.", "SUM(0.1, 0.2)" => "0.3", |a| {
        let sum = a.numbers(0)?.into_iter().try_fold(Decimal::ZERO, |sum, n| sum.checked_add(n));
        number(sum.ok_or(CalcError::NoNumber)?)
    }),
    math!("SUMSQ", MANY, "The squares of all, added.", "SUMSQ(3, 4)" => "25", |a| {
        let sum = a.numbers(0)?.into_iter().try_fold(Decimal::ZERO, |sum, n| sum.checked_add(n.checked_mul(n)?));
        number(sum.ok_or(CalcError::NoNumber)?)
    }),
    math!("TRUNC", &[("number", N), ("[digits]", N)], "Cut off after so many digits.", "TRUNC(-2.57, 1)" => "-2.5", |a| {
        rounded(a, RoundingStrategy::ToZero)
    }),
    math!("SIN", ANGLE, "The sine of an angle in radians.", "ROUND(SIN(PI() / 2), 6)" => "1", |a| double(a, f64::sin)),
    math!("COS", ANGLE, "The cosine of an angle in radians.", "COS(0)" => "1", |a| double(a, f64::cos)),
    math!("TAN", ANGLE, "The tangent of an angle in radians.", "ROUND(TAN(PI() / 4), 6)" => "1", |a| double(a, f64::tan)),
    math!("COT", ANGLE, "The cotangent of an angle in radians.", "ROUND(COT(PI() / 4), 6)" => "1", |a| double(a, |x| 1.0 / x.tan())),
    math!("ASIN", ONE, "The angle with this sine.", "ASIN(0)" => "0", |a| double(a, f64::asin)),
    math!("ACOS", ONE, "The angle with this cosine.", "ACOS(1)" => "0", |a| double(a, f64::acos)),
    math!("ATAN", ONE, "The angle with this tangent.", "ATAN(0)" => "0", |a| double(a, f64::atan)),
    math!("ATAN2", &[("x", N), ("y", N)], "The angle of the point x, y.", "ROUND(ATAN2(1, 1), 4)" => "0.7854", |a| {
        let (x, y) = (to_double(a.number(0)?), to_double(a.number(1)?));
        if x == 0.0 && y == 0.0 { Err(CalcError::DivisionByZero.into()) } else { from_double(y.atan2(x)) }
    }),
    math!("SINH", ONE, "The hyperbolic sine.", "SINH(0)" => "0", |a| double(a, f64::sinh)),
    math!("COSH", ONE, "The hyperbolic cosine.", "COSH(0)" => "1", |a| double(a, f64::cosh)),
    math!("TANH", ONE, "The hyperbolic tangent.", "TANH(0)" => "0", |a| double(a, f64::tanh)),
    math!("ASINH", ONE, "The number with this hyperbolic sine.", "ASINH(0)" => "0", |a| double(a, f64::asinh)),
    math!("ACOSH", ONE, "The number with this hyperbolic cosine.", "ACOSH(1)" => "0", |a| double(a, f64::acosh)),
    math!("ATANH", ONE, "The number with this hyperbolic tangent.", "ATANH(0)" => "0", |a| double(a, f64::atanh)),
    math!("DEGREES", ANGLE, "An angle in radians as degrees.", "ROUND(DEGREES(PI()), 6)" => "180", |a| double(a, f64::to_degrees)),
    math!("RADIANS", ANGLE, "An angle in degrees as radians.", "ROUND(RADIANS(180), 4)" => "3.1416", |a| double(a, f64::to_radians)),
];

fn from_double(double: f64) -> Calc<Val> {
    number(exact(double)?)
}

fn double(args: &Args<'_, '_>, with: fn(f64) -> f64) -> Calc<Val> {
    from_double(with(to_double(args.number(0)?)))
}

fn signed(size: Decimal, like: Decimal) -> Decimal {
    let mut signed = size;
    signed.set_sign_negative(like.is_sign_negative() != size.is_sign_negative());
    signed
}

fn away(number: Decimal, digits: u32) -> Decimal {
    number.round_dp_with_strategy(digits, RoundingStrategy::AwayFromZero)
}

fn rounded(args: &Args<'_, '_>, how: RoundingStrategy) -> Calc<Val> {
    let (n, digits) = (args.number(0)?, args.whole_or(1, 0)?);
    if digits >= 0 {
        return number(n.round_dp_with_strategy(u32::try_from(digits).unwrap_or(28).min(28), how));
    }
    let Some(scale) = u32::try_from(-digits).ok().filter(|d| *d <= 27).map(|d| Decimal::TEN.powu(u64::from(d))) else {
        return number(Decimal::ZERO);
    };
    number(times(divided(n, scale)?.round_dp_with_strategy(0, how), scale)?)
}

fn multiple(args: &Args<'_, '_>, up: bool) -> Calc<Val> {
    let n = args.number(0)?;
    let step = args.number_or(1, signed(Decimal::ONE, n))?;
    if n.is_zero() || step.is_zero() {
        return number(Decimal::ZERO);
    }
    if n.is_sign_negative() != step.is_sign_negative() {
        return no_number();
    }
    let by_size = n.is_sign_negative() && !args.number_or(2, Decimal::ZERO)?.is_zero();
    let steps = n.abs().checked_div(step.abs()).ok_or(CalcError::NoNumber)?;
    // Below zero, up is toward zero, unless sizes are asked for.
    let grows = if n.is_sign_negative() && !by_size { !up } else { up };
    let steps = if grows { steps.ceil() } else { steps.floor() };
    number(signed(steps.checked_mul(step.abs()).ok_or(CalcError::NoNumber)?, n))
}

fn chosen(args: &Args<'_, '_>, in_any_order: bool) -> Calc<Val> {
    let (all, count) = (args.whole_or(0, 0)?, args.whole_or(1, 0)?);
    if count < 0 || all < count || all > 1_000 {
        return no_number();
    }
    let count = if in_any_order { count.min(all - count) } else { count };
    let mut ways = Decimal::ONE;
    for n in 0..count {
        ways = times(ways, Decimal::from(all - n))?;
        if in_any_order {
            ways = divided(ways, Decimal::from(n + 1))?;
        }
    }
    number(ways.round())
}

fn whole(args: &Args<'_, '_>) -> Calc<Vec<u64>> {
    let whole = |n: Decimal| n.trunc().to_u64().ok_or(CalcError::NoNumber);
    Ok(args.numbers(0)?.into_iter().map(whole).collect::<Result<_, _>>()?)
}

fn gcd(a: u64, b: u64) -> u64 {
    if b == 0 { a } else { gcd(b, a % b) }
}
