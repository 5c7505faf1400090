//! From one kind to another: whether a field's values can become another kind's, and the value that one becomes.

use super::{Cell, Locale, Value, parse, parse::seconds_in};
use crate::{
    Clock,
    fault::{Fault, FaultKind},
    people::People,
    schema::Kind,
};
use jiff::civil::Time;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};

/// Whether values of one kind can become values of another.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Conversion {
    Never,
    /// Some can, some perhaps not: it depends on what stands there.
    Perhaps,
    Always,
}

/// What reading a value as another kind needs to know.
#[derive(Clone, Copy, Debug)]
pub struct Conventions<'a> {
    pub locale: Locale,
    pub people: &'a People,
    pub clock: &'a Clock,
}

impl Kind {
    /// That its values can't become another kind's, in a sentence.
    pub(crate) fn can_not_become(&self, to: &Kind) -> String {
        format!("A field of the kind “{}” can’t become one of the kind “{}”.", self.name(), to.name())
    }

    /// Whether its values can become another kind's.
    pub fn converts_to(&self, to: &Kind) -> Conversion {
        use Conversion::{Always, Never, Perhaps};
        let from = self.shows();
        // Records and files can't be typed: what they become is asked where they are.
        if !to.takes_input() || matches!(to, Kind::Link(_) | Kind::Files) || matches!(from, Kind::Files | Kind::Button { .. }) {
            return Never;
        }
        match (from, to) {
            (_, Kind::LongText) => Always,
            (Kind::LongText | Kind::Checklist | Kind::Json | Kind::Text { .. }, Kind::Text { .. }) => Perhaps,
            (_, Kind::Text { .. }) => Always,
            (Kind::Email, Kind::Person | Kind::People) | (Kind::Email | Kind::Phone, Kind::Choice { .. } | Kind::Choices { .. }) => Perhaps,
            (Kind::Email | Kind::Phone, other) if std::mem::discriminant(from) != std::mem::discriminant(other) => Never,
            (Kind::Text { .. } | Kind::LongText | Kind::Email | Kind::Phone | Kind::Numbering { .. } | Kind::Link(_), _) => Perhaps,
            // A time is an amount of something, but neither money nor a share nor a number of stars.
            (Kind::Duration, Kind::Number { .. } | Kind::Duration) => Always,
            (Kind::Number { .. }, Kind::Duration) => Perhaps,
            (Kind::Duration, other) if other.is_number() => Never,
            (from, Kind::Number { .. } | Kind::Percent { .. }) if from.is_number() => Always,
            (from, Kind::Money { .. } | Kind::Rating { .. }) if from.is_number() => Perhaps,
            (Kind::YesNo, Kind::Number { .. } | Kind::YesNo)
            | (Kind::Person, Kind::People | Kind::Person)
            | (Kind::People, Kind::People) => Always,
            (Kind::Date | Kind::DateTime | Kind::CreatedAt | Kind::ChangedAt, Kind::Date | Kind::DateTime | Kind::Range) => Always,
            (Kind::Range, Kind::Range) => Always,
            (Kind::Range, Kind::Date) | (Kind::People, Kind::Person) => Perhaps,
            (Kind::CreatedBy | Kind::ChangedBy, Kind::Person | Kind::People) => Always,
            (
                Kind::Choice { .. } | Kind::Choices { .. } | Kind::YesNo | Kind::Person | Kind::People | Kind::Rating { .. },
                Kind::Choice { .. } | Kind::Choices { .. } | Kind::YesNo,
            ) => Perhaps,
            (Kind::Number { .. }, Kind::YesNo) => Perhaps,
            (Kind::Json | Kind::Web | Kind::Place | Kind::Checklist, other)
                if std::mem::discriminant(from) == std::mem::discriminant(other) =>
            {
                Always
            }
            _ => Never,
        }
    }
}

/// How many seconds one of a number's unit is; where that is no unit of time, a minute, as when a bare number is typed.
fn seconds_of(unit: &str) -> Decimal {
    seconds_in(unit).or_else(|| seconds_in("")).unwrap_or(Decimal::ONE)
}

fn duration(number: Decimal, unit: &str) -> Result<Value, Fault> {
    let seconds = number.checked_mul(seconds_of(unit)).filter(Decimal::is_integer);
    let message = "This is no whole number of seconds, which is what a duration holds.";
    seconds.map(|seconds| Value::Number(seconds.normalize())).ok_or_else(|| Fault::new(FaultKind::WrongKind, message))
}

/// The value that a cell becomes as another kind. `text` is the cell as people read it.
///
/// # Errors
/// The fault that typing its text there would give; [`FaultKind::WrongKind`] where the kinds do not convert at all.
pub fn convert(cell: Cell<'_>, text: &str, from: &Kind, to: &Kind, with: Conventions<'_>) -> Result<Value, Fault> {
    if cell.is_empty() {
        return Ok(Value::Empty);
    }
    if from.converts_to(to) == Conversion::Never {
        return Err(Fault::new(FaultKind::WrongKind, from.can_not_become(to)));
    }
    let zone = with.clock.zone.clone();
    let direct = match (cell, to) {
        (Cell::Number(number), Kind::Duration) if let Kind::Number { unit, .. } = from.shows() => return duration(number, unit),
        (Cell::Number(seconds), Kind::Number { unit, .. }) if matches!(from.shows(), Kind::Duration) => {
            seconds.checked_div(seconds_of(unit)).map(|number| Value::Number(number.round_dp(10)))
        }
        (Cell::Number(number), Kind::Number { .. } | Kind::Percent { .. } | Kind::Money { .. } | Kind::Rating { .. } | Kind::Duration) => {
            Some(Value::Number(number))
        }
        (Cell::Logical(yes), Kind::Number { .. }) => Some(Value::Number(Decimal::from(u8::from(yes)))),
        (Cell::Date(date), Kind::Range) => Some(Value::Range(date, date)),
        (Cell::Date(date), Kind::DateTime) => date.to_datetime(Time::midnight()).to_zoned(zone).ok().map(|z| Value::Instant(z.timestamp())),
        (Cell::Instant(instant), Kind::Date) => Some(Value::Date(instant.to_zoned(zone).date())),
        (Cell::Instant(instant), Kind::Range) => {
            let date = instant.to_zoned(zone).date();
            Some(Value::Range(date, date))
        }
        (Cell::Range(start, end), Kind::Date) if start == end => Some(Value::Date(start)),
        (Cell::Person(person), Kind::People) => Some(Value::People(vec![person])),
        (Cell::People([person]), Kind::Person) => Some(Value::Person(*person)),
        (cell, to) if std::mem::discriminant(from.shows()) == std::mem::discriminant(to) && to.options().is_empty() => {
            Some(cell.to_value())
        }
        _ => None,
    };
    match direct {
        Some(value) => Ok(value),
        None => parse(text, to, with.locale, with.people, with.clock),
    }
}
