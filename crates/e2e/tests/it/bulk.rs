//! Many records changed at once, as it was said beforehand, and taken back as one step.

use thirtyfour::prelude::*;
use westerfall_e2e::{Driver, Server};

#[tokio::test(flavor = "multi_thread")]
async fn selected_rows_are_changed_at_once_as_it_was_said_and_put_back_as_one() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/101").await;
    nadia.see(".row .cell").await;
    let kinds = "return [...document.querySelectorAll('.row [data-field=Kind]')].slice(0, 3).map((one) => one.textContent.trim())";
    let before = nadia.script(kinds).await;

    // By keys: a row, and two more; then what becomes of them is said before it is done.
    nadia.click(".row [data-field='What is wrong']").await;
    nadia.chord(&[Key::Shift], ' ').await;
    nadia.chord(&[Key::Shift], Key::Down).await;
    nadia.chord(&[Key::Shift], Key::Down).await;
    nadia.chord(&[Key::Alt], Key::Enter).await;
    nadia.text("h2", "3 faults at once").await;
    nadia.choose("[data-test=bulk-field]", "Kind").await;
    nadia.choose("[data-test=begins]", "drainage").await;
    nadia.text("td", "drainage").await;
    nadia.is_open_to_all("a change of many records").await;
    nadia.click("[data-test=do-it]").await;
    nadia
        .until("all three are so", || async { nadia.script(kinds).await == serde_json::json!(["drainage", "drainage", "drainage"]) })
        .await;
    nadia.chord(&[Key::Control], 'z').await;
    nadia.until("they are as they were", || async { nadia.script(kinds).await == before }).await;

    // Who else no longer sees them is said, before they are given to another district.
    nadia.click(".line.row[aria-rowindex='3'] [data-field='Kind']").await;
    nadia.chord(&[Key::Shift], ' ').await;
    nadia.chord(&[Key::Alt], Key::Enter).await;
    let district =
        nadia.script("return document.querySelector('.line.row[aria-rowindex=\"3\"] [data-field=District]').textContent.trim()").await;
    let elsewhere = if district == "Eskermoor" { "Low Staithe" } else { "Withy Edge" };
    nadia.choose("[data-test=bulk-field]", "Section").await;
    nadia.click("[data-test=begins-link] input").await;
    nadia.keys(elsewhere).await;
    nadia.until("it is offered", || async { nadia.count(".v-overlay .v-list-item").await > 0 }).await;
    nadia.keys(Key::Down).await;
    nadia.keys(Key::Enter).await;
    nadia.text("p", "from then on.").await;
    nadia.text("p", "no longer see").await;
    nadia.is_open_to_all("who no longer sees what").await;
    nadia.click("[data-test=leave-it]").await;

    // All that the view shows, with one that can't: it is named, left out, and nothing is done before that.
    nadia.click(".line.row[aria-rowindex='4'] [data-field='What is wrong']").await;
    nadia.chord(&[Key::Shift], ' ').await;
    nadia.click("[data-test=block-change]").await;
    nadia.click("[data-test=bulk-all]").await;
    nadia.choose("[data-test=bulk-field]", "Reported on").await;
    nadia.choose("[data-test=bulk-way]", "moves by days").await;
    nadia.fill("[data-test=bulk-days]", "-7").await;
    nadia.text("p", "60 faults change.").await;
    nadia.fill("[data-test=bulk-days]", "soon").await;
    nadia.until("what can't be done is not offered", || async { nadia.count("[data-test=do-it][disabled]").await == 1 }).await;
    nadia.click("[data-test=leave-it]").await;
    nadia.until("it is left", || async { nadia.count("[data-test=rehearsal]").await == 0 }).await;
    nadia.close().await;
}

/// Last month's orders once more for this month: moved on by a month, with their lines, by a recipe that is kept; one step back.
#[tokio::test(flavor = "multi_thread")]
async fn what_was_planned_is_made_again_a_month_later_by_a_recipe_that_is_kept() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/6/106").await;
    nadia.see(".row .cell").await;
    let all = nadia.read(".sentence").await;
    nadia.click(".row .cell").await;
    nadia.chord(&[Key::Control], ' ').await;
    nadia.keys(Key::Down).await;
    nadia.chord(&[Key::Control], ' ').await;
    nadia.text("b", "2 work orders chosen").await;
    nadia.click("[data-test=picked-again]").await;
    nadia.text("h2", "2 work orders made again").await;
    nadia.choose("[aria-label='In what Planned day moves on']", "months").await;
    nadia.fill("[aria-label='By how much Planned day moves on']", "1").await;
    nadia.keys(Key::Tab).await;
    nadia.text("p", "2 work orders are added").await;
    nadia.text("td", "Planned day").await;
    nadia.is_open_to_all("records made again").await;
    nadia.fill("[data-test=recipe-name]", "next month").await;
    nadia.click("[data-test=keep-recipe]").await;
    nadia.until("the recipe is kept", || async { nadia.read("[data-test=again-recipe]").await.contains("next month") }).await;
    nadia.click("[data-test=do-it]").await;
    nadia.until("they are there", || async { nadia.read(".sentence").await != all }).await;
    nadia
        .until("it is said", || async {
            nadia.script("return document.body.innerText.includes('You added 2 work orders')").await == serde_json::json!(true)
        })
        .await;
    nadia.chord(&[Key::Control], 'z').await;
    nadia.until("they are taken back, their lines with them", || async { nadia.read(".sentence").await == all }).await;
    nadia.close().await;
}

/// All that a view shows is chosen, stays so over another sort and another shape, is changed as it was said, and put back.
#[tokio::test(flavor = "multi_thread")]
async fn two_hundred_records_stay_chosen_over_a_sort_and_are_changed_and_put_back() {
    let server = Server::start(240).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/101").await;
    nadia.see(".row .cell").await;
    nadia.click(".row [data-field='What is wrong']").await;
    nadia.chord(&[Key::Control], ' ').await;
    nadia.text("b", "1 fault chosen").await;
    nadia.click("[data-test=picked-all]").await;
    nadia.text("b", "240 faults chosen").await;
    // In lanes they stand in another order; they are chosen there, too.
    nadia.click("[data-test=contents]").await;
    nadia.press("a", "From report to repair").await;
    nadia.text("b", "240 faults chosen").await;
    nadia.click("[data-test=picked-change]").await;
    nadia.text("h2", "240 faults at once").await;
    nadia.choose("[data-test=bulk-field]", "Kind").await;
    nadia.choose("[data-test=begins]", "drainage").await;
    nadia.text("p", "faults change").await;
    nadia.click("[data-test=do-it]").await;
    let says =
        async |words: &str| nadia.script(&format!("return document.body.innerText.includes('{words}')")).await == serde_json::json!(true);
    nadia.until("it is said", || says("You changed Kind of")).await;
    nadia.chord(&[Key::Control], 'z').await;
    nadia.until("it is put back as one step", || says("Undone: you changed Kind of")).await;
    nadia.close().await;
}

/// On a phone a record is held by a finger to be chosen, taps choose others, and they are changed as it was said.
#[tokio::test(flavor = "multi_thread")]
async fn on_a_phone_records_are_held_to_be_chosen_and_changed_at_once() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 390, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/101").await;
    nadia.see(".line.row.narrow .title").await;
    let touch = |what: &str| {
        format!(
            "const row = document.querySelectorAll('.line.row.narrow')[0]; const box = row.getBoundingClientRect();
             row.dispatchEvent(new PointerEvent('{what}', {{ pointerType: 'touch', bubbles: true, clientX: box.x + 9, clientY: box.y + 9 }}))"
        )
    };
    nadia.script(&touch("pointerdown")).await;
    nadia.text("b", "1 fault chosen").await;
    nadia.script(&touch("pointerup")).await;
    nadia.script("document.querySelectorAll('.line.row.narrow .title')[0].click()").await;
    nadia.text("b", "1 fault chosen").await;
    nadia.click(".line.row.narrow[aria-rowindex='3'] .title").await;
    nadia.text("b", "2 faults chosen").await;
    assert_eq!(nadia.count(".line.row.taken").await, 2);
    nadia.is_open_to_all("chosen by a finger").await;
    nadia.click("[data-test=picked-bin]").await;
    nadia.text("p", "2 faults go into the bin, for 30 days.").await;
    nadia.is_open_to_all("into the bin on a phone").await;
    nadia.click("[data-test=leave-it]").await;
    nadia.click("[data-test=picked-change]").await;
    nadia.choose("[data-test=bulk-field]", "Kind").await;
    nadia.choose("[data-test=begins]", "drainage").await;
    nadia.text("p", "change.").await;
    nadia.is_open_to_all("a change of many on a phone").await;
    nadia.click("[data-test=do-it]").await;
    nadia.until("they are let go", || async { nadia.count(".line.row.taken, [data-test=rehearsal]").await == 0 }).await;
    nadia.press("button", "Undo").await;
    // With nothing in hand a tap opens again.
    nadia.click(".line.row.narrow .title").await;
    nadia.see("[data-test=folio]").await;
    nadia.close().await;
}
