//! Rooms for work: reading that costs more than a moment, and what costs much memory, each bounded in number, never on the
//! threads that serve. Whoever finds a room full waits their turn, and after a while is told so.

use crate::problem::Problem;
use std::{sync::Arc, time::Duration};
use tokio::sync::{OwnedSemaphorePermit, Semaphore};

/// How long one waits for a turn.
const PATIENCE: Duration = Duration::from_secs(20);
/// How long a reader waits: screens ask again by themselves.
const READING: Duration = Duration::from_secs(10);

/// The rooms of one server.
#[derive(Clone, Debug)]
pub struct Rooms {
    /// Views, names, home, structure.
    reading: Arc<Semaphore>,
    /// Pictures, in megapixels that are drawn at once.
    pictures: Arc<Semaphore>,
    /// Workbooks and text files being read, packages being put together or taken apart.
    files: Arc<Semaphore>,
    /// Passwords: each hash takes 19 MB.
    passwords: Arc<Semaphore>,
}

/// Most pixels of pictures that are drawn at once, in millions.
pub const MEGAPIXELS: u32 = 50;

impl Default for Rooms {
    fn default() -> Self {
        let threads = std::thread::available_parallelism().map_or(2, usize::from);
        let room = |size: usize| Arc::new(Semaphore::new(size));
        Self { reading: room(threads * 2), pictures: room(MEGAPIXELS as usize), files: room(2), passwords: room(2) }
    }
}

async fn turn(room: &Arc<Semaphore>, size: u32, patience: Duration) -> Result<OwnedSemaphorePermit, Problem> {
    let permit = tokio::time::timeout(patience, room.clone().acquire_many_owned(size)).await;
    permit.ok().and_then(Result::ok).ok_or_else(Problem::busy)
}

async fn done<T: Send + 'static>(permit: OwnedSemaphorePermit, work: impl FnOnce() -> T + Send + 'static) -> Result<T, Problem> {
    let task = tokio::task::spawn_blocking(move || {
        let _permit = permit;
        work()
    });
    task.await.map_err(|_| Problem::internal("work in a room was cut off"))
}

impl Rooms {
    /// Reads something, in its turn.
    ///
    /// # Errors
    /// Too many read, for too long.
    pub async fn read<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Result<T, Problem> {
        done(turn(&self.reading, 1, READING).await?, work).await
    }

    /// Works something out beside the threads that serve, without waiting for those who read.
    ///
    /// # Errors
    /// It was cut off.
    pub async fn apart<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Result<T, Problem> {
        tokio::task::spawn_blocking(work).await.map_err(|_| Problem::internal("work was cut off"))
    }

    /// Draws a picture of so many megapixels.
    ///
    /// # Errors
    /// Too many draw, for too long.
    pub async fn draw<T: Send + 'static>(&self, megapixels: u32, work: impl FnOnce() -> T + Send + 'static) -> Result<T, Problem> {
        done(turn(&self.pictures, megapixels.clamp(1, MEGAPIXELS), PATIENCE).await?, work).await
    }

    /// A turn at a large file.
    ///
    /// # Errors
    /// Too many are at it, for too long.
    pub async fn file(&self) -> Result<OwnedSemaphorePermit, Problem> {
        turn(&self.files, 1, PATIENCE).await
    }

    /// Hashes a password.
    ///
    /// # Errors
    /// Too many sign in at once, for too long.
    pub async fn hash<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Result<T, Problem> {
        done(turn(&self.passwords, 1, PATIENCE).await?, work).await
    }
}
