//! Workbooks as offices keep them, made here so that what is in them can be read: formats, merged cells, errors, hidden sheets.

use rust_xlsxwriter::{Color, ExcelDateTime, Format, Formula, Workbook, Worksheet, XlsxError};
use std::io::Write;
use zip::{ZipWriter, write::SimpleFileOptions};

struct Made {
    name: &'static str,
    why: &'static str,
    bytes: fn() -> Vec<u8>,
}

pub(crate) fn all() -> impl Iterator<Item = (String, Vec<u8>)> {
    BOOKS.iter().map(|made| (made.name.to_owned(), (made.bytes)()))
}

pub(crate) fn why(name: &str) -> Option<&'static str> {
    BOOKS.iter().find(|made| made.name == name).map(|made| made.why)
}

type Written = Result<(), XlsxError>;

fn book(fill: impl FnOnce(&mut Workbook) -> Written) -> Vec<u8> {
    let mut book = Workbook::new();
    fill(&mut book).unwrap();
    book.save_to_buffer().unwrap()
}

fn sheet(fill: impl FnOnce(&mut Worksheet) -> Written) -> Vec<u8> {
    book(|book| fill(book.add_worksheet()))
}

fn names(sheet: &mut Worksheet, row: u32, names: &[&str]) -> Written {
    (0..).zip(names).filter(|(_, name)| !name.is_empty()).try_for_each(|(column, name)| sheet.write(row, column, *name).map(|_| ()))
}

/// A column of numbers in one format, under the row of names.
fn numbers(sheet: &mut Worksheet, column: u16, format: &str, numbers: &[f64]) -> Written {
    let format = Format::new().set_num_format(format);
    (1..).zip(numbers).try_for_each(|(row, number)| sheet.write_number_with_format(row, column, *number, &format).map(|_| ()))
}

fn texts(sheet: &mut Worksheet, column: u16, texts: &[&str]) -> Written {
    (1..).zip(texts).filter(|(_, text)| !text.is_empty()).try_for_each(|(row, text)| sheet.write(row, column, *text).map(|_| ()))
}

const BOOKS: &[Made] = &[
    Made {
        name: "formats.xlsx",
        why: "What a person sees in a sheet is what arrives: times, durations, shares, noughts, fractions, dates, units.",
        bytes: || {
            sheet(|s| {
                names(s, 0, &["Bus", "Departs", "Runs for", "Full", "Stop no", "Part", "Since", "Seen", "Way", "Fare"])?;
                texts(s, 0, &["One", "Two", "Three"])?;
                numbers(s, 1, "hh:mm", &[380.0 / 1_440.0, 0.5, 0.75])?;
                numbers(s, 2, "[h]:mm", &[1.260_416_666_666_666_7, 0.5, 2.0])?;
                numbers(s, 3, "0.0%", &[0.075_000_000_000_000_01, 0.5, 1.0])?;
                numbers(s, 4, "00000", &[42.0, 7.0, 12_345.0])?;
                numbers(s, 5, "# ?/?", &[0.5, 0.25, 0.75])?;
                numbers(s, 6, "dd/mm/yyyy", &[46_344.0, 46_345.0, 46_346.0])?;
                numbers(s, 7, "dd/mm/yyyy hh:mm", &[46_344.263_888_888_89, 46_345.5, 46_346.0])?;
                numbers(s, 8, "#,##0.0 \"km\"", &[12.5, 7.0, 1_234.0])?;
                numbers(s, 9, "\"£\"#,##0.00", &[2.5, 3.333_333, 1_240.0])
            })
        },
    },
    Made {
        name: "noise.xlsx",
        why: "What sheets compute with has digits that nobody typed: 0.075, not 0.07500000000000001.",
        bytes: || {
            sheet(|s| {
                names(s, 0, &["Item", "Share", "Sum"])?;
                texts(s, 0, &["A", "B", "C"])?;
                numbers(s, 1, "General", &[0.075_000_000_000_000_01, 0.1 + 0.2, 1.1])?;
                numbers(s, 2, "0.00", &[33.333_333_333_333_336, 4.35 * 100.0, 12.0])
            })
        },
    },
    Made {
        name: "errors.xlsx",
        why: "Cells that a sheet could not compute are refused with their row, in every kind of column.",
        bytes: || {
            sheet(|s| {
                names(s, 0, &["Item", "Share", "Note"])?;
                texts(s, 0, &["A", "B", "C", "D", "E"])?;
                numbers(s, 1, "0.00", &[0.5, 0.25, 1.0, 2.0])?;
                texts(s, 2, &["fine", "", "well", "good", "dry"])?;
                s.write_formula(5, 1, Formula::new("=1/0").set_result("#DIV/0!"))?;
                s.write_formula(2, 2, Formula::new("=NA()").set_result("#N/A"))?;
                Ok(())
            })
        },
    },
    Made {
        name: "merged-head.xlsx",
        why: "A head over two columns and names over two rows: each column has its whole name.",
        bytes: || {
            sheet(|s| {
                let middle = Format::new();
                s.merge_range(0, 0, 0, 4, "Wells of the upland", &middle)?;
                s.merge_range(2, 0, 3, 0, "Well", &middle)?;
                s.merge_range(2, 1, 2, 2, "Depth", &middle)?;
                s.merge_range(2, 3, 2, 4, "Flow", &middle)?;
                for (column, name) in (1..).zip(["spring", "autumn", "spring", "autumn"]) {
                    s.write(3, column, name)?;
                }
                for (row, well) in (4..).zip(["Upper", "Lower", "Far"]) {
                    s.write(row, 0, well)?;
                    for column in 1..5 {
                        s.write(row, column, f64::from(row) + f64::from(column) / 4.0)?;
                    }
                }
                Ok(())
            })
        },
    },
    Made {
        name: "merged-down.xlsx",
        why: "A district joined over several rows holds for each of them; a heading joined over the table is no record.",
        bytes: || {
            sheet(|s| {
                let plain = Format::new();
                names(s, 0, &["District", "Well", "Depth"])?;
                s.merge_range(1, 0, 1, 2, "Northern side", &plain)?;
                s.merge_range(2, 0, 4, 0, "Eskermoor", &plain)?;
                s.merge_range(5, 0, 6, 0, "Ninestone", &plain)?;
                for (row, well) in (2..).zip(["Upper", "Lower", "Far", "Mill", "High"]) {
                    s.write(row, 1, well)?;
                    s.write(row, 2, row * 2)?;
                }
                Ok(())
            })
        },
    },
    Made {
        name: "cover.xlsx",
        why: "A cover is not offered before the table behind it; a hidden sheet comes last and says so.",
        bytes: || {
            book(|b| {
                b.add_worksheet().set_name("Cover")?.write(2, 1, "Wells of the upland, 2026")?;
                let hidden = b.add_worksheet();
                hidden.set_name("Lists")?;
                names(hidden, 0, &["Kind", "Code"])?;
                texts(hidden, 0, &["dug", "bored", "spring"])?;
                texts(hidden, 1, &["d", "b", "s"])?;
                hidden.set_hidden(true);
                let table = b.add_worksheet();
                table.set_name("Wells")?;
                names(table, 0, &["Well", "Depth"])?;
                texts(table, 0, &["Upper", "Lower", "Far"])?;
                numbers(table, 1, "0.0", &[12.5, 8.0, 3.0])
            })
        },
    },
    Made {
        name: "office.xlsx",
        why: "A sheet as an office keeps it: title, two rows of names, colours, totals, a note beneath and one beside.",
        bytes: || {
            sheet(|s| {
                let red = Format::new().set_background_color(Color::Red);
                let day = Format::new().set_num_format("dd/mm/yyyy");
                let money = Format::new().set_num_format("\"£\"#,##0.00");
                s.merge_range(0, 0, 0, 5, "Repairs 2026", &Format::new().set_bold())?;
                s.write(1, 0, "kept by the yard")?;
                names(s, 3, &["Job", "When", "", "Cost", "Paid"])?;
                names(s, 4, &["", "begun", "done", "", ""])?;
                for (row, (job, begun, done, cost, paid)) in (5..).zip([
                    ("Mill gate", 46_300.0, 46_310.0, 120.5, "yes"),
                    ("High wall", 46_320.0, 46_340.0, 1_240.0, "no"),
                    ("Beck bridge", 46_330.0, 46_344.0, 99.99, "yes"),
                    ("Low stile", 46_335.0, 46_341.0, 45.0, "yes"),
                ]) {
                    if row == 6 {
                        s.write_string_with_format(row, 0, job, &red)?;
                    } else {
                        s.write(row, 0, job)?;
                    }
                    s.write_number_with_format(row, 1, begun, &day)?;
                    s.write_number_with_format(row, 2, done, &day)?;
                    s.write_number_with_format(row, 3, cost, &money)?;
                    s.write(row, 4, paid)?;
                }
                s.write(6, 7, "ask Lund first")?;
                s.write(9, 0, "Total")?;
                s.write_number_with_format(9, 3, 1_505.49, &money)?;
                s.write(11, 0, "red: waits for the weather")?;
                Ok(())
            })
        },
    },
    Made {
        name: "dates-mixed.xlsx",
        why: "True dates, dates as text in two habits and one that is none in a column: each is read, the last is refused by name.",
        bytes: || {
            sheet(|s| {
                names(s, 0, &["Visit", "On"])?;
                let day = Format::new().set_num_format("d mmm yyyy");
                for row in 1..=14 {
                    s.write(row, 0, format!("V{row}"))?;
                    s.write_datetime_with_format(row, 1, ExcelDateTime::from_ymd(2026, 4, u8::try_from(row).unwrap_or(1))?, &day)?;
                }
                for (row, text) in (15..).zip(["18 Apr 2026", "when it rains"]) {
                    s.write(row, 0, format!("V{row}"))?;
                    s.write(row, 1, text)?;
                }
                Ok(())
            })
        },
    },
    Made {
        name: "currencies.xlsx",
        why: "Amounts in pounds and francs in one column are kept as they are written, each with its currency.",
        bytes: || {
            sheet(|s| {
                names(s, 0, &["Item", "Cost"])?;
                texts(s, 0, &["A", "B", "C"])?;
                for (row, (format, amount)) in (1..).zip([("\"£\"0.00", 12.5), ("[$CHF] #,##0.00", 8_496.47), ("\"£\"0.00", 3.0)]) {
                    s.write_number_with_format(row, 1, amount, &Format::new().set_num_format(format))?;
                }
                Ok(())
            })
        },
    },
    Made {
        name: "durations-as-times.xlsx",
        why: "Times under a heading that says how long are durations.",
        bytes: || {
            sheet(|s| {
                names(s, 0, &["Job", "Hours worked", "Start"])?;
                texts(s, 0, &["Dig", "Wall", "Gate"])?;
                numbers(s, 1, "h:mm", &[0.0625, 0.25, 0.03125])?;
                numbers(s, 2, "h:mm", &[0.25, 0.375, 0.5])
            })
        },
    },
    Made {
        name: "office.ods",
        why: "The same in the open format: what cells are and what they show, merged, with notes on cells, errors and a hidden sheet.",
        bytes: office_ods,
    },
];

/// An ODS workbook by its content alone.
fn ods(styles: &str, tables: &str) -> Vec<u8> {
    let content = format!(
        r#"<?xml version="1.0" encoding="UTF-8"?><office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0" xmlns:number="urn:oasis:names:tc:opendocument:xmlns:datastyle:1.0" xmlns:calcext="urn:org:documentfoundation:names:experimental:calc:xmlns:calcext:1.0"><office:automatic-styles>{styles}</office:automatic-styles><office:body><office:spreadsheet>{tables}</office:spreadsheet></office:body></office:document-content>"#
    );
    let mut zip = ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (name, text) in [
        ("mimetype", "application/vnd.oasis.opendocument.spreadsheet"),
        ("META-INF/manifest.xml", "<manifest:manifest xmlns:manifest=\"urn:oasis:names:tc:opendocument:xmlns:manifest:1.0\"/>"),
        ("content.xml", &content),
    ] {
        zip.start_file(name, SimpleFileOptions::default()).unwrap();
        zip.write_all(text.as_bytes()).unwrap();
    }
    zip.finish().unwrap().into_inner()
}

fn office_ods() -> Vec<u8> {
    let text = |t: &str| format!(r#"<table:table-cell office:value-type="string"><text:p>{t}</text:p></table:table-cell>"#);
    let cell = |attributes: &str, shown: &str| format!(r#"<table:table-cell {attributes}><text:p>{shown}</text:p></table:table-cell>"#);
    let row = |cells: &[String]| format!("<table:table-row>{}</table:table-row>", cells.concat());
    let names = ["Bus", "Departs", "Runs for", "Full", "Stop no", "Fare", "Open", "Since", "Way"].map(text);
    let line = |name: &str, departs: (&str, &str), stop: &str, way: &str| {
        row(&[
            text(name),
            cell(&format!(r#"office:value-type="time" office:time-value="{}""#, departs.0), departs.1),
            cell(r#"office:value-type="time" office:time-value="PT30H15M00S""#, "30:15"),
            cell(r#"office:value-type="percentage" office:value="0.075""#, "7.5%"),
            cell(&format!(r#"office:value-type="float" office:value="{}""#, stop.trim_start_matches('0')), stop),
            cell(r#"office:value-type="currency" office:currency="GBP" office:value="2.5""#, "£2.50"),
            cell(r#"office:value-type="boolean" office:boolean-value="true""#, "TRUE"),
            cell(r#"office:value-type="date" office:date-value="2026-11-18T06:20:00""#, "18/11/26 06:20"),
            cell(r#"table:style-name="two" office:value-type="float" office:value="33.333333333333336""#, way),
        ])
    };
    let styles = r#"<number:number-style style:name="n2"><number:number number:decimal-places="2"/></number:number-style><style:style style:name="two" style:family="table-cell" style:data-style-name="n2"/><style:style style:name="out" style:family="table"><style:table-properties table:display="false"/></style:style>"#;
    let first = line("One <text:s text:c=\"1\"/>&amp; Co", ("PT06H20M00S", "06:20"), "00042", "33.33");
    let second = line("Two<office:annotation><text:p>a remark</text:p></office:annotation>", ("PT14H05M00S", "14:05"), "00007", "33.33");
    let failed = row(&[
        text("Three"),
        cell(r#"table:formula="of:=1/0" office:value-type="string" office:string-value="" calcext:value-type="error""#, "#DIV/0!"),
    ]);
    let hidden =
        format!(r#"<table:table table:name="Lists" table:style-name="out">{}</table:table>"#, row(&[text("x"), text("y")]).repeat(4));
    let cover = r#"<table:table table:name="Cover"><table:table-row table:number-rows-repeated="4"><table:table-cell/></table:table-row><table:table-row><table:table-cell office:value-type="string"><text:p>Buses</text:p></table:table-cell></table:table-row></table:table>"#;
    let empty = r#"<table:table-row table:number-rows-repeated="1048000"><table:table-cell table:number-columns-repeated="16384"/></table:table-row>"#;
    ods(styles, &format!(r#"{cover}{hidden}<table:table table:name="Buses">{}{first}{second}{failed}{empty}</table:table>"#, row(&names)))
}
