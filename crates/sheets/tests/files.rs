//! Files as they are about, and files that mean harm.

#![allow(clippy::cast_possible_truncation, clippy::cast_possible_wrap, clippy::cast_sign_loss, reason = "small figures of its own")]

use rust_decimal::Decimal;
use std::io::{Cursor, Read, Write};
use westerfall_core::{
    highlight::{Ink, Look},
    import::Raw,
    schema::Hue,
};
use westerfall_sheets::{Column, Format, ReadFault, read, sort_of, write, write_looking};
use zip::{ZipArchive, ZipWriter, write::SimpleFileOptions};

fn rows(bytes: &[u8]) -> Vec<Vec<String>> {
    let book = read(bytes, None).unwrap_or_else(|f| panic!("{f}"));
    book.sheet.rows.iter().map(|r| r.iter().map(Raw::words).collect()).collect()
}

#[track_caller]
fn check(bytes: &[u8], expected: &[&[&str]]) {
    assert_eq!(rows(bytes), expected);
}

#[test]
fn text_is_read_in_its_own_encoding_and_dialect() {
    let plain: &[&[&str]] = &[&["Name", "Höhe"], &["Quelle", "1,5"]];
    check("Name;Höhe\r\nQuelle;1,5\r\n".as_bytes(), plain);
    check("\u{feff}Name,Höhe\nQuelle,\"1,5\"\n".as_bytes(), plain);
    let utf16: Vec<u8> = [0xFF, 0xFE].into_iter().chain("Name\tHöhe\nQuelle\t1,5\n".encode_utf16().flat_map(u16::to_le_bytes)).collect();
    check(&utf16, plain);
    let big: Vec<u8> = [0xFE, 0xFF].into_iter().chain("Name\tHöhe\nQuelle\t1,5\n".encode_utf16().flat_map(u16::to_be_bytes)).collect();
    check(&big, plain);
    check(b"Name|H\xf6he\nQuelle|1,5\n", plain);
    check(b"Name,Remark\nA,\"two\nlines, \"\"quoted\"\"\"\n", &[&["Name", "Remark"], &["A", "two\nlines, \"quoted\""]]);
    check(
        b"[{\"a\": 1.50, \"b\": [\"x\", \"y\"]}, {\"b\": true, \"c\": {\"d\": 1}}]",
        &[&["a", "b", "c"], &["1.50", "x; y"], &["", "yes", "{\"d\": 1}"]],
    );
}

/// A workbook with one more change to a part of it.
fn patched(bytes: &[u8], part: &str, change: impl Fn(String) -> String) -> Vec<u8> {
    let mut from = ZipArchive::new(Cursor::new(bytes)).unwrap();
    let mut to = ZipWriter::new(Cursor::new(Vec::new()));
    for at in 0..from.len() {
        let mut file = from.by_index(at).unwrap();
        let name = file.name().unwrap().to_string();
        let mut text = Vec::new();
        file.read_to_end(&mut text).unwrap();
        if name == part {
            text = change(String::from_utf8(text).unwrap()).into_bytes();
        }
        to.start_file(name, SimpleFileOptions::default()).unwrap();
        to.write_all(&text).unwrap();
    }
    to.finish().unwrap().into_inner()
}

fn day(year: i16, month: i8, day: i8) -> Raw {
    Raw::Date(jiff::civil::date(year, month, day))
}

fn columns(names: &[&str]) -> Vec<Column> {
    names.iter().map(|n| Column { name: (*n).into(), width: 120, decimals: 2, percent: false }).collect()
}

#[test]
fn what_is_written_is_read_back_and_runs_nothing() {
    let text = |t: &str| Raw::Text(t.into());
    let rows = vec![
        vec![text("=1+1"), Raw::Number("12.50".parse().unwrap()), day(2026, 3, 4), Raw::Logical(true)],
        vec![text("@cmd"), Raw::Number(Decimal::new(-3, 1)), Raw::DateTime(jiff::civil::date(2026, 3, 4).at(13, 30, 0, 0)), Raw::Empty],
        vec![text("-2 and more"), Raw::Empty, Raw::Empty, Raw::Logical(false)],
        vec![text("＝1+1"), Raw::Empty, Raw::Empty, Raw::Empty],
    ];
    let names = columns(&["+Name", "Sum", "Day", "Done"]);
    for format in [Format::Xlsx, Format::Ods] {
        let written = write(format, "Open: faults", &names, &rows).unwrap();
        let book = read(&written.bytes, None).unwrap();
        assert_eq!(book.sheet.rows[1][0], text("=1+1"), "{format:?}");
        assert_eq!(book.sheet.rows[1][1], Raw::Number("12.5".parse().unwrap()));
        assert_eq!(book.sheet.rows[1][2], day(2026, 3, 4));
        assert_eq!(book.sheet.rows[2][2].words(), "2026-03-04 13:30:00");
        assert_eq!(book.sheet.rows[3][3], Raw::Logical(false));
    }
    let csv = String::from_utf8(write(Format::Csv, "Faults", &names, &rows).unwrap().bytes).unwrap();
    assert_eq!(
        csv,
        "\u{feff}'+Name,Sum,Day,Done\n'=1+1,12.50,2026-03-04,yes\n'@cmd,-0.3,2026-03-04 13:30:00,\n'-2 and more,,,no\n'＝1+1,,,\n"
    );
    let json: serde_json::Value = serde_json::from_slice(&write(Format::Json, "Faults", &names, &rows).unwrap().bytes).unwrap();
    assert_eq!(json[1]["Sum"], serde_json::json!(-0.3));
}

#[test]
fn a_workbook_counts_its_days_from_its_own_beginning() {
    let written = write(Format::Xlsx, "Days", &columns(&["Day"]), &[vec![day(2026, 3, 4)]]).unwrap();
    let later = patched(&written.bytes, "xl/workbook.xml", |xml| xml.replace("<workbookPr ", "<workbookPr date1904=\"1\" "));
    // The same number of days from a beginning four years and a day later.
    assert_eq!(read(&later, None).unwrap().sheet.rows[1][0], day(2030, 3, 5));
}

#[test]
fn what_is_no_table_is_told_apart_by_what_is_in_it() {
    let fault = |bytes: &[u8]| read(bytes, None).unwrap_err().to_string();
    assert_eq!(read(b"", None).unwrap_err(), ReadFault::Empty);
    assert!(fault(b"%PDF-1.7 ...").contains("a PDF"));
    assert!(fault(b"\x89PNG\r\n").contains("a picture"));
    assert!(fault(b"MZ\x00\x00\x01").contains("a program"));
    assert!(fault(b"<html><body>").contains("a web page"));
    assert!(fault(b"[1, 2").contains("look at line 1, character"));
    let old: Vec<u8> = [0xD0, 0xCF, 0x11, 0xE0].into_iter().chain([0; 600]).collect();
    assert_eq!(sort_of(&old).unwrap_err(), ReadFault::OldWorkbook);
    let locked: Vec<u8> = old.iter().copied().chain("EncryptedPackage".encode_utf16().flat_map(u16::to_le_bytes)).collect();
    assert_eq!(sort_of(&locked).unwrap_err(), ReadFault::Protected);
    let written = write(Format::Xlsx, "Days", &columns(&["Day"]), &[vec![day(2026, 3, 4)]]).unwrap();
    assert!(matches!(read(&written.bytes[..written.bytes.len() / 2], None), Err(ReadFault::Broken(_))));
}

#[test]
fn a_file_is_not_believed_about_its_size() {
    let written = write(Format::Xlsx, "Days", &columns(&["Day"]), &[vec![Raw::Number(1.into())]]).unwrap();
    let sheet = "xl/worksheets/sheet1.xml";
    // A lone cell at the far corner, and a sheet that says it is as large as one can be.
    let corner = patched(&written.bytes, sheet, |xml| xml.replace("r=\"A2\"", "r=\"XFD1048576\"").replace("r=\"2\"", "r=\"1048576\""));
    assert!(matches!(read(&corner, None), Err(ReadFault::TooManyColumns | ReadFault::TooManyRows)));
    let wide = patched(&written.bytes, sheet, |xml| xml.replace("<dimension ref=\"A1:A2\"", "<dimension ref=\"A1:XFD1048576\""));
    assert_eq!(read(&wide, None).unwrap().sheet.rows.len(), 2);
    // A text that names itself again and again.
    let entities = patched(&written.bytes, "xl/sharedStrings.xml", |xml| {
        let bomb = "<!DOCTYPE s [<!ENTITY a \"aaaaaaaaaa\"><!ENTITY b \"&a;&a;&a;&a;&a;&a;&a;&a;\">]>";
        xml.replacen("<sst", &format!("{bomb}<sst"), 1).replace("Day", "&b;&b;")
    });
    let longest = read(&entities, None).map_or(0, |book| rows_of(&book).iter().map(String::len).max().unwrap_or(0));
    assert!(longest < 100, "{longest}");
    // Very little that says it unpacks to very much.
    let mut bomb = written.bytes.clone();
    let entry = bomb.windows(4).rposition(|w| w == b"PK\x01\x02").unwrap();
    bomb[entry + 24..entry + 28].copy_from_slice(&3_000_000_000_u32.to_le_bytes());
    assert_eq!(read(&bomb, None).unwrap_err(), ReadFault::Bomb);
    let many = format!("a\n{}", "x\n".repeat(250_001));
    assert_eq!(read(many.as_bytes(), None).unwrap_err(), ReadFault::TooManyRows);
    assert_eq!(read("c,c".repeat(300).as_bytes(), None).unwrap_err(), ReadFault::TooManyColumns);
}

fn rows_of(book: &westerfall_sheets::Book) -> Vec<String> {
    book.sheet.rows.iter().flatten().map(Raw::words).collect()
}

#[test]
fn repeated_cells_of_a_sheet_are_counted() {
    let written = write(Format::Ods, "Days", &columns(&["Day"]), &[vec![Raw::Number(1.into())]]).unwrap();
    let repeated = patched(&written.bytes, "content.xml", |xml| {
        xml.replacen("<table:table-cell ", "<table:table-cell table:number-columns-repeated=\"16384\" ", 1)
    });
    assert!(read(&repeated, None).is_err());
}

/// What each separator of a spreadsheet would make of an exported file: no cell of it may begin like a formula.
#[test]
fn an_exported_csv_holds_no_formula_whatever_it_is_opened_with() {
    let nasty = ["a;=1+1", "a; \"=1+1", "=1", "a\t@cmd", "first\n=HYPERLINK(\"x\")", "first\r\n  +1", "x;＝1", "a;-2;+3", "\";=1"];
    let columns = [Column { name: "Name;=1".into(), width: 100, decimals: 0, percent: false }];
    let rows: Vec<Vec<Raw>> = nasty.iter().map(|text| vec![Raw::Text((*text).into())]).collect();
    let written = write(Format::Csv, "Faults", &columns, &rows).unwrap();
    for separator in [b',', b';', b'\t'] {
        let mut reader = csv::ReaderBuilder::new().delimiter(separator).flexible(true).has_headers(false).from_reader(&written.bytes[3..]);
        for record in reader.records().map(Result::unwrap) {
            for cell in &record {
                let begins = cell.trim_start_matches([' ', '"']);
                assert!(!begins.starts_with(['=', '+', '-', '@', '＝']), "{cell:?} of {:?}", String::from_utf8_lossy(&written.bytes));
            }
        }
    }
    // A list in a long text stays as it was typed.
    let list = vec![vec![Raw::Text("To do:\n- gate\n- stile; and a slab".into())]];
    let written = write(Format::Csv, "Faults", &columns, &list).unwrap();
    assert!(String::from_utf8_lossy(&written.bytes).contains("To do:\n- gate\n- stile; and a slab"));
}

#[test]
fn a_workbook_keeps_how_its_cells_look_and_what_they_hold() {
    let rows = vec![
        vec![Raw::Text("Gate off".into()), Raw::Number("3.5".parse().unwrap()), day(2026, 3, 4)],
        vec![Raw::Text("Wall".into()), Raw::Empty, day(2026, 3, 5)],
    ];
    let loud = Look { bold: true, struck: true, fill: Some(Hue::Rowan), ink: Some(Ink::Of(Hue::Sky)), ..Look::default() };
    let edged = Look { edge: Some(Hue::Fern), italic: true, ..Look::default() };
    let looks = vec![vec![Some(edged), Some(loud.clone()), None], vec![None, Some(loud), None]];
    let written = write_looking(Format::Xlsx, "Faults", &columns(&["What", "Hours", "Day"]), &rows, &looks).unwrap();
    let book = read(&written.bytes, None).unwrap();
    assert_eq!(book.sheet.rows[1], rows[0], "kinds and values stay");
    let styles = part_of(&written.bytes, "xl/styles.xml");
    for mark in ["<b/>", "<strike/>", "<i/>", "thick"] {
        assert!(styles.contains(mark), "{mark} is not in {styles}");
    }
    // A tint of rowan as the screen mixes it: 13 of a hundred on the sheet.
    assert!(styles.contains("FFF5E5E3"), "{styles}");
    let plain = write(Format::Xlsx, "Faults", &columns(&["What", "Hours", "Day"]), &rows).unwrap();
    assert!(!part_of(&plain.bytes, "xl/styles.xml").contains("<strike/>"));
}

#[test]
fn hues_are_those_of_the_interface() {
    let tokens = std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/src/theme/tokens.css")).unwrap();
    for hue in Hue::ALL {
        let written = format!("--{}: light-dark(#{:06x},", hue.word(), hue.rgb());
        assert!(tokens.contains(&written), "{written}");
    }
}

fn part_of(bytes: &[u8], name: &str) -> String {
    let mut text = String::new();
    ZipArchive::new(Cursor::new(bytes)).unwrap().by_name(name).unwrap().read_to_string(&mut text).unwrap();
    text
}
