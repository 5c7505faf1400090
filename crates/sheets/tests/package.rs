//! A whole tracker out as a data package and back.

#![allow(clippy::cast_possible_truncation, clippy::cast_possible_wrap, clippy::cast_sign_loss, reason = "small figures of its own")]

use jiff::Timestamp;
use std::io::Read;
use westerfall_core::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    pack::{Pack, Packing},
};
use westerfall_sheets::{read_package, write_package};

fn demo() -> Pack {
    let now: Timestamp = "2026-11-23T09:30:00Z".parse().unwrap();
    let mut ds = Dataset::empty(westerfall_demo::tracker(), westerfall_demo::team_people());
    let zone = jiff::tz::TimeZone::get("Europe/London").unwrap();
    for step in westerfall_demo::story(now, 60) {
        let clock = Clock::new(step.at, zone.clone());
        let change = ds.decide(&step.intent, step.asker, &clock).unwrap().change;
        ds.apply(&change);
    }
    let clock = Clock::new(now, zone);
    Lens::new(&ds, Asker::Westerfall, &clock).pack(Packing::Whole).unwrap()
}

fn parts(package: &[u8]) -> std::collections::BTreeMap<String, Vec<u8>> {
    let mut zip = zip::ZipArchive::new(std::io::Cursor::new(package)).unwrap();
    let names: Vec<String> = zip.file_names().flatten().map(|n| n.into_owned()).collect();
    let read = |name: String| {
        let mut bytes = Vec::new();
        zip.by_name(&name).unwrap().read_to_end(&mut bytes).unwrap();
        (name, bytes)
    };
    names.into_iter().map(read).collect()
}

#[test]
fn a_tracker_comes_back_as_it_went() {
    let pack = demo();
    let files = [("abc".to_owned(), b"bytes of a picture".to_vec())];
    let package = write_package(&pack, &files).unwrap();
    let back = read_package(&package).unwrap();
    assert_eq!(serde_json::to_string(&back.pack).unwrap(), serde_json::to_string(&pack).unwrap());
    assert_eq!(back.files["abc"], files[0].1);
    let again = write_package(&back.pack, &files).unwrap();
    assert_eq!(parts(&again), parts(&package));
}

/// The rules of the specification: names that are unique and plain, a path for each resource, fields of known types that
/// are the file's columns, keys that name columns of resources that are there, and values that keep their constraints.
#[test]
fn the_package_keeps_the_rules_of_its_specification() {
    const TYPES: [&str; 10] = ["string", "number", "integer", "boolean", "object", "array", "date", "datetime", "any", "time"];
    let parts = parts(&write_package(&demo(), &[]).unwrap());
    let about: serde_json::Value = serde_json::from_slice(&parts["datapackage.json"]).unwrap();
    let plain = |name: &str| !name.is_empty() && name.chars().all(|c| c.is_ascii_lowercase() || c.is_ascii_digit() || "-_.".contains(c));
    assert!(plain(about["name"].as_str().unwrap()) && about["profile"] == "tabular-data-package");
    let resources = about["resources"].as_array().unwrap();
    assert_eq!(resources.len(), 8);
    let names: std::collections::BTreeSet<&str> = resources.iter().map(|r| r["name"].as_str().unwrap()).collect();
    assert!(names.len() == resources.len() && names.iter().all(|n| plain(n)));
    for resource in resources {
        let mut csv = csv::Reader::from_reader(&parts[resource["path"].as_str().unwrap()][..]);
        let fields = resource["schema"]["fields"].as_array().unwrap();
        let columns: Vec<&str> = fields.iter().map(|f| f["name"].as_str().unwrap()).collect();
        assert_eq!(csv.headers().unwrap().iter().collect::<Vec<_>>(), columns);
        let key = resource["schema"]["primaryKey"].as_str().unwrap();
        assert!(columns.contains(&key) && fields.iter().all(|f| TYPES.contains(&f["type"].as_str().unwrap())));
        for foreign in resource["schema"]["foreignKeys"].as_array().into_iter().flatten() {
            assert!(columns.contains(&foreign["fields"].as_str().unwrap()));
            assert!(names.contains(foreign["reference"]["resource"].as_str().unwrap()));
        }
        for record in csv.records().map(Result::unwrap) {
            for (field, text) in fields.iter().zip(record.iter()).filter(|(_, text)| !text.is_empty()) {
                let fits = match field["type"].as_str().unwrap() {
                    "integer" => text.parse::<i64>().is_ok(),
                    "number" => text.parse::<f64>().is_ok(),
                    "boolean" => ["true", "false"].contains(&text),
                    "date" => text.parse::<jiff::civil::Date>().is_ok(),
                    "datetime" => text.parse::<Timestamp>().is_ok(),
                    "array" | "object" | "any" => serde_json::from_str::<serde_json::Value>(text).is_ok(),
                    _ => true,
                };
                let allowed = field["constraints"]["enum"].as_array().is_none_or(|list| list.iter().any(|o| o == text));
                assert!(fits && allowed, "{}: {text}", field["name"]);
            }
        }
    }
}

#[test]
fn what_does_not_fit_is_said_with_its_place() {
    let fault = |bytes: &[u8]| read_package(bytes).unwrap_err();
    assert!(fault(b"no zip").contains("no zip archive"));
    let mut zip = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (name, bytes) in parts(&write_package(&demo(), &[]).unwrap()) {
        let text = String::from_utf8(bytes).unwrap();
        let text = if name == "data/districts.csv" { text.replace("8400", "many") } else { text };
        zip.start_file(name, zip::write::SimpleFileOptions::default()).unwrap();
        std::io::Write::write_all(&mut zip, text.as_bytes()).unwrap();
    }
    let fault = fault(&zip.finish().unwrap().into_inner());
    assert_eq!(fault, "data/districts.csv, row 2: “many” does not fit “Season budget”.");
}
