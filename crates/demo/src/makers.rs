//! Short ways to make what the demo's tables and views are made of.

use crate::ids::{OPTIONS, STATUSES, faults};
use westerfall_core::{
    condition::{Check, Condition, Quantity, Test},
    figure::Figure,
    formula::Formula,
    id::{FieldId, OptionId},
    schema::{Choice, FieldDef, Hue, Kind, NumberPart, Preset, Summary},
    view::{Order, ShownField},
};

pub(crate) fn choice(options: &[OptionId], names: &[(&str, Hue)]) -> Kind {
    debug_assert!(options.len() == names.len() && options.iter().all(|o| o.get() >= OPTIONS));
    let options = options.iter().zip(names).map(|(id, (name, hue))| Choice { id: *id, name: (*name).to_owned(), hue: *hue, under: None });
    Kind::Choice { options: options.collect(), on: None }
}

pub(crate) fn plain(id: FieldId, name: &str, kind: Kind) -> FieldDef {
    FieldDef::new(id, name, kind)
}

pub(crate) fn required(def: FieldDef) -> FieldDef {
    FieldDef { required: true, ..def }
}

pub(crate) fn begins(preset: Preset, def: FieldDef) -> FieldDef {
    FieldDef { preset: Some(preset), ..def }
}

pub(crate) fn pounds() -> Kind {
    Kind::Money { currency: "GBP".into() }
}

pub(crate) fn count() -> Kind {
    Kind::Number { decimals: 0, unit: String::new() }
}

/// A formula, with ids for names as it is kept.
pub(crate) fn calculation(formula: String, shows: Kind) -> Kind {
    Kind::Calculation { formula: Formula::try_from(formula).expect("the demo's formulas can be read"), shows: Box::new(shows) }
}

pub(crate) fn summary(links: &[FieldId], figure: Figure, field: Option<FieldId>, condition: Condition, shows: Kind) -> Kind {
    Kind::Summary(Summary { links: links.to_vec(), figure, field, condition, shows: Box::new(shows) })
}

pub(crate) fn helped(help: &str, def: FieldDef) -> FieldDef {
    FieldDef { help: help.into(), ..def }
}

pub(crate) fn line(limit: usize) -> Kind {
    Kind::Text { limit }
}

pub(crate) fn kept(ids: [FieldId; 4]) -> [FieldDef; 4] {
    let [at, by, changed_at, changed_by] = ids;
    [
        plain(at, "Created at", Kind::CreatedAt),
        plain(by, "Created by", Kind::CreatedBy),
        plain(changed_at, "Changed at", Kind::ChangedAt),
        plain(changed_by, "Changed by", Kind::ChangedBy),
    ]
}

pub(crate) fn numbering(parts: Vec<NumberPart>) -> Kind {
    Kind::Numbering { parts }
}

pub(crate) fn test(path: &[FieldId], check: Check) -> Condition {
    Condition::Test(Test { path: path.to_vec(), of: Quantity::Any, check })
}

pub(crate) fn up(field: FieldId) -> Order {
    Order { field, descending: false }
}

pub(crate) fn down(field: FieldId) -> Order {
    Order { field, descending: true }
}

pub(crate) fn shown(fields: &[(FieldId, u16)]) -> Vec<ShownField> {
    fields.iter().map(|(field, width)| ShownField { field: *field, width: *width }).collect()
}

/// Of faults that are still to be put right.
pub(crate) fn status_open() -> Condition {
    test(&[faults::STATUS], Check::Option { not: true, any: vec![STATUSES[4], STATUSES[5]] })
}
