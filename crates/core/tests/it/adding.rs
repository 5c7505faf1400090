//! Adding within a reach: whoever adds a record sees it, and is asked for what that hangs on.

use crate::fixture::*;
use proptest::prelude::*;
use westerfall_core::{
    access::{Adding, Asker, Lens, Reach, TableRights},
    condition::{Check, Condition, Who},
    dataset::Dataset,
    fault::Fault,
    id::{FieldId, RecordId},
    intent::Intent,
    part::Part,
    value::{Input, Value},
};

fn adding(ds: &Dataset, who: &str, to: &str) -> Option<Adding> {
    let clock = clock();
    Lens::new(ds, asker(ds, who), &clock).adding(table(ds, to))
}

/// A fault added by somebody: its number, or what is said against it.
fn add(ds: &mut Dataset, who: &str, cells: Vec<(FieldId, Input)>) -> Result<RecordId, Fault> {
    let intent = Intent::Add { table: table(ds, "Faults"), records: vec![cells] };
    let who = asker(ds, who);
    act(ds, who, &intent).map(|decision| decision.added[0]).map_err(|faults| faults.0[0].clone())
}

/// The demo where volunteers may look at and add only what a condition says.
fn narrowed(condition: Condition) -> Dataset {
    let mut ds = demo();
    let mut role = ds.roles().find(|r| r.name == "Volunteer").unwrap().clone();
    let rights = TableRights { look: Reach::Where(condition), add: true, ..TableRights::default() };
    role.tables.insert(table(&ds, "Faults"), rights);
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &Intent::Save(Part::Role(role))).unwrap();
    ds
}

fn sections_of(ds: &Dataset, who: &str) -> Vec<RecordId> {
    let clock = clock();
    let lens = Lens::new(ds, asker(ds, who), &clock);
    lens.records(table(ds, "Sections")).collect()
}

#[test]
fn a_warden_is_asked_for_the_section_and_offered_their_own() {
    let ds = demo();
    let section = field(&ds, "Faults.Section");
    assert_eq!(adding(&ds, "Tamsin", "Faults"), Some(Adding { fills: vec![], asks: vec![section] }));
    for who in ["Nadia", "Bex", "Pavel", "Wren"] {
        assert_eq!(adding(&ds, who, "Faults"), None, "{who} sees whatever they add, or adds nothing");
    }
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    let offered = lens.offered(table(&ds, "Faults"), section, None, "");
    let own = sections_of(&ds, "Tamsin");
    assert!(!offered.names.is_empty() && offered.names.iter().all(|name| own.contains(&name.id)));
}

#[test]
fn a_link_to_a_record_of_others_is_not_offered_to_whoever_may_see_it() {
    // Whoever sees all sections, but only the faults of one district's.
    let ds = demo();
    let (section, district) = (field(&ds, "Faults.Section"), field(&ds, "Sections.District"));
    let ds = narrowed(test(&[section, district], Check::Record { not: false, any: vec![record(2)] }));
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Wren"), &clock);
    let offered = |of: Option<RecordId>| lens.offered(table(&ds, "Faults"), section, of, "").names;
    assert!(!offered(None).is_empty());
    assert!(offered(None).iter().all(|name| linked(&ds, table(&ds, "Sections"), name.id, district) == [record(2)]));
    // A record that is there may be handed to others.
    let there = lens.records(table(&ds, "Faults")).next().unwrap();
    assert!(offered(Some(there)).iter().any(|name| linked(&ds, table(&ds, "Sections"), name.id, district) != [record(2)]));
}

#[test]
fn nothing_is_added_that_its_adder_would_not_see() {
    let mut ds = demo();
    let (title, section, severity) = (field(&ds, "Faults.What is wrong"), field(&ds, "Faults.Section"), field(&ds, "Faults.Severity"));
    let own = sections_of(&ds, "Tamsin");
    let others = records(&ds, table(&ds, "Sections")).into_iter().find(|r| !own.contains(r)).unwrap();
    let new = |at: Option<RecordId>| {
        let at = at.map(|record| (section, links(&[record.get()])));
        [(title, typed("Gate off its hinge")), (severity, typed("awkward"))].into_iter().chain(at).collect::<Vec<_>>()
    };
    let none = add(&mut ds, "Tamsin", new(None)).unwrap_err();
    assert_eq!(none.message, "You would not see this fault. Choose section so that it is one of those open to you.");
    assert_eq!(none.pointer, format!("/records/0/{section}"));
    assert!(add(&mut ds, "Tamsin", new(Some(others))).is_err());
    let made = add(&mut ds, "Tamsin", new(Some(own[0]))).unwrap();
    let clock = clock();
    assert!(Lens::new(&ds, asker(&ds, "Tamsin"), &clock).sees(table(&ds, "Faults"), made));
}

#[test]
fn what_a_reach_says_of_the_record_itself_is_filled_in() {
    let ds = demo();
    let severity = field(&ds, "Faults.Severity");
    let blocked = option(&ds, "Faults.Severity.blocked");
    let mut ds = narrowed(Condition::All(vec![test(&[severity], Check::Option { not: false, any: vec![blocked] })]));
    assert_eq!(adding(&ds, "Wren", "Faults"), Some(Adding { fills: vec![(severity, Value::Choice(blocked))], asks: vec![] }));
    let title = field(&ds, "Faults.What is wrong");
    let made = add(&mut ds, "Wren", vec![(title, typed("Wall down"))]).unwrap();
    assert_eq!(value(&ds, table(&ds, "Faults"), made, severity), Value::Choice(blocked));
    // What they say themselves is not written over; it is refused.
    assert!(add(&mut ds, "Wren", vec![(title, typed("Wall down")), (severity, typed("awkward"))]).is_err());
}

#[test]
fn me_is_filled_in_where_a_person_is_asked() {
    let ds = demo();
    let leader = field(&ds, "Work orders.Crew leader");
    let orders = table(&ds, "Work orders");
    let mut ds = demo();
    let mut role = ds.roles().find(|r| r.name == "Volunteer").unwrap().clone();
    let me = test(&[leader], Check::Person { not: false, any: vec![Who::Me] });
    role.tables.insert(orders, TableRights { look: Reach::Where(me), add: true, ..TableRights::default() });
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &Intent::Save(Part::Role(role))).unwrap();
    let wren = asker(&ds, "Wren");
    let made = act(&mut ds, wren, &Intent::Begin { table: orders, cells: vec![] }).unwrap().added[0];
    assert_eq!(value(&ds, orders, made, leader), Value::Person(person(&ds, "Wren")));
}

#[test]
fn whoever_only_adds_for_others_is_asked_nothing() {
    let mut ds = demo();
    let mut role = ds.roles().find(|r| r.name == "Volunteer").unwrap().clone();
    let faults = table(&ds, "Faults");
    role.tables.insert(faults, TableRights { look: Reach::None, add: true, ..TableRights::default() });
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &Intent::Save(Part::Role(role))).unwrap();
    assert_eq!(adding(&ds, "Wren", "Faults"), None);
    let title = field(&ds, "Faults.What is wrong");
    add(&mut ds, "Wren", vec![(title, typed("Slab gone"))]).unwrap();
}

#[test]
fn whoever_has_two_roles_is_offered_what_either_lets_them_see() {
    let ds = demo();
    let (section, district) = (field(&ds, "Faults.Section"), field(&ds, "Sections.District"));
    let of = |number: u32| test(&[section, district], Check::Record { not: false, any: vec![record(number)] });
    let mut ds = narrowed(of(2));
    let wren = person(&ds, "Wren");
    let mut role = ds.roles().find(|r| r.name == "Warden").unwrap().clone();
    role.members.insert(wren);
    let rights = TableRights { look: Reach::Where(of(3)), add: true, ..TableRights::default() };
    role.tables.insert(table(&ds, "Faults"), rights);
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &Intent::Save(Part::Role(role))).unwrap();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Wren"), &clock);
    let offered = lens.offered(table(&ds, "Faults"), section, None, "").names;
    let districts: std::collections::BTreeSet<RecordId> =
        offered.iter().flat_map(|name| linked(&ds, table(&ds, "Sections"), name.id, district)).collect();
    assert_eq!(districts, [record(2), record(3)].into());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    #[test]
    fn whoever_adds_sees_what_they_added(who in 1_usize..=8, section in prop::option::of(1_u32..=64), number in 1_usize..=3) {
        let mut ds = demo();
        let (faults, title) = (table(&ds, "Faults"), field(&ds, "Faults.What is wrong"));
        let at = section.map(|section| (field(&ds, "Faults.Section"), links(&[section])));
        let cells: Vec<(FieldId, Input)> = std::iter::once((title, typed("Found"))).chain(at).collect();
        let who = Asker::Person(ds.people.iter().nth(who - 1).unwrap().id);
        if let Ok(decision) = act(&mut ds, who, &Intent::Add { table: faults, records: vec![cells; number] }) {
            let clock = clock();
            let lens = Lens::new(&ds, who, &clock);
            prop_assert!(decision.added.iter().all(|record| lens.sees(faults, *record)));
        }
    }
}
