//! Who sees what no longer, and who sees it from then on, once records are changed: people, and the visitors of shared pages.

use super::{Alike, Asker, Lens};
use crate::{
    dataset::{Dataset, Recomputed},
    history::{Change, Op},
    id::{FieldId, RecordId, TableId},
    page::Page,
    value::list_text,
};
use fixedbitset::FixedBitSet;
use std::{
    collections::{BTreeSet, HashMap},
    rc::Rc,
};

/// Most for whom it is worked out, those who are alike once.
const ASKED: usize = 60;
/// Most of them that are told by name in one sentence.
const NAMED: usize = 4;

/// The rows of a table that come into somebody's sight, or go out of it.
#[derive(Clone, Debug, PartialEq)]
struct Moved {
    table: TableId,
    lost: bool,
    rows: FixedBitSet,
}

impl Lens<'_> {
    /// Who no longer sees which records and who sees more of them if a change held, in sentences: *Tamsin Oake no longer sees 2 faults.*
    /// Of the records that the asker sees, and of the asker not.
    pub fn sights_moved(&self, change: &Change, recomputed: &Recomputed, then: &Dataset) -> Vec<String> {
        let fields = fields_of(change, recomputed);
        let mine = self.ds.tables().map(|home| home.def.mine);
        let own: Vec<FieldId> = mine.flat_map(|mine| [mine.address, mine.entered_for, mine.own]).flatten().collect();
        let all = fields.iter().any(|field| own.contains(field));
        let mut known: HashMap<Alike, Rc<Vec<Moved>>> = HashMap::new();
        // What moves for several at once is told once.
        let mut told: Vec<(Moved, Vec<String>)> = Vec::new();
        let mut unasked = false;
        for (name, asker) in self.others() {
            let before = Lens::new(self.ds, asker, self.clock());
            if !all && !fields.iter().any(|field| before.depends_on(*field)) {
                continue;
            }
            let alike = asker.alike(self.ds);
            if known.len() >= ASKED && !known.contains_key(&alike) {
                unasked = true;
                continue;
            }
            let moved = known.entry(alike).or_insert_with(|| Rc::new(self.moved(&before, &Lens::new(then, asker, self.clock())))).clone();
            for one in moved.iter() {
                match told.iter_mut().find(|(known, _)| known == one) {
                    Some((_, names)) => names.push(name.clone()),
                    None => told.push((one.clone(), vec![name.clone()])),
                }
            }
        }
        // Who sees less comes first: that is what one wants to know.
        told.sort_by_key(|(moved, _)| (!moved.lost, std::cmp::Reverse(moved.rows.count_ones(..))));
        let mut says: Vec<String> = told.iter().map(|(moved, names)| self.moved_words(moved, names)).collect();
        if unasked {
            says.push("Others may see other records then, too: for so many it was not worked out.".to_owned());
        }
        says
    }

    /// Everybody else in the tracker, and whoever comes by a shared page.
    fn others(&self) -> impl Iterator<Item = (String, Asker)> {
        let here = self.ds.people.here().filter(|person| Some(person.id) != self.me && Asker::Person(person.id).may_look_at(self.ds));
        let people = here.map(|person| (person.name.clone(), Asker::Person(person.id)));
        people.chain(self.ds.pages().filter(|page| page.open).flat_map(visitors))
    }

    fn moved(&self, before: &Lens<'_>, after: &Lens<'_>) -> Vec<Moved> {
        let mut moved = Vec::new();
        for table in self.ds.tables().map(|home| home.def.id).filter(|table| before.opens(*table)) {
            let (was, is) = (before.rows_in_sight(table), after.rows_in_sight(table));
            let mine = self.rows_in_sight(table);
            for (lost, from, to) in [(true, &was, &is), (false, &is, &was)] {
                let mut rows = from.clone();
                rows.difference_with(to);
                rows.intersect_with(&mine);
                if !rows.is_clear() {
                    moved.push(Moved { table, lost, rows });
                }
            }
        }
        moved
    }

    fn moved_words(&self, Moved { table, lost, rows }: &Moved, names: &[String]) -> String {
        let customs = self.clock().customs();
        let mut who: Vec<String> = names.iter().take(NAMED).cloned().collect();
        let more = names.len().saturating_sub(NAMED);
        if more > 0 {
            who.push(customs.count_words(more, "more", "more"));
        }
        let sees = if names.len() == 1 { "sees" } else { "see" };
        let count = rows.count_ones(..);
        let one = rows.ones().next().filter(|_| count == 1).and_then(|row| self.record_name(*table, RecordId::at_row(row)));
        let what = match (one, self.ds.table(*table)) {
            (Some(one), _) => format!("“{}”", one.name),
            (None, Some(home)) => home.def.counted(count, customs),
            (None, None) => String::new(),
        };
        let who = list_text(&who, "and");
        crate::sentence::capital(&if *lost {
            format!("{who} no longer {sees} {what}.")
        } else {
            format!("{who} {sees} {what} from then on.")
        })
    }
}

/// Who comes by a page: one for all of them, where all see the same there.
fn visitors(page: &Page) -> Vec<(String, Asker)> {
    let guests = || page.guests.iter().filter(|guest| !guest.gone);
    let visitor = |guest| Asker::Visitor { page: page.id, guest };
    if page.is_about_me() {
        return guests().map(|guest| (format!("{} at the page “{}”", guest.mail, page.title), visitor(Some(guest.id)))).collect();
    }
    let one = guests().map(|guest| Some(guest.id)).chain([None]).find(|guest| page.admits(*guest));
    one.map(|guest| (format!("whoever has the page “{}”", page.title), visitor(guest))).into_iter().collect()
}

fn fields_of(change: &Change, recomputed: &Recomputed) -> BTreeSet<FieldId> {
    let typed = change.ops.iter().filter_map(|op| if let Op::Cell { field, .. } = op { Some(*field) } else { None });
    typed.chain(recomputed.cells.iter().map(|(_, field, _)| *field)).collect()
}
