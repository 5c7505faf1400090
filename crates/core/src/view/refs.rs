//! What a view names.

use super::{Query, View};
use crate::{
    condition::condition_refs as condition,
    names::{Hold, Names, See, field, person},
};

impl Names for Query {
    fn each(&mut self, see: &mut See<'_>) {
        condition(&mut self.condition, Hold::Shows("narrows by it"), see);
        let order = Hold::Shows("puts its records in order by it");
        self.groups.retain_mut(|o| field(&mut o.field, order, see));
        self.sorts.retain_mut(|o| field(&mut o.field, order, see));
        let shows = Hold::Shows("shows it");
        self.fields.retain_mut(|f| field(&mut f.field, shows, see));
        self.tallies.retain_mut(|t| field(&mut t.field, shows, see));
    }
}

impl Names for View {
    fn each(&mut self, see: &mut See<'_>) {
        if self.given.is_empty() {
            self.query.each(see);
        } else {
            // What it is narrowed by decides what somebody sees: it is not taken out by the way.
            condition(&mut self.query.condition, Hold::Needs("is given to somebody, narrowed by it"), see);
            let narrowed = std::mem::take(&mut self.query.condition);
            self.query.each(see);
            self.query.condition = narrowed;
        }
        let given = std::mem::take(&mut self.given);
        let stays = |(mut id, right)| person(&mut id, Hold::Shows("is given to them"), see).then_some((id, right));
        self.given = given.into_iter().filter_map(stays).collect();
        // A view of somebody who is gone is taken away whole, by whoever takes them away.
        if let Some(owner) = &mut self.owner {
            person(owner, Hold::Shows("is theirs"), see);
        }
    }
}
