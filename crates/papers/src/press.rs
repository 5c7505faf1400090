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
        if paper["mark"].as_u64().and_then(|mark| files.get(mark as usize)).is_some_and(Vec::is_empty) {
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
        typst::compile::<PagedDocument>(self).output.map_err(|faults| faults.into_iter().map(|fault| fault.message.to_string()).collect::<Vec<_>>().join("; "))
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
    let options = PdfOptions { ident: Smart::Custom(title.to_owned()), creator: Smart::Custom(Some("Westerfall".to_owned())), ..PdfOptions::default() };
    typst_pdf::pdf(document, &options).map_err(|faults| faults.into_iter().map(|fault| fault.message.to_string()).collect::<Vec<_>>().join("; "))
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
