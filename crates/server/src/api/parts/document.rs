//! A document as it is sent and shown.

use super::{Sent, builders_only};
use crate::live::Look;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    document::{Document, DocumentWords, SheetOf},
    fault::{Checked, Fault, FaultKind, Faults},
    id::{DocumentId, TableId},
    part::Part,
    wording::Wording,
};

/// A document to keep; its table stays. Texts hold fields in braces: `Work order {Number}`.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct DocumentBody {
    document: Document<String>,
}

/// A new document: with what the table's records hold.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct NewDocument {
    table: TableId,
    title: String,
    of: SheetOf,
    /// One that it is to be like.
    #[serde(default)]
    like: Option<DocumentId>,
}

/// A document as it reads.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct DocumentView {
    /// With its texts as one types them.
    document: Document<String>,
    words: DocumentWords,
}

/// A document as it would stand, its texts read.
///
/// # Errors
/// What is in braces and is no field.
pub(in crate::api) fn typed(look: &Look, sent: Document<String>) -> Checked<Document> {
    builders_only(look, sent.table, "document")?;
    let table = sent.table;
    let mut faults = Vec::new();
    let read = sent.written(|text, at| {
        Wording::parse(&text, &look.dataset, table).unwrap_or_else(|fault| {
            faults.push(fault.at(at));
            Wording::default()
        })
    });
    Faults::none_or(faults)?;
    Ok(read)
}

impl Sent for DocumentBody {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        let id = number.and_then(DocumentId::new).unwrap_or(DocumentId::FIRST);
        let document = typed(look, Document { id, ..self.document })?;
        let moved = number.is_some() && look.dataset.document(id).is_some_and(|now| now.table != document.table);
        if moved {
            let message = "A document stays with its table. Make a new one for another table.";
            return Err(Fault::new(FaultKind::BadRule, message).at("/table").into());
        }
        Ok(document.into())
    }
}

impl Sent for NewDocument {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        builders_only(look, self.table, "document")?;
        let id = number.and_then(DocumentId::new).unwrap_or(DocumentId::FIRST);
        let title = self.title.trim();
        if let Some(like) = self.like {
            let known = look.dataset.document(like).filter(|known| known.table == self.table);
            let known = known.ok_or_else(|| Fault::not_found("document"))?;
            return Ok(Document { id, title: title.to_owned(), ..known.clone() }.into());
        }
        let begun = Document::begun(&look.lens(), id, self.table, title, self.of);
        Ok(begun.ok_or_else(|| Fault::not_found("table"))?.into())
    }
}

pub(in crate::api) fn seen(look: &Look, document: &Document) -> DocumentView {
    let written = document.clone().written(|text, _| text.to_text(&look.dataset, document.table));
    DocumentView { document: written, words: document.in_words(&look.lens()) }
}
