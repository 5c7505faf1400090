//! Templates that the team published.

use crate::{
    Store, Stored,
    json::int,
    json::{Json, Raw},
    schema,
};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff_diesel::ToDiesel;
use westerfall_core::{
    id::PersonId,
    pack::Pack,
    upgrade::{FORMAT, Kept},
};

/// A published template, without its body.
#[derive(Clone, Debug, Queryable)]
pub struct TemplateRow {
    pub id: i32,
    pub title: String,
    pub description: String,
    pub icon: String,
    pub hue: String,
    pub published_by: i32,
}

/// What is published.
#[derive(Debug)]
pub struct NewTemplate<'a> {
    pub title: &'a str,
    pub description: &'a str,
    pub icon: &'a str,
    pub hue: &'a str,
    pub by: PersonId,
    pub at: jiff::Timestamp,
    pub body: &'a Pack,
}

impl Store {
    /// Every published template, the latest first.
    pub async fn templates(&self) -> Stored<Vec<TemplateRow>> {
        use schema::template as t;
        let rows = t::table.order(t::id.desc()).select((t::id, t::title, t::description, t::icon, t::hue, t::published_by));
        Ok(rows.load(&mut self.connection().await?).await?)
    }

    /// What a published template holds.
    pub async fn template(&self, id: i32) -> Stored<Option<Pack>> {
        use schema::template as t;
        let row: Option<(Raw, i16)> =
            t::table.find(id).select((t::body, t::format)).first(&mut self.connection().await?).await.optional()?;
        Ok(row.map(|(body, format)| body.read(Kept::Pack, format)).transpose()?)
    }

    /// Publishes a template, and gives its number.
    pub async fn publish(&self, new: NewTemplate<'_>) -> Stored<i32> {
        use schema::template as t;
        let values = (
            t::title.eq(new.title),
            t::description.eq(new.description),
            t::icon.eq(new.icon),
            t::hue.eq(new.hue),
            t::published_by.eq(int(new.by.get())),
            t::published_at.eq(new.at.to_diesel()),
            t::body.eq(Json(new.body)),
            t::format.eq(FORMAT),
        );
        Ok(diesel::insert_into(t::table).values(values).returning(t::id).get_result(&mut self.connection().await?).await?)
    }

    /// Takes a template back; trackers that were begun from it stay.
    pub async fn drop_template(&self, id: i32) -> Stored<()> {
        diesel::delete(schema::template::table.find(id)).execute(&mut self.connection().await?).await?;
        Ok(())
    }
}
