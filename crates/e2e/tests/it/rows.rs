//! Working in rows by keyboard.

use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Line, Server};

async fn text_of(browser: &Browser, row: &str, field: &str) -> String {
    browser.read_cell(row, field).await
}

async fn becomes(browser: &Browser, row: &str, field: &str, text: &str) {
    browser.until(&format!("{field} of {row} is {text}"), || async move { text_of(browser, row, field).await == text }).await;
}

/// Replaces a cell by typing, as one would: press it, type, Enter.
async fn put(browser: &Browser, row: &str, field: &str, typed: &str) {
    browser.press_cell(row, field).await;
    browser.keys(typed).await;
    browser.keys(Key::Enter).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn cells_of_every_kind_are_edited_by_keyboard_and_undone() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1600, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/101").await;
    let row = "FR-2026-0060";
    let before = text_of(&nadia, row, "What is wrong").await;
    put(&nadia, row, "What is wrong", "Handrail loose").await;
    becomes(&nadia, row, "What is wrong", "Handrail loose").await;
    put(&nadia, row, "Status", "sched").await;
    becomes(&nadia, row, "Status", "scheduled").await;
    put(&nadia, row, "Planned for", "24/12/2026").await;
    becomes(&nadia, row, "Planned for", "24 Dec 2026").await;
    put(&nadia, row, "Section", "tarn foot").await;
    becomes(&nadia, row, "Section", "Tarn Foot to Harrow Weir").await;
    // What is carried along the link follows at once.
    becomes(&nadia, row, "District", "Harrow Tarn").await;
    becomes(&nadia, row, "Warden", "Idris Pell").await;

    // A bad value stays to be mended, with what is wrong beneath it; Escape leaves the cell as it was.
    put(&nadia, row, "Planned for", "some day").await;
    nadia.text("p", "“some day” is not a date.").await;
    nadia.keys(Key::Escape).await;
    becomes(&nadia, row, "Planned for", "24 Dec 2026").await;
    // A cell that can't be edited says why.
    nadia.press_cell(row, "Warden").await;
    nadia.keys("x").await;
    nadia.text("p", "is carried from a linked record: change it there.").await;

    // Tab goes on to the next cell, arrows move, Enter edits what is there.
    nadia.press_cell(row, "What is wrong").await;
    nadia.keys(Key::Enter).await;
    nadia.keys(Key::End).await;
    nadia.keys(" again").await;
    nadia.keys(Key::Tab).await;
    becomes(&nadia, row, "What is wrong", "Handrail loose again").await;
    let active = nadia.see("[data-active=true]").await;
    assert_eq!(active.attr("data-field").await.unwrap().unwrap(), "Section");

    // Six steps back, one forth.
    for _ in 0..5 {
        nadia.chord(&[Key::Control], 'z').await;
        nadia.text("p", "Undone: you").await;
        tokio::time::sleep(std::time::Duration::from_millis(250)).await;
    }
    becomes(&nadia, row, "What is wrong", &before).await;
    nadia.chord(&[Key::Control, Key::Shift], 'z').await;
    becomes(&nadia, row, "What is wrong", "Handrail loose").await;

    // A number and a person, in other tables.
    nadia.go("/t/1/1/105").await;
    put(&nadia, "Eskermoor", "Season budget", "9,100").await;
    becomes(&nadia, "Eskermoor", "Season budget", "£9,100.00").await;
    put(&nadia, "Eskermoor", "Warden", "idris").await;
    becomes(&nadia, "Eskermoor", "Warden", "Idris Pell").await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_fast_typist_loses_nothing_to_a_slow_line() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1600, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/101").await;
    let row = "FR-2026-0060";
    nadia.cell(row, "What is wrong").await;
    nadia.line(Line::Slow).await;
    // Cell after cell, each typed before the one before has arrived. What the second says is no date: it waits in its cell, and
    // nobody is called back from what they type.
    put(&nadia, row, "What is wrong", "Handrail loose").await;
    put(&nadia, row, "Planned for", "some day").await;
    put(&nadia, "FR-2026-0059", "What is wrong", "Steps worn").await;
    nadia.press_cell("FR-2026-0058", "What is wrong").await;
    nadia.keys("Culvert").await;
    nadia.keys(" blocked").await;
    nadia.keys(Key::Enter).await;
    becomes(&nadia, row, "Planned for", "! some day").await;
    nadia.line(Line::Good).await;
    nadia.press_cell(row, "Planned for").await;
    nadia.keys(Key::Enter).await;
    nadia.text("p", "“some day” is not a date.").await;
    nadia.keys(Key::Escape).await;
    nadia.until("the cell is as it was", || async { nadia.count(".refused").await == 0 }).await;
    becomes(&nadia, row, "What is wrong", "Handrail loose").await;
    becomes(&nadia, "FR-2026-0059", "What is wrong", "Steps worn").await;
    becomes(&nadia, "FR-2026-0058", "What is wrong", "Culvert blocked").await;
    nadia.web.refresh().await.unwrap();
    becomes(&nadia, "FR-2026-0058", "What is wrong", "Culvert blocked").await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn records_are_added_in_their_group_kept_in_sight_and_put_into_the_bin() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/2/104").await;
    nadia.text("p", "All 64 sections").await;
    // In the group of a district the new section is of that district.
    nadia.press("div[@role='row'][contains(., 'Low Marrow')]//button", "+ section").await;
    nadia.text("p", "Still asked: name.").await;
    nadia.text("div[@data-fact='Warden']", "Jonah Adeyemi-Clark").await;
    nadia.text("p", "All 64 sections").await;
    nadia.keys("Heron Bank to Ford End").await;
    nadia.keys(Key::Tab).await;
    nadia.text("p", "It can be added.").await;
    nadia.click("[data-test=draft-add]").await;
    nadia.text("p", "All 65 sections").await;
    let new = "PS-065";
    becomes(&nadia, new, "Warden", "Jonah Adeyemi-Clark").await;
    becomes(&nadia, new, "Name", "Heron Bank to Ford End").await;

    // A new record that the view leaves out stays, marked, until one moves on.
    nadia.go("/t/1/3/102").await;
    nadia.text("p", "severity is blocked or dangerous").await;
    nadia.click("[data-test=add]").await;
    nadia.text("p", "Still asked: what is wrong.").await;
    nadia.keys("Just typed").await;
    nadia.chord(&[Key::Control], Key::Enter).await;
    nadia.text("span", "left out here").await;
    nadia.text("p", "of 61 faults").await;
    nadia.click("[role=row] [data-field='What is wrong']").await;
    nadia.until("the new record has gone from sight", || async { !nadia.words().await.contains("left out here") }).await;

    // Into the bin from the record's own menu, and back.
    nadia.go("/t/1/3/101").await;
    let cell = nadia.cell("FR-2026-0061", "What is wrong").await;
    nadia.web.action_chain().context_click_element(&cell).perform().await.unwrap();
    nadia.press("button", "Put into the bin").await;
    nadia.text("p", "All 60 faults").await;
    nadia.press("button", "Undo").await;
    nadia.text("p", "All 61 faults").await;
    // A group closes and opens.
    nadia.go("/t/1/3/100").await;
    nadia.press("button", "Eskermoor").await;
    nadia.until("the group is closed", || async { nadia.count("[role=row] [aria-expanded=false]").await == 1 }).await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn thousands_of_records_are_scrolled_and_jumped_through() {
    let server = Server::start(5_000).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/101").await;
    nadia.text("p", "All 5,000 faults").await;
    nadia.press_cell("FR-2026-5000", "What is wrong").await;
    assert!(nadia.count("[role=row]").await < 80, "only what is on the screen is drawn");
    nadia.chord(&[Key::Control], Key::End).await;
    nadia.cell("FR-2026-0001", "What is wrong").await;
    let grid = nadia.see("[data-test=grid]").await;
    assert_eq!(grid.attr("aria-rowcount").await.unwrap().unwrap(), "5001");
    nadia.close().await;
}

/// Whether every option of the open list can be pressed where it stands: nothing lies over it, and it is in the window.
const ALL_ON_TOP: &str = "
  const popup = document.querySelector('.cell-popup');
  if (!popup) return 'nothing is open';
  const options = [...popup.querySelectorAll('[role=option]')];
  if (!options.length) return 'no options';
  const list = popup.getBoundingClientRect();
  if (list.left < 0 || list.right > innerWidth || list.top < 0 || list.bottom > innerHeight) return 'out of the window';
  for (const option of options) {
    option.scrollIntoView({ block: 'nearest' });
    const box = option.getBoundingClientRect();
    const top = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
    if (!top || !option.contains(top)) return `${option.textContent} lies under ${top?.outerHTML.slice(0, 80)}`;
  }
  return '';
";

const PICK_IN_SIGHT: &str = "
  const [at, list] = [document.querySelector('.cell-popup .at'), document.querySelector('.cell-popup [role=listbox]')].map((e) => e.getBoundingClientRect());
  return at.top >= list.top - 1 && at.bottom <= list.bottom + 1 && at.bottom <= innerHeight;
";

#[tokio::test(flavor = "multi_thread")]
async fn what_opens_at_a_cell_lies_over_everything() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    for (width, height) in [(1280, 800), (1024, 600), (1024, 520)] {
        let nadia = driver.browser(&server, width, height).await;
        nadia.walk_in("Nadia Ferreira-Holt").await;
        nadia.go("/t/1/3/101").await;
        // The first row, and the last whose status is in sight.
        nadia.see("[data-field=Status]").await;
        let numbers =
            "return [...document.querySelectorAll('[data-field=Status]')].filter((c) => c.getBoundingClientRect().bottom < innerHeight)
            .map((c) => c.closest('[role=row]').innerText.match(/FR-\\d{4}-\\d{4}/)[0])";
        let numbers = nadia.script(numbers).await;
        let numbers: Vec<&str> = numbers.as_array().unwrap().iter().filter_map(|n| n.as_str()).collect();
        for row in [numbers.first().unwrap(), numbers.last().unwrap()] {
            nadia.press_cell(row, "Status").await;
            nadia.keys(Key::Enter).await;
            nadia.see(".cell-popup [role=option]").await;
            let fault = nadia.script(ALL_ON_TOP).await;
            assert_eq!(fault, "", "row {row} of {width}×{height}");
            nadia.keys(Key::Escape).await;
            nadia.until("the list is closed", || async { nadia.count(".cell-popup").await == 0 }).await;
        }
        // In a long list what Enter would pick stays in sight.
        nadia.go("/t/1/3/101").await;
        nadia.press_cell(numbers[0], "Section").await;
        nadia.keys(Key::Enter).await;
        for _ in 0..12 {
            nadia.see(".cell-popup [role=option].at").await;
            nadia.keys(Key::Down).await;
            nadia.until("what Enter would pick is in sight", || async { nadia.script(PICK_IN_SIGHT).await == true }).await;
        }
        nadia.keys(Key::Escape).await;
        nadia.close().await;
    }
}

/// What is written where one is in the grid.
async fn here(browser: &Browser) -> String {
    browser.script("return document.querySelector('[data-active=true]')?.innerText ?? ''").await.as_str().unwrap_or_default().to_owned()
}

#[tokio::test(flavor = "multi_thread")]
async fn groups_headings_and_menus_are_reached_by_keys_alone() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/2").await;
    nadia.press_cell("PS-001", "Name").await;

    // The head of the group: closed, and opened again.
    nadia.keys(Key::Up).await;
    nadia.until("one is at the first group", || async { here(&nadia).await.contains("Eskermoor") }).await;
    nadia.keys(Key::Left).await;
    nadia.see("[data-active=true] [aria-expanded=false]").await;
    nadia.until("its sections are gone", || async { !nadia.words().await.contains("PS-001") }).await;
    nadia.keys(Key::Right).await;
    nadia.see("[data-active=true] [aria-expanded=true]").await;

    // The headings, and what can be done with a field.
    nadia.keys(Key::Up).await;
    nadia.see("[role=columnheader][data-active=true]").await;
    nadia.keys(Key::Enter).await;
    nadia.see("[data-test=slip] :focus").await;
    nadia.is_open_to_all("the slip of a field").await;
    nadia.keys(Key::Escape).await;
    nadia.see("[data-test=grid]:focus").await;

    // What can be done with a record: why it is here.
    nadia.keys(Key::Down).await;
    nadia.keys(Key::Down).await;
    nadia.see("[role=gridcell][data-active=true]").await;
    nadia.chord(&[Key::Shift], Key::F10).await;
    nadia.see("[data-test=popup] button:focus").await;
    nadia.keys(Key::Up).await;
    nadia.keys(Key::Up).await;
    nadia.keys(Key::Enter).await;
    nadia.see("[data-test=why]").await;
}

#[tokio::test(flavor = "multi_thread")]
async fn of_two_people_in_one_cell_the_later_sees_both_values() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    let bex = driver.browser(&server, 1280, 800).await;
    for (browser, name) in [(&nadia, "Nadia Ferreira-Holt"), (&bex, "Bex Lindqvist")] {
        browser.walk_in(name).await;
        browser.go("/t/1/3/101").await;
        browser.press_cell("FR-2026-0060", "What is wrong").await;
    }
    nadia.keys("mine").await;
    bex.keys("theirs" + Key::Enter).await;
    becomes(&bex, "FR-2026-0060", "What is wrong", "theirs").await;
    // It is on Nadia's screen too by now, beneath what she types.
    tokio::time::sleep(std::time::Duration::from_millis(800)).await;
    nadia.keys(Key::Enter).await;
    nadia.text("p", "Somebody changed this meanwhile: it now says “theirs”.").await;
    nadia.keys(Key::Enter).await;
    becomes(&nadia, "FR-2026-0060", "What is wrong", "mine").await;
    becomes(&bex, "FR-2026-0060", "What is wrong", "mine").await;
    nadia.close().await;
    bex.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_folio_stands_beside_its_list_and_is_walked_by_keys_alone() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/101").await;
    nadia.press_cell("FR-2026-0060", "What is wrong").await;
    nadia.chord(&[Key::Control], Key::Enter).await;
    nadia.see("[data-test=folio] [data-test=life]").await;
    // The keys stay in the list: its open line goes on to the next, and a letter changes nothing.
    nadia.see("[aria-selected=true].runs").await;
    nadia.keys(Key::Down).await;
    nadia.text("span", "2 of 60").await;
    nadia.keys("x").await;
    nadia
        .until("the letter led into the folio", || async {
            nadia.script("return document.activeElement.closest('[data-test=folio]') !== null").await == true
        })
        .await;
    assert_eq!(nadia.count("[data-test=cell-editor]").await, 0);
    nadia.is_open_to_all("a folio beside its list").await;
    // A fact that is changed says at once what stood there before.
    nadia.click("[data-fact=Severity] .edit").await;
    nadia.press("li", "dangerous").await;
    nadia
        .until("what stood there is in the margin", || async {
            nadia.count("[data-fact=Severity] .until").await == 1 && nadia.words().await.contains(" until ")
        })
        .await;
    nadia.press("button", "Close").await;
    nadia.see("[data-heading=Severity]").await;
    nadia.close().await;
}
