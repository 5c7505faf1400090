//! The sentences of the report.

use super::{Doings, ReportPiece};
use crate::{
    Clock,
    access::Lens,
    dataset::Table,
    id::{RecordId, TableId},
    people::Actor,
    sentence::{Phrase, Sentence, Tone},
    value::list_text,
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// Most tables of which a report tells one by one.
const TABLES: usize = 4;
/// Most records that are named of what came.
const NAMED: usize = 2;
/// Most people who are named of those who changed something.
const PEOPLE: usize = 2;

/// From when on a report tells.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Since {
    /// Each tracker since one looked at it.
    #[default]
    Looked,
    Day,
    Week,
    Month,
}

impl Since {
    /// From when on, for somebody who last looked at a tracker then.
    pub fn from(self, looked: Option<Timestamp>, now: Timestamp) -> Option<Timestamp> {
        let hours = match self {
            Since::Looked => return looked,
            Since::Day => 24,
            Since::Week => 7 * 24,
            Since::Month => 30 * 24,
        };
        now.checked_sub(jiff::SignedDuration::try_from_hours(hours)?).ok()
    }

    fn words(self) -> &'static str {
        match self {
            Since::Looked => "since you last looked",
            Since::Day => "of the last 24 hours",
            Since::Week => "of the last 7 days",
            Since::Month => "of the last 30 days",
        }
    }
}

/// How trackers are listed.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum HomeOrder {
    #[default]
    Area,
    /// Those looked at last first.
    Recent,
    Name,
}

/// What the sentence of home counts.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct HomeCounts {
    /// Records that came or were changed.
    pub things: usize,
    /// Trackers that one may open.
    pub trackers: usize,
    /// What is on whoever looks and has come to its day.
    pub on_you: usize,
    /// Loose ends.
    pub loose: usize,
}

/// *41 things happened in the 3 trackers you may open, 6 are on you today and 4 hang loose, told since you last looked, by area.*
pub fn home_sentence(counts: HomeCounts, since: Since, order: HomeOrder, clock: &Clock) -> Vec<Phrase> {
    let HomeCounts { things: count, trackers, on_you, loose } = counts;
    let customs = clock.customs();
    let mut sentence = Sentence::default();
    if count == 0 {
        sentence.plain("Nothing happened in ");
    } else {
        sentence.strong(customs.count_text(count));
        sentence.plain(if count == 1 { " thing happened in " } else { " things happened in " });
    }
    sentence.plain(if trackers == 1 {
        "the tracker that you may open".to_owned()
    } else {
        format!("the {} trackers that you may open", customs.count_text(trackers))
    });
    if on_you > 0 {
        sentence.plain(if loose > 0 { ", " } else { " and " });
        sentence.strong(customs.count_text(on_you));
        sentence.plain(if on_you == 1 { " is on you today" } else { " are on you today" });
    }
    if loose > 0 {
        sentence.plain(" and ");
        sentence.strong(customs.count_text(loose));
        sentence.plain(if loose == 1 { " hangs loose" } else { " hang loose" });
    }
    sentence.plain(", told ");
    sentence.edit(since.words(), "/since");
    sentence.plain(", ");
    sentence.edit(
        match order {
            HomeOrder::Area => "by area",
            HomeOrder::Recent => "last looked at first",
            HomeOrder::Name => "by name",
        },
        "/order",
    );
    sentence.plain(".");
    sentence.phrases()
}

/// *Since yesterday at 17:42*; `looked`: when whoever asks last looked at anything.
pub fn home_title(since: Since, looked: Option<Timestamp>, clock: &Clock) -> String {
    match (since, looked) {
        (Since::Looked, Some(looked)) => format!("Since {}", moment(looked, clock)),
        (Since::Looked, None) => "Your trackers".to_owned(),
        (Since::Day, _) => "The last 24 hours".to_owned(),
        (Since::Week, _) => "The last 7 days".to_owned(),
        (Since::Month, _) => "The last 30 days".to_owned(),
    }
}

/// A moment as one says it now: *08:31 today*, *yesterday at 17:42*, *24 Nov at 17:42*.
pub(super) fn moment(at: Timestamp, clock: &Clock) -> String {
    let (then, today) = (at.to_zoned(clock.told.clone()), clock.now.to_zoned(clock.told.clone()).date());
    let hour = then.strftime("%H:%M");
    match then.date().until(today).map_or(i32::MAX, |span| span.get_days()) {
        0 => format!("{hour} today"),
        1 => format!("yesterday at {hour}"),
        _ if then.year() == today.year() => format!("{} at {hour}", clock.customs().day_of_year(then.date())),
        _ => format!("{} at {hour}", clock.customs().date_text(then.date())),
    }
}

/// Gathers pieces.
#[derive(Default)]
struct Pieces(Vec<ReportPiece>);

impl Pieces {
    fn plain(&mut self, text: impl Into<String>) {
        self.0.push(ReportPiece { text: text.into(), tone: Tone::Plain, table: None, record: None });
    }

    fn leads(&mut self, text: impl Into<String>, table: TableId, record: Option<RecordId>) {
        self.0.push(ReportPiece { text: text.into(), tone: Tone::Edit, table: Some(table), record });
    }
}

impl Lens<'_> {
    pub(super) fn never_looked(&self) -> Vec<ReportPiece> {
        let counts: Vec<String> = self
            .open_tables()
            .map(|home| self.clock().customs().count_words(self.count(home.def.id), &home.def.one, &home.def.many()))
            .collect();
        let mut says = Pieces::default();
        says.plain(if counts.is_empty() {
            "is new to you, and nothing is in it yet.".to_owned()
        } else {
            format!("is new to you. There are {}.", list_text(&counts, "and"))
        });
        says.0
    }

    pub(super) fn nothing_happened(&self, looked: bool) -> Vec<ReportPiece> {
        let mut says = Pieces::default();
        let begins = if looked { "is as you left it" } else { "was quiet" };
        says.plain(match self.last_change() {
            Some(meta) if self.me().is_some_and(|me| meta.changed_by == Actor::Person(me)) => {
                format!("{begins}; you were the last to change it, {}.", on(meta.changed_at, self.clock()))
            }
            Some(meta) => {
                format!("{begins}; the last to change it was {}, {}.", self.actor_name(meta.changed_by), on(meta.changed_at, self.clock()))
            }
            None => format!("{begins}."),
        });
        says.0
    }

    pub(super) fn happened(&self, tables: &[(&Table, Doings)]) -> Vec<ReportPiece> {
        let mut told: Vec<&(&Table, Doings)> = tables.iter().filter(|(_, doings)| doings.count() > 0).collect();
        told.sort_by_key(|(_, doings)| std::cmp::Reverse(doings.count()));
        let mut says = Pieces::default();
        for (place, (home, doings)) in told.iter().take(TABLES).enumerate() {
            if place > 0 {
                says.plain(" ");
            }
            self.told_of(home, doings, &mut says);
        }
        let rest: usize = told.iter().skip(TABLES).map(|(_, doings)| doings.count()).sum();
        if rest > 0 {
            let customs = self.clock().customs();
            let others = customs.count_words(told.len().saturating_sub(TABLES), "other table", "other tables");
            says.plain(format!(" {} came or changed in {others}.", customs.count_words(rest, "record", "records")));
        }
        says.0
    }

    /// *5 faults came in, all by the form “Report a path fault”; 9 were changed, by Tamsin Oake and Idris Pell.*
    fn told_of(&self, home: &Table, Doings { came, changed }: &Doings, says: &mut Pieces) {
        let (table, customs) = (home.def.id, self.clock().customs());
        if !came.is_empty() {
            says.leads(format!("{} came in", customs.count_words(came.len(), &home.def.one, &home.def.many())), table, None);
            let who: Vec<Actor> = came.iter().filter_map(|(_, _, who)| *who).collect();
            if let Some(by) = self.by(&who, came.len()) {
                says.plain(format!(", {by}"));
            }
            if came.len() <= NAMED {
                let mut latest = came.clone();
                latest.sort_by_key(|(_, at, _)| std::cmp::Reverse(*at));
                for (place, (record, ..)) in latest.iter().enumerate() {
                    let Some(name) = self.record_name(table, *record).filter(|name| !name.name.is_empty()) else { continue };
                    says.plain(if place == 0 { ": " } else { ", " });
                    says.leads(name.name, table, Some(*record));
                }
            }
        }
        if !changed.is_empty() {
            let verb = if changed.len() == 1 { "was changed" } else { "were changed" };
            let many = if came.is_empty() {
                customs.count_words(changed.len(), &home.def.one, &home.def.many())
            } else {
                says.plain("; ");
                customs.count_text(changed.len())
            };
            says.leads(format!("{many} {verb}"), table, None);
            let who: Vec<Actor> = changed.iter().filter_map(|(_, _, who)| *who).collect();
            if let Some(by) = self.by(&who, changed.len()) {
                says.plain(format!(", {by}"));
            }
            if let ([(record, ..)], true) = (changed.as_slice(), came.is_empty())
                && let Some(name) = self.record_name(table, *record).filter(|name| !name.name.is_empty())
            {
                says.plain(": ");
                says.leads(name.name, table, Some(*record));
            }
        }
        says.plain(".");
    }

    /// *all by the form “Report a path fault”*, *by Tamsin Oake and Idris Pell*, *by 4 people*; nothing where it is not told of each.
    fn by(&self, who: &[Actor], of: usize) -> Option<String> {
        if who.len() < of {
            return None;
        }
        let mut known: Vec<Actor> = Vec::new();
        for one in who {
            if !known.contains(one) {
                known.push(*one);
            }
        }
        let all = if of > 1 && known.len() == 1 { "all " } else { "" };
        if known.len() <= PEOPLE {
            let names: Vec<String> = known.iter().map(|one| self.actor_name(*one)).collect();
            return Some(format!("{all}by {}", list_text(&names, "and")));
        }
        let people = known.iter().filter(|one| matches!(one, Actor::Person(_))).count();
        (people > 0).then(|| {
            let people = self.clock().customs().count_words(people, "person", "people");
            format!("by {people}{}", if known.iter().all(|one| matches!(one, Actor::Person(_))) { "" } else { " and others" })
        })
    }
}

/// *at 08:31 today*, *yesterday at 17:42*, *on 24 Nov at 17:42*.
fn on(at: Timestamp, clock: &Clock) -> String {
    let words = moment(at, clock);
    if words.starts_with("yesterday") {
        words
    } else if words.ends_with("today") {
        format!("at {words}")
    } else {
        format!("on {words}")
    }
}
