//! PostgreSQL through Diesel, and files. Keeps what core decided; knows no rules.

mod calendars;
mod calls;
mod drafts;
mod emptied;
mod files;
mod forms;
mod home;
mod inbox;
mod json;
mod log;
mod opt_outs;
mod outbox;
mod pace;
mod pages;
mod passkeys;
mod places;
mod records;
mod replies;
mod runs;
mod schema;
mod talk;
mod tasks;
mod team;
mod template;
mod texts;
mod tickets;
mod tracker;
mod uploads;

pub use calendars::{CalendarAddress, CalendarAt};
pub use calls::ClaimedCall;
pub use drafts::{Draft, DraftCells, LineInDraft, MOST_DRAFTS};
pub use files::Files;
pub use forms::WayLine;
pub use inbox::NoticeRow;
pub use opt_outs::OptOutAt;
pub use outbox::{ClaimedMessage, JobState, Letter, MessageToKeep, Received, invitation_kind};
pub use pace::PaceOf;
pub use pages::{NewPageSession, PageAt, PageSession, PageVisits};
pub use passkeys::PasskeyRow;
pub use replies::ReplyRow;
pub use runs::{RunMail, RunRow};
pub use talk::{Attention, TalkAt};
pub use team::{Account, SessionLine, SessionRow};
pub use template::{NewTemplate, TemplateRow};
pub use texts::Unread;
pub use tickets::{InvitationRow, MAILED, NewTicket, Purpose, Ticket};
pub use tracker::{FileRow, Write};
pub use uploads::Arriving;

use diesel::result::{DatabaseErrorKind, Error as DieselError};
use diesel_async::{
    AsyncConnection, AsyncMigrationHarness, AsyncPgConnection,
    pooled_connection::{
        AsyncDieselConnectionManager, ManagerConfig, PoolError, PoolableConnection, RecyclingMethod,
        deadpool::{Hook, HookError, Object, Pool},
    },
};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use std::time::Duration;

/// How long one waits for a connection.
const PATIENCE: Duration = Duration::from_secs(5);
/// How long a connection lies idle until it is asked whether it is still there.
const IDLE: Duration = Duration::from_secs(1);
/// How long the database may take to say that it is there.
const READY: Duration = Duration::from_secs(2);

/// As which the team is kept where trackers are: a number that none of them has.
const TEAM: i32 = 0;

/// The channel on which servers tell each other who is where.
pub const PRESENT: &str = "present";

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();

/// The database of one team.
#[derive(Clone)]
pub struct Store {
    pool: Pool<AsyncPgConnection>,
    url: String,
}

/// What can go wrong with the database.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// Another process changed the tracker first: read what it did and decide again.
    #[error("the tracker has moved on")]
    MovedOn,
    /// Another form or page has this address.
    #[error("the address is taken")]
    LinkTaken,
    /// This request's key was used by a change already.
    #[error("this was sent before")]
    SentBefore,
    #[error("the database refused: {0}")]
    Database(#[from] DieselError),
    #[error("no connection to the database: {0}")]
    Connection(String),
    /// Something that was kept can't be read any more.
    #[error("what was kept can’t be read: {0}")]
    Unreadable(#[from] westerfall_core::upgrade::Unreadable),
    #[error("the file store refused: {0}")]
    Files(#[from] object_store::Error),
}

impl StoreError {
    /// Whether the database could not be asked at all, or went away while it was: what became of it is not known.
    pub fn is_of_connection(&self) -> bool {
        match self {
            StoreError::Connection(_) => true,
            StoreError::Database(DieselError::DatabaseError(kind, _)) => {
                matches!(kind, DatabaseErrorKind::ClosedConnection | DatabaseErrorKind::UnableToSendCommand)
            }
            StoreError::Database(DieselError::BrokenTransactionManager) => true,
            _ => false,
        }
    }

    /// Tells what a violated constraint means, by its name.
    fn of(error: DieselError) -> Self {
        match &error {
            DieselError::DatabaseError(DatabaseErrorKind::UniqueViolation, info) => match info.constraint_name() {
                Some("change_key") => StoreError::SentBefore,
                Some("change_pkey") => StoreError::MovedOn,
                Some("form_link_pkey" | "page_link_pkey") => StoreError::LinkTaken,
                _ => StoreError::Database(error),
            },
            _ => StoreError::Database(error),
        }
    }
}

/// Has the disk not waited for in this transaction: for what may be lost with the machine, and must not tell by its time what it found.
async fn without_waiting(connection: &mut AsyncPgConnection) -> diesel::QueryResult<usize> {
    use diesel_async::RunQueryDsl;
    diesel::sql_query("SET LOCAL synchronous_commit TO off").execute(connection).await
}

/// The result of anything that asks the database.
pub type Stored<T> = Result<T, StoreError>;

/// A connection that was just used is taken to be there: asking it each time costs every edit two ways to the database. One that lay
/// idle is asked first.
fn asked_after_idleness() -> Hook<AsyncPgConnection> {
    Hook::async_fn(|connection: &mut AsyncPgConnection, metrics| {
        Box::pin(async move {
            if metrics.last_used() < IDLE {
                return Ok(());
            }
            connection.ping(&RecyclingMethod::Verified).await.map_err(|error| HookError::Backend(PoolError::QueryError(error)))
        })
    })
}

impl Store {
    /// Connects and brings the tables up to date. Needs a runtime with several threads.
    pub async fn open(url: &str) -> Stored<Self> {
        let connection = AsyncPgConnection::establish(url).await.map_err(|e| StoreError::Connection(e.to_string()))?;
        AsyncMigrationHarness::new(connection)
            .run_pending_migrations(MIGRATIONS)
            .map_err(|e| StoreError::Connection(format!("the tables could not be brought up to date: {e}")))?;
        let mut config = ManagerConfig::default();
        config.recycling_method = RecyclingMethod::Fast;
        let manager = AsyncDieselConnectionManager::<AsyncPgConnection>::new_with_config(url, config);
        let pool = Pool::builder(manager)
            .max_size(16)
            .pre_recycle(asked_after_idleness())
            .build()
            .map_err(|e| StoreError::Connection(e.to_string()))?;
        Ok(Self { pool, url: url.to_owned() })
    }

    async fn connection(&self) -> Stored<Object<AsyncPgConnection>> {
        match tokio::time::timeout(PATIENCE, self.pool.get()).await {
            Ok(connection) => connection.map_err(|e| StoreError::Connection(e.to_string())),
            Err(_) => Err(StoreError::Connection("no connection was free in time".into())),
        }
    }

    /// Whether the database answers.
    pub async fn is_ready(&self) -> bool {
        use diesel_async::RunQueryDsl;
        let asked = async {
            let mut connection = self.connection().await.ok()?;
            diesel::sql_query("SELECT 1").execute(&mut connection).await.ok()
        };
        tokio::time::timeout(READY, asked).await.is_ok_and(|answer| answer.is_some())
    }

    /// A connection of its own that hears of every commit of any process, as `tracker:seq`.
    pub async fn listen(&self) -> Stored<AsyncPgConnection> {
        use diesel_async::RunQueryDsl;
        let mut connection = AsyncPgConnection::establish(&self.url).await.map_err(|e| StoreError::Connection(e.to_string()))?;
        diesel::sql_query("LISTEN committed").execute(&mut connection).await?;
        diesel::sql_query(format!("LISTEN {PRESENT}")).execute(&mut connection).await?;
        Ok(connection)
    }

    /// Tells all servers who is where; kept nowhere.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn tell_present(&self, said: &str) -> Stored<()> {
        use diesel_async::RunQueryDsl;
        diesel::sql_query("SELECT pg_notify($1, $2)")
            .bind::<diesel::sql_types::Text, _>(PRESENT)
            .bind::<diesel::sql_types::Text, _>(said)
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }
}
