//! What an alteration names.

use super::{Alter, Altered};
use crate::{
    formula::formula_refs as formula,
    names::{Hold, See, field, kept, option, path, person, record},
    value::{Input, value_refs as value},
};

/// An alteration in its place: what it put in and is gone leaves the field empty.
pub(crate) fn altered_refs(of: &mut Altered, hold: Hold, see: &mut See<'_>) {
    field(&mut of.field, hold, see);
    match &mut of.to {
        Alter::Set(Input::Value(put)) => value(of.field, put, hold, see),
        Alter::From(from) => {
            field(from, hold, see);
        }
        Alter::Along(along) => {
            path(along, hold, see);
        }
        Alter::AddTask(task) => {
            task.person = task.person.and_then(|mut id| person(&mut id, hold, see).then_some(id));
            path(&mut task.along, hold, see);
        }
        Alter::Formula(of) => formula(of, hold, see),
        Alter::AddOptions(options) | Alter::TakeOptions(options) => kept(options, |id| option(id, hold, see)),
        Alter::AddPeople(people) | Alter::TakePeople(people) => kept(people, |id| person(id, hold, see)),
        Alter::AddLinks(records) | Alter::TakeLinks(records) => kept(records, |id| record(of.field, id, hold, see)),
        Alter::Set(_) | Alter::Empty | Alter::Replace { .. } | Alter::Days(_) | Alter::Raise(_) | Alter::Now | Alter::AddItem(_) => {}
    }
}
