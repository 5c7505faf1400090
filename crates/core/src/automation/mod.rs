//! Automations: when something happens, if conditions hold, then steps are done. Core plans; the server sends.

mod awaits;
mod fire;
mod refs;
mod rules;
mod words;

pub use fire::{Cause, LogLine, LogOutcome, Mail, Run, fire};

use crate::{
    condition::Condition,
    id::{AutomationId, FieldId, FormId, TableId},
    wording::Wording,
};
use serde::{Deserialize, Serialize};

/// Most steps of one automation.
pub const MAX_STEPS: usize = 50;

/// An automation of one table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Automation {
    pub id: AutomationId,
    pub table: TableId,
    pub name: String,
    pub on: bool,
    pub when: Occasion,
    #[serde(default)]
    pub condition: Condition,
    pub steps: Vec<Step>,
}

/// What sets it going.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Occasion {
    /// A record comes by this form, or by any form.
    Form(Option<FormId>),
    /// A record is added by a person.
    Added,
    /// A button that runs it is pressed.
    Pressed,
}

/// One thing that it does.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Step {
    Mail { to: Recipient, subject: Wording, body: Wording },
}

/// Whom a message goes to.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Recipient {
    /// A person or e-mail field, perhaps along links.
    Field(Vec<FieldId>),
    Address(String),
}
