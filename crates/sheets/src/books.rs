//! Workbooks: XLSX cell by cell, ODS as its package reads it.

use crate::{Book, ReadFault, decimal, tally::Tally};
use calamine::{Data, DataRef, ExcelDateTime, Ods, OdsError, Reader, Xlsx, XlsxError};
use jiff::civil::{Date, DateTime};
use rust_decimal::Decimal;
use std::io::Cursor;
use westerfall_core::import::{Raw, Sheet};

fn broken(error: impl std::fmt::Display) -> ReadFault {
    ReadFault::Broken(error.to_string())
}

fn sheet_at(names: &[String], at: usize) -> Result<(usize, String), ReadFault> {
    let at = at.min(names.len().saturating_sub(1));
    names.get(at).map(|name| (at, name.clone())).ok_or(ReadFault::Empty)
}

pub(crate) fn read_xlsx(bytes: &[u8], at: usize) -> Result<Book, ReadFault> {
    let fault = |error: XlsxError| if matches!(error, XlsxError::Password) { ReadFault::Protected } else { broken(error) };
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(bytes)).map_err(fault)?;
    let names = book.sheet_names().to_owned();
    let (at, name) = sheet_at(&names, at)?;
    let mut tally = Tally::default();
    let mut cells = book.worksheet_cells_reader(&name).map_err(fault)?;
    while let Some(cell) = cells.next_cell().map_err(fault)? {
        let (row, column) = cell.get_position();
        let raw = match cell.get_value() {
            DataRef::Empty => Raw::Empty,
            DataRef::Int(number) => Raw::Number(Decimal::from(*number)),
            DataRef::Float(number) => number_of(*number, &mut tally)?,
            DataRef::String(text) => tally.text(text)?,
            DataRef::SharedString(text) => tally.text(text)?,
            DataRef::Bool(yes) => Raw::Logical(*yes),
            DataRef::DateTime(moment) => moment_of(*moment, &mut tally)?,
            DataRef::DateTimeIso(text) => iso(text, &mut tally)?,
            DataRef::DurationIso(text) => span(text, &mut tally)?,
            DataRef::Error(_) => Raw::Empty,
        };
        tally.cell(row as usize, column as usize, raw)?;
    }
    finished(names, at, name, tally)
}

pub(crate) fn read_ods(bytes: &[u8], at: usize) -> Result<Book, ReadFault> {
    let fault = |error: OdsError| if matches!(error, OdsError::Password) { ReadFault::Protected } else { broken(error) };
    let mut book: Ods<_> = Ods::new(Cursor::new(bytes)).map_err(fault)?;
    let names = book.sheet_names().to_owned();
    let (at, name) = sheet_at(&names, at)?;
    let range = book.worksheet_range(&name).map_err(fault)?;
    let (top, left) = range.start().unwrap_or((0, 0));
    let mut tally = Tally::default();
    for (row, column, cell) in range.used_cells() {
        let raw = match cell {
            Data::Empty | Data::Error(_) => Raw::Empty,
            Data::Int(number) => Raw::Number(Decimal::from(*number)),
            Data::Float(number) => number_of(*number, &mut tally)?,
            Data::String(text) => tally.text(text)?,
            Data::Bool(yes) => Raw::Logical(*yes),
            Data::DateTime(moment) => moment_of(*moment, &mut tally)?,
            Data::DateTimeIso(text) => iso(text, &mut tally)?,
            Data::DurationIso(text) => span(text, &mut tally)?,
        };
        tally.cell(top as usize + row, left as usize + column, raw)?;
    }
    finished(names, at, name, tally)
}

fn finished(names: Vec<String>, at: usize, name: String, tally: Tally) -> Result<Book, ReadFault> {
    if tally.rows.is_empty() && names.len() == 1 {
        return Err(ReadFault::Empty);
    }
    Ok(Book { names, at, sheet: Sheet { name, rows: tally.rows, decimal_comma: None }.into() })
}

fn number_of(number: f64, tally: &mut Tally) -> Result<Raw, ReadFault> {
    match decimal(number) {
        Some(number) => Ok(Raw::Number(number)),
        None => tally.text(&number.to_string()),
    }
}

/// A day, or a day with a time; a time or a duration alone is a share of a day.
fn moment_of(moment: ExcelDateTime, tally: &mut Tally) -> Result<Raw, ReadFault> {
    if moment.is_duration() || moment.as_f64() < 1.0 {
        return number_of(moment.as_f64(), tally);
    }
    let (year, month, day, hour, minute, second, _) = moment.to_ymd_hms_milli();
    let small = |n: u8| i8::try_from(n).unwrap_or(0);
    let date = Date::new(i16::try_from(year).unwrap_or(0), small(month), small(day));
    let Ok(date) = date else { return number_of(moment.as_f64(), tally) };
    if (hour, minute, second) == (0, 0, 0) {
        return Ok(Raw::Date(date));
    }
    Ok(Raw::DateTime(date.at(small(hour), small(minute), small(second), 0)))
}

fn iso(text: &str, tally: &mut Tally) -> Result<Raw, ReadFault> {
    if let Ok(date) = text.parse::<Date>()
        && !text.contains('T')
    {
        return Ok(Raw::Date(date));
    }
    match text.parse::<DateTime>() {
        Ok(moment) if moment.time() == jiff::civil::Time::midnight() => Ok(Raw::Date(moment.date())),
        Ok(moment) => Ok(Raw::DateTime(moment)),
        Err(_) => tally.text(text),
    }
}

fn span(text: &str, tally: &mut Tally) -> Result<Raw, ReadFault> {
    match text.parse::<jiff::SignedDuration>() {
        Ok(span) => number_of(span.as_secs_f64() / 86_400.0, tally),
        Err(_) => tally.text(text),
    }
}
