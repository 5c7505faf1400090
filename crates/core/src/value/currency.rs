//! Currencies as files and people name them: by their code, or by a sign.

use super::Country;
use serde::{Deserialize, Serialize};

/// A currency's ISO 4217 code.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub struct Code([u8; 3]);

impl Code {
    /// The currency of a code; none where there is no such code.
    pub fn of(code: &str) -> Option<Self> {
        let known = iso_currency::Currency::from_code(&code.to_uppercase())?;
        known.code().as_bytes().try_into().ok().map(Self)
    }

    /// Its three letters.
    pub fn letters(&self) -> &str {
        std::str::from_utf8(&self.0).unwrap_or_default()
    }
}

/// Signs that mean a currency; one that several share means that of the tracker's country, else the one used most.
const SIGNS: [(&str, &str); 9] =
    [("£", "GBP"), ("€", "EUR"), ("US$", "USD"), ("A$", "AUD"), ("C$", "CAD"), ("$", "USD"), ("₹", "INR"), ("¥", "JPY"), ("zł", "PLN")];
const DOLLARS: [(&str, &str); 5] = [("AU", "AUD"), ("CA", "CAD"), ("NZ", "NZD"), ("SG", "SGD"), ("HK", "HKD")];
const CROWNS: [(&str, &str); 4] = [("SE", "SEK"), ("NO", "NOK"), ("DK", "DKK"), ("CZ", "CZK")];

/// The code of the currency that a text names.
pub(crate) fn named_currency(text: &str, country: Country) -> Option<String> {
    let mut words = text.split(|c: char| !c.is_alphabetic()).filter(|w| !w.is_empty());
    if let Some(code) = words.find_map(|word| Code::of(word).filter(|_| word.len() == 3 && word.chars().all(char::is_uppercase))) {
        return Some(code.letters().to_owned());
    }
    let here = String::from(country);
    let local = |list: &[(&str, &str)]| list.iter().find(|(c, _)| *c == here).map(|(_, code)| (*code).to_owned());
    let sign = SIGNS.iter().find(|(sign, _)| text.contains(sign));
    match sign {
        Some(("$", code)) => Some(local(&DOLLARS).unwrap_or_else(|| (*code).to_owned())),
        Some((_, code)) => Some((*code).to_owned()),
        None if text.split(|c: char| !c.is_alphabetic()).any(|word| word == "kr") => local(&CROWNS),
        None => None,
    }
}

/// All that amounts of a currency are written with, the longest first.
pub(crate) fn signs_of(code: &str, country: Country) -> Vec<String> {
    let mut signs = vec![code.to_owned()];
    signs.extend(
        SIGNS.iter().filter(|(sign, _)| named_currency(sign, country).as_deref() == Some(code)).map(|(sign, _)| (*sign).to_owned()),
    );
    if CROWNS.iter().any(|(_, crown)| *crown == code) {
        signs.push("kr".into());
    }
    signs
}
