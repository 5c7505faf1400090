//! The words that stand in a file, whatever it is: so that it is found by them. Such a file is believed nothing; it is read in a process of
//! its own, and what is unpacked is counted as it comes.

use crate::Sort;
use quick_xml::{Reader, XmlVersion, events::Event};
use std::{
    borrow::Cow,
    io::{BufReader, Cursor, Read},
};
use westerfall_core::{find::LONGEST_TEXT, import::Raw};

/// Most bytes that are unpacked of a document's parts.
const UNPACKED: u64 = 60_000_000;
/// Most bytes of text that are read of a file: what is kept of it is less.
const ENOUGH: usize = LONGEST_TEXT * 4;

/// The text of a PDF, a document, a workbook, a presentation or a plain text; none of what is none of these.
pub fn words_of(bytes: &[u8]) -> Option<String> {
    let text = match bytes {
        [b'%', b'P', b'D', b'F', ..] => pdf_extract::extract_text_from_mem(bytes).ok()?,
        [b'P', b'K', 3, 4, ..] => packed(bytes)?,
        _ => plain(bytes)?,
    };
    let text = cut(&text, ENOUGH);
    let words: Vec<&str> = text.split_whitespace().collect();
    (!words.is_empty()).then(|| words.join(" "))
}

/// A text without anything that no text holds.
fn plain(bytes: &[u8]) -> Option<String> {
    if bytes.iter().take(8_192).any(|byte| *byte == 0) {
        return None;
    }
    let (text, _, _) = encoding_rs::UTF_8.decode(&bytes[..bytes.len().min(ENOUGH)]);
    Some(text.into_owned())
}

/// What stands in an office file: in its cells, if it is a workbook, else in the parts that hold its text.
fn packed(bytes: &[u8]) -> Option<String> {
    if let Ok(Sort::Xlsx | Sort::Ods) = crate::sort_of(bytes) {
        let book = crate::read(bytes, None).ok()?;
        let names = book.sheets.iter().map(|sheet| sheet.name.clone());
        let cells = book.sheet.rows.iter().flatten().map(Raw::words).filter(|cell| !cell.is_empty());
        return Some(names.chain(cells).take(ENOUGH / 8).collect::<Vec<_>>().join(" "));
    }
    let mut archive = zip::ZipArchive::new(Cursor::new(bytes)).ok()?;
    let mut parts: Vec<String> =
        archive.file_names().filter_map(|name| name.ok().map(Cow::into_owned)).filter(|name| holds_text(name)).collect();
    parts.sort_by_key(|name| (name.len(), name.clone()));
    let (mut text, mut left) = (String::new(), UNPACKED);
    for part in parts {
        let Ok(file) = archive.by_name(&part) else { continue };
        let mut counted = file.take(left);
        told(&mut counted, &mut text);
        left = counted.limit();
        if left == 0 || text.len() >= ENOUGH {
            break;
        }
    }
    Some(text)
}

/// Whether a part of an office file holds what one reads in it.
fn holds_text(part: &str) -> bool {
    let named = |folder: &str, stem: &str| part.strip_prefix(folder).is_some_and(|name| name.starts_with(stem) && name.ends_with(".xml"));
    part == "content.xml"
        || part == "word/document.xml"
        || ["header", "footer", "footnotes", "endnotes", "comments"].iter().any(|stem| named("word/", stem))
        || named("ppt/slides/", "slide")
        || named("ppt/notesSlides/", "notesSlide")
}

/// Adds the text of a part. Between two paragraphs, cells or lines stands a space; runs of one word stand together.
fn told(part: &mut impl Read, text: &mut String) {
    let mut reader = Reader::from_reader(BufReader::new(part));
    let mut buffer = Vec::new();
    while text.len() < ENOUGH {
        buffer.clear();
        match reader.read_event_into(&mut buffer) {
            Ok(Event::Text(piece)) => text.push_str(&piece.xml_content(XmlVersion::Implicit1_0)),
            Ok(Event::GeneralRef(name)) => text.push_str(&crate::ods::referred(&name.xml_content(XmlVersion::Implicit1_0))),
            Ok(Event::End(tag)) if matches!(tag.local_name().as_ref(), "p" | "h" | "tc" | "tr") => text.push(' '),
            Ok(Event::Empty(tag)) if matches!(tag.local_name().as_ref(), "br" | "tab" | "s" | "line-break") => text.push(' '),
            Ok(Event::Eof) | Err(_) => break,
            Ok(_) => {}
        }
    }
    text.push(' ');
}

/// At most so many bytes of a text, in whole letters.
fn cut(text: &str, most: usize) -> &str {
    &text[..text.floor_char_boundary(most)]
}
