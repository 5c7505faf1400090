//! What stands for the team where it is seen from outside: on forms, shared pages, mails and paper.

use crate::{
    checks::is_colour,
    fault::{Fault, FaultKind},
    value::Attachment,
};
use serde::{Deserialize, Serialize};

/// Longest letterhead, in characters and lines.
const LETTERHEAD: usize = 300;
const LETTERHEAD_LINES: usize = 4;
/// How much darker or lighter what is written on has to be than what is written, by WCAG 2.2.
const CONTRAST: f64 = 4.5;

/// How the team looks.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TeamLook {
    /// Its mark, a picture.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mark: Option<Attachment>,
    /// Its colour, as `#rrggbb`; darkened where text on it could not be read.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub colour: Option<String>,
    /// Its letterhead, under its name: where it is, how it is reached.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub words: String,
}

/// The team's name, and how it looks.
#[derive(Clone, Copy, Debug)]
pub struct Face<'a> {
    pub name: &'a str,
    pub look: &'a TeamLook,
}

static PLAIN: TeamLook = TeamLook { mark: None, colour: None, words: String::new() };

impl<'a> Face<'a> {
    /// A team that is known by its name alone.
    pub fn named(name: &'a str) -> Self {
        Self { name, look: &PLAIN }
    }
}

impl TeamLook {
    /// As it is kept.
    #[must_use]
    pub(crate) fn tidied(&self) -> Self {
        let lines = self.words.lines().map(str::trim).filter(|line| !line.is_empty());
        Self { words: lines.collect::<Vec<_>>().join("\n"), colour: self.colour.as_deref().map(str::to_lowercase), mark: self.mark.clone() }
    }

    /// What is wrong with it.
    pub(crate) fn check(&self) -> Vec<Fault> {
        let mut faults = Vec::new();
        if self.colour.as_deref().is_some_and(|colour| !is_colour(colour)) {
            faults.push(Fault::new(FaultKind::BadRule, "Write the colour like #4e5b1e.").at("/colour"));
        }
        if self.words.chars().count() > LETTERHEAD || self.words.lines().count() > LETTERHEAD_LINES {
            let message = format!("A letterhead has at most {LETTERHEAD_LINES} lines and {LETTERHEAD} characters.");
            faults.push(Fault::new(FaultKind::TooLong, message).at("/words"));
        }
        if self.mark.as_ref().is_some_and(|mark| !mark.is_picture()) {
            faults.push(Fault::new(FaultKind::WrongKind, "The team’s mark is a picture.").at("/mark"));
        }
        faults
    }

    /// Its colour as white text can be read on it.
    pub fn accent(&self) -> Option<String> {
        self.colour.as_deref().filter(|colour| is_colour(colour)).map(readable)
    }
}

/// A colour (`#rrggbb`), or the nearest darker one of its hue on which white text can be read.
fn readable(colour: &str) -> String {
    let part = |at: usize| colour.get(at..at.saturating_add(2)).and_then(|two| u8::from_str_radix(two, 16).ok()).unwrap_or(0);
    let mut parts = [part(1), part(3), part(5)];
    while 1.05 / (luminance(parts) + 0.05) < CONTRAST {
        // A twentieth darker each time: black is reached at the latest.
        parts = parts.map(|part| part.saturating_sub((part / 20).max(1)));
    }
    let [red, green, blue] = parts;
    format!("#{red:02x}{green:02x}{blue:02x}")
}

/// Relative luminance, by WCAG 2.2.
fn luminance(parts: [u8; 3]) -> f64 {
    let share = |part: u8| {
        let share = f64::from(part) / 255.0;
        if share <= 0.040_45 { share / 12.92 } else { ((share + 0.055) / 1.055).powf(2.4) }
    };
    let [red, green, blue] = parts.map(share);
    0.2126 * red + 0.7152 * green + 0.0722 * blue
}

#[cfg(test)]
mod tests {
    use super::{CONTRAST, luminance, readable};
    use proptest::prelude::*;

    fn parts(colour: &str) -> [u8; 3] {
        [1, 3, 5].map(|at| u8::from_str_radix(&colour[at..at + 2], 16).unwrap())
    }

    #[test]
    fn a_colour_that_can_be_read_is_kept() {
        for colour in ["#4e5b1e", "#000000", "#1f5d7d"] {
            assert_eq!(readable(colour), colour);
        }
        assert_ne!(readable("#ffff00"), "#ffff00");
    }

    proptest! {
        /// Whatever is chosen, white text can be read on it, and it is no lighter than it was.
        #[test]
        fn whatever_is_chosen_can_be_read(red: u8, green: u8, blue: u8) {
            let chosen = format!("#{red:02x}{green:02x}{blue:02x}");
            let dark = parts(&readable(&chosen));
            prop_assert!(1.05 / (luminance(dark) + 0.05) >= CONTRAST);
            prop_assert!(dark.iter().zip([red, green, blue]).all(|(dark, was)| *dark <= was));
        }
    }
}
