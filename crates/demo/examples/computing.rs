//! What computing costs: a whole recalculation, one edit, a summary over ten thousand records; and what a record takes in
//! memory. Its last lines are `ratio NAME VALUE`: the measured over the wanted, so that at most 1 is good; `edit-growth` is
//! one edit's time in a table of the largest size over the smallest.

use jiff::Timestamp;
use rust_decimal::Decimal;
use std::{
    hint::black_box,
    time::{Duration, Instant},
};
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    formula::Formula,
    id::{FieldId, PersonId, RecordId, TableId},
    intent::{Edit, FieldChange, Intent},
    schema::{FieldDef, Kind},
    value::{Input, Value},
};
use westerfall_demo::scaled;

const ROUNDS: usize = 31;
const SIZES: [usize; 4] = [1_000, 10_000, 100_000, 250_000];
/// Five calculations over each of the many records, beside the demo's own two, and the summary that the districts have.
const CALCULATIONS: [&str; 3] =
    ["IF(Hours needed > 4, \"long\", \"short\")", "Section.District.Name & \", \" & Section.Name", "ROUND(Hours needed * 24.5 * 1.2, 2)"];

fn main() {
    let now = Timestamp::now();
    // For counting instructions: `valgrind --tool=callgrind --toggle-collect='*ten_edits*'`.
    if let Some(faults) = std::env::var("WESTERFALL_BENCH_EDITS_OF").ok().and_then(|n| n.parse().ok()) {
        let mut ds = scaled::dataset(now, faults);
        ds.turn_to(now);
        return ten_edits(&ds, now);
    }
    let size = std::env::var("WESTERFALL_BENCH_FAULTS").ok().and_then(|n| n.parse().ok()).unwrap_or(100_000);
    let before = resident();
    let mut ds = scaled::dataset(now, size);
    ds.turn_to(now);
    let per_record = (resident() - before) as f64 / size as f64;
    CALCULATIONS.iter().enumerate().for_each(|(n, text)| calculate(&mut ds, &format!("Bench {n}"), text, now));

    let whole = median(|| {
        let mut anew = ds.clone();
        black_box(anew.compute_all(now));
    });
    let cells = ds.clone().compute_all(now).computed;
    let edit = edit_reaching_far(&ds, now);
    let (children, few) = (ten_thousand_children(now, 10_000), ten_thousand_children(now, 100));
    println!("{size} faults; medians of {ROUNDS} rounds");
    println!("whole recalculation: {whole:?} for {cells} cells");
    println!("one edit that reaches two calculations and a summary two links away: {edit:?}");
    println!("one edit under a summary over 10,000 records: {children:?}, over 100: {few:?}");
    println!("memory: {per_record:.0} bytes a fault of 24 fields");
    let mut growth = Vec::new();
    for faults in SIZES {
        let mut ds = scaled::dataset(now, faults);
        ds.turn_to(now);
        let took = edit_of_a_fault(&ds, now);
        println!("one edit of a fault among {faults}: {took:?}");
        growth.push(took.as_secs_f64());
    }
    println!("ratio whole-recalculation {:.2}", whole.as_secs_f64() / 0.5);
    println!("ratio edit-recomputed {:.2}", edit.as_secs_f64() / 0.001);
    println!("ratio memory {:.2}", per_record / 1_500.0);
    println!("ratio edit-growth {:.2}", growth[SIZES.len() - 1] / growth[0]);
}

fn field(ds: &Dataset, table: &str, name: &str) -> (TableId, FieldId) {
    let home = ds.tables().find(|t| t.def.name == table).expect("a table of the demo");
    (home.def.id, home.def.fields.iter().find(|f| f.name == name).expect("a field of the demo").id)
}

fn steward() -> Asker {
    Asker::Person(PersonId::new(1).expect("not zero"))
}

/// Decided and applied, as the server would, on a copy that shares what does not change.
fn done(ds: &Dataset, intent: &Intent, now: Timestamp) -> Dataset {
    let decision = ds.decide(intent, steward(), &scaled::clock(now)).expect("allowed");
    let mut after = ds.clone();
    after.apply(&decision.change);
    after
}

fn calculate(ds: &mut Dataset, name: &str, text: &str, now: Timestamp) {
    let (table, id) = field(ds, "Faults", "Due");
    let reading = Formula::read(text, ds, table);
    assert_eq!(reading.faults, [], "{text}");
    let kind = Kind::Calculation { formula: reading.formula, shows: Box::new(Kind::of_type(reading.result.of)) };
    let field = FieldDef::new(id, name, kind);
    *ds = done(ds, &Intent::Fields { table, change: FieldChange::Add { field, before: None, other: None } }, now);
}

fn edit((table, field): (TableId, FieldId), row: usize, value: i64) -> Intent {
    let input = Input::Value(Value::Number(Decimal::from(value)));
    Intent::Edit { table, record: RecordId::at_row(row), edits: vec![Edit { field, input, was: None }] }
}

fn edit_reaching_far(ds: &Dataset, now: Timestamp) -> Duration {
    let quantity = field(ds, "Material lines", "Quantity");
    let mut turn = 100;
    median(|| {
        turn += 1;
        black_box(done(ds, &edit(quantity, 17, turn), now));
    })
}

/// An edit that reaches the due day, the days open and two counts of a fault.
fn edit_of_a_fault(ds: &Dataset, now: Timestamp) -> Duration {
    let (table, severity) = field(ds, "Faults", "Severity");
    let Kind::Choice { options, .. } = &ds.table(table).expect("faults").def.field(severity).expect("severity").kind else {
        return Duration::MAX;
    };
    let mut turn = 0;
    median(|| {
        turn += 1;
        let input = Input::Value(Value::Choice(options[turn % 4].id));
        let edits = vec![Edit { field: severity, input, was: None }];
        black_box(done(ds, &Intent::Edit { table, record: RecordId::at_row(500), edits }, now));
    })
}

/// The same, ten times, for counting instructions.
#[inline(never)]
fn ten_edits(ds: &Dataset, now: Timestamp) {
    let (table, severity) = field(ds, "Faults", "Severity");
    let kind = &ds.table(table).expect("faults").def.field(severity).expect("severity").kind;
    for turn in 0..10 {
        let input = Input::Value(Value::Choice(kind.options()[turn % 4].id));
        let edits = vec![Edit { field: severity, input, was: None }];
        black_box(done(ds, &Intent::Edit { table, record: RecordId::at_row(500), edits }, now));
    }
}

/// An edit of one of so many lines of one work order, in a table ten times as large.
fn ten_thousand_children(now: Timestamp, children: usize) -> Duration {
    let mut ds = scaled::dataset(now, 1_000);
    let (lines, order) = field(&ds, "Material lines", "Work order");
    let (_, quantity) = field(&ds, "Material lines", "Quantity");
    let (_, price) = field(&ds, "Material lines", "Unit price");
    let row = Lens::new(&ds, Asker::Westerfall, &scaled::clock(now)).records(lines).count();
    let cells = |of: usize| {
        vec![
            (order, Input::Value(Value::Links(vec![RecordId::at_row(of)]))),
            (quantity, Input::Value(Value::Number(Decimal::TWO))),
            (price, Input::Value(Value::Number(Decimal::new(1_250, 2)))),
        ]
    };
    let records = (0..children).map(|_| cells(0)).chain((0..100_000 - children).map(|n| cells(1 + n % 50)));
    ds = done(&ds, &Intent::Add { table: lines, records: records.collect() }, now);
    let mut turn = 100;
    median(|| {
        turn += 1;
        black_box(done(&ds, &edit((lines, quantity), row + 5, turn), now));
    })
}

fn median(mut work: impl FnMut()) -> Duration {
    let mut times: Vec<Duration> = (0..ROUNDS)
        .map(|_| {
            let begun = Instant::now();
            work();
            begun.elapsed()
        })
        .collect();
    times.sort();
    times[ROUNDS / 2]
}

/// Bytes of memory that the process holds; nothing is known elsewhere than on Linux.
fn resident() -> usize {
    let pages = std::fs::read_to_string("/proc/self/statm").ok();
    pages.and_then(|text| text.split_whitespace().nth(1)?.parse::<usize>().ok()).unwrap_or(0) * 4_096
}
