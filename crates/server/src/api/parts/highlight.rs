//! A highlight as it is sent and shown.

use super::{Sent, builders_only};
use crate::live::Look;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    condition::Condition,
    fault::Checked,
    highlight::{Highlight, HighlightWords, Touch},
    id::{HighlightId, TableId},
    part::Part,
};

/// A highlight to keep; its table and its place in the list stay.
#[derive(Clone, Deserialize, ToSchema)]
pub(in crate::api) struct HighlightBody {
    pub(in crate::api) table: TableId,
    #[serde(default)]
    pub(in crate::api) condition: Condition,
    #[serde(default)]
    pub(in crate::api) touches: Vec<Touch>,
}

impl HighlightBody {
    /// It as it would stand.
    pub(in crate::api) fn drafted(self, number: Option<u32>, look: &Look) -> Highlight {
        let drafted = Highlight::new(HighlightId::FIRST, self.table, self.condition, self.touches);
        look.dataset.drafted_highlight(self.table, number.and_then(HighlightId::new), drafted)
    }
}

impl Sent for HighlightBody {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        builders_only(look, self.table, "highlight")?;
        Ok(self.drafted(number, look).into())
    }
}

/// A highlight as it reads.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct HighlightView {
    highlight: Highlight,
    /// Its place in the list, from 1: by it records say what touches them.
    number: u32,
    words: HighlightWords,
}

pub(in crate::api) fn seen(look: &Look, highlight: &Highlight, number: u32) -> HighlightView {
    HighlightView { highlight: highlight.clone(), number, words: highlight.in_words(&look.lens()) }
}
