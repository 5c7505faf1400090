//! What a view names.

use super::{Query, Shape, View};
use crate::{
    condition::condition_refs as condition,
    id::FieldId,
    names::{Hold, Name, Names, See, field, maybe, option, person, record},
    value::Value,
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
        shape(&mut self.shape, see);
        let without = std::mem::take(&mut self.without);
        let stays = |id| match see(Name::Highlight(id), Hold::Shows("leaves it out")) {
            Some(Name::Highlight(other)) => Some(other),
            _ => None,
        };
        self.without = without.into_iter().filter_map(stays).collect();
    }
}

/// A shape without the field that it needs is rows again.
fn shape(of: &mut Shape, see: &mut See<'_>) {
    match of {
        Shape::Rows(_) => {}
        Shape::Cards(cards) => {
            maybe(&mut cards.picture, Hold::Shows("shows its pictures"), see);
            maybe(&mut cards.length, Hold::Shows("draws it"), see);
            maybe(&mut cards.strokes, Hold::Shows("draws it"), see);
        }
        Shape::Calendar(almanac) => {
            let hold = Hold::Shows("has its days by it");
            almanac.dates.retain_mut(|date| {
                maybe(&mut date.end, hold, see);
                field(&mut date.start, hold, see)
            });
            maybe(&mut almanac.who, Hold::Shows("has a line for each of it"), see);
            maybe(&mut almanac.lasts, Hold::Shows("draws how long it lasts"), see);
            almanac.beneath = almanac.beneath.and_then(|mut beneath| {
                let lies = Hold::Shows("has its days beneath");
                let Some(Name::Table(table)) = see(Name::Table(beneath.table), lies) else { return None };
                beneath.table = table;
                maybe(&mut beneath.date.end, lies, see);
                maybe(&mut beneath.who, lies, see);
                field(&mut beneath.date.start, lies, see).then_some(beneath)
            });
            if almanac.dates.is_empty() {
                *of = Shape::default();
            }
        }
        Shape::CrossTab(tab) => {
            let stands = Hold::Shows("counts by it");
            tab.down.retain_mut(|by| field(&mut by.field, stands, see));
            tab.across.retain_mut(|by| field(&mut by.field, stands, see));
            maybe(&mut tab.within, stands, see);
            if tab.down.is_empty() {
                tab.down = std::mem::take(&mut tab.across);
            }
            if tab.down.is_empty() {
                *of = Shape::default();
            }
        }
        Shape::Lanes(lanes) => {
            if !field(&mut lanes.by, Hold::Shows("has its lanes by it"), see) {
                *of = Shape::default();
                return;
            }
            let by = lanes.by;
            let hold = Hold::Shows("has a lane of it");
            lanes.away.retain_mut(|value| lane(by, value, hold, see));
            lanes.order.retain_mut(|value| lane(by, value, hold, see));
            lanes.narrow.retain_mut(|value| lane(by, value, hold, see));
            lanes.limits.retain_mut(|limit| lane(by, &mut limit.lane, hold, see));
            maybe(&mut lanes.picture, Hold::Shows("shows its pictures"), see);
        }
    }
}

/// The value of a lane in its place.
fn lane(by: FieldId, value: &mut Value, hold: Hold, see: &mut See<'_>) -> bool {
    match value {
        Value::Choice(id) => option(id, hold, see),
        Value::Person(id) => person(id, hold, see),
        Value::Links(records) => {
            records.retain_mut(|id| record(by, id, hold, see));
            !records.is_empty()
        }
        _ => true,
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
