//! What happens by itself: said as a paragraph, tried without effect, let run, and run by hand.

use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

/// Begins an automation of faults, and leaves its name in sight.
pub(crate) async fn begin(nadia: &Browser, occasion: &str, name: &str) {
    nadia.go("/t/1/automations").await;
    nadia.click("[data-test=begin-automation]").await;
    nadia.choose("[aria-label=Table]", "faults").await;
    nadia.choose("[data-test=occasion]", occasion).await;
    nadia.fill("[data-test=new-name]", name).await;
    nadia.click("[data-test=make-automation]").await;
    nadia.text("h2", name).await;
}

/// Adds a step to the automation of this name.
pub(crate) async fn step(nadia: &Browser, name: &str, kind: &str) {
    nadia.click(&format!("article[aria-label='{name}'] [data-test='add-step /steps']")).await;
    nadia.click(&format!("[data-test=step-{kind}]")).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_automation_is_said_rehearsed_let_run_and_acts_in_the_name_of_whoever_said_it() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    let name = "Note what was checked";
    begin(&nadia, "has something changed", name).await;
    step(&nadia, name, "set").await;
    nadia.choose("[data-test=bulk-field]", "Description").await;
    nadia.fill(".alters textarea, .alters .line input:not([role=combobox])", "Somebody looked at it").await;
    nadia.keys(Key::Tab.value().to_string()).await;
    nadia.click("[data-test=keep-alter]").await;
    nadia.text("p", "set description to Somebody looked at it").await;
    nadia.text("p", "It changes what Nadia Ferreira-Holt may change.").await;
    // And it says so where the fault is talked about.
    step(&nadia, name, "say").await;
    nadia.fill("[data-test=say-text] textarea", "Looked at by hand").await;
    nadia.click("[data-test=keep-say]").await;
    nadia.text("p", "say of it").await;
    // It rests until what it would have done was seen.
    nadia.click(&format!("article[aria-label='{name}'] [role=switch]")).await;
    nadia.see("[data-test=trial-says]").await;
    nadia.is_open_to_all("automations with a rehearsal").await;
    nadia.click("[data-test=do-it]").await;
    nadia.see(&format!("article[aria-label='{name}'] [aria-checked=true]")).await;

    // A change of hers sets it going; what it did stands under its own name.
    nadia.go("/t/1/3").await;
    let number = nadia.read("[role=row] [data-field=Number]").await;
    let before = nadia.read_cell(&number, "Status").await;
    let other = if before == "checked" { "scheduled" } else { "checked" };
    nadia.press_cell(&number, "Status").await;
    nadia.keys(other).await;
    nadia.keys(Key::Enter.value().to_string()).await;
    nadia.until("it is another", || async { nadia.read_cell(&number, "Status").await == other }).await;
    nadia.go(&format!("/t/1/{number}")).await;
    nadia.until("it was noted", || async { nadia.words().await.contains("Somebody looked at it") }).await;
    nadia.until("its trail names it", || async { nadia.words().await.contains("the automation “Note what was checked”") }).await;
    nadia.text("p", "Looked at by hand").await;

    // What runs is changed beside it, and takes over once that was seen.
    nadia.go("/t/1/automations").await;
    let article = format!("article[aria-label='{name}']");
    step(&nadia, name, "wait").await;
    nadia.click("[data-test=keep-wait]").await;
    nadia.see(&format!("{article} [data-test=draft]")).await;
    nadia.text("li", "New: wait 1 day.").await;
    nadia.click(&format!("{article} [data-test=take-over]")).await;
    nadia.click("[data-test=do-it]").await;
    nadia.until("it took over", || async { nadia.count("[data-test=draft]").await == 0 }).await;
    nadia.text("p", "1 day").await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mail_goes_by_hand_to_those_chosen_who_were_not_reached_yet() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    let name = "Ask the office";
    begin(&nadia, "is chosen, and this is run by hand", name).await;
    step(&nadia, name, "mail").await;
    nadia.choose("[data-test=mail-to]", "another address").await;
    nadia.fill("[data-test=mail-address] input", "office@orrindale-paths.example").await;
    nadia.fill("[data-test=mail-subject] input", "Look at {Nmber}").await;
    nadia.click("[data-test=keep-mail]").await;
    // A field that is not there is pointed out where it was typed.
    nadia.text("div[contains(@class, 'v-messages__message')]", "There is no field “Nmber” in Faults.").await;
    nadia.fill("[data-test=mail-subject] input", "Look at {Number}").await;
    nadia.click("[data-test=keep-mail]").await;
    nadia.text("p", "headed “Look at {Number}”").await;
    nadia.click(&format!("article[aria-label='{name}'] [role=switch]")).await;
    nadia.click("[data-test=do-it]").await;
    nadia.see(&format!("article[aria-label='{name}'] [aria-checked=true]")).await;

    nadia.go("/t/1/3").await;
    nadia.click("[role=row] [data-field=Number]").await;
    nadia.chord(&[Key::Control], ' ').await;
    nadia.press("button", "Ask the office …").await;
    nadia.text("p", "1 mail goes to 1 address outside.").await;
    nadia.click("[data-test=do-it]").await;
    nadia.until("it is done", || async { nadia.count("[data-test=run-says]").await == 0 }).await;

    nadia.chord(&[Key::Control], ' ').await;
    nadia.keys(Key::Down.value().to_string()).await;
    nadia.chord(&[Key::Control], ' ').await;
    nadia.press("button", "Ask the office …").await;
    nadia.text("label", "leave out the 1 that it has reached already").await;
    nadia.text("p", "1 mail goes to 1 address outside.").await;
    nadia.is_open_to_all("an automation run by hand").await;
    nadia.click("[data-test=do-it]").await;
    nadia.go("/post-room").await;
    nadia.until("both are there, once", || async { nadia.words().await.matches("Look at FR-").count() >= 2 }).await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_web_address_is_called_and_its_answer_stands_in_the_record() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 1000).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    let name = "Ask what it costs";
    begin(&nadia, "is chosen, and this is run by hand", name).await;
    step(&nadia, name, "call").await;
    nadia.fill("[data-test=call-address] input", "post-room.example/quote").await;
    nadia.choose("[data-test=call-send]", "Hours needed").await;
    nadia.fill("[data-sends='0'] [data-test=call-name]", "hours").await;
    nadia.click("[data-test=call-take]").await;
    nadia.fill("[data-takes='0'] [data-test=call-path]", "quote.number").await;
    nadia.choose("[data-takes='0'] [data-test=call-into]", "Description").await;
    nadia.click("[data-test=keep-call]").await;
    // What is wrong is said where it was typed.
    nadia.text("div[contains(@class, 'v-messages__message')]", "Write the address whole, as https://rates.example/latest").await;
    nadia.is_open_to_all("a step that calls a web address").await;
    nadia.fill("[data-test=call-address] input", "http://post-room.example/quote").await;
    nadia.click("[data-test=keep-call]").await;
    nadia.text("p", "sending hours needed as hours, and put quote.number of its answer into description").await;
    nadia.text("p", "and sends elsewhere what they may see").await;
    nadia.click(&format!("article[aria-label='{name}'] [role=switch]")).await;
    nadia.click("[data-test=do-it]").await;
    nadia.see(&format!("article[aria-label='{name}'] [aria-checked=true]")).await;

    nadia.go("/t/1/3").await;
    let number = nadia.read("[role=row] [data-field=Number]").await;
    nadia.press_cell(&number, "Number").await;
    nadia.chord(&[Key::Control], ' ').await;
    nadia.press("button", "Ask what it costs …").await;
    // What follows is said before it is done.
    nadia.text("p", "1 web address is called.").await;
    nadia.click("[data-test=do-it]").await;
    nadia.go(&format!("/t/1/{number}")).await;
    nadia.until("its answer stands there", || async { nadia.words().await.contains("Q-0") }).await;
    nadia.go("/t/1/automations").await;
    nadia.until("its log tells it", || async { nadia.words().await.contains("post-room.example answered 200 OK.") }).await;
    nadia.go("/post-room").await;
    nadia.text("*", "POST /quote").await;
    nadia.close().await;
}
