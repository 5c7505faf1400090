//! Home tells what others did; an area opens its trackers to a group, and is closed again.

use westerfall_e2e::{Driver, Server};

#[tokio::test(flavor = "multi_thread")]
async fn an_area_is_opened_to_a_group_and_home_tells_of_what_lies_in_it() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/").await;
    nadia.text("p", "things happened in the 3 trackers that you may open, told ").await;
    nadia.is_open_to_all("home").await;
    let idris = driver.browser(&server, 390, 844).await;
    idris.walk_in("Idris Pell").await;
    idris.go("/").await;
    idris.text("p", "in the tracker that you may open").await;
    idris.is_open_to_all("home on a phone").await;
    // Told of a longer time, in another order; it stays so.
    nadia.press("button", "since you last looked").await;
    nadia.choose("[data-test=home-since]", "of the last 30 days").await;
    nadia.text("h1", "The last 30 days").await;
    nadia.press("button", "by area").await;
    nadia.choose("[data-test=home-order]", "by name").await;
    nadia.go("/").await;
    nadia.text("h1", "The last 30 days").await;
    nadia.press("button", "by name").await;
    nadia.choose("[data-test=home-order]", "by area").await;
    // The area is opened to the wardens, after a look at who gains what.
    nadia.press("button", "Neighbours").await;
    nadia.choose("[data-group='Wardens'] .v-select", "looks at everything here").await;
    nadia.text("p", "4 people see more.").await;
    nadia.is_open_to_all("an area").await;
    nadia.click("[data-test=do-it]").await;
    nadia.text("p", "You opened the area Neighbours to others.").await;
    idris.go("/").await;
    idris.see("[data-tracker='Repair mornings']").await;
    idris.press("a", "Repair mornings").await;
    idris.text("h1", "Repair mornings").await;
    // Taken back, it is gone from his open screen within a moment.
    nadia.press("button", "Undo").await;
    nadia.text("p", "You closed the area Neighbours to some.").await;
    idris.text("h1", "This tracker is not open to you").await;
    // A new area, and a tracker that is put there from its own page.
    nadia.click("[data-test=new-area]").await;
    nadia.fill("[data-test=area-name]", "Hills").await;
    nadia.click("[data-test=do-it]").await;
    nadia.text("p", "Nothing lies in Hills.").await;
    nadia.go("/t/1").await;
    nadia.click("[data-test=more]").await;
    nadia.press("button", "Name, area and looks").await;
    nadia.choose("[data-test=area-pick]", "Hills").await;
    nadia.press("button", "Keep").await;
    nadia.text("p", "Hills").await;
    // It stands on top, for oneself alone.
    nadia.go("/").await;
    nadia.click("[data-tracker='Village orchard'] [data-test=entry-more]").await;
    nadia.click("[data-test=keep-on-top]").await;
    nadia.text("h2", "On top").await;
    nadia.close().await;
    idris.close().await;
}
