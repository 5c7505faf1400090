//! Rounds in their days: what is late at the head, then today and each day of the weeks that come, free ones too.

use super::Duty;
use crate::{
    Clock,
    id::TrackerId,
    sentence::{Phrase, Sentence},
    value::{Customs, plus_days},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use std::cmp::Ordering;

/// How many days are told one by one.
const WEEKS: i64 = 28;
/// How many of them are told although nothing stands there: those into which one would move something.
const FREE: i64 = 7;

/// Rounds, in their days.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Diary {
    /// Whose they are, and the day: *Tamsin Oake, Tuesday 24 November, 09:20*.
    pub now: String,
    pub today: Date,
    pub says: Vec<Phrase>,
    /// How many are not done.
    pub count: usize,
    pub sections: Vec<DiarySection>,
    /// The trackers of which something is on them.
    pub trackers: Vec<InTracker>,
}

/// A tracker of which something is on somebody.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct InTracker {
    pub id: TrackerId,
    pub name: String,
    pub count: usize,
}

/// What stands under one heading.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DiarySection {
    pub sort: DiarySort,
    /// *Late*, *Today*, *Wednesday*, *Later*, *Without a day*.
    pub title: String,
    /// *25 November*; how many are left.
    pub about: String,
    pub day: Option<Date>,
    pub duties: Vec<Duty>,
}

/// What a heading is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum DiarySort {
    Late,
    Today,
    Day,
    Later,
    Undated,
}

impl Duty {
    /// Where it falls, by its first and last day.
    pub fn fall(&mut self, days: Option<(Date, Date)>, clock: &Clock) {
        let Some((first, last)) = days else { return };
        let (today, customs) = (clock.today(), clock.customs());
        let over = last.until(today).map_or(0, |span| span.get_days());
        self.late = u32::try_from(over).unwrap_or(0);
        self.day = Some(if first < today && last >= today { today } else { first });
        self.due_text = match (first == last, customs.day_near(first, today)) {
            (true, day) => format!("due {day}"),
            (false, day) => format!("{day} to {}", customs.day_near(last, today)),
        };
        if self.late > 0 {
            self.late_text = format!("{} late", customs.count_words(self.late as usize, "day", "days"));
        }
    }
}

impl Customs {
    /// A day as one writes it where its year is plain.
    fn day_near(self, day: Date, today: Date) -> String {
        if day.year() == today.year() { self.day_of_year(day) } else { self.date_text(day) }
    }
}

/// Which of two things comes first: what is late for longer; within a day the more urgent.
pub(crate) fn pressing(a: &Duty, b: &Duty) -> Ordering {
    let rank = |duty: &Duty| duty.urgency.as_ref().map(|urgency| urgency.rank);
    b.late.cmp(&a.late).then(rank(b).cmp(&rank(a))).then_with(|| a.name.cmp(&b.name))
}

/// Rounds of somebody in their days. `name`: whose they are, where they are somebody else's; `trackers`: all of which there may be some.
pub fn diary(mut duties: Vec<Duty>, mut trackers: Vec<InTracker>, name: &str, own: bool, clock: &Clock) -> Diary {
    let customs = clock.customs();
    let today = clock.today();
    let open = |duty: &&Duty| duty.done.is_none();
    for tracker in &mut trackers {
        tracker.count = duties.iter().filter(open).filter(|duty| duty.tracker == Some(tracker.id)).count();
    }
    trackers.retain(|tracker| tracker.count > 0);
    let count = duties.iter().filter(open).count();
    duties.sort_by(pressing);
    let last = plus_days(today, WEEKS);
    let place = |duty: &Duty| match duty.day {
        // What is done stands where it was done.
        _ if duty.done.is_some() => (DiarySort::Today, None),
        _ if duty.late > 0 => (DiarySort::Late, None),
        None => (DiarySort::Undated, None),
        Some(day) if day <= today => (DiarySort::Today, None),
        Some(day) if last.is_some_and(|last| day > last) => (DiarySort::Later, None),
        Some(day) => (DiarySort::Day, Some(day)),
    };
    let section = |sort, day: Option<Date>| DiarySection { sort, title: title(sort, day), about: String::new(), day, duties: Vec::new() };
    let mut sections = vec![section(DiarySort::Late, None), section(DiarySort::Today, Some(today))];
    sections.extend((1..=WEEKS).filter_map(|n| plus_days(today, n)).map(|day| section(DiarySort::Day, Some(day))));
    sections.extend([section(DiarySort::Later, None), section(DiarySort::Undated, None)]);
    for duty in duties {
        let (sort, day) = place(&duty);
        let found = sections.iter_mut().find(|section| section.sort == sort && (day.is_none() || section.day == day));
        if let Some(section) = found {
            section.duties.push(duty);
        }
    }
    let free = plus_days(today, FREE);
    sections.retain(|section| {
        let near = section.sort == DiarySort::Day && free.is_some_and(|free| section.day.is_some_and(|day| day <= free));
        !section.duties.is_empty() || near || section.sort == DiarySort::Today
    });
    for section in &mut sections {
        let left = section.duties.iter().filter(open).count();
        section.about = match section.sort {
            DiarySort::Late => {
                let longest = section.duties.first().map_or(0, |duty| duty.late as usize);
                format!("{}, the longest for {}", customs.count_text(left), customs.count_words(longest, "day", "days"))
            }
            DiarySort::Today | DiarySort::Day => section.day.map_or_else(String::new, |day| day.strftime("%-d %B").to_string()),
            DiarySort::Later | DiarySort::Undated => customs.count_text(left),
        };
    }
    let now = clock.now.to_zoned(clock.told.clone()).strftime("%A %-d %B, %H:%M").to_string();
    Diary { now: format!("{name}, {now}"), today, says: says(count, trackers.len(), own, name, clock), count, sections, trackers }
}

fn title(sort: DiarySort, day: Option<Date>) -> String {
    match sort {
        DiarySort::Late => "Late".to_owned(),
        DiarySort::Today => "Today".to_owned(),
        DiarySort::Day => day.map_or_else(String::new, |day| day.strftime("%A").to_string()),
        DiarySort::Later => "Later".to_owned(),
        DiarySort::Undated => "Without a day".to_owned(),
    }
}

fn says(count: usize, trackers: usize, own: bool, name: &str, clock: &Clock) -> Vec<Phrase> {
    let customs = clock.customs();
    let mut s = Sentence::default();
    if count == 0 {
        s.plain(if own { "Nothing is on you".to_owned() } else { format!("Nothing that you may see is on {name}") });
    } else {
        s.strong(customs.count_text(count));
        s.plain(if count == 1 { " thing is on " } else { " things are on " });
        s.edit(if own { "you" } else { name }, "/person");
    }
    if trackers > 0 {
        s.plain(" in ");
        s.edit(customs.count_words(trackers, "tracker", "trackers"), "/tracker");
        s.plain(", late ones first, then by day for four weeks; done ones stay until midnight");
    }
    s.plain(".");
    s.phrases()
}
