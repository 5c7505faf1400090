//! The order of texts: capitals and accents do not count, numbers inside count as numbers ("PS-9" before "PS-10").

use std::{borrow::Cow, cmp::Ordering};
use unicode_normalization::{UnicodeNormalization, char::is_combining_mark};

/// Small letters without accents, for comparing and finding.
pub fn fold(text: &str) -> Cow<'_, str> {
    if text.bytes().all(|b| b.is_ascii() && !b.is_ascii_uppercase()) {
        return Cow::Borrowed(text);
    }
    if text.is_ascii() {
        return Cow::Owned(text.to_ascii_lowercase());
    }
    Cow::Owned(text.nfd().filter(|c| !is_combining_mark(*c)).flat_map(char::to_lowercase).collect())
}

/// Whether `text` holds `needle`, which is folded already.
pub fn contains_folded(text: &str, needle: &str) -> bool {
    if needle.is_empty() {
        return true;
    }
    if text.is_ascii() && needle.is_ascii() {
        // The common case, without an allocation for each of a hundred thousand cells.
        return text.as_bytes().windows(needle.len()).any(|window| window.eq_ignore_ascii_case(needle.as_bytes()));
    }
    fold(text).contains(needle)
}

/// The bytes by which texts sort: folded, with each run of digits led by its length, so that byte order is natural order.
fn order_bytes(text: &str) -> impl Iterator<Item = u8> {
    // Plain letters are made small one by one as they are given out, without an allocation for each of a hundred thousand texts.
    let folded = if text.is_ascii() { Cow::Borrowed(text) } else { fold(text) };
    OrderBytes { text: folded, at: 0, run_end: 0, pending: None }
}

struct OrderBytes<'a> {
    text: Cow<'a, str>,
    at: usize,
    /// Up to here the bytes are digits of a run whose length was given out.
    run_end: usize,
    pending: Option<u8>,
}

impl Iterator for OrderBytes<'_> {
    type Item = u8;

    fn next(&mut self) -> Option<u8> {
        if let Some(byte) = self.pending.take() {
            return Some(byte);
        }
        let bytes = self.text.as_bytes();
        let byte = *bytes.get(self.at)?;
        if self.at >= self.run_end && byte.is_ascii_digit() {
            while bytes[self.at] == b'0' && bytes.get(self.at + 1).is_some_and(u8::is_ascii_digit) {
                self.at += 1;
            }
            let digits = bytes[self.at..].iter().take_while(|b| b.is_ascii_digit()).count();
            self.run_end = self.at + digits;
            // One to eight digits lead with '1' to '8'; longer runs with '9' and their length.
            if digits > 8 {
                self.pending = Some(u8::try_from(digits).unwrap_or(u8::MAX));
                return Some(b'9');
            }
            return Some(b'0' + u8::try_from(digits).unwrap_or(9));
        }
        self.at += 1;
        Some(byte.to_ascii_lowercase())
    }
}

/// How many bytes of the order two texts begin with alike.
pub(crate) fn alike(a: &str, b: &str) -> usize {
    order_bytes(a).zip(order_bytes(b)).take_while(|(a, b)| a == b).count()
}

/// The first eight bytes of the order, big end first: if two keys differ, they order as their texts do.
pub fn text_key(text: &str) -> u64 {
    text_key_after(text, 0)
}

/// The eight bytes of the order behind so many with which all texts begin alike.
pub(crate) fn text_key_after(text: &str, alike: usize) -> u64 {
    let mut key = [0; 8];
    for (place, byte) in key.iter_mut().zip(order_bytes(text).skip(alike)) {
        *place = byte;
    }
    u64::from_be_bytes(key)
}

/// The whole order of two texts; texts that differ only in capitals or accents fall back to their bytes, so that it is total.
pub fn natural_cmp(a: &str, b: &str) -> Ordering {
    // Columns repeat themselves: most texts whose keys are the same are the same.
    if a == b {
        return Ordering::Equal;
    }
    order_bytes(a).cmp(order_bytes(b)).then_with(|| a.cmp(b))
}
