//! How a document begins, from what its table holds: nobody should face an empty page. And what stands on one that nobody composed:
//! records as they are laid out where one opens them.

use super::{
    BlockSet, BlockShows, Document, EmptyFact, MOST_BLOCKS, PaperPage, PaperSize, SheetBlock, SheetColumns, SheetFact, SheetFacts,
    SheetFoot, SheetHeading, SheetLines, SheetOf, SheetPicture, SheetTable, SheetTotal,
};
use crate::{
    access::Lens,
    condition::Condition,
    dataset::Table,
    figure::Figure,
    highlight::LookSize,
    id::{DocumentId, FieldId, TableId},
    schema::{FieldDef, Kind, RecordList, Section},
    sentence::capital,
    value::Customs,
    wording::{Piece, Wording},
};

/// Most facts and columns that are put there without being asked.
const FEW: usize = 8;
/// How high a picture of a record is that is printed as it is laid out, in millimetres.
const PICTURE: u8 = 60;

impl Document {
    /// A document of a table, with what stands in its records as far as its maker may read it. None: the table is not open to them.
    pub fn begun(lens: &Lens<'_>, id: DocumentId, table: TableId, title: &str, of: SheetOf) -> Option<Self> {
        let home = lens.dataset().table(table).filter(|_| lens.opens(table))?;
        let standing = home.def.standing;
        let numbering = home.def.fields.iter().find(|def| matches!(def.kind, Kind::Numbering { .. })).map(|def| def.id);
        let named = numbering.filter(|field| lens.reads(table, *field)).unwrap_or(standing);
        let text = |text: String| Piece::Text(text);
        let (heading, called) = match of {
            SheetOf::Each => {
                let one = capital(&home.def.one);
                (Wording(vec![text(format!("{one} ")), Piece::Value(vec![named])]), Wording(vec![Piece::Value(vec![named])]))
            }
            SheetOf::All => (Wording(vec![text(home.def.name.clone())]), Wording(vec![text(home.def.name.clone())])),
        };
        let mut blocks = vec![always(BlockShows::Heading(SheetHeading { text: heading, team: true }))];
        match of {
            SheetOf::Each if !home.def.arrangement.sections.is_empty() => blocks.extend(laid_out(lens, table, named)),
            SheetOf::Each => {
                let facts: Vec<SheetFact> =
                    told(lens, table, &[named]).into_iter().map(|field| SheetFact { path: vec![field], words: String::new() }).collect();
                if !facts.is_empty() {
                    blocks.push(always(BlockShows::Facts(SheetFacts { facts, empty: EmptyFact::Blank })));
                }
                blocks
                    .extend(home.def.fields.iter().filter_map(|def| lines(lens, table, def)).map(|lines| always(BlockShows::Lines(lines))));
            }
            SheetOf::All => {
                let columns = columns(lens, table, &[]);
                blocks.push(always(BlockShows::Table(SheetTable { columns })));
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

    /// What is printed of records that nobody composed a document for: a sheet for each, as it is laid out for whoever opens it. None:
    /// the table is not open to them.
    pub fn laid_out(lens: &Lens<'_>, table: TableId) -> Option<Self> {
        let begun = Self::begun(lens, DocumentId::FIRST, table, &lens.dataset().table(table)?.def.name, SheetOf::Each)?;
        let named = lens.dataset().table(table)?.def.standing;
        let mut blocks = begun.blocks;
        blocks.truncate(1);
        blocks.extend(laid_out(lens, table, named));
        Some(Self { blocks, ..begun })
    }
}

/// The blocks that show a record section by section: its facts, then its pictures, then its lines and lists. `named` stands in the
/// heading already.
fn laid_out(lens: &Lens<'_>, table: TableId, named: FieldId) -> Vec<SheetBlock> {
    let Some(home) = lens.dataset().table(table) else { return Vec::new() };
    let lists = lens.record_lists(table);
    // What names a record stands in its head, and so in no section.
    let standing = (named != home.def.standing && lens.reads(table, home.def.standing)).then_some(home.def.standing);
    let head = standing.map(|field| always(facts(&[field])));
    let sections = lens.sections(table).into_iter().flat_map(|section| {
        let shown = section_blocks(lens, home, &section, &lists);
        let heading = Some(&section.heading).filter(|heading| !heading.is_empty() && !shown.is_empty());
        let heading = heading.map(|text| {
            let shows = BlockShows::Heading(SheetHeading { text: Wording(vec![Piece::Text(text.clone())]), team: false });
            let set = BlockSet { size: Some(LookSize::Smaller), ..BlockSet::default() };
            SheetBlock { set, ..block(shows, false, &section.when) }
        });
        heading.into_iter().chain(shown).collect::<Vec<_>>()
    });
    head.into_iter().chain(sections).take(MOST_BLOCKS.saturating_sub(1)).collect()
}

fn section_blocks(lens: &Lens<'_>, home: &Table, section: &Section, lists: &[RecordList]) -> Vec<SheetBlock> {
    let defs: Vec<(&FieldDef, bool)> =
        section.fields.iter().filter_map(|placed| Some((home.def.field(placed.field)?, placed.wide))).collect();
    let listed = |def: &FieldDef| lists.iter().find(|list| list.field == def.id).map(list_lines).or_else(|| lines(lens, home.def.id, def));
    let is_fact = |def: &FieldDef| !matches!(def.kind, Kind::Button { .. }) && listed(def).is_none();
    let plain: Vec<(FieldId, bool)> = defs.iter().filter(|(def, _)| is_fact(def)).map(|(def, wide)| (def.id, *wide)).collect();
    let mut shown = Vec::new();
    // In two columns each run of narrow facts stands in two blocks, first the left, then the right.
    for run in plain.chunk_by(|(_, a), (_, b)| a == b) {
        let fields: Vec<FieldId> = run.iter().map(|(field, _)| *field).collect();
        let (wide, middle) = (run.iter().any(|(_, wide)| *wide), fields.len().div_ceil(2));
        let (left, right) = if section.two && !wide { fields.split_at(middle) } else { (&fields[..], &[][..]) };
        shown.push(block(facts(left), false, &section.when));
        shown.extend((!right.is_empty()).then(|| block(facts(right), true, &section.when)));
    }
    let pictures = defs.iter().filter(|(def, _)| matches!(def.kind, Kind::Files)).map(|(def, _)| def.id);
    shown.extend(
        pictures.map(|field| block(BlockShows::Picture(SheetPicture { path: vec![field], height: PICTURE }), false, &section.when)),
    );
    shown.extend(defs.iter().filter_map(|(def, _)| listed(def)).map(|lines| block(BlockShows::Lines(lines), false, &section.when)));
    shown
}

fn always(shows: BlockShows) -> SheetBlock {
    block(shows, false, &Condition::default())
}

fn block(shows: BlockShows, beside: bool, when: &Condition) -> SheetBlock {
    SheetBlock { beside, shows, set: BlockSet::default(), when: when.clone() }
}

fn facts(fields: &[FieldId]) -> BlockShows {
    let facts = fields.iter().map(|field| SheetFact { path: vec![*field], words: String::new() }).collect();
    BlockShows::Facts(SheetFacts { facts, empty: EmptyFact::Blank })
}

/// Linked records as they are listed where their record is opened.
fn list_lines(list: &RecordList) -> SheetLines {
    let totals = list.figures.iter().map(|of| SheetTotal { field: of.field, figure: of.figure, words: String::new() }).collect();
    let columns = SheetColumns { shows: list.shows.clone(), totals, ruled: true, again: true };
    SheetLines { link: list.field, by: list.by, descending: list.descending, without: String::new(), columns }
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
