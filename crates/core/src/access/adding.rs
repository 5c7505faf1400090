//! Adding within a reach: what somebody who sees only some records of a table says of a new one, so that it is one of those.

use super::{Asker, Lens, Reach};
use crate::{
    condition::{Check, Condition, Test, Who},
    dataset::Dataset,
    fault::{Fault, FaultKind},
    history::{Change, Op},
    id::{FieldId, RecordId, TableId},
    schema::{Kind, within_sentence},
    value::{Value, list_text},
};

/// What a reach asks of a new record.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Adding {
    /// What follows from it, and is filled in.
    pub fills: Vec<(FieldId, Value)>,
    /// The fields on which it hangs, which only whoever adds can say.
    pub asks: Vec<FieldId>,
}

impl Lens<'_> {
    /// Nothing where the asker sees whatever they add, or adds for others alone.
    pub fn adding(&self, table: TableId) -> Option<Adding> {
        let mut adding = Adding::default();
        for test in joined(self.reaches_of_adding(table)?.first()?) {
            let Some(field) = test.path.first().copied() else { continue };
            match self.follows(table, test) {
                Some(value) => adding.fills.push((field, value)),
                None if self.adds_with(table, field) && !adding.asks.contains(&field) => adding.asks.push(field),
                None => {}
            }
        }
        Some(adding)
    }

    /// The conditions under which the asker sees a record, where these are all there is; those of roles that add come first.
    fn reaches_of_adding(&self, table: TableId) -> Option<Vec<&Condition>> {
        let grants = self.grants(table)?;
        let sees_own = |reach: &Reach| matches!(reach, Reach::All | Reach::Mine);
        if grants.iter().all(|g| g.rights.look == Reach::None) || grants.iter().any(|g| sees_own(&g.rights.look)) {
            return None;
        }
        let condition = |add: bool| {
            grants.iter().filter(move |g| g.rights.add == add).filter_map(|g| match &g.rights.look {
                Reach::Where(condition) => Some(condition),
                _ => None,
            })
        };
        Some(condition(true).chain(condition(false)).collect())
    }

    /// The one value of the record itself that lets a test hold.
    fn follows(&self, table: TableId, test: &Test) -> Option<Value> {
        let [field] = test.path[..] else { return None };
        let kind = &self.dataset().table(table)?.def.field(field)?.kind;
        match (&test.check, kind) {
            (Check::Person { not: false, any }, Kind::Person | Kind::People) => {
                let person = match any[..] {
                    _ if any.contains(&Who::Me) => self.me()?,
                    [Who::Person(person)] => person,
                    _ => return None,
                };
                Some(if matches!(kind, Kind::Person) { Value::Person(person) } else { Value::People(vec![person]) })
            }
            (Check::Option { not: false, any }, Kind::Choice { .. }) if any.len() == 1 => Some(Value::Choice(any[0])),
            (Check::Option { not: false, any }, Kind::Choices { .. }) if any.len() == 1 => Some(Value::Choices(any.clone())),
            (Check::MyRecord { not: false }, Kind::Link(_)) => Some(Value::Links(vec![self.my_record()?])),
            (Check::Yes, Kind::YesNo) => Some(Value::Logical(true)),
            _ => None,
        }
    }

    /// What must hold of a record, by one of the asker's roles or another, for a new one that is linked to it to be in sight,
    /// as far as that link decides it. Nothing: it decides nothing.
    pub(crate) fn links_of_adding(&self, table: TableId, link: FieldId) -> Vec<Condition> {
        let beyond = |test: &&Test| test.path.len() > 1 && test.path[0] == link;
        let rest = |test: &Test| Condition::Test(Test { path: test.path[1..].to_vec(), of: test.of, check: test.check.clone() });
        let reaches = self.reaches_of_adding(table).unwrap_or_default();
        reaches.into_iter().map(|reach| Condition::All(joined(reach).into_iter().filter(beyond).map(rest).collect())).collect()
    }

    /// That whoever adds records will see them; `change`: how they are added.
    ///
    /// # Errors
    /// How many they would not see, and what to fill in so that they do.
    pub(crate) fn sees_what_is_added(&self, asker: Asker, table: TableId, change: &Change) -> Result<(), Fault> {
        let (Some(adding), Some(home)) = (self.adding(table), self.dataset().table(table)) else { return Ok(()) };
        let mut after: Dataset = self.dataset().clone();
        after.apply(change);
        let then = Lens::new(&after, asker, self.clock);
        let added: Vec<RecordId> = change.ops.iter().flat_map(|op| added_by(op, table)).collect();
        let unseen = added.iter().filter(|r| after.table(table).is_some_and(|t| t.is_live(**r)) && !then.sees(table, **r)).count();
        if unseen == 0 {
            return Ok(());
        }
        let asked: Vec<&str> = adding.asks.iter().filter_map(|f| home.def.field(*f)).map(|f| f.name.as_str()).collect();
        let what = if added.len() == 1 {
            format!("this {}", home.def.one)
        } else {
            format!("{} of what is added", self.clock.customs().count_words(unseen, &home.def.one, &home.def.many()))
        };
        let mend = match asked[..] {
            [] => "Ask the tracker’s steward what you may add.".to_owned(),
            _ => format!(
                "Choose {} so that it is one of those open to you.",
                list_text(&asked.iter().map(|n| within_sentence(n)).collect::<Vec<_>>(), "and")
            ),
        };
        let at = adding.asks.first().map_or_else(String::new, |field| format!("/records/0/{field}"));
        Err(Fault::new(FaultKind::NotAllowed, format!("You would not see {what}. {mend}")).at(at))
    }
}

/// The tests that all have to hold. What holds in one way or another asks for nothing in particular.
fn joined(condition: &Condition) -> Vec<&Test> {
    match condition {
        Condition::Test(test) => vec![test],
        Condition::All(parts) => parts.iter().flat_map(joined).collect(),
        Condition::Any(parts) => {
            if let [one] = &parts[..] {
                joined(one)
            } else {
                Vec::new()
            }
        }
    }
}

fn added_by(op: &Op, to: TableId) -> Vec<RecordId> {
    match op {
        Op::Add { table, record } if *table == to => vec![*record],
        Op::Rows(rows) if rows.table == to => rows.records().collect(),
        _ => Vec::new(),
    }
}
