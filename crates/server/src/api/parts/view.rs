//! A view as it is sent.

use super::Sent;
use crate::live::Look;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    access::Asker,
    fault::Checked,
    id::{TableId, ViewId},
    part::Part,
    sentence::Phrase,
    view::{Query, View, Window},
};

/// A view to keep.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct ViewBody {
    table: TableId,
    name: String,
    /// What it is for.
    #[serde(default)]
    about: String,
    /// It stays as it is until it is opened again.
    #[serde(default)]
    locked: bool,
    /// Only for oneself.
    personal: bool,
    query: Box<Query>,
}

impl Sent for ViewBody {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        let id = number.and_then(ViewId::new).unwrap_or(ViewId::FIRST);
        let me = if let Asker::Person(me) = look.asker { Some(me) } else { None };
        let owner = me.filter(|_| self.personal);
        // To whom it is given is said elsewhere, and stays.
        let given = look.dataset.view(id).filter(|_| number.is_some()).map(|view| view.given.clone()).unwrap_or_default();
        let (name, about) = (self.name.trim().to_owned(), self.about.trim().to_owned());
        let known = look.dataset.view(id).filter(|view| number.is_some() && view.owner == owner);
        let place = known.map_or_else(|| look.dataset.next_view(self.table, owner), |view| view.place);
        Ok(View { id, table: self.table, name, about, locked: self.locked, place, owner, query: *self.query, given }.into())
    }
}

/// What a view would show.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct ViewLook {
    sentence: Vec<Phrase>,
    /// Records in one's reach for which its condition holds.
    matching: usize,
}

pub(super) fn looked(look: &Look, view: &View) -> ViewLook {
    let lens = look.lens();
    let query = view.query.as_open_to(&lens, view.table);
    let outcome = query.run(&lens, view.table, &Window { rows: 0..0, keep: &[], own: None });
    ViewLook {
        sentence: query.to_sentence(&lens, view.table, outcome.total, outcome.matching, lens.own_order(view.id)),
        matching: outcome.matching,
    }
}
