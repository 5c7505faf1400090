//! Texts that the team keeps, and the messages that are written by them.

use crate::{fixture::*, world::*};
use westerfall_core::{
    access::Lens,
    automation::{Automation, Hour, Message, Move, Occasion, Round, Step},
    condition::Condition,
    document::{Document, SheetOf},
    fault::FaultKind,
    highlight::Highlight,
    id::{AutomationId, DocumentId, FieldId, HighlightId, TableId, TextId},
    intent::{FieldChange, Intent, TableChange},
    part::Part,
    schema::{FieldDef, Kind, TableDef},
    value::Value,
    wording::{StoredText, Wording},
};

fn text(world: &World, name: &str, subject: &str, body: &str) -> StoredText {
    let read = |text: &str| Wording::parse(text, &world.ds, world.at("Faults")).unwrap();
    StoredText { id: TextId::LAST, table: world.at("Faults"), name: name.into(), subject: read(subject), body: read(body) }
}

#[track_caller]
fn kept(world: &mut World, text: StoredText) -> TextId {
    let intent = Intent::Make(Part::Text(text));
    let made = world.ds.decide(&intent, world.nadia(), &world.clock).unwrap().made.unwrap();
    world.act(world.nadia(), &intent);
    TextId::new(made).unwrap()
}

fn by_text(world: &World, id: TextId, digest: bool) -> Step {
    let Step::Mail { to, subject, body, reply, encloses, .. } = world.mail("Faults", office(), "own words", digest) else { unreachable!() };
    Step::Mail { to, subject, body, digest, reply, encloses, text: Some(id) }
}

fn written(world: &mut World, id: TextId, name: &str) -> AutomationId {
    let step = by_text(world, id, false);
    let when = Occasion::Changed(vec![world.f("Faults.What is wrong")]);
    world.automate("Faults", name, when, Condition::default(), vec![step])
}

fn sent(moves: &[Move]) -> Vec<Message> {
    runs(moves).iter().flat_map(|run| run.mails.clone()).collect()
}

fn faults(world: &mut World, intent: &Intent) -> Vec<(FaultKind, String, String)> {
    let refused = world.try_do(world.nadia(), intent).err();
    refused.map_or_else(Vec::new, |all| all.0.into_iter().map(|fault| (fault.kind, fault.pointer, fault.message)).collect())
}

#[test]
fn messages_of_several_automations_are_written_by_one_text_and_follow_it_when_it_is_changed() {
    let mut world = World::new();
    let thanks = text(&world, "Thanks", "About {What is wrong}", "It is {Status}.");
    let id = kept(&mut world, thanks);
    let first = written(&mut world, id, "One");
    written(&mut world, id, "Other");
    insta::assert_snapshot!(world.clause(first), @r"
    when: a fault has what is wrong changed
    if:
    then: send a mail to office@orrindale-paths.example, by the text “Thanks”
    ");
    let said = |world: &mut World, title: &str| {
        let moves = world.put("Faults.What is wrong", 1, Value::text(title));
        sent(&moves).into_iter().map(|mail| mail.subject).collect::<Vec<_>>()
    };
    assert_eq!(said(&mut world, "A gate"), ["About A gate", "About A gate"]);
    let mut changed = world.ds.stored_text(id).unwrap().clone();
    changed.subject = text(&world, "", "News of {What is wrong}", "").subject;
    world.act(world.nadia(), &Intent::Save(Part::Text(changed)));
    assert_eq!(said(&mut world, "A stile"), ["News of A stile", "News of A stile"]);
}

#[test]
fn a_text_is_held_by_what_is_written_by_it_and_holds_the_fields_that_it_says() {
    let mut world = World::new();
    let thanks = text(&world, "Thanks", "About {Hours needed}", "");
    let id = kept(&mut world, thanks);
    written(&mut world, id, "One");
    let drop = Intent::Drop(Part::Text(world.ds.stored_text(id).unwrap().clone()));
    let refused = faults(&mut world, &drop);
    assert!(refused[0].2.contains("“One”"), "{refused:?}");
    let remove = Intent::Fields { table: world.at("Faults"), change: FieldChange::Remove(world.f("Faults.Hours needed")) };
    let refused = faults(&mut world, &remove);
    assert!(refused[0].2.contains("“Thanks”"), "{refused:?}");
    // Of another table's records it can't write.
    let other = Automation { table: world.at("Sections"), ..world.ds.automations().last().unwrap().clone() };
    let refused = other.check(&world.ds).unwrap_err().0;
    assert!(refused.iter().any(|fault| fault.pointer == "/steps/0/mail/text"), "{refused:?}");
}

#[test]
fn what_is_wrong_with_a_text_is_said_at_its_place() {
    let mut world = World::new();
    let thanks = text(&world, "Thanks", "Hello", "");
    let id = kept(&mut world, thanks.clone());
    let refused = faults(&mut world, &Intent::Make(Part::Text(thanks)));
    assert_eq!(refused, [(FaultKind::InUse, "/name".into(), "There is a text “Thanks” already.".into())]);
    let bare = text(&world, "", "", "");
    let refused = faults(&mut world, &Intent::Make(Part::Text(bare)));
    assert!(refused.iter().any(|(kind, at, _)| *kind == FaultKind::Missing && at == "/subject"), "{refused:?}");

    // One message of many records has a heading of none.
    let step = by_text(&world, id, true);
    let when = Occasion::Every { round: Round::Daily, at: Hour(420) };
    world.automate("Faults", "Each morning", when, Condition::default(), vec![step]);
    let mut of_one = world.ds.stored_text(id).unwrap().clone();
    of_one.subject = text(&world, "", "About {Number}", "").subject;
    let refused = faults(&mut world, &Intent::Save(Part::Text(of_one)));
    assert_eq!(refused[0].1, "/subject");
    assert!(refused[0].2.contains("“Each morning” writes one message of many records by it"), "{refused:?}");
    let tamsin = asker(&world.ds, "Tamsin");
    let intent = Intent::Make(Part::Text(text(&world, "Mine", "Hello", "")));
    assert!(world.try_do(tamsin, &intent).is_err());
}

#[test]
fn a_table_takes_its_texts_along_into_the_bin_and_undone_they_are_there_again() {
    let mut world = World::new();
    let fields = vec![FieldDef::new(FieldId::FIRST, "Name", Kind::Text { limit: 80 })];
    let def = TableDef::new(world.at("Faults"), "Keys", "key", FieldId::FIRST, fields);
    let make = Intent::Table(TableChange::Add(def));
    let made = world.ds.decide(&make, world.nadia(), &world.clock).unwrap().made.unwrap();
    world.act(world.nadia(), &make);
    let keys = TableId::new(made).unwrap();
    // What its records look like, and are printed as, hangs on it as well.
    let highlight = Highlight::new(HighlightId::FIRST, keys, Condition::default(), Vec::new());
    let document = {
        let lens = Lens::new(&world.ds, world.nadia(), &world.clock);
        Document::begun(&lens, DocumentId::FIRST, keys, "Key slip", SheetOf::Each).unwrap()
    };
    for part in [Part::Highlight(highlight), Part::Document(document)] {
        world.act(world.nadia(), &Intent::Make(part));
    }
    let lent = StoredText { table: keys, ..text(&world, "Key lent", "Hello", "") };
    let lent = kept(&mut world, lent);
    let moves = world.act(world.nadia(), &Intent::Table(TableChange::Remove(keys)));
    assert!(world.ds.stored_text(lent).is_none());
    world.act(world.nadia(), &Intent::Undo { change: Box::new(moves[0].change.clone()), shared: false });
    assert!(world.ds.stored_text(lent).is_some());
    assert_eq!((world.ds.highlights_of(keys).len(), world.ds.documents().filter(|one| one.table == keys).count()), (1, 1));
}
