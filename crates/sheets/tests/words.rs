//! The words of a file, whatever it is: documents, slides, workbooks, plain texts; and of what means harm, no more than is bounded.

use std::io::{Cursor, Write};
use westerfall_core::find::LONGEST_TEXT;
use westerfall_sheets::words_of;
use zip::{CompressionMethod, ZipWriter, write::SimpleFileOptions};

fn packed(parts: &[(&str, &str)]) -> Vec<u8> {
    let mut to = ZipWriter::new(Cursor::new(Vec::new()));
    let options = SimpleFileOptions::default().compression_method(CompressionMethod::Deflated);
    for (name, text) in parts {
        to.start_file(*name, options).unwrap();
        to.write_all(text.as_bytes()).unwrap();
    }
    to.finish().unwrap().into_inner()
}

#[track_caller]
fn check(parts: &[(&str, &str)], words: Option<&str>) {
    assert_eq!(words_of(&packed(parts)).as_deref(), words);
}

#[test]
fn of_a_document_its_paragraphs_are_words_apart_and_its_notes_are_among_them() {
    let text = "<w:document xmlns:w='w'><w:p><w:r><w:t>Footbridge at</w:t></w:r></w:p><w:p><w:r><w:t>Hob Gate &amp; beck</w:t></w:r></w:p></w:document>";
    let notes = "<w:footnotes xmlns:w='w'><w:p><w:t>surveyed twice</w:t></w:p></w:footnotes>";
    check(
        &[("word/document.xml", text), ("word/footnotes.xml", notes), ("word/styles.xml", "<w:s>Heading</w:s>")],
        Some("Footbridge at Hob Gate & beck surveyed twice"),
    );
}

#[test]
fn of_an_open_document_and_of_slides_what_is_read_on_them_is_found_in_their_order() {
    let odt = "<office:text xmlns:text='t' xmlns:office='o'><text:p>Stile</text:p><text:p>by the wall</text:p></office:text>";
    check(&[("mimetype", "application/vnd.oasis.opendocument.text"), ("content.xml", odt)], Some("Stile by the wall"));
    let slide = |words: &str| format!("<p:sld xmlns:a='a' xmlns:p='p'><a:p><a:t>{words}</a:t></a:p></p:sld>");
    let slides =
        [("ppt/slides/slide10.xml", slide("last")), ("ppt/slides/slide2.xml", slide("second")), ("ppt/slides/slide1.xml", slide("first"))];
    let slides: Vec<(&str, &str)> = slides.iter().map(|(name, text)| (*name, text.as_str())).collect();
    check(&slides, Some("first second last"));
}

#[test]
fn a_plain_text_is_its_words_and_what_is_no_text_has_none() {
    assert_eq!(words_of("Zähle\r\n\t die  Tore".as_bytes()).as_deref(), Some("Zähle die Tore"));
    assert_eq!(words_of(b"\x00\x01\x02 binary"), None);
    assert_eq!(words_of(b"   \n"), None);
    assert_eq!(words_of(b""), None);
    check(&[("picture.png", "not a text that anybody looks for")], None);
}

#[test]
fn what_is_broken_has_no_words_and_breaks_nothing() {
    assert_eq!(words_of(b"PK\x03\x04 and no more"), None);
    assert_eq!(words_of(b"%PDF-1.7 and no more"), None);
    // A document that ends in the middle tells what came until then.
    check(&[("word/document.xml", "<w:p><w:t>As far as this</w:t></w:p><w:p><w:t")], Some("As far as this"));
}

#[test]
fn of_what_swells_when_it_is_unpacked_only_so_much_is_taken() {
    let endless = format!("<w:document xmlns:w='w'><w:t>{}</w:t></w:document>", "swells ".repeat(20_000_000 / 7));
    let small = packed(&[("word/document.xml", &endless)]);
    assert!(small.len() < 200_000, "it is small as it comes: {}", small.len());
    let words = words_of(&small).unwrap();
    assert!(words.starts_with("swells swells") && words.len() <= LONGEST_TEXT * 4, "{}", words.len());
    // Many parts together are bounded like one.
    let part = format!("<a:p xmlns:a='a'><a:t>{}</a:t></a:p>", "x ".repeat(5_000_000));
    let names: Vec<String> = (1..=10).map(|n| format!("ppt/slides/slide{n}.xml")).collect();
    let parts: Vec<(&str, &str)> = names.iter().map(|name| (name.as_str(), part.as_str())).collect();
    assert!(words_of(&packed(&parts)).unwrap().len() <= LONGEST_TEXT * 4);
}
