//! Mails on their way: each handed over by one, tried again, and known where nobody knows.

use crate::fixture::*;
use jiff::{SignedDuration, Timestamp};
use westerfall_core::{
    access::Asker,
    dataset::Dataset,
    id::{AutomationId, FieldId, FormId, RecordId, TrackerId},
    intent::Intent,
    value::{Input, Value},
};
use westerfall_store::{JobState, MessageToKeep, PaceOf, Store};

const HOLD: SignedDuration = SignedDuration::from_secs(60);

fn later(seconds: i64) -> Timestamp {
    now() + SignedDuration::from_secs(seconds)
}

/// An answer that makes one mail to a warden.
async fn blocked(store: &Store, ds: &Dataset) -> Dataset {
    let form = FormId::new(120).unwrap();
    let table = ds.form(form).unwrap().table;
    let field = |name: &str| -> FieldId { ds.table(table).unwrap().def.fields.iter().find(|f| f.name == name).unwrap().id };
    let text = |text: &str| Input::Text(text.into());
    let answers = vec![
        (field("What is wrong"), text("Gate will not open")),
        (field("Kind"), text("stile or gate")),
        (field("Severity"), text("blocked")),
        (field("Section"), Input::Value(Value::Links(vec![RecordId::new(1).unwrap()]))),
        (field("Reporter"), text("Wynn Ashdale")),
    ];
    kept(store, ds, &Intent::Send { form, answer: answers.into() }, Asker::Form(form), None).await.unwrap().0
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mail_is_taken_on_by_one_and_settled() {
    let (store, ds) = demo().await;
    assert!(store.claim_message(later(1), HOLD).await.unwrap().is_none());
    blocked(&store, &ds).await;
    assert_eq!(store.waiting_mails().await.unwrap().0, 1);
    // Of two workers, one gets it.
    let (a, b) = tokio::join!(store.claim_message(later(1), HOLD), store.claim_message(later(1), HOLD));
    let claimed: Vec<_> = [a.unwrap(), b.unwrap()].into_iter().flatten().collect();
    assert_eq!(claimed.len(), 1);
    let mail = &claimed[0];
    assert_eq!((mail.message.to.as_str(), mail.attempts, mail.cut_off), ("tamsin@orrindale-paths.example", 1, false));
    store.settle_message(mail.job, JobState::Sent, later(2), "taken").await.unwrap();
    assert!(store.claim_message(later(3_600), HOLD).await.unwrap().is_none());
    let runs = store.runs(one(), None, None, 10).await.unwrap();
    let told: Vec<_> = runs[0].mails.iter().map(|mail| (mail.to.as_str(), mail.state.as_str(), mail.note.as_str())).collect();
    assert_eq!(told, [("Tamsin Oake", "sent", "taken")]);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mail_that_was_not_taken_is_tried_again_when_it_is_due_and_one_that_was_cut_off_says_so() {
    let (store, ds) = demo().await;
    blocked(&store, &ds).await;
    let first = store.claim_message(later(1), HOLD).await.unwrap().unwrap();
    store.settle_message(first.job, JobState::Waiting, later(300), "no answer").await.unwrap();
    assert!(store.claim_message(later(299), HOLD).await.unwrap().is_none(), "not before it is due");
    let second = store.claim_message(later(301), HOLD).await.unwrap().unwrap();
    assert_eq!((second.job, second.attempts, second.cut_off), (first.job, 2, false));
    // Whoever took it on is gone without a word: after its hold it is somebody else's, who knows that it may be there already.
    assert!(store.claim_message(later(330), HOLD).await.unwrap().is_none());
    let third = store.claim_message(later(400), HOLD).await.unwrap().unwrap();
    assert_eq!((third.job, third.cut_off), (first.job, true));
}

#[tokio::test(flavor = "multi_thread")]
async fn the_same_cause_puts_one_mail_out_however_often_it_is_kept() {
    let (store, ds) = demo().await;
    let after = blocked(&store, &ds).await;
    let again = blocked(&store, &after).await;
    // Two answers are two causes.
    assert_eq!((store.waiting_mails().await.unwrap().0, again.seq), (2, ds.seq + 2));
}

#[tokio::test(flavor = "multi_thread")]
async fn the_post_room_keeps_a_mail_once_the_latest_first() {
    let (store, _) = demo().await;
    let message = |id: &str, subject: &str| MessageToKeep {
        message_id: id.into(),
        by: Some(westerfall_core::people::Channel::Mail),
        sender: "westerfall@orrindale-paths.example".into(),
        recipient: "tamsin@orrindale-paths.example".into(),
        subject: subject.into(),
        body: "Text".into(),
        raw: b"raw".to_vec(),
    };
    store.keep_message(&message("<1@w.example>", "First"), later(1)).await.unwrap();
    store.keep_message(&message("<2@w.example>", "Second"), later(2)).await.unwrap();
    let subjects = async |most| store.messages(most).await.unwrap().into_iter().map(|m| m.subject).collect::<Vec<_>>();
    assert_eq!(subjects(10).await, ["Second", "First"]);
    assert_eq!(subjects(1).await, ["Second"]);
    assert!(store.has_message("<1@w.example>").await.unwrap() && !store.has_message("<3@w.example>").await.unwrap());
}

#[tokio::test(flavor = "multi_thread")]
async fn however_many_servers_ask_no_more_go_out_within_an_hour_than_may_and_somebody_is_told_once() {
    let (store, _) = demo().await;
    let of = |reader: &'static str, hour| PaceOf { tracker: TrackerId::FIRST, automation: AutomationId::FIRST, reader, hour };
    let taken = async |reader: &'static str, hour: Timestamp, asked: usize| {
        let each = (0..asked).map(|_| {
            let store = store.clone();
            tokio::spawn(async move { store.take_pace(of(reader, hour), 20).await.unwrap() })
        });
        futures::future::join_all(each).await.into_iter().filter(|took| *took.as_ref().unwrap()).count()
    };
    assert_eq!(taken("a@out.example", now(), 50).await, 20);
    assert_eq!(taken("a@out.example", now(), 1).await, 0);
    assert_eq!(taken("b@out.example", now(), 7).await, 7);
    assert_eq!(taken("a@out.example", later(3_600), 3).await, 3);
    let told = async |hour| store.tell_pace(of("a@out.example", hour)).await.unwrap();
    assert_eq!((told(now()).await, told(now()).await, told(later(3_600)).await), (true, false, true));
    // What is long over is forgotten.
    assert!(!told(later(9 * 24 * 3_600)).await);
    assert_eq!(taken("a@out.example", now(), 30).await, 20);
}
