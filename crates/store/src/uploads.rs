//! Files that wait for their import: whose they are, whichever server takes the next request.

use crate::{Store, Stored, json::int, schema};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use westerfall_core::id::PersonId;

impl Store {
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

    /// Files that have waited since before a moment.
    pub async fn old_uploads(&self, before: Timestamp) -> Stored<Vec<String>> {
        use schema::upload as u;
        let old = u::table.filter(u::at.lt(before.to_diesel())).select(u::token);
        Ok(old.load(&mut self.connection().await?).await?)
    }
}
