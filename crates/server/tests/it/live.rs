//! Live changes: whoever may hear of one does at once, whoever may not hears nothing, and a break is made good.

use crate::fixture::*;
use axum::{
    body::Body,
    http::{Method, StatusCode},
};
use http_body_util::BodyExt;
use serde_json::json;
use std::time::Duration;

pub(crate) struct Stream {
    body: Body,
    text: String,
}

impl Stream {
    pub(crate) async fn open(client: &Client, last: Option<u64>) -> Self {
        let last = last.map(|l| l.to_string());
        let headers: Vec<(&str, &str)> = last.iter().map(|l| ("last-event-id", l.as_str())).collect();
        Self::at(client, "/api/trackers/1/events", &headers).await
    }

    pub(crate) async fn at(client: &Client, path: &str, headers: &[(&str, &str)]) -> Self {
        let answer = client.raw(Method::GET, path, "", headers).await;
        assert_eq!(answer.status(), StatusCode::OK);
        Self { body: answer.into_body(), text: String::new() }
    }

    /// Waits for an event of this name; what comes before it is left.
    pub(crate) async fn next_of(&mut self, name: &str) {
        while self.next(4_000).await.unwrap_or_else(|| panic!("{name} never came")).0 != name {}
    }

    /// The next event as (name, data); none within so many milliseconds.
    pub(crate) async fn next(&mut self, milliseconds: u64) -> Option<(String, String)> {
        loop {
            if let Some((event, rest)) = self.text.split_once("\n\n") {
                let line = |name: &str| event.lines().find_map(|l| l.strip_prefix(name)).unwrap_or_default().trim().to_owned();
                let found = (line("event:"), line("data:"));
                self.text = rest.to_owned();
                if !found.0.is_empty() {
                    return Some(found);
                }
                continue;
            }
            let frame = tokio::time::timeout(Duration::from_millis(milliseconds), self.body.frame()).await.ok()??.ok()?;
            self.text.push_str(std::str::from_utf8(&frame.into_data().ok()?).ok()?);
        }
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn only_those_hear_who_may_see() {
    let world = World::new().await;
    let (nadia, tamsin, idris) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(IDRIS).await);
    let (mut hers, mut his) = (Stream::open(&tamsin, None).await, Stream::open(&idris, None).await);
    assert_eq!(hers.next(2_000).await.unwrap().0, "hello");
    assert_eq!(his.next(2_000).await.unwrap().0, "hello");
    let own = tamsin.rows(FAULT_TABLE, &[TITLE]).await["rows"][0]["id"].clone();
    nadia.edit(own.as_u64().unwrap() as u32, DESCRIPTION, json!({ "text": "look" }), json!(null)).await;
    let (event, data) = hers.next(2_000).await.unwrap();
    assert_eq!(event, "heard");
    assert!(data.contains(&format!("\"{FAULT_TABLE}\":[{own}]")), "{data}");
    assert_eq!(his.next(400).await, None);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_private_page_hears_of_its_own_answer_alone() {
    let world = World::new().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let (_, sent) = stranger.answer(good_answers("Gate off its hinge"), &[], None).await;
    let secret = sent["follow"].as_str().unwrap().rsplit('/').next().unwrap().to_owned();
    let mut page = Stream::at(&stranger, &format!("/api/public/answers/{secret}/events"), &[]).await;
    assert_eq!(page.next(2_000).await, Some(("look".into(), "{}".into())));
    let rows = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[40]), "sorts": [{ "field": 40, "descending": true }] })).await.1;
    let record = |n: usize| u32::try_from(rows["rows"][n]["id"].as_u64().unwrap()).unwrap();
    nadia.edit(record(1), STATUS, json!({ "text": "checked" }), json!(null)).await;
    assert_eq!(page.next(500).await, None);
    nadia.edit(record(0), STATUS, json!({ "text": "in hand" }), json!(null)).await;
    assert_eq!(page.next(2_000).await, Some(("look".into(), "{}".into())));
    let unknown = stranger.raw(Method::GET, "/api/public/answers/guess/events", "", &[]).await;
    assert_eq!(unknown.status(), StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn losing_the_last_role_closes_the_screen() {
    let world = World::new().await;
    let (nadia, idris) = (world.person(NADIA).await, world.person(IDRIS).await);
    let mut his = Stream::open(&idris, None).await;
    his.next(2_000).await.unwrap();
    let (_, roles) = nadia.get("/api/trackers/1/roles").await;
    let mut role = roles.as_array().unwrap().iter().find(|r| r["role"]["name"] == "Warden").unwrap()["role"].clone();
    role["members"] = json!([2, 4, 5]);
    role["groups"] = json!([]);
    nadia.put("/api/trackers/1/parts/role/111", part("role", role)).await;
    assert_eq!(his.next(2_000).await.unwrap().0, "closed");
    assert_eq!(idris.raw(Method::GET, "/api/trackers/1/events", "", &[]).await.status(), StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn after_a_break_one_is_told_that_something_was_missed() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let seq = nadia.get("/api/trackers/1").await.1["seq"].as_u64().unwrap();
    assert_eq!(Stream::open(&nadia, Some(seq)).await.next(2_000).await.unwrap().0, "hello");
    nadia.edit(4, DESCRIPTION, json!({ "text": "meanwhile" }), json!(null)).await;
    assert_eq!(Stream::open(&nadia, Some(seq)).await.next(2_000).await.unwrap().0, "anew");
}

#[tokio::test(flavor = "multi_thread")]
async fn what_another_server_commits_is_heard_here() {
    let world = World::new().await;
    let here = world.beside().await;
    let there = world.beside().await;
    let (nadia, bex) = (here.person(NADIA).await, there.person(BEX).await);
    let mut heard = Stream::open(&nadia, None).await;
    heard.next(2_000).await.unwrap();
    // The line to the database is made in the background.
    tokio::time::sleep(Duration::from_millis(300)).await;
    assert_eq!(bex.edit(6, DESCRIPTION, json!({ "text": "from there" }), json!(null)).await.0, StatusCode::OK);
    assert_eq!(heard.next(3_000).await.unwrap().0, "heard");
}
