//! What would become of a file, in plain lines: what `bin/check-files` prints, and what the everyday set is held against.

use crate::{Book, ReadFault, read};
use std::fmt::Write;
use westerfall_core::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    import::{Becomes, ColumnGuess, ColumnPlan, DateOrder, Plan},
    intent::{Import, ImportRehearsal},
    schema::Kind,
};

/// Most refused cells of a column that are listed.
const REFUSED: usize = 4;
/// Values of a column that are listed.
const VALUES: usize = 5;

/// Who imports into what, and when.
#[derive(Clone, Copy)]
pub struct Into<'a> {
    pub dataset: &'a Dataset,
    pub asker: Asker,
    pub clock: &'a Clock,
}

/// What the guess makes of a file, and what importing it by that guess would give, line by line. Where it is asked in which order
/// dates stand, the day is taken to come first.
pub fn report(bytes: &[u8], name: &str, into: Into<'_>) -> String {
    match read(bytes, None) {
        Ok(book) => of_book(&book, name, into),
        Err(fault) => refused(&fault),
    }
}

fn refused(fault: &ReadFault) -> String {
    format!("refused: {fault}\n")
}

fn of_book(book: &Book, name: &str, into: Into<'_>) -> String {
    let guess = Lens::new(into.dataset, into.asker, into.clock).guess(&book.sheet, name, None, None);
    let mut plan = guess.plan.clone();
    for column in plan.columns.iter_mut().filter(|c| c.dates.is_none()) {
        column.dates = Some(DateOrder::Day);
    }
    let import = Import { plan, sheet: book.sheet.clone() };
    let told = into.dataset.rehearse_import(&import, into.asker, into.clock);
    let mut out = String::new();
    let hidden = book.sheets.iter().filter(|s| s.hidden).map(|s| s.name.as_str()).collect::<Vec<_>>();
    if book.sheets.len() > 1 {
        let _ = writeln!(out, "sheet “{}”, the {} of {}", book.sheet.name, book.at + 1, book.sheets.len());
    }
    if !hidden.is_empty() {
        let _ = writeln!(out, "hidden: {}", hidden.join(", "));
    }
    let _ = writeln!(out, "{} under {}", counted(guess.rows), heading(&guess.plan, book));
    for says in &guess.says {
        let _ = writeln!(out, "! {says}");
    }
    for row in &guess.beside {
        let _ = writeln!(out, "- row {}, {}: {}", row.line, row.what, row.text);
    }
    match told {
        Ok(told) => columns(&mut out, &guess.plan, &guess.columns, &told),
        Err(faults) => faults.0.iter().for_each(|fault| {
            let _ = writeln!(out, "can’t be imported: {}", fault.message);
        }),
    }
    out
}

fn counted(rows: usize) -> String {
    if rows == 1 { "1 record".into() } else { format!("{rows} records") }
}

fn heading(plan: &Plan, book: &Book) -> String {
    let line = |row: usize| book.sheet.line(row);
    match plan.heading.rows {
        0 => "no names".into(),
        1 if line(plan.heading.first) == 0 => "the names in each".into(),
        1 => format!("row {}", line(plan.heading.first)),
        _ => format!("rows {} to {}", line(plan.heading.first), line(plan.heading.end() - 1)),
    }
}

fn columns(out: &mut String, plan: &Plan, guesses: &[ColumnGuess], told: &ImportRehearsal) {
    let mut place = 0;
    for (column, guess) in plan.columns.iter().zip(guesses) {
        let _ = write!(out, "{}: {}{}", column.name, becomes(column), read_as(column, guess));
        if column.becomes != Becomes::Nothing {
            let values: Vec<String> =
                told.examples.iter().take(VALUES).filter_map(|row| row.get(place)).map(|v| v.replace('\n', "⏎")).collect();
            let _ = write!(out, " | {}", values.join(" | "));
            place += 1;
        }
        out.push('\n');
        for says in &guess.says {
            let _ = writeln!(out, "  ! {says}");
        }
        let refused: Vec<_> = told.rejected.iter().filter(|r| r.column == column.name).collect();
        for one in refused.iter().take(REFUSED) {
            let _ = writeln!(out, "  refused, row {}: “{}”. {}", one.row, one.value, one.why);
        }
        if refused.len() > REFUSED {
            let _ = writeln!(out, "  and {} more refused", refused.len() - REFUSED);
        }
    }
}

fn becomes(column: &ColumnPlan) -> String {
    match &column.becomes {
        Becomes::Nothing => "left out".into(),
        Becomes::Field { kind } => match kind {
            Kind::Money { currency } => format!("money in {currency}"),
            Kind::Number { decimals, unit } if !unit.is_empty() => format!("number in {unit}, decimals: {decimals}"),
            Kind::Number { decimals, .. } => format!("number, decimals: {decimals}"),
            Kind::Percent { decimals } => format!("percent, decimals: {decimals}"),
            kind => kind.name().to_owned(),
        },
        Becomes::Existing { .. } => "a field that is there".into(),
        Becomes::Link { .. } => "link".into(),
        Becomes::Table { .. } => "link to a new table".into(),
    }
}

fn read_as(column: &ColumnPlan, guess: &ColumnGuess) -> String {
    let order = match column.dates {
        _ if guess.asks_order => ", asks for the order of day and month",
        Some(DateOrder::Day) => ", day first",
        Some(DateOrder::Month) => ", month first",
        Some(DateOrder::Year) => ", year first",
        None => "",
    };
    let separator = column.separator.as_ref().map_or_else(String::new, |s| format!(", parted by {}", s.replace('\n', "line ends")));
    format!("{order}{separator}")
}
