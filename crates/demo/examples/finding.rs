//! What finding costs core, in memory: as one types, what it takes beside the records, and how it is kept up.
//! Its last lines are `ratio NAME VALUE`: the measured over the wanted, so that at most 1 is good.

use jiff::Timestamp;
use std::{
    hint::black_box,
    time::{Duration, Instant},
};
use westerfall_core::{
    access::{Asker, Lens},
    find::Wanted,
    id::{PersonId, RecordId},
    intent::{Edit, Intent},
    value::Input,
};
use westerfall_demo::scaled;

/// What somebody types, letter by letter.
const TYPED: [&str; 10] = [
    "gate esk",
    "fallen tree harrow",
    "FR-2026-0107",
    "blocked stile",
    "idris",
    "kissing gate hinge",
    "handrail footbridge low",
    "drainage upper orrin",
    "dangerous",
    "walker wrote twice",
];
const EDITS: u32 = 200;

fn main() {
    let faults = std::env::var("WESTERFALL_BENCH_FAULTS").ok().and_then(|n| n.parse().ok()).unwrap_or(250_000);
    let now = Timestamp::now();
    let (mut ds, clock) = (scaled::dataset(now, faults), scaled::clock(now));
    let records: usize = ds.size();
    let made_ready = timed(|| ds.make_findable());
    let bytes = ds.said_bytes() / records.max(1);
    println!("{faults} faults, {records} records; made ready in {made_ready:?}, {bytes} B a record");

    let nadia = Asker::Person(PersonId::FIRST);
    let warden =
        ds.people.iter().find(|person| person.name.starts_with("Tamsin")).map(|person| Asker::Person(person.id)).expect("a warden");
    let mut ratios = vec![("find-bytes", bytes as f64 / 400.0)];
    for (who, asker, names) in
        [("steward", nadia, ["find-median", "find-p99"]), ("warden", warden, ["find-warden-median", "find-warden-p99"])]
    {
        let mut times = Vec::new();
        let mut slowest = (Duration::ZERO, String::new());
        for text in TYPED {
            for end in 1..=text.len() {
                let typed = &text[..end];
                let took = timed(|| {
                    let lens = Lens::new(&ds, asker, &clock);
                    black_box(lens.find(&Wanted { text: typed, lines: 7, ..Wanted::default() }));
                });
                if took > slowest.0 {
                    slowest = (took, typed.to_owned());
                }
                times.push(took);
            }
        }
        times.sort_unstable();
        let (median, most) = (times[times.len() / 2], times[times.len() * 99 / 100]);
        println!("{who}: {} questions: median {median:?}, 99 of 100 within {most:?}; slowest “{}” {:?}", times.len(), slowest.1, slowest.0);
        ratios.push((names[0], median.as_secs_f64() / 0.03));
        ratios.push((names[1], most.as_secs_f64() / 0.1));
    }

    let table = ds.tables().find(|t| t.def.name == "Faults").expect("the demo has faults");
    let (table, field) = (table.def.id, table.def.fields.iter().find(|f| f.name == "What is wrong").expect("a field").id);
    let mut kept_up = Duration::ZERO;
    for number in 1..=EDITS {
        let edits = vec![Edit { field, input: Input::Text(format!("Gate {number} off its post")), was: None }];
        let record = RecordId::new(number * 7).expect("not nothing");
        let decision = ds.decide(&Intent::Edit { table, record, edits }, nadia, &clock).expect("the steward may");
        ds.apply(&decision.change);
        // Without what it takes to look whether there is anything to do, which finding does anyway.
        let folding = timed(|| ds.make_findable());
        kept_up += folding.saturating_sub(timed(|| ds.make_findable()));
    }
    let each = kept_up / EDITS;
    println!("kept up after an edit: {each:?}");
    ratios.push(("find-kept-up", each.as_secs_f64() / 0.000_2));
    for (name, value) in ratios {
        println!("ratio {name} {value:.2}");
    }
}

fn timed(does: impl FnOnce()) -> Duration {
    let begun = Instant::now();
    does();
    begun.elapsed()
}
