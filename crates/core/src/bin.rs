//! The bin: records that were put there, when and by whom, and what hangs on them.

use crate::{
    Clock,
    access::{Asker, Lens, Right},
    bulk::{BulkRehearsal, refused_of},
    dataset::Dataset,
    id::{RecordId, TableId},
    intent::Intent,
    schema::{FieldDef, TableDef},
    sentence::capital,
    value::{Cell, Value, list_text, moment_text},
};
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// How long what was put into the bin can be brought back from it.
pub const STAYS: SignedDuration = SignedDuration::from_secs(30 * 24 * 3_600);
/// Most records that are told at once.
const MOST: usize = 500;
/// Most records that are emptied out of it at once.
pub const MOST_EMPTIED: usize = 10_000;

/// A record in the bin.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BinnedRecord {
    pub table: TableId,
    /// What one of the table's records is called.
    pub one: String,
    pub record: RecordId,
    pub name: String,
    /// When it was put there, and by whom, in words.
    pub at: String,
    pub who: String,
    /// What links to it, or it to: *2 work orders and 4 material lines*; empty: nothing that one sees.
    pub hangs: String,
}

/// What lies in the bin.
#[derive(Clone, Debug, PartialEq)]
pub struct Emptiable {
    pub records: Vec<(TableId, RecordId)>,
    /// What would go, in words.
    pub says: String,
}

impl Lens<'_> {
    /// The records in the bin that the asker would see, and might put there, latest first. What has lain there too long is not told.
    pub fn bin(&self) -> Vec<BinnedRecord> {
        let ds = self.dataset();
        let since = self.clock().now.checked_sub(STAYS).unwrap_or(Timestamp::MIN);
        let mut found: Vec<(Timestamp, TableId, RecordId)> = Vec::new();
        for home in ds.tables().filter(|home| self.opens(home.def.id)) {
            let table = home.def.id;
            for row in 0..home.rows() {
                let record = RecordId::at_row(row);
                let Some(meta) = home.meta(record).filter(|meta| meta.gone && meta.changed_at >= since) else { continue };
                if ds.is_emptied(table, record) {
                    continue;
                }
                if self.would(Right::Look, table, record) && self.would(Right::Remove, table, record) {
                    found.push((meta.changed_at, table, record));
                }
            }
        }
        found.sort_by(|a, b| b.cmp(a));
        found.truncate(MOST);
        found.into_iter().filter_map(|(at, table, record)| self.binned(at, table, record)).collect()
    }

    /// What lies in the bin, whoever put it there and however long ago, and what goes with it if it is emptied, in words: for stewards.
    pub fn emptiable(&self) -> Option<Emptiable> {
        if !self.is_steward() {
            return None;
        }
        let ds = self.dataset();
        let (mut records, mut files, mut said) = (Vec::new(), 0_usize, 0_usize);
        for home in ds.tables() {
            let table = home.def.id;
            let gone = |record: &RecordId| home.meta(*record).is_some_and(|meta| meta.gone) && !ds.is_emptied(table, *record);
            for record in (0..home.rows()).map(RecordId::at_row).filter(gone) {
                let of = |field: &FieldDef| home.column(field.id).map(|column| column.cell(record.row()));
                let held = home.def.fields.iter().filter_map(of).map(|cell| if let Cell::Files(files) = cell { files.len() } else { 0 });
                files = held.fold(files, usize::saturating_add);
                said = said.saturating_add(home.talk.of(record).count());
                records.push((table, record));
            }
        }
        records.truncate(MOST_EMPTIED);
        let customs = self.clock().customs();
        let with = [(files, "file", "files"), (said, "comment", "comments")];
        let with = with.into_iter().filter(|(count, ..)| *count > 0).map(|(count, one, many)| customs.count_words(count, one, many));
        let with = list_text(&with.collect::<Vec<_>>(), "and");
        let with = if with.is_empty() { with } else { format!(" with {with}") };
        let goes = if records.len() == 1 { "goes" } else { "go" };
        let says = format!("{}{with} {goes} for good. Nothing brings them back.", customs.count_words(records.len(), "record", "records"));
        Some(Emptiable { records, says })
    }

    fn binned(&self, at: Timestamp, table: TableId, record: RecordId) -> Option<BinnedRecord> {
        let home = self.dataset().table(table)?;
        let meta = home.meta(record)?;
        let name = self.own_name(table, record).unwrap_or_else(|| format!("{} {record}", home.def.one));
        Some(BinnedRecord {
            table,
            one: home.def.one.clone(),
            record,
            name,
            at: moment_text(at, self.clock()),
            who: self.actor_name(meta.changed_by),
            hangs: self.hangs_on(&home.def, &[record].into()).1,
        })
    }

    /// What is linked with some records of a table, of what the asker sees; of the table itself, others than these.
    fn hangs_on(&self, def: &TableDef, records: &BTreeSet<RecordId>) -> (usize, String) {
        let ds = self.dataset();
        let linked_by = |field: &FieldDef| {
            let link = ds.table(def.id)?.link(field.id).filter(|_| self.reads(def.id, field.id))?;
            let column = ds.table(def.id)?.column(field.id)?;
            let mut others: BTreeSet<RecordId> = BTreeSet::new();
            for record in records {
                if let Value::Links(linked) = column.cell(record.row()).to_value() {
                    others.extend(linked);
                }
            }
            let count =
                others.iter().filter(|other| (link.to != def.id || !records.contains(other)) && self.sees(link.to, **other)).count();
            let to = ds.table(link.to).filter(|_| count > 0)?;
            Some((count, to.def.counted(count, self.clock().customs())))
        };
        let found: Vec<(usize, String)> = def.fields.iter().filter_map(linked_by).collect();
        let count = found.iter().map(|(count, _)| *count).fold(0, usize::saturating_add);
        (count, list_text(&found.into_iter().map(|(_, words)| words).collect::<Vec<_>>(), "and"))
    }
}

/// What putting records into the bin would do, decided and thrown away.
pub fn rehearse_bin(ds: &Dataset, asker: Asker, clock: &Clock, table: TableId, records: &[RecordId]) -> BulkRehearsal {
    let lens = Lens::new(ds, asker, clock);
    let mut told = BulkRehearsal { count: records.len(), ..BulkRehearsal::default() };
    if let Err(faults) = ds.decide(&Intent::Remove { table, records: records.to_vec() }, asker, clock) {
        refused_of(&mut told, &lens, table, records, &faults);
        return told;
    }
    let Some(home) = ds.table(table) else { return told };
    told.changed = records.len();
    let goes = if records.len() == 1 { "goes" } else { "go" };
    told.says.push(format!("{} {goes} into the bin, for 30 days.", capital(&home.def.counted(records.len(), clock.customs()))));
    let (count, hangs) = lens.hangs_on(&home.def, &records.iter().copied().collect());
    if count > 0 {
        let stands = if count == 1 { "stands" } else { "stand" };
        let them = if records.len() == 1 { "it" } else { "them" };
        let back = format!("bringing {them} back links {} again", if count == 1 { "that" } else { "those" });
        told.says.push(format!("{} linked with {them} {stands} without {them}; {back}.", capital(&hangs)));
    }
    told
}
