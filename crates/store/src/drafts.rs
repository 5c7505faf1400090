//! Records that somebody has begun and not added. They are theirs alone: no record, in no tracker's memory, in nobody's count.

use crate::{
    Store, Stored,
    json::{Json, Raw, int},
    schema::{draft as d, draft_file as f, draft_line as l},
};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use jiff_diesel::{Timestamp, ToDiesel};
use std::collections::BTreeMap;
use westerfall_core::{
    id::{DraftId, FieldId, PersonId, TableId, TrackerId},
    intent::{NewLine, NewRecord},
    upgrade::{FORMAT, Kept},
    value::{Attachment, Input},
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
    /// Files that were brought to it, by their fields.
    pub files: BTreeMap<FieldId, Vec<Attachment>>,
    /// Its lines, in their order: at first that in which they came.
    pub lines: Vec<LineInDraft>,
    pub changed_at: jiff::Timestamp,
}

/// A line of a draft.
#[derive(Clone, Debug, PartialEq)]
pub struct LineInDraft {
    /// Its number, among the lines of all drafts; nothing of one that is not kept yet.
    pub id: Option<u32>,
    /// The link that it stands under.
    pub under: FieldId,
    pub cells: DraftCells,
}

impl Draft {
    /// The record that it would be, with its files and lines.
    pub fn record(&self) -> NewRecord {
        let files = self.files.iter().map(|(field, files)| (*field, Input::Upload(files.clone())));
        let lines = self.lines.iter().map(|line| NewLine { under: line.under, cells: line.cells.clone() });
        NewRecord { table: self.table, cells: self.cells.iter().cloned().chain(files).collect(), lines: lines.collect() }
    }
}

type Row = (i32, i32, Raw, i16, Timestamp);

fn draft((id, table, cells, format, at): Row) -> Option<Draft> {
    let cells = cells.read(Kept::Draft, format).inspect_err(|why| tracing::error!(draft = id, %why, "a draft can’t be read")).ok()?;
    let id = DraftId::new(u32::try_from(id).ok()?)?;
    Some(Draft {
        id,
        table: TableId::new(u32::try_from(table).ok()?)?,
        cells,
        files: BTreeMap::new(),
        lines: Vec::new(),
        changed_at: at.to_jiff(),
    })
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
        let mut connection = self.connection().await?;
        let rows: Vec<Row> = own.select((d::draft_id, d::table_id, d::cells, d::format, d::changed_at)).load(&mut connection).await?;
        let mut drafts: Vec<Draft> = rows.into_iter().filter_map(draft).collect();
        what_hangs_on(&mut connection, (tracker, me), &mut drafts).await?;
        Ok(drafts)
    }

    /// One of them.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn draft(&self, tracker: TrackerId, me: PersonId, id: DraftId) -> Stored<Option<Draft>> {
        let (tracker, me) = keys(tracker, me);
        let one = d::table.find((tracker, me, int(id.get()))).select((d::draft_id, d::table_id, d::cells, d::format, d::changed_at));
        let mut connection = self.connection().await?;
        let row: Option<Row> = one.first(&mut connection).await.optional()?;
        let mut found: Vec<Draft> = row.and_then(draft).into_iter().collect();
        what_hangs_on(&mut connection, (tracker, me), &mut found).await?;
        Ok(found.pop())
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

    /// Brings files to a field of one, behind those that are there and stay; answers the ids of those that do not, of which nothing
    /// is known any more.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn put_draft_files(
        &self,
        tracker: TrackerId,
        me: PersonId,
        (id, field): (DraftId, FieldId),
        gone: &[String],
        new: &[Attachment],
    ) -> Stored<()> {
        let ((tracker, me), id, field) = (keys(tracker, me), int(id.get()), int(field.get()));
        let put = async |c: &mut AsyncPgConnection| {
            let of = f::tracker_id.eq(tracker).and(f::person_id.eq(me)).and(f::draft_id.eq(id)).and(f::field_id.eq(field));
            diesel::delete(f::table.filter(of).filter(f::id.eq_any(gone))).execute(c).await?;
            for file in new {
                let of = (f::tracker_id.eq(tracker), f::person_id.eq(me), f::draft_id.eq(id), f::field_id.eq(field));
                let is = (f::id.eq(&file.id), f::name.eq(&file.name), f::media.eq(&file.media), f::size.eq(file.size.cast_signed()));
                diesel::insert_into(f::table).values((of, is)).execute(c).await?;
            }
            Ok::<(), diesel::result::Error>(())
        };
        let mut connection = self.connection().await?;
        Ok((*connection).transaction(put).await?)
    }

    /// Keeps lines of one, new ones or others in the place of those that are there, and lets go of some; answers the numbers of
    /// those that were kept, in their order.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn put_draft_lines(
        &self,
        tracker: TrackerId,
        me: PersonId,
        id: DraftId,
        (kept, gone): (&[LineInDraft], &[u32]),
        at: jiff::Timestamp,
    ) -> Stored<Vec<u32>> {
        let ((tracker, me), id) = (keys(tracker, me), int(id.get()));
        let put = async |c: &mut AsyncPgConnection| {
            let gone: Vec<i32> = gone.iter().copied().map(int).collect();
            let of = l::tracker_id.eq(tracker).and(l::person_id.eq(me)).and(l::draft_id.eq(id));
            diesel::delete(l::table.filter(of).filter(l::line_id.eq_any(gone))).execute(c).await?;
            let mut numbers = Vec::with_capacity(kept.len());
            for line in kept {
                let holds = (l::cells.eq(Json(&line.cells)), l::format.eq(FORMAT));
                let number: Option<i32> = match line.id {
                    Some(known) => {
                        let place = l::table.find((tracker, me, id, int(known)));
                        diesel::update(place).set(holds).returning(l::line_id).get_result(c).await.optional()?
                    }
                    None => {
                        let of = (l::tracker_id.eq(tracker), l::person_id.eq(me), l::draft_id.eq(id));
                        let row = (of, l::field_id.eq(int(line.under.get())), holds);
                        Some(diesel::insert_into(l::table).values(row).returning(l::line_id).get_result(c).await?)
                    }
                };
                numbers.extend(number.and_then(|number| u32::try_from(number).ok()));
            }
            diesel::update(d::table.find((tracker, me, id))).set(d::changed_at.eq(at.to_diesel())).execute(c).await?;
            Ok::<Vec<u32>, diesel::result::Error>(numbers)
        };
        let mut connection = self.connection().await?;
        Ok((*connection).transaction(put).await?)
    }

    /// Puts lines of one in this order, where they stood among all its lines.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn order_draft_lines(&self, tracker: TrackerId, me: PersonId, id: DraftId, lines: &[u32]) -> Stored<()> {
        let ((tracker, me), id) = (keys(tracker, me), int(id.get()));
        let order = async |c: &mut AsyncPgConnection| {
            let lines: Vec<i32> = lines.iter().copied().map(int).collect();
            let of = l::tracker_id.eq(tracker).and(l::person_id.eq(me)).and(l::draft_id.eq(id));
            let places = l::table.filter(of).filter(l::line_id.eq_any(&lines)).order(l::place).select(l::place).for_update();
            let places: Vec<i32> = places.load(c).await?;
            for (line, place) in lines.into_iter().zip(places) {
                diesel::update(l::table.find((tracker, me, id, line))).set(l::place.eq(place)).execute(c).await?;
            }
            Ok::<(), diesel::result::Error>(())
        };
        let mut connection = self.connection().await?;
        Ok((*connection).transaction(order).await?)
    }

    /// A file that somebody brought to a draft of theirs: its name and what it is.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn draft_file(&self, me: PersonId, id: &str) -> Stored<Option<(String, String)>> {
        let own = f::table.filter(f::id.eq(id).and(f::person_id.eq(int(me.get())))).select((f::name, f::media));
        Ok(own.first(&mut self.connection().await?).await.optional()?)
    }

    /// Lets go of one; answers the ids of its files, of which nothing is known any more.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn drop_draft(&self, tracker: TrackerId, me: PersonId, id: DraftId) -> Stored<Vec<String>> {
        let ((tracker, me), id) = (keys(tracker, me), int(id.get()));
        let drop = async |c: &mut AsyncPgConnection| {
            diesel::delete(d::table.find((tracker, me, id))).execute(c).await?;
            let lines = l::tracker_id.eq(tracker).and(l::person_id.eq(me)).and(l::draft_id.eq(id));
            diesel::delete(l::table.filter(lines)).execute(c).await?;
            let of = f::tracker_id.eq(tracker).and(f::person_id.eq(me)).and(f::draft_id.eq(id));
            let gone: Vec<(String, String)> = diesel::delete(f::table.filter(of)).returning((f::id, f::media)).get_results(c).await?;
            let files = gone.into_iter().filter(|(_, media)| media != Attachment::ADDRESS).map(|(id, _)| id);
            Ok::<Vec<String>, diesel::result::Error>(files.collect())
        };
        let mut connection = self.connection().await?;
        Ok((*connection).transaction(drop).await?)
    }

    /// Those that nobody has touched since.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn old_drafts(&self, since: jiff::Timestamp) -> Stored<Vec<(TrackerId, PersonId, DraftId)>> {
        let old = d::table.filter(d::changed_at.lt(since.to_diesel())).select((d::tracker_id, d::person_id, d::draft_id));
        let rows: Vec<(i32, i32, i32)> = old.load(&mut self.connection().await?).await?;
        let number = |n: i32| u32::try_from(n).ok();
        let id = |(tracker, me, id)| Some((TrackerId::new(number(tracker)?)?, PersonId::new(number(me)?)?, DraftId::new(number(id)?)?));
        Ok(rows.into_iter().filter_map(id).collect())
    }
}

/// Gives drafts of somebody in a tracker their files and their lines, each in their order.
async fn what_hangs_on(c: &mut AsyncPgConnection, (tracker, me): (i32, i32), drafts: &mut [Draft]) -> QueryResult<()> {
    let ids: Vec<i32> = drafts.iter().map(|draft| int(draft.id.get())).collect();
    let files = f::tracker_id.eq(tracker).and(f::person_id.eq(me)).and(f::draft_id.eq_any(&ids));
    let columns = (f::draft_id, f::field_id, f::id, f::name, f::media, f::size);
    let files: Vec<(i32, i32, String, String, String, i64)> = f::table.filter(files).order(f::place).select(columns).load(c).await?;
    let lines = l::tracker_id.eq(tracker).and(l::person_id.eq(me)).and(l::draft_id.eq_any(&ids));
    let columns = (l::draft_id, l::line_id, l::field_id, l::cells, l::format);
    let lines: Vec<(i32, i32, i32, Raw, i16)> = l::table.filter(lines).order(l::place).select(columns).load(c).await?;
    let number = |n: i32| u32::try_from(n).ok();
    let field = |n: i32| number(n).and_then(FieldId::new);
    let place = |id: i32| ids.iter().position(|known| *known == id);
    for (draft, of, id, name, media, size) in files {
        let Some((place, of)) = place(draft).zip(field(of)) else { continue };
        drafts[place].files.entry(of).or_default().push(Attachment { id, name, media, size: size.cast_unsigned() });
    }
    for (draft, id, under, cells, format) in lines {
        let cells = cells.read(Kept::Draft, format).inspect_err(|why| tracing::error!(draft, id, %why, "a line can’t be read")).ok();
        let (Some((place, under)), Some(cells)) = (place(draft).zip(field(under)), cells) else { continue };
        drafts[place].lines.push(LineInDraft { id: number(id), under, cells });
    }
    Ok(())
}
