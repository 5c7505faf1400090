//! By which links in messages somebody outside can say that they want no more of them.

use crate::{Store, Stored, json::int, schema};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use westerfall_core::{id::TrackerId, people::MessagesOf};

/// A message as its link knows it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct OptOutAt {
    pub address: String,
    /// What the message says first.
    pub subject: String,
    /// Which messages it is one of; nothing: it is the only one of its kind.
    pub of: Option<MessagesOf>,
}

impl Store {
    /// Gives a message a link by which its reader can say that they want no more.
    pub async fn give_opt_out_token(&self, token_hash: &[u8], at: &OptOutAt, now: Timestamp) -> Stored<()> {
        use schema::opt_out_token as o;
        diesel::insert_into(o::table)
            .values((
                o::token_hash.eq(token_hash),
                o::address.eq(&at.address),
                o::subject.eq(&at.subject),
                o::tracker_id.eq(at.of.map(|of| int(of.tracker.get()))),
                o::part_id.eq(at.of.map(|of| int(of.part))),
                o::made_at.eq(now.to_diesel()),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// The message of a link.
    pub async fn opt_out_at(&self, token_hash: &[u8]) -> Stored<Option<OptOutAt>> {
        use schema::opt_out_token as o;
        type Row = (String, String, Option<i32>, Option<i32>);
        let row: Option<Row> = o::table
            .find(token_hash)
            .select((o::address, o::subject, o::tracker_id, o::part_id))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row.map(|(address, subject, tracker, part)| {
            let number = |id: Option<i32>| id.and_then(|id| u32::try_from(id).ok());
            let of = number(tracker).and_then(TrackerId::new).zip(number(part));
            OptOutAt { address, subject, of: of.map(|(tracker, part)| MessagesOf { tracker, part }) }
        }))
    }
}
