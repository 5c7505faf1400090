//! What a value names.

use super::Value;
use crate::{
    id::FieldId,
    names::{Hold, See, kept, option, person, record},
};

/// A value of a field in its place; what it named and is gone leaves it empty.
pub(crate) fn value_refs(of: FieldId, value: &mut Value, hold: Hold, see: &mut See<'_>) {
    match value {
        Value::Choice(id) => {
            if !option(id, hold, see) {
                *value = Value::Empty;
            }
        }
        Value::Choices(list) => kept(list, |id| option(id, hold, see)),
        Value::Person(id) => {
            if !person(id, hold, see) {
                *value = Value::Empty;
            }
        }
        Value::People(list) => kept(list, |id| person(id, hold, see)),
        Value::Links(list) => kept(list, |id| record(of, id, hold, see)),
        Value::Empty
        | Value::Text(_)
        | Value::Number(_)
        | Value::Logical(_)
        | Value::Date(_)
        | Value::Instant(_)
        | Value::Range(..)
        | Value::Web(_)
        | Value::Place(_)
        | Value::Files(_)
        | Value::Json(_)
        | Value::Error(_) => {}
        Value::Checklist(items) => {
            if items.iter().any(|item| item.person.is_some()) {
                let mut list = items.to_vec();
                for item in &mut list {
                    item.person = item.person.and_then(|mut id| person(&mut id, hold, see).then_some(id));
                }
                *items = list.into();
            }
        }
    }
    *value = std::mem::take(value).tidy();
}
