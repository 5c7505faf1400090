//! Days named from today: month ends, leap days, quarters, and the nights the clocks change.

use jiff::{civil::Date, tz::TimeZone};
use proptest::prelude::*;
use westerfall_core::{
    Clock,
    condition::{Period, When, days_between},
};

#[track_caller]
fn check(today: &str, period: Period, first: &str, last: &str) {
    let day = |text: &str| text.parse::<Date>().unwrap();
    assert_eq!(period.days(day(today)), (day(first), day(last)), "{period:?} on {today}");
}

#[test]
fn periods_keep_to_the_calendar() {
    check("2026-11-23", Period::ThisWeek, "2026-11-23", "2026-11-29");
    check("2026-11-22", Period::NextWeek, "2026-11-23", "2026-11-29");
    check("2026-01-01", Period::LastWeek, "2025-12-22", "2025-12-28");
    check("2028-03-31", Period::LastMonth, "2028-02-01", "2028-02-29");
    check("2026-01-31", Period::NextMonth, "2026-02-01", "2026-02-28");
    check("2026-12-31", Period::ThisMonth, "2026-12-01", "2026-12-31");
    check("2026-05-15", Period::ThisQuarter, "2026-04-01", "2026-06-30");
    check("2026-02-28", Period::LastQuarter, "2025-10-01", "2025-12-31");
    check("2028-02-29", Period::LastYear, "2027-01-01", "2027-12-31");
    check("2026-11-23", Period::LastDays(7), "2026-11-17", "2026-11-23");
    check("2026-11-23", Period::NextDays(1), "2026-11-23", "2026-11-23");
    check("2026-03-01", Period::Yesterday, "2026-02-28", "2026-02-28");
    check("2028-02-28", Period::Tomorrow, "2028-02-29", "2028-02-29");
}

#[test]
fn today_turns_at_the_trackers_own_midnight() {
    let today = |now: &str, zone: &str| Clock::new(now.parse().unwrap(), TimeZone::get(zone).unwrap()).today().to_string();
    assert_eq!(today("2026-07-01T23:30:00Z", "Europe/London"), "2026-07-02");
    assert_eq!(today("2026-11-23T23:30:00Z", "Europe/London"), "2026-11-23");
    // The nights on which the clocks go forward and back.
    assert_eq!(today("2026-03-29T00:59:59Z", "Europe/London"), "2026-03-29");
    assert_eq!(today("2026-10-24T23:00:00Z", "Europe/London"), "2026-10-25");
    assert_eq!(today("2026-10-25T23:59:59Z", "Europe/London"), "2026-10-25");
    assert_eq!(today("2026-10-26T00:00:00Z", "Europe/London"), "2026-10-26");
}

proptest! {
    #[test]
    fn every_period_has_a_first_day_before_its_last(days in 0_i32..40_000, span in 1_u32..400) {
        let today = When::Today(days).day("1990-01-01".parse().unwrap());
        prop_assert_eq!(days_between("1990-01-01".parse().unwrap(), today), days);
        let all = [Period::Today, Period::ThisWeek, Period::LastWeek, Period::NextWeek, Period::ThisMonth, Period::LastMonth, Period::NextMonth,
            Period::ThisQuarter, Period::LastQuarter, Period::ThisYear, Period::LastYear, Period::LastDays(span), Period::NextDays(span)];
        for period in all {
            let (first, last) = period.days(today);
            prop_assert!(first <= last);
        }
        let (first, last) = Period::ThisWeek.days(today);
        prop_assert!(first <= today && today <= last);
        prop_assert_eq!(days_between(first, last), 6);
    }
}
