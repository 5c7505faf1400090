//! Documents: what records of a table are printed as. A document is a running order of blocks on a page of its own; what stands in
//! them is read through the lens of whoever prints it ([`Paper`]), and set by a program of its own (`crates/papers`).

mod begin;
mod check;
mod paper;
mod refs;
mod rules;
mod typed;
mod words;

pub use paper::{
    Letterhead, Paper, PaperBlock, PaperCell, PaperColumn, PaperFile, PaperLine, PaperRow, PaperShows, PaperText, Sheet, sheet_colours,
};
pub use typed::TypedDate;
pub use words::{BlockWords, DocumentWords};

use crate::{
    condition::Condition,
    figure::Figure,
    highlight::LookSize,
    id::{DocumentId, FieldId, TableId},
    schema::Hue,
    value::Customs,
    wording::Wording,
};
use serde::{Deserialize, Serialize};

/// Most blocks of a document.
pub const MOST_BLOCKS: usize = 80;
/// Most records that are printed at once, where each has a sheet.
pub const MOST_SHEETS: usize = 2_000;
/// Most cells of lines in all that is printed at once: each takes some 17 KB of the program that sets it (`bin/bench`, `setting`).
pub const MOST_CELLS: usize = 60_000;

/// What records of a table are printed as. `W` is how its texts are written: by ids as it is kept, as one types them where it is
/// sent and shown.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Document<W = Wording> {
    pub id: DocumentId,
    pub table: TableId,
    pub title: String,
    pub of: SheetOf,
    pub page: PaperPage,
    /// How numbers and days are written on it, whoever prints it.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub customs: Customs,
    /// What a sheet is called: its file, and its title in it.
    pub called: W,
    /// The field of files in which a sheet is kept with its record.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub keep: Option<FieldId>,
    pub foot: SheetFoot<W>,
    pub blocks: Vec<SheetBlock<W>>,
}

/// Of what a sheet is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum SheetOf {
    /// One for each record.
    Each,
    /// One for all of them together.
    All,
}

/// The page.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PaperPage {
    pub size: PaperSize,
    /// Wider than high.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub across: bool,
    /// Free on each side, in millimetres.
    pub margin: u8,
}

/// How large a page is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum PaperSize {
    A4,
    A5,
    Letter,
}

impl PaperSize {
    /// In the order in which they are offered.
    pub const ALL: [Self; 3] = [Self::A4, Self::A5, Self::Letter];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            Self::A4 => "A4",
            Self::A5 => "A5",
            Self::Letter => "Letter",
        }
    }
}

impl PaperPage {
    /// Width and height, in tenths of a millimetre.
    pub fn size(self) -> (u16, u16) {
        let (short, long) = match self.size {
            PaperSize::A4 => (2_100, 2_970),
            PaperSize::A5 => (1_480, 2_100),
            PaperSize::Letter => (2_159, 2_794),
        };
        if self.across { (long, short) } else { (short, long) }
    }
}

/// What stands at the foot of every page.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetFoot<W = Wording> {
    pub text: W,
    /// The team's name.
    pub team: bool,
    /// The day on which it is printed.
    pub day: bool,
    /// *1 of 2*.
    pub pages: bool,
}

/// One block of the running order.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetBlock<W = Wording> {
    /// Stands beside the one before it.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub beside: bool,
    pub shows: BlockShows<W>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub set: BlockSet,
    /// It is there only where this holds of the record.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub when: Condition,
}

/// How a block is set.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BlockSet {
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub size: Option<LookSize>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub bold: bool,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub align: SheetAlign,
    /// The colour of its letters.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hue: Option<Hue>,
    /// A line above it, and one below.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub above: bool,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub below: bool,
    /// Not broken over two pages, where it fits on one.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub together: bool,
}

/// Along which side something is set.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum SheetAlign {
    #[default]
    Left,
    Middle,
    Right,
}

/// What a block shows.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "as", rename_all = "lowercase")]
pub enum BlockShows<W = Wording> {
    Heading(SheetHeading<W>),
    Text(SheetText<W>),
    Facts(SheetFacts),
    Lines(SheetLines),
    Table(SheetTable),
    Sums(SheetSums),
    Picture(SheetPicture),
    Signature(SheetSignature),
    Rule,
    Space(SheetSpace),
    /// What follows begins on a new page.
    Break,
}

/// A heading.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetHeading<W = Wording> {
    pub text: W,
    /// Under the team's name, with its mark at the right.
    pub team: bool,
}

/// A text.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetText<W = Wording> {
    pub text: W,
    /// Days and months in it are typed by intent.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub typed: bool,
}

/// Facts, one under the other, each with what it is called.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetFacts {
    pub facts: Vec<SheetFact>,
    pub empty: EmptyFact,
}

/// One fact of the record.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetFact {
    /// The links to follow, then the field.
    pub path: Vec<FieldId>,
    /// In words of one's own; empty: the field's name.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub words: String,
}

/// What becomes of a fact where nothing stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum EmptyFact {
    /// A line on which it is written by hand.
    Line,
    /// It is there, with nothing beside it.
    Blank,
    /// It is not there.
    Out,
}

/// A line for each record of a link.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetLines {
    pub link: FieldId,
    /// The field of theirs by which they stand in order; none: as they were linked.
    #[serde(default)]
    pub by: Option<FieldId>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub descending: bool,
    /// What stands there where there are none; empty: nothing.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub without: String,
    #[serde(flatten)]
    pub columns: SheetColumns,
}

/// A line for each of the records that are printed together.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetTable {
    #[serde(flatten)]
    pub columns: SheetColumns,
}

/// What lines show, and what they come to.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetColumns {
    pub shows: Vec<FieldId>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub totals: Vec<SheetTotal>,
    /// A hairline under each.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub ruled: bool,
    /// On a further page its headings stand again.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub again: bool,
}

/// A figure beneath lines.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetTotal {
    pub field: FieldId,
    pub figure: Figure,
    /// In words of one's own; empty: the figure's.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub words: String,
}

/// Figures of the record, set as an account: its last one is what it comes to.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetSums {
    pub facts: Vec<SheetFact>,
    /// The last one stands out, under a line.
    pub total: bool,
}

/// The first picture of a field of files.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetPicture {
    pub path: Vec<FieldId>,
    /// At most so high, in millimetres.
    pub height: u8,
}

/// A place for a signature.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetSignature {
    /// Whose it is: the links to follow, then a field of a person, or of a name. Empty: nobody's in particular.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub person: Vec<FieldId>,
    /// The day of it.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub on: Vec<FieldId>,
    /// Their name stands on the line, as signed; not: the line is free to be signed by hand.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub signed: bool,
    /// As what they sign: *approved*, *crew leader, on the day*.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub words: String,
}

/// Room between blocks.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetSpace {
    /// In millimetres.
    pub height: u8,
}

impl<W> BlockShows<W> {
    /// What a block of this sort is called.
    pub fn name(&self) -> &'static str {
        match self {
            Self::Heading(_) => "Heading",
            Self::Text(_) => "Text",
            Self::Facts(_) => "Facts",
            Self::Lines(_) => "Lines",
            Self::Table(_) => "Table",
            Self::Sums(_) => "Sums",
            Self::Picture(_) => "Picture",
            Self::Signature(_) => "Signature",
            Self::Rule => "Rule",
            Self::Space(_) => "Space",
            Self::Break => "New page",
        }
    }
}

impl<W> Document<W> {
    /// The same with its texts written otherwise; each is told with its place, as a JSON pointer.
    pub fn written<U>(self, mut write: impl FnMut(W, String) -> U) -> Document<U> {
        let Self { id, table, title, of, page, customs, called, keep, foot, blocks } = self;
        let called = write(called, "/called".into());
        let SheetFoot { text, team, day, pages } = foot;
        let foot = SheetFoot { text: write(text, "/foot/text".into()), team, day, pages };
        let mut block = |(place, block): (usize, SheetBlock<W>)| {
            let SheetBlock { beside, shows, set, when } = block;
            let at = format!("/blocks/{place}/shows/text");
            let shows = match shows {
                BlockShows::Heading(SheetHeading { text, team }) => BlockShows::Heading(SheetHeading { text: write(text, at), team }),
                BlockShows::Text(SheetText { text, typed }) => BlockShows::Text(SheetText { text: write(text, at), typed }),
                BlockShows::Facts(facts) => BlockShows::Facts(facts),
                BlockShows::Lines(lines) => BlockShows::Lines(lines),
                BlockShows::Table(table) => BlockShows::Table(table),
                BlockShows::Sums(sums) => BlockShows::Sums(sums),
                BlockShows::Picture(picture) => BlockShows::Picture(picture),
                BlockShows::Signature(signature) => BlockShows::Signature(signature),
                BlockShows::Rule => BlockShows::Rule,
                BlockShows::Space(space) => BlockShows::Space(space),
                BlockShows::Break => BlockShows::Break,
            };
            SheetBlock { beside, shows, set, when }
        };
        let blocks = blocks.into_iter().enumerate().map(&mut block).collect();
        Document { id, table, title, of, page, customs, called, keep, foot, blocks }
    }
}
