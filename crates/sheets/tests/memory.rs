//! A program of its own, since it looks at how much memory it ever had.

#![allow(clippy::cast_possible_truncation, clippy::cast_possible_wrap, clippy::cast_sign_loss, reason = "small figures of its own")]

use westerfall_core::import::Raw;
use westerfall_sheets::read;

/// The most that this program ever had in memory, in bytes.
fn most() -> u64 {
    let status = std::fs::read_to_string("/proc/self/status").unwrap();
    let line = status.lines().find_map(|line| line.strip_prefix("VmHWM:")).unwrap();
    line.trim().trim_end_matches(" kB").parse::<u64>().unwrap() * 1024
}

#[test]
fn a_file_of_separators_costs_little_more_than_itself() {
    let commas = format!("a,b\n{}\nc,d\n", ",".repeat(40_000_000));
    let before = most();
    let book = read(commas.as_bytes(), None).unwrap();
    let rows: Vec<Vec<String>> = book.sheet.rows.iter().map(|row| row.iter().map(Raw::words).collect()).collect();
    assert_eq!(rows, [vec!["a", "b"], vec![], vec!["c", "d"]]);
    assert!(most() - before < 20_000_000, "{} bytes more", most() - before);
    let quotes = format!("a,b\n{}", "\"\",".repeat(10_000_000));
    let before = most();
    assert_eq!(read(quotes.as_bytes(), None).unwrap().sheet.rows[0].len(), 2);
    assert!(most() - before < 20_000_000, "{} bytes more", most() - before);
}
