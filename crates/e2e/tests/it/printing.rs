//! Records on paper: a document composed beside its sheet, and printed for one, for twenty chosen, for what a view shows.

use std::{io::Write, path::PathBuf, process::Command};
use thirtyfour::prelude::*;
use westerfall_e2e::{Driver, Server};

/// A folder of its own for what is kept.
fn folder(name: &str) -> PathBuf {
    let folder = std::env::temp_dir().join(format!("westerfall-{name}-{}", std::process::id()));
    let _ = std::fs::remove_dir_all(&folder);
    folder
}

/// What stands in a PDF, as another program reads it.
fn text(pdf: &[u8]) -> String {
    let file = std::env::temp_dir().join(format!("westerfall-{}-{}.pdf", std::process::id(), pdf.len()));
    std::fs::File::create(&file).and_then(|mut file| file.write_all(pdf)).expect("it is written");
    let read = Command::new("pdftotext").arg("-layout").arg(&file).arg("-").output().expect("poppler is there: run these with bin/test");
    let _ = std::fs::remove_file(&file);
    String::from_utf8_lossy(&read.stdout).into_owned()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_work_order_becomes_a_sheet_for_one_and_for_twenty_chosen_and_a_month_of_slips() {
    let server = Server::start(120).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    let folder = folder("sheets");
    nadia.keeps_in(&folder).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    // From the contents, to the sheet as it is composed.
    nadia.go("/t/1").await;
    nadia.click("[data-test=contents]").await;
    nadia.click("[data-test=contents-documents] a[href='/t/1/documents/452']").await;
    nadia.see("[data-test=page] img").await;
    nadia.is_open_to_all("a document as it is composed").await;
    // A month that is typed by hand is pointed out, with the field that says it.
    nadia.click("[data-test=block-4]").await;
    nadia.click("[data-at='/blocks/3/shows/text']").await;
    nadia.fill("[data-test=words] textarea", "Work of October 2026, billed to {District}.").await;
    nadia.keys(Key::Escape).await;
    nadia.text("b", "The month was typed by hand.").await;
    nadia.is_open_to_all("what was typed by hand").await;
    nadia.click("[data-test=typed-mend]").await;
    nadia.until("nothing is pointed out", || async { nadia.count("[data-test=typed-by-hand]").await == 0 }).await;
    nadia.click("[data-test=keep-document]").await;
    nadia.until("it is kept", || async { nadia.count("[data-test=document-keep]").await == 0 }).await;
    // With the record that has the most lines; and that one as a file.
    nadia.click("[data-test=step-longest]").await;
    nadia.until("another stands there", || async { nadia.read("[data-test=shown-with]").await != "WO-2026-001" }).await;
    let shown = nadia.read("[data-test=shown-with]").await;
    nadia.click("[data-test=print-one]").await;
    let told = text(&nadia.kept(&folder, ".pdf").await);
    for words in [format!("Work order {shown}").as_str(), "Work of ", "billed to ", "Line cost", "Materials", "Total", "approved", "1 of 1"]
    {
        assert!(told.contains(words), "{words} in\n{told}");
    }
    assert!(!told.contains("{month"));

    // Twenty, chosen among the rows by keys alone.
    nadia.go("/t/1/6/106").await;
    nadia.click(".row [data-field=Number]").await;
    nadia.chord(&[Key::Shift], ' ').await;
    for _ in 1..20 {
        nadia.chord(&[Key::Shift], Key::Down).await;
    }
    nadia.click("[data-test=block-pick]").await;
    nadia.text("b", "20 work orders chosen").await;
    nadia.click("[data-test=picked-print]").await;
    nadia.text("p", "Print 20 work orders as").await;
    nadia.is_open_to_all("what records are printed as").await;
    nadia.click("[data-test=print-pdf]").await;
    let told = text(&nadia.kept(&folder, ".pdf").await);
    assert_eq!(told.matches("1 of 1").count(), 20, "{told}");
    assert_eq!(told.matches("Orrindale Paths Trust\n").count(), 20);
    nadia.until("it has closed", || async { nadia.count("[data-test=print-sheet]").await == 0 }).await;

    // Slips of all that a view shows, each by itself in one file.
    nadia.go("/t/1/3/101").await;
    nadia.see(".row .cell").await;
    nadia.click("[data-test=more]").await;
    nadia.click("[data-test=print-as-document]").await;
    nadia.text("p", "Fault slip").await;
    nadia.click("[data-test=print-each]").await;
    let zip = nadia.kept(&folder, ".zip").await;
    assert!(zip.starts_with(b"PK") && String::from_utf8_lossy(&zip).matches("FR-2026-").count() >= 240, "a name for each, twice in a zip");

    // A warden prints what is theirs, from a record on its own page; how it is composed is not theirs.
    let tamsin = driver.browser(&server, 1280, 900).await;
    let hers = self::folder("hers");
    tamsin.keeps_in(&hers).await;
    tamsin.walk_in("Tamsin Oake").await;
    tamsin.go("/t/1/3/100").await;
    tamsin.click(".row [data-field='What is wrong']").await;
    tamsin.chord(&[Key::Control], Key::Enter).await;
    tamsin.see("[data-test=folio]").await;
    tamsin.click("[data-test=folio-print]").await;
    tamsin.click("[data-test=print-pdf]").await;
    let told = text(&tamsin.kept(&hers, ".pdf").await);
    assert!(told.contains("only what is open to Tamsin Oake"), "{told}");
    // And as it is laid out, for which nobody composed anything.
    let laid = self::folder("laid");
    tamsin.keeps_in(&laid).await;
    tamsin.click("[data-test=folio-print]").await;
    tamsin.choose("[data-test=print-as]", "it is laid out").await;
    tamsin.click("[data-test=print-pdf]").await;
    let told = text(&tamsin.kept(&laid, ".pdf").await);
    assert!(told.contains("What and where") && told.contains("only what is open to Tamsin Oake"), "{told}");
    tamsin.go("/t/1/documents/452").await;
    tamsin.text("p", "There is no such document here").await;
    for browser in [nadia, tamsin] {
        browser.close().await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_document_is_made_block_by_block_also_on_a_phone() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let phone = driver.browser(&server, 390, 844).await;
    phone.walk_in("Nadia Ferreira-Holt").await;
    phone.go("/t/1/documents").await;
    phone.is_open_to_all("the documents of a tracker").await;
    phone.choose("[data-test=document-table]", "Materials").await;
    phone.fill("[data-test=new-document-title]", "Shelf card").await;
    phone.click("[data-test=make-document]").await;
    phone.see("[data-test=page] img").await;
    phone.is_open_to_all("a document on a phone").await;
    // A signature, and a place above the facts; then not after all.
    phone.click("[data-test=add-signature]").await;
    phone.text("b", "Signature").await;
    phone.click("[data-at$='/shows/words']").await;
    phone.fill("[data-test=block-words] input", "storekeeper").await;
    phone.keys(Key::Escape).await;
    phone.text("button", "“storekeeper”").await;
    phone.click("[data-test=block-up]").await;
    phone.see("[data-block='3'].open").await;
    phone.click("[data-test=block-beside]").await;
    phone.text("button", "On a line of its own").await;
    phone.click("[data-test=keep-document]").await;
    phone.until("it is kept", || async { phone.count("[data-test=document-keep]").await == 0 }).await;
    phone.click("[data-test=block-drop]").await;
    phone.until("it is gone", || async { phone.count(".block").await == 3 }).await;
    // What can't be is said where it stands, and not kept.
    phone.click("[data-test=block-1]").await;
    phone.click("[data-at='/blocks/0/shows/text']").await;
    phone.fill("[data-test=words] input", "Card of {Moon}").await;
    phone.text("div", "There is no field “Moon” in Materials.").await;
    phone.keys(Key::Escape).await;
    phone.until("it can't be kept", || async { phone.count("[data-test=keep-document][disabled]").await == 1 }).await;
    phone.close().await;
}
