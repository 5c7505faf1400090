//! What the demo team prints: the sheet that a crew takes along, slips that hang in the workshop, and a list for the trustees.

use crate::ids::{districts as d, faults as f, lines as l, orders as o, sections as s};
use westerfall_core::{
    condition::Condition,
    document::{
        BlockSet, BlockShows, Document, EmptyFact, PaperPage, PaperSize, SheetAlign, SheetBlock, SheetColumns, SheetFact, SheetFacts,
        SheetFoot, SheetHeading, SheetLines, SheetOf, SheetSignature, SheetSums, SheetTable, SheetText, SheetTotal,
    },
    figure::Figure,
    highlight::LookSize,
    id::{DocumentId, FieldId},
    part::Part,
    value::Customs,
    wording::{Piece, Wording},
};

pub(crate) fn documents() -> Vec<Part> {
    vec![work_order().into(), slip().into(), list().into()]
}

fn text(text: &str) -> Piece {
    Piece::Text(text.to_owned())
}

fn value(field: FieldId) -> Piece {
    Piece::Value(vec![field])
}

fn block(shows: BlockShows) -> SheetBlock {
    SheetBlock { beside: false, shows, set: BlockSet::default(), when: Condition::default() }
}

fn beside(shows: BlockShows) -> SheetBlock {
    SheetBlock { beside: true, ..block(shows) }
}

fn facts(paths: &[(&[FieldId], &str)], empty: EmptyFact) -> BlockShows {
    BlockShows::Facts(SheetFacts { facts: listed(paths), empty })
}

fn listed(paths: &[(&[FieldId], &str)]) -> Vec<SheetFact> {
    paths.iter().map(|(path, words)| SheetFact { path: path.to_vec(), words: (*words).to_owned() }).collect()
}

fn heading(pieces: Vec<Piece>) -> SheetBlock {
    block(BlockShows::Heading(SheetHeading { text: Wording(pieces), team: true }))
}

fn numbered(number: u32) -> DocumentId {
    DocumentId::new(number).expect("not zero")
}

fn foot() -> SheetFoot {
    SheetFoot { text: Wording::default(), team: true, day: true, pages: true }
}

/// What a crew takes along: what is to be done where, what it takes, what it costs, who says so.
fn work_order() -> Document {
    let lines = SheetLines {
        link: o::LINES,
        by: None,
        descending: false,
        without: "No material is needed.".into(),
        columns: SheetColumns {
            shows: vec![l::MATERIAL, l::QUANTITY, l::PRICE, l::COST],
            totals: vec![SheetTotal { field: l::COST, figure: Figure::Sum, words: "Materials".into() }],
            ruled: true,
            again: true,
        },
    };
    let sums = listed(&[(&[o::HOURS], ""), (&[o::RATE], ""), (&[o::TOTAL], "")]);
    let signature =
        |person, signed, words: &str| BlockShows::Signature(SheetSignature { person, on: Vec::new(), signed, words: words.to_owned() });
    Document {
        id: numbered(452),
        table: o::TABLE,
        title: "Work order".into(),
        of: SheetOf::Each,
        page: PaperPage { size: PaperSize::A4, across: false, margin: 20 },
        customs: Customs::default(),
        called: Wording(vec![value(o::NUMBER), text(" "), value(o::LEADER)]),
        keep: None,
        foot: foot(),
        blocks: vec![
            heading(vec![text("Work order "), value(o::NUMBER)]),
            block(facts(&[(&[o::LEADER], ""), (&[o::PLANNED], ""), (&[o::STARTED], ""), (&[o::FINISHED], "")], EmptyFact::Line)),
            beside(facts(&[(&[o::FAULTS, f::SECTION], ""), (&[o::DISTRICT], ""), (&[o::FAULTS], "")], EmptyFact::Blank)),
            block(BlockShows::Text(SheetText {
                text: Wording(vec![
                    text("Work of "),
                    Piece::Month(vec![o::PLANNED]),
                    text(" under the budget of "),
                    value(o::DISTRICT),
                    text("."),
                ]),
                typed: false,
            })),
            block(BlockShows::Lines(lines)),
            block(BlockShows::Sums(SheetSums { facts: sums, total: true })),
            block(signature(vec![o::APPROVED], true, "approved")),
            beside(signature(vec![o::LEADER], false, "crew leader, on the day")),
        ],
    }
}

/// A fault on a page of its own, half as large.
fn slip() -> Document {
    Document {
        id: numbered(453),
        table: f::TABLE,
        title: "Fault slip".into(),
        of: SheetOf::Each,
        page: PaperPage { size: PaperSize::A5, across: false, margin: 15 },
        customs: Customs::default(),
        called: Wording(vec![value(f::NUMBER)]),
        keep: None,
        foot: SheetFoot { pages: false, ..foot() },
        blocks: vec![
            heading(vec![value(f::TITLE)]),
            SheetBlock {
                set: BlockSet { size: Some(LookSize::Larger), ..BlockSet::default() },
                ..block(BlockShows::Text(SheetText { text: Wording(vec![value(f::NUMBER)]), typed: false }))
            },
            block(facts(
                &[
                    (&[f::SECTION], ""),
                    (&[f::SECTION, s::DISTRICT, d::WARDEN], ""),
                    (&[f::KIND], ""),
                    (&[f::SEVERITY], ""),
                    (&[f::DUE], ""),
                ],
                EmptyFact::Blank,
            )),
            block(BlockShows::Text(SheetText { text: Wording(vec![value(f::DESCRIPTION)]), typed: false })),
            block(facts(&[(&[f::PLANNED], "Planned"), (&[f::STATUS], "")], EmptyFact::Line)),
        ],
    }
}

/// All that a view holds, on one sheet.
fn list() -> Document {
    let columns = SheetColumns {
        shows: vec![f::NUMBER, f::TITLE, f::SECTION, f::SEVERITY, f::STATUS, f::REPORTED, f::DUE],
        totals: vec![SheetTotal { field: f::NUMBER, figure: Figure::Count, words: "Faults".into() }],
        ruled: true,
        again: true,
    };
    Document {
        id: numbered(454),
        table: f::TABLE,
        title: "List of faults".into(),
        of: SheetOf::All,
        page: PaperPage { size: PaperSize::A4, across: true, margin: 15 },
        customs: Customs::default(),
        called: Wording(vec![text("Faults")]),
        keep: None,
        foot: foot(),
        blocks: vec![
            heading(vec![text("Faults")]),
            SheetBlock {
                set: BlockSet { size: Some(LookSize::Smaller), align: SheetAlign::Left, ..BlockSet::default() },
                ..block(BlockShows::Table(SheetTable { columns }))
            },
        ],
    }
}
