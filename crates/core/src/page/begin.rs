//! How a shared page begins, and how it is tried before it is open.

use super::{Block, Door, Page, PageRecords};
use crate::{
    condition::Condition,
    dataset::Dataset,
    id::{FieldId, PageId, PersonId},
    view::{Query, ShownField, View},
};
use std::collections::{BTreeMap, BTreeSet};

impl Page {
    /// A page that shows what a view shows, closed until somebody opens it.
    pub fn begun(ds: &Dataset, id: PageId, title: &str, view: Option<&View>, link: &str, by: Option<PersonId>) -> Self {
        Self {
            id,
            title: title.to_owned(),
            intro: String::new(),
            link: link.to_owned(),
            open: false,
            until: None,
            door: Door::Link,
            guests: Vec::new(),
            blocks: view.map(|view| Block::Records(Box::new(PageRecords::begun(ds, view)))).into_iter().collect(),
            colour: None,
            embed: Vec::new(),
            by,
        }
    }
}

impl PageRecords {
    /// What a view shows, of which nothing is filled in. It is the first part of its page.
    pub fn begun(ds: &Dataset, view: &View) -> Self {
        Self {
            number: 1,
            table: view.table,
            title: String::new(),
            query: shown_outside(ds, view),
            changes: BTreeSet::new(),
            offers: BTreeMap::new(),
            adds: false,
            removes: false,
            only: Condition::default(),
        }
    }
}

/// What a view shows, as a page can: in its shape, with groups, figures and an order by what is shown.
fn shown_outside(ds: &Dataset, view: &View) -> Query {
    let Query { condition, groups, sorts, fields, tallies, shape, without } = view.query.clone();
    let standing = ds.table(view.table).map(|home| ShownField { field: home.def.standing, width: 200 });
    let mut fields = if fields.is_empty() { standing.into_iter().collect() } else { fields };
    // The view shows by which days or lanes it stands, whether or not that field has a column.
    let shape = shape.outside();
    let stands = Query { shape: shape.clone(), ..Query::default() }.named_fields();
    let further = stands.into_iter().filter(|field| fields.iter().all(|shown| shown.field != *field)).collect::<Vec<_>>();
    fields.extend(further.into_iter().map(|field| ShownField { field, width: 120 }));
    let shown = |field: FieldId| fields.iter().any(|shown| shown.field == field);
    Query {
        condition,
        groups: groups.into_iter().filter(|group| shown(group.field)).collect(),
        sorts: sorts.into_iter().filter(|sort| shown(sort.field)).collect(),
        tallies: tallies.into_iter().filter(|tally| shown(tally.field)).collect(),
        shape,
        fields,
        without,
    }
}

impl Dataset {
    /// As it would be if a page were open: for whoever tries it beforehand.
    pub fn with_page_open(&self, id: PageId) -> Option<Self> {
        let page = self.page(id)?;
        let open = Page { open: true, until: page.until.filter(|until| *until >= self.turned()), ..page.clone() };
        let mut tried = self.clone();
        tried.load_part(&open.into());
        Some(tried)
    }
}
