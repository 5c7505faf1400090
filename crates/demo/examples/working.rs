//! What working in a view costs core, in memory: highlights, lanes, a calendar's month, counted values, an own order, a block.
//! Its last lines are `ratio NAME VALUE`: the measured over the wanted, so that at most 1 is good; `highlights` is the time of a
//! page of rows with twenty over that of a plain one (at most 1.3 is wanted).

use jiff::{Span, Timestamp};
use std::{
    hint::black_box,
    time::{Duration, Instant},
};
use westerfall_core::{
    Clock,
    access::{Asker, Lens},
    bulk::{Alter, Altered, Bulk, Which},
    condition::Condition,
    dataset::Dataset,
    highlight::{Highlight, Look, Touch},
    id::{FieldId, HighlightId, PersonId, RecordId, TableId},
    intent::{Block, Intent, OrderStep},
    part::Part,
    value::{Input, Value},
    view::{Almanac, AlmanacDate, Asked, Query, Shape, Spot, View, Window},
};
use westerfall_demo::scaled;

const ROUNDS: usize = 21;

fn main() {
    let faults = std::env::var("WESTERFALL_BENCH_FAULTS").ok().and_then(|n| n.parse().ok()).unwrap_or(100_000);
    let now = Timestamp::now();
    let bench = Bench { ds: scaled::dataset(now, faults), clock: scaled::clock(now) };
    println!("{faults} faults; medians of {ROUNDS} rounds");
    let plain = bench.page(0);
    let lit = bench.page(20);
    println!("a page of 100 rows: {plain:?}, with 20 highlights {lit:?}");
    let times = [
        ("lanes", "lanes by status, counts and the first thirty of each", bench.lanes(), 1.0),
        ("month", "a month of a calendar with so many dated records", bench.month(), 0.5),
        ("counted-values", "the values of a field with their counts", bench.values(), 0.03),
        ("own-order", "a record moved from last to first, decided, applied and shown", bench.own_order(), 0.02),
        ("bulk", "10,000 records changed at once, rehearsed", bench.bulk(), 0.5),
        ("bulk-sights", "10,000 records given to another section, rehearsed with who no longer sees them", bench.sights(), 0.5),
        ("block", "1,000 rows of 10 cells, rehearsed, decided and applied", bench.block(), 1.0),
    ];
    for (name, what, time, _) in &times {
        println!("{name}: {what}: {time:?}");
    }
    println!("ratio highlights {:.2}", lit.as_secs_f64() / plain.as_secs_f64());
    for (name, _, time, wanted) in &times {
        println!("ratio {name} {:.2}", time.as_secs_f64() / wanted);
    }
}

struct Bench {
    ds: Dataset,
    clock: Clock,
}

fn nadia() -> Asker {
    Asker::Person(PersonId::FIRST)
}

impl Bench {
    fn table(&self) -> TableId {
        self.ds.tables().find(|t| t.def.name == "Faults").expect("the demo has faults").def.id
    }

    fn field(&self, name: &str) -> FieldId {
        let table = self.ds.table(self.table()).expect("it is there");
        table.def.fields.iter().find(|f| f.name == name).expect("a field of the demo").id
    }

    fn view(&self, name: &str) -> &View {
        self.ds.views().find(|view| view.name == name).expect("a view of the demo")
    }

    fn act(ds: &mut Dataset, clock: &Clock, intent: &Intent) {
        let decision = ds.decide(intent, nadia(), clock).expect("the steward may");
        ds.apply(&decision.change);
    }

    /// The demo's own view of all faults, with so many highlights that touch each record.
    fn page(&self, highlights: usize) -> Duration {
        let mut ds = self.ds.clone();
        for known in ds.highlights_of(self.table()).into_iter().cloned().collect::<Vec<_>>() {
            Self::act(&mut ds, &self.clock, &Intent::Drop(known.into()));
        }
        let condition = self.view("To be put right").query.condition.clone();
        for number in 0..highlights {
            let look = Look { bold: number % 2 == 0, italic: number % 2 == 1, ..Look::default() };
            let touch = if number % 3 == 0 { Touch::whole(look) } else { Touch::of(self.field("What is wrong"), look) };
            let one = Highlight::new(HighlightId::FIRST, self.table(), condition.clone(), vec![touch]);
            Self::act(&mut ds, &self.clock, &Intent::Make(Part::from(one)));
        }
        let query = &self.view("All faults").query;
        let lens = Lens::new(&ds, nadia(), &self.clock);
        median(|| {
            let found = query.run(&lens, self.table(), &Window { rows: 0..100, ..Window::default() });
            black_box(query.rows(&lens, self.table())(&found.window));
        })
    }

    fn lanes(&self) -> Duration {
        let query = &self.view("From report to repair").query;
        let lens = Lens::new(&self.ds, nadia(), &self.clock);
        median(|| {
            let found = query.found(&lens, self.table(), &[]);
            let mut start = 0;
            let whole = found.whole();
            let slices = whole.groups.iter().map(|lane| {
                start += lane.count;
                start - lane.count..start - lane.count + lane.count.min(30)
            });
            let (slices, _) = found.slices(&slices.collect::<Vec<_>>());
            let told = query.rows(&lens, self.table());
            slices.iter().for_each(|slice| drop(black_box(told(&slice.records))));
        })
    }

    /// By the day they were reported: as many as were within 31 days.
    fn month(&self) -> Duration {
        let dates = vec![AlmanacDate { start: self.field("Reported on"), end: None }];
        let shape = Shape::Calendar(Almanac::by(dates));
        let query = Query { shape, condition: Condition::default(), ..self.view("All faults").query.clone() };
        let lens = Lens::new(&self.ds, nadia(), &self.clock);
        let to = self.clock.today();
        let from = Span::new().try_days(30).ok().and_then(|days| to.checked_sub(days).ok()).unwrap_or(to);
        let asked = Asked { from, to, of_a_day: 6, waiting: 20, hours: false, week_begins: jiff::civil::Weekday::Monday };
        median(|| drop(black_box(query.stretch(&lens, self.table(), &asked))))
    }

    fn values(&self) -> Duration {
        let query = &self.view("All faults").query;
        let lens = Lens::new(&self.ds, nadia(), &self.clock);
        let times = ["Section", "Kind", "Reported on"].map(|name| {
            let field = self.field(name);
            median(|| drop(black_box(query.look_into(&lens, self.table(), field, ""))))
        });
        times.into_iter().max().unwrap_or_default()
    }

    /// A day later, in each of the first ten thousand.
    fn bulk(&self) -> Duration {
        self.rehearsed("Reported on", Alter::Days(1))
    }

    /// All of one district then: wardens and a shared page lose sight of some, and gain it.
    fn sights(&self) -> Duration {
        self.rehearsed("Section", Alter::Set(Input::Value(Value::Links(vec![RecordId::at_row(0)]))))
    }

    fn rehearsed(&self, field: &str, to: Alter) -> Duration {
        let alter = vec![Altered { field: self.field(field), to }];
        let records = Lens::new(&self.ds, nadia(), &self.clock).records(self.table()).take(10_000).collect();
        let bulk = Bulk { table: self.table(), which: Which::These(records), without: Default::default(), alter };
        median(|| drop(black_box(bulk.rehearse(&self.ds, nadia(), &self.clock, None))))
    }

    fn own_order(&self) -> Duration {
        let mut ds = self.ds.clone();
        let view = self.view("All faults").id;
        Self::act(&mut ds, &self.clock, &Intent::Order { view, step: OrderStep::Begin { sorts: Vec::new() } });
        let query = ds.view(view).expect("it is there").query.clone();
        let table = self.table();
        let mut rest: Vec<RecordId> = Lens::new(&ds, nadia(), &self.clock).records(table).collect();
        median(|| {
            let last = rest.pop().expect("a record");
            let step = OrderStep::Place { records: vec![last], spot: Spot::First, edits: Vec::new() };
            Self::act(&mut ds, &self.clock, &Intent::Order { view, step });
            let lens = Lens::new(&ds, nadia(), &self.clock);
            let window = Window { rows: 0..100, own: lens.own_order(view), ..Window::default() };
            black_box(query.run(&lens, table, &window));
        })
    }

    fn block(&self) -> Duration {
        let names = ["What is wrong", "Kind", "Severity", "Status", "Hours needed", "Reporter’s name", "Reporter’s mail", "Planned for"];
        let table = self.ds.table(self.table()).expect("it is there");
        let fields: Vec<FieldId> = names
            .iter()
            .filter_map(|name| table.def.fields.iter().find(|f| f.name == *name))
            .chain(
                table.def.fields.iter().filter(|f| !names.contains(&f.name.as_str()) && f.kind.takes_input() && table.link(f.id).is_none()),
            )
            .map(|f| f.id)
            .take(10)
            .collect();
        let row = ["Stile step loose", "stile or gate", "awkward", "checked", "2.5", "Wynn Ashdale", "wynn@walkers.example", "2027-03-01"];
        let cells =
            (0..1_000).map(|_| fields.iter().enumerate().map(|(n, _)| row.get(n).map(|text| Input::Text((*text).into()))).collect());
        let block = Block {
            table: self.table(),
            records: (0..1_000).map(RecordId::at_row).collect(),
            fields: fields.clone(),
            cells: cells.collect(),
            was: Vec::new(),
            leave_out: true,
            make: false,
        };
        let mut ds = self.ds.clone();
        let begun = Instant::now();
        black_box(block.rehearse(&ds, nadia(), &self.clock).expect("it can be told"));
        Self::act(&mut ds, &self.clock, &Intent::Block(Box::new(block)));
        begun.elapsed()
    }
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
