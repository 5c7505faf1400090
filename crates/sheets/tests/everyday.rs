//! Files as offices keep them, with what must come of each: `everyday/NAME` beside `everyday/NAME.expected`, whose first line
//! says why it is there. They go through the real reading, guess and import. `EVERYDAY=write` writes what comes of them now:
//! read it as whoever keeps such a file would, before it is kept.

mod books;

use jiff::Timestamp;
use std::{collections::BTreeMap, fs, path::PathBuf};
use westerfall_core::{access::Asker, id::PersonId};
use westerfall_sheets::{Into, report};

fn folder() -> PathBuf {
    PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("tests/everyday")
}

/// The texts that lie in the folder, and the workbooks that are made here.
fn files() -> BTreeMap<String, Vec<u8>> {
    let kept = fs::read_dir(folder()).unwrap().map(|entry| entry.unwrap().path()).filter(|p| p.extension().is_none_or(|e| e != "expected"));
    let named = |path: PathBuf| (path.file_name().unwrap().to_str().unwrap().to_owned(), fs::read(&path).unwrap());
    kept.map(named).chain(books::all()).collect()
}

#[test]
fn every_file_becomes_what_a_person_would_read_in_it() {
    let now: Timestamp = "2026-11-23T09:30:00Z".parse().unwrap();
    let dataset = westerfall_demo::scaled::dataset(now, 40);
    let clock = westerfall_demo::scaled::clock(now);
    let into = Into { dataset: &dataset, asker: Asker::Person(PersonId::FIRST), clock: &clock };
    let files = files();
    assert!(files.len() >= 60, "{} files", files.len());
    let mut wrong = Vec::new();
    for (name, bytes) in files {
        let path = folder().join(format!("{name}.expected"));
        let kept = fs::read_to_string(&path).unwrap_or_default();
        let (why, expected) = kept.split_once('\n').unwrap_or_default();
        assert!(why.starts_with("why: ") || books::why(&name).is_some(), "{name} does not say why it is there");
        let told = report(&bytes, name.split('.').next().unwrap_or_default(), into);
        if std::env::var("EVERYDAY").is_ok_and(|v| v == "write") {
            let why = books::why(&name).map_or_else(|| why.to_owned(), |why| format!("why: {why}"));
            fs::write(&path, format!("{why}\n{told}")).unwrap();
        } else if told != expected {
            wrong.push(format!("== {name}\n-- expected\n{expected}-- came\n{told}"));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
