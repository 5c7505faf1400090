//! Talk and finding by the API: what is said reaches whom it names, is kept, and is found; by nobody who may not see the record.

use crate::{files::sent, fixture::*};
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};

const FAULTS: u32 = 3;
const WRONG: u32 = 41;
/// The role of the office.
const OFFICE: u32 = 112;

/// A fault that Tamsin sees, and one that she does not.
async fn seen_and_not(world: &World) -> (u64, u64) {
    let ids = |rows: &Value| rows["rows"].as_array().unwrap().iter().map(|row| row["id"].as_u64().unwrap()).collect::<Vec<_>>();
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let (all, hers) = (ids(&nadia.rows(FAULTS, &[WRONG]).await), ids(&tamsin.rows(FAULTS, &[WRONG]).await));
    (hers[0], *all.iter().find(|id| !hers.contains(id)).unwrap())
}

fn at(record: u64, end: &str) -> String {
    format!("/api/trackers/1/tables/{FAULTS}/records/{record}/{end}")
}

fn says(told: &Value) -> Vec<String> {
    let text = |one: &Value| one["says"].as_array().unwrap().iter().map(|span| span["text"].as_str().unwrap()).collect::<String>();
    told["comments"].as_array().unwrap().iter().map(|one| format!("{}: {}", one["who"].as_str().unwrap(), text(one))).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_said_is_kept_read_and_answered() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let (fault, _) = seen_and_not(&world).await;
    let (status, done) = nadia.post(&at(fault, "talk"), json!({ "said": [{ "text": "Can the crew take the long bar?" }] })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert!(done["did"].as_str().unwrap().starts_with("said something about the fault"), "{done}");
    let (_, told) = tamsin.get(&at(fault, "talk")).await;
    assert_eq!(says(&told), ["Nadia Ferreira-Holt: Can the crew take the long bar?"]);
    assert_eq!((&told["read"], &told["follows"]), (&Value::Null, &json!(false)));
    assert_eq!(tamsin.put(&at(fault, "attention"), json!({ "read": 1 })).await.0, StatusCode::NO_CONTENT);
    assert_eq!(tamsin.put(&at(fault, "attention"), json!({ "follows": true })).await.0, StatusCode::NO_CONTENT);
    let (_, told) = tamsin.get(&at(fault, "talk")).await;
    assert_eq!((&told["read"], &told["follows"]), (&json!(1), &json!(true)), "neither forgets the other");
    tamsin.post(&at(fault, "talk"), json!({ "said": [{ "text": "Yes." }], "answers": 1 })).await;
    let (status, refused) = nadia.put(&at(fault, "talk/2"), json!({ "said": [{ "text": "No." }] })).await;
    assert_eq!(status, StatusCode::FORBIDDEN, "{refused}");
    tamsin.put(&at(fault, "talk/2"), json!({ "said": [{ "text": "Yes, in the van." }] })).await;
    // The same by another server that reads what was kept.
    let again = world.again(settings()).await;
    let (_, told) = again.person(NADIA).await.get(&at(fault, "talk")).await;
    assert_eq!(says(&told), ["Nadia Ferreira-Holt: Can the crew take the long bar?", "Tamsin Oake: Yes, in the van."]);
    assert_eq!(told["comments"][1]["answers"], json!(1));
    // Taken back, and that taken back.
    let (_, done) = nadia.delete(&at(fault, "talk/2"), Value::Null).await;
    let (_, told) = nadia.get(&at(fault, "talk")).await;
    assert_eq!(says(&told).len(), 1);
    let (status, undone) = nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(status, StatusCode::OK, "{undone}");
    assert_eq!(says(&nadia.get(&at(fault, "talk")).await.1).len(), 2);
}

#[tokio::test(flavor = "multi_thread")]
async fn whom_it_names_is_written_to_once_and_only_where_they_may_see_it() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (fault, other) = seen_and_not(&world).await;
    let count = async |name: &str| {
        world.count(&format!("SELECT count(*) FROM job WHERE mail->>'to' LIKE 'tamsin%' AND mail->>'body' LIKE '%{name}%'")).await
    };
    let said = json!({ "said": [{ "person": TAMSIN }, { "text": " zymurgy one" }] });
    nadia.post(&at(other, "talk"), said).await;
    assert_eq!(count("zymurgy one").await, 0, "she may not see that record");
    let said = json!({ "said": [{ "person": TAMSIN }, { "text": " zymurgy two" }] });
    nadia.post(&at(fault, "talk"), said).await;
    assert_eq!(count("zymurgy two").await, 1);
    let (_, whom) = nadia.get(&at(other, "whom?search=tam")).await;
    assert_eq!(whom[0]["sees"], json!(false), "{whom}");
    // Who follows hears of it without being named.
    let tamsin = world.person(TAMSIN).await;
    tamsin.put(&at(fault, "attention"), json!({ "follows": true })).await;
    nadia.post(&at(fault, "talk"), json!({ "said": [{ "text": "zymurgy three" }] })).await;
    assert_eq!(count("zymurgy three").await, 1);
    tamsin.put(&at(fault, "attention"), json!({ "follows": false })).await;
    nadia.post(&at(fault, "talk"), json!({ "said": [{ "text": "zymurgy four" }] })).await;
    assert_eq!(count("zymurgy four").await, 0);
}

#[tokio::test(flavor = "multi_thread")]
async fn nobody_hears_or_speaks_of_what_they_do_not_see() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let (_, other) = seen_and_not(&world).await;
    nadia.post(&at(other, "talk"), json!({ "said": [{ "text": "zymurgy" }] })).await;
    for end in ["talk", "whom?search="] {
        assert_eq!(tamsin.get(&at(other, end)).await.0, StatusCode::NOT_FOUND, "{end}");
    }
    assert_eq!(tamsin.post(&at(other, "talk"), json!({ "said": [{ "text": "x" }] })).await.0, StatusCode::NOT_FOUND);
    assert_eq!(tamsin.put(&at(other, "attention"), json!({ "follows": true })).await.0, StatusCode::NOT_FOUND);
    let (_, found) = tamsin.post("/api/trackers/1/find", json!({ "text": "zymurgy" })).await;
    assert_eq!((&found["count"], &found["words"][0]["alone"]), (&json!(0), &json!(0)), "{found}");
    let (_, found) = nadia.post("/api/trackers/1/find", json!({ "text": "zymurgy" })).await;
    assert_eq!(found["tables"][0]["lines"][0]["says"][0]["of"], json!("said by Nadia Ferreira-Holt"), "{found}");
}

#[tokio::test(flavor = "multi_thread")]
async fn words_are_found_in_a_tracker_and_in_all_that_one_may_open() {
    let world = World::new().await;
    let (nadia, wren) = (world.person(NADIA).await, world.person(WREN).await);
    let (_, found) = nadia.post("/api/trackers/1/find", json!({ "text": "gate", "lines": 2 })).await;
    let faults = found["tables"].as_array().unwrap().iter().find(|one| one["table"] == json!(FAULTS)).unwrap();
    assert_eq!(faults["lines"].as_array().unwrap().len(), 2);
    assert!(faults["count"].as_u64().unwrap() > 2);
    let view = json!({ "fields": shown(&[WRONG]), "condition": { "test": { "path": [WRONG], "check": { "is": "text", "how": "lacks", "text": "gate" } } } });
    let body = json!({ "text": "gate", "from": { "table": FAULTS, "query": view }, "table": FAULTS });
    let (_, found) = nadia.post("/api/trackers/1/find", body).await;
    let left = found["tables"][0]["lines"].as_array().unwrap().iter().filter_map(|line| line["left_out"].as_str()).next().unwrap();
    assert!(left.starts_with("what is wrong is "), "{left}");
    // Of one person alone; whoever that is, one finds what one sees.
    let count = async |of: u32| nadia.post("/api/trackers/1/find", json!({ "text": "gate", "person": of })).await.1["count"].clone();
    let (hers, nobodys) = (count(TAMSIN).await.as_u64().unwrap(), count(9999).await);
    let (_, all) = nadia.post("/api/trackers/1/find", json!({ "text": "gate" })).await;
    assert!(hers > 0 && hers < all["count"].as_u64().unwrap(), "{hers} of {}", all["count"]);
    assert_eq!(nobodys, json!(0));
    let (_, everywhere) = nadia.post("/api/find", json!({ "text": "gate", "person": TAMSIN })).await;
    assert_eq!(everywhere[0]["found"]["count"], json!(hers));
    // A view that names what is not there is refused in words.
    let wrong = json!({ "fields": [], "condition": { "test": { "path": [9999], "check": { "is": "empty" } } } });
    let (status, _) = nadia.post("/api/trackers/1/find", json!({ "text": "gate", "from": { "table": FAULTS, "query": wrong } })).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let (_, everywhere) = nadia.post("/api/find", json!({ "text": "fault" })).await;
    assert!(everywhere.as_array().unwrap().iter().any(|one| one["tracker"] == json!(1)), "{everywhere}");
    let (_, beside) = nadia.post("/api/find", json!({ "text": "fault", "beside": 1 })).await;
    assert!(beside.as_array().unwrap().iter().all(|one| one["tracker"] != json!(1)));
    let (_, hers) = wren.post("/api/find", json!({ "text": "eskermoor" })).await;
    let count = |told: &Value| told.as_array().unwrap().iter().map(|one| one["found"]["count"].as_u64().unwrap()).sum::<u64>();
    let (_, all) = nadia.post("/api/find", json!({ "text": "eskermoor" })).await;
    assert!(count(&hers) < count(&all));
    assert_eq!(world.stranger().post("/api/find", json!({ "text": "gate" })).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(world.stranger().post("/api/trackers/1/find", json!({ "text": "gate" })).await.0, StatusCode::UNAUTHORIZED);
}

/// Where a steward says so, what is said of a table's records is told to some roles alone, by every way.
#[tokio::test(flavor = "multi_thread")]
async fn what_is_said_may_be_told_to_some_roles_alone() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let (fault, _) = seen_and_not(&world).await;
    let token = sent(&nadia, "quernstone.txt", b"A letter").await;
    let said = json!({ "said": [{ "text": "zymurgy" }], "tokens": [token] });
    let (status, done) = nadia.post(&at(fault, "talk"), said).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    tamsin.put(&at(fault, "attention"), json!({ "follows": true })).await;
    let (_, told) = tamsin.get(&at(fault, "talk")).await;
    assert_eq!((&told["hears"], &told["roles"], &told["says"]), (&json!(true), &json!([]), &json!("Told to whoever sees the fault.")));
    let held = told["comments"][0]["files"][0]["id"].as_str().unwrap().to_owned();
    let address = format!("/api/files/{held}");
    let given = async |who: &Client| who.raw(Method::GET, &address, "", &[]).await.status();
    assert_eq!(given(&tamsin).await, StatusCode::OK);

    let talk_for = format!("/api/trackers/1/tables/{FAULTS}/talk");
    let (status, refused) = tamsin.put(&talk_for, json!({ "roles": [OFFICE] })).await;
    assert!(status.is_client_error(), "{refused}");
    let (status, refused) = nadia.put(&talk_for, json!({ "roles": [9999] })).await;
    assert_eq!((status, &refused["faults"][0]["kind"]), (StatusCode::NOT_FOUND, &json!("not-found")), "{refused}");
    let (status, done) = nadia.put(&talk_for, json!({ "roles": [OFFICE] })).await;
    assert_eq!(status, StatusCode::OK, "{done}");

    let (_, told) = nadia.get(&at(fault, "talk")).await;
    assert_eq!((says(&told).len(), &told["says"]), (1, &json!("Told to Office and stewards alone.")));
    let (_, told) = tamsin.get(&at(fault, "talk")).await;
    assert_eq!((says(&told).len(), &told["hears"], &told["says"]), (0, &json!(false), &json!("")));
    let (status, refused) = tamsin.post(&at(fault, "talk"), json!({ "said": [{ "text": "And?" }] })).await;
    assert_eq!(status, StatusCode::FORBIDDEN, "{refused}");
    assert_eq!((given(&tamsin).await, given(&nadia).await), (StatusCode::NOT_FOUND, StatusCode::OK));
    let (_, found) = tamsin.post("/api/trackers/1/find", json!({ "text": "zymurgy" })).await;
    assert_eq!(found["count"], json!(0), "{found}");
    let (_, found) = tamsin.post("/api/trackers/1/find", json!({ "text": "quernstone" })).await;
    assert_eq!(found["count"], json!(0), "{found}");
    // She followed it before: neither her inbox nor a mail tells her now.
    nadia.post(&at(fault, "talk"), json!({ "said": [{ "text": "zymurgy two" }, { "person": TAMSIN }] })).await;
    assert_eq!(world.count("SELECT count(*) FROM job WHERE mail->>'to' LIKE 'tamsin%' AND mail->>'body' LIKE '%zymurgy two%'").await, 0);
    let (_, inbox) = tamsin.get("/api/inbox").await;
    assert!(!inbox.to_string().contains("zymurgy"), "{inbox}");
    // Undone, all is told again.
    let (status, undone) = nadia.post("/api/trackers/1/undo", json!({ "seq": done["seq"] })).await;
    assert_eq!(status, StatusCode::OK, "{undone}");
    assert_eq!(says(&tamsin.get(&at(fault, "talk")).await.1).len(), 2);
}
