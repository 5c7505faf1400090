//! Adding, editing, removing, undoing; and that all of it is still there afterwards.

use crate::fixture::*;
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};

#[tokio::test(flavor = "multi_thread")]
async fn an_edit_is_seen_kept_and_undone() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, before) = nadia.get(&record_path(7)).await;
    let (status, done) = nadia.edit(7, DESCRIPTION, json!({ "text": "Two planks gone" }), json!(null)).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let described = async |client: &Client| {
        let (_, body) = client.get(&record_path(7)).await;
        let at = body["fields"].as_array().unwrap().iter().position(|f| f == DESCRIPTION).unwrap();
        body["row"]["cells"][at]["text"].clone()
    };
    assert_eq!(described(&nadia).await, "Two planks gone");
    // Another server on the same database reads it from there.
    let restarted = world.beside().await;
    assert_eq!(described(&restarted.person(NADIA).await).await, "Two planks gone");
    let (_, trail) = nadia.get(&format!("{}/trail", record_path(7))).await;
    assert_eq!(
        (&trail["entries"][0]["who"], &trail["entries"][0]["edits"][0]["after"]),
        (&json!("Nadia Ferreira-Holt"), &json!("Two planks gone"))
    );
    let (status, _) = nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(status, StatusCode::OK);
    let (_, after) = nadia.get(&record_path(7)).await;
    // All but when and by whom it was changed last: that was just now.
    let held = |body: &Value| body["row"]["cells"].as_array().unwrap()[..17].to_vec();
    assert_eq!(held(&after), held(&before));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_long_trail_is_told_in_pages_of_what_its_reader_sees_and_goes_back_as_far_as_it_goes() {
    let world = World::new().await;
    let (nadia, pavel) = (world.person(NADIA).await, world.person(PAVEL).await);
    let trail = async |who: &Client, end: &str| who.get(&format!("{}/trail{end}", record_path(7))).await.1;
    let count = |page: &Value| page["entries"].as_array().unwrap().len();
    let (begun, seen) = (trail(&nadia, "").await, trail(&pavel, "").await);
    assert_eq!((&begun["earlier"], &seen["earlier"]), (&json!(false), &json!(false)));
    nadia.edit(7, DESCRIPTION, json!({ "text": "As it was" }), json!(null)).await;
    let first = trail(&nadia, "").await["entries"][0]["seq"].as_u64().unwrap();
    // The reporter's name is hidden from a trustee: of 210 changes of it he is told nothing, nor that there are any.
    for turn in 0..210 {
        let (status, done) = nadia.edit(7, REPORTER, json!({ "text": format!("Somebody {turn}") }), json!(null)).await;
        assert_eq!(status, StatusCode::OK, "{done}");
    }
    let his = trail(&pavel, "").await;
    assert_eq!((count(&his), &his["earlier"]), (count(&seen) + 1, &json!(false)));
    let page = trail(&nadia, "").await;
    assert_eq!((count(&page), &page["earlier"]), (200, &json!(true)));
    let last = page["entries"][199]["seq"].as_u64().unwrap();
    let rest = trail(&nadia, &format!("?before={last}")).await;
    assert_eq!((count(&rest), &rest["earlier"]), (10 + 1 + count(&begun), &json!(false)));
    assert!(rest["entries"][0]["seq"].as_u64().unwrap() < last);
    // It is put back to a moment before any page of it.
    nadia.edit(7, DESCRIPTION, json!({ "text": "As it is" }), json!(null)).await;
    let body = json!({ "after": first, "fields": [DESCRIPTION] });
    let (_, back) = nadia.post(&format!("{}/as-it-was", record_path(7)), body).await;
    assert_eq!((&back["fields"][0]["now"], &back["fields"][0]["then"]), (&json!("As it is"), &json!("As it was")), "{back}");
}

#[tokio::test(flavor = "multi_thread")]
async fn two_people_in_one_cell_clash_and_both_values_are_told() {
    let world = World::new().await;
    let (nadia, bex) = (world.person(NADIA).await, world.person(BEX).await);
    nadia.edit(8, DESCRIPTION, json!({ "text": "old" }), json!(null)).await;
    let seen = json!({ "text": "old" });
    assert_eq!(bex.edit(8, DESCRIPTION, json!({ "text": "hers" }), seen.clone()).await.0, StatusCode::OK);
    let (status, body) = nadia.edit(8, DESCRIPTION, json!({ "text": "mine" }), seen).await;
    assert_eq!(status, StatusCode::CONFLICT);
    assert_eq!(body["faults"][0]["clash"], json!({ "yours": { "text": "mine" }, "theirs": { "text": "hers" }, "theirs_text": "hers" }));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_record_sent_twice_under_one_key_is_added_once() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let body = json!({ "records": [{ "41": { "text": "Sent twice" } }] }).to_string();
    let add = async || read(nadia.raw(Method::POST, "/api/trackers/1/tables/3/records", &body, &[("idempotency-key", "k1")]).await).await.1;
    let (first, second) = tokio::join!(add(), add());
    assert_eq!(first, second);
    assert_eq!(add().await, first);
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS + 1);
    let other = world.person(BEX).await;
    // Another person's key is another key.
    let answer = read(other.raw(Method::POST, "/api/trackers/1/tables/3/records", &body, &[("idempotency-key", "k1")]).await).await.1;
    assert_ne!(answer, first);
}

#[tokio::test(flavor = "multi_thread")]
async fn links_stand_on_both_sides_and_the_bin_takes_a_record_out_of_both() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let faults_of = async |section: u32| {
        let (_, body) = nadia.get(&format!("/api/trackers/1/tables/{SECTIONS}/records/{section}")).await;
        let at = body["fields"].as_array().unwrap().iter().position(|f| f == 27).unwrap();
        body["row"]["cells"][at]["value"]["links"].as_array().cloned().unwrap_or_default()
    };
    let (_, done) = nadia
        .post("/api/trackers/1/tables/3/records", json!({ "records": [{ "41": { "text": "New" }, "42": { "value": { "links": [9] } } }] }))
        .await;
    let fault = done["added"][0].clone();
    assert!(faults_of(9).await.contains(&fault));
    let moved = nadia.edit(fault.as_u64().unwrap() as u32, SECTION, json!({ "value": { "links": [10] } }), json!(null)).await;
    assert_eq!(moved.0, StatusCode::OK);
    assert!(!faults_of(9).await.contains(&fault) && faults_of(10).await.contains(&fault));
    let (status, gone) = nadia.delete("/api/trackers/1/tables/3/records", json!({ "records": [fault] })).await;
    assert_eq!(status, StatusCode::OK, "{gone}");
    assert!(!faults_of(10).await.contains(&fault));
    nadia.post("/api/trackers/1/undo", json!({ "seq": gone["seq"] })).await;
    assert!(faults_of(10).await.contains(&fault));
}

#[tokio::test(flavor = "multi_thread")]
async fn many_writers_at_once_lose_nothing_on_two_servers() {
    let world = World::new().await;
    let other = world.beside().await;
    let clients = [world.person(NADIA).await, world.person(BEX).await, other.person(NADIA).await, other.person(BEX).await];
    let mut tasks = Vec::new();
    for n in 0..60_usize {
        let client = clients[n % 4].clone();
        tasks.push(tokio::spawn(async move {
            let body = json!({ "records": [{ "41": { "text": format!("written {n}") } }] });
            client.post("/api/trackers/1/tables/3/records", body).await
        }));
    }
    let mut seqs = Vec::new();
    for task in tasks {
        let (status, done) = task.await.unwrap();
        assert_eq!(status, StatusCode::OK, "{done}");
        seqs.push(done["seq"].as_u64().unwrap());
    }
    seqs.sort_unstable();
    seqs.dedup();
    assert_eq!(seqs.len(), 60);
    let fresh = world.beside().await;
    let rows = fresh.person(NADIA).await.rows(FAULT_TABLE, &[40, TITLE]).await;
    let text = |row: &Value, at: usize| row["cells"][at]["text"].as_str().unwrap_or_default().to_owned();
    let rows = rows["rows"].as_array().unwrap();
    let mut written: Vec<String> = rows.iter().map(|r| text(r, 1)).filter(|t| t.starts_with("written")).collect();
    written.sort();
    written.dedup();
    assert_eq!(written.len(), 60);
    let mut numbers: Vec<String> = rows.iter().map(|r| text(r, 0)).collect();
    let all = numbers.len();
    numbers.sort();
    numbers.dedup();
    assert_eq!(numbers.len(), all, "a number was given twice");
}
