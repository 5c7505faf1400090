//! Arithmetic that operators and functions share: exact, and with an end, past which there is an error and no panic.

use crate::value::CalcError;
use jiff::civil::Date;
use rust_decimal::{
    Decimal, MathematicalOps,
    prelude::{FromPrimitive, ToPrimitive},
};

/// Why there is no value: nothing to work with, or an error.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Stop {
    /// A date was needed where none stands: the result is nothing.
    Empty,
    Error(CalcError),
}

pub(super) type Calc<T> = Result<T, Stop>;

impl From<CalcError> for Stop {
    fn from(error: CalcError) -> Self {
        Stop::Error(error)
    }
}

/// The first divided by the second.
pub(super) fn divided(number: Decimal, by: Decimal) -> Calc<Decimal> {
    if by.is_zero() {
        return Err(CalcError::DivisionByZero.into());
    }
    number.checked_div(by).ok_or_else(|| CalcError::NoNumber.into())
}

/// The product.
pub(super) fn times(number: Decimal, by: Decimal) -> Calc<Decimal> {
    number.checked_mul(by).ok_or_else(|| CalcError::NoNumber.into())
}

/// The base to the power: exact for whole powers that fit.
pub(super) fn power(base: Decimal, power: Decimal) -> Calc<Decimal> {
    if base.is_zero() && power.is_sign_negative() && !power.is_zero() {
        return Err(CalcError::DivisionByZero.into());
    }
    if let Some(whole) = power.to_i64().filter(|w| Decimal::from(*w) == power && w.unsigned_abs() <= 1_000) {
        let mut all = Decimal::ONE;
        for _ in 0..whole.unsigned_abs() {
            all = all.checked_mul(base).ok_or(CalcError::NoNumber)?;
        }
        return if whole < 0 { divided(Decimal::ONE, all) } else { Ok(all) };
    }
    // The power that people write for a root.
    if power == Decimal::new(5, 1) {
        return base.sqrt().ok_or_else(|| CalcError::NoNumber.into());
    }
    exact(to_double(base).powf(to_double(power)))
}

/// As near as a double comes.
pub(super) fn to_double(number: Decimal) -> f64 {
    number.to_f64().unwrap_or(f64::NAN)
}

/// A double as a decimal of 15 digits, which is what it holds for certain.
pub(super) fn exact(double: f64) -> Calc<Decimal> {
    let number = Decimal::from_f64(double).filter(|_| double.is_finite()).ok_or(CalcError::NoNumber)?;
    number.round_sf(15).map(|n| n.normalize()).ok_or_else(|| CalcError::NoNumber.into())
}

/// The day so many days later.
pub(super) fn plus(day: Date, days: i64) -> Calc<Date> {
    crate::value::plus_days(day, days).ok_or_else(|| CalcError::NoNumber.into())
}

/// Days from one day to another.
pub(super) fn between(from: Date, to: Date) -> i64 {
    i64::from(crate::condition::days_between(from, to))
}

/// The day with this serial number: 1 is 31 December 1899.
pub(super) fn day_of_serial(serial: Decimal) -> Calc<Date> {
    let epoch = Date::constant(1899, 12, 30);
    plus(epoch, serial.floor().to_i64().ok_or(CalcError::NoNumber)?)
}

/// The serial number of a day.
pub(super) fn serial_of_day(day: Date) -> Decimal {
    Decimal::from(between(Date::constant(1899, 12, 30), day))
}
