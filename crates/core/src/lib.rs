//! The job of Westerfall as a function: everything it needs (the dataset, who asks, what time it is)
//! comes in as arguments, and its answers are values. No I/O, no clock, no randomness, no web, no SQL.
//!
//! The way through it: an [`intent::Intent`] is checked and becomes a [`history::Change`] (the one way in);
//! records are read only through an [`access::Lens`] (the one way out).

// Exact numbers, dates and moments end somewhere: an operator that passes the end panics, and one number would stop a tracker.
#![deny(clippy::arithmetic_side_effects)]
#![warn(clippy::missing_errors_doc, clippy::missing_panics_doc)]

pub mod access;
pub mod automation;
pub mod bin;
pub mod bulk;
pub mod checks;
pub mod condition;
pub mod dashboard;
pub mod dataset;
mod did;
pub mod document;
pub mod export;
pub mod face;
pub mod fault;
pub mod figure;
pub mod find;
pub mod folio;
pub mod form;
pub mod formula;
pub mod groundplan;
pub mod highlight;
pub mod history;
pub mod home;
pub mod id;
pub mod import;
pub mod inbox;
pub mod intent;
pub mod merge;
pub mod names;
pub mod offer;
pub mod pace;
pub mod pack;
pub mod page;
pub mod part;
pub mod people;
pub mod presence;
pub mod put_back;
pub mod rounds;
mod rules;
pub mod schema;
pub mod sentence;
pub mod talk;
pub mod team;
pub mod trail;
pub mod upgrade;
pub mod uses;
pub mod value;
pub mod view;
pub mod vocabulary;
pub mod why;
pub mod wording;

use jiff::{Timestamp, civil::Date, tz::TimeZone};
use value::Customs;

/// The moment at which something is asked or done, in the tracker's zone.
#[derive(Clone, Debug)]
pub struct Clock {
    /// The instant.
    pub now: Timestamp,
    /// The tracker's zone, in which days begin and end.
    pub zone: TimeZone,
    /// The zone in which moments are told to whoever asks, and typed by them: the tracker's, unless they chose their own.
    pub told: TimeZone,
    /// How numbers and days are told to whoever asks, and typed by them, if they chose.
    pub by: Option<Customs>,
}

impl Clock {
    /// A moment in the tracker's zone, told in it.
    pub fn new(now: Timestamp, zone: TimeZone) -> Self {
        Self { now, told: zone.clone(), zone, by: None }
    }

    /// The same for somebody who chose a zone of their own; an empty name, or one that no zone has, is none.
    #[must_use]
    pub fn told_in(self, zone: &str) -> Self {
        match TimeZone::get(zone) {
            Ok(told) if !zone.is_empty() => Self { told, ..self },
            _ => self,
        }
    }

    /// The same for somebody, in the zone and by the customs that they chose.
    #[must_use]
    pub fn told_to(self, person: &people::Person) -> Self {
        Self { by: person.customs, ..self.told_in(&person.zone) }
    }

    /// How numbers and days are told to whoever asks.
    pub fn customs(&self) -> Customs {
        self.by.unwrap_or_default()
    }

    /// How numbers and days are typed by whoever asks, in a tracker where they are typed like this.
    pub fn typed(&self, here: value::Locale) -> value::Locale {
        self.by.map_or(here, |customs| customs.typed(here))
    }

    /// The same told in the tracker's zone, as to those who are nobody in particular.
    #[must_use]
    pub fn untold(&self) -> Self {
        Self::new(self.now, self.zone.clone())
    }

    /// The civil day it is now in the tracker's zone.
    pub fn today(&self) -> Date {
        self.now.to_zoned(self.zone.clone()).date()
    }
}
