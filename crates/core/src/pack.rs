//! A whole tracker as one value: what a template, a copy and a file elsewhere are made of. Records in the bin are left
//! out, so that records are numbered anew; everything that names one follows.

use crate::{
    access::{Base, Lens, Role},
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind},
    form::Arrival,
    history::{Op, Rows, Stamp},
    id::{FieldId, OptionId, PersonId, RecordId, RoleId, TableId},
    names::{Hold, Name, Names},
    part::{Part, with_part},
    people::{Actor, Person},
    rules::Rules,
    schema::Kind,
    value::{Value, days_on},
    view::{OrderOf, Rank, View},
};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet, HashSet};

/// A tracker packed.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Pack {
    /// Tables, views, forms, roles, automations; the tracker first.
    pub parts: Vec<Part>,
    pub rows: Vec<Rows>,
    /// The last number that each numbering gave out, by its period.
    pub counters: Vec<(FieldId, String, u64)>,
    /// How records came that came by a form, where there is anything to say of it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub arrivals: Vec<Came>,
    /// Where records stand in orders by hand.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub orders: Vec<Ordered>,
    /// Everybody who is named.
    pub people: Vec<Person>,
}

/// How a packed record came.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Came {
    pub table: TableId,
    pub record: RecordId,
    pub arrival: Arrival,
}

/// A packed order by hand.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Ordered {
    #[serde(flatten)]
    pub of: OrderOf,
    pub ranks: Vec<(RecordId, Rank)>,
}

/// What goes into a pack.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Packing {
    /// Everything but what is somebody's own: for another tracker of the same team.
    Structure,
    /// The same with its records.
    Records,
    /// Everything, with who may do what, as it stands.
    Whole,
}

impl Lens<'_> {
    /// The tracker, packed.
    ///
    /// # Errors
    /// Only builders may take its structure, only stewards its records.
    pub fn pack(&self, packing: Packing) -> Result<Pack, Fault> {
        if packing != Packing::Structure && !self.is_steward() {
            return Err(Fault::new(FaultKind::NotAllowed, "Only the tracker’s steward can take its records out of it."));
        }
        if !self.builds() {
            return Err(Fault::new(FaultKind::NotAllowed, "Only the tracker’s steward and builders can copy it."));
        }
        Ok(packed(self.dataset(), packing))
    }
}

fn packed(ds: &Dataset, packing: Packing) -> Pack {
    let places: BTreeMap<TableId, BTreeMap<RecordId, RecordId>> =
        ds.tables().map(|t| (t.def.id, t.records().enumerate().map(|(at, r)| (r, RecordId::at_row(at))).collect())).collect();
    let whole = packing == Packing::Whole;
    let mut parts: Vec<Part> =
        ds.parts().into_iter().filter_map(|part| with_part!(part, part => part.packed(whole).map(Part::from))).collect();
    let mut rows = Vec::new();
    let mut counters = Vec::new();
    if packing != Packing::Structure {
        rows = ds.tables().filter(|t| t.live() > 0).map(|t| packed_rows(t, &places, whole)).collect();
        counters = ds.counters().map(|(field, period, last)| (field, period.to_owned(), last)).collect();
    }
    let orders = if packing == Packing::Structure { Vec::new() } else { packed_orders(ds, &parts, &places) };
    let arrivals = if whole { packed_arrivals(ds, &places) } else { Vec::new() };
    // Records that rules name follow too; those in the bin go.
    let mut moved = |name: Name, _: Hold| match name {
        Name::Record { by, record } => {
            let (table, field) = ds.field(by)?;
            let (_, kind) = ds.shown_kind(table.def.id, field.id)?;
            let Kind::Link(link) = kind else { return None };
            let record = places.get(&link.to)?.get(&record).copied()?;
            Some(Name::Record { by, record })
        }
        other => Some(other),
    };
    parts.iter_mut().for_each(|part| part.each(&mut moved));
    Pack { parts, rows, counters, arrivals, orders, people: ds.people.iter().map(Person::outward).collect() }
}

/// The order that the records of each packed view, and the lines under each packed link, have by hand, as ranks of their new numbers:
/// all of them, where any has one.
fn packed_orders(ds: &Dataset, parts: &[Part], places: &BTreeMap<TableId, BTreeMap<RecordId, RecordId>>) -> Vec<Ordered> {
    let order = |of: OrderOf| {
        let ranks = ds.own_order(of)?.renumbered(places.get(&ds.ordered_table(of)?)?);
        Some(Ordered { of, ranks })
    };
    parts.iter().flat_map(orders_of).filter_map(order).collect()
}

/// The orders by hand that go where a part goes.
pub(crate) fn orders_of(part: &Part) -> Vec<OrderOf> {
    match part {
        Part::View(view) => vec![OrderOf::View(view.id)],
        Part::Table(def) => def.fields.iter().filter(|field| field.offers.lines).map(|field| OrderOf::Lines(field.id)).collect(),
        _ => Vec::new(),
    }
}

/// How records came by forms, without their private addresses: those stay where they were given out.
fn packed_arrivals(ds: &Dataset, places: &BTreeMap<TableId, BTreeMap<RecordId, RecordId>>) -> Vec<Came> {
    let came = |table: TableId, (from, to): (&RecordId, &RecordId)| {
        let arrival = ds.arrival(table, *from)?.clone();
        Some(Came { table, record: *to, arrival: Arrival { receipt: None, ..arrival } })
    };
    places.iter().flat_map(|(table, records)| records.iter().filter_map(|pair| came(*table, pair))).collect()
}

fn packed_rows(table: &crate::dataset::Table, places: &BTreeMap<TableId, BTreeMap<RecordId, RecordId>>, whole: bool) -> Rows {
    let records: Vec<RecordId> = table.records().collect();
    let holds = |kind: &Kind| match kind {
        Kind::Link(link) => link.holds,
        Kind::Numbering { .. } => true,
        kind => kind.takes_input(),
    };
    let mut fields = Vec::new();
    let mut columns = Vec::new();
    for field in table.def.fields.iter().filter(|f| holds(&f.kind)) {
        let Some(column) = table.column(field.id) else { continue };
        let mut values: Vec<Value> = records.iter().map(|r| column.cell(r.row()).to_value()).collect();
        if let Kind::Link(link) = field.kind {
            values.iter_mut().for_each(|value| renumber(value, places, link.to));
        }
        if values.iter().any(|v| *v != Value::Empty) {
            fields.push(field.id);
            columns.push(values);
        }
    }
    let stamp = |r: &RecordId| {
        table.meta(*r).map(|m| Stamp {
            created_at: m.created_at,
            created_by: m.created_by,
            changed_at: m.changed_at,
            changed_by: m.changed_by,
        })
    };
    let stamps = if whole { records.iter().filter_map(stamp).collect() } else { Vec::new() };
    let count = u32::try_from(records.len()).unwrap_or(u32::MAX);
    Rows { table: table.def.id, first: RecordId::at_row(0), count, fields, columns, stamps }
}

/// Linked records under their new numbers; those in the bin go.
fn renumber(value: &mut Value, places: &BTreeMap<TableId, BTreeMap<RecordId, RecordId>>, to: TableId) {
    if let Value::Links(records) = value {
        let known = places.get(&to);
        let list: Vec<RecordId> = records.iter().filter_map(|r| known?.get(r).copied()).collect();
        *value = Value::Links(list).tidy();
    }
}

impl Pack {
    /// Everybody under the number they have in this team, by their address; whoever is not in it becomes nobody.
    pub fn for_team(&self, team: &crate::people::People) -> Pack {
        let same = |person: &Person| team.iter().find(|p| !p.mail.is_empty() && p.mail.eq_ignore_ascii_case(&person.mail)).map(|p| p.id);
        let known: BTreeMap<PersonId, Option<PersonId>> = self.people.iter().map(|p| (p.id, same(p))).collect();
        let here = |person: PersonId| known.get(&person).copied().flatten();
        let mut pack = self.clone();
        // A view of somebody who is not here is nobody's.
        pack.parts.retain(|part| !matches!(part, Part::View(View { owner: Some(owner), .. }) if here(*owner).is_none()));
        let mut see = |name: Name, _: Hold| match name {
            Name::Person(person) => here(person).map(Name::Person),
            other => Some(other),
        };
        pack.parts.iter_mut().for_each(|part| part.each(&mut see));
        for rows in &mut pack.rows {
            for (field, column) in rows.fields.iter().zip(&mut rows.columns) {
                column.iter_mut().for_each(|value| crate::value::value_refs(*field, value, Hold::Shows(""), &mut see));
            }
            for stamp in &mut rows.stamps {
                for who in [&mut stamp.created_by, &mut stamp.changed_by] {
                    if let Actor::Person(person) = *who {
                        *who = here(person).map_or(Actor::Westerfall, Actor::Person);
                    }
                }
            }
        }
        for came in &mut pack.arrivals {
            came.arrival.by = came.arrival.by.and_then(here);
        }
        pack.people = team.iter().map(Person::outward).collect();
        pack
    }

    /// The same with every day moved by so many days: sample records are about the days around now.
    #[must_use]
    pub fn moved(mut self, days: i64) -> Pack {
        let day = |date: jiff::civil::Date| days_on(date, days);
        for value in self.rows.iter_mut().flat_map(|r| r.columns.iter_mut().flatten()) {
            match value {
                Value::Date(date) => *date = day(*date),
                Value::Range(start, end) => (*start, *end) = (day(*start), day(*end)),
                Value::Instant(instant) => {
                    let moved =
                        jiff::SignedDuration::try_from_hours(days.saturating_mul(24)).and_then(|by| instant.saturating_add(by).ok());
                    *instant = moved.unwrap_or(*instant);
                }
                _ => {}
            }
        }
        self
    }

    /// The same with this person as a steward.
    #[must_use]
    pub fn owned_by(mut self, person: PersonId) -> Pack {
        for part in &mut self.parts {
            if let Part::Automation(automation) = part {
                automation.acts_for.get_or_insert(person);
            }
        }
        let highest = self.parts.iter().map(Part::highest_id).max().unwrap_or(0);
        let steward = self.parts.iter_mut().find_map(|part| match part {
            Part::Role(role) if role.base == Base::Steward => Some(role),
            _ => None,
        });
        match (steward, RoleId::new(highest + 1)) {
            (Some(role), _) => drop(role.members.insert(person)),
            (None, Some(id)) => self.parts.push(Part::Role(Role {
                id,
                name: "Stewards".into(),
                base: Base::Steward,
                members: BTreeSet::from([person]),
                groups: BTreeSet::new(),
                about: String::new(),
                tables: BTreeMap::new(),
            })),
            (None, None) => {}
        }
        self
    }

    /// Of an order by hand, the table whose records stand in it.
    fn ordered_table(&self, of: OrderOf) -> Option<TableId> {
        self.parts.iter().find_map(|part| match (part, of) {
            (Part::View(view), OrderOf::View(id)) if view.id == id => Some(view.table),
            (Part::Table(def), OrderOf::Lines(field)) => match def.field(field)?.kind {
                Kind::Link(link) => Some(link.to),
                _ => None,
            },
            _ => None,
        })
    }

    /// Checks that it holds together, and gives the operations that put it into an empty tracker.
    ///
    /// # Errors
    /// What is wrong with it.
    pub(crate) fn ops(&self, ds: &Dataset) -> Checked<Vec<Op>> {
        let broken = |what: &str| Fault::new(FaultKind::WrongKind, format!("This file does not hold together: {what}."));
        let counts: BTreeMap<TableId, u32> = self.rows.iter().map(|r| (r.table, r.count)).collect();
        let tables: BTreeMap<TableId, _> =
            self.parts.iter().filter_map(|p| if let Part::Table(t) = p { Some((t.id, t)) } else { None }).collect();
        for rows in &self.rows {
            let table = tables.get(&rows.table).ok_or_else(|| broken("it has records of no table"))?;
            if rows.fields.len() != rows.columns.len()
                || rows.columns.iter().any(|c| c.len() != rows.count as usize)
                || rows.first.row() != 0
            {
                return Err(broken("a column is too short").into());
            }
            for (field, column) in rows.fields.iter().zip(&rows.columns) {
                let kind = &table.field(*field).ok_or_else(|| broken("it has values of no field"))?.kind;
                let options: HashSet<OptionId> = kind.options().iter().map(|o| o.id).collect();
                if column.iter().any(|value| !fits(value, kind, &options, &counts)) {
                    return Err(broken(&format!("a value of “{}” is of another kind", table.name)).into());
                }
            }
        }
        let put = |part: &Part| Op::Put { before: ds.current(part).map(Box::new), after: Some(Box::new(part.clone())) };
        let count =
            |(field, period, last): &(FieldId, String, u64)| Op::Count { field: *field, period: period.clone(), before: 0, after: *last };
        let made = |came: &&Came| counts.get(&came.table).is_some_and(|count| came.record.row() < *count as usize);
        let arrive = |came: &Came| Op::Arrive {
            table: came.table,
            record: came.record,
            before: None,
            after: Some(Box::new(Arrival { receipt: None, ..came.arrival.clone() })),
        };
        let rows = self.rows.iter().cloned().map(Op::Rows);
        let arrivals = self.arrivals.iter().filter(made).map(arrive);
        let order = |Ordered { of, ranks }: &Ordered| {
            let count = self.ordered_table(*of).and_then(|table| counts.get(&table)).copied().unwrap_or(0) as usize;
            let known = ranks.iter().filter(|(record, _)| record.row() < count);
            Op::Place { of: *of, places: known.map(|(record, rank)| (*record, None, Some(rank.clone()))).collect() }
        };
        let orders = self.orders.iter().map(order);
        Ok(self.parts.iter().map(put).chain(rows).chain(arrivals).chain(orders).chain(self.counters.iter().map(count)).collect())
    }
}

/// Whether a value may stand in a field of a kind, and names records that come along.
fn fits(value: &Value, kind: &Kind, options: &HashSet<OptionId>, counts: &BTreeMap<TableId, u32>) -> bool {
    let comes_along = match (value, kind) {
        (Value::Links(records), Kind::Link(link)) => {
            let count = counts.get(&link.to).copied().unwrap_or(0) as usize;
            link.holds && records.iter().all(|r| r.row() < count)
        }
        _ => true,
    };
    comes_along && kind.takes(value, options)
}
