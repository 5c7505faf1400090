//! Mails: queued with the change that causes them, really sent over SMTP, once.

use crate::fixture::*;
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};
use std::time::{Duration, Instant};

/// The mails whose subject holds a text, as soon as there are so many; waits for them at most ten seconds.
pub(crate) async fn mails(client: &Client, text: &str, wanted: usize) -> Vec<Value> {
    let begun = Instant::now();
    loop {
        let (_, all) = client.get("/api/post-room").await;
        let found: Vec<Value> = all.as_array().unwrap().iter().filter(|m| m["subject"].as_str().unwrap().contains(text)).cloned().collect();
        if found.len() >= wanted || begun.elapsed() > Duration::from_secs(10) {
            return found;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_blocked_path_reaches_its_warden_by_mail_once() {
    let world = World::sending().await;
    let (nadia, tamsin, idris) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(IDRIS).await);
    assert_eq!(world.stranger().answer(good_answers("Gate – über “all”"), &[], None).await.0, StatusCode::OK);
    let mut passable = good_answers("Sign faded");
    passable["46"] = json!({ "text": "passable" });
    assert_eq!(world.stranger().answer(passable, &[], None).await.0, StatusCode::OK);
    let found = mails(&tamsin, "über", 1).await;
    assert_eq!(found.len(), 1);
    assert_eq!(found[0]["recipient"], "tamsin@orrindale-paths.example");
    assert_eq!(found[0]["subject"], "blocked: Gate – über “all”");
    let body = found[0]["body"].as_str().unwrap();
    assert!(body.contains("PS-001 Esker Ridge to Hob Gate (Eskermoor)") && body.contains("Reported by Wynn Ashdale"), "{body}");
    assert!(body.contains("Open it: http://westerfall.example/t/1/3/r/61"), "{body}");
    // Looking a while longer finds no second one, none of the passable one, and nothing for others.
    tokio::time::sleep(Duration::from_millis(1_500)).await;
    assert_eq!(mails(&nadia, "über", 0).await.len(), 1);
    assert!(mails(&nadia, "Sign faded", 0).await.is_empty());
    assert!(mails(&idris, "über", 0).await.is_empty());
    let (_, runs) = nadia.get("/api/trackers/1/automations/121/runs").await;
    let runs = &runs["runs"];
    assert_eq!(runs[0]["log"][0]["text"], "Does not hold: severity is blocked or dangerous; it is passable.");
    assert_eq!((&runs[1]["mails"][0]["to"], &runs[1]["mails"][0]["state"]), (&json!("Tamsin Oake"), &json!("sent")));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_server_that_does_not_answer_is_tried_again_later() {
    // An address at which nobody listens yet.
    let address = std::net::TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap().to_string();
    let mail = westerfall_server::settings::MailOut { url: format!("smtp://{address}"), ..settings().mail };
    let world = World::with(westerfall_server::settings::Settings { mail, ..settings() }).await;
    westerfall_server::worker::start(world.app.clone()).unwrap();
    let nadia = world.person(NADIA).await;
    world.stranger().answer(good_answers("Nobody answers"), &[], None).await;
    let begun = Instant::now();
    let note = loop {
        let (_, runs) = nadia.get("/api/trackers/1/automations/121/runs").await;
        let mail = runs["runs"][0]["mails"][0].clone();
        if mail["note"].as_str().is_some_and(|n| !n.is_empty()) {
            break mail;
        }
        assert!(begun.elapsed() < Duration::from_secs(10), "{mail}");
        tokio::time::sleep(Duration::from_millis(50)).await;
    };
    assert_eq!(note["state"], "waiting");
    assert!(note["note"].as_str().unwrap().starts_with("Try 1 did not work"), "{note}");
    westerfall_server::post_room::open(
        world.app.store.clone(),
        address.parse().unwrap(),
        1_000_000,
        westerfall_server::ways::Door::default(),
    )
    .unwrap();
    assert_eq!(mails(&nadia, "Nobody answers", 1).await.len(), 1);
}

#[tokio::test(flavor = "multi_thread")]
async fn an_automation_is_changed_and_its_faults_are_placed() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, list) = nadia.get("/api/trackers/1/automations").await;
    let one = &list[0];
    let mut body = json!({
        "table": FAULT_TABLE, "name": one["automation"]["name"], "on": false, "when": one["automation"]["when"],
        "condition": one["automation"]["condition"], "steps": one["steps"],
    });
    assert_eq!(nadia.put("/api/trackers/1/parts/automation/121", part("automation", body.clone())).await.0, StatusCode::OK);
    world.stranger().answer(good_answers("Off"), &[], None).await;
    assert!(!nadia.get("/api/trackers/1/automations/121/runs").await.1.to_string().contains("Off"));
    body["steps"][0]["mail"]["subject"] = json!("{Sverity} is wrong");
    let (status, problem) = nadia.put("/api/trackers/1/parts/automation/121", part("automation", body)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(
        (&problem["faults"][0]["pointer"], &problem["detail"]),
        (&json!("/steps/0/mail/subject"), &json!("There is no field “Sverity” in Faults."))
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn a_button_runs_its_automation_for_whoever_may_change_the_record() {
    let world = World::sending().await;
    let (nadia, tamsin, pavel) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(PAVEL).await);
    let mut automation = json!({
        "table": FAULT_TABLE, "name": "Tell the office", "on": true, "when": "pressed", "condition": { "all": [] },
        "steps": [{ "mail": { "to": { "address": "office@orrindale.example" }, "subject": "Look at {Number}", "body": "", "digest": false } }],
    });
    let (status, made) = nadia.post("/api/trackers/1/parts", part("automation", automation.clone())).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let runs = made["made"].as_u64().unwrap();
    let field = json!({ "field": { "id": 1, "name": "Tell", "kind": { "type": "button", "label": "Tell", "automation": runs } } });
    let (status, made) = nadia.post(&format!("/api/trackers/1/tables/{FAULT_TABLE}/fields"), field).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let own = tamsin.rows(FAULT_TABLE, &[TITLE]).await["rows"][0]["id"].as_u64().unwrap();
    let press = format!("/api/trackers/1/tables/{FAULT_TABLE}/records/{own}/press/{}", made["made"]);
    // Twice with one key is once; a reader presses nothing.
    for _ in 0..2 {
        let answer = tamsin.raw(Method::POST, &press, "", &[("idempotency-key", "one")]).await;
        assert_eq!(answer.status(), StatusCode::OK);
    }
    assert_eq!(pavel.post(&press, json!(null)).await.0, StatusCode::FORBIDDEN);
    assert_eq!(mails(&nadia, "Look at FR-", 1).await.len(), 1);
    tokio::time::sleep(Duration::from_millis(1_000)).await;
    assert_eq!(mails(&nadia, "Look at FR-", 0).await.len(), 1);
    // Switched off, it does nothing and says so.
    automation["on"] = json!(false);
    assert_eq!(nadia.put(&format!("/api/trackers/1/parts/automation/{runs}"), part("automation", automation)).await.0, StatusCode::OK);
    assert_eq!(tamsin.post(&press, json!(null)).await.0, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_copy_of_an_answer_goes_to_the_address_that_was_given_and_to_no_other() {
    let world = World::sending().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let (_, design) = nadia.get("/api/trackers/1/forms/120").await;
    let mut form = design["form"].clone();
    form["copy"] = json!(52);
    let body = json!({ "form": form, "confirmation": "Thank you for {Number}." });
    assert_eq!(nadia.put("/api/trackers/1/parts/form/120", part("form", body)).await.0, StatusCode::OK);
    let mut answers = good_answers("Stile down");
    answers["52"] = json!({ "text": "wynn@walkers.example" });
    let (status, sent) = stranger.answer(answers.clone(), &[], Some("one")).await;
    assert_eq!(status, StatusCode::OK, "{sent}");
    stranger.answer(answers, &[], Some("one")).await;
    assert_eq!(stranger.answer(good_answers("Without an address"), &[], None).await.0, StatusCode::OK);
    let found = mails(&nadia, "Your answer: Report a path fault", 1).await;
    assert_eq!((found.len(), &found[0]["recipient"]), (1, &json!("wynn@walkers.example")));
    let body = found[0]["body"].as_str().unwrap();
    assert!(body.starts_with(sent["confirmation"].as_str().unwrap()) && body.contains("What is wrong?\n  Stile down"), "{body}");
    // No address of the record, which is not theirs to open.
    assert!(!body.contains("/t/1/3/r/"), "{body}");
}

/// The token in the foot of the last mail whose subject holds a text, and the mail as it came over the line.
async fn opt_out_of(world: &World, nadia: &Client, text: &str, wanted: usize) -> (String, String) {
    let found = mails(nadia, text, wanted).await;
    assert_eq!(found.len(), wanted, "{found:?}");
    let body = found[0]["body"].as_str().unwrap();
    let token = body.split("/opt-out/").nth(1).unwrap_or_else(|| panic!("{body}")).split_whitespace().next().unwrap().to_owned();
    let raw = world.app.store.raw_message(found[0]["id"].as_i64().unwrap()).await.unwrap().unwrap();
    (token, String::from_utf8(raw).unwrap().replace("\r\n ", " "))
}

/// An automation that writes to whoever reported a fault.
fn thanks(subject: &str) -> Value {
    let mail = json!({ "to": { "field": [52] }, "subject": subject, "body": "Thank you.", "digest": false });
    json!({
        "table": FAULT_TABLE, "name": "Thank the walker", "on": true, "when": { "form": null }, "condition": { "all": [] },
        "steps": [{ "mail": mail }],
    })
}

async fn reported(world: &World, title: &str, address: &str) {
    let mut answers = good_answers(title);
    answers["52"] = json!({ "text": address });
    assert_eq!(world.stranger().answer(answers, &[], None).await.0, StatusCode::OK);
}

#[tokio::test(flavor = "multi_thread")]
async fn somebody_outside_says_at_one_press_that_they_want_no_more_and_gets_none_until_it_is_put_right() {
    let world = World::sending().await;
    let (nadia, tamsin, stranger) = (world.person(NADIA).await, world.person(TAMSIN).await, world.stranger());
    assert_eq!(nadia.post("/api/trackers/1/parts", part("automation", thanks("We have {What is wrong}"))).await.0, StatusCode::OK);
    reported(&world, "one stile", "wynn@walkers.example").await;
    let (token, raw) = opt_out_of(&world, &nadia, "We have one stile", 1).await;
    let address = format!("http://westerfall.example/opt-out/{token}");
    // As RFC 8058 has it; the mail to the warden, who is of the team, has neither.
    assert!(raw.contains(&format!("List-Unsubscribe: <{address}>\r\n")), "{raw}");
    assert!(raw.contains("List-Unsubscribe-Post: List-Unsubscribe=One-Click\r\n"), "{raw}");
    let others = mails(&nadia, "blocked: one stile", 1).await;
    assert!(!others[0]["body"].as_str().unwrap().contains("/opt-out/"));

    // Looking, as scanners of mails do, changes nothing.
    let at = format!("/api/public/opt-outs/{token}");
    for _ in 0..2 {
        let (status, view) = stranger.get(&at).await;
        assert_eq!((status, view["offers"][0]["says"].as_str()), (StatusCode::OK, Some("notthese")), "{view}");
        assert_eq!(stranger.raw(Method::GET, &format!("/opt-out/{token}"), "", &[]).await.status(), StatusCode::NOT_FOUND);
    }
    let before = nadia.get("/api/team/opt-outs").await.1;
    assert_eq!(before, json!([]));
    // One press: a form, posted by a machine that sends no cookie and no origin.
    let form = [("content-type", "application/x-www-form-urlencoded")];
    let press = async |token: &str| {
        let request = axum::http::Request::post(format!("/opt-out/{token}")).header(form[0].0, form[0].1);
        stranger.send(request.body("List-Unsubscribe=One-Click".into()).unwrap()).await.status()
    };
    assert_eq!(press(&token).await, StatusCode::NO_CONTENT);
    assert_eq!(press(&token).await, StatusCode::NO_CONTENT);
    assert_eq!(press("0123456789abcdef").await, StatusCode::NOT_FOUND);
    let listed = nadia.get("/api/team/opt-outs").await.1;
    assert_eq!(
        (listed.as_array().unwrap().len(), &listed[0]["address"], &listed[0]["all"]),
        (1, &json!("wynn@walkers.example"), &json!(false))
    );
    assert!(listed[0]["of"][0]["words"].as_str().unwrap().starts_with("“Thank the walker” of "), "{listed}");
    assert_eq!(tamsin.get("/api/team/opt-outs").await.1, json!([]), "whoever runs no tracker knows of none");

    reported(&world, "two stiles", "Wynn@Walkers.example").await;
    reported(&world, "other stile", "kit@walkers.example").await;
    assert_eq!(mails(&nadia, "We have other stile", 1).await.len(), 1);
    assert!(mails(&nadia, "We have two stiles", 0).await.is_empty());
    let automation = nadia.get("/api/trackers/1/automations").await.1;
    let number =
        automation.as_array().unwrap().iter().find(|one| one["automation"]["name"] == "Thank the walker").unwrap()["automation"]["id"]
            .clone();
    let runs = nadia.get(&format!("/api/trackers/1/automations/{number}/runs")).await.1.to_string();
    assert!(runs.contains("No mail to Wynn@Walkers.example: they want no more of these messages."), "{runs}");

    // At the page all is declined, and taken up again.
    let said = stranger.post(&at, json!({ "says": "none" })).await.1;
    assert_eq!(said["offers"][0]["says"], "again", "{said}");
    assert_eq!(tamsin.post("/api/team/opt-outs", json!({ "address": "wynn@walkers.example", "to": "all" })).await.0, StatusCode::FORBIDDEN);
    let (status, done) = nadia.post("/api/team/opt-outs", json!({ "address": "wynn@walkers.example", "to": "all" })).await;
    assert_eq!((status, done["did"].as_str()), (StatusCode::OK, Some("lets messages go to wynn@walkers.example again")));
    reported(&world, "three stiles", "wynn@walkers.example").await;
    assert_eq!(mails(&nadia, "We have three stiles", 1).await.len(), 1);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_waits_is_not_sent_to_whoever_says_no_meanwhile() {
    // No worker yet: what is queued waits.
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, made) = nadia.post("/api/trackers/1/parts", part("automation", thanks("We have {What is wrong}"))).await;
    reported(&world, "a gate", "wynn@walkers.example").await;
    let no = json!({ "address": "wynn@walkers.example", "to": { "none": { "by": null } } });
    assert_eq!(nadia.post("/api/team/opt-outs", no).await.0, StatusCode::OK);
    let address = westerfall_server::post_room::open(
        world.app.store.clone(),
        ([127, 0, 0, 1], 0).into(),
        1_000_000,
        westerfall_server::ways::Door::default(),
    )
    .unwrap();
    let mail = westerfall_server::settings::MailOut { url: format!("smtp://{address}"), ..settings().mail };
    let world = world.again(westerfall_server::settings::Settings { mail, ..settings() }).await;
    westerfall_server::worker::start(world.app.clone()).unwrap();
    let nadia = world.person(NADIA).await;
    assert_eq!(mails(&nadia, "blocked: a gate", 1).await.len(), 1);
    let begun = Instant::now();
    loop {
        let (_, runs) = nadia.get(&format!("/api/trackers/1/automations/{}/runs", made["made"])).await;
        let mail = &runs["runs"][0]["mails"][0];
        if mail["state"] == "declined" {
            assert!(mail["note"].as_str().unwrap().starts_with("Not sent: its reader said meanwhile"), "{mail}");
            break;
        }
        assert!(begun.elapsed() < Duration::from_secs(10), "{mail}");
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    assert!(mails(&nadia, "We have a gate", 0).await.is_empty());
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_mail_server_refuses_for_good_is_given_up_at_once_and_what_it_refuses_for_now_is_tried_again() {
    let world = World::sending().await;
    let nadia = world.person(NADIA).await;
    let (_, made) = nadia.post("/api/trackers/1/parts", part("automation", thanks("We have {What is wrong}"))).await;
    reported(&world, "nobody's gate", "nobody@unknown.example").await;
    reported(&world, "busy gate", "somebody@later.example").await;
    let begun = Instant::now();
    loop {
        let (_, told) = nadia.get(&format!("/api/trackers/1/automations/{}/runs", made["made"])).await;
        let mail = |to: &str| {
            let runs = told["runs"].as_array().unwrap();
            runs.iter().map(|run| run["mails"][0].clone()).find(|mail| mail["to"].as_str().is_some_and(|name| name.contains(to))).unwrap()
        };
        let (gone, later) = (mail("unknown.example"), mail("later.example"));
        if gone["state"] == "failed" && later["note"].as_str().is_some_and(|note| !note.is_empty()) {
            assert!(gone["note"].as_str().unwrap().starts_with("The mail server refuses it for good: "), "{gone}");
            assert_eq!(later["state"], "waiting");
            assert!(later["note"].as_str().unwrap().starts_with("Try "), "{later}");
            break;
        }
        assert!(begun.elapsed() < Duration::from_secs(10), "{gone} {later}");
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    // What it did is looked through by words, whoever was written to, and by how far its runs have come.
    let found = async |query: &str| {
        let (status, told) = nadia.get(&format!("/api/trackers/1/automations/{}/runs?{query}", made["made"])).await;
        assert_eq!(status, StatusCode::OK, "{told}");
        told["runs"].as_array().unwrap().iter().map(|run| run["record_name"].as_str().unwrap().to_owned()).collect::<Vec<_>>()
    };
    assert_eq!(found("find=UNKNOWN.example").await, ["nobody's gate"]);
    assert_eq!(found("find=busy").await, ["busy gate"]);
    assert_eq!(found("state=failed").await, ["nobody's gate"]);
    assert!(found("find=busy&state=failed").await.is_empty());
    assert_eq!(found("").await.len(), 2);
    // It is a loose end of the tracker for whoever can send it again, and for nobody else.
    let ends = async |client: &Client| {
        let (_, plan) = client.get("/api/trackers/1/groundplan").await;
        plan["ends"].as_array().unwrap().iter().filter(|end| end["sort"] == "lost").map(|end| end["count"].clone()).collect::<Vec<_>>()
    };
    assert_eq!(ends(&nadia).await, [json!(1)]);
    assert!(ends(&world.person(TAMSIN).await).await.is_empty());
}

#[tokio::test(flavor = "multi_thread")]
async fn the_team_says_when_and_how_fast_messages_go_out_also_to_those_outside() {
    let world = World::sending().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let path = "/api/team/sending";
    let zone = jiff::tz::TimeZone::get("Europe/London").unwrap();
    // All of the tracker's day but the minute two hours ago.
    let now = jiff::Timestamp::now().to_zoned(zone);
    let then = (i32::from(now.hour()) * 60 + i32::from(now.minute()) + 22 * 60) % 1_440;
    let quiet = json!({ "quiet": { "from": (then + 1) % 1_440, "until": then }, "to_one": 1 });
    assert_eq!(tamsin.put(path, quiet.clone()).await.0, StatusCode::FORBIDDEN);
    let (status, told) = nadia.put(path, json!({ "to_one": 61 })).await;
    assert_eq!((status, told["faults"][0]["pointer"].as_str()), (StatusCode::UNPROCESSABLE_ENTITY, Some("/to_one")), "{told}");
    let (status, told) = nadia.put(path, quiet.clone()).await;
    assert_eq!((status, told["did"].as_str()), (StatusCode::OK, Some("changed when and how fast messages go out")), "{told}");
    assert_eq!(nadia.get("/api/team").await.1["sending"], quiet);

    let (_, made) = nadia.post("/api/trackers/1/parts", part("automation", thanks("We have {What is wrong}"))).await;
    reported(&world, "first gate", "walker@out.example").await;
    reported(&world, "second gate", "walker@out.example").await;
    let waiting = async |note: &str| {
        let sql =
            format!("SELECT count(*) FROM job WHERE state = 'waiting' AND mail->>'to' = 'walker@out.example' AND note LIKE '{note}%'");
        world.count(&sql).await
    };
    let until = async |note: &str, count: i64| {
        let begun = Instant::now();
        while waiting(note).await != count {
            assert!(begun.elapsed() < Duration::from_secs(10), "{note}: {}", waiting(note).await);
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
    };
    until("It waits until its reader’s quiet hours are over.", 2).await;
    // Once the hours are over, one goes out within the hour; the other waits for the next.
    assert_eq!(nadia.put(path, json!({ "to_one": 1 })).await.0, StatusCode::OK);
    world.sql("UPDATE job SET due_at = now() WHERE state = 'waiting'").await;
    until("It waits for the next hour: 1 message of this automation", 1).await;
    assert_eq!(mails(&nadia, "We have ", 1).await.len(), 1, "{made}");
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_mailed_by_itself_waits_for_the_end_of_quiet_hours_and_what_is_asked_for_does_not() {
    let world = World::sending().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let (_, me) = tamsin.get("/api/session").await;
    // All of the day but the minute two hours ago.
    let now = jiff::Timestamp::now().to_zoned(jiff::tz::TimeZone::UTC);
    let then = (i32::from(now.hour()) * 60 + i32::from(now.minute()) + 22 * 60) % 1_440;
    let own =
        |quiet: Value| json!({ "name": "Tamsin Oake", "about": me["about"], "phone": "", "zone": "UTC", "customs": null, "quiet": quiet });
    let (status, told) = tamsin.put("/api/session", own(json!({ "from": 5, "until": 5 }))).await;
    assert_eq!((status, told["faults"][0]["pointer"].as_str()), (StatusCode::UNPROCESSABLE_ENTITY, Some("/quiet")), "{told}");
    let quiet = json!({ "from": (then + 1) % 1_440, "until": then });
    assert_eq!(tamsin.put("/api/session", own(quiet.clone())).await.0, StatusCode::OK);
    assert_eq!(tamsin.get("/api/session").await.1["quiet"], quiet);

    world.stranger().answer(good_answers("Gate at night"), &[], None).await;
    let begun = Instant::now();
    let mail = async || nadia.get("/api/trackers/1/automations/121/runs").await.1["runs"][0]["mails"][0].clone();
    while mail().await["note"].as_str().is_none_or(str::is_empty) {
        assert!(begun.elapsed() < Duration::from_secs(10));
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    let held = mail().await;
    assert_eq!((&held["state"], &held["note"]), (&json!("waiting"), &json!("It waits until its reader’s quiet hours are over.")));
    // A code that she asks for comes at once.
    let asked = world.stranger().post("/api/codes", json!({ "mail": "tamsin@orrindale-paths.example" })).await;
    assert!(asked.0.is_success(), "{asked:?}");
    assert_eq!(mails(&tamsin, "is your code", 1).await.len(), 1);
    assert!(mails(&nadia, "Gate at night", 0).await.is_empty());
    // Once the hours are over it goes out.
    assert_eq!(tamsin.put("/api/session", own(Value::Null)).await.0, StatusCode::OK);
    world.sql("UPDATE job SET due_at = now() WHERE state = 'waiting'").await;
    assert_eq!(mails(&nadia, "Gate at night", 1).await.len(), 1);
}
