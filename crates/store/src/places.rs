//! Where records stand in orders by hand: a rank for each record that somebody put somewhere.

use crate::{Stored, json::int, schema::place as p};
use diesel::{prelude::*, upsert::excluded};
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use westerfall_core::{
    id::{FieldId, RecordId, ViewId},
    view::{OrderOf, Placed, Rank},
};

/// Most rows of one statement: the database takes 65,535 values in one.
const AT_ONCE: usize = 10_000;

/// Every rank of a tracker. One that can't be read is left out: its record stands by its number.
pub(crate) async fn load_places(c: &mut AsyncPgConnection, tracker: i32) -> Stored<Vec<(OrderOf, RecordId, Rank)>> {
    let columns = (p::part_id, p::is_lines, p::record_id, p::rank);
    let rows: Vec<(i32, bool, i32, String)> = p::table.filter(p::tracker_id.eq(tracker)).select(columns).load(c).await?;
    let place = |(part, is_lines, record, rank): (i32, bool, i32, String)| {
        let number = |n: i32| u32::try_from(n).ok();
        let part = number(part)?;
        let of = if is_lines { OrderOf::Lines(FieldId::new(part)?) } else { OrderOf::View(ViewId::new(part)?) };
        Some((of, RecordId::new(number(record)?)?, Rank::try_from(rank).ok()?))
    };
    Ok(rows.into_iter().filter_map(place).collect())
}

/// Keeps where records were put, and forgets what nobody put anywhere any more.
pub(crate) async fn put_places(c: &mut AsyncPgConnection, tracker: i32, of: OrderOf, places: &[Placed]) -> QueryResult<()> {
    let (part, is_lines) = match of {
        OrderOf::View(view) => (int(view.get()), false),
        OrderOf::Lines(field) => (int(field.get()), true),
    };
    let put: Vec<_> = places.iter().filter_map(|(record, _, rank)| Some((*record, rank.as_ref()?))).collect();
    for some in put.chunks(AT_ONCE) {
        let row = |(record, rank): &(RecordId, &Rank)| {
            (
                p::tracker_id.eq(tracker),
                p::part_id.eq(part),
                p::is_lines.eq(is_lines),
                p::record_id.eq(int(record.get())),
                p::rank.eq(String::from(Rank::clone(rank))),
            )
        };
        diesel::insert_into(p::table)
            .values(some.iter().map(row).collect::<Vec<_>>())
            .on_conflict((p::tracker_id, p::part_id, p::record_id))
            .do_update()
            .set(p::rank.eq(excluded(p::rank)))
            .execute(c)
            .await?;
    }
    let gone: Vec<i32> = places.iter().filter(|(_, _, rank)| rank.is_none()).map(|(record, ..)| int(record.get())).collect();
    if !gone.is_empty() {
        let of_part = p::table.filter(p::tracker_id.eq(tracker).and(p::part_id.eq(part)));
        diesel::delete(of_part.filter(p::record_id.eq_any(gone))).execute(c).await?;
    }
    Ok(())
}
