//! What an attack found in core, each finding a case: no number is fatal, no role leaks, nothing that lands is wrong.

use crate::fixture::*;
use proptest::prelude::*;
use rust_decimal::Decimal;
use westerfall_core::{
    access::{Asker, Base, FieldRight, Lens, Reach, Right, Role, TableRights},
    automation::{self, Automation, Occasion, Recipient, Step},
    condition::{Check, Condition},
    dataset::Dataset,
    fault::FaultKind,
    formula::{Formula, Type},
    id::{AutomationId, FieldId, OptionId, RoleId, TableId},
    import::{Becomes, ColumnPlan, Heading, ImportInto, Plan, Raw, Sheet, Unmatched},
    intent::{Edit, FieldChange, Import, Intent, TableChange},
    part::Part,
    schema::{FieldDef, Hue, Kind, Link, NumberPart, Restart, TableDef},
    value::{Input, Value},
    view::{Query, ShownField, View, Window},
    wording::Wording,
};

const LARGEST: &str = "79228162514264337593543950335";

fn nadia(ds: &Dataset) -> Asker {
    asker(ds, "Nadia")
}

fn number(text: &str) -> Input {
    Input::Value(Value::Number(text.parse().unwrap()))
}

fn edit(table: TableId, record_number: u32, field: FieldId, input: Input) -> Intent {
    Intent::Edit { table, record: record(record_number), edits: vec![Edit { field, input, was: None }] }
}

/// A field of *Faults*, made by the steward.
pub(crate) fn add_field(ds: &mut Dataset, name: &str, kind: Kind) -> FieldId {
    let at = table(ds, "Faults");
    add_to(ds, at, FieldDef::new(FieldId::new(1).unwrap(), name, kind))
}

fn add_to(ds: &mut Dataset, at: TableId, field: FieldDef) -> FieldId {
    let steward = nadia(ds);
    let change = FieldChange::Add { field, before: None, other: None };
    let done = act(ds, steward, &Intent::Fields { table: at, change }).unwrap_or_else(|f| panic!("{f:?}"));
    FieldId::new(done.made.unwrap()).unwrap()
}

pub(crate) fn calculation(ds: &mut Dataset, name: &str, formula: &str, shows: Kind) -> FieldId {
    let reading = Formula::read(formula, ds, table(ds, "Faults"));
    assert!(reading.faults.is_empty(), "{formula}: {:?}", reading.faults);
    add_field(ds, name, Kind::Calculation { formula: reading.formula, shows: Box::new(shows) })
}

fn plain() -> Kind {
    Kind::Number { decimals: 0, unit: String::new() }
}

/// Reads every cell of every table as everybody, and every view: what a server does for screens.
fn read_everything(ds: &Dataset) {
    let clock = clock();
    for person in ds.people.iter() {
        let lens = Lens::new(ds, Asker::Person(person.id), &clock);
        for home in ds.tables() {
            let fields: Vec<FieldId> = home.def.fields.iter().map(|f| f.id).collect();
            let records = records(ds, home.def.id);
            lens.rows(home.def.id, &records, &fields);
            let query = Query { fields: fields.iter().map(|f| ShownField { field: *f, width: 80 }).collect(), ..Query::default() };
            let outcome = query.run(&lens, home.def.id, &Window { rows: 0..50, keep: &[], own: None });
            query.to_sentence(&lens, home.def.id, outcome.total, outcome.matching, None);
        }
    }
}

// 1: no input stops a tracker.

#[test]
fn a_number_too_large_for_a_date_or_a_duration_is_an_error_in_its_cell() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let days = add_field(&mut ds, "Days", plain());
    let date = Kind::Date;
    let mut computed = vec![
        calculation(&mut ds, "As duration", "Days", Kind::Duration),
        calculation(&mut ds, "As share", "Days", Kind::Percent { decimals: 0 }),
    ];
    for (n, formula) in [
        "Reported on + Days",
        "EDATE(TODAY(), Days)",
        "EOMONTH(TODAY(), Days)",
        "DATE(2026, 1, Days)",
        "DATE(2026, Days, 1)",
        "TODAY() - Days",
    ]
    .iter()
    .enumerate()
    {
        let dated = formula.replace("Reported on", "TODAY()");
        computed.push(calculation(&mut ds, &format!("Date {n}"), &dated, date.clone()));
    }
    for (n, formula) in
        ["EVEN(Days)", "ODD(Days)", "YEAR(Days)", "MOD(Days, 7)", "Days * Days", "Days ^ 9", "ROUND(Days, -3)"].iter().enumerate()
    {
        computed.push(calculation(&mut ds, &format!("Number {n}"), formula, plain()));
    }
    computed.push(calculation(&mut ds, "Picture", "TEXT(Days, \"0%\")", Kind::Text { limit: 100 }));
    for text in [
        "7304484",
        "7304485",
        "9999999",
        "-9999999999",
        "999999999999999999999999",
        "-999999999999999999999999",
        "0.0000000000000000000000000001",
    ] {
        let who = nadia(&ds);
        act(&mut ds, who, &edit(at, 1, days, number(text))).unwrap_or_else(|f| panic!("{text}: {f:?}"));
        read_everything(&ds);
        let clock = clock();
        let lens = Lens::new(&ds, nadia(&ds), &clock);
        for field in &computed {
            lens.text_at(at, record(1), *field);
            lens.why(at, record(1), *field);
        }
    }
}

#[test]
fn numbers_beyond_what_is_taken_are_refused_with_a_plain_fault() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    for kind in [plain(), Kind::Percent { decimals: 0 }, Kind::Duration, Kind::Money { currency: "GBP".into() }] {
        let name = format!("Of {}", kind.name());
        let field = add_field(&mut ds, &name, kind);
        for text in [LARGEST, "1000000000000000000000000", "-1000000000000000000000000"] {
            let faults = ds.decide(&edit(at, 1, field, number(text)), nadia(&ds), &clock()).unwrap_err();
            assert_eq!((faults.0[0].kind, &*faults.0[0].pointer), (FaultKind::WrongKind, "/edits/0"), "{name} {text}");
        }
    }
}

#[test]
fn a_rule_that_counts_too_many_days_is_refused_and_an_old_one_is_harmless() {
    let mut ds = demo();
    let due = field(&ds, "Faults.Due");
    let at = table(&ds, "Faults");
    let older = test(&[due], Check::Older { days: 9_999_999 });
    let mut role = ds.roles().find(|r| r.name == "Warden").unwrap().clone();
    role.tables.get_mut(&at).unwrap().look = Reach::Where(older.clone());
    assert!(ds.decide(&Intent::Save(Part::Role(role.clone())), nadia(&ds), &clock()).is_err());
    // One that was kept before there was a limit is read like any other.
    ds.load_part(&Part::Role(role));
    read_everything(&ds);
    let lens_clock = clock();
    let tamsin = Lens::new(&ds, asker(&ds, "Tamsin"), &lens_clock);
    assert!(!older.holds(&tamsin, at, record(1)));
}

#[test]
fn settings_of_fields_are_bounded() {
    let ds = demo();
    let at = table(&ds, "Faults");
    let counter = |digits| Kind::Numbering { parts: vec![NumberPart::Counter { digits, restarts: Restart::Never }] };
    let wide = [
        counter(70_000),
        Kind::Numbering { parts: vec![NumberPart::Fixed { text: "a".repeat(1_000_000) }] },
        Kind::Number { decimals: 4_000_000, unit: String::new() },
        Kind::Percent { decimals: 4_000_000 },
        Kind::Text { limit: usize::MAX },
        Kind::Number { decimals: 0, unit: "x".repeat(10_000) },
    ];
    for kind in wide {
        let field = FieldDef::new(FieldId::new(1).unwrap(), "New", kind.clone());
        let change = FieldChange::Add { field, before: None, other: None };
        let faults = ds.decide(&Intent::Fields { table: at, change }, nadia(&ds), &clock()).unwrap_err();
        assert_eq!(faults.0[0].kind, FaultKind::TooLong, "{}", kind.name());
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// Whatever value a cell takes, every later read and write of the tracker works.
    #[test]
    fn whatever_is_taken_breaks_nothing_later(
        mantissa in any::<i128>().prop_map(|m| m % (1_i128 << 95)), scale in 0_u32..=28,
        kind in 0_usize..5, days in any::<i64>(),
    ) {
        let mut ds = demo();
        let at = table(&ds, "Faults");
        let kinds = [plain(), Kind::Percent { decimals: 1 }, Kind::Duration, Kind::Money { currency: "JPY".into() }, Kind::Date];
        let typed_as = kinds[kind].clone();
        let field = add_field(&mut ds, "Odd", typed_as.clone());
        if typed_as != Kind::Date {
            for (n, formula) in ["Odd * 3 + 1", "TODAY() + Odd", "Odd / 7 - Odd", "TEXT(Odd, \"#,##0.00%\")", "SUM(Odd, Odd, Odd) & \"\""].iter().enumerate() {
                let shows = match n { 1 => Kind::Date, 3 | 4 => Kind::Text { limit: 100 }, _ => typed_as.clone() };
                calculation(&mut ds, &format!("From odd {n}"), formula, shows);
            }
        }
        let value = Value::Number(Decimal::from_i128_with_scale(mantissa, scale));
        let day = jiff::civil::Date::constant(2026, 1, 1).saturating_add(jiff::Span::new().try_days(days % 7_000_000).unwrap());
        let value = if typed_as == Kind::Date { Value::Date(day) } else { value };
        let who = nadia(&ds);
        let taken = act(&mut ds, who, &edit(at, 2, field, Input::Value(value)));
        read_everything(&ds);
        if taken.is_ok() {
            let clock = clock();
            let lens = Lens::new(&ds, who, &clock);
            prop_assert!(!lens.text_at(at, record(2), field).is_empty() || typed_as == Kind::Date);
        }
        act(&mut ds, who, &edit(at, 2, field, typed(""))).unwrap();
        ds.turn_to(clock().now.checked_add(jiff::SignedDuration::from_secs(86_400)).unwrap());
    }
}

// 3: undo asks for the rights of doing.

#[test]
fn whoever_may_not_remove_takes_back_only_what_nobody_else_has_touched() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let (tamsin, title) = (asker(&ds, "Tamsin"), field(&ds, "Faults.What is wrong"));
    let section = field(&ds, "Faults.Section");
    let added =
        act(&mut ds, tamsin, &Intent::Add { table: at, records: vec![vec![(title, typed("A step is loose")), (section, links(&[1]))]] })
            .unwrap();
    let new = added.added[0];
    assert!(!Lens::new(&ds, tamsin, &clock()).may(Right::Remove, at, new), "a warden removes nothing");
    // Her own, untouched: she may take it back.
    assert!(ds.decide(&undo(added.change.clone()), tamsin, &clock()).is_ok());
    // The log knows that somebody else touched it.
    let shared = Intent::Undo { change: Box::new(added.change.clone()), shared: true };
    assert_eq!(ds.decide(&shared, tamsin, &clock()).unwrap_err().0[0].kind, FaultKind::NotAllowed);
    // Touched by another, however it is asked.
    let steward = nadia(&ds);
    act(
        &mut ds,
        steward,
        &Intent::Edit { table: at, record: new, edits: vec![Edit { field: title, input: typed("Two steps are loose"), was: None }] },
    )
    .unwrap();
    assert_eq!(ds.decide(&undo(added.change.clone()), tamsin, &clock()).unwrap_err().0[0].kind, FaultKind::NotAllowed);
}

#[test]
fn whoever_lost_a_table_takes_nothing_back_in_it() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let wren = asker(&ds, "Wren");
    let title = field(&ds, "Faults.What is wrong");
    let added = act(&mut ds, wren, &Intent::Add { table: at, records: vec![vec![(title, typed("A gate hangs"))]] }).unwrap();
    let mut role = ds.roles().find(|r| r.name == "Volunteer").unwrap().clone();
    role.tables.insert(at, TableRights::default());
    let steward = nadia(&ds);
    act(&mut ds, steward, &Intent::Save(Part::Role(role))).unwrap();
    assert_eq!(ds.decide(&undo(added.change), wren, &clock()).unwrap_err().0[0].kind, FaultKind::NotFound);
}

#[test]
fn standing_in_ends_with_the_right_to_it_and_changes_nothing() {
    let mut ds = demo();
    let (bex, pavel) = (person(&ds, "Bex"), person(&ds, "Pavel"));
    let standing = Asker::StandingIn { by: bex, r#as: pavel };
    assert!(!standing.may_look_at(&ds), "an editor stands in for nobody");
    assert_eq!(Lens::new(&ds, standing, &clock()).count(table(&ds, "Faults")), 0);
    let mut stewards = ds.roles().find(|r| r.base == Base::Steward).unwrap().clone();
    stewards.members.insert(bex);
    let steward = nadia(&ds);
    act(&mut ds, steward, &Intent::Save(Part::Role(stewards.clone()))).unwrap();
    assert!(standing.may_look_at(&ds));
    let refused = ds.decide(&edit(table(&ds, "Faults"), 1, field(&ds, "Faults.What is wrong"), typed("x")), standing, &clock());
    assert_eq!(refused.unwrap_err().0[0].kind, FaultKind::NotAllowed);
    stewards.members.remove(&bex);
    act(&mut ds, steward, &Intent::Save(Part::Role(stewards))).unwrap();
    assert!(!standing.may_look_at(&ds));
}

// 3: what is hidden has no name.

#[test]
fn a_hidden_field_has_neither_name_nor_kind_nor_options() {
    let ds = demo();
    let clock = clock();
    let pavel = Lens::new(&ds, asker(&ds, "Pavel"), &clock);
    let at = table(&ds, "Faults");
    let mail = field(&ds, "Faults.Reporter’s mail");
    assert!(!pavel.reads(at, mail));
    let rules =
        [test(&[mail], Check::Filled), test(&[mail], Check::Older { days: 3 }), test(&[FieldId::new(9_999).unwrap()], Check::Filled)];
    let told: Vec<String> = rules.iter().map(|rule| rule.check_for(&pavel, at).unwrap_err().0[0].message.clone()).collect();
    // The same words for what is hidden and for what is not there.
    assert!(told.iter().all(|words| *words == told[0]), "{told:?}");
    // A team view that is narrowed by it comes without that, and can't be changed by whoever may not know it.
    let query = Query {
        condition: Condition::All(vec![rules[0].clone(), test(&[field(&ds, "Faults.Status")], Check::Filled)]),
        ..Query::default()
    };
    let seen = query.as_open_to(&pavel, at);
    assert_eq!(seen.condition.tests().len(), 1);
    assert!(query.asked_by(&pavel, at).is_err());
}

#[test]
fn a_formula_that_is_tried_gives_nothing_of_what_is_out_of_reach() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let status = field(&ds, "Faults.Status");
    let mail = field(&ds, "Faults.Reporter’s mail");
    let reported = test(&[status], Check::Option { not: false, any: vec![option(&ds, "Faults.Status.reported")] });
    let rights =
        TableRights { look: Reach::Where(reported.clone()), fields: [(mail, FieldRight::Hidden)].into(), ..TableRights::default() };
    let pavel = person(&ds, "Pavel");
    let role = Role {
        id: RoleId::new(1).unwrap(),
        name: "Builders".into(),
        base: Base::Builder,
        members: [pavel].into(),
        groups: [].into(),
        about: String::new(),
        tables: [(at, rights)].into(),
    };
    let others: Vec<Role> = ds.roles().filter(|r| r.members.contains(&pavel)).cloned().collect();
    let steward = nadia(&ds);
    for mut other in others {
        other.members.remove(&pavel);
        act(&mut ds, steward, &Intent::Save(Part::Role(other))).unwrap();
    }
    act(&mut ds, steward, &Intent::Make(Part::Role(role))).unwrap();
    let clock = clock();
    let lens = Lens::new(&ds, Asker::Person(pavel), &clock);
    let whole = Lens::of_everything(&ds, None, &clock);
    let out = records(&ds, at).into_iter().find(|r| !reported.holds(&whole, at, *r)).unwrap();
    let within = records(&ds, at).into_iter().find(|r| reported.holds(&whole, at, *r)).unwrap();
    let read = |text: &str| Formula::read(text, &ds, at).formula;
    assert!(lens.try_formula(&read("What is wrong"), at, None, out).is_none());
    assert!(lens.try_formula(&read("Reporter’s mail & \"\""), at, None, within).is_none());
    assert!(lens.try_formula(&read("What is wrong & \"\""), at, None, within).is_some());
}

// 4: one gate.

fn sheet_of(rows: &[&[&str]]) -> std::sync::Arc<Sheet> {
    let cell = |text: &&str| if text.is_empty() { Raw::Empty } else { Raw::Text((*text).into()) };
    Sheet { name: "s".into(), rows: rows.iter().map(|row| row.iter().map(cell).collect()).collect(), ..Sheet::default() }.into()
}

fn column(place: usize, name: &str, field: FieldId) -> ColumnPlan {
    ColumnPlan { becomes: Becomes::Existing { field, unmatched: Unmatched::Flag }, ..ColumnPlan::new(place, name) }
}

#[test]
fn an_import_passes_the_gate_that_typing_passes() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let code = FieldDef { unique: true, ..FieldDef::new(FieldId::new(1).unwrap(), "Code", Kind::Text { limit: 20 }) };
    let code = add_to(&mut ds, at, code);
    let title = field(&ds, "Faults.What is wrong");
    let who = nadia(&ds);
    act(&mut ds, who, &edit(at, 1, code, typed("A1"))).unwrap();
    let refused = ds.decide(&edit(at, 2, code, typed("a1")), who, &clock()).unwrap_err();
    assert_eq!(refused.0[0].pointer, "/edits/0");
    let plan = Plan {
        heading: Heading::row(0),
        without: Vec::new(),
        into: ImportInto::Table { table: at, key: None },
        columns: vec![column(0, "Title", title), column(1, "Code", code)],
    };
    let import = Import { plan, sheet: sheet_of(&[&["Title", "Code"], &["One", "A1"], &["Two", "B2"], &["Three", "b2"]]) };
    let rehearsal = ds.rehearse_import(&import, who, &clock()).unwrap();
    assert_eq!((rehearsal.added, rehearsal.rejected_count), (3, 2), "{:?}", rehearsal.rejected);
    act(&mut ds, who, &Intent::Import(Box::new(import))).unwrap();
    let held: Vec<String> = records(&ds, at)
        .into_iter()
        .filter_map(|r| if let Value::Text(t) = value(&ds, at, r, code) { Some(t.to_lowercase()) } else { None })
        .collect();
    let mut once = held.clone();
    once.sort();
    once.dedup();
    assert_eq!(once.len(), held.len(), "{held:?}");
}

#[test]
fn an_imports_rehearsal_tells_nothing_of_records_out_of_reach() {
    let ds = demo();
    let at = table(&ds, "Faults");
    let title = field(&ds, "Faults.What is wrong");
    let clock = clock();
    let tamsin = asker(&ds, "Tamsin");
    let lens = Lens::new(&ds, tamsin, &clock);
    let whole = Lens::of_everything(&ds, None, &clock);
    let records: Vec<westerfall_core::id::RecordId> = records(&ds, at);
    let seen_titles: std::collections::BTreeSet<String> =
        records.iter().filter(|r| lens.sees(at, **r)).map(|r| whole.text_at(at, *r, title)).collect();
    let only_there = |r: &&westerfall_core::id::RecordId| !lens.sees(at, **r) && !seen_titles.contains(&whole.text_at(at, **r, title));
    let unseen = *records.iter().find(only_there).expect("a title that only records out of reach have");
    let told = |words: &str| {
        let plan = Plan {
            heading: Heading::row(0),
            without: Vec::new(),
            into: ImportInto::Table { table: at, key: Some(title) },
            columns: vec![column(0, "Title", title)],
        };
        ds.rehearse_import(&Import { plan, sheet: sheet_of(&[&["Title"], &[words]]) }, tamsin, &clock).unwrap()
    };
    let (known, unknown) = (told(&whole.text_at(at, unseen, title)), told("Nothing is called like this"));
    assert_eq!((known.added, known.left_out, known.rejected), (unknown.added, unknown.left_out, unknown.rejected));
}

#[test]
fn several_records_at_once_and_undo_hold_each_value_once() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let code = FieldDef { unique: true, ..FieldDef::new(FieldId::new(1).unwrap(), "Code", Kind::Text { limit: 20 }) };
    let code = add_to(&mut ds, at, code);
    let who = nadia(&ds);
    let twice = Intent::Add { table: at, records: vec![vec![(code, typed("X"))], vec![(code, typed("x"))]] };
    let faults = ds.decide(&twice, who, &clock()).unwrap_err();
    assert_eq!(faults.0[0].pointer, format!("/records/1/{code}"));
    // Taking back what somebody else's value stands in the way of by now.
    let first = act(&mut ds, who, &edit(at, 1, code, typed("K"))).unwrap();
    let away = act(&mut ds, who, &edit(at, 1, code, typed("L"))).unwrap();
    act(&mut ds, who, &edit(at, 2, code, typed("K"))).unwrap();
    assert!(ds.decide(&undo(away.change.clone()), who, &clock()).is_err());
    let gone = act(&mut ds, who, &Intent::Remove { table: at, records: vec![record(2)] }).unwrap();
    act(&mut ds, who, &undo(away.change)).unwrap();
    assert!(ds.decide(&undo(gone.change), who, &clock()).is_err(), "its value is another record's by now");
    // A field that holds values twice can't begin to hold each once.
    let title = ds.table(at).unwrap().def.field(field(&ds, "Faults.Status")).unwrap().clone();
    let change = FieldChange::Change { field: FieldDef { unique: true, ..title }, merged: Vec::new() };
    assert!(ds.decide(&Intent::Fields { table: at, change }, who, &clock()).is_err());
    let _ = first;
}

#[test]
fn a_record_that_was_wrong_already_is_changed_in_its_other_fields() {
    let mut ds = demo();
    let at = table(&ds, "Sections");
    let (surface, under, name) = (field(&ds, "Sections.Surface"), field(&ds, "Sections.Sub-surface"), field(&ds, "Sections.Name"));
    let who = nadia(&ds);
    let filled = records(&ds, at).into_iter().find(|r| value(&ds, at, *r, under) != Value::Empty).unwrap();
    // As it may have been kept before the gate was there: the ground is gone, what stood on it is not.
    let before = value(&ds, at, filled, surface);
    let op = westerfall_core::history::Op::Cell { table: at, record: filled, field: surface, before, after: Value::Empty };
    let change = westerfall_core::history::Change {
        seq: ds.seq + 1,
        at: clock().now,
        who: westerfall_core::people::Actor::Westerfall,
        undoes: None,
        again: false,
        ops: vec![op],
    };
    ds.apply(&change);
    let renamed = Intent::Edit { table: at, record: filled, edits: vec![Edit { field: name, input: typed("Renamed"), was: None }] };
    act(&mut ds, who, &renamed).unwrap();
}

// 5: references once.

#[test]
fn what_shows_a_removed_field_or_table_can_still_be_saved() {
    let mut ds = demo();
    let who = nadia(&ds);
    let at = table(&ds, "Faults");
    let spare = add_field(&mut ds, "Spare", Kind::YesNo);
    let mut role = ds.roles().find(|r| r.name == "Warden").unwrap().clone();
    let id = role.id;
    role.tables.get_mut(&at).unwrap().fields.insert(spare, FieldRight::Hidden);
    act(&mut ds, who, &Intent::Save(Part::Role(role))).unwrap();
    act(&mut ds, who, &Intent::Fields { table: at, change: FieldChange::Remove(spare) }).unwrap();
    let role = ds.role(id).unwrap().clone();
    act(&mut ds, who, &Intent::Save(Part::Role(role))).unwrap();
    stand(&ds);
}

#[test]
fn two_options_that_one_view_names_go_at_once() {
    let mut ds = demo();
    let who = nadia(&ds);
    let at = table(&ds, "Faults");
    let choice = |n: u32, name: &str| westerfall_core::schema::Choice {
        id: OptionId::new(n).unwrap(),
        name: name.into(),
        hue: Hue::Fern,
        under: None,
    };
    let kind = Kind::Choice { options: vec![choice(1, "a"), choice(2, "b"), choice(3, "c")], on: None };
    let letter = add_field(&mut ds, "Letter", kind);
    let def = ds.table(at).unwrap().def.field(letter).unwrap().clone();
    let [a, b, c] = [0, 1, 2].map(|n| def.kind.options()[n].clone());
    let condition = test(&[letter], Check::Option { not: false, any: vec![a.id, b.id] });
    let view = View::new(westerfall_core::id::ViewId::new(1).unwrap(), at, "Letters", Query { condition, ..Query::default() });
    let made = act(&mut ds, who, &Intent::Make(Part::View(view))).unwrap().made.unwrap();
    let rest = FieldDef { kind: Kind::Choice { options: vec![c.clone()], on: None }, ..def };
    let change = FieldChange::Change { field: rest, merged: vec![(a.id, Some(c.id)), (b.id, Some(c.id))] };
    act(&mut ds, who, &Intent::Fields { table: at, change }).unwrap();
    let view = ds.view(westerfall_core::id::ViewId::new(made).unwrap()).unwrap();
    assert_eq!(view.query.condition, test(&[letter], Check::Option { not: false, any: vec![c.id] }));
    stand(&ds);
}

/// Every part that is there stands, and can be saved as it is.
fn stand(ds: &Dataset) {
    for part in ds.parts() {
        let removed = matches!(&part, Part::Table(t) if t.gone.is_some());
        if removed || matches!(part, Part::Table(_)) {
            continue;
        }
        let owner = if let Part::View(View { owner: Some(owner), .. }) = &part { Asker::Person(*owner) } else { nadia(ds) };
        let (sort, number) = part.key();
        let saved = ds.decide(&Intent::Save(part.clone()), owner, &clock());
        assert!(saved.is_ok(), "the {sort} {number} can't be saved any more: {:?}", saved.unwrap_err());
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    /// After any removals every part that stood still stands and can be saved; and taking them back gives what was there.
    #[test]
    fn after_any_removal_every_part_that_stood_still_stands(picks in prop::collection::vec((0_usize..4, any::<prop::sample::Index>()), 1..7)) {
        let mut ds = demo();
        let who = nadia(&ds);
        let before: Vec<Part> = ds.parts();
        let mut done = Vec::new();
        for (what, at) in picks {
            let tables: Vec<TableId> = ds.tables().map(|t| t.def.id).collect();
            let fields: Vec<(TableId, FieldId)> = ds.tables().flat_map(|t| t.def.fields.iter().map(|f| (t.def.id, f.id))).collect();
            let intent = match what {
                0 => Intent::Table(TableChange::Remove(tables[at.index(tables.len())])),
                1 | 2 => {
                    let (table, field) = fields[at.index(fields.len())];
                    Intent::Fields { table, change: FieldChange::Remove(field) }
                }
                _ => {
                    let parts: Vec<Part> = ds.parts().into_iter().filter(|p| matches!(p, Part::Form(_) | Part::Automation(_))).collect();
                    if parts.is_empty() { continue }
                    Intent::Drop(parts[at.index(parts.len())].clone())
                }
            };
            // What something else needs is refused, and that is all.
            if let Ok(decision) = act(&mut ds, who, &intent) {
                done.push(decision.change);
            }
            stand(&ds);
        }
        for change in done.into_iter().rev() {
            act(&mut ds, who, &undo(change)).map_err(|f| TestCaseError::fail(format!("{f:?}")))?;
        }
        prop_assert_eq!(ds.parts(), before);
    }
}

// 6: added, when complete and left.

#[test]
fn a_record_typed_cell_by_cell_is_added_once_it_is_complete_and_left() {
    let mut ds = demo();
    let who = nadia(&ds);
    let at = table(&ds, "Faults");
    let (title, mail) = (field(&ds, "Faults.What is wrong"), field(&ds, "Faults.Reporter’s mail"));
    let subject = Wording::parse("New: {What is wrong}", &ds, at).unwrap();
    let step = Step::Mail {
        to: Recipient::Field(vec![mail]),
        subject: subject.clone(),
        body: subject,
        digest: false,
        reply: None,
        encloses: None,
        text: None,
    };
    let added = Automation {
        id: AutomationId::new(1).unwrap(),
        table: at,
        name: "Thank them".into(),
        on: true,
        when: Occasion::Added,
        condition: Condition::default(),
        steps: vec![step],
        before: Default::default(),
        acts_for: None,
        unsaid: false,
        draft: None,
    };
    act(&mut ds, who, &Intent::Make(Part::Automation(added))).unwrap();
    let fired = |before: &Dataset, change: &westerfall_core::history::Change| {
        let moves = automation::course(std::sync::Arc::new(before.clone()), change.clone(), None, &clock());
        moves.into_iter().flat_map(|of| of.runs).flat_map(|r| r.mails).count()
    };
    let was = ds.clone();
    let begun = act(&mut ds, who, &Intent::Begin { table: at, cells: Vec::new() }).unwrap();
    let new = begun.added[0];
    assert_eq!(fired(&was, &begun.change), 0, "nothing is sent of an empty record");
    let waits = |ds: &Dataset| {
        let clock = clock();
        Lens::new(ds, who, &clock).awaits(at, new)
    };
    assert!(waits(&ds)[0].contains("reporter’s mail"), "{:?}", waits(&ds));
    let put = |ds: &mut Dataset, field, text: &str| {
        act(ds, who, &Intent::Edit { table: at, record: new, edits: vec![Edit { field, input: typed(text), was: None }] }).unwrap()
    };
    put(&mut ds, title, "A stile is broken");
    let left = act(&mut ds, who, &Intent::Leave { table: at, record: new }).unwrap();
    assert!(left.change.ops.is_empty(), "it is not complete");
    for f in ds.table(at).unwrap().def.fields.clone().iter().filter(|f| f.required && f.kind.takes_input()) {
        if f.id != title {
            let input = match &f.kind {
                Kind::Choice { options, .. } => Input::Value(Value::Choice(options[0].id)),
                Kind::Link(_) => links(&[1]),
                Kind::Date | Kind::DateTime => typed("today"),
                _ => typed("1"),
            };
            act(&mut ds, who, &Intent::Edit { table: at, record: new, edits: vec![Edit { field: f.id, input, was: None }] }).unwrap();
        }
    }
    let was = ds.clone();
    let typed_last = put(&mut ds, mail, "walker@walkers.example");
    assert_eq!(fired(&was, &typed_last.change), 0, "it is complete, and not left");
    assert!(waits(&ds)[0].contains("this record is left"));
    let was = ds.clone();
    let left = act(&mut ds, who, &Intent::Leave { table: at, record: new }).unwrap();
    assert_eq!(fired(&was, &left.change), 1);
    assert!(waits(&ds).is_empty());
    let again = act(&mut ds, who, &Intent::Leave { table: at, record: new }).unwrap();
    assert!(again.change.ops.is_empty(), "once");
    // Whoever sends a whole record at once has left it.
    let was = ds.clone();
    let whole =
        act(&mut ds, who, &Intent::Add { table: at, records: vec![vec![(title, typed("Whole")), (mail, typed("a@walkers.example"))]] })
            .unwrap();
    assert_eq!(fired(&was, &whole.change), 1);
}

#[test]
fn a_record_that_was_left_without_a_word_is_taken_for_left() {
    let mut ds = demo();
    let who = nadia(&ds);
    let at = table(&ds, "Faults");
    let subject = Wording::parse("New", &ds, at).unwrap();
    let step = Step::Mail {
        to: Recipient::Address("office@orrindale-paths.example".into()),
        subject: subject.clone(),
        body: subject,
        digest: false,
        reply: None,
        encloses: None,
        text: None,
    };
    let added = Automation {
        id: AutomationId::new(1).unwrap(),
        table: at,
        name: "Tell the office".into(),
        on: true,
        when: Occasion::Added,
        condition: Condition::default(),
        steps: vec![step],
        before: Default::default(),
        acts_for: None,
        unsaid: false,
        draft: None,
    };
    act(&mut ds, who, &Intent::Make(Part::Automation(added))).unwrap();
    let cells = ds.table(at).unwrap().def.fields.iter().filter(|f| f.required && f.kind.takes_input()).map(|f| {
        let input = match &f.kind {
            Kind::Choice { options, .. } => Input::Value(Value::Choice(options[0].id)),
            Kind::Link(_) => links(&[1]),
            Kind::Date | Kind::DateTime => typed("today"),
            _ => typed("1"),
        };
        (f.id, input)
    });
    let cells: Vec<_> = cells.collect();
    let new = act(&mut ds, who, &Intent::Begin { table: at, cells }).unwrap().added[0];
    let later = |minutes| clock().now.checked_add(jiff::SignedDuration::from_mins(minutes)).unwrap();
    assert!(ds.left_behind(later(1)).is_empty());
    assert_eq!(ds.left_behind(later(11)), [(at, new)]);
    assert!(ds.wakes_at().is_some_and(|at| at <= later(12)));
}

/// Tables of so many calculations, each of which draws on the one before it, and the first of each table on the last of the
/// table before, along a link.
fn chain(tables: u32, fields: u32) -> Dataset {
    let mut ds = demo();
    let table = |at: u32| TableId::new(50_000 + at).unwrap();
    let field = |at: u32, place: u32| FieldId::new(100_000 + at * 1_000 + place).unwrap();
    let (name, before, after) = (900, 901, 902);
    let plain = |at: u32| {
        let link = |place, to, back, holds| {
            let name = if holds { "Before" } else { "After" };
            FieldDef::new(field(at, place), name, Kind::Link(Link { to, back, one: true, holds }))
        };
        let mut all = vec![FieldDef::new(field(at, name), "Name", Kind::Text { limit: 100 })];
        all.extend((at > 0).then(|| link(before, table(at - 1), field(at - 1, after), true)));
        all.extend((at + 1 < tables).then(|| link(after, table(at + 1), field(at + 1, before), false)));
        all.extend((0..fields).map(|place| FieldDef::new(field(at, place), &format!("Step {place}"), Kind::of_type(Type::Number))));
        TableDef::new(table(at), &format!("Chain {at}"), "link", field(at, name), all)
    };
    let defs: Vec<TableDef> = (0..tables).map(plain).collect();
    defs.iter().for_each(|def| ds.load_part(&Part::Table(def.clone())));
    for (at, mut def) in (0..).zip(defs) {
        let home = def.id;
        for (place, step) in (0..).zip(def.fields.iter_mut().filter(|f| f.name.starts_with("Step"))) {
            let text = match (at, place) {
                (0, 0) => "1".to_owned(),
                (_, 0) => format!("Before.Step {} + 1", fields - 1),
                _ => format!("Step {} + 1", place - 1),
            };
            let formula = Formula::read(&text, &ds, home).formula;
            step.kind = Kind::Calculation { formula, shows: Box::new(Kind::of_type(Type::Number)) };
        }
        ds.load_part(&Part::Table(def));
    }
    ds.loaded(clock().now);
    ds
}

/// The chain with a record in each table, linked to the one before; and what the last step is called.
fn filled_chain(tables: u32) -> Dataset {
    let mut ds = chain(tables, 100);
    let steward = nadia(&ds);
    for at in 0..tables {
        let home = table(&ds, &format!("Chain {at}"));
        let before = ds.table(home).unwrap().def.fields.iter().find(|f| f.name == "Before").map(|f| (f.id, links(&[1])));
        act(&mut ds, steward, &Intent::Add { table: home, records: vec![before.into_iter().collect()] }).unwrap();
    }
    ds
}

/// A field of a table, computed by this formula.
fn computed(ds: &Dataset, at: &str, name: &str, formula: &str) -> TableDef {
    let home = table(ds, at);
    let mut def = (*ds.table(home).unwrap().def).clone();
    let formula = Formula::read(formula, ds, home).formula;
    let kind = Kind::Calculation { formula, shows: Box::new(Kind::of_type(Type::Number)) };
    match def.fields.iter_mut().find(|f| f.name == name) {
        Some(field) => field.kind = kind,
        None => def.fields.push(FieldDef::new(FieldId::new(900_000 + def.fields.len() as u32).unwrap(), name, kind)),
    }
    def
}

#[test]
fn a_long_chain_of_calculations_is_no_depth_and_a_longer_one_is_refused() {
    // Longer than may be made: as it may have been kept before there was a limit. Every reader of it still works.
    let ds = filled_chain(40);
    let (last, end) = (table(&ds, "Chain 39"), field(&ds, "Chain 39.Step 99"));
    let steward = nadia(&ds);
    assert_eq!(value(&ds, last, record(1), end), Value::Number(4_000.into()));
    let clock = clock();
    assert_eq!(Lens::new(&ds, steward, &clock).text_at(last, record(1), end), "4,000");
    assert_eq!(Lens::new(&ds, asker(&ds, "Pavel"), &clock).text_at(last, record(1), end), "4,000");
    assert!(Lens::new(&ds, steward, &clock).why(last, record(1), end).is_some());
    read_everything(&filled_chain(2));
    // Of a length that may be, it can be changed; and turned into a circle it is refused by name.
    let mut ds = filled_chain(9);
    let kept = computed(&ds, "Chain 8", "Step 99", "Step 98 + 2");
    act(&mut ds, steward, &Intent::Save(Part::Table(kept))).unwrap();
    assert_eq!(value(&ds, table(&ds, "Chain 8"), record(1), field(&ds, "Chain 8.Step 99")), Value::Number(901.into()));
    let circle = computed(&ds, "Chain 0", "Step 0", "Step 99 * 2");
    let refused = act(&mut ds, steward, &Intent::Save(Part::Table(circle))).unwrap_err();
    assert!(refused.0[0].message.contains("in a circle"), "{}", refused.0[0].message);
    let mut long = chain(11, 100);
    let kept = computed(&long, "Chain 0", "Step 0", "2");
    let refused = act(&mut long, steward, &Intent::Save(Part::Table(kept))).unwrap_err();
    assert!(refused.0[0].message.contains("“Step 99” in Chain 10 follows from more than 1000 fields"), "{}", refused.0[0].message);
}

#[test]
fn fields_that_draw_twice_on_each_of_the_last_are_asked_once_each() {
    // Two fields a step, each from both of the step before: two to the hundredth ways through them.
    let mut ds = chain(1, 200);
    let steward = nadia(&ds);
    let mut def = (*ds.table(table(&ds, "Chain 0")).unwrap().def).clone();
    for step in 2..200 {
        let back = step - step % 2;
        let formula = Formula::read(&format!("(Step {} + Step {}) / 2", back - 2, back - 1), &ds, def.id).formula;
        let kind = Kind::Calculation { formula, shows: Box::new(Kind::of_type(Type::Number)) };
        def.fields.iter_mut().find(|f| f.name == format!("Step {step}")).unwrap().kind = kind;
    }
    let home = def.id;
    act(&mut ds, steward, &Intent::Save(Part::Table(def))).unwrap();
    act(&mut ds, steward, &Intent::Add { table: home, records: vec![vec![]] }).unwrap();
    let clock = clock();
    for who in ["Nadia", "Pavel", "Tamsin", "Wren"] {
        let lens = Lens::new(&ds, asker(&ds, who), &clock);
        let told = lens.text_at(home, record(1), field(&ds, "Chain 0.Step 199"));
        assert!(told == "1.5" || !lens.opens(home) && told.is_empty(), "{who} reads {told:?}");
    }
}

#[test]
fn records_that_would_be_named_by_each_other_are_refused_and_never_fatal() {
    let ds = demo();
    let steward = nadia(&ds);
    let clock = clock();
    let sections = table(&ds, "Sections");
    let (within, parts) = (FieldId::new(800_001).unwrap(), FieldId::new(800_002).unwrap());
    let mut def = (*ds.table(sections).unwrap().def).clone();
    let link = |back, one, holds| Kind::Link(Link { to: sections, back, one, holds });
    def.fields.push(FieldDef::new(within, "Within", link(parts, true, true)));
    def.fields.push(FieldDef::new(parts, "Parts", link(within, false, false)));
    // A parent beside the name is ordinary, even where somebody made a record its own parent.
    let mut beside = ds.clone();
    act(&mut beside, steward, &Intent::Save(Part::Table(TableDef { beside: Some(within), ..def.clone() }))).unwrap();
    act(&mut beside, steward, &edit(sections, 1, within, links(&[1]))).unwrap();
    let name = Lens::new(&beside, steward, &clock).record_name(sections, record(1)).unwrap();
    assert_eq!(name.beside, name.name);
    // A parent in place of the name is a circle.
    let circle = TableDef { standing: within, ..def };
    let refused = act(&mut ds.clone(), steward, &Intent::Save(Part::Table(circle.clone()))).unwrap_err();
    assert!(refused.0[0].message.contains("named by each other in a circle: Sections by “Within”"), "{}", refused.0[0].message);
    // Kept before that was refused, it still opens, and every name ends.
    let mut kept = beside;
    kept.load_part(&Part::Table(circle));
    kept.loaded(clock.now);
    read_everything(&kept);
}
