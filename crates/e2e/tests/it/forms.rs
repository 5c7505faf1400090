//! A form is designed with all that it can ask, answered on a phone with mistakes and without a line, and arrives whole.

use westerfall_e2e::{Browser, Driver, Line, Server};

#[tokio::test(flavor = "multi_thread")]
async fn a_form_with_conditions_lines_and_files_is_designed_and_answered() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/forms").await;
    nadia.text("b", "It is open, to everyone who has the link.").await;
    nadia.is_open_to_all("the list of forms").await;
    design(&nadia).await;

    // The record's table is open on the coordinator's screen while a stranger answers on a phone.
    nadia.go("/t/1/2").await;
    nadia.text("p", "All 64 sections").await;
    let stranger = driver.browser(&server, 390, 844).await;
    answer(&stranger).await;
    nadia.text("p", "All 65 sections").await;
    nadia.press_cell("Barn Lane to the ford", "Name").await;
    nadia.click("[data-test=open-folio]").await;
    for words in ["came by the form Tell us of a path", "By the link with from=poster"] {
        nadia.text("p", words).await;
    }
    nadia.see("[data-test=folio] figure img").await;
    for line in ["Stile broken", "Sign gone"] {
        nadia.text("a", line).await;
    }
    let fact = nadia.read("[data-fact='Sub-surface']").await;
    assert!(fact.contains("wet peat"), "{fact}");
    // The picture of a line is in the line’s own record.
    nadia.press("a", "Sign gone").await;
    nadia.until("the line's picture is in its record", || async { nadia.count("[data-test=folio] figure img").await == 1 }).await;

    // What came, and how many there were, stands with the form.
    nadia.go("/t/1/forms").await;
    nadia.press("a", "1 answer").await;
    nadia.text("p", "1 answer came. Since it is counted, it was opened 3 times and sent 1 time").await;
    nadia.text("td", "from=poster").await;
    nadia.is_open_to_all("the answers of a form").await;
    for browser in [nadia, stranger] {
        browser.close().await;
    }
}

async fn design(nadia: &Browser) {
    nadia.fill("[data-test=new-form-title]", "Tell us of a path").await;
    nadia.choose("[data-test=new-form-table]", "sections").await;
    nadia.click("[data-test=make-form]").await;
    nadia.text("h2", "Not asked").await;
    for field in ["District", "Surface", "Sub-surface", "Picture", "Difficulty", "Faults"] {
        nadia.click(&format!("[data-ask='{field}']")).await;
    }
    // Lines: what is asked in each.
    for field in ["What is wrong", "Severity", "Pictures"] {
        nadia.click(&format!("[data-test='line-{field}']")).await;
    }
    nadia.choose("[data-test=total]", "Open faults").await;
    // Asked only of peat, and said so in words.
    nadia.press("button", "Picture").await;
    nadia.press("button", "asked only when").await;
    nadia.click("[data-test=add-test]").await;
    nadia.click("[role=dialog] .field .v-field").await;
    // Until what stands there is selected: a moment in which nobody types.
    tokio::time::sleep(std::time::Duration::from_millis(150)).await;
    nadia.keys("Surface").await;
    nadia.press("div[contains(@class, 'v-list-item')]", "Surface").await;
    nadia.press("div[@role='dialog']//label", "peat").await;
    nadia.click("[data-test=shown-done]").await;
    nadia.text("p", "asked when surface is peat").await;
    // What nobody is asked is put in quietly.
    nadia.press("button", "Difficulty").await;
    nadia.click("[data-test=hidden]").await;
    nadia.choose("[data-test=begins]", "easy").await;
    nadia.text("p", "Difficulty: “easy” is put in.").await;
    nadia.fill("[data-test=form-link]", "tell-us").await;
    nadia.click("[data-test=save-form]").await;
    nadia.until("it is saved", || async { nadia.count("[data-test=save-form][disabled]").await == 1 }).await;
    nadia.is_open_to_all("the design of a form with lines").await;
    nadia.click("[data-test=toggle-open]").await;
    nadia.text("p", "It is open, to everyone who has the link.").await;
}

async fn answer(stranger: &Browser) {
    stranger.go("/f/tell-us?from=poster").await;
    stranger.text("h1", "Tell us of a path").await;
    stranger.is_open_to_all("a form with lines, on a phone").await;
    // Nothing under a surface that was not chosen yet; no picture of anything but peat.
    assert_eq!(stranger.count("[data-question='Picture']").await, 0);
    // The page may still move while it is pressed first: a person presses again.
    stranger
        .until("what stands under gravel is offered", || async {
            stranger.press("label", "gravel").await;
            stranger.count("[data-question='Sub-surface']").await == 1
        })
        .await;
    stranger.text("label", "loose gravel").await;
    stranger.press("label", "peat").await;
    stranger.press("label", "wet peat").await;
    stranger.see("[data-question='Picture']").await;
    assert!(!stranger.words().await.contains("loose gravel"));
    // Two mistakes: no name, and a second line without what it needs.
    type_in(stranger, "[data-line='1'] [data-question='What is wrong'] input", "Stile broken").await;
    stranger.click("[data-test=add-line]").await;
    stranger.text("legend", "fault 2").await;
    stranger.press("button", "Send").await;
    stranger.text("p", "Nothing was sent yet: 2 answers need another look.").await;
    stranger.text("p", "Please answer “Name”.").await;
    type_in(stranger, "[data-question='Name'] input", "Barn Lane to the ford").await;
    type_in(stranger, "[data-line='2'] [data-question='What is wrong'] input", "Sign gone").await;
    type_in(stranger, "[data-question='District'] input", "esker").await;
    stranger.press("li", "Eskermoor").await;
    stranger.text("span", "Open faults: 2").await;

    // The line is lost; what was typed stays, over a reload too, and goes once when it is back.
    stranger.line(Line::Lost).await;
    stranger.press("button", "Send").await;
    stranger.see("[data-test=offline]").await;
    stranger.line(Line::Good).await;
    stranger.web.refresh().await.unwrap();
    let name = stranger.see("[data-question='Name'] input").await;
    assert_eq!(name.value().await.unwrap().unwrap(), "Barn Lane to the ford");
    stranger.see("[data-line='2']").await;
    let picture = std::env::temp_dir().join(format!("barn-lane-{}.png", std::process::id()));
    std::fs::write(&picture, crate::story::PICTURE).unwrap();
    stranger.see("[data-question='Picture']").await;
    stranger.give_file("[data-question='Picture'] input[type=file]", &picture).await;
    stranger.text("p", "barn-lane").await;
    stranger.give_file("[data-line='2'] [data-question='Pictures'] input[type=file]", &picture).await;
    stranger.press("button", "Send").await;
    stranger.text("p", "Thank you. Your answer has arrived.").await;
    // Cleared once it is sent.
    stranger.web.refresh().await.unwrap();
    let name = stranger.see("[data-question='Name'] input").await;
    assert_eq!(name.value().await.unwrap().unwrap_or_default(), "");
}

async fn type_in(browser: &Browser, css: &str, text: &str) {
    browser.see(css).await.send_keys(text).await.unwrap();
}
