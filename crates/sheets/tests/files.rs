//! Files as they are about, and files that mean harm.

#![allow(clippy::cast_possible_truncation, clippy::cast_possible_wrap, clippy::cast_sign_loss, reason = "small figures of its own")]

use proptest::prelude::*;
use rust_decimal::Decimal;
use std::io::{Cursor, Read, Write};
use westerfall_core::{
    export::{CalendarEntry, Entries, EntryTime, Filed, ListedFigure, ListedGroup},
    highlight::{Ink, Look},
    id::{FieldId, RecordId},
    import::Raw,
    schema::Hue,
    value::Place,
};
use westerfall_sheets::{
    CalendarHead, Column, CsvStyle, Format, Head, Line, ReadFault, Separator, Writing, Written, calendar, read, sort_of, write,
};
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

/// A picture of one dot.
const DOT: &[u8] = &[
    0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 0x0d, 0x49, 0x48, 0x44, 0x52, 0, 0, 0, 1, 0, 0, 0, 1, 8, 2, 0, 0, 0, 0x90,
    0x77, 0x53, 0xde, 0, 0, 0, 0x0c, 0x49, 0x44, 0x41, 0x54, 8, 0xd7, 0x63, 0xf8, 0xcf, 0xc0, 0, 0, 3, 1, 1, 0, 0x18, 0xdd, 0x8d, 0xb0, 0,
    0, 0, 0, 0x49, 0x45, 0x4e, 0x44, 0xae, 0x42, 0x60, 0x82,
];
const CSV: Format = Format::Csv(CsvStyle { separator: Separator::Comma, mark: true });

fn day(year: i16, month: i8, day: i8) -> Raw {
    Raw::Date(jiff::civil::date(year, month, day))
}

fn columns(names: &[&str]) -> Vec<Column> {
    names.iter().map(|n| Column { decimals: 2, ..Column::of(n, 120) }).collect()
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
    let csv = String::from_utf8(write(CSV, "Faults", &names, &rows).unwrap().bytes).unwrap();
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
    let columns = [Column::of("Name;=1", 100)];
    let rows: Vec<Vec<Raw>> = nasty.iter().map(|text| vec![Raw::Text((*text).into())]).collect();
    let written = write(CSV, "Faults", &columns, &rows).unwrap();
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
    let written = write(CSV, "Faults", &columns, &list).unwrap();
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
    let names = columns(&["What", "Hours", "Day"]);
    let looking = |format: Format| {
        let mut writing = Writing::begin(format, Head { name: "Faults", columns: &names, levels: &[] }, true).unwrap();
        for (row, looks) in rows.iter().zip(&looks) {
            let cells: Vec<Filed> = row.iter().cloned().map(Filed::from).collect();
            writing.line(Line::Record { cells: &cells, looks, picture: Some((0, DOT)) }).unwrap();
        }
        writing.finish().unwrap()
    };
    let written = looking(Format::Xlsx);
    let book = read(&written.bytes, None).unwrap();
    assert_eq!(book.sheet.rows[1], rows[0], "kinds and values stay");
    let styles = part_of(&written.bytes, "xl/styles.xml");
    for mark in ["<b/>", "<strike/>", "<i/>", "thick"] {
        assert!(styles.contains(mark), "{mark} is not in {styles}");
    }
    // A tint of rowan as the screen mixes it: 13 of a hundred on the sheet.
    assert!(styles.contains("FFF5E5E3"), "{styles}");
    let plain = write(Format::Xlsx, "Faults", &names, &rows).unwrap();
    assert!(!part_of(&plain.bytes, "xl/styles.xml").contains("<strike/>"));
    assert!(part_of(&written.bytes, "xl/drawings/drawing1.xml").matches("<xdr:pic>").count() == 2);
    let open = looking(Format::Ods);
    assert_eq!(read(&open.bytes, None).unwrap().sheet.rows[1], rows[0]);
    let content = part_of(&open.bytes, "content.xml");
    for mark in
        ["fo:font-weight=\"bold\"", "style:text-line-through-style=\"solid\"", "fo:font-style=\"italic\"", "#f5e5e3", "fo:border-left"]
    {
        assert!(content.contains(mark), "{mark} is not in {content}");
    }
    assert_eq!(content.matches("<draw:image").count(), 2);
    assert!(content.contains("xlink:href=\"Pictures/2.png\"") && part_of(&open.bytes, "META-INF/manifest.xml").contains("Pictures/2.png"));
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

/// What a view gives of two groups, the outer one with two inner ones, and a foot.
fn in_groups(format: Format) -> Written {
    let columns = vec![Column::of("What", 200), Column { decimals: 1, number: true, ..Column::of("Hours", 80) }, Column::of("Mail", 120)];
    let levels = ["District".to_owned(), "What".to_owned()];
    let mut writing = Writing::begin(format, Head { name: "Faults", columns: &columns, levels: &levels }, false).unwrap();
    let group = |depth: usize, text: &str, counted: &str, lines: usize| ListedGroup {
        depth,
        text: text.into(),
        counted: counted.into(),
        figures: vec![hours("3.5")],
        lines,
    };
    let cell = |raw: Raw| Filed { raw, leads: None };
    let record = |what: &str, mail: &str| {
        let leads = Some(format!("mailto:{mail}").into()).filter(|_| !mail.is_empty());
        let mail = if mail.is_empty() { Raw::Empty } else { Raw::Text(mail.into()) };
        vec![cell(Raw::Text(what.into())), cell(Raw::Number("1.75".parse().unwrap())), Filed { raw: mail, leads }]
    };
    for (head, records) in [
        (group(0, "Upper dale", "2 faults", 4), vec![]),
        (group(1, "=Gate|off", "1 fault", 1), vec![record("=Gate|off", "one@upper.example")]),
        (group(1, "Wall", "1 fault", 1), vec![record("Wall", "")]),
        (group(0, "No district", "1 fault", 2), vec![]),
        (group(1, "Stile", "1 fault", 1), vec![record("Stile", "")]),
    ] {
        writing.line(Line::Group(&head)).unwrap();
        for cells in &records {
            writing.line(Line::Record { cells, looks: &[], picture: None }).unwrap();
        }
    }
    writing.line(Line::Foot("3 faults", &[hours("5.25")])).unwrap();
    writing.finish().unwrap()
}

fn hours(value: &str) -> ListedFigure {
    let value: Decimal = value.parse().unwrap();
    ListedFigure { column: 1, word: "sum", value: Some(value), text: format!("{value} h"), decimals: 2, percent: false }
}

#[test]
fn groups_stand_in_columns_where_lines_are_only_cells() {
    let text = |format| String::from_utf8(in_groups(format).bytes).unwrap();
    // *What* has a column already.
    let lines = "District,What,Hours,Mail\nUpper dale,'=Gate|off,1.75,one@upper.example\nUpper dale,Wall,1.75,\nNo district,Stile,1.75,\n";
    assert_eq!(text(CSV), format!("\u{feff}{lines}"));
    let tabs = text(Format::Csv(CsvStyle { separator: Separator::Tab, mark: false }));
    assert_eq!(tabs, lines.replace(',', "\t"));
    let json: serde_json::Value = serde_json::from_str(&text(Format::Json)).unwrap();
    assert_eq!(json[0], serde_json::json!({ "District": "Upper dale", "What": "=Gate|off", "Hours": 1.75, "Mail": "one@upper.example" }));
    assert_eq!(json.as_array().unwrap().len(), 3);
    assert_eq!(text(Format::Json).find("District").map(|at| at < text(Format::Json).find("Hours").unwrap()), Some(true));
}

#[test]
fn groups_of_a_workbook_have_lines_of_their_own_and_can_be_closed() {
    let heads = [
        "Upper dale (2 faults)",
        "=Gate|off (1 fault)",
        "=Gate|off",
        "Wall (1 fault)",
        "Wall",
        "No district (1 fault)",
        "Stile (1 fault)",
        "Stile",
        "3 faults",
    ];
    for format in [Format::Xlsx, Format::Ods] {
        let book = read(&in_groups(format).bytes, None).unwrap();
        let firsts: Vec<String> = book.sheet.rows[1..].iter().map(|row| row[0].words()).collect();
        assert_eq!(firsts, heads, "{format:?}");
        // A figure stays a number, in the column that it is of.
        assert_eq!(book.sheet.rows[1][1], Raw::Number("3.5".parse().unwrap()), "{format:?}");
        assert_eq!(book.sheet.rows[9][1], Raw::Number("5.25".parse().unwrap()), "{format:?}");
    }
    let xlsx = in_groups(Format::Xlsx).bytes;
    let sheet = part_of(&xlsx, "xl/worksheets/sheet1.xml");
    // Beneath both heads: the record; beneath the outer one alone: the inner head.
    assert!(sheet.contains("<row r=\"3\"") && sheet.matches("outlineLevel=\"2\"").count() == 3, "{sheet}");
    assert_eq!(sheet.matches("outlineLevel=\"1\"").count(), 3, "{sheet}");
    assert!(part_of(&xlsx, "xl/worksheets/_rels/sheet1.xml.rels").contains("mailto:one@upper.example"));
    assert!(!sheet.contains("<f>"));
    let ods = part_of(&in_groups(Format::Ods).bytes, "content.xml");
    assert_eq!(ods.matches("<table:table-row-group").count(), 5);
    assert!(ods.contains("xlink:href=\"mailto:one@upper.example\"") && !ods.contains("table:formula"));
}

#[test]
fn a_text_with_tables_reads_as_the_view_does() {
    insta::assert_snapshot!("a_text_with_tables", String::from_utf8(in_groups(Format::Markdown).bytes).unwrap());
}

proptest! {
    /// Whatever stands in a cell, a reader of Markdown finds that text in that cell, and no link, no code and no HTML.
    #[test]
    fn no_text_of_a_cell_is_taken_for_more(cells in prop::collection::vec("[ -~\\n–ß]{0,24}", 2..6)) {
        use pulldown_cmark::{Event, Options, Parser, Tag, TagEnd};
        let rows: Vec<Vec<Raw>> = cells.iter().map(|text| vec![Raw::Text("x".into()), Raw::Text(text.as_str().into())]).collect();
        let written = write(Format::Markdown, "Name", &columns(&["One", "Two"]), &rows).unwrap();
        let text = String::from_utf8(written.bytes).unwrap();
        let (mut found, mut now, mut body) = (Vec::new(), String::new(), false);
        for event in Parser::new_ext(&text, Options::ENABLE_TABLES | Options::ENABLE_STRIKETHROUGH) {
            match event {
                Event::End(TagEnd::TableHead) => body = true,
                Event::Start(Tag::TableCell) => now.clear(),
                Event::End(TagEnd::TableCell) if body => found.push(now.clone()),
                Event::Text(text) => now.push_str(&text),
                Event::InlineHtml(html) if &*html == "<br>" => now.push('\n'),
                Event::Code(_) | Event::Html(_) | Event::InlineHtml(_) | Event::Start(Tag::Link { .. } | Tag::Image { .. } | Tag::Emphasis | Tag::Strong | Tag::Strikethrough) => {
                    prop_assert!(false, "{event:?} in {text}");
                }
                _ => {}
            }
        }
        let told: Vec<&str> = found.iter().skip(1).step_by(2).map(|cell| cell.trim()).collect();
        let wanted: Vec<String> = cells.iter().map(|cell| cell.trim_matches([' ', '\n']).to_owned()).collect();
        let plain = |text: &str| text.split('\n').map(str::trim).collect::<Vec<_>>().join("\n").trim().to_owned();
        prop_assert_eq!(told.iter().map(|t| plain(t)).collect::<Vec<_>>(), wanted.iter().map(|t| plain(t)).collect::<Vec<_>>(), "{}", text);
    }
}

fn entry(title: &str, time: EntryTime) -> CalendarEntry {
    CalendarEntry {
        record: RecordId::at_row(6),
        date: FieldId::new(274).unwrap(),
        time,
        title: title.into(),
        about: "Leader: Tamsin\nTools: spade, line; pegs".into(),
        place: Some(Place { label: "Gate, upper".into(), latitude: "54.5".parse().unwrap(), longitude: "-2.25".parse().unwrap() }),
        changed: "2026-11-24T08:00:00Z".parse().unwrap(),
    }
}

#[test]
fn a_calendar_is_written_as_the_standard_wants_it() {
    let day = |month: i8, day: i8| jiff::civil::date(2026, month, day);
    let at = |text: &str| text.parse::<jiff::Timestamp>().unwrap();
    let entries = vec![
        entry("Drain\r\nBEGIN:VALARM at the “ford”, then; more", EntryTime::Days(day(2, 27), day(2, 28))),
        entry(&"A word ".repeat(30), EntryTime::Hours(at("2026-10-25T00:30:00Z"), at("2026-10-25T03:00:00Z"))),
        entry("At an hour", EntryTime::Hours(at("2026-11-24T09:00:00Z"), at("2026-11-24T09:00:00Z"))),
    ];
    let head = CalendarHead { name: "Crews", host: "paths.example", of: "1-6", again: Some(1) };
    let written = calendar(&head, &Entries { entries, left_out: 2 }, |record| format!("https://paths.example/t/1/6/r/{record}"));
    let text = String::from_utf8(written.bytes).unwrap();
    assert!(text.split_inclusive("\r\n").all(|line| line.ends_with("\r\n") && line.len() <= 77), "lines end and are folded");
    insta::assert_snapshot!("a_calendar", text.replace("\r\n", "\n"));
}
