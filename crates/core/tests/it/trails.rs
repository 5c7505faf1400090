//! What happened to a record, told as it went.

use crate::fixture::*;
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    history::Change,
    id::FormId,
    intent::{Edit, Intent},
    trail::{TrailEntry, What},
    value::{Input, Value},
};

struct Story {
    ds: Dataset,
    changes: Vec<Change>,
}

impl Story {
    fn new() -> Self {
        Self { ds: demo(), changes: Vec::new() }
    }

    #[track_caller]
    fn then(&mut self, who: Asker, intent: &Intent) -> Change {
        let change = act(&mut self.ds, who, intent).unwrap().change;
        self.changes.push(change.clone());
        change
    }

    fn edit(&mut self, who: &str, name: &str, input: Input) -> Change {
        let field = field(&self.ds, &format!("Faults.{name}"));
        let who = asker(&self.ds, who);
        let edits = vec![Edit { field, input, was: None }];
        self.then(who, &Intent::Edit { table: table(&demo(), "Faults"), record: record(5), edits })
    }

    fn told(&self, who: &str, number: u32) -> Vec<TrailEntry> {
        let clock = clock();
        Lens::new(&self.ds, asker(&self.ds, who), &clock).trail(table(&self.ds, "Faults"), record(number), &self.changes)
    }
}

fn lines(entries: &[TrailEntry]) -> Vec<String> {
    let edits = |e: &TrailEntry| e.edits.iter().map(|d| format!("{}: {} → {}", d.name, d.before, d.after)).collect::<Vec<_>>().join(", ");
    entries.iter().map(|e| format!("{} {:?} {}", e.who, e.what, edits(e)).trim().to_owned()).collect()
}

#[test]
fn each_step_is_told_with_who_and_what_stood_before_the_latest_first() {
    let mut story = Story::new();
    story.edit("Nadia", "Hours needed", typed("3"));
    story.edit("Bex", "Hours needed", typed("4.5"));
    story.edit("Nadia", "Hours needed", Input::Value(Value::Empty));
    let told = lines(&story.told("Nadia", 5));
    assert_eq!(told[0], "Nadia Ferreira-Holt Changed Hours needed: 4.5\u{a0}h →");
    assert!(told[1].ends_with("Changed Hours needed: 3.0\u{a0}h → 4.5\u{a0}h"), "{told:?}");
    assert_eq!(told.len(), 3);
    let until: Vec<String> = story.told("Nadia", 5).iter().map(|entry| entry.edits[0].until.clone()).collect();
    assert!(until[0].starts_with("4.5\u{a0}h until ") && until[0].ends_with(" today"), "{until:?}");
    // Nothing is told of a neighbour.
    assert!(story.told("Nadia", 6).is_empty());
}

#[test]
fn the_bin_and_what_was_taken_back_are_told_as_what_they_are() {
    let mut story = Story::new();
    let nadia = asker(&story.ds, "Nadia");
    let faults = table(&story.ds, "Faults");
    let change = story.edit("Nadia", "Status", typed("checked"));
    story.then(nadia, &undo(change.clone()));
    let gone = story.then(nadia, &Intent::Remove { table: faults, records: vec![record(5)] });
    assert!(story.told("Nadia", 5).is_empty(), "a record in the bin is not looked into");
    story.then(nadia, &undo(gone));
    let told = story.told("Nadia", 5);
    let whats: Vec<What> = told.iter().map(|e| e.what).collect();
    assert_eq!(whats, [What::Restored, What::Removed, What::Changed, What::Changed]);
    assert_eq!((told[2].undoes, told[3].undoes), (Some(change.seq), None));
    assert_eq!((&told[2].edits[0].before, &told[2].edits[0].after), (&told[3].edits[0].after, &told[3].edits[0].before));
}

#[test]
fn what_came_by_a_form_is_told_as_having_come_by_it() {
    let mut story = Story::new();
    let form = FormId::new(120).unwrap();
    let f = |name: &str| field(&demo(), &format!("Faults.{name}"));
    let answers = vec![
        (f("What is wrong"), typed("Stile rotten")),
        (f("Kind"), typed("stile or gate")),
        (f("Severity"), typed("awkward")),
        (f("Section"), links(&[1])),
        (f("Reporter"), typed("Wynn Ashdale")),
    ];
    story.then(Asker::Form(form), &Intent::Send { form, answer: answers.into() });
    let number = u32::try_from(rows_of(&story.ds, table(&story.ds, "Faults"))).unwrap();
    let told = story.told("Nadia", number);
    assert_eq!((told.len(), told[0].what, told[0].form, told[0].person), (1, What::Added, Some(form), None));
    assert_eq!(told[0].who, "the form “Report a path fault”");
    // Of what was sent, a trustee reads all but who sent it.
    let names = |entries: &[TrailEntry]| entries[0].edits.iter().map(|d| d.name.clone()).collect::<Vec<_>>();
    assert!(names(&told).contains(&"Reporter".to_owned()));
    assert!(!names(&story.told("Pavel", number)).contains(&"Reporter".to_owned()));
}

#[test]
fn a_link_is_told_by_the_names_of_both_records() {
    let mut story = Story::new();
    let section = field(&story.ds, "Faults.Section");
    let before = linked(&story.ds, table(&story.ds, "Faults"), record(5), section)[0];
    let other = if before == record(1) { 2 } else { 1 };
    story.edit("Nadia", "Section", links(&[other]));
    let told = story.told("Nadia", 5);
    let edit = &told[0].edits[0];
    assert_eq!(edit.name, "Section");
    assert!(edit.before.contains(" to ") && edit.after.contains(" to ") && edit.before != edit.after, "{edit:?}");
}

#[test]
fn what_stood_before_is_told_as_one_says_a_moment_now_in_one_line() {
    let mut story = Story::new();
    let long = "The post lies in the grass beside the wall, and the farmer knows.\nHe is glad if somebody mends it.";
    story.edit("Nadia", "Description", Input::Value(Value::text(long)));
    story.edit("Nadia", "Description", Input::Value(Value::Empty));
    story.edit("Nadia", "Description", typed("Mended"));
    let at = story.changes.last().unwrap().at;
    let told = |days: i64, nth: usize| {
        let now = at + jiff::SignedDuration::from_hours(24 * days);
        let clock = westerfall_core::Clock { now, ..clock() };
        let entries = Lens::new(&story.ds, asker(&story.ds, "Nadia"), &clock).trail(table(&story.ds, "Faults"), record(5), &story.changes);
        entries[nth].edits[0].until.clone()
    };
    let day = |format: &str| at.to_zoned(clock().zone).strftime(format).to_string();
    assert_eq!(told(0, 0), format!("empty until {} today", day("%H:%M")));
    assert_eq!(told(1, 0), "empty until yesterday");
    assert_eq!(told(2, 1), format!("The post lies in the grass beside the wa … until {}", day("%-d %b")));
    assert_eq!(told(500, 0), format!("empty until {}", day("%-d %b %Y")));
}
