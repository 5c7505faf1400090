//! Finding anything, and talking about it: by keys alone, with a second person on a phone.

use thirtyfour::prelude::*;
use westerfall_e2e::{Driver, Server};

#[tokio::test(flavor = "multi_thread")]
async fn a_record_is_found_by_keys_talked_about_with_somebody_and_found_by_what_was_said() {
    let server = Server::start(120).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/100").await;
    nadia.see(".row .cell").await;

    // Words in any order; each line says where it holds each of them.
    nadia.chord(&[Key::Control], 'k').await;
    nadia.see("[data-test=find-all-words]").await;
    nadia.keys("esk gate").await;
    nadia.text("mark", "gate").await;
    nadia.text("mark", "Esk").await;
    nadia.is_open_to_all("what was found").await;
    nadia.keys(Key::Down).await;
    let name = nadia.script("return document.activeElement.textContent").await;
    nadia.keys(Key::Enter).await;
    let open = format!("return document.querySelector('.folio')?.textContent.includes({name}) ?? false");
    nadia.until("it is open beside the rows", || async { nadia.script(&open).await == serde_json::json!(true) }).await;

    // Beside the rows one speaks to somebody, who may see it.
    nadia.click("[data-test=talk-box]").await;
    nadia.keys("Bring the zymurgy bar, @tams").await;
    nadia.text("li", "may see this").await;
    nadia.is_open_to_all("whom one speaks to").await;
    nadia.keys(Key::Enter).await;
    nadia.chord(&[Key::Control], Key::Enter).await;
    nadia.text("p", "Bring the zymurgy bar, @Tamsin Oake").await;
    let record = nadia.script("return new URL(location).searchParams.get('record')").await;
    let record = record.as_str().expect("a record is open").to_owned();

    // On a phone Tamsin sees it is new, and answers; Nadia sees that at once.
    let tamsin = driver.browser(&server, 390, 800).await;
    tamsin.walk_in("Tamsin Oake").await;
    tamsin.go(&format!("/t/1/3/r/{record}")).await;
    tamsin.text("span", "new").await;
    tamsin.click("[data-test=talk-answer]").await;
    tamsin.fill(".answers [data-test=talk-box]", "It is in the *van*.").await;
    tamsin.click(".answers [data-test=talk-say]").await;
    tamsin.text("em", "van").await;
    tamsin.is_open_to_all("talk on a phone").await;
    nadia.text("em", "van").await;

    // Narrowed to one person it is what names her, what she made and what she said something of.
    nadia.go("/t/1/find?words=gate").await;
    nadia.see("[data-found]").await;
    let all = nadia.read("[data-test=find-all-says] b").await;
    nadia.click("[data-test=find-of]").await;
    nadia.keys("tams").await;
    nadia.is_open_to_all("of whom").await;
    nadia.keys(Key::Enter).await;
    nadia.text("button", "of Tamsin Oake").await;
    nadia.until("there are fewer", || async { nadia.read("[data-test=find-all-says] b").await != all }).await;
    nadia.go(&format!("/t/1/3/100?record={record}")).await;
    nadia.text("em", "van").await;

    // It is found by a word of what was said, and only one’s own is changed.
    tamsin.click("[data-test=to-find]").await;
    tamsin.fill("[data-test=find-all-words]", "zymurgy").await;
    tamsin.text("span", "said by Nadia Ferreira-Holt").await;
    tamsin.is_open_to_all("finding on a phone").await;
    assert_eq!(nadia.count("[data-test=talk-change]").await, 1);
    nadia.click("[data-test=talk-take-back]").await;
    nadia.text("p", "took this back").await;
    // What one did is taken back like any step.
    nadia.script("document.activeElement.blur()").await;
    nadia.chord(&[Key::Control], 'z').await;
    nadia.text("p", "Bring the zymurgy bar, @Tamsin Oake").await;

    // A steward says that it is for the office alone: Tamsin, who reads it on her phone, is told nothing of it any more.
    tamsin.go(&format!("/t/1/3/r/{record}")).await;
    tamsin.see("[data-test=talk-box]").await;
    nadia.press("button", "Told to whoever sees the fault.").await;
    nadia.press("label", "Office").await;
    nadia.is_open_to_all("to whom it is told").await;
    nadia.text("button", "Told to Office and stewards alone.").await;
    tamsin.until("she is told nothing", || async { tamsin.count("[data-test=talk-box], .talk em").await == 0 }).await;
    assert!(!tamsin.read("[data-test=folio]").await.contains("zymurgy"));
    tamsin.close().await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn rows_are_narrowed_to_what_was_found_and_a_record_is_added_from_words() {
    let server = Server::start(120).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/100").await;
    nadia.see(".row .cell").await;
    nadia.chord(&[Key::Control], 'k').await;
    nadia.see("[data-test=find-all-words]").await;
    nadia.keys("drainage").await;
    nadia.text("span", "this view leaves out").await;
    nadia.text("span", "left out: status is").await;
    nadia.chord(&[Key::Alt], Key::Enter).await;
    nadia.text("button", "drainage").await;
    nadia
        .until("only those are in sight", || async {
            nadia
                .script(
                    "return [...document.querySelectorAll('.row [data-field=Kind]')].every((one) => one.textContent.includes('drainage'))",
                )
                .await
                == serde_json::json!(true)
        })
        .await;
    // Escape goes back to where one was; what one can do stands last.
    nadia.chord(&[Key::Control], 'k').await;
    nadia.see("[data-test=find-all-words]").await;
    nadia.keys(Key::Escape).await;
    nadia.see(".row .cell").await;
    nadia.chord(&[Key::Control], 'k').await;
    nadia.see("[data-test=find-all-words]").await;
    nadia.keys("add fault signage").await;
    nadia.press("a", "Add a fault").await;
    nadia.text("p", "Still asked: what is wrong.").await;
    nadia.text("div[@data-fact='Kind']", "signage").await;
    nadia.close().await;
}
