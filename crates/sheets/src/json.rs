//! JSON: a list of objects, or an object that holds one; and JSON lines, an object a line. Numbers stay as they are written.

use crate::{Book, ReadFault, tally::Tally};
use rust_decimal::Decimal;
use serde::{
    Deserialize, Deserializer,
    de::{MapAccess, Visitor},
};
use serde_json::value::RawValue;
use std::collections::HashMap;
use westerfall_core::import::{COLUMNS_LIMIT, Raw, Sheet};

/// The members of an object in their order, as they are written.
struct Members<'a>(Vec<(String, &'a RawValue)>);

impl<'de: 'a, 'a> Deserialize<'de> for Members<'a> {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        struct Each<'a>(std::marker::PhantomData<&'a ()>);
        impl<'de: 'a, 'a> Visitor<'de> for Each<'a> {
            type Value = Members<'a>;

            fn expecting(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
                f.write_str("an object")
            }

            fn visit_map<M: MapAccess<'de>>(self, mut map: M) -> Result<Members<'a>, M::Error> {
                let mut members = Vec::new();
                while let Some((name, value)) = map.next_entry::<String, &RawValue>()? {
                    members.push((name, value));
                }
                Ok(Members(members))
            }
        }
        deserializer.deserialize_map(Each(std::marker::PhantomData))
    }
}

fn not_records() -> ReadFault {
    ReadFault::NotATable("JSON that is no list of records".into())
}

/// A fault of the JSON itself; `line`: the one before that in which the text begins.
fn broken(error: &serde_json::Error, line: usize) -> ReadFault {
    if error.is_data() {
        return not_records();
    }
    ReadFault::NoJson { line: error.line() + line, character: error.column() }
}

pub(crate) fn read(bytes: &[u8]) -> Result<Book, ReadFault> {
    let bytes = bytes.strip_prefix(&[0xEF, 0xBB, 0xBF]).unwrap_or(bytes);
    let text = std::str::from_utf8(bytes).map_err(|_| ReadFault::Broken("it is JSON, but not in UTF-8".into()))?;
    let (name, records) = match text.trim_start().as_bytes() {
        [b'[', ..] => (String::new(), list(text)?),
        _ => match serde_json::from_str::<Members<'_>>(text) {
            Ok(members) if !is_lines(text) => within(members)?,
            Err(error) if !is_lines(text) => return Err(broken(&error, 0)),
            _ => (String::new(), lines(text)?),
        },
    };
    table(text, name, &records)
}

/// Whether the text goes on with another object behind the first line.
fn is_lines(text: &str) -> bool {
    let mut lines = text.lines().map(str::trim).filter(|line| !line.is_empty());
    lines.next().is_some_and(|first| first.starts_with('{') && serde_json::from_str::<Members<'_>>(first).is_ok())
        && lines.next().is_none_or(|second| second.starts_with('{'))
        && text.trim().contains('\n')
}

fn list(text: &str) -> Result<Vec<&RawValue>, ReadFault> {
    serde_json::from_str(text).map_err(|e| broken(&e, 0))
}

/// The longest list of records that an object holds.
fn within(members: Members<'_>) -> Result<(String, Vec<&RawValue>), ReadFault> {
    let lists =
        members.0.into_iter().filter_map(|(name, value)| serde_json::from_str(value.get()).ok().map(|list: Vec<&RawValue>| (name, list)));
    lists.max_by_key(|(_, list)| list.len()).ok_or_else(not_records)
}

fn lines(text: &str) -> Result<Vec<&RawValue>, ReadFault> {
    let filled = text.lines().enumerate().filter(|(_, line)| !line.trim().is_empty());
    filled.map(|(at, line)| serde_json::from_str(line).map_err(|e| broken(&e, at))).collect()
}

fn table(text: &str, name: String, records: &[&RawValue]) -> Result<Book, ReadFault> {
    let mut tally = Tally::default();
    let mut names: Vec<String> = Vec::new();
    let mut known: HashMap<String, usize> = HashMap::new();
    let mut lines = Lines::of(text);
    let mut begins = vec![0];
    tally.row(Vec::new())?;
    for record in records {
        let line = lines.of_part(record.get());
        let Members(members) = serde_json::from_str(record.get()).map_err(|_| not_records())?;
        let mut row = vec![Raw::Empty; names.len()];
        for (name, value) in members {
            let at = *known.entry(name).or_insert_with_key(|name| {
                names.push(name.clone());
                names.len() - 1
            });
            if at >= COLUMNS_LIMIT {
                return Err(ReadFault::TooManyColumns);
            }
            row.resize(row.len().max(at + 1), Raw::Empty);
            if !row[at].is_empty() {
                return Err(ReadFault::NamedTwice { line, name: names[at].clone() });
            }
            row[at] = cell(value.get(), &mut tally)?;
        }
        tally.row(row)?;
        begins.push(u32::try_from(line).unwrap_or(u32::MAX));
    }
    if tally.rows.len() < 2 {
        return Err(ReadFault::Empty);
    }
    tally.rows[0] = names.iter().map(|n| tally.text(n)).collect::<Result<Vec<_>, _>>()?;
    Ok(Book::of(Sheet { name, rows: tally.rows, decimal_comma: Some(false), lines: begins, ..Sheet::default() }))
}

/// The lines of a text, counted along with its parts.
struct Lines<'t> {
    text: &'t str,
    at: usize,
    line: usize,
}

impl<'t> Lines<'t> {
    fn of(text: &'t str) -> Self {
        Self { text, at: 0, line: 1 }
    }

    /// The line in which a part of the text begins, from 1; parts come in their order.
    fn of_part(&mut self, part: &str) -> usize {
        let begin = (part.as_ptr() as usize).saturating_sub(self.text.as_ptr() as usize).min(self.text.len());
        if begin > self.at {
            self.line += memchr::memchr_iter(b'\n', &self.text.as_bytes()[self.at..begin]).count();
            self.at = begin;
        }
        self.line
    }
}

fn cell(written: &str, tally: &mut Tally) -> Result<Raw, ReadFault> {
    match written.as_bytes() {
        b"null" => Ok(Raw::Empty),
        b"true" => Ok(Raw::Logical(true)),
        b"false" => Ok(Raw::Logical(false)),
        [b'"', ..] => tally.text(&serde_json::from_str::<String>(written).unwrap_or_default()),
        // A list of plain values is several values of one cell.
        [b'[', ..] => match serde_json::from_str::<Vec<&RawValue>>(written) {
            Ok(list) if list.iter().all(|v| !v.get().starts_with(['[', '{'])) => {
                let word = |v: &&RawValue| serde_json::from_str::<String>(v.get()).unwrap_or_else(|_| v.get().to_owned());
                tally.text(&list.iter().map(word).collect::<Vec<_>>().join("; "))
            }
            _ => tally.text(written),
        },
        [b'{', ..] => tally.text(written),
        _ => {
            let number = written.parse::<Decimal>().ok().filter(|n| n.to_string() == written);
            let number = number.or_else(|| Decimal::from_scientific(written).ok().filter(|_| written.contains(['e', 'E'])));
            // A number with more digits than can be kept stays as it is written.
            number.map_or_else(|| tally.text(written), |n| Ok(Raw::Number(n)))
        }
    }
}
