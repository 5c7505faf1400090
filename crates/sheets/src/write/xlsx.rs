//! XLSX: typed cells that look as on the screen, groups that can be closed. Without groups and pictures it goes row by row
//! through a file of its own, so that a long sheet takes no more memory than a short one.

use super::{Column, Head, Line, Writer, exactly, headed, looks, sheet_name};
use rust_xlsxwriter::{Format as Style, FormatBorder, FormatUnderline, Image, Url, Workbook, Worksheet, XlsxError};
use westerfall_core::{
    export::{Filed, ListedFigure, ListedGroup},
    highlight::{Ink, Look},
    import::Raw,
};

/// Most addresses of a sheet that lead somewhere: what workbooks take.
const MOST_LINKS: usize = 65_000;
/// Most letters of an address.
const LONGEST_LINK: usize = 2_000;
/// Most rows that a sheet has.
const MOST_ROWS: u32 = 1_048_576;
/// How high a row with a picture is, in pixels.
const PICTURE: u32 = 72;

pub(super) struct Xlsx {
    book: Workbook,
    sheet: Worksheet,
    columns: Vec<Column>,
    styles: Styles,
    /// The row that comes next.
    at: u32,
    links: usize,
}

struct Styles {
    plain: Style,
    date: Style,
    moment: Style,
    link: Style,
    head: Style,
    numbers: Vec<Style>,
}

impl Xlsx {
    pub(super) fn begin(head: Head<'_>, pictures: bool) -> Result<Self, XlsxError> {
        let mut book = Workbook::new();
        // Where pictures stand is told at the end, by rows that are there still; and how deep a row lies is told of such rows alone.
        let kept = pictures || !head.levels.is_empty();
        let mut sheet = if kept { Worksheet::new() } else { book.new_worksheet_with_constant_memory()? };
        sheet.set_name(sheet_name(head.name))?;
        sheet.set_freeze_panes(1, 0)?;
        sheet.group_symbols_above(true);
        let heading = Style::new().set_bold().set_border_bottom(FormatBorder::Thin);
        for (at, column) in (0..).zip(head.columns) {
            sheet.set_column_width_pixels(at, u32::from(column.width))?;
            sheet.write_string_with_format(0, at, &column.name, &heading)?;
        }
        let number = |c: &Column| Style::new().set_num_format(number_format(c.decimals, c.percent));
        let styles = Styles {
            plain: Style::new(),
            date: Style::new().set_num_format("d mmm yyyy"),
            moment: Style::new().set_num_format("d mmm yyyy hh:mm"),
            link: Style::new().set_font_color(looks::MOSS).set_underline(FormatUnderline::Single),
            head: Style::new().set_bold(),
            numbers: head.columns.iter().map(number).collect(),
        };
        Ok(Self { book, sheet, columns: head.columns.to_vec(), styles, at: 1, links: 0 })
    }

    fn write(&mut self, line: Line<'_>) -> Result<(), XlsxError> {
        if self.at >= MOST_ROWS {
            return Err(XlsxError::RowColumnLimitError);
        }
        match line {
            Line::Group(group) => self.group(group)?,
            Line::Foot(counted, figures) => self.figured(counted.to_owned(), figures)?,
            Line::Record { cells, looks, picture } => {
                if let Some((column, bytes)) = picture {
                    self.picture(column, bytes)?;
                }
                for (column, cell) in cells.iter().enumerate().take(self.columns.len()) {
                    self.cell(column, cell, looks.get(column).and_then(Option::as_ref))?;
                }
            }
        }
        self.at += 1;
        Ok(())
    }

    /// Its lines can be closed beneath it.
    fn group(&mut self, group: &ListedGroup) -> Result<(), XlsxError> {
        let lines = u32::try_from(group.lines).unwrap_or(0);
        if lines > 0 && self.at.saturating_add(lines) < MOST_ROWS {
            self.sheet.group_rows(self.at + 1, self.at + lines)?;
        }
        self.figured(headed(group), &group.figures)
    }

    /// A line of figures. What they are stands before them, and they stay numbers.
    fn figured(&mut self, words: String, figures: &[ListedFigure]) -> Result<(), XlsxError> {
        let mut words = words;
        for figure in figures {
            let Ok(column) = u16::try_from(figure.column) else { continue };
            // What belongs to the first column has no place of its own there.
            if column == 0 {
                words.push_str(&format!(", {} {}", figure.word, figure.text));
                continue;
            }
            match figure.value.and_then(exactly) {
                Some(number) => {
                    let format = format!("\"{}\" {}", figure.word, number_format(figure.decimals, figure.percent));
                    self.sheet.write_number_with_format(self.at, column, number, &self.styles.head.clone().set_num_format(format))?
                }
                None => {
                    let text = format!("{} {}", figure.word, figure.text);
                    self.sheet.write_string_with_format(self.at, column, text, &self.styles.head)?
                }
            };
        }
        self.sheet.write_string_with_format(self.at, 0, as_cell(&words), &self.styles.head)?;
        Ok(())
    }

    fn picture(&mut self, column: usize, bytes: &[u8]) -> Result<(), XlsxError> {
        let (Ok(column), Ok(image)) = (u16::try_from(column), Image::new_from_buffer(bytes)) else { return Ok(()) };
        self.sheet.set_row_height_pixels(self.at, PICTURE)?;
        self.sheet.insert_image_fit_to_cell(self.at, column, &image, true)?;
        Ok(())
    }

    fn cell(&mut self, column: usize, cell: &Filed, look: Option<&Look>) -> Result<(), XlsxError> {
        let Self { sheet, styles, at, links, .. } = self;
        let (at, Ok(place)) = (*at, u16::try_from(column)) else { return Ok(()) };
        let styled = |style: &Style| look.map_or_else(|| style.clone(), |look| dressed(style.clone(), look));
        let number = styles.numbers.get(column).unwrap_or(&styles.plain);
        match &cell.raw {
            Raw::Empty if look.is_none() => return Ok(()),
            Raw::Empty => sheet.write_blank(at, place, &styled(&styles.plain))?,
            Raw::Text(text) => match cell.leads.as_ref().filter(|leads| leads.len() <= LONGEST_LINK && *links < MOST_LINKS) {
                Some(leads) => {
                    *links += 1;
                    let link = Url::new(leads.as_ref()).set_text(as_cell(text));
                    sheet.write_url_with_format(at, place, link, &styled(&styles.link))?
                }
                // A text is always written as one, so nothing in it is ever a formula.
                None => sheet.write_string_with_format(at, place, as_cell(text), &styled(&styles.plain))?,
            },
            Raw::Number(value) | Raw::Percent(value) | Raw::Money(value, _) => match exactly(*value) {
                Some(exact) => sheet.write_number_with_format(at, place, exact, &styled(number))?,
                None => sheet.write_string_with_format(at, place, value.normalize().to_string(), &styled(&styles.plain))?,
            },
            Raw::Time(_) | Raw::Duration(_) | Raw::Error(_) => {
                sheet.write_string_with_format(at, place, cell.raw.words(), &styled(&styles.plain))?
            }
            Raw::Logical(yes) => sheet.write_boolean_with_format(at, place, *yes, &styled(&styles.plain))?,
            Raw::Date(day) => sheet.write_datetime_with_format(at, place, ymd(*day)?, &styled(&styles.date))?,
            Raw::DateTime(value) => {
                let (hour, minute, second) = (value.hour(), value.minute(), value.second());
                let at_time =
                    ymd(value.date())?.and_hms(u16::try_from(hour).unwrap_or(0), u8::try_from(minute).unwrap_or(0), f64::from(second))?;
                sheet.write_datetime_with_format(at, place, at_time, &styled(&styles.moment))?
            }
        };
        Ok(())
    }
}

impl Writer for Xlsx {
    fn line(&mut self, line: Line<'_>) -> Result<(), String> {
        self.write(line).map_err(|e| e.to_string())
    }

    fn finish(self: Box<Self>) -> Result<Vec<u8>, String> {
        let Self { mut book, sheet, .. } = *self;
        book.push_worksheet(sheet);
        book.save_to_buffer().map_err(|e| e.to_string())
    }
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
        Some(Ink::Of(hue)) => style.set_font_color(looks::letters(hue.rgb())),
        Some(Ink::Quiet) => style.set_font_color(looks::QUIET),
        None => style,
    };
    if let Some(hue) = look.fill {
        style = style.set_background_color(looks::ground(hue.rgb()));
    }
    if let Some(hue) = look.edge {
        style = style.set_border_left(FormatBorder::Thick).set_border_left_color(hue.rgb());
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

fn ymd(day: jiff::civil::Date) -> Result<rust_xlsxwriter::ExcelDateTime, XlsxError> {
    let small = |n: i8| u8::try_from(n).unwrap_or(1);
    rust_xlsxwriter::ExcelDateTime::from_ymd(u16::try_from(day.year()).unwrap_or(1_900), small(day.month()), small(day.day()))
}

fn number_format(decimals: u32, percent: bool) -> String {
    let decimals = if decimals == 0 { String::new() } else { format!(".{}", "0".repeat(decimals as usize)) };
    if percent { format!("0{decimals}%") } else { format!("#,##0{decimals}") }
}
