//! The slip of a field: what it says is so, what it draws adds up, and what it offers does what it says.

use crate::fixture::*;
use proptest::prelude::*;
use westerfall_core::{
    access::{Asker, Lens},
    condition::{Check, Condition, Quantity, Test},
    dataset::Dataset,
    fault::FaultKind,
    id::{FieldId, TableId},
    schema::Kind,
    uses::Using,
    view::{FieldSlip, GroupBy, Order, Query, ShownField, SlipAct, SlipDrawing, SlipPhrase, SlipYear},
};

fn query(ds: &Dataset) -> Query {
    Query { fields: vec![ShownField { field: field(ds, "Faults.Number"), width: 100 }], ..Query::default() }
}

fn slip(ds: &Dataset, who: Asker, name: &str) -> FieldSlip {
    let clock = clock();
    let lens = Lens::new(ds, who, &clock);
    query(ds).look_into(&lens, table(ds, "Faults"), field(ds, &format!("Faults.{name}")), "").unwrap()
}

fn phrases<'s>(slip: &'s FieldSlip, word: &str) -> &'s [SlipPhrase] {
    slip.clauses.iter().find(|clause| clause.word == word).map_or(&[], |clause| &clause.phrases)
}

fn words(slip: &FieldSlip, word: &str) -> String {
    phrases(slip, word).iter().map(|p| p.text.as_str()).collect::<Vec<_>>().join(" / ")
}

fn matching(ds: &Dataset, who: Asker, condition: &Condition) -> usize {
    let clock = clock();
    condition.matching(&Lens::new(ds, who, &clock), table(ds, "Faults")).count_ones(..)
}

#[test]
fn it_says_how_many_hold_something_and_from_where_to_where() {
    let ds = demo();
    let nadia = asker(&ds, "Nadia");
    let told: Vec<String> = ["Due", "Hours needed", "Severity", "Section", "Warden", "What is wrong", "Pictures"]
        .map(|name| format!("{name}: {}", slip(&ds, nadia, name).says))
        .into();
    insta::assert_snapshot!(told.join("\n"));
}

#[test]
fn a_choice_is_drawn_by_how_often_each_option_stands_there() {
    let ds = demo();
    let nadia = asker(&ds, "Nadia");
    let SlipDrawing::Values { values, more } = slip(&ds, nadia, "Severity").drawing else { panic!("values") };
    assert_eq!(more, 0);
    assert!(values.is_sorted_by(|a, b| a.count >= b.count) && values.iter().all(|v| v.hue.is_some()));
    assert_eq!(values.iter().map(|v| v.count).sum::<usize>(), records(&ds, table(&ds, "Faults")).len());
    // Of many sections the most frequent are named, and how many there are besides.
    let SlipDrawing::Values { values, more } = slip(&ds, nadia, "Section").drawing else { panic!("values") };
    assert_eq!((values.len(), more > 0), (12, true));
}

#[test]
fn days_are_drawn_in_runs_that_lie_side_by_side_with_today_among_them() {
    let ds = demo();
    let SlipDrawing::Runs { runs, today, years } = slip(&ds, asker(&ds, "Nadia"), "Due").drawing else { panic!("runs") };
    assert!(runs.len() > 5 && runs.len() <= 40, "{}", runs.len());
    assert!(years.iter().any(|year| year.year.from == "2026" && year.months.iter().any(|month| month.from == "November")));
    let today = &runs[today.expect("some are due before today and some later")];
    // Monday the 23rd begins its week.
    assert_eq!((today.from.as_str(), today.to.as_str()), ("23 Nov 2026", "29 Nov 2026"));
    assert_eq!(runs.iter().map(|run| run.count).sum::<usize>(), records(&ds, table(&ds, "Faults")).len());
}

#[test]
fn each_narrowing_that_is_offered_leaves_as_many_as_it_says() {
    let ds = demo();
    for who in ["Nadia", "Tamsin", "Bex", "Pavel"] {
        let asker = asker(&ds, who);
        let mut offered = 0;
        for def in &ds.table(table(&ds, "Faults")).unwrap().def.fields {
            let clock = clock();
            let lens = Lens::new(&ds, asker, &clock);
            let Ok(slip) = query(&ds).look_into(&lens, table(&ds, "Faults"), def.id, "") else { continue };
            for phrase in phrases(&slip, "only") {
                let Some(SlipAct::Narrow { only }) = &phrase.does else { continue };
                let said = phrase.text.split_whitespace().nth(1).unwrap();
                assert_eq!(said, matching(&ds, asker, only).to_string(), "{who}, {}: {}", def.name, phrase.text);
                offered += 1;
            }
        }
        assert!(offered > 0, "{who} is offered nothing");
    }
}

#[test]
fn it_says_how_values_come_with_one_real_record() {
    let ds = demo();
    let nadia = asker(&ds, "Nadia");
    let due = slip(&ds, nadia, "Due");
    let comes = words(&due, "comes");
    assert!(comes.starts_with("by itself: / Reported on + SWITCH(Severity,") && comes.contains(" makes "), "{comes}");
    assert!(phrases(&due, "comes").iter().any(|p| p.does == Some(SlipAct::Formula)));
    assert_eq!(words(&slip(&ds, nadia, "Number"), "comes"), "by itself, when a record is added");
    assert_eq!(
        words(&slip(&ds, nadia, "What is wrong"), "comes"),
        "by whoever may change the record, you among them / it has to be filled in"
    );
    assert_eq!(words(&slip(&ds, nadia, "Created at"), "comes"), "by itself");
    // Who does not build is told neither the formula's text nor what uses the field.
    let tamsin = slip(&ds, asker(&ds, "Tamsin"), "Due");
    assert!(!words(&tamsin, "comes").contains("SWITCH(Severity"), "{}", words(&tamsin, "comes"));
    assert!(phrases(&tamsin, "feeds").is_empty());
    assert_eq!(words(&tamsin, "beside"), "out of this view");
}

#[test]
fn what_it_feeds_is_named_once_each_what_holds_it_first() {
    let ds = demo();
    let severity = slip(&ds, asker(&ds, "Nadia"), "Severity");
    let uses: Vec<(Using, u32)> = phrases(&severity, "feeds")
        .iter()
        .filter_map(|p| if let Some(SlipAct::Use { what, number, .. }) = p.does { Some((what, number)) } else { None })
        .collect();
    assert!(!uses.is_empty());
    let mut once = uses.clone();
    once.sort_by_key(|(what, number)| (format!("{what:?}"), *number));
    once.dedup();
    assert_eq!(once.len(), uses.len());
    assert_eq!(uses[0].0, Using::Field, "Due needs it");
}

#[test]
fn what_stands_already_is_said_and_not_offered() {
    let ds = demo();
    let due = field(&ds, "Faults.Due");
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let asked = Query { sorts: vec![Order { field: due, descending: false }], groups: vec![GroupBy::of(due)], ..query(&ds) };
    let slip = asked.look_into(&lens, table(&ds, "Faults"), due, "").unwrap();
    let stands: Vec<_> = phrases(&slip, "stands").iter().map(|p| (p.text.as_str(), p.does.clone())).collect();
    assert_eq!(
        stands,
        [
            ("earliest first", None),
            ("latest first", Some(SlipAct::Order { descending: true })),
            ("not in groups any more", Some(SlipAct::Group { on: false })),
        ]
    );
}

#[test]
fn what_is_not_open_has_no_slip_and_what_is_out_of_reach_is_not_counted() {
    let ds = demo();
    let clock = clock();
    let faults = table(&ds, "Faults");
    let look = |who: &str, at: TableId, id: FieldId| query(&ds).look_into(&Lens::new(&ds, asker(&ds, who), &clock), at, id, "");
    for (who, id) in [("Pavel", field(&ds, "Faults.Reporter")), ("Nadia", FieldId::new(9_999).unwrap())] {
        assert_eq!(look(who, faults, id).unwrap_err().0[0].kind, FaultKind::NotFound, "{who}");
    }
    let count = |slip: &FieldSlip| slip.says.split_whitespace().next().unwrap().parse::<usize>().unwrap();
    let (all, own) = (slip(&ds, asker(&ds, "Nadia"), "Severity"), slip(&ds, asker(&ds, "Tamsin"), "Severity"));
    assert!(count(&own) < count(&all));
    let seen = matching(&ds, asker(&ds, "Tamsin"), &Condition::default());
    assert_eq!(count(&own), seen);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    /// Whatever the view shows: runs hold every value once, and choosing one of them finds as many records as it says.
    #[test]
    fn a_drawing_adds_up_and_each_part_of_it_is_found(condition in any_condition(), name in prop::sample::select(vec!["Due", "Hours needed", "Created at", "Severity", "Warden", "Section"])) {
        let ds = demo();
        let (clock, faults, id) = (clock(), table(&ds, "Faults"), field(&ds, &format!("Faults.{name}")));
        let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
        let asked = Query { condition: condition.clone(), ..query(&ds) };
        let slip = asked.look_into(&lens, faults, id, "").unwrap();
        // A group in which nothing is said narrows no view.
        let condition = condition.as_open_to(&lens, faults);
        let test = |check: &Check| Condition::Test(Test { path: vec![id], of: Quantity::Any, check: check.clone() });
        let found = |more: Vec<Condition>| Condition::All([vec![condition.clone()], more].concat()).matching(&lens, faults).count_ones(..);
        match &slip.drawing {
            SlipDrawing::Nothing => prop_assert_eq!(found(vec![test(&Check::Filled)]), 0),
            SlipDrawing::Runs { runs, years, .. } => {
                // Years and months add up to the same, where days are drawn.
                let of_days = if years.is_empty() { 0 } else { found(vec![test(&Check::Filled)]) };
                prop_assert_eq!(years.iter().map(|year| year.year.count).sum::<usize>(), of_days);
                for SlipYear { year, months } in years {
                    prop_assert_eq!(months.iter().map(|month| month.count).sum::<usize>(), year.count);
                    for run in months.iter().chain([year]) {
                        prop_assert_eq!(run.count, found(vec![test(&run.since), test(&run.until)]), "{} of {}", run.from, year.from);
                    }
                }
                prop_assert_eq!(runs.iter().map(|run| run.count).sum::<usize>(), found(vec![test(&Check::Filled)]));
                for run in runs {
                    prop_assert_eq!(run.count, found(vec![test(&run.since), test(&run.until)]), "{} to {}", run.from, run.to);
                    let outside = found(vec![Condition::Any(vec![test(&run.before), test(&run.behind)])]);
                    prop_assert_eq!(run.count + outside, found(vec![test(&Check::Filled)]), "{} to {}", run.from, run.to);
                }
            }
            SlipDrawing::Values { values, .. } => {
                for value in values {
                    prop_assert_eq!(value.count, found(vec![test(&value.only)]), "{}", &value.text);
                    prop_assert_eq!(value.count + found(vec![test(&value.without)]), found(Vec::new()), "{}", &value.text);
                }
            }
        }
    }
}

#[test]
fn every_kind_has_a_slip() {
    let ds = demo();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    for home in ds.tables() {
        for def in &home.def.fields {
            let asked = Query { fields: vec![ShownField { field: def.id, width: 100 }], ..Query::default() };
            let slip = asked.look_into(&lens, home.def.id, def.id, "").unwrap_or_else(|f| panic!("{}: {f:?}", def.name));
            assert!(slip.says.ends_with('.'), "{}", slip.says);
            let files = matches!(def.kind, Kind::Files | Kind::Button { .. });
            assert_eq!(files, phrases(&slip, "stands").is_empty(), "{}", def.name);
        }
    }
}

#[test]
fn values_are_looked_for_by_words_and_texts_are_counted_where_they_repeat() {
    let ds = demo();
    let nadia = asker(&ds, "Nadia");
    let clock = clock();
    let lens = Lens::new(&ds, nadia, &clock);
    let look = |table_name: &str, name: &str, search: &str| {
        let at = table(&ds, table_name);
        let drawn = Query::default().look_into(&lens, at, field(&ds, &format!("{table_name}.{name}")), search).unwrap().drawing;
        if let SlipDrawing::Values { values, more } = drawn { Some((values, more)) } else { None }
    };
    let (all, more) = look("Faults", "Section", "").unwrap();
    assert!(all.len() == 12 && more > 0);
    let name = &all[3].text;
    let (start, end) = name.split_once(' ').unwrap();
    let (found, more) = look("Faults", "Section", &format!("{} {}", end.to_uppercase(), &start[..2])).unwrap();
    assert!(found.iter().any(|value| value.text == *name) && found.len() + more < 64, "{found:?}");
    assert_eq!(look("Faults", "Section", "no such place"), Some((Vec::new(), 0)));
    // Suppliers repeat, titles of sections do not.
    let (suppliers, _) = look("Materials", "Supplier", "").unwrap();
    assert!(suppliers[0].count > 1);
    let at = table(&ds, "Materials");
    for value in &suppliers {
        let supplier = field(&ds, "Materials.Supplier");
        let count = |check: &Check| test(&[supplier], check.clone()).matching(&lens, at).count_ones(..);
        assert_eq!(count(&value.only), value.count, "{}", value.text);
        assert_eq!(count(&value.without), 42 - value.count, "{}", value.text);
    }
    assert_eq!(look("Materials", "Name", ""), None);
    assert_eq!(look("Materials", "Name", "oak gate").unwrap().0[0].text, "Oak gate post");
}
