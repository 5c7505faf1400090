//! Files that come in pieces: so that one that is large, or comes over a poor line, need not come twice. How far it has come is in the
//! database, the pieces are in the file store; any server takes the next one.

use crate::{
    app::App,
    pictures::{self, Keep, Upload},
    problem::Problem,
    refusal::Refusal,
    secrets::random_hex,
    sorts,
};
use jiff::Timestamp;
use westerfall_core::{fault::Fault, id::PersonId, value::Attachment};
use westerfall_store::{Arriving, Files};

/// Size of a piece, in bytes; only the last one is smaller.
pub const PIECE: u64 = 1 << 20;
/// Largest file, in bytes.
pub const LARGEST: u64 = 100 * 1024 * 1024;
/// Largest picture that is drawn anew, in bytes.
const LARGEST_PICTURE: u64 = 40 * 1024 * 1024;
/// Most files of one person that may be on their way at once.
const AT_ONCE: i64 = 40;

/// A file that is here whole, and may be kept.
pub struct Arrived {
    token: String,
    pub attachment: Attachment,
    bytes: Bytes,
}

impl Arrived {
    /// A picture that was made here.
    pub fn drawn(upload: Upload) -> Self {
        Self { token: String::new(), attachment: upload.attachment.clone(), bytes: Bytes::Drawn(upload) }
    }
}

enum Bytes {
    /// Of a picture, which was drawn.
    Drawn(Upload),
    /// Of anything else, as its pieces came.
    AsCame(Vec<String>),
}

fn gone() -> Problem {
    Fault::not_found("file").into()
}

fn piece_id(token: &str, number: u64) -> String {
    format!("{token}.{number}")
}

/// The ids of the first so many bytes' pieces.
fn piece_ids(token: &str, bytes: u64) -> Vec<String> {
    (0..bytes.div_ceil(PIECE)).map(|number| piece_id(token, number)).collect()
}

/// Begins a file, and gives the token under which its pieces are sent.
///
/// # Errors
/// It is too large, or too many are on their way.
pub async fn begin(app: &App, owner: PersonId, name: &str, size: u64) -> Result<String, Problem> {
    if size > LARGEST {
        let most = LARGEST / 1024 / 1024;
        return Err(Refusal::FileTooLarge.saying(format!("“{name}” is too large: a file has at most {most} MB.")));
    }
    if size == 0 {
        return Err(Refusal::FileNotTaken.saying(format!("“{name}” is empty. Choose another file.")));
    }
    if app.store.uploads_of(owner).await? >= AT_ONCE {
        return Err(Refusal::TooOften.saying(format!("At most {AT_ONCE} files can be on their way at once. Wait until some are here.")));
    }
    let token = format!("incoming-{}", random_hex(16));
    app.store.begin_upload(&token, owner, name, size, Timestamp::now()).await?;
    Ok(token)
}

/// How far a file has come.
///
/// # Errors
/// Nobody sends it any more, or it is somebody else's.
pub async fn how_far(app: &App, owner: PersonId, token: &str) -> Result<Arriving, Problem> {
    app.store.arriving(token, owner).await?.ok_or_else(gone)
}

/// Takes the piece that begins at a place, and says how much of the file is here then: where the next one begins. A piece that is here
/// already, or does not go on from what is, changes nothing.
///
/// # Errors
/// It is no piece of this file, or the first of one that is not what its name says: then it is dropped.
pub async fn take(app: &App, owner: PersonId, token: &str, at: u64, bytes: Vec<u8>) -> Result<u64, Problem> {
    let file = how_far(app, owner, token).await?;
    if at != file.got() {
        return Ok(file.got());
    }
    let length = bytes.len() as u64;
    if length != PIECE.min(file.size() - at) {
        return Err(Refusal::WrongShape.saying("This is no piece of the file. Send it again from the beginning."));
    }
    if at == 0
        && let Err(refused) = media_of(&file.name, &bytes)
    {
        drop(app, token, 0).await;
        return Err(refused);
    }
    app.files.put(&piece_id(token, at / PIECE), bytes).await?;
    let here = at + length;
    let went_on = app.store.got_piece(token, at, here, Timestamp::now()).await?;
    if went_on { Ok(here) } else { Ok(how_far(app, owner, token).await?.got()) }
}

/// Looks into a file that is here whole.
///
/// # Errors
/// It is not whole, is not what its name says, or can't be drawn.
pub async fn examine(app: &App, owner: PersonId, token: &str, keep: Keep) -> Result<Arrived, Problem> {
    let file = how_far(app, owner, token).await?;
    if file.got() != file.size() {
        return Err(Refusal::NoFile.saying(format!("“{}” is not here whole. Send it again.", file.name)));
    }
    let pieces = piece_ids(token, file.size());
    let head = app.files.get(&pieces[0]).await?.ok_or_else(gone)?;
    let media = media_of(&file.name, &head)?;
    let token = token.to_owned();
    if !sorts::is_picture(media) {
        let attachment = Attachment { id: random_hex(16), name: pictures::tidy(&file.name), media: media.to_owned(), size: file.size() };
        return Ok(Arrived { token, attachment, bytes: Bytes::AsCame(pieces) });
    }
    if file.size() > LARGEST_PICTURE {
        let most = LARGEST_PICTURE / 1024 / 1024;
        return Err(Refusal::FileTooLarge.saying(format!("“{}” is too large for a picture, which has at most {most} MB.", file.name)));
    }
    let mut bytes = head;
    for piece in &pieces[1..] {
        bytes.extend(app.files.get(piece).await?.ok_or_else(gone)?);
    }
    let drawn = pictures::drawn(&app.rooms, file.name, bytes, keep).await?;
    Ok(Arrived { token, attachment: drawn.attachment.clone(), bytes: Bytes::Drawn(drawn) })
}

fn media_of(name: &str, head: &[u8]) -> Result<&'static str, Problem> {
    sorts::media_of(name, &head[..head.len().min(sorts::HEAD)]).map_err(|what| {
        let message = format!("“{name}” is called {what}, and is something else inside. Save it anew as what it is, and send it again.");
        Refusal::FileNotTaken.saying(message)
    })
}

/// Looks into a file of any sort that is in memory.
///
/// # Errors
/// It is not what its name says, or can't be drawn.
pub async fn examine_whole(app: &App, name: String, bytes: Vec<u8>, keep: Keep) -> Result<Upload, Problem> {
    let media = media_of(&name, &bytes)?;
    if sorts::is_picture(media) {
        return pictures::drawn(&app.rooms, name, bytes, keep).await;
    }
    let attachment = Attachment { id: random_hex(16), name: pictures::tidy(&name), media: media.to_owned(), size: bytes.len() as u64 };
    Ok(Upload { attachment, bytes, small: None })
}

/// Keeps the bytes of files under the ids of their attachments.
///
/// # Errors
/// The file store does not answer.
pub async fn keep(files: &Files, arrived: &[Arrived]) -> Result<(), Problem> {
    for file in arrived {
        match &file.bytes {
            Bytes::Drawn(upload) => pictures::keep(files, std::slice::from_ref(upload)).await?,
            Bytes::AsCame(pieces) => files.join(pieces, &file.attachment.id).await?,
        }
    }
    Ok(())
}

/// Takes kept files away again, because what they belong to was refused after all. Their pieces stay, and may be put elsewhere.
pub async fn forget(files: &Files, arrived: &[Arrived]) {
    for file in arrived {
        pictures::drop_file(files, &file.attachment.id).await;
    }
}

/// The pieces of files that are kept are needed no more.
pub async fn done(app: &App, arrived: &[Arrived]) {
    for file in arrived {
        drop(app, &file.token, LARGEST).await;
    }
}

/// Takes away what is here of a file.
pub async fn drop(app: &App, token: &str, got: u64) {
    drop_pieces(&app.files, token, got).await;
    // What can't be forgotten now is with the old ones.
    let _ = app.store.drop_upload(token).await;
}

/// Takes away the pieces of the first so many bytes, and one more, which may be here without being noted.
pub async fn drop_pieces(files: &Files, token: &str, got: u64) {
    for piece in piece_ids(token, got.saturating_add(PIECE)) {
        match files.size(&piece).await {
            Ok(Some(_)) => pictures::drop_file(files, &piece).await,
            _ => return,
        }
    }
}
