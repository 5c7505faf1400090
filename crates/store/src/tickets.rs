//! Tickets: one-time ways in. Of each only the hash of its token is kept.

use crate::{Store, Stored, json::int, schema, team::person_id};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use westerfall_core::id::PersonId;

/// What a ticket lets somebody do, once.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Purpose {
    /// Come into the team.
    Invitation,
    /// Choose another password.
    Password,
    /// Sign in.
    Code,
    /// Show that mail to another address reaches them.
    NewAddress,
    /// Say at the old address that it was them who asked for another.
    OldAddress,
}

impl Purpose {
    /// As it is kept.
    pub fn word(self) -> &'static str {
        match self {
            Purpose::Invitation => "invitation",
            Purpose::Password => "password",
            Purpose::Code => "code",
            Purpose::NewAddress => "new address",
            Purpose::OldAddress => "old address",
        }
    }
}

/// A ticket, to be kept.
#[derive(Clone, Debug)]
pub struct NewTicket<'a> {
    pub token_hash: &'a [u8],
    pub person: PersonId,
    pub purpose: Purpose,
    /// What it is about: of a change of address, the new one.
    pub about: &'a str,
    pub made: Timestamp,
    pub expires: Timestamp,
}

/// A ticket that can still be used.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Ticket {
    pub person: PersonId,
    pub about: String,
}

/// How far somebody's last invitation has come.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct InvitationRow {
    pub person: PersonId,
    pub made: Timestamp,
    pub expires: Timestamp,
    pub opened: Option<Timestamp>,
    /// By mail, or handed over as a link.
    pub mailed: bool,
}

/// Tries at a code before it is worth nothing.
const TRIES: i32 = 5;

impl Store {
    /// Keeps a ticket; the same person's earlier ones of this purpose are worth nothing from here on.
    pub async fn give_ticket(&self, ticket: &NewTicket<'_>) -> Stored<()> {
        use schema::ticket as t;
        let mut connection = self.connection().await?;
        let person = int(ticket.person.get());
        let purpose = ticket.purpose.word();
        diesel::delete(t::table.filter(t::person_id.eq(person).and(t::purpose.eq(purpose)))).execute(&mut connection).await?;
        diesel::insert_into(t::table)
            .values((
                t::token_hash.eq(ticket.token_hash),
                t::person_id.eq(person),
                t::purpose.eq(purpose),
                t::about.eq(ticket.about),
                t::made_at.eq(ticket.made.to_diesel()),
                t::expires_at.eq(ticket.expires.to_diesel()),
            ))
            .execute(&mut connection)
            .await?;
        Ok(())
    }

    /// Whose a ticket is, if it can still be used. Looking is noted and uses it not.
    pub async fn ticket(&self, token_hash: &[u8], purpose: Purpose, now: Timestamp) -> Stored<Option<Ticket>> {
        use schema::ticket as t;
        let good = t::table.filter(
            t::token_hash
                .eq(token_hash)
                .and(t::purpose.eq(purpose.word()))
                .and(t::expires_at.gt(now.to_diesel()))
                .and(t::used_at.is_null()),
        );
        let mut connection = self.connection().await?;
        let row: Option<(i32, String, Option<jiff_diesel::Timestamp>)> =
            good.select((t::person_id, t::about, t::opened_at)).first(&mut connection).await.optional()?;
        let Some((person, about, opened)) = row else { return Ok(None) };
        if opened.is_none() {
            diesel::update(t::table.find(token_hash)).set(t::opened_at.eq(now.to_diesel())).execute(&mut connection).await?;
        }
        Ok(person_id(person).map(|person| Ticket { person, about }))
    }

    /// Uses a ticket: of all who try, one succeeds, once.
    pub async fn use_ticket(&self, token_hash: &[u8], purpose: Purpose, now: Timestamp) -> Stored<Option<Ticket>> {
        use schema::ticket as t;
        let good = t::table.filter(
            t::token_hash
                .eq(token_hash)
                .and(t::purpose.eq(purpose.word()))
                .and(t::expires_at.gt(now.to_diesel()))
                .and(t::used_at.is_null()),
        );
        let row: Option<(i32, String)> = diesel::update(good)
            .set(t::used_at.eq(now.to_diesel()))
            .returning((t::person_id, t::about))
            .get_result(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row.and_then(|(person, about)| Some(Ticket { person: person_id(person)?, about })))
    }

    /// Whether a ticket of somebody was used already, for this.
    pub async fn was_used(&self, person: PersonId, purpose: Purpose, about: &str) -> Stored<bool> {
        use schema::ticket as t;
        let used = t::table.filter(
            t::person_id.eq(int(person.get())).and(t::purpose.eq(purpose.word())).and(t::about.eq(about)).and(t::used_at.is_not_null()),
        );
        Ok(diesel::select(diesel::dsl::exists(used)).get_result(&mut self.connection().await?).await?)
    }

    /// Counts a try at somebody's code; false where there were too many already, or there is none. It takes as long where nobody is
    /// meant: nothing of it waits for the disk.
    pub async fn may_try_code(&self, person: Option<PersonId>) -> Stored<bool> {
        use schema::ticket as t;
        let own = t::table.filter(
            t::person_id
                .eq(person.map_or(0, |person| int(person.get())))
                .and(t::purpose.eq(Purpose::Code.word()))
                .and(t::used_at.is_null())
                .and(t::tries.lt(TRIES)),
        );
        let counting = async |c: &mut AsyncPgConnection| {
            crate::without_waiting(c).await?;
            diesel::update(own).set(t::tries.eq(t::tries + 1)).execute(c).await
        };
        let counted = (*self.connection().await?).transaction(counting).await?;
        Ok(counted > 0)
    }

    /// Takes back somebody's tickets of one purpose.
    pub async fn withdraw_tickets(&self, person: PersonId, purpose: Purpose) -> Stored<()> {
        use schema::ticket as t;
        let own = t::table.filter(t::person_id.eq(int(person.get())).and(t::purpose.eq(purpose.word())));
        diesel::delete(own).execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// How far everybody's invitation has come.
    pub async fn invitations(&self) -> Stored<Vec<InvitationRow>> {
        use schema::ticket as t;
        type Row = (i32, jiff_diesel::Timestamp, jiff_diesel::Timestamp, Option<jiff_diesel::Timestamp>, String);
        let rows: Vec<Row> = t::table
            .filter(t::purpose.eq(Purpose::Invitation.word()).and(t::used_at.is_null()))
            .select((t::person_id, t::made_at, t::expires_at, t::opened_at, t::about))
            .load(&mut self.connection().await?)
            .await?;
        let line = |(person, made, expires, opened, about): Row| {
            Some(InvitationRow {
                person: person_id(person)?,
                made: made.to_jiff(),
                expires: expires.to_jiff(),
                opened: opened.map(jiff_diesel::Timestamp::to_jiff),
                mailed: about == MAILED,
            })
        };
        Ok(rows.into_iter().filter_map(line).collect())
    }

    /// Takes away the tickets that are over.
    pub async fn clear_tickets(&self, now: Timestamp) -> Stored<usize> {
        use schema::ticket as t;
        let over = t::table.filter(t::expires_at.le(now.to_diesel()).and(t::purpose.ne(Purpose::Invitation.word())));
        Ok(diesel::delete(over).execute(&mut self.connection().await?).await?)
    }
}

/// What an invitation is about that goes by mail.
pub const MAILED: &str = "mailed";
