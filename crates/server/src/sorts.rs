//! What a file is, by its content; and whether its name says the same. Only what is on a list of ours is ever shown in place: all else is
//! handed over to be kept, as whatever it says it is.

/// Pictures that are drawn, and shown by browsers.
const PICTURES: [&str; 4] = ["image/jpeg", "image/png", "image/webp", "image/gif"];
/// What browsers play.
const PLAYED: [&str; 9] =
    ["audio/mpeg", "audio/ogg", "audio/wav", "audio/mp4", "audio/flac", "audio/aac", "video/mp4", "video/webm", "video/ogg"];
pub const PDF: &str = "application/pdf";
pub const TEXT: &str = "text/plain";
const ANYTHING: &str = "application/octet-stream";
/// So many bytes from the beginning tell what a file is.
pub const HEAD: usize = 1 << 20;

/// What a name promises: its endings, what they say it is, and which content keeps that.
type Promise = (&'static [&'static str], &'static str, fn(&str) -> bool);

const PROMISES: [Promise; 6] = [
    (&["jpg", "jpeg", "png", "webp", "gif"], "a picture", is_picture),
    (&["pdf"], "a PDF", |media| media == PDF),
    (&["mp3", "wav", "ogg", "oga", "m4a", "flac", "aac"], "a recording", |media| {
        media.starts_with("audio/") || media.starts_with("video/")
    }),
    (&["mp4", "m4v", "webm", "ogv"], "a film", |media| media.starts_with("video/") || media.starts_with("audio/")),
    (&["docx", "xlsx", "pptx", "odt", "ods", "odp", "zip"], "a document or an archive", is_packed),
    (&["txt", "csv", "tsv", "md", "gpx"], "a text", |media| media == TEXT),
];

/// The media type of what begins like this, as it is kept and sent.
///
/// # Errors
/// What its name promises, where that is not what is in it.
pub fn media_of(name: &str, head: &[u8]) -> Result<&'static str, &'static str> {
    let media = by_content(head);
    let ending = name.rsplit_once('.').map(|(_, ending)| ending.to_lowercase()).unwrap_or_default();
    let promise = PROMISES.iter().find(|(endings, ..)| endings.contains(&&*ending));
    match promise {
        Some((_, what, keeps)) if !keeps(media) => Err(what),
        _ => Ok(media),
    }
}

fn by_content(head: &[u8]) -> &'static str {
    let found = infer::get(head).map(|found| found.mime_type());
    match found {
        Some("audio/x-wav") => "audio/wav",
        Some("audio/m4a") => "audio/mp4",
        Some("audio/x-flac") => "audio/flac",
        Some(media) if is_shown(media) => media,
        // A page or a script is a text to whoever gets it from us.
        Some(media) if media.starts_with("text/") => TEXT,
        // What can't be drawn or played is a file like any other.
        Some(media) if ["image/", "audio/", "video/"].iter().any(|sort| media.starts_with(sort)) => ANYTHING,
        Some(media) => media,
        None if is_text(head) => TEXT,
        None => ANYTHING,
    }
}

pub fn is_picture(media: &str) -> bool {
    PICTURES.contains(&media)
}

fn is_packed(media: &str) -> bool {
    media == "application/zip" || media == "application/epub+zip" || media.contains("officedocument") || media.contains("opendocument")
}

/// Whether it may be shown in place.
pub fn is_shown(media: &str) -> bool {
    is_picture(media) || PLAYED.contains(&media) || media == PDF || media == TEXT
}

/// Whether these bytes are the beginning of a text. The last letter may be cut.
fn is_text(head: &[u8]) -> bool {
    let text = match std::str::from_utf8(head) {
        Ok(text) => text,
        Err(fault) if fault.error_len().is_none() => std::str::from_utf8(&head[..fault.valid_up_to()]).unwrap_or_default(),
        Err(_) => return false,
    };
    !text.chars().any(|letter| letter.is_control() && !matches!(letter, '\n' | '\r' | '\t' | '\u{c}'))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[track_caller]
    fn check(name: &str, head: &[u8], media: Result<&str, &str>) {
        assert_eq!(media_of(name, head), media, "{name}");
    }

    #[test]
    fn what_a_file_is_is_found_in_it() {
        check("gate.jpg", &[0xFF, 0xD8, 0xFF, 0xE0, 0, 16], Ok("image/jpeg"));
        check("gate.jpg", b"\x89PNG\r\n\x1a\n", Ok("image/png"));
        check("plan", b"%PDF-1.7 ...", Ok(PDF));
        check("notes.txt", "Käse, walked twice".as_bytes(), Ok(TEXT));
        check("call.mp3", b"ID3\x04\0\0\0\0\0\0", Ok("audio/mpeg"));
        check("page.html", b"<!DOCTYPE html><script>alert(1)</script>", Ok(TEXT));
        check("drawing.svg", b"<svg xmlns='http://www.w3.org/2000/svg' onload='x()'/>", Ok(TEXT));
        check("run.exe", b"MZ\x90\0\x03\0\0\0\x04\0\0\0", Ok("application/vnd.microsoft.portable-executable"));
        check("data.bin", &[0, 1, 2, 3], Ok(ANYTHING));
        check("empty.txt", b"", Ok(TEXT));
        check("cut.txt", &"é".as_bytes()[..1], Ok(TEXT));
    }

    #[test]
    fn a_name_that_promises_something_else_is_not_taken() {
        check("gate.pdf", b"MZ\x90\0\x03\0\0\0\x04\0\0\0", Err("a PDF"));
        check("gate.JPG", b"%PDF-1.4", Err("a picture"));
        check("notes.txt", &[0xFF, 0xFE, 0, 0, 1], Err("a text"));
        check("film.mp4", b"hello", Err("a film"));
        check("sheet.xlsx", b"a;b;c", Err("a document or an archive"));
    }

    #[test]
    fn only_what_is_on_the_list_is_shown_in_place() {
        assert!(is_shown("image/png") && is_shown("audio/mpeg") && is_shown(PDF) && is_shown(TEXT));
        assert!(!is_shown("text/html") && !is_shown("image/svg+xml") && !is_shown(ANYTHING) && !is_shown("application/zip"));
    }
}
