//! People and their sessions.

use crate::{Store, Stored, json::int, schema};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use westerfall_core::{
    id::PersonId,
    people::{People, Person},
};

/// A person with what signing in needs.
#[derive(Clone, Debug)]
pub struct Account {
    pub person: Person,
    pub password_hash: Option<String>,
    /// What they do, in a few words.
    pub about: String,
}

/// Who is signed in, and for whom they stand in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct SessionRow {
    pub person: PersonId,
    pub stands_in: Option<PersonId>,
}

fn person_id(id: i32) -> Option<PersonId> {
    PersonId::new(id.try_into().ok()?)
}

type AccountRow = (i32, String, String, Option<String>, String);

fn account((id, name, mail, password_hash, about): AccountRow) -> Option<Account> {
    Some(Account { person: Person { id: person_id(id)?, name, mail }, password_hash, about })
}

impl Store {
    /// Everybody, with what signing in needs.
    pub async fn accounts(&self) -> Stored<Vec<Account>> {
        let rows: Vec<AccountRow> = schema::person::table.order(schema::person::id).load(&mut self.connection().await?).await?;
        Ok(rows.into_iter().filter_map(account).collect())
    }

    /// Everybody, as trackers know them.
    pub async fn people(&self) -> Stored<People> {
        Ok(People::new(self.accounts().await?.into_iter().map(|a| a.person)))
    }

    /// Whoever signs in with this address, whatever its capitals.
    pub async fn account(&self, mail: &str) -> Stored<Option<Account>> {
        use schema::person;
        define_sql_function! { fn lower(text: diesel::sql_types::Text) -> diesel::sql_types::Text; }
        let row: Option<AccountRow> = person::table
            .filter(lower(person::mail).eq(mail.trim().to_lowercase()))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row.and_then(account))
    }

    /// Adds a person.
    pub async fn add_account(&self, account: &Account) -> Stored<()> {
        use schema::person;
        diesel::insert_into(person::table)
            .values((
                person::id.eq(int(account.person.id.get())),
                person::name.eq(&account.person.name),
                person::mail.eq(&account.person.mail),
                person::password_hash.eq(&account.password_hash),
                person::about.eq(&account.about),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Begins a session.
    pub async fn open_session(&self, token_hash: &[u8], person: PersonId, now: Timestamp, until: Timestamp) -> Stored<()> {
        use schema::session;
        diesel::insert_into(session::table)
            .values((
                session::token_hash.eq(token_hash),
                session::person_id.eq(int(person.get())),
                session::created_at.eq(now.to_diesel()),
                session::expires_at.eq(until.to_diesel()),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// The session of a token, if it has not ended.
    pub async fn session(&self, token_hash: &[u8], now: Timestamp) -> Stored<Option<SessionRow>> {
        use schema::session;
        let row: Option<(i32, Option<i32>)> = session::table
            .find(token_hash)
            .filter(session::expires_at.gt(now.to_diesel()))
            .select((session::person_id, session::stands_in))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row.and_then(|(person, stands_in)| Some(SessionRow { person: person_id(person)?, stands_in: stands_in.and_then(person_id) })))
    }

    /// Stands in for a person, or for nobody.
    pub async fn stand_in(&self, token_hash: &[u8], person: Option<PersonId>) -> Stored<()> {
        use schema::session;
        diesel::update(session::table.find(token_hash))
            .set(session::stands_in.eq(person.map(|p| int(p.get()))))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Takes away the sessions that have ended by themselves.
    pub async fn clear_sessions(&self, now: Timestamp) -> Stored<usize> {
        use schema::session;
        let ended = diesel::delete(session::table.filter(session::expires_at.le(now.to_diesel())));
        Ok(ended.execute(&mut self.connection().await?).await?)
    }

    /// Ends a session.
    pub async fn close_session(&self, token_hash: &[u8]) -> Stored<()> {
        diesel::delete(schema::session::table.find(token_hash)).execute(&mut self.connection().await?).await?;
        Ok(())
    }
}
