//! What addresses name within a tracker.

use serde::Deserialize;
use utoipa::IntoParams;
use westerfall_core::id::{AutomationId, DocumentId, FieldId, FormId, HighlightId, PageId, RecordId, RoleId, TableId, ViewId};

macro_rules! places {
    ($($(#[$doc:meta])* $name:ident { $($field:ident: $id:ty),+ })+) => {
        $(
            $(#[$doc])*
            #[derive(Clone, Copy, Debug, Deserialize, IntoParams)]
            #[into_params(parameter_in = Path)]
            pub(super) struct $name {
                #[allow(dead_code, reason = "it stands in the address; `Here` reads it")]
                tracker: u32,
                $(#[param(value_type = u32)] pub(super) $field: $id,)+
            }
        )+
    };
}

places! {
    /// A table.
    OfTable { table: TableId }
    /// A field of a table.
    OfField { table: TableId, field: FieldId }
    /// A record.
    OfRecord { table: TableId, record: RecordId }
    /// A cell.
    OfCell { table: TableId, record: RecordId, field: FieldId }
    /// A form.
    OfForm { form: FormId }
    /// An automation.
    OfAutomation { automation: AutomationId }
    /// A role.
    OfRole { role: RoleId }
    /// A shared page.
    OfPage { page: PageId }
    /// A document.
    OfDocument { document: DocumentId }
    /// A highlight.
    OfHighlight { highlight: HighlightId }
    /// A view.
    OfView { view: ViewId }
}

/// A tracker.
#[derive(Clone, Copy, Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Path)]
pub(super) struct OfTracker {
    #[allow(dead_code, reason = "it stands in the address; `Here` reads it")]
    tracker: u32,
}
