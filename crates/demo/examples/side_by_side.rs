//! The same queries by core and by hand-written SQL on a typed, analysed table, in one run. Its last lines are `ratio NAME VALUE`:
//! how many times faster core is, but for `reach`, which is the restricted query's time over the unrestricted one's.
//!
//! Both sides answer whole: the count, and for windows the hundred rows with their texts.

use jiff::Timestamp;
use std::{
    hint::black_box,
    pin::pin,
    time::{Duration, Instant},
};
use tokio_postgres::{Client, NoTls};
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    figure::Figure,
    id::{FieldId, PersonId, TableId},
    value::Cell,
    view::{GroupBy, Order, Query, Tally, Window},
};
use westerfall_demo::scaled;

const ROUNDS: usize = 31;

const TABLE: &str = "CREATE TABLE fault (
    id INTEGER PRIMARY KEY, number TEXT, title TEXT, section_id INTEGER, kind INTEGER, severity INTEGER, status INTEGER, reported DATE,
    due DATE, seen TIMESTAMPTZ, hours NUMERIC, reporter TEXT, mail TEXT, phone TEXT, description TEXT, district_id INTEGER, warden INTEGER,
    created_at TIMESTAMPTZ, created_by INTEGER, changed_at TIMESTAMPTZ, changed_by INTEGER)";
const WINDOW: &str = "SELECT id, number, title, kind, severity, status, due, warden, hours, count(*) OVER () FROM fault
    WHERE status IS DISTINCT FROM 84 AND status IS DISTINCT FROM 85 ORDER BY due NULLS LAST, id LIMIT 100";
const TEXT: &str = "SELECT id, number, title, kind, severity, status, due, warden, hours FROM fault ORDER BY lower(title), id LIMIT 100";
const GROUPS: &str = "SELECT severity, status, count(*), sum(hours) FROM fault GROUP BY severity, status ORDER BY severity, status";

#[tokio::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let url = std::env::var("WESTERFALL_BENCH_DATABASE")?;
    let faults = std::env::var("WESTERFALL_BENCH_FAULTS").ok().and_then(|n| n.parse().ok()).unwrap_or(100_000);
    let now = Timestamp::now();
    let ds = scaled::dataset(now, faults);
    let (client, connection) = tokio_postgres::connect(&url, NoTls).await?;
    tokio::spawn(connection);
    fill(&client, &ds).await?;

    let side = Side { ds: &ds, now };
    println!("{faults} faults of 21 fields; medians of {ROUNDS} rounds");
    let window = side.core(1, &side.window());
    let pairs = [
        ("filter-sort-window", window, sql(&client, WINDOW).await?),
        ("group-by-two-and-sum", side.core(1, &side.groups()), sql(&client, GROUPS).await?),
        ("sort-by-text", side.core(1, &side.text()), sql(&client, TEXT).await?),
        // The other way round: the restricted query over the unrestricted.
        ("reach", window, side.core(2, &side.window())),
    ];
    for (name, ours, theirs) in &pairs {
        println!("{name}: {ours:?}, against {theirs:?}");
    }
    for (name, ours, theirs) in &pairs {
        println!("ratio {name} {:.2}", theirs.as_secs_f64() / ours.as_secs_f64());
    }
    Ok(())
}

struct Side<'a> {
    ds: &'a Dataset,
    now: Timestamp,
}

impl Side<'_> {
    fn table(&self) -> TableId {
        self.ds.tables().find(|t| t.def.name == "Faults").expect("the demo has faults").def.id
    }

    fn field(&self, name: &str) -> FieldId {
        field(self.ds, name)
    }

    /// The demo's own view, without its groups.
    fn window(&self) -> Query {
        let view = self.ds.views().find(|v| v.name == "To be put right").expect("a view of the demo");
        Query { groups: Vec::new(), tallies: Vec::new(), ..view.query.clone() }
    }

    fn text(&self) -> Query {
        Query { sorts: vec![self.order("What is wrong")], fields: self.window().fields, ..Query::default() }
    }

    fn groups(&self) -> Query {
        let tallies = vec![Tally { field: self.field("Hours needed"), figure: Figure::Sum }];
        Query { groups: ["Severity", "Status"].map(|name| GroupBy::of(self.field(name))).to_vec(), tallies, ..Query::default() }
    }

    fn order(&self, name: &str) -> Order {
        Order { field: self.field(name), descending: false }
    }

    /// The time of a query with its rows, as this person sees them.
    fn core(&self, person: u32, query: &Query) -> Duration {
        let clock = scaled::clock(self.now);
        let me = Asker::Person(PersonId::new(person).expect("not zero"));
        let fields: Vec<FieldId> = query.fields.iter().map(|f| f.field).collect();
        let rows = if fields.is_empty() { 0..0 } else { 0..100 };
        median(|| {
            let lens = Lens::new(self.ds, me, &clock);
            let outcome = query.run(&lens, self.table(), &Window { rows: rows.clone(), keep: &[], own: None });
            black_box(lens.rows(self.table(), &outcome.window, &fields));
        })
    }
}

fn field(ds: &Dataset, name: &str) -> FieldId {
    let faults = ds.tables().find(|t| t.def.name == "Faults").expect("the demo has faults");
    faults.def.fields.iter().find(|f| f.name == name).expect("a field of the demo").id
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

async fn sql(client: &Client, query: &str) -> Result<Duration, tokio_postgres::Error> {
    let prepared = client.prepare(query).await?;
    let mut times = Vec::new();
    for _ in 0..ROUNDS {
        let begun = Instant::now();
        black_box(client.query(&prepared, &[]).await?);
        times.push(begun.elapsed());
    }
    times.sort();
    Ok(times[ROUNDS / 2])
}

/// The same faults in a typed table, analysed, in memory.
async fn fill(client: &Client, ds: &Dataset) -> Result<(), Box<dyn std::error::Error>> {
    use futures::SinkExt;
    client.batch_execute("DROP TABLE IF EXISTS fault").await?;
    client.batch_execute(TABLE).await?;
    let clock = scaled::clock(Timestamp::now());
    let lens = Lens::new(ds, Asker::Westerfall, &clock);
    let table = ds.tables().find(|t| t.def.name == "Faults").ok_or("the demo has faults")?;
    let names = [
        "Number",
        "What is wrong",
        "Section",
        "Kind",
        "Severity",
        "Status",
        "Reported on",
        "Due",
        "Seen on site",
        "Hours needed",
        "Reporter",
        "Reporter’s mail",
        "Reporter’s phone",
        "Description",
        "District",
        "Warden",
        "Created at",
        "Created by",
        "Changed at",
        "Changed by",
    ];
    let readers: Vec<_> = names.iter().map(|name| lens.reader(table.def.id, field(ds, name))).collect();
    let mut sink = pin!(client.copy_in("COPY fault FROM STDIN").await?);
    for record in lens.records(table.def.id) {
        let mut line = record.to_string();
        for reader in &readers {
            line.push('\t');
            line += &match reader.cell(record.row()) {
                Cell::Text(text) => text.replace(['\t', '\n', '\\'], " "),
                Cell::Number(number) => number.to_string(),
                Cell::Date(date) => date.to_string(),
                Cell::Instant(instant) => instant.to_string(),
                Cell::Choice(option) => option.to_string(),
                Cell::Person(person) => person.to_string(),
                Cell::Links(records) => records.first().map_or_else(|| "\\N".to_owned(), ToString::to_string),
                _ => "\\N".to_owned(),
            };
        }
        line.push('\n');
        sink.send(std::io::Cursor::new(line.into_bytes())).await?;
    }
    sink.close().await?;
    client.batch_execute("VACUUM ANALYZE fault").await?;
    Ok(())
}
