//! A record opened: how it is laid out for whoever looks, and one on its way, before it is added.

use crate::fixture::*;
use proptest::prelude::*;
use std::collections::BTreeSet;
use westerfall_core::{
    access::Lens,
    condition::{Check, Condition},
    dataset::Dataset,
    fault::Faults,
    folio::{DraftLook, LaidOut},
    id::{FieldId, RoleId},
    intent::{FieldChange, Intent, NewRecord, TableChange},
    part::Part,
    schema::{Arrangement, PlacedField, RecordList, Section},
    sentence::as_text,
    value::{Attachment, Input, Value},
};

fn laid(ds: &Dataset, who: &str, number: u32) -> LaidOut {
    let clock = clock();
    Lens::new(ds, asker(ds, who), &clock).laid_out(table(ds, "Faults"), record(number))
}

fn of(ds: &Dataset, names: &[&str]) -> Vec<PlacedField> {
    names.iter().map(|name| PlacedField { field: field(ds, &format!("Faults.{name}")), wide: false }).collect()
}

fn section(ds: &Dataset, heading: &str, names: &[&str]) -> Section {
    Section { heading: heading.into(), fields: of(ds, names), ..Section::default() }
}

fn arrange(ds: &mut Dataset, who: &str, arrangement: Arrangement) -> Result<(), Faults> {
    let (who, table) = (asker(ds, who), table(ds, "Faults"));
    act(ds, who, &Intent::Table(TableChange::Arrange { table, arrangement })).map(drop)
}

fn headings(laid: &LaidOut) -> Vec<&str> {
    laid.sections.iter().map(|s| s.heading.as_str()).collect()
}

fn is(ds: &Dataset, path: &str, option_name: &str) -> Condition {
    test(&[field(ds, path)], Check::Option { not: false, any: vec![option(ds, &format!("{path}.{option_name}"))] })
}

#[test]
fn what_is_in_no_section_follows_after_the_last_and_what_is_kept_by_itself_is_put_away() {
    let mut ds = demo();
    let arrangement = Arrangement { sections: vec![section(&ds, "Where", &["Section", "District"])], ..Arrangement::default() };
    arrange(&mut ds, "Nadia", arrangement).unwrap();
    let laid = laid(&ds, "Nadia", 3);
    assert_eq!(headings(&laid), ["Where", ""]);
    let rest: Vec<FieldId> = laid.sections[1].fields.iter().map(|placed| placed.field).collect();
    assert!(rest.contains(&field(&ds, "Faults.Severity")) && !rest.contains(&field(&ds, "Faults.Section")));
    assert!(!rest.contains(&field(&ds, "Faults.What is wrong")), "it stands in the head");
    assert!(laid.away.contains(&field(&ds, "Faults.Created by")));
}

#[test]
fn a_section_comes_and_goes_with_its_condition_and_is_put_away_for_a_role() {
    let mut ds = demo();
    let warden = ds.roles().find(|role| role.name == "Warden").unwrap().id;
    let when = is(&ds, "Faults.Status", "made good");
    let work = Section { when, ..section(&ds, "The work", &["Hours needed"]) };
    let reporter = Section { not_for: vec![warden], ..section(&ds, "Who reported it", &["Reporter"]) };
    arrange(&mut ds, "Nadia", Arrangement { sections: vec![work, reporter], ..Arrangement::default() }).unwrap();
    let status = field(&ds, "Faults.Status");
    let clock = clock();
    let numbers: Vec<u32> = records(&ds, table(&ds, "Faults")).iter().map(|r| r.get()).collect();
    let good = Value::Choice(option(&ds, "Faults.Status.made good"));
    let made_good = |n: &&u32| value(&ds, table(&ds, "Faults"), record(**n), status) == good;
    let (done, open) = (numbers.iter().find(made_good).unwrap(), numbers.iter().find(|n| !made_good(n)).unwrap());
    assert_eq!(headings(&laid(&ds, "Nadia", *done)), ["The work", "Who reported it", ""]);
    let is_open = laid(&ds, "Nadia", *open);
    assert_eq!(headings(&is_open), ["Who reported it", ""]);
    assert!(is_open.away.contains(&field(&ds, "Faults.Hours needed")), "what a section holds is a press away where it does not stand");
    let own = Lens::new(&ds, asker(&ds, "Tamsin"), &clock).records(table(&ds, "Faults")).next().unwrap();
    assert!(!headings(&laid(&ds, "Tamsin", own.get())).contains(&"Who reported it"));
}

#[test]
fn a_section_says_itself_in_a_sentence_whose_phrases_edit_it() {
    let mut ds = demo();
    let warden = ds.roles().find(|role| role.name == "Warden").unwrap().id;
    let when = is(&ds, "Faults.Status", "made good");
    let sections = vec![
        Section { two: true, closed: true, when, not_for: vec![warden], ..section(&ds, "Work", &["Hours needed"]) },
        section(&ds, "Rest", &["Due"]),
    ];
    arrange(&mut ds, "Nadia", Arrangement { sections, ..Arrangement::default() }).unwrap();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let words = ds.table(table(&ds, "Faults")).unwrap().def.arrangement.in_words(&lens, table(&ds, "Faults"));
    let said: Vec<String> = words.iter().map(|phrases| as_text(phrases)).collect();
    assert_eq!(said, ["In two columns, closed at first, only where status is made good, put away for Warden.", "In one column, open."]);
    let places: Vec<&str> = words[0].iter().filter_map(|phrase| phrase.at.as_deref()).collect();
    assert_eq!(places, ["/sections/0/two", "/sections/0/closed", "/sections/0/when", "/sections/0/not_for"]);
}

#[test]
fn what_is_gone_leaves_the_arrangement_and_what_does_not_fit_is_refused() {
    let mut ds = demo();
    let role = {
        let mut role = ds.roles().find(|role| role.name == "Volunteer").unwrap().clone();
        role.members.clear();
        role.name = "Nobody".into();
        let nadia = asker(&ds, "Nadia");
        RoleId::new(act(&mut ds, nadia, &Intent::Make(Part::Role(role))).unwrap().made.unwrap()).unwrap()
    };
    let reporter = Section { not_for: vec![role], ..section(&ds, "Who", &["Reporter", "Note from the parish"]) };
    let twice = Arrangement { sections: vec![reporter.clone(), reporter.clone()], ..Arrangement::default() };
    assert!(arrange(&mut ds, "Nadia", twice).is_err(), "a field has one place");
    let of_another = Arrangement { away: vec![field(&ds, "Districts.Name")], ..Arrangement::default() };
    assert!(arrange(&mut ds, "Nadia", of_another).is_err());
    let no_link = RecordList {
        field: field(&ds, "Faults.Section"),
        shows: vec![field(&ds, "Faults.Due")],
        by: None,
        descending: false,
        figures: vec![],
    };
    assert!(arrange(&mut ds, "Nadia", Arrangement { lists: vec![no_link], ..Arrangement::default() }).is_err());
    assert!(arrange(&mut ds, "Bex", Arrangement::default()).is_err(), "who does not build arranges nothing");
    arrange(&mut ds, "Nadia", Arrangement { sections: vec![reporter], ..Arrangement::default() }).unwrap();
    let nadia = asker(&ds, "Nadia");
    let gone = FieldChange::Remove(field(&ds, "Faults.Note from the parish"));
    let home = table(&ds, "Faults");
    act(&mut ds, nadia, &Intent::Fields { table: home, change: gone }).unwrap();
    let dropped = ds.role(role).unwrap().clone();
    act(&mut ds, nadia, &Intent::Drop(Part::Role(dropped))).unwrap();
    let left = &ds.table(home).unwrap().def.arrangement.sections[0];
    assert_eq!((left.fields.len(), left.not_for.len()), (1, 0));
}

fn draft(ds: &Dataset, who: &str, cells: &[(&str, Input)]) -> Result<DraftLook, Faults> {
    let cells: Vec<(FieldId, Input)> = cells.iter().map(|(name, input)| (field(ds, &format!("Faults.{name}")), input.clone())).collect();
    let new = NewRecord { table: table(ds, "Faults"), cells, lines: Vec::new() };
    ds.look_at_draft(person(ds, who), &clock(), &new)
}

fn shown(ds: &Dataset, look: &DraftLook, name: &str) -> String {
    let place = look.fields.iter().position(|f| *f == field(ds, &format!("Faults.{name}"))).unwrap();
    look.row.cells[place].as_ref().map(|cell| cell.text.clone()).unwrap_or_default()
}

#[test]
fn a_draft_computes_says_what_is_asked_and_keeps_what_does_not_fit_as_it_was_typed() {
    let ds = demo();
    let rows = rows_of(&ds, table(&ds, "Faults"));
    let look =
        draft(&ds, "Nadia", &[("Section", links(&[3])), ("Reported on", typed("1 Nov 2026")), ("Hours needed", typed("many"))]).unwrap();
    assert_eq!(look.says, "Still asked: what is wrong and hours needed.");
    assert_eq!(look.missing, [field(&ds, "Faults.What is wrong")]);
    assert_eq!((look.wrong.len(), look.wrong[0].field, &look.wrong[0].input), (1, field(&ds, "Faults.Hours needed"), &typed("many")));
    assert!(!shown(&ds, &look, "District").is_empty(), "what is carried is there before it is added");
    assert!(!shown(&ds, &look, "Due").is_empty(), "what is computed is there before it is added");
    assert_eq!(rows_of(&ds, table(&ds, "Faults")), rows, "and nothing was changed by it");
    let whole = draft(&ds, "Nadia", &[("What is wrong", typed("Stile gone"))]).unwrap();
    assert_eq!((whole.says.as_str(), whole.name.as_str()), ("", "Stile gone"));
}

#[test]
fn a_draft_holds_files_and_tells_those_that_do_not_fit_by_their_names() {
    let mut ds = demo();
    let file = |name: &str| Attachment { id: format!("id of {name}"), name: name.to_owned(), media: "image/png".into(), size: 9 };
    let brings = |names: &[&str]| Input::Upload(names.iter().map(|name| file(name)).collect());
    let pictures = field(&ds, "Faults.Pictures");
    let mut def = ds.table(table(&ds, "Faults")).unwrap().def.field(pictures).unwrap().clone();
    def.required = true;
    let (nadia, home) = (asker(&ds, "Nadia"), table(&ds, "Faults"));
    act(&mut ds, nadia, &Intent::Fields { table: home, change: FieldChange::Change { field: def, merged: Vec::new() } }).unwrap();
    let named = ("What is wrong", typed("Stile gone"));
    assert_eq!(draft(&ds, "Nadia", std::slice::from_ref(&named)).unwrap().missing, [pictures]);
    let look = draft(&ds, "Nadia", &[named.clone(), ("Pictures", brings(&["stile.png"]))]).unwrap();
    assert_eq!((look.says.as_str(), shown(&ds, &look, "Pictures").as_str()), ("", "stile.png"));
    let wrong = draft(&ds, "Nadia", &[named, ("Hours needed", brings(&["a.png", "b.png"]))]).unwrap().wrong;
    assert_eq!((wrong.len(), &wrong[0].input), (1, &typed("a.png, b.png")));
    assert!(serde_json::to_string(&wrong).is_ok(), "it can be told");
}

#[test]
fn a_warden_sees_of_a_draft_out_of_their_reach_what_they_typed_alone() {
    let ds = demo();
    let section = field(&ds, "Faults.Section");
    let look = draft(&ds, "Tamsin", &[("What is wrong", typed("Stile gone"))]).unwrap();
    assert!(look.missing.contains(&section), "she is asked for what her sight hangs on");
    assert_eq!(shown(&ds, &look, "What is wrong"), "Stile gone");
    assert_eq!(shown(&ds, &look, "Due"), "", "what comes of it is not told before it is in her reach");
    assert!(draft(&ds, "Pavel", &[]).is_err(), "who may not add begins nothing");
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    let own: BTreeSet<_> = lens.records(table(&ds, "Sections")).collect();
    let other = records(&ds, table(&ds, "Sections")).into_iter().find(|r| !own.contains(r)).unwrap();
    let look = draft(&ds, "Tamsin", &[("What is wrong", typed("Stile gone")), ("Section", links(&[other.get()]))]).unwrap();
    assert_eq!(look.wrong.len(), 1, "a record that she does not see can't be linked");
    let mine = own.iter().next().unwrap();
    let look = draft(&ds, "Tamsin", &[("What is wrong", typed("Stile gone")), ("Section", links(&[mine.get()]))]).unwrap();
    assert!(look.says.is_empty() && !shown(&ds, &look, "Warden").is_empty());
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 48, ..ProptestConfig::default() })]
    /// Whatever is arranged, and whoever looks: each field that they may read has one place, and no other has any.
    #[test]
    fn every_field_that_one_may_read_has_one_place(picks in prop::collection::vec((0usize..6, any::<bool>()), 40), when in any_condition(), who in 0usize..6) {
        let mut ds = demo();
        let home = table(&ds, "Faults");
        let mut arrangement = Arrangement { sections: vec![Section::default(); 3], ..Arrangement::default() };
        for (known, (to, wide)) in ds.table(home).unwrap().def.fields.iter().zip(picks) {
            match to {
                0..=2 => arrangement.sections[to].fields.push(PlacedField { field: known.id, wide }),
                3 => arrangement.away.push(known.id),
                _ => {}
            }
        }
        arrangement.sections[1].when = when;
        prop_assume!(arrange(&mut ds, "Nadia", arrangement).is_ok());
        let who = ["Nadia", "Tamsin", "Idris", "Bex", "Pavel", "Wren"][who];
        let clock = clock();
        let lens = Lens::new(&ds, asker(&ds, who), &clock);
        for number in [1, 7, 98] {
            let laid = lens.laid_out(home, record(number));
            let mut placed: Vec<FieldId> = laid.sections.iter().flat_map(|s| s.fields.iter().map(|p| p.field)).chain(laid.away).collect();
            let count = placed.len();
            placed.sort_unstable();
            placed.dedup();
            prop_assert_eq!(placed.len(), count, "none stands twice");
            let def = &ds.table(home).unwrap().def;
            for known in &def.fields {
                let reads = lens.reads(home, known.id);
                let is_head = known.id == def.standing || known.name == "Number";
                prop_assert!(!placed.contains(&known.id) || reads);
                prop_assert!(placed.contains(&known.id) || !reads || is_head, "{} has no place for {}", known.name, who);
            }
        }
    }
}
