//! Views in other shapes: slices, lanes and what stands in them, moves told and made, calendars, and since when a record stands.

use crate::fixture::*;
use axum::http::StatusCode;
use serde_json::{Value, json};

const SEVERITY: u32 = 46;

fn at(end: &str) -> String {
    format!("/api/trackers/1/tables/{FAULT_TABLE}/{end}")
}

fn lanes() -> Value {
    json!({ "fields": shown(&[TITLE, STATUS]), "shape": { "as": "lanes", "by": STATUS } })
}

/// The lanes of a view, by name, with how many each holds.
fn counts(told: &Value) -> Vec<(String, u64)> {
    let lanes = told["groups"].as_array().unwrap().iter();
    lanes.map(|lane| (lane["text"].as_str().unwrap().to_owned(), lane["count"].as_u64().unwrap())).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn lanes_are_told_once_and_their_records_slice_by_slice() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (status, told) = nadia.post(&at("query"), json!({ "query": lanes() })).await;
    assert_eq!((status, &told["slices"]), (StatusCode::OK, &json!([])));
    let counts = counts(&told);
    assert_eq!(counts.iter().map(|(_, count)| count).sum::<u64>(), FAULTS as u64);
    // A lane's records are the run of places that its count says.
    let mut start = 0;
    let slices: Vec<Value> = counts
        .iter()
        .map(|(_, count)| {
            start += count;
            json!({ "start": start - count, "count": count })
        })
        .collect();
    let (_, more) = nadia.post(&at("slices"), json!({ "query": lanes(), "slices": slices })).await;
    assert_eq!(more["seq"], told["seq"]);
    for ((lane, count), slice) in counts.iter().zip(more["slices"].as_array().unwrap()) {
        let rows = slice["rows"].as_array().unwrap();
        assert_eq!(rows.len() as u64, *count);
        assert!(rows.iter().all(|row| row["cells"][1]["text"].as_str().unwrap_or_default() == lane), "{lane}");
        // What has stood longest stands first.
        let days: Vec<u64> = rows.iter().map(|row| row["days"].as_u64().unwrap()).collect();
        assert!(days.is_sorted_by(|a, b| a >= b), "{days:?}");
    }
    let many: Vec<Value> = (0..101).map(|n| json!({ "start": n, "count": 1 })).collect();
    let (status, refused) = nadia.post(&at("slices"), json!({ "query": lanes(), "slices": many })).await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/slices")));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_move_is_told_and_thrown_away_and_made_as_one_step() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, first) = nadia.post(&at("query"), json!({ "query": lanes(), "slices": [{ "start": 0, "count": 2 }] })).await;
    let rows = first["slices"][0]["rows"].as_array().unwrap();
    let records: Vec<u64> = rows.iter().map(|row| row["id"].as_u64().unwrap()).collect();
    let to = first["groups"][1]["value"].clone();
    let edits = json!([{ "field": STATUS, "input": { "value": to }, "was": null }]);
    let mut query = lanes();
    query["condition"] =
        json!({ "test": { "path": [STATUS], "of": "any", "check": { "is": "option", "not": true, "any": [to["choice"]] } } });
    let (status, told) = nadia.post(&at("records/rehearsal"), json!({ "query": query, "records": records, "edits": edits })).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    let says: Vec<&str> = told["says"].as_array().unwrap().iter().map(|one| one.as_str().unwrap()).collect();
    assert!(says[0].starts_with("You change Status of 2 faults") && says[1].contains("2 faults leave this view"), "{says:?}");
    let after = async || counts(&nadia.post(&at("query"), json!({ "query": lanes() })).await.1);
    assert_eq!(after().await, counts(&first), "nothing was changed by asking");

    let (status, done) = nadia.patch(&at("records"), json!({ "records": records, "edits": edits })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let (before, now) = (counts(&first), after().await);
    assert_eq!((now[0].1, now[1].1), (before[0].1 - 2, before[1].1 + 2));
    // They stand there since today, another server knows it, and taken back they stand where they stood.
    let days = async |client: &Client| {
        let (_, told) = client.post(&at("query"), json!({ "query": lanes(), "slices": [{ "start": 0, "count": 500 }] })).await;
        let rows = told["slices"][0]["rows"].as_array().unwrap().clone();
        records.iter().map(|id| rows.iter().find(|row| row["id"] == *id).unwrap()["days"].as_u64().unwrap()).collect::<Vec<_>>()
    };
    assert_eq!(days(&nadia).await, [0, 0]);
    let beside = world.beside().await;
    assert_eq!(days(&beside.person(NADIA).await).await, [0, 0]);
    nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    let stood: Vec<u64> = rows.iter().map(|row| row["days"].as_u64().unwrap()).collect();
    assert_eq!(days(&nadia).await, stood);
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_may_not_change_is_told_so_before_and_sees_only_their_own_lanes() {
    let world = World::new().await;
    let (nadia, tamsin, pavel) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(PAVEL).await);
    let (_, all) = nadia.post(&at("query"), json!({ "query": lanes() })).await;
    let (_, hers) = tamsin.post(&at("query"), json!({ "query": lanes() })).await;
    let sum = |told: &Value| counts(told).iter().map(|(_, count)| count).sum::<u64>();
    assert!(sum(&hers) < sum(&all) && sum(&hers) > 0);
    let edits = json!([{ "field": STATUS, "input": { "value": all["groups"][1]["value"] }, "was": null }]);
    let body = json!({ "query": lanes(), "records": [1, 2], "edits": edits });
    assert_eq!(pavel.post(&at("records/rehearsal"), body).await.0, StatusCode::FORBIDDEN);
    assert_eq!(pavel.patch(&at("records"), json!({ "records": [1, 2], "edits": edits })).await.0, StatusCode::FORBIDDEN);
    // A record out of reach is not found, and none of the others is changed.
    let own = tamsin.rows(FAULT_TABLE, &[TITLE]).await["rows"][0]["id"].clone();
    let (status, _) = tamsin.patch(&at("records"), json!({ "records": [own, 9999], "edits": edits })).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
    assert_eq!(counts(&tamsin.post(&at("query"), json!({ "query": lanes() })).await.1), counts(&hers));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_calendar_tells_its_days_and_is_refused_more_than_a_year() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let query = json!({ "fields": shown(&[TITLE]), "shape": { "as": "calendar", "dates": [{ "start": 48 }] } });
    let asked = |from: &str, to: &str| json!({ "query": query, "from": from, "to": to, "of_a_day": 5, "waiting": 5 });
    let (status, told) = nadia.post(&at("days"), asked("2026-01-01", "2026-12-31")).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    let marked: u64 = told["days"].as_array().unwrap().iter().map(|day| day["count"].as_u64().unwrap()).sum();
    let weighed: u64 = told["weeks"].as_array().unwrap().iter().map(|week| week["count"].as_u64().unwrap()).sum();
    assert_eq!(marked, weighed);
    assert_eq!(marked + told["without"].as_u64().unwrap(), FAULTS as u64);
    for (from, to) in [("2026-01-01", "2028-01-01"), ("2026-02-01", "2026-01-01")] {
        assert_eq!(nadia.post(&at("days"), asked(from, to)).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    }
    let other = json!({ "query": { "fields": [], "shape": { "as": "calendar", "dates": [{ "start": TITLE }] } }, "from": "2026-01-01", "to": "2026-01-02", "of_a_day": 1, "waiting": 1 });
    let (status, refused) = nadia.post(&at("days"), other).await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/shape/dates")));
}

#[tokio::test(flavor = "multi_thread")]
async fn views_say_what_they_show_and_a_cell_what_is_like_it() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, views) = nadia.get(&at("views")).await;
    let sentence = |id: u64| views.as_array().unwrap().iter().find(|one| one["view"] == id).unwrap()["sentence"].as_str().unwrap();
    assert!(sentence(113).ends_with("as lanes by status."), "{}", sentence(113));
    let (status, like) = nadia.get(&at(&format!("records/1/like/{SEVERITY}"))).await;
    assert_eq!(status, StatusCode::OK);
    let (_, only) = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[SEVERITY]), "condition": like["only"] })).await;
    let (_, others) = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[SEVERITY]), "condition": like["others"] })).await;
    assert_eq!(only["matching"].as_u64().unwrap() + others["matching"].as_u64().unwrap(), FAULTS as u64);
    assert!(only["rows"].as_array().unwrap().iter().any(|row| row["id"] == 1));
}
