//! Reading a text with values as it is typed, writing it back, and filling it in for a record.

use super::{Filled, Piece, WORDING_LIMIT, Wording};
use crate::{
    access::Lens,
    dataset::Dataset,
    fault::{Fault, FaultKind},
    id::{FieldId, RecordId, TableId},
    value::Cell,
};

impl Wording {
    /// Reads a typed text with values. A brace that stands for itself is doubled.
    ///
    /// # Errors
    /// [`FaultKind::BadRule`] naming what is in braces but is no field, or a brace without its partner.
    pub fn parse(text: &str, ds: &Dataset, table: TableId) -> Result<Self, Fault> {
        if text.chars().count() > WORDING_LIMIT {
            return Err(Fault::new(FaultKind::TooLong, format!("This text has at most {WORDING_LIMIT} characters.")));
        }
        let mut pieces = Vec::new();
        let mut plain = String::new();
        let mut rest = text;
        while let Some(at) = rest.find(['{', '}']) {
            plain.push_str(&rest[..at]);
            let brace = &rest[at..=at];
            rest = &rest[at + 1..];
            if let Some(after) = rest.strip_prefix(brace) {
                plain.push_str(brace);
                rest = after;
                continue;
            }
            let name = (brace == "{").then(|| rest.split_once('}')).flatten();
            let Some((name, after)) = name else {
                return Err(Fault::new(
                    FaultKind::BadRule,
                    "A brace has no partner here. Write a field as {Title}; double a brace that stands for itself.",
                ));
            };
            if !plain.is_empty() {
                pieces.push(Piece::Text(std::mem::take(&mut plain)));
            }
            pieces.push(Piece::Value(resolve(name, ds, table)?));
            rest = after;
        }
        plain.push_str(rest);
        if !plain.is_empty() {
            pieces.push(Piece::Text(plain));
        }
        Ok(Self(pieces))
    }

    /// The text as one types it.
    pub fn to_text(&self, ds: &Dataset, table: TableId) -> String {
        let piece = |piece: &Piece| match piece {
            Piece::Text(text) => text.replace('{', "{{").replace('}', "}}"),
            Piece::Value(path) => format!("{{{}}}", names(ds, table, path).join(".")),
        };
        self.0.iter().map(piece).collect()
    }

    /// The text for one record, with the values that the lens gives.
    pub fn fill(&self, lens: &Lens<'_>, table: TableId, record: RecordId) -> Filled {
        let mut filled = Filled::default();
        for piece in &self.0 {
            match piece {
                Piece::Text(text) => filled.text.push_str(text),
                Piece::Value(path) => {
                    let text = text_along(lens, table, path, record);
                    if text.is_empty() && !text_along(lens.whole(), table, path, record).is_empty() {
                        filled.left_out.push(names(lens.ds, table, path).join(", its "));
                    }
                    filled.text.push_str(&text);
                }
            }
        }
        filled
    }
}

/// The records that a path of links leads to from a record, as far as the lens gives them, and the field at its end.
pub(crate) fn ends(lens: &Lens<'_>, table: TableId, path: &[FieldId], record: RecordId) -> Option<(TableId, FieldId, Vec<RecordId>)> {
    let (last, links) = path.split_last()?;
    let (mut at, mut records) = (table, vec![record]);
    for field in links {
        let reader = lens.reader(at, *field);
        let linked = |r: &RecordId| if let Cell::Links(l) = reader.cell(r.row()) { l } else { &[] };
        records = records.iter().flat_map(|r| reader.visible(linked(r)).collect::<Vec<_>>()).collect();
        at = lens.ds.table(at)?.link(*field)?.to;
    }
    Some((at, *last, records))
}

fn text_along(lens: &Lens<'_>, table: TableId, path: &[FieldId], record: RecordId) -> String {
    let Some((at, field, records)) = ends(lens, table, path, record) else { return String::new() };
    let texts: Vec<String> = records.iter().filter(|r| lens.sees(at, **r)).map(|r| lens.text_at(at, *r, field)).collect();
    texts.into_iter().filter(|t| !t.is_empty()).collect::<Vec<_>>().join(", ")
}

fn resolve(name: &str, ds: &Dataset, table: TableId) -> Result<Vec<FieldId>, Fault> {
    let mut at = Some(table);
    let mut path = Vec::new();
    for part in name.split('.') {
        let wanted = part.trim().to_lowercase();
        let home = at.and_then(|t| ds.table(t));
        let field = home.and_then(|t| t.def.fields.iter().find(|f| f.name.to_lowercase() == wanted));
        let (Some(home), Some(field)) = (home, field) else {
            let place = home.map_or_else(|| "what stands before it, which is no link".to_owned(), |t| t.def.name.clone());
            return Err(Fault::new(FaultKind::BadRule, format!("There is no field “{}” in {place}.", part.trim())));
        };
        path.push(field.id);
        at = home.link(field.id).map(|l| l.to);
    }
    Ok(path)
}

fn names(ds: &Dataset, table: TableId, path: &[FieldId]) -> Vec<String> {
    let mut at = Some(table);
    let name = |field: &FieldId| {
        let home = at.and_then(|t| ds.table(t));
        let def = home.and_then(|t| t.def.field(*field));
        at = home.and_then(|t| t.link(*field)).map(|l| l.to);
        def.map_or_else(|| "?".to_owned(), |f| f.name.clone())
    };
    path.iter().map(name).collect()
}
