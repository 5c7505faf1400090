//! What stands in files: read once after they came, by whichever server comes first, and looked for in.

use crate::{Store, Stored, json::int, schema};
use diesel::{prelude::*, sql_types};
use diesel_async::RunQueryDsl;
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use westerfall_core::id::TrackerId;

/// Tries before a file's text is given up: a reader may fall over, or its server be stopped.
const TRIES: i16 = 3;
/// How long one try keeps others off, in seconds.
const KEPT_OFF: i64 = 120;
/// The state of a file that needs no reading any more.
const READ: i16 = 9;
/// So many texts are asked for again each time: of two that were kept at one moment the later may have been seen first.
const AGAIN: i64 = 64;

/// A file whose text is to be read.
#[derive(Clone, Debug, QueryableByName)]
pub struct Unread {
    #[diesel(sql_type = sql_types::Text)]
    pub id: String,
    #[diesel(sql_type = sql_types::Integer)]
    tracker_id: i32,
    /// In bytes.
    #[diesel(sql_type = sql_types::BigInt)]
    pub size: i64,
}

/// The state in which a new file's text is: waiting, unless it is of a sort that holds none.
pub(crate) fn state_of(media: &str) -> i16 {
    let silent = ["image/", "audio/", "video/"].iter().any(|sort| media.starts_with(sort));
    if silent { READ } else { 0 }
}

impl Store {
    /// Takes on a file that nobody has read yet; none where there is none.
    pub async fn claim_unread(&self, now: Timestamp) -> Stored<Option<Unread>> {
        let claimed = diesel::sql_query(
            "UPDATE file SET text_state = text_state + 1, text_due = $1 + $2 * interval '1 second' WHERE id = (
                SELECT id FROM file WHERE text_state < $3 AND text_due <= $1 ORDER BY text_due LIMIT 1 FOR UPDATE SKIP LOCKED
            ) RETURNING id, tracker_id, size",
        )
        .bind::<sql_types::Timestamptz, _>(now.to_diesel())
        .bind::<sql_types::BigInt, _>(KEPT_OFF)
        .bind::<sql_types::SmallInt, _>(TRIES)
        .get_result(&mut self.connection().await?)
        .await
        .optional()?;
        Ok(claimed)
    }

    /// Keeps what stands in a file; nothing where it holds no text.
    pub async fn put_text(&self, file: &Unread, text: Option<&str>) -> Stored<()> {
        use schema::{file as f, file_text as t};
        let mut connection = self.connection().await?;
        if let Some(text) = text {
            // The database takes no character zero.
            let values = (t::tracker_id.eq(file.tracker_id), t::file_id.eq(&file.id), t::text.eq(text.replace('\0', " ")));
            diesel::insert_into(t::table).values(values).on_conflict_do_nothing().execute(&mut connection).await?;
        }
        diesel::update(f::table.filter(f::id.eq(&file.id))).set(f::text_state.eq(READ)).execute(&mut connection).await?;
        Ok(())
    }

    /// The texts of a tracker's files that were kept after a number, with the number of the last: what to ask from the next time.
    pub async fn texts_after(&self, tracker: TrackerId, number: i64) -> Stored<(i64, Vec<(String, String)>)> {
        use schema::file_text as t;
        let rows: Vec<(i64, String, String)> = t::table
            .filter(t::tracker_id.eq(int(tracker.get())).and(t::number.gt(number.saturating_sub(AGAIN))))
            .order(t::number)
            .select((t::number, t::file_id, t::text))
            .load(&mut self.connection().await?)
            .await?;
        let last = rows.last().map_or(number, |(number, ..)| *number);
        Ok((last, rows.into_iter().map(|(_, id, text)| (id, text)).collect()))
    }
}
