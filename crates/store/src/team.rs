//! The team: its log and parts, kept beside the trackers' under number 0; what signing in needs; sessions.

use crate::{
    Store, StoreError, Stored, TEAM,
    json::{Json, Raw, int},
    schema,
};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use std::collections::BTreeMap;
use westerfall_core::{
    automation::Message,
    id::{PersonId, TrackerId},
    people::Person,
    team::{Team, TeamChange, TeamPart},
    upgrade::{FORMAT, Kept},
};

/// What signing in needs to know of somebody.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Account {
    pub person: PersonId,
    pub password_hash: Option<String>,
}

/// Who is signed in, and for whom they stand in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct SessionRow {
    pub person: PersonId,
    pub stands_in: Option<PersonId>,
    /// When something was last asked by it, to a few minutes.
    pub used: Option<Timestamp>,
}

/// One of somebody's sessions, as they are listed.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SessionLine {
    pub token_hash: Vec<u8>,
    pub begun: Timestamp,
    /// When something was last asked by it, to the minute.
    pub used: Timestamp,
    /// What the browser said of itself.
    pub device: String,
}

pub(crate) fn person_id(id: i32) -> Option<PersonId> {
    PersonId::new(id.try_into().ok()?)
}

impl Store {
    /// The team as it stands.
    pub async fn load_team(&self) -> Stored<Team> {
        let mut connection = self.connection().await?;
        let read = async |c: &mut AsyncPgConnection| {
            let seq: i64 = schema::tracker::table.find(TEAM).select(schema::tracker::seq).first(c).await?;
            let parts: Vec<(Raw, i16)> = schema::part::table
                .filter(schema::part::tracker_id.eq(TEAM))
                .select((schema::part::body, schema::part::format))
                .load(c)
                .await?;
            Ok::<_, StoreError>((seq, parts))
        };
        let (seq, parts) = connection.build_transaction().repeatable_read().read_only().run(read).await?;
        let mut team = Team::at(seq.cast_unsigned());
        for (body, format) in parts {
            team.load_part(body.read(Kept::TeamPart, format)?);
        }
        Ok(team)
    }

    /// Keeps a change of the team: log, parts, what signing in needs, the mails that go with it; all of it, or nothing.
    ///
    /// # Errors
    /// [`StoreError::MovedOn`] where another process changed it first.
    pub async fn commit_team(&self, from: u64, change: &TeamChange) -> Stored<()> {
        let mut connection = self.connection().await?;
        let all = async |c: &mut AsyncPgConnection| {
            use schema::{change as log, tracker as t};
            let moved = diesel::update(t::table.filter(t::id.eq(TEAM).and(t::seq.eq(from.cast_signed()))))
                .set(t::seq.eq(change.seq.cast_signed()))
                .execute(c)
                .await?;
            if moved == 0 {
                return Ok(false);
            }
            diesel::insert_into(log::table)
                .values((
                    log::tracker_id.eq(TEAM),
                    log::seq.eq(change.seq.cast_signed()),
                    log::at.eq(change.at.to_diesel()),
                    log::body.eq(Json(change)),
                    log::format.eq(FORMAT),
                ))
                .execute(c)
                .await?;
            for op in &change.ops {
                put_part(c, op.before.as_ref(), op.after.as_ref()).await?;
            }
            diesel::sql_query(format!("SELECT pg_notify('committed', '{TEAM}:{}')", change.seq)).execute(c).await?;
            QueryResult::Ok(true)
        };
        match (*connection).transaction(all).await {
            Ok(true) => Ok(()),
            Ok(false) => Err(StoreError::MovedOn),
            Err(error) => Err(StoreError::of(error)),
        }
    }

    /// Where the team's log stands.
    pub async fn team_seq(&self) -> Stored<u64> {
        let seq: i64 = schema::tracker::table.find(TEAM).select(schema::tracker::seq).first(&mut self.connection().await?).await?;
        Ok(seq.cast_unsigned())
    }

    /// One change of the team's log.
    pub async fn team_change(&self, seq: u64) -> Stored<Option<TeamChange>> {
        use schema::change;
        let row: Option<(Raw, i16)> = change::table
            .find((TEAM, seq.cast_signed()))
            .select((change::body, change::format))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row.map(|(body, format)| body.read(Kept::TeamChange, format)).transpose()?)
    }

    /// Notes what was handed over in trackers with a change of the team.
    pub async fn note_handed(&self, team_seq: u64, handed: &[(TrackerId, u64)]) -> Stored<()> {
        use schema::handed as h;
        let row = |(tracker, seq): &(TrackerId, u64)| {
            (h::team_seq.eq(team_seq.cast_signed()), h::tracker_id.eq(int(tracker.get())), h::seq.eq(seq.cast_signed()))
        };
        let rows: Vec<_> = handed.iter().map(row).collect();
        diesel::insert_into(h::table).values(rows).on_conflict_do_nothing().execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// What was handed over in trackers with a change of the team.
    pub async fn handed(&self, team_seq: u64) -> Stored<Vec<(TrackerId, u64)>> {
        use schema::handed as h;
        let with = h::table.filter(h::team_seq.eq(team_seq.cast_signed())).order(h::tracker_id).select((h::tracker_id, h::seq));
        let rows: Vec<(i32, i64)> = with.load(&mut self.connection().await?).await?;
        Ok(rows.into_iter().filter_map(|(id, seq)| Some((TrackerId::new(id.try_into().ok()?)?, seq.cast_unsigned()))).collect())
    }

    /// The last changes of the team, latest first.
    pub async fn team_log(&self, most: i64) -> Stored<Vec<TeamChange>> {
        use schema::change;
        let rows: Vec<(Raw, i16)> = change::table
            .filter(change::tracker_id.eq(TEAM))
            .order(change::seq.desc())
            .limit(most)
            .select((change::body, change::format))
            .load(&mut self.connection().await?)
            .await?;
        rows.into_iter().map(|(body, format)| Ok(body.read(Kept::TeamChange, format)?)).collect()
    }

    /// Whoever signs in with this address, whatever its capitals.
    pub async fn account(&self, mail: &str) -> Stored<Option<Account>> {
        use schema::account;
        define_sql_function! { fn lower(text: diesel::sql_types::Nullable<diesel::sql_types::Text>) -> diesel::sql_types::Nullable<diesel::sql_types::Text>; }
        let row: Option<(i32, Option<String>)> = account::table
            .filter(lower(account::mail).eq(mail.trim().to_lowercase()))
            .select((account::person_id, account::password_hash))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row.and_then(|(id, password_hash)| Some(Account { person: person_id(id)?, password_hash })))
    }

    /// The hash of somebody's password, if they have one.
    pub async fn password_of(&self, person: PersonId) -> Stored<Option<String>> {
        use schema::account;
        let own = account::table.find(int(person.get())).select(account::password_hash);
        Ok(own.first(&mut self.connection().await?).await.optional()?.flatten())
    }

    /// Whether anybody can sign in with a password: until then a team is only being begun.
    pub async fn is_begun(&self) -> Stored<bool> {
        use schema::account;
        let known = account::table.filter(account::password_hash.is_not_null());
        Ok(diesel::select(diesel::dsl::exists(known)).get_result(&mut self.connection().await?).await?)
    }

    /// Another password of somebody; their sessions end, but for the one by which they chose it.
    pub async fn set_password(&self, person: PersonId, hash: &str, but: Option<&[u8]>) -> Stored<Vec<Vec<u8>>> {
        use schema::account;
        let mut connection = self.connection().await?;
        let all = async |c: &mut AsyncPgConnection| {
            diesel::update(account::table.find(int(person.get()))).set(account::password_hash.eq(hash)).execute(c).await?;
            close_sessions(c, person, but).await
        };
        Ok((*connection).transaction(all).await?)
    }

    /// Begins a session.
    pub async fn open_session(&self, token_hash: &[u8], person: PersonId, device: &str, now: Timestamp, until: Timestamp) -> Stored<()> {
        use schema::session;
        diesel::insert_into(session::table)
            .values((
                session::token_hash.eq(token_hash),
                session::person_id.eq(int(person.get())),
                session::device.eq(device),
                session::created_at.eq(now.to_diesel()),
                session::used_at.eq(now.to_diesel()),
                session::expires_at.eq(until.to_diesel()),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// The session of a token, if it has not ended.
    pub async fn session(&self, token_hash: &[u8], now: Timestamp) -> Stored<Option<SessionRow>> {
        use schema::session;
        let row: Option<(i32, Option<i32>, Option<jiff_diesel::Timestamp>)> = session::table
            .find(token_hash)
            .filter(session::expires_at.gt(now.to_diesel()))
            .select((session::person_id, session::stands_in, session::used_at))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(row.and_then(|(person, stands_in, used)| {
            let used = used.map(jiff_diesel::Timestamp::to_jiff);
            Some(SessionRow { person: person_id(person)?, stands_in: stands_in.and_then(person_id), used })
        }))
    }

    /// Notes that a session is in use; not more often than each few minutes, so that looking costs no writing.
    pub async fn session_used(&self, token_hash: &[u8], now: Timestamp) -> Stored<()> {
        use schema::session;
        diesel::update(session::table.find(token_hash))
            .set(session::used_at.eq(now.to_diesel()))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Somebody's sessions that have not ended, the last used first.
    pub async fn sessions_of(&self, person: PersonId, now: Timestamp) -> Stored<Vec<SessionLine>> {
        use schema::session;
        let rows: Vec<(Vec<u8>, jiff_diesel::Timestamp, Option<jiff_diesel::Timestamp>, String)> = session::table
            .filter(session::person_id.eq(int(person.get())).and(session::expires_at.gt(now.to_diesel())))
            .order((session::used_at.desc().nulls_last(), session::created_at.desc()))
            .select((session::token_hash, session::created_at, session::used_at, session::device))
            .load(&mut self.connection().await?)
            .await?;
        let line = |(token_hash, begun, used, device): (Vec<u8>, jiff_diesel::Timestamp, Option<jiff_diesel::Timestamp>, String)| {
            let begun = begun.to_jiff();
            SessionLine { token_hash, begun, used: used.map_or(begun, jiff_diesel::Timestamp::to_jiff), device }
        };
        Ok(rows.into_iter().map(line).collect())
    }

    /// When each person was last seen, as far as that is known.
    pub async fn last_seen(&self) -> Stored<BTreeMap<PersonId, Timestamp>> {
        use schema::{session, visit};
        type Seen = Vec<(i32, Option<jiff_diesel::Timestamp>)>;
        let mut connection = self.connection().await?;
        let visits: Seen =
            visit::table.group_by(visit::person_id).select((visit::person_id, diesel::dsl::max(visit::at))).load(&mut connection).await?;
        let used: Seen = session::table
            .group_by(session::person_id)
            .select((session::person_id, diesel::dsl::max(session::used_at)))
            .load(&mut connection)
            .await?;
        let mut seen = BTreeMap::new();
        for (person, at) in visits.into_iter().chain(used) {
            if let (Some(person), Some(at)) = (person_id(person), at) {
                let last = seen.entry(person).or_insert(at.to_jiff());
                *last = (*last).max(at.to_jiff());
            }
        }
        Ok(seen)
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

    /// Ends all sessions of somebody, but for one; those that ended, by the hash of their token.
    pub async fn close_sessions(&self, person: PersonId, but: Option<&[u8]>) -> Stored<Vec<Vec<u8>>> {
        Ok(close_sessions(&mut *self.connection().await?, person, but).await?)
    }

    /// Queues a mail of the team's own, which is of no record.
    pub async fn queue_team_mail(&self, mail: &Message, now: Timestamp) -> Stored<()> {
        crate::outbox::put_team_mail(&mut *self.connection().await?, mail, now).await?;
        Ok(())
    }
}

async fn close_sessions(c: &mut AsyncPgConnection, person: PersonId, but: Option<&[u8]>) -> QueryResult<Vec<Vec<u8>>> {
    use schema::session;
    let own = session::table.filter(session::person_id.eq(int(person.get())).and(session::token_hash.ne(but.unwrap_or_default())));
    diesel::delete(own).returning(session::token_hash).get_results(c).await
}

async fn put_part(c: &mut AsyncPgConnection, before: Option<&TeamPart>, after: Option<&TeamPart>) -> QueryResult<()> {
    use schema::part;
    let Some(after) = after else {
        if let Some((sort, number)) = before.map(TeamPart::key) {
            diesel::delete(part::table.find((TEAM, sort, int(number)))).execute(c).await?;
        }
        return Ok(());
    };
    let (sort, number) = after.key();
    diesel::insert_into(part::table)
        .values((
            part::tracker_id.eq(TEAM),
            part::sort.eq(sort),
            part::number.eq(int(number)),
            part::body.eq(Json(after)),
            part::format.eq(FORMAT),
        ))
        .on_conflict((part::tracker_id, part::sort, part::number))
        .do_update()
        .set((part::body.eq(Json(after)), part::format.eq(FORMAT)))
        .execute(c)
        .await?;
    if let TeamPart::Person(person) = after { put_account(c, person).await } else { Ok(()) }
}

/// Whoever has left has no address to sign in with, no password, no passkey and no session.
async fn put_account(c: &mut AsyncPgConnection, person: &Person) -> QueryResult<()> {
    use schema::{account, passkey, ticket};
    let id = int(person.id.get());
    let mail = Some(&person.mail).filter(|mail| !mail.is_empty() && !person.has_left());
    diesel::insert_into(account::table)
        .values((account::person_id.eq(id), account::mail.eq(mail)))
        .on_conflict(account::person_id)
        .do_update()
        .set(account::mail.eq(mail))
        .execute(c)
        .await?;
    if person.has_left() {
        close_sessions(c, person.id, None).await?;
        diesel::update(account::table.find(id)).set(account::password_hash.eq(None::<String>)).execute(c).await?;
        diesel::delete(ticket::table.filter(ticket::person_id.eq(id))).execute(c).await?;
        diesel::delete(passkey::table.filter(passkey::person_id.eq(id))).execute(c).await?;
    }
    Ok(())
}
