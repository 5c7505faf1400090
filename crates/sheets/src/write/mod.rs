//! Writing what a view shows into a file, line by line. No cell that we write can run when the file is opened.

mod csv;
mod json;
mod looks;
mod markdown;
mod ods;
mod view;
mod xlsx;

pub(crate) use csv::harmless;
pub use csv::refused_list;
pub use view::{Pictures, ViewFile};

use rust_decimal::prelude::ToPrimitive;
use westerfall_core::{
    export::{Filed, ListedField, ListedFigure, ListedGroup},
    highlight::Look,
    import::Raw,
};

/// The files that a view can be exported to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Format {
    Csv(CsvStyle),
    Xlsx,
    Ods,
    Json,
    Markdown,
}

/// How a CSV file is written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct CsvStyle {
    pub separator: Separator,
    /// It begins with the mark by which some programs know UTF-8.
    pub mark: bool,
}

impl Default for CsvStyle {
    fn default() -> Self {
        Self { separator: Separator::Comma, mark: true }
    }
}

/// What stands between two cells.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Separator {
    Comma,
    Semicolon,
    Tab,
}

impl Format {
    /// Whether it keeps how cells look.
    pub fn keeps_looks(self) -> bool {
        matches!(self, Self::Xlsx | Self::Ods)
    }

    /// Whether pictures stand in it.
    pub fn keeps_pictures(self) -> bool {
        matches!(self, Self::Xlsx | Self::Ods)
    }

    /// Whether it is for reading alone: its cells are as people read them.
    pub fn is_read(self) -> bool {
        matches!(self, Self::Markdown)
    }
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
    /// Its cells stand to the right.
    pub number: bool,
}

impl Column {
    /// A column of texts.
    pub fn of(name: &str, width: u16) -> Self {
        Self { name: name.to_owned(), width, decimals: 0, percent: false, number: false }
    }
}

impl From<&ListedField> for Column {
    fn from(field: &ListedField) -> Self {
        Self { name: field.name.clone(), width: field.width, decimals: field.decimals, percent: field.percent, number: field.number }
    }
}

/// What a file begins with.
#[derive(Clone, Copy, Debug)]
pub struct Head<'a> {
    pub name: &'a str,
    pub columns: &'a [Column],
    /// What its lines stand together by, outermost first.
    pub levels: &'a [String],
}

/// A line of the file.
#[derive(Clone, Copy, Debug)]
pub enum Line<'a> {
    /// The head of a group. Where lines are only cells, what follows says in columns of its own what it is in.
    Group(&'a ListedGroup),
    Record {
        cells: &'a [Filed],
        /// None, or as many as there are cells.
        looks: &'a [Option<Look>],
        /// In which column, and its bytes.
        picture: Option<(usize, &'a [u8])>,
    },
    /// How many there are in words, and the figures over all. Left out where lines are only cells.
    Foot(&'a str, &'a [ListedFigure]),
}

/// A finished file.
#[derive(Clone, Debug)]
pub struct Written {
    pub bytes: Vec<u8>,
    pub media: &'static str,
    pub ending: &'static str,
}

/// A file that is being written.
trait Writer {
    fn line(&mut self, line: Line<'_>) -> Result<(), String>;
    fn finish(self: Box<Self>) -> Result<Vec<u8>, String>;
}

/// A file that is being written, line by line, in one pass.
pub struct Writing {
    format: Format,
    writer: Box<dyn Writer + Send>,
}

impl std::fmt::Debug for Writing {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Writing").field("format", &self.format).finish_non_exhaustive()
    }
}

impl Writing {
    /// Begins a file. `pictures`: it is to hold some.
    ///
    /// # Errors
    /// In words, what the file can't hold.
    pub fn begin(format: Format, head: Head<'_>, pictures: bool) -> Result<Self, String> {
        let writer: Box<dyn Writer + Send> = match format {
            Format::Csv(style) => Box::new(csv::Csv::begin(style, head)?),
            Format::Xlsx => Box::new(xlsx::Xlsx::begin(head, pictures).map_err(|e| e.to_string())?),
            Format::Ods => Box::new(ods::Ods::begin(head)),
            Format::Json => Box::new(json::Json::begin(head)),
            Format::Markdown => Box::new(markdown::Markdown::begin(head)),
        };
        Ok(Self { format, writer })
    }

    /// Writes the next line.
    ///
    /// # Errors
    /// In words, what the file can't hold.
    pub fn line(&mut self, line: Line<'_>) -> Result<(), String> {
        self.writer.line(line)
    }

    /// The whole file.
    ///
    /// # Errors
    /// In words, what the file can't hold.
    pub fn finish(self) -> Result<Written, String> {
        let bytes = self.writer.finish()?;
        let (media, ending) = match self.format {
            Format::Csv(_) => ("text/csv; charset=utf-8", "csv"),
            Format::Xlsx => ("application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "xlsx"),
            Format::Ods => ("application/vnd.oasis.opendocument.spreadsheet", "ods"),
            Format::Json => ("application/json", "json"),
            Format::Markdown => ("text/markdown; charset=utf-8", "md"),
        };
        Ok(Written { bytes, media, ending })
    }
}

/// Writes rows under named columns.
///
/// # Errors
/// In words, what the file can't hold.
pub fn write(format: Format, name: &str, columns: &[Column], rows: &[Vec<Raw>]) -> Result<Written, String> {
    let mut writing = Writing::begin(format, Head { name, columns, levels: &[] }, false)?;
    for row in rows {
        let cells: Vec<Filed> = row.iter().cloned().map(Filed::from).collect();
        writing.line(Line::Record { cells: &cells, looks: &[], picture: None })?;
    }
    writing.finish()
}

/// The columns that say in which groups a line is, in files whose lines are only cells: for each level that no column is called like.
struct Leading {
    /// For each level, whether it has a column.
    stands: Vec<bool>,
    /// In which groups one is now.
    now: Vec<String>,
}

impl Leading {
    fn of(head: Head<'_>) -> Self {
        let stands = head.levels.iter().map(|level| head.columns.iter().all(|column| column.name != *level)).collect();
        Self { stands, now: Vec::new() }
    }

    fn enter(&mut self, group: &ListedGroup) {
        self.now.truncate(group.depth);
        self.now.push(group.text.clone());
    }

    /// Of each level that has a column, what belongs to it of a list of one for each level.
    fn among<'a>(&'a self, each: &'a [String]) -> impl Iterator<Item = &'a str> {
        self.stands.iter().enumerate().filter(|(_, stands)| **stands).map(|(level, _)| each.get(level).map_or("", String::as_str))
    }
}

/// What is said at the head of a group beside its figures: *Upper dale (3 faults)*.
fn headed(group: &ListedGroup) -> String {
    format!("{} ({})", group.text, group.counted)
}

/// A number as workbooks keep it, where they keep it exactly.
fn exactly(value: rust_decimal::Decimal) -> Option<f64> {
    let float = value.to_f64()?;
    (crate::formats::seen(float) == Some(value.normalize())).then_some(float)
}

/// A sheet's name as workbooks allow it.
fn sheet_name(name: &str) -> String {
    let plain: String = name.chars().filter(|c| !"[]:*?/\\'".contains(*c)).take(31).collect();
    if plain.trim().is_empty() { "Records".into() } else { plain }
}
