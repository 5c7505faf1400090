//! What one column of a sheet is, told from its cells: kinds that the file itself says first, then those that can be told by trying.

use super::{Becomes, ColumnPlan, ColumnReader, DateOrder, Raw, Shown, heading::looks_like_a_day};
use crate::{
    Clock,
    intent::split,
    schema::{Kind, TEXT_LIMIT},
    value::{Country, Locale, fold, named_currency, signs_of},
};
use rust_decimal::Decimal;
use std::collections::{BTreeSet, HashMap};

pub(super) struct Verdict {
    pub(super) becomes: Becomes,
    pub(super) dates: Option<DateOrder>,
    pub(super) decimal_comma: Option<bool>,
    pub(super) separator: Option<String>,
    pub(super) asks_order: bool,
    pub(super) says: Option<String>,
}

impl Verdict {
    pub(super) fn of(kind: Kind) -> Self {
        Self { becomes: Becomes::Field { kind }, dates: None, decimal_comma: None, separator: None, asks_order: false, says: None }
    }

    fn saying(kind: Kind, says: &str) -> Self {
        Self { says: Some(says.to_owned()), ..Self::of(kind) }
    }
}

/// A column as far as it was looked at: cells that hold something the file could compute.
pub(super) struct Seen<'a> {
    pub(super) sample: &'a [(usize, &'a Raw)],
    /// Its different texts, and how often each stands there.
    pub(super) words: &'a HashMap<String, usize>,
    pub(super) plan: &'a ColumnPlan,
    pub(super) shown: &'a Shown,
    /// What the other columns say of decimals.
    pub(super) decimal_comma: Option<bool>,
}

pub(super) fn text() -> Kind {
    Kind::Text { limit: TEXT_LIMIT }
}

/// Most decimals that a field shows by itself.
const DECIMALS: u32 = 6;

const MIXED: &str = "Its amounts are in several currencies, so they are kept as they are written.";

/// What stands in headings over telephone numbers, and over codes that look like some.
const PHONE: [&str; 13] =
    ["phone", "tel", "mobile", "cell", "fax", "handy", "mobil", "telefon", "téléphone", "telefono", "teléfono", "landline", "hotline"];
const CODE: [&str; 16] = [
    "code",
    "isbn",
    "issn",
    "part",
    "article",
    "serial",
    "account",
    "iban",
    "sort",
    "reference",
    "ref",
    "batch",
    "lot",
    "version",
    "postcode",
    "zip",
];
/// The same over times that pass, not times of day.
const LENGTH: [&str; 12] =
    ["duration", "length", "hours", "worked", "spent", "took", "dauer", "durée", "elapsed", "running", "overtime", "total"];
/// The same over days that are written in digits alone.
const DAYS: [&str; 10] = ["date", "day", "datum", "fecha", "data", "jour", "tag", "due", "since", "until"];

impl Seen<'_> {
    pub(super) fn all(&self, fits: impl Fn(&str) -> bool) -> bool {
        let fitting: usize = self.words.iter().filter(|(word, _)| fits(word.trim())).map(|(_, count)| count).sum();
        fitting * 10 >= self.sample.len() * 9
    }

    /// Whether one of these stands as a word, or as its beginning, in the heading.
    fn is_called(&self, words: &[&str]) -> bool {
        let name = fold(&self.plan.name).into_owned();
        let parts: Vec<&str> = name.split(|c: char| !c.is_alphanumeric()).filter(|p| !p.is_empty()).collect();
        words
            .iter()
            .map(|word| fold(word))
            .any(|word| parts.iter().any(|part| *part == word || (word.len() >= 4 && part.starts_with(&*word))))
    }

    /// What the file itself says.
    pub(super) fn typed(&self) -> Option<Verdict> {
        let most = |is: fn(&Raw) -> bool| self.sample.iter().filter(|(_, raw)| is(raw)).count() * 10 >= self.sample.len() * 9;
        if most(|r| matches!(r, Raw::Logical(_))) {
            return Some(Verdict::of(Kind::YesNo));
        }
        if most(|r| matches!(r, Raw::Date(_) | Raw::DateTime(_))) {
            let timed = self.sample.iter().any(|(_, raw)| matches!(raw, Raw::DateTime(_)));
            return Some(Verdict::of(if timed { Kind::DateTime } else { Kind::Date }));
        }
        if most(|r| matches!(r, Raw::Time(_) | Raw::Duration(_))) {
            return Some(self.times(self.sample.iter().any(|(_, raw)| matches!(raw, Raw::Duration(_)))));
        }
        if most(|r| matches!(r, Raw::Percent(_))) {
            let decimals = self.shown.decimals.or_else(|| {
                self.decimals(
                    |raw| if let Raw::Percent(n) = raw { n.checked_mul(Decimal::ONE_HUNDRED).map(|n| n.normalize()) } else { None },
                )
            });
            return Some(Verdict::of(Kind::Percent { decimals: decimals.unwrap_or(0).min(DECIMALS) }));
        }
        if most(|r| matches!(r, Raw::Money(..))) {
            let codes: BTreeSet<_> =
                self.sample.iter().filter_map(|(_, r)| if let Raw::Money(_, code) = r { Some(*code) } else { None }).collect();
            return Some(match codes.first().filter(|_| codes.len() == 1) {
                Some(code) => Verdict::of(Kind::Money { currency: code.letters().to_owned() }),
                None => Verdict::saying(text(), MIXED),
            });
        }
        if most(|r| matches!(r, Raw::Number(_) | Raw::Percent(_) | Raw::Money(..))) {
            let decimals = self.shown.decimals.or_else(|| self.decimals(|raw| if let Raw::Number(n) = raw { Some(*n) } else { None }));
            return Some(Verdict::of(Kind::Number { decimals: decimals.unwrap_or(0).min(DECIMALS), unit: self.shown.unit.clone() }));
        }
        None
    }

    /// The most decimals that a number of the column has.
    fn decimals(&self, number: impl Fn(&Raw) -> Option<Decimal>) -> Option<u32> {
        self.sample.iter().filter_map(|(_, raw)| number(raw)).map(|n| n.scale()).max()
    }

    /// Times of day are kept as they stand; what lasts is a duration.
    fn times(&self, lasts: bool) -> Verdict {
        if lasts || self.is_called(&LENGTH) {
            return Verdict::of(Kind::Duration);
        }
        Verdict::saying(text(), "Times of day are kept as they are written; as a duration one can compute with them.")
    }

    /// Telephone numbers, if the cells look like some in one way: the heading says so, each begins with its country, or each is
    /// one of this country as it is written there.
    pub(super) fn phone(&self, country: Country) -> Option<Verdict> {
        let digits = |t: &str| t.chars().filter(char::is_ascii_digit).count();
        let shaped = |t: &str| (6..=17).contains(&digits(t)) && t.chars().all(|c| c.is_ascii_digit() || "+-() /.\u{a0}".contains(c));
        if !self.all(shaped) || self.is_called(&CODE) {
            return None;
        }
        let abroad = |t: &str| shaped(t) && (t.starts_with('+') || (t.starts_with("00") && digits(t) >= 11));
        let called = self.is_called(&PHONE) && self.all(|t| !looks_like_a_day(t));
        let lengths: BTreeSet<usize> = self.words.keys().map(|t| digits(t)).collect();
        let known = |t: &str| {
            let marks = t.chars().filter(|c| "-/.".contains(*c)).count();
            let begun = t.starts_with("(0") || (t.starts_with('0') && !t.starts_with("00"));
            // As numbers are written here: in groups between spaces, or with one mark behind the area's code.
            let spaced = t.contains(' ') && marks == 0 && (10..=11).contains(&digits(t)) && lengths.len() <= 2;
            begun && (spaced || (marks == 1 && digits(t) >= 9 && is_known_phone(t, country)))
        };
        (called || self.all(abroad) || self.all(known)).then(|| Verdict::of(Kind::Phone))
    }

    /// Digits that are a name and not a number: they begin with nought, or are longer than a number is exact.
    pub(super) fn keeps_zeros(&self) -> bool {
        let digits = |t: &str| !t.is_empty() && t.bytes().all(|b| b.is_ascii_digit());
        let figures = |t: &str| digits(t) || t.split_once(['.', ',']).is_some_and(|(whole, part)| digits(whole) && digits(part));
        let zeros = |t: &str| t.len() > 1 && t.starts_with('0') && t.as_bytes()[1].is_ascii_digit() && figures(t);
        let long = |t: &str| t.len() > 15 && digits(t);
        self.all(figures) && self.words.keys().any(|word| zeros(word.trim()) || long(word.trim()))
    }

    pub(super) fn yes_no(&self) -> Option<Verdict> {
        const PAIRS: [[&str; 2]; 19] = [
            ["yes", "no"],
            ["y", "n"],
            ["true", "false"],
            ["t", "f"],
            ["on", "off"],
            ["✓", "✗"],
            ["ja", "nein"],
            ["j", "n"],
            ["oui", "non"],
            ["si", "no"],
            ["sim", "nao"],
            ["ja", "nee"],
            ["ja", "nej"],
            ["ja", "nei"],
            ["tak", "nie"],
            ["wahr", "falsch"],
            ["vrai", "faux"],
            ["verdadero", "falso"],
            ["vero", "falso"],
        ];
        let folded: Vec<String> = self.words.keys().map(|w| fold(w.trim()).into_owned()).collect();
        let pair = PAIRS.iter().any(|pair| folded.iter().all(|w| pair.contains(&&**w)));
        let crossed = folded.iter().all(|w| matches!(&**w, "x" | "-" | "✓" | "✔")) && self.sample.len() > 1;
        (pair || crossed).then(|| Verdict::of(Kind::YesNo))
    }

    /// Numbers as text: with signs, thousands marks, percents, currencies.
    pub(super) fn number(&self, country: Country) -> Option<Verdict> {
        let percent = self.all(|t| t.trim_matches(['(', ')', '-', '+']).trim_end().ends_with('%'));
        let currency = self.currency(country);
        if currency.is_none()
            && self.all(|t| named_currency(t, country).is_some())
            && self.all(|t| t.contains(|c: char| c.is_ascii_digit()) && t.chars().count() <= 24)
        {
            return Some(Verdict::saying(text(), MIXED));
        }
        let bare = |t: &str| {
            let t = t.replace('%', "");
            currency.as_ref().map_or(t.clone(), |(_, signs)| signs.iter().fold(t, |t, sign| t.replace(sign, ""))).trim().to_owned()
        };
        let numeric = |t: &str| {
            let t = bare(t);
            let marks = ",. -+\u{a0}\u{202f}'’()\u{2212}–eE";
            t.chars().all(|c| c.is_ascii_digit() || marks.contains(c)) && t.contains(|c: char| c.is_ascii_digit())
        };
        if !self.all(numeric) {
            return None;
        }
        let comma = self
            .words
            .keys()
            .filter_map(|t| comma_says(&bare(t)))
            .fold((0_usize, 0_usize), |(c, p), says| if says { (c + 1, p) } else { (c, p + 1) });
        let comma = match comma {
            (0, 0) => self.decimal_comma.unwrap_or(self.plan.decimal_comma),
            (commas, points) => commas > points,
        };
        let point = if comma { ',' } else { '.' };
        let part = |t: &str| bare(t).rsplit_once(point).map(|(_, part)| part.chars().take_while(char::is_ascii_digit).count());
        let decimals = self.words.keys().filter_map(|t| part(t)).max().unwrap_or(0);
        let decimals = u32::try_from(decimals).unwrap_or(0).min(DECIMALS);
        let kind = match &currency {
            Some((code, _)) => Kind::Money { currency: code.clone() },
            None if percent => Kind::Percent { decimals },
            None => Kind::Number { decimals, unit: String::new() },
        };
        let plan = ColumnPlan { decimal_comma: comma, ..self.plan.clone() };
        let locale = Locale { decimal_comma: comma, ..Locale::default() };
        let people = crate::people::People::default();
        let clock = Clock::new(jiff::Timestamp::UNIX_EPOCH, jiff::tz::TimeZone::UTC);
        let reader = ColumnReader::new(&plan, locale, &people, &clock);
        let reads = |t: &str| reader.value(&Raw::Text(t.into()), &kind).is_ok();
        self.all(reads).then(|| Verdict { decimal_comma: Some(comma), ..Verdict::of(kind) })
    }

    /// The one currency that most of the cells name, by its code or a sign; with all that it may be written as.
    fn currency(&self, country: Country) -> Option<(String, Vec<String>)> {
        let named: Vec<(String, usize)> = self.words.iter().filter_map(|(t, n)| Some((named_currency(t, country)?, *n))).collect();
        let (first, _) = named.first()?;
        let count: usize = named.iter().map(|(_, n)| n).sum();
        // Some may stand without it, but none with another.
        (count * 10 >= self.sample.len() * 6 && named.iter().all(|(code, _)| code == first))
            .then(|| (first.clone(), signs_of(first, country)))
    }

    /// Clock times as text.
    pub(super) fn clock_times(&self) -> Option<Verdict> {
        let timed = |t: &str| t.contains(':') && crate::value::read_time(t).is_some();
        let lasting = |t: &str| t.split(':').next().is_some_and(|h| h.parse::<u32>().is_ok_and(|h| h >= 24)) && t.contains(':');
        let in_clock = |t: &str| t.starts_with('0') && t.find(':') == Some(2);
        let of_day = |t: &str| in_clock(t) || t.to_lowercase().ends_with(['m', '.']);
        if !self.all(|t| timed(t) || lasting(t)) {
            return None;
        }
        let lasts = self.words.keys().any(|t| lasting(t.trim()));
        let called = self.is_called(&[
            "time", "start", "begin", "end", "from", "to", "until", "at", "opens", "closes", "uhrzeit", "heure", "departs", "arrives",
        ]);
        let day = !lasts && (called || self.words.keys().any(|t| of_day(t.trim())));
        Some(self.times(!day))
    }

    /// Whether days in digits alone may stand here.
    pub(super) fn is_called_a_day(&self) -> bool {
        self.is_called(&DAYS)
    }

    /// A column that repeats a few values, alone or several in one cell.
    pub(super) fn choices(&self) -> Option<Verdict> {
        let short = |w: &String| w.chars().count() <= 60;
        // Nobody writes these within one name; commas and strokes they may.
        if let Some(verdict) = self.several(&[";", "|", "\n"], false).or_else(|| self.several(&[",", "/"], true)) {
            return Some(verdict);
        }
        let repeats = few(self.words.len(), self.sample.len()) && self.words.keys().all(|w| short(w) && !w.contains('\n'));
        let one = || Verdict::of(Kind::Choice { options: Vec::new(), on: None });
        if repeats && self.words.len() <= 12 {
            return Some(one());
        }
        self.several(&[",", "/"], false).or_else(|| repeats.then(one))
    }

    /// Several of a few values in one cell, parted by one of these. What never stands without its neighbour is one name;
    /// `strictly`: not one of the parts stands in one cell's text alone.
    fn several(&self, separators: &[&'static str], strictly: bool) -> Option<Verdict> {
        for separator in separators {
            let mut parts: HashMap<&str, (usize, BTreeSet<&str>)> = HashMap::new();
            let mut several = 0;
            for (word, count) in self.words {
                let list = split(word, Some(*separator));
                several += if list.len() > 1 { *count } else { 0 };
                for part in list {
                    let known = parts.entry(part).or_default();
                    known.0 += count;
                    known.1.insert(word);
                }
            }
            let standing: usize = parts.values().map(|(count, _)| count).sum();
            let named = parts.keys().all(|part| part.chars().count() <= 60 && part.chars().any(char::is_alphabetic));
            let part_alone = |word: &String| {
                let list = split(word, Some(*separator));
                list.len() < 2 || list.iter().any(|part| parts.get(part).is_some_and(|(_, words)| words.len() > 1))
            };
            let free = !strictly || parts.values().all(|(_, words)| words.len() > 1);
            if free && several * 5 >= self.sample.len() && few(parts.len(), standing) && named && self.words.keys().all(part_alone) {
                let kind = Kind::Choices { options: Vec::new() };
                return Some(Verdict { separator: Some((*separator).into()), ..Verdict::of(kind) });
            }
        }
        None
    }

    pub(super) fn is_long(&self) -> bool {
        self.words.keys().any(|w| w.chars().count() > 200 || w.contains('\n'))
    }
}

/// Whether so many different values are few for a column in which so many stand.
fn few(different: usize, standing: usize) -> bool {
    different <= 24 && different * 3 <= standing && different > 1
}

/// What a number's own marks say: whether its decimals stand behind a comma.
pub(super) fn comma_says(text: &str) -> Option<bool> {
    let text = text.trim_matches(|c: char| !c.is_ascii_digit() && !",.".contains(c));
    let digits_after = |at: usize| text[at + 1..].chars().take_while(char::is_ascii_digit).count();
    match (text.rfind(','), text.rfind('.')) {
        (Some(comma), Some(point)) => Some(comma > point),
        (Some(comma), None) if text.matches(',').count() == 1 && (digits_after(comma) != 3 || text.starts_with("0,")) => Some(true),
        (None, Some(point)) if text.matches('.').count() == 1 && (digits_after(point) != 3 || text.starts_with("0.")) => Some(false),
        (Some(_), None) if text.matches(',').count() > 1 => Some(false),
        (None, Some(_)) if text.matches('.').count() > 1 && text.split('.').skip(1).all(|g| g.len() == 3) => Some(true),
        _ => None,
    }
}

/// Whether a text is a telephone number that can be one in a country, as it is written there.
fn is_known_phone(text: &str, country: Country) -> bool {
    let id = String::from(country).parse().ok();
    phonenumber::parse(id, text).is_ok_and(|number| phonenumber::is_valid(&number))
}
