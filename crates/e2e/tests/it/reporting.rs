//! Figures that are read: a cross-tab, drilled into.

use thirtyfour::prelude::*;
use westerfall_e2e::{Driver, Server};

#[tokio::test(flavor = "multi_thread")]
async fn a_cross_tab_by_district_and_month_is_drilled_into() {
    let server = Server::start(120).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    // From a view of rows, by its sentence: the shape is offered with what it begins as.
    nadia.go("/t/1/3/103").await;
    nadia.press("button", "rows").await;
    nadia.click("[data-shape='cross-tab']").await;
    nadia.see("table[role=grid]").await;
    nadia.keys(Key::Escape).await;
    // The demo’s own, by district and month.
    nadia.go("/t/1/3/117").await;
    nadia.see("[data-spot='0 0']").await;
    nadia.text("p", "All together:").await;
    nadia.is_open_to_all("a cross-tab").await;
    let total = nadia.read("[data-spot='0 0'] b").await;
    // By keys alone: to a cell of the first district, and what stands behind it. The month before this one: on its first days nothing
    // has come in this one yet.
    nadia.click("[data-spot='1 0']").await;
    nadia.keys(Key::Escape).await;
    nadia.keys(Key::End).await;
    nadia.keys(Key::Left).await;
    nadia.keys(Key::Enter).await;
    nadia.see("[data-test=behind]").await;
    nadia.is_open_to_all("what stands behind a cell").await;
    let said = nadia.read("[data-test=behind] h2").await;
    let count: usize = said.split(' ').next().unwrap().parse().unwrap();
    let lines = "[data-test=behind] li";
    nadia.until("its records are listed", || async { nadia.count(lines).await == count }).await;
    let behind = nadia.read("[data-test=behind]").await;
    assert!(count > 0 && behind.contains("Eskermoor, "), "{behind}");
    // As rows, narrowed to them; and back by dropping what one changed.
    nadia.click("[data-test=as-rows]").await;
    nadia.text("button", "reported on is on or after").await;
    nadia.until("as many rows", || async { nadia.words().await.contains(&format!("{count} of ")) }).await;
    nadia.go("/t/1/3/117").await;
    nadia.press("button", "Drop changes").await;
    nadia.see("[data-spot='0 0']").await;

    // Another browser makes one of them good: the figures follow.
    let bex = driver.browser(&server, 1280, 900).await;
    bex.walk_in("Bex Lindqvist").await;
    bex.go("/t/1/3/100").await;
    bex.see("[role=gridcell]").await;
    let moved = bex
        .script(
            "const q = new XMLHttpRequest(); q.open('POST', '/api/trackers/1/tables/3/query', false); q.setRequestHeader('content-type', 'application/json'); \
             q.send(JSON.stringify({ query: { fields: [{ field: 47, width: 9 }], condition: { test: { path: [47], check: { is: 'option', not: false, any: [80] } } } }, slices: [{ start: 0, count: 1 }] })); \
             const row = JSON.parse(q.responseText).slices[0].rows[0]; \
             const r = new XMLHttpRequest(); r.open('PATCH', '/api/trackers/1/tables/3/records/' + row.id, false); r.setRequestHeader('content-type', 'application/json'); \
             r.setRequestHeader('idempotency-key', 'cross-tab-' + Date.now()); \
             r.send(JSON.stringify({ edits: [{ field: 47, input: { value: { choice: 84 } } }] })); return r.status + ' ' + r.responseText.slice(0, 200)",
        )
        .await;
    assert!(moved.as_str().is_some_and(|said| said.starts_with("200")), "{moved}");
    let one_less = (total.parse::<usize>().unwrap() - 1).to_string();
    nadia.until("one less is open", || async { nadia.read("[data-spot='0 0'] b").await == one_less }).await;
    // On a phone what stands behind a cell takes the page.
    let phone = driver.browser(&server, 390, 844).await;
    phone.walk_in("Nadia Ferreira-Holt").await;
    phone.go("/t/1/3/117").await;
    phone.click("[data-spot='1 0']").await;
    phone.see("[data-test=behind]").await;
    phone.is_open_to_all("a cell on a phone").await;
    phone.click("[data-test=close-behind]").await;
    phone.see("[data-spot='1 0']").await;
    for browser in [nadia, bex, phone] {
        browser.close().await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_dashboard_is_made_and_moves_with_what_others_do() {
    let server = Server::start(120).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 1000).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    // The team's own, from home.
    nadia.go("/").await;
    nadia.press("a", "How the paths stand").await;
    nadia.see("[data-tile='1'] .statement").await;
    nadia.see("[data-tile='2'] svg").await;
    nadia.see("[data-tile='5'] li").await;
    nadia.see("[data-tile='6'] .whole").await;
    nadia.text("p", "Nothing is planned from today on").await;
    nadia.see("[data-tile='8'] svg").await;
    // Narrowed for oneself, by keys as by the mouse; and back.
    let open_now = || async { nadia.read("[data-tile='4'] tfoot td:last-child, [data-tile='4'] tr:last-child td:last-child").await };
    let all = open_now().await;
    nadia.click("[data-test=board-narrow]").await;
    nadia.click("[data-narrow='3']").await;
    nadia.see("[data-test=only-editor]").await;
    nadia.click("[data-test=only-editor] [data-test=add-test]").await;
    nadia.click("[role=dialog] .field .v-field").await;
    tokio::time::sleep(std::time::Duration::from_millis(150)).await;
    nadia.keys("Severity").await;
    nadia.press("div[contains(@class, 'v-list-item')]", "Severity").await;
    nadia.press("div[@role='dialog']//label", "dangerous").await;
    nadia.click("[data-test=only-keep]").await;
    nadia.text("p", "faults where severity is dangerous").await;
    nadia.until("it shows fewer", || async { open_now().await != all }).await;
    nadia.is_open_to_all("a page that is narrowed").await;
    nadia.click("[data-test=board-narrowed] button").await;
    nadia.click("[data-test=only-all]").await;
    nadia.until("it shows all again", || async { nadia.count("[data-test=board-narrowed]").await == 0 && open_now().await == all }).await;
    nadia.is_open_to_all("a dashboard").await;
    let open = ".statement tbody tr:nth-child(2) .now";
    let counted: usize = nadia.read(open).await.parse().unwrap();
    // A figure opens its records.
    nadia.click("[data-tile='4'] tbody tr:first-child td:last-child button").await;
    nadia.see("[data-test=behind] li").await;
    nadia.is_open_to_all("what stands behind a figure").await;
    nadia.click("[data-test=close-behind]").await;

    // In another browser one is made good: it moves by itself.
    let bex = driver.browser(&server, 1280, 900).await;
    bex.walk_in("Bex Lindqvist").await;
    let moved = bex
        .script(
            "const q = new XMLHttpRequest(); q.open('POST', '/api/trackers/1/tables/3/query', false); q.setRequestHeader('content-type', 'application/json'); \
             q.send(JSON.stringify({ query: { fields: [{ field: 47, width: 9 }], condition: { test: { path: [47], check: { is: 'option', not: false, any: [80] } } } }, slices: [{ start: 0, count: 1 }] })); \
             const row = JSON.parse(q.responseText).slices[0].rows[0]; \
             const r = new XMLHttpRequest(); r.open('PATCH', '/api/trackers/1/tables/3/records/' + row.id, false); r.setRequestHeader('content-type', 'application/json'); \
             r.setRequestHeader('idempotency-key', 'dashboard-' + Date.now()); \
             r.send(JSON.stringify({ edits: [{ field: 47, input: { value: { choice: 84 } } }] })); return r.status",
        )
        .await;
    assert_eq!(moved.as_u64(), Some(200));
    nadia.until("one less is open", || async { nadia.read(open).await == (counted - 1).to_string() }).await;

    // One of one's own: words, and a cross-tab that becomes bars.
    nadia.go("/").await;
    nadia.click("[data-test=new-dashboard]").await;
    nadia.fill("[data-test=dashboard-name] input", "What the crews did").await;
    nadia.click("[data-test=make-dashboard]").await;
    nadia.text("p", "Nothing stands here yet").await;
    nadia.click("[data-test=add-tile]").await;
    nadia.see("[data-test=tile-begin]:not(:disabled)").await;
    nadia.is_open_to_all("what comes onto the page").await;
    nadia.click("[data-sort=bars]").await;
    nadia.click("[data-test=tile-begin]").await;
    nadia.see(".bars tbody tr").await;
    nadia.see("[data-test=tile-sentence]").await;
    nadia.is_open_to_all("a tile's editor").await;
    nadia.click("[data-test=tile-keep]").await;
    nadia.text("p", "put something on the dashboard What the crews did").await;
    nadia.click("[data-test=add-tile]").await;
    nadia.click("[data-sort=text]").await;
    nadia.click("[data-test=tile-begin]").await;
    nadia.fill("[data-test=tile-text] textarea", "Counted on Mondays.").await;
    nadia.text("p", "Counted on Mondays.").await;
    nadia.click("[data-test=tile-keep]").await;
    // By keys to the front, and back by the line that says what was done.
    // Its menu is there once the editor is gone.
    nadia.see("[data-tile='2'] [data-test=tile-menu]").await;
    nadia.script("document.querySelector('[data-tile=\"2\"] [data-test=tile-menu]').focus(); return 1").await;
    nadia.chord(&[Key::Alt], Key::Left).await;
    nadia
        .until("the words stand first", || async {
            nadia.script("return document.querySelector('[data-tile]').dataset.tile").await.as_str() == Some("2")
        })
        .await;
    // Opened to all, it is there for others, who change nothing.
    nadia.click("[data-test=board-settings]").await;
    nadia.choose("[data-test=board-open]", "open to everybody of the team").await;
    nadia.is_open_to_all("what holds of a dashboard").await;
    nadia.click("[data-test=board-keep]").await;
    nadia.text("p", "Open to everybody of the team").await;
    let phone = driver.browser(&server, 390, 844).await;
    phone.walk_in("Tamsin Oake").await;
    phone.go("/").await;
    phone.press("a", "What the crews did").await;
    phone.text("p", "Counted on Mondays.").await;
    assert_eq!(phone.count("[data-test=add-tile]").await, 0);
    phone.is_open_to_all("a dashboard on a phone").await;
    for browser in [nadia, bex, phone] {
        browser.close().await;
    }
}
