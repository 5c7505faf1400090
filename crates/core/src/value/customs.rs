//! How somebody writes numbers and days, and types them.

use super::Locale;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// Where numbers and days are written in one way. The words stay those of the interface.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Customs {
    /// `1,234.50`, `18 Nov 2026`, in Ireland too; so for everybody who chose nothing.
    #[default]
    #[serde(rename = "en-GB")]
    Britain,
    /// `1,234.50`, `Nov 18, 2026`.
    #[serde(rename = "en-US")]
    America,
    /// `1.234,50`, `18.11.2026`.
    #[serde(rename = "de-DE")]
    Germany,
    /// `1’234.50`, `18.11.2026`.
    #[serde(rename = "de-CH")]
    Switzerland,
    /// `1 234,50`, `18/11/2026`.
    #[serde(rename = "fr-FR")]
    France,
    /// `1.234,50`, `18-11-2026`.
    #[serde(rename = "nl-NL")]
    Netherlands,
    /// `1 234,50`, `2026-11-18`.
    #[serde(rename = "sv-SE")]
    Sweden,
}

/// Where the sign of a currency stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum SignAt {
    Before,
    BeforeWithGap,
    After,
}

impl Customs {
    /// All there are.
    pub const ALL: [Customs; 7] = [
        Customs::Britain,
        Customs::America,
        Customs::Germany,
        Customs::Switzerland,
        Customs::France,
        Customs::Netherlands,
        Customs::Sweden,
    ];

    /// The mark between thousands, and the one before decimals.
    pub(super) fn marks(self) -> (char, char) {
        match self {
            Customs::Britain | Customs::America => (',', '.'),
            Customs::Germany | Customs::Netherlands => ('.', ','),
            Customs::Switzerland => ('’', '.'),
            Customs::France => ('\u{202f}', ','),
            Customs::Sweden => ('\u{a0}', ','),
        }
    }

    pub(super) fn sign_at(self) -> SignAt {
        match self {
            Customs::Britain | Customs::America => SignAt::Before,
            Customs::Switzerland | Customs::Netherlands => SignAt::BeforeWithGap,
            Customs::Germany | Customs::France | Customs::Sweden => SignAt::After,
        }
    }

    /// How a day is written, in `strftime`'s terms.
    pub(super) fn day(self) -> &'static str {
        match self {
            Customs::Britain => "%-d %b %Y",
            Customs::America => "%b %-d, %Y",
            Customs::Germany | Customs::Switzerland => "%d.%m.%Y",
            Customs::France => "%d/%m/%Y",
            Customs::Netherlands => "%d-%m-%Y",
            Customs::Sweden => "%Y-%m-%d",
        }
    }

    /// `18 Nov`: a day of this year, or of one that is known.
    pub fn day_of_year(self, date: Date) -> String {
        let written = match self {
            Customs::Britain => "%-d %b",
            Customs::America => "%b %-d",
            Customs::Germany | Customs::Switzerland => "%d.%m.",
            Customs::France | Customs::Sweden => "%d/%m",
            Customs::Netherlands => "%d-%m",
        };
        date.strftime(written).to_string()
    }

    /// How numbers and days are typed by somebody of these customs, in a tracker where they are typed like this.
    pub fn typed(self, here: Locale) -> Locale {
        Locale { day_first: self != Customs::America, decimal_comma: self.marks().1 == ',', ..here }
    }

    /// `18 Nov 2026`.
    pub fn date_text(self, date: Date) -> String {
        date.strftime(self.day()).to_string()
    }

    /// `18 Nov 2026 – 2 Dec 2026`; of a single day, that.
    pub fn range_text(self, start: Date, end: Date) -> String {
        if start == end {
            return self.date_text(start);
        }
        format!("{} – {}", self.date_text(start), self.date_text(end))
    }
}
