//! Every rule read back.

use crate::fixture::*;
use westerfall_core::{
    access::{Lens, role_sentences},
    condition::{Check, Comparison, Condition, Period, Quantity, Test, TextMatch, When, Who},
    sentence::as_text,
    view::{Query, Window},
};

#[test]
fn every_check_reads_as_a_sentence() {
    let (ds, clock) = (demo(), clock());
    let faults = table(&ds, "Faults");
    let lens = Lens::of_everything(&ds, None, &clock);
    let f = |path: &str| field(&ds, path);
    let one = |name: &str, check: Check| test(&[f(&format!("Faults.{name}"))], check);
    let text = |how| one("What is wrong", Check::Text { how, text: "gate ".into() });
    let number = |how| one("Hours needed", Check::Number { how, than: "12.5".parse().unwrap() });
    let day = |how, than| one("Due", Check::Day { how, than });
    let within = |period| one("Reported on", Check::Within { period });
    let status = |not, names: &[&str]| {
        let any = names.iter().map(|n| option(&ds, &format!("Faults.Status.{n}"))).collect();
        one("Status", Check::Option { not, any })
    };
    let along = |path: &[&str], of, check| Condition::Test(Test { path: path.iter().map(|p| f(p)).collect(), of, check });
    let me = || Check::Person { not: false, any: vec![Who::Me] };
    let lines = [
        one("Description", Check::Empty),
        one("Pictures", Check::Filled),
        text(TextMatch::Contains),
        text(TextMatch::Lacks),
        text(TextMatch::Is),
        text(TextMatch::IsNot),
        text(TextMatch::Starts),
        number(Comparison::Is),
        number(Comparison::IsNot),
        number(Comparison::Under),
        number(Comparison::AtMost),
        number(Comparison::Over),
        number(Comparison::AtLeast),
        one("Hours needed", Check::Between { least: "1".parse().unwrap(), most: "1200".parse().unwrap() }),
        day(Comparison::Is, When::Today(0)),
        day(Comparison::Under, When::Today(-1)),
        day(Comparison::AtMost, When::Today(1)),
        day(Comparison::Over, When::Today(14)),
        day(Comparison::AtLeast, When::Today(-30)),
        day(Comparison::IsNot, When::Date("2026-11-18".parse().unwrap())),
        one("Created at", Check::Older { days: 90 }),
        within(Period::ThisWeek),
        within(Period::LastQuarter),
        within(Period::LastDays(7)),
        within(Period::NextDays(14)),
        status(false, &["reported"]),
        status(true, &["made good", "no action"]),
        status(false, &["reported", "checked", "scheduled"]),
        one("Warden", me()),
        one("Warden", Check::Person { not: true, any: vec![Who::Person(person(&ds, "Idris")), Who::Me] }),
        one("Section", Check::Record { not: false, any: vec![record(1), record(2)] }),
        along(&["Faults.Section", "Sections.District", "Districts.Warden"], Quantity::Any, me()),
        along(&["Faults.Section", "Sections.Faults", "Faults.Severity"], Quantity::Any, Check::Filled),
        along(&["Faults.Section", "Sections.Faults", "Faults.Due"], Quantity::All, Check::Filled),
        along(&["Faults.Section", "Sections.Faults", "Faults.Due"], Quantity::None, Check::Within { period: Period::Today }),
        Condition::All(vec![status(false, &["reported"]), Condition::Any(vec![one("Pictures", Check::Filled), text(TextMatch::Contains)])]),
        Condition::Any(vec![
            Condition::All(vec![status(false, &["reported"]), one("Pictures", Check::Filled)]),
            Condition::All(vec![one("Warden", me())]),
        ]),
    ];
    let written: Vec<String> = lines.iter().map(|c| c.to_sentence(&lens, faults)).collect();
    insta::assert_snapshot!(written.join("\n"));
    for condition in &lines {
        condition.check(&ds, faults).expect("each of these fits");
    }
}

#[test]
fn views_roles_and_automations_read_back() {
    let (ds, clock) = (demo(), clock());
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let mut lines: Vec<String> = Vec::new();
    for view in ds.views() {
        let outcome = view.query.run(&lens, view.table, &Window::default());
        lines.push(format!(
            "{}: {}",
            view.name,
            as_text(&view.query.to_sentence(&lens, view.table, outcome.total, outcome.matching, None))
        ));
    }
    for role in ds.roles() {
        for (at, text) in role_sentences(role, &lens) {
            lines.push(format!("{}, {}: {text}", role.name, ds.table(at).unwrap().def.name));
        }
    }
    for automation in ds.automations() {
        lines.push(format!("{}:", automation.name));
        lines.extend(automation.to_sentences(&lens).iter().map(|clause| format!("{} {}", clause.word, as_text(&clause.phrases))));
    }
    insta::assert_snapshot!(lines.join("\n"));
}

#[test]
fn a_sentence_counts_only_what_its_reader_may_see() {
    let (ds, clock) = (demo(), clock());
    let view = ds.views().find(|v| v.name == "To be put right").unwrap();
    let start = |who: &str| {
        let lens = Lens::new(&ds, asker(&ds, who), &clock);
        let outcome = Query::run(&view.query, &lens, view.table, &Window::default());
        as_text(&view.query.to_sentence(&lens, view.table, outcome.total, outcome.matching, None))
            .split(" where")
            .next()
            .unwrap()
            .to_owned()
    };
    let (nadia, tamsin) = (start("Nadia"), start("Tamsin"));
    assert!(nadia.ends_with("of 120 faults"), "{nadia}");
    assert!(tamsin.ends_with("of 25 faults"), "{tamsin}");
}

#[test]
fn conditions_keep_their_shape_in_json() {
    let ds = demo();
    let condition = Condition::All(vec![
        test(&[field(&ds, "Faults.Due")], Check::Day { how: Comparison::AtMost, than: When::Today(7) }),
        test(&[field(&ds, "Faults.Warden")], Check::Person { not: false, any: vec![Who::Me, Who::Person(person(&ds, "Idris"))] }),
        test(&[field(&ds, "Faults.Reported on")], Check::Within { period: Period::LastDays(7) }),
    ]);
    let json = serde_json::to_string(&condition).unwrap();
    insta::assert_snapshot!(json);
    assert_eq!(serde_json::from_str::<Condition>(&json).unwrap(), condition);
}
