//! Pictures of the team's people: given by themselves, seen by the team alone.

use crate::fixture::*;
use axum::http::{Method, StatusCode, header};
use serde_json::{Value, json};

#[tokio::test(flavor = "multi_thread")]
async fn a_picture_is_given_by_oneself_seen_by_the_team_and_taken_away_again() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let give = async |client: &Client, bytes: &[u8]| {
        client.answer_form("/api/session/picture", &[], &[("file".into(), "me.png", bytes)], None).await
    };
    let mine = async || nadia.get("/api/session").await.1["person"]["picture"].clone();
    assert_eq!(mine().await, Value::Null);
    assert!(give(&nadia, b"%PDF-1.7 no picture").await.0.is_client_error());
    assert!(give(&nadia, b"neither").await.0.is_client_error());
    assert_eq!(give(&world.stranger(), &picture()).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(mine().await, Value::Null, "of what is no picture nothing is kept");
    let (status, done) = give(&nadia, &picture()).await;
    assert_eq!((status, &done["did"]), (StatusCode::OK, &json!("changed picture of Nadia Ferreira-Holt")));
    let at = mine().await.as_str().unwrap().to_owned();
    // Whoever is of the team sees it, in the tracker's list of people too; nobody else does.
    let (_, tracker) = tamsin.get("/api/trackers/1").await;
    assert_eq!(tracker["people"].as_array().unwrap().iter().find(|one| one["id"] == NADIA).unwrap()["picture"], at.as_str());
    let seen = tamsin.raw(Method::GET, &at, "", &[]).await;
    assert_eq!((seen.status(), seen.headers()[header::CONTENT_TYPE].to_str().unwrap()), (StatusCode::OK, "image/jpeg"));
    assert_eq!(world.stranger().raw(Method::GET, &at, "", &[]).await.status(), StatusCode::UNAUTHORIZED);
    assert_eq!(crate::pages::clerk(&world).await.raw(Method::GET, &at, "", &[]).await.status(), StatusCode::UNAUTHORIZED);
    assert_eq!(tamsin.raw(Method::GET, "/api/people/2/picture", "", &[]).await.status(), StatusCode::NOT_FOUND);
    // What else one says of oneself leaves it as it is.
    let own = json!({ "name": "Nadia Ferreira-Holt", "about": "runs all of it" });
    assert_eq!(nadia.put("/api/session", own).await.0, StatusCode::OK);
    assert_eq!(mine().await, at.as_str());
    // Looking as somebody else one changes nothing of them.
    assert_eq!(nadia.put("/api/session/stand-in", json!({ "person": TAMSIN })).await.0, StatusCode::NO_CONTENT);
    assert_eq!(give(&nadia, &picture()).await.0, StatusCode::FORBIDDEN);
    assert_eq!(nadia.put("/api/session/stand-in", json!({ "person": null })).await.0, StatusCode::NO_CONTENT);
    let (status, gone) = nadia.delete("/api/session/picture", json!({})).await;
    assert_eq!((status, mine().await), (StatusCode::OK, Value::Null));
    assert_eq!(nadia.post(&format!("/api/team/undo/{}", gone["seq"]), json!({})).await.0, StatusCode::OK);
    assert_eq!(mine().await, at.as_str());
}
