//! What records look like: which highlights touch them, and which of several sets what. Worked out here alone, for every shape,
//! folio, file and paper.

use super::{Highlight, Look, Touch};
use crate::{
    access::Lens,
    condition::Asking,
    id::{FieldId, HighlightId, RecordId, TableId},
    schema::Kind,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// How a record looks, and what stands in it.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RecordLooks {
    /// The numbers of the highlights that touch it: their places in the table's list, from 1.
    pub by: Vec<u32>,
    /// When these act, in words, for whoever does not see how it looks: *due is before today*.
    pub says: String,
    /// The whole record: its ground and its edge.
    #[serde(default, skip_serializing_if = "Look::is_plain")]
    pub whole: Look,
    /// Of the fields asked for, those that look otherwise than plainly.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub cells: Vec<CellLook>,
}

/// How what stands in a field looks.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CellLook {
    pub field: FieldId,
    pub look: Look,
}

/// The highlights of a table made ready, to be asked about one record after another.
pub struct Looks<'a, 'd> {
    ready: Vec<Ready<'a>>,
    lens: &'a Lens<'d>,
    table: TableId,
    /// The field at which signs and words of a whole record stand.
    standing: Option<FieldId>,
}

pub(super) struct Ready<'a> {
    /// From 1.
    pub(super) number: u32,
    pub(super) highlight: &'a Highlight,
    pub(super) when: String,
    asking: Asking<'a>,
}

/// How far a rule goes before others: a field's before the record's, what holds now before what always does.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Rank {
    Field,
    Record,
    /// The colour of an option comes between: only an edge meets it.
    StandingField,
    StandingRecord,
}

impl<'d> Lens<'d> {
    /// The highlights that act for somebody, but for some: those that ask what is not open to them do not.
    pub fn highlights(&self, table: TableId, without: &BTreeSet<HighlightId>) -> Vec<(u32, &Highlight)> {
        let all = self.dataset().highlights_of(table).into_iter().zip(1..).map(|(highlight, number)| (number, highlight));
        all.filter(|(_, one)| !without.contains(&one.id) && one.condition.is_open_to(self, table)).collect()
    }

    /// How records look to somebody.
    pub fn looks<'a>(&'a self, table: TableId, without: &BTreeSet<HighlightId>) -> Looks<'a, 'd> {
        let ready = |(number, highlight): (u32, &'a Highlight)| Ready {
            number,
            highlight,
            when: highlight.when(self),
            asking: highlight.condition.asking(self, table),
        };
        let standing = self.dataset().table(table).map(|home| home.def.standing);
        Looks {
            ready: self.highlights(table, without).into_iter().filter(|(_, one)| !one.touches.is_empty()).map(ready).collect(),
            lens: self,
            table,
            standing,
        }
    }
}

impl Lens<'_> {
    /// How the cells of a view look where each lies by itself, as in a file: the record's ground under each, its edge along the first.
    pub fn cell_looks(&self, query: &crate::view::Query, table: TableId, records: &[RecordId]) -> Vec<Vec<Option<Look>>> {
        let looks = self.looks(table, &query.without);
        if looks.is_empty() {
            return Vec::new();
        }
        let fields: Vec<FieldId> = query.fields.iter().map(|shown| shown.field).filter(|field| self.reads(table, *field)).collect();
        let row = |record: &RecordId| {
            let Some(RecordLooks { whole, cells, .. }) = looks.of(*record, &fields) else { return vec![None; fields.len()] };
            let cell = |(column, field): (usize, &FieldId)| {
                let mut look = cells.iter().find(|cell| cell.field == *field).map_or_else(Look::default, |cell| cell.look.clone());
                look.fill = look.fill.or(whole.fill);
                look.edge = look.edge.or(whole.edge.filter(|_| column == 0));
                (!look.is_plain()).then_some(look)
            };
            fields.iter().enumerate().map(cell).collect()
        };
        records.iter().filter(|record| self.sees(table, **record)).map(row).collect()
    }
}

impl<'a> Looks<'a, '_> {
    /// Whether nothing looks otherwise than plainly.
    pub fn is_empty(&self) -> bool {
        self.ready.is_empty()
    }

    /// The highlights that touch a record.
    pub(super) fn acting(&self, record: RecordId) -> Vec<&Ready<'a>> {
        self.ready.iter().filter(|one| one.asking.holds(record.row())).collect()
    }

    /// How a record looks, with these fields of it; nothing where no highlight touches it.
    pub fn of(&self, record: RecordId, fields: &[FieldId]) -> Option<RecordLooks> {
        let acting = self.acting(record);
        if acting.is_empty() {
            return None;
        }
        let rules = ranked(&acting);
        let whole =
            merged(rules.iter().filter(|(rank, ..)| matches!(rank, Rank::Record | Rank::StandingRecord)).map(|(_, touch, _)| *touch));
        let named = self.standing.filter(|field| fields.contains(field)).or_else(|| fields.first().copied());
        let cells = fields.iter().filter_map(|field| {
            let look = self.cell(&rules, record, *field, named == Some(*field));
            (!look.is_plain()).then_some(CellLook { field: *field, look })
        });
        Some(RecordLooks {
            by: acting.iter().map(|one| one.number).collect(),
            says: acting.iter().map(|one| one.when.as_str()).collect::<Vec<_>>().join("; "),
            whole: Look { fill: whole.fill, edge: whole.edge, ..Look::default() },
            cells: cells.collect(),
        })
    }

    /// How one field looks; at the one that names the record stand its signs and words.
    fn cell(&self, rules: &[(Rank, &Touch, u32)], record: RecordId, field: FieldId, named: bool) -> Look {
        let mut look = Look::default();
        for (rank, touch, _) in rules {
            let touches = touch.fields.is_empty() || touch.fields.contains(&field);
            if touches {
                look.fill_up(&self.part_of(*rank, &touch.look, record, field, named));
            }
        }
        // The record's ground lies under the cell already; where it goes before the field's own, the cell has none.
        let first_fill =
            rules.iter().find(|(_, touch, _)| touch.look.fill.is_some() && (touch.fields.is_empty() || touch.fields.contains(&field)));
        if first_fill.is_some_and(|(_, touch, _)| touch.fields.is_empty()) {
            look.fill = None;
        }
        look
    }

    /// What a rule of this rank sets of a cell, unless a higher one does.
    pub(super) fn part_of(&self, rank: Rank, look: &Look, record: RecordId, field: FieldId, named: bool) -> Look {
        match rank {
            Rank::Field => look.clone(),
            Rank::StandingField => {
                let edge = look.edge.filter(|_| !self.has_option(record, field));
                Look { edge, ..look.clone() }
            }
            Rank::Record | Rank::StandingRecord => Look {
                edge: None,
                sign: look.sign.clone().filter(|_| named),
                word: if named { look.word.clone() } else { String::new() },
                ..look.clone()
            },
        }
    }

    /// Whether the cell has an option's colour at its edge.
    fn has_option(&self, record: RecordId, field: FieldId) -> bool {
        let kind = self.lens.dataset().shown_kind(self.table, field).map(|(_, kind)| kind.shows());
        matches!(kind, Some(Kind::Choice { .. })) && {
            let reader = self.lens.reader(self.table, field);
            !reader.is_empty(reader.cell(record.row()))
        }
    }
}

/// What the highlights that act set, the strongest first, each with its number.
pub(super) fn ranked<'r>(acting: &[&'r Ready<'_>]) -> Vec<(Rank, &'r Touch, u32)> {
    let mut rules: Vec<(Rank, &Touch, u32)> = Vec::new();
    for one in acting {
        for touch in &one.highlight.touches {
            let rank = match (one.highlight.is_standing(), touch.fields.is_empty()) {
                (false, false) => Rank::Field,
                (false, true) => Rank::Record,
                (true, false) => Rank::StandingField,
                (true, true) => Rank::StandingRecord,
            };
            rules.push((rank, touch, one.number));
        }
    }
    // Those of one rank stay in the list's order.
    rules.sort_by_key(|(rank, ..)| *rank);
    rules
}

fn merged<'t>(touches: impl Iterator<Item = &'t Touch>) -> Look {
    let mut look = Look::default();
    touches.for_each(|touch| look.fill_up(&touch.look));
    look
}
