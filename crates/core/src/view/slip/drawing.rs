//! What a slip draws: how days and numbers lie, or which values there are and how often.

use super::Slip;
use crate::{
    condition::{Check, Comparison, TextMatch, When, Who},
    schema::{Hue, Kind},
    value::{Cell, Value, days_on, fold, months_on},
};
use jiff::civil::{Date, Weekday};
use rust_decimal::{Decimal, prelude::ToPrimitive};
use serde::{Deserialize, Serialize};
use std::{
    borrow::Cow,
    collections::{BTreeMap, HashMap},
};

/// Most runs that are drawn beside each other.
const RUNS: usize = 40;
/// Most values that are named.
const VALUES: usize = 12;

/// What is drawn of a field.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "of", rename_all = "lowercase")]
pub enum SlipDrawing {
    Nothing,
    /// Days or numbers, in runs of the same length that follow each other.
    Runs {
        runs: Vec<SlipRun>,
        /// The run that today is in, by its place.
        today: Option<usize>,
        /// Of days, the years that they are in, each with its months; those in which there are none are left out.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        years: Vec<SlipYear>,
    },
    /// The most frequent values first.
    Values {
        values: Vec<SlipValue>,
        /// How many other values there are.
        more: usize,
    },
}

/// A run of days or numbers.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SlipRun {
    /// What it begins and ends with, in words.
    pub from: String,
    pub to: String,
    /// Records that fall into it.
    pub count: usize,
    /// What holds from its beginning on, and of all before it.
    pub since: Check,
    pub before: Check,
    /// What holds up to its end, and of all behind it.
    pub until: Check,
    pub behind: Check,
}

/// A year in which there are days, and its months.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SlipYear {
    pub year: SlipRun,
    pub months: Vec<SlipRun>,
}

/// A value, and how often it stands here.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SlipValue {
    pub text: String,
    pub count: usize,
    /// The colour of an option.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hue: Option<Hue>,
    /// What holds of records with it, and of those without it.
    pub only: Check,
    pub without: Check,
}

/// A run of days with what holds of it.
fn run_of_days(from: String, to: String, count: usize, (start, end): (Date, Date)) -> SlipRun {
    let check = |how, day: Date| Check::Day { how, than: When::Date(day) };
    SlipRun {
        from,
        to,
        count,
        since: check(Comparison::AtLeast, start),
        before: check(Comparison::Under, start),
        until: check(Comparison::AtMost, end),
        behind: check(Comparison::Over, end),
    }
}

/// The years in which days lie, the earliest first; of too many, none are named.
fn years_of(days: &[Date]) -> Vec<SlipYear> {
    let mut counts: BTreeMap<(i16, i8), usize> = BTreeMap::new();
    for day in days {
        *counts.entry((day.year(), day.month())).or_default() += 1;
    }
    let mut years: Vec<SlipYear> = Vec::new();
    for ((year, month), count) in counts {
        let Ok(first) = Date::new(year, month, 1) else { continue };
        let word = first.strftime("%B").to_string();
        let months = run_of_days(word.clone(), word, count, (first, first.last_of_month()));
        let text = year.to_string();
        match years.last_mut().filter(|known| known.year.from == text) {
            Some(known) => {
                known.year.count += count;
                known.months.push(months);
            }
            None => {
                let whole = run_of_days(text.clone(), text, count, (first.first_of_year(), first.last_of_year()));
                years.push(SlipYear { year: whole, months: vec![months] });
            }
        }
    }
    if years.len() > RUNS { Vec::new() } else { years }
}

impl Slip<'_, '_> {
    pub(super) fn drawing(&self, search: &str) -> SlipDrawing {
        match self.kind {
            Kind::Date | Kind::DateTime | Kind::CreatedAt | Kind::ChangedAt => self.days(),
            Kind::Choice { .. }
            | Kind::Choices { .. }
            | Kind::YesNo
            | Kind::Person
            | Kind::People
            | Kind::CreatedBy
            | Kind::ChangedBy
            | Kind::Link(_) => self.values(search),
            Kind::Text { .. } | Kind::Email | Kind::Phone => self.texts(search),
            kind if kind.is_number() => self.numbers(),
            _ => SlipDrawing::Nothing,
        }
    }

    fn days(&self) -> SlipDrawing {
        let customs = self.lens.clock().customs();
        let zone = &self.lens.clock().zone;
        let day = |cell: Cell<'_>| match cell {
            Cell::Date(date) => Some(date),
            Cell::Instant(at) => Some(at.to_zoned(zone.clone()).date()),
            _ => None,
        };
        let mut days: Vec<Date> = Vec::new();
        self.each(|cells| days.extend(cells.iter().copied().filter_map(day)));
        let (Some(first), Some(last)) = (days.iter().min(), days.iter().max()) else { return SlipDrawing::Nothing };
        let starts = starts(*first, *last);
        let place = |day: Date| starts.partition_point(|start| *start <= day).saturating_sub(1);
        let mut counts = vec![0; starts.len()];
        days.iter().for_each(|day| counts[place(*day)] += 1);
        let run = |(number, count): (usize, usize)| {
            let start = starts[number];
            let end = starts.get(number + 1).map_or(*last, |next| days_on(*next, -1)).max(start);
            run_of_days(customs.date_text(start), customs.date_text(end), count, (start, end))
        };
        let today = self.lens.clock().today();
        let within = *first <= today && today <= *last;
        SlipDrawing::Runs {
            today: within.then(|| place(today)),
            runs: counts.into_iter().enumerate().map(run).collect(),
            years: years_of(&days),
        }
    }

    fn numbers(&self) -> SlipDrawing {
        let number = |cell: Cell<'_>| if let Cell::Number(number) = cell { Some(number) } else { None };
        let mut numbers: Vec<Decimal> = Vec::new();
        self.each(|cells| numbers.extend(cells.iter().copied().filter_map(number)));
        let (Some(least), Some(most)) = (numbers.iter().min(), numbers.iter().max()) else { return SlipDrawing::Nothing };
        let Some((first, step)) = steps(*least, *most) else { return SlipDrawing::Nothing };
        let place = |number: Decimal| number.checked_sub(first).and_then(|far| far.checked_div(step)).and_then(|n| n.floor().to_usize());
        let mut counts = vec![0; place(*most).map_or(1, |last| last.min(RUNS) + 1)];
        let end = counts.len() - 1;
        numbers.iter().for_each(|number| counts[place(*number).unwrap_or(0).min(end)] += 1);
        let start = |number: usize| Decimal::from(number).checked_mul(step).and_then(|far| first.checked_add(far)).unwrap_or(*most);
        let check = |how, than: Decimal| Check::Number { how, than };
        let text = |number: usize| self.lens.cell_text(self.table, self.field, Cell::Number(start(number)));
        let run = |(number, count): (usize, usize)| SlipRun {
            from: text(number),
            to: text(number + 1),
            count,
            since: check(Comparison::AtLeast, start(number)),
            before: check(Comparison::Under, start(number)),
            until: check(Comparison::Under, start(number + 1)),
            behind: check(Comparison::AtLeast, start(number + 1)),
        };
        SlipDrawing::Runs { years: Vec::new(), today: None, runs: counts.into_iter().enumerate().map(run).collect() }
    }

    /// Texts of which some stand there more than once; looked for, those too that do not.
    fn texts(&self, search: &str) -> SlipDrawing {
        // Upper and lower case are one text to whoever asks for it.
        let mut counts: HashMap<String, (String, usize)> = HashMap::new();
        self.each(|cells| {
            let texts = cells.iter().filter_map(|cell| if let Cell::Text(text) = cell { Some(*text) } else { None });
            let mut of_record: Vec<(Cow<'_, str>, &str)> = texts.map(|text| (fold(text.trim()), text)).collect();
            of_record.sort_unstable();
            of_record.dedup_by(|a, b| a.0 == b.0);
            for (key, text) in of_record {
                match counts.get_mut(&*key) {
                    Some((_, count)) => *count += 1,
                    None => drop(counts.insert(key.into_owned(), (text.to_owned(), 1))),
                }
            }
        });
        if search.is_empty() && counts.values().all(|(_, count)| *count == 1) {
            return SlipDrawing::Nothing;
        }
        let check = |how, text: &str| Check::Text { how, text: text.trim().to_owned() };
        let value = |(text, count): (String, usize)| SlipValue {
            count,
            hue: None,
            only: check(TextMatch::Is, &text),
            without: check(TextMatch::IsNot, &text),
            text,
        };
        most_frequent(counts.into_values().map(value).collect(), search)
    }

    fn values(&self, search: &str) -> SlipDrawing {
        let mut counts: HashMap<Single, usize> = HashMap::new();
        let mut of_record: Vec<Single> = Vec::new();
        self.each(|cells| {
            cells.iter().for_each(|cell| singles(*cell, &mut of_record));
            if of_record.len() > 1 {
                of_record.sort_unstable();
                of_record.dedup();
            }
            of_record.drain(..).for_each(|one| *counts.entry(one).or_default() += 1);
        });
        most_frequent(counts.into_iter().map(|(one, count)| self.value(one, count)).collect(), search)
    }

    fn value(&self, one: Single, count: usize) -> SlipValue {
        let text = |value: &Value| self.lens.cell_text(self.table, self.field, value.as_cell());
        let (text, hue, only, without) = match one {
            Single::Option(option) => {
                let def = self.kind.options().iter().find(|o| o.id == option);
                let check = |not| Check::Option { not, any: vec![option] };
                (def.map_or_else(String::new, |o| o.name.clone()), def.map(|o| o.hue), check(false), check(true))
            }
            Single::Person(person) => {
                let check = |not| Check::Person { not, any: vec![Who::Person(person)] };
                (self.lens.dataset().people.name(person).to_owned(), None, check(false), check(true))
            }
            Single::Record(record) => {
                let check = |not| Check::Record { not, any: vec![record] };
                (text(&Value::Links(vec![record])), None, check(false), check(true))
            }
            Single::Logical(yes) => {
                let (only, without) = if yes { (Check::Yes, Check::No) } else { (Check::No, Check::Yes) };
                (text(&Value::Logical(yes)), None, only, without)
            }
        };
        SlipValue { text, count, hue, only, without }
    }
}

/// The most frequent of those in which every word of what is looked for stands.
fn most_frequent(mut values: Vec<SlipValue>, search: &str) -> SlipDrawing {
    if values.is_empty() {
        return SlipDrawing::Nothing;
    }
    let search = fold(search);
    let words: Vec<&str> = search.split_whitespace().collect();
    if !words.is_empty() {
        values.retain(|value| {
            let text = fold(&value.text);
            words.iter().all(|word| text.contains(word))
        });
    }
    values.sort_by(|a, b| b.count.cmp(&a.count).then_with(|| a.text.cmp(&b.text)));
    let more = values.len().saturating_sub(VALUES);
    values.truncate(VALUES);
    SlipDrawing::Values { values, more }
}

/// One of the values that a cell may hold several of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
enum Single {
    Option(crate::id::OptionId),
    Person(crate::id::PersonId),
    Record(crate::id::RecordId),
    Logical(bool),
}

fn singles(cell: Cell<'_>, into: &mut Vec<Single>) {
    match cell {
        Cell::Choice(option) => into.push(Single::Option(option)),
        Cell::Choices(options) => into.extend(options.iter().copied().map(Single::Option)),
        Cell::Person(person) => into.push(Single::Person(person)),
        Cell::People(people) => into.extend(people.iter().copied().map(Single::Person)),
        Cell::Links(records) => into.extend(records.iter().copied().map(Single::Record)),
        Cell::Logical(yes) => into.push(Single::Logical(yes)),
        _ => {}
    }
}

/// Where runs of days begin, from the first to the last day: each a day, a week, a month, a quarter or some years long, so that there
/// are not too many of them.
fn starts(first: Date, last: Date) -> Vec<Date> {
    let most = i64::try_from(RUNS).unwrap_or(i64::MAX);
    let days = first.until(last).map_or(0, |span| i64::from(span.get_days())) + 1;
    let run_of = |begin: Date, next: &dyn Fn(Date) -> Date| {
        let mut starts = vec![begin];
        // A calendar ends; what can't go on stops there.
        while let Some(start) = starts.last().map(|start| next(*start)).filter(|start| *start <= last && starts.last() != Some(start)) {
            starts.push(start);
        }
        starts
    };
    if days <= most {
        return run_of(first, &|day| days_on(day, 1));
    }
    if days <= 7 * most {
        let monday = days_on(first, -i64::from(first.weekday().since(Weekday::Monday)));
        return run_of(monday, &|day| days_on(day, 7));
    }
    let months = days / 28 + 1;
    for length in [1, 3, 12] {
        if months <= length * most {
            let into = i64::from(first.month() - 1) % length;
            return run_of(months_on(first.first_of_month(), -into), &|day| months_on(day, length));
        }
    }
    let years = 12 * (months / (12 * most) + 1);
    run_of(first.first_of_year(), &|day| months_on(day, years))
}

/// Where runs of numbers begin, and how long each is: 1, 2 or 5 of some power of ten.
fn steps(least: Decimal, most: Decimal) -> Option<(Decimal, Decimal)> {
    let wanted = most.checked_sub(least)?.checked_div(Decimal::from(24))?;
    if wanted.is_zero() {
        return Some((least, Decimal::ONE));
    }
    let mut power = Decimal::ONE;
    while power > wanted {
        power = power.checked_div(Decimal::TEN).filter(|p| !p.is_zero())?;
    }
    while power.checked_mul(Decimal::TEN)? <= wanted {
        power = power.checked_mul(Decimal::TEN)?;
    }
    let step = [1, 2, 5, 10].into_iter().filter_map(|n| power.checked_mul(Decimal::from(n))).find(|step| *step >= wanted)?;
    let first = least.checked_div(step)?.floor().checked_mul(step)?;
    Some((first, step))
}
