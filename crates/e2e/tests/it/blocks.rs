//! Blocks of cells, as somebody works who comes from spreadsheets: by mouse and by keys, with another browser open.

use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

async fn said(browser: &Browser, row: u32, field: &str) -> String {
    let script = format!(
        "return [...document.querySelectorAll('.line.row')].sort((a, b) => a.ariaRowIndex - b.ariaRowIndex)[{row}]?.querySelector('[data-field=\"{field}\"]')?.textContent.trim() ?? ''"
    );
    browser.script(&script).await.as_str().unwrap_or_default().to_owned()
}

async fn comes_to_say(browser: &Browser, row: u32, field: &str, words: &str) {
    browser.until(&format!("{field} says {words}"), || async move { said(browser, row, field).await == words }).await;
}

/// Chooses a cell of a row, as it stands in the window.
async fn at(browser: &Browser, row: u32, field: &str) {
    let name = said(browser, row, "Name").await;
    browser.press_cell(&name, field).await;
}

/// What is pasted from elsewhere: only the browser itself puts that on a clipboard.
async fn paste(browser: &Browser, text: &str) {
    let text = serde_json::to_string(text).unwrap();
    browser
        .script(&format!(
            "const data = new DataTransfer(); data.setData('text/plain', {text}); \
             document.querySelector('[data-test=grid]').dispatchEvent(new ClipboardEvent('paste', {{ clipboardData: data, bubbles: true, cancelable: true }}))"
        ))
        .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_block_is_selected_copied_pasted_filled_and_taken_back_and_others_see_it() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    let bex = driver.browser(&server, 1280, 800).await;
    for (one, name) in [(&nadia, "Nadia Ferreira-Holt"), (&bex, "Bex Lindqvist")] {
        one.walk_in(name).await;
        // Materials: by name, with nothing that moves them but that.
        one.go("/t/1/4/108").await;
        one.see(".row .cell").await;
    }
    let (first, second) = (said(&nadia, 0, "Supplier").await, said(&nadia, 1, "Supplier").await);

    // By keys: selected, said what it comes to, filled down.
    at(&nadia, 0, "Supplier").await;
    nadia.chord(&[Key::Shift], Key::Down).await;
    nadia.chord(&[Key::Shift], Key::Down).await;
    nadia.text("b", "3 cells").await;
    nadia.text("span", "3 cells hold something").await;
    nadia.is_open_to_all("cells that are selected").await;
    nadia.chord(&[Key::Control], 'd').await;
    comes_to_say(&nadia, 2, "Supplier", &first).await;
    comes_to_say(&bex, 1, "Supplier", &first).await;
    nadia.chord(&[Key::Control], 'z').await;
    comes_to_say(&bex, 1, "Supplier", &second).await;

    // Copied here and pasted there, values go over as they are. Who presses the cell that they are in edits it.
    at(&nadia, 1, "Supplier").await;
    at(&nadia, 0, "Supplier").await;
    nadia.chord(&[Key::Control], 'c').await;
    at(&nadia, 3, "Supplier").await;
    nadia.chord(&[Key::Shift], Key::Down).await;
    nadia.chord(&[Key::Control], 'v').await;
    comes_to_say(&nadia, 3, "Supplier", &first).await;
    comes_to_say(&bex, 4, "Supplier", &first).await;

    // From elsewhere: what does not fit is told first, and records are added beneath only on a word.
    at(&nadia, 0, "Unit").await;
    paste(&nadia, "m\tdear\nm\t2.50").await;
    nadia.text("td", "dear").await;
    nadia.text("p", "does not fit").await;
    nadia.is_open_to_all("a block that does not fit").await;
    nadia.click("[data-test=leave-it]").await;
    nadia.until("it is gone", || async { nadia.count("[data-test=rehearsal]").await == 0 }).await;
    assert_ne!(said(&bex, 1, "Unit price").await, "£2.50");
    paste(&nadia, "m\tdear\nm\t2.50").await;
    nadia.click("[data-test=do-it]").await;
    comes_to_say(&bex, 1, "Unit price", "£2.50").await;

    // Emptied with Delete, by pulling the mouse over them first.
    let (from, to) = (said(&nadia, 0, "Name").await, said(&nadia, 2, "Name").await);
    nadia.pull(&nadia.cell(&from, "Supplier").await, &nadia.cell(&to, "Supplier").await).await;
    nadia.see("[data-test=block-tray]").await;
    nadia.keys(Key::Delete).await;
    nadia.text("p", "You changed Supplier of").await;
    nadia.press("button", "Undo").await;
    nadia.close().await;
    bex.close().await;
}
