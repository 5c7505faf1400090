//! What would follow is said before a cell is changed; automations that hand on, work out, and are written by a text of the team.

use crate::automations::{begin, step};
use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

/// A fault that is not made good, of which somebody reported by mail.
async fn reported(nadia: &Browser) -> String {
    let script = "const r = new XMLHttpRequest(); r.open('POST', '/api/trackers/1/tables/3/records', false); \
         r.setRequestHeader('content-type', 'application/json'); r.setRequestHeader('Idempotency-Key', 'following'); \
         r.send(JSON.stringify({ records: [{ 41: { text: 'Ladder stile wobbles' }, 42: { value: { links: [1] } }, 45: { text: 'stile or gate' }, \
         46: { text: 'awkward' }, 47: { text: 'checked' }, 51: { text: 'Wynn Ashdale' }, 52: { text: 'wynn@ashdale.example' } }] })); \
         return r.status + ' ' + JSON.parse(r.responseText).added";
    let told = nadia.script(script).await;
    let told = told.as_str().unwrap().to_owned();
    told.strip_prefix("200 ").unwrap_or_else(|| panic!("{told}")).to_owned()
}

async fn to_made_good(browser: &Browser) {
    browser.press("button", "checked").await;
    browser.see("[role=listbox]").await;
    browser.keys("made good").await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_cell_would_set_going_is_said_before_it_is_kept_unless_the_coordinator_hides_it() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    let record = reported(&nadia).await;
    let folio = format!("/t/1/3/r/{record}");
    nadia.go(&folio).await;
    to_made_good(&nadia).await;
    nadia
        .until("it says who is told", || async { nadia.read("[data-test=follows]").await.contains("1 mail goes to 1 address outside.") })
        .await;
    nadia.is_open_to_all("a list that says what would follow").await;
    nadia.keys(Key::Escape.value().to_string()).await;

    // The coordinator hides it.
    nadia.go("/t/1/automations").await;
    let article = "article[aria-label='Tell who reported it']";
    nadia.click(&format!("{article} [data-test=unsaid]")).await;
    nadia
        .until("it is not said", || async {
            nadia.read(&format!("{article} [data-test=beforehand]")).await.starts_with("Nothing is said of it")
        })
        .await;
    assert_eq!(nadia.count(&format!("{article} [data-test=draft]")).await, 0, "it goes on as it is");
    nadia.go(&folio).await;
    to_made_good(&nadia).await;
    nadia.see("[role=option]").await;
    assert_eq!(nadia.count("[data-test=follows]").await, 0);
    nadia.keys(Key::Enter.value().to_string()).await;
    nadia.until("it is made good", || async { nadia.count("[data-fact=Status] .editor").await == 0 }).await;
    // It was sent all the same.
    nadia.go("/post-room").await;
    nadia.text("h2", "Made good: Ladder stile wobbles").await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn one_automation_hands_a_record_on_to_another_that_works_a_field_out_and_its_message_is_written_by_a_text() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 1000).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    let record = reported(&nadia).await;
    let second = "Note it in capitals";
    begin(&nadia, "is handed on by another automation", second).await;
    step(&nadia, second, "set").await;
    nadia.choose("[data-test=bulk-field]", "Description").await;
    nadia.choose("[data-test=bulk-way]", "is worked out as").await;
    nadia.click("[data-test=formula]").await;
    nadia.keys("UPPER('What is wrong'").await;
    nadia.keys(")").await;
    nadia.until("it is tried", || async { nadia.read("[data-test=formula-gives]").await.starts_with("It gives a text") }).await;
    nadia.is_open_to_all("a step with a formula").await;
    nadia.click("[data-test=keep-alter]").await;
    nadia.text("p", "work out description as UPPER(What is wrong)").await;
    nadia.click(&format!("article[aria-label='{second}'] [role=switch]")).await;
    nadia.click("[data-test=do-it]").await;
    nadia.see(&format!("article[aria-label='{second}'] [aria-checked=true]")).await;

    // The one that runs is changed beside itself: its words become a text, and it hands on.
    let first = "Tell who reported it";
    step(&nadia, first, "start").await;
    nadia.choose("[data-test=start-which]", second).await;
    nadia.click("[data-test=keep-start]").await;
    nadia.text("p", "start “Note it in capitals” with it").await;
    nadia.press("button", "“Made good: {What is wrong}”").await;
    nadia.click("[data-test=store-text]").await;
    nadia.fill("[data-test=store-name] input", "Thanks to whoever reported").await;
    nadia.is_open_to_all("words that become a text").await;
    nadia.click("[data-test=store-yes]").await;
    nadia.see("[data-test=stored-text]").await;
    nadia.click("[data-test=keep-mail]").await;
    nadia.text("p", "by the text “Thanks to whoever reported”").await;
    nadia.click(&format!("article[aria-label='{first}'] [data-test=take-over]")).await;
    nadia.click("[data-test=do-it]").await;
    nadia.until("it took over", || async { nadia.count("[data-test=draft]").await == 0 }).await;
    // The text is changed for all that is written by it.
    nadia.click("[data-test=texts] summary").await;
    nadia.click("[aria-label='change it: Thanks to whoever reported']").await;
    nadia.fill("[data-test=text-subject] input", "Good news: {What is wrong}").await;
    nadia.is_open_to_all("a text that is changed").await;
    nadia.click("[data-test=keep-text]").await;
    nadia.until("it is kept", || async { nadia.count("[data-test=keep-text]").await == 0 }).await;

    nadia.go(&format!("/t/1/3/r/{record}")).await;
    to_made_good(&nadia).await;
    nadia.keys(Key::Enter.value().to_string()).await;
    nadia.until("it was noted", || async { nadia.words().await.contains("LADDER STILE WOBBLES") }).await;
    nadia.go("/post-room").await;
    nadia.text("h2", "Good news: Ladder stile wobbles").await;

    // What it did is found by whom it reached.
    nadia.go("/t/1/automations").await;
    nadia.fill(&format!("article[aria-label='{first}'] [data-test=find-run]"), "wynn@").await;
    nadia.until("it is found", || async { nadia.count(&format!("article[aria-label='{first}'] [data-test=run]")).await == 1 }).await;
    nadia.fill(&format!("article[aria-label='{first}'] [data-test=find-run]"), "nobody of that name").await;
    nadia.see(&format!("article[aria-label='{first}'] [data-test=no-run]")).await;
    nadia.close().await;
}
