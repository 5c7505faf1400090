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
    nadia.press("tr[@data-role='Warden']//button", "Wardens").await;
    nadia.press("label", "Wardens").await;
    nadia.text("p", "Marguerite Voss and Jonah Adeyemi-Clark would not open this tracker any more.").await;
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
    nadia.text("p", "in the tracker that you may open").await;
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
    tamsin.text("p", "Still asked: what is wrong and section.").await;
    tamsin.keys("Wire across the path").await;
    tamsin.keys(Key::Tab).await;
    tamsin.text("p", "Still asked: section.").await;
    // It can't be added before it is in her reach, and nothing was.
    tamsin.click("[data-test=draft-add]").await;
    tamsin.text("p[@role='alert']", "Still asked: section.").await;
    assert_eq!(tamsin.count("[data-test=undo-line]").await, 0);
    tamsin.see("[role=option]").await;
    tamsin.keys(Key::Enter).await;
    tamsin.text("p", "It can be added.").await;
    tamsin.chord(&[Key::Control], Key::Enter).await;
    tamsin.text("p", "You added the fault “Wire across the path”.").await;
    tamsin.see("[role=row][aria-selected=true]").await;
    tamsin.close().await;
}

/// A volunteer sees what hangs on their own record; why is told; and a view is given to somebody who is in no role there.
#[tokio::test(flavor = "multi_thread")]
async fn who_sees_what_follows_ones_own_record_says_why_and_a_view_is_given_alone() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let (nadia, wren) = (driver.browser(&server, 1280, 900).await, driver.browser(&server, 390, 844).await);
    wren.walk_in("Wren Castellane").await;
    wren.go("/t/1/8/391").await;
    wren.text("p", "All 14 work parties").await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/access").await;
    // Why, before and after: of a party she is on.
    nadia.choose("[data-test=why-person]", "Wren Castellane").await;
    nadia.choose("[data-test=why-table]", "work party").await;
    nadia.see("[data-test=why-record] input").await.send_keys("Cut back bracken, Withy Edge").await.unwrap();
    nadia.press("div[@role='option']", "Cut back bracken, Withy Edge").await;
    nadia.text("p", "Wren Castellane can see “Cut back bracken").await;
    nadia.text("span", "“my record” is Wren Castellane").await;
    nadia.is_open_to_all("why somebody sees a record").await;
    // No table holds the people: her screen is empty at once, and the answer says what it lacks.
    nadia.press("td[@data-own='Volunteers']//button", "A volunteer is somebody’s own").await;
    nadia.choose("[data-test=own-by-own]", "no field").await;
    nadia.is_open_to_all("what is somebody’s own").await;
    nadia.click("[data-test=keep-own-records]").await;
    nadia.text("p", "1 person sees less.").await;
    nadia.press("button", "Do it").await;
    wren.text("p", "All 0 work parties").await;
    nadia.choose("[data-test=why-right]", "change").await;
    nadia.text("span", "no table holds the people").await;
    nadia.press("button", "Undo").await;
    wren.text("p", "All 14 work parties").await;
    // One view of another tracker, in which she is nobody.
    nadia.go("/t/2/24/54").await;
    nadia.click("[data-test=view-menu]").await;
    nadia.click("[data-test=give-this-view]").await;
    nadia.choose("[data-test=give-to]", "Wren Castellane").await;
    nadia.text("p", "1 person sees more.").await;
    nadia.is_open_to_all("giving a view").await;
    nadia.click("[data-test=give]").await;
    nadia.text("p", "You changed the view").await;
    wren.go("/t/2/24").await;
    wren.text("h1", "Waiting").await;
    wren.is_open_to_all("a view that was given").await;
    wren.click("[data-test=view-menu]").await;
    wren.press("a", "Waiting").await;
    let words = wren.words().await;
    assert!(!["What became of it", "All repairs", "Menders"].iter().any(|other| words.contains(other)), "{words}");
    nadia.press("button", "Undo").await;
    wren.text("h1", "This tracker is not open to you").await;
    for browser in [nadia, wren] {
        browser.close().await;
    }
}
