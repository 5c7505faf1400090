//! What a view shows, as files; and a calendar that another one looks at by itself.

use std::path::PathBuf;
use thirtyfour::prelude::*;
use westerfall_e2e::{Driver, Server};

fn folder(name: &str) -> PathBuf {
    let folder = std::env::temp_dir().join(format!("westerfall-{name}-{}", std::process::id()));
    let _ = std::fs::remove_dir_all(&folder);
    folder
}

#[tokio::test(flavor = "multi_thread")]
async fn a_view_goes_out_as_a_file_with_its_groups_also_by_thumb() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let phone = driver.browser(&server, 390, 844).await;
    let folder = folder("exports");
    phone.keeps_in(&folder).await;
    phone.walk_in("Nadia Ferreira-Holt").await;
    phone.go("/t/1/3/101").await;
    phone.click("[data-test=more]").await;
    phone.click("[data-test=export]").await;
    phone.text("p", "as they stand here").await;
    phone.is_open_to_all("where it is said what goes out").await;
    // The likeliest first: a workbook.
    phone.click("[data-test=make-export]").await;
    let book = phone.kept(&folder, ".xlsx").await;
    assert!(book.starts_with(b"PK"));
    phone.until("it has closed", || async { phone.count("[data-test=export-sheet]").await == 0 }).await;
    // For a program that wants semicolons and no mark.
    phone.click("[data-test=more]").await;
    phone.click("[data-test=export]").await;
    phone.choose("[data-test=export-as]", "plain lines (CSV)").await;
    phone.choose("[data-test=export-separator]", "semicolons").await;
    phone.press("label", "With the mark").await;
    phone.click("[data-test=make-export]").await;
    let lines = String::from_utf8(phone.kept(&folder, ".csv").await).expect("it is text");
    let head = lines.lines().next().expect("it has a heading");
    assert!(head.starts_with("District;Number;") || head.contains(";Number;") || head.starts_with("Number;"), "{head}");
    assert!(lines.lines().count() > 10, "{lines}");
    phone.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn another_calendar_looks_at_a_view_until_its_address_is_withdrawn() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    let folder = folder("calendar");
    nadia.keeps_in(&folder).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/6/115").await;
    nadia.click("[data-test=more]").await;
    nadia.click("[data-test=export]").await;
    nadia.text("p", "Each record on its days").await;
    nadia.click("[data-test=make-calendar]").await;
    let address = nadia.see("[data-test=calendar-made]").await.prop("value").await.unwrap().expect("an address");
    nadia.is_open_to_all("a live address as it was made").await;
    // By keys alone: out of the sheet, and in again; the address is told once.
    nadia.keys(Key::Escape).await;
    nadia.until("it has closed", || async { nadia.count("[data-test=export-sheet]").await == 0 }).await;

    // The other program has no session, and sees what she sees, also what changes.
    let other = reqwest::Client::new();
    let told = other.get(&address).send().await.unwrap();
    assert_eq!(told.headers()["content-type"], "text/calendar; charset=utf-8");
    let before = told.text().await.unwrap();
    assert!(before.contains("BEGIN:VEVENT") && before.contains("/t/1/6/r/"), "{before}");
    assert!(!before.contains("20310203"));
    nadia.go("/t/1/6/106").await;
    nadia.click(".row [data-field='Planned day']").await;
    nadia.keys("2031-02-03".to_owned() + Key::Enter).await;
    // She sees it before the server has kept it.
    let looked = async || other.get(&address).send().await.unwrap().text().await.unwrap();
    nadia.until("the other program sees that day", async || looked().await.contains("DTSTART;VALUE=DATE:20310203")).await;

    // Withdrawn with oneself, it leads nowhere.
    nadia.go("/me").await;
    nadia.text("h2", "Your live calendars").await;
    nadia.click("[data-test=own-calendar] button").await;
    nadia.until("it is gone", || async { nadia.count("[data-test=own-calendar]").await == 0 }).await;
    assert_eq!(other.get(&address).send().await.unwrap().status(), 404);
    nadia.close().await;
}
