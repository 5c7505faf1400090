//! Records as rows of the database.

use crate::{
    json::{Json, int},
    schema,
};
use diesel::{prelude::*, upsert::excluded};
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use jiff_diesel::{Timestamp, ToDiesel};
use std::collections::BTreeMap;
use westerfall_core::{
    dataset::{Dataset, LoadedRecord, Meta, Moved},
    form::Arrival,
    id::{FieldId, RecordId, TableId},
    people::Actor,
    value::Value,
};

#[derive(Queryable, Selectable, Insertable)]
#[diesel(table_name = schema::record)]
pub(crate) struct RecordRow {
    pub(crate) table_id: i32,
    pub(crate) record_id: i32,
    pub(crate) created_at: Timestamp,
    pub(crate) created_by: Json<Actor>,
    pub(crate) changed_at: Timestamp,
    pub(crate) changed_by: Json<Actor>,
    pub(crate) version: i32,
    pub(crate) gone: bool,
    pub(crate) cells: Json<BTreeMap<FieldId, Value>>,
    pub(crate) arrival: Option<Json<Arrival>>,
    pub(crate) moved: Option<Json<Vec<Moved>>>,
    /// As of which change.
    pub(crate) seq: i64,
}

impl RecordRow {
    pub(crate) fn new(record: LoadedRecord, seq: u64) -> Self {
        Self {
            seq: seq.cast_signed(),
            table_id: int(record.table.get()),
            record_id: int(record.record.get()),
            created_at: record.meta.created_at.to_diesel(),
            created_by: Json(record.meta.created_by),
            changed_at: record.meta.changed_at.to_diesel(),
            changed_by: Json(record.meta.changed_by),
            version: int(record.meta.version),
            gone: record.meta.gone,
            cells: Json(record.cells.into_iter().collect()),
            arrival: record.arrival.map(Json),
            moved: Some(record.moved).filter(|moved| !moved.is_empty()).map(Json),
        }
    }

    pub(crate) fn loaded(self) -> Option<LoadedRecord> {
        Some(LoadedRecord {
            table: TableId::new(self.table_id.try_into().ok()?)?,
            record: RecordId::new(self.record_id.try_into().ok()?)?,
            meta: Meta {
                created_at: self.created_at.to_jiff(),
                created_by: self.created_by.0,
                changed_at: self.changed_at.to_jiff(),
                changed_by: self.changed_by.0,
                version: self.version.try_into().ok()?,
                gone: self.gone,
            },
            cells: self.cells.0.into_iter().collect(),
            arrival: self.arrival.map(|json| json.0),
            moved: self.moved.map(|json| json.0).unwrap_or_default(),
        })
    }
}

/// Keeps records as they are in this state, but for those kept since.
pub(crate) async fn put_records(
    c: &mut AsyncPgConnection,
    tracker: i32,
    state: &Dataset,
    records: &[(TableId, RecordId)],
) -> QueryResult<()> {
    use diesel::query_dsl::methods::FilterDsl;
    use schema::record;
    let kept = records.iter().filter_map(|(table, record)| state.record_to_keep(*table, *record));
    let rows: Vec<_> = kept.map(|kept| (record::tracker_id.eq(tracker), RecordRow::new(kept, state.seq))).collect();
    let put = diesel::insert_into(record::table)
        .values(rows)
        .on_conflict((record::tracker_id, record::table_id, record::record_id))
        .do_update()
        .set((
            record::seq.eq(excluded(record::seq)),
            record::changed_at.eq(excluded(record::changed_at)),
            record::changed_by.eq(excluded(record::changed_by)),
            record::version.eq(excluded(record::version)),
            record::gone.eq(excluded(record::gone)),
            record::cells.eq(excluded(record::cells)),
            record::arrival.eq(excluded(record::arrival)),
            record::moved.eq(excluded(record::moved)),
        ));
    FilterDsl::filter(put, record::seq.lt(excluded(record::seq))).execute(c).await?;
    Ok(())
}
