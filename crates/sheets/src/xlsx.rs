//! XLSX workbooks, cell by cell.

use crate::{
    Book, ReadFault, SheetName, TABLE_ROWS, first_table,
    formats::{Meaning, day_or_moment, duration, seen, show},
    tally::Tally,
};
use calamine::{CellErrorType, DataRef, Dimensions, Reader, SheetType, SheetVisible, Style, Xlsx, XlsxError};
use std::io::Cursor;
use westerfall_core::import::{Block, Raw, Sheet};

type Workbook<'b> = Xlsx<Cursor<&'b [u8]>>;

/// Rows of a sheet that are looked at to know whether it holds a table.
const GLANCE: u32 = 60;
/// Sheets of a workbook that are looked at so.
const GLANCED: usize = 60;
/// Most cells joined to one that are kept.
const JOINED: usize = 20_000;
/// Most coloured rows that are noted.
const COLOURED: usize = 5_000;

fn fault(error: &XlsxError) -> ReadFault {
    let what = match error {
        XlsxError::Password => return ReadFault::Protected,
        XlsxError::WorksheetNotFound(name) => format!("its sheet “{name}” is missing"),
        XlsxError::FileNotFound(part) => format!("its part “{part}” is missing"),
        XlsxError::NotAWorksheet(_) => "this sheet is a drawing and has no cells".into(),
        XlsxError::Zip(_) | XlsxError::Io(_) => "its archive can’t be opened to the end".into(),
        XlsxError::RelationshipNotFound => "its parts don’t say how they belong together".into(),
        XlsxError::CellTAttribute(_) | XlsxError::CellError(_) => "it has cells of an unknown sort".into(),
        _ => "its cells can’t be told apart from some place on".into(),
    };
    ReadFault::Broken(what)
}

pub(crate) fn read(bytes: &[u8], at: Option<usize>) -> Result<Book, ReadFault> {
    let mut book: Workbook<'_> = Xlsx::new(Cursor::new(bytes)).map_err(|e| fault(&e))?;
    let mut sheets: Vec<SheetName> = book
        .sheets_metadata()
        .iter()
        .filter(|sheet| sheet.typ == SheetType::WorkSheet)
        .map(|sheet| SheetName { name: sheet.name.clone(), hidden: sheet.visible != SheetVisible::Visible, cover: false })
        .collect();
    // Of a book of one there is nothing to choose, and of one of very many the first are looked at.
    if sheets.len() > 1 {
        for sheet in sheets.iter_mut().take(GLANCED) {
            sheet.cover = !holds_table(&mut book, &sheet.name);
        }
    }
    if sheets.is_empty() {
        return Err(ReadFault::Empty);
    }
    let at = at.map_or_else(|| first_table(&sheets), |at| at.min(sheets.len() - 1));
    let joined = joined(&mut book, &sheets[at].name);
    let sheet = sheet(&mut book, &sheets[at].name, joined)?;
    if sheet.rows.is_empty() && sheets.len() == 1 {
        return Err(ReadFault::Empty);
    }
    Ok(Book { sheets, at, sheet: sheet.into() })
}

/// Whether at least three of the first rows have two cells or more.
fn holds_table(book: &mut Workbook<'_>, name: &str) -> bool {
    let Ok(mut cells) = book.worksheet_cells_reader(name) else { return false };
    let mut filled = std::collections::HashMap::<u32, usize>::new();
    while let Ok(Some(cell)) = cells.next_cell() {
        let (row, _) = cell.get_position();
        if row > GLANCE {
            break;
        }
        if !matches!(cell.get_value(), DataRef::Empty) {
            *filled.entry(row).or_default() += 1;
        }
    }
    filled.values().filter(|count| **count >= 2).count() >= TABLE_ROWS
}

fn joined(book: &mut Workbook<'_>, name: &str) -> Vec<Block> {
    #[allow(deprecated, reason = "the others keep the joined cells of all sheets")]
    let blocks = book.worksheet_merge_cells(name).and_then(Result::ok).unwrap_or_default();
    let block =
        |d: Dimensions| Block { top: d.start.0 as usize, left: d.start.1 as usize, bottom: d.end.0 as usize, right: d.end.1 as usize };
    blocks.into_iter().take(JOINED).map(block).filter(|b| b.top <= b.bottom && b.left <= b.right).collect()
}

fn sheet(book: &mut Workbook<'_>, name: &str, joined: Vec<Block>) -> Result<Sheet, ReadFault> {
    let mut tally = Tally::default();
    let mut shown = Vec::new();
    let from_1904 = book.has_1904_epoch();
    let mut cells = book.worksheet_cells_reader(name).map_err(|e| fault(&e))?;
    let meanings: Vec<Meaning> = cells
        .styles()
        .iter()
        .map(|style| style.number_format.as_ref().map_or_else(|| Meaning::of("General"), |f| Meaning::of(&f.format_code)))
        .collect();
    let general = Meaning::of("General");
    let fills: Vec<Option<String>> = cells.styles().iter().map(colour).collect();
    let mut coloured: Vec<(usize, String)> = Vec::new();
    while let Some((cell, style)) = cells.next_cell_with_style_id().map_err(|e| fault(&e))? {
        let (row, column) = cell.get_position();
        let meaning = meanings.get(style).unwrap_or(&general);
        let mut number = |number: f64, tally: &mut Tally| {
            let raw = meaning.cell(number, from_1904).or_else(|| seen(number).map(Raw::Number));
            show(&mut shown, column as usize, meaning, seen(number).zip(raw.as_ref()));
            raw.map_or_else(|| tally.text(&number.to_string()), Ok)
        };
        let raw = match cell.get_value() {
            DataRef::Empty => Raw::Empty,
            #[allow(clippy::cast_precision_loss, reason = "workbooks keep all numbers as floats")]
            DataRef::Int(value) => number(*value as f64, &mut tally)?,
            DataRef::Float(value) => number(*value, &mut tally)?,
            DataRef::DateTime(value) => number(value.as_f64(), &mut tally)?,
            DataRef::String(text) => tally.text(text)?,
            DataRef::SharedString(text) => tally.text(text)?,
            DataRef::Bool(yes) => Raw::Logical(*yes),
            DataRef::DateTimeIso(text) => day_or_moment(text).map_or_else(|| tally.text(text), Ok)?,
            DataRef::DurationIso(text) => duration(text).map_or_else(|| tally.text(text), |n| Ok(Raw::Duration(n)))?,
            DataRef::Error(error) => Raw::Error(error_shown(error).into()),
        };
        let fill = fills.get(style).and_then(Option::as_ref).filter(|_| !raw.is_empty());
        let told = coloured.last().is_some_and(|(last, _)| *last == row as usize);
        if let Some(fill) = fill.filter(|_| !told && coloured.len() < COLOURED) {
            coloured.push((row as usize, fill.clone()));
        }
        tally.cell(row as usize, column as usize, raw)?;
    }
    tally.fill_down(&joined);
    Ok(Sheet { coloured, name: name.to_owned(), rows: tally.rows, joined, shown, ..Sheet::default() })
}

/// The plain name of the colour that a style fills cells with; none where it is white or grey, which is an ornament.
fn colour(style: &Style) -> Option<String> {
    let fill = style.fill.as_ref().filter(|fill| fill.is_visible())?.get_color()?;
    let [red, green, blue] = [fill.red, fill.green, fill.blue].map(i32::from);
    let (most, least) = (red.max(green).max(blue), red.min(green).min(blue));
    if most - least < 24 {
        return None;
    }
    let name = match ((red, green, blue), most - least) {
        ((r, g, b), _) if r == most && g == most && b < most => "yellow",
        ((r, g, b), span) if r == most && b == least && (g - least) * 3 > span * 2 => "yellow",
        ((r, g, b), span) if r == most && b == least && (g - least) * 3 > span => "orange",
        ((r, g, b), span) if r == most && g <= b && (b - g) * 2 > span => "pink",
        ((r, ..), _) if r == most => "red",
        ((_, g, _), _) if g == most => "green",
        ((r, ..), span) if (r - least) * 2 > span => "violet",
        _ => "blue",
    };
    Some(name.into())
}

fn error_shown(error: &CellErrorType) -> &'static str {
    match error {
        CellErrorType::Div0 => "#DIV/0!",
        CellErrorType::NA => "#N/A",
        CellErrorType::Name => "#NAME?",
        CellErrorType::Null => "#NULL!",
        CellErrorType::Num => "#NUM!",
        CellErrorType::Ref => "#REF!",
        CellErrorType::Value => "#VALUE!",
        _ => "an error",
    }
}
