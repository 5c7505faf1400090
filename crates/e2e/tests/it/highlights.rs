//! How records look: a highlight is written beside the records it acts on, seen by others at once, put before another, and off in a view.

use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

/// Whether the first entry of a view has an edge, in whichever shape.
async fn marked(browser: &Browser, css: &str) -> bool {
    browser.count(css).await > 0
}

#[tokio::test(flavor = "multi_thread")]
async fn a_highlight_is_written_beside_its_records_and_everybody_sees_them_so() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    let tamsin = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    tamsin.walk_in("Tamsin Oake").await;
    tamsin.go("/t/1/3/101").await;
    tamsin.see(".row .cell").await;
    assert!(!marked(&tamsin, ".row .look-larger").await);

    // From the sentence of a view to the page, where each highlight is a sentence set as it looks.
    nadia.go("/t/1/3/101").await;
    nadia.press("button", "5 highlights").await;
    nadia.see("[data-highlight='1']").await;
    nadia.is_open_to_all("which highlights are on").await;
    nadia.click("[data-test=to-highlights]").await;
    nadia.see("[data-test=looked] tbody tr").await;
    nadia.see(".said .look-bold").await;
    nadia.is_open_to_all("how records look").await;

    // Begun, it has neither condition nor effect; what is chosen acts on the records in sight at once.
    nadia.click("[data-test=add-highlight]").await;
    nadia.see("[data-test=highlight-sheet]").await;
    nadia.click("[data-test=highlight-sheet] [data-at='/touches']").await;
    nadia.click("[data-test=touch-whole]").await;
    nadia.see("[data-test=look-editor]").await;
    // Colour by itself is no sign.
    nadia.click("[data-ink=sky]").await;
    nadia.text("p", "Colour alone is not seen by everybody.").await;
    nadia.click("[data-look=larger]").await;
    nadia.see("[data-test=looked] .look-larger").await;
    nadia.is_open_to_all("choosing how something looks").await;
    nadia.click("[data-test=phrase-done]").await;
    nadia.text("th", "then").await;
    nadia.click("[data-test=keep-highlight]").await;
    nadia.text("p", "You made a highlight.").await;
    // Who looks at the view sees it without doing anything, and in the folio too.
    tamsin.see(".row .look-larger").await;
    tamsin.see(".row[aria-description*='always']").await;

    // What stands higher goes before: by keys.
    nadia.script("document.querySelectorAll('[data-test=highlight] .number')[5].focus()").await;
    nadia.chord(&[Key::Alt], Key::Up).await;
    nadia.text("p", "You put a highlight elsewhere.").await;
    nadia.see("[data-test=highlight]:nth-child(5) .said .look-larger").await;
    nadia.script("document.querySelectorAll('[data-test=highlight] .number')[4].focus()").await;
    nadia.chord(&[Key::Alt], Key::Down).await;
    nadia.see("[data-test=highlight]:nth-child(6) .said .look-larger").await;

    // Why a value looks so is asked at the value.
    nadia.click("[data-looked=Due].look-bold").await;
    nadia.text("dt", "bold").await;
    nadia.text("dd", "due is before today").await;
    nadia.is_open_to_all("why something looks so").await;
    nadia.keys(Key::Escape).await;

    // Off in one view, it is on in the others.
    nadia.go("/t/1/3/101").await;
    nadia.see(".row .look-larger").await;
    nadia.press("button", "6 highlights").await;
    nadia.click("[data-highlight='6']").await;
    nadia.text("button", "5 of 6 highlights").await;
    nadia.until("nothing is larger", || async { !marked(&nadia, ".row .look-larger").await }).await;
    assert!(marked(&tamsin, ".row .look-larger").await, "others see the view as it is kept");
    nadia.close().await;
    tamsin.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn highlights_act_in_lanes_and_folios_and_on_a_phone_where_they_are_changed_too() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let phone = driver.browser(&server, 390, 844).await;
    phone.walk_in("Nadia Ferreira-Holt").await;
    phone.go("/t/1/3/101").await;
    phone.see(".row .look-bold").await;
    phone.go("/t/1/3/113").await;
    phone.see(".entry .look-bold").await;
    phone.go("/t/1/3/highlights").await;
    phone.click("[data-test=write-highlight]").await;
    phone.see("[data-test=highlight-sheet]").await;
    phone.is_open_to_all("a highlight on a phone").await;
    phone.click("[data-test=highlight-sheet] [data-at='/touches/0/look/bold']").await;
    phone.click("[data-look=struck]").await;
    phone.click("[data-test=phrase-done]").await;
    phone.click("[data-test=keep-highlight]").await;
    phone.text("p", "You changed a highlight.").await;
    phone.go("/t/1/3/101").await;
    phone.see(".row .look-struck").await;
    phone.close().await;
}
