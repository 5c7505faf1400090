//! Formulas over the demo's tracker: names, links, lists, and what a coordinator is told when one is mistyped.

use crate::fixture::*;
use proptest::prelude::*;
use westerfall_core::{
    access::Lens,
    dataset::Dataset,
    fault::FaultKind,
    formula::{Formula, MAX_DEPTH, Type},
    id::TableId,
    intent::Intent,
    part::Part,
    schema::{Kind, TableDef},
};

fn read(ds: &Dataset, home: &str, text: &str) -> westerfall_core::formula::Parsed {
    Formula::read(text, ds, table(ds, home))
}

/// A table with a formula in a field of its own.
fn with(ds: &Dataset, home: &str, name: &str, text: &str) -> Result<TableDef, String> {
    let reading = read(ds, home, text);
    if let Some(fault) = reading.faults.first() {
        return Err(fault.message.clone());
    }
    let mut def = (*ds.table(table(ds, home)).unwrap().def).clone();
    let kind = Kind::Calculation { formula: reading.formula, shows: Box::new(Kind::of_type(reading.result.of)) };
    let mut field = def.fields[0].clone();
    field.id = westerfall_core::id::FieldId::new(ds.next_id()).unwrap();
    (field.name, field.kind, field.required) = (name.into(), kind, false);
    def.fields.push(field);
    Ok(def)
}

/// What a formula gives for a record.
fn value(home: &str, r: u32, text: &str) -> String {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let def = match with(&ds, home, "Tried", text) {
        Ok(def) => def,
        Err(message) => return format!("fault: {message}"),
    };
    if let Err(faults) = act(&mut ds, nadia, &Intent::Save(Part::Table(def))) {
        return format!("fault: {}", faults.0[0].message);
    }
    let clock = clock();
    let lens = Lens::of_everything(&ds, None, &clock);
    lens.text_at(table(&ds, home), record(r), field(&ds, &format!("{home}.Tried")))
}

#[track_caller]
fn check(home: &str, r: u32, text: &str, expected: &str) {
    assert_eq!(value(home, r, text), expected, "{text}");
}

#[test]
fn names_of_several_words_links_and_lists_are_followed() {
    let ds = demo();
    let clock = clock();
    let lens = Lens::of_everything(&ds, None, &clock);
    let shown = |path: &str, r: u32| {
        let (name, _) = path.split_once('.').unwrap();
        lens.text_at(table(&ds, name), record(r), field(&ds, path))
    };
    check("Faults", 3, "Section.District.Name", &shown("Faults.District", 3));
    check("Faults", 3, "District.Warden & \"\"", &shown("Faults.Warden", 3));
    check("Faults", 3, "'Reporter’s mail'", &shown("Faults.Reporter’s mail", 3));
    check("Faults", 3, "reporter’s mail", &shown("Faults.Reporter’s mail", 3));
    check("Sections", 5, "COUNT(Faults where Status <> \"made good\" and 1)", "fault: an operator or a comma is missing before “and 1”");
    check("Sections", 5, "COUNT(Faults where AND(Status <> \"made good\", Status <> \"no action\"))", &shown("Sections.Open faults", 5));
    check(
        "Districts",
        1,
        "COUNT(Sections.Faults where NOT(OR(Status = \"made good\", Status = \"no action\")))",
        &shown("Districts.Open faults", 1),
    );
    // Behind where, names mean the linked table first, then this one.
    check(
        "Districts",
        1,
        "COUNT(Sections where Name = \"nowhere\") + COUNT(Sections where Season budget > 0)",
        &shown("Districts.Section count", 1),
    );
    check("Districts", 1, "SUM(Work orders.Total)", &shown("Districts.Money spent", 1).replace('£', ""));
    check("Districts", 1, "COUNT(Sections.Name where Length >= 0)", "0");
    check("Districts", 1, "COUNTA(Sections.Name where Length >= 0)", &shown("Districts.Section count", 1));
    check("Faults", 3, "IF(Due = \"\", \"none\", \"some\")", "some");
    check("Faults", 3, "YEAR(Created at)", "2,026");
    check("Faults", 3, "ISBLANK(Planned for + 3)", "yes");
    check("Work orders", 1, "COUNT(Faults) & \" \" & (Finished > Started)", "2 TRUE");
}

/// Ten ways to mistype, ten messages to act on.
#[test]
fn what_a_coordinator_mistypes_is_told_at_its_place_in_plain_words() {
    let ds = demo();
    let told = |home: &str, text: &str| {
        let faults = read(&ds, home, text).faults;
        let mut lines = vec![text.to_owned()];
        for fault in &faults {
            let (from, to) = (fault.span.from as usize, fault.span.to as usize);
            lines.push(format!("{}{}", " ".repeat(from), "^".repeat((to - from).max(1))));
            let instead = fault.instead.as_ref().map(|i| format!(" → {i}")).unwrap_or_default();
            lines.push(format!("{}{instead}", fault.message));
        }
        lines.join("\n")
    };
    let typed = [
        ("Materials", "Unit prise * 2"),
        ("Materials", "SUMM(Unit price)"),
        ("Faults", "Status = \"mad good\""),
        ("Faults", "Hours needed * (2 + 1"),
        ("Faults", "Reported on * 2"),
        ("Faults", "What is wrong + Kind"),
        ("Faults", "Status.Name"),
        ("Faults", "Section.Lenght"),
        ("Districts", "Sections.Length * 2"),
        ("Faults", "ROUND(Hours needed, 1, 2)"),
        ("Faults", "TODAY - Reported on"),
        ("Faults", "IF(Severity = dangerous, 1, 2)"),
        ("Faults", "Due = \"18/11/2026\""),
        ("Faults", "COUNT(Status where TRUE)"),
        ("Faults", "Hours needed 2"),
        ("Faults", "2 +"),
        ("Faults", "\"open"),
        ("Faults", "Due + Reported on"),
        ("Faults", "Warden = \"Tamsin Oak\""),
        ("Sections", "COUNT(Faults where Status)"),
        ("Faults", ""),
    ];
    let told: Vec<String> = typed.iter().map(|(home, text)| told(home, text)).collect();
    insta::assert_snapshot!(told.join("\n\n"));
}

#[test]
fn a_circle_is_refused_and_named_in_order() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let def = with(&ds, "Sections", "Cost", "COUNT(Faults)").unwrap();
    act(&mut ds, nadia, &Intent::Save(Part::Table(def))).unwrap();
    let def = with(&ds, "Faults", "Share", "1 / Section.Cost").unwrap();
    act(&mut ds, nadia, &Intent::Save(Part::Table(def))).unwrap();
    let mut def = (*ds.table(table(&ds, "Sections")).unwrap().def).clone();
    let cost = def.fields.iter_mut().find(|f| f.name == "Cost").unwrap();
    let formula = read(&ds, "Sections", "SUM(Faults.Share)").formula;
    cost.kind = Kind::Calculation { formula, shows: Box::new(Kind::of_type(Type::Number)) };
    let refused = act(&mut ds, nadia, &Intent::Save(Part::Table(def))).unwrap_err();
    assert_eq!(refused.0[0].kind, FaultKind::BadRule);
    let message = &refused.0[0].message;
    assert!(message.contains("“Cost” in Sections needs “Share” in Faults needs “Cost” in Sections"), "{message}");
    let own = read(&ds, "Faults", "Share + 1").formula;
    let mut def = (*ds.table(table(&ds, "Faults")).unwrap().def).clone();
    let share = def.fields.iter_mut().find(|f| f.name == "Share").unwrap();
    share.kind = Kind::Calculation { formula: own, shows: Box::new(Kind::of_type(Type::Number)) };
    let refused = act(&mut ds, nadia, &Intent::Save(Part::Table(def))).unwrap_err();
    assert!(refused.0[0].message.contains("“Share” in Faults would need its own value"), "{}", refused.0[0].message);
}

#[test]
fn renaming_a_field_a_table_or_an_option_breaks_no_formula() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let open = "Districts.Open faults";
    let before = Lens::of_everything(&ds, None, &clock()).text_at(table(&ds, "Faults"), record(9), field(&ds, "Faults.Days open"));
    let mut def = (*ds.table(table(&ds, "Faults")).unwrap().def).clone();
    def.name = "Troubles".into();
    for field in &mut def.fields {
        if field.name == "Status" {
            field.name = "State (now)".into();
            let Kind::Choice { options, .. } = &mut field.kind else { panic!("a choice") };
            options.iter_mut().find(|o| o.name == "made good").unwrap().name = "done \"well\"".into();
        }
    }
    act(&mut ds, nadia, &Intent::Save(Part::Table(def))).unwrap();
    let (_, days) = ds.field(field(&ds, "Troubles.Days open")).unwrap();
    let Kind::Calculation { formula, .. } = &days.kind else { panic!("a calculation") };
    let text = formula.text(&ds);
    assert_eq!(text, "IF(OR('State (now)' = \"done \"\"well\"\"\", 'State (now)' = \"no action\"), \"\", TODAY() - Reported on)");
    let again = Formula::read(&text, &ds, table(&ds, "Troubles"));
    assert_eq!((&again.formula, again.faults), (formula, Vec::new()));
    assert_eq!(
        Lens::of_everything(&ds, None, &clock()).text_at(table(&ds, "Troubles"), record(9), field(&ds, "Troubles.Days open")),
        before
    );
    assert!(ds.field(field(&ds, open)).is_some());
}

/// Pieces of formulas, good and bad, put together at random.
fn scrap() -> impl Strategy<Value = String> {
    let piece = prop_oneof![
        prop::sample::select(vec![
            "Hours needed",
            "Section",
            "District",
            "Name",
            "Faults",
            "Status",
            "Reported on",
            "Due",
            "Work orders",
            "Total",
            "Length",
            "where",
            "SUM(",
            "COUNT(",
            "IF(",
            "OR(",
            "TODAY()",
            "TEXTJOIN(\",\", TRUE,",
            "REPT(",
            "UNIQUE(",
            "ROUND(",
            "INDEX(",
            "EDATE(",
            "MID(",
            "(",
            ")",
            ",",
            ";",
            ".",
            "+",
            "-",
            "*",
            "/",
            "^",
            "&",
            "=",
            "<>",
            "<",
            "%",
            "'",
            "\"",
            "\"made good\"",
            "1",
            "0.5",
            "1E9",
            "99999999999999999999999999",
            "TRUE",
            " ",
            "é",
            "{",
            "}",
            "\u{2212}",
            "🌾",
        ])
        .prop_map(str::to_owned),
        "\\PC{0,3}",
    ];
    prop::collection::vec(piece, 0..24).prop_map(|pieces| pieces.join(" "))
}

/// Reads, writes back, reads again, keeps and runs whatever was typed.
fn goes_round(text: &str, home: &str) -> Result<(), TestCaseError> {
    let ds = demo();
    let at: TableId = table(&ds, home);
    let reading = Formula::read(text, &ds, at);
    for fault in &reading.faults {
        prop_assert!(fault.span.from <= fault.span.to && fault.span.to as usize <= text.encode_utf16().count());
    }
    if reading.faults.is_empty() {
        let written = reading.formula.text(&ds);
        let again = Formula::read(&written, &ds, at);
        prop_assert_eq!((&again.formula, again.faults.len()), (&reading.formula, 0), "{}", written);
        let kept = String::from(reading.formula.clone());
        prop_assert_eq!(Formula::try_from(kept.clone()), Ok(reading.formula.clone()), "{}", kept);
        let clock = clock();
        let tried = Lens::of_everything(&ds, None, &clock).try_formula(&reading.formula, at, None, record(3)).expect("everything is open");
        prop_assert!(tried.text.len() <= 200_000);
    }
    Ok(())
}

/// What once was, or may be, hard to read: kept small.
#[test]
fn the_corpus_goes_round() {
    for line in include_str!("corpus.txt").lines() {
        for home in ["Faults", "Sections", "Work orders"] {
            goes_round(line, home).unwrap_or_else(|error| panic!("{line}: {error}"));
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: std::env::var("FUZZ_CASES").ok().and_then(|n| n.parse().ok()).unwrap_or(400), ..ProptestConfig::default() })]

    /// Whatever is typed, reading ends with a formula or faults; what was read is written back so that it reads the same,
    /// with names and with ids; and evaluating it ends.
    #[test]
    fn nothing_that_is_typed_can_break_reading_writing_or_running(text in prop_oneof![scrap(), "\\PC{0,60}"], home in prop::sample::select(vec!["Faults", "Sections", "Districts"])) {
        goes_round(&text, home)?;
    }
}

#[test]
fn no_formula_can_hang_or_take_all_memory() {
    // Every record of a table for every record of a table, again and again.
    let more = (0..6).fold("TRUE".to_owned(), |inner, _| format!("COUNT(Section.District.Sections.Faults where {inner}) > 0"));
    check("Districts", 1, &format!("COUNT(Sections.Faults where {more})"), "#LIMIT!");
    check("Districts", 1, "REPT(REPT(\"ab\", 20000), 20000)", "#LIMIT!");
    check("Districts", 1, "SUBSTITUTE(REPT(\"a\", 40000), \"a\", REPT(\"b\", 40000))", "#LIMIT!");
    let nested = format!("{}1{}", "ABS(".repeat(MAX_DEPTH - 2), ")".repeat(MAX_DEPTH - 2));
    check("Districts", 1, &nested, "1");
}
