//! The sentence is the control.

use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

async fn sentence(browser: &Browser) -> String {
    browser.read(".sentence").await.replace('\n', " ")
}

async fn reads(browser: &Browser, words: &str) {
    browser.until(&format!("the sentence says: {words}"), || async move { sentence(browser).await.contains(words) }).await;
}

/// Until what stands in an entered field is selected: a moment in which nobody types.
async fn selected() {
    tokio::time::sleep(std::time::Duration::from_millis(150)).await;
}

async fn closed(browser: &Browser) {
    browser.keys(Key::Escape).await;
    browser.until("the phrase's editor is closed", || async { browser.count("[role=dialog]").await == 0 }).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_view_is_shaped_by_its_phrases_saved_and_dropped() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/101").await;
    nadia.text("p", "All 60 faults, by number, last first").await;

    // A condition: along links, and about a person.
    nadia.click(".offer[data-at^='/condition']").await;
    nadia.click("[data-test=add-test]").await;
    nadia.click("[role=dialog] .field .v-field").await;
    selected().await;
    nadia.keys("Section → District → Warden").await;
    nadia.press("div[contains(@class, 'v-list-item')]", "Section → District → Warden").await;
    nadia.press("label", "Idris Pell").await;
    reads(&nadia, "where section’s district’s warden is Idris Pell").await;
    nadia.press("label", "Jonah Adeyemi-Clark").await;
    reads(&nadia, "warden is Idris Pell or Jonah Adeyemi-Clark").await;
    // And another, relative to today, joined by any.
    nadia.click("[data-test=add-test]").await;
    let fields = nadia.web.find_all(By::Css("[role=dialog] .field .v-field")).await.unwrap();
    fields[1].click().await.unwrap();
    selected().await;
    nadia.keys("Reported on").await;
    nadia.press("div[contains(@class, 'v-list-item')]", "Reported on").await;
    nadia.choose("[aria-label=Period]", "last month").await;
    reads(&nadia, "Jonah Adeyemi-Clark and reported on is last month").await;
    nadia.choose("[aria-label='How the tests are joined']", "any").await;
    reads(&nadia, "Jonah Adeyemi-Clark or reported on is last month").await;
    nadia.is_open_to_all("the condition’s editor").await;
    closed(&nadia).await;

    // Grouping and another sort.
    nadia.click(".offer[data-at^='/groups']").await;
    nadia.choose("[data-test=add-order]", "Severity").await;
    reads(&nadia, "grouped by severity").await;
    closed(&nadia).await;
    nadia.click(".offer[data-at^='/sorts']").await;
    nadia.choose("[data-test=add-order]", "Due").await;
    reads(&nadia, "then earliest due first").await;
    closed(&nadia).await;
    nadia.click(".phrase[data-at^='/fields']").await;
    nadia.press("label", "Reported on").await;
    reads(&nadia, "showing 13 of 26 fields").await;
    closed(&nadia).await;

    // It is one's own until saved: still there after a reload, kept as a view, and the team's view is as it was.
    nadia.see("[data-test=unsaved]").await;
    nadia.web.refresh().await.unwrap();
    reads(&nadia, "grouped by severity").await;
    nadia.click("[data-test=save-view-as]").await;
    let name = nadia.see("[data-test=view-name] input").await;
    name.clear().await.unwrap();
    name.send_keys("North and south").await.unwrap();
    nadia.press("button", "Keep view").await;
    nadia.text("h1", "North and south").await;
    nadia.text("p", "a view of your own").await;
    reads(&nadia, "showing 13 of 26 fields").await;
    nadia.go("/t/1/3/101").await;
    reads(&nadia, "All 60 faults, by number, last first").await;

    // A phrase is dropped with Delete, and the change with one press.
    nadia.go("/t/1/3/100").await;
    reads(&nadia, "grouped by district").await;
    nadia.see(".phrase[data-at^='/condition']").await.send_keys(Key::Delete + "").await.unwrap();
    reads(&nadia, "All 60 faults, grouped by district").await;
    nadia.press("button", "Drop changes").await;
    reads(&nadia, "where status is not made good or no action").await;
    nadia.close().await;
}
