//! Functions over texts. A character is what people see as one: an extended grapheme cluster (Unicode annex 29).

use super::{Function, Gives, Run, Takes};
use crate::{
    formula::{
        TEXT_RESULT_LIMIT,
        eval::{Args, Calc, Val, logical, number, text},
    },
    value::{CalcError, Customs, Value, fold},
};
use rust_decimal::Decimal;
use unicode_segmentation::UnicodeSegmentation;

macro_rules! text_fn {
    ($name:literal, $params:expr, $gives:expr, $help:literal, $example:literal => $result:literal, $run:expr) => {
        Function {
            name: $name,
            group: "Texts",
            params: $params,
            gives: $gives,
            help: $help,
            example: ($example, $result),
            run: Run::Strict($run),
        }
    };
}

const T: Takes = Takes::Text;
const N: Takes = Takes::Number;
const ONE: &[(&str, Takes)] = &[("text", T)];
const CODE: &[(&str, Takes)] = &[("code", N)];
const PART: &[(&str, Takes)] = &[("text", T), ("[count]", N)];
const SEEK: &[(&str, Takes)] = &[("wanted", T), ("text", T), ("[from]", N)];

pub(super) const TABLE: &[Function] = &[
    text_fn!("CHAR", CODE, Gives::Text, "The character with this code, from 1 to 255.", "CHAR(65)" => "A", |a| {
        let code = u8::try_from(a.whole_or(0, 0)?).ok().filter(|c| *c > 0).ok_or(CalcError::WrongValue)?;
        text(char::from(code).to_string())
    }),
    text_fn!("CLEAN", ONE, Gives::Text, "The text without characters that can’t be seen, line ends too.", "CLEAN(\"a\" & CHAR(7))" => "a", |a| {
        text(a.text(0)?.chars().filter(|c| !c.is_control()).collect())
    }),
    text_fn!("CODE", ONE, Gives::Number, "The code of the first character.", "CODE(\"A\")" => "65", code),
    text_fn!("CONCATENATE", &[("text…", Takes::Texts)], Gives::Text, "All texts, one after the other.", "CONCATENATE(\"a\", 1, \"b\")" => "a1b", |a| text(a.texts(0)?.concat())),
    text_fn!("EXACT", &[("one", T), ("other", T)], Gives::Logical, "Whether two texts are the same to the letter, capitals too.", "EXACT(\"a\", \"A\")" => "FALSE", |a| logical(a.text(0)? == a.text(1)?)),
    text_fn!("FIND", SEEK, Gives::Number, "The place at which a text stands in another; capitals count.", "FIND(\"b\", \"abc\")" => "2", |a| find(a, str::to_owned)),
    text_fn!("LEFT", PART, Gives::Text, "The first characters, one if no number is given.", "LEFT(\"Eskermoor\", 3)" => "Esk", |a| {
        let (t, count) = (a.text(0)?, count(a, 1, 1)?);
        text(t.graphemes(true).take(count).collect())
    }),
    text_fn!("LEN", ONE, Gives::Number, "How many characters there are.", "LEN(\"path\")" => "4", |a| number(Decimal::from(a.text(0)?.graphemes(true).count()))),
    text_fn!("LOWER", ONE, Gives::Text, "In small letters.", "LOWER(\"Path\")" => "path", |a| text(a.text(0)?.to_lowercase())),
    text_fn!("MID", &[("text", T), ("from", N), ("count", N)], Gives::Text, "So many characters from a place on.", "MID(\"footpath\", 5, 4)" => "path", |a| {
        let (t, from, count) = (a.text(0)?, place(a, 1, 1)?, count(a, 2, 1)?);
        text(t.graphemes(true).skip(from - 1).take(count).collect())
    }),
    text_fn!("NUMBERVALUE", &[("text", T), ("[decimal sign]", T), ("[thousands sign]", T)], Gives::Number, "The number in a text, with these signs.", "NUMBERVALUE(\"1.234,5\", \",\", \".\")" => "1234.5", |a| {
        let decimal = if a.len() > 1 { a.text(1)? } else { ".".into() };
        let thousands = if a.len() > 2 { a.text(2)? } else { String::new() };
        let mut bare: String = a.text(0)?.chars().filter(|c| !c.is_whitespace() && !thousands.contains(*c)).collect();
        if decimal != "." {
            if bare.contains('.') {
                return Err(CalcError::WrongValue.into());
            }
            bare = bare.replace(&decimal, ".");
        }
        number(plain_number(&bare)?)
    }),
    text_fn!("PROPER", ONE, Gives::Text, "Each word with a capital first.", "PROPER(\"low marrow\")" => "Low Marrow", |a| {
        let mut begins = true;
        let mut proper = String::new();
        for c in a.text(0)?.chars() {
            if begins { proper.extend(c.to_uppercase()) } else { proper.extend(c.to_lowercase()) }
            begins = !c.is_alphabetic() && c != '\'' && c != '’';
        }
        text(proper)
    }),
    text_fn!("REPLACE", &[("text", T), ("from", N), ("count", N), ("new", T)], Gives::Text, "The text with so many characters from a place on replaced.", "REPLACE(\"gate\", 1, 1, \"l\")" => "late", |a| {
        let (t, from, count, new) = (a.text(0)?, place(a, 1, 1)?, count(a, 2, 0)?, a.text(3)?);
        let before: String = t.graphemes(true).take(from - 1).collect();
        let after: String = t.graphemes(true).skip(from - 1 + count).collect();
        text(before + &new + &after)
    }),
    text_fn!("REPT", &[("text", T), ("times", N)], Gives::Text, "The text so many times.", "REPT(\"ab\", 3)" => "ababab", |a| {
        let (t, times) = (a.text(0)?, count(a, 1, 0)?);
        if t.len().saturating_mul(times) > TEXT_RESULT_LIMIT {
            return Err(CalcError::TooLarge.into());
        }
        text(t.repeat(times))
    }),
    text_fn!("RIGHT", PART, Gives::Text, "The last characters, one if no number is given.", "RIGHT(\"PS-014\", 3)" => "014", |a| {
        let (t, count) = (a.text(0)?, count(a, 1, 1)?);
        let all = t.graphemes(true).count();
        text(t.graphemes(true).skip(all.saturating_sub(count)).collect())
    }),
    text_fn!("SEARCH", SEEK, Gives::Number, "The place at which a text stands in another, whatever its capitals and accents.", "SEARCH(\"B\", \"abc\")" => "2", |a| {
        find(a, |t| fold(t).into_owned())
    }),
    text_fn!("SUBSTITUTE", &[("text", T), ("old", T), ("new", T), ("[which]", N)], Gives::Text, "The text with one text in it replaced by another: everywhere, or only the first, second …", "SUBSTITUTE(\"a-b-c\", \"-\", \"+\", 2)" => "a-b+c", |a| {
        let (t, old, new) = (a.text(0)?, a.text(1)?, a.text(2)?);
        if old.is_empty() {
            return text(t);
        }
        let times = t.matches(&*old).count();
        if t.len() + times.saturating_mul(new.len()) > 2 * TEXT_RESULT_LIMIT {
            return Err(CalcError::TooLarge.into());
        }
        if a.len() < 4 {
            return text(t.replace(&*old, &new));
        }
        let which = place(a, 3, 1)?;
        let replaced = t.match_indices(&*old).nth(which - 1).map(|(at, _)| format!("{}{new}{}", &t[..at], &t[at + old.len()..]));
        text(replaced.unwrap_or(t))
    }),
    text_fn!("TEXT", &[("value", Takes::Any), ("picture", T)], Gives::Text, "A number or date as text, by a picture such as 0.00, #,##0 or d mmmm yyyy.", "TEXT(1234.5, \"#,##0.00\")" => "1,234.50", |a| {
        let picture = a.text(1)?;
        match a.one(0)? {
            Value::Date(_) | Value::Instant(_) => text(super::dates::pictured(a.moment(0)?, &picture)),
            _ if picture.contains(['y', 'm', 'd', 'h', 's']) && !picture.contains(['0', '#']) => text(super::dates::pictured(a.moment(0)?, &picture)),
            _ => text(pictured(a.number(0)?, &picture)?),
        }
    }),
    text_fn!("TEXTJOIN", &[("between", T), ("skip empty", Takes::Logical), ("text…", Takes::Texts)], Gives::Text, "All texts, with one between them.", "TEXTJOIN(\", \", TRUE, \"a\", \"b\")" => "a, b", |a| {
        let (between, skip) = (a.text(0)?, a.yes(1)?);
        let texts: Vec<String> = a.texts(2)?.into_iter().filter(|t| !skip || !t.is_empty()).collect();
        let length: usize = texts.iter().map(|t| t.len() + between.len()).sum();
        if length > 2 * TEXT_RESULT_LIMIT {
            return Err(CalcError::TooLarge.into());
        }
        text(texts.join(&between))
    }),
    text_fn!("TRIM", ONE, Gives::Text, "Without spaces at the ends, and with one between words.", "TRIM(\"  a   b \")" => "a b", |a| {
        text(a.text(0)?.split(' ').filter(|w| !w.is_empty()).collect::<Vec<_>>().join(" "))
    }),
    text_fn!("UNICHAR", CODE, Gives::Text, "The character with this Unicode number.", "UNICHAR(8364)" => "€", |a| {
        let code = u32::try_from(a.whole_or(0, 0)?).ok().filter(|c| *c > 0).and_then(char::from_u32).ok_or(CalcError::WrongValue)?;
        text(code.to_string())
    }),
    text_fn!("UNICODE", ONE, Gives::Number, "The Unicode number of the first character.", "UNICODE(\"€\")" => "8364", code),
    text_fn!("UPPER", ONE, Gives::Text, "In capitals.", "UPPER(\"path\")" => "PATH", |a| text(a.text(0)?.to_uppercase())),
    text_fn!("VALUE", ONE, Gives::Number, "The number in a text.", "VALUE(\"12.5\")" => "12.5", |a| match a.one(0)? {
        Value::Text(t) => number(plain_number(t.trim())?),
        _ => number(a.number(0)?),
    }),
];

fn code(args: &Args<'_, '_>) -> Calc<Val> {
    match args.text(0)?.chars().next() {
        Some(c) => number(Decimal::from(u32::from(c))),
        None => Err(CalcError::WrongValue.into()),
    }
}

/// How many characters; an error below zero.
fn count(args: &Args<'_, '_>, place: usize, default: i64) -> Calc<usize> {
    usize::try_from(args.whole_or(place, default)?).map_err(|_| CalcError::WrongValue.into())
}

/// A place from 1.
fn place(args: &Args<'_, '_>, at: usize, default: i64) -> Calc<usize> {
    count(args, at, default).and_then(|n| if n == 0 { Err(CalcError::WrongValue.into()) } else { Ok(n) })
}

fn find(args: &Args<'_, '_>, form: impl Fn(&str) -> String) -> Calc<Val> {
    let (wanted, whole, from) = (form(&args.text(0)?), args.text(1)?, place(args, 2, 1)?);
    let letters: Vec<&str> = whole.graphemes(true).collect();
    let rest = form(&letters.get(from - 1..).unwrap_or(&[]).concat());
    match rest.find(&wanted) {
        Some(at) if from <= letters.len() + 1 => number(Decimal::from(from + rest[..at].graphemes(true).count())),
        _ => Err(CalcError::WrongValue.into()),
    }
}

/// A number as a program would write it, perhaps with a percent sign; never guessed.
fn plain_number(text: &str) -> Calc<Decimal> {
    let (bare, share) = text.strip_suffix('%').map_or((text, false), |bare| (bare.trim_end(), true));
    let number = bare.parse::<Decimal>().or_else(|_| Decimal::from_scientific(bare)).map_err(|_| CalcError::WrongValue)?;
    if share { crate::formula::arithmetic::divided(number, Decimal::ONE_HUNDRED) } else { Ok(number) }
}

/// A number by a picture: digits that stand in any case are `0`, others `#`; `,` marks thousands, `%` makes a share of it.
fn pictured(number: Decimal, picture: &str) -> Calc<String> {
    let is_digit = |c: char| matches!(c, '0' | '#' | ',' | '.');
    let Some(from) = picture.find(is_digit) else { return Ok(picture.to_owned()) };
    let to = picture.rfind(is_digit).map_or(picture.len(), |at| at + 1);
    let (prefix, digits, suffix) = (&picture[..from], &picture[from..to], &picture[to..]);
    let shown = if picture.contains('%') { number.checked_mul(Decimal::ONE_HUNDRED) } else { Some(number) };
    let number = shown.ok_or(CalcError::NoNumber)?;
    let (whole, part) = digits.split_once('.').unwrap_or((digits, ""));
    let most = u32::try_from(part.len()).unwrap_or(28).min(28);
    let least = u32::try_from(part.matches('0').count()).unwrap_or(28).min(28);
    let rounded = number.round_dp_with_strategy(most, rust_decimal::RoundingStrategy::MidpointAwayFromZero);
    let mut text = Customs::default().number_text(rounded, least, "").replace('\u{2212}', "-");
    if !whole.contains(',') {
        text = text.replace(',', "");
    }
    let wanted = whole.matches('0').count();
    let (minus, bare) = text.strip_prefix('-').map_or(("", &*text), |bare| ("-", bare));
    let places = bare.find('.').unwrap_or(bare.len());
    let zeros = "0".repeat(wanted.min(100).saturating_sub(places));
    Ok(format!("{minus}{prefix}{zeros}{bare}{suffix}"))
}
