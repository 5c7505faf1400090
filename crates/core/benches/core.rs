//! The core's figures on 100,000 faults of 21 fields: view queries, reach, one edit. Measures; tests nothing.

use criterion::{Criterion, criterion_group, criterion_main};
use jiff::Timestamp;
use std::{collections::BTreeSet, hint::black_box};
use westerfall_core::{
    access::{Asker, Base, Lens, Reach, Role, TableRights},
    automation::{self, Automation, Occasion, Step},
    condition::{Check, Condition, Quantity, Test, Who},
    dataset::Dataset,
    figure::Figure,
    id::{AutomationId, FieldId, PersonId, RecordId, RoleId, TableId},
    intent::{Edit, Intent},
    part::Part,
    people::{People, Person},
    value::Input,
    view::{Bucket, CrossTab, GroupBy, Order, Query, Shape, Tally, View, Window},
};
use westerfall_demo::scaled;

/// The same with three roles for one person: each reaches the faults of another warden's district, two links away.
fn with_three_roles(ds: &Dataset, table: TableId) -> Dataset {
    let mut ds = ds.clone();
    let me = PersonId::new(8).expect("not zero");
    let field = |path: &str| {
        let (at, name) = path.split_once('.').expect("a table and a field");
        let home = ds.tables().find(|t| t.def.name == at).expect("a table of the demo");
        home.def.fields.iter().find(|f| f.name == name).expect("a field of the demo").id
    };
    let path = [field("Faults.Section"), field("Sections.District"), field("Districts.Warden")];
    let held: Vec<Role> = ds.roles().filter(|role| role.members.contains(&me)).cloned().collect();
    let plain = ds.roles().next().expect("a role of the demo").clone();
    for role in held {
        ds.load_part(&Part::Role(Role { members: BTreeSet::new(), ..role }));
    }
    for warden in [2, 3, 4] {
        let check = Check::Person { not: false, any: vec![Who::Person(PersonId::new(warden).expect("not zero"))] };
        let look = Reach::Where(Condition::Test(Test { path: path.to_vec(), of: Quantity::Any, check }));
        let tables = [(table, TableRights { look, ..TableRights::default() })].into();
        let id = RoleId::new(9_000 + warden).expect("not zero");
        let role = Role { id, base: Base::Own, members: [me].into(), groups: BTreeSet::new(), tables, ..plain.clone() };
        ds.load_part(&Part::Role(role));
    }
    ds
}

/// The same with fifty more of the team, who hold a role that reaches the faults of their own district; and what becomes of the role.
fn with_fifty_people(ds: &Dataset, table: TableId) -> (Dataset, Role) {
    let field = |path: &str| {
        let (at, name) = path.split_once('.').expect("a table and a field");
        let home = ds.tables().find(|t| t.def.name == at).expect("a table of the demo");
        home.def.fields.iter().find(|f| f.name == name).expect("a field of the demo").id
    };
    let id = |number: u32| PersonId::new(number).expect("not zero");
    let more = (101..151).map(|number| Person::new(id(number), format!("Person {number}"), format!("p{number}@walkers.example")));
    let mut ds = ds.with_people(std::sync::Arc::new(People::new(ds.people.iter().cloned().chain(more))));
    let reach = |warden: u32| {
        let path = vec![field("Faults.Section"), field("Sections.District"), field("Districts.Warden")];
        let check = Check::Person { not: false, any: vec![Who::Person(id(warden))] };
        Reach::Where(Condition::Test(Test { path, of: Quantity::Any, check }))
    };
    let plain = ds.roles().next().expect("a role of the demo").clone();
    let look = |warden| TableRights { look: reach(warden), change: reach(warden), ..TableRights::default() };
    let role = Role {
        id: RoleId::new(9_500).expect("not zero"),
        base: Base::Own,
        members: (101..151).map(id).collect(),
        groups: BTreeSet::new(),
        tables: [(table, look(2))].into(),
        ..plain
    };
    ds.load_part(&Part::Role(role.clone()));
    (ds, Role { tables: [(table, look(3))].into(), ..role })
}

/// The same with fifty automations that are asked at each change of a record.
fn with_fifty_automations(ds: &Dataset, table: TableId, field: FieldId) -> Dataset {
    let mut ds = ds.clone();
    let never = Condition::Test(Test { path: vec![field], of: Quantity::Any, check: Check::Empty });
    for number in 0..50 {
        let automation = Automation {
            id: AutomationId::new(70_000 + number).expect("not zero"),
            table,
            name: format!("Listens {number}"),
            on: true,
            when: if number % 2 == 0 { Occasion::Changed(Vec::new()) } else { Occasion::Fits },
            condition: never.clone(),
            steps: vec![Step::Stop],
            before: Default::default(),
            acts_for: None,
            unsaid: false,
            draft: None,
        };
        ds.load_part(&Part::Automation(automation));
    }
    ds
}

/// Kind and severity down, month of report and status across; with the hours that are needed.
fn cross(field: &dyn Fn(&str) -> FieldId) -> Query {
    let by = |name: &str| GroupBy::of(field(name));
    let figures = [Figure::Sum, Figure::Average, Figure::Most];
    Query {
        tallies: figures.map(|figure| Tally { field: field("Hours needed"), figure }).to_vec(),
        shape: Shape::CrossTab(CrossTab {
            down: vec![by("Kind"), by("Severity")],
            across: vec![GroupBy { by: Bucket::Quarter, ..by("Reported on") }, by("Status")],
            ..CrossTab::by(by("Kind"))
        }),
        ..Query::default()
    }
}

fn figures(c: &mut Criterion) {
    let now = Timestamp::now();
    let mut ds = scaled::dataset(now, 100_000);
    // Else each edit would first compute what a day's turn moves.
    ds.turn_to(now);
    let clock = scaled::clock(now);
    let faults = ds.tables().find(|t| t.def.name == "Faults").expect("the demo has faults");
    let table: TableId = faults.def.id;
    let field = |name: &str| -> FieldId { faults.def.fields.iter().find(|f| f.name == name).expect("a field of the demo").id };
    let view: &View = ds.views().find(|v| v.name == "To be put right").expect("a view of the demo");
    let order = |name: &str| Order { field: field(name), descending: false };
    let window = Window { rows: 0..100, keep: &[], own: None };
    let asker = |id| Asker::Person(PersonId::new(id).expect("not zero"));

    let due = Query { groups: Vec::new(), tallies: Vec::new(), ..view.query.clone() };
    let text = Query { sorts: vec![order("What is wrong")], fields: view.query.fields.clone(), ..Query::default() };
    let groups = Query {
        groups: ["Severity", "Status"].map(|name| GroupBy::of(field(name))).to_vec(),
        tallies: vec![Tally { field: field("Hours needed"), figure: Figure::Sum }],
        ..Query::default()
    };
    for (name, query) in [
        ("filter, sort, first window", &due),
        ("sort by text", &text),
        ("group by two and sum", &groups),
        ("the demo's own view", &view.query),
    ] {
        c.bench_function(name, |b| b.iter(|| query.run(&Lens::new(&ds, asker(1), &clock), table, black_box(&window))));
    }
    let two_by_two = cross(&field);
    c.bench_function("a cross-tab of two by two fields with three figures", |b| {
        b.iter(|| two_by_two.crossed(&Lens::new(&ds, asker(1), &clock), table).expect("it fits"));
    });
    c.bench_function("filter, sort, first window, reach over two links", |b| {
        b.iter(|| due.run(&Lens::new(&ds, asker(2), &clock), table, black_box(&window)));
    });
    let three = with_three_roles(&ds, table);
    c.bench_function("filter, sort, first window, three roles with a reach over two links each", |b| {
        b.iter(|| due.run(&Lens::new(&three, asker(8), &clock), table, black_box(&window)));
    });
    let (fifty, other) = with_fifty_people(&ds, table);
    c.bench_function("a role of fifty people rehearsed, with another reach over two links", |b| {
        b.iter(|| Lens::new(&fifty, asker(1), &clock).rehearse_role(other.id, Some(black_box(&other))));
    });
    let record = RecordId::at_row(54_321);
    let whole = std::sync::Arc::new(ds.clone());
    let mut turn = 0_u32;
    c.bench_function("one edit: decided, applied, automations asked", |b| {
        b.iter(|| {
            turn += 1;
            let edits = vec![Edit { field: field("Description"), input: Input::Text(format!("turn {turn}")), was: None }];
            let decision = ds.decide(&Intent::Edit { table, record, edits }, asker(1), &clock).expect("allowed");
            black_box(automation::course(whole.clone(), decision.change, None, &clock))
        });
    });
    // Fifty that listen to any change of a fault, each with a condition that does not hold.
    let listening = std::sync::Arc::new(with_fifty_automations(&ds, table, field("Severity")));
    c.bench_function("one edit that fifty automations listen to", |b| {
        b.iter(|| {
            turn += 1;
            let edits = vec![Edit { field: field("Description"), input: Input::Text(format!("turn {turn}")), was: None }];
            let decision = listening.decide(&Intent::Edit { table, record, edits }, asker(1), &clock).expect("allowed");
            black_box(automation::course(listening.clone(), decision.change, None, &clock))
        });
    });
}

criterion_group!(benches, figures);
criterion_main!(benches);
