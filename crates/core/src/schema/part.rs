//! The tracker itself and a table as parts.

use super::{FieldDef, TableDef, TrackerDef};
use crate::{
    id::TableId,
    names::{Names, See},
    part::{Part, Sort, is_part},
};

is_part!(TrackerDef, Tracker);

impl Names for TrackerDef {
    fn each(&mut self, _see: &mut See<'_>) {}
}

impl Sort for TrackerDef {
    const SORT: &'static str = "tracker";

    fn of(part: &Part) -> Option<&Self> {
        if let Part::Tracker(found) = part { Some(found) } else { None }
    }

    fn number(&self) -> u32 {
        0
    }

    fn renumber(&mut self, _number: u32) {}

    fn title(&self) -> &str {
        &self.name
    }
}

is_part!(TableDef, Table);

impl Sort for TableDef {
    const SORT: &'static str = "table";

    fn of(part: &Part) -> Option<&Self> {
        if let Part::Table(found) = part { Some(found) } else { None }
    }

    fn number(&self) -> u32 {
        self.id.get()
    }

    fn renumber(&mut self, number: u32) {
        self.id = TableId::new(number).unwrap_or(self.id);
    }

    fn title(&self) -> &str {
        &self.name
    }

    fn table(&self) -> Option<TableId> {
        Some(self.id)
    }

    fn highest_id(&self) -> u32 {
        let of = |f: &FieldDef| f.kind.options().iter().map(|o| o.id.get()).fold(f.id.get(), u32::max);
        self.fields.iter().chain(self.binned.iter().map(|b| &b.field)).map(of).fold(self.id.get(), u32::max)
    }
}
