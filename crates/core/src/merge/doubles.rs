//! Records that say the same, or nearly so, in some of their fields.

use crate::{
    access::Lens,
    dataset::RecordName,
    fault::Fault,
    id::{FieldId, RecordId, TableId},
    value::fold,
};
use serde::{Deserialize, Serialize};

/// How alike what two records say must be, from 0 to 1.
const ALIKE: f64 = 0.88;
/// With how many of those that come after it in order each is compared.
const WINDOW: usize = 8;
/// Most groups of doubles that are told.
const MOST: usize = 200;
/// Most fields that doubles are looked for by.
pub const MOST_COMPARED: usize = 5;
/// Shortest text in which a slip of the pen is taken for one.
const SHORTEST: usize = 5;

/// Records that say the same, or nearly so.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Doubles {
    pub records: Vec<RecordName>,
    /// What they say, of the first.
    pub says: String,
    /// Whether they say it to the letter.
    pub same: bool,
}

impl Lens<'_> {
    /// Records in sight that say the same in some fields, or nearly so, in groups. What they are compared by is what the asker reads.
    ///
    /// # Errors
    /// A field that is not open to the asker, or too many.
    pub fn doubles(&self, table: TableId, fields: &[FieldId]) -> Result<Vec<Doubles>, Fault> {
        if fields.is_empty() || fields.len() > MOST_COMPARED || fields.iter().any(|field| !self.reads(table, *field)) {
            return Err(Fault::not_found("field"));
        }
        let readers: Vec<_> = fields.iter().map(|field| (*field, self.reader(table, *field))).collect();
        let mut said: Vec<(String, RecordId)> = Vec::new();
        for record in self.records(table) {
            let texts = readers.iter().map(|(field, reader)| {
                let cells = reader.cells(record.row());
                cells.iter().map(|cell| self.cell_text(table, *field, *cell)).collect::<Vec<_>>().join(" ")
            });
            let key = bare(&texts.collect::<Vec<_>>().join(" "));
            if !key.is_empty() {
                said.push((key, record));
            }
        }
        said.sort();
        let mut groups: Vec<(Vec<RecordId>, bool)> = Vec::new();
        let mut taken = vec![false; said.len()];
        for (place, (key, record)) in said.iter().enumerate() {
            if taken.get(place).copied().unwrap_or(true) || groups.len() >= MOST {
                continue;
            }
            let (mut members, mut same) = (vec![*record], true);
            let mut looked = 0;
            for (other, (their_key, theirs)) in said.iter().enumerate().skip(place.saturating_add(1)) {
                let is_same = their_key == key;
                looked = if is_same { looked } else { usize::saturating_add(looked, 1) };
                if looked > WINDOW {
                    break;
                }
                let near = || key.chars().count() >= SHORTEST && strsim::normalized_damerau_levenshtein(key, their_key) >= ALIKE;
                if !taken[other] && (is_same || near()) {
                    taken[other] = true;
                    same &= is_same;
                    members.push(*theirs);
                }
            }
            if members.len() > 1 {
                groups.push((members, same));
            }
        }
        groups.sort_by_key(|(_, same)| !same);
        let told = groups.into_iter().map(|(mut records, same)| {
            records.sort_unstable();
            let says = fields.iter().map(|field| self.text_at(table, records[0], *field)).filter(|text| !text.is_empty());
            Doubles {
                says: says.collect::<Vec<_>>().join(", "),
                records: records.iter().filter_map(|r| self.record_name(table, *r)).collect(),
                same,
            }
        });
        Ok(told.collect())
    }
}

/// What a text says without capitals, accents, marks and double spaces.
fn bare(text: &str) -> String {
    let folded = fold(text);
    let words = folded.split(|letter: char| !letter.is_alphanumeric()).filter(|word| !word.is_empty());
    words.collect::<Vec<_>>().join(" ")
}
