//! Which rows of a sheet hold the names of its columns, and what those names are.

use super::{Block, Heading, Raw, Sheet};
use crate::{
    schema::NAME_LIMIT,
    value::{DateOrder, DateReading, YEARS_FROM, fold, list_text, number, read_day},
};

/// Rows at the top among which the names are looked for.
const TOP: usize = 30;
/// Rows that are looked at to know how wide the table is.
const LOOKED_AT: usize = 60;
/// Most rows of names.
const HEADING_ROWS: usize = 3;

/// What a column is called, and what is to be said of that.
pub(super) struct Name {
    pub(super) name: String,
    /// Nothing stands over it.
    pub(super) unnamed: bool,
    pub(super) says: Option<String>,
}

/// Where the names stand. Titles above them are passed over; where no row looks like names, there is none.
pub(super) fn heading_of(sheet: &Sheet) -> Heading {
    let width = usual_width(sheet);
    let full = |row: &usize, hundredths: usize| filled(sheet, *row) > 0 && filled(sheet, *row) * 100 >= width * hundredths;
    let top = || 0..sheet.rows.len().min(TOP);
    let Some(begin) = top().find(|row| full(row, 40)).or_else(|| sheet.filled_rows(0).next()) else { return Heading::row(0) };
    // Lines that fill half of the table, and are followed by names over all of it, are titles too.
    let named =
        if full(&begin, 75) { Some(begin) } else { top().filter(|row| *row >= begin).find(|row| is_names(sheet, *row) || full(row, 75)) };
    let Some(mut first) = named.filter(|row| is_names(sheet, *row)) else { return Heading { first: begin, rows: 0 } };
    let mut rows = 1;
    if is_over_names(sheet, first, width) {
        if groups_the_next(sheet, first) { rows = 2 } else { first += 1 }
    } else if first > 0 && groups_the_next(sheet, first - 1) {
        first -= 1;
    }
    while rows < HEADING_ROWS && goes_on(sheet, first, first + rows) {
        rows += 1;
    }
    Heading { first, rows }
}

fn filled(sheet: &Sheet, row: usize) -> usize {
    sheet.rows.get(row).map_or(0, |cells| cells.iter().filter(|cell| !cell.is_empty()).count())
}

/// How many cells of a row are usually filled: three of four rows have at most so many.
fn usual_width(sheet: &Sheet) -> usize {
    let mut widths: Vec<usize> = (0..sheet.rows.len()).map(|row| filled(sheet, row)).filter(|w| *w > 0).take(LOOKED_AT).collect();
    widths.sort_unstable();
    widths.get(widths.len() * 3 / 4).copied().unwrap_or(0)
}

/// Whether most of a row's cells could be names.
fn is_names(sheet: &Sheet, row: usize) -> bool {
    let named = (0..sheet.width()).filter(|column| is_name(sheet, row, *column)).count();
    named > 0 && named * 5 >= filled(sheet, row) * 4
}

/// Whether a cell could be a name: a short text that is no value, or a value over values of another sort.
fn is_name(sheet: &Sheet, row: usize, column: usize) -> bool {
    match sheet.cell(row, column) {
        Raw::Text(text) => text.chars().count() <= 400 && !is_value(text) || is_year(text),
        Raw::Number(number) => is_year(&number.to_string()),
        // Months over figures.
        Raw::Date(_) => matches!(sheet.cell(row.saturating_add(1), column), Raw::Number(_) | Raw::Money(..) | Raw::Percent(_)),
        _ => false,
    }
}

fn is_year(text: &str) -> bool {
    text.trim().parse::<u16>().is_ok_and(|year| (1900..=2100).contains(&year))
}

/// Whether a text is a value: a number, a date, an address.
fn is_value(text: &str) -> bool {
    let text = text.trim();
    let signs = ["%", "£", "€", "$"];
    number(text, &signs, false).is_ok()
        || number(text, &signs, true).is_ok()
        || looks_like_a_day(text)
        || crate::checks::check_mail(text).is_ok()
        || text.contains("://")
        || !text.chars().any(char::is_alphanumeric)
}

/// Whether a text is a date in one of the orders that dates are written in.
pub(super) fn looks_like_a_day(text: &str) -> bool {
    let orders = [DateOrder::Day, DateOrder::Month, DateOrder::Year];
    orders.iter().any(|order| read_day(text, DateReading { order: *order, years_from: YEARS_FROM, today: None }).is_some())
}

/// Whether a row fills half of the table at most, and the next names all that it does and more: it groups those names, or is a title.
fn is_over_names(sheet: &Sheet, row: usize, width: usize) -> bool {
    let next = row + 1;
    let named_again = (0..sheet.width()).all(|column| sheet.cell(row, column).is_empty() || !sheet.cell(next, column).is_empty());
    filled(sheet, row) * 2 <= width
        && filled(sheet, next) > filled(sheet, row)
        && named_again
        && is_names(sheet, next)
        && sheet.filled_rows(next + 1).next().is_some()
}

/// Whether a row groups the names of the next: over several of its columns, and not as a title over all.
fn groups_the_next(sheet: &Sheet, row: usize) -> bool {
    let names = (0..sheet.width()).filter(|column| is_name(sheet, row, *column)).count();
    if names == 0 || names < filled(sheet, row) {
        return false;
    }
    let joined = sheet.joined.iter().any(|block| block.top == row && block.left > 0 && block.right > block.left);
    // A title begins at the left; names that group others leave out the column that names the record.
    joined || (names > 1 && sheet.cell(row, 0).is_empty())
}

/// Whether a row goes on with the names of those over it.
fn goes_on(sheet: &Sheet, first: usize, row: usize) -> bool {
    let above = row - 1;
    if filled(sheet, row) < 2 || !is_names(sheet, row) || sheet.filled_rows(row + 1).next().is_none() {
        return false;
    }
    let columns = || (0..sheet.width()).filter(|column| !sheet.cell(row, *column).is_empty());
    let over_values = columns().filter(|column| is_over_values(sheet, row, *column)).count();
    if sheet.joined.iter().any(|block| (first..=above).contains(&block.top) && (block.right > block.left || block.bottom >= row)) {
        return true;
    }
    let texts: Vec<String> = columns().map(|column| sheet.cell(row, column).words()).collect();
    let different: std::collections::BTreeSet<&String> = texts.iter().collect();
    let repeats = different.len() < texts.len();
    // Names that reach over their neighbours stand beside some that need no second row.
    let gaps = columns().any(|column| sheet.cell(above, column).is_empty());
    let single = (0..sheet.width()).any(|column| !sheet.cell(above, column).is_empty() && sheet.cell(row, column).is_empty());
    if gaps {
        return repeats || (single && over_values > 0);
    }
    // Units: over values alone.
    over_values == texts.len() && texts.iter().all(|text| is_unit(text))
}

/// Whether a text looks like the unit of what stands under it.
fn is_unit(text: &str) -> bool {
    const WORDS: [&str; 14] =
        ["mins", "secs", "hours", "days", "weeks", "years", "litres", "metres", "pounds", "euros", "inches", "feet", "miles", "count"];
    let bare = text.trim().trim_matches(['(', ')', '[', ']']).to_lowercase();
    let letters = bare.chars().filter(|c| c.is_alphabetic()).count();
    letters <= 3 || (bare.chars().count() <= 12 && bare.contains(['/', '°', '%', '²', '³', '£', '€', '$', '·'])) || WORDS.contains(&&*bare)
}

/// Whether most of what stands under a cell is no text.
fn is_over_values(sheet: &Sheet, row: usize, column: usize) -> bool {
    let cells: Vec<&Raw> = (row + 1..row + 11).map(|r| sheet.cell(r, column)).filter(|c| !c.is_empty()).collect();
    let values = cells.iter().filter(|cell| if let Raw::Text(text) = cell { is_value(text) } else { true }).count();
    !cells.is_empty() && values * 2 > cells.len()
}

/// What the columns are called.
pub(super) fn names_of(sheet: &Sheet, heading: Heading, columns: &[usize]) -> Vec<Name> {
    let mut names: Vec<Name> = columns.iter().map(|column| name_of(sheet, heading, *column)).collect();
    for place in 0..names.len() {
        let name = names[place].name.clone();
        let taken = |n: &str, names: &[Name]| names[..place].iter().any(|other| fold(&other.name) == fold(n));
        if !taken(&name, &names) {
            continue;
        }
        let free = (2..).map(|n| format!("{name} {n}")).find(|n| !taken(n, &names));
        names[place].says = Some(format!("Another column is called “{name}” already, so this one was numbered."));
        names[place].name = free.unwrap_or(name);
    }
    names
}

fn name_of(sheet: &Sheet, heading: Heading, column: usize) -> Name {
    let mut parts: Vec<String> = Vec::new();
    for row in heading.first..heading.end() {
        let part = tidy(&part_of(sheet, heading, row, column));
        if !part.is_empty() && !parts.contains(&part) {
            parts.push(part);
        }
    }
    let whole = parts.join(", ");
    let name: String = whole.chars().take(NAME_LIMIT).collect();
    let says = (name.len() < whole.len()).then(|| format!("Its name in the file is longer than {NAME_LIMIT} letters, and was cut."));
    if name.is_empty() {
        let says = (heading.rows > 0).then(|| "It has no name in the file, and is called by its place.".to_owned());
        return Name { name: format!("Column {}", column + 1), unnamed: true, says };
    }
    Name { name, unnamed: false, says }
}

/// A name on one line.
fn tidy(text: &str) -> String {
    text.split_whitespace().collect::<Vec<_>>().join(" ")
}

/// What a row of names says of a column: its own cell, one that reaches over it, or, over a name of its own, the last before it.
fn part_of(sheet: &Sheet, heading: Heading, row: usize, column: usize) -> String {
    let own = sheet.cell(row, column);
    if !own.is_empty() {
        return own.words();
    }
    let covers = |b: &&Block| (b.top..=b.bottom).contains(&row) && (b.left..=b.right).contains(&column);
    if let Some(block) = sheet.joined.iter().find(covers) {
        return sheet.cell(block.top, block.left).words();
    }
    let beneath = row + 1 < heading.end() && (row + 1..heading.end()).any(|r| !sheet.cell(r, column).is_empty());
    let over_some = |b: &Block| (heading.first..heading.end()).contains(&b.top) && b.right > b.left;
    if sheet.joined.iter().any(over_some) || !beneath {
        return String::new();
    }
    (0..column).rev().map(|c| sheet.cell(row, c)).find(|cell| !cell.is_empty()).map(Raw::words).unwrap_or_default()
}

/// What is to be said of the names as a whole.
pub(super) fn says(sheet: &Sheet, heading: Heading, names: &[Name]) -> Option<String> {
    if heading.rows == 0 {
        return Some("No row of names was found, so the columns are called by their place.".into());
    }
    if heading.rows == 1 {
        return None;
    }
    let lines: Vec<String> = (heading.first..heading.end()).map(|row| sheet.line(row).to_string()).collect();
    let lines = list_text(&lines.iter().map(String::as_str).collect::<Vec<_>>(), "and");
    let example = names.iter().find(|n| n.name.contains(", ")).map_or_else(String::new, |n| format!(", as in “{}”", n.name));
    Some(format!("The names stand in rows {lines} and were joined{example}."))
}
