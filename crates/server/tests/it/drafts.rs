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
    // An address may stand among them, of two drafts too; of what is none nothing is kept.
    let address = |address: &str| json!({ "addresses": [{ "address": address, "title": "Who drew it" }] });
    assert_eq!(put(&own, address("javascript:alert(1)")).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    let (_, other) = bex.post(&at("drafts"), cells(&[])).await;
    let other = at(&format!("drafts/{}", other["draft"]));
    for draft in [&other, &own] {
        let (code, named) = put(draft, address("https://maps.example/a")).await;
        let named = files(&named);
        assert_eq!((code, named.last().unwrap()["name"].as_str()), (StatusCode::OK, Some("Who drew it")));
    }
    bex.delete(&other, json!({})).await;
    // One is taken out, and nothing is left of it; the others go along when the record is added.
    let (_, left) = put(&own, json!({ "stays": [both[1]["id"], "https://maps.example/a"] })).await;
    assert_eq!((files(&left).len(), &files(&left)[0]), (2, &both[1]));
    assert!(world.app.files.get(both[0]["id"].as_str().unwrap()).await.unwrap().is_none());
    let (code, done) = bex.post(&format!("{own}/add"), json!({})).await;
    assert_eq!(code, StatusCode::OK, "{done}");
    assert_eq!(status(&nadia, &both[1]).await, StatusCode::OK);
    let (_, added) = nadia.get(&at(&format!("records/{}", done["added"][0]))).await;
    assert!(added.to_string().contains("https://maps.example/a"), "{added}");
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
async fn lines_of_a_draft_are_its_makers_alone_count_in_it_and_are_added_with_it_in_one_step() {
    let [orders, of_lines, order, materials, quantity, under, cost]: [u32; 7] = [6, 5, 251, 252, 253, 279, 281];
    let world = World::new().await;
    let (bex, nadia) = (world.person(BEX).await, world.person(NADIA).await);
    let count = async || world.count("SELECT count(*) FROM record WHERE table_id IN (5, 6)").await;
    let (before, drafts) = (count().await, format!("/api/trackers/1/tables/{orders}/drafts"));
    let (_, begun) = bex.post(&drafts, cells(&[])).await;
    let own = format!("{drafts}/{}", begun["draft"]);
    let lines = format!("{own}/lines/{under}");
    let line = |line: Value, of: &[(u32, Value)]| json!({ "line": line, "cells": cells(of)["cells"] });
    let material = |number: u32| (materials, json!({ "value": { "links": [number] } }));
    let much = |text: &str| (quantity, json!({ "text": text }));
    let told = async |who: &Client| {
        let query = json!({ "fields": [{ "field": quantity, "width": 100 }], "tallies": [{ "field": quantity, "figure": "sum" }] });
        who.post(&format!("{lines}/query"), json!({ "query": query, "slices": [{ "start": 0, "count": 200 }] })).await
    };
    let quantities = |reply: &Value| {
        let rows = reply["slices"][0]["rows"].as_array().unwrap();
        rows.iter().map(|row| (row["id"].clone(), row["cells"][0]["text"].clone())).collect::<Vec<_>>()
    };
    let two = [line(Value::Null, &[material(1), much("4")]), line(Value::Null, &[material(2), much("2")])];
    let (code, put) = bex.patch(&lines, json!({ "lines": two })).await;
    assert_eq!(code, StatusCode::OK, "{put}");
    let [first, second] = [&put["lines"][0], &put["lines"][1]];
    let place = put["look"]["fields"].as_array().unwrap().iter().position(|field| *field == cost).unwrap();
    assert_ne!(put["look"]["row"]["cells"][place]["text"], json!("£0.00"), "what its lines come to");
    // They are told as they would stand, under numbers of their own, and anew after a reload.
    let (_, listed) = told(&bex).await;
    assert_eq!(quantities(&listed), [(first.clone(), json!("4")), (second.clone(), json!("2"))]);
    assert_eq!((&listed["matching"], &listed["tallies"][0]["text"]), (&json!(2), &json!("6")), "{listed}");
    // What does not fit is said, and nothing of it is kept; what does is.
    let (code, refused) = bex.patch(&lines, json!({ "lines": [line(second.clone(), &[much("many")])] })).await;
    assert_eq!((code, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/lines/0/253")), "{refused}");
    bex.patch(&lines, json!({ "lines": [line(second.clone(), &[much("3")])] })).await;
    assert_eq!(quantities(&told(&bex).await.1)[1].1, json!("3"));
    // They stand in the order in which one puts them; a new one is last, and what is not among them is put nowhere.
    let (code, put) = bex.patch(&lines, json!({ "lines": [line(Value::Null, &[material(3), much("5")])] })).await;
    let third = &put["lines"][0];
    assert_eq!(bex.patch(&lines, json!({ "order": [third, first, second] })).await.0, code);
    let numbers = async || quantities(&told(&bex).await.1).into_iter().map(|(line, _)| line).collect::<Vec<_>>();
    assert_eq!(numbers().await, [third.clone(), first.clone(), second.clone()]);
    assert_eq!(bex.patch(&lines, json!({ "order": [third, third] })).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(bex.patch(&lines, json!({ "order": [third, 90_000] })).await.0, StatusCode::NOT_FOUND);
    bex.patch(&lines, json!({ "order": [second, first] })).await;
    assert_eq!(numbers().await, [third.clone(), second.clone(), first.clone()], "where these stood, and no other");
    bex.patch(&lines, json!({ "gone": [third] })).await;
    bex.patch(&lines, json!({ "order": [first, second] })).await;
    // What a caller would keep in sight is not told by numbers that only a draft’s lines have.
    let kept = json!({ "query": { "fields": [{ "field": quantity, "width": 100 }] }, "keep": [1], "slices": [{ "start": 0, "count": 9 }] });
    let (_, alone) = bex.post(&format!("{lines}/query"), kept).await;
    assert_eq!(quantities(&alone).into_iter().map(|(line, _)| line).collect::<Vec<_>>(), [first.clone(), second.clone()], "{alone}");
    // Neither told to anybody else, nor changed by them, nor in any count; and no line of another draft is reached through this one.
    assert_eq!(told(&nadia).await.0, StatusCode::NOT_FOUND);
    assert_eq!(nadia.patch(&lines, json!({ "gone": [first] })).await.0, StatusCode::NOT_FOUND);
    assert_eq!(count().await, before);
    let (_, other) = bex.post(&drafts, cells(&[])).await;
    let elsewhere = format!("{drafts}/{}/lines/{under}", other["draft"]);
    assert_eq!(bex.patch(&elsewhere, json!({ "lines": [line(first.clone(), &[much("9")])] })).await.0, StatusCode::NOT_FOUND);
    bex.patch(&elsewhere, json!({ "gone": [first] })).await;
    // A link that no lines stand under takes none.
    assert_eq!(bex.patch(&format!("{own}/lines/271"), json!({ "lines": [line(Value::Null, &[])] })).await.0, StatusCode::NOT_FOUND);
    // One is taken out, the other goes along: as one step, taken back as one.
    bex.patch(&lines, json!({ "gone": [first] })).await;
    let (code, done) = bex.post(&format!("{own}/add"), json!({})).await;
    assert_eq!((code, count().await), (StatusCode::OK, before + 2), "{done}");
    let added = bex.rows(of_lines, &[order, quantity]).await;
    let mine = added["rows"].as_array().unwrap().last().unwrap()["cells"].clone();
    assert_eq!((&mine[0]["value"]["links"][0], &mine[1]["text"]), (&done["added"][0], &json!("3")));
    bex.delete(&format!("{drafts}/{}", other["draft"]), json!({})).await;
    assert_eq!(world.count("SELECT count(*) FROM draft_line").await, 0);
    let (code, _) = bex.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(code, StatusCode::OK);
    let left = bex.rows(of_lines, &[quantity]).await;
    assert_eq!(left["rows"].as_array().unwrap().len() + 1, added["rows"].as_array().unwrap().len());
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

/// Lines of a record that is there stand where somebody put them, for everybody, also after the server was started anew.
#[tokio::test(flavor = "multi_thread")]
async fn lines_stand_where_they_were_put_for_everybody_and_only_those_who_may_change_them_put_them_there() {
    let [of_lines, order, quantity, under]: [u32; 4] = [5, 251, 253, 279];
    let world = World::new().await;
    let (bex, nadia, pavel) = (world.person(BEX).await, world.person(NADIA).await, world.person(PAVEL).await);
    let told = async |who: &Client, record: &Value| {
        let condition = json!({ "test": { "path": [order], "of": "any", "check": { "is": "record", "not": false, "any": [record] } } });
        let query = json!({ "condition": condition, "fields": [{ "field": quantity, "width": 100 }] });
        let body = json!({ "query": query, "under": under, "slices": [{ "start": 0, "count": 200 }] });
        let (_, reply) = who.post(&format!("/api/trackers/1/tables/{of_lines}/query"), body).await;
        reply["slices"][0]["rows"].as_array().unwrap().iter().map(|row| row["id"].clone()).collect::<Vec<_>>()
    };
    let all = nadia.rows(of_lines, &[order]).await;
    let parent = |row: &Value| row["cells"][0]["value"]["links"][0].clone();
    let rows = all["rows"].as_array().unwrap();
    let fullest = rows.iter().map(parent).max_by_key(|one| rows.iter().filter(|row| parent(row) == *one).count()).unwrap();
    let before = told(&bex, &fullest).await;
    assert!(before.len() > 2);
    let place = format!("/api/trackers/1/tables/6/lines/{under}/order");
    let last = before.last().unwrap();
    let (code, done) = bex.post(&place, json!({ "lines": [last], "spot": "first" })).await;
    assert_eq!(code, StatusCode::OK, "{done}");
    assert!(done["did"].as_str().unwrap().starts_with("moved the material line"), "{done}");
    let now: Vec<Value> = [std::slice::from_ref(last), &before[..before.len() - 1]].concat();
    assert_eq!(told(&nadia, &fullest).await, now);
    assert_eq!(world.count("SELECT count(*) FROM place WHERE is_lines").await, 1);
    assert!(matches!(
        pavel.post(&place, json!({ "lines": [last], "spot": "last" })).await.0,
        StatusCode::FORBIDDEN | StatusCode::NOT_FOUND
    ));
    // No lines stand under this one, and that field is of another table.
    for wrong in ["/api/trackers/1/tables/6/lines/271/order", "/api/trackers/1/tables/3/lines/279/order"] {
        assert_eq!(nadia.post(wrong, json!({ "lines": [last], "spot": "last" })).await.0, StatusCode::NOT_FOUND, "{wrong}");
    }
    let again = world.beside().await;
    assert_eq!(told(&again.person(NADIA).await, &fullest).await, now, "it is kept");
    let (code, _) = again.person(BEX).await.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(code, StatusCode::OK);
    assert_eq!(told(&again.person(NADIA).await, &fullest).await, before);
}
