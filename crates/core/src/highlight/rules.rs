//! A highlight as a part.

use super::Highlight;
use crate::{
    access::{Asker, Lens},
    dataset::Dataset,
    fault::{Checked, Fault},
    id::{HighlightId, TableId},
    names::Name,
    part::{Part, Sort, is_part},
    rules::{Rules, Takes, Tells, builders_only},
};

is_part!(Highlight, Highlight);

impl Sort for Highlight {
    const SORT: &'static str = "highlight";

    fn of(part: &Part) -> Option<&Self> {
        if let Part::Highlight(found) = part { Some(found) } else { None }
    }

    fn number(&self) -> u32 {
        self.id.get()
    }

    fn renumber(&mut self, number: u32) {
        self.id = HighlightId::new(number).unwrap_or(self.id);
    }

    /// It has no name: it is known by its place in its table's list, and by what it says.
    fn title(&self) -> &'static str {
        "A highlight"
    }

    fn table(&self) -> Option<TableId> {
        Some(self.table)
    }

    fn name(&self) -> Option<Name> {
        Some(Name::Highlight(self.id))
    }
}

impl Rules for Highlight {
    fn may_shape(&self, lens: &Lens<'_>, _asker: Asker) -> Result<(), Fault> {
        // Whoever builds brings it back together with its table, which is not open until then.
        if !lens.builds() && !lens.opens(self.table) {
            return Err(Fault::not_found("table"));
        }
        builders_only(lens, "how records look")
    }

    fn may_be_put(&self, lens: &Lens<'_>) -> Checked<()> {
        self.condition.check_for(lens, self.table).map_err(|faults| faults.under("/condition"))
    }

    fn tidied(mut self, _ds: &Dataset, _takes: &Takes<'_>) -> Checked<Self> {
        for touch in &mut self.touches {
            touch.look.word = touch.look.word.trim().to_owned();
        }
        Ok(self)
    }

    fn fits(&self, _before: Option<&Self>, ds: &Dataset) -> Checked<()> {
        self.check(ds)
    }

    fn tells(&self, before: &Lens<'_>, after: &Lens<'_>) -> Tells {
        Tells::structure_if(before.opens(self.table) || after.opens(self.table))
    }
}

impl Dataset {
    /// The highlight of this number.
    pub fn highlight(&self, id: HighlightId) -> Option<&Highlight> {
        self.part(id.get())
    }

    /// All highlights, by their numbers.
    pub fn highlights(&self) -> impl Iterator<Item = &Highlight> {
        self.parts_of()
    }

    /// Those of a table in their order.
    pub fn highlights_of(&self, table: TableId) -> Vec<&Highlight> {
        let mut of: Vec<&Highlight> = self.highlights().filter(|one| one.table == table).collect();
        of.sort_by_key(|one| (one.place, one.id));
        of
    }
}
