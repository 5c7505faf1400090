//! The parts of a tracker's structure. What is the same for every sort of part is said by each once, through one trait; what
//! holds of parts whatever their sort (keeping them, renumbering, what they are called) follows from it.

use crate::{
    access::Role,
    automation::Automation,
    document::Document,
    form::Form,
    highlight::Highlight,
    id::TableId,
    names::{Name, Names, See},
    page::Page,
    schema::{TableDef, TrackerDef},
    view::View,
    wording::StoredText,
};
use serde::{Deserialize, Serialize};
use std::{collections::BTreeMap, sync::Arc};

/// A part of a tracker's structure. Operations hold it in a box, so its size costs nothing.
#[allow(clippy::large_enum_variant)]
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Part {
    Tracker(TrackerDef),
    Table(TableDef),
    View(View),
    Form(Form),
    Role(Role),
    Automation(Automation),
    Page(Page),
    Highlight(Highlight),
    Document(Document),
    Text(StoredText),
}

/// Does the same with a part, whatever its sort.
macro_rules! with_part {
    ($part:expr, $inner:ident => $does:expr) => {
        match $part {
            $crate::part::Part::Tracker($inner) => $does,
            $crate::part::Part::Table($inner) => $does,
            $crate::part::Part::View($inner) => $does,
            $crate::part::Part::Form($inner) => $does,
            $crate::part::Part::Role($inner) => $does,
            $crate::part::Part::Automation($inner) => $does,
            $crate::part::Part::Page($inner) => $does,
            $crate::part::Part::Highlight($inner) => $does,
            $crate::part::Part::Document($inner) => $does,
            $crate::part::Part::Text($inner) => $does,
        }
    };
}
pub(crate) use with_part;

/// A sort of part. What it asks of whoever changes it is said by [`crate::rules::Rules`].
pub trait Sort: Names + Into<Part> {
    /// As which it is kept: *table*, *view*.
    const SORT: &'static str;

    /// This sort of a part.
    fn of(part: &Part) -> Option<&Self>;

    /// Its number. The tracker itself has number 0.
    fn number(&self) -> u32;

    /// Gives it another number.
    fn renumber(&mut self, number: u32);

    /// What people call it.
    fn title(&self) -> &str;

    /// The table that it is of, where it is of one.
    fn table(&self) -> Option<TableId> {
        None
    }

    /// As other parts name it, where they do.
    fn name(&self) -> Option<Name> {
        None
    }

    /// The highest number that it or anything in it has.
    fn highest_id(&self) -> u32 {
        self.number()
    }
}

/// Says that a type is the content of a part of its own sort.
macro_rules! is_part {
    ($type:ty, $variant:ident) => {
        impl From<$type> for $crate::part::Part {
            fn from(part: $type) -> Self {
                $crate::part::Part::$variant(part)
            }
        }
    };
}
pub(crate) use is_part;

impl Part {
    /// Where it is kept: its sort and number.
    pub fn key(&self) -> (&'static str, u32) {
        fn key<P: Sort>(part: &P) -> (&'static str, u32) {
            (P::SORT, part.number())
        }
        with_part!(self, part => key(part))
    }

    /// The same under another number.
    #[must_use]
    pub fn numbered(mut self, number: u32) -> Self {
        with_part!(&mut self, part => part.renumber(number));
        self
    }

    /// What people call it.
    pub fn title(&self) -> &str {
        with_part!(self, part => part.title())
    }

    /// The table that it is of, where it is of one.
    pub fn table(&self) -> Option<TableId> {
        with_part!(self, part => part.table())
    }

    /// As other parts name it, where they do.
    pub fn name(&self) -> Option<Name> {
        with_part!(self, part => Sort::name(part))
    }

    /// The highest number that it or anything in it has.
    pub fn highest_id(&self) -> u32 {
        with_part!(self, part => part.highest_id())
    }
}

impl Names for Part {
    fn each(&mut self, see: &mut See<'_>) {
        with_part!(self, part => part.each(see));
    }
}

/// Parts that hold no records, by sort and number. A copy shares all of them.
#[derive(Clone, Debug, Default)]
pub(crate) struct Parts(Arc<BTreeMap<(&'static str, u32), Arc<Part>>>);

impl Parts {
    pub(crate) fn at<'a>(&'a self, key: (&'a str, u32)) -> Option<&'a Part> {
        let parts: &'a BTreeMap<(&'a str, u32), Arc<Part>> = &self.0;
        parts.get(&key).map(|part| &**part)
    }

    pub(crate) fn get<P: Sort>(&self, number: u32) -> Option<&P> {
        P::of(self.at((P::SORT, number))?)
    }

    /// All of one sort, by their numbers.
    pub(crate) fn all<'a, P: Sort + 'a>(&'a self) -> impl Iterator<Item = &'a P> {
        self.0.range((P::SORT, 0)..=(P::SORT, u32::MAX)).filter_map(|(_, part)| P::of(part))
    }

    /// All, by sort.
    pub(crate) fn iter(&self) -> impl Iterator<Item = &Part> {
        self.0.values().map(|part| &**part)
    }

    pub(crate) fn put(&mut self, part: Part) {
        Arc::make_mut(&mut self.0).insert(part.key(), Arc::new(part));
    }

    pub(crate) fn take(&mut self, key: (&'static str, u32)) {
        Arc::make_mut(&mut self.0).remove(&key);
    }
}
