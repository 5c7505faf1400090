//! The outbox: the mails that runs cause and that the team writes, how far they have come, and what the post room received.

use crate::{Store, Stored, TEAM, json::Json, replies::put_asked, schema};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use jiff::{SignedDuration, Timestamp};
use jiff_diesel::ToDiesel;
use std::collections::BTreeMap;
use westerfall_core::{
    automation::{Asked, Message},
    id::{AutomationId, PersonId, RecordId, TableId, TrackerId},
    people::Channel,
};

/// Most rows of one statement.
const AT_ONCE: usize = 5_000;

/// How far a mail has come.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum JobState {
    /// To be sent when it is due.
    Waiting,
    /// A worker is talking to the mail server. If the process is killed now, nobody knows whether it was taken.
    HandingOver,
    Sent,
    /// It may have been taken or not; it is not sent again by itself.
    Unsure,
    /// Given up.
    Failed,
    /// Its reader said meanwhile that they want no more of them.
    Declined,
}

impl JobState {
    /// As kept and shown.
    pub fn word(self) -> &'static str {
        match self {
            JobState::Waiting => "waiting",
            JobState::HandingOver => "handing over",
            JobState::Sent => "sent",
            JobState::Unsure => "unsure",
            JobState::Failed => "failed",
            JobState::Declined => "declined",
        }
    }

    fn of(word: &str) -> Option<Self> {
        let states = [JobState::Waiting, JobState::HandingOver, JobState::Sent, JobState::Unsure, JobState::Failed, JobState::Declined];
        states.into_iter().find(|state| state.word() == word)
    }
}

/// A message that a worker has taken on.
#[derive(Clone, Debug)]
pub struct ClaimedMessage {
    pub job: i64,
    /// The record that set it going, or a table of which many did; none: it is the team's own.
    pub of: Option<(TrackerId, TableId, Option<RecordId>)>,
    /// The automation that writes it, where one does.
    pub automation: Option<AutomationId>,
    pub message: Message,
    /// This attempt included.
    pub attempts: i32,
    /// An earlier attempt was cut off, so that this message may be there already.
    pub cut_off: bool,
}

/// A message as the post room received it.
#[derive(Clone, Debug)]
pub struct Received {
    pub id: i64,
    pub message_id: String,
    pub received_at: Timestamp,
    /// By which way it came; none: it is the call of a web address.
    pub by: Option<Channel>,
    pub sender: String,
    pub recipient: String,
    pub subject: String,
    pub body: String,
}

/// A message that the post room is to keep.
#[derive(Clone, Debug)]
pub struct MessageToKeep {
    pub message_id: String,
    /// By which way it came; none: it is the call of a web address.
    pub by: Option<Channel>,
    pub sender: String,
    pub recipient: String,
    pub subject: String,
    pub body: String,
    pub raw: Vec<u8>,
}

const WAYS: [Option<Channel>; 4] = [Some(Channel::Mail), Some(Channel::Chat), Some(Channel::Text), None];

/// As it is kept by which way something came.
fn way_word(by: Option<Channel>) -> &'static str {
    match by {
        Some(Channel::Mail) => "mail",
        Some(Channel::Chat) => "chat",
        Some(Channel::Text) => "text",
        None => "call",
    }
}

/// Queues the messages of a run.
pub(crate) async fn put_mails(c: &mut AsyncPgConnection, tracker: i32, run: i64, mails: &[Message], due: Timestamp) -> QueryResult<()> {
    use schema::job;
    let row = |mail: &Message| {
        (
            job::tracker_id.eq(tracker),
            job::run_id.eq(run),
            job::key.eq(mail.key.clone()),
            job::mail.eq(Json(mail.clone())),
            job::state.eq(JobState::Waiting.word()),
            job::attempts.eq(0),
            job::due_at.eq(due.to_diesel()),
        )
    };
    for some in mails.chunks(AT_ONCE) {
        let rows: Vec<_> = some.iter().map(row).collect();
        let put = diesel::insert_into(job::table).values(rows).on_conflict((job::tracker_id, job::key)).do_nothing();
        let asking: BTreeMap<&str, &Asked> = some.iter().filter_map(|mail| Some((&*mail.key, &**mail.asks.as_ref()?))).collect();
        if asking.is_empty() {
            put.execute(c).await?;
            continue;
        }
        let queued: Vec<(i64, String)> = put.returning((job::id, job::key)).get_results(c).await?;
        let asked: Vec<_> = queued.iter().filter_map(|(id, key)| Some((*id, *asking.get(key.as_str())?))).collect();
        put_asked(c, tracker, &asked).await?;
    }
    Ok(())
}

/// Queues a mail of the team's own. The same cause sends one mail, so a later one takes the place of one that still waits.
pub(crate) async fn put_team_mail(c: &mut AsyncPgConnection, mail: &Message, now: Timestamp) -> QueryResult<()> {
    use schema::job;
    diesel::insert_into(job::table)
        .values((
            job::tracker_id.eq(TEAM),
            job::run_id.eq(0),
            job::key.eq(&mail.key),
            job::mail.eq(Json(mail)),
            job::state.eq(JobState::Waiting.word()),
            job::attempts.eq(0),
            job::due_at.eq(now.to_diesel()),
        ))
        .on_conflict((job::tracker_id, job::key))
        .do_nothing()
        .execute(c)
        .await?;
    Ok(())
}

/// With what the key of a letter begins that invites somebody.
pub fn invitation_kind(person: PersonId) -> String {
    format!("{INVITATION}{person}")
}

const INVITATION: &str = "invitation ";

/// How far the letter has come by which somebody was invited last.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Letter {
    pub state: JobState,
    /// What the mail server said.
    pub note: String,
}

impl Store {
    /// How far the letters have come by which people were invited.
    pub async fn invitation_letters(&self) -> Stored<BTreeMap<PersonId, Letter>> {
        use schema::job;
        let of_team = job::table.filter(job::tracker_id.eq(TEAM).and(job::key.like(format!("{INVITATION}%"))));
        let rows: Vec<(String, String, String)> =
            of_team.order(job::id).select((job::key, job::state, job::note)).load(&mut self.connection().await?).await?;
        let letter = |(key, state, note): (String, String, String)| {
            let person = key.strip_prefix(INVITATION)?.split(' ').next()?.parse().ok()?;
            Some((person, Letter { state: JobState::of(&state)?, note }))
        };
        Ok(rows.into_iter().filter_map(letter).collect())
    }
}

type JobRow = (i64, i32, i64, Json<Message>, String, i32);

impl Store {
    /// Takes on the next mail that is due, for at most `hold`: if nothing is heard by then, it counts as cut off.
    pub async fn claim_message(&self, now: Timestamp, hold: SignedDuration) -> Stored<Option<ClaimedMessage>> {
        use schema::{job, run};
        let mut connection = self.connection().await?;
        let claim = async |c: &mut AsyncPgConnection| {
            let due = job::table
                .filter(job::due_at.le(now.to_diesel()))
                .filter(job::state.eq_any([JobState::Waiting.word(), JobState::HandingOver.word()]))
                .order(job::due_at)
                .select((job::id, job::tracker_id, job::run_id, job::mail, job::state, job::attempts))
                .for_update()
                .skip_locked()
                .first::<JobRow>(c)
                .await
                .optional()?;
            let Some((id, tracker, run_id, mail, state, attempts)) = due else { return QueryResult::Ok(None) };
            diesel::update(job::table.find(id))
                .set((
                    job::state.eq(JobState::HandingOver.word()),
                    job::attempts.eq(attempts + 1),
                    job::due_at.eq((now + hold).to_diesel()),
                ))
                .execute(c)
                .await?;
            let run: Option<(i32, Option<i32>, i32)> =
                run::table.find((tracker, run_id)).select((run::table_id, run::record_id, run::automation_id)).first(c).await.optional()?;
            let automation = run.and_then(|(_, _, id)| AutomationId::new(u32::try_from(id).ok()?));
            Ok(Some((id, run.map(|(table, record, _)| (tracker, table, record)), automation, mail, state, attempts + 1)))
        };
        let row = (*connection).transaction(claim).await?;
        let of = |(tracker, table, record): (i32, i32, Option<i32>)| {
            let number = |n: i32| u32::try_from(n).ok();
            Some((TrackerId::new(number(tracker)?)?, TableId::new(number(table)?)?, record.and_then(number).and_then(RecordId::new)))
        };
        Ok(row.map(|(job, run, automation, mail, state, attempts)| ClaimedMessage {
            job,
            of: run.and_then(of),
            automation,
            message: mail.0,
            attempts,
            cut_off: state == JobState::HandingOver.word(),
        }))
    }

    /// How many mails wait, and how many were given up.
    pub async fn waiting_mails(&self) -> Stored<(i64, i64)> {
        use schema::job;
        let mut connection = self.connection().await?;
        let waiting = job::table.filter(job::state.eq_any([JobState::Waiting.word(), JobState::HandingOver.word()])).count();
        let failed = job::table.filter(job::state.eq_any([JobState::Failed.word(), JobState::Unsure.word()])).count();
        Ok((waiting.get_result(&mut connection).await?, failed.get_result(&mut connection).await?))
    }

    /// Notes how an attempt ended.
    pub async fn settle_message(&self, job: i64, state: JobState, due: Timestamp, note: &str) -> Stored<()> {
        use schema::job;
        let mut connection = self.connection().await?;
        diesel::update(job::table.find(job))
            .set((job::state.eq(state.word()), job::due_at.eq(due.to_diesel()), job::note.eq(note)))
            .execute(&mut connection)
            .await?;
        // What lets somebody in stands nowhere once it has gone out, or was given up.
        if !matches!(state, JobState::Waiting | JobState::HandingOver) {
            let forget = "UPDATE job SET mail = jsonb_set(mail::jsonb, '{body}', '\"\"')::json WHERE id = $1 AND tracker_id = $2";
            let forget = diesel::sql_query(forget).bind::<diesel::sql_types::BigInt, _>(job).bind::<diesel::sql_types::Integer, _>(TEAM);
            forget.execute(&mut connection).await?;
        }
        Ok(())
    }

    /// Lets a message wait that was not tried: the attempt does not count.
    pub async fn hold_message(&self, job: i64, until: Timestamp, note: &str) -> Stored<()> {
        use schema::job;
        let waits = (
            job::state.eq(JobState::Waiting.word()),
            job::due_at.eq(until.to_diesel()),
            job::note.eq(note),
            job::attempts.eq(job::attempts - 1),
        );
        diesel::update(job::table.find(job)).set(waits).execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// Puts a mail of a tracker's runs that was given up, or of which nobody knows, on its way again; false where there is none.
    pub async fn send_again(&self, tracker: TrackerId, job: i64, now: Timestamp) -> Stored<bool> {
        use schema::job as j;
        let lost = j::table
            .filter(j::id.eq(job).and(j::tracker_id.eq(crate::json::int(tracker.get()))))
            .filter(j::state.eq_any([JobState::Failed.word(), JobState::Unsure.word()]));
        let again =
            (j::state.eq(JobState::Waiting.word()), j::attempts.eq(0), j::due_at.eq(now.to_diesel()), j::note.eq("Sent again by hand."));
        Ok(diesel::update(lost).set(again).execute(&mut self.connection().await?).await? > 0)
    }

    /// Keeps a mail that the post room received.
    pub async fn keep_message(&self, message: &MessageToKeep, now: Timestamp) -> Stored<()> {
        use schema::message;
        diesel::insert_into(message::table)
            .values((
                message::message_id.eq(&message.message_id),
                message::came_by.eq(way_word(message.by)),
                message::received_at.eq(now.to_diesel()),
                message::sender.eq(&message.sender),
                message::recipient.eq(&message.recipient),
                message::subject.eq(&message.subject),
                message::body.eq(&message.body),
                message::raw.eq(&message.raw),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Whether the post room has a message with this Message-ID.
    pub async fn has_message(&self, message_id: &str) -> Stored<bool> {
        use schema::message;
        let found = diesel::select(diesel::dsl::exists(message::table.filter(message::message_id.eq(message_id))));
        Ok(found.get_result(&mut self.connection().await?).await?)
    }

    /// A mail as it came over the line.
    pub async fn raw_message(&self, id: i64) -> Stored<Option<Vec<u8>>> {
        use schema::message;
        Ok(message::table.find(id).select(message::raw).first(&mut self.connection().await?).await.optional()?)
    }

    /// The last mails that the post room received, latest first.
    pub async fn messages(&self, most: i64) -> Stored<Vec<Received>> {
        use schema::message;
        type Row = (i64, String, jiff_diesel::Timestamp, String, String, String, String, String);
        let rows: Vec<Row> = message::table
            .order(message::id.desc())
            .limit(most)
            .select((
                message::id,
                message::message_id,
                message::received_at,
                message::came_by,
                message::sender,
                message::recipient,
                message::subject,
                message::body,
            ))
            .load(&mut self.connection().await?)
            .await?;
        let message = |(id, message_id, received_at, by, sender, recipient, subject, body): Row| Received {
            id,
            message_id,
            received_at: received_at.to_jiff(),
            by: WAYS.into_iter().find(|way| way_word(*way) == by).flatten(),
            sender,
            recipient,
            subject,
            body,
        };
        Ok(rows.into_iter().map(message).collect())
    }
}
