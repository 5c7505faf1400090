//! Whether a dashboard may stand as it is. What its tiles name is asked when they are looked at: trackers change under it.

use super::{Dashboard, DashboardOpen, Line, LineOf, Statement, TileShows};
use crate::{
    checks::check_name,
    fault::{Fault, FaultKind},
    people::People,
};
use std::collections::BTreeSet;

/// Most tiles of a dashboard, most lines of a statement, most characters of words, most records of a list.
const MOST_TILES: usize = 40;
const MOST_LINES: usize = 30;
const MOST_WORDS: usize = 200;
const MOST_TEXT: usize = 4_000;
const MOST_LISTED: u16 = 100;
const MOST_COLUMNS: u8 = 3;
/// Most tables for which a page has conditions.
const MOST_ONLY: usize = 20;

/// What of a dashboard can't stand.
pub fn check_dashboard(board: &Dashboard, people: &People) -> Vec<Fault> {
    let mut faults: Vec<Fault> = check_name(&board.name).err().into_iter().collect();
    let too = |message: String, at: String| Fault::new(FaultKind::TooLong, message).at(at);
    if board.about.chars().count() > MOST_WORDS {
        faults.push(too(format!("What a dashboard is for takes at most {MOST_WORDS} characters."), "/about".into()));
    }
    if let DashboardOpen::Groups(groups) = &board.open
        && groups.iter().any(|group| people.group(*group).is_none())
    {
        faults.push(Fault::not_found("group").at("/open"));
    }
    if !(1..=MOST_COLUMNS).contains(&board.columns) {
        let message = format!("A dashboard has from 1 to {MOST_COLUMNS} columns.");
        faults.push(Fault::new(FaultKind::BadRule, message).at("/columns"));
    }
    if board.tiles.len() > MOST_TILES {
        faults.push(too(format!("A dashboard has at most {MOST_TILES} tiles. Begin another one."), "/tiles".into()));
    }
    if board.only.len() > MOST_ONLY {
        faults.push(too(format!("A page has conditions for at most {MOST_ONLY} tables."), "/only".into()));
    }
    let of: BTreeSet<_> = board.only.iter().map(|one| (one.tracker, one.table)).collect();
    if of.len() != board.only.len() {
        faults.push(Fault::new(FaultKind::BadRule, "A page has one condition for each table: put both into one.").at("/only"));
    }
    let keys: BTreeSet<u32> = board.tiles.iter().map(|tile| tile.key).collect();
    if keys.len() != board.tiles.len() {
        faults.push(Fault::new(FaultKind::BadRule, "Two tiles go by the same number.").at("/tiles"));
    }
    for (place, tile) in board.tiles.iter().enumerate().take(MOST_TILES) {
        let at = |of: &str| format!("/tiles/{place}{of}");
        if tile.title.chars().count() > MOST_WORDS {
            faults.push(too(format!("A tile’s title takes at most {MOST_WORDS} characters."), at("/title")));
        }
        if !(1..=MOST_COLUMNS).contains(&tile.width) {
            faults.push(Fault::new(FaultKind::BadRule, format!("A tile stands over 1 to {MOST_COLUMNS} columns.")).at(at("/width")));
        }
        match &tile.shows {
            TileShows::Text { text } if text.chars().count() > MOST_TEXT => {
                faults.push(too(format!("A text takes at most {MOST_TEXT} characters."), at("/shows/text")));
            }
            TileShows::Text { .. } => {}
            TileShows::Statement(statement) => {
                faults.extend(check_statement(statement).into_iter().map(|fault| fault.at(at("/shows"))));
            }
            TileShows::View(view) if !(1..=MOST_LISTED).contains(&view.most) => {
                faults.push(Fault::new(FaultKind::BadRule, format!("From 1 to {MOST_LISTED} are shown.")).at(at("/shows/most")));
            }
            TileShows::View(_) => {}
        }
    }
    faults
}

/// What of a statement can't stand: a line figures over lines above it alone.
pub(super) fn check_statement(statement: &Statement) -> Vec<Fault> {
    let mut faults = Vec::new();
    if statement.lines.len() > MOST_LINES {
        faults.push(Fault::new(FaultKind::TooLong, format!("A statement has at most {MOST_LINES} lines.")).at("/lines"));
    }
    for (place, Line { words, of, .. }) in statement.lines.iter().enumerate().take(MOST_LINES) {
        if words.chars().count() > MOST_WORDS {
            let message = format!("The words of a line take at most {MOST_WORDS} characters.");
            faults.push(Fault::new(FaultKind::TooLong, message).at(format!("/lines/{place}/words")));
        }
        let above = match of {
            LineOf::Records(_) | LineOf::Total => true,
            LineOf::Share { part: one, whole: other } | LineOf::Per { what: one, each: other } => *one < place && *other < place,
        };
        if !above {
            let message = "A line that is made of others stands under them. Choose lines above it.";
            faults.push(Fault::new(FaultKind::BadRule, message).at(format!("/lines/{place}/of")));
        }
    }
    faults
}
