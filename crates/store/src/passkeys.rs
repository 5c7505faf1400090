//! Passkeys: what devices prove themselves with, and what was asked of one and is not answered yet.

use crate::{
    Store, Stored,
    json::{Json, int},
    schema,
    team::person_id,
};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use serde_json::Value;
use westerfall_core::id::PersonId;

/// A passkey of somebody.
#[derive(Clone, Debug, PartialEq)]
pub struct PasskeyRow {
    pub credential: Vec<u8>,
    pub person: PersonId,
    /// What they call it.
    pub name: String,
    /// As the package that checks it keeps it.
    pub body: Value,
    pub made: Timestamp,
    pub used: Option<Timestamp>,
}

type Row = (Vec<u8>, i32, String, Json<Value>, jiff_diesel::Timestamp, Option<jiff_diesel::Timestamp>);

fn row((credential, person, name, Json(body), made, used): Row) -> Option<PasskeyRow> {
    let used = used.map(jiff_diesel::Timestamp::to_jiff);
    Some(PasskeyRow { credential, person: person_id(person)?, name, body, made: made.to_jiff(), used })
}

impl Store {
    /// Somebody's passkeys, the first first.
    pub async fn passkeys_of(&self, person: PersonId) -> Stored<Vec<PasskeyRow>> {
        use schema::passkey as p;
        let own = p::table.filter(p::person_id.eq(int(person.get()))).order(p::made_at);
        let rows: Vec<Row> = own.load(&mut self.connection().await?).await?;
        Ok(rows.into_iter().filter_map(row).collect())
    }

    /// The passkey of this number, whoever's it is.
    pub async fn passkey(&self, credential: &[u8]) -> Stored<Option<PasskeyRow>> {
        use schema::passkey as p;
        let found: Option<Row> = p::table.find(credential).first(&mut self.connection().await?).await.optional()?;
        Ok(found.and_then(row))
    }

    /// Keeps a passkey; false where it is somebody's already.
    pub async fn keep_passkey(&self, key: &PasskeyRow) -> Stored<bool> {
        use schema::passkey as p;
        let kept = diesel::insert_into(p::table)
            .values((
                p::credential_id.eq(&key.credential),
                p::person_id.eq(int(key.person.get())),
                p::name.eq(&key.name),
                p::body.eq(Json(&key.body)),
                p::made_at.eq(key.made.to_diesel()),
            ))
            .on_conflict_do_nothing()
            .execute(&mut self.connection().await?)
            .await?;
        Ok(kept == 1)
    }

    /// Notes that somebody came in by a passkey, which may count how often.
    pub async fn passkey_used(&self, credential: &[u8], body: &Value, now: Timestamp) -> Stored<()> {
        use schema::passkey as p;
        diesel::update(p::table.find(credential))
            .set((p::body.eq(Json(body)), p::used_at.eq(now.to_diesel())))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Takes away a passkey of somebody; false where they have none of this number.
    pub async fn drop_passkey(&self, person: PersonId, credential: &[u8]) -> Stored<bool> {
        use schema::passkey as p;
        let own = p::table.filter(p::person_id.eq(int(person.get())).and(p::credential_id.eq(credential)));
        Ok(diesel::delete(own).execute(&mut self.connection().await?).await? == 1)
    }

    /// Keeps what was asked of a device until it answers.
    pub async fn ask_passkey(
        &self,
        token_hash: &[u8],
        person: Option<PersonId>,
        body: &Value,
        now: Timestamp,
        until: Timestamp,
    ) -> Stored<()> {
        use schema::passkey_asked as a;
        let mut connection = self.connection().await?;
        diesel::delete(a::table.filter(a::expires_at.le(now.to_diesel()))).execute(&mut connection).await?;
        diesel::insert_into(a::table)
            .values((
                a::token_hash.eq(token_hash),
                a::person_id.eq(person.map(|person| int(person.get()))),
                a::body.eq(Json(body)),
                a::expires_at.eq(until.to_diesel()),
            ))
            .execute(&mut connection)
            .await?;
        Ok(())
    }

    /// What was asked, once: of the same person, or of nobody.
    pub async fn passkey_asked(&self, token_hash: &[u8], person: Option<PersonId>, now: Timestamp) -> Stored<Option<Value>> {
        use schema::passkey_asked as a;
        let taken: Option<(Option<i32>, Json<Value>, jiff_diesel::Timestamp)> = diesel::delete(a::table.find(token_hash))
            .returning((a::person_id, a::body, a::expires_at))
            .get_result(&mut self.connection().await?)
            .await
            .optional()?;
        let good = taken.filter(|(of, _, until)| *of == person.map(|person| int(person.get())) && until.to_jiff() > now);
        Ok(good.map(|(_, Json(body), _)| body))
    }
}
