//! A calculation is written, mistyped, mended, tried and kept; and asked why.

use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

/// Types a formula in place of the one that stands there.
async fn write(browser: &Browser, formula: &str) {
    browser.click("[data-test=formula]").await;
    browser.chord(&[Key::Control], 'a').await;
    // What is offered on the way would take Enter and Tab, which a formula has none of.
    browser.keys(formula).await;
    browser.keys(Key::Escape).await;
}

async fn text_of(browser: &Browser, css: &str) -> String {
    browser.read(css).await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_calculation_is_changed_with_help_and_every_screen_shows_it() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    let tamsin = driver.browser(&server, 1280, 800).await;
    tamsin.walk_in("Tamsin Oake").await;
    tamsin.go("/t/1/3/100").await;
    tamsin.see("[data-field='Days open']").await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/100").await;
    nadia.click("[data-heading='Days open']").await;
    nadia.click("[data-test=slip-formula]").await;
    nadia.text("p", "It gives a number.").await;
    nadia.is_open_to_all("a calculation").await;

    // Mistyped: underlined at its place, told in plain words, and put right with one press.
    write(&nadia, "ROUND((TODAY() - Reportd on) / 7, 1)").await;
    nadia.text("p", "no field “Reportd on” in Faults; did you mean “Reported on”?").await;
    nadia.see(".cm-lintRange-error").await;
    assert!(!nadia.see("[data-test=keep]").await.is_enabled().await.unwrap());
    nadia.press("button", "Put Reported on").await;
    // The result on one record after another, worked out before anything is kept.
    nadia.until("the result is shown", || async { text_of(&nadia, "[data-test=result]").await != "…" }).await;
    nadia
        .until("it is tried step by step", || async {
            nadia.words().await.contains("ROUND((23 Nov") || nadia.count("[data-test=steps] li").await > 0
        })
        .await;
    let first = text_of(&nadia, "[data-test=result]").await;
    nadia.click("[data-test=next-sample]").await;
    nadia.click("[data-test=next-sample]").await;
    nadia.until("another record, another result", || async { text_of(&nadia, "[data-test=result]").await != first }).await;
    // What went in that is itself computed can be asked why from here too.
    write(&nadia, "Due - TODAY()").await;
    nadia.press("td/button", "Why?").await;
    nadia.text("p", "Reported on + SWITCH(").await;
    nadia.keys(Key::Escape).await;
    // Names and functions are offered while one types; the signature stands below.
    write(&nadia, "ROUNDU").await;
    nadia.text("p", "ROUNDU").await;
    nadia.keys("P(").await;
    nadia.text("p", "ROUNDUP(number, [digits])").await;
    write(&nadia, "ROUNDUP((TODAY() - Reported on) / 7, 0)").await;
    nadia.press("label", "number").await;
    nadia.see("[data-test=keep]:not([disabled])").await;
    nadia.click("[data-test=keep]").await;
    nadia.text("p", "You changed the calculation Days open.").await;
    // On the warden's open screen too, in weeks now, and why.
    let weeks = |text: &str| text.parse::<u32>().is_ok_and(|n| n < 30);
    tamsin.until("her screen counts weeks", || async { weeks(&text_of(&tamsin, "[role=row] [data-field='Days open']").await) }).await;
    tamsin.click("[role=row] [data-field='Days open']").await;
    tamsin.chord(&[Key::Control], '.').await;
    tamsin.text("p", "ROUNDUP((TODAY() - Reported on) / 7, 0)").await;
    tamsin.is_open_to_all("the why slip").await;
    tamsin.keys(Key::Escape).await;
    tamsin.click("[data-heading='Days open']").await;
    tamsin.see("[data-test=narrow-by]").await;
    assert_eq!(tamsin.count("[data-test=field-settings]").await, 0, "a warden changes no fields");
    tamsin.keys(Key::Escape).await;
    // One press takes it back, everywhere.
    nadia.press("button", "Undo").await;
    let before = "IF(OR(Status = \"made good\", Status = \"no action\"), \"\", TODAY() - Reported on)";
    let told = || async {
        tamsin.keys(Key::Escape).await;
        tamsin.press_cell("FR-2026", "Days open").await;
        tamsin.chord(&[Key::Control], '.').await;
        tamsin.text("p", "TODAY() - Reported on").await;
        tamsin.words().await.contains(before)
    };
    tamsin.until("the slip tells it as it was", told).await;
    for browser in [nadia, tamsin] {
        browser.close().await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_new_calculation_stands_in_the_view_and_every_figure_says_why() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/1/105").await;
    nadia.click("[data-heading='Open faults']").await;
    nadia.click("[data-test=slip-calculation]").await;
    nadia.see("[data-test=name]").await.send_keys("Faults per section").await.unwrap();
    write(&nadia, "Open faults / Sectio").await;
    nadia.text("p", "no field “Sectio” in Districts").await;
    // A circle is refused and named.
    write(&nadia, "Open faults / Section count").await;
    nadia.text("p", "It gives a number.").await;
    nadia.see("input[aria-label=Decimals]").await.send_keys(Key::Backspace + "2").await.unwrap();
    nadia.see("[data-test=keep]:not([disabled])").await;
    nadia.click("[data-test=keep]").await;
    nadia.text("p", "You made the calculation Faults per section.").await;
    assert!(nadia.read_cell("Eskermoor", "Faults per section").await.contains('.'), "with decimals");

    // Why, from the calculation to the summary it draws on, and back.
    nadia.press_cell("Eskermoor", "Faults per section").await;
    nadia.chord(&[Key::Control], '.').await;
    nadia.text("p", "Open faults / Section count").await;
    nadia.press("td/button", "Why?").await;
    nadia.text("p", "A summary: the count of faults where status is not made good or no action.").await;
    nadia.press("button", "← back").await;
    nadia.text("p", "Open faults / Section count").await;
    nadia.keys(Key::Escape).await;

    // The other figures of the story.
    for (page, row, field, how) in [
        ("/t/1/1/105", "Eskermoor", "Money spent", "A summary: the sum of total in work orders."),
        ("/t/1/6/106", "WO-2026-001", "Total", "Labour hours * Hourly rate + Materials cost"),
        ("/t/1/6/106", "WO-2026-001", "Hourly rate", "Copied from “Hourly rate” of district"),
        ("/t/1/5/107", "Gate", "Line cost", "Quantity * Unit price"),
        ("/t/1/3/100", "FR-2026-0060", "Days open", "TODAY() - Reported on"),
        ("/t/1/2/104", "PS-001", "Next inspection", "EDATE(Last inspected, SWITCH(Difficulty, \"hard\", 6, \"fair\", 9, 12))"),
        ("/t/1/3/100", "FR-2026-0060", "Due", "Reported on + SWITCH(Severity"),
        ("/t/1/3/100", "FR-2026-0060", "Warden", "Carried from “Warden” along Section → District."),
        ("/t/1/3/100", "FR-2026-0060", "Status", "It was put in."),
    ] {
        nadia.go(page).await;
        nadia.press_cell(row, field).await;
        nadia.chord(&[Key::Control], '.').await;
        nadia.text("p", how).await;
    }
    // And why a record is in the view at all.
    nadia.go("/t/1/3/102").await;
    let cell = nadia.see("[role=row] [data-field='What is wrong']").await;
    nadia.web.action_chain().context_click_element(&cell).perform().await.unwrap();
    nadia.press("button", "Why is it in this view?").await;
    nadia.text("p", "severity is blocked or dangerous").await;
    nadia.text("h3", "It is here because").await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn every_calculation_and_summary_of_the_demo_is_changed_in_the_interface() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    // What stands at the end of each formula is typed on; the view then shows another value.
    for (view, heading, row, more) in [
        ("/t/1/3/100", "Due", "FR-2026-0060", " + 1"),
        ("/t/1/2/104", "Next inspection", "PS-001", " + 7"),
        ("/t/1/5/107", "Line cost", "Gate", " * 2"),
        ("/t/1/6/106", "Total", "WO-2026-001", " + 100"),
    ] {
        nadia.go(view).await;
        let before = nadia.read_cell(row, heading).await;
        nadia.click(&format!("[data-heading='{heading}']")).await;
        nadia.click("[data-test=slip-formula]").await;
        nadia.text("p", "It gives").await;
        nadia.click("[data-test=formula]").await;
        nadia.chord(&[Key::Control], Key::End).await;
        nadia.keys(more).await;
        nadia.see("[data-test=keep]:not([disabled])").await;
        nadia.click("[data-test=keep]").await;
        nadia.text("p", &format!("You changed the calculation {heading}.")).await;
        nadia.until("the value is another", || async { nadia.read_cell(row, heading).await != before }).await;
    }
    // The districts' spending: a summary, of only some orders now.
    nadia.go("/t/1/1/105").await;
    let before = nadia.read_cell("Eskermoor", "Money spent").await;
    nadia.click("[data-heading='Money spent']").await;
    nadia.click("[data-test=slip-formula]").await;
    nadia.choose("[aria-label=Figure]", "the most").await;
    nadia.is_open_to_all("a summary").await;
    nadia.click("[data-test=keep]").await;
    nadia.text("p", "You changed the summary Money spent.").await;
    nadia.until("the most, not the sum", || async { nadia.read_cell("Eskermoor", "Money spent").await != before }).await;
    nadia.press("button", "Undo").await;
    nadia.until("the sum again", || async { nadia.read_cell("Eskermoor", "Money spent").await == before }).await;
    // And a new one, with a condition, two links away.
    nadia.click("[data-heading='Open faults']").await;
    nadia.click("[data-test=slip-summary]").await;
    nadia.see("[data-test=name]").await.send_keys("Hours to do").await.unwrap();
    nadia.choose("[aria-label=Along]", "Sections → Faults").await;
    nadia.choose("[aria-label=Figure]", "the sum").await;
    nadia.choose("[aria-label=Field]", "Hours needed").await;
    nadia.see("[data-test=keep]:not([disabled])").await;
    nadia.click("[data-test=keep]").await;
    nadia.text("p", "You made the summary Hours to do.").await;
    assert!(nadia.read_cell("Eskermoor", "Hours to do").await.ends_with('h'));
    nadia.press_cell("Eskermoor", "Hours to do").await;
    nadia.chord(&[Key::Control], '.').await;
    nadia.text("p", "A summary: the sum of hours needed in faults.").await;
    nadia.close().await;
}
