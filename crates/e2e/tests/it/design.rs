//! Designing a form, and changing what an automation does.

use thirtyfour::prelude::*;
use westerfall_e2e::{Driver, Server};

#[tokio::test(flavor = "multi_thread")]
async fn a_form_is_designed_closed_and_opened_again() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    let walker = driver.browser(&server, 390, 844).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3").await;
    nadia.click("[data-test=contents]").await;
    nadia.press("a", "Report a path fault").await;
    nadia.text("h2", "Not asked").await;
    nadia.is_open_to_all("form design").await;

    // Another wording, another question, another order.
    nadia.press("button", "Can one get past?").await;
    let label = nadia.see("[data-test=question-label]").await;
    nadia.web.action_chain().click_element(&label).key_down(Key::Control).send_keys("a").key_up(Key::Control).perform().await.unwrap();
    nadia.keys("How bad is it?").await;
    nadia.press("button", "Reported on").await;
    nadia.click("button[aria-label='Reported on earlier']").await;
    nadia.click("button[aria-label='Your mail address earlier']").await;
    nadia.click("[data-test=save-form]").await;
    nadia.until("it is saved", || async { nadia.count("[data-test=save-form][disabled]").await == 1 }).await;
    walker.go("/f/report-a-path-fault").await;
    walker.text("span", "How bad is it?").await;
    let words = walker.words().await;
    assert!(words.find("Your mail address").unwrap() < words.find("Your name").unwrap() && words.contains("Reported on"), "{words}");

    // A form that does not ask what the table requires is refused, with the reason.
    nadia.press("button", "What is wrong?").await;
    nadia.press("button", "Do not ask this").await;
    nadia.click("[data-test=save-form]").await;
    nadia.text("p", "The table requires “What is wrong”").await;
    nadia.web.refresh().await.unwrap();

    // Closed, it shows its own words and takes nothing, also from a page opened before.
    let title = walker.see("[data-question='What is wrong?'] input").await;
    title.send_keys("Typed before it closed").await.unwrap();
    for option in ["surface", "awkward"] {
        walker.press("label", option).await;
    }
    walker.see("[data-question='Which path?'] input").await.send_keys("kiln").await.unwrap();
    walker.press("li", "Kiln Side").await;
    nadia.click("[data-test=toggle-open]").await;
    nadia.text("p", "It is closed by hand").await;
    walker.press("button", "Send report").await;
    walker.text("p", "We take no reports at the moment.").await;
    walker.go("/f/report-a-path-fault").await;
    walker.text("p", "We take no reports at the moment.").await;
    nadia.click("[data-test=toggle-open]").await;
    nadia.text("p", "It is open").await;
    walker.web.refresh().await.unwrap();
    walker.see("[data-question='What is wrong?'] input").await;
    nadia.close().await;
    walker.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_automation_reads_as_a_paragraph_and_is_changed_in_it() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/automations").await;
    nadia.text("p", "a fault comes by the form “Report a path fault”").await;
    nadia.text("p", "Does not hold: severity is blocked or dangerous; it is passable.").await;
    nadia.is_open_to_all("automations").await;
    nadia.press("button", "severity is blocked or dangerous").await;
    nadia.press("label", "awkward").await;
    nadia.click("[data-test=keep-condition]").await;
    // It runs, so what is to become of it stands beside it.
    nadia.text("li", "“if severity is blocked or dangerous” becomes “if severity is awkward, blocked or dangerous”.").await;
    nadia.press("button", "Drop the draft").await;
    nadia.until("it has no draft", || async { nadia.count("[data-test=draft]").await == 0 }).await;
    // A field that is not there is pointed out where it was typed.
    nadia.press("button", "{Severity}").await;
    let subject = nadia.see("[data-test=mail-subject] input").await;
    nadia.web.action_chain().click_element(&subject).send_keys(" {Sevrity}").perform().await.unwrap();
    nadia.click("[data-test=keep-mail]").await;
    nadia.text("div[contains(@class, 'v-messages__message')]", "There is no field “Sevrity” in Faults.").await;
    nadia.press("button", "Leave it").await;
    nadia.text("p", "headed “{Severity}: {What is wrong}”").await;
    nadia.close().await;
}
