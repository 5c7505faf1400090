//! What stands in a sheet beside its table: totals, notes, headings once more. It is left out, and what was left out is said.

use super::{Heading, Raw, Sheet};
use crate::value::fold;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// A row that is taken for no record.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RowBeside {
    /// From 0, as plans count.
    pub row: usize,
    /// From 1, as in the file.
    pub line: usize,
    /// What stands in it.
    pub text: String,
    /// What it was taken for: *a total*.
    pub what: String,
}

/// Rows at the end that are looked at for notes.
const NOTES: usize = 40;
/// What a row that adds up begins with, in the languages that files are about in.
const TOTALS: [&str; 16] = [
    "total",
    "totals",
    "subtotal",
    "sub-total",
    "grand total",
    "sum",
    "gesamt",
    "gesamtsumme",
    "summe",
    "zwischensumme",
    "somme",
    "totaal",
    "totale",
    "suma",
    "insgesamt",
    "totalt",
];

/// The rows that are no records, in order.
pub(super) fn rows_beside(sheet: &Sheet, heading: Heading) -> Vec<RowBeside> {
    let rows: Vec<usize> = sheet.filled_rows(heading.end()).collect();
    let mut found: Vec<RowBeside> = Vec::new();
    let mut add = |row: usize, what: &str| {
        let text = sheet.rows[row].iter().filter(|c| !c.is_empty()).map(Raw::words).collect::<Vec<_>>().join(" · ");
        let text: String = text.chars().take(80).collect();
        found.push(RowBeside { row, line: sheet.line(row), text, what: what.to_owned() });
    };
    let notes = notes_from(sheet, &rows);
    let wide = |b: &&super::Block| b.top == b.bottom && (b.right - b.left + 1) * 2 > sheet.width() && sheet.width() > 2;
    let sections: HashSet<usize> = sheet.joined.iter().filter(wide).map(|block| block.top).collect();
    let last = rows.iter().rev().find(|row| !notes.contains(row)).copied();
    for row in &rows {
        if notes.contains(row) {
            add(*row, "a note");
        } else if is_total(sheet, *row) || last == Some(*row) && adds_up(sheet, &rows, *row) {
            add(*row, "a total");
        } else if is_heading_again(sheet, heading, *row) {
            add(*row, "the names once more");
        } else if sections.contains(row) && cells(sheet, *row).count() == 1 {
            add(*row, "a heading over records");
        }
    }
    found
}

fn cells(sheet: &Sheet, row: usize) -> impl Iterator<Item = (usize, &Raw)> {
    sheet.rows[row].iter().enumerate().filter(|(_, cell)| !cell.is_empty())
}

/// Whether a row calls itself a total, and names nothing else.
fn is_total(sheet: &Sheet, row: usize) -> bool {
    let first = cells(sheet, row).find_map(|(_, cell)| if let Raw::Text(text) = cell { Some(fold(text.trim())) } else { None });
    let Some(words) = first else { return false };
    let begins = |total: &str| words.strip_prefix(total).is_some_and(|rest| rest.is_empty() || rest.starts_with([' ', ':', '/', '(']));
    if !TOTALS.iter().any(|total| begins(total)) {
        return false;
    }
    let texts = cells(sheet, row).filter(|(_, cell)| matches!(cell, Raw::Text(t) if number(t).is_none())).count();
    let figures = cells(sheet, row).filter(|(_, cell)| figure(cell).is_some() || matches!(cell, Raw::Error(_))).count();
    texts == 1 && figures > 0
}

/// Whether every figure of a row without words is the sum of those over it.
fn adds_up(sheet: &Sheet, rows: &[usize], row: usize) -> bool {
    let figures: Vec<(usize, Decimal)> = cells(sheet, row).filter_map(|(column, cell)| figure(cell).map(|n| (column, n))).collect();
    let others = rows.iter().filter(|r| **r < row).count();
    if figures.is_empty() || figures.len() < cells(sheet, row).count() || others < 2 || figures.len() * 2 > sheet.width() {
        return false;
    }
    figures.iter().all(|(column, total)| {
        let mut over = rows.iter().filter(|r| **r < row).filter_map(|r| figure(sheet.cell(*r, *column)));
        over.try_fold(Decimal::ZERO, |sum, n| sum.checked_add(n)) == Some(*total)
    })
}

fn figure(cell: &Raw) -> Option<Decimal> {
    match cell {
        Raw::Number(n) | Raw::Money(n, _) | Raw::Percent(n) | Raw::Duration(n) => Some(*n),
        Raw::Text(text) => number(text),
        _ => None,
    }
}

fn number(text: &str) -> Option<Decimal> {
    let signs = ["%", "£", "€", "$"];
    crate::value::number(text, &signs, false).or_else(|_| crate::value::number(text, &signs, true)).ok()
}

/// The rows at the end, behind an empty one, that hold a text and hardly anything else.
fn notes_from(sheet: &Sheet, rows: &[usize]) -> Vec<usize> {
    let usual = rows.iter().take(NOTES).map(|row| cells(sheet, *row).count()).max().unwrap_or(0);
    if usual < 3 {
        return Vec::new();
    }
    let slight = |row: usize| cells(sheet, row).count() * 4 <= usual && cells(sheet, row).all(|(_, cell)| matches!(cell, Raw::Text(_)));
    let tail: Vec<usize> = rows.iter().rev().take(NOTES).copied().take_while(|row| slight(*row)).collect();
    let Some(first) = tail.last().copied() else { return Vec::new() };
    let begin = rows.iter().rev().find(|row| **row < first);
    let apart = begin.is_some_and(|before| sheet.line(first).saturating_sub(sheet.line(*before)) > 1);
    let noted = |row: &usize| {
        let text = cells(sheet, *row).next().map(|(_, cell)| fold(&cell.words()).into_owned()).unwrap_or_default();
        text.starts_with(['*', '¹', '†'])
            || ["note", "source", "quelle", "printed", "as of", "stand:", "remark"].iter().any(|w| text.starts_with(w))
    };
    if apart { tail } else { tail.into_iter().take_while(noted).collect() }
}

/// Whether a row says the names of the columns again, as printed lists do on each page.
fn is_heading_again(sheet: &Sheet, heading: Heading, row: usize) -> bool {
    heading.rows > 0
        && cells(sheet, row).count() > 1
        && cells(sheet, row).all(|(column, cell)| (heading.first..heading.end()).any(|names| sheet.cell(names, column) == cell))
}

/// Whether a column without a name holds a few notes beside the table.
pub(super) fn is_beside(sheet: &Sheet, heading: Heading, column: usize, filled: usize, rows: usize) -> bool {
    let apart = column > 0 && sheet.filled_rows(heading.first).all(|row| sheet.cell(row, column - 1).is_empty());
    filled > 0 && rows > 2 && (apart || filled * 10 <= rows) && filled * 2 < rows
}
