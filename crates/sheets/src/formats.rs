//! What a workbook's number format makes of a number: what people see in a cell is what arrives.

use jiff::civil::{Date, DateTime, Time};
use rust_decimal::{Decimal, RoundingStrategy, prelude::ToPrimitive};
use westerfall_core::import::{COLUMNS_LIMIT, Code, Raw, Shown};

/// What the numbers of a format are.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) enum Meaning {
    /// A number with so many decimals at most, none: as many as there are; and what stands behind it.
    Number(Shown),
    /// A share in hundredths, with so many decimals.
    Percent(u32),
    /// An amount.
    Money(Code),
    /// A number that is a name: its digits filled up with noughts, with marks between them.
    Digits(String),
    Date,
    DateTime,
    Time,
    /// A length of time.
    Duration,
}

impl Meaning {
    /// What a number format means, as workbooks write it: `0.00%`, `[h]:mm`, `dd/mm/yyyy`.
    pub(crate) fn of(format: &str) -> Self {
        let section = first_section(format);
        let parts = Parts::of(section);
        if parts.elapsed {
            return Self::Duration;
        }
        match (parts.day, parts.time) {
            (true, true) => return Self::DateTime,
            (true, false) => return Self::Date,
            (false, true) => return Self::Time,
            (false, false) => {}
        }
        let decimals = parts.pattern.split_once('.').map(|(_, part)| part.chars().filter(|c| "0#?".contains(*c)).count());
        let decimals = decimals.and_then(|n| u32::try_from(n).ok());
        if parts.pattern.contains('%') {
            return Self::Percent(decimals.unwrap_or(0));
        }
        if let Some(code) = parts.currency {
            return Self::Money(code);
        }
        if let Some(picture) = parts.digits() {
            return Self::Digits(picture);
        }
        let shows_all = parts.pattern.is_empty() || parts.pattern.contains(['/', 'E']) || parts.general;
        let unit = Some(parts.behind.trim()).filter(|unit| unit.chars().any(char::is_alphabetic)).unwrap_or_default().to_owned();
        Self::Number(Shown { decimals: if shows_all { None } else { Some(decimals.unwrap_or(0)) }, unit, rounded: 0 })
    }

    /// A workbook's number as what it means.
    pub(crate) fn cell(&self, number: f64, from_1904: bool) -> Option<Raw> {
        let exact = seen(number)?;
        Some(match self {
            Self::Number(shown) => Raw::Number(as_shown(exact, shown.decimals).unwrap_or(exact)),
            Self::Percent(decimals) => Raw::Percent(as_shown(exact, Some(decimals.saturating_add(2))).unwrap_or(exact)),
            Self::Money(code) => Raw::Money(exact, *code),
            Self::Digits(picture) => Raw::Text(pictured(exact, picture)?.into()),
            Self::Duration => Raw::Duration(seconds(number)?),
            Self::Time if (0.0..1.0).contains(&number) => Raw::Time(time_of(number)?),
            Self::Time => Raw::Duration(seconds(number)?),
            Self::Date => Raw::Date(day_of(number, from_1904)?),
            Self::DateTime => Raw::DateTime(moment(number, from_1904)?),
        })
    }
}

/// What stands before the first semicolon that is not within a text.
fn first_section(format: &str) -> &str {
    let (mut quoted, mut escaped) = (false, false);
    for (at, c) in format.char_indices() {
        match c {
            _ if escaped => escaped = false,
            '"' => quoted = !quoted,
            '\\' if !quoted => escaped = true,
            ';' if !quoted => return &format[..at],
            _ => {}
        }
    }
    format
}

/// A section of a format, taken apart.
#[derive(Default)]
struct Parts {
    /// Its digits and marks, without texts.
    pattern: String,
    /// Texts behind the digits.
    behind: String,
    currency: Option<Code>,
    elapsed: bool,
    day: bool,
    time: bool,
    general: bool,
    /// Marks and digits in order, for numbers that are names.
    picture: String,
}

impl Parts {
    fn of(section: &str) -> Self {
        let mut parts = Self::default();
        let mut chars = section.chars().peekable();
        if section.eq_ignore_ascii_case("general") || section.eq_ignore_ascii_case("standard") || section == "@" {
            parts.general = true;
            return parts;
        }
        let mut texts = String::new();
        while let Some(c) = chars.next() {
            match c {
                '"' => {
                    let text: String = chars.by_ref().take_while(|c| *c != '"').collect();
                    parts.text(&text, &mut texts);
                }
                '\\' => {
                    if let Some(c) = chars.next() {
                        parts.text(&c.to_string(), &mut texts);
                    }
                }
                '_' | '*' => {
                    chars.next();
                }
                '[' => {
                    let inner: String = chars.by_ref().take_while(|c| *c != ']').collect();
                    parts.bracket(&inner, &mut texts);
                }
                '0' | '#' | '?' | '.' | '%' | ',' | '/' | 'E' => {
                    parts.pattern.push(c);
                    parts.picture.push(c);
                    parts.behind.clear();
                }
                'd' | 'D' | 'y' | 'Y' => parts.day = true,
                'h' | 'H' | 's' | 'S' => parts.time = true,
                'A' | 'a' | 'P' | 'p' if parts.time => {}
                'm' | 'M' => {
                    // Minutes stand beside hours or seconds, months do not.
                    let rest: String = chars.clone().skip_while(|c| matches!(c, 'm' | 'M')).collect();
                    let run = 1 + chars.clone().take_while(|c| matches!(c, 'm' | 'M')).count();
                    let next = rest.chars().find(|c| c.is_ascii_alphabetic());
                    let minutes = run <= 2 && (parts.time || next.is_some_and(|c| c.eq_ignore_ascii_case(&'s')));
                    if minutes {
                        parts.time = true
                    } else if !parts.time {
                        parts.day = true
                    }
                    while chars.peek().is_some_and(|c| matches!(c, 'm' | 'M')) {
                        chars.next();
                    }
                }
                other => parts.text(&other.to_string(), &mut texts),
            }
        }
        parts.currency = parts.currency.or_else(|| currency_in(&texts));
        if parts.pattern.contains(['0', '#', '?']) && !parts.elapsed {
            // Letters among digits are no dates.
            let dated = section.contains("yy") || section.contains("dd") || section.contains("hh") || section.contains("ss");
            (parts.day, parts.time) = (parts.day && dated, parts.time && (dated || section.contains("h:")));
        }
        parts
    }

    fn text(&mut self, text: &str, texts: &mut String) {
        texts.push_str(text);
        self.behind.push_str(text);
        self.picture.push_str(text);
    }

    fn bracket(&mut self, inner: &str, texts: &mut String) {
        let lower = inner.to_lowercase();
        if !lower.is_empty() && ["h", "m", "s"].iter().any(|unit| lower.trim_matches(unit.chars().next().unwrap_or('h')).is_empty()) {
            self.elapsed = true;
        } else if let Some(rest) = inner.strip_prefix('$') {
            texts.push_str(rest.split('-').next().unwrap_or_default());
            texts.push(' ');
        }
    }

    /// The picture of digits that are a name: noughts alone, more than one, perhaps with marks between them.
    fn digits(&self) -> Option<String> {
        let noughts = self.picture.chars().filter(|c| *c == '0').count();
        let marks = self.picture.chars().all(|c| c == '0' || " -/()".contains(c));
        (noughts > 1 && marks).then(|| self.picture.clone())
    }
}

/// The currency that the texts of a format name.
fn currency_in(texts: &str) -> Option<Code> {
    let words = texts.split(|c: char| !c.is_alphabetic()).filter(|word| word.len() == 3 && word.chars().all(char::is_uppercase));
    let signs =
        [("US$", "USD"), ("A$", "AUD"), ("C$", "CAD"), ("£", "GBP"), ("€", "EUR"), ("$", "USD"), ("¥", "JPY"), ("₹", "INR"), ("zł", "PLN")];
    words.filter_map(Code::of).next().or_else(|| signs.iter().find(|(sign, _)| texts.contains(sign)).and_then(|(_, code)| Code::of(code)))
}

/// A number as a sheet shows it: with fifteen digits at most, as it was typed; whole ones as they are.
pub(crate) fn seen(number: f64) -> Option<Decimal> {
    if !number.is_finite() {
        return None;
    }
    let text = if number.fract() == 0.0 { format!("{number}") } else { format!("{number:.14e}") };
    let decimal = Decimal::from_scientific(&text).or_else(|_| text.parse()).ok()?;
    Some(decimal.normalize())
}

/// Decimals that nobody types: a number with more was computed.
const COMPUTED: u32 = 8;

/// A number that was computed as a format shows it; none where it is taken whole.
pub(crate) fn as_shown(number: Decimal, decimals: Option<u32>) -> Option<Decimal> {
    let decimals = decimals.filter(|shown| number.scale() > COMPUTED && *shown < number.scale())?;
    Some(number.round_dp_with_strategy(decimals, RoundingStrategy::MidpointAwayFromZero))
}

/// The digits of a number in the places of a picture, from the right.
fn pictured(number: Decimal, picture: &str) -> Option<String> {
    let whole = number.round().abs();
    let places = picture.chars().filter(|c| *c == '0').count();
    let digits = format!("{:0>places$}", whole.to_u128()?.to_string());
    let (more, fixed) = digits.split_at(digits.len() - places);
    let mut fixed = fixed.chars();
    let mut text: String = if number.is_sign_negative() { "-".into() } else { String::new() };
    let mut first = true;
    for c in picture.chars() {
        if c == '0' {
            if first {
                text.push_str(more);
            }
            first = false;
            text.extend(fixed.next());
        } else {
            text.push(c);
        }
    }
    Some(text)
}

/// A share of days in seconds, to the thousandth.
fn seconds(days: f64) -> Option<Decimal> {
    let thousandths = (days * 86_400_000.0).round();
    Decimal::from_f64_retain(thousandths).map(|n| (n / Decimal::ONE_THOUSAND).normalize())
}

fn time_of(share: f64) -> Option<Time> {
    let whole = (share * 86_400.0).round().clamp(0.0, 86_399.0);
    let seconds = whole.to_i64()?;
    Time::midnight().checked_add(jiff::SignedDuration::from_secs(seconds)).ok()
}

/// The day that a workbook counts to. Those that begin in 1900 count a 29 February that there was not.
fn day_of(number: f64, from_1904: bool) -> Option<Date> {
    let days = number.floor().to_i64()?;
    let (begin, days) = match (from_1904, days) {
        (true, days) => (Date::new(1904, 1, 1).ok()?, days),
        (false, days @ ..60) => (Date::new(1899, 12, 31).ok()?, days),
        (false, days) => (Date::new(1899, 12, 30).ok()?, days),
    };
    begin.checked_add(jiff::Span::new().try_days(days).ok()?).ok()
}

fn moment(number: f64, from_1904: bool) -> Option<jiff::civil::DateTime> {
    // Rounded to the second first: a minute short of midnight may be midnight.
    let whole = (number * 86_400.0).round() / 86_400.0;
    let day = day_of((whole + 1e-9).floor(), from_1904)?;
    let share = (number - (whole + 1e-9).floor()).max(0.0);
    Some(day.to_datetime(time_of(share)?))
}

/// Notes how the numbers of a column are shown: with the most decimals, and a unit only where all have it. `cell`: the number as it
/// was computed, and what became of it.
pub(crate) fn show(shown: &mut Vec<Option<Shown>>, column: usize, meaning: &Meaning, cell: Option<(Decimal, &Raw)>) {
    let this = match meaning {
        Meaning::Number(this) => this.clone(),
        Meaning::Percent(decimals) => Shown { decimals: Some(*decimals), ..Shown::default() },
        _ => return,
    };
    if column >= COLUMNS_LIMIT {
        return;
    }
    if shown.len() <= column {
        shown.resize(column + 1, None);
    }
    let known = shown[column].get_or_insert_with(|| this.clone());
    known.decimals = known.decimals.zip(this.decimals).map(|(a, b)| a.max(b));
    if known.unit != this.unit {
        known.unit.clear();
    }
    if let Some((computed, Raw::Number(taken) | Raw::Percent(taken))) = cell {
        known.rounded += usize::from(computed != *taken);
    }
}

/// A day, or a day with a time, in ISO 8601.
pub(crate) fn day_or_moment(text: &str) -> Option<Raw> {
    if let Ok(date) = text.parse::<Date>()
        && !text.contains('T')
    {
        return Some(Raw::Date(date));
    }
    let moment = text.parse::<DateTime>().ok()?;
    Some(if moment.time() == Time::midnight() { Raw::Date(moment.date()) } else { Raw::DateTime(moment) })
}

/// A length of time in ISO 8601, in seconds.
pub(crate) fn duration(text: &str) -> Option<Decimal> {
    let span: jiff::SignedDuration = text.parse().ok()?;
    Some(Decimal::from(span.as_millis().checked_div(1)?) / Decimal::ONE_THOUSAND).map(|n| n.normalize())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn shown(format: &str, number: f64) -> String {
        Meaning::of(format).cell(number, false).map_or_else(|| "none".into(), |raw| raw.words())
    }

    #[test]
    fn a_format_says_what_a_number_is() {
        for (format, number, expected) in [
            ("General", 0.075_000_000_000_000_01, "0.075"),
            ("General", 9_007_199_254_740_991.0, "9007199254740991"),
            ("0.00", 33.333_333_333_333_336, "33.33"),
            ("0", 12.5, "12.5"),
            ("0.0%", 0.333_333_333_333, "33.3%"),
            ("0.0%", 0.075, "7.5%"),
            ("hh:mm", 0.263_888_888_888_888_9, "06:20"),
            ("h:mm AM/PM", 0.75, "18:00"),
            ("[h]:mm", 1.260_416_666_666_666_7, "30:15"),
            ("[h]:mm:ss", -0.5, "-12:00"),
            ("h:mm", 1.5, "36:00"),
            ("mm:ss", 0.001_388_888_888_888_889, "00:02"),
            ("00000", 42.0, "00042"),
            ("000\\-000", 12_345.0, "012-345"),
            ("00-00-00", 40_004.0, "04-00-04"),
            ("0000 000000", 1_632_960_123.0, "1632 960123"),
            ("dd/mm/yyyy", 46_344.0, "2026-11-18"),
            ("d mmm yy", 46_344.9, "2026-11-18"),
            ("mmm yyyy", 46_327.0, "2026-11-01"),
            ("dd/mm/yyyy hh:mm", 46_344.263_888_888_89, "2026-11-18 06:20:00"),
            ("yyyy-mm-dd\\Thh:mm:ss", 46_344.999_999_999, "2026-11-19 00:00:00"),
            ("\"£\"#,##0.00", 12.5, "GBP 12.5"),
            ("[$€-407] #,##0.00;[Red]-[$€-407] #,##0.00", 3.0, "EUR 3"),
            ("[$CHF] #,##0.00", 8_496.47, "CHF 8496.47"),
            ("_-\"£\"* #,##0.00_-;-\"£\"* #,##0.00_-", 7.0, "GBP 7"),
            ("# ?/?", 0.5, "0.5"),
            ("0.00E+00", 0.0076, "0.0076"),
            ("#,##0 \"km\"", 12.0, "12"),
            ("@", 5.0, "5"),
            ("dd/mm/yyyy", 1.0, "1900-01-01"),
            ("dd/mm/yyyy", 61.0, "1900-03-01"),
        ] {
            assert_eq!(shown(format, number), expected, "{format} of {number}");
        }
        assert_eq!(Meaning::of("#,##0 \"km\""), Meaning::Number(Shown { decimals: Some(0), unit: "km".into(), rounded: 0 }));
        assert_eq!(Meaning::of("0.00"), Meaning::Number(Shown { decimals: Some(2), unit: String::new(), rounded: 0 }));
        assert_eq!(Meaning::of("dd/mm/yyyy").cell(0.0, true).unwrap().words(), "1904-01-01");
    }
}
