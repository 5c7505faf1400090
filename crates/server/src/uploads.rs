//! Files that were chosen for an import and wait for it: kept with the other files, read when somebody looks at them, and
//! dropped when the import is done or after an hour.
//!
//! Workbooks are read by this program run again, with its memory and time bounded: whatever such a file claims, only that
//! process can fall over.

use crate::refusal::Refusal;
use crate::{apart, pieces, problem::Problem, rooms::Rooms, secrets::random_hex};
use jiff::{SignedDuration, Timestamp};
use std::{
    path::PathBuf,
    sync::{Arc, Mutex},
    time::{Duration, Instant},
};
use westerfall_core::{fault::Fault, id::PersonId};
use westerfall_sheets::{Book, ReadFault, read, sort_of};
use westerfall_store::{Files, Store};

/// Largest file that can be imported, in bytes.
pub const IMPORT_LIMIT: usize = 64 * 1024 * 1024;
/// How long a chosen file waits for its import.
const WAITS: SignedDuration = SignedDuration::from_secs(3_600);
/// How long a workbook may take to be read, and how much longer for each megabyte over five: one that was made to be slow is small.
const READING: Duration = Duration::from_secs(5);
const READING_A_MEGABYTE: Duration = Duration::from_millis(600);
/// Most bytes that it may answer.
const ANSWER: u64 = 1_200_000_000;
/// How long a sheet is kept in memory after it was last asked for; it is read again from its file.
const IDLE: Duration = Duration::from_secs(120);
/// Read sheets that are kept in memory.
const KEPT: usize = 3;

/// Files that wait are noted in the database, so that any server finds them; the sheets that were read of them last are here.
pub struct Uploads {
    store: Store,
    files: Files,
    rooms: Rooms,
    /// This program, which is run again to read workbooks.
    program: PathBuf,
    read: Mutex<Read>,
}

/// Sheets that were read last.
type Read = Vec<Known>;

struct Known {
    token: String,
    /// Its place in the file.
    at: usize,
    book: Arc<Book>,
    asked: Instant,
}

impl Uploads {
    pub fn new(store: Store, files: Files, rooms: Rooms, program: PathBuf) -> Self {
        Self { store, files, rooms, program, read: Mutex::default() }
    }

    fn read(&self) -> std::sync::MutexGuard<'_, Read> {
        self.read.lock().unwrap_or_else(std::sync::PoisonError::into_inner)
    }

    /// Keeps a file that can be read, and gives the token under which its owner finds it.
    ///
    /// # Errors
    /// What is wrong with the file; nothing is kept then.
    pub async fn take(&self, owner: PersonId, name: String, bytes: Vec<u8>) -> Result<(String, Arc<Book>), Problem> {
        let bytes = Arc::new(bytes);
        let book = Arc::new(self.read_fenced(bytes.clone(), None).await?);
        let bytes = Arc::try_unwrap(bytes).unwrap_or_else(|shared| (*shared).clone());
        let token = self.keep(owner, name, bytes).await?;
        remember(&mut self.read(), &token, &book);
        Ok((token, book))
    }

    /// One sheet of a waiting file.
    ///
    /// # Errors
    /// That it is not there any more.
    pub async fn book(&self, owner: PersonId, token: &str, sheet: Option<usize>) -> Result<(String, Arc<Book>), Problem> {
        let gone = || Problem::from(Fault::not_found("file")).at("/token");
        let name = self.store.upload(token, owner).await?.ok_or_else(gone)?;
        if let Some(book) = self.known(token, sheet) {
            return Ok((name, book));
        }
        let bytes = self.files.get(token).await?.ok_or_else(gone)?;
        let book = Arc::new(self.read_fenced(Arc::new(bytes), sheet).await?);
        remember(&mut self.read(), token, &book);
        Ok((name, book))
    }

    /// A sheet that is in memory; of no place in particular, the one that was read first, since that holds a table.
    fn known(&self, token: &str, sheet: Option<usize>) -> Option<Arc<Book>> {
        let mut read = self.read();
        let known = read.iter_mut().find(|known| known.token == token && sheet.is_none_or(|sheet| sheet == known.at))?;
        known.asked = Instant::now();
        Some(known.book.clone())
    }

    /// The bytes of a waiting file.
    ///
    /// # Errors
    /// That it is not there any more.
    pub async fn bytes(&self, owner: PersonId, token: &str) -> Result<Vec<u8>, Problem> {
        let gone = || Problem::from(Fault::not_found("file")).at("/token");
        self.store.upload(token, owner).await?.ok_or_else(gone)?;
        self.files.get(token).await?.ok_or_else(gone)
    }

    /// Keeps bytes under a token.
    ///
    /// # Errors
    /// They can't be kept.
    pub async fn keep(&self, owner: PersonId, name: String, bytes: Vec<u8>) -> Result<String, Problem> {
        let token = format!("incoming-{}", random_hex(16));
        self.store.put_upload(&token, owner, &name, Timestamp::now()).await?;
        self.files.put(&token, bytes).await?;
        Ok(token)
    }

    /// A file that is needed no more.
    pub async fn drop(&self, token: &str) {
        self.read().retain(|known| known.token != token);
        // What can't be dropped now is only space; it is nobody's record, and is dropped with the old ones.
        if self.files.drop(token).await.is_ok() {
            let _ = self.store.drop_upload(token).await;
        }
    }

    /// Lets go of sheets that nobody has asked for lately, and drops files that have waited for too long, of whichever server.
    ///
    /// # Errors
    /// The database can't be asked.
    pub async fn clear(&self) -> Result<(), Problem> {
        self.read().retain(|known| known.asked.elapsed() < IDLE);
        let before = Timestamp::now().saturating_sub(WAITS).unwrap_or(Timestamp::MIN);
        for (token, got) in self.store.old_uploads(before).await? {
            pieces::drop_pieces(&self.files, &token, got).await;
            self.drop(&token).await;
        }
        Ok(())
    }

    /// Reads a sheet; a workbook in a process of its own.
    async fn read_fenced(&self, bytes: Arc<Vec<u8>>, sheet: Option<usize>) -> Result<Book, Problem> {
        let sort = sort_of(&bytes).map_err(refused)?;
        let turn = self.rooms.file().await?;
        if !sort.needs_own_process() {
            let book = self.rooms.apart(move || {
                let _turn = turn;
                read(&bytes, sheet)
            });
            return book.await?.map_err(refused);
        }
        let which = sheet.map_or(WhichSheet::FirstTable, WhichSheet::At).to_string();
        let (args, read) = (["--read-sheet", &which], serde_json::from_reader::<_, Result<Book, ReadFault>>);
        match tokio::time::timeout(patience(bytes.len()), apart::run(&self.program, &args, &bytes, ANSWER, read)).await {
            Ok(Ok(Some(Ok(book)))) => book.map_err(refused),
            Ok(Ok(None)) => Err(refused(ReadFault::CutOff)),
            Ok(Ok(Some(Err(error)))) => {
                tracing::warn!(%error, "what was read apart could not be understood");
                Err(refused(ReadFault::CutOff))
            }
            Ok(Err(error)) => {
                tracing::warn!(%error, "a workbook could not be read apart");
                Err(refused(ReadFault::CutOff))
            }
            Err(_) => Err(refused(ReadFault::CutOff)),
        }
    }
}

/// How long a workbook of so many bytes may take to be read.
fn patience(bytes: usize) -> Duration {
    let more = u32::try_from(bytes / 1_000_000).unwrap_or(u32::MAX).saturating_sub(5);
    READING + READING_A_MEGABYTE.saturating_mul(more)
}

fn remember(read: &mut Read, token: &str, book: &Arc<Book>) {
    read.retain(|known| known.token != token || known.at != book.at);
    read.push(Known { token: token.to_owned(), at: book.at, book: book.clone(), asked: Instant::now() });
    if read.len() > KEPT {
        read.remove(0);
    }
}

/// What the other process does: bounds itself, reads a workbook from its input, answers on its output.
pub fn read_sheet(sheet: WhichSheet) -> std::io::Result<()> {
    use std::io::Write;
    let sheet = if let WhichSheet::At(at) = sheet { Some(at) } else { None };
    let bytes = apart::given(IMPORT_LIMIT, |size| patience(size).as_secs())?;
    let answer =
        std::panic::catch_unwind(|| read(&bytes, sheet)).unwrap_or_else(|_| Err(ReadFault::Broken("its sheets don’t fit together".into())));
    let mut out = std::io::BufWriter::new(std::io::stdout());
    serde_json::to_writer(&mut out, &answer)?;
    out.flush()
}

fn refused(fault: ReadFault) -> Problem {
    Refusal::SheetUnreadable.saying(fault.to_string()).at("/file")
}

/// A sheet of a workbook by its place, from 0; or the first that holds a table.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum WhichSheet {
    FirstTable,
    At(usize),
}

impl std::str::FromStr for WhichSheet {
    type Err = std::num::ParseIntError;

    fn from_str(text: &str) -> Result<Self, Self::Err> {
        if text == "table" { Ok(Self::FirstTable) } else { text.parse().map(Self::At) }
    }
}

impl std::fmt::Display for WhichSheet {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Self::FirstTable => f.write_str("table"),
            Self::At(at) => write!(f, "{at}"),
        }
    }
}
