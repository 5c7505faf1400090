//! Formulas as people type them, with what must come of each: `everyday/formulas.txt`, a line each, read and computed as those of a
//! field are. Lines that begin with `#` say why those under them are there.

use crate::fixture::*;
use westerfall_core::{access::Lens, formula::Formula, schema::Kind};

#[test]
fn every_formula_gives_what_a_spreadsheet_person_expects() {
    let ds = demo();
    let clock = clock();
    let lens = Lens::of_everything(&ds, None, &clock);
    let faults = table(&ds, "Faults");
    let shows = Kind::Text { limit: 1_000 };
    let come = |text: &str| {
        let read = Formula::read(text, &ds, faults);
        match read.faults.first() {
            Some(fault) => format!("fault: {}", fault.message),
            None => lens.try_formula(&read.formula, faults, Some(&shows), record(1)).unwrap().text,
        }
    };
    let lines = include_str!("everyday/formulas.txt").lines().filter(|line| !line.starts_with('#') && !line.is_empty());
    let cases: Vec<(&str, &str)> = lines.map(|line| line.split_once(" =>").map(|(f, e)| (f, e.trim_start())).unwrap()).collect();
    assert!(cases.len() >= 400, "{} formulas", cases.len());
    let wrong: Vec<String> = cases
        .iter()
        .map(|(formula, expected)| (formula, expected, come(formula)))
        .filter(|(_, expected, came)| came != **expected)
        .map(|(formula, expected, came)| format!("{formula} => {came}     (expected {expected})"))
        .collect();
    assert!(wrong.is_empty(), "\n{}", wrong.join("\n"));
}
