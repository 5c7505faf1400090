//! What stands down a cross-tab, or across it: the total first, then each value, and within it each of a second field.

use super::CrossHead;
use crate::{
    access::Lens,
    condition::Condition,
    id::TableId,
    schema::{Hue, within_sentence},
    value::Value,
    view::{CrossOrder, GroupBy, found::leaves_out, group::Grouping, level::Level},
};
use jiff::civil::Date;
use rust_decimal::Decimal;
use std::{collections::HashMap, ops::Range};

/// The heads of one side, and which innermost groups lie under each.
pub(super) struct Axis {
    heads: Vec<Head>,
    /// The levels of the grouping that it stands by.
    levels: Range<usize>,
    /// Which head stands for the places of an outer value, and of an inner one within.
    place: HashMap<(usize, Option<usize>), usize>,
}

#[derive(Clone)]
struct Head {
    text: String,
    values: Vec<Value>,
    hue: Option<Hue>,
}

impl Axis {
    /// `empties`: values that no record has stand there too, but for those that this condition leaves out.
    pub(super) fn new(
        lens: &Lens<'_>,
        table: TableId,
        grouping: &Grouping,
        levels: Range<usize>,
        by: &[GroupBy],
        empties: Option<&Condition>,
    ) -> Self {
        let all = crate::sentence::capital(by.first().map_or("all", |by| by.by.all_words()));
        let mut axis =
            Self { heads: vec![Head { text: all, values: Vec::new(), hue: None }], levels: levels.clone(), place: HashMap::new() };
        let of = grouping.levels().get(levels).unwrap_or_default();
        let (Some(outer), Some(by)) = (of.first(), by.first()) else { return axis };
        let inner = of.get(1);
        let values: Vec<(Value, Option<u32>)> = match empties {
            Some(condition) => {
                let there = |(value, place): &(Value, Option<u32>)| place.is_some() || !leaves_out(condition, by.field, value);
                outer.with_empty(lens, table).into_iter().filter(there).collect()
            }
            None => outer.values.iter().cloned().zip((0..).map(Some)).collect(),
        };
        let pairs = axis.pairs(grouping);
        let (outer_year, inner_year) =
            (one_year(values.iter().map(|(value, _)| value)), inner.is_some_and(|of| one_year(of.values.iter())));
        for (value, place) in values {
            let text = head_text(lens, table, outer, &value, outer_year);
            let head = Head { text, values: vec![value.clone()], hue: hue(lens, table, outer, &value) };
            let Some(place) = place.and_then(|place| usize::try_from(place).ok()) else {
                axis.heads.push(head);
                continue;
            };
            axis.push(head, (place, None));
            for at in pairs.get(&place).into_iter().flatten() {
                let Some((level, within)) = inner.and_then(|level| Some((level, level.values.get(*at)?))) else { continue };
                let text = head_text(lens, table, level, within, inner_year);
                let hue = hue(lens, table, level, within);
                axis.push(Head { text, values: vec![value.clone(), within.clone()], hue }, (place, Some(*at)));
            }
        }
        axis
    }

    fn push(&mut self, head: Head, at: (usize, Option<usize>)) {
        self.place.insert(at, self.heads.len());
        self.heads.push(head);
    }

    /// Of each outer value, the places of those within it that occur, in order.
    fn pairs(&self, grouping: &Grouping) -> HashMap<usize, Vec<usize>> {
        let mut pairs: HashMap<usize, Vec<usize>> = HashMap::new();
        if self.levels.len() > 1 {
            for (path, _) in grouping.innermost() {
                if let Some([outer, inner]) = path.get(self.levels.clone()) {
                    pairs.entry(*outer).or_default().push(*inner);
                }
            }
        }
        for inner in pairs.values_mut() {
            inner.sort_unstable();
            inner.dedup();
        }
        pairs
    }

    /// How many heads it has, the total with them.
    pub(super) fn len(&self) -> usize {
        self.heads.len()
    }

    /// Under which heads a group lies: the total, its value, and the one within.
    pub(super) fn of(&self, path: &[usize]) -> impl Iterator<Item = usize> + Clone {
        let mut places = path.get(self.levels.clone()).unwrap_or_default().iter();
        let outer = places.next().copied();
        let at = |inner: Option<usize>| outer.and_then(|outer| self.place.get(&(outer, inner)).copied());
        let (of_outer, of_inner) = (at(None), places.next().and_then(|inner| at(Some(*inner))));
        std::iter::once(0).chain(of_outer).chain(of_inner)
    }

    /// The head of these values.
    pub(super) fn head_of(&self, values: &[Value]) -> Option<usize> {
        self.heads.iter().position(|head| head.values == values)
    }

    pub(super) fn text(&self, head: usize) -> String {
        let of = |head: &Head| head.text.clone();
        let Some(one) = self.heads.get(head) else { return String::new() };
        let outer =
            (one.values.len() > 1).then(|| self.heads.iter().find(|other| one.values.get(..1) == Some(&other.values[..]))).flatten();
        outer.map_or_else(|| of(one), |outer| format!("{}, {}", outer.text, one.text))
    }

    pub(super) fn values(&self, head: usize) -> &[Value] {
        self.heads.get(head).map_or(&[], |head| &head.values)
    }

    /// The heads that stand for one value, without the total and those within another.
    pub(super) fn outer(&self) -> impl Iterator<Item = usize> + '_ {
        self.heads.iter().enumerate().filter(|(_, head)| head.values.len() == 1).map(|(place, _)| place)
    }

    /// Puts values, and those within each, by what their totals lead with; for each head, where it stood.
    pub(super) fn arrange(&mut self, order: CrossOrder, leads: &[Option<Decimal>]) -> Vec<usize> {
        let lead = |head: usize| leads.get(head).copied().flatten();
        let compare = |a: &usize, b: &usize| match order {
            CrossOrder::Field => a.cmp(b),
            // What has none stands behind either way.
            CrossOrder::Most => lead(*b).cmp(&lead(*a)),
            CrossOrder::Least => lead(*a).is_none().cmp(&lead(*b).is_none()).then(lead(*a).cmp(&lead(*b))),
        };
        let mut outer: Vec<usize> = self.outer().collect();
        outer.sort_by(compare);
        let mut by_order = vec![0];
        for head in outer {
            by_order.push(head);
            let mut inner: Vec<usize> = (head.saturating_add(1)..self.heads.len()).take_while(|at| self.values(*at).len() > 1).collect();
            inner.sort_by(compare);
            by_order.extend(inner);
        }
        self.heads = by_order.iter().filter_map(|head| self.heads.get(*head).cloned()).collect();
        by_order
    }

    pub(super) fn heads(&self, count: impl Fn(usize) -> usize) -> Vec<CrossHead> {
        let head = |(place, head): (usize, &Head)| CrossHead {
            text: head.text.clone(),
            depth: head.values.len(),
            values: head.values.clone(),
            count: count(place),
            hue: head.hue,
        };
        self.heads.iter().enumerate().map(head).collect()
    }
}

/// A value at the head of a row or a column: *October*, *no district*.
pub(super) fn head_text(lens: &Lens<'_>, table: TableId, level: &Level, value: &Value, one_year: bool) -> String {
    let by = level.by();
    match value {
        Value::Date(start) if !by.by.is_value() => by.by.head(*start, one_year, lens.clock().customs()),
        Value::Empty => {
            let def = lens.dataset().table(table).and_then(|home| home.def.field(by.field));
            def.map_or_else(|| "none".to_owned(), |def| format!("no {}", within_sentence(&def.name)))
        }
        other => level.text(lens, table, other),
    }
}

/// The colour of an option.
fn hue(lens: &Lens<'_>, table: TableId, level: &Level, value: &Value) -> Option<Hue> {
    let Value::Choice(option) = value else { return None };
    let (_, kind) = lens.dataset().shown_kind(table, level.by().field)?;
    kind.shows().options().iter().find(|one| one.id == *option).map(|one| one.hue)
}

/// Whether all days among some values are of one year.
fn one_year<'v>(values: impl Iterator<Item = &'v Value>) -> bool {
    let year = |value: &Value| if let Value::Date(day) = value { Some(Date::year(*day)) } else { None };
    let mut years = values.filter_map(year);
    years.next().is_none_or(|first| years.all(|year| year == first))
}
