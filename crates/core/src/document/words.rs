//! A document in words: what it is as a sentence, and each block, closed in a few words and open as a sentence, each at the place that
//! it edits.

use super::{BlockSet, BlockShows, Document, EmptyFact, SheetAlign, SheetBlock, SheetColumns, SheetFact, SheetOf, SheetTotal, TypedDate};
use crate::{
    access::Lens,
    condition::words_of_path,
    highlight::LookSize,
    id::{FieldId, TableId},
    schema::within_sentence,
    sentence::{Phrase, Sentence},
    value::list_text,
    view::{Order, condition_phrases, sort_words},
    wording::Wording,
};
use serde::{Deserialize, Serialize};

/// A document in words.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DocumentWords {
    /// *A sheet for each work order, on A4 upright with 20 mm round it, named number.*
    pub sentence: Vec<Phrase>,
    pub blocks: Vec<BlockWords>,
    /// Days and months that were typed by hand.
    pub typed: Vec<TypedDate>,
}

/// A block in words.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BlockWords {
    /// *Heading*, *Lines*.
    pub name: String,
    /// In a few words: what comes from the record stands out from what was typed.
    pub short: Vec<Phrase>,
    pub sentence: Vec<Phrase>,
}

impl Document {
    /// The document in words.
    pub fn in_words(&self, lens: &Lens<'_>) -> DocumentWords {
        let block = |(place, block): (usize, &SheetBlock)| {
            let at = format!("/blocks/{place}");
            BlockWords { name: block.shows.name().to_owned(), short: self.short(lens, block), sentence: self.open(lens, block, &at) }
        };
        DocumentWords {
            sentence: self.sentence(lens),
            blocks: self.blocks.iter().enumerate().map(block).collect(),
            typed: self.typed(lens),
        }
    }

    fn sentence(&self, lens: &Lens<'_>) -> Vec<Phrase> {
        let home = lens.dataset().table(self.table);
        let mut s = Sentence::default();
        match self.of {
            SheetOf::Each => {
                s.plain("A sheet for ");
                s.edit(format!("each {}", home.map_or("record", |home| &home.def.one)), "/of");
            }
            SheetOf::All => {
                s.plain("One sheet for ");
                s.edit(format!("all {} together", home.map_or_else(|| "records".into(), |home| within_sentence(&home.def.name))), "/of");
            }
        }
        s.plain(", on ");
        s.edit(format!("{} {}", self.page.size.name(), if self.page.across { "across" } else { "upright" }), "/page/size");
        s.plain(" with ");
        s.edit(format!("{} mm", self.page.margin), "/page/margin");
        s.plain(" round it, named ");
        s.edit(self.text_words(lens, &self.called), "/called");
        if let Some(keep) = self.keep {
            s.plain(", kept ");
            s.edit(format!("in {}", words_of_path(lens, self.table, &[keep])), "/keep");
        }
        s.plain("; at its foot ");
        s.edit(self.foot_words(lens), "/foot");
        s.plain("; days are written ");
        s.edit(self.customs.date_text(lens.clock().today()), "/customs");
        s.plain(".");
        if self.keep.is_none() && self.of == SheetOf::Each {
            s.offer("kept with the record", "/keep");
        }
        s.phrases()
    }

    fn foot_words(&self, lens: &Lens<'_>) -> String {
        let foot = &self.foot;
        let text = if foot.text.0.is_empty() { String::new() } else { self.text_words(lens, &foot.text) };
        let parts = [
            if foot.team { "the team" } else { "" },
            text.as_str(),
            if foot.day { "the day" } else { "" },
            if foot.pages { "the page’s number" } else { "" },
        ];
        let parts: Vec<&str> = parts.into_iter().filter(|part| !part.is_empty()).collect();
        if parts.is_empty() { "nothing".to_owned() } else { list_text(&parts, "and") }
    }

    /// A text in one run of words: *Work order, number*.
    fn text_words(&self, lens: &Lens<'_>, text: &Wording) -> String {
        let runs = text.names(lens.dataset(), self.table);
        if runs.len() > 1 && runs.iter().all(|run| run.value || run.text.trim().is_empty()) {
            return list_text(&runs.into_iter().filter(|run| run.value).map(|run| run.text).collect::<Vec<_>>(), "and");
        }
        let words: String = runs.into_iter().map(|run| run.text).collect();
        let words = words.split_whitespace().collect::<Vec<_>>().join(" ");
        if words.is_empty() { "nothing".to_owned() } else { words }
    }

    /// What was typed in a quieter tone than what comes from the record.
    fn text_phrases(&self, s: &mut Sentence, lens: &Lens<'_>, text: &Wording) {
        if text.0.is_empty() {
            s.plain("nothing yet");
        }
        for run in text.names(lens.dataset(), self.table) {
            if run.value { s.strong(run.text) } else { s.plain(run.text) }
        }
    }

    fn short(&self, lens: &Lens<'_>, block: &SheetBlock) -> Vec<Phrase> {
        let mut s = Sentence::default();
        match &block.shows {
            BlockShows::Heading(heading) => {
                self.text_phrases(&mut s, lens, &heading.text);
                if heading.team {
                    s.plain(", under the team’s name");
                }
            }
            BlockShows::Text(text) => self.text_phrases(&mut s, lens, &text.text),
            BlockShows::Facts(facts) => s.strong(self.fact_words(lens, &facts.facts)),
            BlockShows::Sums(sums) => s.strong(self.fact_words(lens, &sums.facts)),
            BlockShows::Lines(lines) => {
                s.strong(words_of_path(lens, self.table, &[lines.link]));
                s.plain(" with ");
                s.strong(self.lines_of(lens, lines.link).map(|to| column_words(lens, to, &lines.columns)).unwrap_or_default());
            }
            BlockShows::Table(table) => s.strong(column_words(lens, self.table, &table.columns)),
            BlockShows::Picture(picture) => {
                s.plain("the first of ");
                s.strong(words_of_path(lens, self.table, &picture.path));
            }
            BlockShows::Signature(of) => {
                s.plain(if of.signed { "of " } else { "line for " });
                s.strong(self.path_or(lens, &of.person, "whoever signs"));
            }
            BlockShows::Rule => s.plain("a line across"),
            BlockShows::Space(space) => s.plain(format!("{} mm", space.height)),
            BlockShows::Break => {}
        }
        if !block.when.is_nothing() {
            s.plain(", where ");
            s.plain(block.when.to_sentence(lens, self.table));
        }
        s.phrases()
    }

    fn open(&self, lens: &Lens<'_>, block: &SheetBlock, at: &str) -> Vec<Phrase> {
        let mut s = Sentence::default();
        let of = |part: &str| format!("{at}/shows/{part}");
        match &block.shows {
            BlockShows::Heading(heading) => {
                s.edit(format!("“{}”", self.text_words(lens, &heading.text)), of("text"));
                s.plain(", ");
                s.edit(if heading.team { "under the team’s name, with its mark" } else { "without the team’s name" }, of("team"));
            }
            BlockShows::Text(text) => s.edit(format!("“{}”", self.text_words(lens, &text.text)), of("text")),
            BlockShows::Facts(facts) => {
                s.edit(self.fact_words(lens, &facts.facts), of("facts"));
                s.plain(", each with its name; where one is empty, ");
                s.edit(facts.empty.words(), of("empty"));
            }
            BlockShows::Sums(sums) => {
                s.edit(self.fact_words(lens, &sums.facts), of("facts"));
                s.plain(", one under the other; ");
                s.edit(if sums.total { "the last one is what they come to" } else { "all alike" }, of("total"));
            }
            BlockShows::Lines(lines) => {
                let to = self.lines_of(lens, lines.link);
                let home = to.and_then(|to| lens.dataset().table(to));
                s.plain("One line for each ");
                s.edit(home.map_or("record", |home| &home.def.one), of("link"));
                s.plain(", ");
                let order = lines.by.zip(to).map(|(field, to)| sort_words(lens, to, Order { field, descending: lines.descending }));
                s.edit(order.unwrap_or_else(|| "in its own order".into()), of("by"));
                if let Some(to) = to {
                    column_phrases(&mut s, lens, to, &lines.columns, &of);
                }
                s.plain("; without lines it says ");
                s.edit(if lines.without.is_empty() { "nothing".to_owned() } else { format!("“{}”", lines.without) }, of("without"));
            }
            BlockShows::Table(table) => {
                let one = lens.dataset().table(self.table).map_or("record", |home| &home.def.one);
                s.plain(format!("One line for each {one}, in the order of what is printed"));
                column_phrases(&mut s, lens, self.table, &table.columns, &of);
            }
            BlockShows::Picture(picture) => {
                s.plain("The first picture of ");
                s.edit(words_of_path(lens, self.table, &picture.path), of("path"));
                s.plain(", at most ");
                s.edit(format!("{} mm", picture.height), of("height"));
                s.plain(" high");
            }
            BlockShows::Signature(signature) => {
                s.edit(if signature.signed { "Signed with the name" } else { "A line to be signed by hand" }, of("signed"));
                s.plain(if signature.signed { " of " } else { " by " });
                s.edit(self.path_or(lens, &signature.person, "whoever signs"), of("person"));
                s.plain(", under it ");
                let words = &signature.words;
                s.edit(if words.is_empty() { "no more words".to_owned() } else { format!("“{words}”") }, of("words"));
                s.plain(" and ");
                s.edit(self.path_or(lens, &signature.on, "no day"), of("on"));
            }
            BlockShows::Rule => s.plain("A line across the page"),
            BlockShows::Space(space) => {
                s.edit(format!("{} mm", space.height), of("height"));
                s.plain(" of room");
            }
            BlockShows::Break => s.plain("What follows begins on a new page"),
        }
        if !matches!(block.shows, BlockShows::Rule | BlockShows::Space(_) | BlockShows::Break) {
            s.plain("; set ");
            s.edit(block.set.words(), format!("{at}/set"));
        }
        if self.of == SheetOf::Each {
            if block.when.is_nothing() {
                s.plain(".");
                s.offer("only where", format!("{at}/when"));
                return s.phrases();
            }
            s.plain("; only where ");
            condition_phrases(&mut s, &block.when, lens, self.table, &format!("{at}/when"));
        }
        s.plain(".");
        s.phrases()
    }

    fn lines_of(&self, lens: &Lens<'_>, link: FieldId) -> Option<TableId> {
        lens.dataset().table(self.table)?.link(link).map(|link| link.to)
    }

    fn path_or(&self, lens: &Lens<'_>, path: &[FieldId], or: &str) -> String {
        if path.is_empty() { or.to_owned() } else { words_of_path(lens, self.table, path) }
    }

    fn fact_words(&self, lens: &Lens<'_>, facts: &[SheetFact]) -> String {
        let words = |fact: &SheetFact| if fact.words.is_empty() { words_of_path(lens, self.table, &fact.path) } else { fact.words.clone() };
        list_text(&facts.iter().map(words).collect::<Vec<_>>(), "and")
    }
}

fn column_words(lens: &Lens<'_>, table: TableId, columns: &SheetColumns) -> String {
    list_text(&columns.shows.iter().map(|field| words_of_path(lens, table, &[*field])).collect::<Vec<_>>(), "and")
}

fn column_phrases(s: &mut Sentence, lens: &Lens<'_>, table: TableId, columns: &SheetColumns, of: &dyn Fn(&str) -> String) {
    s.plain(", showing ");
    s.edit(column_words(lens, table, columns), of("shows"));
    s.plain(", with ");
    let total = |total: &SheetTotal| {
        let words = if total.words.is_empty() { String::new() } else { format!(" as {}", total.words) };
        format!("{} {}{words}", total.figure.words(), words_of_path(lens, table, &[total.field]))
    };
    let totals = list_text(&columns.totals.iter().map(total).collect::<Vec<_>>(), "and");
    s.edit(if totals.is_empty() { "no figure".to_owned() } else { totals }, of("totals"));
    s.plain(" beneath; ");
    s.edit(if columns.ruled { "a hairline under each" } else { "no lines between" }, of("ruled"));
    s.plain("; too long for the page, it goes on ");
    s.edit(if columns.again { "with its headings again" } else { "without its headings" }, of("again"));
}

impl EmptyFact {
    /// In the order in which they are offered.
    pub const ALL: [Self; 3] = [Self::Line, Self::Blank, Self::Out];

    /// As it stands after *where one is empty*.
    pub fn words(self) -> &'static str {
        match self {
            Self::Line => "a line to write on",
            Self::Blank => "nothing beside it",
            Self::Out => "it is not there",
        }
    }
}

impl BlockSet {
    /// As it stands after *set*: *larger and bold, at the right*.
    fn words(self) -> String {
        let Self { size, bold, align, hue, above, below, together } = self;
        let size = size.map(|size| if size == LookSize::Smaller { "small" } else { "large" });
        let letters = size.into_iter().chain(bold.then_some("bold")).chain(hue.map(|hue| hue.word()));
        let align = match align {
            SheetAlign::Left => None,
            SheetAlign::Middle => Some("in the middle"),
            SheetAlign::Right => Some("at the right"),
        };
        let lines = match (above, below) {
            (true, true) => Some("between two lines"),
            (true, false) => Some("under a line"),
            (false, true) => Some("over a line"),
            (false, false) => None,
        };
        let all: Vec<&str> = letters.chain(align).chain(lines).chain(together.then_some("kept on one page")).collect();
        if all.is_empty() { "plainly".to_owned() } else { list_text(&all, "and") }
    }
}
