//! Values as people read them.

use super::{Country, Customs, Place, SignAt};
use crate::{Clock, schema::Kind};
use iso_currency::Currency;
use jiff::Timestamp;
use rust_decimal::{Decimal, RoundingStrategy, prelude::ToPrimitive};

/// `18 Nov 2026, 15:40` in the zone and by the customs of whoever reads it.
pub fn moment_text(instant: Timestamp, clock: &Clock) -> String {
    let zoned = instant.to_zoned(clock.told.clone());
    format!("{}, {}", clock.customs().date_text(zoned.date()), zoned.strftime("%H:%M"))
}

/// `a`, `a or b`, `a, b or c`.
pub fn list_text<S: AsRef<str>>(items: &[S], last: &str) -> String {
    match items {
        [] => String::new(),
        [one] => one.as_ref().to_owned(),
        [first @ .., end] => {
            let first: Vec<&str> = first.iter().map(AsRef::as_ref).collect();
            format!("{} {last} {}", first.join(", "), end.as_ref())
        }
    }
}

/// How many decimals a currency has: 2 for most.
pub(crate) fn currency_decimals(currency: &str) -> u32 {
    Currency::from_code(currency).and_then(|c| c.exponent()).map_or(2, u32::from)
}

/// An amount rounded to the smallest coin; halves go away from zero.
pub(crate) fn to_cents(amount: Decimal, currency: &str) -> Decimal {
    amount.round_dp_with_strategy(currency_decimals(currency), RoundingStrategy::MidpointAwayFromZero)
}

/// Seconds as `1 h 30 min`, `2 d 4 h` or `45 s`.
pub fn duration_text(seconds: Decimal) -> String {
    let whole = seconds.abs().round().to_u64().unwrap_or(u64::MAX);
    let units = [(whole / 86_400, "d"), (whole / 3_600 % 24, "h"), (whole / 60 % 60, "min"), (whole % 60, "s")];
    let parts: Vec<String> = units.iter().filter(|(count, _)| *count > 0).map(|(count, unit)| format!("{count}\u{a0}{unit}")).collect();
    let minus = if seconds.is_sign_negative() && whole > 0 { "\u{2212}" } else { "" };
    if parts.is_empty() { "0\u{a0}min".into() } else { format!("{minus}{}", parts.join(" ")) }
}

/// `Eskermoor gate (54.1234, −2.4321)`.
pub fn place_text(place: &Place) -> String {
    let at = format!("{}, {}", place.latitude.normalize(), place.longitude.normalize());
    if place.label.is_empty() { at } else { format!("{} ({at})", place.label) }
}

/// A phone number in the local way: without its country where it is the reader's.
pub fn phone_text(number: &str, country: Country) -> String {
    let Ok(parsed) = phonenumber::parse(None, number) else { return number.to_owned() };
    // By the code alone: a possible number need not be one that a network knows.
    let home = phonenumber::metadata::DATABASE.by_id(&String::from(country)).is_some_and(|m| m.country_code() == parsed.code().value());
    let mode = if home { phonenumber::Mode::National } else { phonenumber::Mode::International };
    parsed.format().mode(mode).to_string()
}

impl Customs {
    /// `12,345.60 km`: thousands marked, at least `decimals` digits after the point and none cut off.
    pub fn number_text(self, number: Decimal, decimals: u32, unit: &str) -> String {
        let (thousands, point) = self.marks();
        let mut number = number.normalize();
        if number.scale() < decimals {
            number.rescale(decimals);
        }
        let plain = number.abs().to_string();
        let (whole, part) = plain.split_once('.').unwrap_or((&plain, ""));
        let mut text = String::new();
        if number.is_sign_negative() && !number.is_zero() {
            text.push('\u{2212}');
        }
        for (at, digit) in whole.char_indices() {
            if at > 0 && (whole.len() - at) % 3 == 0 {
                text.push(thousands);
            }
            text.push(digit);
        }
        if !part.is_empty() {
            text.push(point);
            text.push_str(part);
        }
        if !unit.is_empty() {
            text.push('\u{a0}');
            text.push_str(unit);
        }
        text
    }

    /// `12,345`.
    pub fn count_text(self, count: usize) -> String {
        self.number_text(count.into(), 0, "")
    }

    /// So many of something: *1 fault*, *1,203 faults*.
    pub fn count_words(self, count: usize, one: &str, many: &str) -> String {
        format!("{} {}", self.count_text(count), if count == 1 { one } else { many })
    }

    /// `£1,240.00`, or `CHF 1,240.00` where the currency has no sign of its own; as many decimals as the currency has.
    pub fn money_text(self, amount: Decimal, currency: &str) -> String {
        let known = Currency::from_code(currency);
        let decimals = currency_decimals(currency);
        let sign = known.map(|c| c.symbol().symbol).filter(|sign| sign != "¤" && sign != "₣").unwrap_or_else(|| currency.to_owned());
        let plain = self.number_text(to_cents(amount, currency), decimals, "");
        let (minus, plain) = plain.strip_prefix('\u{2212}').map_or(("", &*plain), |rest| ("\u{2212}", rest));
        match self.sign_at() {
            SignAt::After => format!("{minus}{plain}\u{a0}{sign}"),
            SignAt::Before if !sign.ends_with(char::is_alphabetic) => format!("{minus}{sign}{plain}"),
            SignAt::Before | SignAt::BeforeWithGap => format!("{minus}{sign}\u{a0}{plain}"),
        }
    }

    /// `12.5 %` of a share of 0.125.
    pub fn share_text(self, share: Decimal, decimals: u32) -> String {
        match share.checked_mul(Decimal::ONE_HUNDRED) {
            Some(hundredths) => self.number_text(hundredths, decimals, "%"),
            // Too large to be said in hundredths.
            None => self.number_text(share, decimals, "× 100 %"),
        }
    }

    /// `3 of 5`.
    pub fn rating_text(self, rating: Decimal, most: u8) -> String {
        format!("{} of {most}", self.number_text(rating, 0, ""))
    }
}

impl Kind {
    /// A computed number as a field of this kind shows it: not more than three decimals, or as many as it asks for.
    pub fn computed_words(&self, number: Decimal, customs: Customs) -> String {
        let most = match self {
            Kind::Number { decimals, .. } => (*decimals).max(3),
            Kind::Percent { decimals } => 2 + (*decimals).max(1),
            _ => return self.number_words(number, 0, customs),
        };
        self.number_words(number.round_dp_with_strategy(most, RoundingStrategy::MidpointAwayFromZero), 0, customs)
    }

    /// A number as a field of this kind shows it; a plain one with at least so many decimals.
    pub fn number_words(&self, number: Decimal, least: u32, customs: Customs) -> String {
        match self {
            Kind::Number { decimals, unit } => customs.number_text(number, (*decimals).max(least), unit),
            Kind::Money { currency } => customs.money_text(number, currency),
            Kind::Percent { decimals } => customs.share_text(number, (*decimals).max(least)),
            Kind::Rating { most } => customs.rating_text(number, *most),
            Kind::Duration => duration_text(number),
            // It is a name, not a quantity.
            Kind::Id => number.to_string(),
            _ => customs.number_text(number, least, ""),
        }
    }
}
