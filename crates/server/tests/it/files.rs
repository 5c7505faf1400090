//! Files are given to whoever may see the cell that holds them.

use crate::fixture::*;
use axum::{
    body::Body,
    http::{Method, Request, StatusCode, header},
};
use http_body_util::BodyExt;
use serde_json::json;

#[tokio::test(flavor = "multi_thread")]
async fn a_picture_is_open_to_its_warden_and_to_no_other() {
    let world = World::new().await;
    assert_eq!(world.stranger().answer(good_answers("Gate"), &[(PICTURES, "../../gate.png", &picture())], None).await.0, StatusCode::OK);
    let (nadia, tamsin, idris) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(IDRIS).await);
    let rows = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[PICTURES]), "sorts": [{ "field": 40, "descending": true }] })).await.1;
    let (record, file) = (rows["rows"][0]["id"].clone(), rows["rows"][0]["cells"][0]["value"]["files"][0].clone());
    assert_eq!(file["name"], "gate.png");
    let path = format!("/api/files/{}", file["id"].as_str().unwrap());
    for address in [path.clone(), format!("{path}?small=true")] {
        let answer = tamsin.raw(Method::GET, &address, "", &[]).await;
        assert_eq!(answer.status(), StatusCode::OK);
        assert_eq!(answer.headers()[header::CONTENT_TYPE], "image/jpeg");
        assert!(answer.headers()[header::CONTENT_SECURITY_POLICY].to_str().unwrap().contains("sandbox"));
    }
    assert_eq!(idris.get(&path).await, idris.get("/api/files/nothing").await);
    assert_eq!(world.stranger().get(&path).await.0, StatusCode::UNAUTHORIZED);
    // Taken out of its cell, it is given to nobody; put back by undoing, it is.
    let record = record.as_u64().unwrap() as u32;
    let (_, done) = nadia.edit(record, PICTURES, json!({ "value": "empty" }), json!(null)).await;
    assert_eq!(tamsin.get(&path).await.0, StatusCode::NOT_FOUND);
    nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(tamsin.raw(Method::GET, &path, "", &[]).await.status(), StatusCode::OK);
    // Nobody puts a file that they only know by its id on a record of their own.
    let forged = json!({ "value": { "files": [file] } });
    let own = idris.rows(FAULT_TABLE, &[TITLE]).await["rows"][0]["id"].as_u64().unwrap() as u32;
    assert_eq!(idris.edit(own, PICTURES, forged, json!(null)).await.0, StatusCode::NOT_FOUND);
}

/// Sends a file in pieces, and gives its token.
pub(crate) async fn sent(client: &Client, name: &str, bytes: &[u8]) -> String {
    let (status, coming) = client.post("/api/files/coming", json!({ "name": name, "size": bytes.len() })).await;
    assert_eq!(status, StatusCode::OK, "{coming}");
    let token = coming["token"].as_str().unwrap().to_owned();
    let piece = coming["piece"].as_u64().unwrap() as usize;
    let mut at = 0;
    for piece in bytes.chunks(piece) {
        let (status, here) = put_piece(client, &token, at, piece).await;
        assert_eq!(status, StatusCode::OK, "{here}");
        at += piece.len();
        assert_eq!(here["at"], at);
    }
    token
}

async fn put_piece(client: &Client, token: &str, at: usize, bytes: &[u8]) -> Answer {
    let mut request = Request::put(format!("/api/files/coming/{token}?at={at}")).header(header::CONTENT_TYPE, "application/octet-stream");
    if let Some(cookie) = &client.cookie {
        request = request.header(header::COOKIE, cookie);
    }
    read(client.send(request.body(Body::from(bytes.to_vec())).unwrap()).await).await
}

async fn attached(client: &Client, record: u32, tokens: &[&str]) -> Answer {
    client.post(&format!("/api/trackers/1/tables/{FAULT_TABLE}/records/{record}/files/{PICTURES}"), json!({ "tokens": tokens })).await
}

/// The files of a fault.
async fn files_of(client: &Client, record: u32) -> Vec<serde_json::Value> {
    let (_, told) = client.get(&format!("{}?fields={PICTURES}", record_path(record))).await;
    let fields = told["fields"].as_array().unwrap();
    let place = fields.iter().position(|field| *field == PICTURES).unwrap();
    told["row"]["cells"][place]["value"]["files"].as_array().cloned().unwrap_or_default()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_large_file_comes_in_pieces_goes_on_where_it_stopped_and_is_given_in_runs() {
    let world = World::new().await;
    let (nadia, idris) = (world.person(NADIA).await, world.person(IDRIS).await);
    let bytes: Vec<u8> = (0..2_500_000_u32).map(|n| (n % 251) as u8).collect();
    let (_, coming) = nadia.post("/api/files/coming", json!({ "name": "survey.bin", "size": bytes.len() })).await;
    let (token, piece) = (coming["token"].as_str().unwrap(), coming["piece"].as_u64().unwrap() as usize);
    assert_eq!(put_piece(&nadia, token, 0, &bytes[..piece]).await.1["at"], piece);
    // A piece that comes twice, or too early, changes nothing; what is no whole piece is refused; it is nobody else's.
    assert_eq!(put_piece(&nadia, token, 0, &bytes[..piece]).await.1["at"], piece);
    assert_eq!(put_piece(&nadia, token, 2 * piece, &bytes[2 * piece..]).await.1["at"], piece);
    assert_eq!(put_piece(&nadia, token, piece, &bytes[piece..piece + 7]).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(put_piece(&idris, token, piece, &bytes[piece..2 * piece]).await.0, StatusCode::NOT_FOUND);
    assert_eq!(attached(&nadia, 1, &[token]).await.0, StatusCode::BAD_REQUEST, "it is not here whole");
    // The line was lost: one asks how far it has come.
    let (_, far) = nadia.get(&format!("/api/files/coming/{token}")).await;
    assert_eq!(far["at"], piece);
    for at in [piece, 2 * piece] {
        put_piece(&nadia, token, at, &bytes[at..bytes.len().min(at + piece)]).await;
    }
    assert_eq!(attached(&idris, 1, &[token]).await.0, StatusCode::NOT_FOUND);
    let (status, done) = attached(&nadia, 1, &[token]).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert_eq!(attached(&nadia, 1, &[token]).await.0, StatusCode::NOT_FOUND, "once");
    let file = files_of(&nadia, 1).await.pop().unwrap();
    assert_eq!((&file["name"], &file["size"]), (&json!("survey.bin"), &json!(bytes.len())));
    let path = format!("/api/files/{}", file["id"].as_str().unwrap());
    let whole = nadia.raw(Method::GET, &path, "", &[]).await;
    assert!(whole.headers()[header::CONTENT_DISPOSITION].to_str().unwrap().starts_with("attachment"), "it is shown nowhere");
    assert!(whole.into_body().collect().await.unwrap().to_bytes() == bytes[..]);
    let run = nadia.raw(Method::GET, &path, "", &[("range", "bytes=1000-1999")]).await;
    assert_eq!(run.status(), StatusCode::PARTIAL_CONTENT);
    assert_eq!(run.headers()[header::CONTENT_RANGE], format!("bytes 1000-1999/{}", bytes.len()));
    assert!(run.into_body().collect().await.unwrap().to_bytes() == bytes[1000..2000]);
    assert_eq!(nadia.raw(Method::GET, &path, "", &[("range", "bytes=9999999-")]).await.status(), StatusCode::OK);
    // Nothing is left of what came in pieces.
    assert_eq!(world.count("SELECT count(*) FROM upload").await, 0);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_file_is_decides_how_it_is_taken_and_given() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    // Its name promises something else: refused with its first piece, and nothing waits.
    let (_, coming) = nadia.post("/api/files/coming", json!({ "name": "gate.jpg", "size": 9 })).await;
    let (status, problem) = put_piece(&nadia, coming["token"].as_str().unwrap(), 0, b"<script/>").await;
    assert_eq!(status, StatusCode::UNSUPPORTED_MEDIA_TYPE);
    assert!(problem["detail"].as_str().unwrap().contains("is called a picture, and is something else inside"), "{problem}");
    assert_eq!(world.count("SELECT count(*) FROM upload").await, 0);
    for (name, size) in [("huge.bin", 104_857_601_u64), ("empty.txt", 0)] {
        let (status, problem) = nadia.post("/api/files/coming", json!({ "name": name, "size": size })).await;
        assert!(status.is_client_error() && problem["detail"].as_str().unwrap().contains(name), "{problem}");
    }
    let page = b"<!DOCTYPE html><script>alert(1)</script>".as_slice();
    let tokens = [sent(&nadia, "../page.html", page).await, sent(&nadia, "gate.png", &picture()).await];
    assert_eq!(attached(&nadia, 1, &[&tokens[0], &tokens[1]]).await.0, StatusCode::OK);
    let files = files_of(&nadia, 1).await;
    let [page, drawn] = [&files[files.len() - 2], &files[files.len() - 1]];
    assert_eq!((&page["name"], &page["media"]), (&json!("page.html"), &json!("text/plain")), "no page of anybody's is a page of ours");
    let answer = nadia.raw(Method::GET, &format!("/api/files/{}", page["id"].as_str().unwrap()), "", &[]).await;
    assert_eq!(answer.headers()[header::CONTENT_TYPE], "text/plain; charset=utf-8");
    assert!(answer.headers()[header::CONTENT_SECURITY_POLICY].to_str().unwrap().contains("sandbox"));
    assert_eq!(drawn["media"], "image/jpeg");
    // A picture is turned: another one stands in its place, and undoing puts the first one back.
    let turn = json!({ "file": drawn["id"], "quarters": 1 });
    let path = format!("/api/trackers/1/tables/{FAULT_TABLE}/records/1/files/{PICTURES}/turn");
    let (status, done) = nadia.post(&path, turn).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let after = files_of(&nadia, 1).await;
    assert_eq!((after.len(), &after[after.len() - 1]["name"]), (files.len(), &drawn["name"]));
    assert_ne!(after[after.len() - 1]["id"], drawn["id"]);
    nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(files_of(&nadia, 1).await, files);
    assert_eq!(nadia.post(&path, json!({ "file": page["id"], "quarters": 1 })).await.0, StatusCode::NOT_FOUND, "a text is not turned");
    // An address may stand among them; what is no address of the web may not, and no file is made up.
    let with = |id: &str, media: &str| {
        let mut files = files.clone();
        files.push(json!({ "id": id, "name": "The map", "media": media, "size": 0 }));
        json!({ "value": { "files": files } })
    };
    assert_eq!(nadia.edit(1, PICTURES, with("https://maps.example/1", "text/uri-list"), json!(null)).await.0, StatusCode::OK);
    assert!(nadia.edit(1, PICTURES, with("javascript:alert(1)", "text/uri-list"), json!(null)).await.0.is_client_error());
    assert_eq!(nadia.edit(1, PICTURES, with("https://maps.example/2", "image/png"), json!(null)).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_record_is_found_by_a_word_of_its_file_by_those_who_see_it() {
    let world = World::new().await;
    westerfall_server::reading::start(world.app.clone());
    let (nadia, idris) = (world.person(NADIA).await, world.person(IDRIS).await);
    let own = idris.rows(FAULT_TABLE, &[TITLE]).await;
    let theirs: Vec<u64> = own["rows"].as_array().unwrap().iter().map(|row| row["id"].as_u64().unwrap()).collect();
    let record = (1..=60).find(|record| !theirs.contains(record)).unwrap() as u32;
    let token = sent(&nadia, "notes.txt", "Larch brash, stacked by the weir at Zymurgy".as_bytes()).await;
    assert_eq!(attached(&nadia, record, &[&token]).await.0, StatusCode::OK);
    let find = async |client: &Client| client.post("/api/trackers/1/find", json!({ "text": "zymurgy brash" })).await.1;
    let mut found = find(&nadia).await;
    for _ in 0..200 {
        if found["count"] == 1 {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
        found = find(&nadia).await;
    }
    assert_eq!(found["tables"][0]["lines"][0]["record"], record, "{found}");
    assert_eq!(found["tables"][0]["lines"][0]["says"][0]["of"], "in “notes.txt”");
    assert_eq!(find(&idris).await["count"], 0);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_emptied_out_of_the_bin_is_nowhere_any_more() {
    let world = World::new().await;
    let (nadia, bex) = (world.person(NADIA).await, world.person(BEX).await);
    let token = sent(&nadia, "secret.txt", b"A name that is to be forgotten").await;
    attached(&nadia, 1, &[&token]).await;
    nadia.edit(1, DESCRIPTION, json!({ "text": "Forget-me-not lane" }), json!(null)).await;
    let said = json!({ "said": [{ "text": "forget this, too" }] });
    nadia.post(&format!("{}/talk", record_path(1)), said).await;
    let file = files_of(&nadia, 1).await.pop().unwrap()["id"].as_str().unwrap().to_owned();
    let (status, _) = nadia.delete(&format!("/api/trackers/1/tables/{FAULT_TABLE}/records"), json!({ "records": [1] })).await;
    assert_eq!(status, StatusCode::OK);
    let only = json!({ "only": { "table": FAULT_TABLE, "record": 1 } });
    assert_eq!(bex.post("/api/trackers/1/bin/empty", only.clone()).await.0, StatusCode::FORBIDDEN);
    assert!(bex.get("/api/trackers/1/bin/records").await.1.get("empties").is_none());
    let (_, bin) = nadia.get("/api/trackers/1/bin/records").await;
    assert!(bin["empties"].as_str().unwrap().contains("1 record with"), "{bin}");
    let (status, done) = nadia.post("/api/trackers/1/bin/empty", only).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let (status, problem) = nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert!(status.is_client_error() && problem["detail"].as_str().unwrap().contains("can’t be brought back"), "{problem}");
    for (table, column) in [("record", "cells"), ("change", "body"), ("comment", "body"), ("sheaf", "op")] {
        let left =
            format!("SELECT count(*) FROM {table} WHERE lower({column}::text) LIKE '%forget%' OR {column}::text LIKE '%secret.txt%'");
        assert_eq!(world.count(&left).await, 0, "{table}");
    }
    // The clock drops the file in its next round; a server that begins anew knows that nothing is left.
    world.app.tidy().await.unwrap();
    assert_eq!(world.count(&format!("SELECT count(*) FROM file WHERE id = '{file}'")).await, 0);
    assert!(world.app.files.get(&file).await.unwrap().is_none());
    let anew = world.again(settings()).await;
    let nadia = anew.person(NADIA).await;
    let back = json!({ "records": [1] });
    let (status, problem) = nadia.post(&format!("/api/trackers/1/tables/{FAULT_TABLE}/bring-back"), back).await;
    assert!(status.is_client_error() && problem["detail"].as_str().unwrap().contains("nothing of it is left"), "{problem}");
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_said_brings_files_and_they_stay_as_long_as_it_does() {
    let world = World::new().await;
    let (nadia, tamsin, idris) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(IDRIS).await);
    let record = tamsin.rows(FAULT_TABLE, &[TITLE]).await["rows"][0]["id"].as_u64().unwrap() as u32;
    let talk = format!("{}/talk", record_path(record));
    let tokens = [sent(&nadia, "quote.txt", b"Larch posts, two weeks").await, sent(&nadia, "gate.png", &picture()).await];
    // Nobody brings what somebody else sent.
    let (status, _) = tamsin.post(&talk, json!({ "said": [], "tokens": tokens })).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
    let (status, done) = nadia.post(&talk, json!({ "said": [{ "text": "Have a look" }], "tokens": tokens })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let (_, told) = tamsin.get(&talk).await;
    let said = &told["comments"].as_array().unwrap().last().unwrap().clone();
    let names: Vec<_> = said["files"].as_array().unwrap().iter().map(|file| &file["name"]).collect();
    assert_eq!(names, ["quote.txt", "gate.png"]);
    let address = |n: usize| format!("/api/files/{}", said["files"][n]["id"].as_str().unwrap());
    let status = async |who: &Client, address: &str| who.raw(Method::GET, address, "", &[]).await.status();
    assert_eq!(status(&tamsin, &address(0)).await, StatusCode::OK);
    assert_eq!(status(&tamsin, &format!("{}?small=true", address(1))).await, StatusCode::OK);
    assert_eq!(status(&idris, &address(0)).await, StatusCode::NOT_FOUND);
    // Another server knows of it; the clock drops nothing that is held, and what was let go long ago.
    let again = world.again(settings()).await;
    assert_eq!(again.person(TAMSIN).await.raw(Method::GET, &address(0), "", &[]).await.status(), StatusCode::OK);
    let one = format!("{talk}/{}", said["id"]);
    let (_, kept) = nadia.put(&one, json!({ "said": [{ "text": "Have a look" }], "files": [said["files"][1]["id"]] })).await;
    assert_eq!(status(&tamsin, &address(0)).await, StatusCode::NOT_FOUND);
    nadia.post("/api/trackers/1/undo", json!({ "seq": kept["seq"] })).await;
    assert_eq!(status(&tamsin, &address(0)).await, StatusCode::OK);
    nadia.delete(&one, json!(null)).await;
    assert_eq!([status(&tamsin, &address(0)).await, status(&tamsin, &address(1)).await], [StatusCode::NOT_FOUND; 2]);
    world.sql("UPDATE file SET let_go_at = now() - interval '31 days' WHERE let_go_at IS NOT NULL").await;
    world.app.tidy().await.unwrap();
    assert_eq!(world.count("SELECT count(*) FROM file WHERE field_id IS NULL").await, 0);
}

#[tokio::test(flavor = "multi_thread")]
async fn the_clock_empties_what_has_lain_in_the_bin_for_thirty_days_and_drops_what_nothing_holds() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    nadia.delete(&format!("/api/trackers/1/tables/{FAULT_TABLE}/records"), json!({ "records": [2, 3] })).await;
    let tokens = [sent(&nadia, "old.txt", b"put away").await, sent(&nadia, "kept.txt", b"held").await];
    attached(&nadia, 4, &[&tokens[0], &tokens[1]]).await;
    let files = files_of(&nadia, 4).await;
    let id = |back: usize| files[files.len() - back]["id"].as_str().unwrap().to_owned();
    let (old, kept) = (id(2), id(1));
    nadia.edit(4, PICTURES, json!({ "value": { "files": [files[files.len() - 1]] } }), json!(null)).await;
    world.app.tidy().await.unwrap();
    assert_eq!(world.count("SELECT count(*) FROM emptied").await, 0, "thirty days are not over");
    assert!(world.app.files.get(&old).await.unwrap().is_some(), "undoing might bring it back");
    // Record 2 was put there long ago; so was the file let go.
    world.sql("UPDATE record SET changed_at = now() - interval '31 days' WHERE table_id = 3 AND record_id = 2").await;
    world.sql("UPDATE file SET let_go_at = now() - interval '31 days' WHERE let_go_at IS NOT NULL").await;
    let anew = world.again(settings()).await;
    anew.app.tidy().await.unwrap();
    assert_eq!(world.count("SELECT count(*) FROM emptied WHERE record_id = 2").await, 1);
    assert_eq!(world.count("SELECT count(*) FROM emptied").await, 1);
    assert!(anew.app.files.get(&old).await.unwrap().is_none() && anew.app.files.get(&kept).await.unwrap().is_some());
}
