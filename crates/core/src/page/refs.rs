//! What a shared page names.

use super::{Block, Page, PageRecords};
use crate::{
    condition::condition_refs as condition,
    id::FieldId,
    names::{Hold, Name, Names, See, field, person},
};
use std::collections::BTreeSet;

impl Names for Page {
    fn each(&mut self, see: &mut See<'_>) {
        let mut blocks = Vec::with_capacity(self.blocks.len());
        for mut block in self.blocks.drain(..) {
            if of_block(&mut block, see) {
                blocks.push(block);
            }
        }
        self.blocks = blocks;
        self.by = self.by.and_then(|mut by| person(&mut by, Hold::Shows("turns its visitors to them"), see).then_some(by));
    }
}

/// What a block names; whether it still stands.
fn of_block(block: &mut Block, see: &mut See<'_>) -> bool {
    match block {
        Block::Text(_) => true,
        Block::Form(form) => match see(Name::Form(*form), Hold::Shows("holds it")) {
            Some(Name::Form(other)) => {
                *form = other;
                true
            }
            _ => false,
        },
        Block::Records(records) => of_records(records, see),
    }
}

fn of_records(records: &mut PageRecords, see: &mut See<'_>) -> bool {
    let Some(Name::Table(table)) = see(Name::Table(records.table), Hold::Shows("shows it to people outside")) else { return false };
    records.table = table;
    // What it is narrowed by decides what people outside see: it is not taken out by the way.
    let narrowed = Hold::Needs("is shared outside, narrowed by it");
    condition(&mut records.query.condition, narrowed, see);
    condition(&mut records.only, narrowed, see);
    let kept = std::mem::take(&mut records.query.condition);
    records.query.each(see);
    records.query.condition = kept;
    let changes: BTreeSet<FieldId> = std::mem::take(&mut records.changes);
    let filled = Hold::Shows("lets people outside fill it in");
    records.changes = changes.into_iter().filter_map(|mut id| field(&mut id, filled, see).then_some(id)).collect();
    let offers = std::mem::take(&mut records.offers);
    for (mut id, mut from) in offers {
        let stands = field(&mut id, filled, see);
        condition(&mut from, narrowed, see);
        if stands {
            records.offers.insert(id, from);
        }
    }
    !records.query.fields.is_empty()
}
