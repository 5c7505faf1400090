//! What a view keeps that is a calendar.

use crate::{
    dataset::Dataset,
    fault::{Fault, FaultKind},
    id::{FieldId, TableId},
    schema::Kind,
};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};

/// Most dates of one almanac.
const MOST_DATES: usize = 4;

/// The almanac of a view.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Almanac {
    /// What its records are marked by; each has a mark of its own.
    pub dates: Vec<AlmanacDate>,
    /// What a week should hold at most, of the first figure; without one, of records.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cap: Option<Decimal>,
    /// Whom or what each record binds: a day and a week by their hours have a line for each.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub who: Option<FieldId>,
    /// How long a record lasts from the first of its dates, where that has no end: hours, or a duration.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lasts: Option<FieldId>,
    /// The hours of a day in which there is work.
    #[serde(default, skip_serializing_if = "WorkingHours::is_usual")]
    pub working: WorkingHours,
    /// Another table whose days lie beneath.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub beneath: Option<Beneath>,
}

/// A field of days by which records are marked; with another, from the one to the other.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AlmanacDate {
    pub start: FieldId,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub end: Option<FieldId>,
}

/// Another table whose days lie beneath an almanac, to be looked at.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Beneath {
    pub table: TableId,
    pub date: AlmanacDate,
    /// Whom or what its records bind, as [`Almanac::who`].
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub who: Option<FieldId>,
}

/// The hours of a day in which there is work.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WorkingHours {
    /// From 0 to 23.
    pub from: u8,
    /// Up to 24.
    pub to: u8,
}

impl Default for WorkingHours {
    fn default() -> Self {
        Self { from: 8, to: 17 }
    }
}

impl WorkingHours {
    fn is_usual(&self) -> bool {
        *self == Self::default()
    }
}

impl AlmanacDate {
    /// The days of one field.
    pub fn of(start: FieldId) -> Self {
        Self { start, end: None }
    }

    fn as_open_to(self, open: &dyn Fn(FieldId) -> bool) -> Option<Self> {
        open(self.start).then(|| Self { end: self.end.filter(|end| open(*end)), ..self })
    }

    fn fields(self) -> impl Iterator<Item = FieldId> {
        std::iter::once(self.start).chain(self.end)
    }
}

impl Almanac {
    /// By some dates, and nothing else said.
    pub fn by(dates: Vec<AlmanacDate>) -> Self {
        Self { dates, cap: None, who: None, lasts: None, working: WorkingHours::default(), beneath: None }
    }

    /// As it is open to somebody; nothing where none of its dates is.
    pub(in crate::view) fn as_open_to(&self, open: &dyn Fn(FieldId) -> bool) -> Option<Self> {
        let dates: Vec<AlmanacDate> = self.dates.iter().filter_map(|date| date.as_open_to(open)).collect();
        let beneath = self.beneath.and_then(|beneath| {
            let date = beneath.date.as_open_to(open)?;
            Some(Beneath { date, who: beneath.who.filter(|who| open(*who)), ..beneath })
        });
        let maybe = |field: Option<FieldId>| field.filter(|field| open(*field));
        (!dates.is_empty()).then(|| Self { dates, who: maybe(self.who), lasts: maybe(self.lasts), beneath, ..self.clone() })
    }

    /// What of it does not fit the table.
    pub(in crate::view) fn check<'n>(
        &self,
        ds: &'n Dataset,
        name: impl Fn(FieldId) -> &'n str,
        shown: &dyn Fn(FieldId) -> Option<Kind>,
    ) -> Vec<Fault> {
        let bad = |message: String, at: &str| Fault::new(FaultKind::BadRule, message).at(at);
        let gone = "This view’s calendar goes by a field that is not there any more.";
        let mut faults = Vec::new();
        for field in self.dates.iter().flat_map(|date| date.fields()) {
            match shown(field) {
                None => faults.push(bad(gone.to_owned(), "/shape/dates")),
                Some(kind) if marks_days(&kind) => {}
                Some(_) => {
                    faults.push(bad(format!("“{}” holds no days: a calendar goes by days or moments.", name(field)), "/shape/dates"));
                }
            }
        }
        if self.dates.is_empty() || self.dates.len() > MOST_DATES {
            faults.push(bad(format!("A calendar goes by one to {MOST_DATES} dates."), "/shape/dates"));
        }
        match self.who.map(|who| (who, shown(who))) {
            Some((_, None)) => faults.push(bad(gone.to_owned(), "/shape/who")),
            Some((who, Some(kind))) if !binds(&kind) => {
                let message = "Lines stand for people, choices or linked records.";
                faults.push(bad(format!("“{}” holds none of these. {message}", name(who)), "/shape/who"));
            }
            _ => {}
        }
        match self.lasts.map(|lasts| (lasts, shown(lasts))) {
            Some((_, None)) => faults.push(bad(gone.to_owned(), "/shape/lasts")),
            Some((lasts, Some(kind))) if !says_length(&kind) => {
                let message = "How long a record lasts is a number of hours, or a duration.";
                faults.push(bad(format!("“{}” is neither. {message}", name(lasts)), "/shape/lasts"));
            }
            _ => {}
        }
        if self.working.from >= self.working.to || self.working.to > 24 {
            faults.push(bad("The hours of work begin before they end, and end by 24.".to_owned(), "/shape/working"));
        }
        faults.extend(self.beneath.and_then(|beneath| beneath.check(ds)));
        faults
    }
}

impl Beneath {
    fn check(self, ds: &Dataset) -> Option<Fault> {
        let bad = |message: &str| Some(Fault::new(FaultKind::BadRule, message).at("/shape/beneath"));
        let kind = |field: FieldId| ds.shown_kind(self.table, field).map(|(_, kind)| kind.shows());
        let home = ds.table(self.table).filter(|home| self.date.fields().chain(self.who).all(|field| home.def.field(field).is_some()));
        if home.is_none() {
            return bad("What lies beneath this calendar is not there any more.");
        }
        if !self.date.fields().all(|field| kind(field).is_some_and(marks_days)) {
            return bad("What lies beneath a calendar goes by days or moments.");
        }
        if self.who.is_some_and(|who| !kind(who).is_some_and(binds)) {
            return bad("Lines stand for people, choices or linked records.");
        }
        None
    }
}

/// Whether records can be marked by such a field.
pub(in crate::view) fn marks_days(kind: &Kind) -> bool {
    kind.is_of_days()
}

/// Whether such a field says whom or what a record binds.
pub(in crate::view) fn binds(kind: &Kind) -> bool {
    matches!(kind, Kind::Person | Kind::People | Kind::Choice { .. } | Kind::Choices { .. } | Kind::Link(_))
}

/// Whether such a field says how long something lasts.
pub(in crate::view) fn says_length(kind: &Kind) -> bool {
    matches!(kind, Kind::Number { .. } | Kind::Duration)
}
