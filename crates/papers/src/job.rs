//! What is asked, and what is answered.

use serde::{Deserialize, Serialize};

/// What is to be set.
#[derive(Debug, Deserialize)]
pub(crate) struct Job {
    #[serde(rename = "as")]
    pub(crate) as_: As,
    /// As core says it (`document/paper.rs`).
    pub(crate) paper: serde_json::Value,
    /// The lengths of its pictures in bytes, which follow in this order. One of no bytes can't be set.
    #[serde(default)]
    pub(crate) files: Vec<usize>,
}

/// As what.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "lowercase")]
pub(crate) enum As {
    /// Each of the first pages as a picture, and where the blocks lie on them.
    Preview,
    /// All sheets as one PDF.
    One,
    /// Each sheet as a PDF of its own.
    Each,
}

/// What became of it.
#[derive(Debug, Default, Serialize)]
pub(crate) struct Answer {
    /// Why it could not be set.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub(crate) fault: Option<String>,
    /// The lengths of what follows, in bytes.
    pub(crate) parts: Vec<usize>,
    /// How many pages there are in all.
    pub(crate) pages: usize,
    /// Where the blocks lie, for the preview.
    pub(crate) blocks: Vec<Placed>,
}

/// Where a block lies, or a part of it: in millimetres from the page's upper left corner.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub(crate) struct Placed {
    /// Its place in the running order, from 1.
    pub(crate) number: i64,
    /// From 0.
    pub(crate) page: usize,
    pub(crate) left: f64,
    pub(crate) top: f64,
    pub(crate) width: f64,
    pub(crate) height: f64,
}
