//! What writing a view of 100,000 records and 20 fields into each kind of file costs, and how much memory it takes besides the data.
//! Its last lines are `ratio NAME VALUE`: the measured over the wanted, so that at most 1 is good.

#![allow(clippy::cast_possible_truncation, clippy::cast_precision_loss, reason = "figures of a bench")]

use jiff::Timestamp;
use std::{
    fs,
    time::{Duration, Instant},
};
use westerfall_core::{
    access::{Asker, Lens},
    view::{Query, ShownField},
};
use westerfall_demo::scaled;
use westerfall_sheets::{CsvStyle, Format, ViewFile};

const RECORDS: usize = 100_000;
const FIELDS: usize = 20;

fn main() {
    let now = Timestamp::now();
    let (ds, clock) = (scaled::dataset(now, RECORDS), scaled::clock(now));
    let lens = Lens::new(&ds, Asker::Westerfall, &clock);
    let home = ds.tables().max_by_key(|home| lens.count(home.def.id)).expect("the demo has tables");
    let table = home.def.id;
    let fields: Vec<ShownField> = home.def.fields.iter().take(FIELDS).map(|def| ShownField { field: def.id, width: 120 }).collect();
    println!("{} records of {} fields", lens.count(table), fields.len());
    let query = Query { fields, ..Query::default() };
    let listing = query.listing(&lens, table, None, None);
    let mut xlsx = (Duration::ZERO, 0);
    for (name, format) in
        [("csv", Format::Csv(CsvStyle::default())), ("json", Format::Json), ("markdown", Format::Markdown), ("xlsx", Format::Xlsx)]
    {
        let file = ViewFile { lens: &lens, table, query: &query, listing: &listing, name: "Faults", format, looks: false, pictures: None };
        let (before, begun) = (most(), Instant::now());
        let written = file.write(&mut |_| true).expect("it holds them").expect("nobody stopped it");
        let (took, more) = (begun.elapsed(), most().saturating_sub(before));
        println!(
            "{name}: {took:?}, a file of {} MB, {} MB more memory than there ever was",
            written.bytes.len() / 1_000_000,
            more / 1_000_000
        );
        if name == "xlsx" {
            xlsx = (took, more);
        }
    }
    println!("ratio xlsx {:.2}", xlsx.0.as_secs_f64() / 4.0);
    println!("ratio xlsx-memory {:.2}", xlsx.1 as f64 / 1e8);
}

/// The most that this program ever had in memory, in bytes.
fn most() -> u64 {
    let status = fs::read_to_string("/proc/self/status").unwrap_or_default();
    let line = status.lines().find_map(|line| line.strip_prefix("VmHWM:")).unwrap_or_default();
    line.trim().trim_end_matches(" kB").parse::<u64>().unwrap_or(0) * 1024
}
