//! Records on their way by the API: one's own, added once, in one step; and who else is here.

use crate::{files::sent, fixture::*};
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};

const WRONG: u32 = 41;
const SECTION: u32 = 42;
const HOURS: u32 = 50;

fn at(end: &str) -> String {
    format!("/api/trackers/1/tables/{FAULT_TABLE}/{end}")
}

fn cells(of: &[(u32, Value)]) -> Value {
    json!({ "cells": of.iter().map(|(field, input)| json!({ "field": field, "input": input })).collect::<Vec<_>>() })
}

#[tokio::test(flavor = "multi_thread")]
async fn a_draft_is_its_makers_alone_and_is_added_once() {
    let world = World::new().await;
    let (bex, nadia) = (world.person(BEX).await, world.person(NADIA).await);
    let count = |rows: &Value| rows["rows"].as_array().unwrap().len();
    let before = count(&nadia.rows(FAULT_TABLE, &[WRONG]).await);
    let (status, begun) = bex.post(&at("drafts"), cells(&[(HOURS, json!({ "text": "many" }))])).await;
    assert_eq!(status, StatusCode::OK, "{begun}");
    assert_eq!(begun["look"]["says"], json!("Still asked: what is wrong and hours needed."));
    let own = at(&format!("drafts/{}", begun["draft"]));
    // What does not fit is kept as it was typed; what is mended fits.
    let (_, typed) = bex.patch(&own, cells(&[(WRONG, json!({ "text": "Zymurgy stile" }))])).await;
    assert_eq!((&typed["look"]["name"], &typed["look"]["wrong"][0]["input"]), (&json!("Zymurgy stile"), &json!({ "text": "many" })));
    assert_eq!(bex.post(&format!("{own}/add"), json!({})).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    let (_, mended) = bex.patch(&own, json!({ "cells": [{ "field": HOURS, "input": { "text": "2.5" } }] })).await;
    assert_eq!(mended["look"]["says"], json!(""), "{mended}");
    // Nobody else knows of it: not by its address, not in a list, not in a count, not by finding.
    assert_eq!(nadia.get(&own).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.post(&format!("{own}/add"), json!({})).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.get("/api/trackers/1/drafts").await.1, json!([]));
    assert_eq!(count(&nadia.rows(FAULT_TABLE, &[WRONG]).await), before);
    let (_, found) = nadia.post("/api/trackers/1/find", json!({ "words": "zymurgy" })).await;
    assert!(!found.to_string().contains("Zymurgy stile"), "{found}");
    assert_eq!(bex.get("/api/trackers/1/drafts").await.1[0]["name"], json!("Zymurgy stile"));
    // Added twice at once, it is there once, and the draft is gone.
    let add = format!("{own}/add");
    let (one, two) = tokio::join!(bex.post(&add, json!({})), bex.post(&add, json!({})));
    assert!(one.0 == StatusCode::OK || two.0 == StatusCode::OK, "{one:?} {two:?}");
    assert_eq!(count(&nadia.rows(FAULT_TABLE, &[WRONG]).await), before + 1);
    assert_eq!(bex.get(&own).await.0, StatusCode::NOT_FOUND);
    assert_eq!(bex.get("/api/trackers/1/drafts").await.1, json!([]));
}

#[tokio::test(flavor = "multi_thread")]
async fn files_of_a_draft_are_its_makers_alone_and_go_along_or_go() {
    let world = World::new().await;
    let (bex, nadia) = (world.person(BEX).await, world.person(NADIA).await);
    let (_, begun) = bex.post(&at("drafts"), cells(&[(WRONG, json!({ "text": "Stile gone" }))])).await;
    let own = at(&format!("drafts/{}", begun["draft"]));
    let put = async |own: &str, body: Value| bex.put(&format!("{own}/files/{PICTURES}"), body).await;
    let files = |reply: &Value| {
        let place = reply["look"]["fields"].as_array().unwrap().iter().position(|field| *field == PICTURES).unwrap();
        reply["look"]["row"]["cells"][place]["value"]["files"].as_array().cloned().unwrap_or_default()
    };
    let status = async |who: &Client, file: &Value| {
        who.raw(Method::GET, &format!("/api/files/{}", file["id"].as_str().unwrap()), "", &[]).await.status()
    };
    let tokens = [sent(&bex, "gate.png", &picture()).await, sent(&bex, "note.txt", b"Two posts").await];
    let (code, brought) = put(&own, json!({ "tokens": tokens })).await;
    assert_eq!((code, files(&brought).len()), (StatusCode::OK, 2), "{brought}");
    let both = files(&bex.get(&own).await.1);
    assert_eq!(both.iter().map(|file| &file["name"]).collect::<Vec<_>>(), ["gate.png", "note.txt"], "kept through a reload");
    assert_eq!([status(&bex, &both[0]).await, status(&nadia, &both[0]).await], [StatusCode::OK, StatusCode::NOT_FOUND]);
    // Neither the draft nor its files are anybody else's, and a field that holds no files takes none.
    assert_eq!(nadia.put(&format!("{own}/files/{PICTURES}"), json!({ "stays": [] })).await.0, StatusCode::NOT_FOUND);
    let token = sent(&bex, "odd.txt", b"x").await;
    let (code, refused) = bex.put(&format!("{own}/files/{WRONG}"), json!({ "tokens": [token] })).await;
    assert_eq!(code, StatusCode::UNPROCESSABLE_ENTITY, "{refused}");
    assert_eq!(files(&bex.get(&own).await.1).len(), 2);
    // One is taken out, and nothing is left of it; the other goes along when the record is added.
    let (_, left) = put(&own, json!({ "stays": [both[1]["id"]] })).await;
    assert_eq!(files(&left), both[1..]);
    assert!(world.app.files.get(both[0]["id"].as_str().unwrap()).await.unwrap().is_none());
    let (code, done) = bex.post(&format!("{own}/add"), json!({})).await;
    assert_eq!(code, StatusCode::OK, "{done}");
    assert_eq!(status(&nadia, &both[1]).await, StatusCode::OK);
    assert_eq!(world.count("SELECT count(*) FROM draft_file").await, 0);
    // Of a draft that is let go, or forgotten, no file stays.
    for forgotten in [false, true] {
        let (_, begun) = bex.post(&at("drafts"), cells(&[])).await;
        let own = at(&format!("drafts/{}", begun["draft"]));
        let (_, brought) = put(&own, json!({ "tokens": [sent(&bex, "old.txt", b"old").await] })).await;
        let id = files(&brought)[0]["id"].as_str().unwrap().to_owned();
        if forgotten {
            world.sql("UPDATE draft SET changed_at = now() - interval '1 year'").await;
            world.app.tidy().await.unwrap();
        } else {
            bex.delete(&own, json!({})).await;
        }
        assert!(world.app.files.get(&id).await.unwrap().is_none(), "forgotten: {forgotten}");
        assert_eq!(world.count("SELECT count(*) FROM draft_file").await, 0);
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn who_may_not_add_begins_nothing_and_a_warden_is_asked_for_her_section() {
    let world = World::new().await;
    let (tamsin, pavel) = (world.person(TAMSIN).await, world.person(PAVEL).await);
    let (status, _) = pavel.post(&at("drafts"), cells(&[])).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    assert_eq!(world.stranger().post(&at("drafts"), cells(&[])).await.0, StatusCode::UNAUTHORIZED);
    let (_, begun) = tamsin.post(&at("drafts"), cells(&[(WRONG, json!({ "text": "Wire" }))])).await;
    assert_eq!(begun["look"]["missing"], json!([SECTION]), "{begun}");
    let own = at(&format!("drafts/{}", begun["draft"]));
    assert_eq!(tamsin.post(&format!("{own}/add"), json!({})).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    let sections = tamsin.rows(2, &[20]).await;
    let section = sections["rows"][0]["id"].clone();
    tamsin.patch(&own, cells(&[(SECTION, json!({ "value": { "links": [section] } }))])).await;
    let (status, done) = tamsin.post(&format!("{own}/add"), json!({})).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert!(tamsin.rows(FAULT_TABLE, &[WRONG]).await.to_string().contains("\"Wire\""));
    let (_, begun) = tamsin.post(&at("drafts"), cells(&[])).await;
    let other = at(&format!("drafts/{}", begun["draft"]));
    assert_eq!(tamsin.delete(&other, json!({})).await.0, StatusCode::NO_CONTENT);
    assert_eq!(tamsin.get(&other).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn who_is_here_is_told_only_where_one_may_look() {
    let world = World::new().await;
    let (nadia, tamsin, idris) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(IDRIS).await);
    let ids = |rows: &Value| rows["rows"].as_array().unwrap().iter().map(|row| row["id"].clone()).collect::<Vec<_>>();
    let hers = ids(&tamsin.rows(FAULT_TABLE, &[WRONG]).await)[0].clone();
    let here = |screen: &str, record: &Value, writes: bool| json!({ "screen": screen, "table": FAULT_TABLE, "record": record, "field": WRONG, "writes": writes });
    let path = "/api/trackers/1/presence";
    let (status, nobody) = nadia.put(path, here("a", &hers, true)).await;
    assert_eq!((status, &nobody), (StatusCode::OK, &json!([])));
    let (_, told) = tamsin.put(path, here("b", &hers, false)).await;
    assert_eq!(told[0]["says"], json!("Nadia Ferreira-Holt writes in what is wrong"), "{told}");
    // Idris does not see that record: nobody is there for him, and he can't be there for others.
    let (_, told) = idris.put(path, here("c", &hers, true)).await;
    assert_eq!(told, json!([]));
    let (_, told) = nadia.put(path, here("a", &hers, true)).await;
    let at_record: Vec<&Value> = told.as_array().unwrap().iter().filter(|one| one["record"] == hers).collect();
    assert_eq!(at_record.len(), 1, "{told}");
    assert_eq!(at_record[0]["says"], json!("Tamsin Oake is here, in what is wrong"));
    // Whoever closes it is there no more.
    tamsin.put(path, json!({ "screen": "b" })).await;
    let (_, told) = nadia.put(path, here("a", &hers, true)).await;
    assert!(!told.to_string().contains("Tamsin"), "{told}");
    assert_eq!(nadia.put(path, json!({ "screen": "" })).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(world.stranger().put(path, here("d", &hers, false)).await.0, StatusCode::UNAUTHORIZED);
}

#[tokio::test(flavor = "multi_thread")]
async fn two_made_one_and_what_is_in_the_bin_are_told_to_nobody_who_sees_neither() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let ids = |rows: &Value| rows["rows"].as_array().unwrap().iter().map(|row| row["id"].clone()).collect::<Vec<_>>();
    let (all, hers) = (ids(&nadia.rows(FAULT_TABLE, &[WRONG]).await), ids(&tamsin.rows(FAULT_TABLE, &[WRONG]).await));
    let others: Vec<&Value> = all.iter().filter(|id| !hers.contains(id)).take(2).collect();
    let pair = json!({ "keep": others[0], "other": others[1], "take": [WRONG] });
    assert_eq!(tamsin.post(&at("merge/rehearsal"), pair.clone()).await.0, StatusCode::NOT_FOUND);
    let (status, told) = nadia.post(&at("merge/rehearsal"), pair.clone()).await;
    assert_eq!((status, &told["wrong"]), (StatusCode::OK, &Value::Null), "{told}");
    let (status, done) = nadia.post(&at("merge"), pair).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert_eq!(nadia.get("/api/trackers/1/bin/records").await.1["records"][0]["record"], *others[1]);
    assert_eq!(tamsin.get("/api/trackers/1/bin/records").await.1["records"], json!([]));
    let back = json!({ "records": [others[1]] });
    assert_eq!(tamsin.post(&at("bring-back"), back.clone()).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.post(&at("bring-back"), back).await.0, StatusCode::OK);
    assert_eq!(ids(&nadia.rows(FAULT_TABLE, &[WRONG]).await).len(), all.len());
}
