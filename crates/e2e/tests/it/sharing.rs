//! Pages for people outside: a parish clerk who is named, and a view that is shared with a passcode.

use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

const CLERK: &str = "clerk@eskermoor-parish.example";

/// The code that was mailed last, as the coordinator of the demo reads it in the post room.
async fn code(nadia: &Browser) -> String {
    nadia.go("/post-room").await;
    let letter = nadia.text("button", "is your code for “Path faults in Eskermoor parish”").await.text().await.unwrap();
    let (before, _) = letter.split_once(" is your code").expect("its subject begins with the code");
    before.chars().rev().take(9).collect::<String>().chars().rev().collect()
}

async fn come_in(page: &Browser, nadia: &Browser) {
    page.go("/p/eskermoor-parish").await;
    page.text("h1", "This page is for named people").await;
    page.is_open_to_all("the door of a shared page").await;
    page.fill("[data-test=page-mail]", CLERK).await;
    page.press("button", "Mail me a code").await;
    page.text("h1", "Look into your mail").await;
    let code = code(nadia).await;
    page.fill("[data-test=page-code]", "1111 1111").await;
    page.press("button", "Come in").await;
    page.text("p", "This code does not fit, or is over.").await;
    page.fill("[data-test=page-code]", &code).await;
    page.press("button", "Come in").await;
    page.text("h1", "Path faults in Eskermoor parish").await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_parish_clerk_comes_in_with_a_mailed_code_and_fills_in_a_field() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    let clerk = driver.browser(&server, 1280, 800).await;
    come_in(&clerk, &nadia).await;
    clerk.text("p", "From Orrindale Paths Trust for the clerk of Eskermoor Parish Council, until ").await;
    clerk.text("p", "fill in “Parish can help” and “Note from the parish” and send in “Report a path fault”.").await;
    clerk.is_open_to_all("a shared page").await;
    // Nothing but the two white columns is written in, and nothing else of the tracker is named.
    assert_eq!(clerk.count("thead th").await, 6);
    assert_eq!(clerk.count("tbody tr:first-child .box").await, 2);
    let first = clerk.read("tbody tr:first-child .record").await;
    clerk.click("tbody tr:first-child input.box").await;
    clerk.keys("two of us are free on Friday").await;
    clerk.keys(Key::Enter).await;
    clerk.text("span", "kept ").await;
    // The team sees it, with page and address in the trail.
    nadia.go("/t/1/3/100").await;
    nadia.press_cell(&first, "What is wrong").await;
    nadia.chord(&[Key::Control], '\u{e007}').await;
    nadia.text("*", "two of us are free on Friday").await;
    nadia.text("*", &format!("{CLERK}, by the page")).await;
    // The same page on a phone, for somebody who came in there; what the other wrote is there.
    let phone = driver.browser(&server, 390, 844).await;
    come_in(&phone, &nadia).await;
    phone.is_open_to_all("a shared page on a phone").await;
    let value = phone.see("tbody tr:first-child input.box").await.value().await.unwrap();
    assert_eq!(value.as_deref(), Some("two of us are free on Friday"));
    phone.click("tbody tr:first-child .record").await;
    phone.text("h2", &first).await;
    phone.is_open_to_all("a record of a shared page").await;
    phone.press("label", "with tools").await;
    phone.click("[data-test=keep-record]").await;
    phone.text("span", "Kept ").await;
    // The other screen follows by itself.
    clerk
        .until("the other screen shows what was chosen on the phone", || async {
            let chosen = clerk.script("return document.querySelector('tbody tr select.box').selectedOptions[0].text").await;
            chosen.as_str() == Some("with tools")
        })
        .await;
    // Taken back, both are outside under their eyes.
    nadia.go("/t/1/pages/124").await;
    nadia.is_open_to_all("a shared page as it is composed").await;
    nadia.press("button", CLERK).await;
    nadia.press("button", "Take back").await;
    nadia.fill("[data-test=guest-mail]", "new.clerk@eskermoor-parish.example").await;
    nadia.click("[data-test=door-done]").await;
    nadia.click("[data-test=keep-page]").await;
    nadia.text("button", "new.clerk@eskermoor-parish.example").await;
    for page in [&clerk, &phone] {
        page.text("h1", "This page is for named people").await;
    }
    for page in [nadia, clerk, phone] {
        page.close().await;
    }
}

/// What visitors fill in may be a link, too: they choose among what the page offers; and why they see something is told at the page.
#[tokio::test(flavor = "multi_thread")]
async fn a_clerk_chooses_among_what_is_offered_and_why_they_may_is_told() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/pages/124").await;
    nadia.press("button", "“Parish can help” and “Note from the parish”").await;
    nadia.press("label", "Section").await;
    nadia.keys(Key::Escape).await;
    nadia.text("p", "for “Section” they choose among all sections").await;
    nadia.press("button", "all sections").await;
    nadia.see("[data-test=page-offers]").await;
    nadia.is_open_to_all("among which records visitors choose").await;
    nadia.press("button", "Done").await;
    nadia.click("[data-test=keep-page]").await;
    // Why, of whoever comes to this page.
    nadia.see("[data-test=why-record] input").await.send_keys("Gate").await.unwrap();
    nadia.click("div[role=option]").await;
    nadia.text("p", "It names their address, to which it mails a code").await;
    nadia.text("p", "What stands there under “Still open”").await;
    nadia.is_open_to_all("why a visitor sees a record").await;
    let clerk = driver.browser(&server, 390, 844).await;
    come_in(&clerk, &nadia).await;
    clerk.click("tbody tr:first-child td[data-name=Section] button").await;
    let first = clerk.read("dialog .taken").await;
    clerk.click("dialog .taken button").await;
    clerk.see("dialog input[role=combobox]").await.send_keys("tarn").await.unwrap();
    clerk.is_open_to_all("choosing a record on a shared page").await;
    clerk.keys(Key::Down).await;
    clerk.keys(Key::Enter).await;
    let chosen = clerk.read("dialog .taken").await;
    assert_ne!(chosen, first);
    clerk.click("[data-test=keep-record]").await;
    clerk.text("span", "Kept ").await;
    for page in [nadia, clerk] {
        page.close().await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_view_is_shared_with_a_passcode_tried_opened_and_closed_again() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/102").await;
    nadia.click("[data-test=view-menu]").await;
    nadia.click("[data-test=share-outside]").await;
    nadia.text("p", "Visitors look at ").await;
    nadia.press("button", "Anybody who has the link").await;
    nadia.press("label", "Whoever knows a passcode, too").await;
    nadia.fill("[data-test=passcode]", "weir").await;
    nadia.click("[data-test=door-done]").await;
    nadia.click("[data-test=keep-page]").await;
    nadia.text("p", "A passcode has from 6 to 200 characters.").await;
    nadia.press("button", "Whoever has the link and the passcode").await;
    nadia.fill("[data-test=passcode]", "heron-ford").await;
    nadia.click("[data-test=door-done]").await;
    nadia.press("button", "fields to fill in").await;
    nadia.press("label", "Hours needed").await;
    nadia.keys(Key::Escape).await;
    nadia.text("p", "they fill in “Hours needed”").await;
    nadia.click("[data-test=keep-page]").await;
    nadia.click("[data-test=open-page]").await;
    nadia.press("button", "Close it").await;
    nadia.press("button", "Open it").await;
    nadia.text("button", "Close it").await;
    let address = nadia.read("[data-test=page-address]").await;
    let path = &address[address.find("/p/").unwrap()..];
    // Tried by whoever shares it, as one who comes: nothing that is written there is kept.
    let tried = driver.browser(&server, 1280, 800).await;
    tried.walk_in("Nadia Ferreira-Holt").await;
    tried.go(&format!("{path}?as=0")).await;
    tried.text("p", "You look at this page as anybody who comes to it would.").await;
    tried.click("tbody tr:first-child input.box").await;
    tried.keys("7").await;
    tried.keys(Key::Enter).await;
    tried.text("p", "Nothing that you write here is kept.").await;
    // A stranger with the passcode.
    let stranger = driver.browser(&server, 390, 844).await;
    stranger.go(path).await;
    stranger.fill("[data-test=passcode]", "heron-fort").await;
    stranger.press("button", "Come in").await;
    stranger.text("p", "This is not the passcode.").await;
    stranger.fill("[data-test=passcode]", "heron-ford").await;
    stranger.press("button", "Come in").await;
    stranger.text("h1", "Blocked or dangerous").await;
    let all = stranger.count("tbody tr").await;
    stranger.script("const s = document.querySelector('[aria-label=\"Which Severity\"]'); s.selectedIndex = 4; s.dispatchEvent(new Event('change'))").await;
    stranger
        .until("only the dangerous ones are left", || async {
            let left = stranger.count("tbody tr").await;
            left < all && left > 0
        })
        .await;
    // What is typed wrong stays, with what is wrong with it.
    let hours = "tbody tr:first-child input.box";
    stranger.click(hours).await;
    stranger.chord(&[Key::Control], 'a').await;
    stranger.keys("many").await;
    stranger.keys(Key::Enter).await;
    stranger.text("p", "“many” is not a number").await;
    assert_eq!(stranger.see(hours).await.value().await.unwrap().as_deref(), Some("many"));
    nadia.press("button", "Close it").await;
    stranger.text("h1", "Nothing to see here").await;
    for page in [nadia, tried, stranger] {
        page.close().await;
    }
}

/// What is shared outside stands there as it does inside: in lanes, on days, as plates, in groups and as figures.
#[tokio::test(flavor = "multi_thread")]
async fn a_view_is_shared_in_its_shape_and_looked_at_in_each_also_on_a_phone() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/113").await;
    nadia.click("[data-test=view-menu]").await;
    nadia.click("[data-test=share-outside]").await;
    nadia.text("button", "lanes by status").await;
    nadia.click("[data-test=open-page]").await;
    nadia.text("button", "Close it").await;
    let address = nadia.read("[data-test=page-address]").await;
    let path = &address[address.find("/p/").unwrap()..];
    let (stranger, phone) = (driver.browser(&server, 1280, 800).await, driver.browser(&server, 390, 844).await);
    let shaped = async |phrase: &str, shape: &str| {
        nadia.press("button", phrase).await;
        nadia.click(&format!("[data-shape={shape}]")).await;
        nadia.keys(Key::Escape).await;
        nadia.click("[data-test=keep-page]").await;
    };
    for page in [&stranger, &phone] {
        page.go(path).await;
        page.see(".lane .entry").await;
        page.is_open_to_all("lanes of a shared page").await;
    }
    let first = ".lane .entry .name button";
    let name = stranger.read(first).await;
    stranger.click(first).await;
    stranger.text("h2", &name).await;
    stranger.press("button", "Close").await;

    // Its screens follow, whatever it becomes.
    shaped("lanes by status", "calendar").await;
    stranger.see("button.mark").await;
    phone.click("[data-test=month-before]").await;
    phone.see(".turn b").await;
    phone.click("[data-test=month-after]").await;
    phone.see(".day-list .entry").await;
    for page in [&stranger, &phone] {
        page.is_open_to_all("a calendar of a shared page").await;
    }
    shaped("a calendar by", "cards").await;
    for page in [&stranger, &phone] {
        page.see(".plate .name button").await;
        page.is_open_to_all("plates of a shared page").await;
    }
    shaped("cards", "cross-tab").await;
    for page in [&stranger, &phone] {
        page.text("th", "All").await;
        page.is_open_to_all("a cross-tab of a shared page").await;
    }
    shaped("a cross-tab", "rows").await;
    nadia.press("button", "group").await;
    nadia.choose("[aria-label='Group by']", "Severity").await;
    nadia.keys(Key::Escape).await;
    nadia.click("[data-test=keep-page]").await;
    for page in [&stranger, &phone] {
        page.text("th", "passable").await;
        page.is_open_to_all("groups of a shared page").await;
    }
    for page in [nadia, stranger, phone] {
        page.close().await;
    }
}
