//! How a document begins, from what its table holds: nobody should face an empty page.

use super::{
    BlockSet, BlockShows, Document, EmptyFact, PaperPage, PaperSize, SheetBlock, SheetColumns, SheetFact, SheetFacts, SheetFoot,
    SheetHeading, SheetLines, SheetOf, SheetTable, SheetTotal,
};
use crate::{
    access::Lens,
    condition::Condition,
    figure::Figure,
    id::{DocumentId, FieldId, TableId},
    schema::{FieldDef, Kind},
    sentence::capital,
    value::Customs,
    wording::{Piece, Wording},
};

/// Most facts and columns that are put there without being asked.
const FEW: usize = 8;

impl Document {
    /// A document of a table, with what stands in its records as far as its maker may read it. None: the table is not open to them.
    pub fn begun(lens: &Lens<'_>, id: DocumentId, table: TableId, title: &str, of: SheetOf) -> Option<Self> {
        let home = lens.dataset().table(table).filter(|_| lens.opens(table))?;
        let standing = home.def.standing;
        let numbering = home.def.fields.iter().find(|def| matches!(def.kind, Kind::Numbering { .. })).map(|def| def.id);
        let named = numbering.filter(|field| lens.reads(table, *field)).unwrap_or(standing);
        let block = |shows| SheetBlock { beside: false, shows, set: BlockSet::default(), when: Condition::default() };
        let text = |text: String| Piece::Text(text);
        let (heading, called) = match of {
            SheetOf::Each => {
                let one = capital(&home.def.one);
                (Wording(vec![text(format!("{one} ")), Piece::Value(vec![named])]), Wording(vec![Piece::Value(vec![named])]))
            }
            SheetOf::All => (Wording(vec![text(home.def.name.clone())]), Wording(vec![text(home.def.name.clone())])),
        };
        let mut blocks = vec![block(BlockShows::Heading(SheetHeading { text: heading, team: true }))];
        match of {
            SheetOf::Each => {
                let facts: Vec<SheetFact> =
                    told(lens, table, &[named]).into_iter().map(|field| SheetFact { path: vec![field], words: String::new() }).collect();
                if !facts.is_empty() {
                    blocks.push(block(BlockShows::Facts(SheetFacts { facts, empty: EmptyFact::Blank })));
                }
                blocks
                    .extend(home.def.fields.iter().filter_map(|def| lines(lens, table, def)).map(|lines| block(BlockShows::Lines(lines))));
            }
            SheetOf::All => {
                let columns = columns(lens, table, &[]);
                blocks.push(block(BlockShows::Table(SheetTable { columns })));
            }
        }
        Some(Self {
            id,
            table,
            title: title.to_owned(),
            of,
            page: PaperPage { size: PaperSize::A4, across: of == SheetOf::All, margin: 20 },
            customs: Customs::default(),
            called,
            keep: None,
            foot: SheetFoot { text: Wording::default(), team: true, day: true, pages: true },
            blocks,
        })
    }
}

/// The first few fields that tell something in few words.
fn told(lens: &Lens<'_>, table: TableId, but: &[FieldId]) -> Vec<FieldId> {
    let Some(home) = lens.dataset().table(table) else { return Vec::new() };
    let tells = |def: &&FieldDef| {
        let many = matches!(def.kind, Kind::Link(link) if !link.one);
        let told = !matches!(def.kind, Kind::LongText | Kind::Files | Kind::Button { .. } | Kind::Checklist | Kind::Json)
            && !def.kind.is_kept_by_us();
        told && !many && !but.contains(&def.id) && lens.reads(table, def.id)
    };
    home.def.fields.iter().filter(tells).map(|def| def.id).take(FEW).collect()
}

/// What lines of a table show, and what their money comes to.
fn columns(lens: &Lens<'_>, table: TableId, but: &[FieldId]) -> SheetColumns {
    let shows = told(lens, table, but);
    let is_money =
        |field: &FieldId| lens.dataset().shown_kind(table, *field).is_some_and(|(_, kind)| matches!(kind.shows(), Kind::Money { .. }));
    let last = shows.iter().rev().find(|field| is_money(field));
    let totals = last.map(|field| SheetTotal { field: *field, figure: Figure::Sum, words: String::new() }).into_iter().collect();
    SheetColumns { shows, totals, ruled: true, again: true }
}

/// Lines of records that are held by these: a parent's list of its children.
fn lines(lens: &Lens<'_>, table: TableId, def: &FieldDef) -> Option<SheetLines> {
    let Kind::Link(link) = def.kind else { return None };
    let to = lens.dataset().table(link.to)?;
    let held = to.def.field(link.back).is_some_and(|back| matches!(back.kind, Kind::Link(back) if back.holds));
    if !held || !lens.reads(table, def.id) || !lens.opens(link.to) {
        return None;
    }
    let columns = columns(lens, link.to, &[link.back]);
    (!columns.shows.is_empty()).then_some(SheetLines { link: def.id, by: None, descending: false, without: String::new(), columns })
}
