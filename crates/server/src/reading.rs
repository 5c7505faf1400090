//! Reads what stands in files once they are here, so that they are found by it: in a process of its own for each, since files lie.

use crate::{apart, app::App};
use futures::FutureExt;
use jiff::Timestamp;
use std::{
    io::{Read, Write},
    panic::AssertUnwindSafe,
    time::Duration,
};
use westerfall_store::{Stored, Unread};

/// Largest file that is read, in bytes.
const LARGEST: usize = 64 * 1024 * 1024;
/// Seconds of computing that one file may take, and how long it is waited for.
const SECONDS: u64 = 20;
const PATIENCE: Duration = Duration::from_secs(40);
/// Most bytes that are taken of its text.
const MOST: u64 = 1_000_000;
/// How often it is looked whether there is something to read.
const EVERY: Duration = Duration::from_secs(2);

/// Reads from now on.
pub fn start(app: App) {
    tokio::spawn(async move {
        loop {
            match AssertUnwindSafe(read_next(&app)).catch_unwind().await {
                Ok(Ok(true)) => continue,
                Ok(Ok(false)) => {}
                Ok(Err(error)) => tracing::warn!(%error, "no file could be read for what stands in it"),
                Err(_) => tracing::error!("the reader of files fell over"),
            }
            tokio::time::sleep(EVERY).await;
        }
    });
}

/// Reads one file that nobody has read; false where there is none.
async fn read_next(app: &App) -> Stored<bool> {
    let Some(file) = app.store.claim_unread(Timestamp::now()).await? else { return Ok(false) };
    let text = words_of(app, &file).await?;
    app.store.put_text(&file, text.as_deref()).await?;
    Ok(true)
}

/// What stands in a file; none where it can't be read, is too large or takes too long.
async fn words_of(app: &App, file: &Unread) -> Stored<Option<String>> {
    if usize::try_from(file.size).is_ok_and(|size| size > LARGEST) {
        return Ok(None);
    }
    let Some(bytes) = app.files.get(&file.id).await? else { return Ok(None) };
    let read = |mut answer: apart::Answer| {
        let mut text = String::new();
        answer.read_to_string(&mut text).ok().map(|_| text)
    };
    let told = apart::run(&app.settings.program, &["--read-words"], &bytes, MOST, read);
    match tokio::time::timeout(PATIENCE, told).await {
        Ok(Ok(told)) => Ok(told.flatten().filter(|text| !text.is_empty())),
        Ok(Err(error)) => {
            tracing::warn!(%error, "a file could not be read apart");
            Ok(None)
        }
        Err(_) => Ok(None),
    }
}

/// What the other process does: bounds itself, reads a file from its input, answers what stands in it.
///
/// # Errors
/// It can't be bounded, or nobody hears it.
pub fn read_words() -> std::io::Result<()> {
    let bytes = apart::given(LARGEST, |_| SECONDS)?;
    let text = std::panic::catch_unwind(|| westerfall_sheets::words_of(&bytes)).ok().flatten().unwrap_or_default();
    let most = text.floor_char_boundary(usize::try_from(MOST).unwrap_or(usize::MAX));
    std::io::stdout().write_all(&text.as_bytes()[..most])
}
