//! A text by which messages are written, as it is sent and shown.

use super::{Sent, builders_only};
use crate::live::Look;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    fault::{Checked, Faults},
    id::{TableId, TextId},
    names::Name,
    part::Part,
    wording::{StoredText, Wording},
};

/// A text to keep; its table stays. It holds fields in braces: `{Severity}: {Section.Name}`.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct TextBody {
    table: TableId,
    name: String,
    subject: String,
    #[serde(default)]
    body: String,
}

impl Sent for TextBody {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        builders_only(look, self.table, "text")?;
        let id = number.and_then(TextId::new).unwrap_or(TextId::LAST);
        let mut faults = Vec::new();
        let mut read = |text: &str, at: &str| {
            Wording::parse(text, &look.dataset, self.table).unwrap_or_else(|fault| {
                faults.push(fault.at(at));
                Wording::default()
            })
        };
        let (subject, body) = (read(&self.subject, "/subject"), read(&self.body, "/body"));
        Faults::none_or(faults)?;
        Ok(StoredText { id, table: self.table, name: self.name.trim().to_owned(), subject, body }.into())
    }
}

/// A text by which messages are written.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct TextView {
    id: TextId,
    table: TableId,
    name: String,
    /// As one types it.
    subject: String,
    body: String,
    /// The automations that are written by it.
    used_by: Vec<String>,
}

pub(in crate::api) fn seen(look: &Look, text: &StoredText) -> TextView {
    let typed = |of: &Wording| of.to_text(&look.dataset, text.table);
    let used_by = look.dataset.uses_of(Name::Text(text.id)).into_iter().map(|using| using.name).collect();
    TextView { id: text.id, table: text.table, name: text.name.clone(), subject: typed(&text.subject), body: typed(&text.body), used_by }
}
