//! Trackers: kept change by change, read as they were left.

use crate::fixture::*;
use std::sync::Arc;
use westerfall_core::{
    access::{Asker, Lens},
    condition::{Check, Condition, Quantity, Test},
    dataset::Dataset,
    id::{FieldId, RecordId, TableId, TrackerId},
    import::{Becomes, ColumnPlan, Heading, ImportInto, Plan, Raw, Sheet, Unmatched},
    intent::{Edit, Import, Intent},
    pack::{Pack, Packing},
    upgrade::FORMAT,
    value::Input,
    view::Query,
};
use westerfall_store::{StoreError, TalkAt};

fn whole(ds: &Dataset) -> Pack {
    Lens::new(ds, Asker::Westerfall, &clock()).pack(Packing::Whole).unwrap()
}

fn faults(ds: &Dataset) -> (TableId, FieldId) {
    let table = ds.tables().find(|t| t.def.name == "Faults").unwrap();
    (table.def.id, table.def.fields.iter().find(|f| f.name == "What is wrong").unwrap().id)
}

fn edit(ds: &Dataset, number: u32, text: &str) -> Intent {
    let (table, field) = faults(ds);
    let edits = vec![Edit { field, input: Input::Text(text.into()), was: None }];
    Intent::Edit { table, record: RecordId::new(number).unwrap(), edits }
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_read_is_what_was_kept() {
    let (store, ds) = demo().await;
    let read = loaded(&store).await;
    assert_eq!(read.seq, ds.seq);
    assert_eq!(serde_json::to_value(whole(&read)).unwrap(), serde_json::to_value(whole(&ds)).unwrap());
    assert!(store.has_tracker(one()).await.unwrap() && !store.has_tracker(TrackerId::new(2).unwrap()).await.unwrap());
    assert!(store.load(TrackerId::new(2).unwrap(), team(), now()).await.unwrap().is_none());
    let (table, field) = faults(&ds);
    let rows = (0..2_001).map(|n| vec![Raw::Text(format!("Fault {n}").into())]).collect();
    let plan = Plan {
        heading: Heading::row(0),
        without: Vec::new(),
        into: ImportInto::Table { table, key: None },
        columns: vec![ColumnPlan { becomes: Becomes::Existing { field, unmatched: Unmatched::Flag }, ..ColumnPlan::new(0, "it") }],
    };
    let import = Import { plan, sheet: Arc::new(Sheet { name: "s".into(), rows, ..Sheet::default() }) };
    let (ds, _) = kept(&store, &ds, &Intent::Import(Box::new(import)), steward(), None).await.unwrap();
    // Of what was done in bulk, the records are read from the log until they are bound; bound, it is the same.
    assert!(store.unbound(one()).await.unwrap() > 0);
    store.bind(one(), &ds).await.unwrap();
    assert_eq!(store.unbound(one()).await.unwrap(), 0);
    assert_eq!(serde_json::to_value(whole(&loaded(&store).await)).unwrap(), serde_json::to_value(whole(&ds)).unwrap());
}

#[tokio::test(flavor = "multi_thread")]
async fn an_edit_of_a_record_that_is_not_bound_yet_is_read_after_it() {
    let (store, ds) = demo().await;
    let (after, _) = kept(&store, &ds, &edit(&ds, 3, "Gate off its hinges"), steward(), None).await.unwrap();
    // Bound as of before the edit: what is newer stays.
    store.bind(one(), &ds).await.unwrap();
    let read = loaded(&store).await;
    let (table, field) = faults(&read);
    let clock = clock();
    assert_eq!(Lens::of_everything(&read, None, &clock).text_at(table, RecordId::new(3).unwrap(), field), "Gate off its hinges");
    assert_eq!(read.seq, after.seq);
}

#[tokio::test(flavor = "multi_thread")]
async fn of_two_who_write_from_one_state_the_second_is_told() {
    let (store, ds) = demo().await;
    kept(&store, &ds, &edit(&ds, 3, "First"), steward(), None).await.unwrap();
    let second = kept(&store, &ds, &edit(&ds, 4, "Second"), steward(), None).await;
    assert!(matches!(second, Err(StoreError::MovedOn)), "{second:?}");
    let read = loaded(&store).await;
    let (table, field) = faults(&read);
    let clock = clock();
    let text = |number| Lens::of_everything(&read, None, &clock).text_at(table, RecordId::new(number).unwrap(), field);
    assert_eq!((read.seq, text(3).as_str()), (ds.seq + 1, "First"));
    assert_ne!(text(4), "Second", "nothing of it was kept");
}

#[tokio::test(flavor = "multi_thread")]
async fn what_was_sent_under_a_key_is_kept_once_and_answered_again() {
    let (store, ds) = demo().await;
    let (after, change) = kept(&store, &ds, &edit(&ds, 3, "Once"), steward(), Some("k1")).await.unwrap();
    let again = kept(&store, &after, &edit(&ds, 3, "Twice"), steward(), Some("k1")).await;
    assert!(matches!(again, Err(StoreError::SentBefore)), "{again:?}");
    let answers = store.answers(one(), &["k1", "k2"]).await.unwrap();
    assert_eq!(answers.len(), 1);
    assert_eq!(answers["k1"], serde_json::json!({ "seq": change.seq }));
    assert_eq!(loaded(&store).await.seq, after.seq);
}

#[tokio::test(flavor = "multi_thread")]
async fn the_log_is_read_from_where_one_left_off_and_by_record() {
    let (store, ds) = demo().await;
    let (next, first) = kept(&store, &ds, &edit(&ds, 3, "One"), steward(), None).await.unwrap();
    let (_, second) = kept(&store, &next, &edit(&ds, 4, "Two"), steward(), None).await.unwrap();
    let since = store.changes_since(one(), ds.seq).await.unwrap();
    assert_eq!(since.iter().map(|c| c.seq).collect::<Vec<_>>(), [first.seq, second.seq]);
    assert!(store.changes_since(one(), second.seq).await.unwrap().is_empty());
    assert_eq!(store.change(one(), first.seq).await.unwrap().unwrap().ops, first.ops);
    let (table, _) = faults(&ds);
    let of = |number| TalkAt { tracker: one(), table, record: RecordId::new(number).unwrap() };
    let trail = async |number, seqs, most| store.trail(of(number), seqs, most).await.unwrap();
    let of_three = trail(3, 0..u64::MAX, 100).await;
    assert_eq!(of_three[0].seq, first.seq);
    assert!(of_three.len() > 1 && of_three.iter().all(|c| c.seq != second.seq), "how it was added is there, its neighbour's edit is not");
    assert_eq!(trail(3, 0..u64::MAX, 1).await, of_three[..1]);
    // What is before a change, and what came after it; one by one it is the same as at once.
    assert_eq!(trail(3, 0..first.seq, 100).await, of_three[1..]);
    assert_eq!(trail(3, first.seq..u64::MAX, 100).await, of_three[..1]);
    let mut one_by_one = trail(3, 0..u64::MAX, 1).await;
    while let [last] = &trail(3, 0..one_by_one.last().unwrap().seq, 1).await[..] {
        one_by_one.push(last.clone());
    }
    assert_eq!(one_by_one, of_three);
    assert_eq!(store.seqs(&[one()]).await.unwrap(), [(one(), second.seq)]);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_record_that_somebody_else_has_touched_is_known() {
    let (store, ds) = demo().await;
    let (table, field) = faults(&ds);
    let add = Intent::Add { table, records: vec![vec![(field, Input::Text("New".into()))]] };
    let (next, added) = kept(&store, &ds, &add, steward(), None).await.unwrap();
    let me = person(1);
    assert!(!store.touched_by_others(one(), &added, me).await.unwrap());
    let number = added.ops.iter().find_map(|op| op.record()).unwrap().1;
    let (next, _) = kept(&store, &next, &edit(&ds, number.get(), "By me"), steward(), None).await.unwrap();
    assert!(!store.touched_by_others(one(), &added, me).await.unwrap(), "one's own edit is no other's");
    kept(&store, &next, &edit(&ds, number.get(), "By Bex"), Asker::Person(person(6)), None).await.unwrap();
    assert!(store.touched_by_others(one(), &added, me).await.unwrap());
}

#[tokio::test(flavor = "multi_thread")]
async fn trackers_get_the_next_free_number_and_leave_nothing_when_forgotten() {
    let store = store().await;
    let begin = async || store.begin_tracker(&westerfall_demo::tracker()).await.unwrap().get();
    assert_eq!((begin().await, begin().await), (1, 2));
    store.forget_tracker(TrackerId::new(2).unwrap()).await.unwrap();
    assert_eq!(store.trackers().await.unwrap(), [one()]);
    assert_eq!(begin().await, 2);
    // Two who begin at once get two.
    let def = westerfall_demo::tracker();
    let (a, b) = tokio::join!(store.begin_tracker(&def), store.begin_tracker(&def));
    let mut numbers = [a.unwrap().get(), b.unwrap().get()];
    numbers.sort_unstable();
    assert_eq!(numbers, [3, 4]);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_part_that_can_not_be_read_is_set_aside_and_the_rest_opens() {
    let (store, ds, address) = demo_at().await;
    let views = ds.views().count();
    let (client, connection) = tokio_postgres::connect(&address, tokio_postgres::NoTls).await.unwrap();
    tokio::spawn(connection);
    client.batch_execute("UPDATE part SET body = '{\"no\": \"view\"}' WHERE sort = 'view' AND number = 101").await.unwrap();
    let read = loaded(&store).await;
    assert_eq!(read.views().count(), views - 1);
    assert_eq!(read.set_aside().iter().map(|part| (part.sort.as_str(), part.number)).collect::<Vec<_>>(), [("view", 101)]);
}

/// A condition that only asks whether something is empty looks to an earlier format as if it were its own.
#[tokio::test(flavor = "multi_thread")]
async fn a_change_is_kept_with_the_format_that_it_is_of() {
    let (store, ds, address) = demo_at().await;
    let mut view = ds.views().next().unwrap().clone();
    let (_, field) = faults(&ds);
    let empty = Condition::Test(Test { path: vec![field], of: Quantity::Any, check: Check::Empty });
    view.query = Query { condition: Condition::All(vec![empty]), ..view.query };
    let (after, change) = kept(&store, &ds, &Intent::Save(view.into()), steward(), None).await.unwrap();
    assert_eq!(store.change(one(), change.seq).await.unwrap().unwrap().ops, change.ops);
    assert_eq!(store.changes_since(one(), ds.seq).await.unwrap().len(), 1);
    let (client, connection) = tokio_postgres::connect(&address, tokio_postgres::NoTls).await.unwrap();
    tokio::spawn(connection);
    let row = client.query_one("SELECT min(format), max(format), count(*) FROM change", &[]).await.unwrap();
    assert_eq!((row.get::<_, i16>(0), row.get::<_, i16>(1)), (FORMAT, FORMAT));
    assert!(row.get::<_, i64>(2) >= i64::try_from(after.seq).unwrap());
}
