//! Days and months counted on, to the ends of the calendar and never beyond them.

use jiff::{Span, civil::Date};

/// The day so many days later, negative: earlier; none beyond the calendar's ends.
pub(crate) fn plus_days(day: Date, days: i64) -> Option<Date> {
    day.checked_add(Span::new().try_days(days).ok()?).ok()
}

/// The same day so many months later, or the last of that month; none beyond the calendar's ends.
pub(crate) fn plus_months(day: Date, months: i64) -> Option<Date> {
    day.checked_add(Span::new().try_months(months).ok()?).ok()
}

/// The day so many days later, stopping at the calendar's ends.
pub(crate) fn days_on(day: Date, days: i64) -> Date {
    plus_days(day, days).unwrap_or(if days < 0 { Date::MIN } else { Date::MAX })
}

/// The day so many months later, stopping at the calendar's ends.
pub(crate) fn months_on(day: Date, months: i64) -> Date {
    plus_months(day, months).unwrap_or(if months < 0 { Date::MIN } else { Date::MAX })
}
