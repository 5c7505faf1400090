//! Figures over linked records.

use super::{Column, Dataset, Table};
use crate::{
    access::Lens,
    condition::Asking,
    figure::{Figure, middle},
    id::{FieldId, RecordId, TableId},
    schema::{Kind, Summary},
    value::{CalcError, Cell, Value, to_cents},
};
use fixedbitset::FixedBitSet;
use rust_decimal::Decimal;
use std::collections::HashSet;

/// A summary made ready: its links are columns now, its condition was worked out or can be asked.
pub(super) struct Figurer<'a, 'd> {
    lens: &'a Lens<'d>,
    steps: Vec<(&'d Column, &'d Table)>,
    end: TableId,
    field: Option<(FieldId, crate::dataset::Reader<'a>)>,
    only: Only<'a>,
    figure: Figure,
    shows: Kind,
    /// Something that it names is gone.
    broken: bool,
}

enum Only<'a> {
    All,
    Those(FixedBitSet),
    If(Asking<'a>),
}

impl<'a, 'd> Figurer<'a, 'd> {
    /// For so many records of a table.
    pub(super) fn new(lens: &'a Lens<'d>, table: TableId, summary: &Summary, rows: usize) -> Self {
        let mut steps = Vec::new();
        let end = follow(lens, table, &summary.links, &mut steps);
        let broken = end.is_none() || (summary.field.is_none() && summary.figure != Figure::Count);
        let end = end.unwrap_or(table);
        let many = lens.dataset().table(end).is_some_and(|t| rows * 8 > t.rows());
        let only = match &summary.condition {
            nothing if nothing.is_nothing() => Only::All,
            condition if many => Only::Those(condition.matching(lens, end)),
            condition => Only::If(condition.asking(lens, end)),
        };
        let field = summary.field.map(|f| (f, lens.reader(end, f)));
        Self { lens, steps, end, field, only, figure: summary.figure, shows: (*summary.shows).clone(), broken }
    }

    /// The rows of the linked records that count.
    pub(super) fn rows(&self, row: usize) -> Vec<usize> {
        let mut rows = vec![row];
        for (column, target) in &self.steps {
            rows = rows.iter().flat_map(|row| column.links(*row)).filter(|r| target.is_live(**r)).map(|r| r.row()).collect();
        }
        match &self.only {
            Only::All => {}
            Only::Those(found) => rows.retain(|row| found.contains(*row)),
            Only::If(asking) => rows.retain(|row| asking.holds(*row)),
        }
        rows
    }

    pub(super) fn figure(&self, row: usize) -> Value {
        if self.broken {
            return Value::Error(CalcError::Gone);
        }
        let rows = self.rows(row);
        let Some((field, reader)) = &self.field else { return Value::Number(Decimal::from(rows.len())) };
        let cells = || rows.iter().flat_map(|row| reader.cells(*row));
        if let Some(Cell::Error(error)) = cells().find(|cell| matches!(cell, Cell::Error(_))) {
            return Value::Error(error);
        }
        let numbers = || {
            cells().filter_map(|cell| match cell {
                Cell::Number(number) => Some(number),
                Cell::Logical(yes) => Some(u8::from(yes).into()),
                _ => None,
            })
        };
        let sum = || numbers().try_fold(Decimal::ZERO, |sum, n| sum.checked_add(n));
        match self.figure {
            Figure::Count | Figure::Filled => Value::Number(Decimal::from(cells().count())),
            Figure::Different => {
                let texts = cells().map(|cell| self.lens.cell_text(self.end, *field, cell)).filter(|text| !text.is_empty());
                Value::Number(texts.collect::<HashSet<_>>().len().into())
            }
            Figure::Sum => sum().map_or(Value::Error(CalcError::NoNumber), Value::Number),
            Figure::Average | Figure::Share => match (sum(), numbers().count()) {
                (_, 0) => Value::Error(CalcError::DivisionByZero),
                (sum, count) => match sum.and_then(|sum| sum.checked_div(Decimal::from(count))).map(crate::formula::settle) {
                    None => Value::Error(CalcError::NoNumber),
                    Some(mean) => Value::Number(if let Kind::Money { currency } = &self.shows { to_cents(mean, currency) } else { mean }),
                },
            },
            Figure::Median => middle(numbers().collect()).map_or(Value::Error(CalcError::DivisionByZero), |middle| {
                Value::Number(if let Kind::Money { currency } = &self.shows { to_cents(middle, currency) } else { middle })
            }),
            // Of no numbers, 0.
            Figure::Least => Value::Number(numbers().min().unwrap_or_default()),
            Figure::Most => Value::Number(numbers().max().unwrap_or_default()),
            Figure::Earliest => day(cells(), false),
            Figure::Latest => day(cells(), true),
            Figure::List => self.list(*field, cells(), false),
            Figure::Each => self.list(*field, cells(), true),
        }
    }

    fn list<'c>(&self, field: FieldId, cells: impl Iterator<Item = Cell<'c>>, once: bool) -> Value {
        let mut seen = HashSet::new();
        let texts = cells.map(|cell| self.lens.cell_text(self.end, field, cell)).filter(|text| !text.is_empty());
        let texts: Vec<String> = texts.filter(|text| !once || seen.insert(text.clone())).collect();
        let text = texts.join(", ");
        if text.len() > crate::formula::TEXT_RESULT_LIMIT { Value::Error(CalcError::TooLarge) } else { Value::text(&text) }
    }
}

impl Dataset {
    /// The linked records that a summary of a record counts.
    pub(crate) fn summed_rows(&self, lens: &Lens<'_>, table: TableId, summary: &Summary, record: RecordId) -> Vec<RecordId> {
        Figurer::new(lens.whole(), table, summary, 1).rows(record.row()).into_iter().map(RecordId::at_row).collect()
    }
}

/// The earliest or latest day or moment; of none, nothing.
fn day<'c>(cells: impl Iterator<Item = Cell<'c>>, latest: bool) -> Value {
    let (mut dates, mut instants) = (Vec::new(), Vec::new());
    for cell in cells {
        match cell {
            Cell::Date(date) => dates.push(date),
            Cell::Instant(instant) => instants.push(instant),
            _ => {}
        }
    }
    let date = if latest { dates.into_iter().max() } else { dates.into_iter().min() };
    let instant = if latest { instants.into_iter().max() } else { instants.into_iter().min() };
    date.map(Value::Date).or(instant.map(Value::Instant)).unwrap_or_default()
}

fn follow<'a>(lens: &Lens<'a>, table: TableId, links: &[FieldId], steps: &mut Vec<(&'a Column, &'a Table)>) -> Option<TableId> {
    let ds = lens.dataset();
    let mut at = table;
    for field in links {
        let home = ds.table(at)?;
        match &home.def.field(*field)?.kind {
            Kind::Link(link) => {
                steps.push((home.column(*field)?, ds.table(link.to)?));
                at = link.to;
            }
            Kind::Carried { links, field } => {
                let path: Vec<FieldId> = links.iter().chain([field]).copied().collect();
                at = follow(lens, at, &path, steps)?;
            }
            _ => return None,
        }
    }
    Some(at)
}
