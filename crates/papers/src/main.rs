//! Sets papers: what core says is printed becomes pages. A program of its own, which the server runs apart and bounds: it is given
//! jobs one after the other on its standard input and answers each on its standard output, until there are no more.
//!
//! A job is one line of JSON ([`Job`]) and then the bytes of its pictures; an answer is one line of JSON ([`Answer`]) and then the bytes
//! of its parts.

mod job;
mod press;

use job::{Answer, Job};
use press::Press;
use std::io::{BufRead, Read, Write};

/// Memory of this process, in bytes.
const MEMORY: u64 = 2_000_000_000;
/// Longest line that says what is to be set, in bytes, and most bytes of pictures.
const LONGEST: u64 = 200_000_000;

fn main() -> std::io::Result<()> {
    if std::env::args().any(|argument| argument == "--version") {
        println!("westerfall-papers {}", env!("CARGO_PKG_VERSION"));
        return Ok(());
    }
    rlimit::Resource::AS.set(MEMORY, MEMORY)?;
    let mut press = Press::new();
    let (mut input, mut output) = (std::io::stdin().lock(), std::io::stdout().lock());
    while let Some((job, files)) = next(&mut input)? {
        let (answer, parts) = match press.set(job, files) {
            Ok((answer, parts)) => (answer, parts),
            Err(fault) => (Answer { fault: Some(fault), ..Answer::default() }, Vec::new()),
        };
        let answer = Answer { parts: parts.iter().map(Vec::len).collect(), ..answer };
        serde_json::to_writer(&mut output, &answer)?;
        output.write_all(b"\n")?;
        for part in parts {
            output.write_all(&part)?;
        }
        output.flush()?;
    }
    Ok(())
}

/// The next job with its pictures; none where there are no more.
fn next(input: &mut impl BufRead) -> std::io::Result<Option<(Job, Vec<Vec<u8>>)>> {
    let mut line = Vec::new();
    input.take(LONGEST).read_until(b'\n', &mut line)?;
    if line.is_empty() {
        return Ok(None);
    }
    let job: Job = serde_json::from_slice(&line)?;
    let mut files = Vec::with_capacity(job.files.len());
    for length in &job.files {
        let mut bytes = Vec::new();
        input.take(*length as u64).read_to_end(&mut bytes)?;
        files.push(bytes);
    }
    Ok(Some((job, files)))
}
