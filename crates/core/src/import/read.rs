//! Reading the cells of one column as values of a kind.

use super::{ColumnPlan, Raw};
use crate::{
    Clock,
    fault::{Fault, FaultKind},
    people::People,
    schema::Kind,
    value::{DateOrder, DateReading, Locale, Typing, Value, parse_with, to_cents},
};
use jiff::civil::{DateTime, Time};

/// How a column is read.
pub(crate) struct ColumnReader<'a> {
    typing: Typing<'a>,
    separator: Option<&'a str>,
}

fn wrong(message: impl Into<String>) -> Fault {
    Fault::new(FaultKind::WrongKind, message)
}

impl<'a> ColumnReader<'a> {
    pub(crate) fn new(plan: &'a ColumnPlan, locale: Locale, people: &'a People, clock: &'a Clock) -> Self {
        let order = plan.dates.unwrap_or(if locale.day_first { DateOrder::Day } else { DateOrder::Month });
        let locale = Locale { decimal_comma: plan.decimal_comma, ..locale };
        // A file says nothing of the day on which it is read.
        let dates = DateReading { order, years_from: plan.years_from, today: None };
        Self { typing: Typing { locale, dates, people, clock }, separator: plan.separator.as_deref() }
    }

    /// The value of a cell.
    ///
    /// # Errors
    /// Why it does not fit, as typing it would be refused.
    pub(crate) fn value(&self, raw: &Raw, kind: &Kind) -> Result<Value, Fault> {
        match (raw, kind) {
            (Raw::Empty, _) => Ok(Value::Empty),
            (Raw::Error(shown), _) => {
                Err(wrong(format!("The file could not compute this and shows {shown}. Put it right there, or here.")))
            }
            (Raw::Text(text), Kind::Text { .. } | Kind::LongText | Kind::Email) => Ok(Value::text(text.trim())),
            // What an amount shows is what it is, whatever it was computed with.
            (Raw::Money(amount, code), Kind::Money { currency }) if code.letters() == currency => {
                Ok(Value::Number(to_cents(*amount, currency)))
            }
            (Raw::Money(_, code), Kind::Money { currency }) => {
                Err(wrong(format!("This amount is in {}, and the field holds {currency}.", code.letters())))
            }
            (Raw::Money(amount, _), Kind::Number { .. }) => Ok(Value::Number(*amount)),
            (Raw::Percent(share), Kind::Percent { .. } | Kind::Number { .. }) => Ok(Value::Number(*share)),
            (Raw::Number(number), Kind::Number { .. } | Kind::Percent { .. } | Kind::Rating { .. }) => Ok(Value::Number(*number)),
            (Raw::Duration(seconds), Kind::Duration) => Ok(Value::Number(*seconds)),
            (Raw::Logical(yes), Kind::YesNo) => Ok(Value::Logical(*yes)),
            (Raw::Date(date), Kind::Date) => Ok(Value::Date(*date)),
            (Raw::Date(date), Kind::DateTime) => self.instant(date.to_datetime(Time::midnight())),
            (Raw::Date(date), Kind::Range) => Ok(Value::Range(*date, *date)),
            (Raw::DateTime(moment), Kind::DateTime) => self.instant(*moment),
            (Raw::DateTime(moment), Kind::Date) if moment.time() == Time::midnight() => Ok(Value::Date(moment.date())),
            (Raw::DateTime(moment), Kind::Range) if moment.time() == Time::midnight() => Ok(Value::Range(moment.date(), moment.date())),
            (Raw::DateTime(_), Kind::Date | Kind::Range) => Err(wrong(format!(
                "“{}” has a time of day, which a {} can’t hold: make the field a date and time.",
                raw.words(),
                kind.name()
            ))),
            _ => self.typed(raw, kind),
        }
    }

    /// What typing the cell's words gives.
    fn typed(&self, raw: &Raw, kind: &Kind) -> Result<Value, Fault> {
        // Digits of a file's own numbers stand with a point, whatever the texts in it have.
        let own = matches!(raw, Raw::Number(_) | Raw::Percent(_) | Raw::Money(..));
        let locale = Locale { decimal_comma: self.typing.locale.decimal_comma && !own, ..self.typing.locale };
        let typing = Typing { locale, ..self.typing };
        let words = raw.words();
        match (self.separator, kind) {
            (Some(separator), Kind::Choices { .. } | Kind::People) => {
                parse_with(&crate::intent::split(&words, Some(separator)).join(","), kind, typing)
            }
            _ => parse_with(&words, kind, typing),
        }
    }

    fn instant(&self, moment: DateTime) -> Result<Value, Fault> {
        let zoned = moment.to_zoned(self.typing.clock.zone.clone());
        Ok(Value::Instant(zoned.map_err(|_| wrong("This moment is out of range."))?.timestamp()))
    }
}
