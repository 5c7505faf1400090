//! Many records changed at once, as it was said beforehand, and taken back as one step.

use thirtyfour::prelude::*;
use westerfall_e2e::{Driver, Server};

#[tokio::test(flavor = "multi_thread")]
async fn selected_rows_are_changed_at_once_as_it_was_said_and_put_back_as_one() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/101").await;
    nadia.see(".row .cell").await;
    let kinds = "return [...document.querySelectorAll('.row [data-field=Kind]')].slice(0, 3).map((one) => one.textContent.trim())";
    let before = nadia.script(kinds).await;

    // By keys: a row, and two more; then what becomes of them is said before it is done.
    nadia.click(".row [data-field='What is wrong']").await;
    nadia.chord(&[Key::Shift], ' ').await;
    nadia.chord(&[Key::Shift], Key::Down).await;
    nadia.chord(&[Key::Shift], Key::Down).await;
    nadia.chord(&[Key::Alt], Key::Enter).await;
    nadia.text("h2", "3 faults at once").await;
    nadia.choose("[data-test=bulk-field]", "Kind").await;
    nadia.choose("[data-test=begins]", "drainage").await;
    nadia.text("td", "drainage").await;
    nadia.is_open_to_all("a change of many records").await;
    nadia.click("[data-test=do-it]").await;
    nadia
        .until("all three are so", || async { nadia.script(kinds).await == serde_json::json!(["drainage", "drainage", "drainage"]) })
        .await;
    nadia.chord(&[Key::Control], 'z').await;
    nadia.until("they are as they were", || async { nadia.script(kinds).await == before }).await;

    // All that the view shows, with one that can't: it is named, left out, and nothing is done before that.
    nadia.click(".line.row[aria-rowindex='4'] [data-field='What is wrong']").await;
    nadia.chord(&[Key::Shift], ' ').await;
    nadia.click("[data-test=block-change]").await;
    nadia.click("[data-test=bulk-all]").await;
    nadia.choose("[data-test=bulk-field]", "Reported on").await;
    nadia.choose("[data-test=bulk-way]", "moves by days").await;
    nadia.fill("[data-test=bulk-days]", "-7").await;
    nadia.text("p", "60 faults change.").await;
    nadia.fill("[data-test=bulk-days]", "soon").await;
    nadia.until("what can't be done is not offered", || async { nadia.count("[data-test=do-it][disabled]").await == 1 }).await;
    nadia.click("[data-test=leave-it]").await;
    nadia.until("it is left", || async { nadia.count("[data-test=rehearsal]").await == 0 }).await;
    nadia.close().await;
}
