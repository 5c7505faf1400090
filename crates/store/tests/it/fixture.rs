//! A database of its own for each test, and a small tracker of the demo in it.

use jiff::Timestamp;
use std::sync::{
    Arc,
    atomic::{AtomicU32, Ordering},
};
use tokio_postgres::NoTls;
use westerfall_core::{
    Clock,
    access::Asker,
    automation::{Move, course},
    dataset::Dataset,
    history::Change,
    id::{PersonId, TrackerId},
    intent::Intent,
    people::People,
    team::{TeamAsker, TeamChange, TeamIntent},
};
use westerfall_store::{Store, StoreError, Write};

static NUMBER: AtomicU32 = AtomicU32::new(0);

pub(crate) fn now() -> Timestamp {
    "2026-11-23T09:30:00Z".parse().unwrap()
}

pub(crate) fn clock() -> Clock {
    Clock::new(now(), jiff::tz::TimeZone::get("Europe/London").unwrap())
}

pub(crate) fn one() -> TrackerId {
    TrackerId::new(1).unwrap()
}

pub(crate) fn person(number: u32) -> PersonId {
    PersonId::new(number).unwrap()
}

pub(crate) fn steward() -> Asker {
    Asker::Person(person(1))
}

/// A store on an empty database.
pub(crate) async fn store() -> Store {
    opened().await.0
}

/// The same with its address.
async fn opened() -> (Store, String) {
    let server = std::env::var("WESTERFALL_TEST_SERVER").expect("these tests need a PostgreSQL server: run them with bin/test");
    let name = format!("store_{}_{}", std::process::id(), NUMBER.fetch_add(1, Ordering::Relaxed));
    let (client, connection) = tokio_postgres::connect(&format!("{server}/postgres"), NoTls).await.expect("the server answers");
    let line = tokio::spawn(connection);
    client.batch_execute(&format!("CREATE DATABASE {name}")).await.expect("a new database");
    drop(client);
    let _ = line.await;
    let address = format!("{server}/{name}");
    (Store::open(&address).await.expect("the database opens"), address)
}

pub(crate) fn team() -> Arc<People> {
    westerfall_demo::team_people()
}

/// Keeps what an intent does, and gives the state after it.
pub(crate) async fn kept(
    store: &Store,
    ds: &Dataset,
    intent: &Intent,
    asker: Asker,
    key: Option<&str>,
) -> Result<(Dataset, Change), StoreError> {
    let change = ds.decide(intent, asker, &clock()).unwrap_or_else(|faults| panic!("{faults:?}")).change;
    let moves = course(Arc::new(ds.clone()), change.clone(), None, &clock());
    let after = (*moves.last().expect("the change itself").after).clone();
    let write = |(place, of): (usize, Move)| {
        let key = key.filter(|_| place == 0).map(str::to_owned);
        Write { answer: serde_json::json!({ "seq": of.change.seq }), change: of.change, runs: of.runs, notices: Vec::new(), key }
    };
    let writes: Vec<Write> = moves.into_iter().enumerate().map(write).collect();
    store.commit(one(), ds.seq, &writes, &after).await?;
    Ok((after, change))
}

/// Decides on the team as it is kept, and keeps it.
pub(crate) async fn decided(store: &Store, intent: &TeamIntent) -> TeamChange {
    let team = store.load_team().await.unwrap();
    let change = team.decide(intent, &TeamAsker::Westerfall, now()).unwrap_or_else(|faults| panic!("{faults:?}"));
    store.commit_team(team.seq, &change).await.unwrap();
    change
}

/// A store with the demo's tracker and people in it, as small as it goes.
pub(crate) async fn demo() -> (Store, Dataset) {
    let (store, ds, _) = demo_at().await;
    (store, ds)
}

/// The same with the address of its database.
pub(crate) async fn demo_at() -> (Store, Dataset, String) {
    let (store, address) = opened().await;
    for intent in westerfall_demo::beginning() {
        decided(&store, &intent).await;
    }
    store.create_tracker(one(), &westerfall_demo::tracker()).await.unwrap();
    let mut ds = store.load(one(), team(), now()).await.unwrap().unwrap();
    for step in westerfall_demo::story(now(), 12) {
        let clock = Clock { now: step.at, ..clock() };
        let change = ds.decide(&step.intent, step.asker, &clock).unwrap().change;
        let before = ds.seq;
        ds.apply(&change);
        let write = Write { change, runs: Vec::new(), notices: Vec::new(), key: None, answer: serde_json::Value::Null };
        store.commit(one(), before, &[write], &ds).await.unwrap();
    }
    (store, ds, address)
}

/// As it is read from the database.
pub(crate) async fn loaded(store: &Store) -> Dataset {
    store.load(one(), team(), now()).await.unwrap().expect("the tracker is there")
}
