//! One table in other shapes: lanes and cards, by mouse, by keys, on a phone, and in two browsers at once.

use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

/// How many faults a lane holds, as its head says.
async fn holds(browser: &Browser, lane: &str) -> u32 {
    let head = browser.read(&format!("[data-lane=\"{lane}\"] h2 button")).await;
    head.split_whitespace().next().and_then(|count| count.parse().ok()).unwrap_or_default()
}

async fn comes_to(browser: &Browser, lane: &str, count: u32) {
    browser.until(&format!("{lane} holds {count}"), || async move { holds(browser, lane).await == count }).await;
}

/// The first fault of the lane *reported*.
const FIRST: &str = "[data-column=reported] .entry [data-field='What is wrong']";

#[tokio::test(flavor = "multi_thread")]
async fn faults_move_along_their_lanes_by_mouse_and_by_keys_and_others_see_it() {
    let server = Server::start(120).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    let bex = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    bex.walk_in("Bex Lindqvist").await;
    for one in [&nadia, &bex] {
        one.go("/t/1/3/113").await;
        one.see("[data-column=reported] .entry").await;
    }
    let (reported, checked) = (holds(&nadia, "reported").await, holds(&nadia, "checked").await);

    // By keys: the record one is at goes into the lane beside, and is taken back.
    let title = nadia.read(FIRST).await;
    nadia.click(FIRST).await;
    nadia.see(".entry.here").await;
    nadia.chord(&[Key::Alt, Key::Shift], Key::Right).await;
    comes_to(&nadia, "checked", checked + 1).await;
    comes_to(&bex, "checked", checked + 1).await;
    comes_to(&bex, "reported", reported - 1).await;
    nadia.text("p", "You changed Status of").await;
    nadia.chord(&[Key::Control], 'z').await;
    comes_to(&nadia, "checked", checked).await;
    comes_to(&bex, "reported", reported).await;
    assert_eq!(nadia.read(FIRST).await, title, "it stands where it stood, as long as before");

    // Two at once, with what each lane would do told beforehand; one step.
    for _ in 0..2 {
        nadia.chord(&[Key::Control], ' ').await;
        nadia.keys(Key::Down).await;
    }
    nadia.text("b", "2 faults").await;
    nadia.click("[data-test=move-chosen]").await;
    nadia.text("span", "2 faults leave this view").await;
    nadia.is_open_to_all("moving records to another lane").await;
    nadia.click("[data-to=checked]").await;
    comes_to(&nadia, "checked", checked + 2).await;
    comes_to(&bex, "checked", checked + 2).await;
    nadia.press("button", "Undo").await;
    comes_to(&nadia, "checked", checked).await;

    // Everything is edited in place, the title too.
    nadia.click(FIRST).await;
    nadia.keys(Key::Enter).await;
    nadia.see(".entry .editor").await;
    nadia.keys(Key::End).await;
    nadia.keys(", seen again").await;
    nadia.keys(Key::Enter).await;
    nadia.text("div", ", seen again").await;
    bex.text("div", ", seen again").await;

    // A lane is put away, takes what it gets, and comes back; its limit is shown.
    nadia.click("[data-lane=scheduled] h2 button").await;
    nadia.click("[data-test=put-away]").await;
    nadia.until("the lane is away", || async { nadia.count("[data-column=scheduled]").await == 0 }).await;
    nadia.click("[data-back=scheduled]").await;
    nadia.see("[data-column=scheduled]").await;
    nadia.click("[data-lane=checked] h2 button").await;
    nadia.fill("[data-test=most]", "1").await;
    nadia.click("[data-test=keep-limit]").await;
    nadia.text("p", "over its limit of 1").await;
    nadia.is_open_to_all("lanes").await;

    // Added in a lane, it has the lane's value.
    nadia.click("[data-add=checked]").await;
    nadia.text("p", "Still asked: what is wrong.").await;
    nadia.text("div[@data-fact='Status']", "checked").await;
    nadia.keys("Stile leans").await;
    nadia.chord(&[Key::Control], Key::Enter).await;
    comes_to(&nadia, "checked", checked + 1).await;
    nadia.close().await;
    bex.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn on_a_phone_lanes_are_turned_one_by_one_and_records_moved_without_carrying_them() {
    let server = Server::start(120).await;
    let driver = Driver::start().await;
    let tamsin = driver.browser(&server, 390, 844).await;
    tamsin.walk_in("Tamsin Oake").await;
    tamsin.go("/t/1/3/113").await;
    tamsin.see(".entry").await;
    let was = tamsin.read(".lane h2 button").await;
    tamsin.click("[data-test=lane-behind]").await;
    tamsin.until("another lane", || async { tamsin.read(".lane h2 button").await != was }).await;
    tamsin.click("[data-test=move]").await;
    tamsin.see("[data-to=\"made good\"]").await;
    tamsin.is_open_to_all("lanes on a phone").await;
    tamsin.click("[data-to=\"made good\"]").await;
    tamsin.text("p", "You changed Status of").await;
    tamsin.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_view_is_begun_in_a_shape_grouped_by_month_figured_locked_and_looked_at_as_cards() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/101").await;
    // Each view says what it shows, and a new one begins in a shape.
    nadia.click("[data-test=view-menu]").await;
    nadia.text("small", "as lanes by status.").await;
    nadia.click("[data-begin=cards]").await;
    nadia.fill("[data-test=view-about]", "What walkers sent pictures of").await;
    nadia.press("button", "Begin view").await;
    nadia.see(".plate").await;
    nadia.text("p", "What walkers sent pictures of").await;
    // By days in runs, and with figures of more than one sort.
    nadia.press("button", "group").await;
    nadia.choose("[data-test=add-order]", "Reported on").await;
    nadia.text("button", "reported on by month").await;
    nadia.keys(Key::Escape).await;
    nadia.press("button", "figure").await;
    nadia.choose("[data-test=add-tally]", "Due").await;
    nadia.keys(Key::Escape).await;
    nadia.text("span", "due: earliest").await;
    nadia.click("[data-test=save-view]").await;
    nadia.is_open_to_all("cards").await;
    // A card is edited in place.
    nadia.click(".plate [data-field=\"What is wrong\"]").await;
    nadia.keys(Key::Enter).await;
    nadia.see(".plate .editor").await;
    nadia.keys(Key::End).await;
    nadia.keys(" by the wall").await;
    nadia.keys(Key::Enter).await;
    nadia.text("div", "by the wall").await;
    // Locked, it stays as it is.
    nadia.click("[data-test=view-menu]").await;
    nadia.click("[data-test=lock-view]").await;
    nadia.click("[data-test=view-menu]").await;
    nadia.text("button", "Unlock this view").await;
    nadia.text("span", "locked").await;
    nadia.close().await;
}

/// On which day of the almanac a work party begins, as its line and column say.
async fn stands_on(browser: &Browser, record: u32) -> String {
    let script = format!(
        "const mark = document.querySelector('[data-record=\"{record}\"]'); if (!mark) return ''; \
         const column = Number(mark.style.gridColumn.split('/')[0]); \
         return mark.closest('.days').querySelectorAll('.day')[column - 1].dataset.day"
    );
    browser.script(&script).await.as_str().unwrap_or_default().to_owned()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_calendar_shows_who_is_out_and_days_are_changed_in_it_by_keys_and_by_picking() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    let bex = driver.browser(&server, 1280, 800).await;
    for (one, name) in [(&nadia, "Nadia Ferreira-Holt"), (&bex, "Bex Lindqvist")] {
        one.walk_in(name).await;
        one.go("/t/1/8/398").await;
        one.see("[data-record]").await;
    }
    let record: u32 = nadia.see("[data-record]").await.attr("data-record").await.unwrap().unwrap().parse().unwrap();
    let before = stands_on(&nadia, record).await;
    // By keys it goes a day on, and as long as it was.
    nadia.script(&format!("document.querySelector('[data-record=\"{record}\"] [data-mark]').focus()")).await;
    nadia.chord(&[Key::Alt, Key::Shift], Key::Right).await;
    nadia.until("a day on", || async { stands_on(&nadia, record).await > before }).await;
    let after = stands_on(&nadia, record).await;
    bex.until("a day on for others too", || async { stands_on(&bex, record).await == after }).await;
    nadia.chord(&[Key::Control], 'z').await;
    bex.until("and back", || async { stands_on(&bex, record).await == before }).await;
    nadia.is_open_to_all("a calendar").await;

    // A day lies open in place; a year is twelve lines.
    nadia.click(&format!("[data-day=\"{before}\"] .number")).await;
    nadia.see("[data-test=open-day] li").await;
    nadia.click("[data-test=fold-day]").await;
    nadia.click("[data-scale=year]").await;
    nadia.text("h3", "November").await;
    nadia.click("[data-scale=month]").await;

    // Added on a day, it has the day.
    let shown = nadia.count("[data-record]").await;
    nadia.script(&format!("document.querySelector('[data-add=\"{before}\"]').click()")).await;
    nadia.text("p", "Still asked: what.").await;
    nadia.keys("Boards for the bog").await;
    nadia.chord(&[Key::Control], Key::Enter).await;
    nadia.until("one more", || async { nadia.count("[data-record]").await > shown }).await;
    // What has no day waits at the side, and is given one by picking.
    nadia.go("/t/1/3/101").await;
    nadia.click("[data-test=view-menu]").await;
    nadia.click("[data-begin=calendar]").await;
    nadia.press("button", "Begin view").await;
    nadia.see("[data-test=calendar]").await;
    nadia.close().await;
    bex.close().await;

    let phone = driver.browser(&server, 390, 844).await;
    phone.walk_in("Nadia Ferreira-Holt").await;
    phone.go("/t/1/8/398").await;
    phone.see("[data-test=other-day]").await;
    phone.is_open_to_all("a calendar on a phone").await;
    phone.click("[data-test=other-day]").await;
    phone.click(".v-date-picker-month__day button").await;
    phone.text("p", "You changed").await;
    phone.close().await;
}
