//! Numbers as people write them: with marks between thousands, signs before or behind, units and currencies about them.

use crate::fault::{Fault, FaultKind};
use rust_decimal::Decimal;

/// What parts the thousands.
const THOUSANDS: [char; 5] = [' ', '\u{a0}', '\u{202f}', '\'', '’'];

/// What stands for no decimals in prices.
const STROKES: [&str; 6] = [".–", ".—", ".-", ",–", ",—", ",-"];

/// A number of digits and a point alone, which most are; none where it is more, or none at all.
pub(super) fn plain(text: &str, decimal_comma: bool) -> Option<Decimal> {
    let bytes = text.as_bytes();
    let digits = bytes.strip_prefix(b"-").unwrap_or(bytes);
    let plain = digits.first().is_some_and(u8::is_ascii_digit) && digits.len() <= 20 && digits.last().is_some_and(u8::is_ascii_digit);
    let points = digits.iter().filter(|b| **b == b'.').count();
    let all = digits.iter().all(|b| b.is_ascii_digit() || *b == b'.');
    (plain && all && points <= usize::from(!decimal_comma)).then(|| Decimal::from_str_exact(text).ok()).flatten()
}

/// A number, perhaps with one of these units before or after it.
///
/// # Errors
/// It is none, or it has more digits than fit.
pub(crate) fn number(text: &str, units: &[&str], decimal_comma: bool) -> Result<Decimal, Fault> {
    if let Some(plain) = plain(text.trim(), decimal_comma) {
        return Ok(plain);
    }
    let (point, thousands) = if decimal_comma { (',', '.') } else { ('.', ',') };
    let wrong = || Fault::new(FaultKind::WrongKind, format!("“{text}” is not a number. Type it like 1{thousands}234{point}5."));
    let even = text.trim().replace('\u{2212}', "-");
    let mut sign = Sign::default();
    let bare = sign.taken_off(&even);
    // A stroke where the decimals would stand says that there are none.
    let bare =
        STROKES.iter().find_map(|stroke| bare.strip_suffix(stroke).filter(|t| t.ends_with(|c: char| c.is_ascii_digit()))).unwrap_or(bare);
    let stripped = units.iter().filter(|u| !u.is_empty()).find_map(|u| bare.strip_suffix(*u).or_else(|| bare.strip_prefix(*u)));
    let bare = stripped.map_or(bare, |rest| sign.taken_off(rest.trim()));
    if sign.seen > 1 {
        return Err(wrong());
    }
    let (mantissa, exponent) = match bare.split_once(['e', 'E']) {
        Some((mantissa, exponent)) => (mantissa, exponent.strip_prefix('+').unwrap_or(exponent).parse::<i32>().map_err(|_| wrong())?),
        None => (bare, 0),
    };
    let (digits, part) = mantissa.split_once(point).unwrap_or((mantissa, ""));
    let groups: Vec<&str> = digits.split(|c| c == thousands || THOUSANDS.contains(&c)).collect();
    let grouped_well = groups.len() == 1 || (groups[1..].iter().all(|g| g.len() == 3) && (1..=3).contains(&groups[0].len()));
    let all_digits = |s: &str| s.bytes().all(|b| b.is_ascii_digit());
    if !grouped_well || !groups.iter().all(|g| all_digits(g)) || !all_digits(part) || (digits.is_empty() && part.is_empty()) {
        return Err(wrong());
    }
    let minus = if sign.minus { "-" } else { "" };
    let plain = format!("{minus}{}{}{part}", groups.concat(), if part.is_empty() { "" } else { "." });
    let long = || Fault::new(FaultKind::WrongKind, "This number has too many digits: at most 28 fit.");
    let number = Decimal::from_str_exact(&plain).map_err(|_| long())?;
    shifted(number, exponent).ok_or_else(long)
}

/// A number times a power of ten, exactly.
fn shifted(number: Decimal, exponent: i32) -> Option<Decimal> {
    if exponent == 0 {
        return Some(number);
    }
    if exponent > 0 {
        let power = (0..exponent).take(30).try_fold(Decimal::ONE, |product, _| product.checked_mul(Decimal::TEN))?;
        return number.checked_mul(power);
    }
    let scale = number.scale().checked_add(exponent.unsigned_abs())?;
    let mut exact = number;
    exact.set_scale(scale).ok()?;
    Some(exact)
}

/// The signs of a number: before it, behind it, or brackets about it, as books are kept.
#[derive(Default)]
struct Sign {
    minus: bool,
    seen: usize,
}

impl Sign {
    fn taken_off<'t>(&mut self, text: &'t str) -> &'t str {
        let text = text.trim();
        let inner = text.strip_prefix('(').and_then(|t| t.strip_suffix(')'));
        let minus = text.strip_prefix('-').or_else(|| text.strip_suffix('-').filter(|t| t.ends_with(|c: char| c.is_ascii_digit())));
        let found = inner.or(minus).map(|bare| (bare, true)).or_else(|| text.strip_prefix('+').map(|bare| (bare, false)));
        let Some((bare, minus)) = found else { return text };
        self.seen += 1;
        self.minus |= minus;
        bare.trim()
    }
}
