//! The picture of a tracker, and its loose ends.

use crate::fixture::*;
use proptest::prelude::*;
use std::sync::Arc;
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    formula::Formula,
    groundplan::{EndSort, Groundplan},
    id::{FieldId, TableId},
    intent::{Edit, FieldChange, Intent, OtherSide, TableChange},
    people::People,
    schema::{FieldDef, Kind, Link, TableDef},
    value::{Input, Value},
};

fn plan(ds: &Dataset, who: Asker) -> Groundplan {
    let clock = clock();
    Lens::new(ds, who, &clock).groundplan(&[])
}

#[test]
fn it_says_what_there_is_as_far_as_one_sees_it() {
    let ds = demo();
    let whole = plan(&ds, asker(&ds, "Nadia"));
    assert_eq!(whole.says, "8 tables with 701 records.");
    let tamsin = plan(&ds, asker(&ds, "Tamsin"));
    assert_ne!(tamsin.says, whole.says);
    let count = |plan: &Groundplan, name: &str| plan.tables.iter().find(|t| t.name == name).map(|t| t.count);
    assert!(count(&tamsin, "Faults") < count(&whole, "Faults"));
    // What feeds a table and goes out of it is the builders' business only as far as automations go.
    assert!(tamsin.automations.is_empty() && !whole.automations.is_empty());
    // And whom pages let in from outside is the stewards’.
    let told = |plan: &Groundplan| plan.pages.iter().map(|page| (page.title.clone(), page.open, page.to.clone())).collect::<Vec<_>>();
    assert_eq!(told(&whole), [("Path faults in Eskermoor parish".to_owned(), true, "1 named address".to_owned())]);
    assert_eq!(whole.pages[0].tables, [table(&ds, "Faults")]);
    assert!(tamsin.pages.is_empty());
    assert!(tamsin.tables.iter().all(|t| t.seen_by.is_empty()), "who sees what is for stewards");
    assert!(whole.tables.iter().any(|t| t.seen_by.contains(&"Warden".to_owned())));
}

#[test]
fn a_record_that_came_this_week_is_told_where_it_came() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let materials = table(&ds, "Materials");
    let came = |ds: &Dataset| plan(ds, nadia).tables.iter().find(|t| t.id == materials).map(|t| (t.week, t.came.clone())).unwrap();
    assert_eq!(came(&ds), (0, String::new()));
    let add = |name: &str| Intent::Add { table: materials, records: vec![vec![(field(&demo(), "Materials.Name"), typed(name))]] };
    act(&mut ds, nadia, &add("Oak gate")).unwrap();
    assert_eq!(came(&ds), (1, "1 material".into()));
    act(&mut ds, nadia, &add("Larch post")).unwrap();
    assert_eq!(came(&ds), (2, "2 materials".into()));
}

#[test]
fn every_sort_of_loose_end_is_told_with_where_to_begin() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let faults = table(&ds, "Faults");
    let new = |ds: &Dataset, sort: EndSort, words: &str| {
        let found = plan(ds, nadia).ends.into_iter().find(|end| end.sort == sort && end.words.contains(words));
        found.unwrap_or_else(|| panic!("{sort:?} “{words}”: {:?}", plan(ds, nadia).ends))
    };
    let before = plan(&ds, nadia);
    assert_eq!(before.ends_say.is_empty(), before.ends.is_empty());

    // A formula that has no value.
    let formula = Formula::read("1 / (Hours needed - Hours needed)", &ds, faults).formula;
    let shows = Box::new(Kind::Number { decimals: 0, unit: String::new() });
    let broken = FieldDef::new(FieldId::FIRST, "Share", Kind::Calculation { formula, shows });
    act(&mut ds, nadia, &Intent::Fields { table: faults, change: FieldChange::Add { field: broken, before: None, other: None } }).unwrap();
    let end = new(&ds, EndSort::Error, "“Share” has no value in");
    assert_eq!(end.count, records(&ds, faults).len());
    assert_eq!(end.at.map(|at| (at.table, at.field)), Some((faults, field(&ds, "Faults.Share"))));

    // A link to what was put into the bin.
    let (sections, section) = (table(&ds, "Sections"), field(&ds, "Faults.Section"));
    let named = linked(&ds, faults, record(1), section)[0];
    let holds = records(&ds, faults).into_iter().filter(|r| linked(&ds, faults, *r, section).contains(&named)).count();
    act(&mut ds, nadia, &Intent::Remove { table: sections, records: vec![named] }).unwrap();
    assert_eq!(new(&ds, EndSort::Removed, "linked to something that was removed, in “Section”").count, holds);

    // Nothing in a field that is required since.
    let planned = field(&ds, "Faults.Planned for");
    let (_, def) = ds.field(planned).unwrap();
    let required = FieldChange::Change { field: FieldDef { required: true, ..def.clone() }, merged: Vec::new() };
    act(&mut ds, nadia, &Intent::Fields { table: faults, change: required }).unwrap();
    let without = records(&ds, faults).into_iter().filter(|r| value(&ds, faults, *r, planned) == Value::Empty).count();
    let end = new(&ds, EndSort::Missing, "without “Planned for”");
    assert_eq!(end.count, without);
    let now = plan(&ds, nadia);
    assert!(now.ends.len() > before.ends.len() && now.ends_say.ends_with("loose ends wait"), "{}", now.ends_say);

    // Mended at the record that it names first, there is one less.
    let at = end.at.unwrap();
    let edits = vec![Edit { field: at.field, input: typed("tomorrow"), was: None }];
    act(&mut ds, nadia, &Intent::Edit { table: at.table, record: at.record, edits }).unwrap();
    assert_eq!(new(&ds, EndSort::Missing, "without “Planned for”").count, without - 1);
}

#[test]
fn what_is_out_of_reach_is_nobodys_loose_end() {
    let mut ds = demo();
    let (nadia, tamsin) = (asker(&ds, "Nadia"), asker(&ds, "Tamsin"));
    let faults = table(&ds, "Faults");
    let seen = {
        let clock = clock();
        records(&ds, faults).into_iter().filter(|r| Lens::new(&ds, tamsin, &clock).sees(faults, *r)).collect::<Vec<_>>()
    };
    let unseen = *records(&ds, faults).iter().find(|r| !seen.contains(r)).unwrap();
    let title = field(&ds, "Faults.What is wrong");
    let def = ds.field(title).unwrap().1.clone();
    // Only a record that she does not see lacks it.
    let relaxed = FieldChange::Change { field: FieldDef { required: false, ..def.clone() }, merged: Vec::new() };
    act(&mut ds, nadia, &Intent::Fields { table: faults, change: relaxed }).unwrap();
    let edits = vec![Edit { field: title, input: Input::Value(Value::Empty), was: None }];
    act(&mut ds, nadia, &Intent::Edit { table: faults, record: unseen, edits }).unwrap();
    let again = FieldChange::Change { field: FieldDef { required: true, ..def }, merged: Vec::new() };
    act(&mut ds, nadia, &Intent::Fields { table: faults, change: again }).unwrap();
    let lacks = |who| plan(&ds, who).ends.iter().any(|end| end.words.contains("without “What is wrong”"));
    assert!(lacks(nadia) && !lacks(tamsin));
}

/// A tracker of some tables with links between them, each from one by its place to another.
fn linked_tables(count: usize, pairs: &[(usize, usize)]) -> Dataset {
    let demo = demo();
    let mut ds = Dataset::empty(westerfall_demo::tracker(), Arc::new(People::new(demo.people.iter().cloned())));
    let any = FieldId::FIRST;
    for number in 0..count {
        let fields = vec![FieldDef::new(any, "Name", Kind::Text { limit: 100 })];
        let def = TableDef::new(TableId::FIRST, &format!("T{number}"), "thing", any, fields);
        act(&mut ds, Asker::Westerfall, &Intent::Table(TableChange::Add(def))).unwrap();
    }
    for (n, (from, to)) in pairs.iter().enumerate() {
        let to = table(&ds, &format!("T{to}"));
        let link = FieldDef::new(any, &format!("L{n}"), Kind::Link(Link { to, back: any, one: true, holds: true }));
        let other = Some(OtherSide { name: format!("B{n}"), one: false });
        let home = table(&ds, &format!("T{from}"));
        act(&mut ds, Asker::Westerfall, &Intent::Fields { table: home, change: FieldChange::Add { field: link, before: None, other } })
            .unwrap();
    }
    ds
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// Without circles, every link goes from left to right; and no two tables stand in one place, circles or not.
    #[test]
    fn links_go_from_left_to_right_and_no_table_hides_another(
        count in 2_usize..7,
        pairs in prop::collection::vec((0_usize..7, 0_usize..7), 0..8),
        circles in any::<bool>(),
    ) {
        let pairs: Vec<_> = pairs.into_iter().map(|(a, b)| (a % count, b % count)).filter(|(a, b)| circles || a < b).collect();
        let ds = linked_tables(count, &pairs);
        let plan = plan(&ds, Asker::Westerfall);
        prop_assert_eq!((plan.tables.len(), plan.links.len()), (count, pairs.len()));
        let mut places: Vec<_> = plan.tables.iter().map(|t| (t.column, t.place)).collect();
        places.sort_unstable();
        places.dedup();
        prop_assert_eq!(places.len(), count);
        let column = |id: TableId| plan.tables.iter().find(|t| t.id == id).unwrap().column;
        if !circles {
            for link in &plan.links {
                prop_assert!(column(link.from) < column(link.to), "{} in {:?}", link.name, pairs);
            }
        }
        // In each column they stand one below the other, without gaps.
        for table in &plan.tables {
            prop_assert!(table.place == 0 || plan.tables.iter().any(|t| t.column == table.column && t.place + 1 == table.place));
        }
    }
}

#[test]
fn messages_that_did_not_arrive_are_a_loose_end_for_those_who_can_send_them_again() {
    let ds = demo();
    let id = ds.automations().next().unwrap().id;
    let ends = |who: &str| {
        let clock = clock();
        let plan = Lens::new(&ds, asker(&ds, who), &clock).groundplan(&[(id, 2), (westerfall_core::id::AutomationId::LAST, 5)]);
        plan.ends.into_iter().filter(|end| end.sort == EndSort::Lost).map(|end| (end.words, end.count)).collect::<Vec<_>>()
    };
    let words = "2 messages of the automation Tell the warden of blocked paths did not arrive: send them again there, or see why not";
    assert_eq!(ends("Nadia"), [(words.to_owned(), 2)]);
    assert!(ends("Tamsin").is_empty());
}
