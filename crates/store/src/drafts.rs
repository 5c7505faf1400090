//! Records that somebody has begun and not added. They are theirs alone: no record, in no tracker's memory, in nobody's count.

use crate::{
    Store, Stored,
    json::{Json, Raw, int},
    schema::draft as d,
};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use jiff_diesel::{Timestamp, ToDiesel};
use westerfall_core::{
    id::{DraftId, FieldId, PersonId, TableId, TrackerId},
    upgrade::{FORMAT, Kept},
    value::Input,
};

/// Most drafts that somebody has in one tracker.
pub const MOST_DRAFTS: usize = 100;

/// What was put into which fields.
pub type DraftCells = Vec<(FieldId, Input)>;

/// A record that somebody has begun.
#[derive(Clone, Debug, PartialEq)]
pub struct Draft {
    pub id: DraftId,
    pub table: TableId,
    pub cells: DraftCells,
    pub changed_at: jiff::Timestamp,
}

type Row = (i32, i32, Raw, i16, Timestamp);

fn draft((id, table, cells, format, at): Row) -> Option<Draft> {
    let cells = cells.read(Kept::Draft, format).inspect_err(|why| tracing::error!(draft = id, %why, "a draft can’t be read")).ok()?;
    let id = DraftId::new(u32::try_from(id).ok()?)?;
    Some(Draft { id, table: TableId::new(u32::try_from(table).ok()?)?, cells, changed_at: at.to_jiff() })
}

fn keys(tracker: TrackerId, me: PersonId) -> (i32, i32) {
    (int(tracker.get()), int(me.get()))
}

impl Store {
    /// Somebody's drafts in a tracker, in the order in which they were begun.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn drafts(&self, tracker: TrackerId, me: PersonId) -> Stored<Vec<Draft>> {
        let (tracker, me) = keys(tracker, me);
        let own = d::table.filter(d::tracker_id.eq(tracker).and(d::person_id.eq(me))).order(d::draft_id);
        let rows: Vec<Row> =
            own.select((d::draft_id, d::table_id, d::cells, d::format, d::changed_at)).load(&mut self.connection().await?).await?;
        Ok(rows.into_iter().filter_map(draft).collect())
    }

    /// One of them.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn draft(&self, tracker: TrackerId, me: PersonId, id: DraftId) -> Stored<Option<Draft>> {
        let (tracker, me) = keys(tracker, me);
        let one = d::table.find((tracker, me, int(id.get()))).select((d::draft_id, d::table_id, d::cells, d::format, d::changed_at));
        let row: Option<Row> = one.first(&mut self.connection().await?).await.optional()?;
        Ok(row.and_then(draft))
    }

    /// Keeps a new one.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn begin_draft(
        &self,
        tracker: TrackerId,
        me: PersonId,
        table: TableId,
        cells: &DraftCells,
        at: jiff::Timestamp,
    ) -> Stored<DraftId> {
        let (tracker, me) = keys(tracker, me);
        let row = (
            d::tracker_id.eq(tracker),
            d::person_id.eq(me),
            d::table_id.eq(int(table.get())),
            d::cells.eq(Json(cells)),
            d::format.eq(FORMAT),
            d::changed_at.eq(at.to_diesel()),
        );
        let id: i32 = diesel::insert_into(d::table).values(row).returning(d::draft_id).get_result(&mut self.connection().await?).await?;
        Ok(u32::try_from(id).ok().and_then(DraftId::new).unwrap_or(DraftId::FIRST))
    }

    /// Puts values into some fields of one, and takes out those of others; false where there is none. What two windows put into two
    /// fields at once both stays.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn change_draft(
        &self,
        tracker: TrackerId,
        me: PersonId,
        id: DraftId,
        cells: &[(FieldId, Option<Input>)],
        at: jiff::Timestamp,
    ) -> Stored<bool> {
        let (tracker, me) = keys(tracker, me);
        let place = d::table.find((tracker, me, int(id.get())));
        let put = async |c: &mut AsyncPgConnection| {
            let columns = (d::draft_id, d::table_id, d::cells, d::format, d::changed_at);
            let row: Option<Row> = place.select(columns).for_update().first(c).await.optional()?;
            let Some(mut known) = row.and_then(draft) else { return Ok(false) };
            for (field, input) in cells {
                known.cells.retain(|(other, _)| other != field);
                known.cells.extend(input.clone().map(|input| (*field, input)));
            }
            let to = (d::cells.eq(Json(&known.cells)), d::format.eq(FORMAT), d::changed_at.eq(at.to_diesel()));
            diesel::update(place).set(to).execute(c).await?;
            Ok::<bool, diesel::result::Error>(true)
        };
        let mut connection = self.connection().await?;
        Ok((*connection).transaction(put).await?)
    }

    /// Lets go of one; false where there is none.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn drop_draft(&self, tracker: TrackerId, me: PersonId, id: DraftId) -> Stored<bool> {
        let (tracker, me) = keys(tracker, me);
        Ok(diesel::delete(d::table.find((tracker, me, int(id.get())))).execute(&mut self.connection().await?).await? == 1)
    }

    /// Lets go of those that nobody has touched since.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn drop_old_drafts(&self, since: jiff::Timestamp) -> Stored<usize> {
        Ok(diesel::delete(d::table.filter(d::changed_at.lt(since.to_diesel()))).execute(&mut self.connection().await?).await?)
    }
}
