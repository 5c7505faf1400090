//! Building: tables, fields and links, the bin, changes of kind, and packing a whole tracker.

use crate::fixture::{asker, clock, demo, field, option, record, records, rows_of, table, test, typed};
use proptest::prelude::*;
use westerfall_core::{
    access::{Asker, Lens},
    condition::{Check, Comparison},
    dataset::Dataset,
    fault::FaultKind,
    history::Change,
    id::{FieldId, TableId},
    import::{Becomes, ColumnPlan, Heading, ImportInto, Plan, Raw, Sheet, Unmatched},
    intent::{ChangeOfKind, Edit, FieldChange, Import, Intent, OtherSide, Rest, TableChange, Target},
    pack::{Pack, Packing},
    schema::{Choice, FieldDef, Hue, Kind, Link},
    value::{Input, Value},
};

fn steward() -> Asker {
    asker(&demo(), "Nadia")
}

/// Does it, and gives the change with what was made.
#[track_caller]
fn done(ds: &mut Dataset, intent: &Intent) -> (Change, Option<u32>) {
    let decision = ds.decide(intent, steward(), &clock()).unwrap_or_else(|f| panic!("{f:?}"));
    ds.apply(&decision.change);
    (decision.change, decision.made)
}

#[track_caller]
fn refused(ds: &Dataset, intent: &Intent) -> (FaultKind, String) {
    let fault = ds.decide(intent, steward(), &clock()).expect_err("it should be refused").0.remove(0);
    (fault.kind, fault.message)
}

#[track_caller]
fn undone(ds: &mut Dataset, change: Change) {
    done(ds, &crate::fixture::undo(change));
}

/// Structure and values, without when they were last touched.
fn packed(ds: &Dataset) -> Pack {
    Lens::new(ds, Asker::Westerfall, &clock()).pack(Packing::Records).unwrap()
}

/// Says where two packs differ, and not all that is in them.
#[track_caller]
fn same(now: &Pack, before: &Pack) {
    let parts = now.parts.iter().zip(&before.parts).find(|(a, b)| a != b);
    assert!(parts.is_none() && now.parts.len() == before.parts.len(), "{parts:#?}");
    for (a, b) in now.rows.iter().zip(&before.rows) {
        let fields = a.fields.iter().zip(&b.fields).find(|(x, y)| x != y);
        assert_eq!((fields, a.count), (None, b.count), "{:?}: {:?} / {:?}", a.table, a.fields, b.fields);
        let cell = a.columns.iter().flatten().zip(b.columns.iter().flatten()).find(|(x, y)| x != y);
        assert_eq!(cell, None, "{:?}", a.table);
    }
    assert_eq!(now.rows.len(), before.rows.len());
}

fn fields(table: TableId, change: FieldChange) -> Intent {
    Intent::Fields { table, change }
}

fn any() -> FieldId {
    FieldId::new(1).unwrap()
}

fn text(ds: &Dataset, table: TableId, row: u32, field: FieldId) -> String {
    Lens::new(ds, Asker::Westerfall, &clock()).text_at(table, record(row), field)
}

#[test]
fn a_link_is_made_on_both_sides_and_comes_back_from_the_bin_with_what_it_held() {
    let mut ds = demo();
    let (materials, districts) = (table(&ds, "Materials"), table(&ds, "Districts"));
    let link = FieldDef::new(any(), "Kept in", Kind::Link(Link { to: districts, back: any(), one: true, holds: true }));
    let other = Some(OtherSide { name: "Stores".into(), one: false });
    let (_, made) = done(&mut ds, &fields(materials, FieldChange::Add { field: link, before: None, other }));
    let kept_in = FieldId::new(made.unwrap()).unwrap();
    let stores = field(&ds, "Districts.Stores");
    let edit = westerfall_core::intent::Edit { field: kept_in, input: Input::Value(Value::Links(vec![record(3)])), was: None };
    done(&mut ds, &Intent::Edit { table: materials, record: record(2), edits: vec![edit] });
    assert_eq!(text(&ds, districts, 3, stores), text(&ds, materials, 2, field(&ds, "Materials.Name")));

    // Removed from either side, it is gone from both, and its values are kept with the record.
    done(&mut ds, &fields(districts, FieldChange::Remove(stores)));
    assert!(ds.field(kept_in).is_none() && ds.field(stores).is_none());
    let kept = ds.record_to_keep(materials, record(2)).unwrap();
    assert!(kept.cells.iter().any(|(f, value)| *f == kept_in && *value == Value::Links(vec![record(3)])));
    done(&mut ds, &fields(materials, FieldChange::Restore(kept_in)));
    assert_eq!(text(&ds, districts, 3, stores), text(&ds, materials, 2, field(&ds, "Materials.Name")));
}

#[test]
fn what_needs_a_field_holds_it_and_what_only_shows_it_lets_it_go() {
    let mut ds = demo();
    let faults = table(&ds, "Faults");
    let severity = field(&ds, "Faults.Severity");
    let (kind, message) = refused(&ds, &fields(faults, FieldChange::Remove(severity)));
    assert_eq!(kind, FaultKind::InUse);
    assert!(message.contains("Due"), "{message}");
    let hours = field(&ds, "Faults.Hours needed");
    let shown = |ds: &Dataset| {
        ds.views().filter(|v| v.query.fields.iter().any(|f| f.field == hours) || v.query.tallies.iter().any(|t| t.field == hours)).count()
    };
    assert!(shown(&ds) > 0);
    let before = packed(&ds);
    let (change, _) = done(&mut ds, &fields(faults, FieldChange::Remove(hours)));
    assert_eq!(shown(&ds), 0);
    undone(&mut ds, change);
    same(&packed(&ds), &before);
    // A table goes with its links, views and forms, and its records wait for it.
    let parts = table(&ds, "Materials");
    assert_eq!(refused(&ds, &Intent::Table(TableChange::Remove(parts))).0, FaultKind::InUse);
}

#[test]
fn an_option_that_goes_becomes_another_in_records_and_views() {
    let mut ds = demo();
    let faults = table(&ds, "Faults");
    let kind = field(&ds, "Faults.Kind");
    let (signage, surface) = (option(&ds, "Faults.Kind.signage"), option(&ds, "Faults.Kind.surface"));
    let holds = |ds: &Dataset, wanted| {
        records(ds, faults).into_iter().filter(|r| crate::fixture::value(ds, faults, *r, kind) == Value::Choice(wanted)).count()
    };
    let (was, into) = (holds(&ds, signage), holds(&ds, surface));
    assert!(was > 0);
    let (_, def) = ds.field(kind).unwrap();
    let mut def = def.clone();
    let Kind::Choice { options, .. } = &mut def.kind else { panic!("a choice") };
    options.retain(|o| o.id != signage);
    let change = |merged| fields(faults, FieldChange::Change { field: def.clone(), merged });
    let (kind_of, message) = refused(&ds, &change(Vec::new()));
    assert_eq!((kind_of, message.contains("signage")), (FaultKind::InUse, true));
    let before = packed(&ds);
    let (step, _) = done(&mut ds, &change(vec![(signage, Some(surface))]));
    assert_eq!((holds(&ds, signage), holds(&ds, surface)), (0, was + into));
    undone(&mut ds, step);
    same(&packed(&ds), &before);
}

#[test]
fn a_text_becomes_a_link_and_nothing_typed_is_lost() {
    let mut ds = demo();
    let (materials, faults) = (table(&ds, "Materials"), table(&ds, "Faults"));
    let supplier = field(&ds, "Materials.Supplier");
    let before = packed(&ds);
    // First a table of the suppliers: those of them that are there, and one that is not.
    let names: Vec<String> = (1..=records(&ds, materials).len() as u32).map(|r| text(&ds, materials, r, supplier)).collect();
    let def = westerfall_core::schema::TableDef::new(
        materials,
        "Suppliers",
        "supplier",
        any(),
        vec![FieldDef::new(any(), "Name", Kind::Text { limit: 100 })],
    );
    let (_, made) = done(&mut ds, &Intent::Table(TableChange::Add(def)));
    let suppliers = TableId::new(made.unwrap()).unwrap();
    let by = field(&ds, "Suppliers.Name");
    done(&mut ds, &Intent::Add { table: suppliers, records: vec![vec![(by, typed(&names[0].to_uppercase()))]] });
    let lens = Lens::new(&ds, steward(), &clock()).propose_links(materials, supplier);
    assert!(lens.iter().all(|p| p.to != faults));

    let change = |rest| ChangeOfKind {
        table: materials,
        field: supplier,
        to: Target::Link { to: suppliers, by, one: true, other: OtherSide { name: "Materials".into(), one: false }, separator: None },
        rest,
    };
    let told = ds.rehearse_kind(&change(Rest::Spare), steward(), &clock()).unwrap();
    assert!(told.fit > 0 && told.fit < told.filled && !told.unfit.is_empty());
    let (step, _) = done(&mut ds, &Intent::ChangeKind(change(Rest::Spare)));
    let spare = field(&ds, "Materials.Supplier as it was");
    for (n, name) in names.iter().enumerate() {
        let row = u32::try_from(n + 1).unwrap();
        let (link, kept) = (text(&ds, materials, row, supplier), text(&ds, materials, row, spare));
        assert!(link.eq_ignore_ascii_case(name) || kept == *name, "{name}: {link}, {kept}");
    }
    undone(&mut ds, step);
    let (step, _) = done(&mut ds, &Intent::ChangeKind(change(Rest::Create)));
    let different: std::collections::BTreeSet<String> = names.iter().map(|n| n.to_lowercase()).collect();
    assert_eq!(records(&ds, suppliers).len(), different.len());
    assert!((1..).zip(&names).all(|(row, name)| text(&ds, materials, row, supplier).eq_ignore_ascii_case(name)));
    undone(&mut ds, step);
    let rows = |pack: &Pack| Pack {
        parts: Vec::new(),
        rows: pack.rows.iter().filter(|r| r.table == materials).cloned().collect(),
        ..pack.clone()
    };
    same(&rows(&packed(&ds)), &rows(&before));
}

#[test]
fn a_packed_tracker_unpacks_into_its_equal() {
    let ds = demo();
    let whole = |ds: &Dataset| Lens::new(ds, Asker::Westerfall, &clock()).pack(Packing::Whole).unwrap();
    let pack = whole(&ds);
    let people = ds.people.clone();
    let mut again = Dataset::empty((*ds.tracker).clone(), people.clone());
    let decision = again.decide(&Intent::Unpack { pack: Box::new(pack.for_team(&people)), by: None }, Asker::Westerfall, &clock()).unwrap();
    again.apply(&decision.change);
    same(&whole(&again), &pack);
    assert_eq!(serde_json::to_string(&whole(&again)).unwrap(), serde_json::to_string(&pack).unwrap());
    // In another team, nobody becomes somebody else.
    let stranger = westerfall_core::people::People::new([westerfall_core::people::Person::new(
        westerfall_core::id::PersonId::new(2).unwrap(),
        "Ines Lark",
        "ines@elsewhere.example",
    )]);
    let elsewhere = pack.for_team(&stranger);
    let named = elsewhere.rows.iter().flat_map(|r| r.columns.iter().flatten()).filter(|v| matches!(v, Value::Person(_))).count();
    assert_eq!(named, 0);
}

/// Kinds that a text field can be asked to become.
fn kinds() -> impl Strategy<Value = Kind> {
    let options = vec![Choice { id: westerfall_core::id::OptionId::new(1).unwrap(), name: "drainage".into(), hue: Hue::Clay, under: None }];
    prop::sample::select(vec![
        Kind::LongText,
        Kind::Number { decimals: 1, unit: String::new() },
        Kind::Money { currency: "EUR".into() },
        Kind::Date,
        Kind::YesNo,
        Kind::Email,
        Kind::Phone,
        Kind::Person,
        Kind::Duration,
        Kind::Choice { options, on: None },
    ])
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, ..ProptestConfig::default() })]

    /// Whatever a field becomes, taking it back brings every value back.
    #[test]
    fn a_change_of_kind_can_always_be_taken_back(kind in kinds(), rest in prop::sample::select(vec![Rest::Empty, Rest::Spare])) {
        let mut ds = demo();
        let before = packed(&ds);
        for path in ["Faults.Reporter", "Materials.Unit", "Sections.Length", "Faults.Reporter’s mail"] {
            let (home, _) = path.split_once('.').unwrap();
            let change = ChangeOfKind { table: table(&ds, home), field: field(&ds, path), to: Target::Kind(kind.clone()), rest: rest.clone() };
            let Ok(told) = ds.rehearse_kind(&change, steward(), &clock()) else { continue };
            let (step, _) = done(&mut ds, &Intent::ChangeKind(change));
            prop_assert!(told.fit <= told.filled);
            undone(&mut ds, step);
            same(&packed(&ds), &before);
        }
    }
}

fn sheet(rows: &[&[&str]]) -> Sheet {
    let cell = |text: &&str| if text.is_empty() { Raw::Empty } else { Raw::Text((*text).into()) };
    Sheet { name: "Wells".into(), rows: rows.iter().map(|r| r.iter().map(cell).collect()).collect(), ..Sheet::default() }
}

fn guess(sheet: &Sheet) -> westerfall_core::import::SheetGuess {
    Lens::new(&demo(), steward(), &clock()).guess(sheet, "Wells", None, None)
}

/// What each column was taken for, and what is asked of it.
fn verdicts(sheet: &Sheet) -> Vec<String> {
    let guess = guess(sheet);
    let words = |(plan, column): (&ColumnPlan, &westerfall_core::import::ColumnGuess)| {
        let kind = match &plan.becomes {
            Becomes::Field { kind } => kind.name().to_owned(),
            Becomes::Link { .. } => "link".into(),
            other => format!("{other:?}"),
        };
        let numeric = matches!(&plan.becomes, Becomes::Field { kind } if kind.is_number());
        let comma = if plan.decimal_comma && numeric { ", comma" } else { "" };
        let order = if column.asks_order {
            ", asks"
        } else if plan.dates.is_some() {
            ", ordered"
        } else {
            ""
        };
        format!("{}: {kind}{comma}{order}{}", plan.name, plan.separator.as_ref().map_or_else(String::new, |s| format!(", parted by {s}")))
    };
    guess.plan.columns.iter().zip(&guess.columns).map(words).collect()
}

#[test]
fn columns_are_taken_for_what_they_are() {
    let rows: Vec<Vec<String>> = (0..40)
        .map(|n| {
            vec![
                format!("{n:04}"),
                format!("{}.{:03},50", 1 + n, n * 7 % 1000),
                format!("£{}.25", n * 3),
                format!("{}%", n),
                ["yes", "no"][n % 2].into(),
                ["J", "x", "✓", "-"][if n % 2 == 0 { 1 } else { 3 }].into(),
                format!("{}/{}/2026", 1 + n % 28, 1 + n % 12),
                format!("{}/{}/2026", 1 + n % 12, 1 + n % 12),
                format!("2026-{:02}-{:02}", 1 + n % 12, 1 + n % 28),
                format!("n{n}@wells.example"),
                format!("01632 960{:03}", n),
                ["dug; lined", "lined", "dug"][n % 3].into(),
                ["north", "south"][n % 2].into(),
                "Eskermoor".into(),
                ["Tamsin Oake", "Idris Pell"][n % 2].into(),
                format!("A longer remark\nnumber {n}"),
            ]
        })
        .collect();
    let mut all: Vec<Vec<&str>> = vec![
        vec!["Wells of the upland"],
        vec![],
        vec![
            "Id", "Depth", "Cost", "Share", "Open", "Ticked", "Seen", "Either", "Iso", "Mail", "Phone", "Made", "Side", "District",
            "Warden", "Remark",
        ],
    ];
    all.extend(rows.iter().map(|r| r.iter().map(String::as_str).collect()));
    let sheet = sheet(&all.iter().map(Vec::as_slice).collect::<Vec<_>>());
    insta::assert_snapshot!(verdicts(&sheet).join("\n"), @r"
    Id: text
    Depth: number, comma
    Cost: money
    Share: percent, comma
    Open: yes/no
    Ticked: yes/no
    Seen: date, ordered
    Either: date, asks
    Iso: date
    Mail: e-mail
    Phone: phone
    Made: several choices, parted by ;
    Side: choice
    District: link
    Warden: person
    Remark: long text
    ");
}

fn import(ds: &Dataset, sheet: Sheet, change: impl FnOnce(&mut Plan)) -> Import {
    let mut plan = Lens::new(ds, steward(), &clock()).guess(&sheet, "Wells", None, None).plan;
    change(&mut plan);
    Import { plan, sheet: sheet.into() }
}

#[test]
fn an_import_links_updates_reports_and_is_taken_back_as_one_step() {
    let mut ds = demo();
    let before = packed(&ds);
    let first = sheet(&[
        &["Well", "Keeper", "Depth", "District"],
        &["Upper", "Lund", "12.5", "Eskermoor"],
        &["Mill", "Lund", "deep", "Ninestone"],
        &["", "", "", ""],
        &["Lower", "Marrow", "8", "Nowhere"],
    ]);
    let first = import(&ds, first, |plan| {
        plan.columns[1].becomes = Becomes::Table { name: "Keepers".into(), one: "keeper".into(), single: true };
        plan.columns[2].becomes = Becomes::Field { kind: Kind::Number { decimals: 1, unit: "m".into() } };
        plan.columns[3].becomes = Becomes::Link {
            to: table(&ds, "Districts"),
            by: field(&ds, "Districts.Name"),
            one: true,
            back: String::new(),
            unmatched: Unmatched::Flag,
        };
    });
    let told = ds.rehearse_import(&first, steward(), &clock()).unwrap();
    assert_eq!((told.added, told.updated, told.rejected_count), (3, 0, 2));
    let places: Vec<(usize, &str, &str)> = told.rejected.iter().map(|r| (r.row, r.column.as_str(), r.value.as_str())).collect();
    assert_eq!(places, [(3, "Depth", "deep"), (5, "District", "Nowhere")]);
    let (step, made) = done(&mut ds, &Intent::Import(Box::new(first)));
    let wells = TableId::new(made.unwrap()).unwrap();
    assert_eq!(records(&ds, table(&ds, "Keepers")).len(), 2);
    assert_eq!(text(&ds, wells, 2, field(&ds, "Wells.Keeper")), "Lund");
    assert_eq!(text(&ds, table(&ds, "Districts"), 1, field(&ds, "Districts.Wells")), "Upper");

    // The same wells again, by their names: one changed, one as it was, one new; two rows about one are not both taken.
    let second = sheet(&[&["Well", "Depth"], &["UPPER", "13"], &["Lower", "8"], &["Far", "3"], &["far", "4"], &["", "9"]]);
    let well = field(&ds, "Wells.Well");
    let second = Import {
        plan: Plan {
            heading: Heading::row(0),
            without: Vec::new(),
            into: ImportInto::Table { table: wells, key: Some(well) },
            columns: [(0, well), (1, field(&ds, "Wells.Depth"))]
                .map(|(column, field)| ColumnPlan {
                    becomes: Becomes::Existing { field, unmatched: Unmatched::Flag },
                    ..ColumnPlan::new(column, &format!("c{column}"))
                })
                .to_vec(),
        },
        sheet: second.into(),
    };
    let told = ds.rehearse_import(&second, steward(), &clock()).unwrap();
    assert_eq!((told.added, told.updated, told.same, told.left_out), (1, 1, 1, 2));
    let (again, _) = done(&mut ds, &Intent::Import(Box::new(second)));
    assert_eq!(text(&ds, wells, 1, field(&ds, "Wells.Depth")), "13.0\u{a0}m");
    undone(&mut ds, again);
    undone(&mut ds, step);
    same(&packed(&ds), &before);
}

#[test]
fn dates_that_can_be_read_two_ways_are_asked() {
    let ds = demo();
    let sheet = sheet(&[&["Well", "Seen"], &["Upper", "3/4/2026"], &["Lower", "5/6/2026"]]);
    let unsaid = import(&ds, sheet.clone(), |plan| plan.columns[1].becomes = Becomes::Field { kind: Kind::Date });
    let fault = ds.rehearse_import(&unsaid, steward(), &clock()).unwrap_err().0.remove(0);
    assert_eq!((fault.kind, fault.pointer.as_str()), (FaultKind::Missing, "/columns/1/dates"));
    let month = import(&ds, sheet, |plan| {
        plan.columns[1].becomes = Becomes::Field { kind: Kind::Date };
        plan.columns[1].dates = Some(westerfall_core::import::DateOrder::Month);
    });
    let told = ds.rehearse_import(&month, steward(), &clock()).unwrap();
    assert_eq!(told.examples[0], ["Upper", "4 Mar 2026"]);
}

#[test]
fn who_may_only_read_can_neither_build_nor_import() {
    let ds = demo();
    let pavel = asker(&ds, "Pavel");
    let faults = table(&ds, "Faults");
    let add = FieldChange::Add { field: FieldDef::new(any(), "Mine", Kind::YesNo), before: None, other: None };
    for intent in [
        fields(faults, add),
        Intent::Table(TableChange::Remove(faults)),
        Intent::Import(Box::new(import(&ds, sheet(&[&["Well"], &["Upper"]]), |_| {}))),
        Intent::ChangeKind(ChangeOfKind {
            table: faults,
            field: field(&ds, "Faults.Reporter"),
            to: Target::Kind(Kind::LongText),
            rest: Rest::Empty,
        }),
    ] {
        let fault = ds.decide(&intent, pavel, &clock()).unwrap_err().0.remove(0);
        assert_eq!(fault.kind, FaultKind::NotAllowed, "{intent:?}");
    }
    assert!(Lens::new(&ds, pavel, &clock()).pack(Packing::Structure).is_err());
}

#[test]
fn a_new_numbering_numbers_what_is_there_by_when_it_came() {
    use westerfall_core::schema::{NumberPart, Restart};
    let mut ds = demo();
    let faults = table(&ds, "Faults");
    let parts =
        vec![NumberPart::Year, NumberPart::Fixed { text: "/".into() }, NumberPart::Counter { digits: 2, restarts: Restart::Yearly }];
    let new = FieldDef::new(any(), "Sheet", Kind::Numbering { parts });
    let before = packed(&ds);
    let (step, _) = done(&mut ds, &fields(faults, FieldChange::Add { field: new, before: None, other: None }));
    let sheet = field(&ds, "Faults.Sheet");
    assert_eq!(text(&ds, faults, 1, sheet), "2026/01");
    let last = u32::try_from(rows_of(&ds, faults)).unwrap();
    assert_eq!(text(&ds, faults, last, sheet), format!("2026/{last}"));
    // The next record goes on from there.
    done(&mut ds, &Intent::Add { table: faults, records: vec![vec![]] });
    assert_eq!(text(&ds, faults, last + 1, sheet), format!("2026/{}", last + 1));
    let last_one = *records(&ds, faults).last().unwrap();
    done(&mut ds, &Intent::Remove { table: faults, records: vec![last_one] });
    undone(&mut ds, step);
    same(&packed(&ds), &before);
}

#[test]
fn the_lasting_id_of_records_is_shown_tested_and_computed_with_and_takes_nothing_in() {
    let mut ds = demo();
    let (faults, nadia, clock) = (table(&ds, "Faults"), asker(&ds, "Nadia"), clock());
    let add = FieldChange::Add { field: FieldDef::new(any(), "Known by", Kind::Id), before: None, other: None };
    let id = FieldId::new(done(&mut ds, &fields(faults, add)).1.unwrap()).unwrap();
    let edits = vec![Edit { field: id, input: typed("9"), was: None }];
    let refused = ds.decide(&Intent::Edit { table: faults, record: record(5), edits }, nadia, &clock);
    assert_eq!(refused.unwrap_err().0[0].kind, FaultKind::ReadOnly);
    let lens = Lens::new(&ds, nadia, &clock);
    assert_eq!((lens.text_at(faults, record(5), id), lens.text_at(faults, record(60), id)), ("5".into(), "60".into()));
    let few = test(&[id], Check::Number { how: Comparison::AtMost, than: 12.into() });
    assert_eq!(few.check(&ds, faults), Ok(()));
    assert_eq!(few.matching(&lens, faults).count_ones(..), 12);
    let formula = westerfall_core::formula::Formula::read("'Known by' * 2", &ds, faults).formula;
    assert_eq!(lens.try_formula(&formula, faults, None, record(5)).unwrap().text, "10");
}

#[test]
fn each_side_of_a_link_shows_what_it_says_of_its_records_and_who_may_not_read_that_sees_their_names() {
    let mut ds = demo();
    let (faults, clock) = (table(&ds, "Faults"), clock());
    let section = field(&ds, "Faults.Section");
    let sections = table(&ds, "Sections");
    let named = |ds: &Dataset, by: Option<FieldId>| {
        let def = ds.table(faults).unwrap().def.field(section).unwrap().clone();
        let field = FieldDef { offers: westerfall_core::schema::Offers { named: by, ..def.offers.clone() }, ..def };
        fields(faults, FieldChange::Change { field, merged: Vec::new() })
    };
    let at = |ds: &Dataset, who: &str| Lens::new(ds, asker(ds, who), &clock).text_at(faults, record(5), section);
    let (name, number) = (field(&ds, "Sections.Name"), field(&ds, "Sections.Number"));
    let there = *crate::fixture::linked(&ds, faults, record(5), section).first().unwrap();
    assert_eq!(at(&ds, "Nadia"), text(&ds, sections, there.get(), name));
    let intent = named(&ds, Some(number));
    done(&mut ds, &intent);
    assert_eq!(at(&ds, "Nadia"), text(&ds, sections, there.get(), number));
    // One picks by what is shown, and finds by it and by the name, which stands beside it.
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let own = text(&ds, sections, there.get(), name);
    for typed in [text(&ds, sections, there.get(), number), own.clone()] {
        let offered = lens.offered(faults, section, Some(record(5)), &typed);
        let pick = offered.names.iter().find(|pick| pick.id == there).unwrap();
        assert_eq!(pick.name, text(&ds, sections, there.get(), number));
        assert!(pick.beside.starts_with(&own), "{}", pick.beside);
        assert!(!offered.makes);
    }
    // In rows, in their order and in groups alike; the other side goes on as it was.
    let query = westerfall_core::view::Query {
        fields: vec![westerfall_core::view::ShownField { field: section, width: 100 }],
        sorts: vec![westerfall_core::view::Order { field: section, descending: false }],
        ..Default::default()
    };
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let outcome = query.run(&lens, faults, &westerfall_core::view::Window { rows: 0..60, keep: &[], own: None });
    let shown: Vec<String> =
        lens.rows(faults, &outcome.window, &[section]).into_iter().map(|row| row.cells[0].clone().unwrap().text).collect();
    let mut sorted = shown.clone();
    sorted.sort_unstable();
    assert_eq!(shown, sorted);
    assert!(shown.iter().all(|text| text.starts_with("PS-")), "{shown:?}");
    // A field of another table, or one that can't be read as words, is refused; one that is removed is forgotten.
    for wrong in [field(&ds, "Materials.Name"), field(&ds, "Sections.Picture")] {
        assert!(ds.decide(&named(&ds, Some(wrong)), steward(), &clock).is_err());
    }
    let ground = field(&ds, "Sections.Sub-surface");
    let intent = named(&ds, Some(ground));
    done(&mut ds, &intent);
    done(&mut ds, &fields(sections, FieldChange::Remove(ground)));
    assert_eq!(ds.field(section).unwrap().1.offers.named, None);
    // Whoever may not read what it shows sees what the record is called by.
    let intent = named(&ds, Some(number));
    done(&mut ds, &intent);
    let warden = ds.roles().find(|role| role.tables.contains_key(&sections)).unwrap().clone();
    let who = ds.people.name(warden.holders(&ds.people).next().unwrap().id).split(' ').next().unwrap().to_owned();
    let mut hides = warden.clone();
    hides.tables.get_mut(&sections).unwrap().fields.insert(number, westerfall_core::access::FieldRight::Hidden);
    let seen = records(&ds, faults).into_iter().find(|r| Lens::new(&ds, asker(&ds, &who), &clock).sees(faults, *r)).unwrap();
    let shown = |ds: &Dataset| Lens::new(ds, asker(ds, &who), &clock).text_at(faults, seen, section);
    assert!(shown(&ds).starts_with("PS-"), "{}", shown(&ds));
    done(&mut ds, &Intent::Save(hides.into()));
    assert!(shown(&ds).contains(" to "), "{}", shown(&ds));
}
