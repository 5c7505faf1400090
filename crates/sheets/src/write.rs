//! Writing a table into a file. No cell that we write can run when the file is opened.

use rust_decimal::prelude::ToPrimitive;
use rust_xlsxwriter::{Format as Style, Workbook, XlsxError};
use serde::{Serialize, Serializer};
use serde_json::value::{RawValue, to_raw_value};
use westerfall_core::{
    highlight::{Ink, Look},
    import::Raw,
};

/// The files that a view can be exported to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Format {
    Csv,
    Xlsx,
    Ods,
    Json,
}

/// A column of the file.
#[derive(Clone, Debug)]
pub struct Column {
    pub name: String,
    /// In CSS pixels, as the view has it.
    pub width: u16,
    /// Decimals that numbers are shown with; of a percent, its share times 100.
    pub decimals: u32,
    pub percent: bool,
}

/// A finished file.
#[derive(Clone, Debug)]
pub struct Written {
    pub bytes: Vec<u8>,
    pub media: &'static str,
    pub ending: &'static str,
}

/// Writes rows under named columns.
///
/// # Errors
/// In words, what the file can't hold.
pub fn write(format: Format, name: &str, columns: &[Column], rows: &[Vec<Raw>]) -> Result<Written, String> {
    write_looking(format, name, columns, rows, &[])
}

/// The same where cells look otherwise than plainly, in files that keep how something looks: row by row, and column by column.
///
/// # Errors
/// In words, what the file can't hold.
pub fn write_looking(
    format: Format,
    name: &str,
    columns: &[Column],
    rows: &[Vec<Raw>],
    looks: &[Vec<Option<Look>>],
) -> Result<Written, String> {
    let (bytes, media, ending) = match format {
        Format::Csv => (csv_of(columns, rows).map_err(|e| e.to_string())?, "text/csv; charset=utf-8", "csv"),
        Format::Xlsx => (
            xlsx_of(name, columns, rows, looks).map_err(|e| e.to_string())?,
            "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            "xlsx",
        ),
        Format::Ods => (ods_of(name, columns, rows)?, "application/vnd.oasis.opendocument.spreadsheet", "ods"),
        Format::Json => (json_of(columns, rows).map_err(|e| e.to_string())?, "application/json", "json"),
    };
    Ok(Written { bytes, media, ending })
}

/// What a formula begins with, in the wide forms of some keyboards too.
const FORMULA: [char; 11] = ['=', '+', '-', '@', '\t', '\r', '\n', '＝', '＋', '－', '＠'];

/// A text that no spreadsheet takes for a formula: one that looks like one gets an apostrophe in front.
pub(crate) fn harmless(text: &str) -> String {
    if text.starts_with(FORMULA) { format!("'{text}") } else { text.to_owned() }
}

/// The same for a file that may be opened with another separator than it was written with: what stands behind a semicolon, a
/// tab or the end of a line would then begin a cell. A line that begins with a sign and a space is an item of a list.
fn harmless_anywhere(text: &str) -> String {
    let mut safe = String::with_capacity(text.len());
    let mut chars = harmless(text).chars().collect::<Vec<_>>().into_iter().peekable();
    let mut begins_after = None;
    while let Some(char) = chars.next() {
        let item = begins_after == Some('\n') && chars.peek() == Some(&' ') && "-+".contains(char);
        if begins_after.is_some() && FORMULA.contains(&char) && !char.is_whitespace() && !item {
            safe.push('\'');
        }
        safe.push(char);
        begins_after = match char {
            ';' | '\t' | '\r' | '\n' => Some(char),
            ' ' | '"' => begins_after,
            _ => None,
        };
    }
    safe
}

/// A report of refused cells as CSV: row, column, value, reason.
pub fn refused_list<'a>(refused: impl Iterator<Item = (usize, &'a str, &'a str, &'a str)>) -> Vec<u8> {
    let columns = ["Row", "Column", "Value", "Reason"].map(|name| Column { name: name.into(), width: 100, decimals: 0, percent: false });
    let rows: Vec<Vec<Raw>> = refused
        .map(|(row, column, value, why)| {
            vec![Raw::Number(row.into()), Raw::Text(column.into()), Raw::Text(value.into()), Raw::Text(why.into())]
        })
        .collect();
    csv_of(&columns, &rows).unwrap_or_default()
}

fn csv_of(columns: &[Column], rows: &[Vec<Raw>]) -> csv::Result<Vec<u8>> {
    // With the mark, spreadsheets know that it is UTF-8.
    let mut writer = csv::Writer::from_writer(vec![0xEF, 0xBB, 0xBF]);
    writer.write_record(columns.iter().map(|c| harmless_anywhere(&c.name)))?;
    for row in rows {
        let cell = |raw: &Raw| if let Raw::Text(text) = raw { harmless_anywhere(text) } else { raw.words() };
        writer.write_record(columns.iter().enumerate().map(|(n, _)| row.get(n).map(cell).unwrap_or_default()))?;
    }
    writer.into_inner().map_err(|e| e.into_error().into())
}

fn xlsx_of(name: &str, columns: &[Column], rows: &[Vec<Raw>], looks: &[Vec<Option<Look>>]) -> Result<Vec<u8>, XlsxError> {
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    sheet.set_name(sheet_name(name))?;
    sheet.set_freeze_panes(1, 0)?;
    let heading = Style::new().set_bold().set_border_bottom(rust_xlsxwriter::FormatBorder::Thin);
    let plain = Style::new();
    let date = Style::new().set_num_format("d mmm yyyy");
    let moment = Style::new().set_num_format("d mmm yyyy hh:mm");
    let numbers: Vec<Style> = columns.iter().map(|c| Style::new().set_num_format(number_format(c))).collect();
    for (at, column) in (0..).zip(columns) {
        sheet.set_column_width_pixels(at, u32::from(column.width))?;
        sheet.write_string_with_format(0, at, &column.name, &heading)?;
    }
    for (at, row) in (1..).zip(rows) {
        for ((column, raw), number) in (0..).zip(row).zip(&numbers) {
            let look = looks.get(at as usize - 1).and_then(|row| row.get(column as usize)).and_then(Option::as_ref);
            let styled = |style: &Style| look.map_or_else(|| style.clone(), |look| dressed(style.clone(), look));
            if raw.is_empty() {
                if look.is_some() {
                    sheet.write_blank(at, column, &styled(&plain))?;
                }
                continue;
            }
            match raw {
                Raw::Empty => sheet.write_blank(at, column, &styled(number))?,
                // A text is always written as one, so nothing in it is ever a formula.
                Raw::Text(text) => sheet.write_string_with_format(at, column, as_cell(text), &styled(&plain))?,
                Raw::Number(value) | Raw::Percent(value) | Raw::Money(value, _) => match exactly(*value) {
                    Some(exact) => sheet.write_number_with_format(at, column, exact, &styled(number))?,
                    None => sheet.write_string_with_format(at, column, value.normalize().to_string(), &styled(&plain))?,
                },
                Raw::Time(_) | Raw::Duration(_) | Raw::Error(_) => {
                    sheet.write_string_with_format(at, column, raw.words(), &styled(&plain))?
                }
                Raw::Logical(yes) => sheet.write_boolean_with_format(at, column, *yes, &styled(&plain))?,
                Raw::Date(day) => sheet.write_datetime_with_format(at, column, ymd(*day)?, &styled(&date))?,
                Raw::DateTime(value) => {
                    let (hour, minute, second) = (value.hour(), value.minute(), value.second());
                    let at_time = ymd(value.date())?.and_hms(
                        u16::try_from(hour).unwrap_or(0),
                        u8::try_from(minute).unwrap_or(0),
                        f64::from(second),
                    )?;
                    sheet.write_datetime_with_format(at, column, at_time, &styled(&moment))?
                }
            };
        }
    }
    book.save_to_buffer()
}

/// How letters are coloured where nothing else is said, and what they stand on.
const INK: u32 = 0x23_261f;
const SHEET: u32 = 0xff_fffe;
/// How much of a hue is in a ground, and in letters, of a hundred: as on the screen.
const GROUND: u32 = 13;
const LETTERS: u32 = 70;

/// So much of one colour, of a hundred, in another.
fn mixed(of: u32, share: u32, into: u32) -> u32 {
    let part = |shift: u32| {
        let (a, b) = ((of >> shift) & 0xff, (into >> shift) & 0xff);
        ((a * share + b * (100 - share) + 50) / 100) << shift
    };
    part(16) | part(8) | part(0)
}

/// A style that looks as a highlight wants it. A word and a sign belong to the screen: they would change what stands in a cell.
fn dressed(style: Style, look: &Look) -> Style {
    let mut style = style;
    if look.bold {
        style = style.set_bold();
    }
    if look.italic {
        style = style.set_italic();
    }
    if look.struck {
        style = style.set_font_strikethrough();
    }
    style = match look.ink {
        Some(Ink::Of(hue)) => style.set_font_color(mixed(hue.rgb(), LETTERS, INK)),
        Some(Ink::Quiet) => style.set_font_color(0x5f_6356),
        None => style,
    };
    if let Some(hue) = look.fill {
        style = style.set_background_color(mixed(hue.rgb(), GROUND, SHEET));
    }
    if let Some(hue) = look.edge {
        style = style.set_border_left(rust_xlsxwriter::FormatBorder::Thick).set_border_left_color(hue.rgb());
    }
    style
}

/// Most letters of a workbook's cell.
const CELL: usize = 32_767;

/// A text as a workbook's cell can hold it; what had to be cut says so.
fn as_cell(text: &str) -> String {
    if text.chars().count() <= CELL {
        return text.to_owned();
    }
    let says = "… (cut: a workbook’s cell holds no more; a CSV file has the whole text)";
    text.chars().take(CELL - says.chars().count()).chain(says.chars()).collect()
}

/// A number as workbooks keep it, where they keep it exactly.
fn exactly(value: rust_decimal::Decimal) -> Option<f64> {
    let float = value.to_f64()?;
    (crate::formats::seen(float) == Some(value.normalize())).then_some(float)
}

fn ymd(day: jiff::civil::Date) -> Result<rust_xlsxwriter::ExcelDateTime, XlsxError> {
    let small = |n: i8| u8::try_from(n).unwrap_or(1);
    rust_xlsxwriter::ExcelDateTime::from_ymd(u16::try_from(day.year()).unwrap_or(1_900), small(day.month()), small(day.day()))
}

/// A sheet's name as workbooks allow it.
fn sheet_name(name: &str) -> String {
    let plain: String = name.chars().filter(|c| !"[]:*?/\\'".contains(*c)).take(31).collect();
    if plain.trim().is_empty() { "Records".into() } else { plain }
}

fn number_format(column: &Column) -> String {
    let decimals = if column.decimals == 0 { String::new() } else { format!(".{}", "0".repeat(column.decimals as usize)) };
    if column.percent { format!("0{decimals}%") } else { format!("#,##0{decimals}") }
}

fn ods_of(name: &str, columns: &[Column], rows: &[Vec<Raw>]) -> Result<Vec<u8>, String> {
    use spreadsheet_ods::{Sheet, Value, WorkBook};
    let mut sheet = Sheet::new(sheet_name(name));
    for (at, column) in (0..).zip(columns) {
        sheet.set_value(0, at, column.name.as_str());
    }
    for (at, row) in (1..).zip(rows) {
        for (column, raw) in (0..).zip(row) {
            let value = match raw {
                Raw::Empty => continue,
                Raw::Text(text) => Value::Text(text.to_string()),
                Raw::Number(number) | Raw::Percent(number) | Raw::Money(number, _) => {
                    let percent = columns.get(column as usize).is_some_and(|c| c.percent);
                    match exactly(*number) {
                        Some(exact) if percent => Value::Percentage(exact),
                        Some(exact) => Value::Number(exact),
                        None => Value::Text(number.normalize().to_string()),
                    }
                }
                Raw::Time(_) | Raw::Duration(_) | Raw::Error(_) => Value::Text(raw.words()),
                Raw::Logical(yes) => Value::Boolean(*yes),
                Raw::Date(_) | Raw::DateTime(_) => match moment(raw) {
                    Some(moment) => Value::DateTime(moment),
                    None => Value::Text(raw.words()),
                },
            };
            sheet.set_value(at, column, value);
        }
    }
    let mut book = WorkBook::new_empty();
    book.push_sheet(sheet);
    spreadsheet_ods::write_ods_buf(&mut book, Vec::new()).map_err(|e| e.to_string())
}

fn moment(raw: &Raw) -> Option<chrono::NaiveDateTime> {
    let moment = match raw {
        Raw::Date(day) => day.at(0, 0, 0, 0),
        Raw::DateTime(moment) => *moment,
        _ => return None,
    };
    let part = |n: i8| u32::try_from(n).ok();
    chrono::NaiveDate::from_ymd_opt(i32::from(moment.year()), part(moment.month())?, part(moment.day())?)?.and_hms_opt(
        part(moment.hour())?,
        part(moment.minute())?,
        part(moment.second())?,
    )
}

/// The members of an object, in their order.
struct Members<'a>(Vec<(&'a str, Box<RawValue>)>);

impl<'a> FromIterator<(&'a str, Box<RawValue>)> for Members<'a> {
    fn from_iter<T: IntoIterator<Item = (&'a str, Box<RawValue>)>>(members: T) -> Self {
        Self(members.into_iter().collect())
    }
}

impl Serialize for Members<'_> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_map(self.0.iter().map(|(name, value)| (name, value)))
    }
}

fn json_of(columns: &[Column], rows: &[Vec<Raw>]) -> serde_json::Result<Vec<u8>> {
    let object = |row: &Vec<Raw>| {
        let cells = columns.iter().zip(row).filter(|(_, raw)| !raw.is_empty()).map(|(column, raw)| {
            let value = match raw {
                Raw::Logical(yes) => to_raw_value(yes)?,
                // With all its digits: a number that went through a float would lose some.
                Raw::Number(number) => RawValue::from_string(number.normalize().to_string())?,
                other => to_raw_value(&other.words())?,
            };
            Ok((column.name.as_str(), value))
        });
        cells.collect::<serde_json::Result<Members<'_>>>()
    };
    serde_json::to_vec_pretty(&rows.iter().map(object).collect::<serde_json::Result<Vec<_>>>()?)
}
