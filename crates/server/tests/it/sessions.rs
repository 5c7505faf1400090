//! Who is signed in, until when, and as whom.

use crate::fixture::*;
use axum::http::{Method, StatusCode, header};
use serde_json::{Value, json};

#[tokio::test(flavor = "multi_thread")]
async fn a_session_is_one_browsers_and_ends_when_one_signs_out() {
    let world = World::new().await;
    let (one, other) = (world.person(NADIA).await, world.person(NADIA).await);
    assert_ne!(one.cookie, other.cookie);
    let (_, me) = one.get("/api/session").await;
    assert_eq!((&me["person"]["name"], &me["mail"]), (&json!("Nadia Ferreira-Holt"), &json!("nadia@orrindale-paths.example")));
    let out = one.raw(Method::DELETE, "/api/session", "", &[]).await;
    assert_eq!(out.status(), StatusCode::NO_CONTENT);
    // The browser is told to forget it, and whoever kept it is nobody.
    let forgets = out.headers()[header::SET_COOKIE].to_str().unwrap().to_lowercase();
    assert!(forgets.contains("max-age=0"), "{forgets}");
    assert_eq!(one.get("/api/session").await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(other.get("/api/session").await.0, StatusCode::OK);
}

#[tokio::test(flavor = "multi_thread")]
async fn the_cookie_is_for_this_site_alone_and_no_script_reads_it() {
    let world = World::new().await;
    let answer = world.stranger().raw(Method::POST, "/api/demo/session", &json!({ "person": NADIA }).to_string(), &[]).await;
    let cookie = answer.headers()[header::SET_COOKIE].to_str().unwrap().to_lowercase();
    assert!(cookie.contains("httponly") && cookie.contains("samesite=") && cookie.contains("path=/"), "{cookie}");
    let token = cookie.split(['=', ';']).nth(1).unwrap();
    assert!(token.len() >= 32, "long enough that nobody guesses it");
    for made_up in ["", "x", &"0".repeat(token.len())] {
        let client = world.stranger().with(Some(format!("{}={made_up}", cookie.split('=').next().unwrap())));
        assert_eq!(client.get("/api/session").await.0, StatusCode::UNAUTHORIZED);
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn standing_in_is_of_one_session_and_of_people_that_are_there() {
    let world = World::new().await;
    let (here, there) = (world.person(NADIA).await, world.person(NADIA).await);
    assert_eq!(here.put("/api/session/stand-in", json!({ "person": TAMSIN })).await.0, StatusCode::NO_CONTENT);
    let name = async |client: &Client| client.get("/api/session").await.1["stands_in"]["name"].clone();
    assert_eq!((name(&here).await, name(&there).await), (json!("Tamsin Oake"), Value::Null));
    // Nothing is changed meanwhile, and the sentence says why.
    let (status, told) = here.edit(1, TITLE, json!({ "text": "By whom?" }), Value::Null).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    assert!(told["detail"].as_str().unwrap().contains("Stop standing in before you change anything"), "{told}");
    assert_eq!(here.put("/api/session/stand-in", json!({ "person": null })).await.0, StatusCode::NO_CONTENT);
    assert_eq!(name(&here).await, Value::Null);
    assert_eq!(here.edit(1, TITLE, json!({ "text": "By me" }), Value::Null).await.0, StatusCode::OK);
    assert!(here.put("/api/session/stand-in", json!({ "person": 9_999 })).await.0.is_client_error());
    assert!(world.person(BEX).await.put("/api/session/stand-in", json!({ "person": TAMSIN })).await.0.is_client_error());
}

#[tokio::test(flavor = "multi_thread")]
async fn those_for_whom_one_may_stand_in_are_named_and_no_others() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let may = async |client: &Client| {
        let (status, people) = client.get("/api/session/stand-in").await;
        assert_eq!(status, StatusCode::OK);
        people.as_array().unwrap().iter().map(|p| p["id"].as_u64().unwrap()).collect::<Vec<_>>()
    };
    let people = may(&nadia).await;
    assert!(people.contains(&u64::from(TAMSIN)) && !people.contains(&u64::from(NADIA)), "{people:?}");
    for person in &people {
        assert_eq!(nadia.put("/api/session/stand-in", json!({ "person": person })).await.0, StatusCode::NO_CONTENT, "{person}");
        assert_eq!(nadia.put("/api/session/stand-in", json!({ "person": null })).await.0, StatusCode::NO_CONTENT);
    }
    assert_eq!(may(&world.person(TAMSIN).await).await, Vec::<u64>::new());
    // Whoever runs a tracker of their own is looked at by nobody else in it.
    assert_eq!(world.person(BEX).await.post("/api/trackers", json!({ "name": "Mine", "from": "nothing" })).await.0, StatusCode::OK);
    assert!(!may(&nadia).await.contains(&u64::from(BEX)));
    assert_eq!(world.stranger().get("/api/session/stand-in").await.0, StatusCode::UNAUTHORIZED);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_device_is_asked_is_answered_once_by_whom_it_was_asked_of() {
    let world = World::new().await;
    let (tamsin, idris, stranger) = (world.person(TAMSIN).await, world.person(IDRIS).await, world.stranger());
    assert_eq!(stranger.get("/api/entrance").await.1["passkeys"], true);
    let (_, asked) = tamsin.post("/api/session/passkeys/begin", json!({})).await;
    let options = &asked["options"]["publicKey"];
    assert_eq!((&options["rp"]["id"], &options["user"]["displayName"]), (&json!("westerfall.example"), &json!("Tamsin Oake")));
    assert_eq!(options["authenticatorSelection"]["residentKey"], "required");
    let answer = |token: &Value, name: &str| json!({ "token": token, "name": name, "credential": { "id": "x" } });
    // Neither somebody else's question, nor one that was answered, nor one to come in by.
    let (status, refused) = idris.post("/api/session/passkeys", answer(&asked["token"], "Mine")).await;
    assert_eq!((status, &refused["refusal"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("passkey_not_taken")));
    assert_eq!(tamsin.post("/api/session/passkeys", answer(&asked["token"], "Phone")).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    let (_, entering) = stranger.post("/api/passkeys/begin", json!({})).await;
    assert_eq!(tamsin.post("/api/session/passkeys", answer(&entering["token"], "Phone")).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(world.count("SELECT count(*) FROM passkey_asked").await, 0, "whatever came of it, it is used");
    // It has to have a name.
    assert_eq!(tamsin.post("/api/session/passkeys", answer(&json!("t"), " ")).await.1["faults"][0]["kind"], "missing");
    // Whoever comes in says nothing of who they are, and is told nothing of who there is.
    let (_, asked) = stranger.post("/api/passkeys/begin", json!({})).await;
    assert!(asked["options"]["publicKey"]["allowCredentials"].as_array().is_none_or(Vec::is_empty), "{asked}");
    let guess = json!({ "token": asked["token"], "credential": { "id": "x" } });
    let (status, refused) = stranger.post("/api/passkeys/session", guess).await;
    assert_eq!((status, &refused["refusal"]), (StatusCode::UNAUTHORIZED, &json!("wrong_passkey")));
    assert_eq!(tamsin.get("/api/session/passkeys").await.1, json!({ "offered": true, "keys": [] }));
    assert_eq!(tamsin.delete("/api/session/passkeys/ab12", json!({})).await.0, StatusCode::NOT_FOUND);
    // Standing in is for looking; and at a bare number there are none.
    let nadia = world.person(NADIA).await;
    nadia.put("/api/session/stand-in", json!({ "person": TAMSIN })).await;
    assert_eq!(nadia.post("/api/session/passkeys/begin", json!({})).await.0, StatusCode::FORBIDDEN);
    let bare = World::with(westerfall_server::settings::Settings { public_url: "http://10.1.2.3".into(), ..settings() }).await;
    assert_eq!(bare.stranger().get("/api/entrance").await.1["passkeys"], false);
    assert_eq!(bare.stranger().post("/api/passkeys/begin", json!({})).await.0, StatusCode::CONFLICT);
}
