//! Records told in lines: what the pieces are taken for, and what is asked.

use crate::fixture::*;
use westerfall_core::{
    access::Lens,
    dataset::Dataset,
    import::{Becomes, DateOrder, Said, Told, told},
    intent::{Import, Intent},
    schema::Kind,
};

const POSTS: &str = "WP-0114, Esker Ridge to Hob Gate, oak, 14 May 2019, Tamsin Oake, £31.20
WP-0115, Esker Ridge to Hob Gate, larch, 3.6.2019, Tamsin Oake, £24
WP-0117, Tarn Head to Char Steps, oak, , Idris Pell,";

fn tell(ds: &Dataset, lines: &str, said: &[Said]) -> Told {
    Lens::new(ds, asker(ds, "Nadia"), &clock()).tell(&told(lines), "waymark post", None, said, None)
}

fn read(told: &Told) -> Vec<String> {
    told.pieces
        .iter()
        .map(|p| format!("{}: {}{}", p.name, p.words, p.asks.as_ref().map_or_else(String::new, |a| format!(" ({a})"))))
        .collect()
}

fn asked(told: &Told) -> Vec<String> {
    let answer = |a: &westerfall_core::import::ToldAnswer| format!("{}{}", a.words, if a.holds { "*" } else { "" });
    told.questions
        .iter()
        .map(|q| format!("{} {} {}", q.letter, q.words, q.answers.iter().map(answer).collect::<Vec<_>>().join(" | ")))
        .collect()
}

#[test]
fn lines_are_glossed_and_what_has_two_readings_is_asked_with_the_least_as_its_default() {
    let told = tell(&demo(), POSTS, &[]);
    assert_eq!(told.records, 3);
    assert_eq!(
        read(&told),
        ["Name: text", "Text: text (a)", "Text 2: text (b)", "Date: date (c)", "Person: a person of the team", "Cost: money, in GBP",]
    );
    assert_eq!(
        asked(&told),
        [
            "a “Esker Ridge to Hob Gate” comes again: has it facts of its own? no, it is only a word* | no, it is one of Esker Ridge to Hob Gate and Tarn Head to Char Steps | yes, they become a table of their own",
            "b “oak” comes again: has it facts of its own? no, it is only a word* | no, it is one of oak and larch | yes, they become a table of their own",
            "c Is 3.6.2019 3 June 2019 or 6 March 2019? 3 June 2019* | 6 March 2019",
        ]
    );
    assert_eq!(told.says, ["3 waymark posts with 6 fields."]);
    assert_eq!(told.lines[2], ["WP-0117", "Tarn Head to Char Steps", "oak", "", "Idris Pell", ""]);
}

#[test]
fn what_is_said_of_a_piece_holds_and_is_made_so() {
    let mut ds = demo();
    let said = |column, name: &str| Said { column, name: (!name.is_empty()).then(|| name.to_owned()), becomes: None, dates: None };
    let paths = Becomes::Table { name: "Texts".into(), one: "text".into(), single: true };
    let choice = Becomes::Field { kind: Kind::Choice { options: Vec::new(), on: None } };
    let all = [
        Said { becomes: Some(paths), ..said(1, "Path") },
        Said { becomes: Some(choice), ..said(2, "Wood") },
        Said { dates: Some(DateOrder::Month), ..said(3, "Set up on") },
    ];
    let told_now = tell(&ds, POSTS, &all);
    assert_eq!(
        &read(&told_now)[1..4],
        ["Path: a link to the new table Paths (a)", "Wood: one of oak and larch (b)", "Set up on: date (c)"]
    );
    let holds: Vec<usize> = told_now.questions.iter().map(|q| q.answers.iter().position(|a| a.holds).unwrap()).collect();
    assert_eq!(holds, [2, 1, 1]);
    let nadia = asker(&ds, "Nadia");
    let import = Import { plan: told_now.plan, sheet: std::sync::Arc::new(told(POSTS)) };
    let decision = act(&mut ds, nadia, &Intent::Import(Box::new(import))).unwrap();
    assert_eq!(decision.change.in_words(&Lens::new(&ds, nadia, &clock())), "made the tables Waymark posts and Paths");
    let posts = table(&ds, "Waymark posts");
    let clock = clock();
    let shown = Lens::new(&ds, nadia, &clock);
    let texts = |number| {
        let fields = &ds.table(posts).unwrap().def.fields;
        fields.iter().take(6).map(|f| shown.text_at(posts, record(number), f.id)).collect::<Vec<_>>()
    };
    assert_eq!(texts(2), ["WP-0115", "Esker Ridge to Hob Gate", "larch", "6 Mar 2019", "Tamsin Oake", "£24.00"]);
    assert_eq!(ds.table(posts).unwrap().def.one, "waymark post");
    assert_eq!(records(&ds, table(&ds, "Paths")).len(), 2);
}

#[test]
fn lines_of_one_piece_are_names_unless_they_hold_figures_or_one_says_otherwise() {
    let ds = demo();
    let names = tell(&ds, "Post\nSet up on\nCost", &[]);
    assert_eq!((names.names.clone(), names.records), (vec!["Post".to_owned(), "Set up on".into(), "Cost".into()], 0));
    assert_eq!(asked(&names), ["a Is a line something you note about each, or one of them? what I note: 3 fields* | 3 waymark posts"]);
    let nadia = asker(&ds, "Nadia");
    let as_records = Lens::new(&ds, nadia, &clock()).tell(&told("Post\nSet up on\nCost"), "waymark post", None, &[], Some(false));
    assert_eq!((as_records.records, as_records.names.len()), (3, 0));
    assert_eq!(tell(&ds, "WP-0114\nWP-0115", &[]).records, 2);
    // A first line of names is taken for names.
    let headed = tell(&ds, "Post\tWood\tHeight\nWP-0114\toak\t1.2\nWP-0115\tlarch\t1.4", &[]);
    assert_eq!((headed.records, read(&headed)), (2, vec!["Post: text".to_owned(), "Wood: text".into(), "Height: number".into()]));
}

#[test]
fn pieces_are_parted_as_one_writes_them() {
    let cells = |line: &str| told(line).rows[0].iter().map(westerfall_core::import::Raw::words).collect::<Vec<_>>();
    assert_eq!(cells("a, b ,, c,"), ["a", "b", "", "c"]);
    assert_eq!(cells("12,500 m, 1,5"), ["12,500 m", "1,5"]);
    assert_eq!(cells("a; b, c; d"), ["a", "b, c", "d"]);
    assert_eq!(cells("\"Gate, off its hinges\", oak"), ["Gate, off its hinges", "oak"]);
    assert_eq!(cells("one\ttwo, three"), ["one", "two, three"]);
    assert_eq!(told("\n\na, b\n\nc, d\n").lines, [3, 5]);
    assert!(told("").rows.is_empty());
}

#[test]
fn lines_for_a_table_that_is_there_go_into_its_fields_in_order() {
    let ds = demo();
    let nadia = asker(&ds, "Nadia");
    let materials = table(&ds, "Materials");
    let told = Lens::new(&ds, nadia, &clock()).tell(&told("Larch rail, length, £12.50\nOak peg, bag, £4"), "", Some(materials), &[], None);
    let into: Vec<&str> = told.pieces.iter().map(|p| p.name.as_str()).collect();
    assert_eq!(into, ["Name", "Unit", "Unit price"]);
    assert!(told.pieces.iter().all(|p| p.known));
    assert_eq!(told.says, ["2 materials."]);
}
