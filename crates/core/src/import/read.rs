//! Reading the cells of one column as values of a kind.

use super::{ColumnPlan, DateOrder, Raw};
use crate::{
    Clock,
    fault::{Fault, FaultKind},
    people::People,
    schema::Kind,
    value::{Locale, Value, parse},
};
use rust_decimal::Decimal;

/// How a column is read.
pub(crate) struct ColumnReader<'a> {
    pub(crate) locale: Locale,
    pub(crate) separator: Option<&'a str>,
    pub(crate) people: &'a People,
    pub(crate) clock: &'a Clock,
}

impl<'a> ColumnReader<'a> {
    pub(crate) fn new(plan: &'a ColumnPlan, locale: Locale, people: &'a People, clock: &'a Clock) -> Self {
        let day_first = plan.dates.map_or(locale.day_first, |order| order != DateOrder::Month);
        let locale = Locale { day_first, decimal_comma: plan.decimal_comma, ..locale };
        Self { locale, separator: plan.separator.as_deref(), people, clock }
    }

    /// The value of a cell.
    ///
    /// # Errors
    /// Why it does not fit, as typing it would be refused.
    pub(crate) fn value(&self, raw: &Raw, kind: &Kind) -> Result<Value, Fault> {
        let direct = match (raw, kind) {
            (Raw::Empty, _) => Some(Value::Empty),
            (Raw::Text(text), Kind::Text { .. } | Kind::LongText | Kind::Email) => Some(Value::text(text.trim())),
            // A sheet has as many digits as it computed with; people see fifteen at most.
            (Raw::Number(number), Kind::Money { currency }) => Some(Value::Number(crate::value::to_cents(number.round_dp(9), currency))),
            (Raw::Number(number), Kind::Number { .. } | Kind::Percent { .. } | Kind::Rating { .. }) => Some(Value::Number(*number)),
            // Sheets keep a duration as a share of a day.
            (Raw::Number(number), Kind::Duration) => {
                let seconds = number.checked_mul(Decimal::from(86_400));
                let large = || Fault::new(FaultKind::WrongKind, "This duration is too long.");
                Some(Value::Number(seconds.ok_or_else(large)?.round()))
            }
            (Raw::Logical(yes), Kind::YesNo) => Some(Value::Logical(*yes)),
            (Raw::Date(date), Kind::Date) => Some(Value::Date(*date)),
            (Raw::DateTime(moment), Kind::Date) => Some(Value::Date(moment.date())),
            (Raw::DateTime(moment), Kind::DateTime) => {
                let zoned = moment.to_zoned(self.clock.zone.clone());
                Some(Value::Instant(zoned.map_err(|_| Fault::new(FaultKind::WrongKind, "This moment is out of range."))?.timestamp()))
            }
            _ => None,
        };
        if let Some(value) = direct {
            return Ok(value);
        }
        let words = raw.words();
        match (self.separator, kind) {
            (Some(separator), Kind::Choices { .. } | Kind::People) => {
                let joined = crate::intent::split(&words, Some(separator)).join(",");
                parse(&joined, kind, self.locale, self.people, self.clock)
            }
            _ => parse(&words, kind, self.locale, self.people, self.clock),
        }
    }
}
