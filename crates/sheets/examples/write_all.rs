//! Writes every kind of file that a view can become, and the whole tracker, into a folder, with what should stand in them: what
//! readers of other makers are held against by `bin/read-back`.

use jiff::{Timestamp, tz::TimeZone};
use serde_json::json;
use std::{fs, path::PathBuf};
use westerfall_core::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    export::ListedLine,
    figure::Figure,
    pack::Packing,
    view::{GroupBy, ShownField, Tally, View},
};
use westerfall_sheets::{CalendarHead, CsvStyle, Format, Separator, ViewFile, calendar, write_package};

fn main() {
    let folder = PathBuf::from(std::env::args().nth(1).expect("say into which folder"));
    fs::create_dir_all(&folder).expect("the folder can be made");
    let keep = |name: &str, bytes: &[u8]| fs::write(folder.join(name), bytes).expect("it is written");
    let now: Timestamp = "2026-11-23T09:30:00Z".parse().expect("a moment");
    let zone = TimeZone::get("Europe/London").expect("a zone");
    let mut ds = Dataset::empty(westerfall_demo::tracker(), westerfall_demo::team_people());
    for step in westerfall_demo::story(now, 120) {
        let clock = Clock::new(step.at, zone.clone());
        let change = ds.decide(&step.intent, step.asker, &clock).expect("the demo's own").change;
        ds.apply(&change);
    }
    let clock = Clock::new(now, zone);
    let lens = Lens::new(&ds, Asker::Westerfall, &clock);
    let view = |name: &str| ds.views().find(|view| view.name == name).expect("a view of the demo");
    let View { table, query, .. } = view("All faults");
    let field = |name: &str| ds.table(*table).and_then(|home| home.def.fields.iter().find(|field| field.name == name)).expect(name).id;
    let mut query = query.clone();
    query.groups = vec![GroupBy::of(field("District")), GroupBy::of(field("Status"))];
    query.fields.extend(["Reporter’s mail", "Hours needed"].map(|name| ShownField { field: field(name), width: 200 }));
    query.tallies = vec![Tally { field: field("Hours needed"), figure: Figure::Sum }];
    let listing = query.listing(&lens, *table, None, None);
    let heads = listing.lines.iter().filter(|line| matches!(line, ListedLine::Group(_))).count();
    for (name, format) in [
        ("faults.xlsx", Format::Xlsx),
        ("faults.ods", Format::Ods),
        ("faults.csv", Format::Csv(CsvStyle { separator: Separator::Semicolon, mark: true })),
        ("faults.json", Format::Json),
        ("faults.md", Format::Markdown),
    ] {
        let file =
            ViewFile { lens: &lens, table: *table, query: &query, listing: &listing, name: "Faults", format, looks: true, pictures: None };
        keep(name, &file.write(&mut |_| true).expect("it holds them").expect("nobody stopped it").bytes);
    }
    let crews = view("Who is out when");
    let entries = crews.query.entries(&lens, crews.table).expect("it is a calendar");
    let head = CalendarHead { name: &crews.name, host: "paths.example", of: "1-6", again: None };
    keep("crews.ics", &calendar(&head, &entries, |record| format!("https://paths.example/t/1/6/r/{record}")).bytes);
    let pack = lens.pack(Packing::Whole).expect("it can be packed");
    keep("package.zip", &write_package(&pack, &[]).expect("it is written"));
    let told = json!({
        "columns": listing.fields.iter().map(|listed| &listed.name).collect::<Vec<_>>(),
        "levels": listing.levels,
        "heads": heads,
        "records": listing.records.len(),
        "foot": matches!(listing.lines.last(), Some(ListedLine::Foot(..))),
        "entries": entries.entries.iter().map(|entry| &entry.title).collect::<Vec<_>>(),
        "tables": ds.tables().map(|home| (home.def.name.clone(), lens.count(home.def.id))).collect::<Vec<_>>(),
    });
    keep("told.json", told.to_string().as_bytes());
}
