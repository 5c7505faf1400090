//! Files that people send: what they are is found by their content, not by their name. Pictures are drawn anew, which
//! leaves out where they were taken and anything else hidden in them, but for fields that keep originals.

use crate::{
    problem::Problem,
    refusal::Refusal,
    rooms::{MEGAPIXELS, Rooms},
    secrets::random_hex,
};
use image::{DynamicImage, ImageDecoder, ImageFormat, ImageReader, Limits, codecs::jpeg::JpegEncoder, imageops::FilterType};
use std::io::Cursor;
use westerfall_core::{dataset::Dataset, id::FieldId, value::Attachment};
use westerfall_store::Files;

/// Largest file, in bytes.
pub const FILE_LIMIT: usize = 12 * 1024 * 1024;
/// Longest side of a kept picture, in pixels.
const LONGEST: u32 = 2_400;
/// Longest side of a small picture, in pixels.
const SMALL: u32 = 360;

/// A file that may be kept.
#[derive(Clone, Debug)]
pub struct Upload {
    pub attachment: Attachment,
    pub bytes: Vec<u8>,
    /// A small picture of it, as JPEG.
    pub small: Option<Vec<u8>>,
}

/// The id under which a file's small picture is kept.
pub fn small_id(id: &str) -> String {
    format!("{id}-small")
}

/// How a picture is kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Keep {
    /// Drawn anew: with what one sees, and nothing else.
    Seen,
    /// The same, where nothing but a picture is taken.
    Picture,
    /// As it came, with where and when it was taken.
    Original,
}

impl Keep {
    /// How a field keeps pictures.
    pub fn of(ds: &Dataset, field: FieldId) -> Self {
        if ds.field(field).is_some_and(|(_, def)| def.originals) { Keep::Original } else { Keep::Seen }
    }
}

/// Looks into a file.
///
/// # Errors
/// If it is too large, or neither a picture that can be drawn nor a PDF.
pub async fn examine(rooms: &Rooms, name: String, bytes: Vec<u8>, keep: Keep) -> Result<Upload, Problem> {
    if bytes.len() > FILE_LIMIT {
        let limit = FILE_LIMIT / 1024 / 1024;
        return Err(Refusal::FileTooLarge.saying(format!("“{name}” is too large: a file has at most {limit} MB.")));
    }
    drawn(rooms, name, bytes, keep).await
}

/// Looks into a picture or a PDF of any size.
///
/// # Errors
/// It is neither, or has too many pixels.
pub async fn drawn(rooms: &Rooms, name: String, bytes: Vec<u8>, keep: Keep) -> Result<Upload, Problem> {
    let megapixels = megapixels(&bytes);
    if megapixels > MEGAPIXELS {
        let message = format!("“{name}” has too many pixels: {MEGAPIXELS} million at most. Make it smaller, and send it again.");
        return Err(Refusal::TooManyPixels.saying(message));
    }
    rooms.draw(megapixels, move || look_into(&name, bytes, keep)).await?
}

/// How many million pixels a picture says it has, rounded up; of what is no picture, 1.
fn megapixels(bytes: &[u8]) -> u32 {
    let size = ImageReader::new(Cursor::new(bytes)).with_guessed_format().ok().and_then(|reader| reader.into_dimensions().ok());
    let pixels = size.map_or(1, |(width, height)| u64::from(width) * u64::from(height));
    u32::try_from(pixels.div_ceil(1_000_000)).unwrap_or(u32::MAX).max(1)
}

fn look_into(name: &str, bytes: Vec<u8>, keep: Keep) -> Result<Upload, Problem> {
    let id = random_hex(16);
    let attachment = |media: &str, size: usize| Attachment { id: id.clone(), name: tidy(name), media: media.to_owned(), size: size as u64 };
    if bytes.starts_with(b"%PDF-") && keep != Keep::Picture {
        return Ok(Upload { attachment: attachment("application/pdf", bytes.len()), bytes, small: None });
    }
    let refused = || {
        let or_else = if keep == Keep::Picture { "" } else { " or a PDF" };
        let message = format!("“{name}” can’t be taken. Send a picture (JPEG, PNG, WebP or GIF){or_else}.");
        Refusal::FileNotTaken.saying(message)
    };
    let picture = draw(&bytes).ok_or_else(refused)?;
    if keep == Keep::Original {
        let media = image::guess_format(&bytes).map_err(|_| refused())?.to_mime_type();
        return Ok(Upload { attachment: attachment(media, bytes.len()), bytes, small: small(&picture) });
    }
    kept(name, &shrunk(picture, LONGEST)).ok_or_else(refused)
}

/// Only the last part of a name, without what could be taken for a path or a header.
pub fn tidy(name: &str) -> String {
    let last = name.rsplit(['/', '\\']).next().unwrap_or_default();
    let name: String = last.chars().filter(|c| !c.is_control() && *c != '"').take(120).collect();
    if name.is_empty() { "file".into() } else { name }
}

fn draw(bytes: &[u8]) -> Option<DynamicImage> {
    let mut reader = ImageReader::new(Cursor::new(bytes)).with_guessed_format().ok()?;
    // A small file may claim to be a huge picture.
    let mut limits = Limits::default();
    limits.max_image_width = Some(20_000);
    limits.max_image_height = Some(20_000);
    limits.max_alloc = Some(300 * 1024 * 1024);
    reader.limits(limits);
    let mut decoder = reader.into_decoder().ok()?;
    let orientation = decoder.orientation().ok();
    let mut picture = DynamicImage::from_decoder(decoder).ok()?;
    if let Some(orientation) = orientation {
        picture.apply_orientation(orientation);
    }
    Some(picture)
}

/// A picture, turned to the right by so many quarters.
///
/// # Errors
/// It can't be drawn.
pub async fn turned(rooms: &Rooms, name: String, bytes: Vec<u8>, quarters: u8) -> Result<Upload, Problem> {
    let turn = move || {
        let refused = || Refusal::FileNotTaken.saying(format!("“{name}” can’t be turned."));
        let picture = draw(&bytes).ok_or_else(refused)?;
        let picture = match quarters % 4 {
            1 => picture.rotate90(),
            2 => picture.rotate180(),
            3 => picture.rotate270(),
            _ => picture,
        };
        kept(&name, &picture).ok_or_else(refused)
    };
    rooms.draw(MEGAPIXELS / 2, turn).await?
}

/// A picture as it is kept, with a small one of it.
fn kept(name: &str, picture: &DynamicImage) -> Option<Upload> {
    let media = if picture.color().has_alpha() { ImageFormat::Png } else { ImageFormat::Jpeg };
    let bytes = encoded(picture, media)?;
    let attachment = Attachment { id: random_hex(16), name: tidy(name), media: media.to_mime_type().to_owned(), size: bytes.len() as u64 };
    Some(Upload { attachment, bytes, small: small(picture) })
}

fn shrunk(picture: DynamicImage, longest: u32) -> DynamicImage {
    if picture.width().max(picture.height()) <= longest { picture } else { picture.resize(longest, longest, FilterType::Triangle) }
}

/// Longest side of a printed picture, in pixels: a page's width at 200 to an inch.
const PRINTED: u32 = 1_600;

/// A picture as it is set on paper, as JPEG; nothing where it can't be drawn.
///
/// # Errors
/// Too many draw, for too long.
pub async fn printed(rooms: &Rooms, bytes: Vec<u8>) -> Result<Option<Vec<u8>>, Problem> {
    on_paper(rooms, bytes, PRINTED).await
}

/// The same as it stands in a cell of a workbook.
///
/// # Errors
/// Too many draw, for too long.
pub async fn filed(rooms: &Rooms, bytes: Vec<u8>) -> Result<Option<Vec<u8>>, Problem> {
    on_paper(rooms, bytes, SMALL).await
}

async fn on_paper(rooms: &Rooms, bytes: Vec<u8>, longest: u32) -> Result<Option<Vec<u8>>, Problem> {
    let megapixels = megapixels(&bytes);
    if bytes.is_empty() || megapixels > MEGAPIXELS {
        return Ok(None);
    }
    let draw = move || {
        let picture = shrunk(draw(&bytes)?, longest);
        // What can be seen through lies on the paper's white.
        encoded(&DynamicImage::ImageRgb8(on_white(&picture)), ImageFormat::Jpeg)
    };
    rooms.draw(megapixels, draw).await
}

fn on_white(picture: &DynamicImage) -> image::RgbImage {
    let mut white = image::RgbaImage::from_pixel(picture.width(), picture.height(), image::Rgba([255, 255, 255, 255]));
    image::imageops::overlay(&mut white, &picture.to_rgba8(), 0, 0);
    DynamicImage::ImageRgba8(white).to_rgb8()
}

/// A small picture, roughly drawn: a fourth of the work of a fine one, and nobody sees the difference at that size.
fn small(picture: &DynamicImage) -> Option<Vec<u8>> {
    let fits = picture.width().max(picture.height()) <= SMALL;
    let drawn = if fits { picture.to_rgb8() } else { picture.thumbnail(SMALL, SMALL).to_rgb8() };
    encoded(&DynamicImage::ImageRgb8(drawn), ImageFormat::Jpeg)
}

fn encoded(picture: &DynamicImage, format: ImageFormat) -> Option<Vec<u8>> {
    let mut bytes = Vec::new();
    match format {
        ImageFormat::Jpeg => picture.to_rgb8().write_with_encoder(JpegEncoder::new_with_quality(&mut bytes, 85)).ok()?,
        other => picture.write_to(&mut Cursor::new(&mut bytes), other).ok()?,
    }
    Some(bytes)
}

/// Keeps the bytes of examined files.
pub async fn keep(files: &Files, uploads: &[Upload]) -> Result<(), Problem> {
    for upload in uploads {
        files.put(&upload.attachment.id, upload.bytes.clone()).await?;
        if let Some(small) = &upload.small {
            files.put(&small_id(&upload.attachment.id), small.clone()).await?;
        }
    }
    Ok(())
}

/// Takes kept files away again, because what they belong to was refused after all.
pub async fn forget(files: &Files, uploads: &[Upload]) {
    for upload in uploads {
        drop_file(files, &upload.attachment.id).await;
    }
}

/// Takes a file's bytes away, with its small picture's.
pub async fn drop_file(files: &Files, id: &str) {
    for id in [id.to_owned(), small_id(id)] {
        if let Err(error) = files.drop(&id).await {
            tracing::warn!(%error, id, "a file could not be taken away");
        }
    }
}
