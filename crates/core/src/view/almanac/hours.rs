//! The hours of some days: who is out when, who is bound twice at once, and who is free.

use super::{Almanac, Asked, Beneath, WorkingHours, days_from};
use crate::{
    access::Lens,
    dataset::Reader,
    id::{FieldId, RecordId, TableId},
    schema::Kind,
    value::{Cell, CellValue, Customs, Value, list_text, natural_cmp},
    view::Query,
};
use jiff::civil::{Date, DateTime};
use rust_decimal::{Decimal, prelude::ToPrimitive};
use serde::{Deserialize, Serialize};

/// Minutes of a day.
const DAY: u32 = 24 * 60;
/// What is free for less is not told, in minutes.
const SHORTEST_FREE: u32 = 30;
/// Most lines of one stretch.
const MOST_THREADS: usize = 24;
/// So many days on either side of a stretch make somebody known to it, so that they can be free.
const AROUND: i64 = 21;

/// The hours of a day.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DayHours {
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub day: Date,
    /// A line for each who is out or could be, by name; last, without anybody.
    pub threads: Vec<Thread>,
    /// Who is free when, those together who are free alike. Nothing is said of days that are over.
    pub free: Vec<FreeOf>,
}

/// One who is bound by records, on one day.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Thread {
    pub who: CellValue,
    /// Empty: nobody is named.
    pub name: String,
    /// *3 work orders, 14.5 h*.
    pub says: String,
    /// What stands on it, the earliest first; what has no hour first of all.
    pub strokes: Vec<HourStroke>,
    /// Where several bind them at once.
    pub twice: Vec<Twice>,
    /// Where they are free, of the hours of work.
    pub free: Vec<FreeStretch>,
}

/// A record on a line of hours. Minutes from midnight, where the tracker is.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HourStroke {
    /// Of what lies beneath it is a record of that table.
    pub record: RecordId,
    /// Which of the dates it is, from 0; nothing: it lies beneath.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub date: Option<usize>,
    /// What it is called, where it lies beneath.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub name: String,
    pub from: u32,
    pub to: u32,
    pub length: Length,
    /// Whether it came from the day before, and goes on to the next.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub before: bool,
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub behind: bool,
}

/// What is known of how long something lasts.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Length {
    /// From an hour to an hour.
    Timed,
    /// At an hour, for as long as nobody says.
    Moment,
    /// The whole of the day.
    Day,
    /// On the day, at no hour.
    Untimed,
}

/// A time in which several bind one.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Twice {
    pub from: u32,
    pub to: u32,
    /// *two at once 9:30 to 15:30, three 12:00 to 12:30*.
    pub says: String,
}

/// A time in which nothing binds one.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FreeStretch {
    pub from: u32,
    pub to: u32,
    /// *2 h free*.
    pub says: String,
}

/// Who is free alike.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FreeOf {
    pub names: Vec<String>,
    /// *all day*, *until 13:00*.
    pub says: String,
}

/// What one of those who are out carries over a stretch.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Carrier {
    pub who: CellValue,
    pub name: String,
    /// In minutes, day by day.
    pub days: Vec<u32>,
    /// *32.5 h*.
    pub says: String,
}

/// From when to when something is; without hours, from which day to which.
#[derive(Clone, Copy, Debug)]
struct Span {
    start: DateTime,
    end: DateTime,
    length: Length,
    /// How many minutes of work it is, where that is known.
    work: u32,
}

/// Something that binds somebody, before it is cut into days.
struct Bound {
    record: RecordId,
    date: Option<usize>,
    name: String,
    span: Span,
}

/// The fields by which records bind somebody, made ready.
struct Binding<'a, 'd> {
    lens: &'a Lens<'d>,
    start: Reader<'a>,
    end: Option<Reader<'a>>,
    lasts: Option<(Reader<'a>, bool)>,
    who: Option<Reader<'a>>,
}

impl Binding<'_, '_> {
    fn span(&self, row: usize) -> Option<Span> {
        let start = self.start.cell(row);
        let end = self.end.as_ref().map_or(Cell::Empty, |reader| reader.cell(row));
        let lasts = self.lasts.as_ref().and_then(|(reader, seconds)| minutes(reader.cell(row), *seconds));
        let midnight = |day: Date| day.to_datetime(jiff::civil::Time::midnight());
        let clocks = |at: jiff::Timestamp| at.to_zoned(self.lens.clock().zone.clone()).datetime();
        match (start, end) {
            (Cell::Instant(from), Cell::Instant(to)) if to > from => Some(Span::timed(clocks(from), clocks(to), lasts)),
            (Cell::Instant(from), _) => {
                let from = clocks(from);
                let to = lasts.and_then(|minutes| from.checked_add(jiff::Span::new().try_minutes(minutes).ok()?).ok());
                Some(to.map_or(Span { start: from, end: from, length: Length::Moment, work: 0 }, |to| Span::timed(from, to, lasts)))
            }
            (Cell::Range(from, to), _) => Some(Span::days(midnight(from), midnight(to.max(from)), lasts)),
            (Cell::Date(from), Cell::Date(to)) if to >= from => Some(Span::days(midnight(from), midnight(to), lasts)),
            (Cell::Date(from), Cell::Instant(to)) if clocks(to).date() >= from => {
                Some(Span::days(midnight(from), midnight(clocks(to).date()), lasts))
            }
            (Cell::Date(day), _) => {
                Some(Span { start: midnight(day), end: midnight(day), length: Length::Untimed, work: lasts.unwrap_or(0) })
            }
            _ => None,
        }
    }

    /// Whom a record binds; nobody: one that has no name.
    fn whom(&self, row: usize) -> Vec<Value> {
        let Some(reader) = &self.who else { return vec![Value::Empty] };
        let whom: Vec<Value> = reader
            .cells(row)
            .into_iter()
            .flat_map(|cell| match cell {
                Cell::Person(person) => vec![Value::Person(person)],
                Cell::People(people) => people.iter().map(|person| Value::Person(*person)).collect(),
                Cell::Choice(option) => vec![Value::Choice(option)],
                Cell::Choices(options) => options.iter().map(|option| Value::Choice(*option)).collect(),
                Cell::Links(records) => reader.visible(records).map(|record| Value::Links(vec![record])).collect(),
                _ => Vec::new(),
            })
            .collect();
        if whom.is_empty() { vec![Value::Empty] } else { whom }
    }
}

impl Span {
    fn timed(start: DateTime, end: DateTime, lasts: Option<u32>) -> Self {
        let between = end.duration_since(start).as_mins().clamp(0, i64::from(DAY) * 400);
        Self { start, end, length: Length::Timed, work: lasts.unwrap_or_else(|| u32::try_from(between).unwrap_or(0)) }
    }

    fn days(start: DateTime, end: DateTime, lasts: Option<u32>) -> Self {
        Self { start, end, length: Length::Day, work: lasts.unwrap_or(0) }
    }

    /// What of it is on a day, in minutes from midnight.
    fn on(self, day: Date, working: WorkingHours) -> Option<(u32, u32)> {
        let (first, last) = (self.start.date(), self.end.date());
        if day < first || day > last {
            return None;
        }
        let clock =
            |at: DateTime| (at.hour().unsigned_abs() as u32).saturating_mul(60).saturating_add(u32::from(at.minute().unsigned_abs()));
        match self.length {
            Length::Untimed => Some((0, 0)),
            Length::Day => Some((working.start(), working.end())),
            Length::Moment => Some((clock(self.start), clock(self.start))),
            Length::Timed => {
                let from = if day > first { 0 } else { clock(self.start) };
                let to = if day < last { DAY } else { clock(self.end) };
                // What ends at midnight is not on the day that begins there.
                (to > from).then_some((from, to))
            }
        }
    }
}

impl WorkingHours {
    fn start(self) -> u32 {
        u32::from(self.from).saturating_mul(60)
    }

    fn end(self) -> u32 {
        u32::from(self.to).saturating_mul(60)
    }
}

/// How many minutes a length is: a number says hours, a duration seconds.
fn minutes(cell: Cell<'_>, seconds: bool) -> Option<u32> {
    let Cell::Number(number) = cell else { return None };
    let whole = if seconds { number.checked_div(60.into()) } else { number.checked_mul(60.into()) }?;
    whole.round().to_u32().filter(|minutes| *minutes > 0 && *minutes <= DAY.saturating_mul(400))
}

impl Query {
    /// The hours of the days of a stretch, and what each of those who are out carries.
    pub(super) fn hours(&self, lens: &Lens<'_>, table: TableId, almanac: &Almanac, asked: &Asked) -> (Vec<DayHours>, Vec<Carrier>) {
        let mut bound: Vec<(Value, Vec<Bound>)> = Vec::new();
        let mut bind = |who: Value, one: Bound| match bound.iter_mut().find(|(known, _)| *known == who) {
            Some((_, all)) => all.push(one),
            None => bound.push((who, vec![one])),
        };
        let around = |days: i64, day: Date| crate::value::plus_days(day, days).unwrap_or(day);
        let (first, last) = (around(AROUND.saturating_neg(), asked.from), around(AROUND, asked.to));
        let seconds =
            |field: FieldId| matches!(lens.dataset().shown_kind(table, field), Some((_, kind)) if *kind.shows() == Kind::Duration);
        for (at, date) in almanac.dates.iter().enumerate() {
            let lasts = almanac.lasts.filter(|_| at == 0 && date.end.is_none());
            let binding = Binding {
                lens,
                start: lens.reader(table, date.start),
                end: date.end.map(|end| lens.reader(table, end)),
                lasts: lasts.map(|lasts| (lens.reader(table, lasts), seconds(lasts))),
                who: almanac.who.map(|who| lens.reader(table, who)),
            };
            for row in self.condition.matching(lens, table).ones() {
                let Some(span) = binding.span(row).filter(|span| span.end.date() >= first && span.start.date() <= last) else { continue };
                for who in binding.whom(row) {
                    bind(who, Bound { record: RecordId::at_row(row), date: Some(at), name: String::new(), span });
                }
            }
        }
        if let Some(beneath) = almanac.beneath.filter(|beneath| lens.opens(beneath.table)) {
            // Lines are shared only where both tables mean the same by them.
            let who = beneath.who.filter(|who| almanac.who.is_some_and(|own| same_sort(lens, (table, own), (beneath.table, *who))));
            for (record, name, span, whom) in beneath_of(lens, beneath, who, first, last) {
                for who in whom {
                    bind(who, Bound { record, date: None, name: name.clone(), span });
                }
            }
        }
        let name = |who: &Value| almanac.who.map_or_else(String::new, |field| lens.cell_text(table, field, who.as_cell()));
        let mut named: Vec<(String, Value, Vec<Bound>)> = bound.into_iter().map(|(who, all)| (name(&who), who, all)).collect();
        // The busiest, where there are too many; then by name, nobody last.
        named.sort_by_key(|(.., all)| std::cmp::Reverse(all.len()));
        named.truncate(MOST_THREADS);
        named.sort_by(|a, b| (a.1 == Value::Empty).cmp(&(b.1 == Value::Empty)).then_with(|| natural_cmp(&a.0, &b.0)));
        let days = days_from(asked.from, asked.to).map(|day| self.day_hours(lens, table, almanac.working, day, &named)).collect();
        let carriers = named.iter().filter_map(|(name, who, all)| carrier(lens, asked, name, who, all)).collect();
        (days, carriers)
    }

    fn day_hours(
        &self,
        lens: &Lens<'_>,
        table: TableId,
        working: WorkingHours,
        day: Date,
        named: &[(String, Value, Vec<Bound>)],
    ) -> DayHours {
        let over = day < lens.clock().today();
        let customs = lens.clock().customs();
        let mut free: Vec<FreeOf> = Vec::new();
        let threads = named.iter().filter_map(|(name, who, all)| {
            let mut strokes: Vec<HourStroke> = all.iter().filter_map(|one| one.stroke(day, working)).collect();
            if strokes.is_empty() && (*who == Value::Empty || over) {
                return None;
            }
            strokes.sort_by_key(|stroke| (stroke.length != Length::Untimed, stroke.from, stroke.to, stroke.record));
            // Where nobody is named nobody is bound, and who comes at no hour may come at any.
            let binds = *who != Value::Empty;
            let twice = if binds { twice(&strokes) } else { Vec::new() };
            let certain = binds && !over && strokes.iter().all(|stroke| stroke.length != Length::Untimed);
            let stretches = if certain { free_of(&strokes, working, customs) } else { Vec::new() };
            if certain && !stretches.is_empty() {
                let says = free_words(&stretches, working);
                match free.iter_mut().find(|one| one.says == says) {
                    Some(one) => one.names.push(name.clone()),
                    None => free.push(FreeOf { names: vec![name.clone()], says }),
                }
            }
            let own: Vec<RecordId> = strokes.iter().filter(|stroke| stroke.date.is_some()).map(|stroke| stroke.record).collect();
            let count = std::collections::BTreeSet::from_iter(own).len();
            let work = work_on(all, day);
            let mut says = if count > 0 { vec![crate::view::words::counted(lens, table, count)] } else { Vec::new() };
            says.extend((work > 0).then(|| hours_words(work, customs)));
            Some(Thread { who: who.clone(), name: name.clone(), says: says.join(", "), strokes, twice, free: stretches })
        });
        let threads = threads.collect();
        DayHours { day, threads, free }
    }
}

impl Bound {
    fn stroke(&self, day: Date, working: WorkingHours) -> Option<HourStroke> {
        let (from, to) = self.span.on(day, working)?;
        Some(HourStroke {
            record: self.record,
            date: self.date,
            name: self.name.clone(),
            from,
            to,
            length: self.span.length,
            before: self.span.start.date() < day,
            behind: self.span.end.date() > day && (self.span.length == Length::Day || to == DAY),
        })
    }
}

/// What of another table lies in a stretch, with whom it binds.
fn beneath_of(
    lens: &Lens<'_>,
    beneath: Beneath,
    who: Option<FieldId>,
    first: Date,
    last: Date,
) -> Vec<(RecordId, String, Span, Vec<Value>)> {
    let binding = Binding {
        lens,
        start: lens.reader(beneath.table, beneath.date.start),
        end: beneath.date.end.map(|end| lens.reader(beneath.table, end)),
        lasts: None,
        who: who.map(|who| lens.reader(beneath.table, who)),
    };
    let one = |record: RecordId| {
        let span = binding.span(record.row()).filter(|span| span.end.date() >= first && span.start.date() <= last)?;
        let name = lens.record_name(beneath.table, record)?.name;
        Some((record, name, span, binding.whom(record.row())))
    };
    lens.records(beneath.table).filter_map(one).collect()
}

/// Whether two fields hold the same sort of thing: people, or records of one table.
fn same_sort(lens: &Lens<'_>, a: (TableId, FieldId), b: (TableId, FieldId)) -> bool {
    let kind = |(table, field): (TableId, FieldId)| lens.dataset().shown_kind(table, field).map(|(_, kind)| kind.shows().clone());
    match (kind(a), kind(b)) {
        (Some(Kind::Person | Kind::People), Some(Kind::Person | Kind::People)) => true,
        (Some(Kind::Link(a)), Some(Kind::Link(b))) => a.to == b.to,
        _ => false,
    }
}

/// How many minutes of work lie on a day: those of what begins there.
fn work_on(all: &[Bound], day: Date) -> u32 {
    let begins = all.iter().filter(|one| one.span.start.date() == day && one.date == Some(0));
    begins.fold(0, |sum, one| sum.saturating_add(one.span.work))
}

fn carrier(lens: &Lens<'_>, asked: &Asked, name: &str, who: &Value, all: &[Bound]) -> Option<Carrier> {
    let days: Vec<u32> = days_from(asked.from, asked.to).map(|day| work_on(all, day)).collect();
    let sum = days.iter().fold(0_u32, |sum, day| sum.saturating_add(*day));
    let says = hours_words(sum, lens.clock().customs());
    (sum > 0).then(|| Carrier { who: who.clone(), name: name.to_owned(), days, says })
}

/// The times that are taken, those that meet as one each; a record counts once however often it is marked.
fn busy(strokes: &[HourStroke]) -> Vec<(u32, u32, (bool, RecordId))> {
    let taken = strokes.iter().filter(|stroke| matches!(stroke.length, Length::Timed | Length::Day) && stroke.to > stroke.from);
    taken.map(|stroke| (stroke.from, stroke.to, (stroke.date.is_none(), stroke.record))).collect()
}

/// Where several are at once: each time by itself, with how many at most.
fn twice(strokes: &[HourStroke]) -> Vec<Twice> {
    let busy = busy(strokes);
    let mut edges: Vec<u32> = busy.iter().flat_map(|(from, to, _)| [*from, *to]).collect();
    edges.sort_unstable();
    edges.dedup();
    let depth = |from: u32| {
        let here = busy.iter().filter(|(start, end, _)| *start <= from && from < *end).map(|(.., record)| *record);
        std::collections::BTreeSet::from_iter(here).len()
    };
    // Runs in which equally many are at once, and of these those that meet together.
    let mut crowds: Vec<Vec<Crowd>> = Vec::new();
    for (from, to) in edges.iter().zip(edges.iter().skip(1)) {
        let run = Crowd { from: *from, to: *to, depth: depth(*from) };
        if run.depth < 2 {
            continue;
        }
        match crowds.last_mut().filter(|crowd| crowd.last().is_some_and(|last| last.to == run.from)) {
            None => crowds.push(vec![run]),
            Some(crowd) => match crowd.last_mut().filter(|last| last.depth == run.depth) {
                Some(last) => last.to = run.to,
                None => crowd.push(run),
            },
        }
    }
    crowds.iter().filter_map(|crowd| crowd_words(crowd)).collect()
}

/// A time in which so many are at once.
struct Crowd {
    from: u32,
    to: u32,
    depth: usize,
}

/// *two at once 9:30 to 15:30, three 12:00 to 12:30*.
fn crowd_words(crowd: &[Crowd]) -> Option<Twice> {
    let (from, to) = (crowd.first()?.from, crowd.last()?.to);
    let least = crowd.iter().map(|run| run.depth).min()?;
    let more = crowd.iter().filter(|run| run.depth > least);
    let more: String = more.map(|run| format!(", {} {} to {}", number_word(run.depth), hour(run.from), hour(run.to))).collect();
    Some(Twice { from, to, says: format!("{} at once {} to {}{more}", number_word(least), hour(from), hour(to)) })
}

/// What nothing takes of the hours of work.
fn free_of(strokes: &[HourStroke], working: WorkingHours, customs: Customs) -> Vec<FreeStretch> {
    let mut busy = busy(strokes);
    busy.sort_unstable();
    let mut free = Vec::new();
    let mut at = working.start();
    for (from, to) in busy.into_iter().map(|(from, to, _)| (from, to)).chain([(working.end(), working.end())]) {
        let until = from.min(working.end());
        if until.saturating_sub(at) >= SHORTEST_FREE {
            free.push(FreeStretch { from: at, to: until, says: format!("{} free", hours_words(until.saturating_sub(at), customs)) });
        }
        at = at.max(to);
    }
    free
}

/// *all day*, *until 13:00*, *from 12:00*, *9:00 to 10:00 and from 15:00*.
fn free_words(free: &[FreeStretch], working: WorkingHours) -> String {
    let words = |one: &FreeStretch| match (one.from == working.start(), one.to == working.end()) {
        (true, true) => "all day".to_owned(),
        (true, false) => format!("until {}", hour(one.to)),
        (false, true) => format!("from {}", hour(one.from)),
        (false, false) => format!("{} to {}", hour(one.from), hour(one.to)),
    };
    list_text(&free.iter().map(words).collect::<Vec<_>>(), "and")
}

/// `9:30`.
fn hour(minutes: u32) -> String {
    format!("{}:{:02}", minutes / 60, minutes % 60)
}

/// `14.5 h`.
fn hours_words(minutes: u32, customs: Customs) -> String {
    let hours = Decimal::from(minutes).checked_div(60.into()).unwrap_or_default().round_dp(2).normalize();
    customs.number_text(hours, hours.scale(), "h")
}

fn number_word(count: usize) -> String {
    ["no", "one", "two", "three", "four", "five", "six"].get(count).map_or_else(|| count.to_string(), |word| (*word).to_owned())
}
