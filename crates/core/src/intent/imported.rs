//! What is told of an import: what it would do, what is made on the way, what is refused, and each of these in words.

use crate::value::Customs;
use serde::{Deserialize, Serialize};

/// What an import would do, or did.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ImportRehearsal {
    /// What it does, on one line: *5 records are added, 1 is changed*.
    pub title: String,
    /// What is to be known of that, a sentence each: what is made on the way, what is refused.
    pub says: Vec<String>,
    /// Rows that become new records, that change records that are there, and that say nothing new.
    pub added: usize,
    pub updated: usize,
    pub same: usize,
    /// Rows that are left out whole.
    pub left_out: usize,
    pub rejected: Vec<Rejected>,
    /// How many cells were refused, listed or not.
    pub rejected_count: usize,
    /// Records and options that are made on the way.
    pub made: Vec<Making>,
    /// The first records as they will stand: one text for each column of the plan that becomes anything.
    pub examples: Vec<Vec<String>>,
}

/// A cell that does not fit, or a row that can't be taken.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Rejected {
    /// The row, from 1, as in the file.
    pub row: usize,
    /// The column's name; empty where the whole row is left out.
    pub column: String,
    pub value: String,
    pub why: String,
}

/// Something that is made beside the records themselves.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Making {
    /// In words: *options of Surface*, *records in Wardens*.
    pub what: String,
    pub count: usize,
    pub names: Vec<String>,
}

/// Refused cells that are told one by one.
const TOLD: usize = 3;

impl ImportRehearsal {
    pub(super) fn in_words(&self, customs: Customs) -> String {
        let more = [(self.updated, "is changed", "are changed"), (self.same, "stays as it is", "stay as they are")];
        let more = more.into_iter().filter(|(count, ..)| *count > 0).map(|(count, one, many)| customs.count_words(count, one, many));
        std::iter::once(customs.count_words(self.added, "record is added", "records are added")).chain(more).collect::<Vec<_>>().join(", ")
    }

    pub(super) fn sentences(&self, customs: Customs) -> Vec<String> {
        let made = self.made.iter().map(|made| {
            let more = if made.count > made.names.len() { ", …" } else { "" };
            let verb = if made.count == 1 { "is" } else { "are" };
            format!("{} {} {verb} made: {}{more}.", customs.count_text(made.count), made.what, made.names.join(", "))
        });
        let mut says: Vec<String> = made.collect();
        if self.rejected_count == 0 {
            says.push("Every cell fits. An import starts no automation, and can be taken back as one step.".into());
            return says;
        }
        let out = if self.left_out > 0 {
            format!(", {}", customs.count_words(self.left_out, "row is left out", "rows are left out"))
        } else {
            String::new()
        };
        says.push(format!("{} refused and left empty{out}:", customs.count_words(self.rejected_count, "cell is", "cells are")));
        says.extend(self.rejected.iter().take(TOLD).map(Rejected::in_words));
        says
    }
}

impl Rejected {
    fn in_words(&self) -> String {
        let column = if self.column.is_empty() { String::new() } else { format!(", {}", self.column) };
        format!("Row {}{column}: “{}”. {}", self.row, self.value, self.why)
    }
}
