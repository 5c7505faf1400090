//! Finding names in a typed formula: the longest that is known wins, so names of several words need no quotes.

use super::functions::{self, Function};
use crate::{
    dataset::Dataset,
    id::{FieldId, TableId},
    schema::{FieldDef, Kind},
};

/// Signs that end a name which stands without quotes.
pub(super) const SIGNS: &str = "+-*/^&=<>%(),;.'\"{}[]\u{2212}≠≤≥";

/// A field's name at the start of a text, and its length there in bytes.
pub(super) fn field_at<'d>(ds: &'d Dataset, table: TableId, text: &str) -> Option<(&'d FieldDef, usize)> {
    let fields = ds.table(table)?.def.fields.iter();
    let found = fields.filter_map(|field| Some((field, prefix(text, &field.name)?)));
    found.filter(|(_, length)| !text[*length..].starts_with(is_in_name)).max_by_key(|(_, length)| *length)
}

/// The field of this name.
pub(super) fn field_named<'d>(ds: &'d Dataset, table: TableId, name: &str) -> Option<&'d FieldDef> {
    field_at(ds, table, name).filter(|(_, length)| *length == name.len()).map(|(field, _)| field)
}

/// How many bytes of a text a name takes at its start, whatever its capitals.
fn prefix(text: &str, name: &str) -> Option<usize> {
    let mut letters = text.char_indices();
    let mut end = 0;
    for wanted in name.chars() {
        let (at, letter) = letters.next()?;
        if letter != wanted && !letter.to_lowercase().eq(wanted.to_lowercase()) {
            return None;
        }
        end = at + letter.len_utf8();
    }
    (end > 0).then_some(end)
}

fn is_in_name(c: char) -> bool {
    c.is_alphanumeric() || c == '_'
}

/// A word at the start of a text: a function's name, or `where`.
pub(super) fn word(text: &str) -> &str {
    let end = text.find(|c: char| !is_in_name(c)).unwrap_or(text.len());
    &text[..end]
}

/// What was probably meant as one name: up to a sign, or to *where*.
pub(super) fn unknown(text: &str) -> &str {
    let end = text.find(|c: char| SIGNS.contains(c)).unwrap_or(text.len());
    let run = &text[..end];
    let end = run.to_lowercase().find(" where ").filter(|at| run.is_char_boundary(*at)).unwrap_or(run.len());
    run[..end].trim_end()
}

/// Where following a field leads: a link, or a carried link.
pub(super) fn leads_to(ds: &Dataset, table: TableId, field: FieldId) -> Option<TableId> {
    match ds.shown_kind(table, field)? {
        (_, Kind::Link(link)) => Some(link.to),
        _ => None,
    }
}

/// The known name that is most like a wrong one, if one is.
pub(super) fn like<'n>(wrong: &str, known: impl Iterator<Item = &'n str>) -> Option<&'n str> {
    let wrong = wrong.to_lowercase();
    let distance = |name: &str| strsim::damerau_levenshtein(&wrong, &name.to_lowercase());
    let near = |(name, distance): &(&str, usize)| *distance <= 1 + name.chars().count() / 4;
    known.map(|name| (name, distance(name))).filter(near).min_by_key(|(_, distance)| *distance).map(|(name, _)| name)
}

/// The function that a wrong name was probably meant as: one letter off in a longer name, or letters that changed places. Of short
/// names a letter makes another word.
pub(super) fn function_like(wrong: &str) -> Option<&'static str> {
    let length = wrong.chars().count();
    if length < 3 {
        return None;
    }
    let near = |name: &&str| {
        let off = strsim::damerau_levenshtein(&wrong.to_lowercase(), &name.to_lowercase());
        let begins = name.chars().next().is_some_and(|c| wrong.chars().next().is_some_and(|w| w.eq_ignore_ascii_case(&c)));
        begins && off <= if length.min(name.len()) > 7 { 2 } else { 1 }
    };
    let names = functions::all().map(|f: &Function| f.name).filter(near);
    like(wrong, names)
}
