//! Files that wait for their import: whose they are, whichever server takes the next request.

use crate::{Store, Stored, json::int, schema};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use westerfall_core::id::PersonId;

/// A file that comes in pieces.
#[derive(Clone, Debug, Queryable)]
pub struct Arriving {
    pub name: String,
    size: i64,
    got: i64,
}

impl Arriving {
    /// How large it will be, in bytes.
    pub fn size(&self) -> u64 {
        self.size.unsigned_abs()
    }

    /// How much of it is here.
    pub fn got(&self) -> u64 {
        self.got.unsigned_abs()
    }
}

impl Store {
    /// Begins a file that will come in pieces.
    pub async fn begin_upload(&self, token: &str, owner: PersonId, name: &str, size: u64, at: Timestamp) -> Stored<()> {
        use schema::upload as u;
        let of = (u::token.eq(token), u::owner.eq(int(owner.get())), u::name.eq(name), u::at.eq(at.to_diesel()));
        let values = (of, u::size.eq(size.cast_signed()));
        diesel::insert_into(u::table).values(values).execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// How many files of somebody's wait or are on their way.
    pub async fn uploads_of(&self, owner: PersonId) -> Stored<i64> {
        use schema::upload as u;
        let of = u::table.filter(u::owner.eq(int(owner.get()))).count();
        Ok(of.get_result(&mut self.connection().await?).await?)
    }

    /// How far a file of somebody's has come.
    pub async fn arriving(&self, token: &str, owner: PersonId) -> Stored<Option<Arriving>> {
        use schema::upload as u;
        let row = u::table.find(token).filter(u::owner.eq(int(owner.get())).and(u::size.gt(0))).select((u::name, u::size, u::got));
        Ok(row.first(&mut self.connection().await?).await.optional()?)
    }

    /// Notes that a piece came, from one place of the file to another; false where it does not go on from there.
    pub async fn got_piece(&self, token: &str, from: u64, to: u64, at: Timestamp) -> Stored<bool> {
        use schema::upload as u;
        let goes_on = u::table.filter(u::token.eq(token).and(u::got.eq(from.cast_signed())));
        let set = (u::got.eq(to.cast_signed()), u::at.eq(at.to_diesel()));
        Ok(diesel::update(goes_on).set(set).execute(&mut self.connection().await?).await? == 1)
    }

    /// Notes a file that waits.
    pub async fn put_upload(&self, token: &str, owner: PersonId, name: &str, at: Timestamp) -> Stored<()> {
        use schema::upload as u;
        let values = (u::token.eq(token), u::owner.eq(int(owner.get())), u::name.eq(name), u::at.eq(at.to_diesel()));
        diesel::insert_into(u::table).values(values).execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// The name of a waiting file of somebody's.
    pub async fn upload(&self, token: &str, owner: PersonId) -> Stored<Option<String>> {
        use schema::upload as u;
        let row = u::table.find(token).filter(u::owner.eq(int(owner.get()))).select(u::name);
        Ok(row.first(&mut self.connection().await?).await.optional()?)
    }

    /// Forgets a waiting file.
    pub async fn drop_upload(&self, token: &str) -> Stored<()> {
        diesel::delete(schema::upload::table.find(token)).execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// Files that have waited since before a moment, with how many bytes came of each that comes in pieces.
    pub async fn old_uploads(&self, before: Timestamp) -> Stored<Vec<(String, u64)>> {
        use schema::upload as u;
        let old = u::table.filter(u::at.lt(before.to_diesel())).select((u::token, u::got));
        let old: Vec<(String, i64)> = old.load(&mut self.connection().await?).await?;
        Ok(old.into_iter().map(|(token, got)| (token, got.unsigned_abs())).collect())
    }
}
