//! This program run again, for files that are believed nothing: its memory and time are bounded, and whatever such a file claims, only
//! that process can fall over.

use std::{
    io::{BufReader, Read},
    path::Path,
    process::Stdio,
};
use tokio::io::{AsyncReadExt, AsyncWriteExt, Take};
use tokio::process::ChildStdout;
use tokio_util::io::SyncIoBridge;

/// Memory of such a process, in bytes.
const MEMORY: u64 = 1_500_000_000;

/// What it answers, as it comes.
pub type Answer = BufReader<SyncIoBridge<Take<ChildStdout>>>;

/// Gives bytes to the program run again, and reads what it answers, at most so many bytes, as they come. None: it fell over.
///
/// # Errors
/// It could not be run.
pub async fn run<T: Send + 'static>(
    program: &Path,
    args: &[&str],
    bytes: &[u8],
    most: u64,
    read: impl FnOnce(Answer) -> T + Send + 'static,
) -> std::io::Result<Option<T>> {
    let mut child = tokio::process::Command::new(program)
        .args(args)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .kill_on_drop(true)
        .spawn()?;
    let mut input = child.stdin.take().ok_or_else(|| std::io::Error::other("no way in"))?;
    let output = child.stdout.take().ok_or_else(|| std::io::Error::other("no way out"))?;
    // What it answers is taken apart as it comes: kept whole it would be larger than what is made of it.
    let output = SyncIoBridge::new(output.take(most));
    let told = tokio::task::spawn_blocking(move || read(BufReader::with_capacity(1 << 20, output)));
    // A reader that fell over hears no more; what it answered says why.
    let _ = input.write_all(bytes).await;
    std::mem::drop(input);
    let told = told.await?;
    let ended = child.wait().await?;
    Ok(ended.success().then_some(told))
}

/// What the other process does first: bounds itself, and reads what it is given.
///
/// # Errors
/// It can't be bounded, or is given nothing.
pub fn given(most: usize, seconds: impl FnOnce(usize) -> u64) -> std::io::Result<Vec<u8>> {
    rlimit::Resource::AS.set(MEMORY, MEMORY)?;
    let mut bytes = Vec::new();
    std::io::stdin().take(most as u64).read_to_end(&mut bytes)?;
    let seconds = seconds(bytes.len());
    rlimit::Resource::CPU.set(seconds, seconds)?;
    Ok(bytes)
}
