//! Automations that act, wait, come by the clock and are run by hand: kept with what sets them going, once, over several servers.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};
use std::time::{Duration, Instant};

const CHECKED: u32 = 81;
const REPORTED: u32 = 80;
/// How many mails there are to the office, to which nothing of the demo goes.
const SENT: &str = "SELECT count(*) FROM job WHERE mail->>'to' LIKE 'office@%'";

fn is_status(option: u32) -> Value {
    json!({ "test": { "path": [STATUS], "of": "any", "check": { "is": "option", "not": false, "any": [option] } } })
}

fn mail(subject: &str) -> Value {
    json!({ "mail": { "to": { "address": "office@orrindale-paths.example" }, "subject": subject, "body": "{Number}", "digest": false } })
}

fn describe(text: &str) -> Value {
    json!({ "set": { "along": [], "alter": [{ "field": DESCRIPTION, "to": { "set": { "text": text } } }] } })
}

fn automation(when: Value, condition: Value, steps: Value) -> Value {
    json!({ "table": FAULT_TABLE, "name": "Tried out", "on": true, "when": when, "condition": condition, "steps": steps })
}

async fn make(client: &Client, body: Value) -> u64 {
    let (status, made) = client.post("/api/trackers/1/parts", part("automation", body)).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    made["made"].as_u64().unwrap()
}

async fn set_status(client: &Client, record: u32, option: u32) -> Value {
    let edit = json!({ "field": STATUS, "input": { "value": { "choice": option } } });
    let (status, done) = client.patch(&record_path(record), json!({ "edits": [edit] })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    done
}

async fn description(client: &Client, record: u32) -> String {
    let rows = client.rows(FAULT_TABLE, &[DESCRIPTION]).await;
    let row = rows["rows"].as_array().unwrap().iter().find(|row| row["id"] == record).cloned().unwrap();
    row["cells"][0]["text"].as_str().unwrap_or_default().to_owned()
}

async fn runs(client: &Client, automation: u64) -> Value {
    client.get(&format!("/api/trackers/1/automations/{automation}/runs")).await.1
}

/// Asks again and again, for at most ten seconds.
async fn until<T>(what: &str, mut asked: impl AsyncFnMut() -> Option<T>) -> T {
    let begun = Instant::now();
    loop {
        if let Some(found) = asked().await {
            return found;
        }
        assert!(begun.elapsed() < Duration::from_secs(10), "{what} did not come");
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_change_sets_going_is_kept_with_it_and_named_in_the_trail() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    set_status(&nadia, 5, REPORTED).await;
    let id =
        make(&nadia, automation(json!({ "changed": [STATUS] }), is_status(CHECKED), json!([describe("looked at"), mail("Seen")]))).await;
    let done = set_status(&nadia, 5, CHECKED).await;
    assert_eq!(description(&nadia, 5).await, "looked at");
    let told = runs(&nadia, id).await;
    assert_eq!(told["runs"].as_array().unwrap().len(), 1);
    assert_eq!(told["runs"][0]["state"], "ended");
    assert!(told["says"].as_str().unwrap().starts_with("1 ran in 30 days"), "{told}");
    let (_, trail) = nadia.get(&format!("{}/trail", record_path(5))).await;
    assert!(trail.to_string().contains("the automation “Tried out”"), "{trail}");
    // The server that reads it from the log has the same.
    let other = world.again(settings()).await;
    assert_eq!(description(&other.person(NADIA).await, 5).await, "looked at");
    // Taking one's own step back takes back that step; the automation's stands until somebody takes it back.
    let (status, undone) = nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(status, StatusCode::OK, "{undone}");
    assert_eq!(description(&nadia, 5).await, "looked at");
    assert_eq!(world.count(SENT).await, 1, "one mail, and no second one for anything");
}

/// Whoever follows a record hears what an automation says about it, as what people say, as far as they see the record.
#[tokio::test(flavor = "multi_thread")]
async fn what_an_automation_says_is_told_to_those_who_follow_the_record() {
    let world = World::new().await;
    let (nadia, tamsin, idris) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(IDRIS).await);
    let hers = tamsin.rows(FAULT_TABLE, &[STATUS]).await["rows"][0]["id"].as_u64().unwrap();
    let record = u32::try_from(hers).unwrap();
    let unread = async |who: &Client| who.get("/api/inbox/unread").await.1["unread"].as_u64().unwrap();
    let before = (unread(&tamsin).await, unread(&idris).await);
    for who in [&tamsin, &nadia] {
        assert_eq!(who.put(&format!("{}/attention", record_path(record)), json!({ "follows": true })).await.0, StatusCode::NO_CONTENT);
    }
    set_status(&nadia, record, REPORTED).await;
    let says = json!([{ "say": { "text": "Looked at: {Number}" } }]);
    make(&nadia, automation(json!({ "changed": [STATUS] }), is_status(CHECKED), says)).await;
    set_status(&nadia, record, CHECKED).await;
    until("what it said", async || (unread(&tamsin).await == before.0 + 1).then_some(())).await;
    let (_, inbox) = tamsin.get("/api/inbox").await;
    assert!(inbox.to_string().contains("Tried out"), "{inbox}");
    assert!(inbox.to_string().contains("You are told since you follow this fault."), "{inbox}");
    assert_eq!(unread(&idris).await, before.1, "who does not follow it hears nothing");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_run_that_waits_goes_on_once_though_two_servers_look_after_it() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let pause = json!({ "until": { "condition": is_status(CHECKED), "days": 3 } });
    let wait = json!({ "wait": { "pause": pause, "steps": [mail("It was")], "otherwise": [mail("It was not")] } });
    let id = make(&nadia, automation(json!("chosen"), json!({ "all": [] }), json!([wait, describe("waited")]))).await;
    for record in [6, 7] {
        set_status(&nadia, record, REPORTED).await;
    }
    let (status, done) = nadia.post(&format!("/api/trackers/1/automations/{id}/run"), json!({ "records": [6, 7] })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert!(runs(&nadia, id).await["runs"].as_array().unwrap().iter().all(|run| run["state"] == "waits"));
    let other = world.beside().await;
    westerfall_server::running::start(world.app.clone());
    westerfall_server::running::start(other.app.clone());
    set_status(&nadia, 6, CHECKED).await;
    until("what it waited for", async || (description(&nadia, 6).await == "waited").then_some(())).await;
    // The other one has waited long enough.
    world.sql("UPDATE run SET waits_until = now() - interval '1 minute' WHERE waits_until IS NOT NULL").await;
    world
        .sql("UPDATE run SET paused = jsonb_set(paused::jsonb, '{until}', '\"2026-01-01T00:00:00Z\"')::json WHERE paused IS NOT NULL")
        .await;
    until("its end", async || (description(&nadia, 7).await == "waited").then_some(())).await;
    tokio::time::sleep(Duration::from_millis(1_600)).await;
    let told = runs(&nadia, id).await;
    let kept = told["runs"].as_array().unwrap();
    assert_eq!(kept.len(), 2, "a run goes on as itself: {told}");
    assert!(kept.iter().all(|run| run["state"] == "ended" && run["mails"].as_array().unwrap().len() == 1), "{told}");
    let subjects = "SELECT count(DISTINCT mail->>'subject') FROM job WHERE mail->>'to' LIKE 'office@%'";
    assert_eq!((world.count(subjects).await, world.count(SENT).await), (2, 2));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_time_that_nobody_watched_for_comes_once_whoever_wakes_first() {
    let world = World::sending().await;
    let nadia = world.person(NADIA).await;
    let blocked = json!({ "test": { "path": [46], "of": "any", "check": { "is": "option", "not": false, "any": [BLOCKED] } } });
    let (_, tracker) = nadia.get("/api/trackers/1").await;
    let field = |table: &str, name: &str| {
        let tables = tracker["tables"].as_array().unwrap();
        let found = tables.iter().find(|t| t["name"] == table).unwrap();
        found["fields"].as_array().unwrap().iter().find(|f| f["name"] == name).unwrap()["id"].clone()
    };
    let to = json!({ "field": [SECTION, field("Sections", "District"), field("Districts", "Warden")] });
    let step = json!({ "mail": { "to": to, "subject": "What is blocked", "body": "{Number}: {What is wrong}", "digest": true } });
    let id = make(&nadia, automation(json!({ "every": { "round": "daily", "at": 420 } }), blocked, json!([step]))).await;
    assert_eq!(world.count(&format!("SELECT count(*) FROM occasion WHERE automation_id = {id}")).await, 1);
    assert_eq!(world.count("SELECT count(*) FROM tracker WHERE wakes_at IS NOT NULL AND id = 1").await, 1);
    // A server that was not there for two days wakes beside another that was not there either.
    world.sql("UPDATE occasion SET upto = now() - interval '50 hours'").await;
    let (first, second) = (world.again(settings()).await, world.again(settings()).await);
    first.app.tidy().await.unwrap();
    let (one, two) =
        tokio::join!(first.app.tracker(westerfall_server::demo::TRACKER), second.app.tracker(westerfall_server::demo::TRACKER));
    let _held = (one.unwrap(), two.unwrap());
    let told = until("the message", async || {
        let told = runs(&nadia, id).await;
        (told["runs"].as_array()?.len() == 1 && !told["runs"][0]["mails"].as_array()?.is_empty()).then_some(told)
    })
    .await;
    assert!(told["runs"][0]["record"].is_null());
    tokio::time::sleep(Duration::from_millis(1_000)).await;
    assert_eq!(runs(&nadia, id).await["runs"].as_array().unwrap().len(), 1, "of a timetable the last time alone, once");
    let tamsin = world.person(TAMSIN).await;
    let message = until("her mail", async || {
        let (_, all) = tamsin.get("/api/post-room").await;
        all.as_array()?.iter().find(|mail| mail["subject"] == "What is blocked").cloned()
    })
    .await;
    let body = message["body"].as_str().unwrap();
    assert!(body.contains("faults:") || body.contains("fault:"), "{body}");
    assert!(body.contains("http://westerfall.example/t/1/3/r/"), "each may be opened: {body}");
}

#[tokio::test(flavor = "multi_thread")]
async fn run_by_hand_it_leaves_out_whom_it_has_reached_and_says_before_what_follows() {
    let world = World::new().await;
    let (nadia, tamsin, pavel) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(PAVEL).await);
    let id = make(&nadia, automation(json!("chosen"), json!({ "all": [] }), json!([mail("By hand {Number}")]))).await;
    let path = format!("/api/trackers/1/automations/{id}/run");
    let own = tamsin.rows(FAULT_TABLE, &[TITLE]).await["rows"][0]["id"].as_u64().unwrap();
    let (_, offered) = tamsin.get("/api/trackers/1/tables/3/automations").await;
    assert_eq!((&offered[0]["name"], &offered[0]["does"]), (&json!("Tried out"), &json!("")), "what it does names what she may not know");
    let (status, told) = tamsin.post(&format!("{path}/rehearsal"), json!({ "records": [own] })).await;
    assert_eq!((status, &told["says"][0]), (StatusCode::OK, &json!("1 mail goes to 1 address outside.")));
    assert_eq!(world.count(SENT).await, 0, "rehearsed");
    assert_eq!(tamsin.post(&path, json!({ "records": [own] })).await.0, StatusCode::OK);
    let all: Vec<u64> = (1..=20).chain([own]).collect();
    assert_eq!(tamsin.post(&path, json!({ "records": all })).await.0, StatusCode::NOT_FOUND, "others are not there for her");
    assert_eq!(pavel.post(&path, json!({ "records": [own] })).await.0, StatusCode::FORBIDDEN);
    let (_, told) = nadia.post(&format!("{path}/rehearsal"), json!({ "records": all, "only_new": true })).await;
    let new = all.iter().collect::<std::collections::BTreeSet<_>>().len() - 1;
    assert_eq!((&told["reached"], &told["says"][0]), (&json!(1), &json!(format!("{new} mails go to 1 address outside."))));
    assert_eq!(nadia.post(&path, json!({ "records": all, "only_new": true })).await.0, StatusCode::OK);
    assert_eq!(world.count(SENT).await, new as i64 + 1);
    let (_, again) = nadia.post(&path, json!({ "records": all, "only_new": true })).await;
    assert!(again["seq"].is_null(), "nobody is left: {again}");
    assert_eq!(nadia.post(&path, json!({ "records": [] })).await.0, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_draft_stands_beside_what_runs_is_rehearsed_and_takes_over() {
    let world = World::sending().await;
    let nadia = world.person(NADIA).await;
    let mut body = automation(json!({ "changed": [STATUS] }), json!({ "all": [] }), json!([describe("as it runs")]));
    let id = make(&nadia, body.clone()).await;
    let path = format!("/api/trackers/1/parts/automation/{id}");
    body["draft"] = json!({ "when": { "changed": [STATUS] }, "condition": is_status(CHECKED), "steps": [describe("as the draft"), mail("Draft {Number}")] });
    assert_eq!(nadia.put(&path, part("automation", body.clone())).await.0, StatusCode::OK);
    let list = nadia.get("/api/trackers/1/automations").await.1;
    let seen = list.as_array().unwrap().iter().find(|one| one["automation"]["id"] == id).cloned().unwrap();
    assert_eq!(seen["draft"]["differs"].as_array().unwrap().len(), 3, "{}", seen["draft"]["differs"]);
    set_status(&nadia, 8, REPORTED).await;
    set_status(&nadia, 8, CHECKED).await;
    assert_eq!(description(&nadia, 8).await, "as it runs");
    // Over what has just happened the draft would have done otherwise; trying it changes nothing.
    let drafted = json!({
        "table": FAULT_TABLE, "name": "Tried out", "on": true,
        "when": body["draft"]["when"], "condition": body["draft"]["condition"], "steps": body["draft"]["steps"],
    });
    let trial = json!({ "number": id, "automation": drafted, "days": 7 });
    let (status, told) = nadia.post("/api/trackers/1/automations/rehearsal", trial.clone()).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    assert!(
        told["happened"].as_array().unwrap().iter().any(|run| run["record"] == 8 && run["mails"][0]["subject"].as_str().is_some()),
        "{told}"
    );
    assert_eq!(description(&nadia, 8).await, "as it runs");
    let one = json!({ "number": id, "automation": drafted, "record": 8 });
    let (status, _) = nadia.post("/api/trackers/1/automations/trial", one).await;
    assert_eq!(status, StatusCode::OK);
    let mine = until("the trial", async || {
        let (_, all) = nadia.get("/api/post-room").await;
        all.as_array()?.iter().find(|mail| mail["subject"].as_str().is_some_and(|s| s.starts_with("Trial: Draft FR-"))).cloned()
    })
    .await;
    assert_eq!(mine["recipient"], "nadia@orrindale-paths.example", "a trial goes to whoever tries, and to nobody else");
    // Whoever does not build tries nothing.
    let tamsin = world.person(TAMSIN).await;
    assert_eq!(tamsin.post("/api/trackers/1/automations/rehearsal", trial).await.0, StatusCode::NOT_FOUND);
    let mut over = drafted.clone();
    over["on"] = json!(true);
    assert_eq!(nadia.put(&path, part("automation", over)).await.0, StatusCode::OK);
    set_status(&nadia, 8, REPORTED).await;
    set_status(&nadia, 8, CHECKED).await;
    assert_eq!(description(&nadia, 8).await, "as the draft");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_move_says_what_would_follow_before_it_is_kept_and_nothing_where_nothing_follows() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    make(&nadia, automation(json!({ "changed": [STATUS] }), is_status(CHECKED), json!([describe("looked at"), mail("Seen")]))).await;
    let own = tamsin.rows(FAULT_TABLE, &[TITLE]).await["rows"][0]["id"].as_u64().unwrap();
    set_status(&nadia, own as u32, REPORTED).await;
    let moved = |option: u32| {
        let edit = json!({ "field": STATUS, "input": { "value": { "choice": option } } });
        json!({ "query": { "fields": shown(&[TITLE]) }, "records": [own], "edits": [edit] })
    };
    let path = "/api/trackers/1/tables/3/records/rehearsal";
    let (status, told) = tamsin.post(path, moved(CHECKED)).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    let says = told["says"].to_string();
    assert!(says.contains("1 mail goes to 1 address outside.") && says.contains("“Tried out” changes Description."), "{says}");
    let (_, told) = tamsin.post(path, moved(82)).await;
    assert!(!told["says"].to_string().contains("Tried out"), "{told}");
    assert_eq!(world.count(SENT).await, 0);
    let bulk = json!({ "records": [own], "query": { "fields": shown(&[TITLE]) }, "alter": [{ "field": STATUS, "to": { "set": { "value": { "choice": CHECKED } } } }] });
    let (_, told) = tamsin.post("/api/trackers/1/tables/3/bulk/rehearsal", bulk).await;
    assert!(told["says"].to_string().contains("1 mail goes to"), "{told}");
}

#[tokio::test(flavor = "multi_thread")]
async fn faults_stand_at_the_step_that_has_them_however_deep() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let inner = json!({ "if": { "condition": is_status(CHECKED), "steps": [mail("{Nmber}")], "otherwise": [] } });
    let each = json!({ "each": {
        "table": FAULT_TABLE, "condition": { "all": [] }, "same": [], "first": false, "steps": [inner], "otherwise": [],
    } });
    let body = automation(json!("added"), json!({ "all": [] }), json!([describe("x"), each]));
    let (status, problem) = nadia.post("/api/trackers/1/parts", part("automation", body)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(problem["faults"][0]["pointer"], "/steps/1/each/steps/0/if/steps/0/mail/subject", "{problem}");
    let body = automation(json!("fits"), json!({ "all": [] }), json!(["stop"]));
    let (status, problem) = nadia.post("/api/trackers/1/parts", part("automation", body.clone())).await;
    assert_eq!((status, &problem["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/condition")));
    // What rests may be half said.
    let mut rests = body;
    rests["on"] = json!(false);
    assert_eq!(nadia.post("/api/trackers/1/parts", part("automation", rests)).await.0, StatusCode::OK);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_single_edit_and_a_press_say_what_would_follow_and_one_that_is_not_said_beforehand_is_silent() {
    let world = World::new().await;
    let (nadia, tamsin, wren) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(WREN).await);
    let body = automation(json!({ "changed": [STATUS] }), is_status(CHECKED), json!([describe("looked at"), mail("Seen")]));
    let number = make(&nadia, body.clone()).await;
    let own = tamsin.rows(FAULT_TABLE, &[TITLE]).await["rows"][0]["id"].as_u64().unwrap();
    set_status(&nadia, own as u32, REPORTED).await;
    let path = format!("{}/following", record_path(own as u32));
    let becomes = |option: u32| json!({ "edit": [{ "field": STATUS, "input": { "value": { "choice": option } } }] });
    let asked = async |client: &Client, body: Value| {
        let (status, told) = client.post(&path, body).await;
        assert_eq!(status, StatusCode::OK, "{told}");
        told
    };
    let sets_going = async |client: &Client| {
        let (_, tracker) = client.get("/api/trackers/1").await;
        let table = tracker["tables"].as_array().unwrap().iter().find(|table| table["id"] == FAULT_TABLE).cloned().unwrap();
        let field = table["fields"].as_array().unwrap().iter().find(|field| field["id"] == STATUS).cloned().unwrap();
        field["sets_going"] == true
    };

    let told = asked(&tamsin, becomes(CHECKED)).await.to_string();
    assert!(told.contains("1 mail goes to 1 address outside.") && told.contains("“Tried out” changes Description."), "{told}");
    // Nothing follows, what is asked would be refused, and nobody changes it who only looks.
    for told in [asked(&tamsin, becomes(82)).await, asked(&tamsin, becomes(9_999)).await, asked(&tamsin, json!({ "press": TITLE })).await] {
        assert_eq!(told, json!([]));
    }
    assert_eq!(asked(&wren, becomes(CHECKED)).await, json!([]));
    assert!(sets_going(&tamsin).await);
    assert_eq!((description(&nadia, own as u32).await == "looked at", world.count(SENT).await), (false, 0));

    let mut unsaid = body;
    unsaid["unsaid"] = json!(true);
    let (status, saved) = nadia.put(&format!("/api/trackers/1/parts/automation/{number}"), part("automation", unsaid)).await;
    assert_eq!(status, StatusCode::OK, "{saved}");
    let told = asked(&tamsin, becomes(CHECKED)).await.to_string();
    assert!(!told.contains("Tried out") && !told.contains("address outside"), "{told}");
    // Whoever asks for a rehearsal hears of it all the same.
    let bulk = json!({ "records": [own], "query": { "fields": shown(&[TITLE]) }, "alter": [{ "field": STATUS, "to": { "set": { "value": { "choice": CHECKED } } } }] });
    let (_, told) = tamsin.post("/api/trackers/1/tables/3/bulk/rehearsal", bulk).await;
    assert!(told["says"].to_string().contains("1 mail goes to"), "{told}");
}

#[tokio::test(flavor = "multi_thread")]
async fn messages_are_written_by_a_text_of_the_team_and_start_what_others_hand_on() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let text = |subject: &str| json!({ "text": { "table": FAULT_TABLE, "name": "Seen", "subject": subject, "body": "{Number}" } });
    let (status, refused) = nadia.post("/api/trackers/1/parts", text("{Nowhere}")).await;
    assert_eq!((status, refused["faults"][0]["pointer"].as_str()), (StatusCode::UNPROCESSABLE_ENTITY, Some("/subject")), "{refused}");
    let (status, made) = nadia.post("/api/trackers/1/parts", text("Seen by a text: {What is wrong}")).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let id = made["made"].clone();
    assert!(!tamsin.post("/api/trackers/1/parts", text("Mine")).await.0.is_success());
    assert_eq!(tamsin.get("/api/trackers/1/texts").await.0, StatusCode::NOT_FOUND);

    let mut by_text = mail("its own heading");
    by_text["mail"]["text"] = id.clone();
    let worked_out = json!({ "set": { "along": [], "alter": [{ "field": DESCRIPTION, "to": { "formula": "UPPER('What is wrong')" } }] } });
    let second = make(&nadia, automation(json!("started"), json!({ "all": [] }), json!([by_text, worked_out]))).await;
    make(&nadia, automation(json!({ "changed": [STATUS] }), is_status(CHECKED), json!([{ "start": { "automation": second } }]))).await;
    let (_, texts) = nadia.get("/api/trackers/1/texts").await;
    assert_eq!((&texts[0]["name"], &texts[0]["used_by"]), (&json!("Seen"), &json!(["Tried out"])));

    set_status(&nadia, 8, REPORTED).await;
    set_status(&nadia, 8, CHECKED).await;
    let title = nadia.rows(FAULT_TABLE, &[TITLE]).await["rows"].as_array().unwrap().iter().find(|row| row["id"] == 8).cloned().unwrap();
    let title = title["cells"][0]["text"].as_str().unwrap().to_owned();
    assert_eq!(description(&nadia, 8).await, title.to_uppercase());
    let subject = "SELECT count(*) FROM job WHERE mail->>'subject' LIKE 'Seen by a text: %'";
    assert_eq!(world.count(subject).await, 1);
    // As it is typed again, by names.
    let (_, all) = nadia.get("/api/trackers/1/automations").await;
    let one = all.as_array().unwrap().iter().find(|one| one["automation"]["id"] == second).cloned().unwrap();
    assert_eq!(one["steps"][1]["set"]["alter"][0]["to"]["formula"], "UPPER(What is wrong)");

    let path = format!("/api/trackers/1/parts/text/{id}");
    assert_eq!(nadia.put(&path, text("Changed: {What is wrong}")).await.0, StatusCode::OK);
    set_status(&nadia, 8, REPORTED).await;
    set_status(&nadia, 8, CHECKED).await;
    assert_eq!(world.count("SELECT count(*) FROM job WHERE mail->>'subject' LIKE 'Changed: %'").await, 1);
    let (status, refused) = nadia.delete(&path, json!({})).await;
    assert_eq!(status, StatusCode::CONFLICT, "{refused}");
    assert!(refused.to_string().contains("is written by it"), "{refused}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_formula_that_does_not_hold_is_refused_at_its_place_and_by_hand_there_is_none() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let set = |formula: &str| json!({ "set": { "along": [], "alter": [{ "field": DESCRIPTION, "to": { "formula": formula } }] } });
    let body = automation(json!("added"), json!({ "all": [] }), json!([set("UPPER(Nowhere)")]));
    let (status, refused) = nadia.post("/api/trackers/1/parts", part("automation", body)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(refused["faults"][0]["pointer"], "/steps/0/set/alter/0/to/formula", "{refused}");
    let alter = json!([{ "field": DESCRIPTION, "to": { "formula": "1" } }]);
    let bulk = json!({ "records": [1], "query": { "fields": shown(&[TITLE]) }, "alter": alter });
    let (status, refused) = nadia.post("/api/trackers/1/tables/3/bulk", bulk).await;
    assert_eq!(status, StatusCode::FORBIDDEN, "{refused}");
}
