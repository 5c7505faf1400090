//! An order by hand: rows and lanes carried by mouse, by keys and from the menu, with another browser open.

use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

/// The names of the first rows as they stand in the window.
async fn rows(browser: &Browser, count: usize) -> Vec<String> {
    let script = format!(
        "return [...document.querySelectorAll('.line.row')].sort((a, b) => a.ariaRowIndex - b.ariaRowIndex).slice(0, {count}) \
         .map((row) => row.querySelector('[data-field=\"Name\"]')?.textContent.trim() ?? '')"
    );
    let told = browser.script(&script).await;
    told.as_array().map(|names| names.iter().filter_map(|name| name.as_str().map(str::to_owned)).collect()).unwrap_or_default()
}

async fn come_to_stand(browser: &Browser, names: &[&str]) {
    browser.until(&format!("they stand {names:?}"), || async move { rows(browser, names.len()).await == names }).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn rows_are_put_in_order_by_hand_and_others_see_it() {
    let server = Server::start(20).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    let bex = driver.browser(&server, 1280, 800).await;
    for (one, name) in [(&nadia, "Nadia Ferreira-Holt"), (&bex, "Bex Lindqvist")] {
        one.walk_in(name).await;
        one.go("/t/1/4/108").await;
        one.see(".row .cell").await;
    }
    let stood = rows(&nadia, 4).await;
    let [a, b, c, d] = [0, 1, 2, 3].map(|at| stood[at].as_str());

    // Sorted, nothing is moved, and it is said; begun from the sort, everything stays where it is.
    nadia.press_cell(c, "Name").await;
    nadia.chord(&[Key::Alt, Key::Shift], Key::Up).await;
    nadia.text("p", "so that an order by hand rests").await;
    nadia.click("[data-at='/sorts/0']").await;
    nadia.click("[data-test=by-hand]").await;
    nadia.text("button", "in its own order").await;
    come_to_stand(&nadia, &[a, b, c, d]).await;
    nadia.text("p", "You changed the view All materials").await;

    // By keys: a place up, to the top, and back by one step. Who presses the cell that they are in edits it.
    nadia.press_cell(c, "Unit").await;
    nadia.chord(&[Key::Alt, Key::Shift], Key::Up).await;
    come_to_stand(&nadia, &[a, c, b, d]).await;
    come_to_stand(&bex, &[a, c, b, d]).await;
    nadia.chord(&[Key::Alt, Key::Shift], Key::Home).await;
    come_to_stand(&bex, &[c, a, b, d]).await;
    nadia.chord(&[Key::Control], 'z').await;
    come_to_stand(&bex, &[a, c, b, d]).await;

    // By the mouse: the second above the first.
    let handle = nadia.see("[data-margin='4']").await;
    let target = nadia.cell(a, "Name").await;
    nadia.carry(&handle, &target, -8).await;
    come_to_stand(&nadia, &[d, a, c, b]).await;
    come_to_stand(&bex, &[d, a, c, b]).await;

    // Two whole rows at once, by keys alone.
    nadia.press_cell(a, "Name").await;
    nadia.chord(&[Key::Shift], ' ').await;
    nadia.chord(&[Key::Shift], Key::Down).await;
    nadia.chord(&[Key::Alt, Key::Shift], Key::Down).await;
    come_to_stand(&bex, &[d, b, a, c]).await;
    nadia.is_open_to_all("rows in their own order").await;

    // From the menu, to a place that one says.
    nadia.press_cell(d, "Name").await;
    nadia.chord(&[Key::Shift], Key::F10).await;
    nadia.click("[data-test=menu-nth]").await;
    nadia.fill("[data-test=place] input", "3").await;
    nadia.is_open_to_all("the place that is asked for").await;
    nadia.click("[data-test=say-place]").await;
    come_to_stand(&bex, &[b, a, d, c]).await;

    // Whoever only looks is told that it is not theirs.
    bex.press_cell(b, "Name").await;
    bex.chord(&[Key::Alt, Key::Shift], Key::Down).await;
    bex.text("p", "the team’s views").await;
    come_to_stand(&bex, &[b, a, d, c]).await;

    nadia.press("button", "in its own order").await;
    nadia.is_open_to_all("what an own order is").await;
    nadia.click("[data-test=forget-order]").await;
    nadia.until("it is forgotten", || async { !nadia.words().await.contains("in its own order") }).await;
    bex.close().await;
    nadia.close().await;
}
