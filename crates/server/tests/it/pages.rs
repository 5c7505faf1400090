//! Shared pages over the API: who is let in and how, what visitors do, and that nothing else of the tracker answers them.

use crate::fixture::*;
use axum::http::{Method, StatusCode, header};
use serde_json::{Value, json};

const PAGE: &str = "/api/public/pages/eskermoor-parish";
const CLERK: &str = "clerk@eskermoor-parish.example";
const PARISH_HELPS: u32 = 223;
const PARISH_NOTE: u32 = 224;
const DUE: u32 = 49;

fn code_in(letter: &str) -> String {
    letter
        .lines()
        .find(|line| line.len() == 9 && line.bytes().all(|b| b.is_ascii_digit() || b == b' '))
        .expect("a letter with a code")
        .into()
}

/// The clerk of the parish, who typed the code that was mailed to them.
pub(crate) async fn clerk(world: &World) -> Client {
    let stranger = world.stranger();
    assert_eq!(stranger.post(&format!("{PAGE}/code"), json!({ "mail": CLERK })).await.0, StatusCode::NO_CONTENT);
    let code = code_in(&world.letter(CLERK).await.expect("a letter with a code"));
    stranger.entering(&format!("{PAGE}/enter"), json!({ "code": { "mail": CLERK, "code": code } })).await
}

async fn rows(client: &Client, asking: Value) -> Answer {
    let mut body = json!({ "start": 0, "count": 200 });
    body.as_object_mut().unwrap().extend(asking.as_object().unwrap().clone());
    client.post(&format!("{PAGE}/parts/1/rows"), body).await
}

async fn fill(client: &Client, record: &Value, field: u32, text: &str) -> Answer {
    let edits = json!({ "edits": [{ "field": field, "input": { "text": text } }] });
    client.post(&format!("{PAGE}/parts/1/records/{record}"), edits).await
}

/// The demo's page as its steward keeps it, with something changed.
async fn keep(world: &World, change: impl FnOnce(&mut Value)) -> Answer {
    let nadia = world.person(NADIA).await;
    let (_, design) = nadia.get("/api/trackers/1/pages/124").await;
    let mut page = design["page"].clone();
    change(&mut page);
    nadia.put("/api/trackers/1/parts/page/124", part("page", json!({ "page": page }))).await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_named_address_comes_in_with_a_code_and_fills_in_a_field() {
    let world = World::new().await;
    let stranger = world.stranger();
    let (_, door) = stranger.get(PAGE).await;
    let told = json!({ "team": "Orrindale Paths Trust", "mark": "the-mark-of-the-demo-team", "colour": "#2e482c", "asks": "code" });
    assert_eq!(door, json!({ "door": told }), "a door tells nothing of what is behind it");
    assert_eq!(rows(&stranger, json!({})).await.0, StatusCode::UNAUTHORIZED);
    let clerk = clerk(&world).await;
    let (_, page) = clerk.get(PAGE).await;
    assert_eq!(page["open"]["you"], CLERK);
    assert_eq!(page["open"]["title"], "Path faults in Eskermoor parish");
    assert_eq!(page["open"]["contact"]["name"], "Nadia Ferreira-Holt");
    let (_, shown) = rows(&clerk, json!({})).await;
    let first = shown["rows"][0].clone();
    let (status, done) = fill(&clerk, &first["id"], PARISH_NOTE, "two of us are free").await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert_eq!(done["kept"].as_str().unwrap().len(), 5, "the time at which it was kept");
    // Seen by the team at once, with page and address in the trail.
    let nadia = world.person(NADIA).await;
    let (_, trail) = nadia.get(&format!("{}/trail", record_path(first["id"].as_u64().unwrap() as u32))).await;
    assert_eq!(trail["entries"][0]["who"], format!("{CLERK}, by the page “Path faults in Eskermoor parish”"));
    // What is not theirs is refused.
    assert_eq!(fill(&clerk, &first["id"], TITLE, "Another title").await.0, StatusCode::FORBIDDEN);
    assert_eq!(fill(&clerk, &first["id"], REPORTER, "Somebody").await.0, StatusCode::NOT_FOUND);
    let path = format!("{PAGE}/parts/1/records/{}", first["id"]);
    assert_eq!(clerk.delete(&path, json!({})).await.0, StatusCode::FORBIDDEN);
    assert_eq!(clerk.post(&format!("{PAGE}/parts/1/records"), json!({ "41": { "text": "New" } })).await.0, StatusCode::FORBIDDEN);
    assert_eq!(clerk.get("/api/trackers/1").await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(clerk.get("/api/trackers").await.0, StatusCode::UNAUTHORIZED);
    // Visits are told to whoever shares it.
    let (_, pages) = nadia.get("/api/trackers/1/pages").await;
    assert!(pages[0]["visits"][0]["says"].as_str().unwrap().starts_with("1 visit, the last "), "{pages}");
    assert_eq!(clerk.post(&format!("{PAGE}/leave"), json!({})).await.0, StatusCode::NO_CONTENT);
    assert_eq!(rows(&clerk, json!({})).await.0, StatusCode::UNAUTHORIZED);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_code_works_once_and_no_answer_tells_whom_a_page_names() {
    let world = World::new().await;
    let stranger = world.stranger();
    let nobody = "somebody@elsewhere.example";
    let asks = async |mail: &str| stranger.post(&format!("{PAGE}/code"), json!({ "mail": mail })).await;
    for mail in [nobody, "CLERK@Eskermoor-parish.example"] {
        assert_eq!(asks(mail).await, (StatusCode::NO_CONTENT, Value::Null));
    }
    assert!(world.letter(nobody).await.is_none());
    // Letters are queued beside the answers: the code of the first is worth nothing once the second is on its way.
    assert!(world.letter(CLERK).await.is_some());
    world.sql("DELETE FROM job WHERE tracker_id = 0").await;
    assert_eq!(asks(CLERK).await, (StatusCode::NO_CONTENT, Value::Null));
    let code = code_in(&world.letter(CLERK).await.unwrap());
    let enter = format!("{PAGE}/enter");
    let key = |mail: &str, code: &str| json!({ "code": { "mail": mail, "code": code } });
    let of_nobody = stranger.post(&enter, key(nobody, &code)).await;
    let of_clerk = stranger.post(&enter, key(CLERK, "0000 0000")).await;
    assert_eq!((of_nobody.0, &of_nobody.1["detail"]), (of_clerk.0, &of_clerk.1["detail"]), "the same whether the address is known");
    stranger.entering(&enter, key(CLERK, &code.replace(' ', ""))).await;
    assert_eq!(stranger.post(&enter, key(CLERK, &code)).await.0, StatusCode::UNAUTHORIZED);
    // After a few wrong ones, the right one is worth nothing either.
    stranger.post(&format!("{PAGE}/code"), json!({ "mail": CLERK })).await;
    world.sql("DELETE FROM job WHERE tracker_id = 0").await;
    stranger.post(&format!("{PAGE}/code"), json!({ "mail": CLERK })).await;
    let code = code_in(&world.letter(CLERK).await.unwrap());
    for wrong in 0..5 {
        assert_eq!(stranger.post(&enter, key(CLERK, &format!("1111 111{wrong}"))).await.0, StatusCode::UNAUTHORIZED);
    }
    let hashes = world.count("SELECT count(*) FROM page_code WHERE octet_length(code_hash) = 32").await;
    assert_eq!(hashes, 1, "of a code only its hash is kept");
    assert_eq!(stranger.post(&enter, key(CLERK, &code)).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(stranger.post(&enter, json!({ "passcode": "anything" })).await.0, StatusCode::NOT_FOUND, "no other key fits this door");
}

#[tokio::test(flavor = "multi_thread")]
async fn of_several_who_try_one_code_at_once_one_comes_in() {
    let world = World::new().await;
    let stranger = world.stranger();
    stranger.post(&format!("{PAGE}/code"), json!({ "mail": CLERK })).await;
    let code = code_in(&world.letter(CLERK).await.unwrap());
    let enter = format!("{PAGE}/enter");
    let body = json!({ "code": { "mail": CLERK, "code": code } });
    let tries = futures::future::join_all((0..4).map(|_| stranger.post(&enter, body.clone()))).await;
    assert_eq!(tries.iter().filter(|(status, _)| *status == StatusCode::NO_CONTENT).count(), 1);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_page_never_answers_of_what_it_does_not_show() {
    let world = World::new().await;
    let clerk = clerk(&world).await;
    let (_, all) = rows(&clerk, json!({})).await;
    let test = |path: &[u32], check: Value| json!({ "test": { "path": path, "of": "any", "check": check } });
    for path in [&[REPORTER][..], &[SECTION, 21], &[9_999]] {
        let (status, told) = rows(&clerk, json!({ "condition": test(path, json!({ "is": "filled" })) })).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
        assert_eq!(told["faults"][0]["message"], "This rule names a field that is not there, or is not open to you.");
    }
    // An order by what is hidden is no order.
    let ids = |told: &Value| told["rows"].as_array().unwrap().iter().map(|row| row["id"].clone()).collect::<Vec<_>>();
    let by_hidden = |descending: bool| json!({ "sorts": [{ "field": REPORTER, "descending": descending }] });
    assert_eq!(ids(&rows(&clerk, by_hidden(true)).await.1), ids(&rows(&clerk, by_hidden(false)).await.1));
    // What is shown can be narrowed and put in order, for oneself.
    let (_, early) = rows(&clerk, json!({ "sorts": [{ "field": DUE, "descending": true }], "count": 1 })).await;
    assert_eq!(early["rows"][0]["id"], *ids(&all).last().unwrap());
    let (_, helps) = rows(&clerk, json!({ "condition": test(&[PARISH_HELPS], json!({ "is": "filled" })) })).await;
    assert!(helps["matching"].as_u64() < all["matching"].as_u64() && helps["total"] == all["total"]);
    // A record of another district is not there.
    let nadia = world.person(NADIA).await;
    let (_, every) = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[TITLE]) })).await;
    let inside = ids(&all);
    let outside = ids(&every).into_iter().find(|id| !inside.contains(id)).unwrap();
    assert_eq!(fill(&clerk, &outside, PARISH_NOTE, "who reads this?").await.0, StatusCode::NOT_FOUND);
    assert_eq!(clerk.post(&format!("{PAGE}/parts/2/rows"), json!({})).await.0, StatusCode::NOT_FOUND);
    let text = all.to_string();
    for row in all["rows"].as_array().unwrap() {
        assert!(row["cells"][1]["value"].is_null(), "a link is told by its name alone: {text}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_passcode_lets_in_whoever_knows_it_until_it_is_another() {
    let world = World::new().await;
    let with = |passcode: &str| {
        let door = json!({ "passcode": passcode });
        move |page: &mut Value| page["door"] = door.clone()
    };
    let (status, short) = keep(&world, with("short")).await;
    assert_eq!((status, &short["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/door")));
    assert_eq!(keep(&world, with("heron-ford")).await.0, StatusCode::OK);
    let nadia = world.person(NADIA).await;
    let (_, design) = nadia.get("/api/trackers/1/pages/124").await;
    assert_eq!(design["page"]["door"], json!({ "passcode": "" }), "nobody reads the passcode, nor its hash");
    let stranger = world.stranger();
    assert_eq!(stranger.get(PAGE).await.1["door"]["asks"], "passcode");
    let enter = format!("{PAGE}/enter");
    assert_eq!(stranger.post(&enter, json!({ "passcode": "heron-fort" })).await.0, StatusCode::UNAUTHORIZED);
    let inside = stranger.entering(&enter, json!({ "passcode": "heron-ford" })).await;
    assert_eq!(rows(&inside, json!({})).await.0, StatusCode::OK);
    // Kept again as it is read, the passcode stays; another one lets nobody in who knew the last.
    assert_eq!(keep(&world, |page| page["intro"] = json!("Good to see you.")).await.0, StatusCode::OK);
    assert_eq!(rows(&inside, json!({})).await.0, StatusCode::OK);
    assert_eq!(keep(&world, with("otter-weir")).await.0, StatusCode::OK);
    assert_eq!(rows(&inside, json!({})).await.0, StatusCode::UNAUTHORIZED);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_revoked_renewed_or_over_lets_nobody_in() {
    let world = World::new().await;
    let inside = clerk(&world).await;
    for change in [
        json!({ "open": false }),
        json!({ "open": true, "until": "2026-01-01" }),
        json!({ "until": null, "guests": [{ "id": 1, "mail": "other@eskermoor-parish.example" }] }),
    ] {
        let (status, told) = keep(&world, |page| page.as_object_mut().unwrap().extend(change.as_object().unwrap().clone())).await;
        assert_eq!(status, StatusCode::OK, "{told}");
        let answer = rows(&inside, json!({})).await.0;
        assert!(matches!(answer, StatusCode::NOT_FOUND | StatusCode::UNAUTHORIZED), "{change}: {answer}");
    }
    // A new address: the old one leads nowhere, in the same words as one that never was.
    let (status, _) = keep(&world, |page| {
        page["guests"][0]["mail"] = json!(CLERK);
        page["link"] = json!("");
    })
    .await;
    assert_eq!(status, StatusCode::OK);
    let old = world.stranger().get(PAGE).await;
    let never = world.stranger().get("/api/public/pages/never-was").await;
    assert_eq!((old.0, &old.1["detail"]), (never.0, &never.1["detail"]));
    let nadia = world.person(NADIA).await;
    let (_, design) = nadia.get("/api/trackers/1/pages/124").await;
    assert!(design["page"]["link"].as_str().unwrap().len() >= 20, "nobody guesses the new one");
    assert_eq!(world.stranger().get(&format!("/api/public/pages/{}", design["page"]["link"].as_str().unwrap())).await.0, StatusCode::OK);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_steward_tries_a_page_as_those_who_come_and_writes_nothing_there() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    assert_eq!(keep(&world, |page| page["open"] = json!(false)).await.0, StatusCode::OK);
    let (status, page) = nadia.get(&format!("{PAGE}?as=1")).await;
    assert_eq!((status, &page["open"]["you"]), (StatusCode::OK, &json!(CLERK)));
    let (_, shown) = nadia.post(&format!("{PAGE}/parts/1/rows?as=1"), json!({ "count": 5 })).await;
    let record = shown["rows"][0]["id"].clone();
    let edits = json!({ "edits": [{ "field": PARISH_NOTE, "input": { "text": "tried" } }] });
    let (status, refused) = nadia.post(&format!("{PAGE}/parts/1/records/{record}?as=1"), edits).await;
    assert_eq!(status, StatusCode::FORBIDDEN, "{refused}");
    for who in [world.stranger(), world.person(TAMSIN).await, world.person(BEX).await] {
        assert_eq!(who.get(&format!("{PAGE}?as=1")).await.0, StatusCode::NOT_FOUND);
    }
    assert_eq!(nadia.get(&format!("{PAGE}?as=7")).await.0, StatusCode::NOT_FOUND, "it names nobody of this number");
    assert_eq!(world.count("SELECT count(*) FROM page_visit").await, 0, "a try is no visit");
}

#[tokio::test(flavor = "multi_thread")]
async fn only_stewards_know_of_pages() {
    let world = World::new().await;
    for who in [TAMSIN, BEX, PAVEL, WREN] {
        let client = world.person(who).await;
        assert_eq!(client.get("/api/trackers/1/pages").await.0, StatusCode::NOT_FOUND);
        assert_eq!(client.get("/api/trackers/1/pages/124").await.0, StatusCode::NOT_FOUND);
        assert_eq!(client.delete("/api/trackers/1/parts/page/124", json!({})).await.0, StatusCode::NOT_FOUND);
        let make = client.post("/api/trackers/1/parts", part("page", json!({ "title": "Mine" }))).await;
        assert_eq!(make.0, StatusCode::NOT_FOUND);
        assert_eq!(client.get("/api/trackers/1").await.1["pages"], json!([]));
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_page_begun_from_a_view_is_open_to_anybody_once_it_is_opened() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (status, done) = nadia.post("/api/trackers/1/parts", part("page", json!({ "title": "To be put right", "view": 100 }))).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let at = format!("/api/trackers/1/pages/{}", done["made"]);
    let (_, design) = nadia.get(&at).await;
    let address = format!("/api/public/pages/{}", design["page"]["link"].as_str().unwrap());
    assert_eq!(world.stranger().get(&address).await.0, StatusCode::NOT_FOUND);
    let mut page = design["page"].clone();
    page["open"] = json!(true);
    let look =
        nadia.post("/api/trackers/1/parts/look", json!({ "number": done["made"], "part": part("page", json!({ "page": page })) })).await.1;
    assert!(look["view"]["page"]["moves"][0].as_str().unwrap().starts_with("Visitors see "), "{look}");
    let kept = format!("/api/trackers/1/parts/page/{}", done["made"]);
    let put = |page: Value| nadia.put(&kept, part("page", json!({ "page": page })));
    assert_eq!(put(page.clone()).await.0, StatusCode::OK);
    let (status, front) = world.stranger().get(&address).await;
    assert_eq!((status, &front["open"]["you"]), (StatusCode::OK, &Value::Null));
    // An address that another page has is refused, and that of a form is another matter.
    page["link"] = json!("eskermoor-parish");
    let (status, taken) = put(page.clone()).await;
    assert_eq!(
        (status, &taken["faults"][0]["message"]),
        (StatusCode::CONFLICT, &json!("Another page has this address. Choose another one."))
    );
    page["link"] = json!("report-a-path-fault");
    assert_eq!(put(page).await.0, StatusCode::OK);
}

#[tokio::test(flavor = "multi_thread")]
async fn adding_twice_with_one_key_adds_once_and_files_are_given_where_they_are_shown() {
    let world = World::new().await;
    let (status, _) = keep(&world, |page| {
        page["door"] = json!("link");
        let records = &mut page["blocks"][0]["records"];
        records["query"]["condition"] = json!({ "all": [] });
        records["adds"] = json!(true);
        records["changes"] = json!([TITLE, PARISH_NOTE]);
        records["query"]["fields"].as_array_mut().unwrap().push(json!({ "field": PICTURES, "width": 100 }));
    })
    .await;
    assert_eq!(status, StatusCode::OK);
    let stranger = world.stranger();
    let add = |title: &str| {
        let (stranger, body) = (stranger.clone(), json!({ TITLE.to_string(): { "text": title } }).to_string());
        async move { read(stranger.raw(Method::POST, &format!("{PAGE}/parts/1/records"), &body, &[("idempotency-key", "once")]).await).await }
    };
    let (status, first) = add("A stile is gone").await;
    assert_eq!(status, StatusCode::OK, "{first}");
    assert_eq!(add("A stile is gone").await.1["added"], first["added"]);
    assert_eq!(world.count("SELECT count(*) FROM record WHERE cells::text LIKE '%A stile is gone%'").await, 1);
    let (_, shown) = rows(&stranger, json!({})).await;
    let with_file = shown["rows"].as_array().unwrap().iter().find_map(|row| row["cells"][6]["value"]["files"][0]["id"].as_str()).unwrap();
    let file = stranger.raw(Method::GET, &format!("{PAGE}/files/{with_file}"), "", &[]).await;
    assert_eq!(
        (file.status(), &file.headers()[header::CONTENT_SECURITY_POLICY]),
        (StatusCode::OK, &header::HeaderValue::from_static("default-src 'none'; sandbox"))
    );
    keep(&world, |page| {
        page["blocks"][0]["records"]["query"]["fields"].as_array_mut().unwrap().pop();
    })
    .await;
    assert_eq!(stranger.raw(Method::GET, &format!("{PAGE}/files/{with_file}"), "", &[]).await.status(), StatusCode::NOT_FOUND);
}

/// Links among what the page offers, people by name, and files: put in by visitors, and nothing beside told.
#[tokio::test(flavor = "multi_thread")]
async fn visitors_choose_what_is_offered_and_send_files_along() {
    let world = World::new().await;
    let (status, body) = keep(&world, |page| {
        let records = &mut page["blocks"][0]["records"];
        records["query"]["fields"].as_array_mut().unwrap().push(json!({ "field": PICTURES, "width": 100 }));
        let changes = records["changes"].as_array_mut().unwrap();
        changes.extend([json!(SECTION), json!(PICTURES)]);
    })
    .await;
    assert_eq!(status, StatusCode::OK, "{body}");
    let clerk = clerk(&world).await;
    let (_, shown) = rows(&clerk, json!({})).await;
    let first = shown["rows"][0]["id"].clone();
    let names = async |client: &Client, field: u32, search: &str| {
        client.post(&format!("{PAGE}/parts/1/names"), json!({ "field": field, "record": first, "search": search })).await
    };
    let (status, told) = names(&clerk, SECTION, "tarn").await;
    assert_eq!(status, StatusCode::OK, "{told}");
    let one = told[0].clone();
    assert!(one["name"].as_str().unwrap().to_lowercase().contains("tarn") && one["beside"].is_null(), "{told}");
    assert_eq!(names(&clerk, STATUS, "").await.0, StatusCode::NOT_FOUND);
    assert_eq!(names(&world.stranger(), SECTION, "").await.0, StatusCode::UNAUTHORIZED);
    // Together with files, in one step; of what is refused nothing is kept.
    let path = format!("{PAGE}/parts/1/records/{first}");
    let send = async |edits: Value, name: &str, bytes: &[u8]| {
        clerk.answer_form(&path, &[("body", json!({ "edits": edits }))], &[(format!("file-{PICTURES}"), name, bytes)], None).await
    };
    let elsewhere = json!([{ "field": TITLE, "input": { "text": "Mine now" } }]);
    assert_eq!(send(elsewhere, "a.png", &picture()).await.0, StatusCode::FORBIDDEN);
    assert!(send(json!([]), "a.png", b"no picture").await.0.is_client_error());
    let before = world.count("SELECT count(*) FROM file").await;
    let (status, done) = send(json!([{ "field": PARISH_NOTE, "input": { "text": "seen" } }]), "a.png", &picture()).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert_eq!(world.count("SELECT count(*) FROM file").await, before + 1);
    let cell = async || {
        let (_, shown) = rows(&clerk, json!({})).await;
        let row = shown["rows"].as_array().unwrap().iter().find(|row| row["id"] == first).unwrap().clone();
        row["cells"].as_array().unwrap().last().unwrap()["value"]["files"].clone()
    };
    let held = cell().await;
    let last = held.as_array().unwrap().last().unwrap().clone();
    assert_eq!(clerk.raw(Method::GET, &format!("{PAGE}/files/{}", last["id"].as_str().unwrap()), "", &[]).await.status(), StatusCode::OK);
    // One stays, one is new; a number that was made up stays nowhere.
    let made_up = json!({ "id": "0000", "name": "b.png", "media": "image/png", "size": 1 });
    let edits = json!([{ "field": PICTURES, "input": { "value": { "files": [last, made_up] } } }]);
    assert_eq!(send(edits, "c.png", &picture()).await.0, StatusCode::OK);
    let names: Vec<Value> = cell().await.as_array().unwrap().iter().map(|file| file["name"].clone()).collect();
    assert_eq!(names.len(), 2, "{names:?}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_page_has_the_shape_of_its_view_and_tells_strangers_no_day_and_no_figure() {
    let world = World::new().await;
    let asking = json!({ "from": "2026-01-01", "to": "2026-12-31" });
    let days = async |client: &Client| client.post(&format!("{PAGE}/parts/1/days"), asking.clone()).await;
    let crossed = async |client: &Client| client.post(&format!("{PAGE}/parts/1/crossed"), json!({})).await;
    let (stranger, clerk) = (world.stranger(), clerk(&world).await);
    assert_eq!((days(&clerk).await.0, crossed(&clerk).await.0), (StatusCode::NOT_FOUND, StatusCode::NOT_FOUND), "it shows rows");
    let shape = async |shape: Value| keep(&world, |page| page["blocks"][0]["records"]["query"]["shape"] = shape).await;
    assert_eq!(shape(json!({ "as": "calendar", "dates": [{ "start": DUE }] })).await.0, StatusCode::OK);
    let (status, told) = days(&clerk).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    assert!(!told["marks"].as_array().unwrap().is_empty());
    assert!(told["rows"][0]["cells"].as_array().unwrap().len() == 6 && told["rows"][0]["change"] == true, "{}", told["rows"][0]);
    let too_long = clerk.post(&format!("{PAGE}/parts/1/days"), json!({ "from": "0001-01-01", "to": "9999-12-31" })).await;
    assert_eq!(too_long.0, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(days(&stranger).await.0, StatusCode::UNAUTHORIZED);
    // Its days are the records of the rows, and no others.
    assert_eq!(shape(json!({ "as": "rows" })).await.0, StatusCode::OK);
    let (_, all) = rows(&clerk, json!({})).await;
    let ids =
        |rows: &Value| rows.as_array().unwrap().iter().map(|row| row["id"].as_u64().unwrap()).collect::<std::collections::BTreeSet<_>>();
    assert!(ids(&told["rows"]).is_subset(&ids(&all["rows"])));

    let status_field = 47;
    assert_eq!(shape(json!({ "as": "cross-tab", "down": [{ "field": status_field }] })).await.0, StatusCode::OK);
    let (_, told) = crossed(&clerk).await;
    assert_eq!(told["cells"][0][0]["text"], all["total"].to_string());
    assert!(told["rows"].as_array().unwrap().iter().all(|head| head.get("values").is_none()), "nothing is named by its number");
    assert_eq!(crossed(&stranger).await.0, StatusCode::UNAUTHORIZED);
    let refused = shape(json!({ "as": "cross-tab", "down": [{ "field": 46 }] })).await;
    assert_eq!(refused.0, StatusCode::UNPROCESSABLE_ENTITY, "{}", refused.1);
    assert_eq!(refused.1["faults"][0]["message"], "The shape tells of severity, which is not shown. Show it, or take that out.");
}
