//! What can be wrong with something that a person asked for. A fault carries the place and a sentence
//! that a coordinator can act on; the server adds only the status.

use crate::value::CellValue;
use serde::{Deserialize, Serialize};

/// One thing that is wrong.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Fault {
    /// What sort of fault it is, for programs.
    pub kind: FaultKind,
    /// Where it is in what was sent, as a JSON pointer; empty for the whole.
    pub pointer: String,
    /// What is wrong and what to do, for people.
    pub message: String,
    /// Both values, where two people changed one cell.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub clash: Option<Box<Clash>>,
}

/// Two values of one cell: what the sender wants and what stands there now.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Clash {
    pub yours: CellValue,
    pub theirs: CellValue,
    /// What stands there now, as people read it.
    pub theirs_text: String,
}

/// The sorts of fault.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum FaultKind {
    /// It does not exist, or the asker may not know that it does: the same answer.
    NotFound,
    /// The asker sees it but may not do this.
    NotAllowed,
    /// It is for people who are known.
    NotSignedIn,
    /// Something else needs it as it is.
    InUse,
    /// The value is not of the field's kind.
    WrongKind,
    /// The option is not one of the field's.
    UnknownOption,
    /// The text or list is over its limit.
    TooLong,
    /// A required answer or name is missing.
    Missing,
    /// The field computes its value or is kept by Westerfall.
    ReadOnly,
    /// The form takes no answers now.
    Closed,
    /// Somebody else changed it meanwhile.
    Clash,
    /// A rule (condition, view, form, role, automation) does not fit the table.
    BadRule,
}

impl Fault {
    /// A fault of the whole request; [`Fault::at`] gives it a place.
    pub fn new(kind: FaultKind, message: impl Into<String>) -> Self {
        Self { kind, pointer: String::new(), message: message.into(), clash: None }
    }

    /// Whether all of it is refused, and nothing in it can be mended.
    pub fn is_refusal(&self) -> bool {
        self.pointer.is_empty() && matches!(self.kind, FaultKind::NotFound | FaultKind::NotAllowed | FaultKind::NotSignedIn)
    }

    /// The one answer for what is not there and for what the asker may not see.
    pub fn not_found(what: &str) -> Self {
        Self::new(FaultKind::NotFound, format!("There is no such {what} here, or it is not open to you."))
    }

    /// Puts the fault at a place, in front of a place it already has.
    #[must_use]
    pub fn at(mut self, pointer: impl std::fmt::Display) -> Self {
        self.pointer = format!("{pointer}{}", self.pointer);
        self
    }
}

/// One or more faults, never none.
#[derive(Clone, Debug, PartialEq)]
pub struct Faults(pub Vec<Fault>);

impl From<Fault> for Faults {
    fn from(fault: Fault) -> Self {
        Self(vec![fault])
    }
}

impl Faults {
    /// `Ok` if nothing was gathered.
    ///
    /// # Errors
    /// What was gathered, if anything was.
    pub fn none_or(gathered: Vec<Fault>) -> Result<(), Self> {
        if gathered.is_empty() { Ok(()) } else { Err(Self(gathered)) }
    }

    /// The same, of something that stands at a place in what was sent.
    #[must_use]
    pub fn under(self, place: &str) -> Self {
        Self(self.0.into_iter().map(|fault| fault.at(place)).collect())
    }
}

/// The result of anything that a person may get wrong.
pub type Checked<T> = Result<T, Faults>;
