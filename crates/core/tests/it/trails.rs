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

mod back {
    //! Putting a record back as it was.

    use crate::fixture::*;
    use proptest::prelude::*;
    use westerfall_core::{
        access::Lens,
        dataset::Dataset,
        history::Change,
        id::FieldId,
        intent::{Edit, Intent},
        value::{Input, Value},
    };

    fn put(ds: &mut Dataset, changes: &mut Vec<Change>, name: &str, input: Input) -> Change {
        let edits = vec![Edit { field: field(ds, &format!("Faults.{name}")), input, was: None }];
        let intent = Intent::Edit { table: table(ds, "Faults"), record: record(5), edits };
        let nadia = asker(ds, "Nadia");
        let change = act(ds, nadia, &intent).expect("she may").change;
        changes.push(change.clone());
        change
    }

    fn told(ds: &Dataset, who: &str, changes: &[Change], after: u64, only: &[FieldId]) -> Vec<(String, String, Option<String>)> {
        let clock = clock();
        let by = asker(ds, who);
        let back = Lens::new(ds, by, &clock).as_it_was(by, table(ds, "Faults"), record(5), changes, after, only);
        back.fields.into_iter().map(|one| (one.name, one.then, one.refused)).collect()
    }

    #[test]
    fn one_field_or_all_of_them_go_back_and_that_is_undone() {
        let (mut ds, mut changes) = (demo(), Vec::new());
        let faults = table(&ds, "Faults");
        let wrong = field(&ds, "Faults.What is wrong");
        let first = value(&ds, faults, record(5), wrong);
        let begun = ds.seq;
        put(&mut ds, &mut changes, "What is wrong", typed("One"));
        let between = put(&mut ds, &mut changes, "Hours needed", typed("3")).seq;
        put(&mut ds, &mut changes, "What is wrong", typed("Two"));
        assert_eq!(told(&ds, "Nadia", &changes, between, &[]), [("What is wrong".to_owned(), "One".to_owned(), None)]);
        let (clock, nadia) = (clock(), asker(&ds, "Nadia"));
        let intent = Lens::new(&ds, nadia, &clock).put_back(faults, record(5), &changes, begun, &[wrong]).unwrap();
        let hours = value(&ds, faults, record(5), field(&ds, "Faults.Hours needed"));
        let done = act(&mut ds, nadia, &intent).unwrap().change;
        assert_eq!(value(&ds, faults, record(5), wrong), first);
        assert_eq!(value(&ds, faults, record(5), field(&ds, "Faults.Hours needed")), hours, "one field alone");
        act(&mut ds, nadia, &undo(done)).unwrap();
        assert_eq!(value(&ds, faults, record(5), wrong), Value::text("Two"));
        assert!(Lens::new(&ds, nadia, &clock).put_back(faults, record(5), &changes, u64::MAX, &[]).is_err(), "nothing was otherwise");
    }

    #[test]
    fn what_is_gone_since_is_said_and_the_rest_goes_back() {
        let (mut ds, mut changes) = (demo(), Vec::new());
        let faults = table(&ds, "Faults");
        let sections = table(&ds, "Sections");
        let begun = ds.seq;
        let section = linked(&ds, faults, record(5), field(&ds, "Faults.Section"))[0];
        let other = records(&ds, sections).into_iter().find(|one| *one != section).unwrap();
        put(&mut ds, &mut changes, "Section", Input::Value(Value::Links(vec![other])));
        put(&mut ds, &mut changes, "What is wrong", typed("Two"));
        let nadia = asker(&ds, "Nadia");
        act(&mut ds, nadia, &Intent::Remove { table: sections, records: vec![section] }).unwrap();
        let told = told(&ds, "Nadia", &changes, begun, &[]);
        assert_eq!(told.len(), 2, "{told:?}");
        assert!(told.iter().any(|(name, _, refused)| name == "Section" && refused.is_some()), "{told:?}");
        assert!(told.iter().any(|(name, _, refused)| name == "What is wrong" && refused.is_none()), "{told:?}");
        let clock = clock();
        let intent = Lens::new(&ds, nadia, &clock).put_back(faults, record(5), &changes, begun, &[]).unwrap();
        assert!(act(&mut ds, nadia, &intent).is_err(), "all or nothing");
    }

    #[test]
    fn whoever_does_not_see_it_is_told_nothing_and_whoever_only_reads_puts_nothing_back() {
        let (mut ds, mut changes) = (demo(), Vec::new());
        let begun = ds.seq;
        put(&mut ds, &mut changes, "What is wrong", typed("Two"));
        let told_to_pavel = told(&ds, "Pavel", &changes, begun, &[]);
        assert!(told_to_pavel.iter().all(|(_, _, refused)| refused.is_some()), "{told_to_pavel:?}");
        let clock = clock();
        let seeing = ["Tamsin", "Idris", "Marguerite", "Jonah"].into_iter().filter(|who| {
            let by = asker(&ds, who);
            let lens = Lens::new(&ds, by, &clock);
            let sees = lens.sees(table(&ds, "Faults"), record(5));
            assert!(sees || lens.as_it_was(by, table(&ds, "Faults"), record(5), &changes, begun, &[]).fields.is_empty(), "{who}");
            assert!(sees || lens.put_back(table(&ds, "Faults"), record(5), &changes, begun, &[]).is_err(), "{who}");
            sees
        });
        assert_eq!(seeing.count(), 1, "one warden's");
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(48))]

        /// After whatever edits: put back to any moment, it is as it was at that moment.
        #[test]
        fn it_is_as_it_was_at_any_moment(steps in prop::collection::vec((0_usize..4, "[a-z]{1,5}", 1_u32..9), 1..12), to in 0_usize..12) {
            let (mut ds, mut changes) = (demo(), Vec::new());
            let faults = table(&ds, "Faults");
            let names = ["What is wrong", "Reporter", "Hours needed", "Description"];
            let stands = |ds: &Dataset| names.map(|name| value(ds, faults, record(5), field(ds, &format!("Faults.{name}"))));
            let mut moments = vec![(ds.seq, stands(&ds))];
            for (which, words, number) in steps {
                let input = if which == 2 { typed(&number.to_string()) } else { typed(&words) };
                put(&mut ds, &mut changes, names[which], input);
                moments.push((ds.seq, stands(&ds)));
            }
            let (seq, then) = &moments[to % moments.len()];
            let (clock, nadia) = (clock(), asker(&ds, "Nadia"));
            let intent = Lens::new(&ds, nadia, &clock).put_back(faults, record(5), &changes, *seq, &[]);
            match intent {
                Ok(intent) => drop(act(&mut ds, nadia, &intent).unwrap()),
                Err(_) => prop_assert_eq!(&stands(&ds), then),
            }
            prop_assert_eq!(&stands(&ds), then);
        }
    }
}
