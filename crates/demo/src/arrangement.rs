//! How faults and work orders are laid out where one is opened.

use crate::{
    ids::{STATUSES, faults as f, lines as l, orders as o},
    makers::test,
};
use westerfall_core::{
    condition::{Check, Condition},
    figure::Figure,
    id::FieldId,
    schema::{Arrangement, ListFigure, PlacedField, RecordList, Section, TableDef},
};

fn section(heading: &str, fields: &[FieldId]) -> Section {
    let fields = fields.iter().map(|field| PlacedField { field: *field, wide: false }).collect();
    Section { heading: heading.into(), fields, ..Section::default() }
}

fn wide(mut section: Section, field: FieldId) -> Section {
    section.fields.push(PlacedField { field, wide: true });
    section
}

fn of_faults() -> Arrangement {
    let is_planned = test(&[f::STATUS], Check::Option { not: false, any: vec![STATUSES[2], STATUSES[3], STATUSES[4]] });
    let what = Section { two: true, ..section("What and where", &[f::SECTION, f::DISTRICT, f::KIND, f::SEVERITY]) };
    let when =
        Section { two: true, ..section("Who and when", &[f::STATUS, f::WARDEN, f::REPORTED, f::DUE, f::DAYS_OPEN, f::HOURS, f::CHECKED]) };
    let work = Section { when: Condition::All(vec![is_planned]), ..section("The work", &[f::PLANNED, f::ORDERS]) };
    let reporter = section("Who reported it", &[f::REPORTER, f::MAIL, f::PHONE]);
    let parish = Section { closed: true, ..section("From the parish", &[f::PARISH_HELPS, f::PARISH_NOTE]) };
    Arrangement { sections: vec![wide(wide(what, f::DESCRIPTION), f::PICTURES), when, work, reporter, parish], ..Arrangement::default() }
}

fn of_orders() -> Arrangement {
    let listed = |field, shows: &[FieldId], figures: &[FieldId]| RecordList {
        field,
        shows: shows.to_vec(),
        by: None,
        descending: false,
        figures: figures.iter().map(|field| ListFigure { field: *field, figure: Figure::Sum }).collect(),
    };
    Arrangement {
        sections: vec![
            section("Where and why", &[o::DISTRICT, o::FAULTS]),
            Section { two: true, ..section("Who and when", &[o::LEADER, o::PLANNED, o::STARTED, o::FINISHED]) },
            section("What it takes", &[o::LINES]),
            Section { two: true, ..section("What it costs", &[o::HOURS, o::RATE, o::MATERIALS, o::TOTAL, o::APPROVED]) },
        ],
        away: vec![o::BEGINS],
        lists: vec![
            listed(o::FAULTS, &[f::NUMBER, f::TITLE, f::SEVERITY, f::STATUS, f::DUE], &[]),
            listed(o::LINES, &[l::MATERIAL, l::QUANTITY, l::PRICE, l::COST], &[l::COST]),
        ],
    }
}

/// A table as its records are laid out.
pub(crate) fn arranged(table: TableDef) -> TableDef {
    let arrangement = match table.id {
        f::TABLE => of_faults(),
        o::TABLE => of_orders(),
        _ => Arrangement::default(),
    };
    TableDef { arrangement, ..table }
}
