//! Takes the pictures in `docs/screenshots` from the demo's data. Run by `bin/screenshots`.

use std::{path::Path, time::Duration};
use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

async fn take(browser: &Browser, name: &str) {
    // Pictures and fonts come after the words.
    tokio::time::sleep(Duration::from_millis(900)).await;
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots");
    browser.web.screenshot(&folder.join(format!("{name}.png"))).await.expect("the picture is kept");
}

/// Two things that she asks of herself for today.
const TASKS: &str = r#"
const day = new Date().toISOString().slice(0, 10)
const ask = (what, about) =>
  fetch('/api/tasks', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ who: 1, what, note: '', due: day, urgent: false, about }),
  })
return ask('Approve WO-2026-100', [1, 6, 100]).then(() => ask('Ask the parish for its hall', null)).then(() => true)
"#;

/// The newest letter that can be answered: where its answers lead. In the evening others are newer.
const ANSWERED: &str = r#"
for (const letter of document.querySelectorAll('[data-test=message]')) {
  letter.click()
  await new Promise((done) => setTimeout(done, 500))
  const answer = document.querySelector('[data-test=open-message] a[href*="/reply/"]')
  if (answer) return answer.href
}
return null
"#;

#[tokio::main]
async fn main() {
    let server = Server::start(320).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 939).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    // Something that is on her today, of a record and of none.
    nadia.script(TASKS).await;
    nadia.go("/").await;
    nadia.text("a", "Approve WO-2026-100").await;
    take(&nadia, "home").await;
    nadia.go("/people").await;
    nadia.see("[data-person='Tamsin Oake']").await;
    take(&nadia, "people").await;
    nadia.go("/t/1").await;
    nadia.see("[data-plate=Faults]").await;
    take(&nadia, "groundplan").await;
    nadia.go("/t/1/find?words=gate+esk&from=3-100").await;
    nadia.text("mark", "Esk").await;
    nadia.text("span", "left out: status is").await;
    take(&nadia, "find").await;
    nadia.go("/t/1/3/100").await;
    nadia.press_cell("FR-", "What is wrong").await;
    // Three of them on their way to another section, before that is done: who no longer sees them is said.
    for _ in 0..3 {
        nadia.chord(&[Key::Control], ' ').await;
        nadia.keys(Key::Down).await;
    }
    nadia.click("[data-test=picked-change]").await;
    nadia.choose("[data-test=bulk-field]", "Section").await;
    nadia.click("[data-test=begins-link] input").await;
    nadia.keys("Low Staithe").await;
    nadia.text("div", "Low Staithe to Elder Lane").await;
    nadia.keys(Key::Down).await;
    nadia.keys(Key::Enter).await;
    nadia.text("p", "no longer see").await;
    take(&nadia, "rows").await;
    nadia.click("[data-test=leave-it]").await;
    nadia.go("/t/1/3/113").await;
    nadia.see("[data-column='in hand'] .entry").await;
    take(&nadia, "lanes").await;
    nadia.go("/t/1/6/116").await;
    nadia.click("[data-scale=week]").await;
    nadia.see(".week-hours .bar").await;
    take(&nadia, "calendar").await;
    nadia.go("/t/1/3/101").await;
    nadia.press_cell("FR-2026-0319", "What is wrong").await;
    nadia.click("[data-test=open-folio]").await;
    nadia.see("[data-test=folio] img").await;
    take(&nadia, "folio").await;
    nadia.go("/t/1/3/117").await;
    nadia.click("[data-spot='2 6']").await;
    nadia.see("[data-test=behind] li").await;
    take(&nadia, "cross-tab").await;
    nadia.go("/d/1").await;
    nadia.see("[data-tile='2'] svg").await;
    nadia.see("[data-tile='5'] li").await;
    take(&nadia, "dashboard").await;
    // A document with a block open, beside its sheet.
    nadia.go("/t/1/documents/452").await;
    nadia.see("[data-test=page] img").await;
    nadia.click("[data-test=block-5]").await;
    nadia.see(".frame").await;
    take(&nadia, "document").await;
    nadia.go("/t/1/forms/120").await;
    nadia.press("button", "Your phone").await;
    nadia.text("p", "asked when severity is").await;
    take(&nadia, "form-design").await;
    nadia.go("/t/1/access").await;
    nadia.see("[data-name=Warden]").await;
    // A change as it is rehearsed, person by person.
    nadia.press("tr[@data-role='Warden']//button", "Sees faults where section’s district’s warden is me").await;
    nadia.choose("[data-test=reach-look]", "their own faults").await;
    nadia.click("[data-test=keep-rights]").await;
    nadia.text("p", "4 people see less.").await;
    take(&nadia, "access").await;
    nadia.press("button", "Leave it").await;
    nadia.go("/t/1/automations").await;
    nadia.text("h3", "What it did").await;
    // What the one of each morning would have sent in the last month.
    nadia.click("article:nth-of-type(2) [data-test=rehearse]").await;
    nadia.text("p", "would have gone out").await;
    take(&nadia, "automations").await;
    nadia.close().await;

    let tamsin = driver.browser(&server, 1280, 939).await;
    tamsin.walk_in("Tamsin Oake").await;
    tamsin.go("/rounds").await;
    tamsin.see("[data-duty]").await;
    take(&tamsin, "rounds").await;
    tamsin.go("/inbox").await;
    tamsin.click("[data-test=ask] .choices button").await;
    take(&tamsin, "inbox").await;
    tamsin.close().await;

    // A page for somebody outside, as they see it.
    let clerk = driver.browser(&server, 1280, 939).await;
    clerk.walk_in("Nadia Ferreira-Holt").await;
    clerk.go("/p/eskermoor-parish?as=1").await;
    clerk.see("tbody .box").await;
    take(&clerk, "shared-page").await;
    clerk.close().await;

    let phone = driver.browser(&server, 390, 844).await;
    phone.walk_in("Tamsin Oake").await;
    phone.go("/t/1/3/100").await;
    phone.text("p", "faults where").await;
    take(&phone, "rows-phone").await;
    phone.go("/post-room").await;
    phone.see("[data-test=open-message]").await;
    let link = phone.script(ANSWERED).await;
    phone.web.goto(link.as_str().expect("a letter that can be answered")).await.expect("opened");
    phone.see("[data-test=press]").await;
    take(&phone, "reply").await;
    phone.close().await;
}
