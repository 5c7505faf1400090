//! Access changes on open screens at once; and standing in.

use thirtyfour::prelude::*;
use westerfall_e2e::{Driver, Server};

#[tokio::test(flavor = "multi_thread")]
async fn a_change_of_access_empties_an_open_screen_at_once() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    let tamsin = driver.browser(&server, 1280, 800).await;
    tamsin.walk_in("Tamsin Oake").await;
    tamsin.go("/t/1/3/101").await;
    tamsin.see("[data-field='Number']").await;
    assert!(!tamsin.words().await.contains("Idris Pell"));
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/access").await;
    nadia.is_open_to_all("access").await;
    nadia.press("tr[@data-role='Warden']//button", "Sees faults where section’s district’s warden is me").await;
    nadia.choose("[data-test=reach-look]", "their own faults").await;
    nadia.click("[data-test=keep-rights]").await;
    // Said person by person before it holds; until then she sees what she saw.
    nadia.text("p", "4 people see less.").await;
    nadia.text("td", "→ 0, changes").await;
    nadia.is_open_to_all("a rehearsal of access").await;
    assert!(tamsin.count("[data-field='Number']").await > 0);
    nadia.press("button", "Do it").await;
    nadia.text("button", "Sees their own faults").await;
    tamsin.text("p", "All 0 faults").await;
    assert_eq!(tamsin.count("[data-field='Number']").await, 0);
    // The role itself is taken back: the tracker closes under her eyes.
    nadia.press("tr[@data-role='Warden']//button", "Tamsin Oake").await;
    nadia.press("label", "Tamsin Oake").await;
    nadia.text("p", "Tamsin Oake would not open this tracker any more.").await;
    nadia.keys(Key::Escape.value().to_string()).await;
    nadia.press("button", "Do it").await;
    tamsin.text("h1", "This tracker is not open to you").await;
    nadia.close().await;
    tamsin.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn standing_in_shows_their_look_and_changes_nothing() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.is_open_to_all("home").await;
    nadia.go("/t/1/3/100").await;
    nadia.see("[data-field='Number']").await;
    nadia.click(".me").await;
    nadia.press("button", "Wren Castellane").await;
    nadia.text("p", "Standing in for Wren Castellane").await;
    nadia.press("a", "Path upkeep").await;
    nadia.click("[data-test=contents]").await;
    nadia.press("a", "All faults").await;
    nadia.text("p", "All 0 faults").await;
    assert_eq!(nadia.count("[data-test=add]").await, 0);
    nadia.is_open_to_all("standing in").await;
    nadia.press("button", "Stop standing in").await;
    // One is where one was.
    nadia.text("h1", "To be put right").await;
    nadia.go("/t/1/3/101").await;
    nadia.text("p", "All 60 faults").await;
    // Signing out by hand and in again with address and password.
    nadia.click(".me").await;
    nadia.press("button", "Sign out").await;
    nadia.is_open_to_all("sign-in").await;
    nadia.see("input[name=mail]").await.send_keys("pavel@orrindale-paths.example").await.unwrap();
    nadia.see("input[name=password]").await.send_keys("wrong" + Key::Enter).await.unwrap();
    nadia.text("p", "This address and password do not fit together.").await;
    let password = nadia.see("input[name=password]").await;
    password.send_keys(Key::Control + "a").await.unwrap();
    password.send_keys("orrindale-demo" + Key::Enter).await.unwrap();
    nadia.text("h1", "Your trackers").await;
    nadia.go("/t/1/3/101").await;
    nadia.see("[data-field='Number']").await;
    assert!(!nadia.words().await.contains("walkers.example"), "a trustee sees who reported");
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_adds_within_a_reach_is_asked_for_what_lets_them_see_it() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let tamsin = driver.browser(&server, 1280, 800).await;
    tamsin.walk_in("Tamsin Oake").await;
    tamsin.go("/t/1/3/101").await;
    tamsin.see("[data-field='Number']").await;
    tamsin.click("[data-test=add]").await;
    tamsin.see("[data-test=ask-first] [role=option]").await;
    // Leaving it adds nothing.
    tamsin.keys(Key::Escape).await;
    tamsin.until("nothing is asked any more", || async { tamsin.count("[data-test=ask-first]").await == 0 }).await;
    assert_eq!(tamsin.count("[data-test=undo-line]").await, 0);
    tamsin.click("[data-test=add]").await;
    tamsin.see("[data-test=ask-first] [role=option]").await;
    tamsin.keys(Key::Enter).await;
    tamsin.text("p", "You added a fault.").await;
    tamsin.see("[role=row][aria-selected=true]").await;
    tamsin.close().await;
}
