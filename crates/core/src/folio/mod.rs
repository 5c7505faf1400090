//! A record opened: in which sections its fields stand for whoever looks at it.

mod draft;
mod words;

pub use draft::{DraftLook, DraftedLine, WithDraft, WrongInDraft};

use crate::{
    access::Lens,
    condition::Condition,
    id::{FieldId, RecordId, TableId},
    schema::{FieldDef, Kind, PlacedField, Recipe, RecordList, Section, TableDef},
};
use serde::{Deserialize, Serialize};

/// The sections of a record, as somebody sees it.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LaidOut {
    pub sections: Vec<LaidSection>,
    /// Fields that they may read and that stand in none: a press away.
    pub away: Vec<FieldId>,
}

/// A section with what stands in it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LaidSection {
    /// Empty: it has none.
    pub heading: String,
    pub two: bool,
    pub closed: bool,
    pub fields: Vec<PlacedField>,
}

impl Lens<'_> {
    /// How a record is laid out for the asker. A section whose condition asks what is not open to them stands there always: that it
    /// comes and goes would tell them something, and what stands in it they may read anyway.
    pub fn laid_out(&self, table: TableId, record: RecordId) -> LaidOut {
        let Some(home) = self.dataset().table(table) else { return LaidOut::default() };
        let def = &*home.def;
        let reads = |field: FieldId| def.field(field).is_some() && self.reads(table, field);
        let mut laid = LaidOut::default();
        for section in &def.arrangement.sections {
            let fields: Vec<PlacedField> = section.fields.iter().copied().filter(|placed| reads(placed.field)).collect();
            if !self.shows_section(table, record, section) {
                laid.away.extend(fields.iter().map(|placed| placed.field));
            } else if !fields.is_empty() {
                laid.sections.push(LaidSection { heading: section.heading.clone(), two: section.two, closed: section.closed, fields });
            }
        }
        let (rest, kept) = self.unplaced(def);
        if !rest.is_empty() {
            laid.sections.push(LaidSection { heading: String::new(), two: false, closed: false, fields: rest });
        }
        laid.away.extend(def.arrangement.away.iter().copied().filter(|field| reads(*field)));
        laid.away.extend(kept.into_iter().map(|placed| placed.field));
        laid
    }

    /// The sections of a table's records, as they are for the asker: with what they may read, and each only where its condition holds,
    /// if that is open to them. What stands in none follows in one of its own.
    pub(crate) fn sections(&self, table: TableId) -> Vec<Section> {
        let Some(home) = self.dataset().table(table) else { return Vec::new() };
        let def = &*home.def;
        let reads = |placed: &PlacedField| def.field(placed.field).is_some() && self.reads(table, placed.field);
        let open = |section: &Section| Section {
            fields: section.fields.iter().copied().filter(reads).collect(),
            when: if section.when.is_open_to(self, table) { section.when.clone() } else { Condition::default() },
            ..section.clone()
        };
        let arranged = def.arrangement.sections.iter().filter(|section| self.is_for_me(section)).map(open);
        let rest = Section { fields: self.unplaced(def).0, ..Section::default() };
        arranged.chain([rest]).filter(|section| !section.fields.is_empty()).collect()
    }

    /// What the asker may read of a record and the arrangement says nothing of; what is kept by itself apart.
    fn unplaced(&self, def: &TableDef) -> (Vec<PlacedField>, Vec<PlacedField>) {
        let is_rest = |field: &&FieldDef| !def.arrangement.places(field.id) && self.reads(def.id, field.id) && !is_head(def, field);
        let (kept, rest): (Vec<&FieldDef>, Vec<&FieldDef>) =
            def.fields.iter().filter(is_rest).partition(|field| field.kind.is_kept_by_us());
        let [rest, kept] =
            [rest, kept].map(|fields| fields.into_iter().map(|field| PlacedField { field: field.id, wide: false }).collect());
        (rest, kept)
    }

    /// The lists of linked records with what is open to the asker of them.
    pub fn record_lists(&self, table: TableId) -> Vec<RecordList> {
        let Some(home) = self.dataset().table(table) else { return Vec::new() };
        let open = |list: &RecordList| {
            let to = home.link(list.field).map(|link| link.to).filter(|to| self.opens(*to) && self.reads(table, list.field))?;
            let reads = |field: &FieldId| self.reads(to, *field);
            Some(RecordList {
                shows: list.shows.iter().copied().filter(reads).collect(),
                by: list.by.filter(reads),
                figures: list.figures.iter().copied().filter(|of| reads(&of.field)).collect(),
                ..list.clone()
            })
        };
        home.def.arrangement.lists.iter().filter_map(open).filter(|list| !list.shows.is_empty()).collect()
    }

    /// The recipes of a table, without what is not open to the asker.
    pub fn recipes(&self, table: TableId) -> Vec<Recipe> {
        let Some(home) = self.dataset().table(table) else { return Vec::new() };
        let open = |recipe: &Recipe| Recipe {
            moves: recipe.moves.iter().copied().filter(|one| self.reads(table, one.field)).collect(),
            empties: recipe.empties.iter().copied().filter(|field| self.reads(table, *field)).collect(),
            ..recipe.clone()
        };
        home.def.recipes.iter().map(open).collect()
    }

    /// Whether a section stands there, of a record, for the asker.
    pub(crate) fn shows_section(&self, table: TableId, record: RecordId, section: &Section) -> bool {
        let when = &section.when;
        if !when.is_nothing() && when.is_open_to(self, table) && !when.holds(self, table, record) {
            return false;
        }
        self.is_for_me(section)
    }

    /// Whether a section is put away for all roles of the asker.
    fn is_for_me(&self, section: &Section) -> bool {
        let (false, Some(me)) = (section.not_for.is_empty(), self.me()) else { return true };
        let mut roles = self.dataset().roles_of(me).peekable();
        roles.peek().is_none() || roles.any(|role| !section.not_for.contains(&role.id))
    }
}

/// What stands in the head of a record, and so in no section unless it was put there.
pub(crate) fn is_head(def: &TableDef, field: &FieldDef) -> bool {
    field.id == def.standing || matches!(field.kind, Kind::Numbering { .. })
}
