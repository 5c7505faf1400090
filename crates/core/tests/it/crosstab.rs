//! Cross-tabs against a slow, obvious model; and what they say.

use crate::fixture::*;
use proptest::prelude::*;
use rust_decimal::Decimal;
use std::collections::BTreeMap;
use westerfall_core::{
    access::{Asker, Lens},
    condition::Condition,
    dataset::Dataset,
    figure::Figure,
    id::{FieldId, RecordId, TableId},
    import::Raw,
    names::{Name, Names},
    sentence::as_text,
    value::{Cell, Value},
    view::{Bucket, CrossLead, CrossOrder, CrossShare, CrossTab, Crossed, GroupBy, Query, Shape, ShownField, Tally},
};

fn by(ds: &Dataset, name: &str) -> GroupBy {
    GroupBy::of(field(ds, &format!("Faults.{name}")))
}

fn by_month(ds: &Dataset, name: &str) -> GroupBy {
    GroupBy { by: Bucket::Month, ..by(ds, name) }
}

fn query(ds: &Dataset, condition: Condition, tab: CrossTab) -> Query {
    let shown = |name: &str| ShownField { field: field(ds, &format!("Faults.{name}")), width: 100 };
    let hours = Tally { field: field(ds, "Faults.Hours needed"), figure: Figure::Sum };
    Query {
        condition,
        fields: vec![shown("What is wrong"), shown("Hours needed")],
        tallies: vec![hours],
        shape: Shape::CrossTab(tab),
        ..Query::default()
    }
}

/// *district down, month of report across, status within.*
fn usual(ds: &Dataset) -> CrossTab {
    CrossTab { across: vec![by_month(ds, "Reported on")], within: Some(field(ds, "Faults.Status")), ..CrossTab::by(by(ds, "District")) }
}

fn crossed(query: &Query, ds: &Dataset, me: Asker) -> Crossed {
    let clock = clock();
    let lens = Lens::new(ds, me, &clock);
    let at = table(ds, "Faults");
    query.asked_by(&lens, at).unwrap().crossed(&lens, at).unwrap()
}

/// What a record stands under, as the obvious model tells it.
fn stands(lens: &Lens<'_>, at: TableId, record: RecordId, by: &GroupBy) -> Value {
    let reader = lens.reader(at, by.field);
    match reader.cell(record.row()) {
        Cell::Date(day) => Value::Date(by.by.start(day)),
        Cell::Number(number) => Value::Number(by.step.map_or(number, |step| (number / step).floor() * step).normalize()),
        Cell::Links([first, ..]) => Value::Links(vec![*first]),
        Cell::Links([]) => Value::Empty,
        other => other.to_value().tidy(),
    }
}

/// The fields by which cross-tabs are tried: a choice, a person, a link along another, months, and steps of numbers.
fn axes(ds: &Dataset) -> Vec<GroupBy> {
    let steps = GroupBy { step: Some(Decimal::new(25, 1)), ..by(ds, "Hours needed") };
    vec![by(ds, "Severity"), by(ds, "Warden"), by(ds, "District"), by_month(ds, "Reported on"), by(ds, "Status"), steps]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    /// Every record stands in one cell, totals are what their cells are made of, and what a cell holds is told behind it.
    #[test]
    fn each_record_stands_in_one_cell(
        condition in any_condition(),
        chosen in prop::sample::subsequence((0_usize..6).collect::<Vec<_>>(), 2..5),
        down in 1_usize..3,
        order in prop::sample::select(CrossOrder::ALL.to_vec()),
        empty in any::<bool>(),
        who in 0_usize..7,
    ) {
        let (ds, clock) = (demo(), clock());
        let at = table(&ds, "Faults");
        let axes = axes(&ds);
        let chosen: Vec<GroupBy> = chosen.into_iter().map(|place| axes[place]).collect();
        let down = down.min(chosen.len());
        let (down, across) = chosen.split_at(down);
        let across = &across[..across.len().min(2)];
        let tab = CrossTab { across: across.to_vec(), down: down.to_vec(), order, empty, within: Some(field(&ds, "Faults.Kind")), ..CrossTab::by(down[0]) };
        let asked = query(&ds, condition, tab);
        let me = ds.people.iter().nth(who).map(|person| Asker::Person(person.id)).unwrap();
        let lens = Lens::new(&ds, me, &clock);
        let Ok(asked) = asked.asked_by(&lens, at) else { return Ok(()) };
        let Shape::CrossTab(tab) = &asked.shape else { return Ok(()) };
        let told = asked.crossed(&lens, at).unwrap();

        let mut model: BTreeMap<String, (usize, Decimal)> = BTreeMap::new();
        let hours = lens.reader(at, field(&ds, "Faults.Hours needed"));
        let key = |down: &[Value], across: &[Value]| format!("{down:?} / {across:?}");
        for record in lens.records(at).filter(|record| asked.condition.holds(&lens, at, *record)) {
            let path = |by: &[GroupBy]| by.iter().map(|by| stands(&lens, at, record, by)).collect::<Vec<_>>();
            let (down, across) = (path(&tab.down), path(&tab.across));
            let needs = if let Cell::Number(needs) = hours.cell(record.row()) { needs } else { Decimal::ZERO };
            for rows in 0..=down.len() {
                for columns in 0..=across.len() {
                    let cell = model.entry(key(&down[..rows], &across[..columns])).or_default();
                    *cell = (cell.0 + 1, cell.1 + needs);
                }
            }
        }
        let mut seen = 0;
        for (row, cells) in told.rows.iter().zip(&told.cells) {
            prop_assert_eq!(cells.len(), told.columns.len());
            for (column, cell) in told.columns.iter().zip(cells) {
                let known = model.get(&key(&row.values, &column.values));
                prop_assert_eq!(cell.as_ref().map(|cell| cell.count), known.map(|known| known.0));
                let Some(cell) = cell else { continue };
                seen += 1;
                if let (Some(figure), Some(known)) = (cell.figures.first(), known) {
                    prop_assert_eq!(figure.value.unwrap_or_default(), known.1);
                }
                prop_assert_eq!(cell.within.iter().sum::<usize>(), if tab.within.is_some() { cell.count } else { 0 });
            }
        }
        prop_assert_eq!(seen, model.len(), "every combination that occurs has its cell");
        // One of the cells, looked behind; and its condition finds the same records.
        let at_cell = |row: usize, column: usize| (told.rows[row].values.clone(), told.columns[column].values.clone());
        let (row, column) = (told.rows.len() / 2, told.columns.len() / 2);
        let (down, across) = at_cell(row, column);
        let behind = asked.cross_records(&lens, at, &down, &across, 10_000).unwrap().unwrap();
        let count = told.cells[row][column].as_ref().map_or(0, |cell| cell.count);
        prop_assert_eq!((behind.count, behind.records.len()), (count, count));
        if let Some(only) = behind.only {
            let both = Condition::All(vec![asked.condition.clone(), only]);
            let mut found: Vec<usize> = both.matching(&lens, at).ones().collect();
            let mut told: Vec<usize> = behind.records.iter().map(|record| record.row()).collect();
            found.sort_unstable();
            told.sort_unstable();
            prop_assert_eq!(found, told);
        }
    }

    /// Rows stand as asked: by their field, or by what their totals lead with.
    #[test]
    fn rows_stand_as_asked(order in prop::sample::select(CrossOrder::ALL.to_vec()), figure in any::<bool>()) {
        let ds = demo();
        let leads = if figure { CrossLead::Figure } else { CrossLead::Count };
        let told = crossed(&query(&ds, Condition::default(), CrossTab { order, leads, ..usual(&ds) }), &ds, asker(&ds, "Nadia"));
        let leads: Vec<Option<Decimal>> = told.cells[1..].iter().map(|row| row[0].as_ref().and_then(|cell| cell.lead)).collect();
        let known: Vec<Decimal> = leads.iter().copied().flatten().collect();
        match order {
            CrossOrder::Field => prop_assert!(told.rows[1..].windows(2).all(|two| two[0].text < two[1].text)),
            CrossOrder::Most => prop_assert!(known.windows(2).all(|two| two[0] >= two[1])),
            CrossOrder::Least => prop_assert!(known.windows(2).all(|two| two[0] <= two[1])),
        }
        // What has none of it stands last either way.
        let first_none = leads.iter().position(Option::is_none).unwrap_or(leads.len());
        prop_assert!(order == CrossOrder::Field || leads[first_none..].iter().all(Option::is_none));
    }
}

/// As it is read, line by line.
fn drawn(told: &Crossed) -> String {
    let head: Vec<&str> = told.columns.iter().map(|head| head.text.as_str()).collect();
    let line = |(head, cells): (&westerfall_core::view::CrossHead, &Vec<Option<westerfall_core::view::CrossCell>>)| {
        let cell = |cell: &Option<westerfall_core::view::CrossCell>| {
            cell.as_ref()
                .map_or_else(|| "–".to_owned(), |cell| format!("{} {} {}", cell.text, cell.figures[0].text, cell.share).trim().to_owned())
        };
        format!("{}{}: {}", "  ".repeat(head.depth.saturating_sub(1)), head.text, cells.iter().map(cell).collect::<Vec<_>>().join(" | "))
    };
    let mut lines = vec![head.join(" | ")];
    lines.extend(told.rows.iter().zip(&told.cells).map(line));
    lines.extend(told.foot.iter().map(|foot| format!("({foot})")));
    lines.join("\n")
}

#[test]
fn it_reads_as_a_statement() {
    let ds = demo();
    let nadia = asker(&ds, "Nadia");
    let open = open_faults(&ds);
    insta::assert_snapshot!("cross_tab_usual", drawn(&crossed(&query(&ds, open.clone(), usual(&ds)), &ds, nadia)));
    let deep = CrossTab {
        down: vec![by(&ds, "District"), by(&ds, "Severity")],
        across: vec![by(&ds, "Status")],
        share: CrossShare::Row,
        empty: false,
        ..CrossTab::by(by(&ds, "District"))
    };
    insta::assert_snapshot!("cross_tab_deep", drawn(&crossed(&query(&ds, open, deep), &ds, nadia)));
}

/// *status is not made good or no action*, as the demo's own view has it.
fn open_faults(ds: &Dataset) -> Condition {
    ds.views().find(|view| view.name == "What is still open, and since when").unwrap().query.condition.clone()
}

#[test]
fn it_says_what_it_is_and_what_a_cell_is() {
    let (ds, clock) = (demo(), clock());
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let at = table(&ds, "Faults");
    let tab = CrossTab { order: CrossOrder::Most, share: CrossShare::Column, ..usual(&ds) };
    let asked = query(&ds, open_faults(&ds), tab);
    insta::assert_snapshot!(as_text(&asked.to_sentence(&lens, at, 320, 97, None)));
    let told = asked.crossed(&lens, at).unwrap();
    let cell = |row: usize, column: usize| {
        let (down, across) = (&told.rows[row].values, &told.columns[column].values);
        let behind = asked.cross_records(&lens, at, down, across, 2).unwrap().unwrap();
        let parts: Vec<String> = behind.parts.iter().map(|part| format!("{} {}", part.text, part.count)).collect();
        let only = behind.only.map(|only| only.to_sentence(&lens, at)).unwrap_or_default();
        format!(
            "{}: {}\nalong: {}\ndown: {}\nparts: {}\nonly: {only}",
            behind.title,
            behind.says,
            behind.along,
            behind.down,
            parts.join(", ")
        )
    };
    insta::assert_snapshot!("cross_cell", cell(1, told.columns.len() - 1));
    insta::assert_snapshot!("cross_row_total", cell(2, 0));
    insta::assert_snapshot!("cross_all", cell(0, 0));
    assert!(asked.cross_records(&lens, at, &[Value::Number(3.into())], &[], 2).unwrap().is_none());
}

/// It counts what is in sight, says so, and is not asked by what is not open.
#[test]
fn everybody_sees_their_own() {
    let (ds, clock) = (demo(), clock());
    let told = crossed(&query(&ds, Condition::default(), usual(&ds)), &ds, asker(&ds, "Tamsin"));
    assert!(told.foot.contains(&"only what is in your reach".to_owned()));
    let own = Lens::new(&ds, asker(&ds, "Tamsin"), &clock).count(table(&ds, "Faults"));
    assert_eq!(told.cells[0][0].as_ref().unwrap().count, own);
    let full: Vec<&str> = told.rows.iter().filter(|head| head.depth == 1 && head.count > 0).map(|head| head.text.as_str()).collect();
    assert_eq!(full, ["Eskermoor"]);
    let nadia = crossed(&query(&ds, Condition::default(), usual(&ds)), &ds, asker(&ds, "Nadia"));
    assert!(!nadia.foot.iter().any(|foot| foot.contains("reach")));
    // Whoever may not read a field has a cross-tab without it; without any down, rows.
    let wren = Lens::new(&ds, asker(&ds, "Wren"), &clock);
    let hidden: Vec<FieldId> = {
        let home = ds.table(table(&ds, "Faults")).unwrap();
        home.def.fields.iter().map(|def| def.id).filter(|id| !wren.reads(home.def.id, *id)).collect()
    };
    if let Some(hidden) = hidden.first() {
        let asked = query(&ds, Condition::default(), CrossTab::by(GroupBy::of(*hidden)));
        assert!(matches!(asked.as_open_to(&wren, table(&ds, "Faults")).shape, Shape::Rows(_)));
    }
}

#[test]
fn what_does_not_fit_is_said() {
    let (ds, clock) = (demo(), clock());
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let at = table(&ds, "Faults");
    let fault = |tab: CrossTab| {
        let asked = query(&ds, Condition::default(), tab);
        let refused = asked.check(&ds, at).err().or_else(|| asked.crossed(&lens, at).err());
        refused.map(|faults| (faults.0[0].pointer.clone(), faults.0[0].message.clone()))
    };
    let several = |name: &str| fault(CrossTab::by(by(&ds, name)));
    assert_eq!(fault(usual(&ds)), None);
    let said = [
        several("Pictures"),
        several("Work orders"),
        fault(CrossTab { down: Vec::new(), ..usual(&ds) }),
        fault(CrossTab { down: vec![by(&ds, "Kind"), by(&ds, "Severity"), by(&ds, "Status")], ..usual(&ds) }),
        fault(CrossTab { within: Some(field(&ds, "Faults.Warden")), ..usual(&ds) }),
        fault(CrossTab::by(GroupBy { by: Bucket::Week, ..by(&ds, "Severity") })),
        fault(CrossTab::by(GroupBy { step: Some(Decimal::ZERO), ..by(&ds, "Hours needed") })),
        fault(CrossTab::by(GroupBy { step: Some(Decimal::ONE), ..by(&ds, "Severity") })),
        fault(CrossTab { across: vec![by(&ds, "Reported on")], ..usual(&ds) }),
    ];
    let said: Vec<String> =
        said.into_iter().map(|said| said.map_or_else(|| "fits".to_owned(), |(at, words)| format!("{at}: {words}"))).collect();
    insta::assert_snapshot!(said.join("\n"));
}

/// In a file the numbers are numbers, and each row says what it is of by itself.
#[test]
fn it_goes_into_files_as_numbers() {
    let (ds, clock) = (demo(), clock());
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let at = table(&ds, "Faults");
    let tab = CrossTab {
        down: vec![by(&ds, "District"), by(&ds, "Severity")],
        across: vec![by(&ds, "Status")],
        ..CrossTab::by(by(&ds, "District"))
    };
    let asked = query(&ds, Condition::default(), tab);
    let told = asked.crossed(&lens, at).unwrap();
    let sheet = told.sheet(&asked, &lens, at);
    assert_eq!(sheet.rows.len(), told.rows.len());
    assert!(sheet.rows.iter().all(|row| row.len() == sheet.columns.len()));
    assert_eq!(sheet.columns[2].0, "All, faults");
    let inner = told.rows.iter().position(|head| head.depth == 2).unwrap();
    let (Raw::Text(outer), Raw::Text(within), Raw::Number(count)) = (&sheet.rows[inner][0], &sheet.rows[inner][1], &sheet.rows[inner][2])
    else {
        panic!("{:?}", sheet.rows[inner])
    };
    assert_eq!((&**outer, &**within, *count), (told.rows[1].text.as_str(), told.rows[inner].text.as_str(), told.rows[inner].count.into()));
}

/// A field that is taken away goes out of it; without any that stands down, what stood across does; without both, rows.
#[test]
fn it_stays_whole_when_a_field_goes() {
    let ds = demo();
    let without = |gone: &[FieldId]| {
        let mut asked = query(&ds, Condition::default(), usual(&ds));
        asked.each(&mut |name, _| Some(name).filter(|name| !matches!(name, Name::Field(field) if gone.contains(field))));
        asked.shape
    };
    let (district, reported, status) = (field(&ds, "Faults.District"), field(&ds, "Faults.Reported on"), field(&ds, "Faults.Status"));
    let Shape::CrossTab(turned) = without(&[district]) else { panic!("rows") };
    assert_eq!((turned.down, turned.across), (usual(&ds).across, Vec::new()));
    let Shape::CrossTab(plain) = without(&[reported, status]) else { panic!("rows") };
    assert_eq!((plain.down, plain.across, plain.within), (usual(&ds).down, Vec::new(), None));
    assert!(matches!(without(&[district, reported]), Shape::Rows(_)));
}
