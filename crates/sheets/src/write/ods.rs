//! ODS: the same sheet for programs of the open standard.

use super::{Column, Head, Line, Writer, exactly, headed, looks, sheet_name};
use rust_decimal::Decimal;
use spreadsheet_ods::{
    CellStyle, CellStyleRef, Length, Sheet, Value, ValueFormatRef, WorkBook,
    color::Rgb,
    draw::{DrawFrame, DrawFrameContent, DrawImage},
    format::{create_number_format_fixed, create_percentage_format},
    manifest::Manifest,
    style::units::{Border, FontStyle, LineStyle},
    text::{TextA, TextP},
    xlink::XLinkType,
};
use std::collections::HashMap;
use westerfall_core::{
    export::{Filed, ListedFigure, ListedGroup},
    highlight::{Ink, Look},
    import::Raw,
};

/// Most groups that can be closed: each is held against all others.
const MOST_CLOSED: usize = 1_000;
/// How large a picture is, in millimetres, and how high its row.
const PICTURE: f64 = 18.0;
const ROW: f64 = 20.0;

pub(super) struct Ods {
    book: WorkBook,
    sheet: Sheet,
    columns: Vec<Column>,
    /// The row that comes next.
    at: u32,
    closed: usize,
    pictures: usize,
    formats: HashMap<(u32, bool), ValueFormatRef>,
    /// Those that there are already; of each few are needed.
    styles: Vec<Styled>,
}

/// A style with what it is for.
struct Styled {
    shows: Shows,
    bold: bool,
    look: Option<Look>,
    style: CellStyleRef,
}

/// What is shown in a cell.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Shows {
    Plain,
    Link,
    Day,
    Moment,
    Number(u32, bool),
}

impl Ods {
    pub(super) fn begin(head: Head<'_>) -> Self {
        let mut sheet = Sheet::new(sheet_name(head.name));
        for (at, column) in (0..).zip(head.columns) {
            // A pixel of the screen is a ninety-sixth of an inch.
            sheet.set_col_width(at, Length::In(f64::from(column.width) / 96.0));
        }
        sheet.set_header_rows(0, 0);
        let (formats, styles) = (HashMap::new(), Vec::new());
        let mut ods =
            Self { book: WorkBook::new_empty(), sheet, columns: head.columns.to_vec(), at: 1, closed: 0, pictures: 0, formats, styles };
        let bold = ods.style(Shows::Plain, true, None);
        for (at, column) in (0..).zip(head.columns) {
            ods.sheet.set_styled_value(0, at, column.name.as_str(), &bold);
        }
        ods
    }

    fn style(&mut self, shows: Shows, bold: bool, look: Option<&Look>) -> CellStyleRef {
        let known = self.styles.iter().find(|one| (one.shows, one.bold) == (shows, bold) && one.look.as_ref() == look);
        if let Some(known) = known {
            return known.style.clone();
        }
        let mut style = CellStyle::new_empty();
        match shows {
            Shows::Number(decimals, percent) => style.set_value_format(&self.format(decimals, percent)),
            Shows::Day => style.set_value_format(&spreadsheet_ods::defaultstyles::DefaultFormat::date()),
            Shows::Moment => style.set_value_format(&spreadsheet_ods::defaultstyles::DefaultFormat::datetime()),
            Shows::Link => style.set_color(rgb(looks::MOSS)),
            Shows::Plain => {}
        }
        if bold {
            style.set_font_bold();
        }
        if let Some(look) = look {
            dress(&mut style, look);
        }
        let known = self.book.add_cellstyle(style);
        self.styles.push(Styled { shows, bold, look: look.cloned(), style: known.clone() });
        known
    }

    fn format(&mut self, decimals: u32, percent: bool) -> ValueFormatRef {
        if let Some(known) = self.formats.get(&(decimals, percent)) {
            return known.clone();
        }
        let places = u8::try_from(decimals).unwrap_or(0);
        let known = if percent {
            self.book.add_percentage_format(create_percentage_format("", places))
        } else {
            self.book.add_number_format(create_number_format_fixed("", places, true))
        };
        self.formats.insert((decimals, percent), known.clone());
        known
    }

    fn group(&mut self, group: &ListedGroup) {
        let lines = u32::try_from(group.lines).unwrap_or(0);
        if lines > 0 && self.closed < MOST_CLOSED {
            self.closed += 1;
            self.sheet.add_row_group(self.at + 1, self.at + lines);
        }
        self.figured(headed(group), &group.figures);
    }

    fn figured(&mut self, words: String, figures: &[ListedFigure]) {
        let mut words = words;
        for figure in figures {
            let Some(column) = u32::try_from(figure.column).ok().filter(|column| *column > 0) else {
                words.push_str(&format!(", {} {}", figure.word, figure.text));
                continue;
            };
            let (value, shows) = match figure.value.and_then(|value| number(value, figure.percent)) {
                Some(value) => (value, Shows::Number(figure.decimals, figure.percent)),
                None => (Value::Text(figure.text.clone()), Shows::Plain),
            };
            let style = self.style(shows, true, None);
            self.sheet.set_styled_value(self.at, column, value, &style);
        }
        let style = self.style(Shows::Plain, true, None);
        self.sheet.set_styled_value(self.at, 0, words, &style);
    }

    fn cell(&mut self, at: u32, cell: &Filed, look: Option<&Look>) {
        let column = self.columns.get(at as usize).map_or((0, false), |column| (column.decimals, column.percent));
        let (value, shows) = match &cell.raw {
            Raw::Empty if look.is_none() => return,
            Raw::Empty => (Value::Empty, Shows::Plain),
            Raw::Text(text) => match &cell.leads {
                Some(leads) => {
                    let link = TextA::new().href(leads.as_ref()).text(text.as_ref());
                    (Value::TextXml(vec![TextP::new().tag(link).into_xmltag()]), Shows::Link)
                }
                None => (Value::Text(text.to_string()), Shows::Plain),
            },
            Raw::Number(value) | Raw::Percent(value) | Raw::Money(value, _) => match number(*value, column.1) {
                Some(value) => (value, Shows::Number(column.0, column.1)),
                None => (Value::Text(value.normalize().to_string()), Shows::Plain),
            },
            Raw::Time(_) | Raw::Duration(_) | Raw::Error(_) => (Value::Text(cell.raw.words()), Shows::Plain),
            Raw::Logical(yes) => (Value::Boolean(*yes), Shows::Plain),
            Raw::Date(day) => moment(day.at(0, 0, 0, 0)).map_or((Value::Text(cell.raw.words()), Shows::Plain), |day| (day, Shows::Day)),
            Raw::DateTime(value) => moment(*value).map_or((Value::Text(cell.raw.words()), Shows::Plain), |at| (at, Shows::Moment)),
        };
        let style = self.style(shows, false, look);
        self.sheet.set_styled_value(self.at, at, value, &style);
    }

    fn picture(&mut self, column: usize, bytes: &[u8]) {
        let Ok(column) = u32::try_from(column) else { return };
        // As a file of its own: readers take what is written among the cells for their text.
        self.pictures += 1;
        let (ending, media) = if bytes.starts_with(b"\x89PNG") { ("png", "image/png") } else { ("jpg", "image/jpeg") };
        let path = format!("Pictures/{}.{ending}", self.pictures);
        self.book.add_manifest(Manifest::with_buf(path.as_str(), media, bytes.to_vec()));
        let mut image = DrawImage::new();
        image.set_xlink_href(path);
        image.set_xlink_type(XLinkType::Simple);
        let mut frame = DrawFrame::new();
        for (name, value) in [("svg:width", PICTURE), ("svg:height", PICTURE)] {
            frame.attrmap_mut().set_attr(name, format!("{value}mm"));
        }
        frame.push_content(DrawFrameContent::Image(image));
        self.sheet.set_row_height(self.at, Length::Mm(ROW));
        self.sheet.add_draw_frame(self.at, column, frame);
    }
}

impl Writer for Ods {
    fn line(&mut self, line: Line<'_>) -> Result<(), String> {
        match line {
            Line::Group(group) => self.group(group),
            Line::Foot(counted, figures) => self.figured(counted.to_owned(), figures),
            Line::Record { cells, looks, picture } => {
                for (at, cell) in (0..).zip(cells.iter().take(self.columns.len())) {
                    self.cell(at, cell, looks.get(at as usize).and_then(Option::as_ref));
                }
                if let Some((column, bytes)) = picture {
                    self.picture(column, bytes);
                }
            }
        }
        self.at += 1;
        Ok(())
    }

    fn finish(self: Box<Self>) -> Result<Vec<u8>, String> {
        let Self { mut book, sheet, .. } = *self;
        book.push_sheet(sheet);
        spreadsheet_ods::write_ods_buf(&mut book, Vec::new()).map_err(|e| e.to_string())
    }
}

fn number(value: Decimal, percent: bool) -> Option<Value> {
    let exact = exactly(value)?;
    Some(if percent { Value::Percentage(exact) } else { Value::Number(exact) })
}

fn rgb(colour: u32) -> Rgb<u8> {
    let [_, red, green, blue] = colour.to_be_bytes();
    Rgb::new(red, green, blue)
}

/// As a highlight wants it.
fn dress(style: &mut CellStyle, look: &Look) {
    if look.bold {
        style.set_font_bold();
    }
    if look.italic {
        style.set_font_style(FontStyle::Italic);
    }
    if look.struck {
        style.set_text_line_through_style(LineStyle::Solid);
    }
    match look.ink {
        Some(Ink::Of(hue)) => style.set_color(rgb(looks::letters(hue.rgb()))),
        Some(Ink::Quiet) => style.set_color(rgb(looks::QUIET)),
        None => {}
    }
    if let Some(hue) = look.fill {
        style.set_background_color(rgb(looks::ground(hue.rgb())));
    }
    if let Some(hue) = look.edge {
        style.set_border_left(Length::Pt(2.25), Border::Solid, rgb(hue.rgb()));
    }
}

fn moment(at: jiff::civil::DateTime) -> Option<Value> {
    let part = |n: i8| u32::try_from(n).ok();
    let day = chrono::NaiveDate::from_ymd_opt(i32::from(at.year()), part(at.month())?, part(at.day())?)?;
    day.and_hms_opt(part(at.hour())?, part(at.minute())?, part(at.second())?).map(Value::DateTime)
}
