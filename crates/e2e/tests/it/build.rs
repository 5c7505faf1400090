//! From a spreadsheet to a linked tracker, in the interface: imported, taken apart, linked, numbered, computed, published,
//! begun again, taken back.

use rust_xlsxwriter::{Workbook, Worksheet, XlsxError};
use std::path::PathBuf;
use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

fn sheet(name: &str, rows: &[Vec<String>]) -> Result<Worksheet, XlsxError> {
    let mut sheet = Worksheet::new();
    sheet.set_name(name)?;
    for (at, row) in (0..).zip(rows) {
        for (column, text) in (0..).zip(row) {
            match text.parse::<f64>() {
                Ok(number) => sheet.write_number(at, column, number)?,
                Err(_) => sheet.write_string(at, column, text)?,
            };
        }
    }
    Ok(sheet)
}

/// Wells with the village each stands in, and the jobs done on them.
fn workbook() -> PathBuf {
    let row = |cells: &[&str]| cells.iter().map(|c| (*c).to_owned()).collect::<Vec<_>>();
    let mut wells = vec![row(&["Well", "Village", "Depth"])];
    wells.extend((1..=12).map(|n| row(&[&format!("Well {n}"), ["Oddmere", "Thrale", "Low Pend"][n % 3], &format!("{n}.5")])));
    let mut jobs = vec![row(&["Job", "Well", "Sort", "Hours", "Rate"])];
    jobs.extend((1..=18).map(|n| {
        let well = format!("Well {}", 1 + n % 12);
        row(&[&format!("Job {n}"), &well, ["digging", "mending"][n % 2], &format!("{}", n % 4 + 1), "20"])
    }));
    let mut book = Workbook::new();
    book.push_worksheet(sheet("Wells", &wells).unwrap());
    book.push_worksheet(sheet("Jobs", &jobs).unwrap());
    let path = std::env::temp_dir().join(format!("wells-{}.xlsx", std::process::id()));
    book.save(&path).unwrap();
    path
}

/// A list as an office keeps it: a title, names over two rows, a colour that means something, a total and a note beneath; behind a cover.
fn yard_book() -> PathBuf {
    let mut book = Workbook::new();
    let fill = |book: &mut Workbook| -> Result<(), XlsxError> {
        book.add_worksheet().set_name("Cover")?.write(3, 1, "Yard book")?;
        book.add_worksheet().set_name("Lists")?.set_hidden(true);
        let sheet = book.add_worksheet().set_name("Repairs")?;
        let plain = rust_xlsxwriter::Format::new();
        let red = rust_xlsxwriter::Format::new().set_background_color(rust_xlsxwriter::Color::Red);
        let date = rust_xlsxwriter::Format::new().set_num_format("dd/mm/yyyy");
        sheet.merge_range(0, 0, 0, 3, "Repairs of 2026", &plain)?;
        sheet.merge_range(2, 0, 3, 0, "Job", &plain)?;
        sheet.merge_range(2, 1, 2, 2, "When", &plain)?;
        sheet.merge_range(2, 3, 3, 3, "Cost", &plain)?;
        sheet.write(3, 1, "begun")?.write(3, 2, "done")?;
        for (row, job) in (4_u32..).zip(["Mill gate", "High wall", "Beck bridge"]) {
            if row == 5 {
                sheet.write_with_format(row, 0, job, &red)?
            } else {
                sheet.write(row, 0, job)?
            };
            sheet.write_number_with_format(row, 1, 46_300.0 + f64::from(row), &date)?;
            sheet.write_number_with_format(row, 2, 46_310.0 + f64::from(row), &date)?;
            sheet.write(row, 3, f64::from(row) * 10.5)?;
        }
        sheet.write(7, 0, "Total")?.write(7, 3, 157.5)?;
        sheet.write(9, 0, "red: waits for the weather")?;
        Ok(())
    };
    fill(&mut book).unwrap();
    let path = std::env::temp_dir().join(format!("yard-{}.xlsx", std::process::id()));
    book.save(&path).unwrap();
    path
}

/// On a phone's width, and by keys alone where something is to be pressed.
#[tokio::test(flavor = "multi_thread")]
async fn a_list_as_an_office_keeps_it_comes_in_as_a_person_reads_it() {
    let server = Server::start(20).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 390, 844).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/import").await;
    nadia.give_file("[data-test=file]", &yard_book()).await;
    nadia.text("h2", "3 records are added").await;
    assert_eq!(nadia.offers("[data-test=sheet]").await, ["Repairs", "Cover", "Lists (hidden in the file)"]);
    let notes = nadia.read("[data-test=notes]").await;
    for said in ["The names stand in rows 3 and 4", "red in row 6", "Row 8, Total · 157.5", "Row 10, red: waits for the weather"] {
        assert!(notes.contains(said), "{said} is not said: {notes}");
    }
    nadia.is_open_to_all("what is said of a file").await;
    nadia.see("[data-column='When, done']").await;
    // The total is taken in: it has no days, and says so by being a record more.
    nadia.see("[data-row='8']").await.send_keys("" + Key::Enter).await.unwrap();
    nadia.text("h2", "4 records are added").await;
    nadia.see("[data-row='8']").await.send_keys("" + Key::Enter).await.unwrap();
    nadia.text("h2", "3 records are added").await;
    // With one row of names the second is a record.
    nadia.choose("[data-test=heading-rows]", "the names in").await;
    nadia.text("h2", "4 records are added").await;
    nadia.choose("[data-test=heading-rows]", "the names in two rows from").await;
    nadia.text("h2", "3 records are added").await;
    nadia.click("[data-test=do-it]").await;
    nadia.text("h1", "All repairs").await;
    nadia.text("*", "Beck bridge").await;
}

async fn new_field(browser: &Browser, kind: &str, name: &str) {
    browser.click("[data-test=new-field]").await;
    browser.click(&format!("[data-test=field-panel] [data-kind={kind}]")).await;
    browser.fill("[data-test=field-name]", name).await;
}

async fn kept(browser: &Browser) {
    browser.click("[data-test=keep-field]").await;
    browser
        .until("the panel closes", || async {
            browser.count("[data-test=keep-field]").await == 0 || browser.count("[data-test=field-trouble]").await > 0
        })
        .await;
    assert_eq!(browser.count("[data-test=field-trouble]").await, 0, "{}", browser.words().await);
}

/// The address of a table's fields, from the groundplan.
async fn to_fields(browser: &Browser, table: &str) {
    browser.click(&format!("[data-menu={table}]")).await;
    browser.click(&format!("[data-design={table}]")).await;
    browser.text("h1", &format!("How {} are kept", table.to_lowercase())).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_workbook_becomes_a_linked_tracker_and_a_template() {
    let server = Server::start(20).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    let file = workbook();
    nadia.walk_in("Nadia Ferreira-Holt").await;

    // From the file: its first sheet, with the column that repeats as a table of its own.
    nadia.click("[data-test=start]").await;
    nadia.click("[data-have=file]").await;
    nadia.is_open_to_all("starting").await;
    nadia.give_file("[data-test=file]", &file).await;
    nadia.text("p", "can be read: Wells, Jobs").await;
    nadia.fill("[data-test=tracker-name]", "Wells of the upland").await;
    nadia.click("[data-test=begin]").await;
    nadia.text("h2", "12 records are added").await;
    nadia.is_open_to_all("importing").await;
    nadia.click("[data-column=Village] [data-test=own]").await;
    nadia.text("p", "3 records in “Villages” are made").await;
    nadia.click("[data-test=do-it]").await;
    nadia.text("h1", "All wells").await;
    nadia.cell("Well 1", "Village").await;
    let tracker = nadia.web.current_url().await.unwrap().path().split('/').nth(2).unwrap().to_owned();

    // The other sheet, whose column of names stays text at first.
    nadia.go(&format!("/t/{tracker}/import")).await;
    nadia.give_file("[data-test=file]", &file).await;
    nadia.choose("[data-test=sheet]", "Jobs").await;
    nadia.text("h2", "18 records are added").await;
    nadia.choose("[data-column=Well] [data-test=becomes]", "text").await;
    nadia.choose("[data-column=Rate] [data-test=becomes]", "money").await;
    nadia.text("td", "£20.00").await;
    nadia.click("[data-test=do-it]").await;
    nadia.text("h1", "All jobs").await;

    // Text becomes a link: the best table is proposed, and the rehearsal counts.
    nadia.click("[data-test=to-fields]").await;
    nadia.click("[data-field=Well] button.name").await;
    nadia.click("[data-test=change-kind]").await;
    nadia.choose("[data-test=new-kind]", "link").await;
    nadia.text("label", "Wells, by Well: 12 of 12 match").await;
    nadia.text("p", "18 of 18 values fit").await;
    nadia.click("[data-test=do-it]").await;
    nadia.until("the panel closes", || async { nadia.count("[data-test=field-panel]").await == 0 }).await;

    // Numbering, and a choice whose options depend on another.
    new_field(&nadia, "numbering", "Number").await;
    nadia.text("b", "N-0001").await;
    kept(&nadia).await;
    new_field(&nadia, "choice", "Task").await;
    nadia.fill("[data-test=more-options]", "new shaft, deeper, new rope").await;
    nadia.keys(Key::Enter).await;
    nadia.choose("[data-test=depends-on]", "Sort").await;
    nadia.choose("[aria-label='new rope stands under']", "under mending").await;
    kept(&nadia).await;

    // A calculation of the job, a summary of the well.
    new_field(&nadia, "text", "").await;
    nadia.click("[data-test=field-panel] [data-kind=calculation]").await;
    nadia.fill("[data-test=name]", "Cost").await;
    nadia.click("[data-test=formula]").await;
    nadia.keys("Hours * Rate").await;
    nadia.keys(Key::Escape).await;
    nadia.until("it can be kept", || async { nadia.count("[data-test=keep]:not([disabled])").await == 1 }).await;
    nadia.click("[data-test=keep]").await;
    nadia.text("h1", "All jobs").await;
    nadia.go(&format!("/t/{tracker}")).await;
    to_fields(&nadia, "Wells").await;
    new_field(&nadia, "text", "").await;
    nadia.click("[data-test=field-panel] [data-kind=summary]").await;
    nadia.fill("[data-test=name]", "Spent").await;
    nadia.choose("[aria-label=Along]", "Jobs").await;
    nadia.choose("[aria-label=Figure]", "the sum").await;
    nadia.choose("[aria-label=Field]", "Cost").await;
    // What it would show is told before it is kept, and moves nothing.
    nadia.text("dd", "120").await;
    nadia.click("[data-test=keep]").await;
    nadia.text("h1", "All wells").await;

    // Its jobs are lines in the well's folio, with a total; one is added there.
    nadia.go(&format!("/t/{tracker}")).await;
    to_fields(&nadia, "Wells").await;
    nadia.click("[data-field=Jobs] button.name").await;
    nadia.click("[data-test=as-lines]").await;
    kept(&nadia).await;
    nadia.is_open_to_all("the fields of a table").await;
    nadia.click(".over a").await;
    nadia.press_cell("Well 2", "Well").await;
    nadia.chord(&[Key::Control], Key::Enter).await;
    nadia.see("[data-lines=Jobs] [data-cell=Cost]").await;
    let spent = async || nadia.read("[data-fact=Spent]").await;
    let before = spent().await;
    let typing = "[data-lines=Jobs] [data-test=cell-editor] input:focus";
    nadia.click("[data-test=add-line]").await;
    nadia.see(typing).await;
    nadia.keys("Fetch the bucket").await;
    nadia.keys(Key::Enter).await;
    nadia.text("td", "Fetch the bucket").await;
    for (field, text) in [("Hours", "2"), ("Rate", "30")] {
        nadia.click(&format!("[data-lines=Jobs] tbody tr:last-child [data-cell={field}]")).await;
        nadia.see(typing).await;
        nadia.keys(text).await;
        nadia.keys(Key::Enter).await;
    }
    nadia.until("the sum of the well follows", || async { spent().await != before }).await;
    // A dependent choice offers what stands under its ground.
    nadia.is_open_to_all("a folio with lines").await;

    // On the groundplan; published; begun again.
    nadia.go(&format!("/t/{tracker}")).await;
    for table in ["Villages", "Wells", "Jobs"] {
        nadia.see(&format!("[data-plate={table}]")).await;
    }
    nadia.is_open_to_all("the groundplan").await;
    nadia.click("[data-test=more]").await;
    nadia.click("[data-test=publish]").await;
    nadia.fill("[data-test=template-title]", "Wells and their jobs").await;
    nadia.click("[data-test=publish-yes]").await;
    nadia.text("p", "is published").await;
    nadia.go("/start").await;
    nadia.click("[data-have=template]").await;
    nadia.click("[data-template='Wells and their jobs']").await;
    nadia.text("h3", "Villages").await;
    nadia.fill("[data-test=tracker-name]", "Wells of the plain").await;
    nadia.click("[data-test=begin]").await;
    nadia.text("h1", "Wells of the plain").await;
    nadia.see("[data-plate=Jobs]").await;
    nadia.text("p", "3 tables with 0 records").await;

    // An import there, taken back as one step.
    let other = nadia.web.current_url().await.unwrap().path().split('/').nth(2).unwrap().to_owned();
    assert_ne!(other, tracker);
    nadia.go(&format!("/t/{other}/import")).await;
    nadia.give_file("[data-test=file]", &file).await;
    nadia.choose("[data-test=into]", "Wells").await;
    nadia.choose("[data-column=Village] [data-test=unmatched]", "is made").await;
    nadia.text("p", "3 records in “Villages” are made").await;
    nadia.click("[data-test=do-it]").await;
    nadia.cell("Well 12", "Village").await;
    nadia.press("button", "Undo").await;
    nadia.until("nothing is left of it", || async { nadia.words().await.contains("All 0 wells") }).await;
    let _ = std::fs::remove_file(file);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_tracker_begun_from_nothing_is_told_in_lines_and_asks_what_it_can_not_tell() {
    let server = Server::start(20).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/start").await;
    nadia.click("[data-have=nothing]").await;
    nadia.fill("[data-test=tracker-name]", "Waymarks").await;
    nadia.click("[data-test=begin]").await;
    nadia.fill("[data-test=one-of-them]", "waymark post").await;
    let lines = "WP-0114, Esker Ridge to Hob Gate, oak, 14 May 2019\nWP-0115, Esker Ridge to Hob Gate, larch, 3.6.2019";
    nadia.fill("[data-test=told-lines]", lines).await;
    nadia.see("[data-question=a]").await;
    nadia.text("p", "2 waymark posts with 4 fields").await;
    nadia.is_open_to_all("lines that are told").await;
    nadia.fill("input[aria-label='Name of Text']", "Path").await;
    nadia.press("button", "they become a table of their own").await;
    nadia.text("p", "a link to the new table Paths").await;
    nadia.press("button", "6 March 2019").await;
    nadia.click("[data-test=do-it]").await;
    // It is made as it was said, and one step takes all of it back.
    assert_eq!(nadia.read_cell("WP-0115", "Date").await, "6 Mar 2019");
    nadia.text("h1", "All waymark posts").await;
    assert_eq!(nadia.read_cell("WP-0114", "Path").await, "Esker Ridge to Hob Gate");
    nadia.close().await;
}
