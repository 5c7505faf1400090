//! What a document names.

use super::{BlockShows, Document, SheetColumns, SheetFact};
use crate::{
    condition::condition_refs as condition,
    names::{Hold, Name, Names, See, field, kept, maybe, path},
    wording::wording_refs as wording,
};

const PRINTS: Hold = Hold::Shows("prints it");

impl Names for Document {
    fn each(&mut self, see: &mut See<'_>) {
        if let Some(Name::Table(table)) = see(Name::Table(self.table), Hold::Shows("prints its records")) {
            self.table = table;
        }
        wording(&mut self.called, Hold::Shows("is called by it"), see);
        wording(&mut self.foot.text, PRINTS, see);
        maybe(&mut self.keep, Hold::Shows("is kept in it"), see);
        self.blocks.retain_mut(|block| {
            condition(&mut block.when, Hold::Needs("prints something by it"), see);
            of_block(&mut block.shows, see)
        });
    }
}

/// What a block names; whether it still stands.
fn of_block(shows: &mut BlockShows, see: &mut See<'_>) -> bool {
    match shows {
        BlockShows::Heading(heading) => wording(&mut heading.text, PRINTS, see),
        BlockShows::Text(text) => wording(&mut text.text, PRINTS, see),
        BlockShows::Facts(facts) => return of_facts(&mut facts.facts, see),
        BlockShows::Sums(sums) => return of_facts(&mut sums.facts, see),
        BlockShows::Lines(lines) => {
            maybe(&mut lines.by, PRINTS, see);
            let stands = of_columns(&mut lines.columns, see);
            return field(&mut lines.link, PRINTS, see) && stands;
        }
        BlockShows::Table(table) => return of_columns(&mut table.columns, see),
        BlockShows::Picture(picture) => return path(&mut picture.path, PRINTS, see),
        BlockShows::Signature(signature) => {
            for along in [&mut signature.person, &mut signature.on] {
                if !path(along, PRINTS, see) {
                    along.clear();
                }
            }
        }
        BlockShows::Rule | BlockShows::Space(_) | BlockShows::Break => {}
    }
    true
}

fn of_facts(facts: &mut Vec<SheetFact>, see: &mut See<'_>) -> bool {
    facts.retain_mut(|fact| path(&mut fact.path, PRINTS, see));
    !facts.is_empty()
}

fn of_columns(columns: &mut SheetColumns, see: &mut See<'_>) -> bool {
    kept(&mut columns.shows, |id| field(id, PRINTS, see));
    columns.totals.retain_mut(|total| field(&mut total.field, PRINTS, see));
    !columns.shows.is_empty()
}
