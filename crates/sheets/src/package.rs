//! A whole tracker as a Tabular Data Package: a zip with a CSV for each table, `datapackage.json` that says what is in
//! them (Table Schema: types, primary and foreign keys), and `westerfall.json` with what such a package has no words for.
//! Reading takes the values from the CSV files, so that what was changed there comes along.

use crate::write::harmless;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use serde_json::{Value as Json, json};
use std::{
    collections::BTreeMap,
    io::{Cursor, Read, Write},
};
use westerfall_core::{
    history::{Rows, Stamp},
    id::{FieldId, RecordId, TableId},
    import::{CELLS_LIMIT, ROWS_LIMIT},
    pack::{Came, Ordered, Pack},
    part::Part,
    people::Person,
    schema::{FieldDef, Kind, TableDef},
    upgrade::{self, FORMAT, Kept},
    value::Value,
};
use zip::{ZipArchive, ZipWriter, write::SimpleFileOptions};

/// The column that numbers the records.
const KEY: &str = "_record";
/// Most bytes of one part of a package, unpacked.
const PART_LIMIT: u64 = 300_000_000;

/// What a data package has no words for.
#[derive(Serialize, Deserialize)]
struct Own {
    /// The format in which parts are kept in it.
    version: i16,
    parts: Vec<Part>,
    counters: Vec<(FieldId, String, u64)>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    arrivals: Vec<Came>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    orders: Vec<Ordered>,
    people: Vec<Person>,
    tables: Vec<OwnTable>,
}

#[derive(Deserialize)]
struct Versioned {
    version: i16,
}

#[derive(Serialize, Deserialize)]
struct OwnTable {
    table: TableId,
    path: String,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    stamps: Vec<Stamp>,
}

/// Writes a packed tracker with the bytes of its files, by their ids.
///
/// # Errors
/// In words, what could not be written.
pub fn write_package(pack: &Pack, files: &[(String, Vec<u8>)]) -> Result<Vec<u8>, String> {
    written(pack, files).map_err(|error| error.to_string())
}

/// Files of one ending in one zip; of two with one name the second is numbered.
///
/// # Errors
/// They are more than a zip holds.
pub fn zipped(files: impl IntoIterator<Item = (String, Vec<u8>)>, ending: &str) -> Result<Vec<u8>, String> {
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    let mut names: std::collections::BTreeSet<String> = std::collections::BTreeSet::new();
    for (name, bytes) in files {
        let name: String = name.chars().map(|c| if c.is_control() || "/\\:*?\"<>|".contains(c) { '-' } else { c }).take(100).collect();
        let name = if name.trim_start_matches(['.', ' ']).is_empty() { "sheet" } else { name.trim_start_matches(['.', ' ']) };
        let own = (1..)
            .map(|n: u32| if n == 1 { name.to_owned() } else { format!("{name} {n}") })
            .find(|own| !names.contains(&own.to_lowercase()));
        let own = own.unwrap_or_default();
        names.insert(own.to_lowercase());
        // The same sheets give the same bytes.
        let options = SimpleFileOptions::default().last_modified_time(zip::DateTime::default());
        zip.start_file(format!("{own}.{ending}"), options).map_err(|error| error.to_string())?;
        zip.write_all(&bytes).map_err(|error| error.to_string())?;
    }
    zip.finish().map(Cursor::into_inner).map_err(|error| error.to_string())
}

fn written(pack: &Pack, files: &[(String, Vec<u8>)]) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    let tables = tables_of(&pack.parts);
    let names = resource_names(&tables);
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    let options = SimpleFileOptions::default();
    let mut own = Own {
        version: FORMAT,
        parts: pack.parts.clone(),
        counters: pack.counters.clone(),
        arrivals: pack.arrivals.clone(),
        orders: pack.orders.clone(),
        people: pack.people.clone(),
        tables: Vec::new(),
    };
    let title = pack.parts.iter().find_map(|p| if let Part::Tracker(t) = p { Some((&t.name, &t.description)) } else { None });
    let resources: Vec<Json> = tables.iter().map(|table| resource(table, &names)).collect();
    let about = json!({
        "name": slug(title.map_or("tracker", |t| t.0)),
        "title": title.map_or("", |t| t.0),
        "description": title.map_or("", |t| t.1),
        "profile": "tabular-data-package",
        "resources": resources,
    });
    zip.start_file("datapackage.json", options)?;
    zip.write_all(&serde_json::to_vec_pretty(&about)?)?;
    let people: BTreeMap<u32, &str> = pack.people.iter().map(|p| (p.id.get(), p.mail.as_str())).collect();
    for table in &tables {
        let path = path_of(&names, table.id);
        let rows = pack.rows.iter().find(|r| r.table == table.id);
        zip.start_file(&path, options)?;
        zip.write_all(&csv_of(table, rows, &people)?)?;
        own.tables.push(OwnTable { table: table.id, path, stamps: rows.map_or_else(Vec::new, |r| r.stamps.clone()) });
    }
    zip.start_file("westerfall.json", options)?;
    zip.write_all(&serde_json::to_vec_pretty(&own)?)?;
    for (id, bytes) in files {
        zip.start_file(format!("files/{id}"), options)?;
        zip.write_all(bytes)?;
    }
    Ok(zip.finish()?.into_inner())
}

fn tables_of(parts: &[Part]) -> Vec<&TableDef> {
    parts.iter().filter_map(|p| if let Part::Table(t) = p { Some(t) } else { None }).collect()
}

fn slug(name: &str) -> String {
    let plain: String = name.to_lowercase().chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect();
    let parts: Vec<&str> = plain.split('-').filter(|p| !p.is_empty()).collect();
    if parts.is_empty() { "table".into() } else { parts.join("-") }
}

fn resource_names(tables: &[&TableDef]) -> BTreeMap<TableId, String> {
    let mut names: BTreeMap<TableId, String> = BTreeMap::new();
    for table in tables {
        let name = slug(&table.name);
        let free =
            std::iter::once(name.clone()).chain((2..).map(|n| format!("{name}-{n}"))).find(|n| !names.values().any(|known| known == n));
        names.insert(table.id, free.unwrap_or(name));
    }
    names
}

fn path_of(names: &BTreeMap<TableId, String>, table: TableId) -> String {
    format!("data/{}.csv", names.get(&table).map_or("table", String::as_str))
}

/// Whether a field's values are in the files: what is computed is computed again.
fn is_kept(field: &FieldDef) -> bool {
    match &field.kind {
        Kind::Link(link) => link.holds,
        Kind::Numbering { .. } => true,
        kind => kind.takes_input(),
    }
}

fn resource(table: &TableDef, names: &BTreeMap<TableId, String>) -> Json {
    let kept = || table.fields.iter().filter(|f| is_kept(f));
    let mut fields = vec![json!({ "name": KEY, "type": "integer", "constraints": { "required": true, "unique": true } })];
    fields.extend(kept().map(|field| {
        let mut described = json!({ "name": field.name, "type": schema_type(&field.kind) });
        if !field.help.is_empty() {
            described["description"] = json!(field.help);
        }
        if let Kind::Choice { options, .. } = &field.kind
            && !options.is_empty()
        {
            // As they stand in the file, where a name like a formula has its apostrophe.
            described["constraints"] = json!({ "enum": options.iter().map(|o| escaped(&o.name)).collect::<Vec<_>>() });
        }
        described
    }));
    let keys: Vec<Json> = kept()
        .filter_map(|f| match f.kind {
            Kind::Link(link) if link.one => {
                Some(json!({ "fields": f.name, "reference": { "resource": names.get(&link.to)?, "fields": KEY } }))
            }
            _ => None,
        })
        .collect();
    let mut schema = json!({ "fields": fields, "primaryKey": KEY, "missingValues": [""] });
    if !keys.is_empty() {
        schema["foreignKeys"] = json!(keys);
    }
    json!({
        "name": names.get(&table.id),
        "path": path_of(names, table.id),
        "title": table.name,
        "profile": "tabular-data-resource",
        "encoding": "utf-8",
        "format": "csv",
        "mediatype": "text/csv",
        "schema": schema,
    })
}

fn schema_type(kind: &Kind) -> &'static str {
    match kind {
        Kind::Number { .. } | Kind::Money { .. } | Kind::Percent { .. } | Kind::Duration => "number",
        Kind::Rating { .. } => "integer",
        Kind::YesNo => "boolean",
        Kind::Date => "date",
        Kind::DateTime => "datetime",
        Kind::Link(link) if link.one => "integer",
        Kind::Link(_) | Kind::Choices { .. } | Kind::People | Kind::Files | Kind::Checklist => "array",
        Kind::Web | Kind::Place => "object",
        Kind::Json => "any",
        _ => "string",
    }
}

/// A text as it stands in the file: harmless, and told from one that had an apostrophe before.
fn escaped(text: &str) -> String {
    if text.starts_with('\'') { format!("'{text}") } else { harmless(text) }
}

fn unescaped(text: &str) -> &str {
    text.strip_prefix('\'').unwrap_or(text)
}

fn csv_of(table: &TableDef, rows: Option<&Rows>, people: &BTreeMap<u32, &str>) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    let fields: Vec<&FieldDef> = table.fields.iter().filter(|f| is_kept(f)).collect();
    let mut writer = csv::Writer::from_writer(Vec::new());
    writer.write_record(std::iter::once(KEY.to_owned()).chain(fields.iter().map(|f| escaped(&f.name))))?;
    let Some(rows) = rows else { return Ok(writer.into_inner()?) };
    let columns: Vec<Option<&Vec<Value>>> =
        fields.iter().map(|f| rows.fields.iter().position(|id| *id == f.id).map(|at| &rows.columns[at])).collect();
    for (place, record) in rows.records().enumerate() {
        let mut line = vec![record.get().to_string()];
        for (field, column) in fields.iter().zip(&columns) {
            line.push(match column {
                Some(column) => text_of(&column[place], &field.kind, people)?,
                None => String::new(),
            });
        }
        writer.write_record(&line)?;
    }
    Ok(writer.into_inner()?)
}

fn text_of(value: &Value, kind: &Kind, people: &BTreeMap<u32, &str>) -> Result<String, serde_json::Error> {
    let option = |id: &westerfall_core::id::OptionId| kind.options().iter().find(|o| o.id == *id).map_or("", |o| o.name.as_str());
    let mail = |id: &westerfall_core::id::PersonId| people.get(&id.get()).copied().unwrap_or_default();
    let list = |list: &dyn Fn() -> Json| serde_json::to_string(&list());
    Ok(match value {
        Value::Empty | Value::Error(_) => String::new(),
        Value::Text(text) => escaped(text),
        Value::Number(number) => number.to_string(),
        Value::Logical(yes) => yes.to_string(),
        Value::Date(date) => date.to_string(),
        Value::Instant(instant) => instant.to_string(),
        Value::Range(start, end) => format!("{start}/{end}"),
        Value::Choice(chosen) => escaped(option(chosen)),
        Value::Choices(chosen) => list(&|| chosen.iter().map(option).collect())?,
        Value::Person(person) => mail(person).to_owned(),
        Value::People(persons) => list(&|| persons.iter().map(mail).collect())?,
        Value::Links(records) => match kind {
            Kind::Link(link) if link.one => records.first().map_or_else(String::new, |r| r.get().to_string()),
            _ => list(&|| records.iter().map(|r| Json::from(r.get())).collect())?,
        },
        Value::Web(web) => serde_json::to_string(web)?,
        Value::Place(place) => serde_json::to_string(place)?,
        Value::Files(files) => serde_json::to_string(files)?,
        Value::Checklist(items) => serde_json::to_string(items)?,
        Value::Json(json) => serde_json::to_string(json)?,
    })
}

/// A tracker that came out of a package, and the bytes of its files.
#[derive(Debug)]
pub struct Package {
    pub pack: Pack,
    pub files: BTreeMap<String, Vec<u8>>,
}

/// Reads a package back.
///
/// # Errors
/// In words, what is wrong with it, and where.
pub fn read_package(bytes: &[u8]) -> Result<Package, String> {
    let mut zip = ZipArchive::new(Cursor::new(bytes)).map_err(|_| "This is not a package: it is no zip archive.".to_owned())?;
    let own = part(&mut zip, "westerfall.json").ok_or("This package was not made by Westerfall: it has no westerfall.json.")?;
    let version = serde_json::from_slice::<Versioned>(&own).map_err(|_| "westerfall.json can’t be read.".to_owned())?.version;
    if version > FORMAT {
        return Err("This package was made by a newer Westerfall.".into());
    }
    let own: Own = upgrade::read(Kept::Pack, version, &own).map_err(|why| format!("westerfall.json can’t be read: {why}."))?;
    let people: BTreeMap<&str, u32> = own.people.iter().map(|p| (p.mail.as_str(), p.id.get())).collect();
    let mut rows = Vec::new();
    let mut cells = 0;
    for table in tables_of(&own.parts) {
        let Some(kept) = own.tables.iter().find(|t| t.table == table.id) else { continue };
        let csv = part(&mut zip, &kept.path).ok_or_else(|| format!("{} is missing from the package.", kept.path))?;
        let read = rows_of(table, &csv, &people, &kept.path)?;
        cells += read.columns.iter().map(Vec::len).sum::<usize>();
        if cells > 4 * CELLS_LIMIT {
            return Err("This package holds more than a tracker can.".into());
        }
        let stamps = if kept.stamps.len() == read.count as usize { kept.stamps.clone() } else { Vec::new() };
        if read.count > 0 {
            rows.push(Rows { stamps, ..read });
        }
    }
    let mut files = BTreeMap::new();
    let named: Vec<String> = zip.file_names().flatten().filter(|n| n.starts_with("files/")).map(|n| n.into_owned()).collect();
    for name in named {
        if let (Some(bytes), Some(id)) = (part(&mut zip, &name), name.strip_prefix("files/")) {
            files.insert(id.to_owned(), bytes);
        }
    }
    Ok(Package {
        pack: Pack { parts: own.parts, rows, counters: own.counters, arrivals: own.arrivals, orders: own.orders, people: own.people },
        files,
    })
}

/// A part of the archive, if it is there and not larger than one may be.
fn part(zip: &mut ZipArchive<Cursor<&[u8]>>, name: &str) -> Option<Vec<u8>> {
    let mut bytes = Vec::new();
    zip.by_name(name).ok()?.take(PART_LIMIT + 1).read_to_end(&mut bytes).ok()?;
    (bytes.len() as u64 <= PART_LIMIT).then_some(bytes)
}

fn rows_of(table: &TableDef, csv: &[u8], people: &BTreeMap<&str, u32>, path: &str) -> Result<Rows, String> {
    let broken = |error: csv::Error| format!("{path} can’t be read: {error}.");
    let mut reader = csv::Reader::from_reader(csv);
    let names: Vec<String> = reader.headers().map_err(broken)?.iter().map(|n| unescaped(n).to_owned()).collect();
    let fields: Vec<(usize, &FieldDef)> = names
        .iter()
        .enumerate()
        .filter_map(|(at, name)| table.fields.iter().find(|f| f.name == *name && is_kept(f)).map(|f| (at, f)))
        .collect();
    let mut columns: Vec<Vec<Value>> = vec![Vec::new(); fields.len()];
    let mut count = 0;
    for record in reader.records() {
        let record = record.map_err(broken)?;
        count += 1;
        if count > ROWS_LIMIT {
            return Err(format!("{path} has more than {ROWS_LIMIT} rows."));
        }
        for ((at, field), column) in fields.iter().zip(&mut columns) {
            let text = record.get(*at).unwrap_or_default();
            let value = value_of(text, &field.kind, people)
                .ok_or_else(|| format!("{path}, row {}: “{text}” does not fit “{}”.", count + 1, field.name))?;
            column.push(value);
        }
    }
    // Columns in which nothing stands are not kept, as in a pack that was never a file.
    let filled: Vec<_> =
        fields.iter().zip(columns).filter(|(_, column)| column.iter().any(|v| *v != Value::Empty)).map(|((_, f), c)| (f.id, c)).collect();
    let (fields, columns) = filled.into_iter().unzip();
    let count = u32::try_from(count).unwrap_or(u32::MAX);
    Ok(Rows { table: table.id, first: RecordId::at_row(0), count, fields, columns, stamps: Vec::new() })
}

fn value_of(text: &str, kind: &Kind, people: &BTreeMap<&str, u32>) -> Option<Value> {
    if text.is_empty() {
        return Some(Value::Empty);
    }
    let option = |name: &str| kind.options().iter().find(|o| o.name == name).map(|o| o.id);
    let person = |mail: &str| people.get(mail).copied().and_then(westerfall_core::id::PersonId::new);
    let names = || serde_json::from_str::<Vec<String>>(text).ok();
    Some(match kind {
        Kind::Number { .. } | Kind::Money { .. } | Kind::Percent { .. } | Kind::Rating { .. } | Kind::Duration => {
            Value::Number(text.parse::<Decimal>().ok()?)
        }
        Kind::YesNo => Value::Logical(text.parse().ok()?),
        Kind::Date => Value::Date(text.parse().ok()?),
        Kind::DateTime => Value::Instant(text.parse().ok()?),
        Kind::Range => {
            let (start, end) = text.split_once('/')?;
            Value::Range(start.parse().ok()?, end.parse().ok()?)
        }
        Kind::Choice { .. } => Value::Choice(option(unescaped(text))?),
        Kind::Choices { .. } => Value::Choices(names()?.iter().map(|n| option(n)).collect::<Option<_>>()?),
        Kind::Person => Value::Person(person(text)?),
        Kind::People => Value::People(names()?.iter().map(|n| person(n)).collect::<Option<_>>()?),
        Kind::Link(link) if link.one => Value::Links(vec![RecordId::new(text.parse().ok()?)?]),
        Kind::Link(_) => {
            let numbers: Vec<u32> = serde_json::from_str(text).ok()?;
            Value::Links(numbers.into_iter().map(RecordId::new).collect::<Option<_>>()?)
        }
        Kind::Web => Value::Web(serde_json::from_str(text).ok()?),
        Kind::Place => Value::Place(serde_json::from_str(text).ok()?),
        Kind::Files => Value::Files(serde_json::from_str(text).ok()?),
        Kind::Checklist => Value::Checklist(serde_json::from_str(text).ok()?),
        Kind::Json => Value::Json(serde_json::from_str(text).ok()?),
        _ => Value::text(unescaped(text)),
    })
}
