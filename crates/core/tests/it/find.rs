//! Finding: all that holds the words, and nothing that somebody may not see.

use crate::fixture::*;
use proptest::prelude::*;
use std::collections::BTreeSet;
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    find::{Discovery, FileTexts, Leads, MOST_LINES, Wanted},
    id::{PersonId, RecordId, TableId},
    intent::{Edit, Intent},
    people::Actor,
    schema::Kind,
    talk::{TalkPart, TalkStep},
    value::{Attachment, Input, Value, fold},
    view::Query,
};

fn find(ds: &Dataset, who: &str, text: &str) -> Discovery {
    let clock = clock();
    Lens::new(ds, asker(ds, who), &clock).find(&Wanted { text, lines: MOST_LINES, ..Wanted::default() })
}

/// The lines of a table, as one reads them: name, then each word’s field and what it says, hits in brackets.
fn lines(ds: &Dataset, found: &Discovery, table_name: &str) -> Vec<String> {
    let id = table(ds, table_name);
    let of = found.tables.iter().filter(|one| one.table == id);
    let text = |spans: &[westerfall_core::find::FoundSpan]| -> String {
        spans.iter().map(|span| if span.hit { format!("[{}]", span.text) } else { span.text.clone() }).collect()
    };
    let line = |line: &westerfall_core::find::FoundRecord| {
        let says: Vec<String> = line.says.iter().map(|piece| format!("{}: {}", piece.of, text(&piece.text))).collect();
        format!("{} | {}", line.name, says.join(" | "))
    };
    of.flat_map(|one| &one.lines).map(line).collect()
}

/// The records of a table that hold every word, found by reading every open cell as people read it.
fn by_reading(lens: &Lens<'_>, table: TableId, words: &[&str]) -> BTreeSet<RecordId> {
    let ds = lens.dataset();
    let read = |kind: &Kind| match kind {
        Kind::Link(link) => link.holds,
        Kind::Date | Kind::DateTime | Kind::Range | Kind::YesNo | Kind::Json | Kind::Checklist | Kind::Web | Kind::Place => false,
        Kind::CreatedAt | Kind::CreatedBy | Kind::ChangedAt | Kind::ChangedBy | Kind::Id | Kind::Button { .. } | Kind::Phone => false,
        kind => !kind.is_number(),
    };
    let fields: Vec<_> = ds.table(table).unwrap().def.fields.iter().filter(|def| lens.reads(table, def.id)).map(|def| def.id).collect();
    let shown = |field| ds.shown_kind(table, field).is_some_and(|(_, kind)| read(kind));
    let fields: Vec<_> = fields.into_iter().filter(|field| shown(*field)).collect();
    let holds = |record: RecordId, word: &str| fields.iter().any(|f| fold(&lens.text_at(table, record, *f)).contains(&*fold(word)));
    lens.records(table).filter(|record| words.iter().all(|word| holds(*record, word))).collect()
}

/// Words that stand in no number and no day of the demo.
const WORDS: [&str; 14] =
    ["gate", "Esk", "tarn", "oake", "stile", "Harrow", "blocked", "made good", "the", "e", "Idris", "way", "ÉSKER", "walker"];

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// What is found is what one would find by reading everything that is open, whoever one is.
    #[test]
    fn it_finds_what_reading_finds(who in 1_u32..=8, words in prop::collection::vec(prop::sample::select(WORDS.to_vec()), 1..3)) {
        let (ds, clock) = (demo(), clock());
        let lens = Lens::new(&ds, Asker::Person(PersonId::new(who).unwrap()), &clock);
        let text = words.join(" ");
        let found = lens.find(&Wanted { text: &text, lines: MOST_LINES, ..Wanted::default() });
        let words: Vec<&str> = text.split(' ').collect();
        let mut total = 0;
        for name in ["Districts", "Sections", "Faults", "Volunteers", "Materials"] {
            let id = table(&ds, name);
            let expected = by_reading(&lens, id, &words);
            let one = found.tables.iter().find(|one| one.table == id);
            prop_assert_eq!(one.map_or(0, |one| one.count), expected.len(), "{} for {}", name, text);
            let told: BTreeSet<RecordId> = one.iter().flat_map(|one| &one.lines).map(|line| line.record).collect();
            prop_assert!(told.is_subset(&expected));
            prop_assert!(told.len() == expected.len().min(MOST_LINES));
            total += expected.len();
        }
        prop_assert!(found.count >= total);
    }

    /// Whatever is typed, it is answered, and no word is told that was not typed.
    #[test]
    fn nothing_that_is_typed_breaks_it(text in "\\PC{0,60}", who in 1_u32..=8) {
        let (ds, clock) = (demo(), clock());
        let found = Lens::new(&ds, Asker::Person(PersonId::new(who).unwrap()), &clock).find(&Wanted { text: &text, lines: 3, ..Wanted::default() });
        prop_assert!(found.words.len() <= 8);
        for line in found.tables.iter().flat_map(|one| &one.lines) {
            prop_assert_eq!(line.says.len(), found.words.len());
        }
    }

    /// The condition to which rows can be narrowed holds for every record that was found.
    #[test]
    fn rows_narrowed_to_what_was_found_have_all_of_it(words in prop::collection::vec(prop::sample::select(WORDS.to_vec()), 1..3), who in 1_u32..=8) {
        let (ds, clock) = (demo(), clock());
        let lens = Lens::new(&ds, Asker::Person(PersonId::new(who).unwrap()), &clock);
        let found = lens.find(&Wanted { text: &words.join(" "), lines: MOST_LINES, ..Wanted::default() });
        for one in &found.tables {
            let Some(only) = one.only.clone() else { continue };
            prop_assert!(only.check_for(&lens, one.table).is_ok(), "{:?}", only);
            let query = Query { condition: only, ..Query::default() };
            let missing: Vec<_> = one.lines.iter().filter(|line| !query.condition.holds(&lens, one.table, line.record)).collect();
            prop_assert!(missing.is_empty(), "{} {:?} {:?}", one.name, missing, one.only);
        }
    }
}

#[test]
fn it_says_where_each_word_stands() {
    let ds = demo();
    let found = find(&ds, "Nadia", "gate esk");
    let told = lines(&ds, &found, "Faults");
    assert!(!told.is_empty());
    for line in &told {
        assert_eq!(line.matches('[').count(), 2, "{line}");
        assert!(line.to_lowercase().contains("[gate]") && line.to_lowercase().contains("[esk]"), "{line}");
    }
    assert_eq!(found.words.iter().map(|word| word.text.as_str()).collect::<Vec<_>>(), ["gate", "esk"]);
    assert!(found.words.iter().all(|word| word.alone >= found.count), "{:?}", found.words);
}

#[test]
fn what_names_a_record_comes_before_what_it_says_elsewhere() {
    let ds = demo();
    let told = lines(&ds, &find(&ds, "Nadia", "eskermoor"), "Districts");
    assert_eq!(told, ["Eskermoor | name: [Eskermoor]"]);
    let found = find(&ds, "Nadia", "FR-2026-0007");
    assert_eq!(found.tables[0].count, 1, "{found:?}");
    assert_eq!(found.tables[0].lines[0].says[0].of, "number");
}

#[test]
fn days_and_numbers_are_found_as_they_are_typed() {
    let ds = demo();
    let faults = table(&ds, "Faults");
    let (day, clock) = (field(&ds, "Faults.Reported on"), clock());
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let record = lens.records(faults).nth(4).unwrap();
    let written = lens.text_at(faults, record, day);
    let westerfall_core::value::Value::Date(date) = value(&ds, faults, record, day) else { panic!() };
    for typed in [written.replace('\u{a0}', " "), date.to_string()] {
        let found = lens.find(&Wanted { text: &typed, lines: MOST_LINES, ..Wanted::default() });
        assert_eq!(found.words.len(), 1, "{typed} is one day: {:?}", found.words);
        let of = found.tables.iter().find(|one| one.table == faults).unwrap();
        assert!(of.lines.iter().any(|line| line.record == record), "{typed}: {of:?}");
    }
    let price = field(&ds, "Materials.Unit price");
    let materials = table(&ds, "Materials");
    let dear = lens.records(materials).next().unwrap();
    let typed = lens.text_at(materials, dear, price).replace('£', "");
    let found = lens.find(&Wanted { text: &typed, lines: MOST_LINES, ..Wanted::default() });
    assert!(found.tables.iter().any(|one| one.table == materials && one.lines.iter().any(|line| line.record == dear)), "{typed}");
}

#[test]
fn a_record_is_known_by_its_number_where_one_sees_it() {
    let (ds, clock) = (demo(), clock());
    let faults = table(&ds, "Faults");
    let number = field(&ds, "Faults.Number");
    let tamsin = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    let nadia = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    for record in nadia.records(faults).take(40) {
        let said = nadia.text_at(faults, record, number);
        assert_eq!(nadia.numbered(&said.to_lowercase()), Some((faults, record)));
        assert_eq!(tamsin.numbered(&said).is_some(), tamsin.sees(faults, record), "{said}");
    }
    for wrong in ["", "  ", "FR-", "FR-2026-9999", &"9".repeat(999)] {
        assert_eq!(nadia.numbered(wrong), None, "{wrong}");
    }
}

#[test]
fn a_change_is_found_at_once_and_what_was_there_no_more() {
    let ds = demo();
    let faults = table(&ds, "Faults");
    assert_eq!(find(&ds, "Nadia", "quagmire").count, 0);
    let edits = vec![Edit { field: field(&ds, "Faults.What is wrong"), input: Input::Text("A Quagmire by the stile".into()), was: None }];
    let mut now = ds.clone();
    act(&mut now, asker(&ds, "Nadia"), &Intent::Edit { table: faults, record: record(3), edits }).unwrap();
    let told = find(&now, "Nadia", "quagmire");
    assert_eq!(lines(&now, &told, "Faults"), ["A Quagmire by the stile | what is wrong: A [Quagmire] by the stile"]);
    assert_eq!(told.count, 2, "the work order that names it, too: {told:?}");
    assert_eq!(find(&ds, "Nadia", "quagmire").count, 0, "what was is as it was");
    act(&mut now, asker(&ds, "Nadia"), &Intent::Remove { table: faults, records: vec![record(3)] }).unwrap();
    assert_eq!(find(&now, "Nadia", "quagmire").count, 0, "what is in the bin");
}

#[test]
fn what_is_out_of_reach_gives_no_hit_and_no_count() {
    let ds = demo();
    let all = find(&ds, "Nadia", "tarn");
    let hers = find(&ds, "Tamsin", "tarn");
    assert!(all.count > 0);
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    for one in &hers.tables {
        assert!(one.lines.iter().all(|line| lens.sees(one.table, line.record)), "{one:?}");
    }
    assert_eq!(hers.tables.iter().find(|one| one.table == table(&ds, "Districts")), None, "Harrow Tarn is not hers");
    assert!(find(&ds, "Wren", "access").places.iter().all(|place| !matches!(place.leads, Leads::Field { .. } | Leads::Automation { .. })));
}

#[test]
fn what_a_view_leaves_out_is_told_with_why() {
    let (ds, clock) = (demo(), clock());
    let faults = table(&ds, "Faults");
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let view = ds.views().find(|view| view.table == faults && !view.query.condition.is_nothing()).unwrap();
    let found = lens.find(&Wanted { text: "gate", from: Some((faults, &view.query)), lines: MOST_LINES, ..Wanted::default() });
    let of = &found.tables[0];
    assert_eq!(of.table, faults, "the view’s own table comes first");
    assert!(of.left_out > 0 && of.left_out < of.count, "{}", of.says);
    for line in &of.lines {
        let inside = view.query.condition.holds(&lens, faults, line.record);
        assert_eq!(line.left_out.is_none(), inside, "{line:?}");
        assert!(line.left_out.as_ref().is_none_or(|why| why.contains(" is ")), "{line:?}");
    }
    let first_out = of.lines.iter().position(|line| line.left_out.is_some()).unwrap();
    assert!(of.lines[first_out..].iter().all(|line| line.left_out.is_some()), "those left out come last");
    assert_eq!(found.says, format!("{} and {} left out", found.count - of.left_out, of.left_out));
}

#[test]
fn places_and_what_can_be_done_are_found_by_their_names() {
    let ds = demo();
    let sorts = |who: &str, text: &str| -> Vec<String> {
        find(&ds, who, text)
            .places
            .iter()
            .map(|place| format!("{}: {} {}", place.sort, place.name, place.beside).trim().to_owned())
            .collect()
    };
    assert!(sorts("Nadia", "faults").contains(&"Tables: Faults 120".to_owned()), "{:?}", sorts("Nadia", "faults"));
    assert!(sorts("Nadia", "add fault").contains(&"To do with it: Add a fault".to_owned()), "{:?}", sorts("Nadia", "add fault"));
    let filled = find(&ds, "Nadia", "add fault drainage");
    let adding = filled.places.iter().find_map(|place| match &place.leads {
        Leads::Add { cells, .. } => Some((place.beside.clone(), cells.len())),
        _ => None,
    });
    assert_eq!(adding, Some(("with kind drainage".to_owned(), 1)));
    assert!(sorts("Pavel", "add fault").is_empty(), "who only reads adds nothing: {:?}", sorts("Pavel", "add fault"));
    assert!(sorts("Nadia", "report path").iter().any(|place| place.starts_with("Forms:")), "{:?}", sorts("Nadia", "report path"));
    assert!(
        sorts("Nadia", "severity").iter().any(|place| place.starts_with("Fields: Severity of faults")),
        "{:?}",
        sorts("Nadia", "severity")
    );
    assert!(!sorts("Tamsin", "severity").iter().any(|place| place.starts_with("Fields")), "who doesn’t build goes to no field");
}

#[test]
fn much_that_is_typed_is_cut_and_said_so() {
    let ds = demo();
    let long = "gate ".repeat(2_000);
    let found = find(&ds, "Nadia", &long);
    assert!(found.cut && found.words.len() == 8, "{:?}", found.words);
    assert!(!find(&ds, "Nadia", "gate").cut);
    assert_eq!(find(&ds, "Nadia", "  \t ").words, []);
    assert_eq!(find(&ds, "Nadia", "%_*.?[").count, 0);
}

/// A fault with a file of which this was read, and what was read.
fn with_file(ds: &mut Dataset, record: RecordId, text: &str) -> FileTexts {
    let (faults, pictures) = (table(ds, "Faults"), field(ds, "Faults.Pictures"));
    let file = Attachment { id: "survey".into(), name: "plan.pdf".into(), media: "application/pdf".into(), size: 9 };
    let edits = vec![Edit { field: pictures, input: Input::Upload(vec![file]), was: None }];
    let nadia = asker(ds, "Nadia");
    act(ds, nadia, &Intent::Edit { table: faults, record, edits }).unwrap();
    let mut texts = FileTexts::default();
    texts.learn("survey".into(), text);
    texts.learn("elsewhere".into(), "quillwort in a file of another tracker");
    texts
}

#[test]
fn what_stands_in_a_file_is_found_by_those_who_see_the_file_and_by_nobody_else() {
    let mut ds = demo();
    let (faults, clock) = (table(&ds, "Faults"), clock());
    let own = |ds: &Dataset, who: &str| Lens::new(ds, asker(ds, who), &clock).records(faults).collect::<BTreeSet<RecordId>>();
    let (all, hers) = (own(&ds, "Nadia"), own(&ds, "Tamsin"));
    let record = *all.difference(&hers).next().unwrap();
    let texts = with_file(&mut ds, record, "Survey of the Quillwort meadow");
    let found = |ds: &Dataset, who: &str, text: &str| {
        let lens = Lens::new(ds, asker(ds, who), &clock);
        lens.find(&Wanted { text, lines: MOST_LINES, texts: Some(&texts), ..Wanted::default() })
    };
    let one = found(&ds, "Nadia", "quillwort");
    assert_eq!(one.count, 1, "{one:?}");
    let line = lines(&ds, &one, "Faults").remove(0);
    assert!(line.ends_with("in “plan.pdf”: Survey of the [Quillwort] meadow"), "{line}");
    assert!(one.tables[0].only.is_none(), "no condition of a view asks what stands in files");
    assert_eq!(found(&ds, "Nadia", "quillwort survey meadow").count, 1, "several words, each somewhere in it");
    for who in ["Tamsin", "Wren"] {
        let none = found(&ds, who, "quillwort");
        assert_eq!((none.count, none.words[0].alone), (0, 0), "{who}");
    }
    // Taken out of its cell, it is found no more; brought back, it is.
    let pictures = field(&ds, "Faults.Pictures");
    let out = Intent::Edit { table: faults, record, edits: vec![Edit { field: pictures, input: Input::Value(Value::Empty), was: None }] };
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &out).unwrap();
    assert_eq!(found(&ds, "Nadia", "quillwort").count, 0);
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, ..ProptestConfig::default() })]

    /// Whoever looks: a word of a file is found where they see the record that holds it, and in no other.
    #[test]
    fn a_word_of_a_file_is_found_where_one_sees_what_holds_it(who in 1_u32..=8, at in 0_usize..300) {
        let mut ds = demo();
        let (faults, clock) = (table(&ds, "Faults"), clock());
        let all = records(&ds, faults);
        let record = all[at % all.len()];
        let texts = with_file(&mut ds, record, "zymurgical remarks");
        let lens = Lens::new(&ds, Asker::Person(PersonId::new(who).unwrap()), &clock);
        let found = lens.find(&Wanted { text: "zymurgical", lines: MOST_LINES, texts: Some(&texts), ..Wanted::default() });
        let shows = lens.shows(faults, record, field(&ds, "Faults.Pictures"));
        prop_assert_eq!(found.count, usize::from(shows));
    }
}

/// Narrowed to a person: what names them, what they made, what they said something of; of that what the asker may know.
#[test]
fn what_is_found_is_narrowed_to_a_person() {
    let mut ds = demo();
    let (faults, clock) = (table(&ds, "Faults"), clock());
    let (tamsin, bex) = (person(&ds, "Tamsin"), person(&ds, "Bex"));
    let narrowed = |ds: &Dataset, who: &str, text: &str, person: PersonId| {
        let lens = Lens::new(ds, asker(ds, who), &clock);
        let found = lens.find(&Wanted { text, person: Some(person), table: Some(faults), lines: MOST_LINES, ..Wanted::default() });
        let lines: BTreeSet<RecordId> = found.tables.iter().flat_map(|of| &of.lines).map(|line| line.record).collect();
        assert_eq!(found.count, lines.len());
        assert!(found.places.is_empty(), "no view is somebody’s");
        (lines, found.tables.into_iter().next().and_then(|of| of.only))
    };
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let all: BTreeSet<RecordId> =
        find(&ds, "Nadia", "gate").tables.iter().filter(|t| t.table == faults).flat_map(|t| &t.lines).map(|l| l.record).collect();
    let warden = field(&ds, "Faults.Warden");
    let (hers, only) = narrowed(&ds, "Nadia", "gate", tamsin);
    let names = |record: &RecordId| lens.text_at(faults, *record, warden).contains("Tamsin");
    let made = |record: &RecordId| kept(&ds, faults, *record).unwrap().meta.created_by == Actor::Person(tamsin);
    let expected: BTreeSet<RecordId> = all.iter().copied().filter(|record| names(record) || made(record)).collect();
    assert!(!expected.is_empty() && expected.len() < all.len());
    assert_eq!(hers, expected);
    // What narrows the rows to them is the words and that a field names her.
    let only = only.expect("fields name her");
    let shown: BTreeSet<RecordId> = records(&ds, faults).into_iter().filter(|record| only.holds(&lens, faults, *record)).collect();
    assert!(shown.is_subset(&all) && shown.iter().all(names));
    // Whoever spoke of a record is found with it, as long as one is told what is said.
    let (before, _) = narrowed(&ds, "Nadia", "gate", bex);
    let spoken = *all.difference(&before).next().expect("one that is not Bex’s");
    let step = TalkStep::Say { said: vec![TalkPart::Text("Seen".into())], files: Vec::new(), answers: None };
    let who = asker(&ds, "Bex");
    act(&mut ds, who, &Intent::Talk { table: faults, record: spoken, step }).unwrap();
    assert!(narrowed(&ds, "Nadia", "gate", bex).0.contains(&spoken));
    // A warden finds of it what they see.
    let lens = Lens::new(&ds, asker(&ds, "Idris"), &clock);
    let (theirs, _) = narrowed(&ds, "Idris", "gate", tamsin);
    assert!(theirs.iter().all(|record| lens.sees(faults, *record)));
}
