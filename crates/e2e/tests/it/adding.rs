//! Records added in a folio as it was arranged: drafts of one's own, arranging, choosing over a sort, two made one, and the bin.

use serde_json::json;
use thirtyfour::prelude::*;
use westerfall_e2e::{Driver, Server};

#[tokio::test(flavor = "multi_thread")]
async fn a_record_waits_as_a_draft_of_ones_own_until_it_is_added_for_everybody() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let (bex, nadia) = (driver.browser(&server, 390, 844).await, driver.browser(&server, 1280, 800).await);
    bex.walk_in("Bex Lindqvist").await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/101").await;
    nadia.text("p", "All 60 faults").await;
    // On a phone, in the coordinator's sections; the name first, then what one types into, by the keys alone.
    bex.go("/t/1/3/101").await;
    bex.click("[data-test=add]").await;
    bex.text("p", "Still asked: what is wrong.").await;
    bex.text("button", "What and where").await;
    bex.keys("Zymurgy stile leans").await;
    bex.keys(Key::Tab).await;
    bex.text("p", "It can be added.").await;
    bex.is_open_to_all("a record on its way").await;
    // A file goes along, and is one's own like all of it.
    let note = std::env::temp_dir().join(format!("stile-{}.txt", std::process::id()));
    std::fs::write(&note, "The step is rotten").expect("a file");
    bex.give_file("[data-test=draft] .files input[type=file]", &note).await;
    bex.text("button", "stile-").await;
    bex.is_open_to_all("a record on its way with a file").await;
    let _ = std::fs::remove_file(note);
    // It outlives a reload, and nobody else hears of it.
    bex.web.refresh().await.unwrap();
    bex.text("aside[@data-test='draft']", "Zymurgy stile leans").await;
    bex.press("button", "stile-").await;
    bex.text("pre", "The step is rotten").await;
    bex.keys(Key::Escape).await;
    bex.until("it is looked at no more", || async { bex.count("pre").await == 0 }).await;
    nadia.web.refresh().await.unwrap();
    nadia.text("p", "All 60 faults").await;
    // Closed, it waits in the contents.
    bex.click("[data-test=draft] [aria-label^=Close]").await;
    bex.click("[data-test=contents]").await;
    bex.click("[data-test=own-draft]").await;
    bex.click("[data-test=draft-add]").await;
    nadia.text("p", "All 61 faults").await;
    let (_, held) = (bex.see("[data-test=folio]").await, bex.words().await);
    assert!(held.contains("Zymurgy stile leans"), "it is opened where it is the whole screen");
    bex.text("button", "stile-").await;
    bex.close().await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_order_is_filled_in_with_its_lines_and_is_there_with_them_for_everybody() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let (bex, nadia) = (driver.browser(&server, 390, 844).await, driver.browser(&server, 1280, 800).await);
    for (one, name) in [(&bex, "Bex Lindqvist"), (&nadia, "Nadia Ferreira-Holt")] {
        one.walk_in(name).await;
        one.go("/t/1/6/106").await;
        one.text("p", "work orders").await;
    }
    let all = nadia.read(".sentence").await;
    bex.click("[data-test=add]").await;
    bex.text("p", "It can be added.").await;
    // By the keys alone: a line is begun, its material found by a part of its name, how much of it, and the next line.
    let line = |nth: usize, field: &str| format!("[data-lines='Material lines'] tbody tr:nth-child({nth}) [data-cell='{field}']");
    bex.click("[data-test=add-line]").await;
    bex.see(&format!("{} [role=combobox]", line(1, "Material"))).await;
    bex.keys("Cem").await;
    bex.text("li", "Cement").await;
    bex.keys(Key::Tab).await;
    bex.see(&format!("{} .editor", line(1, "Quantity"))).await;
    bex.keys("4").await;
    bex.keys(Key::Enter).await;
    bex.until("it costs something", || async { bex.read(&line(1, "Line cost")).await == "£28.80" }).await;
    bex.until("the order does, too", || async { bex.read("[data-fact='Materials cost']").await.contains("£28.80") }).await;
    bex.click("[data-test=add-line]").await;
    bex.see(&format!("{} [role=combobox]", line(2, "Material"))).await;
    bex.keys("Bridle").await;
    bex.text("li", "Bridle gate").await;
    bex.keys(Key::Tab).await;
    bex.see(&format!("{} .editor", line(2, "Quantity"))).await;
    // What does not fit is said where it was typed, and mended there.
    bex.keys("many").await;
    bex.keys(Key::Enter).await;
    bex.text("*[@role='alert']", "is not a number").await;
    bex.is_open_to_all("lines of a record on its way").await;
    bex.keys(Key::Escape).await;
    bex.click(&line(2, "Quantity")).await;
    bex.keys("2").await;
    bex.keys(Key::Enter).await;
    bex.until("it costs more", || async { bex.read(&line(2, "Line cost")).await == "£436.00" }).await;
    // By its number a line is put elsewhere, and the keys go along with it.
    let grip = |nth: usize| format!("document.querySelector(\"[data-lines='Material lines'] tbody tr:nth-child({nth}) .grip\").focus()");
    bex.script(&grip(2)).await;
    bex.keys(Key::Up).await;
    bex.until("it stands above", || async { bex.read(&line(1, "Line cost")).await == "£436.00" }).await;
    // They outlive a reload, and nobody else has heard of them.
    bex.web.refresh().await.unwrap();
    bex.until("both are there", || async { bex.count("[data-lines='Material lines'] tbody [data-cell=Material]").await == 2 }).await;
    assert_eq!(nadia.read(".sentence").await, all);
    assert_eq!(bex.read(&line(1, "Line cost")).await, "£436.00", "and stand as they were put");
    bex.click("[data-lines='Material lines'] tbody tr:nth-child(2) .end button").await;
    bex.until("one is taken out", || async { bex.count("[data-lines='Material lines'] tbody [data-cell=Material]").await == 1 }).await;
    bex.click("[data-test=draft-add]").await;
    bex.see("[data-test=folio] [data-lines='Material lines']").await;
    bex.until("its line is with it", || async { bex.read(&line(1, "Line cost")).await == "£436.00" }).await;
    nadia.until("it is there", || async { nadia.read(".sentence").await != all }).await;
    bex.close().await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_folio_is_arranged_where_it_stands_and_so_for_everybody() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/2/r/3").await;
    nadia.click("[data-test=arrange]").await;
    nadia.text("h4", "All fields, in their table’s order").await;
    nadia.click("[data-test=add-section]").await;
    nadia.fill("[aria-label='Heading of section 1']", "How it is walked").await;
    nadia.keys(Key::Tab).await;
    nadia.see("[data-arranged='How it is walked']").await;
    for field in ["Length", "Difficulty"] {
        nadia.choose(&format!("[aria-label='Where {field} goes']"), "How it is walked").await;
        nadia.see(&format!("[data-arranged] [data-field='{field}']")).await;
    }
    // By the keys of its handle a field goes up; a phrase of the section's sentence sets what it says.
    let order = "return [...document.querySelectorAll('[data-arranged] .field')].map((one) => one.dataset.field)";
    assert_eq!(nadia.script(order).await, json!(["Length", "Difficulty"]));
    nadia.script("document.querySelector('[aria-label^=\"Move Difficulty\"]').focus()").await;
    nadia.keys(Key::Up).await;
    nadia.until("difficulty goes first", || async { nadia.script(order).await == json!(["Difficulty", "Length"]) }).await;
    nadia.press("button", "In one column").await;
    nadia.press("button", "In two columns, where there is room").await;
    nadia.text("button", "In two columns").await;
    // Its edge is drawn out for both columns, and by an arrow key in again.
    let edge = nadia.see("[data-edge=Length][aria-pressed=false]").await;
    nadia.web.action_chain().click_and_hold_element(&edge).move_by_offset(120, 2).move_by_offset(120, 2).release().perform().await.unwrap();
    nadia.see("[data-edge=Length][aria-pressed=true]").await;
    nadia.is_open_to_all("arranging a folio").await;
    nadia.script("document.querySelector('[data-edge=Length]').focus()").await;
    nadia.keys(Key::Left).await;
    nadia.see("[data-edge=Length][aria-pressed=false]").await;
    nadia.click("[data-test=arranged]").await;
    nadia.text("button", "How it is walked").await;
    // The section closes and opens, and what is put away is a press away.
    nadia.press("button", "How it is walked").await;
    nadia.until("it is closed", || async { nadia.count("[data-fact=Difficulty]").await == 0 }).await;
    nadia.click("[data-test=put-away]").await;
    nadia.see("[data-fact='Created by']").await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_record_is_looked_at_as_it_was_by_drawing_its_mark_and_put_back() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let (nadia, phone) = (driver.browser(&server, 1280, 900).await, driver.browser(&server, 390, 844).await);
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/r/40").await;
    let before = nadia.read(".folio .title .edit").await;
    nadia.click(".folio .title .edit").await;
    nadia.chord(&[Key::Control], 'a').await;
    nadia.keys("Another stile leans").await;
    nadia.keys(Key::Enter).await;
    nadia.text("button", "Another stile leans").await;
    nadia.until("the change is a stroke", || async { nadia.count("[data-test=life] .line button").await > 1 }).await;
    // Drawn back to its beginning: what stood there then, and nothing is typed.
    let (mark, first) = (nadia.see("[data-test=life-mark]").await, nadia.see("[data-test=life] .line button").await);
    nadia.carry(&mark, &first, 0).await;
    nadia.text("p", "As it was on ").await;
    assert_eq!(nadia.read(".folio .title .then").await, before);
    assert_eq!(nadia.count(".folio .edit").await, 0);
    nadia.is_open_to_all("a record as it was").await;
    // By keys: on to now, a change back, and put back to what it was then.
    nadia.keys(Key::End).await;
    nadia.text("button", "Another stile leans").await;
    nadia.keys(Key::Home).await;
    nadia.click("[data-test=moment-back]").await;
    nadia.click("[data-test=do-it]").await;
    nadia.until("it is as it was", || async { nadia.read(".folio .title .edit").await == before }).await;
    // With a thumb, by the words beneath the line.
    phone.walk_in("Nadia Ferreira-Holt").await;
    phone.go("/t/1/3/r/40").await;
    phone.see("[data-test=life-mark]").await;
    phone.script("document.querySelector('[data-test=life-mark]').focus()").await;
    phone.keys(Key::Left).await;
    phone.press("button", "one change earlier").await;
    phone.text("span", "Another stile leans").await;
    phone.is_open_to_all("a record as it was, on a phone").await;
    phone.click("[data-test=come-back]").await;
    phone.until("it is now", || async { phone.count("[data-test=moment]").await == 0 }).await;
    for one in [nadia, phone] {
        one.close().await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn records_stay_chosen_over_a_sort_and_another_shape_and_two_of_them_are_made_one() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/101").await;
    nadia.see(".row .cell").await;
    nadia.click(".row[aria-rowindex='3'] [data-field='What is wrong']").await;
    nadia.chord(&[Key::Control], ' ').await;
    nadia.keys(Key::Down).await;
    nadia.chord(&[Key::Control], ' ').await;
    nadia.text("b", "2 faults chosen").await;
    // Another view of the table, in lanes: they are chosen there too, also those that it leaves out.
    nadia.click("[data-test=contents]").await;
    nadia.press("a", "From report to repair").await;
    nadia.text("b", "2 faults chosen").await;
    nadia.go("/t/1/3/101").await;
    nadia.see(".row .cell").await;
    nadia.click(".row[aria-rowindex='3'] [data-field='What is wrong']").await;
    nadia.chord(&[Key::Control], ' ').await;
    nadia.keys(Key::Down).await;
    nadia.chord(&[Key::Control], ' ').await;
    nadia.click("[data-test=picked-merge]").await;
    nadia.text("p", "goes to the bin").await;
    nadia.is_open_to_all("two records side by side").await;
    nadia.click("[data-test=do-it]").await;
    nadia.text("p", "All 59 faults").await;
    // And back from the bin, by whoever put it there.
    nadia.click("[data-test=contents]").await;
    nadia.click("[data-test=to-record-bin]").await;
    nadia.press("button", "bring back").await;
    nadia.text("p", "No record is in it").await;
    nadia.is_open_to_all("the bin").await;
    nadia.go("/t/1/3/101").await;
    nadia.text("p", "All 60 faults").await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn lines_are_pasted_and_gone_along_and_an_option_is_added_where_one_fills_in() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/6/r/1").await;
    nadia.see("[data-lines='Material lines'] tbody [data-cell='Material']").await;
    let lines = "[data-lines='Material lines'] tbody tr";
    let count = nadia.count(lines).await;
    let name = "document.querySelector('[data-lines=\"Material lines\"] [data-cell=Material]').textContent.trim()";
    let paste = format!(
        "const data = new DataTransfer(); const name = {name}; data.setData('text/plain', `${{name}}\\t2\\n${{name}}\\t3\\n`);
         document.querySelector('[data-lines=\"Material lines\"]').dispatchEvent(new ClipboardEvent('paste', {{ clipboardData: data, bubbles: true, cancelable: true }}))"
    );
    nadia.script(&paste).await;
    nadia.until("two lines are more", || async { nadia.count(lines).await == count + 2 }).await;
    nadia.is_open_to_all("lines of a folio").await;
    // By Tab one goes along a line, by Enter to the one beneath it.
    nadia.click("[data-lines='Material lines'] tbody tr:nth-child(1) [data-cell='Quantity']").await;
    nadia.keys(Key::Enter).await;
    nadia.see("[data-lines='Material lines'] tbody tr:nth-child(2) [data-cell='Quantity'] .editor").await;
    nadia.keys(Key::Escape).await;
    // Put elsewhere by the arrow keys of its number, a line stands so for everybody, and is taken back.
    let quantity = |nth: usize| format!("{lines}:nth-child({nth}) [data-cell='Quantity']");
    assert_eq!(nadia.read(&quantity(count + 2)).await, "3");
    nadia.script(&format!("document.querySelector(\"{lines}:nth-child({}) .grip\").focus()", count + 2)).await;
    nadia.keys(Key::Up).await;
    nadia
        .until("it is said", || async {
            nadia.script("return document.body.innerText.includes('You moved the material line')").await == json!(true)
        })
        .await;
    assert_eq!(nadia.read(&quantity(count + 1)).await, "3");
    nadia.web.refresh().await.unwrap();
    nadia.until("it is kept", || async { nadia.count(lines).await == count + 2 && nadia.read(&quantity(count + 1)).await == "3" }).await;
    nadia.chord(&[Key::Control], 'z').await;
    nadia.until("it is taken back", || async { nadia.read(&quantity(count + 2)).await == "3" }).await;
    nadia.script("document.activeElement.blur()").await;
    nadia.chord(&[Key::Control], 'z').await;
    nadia.until("they are taken back, as one step", || async { nadia.count(lines).await == count }).await;

    // An option that is not there is added with the cell.
    nadia.go("/t/1/3/r/9").await;
    nadia.click("[data-fact='Kind'] .edit").await;
    nadia.keys("handrail").await;
    nadia.text("li", "Add the option “handrail”").await;
    nadia.keys(Key::Enter).await;
    nadia
        .until("it stands there", || async {
            nadia.script("return document.querySelector('[data-fact=Kind]')?.textContent.includes('handrail') ?? false").await
                == json!(true)
        })
        .await;
    nadia.close().await;
}
