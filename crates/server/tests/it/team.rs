//! The team over the API: how it begins, how people come in and go, what groups give, and what strangers learn of all that: nothing.

use crate::fixture::*;
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};
use std::time::Duration;

const PASSWORD: &str = "seven otters by the weir";

/// The address in a letter, or in an answer, from the path on.
fn path_in(text: &str, page: &str) -> String {
    let start = text.find(&format!("/{page}/")).unwrap_or_else(|| panic!("no {page} in {text}"));
    text[start..].split_whitespace().next().unwrap().trim_end_matches('"').to_owned()
}

fn token_in(text: &str, page: &str) -> String {
    path_in(text, page).rsplit('/').next().unwrap().to_owned()
}

fn person_of(team: &Value, name: &str) -> Value {
    team["people"].as_array().unwrap().iter().find(|p| p["person"]["name"] == name).unwrap_or(&Value::Null).clone()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_team_is_begun_once_at_the_address_that_the_program_prints() {
    let world = World::empty().await;
    let stranger = world.stranger();
    assert_eq!(stranger.get("/api/entrance").await.1, json!({ "team": "", "begun": false, "demo": false, "passkeys": true }));
    assert_eq!(stranger.get("/api/demo/people").await.0, StatusCode::NOT_FOUND);
    let address = world.app.beginning().await.unwrap().unwrap();
    let begin = |token: &str, team: &str, password: &str| json!({ "token": token, "team": team, "name": "Ines Lark", "mail": "ines@fellside.example", "password": password });
    let token = token_in(&address, "begin");
    assert_eq!(stranger.post("/api/beginning", begin("guess", "Fellside Repairs", PASSWORD)).await.0, StatusCode::NOT_FOUND);
    let (status, refused) = stranger.post("/api/beginning", begin(&token, "Fellside Repairs", "short")).await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/password")));
    let (_, refused) = stranger.post("/api/beginning", begin(&token, " ", PASSWORD)).await;
    assert_eq!(refused["faults"][0], json!({ "kind": "missing", "pointer": "/team", "message": "Say what the team is called." }));
    let ines = stranger.entering("/api/beginning", begin(&token, "Fellside Repairs", PASSWORD)).await;
    let (_, me) = ines.get("/api/session").await;
    assert_eq!(
        (&me["team"], &me["person"]["name"], &me["owns"], &me["lets_in"]),
        (&json!("Fellside Repairs"), &json!("Ines Lark"), &json!(true), &json!(true))
    );
    assert_eq!(stranger.post("/api/beginning", begin(&token, "Mine now", PASSWORD)).await.0, StatusCode::NOT_FOUND);
    assert_eq!(world.app.beginning().await.unwrap(), None);
    assert_eq!(
        stranger.get("/api/entrance").await.1,
        json!({ "team": "Fellside Repairs", "begun": true, "demo": false, "passkeys": true })
    );
    // She signs in, and begins a tracker; nothing of the demo is there.
    let again = stranger.entering("/api/session", json!({ "mail": " INES@fellside.example", "password": PASSWORD })).await;
    assert_eq!(again.get("/api/trackers").await.1, json!([]));
    let (status, made) = again.post("/api/trackers", json!({ "name": "Jobs", "from": "nothing" })).await;
    assert_eq!(status, StatusCode::OK, "{made}");
}

#[tokio::test(flavor = "multi_thread")]
async fn somebody_invited_by_mail_comes_in_once_and_sees_what_their_role_gives() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let kester = json!({ "name": "Kester Lowe", "mail": "kester@walkers.example", "about": "mends walls" });
    let (_, rehearsed) = nadia.post("/api/team/people", json!({ "people": [kester], "mail": true, "rehearse": true })).await;
    assert_eq!(rehearsed["says"], "1 person would be named, 1 would get a mail.");
    assert_eq!(world.count("SELECT count(*) FROM job WHERE tracker_id = 0").await, 0);
    let (status, done) = nadia.post("/api/team/people", json!({ "people": [kester], "mail": true, "word": "Come and help." })).await;
    assert_eq!(
        (status, &done["says"], &done["done"]["did"]),
        (StatusCode::OK, &json!("1 person named, 1 got a mail."), &json!("named Kester Lowe")),
        "{done}"
    );
    let (_, team) = nadia.get("/api/team").await;
    let line = person_of(&team, "Kester Lowe");
    assert_eq!(line["standing"], "invited");
    assert_eq!(
        line["stations"].as_array().unwrap().iter().map(|s| s["done"].as_bool().unwrap()).collect::<Vec<_>>(),
        [true, false, false, false]
    );
    // A letter that the mail server did not take is said where one looks for them.
    world.sql("UPDATE job SET state = 'failed', note = 'no such mailbox' WHERE key LIKE 'invitation %'").await;
    let told = person_of(&nadia.get("/api/team").await.1, "Kester Lowe")["stations"].clone();
    assert!(told[0]["words"].as_str().unwrap().ends_with(", not delivered: no such mailbox"), "{told}");
    assert_eq!((told.as_array().unwrap().len(), &told[0]["done"]), (2, &json!(false)));
    world.sql("UPDATE job SET state = 'waiting', note = '' WHERE key LIKE 'invitation %'").await;
    let letter = world.letter("kester@walkers.example").await.unwrap();
    assert!(
        letter.contains("Nadia Ferreira-Holt invites you to work with Orrindale Paths Trust.") && letter.contains("Come and help."),
        "{letter}"
    );
    // A role is given before they come: nothing else is needed then.
    let id = done["people"][0].clone();
    let (_, access) = nadia.get("/api/trackers/1/roles").await;
    let reader = access.as_array().unwrap().iter().find(|r| r["role"]["base"] == "reader").unwrap()["role"].clone();
    let mut with = reader.clone();
    with["members"].as_array_mut().unwrap().push(id.clone());
    let (status, refused) = nadia.put(&format!("/api/trackers/1/parts/role/{}", reader["id"]), part("role", with)).await;
    assert_eq!(status, StatusCode::OK, "{refused}");
    let stranger = world.stranger();
    let token = token_in(&letter, "come-in");
    let (_, seen) = stranger.get(&format!("/api/invitations/{token}")).await;
    assert_eq!(seen, json!({ "team": "Orrindale Paths Trust", "name": "Kester Lowe", "mail": "kester@walkers.example" }));
    assert_eq!(person_of(&nadia.get("/api/team").await.1, "Kester Lowe")["stations"][1]["done"], true);
    let come = json!({ "name": "Kester Lowe", "password": PASSWORD });
    let kester = stranger.entering(&format!("/api/invitations/{token}"), come.clone()).await;
    assert_eq!(stranger.post(&format!("/api/invitations/{token}"), come).await.0, StatusCode::NOT_FOUND);
    assert_eq!(kester.get("/api/trackers/1").await.0, StatusCode::OK);
    let (_, team) = kester.get("/api/team").await;
    assert_eq!((&team["owns"], &team["lets_in"]), (&json!(false), &json!(false)));
    // What others reach, and how they are written to, is not theirs to know.
    let wren = person_of(&team, "Wren Castellane");
    assert_eq!((&wren["mail"], &wren["last"], &wren["reaches"]), (&json!(null), &json!(""), &json!([])));
    assert_eq!(person_of(&team, "Kester Lowe")["reaches"][0]["shares"]["look"], 1000);
    assert_eq!(kester.get("/api/team/log").await.0, StatusCode::NOT_FOUND);
    let log = nadia.get("/api/team/log").await.1;
    let did: Vec<&str> = log.as_array().unwrap().iter().take(2).map(|line| line["did"].as_str().unwrap()).collect();
    assert_eq!(did, ["let Kester Lowe in", "named Kester Lowe"]);
    for (who, path, body) in [
        (&kester, "/api/team/people", json!({ "people": [{ "name": "X" }] })),
        (&kester, "/api/team/groups", json!({ "name": "X", "members": [] })),
        (&stranger, "/api/team/people", json!({ "people": [{ "name": "X" }] })),
    ] {
        let (status, _) = who.post(path, body).await;
        assert!(matches!(status, StatusCode::FORBIDDEN | StatusCode::UNAUTHORIZED), "{path}: {status}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn somebody_handed_a_link_says_an_address_that_holds_once_mail_reaches_it() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, done) = nadia.post("/api/team/people", json!({ "people": [{ "name": "Pim Reed" }], "mail": true })).await;
    let person = &done["people"][0];
    let (_, first) = nadia.post(&format!("/api/team/people/{person}/invitation"), json!({ "mail": false })).await;
    let (_, link) = nadia.post(&format!("/api/team/people/{person}/invitation"), json!({ "mail": false })).await;
    let stranger = world.stranger();
    // Another link makes the first worth nothing; one that is taken back is worth nothing either.
    let old = token_in(first["link"].as_str().unwrap(), "come-in");
    assert_eq!(stranger.get(&format!("/api/invitations/{old}")).await.0, StatusCode::NOT_FOUND);
    let (status, refused) = nadia.post(&format!("/api/team/people/{person}/invitation"), json!({ "mail": true })).await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/mail")));
    // Whoever starts a tracker lets people in, but hands out no way to what others gave somebody.
    let wren = world.person(WREN).await;
    wren.post("/api/trackers", json!({ "name": "Mine", "from": "nothing" })).await;
    assert_eq!(wren.post(&format!("/api/team/people/{person}/invitation"), json!({ "mail": false })).await.0, StatusCode::FORBIDDEN);
    assert_eq!(wren.raw(Method::DELETE, &format!("/api/team/people/{person}/invitation"), "", &[]).await.status(), StatusCode::FORBIDDEN);
    let token = token_in(link["link"].as_str().unwrap(), "come-in");
    let come = |mail: &str| json!({ "name": "Pim Reed", "mail": mail, "password": PASSWORD });
    let (status, _) = stranger.post(&format!("/api/invitations/{token}"), come("nowhere")).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let pim = stranger.entering(&format!("/api/invitations/{token}"), come("pim@walkers.example")).await;
    let (_, me) = pim.get("/api/session").await;
    assert_eq!(me["mail"], "");
    let sign_in = json!({ "mail": "pim@walkers.example", "password": PASSWORD });
    assert_eq!(stranger.post("/api/session", sign_in.clone()).await.0, StatusCode::UNAUTHORIZED);
    let letter = world.letter("pim@walkers.example").await.unwrap();
    let confirm = format!("/api/addresses/{}", token_in(&letter, "address"));
    assert_eq!(stranger.post(&confirm, json!({})).await.1, json!({ "mail": "pim@walkers.example", "holds": true }));
    assert_eq!(stranger.post(&confirm, json!({})).await.0, StatusCode::NOT_FOUND);
    stranger.entering("/api/session", sign_in).await;
    // An address that somebody has is not taken over by asking for it.
    pim.put("/api/session/address", json!({ "mail": "nadia@orrindale-paths.example" })).await;
    let (new, old) = (world.letter("nadia@orrindale-paths.example").await.unwrap(), world.letter("pim@walkers.example").await.unwrap());
    assert_eq!(stranger.post(&format!("/api/addresses/{}", token_in(&old, "address")), json!({})).await.1["holds"], false);
    let (status, taken) = stranger.post(&format!("/api/addresses/{}", token_in(&new, "address")), json!({})).await;
    assert_eq!((status, &taken["faults"][0]["kind"]), (StatusCode::CONFLICT, &json!("in-use")), "{taken}");
}

#[tokio::test(flavor = "multi_thread")]
async fn another_password_and_a_code_come_by_mail_and_nobody_learns_who_has_an_address() {
    let world = World::new().await;
    let stranger = world.stranger();
    for path in ["/api/forgotten", "/api/codes"] {
        let known = stranger.post(path, json!({ "mail": "Bex@orrindale-paths.example" })).await;
        let unknown = stranger.post(path, json!({ "mail": "nobody@orrindale-paths.example" })).await;
        assert_eq!(known, unknown);
        assert_eq!(known.0, StatusCode::NO_CONTENT);
        // Letters are queued beside the answers: the one with the code comes after the other.
        assert!(world.letter("bex@orrindale-paths.example").await.is_some());
    }
    let query = "SELECT count(*) FROM job WHERE tracker_id = 0 AND mail->>'to' <> 'bex@orrindale-paths.example'";
    assert_eq!(world.count(query).await, 0);
    let here = world.person(BEX).await;
    let mut letters = Vec::new();
    for _ in 0..40 {
        letters = vec![world.count("SELECT count(*) FROM job WHERE tracker_id = 0").await];
        if letters == [2] {
            break;
        }
        tokio::time::sleep(Duration::from_millis(10)).await;
    }
    assert_eq!(letters, [2]);
    let code_letter = world.letter("bex@orrindale-paths.example").await.unwrap();
    let code: String = code_letter.chars().filter(char::is_ascii_digit).take(8).collect();
    let by_code = |code: &str| json!({ "mail": "bex@orrindale-paths.example", "code": code });
    let wrong = stranger.post("/api/codes/session", by_code("0000 0000")).await;
    let nobody = stranger.post("/api/codes/session", json!({ "mail": "nobody@orrindale-paths.example", "code": code })).await;
    assert_eq!(wrong, nobody);
    let bex = stranger.entering("/api/codes/session", by_code(&format!("{} {}", &code[..4], &code[4..]))).await;
    assert_eq!(bex.get("/api/session").await.1["person"]["name"], "Bex Lindqvist");
    assert_eq!(stranger.post("/api/codes/session", by_code(&code)).await.0, StatusCode::UNAUTHORIZED);
    // Another password ends every other session.
    stranger.post("/api/forgotten", json!({ "mail": "bex@orrindale-paths.example" })).await;
    let mut token = None;
    for _ in 0..40 {
        let letter = world.letter("bex@orrindale-paths.example").await.unwrap();
        token = letter.contains("/password/").then(|| token_in(&letter, "password"));
        if token.is_some() {
            break;
        }
        tokio::time::sleep(Duration::from_millis(10)).await;
    }
    let renew = format!("/api/passwords/{}", token.unwrap());
    assert_eq!(stranger.get(&renew).await.1["name"], "Bex Lindqvist");
    let renewed = stranger.entering(&renew, json!({ "password": PASSWORD })).await;
    assert_eq!(stranger.post(&renew, json!({ "password": PASSWORD })).await.0, StatusCode::NOT_FOUND);
    for old in [&here, &bex] {
        assert_eq!(old.get("/api/session").await.0, StatusCode::UNAUTHORIZED);
    }
    let (_, all) = renewed.get("/api/session/all").await;
    assert_eq!(all.as_array().unwrap().len(), 1);
    // One's own password is changed with the one that holds.
    let change = |now: &str| json!({ "now": now, "password": "nine herons on the tarn" });
    let (status, refused) = renewed.put("/api/session/password", change("guess, a wrong one")).await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::FORBIDDEN, &json!("/now")));
    assert_eq!(renewed.put("/api/session/password", change(PASSWORD)).await.0, StatusCode::NO_CONTENT);
    let other =
        stranger.entering("/api/session", json!({ "mail": "bex@orrindale-paths.example", "password": "nine herons on the tarn" })).await;
    let (_, all) = renewed.get("/api/session/all").await;
    let its = all.as_array().unwrap().iter().find(|s| s["this"] == false).unwrap()["id"].clone();
    assert_eq!(renewed.delete(&format!("/api/session/all/{}", its.as_str().unwrap()), json!({})).await.0, StatusCode::NO_CONTENT);
    assert_eq!(other.get("/api/session").await.0, StatusCode::UNAUTHORIZED);
}

#[tokio::test(flavor = "multi_thread")]
async fn guessing_at_codes_and_asking_for_letters_is_limited() {
    let world = World::with(World::limited(24)).await;
    let stranger = world.stranger();
    stranger.post("/api/codes", json!({ "mail": "bex@orrindale-paths.example" })).await;
    let letter = world.letter("bex@orrindale-paths.example").await.unwrap();
    let code: String = letter.chars().filter(char::is_ascii_digit).take(8).collect();
    let mut statuses = Vec::new();
    for guess in 0..9 {
        let body = json!({ "mail": "bex@orrindale-paths.example", "code": format!("0000 000{guess}") });
        statuses.push(stranger.post("/api/codes/session", body).await.0);
    }
    assert!(statuses.contains(&StatusCode::TOO_MANY_REQUESTS), "{statuses:?}");
    // After five wrong ones the right one is worth nothing either.
    let other = World::new().await;
    other.stranger().post("/api/codes", json!({ "mail": "bex@orrindale-paths.example" })).await;
    let letter = other.letter("bex@orrindale-paths.example").await.unwrap();
    let right: String = letter.chars().filter(char::is_ascii_digit).take(8).collect();
    assert_ne!(right, code);
    for guess in ["1", "2", "3", "4", "5", right.as_str()] {
        let body = json!({ "mail": "bex@orrindale-paths.example", "code": guess });
        assert_eq!(other.stranger().post("/api/codes/session", body).await.0, StatusCode::UNAUTHORIZED, "{guess}");
    }
    let mut asked = Vec::new();
    for _ in 0..9 {
        asked.push(stranger.post("/api/forgotten", json!({ "mail": "bex@orrindale-paths.example" })).await.0);
    }
    assert!(asked.contains(&StatusCode::TOO_MANY_REQUESTS), "{asked:?}");
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_leaves_is_out_at_once_everywhere_and_keeps_their_name() {
    let world = World::new().await;
    let beside = world.beside().await;
    let (nadia, bex) = (world.person(NADIA).await, world.person(BEX).await);
    let there = beside.stranger().with(bex.cookie.clone());
    assert_eq!(there.get("/api/trackers/1").await.0, StatusCode::OK);
    // Whoever alone owns the team stays until there is another.
    let (status, refused) = nadia.put(&format!("/api/team/people/{NADIA}/standing"), json!({ "here": false })).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    assert!(refused["detail"].as_str().unwrap().contains("needs an owner who is here"), "{refused}");
    assert_eq!(bex.put(&format!("/api/team/people/{WREN}/standing"), json!({ "here": false })).await.0, StatusCode::FORBIDDEN);
    let (status, done) = nadia.put(&format!("/api/team/people/{BEX}/standing"), json!({ "here": false })).await;
    assert_eq!((status, &done["did"]), (StatusCode::OK, &json!("let Bex Lindqvist go")));
    for client in [&bex, &there] {
        assert_eq!(client.get("/api/trackers/1").await.0, StatusCode::UNAUTHORIZED);
    }
    let sign_in = json!({ "mail": "bex@orrindale-paths.example", "password": westerfall_demo::PASSWORD });
    assert_eq!(world.stranger().post("/api/session", sign_in).await.0, StatusCode::UNAUTHORIZED);
    let (_, tracker) = nadia.get("/api/trackers/1").await;
    let gone = tracker["people"].as_array().unwrap().iter().find(|p| p["id"] == BEX).unwrap();
    assert_eq!((&gone["name"], &gone["left"]), (&json!("Bex Lindqvist"), &json!(true)));
    // Taken back, they are here again; their password is gone, so they choose another one.
    let (status, back) = nadia.post(&format!("/api/team/undo/{}", done["seq"]), json!({})).await;
    assert_eq!((status, &back["did"]), (StatusCode::OK, &json!("took Bex Lindqvist back")), "{back}");
    assert_eq!(nadia.post(&format!("/api/team/undo/{}", done["seq"]), json!({})).await.0, StatusCode::CONFLICT);
    let again = world.person(BEX).await;
    assert_eq!(again.get("/api/trackers/1").await.0, StatusCode::OK);
}

/// What was asked of somebody and is not done, and their dashboards, go to others with them, and come back with them.
#[tokio::test(flavor = "multi_thread")]
async fn tasks_and_dashboards_go_to_somebody_else_when_one_leaves() {
    let world = World::new().await;
    let (nadia, bex, idris) = (world.person(NADIA).await, world.person(BEX).await, world.person(IDRIS).await);
    let (_, made) = bex.post("/api/dashboards", json!({ "name": "Bex counts" })).await;
    let board = format!("/api/dashboards/{}", made["id"]);
    assert_eq!(nadia.post("/api/tasks", json!({ "who": BEX, "what": "Write to the parish" })).await.0, StatusCode::OK);
    let held = async || nadia.get(&format!("/api/team/people/{BEX}/holdings")).await.1["team"].clone();
    let before = held().await;
    let words: Vec<&str> = before.as_array().unwrap().iter().map(|one| one["words"].as_str().unwrap()).collect();
    assert!(words[0].ends_with("asked of them are not done") || words[0] == "1 thing that was asked of them is not done", "{words:?}");
    assert_eq!(words[1], "1 dashboard: Bex counts");
    assert_eq!(idris.get(&board).await.0, StatusCode::NOT_FOUND);
    let asked = async || {
        let (_, rounds) = idris.get("/api/rounds").await;
        rounds.to_string().matches("Write to the parish").count()
    };
    let leave = |to: u32| json!({ "here": false, "tasks_to": to, "dashboards_to": to });
    let path = format!("/api/team/people/{BEX}/standing");
    assert_eq!(idris.put(&path, leave(IDRIS)).await.0, StatusCode::FORBIDDEN);
    assert_eq!(nadia.put(&path, leave(99)).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.put(&path, leave(BEX)).await.0, StatusCode::NOT_FOUND);
    assert_eq!((held().await, asked().await), (before.clone(), 0), "of what is refused nothing goes");
    let (status, gone) = nadia.put(&path, leave(IDRIS)).await;
    assert_eq!((status, &gone["did"]), (StatusCode::OK, &json!("let Bex Lindqvist go")), "{gone}");
    assert_eq!((held().await, asked().await), (json!([]), 1));
    assert_eq!(idris.get(&board).await.0, StatusCode::OK);
    assert_eq!(nadia.post(&format!("/api/team/undo/{}", gone["seq"]), json!({})).await.0, StatusCode::OK);
    assert_eq!((held().await, asked().await), (before, 0));
    assert_eq!(idris.get(&board).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn somebody_leaves_and_hands_over_what_hung_on_them() {
    let world = World::new().await;
    let (nadia, jonah) = (world.person(NADIA).await, world.person(5).await);
    assert_eq!(jonah.get("/api/team/people/5/holdings").await.0, StatusCode::NOT_FOUND);
    let (_, held) = nadia.get("/api/team/people/5/holdings").await;
    let upkeep = &held["trackers"][0];
    assert_eq!((&upkeep["name"], &upkeep["only_steward"]), (&json!("Path upkeep"), &json!(false)));
    let hand: Vec<Value> =
        upkeep["holdings"].as_array().unwrap().iter().map(|one| json!({ "tracker": 1, "held": one["held"], "to": IDRIS })).collect();
    assert!(hand.len() > 1);
    let count = async |client: &Client| client.rows(FAULT_TABLE, &[TITLE]).await["total"].as_u64().unwrap();
    let idris = world.person(IDRIS).await;
    let both = count(&jonah).await + count(&idris).await;
    let leave = json!({ "here": false, "hand_over": hand });
    assert_eq!(jonah.put("/api/team/people/5/standing", leave.clone()).await.0, StatusCode::FORBIDDEN);
    // To somebody who is not there: nothing is handed over, and nobody goes.
    let mut wrong = leave.clone();
    wrong["hand_over"][1]["to"] = json!(99);
    assert_eq!(nadia.put("/api/team/people/5/standing", wrong).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.get("/api/team/people/5/holdings").await.1, held);
    let (_, gone) = nadia.put("/api/team/people/5/standing", leave.clone()).await;
    assert_eq!(gone["did"], "let Jonah Adeyemi-Clark go");
    assert_eq!(nadia.get("/api/team/people/5/holdings").await.1["trackers"], json!([]));
    // Taken back as one: he is there again, and so is what hung on him, in every tracker.
    let (status, back) = nadia.post(&format!("/api/team/undo/{}", gone["seq"]), json!({})).await;
    assert_eq!((status, &back["did"]), (StatusCode::OK, &json!("took Jonah Adeyemi-Clark back")), "{back}");
    assert_eq!(nadia.get("/api/team/people/5/holdings").await.1, held);
    let (_, gone) = nadia.put("/api/team/people/5/standing", leave).await;
    assert_eq!(count(&idris).await, both);
    assert_eq!(jonah.get("/api/session").await.0, StatusCode::UNAUTHORIZED);
    // Where something of it was changed since, all of it stays, and it is said where.
    let of = upkeep["holdings"].as_array().unwrap().iter().find(|one| one["words"].as_str().unwrap().contains("district")).unwrap();
    let (table, warden) = (of["held"]["table"].as_u64().unwrap() as u32, of["held"]["field"].as_u64().unwrap() as u32);
    let rows = nadia.rows(table, &[warden]).await;
    let his = rows["rows"].as_array().unwrap().iter().rfind(|row| row["cells"][0]["text"] == "Idris Pell").unwrap()["id"].clone();
    let edit = json!({ "edits": [{ "field": warden, "input": { "text": "Tamsin Oake" }, "was": null }] });
    assert_eq!(nadia.patch(&format!("/api/trackers/1/tables/{table}/records/{his}"), edit).await.0, StatusCode::OK);
    let (status, refused) = nadia.post(&format!("/api/team/undo/{}", gone["seq"]), json!({})).await;
    assert_eq!(status, StatusCode::CONFLICT);
    assert_eq!(
        refused["detail"],
        "What was handed over in Path upkeep stays so: This can’t be undone any more: somebody changed the same thing since."
    );
    assert_eq!(person_of(&nadia.get("/api/team").await.1, "Jonah Adeyemi-Clark")["standing"], "left");
    // The last steward hands that on with the rest.
    let (_, team) = nadia.get("/api/team").await;
    let me = person_of(&team, "Nadia Ferreira-Holt");
    assert_eq!(me["owner"], true);
    let bex = json!({ "name": "Bex Lindqvist", "mail": "bex@orrindale-paths.example", "owner": true });
    assert_eq!(nadia.put(&format!("/api/team/people/{BEX}"), bex).await.1["did"], "made Bex Lindqvist an owner of the team");
    let (status, refused) = nadia.put(&format!("/api/team/people/{NADIA}/standing"), json!({ "here": false })).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    assert!(refused["detail"].as_str().unwrap().contains("is the only steward of"), "{refused}");
    let (_, held) = nadia.get(&format!("/api/team/people/{NADIA}/holdings")).await;
    let roles: Vec<Value> = held["trackers"]
        .as_array()
        .unwrap()
        .iter()
        .inspect(|one| assert_eq!(one["only_steward"], true))
        .map(|one| json!({ "tracker": one["tracker"], "held": { "of": "parts", "sort": "role" }, "to": BEX }))
        .collect();
    let (status, done) = nadia.put(&format!("/api/team/people/{NADIA}/standing"), json!({ "here": false, "hand_over": roles })).await;
    assert_eq!((status, &done["did"]), (StatusCode::OK, &json!("let Nadia Ferreira-Holt go")), "{done}");
    let (_, tracker) = world.person(BEX).await.get("/api/trackers/1").await;
    assert_eq!(tracker["steward"], true);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_group_opens_and_closes_what_its_roles_give_on_every_server_and_screens_are_told() {
    let world = World::new().await;
    world.app.listen();
    let beside = world.beside().await;
    let (nadia, wren) = (world.person(NADIA).await, beside.stranger().with(world.person(WREN).await.cookie));
    let count = async |client: &Client| client.rows(FAULT_TABLE, &[TITLE]).await["total"].as_u64().unwrap();
    let (all, few) = (count(&nadia).await, count(&wren).await);
    assert!(few < all);
    let (status, _) = nadia.post("/api/team/groups", json!({ "name": "Lookers", "members": [] })).await;
    assert_eq!(status, StatusCode::OK);
    let (_, team) = nadia.get("/api/team").await;
    let group = team["groups"].as_array().unwrap().iter().find(|g| g["name"] == "Lookers").unwrap()["id"].clone();
    let (_, access) = nadia.get("/api/trackers/1/roles").await;
    let mut reader = access.as_array().unwrap().iter().find(|r| r["role"]["base"] == "reader").unwrap()["role"].clone();
    reader["groups"] = json!([group]);
    let (status, told) = nadia.put(&format!("/api/trackers/1/parts/role/{}", reader["id"]), part("role", reader)).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    assert_eq!(count(&wren).await, few);
    let mut events = crate::live::Stream::open(&wren, None).await;
    events.next_of("hello").await;
    let (status, done) = nadia.put(&format!("/api/team/groups/{group}"), json!({ "name": "Lookers", "members": [WREN] })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    // The role, too, may reach the other server only now: what counts is that each change is told.
    events.next_of("anew").await;
    while count(&wren).await != all {
        events.next_of("anew").await;
    }
    assert_eq!(nadia.post(&format!("/api/team/undo/{}", done["seq"]), json!({})).await.1["did"], "took 1 person out of Lookers");
    events.next_of("anew").await;
    while count(&wren).await != few {
        events.next_of("anew").await;
    }
    let (_, log) = nadia.get("/api/team/log").await;
    assert_eq!(log[0]["who"], "Nadia Ferreira-Holt");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_tracker_open_in_memory_knows_who_was_named_and_renamed_at_once() {
    let world = World::new().await;
    let (nadia, bex) = (world.person(NADIA).await, world.person(BEX).await);
    nadia.rows(FAULT_TABLE, &[TITLE]).await;
    let (_, done) = nadia.post("/api/team/people", json!({ "people": [{ "name": "Kester Lowe" }] })).await;
    let id = done["people"][0].as_u64().unwrap();
    let names = async || nadia.get("/api/trackers/1").await.1["people"].clone();
    assert!(names().await.as_array().unwrap().iter().any(|p| p["id"] == id && p["name"] == "Kester Lowe"));
    let (_, me) = bex.get("/api/session").await;
    let own = json!({ "name": "Bex Lind", "about": me["about"], "zone": "Europe/Lisbon", "phone": "+44 1632 960123" });
    let (status, done) = bex.put("/api/session", own).await;
    assert_eq!((status, &done["did"]), (StatusCode::OK, &json!("called Bex Lindqvist Bex Lind")));
    assert!(names().await.as_array().unwrap().iter().any(|p| p["id"] == BEX && p["name"] == "Bex Lind"));
    let (_, me) = bex.get("/api/session").await;
    assert_eq!((&me["zone"], &me["phone"]), (&json!("Europe/Lisbon"), &json!("+441632960123")));
    // What an owner puts right leaves what they chose.
    let known = json!({ "name": "Bex Lindqvist", "mail": "bex@orrindale-paths.example", "about": "office" });
    assert_eq!(nadia.put(&format!("/api/team/people/{BEX}"), known).await.1["did"], "called Bex Lind Bex Lindqvist");
    assert_eq!(bex.get("/api/session").await.1["zone"], "Europe/Lisbon");
    let answer = bex.raw(Method::PUT, "/api/session", &json!({ "name": "", "zone": "Mill/Lane" }).to_string(), &[]).await;
    assert_eq!(read(answer).await.1["faults"].as_array().unwrap().len(), 2);
}

#[tokio::test(flavor = "multi_thread")]
async fn the_teams_owners_know_of_every_tracker_and_of_those_they_are_not_in_nothing_but_whose_it_is() {
    let world = World::new().await;
    let (nadia, wren) = (world.person(NADIA).await, world.person(WREN).await);
    let (_, made) = wren
        .post(
            "/api/trackers",
            json!({ "name": "Birds of the fell", "from": { "names": { "table": "Birds", "one": "bird", "fields": ["Name"] } } }),
        )
        .await;
    let made = if made["tracker"].is_null() {
        wren.post("/api/trackers", json!({ "name": "Birds of the fell", "from": "nothing" })).await.1
    } else {
        made
    };
    let (_, others) = nadia.get("/api/trackers/others").await;
    let one = &others[0];
    assert_eq!(
        (&one["name"], &one["stewards"], &one["last"]),
        (&json!("Birds of the fell"), &json!(["Wren Castellane"]), &json!("")),
        "{made} {others}"
    );
    assert!(one["size"].as_str().unwrap().starts_with("0 records in "));
    assert_eq!(others.as_array().unwrap().len(), 1);
    // Knowing of it opens nothing; and whoever owns nothing is told nothing.
    assert_eq!(nadia.get(&format!("/api/trackers/{}", one["id"])).await.0, StatusCode::NOT_FOUND);
    assert_eq!(wren.get("/api/trackers/others").await.1, json!([]));
}
