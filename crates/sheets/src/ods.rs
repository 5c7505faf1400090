//! ODS workbooks, read as a stream: what each cell is and what it shows.

use crate::{
    Book, ReadFault, SheetName, TABLE_ROWS,
    formats::{Meaning, as_shown, day_or_moment, duration, seen, show},
    tally::Tally,
};
use jiff::civil::Time;
use quick_xml::{
    XmlVersion,
    events::{BytesStart, Event},
    reader::Reader,
};
use rust_decimal::Decimal;
use std::{
    collections::HashMap,
    io::{BufRead, BufReader, Cursor},
};
use westerfall_core::import::{Block, COLUMNS_LIMIT, Code, ROWS_LIMIT, Raw, Sheet, Shown};
use zip::ZipArchive;

/// Most cells joined to one that are kept.
const JOINED: usize = 20_000;
/// Longest text of a cell, in bytes: spaces can be written in few bytes however many they are.
const CELL_TEXT: usize = 4_000_000;

fn broken(what: &str) -> ReadFault {
    ReadFault::Broken(what.into())
}

pub(crate) fn read(bytes: &[u8], at: Option<usize>) -> Result<Book, ReadFault> {
    let mut archive = ZipArchive::new(Cursor::new(bytes)).map_err(|_| broken("its archive can’t be opened"))?;
    let content = archive.by_name("content.xml").map_err(|_| broken("its part “content.xml” is missing"))?;
    let mut xml = Reader::from_reader(BufReader::new(content));
    xml.config_mut().expand_empty_elements = true;
    let mut walk = Walk { xml, buf: Vec::new(), hidden_styles: HashMap::new(), decimals: HashMap::new() };
    let (mut sheets, mut kept): (Vec<SheetName>, Option<(usize, Sheet)>) = (Vec::new(), None);
    // The sheet that is asked for; else the first that is shown and holds a table, else the first.
    let mut best = 0_u8;
    while let Some(mut name) = walk.next_sheet()? {
        let here = sheets.len();
        let wanted = at.map_or(best < 3, |at| at == here);
        if wanted {
            let sheet = walk.sheet(name.name.clone())?;
            name.cover = !holds_table(&sheet);
            let worth = 1 + u8::from(!name.hidden) + u8::from(!name.hidden && !name.cover);
            if worth > best {
                best = worth;
                kept = Some((here, sheet));
            }
        } else {
            name.cover = !walk.pass()?;
        }
        sheets.push(name);
    }
    let Some((at, sheet)) = kept else {
        return if sheets.is_empty() { Err(ReadFault::Empty) } else { read(bytes, Some(sheets.len() - 1)) };
    };
    if sheet.rows.is_empty() && sheets.len() == 1 {
        return Err(ReadFault::Empty);
    }
    Ok(Book { sheets, at, sheet: sheet.into() })
}

fn holds_table(sheet: &Sheet) -> bool {
    sheet.rows.iter().take(60).filter(|row| row.iter().filter(|c| !c.is_empty()).count() >= 2).count() >= TABLE_ROWS
}

/// A walk through the content of a workbook.
struct Walk<R: BufRead> {
    xml: Reader<R>,
    buf: Vec<u8>,
    /// Styles of tables, and whether what has them is hidden.
    hidden_styles: HashMap<String, bool>,
    /// With how many decimals the styles of cells show their numbers.
    decimals: HashMap<String, Meaning>,
}

fn attribute(element: &BytesStart<'_>, name: &str) -> Option<String> {
    let found = element.try_get_attribute(name).ok()??;
    found.normalized_value(XmlVersion::Implicit1_0).ok().map(|value| value.into_owned())
}

fn count(element: &BytesStart<'_>, name: &str) -> usize {
    attribute(element, name).and_then(|text| text.parse().ok()).unwrap_or(1).max(1)
}

impl<R: BufRead> Walk<R> {
    fn event(&mut self) -> Result<Event<'static>, ReadFault> {
        self.buf.clear();
        let event = self.xml.read_event_into(&mut self.buf).map_err(|_| broken("its content ends or breaks in the middle"))?;
        Ok(event.into_owned())
    }

    /// The next sheet's name, up to its first row; what the styles before it say is noted on the way.
    fn next_sheet(&mut self) -> Result<Option<SheetName>, ReadFault> {
        let mut style = String::new();
        let (mut number_style, mut number_styles) = (String::new(), HashMap::<String, Meaning>::new());
        loop {
            match self.event()? {
                Event::Start(e) => match e.name().as_ref() {
                    "style:style" => {
                        style = attribute(&e, "style:name").unwrap_or_default();
                        let shown = attribute(&e, "style:data-style-name").and_then(|name| number_styles.get(&name).cloned());
                        if let Some(shown) = shown {
                            self.decimals.insert(style.clone(), shown);
                        }
                    }
                    "style:table-properties" => {
                        let hidden = attribute(&e, "table:display").is_some_and(|shown| shown == "false");
                        self.hidden_styles.insert(style.clone(), hidden);
                    }
                    "number:number-style" | "number:percentage-style" | "number:currency-style" => {
                        number_style = attribute(&e, "style:name").unwrap_or_default();
                    }
                    "number:number" => {
                        let decimals = attribute(&e, "number:decimal-places").and_then(|n| n.parse().ok());
                        number_styles.insert(number_style.clone(), Meaning::Number(Shown { decimals, ..Shown::default() }));
                    }
                    "table:table" => {
                        let name = attribute(&e, "table:name").unwrap_or_default();
                        let style = attribute(&e, "table:style-name").unwrap_or_default();
                        let hidden = self.hidden_styles.get(&style).copied().unwrap_or(false);
                        return Ok(Some(SheetName { name, hidden, cover: false }));
                    }
                    _ => {}
                },
                Event::Eof => return Ok(None),
                _ => {}
            }
        }
    }

    /// Goes to the end of the sheet that has begun, and says whether it holds a table.
    fn pass(&mut self) -> Result<bool, ReadFault> {
        let (mut depth, mut rows, mut cells) = (1_usize, 0_usize, 0_usize);
        while depth > 0 {
            match self.event()? {
                Event::Start(e) => match e.name().as_ref() {
                    "table:table" => depth += 1,
                    "table:table-row" => cells = 0,
                    "table:table-cell" => cells += usize::from(attribute(&e, "office:value-type").is_some()),
                    _ => {}
                },
                Event::End(e) => match e.name().as_ref() {
                    "table:table" => depth -= 1,
                    "table:table-row" => rows += usize::from(cells >= 2),
                    _ => {}
                },
                Event::Eof => return Err(broken("its content ends in the middle of a sheet")),
                _ => {}
            }
        }
        Ok(rows >= TABLE_ROWS)
    }

    /// The sheet that has begun, to its end.
    fn sheet(&mut self, name: String) -> Result<Sheet, ReadFault> {
        let mut tally = Tally::default();
        let (mut joined, mut shown) = (Vec::new(), Vec::new());
        let mut row = 0;
        loop {
            match self.event()? {
                Event::Start(e) if e.name().as_ref() == "table:table-row" => {
                    let repeated = count(&e, "table:number-rows-repeated");
                    let cells = self.row(row, &mut tally, &mut joined, &mut shown)?;
                    // A row that stands many times over is filled up to what a table may hold; empty ones cost nothing.
                    let times = if cells.is_empty() { 0 } else { repeated };
                    for again in 0..times {
                        for (column, raw) in &cells {
                            tally.cell(row.saturating_add(again), *column, raw.clone())?;
                        }
                    }
                    row = row.saturating_add(repeated);
                }
                // Sheets within cells are none of this one's rows.
                Event::Start(e) if e.name().as_ref() == "table:table" => {
                    self.pass()?;
                }
                Event::End(e) if e.name().as_ref() == "table:table" => break,
                Event::Eof => return Err(broken("its content ends in the middle of a sheet")),
                _ => {}
            }
        }
        tally.fill_down(&joined);
        Ok(Sheet { name, rows: tally.rows, joined, shown, ..Sheet::default() })
    }

    fn row(
        &mut self,
        row: usize,
        tally: &mut Tally,
        joined: &mut Vec<Block>,
        shown: &mut Vec<Option<Shown>>,
    ) -> Result<Vec<(usize, Raw)>, ReadFault> {
        let mut cells = Vec::new();
        let mut column = 0_usize;
        loop {
            match self.event()? {
                Event::Start(e) if matches!(e.name().as_ref(), "table:table-cell" | "table:covered-table-cell") => {
                    let repeated = count(&e, "table:number-columns-repeated");
                    let (right, down) = (count(&e, "table:number-columns-spanned"), count(&e, "table:number-rows-spanned"));
                    let covered = e.name().as_ref() == "table:covered-table-cell";
                    let end = if covered { "table:covered-table-cell" } else { "table:table-cell" };
                    let text = self.text_of(end)?;
                    let raw = if covered { Raw::Empty } else { self.cell(&e, &text, column, tally, shown)? };
                    if (right > 1 || down > 1) && joined.len() < JOINED && row <= ROWS_LIMIT && column < COLUMNS_LIMIT {
                        joined.push(Block {
                            top: row,
                            left: column,
                            bottom: row.saturating_add(down - 1).min(ROWS_LIMIT),
                            right: column.saturating_add(right - 1).min(COLUMNS_LIMIT),
                        });
                    }
                    if !raw.is_empty() {
                        if column.saturating_add(repeated) > COLUMNS_LIMIT {
                            return Err(ReadFault::TooManyColumns);
                        }
                        cells.extend((column..column + repeated).map(|column| (column, raw.clone())));
                    }
                    column = column.saturating_add(repeated);
                }
                Event::End(e) if e.name().as_ref() == "table:table-row" => return Ok(cells),
                Event::Eof => return Err(broken("its content ends in the middle of a row")),
                _ => {}
            }
        }
    }

    /// The text that a cell shows: its paragraphs, one a line, without notes that hang on it.
    fn text_of(&mut self, end: &str) -> Result<String, ReadFault> {
        let (mut text, mut beside, mut paragraphs) = (String::new(), 0_usize, 0_usize);
        loop {
            if text.len() > CELL_TEXT {
                return Err(ReadFault::TooLarge);
            }
            match self.event()? {
                Event::Start(e) => match e.name().as_ref() {
                    "office:annotation" | "table:table" => beside += 1,
                    "text:p" if beside == 0 => {
                        if paragraphs > 0 {
                            text.push('\n');
                        }
                        paragraphs += 1;
                    }
                    "text:s" if beside == 0 => text.extend(std::iter::repeat_n(' ', count(&e, "text:c").min(1_000))),
                    "text:tab" if beside == 0 => text.push('\t'),
                    "text:line-break" if beside == 0 => text.push('\n'),
                    _ => {}
                },
                Event::Text(part) if beside == 0 && paragraphs > 0 => text.push_str(&part.xml_content(XmlVersion::Implicit1_0)),
                Event::CData(part) if beside == 0 && paragraphs > 0 => text.push_str(&part.xml_content(XmlVersion::Implicit1_0)),
                Event::GeneralRef(reference) if beside == 0 && paragraphs > 0 => {
                    text.push_str(&referred(&reference.xml_content(XmlVersion::Implicit1_0)))
                }
                Event::End(e) => match e.name().as_ref() {
                    "office:annotation" | "table:table" => beside = beside.saturating_sub(1),
                    name if name == end && beside == 0 => return Ok(text),
                    _ => {}
                },
                Event::Eof => return Err(broken("its content ends in the middle of a cell")),
                _ => {}
            }
        }
    }

    fn cell(
        &self,
        e: &BytesStart<'_>,
        text: &str,
        column: usize,
        tally: &mut Tally,
        shown: &mut Vec<Option<Shown>>,
    ) -> Result<Raw, ReadFault> {
        let Some(kind) = attribute(e, "office:value-type") else { return tally.text(text) };
        if attribute(e, "calcext:value-type").is_some_and(|kind| kind == "error") || text.starts_with("Err:") {
            return Ok(Raw::Error(text.into()));
        }
        let number = || attribute(e, "office:value").and_then(|value| exact(&value));
        let style = attribute(e, "table:style-name").and_then(|name| self.decimals.get(&name));
        let raw = match &*kind {
            "float" => number().map(|n| if is_code(text) { Raw::Text(text.into()) } else { Raw::Number(n) }),
            "percentage" => number().map(Raw::Percent),
            "currency" => {
                number().map(|n| attribute(e, "office:currency").and_then(|c| Code::of(&c)).map_or(Raw::Number(n), |c| Raw::Money(n, c)))
            }
            "boolean" => attribute(e, "office:boolean-value").map(|yes| Raw::Logical(yes.eq_ignore_ascii_case("true"))),
            "date" => attribute(e, "office:date-value").and_then(|value| day_or_moment(&value)),
            "time" => attribute(e, "office:time-value").and_then(|value| duration(&value)).map(|seconds| time_shown(seconds, text)),
            _ => None,
        };
        let raw = raw.map(|raw| taken(raw, style, column, shown));
        // A formula's text that is an error is no text.
        let failed = attribute(e, "table:formula").is_some() && text.starts_with('#') && text.ends_with(['!', '?', 'A']) && text.len() < 12;
        match raw {
            Some(raw) => Ok(raw),
            None if failed => Ok(Raw::Error(text.into())),
            None => tally.text(&attribute(e, "office:string-value").unwrap_or_else(|| text.to_owned())),
        }
    }
}

/// A number as its style shows it, where it was computed.
fn taken(raw: Raw, style: Option<&Meaning>, column: usize, shown: &mut Vec<Option<Shown>>) -> Raw {
    let Raw::Number(number) = raw else { return raw };
    let plain = Meaning::Number(Shown::default());
    let style = style.unwrap_or(&plain);
    let decimals = if let Meaning::Number(shown) = style { shown.decimals } else { None };
    let raw = Raw::Number(as_shown(number, decimals).unwrap_or(number));
    show(shown, column, style, Some((number, &raw)));
    raw
}

/// The characters that a reference of XML means.
pub(crate) fn referred(name: &str) -> String {
    let coded = name.strip_prefix("#x").map(|hex| u32::from_str_radix(hex, 16)).or_else(|| name.strip_prefix('#').map(str::parse));
    match (name, coded) {
        ("amp", _) => "&".into(),
        ("lt", _) => "<".into(),
        ("gt", _) => ">".into(),
        ("quot", _) => "\"".into(),
        ("apos", _) => "'".into(),
        (_, Some(Ok(code))) => char::from_u32(code).map(String::from).unwrap_or_default(),
        _ => String::new(),
    }
}

/// Digits that are shown with noughts before them are a name.
fn is_code(text: &str) -> bool {
    text.len() > 1 && text.starts_with('0') && text.bytes().all(|b| b.is_ascii_digit())
}

/// A number as it is written, where that is exact; with fifteen digits where it was computed.
fn exact(text: &str) -> Option<Decimal> {
    let digits = text.chars().filter(char::is_ascii_digit).count();
    if digits <= 15 || !text.contains('.') {
        return text.parse().ok().or_else(|| Decimal::from_scientific(text).ok());
    }
    seen(text.parse().ok()?)
}

/// What is shown with hours over 23, or without them, is a length of time; the rest is a time of day.
fn time_shown(seconds: Decimal, text: &str) -> Raw {
    use rust_decimal::prelude::ToPrimitive;
    let hours = text.split(':').next().and_then(|h| h.trim().parse::<u32>().ok());
    let of_day = hours.is_some_and(|h| h < 24) && text.len() >= 4 && seconds < Decimal::from(86_400) && !seconds.is_sign_negative();
    let time = seconds.to_i64().and_then(|s| Time::midnight().checked_add(jiff::SignedDuration::from_secs(s)).ok());
    match time.filter(|_| of_day && !text.starts_with("0:")) {
        Some(time) => Raw::Time(time),
        None => Raw::Duration(seconds),
    }
}
