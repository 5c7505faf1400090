//! What a condition names.

use super::{Check, Condition, Test, Who};
use crate::names::{Hold, See, kept, option, path, person, record};

/// A condition in its place: tests that name what was taken out go. How it holds what it names is said by what it is of.
pub(crate) fn condition_refs(of: &mut Condition, hold: Hold, see: &mut See<'_>) {
    if !part_of_condition(of, hold, see) {
        *of = Condition::default();
    }
}

fn part_of_condition(part: &mut Condition, hold: Hold, see: &mut See<'_>) -> bool {
    match part {
        Condition::Test(one) => {
            if test(one, hold, see) {
                return true;
            }
            // What must hold of somebody or something that is gone never holds: a rule that decides must not widen by it.
            // That something is not what is gone always holds.
            if matches!(hold, Hold::Needs(_)) && !one.check.is_negated() {
                *part = Condition::Any(Vec::new());
                return true;
            }
            false
        }
        Condition::All(parts) | Condition::Any(parts) => {
            let empty = parts.is_empty();
            let mut rest = Vec::with_capacity(parts.len());
            for mut part in parts.drain(..) {
                if part_of_condition(&mut part, hold, see) {
                    rest.push(part);
                }
            }
            *parts = rest;
            empty || !parts.is_empty()
        }
    }
}

impl Check {
    fn is_negated(&self) -> bool {
        matches!(
            self,
            Check::Option { not: true, .. }
                | Check::Person { not: true, .. }
                | Check::Record { not: true, .. }
                | Check::MyRecord { not: true }
                | Check::MyAddress { not: true }
        )
    }
}

fn test(test: &mut Test, hold: Hold, see: &mut See<'_>) -> bool {
    if !path(&mut test.path, hold, see) {
        return false;
    }
    let by = test.path.last().copied();
    match &mut test.check {
        Check::Option { any, .. } => {
            kept(any, |id| option(id, hold, see));
            !any.is_empty()
        }
        Check::Person { any, .. } => {
            kept(any, |who| match who {
                Who::Me => true,
                Who::Person(id) => person(id, hold, see),
            });
            !any.is_empty()
        }
        Check::Record { any, .. } => {
            kept(any, |id| by.is_some_and(|by| record(by, id, hold, see)));
            !any.is_empty()
        }
        Check::Empty
        | Check::Filled
        | Check::Text { .. }
        | Check::Number { .. }
        | Check::Between { .. }
        | Check::Day { .. }
        | Check::Within { .. }
        | Check::Older { .. }
        | Check::MyRecord { .. }
        | Check::MyAddress { .. }
        | Check::Yes
        | Check::No
        | Check::Error
        | Check::Differs => true,
    }
}
