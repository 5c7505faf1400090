//! A calendar by its hours: a week and a day, by mouse, by keys alone and on a phone, with another browser open.

use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

const WEEK: &str = "/t/1/6/116";

/// Changes a record as somebody does elsewhere.
async fn change(browser: &Browser, record: u64, edits: &str) {
    let done = browser
        .script(&format!(
            "const answer = await fetch('/api/trackers/1/tables/6/records/{record}', {{ method: 'PATCH', \
             headers: {{ 'content-type': 'application/json' }}, body: JSON.stringify({{ edits: [{edits}] }}) }}); return answer.status"
        ))
        .await;
    assert_eq!(done.as_u64(), Some(200), "{done}");
}

/// What the bar of a record says of itself.
async fn says(browser: &Browser, record: u64) -> String {
    let script = format!("return document.querySelector('.bar[data-record=\"{record}\"] [data-mark]')?.ariaLabel ?? ''");
    browser.script(&script).await.as_str().unwrap_or_default().to_owned()
}

async fn comes_to(browser: &Browser, record: u64, when: &str) {
    browser.until(&format!("{record} is {when}"), || async move { says(browser, record).await.contains(when) }).await;
}

/// Begins a work order on today, and gives its number.
async fn begun(browser: &Browser) -> u64 {
    let all = "return [...document.querySelectorAll('.bar[data-record]')].map((bar) => Number(bar.dataset.record))";
    let before = browser.script(all).await;
    browser.see("section.now .number").await;
    browser.script("document.querySelector('section.now [data-add]').click()").await;
    browser
        .until("there is one more", || async { browser.script(all).await.as_array().map(Vec::len) > before.as_array().map(Vec::len) })
        .await;
    let now = browser.script(all).await;
    let known = before.as_array().cloned().unwrap_or_default();
    now.as_array().and_then(|all| all.iter().find(|one| !known.contains(one))?.as_u64()).expect("the new one")
}

#[tokio::test(flavor = "multi_thread")]
async fn a_week_says_who_is_out_when_who_is_bound_twice_and_moves_by_mouse_and_by_keys() {
    let server = Server::start(40).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    let bex = driver.browser(&server, 1280, 800).await;
    for (one, name) in [(&nadia, "Nadia Ferreira-Holt"), (&bex, "Bex Lindqvist")] {
        one.walk_in(name).await;
        one.go(WEEK).await;
        one.click("[data-scale=week]").await;
        one.see("[data-test=week-hours]").await;
    }
    let first = begun(&nadia).await;
    comes_to(&nadia, first, "9:00").await;
    change(&nadia, first, r#"{ field: 273, input: { value: { person: 2 } } }, { field: 277, input: { text: "3" } }"#).await;
    comes_to(&bex, first, "9:00 to 12:00").await;
    let second = begun(&nadia).await;
    change(&nadia, second, r#"{ field: 273, input: { value: { person: 2 } } }, { field: 277, input: { text: "1" } }"#).await;
    comes_to(&nadia, second, "9:00 to 10:00").await;
    bex.text("p", "has two at once 9:00 to 10:00").await;

    // By keys: a quarter of an hour on, and longer; each is seen elsewhere, and taken back.
    nadia.script(&format!("document.querySelector('.bar[data-record=\"{second}\"] [data-mark]').focus()")).await;
    nadia.chord(&[Key::Alt], Key::Right).await;
    comes_to(&nadia, second, "9:15 to 10:15").await;
    nadia.chord(&[Key::Alt, Key::Shift], Key::Right).await;
    comes_to(&bex, second, "9:15 to 10:30").await;
    nadia.chord(&[Key::Control], 'z').await;
    comes_to(&bex, second, "9:15 to 10:15").await;
    nadia.is_open_to_all("a week by its hours").await;

    // By the mouse: to another day of the week; what it would be is said while it is carried.
    let bar = nadia.see(&format!(".bar[data-record='{second}'] .said")).await;
    let there = nadia.see(".week-hours section:not(.now) .rows").await;
    nadia.carry(&bar, &there, 0).await;
    nadia.until("it is on another day", || async {
        let script = format!("return !document.querySelector('section.now .bar[data-record=\"{second}\"]') && !!document.querySelector('.bar[data-record=\"{second}\"]')");
        nadia.script(&script).await.as_bool() == Some(true)
    })
    .await;
    nadia.text("p", "You changed Planned time of").await;
    nadia.until("nobody is bound twice", || async { nadia.count("[data-test=twice]").await == 0 }).await;

    // A day: threads, and a free stretch that is pressed begins something there.
    nadia.script("document.querySelector('section.now [data-day-hours]').click()").await;
    nadia.see("[data-test=day-hours] .thread[data-thread='Tamsin Oake']").await;
    nadia.is_open_to_all("a day by its hours").await;
    nadia.script(&format!("document.querySelector('.thread .bar[data-record=\"{first}\"] [data-mark]').focus()")).await;
    nadia.chord(&[Key::Alt], Key::Down).await;
    comes_to(&nadia, first, "9:15 to 12:15").await;
    comes_to(&bex, first, "9:15 to 12:15").await;
    bex.close().await;
    nadia.close().await;

    // On a phone the week is its days with their hours, and a day one thread at a time.
    let phone = driver.browser(&server, 390, 844).await;
    phone.walk_in("Nadia Ferreira-Holt").await;
    phone.go(WEEK).await;
    phone.click("[data-scale=week]").await;
    phone.text("button", "9:15 to 12:15").await;
    phone.is_open_to_all("a week on a phone").await;
    phone.click("[data-test=agenda-day]").await;
    phone.see("[data-test=day-hours] .thread").await;
    assert_eq!(phone.count(".thread").await, 1);
    phone.close().await;
}
