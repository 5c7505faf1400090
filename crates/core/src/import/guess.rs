//! Guessing what the columns of a sheet are. A guess says how sure it is and what would not fit; what can be read two
//! ways is asked.

use super::{Becomes, ColumnPlan, ColumnReader, DateOrder, ImportInto, Plan, Raw, Sheet, Unmatched};
use crate::{
    access::Lens,
    intent::split,
    schema::{Kind, TEXT_LIMIT, within_sentence},
    value::{Locale, fold},
};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

/// Cells of a column that are looked at for a guess.
const SAMPLE: usize = 5_000;
/// Rows at the top among which the heading row is looked for.
const TOP: usize = 20;
/// Most cells that do not fit that are named.
const NAMED: usize = 5;

/// What a sheet seems to be.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetGuess {
    pub plan: Plan,
    pub columns: Vec<ColumnGuess>,
    /// Rows under the heading that hold something.
    pub rows: usize,
}

/// What a column seems to be.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ColumnGuess {
    pub column: usize,
    /// Cells that hold something.
    pub filled: usize,
    /// How many different ones are among those looked at.
    pub different: usize,
    /// Of the cells looked at, the share that fits, in hundredths.
    pub sure: u8,
    /// Some cells that do not fit.
    pub unfit: Vec<OddCell>,
    pub samples: Vec<String>,
    /// Its dates can be read with the day first and with the month first: which it is must be said.
    pub asks_order: bool,
    /// It repeats a few values, so that it could be a choice or a table of its own.
    pub repeats: bool,
}

/// A cell that does not fit what its column seems to be.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OddCell {
    /// From 1, as in the file.
    pub row: usize,
    pub text: String,
}

impl Lens<'_> {
    /// What a sheet seems to be. `heading`: the row with the names, where that is known.
    pub fn guess(&self, sheet: &Sheet, name: &str, heading: Option<usize>, into: Option<ImportInto>) -> SheetGuess {
        let heading = heading.unwrap_or_else(|| heading_row(sheet));
        let rows: Vec<usize> = sheet.filled_rows(heading).collect();
        let into = into.unwrap_or_else(|| ImportInto::New { one: singular(name), name: name.to_owned() });
        let columns =
            (0..sheet.width()).filter(|c| rows.iter().any(|r| !sheet.cell(*r, *c).is_empty()) || !sheet.cell(heading, *c).is_empty());
        let guessed: Vec<(ColumnPlan, ColumnGuess)> = columns.map(|column| self.guess_column(sheet, heading, &rows, column)).collect();
        let (mut plans, guesses): (Vec<ColumnPlan>, Vec<ColumnGuess>) = guessed.into_iter().unzip();
        distinct_names(&mut plans);
        if let ImportInto::Table { table, .. } = into {
            self.match_fields(table, &mut plans);
        }
        SheetGuess { plan: Plan { heading, into, columns: plans }, columns: guesses, rows: rows.len() }
    }

    /// Columns that are called like a field of the table go into it.
    fn match_fields(&self, table: crate::id::TableId, plans: &mut [ColumnPlan]) {
        let Some(home) = self.dataset().table(table) else { return };
        for plan in plans {
            let fits = |f: &&crate::schema::FieldDef| fold(&f.name) == fold(&plan.name) && f.kind.takes_input() && self.writes(table, f.id);
            if let Some(field) = home.def.fields.iter().find(fits) {
                plan.becomes = Becomes::Existing { field: field.id, unmatched: Unmatched::Flag };
            } else if home.def.fields.iter().any(|f| fold(&f.name) == fold(&plan.name)) {
                plan.becomes = Becomes::Nothing;
            }
        }
    }

    fn guess_column(&self, sheet: &Sheet, heading: usize, rows: &[usize], column: usize) -> (ColumnPlan, ColumnGuess) {
        let filled: Vec<usize> = rows.iter().copied().filter(|r| !sheet.cell(*r, column).is_empty()).collect();
        let step = (filled.len() / SAMPLE).max(1);
        let sample: Vec<(usize, &Raw)> = filled.iter().step_by(step).map(|r| (*r, sheet.cell(*r, column))).collect();
        let mut words: HashMap<String, usize> = HashMap::new();
        for (_, raw) in &sample {
            *words.entry(raw.words()).or_default() += 1;
        }
        let name = Some(sheet.cell(heading, column).words().trim().replace('\n', " ")).filter(|n| !n.is_empty());
        let name = name.unwrap_or_else(|| format!("Column {}", column + 1));
        let mut plan = ColumnPlan {
            column,
            name: name.chars().take(crate::schema::NAME_LIMIT).collect(),
            becomes: Becomes::Nothing,
            dates: None,
            decimal_comma: sheet.decimal_comma.unwrap_or(self.dataset().tracker.locale.decimal_comma),
            separator: None,
        };
        let seen = Seen { sample: &sample, words: &words, filled: sample.len(), plan: &plan };
        let verdict = self.verdict(&seen);
        plan.becomes = verdict.becomes;
        plan.dates = verdict.dates;
        plan.decimal_comma = verdict.decimal_comma.unwrap_or(plan.decimal_comma);
        plan.separator = verdict.separator;
        let unfit = self.unfit(&plan, &sample);
        let few = words.len() * 3 <= sample.len() && words.len() <= 60 && words.keys().all(|w| w.chars().count() <= 60);
        let guess = ColumnGuess {
            column,
            filled: filled.len(),
            different: words.len(),
            sure: u8::try_from(100 - 100 * unfit.len() / sample.len().max(1)).unwrap_or(0),
            unfit: unfit.into_iter().take(NAMED).collect(),
            samples: sample.iter().take(4).map(|(_, raw)| raw.words()).collect(),
            asks_order: verdict.asks_order,
            repeats: few && words.len() > 1 && words.keys().any(|w| w.chars().any(char::is_alphabetic)),
        };
        (plan, guess)
    }

    /// The cells of a sample that would not fit.
    fn unfit(&self, plan: &ColumnPlan, sample: &[(usize, &Raw)]) -> Vec<OddCell> {
        let Becomes::Field { kind } = &plan.becomes else { return Vec::new() };
        if matches!(kind, Kind::Choice { .. } | Kind::Choices { .. }) {
            return Vec::new();
        }
        let reader = ColumnReader::new(plan, self.dataset().tracker.locale, &self.dataset().people, self.clock());
        sample
            .iter()
            .filter(|(_, raw)| reader.value(raw, kind).is_err())
            .map(|(row, raw)| OddCell { row: row + 1, text: raw.words() })
            .collect()
    }

    fn verdict(&self, seen: &Seen<'_>) -> Verdict {
        if seen.filled == 0 {
            return Verdict::of(text());
        }
        if let Some(verdict) = seen.typed() {
            return verdict;
        }
        if seen.keeps_zeros() {
            return Verdict::of(text());
        }
        seen.yes_no()
            .or_else(|| seen.number())
            .or_else(|| self.dates(seen))
            .or_else(|| self.simple(seen))
            .or_else(|| self.links(seen))
            .or_else(|| seen.choices())
            .unwrap_or_else(|| Verdict::of(if seen.is_long() { Kind::LongText } else { text() }))
    }

    /// Dates as text: in three orders, of which two can look the same.
    fn dates(&self, seen: &Seen<'_>) -> Option<Verdict> {
        let looks =
            |raw: &&(usize, &Raw)| matches!(&raw.1, Raw::Text(t) if t.len() <= 40 && t.chars().filter(char::is_ascii_digit).count() >= 3);
        if seen.sample.iter().filter(looks).count() * 10 < seen.sample.len() * 9 {
            return None;
        }
        for kind in [Kind::Date, Kind::DateTime] {
            let share = |order: DateOrder| {
                let plan = ColumnPlan { dates: Some(order), ..seen.plan.clone() };
                seen.sample.len() - self.unfit(&ColumnPlan { becomes: Becomes::Field { kind: kind.clone() }, ..plan }, seen.sample).len()
            };
            let (day, month) = (share(DateOrder::Day), share(DateOrder::Month));
            if day.max(month) * 10 < seen.sample.len() * 9 {
                continue;
            }
            // With the year or the month's name in it, both readings are the same one.
            let plain = seen.sample.iter().any(|(_, raw)| in_numbers(&raw.words()));
            let asks_order = plain && day == month;
            let dates = if day < month { DateOrder::Month } else { DateOrder::Day };
            return Some(Verdict { dates: Some(dates).filter(|_| !asks_order && plain), asks_order, ..Verdict::of(kind) });
        }
        None
    }

    /// Kinds that can be told by trying them.
    fn simple(&self, seen: &Seen<'_>) -> Option<Verdict> {
        let heading = fold(&seen.plan.name);
        let phone = seen
            .all(|t| t.chars().filter(char::is_ascii_digit).count() >= 6 && t.chars().all(|c| c.is_ascii_digit() || "+-() /.".contains(c)))
            && (seen.all(|t| t.starts_with(['+', '0']))
                || heading.contains("phone")
                || heading.contains("tel")
                || heading.contains("mobile"));
        let kinds = [
            (Kind::Email, seen.all(|t| crate::checks::check_mail(t).is_ok())),
            (Kind::Web, seen.all(|t| t.contains("://"))),
            (Kind::Phone, phone),
            (Kind::Duration, seen.all(|t| t.contains([':', 'h', 'm']) && t.starts_with(|c: char| c.is_ascii_digit()))),
            (Kind::Place, seen.all(|t| t.ends_with(')') && t.contains('('))),
            (Kind::Person, true),
            (Kind::Range, seen.all(|t| t.contains('–') || t.contains(" to "))),
        ];
        let fits = |kind: &Kind| {
            let plan = ColumnPlan { becomes: Becomes::Field { kind: kind.clone() }, ..seen.plan.clone() };
            self.unfit(&plan, seen.sample).len() * 10 <= seen.sample.len()
        };
        kinds.into_iter().find(|(kind, may)| *may && fits(kind)).map(|(kind, _)| Verdict::of(kind))
    }

    /// A column whose values are the names of records that are there.
    fn links(&self, seen: &Seen<'_>) -> Option<Verdict> {
        let best = self.propose_for(seen.words.keys().map(String::as_str), None).into_iter().next()?;
        if best.matched * 10 < best.of * 6 {
            return None;
        }
        let back = String::new();
        let becomes = Becomes::Link { to: best.to, by: best.by, one: best.separator.is_none(), back, unmatched: Unmatched::Flag };
        Some(Verdict { becomes, separator: best.separator, ..Verdict::of(text()) })
    }
}

struct Verdict {
    becomes: Becomes,
    dates: Option<DateOrder>,
    decimal_comma: Option<bool>,
    separator: Option<String>,
    asks_order: bool,
}

impl Verdict {
    fn of(kind: Kind) -> Self {
        Self { becomes: Becomes::Field { kind }, dates: None, decimal_comma: None, separator: None, asks_order: false }
    }
}

/// A column as far as it was looked at; `filled`: so many cells of it.
struct Seen<'a> {
    sample: &'a [(usize, &'a Raw)],
    words: &'a HashMap<String, usize>,
    filled: usize,
    plan: &'a ColumnPlan,
}

fn text() -> Kind {
    Kind::Text { limit: TEXT_LIMIT }
}

fn plain_number(decimals: u32) -> Kind {
    Kind::Number { decimals, unit: String::new() }
}

impl Seen<'_> {
    fn all(&self, fits: impl Fn(&str) -> bool) -> bool {
        let texts = self.sample.iter().filter(|(_, raw)| fits(raw.words().trim())).count();
        texts * 10 >= self.sample.len() * 9
    }

    /// What the file itself says.
    fn typed(&self) -> Option<Verdict> {
        let count = |is: fn(&Raw) -> bool| self.sample.iter().filter(|(_, raw)| is(raw)).count() * 10 >= self.sample.len() * 9;
        if count(|r| matches!(r, Raw::Logical(_))) {
            return Some(Verdict::of(Kind::YesNo));
        }
        if count(|r| matches!(r, Raw::Date(_))) {
            return Some(Verdict::of(Kind::Date));
        }
        if count(|r| matches!(r, Raw::Date(_) | Raw::DateTime(_))) {
            return Some(Verdict::of(Kind::DateTime));
        }
        if count(|r| matches!(r, Raw::Number(_))) {
            let decimals =
                self.sample.iter().filter_map(|(_, r)| if let Raw::Number(n) = r { Some(n.normalize().scale()) } else { None }).max();
            return Some(Verdict::of(plain_number(decimals.unwrap_or(0).min(4))));
        }
        None
    }

    /// Digits that are a name and not a number: they begin with nought, or are longer than a number is exact.
    fn keeps_zeros(&self) -> bool {
        let zeros = |t: &str| t.len() > 1 && t.starts_with('0') && t.bytes().all(|b| b.is_ascii_digit());
        let long = |t: &str| t.len() > 15 && t.bytes().all(|b| b.is_ascii_digit());
        let digits = self.all(|t| t.bytes().all(|b| b.is_ascii_digit()));
        digits && self.sample.iter().any(|(_, raw)| zeros(raw.words().trim()) || long(raw.words().trim()))
    }

    fn yes_no(&self) -> Option<Verdict> {
        const PAIRS: [[&str; 2]; 6] = [["yes", "no"], ["y", "n"], ["true", "false"], ["t", "f"], ["on", "off"], ["✓", "✗"]];
        let folded: Vec<String> = self.words.keys().map(|w| fold(w.trim()).into_owned()).collect();
        let pair = PAIRS.iter().any(|pair| folded.iter().all(|w| pair.contains(&&**w)));
        let crossed = folded.iter().all(|w| matches!(&**w, "x" | "-" | "✓" | "✔")) && self.filled > 1;
        (pair || crossed).then(|| Verdict::of(Kind::YesNo))
    }

    /// Numbers as text: with thousands marks, percents, the signs of currencies.
    fn number(&self) -> Option<Verdict> {
        let texts: Vec<String> = self.sample.iter().map(|(_, raw)| raw.words().trim().to_owned()).collect();
        let most = |fits: &dyn Fn(&str) -> bool| texts.iter().filter(|t| fits(t)).count() * 10 >= texts.len() * 9;
        let percent = most(&|t| t.ends_with('%'));
        let currency = ["£", "€", "$", "GBP", "EUR", "USD", "CHF", "JPY"].into_iter().find(|sign| most(&|t| t.contains(sign)));
        let bare = |t: &str| {
            let t = t.trim_end_matches('%');
            currency.map_or_else(|| t.to_owned(), |sign| t.replace(sign, "")).trim().to_owned()
        };
        let numeric = |t: &str| {
            let t = bare(t);
            !t.is_empty()
                && t.chars().all(|c| c.is_ascii_digit() || ",. -+\u{a0}\u{202f}'\u{2212}".contains(c))
                && t.contains(|c: char| c.is_ascii_digit())
        };
        if !most(&numeric) {
            return None;
        }
        let comma = texts.iter().map(|t| comma_says(&bare(t))).find(Option::is_some).flatten();
        let comma = comma.unwrap_or(self.plan.decimal_comma);
        let decimals =
            texts.iter().filter_map(|t| bare(t).rsplit_once(if comma { ',' } else { '.' }).map(|(_, part)| part.len())).max().unwrap_or(0);
        let decimals = u32::try_from(decimals.min(4)).unwrap_or(0);
        let kind = match currency {
            Some(sign) => Kind::Money { currency: code_of(sign).into() },
            None if percent => Kind::Percent { decimals },
            None => plain_number(decimals),
        };
        let plan = ColumnPlan { decimal_comma: comma, ..self.plan.clone() };
        let locale = Locale { decimal_comma: comma, ..Locale::default() };
        let reads = |t: &str| {
            let people = crate::people::People::default();
            let clock = crate::Clock { now: jiff::Timestamp::UNIX_EPOCH, zone: jiff::tz::TimeZone::UTC };
            ColumnReader::new(&plan, locale, &people, &clock).value(&Raw::Text(t.into()), &kind).is_ok()
        };
        most(&reads).then(|| Verdict { decimal_comma: Some(comma), ..Verdict::of(kind) })
    }

    /// A column that repeats a few values, alone or several in one cell.
    fn choices(&self) -> Option<Verdict> {
        let short = |w: &str| w.chars().count() <= 60;
        // Nobody writes these within one name; commas and strokes they may.
        if let Some(verdict) = self.several(&[";", "|"]) {
            return Some(verdict);
        }
        if few(self.words.len(), self.filled) && self.words.keys().all(|w| short(w)) && self.words.len() <= 12 {
            return Some(Verdict::of(Kind::Choice { options: Vec::new(), on: None }));
        }
        if let Some(verdict) = self.several(&[",", "/"]) {
            return Some(verdict);
        }
        if few(self.words.len(), self.filled) && self.words.keys().all(|w| short(w)) {
            return Some(Verdict::of(Kind::Choice { options: Vec::new(), on: None }));
        }
        None
    }

    /// Several of a few values in one cell, parted by one of these.
    fn several(&self, separators: &[&'static str]) -> Option<Verdict> {
        for separator in separators {
            let mut parts: HashMap<&str, usize> = HashMap::new();
            let mut several = 0;
            for (word, count) in self.words {
                let list = split(word, Some(*separator));
                several += if list.len() > 1 { *count } else { 0 };
                list.into_iter().for_each(|part| *parts.entry(part).or_default() += count);
            }
            let standing: usize = parts.values().sum();
            if several * 5 >= self.filled && few(parts.len(), standing) && parts.keys().all(|w| w.chars().count() <= 60) {
                let kind = Kind::Choices { options: Vec::new() };
                return Some(Verdict { separator: Some((*separator).into()), ..Verdict::of(kind) });
            }
        }
        None
    }

    fn is_long(&self) -> bool {
        self.words.keys().any(|w| w.chars().count() > 200 || w.contains('\n'))
    }
}

/// Whether so many different values are few for a column in which so many stand.
fn few(different: usize, standing: usize) -> bool {
    different <= 24 && different * 3 <= standing && different > 1
}

/// Whether a date stands there in numbers only, with the year last.
fn in_numbers(text: &str) -> bool {
    let day = text.split([' ', 'T']).next().unwrap_or(text);
    let parts: Vec<&str> = day.split(['/', '-', '.']).collect();
    parts.len() == 3 && parts[0].len() <= 2 && parts.iter().all(|p| p.bytes().all(|b| b.is_ascii_digit()) && !p.is_empty())
}

/// What a number's own marks say: whether its decimals stand behind a comma.
fn comma_says(text: &str) -> Option<bool> {
    match (text.rfind(','), text.rfind('.')) {
        (Some(comma), Some(point)) => Some(comma > point),
        (Some(comma), None) if text.len() - comma - 1 != 3 => Some(true),
        (None, Some(point)) if text.len() - point - 1 != 3 => Some(false),
        _ => None,
    }
}

fn code_of(sign: &str) -> &str {
    match sign {
        "£" => "GBP",
        "€" => "EUR",
        "$" => "USD",
        code => code,
    }
}

/// The row that names the columns: the first in which most of the columns have a text, each another.
fn heading_row(sheet: &Sheet) -> usize {
    let width = sheet.rows.iter().take(TOP).map(|r| r.iter().filter(|c| !c.is_empty()).count()).max().unwrap_or(0);
    let names = |row: &Vec<Raw>| {
        let texts: Vec<String> = row.iter().filter(|c| matches!(c, Raw::Text(_)) && !c.is_empty()).map(Raw::words).collect();
        let filled = row.iter().filter(|c| !c.is_empty()).count();
        let different: std::collections::BTreeSet<&String> = texts.iter().collect();
        texts.len() * 10 >= width * 6 && texts.len() * 10 >= filled * 8 && different.len() == texts.len()
    };
    sheet.rows.iter().take(TOP).position(names).unwrap_or(0)
}

/// Names that two columns share get a number.
fn distinct_names(plans: &mut [ColumnPlan]) {
    for place in 0..plans.len() {
        let name = plans[place].name.clone();
        let taken = |n: &str, plans: &[ColumnPlan]| plans[..place].iter().any(|p| fold(&p.name) == fold(n));
        let free = std::iter::once(name.clone()).chain((2..).map(|n| format!("{name} {n}"))).find(|n| !taken(n, plans));
        plans[place].name = free.unwrap_or(name);
    }
}

/// The name of one of many, as far as it can be told: *Work orders* gives *work order*.
pub fn singular(name: &str) -> String {
    let name = within_sentence(name.trim());
    if let Some(stem) = name.strip_suffix("ies") {
        return format!("{stem}y");
    }
    for ending in ["sses", "xes", "ches", "shes"] {
        if name.ends_with(ending) {
            return name[..name.len() - 2].to_owned();
        }
    }
    match name.strip_suffix('s') {
        Some(stem) if !stem.ends_with('s') && stem.len() > 2 => stem.to_owned(),
        _ => name,
    }
}
