//! What sort of file it is, by its content: a name says nothing.

use crate::ReadFault;
use std::io::{Cursor, Read};

/// Sorts of files that can be read.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Sort {
    Text,
    Json,
    Xlsx,
    Ods,
}

/// Most bytes that a workbook may say it unpacks to.
const UNPACKED_LIMIT: u64 = 1_500_000_000;
/// Most parts of a workbook.
const PARTS_LIMIT: usize = 10_000;

impl Sort {
    /// Whether its reader believes what the file says of itself, so that it has to be fenced in.
    pub fn needs_own_process(self) -> bool {
        self != Sort::Text
    }
}

/// What sort of file these bytes are.
///
/// # Errors
/// What it is instead of a table.
pub fn sort_of(bytes: &[u8]) -> Result<Sort, ReadFault> {
    let not = |what: &str| Err(ReadFault::NotATable(what.into()));
    match bytes {
        [] => Err(ReadFault::Empty),
        [b'P', b'K', 3, 4, ..] => workbook(bytes),
        [b'P', b'K', 5, 6, ..] => not("an empty archive"),
        [0xD0, 0xCF, 0x11, 0xE0, ..] => {
            Err(if contains_wide(bytes, "EncryptedPackage") { ReadFault::Protected } else { ReadFault::OldWorkbook })
        }
        [b'%', b'P', b'D', b'F', ..] => not("a PDF"),
        [0x89, b'P', b'N', b'G', ..] | [0xFF, 0xD8, 0xFF, ..] | [b'G', b'I', b'F', b'8', ..] => not("a picture"),
        [0x1F, 0x8B, ..] | [b'7', b'z', 0xBC, 0xAF, ..] | [b'R', b'a', b'r', b'!', ..] => not("an archive"),
        [b'<', b'!' | b'h' | b'H' | b'?', ..] => not("a web page"),
        [0xFF, 0xFE, ..] | [0xFE, 0xFF, ..] => Ok(Sort::Text),
        _ if bytes.iter().take(8_192).any(|b| *b == 0) => not("a program or another binary file"),
        _ => {
            let text = bytes.strip_prefix(&[0xEF, 0xBB, 0xBF]).unwrap_or(bytes);
            let first = text.iter().find(|b| !b.is_ascii_whitespace());
            Ok(if matches!(first, Some(b'[' | b'{')) { Sort::Json } else { Sort::Text })
        }
    }
}

/// What sort of workbook a zip archive is.
fn workbook(bytes: &[u8]) -> Result<Sort, ReadFault> {
    let broken = |_| ReadFault::Broken("its archive can’t be opened".into());
    let mut archive = zip::ZipArchive::new(Cursor::new(bytes)).map_err(broken)?;
    let sizes = (0..archive.len().min(PARTS_LIMIT)).map(|at| archive.by_index_raw(at).map_or(0, |part| part.size()));
    if sizes.sum::<u64>() > UNPACKED_LIMIT || archive.len() > PARTS_LIMIT {
        return Err(ReadFault::Bomb);
    }
    if archive.index_for_name("xl/workbook.xml").is_some() || archive.index_for_name("xl/workbook.bin").is_some() {
        return Ok(Sort::Xlsx);
    }
    let mut part = |name: &str, most: u64| {
        let mut text = String::new();
        let read = archive.by_name(name).ok().and_then(|file| file.take(most).read_to_string(&mut text).ok());
        read.map(|_| text)
    };
    if part("mimetype", 200).is_some_and(|kind| kind.starts_with("application/vnd.oasis.opendocument.spreadsheet")) {
        let manifest = part("META-INF/manifest.xml", 2_000_000).unwrap_or_default();
        return if manifest.contains("encryption-data") { Err(ReadFault::Protected) } else { Ok(Sort::Ods) };
    }
    Err(ReadFault::NotATable("an archive or a document".into()))
}

/// Whether a text stands in the bytes as UTF-16, as old office files write names.
fn contains_wide(bytes: &[u8], text: &str) -> bool {
    let wide: Vec<u8> = text.encode_utf16().flat_map(u16::to_le_bytes).collect();
    bytes.windows(wide.len()).any(|window| window == wide)
}
