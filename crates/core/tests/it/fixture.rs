//! The demo's tracker, and short ways to name what is in it.

use jiff::{Timestamp, tz::TimeZone};
use proptest::prelude::*;
use std::sync::LazyLock;
use westerfall_core::{
    Clock,
    access::{Asker, Lens},
    condition::{Check, Comparison, Condition, Period, Quantity, Test, TextMatch, When, Who},
    dataset::{Dataset, LoadedRecord},
    fault::Faults,
    id::{FieldId, OptionId, PersonId, RecordId, TableId},
    intent::Intent,
    schema::Kind,
    value::{Input, Value},
};

/// Half past nine on a Monday morning in autumn.
pub(crate) const NOW: &str = "2026-11-23T09:30:00Z";

static DEMO: LazyLock<Dataset> = LazyLock::new(|| {
    let now: Timestamp = NOW.parse().unwrap();
    let mut ds = Dataset::empty(westerfall_demo::tracker(), westerfall_demo::team_people());
    for step in westerfall_demo::story(now, 120) {
        let clock = Clock { now: step.at, ..clock() };
        let decision = ds.decide(&step.intent, step.asker, &clock).expect("the demo's steps are allowed");
        ds.apply(&decision.change);
    }
    ds
});

pub(crate) fn demo() -> Dataset {
    DEMO.clone()
}

pub(crate) fn clock() -> Clock {
    Clock::new(NOW.parse().unwrap(), TimeZone::get("Europe/London").unwrap())
}

pub(crate) fn person(ds: &Dataset, first: &str) -> PersonId {
    ds.people.iter().find(|p| p.name.starts_with(first)).expect("a person of the demo").id
}

pub(crate) fn asker(ds: &Dataset, first: &str) -> Asker {
    Asker::Person(person(ds, first))
}

pub(crate) fn table(ds: &Dataset, name: &str) -> TableId {
    ds.tables().find(|t| t.def.name == name).expect("a table of the demo").def.id
}

/// `"Faults.Status"`.
pub(crate) fn field(ds: &Dataset, path: &str) -> FieldId {
    let (table_name, name) = path.split_once('.').unwrap();
    let home = ds.table(table(ds, table_name)).unwrap();
    home.def.fields.iter().find(|f| f.name == name).expect("a field of the demo").id
}

/// `"Faults.Status.reported"`.
pub(crate) fn option(ds: &Dataset, path: &str) -> OptionId {
    let (at, name) = path.rsplit_once('.').unwrap();
    let (_, def) = ds.field(field(ds, at)).unwrap();
    let Kind::Choice { options, .. } = &def.kind else { panic!("{at} is no choice") };
    options.iter().find(|o| o.name == name).expect("an option of the demo").id
}

pub(crate) fn record(number: u32) -> RecordId {
    RecordId::new(number).unwrap()
}

pub(crate) fn test(path: &[FieldId], check: Check) -> Condition {
    Condition::Test(Test { path: path.to_vec(), of: Quantity::Any, check })
}

pub(crate) fn typed(text: &str) -> Input {
    Input::Text(text.into())
}

pub(crate) fn links(records: &[u32]) -> Input {
    Input::Value(Value::Links(records.iter().map(|n| record(*n)).collect()))
}

/// Takes a change back, of which nobody else has touched anything.
pub(crate) fn undo(change: westerfall_core::history::Change) -> Intent {
    Intent::Undo { change: Box::new(change), shared: false }
}

/// Decides and applies, as the server would.
pub(crate) fn act(ds: &mut Dataset, asker: Asker, intent: &Intent) -> Result<westerfall_core::intent::Decision, Faults> {
    let decision = ds.decide(intent, asker, &clock())?;
    ds.apply(&decision.change);
    Ok(decision)
}

/// Any test that fits some field of *Faults*, perhaps along links, and any joining of such tests.
pub(crate) fn any_condition() -> impl Strategy<Value = Condition> {
    let leaf = any_test().prop_map(Condition::Test);
    leaf.prop_recursive(3, 12, 3, |inner| {
        let list = prop::collection::vec(inner, 0..4);
        prop_oneof![list.clone().prop_map(Condition::All), list.prop_map(Condition::Any)]
    })
}

fn any_test() -> impl Strategy<Value = Test> {
    let ds = demo();
    let f = |path: &str| field(&ds, path);
    let section = f("Faults.Section");
    let to_section = |name: &str| vec![section, f(&format!("Sections.{name}"))];
    let to_district = |name: &str| vec![section, f("Sections.District"), f(&format!("Districts.{name}"))];
    let statuses: Vec<OptionId> =
        ["reported", "checked", "made good", "no action"].map(|s| option(&ds, &format!("Faults.Status.{s}"))).to_vec();
    let choice = (any::<bool>(), prop::sample::subsequence(statuses, 1..=3)).prop_map(|(not, any)| Check::Option { not, any });
    let people: Vec<Who> = ds.people.iter().map(|p| Who::Person(p.id)).chain([Who::Me]).collect();
    let who = (any::<bool>(), prop::sample::subsequence(people, 1..=3)).prop_map(|(not, any)| Check::Person { not, any });
    let linked =
        (any::<bool>(), prop::collection::vec((1_u32..64).prop_map(record), 1..4)).prop_map(|(not, any)| Check::Record { not, any });
    let how = prop::sample::select(vec![TextMatch::Contains, TextMatch::Lacks, TextMatch::Is, TextMatch::IsNot, TextMatch::Starts]);
    let text = (how, "[a-z]{1,3}").prop_map(|(how, text)| Check::Text { how, text });
    let compare = prop::sample::select(vec![
        Comparison::Is,
        Comparison::IsNot,
        Comparison::Under,
        Comparison::AtMost,
        Comparison::Over,
        Comparison::AtLeast,
    ]);
    let number = (compare.clone(), 0_i64..120).prop_map(|(how, n)| Check::Number { how, than: rust_decimal::Decimal::new(n, 1) });
    let day = (compare, -200_i32..40).prop_map(|(how, days)| Check::Day { how, than: When::Today(days) });
    let within =
        prop::sample::select(vec![Period::ThisWeek, Period::LastMonth, Period::ThisQuarter, Period::LastDays(30), Period::NextDays(9)])
            .prop_map(|period| Check::Within { period });
    let empty = prop_oneof![Just(Check::Empty), Just(Check::Filled)];
    let paths = |paths: Vec<Vec<FieldId>>| prop::sample::select(paths);
    let pair = prop_oneof![
        (paths(vec![vec![f("Faults.Status")]]), choice),
        (paths(vec![vec![f("Faults.Warden")], to_section("Warden"), to_district("Warden"), vec![f("Faults.Created by")]]), who),
        (paths(vec![vec![section], vec![f("Faults.District")], to_section("District"), to_section("Faults")]), linked),
        (paths(vec![vec![f("Faults.What is wrong")], to_section("Name"), to_district("Name"), vec![f("Faults.Reporter’s mail")]]), text),
        (paths(vec![vec![f("Faults.Hours needed")], to_section("Length"), to_district("Season budget")]), number),
        (paths(vec![vec![f("Faults.Due")], to_section("Last inspected"), vec![f("Faults.Created at")]]), prop_oneof![day, within]),
        (paths(vec![vec![f("Faults.Pictures")], vec![f("Faults.District")], to_section("Picture"), to_district("Sections")]), empty),
    ];
    let of = prop::sample::select(vec![Quantity::Any, Quantity::All, Quantity::None]);
    (pair, of).prop_map(|((path, check), of)| Test { path, of, check })
}

/// What a cell holds, whoever asks.
pub(crate) fn value(ds: &Dataset, table: TableId, record: RecordId, field: FieldId) -> Value {
    let clock = clock();
    let lens = Lens::of_everything(ds, None, &clock);
    lens.reader(table, field).cell(record.row()).to_value()
}

/// The records that a link names.
pub(crate) fn linked(ds: &Dataset, table: TableId, record: RecordId, field: FieldId) -> Vec<RecordId> {
    match value(ds, table, record, field) {
        Value::Links(records) => records,
        _ => Vec::new(),
    }
}

/// What is kept of a record, in the bin or not.
pub(crate) fn kept(ds: &Dataset, table: TableId, record: RecordId) -> Option<LoadedRecord> {
    ds.record_to_keep(table, record)
}

/// How many records a table has, those in the bin included.
pub(crate) fn rows_of(ds: &Dataset, table: TableId) -> usize {
    (0..).map_while(|row| kept(ds, table, RecordId::at_row(row))).count()
}

/// The records of a table that are not in the bin.
pub(crate) fn records(ds: &Dataset, table: TableId) -> Vec<RecordId> {
    Lens::of_everything(ds, None, &clock()).records(table).collect()
}
