//! Working a table: words looked for in what is in sight, fields kept in place, cells drawn on, what hangs on it, and highlights that
//! are taken along.

use thirtyfour::prelude::*;
use westerfall_e2e::{Driver, Server};

#[tokio::test(flavor = "multi_thread")]
async fn words_are_found_and_walked_fields_stay_and_a_corner_is_drawn_on() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/4/108").await;
    nadia.see(".row .cell").await;

    // By keys alone: words, the next place, and back to the rows.
    nadia.chord(&[Key::Control], 'f').await;
    nadia.fill("[data-test=find-words]", "oak").await;
    nadia.text("span", "2 in 2 materials").await;
    nadia.is_open_to_all("rows that are looked through").await;
    nadia.keys(Key::Enter).await;
    nadia.text("span", "1 of 2 in 2 materials").await;
    nadia.see(".cell.hit[data-active=true]").await;
    nadia.keys(Key::Escape).await;
    nadia.until("it is put away", || async { nadia.count("[data-test=find-bar]").await == 0 && nadia.count(".cell.hit").await == 0 }).await;

    // The boundary behind what stays, by keys; the sentence says it.
    nadia.script("document.querySelector('[data-test=keep-edge]').focus()").await;
    nadia.keys(Key::Right).await;
    nadia.text("button", "the first 2 fields kept in place").await;
    assert_eq!(nadia.count("[role=columnheader].stays").await, 2);
    nadia.keys(Key::Left).await;
    nadia.text("button", "the first field kept in place").await;

    // A cell drawn on by its corner goes into those beneath, as one step.
    nadia.go("/t/1/4/108").await;
    nadia.see(".row .cell").await;
    let supplier = |row: usize| {
        format!("return document.querySelectorAll('.line.row')[{row}].querySelector('[data-field=\"Supplier\"]').textContent.trim()")
    };
    nadia.script("document.querySelectorAll('.line.row')[0].querySelector('[data-field=\"Supplier\"]').click()").await;
    let before = (nadia.script(&supplier(0)).await, nadia.script(&supplier(2)).await);
    let corner = nadia.see("[data-test=fill-corner]").await;
    let third = nadia.see(".line.row[aria-rowindex='4'] [data-field=Supplier]").await;
    nadia.pull(&corner, &third).await;
    nadia.until("it is filled", || async { nadia.script(&supplier(2)).await == before.0 }).await;
    nadia.chord(&[Key::Control], 'z').await;
    nadia.until("it is as it was", || async { nadia.script(&supplier(2)).await == before.1 }).await;

    // A step is still taken back, or done again, when the page is loaded anew.
    nadia.go("/t/1/4/108").await;
    nadia.see(".row .cell").await;
    nadia.chord(&[Key::Control, Key::Shift], 'z').await;
    nadia.until("it is done again", || async { nadia.script(&supplier(2)).await == before.0 }).await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_hangs_on_a_table_is_put_in_order_and_begun_from_there() {
    let server = Server::start(40).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/about").await;
    nadia.text("a", "Tell the warden of blocked paths").await;
    nadia.text("a", "Report a path fault").await;
    nadia.is_open_to_all("what hangs on a table").await;
    // By keys: the second view before the first.
    let first = "return document.querySelector('[data-view] a').textContent";
    let stood = nadia.script(first).await;
    nadia.script("document.querySelectorAll('button.number')[1].focus()").await;
    nadia.chord(&[Key::Alt], Key::Up).await;
    nadia.until("another stands first", || async { nadia.script(first).await != stood }).await;

    // From a field and one of its options: a view that shows just those.
    nadia.choose("[data-test=begin-field]", "Severity").await;
    nadia.choose("[data-test=begin-option]", "dangerous").await;
    nadia.press("button", "rows where severity is dangerous").await;
    nadia.text("button", "severity is dangerous").await;
    nadia.text("h1", "Faults, dangerous").await;
    nadia.close().await;

    // On a phone too, from the groundplan's list.
    let phone = driver.browser(&server, 390, 844).await;
    phone.walk_in("Nadia Ferreira-Holt").await;
    phone.go("/t/1").await;
    phone.press("a", "what hangs on it, and what to begin").await;
    phone.see("[data-test=hangs]").await;
    phone.is_open_to_all("what hangs on a table, on a phone").await;
    phone.click("[data-begin=lanes]").await;
    phone.see("[data-test=lanes]").await;
    phone.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_highlight_is_taken_to_another_table_and_one_that_lost_is_put_above() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/highlights").await;
    nadia.see("[data-test=highlight]").await;
    nadia.script("document.querySelectorAll('[data-test=copy-highlight-to]')[2].click()").await;
    nadia.choose("[data-test=copy-table]", "Work parties").await;
    nadia.text("p", "the options there are planned, held and called off").await;
    nadia.is_open_to_all("a highlight that is taken along").await;
    nadia.click("[data-test=take-highlight]").await;
    // It is written there, and nothing is kept before one says so.
    nadia.see("[data-test=highlight-sheet]").await;
    nadia.text("h1", "How work parties look").await;
    nadia.text("button", "Never (what it asked for is gone)").await;
    nadia.close().await;
}
