//! What setting papers costs, with the true program: read through the lens, handed over, set, handed back. Its last lines are
//! `ratio NAME VALUE`: the measured over the wanted, so that at most 1 is good. `WESTERFALL_PAPERS` names the program.

use jiff::Timestamp;
use std::{
    io::{BufRead, BufReader, Read, Write},
    process::{Child, ChildStdin, ChildStdout, Command, Stdio},
    time::{Duration, Instant},
};
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    document::{Document, Letterhead, Paper},
    id::RecordId,
};
use westerfall_demo::scaled;

const ROUNDS: usize = 21;
const SLIPS: usize = 500;
const LINES: usize = 8_000;

fn main() {
    let now = Timestamp::now();
    let (ds, clock) = (scaled::dataset(now, LINES), scaled::clock(now));
    let document = |title: &str| ds.documents().find(|document| document.title == title).expect("a document of the demo");
    let records = |document: &Document| Lens::new(&ds, Asker::Westerfall, &clock).records(document.table).collect::<Vec<_>>();
    let paper = |document: &Document, records: &[RecordId]| read(&ds, document, records, &clock);
    let mut press = Press::start();
    let (order, slip, list) = (document("Work order"), document("Fault slip"), document("List of faults"));
    let orders = records(order);
    press.set("one", &paper(order, &orders[..1]));
    let mut times: Vec<Duration> = Vec::new();
    let mut shown: Vec<Duration> = Vec::new();
    // Another record each time: nothing that was set before helps.
    for record in orders.iter().skip(1).take(ROUNDS) {
        times.push(timed(|| press.set("one", &paper(order, &[*record]))));
        shown.push(timed(|| press.set("preview", &Paper { marks: true, ..paper(order, &[*record]) })));
    }
    let (one, preview) = (middle(times), middle(shown));
    let faults = records(slip);
    let many = timed(|| press.set("one", &paper(slip, &faults[..SLIPS])));
    let memory = press.most_memory();
    let long = timed(|| press.set("one", &paper(list, &faults[..LINES])));
    println!("one page of a work order as a PDF: {one:?}; as it is composed: {preview:?}; medians of {ROUNDS} records");
    println!("{SLIPS} slips as one PDF: {many:?}, {} MB at most in the program that sets them", memory / 1_000_000);
    println!("a list of {LINES} lines: {long:?}, {} MB", press.most_memory() / 1_000_000);
    println!("ratio one-page {:.2}", one.as_secs_f64() / 0.08);
    println!("ratio composed {:.2}", preview.as_secs_f64() / 0.3);
    println!("ratio slips {:.2}", many.as_secs_f64() / 10.0);
    println!("ratio slips-memory {:.2}", memory as f64 / 1e9);
}

fn read(ds: &Dataset, document: &Document, records: &[RecordId], clock: &westerfall_core::Clock) -> Paper {
    document.paper(ds, Asker::Westerfall, clock, records, &Letterhead::default()).expect("it is printed")
}

fn timed<T>(does: impl FnOnce() -> T) -> Duration {
    let begun = Instant::now();
    does();
    begun.elapsed()
}

fn middle(mut all: Vec<Duration>) -> Duration {
    all.sort();
    all[all.len() / 2]
}

/// The program that sets papers.
struct Press {
    child: Child,
    input: ChildStdin,
    output: BufReader<ChildStdout>,
}

impl Press {
    fn start() -> Self {
        let program = std::env::var("WESTERFALL_PAPERS").expect("WESTERFALL_PAPERS names the program that sets papers");
        let mut child = Command::new(program).stdin(Stdio::piped()).stdout(Stdio::piped()).spawn().expect("it can be run");
        let (input, output) = (child.stdin.take().expect("a way in"), child.stdout.take().expect("a way out"));
        Self { child, input, output: BufReader::new(output) }
    }

    fn set(&mut self, r#as: &str, paper: &Paper) -> usize {
        let job = serde_json::json!({ "as": r#as, "paper": paper, "files": [] });
        self.input.write_all(format!("{job}\n").as_bytes()).expect("it listens");
        self.input.flush().expect("it listens");
        let mut told = String::new();
        self.output.read_line(&mut told).expect("it answers");
        let answer: serde_json::Value = serde_json::from_str(&told).expect("an answer");
        assert!(answer["fault"].is_null(), "{answer}");
        let length = answer["parts"].as_array().expect("its parts").iter().map(|part| part.as_u64().expect("a length")).sum::<u64>();
        let mut bytes = vec![0; usize::try_from(length).expect("a length")];
        self.output.read_exact(&mut bytes).expect("its parts");
        bytes.len()
    }

    /// The most memory that it has used, in bytes.
    fn most_memory(&self) -> u64 {
        let told = std::fs::read_to_string(format!("/proc/{}/status", self.child.id())).unwrap_or_default();
        let line = told.lines().find_map(|line| line.strip_prefix("VmHWM:")).unwrap_or("0 kB");
        1_024 * line.trim().trim_end_matches(" kB").parse::<u64>().unwrap_or(0)
    }
}

impl Drop for Press {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}
