//! Whether a document can be printed as it is composed.

use super::{BlockShows, Document, MOST_BLOCKS, SheetColumns, SheetFact, SheetOf};
use crate::{
    dataset::{Dataset, Table},
    fault::{Checked, Fault, FaultKind, Faults},
    id::{FieldId, TableId},
    schema::{Kind, NAME_LIMIT, TEXT_LIMIT, within_sentence},
};

/// Narrowest and widest margin, in millimetres.
const MARGINS: std::ops::RangeInclusive<u8> = 5..=60;
/// Most columns of lines, facts of a block and figures beneath lines.
const MOST_COLUMNS: usize = 20;

fn bad(message: impl Into<String>, at: impl std::fmt::Display) -> Fault {
    Fault::new(FaultKind::BadRule, message).at(at)
}

impl Document {
    /// Whether everything that it prints is there and of a kind that stands there.
    ///
    /// # Errors
    /// Each thing that is wrong, with its place.
    pub fn check(&self, ds: &Dataset) -> Checked<()> {
        let home = ds.table(self.table).ok_or_else(|| Fault::not_found("table"))?;
        let mut faults = Vec::new();
        if self.title.trim().is_empty() {
            faults.push(Fault::new(FaultKind::Missing, "Give the document a name.").at("/title"));
        }
        if self.title.chars().count() > NAME_LIMIT {
            faults.push(Fault::new(FaultKind::TooLong, format!("A name has at most {NAME_LIMIT} characters.")).at("/title"));
        }
        if !MARGINS.contains(&self.page.margin) {
            faults.push(bad(format!("A margin is from {} to {} mm wide.", MARGINS.start(), MARGINS.end()), "/page/margin"));
        }
        if self.blocks.len() > MOST_BLOCKS {
            faults.push(Fault::new(FaultKind::TooLong, format!("A document has at most {MOST_BLOCKS} blocks.")).at("/blocks"));
        }
        if let Some(keep) = self.keep {
            let files = home.def.field(keep).is_some_and(|def| matches!(def.kind, Kind::Files));
            if !files || self.of == SheetOf::All {
                faults.push(bad("A sheet is kept in a field of files, of the one record that it is of.", "/keep"));
            }
        }
        if self.of == SheetOf::All {
            let texts = [(&self.called, "/called"), (&self.foot.text, "/foot/text")];
            let told = texts.into_iter().filter(|(text, _)| text.0.iter().any(|piece| piece.path().is_some()));
            faults.extend(told.map(|(_, at)| bad("A sheet for all records tells of none by itself: no value of one can stand here.", at)));
        }
        for (place, block) in self.blocks.iter().enumerate() {
            let at = format!("/blocks/{place}");
            if let Err(Faults(found)) = block.when.check(ds, self.table) {
                faults.extend(found.into_iter().map(|fault| fault.at(format!("{at}/when"))));
            }
            let found = self.check_block(ds, home, &block.shows);
            faults.extend(found.into_iter().map(|fault| fault.at(format!("{at}/shows"))));
        }
        Faults::none_or(faults)
    }

    fn check_block(&self, ds: &Dataset, home: &Table, shows: &BlockShows) -> Vec<Fault> {
        let table = self.table;
        let mut faults = Vec::new();
        if self.of == SheetOf::All && needs_one(shows) {
            let message = "A sheet for all records tells of none by itself. Show them in a table, or make a document for each.";
            faults.push(bad(message, ""));
        }
        match shows {
            BlockShows::Facts(facts) => faults.extend(check_facts(ds, table, &facts.facts)),
            BlockShows::Sums(sums) => faults.extend(check_facts(ds, table, &sums.facts)),
            BlockShows::Lines(lines) => match home.link(lines.link) {
                None => faults.push(bad("These lines are of no link.", "/link")),
                Some(link) => {
                    faults.extend(check_columns(ds, link.to, &lines.columns));
                    let by = |field: FieldId| ds.table(link.to).is_some_and(|to| to.def.field(field).is_some());
                    if lines.by.is_some_and(|field| !by(field)) {
                        faults.push(bad("These lines stand in order by a field that is not there any more.", "/by"));
                    }
                    if lines.without.chars().count() > TEXT_LIMIT {
                        faults.push(too_long("/without"));
                    }
                }
            },
            BlockShows::Table(_) if self.of == SheetOf::Each => {
                let message = "A table is of all records that are printed together: this document is one for each of them.";
                faults.push(bad(message, ""));
            }
            BlockShows::Table(of) => faults.extend(check_columns(ds, table, &of.columns)),
            BlockShows::Picture(picture) => {
                let kind = kind_at(ds, table, &picture.path);
                if !matches!(kind, Some(Kind::Files)) {
                    faults.push(bad("A picture is taken from a field of files.", "/path"));
                }
                if !(5..=250).contains(&picture.height) {
                    faults.push(bad("A picture is from 5 to 250 mm high.", "/height"));
                }
            }
            BlockShows::Signature(signature) => {
                let named = kind_at(ds, table, &signature.person);
                if !signature.person.is_empty() && named.is_none() {
                    faults.push(bad("This signature is of a field that is not there any more.", "/person"));
                }
                let day = kind_at(ds, table, &signature.on);
                if !signature.on.is_empty() && !day.is_some_and(Kind::is_of_days) {
                    faults.push(bad("The day of a signature is taken from a field of days.", "/on"));
                }
                if signature.words.chars().count() > TEXT_LIMIT {
                    faults.push(too_long("/words"));
                }
            }
            BlockShows::Space(space) if !(1..=250).contains(&space.height) => {
                faults.push(bad("A space is from 1 to 250 mm high.", "/height"));
            }
            BlockShows::Heading(_) | BlockShows::Text(_) | BlockShows::Rule | BlockShows::Space(_) | BlockShows::Break => {}
        }
        faults
    }
}

/// Whether a block tells of one record.
fn needs_one(shows: &BlockShows) -> bool {
    match shows {
        BlockShows::Heading(heading) => heading.text.0.iter().any(|piece| piece.path().is_some()),
        BlockShows::Text(text) => text.text.0.iter().any(|piece| piece.path().is_some()),
        BlockShows::Facts(_) | BlockShows::Lines(_) | BlockShows::Sums(_) | BlockShows::Picture(_) => true,
        BlockShows::Signature(signature) => !signature.person.is_empty() || !signature.on.is_empty(),
        BlockShows::Table(_) | BlockShows::Rule | BlockShows::Space(_) | BlockShows::Break => false,
    }
}

fn kind_at<'d>(ds: &'d Dataset, table: TableId, path: &[FieldId]) -> Option<&'d Kind> {
    let (home, last) = ds.walk(table, path).ok()?;
    ds.shown_kind(home, last).map(|(_, kind)| kind)
}

fn check_facts(ds: &Dataset, table: TableId, facts: &[SheetFact]) -> Vec<Fault> {
    let mut faults = Vec::new();
    if facts.is_empty() {
        faults.push(Fault::new(FaultKind::Missing, "Choose at least one field.").at("/facts"));
    }
    if facts.len() > MOST_COLUMNS {
        faults.push(Fault::new(FaultKind::TooLong, format!("A block has at most {MOST_COLUMNS} facts.")).at("/facts"));
    }
    for (place, fact) in facts.iter().enumerate() {
        if let Err(fault) = ds.walk(table, &fact.path) {
            faults.push(fault.at(format!("/facts/{place}")));
        }
        if fact.words.chars().count() > NAME_LIMIT {
            faults.push(too_long(&format!("/facts/{place}")));
        }
    }
    faults
}

fn check_columns(ds: &Dataset, table: TableId, columns: &SheetColumns) -> Vec<Fault> {
    let Some(home) = ds.table(table) else { return vec![Fault::not_found("table")] };
    let mut faults = Vec::new();
    if columns.shows.is_empty() {
        faults.push(Fault::new(FaultKind::Missing, "Choose at least one field to show.").at("/shows"));
    }
    if columns.shows.len() > MOST_COLUMNS || columns.totals.len() > MOST_COLUMNS {
        faults.push(Fault::new(FaultKind::TooLong, format!("Lines have at most {MOST_COLUMNS} columns.")).at("/shows"));
    }
    if columns.shows.iter().any(|field| home.def.field(*field).is_none()) {
        faults.push(bad("These lines show a field that is not there any more.", "/shows"));
    }
    for (place, total) in columns.totals.iter().enumerate() {
        let at = format!("/totals/{place}");
        let Some(def) = home.def.field(total.field) else {
            faults.push(bad("This figure is of a field that is not there any more.", at));
            continue;
        };
        let kind = ds.shown_kind(table, total.field).map(|(_, kind)| kind.shows());
        if !total.figure.is_short() || total.figure.shown(kind).is_none() {
            let message = format!("There is no {} of {}.", total.figure.word(), within_sentence(&def.name));
            faults.push(bad(message, at));
        } else if !columns.shows.contains(&total.field) {
            let message = format!("{} stands in no column, so that its figure has no place beneath one.", def.name);
            faults.push(bad(message, at));
        }
    }
    faults
}

fn too_long(at: &str) -> Fault {
    Fault::new(FaultKind::TooLong, format!("These words have at most {NAME_LIMIT} characters.")).at(at)
}
