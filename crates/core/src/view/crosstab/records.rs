//! The records behind a cell, and what the cell says.

use super::{Crossing, words};
use crate::{
    access::Lens,
    condition::{Check, Comparison, Condition, Quantity, Test, TextMatch, When, Who},
    fault::Checked,
    id::{RecordId, TableId},
    value::Value,
    view::{Group, GroupBy, Query, Shape, TallyFigure, words::counted},
};
use fixedbitset::FixedBitSet;
use rust_decimal::Decimal;

/// What stands behind a cell of a cross-tab.
#[derive(Clone, Debug, PartialEq)]
pub struct CrossRecords {
    /// *Harrow Tarn, October*.
    pub title: String,
    /// *8 faults, the sum of hours needed is 36.0 h. That is 27 % of the 30 in Harrow Tarn, …*
    pub says: String,
    /// The other cells of its row, the most first: *November 15, October 8*. Empty where there is one alone.
    pub along: String,
    /// The other cells of its column.
    pub down: String,
    /// *8 faults*.
    pub counted: String,
    pub count: usize,
    /// The first of them, in the view's order within the parts of the cell.
    pub records: Vec<RecordId>,
    /// What is told apart within it, in order.
    pub parts: Vec<Group>,
    /// What holds of these records alone among the view's; nothing where no condition says it.
    pub only: Option<Condition>,
}

impl Query {
    /// What stands behind the cell of these values, down and across; nothing where there is none such any more.
    ///
    /// # Errors
    /// As [`Query::crossed`].
    pub fn cross_records(
        &self,
        lens: &Lens<'_>,
        table: TableId,
        down: &[Value],
        across: &[Value],
        most: usize,
    ) -> Checked<Option<CrossRecords>> {
        let crossing = self.crossing(lens, table)?;
        let Some((row, column)) = crossing.down.head_of(down).zip(crossing.across.head_of(across)) else { return Ok(None) };
        Ok(Some(crossing.behind(row, column, most)))
    }
}

impl Crossing<'_, '_> {
    fn behind(&self, row: usize, column: usize, most: usize) -> CrossRecords {
        let members = self.members();
        let tallies = self.tallies();
        let told = |row: usize, column: usize| {
            let groups: &[usize] = members.get(row).and_then(|row| row.get(column)).map_or(&[], Vec::as_slice);
            let figures = tallies.over(groups.iter().copied());
            let count = self.count(groups);
            Told { count, lead: self.lead(count, &figures), figures }
        };
        let here = told(row, column);
        let list = |of: Vec<(String, Told)>| {
            let mut of: Vec<(String, Told)> = of.into_iter().filter(|(_, told)| told.count > 0).collect();
            of.sort_by_key(|(_, told)| std::cmp::Reverse(told.lead));
            let words: Vec<String> = of.iter().map(|(text, told)| format!("{text} {}", self.lead_text(told))).collect();
            if words.len() < 2 { String::new() } else { words.join(", ") }
        };
        let along = list(self.across.outer().map(|other| (self.across.text(other), told(row, other))).collect());
        let beneath = list(self.down.outer().map(|other| (self.down.text(other), told(other, column))).collect());
        let shares = [
            (row > 0 && column > 0).then(|| (told(row, 0), format!(" of {}", self.down.text(row)))),
            (row > 0 && column > 0).then(|| (told(0, column), format!(" of {}", self.across.text(column)))),
            (row > 0 || column > 0).then(|| (told(0, 0), String::new())),
        ];
        let shares = shares.into_iter().flatten().filter_map(|(whole, of)| {
            let share = self.share(here.lead, whole.lead);
            let all = if of.is_empty() { "all " } else { "the " };
            (!share.is_empty()).then(|| format!("{share} of {all}{}{of}", self.lead_text(&whole)))
        });
        let (records, parts) = self.among(&members[row][column], most);
        CrossRecords {
            title: self.title(row, column),
            says: words::says(self, &here.figures, here.count, &shares.collect::<Vec<_>>()),
            along,
            down: beneath,
            counted: counted(self.lens, self.table, here.count),
            count: here.count,
            records,
            parts,
            only: self.only(row, column),
        }
    }

    fn title(&self, row: usize, column: usize) -> String {
        match (row, column) {
            (0, 0) => "All together".to_owned(),
            (0, column) => self.across.text(column),
            (row, 0) => self.down.text(row),
            (row, column) => format!("{}, {}", self.down.text(row), self.across.text(column)),
        }
    }

    fn lead_text(&self, told: &Told) -> String {
        match told.figures.first().filter(|_| self.leads_with_figure()) {
            Some(figure) if figure.text.is_empty() => "nothing".to_owned(),
            Some(figure) => figure.text.clone(),
            None => self.lens.clock().customs().count_text(told.count),
        }
    }

    /// The first of the records of a cell, and what is told apart within it.
    fn among(&self, groups: &[usize], most: usize) -> (Vec<RecordId>, Vec<Group>) {
        let mut wanted = FixedBitSet::with_capacity(self.grouping.len());
        groups.iter().for_each(|group| wanted.insert(*group));
        let mut shown = FixedBitSet::with_capacity(self.shown.len());
        let of_row = self.shown.ones().zip(&self.grouping.of_row);
        of_row.filter(|(_, group)| wanted.contains(**group as usize)).for_each(|(row, _)| shown.insert(row));
        let within = self.tab.within.map(GroupBy::of).into_iter().collect();
        let query = Query { groups: within, shape: Shape::default(), ..self.query.clone() };
        let found = query.among(self.lens, self.table, shown);
        let (slices, _) = found.slices(std::slice::from_ref(&(0..most)));
        (slices.into_iter().next().unwrap_or_default().records, found.whole().groups)
    }

    /// What holds of the records of a cell, as a condition.
    fn only(&self, row: usize, column: usize) -> Option<Condition> {
        let down = self.down.values(row).iter().zip(&self.tab.down);
        let all = down.chain(self.across.values(column).iter().zip(&self.tab.across));
        let tests = all.map(|(value, by)| holds_of(value, by)).collect::<Option<Vec<_>>>()?;
        let only = Condition::All(tests.into_iter().flatten().collect());
        only.check(self.lens.dataset(), self.table).is_ok().then_some(only)
    }
}

/// What a cell tells, as numbers.
struct Told {
    count: usize,
    lead: Option<Decimal>,
    figures: Vec<TallyFigure>,
}

/// What holds of the records alone that stand under a value.
fn holds_of(value: &Value, by: &GroupBy) -> Option<Vec<Condition>> {
    let test = |check: Check| Condition::Test(Test { path: vec![by.field], of: Quantity::Any, check });
    let checks = match value {
        Value::Empty => vec![Check::Empty],
        Value::Choice(option) => vec![Check::Option { not: false, any: vec![*option] }],
        Value::Person(person) => vec![Check::Person { not: false, any: vec![Who::Person(*person)] }],
        Value::Links(records) => vec![Check::Record { not: false, any: records.clone() }],
        Value::Logical(yes) => vec![if *yes { Check::Yes } else { Check::No }],
        Value::Text(text) => vec![Check::Text { how: TextMatch::Is, text: text.to_string() }],
        Value::Number(from) => match by.step {
            None => vec![Check::Number { how: Comparison::Is, than: *from }],
            Some(step) => vec![
                Check::Number { how: Comparison::AtLeast, than: *from },
                Check::Number { how: Comparison::Under, than: from.checked_add(step)? },
            ],
        },
        Value::Date(start) => {
            let (first, last) = by.by.days(*start);
            let day = |how, day| Check::Day { how, than: When::Date(day) };
            if first == last {
                vec![day(Comparison::Is, first)]
            } else {
                vec![day(Comparison::AtLeast, first), day(Comparison::AtMost, last)]
            }
        }
        _ => return None,
    };
    Some(checks.into_iter().map(test).collect())
}
