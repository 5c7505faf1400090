//! When an automation is due by the clock.

use super::{Automation, Occasion};
use crate::{
    Clock,
    access::Lens,
    dataset::Dataset,
    id::{AutomationId, RecordId},
    value::{Cell, days_on, plus_days},
};
use jiff::{
    Timestamp,
    civil::{Date, DateTime, Time, Weekday},
    tz::TimeZone,
};
use serde::{Deserialize, Serialize};

/// Longest look ahead for the next time, in days: a month's last working day is never further.
const AHEAD: i64 = 70;
/// Days that are caught up at most, where nobody looked after the tracker.
const BEHIND: i64 = 31;

/// A time of a day in the tracker's zone, in minutes from midnight.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(transparent)]
pub struct Hour(pub u16);

impl Hour {
    /// As it is told: *07:30*.
    pub fn words(self) -> String {
        format!("{:02}:{:02}", self.0 / 60, self.0 % 60)
    }

    pub(super) fn is_of_a_day(self) -> bool {
        self.0 < 24 * 60
    }

    /// The moment of a day. One that the clocks leave out comes when they have gone on.
    fn on(self, day: Date, zone: &TimeZone) -> Option<Timestamp> {
        let time = Time::new(i8::try_from(self.0 / 60).ok()?, i8::try_from(self.0 % 60).ok()?, 0, 0).ok()?;
        Some(DateTime::from_parts(day, time).to_zoned(zone.clone()).ok()?.timestamp())
    }
}

/// On which days a timetable comes round.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Round {
    Daily,
    /// Monday to Friday.
    WorkingDays,
    /// On these days of the week: 1 is Monday.
    Weekly(Vec<u8>),
    /// On this day of each month; on its last, where it has none such.
    Monthly(u8),
    LastWorkingDay,
}

impl Round {
    fn falls_on(&self, day: Date) -> bool {
        let weekday = day.weekday().to_monday_one_offset();
        match self {
            Round::Daily => true,
            Round::WorkingDays => works(day),
            Round::Weekly(days) => days.iter().any(|one| i8::try_from(*one) == Ok(weekday)),
            Round::Monthly(one) => i8::try_from(*one).is_ok_and(|one| day.day() == one.min(day.days_in_month())),
            Round::LastWorkingDay => {
                let rest = (1..=i64::from(day.days_in_month().saturating_sub(day.day()))).filter_map(|on| plus_days(day, on));
                works(day) && !rest.into_iter().any(works)
            }
        }
    }
}

fn works(day: Date) -> bool {
    !matches!(day.weekday(), Weekday::Saturday | Weekday::Sunday)
}

/// The working day on which something comes that falls on a day.
fn working_day(day: Date) -> Date {
    match day.weekday() {
        Weekday::Saturday => days_on(day, 2),
        Weekday::Sunday => days_on(day, 1),
        _ => day,
    }
}

/// How far the times of an automation have come.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Came {
    /// All times until then were.
    pub upto: Timestamp,
    /// The time that is going on, and the record from which it goes on.
    pub next: Option<(Timestamp, RecordId)>,
}

impl Occasion {
    /// Whether it comes by the clock.
    pub fn is_timed(&self) -> bool {
        matches!(self, Occasion::Date { .. } | Occasion::Every { .. })
    }

    /// The first time after a moment.
    pub(crate) fn after(&self, moment: Timestamp, zone: &TimeZone) -> Option<Timestamp> {
        let (round, at) = match self {
            Occasion::Every { round, at } => (round, at),
            Occasion::Date { at, working: false, .. } => (&Round::Daily, at),
            Occasion::Date { at, working: true, .. } => (&Round::WorkingDays, at),
            _ => return None,
        };
        let today = moment.to_zoned(zone.clone()).date();
        let days = (0..AHEAD).filter_map(|ahead| plus_days(today, ahead)).filter(|day| round.falls_on(*day));
        days.filter_map(|day| at.on(day, zone)).find(|time| *time > moment)
    }
}

impl Dataset {
    /// The time of an automation that is due, where one is. Of days that were missed each comes by itself; of a timetable the last alone.
    pub fn due(&self, automation: &Automation, now: Timestamp) -> Option<Timestamp> {
        let came = self.came(automation.id).filter(|_| automation.on && self.tracker.stage.is_open())?;
        if let Some((going, _)) = came.next {
            return Some(going);
        }
        let zone = self.zone();
        let bound = plus_days(now.to_zoned(zone.clone()).date(), -BEHIND).and_then(|day| Hour(0).on(day, zone));
        let mut time = automation.when.after(came.upto.max(bound.unwrap_or(Timestamp::MIN)), zone).filter(|time| *time <= now)?;
        if matches!(automation.when, Occasion::Every { .. }) {
            while let Some(later) = automation.when.after(time, zone).filter(|later| *later <= now) {
                time = later;
            }
        }
        Some(time)
    }

    /// All that is due by the clock.
    pub fn all_due(&self, now: Timestamp) -> Vec<(AutomationId, Timestamp)> {
        self.automations().filter(|a| a.when.is_timed()).filter_map(|a| Some((a.id, self.due(a, now)?))).collect()
    }

    /// When the next of its automations comes by the clock.
    pub fn next_due(&self) -> Option<Timestamp> {
        let next = |a: &Automation| {
            let came = self.came(a.id).filter(|_| a.on && self.tracker.stage.is_open())?;
            came.next.map(|(going, _)| going).or_else(|| a.when.after(came.upto, self.zone()))
        };
        self.automations().filter(|a| a.when.is_timed()).filter_map(next).min()
    }
}

impl Automation {
    /// The records for which a time of it comes, as its condition stands at that time.
    pub(crate) fn comes_for(&self, ds: &Dataset, time: Timestamp, clock: &Clock) -> Vec<RecordId> {
        let lens = Lens::of_everything(ds, None, clock);
        let fits = self.condition.matching(&lens, self.table);
        let fits = fits.ones().map(RecordId::at_row);
        match &self.when {
            Occasion::Date { field, days, working, .. } => {
                let day = time.to_zoned(ds.zone().clone()).date();
                let reader = lens.reader(self.table, *field);
                let target = |record: &RecordId| {
                    let on = match reader.cell(record.row()) {
                        Cell::Date(on) | Cell::Range(on, _) => on,
                        Cell::Instant(at) => at.to_zoned(ds.zone().clone()).date(),
                        _ => return None,
                    };
                    plus_days(on, i64::from(*days)).map(|on| if *working { working_day(on) } else { on })
                };
                fits.filter(|record| target(record) == Some(day)).collect()
            }
            _ => fits.collect(),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[track_caller]
    fn check(when: &Occasion, from: &str, times: &[&str]) {
        let zone = TimeZone::get("Europe/London").unwrap();
        let mut moment: Timestamp = from.parse().unwrap();
        let found: Vec<String> = times
            .iter()
            .filter_map(|_| {
                moment = when.after(moment, &zone)?;
                Some(moment.to_zoned(zone.clone()).strftime("%a %Y-%m-%d %H:%M").to_string())
            })
            .collect();
        assert_eq!(found, times);
    }

    fn every(round: Round, at: u16) -> Occasion {
        Occasion::Every { round, at: Hour(at) }
    }

    #[test]
    fn timetables_come_round_on_their_days() {
        check(&every(Round::Daily, 420), "2026-11-24T06:59:00Z", &["Tue 2026-11-24 07:00", "Wed 2026-11-25 07:00"]);
        check(&every(Round::Daily, 420), "2026-11-24T07:00:00Z", &["Wed 2026-11-25 07:00"]);
        check(&every(Round::WorkingDays, 0), "2026-11-27T12:00:00Z", &["Mon 2026-11-30 00:00", "Tue 2026-12-01 00:00"]);
        check(&every(Round::Weekly(vec![1, 4]), 60), "2026-11-24T12:00:00Z", &["Thu 2026-11-26 01:00", "Mon 2026-11-30 01:00"]);
        check(
            &every(Round::Monthly(31), 480),
            "2026-11-24T12:00:00Z",
            &["Mon 2026-11-30 08:00", "Thu 2026-12-31 08:00", "Sun 2027-01-31 08:00", "Sun 2027-02-28 08:00"],
        );
        check(
            &every(Round::LastWorkingDay, 960),
            "2026-11-24T12:00:00Z",
            &["Mon 2026-11-30 16:00", "Thu 2026-12-31 16:00", "Fri 2027-01-29 16:00"],
        );
    }

    #[test]
    fn an_hour_that_the_clocks_leave_out_comes_when_they_have_gone_on_and_one_that_comes_twice_comes_once() {
        check(&every(Round::Daily, 90), "2026-03-28T12:00:00Z", &["Sun 2026-03-29 02:30", "Mon 2026-03-30 01:30"]);
        check(&every(Round::Daily, 90), "2026-10-24T12:00:00Z", &["Sun 2026-10-25 01:30", "Mon 2026-10-26 01:30"]);
    }
}
