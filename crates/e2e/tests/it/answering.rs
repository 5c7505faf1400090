//! Messages that are answered from within, rounds with a thumb, and the inbox.

use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

/// Sends a fault by the public form, as a stranger's page would.
async fn report(browser: &Browser, title: &str) {
    let script = format!(
        "const f = new FormData(); f.append('answers', JSON.stringify({{ 41: {{ text: '{title}' }}, 45: {{ text: 'stile or gate' }}, \
         46: {{ text: 'dangerous' }}, 42: {{ value: {{ links: [1] }} }}, 51: {{ text: 'Wynn Ashdale' }} }})); \
         const r = new XMLHttpRequest(); r.open('POST', '/api/public/forms/report-a-path-fault', false); r.send(f); return r.status"
    );
    assert_eq!(browser.script(&script).await.as_u64(), Some(200));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_warden_answers_in_the_mail_without_signing_in_and_the_record_moves() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let tamsin = driver.browser(&server, 1280, 900).await;
    tamsin.walk_in("Tamsin Oake").await;
    report(&tamsin, "Zigzag gate will not open").await;
    tamsin.go("/post-room").await;
    tamsin.text("h2", "dangerous: Zigzag gate will not open").await;
    let link = tamsin.see("[data-test=open-message] a[href*='/reply/']").await.attr("href").await.unwrap().unwrap();
    // As a program that shows mails would: a page that runs nothing.
    tamsin.click("[data-test=as-page]").await;
    let frame = tamsin.see("[data-test=mail-page]").await;
    frame.enter_frame().await.unwrap();
    tamsin.text("a", "I’ll go and look").await;
    tamsin.web.enter_default_frame().await.unwrap();

    // On a hillside, nobody signed in.
    let phone = driver.browser(&server, 390, 844).await;
    let path = link.split_once("//").and_then(|(_, rest)| rest.split_once('/')).map(|(_, path)| format!("/{path}")).unwrap();
    phone.go(&path).await;
    phone.text("p", "You chose I’ll go and look. Pressing once sets the status from reported to checked.").await;
    phone.is_open_to_all("the page at a message's link").await;
    // Looking, also twice, changes nothing; the other choice is one press further.
    phone.web.refresh().await.unwrap();
    phone.press("button", "choose that").await;
    phone.text("p", "from reported to scheduled").await;
    phone.press("button", "choose that").await;
    phone.click("[data-test=press]").await;
    phone.see("[data-test=answered]").await;
    phone.text("p", "Tamsin Oake answered I’ll go and look").await;
    phone.text("dd", "status, from reported to checked").await;
    phone.is_open_to_all("a message that was answered").await;
    // Opened again it only reads.
    phone.go(&path).await;
    phone.see("[data-test=answered]").await;
    assert_eq!(phone.count("[data-test=press]").await, 0);

    // The record moved, its trail says who, and whoever asked is told.
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.see("[data-test=to-inbox] sup").await;
    nadia.click("[data-test=to-inbox]").await;
    nadia.text("p", "Tamsin Oake answered “I’ll go and look” to your message on").await;
    nadia.is_open_to_all("the inbox").await;
    nadia.press("a", "Zigzag gate will not open").await;
    nadia.until("its trail says who", || async { nadia.words().await.contains("answered “I’ll go and look” to the message of") }).await;
    for browser in [tamsin, phone, nadia] {
        browser.close().await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn an_answer_is_offered_by_a_mail_step_and_given_in_the_inbox() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 1000).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/automations").await;
    let article = "article[aria-label='Tell the warden of blocked paths']";
    nadia.text("p", "to be answered with “I’ll go and look” or “Call the crew” within 3 days").await;
    nadia.press("button", "“I’ll go and look” or “Call the crew”").await;
    nadia.click("[data-test=reply-another]").await;
    nadia.fill("[data-choice='2'] [data-test=reply-words] input", "I can’t this week").await;
    nadia.is_open_to_all("a mail step with its answers").await;
    nadia.click("[data-test=keep-mail]").await;
    // What runs is changed beside it.
    nadia.see(&format!("{article} [data-test=draft]")).await;
    nadia.click(&format!("{article} [data-test=take-over]")).await;
    nadia.click("[data-test=do-it]").await;
    nadia.until("it took over", || async { nadia.count("[data-test=draft]").await == 0 }).await;
    report(&nadia, "Quince stile is gone").await;

    let tamsin = driver.browser(&server, 1280, 900).await;
    tamsin.walk_in("Tamsin Oake").await;
    tamsin.go("/inbox").await;
    let ask = "[data-test=ask][aria-label='Quince stile is gone']";
    tamsin.see(&format!("{ask} [data-choice='I can’t this week']")).await;
    tamsin.click(&format!("{ask} [data-choice='I can’t this week']")).await;
    tamsin.text("p", "Pressing once tells that you answered so.").await;
    tamsin.click(&format!("{ask} [data-choice='Call the crew']")).await;
    tamsin.text("p", "from reported to scheduled").await;
    tamsin.click("[data-test=press-answer]").await;
    tamsin.until("it waits no more", || async { tamsin.count(ask).await == 0 }).await;
    nadia.go("/inbox").await;
    nadia.text("p", "Tamsin Oake answered “Call the crew”").await;
    nadia.close().await;
    tamsin.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn rounds_are_done_with_a_thumb() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let phone = driver.browser(&server, 390, 844).await;
    phone.walk_in("Tamsin Oake").await;
    phone.click("[data-test=to-rounds]").await;
    phone.text("h1", "Your rounds").await;
    phone.is_open_to_all("rounds on a phone").await;

    // A record of a tracker is done by the word of its own field, stays struck through, and comes back.
    let late = phone.see(".late [data-duty]").await.attr("data-duty").await.unwrap().unwrap();
    phone.click(&format!(".late [data-duty='{late}'] [data-test=finish]")).await;
    phone.see(&format!(".today [data-duty='{late}'].done")).await;
    phone.press("button", "Undo").await;
    phone.see(&format!(".late [data-duty='{late}'] [data-test=finish]")).await;

    // A task goes to another day: the days that come say how full they are.
    let task = "Write up the work party at Cold Keld";
    phone.click(&format!("[data-duty='{task}'] [data-test=move]")).await;
    phone.is_open_to_all("moving something on a phone").await;
    let days = phone.web.find_all(By::Css("[data-test=move-panel] [data-day]")).await.unwrap();
    let day = days[2].attr("data-day").await.unwrap().unwrap();
    phone.click(&format!("[data-test=move-panel] [data-day='{day}']")).await;
    phone.click("[data-test=set-down]").await;
    phone.until("it is not late any more", || async { phone.count(&format!(".late [data-duty='{task}']")).await == 0 }).await;
    phone.see(&format!(".day [data-duty='{task}']")).await;

    // It goes to somebody else, who finds it, and whoever asked it is told once it is done.
    phone.click(&format!("[data-duty='{task}'] [data-test=move]")).await;
    phone.choose("[data-test=hand-to]", "Idris Pell").await;
    phone.click("[data-test=set-down]").await;
    phone.until("it is gone", || async { phone.count(&format!("[data-duty='{task}']")).await == 0 }).await;
    let idris = driver.browser(&server, 1280, 900).await;
    idris.walk_in("Idris Pell").await;
    idris.go("/inbox").await;
    idris.text("p", &format!("Tamsin Oake asked you: {task}")).await;
    idris.go("/rounds").await;
    idris.is_open_to_all("rounds").await;
    idris.click(&format!("[data-duty='{task}'] [data-test=finish]")).await;
    idris.see(&format!("[data-duty='{task}'].done")).await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/inbox").await;
    nadia.text("p", &format!("Idris Pell has done: {task}")).await;

    // Something is asked in one sentence, of somebody.
    phone.choose("[data-test=task-who]", "Bex Lindqvist").await;
    phone.fill("[data-test=task-what]", "Order coach bolts").await;
    phone.click("[data-test=give-it]").await;
    phone.text("span", "Order coach bolts").await;
    for browser in [phone, idris, nadia] {
        browser.close().await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_table_says_whose_its_records_are_as_a_sentence() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/6/about").await;
    nadia.text("p", "A work order is on the rounds of its crew leader, by planned day, until there is finished").await;
    nadia.click("[data-test=rounds-none]").await;
    nadia.text("p", "They stand in nobody’s rounds.").await;
    nadia.click("[data-begin=rounds]").await;
    nadia.see("[data-test=rounds-none]").await;
    nadia.is_open_to_all("what a table says for rounds").await;
    nadia.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn somebody_outside_wants_no_more_messages_and_the_team_puts_it_right() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    let make = "const r = new XMLHttpRequest(); r.open('POST', '/api/trackers/1/parts', false); \
         r.setRequestHeader('content-type', 'application/json'); r.send(JSON.stringify({ automation: { table: 3, name: 'Thank the walker', on: true, \
         when: 'added', condition: { all: [] }, steps: [{ mail: { to: { address: 'wynn@walkers.example' }, subject: 'We have it', body: '', digest: false } }] } })); \
         const a = new XMLHttpRequest(); a.open('POST', '/api/trackers/1/tables/3/records', false); a.setRequestHeader('content-type', 'application/json'); \
         a.send(JSON.stringify({ records: [{ 41: { text: 'Stile down' }, 42: { value: { links: [1] } }, 45: { text: 'stile or gate' }, 46: { text: 'passable' } }] })); \
         return [r.status, a.status, a.responseText]";
    let done = nadia.script(make).await;
    assert_eq!((done[0].as_u64(), done[1].as_u64()), (Some(200), Some(200)), "{done}");
    nadia.go("/post-room").await;
    nadia.text("h2", "We have it").await;
    let link = nadia.see("[data-test=open-message] a[href*='/opt-out/']").await.attr("href").await.unwrap().unwrap();
    let path = link.split_once("//").and_then(|(_, rest)| rest.split_once('/')).map(|(_, path)| format!("/{path}")).unwrap();

    let phone = driver.browser(&server, 390, 844).await;
    phone.go(&path).await;
    phone.text("p", "wynn@walkers.example gets messages such as “We have it” from Orrindale Paths Trust.").await;
    phone.is_open_to_all("which messages somebody outside gets").await;
    phone.keys(Key::Tab.value().to_string()).await;
    phone.keys(Key::Enter.value().to_string()).await;
    phone.text("p", "gets no more messages such as “We have it”").await;
    phone.web.refresh().await.unwrap();
    phone.text("button", "Send these again").await;

    nadia.go("/people").await;
    nadia.click("[data-test=opt-outs] summary").await;
    nadia.text("span", "no more of “Thank the walker” of Path upkeep").await;
    nadia.is_open_to_all("addresses that want no more messages").await;
    nadia.click("[data-address='wynn@walkers.example'] button").await;
    nadia.until("nobody is listed", || async { nadia.count("[data-address]").await == 0 }).await;
    nadia.press("button", "Undo").await;
    nadia.see("[data-address='wynn@walkers.example']").await;
    phone.web.refresh().await.unwrap();
    phone.text("button", "Send these again").await;
    nadia.close().await;
    phone.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_warden_who_wants_texts_gets_one_and_the_yard_reads_in_its_room() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    // By keys alone: how what comes by itself reaches her, and on which phone.
    let tamsin = driver.browser(&server, 1280, 900).await;
    tamsin.walk_in("Tamsin Oake").await;
    tamsin.go("/me").await;
    tamsin.choose("[data-test=own-channel]", "as a text to your phone").await;
    tamsin.click("[data-test=keep-own]").await;
    tamsin.text("*", "Texts go to a phone: say its number.").await;
    tamsin.fill("[name=phone]", "01632 960123").await;
    tamsin.keys(Key::Enter.value().to_string()).await;
    tamsin
        .until("it is kept", || async { tamsin.script("return document.querySelector('[name=phone]').value").await == "+441632960123" })
        .await;
    tamsin.is_open_to_all("oneself, reached by texts").await;

    // What is told to a warden is told to the yard, too.
    let nadia = driver.browser(&server, 1280, 1000).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/automations").await;
    nadia.press("button", "the section’s district’s warden").await;
    nadia.text("p", "Each gets it by the way they chose: mail, chat or text.").await;
    nadia.press("button", "Leave it").await;
    let name = "Tell the yard";
    crate::automations::begin(&nadia, "comes by any form", name).await;
    crate::automations::step(&nadia, name, "mail").await;
    nadia.choose("[data-test=mail-to]", "a room of the chat").await;
    nadia.fill("[data-test=mail-subject] input", "Look at {Number}").await;
    nadia.click("[data-test=keep-mail]").await;
    nadia.text("div[contains(@class, 'v-messages__message')]", "Say which room of the chat.").await;
    nadia.is_open_to_all("a message to a room that has no name yet").await;
    nadia.fill("[data-test=mail-address] input", "yard").await;
    nadia.click("[data-test=keep-mail]").await;
    nadia.text("p", "send a chat message to the room yard, headed “Look at {Number}”").await;
    nadia.click(&format!("article[aria-label='{name}'] [role=switch]")).await;
    nadia.click("[data-test=do-it]").await;
    nadia.see(&format!("article[aria-label='{name}'] [aria-checked=true]")).await;

    report(&nadia, "Yonder gate is off its hinge").await;
    tamsin.go("/post-room").await;
    tamsin.text("span", "text, +441632960123").await;
    let frame = tamsin.see("[data-test=mail-page]").await;
    frame.enter_frame().await.unwrap();
    tamsin.text("p", "dangerous: Yonder gate is off its hinge.").await;
    tamsin.text("p", "parts").await;
    tamsin.web.enter_default_frame().await.unwrap();
    tamsin.click("[data-test=as-page]").await;
    tamsin.click("[data-test=open-message] a[href*='/reply/']").await;
    tamsin.press("button", "I’ll go and look").await;
    tamsin.click("[data-test=press]").await;
    tamsin.see("[data-test=answered]").await;

    // The room has it, and the record says by which way each was told.
    nadia.go("/post-room").await;
    nadia.press("span", "chat, #yard").await;
    nadia.is_open_to_all("the post room with a chat message").await;
    nadia.go("/t/1/FR-2026-0061").await;
    nadia.text("p", "Text to Tamsin Oake, sent.").await;
    nadia.text("p", "Chat message to the room yard, sent.").await;
    nadia.close().await;
    tamsin.close().await;
}
