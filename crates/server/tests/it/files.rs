//! Files are given to whoever may see the cell that holds them.

use crate::fixture::*;
use axum::http::{Method, StatusCode, header};
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
