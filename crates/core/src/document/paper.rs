//! A document with what stands in it for somebody: read through their lens, ready to be set. It holds no more than is printed.

use super::{
    BlockSet, BlockShows, Document, EmptyFact, MOST_CELLS, MOST_SHEETS, SheetAlign, SheetColumns, SheetFact, SheetOf, SheetTotal, typed,
};
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    face::Face,
    fault::{Fault, FaultKind},
    highlight::{Ink, Look, LookSize},
    id::{FieldId, RecordId, TableId},
    schema::Hue,
    sentence::capital,
    value::{Attachment, Cell},
    view::{Order, Query, Tally},
    wording::{self, Wording},
};
use serde::Serialize;

/// What is printed, for the program that sets it. Lengths are in millimetres, but for the page's own, in tenths of one.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Paper {
    pub title: String,
    pub width: u16,
    pub height: u16,
    pub margin: u8,
    /// Who prints it, as its letterhead says.
    pub team: String,
    /// Its letterhead, under its name.
    pub words: String,
    /// The team's mark, by its place among the files.
    pub mark: Option<usize>,
    /// Places in texts that were typed by hand and should not be are marked. For the preview alone.
    pub marks: bool,
    pub sheets: Vec<Sheet>,
    pub files: Vec<PaperFile>,
}

/// What stands for the team on its papers.
#[derive(Clone, Debug, Default)]
pub struct Letterhead {
    pub team: String,
    pub words: String,
    pub mark: Option<PaperFile>,
}

impl From<Face<'_>> for Letterhead {
    fn from(team: Face<'_>) -> Self {
        let mark = |mark: &Attachment| PaperFile { id: mark.id.clone(), name: team.name.to_owned() };
        Self { team: team.name.to_owned(), words: team.look.words.clone(), mark: team.look.mark.as_ref().map(mark) }
    }
}

/// A picture, by the address of its file.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct PaperFile {
    pub id: String,
    /// What it is, for whoever does not see it.
    pub name: String,
}

/// One sheet: as many pages as it takes, counted by themselves.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Sheet {
    /// What it is called: its title, and its file's name.
    pub name: String,
    /// Blocks one under the other; those in one row stand side by side.
    pub rows: Vec<Vec<PaperBlock>>,
    /// At the foot of each page.
    pub foot: String,
    /// Its pages are numbered there.
    pub pages: bool,
}

/// A block with what stands in it.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct PaperBlock {
    /// Its place in the running order, from 1.
    pub number: usize,
    pub size: Option<LookSize>,
    pub bold: bool,
    pub align: SheetAlign,
    /// `#rrggbb`.
    pub colour: Option<String>,
    pub above: bool,
    pub below: bool,
    pub together: bool,
    pub shows: PaperShows,
}

/// What stands in a block.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[serde(tag = "as", rename_all = "lowercase")]
pub enum PaperShows {
    Heading {
        text: Vec<PaperText>,
        /// Under the team's name, with its mark.
        team: bool,
    },
    Text {
        text: Vec<PaperText>,
    },
    Facts {
        facts: Vec<PaperLine>,
    },
    Lines {
        columns: Vec<PaperColumn>,
        rows: Vec<PaperRow>,
        totals: Vec<PaperLine>,
        ruled: bool,
        again: bool,
    },
    Sums {
        facts: Vec<PaperLine>,
        total: bool,
    },
    Picture {
        file: usize,
        height: u8,
    },
    Signature {
        name: String,
        words: String,
        signed: bool,
    },
    Rule,
    Space {
        height: u8,
    },
    Break,
}

/// A run of a text.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct PaperText {
    pub text: String,
    /// A day or a month that was typed by hand.
    pub typed: bool,
}

/// What something is called, and what it is.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct PaperLine {
    pub words: String,
    pub text: String,
    /// Written by hand, on a line.
    pub blank: bool,
    /// Under which column it stands, where it is of one.
    pub column: Option<usize>,
    pub look: PaperLook,
}

/// A column of lines.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct PaperColumn {
    pub name: String,
    /// Numbers: set at the right.
    pub right: bool,
}

/// A line.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct PaperRow {
    pub cells: Vec<PaperCell>,
}

/// A cell of a line.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct PaperCell {
    pub text: String,
    pub look: PaperLook,
}

/// How highlights make something look on paper.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
pub struct PaperLook {
    pub bold: bool,
    pub italic: bool,
    pub struck: bool,
    pub ink: Option<String>,
    pub fill: Option<String>,
    /// A word before it.
    pub word: String,
}

/// The hues of the light theme as paper takes them: of letters, dark enough to be read, and of a ground that can be written on.
pub fn sheet_colours(hue: Hue) -> (String, String) {
    let hex = |colour: u32| format!("#{colour:06x}");
    (hex(mixed(hue.rgb(), 70, INK)), hex(mixed(hue.rgb(), 13, 0xff_ffff)))
}

const INK: u32 = 0x23_261f;

/// So much of one colour, of a hundred, in another.
fn mixed(of: u32, share: u32, into: u32) -> u32 {
    let part = |shift: u32| {
        let (a, b) = ((of >> shift) & 0xff, (into >> shift) & 0xff);
        (a.saturating_mul(share).saturating_add(b.saturating_mul(100_u32.saturating_sub(share))).saturating_add(50) / 100) << shift
    };
    part(16) | part(8) | part(0)
}

impl PaperLook {
    fn of(look: &Look) -> Self {
        Self {
            bold: look.bold,
            italic: look.italic,
            struck: look.struck,
            ink: match look.ink {
                Some(Ink::Of(hue)) => Some(sheet_colours(hue).0),
                Some(Ink::Quiet) => Some("#5f6356".to_owned()),
                None => None,
            },
            fill: look.fill.map(|hue| sheet_colours(hue).1),
            word: look.word.clone(),
        }
    }
}

impl Document {
    /// The document as somebody may see it, of the records that they see of these; for one of all records, in this order.
    ///
    /// # Errors
    /// [`FaultKind::TooLong`] where it would be of more records or lines than are set at once, [`FaultKind::NotFound`] where none of
    /// the records is open to them.
    pub fn paper(&self, ds: &Dataset, asker: Asker, clock: &Clock, records: &[RecordId], head: &Letterhead) -> Result<Paper, Fault> {
        // A sheet says the same whoever prints it: its days and numbers are written as it says, in the tracker's zone.
        let clock = Clock { by: Some(self.customs), ..clock.untold() };
        let lens = Lens::new(ds, asker, &clock);
        if !lens.opens(self.table) {
            return Err(Fault::not_found("document"));
        }
        let seen: Vec<RecordId> = records.iter().copied().filter(|record| lens.sees(self.table, *record)).collect();
        if seen.is_empty() && self.of == SheetOf::Each {
            return Err(Fault::not_found("record"));
        }
        if seen.len() > MOST_SHEETS && self.of == SheetOf::Each {
            let message = format!("At most {MOST_SHEETS} sheets are printed at once. Choose fewer records, or narrow the view.");
            return Err(Fault::new(FaultKind::TooLong, message));
        }
        let (width, height) = self.page.size();
        let mut writing = Writing { document: self, lens: &lens, head, files: Vec::new(), cells: 0 };
        let mark = head.mark.as_ref().map(|mark| writing.file(mark));
        let sheets = match self.of {
            SheetOf::Each => seen.iter().map(|record| writing.sheet(Some(*record), &seen)).collect::<Result<_, _>>()?,
            SheetOf::All => vec![writing.sheet(None, &seen)?],
        };
        Ok(Paper {
            title: self.title.clone(),
            width,
            height,
            margin: self.page.margin,
            team: head.team.clone(),
            words: head.words.clone(),
            mark,
            marks: false,
            sheets,
            files: writing.files,
        })
    }
}

/// A paper on its way.
struct Writing<'a, 'd> {
    document: &'a Document,
    lens: &'a Lens<'d>,
    head: &'a Letterhead,
    files: Vec<PaperFile>,
    cells: usize,
}

impl Writing<'_, '_> {
    /// A picture's place among the files, each of which is there once.
    fn file(&mut self, file: &PaperFile) -> usize {
        self.files.iter().position(|known| known.id == file.id).unwrap_or_else(|| {
            self.files.push(file.clone());
            self.files.len().saturating_sub(1)
        })
    }

    fn sheet(&mut self, record: Option<RecordId>, records: &[RecordId]) -> Result<Sheet, Fault> {
        let document = self.document;
        let mut rows: Vec<Vec<PaperBlock>> = Vec::new();
        let mut begun = false;
        for (number, block) in (1..).zip(&document.blocks) {
            // What stands beside one that is not there stands in its place.
            if !block.beside || !begun {
                rows.push(Vec::new());
                begun = true;
            }
            if !record.is_none_or(|record| self.is_there(&block.when, record)) {
                continue;
            }
            let shows = self.shows(&block.shows, record, records)?;
            if let (Some(shows), Some(row)) = (shows, rows.last_mut()) {
                row.push(block.set.paper(number, shows));
            }
        }
        rows.retain(|row| !row.is_empty());
        Ok(Sheet { name: self.name(record), rows, foot: self.foot(record), pages: document.foot.pages })
    }

    /// Whether a block stands there for a record. One whose condition asks what is not open to whoever prints it stands there always:
    /// that it comes and goes would tell them something.
    fn is_there(&self, when: &crate::condition::Condition, record: RecordId) -> bool {
        let table = self.document.table;
        when.is_nothing() || !when.is_open_to(self.lens, table) || when.holds(self.lens, table, record)
    }

    fn words(&self, text: &Wording, record: Option<RecordId>) -> String {
        match record {
            Some(record) => text.fill(self.lens, self.document.table, record).text,
            None => text.names(self.lens.dataset(), self.document.table).into_iter().map(|run| run.text).collect(),
        }
    }

    fn name(&self, record: Option<RecordId>) -> String {
        let called = self.words(&self.document.called, record);
        let called = called.split_whitespace().collect::<Vec<_>>().join(" ");
        if called.is_empty() { self.document.title.clone() } else { called }
    }

    fn foot(&self, record: Option<RecordId>) -> String {
        let foot = &self.document.foot;
        let clock = self.lens.clock();
        let parts = [
            if foot.team { self.head.team.clone() } else { String::new() },
            self.words(&foot.text, record),
            if foot.day { clock.customs().date_text(clock.today()) } else { String::new() },
            self.only(),
        ];
        parts.into_iter().map(|part| part.trim().to_owned()).filter(|part| !part.is_empty()).collect::<Vec<_>>().join(", ")
    }

    /// That something may not be there, where whoever prints it does not see all that it draws on. Said by the rule, not by what
    /// stands there: so it tells nothing of it.
    fn only(&self) -> String {
        if self.document.is_wholly_open(self.lens) {
            return String::new();
        }
        let name = self.lens.me().and_then(|me| self.lens.dataset().people.get(me)).map(|person| person.name.as_str());
        format!("only what is open to {}", name.unwrap_or("whoever printed it"))
    }

    fn shows(&mut self, shows: &BlockShows, record: Option<RecordId>, records: &[RecordId]) -> Result<Option<PaperShows>, Fault> {
        let table = self.document.table;
        Ok(match (shows, record) {
            (BlockShows::Heading(heading), _) => {
                let text = self.runs(&heading.text, record, true);
                (!text.is_empty()).then_some(PaperShows::Heading { text, team: heading.team })
            }
            (BlockShows::Text(of), _) => {
                let text = self.runs(&of.text, record, of.typed);
                text.iter().any(|run| !run.text.trim().is_empty()).then_some(PaperShows::Text { text })
            }
            (BlockShows::Facts(of), Some(record)) => {
                let facts: Vec<PaperLine> = self.facts(&of.facts, record, of.empty);
                (!facts.is_empty()).then_some(PaperShows::Facts { facts })
            }
            (BlockShows::Sums(of), Some(record)) => {
                let facts = self.facts(&of.facts, record, EmptyFact::Blank);
                (!facts.is_empty()).then_some(PaperShows::Sums { facts, total: of.total })
            }
            (BlockShows::Lines(of), Some(record)) => {
                let Some((to, linked)) = self.linked(table, of.link, record) else { return Ok(None) };
                let sorts = of.by.iter().map(|field| Order { field: *field, descending: of.descending }).collect();
                let lines = self.lines(to, &linked, &of.columns, sorts)?;
                match lines {
                    Some(lines) => Some(lines),
                    None if of.without.is_empty() => None,
                    None => Some(PaperShows::Text { text: vec![PaperText { text: of.without.clone(), typed: false }] }),
                }
            }
            (BlockShows::Table(of), _) => self.lines(table, records, &of.columns, Vec::new())?,
            (BlockShows::Picture(of), Some(record)) => {
                let picture = self.picture(&of.path, record);
                picture.map(|file| PaperShows::Picture { file: self.file(&file), height: of.height })
            }
            (BlockShows::Signature(of), _) => {
                let text = |path: &[FieldId]| record.map(|record| wording::text_along(self.lens, table, path, record)).unwrap_or_default();
                let words = [of.words.clone(), text(&of.on)].into_iter().filter(|part| !part.is_empty()).collect::<Vec<_>>().join(", ");
                Some(PaperShows::Signature { name: text(&of.person), words, signed: of.signed })
            }
            (BlockShows::Rule, _) => Some(PaperShows::Rule),
            (BlockShows::Space(of), _) => Some(PaperShows::Space { height: of.height }),
            (BlockShows::Break, _) => Some(PaperShows::Break),
            (BlockShows::Facts(_) | BlockShows::Sums(_) | BlockShows::Lines(_) | BlockShows::Picture(_), None) => None,
        })
    }

    /// A text with its values; days and months that were typed stand by themselves, where they are not meant so.
    fn runs(&self, text: &Wording, record: Option<RecordId>, meant: bool) -> Vec<PaperText> {
        let (table, ds) = (self.document.table, self.lens.dataset());
        let runs = record.map_or_else(|| text.names(ds, table), |record| text.runs(self.lens, table, record));
        let mut told = Vec::new();
        for run in runs {
            if run.value || meant {
                told.push(PaperText { text: run.text, typed: false });
                continue;
            }
            let mut from = 0;
            for found in typed::found_in(&run.text) {
                told.push(PaperText { text: run.text[from..found.at.start].to_owned(), typed: false });
                told.push(PaperText { text: run.text[found.at.clone()].to_owned(), typed: true });
                from = found.at.end;
            }
            told.push(PaperText { text: run.text[from..].to_owned(), typed: false });
        }
        told.retain(|run| !run.text.is_empty());
        told
    }

    fn facts(&self, facts: &[SheetFact], record: RecordId, empty: EmptyFact) -> Vec<PaperLine> {
        let table = self.document.table;
        let looks = self.lens.looks(table, &Default::default());
        let fields: Vec<FieldId> = facts.iter().filter(|fact| fact.path.len() == 1).map(|fact| fact.path[0]).collect();
        let looked = looks.of(record, &fields);
        let fact = |fact: &SheetFact| {
            if !is_read(self.lens, table, &fact.path) {
                return None;
            }
            let text = wording::text_along(self.lens, table, &fact.path, record);
            if text.is_empty() && empty == EmptyFact::Out {
                return None;
            }
            let look = looked.as_ref().and_then(|looked| looked.cells.iter().find(|cell| fact.path == [cell.field]));
            Some(PaperLine {
                words: fact.called(self.lens, table),
                blank: text.is_empty() && empty == EmptyFact::Line,
                text,
                column: None,
                look: look.map(|cell| PaperLook::of(&cell.look)).unwrap_or_default(),
            })
        };
        facts.iter().filter_map(fact).collect()
    }

    /// The records that a link leads to, as they are linked.
    fn linked(&self, table: TableId, link: FieldId, record: RecordId) -> Option<(TableId, Vec<RecordId>)> {
        let to = self.lens.dataset().table(table)?.link(link)?.to;
        if !self.lens.reads(table, link) || !self.lens.opens(to) {
            return None;
        }
        let reader = self.lens.reader(table, link);
        let Cell::Links(linked) = reader.cell(record.row()) else { return Some((to, Vec::new())) };
        let mut linked: Vec<RecordId> = reader.visible(linked).collect();
        self.lens.dataset().in_line_order(link, &mut linked);
        Some((to, linked))
    }

    fn lines(
        &mut self,
        table: TableId,
        records: &[RecordId],
        columns: &SheetColumns,
        sorts: Vec<Order>,
    ) -> Result<Option<PaperShows>, Fault> {
        let Some(home) = self.lens.dataset().table(table) else { return Ok(None) };
        let fields: Vec<FieldId> = columns.shows.iter().copied().filter(|field| self.lens.reads(table, *field)).collect();
        let wanted: Vec<&SheetTotal> = columns.totals.iter().filter(|total| fields.contains(&total.field)).collect();
        let sorts = sorts.into_iter().filter(|sort| self.lens.reads(table, sort.field)).collect();
        let tallies = wanted.iter().map(|total| Tally { field: total.field, figure: total.figure }).collect();
        let query = Query { sorts, tallies, ..Query::default() };
        let (records, figures) = query.over(self.lens, table, records);
        self.cells = self.cells.saturating_add(records.len().saturating_mul(fields.len()));
        if self.cells > MOST_CELLS {
            let message =
                "These are too many lines to be set at once: 60,000 cells at most. Choose fewer records or fields, or narrow the view.";
            return Err(Fault::new(FaultKind::TooLong, message));
        }
        if records.is_empty() || fields.is_empty() {
            return Ok(None);
        }
        let column = |field: &FieldId| PaperColumn {
            name: home.def.field(*field).map(|def| def.name.clone()).unwrap_or_default(),
            right: self.lens.dataset().shown_kind(table, *field).is_some_and(|(_, kind)| kind.shows().is_number()),
        };
        let looks = self.lens.looks(table, &Default::default());
        let row = |row: crate::view::Row| {
            let looked = looks.of(row.id, &fields);
            let ground = looked.as_ref().and_then(|looked| looked.whole.fill).map(|hue| sheet_colours(hue).1);
            let cell = |(field, cell): (&FieldId, Option<crate::view::CellView>)| {
                let look = looked.as_ref().and_then(|looked| looked.cells.iter().find(|cell| cell.field == *field));
                let look = look.map(|cell| PaperLook::of(&cell.look)).unwrap_or_default();
                PaperCell {
                    text: cell.map(|cell| cell.text).unwrap_or_default(),
                    look: PaperLook { fill: look.fill.or_else(|| ground.clone()), ..look },
                }
            };
            PaperRow { cells: fields.iter().zip(row.cells).map(cell).collect() }
        };
        let total = |(of, figure): (&&SheetTotal, crate::view::TallyFigure)| PaperLine {
            words: of.called(),
            text: figure.text,
            blank: false,
            column: fields.iter().position(|field| *field == of.field),
            look: PaperLook::default(),
        };
        Ok(Some(PaperShows::Lines {
            columns: fields.iter().map(column).collect(),
            rows: self.lens.rows(table, &records, &fields).into_iter().map(row).collect(),
            totals: wanted.iter().zip(figures).map(total).collect(),
            ruled: columns.ruled,
            again: columns.again,
        }))
    }

    /// The first picture at the end of a path.
    fn picture(&self, path: &[FieldId], record: RecordId) -> Option<PaperFile> {
        let (table, field, records) = wording::ends(self.lens, self.document.table, path, record)?;
        let reader = self.lens.reader(table, field);
        let shown = |file: &&Attachment| file.is_picture();
        let first = |record: &RecordId| {
            let cells = reader.cells(record.row());
            let found = cells.iter().find_map(|cell| if let Cell::Files(files) = cell { files.iter().find(shown) } else { None })?;
            let of = self.lens.record_name(table, *record).map(|name| name.name).unwrap_or_default();
            Some(PaperFile { id: found.id.clone(), name: format!("{}: {of}", found.name) })
        };
        records.iter().filter(|record| self.lens.sees(table, **record)).find_map(first)
    }
}

impl BlockSet {
    fn paper(self, number: usize, shows: PaperShows) -> PaperBlock {
        let Self { size, bold, align, hue, above, below, together } = self;
        PaperBlock { number, size, bold, align, colour: hue.map(|hue| sheet_colours(hue).0), above, below, together, shows }
    }
}

impl SheetFact {
    /// What it is called: in words of its own, or by its field; along a link by what lies at its end.
    pub(super) fn called(&self, lens: &Lens<'_>, table: TableId) -> String {
        if !self.words.is_empty() {
            return self.words.clone();
        }
        let end = lens.dataset().walk(table, &self.path).ok();
        let def = end.and_then(|(home, field)| lens.dataset().table(home)?.def.field(field));
        def.map(|def| capital(&def.name)).unwrap_or_default()
    }
}

impl SheetTotal {
    fn called(&self) -> String {
        if self.words.is_empty() { capital(self.figure.word()) } else { self.words.clone() }
    }
}

/// Whether every field of a path may be read.
fn is_read(lens: &Lens<'_>, table: TableId, path: &[FieldId]) -> bool {
    let mut at = Some(table);
    path.iter().all(|field| {
        let Some(home) = at.filter(|home| lens.reads(*home, *field)) else { return false };
        at = lens.dataset().table(home).and_then(|home| home.link(*field)).map(|link| link.to);
        true
    })
}

/// Whether somebody sees all that a path leads through.
fn is_whole(lens: &Lens<'_>, table: TableId, path: &[FieldId]) -> bool {
    let mut at = Some(table);
    path.iter().all(|field| {
        let Some(home) = at.filter(|home| lens.reads(*home, *field)) else { return false };
        let to = lens.dataset().table(home).and_then(|home| home.link(*field)).map(|link| link.to);
        at = to;
        to.is_none_or(|to| lens.reaches_all(to))
    })
}

impl Document {
    /// Whether somebody sees, by what their roles say, all that it draws on beside the records themselves.
    fn is_wholly_open(&self, lens: &Lens<'_>) -> bool {
        let table = self.table;
        let texts = [&self.called, &self.foot.text];
        let words = |text: &Wording| text.0.iter().filter_map(|piece| piece.path()).all(|path| is_whole(lens, table, path));
        let columns = |of: TableId, columns: &SheetColumns| columns.shows.iter().all(|field| is_whole(lens, of, &[*field]));
        texts.into_iter().all(words)
            && self.blocks.iter().all(|block| match &block.shows {
                BlockShows::Heading(heading) => words(&heading.text),
                BlockShows::Text(text) => words(&text.text),
                BlockShows::Facts(facts) => facts.facts.iter().all(|fact| is_whole(lens, table, &fact.path)),
                BlockShows::Sums(sums) => sums.facts.iter().all(|fact| is_whole(lens, table, &fact.path)),
                BlockShows::Lines(lines) => {
                    let to = lens.dataset().table(table).and_then(|home| home.link(lines.link)).map(|link| link.to);
                    is_whole(lens, table, &[lines.link]) && to.is_none_or(|to| columns(to, &lines.columns))
                }
                BlockShows::Table(of) => columns(table, &of.columns),
                BlockShows::Picture(picture) => is_whole(lens, table, &picture.path),
                BlockShows::Signature(of) => [&of.person, &of.on].into_iter().all(|path| is_whole(lens, table, path)),
                BlockShows::Rule | BlockShows::Space(_) | BlockShows::Break => true,
            })
    }

    /// Records with which a document is hard to set: the one with the most lines, and one without any.
    pub fn difficult(&self, lens: &Lens<'_>) -> (Option<RecordId>, Option<RecordId>) {
        let home = lens.dataset().table(self.table);
        let links: Vec<FieldId> = self
            .blocks
            .iter()
            .filter_map(|block| if let BlockShows::Lines(lines) = &block.shows { Some(lines.link) } else { None })
            .collect();
        let reads = |link: &&FieldId| {
            home.is_some_and(|home| home.link(**link).is_some_and(|to| lens.opens(to.to))) && lens.reads(self.table, **link)
        };
        let readers: Vec<_> = links.iter().filter(reads).map(|link| lens.reader(self.table, *link)).collect();
        if readers.is_empty() {
            return (None, None);
        }
        let count = |record: RecordId| {
            let of = |reader: &crate::dataset::Reader<'_>| match reader.cell(record.row()) {
                Cell::Links(linked) => reader.visible(linked).count(),
                _ => 0,
            };
            readers.iter().map(of).fold(0_usize, usize::saturating_add)
        };
        let counted: Vec<(usize, RecordId)> = lens.records(self.table).map(|record| (count(record), record)).collect();
        let longest = counted.iter().filter(|(count, _)| *count > 0).max_by_key(|(count, record)| (*count, std::cmp::Reverse(*record)));
        (longest.map(|(_, record)| *record), counted.iter().find(|(count, _)| *count == 0).map(|(_, record)| *record))
    }
}
