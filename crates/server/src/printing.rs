//! The program that sets papers, run beside this one: it is given what core says is printed and answers with pages. Its memory is
//! bounded by itself, its time here; whatever it is given, only that process can fall over. One that has nothing to do stays at hand,
//! so that the next page is there at once.

use crate::{pictures, problem::Problem, refusal::Refusal, rooms::Rooms};
use serde::{Deserialize, Serialize};
use std::{path::PathBuf, process::Stdio, sync::Arc, time::Duration};
use tokio::{
    io::{AsyncBufReadExt, AsyncReadExt, AsyncWriteExt, BufReader},
    process::{Child, ChildStdin, ChildStdout},
    sync::{Mutex, Semaphore},
};
use westerfall_core::document::Paper;
use westerfall_store::Files;

/// How long one paper may take: less than a request may (`WESTERFALL_REQUEST_SECONDS`), so that it is said why.
const PATIENCE: Duration = Duration::from_secs(50);
/// How long one waits for a turn.
const WAIT: Duration = Duration::from_secs(8);
/// Papers that are set at the same time.
const AT_ONCE: usize = 2;
/// A process that has set more pages than this gives its memory back by ending.
const MANY: usize = 60;

/// Where papers are set.
#[derive(Clone, Debug)]
pub struct Printing(Arc<Inner>);

#[derive(Debug)]
struct Inner {
    program: PathBuf,
    /// Where the pictures lie, and where they are drawn for paper.
    files: Files,
    rooms: Rooms,
    turns: Semaphore,
    idle: Mutex<Vec<Running>>,
}

/// A process that sets papers.
#[derive(Debug)]
struct Running {
    /// It ends with this.
    _child: Child,
    input: ChildStdin,
    output: BufReader<ChildStdout>,
}

/// As what a paper is set.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum As {
    /// Its first pages as pictures, with where its blocks lie.
    Preview,
    /// All its sheets as one PDF.
    One,
    /// Each sheet as a PDF of its own.
    Each,
}

#[derive(Serialize)]
struct Job<'a> {
    r#as: As,
    paper: &'a Paper,
    files: Vec<usize>,
}

/// What became of it: see the program's own `job.rs`.
#[derive(Debug, Deserialize)]
struct Answer {
    fault: Option<String>,
    parts: Vec<usize>,
    pages: usize,
    blocks: Vec<Placed>,
}

/// Where a block lies on a page, in millimetres from its upper left corner.
#[derive(Clone, Debug, Deserialize, Serialize, utoipa::ToSchema)]
#[schema(as = PlacedBlock)]
pub struct Placed {
    /// Its place in the running order, from 1.
    pub number: u32,
    /// From 0.
    pub page: u32,
    pub left: f64,
    pub top: f64,
    pub width: f64,
    pub height: f64,
}

/// A paper that was set.
#[derive(Debug)]
pub struct Pages {
    pub parts: Vec<Vec<u8>>,
    pub pages: usize,
    pub blocks: Vec<Placed>,
}

impl Printing {
    /// By this program, which may not have been built yet.
    pub fn by(program: PathBuf, files: Files, rooms: Rooms) -> Self {
        Self(Arc::new(Inner { program, files, rooms, turns: Semaphore::new(AT_ONCE), idle: Mutex::default() }))
    }

    /// Sets a paper.
    ///
    /// # Errors
    /// The program is not there yet, it takes too long or too much memory, or too much is printed already.
    pub async fn set(&self, r#as: As, paper: &Paper) -> Result<Pages, Problem> {
        if !self.0.program.exists() {
            return Err(Refusal::NoPrinting.into());
        }
        let turn = tokio::time::timeout(WAIT, self.0.turns.acquire()).await;
        let _turn = turn.ok().and_then(Result::ok).ok_or_else(Problem::busy)?;
        let mut files = Vec::with_capacity(paper.files.len());
        for file in &paper.files {
            // One that is gone or can't be drawn is told on the paper.
            let bytes = self.0.files.get(&file.id).await.ok().flatten().unwrap_or_default();
            files.push(pictures::printed(&self.0.rooms, bytes).await?.unwrap_or_default());
        }
        let mut running = match self.0.idle.lock().await.pop() {
            Some(running) => running,
            None => self.start()?,
        };
        // Whoever stops waiting drops this, and the process ends with it.
        match tokio::time::timeout(PATIENCE, running.set(r#as, paper, &files)).await {
            Ok(Ok(pages)) => {
                if pages.pages <= MANY {
                    self.0.idle.lock().await.push(running);
                }
                Ok(pages)
            }
            Ok(Err(Failed::Refused(why))) => {
                tracing::warn!(why, "a paper could not be set");
                self.0.idle.lock().await.push(running);
                Err(Refusal::NotSet.into())
            }
            Ok(Err(Failed::Fell(error))) => {
                tracing::warn!(%error, "the program that sets papers fell over");
                Err(Refusal::NotSet.into())
            }
            Err(_) => Err(Refusal::NotSet.into()),
        }
    }

    fn start(&self) -> Result<Running, Problem> {
        let child = tokio::process::Command::new(&self.0.program)
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .kill_on_drop(true)
            .spawn();
        let mut child = child.map_err(|error| {
            tracing::warn!(%error, "the program that sets papers can't be run");
            Problem::from(Refusal::NoPrinting)
        })?;
        let (Some(input), Some(output)) = (child.stdin.take(), child.stdout.take()) else {
            return Err(Problem::internal("no way in or out of the program that sets papers"));
        };
        Ok(Running { _child: child, input, output: BufReader::new(output) })
    }
}

/// Why a paper was not set.
enum Failed {
    /// The program says why.
    Refused(String),
    /// It is gone.
    Fell(std::io::Error),
}

impl From<std::io::Error> for Failed {
    fn from(error: std::io::Error) -> Self {
        Self::Fell(error)
    }
}

impl Running {
    async fn set(&mut self, r#as: As, paper: &Paper, files: &[Vec<u8>]) -> Result<Pages, Failed> {
        let mut line =
            serde_json::to_vec(&Job { r#as, paper, files: files.iter().map(Vec::len).collect() }).map_err(std::io::Error::from)?;
        line.push(b'\n');
        self.input.write_all(&line).await?;
        for file in files {
            self.input.write_all(file).await?;
        }
        self.input.flush().await?;
        let mut told = String::new();
        self.output.read_line(&mut told).await?;
        let answer: Answer = serde_json::from_str(&told).map_err(std::io::Error::from)?;
        let mut parts = Vec::with_capacity(answer.parts.len());
        for length in answer.parts {
            let mut part = vec![0; length];
            self.output.read_exact(&mut part).await?;
            parts.push(part);
        }
        match answer.fault {
            Some(why) => Err(Failed::Refused(why)),
            None => Ok(Pages { parts, pages: answer.pages, blocks: answer.blocks }),
        }
    }
}
