//! How a record of a table is laid out where one is opened.

use super::NAME_LIMIT;
use crate::{
    condition::{Condition, condition_refs as condition},
    figure::Figure,
    id::{FieldId, RoleId},
    names::{self, Hold, Name, See},
};
use serde::{Deserialize, Serialize};

/// Most sections of a table's records.
const MOST_SECTIONS: usize = 60;

/// The sections of a table's records, one after the other. What stands in none of them, and is not put away, follows after the last.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Arrangement {
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub sections: Vec<Section>,
    /// Fields that are put away: a press away.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub away: Vec<FieldId>,
    /// Links whose records are listed by chosen fields.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub lists: Vec<RecordList>,
}

/// Fields under one heading.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Section {
    /// May be empty.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub heading: String,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub fields: Vec<PlacedField>,
    /// In two columns, where there is room.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub two: bool,
    /// Closed until somebody opens it.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub closed: bool,
    /// It stands there only while this holds of the record.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub when: Condition,
    /// It is put away for those who hold only such roles. What they may read is said by their role, not here.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub not_for: Vec<RoleId>,
}

/// A field in its section.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PlacedField {
    pub field: FieldId,
    /// Of two columns, both.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub wide: bool,
}

/// How the records of a link are listed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RecordList {
    /// The link.
    pub field: FieldId,
    /// Fields of theirs, in this order.
    pub shows: Vec<FieldId>,
    /// The field of theirs by which they stand in order; none: as they were linked.
    #[serde(default)]
    pub by: Option<FieldId>,
    /// Last first.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub descending: bool,
    /// Figures beneath them.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub figures: Vec<ListFigure>,
}

/// A figure over the records of a list.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ListFigure {
    pub field: FieldId,
    pub figure: Figure,
}

impl Arrangement {
    /// Whether nothing was arranged.
    pub fn is_nothing(&self) -> bool {
        *self == Self::default()
    }

    /// Whether a field has its place, or was put away.
    pub fn places(&self, field: FieldId) -> bool {
        self.away.contains(&field) || self.sections.iter().any(|section| section.fields.iter().any(|placed| placed.field == field))
    }

    /// The same with headings trimmed, and without lists of nothing.
    #[must_use]
    pub(crate) fn tidied(&self) -> Self {
        let mut tidy = self.clone();
        tidy.sections.iter_mut().for_each(|section| section.heading = section.heading.trim().to_owned());
        tidy.lists.retain(|list| !list.shows.is_empty());
        tidy
    }

    /// A field twice, a heading that is too long, too many sections: what is wrong with it by itself, and where.
    pub(crate) fn wrong(&self) -> Option<(String, String)> {
        if self.sections.len() > MOST_SECTIONS {
            return Some((format!("A record has at most {MOST_SECTIONS} sections."), "/sections".into()));
        }
        let long = self.sections.iter().position(|section| section.heading.chars().count() > NAME_LIMIT);
        if let Some(place) = long {
            return Some((format!("A heading has at most {NAME_LIMIT} characters."), format!("/sections/{place}/heading")));
        }
        let placed = self.sections.iter().flat_map(|section| &section.fields).map(|placed| placed.field);
        let mut seen = Vec::new();
        for field in placed.chain(self.away.iter().copied()) {
            if seen.contains(&field) {
                return Some(("A field has one place in a record. Take it out of the other first.".into(), "/sections".into()));
            }
            seen.push(field);
        }
        None
    }

    pub(super) fn each(&mut self, see: &mut See<'_>) {
        let hold = Hold::Shows("gives it a place where a record is opened");
        for section in &mut self.sections {
            section.fields.retain_mut(|placed| names::field(&mut placed.field, hold, see));
            condition(&mut section.when, Hold::Needs("shows a section by it"), see);
            names::kept(&mut section.not_for, |id| match see(Name::Role(*id), Hold::Shows("puts a section away for it")) {
                Some(Name::Role(other)) => {
                    *id = other;
                    true
                }
                _ => false,
            });
        }
        names::kept(&mut self.away, |id| names::field(id, hold, see));
        self.lists.retain_mut(|list| {
            names::kept(&mut list.shows, |id| names::field(id, hold, see));
            names::maybe(&mut list.by, hold, see);
            list.figures.retain_mut(|of| names::field(&mut of.field, hold, see));
            names::field(&mut list.field, hold, see) && !list.shows.is_empty()
        });
    }
}
