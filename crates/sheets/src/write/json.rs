//! JSON: an object for each record, its members in the order of the columns.

use super::{Head, Leading, Line, Writer};
use serde::{Serialize, Serializer};
use serde_json::value::{RawValue, to_raw_value};
use westerfall_core::{export::Filed, import::Raw};

pub(super) struct Json {
    names: Vec<String>,
    levels: Vec<String>,
    leading: Leading,
    bytes: Vec<u8>,
}

impl Json {
    pub(super) fn begin(head: Head<'_>) -> Self {
        let names = head.columns.iter().map(|column| column.name.clone()).collect();
        Self { names, levels: head.levels.to_vec(), leading: Leading::of(head), bytes: b"[".to_vec() }
    }

    fn object(&self, cells: &[Filed]) -> serde_json::Result<Members<'_>> {
        let groups = self.leading.among(&self.levels).zip(self.leading.among(&self.leading.now));
        let groups = groups.map(|(name, text)| Ok((name, to_raw_value(text)?)));
        let cells = self.names.iter().zip(cells).filter(|(_, cell)| !cell.raw.is_empty()).map(|(name, cell)| {
            let value = match &cell.raw {
                Raw::Logical(yes) => to_raw_value(yes)?,
                // With all its digits: a number that went through a float would lose some.
                Raw::Number(number) => RawValue::from_string(number.normalize().to_string())?,
                other => to_raw_value(&other.words())?,
            };
            Ok((name.as_str(), value))
        });
        groups.chain(cells).collect()
    }
}

impl Writer for Json {
    fn line(&mut self, line: Line<'_>) -> Result<(), String> {
        match line {
            Line::Group(group) => self.leading.enter(group),
            Line::Record { cells, .. } => {
                let object = self.object(cells).and_then(|members| serde_json::to_vec(&members)).map_err(|e| e.to_string())?;
                self.bytes.extend(if self.bytes.len() > 1 { &b",\n  "[..] } else { &b"\n  "[..] });
                self.bytes.extend(object);
            }
            Line::Foot(..) => {}
        }
        Ok(())
    }

    fn finish(mut self: Box<Self>) -> Result<Vec<u8>, String> {
        self.bytes.extend(b"\n]\n");
        Ok(self.bytes)
    }
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
