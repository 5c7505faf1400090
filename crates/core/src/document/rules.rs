//! A document as a part.

use super::{BlockShows, Document};
use crate::{
    access::{Asker, Lens},
    dataset::Dataset,
    fault::{Checked, Fault},
    id::{DocumentId, TableId},
    names::Name,
    part::{Part, Sort, is_part},
    rules::{Rules, Takes, Tells, builders_only},
};

is_part!(Document, Document);

impl Sort for Document {
    const SORT: &'static str = "document";

    fn of(part: &Part) -> Option<&Self> {
        if let Part::Document(found) = part { Some(found) } else { None }
    }

    fn number(&self) -> u32 {
        self.id.get()
    }

    fn renumber(&mut self, number: u32) {
        self.id = DocumentId::new(number).unwrap_or(self.id);
    }

    fn title(&self) -> &str {
        &self.title
    }

    fn table(&self) -> Option<TableId> {
        Some(self.table)
    }

    fn name(&self) -> Option<Name> {
        Some(Name::Document(self.id))
    }
}

impl Rules for Document {
    fn may_shape(&self, lens: &Lens<'_>, _asker: Asker) -> Result<(), Fault> {
        // Whoever builds brings it back together with its table, which is not open until then.
        if !lens.builds() && !lens.opens(self.table) {
            return Err(Fault::not_found("table"));
        }
        builders_only(lens, "what records are printed as")
    }

    fn may_be_put(&self, lens: &Lens<'_>) -> Checked<()> {
        for (place, block) in self.blocks.iter().enumerate() {
            block.when.check_for(lens, self.table).map_err(|faults| faults.under(&format!("/blocks/{place}/when")))?;
        }
        Ok(())
    }

    fn tidied(mut self, _ds: &Dataset, _takes: &Takes<'_>) -> Checked<Self> {
        self.title = self.title.trim().to_owned();
        for block in &mut self.blocks {
            if let BlockShows::Facts(facts) = &mut block.shows {
                facts.facts.iter_mut().for_each(|fact| fact.words = fact.words.trim().to_owned());
            }
        }
        // What stands first has nothing to stand beside.
        if let Some(first) = self.blocks.first_mut() {
            first.beside = false;
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
    /// The document of this number.
    pub fn document(&self, id: DocumentId) -> Option<&Document> {
        self.part(id.get())
    }

    /// All documents, by their numbers.
    pub fn documents(&self) -> impl Iterator<Item = &Document> {
        self.parts_of()
    }
}
