//! The typesetter with what it needs at hand: its typefaces, how papers are set, and what is to be set now.

use crate::job::{Answer, As, Job, Placed};
use serde_json::Value as Json;
use std::sync::LazyLock;
use typst::{
    Library, LibraryExt, World,
    diag::{FileError, FileResult},
    foundations::{Bytes, Datetime, Duration, Label, Selector, Smart, Value},
    introspection::{Introspector, MetadataElem},
    syntax::{FileId, RootedPath, Source, VirtualPath, VirtualRoot},
    text::{Font, FontBook},
    utils::{LazyHash, PicoStr},
};
use typst_layout::PagedDocument;
use typst_pdf::PdfOptions;
use typst_svg::SvgOptions;

/// Most pages that a preview draws.
const MOST_DRAWN: usize = 12;
/// Longest run of letters that a line is not broken in.
const LONGEST_WORD: usize = 40;
/// How many papers what was set before is kept at hand for.
const KEPT: usize = 3;

const FACES: [&[u8]; 6] = [
    include_bytes!("../fonts/papers-sans-regular.ttf"),
    include_bytes!("../fonts/papers-sans-italic.ttf"),
    include_bytes!("../fonts/papers-sans-bold.ttf"),
    include_bytes!("../fonts/papers-sans-bold-italic.ttf"),
    include_bytes!("../fonts/papers-serif-bold.ttf"),
    include_bytes!("../fonts/papers-serif-italic.ttf"),
];

static SETTING: LazyLock<Source> = LazyLock::new(|| Source::new(file("/paper.typ"), include_str!("paper.typ").to_owned()));

fn file(path: &str) -> FileId {
    let path = VirtualPath::new(path).unwrap_or_else(|_| unreachable!("the paths are our own"));
    RootedPath::new(VirtualRoot::Project, path).intern()
}

/// What sets papers, one after the other.
pub(crate) struct Press {
    library: LazyHash<Library>,
    book: LazyHash<FontBook>,
    fonts: Vec<Font>,
    /// What is set now.
    paper: Bytes,
    files: Vec<Bytes>,
}

impl World for Press {
    fn library(&self) -> &LazyHash<Library> {
        &self.library
    }

    fn book(&self) -> &LazyHash<FontBook> {
        &self.book
    }

    fn main(&self) -> FileId {
        SETTING.id()
    }

    fn source(&self, id: FileId) -> FileResult<Source> {
        if id == SETTING.id() { Ok(SETTING.clone()) } else { Err(FileError::AccessDenied) }
    }

    fn file(&self, id: FileId) -> FileResult<Bytes> {
        let path = id.get().vpath().get_without_slash();
        if path == "paper.json" {
            return Ok(self.paper.clone());
        }
        let place = path.strip_prefix("files/").and_then(|place| place.parse::<usize>().ok());
        place.and_then(|place| self.files.get(place).cloned()).ok_or(FileError::AccessDenied)
    }

    fn font(&self, index: usize) -> Option<Font> {
        self.fonts.get(index).cloned()
    }

    /// Days are core's to say: the same paper is the same on any day.
    fn today(&self, _: Option<Duration>) -> Option<Datetime> {
        None
    }
}

impl Press {
    pub(crate) fn new() -> Self {
        // What our own faces have no letters for is set in those that come with the typesetter.
        let data = FACES.into_iter().chain(typst_assets::fonts());
        let fonts: Vec<Font> = data.flat_map(|data| Font::iter(Bytes::new(data))).collect();
        Self {
            library: LazyHash::new(Library::default()),
            book: LazyHash::new(FontBook::from_fonts(&fonts)),
            fonts,
            paper: Bytes::new(Vec::new()),
            files: Vec::new(),
        }
    }

    /// Does a job; or says why it can't be done.
    pub(crate) fn set(&mut self, job: Job, files: Vec<Vec<u8>>) -> Result<(Answer, Vec<Vec<u8>>), String> {
        let Job { as_, mut paper, .. } = job;
        broken(&mut paper);
        if let Some(known) = paper.get_mut("files").and_then(Json::as_array_mut) {
            for (file, bytes) in known.iter_mut().zip(&files) {
                file["sets"] = Json::Bool(!bytes.is_empty());
            }
        }
        if paper["mark"].as_u64().and_then(|mark| files.get(usize::try_from(mark).ok()?)).is_some_and(Vec::is_empty) {
            paper["mark"] = Json::Null;
        }
        self.files = files.into_iter().map(Bytes::new).collect();
        let done = match as_ {
            As::Preview => self.preview(&paper),
            As::One => self.pages(&paper).and_then(|document| Ok((count(&document), vec![pdf(&document, &text(&paper["title"]))?]))),
            As::Each => self.each(&paper),
        };
        self.files = Vec::new();
        comemo::evict(KEPT);
        done
    }

    fn pages(&mut self, paper: &Json) -> Result<PagedDocument, String> {
        self.paper = Bytes::new(serde_json::to_vec(paper).map_err(|error| error.to_string())?);
        typst::compile::<PagedDocument>(self)
            .output
            .map_err(|faults| faults.into_iter().map(|fault| fault.message.to_string()).collect::<Vec<_>>().join("; "))
    }

    fn preview(&mut self, paper: &Json) -> Result<(Answer, Vec<Vec<u8>>), String> {
        let document = self.pages(paper)?;
        let drawn = document.pages().iter().take(MOST_DRAWN);
        let options = SvgOptions { render_bleed: false, pretty: false };
        let parts = drawn.map(|page| typst_svg::svg(page, &options).into_bytes()).collect();
        Ok((Answer { blocks: placed(&document), ..count(&document) }, parts))
    }

    /// Each sheet by itself, as a document of its own.
    fn each(&mut self, paper: &Json) -> Result<(Answer, Vec<Vec<u8>>), String> {
        let sheets = paper["sheets"].as_array().cloned().unwrap_or_default();
        let (mut parts, mut pages) = (Vec::with_capacity(sheets.len()), 0);
        for sheet in sheets {
            let mut one = paper.clone();
            one["title"] = sheet["name"].clone();
            one["sheets"] = Json::Array(vec![sheet]);
            let document = self.pages(&one)?;
            pages += document.pages().len();
            parts.push(pdf(&document, &text(&one["title"]))?);
            comemo::evict(KEPT);
        }
        Ok((Answer { pages, ..Answer::default() }, parts))
    }
}

fn count(document: &PagedDocument) -> Answer {
    Answer { pages: document.pages().len(), ..Answer::default() }
}

fn text(value: &Json) -> String {
    value.as_str().unwrap_or_default().to_owned()
}

/// The pages as a PDF with its structure told for those who hear it. The same pages give the same bytes.
fn pdf(document: &PagedDocument, title: &str) -> Result<Vec<u8>, String> {
    let options = PdfOptions {
        ident: Smart::Custom(title.to_owned()),
        creator: Smart::Custom(Some("Westerfall".to_owned())),
        ..PdfOptions::default()
    };
    typst_pdf::pdf(document, &options)
        .map_err(|faults| faults.into_iter().map(|fault| fault.message.to_string()).collect::<Vec<_>>().join("; "))
}

/// Where the blocks lie; one that goes on over several pages lies on each.
fn placed(document: &PagedDocument) -> Vec<Placed> {
    let seen = document.introspector();
    let marks = |name: &str| {
        let found = Label::new(PicoStr::intern(name)).map(|label| seen.query(&Selector::Label(label))).unwrap_or_default();
        let mark = |content: &typst::foundations::Content| {
            let value = content.to_packed::<MetadataElem>()?.value.clone();
            let at = seen.position(content.location()?)?;
            Some((value, at.page.get() - 1, at.point))
        };
        found.iter().filter_map(mark).collect::<Vec<_>>()
    };
    let number = |value: &Value| if let Value::Int(number) = value { Some(*number) } else { None };
    let ends: Vec<_> = marks("to").into_iter().filter_map(|(value, page, point)| Some((number(&value)?, page, point))).collect();
    let mut all = Vec::new();
    for (value, page, from) in marks("from") {
        let Value::Array(pair) = &value else { continue };
        let [Value::Int(block), Value::Float(width)] = pair.as_slice() else { continue };
        let Some((_, last, to)) = ends.iter().find(|(number, ..)| number == block) else { continue };
        for on in page..=*last {
            let height = document.pages().get(on).map_or(0.0, |page| page.frame.height().to_mm());
            let top = if on == page { from.y.to_mm() } else { 0.0 };
            let bottom = if on == *last { to.y.to_mm() } else { height };
            all.push(Placed { number: *block, page: on, left: from.x.to_mm(), top, width: *width, height: (bottom - top).max(0.0) });
        }
    }
    all
}

/// Makes words that are longer than any line break.
fn broken(value: &mut Json) {
    match value {
        Json::String(text) if text.len() > LONGEST_WORD => *text = broken_text(text),
        Json::Array(list) => list.iter_mut().for_each(broken),
        Json::Object(map) => map.values_mut().for_each(broken),
        _ => {}
    }
}

fn broken_text(text: &str) -> String {
    let (mut broken, mut run) = (String::with_capacity(text.len()), 0);
    for letter in text.chars() {
        run = if letter.is_whitespace() { 0 } else { run + 1 };
        if run > LONGEST_WORD {
            broken.push('\u{200b}');
            run = 1;
        }
        broken.push(letter);
    }
    broken
}

#[cfg(test)]
mod tests {
    use super::{LONGEST_WORD, Press, broken_text};
    use crate::job::{Answer, Job};
    use serde_json::{Value as Json, json};

    fn block(number: u64, shows: Json) -> Json {
        json!({
            "number": number, "size": null, "bold": false, "align": "left", "colour": null, "above": false, "below": false,
            "together": false, "shows": shows,
        })
    }

    fn look() -> Json {
        json!({ "bold": false, "italic": false, "struck": false, "ink": null, "fill": null, "word": "" })
    }

    fn words(text: &str) -> Json {
        json!([{ "text": text, "typed": false }])
    }

    fn paper(sheets: Vec<Vec<Json>>) -> Json {
        let sheet = |blocks: Vec<Json>| {
            let rows: Vec<Json> = blocks.into_iter().map(|block| json!([block])).collect();
            json!({ "name": "One", "rows": rows, "foot": "A team", "pages": true })
        };
        json!({
            "title": "Sheet", "width": 2_100, "height": 2_970, "margin": 20, "team": "A team", "words": "Mill Lane 4\nHarrow Tarn", "mark": null, "marks": false,
            "sheets": sheets.into_iter().map(sheet).collect::<Vec<_>>(), "files": [],
        })
    }

    #[track_caller]
    fn set(r#as: &str, mut paper: Json, files: Vec<Vec<u8>>) -> (Answer, Vec<Vec<u8>>) {
        paper["marks"] = json!(r#as == "preview");
        let lengths: Vec<usize> = files.iter().map(Vec::len).collect();
        let job: Job = serde_json::from_value(json!({ "as": r#as, "paper": paper, "files": lengths })).expect("a job");
        Press::new().set(job, files).expect("it is set")
    }

    fn lines(count: usize) -> Json {
        let cell = |text: String| json!({ "text": text, "look": look() });
        let row = |n: usize| json!({ "cells": [cell(format!("Line {n}")), cell(n.to_string())] });
        json!({
            "as": "lines", "columns": [{ "name": "What", "right": false }, { "name": "How many", "right": true }],
            "rows": (0..count).map(row).collect::<Vec<_>>(),
            "totals": [{ "words": "Sum", "text": "9", "blank": false, "column": 1, "look": look() }], "ruled": true, "again": true,
        })
    }

    #[test]
    fn every_sort_of_block_is_set_and_says_where_it_lies() {
        let fact = json!({ "words": "Leader", "text": "", "blank": true, "column": null, "look": look() });
        let shows = [
            json!({ "as": "heading", "text": words("Order"), "team": true }),
            json!({ "as": "text", "text": words("Two\nlines") }),
            json!({ "as": "facts", "facts": [fact] }),
            lines(3),
            json!({ "as": "sums", "facts": [fact], "total": true }),
            json!({ "as": "signature", "name": "N. N.", "words": "approved", "signed": true }),
            json!({ "as": "rule" }),
            json!({ "as": "space", "height": 9 }),
            json!({ "as": "break" }),
            json!({ "as": "text", "text": words("After it") }),
        ];
        let blocks = (1..).zip(shows).map(|(number, shows)| block(number, shows)).collect();
        let (answer, pages) = set("preview", paper(vec![blocks]), Vec::new());
        assert_eq!((answer.pages, pages.len()), (2, 2));
        // What only breaks a page lies nowhere.
        assert_eq!(answer.blocks.iter().map(|placed| placed.number).collect::<Vec<_>>(), [1, 2, 3, 4, 5, 6, 7, 8, 10]);
        assert!(answer.blocks.windows(2).all(|two| (two[0].page, two[0].top) <= (two[1].page, two[1].top)));
        assert!(answer.blocks.iter().all(|placed| (placed.left - 20.0).abs() < 0.01 && (placed.width - 170.0).abs() < 0.01));
    }

    #[test]
    fn lines_that_are_too_many_go_on_over_pages_and_lie_on_each() {
        let (answer, _) = set("preview", paper(vec![vec![block(1, lines(120))]]), Vec::new());
        assert!(answer.pages > 2);
        let on: Vec<usize> = answer.blocks.iter().map(|placed| placed.page).collect();
        assert_eq!(on, (0..answer.pages).collect::<Vec<_>>());
    }

    #[test]
    fn the_same_paper_gives_the_same_bytes_and_each_sheet_is_one_of_its_own() {
        let sheets = || paper(vec![vec![block(1, lines(3))], vec![block(1, lines(4))]]);
        let (answer, one) = set("one", sheets(), Vec::new());
        assert_eq!((answer.pages, one.len()), (2, 1));
        assert_eq!(one, set("one", sheets(), Vec::new()).1);
        let (answer, each) = set("each", sheets(), Vec::new());
        assert_eq!((answer.pages, each.len()), (2, 2));
        assert!(each.iter().all(|pdf| pdf.starts_with(b"%PDF")) && each[0] != each[1]);
    }

    #[test]
    fn a_picture_that_is_not_there_is_said_and_stops_nothing() {
        let mut with = paper(vec![vec![block(1, json!({ "as": "picture", "file": 0, "height": 40 }))]]);
        with["files"] = json!([{ "id": "x", "name": "A gate" }]);
        with["mark"] = json!(0);
        assert_eq!(set("one", with, vec![Vec::new()]).0.pages, 1);
    }

    #[test]
    fn what_is_no_picture_is_refused_in_words_and_the_next_paper_is_set() {
        let mut with = paper(vec![vec![block(1, json!({ "as": "picture", "file": 0, "height": 40 }))]]);
        with["files"] = json!([{ "id": "x", "name": "A gate" }]);
        let job = |paper: &Json| serde_json::from_value(json!({ "as": "one", "paper": paper, "files": [3] })).expect("a job");
        let mut press = Press::new();
        assert!(press.set(job(&with), vec![b"no!".to_vec()]).is_err());
        assert!(press.set(job(&paper(vec![vec![block(1, lines(1))]])), vec![Vec::new()]).is_ok());
    }

    #[test]
    fn no_file_beside_what_is_given_is_ever_read() {
        let mut with = paper(vec![vec![block(1, json!({ "as": "picture", "file": 7, "height": 40 }))]]);
        with["files"] = json!([]);
        let job = serde_json::from_value(json!({ "as": "one", "paper": with, "files": [] })).expect("a job");
        assert!(Press::new().set(job, Vec::new()).is_err());
    }

    #[test]
    fn only_words_longer_than_any_line_are_broken() {
        let long = "a".repeat(LONGEST_WORD);
        for whole in ["", "short words stay", long.as_str()] {
            assert_eq!(broken_text(whole), whole);
        }
        let broken = broken_text(&"é".repeat(LONGEST_WORD * 2 + 1));
        assert_eq!(broken.matches('\u{200b}').count(), 2);
        assert_eq!(broken.replace('\u{200b}', ""), "é".repeat(LONGEST_WORD * 2 + 1));
    }
}
