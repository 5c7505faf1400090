//! What an attack and a fault test found in the server, each finding a case.

use crate::fixture::*;
use axum::{
    body::Body,
    http::{Method, Request, StatusCode, header},
};
use serde_json::{Value, json};
use std::time::Duration;
use westerfall_core::{
    access::Asker,
    id::{FormId, PersonId, TrackerId},
    intent::Intent,
    part::Part,
};
use westerfall_server::{demo::TRACKER, live::Wish, settings::Settings};

const HUGE: &str = "79228162514264337593543950335";

/// Adds a number field and a date that is computed from it; gives their numbers.
async fn dated(world: &World) -> (u64, u64) {
    let nadia = world.person(NADIA).await;
    let field = json!({ "field": { "id": 1, "name": "Days", "kind": { "type": "number", "decimals": 0, "unit": "" } } });
    let (status, days) = nadia.post("/api/trackers/1/tables/3/fields", field).await;
    assert_eq!(status, StatusCode::OK, "{days}");
    let (status, date) = nadia
        .post("/api/trackers/1/tables/3/calculations", json!({ "name": "Then", "formula": "TODAY() + Days", "shows": { "type": "date" } }))
        .await;
    assert_eq!(status, StatusCode::OK, "{date}");
    (days["made"].as_u64().unwrap(), date["made"].as_u64().unwrap())
}

#[tokio::test(flavor = "multi_thread")]
async fn no_number_of_anybodys_stops_a_tracker() {
    let world = World::new().await;
    let (days, then) = dated(&world).await;
    let nadia = world.person(NADIA).await;
    for text in ["7304485", "9999999", "999999999999999999999999"] {
        let (status, body) = nadia.edit(1, days as u32, json!({ "text": text }), json!(null)).await;
        assert_eq!(status, StatusCode::OK, "{text}: {body}");
        let (status, body) = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[TITLE, days as u32, then as u32]) })).await;
        assert_eq!(status, StatusCode::OK, "{body}");
    }
    let (status, body) = nadia.edit(1, days as u32, json!({ "value": { "number": HUGE } }), json!(null)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{body}");
    let (status, _) = nadia.edit(1, TITLE, json!({ "text": "Goes on" }), json!(null)).await;
    assert_eq!(status, StatusCode::OK);
}

#[tokio::test(flavor = "multi_thread")]
async fn standing_in_ends_with_the_right_to_it() {
    let world = World::new().await;
    let (nadia, bex) = (world.person(NADIA).await, world.person(BEX).await);
    let (_, roles) = nadia.get("/api/trackers/1/roles").await;
    let steward = roles["roles"]
        .as_array()
        .or(roles.as_array())
        .unwrap()
        .iter()
        .map(|r| r.get("role").unwrap_or(r))
        .find(|r| r["base"] == "steward")
        .unwrap()
        .clone();
    let id = steward["id"].as_u64().unwrap();
    let with = |members: Value| json!({ "name": steward["name"], "base": "steward", "members": members, "tables": {} });
    let path = format!("/api/trackers/1/parts/role/{id}");
    assert_eq!(nadia.put(&path, part("role", with(json!([1, 6])))).await.0, StatusCode::OK);
    assert_eq!(bex.put("/api/session/stand-in", json!({ "person": PAVEL })).await.0, StatusCode::NO_CONTENT);
    assert_eq!(bex.get("/api/trackers/1").await.0, StatusCode::OK);
    assert_eq!(nadia.put(&path, part("role", with(json!([1])))).await.0, StatusCode::OK);
    assert_eq!(bex.get("/api/trackers/1").await.0, StatusCode::NOT_FOUND);
    let (_, list) = bex.get("/api/trackers").await;
    assert_eq!(list, json!([]));
}

#[tokio::test(flavor = "multi_thread")]
async fn nobody_stands_in_for_nobody() {
    let world = World::new().await;
    let (status, body) = world.person(NADIA).await.put("/api/session/stand-in", json!({ "person": 615_934 })).await;
    assert_eq!((status, body["detail"].as_str()), (StatusCode::NOT_FOUND, Some("There is no such person.")));
}

#[tokio::test(flavor = "multi_thread")]
async fn the_post_room_is_the_demos_and_outside_it_the_owners() {
    let world = World::sending().await;
    let wren = world.person(WREN).await;
    world.stranger().answer(good_answers("A gate is off its hinges"), &[], None).await;
    let nadia = world.person(NADIA).await;
    let mut all = json!([]);
    for _ in 0..100 {
        all = nadia.get("/api/post-room").await.1;
        if all.as_array().is_some_and(|list| !list.is_empty()) {
            break;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    assert!(!all.as_array().unwrap().is_empty());
    // Whoever starts a tracker is steward of that one, and of nobody's mail.
    let (status, _) = wren.post("/api/trackers", json!({ "name": "Mine", "from": "nothing" })).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(wren.get("/api/post-room").await.1, json!([]));
    let theirs = world.again(Settings { demo: false, ..settings() }).await;
    let as_there = |client: &Client| theirs.stranger().with(client.cookie.clone());
    assert_eq!(as_there(&wren).get("/api/post-room").await.0, StatusCode::NOT_FOUND);
    // What can be answered in its reader's name is its reader's alone; what only tells something is not.
    assert_eq!(as_there(&nadia).get("/api/post-room").await.1, json!([]));
    world.sql("UPDATE message SET message_id = replace(message_id, '.asks@', '@')").await;
    assert!(!as_there(&nadia).get("/api/post-room").await.1.as_array().unwrap().is_empty());
}

#[tokio::test(flavor = "multi_thread")]
async fn parameters_that_fill_hidden_fields_are_hidden() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, form) = nadia.get("/api/trackers/1/forms/120").await;
    let mut kept = form["form"].clone();
    let mail = kept["questions"].as_array_mut().unwrap().iter_mut().find(|q| q["field"] == 52).unwrap();
    mail["parameter"] = json!("mail");
    let (status, body) =
        nadia.put("/api/trackers/1/parts/form/120", part("form", json!({ "form": kept, "confirmation": form["confirmation"] }))).await;
    assert_eq!(status, StatusCode::OK, "{body}");
    let parameters = json!({ "mail": "hidden-mark@leak.example", "who": "HIDDENNAME" });
    let texts = [("answers", good_answers("By a link")), ("parameters", parameters)];
    let (status, body) = world.stranger().answer_form(FORM, &texts, &[], None).await;
    assert_eq!(status, StatusCode::OK, "{body}");
    let pavel = world.person(PAVEL).await;
    let rows = pavel.query(FAULT_TABLE, json!({ "fields": shown(&[TITLE]), "condition": { "test": { "path": [TITLE], "check": { "is": "text", "how": "is", "text": "By a link" } } } })).await.1;
    let id = rows["rows"][0]["id"].as_u64().unwrap() as u32;
    for path in [record_path(id), "/api/trackers/1/forms/120/answers".to_owned()] {
        let told = pavel.get(&path).await.1.to_string();
        assert!(!told.contains("hidden-mark") && !told.contains("HIDDENNAME"), "{path}: {told}");
        let told = nadia.get(&path).await.1.to_string();
        assert!(told.contains("hidden-mark") && told.contains("HIDDENNAME"), "{path}: {told}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn names_and_literals_of_what_is_hidden_are_not_told() {
    let world = World::new().await;
    let (nadia, pavel) = (world.person(NADIA).await, world.person(PAVEL).await);
    let secret = json!({ "test": { "path": [52], "check": { "is": "text", "how": "contains", "text": "literal-secret" } } });
    let view = json!({ "table": 3, "name": "Narrow", "personal": false, "query": { "condition": secret, "fields": shown(&[TITLE]) } });
    let (status, body) = nadia.post("/api/trackers/1/parts", part("view", view.clone())).await;
    assert_eq!(status, StatusCode::OK, "{body}");
    let (_, tracker) = pavel.get("/api/trackers/1").await;
    let told = tracker.to_string();
    assert!(!told.contains("literal-secret") && !told.to_lowercase().contains("reporter’s mail"));
    let view =
        tracker["tables"].as_array().unwrap().iter().flat_map(|t| t["views"].as_array().unwrap()).find(|v| v["name"] == "Narrow").unwrap();
    assert_eq!(view["withheld"], true);
    // What is computed is told without its workings to those who can't change it.
    let kinds: Vec<&Value> =
        tracker["tables"].as_array().unwrap().iter().flat_map(|t| t["fields"].as_array().unwrap()).map(|f| &f["kind"]).collect();
    assert!(kinds.iter().filter(|k| k["type"] == "summary").all(|k| k["links"] == json!([])), "{kinds:?}");
    let older = json!({ "condition": { "test": { "path": [52], "check": { "is": "older", "days": 3 } } } });
    for path in ["/api/trackers/1/tables/3/condition", "/api/trackers/1/tables/3/records/1/because"] {
        let (status, body) = pavel.post(path, older.clone()).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(!body.to_string().to_lowercase().contains("mail"), "{body}");
    }
    let wren = world.person(WREN).await;
    let (status, _) = wren.post("/api/trackers/1/tables/4/records/1/because", older).await;
    assert_eq!(status, StatusCode::NOT_FOUND, "a closed table is not found before anything is said of it");
}

#[tokio::test(flavor = "multi_thread")]
async fn one_bad_proposal_hurts_nobody_else() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let live = world.app.tracker(TRACKER).await.unwrap();
    for number in 0..2 {
        let (status, body) =
            nadia.post("/api/trackers/1/parts", part("form", json!({ "table": 3, "title": format!("Beside {number}") }))).await;
        assert_eq!(status, StatusCode::OK, "{body}");
    }
    let steward = Asker::Person(PersonId::new(NADIA).unwrap());
    let now = live.now();
    let beside: Vec<_> = now.forms().filter(|f| f.title.starts_with("Beside")).cloned().collect();
    let mut queued = Vec::new();
    for (n, mut form) in beside.into_iter().enumerate() {
        form.link = "the-same-address".into();
        queued.push((true, live.queue(Wish::now(Intent::Save(Part::Form(form)), steward)).await.unwrap()));
        for record in 1..8_u32 {
            let edit = westerfall_core::intent::Edit {
                field: westerfall_core::id::FieldId::new(TITLE).unwrap(),
                input: westerfall_core::value::Input::Text(format!("Edit {n} {record}")),
                was: None,
            };
            let intent = Intent::Edit {
                table: westerfall_core::id::TableId::new(FAULT_TABLE).unwrap(),
                record: westerfall_core::id::RecordId::new(record).unwrap(),
                edits: vec![edit],
            };
            queued.push((false, live.queue(Wish::now(intent, steward)).await.unwrap()));
        }
    }
    let mut forms = Vec::new();
    for (is_form, answer) in queued {
        let answer = answer.answer().await;
        if is_form {
            forms.push(answer.map_err(|problem| problem.told()));
        } else {
            assert!(answer.is_ok(), "an innocent edit was refused");
        }
    }
    assert_eq!(forms.iter().filter(|f| f.is_ok()).count(), 1);
    let told = forms.into_iter().find_map(Result::err).unwrap();
    assert!(told.contains("Another form or page has this address"), "{told}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_signed_call_counts_once_however_its_signature_is_spelt() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, form) = nadia.get("/api/trackers/1/forms/120").await;
    let mut kept = form["form"].clone();
    let fields = json!([{ "from": "title", "field": 41 }, { "from": "kind", "field": 45 }, { "from": "severity", "field": 46 }, { "from": "section", "field": 42 }, { "from": "name", "field": 51 }]);
    kept["ways"] = json!({ "call": { "secret": "a-secret-of-thirty-two-letters-or-more", "fields": fields } });
    let (status, body) =
        nadia.put("/api/trackers/1/parts/form/120", part("form", json!({ "form": kept, "confirmation": form["confirmation"] }))).await;
    assert_eq!(status, StatusCode::OK, "{body}");
    let (_, sections) = nadia.get("/api/trackers/1/tables/2/names").await;
    let call =
        json!({ "title": "Called in", "kind": "stile or gate", "severity": "blocked", "section": sections[0]["name"], "name": "Wynn" })
            .to_string();
    let moment = jiff::Timestamp::now().as_second().to_string();
    let signature = westerfall_server::ways::signature("a-secret-of-thirty-two-letters-or-more", &moment, call.as_bytes());
    let mut records = Vec::new();
    for spelt in [signature.clone(), signature.to_uppercase()] {
        let headers = [("westerfall-timestamp", &*moment), ("westerfall-signature", &*spelt)];
        let (status, body) = read(world.stranger().raw(Method::POST, &format!("{FORM}/calls"), &call, &headers).await).await;
        assert_eq!(status, StatusCode::OK, "{body}");
        records.push(body["record"].clone());
    }
    assert!(!records[0].is_null());
    assert_eq!(records[0], records[1]);
    let odd = format!("+{}", &signature[1..]);
    let headers = [("westerfall-timestamp", &*moment), ("westerfall-signature", &*odd)];
    let answer = world.stranger().raw(Method::POST, &format!("{FORM}/calls"), &call, &headers).await;
    assert_eq!(answer.status(), StatusCode::UNAUTHORIZED);
}

#[tokio::test(flavor = "multi_thread")]
async fn behind_https_cookies_and_hosts_are_for_https_alone() {
    let world = World::with(Settings { public_url: "https://trackers.example".into(), ..settings() }).await;
    let stranger = world.stranger();
    let answer = stranger.raw(Method::POST, "/api/demo/session", &json!({ "person": 1 }).to_string(), &[]).await;
    assert!(answer.headers()[header::SET_COOKIE].to_str().unwrap().contains("; Secure"));
    assert!(answer.headers().contains_key(header::STRICT_TRANSPORT_SECURITY));
    let asked = |host: &'static str| {
        let stranger = stranger.clone();
        async move { stranger.raw(Method::GET, "/api/session", "", &[("host", host)]).await.status() }
    };
    assert_eq!(asked("trackers.example").await, StatusCode::UNAUTHORIZED);
    assert_eq!(asked("evil.example").await, StatusCode::MISDIRECTED_REQUEST);
    assert_eq!(stranger.raw(Method::GET, "/healthz", "", &[("host", "10.0.0.1")]).await.status(), StatusCode::OK);
}

#[tokio::test(flavor = "multi_thread")]
async fn guessing_passwords_closes_no_form_and_stops_at_the_account() {
    let world = World::with(World::limited(40)).await;
    let stranger = world.stranger();
    let mut refused = 0;
    for _ in 0..14 {
        let body = json!({ "mail": "nadia@orrindale-paths.example", "password": "wrong" });
        refused += usize::from(stranger.post("/api/session", body).await.0 == StatusCode::TOO_MANY_REQUESTS);
    }
    assert!(refused >= 3, "{refused}");
    let other = json!({ "mail": "bex@orrindale-paths.example", "password": "orrindale-demo" });
    assert_eq!(stranger.post("/api/session", other).await.0, StatusCode::NO_CONTENT);
    assert_eq!(stranger.answer(good_answers("Still open"), &[], None).await.0, StatusCode::OK);
    let long = json!({ "mail": "x@orrindale-paths.example", "password": "p".repeat(100_000) });
    assert_eq!(stranger.post("/api/session", long).await.0, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test(flavor = "multi_thread")]
async fn clients_behind_a_proxy_are_counted_by_their_own_addresses() {
    let world = World::with(Settings { proxies: 1, ..World::limited(8) }).await;
    let stranger = world.stranger();
    let from = |address: String| {
        let stranger = stranger.clone();
        async move {
            let body = json!({ "mail": format!("{address}@orrindale-paths.example"), "password": "wrong" }).to_string();
            stranger.raw(Method::POST, "/api/session", &body, &[("x-forwarded-for", &format!("9.9.9.9, {address}"))]).await.status()
        }
    };
    // Whatever stands before what our own proxy saw is anybody's word.
    for _ in 0..12 {
        from("198.51.100.1".into()).await;
    }
    assert_eq!(from("198.51.100.1".into()).await, StatusCode::TOO_MANY_REQUESTS);
    assert_eq!(from("198.51.100.2".into()).await, StatusCode::UNAUTHORIZED);
}

#[tokio::test(flavor = "multi_thread")]
async fn pictures_are_looked_into_only_for_answers_that_are_taken() {
    let world = World::new().await;
    let mut bytes = Vec::new();
    let blank = image::GrayImage::from_pixel(9_000, 9_000, image::Luma([120]));
    blank.write_to(&mut std::io::Cursor::new(&mut bytes), image::ImageFormat::Png).unwrap();
    let files: Vec<(u32, &str, &[u8])> = vec![(PICTURES, "huge.png", &bytes)];
    // Nothing is answered that has to be: the picture does not matter.
    let (status, body) = world.stranger().answer(json!({}), &files, None).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(!body.to_string().contains("pixels"), "{body}");
    let (status, body) = world.stranger().answer(good_answers("With a huge picture"), &files, None).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(body.to_string().contains("pixels"), "{body}");
}

#[tokio::test(flavor = "multi_thread")]
async fn numbers_that_somebody_makes_up_leave_nothing_in_memory() {
    let world = World::new().await;
    let wren = world.person(WREN).await;
    for number in 100..400 {
        assert_eq!(wren.get(&format!("/api/trackers/{number}")).await.0, StatusCode::NOT_FOUND);
    }
    assert_eq!(world.app.loaded().await.len(), 0);
    for number in ["0", "4294967295", "2147483648"] {
        assert_eq!(wren.get(&format!("/api/trackers/{number}")).await.0, StatusCode::NOT_FOUND);
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_query_of_the_same_field_a_thousand_times_is_refused() {
    let world = World::new().await;
    let wren = world.person(WREN).await;
    let (status, body) = wren.query(FAULT_TABLE, json!({ "fields": shown(&[TITLE; 1_000]) })).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{body}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_part_that_cant_be_read_is_set_aside_and_named() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let view = json!({ "table": 3, "name": "Broken soon", "personal": false, "query": { "fields": shown(&[TITLE]) } });
    let (_, made) = nadia.post("/api/trackers/1/parts", part("view", view)).await;
    world
        .sql(&format!(
            "UPDATE part SET body = '{{\"view\":{{\"id\":1}}}}' WHERE tracker_id = 1 AND sort = 'view' AND number = {}",
            made["made"]
        ))
        .await;
    let again = world.again(settings()).await;
    let nadia = again.person(NADIA).await;
    let (status, tracker) = nadia.get("/api/trackers/1").await;
    assert_eq!(status, StatusCode::OK, "the tracker opens");
    assert!(!tracker.to_string().contains("Broken soon"));
    let (_, plan) = nadia.get("/api/trackers/1/groundplan").await;
    assert!(plan["ends"].to_string().contains("can’t be read"), "{}", plan["ends"]);
    assert_eq!(nadia.edit(1, TITLE, json!({ "text": "Goes on" }), json!(null)).await.0, StatusCode::OK);
}

#[tokio::test(flavor = "multi_thread")]
async fn the_turn_of_the_day_is_committed_once() {
    let world = World::new().await;
    world.sql("UPDATE tracker SET turned_on = turned_on - 3").await;
    let (one, other) = (world.again(settings()).await, world.again(settings()).await);
    let (first, second) = tokio::join!(one.app.tracker(TRACKER), other.app.tracker(TRACKER));
    let (first, second) = (first.unwrap(), second.unwrap());
    let turns = world.count("SELECT count(*) FROM change WHERE tracker_id = 1 AND body::text LIKE '%\"turned\"%'").await;
    assert_eq!(turns, 1);
    second.reach(first.seq()).await;
    assert_eq!(first.now().turned(), second.now().turned());
    assert!(!first.now().turns_to(jiff::Timestamp::now()));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_copy_of_an_answer_goes_to_an_address_only_so_often() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, form) = nadia.get("/api/trackers/1/forms/120").await;
    let mut kept = form["form"].clone();
    kept["copy"] = json!(52);
    nadia.put("/api/trackers/1/parts/form/120", part("form", json!({ "form": kept, "confirmation": form["confirmation"] }))).await;
    for n in 0..9 {
        let mut answers = good_answers(&format!("Answer {n}"));
        answers["52"] = json!({ "text": "victim@bank.example" });
        assert_eq!(world.stranger().answer(answers, &[], None).await.0, StatusCode::OK);
    }
    let sent = world.count("SELECT count(*) FROM job WHERE mail->>'to' = 'victim@bank.example'").await;
    assert_eq!(sent, 5);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_operators_watch_is_for_them() {
    let world = World::with(Settings { metrics_token: Some("watch".into()), ..settings() }).await;
    let stranger = world.stranger();
    assert_eq!(stranger.raw(Method::GET, "/metrics", "", &[]).await.status(), StatusCode::NOT_FOUND);
    let answer = stranger.raw(Method::GET, "/metrics", "", &[("authorization", "Bearer watch")]).await;
    assert_eq!(answer.status(), StatusCode::OK);
    use http_body_util::BodyExt;
    let text = String::from_utf8(answer.into_body().collect().await.unwrap().to_bytes().to_vec()).unwrap();
    assert!(text.contains("westerfall_answers_total{status=\"4xx\"}") && text.contains("westerfall_database_up 1"), "{text}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_lost_key_is_answered_again_by_the_same_key() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let add = json!({ "records": [{ "41": { "text": "Once" } }] }).to_string();
    let path = "/api/trackers/1/tables/3/records";
    let (_, first) = read(nadia.raw(Method::POST, path, &add, &[("idempotency-key", "k1")]).await).await;
    let (_, again) = read(nadia.raw(Method::POST, path, &add, &[("idempotency-key", "k1")]).await).await;
    assert_eq!(first, again);
    let _ = (FormId::new(1), TrackerId::new(1), Request::new(Body::empty()));
}
