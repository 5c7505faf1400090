//! Reading a text with values as it is typed, writing it back, and filling it in for a record.

use super::{Filled, MONTH_OF, Piece, Run, WORDING_LIMIT, Wording, YEAR_OF};
use crate::{
    access::Lens,
    dataset::Dataset,
    fault::{Fault, FaultKind},
    id::{FieldId, RecordId, TableId},
    schema::{Kind, within_sentence},
    value::Cell,
};
use jiff::civil::Date;

impl Wording {
    /// Reads a typed text with values. A brace that stands for itself is doubled.
    ///
    /// # Errors
    /// [`FaultKind::BadRule`] naming what is in braces but is no field, or a brace without its partner.
    pub fn parse(text: &str, ds: &Dataset, table: TableId) -> Result<Self, Fault> {
        if text.chars().count() > WORDING_LIMIT {
            return Err(Fault::new(FaultKind::TooLong, format!("This text has at most {WORDING_LIMIT} characters.")));
        }
        let mut pieces = Vec::new();
        let mut plain = String::new();
        let mut rest = text;
        while let Some(at) = rest.find(['{', '}']) {
            plain.push_str(&rest[..at]);
            let brace = &rest[at..=at];
            rest = &rest[at + 1..];
            if let Some(after) = rest.strip_prefix(brace) {
                plain.push_str(brace);
                rest = after;
                continue;
            }
            let name = (brace == "{").then(|| rest.split_once('}')).flatten();
            let Some((name, after)) = name else {
                return Err(Fault::new(
                    FaultKind::BadRule,
                    "A brace has no partner here. Write a field as {Title}; double a brace that stands for itself.",
                ));
            };
            if !plain.is_empty() {
                pieces.push(Piece::Text(std::mem::take(&mut plain)));
            }
            pieces.push(named(name, ds, table)?);
            rest = after;
        }
        plain.push_str(rest);
        if !plain.is_empty() {
            pieces.push(Piece::Text(plain));
        }
        Ok(Self(pieces))
    }

    /// The text as one types it.
    pub fn to_text(&self, ds: &Dataset, table: TableId) -> String {
        let piece = |piece: &Piece| match piece {
            Piece::Text(text) => text.replace('{', "{{").replace('}', "}}"),
            Piece::Value(path) | Piece::Month(path) | Piece::Year(path) => {
                format!("{{{}{}}}", piece.part(), names(ds, table, path).join("."))
            }
        };
        self.0.iter().map(piece).collect()
    }

    /// The text for one record, with the values that the lens gives, run by run.
    pub fn runs(&self, lens: &Lens<'_>, table: TableId, record: RecordId) -> Vec<Run> {
        let run = |piece: &Piece| {
            let Some(path) = piece.path() else { return piece.run(lens, table, record) };
            let run = piece.run(lens, table, record);
            let closed = run.text.is_empty() && !piece.run(lens.whole(), table, record).text.is_empty();
            Run { left_out: closed.then(|| names(lens.ds, table, path).join(", its ")), ..run }
        };
        self.0.iter().map(run).collect()
    }

    /// The same as one text, with the names of what was left out.
    pub fn fill(&self, lens: &Lens<'_>, table: TableId, record: RecordId) -> Filled {
        let runs = self.runs(lens, table, record);
        let left_out = runs.iter().filter_map(|run| run.left_out.clone()).collect();
        Filled { text: runs.into_iter().map(|run| run.text).collect(), left_out }
    }

    /// As one says it where no record is told of: names in place of values.
    pub(crate) fn names(&self, ds: &Dataset, table: TableId) -> Vec<Run> {
        let run = |piece: &Piece| match piece {
            Piece::Text(text) => Run { text: text.clone(), value: false, left_out: None },
            Piece::Value(path) | Piece::Month(path) | Piece::Year(path) => {
                let names: Vec<String> = names(ds, table, path).iter().map(|name| within_sentence(name)).collect();
                Run { text: format!("{}{}", piece.part(), names.join(", its ")), value: true, left_out: None }
            }
        };
        self.0.iter().map(run).collect()
    }
}

impl Piece {
    fn run(&self, lens: &Lens<'_>, table: TableId, record: RecordId) -> Run {
        let text = match self {
            Piece::Text(text) => return Run { text: text.clone(), value: false, left_out: None },
            Piece::Value(path) => text_along(lens, table, path, record),
            Piece::Month(path) => days_along(lens, table, path, record, "%B %Y"),
            Piece::Year(path) => days_along(lens, table, path, record, "%Y"),
        };
        Run { text, value: true, left_out: None }
    }
}

/// The records that a path of links leads to from a record, as far as the lens gives them, and the field at its end.
pub(crate) fn ends(lens: &Lens<'_>, table: TableId, path: &[FieldId], record: RecordId) -> Option<(TableId, FieldId, Vec<RecordId>)> {
    let (last, links) = path.split_last()?;
    let (mut at, mut records) = (table, vec![record]);
    for field in links {
        let reader = lens.reader(at, *field);
        let linked = |r: &RecordId| if let Cell::Links(l) = reader.cell(r.row()) { l } else { &[] };
        records = records.iter().flat_map(|r| reader.visible(linked(r)).collect::<Vec<_>>()).collect();
        at = lens.ds.table(at)?.link(*field)?.to;
    }
    Some((at, *last, records))
}

/// What stands at the end of a path, in words.
pub(crate) fn text_along(lens: &Lens<'_>, table: TableId, path: &[FieldId], record: RecordId) -> String {
    let Some((at, field, records)) = ends(lens, table, path, record) else { return String::new() };
    let texts: Vec<String> = records.iter().filter(|r| lens.sees(at, **r)).map(|r| lens.text_at(at, *r, field)).collect();
    texts.into_iter().filter(|t| !t.is_empty()).collect::<Vec<_>>().join(", ")
}

/// Each month or year of the days at the end of a path once, in `strftime`'s terms.
fn days_along(lens: &Lens<'_>, table: TableId, path: &[FieldId], record: RecordId, written: &str) -> String {
    let mut texts: Vec<String> = Vec::new();
    for day in days_at(lens, table, path, record) {
        let text = day.strftime(written).to_string();
        if !texts.contains(&text) {
            texts.push(text);
        }
    }
    texts.join(", ")
}

/// The days at the end of a path, as far as the lens gives them; of a range, its first.
pub(crate) fn days_at(lens: &Lens<'_>, table: TableId, path: &[FieldId], record: RecordId) -> Vec<Date> {
    let Some((at, field, records)) = ends(lens, table, path, record) else { return Vec::new() };
    let reader = lens.reader(at, field);
    let day = |cell: &Cell<'_>| match cell {
        Cell::Date(day) => Some(*day),
        Cell::Instant(moment) => Some(moment.to_zoned(lens.clock().told.clone()).date()),
        Cell::Range(start, _) => Some(*start),
        _ => None,
    };
    let seen = records.iter().filter(|record| lens.sees(at, **record));
    seen.flat_map(|record| reader.cells(record.row()).iter().filter_map(day).collect::<Vec<_>>()).collect()
}

/// What stands in braces: a field, or a part of a day.
fn named(name: &str, ds: &Dataset, table: TableId) -> Result<Piece, Fault> {
    // A field may be called so itself.
    let found = resolve(name, ds, table);
    let part =
        |start: &str| name.trim().get(..start.len()).filter(|begin| begin.eq_ignore_ascii_case(start)).map(|_| &name.trim()[start.len()..]);
    let (rest, piece): (&str, fn(Vec<FieldId>) -> Piece) = match (found, part(MONTH_OF), part(YEAR_OF)) {
        (Ok(path), ..) => return Ok(Piece::Value(path)),
        (_, Some(rest), _) => (rest, Piece::Month),
        (_, _, Some(rest)) => (rest, Piece::Year),
        (Err(fault), None, None) => return Err(fault),
    };
    let path = resolve(rest, ds, table)?;
    let kind = ds.walk(table, &path).ok().and_then(|(home, last)| ds.shown_kind(home, last)).map(|(_, kind)| kind.shows());
    if !kind.is_some_and(Kind::is_of_days) {
        let message = format!("“{}” is no day, and so has no month and no year.", rest.trim());
        return Err(Fault::new(FaultKind::BadRule, message));
    }
    Ok(piece(path))
}

fn resolve(name: &str, ds: &Dataset, table: TableId) -> Result<Vec<FieldId>, Fault> {
    let mut at = Some(table);
    let mut path = Vec::new();
    for part in name.split('.') {
        let wanted = part.trim().to_lowercase();
        let home = at.and_then(|t| ds.table(t));
        let field = home.and_then(|t| t.def.fields.iter().find(|f| f.name.to_lowercase() == wanted));
        let (Some(home), Some(field)) = (home, field) else {
            let place = home.map_or_else(|| "what stands before it, which is no link".to_owned(), |t| t.def.name.clone());
            return Err(Fault::new(FaultKind::BadRule, format!("There is no field “{}” in {place}.", part.trim())));
        };
        path.push(field.id);
        at = home.link(field.id).map(|l| l.to);
    }
    Ok(path)
}

fn names(ds: &Dataset, table: TableId, path: &[FieldId]) -> Vec<String> {
    let mut at = Some(table);
    let name = |field: &FieldId| {
        let home = at.and_then(|t| ds.table(t));
        let def = home.and_then(|t| t.def.field(*field));
        at = home.and_then(|t| t.link(*field)).map(|l| l.to);
        def.map_or_else(|| "?".to_owned(), |f| f.name.clone())
    };
    path.iter().map(name).collect()
}
