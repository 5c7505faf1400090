//! What hangs on a person in a tracker, and handing it over: when somebody leaves, nothing is lost and nothing goes to nobody unseen.

use super::Decider;
use crate::{
    access::Lens,
    automation::{Automation, Recipient, Step},
    fault::{Checked, Fault},
    history::Op,
    id::{FieldId, PersonId, TableId},
    names::{Hold, Name, Names},
    part::Part,
    schema::{Kind, within_sentence},
    value::{Cell, Value},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// One sort of thing that hangs on somebody, handed over as one.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "of", rename_all = "snake_case")]
pub enum Held {
    /// Records that name them in a field.
    Field { table: TableId, field: FieldId },
    /// Parts of one sort that name them: views of their own, roles, forms, automations.
    Parts { sort: String },
}

/// What hangs on somebody, and how much of it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Holding {
    pub held: Held,
    /// *12 faults name them as warden.*
    pub words: String,
    pub count: usize,
}

/// Hands what hangs on one person over to others.
#[derive(Clone, Debug)]
pub struct HandOver {
    pub from: PersonId,
    /// Each to somebody; what is not named stays as it is.
    pub to: Vec<(Held, PersonId)>,
    /// Who does it: an owner of the team, who need not work in the tracker.
    pub by: PersonId,
}

impl Lens<'_> {
    /// What hangs on somebody in this tracker. Counts over everything, so for those alone who let people go.
    pub fn held_by(&self, person: PersonId) -> Vec<Holding> {
        let ds = self.dataset();
        let mut held = Vec::new();
        for table in ds.tables() {
            let (one, many) = (&table.def.one, table.def.many());
            for field in table.def.fields.iter().filter(|f| matches!(f.kind, Kind::Person | Kind::People)) {
                let count =
                    table.records().filter(|r| names(table.column(field.id).map_or(Cell::Empty, |c| c.cell(r.row())), person)).count();
                if count > 0 {
                    let verb = if count == 1 { "names" } else { "name" };
                    let words = format!(
                        "{} {verb} them as {}",
                        self.clock().customs().count_words(count, one, &many),
                        within_sentence(&field.name)
                    );
                    held.push(Holding { held: Held::Field { table: table.def.id, field: field.id }, words, count });
                }
            }
        }
        let mut parts: BTreeMap<&'static str, Vec<Part>> = BTreeMap::new();
        for part in ds.parts().into_iter().filter(|part| part_names(part, person, self)) {
            parts.entry(part.key().0).or_default().push(part);
        }
        held.extend(parts.into_iter().map(|(sort, parts)| {
            let titles: Vec<&str> = parts.iter().map(Part::title).take(3).collect();
            let more = if parts.len() > titles.len() { ", …" } else { "" };
            let words =
                format!("{}: {}{more}", self.clock().customs().count_words(parts.len(), sort, &format!("{sort}s")), titles.join(", "));
            Holding { held: Held::Parts { sort: sort.to_owned() }, words, count: parts.len() }
        }));
        held
    }
}

fn names(cell: Cell<'_>, person: PersonId) -> bool {
    match cell {
        Cell::Person(one) => one == person,
        Cell::People(list) => list.contains(&person),
        _ => false,
    }
}

/// Whether a part names somebody: by their number, or an automation by the address it writes to.
fn part_names(part: &Part, person: PersonId, lens: &Lens<'_>) -> bool {
    let mut found = false;
    let mut looked = part.clone();
    looked.each(&mut |name: Name, _: Hold| {
        found |= name == Name::Person(person);
        Some(name)
    });
    let mail = lens.dataset().people.get(person).map_or("", |p| p.mail.as_str());
    found || matches!(part, Part::Automation(one) if !mail.is_empty() && writes_to(one, mail))
}

fn writes_to(automation: &Automation, mail: &str) -> bool {
    automation.all_steps().iter().any(|step| matches!(step, Step::Mail { to: Recipient::Address(to), .. } if to.eq_ignore_ascii_case(mail)))
}

impl Decider<'_> {
    /// The operations that hand over what hangs on somebody.
    ///
    /// # Errors
    /// Whoever it is to go to does not work here.
    pub(super) fn hand_over(&self, hand: &HandOver) -> Checked<Vec<Op>> {
        let mut ops = Vec::new();
        for (held, to) in &hand.to {
            let here = self.ds.people.get(*to).is_some_and(|person| !person.has_left());
            if !here || *to == hand.from {
                return Err(Fault::not_found("person").into());
            }
            match held {
                Held::Field { table, field } => ops.extend(self.hand_field(*table, *field, hand.from, *to)?),
                Held::Parts { sort } => ops.extend(self.hand_parts(sort, hand.from, *to)),
            }
        }
        self.stands_after(&ops.iter().filter(|op| matches!(op, Op::Put { .. })).cloned().collect::<Vec<_>>())?;
        Ok(ops)
    }

    fn hand_field(&self, table: TableId, field: FieldId, from: PersonId, to: PersonId) -> Result<Option<Op>, Fault> {
        let home = self.ds.table(table).filter(|t| t.def.field(field).is_some()).ok_or_else(|| Fault::not_found("field"))?;
        let Some(column) = home.column(field) else { return Ok(None) };
        let cells: Vec<_> = home
            .records()
            .filter(|record| names(column.cell(record.row()), from))
            .map(|record| {
                let before = column.cell(record.row()).to_value();
                let after = match &before {
                    Value::People(list) => {
                        let mut people: Vec<PersonId> = Vec::new();
                        for person in list.iter().map(|one| if *one == from { to } else { *one }) {
                            if !people.contains(&person) {
                                people.push(person);
                            }
                        }
                        Value::People(people)
                    }
                    _ => Value::Person(to),
                };
                (record, before, after)
            })
            .collect();
        Ok((!cells.is_empty()).then_some(Op::Fill { table, field, cells }))
    }

    fn hand_parts(&self, sort: &str, from: PersonId, to: PersonId) -> Vec<Op> {
        let address = |person: PersonId| self.ds.people.get(person).map_or_else(String::new, |p| p.mail.clone());
        let (old, new) = (address(from), address(to));
        let parts = self.ds.parts().into_iter().filter(|part| part.key().0 == sort && part_names(part, from, &self.lens));
        let handed = |before: Part| {
            let mut after = before.clone();
            after.each(&mut |name: Name, _: Hold| Some(if name == Name::Person(from) { Name::Person(to) } else { name }));
            if let Part::Automation(automation) = &mut after {
                automation.steps.iter_mut().for_each(|step| step.write_to(&old, &new));
            }
            Op::Put { before: Some(Box::new(before)), after: Some(Box::new(after)) }
        };
        parts.map(handed).collect()
    }
}
