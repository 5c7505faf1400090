//! Says of each file of a folder what its columns are guessed as, what would be refused, and what reading it took: `bin/check-files`.

use std::{path::PathBuf, time::Instant};
use westerfall_core::access::Asker;
use westerfall_sheets::{Into, report};

/// The most memory that this program has held so far, in kB; none where the system does not say.
fn peak() -> Option<u64> {
    let status = std::fs::read_to_string("/proc/self/status").ok()?;
    status.lines().find_map(|line| line.strip_prefix("VmHWM:"))?.trim().trim_end_matches(" kB").parse().ok()
}

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let folder = std::env::args().nth(1).ok_or("Say which folder: bin/check-files FOLDER")?;
    let mut files: Vec<PathBuf> = std::fs::read_dir(&folder)?.flatten().map(|entry| entry.path()).filter(|path| path.is_file()).collect();
    files.sort();
    let dataset = westerfall_demo::scaled::dataset(jiff::Timestamp::now(), 40);
    let clock = westerfall_demo::scaled::clock(jiff::Timestamp::now());
    let steward = Asker::Person(westerfall_core::id::PersonId::FIRST);
    for file in files {
        let name = file.file_stem().unwrap_or_default().to_string_lossy().into_owned();
        let bytes = std::fs::read(&file)?;
        let begun = Instant::now();
        let told = report(&bytes, &name, Into { dataset: &dataset, asker: steward, clock: &clock });
        let memory = peak().map_or_else(String::new, |kb| format!(", {} MB held at most so far", kb / 1_024));
        println!("== {} ({} kB, {} ms{memory})\n{told}", file.display(), bytes.len() / 1_024, begun.elapsed().as_millis());
    }
    Ok(())
}
