//! Records that are there twice: found by fields in which they say the same or nearly so, looked at side by side, and made one.

use crate::{
    Clock,
    access::{Asker, Lens, Right},
    dataset::{Dataset, RecordName},
    fault::Fault,
    history::Op,
    id::{FieldId, RecordId, TableId},
    intent::Intent,
    schema::{FieldDef, Kind},
    sentence::capital,
    value::fold,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

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

/// Two records that are to be one.
#[derive(Clone, Debug)]
pub struct Merge {
    pub table: TableId,
    /// The one that stays.
    pub keep: RecordId,
    /// The one that goes to the bin.
    pub other: RecordId,
    /// The fields whose values are those of the one that goes.
    pub take: Vec<FieldId>,
}

/// What merging two records would do.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct MergeRehearsal {
    /// In sentences.
    pub says: Vec<String>,
    /// Field by field, those first in which they differ.
    pub lines: Vec<MergeLine>,
    /// Why it can't be done.
    pub wrong: Option<String>,
}

/// One field of both.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct MergeLine {
    pub field: FieldId,
    pub name: String,
    /// What the one that stays holds, and the one that goes.
    pub keep: String,
    pub other: String,
    /// What it would be.
    pub then: String,
    /// Whether one chooses between them.
    pub choose: bool,
}

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

impl Merge {
    /// What it would do, decided and thrown away.
    ///
    /// # Errors
    /// One of them is not there for the asker.
    pub fn rehearse(&self, ds: &Dataset, asker: Asker, clock: &Clock) -> Result<MergeRehearsal, Fault> {
        let lens = Lens::new(ds, asker, clock);
        let unknown = || Fault::not_found("record");
        let home = ds.table(self.table).filter(|_| lens.sees(self.table, self.keep) && lens.sees(self.table, self.other));
        let home = home.ok_or_else(unknown)?;
        let mut told = MergeRehearsal::default();
        let decided = ds.decide(&Intent::Merge(Box::new(self.clone())), asker, clock);
        let mut after = ds.clone();
        match &decided {
            Ok(decision) => drop(after.apply(&decision.change)),
            Err(faults) => told.wrong = faults.0.first().map(|fault| fault.message.clone()),
        }
        let now = Lens::new(&after, asker, clock);
        let line = |field: &FieldDef| {
            let shows = |record: RecordId| lens.shows(self.table, record, field.id);
            if !shows(self.keep) || !shows(self.other) {
                return None;
            }
            let (keep, other) = (lens.text_at(self.table, self.keep, field.id), lens.text_at(self.table, self.other, field.id));
            let joined = matches!(field.kind, Kind::Link(link) if !link.one) || matches!(field.kind, Kind::Files);
            let choose = keep != other && field.kind.takes_input() && !joined && lens.changes(self.table, self.keep, field.id);
            let then = now.text_at(self.table, self.keep, field.id);
            let said = !keep.is_empty() || !other.is_empty();
            said.then(|| MergeLine { field: field.id, name: field.name.clone(), keep, other, then, choose })
        };
        told.lines = home.def.fields.iter().filter_map(line).collect();
        told.lines.sort_by_key(|line| (!line.choose, line.keep == line.other));
        if let Ok(decision) = &decided {
            told.says = self.says(&lens, &decision.change.ops);
        }
        Ok(told)
    }

    fn says(&self, lens: &Lens<'_>, ops: &[Op]) -> Vec<String> {
        let name = |record| lens.record_name(self.table, record).map(|found| found.name).unwrap_or_default();
        let mut says = vec![format!("“{}” goes to the bin; “{}” stays.", name(self.other), name(self.keep))];
        // Told of what the asker sees; the rest follows too.
        let mut linked: BTreeMap<TableId, usize> = BTreeMap::new();
        for op in ops {
            let Op::Cell { table, record, .. } = op else { continue };
            if (*table, *record) != (self.table, self.keep) && lens.sees(*table, *record) {
                let count = linked.entry(*table).or_default();
                *count = count.saturating_add(1);
            }
        }
        for (table, count) in linked {
            if let Some(home) = lens.dataset().table(table) {
                let verb = if count == 1 { "follows" } else { "follow" };
                says.push(format!("{} that linked to it {verb}.", capital(&home.def.counted(count, lens.clock().customs()))));
            }
        }
        if ops.iter().any(|op| matches!(op, Op::Say { .. })) {
            says.push("What was said of it is said of the other, too.".to_owned());
        }
        says
    }
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
            if !key.is_empty() && self.may(Right::Look, table, record) {
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
