//! A walker reports a blocked gate, and it reaches the right warden.

use std::time::{Duration, Instant};
use thirtyfour::prelude::*;
use westerfall_e2e::{Driver, Server};

#[tokio::test(flavor = "multi_thread")]
async fn a_fault_reported_on_the_public_form_reaches_the_right_warden() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.press("a", "Path upkeep").await;
    nadia.click("[data-test=contents]").await;
    nadia.press("a", "All faults").await;
    nadia.text("p", "All 60 faults").await;
    let tamsin = driver.browser(&server, 1280, 800).await;
    tamsin.walk_in("Tamsin Oake").await;
    tamsin.go("/t/1/3/101").await;
    tamsin.see("[data-field='Number']").await;
    let idris = driver.browser(&server, 1280, 800).await;
    idris.walk_in("Idris Pell").await;
    idris.go("/t/1/3/101").await;
    idris.see("[data-field='Number']").await;

    // The walker, on a phone, gets two things wrong first.
    let walker = driver.browser(&server, 390, 844).await;
    walker.go("/f/report-a-path-fault").await;
    walker.text("h1", "Report a path fault").await;
    assert!(!walker.words().await.contains("Status"));
    walker.is_open_to_all("the form on a phone").await;
    answer(&walker, "What is wrong?", "Gate will not open, cattle on both sides").await;
    walker.press("label", "stile or gate").await;
    answer(&walker, "Your mail address", "wynn at home").await;
    walker.press("button", "Send report").await;
    walker.text("p", "Please answer “Can one get past?”.").await;
    walker.text("p", "Please answer “Which path?”.").await;
    walker.text("p", "This is not a mail address.").await;
    // What was typed is still there, also after a reload.
    walker.web.refresh().await.unwrap();
    walker.press("label", "blocked").await;
    let title = walker.see("[data-question='What is wrong?'] input").await;
    assert_eq!(title.value().await.unwrap().unwrap(), "Gate will not open, cattle on both sides");
    walker.fill("[data-question='Your mail address'] input", "wynn.ashdale@walkers.example").await;
    answer(&walker, "Which path?", "hob gate").await;
    walker.press("li", "Esker Ridge to Hob Gate").await;
    let picture = std::env::temp_dir().join(format!("gate-{}.png", std::process::id()));
    std::fs::write(&picture, PICTURE).unwrap();
    let input = walker.web.find(By::Css("input[type=file]")).await.unwrap();
    input.send_keys(picture.to_str().unwrap()).await.unwrap();
    answer(&walker, "Your name", "Wynn Ashdale").await;
    let sent = Instant::now();
    walker.press("button", "Send report").await;
    walker.text("p", "Thank you. The warden of that path has your report").await;

    // On both open screens at once, without a reload; and not on the third.
    let title = "Gate will not open, cattle on both sides";
    nadia.text("p", "All 61 faults").await;
    assert_eq!(nadia.read_cell("FR-2026-0061", "What is wrong").await, title);
    assert!(sent.elapsed() < Duration::from_secs(8), "it took {:?}", sent.elapsed());
    tamsin.cell("FR-2026-0061", "What is wrong").await;
    assert!(!idris.words().await.contains("FR-2026-0061"));

    // The folio tells where it came from, and what was sent.
    nadia.press_cell("FR-2026-0061", "What is wrong").await;
    nadia.click("[data-test=open-folio]").await;
    nadia.text("p", "came by the form").await;
    nadia.text("p", "Mail to Tamsin Oake, sent.").await;
    nadia.see("[data-test=folio] figure img").await;
    nadia.is_open_to_all("rows with a folio").await;

    // The warden reads her mail, opens the record from it, and says that she has seen it.
    tamsin.press("a", "Post room").await;
    // What is late each morning may have come since.
    tamsin.press("button", "blocked: Gate will not open").await;
    tamsin
        .until("it is the letter of the fault", || async {
            let words = tamsin.read("[data-test=open-message]").await;
            words.contains("blocked: Gate will not open") && words.contains("Reported by Wynn Ashdale")
        })
        .await;
    tamsin.is_open_to_all("post room").await;
    tamsin.press("article//a", "/t/1/3/r/61").await;
    tamsin.press("button", "blocked").await;
    tamsin.see("[data-test=cell-editor] input:focus").await;
    tamsin.keys("dangerous").await;
    tamsin.keys(Key::Enter).await;
    nadia.text("p", "Severity: blocked → dangerous").await;
    for browser in [nadia, tamsin, idris, walker] {
        browser.close().await;
    }
}

async fn answer(browser: &westerfall_e2e::Browser, question: &str, text: &str) {
    let input = browser.see(&format!("[data-question='{question}'] :is(input, textarea)")).await;
    input.send_keys(text).await.unwrap();
}

/// The smallest picture there is: one grey point, as PNG.
pub(crate) const PICTURE: &[u8] = &[
    0x89, b'P', b'N', b'G', 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 0x0d, b'I', b'H', b'D', b'R', 0, 0, 0, 1, 0, 0, 0, 1, 8, 0, 0, 0, 0, 0x3a,
    0x7e, 0x9b, 0x55, 0, 0, 0, 0x0a, b'I', b'D', b'A', b'T', 0x78, 0x9c, 0x63, 0x68, 0, 0, 0, 0x82, 0, 0x81, 0x77, 0xcd, 0x72, 0xb6, 0, 0,
    0, 0, b'I', b'E', b'N', b'D', 0xae, 0x42, 0x60, 0x82,
];
