//! JSON: a list of objects, or an object that holds one.

use crate::{Book, ReadFault, tally::Tally};
use serde_json::Value;
use westerfall_core::import::{COLUMNS_LIMIT, Raw, Sheet};

pub(crate) fn read(bytes: &[u8]) -> Result<Book, ReadFault> {
    let bytes = bytes.strip_prefix(&[0xEF, 0xBB, 0xBF]).unwrap_or(bytes);
    let broken = |error: serde_json::Error| ReadFault::Broken(format!("line {}, character {}", error.line(), error.column()));
    let value: Value = serde_json::from_slice(bytes).map_err(broken)?;
    let shape = || ReadFault::NotATable("JSON that is no list of records".into());
    let (name, list) = match value {
        Value::Array(list) => (String::new(), list),
        Value::Object(map) => map
            .into_iter()
            .find_map(|(name, value)| if let Value::Array(list) = value { Some((name, list)) } else { None })
            .ok_or_else(shape)?,
        _ => return Err(shape()),
    };
    let mut names: Vec<String> = Vec::new();
    let mut known = std::collections::HashMap::new();
    for item in &list {
        for key in item.as_object().ok_or_else(shape)?.keys() {
            if !known.contains_key(key) {
                known.insert(key.clone(), names.len());
                names.push(key.clone());
            }
        }
        if names.len() > COLUMNS_LIMIT {
            return Err(ReadFault::TooManyColumns);
        }
    }
    let mut tally = Tally::default();
    let heading = names.iter().map(|n| tally.text(n)).collect::<Result<Vec<_>, _>>()?;
    tally.row(heading)?;
    for item in list {
        let mut row = vec![Raw::Empty; names.len()];
        let Value::Object(map) = item else { return Err(shape()) };
        for (key, value) in map {
            let Some(at) = known.get(&key) else { continue };
            row[*at] = cell(&value, &mut tally)?;
        }
        tally.row(row)?;
    }
    if tally.rows.len() < 2 {
        return Err(ReadFault::Empty);
    }
    Ok(Book { names: vec![name.clone()], at: 0, sheet: Sheet { name, rows: tally.rows, decimal_comma: Some(false) }.into() })
}

fn cell(value: &Value, tally: &mut Tally) -> Result<Raw, ReadFault> {
    match value {
        Value::Null => Ok(Raw::Empty),
        Value::Bool(yes) => Ok(Raw::Logical(*yes)),
        Value::Number(number) => match number.to_string().parse() {
            Ok(number) => Ok(Raw::Number(number)),
            Err(_) => tally.text(&number.to_string()),
        },
        Value::String(text) => tally.text(text),
        // A list of plain values is several values of one cell.
        Value::Array(list) if list.iter().all(|v| !v.is_array() && !v.is_object()) => {
            let words: Vec<String> = list.iter().map(|v| v.as_str().map_or_else(|| v.to_string(), str::to_owned)).collect();
            tally.text(&words.join("; "))
        }
        nested => tally.text(&nested.to_string()),
    }
}
