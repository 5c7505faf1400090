//! A shared page as a part.

use super::{Block, Door, Page};
use crate::{
    access::{Asker, Lens},
    dataset::Dataset,
    fault::{Checked, Fault},
    id::PageId,
    part::{Part, Sort, is_part},
    rules::{Rules, Takes, Tells, stewards_only},
};

is_part!(Page, Page);

impl Sort for Page {
    const SORT: &'static str = "page";

    fn of(part: &Part) -> Option<&Self> {
        if let Part::Page(found) = part { Some(found) } else { None }
    }

    fn number(&self) -> u32 {
        self.id.get()
    }

    fn renumber(&mut self, number: u32) {
        self.id = PageId::new(number).unwrap_or(self.id);
    }

    fn title(&self) -> &str {
        &self.title
    }
}

impl Rules for Page {
    fn may_shape(&self, lens: &Lens<'_>, _asker: Asker) -> Result<(), Fault> {
        stewards_only(lens)
    }

    fn tidied(mut self, _ds: &Dataset, _takes: &Takes<'_>) -> Checked<Self> {
        self.title = self.title.trim().to_owned();
        for block in &mut self.blocks {
            if let Block::Records(records) = block {
                let filled = &records.changes;
                records.offers.retain(|field, _| filled.contains(field));
            }
        }
        for guest in &mut self.guests {
            guest.mail = guest.mail.trim().to_owned();
            guest.name = guest.name.trim().to_owned();
        }
        Ok(self)
    }

    fn fits(&self, _before: Option<&Self>, ds: &Dataset) -> Checked<()> {
        self.check(ds)
    }

    fn tells(&self, _before: &Lens<'_>, after: &Lens<'_>) -> Tells {
        Tells { structure: after.is_steward() && after.page().is_none(), access: after.page() == Some(self.id) }
    }

    fn packed(mut self, whole: bool) -> Option<Self> {
        // A passcode, and who comes in, stay where they are known.
        if !whole {
            self.guests.clear();
        }
        self.door = match self.door {
            Door::Passcode(_) => Door::Link,
            door => door,
        };
        self.open = false;
        Some(self)
    }
}

impl Dataset {
    /// The shared page of this number.
    pub fn page(&self, id: PageId) -> Option<&Page> {
        self.part(id.get())
    }

    /// All shared pages, by their numbers.
    pub fn pages(&self) -> impl Iterator<Item = &Page> {
        self.parts_of()
    }
}
