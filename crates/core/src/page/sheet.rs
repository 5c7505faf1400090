//! How a record of a page is laid out where it is opened: as the coordinator arranged it, of what the page shows.

use crate::{
    access::Lens,
    folio::{LaidSection, is_head},
    id::{FieldId, RecordId, TableId},
    schema::{FieldDef, PlacedField, Section, TableDef},
};

/// The sections in which some fields of a table stand, each with what the coordinator said of it: first what names a record, then the
/// sections with what is shown of each, and last what stands in none of them or was put away, since the page shows it.
pub(super) fn sections<'a>(def: &'a TableDef, shown: &[FieldId]) -> Vec<(Option<&'a Section>, LaidSection)> {
    let placed = |section: &Section| section.fields.iter().copied().filter(|one| shown.contains(&one.field)).collect::<Vec<_>>();
    let said: Vec<(Option<&Section>, LaidSection)> = def
        .arrangement
        .sections
        .iter()
        .map(|section| (section, placed(section)))
        .filter(|(_, fields)| !fields.is_empty())
        .map(|(section, fields)| {
            (Some(section), LaidSection { heading: section.heading.clone(), two: section.two, closed: section.closed, fields })
        })
        .collect();
    let stands = |field: FieldId| said.iter().any(|(_, section)| section.fields.iter().any(|one| one.field == field));
    let left = shown.iter().filter(|field| !stands(**field)).filter_map(|field| def.field(*field));
    let (head, rest): (Vec<&FieldDef>, Vec<&FieldDef>) = left.partition(|field| !said.is_empty() && is_head(def, field));
    let plain = |fields: Vec<&FieldDef>| {
        let fields: Vec<PlacedField> = fields.into_iter().map(|field| PlacedField { field: field.id, wide: false }).collect();
        (!fields.is_empty()).then(|| (None, LaidSection { heading: String::new(), two: false, closed: false, fields }))
    };
    plain(head).into_iter().chain(said).chain(plain(rest)).collect()
}

/// Which of these sections a record does not have, by their places.
pub(super) fn without(lens: &Lens<'_>, table: TableId, record: RecordId, sections: &[(Option<&Section>, LaidSection)]) -> Vec<usize> {
    let hides = |said: &Option<&Section>| said.is_some_and(|section| !lens.shows_section(table, record, section));
    sections.iter().enumerate().filter(|(_, (said, _))| hides(said)).map(|(place, _)| place).collect()
}
