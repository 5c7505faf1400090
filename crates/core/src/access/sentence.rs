//! What a role may do, as sentences.

use super::{FieldRight, Lens, Reach, Role, TableRights};
use crate::{
    id::{FieldId, TableId},
    schema::{MineBy, TableDef, within_sentence},
    sentence::{a_or_an, capital},
    value::list_text,
};

/// For each table, in the order of the tracker, what the role may do there.
pub fn role_sentences(role: &Role, lens: &Lens<'_>) -> Vec<(TableId, String)> {
    let tables = lens.dataset().tables();
    tables.map(|t| (t.def.id, rights_sentence(&role.rights(t.def.id), lens, t.def.id))).collect()
}

/// What makes a record of a table somebody's own.
pub fn mine_sentence(def: &TableDef) -> String {
    let MineBy { made, address, entered_for, own } = def.mine;
    let named = |field: Option<FieldId>| field.and_then(|id| def.field(id)).map(|f| within_sentence(&f.name));
    let mut by: Vec<String> = Vec::new();
    by.extend(made.then(|| "they made it".to_owned()));
    by.extend(named(address).map(|name| format!("it was sent in under their address, in {name}")));
    by.extend(named(entered_for).map(|name| format!("they are its {name}")));
    by.extend(named(own).map(|name| format!("it is their own record, the one with their address in {name}")));
    if by.is_empty() {
        return format!("No {} is anybody’s own.", def.one);
    }
    format!("{} is somebody’s own where {}.", capital(&a_or_an(&def.one)), list_text(&by, "or"))
}

fn rights_sentence(rights: &TableRights, lens: &Lens<'_>, table: TableId) -> String {
    let Some(home) = lens.dataset().table(table) else { return String::new() };
    let reach = |reach: &Reach| match reach {
        Reach::None => None,
        Reach::All => Some(format!("all {}", home.def.many())),
        Reach::Mine if home.def.mine.is_the_person() => Some(format!("the {} they are", home.def.one)),
        Reach::Mine => Some(format!("their own {}", home.def.many())),
        Reach::Where(condition) => Some(format!("{} where {}", home.def.many(), condition.to_sentence(lens, table))),
    };
    let Some(look) = reach(&rights.look) else {
        return if rights.add { format!("Adds {}, sees none.", home.def.many()) } else { "Nothing.".into() };
    };
    let mut parts = vec![format!("Sees {look}")];
    let same = |other: &Reach| if *other == rights.look { Some("these".to_owned()) } else { reach(other) };
    match (same(&rights.change), same(&rights.remove)) {
        (Some(change), Some(remove)) if change == remove => parts.push(format!("changes and removes {change}")),
        (change, remove) => {
            parts.extend(change.map(|c| format!("changes {c}")));
            parts.extend(remove.map(|r| format!("removes {r}")));
        }
    }
    if rights.add {
        parts.push(format!("adds {}", home.def.many()));
    }
    let named = |wanted: FieldRight| -> Vec<String> {
        let fields = home.def.fields.iter().filter(|f| rights.of(f.id) == wanted);
        fields.map(|f| within_sentence(&f.name)).collect()
    };
    let mut text = format!("{}.", list_text(&parts, "and"));
    for (words, names) in [("Hidden", named(FieldRight::Hidden)), ("Only read", named(FieldRight::Read))] {
        if !names.is_empty() {
            text.push_str(&format!(" {words}: {}.", list_text(&names, "and")));
        }
    }
    let released: Vec<String> =
        home.def.fields.iter().filter(|f| rights.released.contains(&f.id)).map(|f| within_sentence(&f.name)).collect();
    if !released.is_empty() {
        text.push_str(&format!(" Shown whatever they draw on: {}.", list_text(&released, "and")));
    }
    text
}
