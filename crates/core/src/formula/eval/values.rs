//! What operators do with values, and what values count as.

use super::{
    super::{
        Operator, TEXT_RESULT_LIMIT,
        arithmetic::{between, day_of_serial, divided, plus, power, serial_of_day},
    },
    Calc, Env, Stop, Val,
};
use crate::value::{CalcError, Customs, Value, fold, moment_text};
use jiff::civil::{Date, DateTime, Time};
use rust_decimal::{Decimal, prelude::ToPrimitive};
use std::cmp::Ordering;

pub(in crate::formula) fn number(number: Decimal) -> Calc<Val> {
    Ok(Val::One(Value::Number(number)))
}

pub(in crate::formula) fn no_number() -> Calc<Val> {
    Err(CalcError::NoNumber.into())
}

pub(in crate::formula) fn logical(yes: bool) -> Calc<Val> {
    Ok(Val::One(Value::Logical(yes)))
}

pub(in crate::formula) fn date(day: Date) -> Calc<Val> {
    Ok(Val::One(Value::Date(day)))
}

/// A text, if it is not over the limit.
pub(in crate::formula) fn text(text: String) -> Calc<Val> {
    if text.len() > TEXT_RESULT_LIMIT { Err(CalcError::TooLarge.into()) } else { Ok(Val::One(Value::Text(text.into()))) }
}

pub(super) fn as_number(env: &Env<'_>, value: &Value) -> Calc<Decimal> {
    match value {
        Value::Number(number) => Ok(*number),
        Value::Empty => Ok(Decimal::ZERO),
        Value::Logical(yes) => Ok(Decimal::from(u8::from(*yes))),
        Value::Date(day) => Ok(serial_of_day(*day)),
        Value::Instant(instant) => {
            let wall = env.wall(*instant);
            serial_of_day(wall.date()).checked_add(serial_of_time(wall.time())).ok_or_else(|| CalcError::NoNumber.into())
        }
        Value::Error(error) => Err((*error).into()),
        _ => Err(CalcError::WrongValue.into()),
    }
}

pub(super) fn as_logical(env: &Env<'_>, value: &Value) -> Calc<bool> {
    match value {
        Value::Logical(yes) => Ok(*yes),
        Value::Date(_) | Value::Instant(_) => Err(CalcError::WrongValue.into()),
        other => Ok(!as_number(env, other)?.is_zero()),
    }
}

pub(super) fn as_day(env: &Env<'_>, value: &Value) -> Calc<Date> {
    match value {
        Value::Date(day) => Ok(*day),
        Value::Instant(instant) => Ok(env.wall(*instant).date()),
        Value::Empty => Err(Stop::Empty),
        Value::Number(serial) => day_of_serial(*serial),
        Value::Error(error) => Err((*error).into()),
        _ => Err(CalcError::WrongValue.into()),
    }
}

/// A value as text; numbers plainly, dates as people read them.
pub(super) fn text_of(env: &Env<'_>, value: &Value) -> Calc<String> {
    match value {
        Value::Text(text) => Ok(text.to_string()),
        Value::Empty => Ok(String::new()),
        Value::Number(number) => {
            let plain = settle(*number).normalize().to_string();
            Ok(if env.locale().decimal_comma { plain.replace('.', ",") } else { plain })
        }
        Value::Logical(yes) => Ok(if *yes { "TRUE" } else { "FALSE" }.into()),
        Value::Date(day) => Ok(Customs::default().date_text(*day)),
        Value::Instant(instant) => Ok(moment_text(*instant, &env.clock.untold())),
        Value::Error(error) => Err((*error).into()),
        _ => Err(CalcError::WrongValue.into()),
    }
}

/// The number with the other sign.
pub(in crate::formula) fn negated(mut number: Decimal) -> Decimal {
    number.set_sign_positive(number.is_sign_negative());
    number
}

/// A number without the noise in its last digits: 1/3*3 is 1.
pub(crate) fn settle(number: Decimal) -> Decimal {
    // Only a division leaves so many digits.
    if number.scale() < 20 { number } else { number.round_sf(24).map_or(number, |n| n.normalize()) }
}

/// The part of a day that has gone at a time.
pub(in crate::formula) fn serial_of_time(time: Time) -> Decimal {
    let seconds = i64::from(time.hour()) * 3_600 + i64::from(time.minute()) * 60 + i64::from(time.second());
    Decimal::from(seconds).checked_div(Decimal::from(86_400)).unwrap_or_default()
}

pub(super) fn moment_of_serial(serial: Decimal) -> Calc<DateTime> {
    let day = day_of_serial(serial)?;
    let part = serial.checked_sub(serial.floor()).and_then(|part| part.checked_mul(Decimal::from(86_400)));
    let seconds = part.and_then(|seconds| seconds.round().to_i32()).unwrap_or(0);
    // What rounds up to midnight is the next day.
    let (day, seconds) = if seconds >= 86_400 { (plus(day, 1)?, 0) } else { (day, seconds) };
    let part = |n: i32| i8::try_from(n).unwrap_or(0);
    Ok(day.at(part(seconds / 3_600), part(seconds / 60 % 60), part(seconds % 60), 0))
}

pub(super) fn sum(env: &Env<'_>, left: Value, right: Value, minus: bool, days: (bool, bool)) -> Calc<Value> {
    if let (Value::Number(a), Value::Number(b)) = (&left, &right) {
        let sum = if minus { a.checked_sub(*b) } else { a.checked_add(*b) };
        return sum.map(Value::Number).ok_or_else(|| CalcError::NoNumber.into());
    }
    if (days.0 && left == Value::Empty) || (days.1 && right == Value::Empty) {
        return Ok(Value::Empty);
    }
    let is_day = |v: &Value| matches!(v, Value::Date(_) | Value::Instant(_));
    match (&left, &right) {
        (Value::Date(a), Value::Date(b)) if minus => Ok(Value::Number(Decimal::from(between(*b, *a)))),
        (a, b) if is_day(a) && is_day(b) => {
            if minus {
                as_number(env, a)?.checked_sub(as_number(env, b)?).map(Value::Number).ok_or_else(|| CalcError::NoNumber.into())
            } else {
                Err(CalcError::WrongValue.into())
            }
        }
        (day, by) if is_day(day) => {
            let by = as_number(env, by)?;
            moved(env, day, if minus { negated(by) } else { by })
        }
        (by, day) if is_day(day) && !minus => {
            let by = as_number(env, by)?;
            moved(env, day, by)
        }
        (a, b) => {
            let (a, b) = (as_number(env, a)?, as_number(env, b)?);
            sum(env, Value::Number(a), Value::Number(b), minus, (false, false))
        }
    }
}

/// A date so many days later. With a part of a day it becomes a date and time.
fn moved(env: &Env<'_>, day: &Value, by: Decimal) -> Calc<Value> {
    match day {
        Value::Date(date) if settle(by).fract().is_zero() => plus(*date, settle(by).to_i64().ok_or(CalcError::NoNumber)?).map(Value::Date),
        other => env.instant(moment_of_serial(as_number(env, other)?.checked_add(by).ok_or(CalcError::NoNumber)?)?),
    }
}

pub(super) fn binary(env: &Env<'_>, operator: Operator, left: Value, right: Value) -> Calc<Value> {
    let numbers = || Ok::<_, Stop>((as_number(env, &left)?, as_number(env, &right)?));
    match operator {
        Operator::Times => {
            let (a, b) = numbers()?;
            a.checked_mul(b).map(Value::Number).ok_or_else(|| CalcError::NoNumber.into())
        }
        Operator::By => numbers().and_then(|(a, b)| divided(a, b)).map(Value::Number),
        Operator::Power => numbers().and_then(|(a, b)| power(a, b)).map(Value::Number),
        // These are chains, and run as such.
        Operator::Join | Operator::Plus | Operator::Minus => Err(CalcError::WrongValue.into()),
        Operator::Is => Ok(Value::Logical(equal(env, &left, &right))),
        Operator::IsNot => Ok(Value::Logical(!equal(env, &left, &right))),
        Operator::Under | Operator::AtMost | Operator::Over | Operator::AtLeast => {
            let is_day = |v: &Value| matches!(v, Value::Date(_) | Value::Instant(_));
            // An empty date is neither before nor after another.
            if (is_day(&left) && right == Value::Empty) || (is_day(&right) && left == Value::Empty) {
                return Ok(Value::Logical(false));
            }
            let order = cmp_values(env, &left, &right);
            Ok(Value::Logical(match operator {
                Operator::Under => order.is_lt(),
                Operator::AtMost => order.is_le(),
                Operator::Over => order.is_gt(),
                _ => order.is_ge(),
            }))
        }
    }
}

/// Whether two values are the same; nothing is the same as 0, as no text and as no.
pub(in crate::formula) fn equal(env: &Env<'_>, a: &Value, b: &Value) -> bool {
    match (a, b) {
        (Value::Text(a), Value::Text(b)) => a == b || fold(a) == fold(b),
        (Value::Empty, Value::Date(_) | Value::Instant(_)) | (Value::Date(_) | Value::Instant(_), Value::Empty) => false,
        _ => {
            sort(a) == sort(b) && cmp_values(env, a, b).is_eq()
                || matches!((a, b), (Value::Empty, _) | (_, Value::Empty)) && cmp_values(env, a, b).is_eq()
        }
    }
}

/// Numbers and dates before texts before yes and no.
fn sort(value: &Value) -> u8 {
    match value {
        Value::Empty => 0,
        Value::Number(_) | Value::Date(_) | Value::Instant(_) => 1,
        Value::Logical(_) => 3,
        _ => 2,
    }
}

pub(in crate::formula) fn cmp_values(env: &Env<'_>, a: &Value, b: &Value) -> Ordering {
    let number = |v: &Value| as_number(env, v).map(settle).unwrap_or_default();
    match (a, b) {
        (Value::Number(a), Value::Number(b)) => settle(*a).cmp(&settle(*b)),
        (Value::Date(a), Value::Date(b)) => a.cmp(b),
        (Value::Instant(a), Value::Instant(b)) => a.cmp(b),
        (Value::Text(a), Value::Text(b)) => fold(a).cmp(&fold(b)),
        (Value::Logical(a), Value::Logical(b)) => a.cmp(b),
        (Value::Empty, Value::Empty) => Ordering::Equal,
        (Value::Empty, Value::Text(b)) => "".cmp(b),
        (Value::Text(a), Value::Empty) => (**a).cmp(""),
        (Value::Empty, Value::Logical(b)) => false.cmp(b),
        (Value::Logical(a), Value::Empty) => a.cmp(&false),
        (a, b) if sort(a) <= 1 && sort(b) <= 1 => number(a).cmp(&number(b)),
        (a, b) => sort(a).cmp(&sort(b)),
    }
}
