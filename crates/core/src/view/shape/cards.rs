//! Cards: a picture first, and what is said of it beneath.

use crate::id::FieldId;
use serde::{Deserialize, Serialize};

/// Plates: a picture first, and what is said of it beneath.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Cards {
    /// The field of files whose first picture is shown; none: a plain face.
    #[serde(default)]
    pub picture: Option<FieldId>,
    #[serde(default)]
    pub fit: Fit,
    #[serde(default)]
    pub size: CardSize,
    /// A number that is drawn as a length beneath, at one scale for all.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length: Option<FieldId>,
    /// A number that stands on it as strokes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub strokes: Option<FieldId>,
}

/// How a picture stands in its frame.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Fit {
    /// It fills the frame; what reaches beyond is cut.
    #[default]
    Cropped,
    /// All of it is in the frame.
    Whole,
    /// The first few of them stand side by side.
    Strip,
}

/// How large cards are.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum CardSize {
    Small,
    #[default]
    Middle,
    Large,
}

impl Fit {
    /// As it stands after *pictures*.
    pub fn words(self) -> &'static str {
        match self {
            Self::Cropped => "fill their frame",
            Self::Whole => "are shown whole",
            Self::Strip => "stand side by side",
        }
    }
}

impl CardSize {
    /// As it stands before *cards*.
    pub fn words(self) -> &'static str {
        match self {
            Self::Small => "small",
            Self::Middle => "middling",
            Self::Large => "large",
        }
    }
}
