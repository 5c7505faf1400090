//! Values as people read them.

use crate::Clock;
use jiff::{Timestamp, civil::Date};
use rust_decimal::Decimal;

/// `18 Nov 2026`.
pub fn date_text(date: Date) -> String {
    date.strftime("%-d %b %Y").to_string()
}

/// `18 Nov 2026, 15:40` in the tracker's zone.
pub fn moment_text(instant: Timestamp, clock: &Clock) -> String {
    instant.to_zoned(clock.zone.clone()).strftime("%-d %b %Y, %H:%M").to_string()
}

/// `12,345.60 km`: thousands marked, at least `decimals` digits after the point and none cut off.
pub fn number_text(number: Decimal, decimals: u32, unit: &str) -> String {
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
            text.push(',');
        }
        text.push(digit);
    }
    if !part.is_empty() {
        text.push('.');
        text.push_str(part);
    }
    if !unit.is_empty() {
        text.push('\u{a0}');
        text.push_str(unit);
    }
    text
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
