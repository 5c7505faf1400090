//! What somebody is reminded of in the morning: before its day, on it, and after it again and again, until it is done.

use super::Duty;
use crate::{Clock, value::plus_days};

/// After how many days late one is reminded; from the last on, each week.
const LATE: [u32; 4] = [1, 3, 7, 14];
const A_WEEK: u32 = 7;

/// What somebody is told in the morning.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Morning {
    /// *2 late, 1 for today*.
    pub heading: String,
    /// The longest late first.
    pub lines: Vec<String>,
}

impl Duty {
    /// Whether one is reminded of it on this morning.
    fn reminds(&self, clock: &Clock) -> bool {
        let today = clock.today();
        if self.done.is_some() {
            return false;
        }
        let weekly = LATE.last().is_some_and(|last| self.late > *last && self.late.is_multiple_of(A_WEEK));
        let near = self.day.is_some_and(|day| day == today || plus_days(today, 1) == Some(day));
        LATE.contains(&self.late) || weekly || (self.late == 0 && near)
    }
}

/// What somebody is reminded of this morning; none: of nothing.
pub fn morning(duties: &[Duty], clock: &Clock) -> Option<Morning> {
    let today = clock.today();
    let mut told: Vec<&Duty> = duties.iter().filter(|duty| duty.reminds(clock)).collect();
    told.sort_by(|a, b| b.late.cmp(&a.late).then(a.day.cmp(&b.day)).then_with(|| a.name.cmp(&b.name)));
    let late = told.iter().filter(|duty| duty.late > 0).count();
    let now = told.iter().filter(|duty| duty.late == 0 && duty.day == Some(today)).count();
    let soon = told.len().saturating_sub(late).saturating_sub(now);
    let counts = [(late, "late"), (now, "for today"), (soon, "for tomorrow")];
    let heading =
        counts.iter().filter(|(count, _)| *count > 0).map(|(count, what)| format!("{count} {what}")).collect::<Vec<_>>().join(", ");
    let line = |duty: &&Duty| {
        let when = match (duty.late > 0, duty.day == Some(today)) {
            (true, _) => duty.late_text.clone(),
            (false, true) => "today".to_owned(),
            (false, false) => "tomorrow".to_owned(),
        };
        let tells = duty.tells.iter().map(|text| format!(", {text}")).collect::<String>();
        format!("{when}: {}{tells}", duty.name)
    };
    (!told.is_empty()).then(|| Morning { heading, lines: told.iter().map(line).collect() })
}
