//! Rows: fields across, records down.

use crate::schema::Hue;
use serde::{Deserialize, Serialize};

/// Fields across, records down.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RowsShape {
    #[serde(default)]
    pub height: RowHeight,
    /// How many of the first fields stay in sight when rows are moved sideways; nothing: those through the one that names a record.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub keeps: Option<u16>,
    /// Every second row lies on a tint of this.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bands: Option<Hue>,
    /// The lines between rows.
    #[serde(default, skip_serializing_if = "LineWeight::is_thin")]
    pub lines: LineWeight,
    /// Their colour, where it is not the plain one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub line_hue: Option<Hue>,
}

/// How much the lines between rows weigh.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum LineWeight {
    None,
    #[default]
    Thin,
    Strong,
}

/// How many lines of text stand in a row.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum RowHeight {
    #[default]
    One,
    Two,
    Four,
    Eight,
}

impl RowsShape {
    /// As it stands after *as*: *rows of two lines in bands of fern, with strong lines*.
    pub(super) fn words(self) -> String {
        let height = if self.height == RowHeight::One { String::new() } else { format!(" of {}", self.height.words()) };
        let bands = self.bands.map(|hue| format!(" in bands of {}", hue.word())).unwrap_or_default();
        let hue = self.line_hue.filter(|_| self.lines != LineWeight::None).map(|hue| format!("{} ", hue.word())).unwrap_or_default();
        let lines = match self.lines {
            LineWeight::None => " without lines".to_owned(),
            LineWeight::Thin if hue.is_empty() => String::new(),
            LineWeight::Thin => format!(" with {hue}lines"),
            LineWeight::Strong => format!(" with strong {hue}lines"),
        };
        let keeps = match self.keeps {
            None => String::new(),
            Some(0) => ", no field kept in place".to_owned(),
            Some(1) => ", the first field kept in place".to_owned(),
            Some(many) => format!(", the first {many} fields kept in place"),
        };
        format!("rows{height}{bands}{lines}{keeps}")
    }
}

impl LineWeight {
    fn is_thin(&self) -> bool {
        *self == Self::Thin
    }

    /// As it stands before *lines*.
    pub fn words(self) -> &'static str {
        match self {
            Self::None => "no",
            Self::Thin => "thin",
            Self::Strong => "strong",
        }
    }
}

impl RowHeight {
    /// As it stands after *rows of*.
    pub fn words(self) -> &'static str {
        match self {
            Self::One => "one line",
            Self::Two => "two lines",
            Self::Four => "four lines",
            Self::Eight => "eight lines",
        }
    }
}
