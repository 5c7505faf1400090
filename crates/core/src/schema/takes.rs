//! Which values stand in fields of which kinds.

use super::Kind;
use crate::{
    id::OptionId,
    value::{NUMBER_LIMIT, Value},
};
use std::collections::HashSet;

impl Kind {
    /// Whether a value of a field of this kind may be this; `options`: those that the kind has.
    pub(crate) fn takes(&self, value: &Value, options: &HashSet<OptionId>) -> bool {
        match (self, value) {
            (_, Value::Empty) => true,
            (Kind::Text { .. } | Kind::LongText | Kind::Email | Kind::Phone | Kind::Numbering { .. }, Value::Text(_))
            | (Kind::YesNo, Value::Logical(_))
            | (Kind::Date, Value::Date(_))
            | (Kind::DateTime, Value::Instant(_))
            | (Kind::Person, Value::Person(_))
            | (Kind::People, Value::People(_))
            | (Kind::Web, Value::Web(_))
            | (Kind::Place, Value::Place(_))
            | (Kind::Files, Value::Files(_))
            | (Kind::Checklist, Value::Checklist(_))
            | (Kind::Json, Value::Json(_)) => true,
            (
                Kind::Number { .. } | Kind::Percent { .. } | Kind::Duration | Kind::Money { .. } | Kind::Rating { .. },
                Value::Number(number),
            ) => number.abs() < NUMBER_LIMIT,
            (Kind::Range, Value::Range(start, end)) => start <= end,
            (Kind::Choice { .. }, Value::Choice(option)) => options.contains(option),
            (Kind::Choices { .. }, Value::Choices(chosen)) => chosen.iter().all(|o| options.contains(o)),
            (Kind::Link(link), Value::Links(records)) => !link.one || records.len() <= 1,
            (
                Kind::Text { .. }
                | Kind::LongText
                | Kind::Number { .. }
                | Kind::Money { .. }
                | Kind::Percent { .. }
                | Kind::Rating { .. }
                | Kind::YesNo
                | Kind::Date
                | Kind::DateTime
                | Kind::Range
                | Kind::Duration
                | Kind::Choice { .. }
                | Kind::Choices { .. }
                | Kind::Person
                | Kind::People
                | Kind::Link(_)
                | Kind::Email
                | Kind::Phone
                | Kind::Web
                | Kind::Place
                | Kind::Files
                | Kind::Checklist
                | Kind::Numbering { .. }
                | Kind::CreatedAt
                | Kind::CreatedBy
                | Kind::ChangedAt
                | Kind::ChangedBy
                | Kind::Id
                | Kind::Carried { .. }
                | Kind::Summary(_)
                | Kind::Calculation { .. }
                | Kind::Button { .. }
                | Kind::Json,
                _,
            ) => false,
        }
    }
}
