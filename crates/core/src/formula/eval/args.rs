//! The arguments of functions, evaluated, and taken as what they should be.

use super::{
    super::{
        TEXT_RESULT_LIMIT,
        function::{Function, Takes},
    },
    Calc, Env, Stop, Val,
    code::Code,
    scalar,
    values::{as_day, as_logical, as_number, moment_of_serial, text_of},
};
use crate::value::{CalcError, Value};
use jiff::civil::{Date, DateTime};
use rust_decimal::{Decimal, prelude::ToPrimitive};

/// The arguments of a function, evaluated.
pub(in crate::formula) struct Args<'e, 'a> {
    pub(in crate::formula) env: &'e Env<'a>,
    pub(super) values: &'e [Val],
    pub(super) function: &'static Function,
}

/// The arguments of a function that says which are evaluated.
pub(in crate::formula) struct Lazy<'e, 'a, 'c> {
    pub(super) env: &'e Env<'a>,
    pub(super) arguments: &'e [Code<'c>],
    pub(super) rows: &'e mut Vec<usize>,
}

impl<'a> Lazy<'_, 'a, '_> {
    pub(in crate::formula) fn env(&self) -> &Env<'a> {
        self.env
    }

    pub(in crate::formula) fn len(&self) -> usize {
        self.arguments.len()
    }

    pub(in crate::formula) fn value(&mut self, place: usize) -> Calc<Value> {
        let Some(argument) = self.arguments.get(place) else { return Ok(Value::Empty) };
        scalar(argument, self.env, self.rows)
    }

    pub(in crate::formula) fn yes(&mut self, place: usize) -> Calc<bool> {
        let value = self.value(place)?;
        as_logical(self.env, &value)
    }

    pub(in crate::formula) fn whole(&mut self, place: usize) -> Calc<i64> {
        let value = self.value(place)?;
        as_number(self.env, &value)?.trunc().to_i64().ok_or_else(|| CalcError::NoNumber.into())
    }
}

impl Val {
    pub(super) fn len(&self) -> usize {
        match self {
            Val::One(_) => 1,
            Val::List(values) => values.len(),
            Val::Records(_, records) => records.len(),
        }
    }

    /// Bytes of text in it.
    pub(super) fn text_len(&self) -> usize {
        let of = |value: &Value| if let Value::Text(text) = value { text.len() } else { 0 };
        match self {
            Val::One(value) => of(value),
            Val::List(values) => values.iter().map(of).sum(),
            Val::Records(..) => 0,
        }
    }

    pub(in crate::formula) fn into_one(self, env: &Env<'_>) -> Calc<Value> {
        match self {
            Val::One(Value::Error(error)) => Err(error.into()),
            Val::One(value) => Ok(value),
            Val::List(mut values) if values.len() <= 1 => Val::One(values.pop().unwrap_or_default()).into_one(env),
            Val::Records(table, records) if records.len() <= 1 => Ok(records.first().map_or(Value::Empty, |r| env.name(table, *r))),
            Val::List(_) | Val::Records(..) => Err(CalcError::WrongValue.into()),
        }
    }

    pub(super) fn each(&self, env: &Env<'_>, mut see: impl FnMut(Value) -> Calc<()>) -> Calc<()> {
        match self {
            Val::One(value) => see(value.clone()),
            Val::List(values) => values.iter().cloned().try_for_each(see),
            Val::Records(table, records) => records.iter().try_for_each(|r| see(env.name(*table, *r))),
        }
    }
}

impl Args<'_, '_> {
    pub(in crate::formula) fn len(&self) -> usize {
        self.values.len()
    }

    /// An argument as one value.
    pub(in crate::formula) fn one(&self, place: usize) -> Calc<Value> {
        self.values.get(place).cloned().unwrap_or(Val::One(Value::Empty)).into_one(self.env)
    }

    pub(in crate::formula) fn number(&self, place: usize) -> Calc<Decimal> {
        as_number(self.env, &self.one(place)?)
    }

    pub(in crate::formula) fn number_or(&self, place: usize, default: Decimal) -> Calc<Decimal> {
        if place < self.len() { self.number(place) } else { Ok(default) }
    }

    /// A whole number: what stands behind the point is cut off.
    pub(in crate::formula) fn whole_or(&self, place: usize, default: i64) -> Calc<i64> {
        if place >= self.len() {
            return Ok(default);
        }
        self.number(place)?.trunc().to_i64().ok_or_else(|| CalcError::NoNumber.into())
    }

    pub(in crate::formula) fn text(&self, place: usize) -> Calc<String> {
        text_of(self.env, &self.one(place)?)
    }

    pub(in crate::formula) fn yes(&self, place: usize) -> Calc<bool> {
        as_logical(self.env, &self.one(place)?)
    }

    /// A day; where nothing stands, there is no result.
    pub(in crate::formula) fn day(&self, place: usize) -> Calc<Date> {
        as_day(self.env, &self.one(place)?)
    }

    /// A date and time, or a time of day.
    pub(in crate::formula) fn moment(&self, place: usize) -> Calc<DateTime> {
        match self.one(place)? {
            Value::Date(date) => Ok(date.at(0, 0, 0, 0)),
            Value::Instant(instant) => Ok(self.env.wall(instant)),
            Value::Empty => Err(Stop::Empty),
            other => moment_of_serial(as_number(self.env, &other)?),
        }
    }

    /// All values from an argument on, those in lists too; empty ones left out.
    pub(in crate::formula) fn values(&self, from: usize) -> Calc<Vec<Value>> {
        let mut found = Vec::new();
        for val in self.values.iter().skip(from) {
            val.each(self.env, |value| match value {
                Value::Error(error) => Err(error.into()),
                Value::Empty => Ok(()),
                value => {
                    found.push(value);
                    Ok(())
                }
            })?;
        }
        Ok(found)
    }

    /// The values of one argument, empty ones too.
    pub(in crate::formula) fn values_of(&self, place: usize) -> Calc<Vec<Value>> {
        let mut found = Vec::new();
        let Some(val) = self.values.get(place) else { return Ok(found) };
        val.each(self.env, |value| {
            found.push(value);
            Ok(())
        })?;
        Ok(found)
    }

    /// All numbers from an argument on. In lists, what is no number is left out; alone, it is an error.
    pub(in crate::formula) fn numbers(&self, from: usize) -> Calc<Vec<Decimal>> {
        let mut found = Vec::new();
        for val in self.values.iter().skip(from) {
            self.gather_numbers(val, &mut found)?;
        }
        Ok(found)
    }

    pub(in crate::formula) fn numbers_of(&self, place: usize) -> Calc<Vec<Decimal>> {
        let mut found = Vec::new();
        if let Some(val) = self.values.get(place) {
            self.gather_numbers(val, &mut found)?;
        }
        Ok(found)
    }

    fn gather_numbers(&self, val: &Val, found: &mut Vec<Decimal>) -> Calc<()> {
        match val {
            Val::One(Value::Empty) | Val::Records(..) => {}
            Val::One(value) => found.push(as_number(self.env, value)?),
            Val::List(values) => {
                for value in values {
                    match value {
                        Value::Number(number) => found.push(*number),
                        Value::Logical(yes) => found.push(Decimal::from(u8::from(*yes))),
                        Value::Date(_) | Value::Instant(_) => found.push(as_number(self.env, value)?),
                        Value::Error(error) => return Err((*error).into()),
                        _ => {}
                    }
                }
            }
        }
        Ok(())
    }

    /// How many of all values are so. Linked records count as links, without looking for their names.
    pub(in crate::formula) fn count(&self, wanted: impl Fn(&Value) -> bool) -> usize {
        let of = |val: &Val| match val {
            Val::One(value) => usize::from(wanted(value)),
            Val::List(values) => values.iter().filter(|v| wanted(v)).count(),
            Val::Records(_, records) if wanted(&Value::Links(Vec::new())) => records.len(),
            Val::Records(..) => 0,
        };
        self.values.iter().map(of).sum()
    }

    pub(in crate::formula) fn texts(&self, from: usize) -> Calc<Vec<String>> {
        let mut found = Vec::new();
        let mut length = 0;
        for val in self.values.iter().skip(from) {
            val.each(self.env, |value| {
                let text = text_of(self.env, &value)?;
                length += text.len();
                if length > 2 * TEXT_RESULT_LIMIT {
                    return Err(CalcError::TooLarge.into());
                }
                found.push(text);
                Ok(())
            })?;
        }
        Ok(found)
    }

    pub(in crate::formula) fn logicals(&self) -> Calc<Vec<bool>> {
        let mut found = Vec::new();
        for val in self.values {
            let listed = !matches!(val, Val::One(_));
            val.each(self.env, |value| {
                if !(listed && matches!(value, Value::Empty | Value::Text(_))) {
                    found.push(as_logical(self.env, &value)?);
                }
                Ok(())
            })?;
        }
        Ok(found)
    }

    pub(in crate::formula) fn days_from(&self, from: usize) -> Calc<Vec<Date>> {
        debug_assert!(self.function.takes(from) == Takes::Days);
        self.values(from)?.iter().map(|v| as_day(self.env, v)).collect()
    }
}
