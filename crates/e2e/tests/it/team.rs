//! A team begins from nothing, lets people in, gives them roles, and somebody leaves.

use thirtyfour::prelude::*;
use westerfall_e2e::{Browser, Driver, Server};

const PASSWORD: &str = "seven otters by the weir";

/// The path of an address that is written on the page.
async fn address_on(page: &Browser, start: &str) -> String {
    let words = page.words().await;
    let found = words.split_whitespace().find_map(|word| word.find(start).map(|at| word[at..].to_owned()));
    found.unwrap_or_else(|| panic!("no {start} in {words}"))
}

async fn begin(server: &Server, ines: &Browser) {
    ines.go(server.beginning.as_deref().expect("nobody has begun it")).await;
    ines.text("h1", "Begin your team").await;
    ines.is_open_to_all("the beginning").await;
    ines.fill("[name=team]", "Fellside Repairs").await;
    ines.fill("[name=name]", "Ines Lark").await;
    ines.fill("[name=mail]", "ines@fellside.example").await;
    ines.fill("[name=password]", "short").await;
    ines.press("button", "Begin").await;
    ines.text("div", "A password has at least 10 characters.").await;
    ines.fill("[name=password]", PASSWORD).await;
    ines.press("button", "Begin").await;
    ines.text("h1", "Your trackers").await;
    ines.text("p", "Fellside Repairs").await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_team_begins_from_nothing_and_lets_two_colleagues_in() {
    let server = Server::own().await;
    let driver = Driver::start().await;
    let ines = driver.browser(&server, 1280, 900).await;
    ines.go("/").await;
    ines.text("p", "Nobody has begun this team yet.").await;
    begin(&server, &ines).await;
    // A tracker, from one of our templates.
    ines.click("[data-test=start]").await;
    ines.click("[data-have=template]").await;
    ines.click("[data-template='Repair mornings']").await;
    ines.click("[data-test=begin]").await;
    ines.text("h1", "Repair mornings").await;
    // Two colleagues: one by mail, one by a link.
    ines.go("/people").await;
    ines.is_open_to_all("people").await;
    ines.click("[data-test=let-in]").await;
    ines.fill("[data-test=let-in-lines]", "Kester Lowe, kester@walkers.example, mends walls\nPim Reed").await;
    ines.text("p", "2 people would be named, 1 would get a mail.").await;
    ines.fill("[data-test=let-in-word]", "Come and help on Saturdays.").await;
    ines.is_open_to_all("letting people in").await;
    ines.press("button", "Name them and mail them").await;
    ines.text("p", "1 person and 2 on the way").await;
    ines.press("div[@data-person='Pim Reed']//button", "make a link to hand over").await;
    ines.see("[data-test=invitation-link]").await;
    let link = address_on(&ines, "/come-in/").await;
    // A group of both, which holds a role that begins plain.
    ines.click("[data-test=add-group]").await;
    ines.fill("[data-test=group-name]", "Menders").await;
    ines.click("[data-member='Kester Lowe']").await;
    ines.click("[data-member='Pim Reed']").await;
    ines.press("button", "Make the group").await;
    ines.text("p", "You made the group Menders.").await;
    ines.go("/t/1/access").await;
    ines.click("[data-test=add-role]").await;
    ines.fill("[data-test=role-name]", "Lookers-on").await;
    ines.choose("[data-test=role-begins]", "Looks at everything, changes nothing.").await;
    ines.is_open_to_all("a new role").await;
    ines.click("[data-test=keep-role]").await;
    ines.press("tr[@data-role='Lookers-on']//button", "Nobody yet").await;
    ines.click("[data-group=Menders]").await;
    ines.text("p", "2 people see more.").await;
    ines.web.action_chain().send_keys(thirtyfour::Key::Escape).perform().await.unwrap();
    ines.press("button", "Do it").await;
    ines.text("tr[@data-role='Lookers-on']//button", "Menders").await;
    // By mail: it is read in the post room, where the owner of a team that has no mail server yet looks.
    ines.go("/post-room").await;
    ines.press("button", "Ines Lark invites you to Fellside Repairs").await;
    ines.text("*[self::p or self::pre or self::div]", "Come and help on Saturdays.").await;
    let mailed = address_on(&ines, "/come-in/").await;
    let kester = driver.browser(&server, 1280, 800).await;
    kester.go(&mailed).await;
    kester.text("p", "You sign in with kester@walkers.example.").await;
    kester.is_open_to_all("an invitation").await;
    kester.fill("[name=password]", PASSWORD).await;
    kester.press("button", "Come in").await;
    kester.press("a", "Repair mornings").await;
    kester.text("h1", "Repair mornings").await;
    assert_eq!(kester.count("[data-test=add-table]").await, 0);
    // By the link, on a phone; what is used is used.
    let pim = driver.browser(&server, 390, 844).await;
    pim.go(&link).await;
    pim.text("label", "Your mail address").await;
    pim.is_open_to_all("an invitation on a phone").await;
    pim.fill("[name=mail]", "pim@walkers.example").await;
    pim.fill("[name=password]", PASSWORD).await;
    pim.press("button", "Come in").await;
    pim.text("p", "None has been confirmed yet").await;
    pim.is_open_to_all("oneself on a phone").await;
    // A picture of himself, which the others see beside his name.
    let picture = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots/rows.png");
    let picture = picture.canonicalize().expect("a picture of the demo");
    pim.give_file("[data-test=own-picture]", &picture).await;
    pim.text("p", "The team sees it beside your name.").await;
    ines.go("/people").await;
    ines.see("[data-person='Pim Reed'] img.face").await;
    pim.go(&link).await;
    pim.text("p", "This address was used already, or is over.").await;
    pim.go("/").await;
    pim.text("a", "Repair mornings").await;
    // Out of the group, it closes under his eyes.
    ines.go("/people").await;
    ines.press("h2//button", "Menders").await;
    ines.click("[data-member='Kester Lowe']").await;
    ines.press("button", "Keep the group").await;
    kester.text("h1", "This tracker is not open to you").await;
    ines.press("button", "Undo").await;
    ines.text("p", "You put 1 person into Menders.").await;
    kester.go("/").await;
    kester.text("a", "Repair mornings").await;
    for page in [ines, kester, pim] {
        page.close().await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn somebody_leaves_and_hands_over_and_times_are_told_in_ones_own_zone() {
    let server = Server::start(60).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 900).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.click("[data-test=people]").await;
    nadia.click("[data-person='Jonah Adeyemi-Clark'] .name").await;
    nadia.click("[data-test=let-go]").await;
    nadia.text("td", "2 districts name them as warden").await;
    nadia.text("td", "1 thing that was asked of them is not done").await;
    nadia.choose("[data-test=give-all]", "Idris Pell").await;
    nadia.is_open_to_all("somebody leaves").await;
    nadia.press("button", "Hand over, let them go").await;
    nadia.text("p", "You let Jonah Adeyemi-Clark go.").await;
    nadia.text("h2", "Have left").await;
    // What was asked of him is asked of whoever took it over.
    let idris = driver.browser(&server, 390, 844).await;
    idris.walk_in("Idris Pell").await;
    idris.go("/rounds").await;
    idris.text("*", "Lend the long ladder").await;
    idris.close().await;
    nadia.go("/t/1/1").await;
    nadia.cell("Low Marrow", "Warden").await;
    assert_eq!(nadia.read_cell("Low Marrow", "Warden").await, "Idris Pell");
    // By keys: the picker of people offers whoever is here first, and says who has left.
    let words = nadia.words().await;
    assert!(!words.contains("Jonah"), "{words}");
    // A zone of one's own.
    nadia.go("/t/1/3/101").await;
    nadia.click("[data-field='Number']").await;
    nadia.go("/me").await;
    let begun = nadia.read("[data-test=session]").await;
    nadia.fill("[name=zone]", "Mill/Lane").await;
    nadia.click("[data-test=keep-own]").await;
    nadia.text("div", "There is no such time zone.").await;
    nadia.fill("[name=zone]", "Pacific/Kiritimati").await;
    nadia.click("[data-test=keep-own]").await;
    nadia.until("the sessions are told in it", || async { nadia.read("[data-test=session]").await != begun }).await;
    // Customs of one's own hold at once in the cells behind the menu, and in what one types next.
    nadia.go("/t/1/2/104").await;
    let holds = |wanted: &'static str| {
        let nadia = &nadia;
        async move { nadia.read_cell("PS-001", "Length").await.replace('\u{a0}', " ") == wanted }
    };
    nadia.click(".me").await;
    nadia.choose("[data-test=own-customs]", "as in Germany").await;
    nadia.until("the length is written by them", || holds("9,9 km")).await;
    nadia.keys(Key::Escape).await;
    nadia.press_cell("PS-001", "Length").await;
    nadia.keys("1.234,5").await;
    nadia.keys(Key::Enter).await;
    nadia.until("what is typed is read by them", || holds("1.234,5 km")).await;
    nadia.close().await;
}

/// A device becomes a passkey, lets its owner in, and no more once it is taken away.
#[tokio::test(flavor = "multi_thread")]
async fn a_device_is_a_second_way_in() {
    let mut server = Server::start(60).await;
    // Passkeys are of a name.
    server.address = server.address.replace("127.0.0.1", "localhost");
    let driver = Driver::start().await;
    let tamsin = driver.browser(&server, 390, 844).await;
    tamsin.walk_in("Tamsin Oake").await;
    tamsin.has_a_device().await;
    tamsin.go("/me").await;
    tamsin.text("p", "With a passkey a device of yours proves who you are").await;
    tamsin.fill("[name=passkey]", "Pocket phone").await;
    tamsin.press("button", "Make it a passkey").await;
    tamsin.text("b", "Pocket phone").await;
    tamsin.text("span", "never used").await;
    tamsin.is_open_to_all("one’s passkeys").await;
    tamsin.click(".me").await;
    tamsin.press("button", "Sign out").await;
    tamsin.click("[data-test=way-passkey]").await;
    tamsin.text("p", "that you may open").await;
    tamsin.go("/me").await;
    tamsin.text("h1", "Tamsin Oake").await;
    tamsin.text("span", "last used").await;
    tamsin.press("button", "Take it away").await;
    tamsin.text("p", "With a passkey a device of yours proves who you are").await;
    tamsin.click(".me").await;
    tamsin.press("button", "Sign out").await;
    tamsin.click("[data-test=way-passkey]").await;
    tamsin.text("p", "This passkey is not known here, or took too long.").await;
    tamsin.close().await;
}
