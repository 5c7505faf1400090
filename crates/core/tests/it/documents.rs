//! Documents: what stands on paper for whom, what is said of a document in words, and what becomes of it when what it prints goes.

use crate::fixture::*;
use proptest::prelude::*;
use std::collections::BTreeSet;
use westerfall_core::{
    access::{Asker, Lens},
    automation::{Automation, Enclosed, Step},
    condition::{Check, Condition},
    dataset::Dataset,
    document::{
        BlockSet, BlockShows, Document, EmptyFact, Letterhead, Paper, PaperBlock, PaperShows, SheetBlock, SheetFact, SheetFacts,
        SheetLines, SheetOf, SheetPicture, SheetSignature, SheetSpace, SheetText,
    },
    face::Face,
    fault::FaultKind,
    figure::Figure,
    id::{DocumentId, FieldId, RecordId},
    intent::{FieldChange, Intent},
    pack::Packing,
    part::Part,
    sentence::as_text,
    value::Customs,
    wording::Wording,
};

fn document(ds: &Dataset, title: &str) -> Document {
    ds.documents().find(|document| document.title == title).expect("a document of the demo").clone()
}

fn letterhead() -> Letterhead {
    Letterhead::from(Face::named("Orrindale Paths Trust"))
}

fn paper(ds: &Dataset, document: &Document, who: Asker, records: &[RecordId]) -> Paper {
    document.paper(ds, who, &clock(), records, &letterhead()).expect("it is printed")
}

fn block(shows: BlockShows) -> SheetBlock {
    SheetBlock { beside: false, shows, set: BlockSet::default(), when: Condition::default() }
}

fn text(ds: &Dataset, words: &str) -> SheetBlock {
    let text = Wording::parse(words, ds, table(ds, "Work orders")).unwrap();
    block(BlockShows::Text(SheetText { text, typed: false }))
}

fn with(document: &Document, blocks: Vec<SheetBlock>) -> Document {
    Document { blocks, ..document.clone() }
}

/// A sheet as one reads it: a line for each row of blocks, what stands side by side beside each other.
fn drawn(paper: &Paper) -> String {
    let mut lines = Vec::new();
    for sheet in &paper.sheets {
        lines.push(format!("=== {}", sheet.name));
        lines.extend(sheet.rows.iter().map(|row| row.iter().map(block_drawn).collect::<Vec<_>>().join("   ||   ")));
        lines.push(format!("--- {}{}", sheet.foot, if sheet.pages { ", numbered" } else { "" }));
    }
    lines.join("\n")
}

fn block_drawn(block: &PaperBlock) -> String {
    let told = match &block.shows {
        PaperShows::Heading { text, team } => {
            format!("{}# {}", if *team { "(team) " } else { "" }, text.iter().map(|run| run.text.as_str()).collect::<String>())
        }
        PaperShows::Text { text } => {
            text.iter().map(|run| if run.typed { format!("[{}]", run.text) } else { run.text.clone() }).collect::<String>()
        }
        PaperShows::Facts { facts } | PaperShows::Sums { facts, .. } => facts
            .iter()
            .map(|fact| format!("{}: {}", fact.words, if fact.blank { "____" } else { &fact.text }))
            .collect::<Vec<_>>()
            .join(" | "),
        PaperShows::Lines { columns, rows, totals, .. } => {
            let head = columns.iter().map(|column| column.name.as_str()).collect::<Vec<_>>().join(" | ");
            let rows = rows.iter().map(|row| row.cells.iter().map(|cell| cell.text.as_str()).collect::<Vec<_>>().join(" | "));
            let totals = totals.iter().map(|total| format!("{} under {:?}: {}", total.words, total.column, total.text));
            [head].into_iter().chain(rows).chain(totals).collect::<Vec<_>>().join("\n     ")
        }
        PaperShows::Picture { file, height } => format!("picture {file}, {height} mm"),
        PaperShows::Signature { name, words, signed } => format!("{} {name}, {words}", if *signed { "signed" } else { "to be signed" }),
        PaperShows::Rule => "rule".into(),
        PaperShows::Space { height } => format!("{height} mm"),
        PaperShows::Break => "new page".into(),
    };
    format!("{:>2} {told}", block.number)
}

/// The first order with so many lines.
fn order_with(ds: &Dataset, wanted: impl Fn(usize) -> bool) -> RecordId {
    let (clock, orders, lines) = (clock(), table(ds, "Work orders"), field(ds, "Work orders.Material lines"));
    let lens = Lens::new(ds, Asker::Westerfall, &clock);
    let count = |record: RecordId| match lens.reader(orders, lines).cell(record.row()) {
        westerfall_core::value::Cell::Links(linked) => linked.len(),
        _ => 0,
    };
    lens.records(orders).find(|record| wanted(count(*record))).expect("such an order")
}

#[test]
fn a_work_order_becomes_a_sheet_with_its_lines_totals_and_signatures() {
    let ds = demo();
    let order = order_with(&ds, |lines| lines == 3);
    insta::assert_snapshot!("work_order_on_paper", drawn(&paper(&ds, &document(&ds, "Work order"), asker(&ds, "Nadia"), &[order])));
}

#[test]
fn a_document_reads_back_in_words() {
    let ds = demo();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let told = |document: &Document| {
        let words = document.in_words(&lens);
        let block = |block: &westerfall_core::document::BlockWords| {
            format!("{}: {}\n    {}", block.name, as_text(&block.short), as_text(&block.sentence))
        };
        format!("{}\n{}", as_text(&words.sentence), words.blocks.iter().map(block).collect::<Vec<_>>().join("\n"))
    };
    let all: Vec<String> = ["Work order", "Fault slip", "List of faults"].iter().map(|title| told(&document(&ds, title))).collect();
    insta::assert_snapshot!("documents_in_words", all.join("\n\n"));
}

#[test]
fn a_sheet_for_all_holds_the_records_in_the_order_given_and_what_they_come_to() {
    let ds = demo();
    let list = document(&ds, "List of faults");
    let (records, nadia) = ([record(9), record(3), record(5)], asker(&ds, "Nadia"));
    let sheet = paper(&ds, &list, nadia, &records);
    let PaperShows::Lines { rows, totals, .. } = &sheet.sheets[0].rows[1][0].shows else { panic!("a table") };
    let clock = clock();
    let lens = Lens::new(&ds, nadia, &clock);
    let number = |record: &RecordId| lens.text_at(table(&ds, "Faults"), *record, field(&ds, "Faults.Number"));
    let numbers: Vec<String> = rows.iter().map(|row| row.cells[0].text.clone()).collect();
    assert_eq!(numbers, records.iter().map(number).collect::<Vec<_>>());
    assert_eq!(totals.iter().map(|total| total.text.as_str()).collect::<Vec<_>>(), ["3"]);
    // Of none there is a sheet, too: with its heading alone.
    assert_eq!(paper(&ds, &list, nadia, &[]).sheets[0].rows.len(), 1);
}

#[test]
fn a_sheet_says_the_same_whoever_prints_it_who_sees_the_same() {
    let ds = demo();
    let order = order_with(&ds, |lines| lines > 1);
    let sheet = document(&ds, "Work order");
    let before = paper(&ds, &sheet, asker(&ds, "Nadia"), &[order]);
    assert_eq!(before, paper(&ds, &sheet, Asker::Westerfall, &[order]));
    // How somebody writes days is theirs on the screen; on paper the document says it.
    let theirs = westerfall_core::Clock { by: Some(Customs::Germany), ..clock() };
    assert_eq!(before, sheet.paper(&ds, asker(&ds, "Nadia"), &theirs, &[order], &letterhead()).unwrap());
    let german = Document { customs: Customs::Germany, ..sheet };
    assert_ne!(before, paper(&ds, &german, asker(&ds, "Nadia"), &[order]));
}

#[test]
fn what_is_not_open_is_not_on_paper_and_the_sheet_says_whose_it_is() {
    let ds = demo();
    let pavel = asker(&ds, "Pavel");
    let (reporter, mail) = (field(&ds, "Faults.Reporter"), field(&ds, "Faults.Reporter’s mail"));
    let fact = |field: FieldId| SheetFact { path: vec![field], words: String::new() };
    let facts = vec![fact(field(&ds, "Faults.Number")), fact(reporter), fact(mail)];
    let slip = with(&document(&ds, "Fault slip"), vec![block(BlockShows::Facts(SheetFacts { facts, empty: EmptyFact::Line }))]);
    let of = |who| drawn(&paper(&ds, &slip, who, &[record(3)]));
    assert!(of(asker(&ds, "Nadia")).contains("Reporter’s mail") && !of(asker(&ds, "Nadia")).contains("only what is open"));
    let his = of(pavel);
    // Not its name, and no line to write it on either.
    assert!(!his.contains("Reporter") && his.contains("only what is open to Pavel Arkwright"), "{his}");
    // Nor a record that is not open: as if there were none.
    let tamsin = asker(&ds, "Tamsin");
    let clock = clock();
    let lens = Lens::new(&ds, tamsin, &clock);
    let closed = Lens::new(&ds, Asker::Westerfall, &clock).records(slip.table).find(|record| !lens.sees(slip.table, *record)).unwrap();
    let refused = slip.paper(&ds, tamsin, &clock, &[closed], &letterhead()).unwrap_err();
    assert_eq!(refused.kind, FaultKind::NotFound);
}

#[test]
fn blocks_come_and_go_by_what_stands_in_the_record() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let sheet = document(&ds, "Work order");
    act(&mut ds, nadia, &Intent::Add { table: sheet.table, records: vec![vec![]] }).expect("an order without lines");
    let (with_lines, without) = (order_with(&ds, |lines| lines > 0), order_with(&ds, |lines| lines == 0));
    let says = |words: &str, record| drawn(&paper(&ds, &sheet, nadia, &[record])).contains(words);
    assert!(says("Materials under", with_lines) && !says("No material is needed", with_lines));
    assert!(says("No material is needed", without) && !says("Materials under", without));
    // A block with a condition, beside one that always stands.
    let finished = test(&[field(&ds, "Work orders.Finished")], Check::Filled);
    let conditional = SheetBlock { when: finished, beside: true, ..text(&ds, "Finished on {Finished}.") };
    let sheet = with(&sheet, vec![text(&ds, "{Number}"), conditional, block(BlockShows::Space(SheetSpace { height: 4 }))]);
    let clock = clock();
    let lens = Lens::new(&ds, nadia, &clock);
    for order in lens.records(sheet.table) {
        let row = &paper(&ds, &sheet, nadia, &[order]).sheets[0].rows[0];
        let done = !lens.text_at(sheet.table, order, field(&ds, "Work orders.Finished")).is_empty();
        assert_eq!(row.len(), if done { 2 } else { 1 });
    }
    // Which records are hard to set.
    let (longest, bare) = document(&ds, "Work order").difficult(&lens);
    assert!(longest.is_some() && bare.is_some_and(|bare| says("No material is needed", bare)));
}

#[test]
fn a_month_that_was_typed_is_pointed_out_with_the_field_that_would_do() {
    let ds = demo();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let sheet =
        with(&document(&ds, "Work order"), vec![text(&ds, "Work of October 2026 under the budget of {District}, till 3 Nov 2026.")]);
    let typed = sheet.typed(&lens);
    insta::assert_debug_snapshot!("typed_by_hand", typed);
    // On the sheet it stands as what it is, in the preview's marks.
    assert!(drawn(&paper(&ds, &sheet, asker(&ds, "Nadia"), &[record(1)])).contains("Work of [October 2026] under"));
    // What it becomes is read as it is typed, and nothing is pointed out any more.
    let mended = Wording::parse(&typed[0].becomes, &ds, sheet.table).unwrap();
    let mended = with(&sheet, vec![block(BlockShows::Text(SheetText { text: mended, typed: false }))]);
    assert_eq!(mended.typed(&lens).len(), 1);
    let october = drawn(&paper(&ds, &mended, asker(&ds, "Nadia"), &[record(1)]));
    assert!(october.contains("Work of ") && !october.contains("[October"), "{october}");
    // Meant so, it is left.
    let meant = with(
        &sheet,
        sheet
            .blocks
            .iter()
            .cloned()
            .map(|mut block| {
                if let BlockShows::Text(text) = &mut block.shows {
                    text.typed = true;
                }
                block
            })
            .collect(),
    );
    assert!(meant.typed(&lens).is_empty());
}

#[test]
fn a_month_of_a_day_is_written_and_read_and_asked_of_days_alone() {
    let ds = demo();
    let orders = table(&ds, "Work orders");
    for words in ["{month of Planned day}", "In {year of Planned day}, {month of Finished}", "{month of Faults.Reported on}"] {
        let read = Wording::parse(words, &ds, orders).unwrap();
        assert_eq!(read.to_text(&ds, orders), words);
    }
    for (words, fault) in [
        ("{month of Number}", "“Number” is no day, and so has no month and no year."),
        ("{month of Moon}", "There is no field “Moon” in Work orders."),
    ] {
        let refused = Wording::parse(words, &ds, orders).unwrap_err();
        assert_eq!(refused.message, fault);
    }
}

#[test]
fn what_does_not_fit_is_refused_where_it_stands() {
    let ds = demo();
    let sheet = document(&ds, "Work order");
    let (number, faults) = (field(&ds, "Work orders.Number"), field(&ds, "Faults.Number"));
    let lines = |change: &dyn Fn(&mut SheetLines)| {
        let mut lines = sheet
            .blocks
            .iter()
            .find_map(|block| if let BlockShows::Lines(lines) = &block.shows { Some(lines.clone()) } else { None })
            .unwrap();
        change(&mut lines);
        block(BlockShows::Lines(lines))
    };
    let facts = |path: Vec<FieldId>| {
        block(BlockShows::Facts(SheetFacts { facts: vec![SheetFact { path, words: String::new() }], empty: EmptyFact::Out }))
    };
    let cases = [
        (facts(vec![faults]), "/blocks/0/shows/facts/0"),
        (facts(vec![number, number]), "/blocks/0/shows/facts/0"),
        (block(BlockShows::Facts(SheetFacts { facts: vec![], empty: EmptyFact::Out })), "/blocks/0/shows/facts"),
        (lines(&|lines| lines.link = number), "/blocks/0/shows/link"),
        (lines(&|lines| lines.by = Some(number)), "/blocks/0/shows/by"),
        (lines(&|lines| lines.columns.shows.clear()), "/blocks/0/shows/shows"),
        (lines(&|lines| lines.columns.totals[0].figure = Figure::Earliest), "/blocks/0/shows/totals/0"),
        (block(BlockShows::Picture(SheetPicture { path: vec![number], height: 40 })), "/blocks/0/shows/path"),
        (block(BlockShows::Space(SheetSpace { height: 0 })), "/blocks/0/shows/height"),
        (
            block(BlockShows::Signature(SheetSignature { person: vec![], on: vec![number], signed: true, words: String::new() })),
            "/blocks/0/shows/on",
        ),
        (SheetBlock { when: test(&[faults], Check::Filled), ..block(BlockShows::Rule) }, "/blocks/0/when"),
    ];
    for (block, place) in cases {
        let found = with(&sheet, vec![block.clone()]).check(&ds).unwrap_err();
        assert!(found.0.iter().any(|fault| fault.pointer.starts_with(place)), "{block:?}: {found:?}");
    }
    // A sheet for all tells of no record by itself, and one for each has no table of all.
    let all = Document { of: SheetOf::All, ..sheet.clone() };
    assert!(all.check(&ds).is_err());
    assert!(Document { of: SheetOf::Each, ..document(&ds, "List of faults") }.check(&ds).is_err());
    assert!(Document { keep: Some(number), ..sheet.clone() }.check(&ds).is_err());
    // Nor is it called by a value of one: whoever may not read the field would learn its name.
    let faults = Document { called: sheet.called.clone(), ..document(&ds, "List of faults") }.check(&ds).unwrap_err();
    assert_eq!(faults.0.iter().map(|fault| fault.pointer.as_str()).collect::<Vec<_>>(), ["/called"]);
    let mut wide = sheet;
    wide.page.margin = 4;
    assert!(wide.check(&ds).is_err());
}

/// What the folio shows stands on paper in the same order; and a document begins so, too.
#[test]
fn records_are_printed_as_they_are_laid_out_for_whoever_prints_them() {
    let ds = demo();
    let clock = clock();
    let order = order_with(&ds, |lines| lines == 3);
    let nadia = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let sheet = Document::laid_out(&nadia, table(&ds, "Work orders")).unwrap();
    insta::assert_snapshot!("work_order_as_it_is_laid_out", drawn(&paper(&ds, &sheet, asker(&ds, "Nadia"), &[order])));
    let shown = |document: &Document| -> Vec<FieldId> {
        let fields = |block: &SheetBlock| match &block.shows {
            BlockShows::Facts(facts) => facts.facts.iter().flat_map(|fact| fact.path.clone()).collect(),
            BlockShows::Lines(lines) => vec![lines.link],
            _ => Vec::new(),
        };
        document.blocks.iter().flat_map(fields).collect()
    };
    for home in ["Faults", "Work orders", "Volunteers", "Districts"].map(|name| table(&ds, name)) {
        for who in ["Nadia", "Tamsin", "Pavel", "Bex"] {
            let lens = Lens::new(&ds, asker(&ds, who), &clock);
            let Some(sheet) = Document::laid_out(&lens, home) else { continue };
            assert!(sheet.check(&ds).is_ok(), "{who} {home}: {:?}", sheet.check(&ds));
            let shown = shown(&sheet);
            let once: BTreeSet<FieldId> = shown.iter().copied().collect();
            assert_eq!(once.len(), shown.len(), "nothing stands there twice");
            assert!(shown.iter().all(|field| lens.reads(home, *field)));
            // Of any record whatever stands in its sections is on its sheet.
            for record in lens.records(home).take(20) {
                let is_button = |field: FieldId| {
                    matches!(ds.table(home).unwrap().def.field(field).unwrap().kind, westerfall_core::schema::Kind::Button { .. })
                };
                let laid = lens.laid_out(home, record).sections.into_iter().flat_map(|section| section.fields);
                for placed in laid.filter(|placed| !is_button(placed.field)) {
                    assert!(once.contains(&placed.field), "{who}: {} is missing", placed.field);
                }
            }
        }
    }
    let begun = Document::begun(&nadia, DocumentId::FIRST, table(&ds, "Faults"), "Slip", SheetOf::Each).unwrap();
    let headings = begun.blocks.iter().filter(|block| matches!(block.shows, BlockShows::Heading(_))).count();
    assert!(headings > 2, "it begins with the sections of the arrangement");
    // A section that is there only sometimes is so on paper.
    assert!(begun.blocks.iter().any(|block| !block.when.is_nothing()));
}

#[test]
fn who_builds_makes_documents_and_what_goes_is_printed_no_more() {
    let mut ds = demo();
    let clock = clock();
    let sheet = document(&ds, "Work order");
    let make = |who: Asker, ds: &Dataset| {
        let lens = Lens::new(ds, who, &clock);
        let begun = Document::begun(&lens, DocumentId::FIRST, sheet.table, "Another", SheetOf::Each)?;
        ds.decide(&Intent::Make(Part::Document(begun)), who, &clock).ok()
    };
    assert!(make(asker(&ds, "Tamsin"), &ds).is_none());
    let made = make(asker(&ds, "Nadia"), &ds).expect("stewards do");
    ds.apply(&made.change);
    let another = document(&ds, "Another");
    assert!(another.blocks.iter().any(|block| matches!(block.shows, BlockShows::Lines(_))), "its lines are there without being asked");
    // A field that goes is taken out of it; undone, it stands there again.
    let planned = field(&ds, "Work orders.Planned day");
    let uses = ds.uses(sheet.table, planned);
    assert!(uses.iter().any(|one| one.name == "Work order" && !one.holds));
    let (change, nadia) = (FieldChange::Remove(planned), asker(&ds, "Nadia"));
    let gone = act(&mut ds, nadia, &Intent::Fields { table: sheet.table, change }).expect("nothing needs it");
    let left = document(&ds, "Work order");
    assert!(left.check(&ds).is_ok());
    assert!(!drawn(&paper(&ds, &left, asker(&ds, "Nadia"), &[record(1)])).contains("Planned day"));
    act(&mut ds, nadia, &undo(gone.change)).expect("it is taken back");
    assert_eq!(document(&ds, "Work order"), sheet);
}

#[test]
fn as_many_lines_as_can_be_set_are_printed_and_more_are_refused() {
    let ds = westerfall_demo::scaled::dataset(NOW.parse().unwrap(), 10_001);
    let list = document(&ds, "List of faults");
    let all: Vec<RecordId> = Lens::new(&ds, Asker::Westerfall, &clock()).records(list.table).collect();
    let refused = list.paper(&ds, Asker::Westerfall, &clock(), &all, &letterhead()).unwrap_err();
    assert_eq!(refused.kind, FaultKind::TooLong);
    // Seven columns each: 56,000 cells.
    assert!(list.paper(&ds, Asker::Westerfall, &clock(), &all[..8_000], &letterhead()).is_ok());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Whatever is printed for whomever: no word of a record that is not open to them.
    #[test]
    fn nothing_out_of_reach_is_on_paper(who in prop::sample::select(vec!["Tamsin", "Idris", "Jonah", "Pavel", "Wren", "Bex"]), title in prop::sample::select(vec!["Work order", "Fault slip", "List of faults"]), from in 0_usize..100) {
        let ds = demo();
        let clock = clock();
        let document = document(&ds, title);
        let who = asker(&ds, who);
        let lens = Lens::new(&ds, who, &clock);
        let records: Vec<RecordId> = Lens::new(&ds, Asker::Westerfall, &clock).records(document.table).skip(from).take(12).collect();
        let Ok(told) = document.paper(&ds, who, &clock, &records, &letterhead()) else { return Ok(()) };
        let told = drawn(&told);
        let (faults, number) = (table(&ds, "Faults"), field(&ds, "Faults.Number"));
        let open: BTreeSet<RecordId> = lens.records(faults).collect();
        let whole = Lens::new(&ds, Asker::Westerfall, &clock);
        for fault in whole.records(faults).filter(|fault| !open.contains(fault)) {
            let name = whole.text_at(faults, fault, number);
            prop_assert!(!told.contains(&name), "{name} is on paper");
        }
    }
}

#[test]
fn a_tracker_takes_its_documents_along_and_prints_the_same_elsewhere() {
    let ds = demo();
    let clock = clock();
    let pack = Lens::new(&ds, Asker::Westerfall, &clock).pack(Packing::Whole).unwrap();
    let mut other = Dataset::empty((*ds.tracker).clone(), ds.people.clone());
    act(&mut other, Asker::Westerfall, &Intent::Unpack { pack: Box::new(pack), by: None }).unwrap_or_else(|faults| panic!("{faults:?}"));
    let order = order_with(&ds, |lines| lines > 1);
    let told = |ds: &Dataset| drawn(&paper(ds, &document(ds, "Work order"), Asker::Westerfall, &[order]));
    assert_eq!(told(&ds), told(&other));
    assert_eq!(ds.documents().count(), other.documents().count());
}

/// What a mail encloses: of one record, never of a message of many; without the document it goes alone; and its reader's own eyes.
#[test]
fn a_mail_encloses_a_document_of_its_record_as_its_reader_sees_it() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let (slip, order) = (document(&ds, "Fault slip").id, document(&ds, "Work order").id);
    let mut automation = ds.automations().find(|one| one.table == table(&ds, "Faults") && !one.steps.is_empty()).unwrap().clone();
    let enclosing = |automation: &mut Automation, id: DocumentId, many: bool| {
        let Some(Step::Mail { encloses, digest, reply, .. }) = automation.steps.first_mut() else { panic!("it writes first") };
        (*encloses, *digest, *reply) = (Some(id), many, None);
    };
    enclosing(&mut automation, order, false);
    let refused = |ds: &Dataset, automation: &Automation| {
        let put = Intent::Save(Part::Automation(automation.clone()));
        ds.decide(&put, nadia, &clock()).err().map(|faults| faults.0[0].pointer.clone())
    };
    assert_eq!(refused(&ds, &automation).as_deref(), Some("/steps/0/mail/encloses"), "it is of another table");
    enclosing(&mut automation, slip, true);
    assert!(refused(&ds, &automation).is_some(), "one message of many");
    enclosing(&mut automation, slip, false);
    act(&mut ds, nadia, &Intent::Save(Part::Automation(automation.clone()))).unwrap();
    let told = |ds: &Dataset| {
        let clock = clock();
        let one = ds.automation(automation.id).unwrap();
        one.to_sentences(&Lens::new(ds, nadia, &clock)).iter().map(|clause| as_text(&clause.phrases)).collect::<Vec<_>>().join(" ")
    };
    assert!(told(&ds).contains(", with “Fault slip” enclosed"), "{}", told(&ds));
    let record = records(&ds, table(&ds, "Faults"))[0];
    let paper = |person: Option<&str>, record: RecordId| {
        Enclosed { document: slip, record, person: person.map(|name| self::person(&ds, name)) }.paper(&ds, &clock(), &letterhead())
    };
    let whole = paper(None, record).expect("outside goes what was chosen");
    assert_eq!(drawn(&whole), drawn(&self::paper(&ds, &document(&ds, "Fault slip"), Asker::Westerfall, &[record])));
    for who in ["Nadia", "Tamsin", "Pavel", "Wren"] {
        let lens_clock = clock();
        let sees = Lens::new(&ds, asker(&ds, who), &lens_clock).sees(table(&ds, "Faults"), record);
        let mine = paper(Some(who), record);
        assert_eq!(mine.is_some(), sees, "{who}");
        if let Some(mine) = mine {
            assert_eq!(drawn(&mine), drawn(&self::paper(&ds, &document(&ds, "Fault slip"), asker(&ds, who), &[record])), "{who}");
        }
    }
    // Taken away, the document goes out of the step, and the mail goes on.
    let gone = Intent::Drop(document(&ds, "Fault slip").into());
    act(&mut ds, nadia, &gone).unwrap();
    assert!(!told(&ds).contains("enclosed"), "{}", told(&ds));
}
